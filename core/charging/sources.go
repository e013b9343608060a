package charging

import (
	"cmp"

	"grapnel/core/source"
)

// Sources lists every figure of this package.
func Sources() []source.Entry {
	iec, common, memory := source.By(source.IEC62485), source.Common(""), source.Recalled("")
	exact := source.From("exact by definition")
	return source.In("charging",
		source.Figure("airPerAmpere", airPerAmpere, "m³/(h·A)", iec.With("a cell")),
		source.Figure("openingPerFlow", openingPerFlow, "cm²·h/m³", iec),
		source.Figure("clearPerRoot", clearPerRoot, "mm/∛mA", iec),
		source.Figure("leastClear", leastClear, "m", iec),
		source.Figure("hydrogenPerAmpereHour", hydrogenPerAmpereHour, "m³/Ah", iec.With("a cell; Faraday's law at 0 °C")),
		source.Figure("ExplosivePercent", ExplosivePercent, "%", source.By("usual safety data for hydrogen")),
		source.Figure("gasVoltsMost", gasVoltsMost, "V", iec.With("a cell")),
		source.Codes("gassing", "mA/Ah float boost", iec, gassing),
		source.Figure("CheckMinutes", CheckMinutes, "min", common),
		source.Figure("usualRate", usualRate, "A", common),
		source.Figure("slowRate", slowRate, "A", common),
		source.Figure("boostMost", boostMost, "A", common),
		source.Figure("startMost", startMost, "A", common),
		source.Figure("refuseVolts", refuseVolts, "V", source.Common("some 1 to 2 V")),
		source.Figure("CoilAh", CoilAh, "Ah", memory),
		source.Figure("CoilMinutes", CoilMinutes, "min", source.Common("15 to 20 min outdoors")),
		source.Figure("warmSpread", warmSpread, "share", memory),
		source.Figure("coldSpread", coldSpread, "share", memory),
		source.Figure("coldCharging", coldCharging, "°C", memory),
		source.Figure("mainsEfficiency", mainsEfficiency, "share", memory),
		source.Figure("MostHours", MostHours, "h", memory),
		source.Figure("rateTolerance", rateTolerance, "share", memory),
		source.Figure("aboutTenth", aboutTenth, "share", memory),
		source.Figure("leastAmps", leastAmps, "A", memory),
		source.Figure("mostAmps", mostAmps, "A", memory),
		source.Figure("leastVolt", leastVolt, "V", memory),
		source.Figure("mostVolt", mostVolt, "V", memory),
		source.Figure("wakeMost", wakeMost, "V", memory),
		source.Figure("namesMost", namesMost, "", memory),
		source.Figure("chargeCelsius", chargeCelsius, "°C", memory),
		source.Figure("compensation", compensation, "V/K", memory),
		source.Figure("smallShare", smallShare, "share", common),
		source.Figure("chargedPercent", chargedPercent, "%", memory),
		source.Figure("usualAh", usualAh, "Ah", memory),
		source.Figure("usualAhSpread", usualAhSpread, "share", memory),
		source.Figure("deeplyFlat", deeplyFlat, "%", memory),
		source.Figure("delayLikely", delayLikely, "share", memory),
		source.Figure("delayLeast", delayLeast, "share", memory),
		source.Figure("inVehicleMost", inVehicleMost, "V", common),
		source.Figure("settingTolerance", settingTolerance, "V", memory),
		source.Figure("fiveCellsLeast", fiveCellsLeast, "V", common),
		source.Figure("fiveCellsMost", fiveCellsMost, "V", common),
		source.Figure("grid", grid, "h", memory),
		source.Figure("beyond", beyond, "%", memory),
		source.Figure("share", share, "share", memory),
		source.Figure("usualWear", usualWear, "share", memory),
		source.Figure("usualSpare", usualSpare, "share", memory),
		source.Figure("worn", worn, "share", memory),
		source.Figure("usualSulphation", usualSulphation, "share", memory),
		source.Figure("warmModel", warmModel, "share", memory),
		source.Figure("coldModel", coldModel, "share", memory),
		source.Figure("meterVolts", meterVolts, "V", memory),
		source.Figure("clampShare", clampShare, "share", memory),
		source.Figure("logVolts", logVolts, "V", memory),
		source.Figure("logAmpsShare", logAmpsShare, "share", memory),
		source.Figure("logAmpsLeast", logAmpsLeast, "A", memory),
		source.Figure("outlier", outlier, "share", memory),
		source.Figure("outlierFar", outlierFar, "", memory),
		source.Figure("countedShare", countedShare, "share", memory),
		source.Figure("leastPercentBand", leastPercentBand, "%", memory),
		source.Figure("unlikely", unlikely, "share", memory),
		source.Figure("worthNaming", worthNaming, "share", memory),
		source.Figure("stillAmps", stillAmps, "share", memory),
		source.Figure("stillHours", stillHours, "h", memory),
		source.Figure("stillShare", stillShare, "share", memory),
		source.Figure("likelyNotFalling", likelyNotFalling, "share", memory),
		source.Figure("tooMuch", tooMuch, "share", memory),
		source.Figure("lampShare", lampShare, "share", memory),
		source.Figure("traceVolts", traceVolts, "V", memory),
		source.Figure("traceAmps", traceAmps, "A", memory),
		source.Figure("traceShare", traceShare, "share", memory),
		source.Figure("traceSilence", traceSilence, "s", memory),
		source.Figure("mostPoints", mostPoints, "", memory),
		source.Figure("secondsPerHour", secondsPerHour, "s/h", exact),
		source.Figure("checkRounding", checkRounding, "min", exact),
		source.Figure("pairVolts", pairVolts, "V", exact),
		source.Figure("coldCounts", coldCounts, "h", memory),
		source.Figure("minutesPerHour", minutesPerHour, "min/h", exact),
		source.Figure("outerTenth", outerTenth, "share", exact),
		source.Table("suspects", "share", memory, suspectRows()...),
		source.Codes("mostShares", "share", memory, mostShares),
		source.Codes("averageShare", "share", source.Recalled("a taper charger’s is common practice"), averageShare),
	)
}

// suspectRows are the suspects as a table prints them: how often, health, capacity,
// sulphation, ohms of the leads.
func suspectRows() []string {
	rows := make([]string, len(suspects))
	for i, s := range suspects {
		rows[i] = source.Row(cmp.Or(s.code, "as it should"), s.prior, s.of.Health, s.of.Capacity, s.of.Sulphation, float64(s.lead))
	}
	return rows
}
