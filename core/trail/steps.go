package trail

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/safety"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// Step is one thing to do at a stage, in working order, with the cautions that
// stand in front of it.
type Step struct {
	// Code names the step; an answer to it is kept under this name.
	Code     string            `json:"code"`
	Text     wording.Statement `json:"text"`
	Cautions []CautionText     `json:"cautions"`
	// State is open, done, not_done, not_needed or barred.
	State string `json:"state"`
	// Measured tells that a reading has done it: it is not ticked by hand.
	Measured bool `json:"measured"`
	// By and Note are of the person who answered; empty for nobody.
	By   string `json:"by,omitempty"`
	Note string `json:"note,omitempty"`
	// Line begins the reading the step ends in, Clock the wait that belongs to it.
	Line  string `json:"line,omitempty"`
	Clock string `json:"clock,omitempty"`
	// Must marks a step that is answered before the keys go back.
	Must bool `json:"must,omitempty"`
	// Kind is the reading it takes, where it is a test of the vehicle.
	Kind reading.Kind `json:"kind,omitempty"`
	// Number is its place among the tests, from 1, as the drawing has it; 0 for no test.
	Number int `json:"number,omitempty"`
	// Each marks a point of the closing list that each battery has of its own.
	Each bool `json:"each,omitempty"`
}

// CautionText is a caution with its words.
type CautionText struct {
	ID    school.Caution `json:"id"`
	Stops bool           `json:"stops"`
	Text  string         `json:"text"`
}

// InWords gives cautions their words.
func InWords(list []school.Caution) []CautionText {
	out := make([]CautionText, len(list))
	for i, id := range list {
		out[i] = CautionText{id, id.Stops(), id.Say().Text}
	}
	return out
}

// rule is one row of the table of steps.
type rule struct {
	code, stage string
	// when tells whether the step belongs to the situation; nil for always.
	when func(*Situation) bool
	// done tells that readings have done it; nil where only a hand can say so, or where the
	// kind of reading it takes does it.
	done     func(*Situation) bool
	takes    reading.Kind
	cautions []school.Caution
	// line begins the reading, clock the wait.
	line  func(*Situation) string
	clock string
	// values are the figures in its sentence.
	values func(*Situation) wording.Values
	// work is what a stop rule may forbid of it; None for nothing.
	work safety.Work
	must bool
}

// measured reports a step that readings have done.
func (r *rule) measured(s *Situation) bool {
	if r.done == nil {
		return r.takes != "" && s.measured(r.takes)
	}
	return r.done(s)
}

// Steps lists what a stage asks for in a situation, in working order; the tests of the
// vehicle begin with those that settle most.
func Steps(s *Situation, stage string) []Step {
	steps := inOrder(s, stage)
	if stage != StageVehicle {
		return steps
	}
	steps = bySettling(steps, s.Assessment.Next)
	tests := 0
	for i := range steps {
		if steps[i].Kind != "" {
			tests++
			steps[i].Number = tests
		}
	}
	return steps
}

// bySettling sorts tests by what they settle, what is not wanted next behind them in
// working order. What prepares a test stays before it.
func bySettling(steps []Step, next []diagnosis.Next) []Step {
	var groups [][]Step
	begun := 0
	for i, step := range steps {
		if step.Kind != "" || i == len(steps)-1 {
			groups = append(groups, steps[begun:i+1])
			begun = i + 1
		}
	}
	rank := func(group []Step) int {
		kind := group[len(group)-1].Kind
		i := slices.IndexFunc(next, func(n diagnosis.Next) bool { return kind != "" && testTakes(n.Test) == kind })
		if i < 0 {
			return len(next)
		}
		return i
	}
	slices.SortStableFunc(groups, func(a, b []Step) int { return cmp.Compare(rank(a), rank(b)) })
	return slices.Concat(groups...)
}

// testTakes is the kind of reading that a test of the vehicle ends in: it has its name, but
// for the drain that is followed over the fuses.
func testTakes(test string) reading.Kind {
	if test == "fuses" {
		return reading.Drain
	}
	return reading.Kind(test)
}

