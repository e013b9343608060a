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

// Outcome is what a test came to, whether or not it counts.
type Outcome string

// The outcomes of a test. None belongs to readings that are no test.
const (
	None      Outcome = ""
	Pass      Outcome = "pass"
	Fail      Outcome = "fail"
	Weak      Outcome = "weak"
	Undecided Outcome = "undecided"
)

// Limit is what a reading was held against.
type Limit struct {
	Value float64 `json:"value"`
	Unit  string  `json:"unit"`
	// AtC is the battery temperature the limit holds at; nil when unknown or
	// when it does not depend on one.
	AtC *float64 `json:"at_c"`
}

// Finding is what one reading proves.
type Finding struct {
	Reading int               `json:"reading"`
	Kind    reading.Kind      `json:"kind"`
	Valid   bool              `json:"valid"`
	Limit   *Limit            `json:"limit"`
	Text    wording.Statement `json:"text"`
	// Outcome is pass, fail, weak or undecided for a test, empty otherwise.
	Outcome Outcome `json:"outcome,omitempty"`
	// WayOut says how the reading could be made to count; nil where it does.
	WayOut *wording.Statement `json:"way_out,omitempty"`

	// chargeRelated marks a failed test that charging alone could make valid.
	chargeRelated bool
}

// FailProvesNothing reports a failed test that does not count because of the
// charge: the battery may be sound.
func (f Finding) FailProvesNothing() bool {
	return f.Outcome == Fail && !f.Valid && f.chargeRelated
}

// ChargeState is the charge of one epoch.
type ChargeState struct {
	battery.Charge
	// Basis names the kinds of reading it rests on.
	Basis []string `json:"basis"`
	// Readings are their indexes.
	Readings []int `json:"-"`
	// EyeOnly marks a charge known from the built-in eye alone.
	EyeOnly bool `json:"-"`
}

// Epoch is a run of readings between two full charges.
type Epoch struct {
	// First and End bound the readings: First ≤ i < End.
	First, End int
	// AfterCharge says that the epoch follows a full charge.
	AfterCharge bool
	// Charge is the epoch's charge state, nil when no valid one was taken.
	Charge *ChargeState
	// AtMost bounds the charge from above when only an unrested voltage is
	// there; AtMostReading is its index.
	AtMost        *battery.Charge
	AtMostReading int
	// Temperature is the battery temperature of the epoch, nil when none was taken.
	Temperature *quantity.Celsius
	// Spoilt are the readings that found a dirty or loose joint.
	Spoilt []int
	// OpenCircuit is the rested voltage of the epoch, nil when there is none.
	OpenCircuit *quantity.Volts
}

// Charged reports whether a failed test of the epoch counts: rested at 75 % or
// more, or after one full charge and a rest, whatever it then rests at.
func (e Epoch) Charged() bool {
	if e.Charge == nil || e.Charge.EyeOnly {
		return false
	}
	return e.Charge.Percent >= school.JudgePercent || e.AfterCharge
}

// Low reports whether the battery is known to be under 75 %, be it only by an
// upper bound.
func (e Epoch) Low() bool {
	if e.Charge != nil {
		if e.Charge.EyeOnly {
			return e.Charge.High < school.JudgePercent
		}
		return e.Charge.Percent < school.JudgePercent
	}
	return e.AtMost != nil && e.AtMost.Percent < school.JudgePercent
}

// Evidence is a case examined.
type Evidence struct {
	Case     Case
	School   school.LoadSchool
	Epochs   []Epoch
	Findings []Finding
}

// Last is the epoch the battery is in now; the zero epoch for a case without
// readings.
func (ev Evidence) Last() Epoch {
	if len(ev.Epochs) == 0 {
		return Epoch{}
	}
	return ev.Epochs[len(ev.Epochs)-1]
}

// EpochOf is the epoch a reading belongs to.
func (ev Evidence) EpochOf(index int) Epoch {
	for _, e := range ev.Epochs {
		if index < e.End {
			return e
		}
	}
	return Epoch{}
}

// Examine divides a case into epochs and finds what each reading proves.
// Findings are in the order of the readings. A chemistry that is not judged
// yields findings that say so.
func Examine(c Case) Evidence {
	practice, _ := school.Find(c.School)
	ev := Evidence{Case: c, School: practice, Epochs: epochs(c)}
	ev.Findings = make([]Finding, 0, len(c.Readings))
	for i, r := range c.Readings {
		f := ev.find(i, r, ev.EpochOf(i))
		f.Reading, f.Kind = i, r.Kind
		ev.Findings = append(ev.Findings, f)
	}
	return ev
}

func (ev Evidence) find(i int, r reading.Reading, e Epoch) Finding {
	if !ev.Case.Label.Chemistry.Judged() {
		return notJudged(i, ev.Case.Label.Chemistry)
	}
	switch r.Kind {
	case reading.OpenCircuit:
		return ev.openCircuit(i, r, e)
	case reading.Eye:
		return ev.eye(i, r)
	case reading.Look:
		return ev.look(i, r)
	case reading.Load:
		return ev.load(i, r, e)
	}
	return ev.conductance(i, r, e)
}

