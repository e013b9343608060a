// Package shelf plans many charges: which battery goes on which channel of which charger
// and when, so that promises are kept first, then as few hours as can be are stood flat,
// then the work ends early. Clamps go on and off only while hands are there, and no place
// takes more of its mains or its air than it has.
package shelf

import (
	"slices"
	"time"

	"grapnel/core/battery"
	"grapnel/core/charging"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// Ask is a shelf that is asked about.
type Ask struct {
	Now time.Time
	// Zone is what the times of the plan are written in.
	Zone      *time.Location
	Channels  []Channel
	Places    []Place
	Batteries []Battery
	// Hands are when somebody is there to put clamps on and off; none for always.
	Hands []Window
}

// Channel is an output of a charger at a place.
type Channel struct {
	ID string
	// Place is the ID of where it stands; empty for nowhere in particular.
	Place   string
	Charger charging.Charger
	// Since is what is on it already; nil for nothing.
	Since *Since
}

// Since is a battery that is on a channel already, and from when on.
type Since struct {
	Battery string
	At      time.Time
}

// Place is where channels stand. What is nil is not limited.
type Place struct {
	ID string
	// Watts are those of its mains, AirM3h the fresh air it has, RoomM3 its volume.
	Watts, AirM3h, RoomM3 *float64
}

// Battery is one that is to be charged.
type Battery struct {
	ID string
	// Charge is what is asked of the charge itself: the label, how full it is, how warm,
	// until when it is charged. The charge of one that is on a channel is the one it had
	// when it was put on.
	Charge charging.Ask
	// ReadyBy is when it was promised for, nil for no promise; Weight is how much a minute
	// late counts.
	ReadyBy *time.Time
	Weight  float64
	// Standing is since when it stands, nil for not known.
	Standing *time.Time
	// Pin holds what a person has decided for it.
	Pin *Pin
}

// Pin is a decision of a person that the plan keeps: the channel, and not before when.
type Pin struct {
	Channel string
	From    *time.Time
}

// Window is a time from which and to which somebody is there, both bounds within.
type Window struct{ From, To time.Time }

// Plan is the shelf planned.
type Plan struct {
	Plan     []Block    `json:"plan"`
	Late     []Late     `json:"late"`
	Unplaced []Unplaced `json:"unplaced"`
	// Hours are how long each battery takes on each channel that it may go on.
	Hours map[string]map[string]Hours `json:"hours"`
	Cost  Cost                        `json:"cost"`
	Fixes []Fix                       `json:"fixes"`
	Air   []Air                       `json:"air"`
	// Decided is what the decisions of people cost, null where there are none.
	Decided  *wording.Statement  `json:"decided"`
	Cautions []school.Caution    `json:"cautions"`
	Assumed  []wording.Statement `json:"assumed"`
}

// Block is one battery on one channel. Testable and Full are null where the charger does
// not get there, Off where nobody is there to take it off again.
type Block struct {
	Battery  string     `json:"battery"`
	Channel  string     `json:"channel"`
	On       time.Time  `json:"on"`
	Testable *time.Time `json:"testable"`
	Full     *time.Time `json:"full"`
	Off      *time.Time `json:"off"`
	Amps     float64    `json:"amps"`
}

// Late is a battery that misses its promise, and by how many minutes.
type Late struct {
	Battery string  `json:"battery"`
	Minutes float64 `json:"minutes"`
}

// Unplaced is a battery that finds no channel, and why.
type Unplaced struct {
	Battery string            `json:"battery"`
	Why     wording.Statement `json:"why"`
}

// Hours are how long a battery takes on a channel; null where it does not get there.
type Hours struct {
	Testable *float64 `json:"testable"`
	Full     *float64 `json:"full"`
}

// Cost is what a plan costs: minutes late times their weight, the hours that batteries
// under 75 % stand so from now on, and the hours until the last is off.
type Cost struct {
	LateMinutes   float64 `json:"late_minutes"`
	FlatHours     float64 `json:"flat_hours"`
	MakespanHours float64 `json:"makespan_hours"`
}

// Fix is a way to be less late, and how many weighted minutes it saves.
type Fix struct {
	Text         string         `json:"text"`
	Code         string         `json:"code"`
	SavesMinutes float64        `json:"saves_minutes"`
	Values       wording.Values `json:"values"`
}

// Air is what a place needs for a time: fresh air in m³/h, and the free opening for it.
type Air struct {
	From       time.Time `json:"from"`
	To         time.Time `json:"to"`
	Place      string    `json:"place"`
	M3h        float64   `json:"m3h"`
	OpeningCm2 float64   `json:"opening_cm2"`
	Enough     bool      `json:"enough"`
}

// Planner plans shelves; it keeps the labels it has calibrated.
type Planner struct{ Charging charging.Planner }

// Plan plans a shelf. The same question has the same answer.
func (p Planner) Plan(a Ask) Plan {
	board := boardOf(a, p.pairs(a))
	best := board.search()
	plan := board.write(best, p.fixes(board, best))
	plan.Decided = board.decided(best)
	return plan
}

// decided says what is lost by the decisions of people: against the plan without them.
func (b *board) decided(best *order) *wording.Statement {
	free, count := b.ask, 0
	free.Batteries = slices.Clone(free.Batteries)
	for i := range free.Batteries {
		if free.Batteries[i].Pin != nil {
			free.Batteries[i].Pin = nil
			count++
		}
	}
	if count == 0 {
		return nil
	}
	without := boardOf(free, b.pairs).search().total
	lost := Cost{
		LateMinutes: best.total.read().LateMinutes - without.read().LateMinutes, FlatHours: hoursOf(best.total.flat - without.flat),
		MakespanHours: hoursOf(int64(best.total.last - without.last)),
	}
	code := "decided.nothing"
	switch {
	case best.total.unplaced > without.unplaced:
		code = "decided.unplaced"
	case lost.LateMinutes > 0:
		code = "decided.late"
	case best.total.late == without.late && lost.FlatHours > 0:
		code = "decided.flat"
	case best.total.late == without.late && best.total.flat == without.flat && lost.MakespanHours > 0:
		code = "decided.last"
	}
	said := wording.Say(code, wording.Values{
		"count": count, "unplaced": best.total.unplaced - without.unplaced, "minutes": lost.LateMinutes, "flat": lost.FlatHours, "last": lost.MakespanHours,
	})
	return &said
}

// Sulphates reports a battery that sulphates while it stands: one under the charge at which
// a test is worth making.
func Sulphates(c battery.Charge) bool { return c.Percent < school.JudgePercent }
