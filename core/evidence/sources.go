package evidence

import "grapnel/core/source"

// Sources lists every figure of this package.
func Sources() []source.Entry {
	memory := source.Recalled("")
	return source.In("evidence",
		source.Figure("usualStand", usualStand, "h", source.Common("a night")),
		source.Figure("mostStoodSigma", mostStoodSigma, "K", memory),
		source.Figure("conductanceTolerance", conductanceTolerance, "share", source.Common("")),
		source.Figure("reserveSigma", reserveSigma, "share", memory),
		source.Figure("endTolerance", endTolerance, "V", memory),
		source.Figure("longestGap", longestGap.Hours(), "h", memory),
		source.Figure("mildDay", mildDay, "°C", memory),
	)
}
