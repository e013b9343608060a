package evidence

import (
	"math"
	"sort"

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

// Outcomes lists those of a test.
func Outcomes() []Outcome { return []Outcome{Pass, Fail, Weak, Undecided} }

// Limit is what a reading was held against.
type Limit struct {
	Value float64 `json:"value"`
	Unit  string  `json:"unit"`
	// AtC is the battery temperature the limit holds at; nil when unknown or
	// when it does not depend on one.
	AtC *float64 `json:"at_c"`
	// Note says where the shop has its own figure from; empty for the trade's.
	Note string `json:"note,omitempty"`
}

// Margin is how far a reading lies from its limit: positive on the good side.
type Margin struct {
	// Value is in the limit's unit.
	Value float64 `json:"value"`
	// Sigma is one sigma of the instrument's own error, Sigmas how many of them
	// the value is.
	Sigma  float64 `json:"sigma"`
	Sigmas float64 `json:"sigmas"`
}

// Finding is what one reading proves.
type Finding struct {
	// Reading names the reading.
	Reading wording.Ref       `json:"reading"`
	Kind    reading.Kind      `json:"kind"`
	Valid   bool              `json:"valid"`
	Limit   *Limit            `json:"limit"`
	Text    wording.Statement `json:"text"`
	// Outcome is pass, fail, weak or undecided for a test, empty otherwise.
	Outcome Outcome `json:"outcome,omitempty"`
	// Margin is how far from the limit it lies; nil where it has none.
	Margin *Margin `json:"margin,omitempty"`
	// More is what else the same reading says.
	More []wording.Statement `json:"more,omitempty"`
	// WayOut says how the reading could be made to count; nil where it does.
	WayOut *wording.Statement `json:"way_out,omitempty"`

	// chargeRelated marks a failed test that charging alone could make valid.
	chargeRelated bool
	// contradicts marks a test that another one contradicts.
	contradicts bool
	// index is the reading's place in its case.
	index int
}

// Index is the place of the reading in the case that was examined.
func (f Finding) Index() int { return f.index }

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
	// Unproven says that the charge logs before it fall short of what was
	// missing, so that its word for a full charge does not stand.
	Unproven bool
	// Drawn says that the epoch follows a discharge that took so much out that what was
	// known of the charge before no longer holds.
	Drawn bool
	// Left is what the discharge left by reckoning, nil where it is not known or there
	// was none.
	Left *ChargeState
	// DrawnSince says that something may have drawn on the battery between its full charge
	// and its volts: it no longer counts as charged.
	DrawnSince bool
	// Charge is the epoch's charge state, nil when no valid one was taken.
	Charge *ChargeState
	// Contradiction is set where the readings of the charge cannot all be true; there
	// is no charge state then.
	Contradiction *Contradiction
	// Hangs says that the charge counts as three quarters or not by a temperature that
	// nobody took.
	Hangs bool
	// AtMost bounds the charge from above when only an unrested voltage is
	// there; AtMostReading is its index.
	AtMost        *battery.Charge
	AtMostReading int
	// temperatures are the battery temperatures taken in the epoch, in order.
	temperatures []takenTemperature
	// Stood is the temperature the electrolyte should have from where it stood,
	// nil when nobody said or it stood too short a while to tell.
	Stood *battery.Temperature
	// Dry is a reading that found plates uncovered, or an eye above an empty cell that
	// opens, -1 for none.
	Dry int
	// Spoilt are the readings that found a dirty or loose joint.
	Spoilt []int
	// OpenCircuit is the rested voltage of the epoch, nil when there is none;
	// OpenCircuitReading is its index.
	OpenCircuit        *quantity.Volts
	OpenCircuitReading int
}

// Charged reports whether a failed test of the epoch counts: rested at 75 % or
// more, or after one full charge and a rest, whatever it then rests at.
func (e Epoch) Charged() bool {
	if e.Charge == nil || e.Charge.EyeOnly {
		return false
	}
	return e.Charge.Percent >= school.JudgePercent && !e.Hangs || e.AfterCharge && !e.Unproven && !e.DrawnSince
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
		return Epoch{Dry: -1}
	}
	return ev.Epochs[len(ev.Epochs)-1]
}

// EpochOf is the epoch a reading belongs to.
func (ev Evidence) EpochOf(index int) Epoch {
	if n := ev.epochAt(index); n >= 0 {
		return ev.Epochs[n]
	}
	return Epoch{Dry: -1}
}

// epochAt is the place of the epoch a reading belongs to, -1 for none.
func (ev Evidence) epochAt(index int) int {
	n := sort.Search(len(ev.Epochs), func(n int) bool { return index < ev.Epochs[n].End })
	if n == len(ev.Epochs) {
		return -1
	}
	return n
}

