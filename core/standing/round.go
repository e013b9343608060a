package standing

import (
	"cmp"
	"slices"
	"strings"
	"time"

	"grapnel/core/battery"
	"grapnel/core/evidence"
)

// Due is when somebody has to come, and why.
type Due struct {
	// From and To bound the visit: not before, and at the latest.
	From time.Time
	To   time.Time
	// Why is the code of what it is for: interval, below, no_start, freezes.
	Why string
}

const (
	// leadDays is how long before a bad day a visit begins to be due, and keepDays how long
	// before it the visit is at the latest. Values from memory.
	leadDays = 10
	keepDays = 2
	// windowDays is how long before its interval is over a visit may be made. Value from memory.
	windowDays = 10
)

// NextVisit is when a standing battery is looked at next: before its first bad day that a charge
// would help against, and at the latest so many days after it was seen.
func NextVisit(d Dates, every int, seen time.Time) Due {
	due := Due{To: seen.AddDate(0, 0, every), Why: "interval"}
	due.From = due.To.AddDate(0, 0, -min(windowDays, every/2))
	for _, bad := range []struct {
		when *When
		why  string
	}{{d.Freezes, "freezes"}, {d.ChargeLow, "no_start"}, {d.Below, "below"}} {
		if bad.when == nil {
			continue
		}
		at, err := time.Parse(dateForm, bad.when.Date)
		if err != nil {
			continue
		}
		if to := at.AddDate(0, 0, -keepDays); to.Before(due.To) {
			due = Due{From: at.AddDate(0, 0, -leadDays), To: to, Why: bad.why}
		}
	}
	return due
}

// wantedDays is how many days before it is wanted a vehicle is made ready. Value from memory.
const wantedDays = 7

// Wanted is a visit that is made sooner because it is wanted on a day, where that comes first
// and lies behind the day it was seen.
func (d Due) Wanted(on, seen time.Time) Due {
	if !on.Before(d.To) || !on.After(seen) {
		return d
	}
	return Due{From: on.AddDate(0, 0, -wantedDays), To: on, Why: "wanted"}
}

// usedDays is how long before it is put away a charge may have been read: what is older was
// driven since. Value from memory.
const usedDays = 3

// Holds reports a charge that was read lately enough to begin a forecast from.
func Holds(read, putAway time.Time) bool { return !read.Before(putAway.AddDate(0, 0, -usedDays)) }

// AfterNight is what a night on a charger leaves a battery with, percent. Values from memory.
var AfterNight = ChargeBand{Percent: 97, Low: 90, High: 100}

// Stop is one visit of a walk.
type Stop struct {
	ID string
	// Place is where it stands, and in what order it is walked past.
	Place string
	Due   Due
	// Carry is what is taken along for it.
	Carry []string
}

// Walk is a round: visits that are made on one day.
type Walk struct {
	On    time.Time
	Stops []Stop
	Carry []string
}

// Walks groups visits into as few walks as there can be while each is made within its days:
// on the last day of the one that is due first, with all that are due by then. What is
// overdue is due today. Within a walk places are walked in their order.
func Walks(stops []Stop, today time.Time) []Walk {
	left := slices.Clone(stops)
	last := func(s Stop) time.Time {
		if s.Due.To.Before(today) {
			return today
		}
		return s.Due.To
	}
	slices.SortStableFunc(left, func(a, b Stop) int {
		return cmp.Or(last(a).Compare(last(b)), strings.Compare(a.Place, b.Place), strings.Compare(a.ID, b.ID))
	})
	out := []Walk{}
	for len(left) > 0 {
		w := Walk{On: last(left[0])}
		rest := left[:0:0]
		for _, s := range left {
			if s.Due.From.After(w.On) {
				rest = append(rest, s)
				continue
			}
			w.Stops = append(w.Stops, s)
			for _, thing := range s.Carry {
				if !slices.Contains(w.Carry, thing) {
					w.Carry = append(w.Carry, thing)
				}
			}
		}
		left = rest
		slices.Sort(w.Carry)
		slices.SortStableFunc(w.Stops, func(a, b Stop) int {
			return cmp.Or(strings.Compare(a.Place, b.Place), a.Due.To.Compare(b.Due.To), strings.Compare(a.ID, b.ID))
		})
		out = append(out, w)
	}
	return out
}

// Carry is what is taken along to a visit: what is measured with, what it is charged with, and
// what keeps a vehicle where it is once its brake is freed.
func Carry(l battery.Label, v evidence.Vehicle, care, why string) []string {
	out := []string{}
	if why == "below" || why == "no_start" || why == "freezes" || care == Visit {
		out = append(out, "charger")
	}
	if slices.Contains([]string{"car", "van", "truck", "tractor", "classic", "hybrid", "electric"}, v.Kind) {
		out = append(out, "chocks")
	}
	if l.Opens() {
		out = append(out, "hydrometer")
	}
	return append(out, "meter")
}
