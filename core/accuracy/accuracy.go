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
	const timing = 0.05
	return quantity.Volts(math.Hypot(float64(VoltsSigma(GoodMeter, v)), timing))
}

// AmperesSigma is one sigma of the current a carbon pile is set to: 3 % or
// 10 A, whichever is more. Value from memory.
func AmperesSigma(a quantity.Amperes) quantity.Amperes {
	return quantity.Amperes(math.Max(0.03*float64(a), 10))
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