func inOrder(s *Situation, stage string) []Step {
	steps := []Step{}
	for i := range rules {
		r := &rules[i]
		if s.Purpose == QuickLook && !slices.Contains(quickSteps, r.code) {
			continue
		}
		if r.stage == stage && (r.when == nil || r.when(s)) {
			steps = append(steps, r.step(s))
		}
	}
	return steps
}

// quickSteps are those of a quick look: three minutes before a season, a purchase
// or the shelf. Common practice, no source.
var quickSteps = []string{
	"glasses", "orange", "earth_words", "other_volts", "lithium_record", "look_case", "look_posts", "look_level", "look_eye",
	"look_date", "look_label",
	"temperature", "rest", "surface", "tester_set", "knob_off", "load_on", "run_idle", "dcdc", "caps", "covers", "clips_off", "keys",
}

func (r *rule) step(s *Situation) Step {
	step := Step{
		Code:     r.code,
		State:    Open,
		Cautions: InWords(r.cautions),
		Clock:    r.clock,
		Must:     r.must,
		Each:     slices.Contains(ofEach, r.code),
		Kind:     r.takes,
	}
	var values wording.Values
	if r.values != nil {
		values = r.values(s)
	}
	step.Text = wording.Say("step."+r.code, values)
	if r.line != nil {
		step.Line = r.line(s)
	}
	answer, answered := s.Answers[r.code]
	switch {
	case !safety.Permits(s.Safety, safety.Act{Work: r.work}).Allowed:
		step.State = Barred
	case r.measured(s):
		step.State, step.Measured = Done, true
	case answered:
		step.State, step.By, step.Note = answer.Value, answer.By, answer.Note
	}
	return step
}

// StepCodes lists every step there is.
func StepCodes() []string {
	codes := make([]string, len(rules))
	for i, r := range rules {
		codes[i] = r.code
	}
	return codes
}

// find is the row of a step.
func find(code string) (rule, bool) {
	i := slices.IndexFunc(rules, func(r rule) bool { return r.code == code })
	if i < 0 {
		return rule{}, false
	}
	return rules[i], true
}

// WorkOf is the work that a step of this name is; safety.None where no stop rule
// forbids it, or there is no such step.
func WorkOf(code string) safety.Work {
	r, _ := find(code)
	return r.work
}

// HasStep reports whether there is a step of this name.
func HasStep(code string) bool {
	_, ok := find(code)
	return ok
}

// Must reports a step that is answered before the keys go back.
func Must(code string) bool {
	r, _ := find(code)
	return r.must
}

// OfJob reports a step that is done once for the job and not for each battery.
func OfJob(code string) bool {
	r, _ := find(code)
	return r.stage == StageArrive || r.stage == StageVehicle || r.stage == StageFinish && !slices.Contains(ofEach, code)
}

// ofEach are the points of the closing list that each battery has of its own.
var ofEach = []string{"caps", "full_charge"}

// Words that the table of steps is made of.
func line(text string) func(*Situation) string { return func(*Situation) string { return text } }

func took(kinds ...reading.Kind) func(*Situation) bool {
	return func(s *Situation) bool { return s.measured(kinds...) }
}

func both(a, b func(*Situation) bool) func(*Situation) bool {
	return func(s *Situation) bool { return a(s) && b(s) }
}

func not(a func(*Situation) bool) func(*Situation) bool {
	return func(s *Situation) bool { return !a(s) }
}

func stateKnown(s *Situation) bool { return s.Assessment.ChargeState != nil }

// byLoad reports that a load of one's own is put on, not the starter.
func byLoad(s *Situation) bool { return s.judged() && !s.starter() }

func byStarter(s *Situation) bool { return s.judged() && s.starter() && s.cranks() }

