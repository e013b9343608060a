package charging

import "grapnel/core/source"

// Sources lists every figure of this package.
func Sources() []source.Entry {
	iec, common, memory := source.By(source.IEC62485), source.Common(""), source.Recalled("")
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
		source.Figure("coilAh", coilAh, "Ah", memory),
		source.Figure("coilMinutes", coilMinutes, "min", source.Common("15 to 20 min outdoors")),
		source.Figure("warmSpread", warmSpread, "share", memory),
		source.Figure("coldSpread", coldSpread, "share", memory),
		source.Figure("coldCharging", coldCharging, "°C", memory),
		source.Figure("mostHours", mostHours, "h", memory),
		source.Figure("rateTolerance", rateTolerance, "share", memory),
	)
}
