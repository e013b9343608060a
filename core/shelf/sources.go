package shelf

import "grapnel/core/source"

// Sources lists every figure of this package.
func Sources() []source.Entry {
	memory, exact := source.Recalled(""), source.From("exact by definition")
	tried := source.From("tried out on made-up shelves (core/shelf/near_test.go)")
	return source.In("shelf",
		source.Figure("mostBatteries", mostBatteries, "", memory),
		source.Figure("mostChannels", mostChannels, "", memory),
		source.Figure("mostPlaces", mostPlaces, "", memory),
		source.Figure("mostHands", mostHands, "", memory),
		source.Figure("mostWatts", mostWatts, "W", memory),
		source.Figure("mostAir", mostAir, "m³/h", memory),
		source.Figure("mostRoom", mostRoom, "m³", memory),
		source.Figure("mostWeight", mostWeight, "", memory),
		source.Figure("minutesPerHour", minutesPerHour, "min/h", exact),
		source.Figure("thousandths", thousandths, "", exact),
		source.Figure("farMinutes", farMinutes, "min", memory),
		source.Figure("halves", halves, "", tried),
		source.Figure("workEach", workEach, "", tried),
		source.Figure("wholeAt", wholeAt, "", tried),
		source.Figure("smallPart", smallPart, "share", tried),
		source.Figure("tightWork", tightWork, "", tried),
		source.Figure("unplacedWeight", unplacedWeight, "min", tried),
		source.Figure("lateWeight", lateWeight, "min/min", tried),
		source.Figure("lastWeight", lastWeight, "min/min", tried),
		source.Figure("hotEnd", hotEnd, "min", tried),
		source.Figure("coldPart", coldPart, "share", tried),
		source.Figure("movesEach", movesEach, "", tried),
		source.Figure("fewBatteries", fewBatteries, "", tried),
		source.Figure("fewChannels", fewChannels, "", tried),
		source.Figure("fixLate", fixLate, "", memory),
		source.Figure("fixChargers", fixChargers, "", memory),
		source.Figure("fixLeavings", fixLeavings, "", memory),
		source.Figure("fixWork", fixWork, "", tried),
		source.Figure("stayHours", stayHours, "h", memory),
		source.Figure("putOffDays", putOffDays, "d", memory),
		source.Figure("rounding", rounding, "", exact),
		source.Figure("none", none, "", exact),
		source.Figure("uphillBits", uphillBits, "", tried),
		source.Table("hotStarts", "min", tried, source.Row("", hotStarts[:]...)),
	)
}
