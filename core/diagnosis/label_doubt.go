package diagnosis

import (
	"grapnel/core/wording"
)

// A label's rating and a thermometer are readings too, and may be wrong. Where two methods
// agree on a power that no battery of this label has, or its amperes do not go with its
// ampere-hours, the rating is the likelier error. Values from memory.
const (
	// mostOfLabel is the power, as a share of its label's, that a new battery hardly has.
	mostOfLabel = 1.15
	// leastRate and mostRate bound the SAE amperes for each ampere-hour of starting
	// batteries; those of six volts have thick plates, and leastRateSix.
	leastRate    = 5.0
	leastRateSix = 3.0
	mostRate     = 22.0
)

// labelDoubt says that the label's rating does not fit what the battery does; false where it
// does, as far as is known.
func (e *Engine) labelDoubt(f *facts) (wording.Statement, bool) {
	label := f.ev.Case.Label
	if label.Rating == nil || f.ev.Case.DeepCycle() {
		return wording.Statement{}, false
	}
	sae := float64(label.Rating.SAE().SAE)
	if m := e.methods(f.ev); m.Load != nil && m.Conductance != nil && m.Load.Low > mostOfLabel*within && m.Load.Share > mostOfLabel && m.Conductance.Share > mostOfLabel {
		return f.say("because.rating_low", wording.Values{
			"rating": label.Rating.Value, "standard": string(label.Rating.Standard), "load": 100 * m.Load.Share, "tester": 100 * m.Conductance.Share,
		}, f.places(m.Load.Reading, m.Conductance.Reading)...), true
	}
	if label.CapacityAh == nil {
		return wording.Statement{}, false
	}
	least := leastRate
	if label.NominalV == 6 {
		least = leastRateSix
	}
	if rate := sae / float64(*label.CapacityAh); rate < least || rate > mostRate {
		return wording.Say("because.rating_odd", wording.Values{
			"rating": label.Rating.Value, "standard": string(label.Rating.Standard), "ah": *label.CapacityAh,
		}), true
	}
	return wording.Statement{}, false
}

// within is how far a load's own band may reach under that power.
const within = 0.9

// places are the places of some readings in the case.
func (f *facts) places(refs ...wording.Ref) []int {
	var list []int
	for i := range f.ev.Case.Readings {
		for _, ref := range refs {
			if f.ev.Case.Ref(i) == ref {
				list = append(list, i)
			}
		}
	}
	return list
}