// disturbed reports that the battery has been off: it was charged on a bench,
// goes, or its clamps were cleaned.
func disturbed(s *Situation) bool {
	return s.vehicle() &&
		(s.replaced() || s.action(diagnosis.Replace, diagnosis.CleanAndRetest) || s.small() && s.charged() || s.answered("isolate") || s.answered("charge_out"))
}

func (s *Situation) answered(code string) bool { return s.Answers[code].Value == Done }

func loadLine(s *Situation) string {
	if s.Plan.Amps == nil {
		return "load "
	}
	return fmt.Sprintf("load %gA %gs ", float64(*s.Plan.Amps), float64(s.Plan.Seconds))
}

func loadValues(s *Situation) wording.Values {
	values := wording.Values{"seconds": s.Plan.Seconds, "limit": s.Plan.Limit.Value}
	if s.Plan.Amps != nil {
		values["amps"] = *s.Plan.Amps
	}
	return values
}

// kindRate is the current that is kind to this battery: a tenth of its
// ampere-hours.
func kindRate(s *Situation) (quantity.Amperes, bool) {
	capacity, ok := s.Case.Capacity()
	if !ok {
		return 0, false
	}
	rate, _ := s.Case.Label.Chemistry.ChargeCurrent(capacity.Value)
	return quantity.Amperes(math.Round(float64(rate)*10) / 10), true
}

func hasRate(s *Situation) bool { _, ok := kindRate(s); return ok }

func rateValues(s *Situation) wording.Values {
	rate, _ := kindRate(s)
	return wording.Values{"amps": rate}
}

func ratingValues(s *Situation) wording.Values {
	if r := s.Case.Label.Rating; r != nil {
		return wording.Values{"rating": r.Value, "standard": string(r.Standard), "chemistry": string(s.Case.Label.Chemistry)}
	}
	return nil
}

func hasRating(s *Situation) bool { return s.Case.Label.Rating != nil }

func cellValues(s *Situation) wording.Values {
	return wording.Values{"cells": s.Case.Label.Cells(), "nominal": s.Case.Label.NominalV}
}

// rules are the steps of every stage.
var rules = slices.Concat(working, closing)

