package standing

import (
	"strings"

	"grapnel/core/source"
)

// Sources lists every figure of this package.
func Sources() []source.Entry {
	common, memory, exact := source.Common(""), source.Recalled(""), source.From("exact by definition")
	return source.In("standing",
		source.Table("zones", "°C", memory, zoneRows()...),
		source.Figure("shelter", shelter, "K", memory),
		source.Figure("shedWarmer", shedWarmer, "K", memory),
		source.Figure("heatedMean", heatedMean, "°C", memory),
		source.Figure("heatedColdest", heatedColdest, "°C", memory),
		source.Figure("middle", middle, "", memory),
		source.Table("sunshine", "kWh/m² a day", memory, source.Row("January to December", sunshine[:]...)),
		source.Table("typical", "mA", source.Common("cars and motorcycles; the others are values from memory"), typicalRows()...),
		source.Figure("measuredSpread", measuredSpread, "share", memory),
		source.Figure("milli", milli, "", exact),
		source.Figure("monthsOfYear", monthsOfYear, "months", exact),
		source.Figure("usualDays", usualDays, "days", memory),
		source.Figure("mostDays", mostDays, "days", memory),
		source.Figure("MostDrain", MostDrain, "mA", memory),
		source.Figure("leastAir", leastAir, "°C", memory),
		source.Figure("mostAir", mostAir, "°C", memory),
		source.Figure("leastFuse", leastFuse, "A", memory),
		source.Figure("mostFuse", mostFuse, "A", memory),
		source.Figure("mostSunshine", mostSunshine, "kWh/m² a day", memory),
		source.Figure("losesLow", losesLow, "share", memory),
		source.Figure("losesHigh", losesHigh, "share", memory),
		source.Figure("holdsLow", holdsLow, "share", memory),
		source.Figure("holdsHigh", holdsHigh, "share", memory),
		source.Figure("guessLow", guessLow, "share", memory),
		source.Figure("guessHigh", guessHigh, "share", memory),
		source.Figure("wholePercent", wholePercent, "%", exact),
		source.Figure("never", never, "%", exact),
		source.Figure("easyEngine", easyEngine, "share", memory),
		source.Figure("hardEngine", hardEngine, "share", memory),
		source.Figure("chargeSteps", chargeSteps, "", exact),
		source.Table("guessedCharge", "%", memory, source.Row("middle, low, high", guessedCharge.Percent, guessedCharge.Low, guessedCharge.High)),
		source.Figure("twelve", twelve, "V", exact),
		source.Table("work", "min", memory, workRows()...),
		source.Figure("monthDays", monthDays, "days", exact),
		source.Figure("hoursPerDay", hoursPerDay, "h", exact),
		source.Figure("electricApart", electricApart, "min", memory),
		source.Figure("chargedPercent", chargedPercent, "%", exact),
		source.Figure("sunToBattery", sunToBattery, "share", memory),
		source.Figure("panelVolts", panelVolts, "V", memory),
		source.Figure("panelMost", panelMost, "W", memory),
		source.Figure("sixCells", sixCells, "", exact),
		source.Figure("leastVisit", leastVisit, "days", memory),
		source.Table("refills", "A, V", memory, refillRows()...),
		source.Figure("keptPercent", keptPercent, "%", source.From("a little over the charge of 12.4 V")),
		source.Figure("drivenPercent", drivenPercent, "%", memory),
		source.Figure("driveMost", driveMost, "min", memory),
		source.Figure("minutesPerHour", minutesPerHour, "min/h", exact),
		source.Figure("secondsPerHour", secondsPerHour, "s/h", exact),
		source.Figure("noRefill", noRefill, "h", memory),
		source.Table("lazyRounds", "days", memory, source.Row("tried", lazyRounds...)),
		source.Table("wakes", "days", source.Common("a few times a week, or a weekly drive"), source.Row("tried", wakes...)),
		source.Figure("coldFloor", coldFloor, "°C", memory),
		source.Figure("warmFloor", warmFloor, "°C", memory),
		source.Figure("idleRun", idleRun, "min", memory),
		source.Figure("impliedSteps", impliedSteps, "", exact),
		source.Figure("leadDays", leadDays, "days", memory),
		source.Figure("keepDays", keepDays, "days", memory),
		source.Figure("windowDays", windowDays, "days", memory),
		source.Figure("wantedDays", wantedDays, "days", memory),
		source.Figure("usedDays", usedDays, "days", memory),
		source.Table("AfterNight", "%", memory, source.Row("middle, low, high", AfterNight.Percent, AfterNight.Low, AfterNight.High)),
		source.Table("held", "%", memory, source.Row("middle, low, high", held.Percent, held.Low, held.High)),
		source.Figure("SleepMinutes", SleepMinutes, "min", common),
		source.Figure("mostShare", mostShare, "share", common),
		source.Figure("enoughAmps", enoughAmps, "A", common),
		source.Figure("drainMargin", drainMargin, "", source.From("drain and self-discharge, twice")),
		source.Figure("SocketFuse", SocketFuse, "A", common),
		source.Figure("SocketMost", SocketMost, "A", common),
		source.Figure("RefillPercent", RefillPercent, "%", common),
		source.Figure("ConnectedDays", ConnectedDays, "days", common),
		source.Figure("DisconnectDays", DisconnectDays, "days", common),
		source.Figure("DisconnectMost", DisconnectMost, "days", common),
		source.Figure("ApartDays", ApartDays, "days", common),
		source.Figure("ElectricLow", ElectricLow, "days", common),
		source.Figure("ElectricHigh", ElectricHigh, "days", common),
		source.Figure("WakeLow", WakeLow, "min", common),
		source.Figure("WakeHigh", WakeHigh, "min", common),
		source.Figure("TractionLow", TractionLow, "%", common),
		source.Figure("TractionHigh", TractionHigh, "%", common),
		source.Figure("TractionFullDays", TractionFullDays, "days", common),
	)
}

func zoneRows() []string {
	var rows []string
	for _, z := range zones {
		rows = append(rows, source.Row(z.Code+", means", z.Monthly[:]...), source.Row(z.Code+", coldest nights", z.Coldest[:]...))
	}
	return rows
}

func typicalRows() []string {
	var rows []string
	for _, t := range typical {
		rows = append(rows, source.Row(strings.Join(t.kinds, " "), t.amps, t.low, t.high))
	}
	return rows
}

func workRows() []string {
	var rows []string
	for _, kind := range Kinds() {
		w := work[kind]
		rows = append(rows, source.Row(kind+": once, a visit, besides a season", w.once, w.visit, w.besides))
	}
	return rows
}

func refillRows() []string {
	var rows []string
	for _, r := range refills {
		rows = append(rows, source.Row(strings.Join(r.kinds, " "), float64(r.amps), float64(r.volts)))
	}
	return rows
}
