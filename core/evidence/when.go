package evidence

import (
	"time"

	"grapnel/core/problem"
)

// How far a reading's time may lie from the clock it is held against. Values from
// memory.
const (
	// ClocksApart is how far ahead of ours another clock of the shop may be: a time of
	// day so little in the future is today's.
	ClocksApart = 15 * time.Minute
	// deviceAhead is how far ahead a device may be that is then not believed; further,
	// its time is refused.
	deviceAhead = 24 * time.Hour
)

// Earliest is the earliest time a reading, a job or a promise is taken with: older
// than any battery still in use.
var Earliest = time.Date(1990, 1, 1, 0, 0, 0, 0, time.UTC)

// TakenAt is when a reading was taken, in UTC: as it says itself, else when it was
// typed, else now. Typed is the time of the device it was typed on, the zero time for
// not known. What it says is empty, a time of day of the zone (14:05), which is that
// day's or, where it would lie ahead, the day before's, or a whole RFC 3339 time. A time
// that cannot be is refused, under the field at or taken_at.
//
// It is the one place where time enters a case: keeping and correcting a reading, the
// clocks it starts, export and import, the server and the device all ask it.
func TakenAt(said string, typed, now time.Time, zone *time.Location) (time.Time, problem.List) {
	at := now
	switch {
	case typed.IsZero():
	case typed.After(now.Add(deviceAhead)) || typed.Before(Earliest):
		return time.Time{}, problem.List{OutOfReach("taken_at", typed, Earliest, now)}
	case typed.Before(now):
		at = typed
	}
	at = at.UTC().Truncate(time.Microsecond)
	if said == "" {
		return at, nil
	}
	if whole, err := time.Parse(time.RFC3339, said); err == nil {
		if whole.After(now.Add(ClocksApart)) || whole.Before(Earliest) {
			return time.Time{}, problem.List{OutOfReach("at", whole, Earliest, now)}
		}
		return whole.UTC().Truncate(time.Microsecond), nil
	}
	clock, err := time.Parse("15:04", said)
	if err != nil {
		return time.Time{}, problem.List{problem.New("problem.type", "at", said, "14:05, 2026-11-24T14:05:00Z")}
	}
	day := at.In(zone)
	of := time.Date(day.Year(), day.Month(), day.Day(), clock.Hour(), clock.Minute(), 0, 0, zone)
	if of.After(at.Add(ClocksApart)) {
		of = time.Date(day.Year(), day.Month(), day.Day()-1, clock.Hour(), clock.Minute(), 0, 0, zone)
	}
	return of.UTC(), nil
}

// TakenAgain is when a reading was taken whose line has been corrected: as the new line
// says, by the day of the old one; where it says nothing, as before. Received is when the
// old one reached us.
func TakenAgain(said string, before, received time.Time, zone *time.Location) (time.Time, problem.List) {
	if said == "" {
		return before, nil
	}
	typed, old, got := before, before.In(zone), received.In(zone)
	if got.After(old) && got.YearDay() == old.YearDay() && got.Year() == old.Year() {
		typed = received
	} else if next := time.Date(old.Year(), old.Month(), old.Day()+1, 0, 0, 0, 0, zone); received.After(next) {
		typed = next.Add(-time.Minute)
	}
	return TakenAt(said, typed, maxTime(received, typed), zone)
}

func maxTime(a, b time.Time) time.Time {
	if a.After(b) {
		return a
	}
	return b
}

// OutOfReach words a time outside of what is taken.
func OutOfReach(field string, given, from, to time.Time) problem.Problem {
	text := func(at time.Time) string { return at.UTC().Format(time.RFC3339) }
	return problem.New("problem.time", field, text(given), text(from)+" … "+text(to))
}

// Day is the day the case is judged, YYYY-MM-DD; empty for not said.
func (c Case) Day() string {
	if c.AsOf == "" && !c.Now.IsZero() {
		return c.Now.Format(time.DateOnly)
	}
	return c.AsOf
}
