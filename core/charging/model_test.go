package charging

import (
	"math"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/twin"
)

func sixty(t testing.TB) *twin.Design {
	t.Helper()
	ah := quantity.AmpereHours(60)
	d, ok := twin.Calibrate(battery.Label{Chemistry: battery.Flooded, NominalV: 12, CapacityAh: &ah})
	if !ok {
		t.Fatal("60 Ah flooded is not judged")
	}
	return d
}

// TestModelTimes holds the model's times for 60 Ah from half to 95 % at 25 °C and
// 14.4 V against those of the prototype's study (computed; warm ones within 20 %,
// cold ones within the band that is shown).
func TestModelTimes(t *testing.T) {
	d := sixty(t)
	for _, c := range []struct {
		amps, volts float64
		at          quantity.Celsius
		hours       float64
	}{{2, 14.4, 25, 14}, {6, 14.4, 25, 5.5}, {10, 14.4, 25, 4}, {25, 14.4, 25, 3.3}, {10, 14.4, -10, 17}, {10, 15.24, -10, 11}} {
		f := Model(d, 50, 95, twin.Charger{Amps: quantity.Amperes(c.amps), Volts: quantity.Volts(c.volts)}, c.at)
		warm := c.at >= coldCharging
		if !f.Reached || warm && math.Abs(f.Hours/c.hours-1) > 0.2 || c.hours < f.Low || c.hours > f.High || f.Low >= f.Hours || f.High <= f.Hours {
			t.Errorf("%v A, %v V at %v °C: %.2f h (%.2f to %.2f), want about %v", c.amps, c.volts, c.at, f.Hours, f.Low, f.High, c.hours)
		}
	}
}

// TestModelCharge checks that a charge brings its ampere-hours and a little more,
// never runs backwards, and says where it does not get there.
func TestModelCharge(t *testing.T) {
	d := sixty(t)
	f := Model(d, 20, 90, twin.Charger{Amps: 6, Volts: 14.4}, 25)
	if want := 0.7 * 60.0; f.AhIn < want || f.AhIn > 1.15*want {
		t.Errorf("%v Ah for %v missing", f.AhIn, want)
	}
	for i := 1; i < len(f.Points); i++ {
		if f.Points[i][0] <= f.Points[i-1][0] || f.Points[i][1] < f.Points[i-1][1] {
			t.Errorf("runs backwards at %v", f.Points[i])
		}
	}
	if last := f.Points[len(f.Points)-1]; math.Abs(last[1]-90) > 1 || math.Abs(last[0]-f.Hours) > 1e-9 {
		t.Errorf("ends at %v, %v h", last, f.Hours)
	}
	if slow := Model(d, 0, 95, twin.Charger{Amps: 0.2, Volts: 14.4}, 25); slow.Reached || slow.Hours < MostHours-1 {
		t.Errorf("0.2 A: %+v", slow)
	}
	if done := Model(d, 95, 90, twin.Charger{Amps: 6, Volts: 14.4}, 25); done.Hours != 0 || !done.Reached {
		t.Errorf("charged already: %+v", done)
	}
}
