package safety

import (
	"slices"
	"strings"
	"testing"
	"time"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/wording"
)

const (
	flooded = `{"chemistry":"flooded","nominal_v":12}`
	agm     = `{"chemistry":"agm","nominal_v":12}`
	opens   = `{"chemistry":"flooded","nominal_v":12,"sealed":false}`
	lithium = `{"chemistry":"lifepo4","nominal_v":12}`
)

// examined is the evidence of some lines, each a minute after the one before.
func examined(t *testing.T, label string, lines ...string) evidence.Evidence {
	t.Helper()
	c, err := evidence.Decode(strings.NewReader(`{"battery":` + label + `,"readings":[]}`))
	if err != nil {
		t.Fatal(err)
	}
	for i, line := range lines {
		c.Readings = append(c.Readings, taken(t, line, i))
	}
	return evidence.Examine(c)
}

var start = time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)

func taken(t *testing.T, line string, minute int) evidence.Taken {
	t.Helper()
	parsed, err := reading.Parse(line)
	if err != nil {
		t.Fatalf("%s: %v", line, err)
	}
	return evidence.Taken{ID: wording.Ref(line), At: start.Add(time.Duration(minute) * time.Minute), Reading: parsed.Reading}
}

// TestStops checks what raises which rule, and on which readings it rests. The trade's
// stop rules, common practice, no source; 52 °C is 125 °F.
func TestStops(t *testing.T) {
	for _, c := range []struct {
		label string
		lines []string
		stop  school.Caution
		rests []wording.Ref
	}{
		{flooded, []string{"look none", "12.66 v 18c rested 2h"}, "", nil},
		{flooded, []string{"look bulge"}, school.FrozenOrDamaged, []wording.Ref{"look bulge"}},
		{flooded, []string{"look wet_vents"}, "", nil},
		{flooded, []string{"look smell"}, school.Gas, []wording.Ref{"look smell"}},
		{flooded, []string{"look smell", "12.66 v 18c rested 2h after charge"}, "", nil},
		{flooded, []string{"look crack", "12.66 v 18c rested 2h after charge"}, school.FrozenOrDamaged, []wording.Ref{"look crack"}},
		{flooded, []string{"eye clear"}, school.EyeClear, []wording.Ref{"eye clear"}},
		{opens, []string{"eye clear"}, "", nil},
		{flooded, []string{"12.66 v 53c rested 2h"}, school.Hot, []wording.Ref{"12.66 v 53c rested 2h"}},
		{flooded, []string{"charge 14.4v 6a 30min hot"}, school.Hot, []wording.Ref{"charge 14.4v 6a 30min hot"}},
		{flooded, []string{"charge 14.4v 6a 30min hot", "charge 14.4v 5a 60min cool"}, "", nil},
		{agm, []string{"charge 14.4v 6a 30min gas"}, school.Gas, []wording.Ref{"charge 14.4v 6a 30min gas"}},
		{agm, []string{"charge 14.4v 2a 30min", "charge 14.4v 3a 60min"}, school.Runaway, []wording.Ref{"charge 14.4v 3a 60min"}},
		{flooded, []string{"stood 8h -20c", "11.9 v -20c rested 8h"}, school.FrozenOrDamaged, []wording.Ref{"11.9 v -20c rested 8h", "stood 8h -20c"}},
		{flooded, []string{"11.9 v -20c rested 8h"}, school.FrozenOrDamaged, []wording.Ref{"11.9 v -20c rested 8h"}},
		{flooded, []string{"stood 8h -20c", "12.66 v -20c rested 8h"}, "", nil},
		{lithium, []string{"look bulge"}, school.LithiumHot, []wording.Ref{"look bulge"}},
	} {
		stops := Stops(examined(t, c.label, c.lines...))
		if c.stop == "" {
			if len(stops) > 0 {
				t.Errorf("%v: %+v", c.lines, stops)
			}
			continue
		}
		if len(stops) != 1 || stops[0].Caution != c.stop || !slices.Equal(stops[0].Readings, c.rests) {
			t.Errorf("%v: %+v, want %s by %v", c.lines, stops, c.stop, c.rests)
		}
	}
}

