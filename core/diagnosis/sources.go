package diagnosis

import (
	"fmt"
	"slices"
	"strings"

	"grapnel/core/source"
)

// Sources lists every figure of this package: what the engine takes for likely.
// None has a published anchor; the study holds them against cases they were not
// made from.
func Sources() []source.Entry {
	memory := source.Recalled("")
	triage := source.Common("the trade's triage; figures from memory")
	return source.In("diagnosis",
		source.Figure("acidSpread", acidSpread, "SG", memory),
		source.Table("ageOdds", "years odds", memory, knotsOf(ageOdds)...),
		source.Figure("awakeAmps", awakeAmps, "A", memory),
		source.Figure("awakeAmpsSigma", awakeAmpsSigma, "", memory),
		source.Figure("awakeAt", awakeAt, "V", memory),
		source.Figure("awakeSigma", awakeSigma, "V", memory),
		source.Figure("badCellLow", badCellLow, "SG", memory),
		source.Figure("badCellWide", badCellWide, "SG", memory),
		source.Figure("badDiodes", badDiodes, "share", memory),
		source.Figure("badJoint", badJoint, "mΩ", memory),
		source.Figure("badJointSigma", badJointSigma, "", memory),
		source.Table("beside", "sound worn cell damaged", memory, rowsOf(beside[:])...),
		source.Table("concurrent", "share", memory, textOf(concurrent)...),
		source.Table("capacityAbout", "share", memory, rowsOf(capacityAbout[:])...),
		source.Figure("capacityNodes", capacityNodes, "", memory),
		source.Figure("carriesMost", carriesMost, "share", memory),
		source.Figure("cellFalse", cellFalse, "share", memory),
		source.Figure("cellShows", cellShows, "share", memory),
		source.Figure("cellSpread", cellSpread, "SG", memory),
		source.Figure("chargeNodes", chargeNodes, "", memory),
		source.Figure("conductanceCharge", conductanceCharge, "share", memory),
		source.Codes("corrosionHints", "value", triage, corrosionHints),
		source.Table("crankHeard", "share", memory, textOf(crankHeard)...),
		source.Table("cranking", "normal slow silent starts", memory, textOf(cranking)...),
		source.Figure("crankSeconds", crankSeconds, "s", memory),
		source.Codes("damageSeen", "sound worn cell damaged", memory, damageSeen),
		source.Figure("deadAlternators", deadAlternators, "share", memory),
		source.Figure("deadAt", deadAt, "V", memory),
		source.Figure("deadSigma", deadSigma, "V", memory),
		source.Figure("deepShare", deepShare, "share", memory),
		source.Figure("deepVolts", deepVolts, "V", memory),
		source.Figure("doubtfulShare", doubtfulShare, "share", memory),
		source.Figure("doubtfulVolts", doubtfulVolts, "V", memory),
		source.Figure("dragDraws", dragDraws, "", memory),
		source.Figure("drained", drained, "A", memory),
		source.Figure("drainedSigma", drainedSigma, "", memory),
		source.Figure("drawSigma", drawSigma, "", memory),
		source.Figure("emfPerKelvin", emfPerKelvin, "V/K", memory),
		source.Figure("endNear", endNear, "V", memory),
		source.Figure("eyeRight", eyeRight, "share", memory),
		source.Codes("factorTests", "of outcomes", memory, factorTests),
		source.Figure("feebleStarter", feebleStarter, "A", memory),
		source.Table("figures", "last digit", memory, lastDigits()...),
		source.Figure("flatCell", flatCell, "share", memory),
		source.Figure("flatPercent", flatPercent, "%", memory),
		source.Figure("fullPercent", fullPercent, "%", memory),
		source.Figure("goodSpread", goodSpread, "share", memory),
		source.Figure("guessedRating", guessedRating, "share", memory),
		source.Figure("healthNodes", healthNodes, "", memory),
		source.Table("heldHealth", "share density", memory, knotsOf(heldHealth)...),
		source.Figure("inverseRootTwoPi", inverseRootTwoPi, "", memory),
		source.Figure("joinedShare", joinedShare, "share", memory),
		source.Figure("joinedVolts", joinedVolts, "V", memory),
		source.Figure("jointDraws", jointDraws, "", memory),
		source.Figure("jointWide", jointWide, "", memory),
		source.Figure("judgePercent", judgePercent, "%", memory),
		source.Codes("jumpSays", "order fault", memory, jumpSays),
		source.Codes("kindOdds", "cause odds", memory, kindOdds),
		source.Figure("labelShare", labelShare, "share", memory),
		source.Figure("lampsAmps", lampsAmps, "A", memory),
		source.Figure("lampsShare", lampsShare, "of Ah", memory),
		source.Figure("leakingShare", leakingShare, "share", memory),
		source.Figure("leakingShows", leakingShows, "share", memory),
		source.Figure("leakingSpread", leakingSpread, "V", memory),
		source.Figure("leakingVolts", leakingVolts, "V", memory),
		source.Figure("leadFrom", leadFrom, "share", memory),
		source.Figure("leakLeast", leakLeast, "V", memory),
		source.Figure("leakMost", leakMost, "V", memory),
		source.Figure("leastBits", leastBits, "bits", memory),
		source.Figure("leastDrain", leastDrain, "A", memory),
		source.Figure("leastGain", leastGain, "bits", memory),
		source.Figure("leastPower", leastPower, "share", memory),
		source.Figure("leastPrior", leastPrior, "share", memory),
		source.Figure("leastReserve", leastReserve, "share", memory),
		source.Figure("leastShift", leastShift, "share", memory),
		source.Figure("leastShown", leastShown, "share", memory),
		source.Figure("leastWeight", leastWeight, "", memory),
		source.Figure("lightShare", lightShare, "share", memory),
		source.Table("loadedCapacities", "share", memory, rowsOf(loadedCapacities[:])...),
		source.Table("loadEdges", "V", memory, rowsOf(loadEdges)...),
		source.Figure("loadPerKelvin", loadPerKelvin, "V/K", memory),
		source.Figure("loadSeconds", loadSeconds, "s", memory),
		source.Figure("loadSigma", loadSigma, "V", memory),
		source.Figure("longestReserve", longestReserve, "s", memory),
		source.Codes("lookSeen", "there else", memory, lookSeen),
		source.Table("lostCapacity", "share density", memory, knotsOf(lostCapacity)...),
		source.Figure("lostNodes", lostNodes, "", memory),
		source.Figure("lostShare", lostShare, "share", memory),
		source.Figure("managedAt", managedAt, "V", memory),
		source.Figure("managedSigma", managedSigma, "V", memory),
		source.Figure("modelShare", modelShare, "share", memory),
		source.Figure("modelVolts", modelVolts, "V", memory),
		source.Figure("mostConfidence", mostConfidence, "share", memory),
		source.Figure("mostPower", mostPower, "share", memory),
		source.Figure("namedFrom", namedFrom, "share", memory),
		source.Figure("noConverter", noConverter, "", memory),
		source.Table("nothingSeenIs", "sound worn cell damaged", memory, rowsOf(nothingSeenIs[:])...),
		source.Table("nothingSeenOf", "order fault", memory, textOf(nothingSeenOf)...),
		source.Figure("overAt", overAt, "V", memory),
		source.Figure("overnight", overnight, "min", source.Common("the cautious")),
		source.Figure("overSigma", overSigma, "V", memory),
		source.Figure("ownMethod", ownMethod, "", memory),
		source.Figure("perhapsAwake", perhapsAwake, "share", memory),
		source.Table("places", "share mΩ", memory, textOf(places)...),
		source.Figure("positiveShare", positiveShare, "share", memory),
		source.Figure("postHint", postHint, "", memory),
		source.Figure("probeSigma", probeSigma, "K", memory),
		source.Table("profileDensities", "% density", memory, profilesOf()...),
		source.Figure("quietDrop", quietDrop, "V", memory),
		source.Figure("quietFuse", quietFuse, "", memory),
		source.Figure("repeatedTests", repeatedTests, "", memory),
		source.Figure("reserveDigit", reserveDigit, "min", memory),
		source.Figure("reserveEdge", reserveEdge, "share", memory),
		source.Figure("reserveShare", reserveShare, "share", memory),
		source.Figure("reserveSigma", reserveSigma, "share", memory),
		source.Figure("reserveVolts", reserveVolts, "V", memory),
		source.Figure("restful", restful, "A", memory),
		source.Figure("restfulSigma", restfulSigma, "", memory),
		source.Figure("rightMisfits", rightMisfits, "share", memory),
		source.Figure("roomCelsius", roomCelsius, "°C", memory),
		source.Figure("rough", rough, "V", memory),
		source.Figure("roughSigma", roughSigma, "", memory),
		source.Figure("ruleConfidence", ruleConfidence, "share", memory),
		source.Figure("runsAt", runsAt, "V", memory),
		source.Figure("runsPerKelvin", runsPerKelvin, "V/K", memory),
		source.Figure("runsSigma", runsSigma, "V", memory),
		source.Figure("settleSeconds", settleSeconds, "s", memory),
		source.Figure("shortedShare", shortedShare, "share", memory),
		source.Figure("shortedShows", shortedShows, "share", memory),
		source.Figure("sideGood", sideGood, "mΩ", memory),
		source.Figure("sixCells", sixCells, "", memory),
		source.Figure("sixCellVolts", sixCellVolts, "V", memory),
		source.Figure("sleepingAt", sleepingAt, "V", memory),
		source.Figure("sleepingSigma", sleepingSigma, "V", memory),
		source.Figure("smallStarter", smallStarter, "share", memory),
		source.Figure("smooth", smooth, "V", memory),
		source.Figure("smoothSigma", smoothSigma, "", memory),
		source.Table("soundCapacity", "share density", memory, knotsOf(soundCapacity)...),
		source.Figure("soundEdges", soundEdges, "share", memory),
		source.Table("soundHealth", "share density", memory, knotsOf(soundHealth)...),
		source.Figure("spoiltShare", spoiltShare, "share", memory),
		source.Codes("springOdds", "odds", memory, springOdds),
		source.Figure("starterSpread", starterSpread, "share", memory),
		source.Figure("strangeShare", strangeShare, "share", memory),
		source.Figure("strictShare", strictShare, "share", memory),
		source.Figure("studBad", studBad, "mΩ", memory),
		source.Figure("studBadSigma", studBadSigma, "", memory),
		source.Figure("studOrder", studOrder, "mΩ", memory),
		source.Figure("studSigma", studSigma, "", memory),
		source.Figure("sureFrom", sureFrom, "share", memory),
		source.Figure("suspectFrom", suspectFrom, "share", memory),
		source.Codes("symptomPriors", "cause share", triage, symptomPriors),
		source.Table("testerEdges", "share", memory, rowsOf(testerEdges)...),
		source.Figure("testerSigma", testerSigma, "share", memory),
		source.Codes("tests", "min min", memory, tests),
		source.Codes("toldCause", "cause odds", memory, toldCause),
		source.Codes("toldClass", "sound worn cell damaged", memory, toldClass),
		source.Codes("toldSays", "order fault", memory, toldSays),
		source.Figure("turnsAtAll", turnsAtAll, "V", memory),
		source.Figure("turnsSigma", turnsSigma, "V", memory),
		source.Figure("turnsWell", turnsWell, "V", memory),
		source.Figure("turnsWellSigma", turnsWellSigma, "V", memory),
		source.Figure("unbittenReads", unbittenReads, "share", memory),
		source.Figure("unbittenShare", unbittenShare, "share", memory),
		source.Figure("unbittenWide", unbittenWide, "share", memory),
		source.Figure("unknownWide", unknownWide, "", memory),
		source.Figure("unlikely", unlikely, "share", memory),
		source.Figure("unsaidAmps", unsaidAmps, "share", memory),
		source.Figure("unsaidRest", unsaidRest, "share", memory),
		source.Table("usualClass", "sound worn cell damaged", memory, rowsOf(usualClass[:])...),
		source.Figure("usualDropAmps", usualDropAmps, "A", memory),
		source.Figure("usualShare", usualShare, "share", memory),
		source.Figure("dieselLeast", dieselLeast, "A", source.Common("diesel 250 to 600 A")),
		source.Figure("smallDiesel", smallDiesel, "l", source.Recalled("")),
		source.Figure("largeDiesel", largeDiesel, "l", source.Recalled("")),
		source.Figure("usualStarter", usualStarter, "share", memory),
		source.Figure("waitShare", waitShare, "", memory),
		source.Figure("weakAt", weakAt, "V", memory),
		source.Figure("weakCell", weakCell, "share", memory),
		source.Figure("weakShare", weakShare, "share", memory),
		source.Figure("weakSigma", weakSigma, "V", memory),
		source.Figure("wildShare", wildShare, "share", memory),
		source.Codes("winterOdds", "odds", memory, winterOdds),
		source.Table("wornCapacity", "share density", memory, knotsOf(wornCapacity)...),
		source.Table("wornHealth", "share density", memory, knotsOf(wornHealth)...),
		source.Figure("wrongFits", wrongFits, "share", memory),
		source.Figure("zoneSigma", zoneSigma, "%", memory),
	)
}

func rowsOf(list []float64) []string { return []string{source.Row("", list...)} }

func knotsOf(list []knot) []string {
	rows := make([]string, len(list))
	for i, k := range list {
		rows[i] = source.Row("", k.at, k.density)
	}
	return rows
}

func profilesOf() []string {
	var rows []string
	for _, knots := range profileDensities {
		rows = append(rows, strings.Join(knotsOf(knots), ", "))
	}
	return rows
}

// textOf writes a table of figures row by row, as it stands.
func textOf(table any) []string {
	return []string{strings.NewReplacer("[", "", "]", "", "{", "", "}", "", "map", "").Replace(fmt.Sprint(table))}
}

func lastDigits() []string {
	rows := make([]string, 0, len(figures))
	for kind, f := range figures {
		rows = append(rows, source.Row(string(kind), f.step))
	}
	slices.Sort(rows)
	return rows
}
