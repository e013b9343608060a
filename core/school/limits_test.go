package school

import (
	"math"
	"slices"
	"strings"
	"testing"

	"grapnel/core/quantity"
)

// TestTradeLimits checks the trade's figures. Common practice, no source, but
// for the load and the spread (Battery Council International, value from memory)
// and what a managed system touches and the reserve share (value from memory).
func TestTradeLimits(t *testing.T) {
	want := map[LimitID]float64{
		LoadLeast: 9.6, CrankLeast: 9.6, ChargingLeast: 13.5, ChargingMost: 14.8, ChargingMostCold: 15, ChargingMoment: 15.5,
		ManagedLeast: 12.5, RippleGood: 0.1, RippleBad: 0.5, DCDCLeast: 13, DCDCMost: 14.8, JointMost: 0.1, GroundMost: 0.2,
		PositiveMost: 0.5, ChargeCableMost: 0.2, DrainMost: 0.05, CaseLeakMost: 0.2, CaseLeakFilthy: 4, StarterSmall: 150,
		StarterLarge: 250, StarterDiesel: 600, StarterLeast: 60, SpreadBad: 0.05, ReserveShare: 0.6,
		ChargingMostGel: 14.4, CrankLeastOld: 8.5, DrainMostSmall: 0.005, DrainDays: 30, HalvesMost: 0.2,
	}
	for id, figure := range want {
		if got, note := (Own)(nil).Limit(id); got != figure || note != "" {
			t.Errorf("%s: got %g (%q), want %g", id, got, note, figure)
		}
	}
	if len(Limits()) != len(want) {
		t.Errorf("%d limits, %d checked", len(Limits()), len(want))
	}
}

// TestLimitRows checks that every limit lies within what a shop may set, that
// no name stands twice and that every one says where it is from.
func TestLimitRows(t *testing.T) {
	var seen []LimitID
	for _, row := range Limits() {
		if slices.Contains(seen, row.ID) {
			t.Errorf("%s stands twice", row.ID)
		}
		seen = append(seen, row.ID)
		if row.Low >= row.High || row.Value < row.Low || row.Value > row.High {
			t.Errorf("%s: %g is not within %g to %g", row.ID, row.Value, row.Low, row.High)
		}
		if row.Source.Kind == "" || row.Cells && row.Unit != "V" {
			t.Errorf("%s: %+v", row.ID, row)
		}
		if found, ok := FindLimit(row.ID); !ok || found != row {
			t.Errorf("%s is not found by its name", row.ID)
		}
	}
	if _, ok := FindLimit("phlogiston_least"); ok {
		t.Error("a limit nobody knows was found")
	}
	// What a caller does with the list is its own affair.
	Limits()[0].Value = 0
	if row, _ := FindLimit(LoadLeast); row.Value != 9.6 {
		t.Error("the list is not a copy")
	}
}

// TestOwn checks that a shop's own figure holds with its note, for that limit
// alone, and that the load's moves the whole table.
func TestOwn(t *testing.T) {
	own := Own{LoadLeast: {9.8, "maker's leaflet"}, DrainMost: {0.03, "maker"}}
	for _, row := range Limits() {
		value, note := own.Limit(row.ID)
		switch row.ID {
		case LoadLeast, DrainMost:
			if value != own[row.ID].Value || note != own[row.ID].Note {
				t.Errorf("%s: %g (%q)", row.ID, value, note)
			}
		default:
			if value != row.Value || note != "" {
				t.Errorf("%s moved to %g (%q)", row.ID, value, note)
			}
		}
	}
	if shift, note := own.LoadShift(); math.Abs(float64(shift)-0.2) > 1e-9 || note != "maker's leaflet" {
		t.Errorf("shift %v (%q)", shift, note)
	}
	if shift, note := (Own)(nil).LoadShift(); shift != 0 || note != "" {
		t.Errorf("with no own figure: %v (%q)", shift, note)
	}
}

// TestChargingMostAt checks the higher limit of charging volts: the cold's at
// frost, the warm one from 20 °C, between them falling with warmth (the trade
// says warm and cold; the bounds are from memory). Own figures move its ends.
func TestChargingMostAt(t *testing.T) {
	for _, own := range []Own{nil, {ChargingMost: {14.4, "sealed"}}, {ChargingMostCold: {15.4, "maker"}}} {
		warm, warmNote := own.Limit(ChargingMost)
		cold, coldNote := own.Limit(ChargingMostCold)
		for at, want := range map[quantity.Celsius]float64{-30: cold, 0: cold, 10: (warm + cold) / 2, 20: warm, 45: warm} {
			got, note := own.ChargingMostAt(at)
			if math.Abs(got-want) > 1e-9 {
				t.Errorf("%v at %v °C: got %g, want %g", own, at, got, want)
			}
			if at >= 20 && note != warmNote || at <= 0 && note != coldNote {
				t.Errorf("%v at %v °C: note %q", own, at, note)
			}
		}
		before := math.Inf(1)
		for at := quantity.Celsius(-10); at < 30; at += 0.25 {
			got, _ := own.ChargingMostAt(at)
			if got > before {
				t.Fatalf("%v: rises with warmth at %v °C", own, at)
			}
			before = got
		}
	}
}

