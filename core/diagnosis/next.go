package diagnosis

import (
	"cmp"
	"slices"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
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
	steps := w.facts.possibleSteps(action, w.facts.sure(b))
	place(steps, action, w.facts.hangsOnTemperature())
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
		if action == LookElsewhere || f.drawnSince >= 0 && s.name == string(reading.Drain) {
			s.first = 1
		}
		steps = append(steps, s)
	}
	return once(steps)
}

// once keeps the first of several steps of one name.
func once(steps []step) []step {
	var list []step
	for _, s := range steps {
		if !slices.ContainsFunc(list, func(had step) bool { return had.name == s.name }) {
			list = append(list, s)
		}
	}
	return list
}

// place puts forward what stands in front of whatever it settles.
func place(steps []step, action Action, hangs bool) {
	for i := range steps {
		switch {
		case steps[i].name == "top_up":
			steps[i].first = 4 // nothing is measured and nothing charged over bare plates
		case steps[i].name == "rating" || steps[i].name == "cranks_12v":
			steps[i].first = 3 // a glance at the label, and everything after needs it
		case steps[i].name == "temperature" && hangs, steps[i].name == "warm":
			steps[i].first = 3 // what is measured already hangs on it
		case steps[i].name == "repair" || steps[i].name == "fuses":
			steps[i].first = 2
		case wanted[action] != "" && steps[i].name == wanted[action]:
			steps[i].first = 2 // what runs by itself is begun first: hands are free meanwhile
		}
	}
}

// hangsOnTemperature reports a test that counts or not by a temperature nobody took.
func (f *facts) hangsOnTemperature() bool {
	if f.ev.Last().Hangs {
		return true
	}
	return slices.ContainsFunc(f.ev.Findings, func(finding evidence.Finding) bool {
		return finding.Code() == evidence.LoadTemperatureUnknown && finding.Index() >= f.ev.Last().First
	})
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
			Next: Next{
				Test: s.name, Minutes: t.minutes, Wait: t.wait, Gain: thousandths(got.bits), Finds: thousandths(b.finds(s.worth)), Text: text,
			},
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
	last := f.ev.Last()
	return last.Charged() && len(f.spoilt) == 0 && last.Dry < 0 && !f.tooCold()
}

// tooCold reports a battery colder than any load is judged at.
func (f *facts) tooCold() bool {
	t := f.ev.Last().TestTemperature()
	return t != nil && *t < school.ColdestTest
}

// onVehicle reports a battery with a vehicle around it, as far as is known.
func (f *facts) onVehicle() bool { return f.ev.Case.Vehicle.Kind != "none" }

func (f *facts) hasTool(tool string) bool { return f.ev.Case.HasTool(tool) }

// prepare lists what has to come before a test can decide.
func (f *facts) prepare() []step {
	var list []step
	last := f.ev.Last()
	if _, ok := f.ev.Case.LoadTarget(); !ok && !f.ev.Case.DeepCycle() {
		list = append(list, f.before("rating", "rating"))
	}
	if f.labelDoubted {
		list = append(list, f.before("rating", "rating_again"))
	}
	if last.Dry >= 0 {
		list = append(list, f.before("top_up", "top_up"))
	}
	if text, dirty := f.cleaning(); dirty {
		list = append(list, f.before("clean", text))
	}
	list = append(list, f.towardsCharge()...)
	if f.tooCold() {
		list = append(list, f.before("warm", "warm"))
	}
	wants := last.TestTemperature() == nil && len(f.ev.Epochs) > 0 && (f.decidable() && len(f.loadPass) == 0 || last.Hangs)
	if wants {
		list = append(list, simple("temperature"))
	}
	if f.asksCranks() {
		list = append(list, simple("cranks_12v"))
	}
	if !f.has(reading.Look) {
		list = append(list, simple("look"))
	}
	return list
}

// before is a step that stands in front of a load test, worth what the load will be.
func (f *facts) before(name, text string) step {
	return step{name: name, text: text, worth: "load", behind: tests["load"].cost(), values: f.planValues()}
}

