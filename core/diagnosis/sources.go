package diagnosis

import "grapnel/core/source"

// Sources lists every figure of this package: coarse weights, all from memory,
// until the engine takes their place.
func Sources() []source.Entry {
	memory := source.Recalled("coarse, until the engine computes it")
	return source.In("diagnosis",
		source.Table("prior", "sound worn cell damaged", memory, source.Row("", prior[:]...)),
		source.Codes("likelihoods", "sound worn cell damaged", memory, likelihoods),
		source.Codes("findingOdds", "sound worn cell damaged", memory, findingOdds),
		source.Codes("findingHints", "cause share", memory, findingHints),
		source.Codes("findingDenials", "cause share", memory, findingDenials),
		source.Codes("symptomHints", "cause share", source.Common("triage; figures from memory"), symptomHints),
		source.Codes("flatHints", "cause share", memory, flatHints),
		source.Codes("corrosionHints", "cause", source.Common("contested: a hint that asks for a charging voltage"), corrosionHints),
		source.Figure("corrosionHint", corrosionHint, "share", memory),
		source.Figure("lookHint", lookHint, "share", memory),
		source.Figure("lightHint", lightHint, "share", memory),
		source.Figure("wrongHint", wrongHint, "share", memory),
		source.Figure("leastShown", leastShown, "share", memory),
		source.Figure("ruleConfidence", ruleConfidence, "share", memory),
		source.Codes("tests", "min sensitivity specificity", source.Common("minutes; the rest from memory"), tests),
	)
}