// TestStarterMost checks which limit holds for an engine: with nothing known the
// loosest, so that ignorance condemns no starter.
func TestStarterMost(t *testing.T) {
	for _, c := range []struct {
		engine string
		litres float64
		want   LimitID
	}{
		{"petrol", 0, StarterSmall}, {"petrol", 1.6, StarterSmall}, {"petrol", 3.9, StarterSmall}, {"petrol", 4, StarterLarge},
		{"petrol", 5.7, StarterLarge}, {"diesel", 1.5, StarterDiesel}, {"diesel", 0, StarterDiesel}, {"", 0, StarterDiesel},
		{"", 1.2, StarterSmall},
	} {
		if got := StarterMost(c.engine, c.litres); got != c.want {
			t.Errorf("%q of %g l: got %s, want %s", c.engine, c.litres, got, c.want)
		}
	}
}

// TestDropLimit checks the limit of each place: 0.1 V a joint, 0.2 V the ground
// side, 0.5 V the positive side, 0.2 V each side of charging. Common practice,
// no source.
func TestDropLimit(t *testing.T) {
	for want, places := range map[float64][]string{
		0.1: {"positive_clamp", "negative_clamp", "starter_stud"},
		0.2: {"negative_cable", "ground_strap", "whole_negative", "charge_positive", "charge_negative"},
		0.5: {"positive_cable", "whole_positive"},
	} {
		for _, place := range places {
			if got, _ := (Own)(nil).Limit(DropLimit(place)); got != want {
				t.Errorf("%s: got %g V, want %g V", place, got, want)
			}
		}
	}
}

// TestValidNote checks that a shop's own figure says where it is from, briefly.
func TestValidNote(t *testing.T) {
	for note, want := range map[string]bool{
		"": false, "  ": false, "maker's sheet": true, strings.Repeat("x", MostNote): true, strings.Repeat("x", MostNote+1): false,
	} {
		if ValidNote(note) != want {
			t.Errorf("%q: %v", note[:min(len(note), 20)], !want)
		}
	}
}

// TestGradeOf checks the grades' edges and that more is never graded worse.
// Common practice, no source.
func TestGradeOf(t *testing.T) {
	for ratio, want := range map[float64]string{1.2: "good", 0.9: "good", 0.899: "serviceable", 0.8: "serviceable", 0.799: "weak", 0.7: "weak", 0.699: "fail", 0: "fail"} {
		if got := GradeOf(ratio).Code; got != want {
			t.Errorf("%g: got %s, want %s", ratio, got, want)
		}
	}
	before := 0.0
	for ratio := 0.0; ratio < 1.3; ratio += 0.01 {
		if g := GradeOf(ratio); g.Least < before {
			t.Fatalf("graded worse at %g", ratio)
		} else {
			before = g.Least
		}
	}
}

// TestLookRules checks what a look does: damage stops and lasts, frost stops but
// may thaw, wet vents alone are no damage, dirt only asks for cleaning.
func TestLookRules(t *testing.T) {
	for finding, want := range map[string]LookRule{
		"crack":      {Stop: FrozenOrDamaged, Lasting: true, Suggests: "damaged"},
		"frozen":     {Stop: FrozenOrDamaged, Suggests: "damaged"},
		"hot":        {Stop: Hot, Suggests: "overcharging"},
		"hiss":       {Stop: Gas, Suggests: "overcharging"},
		"wet_vents":  {Suggests: "overcharging"},
		"corrosion":  {Spoils: true, Suggests: "poor_connection"},
		"dirty_top":  {Suggests: "case_leakage"},
		"none":       {},
		"unheard_of": {},
	} {
		if got := LookRuleFor(finding); got != want {
			t.Errorf("%s: got %+v, want %+v", finding, got, want)
		}
	}
	for finding, rule := range lookRules {
		if rule.Stop != "" && !rule.Stop.Stops() {
			t.Errorf("%s raises %s, which is no stop rule", finding, rule.Stop)
		}
		if rule.Lasting && rule.Stop == "" {
			t.Errorf("%s is lasting damage and stops nothing", finding)
		}
	}
	for _, c := range Always() {
		if c.Stops() {
			t.Errorf("%s stops every job", c)
		}
	}
}
