package school

import (
	"math"
	"testing"

	"grapnel/core/quantity"
)

// TestLimits checks the load limit over temperature. Source: Battery Council
// International service practice, value from memory.
func TestLimits(t *testing.T) {
	half, _ := Find(HalfCCA)
	for _, row := range []struct{ at, least float64 }{
		{30, 9.6}, {21, 9.6}, {16, 9.5}, {10, 9.4}, {4, 9.3}, {-1, 9.1}, {-7, 8.9}, {-12, 8.7}, {-18, 8.5},
		{18.5, 9.55}, {13, 9.45}, {-4, 9.0},
	} {
		if got := half.Limit(quantity.Celsius(row.at)); math.Abs(float64(got)-row.least) > 1e-9 {
			t.Errorf("%v °C: got %v, want %v", row.at, got, row.least)
		}
	}
	before := quantity.Volts(0)
	for at := quantity.Celsius(-30); at < 40; at += 0.1 {
		if got := half.Limit(at); got < before {
			t.Fatalf("limit falls with warmth at %v", at)
		} else {
			before = got
		}
	}
}

// TestFahrenheitTable checks the same table as booklets in Fahrenheit print it,
// and that the two agree within 0.02 V. Source: Battery Council International
// service practice, value from memory.
func TestFahrenheitTable(t *testing.T) {
	half, _ := Find(HalfCCA)
	for f, least := range map[quantity.Fahrenheit]float64{-10: 8.5, 0: 8.5, 10: 8.7, 20: 8.9, 30: 9.1, 40: 9.3, 50: 9.4, 60: 9.5, 70: 9.6, 90: 9.6, 55: 9.45} {
		if got := FahrenheitLimit(f.Celsius()); math.Abs(float64(got)-least) > 0.0011 {
			t.Errorf("%v °F: got %v, want %v", f, got, least)
		}
	}
	for at := quantity.Celsius(-25); at < 30; at += 0.1 {
		if a, b := half.Limit(at), FahrenheitLimit(at); math.Abs(float64(a-b)) > 0.02 {
			t.Errorf("%v °C: %v and %v", at, a, b)
		}
	}
}

// TestSchools checks the other schools at 21 °C: 9.0 V quick, 9.6 V and 10.0 V
// with the starter. Common practice, no source.
func TestSchools(t *testing.T) {
	for id, want := range map[ID]quantity.Volts{HalfCCA: 9.6, Quick9V: 9.0, Starter9V6: 9.6, Starter10V: 10.0} {
		s, ok := Find(id)
		if got := s.Limit(21); !ok || math.Abs(float64(got-want)) > 1e-9 {
			t.Errorf("%s at 21 °C: got %v, want %v", id, got, want)
		}
		if cold := s.Limit(-18); cold > want {
			t.Errorf("%s asks for more in the cold: %v", id, cold)
		}
	}
	if s, ok := Find(""); !ok || s.ID != HalfCCA {
		t.Error("the default school is not half of the rating")
	}
	if _, ok := Find("ninth_part"); ok {
		t.Error("an unknown school was found")
	}
}

// TestUnknownTemperature checks: fails only below 8.5 V, passes from 9.6 V.
func TestUnknownTemperature(t *testing.T) {
	s, _ := Find(HalfCCA)
	if pass, fail := s.Unknown(); pass != LeastWarm || fail != LeastEver {
		t.Errorf("got %v and %v", pass, fail)
	}
}

// TestGrades checks conductance grades. Common practice, no source.
func TestGrades(t *testing.T) {
	for _, row := range []struct {
		measured, rated float64
		want            string
	}{
		{594, 650, "good"}, {585, 650, "good"}, {584, 650, "serviceable"}, {520, 650, "serviceable"},
		{500, 650, "weak"}, {455, 650, "weak"}, {454, 650, "fail"}, {320, 590, "fail"}, {700, 650, "good"},
	} {
		if got := GradeOf(row.measured / row.rated).Code; got != row.want {
			t.Errorf("%v of %v: got %s, want %s", row.measured, row.rated, got, row.want)
		}
	}
}

// TestStops checks which findings stop the work: damp at the vents is no damage.
func TestStops(t *testing.T) {
	for finding, want := range map[string]Caution{
		"crack": FrozenOrDamaged, "bulge": FrozenOrDamaged, "case_leak": FrozenOrDamaged, "frozen": FrozenOrDamaged,
		"post_loose": FrozenOrDamaged, "smell": Gas, "hiss": Gas, "hot": Hot, "wet_vents": "", "corrosion": "", "none": "",
	} {
		if got := LookRuleFor(finding).Stop; got != want {
			t.Errorf("%s: got %q, want %q", finding, got, want)
		}
	}
	if Acid.Stops() || !EyeClear.Stops() {
		t.Error("the stop rules are mixed up with the cautions")
	}
}
