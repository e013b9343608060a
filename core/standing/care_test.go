package standing

import (
	"math"
	"math/rand/v2"
	"slices"
	"strconv"
	"testing"
	"time"

	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/twin"
)

const (
	carBattery   = `"battery":{"chemistry":"agm","nominal_v":12,"rating":{"value":760,"standard":"EN"},"capacity_ah":70}`
	bikeBattery  = `"battery":{"chemistry":"agm","nominal_v":12,"capacity_ah":11,"sealed":true}`
	classicSixV  = `"battery":{"chemistry":"flooded","nominal_v":6,"capacity_ah":70,"plates":"antimony","sealed":false}`
	mowerBattery = `"battery":{"chemistry":"flooded","nominal_v":12,"rating":{"value":230,"standard":"SAE"},"capacity_ah":28}`
	evBattery    = `"battery":{"chemistry":"agm","nominal_v":12,"capacity_ah":45}`
)

// cases are standing batteries as a technician would judge them: what fits, what does not, and
// which is best. Common practice, no source, where nothing else is said.
var cases = []struct {
	name, ask string
	fits, not []string
	first     string
}{
	{"a modern car for the winter, mains at hand", `{` + carBattery + `,"charge":{"percent":90},"vehicle":{"kind":"car","engine":"petrol","litres":2},"mains":true,"socket":{"live":true}}`,
		[]string{Maintain, BySocket, Apart, TakeIn, Visit}, []string{None, Bypass}, Maintain},
	{"the same for a fortnight, charged", `{` + carBattery + `,"charge":{"percent":100},"vehicle":{"kind":"car","engine":"petrol","litres":2},"days":10,"mains":true}`,
		[]string{None}, nil, None},
	{"no mains under the carport: disconnect it, or a panel", `{` + carBattery + `,"charge":{"percent":95},"vehicle":{"kind":"car","engine":"petrol","litres":2},"mains":false}`,
		[]string{Apart, TakeIn}, []string{Maintain, BySocket, Visit, None}, Apart},
	{"a socket that is dead with the key off", `{` + carBattery + `,"charge":{"percent":95},"vehicle":{"kind":"car"},"mains":true,"socket":{"live":false}}`,
		[]string{Maintain}, []string{BySocket}, Maintain},
	{"a socket nobody measured", `{` + carBattery + `,"charge":{"percent":95},"vehicle":{"kind":"car"},"mains":true}`,
		[]string{Maintain}, []string{BySocket}, Maintain},
	{"a tracker of 250 mA behind a 5 A fuse: the socket does not carry it", `{` + carBattery + `,"charge":{"percent":95},"vehicle":{"kind":"van"},"mains":true,"drain_ma":250,"socket":{"live":true,"fuse_a":5}}`,
		[]string{Maintain, Apart}, []string{BySocket, None, Bypass, Drive}, Maintain},
	{"a drain no maintainer may carry: find it", `{` + bikeBattery + `,"charge":{"percent":95},"vehicle":{"kind":"motorcycle"},"mains":true,"drain_ma":900}`,
		[]string{Apart}, []string{Maintain, Visit, None}, ""},
	{"a motorcycle in a heated shed", `{` + bikeBattery + `,"charge":{"percent":92},"vehicle":{"kind":"motorcycle","engine":"petrol","litres":0.6},"place":"heated","mains":true}`,
		[]string{Maintain, Apart, TakeIn}, []string{Solar, None}, Maintain},
	{"a mower at 66 % in a cold shed: in, or charged and off", `{` + mowerBattery + `,"charge":{"percent":66,"low":62,"high":70},"vehicle":{"kind":"mower","engine":"petrol"},"place":"unheated","climate":"cold","drain_ma":4}`,
		[]string{Maintain, Apart, TakeIn, Visit}, []string{None, Drive, Solar, Bypass}, Maintain},
	{"a classic on six volts, antimony, disconnected", `{` + classicSixV + `,"charge":{"percent":95},"vehicle":{"kind":"classic","engine":"petrol","litres":1.2},"connected":false,"place":"unheated","mains":false}`,
		[]string{TakeIn, None}, []string{Drive, Maintain}, None},
	{"an electric car for three months", `{` + evBattery + `,"charge":{"percent":90},"vehicle":{"kind":"electric"},"days":90,"mains":true}`,
		[]string{Maintain, Visit, Wake}, []string{None}, Maintain},
	{"a hybrid without mains: wake it", `{` + evBattery + `,"charge":{"percent":90},"vehicle":{"kind":"hybrid","engine":"petrol"},"days":90,"mains":false}`,
		[]string{Wake, Apart}, []string{Maintain, Visit, None}, ""},
	{"a loose new battery on the shelf", `{` + carBattery + `,"charge":{"percent":95},"vehicle":{"kind":"none"},"place":"heated","days":90,"mains":true}`,
		[]string{None, Maintain}, []string{Solar}, None},
	{"wake of a car that has no converter", `{` + carBattery + `,"charge":{"percent":95},"vehicle":{"kind":"car"},"care":["wake"]}`,
		nil, []string{Wake}, Wake},
	{"disconnecting what is off already", `{` + carBattery + `,"charge":{"percent":95},"vehicle":{"kind":"car"},"connected":false,"care":["disconnect","bypass","drive"]}`,
		nil, []string{Apart, Bypass, Drive}, ""},
	{"a panel in a polar night", `{` + carBattery + `,"charge":{"percent":95},"vehicle":{"kind":"car"},"climate":"polar","sun_kwh_m2":[0,0.5,2,4,5,6,6,4,2,1,0.1,0],"from":"2026-11-21","care":["solar"]}`,
		nil, []string{Solar}, Solar},
	{"a panel on a motorcycle outdoors", `{` + bikeBattery + `,"charge":{"percent":95},"vehicle":{"kind":"motorcycle"},"climate":"mild","care":["solar","none"]}`,
		[]string{Solar}, []string{None}, Solar},
}

