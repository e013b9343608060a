package evidence

import (
	"math"

	"grapnel/core/accuracy"
	"grapnel/core/battery"
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
	if rating, _ := c.RatedFor(); rating != nil {
		return rating.SAE().SAE * school.HalfRating, true
	}
	return 0, false
}

// RatedFor is the rating a load is measured by: the label's or, where nobody knows it, what
// the vehicle requires stands in. Nil where neither is known.
func (c Case) RatedFor() (rating *battery.Rating, standsIn bool) {
	if c.Label.Rating != nil || c.Vehicle.RequiredCCA == nil || c.DeepCycle() {
		return c.Label.Rating, false
	}
	return &battery.Rating{Value: *c.Vehicle.RequiredCCA, Standard: battery.SAE}, true
}

// ModelLabel is the label that the model is made of: with the rating a load is measured by.
func (c Case) ModelLabel() battery.Label {
	l := c.Label
	l.Rating, _ = c.RatedFor()
	return l
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
		return t.nothing(LoadRatingMissing, "rating_missing", Undecided)
	}
	t.values["target"] = target
	outcome := t.outcome()
	if code, way := t.undersized(ev, target, &outcome); code != "" {
		return t.nothing(code, way, outcome)
	}
	switch outcome {
	case Pass:
		return ev.standing(t.passed())
	case Undecided:
		return t.nothing(LoadTemperatureUnknown, "temperature_unknown", Undecided)
	}
	return ev.standing(t.failed())
}

