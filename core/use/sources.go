package use

import "grapnel/core/source"

// Sources lists every figure of this package.
func Sources() []source.Entry {
	return source.In("use",
		source.Figure("usualDrain", usualDrain, "A", source.Recalled("half of what is usual at most")),
		source.Figure("usualPercent", usualPercent, "%", source.Recalled("")),
		source.Figure("emptyShare", emptyShare, "%", source.Recalled("")),
		source.Figure("spreadFactor", spreadFactor, "", source.Recalled("")),
	)
}