// working is the table of steps up to the verdict. They follow the handbook of the trade: the
// settings, looking first, charge state, cranking power, the vehicle's side,
// charging and the list before the keys go back. Common practice, no source,
// where a figure's own source does not say otherwise.
var working = []rule{
	// Arrive: before anything is opened.
	{code: "glasses", stage: StageArrive, cautions: []school.Caution{school.Acid, school.Tools}},
	{code: "orange", stage: StageArrive, when: (*Situation).electric, cautions: []school.Caution{school.HighVoltage}},
	{
		code:     "lithium_record",
		stage:    StageArrive,
		when:     func(s *Situation) bool { return s.Case.Label.Chemistry == "lifepo4" },
		cautions: []school.Caution{school.Lithium},
	},
	{code: "chemistry_ask", stage: StageArrive, when: func(s *Situation) bool { return s.Case.Label.Chemistry == "unknown" }},
	{code: "earth_words", stage: StageArrive, when: (*Situation).positiveEarth, cautions: []school.Caution{school.EarthSide}},
	{
		code:   "other_volts",
		stage:  StageArrive,
		when:   func(s *Situation) bool { v := s.Case.Label.NominalV; return v == 6 || v == 8 },
		values: cellValues,
	},
	{code: "in_series", stage: StageArrive, when: func(s *Situation) bool { return s.Case.Label.NominalV == 24 || s.joined(Series) }},
	{code: "two_parallel", stage: StageArrive, when: func(s *Situation) bool { return s.joined(Parallel) }},
	{code: "bank_alone", stage: StageArrive, when: func(s *Situation) bool { return s.joined(Bank) }},
	{code: "before_buying", stage: StageArrive, when: func(s *Situation) bool { return s.Purpose == Purchase }},
	{code: "shelf_age", stage: StageArrive, when: func(s *Situation) bool { return s.Purpose == Stock }},
	{code: "to_store", stage: StageArrive, when: purpose(BeforeStorage)},
	{code: "from_store", stage: StageArrive, when: purpose(AfterStorage), cautions: []school.Caution{school.FrozenOrDamaged}},
	{code: "still", stage: StageArrive, when: (*Situation).vehicle, cautions: []school.Caution{school.VehicleMoves}},
	{code: "key_blade", stage: StageArrive, when: lockedOut},
	{code: "feed_front", stage: StageArrive, when: both(lockedOut, (*Situation).remote)},
	{code: "outside_lead", stage: StageArrive, when: lockedOut},
	{code: "fob_cell", stage: StageArrive, when: func(s *Situation) bool { return s.symptom("locked_out") }},
	{code: "see_it", stage: StageArrive, when: func(s *Situation) bool {
		return s.vehicle() && s.Purpose != QuickLook && len(s.Case.Symptoms) > 0 && !s.symptom("preventive")
	}},

	// Look: nothing is clamped on yet.
	{code: "look_case", stage: StageLook, done: took(reading.Look)},
	{code: "look_posts", stage: StageLook, done: took(reading.Look)},
	{code: "look_strap", stage: StageLook, when: (*Situation).cranks},
	{code: "look_belt", stage: StageLook, when: (*Situation).cranks},
	{code: "look_level", stage: StageLook, when: (*Situation).opens, done: took(reading.Level), line: line("level ")},
	{
		code:  "look_eye",
		stage: StageLook,
		when:  func(s *Situation) bool { return s.Case.Label.EyeFitted != nil && *s.Case.Label.EyeFitted },
		done:  took(reading.Eye),
		line:  line("eye "),
	},
	{code: "look_label", stage: StageLook, when: (*Situation).judged, done: hasRating},
	{code: "look_date", stage: StageLook, done: func(s *Situation) bool { return s.Case.Label.Made != "" }},
	{code: "look_vent", stage: StageLook, when: (*Situation).remote},
	{code: "look_mat", stage: StageLook, when: (*Situation).side},
	{
		code:  "look_strip",
		stage: StageLook,
		when:  both((*Situation).small, func(s *Situation) bool { return s.Case.Label.Chemistry.ValveRegulated() }),
	},
	{code: "look_same", stage: StageLook, when: func(s *Situation) bool { return s.joined(Parallel, Series, Bank) }},
	{
		code:  "look_efb",
		stage: StageLook,
		when:  both((*Situation).startStop, func(s *Situation) bool { return s.Case.Label.Chemistry == "flooded" }),
	},

	// Charge state.
	{
		code:     "isolate",
		stage:    StageCharge,
		when:     func(s *Situation) bool { return s.joined(Parallel, Bank, Series) },
		cautions: []school.Caution{school.Electronics},
	},
	{code: "asleep_first", stage: StageCharge, when: (*Situation).electric, clock: Sleep},
	{code: "own_posts", stage: StageCharge, when: (*Situation).remote},
	{code: "side_adapters", stage: StageCharge, when: (*Situation).side},
	{code: "temperature", stage: StageCharge, when: (*Situation).judged, done: temperatureKnown, line: line("stood 8h ")},
	{code: "surface", stage: StageCharge, when: both((*Situation).judged, not((*Situation).electric)), done: stateKnown, clock: Lamps},
	{code: "rest", stage: StageCharge, when: (*Situation).judged, done: stateKnown, clock: Rest},
	{
		code:  "each_cell",
		stage: StageCharge,
		when:  both((*Situation).judged, (*Situation).opens),
		done:  took(reading.Gravity),
		line:  line("sg "),
	},
	{code: "dynamo", stage: StageCharge, when: func(s *Situation) bool { return s.kind("classic", "tractor") }},

	// Charge.
	{code: "clean_posts", stage: StageOnShelf, when: (*Situation).judged, work: safety.Charge},
	{
		code:     "plates_covered",
		stage:    StageOnShelf,
		when:     both((*Situation).judged, (*Situation).opens),
		cautions: []school.Caution{school.PlatesDry},
		work:     safety.Charge,
	},
	{
		code:     "charge_out",
		stage:    StageOnShelf,
		when:     both((*Situation).judged, (*Situation).small),
		cautions: []school.Caution{school.Lifting},
		work:     safety.Charge,
	},
	{
		code:     "charge_order",
		stage:    StageOnShelf,
		when:     (*Situation).judged,
		cautions: []school.Caution{school.Spark, school.Ventilation},
		work:     safety.Charge,
	},
	{code: "charge_rate", stage: StageOnShelf, when: both((*Situation).judged, hasRate), values: rateValues, work: safety.Charge},
	{
		code:  "charge_both",
		stage: StageOnShelf,
		when:  func(s *Situation) bool { return s.judged() && s.joined(Parallel) },
		work:  safety.Charge,
	},
	{
		code:     "charge_coil",
		stage:    StageOnShelf,
		when:     func(s *Situation) bool { return s.judged() && s.kind("mower") },
		cautions: []school.Caution{school.Exhaust},
		work:     safety.Charge,
	},
	{
		code:  "charge_check",
		stage: StageOnShelf,
		when:  (*Situation).judged,
		done:  took(reading.ChargeLog),
		line:  line("charge "),
		clock: ChargeCheck,
		work:  safety.Charge,
	},
	{code: "charge_quarter", stage: StageOnShelf, when: both((*Situation).judged, purpose(Stock)), values: quarter, work: safety.Charge},
	{code: "charge_rest", stage: StageOnShelf, when: (*Situation).judged, done: (*Situation).charged, clock: Rest},
	{code: "charge_lithium", stage: StageOnShelf, when: not((*Situation).judged), cautions: []school.Caution{school.Lithium}},

	// Crank power.
	{code: "crank_lithium", stage: StageCrank, when: not((*Situation).judged), cautions: []school.Caution{school.Lithium}},
	{
		code:     "aux_only",
		stage:    StageCrank,
		when:     both((*Situation).judged, (*Situation).electric),
		cautions: []school.Caution{school.HighVoltage},
	},
	{code: "knob_off", stage: StageCrank, when: byLoad, work: safety.Test},
	{code: "surface_off", stage: StageCrank, when: (*Situation).judged, done: stateKnown, clock: Lamps, work: safety.Test},
	{code: "crank_adapters", stage: StageCrank, when: both((*Situation).judged, (*Situation).side), work: safety.Test},
	{
		code:  "crank_alone",
		stage: StageCrank,
		when:  func(s *Situation) bool { return s.judged() && s.joined(Parallel, Bank, Series) },
		work:  safety.Test,
	},
	{
		code:   "load_on",
		stage:  StageCrank,
		when:   both(byLoad, func(s *Situation) bool { return s.Plan.Amps != nil }),
		done:   took(reading.Load),
		line:   loadLine,
		clock:  Load,
		values: loadValues,
		work:   safety.Test,
	},
	{code: "load_cool", stage: StageCrank, when: byLoad, clock: LoadCool, work: safety.Test},
	{
		code:     "no_start",
		stage:    StageCrank,
		when:     byStarter,
		cautions: []school.Caution{school.VehicleMoves, school.CrankingLimit},
		work:     safety.Test,
	},
	{
		code:   "starter_on",
		stage:  StageCrank,
		when:   byStarter,
		done:   took(reading.Load),
		line:   line("load starter "),
		clock:  Load,
		values: loadValues,
		work:   safety.Test,
	},
	{code: "starter_cool", stage: StageCrank, when: byStarter, clock: StarterCool, work: safety.Test},
	{
		code:   "tester_set",
		stage:  StageCrank,
		when:   both((*Situation).judged, hasRating),
		done:   took(reading.Conductance),
		values: ratingValues,
		work:   safety.Test,
	},

	// Vehicle.
	{code: "no_vehicle", stage: StageVehicle, when: not((*Situation).vehicle)},
	{
		code:     "run_idle",
		stage:    StageVehicle,
		when:     both((*Situation).cranks, func(s *Situation) bool { return !s.kind("classic", "tractor") }),
		takes:    reading.ChargingSystem,
		line:     line("running "),
		cautions: []school.Caution{school.Exhaust, school.VehicleMoves},
		work:     safety.Run,
	},
	{
		code:     "run_raised",
		stage:    StageVehicle,
		when:     (*Situation).cranks,
		done:     raisedTaken,
		takes:    reading.ChargingSystem,
		line:     line("running "),
		cautions: []school.Caution{school.Exhaust},
		work:     safety.Run,
	},
	{code: "run_managed", stage: StageVehicle, when: func(s *Situation) bool {
		m := s.Case.Vehicle.ManagedCharging
		return s.cranks() && (m != nil && *m || s.startStop())
	}},
	{code: "run_dynamo", stage: StageVehicle, when: func(s *Situation) bool { return s.kind("classic", "tractor") }},
	{code: "run_coil", stage: StageVehicle, when: func(s *Situation) bool { return s.kind("mower") }},
	{
		code:     "ripple",
		stage:    StageVehicle,
		when:     both((*Situation).cranks, not(func(s *Situation) bool { return s.kind("classic") })),
		takes:    reading.Ripple,
		line:     line("ripple "),
		cautions: []school.Caution{school.Exhaust},
		work:     safety.Run,
	},
	{
		code:     "dcdc",
		stage:    StageVehicle,
		when:     (*Situation).electric,
		takes:    reading.DCDC,
		line:     line("dcdc "),
		cautions: []school.Caution{school.HighVoltage},
	},
	{
		code:     "crank_volts",
		stage:    StageVehicle,
		when:     (*Situation).cranks,
		takes:    reading.Crank,
		line:     line("crank "),
		cautions: []school.Caution{school.VehicleMoves, school.CrankingLimit},
		clock:    CrankRest,
		work:     safety.Crank,
	},
	{
		code:     "starter_amps",
		stage:    StageVehicle,
		when:     (*Situation).cranks,
		takes:    reading.StarterDraw,
		line:     line("starter "),
		cautions: []school.Caution{school.VehicleMoves, school.CrankingLimit},
		clock:    StarterCool,
		work:     safety.Crank,
	},
	{
		code:     "drops",
		stage:    StageVehicle,
		when:     (*Situation).cranks,
		takes:    reading.Drop,
		line:     line("drop "),
		cautions: []school.Caution{school.VehicleMoves},
		work:     safety.Crank,
	},
	{code: "sleep", stage: StageVehicle, when: (*Situation).vehicle, clock: Sleep},
	{
		code:     "drain",
		stage:    StageVehicle,
		when:     (*Situation).vehicle,
		takes:    reading.Drain,
		line:     line("drain "),
		cautions: []school.Caution{school.Electronics},
	},
	{code: "top_leak", stage: StageVehicle, takes: reading.CaseLeak, line: line("case ")},
	{
		code:  "use",
		stage: StageVehicle,
		when:  (*Situation).vehicle,
		done:  func(s *Situation) bool { return s.told(reading.TripsWeek) },
		line:  line("trips "),
	},
}

// lockedOut reports a vehicle that cannot be opened without power.
func lockedOut(s *Situation) bool {
	return s.vehicle() && (s.symptom("locked_out") || s.electric() && s.symptom("silent"))
}

func temperatureKnown(s *Situation) bool {
	if s.told(reading.StoodC) {
		return true
	}
	return slices.ContainsFunc(s.Case.Readings, func(r evidence.Taken) bool { return r.Has(reading.BatteryC) })
}

func raisedTaken(s *Situation) bool {
	return slices.ContainsFunc(s.Case.Readings, func(r evidence.Taken) bool {
		return r.Kind == reading.ChargingSystem && r.Choice(reading.Speed) == "raised"
	})
}
