package shelf

import (
	"fmt"
	"math"
	"strings"
	"testing"
	"time"
)

const (
	flooded = `"battery": {"chemistry": "flooded", "nominal_v": 12, "capacity_ah": 60}`
	agm     = `"battery": {"chemistry": "agm", "nominal_v": 12, "capacity_ah": 60}`
	ten     = `"charger": {"kind": "supply", "amps": 10, "volts": 14.4}`
)

// shelfOf is a question: channels and batteries in JSON, and what else is asked.
func shelfOf(channels, batteries, more string) string {
	return fmt.Sprintf(`{"now": "2026-11-24T08:00:00Z", "channels": [%s], "batteries": [%s]%s}`, channels, batteries, more)
}

// TestAir works the air of a place out by hand. Source: IEC 62485-2 / EN 50272-2, value from
// memory: 60 Ah vented at 20 mA/Ah into six cells need 0.05 × 6 × 1.2 = 0.36 m³/h, at 14.4 V,
// which is 2.40 V a cell; a charger of 14.6 V at 10 A 3 m³/h; valve-regulated at 8 mA/Ah 0.144;
// the opening is 28 cm² for each m³/h.
func TestAir(t *testing.T) {
	places := `, "places": [{"id": "p", "air_m3h": 3.2}]`
	for _, c := range []struct {
		battery, charger string
		m3h              float64
	}{
		{flooded, ten, 0.36},
		{flooded, `"charger": {"kind": "supply", "amps": 10}`, 3},
		{agm, ten, 0.144},
		{flooded, `"charger": {"kind": "constant", "amps": 10, "volts": 14.4}`, 3},
	} {
		p := plan(t, shelfOf(`{"id": "a", "place": "p", `+c.charger+`}`, `{"id": "1", "charge": {"percent": 50}, `+c.battery+`}`, places))
		if len(p.Air) != 1 || math.Abs(p.Air[0].M3h-c.m3h) > 1e-3 || math.Abs(p.Air[0].OpeningCm2-28*c.m3h) > 1e-2 || !p.Air[0].Enough {
			t.Errorf("%s %s: %+v", c.battery, c.charger, p.Air)
		}
	}
	two := `{"id": "1", "charge": {"percent": 50}, ` + flooded + `}, {"id": "2", "charge": {"percent": 50}, ` + flooded + `}`
	channels := `{"id": "a", "place": "p", "charger": {"kind": "supply", "amps": 10}}, {"id": "b", "place": "p", "charger": {"kind": "supply", "amps": 10}}`
	p := plan(t, shelfOf(channels, two, places))
	if len(p.Plan) != 2 || p.Plan[0].Off.After(p.Plan[1].On) && p.Plan[1].Off.After(p.Plan[0].On) {
		t.Errorf("two that need 3 m³/h each are on together in 3.2: %+v", p.Plan)
	}
	on := strings.ReplaceAll(channels, `"place": "p", `, `"place": "p", "since": {"battery": "1", "at": "2026-11-24T07:00:00Z"}, `)
	p = plan(t, shelfOf(strings.Replace(on, `"since": {"battery": "1"`, `"since": {"battery": "2"`, 1), two, `, "places": [{"id": "p", "air_m3h": 3.2}]`))
	if len(p.Air) == 0 || p.Air[0].Enough || p.Air[0].M3h != 6 {
		t.Errorf("two that are on already need 6 m³/h, and it is said: %+v", p.Air)
	}
}