// asksCranks reports a hybrid of which nobody said whether its 12 V battery turns the
// engine, where that matters.
func (f *facts) asksCranks() bool {
	v := f.ev.Case.Vehicle
	if v.Kind != "hybrid" || v.Cranks12V != nil {
		return false
	}
	return f.cranksBadly() || f.has(reading.Crank) || f.has(reading.StarterDraw)
}

// cleaning is what to do about what is dirty, loose or drops too much: each has words of its
// own.
func (f *facts) cleaning() (text string, wanted bool) {
	top, cable, joint := false, false, len(f.spoilt) > 0
	for _, i := range f.beyond {
		r := &f.ev.Case.Readings[i].Reading
		switch where := r.Choice(reading.Where); {
		case r.Kind == reading.CaseLeak:
			top = true
		case slices.Contains(cables, where):
			cable = true
		default:
			joint = true
		}
	}
	switch {
	case joint:
		return "clean", true
	case cable:
		return "clean_cable", true
	case top:
		return "clean_top", true
	}
	return "", false
}

// cables are the places of a drop that are no joint: what is wrong there is replaced, not
// cleaned.
var cables = []string{"positive_cable", "negative_cable", "ground_strap", "charge_positive", "charge_negative"}

// towardsCharge is how to come to a charge at which a test decides: read it, rest it or
// charge it.
func (f *facts) towardsCharge() []step {
	last := f.ev.Last()
	switch {
	case f.onCharger() != "":
		return f.offCharger()
	case last.Contradiction.Unsettled():
		return f.settling(last.Contradiction.Code)
	case last.Dry >= 0, last.Low() && !last.Charged():
		return f.charging()
	case f.unsettled() && !last.AfterCharge && last.Charge != nil && f.hasTool("charger"):
		// Methods that contradict each other, or the rest, are repeated on a full battery.
		return []step{f.before("charge", "charge_settle")}
	case last.Charge == nil || last.Charge.EyeOnly:
		if !f.hasTool("meter") {
			return nil
		}
		if last.AtMost != nil || last.AfterCharge {
			return []step{f.rest()}
		}
		return []step{simple("open_circuit")}
	}
	return nil
}

// charging is the charge, and what may be tried without one.
func (f *facts) charging() []step {
	var list []step
	last := f.ev.Last()
	if f.hasTool("charger") {
		list = append(list, f.before("charge", f.chargeText()))
	}
	if last.Dry < 0 && !last.Drawn && !f.ev.Case.DeepCycle() && len(f.loadPass) == 0 && len(f.unproven) == 0 && !f.tooCold() && f.loader() == "pile" && !f.deeplyFlat() {
		// A pass counts at any charge; a fail would have to be repeated.
		list = append(list, step{name: "load", text: "load_anyway", worth: "load_anyway", values: f.planValues()})
	}
	return list
}

// chargeText picks the words for a battery that a charger may not take to at once, and for
// one without a figure to hold.
func (f *facts) chargeText() string {
	last := f.ev.Last()
	switch _, rated := f.ev.Case.LoadTarget(); {
	case last.Dry >= 0:
		return "charge_watered"
	case f.stoodFlat():
		return "charge_sulphated"
	case f.deeplyFlat() && f.ev.Case.Label.Closed():
		return "charge_sealed"
	case f.deeplyFlat():
		return "charge_deep"
	case !rated:
		return "charge_plain"
	}
	return "charge"
}

// stoodFlat reports a battery that stood discharged for long: sulphated, and it may come back.
func (f *facts) stoodFlat() bool {
	last := f.ev.Last()
	long := slices.Contains(f.ev.Case.Symptoms, "flat_after_storage")
	for _, finding := range f.standing {
		long = long || slices.Contains(finding.Codes(), evidence.HistoryStandingLong)
	}
	return long && last.OpenCircuit != nil && f.ev.Case.Label.PerTwelve(*last.OpenCircuit) < school.DeadVolts
}

