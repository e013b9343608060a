package shelf

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"grapnel/core/battery"
	"grapnel/core/charging"
	"grapnel/core/quantity"
	"grapnel/core/twin"
)

var planner = Planner{charging.Planner{Designs: new(twin.Designs)}}

var eight = time.Date(2026, 11, 24, 8, 0, 0, 0, time.UTC)

// made is a shelf made up from a seed: batteries and channels, what share is promised, the
// hours of a shop, how narrow its place is (0 for not at all) and how many are on already.
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
		one := Battery{ID: fmt.Sprintf("b%d", i), Weight: float64(1 + r.IntN(3)), Charge: charging.Ask{
			Label: l, Charge: &battery.Charge{Percent: percent, Low: percent - 5, High: percent + 5}, BatteryC: ptr(quantity.Celsius(20)),
			Where: charging.OnBench, Until: []string{charging.Testable, charging.Full, charging.Full}[r.IntN(3)], Attended: true,
		}}
		if r.Float64() < m.promised {
			one.ReadyBy = ptr(eight.Add(time.Duration(4+r.IntN(44)) * time.Hour))
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
			c.Amps, c.Volts = []quantity.Amperes{2, 10}, ptr(quantity.Volts(14.4))
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

// plan asks as the command does: a question and an answer in JSON.
func plan(t testing.TB, question string) Plan {
	t.Helper()
	a, err := Decode(strings.NewReader(question), time.LoadLocation)
	if err != nil {
		t.Fatalf("%s: %v", question, err)
	}
	return planner.Plan(a)
}

// check holds a plan against its question, knowing nothing of how it was found: what may
// not be, and what it says it costs.
func check(t *testing.T, what string, a Ask, p Plan) {
	t.Helper()
	batteries, channels := map[string]Battery{}, map[string]Channel{}
	for _, b := range a.Batteries {
		batteries[b.ID] = b
	}
	for _, c := range a.Channels {
		channels[c.ID] = c
	}
	there := func(at time.Time) bool {
		return len(a.Hands) == 0 || slices.ContainsFunc(a.Hands, func(w Window) bool { return !at.Before(w.From) && !at.After(w.To) })
	}
	up := func(at time.Time) time.Time { return at.Add(time.Minute - time.Nanosecond).Truncate(time.Minute) }
	after := func(at time.Time, hours float64) time.Time {
		return up(at.Add(time.Duration(math.Round(hours*3600)) * time.Second))
	}
	var late, flat, end float64
	seen := map[string]bool{}
	for i, one := range p.Plan {
		b, c := batteries[one.Battery], channels[one.Channel]
		hours, allowed := p.Hours[one.Battery][one.Channel]
		began := c.Since != nil && c.Since.Battery == one.Battery
		if seen[one.Battery] || !allowed {
			t.Errorf("%s: %s is laid twice, or on a channel that it may not be on", what, one.Battery)
		}
		seen[one.Battery] = true
		if began && !one.On.Equal(c.Since.At) || !began && (one.On.Before(a.Now) || !there(one.On)) {
			t.Errorf("%s: %s goes on at %v", what, one.Battery, one.On)
		}
		ready := hours.Full
		if b.Charge.Until == charging.Testable {
			ready = hours.Testable
		}
		off := after(one.On, *ready)
		if off.Before(a.Now) {
			off = a.Now
		}
		for !there(off) {
			off = off.Add(time.Minute)
		}
		if !one.Off.Equal(off) || !one.Full.Equal(after(one.On, *hours.Full)) || !one.Testable.Equal(after(one.On, *hours.Testable)) {
			t.Errorf("%s: %s is off at %v, should be %v; hours %v", what, one.Battery, one.Off, off, *ready)
		}
		for _, other := range p.Plan[i+1:] {
			if other.Channel == one.Channel && other.On.Before(*one.Off) && one.On.Before(*other.Off) {
				t.Errorf("%s: %s and %s are on %s together", what, one.Battery, other.Battery, one.Channel)
			}
		}
		if b.ReadyBy != nil {
			late += max(0, one.Off.Sub(*b.ReadyBy).Minutes()) * b.Weight
		}
		if b.Charge.Charge.Percent < 75 {
			flat += max(0, one.Testable.Sub(a.Now).Hours())
		}
		end = max(end, one.Off.Sub(a.Now).Hours())
		checkPlaces(t, what, a, p, one.On)
	}
	for _, c := range a.Channels {
		if c.Since != nil && !seen[c.Since.Battery] {
			t.Errorf("%s: %s was on %s and is gone", what, c.Since.Battery, c.ID)
		}
	}
	near := func(name string, got, want float64) {
		if math.Abs(got-want) > 0.002 {
			t.Errorf("%s: %s is %v, counted anew %v", what, name, got, want)
		}
	}
	near("late minutes", p.Cost.LateMinutes, late)
	near("flat hours", p.Cost.FlatHours, flat)
	near("makespan", p.Cost.MakespanHours, end)
	if len(seen)+len(p.Unplaced) != len(a.Batteries) {
		t.Errorf("%s: %d laid and %d not, of %d", what, len(seen), len(p.Unplaced), len(a.Batteries))
	}
}

// checkPlaces adds up what is on at a time: amps times volts over 0.85, and the air of
// IEC 62485-2 worked out anew (handbook 12: 20 mA/Ah vented, 8 valve-regulated up to 2.40 V
// a cell, the whole current above).
func checkPlaces(t *testing.T, what string, a Ask, p Plan, at time.Time) {
	t.Helper()
	for _, place := range a.Places {
		watts, air := 0.0, 0.0
		for _, one := range p.Plan {
			i := slices.IndexFunc(a.Channels, func(c Channel) bool { return c.ID == one.Channel })
			b := slices.IndexFunc(a.Batteries, func(b Battery) bool { return b.ID == one.Battery })
			if a.Channels[i].Place != place.ID || one.On.After(at) || !one.Off.After(at) {
				continue
			}
			l := a.Batteries[b].Charge.Label
			volts, gas := 14.6, one.Amps
			if l.Chemistry == battery.AGM {
				volts = 14.55
			}
			if own := a.Channels[i].Charger.Volts; own != nil {
				volts = float64(*own)
				gas = 0.02 * float64(*l.CapacityAh)
				if l.Chemistry == battery.AGM {
					gas = 0.008 * float64(*l.CapacityAh)
				}
			}
			watts += one.Amps * volts / 0.85
			air += 0.05 * 6 * gas
		}
		if watts > *place.Watts+1e-6 || air > *place.AirM3h+1e-6 {
			t.Errorf("%s: at %v the place gives %.1f W and %.2f m³/h", what, at, watts, air)
		}
	}
}

// TestLaws makes shelves up and holds every plan against its question; the same question
// has the same answer.
func TestLaws(t *testing.T) {
	for seed := range uint64(24) {
		m := made{batteries: 4 + int(seed)%20, channels: 1 + int(seed)%7, promised: 0.6, shopHours: seed%2 == 0, narrow: float64(seed%3) * 0.3}
		m.began = min(int(seed)%4, m.channels)
		if m.narrow > 0 {
			m.began = 0
		}
		a, what := m.ask(seed), fmt.Sprintf("seed %d", seed)
		p := planner.Plan(a)
		check(t, what, a, p)
		first, err := json.Marshal(p)
		if err != nil {
			t.Fatal(err)
		}
		if second, err := json.Marshal(planner.Plan(a)); err != nil || !bytes.Equal(first, second) {
			t.Errorf("%s: another answer to the same question", what)
		}
	}
}

// TestOneMoreChargerNeverCostsMore adds channels one by one, few and many batteries.
func TestOneMoreChargerNeverCostsMore(t *testing.T) {
	for seed := range uint64(6) {
		m := made{batteries: 5 + 5*int(seed%3), channels: 6, promised: 0.7, shopHours: seed%2 == 0, narrow: 0.5 * float64(seed%2)}
		whole := m.ask(seed + 50)
		var last cost
		for n := 1; n <= m.channels; n++ {
			a := whole
			a.Channels = whole.Channels[:n]
			now := boardOf(a, planner.pairs(a)).search().total
			if n > 1 && now.compare(last) > 0 {
				t.Errorf("seed %d: %d channels cost %+v, one less %+v", seed, n, now, last)
			}
			last = now
		}
	}
}

// TestExact holds the plan of few batteries against every order on every channel, each laid
// minute by minute by code that shares nothing with the plan's.
func TestExact(t *testing.T) {
	for seed := range uint64(14) {
		m := made{batteries: 4, channels: 2, promised: 0.8, shopHours: seed%2 == 0, narrow: []float64{0, 0.45, 0.6}[seed%3]}
		if seed > 10 {
			m.channels, m.narrow = 3, 0.35
		}
		a := m.ask(seed + 100)
		got := planner.Plan(a)
		want := newNaive(a, got.Hours).best()
		if len(got.Unplaced) != want.unplaced || got.Cost != want.cost {
			t.Errorf("seed %d: got %+v with %d unplaced, best %+v with %d", seed, got.Cost, len(got.Unplaced), want.cost, want.unplaced)
		}
	}
}

// TestSevenOnThree holds the largest shelf that is weighed whole against the search that
// goes uphill, begun anew many times.
func TestSevenOnThree(t *testing.T) {
	for seed := range uint64(6) {
		a := made{batteries: 7, channels: 3, promised: 0.8, shopHours: seed%2 == 0, narrow: 0.5 * float64(seed%3)}.ask(seed + 200)
		b := boardOf(a, planner.pairs(a))
		got := b.search().total
		for luck := range uint64(6) {
			if other := b.searcher([]bool{true, true, true}, luck).run(b.empty()).total; other.compare(got) < 0 {
				t.Errorf("seed %d: got %+v, found %+v", seed, got, other)
			}
		}
	}
}

// TestDecided keeps what a person decided, whatever it costs.
func TestDecided(t *testing.T) {
	for seed := range uint64(6) {
		a := made{batteries: 9, channels: 3, promised: 0.8, shopHours: true}.ask(seed + 300)
		free := planner.Plan(a)
		at := eight.Add(3 * time.Hour)
		a.Batteries[4].Pin = &Pin{Channel: "c2", From: &at}
		a.Batteries[6].Pin = &Pin{Channel: "c1"}
		p := planner.Plan(a)
		check(t, "decided", a, p)
		for _, one := range p.Plan {
			if one.Battery == "b4" && (one.Channel != "c2" || !one.On.Equal(at)) || one.Battery == "b6" && (one.Channel != "c1" || !one.On.Equal(eight)) {
				t.Errorf("seed %d: %s goes on %s at %v", seed, one.Battery, one.Channel, one.On)
			}
		}
		if p.Decided == nil || p.Decided.Text == "" || free.Decided != nil {
			t.Errorf("seed %d: what it costs is not said: %+v", seed, p.Decided)
		}
		if p.Cost.LateMinutes < free.Cost.LateMinutes {
			t.Errorf("seed %d: decided costs %v, free %v", seed, p.Cost, free.Cost)
		}
	}
}

// families are the kinds of shelf that the search is measured on: 40 batteries on 12
// channels.
var families = []struct {
	name string
	made
}{
	{"loose", made{batteries: 40, channels: 12, promised: 0.5}},
	{"late", made{batteries: 40, channels: 12, promised: 1}},
	{"shop hours", made{batteries: 40, channels: 12, promised: 0.7, shopHours: true}},
	{"narrow", made{batteries: 40, channels: 12, promised: 0.5, narrow: 0.4}},
	{"narrow hours", made{batteries: 40, channels: 12, promised: 0.7, shopHours: true, narrow: 0.5}},
	{"began", made{batteries: 40, channels: 12, promised: 0.8, shopHours: true, began: 6}},
}

func BenchmarkPlan(b *testing.B) {
	for _, f := range families {
		b.Run(f.name, func(b *testing.B) {
			a := f.ask(1)
			planner.Plan(a)
			for b.Loop() {
				planner.Plan(a)
			}
		})
	}
}
