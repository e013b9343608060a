package circuit

import "grapnel/core/source"

// Sources lists every figure of this package.
func Sources() []source.Entry {
	copper, gauge := source.By(source.IEC60028), source.By(source.ASTMB258)
	return source.In("circuit",
		source.Figure("copperResistivity", copperResistivity, "Ω·m", copper),
		source.Figure("copperCoefficient", copperCoefficient, "1/K", copper),
		source.Figure("copperCelsius", copperCelsius, "°C", copper),
		source.Figure("gaugeBase", gaugeBase, "mm", gauge),
		source.Figure("gaugeRatio", gaugeRatio, "", gauge),
		source.Figure("gaugeOrigin", gaugeOrigin, "", gauge),
		source.Figure("gaugeInterval", gaugeInterval, "", gauge),
		source.Figure("ClampLow", ClampLow, "Ω", source.Recalled("")),
		source.Figure("ClampHigh", ClampHigh, "Ω", source.Recalled("")),
		source.Table("fuses", "A mΩ", source.Recalled("cold blade fuses; makers differ by a tenth or two"), fuseRows()...),
		source.Figure("FuseSpread", FuseSpread, "share", source.Recalled("one sigma")),
	)
}

func fuseRows() []string {
	rows := make([]string, len(fuses))
	for i, f := range fuses {
		rows[i] = source.Row("", f.rating, f.milliohm)
	}
	return rows
}
