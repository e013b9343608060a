package battery

import "grapnel/core/source"

// Sources lists every figure of this package.
func Sources() []source.Entry {
	bci, memory, common := source.By(source.BCI), source.Recalled(""), source.Common("")
	return source.In(
		"battery",
		source.Table("openCircuit", "% V", bci.With("flooded; EFB, AGM and gel from memory"), openCircuitRows()...),
		source.Figure("TableCelsius", TableCelsius, "°C", bci),
		source.Figure("millivoltsPerKelvin", millivoltsPerKelvin, "mV/K", source.From("0.2 mV for each cell and kelvin")),
		source.Codes("restedCeiling", "V", source.Common("flooded; the others carry the same margin, from memory"), restedCeiling),
		source.Figure("OrdinaryCeiling", OrdinaryCeiling, "V", common),
		source.Codes("tradeMarks", "V", common, tradeMarks),
		source.Figure("TableSpread", TableSpread, "V", source.From("acid of 1.265 to 1.300")),
		source.Figure("OwnSpread", OwnSpread, "V", memory),
		source.Codes("ordinaryAcid", "SG", source.From("the cell rule on the table of full volts"), ordinaryAcid),
		source.Figure("tableCells", tableCells, "cells", source.From("the tables of the trade are printed for 12 V")),
		source.Figure("BandSigmas", BandSigmas, "σ", source.From("two-sided 90 % of a normal distribution")),
		source.Figure("TemperatureUnknown", TemperatureUnknown, "°C", memory),
		source.Figure("TemperatureUnknownSigma", TemperatureUnknownSigma, "K", memory),
		source.Figure("missingCellLow", missingCellLow, "V", source.From("cells of about 2.1 V")),
		source.Figure("missingCellHigh", missingCellHigh, "V", source.From("cells of about 2.1 V")),
		source.Figure("voltsPerCell", voltsPerCell, "V", source.From("the nominal voltage of a lead-acid cell")),
		source.Figure("mostPerCellCharged", mostPerCellCharged, "V", source.Common("a regulator that has failed")),
		source.Figure("mostPerCell", mostPerCell, "V", source.Common("above any equalising charge")),

		source.Table("gravityPoints", "% SG", bci, gravityRows()...),
		source.Figure("gravityPerKelvin", gravityPerKelvin, "1/K", bci.With("0.004 for each 10 °F off 80 °F")),
		source.Figure("FullGravity", FullGravity, "SG", bci),
		source.Figure("FullGravityHigh", FullGravityHigh, "SG", source.Common("by maker")),
		source.Figure("FullGravityOld", FullGravityOld, "SG", source.Common("some old cars")),
		source.Figure("EqualiseSpread", EqualiseSpread, "SG", common),
		source.Figure("gravitySpread", gravitySpread, "SG", memory),
		source.Codes("zoneBands", "% low high", source.Recalled("zones differ between instruments"), zoneBands),
		source.Figure("cellRule", cellRule, "V", source.By(source.Linden).With("volts of a cell less its gravity; near full only")),

		source.Table("freezing", "SG °C", source.By(source.AcidFreeze), freezingRows()...),
		source.Table("density", "% SG", source.By(source.PerryAcid), densityRows()...),
		source.Figure("pureDensity", pureDensity, "SG", source.By(source.PerryAcid)),

		source.Figure("SurfaceMost", SurfaceMost, "V", memory),
		source.Figure("SurfaceHours", SurfaceHours, "h", memory),
		source.Figure("electrolyteHours", electrolyteHours, "h", memory),
		source.Figure("placeSigma", placeSigma, "K", memory),

		source.Table("chart", "A SAE EN IEC DIN", source.Recalled("no exact conversion exists"), chartRows()...),
		source.Codes("ratios", "share band", source.Common("CA and MCA from a label with both; HCA and JIS from memory"), ratios),
		source.Codes("chartBand", "share", memory, chartBand),
		source.Table("definitions", "°C s V", source.By("SAE J537, EN 50342-1, IEC 60095-1, DIN, JIS"), definitionRows()...),

		source.Figure("reserveAmps", reserveAmps, "A", source.By(source.SAEJ537)),
		source.Figure("ReserveEndVolts", ReserveEndVolts, "V", source.By(source.SAEJ537)),
		source.Figure("capacityPerReserve", capacityPerReserve, "Ah/min", common),
		source.Figure("capacityOffset", capacityOffset, "Ah", common),
		source.Figure("leastReserve", leastReserve, "min", common),
		source.Figure("capacityOver", capacityOver, "share", common),
		source.Figure("capacityUnder", capacityUnder, "share", common),
		source.Figure("slowHours", slowHours, "h", source.By(source.EN50342)),
		source.Figure("peukertUsual", peukertUsual, "", memory),
		source.Figure("capacityPerKelvin", capacityPerKelvin, "1/K", memory),
		source.Figure("ampsPerAmpereHour", ampsPerAmpereHour, "A/Ah", memory),
		source.Figure("ampsPerAmpereBand", ampsPerAmpereBand, "share", memory),
		source.Figure("keepsModern", keepsModern, "share", memory),
		source.Figure("keepsModernLeast", keepsModernLeast, "share", memory),
		source.Figure("keepsModernMost", keepsModernMost, "share", memory),
		source.Figure("keepsOld", keepsOld, "share", memory),
		source.Figure("keepsOldLeast", keepsOldLeast, "share", memory),
		source.Figure("keepsOldMost", keepsOldMost, "share", memory),

		source.Codes(
			"chargeVolts",
			"V absorb float equalise",
			source.Recalled("at 25 °C; equalising flooded batteries only is common practice"),
			chargeVolts,
		),
		source.Figure("chargeCelsius", chargeCelsius, "°C", memory),
		source.Figure("compensation", compensation, "mV/K", source.Recalled("a cell; the middle of −3 to −5")),
		source.Figure("compensationLow", compensationLow, "mV/K", memory),
		source.Figure("compensationHigh", compensationHigh, "mV/K", memory),
		source.Figure("compensationColdest", compensationColdest, "°C", memory),
		source.Figure("compensationWarmest", compensationWarmest, "°C", memory),
		source.Figure("currentShare", currentShare, "share", common),
		source.Figure("quickShare", quickShare, "share", common),
		source.Table("acceptanceDelays", "V h", common, delayRows()...),
		source.Figure("acceptWarm", acceptWarm, "A", common),
		source.Figure("acceptCold", acceptCold, "A", common),
		source.Figure("acceptWarmCelsius", acceptWarmCelsius, "°C", common),
		source.Figure("acceptColdCelsius", acceptColdCelsius, "°C", common),
		source.Figure("acceptCapacity", acceptCapacity, "Ah", memory),
		source.Table(
			"coldPower",
			"°C % %",
			source.Recalled("harsher than the ratings allow: it explains and calibrates nothing"),
			coldRows()...),

		source.Codes("selfDischarge", "%/month", source.Recalled("at 25 °C"), selfDischarge),
		source.Figure("selfDischargeCelsius", selfDischargeCelsius, "°C", memory),
		source.Figure("selfDischargeDouble", selfDischargeDouble, "K", memory),
		source.Figure("RechargeVolts", RechargeVolts, "V", common),
		source.Figure("NoStartPercent", NoStartPercent, "%", memory),

		source.Figure("lifeShort", lifeShort, "years", common),
		source.Figure("lifeLong", lifeLong, "years", common),
		source.Figure("lifeBest", lifeBest, "years", source.Common("claimed for good ones")),
		source.Figure("ShelfMonths", ShelfMonths, "months", common),
		source.Table("dateLetters", "", source.Common("A is January, M December, I left out; makers differ"), dateLetters),
		source.Figure("oldestGuess", oldestGuess, "years", memory),
	)
}

