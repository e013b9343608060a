package use

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/integrate/quad"

	"grapnel/core/quantity"
)

func usual() Week {
	return Week{Trips: 6, Minutes: 20, Air: 10, Capacity: 60, Plates: "calcium"}
}

// TestOneStart checks 150 A for 3 s: 0.125 Ah, the integral of the current.
// Common practice, no source.
func TestOneStart(t *testing.T) {
	ah := quad.Fixed(func(float64) float64 { return 150 }, 0, 3.0/3600, 4, nil, 0)
	if got := float64(OneStart()); math.Abs(got-0.125) > 1e-12 || math.Abs(got-ah) > 1e-12 {
		t.Errorf("%v Ah", got)
	}
}

// TestBalance checks that the sum adds up, and what everybody knows: short, cold
// and few trips lose ground, a drain more so.
func TestBalance(t *testing.T) {
	b := usual().Balance()
	if got := b.In - b.Starts - b.Drain - b.Self - b.Loads; math.Abs(got-b.Net) > 1e-9 || b.Low >= b.In || b.High <= b.In {
		t.Errorf("%+v", b)
	}
	change := func(alter func(*Week)) Balance {
		w := usual()
		alter(&w)
		return w.Balance()
	}
	for name, worse := range map[string]Balance{
		"short":  change(func(w *Week) { w.Minutes = 5 }),
		"cold":   change(func(w *Week) { w.Air = -15 }),
		"few":    change(func(w *Week) { w.Trips = 2 }),
		"drain":  change(func(w *Week) { w.Drain = 0.2 }),
		"loads":  change(func(w *Week) { w.LoadsAmps = 2 }),
		"feeble": change(func(w *Week) { w.AlternatorAmps = 3 }),
	} {
		if worse.Net >= b.Net {
			t.Errorf("%s is no worse: %v against %v Ah", name, worse.Net, b.Net)
		}
	}
	if daily := change(func(w *Week) { w.Trips, w.Minutes, w.Air = 10, 40, 15 }); !daily.Holds || daily.Loses {
		t.Errorf("ten drives of forty minutes: %+v", daily)
	}
	if seldom := change(func(w *Week) { w.Trips, w.Minutes, w.Air, w.Drain = 2, 6, -5, quantity.Amperes(0.05) }); !seldom.Loses || seldom.Holds {
		t.Errorf("two short cold drives: %+v", seldom)
	}
}
