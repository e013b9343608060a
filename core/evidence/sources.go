package evidence

import "grapnel/core/source"

// Sources lists every figure of this package.
func Sources() []source.Entry {
	memory := source.Recalled("")
	return source.In("evidence",
		source.Figure("usualStand", usualStand, "h", source.Common("a night")),
		source.Figure("mostStoodSigma", mostStoodSigma, "K", memory),
		source.Figure("conductanceTolerance", conductanceTolerance, "share", source.Common("")),
		source.Figure("reserveSigma", reserveSigma, "share", memory),
		source.Figure("endTolerance", endTolerance, "V", memory),
		source.Figure("longestGap", longestGap.Hours(), "h", memory),
		source.Figure("warmEngine", warmEngine, "°C", memory),
		source.Figure("noCurrent", noCurrent, "A", memory),
		source.Figure("openMinutes", openMinutes, "min", source.Common("acceptance of a deeply discharged sealed battery")),
		source.Figure("mildDay", mildDay, "°C", memory),
		source.Figure("wholeFrom", wholeFrom, "share", source.From("half of a full one is 0.53 of the nominal volts, a whole flat one 0.99")),
		source.Figure("apartPercent", apartPercent, "%", memory),
		source.Figure("eyeBlur", eyeBlur, "%", memory),
		source.Figure("sameLoad", sameLoad, "share", memory),
		source.Figure("sameSeconds", sameSeconds, "s", memory),
		source.Figure("sameCelsius", sameCelsius, "K", memory),
		source.Figure("moreCharge", moreCharge, "%", memory),
		source.Figure("lessVolts", lessVolts, "V", memory),
		source.Figure("lessOfRating", lessOfRating, "share", memory),
		source.Figure("drawnShare", drawnShare, "share", memory),
		source.Figure("triesShare", triesShare, "share", memory),
		source.Figure("drawnSpread", drawnSpread, "share", memory),
		source.Figure("endedPercent", endedPercent, "%", memory),
		source.Figure("endedMost", endedMost, "%", memory),
		source.Figure("heldAmps", heldAmps, "A/Ah", memory),
		source.Figure("midYear", midYear, "", memory),
		source.Figure("startSpread", startSpread, "%", memory),
		source.Figure("reversedFrom", reversedFrom, "V", memory),
		source.Figure("nothingBelow", nothingBelow, "V", memory),
		source.Figure("gravityUnknownSigma", gravityUnknownSigma, "K", source.From("the correction is worth 0.03 between −15 and 27 °C")),
		source.Figure("takesShare", takesShare, "of Ah", memory),
		source.Figure("takesAmps", takesAmps, "A", memory),
		source.Figure("outOfIt", outOfIt, "A", memory),
		source.Figure("studLess", studLess, "V", memory),
		source.Figure("twelveVolts", twelveVolts, "V", source.From("the limits of the trade are printed for 12 V")),
		source.Figure("unknownDrain", unknownDrain, "A", memory),
		source.Figure("drawsDown", drawsDown, "of Ah", memory),
		source.Figure("usualAmpereHours", usualAmpereHours, "Ah", memory),
	)
}