func TestCases(t *testing.T) {
	for _, c := range cases {
		got := planner.Plan(ask(t, "%s", c.ask))
		find := func(kind string) *Care {
			i := slices.IndexFunc(got.Care, func(c Care) bool { return c.Kind == kind })
			if i < 0 {
				t.Errorf("%s: %s is not compared", c.name, kind)
				return &Care{}
			}
			return &got.Care[i]
		}
		for _, kind := range c.fits {
			if one := find(kind); !one.Fits {
				t.Errorf("%s: %s does not fit: %v", c.name, kind, one.Why)
			}
		}
		for _, kind := range c.not {
			if one := find(kind); one.Fits {
				t.Errorf("%s: %s fits: %v", c.name, kind, one.Why)
			}
		}
		if c.first != "" && got.Care[0].Kind != c.first {
			t.Errorf("%s: first is %s", c.name, got.Care[0].Kind)
		}
	}
}

// TestSocketBalance checks that what fits through a socket gains on what is taken: a month on
// the smallest maintainer that is said to do ends fuller than it began. Source: energy balance on
// the battery model, computed.
func TestSocketBalance(t *testing.T) {
	for _, drain := range []float64{5, 20, 45} {
		a := ask(t, `{%s,"charge":{"percent":80},"vehicle":{"kind":"car"},"mains":true,"drain_ma":%g,"socket":{"live":true,"fuse_a":20},"care":["maintain_by_socket"],"place":"heated"}`, carBattery, drain)
		c := planner.Plan(a).Care[0]
		if !c.Fits || c.Amps.Enough > 2 {
			t.Fatalf("%g mA: %+v", drain, c)
		}
		// Twice the drain and the self-discharge at the warmest of the season (15 °C, heated).
		self := battery.SelfDischarge("agm", 15) / 100 * 70 / 24
		if want := 2 * (drain*milli + self); math.Abs(c.Amps.Least-want) > 0.006 {
			t.Errorf("%g mA: least %g A, wanted %g", drain, c.Amps.Least, want)
		}
		design, _ := planner.Designs.Of(a.Label)
		b := design.New(twin.Sound, 80, 15)
		net := quantity.Amperes(c.Amps.Least - drain*milli)
		b.Charge(twin.Charger{Amps: net, Volts: 14.4}, 30*24, 100, 15, nil)
		if b.Percent() <= 80 {
			t.Errorf("%g mA: the least of %g A ends at %.1f %%", drain, c.Amps.Least, b.Percent())
		}
		if c.Amps.Least > c.Amps.Enough || c.Amps.Enough > c.Amps.Most {
			t.Errorf("%+v", c.Amps)
		}
	}
}

