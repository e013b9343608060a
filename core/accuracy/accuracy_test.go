package accuracy

import (
	"math"
	"testing"

	"grapnel/core/quantity"
)

// TestVolts checks one sigma of each voltmeter at 12 V: a good one 0.1 % and a
// digit, a cheap one 0.5 % and two. Values from memory.
func TestVolts(t *testing.T) {
	for by, want := range map[Instrument]float64{GoodMeter: 0.022, CheapMeter: 0.08, Pile: 0.15, "anything else": 0.022} {
		if got := float64(VoltsSigma(by, 12)); math.Abs(got-want) > 1e-9 {
			t.Errorf("%s: %v, want %v", by, got, want)
		}
	}
}

// TestOrder checks what everybody knows: a probe beats a hand, a hand beats the
// air; a load reading is worth less than one at rest.
func TestOrder(t *testing.T) {
	if !(TemperatureSigma("probe") < TemperatureSigma("felt") && TemperatureSigma("felt") < TemperatureSigma("air")) {
		t.Error("the ways to have a temperature are out of order")
	}
	if TemperatureSigma("no such way") != TemperatureSigma("") {
		t.Error("an unknown way is not worth what an unsaid one is")
	}
	if LoadVoltsSigma(9.6) <= VoltsSigma(GoodMeter, 9.6) {
		t.Error("a load reading is as good as one at rest")
	}
	if got := AmperesSigma(100); got < 10 || got > 10.2 {
		t.Errorf("a carbon pile at 100 A is good to 10 A and its drift, not %v", got)
	}
	if got := AmperesSigma(1000); got < 30 || got > quantity.Amperes(math.Hypot(30, 20)) {
		t.Errorf("a carbon pile at 1000 A is good to 3 %% and its drift, not %v", got)
	}
	if low, high := BadClamp(0.66); low < 0.69 || high > 0.83 {
		t.Errorf("0.66 with a bad clamp may be %v to %v", low, high)
	}
}

// TestErrors checks one sigma of each instrument at a usual figure. Values from
// memory.
func TestErrors(t *testing.T) {
	for _, c := range []struct {
		what      string
		got, want float64
	}{
		{"hydrometer", GravitySigma(), math.Hypot(0.003, 0.003)},
		{"two cells with one hydrometer", SpreadSigma(), 0.003 * math.Sqrt2},
		{"clamp at 150 A", float64(ClampSigma(150)), math.Hypot(3, 2)},
		{"milliampere clamp at 50 mA", float64(DrainSigma("clamp", 0.05)), math.Hypot(0.001, 0.008)},
		{"ammeter in series at 50 mA", float64(DrainSigma("series", 0.05)), math.Hypot(0.0005, 0.001)},
		{"conductance at 0.9", ConductanceSigma(0.9), 0.9 * math.Hypot(0.015, 0.07)},
		{"ripple at 0.1 V", float64(RippleSigma(0.1)), math.Hypot(0.003, 0.01)},
		{"drop at 0.1 V", float64(DropSigma(0.1)), math.Hypot(0.0001, 0.005)},
	} {
		if math.Abs(c.got-c.want) > 1e-12 {
			t.Errorf("%s: %v, want %v", c.what, c.got, c.want)
		}
	}
}

// TestErrorsGrow checks that an error never shrinks with the figure, and that a
// clamp for starting currents is too coarse for drains.
func TestErrorsGrow(t *testing.T) {
	for name, sigma := range map[string]func(float64) float64{
		"volts":       func(x float64) float64 { return float64(VoltsSigma(CheapMeter, quantity.Volts(x))) },
		"load volts":  func(x float64) float64 { return float64(LoadVoltsSigma(quantity.Volts(x))) },
		"amperes":     func(x float64) float64 { return float64(AmperesSigma(quantity.Amperes(x))) },
		"clamp":       func(x float64) float64 { return float64(ClampSigma(quantity.Amperes(x))) },
		"drain":       func(x float64) float64 { return float64(DrainSigma("clamp", quantity.Amperes(x))) },
		"ripple":      func(x float64) float64 { return float64(RippleSigma(quantity.Volts(x))) },
		"drop":        func(x float64) float64 { return float64(DropSigma(quantity.Volts(x))) },
		"conductance": ConductanceSigma,
	} {
		before := sigma(0)
		for x := 0.1; x < 20; x += 0.1 {
			if got := sigma(x); got < before || got < 0 {
				t.Fatalf("%s: the error shrinks at %v", name, x)
			} else {
				before = got
			}
		}
	}
	if ClampSigma(0.05) < 20*DrainSigma("clamp", 0.05) {
		t.Error("a clamp for starting currents would do for drains")
	}
}