// TestWatts lets two batteries wait for each other where the mains carry one: 10 A at 14.4 V
// over 0.85 are 169.4 W.
func TestWatts(t *testing.T) {
	channels := `{"id": "a", "place": "p", ` + ten + `}, {"id": "b", "place": "p", ` + ten + `}`
	two := `{"id": "1", "charge": {"percent": 50}, ` + flooded + `}, {"id": "2", "charge": {"percent": 60}, ` + flooded + `}`
	for _, c := range []struct {
		watts    float64
		together bool
		unplaced int
	}{{338, false, 0}, {339, true, 0}, {169, false, 2}} {
		p := plan(t, shelfOf(channels, two, fmt.Sprintf(`, "places": [{"id": "p", "watts": %v}]`, c.watts)))
		if len(p.Unplaced) != c.unplaced {
			t.Errorf("%v W: %+v", c.watts, p.Unplaced)
			continue
		}
		if c.unplaced > 0 {
			if p.Unplaced[0].Why.Code != "unplaced.place_too_small" {
				t.Errorf("%v W: why %+v", c.watts, p.Unplaced[0].Why)
			}
			continue
		}
		if together := p.Plan[0].On.Equal(p.Plan[1].On); together != c.together {
			t.Errorf("%v W: together %v", c.watts, together)
		}
	}
}

// TestUnplaced says why a battery has no place, as the charge itself would.
func TestUnplaced(t *testing.T) {
	one := func(inside string) string { return `{"id": "1", ` + inside + `}` }
	half := `"charge": {"percent": 50}, ` + flooded
	for _, c := range []struct{ channels, battery, more, want string }{
		{``, one(half), ``, "unplaced.no_channel"},
		{`{"id": "a", ` + ten + `}`, one(`"charge": {"percent": 50}, "battery": {"chemistry": "lifepo4", "nominal_v": 12}`), ``, "refusal.lithium"},
		{`{"id": "a", ` + ten + `}`, one(`"charge": {"percent": 5}, "battery_c": -20, ` + flooded), ``, "refusal.frozen"},
		{`{"id": "a", "charger": {"kind": "supply", "amps": 40}}`, one(half), ``, "refusal.too_many_amps"},
		{`{"id": "a", "charger": {"kind": "maintainer", "amps": 0.05}}`, one(half), ``, "unplaced.never_ready"},
		{`{"id": "a", ` + ten + `}`, one(half), `, "hands": [{"from": "2026-11-24T08:00:00Z", "to": "2026-11-24T09:00:00Z"}]`, "unplaced.no_hands"},
		{`{"id": "a", "charger": {"kind": "supply", "amps": 10, "settings": ["agm"]}}`, one(half), ``, "refusal.no_setting"},
	} {
		p := plan(t, shelfOf(c.channels, c.battery, c.more))
		if len(p.Unplaced) != 1 || p.Unplaced[0].Why.Code != c.want || p.Unplaced[0].Why.Text == "" || len(p.Plan) != 0 {
			t.Errorf("%s %s: %+v, want %s", c.channels, c.battery, p.Unplaced, c.want)
		}
	}
}

// TestCautions shows those of the batteries that are on the shelf.
func TestCautions(t *testing.T) {
	one := `{"id": "a", ` + ten + `}`
	for _, c := range []struct{ battery, has string }{
		{`"charge": {"percent": 5}, "battery_c": -20, ` + flooded, "frozen-or-damaged"},
		{`"charge": {"percent": 50}, "battery": {"chemistry": "lifepo4", "nominal_v": 12}`, "lithium"},
		{`"charge": {"percent": 50}, ` + agm, "runaway"},
		{`"charge": {"percent": 50}, "until": "equalise", ` + flooded, "high-volts"},
		{`"charge": {"percent": 50}, ` + flooded, "defer"},
	} {
		p := plan(t, shelfOf(one, `{"id": "1", `+c.battery+`}`, ``))
		found := false
		for _, caution := range p.Cautions {
			found = found || string(caution) == c.has
		}
		if !found || len(p.Cautions) > 8 {
			t.Errorf("%s: %v, want %s", c.battery, p.Cautions, c.has)
		}
	}
}

