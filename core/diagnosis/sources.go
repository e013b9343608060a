package diagnosis

import "grapnel/core/source"

// Sources lists every figure of this package.
func Sources() []source.Entry { return nil }
