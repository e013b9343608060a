package circuit

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/integrate/quad"

	"grapnel/core/quantity"
)

func near(t *testing.T, what string, got, want, within float64) {
	t.Helper()
	if math.Abs(got-want) > within {
		t.Errorf("%s: got %v, want %v", what, got, want)
	}
}

// TestGauges checks resistance by wire gauge at 20 °C. Sources: IEC 60028 and
// ASTM B258, values from memory: 4 AWG 0.815, 1 AWG 0.407, 6 AWG 1.296, 10 AWG
// 3.277 mΩ/m, computed from them.
func TestGauges(t *testing.T) {
	for gauge, milliohm := range map[float64]float64{4: 0.815, 1: 0.407, 6: 1.296, 10: 3.277} {
		near(t, "gauge", float64(Cable(GaugeArea(gauge), 1, 20))*1000, milliohm, 0.0006)
	}
	// ASTM B258: gauge 36 is 0.005 in, gauge 0000 is 0.46 in, exact.
	near(t, "36 AWG", GaugeArea(36), math.Pi/4*0.127*0.127, 1e-12)
	near(t, "0000 AWG", GaugeArea(-3), math.Pi/4*11.684*11.684, 1e-9)
	for gauge := -3.0; gauge < 40; gauge++ {
		if GaugeArea(gauge+1) >= GaugeArea(gauge) {
			t.Fatalf("gauge %v is not thinner", gauge+1)
		}
	}
}

// TestCable checks length, warmth and heat. 1 mm² of annealed copper is
// 17.241 mΩ/m at 20 °C, 0.393 % more for each kelvin. Source: IEC 60028, value
// from memory.
func TestCable(t *testing.T) {
	near(t, "1 mm²", float64(Cable(1, 1, 20)), 0.017241, 1e-9)
	near(t, "100 K warmer", float64(Cable(1, 1, 120)/Cable(1, 1, 20)), 1.393, 1e-9)
	near(t, "three metres", float64(Cable(25, 3, 20)/Cable(25, 1, 20)), 3, 1e-12)
	// The heat is the integral of the drop over the current, twice (V = R·I).
	volts, watts := Drop(0.005, 200)
	heat := quad.Fixed(func(i float64) float64 { v, _ := Drop(0.005, quantity.Amperes(i)); return 2 * float64(v) }, 0, 200, 8, nil, 0)
	near(t, "drop", float64(volts), 1, 1e-12)
	near(t, "heat", watts, heat, 1e-9)
}

// TestJoint checks 0.5 V at 150 A: 3.3 mΩ and 75 W. Computed.
func TestJoint(t *testing.T) {
	r, watts := Resistance(0.5, 150)
	near(t, "resistance", float64(r), 0.5/150, 1e-12)
	near(t, "heat", watts, 75, 1e-12)
}

// TestFuses checks millivolts to amperes: 1.2 mV on 15 A is 0.25 A, 0.1 mV on
// 30 A is 50 mA. Resistances from memory.
func TestFuses(t *testing.T) {
	for _, c := range []struct{ rating, mv, amps float64 }{{15, 1.2, 0.25}, {30, 0.1, 0.05}, {5, 17.9, 1}, {7.5, 0, 0}} {
		got, ok := FuseCurrent(c.rating, c.mv)
		if !ok {
			t.Errorf("%v A is not known", c.rating)
		}
		near(t, "fuse", float64(got), c.amps, 1e-9)
	}
	for _, rating := range []float64{0, 6, 12, 45, 200} {
		if _, ok := FuseCurrent(rating, 1); ok {
			t.Errorf("a %v A fuse was known", rating)
		}
	}
	ratings := FuseRatings()
	for i := 1; i < len(ratings); i++ {
		a, _ := FuseCurrent(ratings[i-1], 1)
		if b, _ := FuseCurrent(ratings[i], 1); b <= a {
			t.Errorf("a %v A fuse is no thicker", ratings[i])
		}
	}
}

func BenchmarkFuseCurrent(b *testing.B) {
	for b.Loop() {
		FuseCurrent(15, 1.2)
	}
}
