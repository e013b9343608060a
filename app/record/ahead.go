package record

import (
	"slices"
	"time"

	"grapnel/core/evidence"
)

// NotAhead is a time that was written down as it counts: one that lies ahead was stamped by a
// clock that was wrong, and counts as now. It is asked wherever a stored time is compared.
func NotAhead(at, now time.Time) time.Time {
	if at.After(now) {
		return now
	}
	return at
}

// received are rows with the times at which they came in put right: none came in later than one
// that was written down behind it, whatever the clock said then. Rows that wait on a device have
// come in nowhere yet.
func received(rows []Reading) []Reading {
	out := slices.Clone(rows)
	slices.SortStableFunc(out, func(a, b Reading) int { return a.Ordinal - b.Ordinal })
	var least time.Time
	for i := len(out) - 1; i >= 0; i-- {
		r := &out[i]
		if r.ReceivedAt.IsZero() {
			continue
		}
		if !least.IsZero() {
			r.ReceivedAt = NotAhead(r.ReceivedAt, least)
		}
		least = r.ReceivedAt
		r.TakenAt = notTakenAfter(r.TakenAt, r.ReceivedAt)
	}
	return out
}

// notTakenAfter is when a reading was taken that came in at a time: a little later than that is
// another clock's.
func notTakenAfter(taken, received time.Time) time.Time {
	if taken.Sub(received) > evidence.ClocksApart {
		return received
	}
	return taken
}

// NotTakenAhead are readings as they are judged at a moment: none was taken behind it.
func NotTakenAhead(taken []evidence.Taken, now time.Time) []evidence.Taken {
	for i := range taken {
		taken[i].At = NotAhead(taken[i].At, now)
	}
	return taken
}