// TestHands puts clamps on and off within the hours of the shop, both bounds within, and
// leaves a battery that is ready at night on until the morning.
func TestHands(t *testing.T) {
	hands := `, "hands": [{"from": "2026-11-24T09:30:00Z", "to": "2026-11-24T12:00:00Z"}, {"from": "2026-11-25T08:00:00Z", "to": "2026-11-25T12:00:00Z"}]`
	p := plan(t, shelfOf(`{"id": "a", `+ten+`}`, `{"id": "1", "charge": {"percent": 50}, "ready_by": "2026-11-24T20:00:00Z", "weight": 2, `+flooded+`}`, hands))
	one := p.Plan[0]
	if at := func(x time.Time) string { return x.Format("02 15:04") }; at(one.On) != "24 09:30" || at(*one.Off) != "25 08:00" || !one.Full.Before(*one.Off) {
		t.Errorf("on %v, full %v, off %v", one.On, one.Full, one.Off)
	}
	if len(p.Late) != 1 || p.Late[0].Minutes != 720 || p.Cost.LateMinutes != 1440 {
		t.Errorf("late %+v, cost %+v: twelve hours, counted twice", p.Late, p.Cost)
	}
	codes := map[string]float64{}
	for _, f := range p.Fixes {
		codes[f.Code] = f.SavesMinutes
	}
	if codes["tomorrow"] != 1440 || len(p.Fixes) != 1 {
		t.Errorf("fixes %+v", p.Fixes)
	}
}

// TestFixes finds each way to be less late where it is the one that helps.
func TestFixes(t *testing.T) {
	for _, c := range []struct{ what, question, code string }{
		{"more amps", shelfOf(`{"id": "a", "charger": {"kind": "multi_stage", "amps": [6, 20]}}`, `{"id": "1", "charge": {"percent": 20}, "ready_by": "2026-11-24T14:00:00Z", `+flooded+`}`, ``), "amps"},
		{"more amps for one that is on", shelfOf(`{"id": "a", "charger": {"kind": "multi_stage", "amps": [6, 20]}, "since": {"battery": "1", "at": "2026-11-24T07:00:00Z"}}`, `{"id": "1", "charge": {"percent": 20}, "ready_by": "2026-11-24T14:00:00Z", `+flooded+`}`, ``), "amps"},
		{"one more charger", shelfOf(`{"id": "a", `+ten+`}`, `{"id": "1", "charge": {"percent": 20}, "ready_by": "2026-11-24T18:00:00Z", `+flooded+`}, {"id": "2", "charge": {"percent": 20}, "ready_by": "2026-11-24T18:00:00Z", `+flooded+`}`, ``), "charger"},
		{"stay an hour", shelfOf(`{"id": "a", `+ten+`}`, `{"id": "1", "charge": {"percent": 50}, "ready_by": "2026-11-24T20:00:00Z", `+flooded+`}`, `, "hands": [{"from": "2026-11-24T08:00:00Z", "to": "2026-11-24T13:10:00Z"}, {"from": "2026-11-25T08:00:00Z", "to": "2026-11-25T12:00:00Z"}]`), "hands"},
	} {
		p := plan(t, c.question)
		found := false
		for _, f := range p.Fixes {
			found = found || f.Code == c.code && f.SavesMinutes > 0 && f.Text != "" && !strings.Contains(f.Text, "{")
		}
		if !found {
			t.Errorf("%s: late %+v, plan %+v, fixes %+v", c.what, p.Late, p.Plan, p.Fixes)
		}
	}
}

// TestSoonerOnes lays the flat before the full, and those promised before both.
func TestSoonerOnes(t *testing.T) {
	p := plan(t, shelfOf(`{"id": "a", `+ten+`}`, `{"id": "full", "charge": {"percent": 80}, `+flooded+`}, {"id": "flat", "charge": {"percent": 40}, `+flooded+`}`, ``))
	if p.Plan[0].Battery != "flat" || p.Cost.LateMinutes != 0 {
		t.Errorf("the flat one waits: %+v", p.Plan)
	}
	p = plan(t, shelfOf(`{"id": "a", `+ten+`}`, `{"id": "full", "charge": {"percent": 80}, "ready_by": "2026-11-24T13:00:00Z", `+flooded+`}, {"id": "flat", "charge": {"percent": 40}, `+flooded+`}`, ``))
	if p.Plan[0].Battery != "full" || p.Cost.LateMinutes != 0 {
		t.Errorf("the promised one waits: %+v", p.Plan)
	}
	p = plan(t, shelfOf(``, ``, ``))
	if p.Plan == nil || p.Late == nil || p.Unplaced == nil || p.Fixes == nil || p.Air == nil || p.Hours == nil || p.Cost != (Cost{}) {
		t.Errorf("an empty shelf: %+v", p)
	}
}

