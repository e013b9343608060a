package diagnosis

import (
	"math"
	"slices"

	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// judge walks the actions in their order of precedence and takes the first that
// applies. No probability can outvote it.
func judge(f *facts, b *belief, condition Condition, causes []likely) Verdict {
	v := Verdict{Because: []wording.Statement{}, WouldChange: []wording.Statement{}}
	for _, rule := range []func(*Verdict, *facts, Condition) bool{
		stopUnsafe, replace, cleanAndRetest, chargeAndRetest, lookElsewhere, keep, moreTests,
	} {
		if rule(&v, f, condition) {
			break
		}
	}
	v.Confidence = thousandths(math.Min(v.Confidence, mostConfidence))
	v.Cause = verdictCause(v.Action, f, b, causes)
	v.Because = append(v.Because, f.notTested()...)
	return v
}

// because adds reasons, each once.
func (v *Verdict) because(statements ...wording.Statement) {
	for _, s := range statements {
		said := slices.ContainsFunc(v.Because, func(b wording.Statement) bool { return b.Text == s.Text })
		if !said {
			v.Because = append(v.Because, s)
		}
	}
}

func (v *Verdict) change(code string, values wording.Values) {
	v.WouldChange = append(v.WouldChange, wording.Say(code, values))
}

// ruleConfidence is that of an action which rests on a rule and not on the
// condition, mostConfidence the most any action claims. Values from memory, held
// against the study.
const (
	ruleConfidence = 0.95
	mostConfidence = 0.99
)

func stopUnsafe(v *Verdict, f *facts, _ Condition) bool {
	if len(f.stops) == 0 {
		return false
	}
	v.Action, v.Confidence = StopUnsafe, ruleConfidence
	for _, s := range f.stops {
		if s.Frost == nil {
			v.because(f.ev.Findings[s.Places()[0]].Text)
		} else {
			v.because(wording.Say("because.frost", wording.Values{"freezes": s.Frost.Freezes, "coldest": s.Frost.Coldest}, s.Readings...))
		}
		v.because(s.Caution.Say(s.Readings...))
	}
	v.change("change.clear_stop", nil)
	return true
}

// replace needs a valid basis: a failed load or conductance test that counts,
// that nothing contradicts and that all readings together bear out, or volts that
// stay under 12.0 after a charge.
func replace(v *Verdict, f *facts, condition Condition) bool {
	valid := f.fails()
	if f.disagreement() || f.doubtful() || f.contradicted() && !f.rather {
		valid = nil
	}
	basis := append(present(f.deadAfterCharge), valid...)
	basis = append(basis, present(f.apart, f.reserveFail, f.condemned)...)
	if len(basis) == 0 && f.reserveShort < 0 {
		return false
	}
	if condition.Sound > evenOdds {
		return false // one reading demands it and the rest speaks against: that is settled first
	}
	v.Action, v.Confidence = Replace, 1-condition.Sound
	for _, i := range basis {
		v.because(f.ev.Findings[i].Text)
	}
	last := f.ev.EpochOf(append(basis, present(f.reserveShort)...)[0])
	if last.Charge != nil && f.deadAfterCharge < 0 {
		v.because(f.ev.Findings[last.Charge.Readings[0]].Text)
	}
	if f.apart >= 0 {
		v.because(f.say("because.bad_cell", nil, f.apart))
		v.change("change.equalised", nil)
	}
	if f.reserveShort >= 0 {
		least := f.ev.Case.Label.FromTwelve(f.leastEnd(f.reserveShort))
		v.because(f.say("because.reserve_short", wording.Values{"least": least, "end": f.endOf(f.reserveShort)}, f.reserveShort))
		v.change("change.reserve_again", nil)
	}
	if f.reserveFail >= 0 {
		v.because(f.say("because.capacity_gone", nil, f.reserveFail))
		v.change("change.reserve_again", nil)
	}
	switch {
	case len(f.loadFail) > 0 && len(f.condFail) > 0:
		v.because(f.say("because.two_methods", nil, valid...))
	case len(f.condFail) > 0 && f.deadAfterCharge < 0:
		v.because(f.say("because.confirm_by_load", nil, f.condFail...))
	}
	if len(valid)+len(present(f.deadAfterCharge)) > 0 {
		v.change("change.load_pass", nil)
	}
	return true
}

// against is a reading that by itself demands a new battery, where the verdict is another;
// -1 for none.
func (f *facts) against() int {
	for _, i := range []int{f.deadAfterCharge, f.apart, f.reserveFail, f.condemned, f.reserveShort} {
		if i >= 0 {
			return i
		}
	}
	return -1
}

// endOf is the volts a reserve check ended with.
func (f *facts) endOf(i int) quantity.Volts {
	end, _ := f.ev.Case.Readings[i].Number(reading.EndVolts)
	return quantity.Volts(end)
}

// evenOdds is the probability of a sound battery over which none is replaced.
const evenOdds = 0.5

// cleanAndRetest holds while a drop or leakage lies beyond its limit, or a dirty
// or loose joint spoils the test or stands before it.
func cleanAndRetest(v *Verdict, f *facts, _ Condition) bool {
	spoils := len(f.spoilt) > 0 && !f.passed()
	if !spoils && len(f.beyond) == 0 {
		return false
	}
	v.Action, v.Confidence = CleanAndRetest, ruleConfidence
	for _, i := range f.beyond {
		v.because(f.ev.Findings[i].Text)
	}
	if len(f.beyond) > 0 {
		v.change("change.within_limit", nil)
	}
	if spoils {
		for _, i := range append(append([]int{}, f.spoilt...), f.spoiltTests()...) {
			v.because(f.ev.Findings[i].Text)
		}
		v.change("change.clean", nil)
	}
	return true
}

func (f *facts) spoiltTests() []int { return append(append([]int{}, f.unproven...), f.invalid...) }

func chargeAndRetest(v *Verdict, f *facts, condition Condition) bool {
	last := f.ev.Last()
	contradiction := f.disagreement() && !f.lastAfterCharge
	unproven := len(f.unproven) > 0 && len(f.loadPass) == 0 && !f.lastAfterCharge
	low := last.Low() && len(f.loadPass) == 0 && !last.Charged() && !f.passed()
	dry := last.Dry >= 0 && len(f.unproven) > 0 && !f.passed()
	if !contradiction && !unproven && !low && !dry {
		return false
	}
	v.Action, v.Confidence = ChargeAndRetest, ruleConfidence
	if dry {
		v.because(f.ev.Findings[last.Dry].Text)
	}
	if f.drawnSince >= 0 {
		v.because(f.say("because.drawn_since", nil, f.drawnSince))
	}
	for _, i := range f.unproven {
		v.because(f.ev.Findings[i].Text)
	}
	if last.Low() {
		v.because(f.ev.Findings[lowReading(last)].Text)
	}
	if len(f.unproven) > 1 {
		v.because(f.say("because.one_error", nil, f.unproven...))
	}
	for _, i := range f.invalid {
		v.because(f.ev.Findings[i].Text)
	}
	if contradiction {
		v.because(f.contradiction())
	}
	v.change("change.charged_pass", f.planValues())
	v.change("change.charged_fail", f.planValues())
	if f.missingCell >= 0 {
		v.change("change.dead_after_charge", wording.Values{"volts": f.ev.Case.Label.FromTwelve(school.DeadVolts)})
	}
	return true
}

func (f *facts) contradiction() wording.Statement {
	all := append(append(append(append([]int{}, f.loadPass...), f.condPass...), f.loadFail...), f.condFail...)
	return f.say("because.disagreement", nil, all...)
}

// planValues are the figures of the load test to take: its current, its limit
// at the epoch's temperature.
func (f *facts) planValues() wording.Values {
	plan := PlanLoad(f.ev)
	values := wording.Values{"limit": quantity.Volts(plan.Limit.Value), "seconds": plan.Seconds, "amps": wording.Word("unsaid_load")}
	if plan.Amps != nil {
		values["amps"] = *plan.Amps
	}
	return values
}

// lookElsewhere: a passed test and a flat battery, a complaint, or a finding on
// the vehicle say that something else is at fault.
func lookElsewhere(v *Verdict, f *facts, condition Condition) bool {
	faults := f.vehicleFaults()
	elsewhere := f.passed() && (f.arrivedLow >= 0 || f.complaint() || len(f.suspected) > 0 || len(faults) > 0)
	if !elsewhere && !f.neverFits() {
		return false
	}
	v.Action, v.Confidence = LookElsewhere, condition.Sound
	if f.neverFits() {
		v.Confidence = ruleConfidence
		v.because(f.misfit())
	}
	f.becausePassed(v)
	if f.arrivedLow >= 0 {
		v.because(f.ev.Findings[f.arrivedLow].Text, f.say("because.find_what_flattened", nil, f.arrivedLow))
	}
	for _, symptom := range f.ev.Case.Symptoms {
		if symptom != "preventive" {
			v.because(wording.Say("because.symptom", wording.Values{"symptom": symptom}))
		}
	}
	for _, i := range append(append([]int{}, f.looks...), faults...) {
		v.because(f.ev.Findings[i].Text)
	}
	v.change("change.charged_fail", f.planValues())
	return true
}

// misfit says why the battery is not one for this vehicle.
func (f *facts) misfit() wording.Statement {
	if c := f.ev.Case; c.Vehicle.SystemV != nil && c.Label.NominalV != *c.Vehicle.SystemV {
		return wording.Say("because.other_volts", wording.Values{"battery": c.Label.NominalV, "system": *c.Vehicle.SystemV})
	}
	return wording.Say("because.plain_in_start_stop", nil)
}

func (f *facts) becausePassed(v *Verdict) {
	passes := append(append([]int{}, f.loadPass...), f.condPass...)
	if f.ev.Case.DeepCycle() {
		passes = append(passes, present(f.reservePass)...)
	}
	for _, i := range passes {
		v.because(f.ev.Findings[i].Text)
	}
}

func keep(v *Verdict, f *facts, condition Condition) bool {
	if !f.passed() {
		return false
	}
	v.Action, v.Confidence = Keep, condition.Sound
	f.becausePassed(v)
	if last := f.ev.Last(); last.Charge != nil {
		v.because(f.ev.Findings[last.Charge.Readings[0]].Text)
	}
	for i := range f.ev.Case.Readings {
		if code := f.ev.Case.Readings[i].Choice(reading.Finding); slices.Contains(remarks, code) {
			v.because(f.say("because.remark_"+code, nil, i))
		}
	}
	v.change("change.charged_fail", f.planValues())
	return true
}

// remarks are findings of the look that leave the verdict as it is and are put right before
// the vehicle goes.
var remarks = []string{"hold_down", "vent_tube", "vent_plug"}

func moreTests(v *Verdict, f *facts, _ Condition) bool {
	v.Action, v.Confidence = MoreTests, ruleConfidence
	last := f.ev.Last()
	for i := last.First; i < last.End; i++ {
		if !f.ev.Findings[i].Valid || f.ev.Findings[i].Outcome == evidence.Weak {
			v.because(f.ev.Findings[i].Text)
		}
	}
	switch {
	case f.drawnSince >= 0:
		v.because(f.say("because.drawn_since", nil, f.drawnSince))
	case last.Contradiction.Unsettled():
		v.change("change.settled", nil)
	case f.against() >= 0:
		v.because(f.ev.Findings[f.against()].Text, f.say("because.against", nil, f.against()))
	case f.disagreement():
		v.because(f.contradiction())
	case f.doubtful():
		fails := f.fails()
		for _, i := range fails {
			v.because(f.ev.Findings[i].Text)
		}
		v.because(f.say("because.doubtful", nil, fails...))
	case len(f.ev.Findings) == 0:
		v.because(wording.Say("because.nothing_measured", nil))
	case last.Charge == nil:
		v.because(wording.Say("because.no_charge_state", nil))
	}
	if len(v.Because) == 0 {
		v.because(wording.Say("because.no_test", nil))
	}
	v.change("change.charged_pass", f.planValues())
	v.change("change.charged_fail", f.planValues())
	return true
}

// notTested says what the verdict leaves open: no test of this version sees
// lost capacity.
func (f *facts) notTested() []wording.Statement {
	if !f.passed() || len(f.stops) > 0 || f.has(reading.Reserve) {
		return nil
	}
	return []wording.Statement{wording.Say("because.capacity_not_tested", nil)}
}

// verdictCause is the main cause in the light of the action.
func verdictCause(action Action, f *facts, b *belief, causes []likely) *string {
	pick := func(codes ...string) *string {
		for _, c := range causes {
			if code := hypotheses[c.hypothesis].code; slices.Contains(codes, code) {
				return &code
			}
		}
		return nil
	}
	var found *string
	switch action {
	case Replace:
		found = pick("worn", "dead_cell", "damaged")
	case StopUnsafe:
		found = stopCause(f)
	case CleanAndRetest:
		found = f.cleanCause(b)
	case Keep:
		nothing := codeOfNothing
		found = &nothing
	case LookElsewhere:
		found = elsewhereCause(f, b)
	}
	if action != StopUnsafe && f.neverFits() {
		wrong := "wrong_battery"
		return &wrong
	}
	if found == nil && len(causes) > 0 {
		code := hypotheses[causes[0].hypothesis].code
		found = &code
	}
	return found
}

// unlikely is the probability under which a connection is not named for a drop
// beyond its limit: a current far above its own makes a sound cable drop too much.
const unlikely = 0.25

// stillDrops reports a drop that was beyond its limit before, at the same place, and has been
// measured again: cleaning it once more changes nothing.
func (f *facts) stillDrops(i int) bool {
	r := &f.ev.Case.Readings[i].Reading
	if r.Kind != reading.Drop {
		return false
	}
	for j := range f.ev.Case.Readings[:i] {
		if placeOf(&f.ev.Case.Readings[j].Reading) == placeOf(r) && slices.Contains(beyondFindings, f.ev.Findings[j].Code()) {
			return true
		}
	}
	return false
}

// cleanCause is the connection, or the leakage over the case where that alone
// lies beyond its limit; where all readings say that it is neither, what they
// say.
func (f *facts) cleanCause(b *belief) *string {
	if code, p := b.elsewhere(!f.complaint()); len(f.spoilt) == 0 && p >= namedFrom && b.faults[joint][1] < unlikely &&
		b.faults[top][1] < unlikely {
		return &code
	}
	cause := "poor_connection"
	if len(f.beyond) > 0 && len(f.spoilt) == 0 {
		cause = "case_leakage"
		for _, i := range f.beyond {
			if f.ev.Findings[i].Kind == reading.Drop {
				cause = "poor_connection"
			}
		}
	}
	return &cause
}

func stopCause(f *facts) *string {
	cause := "damaged"
	if c := f.stops[0].Caution; c == school.Gas || c == school.Hot || c == school.Runaway {
		cause = "overcharging"
	}
	return &cause
}

// leadFrom is the probability from which the likeliest cause is named for a flat
// battery that passed: a lead to follow. Below it, it is just that: discharged.
// Value from memory.
const leadFrom = 0.4

// namedFrom is the probability from which one cause is named against what a rule
// suggests. Value from memory.
const namedFrom = 0.5

// elsewhereCause is what most likely flattened or stopped it; a flat battery
// without a lead is just that.
func elsewhereCause(f *facts, b *belief) *string {
	code, p := b.elsewhere(false)
	if found, holds := f.measured(b); found != "" && (holds >= namedFrom || p < namedFrom) {
		return &found
	}
	if f.arrivedLow >= 0 && p < leadFrom {
		code = "discharged_sound"
	}
	return &code
}

// LoadPlan is the load test to take on this battery now.
type LoadPlan struct {
	// Amps to set; nil when the label's rating is not known.
	Amps    *quantity.Amperes `json:"amps"`
	Seconds quantity.Seconds  `json:"seconds"`
	// Limit is the least volts at the end.
	Limit evidence.Limit `json:"limit"`
	// Converted marks amps that come from a rating of another standard.
	Converted bool `json:"converted"`
	// FailProves tells whether a fail would count now; a pass always does.
	FailProves bool `json:"fail_proves"`
}

// PlanLoad gives the amperes, seconds and limit for the next load test.
func PlanLoad(ev evidence.Evidence) LoadPlan {
	practice, last := ev.School, ev.Last()
	least, _ := practice.Unknown()
	plan := LoadPlan{Seconds: practice.Seconds, FailProves: last.Charged() && len(last.Spoilt) == 0}
	if t := last.TestTemperature(); t != nil {
		least = practice.Limit(*t)
		at := float64(*t)
		plan.Limit.AtC = &at
	}
	shift, note := ev.Case.Own.LoadShift()
	least, plan.Limit.Note = least+shift, note
	plan.Limit.Value = math.Round(float64(ev.Case.Label.FromTwelve(least))*100) / 100
	plan.Limit.Unit = "V"
	if target, ok := ev.Case.LoadTarget(); ok {
		rounded := quantity.Amperes(math.Round(float64(target)))
		plan.Amps = &rounded
		if rating, standsIn := ev.Case.RatedFor(); rating != nil && ev.Case.Label.LabelLoadA == nil {
			plan.Converted = standsIn || rating.SAE().Converted
		}
	}
	return plan
}
