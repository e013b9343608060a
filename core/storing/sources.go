package storing

import "grapnel/core/source"

// Sources lists every figure of this package.
func Sources() []source.Entry {
	common := source.Common("")
	return source.In("storing",
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