// TestVisits checks the days between nights on a charger: within the trade's most, and never
// beyond the day the low end comes to 12.4 V.
func TestVisits(t *testing.T) {
	every := func(battery, vehicle string, drain float64) int {
		a := ask(t, `{%s,"charge":{"percent":100},"vehicle":{"kind":"%s"},"mains":true,"drain_ma":%g,"from":"2026-11-21","care":["visit"]}`, battery, vehicle, drain)
		return *planner.Plan(a).Care[0].EveryDays
	}
	if got := every(carBattery, "car", 20); got != ConnectedDays {
		t.Errorf("20 mA of 70 Ah: every %d days, the most is %d", got, ConnectedDays)
	}
	if got := every(evBattery, "electric", 10); got != ElectricHigh {
		t.Errorf("an electric car: every %d days", got)
	}
	// 45 Ah at 72 mA lose 31 % in eight days.
	if got := every(evBattery, "electric", 72); got < 4 || got > 8 {
		t.Errorf("72 mA of 45 Ah: every %d days", got)
	}
	last := 99
	for _, drain := range []float64{10, 30, 60, 120, 300} {
		now := every(carBattery, "car", drain)
		if now > last {
			t.Errorf("%g mA: every %d days, less drain every %d", drain, now, last)
		}
		last = now
	}
}

// TestSolar checks a panel against the sum on paper: twice what is lost, at 13.5 V, through six
// tenths of the sun. Computed.
func TestSolar(t *testing.T) {
	a := ask(t, `{%s,"charge":{"percent":100},"vehicle":{"kind":"car"},"drain_ma":{"low":20,"high":20},"care":["solar"],"sun_kwh_m2":[1,1,1,1,1,1,1,1,1,1,1,0],"climate":%s,"from":"2026-02-01","days":60}`, carBattery, steady(15))
	c := planner.Plan(a).Care[0]
	lost := 0.020 + battery.SelfDischarge("agm", 15)/100*70/24
	if got, want := *c.SolarWatts[0], 2*lost*24*13.5/0.6; math.Abs(got-want) > 0.02*want || c.SolarWatts[11] != nil || len(c.SolarWatts) != 12 {
		t.Errorf("%g W, on paper %g", got, want)
	}
}

// TestTraction checks that a pack is spoken of for electric cars alone, apart from the 12 V.
func TestTraction(t *testing.T) {
	for kind, wanted := range map[string]bool{"electric": true, "car": false, "hybrid": false, "none": false} {
		got := planner.Plan(ask(t, `{%s,"vehicle":{"kind":"%s"}}`, evBattery, kind))
		if (got.Traction != nil) != wanted || wanted && (got.Traction.Low != 40 || got.Traction.High != 80) {
			t.Errorf("%s: %+v", kind, got.Traction)
		}
		if kind == "electric" && (got.Dates.Starts != nil || got.Curve[0].Starts != nil) {
			t.Error("an electric car cranks on 12 V")
		}
	}
}

// TestCompare checks that a later reading is held against its forecast, and that the drain behind
// it comes back from a track that was made with it.
func TestCompare(t *testing.T) {
	a := ask(t, `{%s,"charge":{"percent":95},"vehicle":{"kind":"car"},"drain_ma":30,"from":"2026-11-21","days":60}`, carBattery)
	on := a.From.AddDate(0, 0, 20)
	at := func(drain float64) battery.Charge {
		b := a
		d := Measured(quantity.Amperes(drain * milli))
		b.Drain = &d
		p := planner.Plan(b).Curve[20].Percent
		return battery.Charge{Percent: p, Low: p - 3, High: p + 3}
	}
	for _, c := range []struct {
		drain  float64
		inside bool
		code   string
	}{{30, true, "standing_off.inside"}, {32, true, "standing_off.inside"}, {90, false, "standing_off.less"}, {2, false, "standing_off.more"}} {
		o, ok := planner.Compare(a, on, at(c.drain))
		if !ok || o.Inside != c.inside || o.Say.Code != c.code || o.Drain == nil || math.Abs(float64(*o.Drain)*1000-c.drain) > 1 {
			t.Errorf("%g mA: %+v", c.drain, o)
		}
	}
	if o, _ := planner.Compare(a, on, battery.Charge{Percent: 100, Low: 98, High: 100}); o.Drain != nil || o.Say.Values["why"] != "off_charged" {
		t.Errorf("charged since: %+v", o)
	}
	if _, ok := planner.Compare(a, a.From, battery.Charge{}); ok {
		t.Error("the day itself is compared")
	}
}

