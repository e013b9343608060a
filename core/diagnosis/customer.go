package diagnosis

import (
	"maps"
	"math"

	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/wording"
)

// teller puts the sentences of the customer's paragraph together.
type teller struct {
	*decision
	said []wording.Statement
}

func (t *teller) say(code string, values wording.Values, readings ...int) {
	t.said = append(t.said, t.facts.say("customer."+code, values, readings...))
}

// retell says something of a reading with the figures its finding has.
func (t *teller) retell(code string, i int) {
	t.say(code, maps.Clone(t.facts.ev.Findings[i].Text.Values), i)
}

// tell answers the customer who asks why it should be replaced, or why not, with
// what was measured, against what, what it means and what is not known.
func (d *decision) tell() (question wording.Statement, answer []wording.Statement) {
	t := teller{decision: d}
	question = wording.Say("customer.why_not", nil)
	switch d.verdict.Action {
	case StopUnsafe:
		t.unsafe()
	case Replace:
		question = wording.Say("customer.why", nil)
		t.replace()
	case CleanAndRetest:
		t.clean()
	case ChargeAndRetest:
		t.charge()
	case LookElsewhere:
		t.passed()
		t.elsewhere()
	case Keep:
		t.passed()
		t.age()
	default:
		t.notYet()
	}
	return question, t.said
}

func (t *teller) unsafe() {
	for _, s := range t.facts.stops {
		if s.Frost == nil {
			t.said = append(t.said, t.facts.ev.Findings[s.Places()[0]].Text)
		}
	}
	t.say("unsafe", nil)
}

// replace names what condemns it, that it was charged, whether a second method
// agrees, how sure that is, and what of the vehicle would spoil the next one.
func (t *teller) replace() {
	f := t.facts
	for _, i := range f.loadFail {
		t.retell(withoutTemperature("load_failed", f.ev.Findings[i]), i)
	}
	for _, i := range f.condFail {
		t.retell("tester_failed", i)
	}
	for _, i := range present(f.apart) {
		t.say("cell_apart", nil, i)
	}
	for _, i := range present(f.reserveFail, f.reserveShort) {
		t.say("reserve_failed", nil, i)
	}
	if i := f.deadAfterCharge; i >= 0 {
		r := &f.ev.Case.Readings[i].Reading
		t.say("stays_down", wording.Values{"volts": r.Volts(), "full": f.ev.Case.Label.VoltsFromCharge(fullPercent)}, i)
	} else if epoch := f.ev.EpochOf(t.basis()); epoch.Charge != nil {
		t.say("was_charged", wording.Values{"percent": epoch.Charge.Percent}, epoch.Charge.Readings...)
	}
	switch {
	case len(f.loadFail) > 0 && len(f.condFail) > 0:
		t.say("two_agree", nil)
	case len(f.loadFail)+len(f.condFail) > 0:
		t.say("one_method", nil)
	}
	t.say("odds_bad", wording.Values{"count": ofHundred(1 - t.condition.Sound)})
	t.vehicleToo()
}

// basis is the reading the replacement rests on first.
func (t *teller) basis() int {
	f := t.facts
	for _, list := range [][]int{f.loadFail, f.condFail, present(f.apart), present(f.reserveFail), present(f.reserveShort)} {
		if len(list) > 0 {
			return list[0]
		}
	}
	return len(f.ev.Findings) - 1
}

// withoutTemperature picks the sentence for a limit that holds at no known
// temperature.
func withoutTemperature(code string, f evidence.Finding) string {
	if f.Limit == nil || f.Limit.AtC == nil {
		return code + "_any"
	}
	return code
}

// vehicleToo warns of a fault of the vehicle that the next battery would meet.
func (t *teller) vehicleToo() {
	for _, l := range t.likely {
		if m := hypotheses[l.hypothesis]; m.factor != noFactor && l.p >= namedFrom {
			t.say("vehicle_too", wording.Values{"cause": m.code, "count": ofHundred(l.p)})
			return
		}
	}
}

