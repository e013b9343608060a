package evidence

import (
	"math"

	"grapnel/core/accuracy"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// LoadTarget is the current a load test of this battery draws: the label's own
// test load, or half of the SAE rating. It reports false when neither is known.
func (c Case) LoadTarget() (quantity.Amperes, bool) {
	if c.Label.LabelLoadA != nil {
		return *c.Label.LabelLoadA, true
	}
	if c.Label.Rating != nil {
		return c.Label.Rating.SAE().SAE * school.HalfRating, true
	}
	return 0, false
}

// loadTest is one load reading being judged.
type loadTest struct {
	index   int
	reading reading.Reading
	epoch   Epoch
	starter bool
	seconds quantity.Seconds // to hold
	limit   Limit
	pass    quantity.Volts // passes from here
	fail    quantity.Volts // fails below here
	cold    bool
	dead    quantity.Volts // a battery that stays under it is down
	values  wording.Values
}

func (ev Evidence) load(i int, r reading.Reading, e Epoch) Finding {
	t := ev.setUp(i, r, e)
	target, known := ev.Case.LoadTarget()
	if !known && !t.starter {
		return t.nothing("rating_missing", Undecided)
	}
	t.values["target"] = target
	outcome := t.outcome()
	if reason := t.undersized(ev, target, &outcome); reason != "" {
		return t.nothing(reason, outcome)
	}
	switch outcome {
	case Pass:
		return t.passed()
	case Undecided:
		return t.nothing("temperature_unknown", Undecided)
	}
	return t.failed()
}

// setUp finds the limit for this reading, school and temperature.
func (ev Evidence) setUp(i int, r reading.Reading, e Epoch) loadTest {
	practice := ev.schoolFor(r)
	seconds, _ := r.Number(reading.Seconds)
	t := loadTest{index: i, reading: r, epoch: e, starter: practice.Starter, seconds: practice.Seconds}
	t.dead = ev.Case.Label.FromTwelve(school.DeadVolts)
	if r.Choice(reading.Method) == "fixed" {
		t.seconds = school.FixedSeconds
	}
	l := ev.Case.Label
	at, _, source := e.temperatureFor(i, &r)
	shift, note := ev.Case.Own.LoadShift()
	t.limit.Note = note
	if source == "unknown" {
		pass, fail := practice.Unknown()
		t.pass, t.fail = l.FromTwelve(pass+shift), l.FromTwelve(fail+shift)
	} else {
		t.pass = l.FromTwelve(practice.Limit(at) + shift)
		t.fail, t.cold = t.pass, at < school.ColdestTest
		t.limit.AtC = new(float64)
		*t.limit.AtC = float64(at)
	}
	t.limit.Value, t.limit.Unit = tidy(float64(t.pass)), "V"
	if source == "unknown" && r.Volts() < t.fail {
		t.limit.Value = tidy(float64(t.fail))
	}
	t.values = wording.Values{
		"volts": r.Volts(), "limit": quantity.Volts(t.limit.Value), "seconds": quantity.Seconds(seconds),
		"hold": t.seconds, "school": string(practice.ID), "assumed": source == "epoch" || source == "stood",
	}
	if t.limit.AtC != nil {
		t.values["at"] = at
	}
	t.values["amps"] = wording.Word("unsaid_load")
	if amps, ok := r.Number(reading.Amps); ok {
		t.values["amps"] = quantity.Amperes(amps)
	}
	return t
}

// schoolFor is the school that judges a reading: the starter as a load is
// judged by a starter school, a pile or heater never is.
func (ev Evidence) schoolFor(r reading.Reading) school.LoadSchool {
	starter := r.Choice(reading.Method) == "starter"
	other := r.Choice(reading.Method) != "" && !starter
	switch {
	case starter && !ev.School.Starter:
		s, _ := school.Find(school.Starter9V6)
		return s
	case other && ev.School.Starter:
		s, _ := school.Find(school.HalfCCA)
		return s
	}
	return ev.School
}

// outcome compares with the limit, whatever the test is worth.
func (t loadTest) outcome() Outcome {
	switch v := t.reading.Volts(); {
	case v >= t.pass-1e-9:
		return Pass
	case v < t.fail-1e-9:
		return Fail
	}
	return Undecided
}

// undersized says why the load itself proves nothing; empty when it does. A
// load too small or too short still counts when the battery fails it, one too
// large or too long when it passes. A current off half the rating is carried
// over to it along the line from the rested voltage.
func (t loadTest) undersized(ev Evidence, target quantity.Amperes, outcome *Outcome) string {
	seconds, _ := t.reading.Number(reading.Seconds)
	held := quantity.Seconds(seconds)
	if *outcome == Pass && held < t.seconds-school.TimeTolerance {
		return "too_short"
	}
	if *outcome == Fail && held > max(school.LongSeconds, t.seconds) {
		return "too_long"
	}
	if t.starter {
		return ""
	}
	amps, known := t.reading.Number(reading.Amps)
	if !known {
		return "amps_unknown"
	}
	share := amps / float64(target)
	t.values["share"] = math.Round(share * 100)
	switch {
	case share < 2*school.LittleRating*(1-1e-9) && *outcome != Fail:
		return "too_small"
	case math.Abs(share-1) <= school.LoadTolerance:
		return ""
	case share < 1 && *outcome == Pass:
		if v, ok := t.carried(quantity.Amperes(amps), target); !ok || v < t.pass {
			return "small_undecided"
		}
	case share > 1 && *outcome == Fail:
		if v, ok := t.carried(quantity.Amperes(amps), target); !ok || v >= t.fail {
			*outcome = Undecided
			return "too_large"
		}
	}
	return ""
}

// carried is the volts this battery would show at the target current, on the
// straight line from its rested voltage; false without one: nothing is proved then.
func (t loadTest) carried(amps, target quantity.Amperes) (quantity.Volts, bool) {
	if t.epoch.OpenCircuit == nil {
		return 0, false
	}
	drop := *t.epoch.OpenCircuit - t.reading.Volts()
	return *t.epoch.OpenCircuit - drop*quantity.Volts(target/amps), true
}

func (t loadTest) nothing(reason string, outcome Outcome) Finding {
	limit := t.limit
	way := wording.Say("way."+reason, t.values, t.index)
	f := Finding{Outcome: outcome, Text: wording.Say("finding.load_"+reason, t.values, t.index), WayOut: &way}
	if reason != "rating_missing" {
		f.Limit, f.Margin = &limit, t.margin()
	}
	return f
}

// margin is how far the volts lie from the limit, in the error of a meter read
// by hand at the end of a load.
func (t loadTest) margin() *Margin {
	v := t.reading.Volts()
	sigma := accuracy.LoadVoltsSigma(v)
	if by := accuracy.Instrument(t.reading.By); by != "" {
		sigma = max(sigma, accuracy.VoltsSigma(by, v))
	}
	return t.limit.atLeast(float64(v), float64(sigma))
}

func (t loadTest) passed() Finding {
	code := "finding.load_pass"
	if t.epoch.Low() {
		code = "finding.load_pass_low"
		t.values["percent"] = lowPercent(t.epoch)
	}
	return Finding{Valid: true, Outcome: Pass, Limit: &t.limit, Margin: t.margin(), Text: t.say(code)}
}

// failed applies the asymmetry: a fail counts only on a charged battery with
// clean, tight joints, and not in deep cold.
func (t loadTest) failed() Finding {
	f := Finding{Outcome: Fail, Limit: &t.limit, Margin: t.margin()}
	reason := failReason(t.epoch)
	if reason == "" && t.cold {
		reason = "too_cold"
	}
	if reason == "" {
		f.Valid, f.Text, f.More = true, t.say("finding.load_fail"), t.recovered()
		return f
	}
	f.chargeRelated = chargeReason(reason)
	t.values["percent"] = lowPercent(t.epoch)
	f.Text = wording.Say("finding.load_fail_"+reason, t.values, t.index)
	way := wording.Say("way."+reason, t.values, t.index)
	f.WayOut = &way
	return f
}

// recovered says what the volts after the load came off add: staying under
// 12 V confirms a fail.
func (t loadTest) recovered() []wording.Statement {
	back, ok := t.reading.Number(reading.RecoveredVolts)
	if !ok || quantity.Volts(back) >= t.dead {
		return nil
	}
	return []wording.Statement{wording.Say("more.stays_down", wording.Values{"volts": quantity.Volts(back)}, t.index)}
}

// chargeReason reports a reason that a full charge does away with.
func chargeReason(reason string) bool {
	return reason == "low" || reason == "charge_unknown" || reason == "eye" || reason == "dry" || reason == "unproven"
}

// say words a finding, in the form that names the temperature where there is one.
func (t loadTest) say(code string) wording.Statement {
	if t.limit.AtC == nil {
		code += "_no_temperature"
	}
	return wording.Say(code, t.values, t.index)
}

// failReason says why a failed test of the epoch proves nothing; empty when it
// counts.
func failReason(e Epoch) string {
	switch {
	case e.Charge == nil && e.Low():
		return "low"
	case e.Charge == nil:
		return "charge_unknown"
	case !e.Charged() && e.Charge.EyeOnly && !e.Low():
		return "eye"
	case !e.Charged() && e.AfterCharge:
		return "unproven"
	case !e.Charged():
		return "low"
	case e.Dry >= 0:
		return "dry"
	case len(e.Spoilt) > 0:
		return "spoilt"
	}
	return ""
}

func lowPercent(e Epoch) float64 {
	switch {
	case e.Charge != nil:
		return e.Charge.Percent
	case e.AtMost != nil:
		return e.AtMost.Percent
	}
	return 0
}

func tidy(x float64) float64 { return math.Round(x*100) / 100 }

// conductanceTolerance is how far the rating set on the tester may be off the
// label, as a share. Common practice, no source.
const conductanceTolerance = 0.02

func (ev Evidence) conductance(i int, r reading.Reading, e Epoch) Finding {
	measured, _ := r.Number(reading.Measured)
	rated, _ := r.Number(reading.Rated)
	ratio := measured / rated
	grade := school.GradeOf(ratio)
	values := wording.Values{
		"measured": quantity.Amperes(measured), "rated": quantity.Amperes(rated), "ratio": math.Round(ratio * 100),
		"percent": lowPercent(e), "grade": grade.Code,
	}
	outcome := map[string]Outcome{"good": Pass, "serviceable": Pass, "weak": Weak, "fail": Fail}[grade.Code]
	limit := &Limit{Value: grade.Least, Unit: "of rating"}
	if outcome == Fail {
		limit.Value = school.GradeOf(0.7).Least
	}
	f := Finding{Outcome: outcome, Limit: limit, Margin: limit.atLeast(ratio, accuracy.ConductanceSigma(ratio))}
	reason := ev.testerSetting(r, rated, values)
	if reason == "" {
		reason = conductanceReason(e, outcome)
	}
	if reason == "" {
		f.Valid, f.Text = true, wording.Say("finding.conductance_"+grade.Code, values, i)
		if outcome == Fail {
			low, high := accuracy.BadClamp(ratio)
			f.More = []wording.Statement{wording.Say("more.bad_clamp", wording.Values{"low": math.Round(low * 100), "high": math.Round(high * 100)}, i)}
		}
		return f
	}
	f.chargeRelated = chargeReason(reason)
	code := "finding.conductance_" + reason
	if reason == "low" && outcome == Pass {
		code += "_pass"
	}
	f.Text = wording.Say(code, values, i)
	way := wording.Say("way."+reason, values, i)
	f.WayOut = &way
	return f
}

// conductanceReason says why the test proves nothing: unlike a load, a pass at
// a low charge is no pass either. A dirty joint makes it read low, so it spoils
// only what is not a pass.
func conductanceReason(e Epoch, outcome Outcome) string {
	reason := failReason(e)
	if (reason == "spoilt" || reason == "dry") && outcome == Pass {
		return ""
	}
	return reason
}

// testerSetting holds what was entered in the tester against the label.
func (ev Evidence) testerSetting(r reading.Reading, rated float64, values wording.Values) string {
	l := ev.Case.Label
	if chemistry := r.Choice(reading.Chemistry); chemistry != "" && chemistry != string(l.Chemistry) {
		values["chemistry"], values["label"] = chemistry, string(l.Chemistry)
		return "wrong_type"
	}
	if l.Rating == nil {
		return "rating_missing"
	}
	values["label"], values["label_standard"] = l.Rating.Value, string(l.Rating.Standard)
	values["standard"] = r.Choice(reading.Standard)
	if standard := r.Choice(reading.Standard); standard != "" && standard != string(l.Rating.Standard) {
		return "wrong_standard"
	}
	if math.Abs(rated/float64(l.Rating.Value)-1) > conductanceTolerance {
		return "wrong_rating"
	}
	return ""
}
