// Package diagnosis draws the conclusion from a case: how likely the battery is
// sound, what brought it here, what to do, what would change that, and which
// test to take next.
//
// The path is one: evidence.Examine says what each reading proves; gather finds
// what the rules ask (facts.go); the engine weighs a grid of batteries
// (grid.go, battery_side.go) and the faults of the vehicle (vehicle_side.go)
// against the readings, from priors that can be read as tables (priors.go), and
// believes (engine.go); the causes are ranked by it (causes.go), the rules of
// judgement stand above it and are never outvoted (verdict.go), and the next
// test is what settles most for its minutes (gain.go, next.go).
package diagnosis

import (
	"slices"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/safety"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// Action is what to do with the battery, in order of precedence.
type Action string

// The actions; the first that applies is the verdict.
const (
	StopUnsafe      Action = "stop_unsafe"
	Replace         Action = "replace"
	CleanAndRetest  Action = "clean_and_retest"
	ChargeAndRetest Action = "charge_and_retest"
	LookElsewhere   Action = "look_elsewhere"
	Keep            Action = "keep"
	MoreTests       Action = "more_tests"
)

// Actions lists them in that order.
func Actions() []Action {
	return []Action{StopUnsafe, Replace, CleanAndRetest, ChargeAndRetest, LookElsewhere, Keep, MoreTests}
}

// Condition is how likely each state of the battery is; the four sum to 1.
type Condition struct {
	Sound    float64 `json:"sound"`
	Worn     float64 `json:"worn"`
	DeadCell float64 `json:"dead_cell"`
	Damaged  float64 `json:"damaged"`
}

// Cause is something that holds or brought the battery here. Probabilities are
// marginal: several may be true, they need not sum to 1.
type Cause struct {
	Cause       string              `json:"cause"`
	Probability float64             `json:"probability"`
	For         []wording.Statement `json:"for"`
	Against     []wording.Statement `json:"against"`
}

// Next is a test worth taking, with its working minutes and the bits of
// certainty it should bring about what holds.
type Next struct {
	Test    string  `json:"test"`
	Minutes float64 `json:"minutes"`
	// Wait is the minutes that pass by themselves: a rest, a charge, a sleep.
	Wait float64 `json:"wait"`
	Gain float64 `json:"gain"`
	// Finds is how likely it finds a fault of the vehicle, whatever brought it here, 0 to 1;
	// 0 for a test of the battery.
	Finds float64           `json:"finds"`
	Text  wording.Statement `json:"text"`
	// Why says why this one.
	Why wording.Statement `json:"why"`
}

// Verdict is the action with its reasons. Cause is nil where the chemistry is
// not judged; Confidence is the probability that the action is right.
type Verdict struct {
	Action      Action              `json:"action"`
	Cause       *string             `json:"cause"`
	Confidence  float64             `json:"confidence"`
	Because     []wording.Statement `json:"because"`
	WouldChange []wording.Statement `json:"would_change"`
}

// Assessment is the whole answer to a case.
type Assessment struct {
	ChargeState *evidence.ChargeState `json:"charge_state"`
	Condition   Condition             `json:"condition"`
	Causes      []Cause               `json:"causes"`
	Findings    []evidence.Finding    `json:"findings"`
	Next        []Next                `json:"next"`
	Verdict     Verdict               `json:"verdict"`
	Cautions    []school.Caution      `json:"cautions"`
	// Stops are the stop rules that hold, with the readings each rests on.
	Stops []safety.Stop `json:"stops"`
	// Effects is what each reading did; empty where it was not asked for.
	Effects []Effect `json:"effects"`
}

// Assess judges a case. It is a pure function: the same case gives the same
// assessment.
func (e *Engine) Assess(c evidence.Case) Assessment { return e.assess(c, true) }

// Brief judges a case without saying which reading weighs how much.
func (e *Engine) Brief(c evidence.Case) Assessment { return e.assess(c, false) }

func (e *Engine) assess(c evidence.Case, explain bool) Assessment {
	ev := evidence.Examine(c)
	if !c.Label.Chemistry.Judged() {
		return notJudged(ev)
	}
	d := e.decide(ev)
	var without []belief
	if explain {
		without = d.leaveOut()
	}
	a := Assessment{
		ChargeState: ev.Last().Charge,
		Condition:   d.condition,
		Causes:      d.rank(d.likely, without),
		Findings:    ev.Findings,
		Cautions:    cautions(d.facts),
		Stops:       d.facts.stops,
		Effects:     d.effects(&d.belief, d.condition, without),
		Verdict:     d.verdict,
	}
	if a.Verdict.Action == Replace {
		a.Cautions = unique(append(a.Cautions, school.LiveClamp, school.Clearance))
	}
	a.Next = d.next(&d.belief, a.Verdict.Action)
	return a
}

// decision is a case weighed and judged.
type decision struct {
	*weighing
	belief    belief
	condition Condition
	likely    []likely
	verdict   Verdict
}

// decide weighs a case that can be judged and walks the rules.
func (e *Engine) decide(ev evidence.Evidence) decision {
	f := gather(ev)
	f.design, _ = e.Design(ev.Case.ModelLabel())
	f.shortReserve()
	d := decision{weighing: e.weigh(f)}
	d.belief = d.believe(nil)
	b := &d.belief
	d.condition = d.weighing.condition(b)
	f.turnsBadly = len(b.bornOut([]string{"starter_drag", "poor_connection"})) > 0
	f.rather, f.suspected = d.condition.Sound < 0.5, b.bornOut(f.suggested())
	if !f.rather {
		f.reserveShort = -1 // the rest does not bear it out
	}
	f.beyond = slices.DeleteFunc(f.beyond, func(i int) bool { return f.stillDrops(i) && b.faults[joint][1] < unlikely })
	d.likely = b.likelies(d.condition)
	d.verdict = judge(f, b, d.condition, d.likely)
	if doubt, ok := e.labelDoubt(f); ok {
		f.labelDoubted = true
		d.verdict.because(doubt)
	}
	return d
}

// notJudged answers for lithium and unknown chemistry: recorded, cautioned,
// never judged.
func notJudged(ev evidence.Evidence) Assessment {
	code, step := "because.unknown_chemistry", "next.ask_chemistry"
	list := []school.Caution{school.Defer, school.Tools, school.Lifting, school.Acid}
	if ev.Case.Label.Chemistry == battery.LiFePO4 {
		code, step = "because.lithium", "next.maker_instructions"
		list = []school.Caution{school.Lithium, school.Defer, school.Tools, school.Lifting}
	}
	stops := safety.Stops(ev)
	for _, stop := range stops {
		list = append(list, stop.Caution)
	}
	a := Assessment{
		Condition: Condition{0.25, 0.25, 0.25, 0.25},
		Causes:    []Cause{},
		Findings:  ev.Findings,
		Next:      []Next{{Test: "label", Minutes: 2, Text: wording.Say(step, nil), Why: wording.Say("why.label", nil)}},
		Effects:   []Effect{},
		Verdict: Verdict{
			Action: MoreTests, Confidence: 1,
			Because: []wording.Statement{wording.Say(code, nil)}, WouldChange: []wording.Statement{wording.Say(step, nil)},
		},
		Cautions: unique(list),
		Stops:    stops,
	}
	if len(stops) > 0 {
		// Never judged, but what is dangerous is that whatever it is made of.
		for _, s := range stops {
			a.Verdict.because(s.Caution.Say(s.Readings...))
		}
		a.Verdict.WouldChange = nil
		a.Verdict.change("change.clear_stop", nil)
		a.Next = []Next{clearStop()}
	}
	return a
}