func openCircuitRows() []string {
	var rows []string
	for _, c := range []Chemistry{Flooded, EFB, AGM, Gel} {
		row := string(c)
		for _, p := range openCircuit[c] {
			row += " " + source.Row("", p.Percent, float64(p.Volts))
		}
		rows = append(rows, row)
	}
	return rows
}

func gravityRows() []string {
	rows := make([]string, len(gravityPoints))
	for i, p := range gravityPoints {
		rows[i] = source.Row("", p.percent, p.sg)
	}
	return rows
}

func freezingRows() []string {
	rows := make([]string, len(freezing))
	for i, p := range freezing {
		rows[i] = source.Row("", p.sg, float64(p.freezes))
	}
	return rows
}

func densityRows() []string {
	rows := make([]string, len(density))
	for i, p := range density {
		rows[i] = source.Row("", p.percent, p.sg)
	}
	return rows
}

func chartRows() []string {
	rows := make([]string, len(chart))
	for i, r := range chart {
		rows[i] = source.Row("", r.sae, r.en, r.iec, r.din)
	}
	return rows
}

func definitionRows() []string {
	rows := make([]string, len(definitions))
	for i, d := range definitions {
		rows[i] = source.Row(string(d.Standard), float64(d.At), float64(d.Seconds), float64(d.Volts))
	}
	return rows
}

func delayRows() []string {
	rows := make([]string, len(acceptanceDelays))
	for i, d := range acceptanceDelays {
		rows[i] = source.Row("from", float64(d.from), d.hours)
	}
	return rows
}

func coldRows() []string {
	rows := make([]string, len(coldPower))
	for i, p := range coldPower {
		rows[i] = source.Row("", float64(p.at), p.batteryHas, p.engineAsks)
	}
	return rows
}