// deeplyFlat reports a battery drawn so far down that it takes its time.
func (f *facts) deeplyFlat() bool {
	last := f.ev.Last()
	if last.OpenCircuit != nil {
		return f.ev.Case.Label.PerTwelve(*last.OpenCircuit) < deepFrom
	}
	return last.AtMost != nil && last.AtMost.Percent == 0
}

// deepFrom is the volts, six cells, under which a battery is drawn below flat. Value from
// memory.
const deepFrom quantity.Volts = 11.0

// rest takes the surface charge off, by what is at hand.
func (f *facts) rest() step {
	s := simple("rest")
	if !f.onVehicle() {
		s.text = "rest_bench"
	}
	return s
}

// onCharger is what the latest check of a charge found, where nothing was read since; empty
// for none.
func (f *facts) onCharger() evidence.Code {
	last := f.ev.Last()
	if last.End == 0 || last.End == last.First {
		return ""
	}
	for i := last.End - 1; i >= last.First; i-- {
		switch r := &f.ev.Case.Readings[i].Reading; r.Kind {
		case reading.ChargeLog:
			if code := f.ev.Findings[i].Code(); code == evidence.LogLow || r.Is(reading.ChargerFull) {
				return code
			}
			return ""
		case reading.OpenCircuit, reading.Gravity, reading.Load, reading.Conductance:
			return ""
		}
	}
	return ""
}

// offCharger follows a charge that is at its end, or that a shorted cell has ended: it is
// rested and read, not charged again.
func (f *facts) offCharger() []step {
	list := []step{f.rest()}
	list[0].first = 2
	if f.onCharger() == evidence.LogLow {
		list[0].text = "rest_shorted"
		if f.ev.Case.Label.MayOpen() && f.hasTool("hydrometer") && !f.has(reading.Gravity) {
			list = append(list, simple("gravity"))
		}
	}
	return list
}

// settling is what settles readings of a charge that contradict each other.
func (f *facts) settling(code evidence.Code) []step {
	again := step{name: "open_circuit", text: "open_circuit_again", worth: "open_circuit", first: 1}
	acid := step{name: "gravity", text: "gravity_again", worth: "gravity"}
	var list []step
	switch code {
	case evidence.ContradictVoltsHigh:
		s := f.rest()
		s.first = 1
		list = append(list, s, acid)
	case evidence.ContradictVoltsLow:
		list = append(list, again)
		if f.hasTool("charger") {
			list = append(list, step{name: "charge", text: "charge_contradicted", worth: "load", behind: tests["load"].cost()})
		}
		list = append(list, acid)
	default:
		list = append(list, again)
		if f.ev.Case.Label.Opens() {
			list = append(list, acid)
		}
	}
	return slices.DeleteFunc(list, func(s step) bool {
		return s.name == "gravity" && (!f.hasTool("hydrometer") || !f.ev.Case.Label.MayOpen()) || s.name != "gravity" && s.name != "charge" && !f.hasTool("meter")
	})
}

// decisive lists the tests that settle it on a charged battery.
func (f *facts) decisive() []step {
	var list []step
	if f.wantsLoad() {
		s := step{name: "load", text: loadTexts[f.loader()], worth: "load", values: f.planValues()}
		if f.contradictedTest(reading.Load) {
			s.text = "load_again"
		}
		list = append(list, s)
	}
	for _, one := range []struct {
		name  string
		wants bool
	}{{"conductance", f.wantsConductance()}, {"gravity", f.wantsGravity()}, {"equalise", f.wantsEqualising()}} {
		if one.wants {
			list = append(list, step{name: one.name, text: one.name, worth: one.name, values: f.planValues()})
		}
	}
	if f.wantsReserve() {
		list = append(list, f.towardsReserve()...)
	}
	return list
}