// TestZone writes the times in the zone that is asked for, over the end of summer time.
func TestZone(t *testing.T) {
	question := `{"now": "2026-10-24T22:00:00Z", "zone": "Europe/Berlin", "channels": [{"id": "a", ` + ten + `}], "batteries": [{"id": "1", "charge": {"percent": 40}, ` + flooded + `}]}`
	p := plan(t, question)
	one := p.Plan[0]
	if one.On.Format(time.RFC3339) != "2026-10-25T00:00:00+02:00" || one.Off.Format("-07:00") != "+01:00" {
		t.Errorf("on %v, off %v", one.On.Format(time.RFC3339), one.Off.Format(time.RFC3339))
	}
	if took := one.Off.Sub(one.On).Hours(); math.Abs(took-*p.Hours["1"]["a"].Full) > 1.0/60 {
		t.Errorf("it takes %v h, hours say %v", took, *p.Hours["1"]["a"].Full)
	}
}

// TestBadQuestions names every field that is wrong.
func TestBadQuestions(t *testing.T) {
	question := `{"zone": "Nowhere/Else", "what": 1, "places": [{"id": "p", "watts": -1}, {"id": "p"}],
		"channels": [{"id": "a", "place": "q", "charger": {"kind": "x", "amps": 0}, "since": {"battery": "9", "at": "now"}}, {"charger": 3}],
		"batteries": [{"id": "1", "charge": {"percent": 101}, "weight": -1, "until": "later", "pin": {"channel": "z"}, ` + flooded + `}, {"id": "", "color": "red"}],
		"hands": [{"from": "2026-11-24T08:00:00Z", "to": "2026-11-24T07:00:00Z"}, {}]}`
	_, err := Decode(strings.NewReader(question), time.LoadLocation)
	if err == nil {
		t.Fatal("taken")
	}
	for _, field := range []string{
		"now ", "zone:", "what ", "places[0].watts", "places[1].id", "channels[0].place", "channels[0].charger.kind", "channels[0].charger.amps",
		"channels[0].since.battery", "channels[0].since.at", "channels[1].id", "channels[1].charger", "batteries[0].charge.percent",
		"batteries[0].weight", "batteries[0].until", "batteries[0].pin.channel", "batteries[1].id", "batteries[1].color", "batteries[1].battery",
		"hands[0].to", "hands[1].from",
	} {
		if !strings.Contains(err.Error(), field) {
			t.Errorf("%s is not named in:\n%v", field, err)
		}
	}
}

// FuzzDecode takes anything for a question: it is refused, or planned with nothing broken.
func FuzzDecode(f *testing.F) {
	f.Add(shelfOf(`{"id": "a", `+ten+`}`, `{"id": "1", "charge": {"percent": 50}, `+flooded+`}`, `, "hands": []`))
	f.Add(shelfOf(`{"id": "a", "place": "p", `+ten+`, "since": {"battery": "1", "at": "2026-11-23T08:00:00Z"}}`, `{"id": "1", "charge": {"percent": 0}, "ready_by": "2026-11-24T08:00:00Z", `+agm+`}`, `, "places": [{"id": "p", "watts": 0}]`))
	f.Add(`{"now": null}`)
	f.Fuzz(func(t *testing.T, question string) {
		a, err := Decode(strings.NewReader(question), time.LoadLocation)
		if err != nil || len(a.Batteries)*len(a.Channels) > 20 {
			return
		}
		p := planner.Plan(a)
		if len(p.Plan)+len(p.Unplaced) != len(a.Batteries) {
			t.Errorf("%d laid, %d not, of %d", len(p.Plan), len(p.Unplaced), len(a.Batteries))
		}
	})
}