// TestWalks checks rounds on random visits: each is made once and within its days, what is
// overdue today, a day has one walk, and there are no more walks than a search over all days
// needs.
func TestWalks(t *testing.T) {
	r := rand.New(rand.NewPCG(16, 2))
	today := time.Date(2026, 11, 29, 0, 0, 0, 0, time.UTC)
	for range 300 {
		var stops []Stop
		for i := range 1 + r.IntN(7) {
			from := today.AddDate(0, 0, r.IntN(16)-6)
			due := Due{From: from, To: from.AddDate(0, 0, r.IntN(5))}
			stops = append(stops, Stop{ID: strconv.Itoa(i), Place: string(rune('A' + r.IntN(3))), Due: due, Carry: []string{[]string{"meter", "charger", "chocks"}[r.IntN(3)]}})
		}
		walks := Walks(stops, today)
		made := map[string]int{}
		for i, w := range walks {
			if i > 0 && !w.On.After(walks[i-1].On) {
				t.Fatalf("two walks on %s", w.On)
			}
			for j, s := range w.Stops {
				made[s.ID]++
				late := s.Due.To.Before(today) && w.On.Equal(today)
				if !late && (w.On.Before(s.Due.From) || w.On.After(s.Due.To)) || j > 0 && w.Stops[j-1].Place > s.Place {
					t.Fatalf("%+v on %s", s, w.On)
				}
				if !slices.Contains(w.Carry, s.Carry[0]) {
					t.Fatalf("%v is not carried", s.Carry)
				}
			}
		}
		for _, s := range stops {
			if made[s.ID] != 1 {
				t.Fatalf("%s is made %d times", s.ID, made[s.ID])
			}
		}
		if least := fewest(stops, today); len(walks) != least {
			t.Fatalf("%d walks, %d would do", len(walks), least)
		}
	}
}

// fewest tries every set of days.
func fewest(stops []Stop, today time.Time) int {
	const days = 16
	best := days
	for set := range 1 << days {
		n, all := 0, true
		for d := range days {
			n += set >> d & 1
		}
		if n >= best {
			continue
		}
		for _, s := range stops {
			reached := false
			for d := range days {
				on := today.AddDate(0, 0, d)
				if set>>d&1 == 1 && (!on.Before(s.Due.From) && !on.After(s.Due.To) || s.Due.To.Before(today) && d == 0) {
					reached = true
				}
			}
			all = all && reached
		}
		if all {
			best = n
		}
	}
	return best
}

// TestNextVisit checks when somebody comes: by the interval, or before the early end of what
// would go wrong first.
func TestNextVisit(t *testing.T) {
	seen := time.Date(2026, 11, 21, 0, 0, 0, 0, time.UTC)
	if d := NextVisit(Dates{}, ApartDays, seen); d.Why != "interval" || !d.To.Equal(seen.AddDate(0, 0, ApartDays)) {
		t.Errorf("%+v", d)
	}
	if d := NextVisit(Dates{}, ConnectedDays, seen); !d.To.Equal(seen.AddDate(0, 0, ConnectedDays)) || !d.From.Before(d.To) {
		t.Errorf("%+v", d)
	}
	bad := Dates{Freezes: &When{Date: "2026-12-10", Early: "2026-12-10", Late: "2026-12-20"}, Below: &When{Date: "2026-11-30", Early: "2026-11-30", Late: "2026-12-04"}}
	if d := NextVisit(bad, ConnectedDays, seen); d.Why != "below" || d.To.Format(dateForm) != "2026-11-28" {
		t.Errorf("%+v", d)
	}
	wanted := seen.AddDate(0, 0, 20)
	for _, c := range []struct {
		on  time.Time
		why string
	}{{wanted, "wanted"}, {seen.AddDate(0, 2, 0), "interval"}, {seen.AddDate(0, 0, -1), "interval"}} {
		if d := NextVisit(Dates{}, ConnectedDays, seen).Wanted(c.on, seen); d.Why != c.why || c.why == "wanted" && !d.To.Equal(wanted) {
			t.Errorf("wanted on %s: %+v", c.on, d)
		}
	}
}
