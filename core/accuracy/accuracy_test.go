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
	if AmperesSigma(100) != 10 || math.Abs(float64(AmperesSigma(1000)-quantity.Amperes(30))) > 1e-9 {
		t.Error("a carbon pile is good to 3 % or 10 A, whichever is more")
	}
}