func notJudged(i int, c battery.Chemistry) Finding {
	return Finding{Text: wording.Say("finding.not_judged", wording.Values{"chemistry": string(c)}, i)}
}

// epochs splits the readings where a full charge lies between: the first
// after_charge reading after one without it opens a new epoch.
func epochs(c Case) []Epoch {
	var out []Epoch
	for i, r := range c.Readings {
		if i == 0 || r.AfterCharge && !c.Readings[i-1].AfterCharge {
			out = append(out, Epoch{First: i, AfterCharge: r.AfterCharge})
		}
		out[len(out)-1].End = i + 1
	}
	for i := range out {
		fill(c, &out[i])
	}
	return out
}

func fill(c Case, e *Epoch) {
	for i := e.First; i < e.End; i++ {
		if t, ok := c.Readings[i].Temperature(); ok {
			e.Temperature = &t
		}
	}
	for i := e.First; i < e.End; i++ {
		r := c.Readings[i]
		switch r.Kind {
		case reading.OpenCircuit:
			chargeFromVolts(c.Label, r, i, e)
		case reading.Look:
			spoil(r, i, e)
		}
	}
	if e.Charge != nil || !c.Label.Chemistry.Judged() {
		return
	}
	for i := e.First; i < e.End; i++ {
		chargeFromEye(c.Readings[i], i, e)
	}
	boundFromConductance(c, e)
}

// temperatureFor is the battery temperature for a reading, its one sigma, and
// whether it was assumed from another reading or from nothing.
func (e Epoch) temperatureFor(r reading.Reading) (at, sigma quantity.Celsius, source string) {
	if t, ok := r.Temperature(); ok {
		return t, accuracy.TemperatureSigma(r.Choice(reading.TempBasis)), "said"
	}
	if e.Temperature != nil {
		return *e.Temperature, accuracy.TemperatureSigma("felt"), "epoch"
	}
	return battery.TemperatureUnknown, battery.TemperatureUnknownSigma, "unknown"
}

// band is the charge a voltage stands for, rounded to whole percent, which is
// what is shown and what is compared.
func band(l battery.Label, v quantity.Volts, r reading.Reading, e Epoch) (battery.Charge, bool) {
	at, sigma, source := e.temperatureFor(r)
	if source == "unknown" {
		// With no temperature the figure is read straight off the table; the
		// band carries what is not known.
		at = 26.7
	}
	ch, ok := l.ChargeBand(v, accuracy.VoltsSigma(accuracy.Instrument(r.By), v), at, sigma)
	return battery.Charge{Percent: math.Round(ch.Percent), Low: math.Floor(ch.Low), High: math.Ceil(ch.High)}, ok
}

func chargeFromVolts(l battery.Label, r reading.Reading, i int, e *Epoch) {
	ch, ok := band(l, r.Volts(), r, *e)
	if !ok {
		return
	}
	if reason := surfaceCharge(l, r); reason != "" {
		if e.AtMost == nil || ch.Percent < e.AtMost.Percent {
			e.AtMost, e.AtMostReading = &ch, i
		}
		return
	}
	v := r.Volts()
	e.OpenCircuit = &v
	e.Charge = &ChargeState{Charge: ch, Basis: []string{string(reading.OpenCircuit)}, Readings: []int{i}}
}

// chargeFromEye knows little: a green eye promises 65 % of one cell, a dark one
// less than that.
func chargeFromEye(r reading.Reading, i int, e *Epoch) {
	if r.Kind != reading.Eye {
		return
	}
	state := &ChargeState{Basis: []string{string(reading.Eye)}, Readings: []int{i}, EyeOnly: true}
	switch r.Choice(reading.Colour) {
	case "green":
		state.Charge = battery.Charge{Percent: (school.EyePercent + 100) / 2, Low: school.EyePercent, High: 100}
	case "dark":
		state.Charge = battery.Charge{Percent: school.EyePercent / 2, Low: 0, High: school.EyePercent}
	default:
		return
	}
	e.Charge = state
}

// boundFromConductance uses the volts a conductance tester shows: it does not
// know of a rest, so they bound the charge from above.
func boundFromConductance(c Case, e *Epoch) {
	for i := e.First; i < e.End; i++ {
		r := c.Readings[i]
		if r.Kind != reading.Conductance || !r.Has(reading.Volts) {
			continue
		}
		if ch, ok := band(c.Label, r.Volts(), r, *e); ok && (e.AtMost == nil || ch.Percent < e.AtMost.Percent) {
			e.AtMost, e.AtMostReading = &ch, i
		}
	}
}

// spoil gathers dirty and loose joints; a later look that finds nothing clears
// them.
func spoil(r reading.Reading, i int, e *Epoch) {
	finding := r.Choice(reading.Finding)
	switch {
	case finding == "none":
		e.Spoilt = nil
	case school.LookRuleFor(finding).Spoils && r.Choice(reading.Degree) != "light":
		e.Spoilt = append(e.Spoilt, i)
	}
}
