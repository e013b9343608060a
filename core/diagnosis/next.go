package diagnosis

import (
	"cmp"
	"slices"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// step is a test that may be taken now: its name, the one whose outcome it is
// worth, and the values of its text.
type step struct {
	name   string
	text   string
	worth  string
	values wording.Values
	// behind is what follows before anything is settled: a load after a charge.
	behind float64
	// first is its place before what is only worth its minutes: what the verdict
	// asks for, then, once the battery has answered, the vehicle.
	first int
}

func simple(name string) step { return step{name: name, text: name, worth: name} }

// next lists the tests worth taking: what the verdict asks for, then the most
// certainty for its minutes. A test that a stop rule forbids, that the shop has
// no tool for, or that could prove nothing now is not in the list. Once the
// battery has answered, what is worth knowing is elsewhere: the vehicle's tests
// come first.
func (w *weighing) next(b *belief, action Action) []Next {
	if action == StopUnsafe {
		return []Next{clearStop()}
	}
	steps := w.facts.possibleSteps(action, b.sure())
	place(steps, action)
	return ranked(w.rate(b, steps))
}

// clearStop is all that is next while a stop rule holds.
func clearStop() Next {
	minutes := tests["clear_stop"].minutes
	return Next{Test: "clear_stop", Minutes: minutes, Text: wording.Say("next.clear_stop", nil), Why: wording.Say("why.stop", nil)}
}

// possibleSteps are the steps that are open now: what has to come before a test, what
// settles it on the battery where it can, what is to be looked for on the vehicle.
func (f *facts) possibleSteps(action Action, sure bool) []step {
	steps := f.prepare()
	if f.decidable() {
		for _, s := range f.decisive() {
			if action == MoreTests {
				s.first = 1 // the battery is asked before the customer
			}
			steps = append(steps, s)
		}
	}
	for _, s := range f.onTheVehicle(action, sure) {
		if action == LookElsewhere {
			s.first = 1
		}
		steps = append(steps, s)
	}
	return steps
}

// place puts forward what stands in front of whatever it settles.
func place(steps []step, action Action) {
	for i := range steps {
		switch {
		case steps[i].name == "rating":
			steps[i].first = 3 // a glance at the label, and everything after needs it
		case wanted[action] != "" && steps[i].name == wanted[action]:
			steps[i].first = 2 // what runs by itself is begun first: hands are free meanwhile
		}
	}
}

// rated is a step with what it would settle, in all and for its minutes.
type rated struct {
	Next
	settled settled
	rate    float64
	first   int
}

// rate finds what each step would settle, and leaves out what the battery has answered.
func (w *weighing) rate(b *belief, steps []step) []rated {
	list := make([]rated, 0, len(steps))
	known := map[string]settled{}
	for _, s := range steps {
		got, ok := known[s.worth]
		if !ok {
			got = w.expects(b, s.worth)
			known[s.worth] = got
		}
		if got.bits < leastBits && slices.Contains(settling, s.worth) {
			continue
		}
		t := tests[s.name]
		rate := got.bits / (t.cost() + s.behind)
		if s.name == "load" {
			// Every school of this list tests by load: where another test settles
			// hardly more for its minutes, its own method goes first.
			rate *= ownMethod
		}
		text := wording.Say("next."+s.text, s.values)
		list = append(list, rated{
			Next:    Next{Test: s.name, Minutes: t.minutes, Wait: t.wait, Gain: thousandths(got.bits), Text: text},
			settled: got, rate: rate, first: s.first,
		})
	}
	return list
}

// ranked puts the steps in the order they are offered in, each with why.
func ranked(list []rated) []Next {
	slices.SortStableFunc(list, func(a, b rated) int {
		return cmp.Or(cmp.Compare(b.first, a.first), cmp.Compare(b.rate, a.rate))
	})
	out := make([]Next, 0, len(list))
	for i, r := range list {
		r.Why = whyThis(r.Test, r.settled, i == 0)
		out = append(out, r.Next)
	}
	return out
}

// settling are tests that are taken for what they settle and nothing else;
// leastBits is the least they have to.
var settling = []string{"conductance", "case_leak", "starter_draw"}

const leastBits = 0.0005

// ownMethod is how far a school's own test is preferred. Value from memory.
const ownMethod = 1.3

// wanted is the test an action itself asks for.
var wanted = map[Action]string{ChargeAndRetest: "charge", CleanAndRetest: "clean"}

// decidable reports whether a load or conductance test would prove something.
func (f *facts) decidable() bool {
	return f.ev.Last().Charged() && len(f.spoilt) == 0
}

// prepare lists what has to come before a test can decide.
func (f *facts) prepare() []step {
	var list []step
	last, load := f.ev.Last(), tests["load"].cost()
	before := func(name string) { list = append(list, step{name: name, text: name, worth: "load", behind: load}) }
	if _, ok := f.ev.Case.LoadTarget(); !ok {
		before("rating")
	}
	if last.Dry >= 0 {
		before("top_up")
	}
	if len(f.spoilt) > 0 || len(f.beyond) > 0 {
		before("clean")
	}
	switch {
	case last.Low() && !last.Charged():
		if f.ev.Case.HasTool("charger") {
			list = append(list, step{name: "charge", text: "charge", worth: "load", behind: load, values: f.planValues()})
		}
		if f.ev.Case.HasTool("pile") && len(f.loadPass) == 0 && len(f.unproven) == 0 {
			// A pass counts at any charge; a fail would have to be repeated.
			list = append(list, step{name: "load", text: "load_anyway", worth: "load_anyway", values: f.planValues()})
		}
	case last.Charge == nil || last.Charge.EyeOnly:
		if last.AtMost != nil {
			list = append(list, simple("rest"))
		} else {
			list = append(list, simple("open_circuit"))
		}
	}
	if last.TestTemperature() == nil && len(f.ev.Epochs) > 0 && f.decidable() && len(f.loadPass) == 0 {
		list = append(list, simple("temperature"))
	}
	if !f.has(reading.Look) {
		list = append(list, simple("look"))
	}
	return list
}

// decisive lists the tests that settle it on a charged battery.
func (f *facts) decisive() []step {
	var list []step
	for _, one := range []struct {
		name  string
		wants bool
	}{{"load", f.wantsLoad()}, {"conductance", f.wantsConductance()}, {"gravity", f.wantsGravity()}, {"equalise", f.wantsEqualising()}} {
		if one.wants {
			list = append(list, step{name: one.name, text: one.name, worth: one.name, values: f.planValues()})
		}
	}
	if f.wantsReserve() {
		list = append(list, f.towardsReserve()...)
	}
	return list
}

// unsettled reports tests that contradict each other, or a fail that is too close.
func (f *facts) unsettled() bool { return f.disagreement() || f.doubtful() }

func (f *facts) wantsLoad() bool {
	_, rated := f.ev.Case.LoadTarget()
	pile := f.ev.Case.HasTool("pile") || f.ev.School.Starter
	return rated && pile && (len(f.loadPass)+len(f.loadFail) == 0 || f.unsettled())
}

func (f *facts) wantsConductance() bool {
	untested := len(f.condPass)+len(f.condFail)+len(f.condWeak) == 0
	return f.ev.Case.Label.Rating != nil && f.ev.Case.HasTool("conductance") && (untested || f.unsettled())
}

func (f *facts) wantsGravity() bool {
	return f.ev.Case.Label.Opens() && f.ev.Case.HasTool("hydrometer") && !f.has(reading.Gravity)
}

func (f *facts) wantsEqualising() bool {
	return f.uneven() && f.ev.Case.Label.Opens() && f.ev.Case.Label.Chemistry == battery.Flooded
}

func (f *facts) wantsReserve() bool {
	_, known := f.ev.Case.Capacity()
	return known && f.passed() && (f.emptied() || f.complaint()) && !f.has(reading.Reserve)
}

// towardsReserve is the reserve check, or the charge it begins from.
func (f *facts) towardsReserve() []step {
	if full := f.ev.Last(); full.Charge.Percent >= school.FullPercent || full.AfterCharge && !full.Unproven {
		return []step{{name: "reserve", text: "reserve", worth: "reserve", values: f.planValues()}}
	}
	if f.ev.Case.HasTool("charger") {
		return []step{{name: "charge", text: "charge_for_reserve", worth: "reserve", behind: tests["reserve"].cost()}}
	}
	return nil
}

func (f *facts) uneven() bool {
	for _, finding := range f.standing {
		if finding.Code() == evidence.GravityUneven || finding.Code() == evidence.GravityApart {
			return true
		}
	}
	return false
}

// emptied reports a battery that ran flat, or is said to again and again.
func (f *facts) emptied() bool {
	return f.arrivedLow >= 0 || slices.Contains(f.ev.Case.Symptoms, "dies_again")
}

// onTheVehicle lists where to look for what flattened or stopped a battery, and
// has not been looked at.
func (f *facts) onTheVehicle(action Action, sure bool) []step {
	if found := f.putRight(action); found != nil && sure {
		return found
	}
	var list []step
	add := func(kind reading.Kind) {
		if !f.proved(kind) {
			list = append(list, simple(string(kind)))
		}
	}
	if f.ev.Case.Vehicle.Electric() {
		add(reading.DCDC)
	} else if f.ev.Case.Vehicle.Kind != "none" {
		add(reading.ChargingSystem)
	}
	if f.emptied() {
		if f.ev.Case.HasTool("clamp") || f.ev.Case.HasTool("meter") {
			add(reading.Drain)
		}
		if !f.told(reading.TripsWeek) && !f.told(reading.LeftOnH) {
			list = append(list, simple("trips"))
		}
		add(reading.CaseLeak)
	}
	if f.cranksBadly() && !f.ev.Case.Vehicle.Electric() {
		if !f.has(reading.Crank) {
			list = append(list, simple("crank"))
		}
		add(reading.Drop)
		if f.ev.Case.HasTool("clamp") {
			add(reading.StarterDraw)
		}
	}
	return list
}

// putRight is what follows once the battery has answered and the vehicle's
// readings have found a fault: a drain is followed fuse by fuse, anything else
// put right and measured again.
func (f *facts) putRight(action Action) []step {
	faults := f.vehicleFaults()
	if len(faults) == 0 || action != LookElsewhere {
		return nil
	}
	follow := func(name string) []step { return []step{{name: name, text: name, worth: name}} }
	drain := false
	for _, i := range faults {
		switch f.ev.Findings[i].Code() {
		case evidence.DrainHigh:
			drain = true
		case evidence.DrainHighFuse:
			return follow("repair")
		}
	}
	if drain {
		return follow("fuses")
	}
	return follow("repair")
}

// crankSymptoms are complaints about the starting itself.
var crankSymptoms = []string{"silent", "lights_no_crank", "single_click", "rapid_click", "slow_crank", "cranks_no_start", "cold_only"}

func (f *facts) cranksBadly() bool {
	return slices.ContainsFunc(f.ev.Case.Symptoms, func(s string) bool { return slices.Contains(crankSymptoms, s) })
}

// proved reports a reading of a kind that counts.
func (f *facts) proved(kind reading.Kind) bool {
	return slices.ContainsFunc(f.standing, func(finding evidence.Finding) bool { return finding.Kind == kind && finding.Valid })
}

func (f *facts) told(id reading.Number) bool {
	return slices.ContainsFunc(f.ev.Case.Readings, func(r evidence.Taken) bool { return r.Has(id) })
}

func (f *facts) has(kind reading.Kind) bool {
	for _, r := range f.ev.Case.Readings {
		if r.Kind == kind {
			return true
		}
	}
	return false
}
