package school

import "grapnel/core/source"

// Sources lists every figure of this package; the limits a shop may set to its
// own figure are Limits.
func Sources() []source.Entry {
	bci, common, memory := source.By(source.BCI), source.Common(""), source.Recalled("")
	entries := []source.Entry{
		source.Table("loadSchools", "s V", bci.With("half of the rating; the others are common practice"), schoolRows()...),
		source.Table("loadLimits", "°C V", bci, limitRows(loadLimits)...),
		source.Table("loadLimitsFahrenheit", "°C V", bci.With("0 to 70 °F, converted"), limitRows(loadLimitsFahrenheit)...),
		source.Figure("LeastEver", LeastEver, "V", bci),
		source.Figure("LeastWarm", LeastWarm, "V", bci),
		source.Figure("ColdestTest", ColdestTest, "°C", bci),
		source.Figure("RestMinutes", RestMinutes, "min", source.Common("the cautious say overnight")),
		source.Figure("LampSeconds", LampSeconds, "s", common),
		source.Figure("LampWait", LampWait, "s", common),
		source.Figure("LoadSeconds", LoadSeconds, "s", common),
		source.Figure("LoadWait", LoadWait, "s", common),
		source.Figure("HighBeamSeconds", HighBeamSeconds, "s", source.Common("high beam 4 to 5 min, another school")),
		source.Figure("SurfaceLoadMost", SurfaceLoadMost, "A", common),
		source.Figure("JudgePercent", JudgePercent, "%", bci),
		source.Figure("EyePercent", EyePercent, "%", common),
		source.Figure("HalfRating", HalfRating, "share", bci),
		source.Figure("LittleRating", LittleRating, "share", common),
		source.Figure("LoadTolerance", LoadTolerance, "share", common),
		source.Figure("TimeTolerance", TimeTolerance, "s", memory),
		source.Figure("LongSeconds", LongSeconds, "s", memory),
		source.Figure("FixedSeconds", FixedSeconds, "s", common),
		source.Figure("FixedLow", FixedLow, "A", common),
		source.Figure("FixedHigh", FixedHigh, "A", common),
		source.Figure("JumpDriveLow", JumpDriveLow, "min", common),
		source.Figure("JumpDriveHigh", JumpDriveHigh, "min", common),
		source.Figure("DeadVolts", DeadVolts, "V", common),
		source.Figure("HotCelsius", HotCelsius, "°C", source.Common("125 °F")),
		source.Table("grades", "share", source.Common("on a charged battery only"), gradeRows()...),
		source.Figure("ConductanceVolts", ConductanceVolts, "V", common),
		source.Figure("largePetrol", largePetrol, "l", source.Recalled("V8")),
		source.Figure("chargingCold", chargingCold, "°C", memory),
		source.Figure("chargingWarm", chargingWarm, "°C", memory),
		source.Figure("SleepMinutes", SleepMinutes, "min", source.Common("20 to 60 by car")),
		source.Figure("SleepMinutesElectric", SleepMinutesElectric, "min", source.Common("some electric cars")),
		source.Figure("DropAmps", DropAmps, "A", memory),
		source.Figure("DropAmpsCharging", DropAmpsCharging, "A", memory),
		source.Figure("ReserveTaken", ReserveTaken, "share", common),
		source.Figure("ReserveWatch", ReserveWatch, "share", memory),
		source.Figure("FullPercent", FullPercent, "%", memory),
		source.Figure("TooSoonShare", TooSoonShare, "share", common),
		source.Figure("TooLateShare", TooLateShare, "share", memory),
		source.Figure("ChargedVolts", ChargedVolts, "V", memory),
		source.Figure("LongChargeMinutes", LongChargeMinutes, "min", memory),
		source.Figure("NoCurrentVolts", NoCurrentVolts, "V", memory),
		source.Figure("DCDCSeconds", DCDCSeconds, "s", source.Common("within seconds; the figure is from memory")),
		source.Figure("RunawayRatio", RunawayRatio, "", memory),
		source.Figure("RunawayVolts", RunawayVolts, "V", memory),
		source.Figure("ManyJumps", ManyJumps, "", source.Common("frequent jumps; the figures are from memory")),
		source.Figure("JumpDays", JumpDays, "days", memory),
		source.Figure("StoodLong", StoodLong, "days", common),
		source.Figure("FlushMinutes", FlushMinutes, "min", source.By(source.SafetyData)),
		source.Figure("TiltMost", TiltMost, "°", common),
		source.Figure("CrankMost", CrankMost, "s", common),
		source.Figure("CrankRest", CrankRest, "s", common),
		source.Figure("CrankTries", CrankTries, "", common),
		source.Figure("StarterCool", StarterCool, "min", common),
		source.Figure("HighVoltsFrom", HighVoltsFrom, "V", common),
		source.Figure("KeepAliveMost", KeepAliveMost, "A", common),
	}
	return source.In("school", append(entries, limitEntries()...)...)
}

// limitEntries are the limits under their own names.
func limitEntries() []source.Entry {
	entries := make([]source.Entry, len(limits))
	for i, row := range limits {
		entries[i] = source.Figure("limits."+string(row.ID), row.Value, row.Unit, row.Source)
	}
	return entries
}

func schoolRows() []string {
	rows := make([]string, len(loadSchools))
	for i, s := range loadSchools {
		rows[i] = source.Row(string(s.ID), float64(s.Seconds), float64(s.Flat))
	}
	return rows
}

func limitRows(table []limitPoint) []string {
	rows := make([]string, len(table))
	for i, p := range table {
		rows[i] = source.Row("", tidyCelsius(p.at), float64(p.least))
	}
	return rows
}

func gradeRows() []string {
	rows := make([]string, len(grades))
	for i, g := range grades {
		rows[i] = source.Row(g.Code, g.Least)
	}
	return rows
}
