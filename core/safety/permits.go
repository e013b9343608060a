package safety

import (
	"slices"
	"time"

	"grapnel/core/evidence"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// Work is what a stop rule may forbid.
type Work string

// The kinds of work. None is what no stop rule forbids: looking, resting, asking,
// measuring at rest, and checking a charge that runs, which is how it is seen to.
const (
	None   Work = ""
	Charge Work = "charge"
	Test   Work = "test"
	Crank  Work = "crank"
	Run    Work = "run"
	Jump   Work = "jump"
)

// forbids is the work that each stop rule forbids: on what is broken, frozen, gassing
// or hot no charge, no test under load or by a tester, no jump, and the engine that
// would do any of them neither cranked nor run. Common practice, no source.
var forbids = map[school.Caution][]Work{
	school.FrozenOrDamaged: {Charge, Test, Crank, Run, Jump},
	school.EyeClear:        {Charge, Test, Crank, Run, Jump},
	school.Gas:             {Charge, Test, Crank, Run, Jump},
	school.Hot:             {Charge, Test, Crank, Run, Jump},
	school.Runaway:         {Charge, Test, Crank, Run, Jump},
	school.LithiumHot:      {Charge, Test, Crank, Run, Jump},
	school.Reversed:        {Charge, Test, Crank, Run, Jump},
}

// workOf is the work a kind of reading is taken in.
var workOf = map[reading.Kind]Work{
	reading.Load: Test, reading.Conductance: Test, reading.Reserve: Test,
	reading.Crank: Crank, reading.StarterDraw: Crank, reading.Drop: Crank,
	reading.ChargingSystem: Run, reading.Ripple: Run, reading.Jump: Jump,
}

// WorkOf is the work a reading is taken in; None for one that no stop rule forbids.
func WorkOf(r reading.Reading) Work {
	if r.Kind == reading.Drop && r.Choice(reading.Condition) == "charging" {
		return Run
	}
	return workOf[r.Kind]
}

// State is what a battery's readings say of what may be done to it.
type State struct{ Stops []Stop }

// StateOf is the state of a battery by its evidence.
func StateOf(ev evidence.Evidence) State { return State{Stops(ev)} }

// Act is something about to be done, or done already and about to be written down.
type Act struct {
	Work Work
	// At is when it was done; the zero time for now. A stop rule raised after it does
	// not forbid it any more.
	At time.Time
}

// Decision is whether an act is allowed.
type Decision struct {
	Allowed bool `json:"allowed"`
	// Refusals are the stop rules that forbid it; none where it is allowed.
	Refusals []Refusal `json:"refusals"`
}

// Refusal is one stop rule that forbids an act.
type Refusal struct {
	Caution school.Caution `json:"stop"`
	// Reason says what stops it, Clears what has to be seen to before it is lifted.
	Reason wording.Statement `json:"reason"`
	Clears wording.Statement `json:"clears"`
}

// Permits decides whether an act is allowed in a state.
func Permits(s State, a Act) Decision {
	d := Decision{Allowed: true, Refusals: []Refusal{}}
	for _, stop := range s.Stops {
		if !slices.Contains(forbids[stop.Caution], a.Work) {
			continue
		}
		if !a.At.IsZero() && !stop.Since.IsZero() && a.At.Before(stop.Since) {
			continue
		}
		d.Allowed = false
		d.Refusals = append(d.Refusals, Refusal{
			Caution: stop.Caution, Reason: stop.Caution.Say(stop.Readings...),
			Clears: wording.Say("clears."+string(stop.Caution), nil, stop.Readings...),
		})
	}
	return d
}

// Works lists the kinds of work that may be forbidden.
func Works() []Work { return []Work{Charge, Test, Crank, Run, Jump} }

// Forbidden lists the work that stop rules forbid now; none where all is allowed.
func Forbidden(s State) []Work {
	out := []Work{}
	for _, w := range Works() {
		if !Permits(s, Act{Work: w}).Allowed {
			out = append(out, w)
		}
	}
	return out
}