func (t *teller) clean() {
	f := t.facts
	for _, i := range f.beyond {
		t.said = append(t.said, f.ev.Findings[i].Text)
	}
	if len(f.beyond) == 0 {
		for _, i := range f.spoilt {
			r := &f.ev.Case.Readings[i].Reading
			t.say("joint_seen", wording.Values{"finding": r.Choice(reading.Finding), "where": r.Choice(reading.Where)}, i)
		}
	}
	t.say("clean_first", nil)
}

// charge says how many sound batteries fail at this charge, and how often a new
// one would be money for nothing.
func (t *teller) charge() {
	f, last := t.facts, t.facts.ev.Last()
	switch {
	case !last.Low():
	case last.Charge != nil:
		t.say("low", wording.Values{"percent": last.Charge.Percent}, last.Charge.Readings...)
	case last.AtMost != nil:
		t.say("low_at_most", wording.Values{"percent": last.AtMost.Percent}, last.AtMostReading)
	}
	if f.disagreement() {
		t.say("contradict", nil, append(f.fails(), f.loadPass...)...)
	}
	if len(f.unproven) > 0 {
		if last.Low() && t.battery.design.RatingKnown {
			t.say(
				"sound_fail",
				wording.Values{"count": ofHundred(t.soundFail(t.percentNow())), "full": ofHundred(t.soundFail(fullPercent))},
				f.unproven...)
		} else {
			t.say("unproven", nil, f.unproven...)
		}
	}
	t.say("odds_sound", wording.Values{"count": ofHundred(t.condition.Sound)})
	t.say("charge_first", nil)
}

// soundFail is the share of sound batteries of this label that a load test at a
// charge fails.
func (t *teller) soundFail(percent float64) float64 {
	o, failed, all := t.ofLoad(percent), 0.0, 0.0
	for p := range t.engine.points {
		pt := &t.engine.points[p]
		if pt.class != sound {
			continue
		}
		all += pt.weight
		for v, edge := range loadEdges {
			if edge <= 0 {
				failed += pt.weight * o.byPoint[p][v]
			}
		}
	}
	return failed / all
}

func (t *teller) passed() {
	f := t.facts
	for _, i := range f.loadPass {
		t.retell(withoutTemperature("load_passed", f.ev.Findings[i]), i)
	}
	for _, i := range append(append([]int{}, f.condPass...), f.condWeak...) {
		t.retell("tester_passed", i)
	}
	t.say("odds_good", wording.Values{"count": ofHundred(t.condition.Sound)})
	if !f.has(reading.Reserve) {
		t.say("capacity_unknown", nil)
	}
}

// elsewhere names what is likelier than the battery.
func (t *teller) elsewhere() {
	f := t.facts
	if i := f.arrivedLow; i >= 0 {
		t.say("was_flat", nil, i)
	}
	if code, p := t.belief.elsewhere(false); p >= namedFrom && code != "discharged_sound" {
		t.say("likely_cause", wording.Values{"cause": code, "count": ofHundred(p)})
	} else {
		t.say("find_cause", nil)
	}
	t.say("new_one_too", nil)
}

func (t *teller) age() {
	if years, known := t.facts.ev.Case.YearsOld(); known && years >= 1 {
		t.say("age", wording.Values{"years": math.Round(years)})
	}
}

func (t *teller) notYet() {
	t.say("not_yet", nil)
	if w := t.next(&t.belief, t.verdict.Action); len(w) > 0 {
		t.said = append(t.said, wording.Say("customer.next", wording.Values{"step": w[0].Text.Text, "minutes": quantity.Minutes(w[0].Minutes)}))
	}
	t.say("odds_sound", wording.Values{"count": ofHundred(t.condition.Sound)})
}

// ofHundred is a share as a count of a hundred; nothing is certain.
func ofHundred(share float64) float64 { return math.Min(math.Max(math.Round(100*share), 1), 99) }
