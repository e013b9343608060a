package trail

import (
	"slices"

	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/reading"
	"grapnel/core/wording"
)

// The list before the keys go back: each is answered done, not needed or not
// done with a reason, or the job is not handed back. Common practice, no source.
var closing = []rule{
	{code: "caps", stage: StageFinish, when: (*Situation).opens, must: true},
	{code: "strip", stage: StageFinish, when: (*Situation).small, must: true},
	{code: "vent_tube", stage: StageFinish, when: (*Situation).vented, must: true},
	{code: "hold_down", stage: StageFinish, when: (*Situation).vehicle, must: true},
	{code: "covers", stage: StageFinish, when: (*Situation).vehicle, must: true},
	{code: "joined_again", stage: StageFinish, when: func(s *Situation) bool { return s.joined(Parallel, Series, Bank) }, must: true},
	{code: "clips_off", stage: StageFinish, must: true},
	{code: "fitted", stage: StageFinish, when: (*Situation).replaces, done: (*Situation).replaced, must: true},
	{code: "clamps_tight", stage: StageFinish, when: (*Situation).replaced, must: true},
	{
		code: "charging_after", stage: StageFinish, when: func(s *Situation) bool { return s.replaced() && s.cranks() }, done: (*Situation).chargedAfter,
		line: func(*Situation) string { return "running " }, must: true,
	},
	{code: "joints", stage: StageFinish, when: (*Situation).jointWasHigh, done: func(s *Situation) bool { return !s.jointHigh() }, must: true},
	{
		code:  "full_charge",
		stage: StageFinish,
		when:  func(s *Situation) bool { return s.judged() && !s.action(diagnosis.Replace, diagnosis.StopUnsafe) },
		done:  (*Situation).full,
		must:  true,
	},
	{code: "cause", stage: StageFinish, when: func(s *Situation) bool { return s.Purpose == Repair }, must: true},
	{code: "choice", stage: StageFinish, when: func(s *Situation) bool { return s.Purpose == Repair }, must: true},
	{
		code: "register", stage: StageFinish, when: func(s *Situation) bool { return s.startStop() && (s.action(diagnosis.Replace) || s.replaced()) },
		must: true,
	},
	{code: "resets", stage: StageFinish, when: disturbed, must: true},
	{code: "acid_away", stage: StageFinish, when: func(s *Situation) bool { return s.action(diagnosis.CleanAndRetest) }, must: true},
	{code: "store_tested", stage: StageFinish, when: both((*Situation).judged, purpose(BeforeStorage, Stock)), done: (*Situation).passed, must: true},
	{code: "store_greased", stage: StageFinish, when: purpose(BeforeStorage), must: true},
	{code: "store_noted", stage: StageFinish, when: both((*Situation).judged, purpose(BeforeStorage)), done: (*Situation).restedLast, line: line(""), must: true},
	{code: "store_vehicle", stage: StageFinish, when: both((*Situation).vehicle, purpose(BeforeStorage)), must: true},
	{code: "store_away", stage: StageFinish, when: purpose(BeforeStorage), must: true},
	{code: "first_start", stage: StageFinish, when: both((*Situation).cranks, purpose(AfterStorage)), done: (*Situation).ran, line: line("running "), must: true},
	{code: "vehicle_again", stage: StageFinish, when: both((*Situation).vehicle, purpose(AfterStorage)), must: true},
	{code: "oldest_first", stage: StageFinish, when: purpose(Stock), must: true},
	{code: "bought_volts", stage: StageFinish, when: both((*Situation).judged, purpose(Purchase)), done: took(reading.OpenCircuit), must: true},
	{code: "bought_cells", stage: StageFinish, when: both((*Situation).opens, purpose(Purchase)), done: took(reading.Gravity), line: line("sg "), must: true},
	{code: "bought_load", stage: StageFinish, when: both((*Situation).judged, purpose(Purchase)), done: took(reading.Load), must: true},
	{code: "bought_each", stage: StageFinish, when: both(func(s *Situation) bool { return s.joined(Parallel, Series, Bank) }, purpose(Purchase)), must: true},
	{code: "keys", stage: StageFinish, when: (*Situation).vehicle, must: true},
}

// purpose is a rule for jobs of some purposes.
func purpose(of ...string) func(*Situation) bool {
	return func(s *Situation) bool { return slices.Contains(of, s.Purpose) }
}

// quarterMonths is how often new stock is charged. Common practice, no source.
const quarterMonths = 3

func quarter(*Situation) wording.Values { return wording.Values{"months": float64(quarterMonths)} }

// passed reports a test that counts and was passed: a doubtful battery is never stored.
func (s *Situation) passed() bool {
	return slices.ContainsFunc(s.Assessment.Findings, func(f evidence.Finding) bool {
		return f.Valid && f.Outcome == evidence.Pass && (f.Kind == reading.Load || f.Kind == reading.Conductance || f.Kind == reading.Reserve)
	})
}

// restedLast reports rested volts read after the full charge: those it is put away with.
func (s *Situation) restedLast() bool {
	return slices.ContainsFunc(s.Case.Readings, func(r evidence.Taken) bool { return r.Kind == reading.OpenCircuit && r.AfterCharge })
}

// ran reports charging volts: it was started.
func (s *Situation) ran() bool { return s.measured(reading.ChargingSystem) }

// replaces reports a battery that another one is to be fitted for, or was.
func (s *Situation) replaces() bool {
	return s.replaced() || s.Answers["choice"].Value == Done && s.Answers["choice"].Note == "replace"
}

func (s *Situation) replaced() bool { return s.Replaced != nil }