// Examine divides a case into epochs and finds what each reading proves.
// Findings are in the order of the readings. A chemistry that is not judged
// yields findings that say so.
func Examine(c Case) Evidence {
	practice, _ := school.Find(c.School)
	ev := Evidence{Case: c, School: practice, Epochs: epochs(c)}
	ev.Findings = make([]Finding, 0, len(c.Readings))
	for i, r := range c.Readings {
		f := ev.find(i, r.Reading, ev.EpochOf(i))
		f.rest(c.Ref(i))
		f.Kind, f.index = r.Kind, i
		ev.Findings = append(ev.Findings, f)
	}
	ev.irreconcilable()
	return ev
}

// rest names the reading that all a finding says rests on.
func (f *Finding) rest(on wording.Ref) {
	f.Reading = on
	f.Text.Readings = []wording.Ref{on}
	for i := range f.More {
		f.More[i].Readings = []wording.Ref{on}
	}
	if f.WayOut != nil {
		f.WayOut.Readings = []wording.Ref{on}
	}
}

// finders judge each kind of reading.
var finders = map[reading.Kind]func(Evidence, int, reading.Reading, Epoch) Finding{
	reading.OpenCircuit:    Evidence.openCircuit,
	reading.Gravity:        Evidence.gravity,
	reading.Eye:            Evidence.eye,
	reading.Level:          Evidence.level,
	reading.Load:           Evidence.load,
	reading.Conductance:    Evidence.conductance,
	reading.Crank:          Evidence.crank,
	reading.ChargingSystem: Evidence.charging,
	reading.Ripple:         Evidence.ripple,
	reading.StarterDraw:    Evidence.starterDraw,
	reading.Drop:           Evidence.drop,
	reading.Drain:          Evidence.drain,
	reading.CaseLeak:       Evidence.caseLeak,
	reading.Look:           Evidence.look,
	reading.History:        Evidence.history,
	reading.DCDC:           Evidence.dcdc,
	reading.Reserve:        Evidence.reserve,
	reading.ChargeLog:      Evidence.chargeLog,
	reading.Jump:           Evidence.jump,
	reading.Halves:         Evidence.halves,
}

func (ev Evidence) find(i int, r reading.Reading, e Epoch) Finding {
	if !ev.Case.Label.Chemistry.Judged() {
		return notJudged(ev.Case.Label.Chemistry)
	}
	return finders[r.Kind](ev, i, r, e)
}

func notJudged(c battery.Chemistry) Finding {
	return Finding{Text: wording.Say(string(NotJudged), wording.Values{"chemistry": string(c)})}
}

// limit is one of the trade's limits or the shop's own figure for it, scaled to
// the cells of this battery where it is volts at its posts.
func (ev Evidence) limit(id school.LimitID) *Limit {
	value, note := ev.Case.Own.Limit(id)
	return ev.scaled(id, value, note)
}

func (ev Evidence) scaled(id school.LimitID, value float64, note string) *Limit {
	row, _ := school.FindLimit(id)
	if row.Cells {
		value = tidy(float64(ev.Case.Label.FromTwelve(quantity.Volts(value))))
	}
	return &Limit{Value: value, Unit: row.Unit, Note: note}
}

// atLeast and atMost are the margin of a value that has to be at least or at
// most the limit, with one sigma of the instrument.
func (l *Limit) atLeast(value, sigma float64) *Margin { return margin(value-l.Value, sigma) }

func (l *Limit) atMost(value, sigma float64) *Margin { return margin(l.Value-value, sigma) }

func margin(value, sigma float64) *Margin {
	m := &Margin{Value: math.Round(value*1e4) / 1e4, Sigma: math.Round(sigma*1e4) / 1e4}
	if sigma > 0 {
		m.Sigmas = math.Round(value/sigma*10) / 10
	}
	return m
}

// at says for which temperature the limit holds.
func (l *Limit) at(t quantity.Celsius) *Limit {
	l.AtC = new(float64)
	*l.AtC = float64(t)
	return l
}

// proven is a finding that counts.
func proven(code Code, values wording.Values) Finding {
	return Finding{Valid: true, Text: wording.Say(string(code), values)}
}

// unproven is one that does not, and how it could be made to.
func unproven(code Code, way string, values wording.Values) Finding {
	how := wording.Say("way."+way, values)
	return Finding{Text: wording.Say(string(code), values), WayOut: &how}
}

// against adds what the finding was held against.
func (f Finding) against(l *Limit, m *Margin) Finding {
	f.Limit, f.Margin = l, m
	return f
}

// is marks the finding as a test's.
func (f Finding) is(o Outcome) Finding {
	f.Outcome = o
	return f
}