// loader is what there is to load the battery with: an adjustable pile, a fixed load, or the
// starter where the battery turns one; empty for nothing.
func (f *facts) loader() string {
	starter := f.ev.Case.Vehicle.Kind != "" && f.ev.Case.Vehicle.Cranks() && f.hasTool("meter")
	switch {
	case f.ev.School.Starter && f.ev.Case.Vehicle.Cranks() && f.hasTool("meter"):
		return "starter"
	case f.hasTool("pile"):
		return "pile"
	case f.hasTool("fixed_load"):
		return "fixed"
	case starter:
		return "starter"
	}
	return ""
}

// loadTexts say what each load proves.
var loadTexts = map[string]string{"pile": "load", "fixed": "load_fixed", "starter": "load_starter"}

// contradictedTest reports a test of a kind that another one contradicts.
func (f *facts) contradictedTest(kind reading.Kind) bool {
	return slices.ContainsFunc(f.ev.Findings, func(finding evidence.Finding) bool { return finding.Kind == kind && finding.Contradicted() })
}

// unsettled reports tests that contradict each other, or a fail that is too close.
func (f *facts) unsettled() bool {
	return f.disagreement() || f.doubtful() || f.contradictedTest(reading.Load) || f.contradictedTest(reading.Conductance)
}

func (f *facts) wantsLoad() bool {
	_, rated := f.ev.Case.LoadTarget()
	if f.loader() == "" || !rated && f.loader() != "starter" {
		return false
	}
	if f.ev.Case.DeepCycle() && f.ev.Case.Label.Rating == nil {
		return false
	}
	return len(f.loadPass)+len(f.loadFail) == 0 || f.unsettled()
}

func (f *facts) wantsConductance() bool {
	untested := len(f.condPass)+len(f.condFail)+len(f.condWeak) == 0
	return f.ev.Case.Label.Rating != nil && f.ev.Case.HasTool("conductance") && (untested || f.unsettled())
}

func (f *facts) wantsGravity() bool {
	asked := f.ev.Case.Label.Opens() || f.ev.Case.DeepCycle() && f.ev.Case.Label.MayOpen()
	return asked && f.hasTool("hydrometer") && !f.has(reading.Gravity)
}

func (f *facts) wantsEqualising() bool {
	return f.uneven() && f.ev.Case.Label.Opens() && f.ev.Case.Label.Chemistry == battery.Flooded && f.hasTool("charger")
}

func (f *facts) wantsReserve() bool {
	_, known := f.ev.Case.Capacity()
	if !known || !f.hasTool("meter") {
		return false
	}
	if f.ev.Case.DeepCycle() {
		return !f.has(reading.Reserve) || f.reservePass < 0 && f.reserveFail < 0
	}
	return f.passed() && (f.emptied() || f.complaint()) && !f.has(reading.Reserve)
}

// towardsReserve is the reserve check, or the charge it begins from.
func (f *facts) towardsReserve() []step {
	full := f.ev.Last()
	if full.Charge != nil && (full.Charge.Percent >= school.FullPercent || full.AfterCharge && !full.Unproven) {
		s := step{name: "reserve", text: "reserve", worth: "reserve", values: f.planValues()}
		if !f.onVehicle() {
			s.text = "reserve_bench"
		}
		return []step{s}
	}
	if f.hasTool("charger") && !f.wasCharged() {
		return []step{{name: "charge", text: "charge_for_reserve", worth: "reserve", behind: tests["reserve"].cost()}}
	}
	return nil
}

