package jump

import (
	"grapnel/core/charging"
	"grapnel/core/source"
)

// Sources lists every figure of this package.
func Sources() []source.Entry {
	memory, common, exact := source.Recalled(""), source.Common(""), source.From("exact by definition")
	return source.In("jump",
		source.Figure("mostJoints", mostJoints, "mΩ", memory),
		source.Figure("mostFeed", mostFeed, "min", memory),
		source.Figure("leastArea", leastArea, "mm²", memory),
		source.Figure("mostArea", mostArea, "mm²", memory),
		source.Figure("leastGauge", leastGauge, "", memory),
		source.Figure("mostGauge", mostGauge, "", memory),
		source.Figure("leastMetres", leastMetres, "m", memory),
		source.Figure("mostMetres", mostMetres, "m", memory),
		source.Figure("mostClamp", mostClamp, "mΩ", memory),
		source.Figure("leastNominal", leastNominal, "V", memory),
		source.Figure("mostNominal", mostNominal, "V", memory),
		source.Figure("mostPeak", mostPeak, "A", memory),
		source.Figure("milli", milli, "", exact),
		source.Figure("wakeAmps", wakeAmps, "A", memory),
		source.Figure("usualArea", usualArea, "mm²", memory),
		source.Figure("usualMetres", usualMetres, "m", memory),
		source.Figure("shortLead", shortLead, "m", memory),
		source.Figure("leads", leads, "", exact),
		source.Figure("clamps", clamps, "", exact),
		source.Figure("trySeconds", trySeconds, "s", common),
		source.Figure("heatOfCopper", heatOfCopper, "J/(m³·K)", source.Recalled("385 J/(kg·K) at 8960 kg/m³")),
		source.Table("drags", "share", memory, weights(drags)...),
		source.Figure("speedSigma", speedSigma, "share", memory),
		source.Figure("fires", fires, "share", memory),
		source.Figure("minutesPerHour", minutesPerHour, "min/h", exact),
		source.Figure("wholePercent", wholePercent, "%", exact),
		source.Figure("crankSeconds", crankSeconds, "s", memory),
		source.Table("feedSteps", "min", memory, source.Row("tried", feedSteps...)),
		source.Figure("enough", enough, "share", exact),
		source.Figure("mostFed", mostFed, "min", memory),
		source.Figure("feedMore", feedMore, "min", memory),
		source.Figure("twice", twice, "", exact),
		source.Figure("halfMore", halfMore, "", exact),
		source.Figure("warmBy", warmBy, "K", memory),
		source.Figure("warmest", warmest, "°C", memory),
		source.Figure("worthSaying", worthSaying, "share", memory),
		source.Figure("sixCells", sixCells, "", exact),
		source.Figure("usualDonorAh", usualDonorAh, "Ah", memory),
		source.Figure("usualStart", usualStart, "A", memory),
		source.Figure("usualPeak", usualPeak, "A", memory),
		source.Figure("usualSpare", usualSpare, "A", memory),
		source.Figure("cutVolts", cutVolts, "V", source.By(source.SAEJ537)),
		source.Figure("runningVolts", runningVolts, "V", memory),
		source.Figure("startVolts", startVolts, "V", memory),
		source.Figure("beyondOhms", beyondOhms, "Ω", memory),
		source.Figure("feedFromBattery", feedFromBattery, "A", memory),
		source.Figure("peakShare", peakShare, "share", memory),
		source.Figure("coldShare", coldShare, "share/K", memory),
		source.Figure("leastShare", leastShare, "share", memory),
		source.Figure("packVolts", packVolts, "V", memory),
		source.Figure("packAt", packAt, "V", memory),
		source.Figure("packCharges", packCharges, "A", memory),
		source.Figure("packFull", packFull, "%", memory),
		source.Figure("warmAt", warmAt, "°C", memory),
		source.Figure("feedByCharger", feedByCharger, "A", common),
		source.Figure("leastDonor", leastDonor, "share", memory),
		source.Figure("splits", splits, "", exact),
		source.Figure("splitNear", splitNear, "V", exact),
	)
}

// weights are a table's rows: what is taken, and how likely.
func weights(list []charging.Weighed) []string {
	rows := make([]string, len(list))
	for i, w := range list {
		rows[i] = source.Row("asks", w.X, w.Weight)
	}
	return rows
}