// TestLifted checks that a rule is lifted for the readings named and for no other: one
// read later, or one that took the place of a named one, stops again.
func TestLifted(t *testing.T) {
	for _, c := range []struct {
		named []wording.Ref
		lines []string
		stops int
	}{
		{nil, []string{"look frozen"}, 1},
		{[]wording.Ref{"look frozen"}, []string{"look frozen"}, 0},
		{[]wording.Ref{"look frozen"}, []string{"look bulge"}, 1},
		{[]wording.Ref{"look none"}, []string{"look none", "look bulge"}, 1},
		{[]wording.Ref{"look frozen"}, []string{"look frozen", "look crack"}, 1},
		{[]wording.Ref{"stood 8h -20c", "11.9 v rested 8h"}, []string{"stood 8h -20c", "11.9 v rested 8h"}, 0},
		{[]wording.Ref{"11.9 v rested 8h"}, []string{"stood 8h -20c", "11.9 v rested 8h"}, 1},
		{[]wording.Ref{"stood 8h -20c", "11.9 v rested 8h"}, []string{"stood 8h -20c", "11.9 v rested 8h", "stood 8h -30c"}, 1},
	} {
		ev := examined(t, flooded, c.lines...)
		ev.Case.Cleared = []evidence.Clearing{{Stop: school.FrozenOrDamaged, Readings: c.named}}
		if stops := Stops(ev); len(stops) != c.stops {
			t.Errorf("%v lifted for %v: %+v", c.lines, c.named, stops)
		}
	}
}

// TestPermits checks every stop rule against every work, that what was done before it
// was raised stands, and that each refusal says why and what clears it.
func TestPermits(t *testing.T) {
	work := []Work{Charge, Test, Crank, Run, Jump}
	for _, code := range school.StopCodes() {
		s := State{[]Stop{{Caution: school.Caution(code), Readings: []wording.Ref{"r"}, Since: start}}}
		for _, w := range work {
			d := Permits(s, Act{Work: w})
			if d.Allowed || len(d.Refusals) != 1 || d.Refusals[0].Caution != school.Caution(code) {
				t.Errorf("%s allows %s: %+v", code, w, d)
			}
			for _, said := range []wording.Statement{d.Refusals[0].Reason, d.Refusals[0].Clears} {
				if strings.ContainsAny(said.Text, "⟨⟩") || said.Text == "" || !slices.Equal(said.Readings, []wording.Ref{"r"}) {
					t.Errorf("%s: %+v", code, said)
				}
			}
			if d := Permits(s, Act{Work: w, At: start.Add(-time.Second)}); !d.Allowed {
				t.Errorf("%s forbids a %s done before it was raised", code, w)
			}
			if d := Permits(s, Act{Work: w, At: start.Add(time.Second)}); d.Allowed {
				t.Errorf("%s allows a %s done after it was raised", code, w)
			}
		}
		if d := Permits(s, Act{}); !d.Allowed || len(d.Refusals) != 0 {
			t.Errorf("%s forbids looking: %+v", code, d)
		}
	}
	if len(forbids) != len(school.StopCodes()) {
		t.Errorf("%d rules forbid something of %d", len(forbids), len(school.StopCodes()))
	}
	if d := Permits(State{}, Act{Work: Jump}); !d.Allowed {
		t.Errorf("without a stop: %+v", d)
	}
}

// TestWorkOf checks the work of each kind of reading: what is looked at, told, measured
// at rest or read on a running charge is none.
func TestWorkOf(t *testing.T) {
	want := map[string]Work{
		"load": Test, "conductance": Test, "reserve": Test, "crank": Crank, "starter_draw": Crank, "drop": Crank,
		"charging": Run, "ripple": Run, "jump": Jump,
	}
	for _, kind := range reading.Kinds() {
		parsed, err := reading.Parse(reading.Example(reading.Kind(kind)))
		if err != nil {
			t.Fatal(err)
		}
		if got := WorkOf(parsed.Reading); got != want[kind] {
			t.Errorf("%s is %q, want %q", kind, got, want[kind])
		}
	}
	if parsed, err := reading.Parse("drop charge_positive 0.2v 30a charging"); err != nil || WorkOf(parsed.Reading) != Run {
		t.Errorf("a drop while charging: %v", err)
	}
}

// TestFrostOfTheTable checks the rule by itself against the published freezing points:
// a quarter charged freezes about −16 °C (usual handbook table for sulphuric acid
// electrolyte, value from memory), and so is stopped at −20 °C and not at −5 °C.
func TestFrostOfTheTable(t *testing.T) {
	for line, stops := range map[string]bool{"12.0 v -20c rested 9h": true, "12.0 v -5c rested 9h": false, "12.6 v -40c rested 9h": false} {
		found := Stops(examined(t, flooded, line))
		if (len(found) > 0) != stops {
			t.Errorf("%s: %+v", line, found)
		}
		if stops && (found[0].Frost == nil || found[0].Frost.Freezes < battery.FreezingPointAtCharge(25)) {
			t.Errorf("%s: %+v", line, found[0].Frost)
		}
	}
}
