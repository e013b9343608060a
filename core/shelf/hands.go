package shelf

import (
	"cmp"
	"math"
	"slices"
	"time"
)

// never is a minute that does not come.
const never = math.MaxInt32

// span is a time in whole minutes, both bounds within.
type span struct{ from, to int }

// hands are the minutes in which somebody is there; always where always is true.
type hands struct {
	spans  []span
	always bool
}

// handsOf are windows as minutes, those that touch put together.
func handsOf(windows []Window, minute func(time.Time) int, whole func(time.Time) int) hands {
	if len(windows) == 0 {
		return hands{always: true}
	}
	var spans []span
	for _, w := range windows {
		if s := (span{minute(w.From), whole(w.To)}); s.to >= s.from {
			spans = append(spans, s)
		}
	}
	slices.SortFunc(spans, func(a, b span) int { return cmp.Or(a.from-b.from, a.to-b.to) })
	var out []span
	for _, s := range spans {
		if n := len(out); n > 0 && s.from <= out[n-1].to+1 {
			out[n-1].to = max(out[n-1].to, s.to)
			continue
		}
		out = append(out, s)
	}
	return hands{spans: out}
}

// next is the first minute from t on in which somebody is there, or never.
func (h *hands) next(t int) int {
	if h.always || t == never {
		return t
	}
	for i := range h.spans {
		if t <= h.spans[i].to {
			return max(t, h.spans[i].from)
		}
	}
	return never
}
