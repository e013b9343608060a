package terminals

import "grapnel/core/source"

// Sources lists every figure of this package.
func Sources() []source.Entry {
	return source.In("terminals",
		source.Figure("takenSpread", takenSpread, "share", source.Recalled("")),
		source.Figure("fourOfFive", fourOfFive, "sigma", source.From("normal distribution, a tenth on either side")),
		source.Figure("wholePercent", wholePercent, "%", source.From("exact by definition")),
		source.Figure("near", near, "V", source.From("numerical")),
		source.Figure("filthyVolts", filthyVolts, "V", source.Common("filthy tops show 4 to 5 V")),
	)
}
