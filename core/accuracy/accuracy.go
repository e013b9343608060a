// Package accuracy holds what an instrument's figure is worth: one sigma of
// error for each kind of instrument. The bands on the screen, the simulator and
// the diagnosis all read this one table.
package accuracy

import (
	"math"

	"grapnel/core/quantity"
)

// Instrument names a kind of measuring instrument.
type Instrument string

// The instruments of the trade.
const (
	GoodMeter   Instrument = "good_meter"
	CheapMeter  Instrument = "cheap_meter"
	Pile        Instrument = "pile"
	Conductance Instrument = "conductance"
)

// voltmeter is an error in volts: a share of the figure plus a fixed part.
type voltmeter struct {
	share float64
	fixed quantity.Volts
}

// voltmeters: a good meter 0.1 % and one digit, a cheap one 0.5 % and two, the
// analogue voltmeter of a carbon pile 0.15 V. Values from memory.
var voltmeters = map[Instrument]voltmeter{
	GoodMeter:   {0.001, 0.01},
	CheapMeter:  {0.005, 0.02},
	Pile:        {0, 0.15},
	Conductance: {0.005, 0.02},
}

// VoltsSigma is one sigma of a voltage shown by an instrument, in volts. An
// instrument that is not in the table counts as a good meter.
func VoltsSigma(by Instrument, v quantity.Volts) quantity.Volts {
	m, ok := voltmeters[by]
	if !ok {
		m = voltmeters[GoodMeter]
	}
	return quantity.Volts(m.share*math.Abs(float64(v))) + m.fixed
}

// LoadVoltsSigma is one sigma of the volts read at the end of a load test with
// a digital meter across the posts: the meter's error and the 0.05 V that a
// reading taken 0.7 s early or late is worth. Values from memory.
func LoadVoltsSigma(v quantity.Volts) quantity.Volts {
	return quantity.Volts(math.Hypot(float64(VoltsSigma(GoodMeter, v)), float64(loadTiming)))
}

// AmperesSigma is one sigma of the current of a carbon pile: set to within 3 %
// or 10 A, whichever is more, and drifting by 3 % while it is held. Values from
// memory.
func AmperesSigma(a quantity.Amperes) quantity.Amperes {
	set := math.Max(pileShare*float64(a), float64(pileLeast))
	return quantity.Amperes(math.Hypot(set, pileDrift*float64(a)/2))
}

// temperatureSigma is one sigma of an electrolyte temperature by how it was
// had. Felt by hand: 5 °C is the limit, so about 3; infrared sees the case,
// which lags the acid for hours; air is not the battery. Values from memory.
var temperatureSigma = map[string]quantity.Celsius{
	"probe": 1, "infrared": 3, "felt": 3, "air": 5, "": 3,
}

// TemperatureSigma is one sigma of a battery temperature, in kelvin, for the
// way it was had: probe, infrared, felt, air, or empty for not said.
func TemperatureSigma(basis string) quantity.Celsius {
	if s, ok := temperatureSigma[basis]; ok {
		return s
	}
	return temperatureSigma[""]
}

// HydrometerReading and HydrometerInstrument are one sigma of a specific
// gravity: of reading the float, and of the instrument itself. Values from memory.
const (
	HydrometerReading    = 0.003
	HydrometerInstrument = 0.003
)

// GravitySigma is one sigma of one cell's specific gravity, some 0.004: of reading the
// float and of the instrument together.
func GravitySigma() float64 { return math.Hypot(HydrometerReading, HydrometerInstrument) }

// SpreadSigma is one sigma of the difference of two cells read with the same
// hydrometer: its own error falls out.
func SpreadSigma() float64 { return math.Sqrt2 * HydrometerReading }

// Clamp meters: 2 % and an offset of 2 A (1 to 3) for starting currents, 8 mA
// (5 to 10) for milliampere clamps. Values from memory.
const (
	clampShare                    = 0.02
	clampOffset  quantity.Amperes = 2
	drainOffset  quantity.Amperes = 0.008
	seriesShare                   = 0.01
	seriesOffset quantity.Amperes = 0.001
)

// ClampSigma is one sigma in amperes of a starting current by clamp meter: a share of it
// and an offset, so that it is never below the offset.
func ClampSigma(a quantity.Amperes) quantity.Amperes {
	return quantity.Amperes(math.Hypot(clampShare*float64(a), float64(clampOffset)))
}

// DrainSigma is one sigma of a drain by the way it was measured: clamp, or an
// ammeter in series.
func DrainSigma(method string, a quantity.Amperes) quantity.Amperes {
	if method == "clamp" {
		return quantity.Amperes(math.Hypot(clampShare*float64(a), float64(drainOffset)))
	}
	return quantity.Amperes(math.Hypot(seriesShare*float64(a), float64(seriesOffset)))
}

// MillivoltsSigma is one sigma of millivolts across a fuse: a tenth of a
// millivolt is the last digit. Value from memory.
const MillivoltsSigma = 0.05

// ConductanceRepeat and ConductanceTruth: testers repeat within 1.5 % (1 to 2) and lie within 7 % (6 to 8)
// of the true cranking power. Values from memory.
const (
	ConductanceRepeat = 0.015
	ConductanceTruth  = 0.07
)

// ConductanceSigma is one sigma of measured over rated, against the true
// cranking power.
func ConductanceSigma(ratio float64) float64 {
	return ratio * math.Hypot(ConductanceRepeat, ConductanceTruth)
}

// Errors of setting and reading a carbon pile. Values from memory.
const (
	pileShare                    = 0.03
	pileDrift                    = 0.03
	pileLeast   quantity.Amperes = 10
	loadTiming  quantity.Volts   = 0.05
	rippleShare                  = 0.03
	rippleFixed quantity.Volts   = 0.01
)

// RippleSigma is one sigma of AC volts by a hand meter, whose reading depends
// on the form of the wave. Value from memory.
func RippleSigma(v quantity.Volts) quantity.Volts {
	return quantity.Volts(math.Hypot(rippleShare*float64(v), float64(rippleFixed)))
}

// dropDigit is the last digit of a meter on its lowest range, in volts. Value
// from memory.
const dropDigit quantity.Volts = 0.005

// DropSigma is one sigma of a small voltage across a joint or cable: a good
// meter on its low range, held by hand while the engine is cranked.
func DropSigma(v quantity.Volts) quantity.Volts {
	return quantity.Volts(math.Hypot(voltmeters[GoodMeter].share*float64(v), float64(dropDigit)))
}

// A tester's clamp that does not bite reads this much too low. Values from
// memory.
const (
	badClampLow  = 0.05
	badClampHigh = 0.20
)

// BadClamp is the range of measured over rated a battery may truly have when a
// clamp did not bite.
func BadClamp(ratio float64) (low, high float64) {
	return ratio / (1 - badClampLow), ratio / (1 - badClampHigh)
}