// standing says of a load that the rating it was held against is not the label's own.
func (ev Evidence) standing(f Finding) Finding {
	if rating, standsIn := ev.Case.RatedFor(); standsIn && ev.Case.Label.LabelLoadA == nil {
		f.More = append(f.More, wording.Say("more.required_stands", wording.Values{"required": rating.Value}))
	}
	return f
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
func (t loadTest) undersized(ev Evidence, target quantity.Amperes, outcome *Outcome) (code Code, way string) {
	seconds, _ := t.reading.Number(reading.Seconds)
	held := quantity.Seconds(seconds)
	if *outcome == Pass && held < t.seconds-school.TimeTolerance {
		return LoadTooShort, "too_short"
	}
	if *outcome == Fail && held > max(school.LongSeconds, t.seconds) {
		return LoadTooLong, "too_long"
	}
	if t.starter {
		return "", ""
	}
	amps, known := t.reading.Number(reading.Amps)
	if !known {
		return LoadAmpsUnknown, "amps_unknown"
	}
	share := amps / float64(target)
	t.values["share"] = math.Round(share * 100)
	switch {
	case share < 2*school.LittleRating*(1-1e-9) && *outcome != Fail:
		return LoadTooSmall, "too_small"
	case math.Abs(share-1) <= school.LoadTolerance:
		return "", ""
	case share < 1 && *outcome == Pass:
		if v, ok := t.carried(quantity.Amperes(amps), target); !ok || v < t.pass {
			return LoadSmallUndecided, "small_undecided"
		}
	case share > 1 && *outcome == Fail:
		if v, ok := t.carried(quantity.Amperes(amps), target); !ok || v >= t.fail {
			*outcome = Undecided
			return LoadTooLarge, "too_large"
		}
	}
	return "", ""
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

func (t loadTest) nothing(code Code, way string, outcome Outcome) Finding {
	f := unproven(code, way, t.values).is(outcome)
	if code != LoadRatingMissing {
		limit := t.limit
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
	code, bare := LoadPass, LoadPassNoTemperature
	if t.epoch.Low() {
		code, bare = LoadPassLow, LoadPassLowNoTemperature
		t.values["percent"] = lowPercent(t.epoch)
	}
	return proven(t.with(code, bare), t.values).is(Pass).against(&t.limit, t.margin())
}

// failed applies the asymmetry: a fail counts only on a charged battery with
// clean, tight joints, and not in deep cold.
func (t loadTest) failed() Finding {
	why := doubtOf(t.epoch)
	if why == nil && t.cold {
		why = &tooCold
	}
	if why == nil {
		f := proven(t.with(LoadFail, LoadFailNoTemperature), t.values).is(Fail).against(&t.limit, t.margin())
		f.More = t.recovered()
		return f
	}
	t.values["percent"] = lowPercent(t.epoch)
	f := unproven(why.load, why.way, t.values).is(Fail).against(&t.limit, t.margin())
	f.chargeRelated = why.charge
	return f
}

// with picks the form that names the temperature where there is one.
func (t loadTest) with(code, bare Code) Code {
	if t.limit.AtC == nil {
		return bare
	}
	return code
}

// recovered says what the volts after the load came off add: staying under
// 12 V confirms a fail.
func (t loadTest) recovered() []wording.Statement {
	back, ok := t.reading.Number(reading.RecoveredVolts)
	if !ok || quantity.Volts(back) >= t.dead {
		return nil
	}
	return []wording.Statement{wording.Say("more.stays_down", wording.Values{"volts": quantity.Volts(back)})}
}

// doubt is why a failed test of an epoch proves nothing: what that makes of a load and
// of a conductance test, how it could be made to count, and whether a full charge
// alone would do.
type doubt struct {
	load, tester Code
	way          string
	charge       bool
}

var (
	chargeLow          = doubt{LoadFailLow, ConductanceLow, "low", true}
	chargeUnknown      = doubt{LoadFailChargeUnknown, ConductanceChargeUnknown, "charge_unknown", true}
	eyeAlone           = doubt{LoadFailEye, ConductanceEye, "eye", true}
	chargeContradicted = doubt{LoadFailContradiction, ConductanceContradiction, "contradicted", false}
	hanging            = doubt{LoadFailHangs, ConductanceHangs, "thermometer", false}
	chargeUnproven     = doubt{LoadFailUnproven, ConductanceUnproven, "unproven", true}
	platesDry          = doubt{LoadFailDry, ConductanceDry, "dry", true}
	jointSpoilt        = doubt{LoadFailSpoilt, ConductanceSpoilt, "spoilt", false}
	tooCold            = doubt{load: LoadFailTooCold, way: "too_cold"}
)

// doubtOf says why a failed test of the epoch proves nothing; nil when it counts. What
// comes first is seen to first: water before charge, charge before the joints.
func doubtOf(e Epoch) *doubt {
	if e.Dry >= 0 {
		return &platesDry
	}
	if why := chargeDoubt(e); why != nil {
		return why
	}
	if len(e.Spoilt) > 0 {
		return &jointSpoilt
	}
	return nil
}

// chargeDoubt is what is not known of the charge; nil where the battery counts as charged.
func chargeDoubt(e Epoch) *doubt {
	switch {
	case e.Contradiction.Unsettled():
		return &chargeContradicted
	case e.Charge == nil && e.Low():
		return &chargeLow
	case e.Charge == nil:
		return &chargeUnknown
	case e.Charged():
		return nil
	case e.Hangs:
		return &hanging
	case e.Charge.EyeOnly && !e.Low():
		return &eyeAlone
	case e.AfterCharge:
		return &chargeUnproven
	}
	return &chargeLow
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
	m := limit.atLeast(ratio, accuracy.ConductanceSigma(ratio))
	if code, way := ev.testerSetting(r, rated, values); code != "" {
		return unproven(code, way, values).is(outcome).against(limit, m)
	}
	why := doubtOf(e)
	if outcome == Pass {
		// Dirty joints and dry plates make it read low, so they spoil only what is no pass.
		why = chargeDoubt(e)
	}
	if why != nil {
		// Unlike a load, a pass at a low charge is no pass either.
		code := why.tester
		if why == &chargeLow && outcome == Pass {
			code = ConductanceLowPass
		}
		f := unproven(code, why.way, values).is(outcome).against(limit, m)
		f.chargeRelated = why.charge
		return f
	}
	f := proven(gradeCodes[grade.Code], values).is(outcome).against(limit, m)
	if outcome == Fail {
		low, high := accuracy.BadClamp(ratio)
		f.More = []wording.Statement{
			wording.Say("more.bad_clamp", wording.Values{"low": math.Round(low * 100), "high": math.Round(high * 100)}),
		}
	}
	return f
}

var gradeCodes = map[string]Code{
	"good":        ConductanceGood,
	"serviceable": ConductanceServiceable,
	"weak":        ConductanceWeak,
	"fail":        ConductanceFail,
}

// testerSetting holds what was entered in the tester against the label.
func (ev Evidence) testerSetting(r reading.Reading, rated float64, values wording.Values) (code Code, way string) {
	l := ev.Case.Label
	if chemistry := r.Choice(reading.Chemistry); chemistry != "" && chemistry != string(l.Chemistry) {
		values["chemistry"], values["label"] = chemistry, string(l.Chemistry)
		return ConductanceWrongType, "wrong_type"
	}
	if l.Rating == nil {
		return ConductanceRatingMissing, "rating_missing"
	}
	values["label"], values["label_standard"] = l.Rating.Value, string(l.Rating.Standard)
	values["standard"] = r.Choice(reading.Standard)
	if standard := r.Choice(reading.Standard); standard != "" && standard != string(l.Rating.Standard) {
		return ConductanceWrongStandard, "wrong_standard"
	}
	if math.Abs(rated/float64(l.Rating.Value)-1) > conductanceTolerance {
		return ConductanceWrongRating, "wrong_rating"
	}
	return "", ""
}