// wasCharged reports a battery that is on the charger, or just off it.
func (f *facts) wasCharged() bool { return f.onCharger() != "" }

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
	var list []step
	if sure {
		// What was found is put right first; another fault may stand beside it.
		list = f.putRight(action)
	}
	if !f.onVehicle() {
		return f.onTheBench()
	}
	add := func(kind reading.Kind, tools ...string) {
		able := len(tools) == 0 || slices.ContainsFunc(tools, f.hasTool)
		if able && !f.proved(kind) {
			list = append(list, f.inWords(kind))
		}
	}
	if f.ev.Case.Vehicle.Electric() {
		add(reading.DCDC, "meter")
	} else {
		add(reading.ChargingSystem, "meter")
	}
	if f.emptied() || f.drawnSince >= 0 {
		add(reading.Drain, "clamp", "meter")
		if !f.told(reading.TripsWeek) && !f.told(reading.LeftOnH) && f.drives() {
			list = append(list, simple("trips"))
		}
		add(reading.CaseLeak, "meter")
	}
	turns := f.ev.Case.Vehicle.Kind != "" && f.ev.Case.Vehicle.Cranks() && f.ev.Last().Dry < 0
	if turns && !f.crankedSince() && f.hasTool("meter") && (f.cranksBadly() || f.ev.Last().Charged()) {
		list = append(list, simple("crank"))
	}
	if f.ev.Case.Vehicle.Cranks() && f.ev.Last().Dry < 0 && (f.cranksBadly() || f.crankedBadly()) {
		add(reading.Drop, "meter")
		add(reading.StarterDraw, "clamp")
	}
	return list
}

// crankedSince reports a cranking of the charged battery, or of this one as it came.
func (f *facts) crankedSince() bool {
	from := 0
	if last := f.ev.Last(); last.AfterCharge && !f.cranksBadly() {
		from = last.First
	}
	for i := from; i < len(f.ev.Case.Readings); i++ {
		if f.ev.Case.Readings[i].Kind == reading.Crank {
			return true
		}
	}
	return false
}

// crankedBadly reports a cranking that was heard to be slow, or not to turn.
func (f *facts) crankedBadly() bool {
	return slices.ContainsFunc(f.standing, func(finding evidence.Finding) bool {
		return finding.Code() == evidence.CrankSlow || finding.Code() == evidence.CrankNothing || finding.Code() == evidence.CrankLow
	})
}

// drives reports a vehicle that is driven so often that its trips tell something.
func (f *facts) drives() bool {
	kind := f.ev.Case.Vehicle.Kind
	return kind != "mower" && kind != "tractor"
}

// inWords is a test of the vehicle in the words of this one.
func (f *facts) inWords(kind reading.Kind) step {
	s := simple(string(kind))
	switch {
	case kind == reading.Drain && f.ev.Case.Vehicle.Plain():
		s.text = "drain_plain"
	case kind == reading.ChargingSystem && f.ev.Case.Vehicle.Manages():
		s.text = "charging_managed"
	case kind == reading.ChargingSystem && f.ev.Case.Vehicle.Plain():
		s.text = "charging_raised"
	}
	return s
}

// onTheBench is what may have flattened a battery that stands by itself.
func (f *facts) onTheBench() []step {
	if f.emptied() && f.hasTool("meter") && !f.proved(reading.CaseLeak) {
		return []step{simple(string(reading.CaseLeak))}
	}
	return nil
}

// putRight is what follows once the battery has answered and the vehicle's
// readings have found a fault: a drain is followed fuse by fuse, anything else
// put right and measured again.
func (f *facts) putRight(action Action) []step {
	faults := f.vehicleFaults()
	if len(faults) == 0 || action != LookElsewhere {
		return nil
	}
	follow := func(name, text string) []step { return []step{{name: name, text: text, worth: name}} }
	drain := false
	for _, i := range faults {
		switch f.ev.Findings[i].Code() {
		case evidence.DrainHigh, evidence.DrainHighPlain:
			drain = true
		case evidence.DrainHighFuse:
			return follow("repair", "repair_circuit")
		}
	}
	if drain {
		return follow("fuses", "fuses")
	}
	for _, i := range faults {
		if text, ok := repairs[faultOf[f.ev.Findings[i].Code()]]; ok {
			return follow("repair", text)
		}
	}
	return follow("repair", "repair")
}

// repairs are the words for what is put right, by the fault that was found.
var repairs = map[string]string{
	"undercharging": "repair_charging", "overcharging": "repair_charging", "dcdc_fault": "repair_converter",
	"poor_connection": "repair_joint", "starter_drag": "repair_starter", "starter_dead": "repair_starter",
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
