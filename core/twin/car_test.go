package twin

import (
	"math"
	"testing"

	"grapnel/core/quantity"
	"grapnel/core/reading"
)

func ordinary() *Car {
	return &Car{
		Circuit: InOrder, Starter: Starter{Amps: 130, Drag: 1, Fires: true}, Alternator: Alternator{Volts: 14.3, Amps: 90, Ripple: 0.04},
		Asleep: 0.02, Awake: 3, SleepMinutes: 20,
	}
}

// TestCranking: what the trade hears of a good, a flat, a worn and a badly
// connected car. Common practice, no source.
func TestCranking(t *testing.T) {
	d := design(t, labels[1])
	good := d.New(Sound, 95, 20)
	if c := ordinary().Crank(&good); c.Sound != "normal" || !c.Started || c.Volts < 9.6 || c.Volts-c.Stud > 0.5 {
		t.Errorf("good: %+v", c)
	}
	flat := d.New(Sound, 3, 5)
	if c := ordinary().Crank(&flat); c.Started {
		t.Errorf("flat: %+v", c)
	}
	joint := ordinary()
	joint.Circuit.NegativeClamp = 0.03
	if c := joint.Crank(&good); c.Sound == "normal" || c.Volts < 10.5 {
		t.Errorf("a bad clamp keeps the posts high and turns badly: %+v", c)
	}
	open := ordinary()
	open.Circuit.PositiveClamp = 3
	if c := open.Crank(&good); c.Sound != "silent" {
		t.Errorf("an open clamp: %+v", c)
	}
	tired := d.New(Condition{Health: 0.35, Capacity: 0.5}, 80, -10)
	if warm, cold := ordinary().Crank(&good), ordinary().Crank(&tired); cold.Speed >= warm.Speed || cold.Amps < warm.Amps && cold.Sound != "click" && cold.Sound != "chatter" {
		t.Errorf("cold and worn: %+v against %+v", cold, warm)
	}
	locked := ordinary()
	locked.Starter.Open = true
	if c := locked.Crank(&good); c.Sound != "silent" || c.Volts < 12.5 {
		t.Errorf("locked: %+v", c)
	}
}

// TestRunning: an alternator in order holds its volts, a dead one lets the
// battery sag.
func TestRunning(t *testing.T) {
	b := design(t, labels[1]).New(Sound, 80, 20)
	if v, _ := ordinary().Running(&b); math.Abs(float64(v)-14.3) > 0.01 {
		t.Errorf("running at %.2f V", v)
	}
	dead := ordinary()
	dead.Alternator.Dead = true
	if v, _ := dead.Running(&b); v > 12.5 {
		t.Errorf("nothing charges and the posts show %.2f V", v)
	}
}

// TestWeeks: short cold trips lose ground where long ones gain it; a drain
// flattens what stands.
func TestWeeks(t *testing.T) {
	d := design(t, labels[1])
	after := func(c *Car, w Week, celsius quantity.Celsius) float64 {
		b := d.New(Sound, 75, celsius)
		return c.Weeks(&b, w, 6, Steady(celsius))
	}
	c := ordinary()
	if long, short := after(c, Week{10, 40}, 0), after(c, Week{3, 4}, -5); long < 80 || short > long-10 {
		t.Errorf("long trips end at %.0f %%, short ones at %.0f %%", long, short)
	}
	drained := ordinary()
	drained.Asleep = 0.15
	if p := after(drained, Week{0, 0}, 15); p > 5 {
		t.Errorf("a drain of 150 mA leaves %.0f %% after six weeks", p)
	}
}

// TestInstruments: without noise every instrument shows the truth; its error has
// the size it is said to have.
func TestInstruments(t *testing.T) {
	d := design(t, labels[1])
	b := d.New(Sound, 90, 20)
	quiet := Virtual{Battery: &b, Car: ordinary(), Noise: func() float64 { return 0 }, Scale: 1}
	quiet.Own()
	if r := quiet.OpenCircuit(120); math.Abs(float64(r.Volts()-b.Volts())) > 0.006 {
		t.Errorf("open circuit %v of %v", r.Volts(), b.Volts())
	}
	if r := quiet.Drain(40); r.Choice(reading.Method) != "series" {
		t.Error("a drain without its method")
	} else if amps, _ := r.Number(reading.Amps); math.Abs(amps-0.02) > 0.0006 {
		t.Errorf("asleep %v A", amps)
	}
	if awake, _ := quietDrain(&quiet, 5); awake < 1 {
		t.Errorf("awake %v A", awake)
	}
	if m, _ := quietNumber(quiet.Conductance(650, "SAE", 0), reading.Measured); m < 600 || m > 650 {
		t.Errorf("conductance %v of 650", m)
	}
	sign := 1.0
	loud := quiet
	loud.Noise = func() float64 { sign = -sign; return sign }
	var sum, square float64
	for range 100 {
		x, _ := quietNumber(loud.CaseLeak(), reading.Volts)
		sum, square = sum+x, square+x*x
	}
	if math.Sqrt(square/100) < 0.004 {
		t.Error("a noisy meter is quiet")
	}
	for _, r := range []reading.Reading{
		quiet.OpenCircuit(60), quiet.Gravity(), quiet.Load(325, 15), quiet.Conductance(650, "SAE", 0), quiet.Crank(), quiet.StarterDraw(),
		quiet.Drop("negative_clamp"), quiet.Drop("whole_positive"), quiet.Charging("idle"), quiet.Ripple(), quiet.DCDC(), quiet.Drain(40), quiet.CaseLeak(), quiet.Reserve(6, 90),
	} {
		if back, err := reading.Parse(reading.Print(r)); err != nil || back.Reading != r {
			t.Errorf("%s does not come back from its own line %q: %v", r.Kind, reading.Print(r), err)
		}
	}
}

func quietNumber(r reading.Reading, n reading.Number) (float64, bool) { return r.Number(n) }

func quietDrain(v *Virtual, minutes quantity.Minutes) (float64, bool) {
	return quietNumber(v.Drain(minutes), reading.Amps)
}
