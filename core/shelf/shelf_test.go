package shelf

import (
	"fmt"
	"math/rand/v2"
	"os"
	"testing"
	"time"

	"grapnel/core/battery"
	"grapnel/core/charging"
	"grapnel/core/quantity"
	"grapnel/core/twin"
)

var planner = Planner{charging.Planner{Designs: new(twin.Designs)}}

var eight = time.Date(2026, 11, 24, 8, 0, 0, 0, time.UTC)

// made is a shelf made up from a seed: batteries and channels, what is promised, the hours
// of a shop, and how narrow its places are (0 for not at all).
type made struct {
	batteries, channels int
	promised            float64
	shopHours           bool
	narrow              float64
	began               int
}

func (m made) ask(seed uint64) Ask {
	r := rand.New(rand.NewPCG(seed, 7))
	a := Ask{Now: eight, Zone: time.UTC}
	sizes := []float64{12, 30, 45, 55, 60, 74, 95}
	for i := range m.batteries {
		l := battery.Label{Chemistry: battery.Flooded, NominalV: 12, CapacityAh: ptr(quantity.AmpereHours(sizes[r.IntN(len(sizes))]))}
		if r.IntN(4) == 0 {
			l.Chemistry = battery.AGM
		}
		percent := 10 + 80*r.Float64()
		at := quantity.Celsius(20)
		one := Battery{ID: fmt.Sprintf("b%d", i), Weight: float64(1 + r.IntN(3)), Charge: charging.Ask{
			Label: l, Charge: &battery.Charge{Percent: percent, Low: percent - 5, High: percent + 5}, BatteryC: &at, Where: charging.OnBench,
			Until: []string{charging.Testable, charging.Full, charging.Full}[r.IntN(3)], Attended: true,
		}}
		one.Charge.Case.Label = l
		if r.Float64() < m.promised {
			by := eight.Add(time.Duration(4+r.IntN(44)) * time.Hour)
			one.ReadyBy = &by
		}
		a.Batteries = append(a.Batteries, one)
	}
	watts, air := 0.0, 0.0
	for i := range m.channels {
		c := charging.Charger{Kind: charging.MultiStageKind, Amps: []quantity.Amperes{2, 4, 8}}
		switch r.IntN(4) {
		case 0:
			c.Amps = []quantity.Amperes{1, 3, 5}
		case 1:
			c.Amps = []quantity.Amperes{2, 10}
			c.Volts = ptr(quantity.Volts(14.4))
		}
		a.Channels = append(a.Channels, Channel{ID: fmt.Sprintf("c%d", i), Place: "shelf", Charger: c})
		watts, air = watts+120, air+1.5
	}
	if m.narrow > 0 {
		a.Places = []Place{{ID: "shelf", Watts: ptr(watts * m.narrow), AirM3h: ptr(air * m.narrow)}}
	}
	if m.shopHours {
		for day := range 30 {
			from := eight.AddDate(0, 0, day)
			a.Hands = append(a.Hands, Window{from, from.Add(10 * time.Hour)})
		}
	}
	for i := range m.began {
		a.Channels[i].Since = &Since{a.Batteries[i].ID, eight.Add(-time.Duration(r.IntN(300)) * time.Minute)}
	}
	return a
}

func ptr[T any](x T) *T { return &x }

var families = map[string]made{
	"loose":        {batteries: 40, channels: 12, promised: 0.5},
	"late":         {batteries: 40, channels: 12, promised: 1},
	"shop hours":   {batteries: 40, channels: 12, promised: 0.7, shopHours: true},
	"narrow":       {batteries: 40, channels: 12, promised: 0.5, narrow: 0.4},
	"narrow hours": {batteries: 40, channels: 12, promised: 0.7, shopHours: true, narrow: 0.5},
	"began":        {batteries: 40, channels: 12, promised: 0.8, shopHours: true, began: 6},
}

func BenchmarkPlan(b *testing.B) {
	for name, m := range families {
		b.Run(name, func(b *testing.B) {
			a := m.ask(1)
			planner.Plan(a)
			for b.Loop() {
				planner.Plan(a)
			}
		})
	}
}

func BenchmarkPairs(b *testing.B) {
	a := families["loose"].ask(1)
	planner.Plan(a)
	for b.Loop() {
		planner.pairs(a)
	}
}

var longs = map[string]cost{}

func TestQuality(t *testing.T) {
	var miss [4]int
	n := 0
	for name, m := range families {
		for seed := range uint64(6) {
			a := m.ask(seed)
			board := planner.board(a)
			got := board.search().total
			long := got
			key := fmt.Sprint(name, seed)
			file := "/tmp/longs/" + key
			if text, err := os.ReadFile(file); err == nil {
				fmt.Sscan(string(text), &long.unplaced, &long.late, &long.flat, &long.last)
			}
			if os.Getenv("LONG") != "" {
				open := make([]bool, len(a.Channels))
				for c := range open {
					open[c] = true
				}
				for luck := range uint64(2) {
					s := board.searcher(open, luck+10)
					s.work *= 100
					if o := s.run(board.empty()).total; o.compare(long) < 0 {
						long = o
					}
				}
			}
			if got.compare(long) < 0 {
				long = got
			}
			os.MkdirAll("/tmp/longs", 0o755)
			os.WriteFile(file, fmt.Append(nil, long.unplaced, long.late, long.flat, long.last), 0o644)
			r := func(x, y float64) float64 { return 100 * (x - y) / max(y, 1) }
			d := [4]float64{float64(got.unplaced - long.unplaced), r(float64(got.late), float64(long.late)), r(float64(got.flat), float64(long.flat)), r(float64(got.last), float64(long.last))}
			for i := range d {
				if d[i] > 1 {
					miss[i]++
					break
				}
			}
			n++
			t.Logf("%-14s %d: %.2f  %v", name, seed, d, long.read())
		}
	}
	t.Logf("missed of %d: %v", n, miss)
}
