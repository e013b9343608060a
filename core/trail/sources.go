package trail

import "grapnel/core/source"

// Sources lists every figure of this package.
func Sources() []source.Entry {
	return source.In("trail",
		source.Figure("loadCool", loadCool, "s", source.Recalled("that a load cools between tests is common practice")),
		source.Figure("jumpWait", jumpWait, "min", source.Common("2 to 10 min")),
		source.Figure("FadeMinutes", FadeMinutes, "min", source.Recalled("")),
		source.Figure("fullEnough", fullEnough, "%", source.Recalled("")),
		source.Figure("quarterMonths", quarterMonths, "months", source.Common("")),
		source.Figure("worthWatching", worthWatching, "share", source.Recalled("")),
	)
}
