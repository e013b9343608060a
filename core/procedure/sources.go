package procedure

import "grapnel/core/source"

// Sources lists every figure of this package.
func Sources() []source.Entry {
	memory, common := source.Recalled(""), source.Common("")
	var sits []string
	for _, r := range rigs {
		sits = append(sits, source.Row(r.code, r.nominal, float64(r.count)))
	}
	return source.In("procedure",
		source.Table("rigs", "V, batteries", common, sits...),
		source.Figure("MostKeepAlive", MostKeepAlive, "A", common),
		source.Figure("keepAliveFuse", keepAliveFuse, "A", common),
		source.Figure("maintainerFuse", maintainerFuse, "A", memory),
		source.Figure("bypassFuse", bypassFuse, "A", memory),
		source.Figure("meterFuse", meterFuse, "A", common),
		source.Figure("closeTo", closeTo, "V", memory),
		source.Figure("feedMinutes", feedMinutes, "min", common),
		source.Figure("packMinutes", packMinutes, "min", memory),
		source.Figure("checkMinutes", checkMinutes, "min", common),
		source.Figure("restMinutes", restMinutes, "min", common),
		source.Figure("wakeMinutes", wakeMinutes, "min", memory),
		source.Figure("coolMinutes", coolMinutes, "min", common),
		source.Figure("asleepMinutes", asleepMinutes, "min", common),
		source.Figure("asleepShort", asleepShort, "min", common),
		source.Figure("mostThings", mostThings, "", memory),
		source.Figure("mostSteps", mostSteps, "", memory),
		source.Figure("mostVolts", mostVolts, "V", memory),
		source.Figure("mostFuse", mostFuse, "A", memory),
		source.Figure("mostMinutes", mostMinutes, "min", memory),
	)
}