// chargedAfter reports charging volts that were read with the new battery in.
func (s *Situation) chargedAfter() bool {
	return slices.ContainsFunc(s.Case.Readings, func(t evidence.Taken) bool {
		return t.Kind == reading.ChargingSystem && s.replaced() && t.At.After(*s.Replaced)
	})
}

// jointWasHigh reports a joint that was beyond its limit once, jointHigh one that still is.
func (s *Situation) jointWasHigh() bool { ever, _ := s.highJoints(); return ever }

func (s *Situation) jointHigh() bool { _, now := s.highJoints(); return now }

// highJoints goes by the last drop at each place.
func (s *Situation) highJoints() (ever, now bool) {
	last := map[string]bool{}
	for i, f := range s.Assessment.Findings {
		if f.Kind != reading.Drop || i >= len(s.Case.Readings) {
			continue
		}
		high := f.Margin != nil && f.Margin.Value < 0
		ever = ever || high
		if f.Valid {
			last[s.Case.Readings[i].Choice(reading.Where)] = high
		}
	}
	for _, high := range last {
		now = now || high
	}
	return ever, now
}

// Measures reports a step whose answer may contradict what was measured.
func Measures(code string) bool { return code == "joints" }

// Refuses reports an answer to a step that what was measured contradicts: a joint that is
// still beyond its limit is not done, and not needless; it is left with a reason.
func Refuses(s *Situation, code, value string) bool {
	return code == "joints" && value != NotDone && value != "" && s.jointHigh()
}

// AskedAgain lists the points of the closing list that are asked again when a job is
// taken up again: what was fastened or taken off may have been touched since. Common
// practice, no source.
func AskedAgain() []string {
	return []string{"caps", "strip", "vent_tube", "hold_down", "covers", "joined_again", "clips_off", "keys"}
}

// vented reports a battery whose gas is led away by a tube.
func (s *Situation) vented() bool { return s.remote() || s.kind("motorcycle") && s.opens() }

// full reports a battery that leaves charged: after a full charge, or nearly full
// as it rests.
func (s *Situation) full() bool {
	state := s.Assessment.ChargeState
	return s.charged() || state != nil && state.Percent >= fullEnough
}

// fullEnough is the charge at which a battery leaves without another charge. Value
// from memory; that a customer's car leaves charged in full is common practice.
const fullEnough = 95

// Unanswered lists the steps of the closing list that nobody has answered yet.
func Unanswered(s *Situation) []Step {
	open := []Step{}
	for _, step := range Steps(s, StageFinish) {
		if step.Must && step.State == Open {
			open = append(open, step)
		}
	}
	return open
}

// Resets lists what the customer may have to set again once a battery has been
// off. Common practice, no source.
func Resets(s *Situation) []wording.Statement {
	list := []wording.Statement{}
	if !disturbed(s) {
		return list
	}
	say := func(code string) { list = append(list, wording.Say("reset."+code, nil)) }
	if s.kind("car", "van", "truck", "hybrid", "electric") {
		for _, code := range []string{"clock", "radio", "windows", "seat", "monitors"} {
			say(code)
		}
	} else {
		say("clock")
	}
	if s.startStop() {
		say("start_stop")
	}
	return list
}

// Watch lists what the customer is asked to watch, and when to come back.
func Watch(s *Situation) []wording.Statement {
	list := []wording.Statement{}
	say := func(code string) { list = append(list, wording.Say("watch."+code, nil)) }
	switch {
	case s.action(diagnosis.Replace, diagnosis.StopUnsafe):
		if !s.replaces() {
			say("no_trust")
		}
	case s.action(diagnosis.ChargeAndRetest, diagnosis.MoreTests, diagnosis.CleanAndRetest):
		say("not_settled")
	}
	if s.Answers["cause"].Value == NotDone {
		say("cause_unknown")
	}
	for _, c := range s.Assessment.Causes {
		if c.Probability >= worthWatching && wording.Has("watch."+c.Cause) {
			say(c.Cause)
		}
	}
	if len(list) == 0 {
		say("nothing")
	}
	return list
}

// worthWatching is the probability from which a cause is named to the customer as
// something to watch. Value from memory.
const worthWatching = 0.4

// Option is something the customer may choose, with what it would prove or cost.
type Option struct {
	Code string            `json:"code"`
	Text wording.Statement `json:"text"`
	// Proves says what it would prove, or what it leaves open.
	Proves wording.Statement `json:"proves"`
}

// options are what may be chosen on each verdict, the advised one first.
var options = map[diagnosis.Action][]string{
	diagnosis.StopUnsafe:      {"replace", "leave_out"},
	diagnosis.Replace:         {"replace", "confirm", "keep_anyway"},
	diagnosis.CleanAndRetest:  {"clean", "leave_as_is"},
	diagnosis.ChargeAndRetest: {"charge", "leave_as_is", "replace_unproven"},
	diagnosis.LookElsewhere:   {"find_cause", "charge_only", "leave_as_is"},
	diagnosis.Keep:            {"keep", "watch"},
	diagnosis.MoreTests:       {"more_tests", "leave_as_is"},
}

// Options lists what the customer may choose.
func Options(s *Situation) []Option {
	out := []Option{}
	for _, code := range options[s.Assessment.Verdict.Action] {
		o := Option{Code: code, Text: wording.Say("option."+code, nil), Proves: wording.Say("proves."+code, nil)}
		if code == "more_tests" && len(s.Assessment.Next) > 0 {
			o.Proves = s.Assessment.Next[0].Text
		}
		out = append(out, o)
	}
	return out
}

// OptionCodes lists every option there is.
func OptionCodes() []string {
	var codes []string
	for _, list := range options {
		for _, code := range list {
			if !slices.Contains(codes, code) {
				codes = append(codes, code)
			}
		}
	}
	slices.Sort(codes)
	return codes
}
