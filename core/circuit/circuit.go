// Package circuit holds what resistance does with volts and current outside
// the battery: copper by cross-section or wire gauge, joints, clamps, and the
// blade fuses that serve as shunts.
package circuit

import (
	"math"
	"sort"

	"grapnel/core/quantity"
)

// Copper. Source: IEC 60028, value from memory.
const (
	// copperResistivity is that of annealed copper at 20 °C, in ohm metres.
	copperResistivity = 1.7241e-8
	// copperCoefficient is the relative change of resistance per kelvin at 20 °C.
	copperCoefficient                  = 0.00393
	copperCelsius     quantity.Celsius = 20
)

// American wire gauge: the diameter in millimetres is 0.127 × 92^((36−n)/39).
// Source: ASTM B258, value from memory.
const (
	gaugeBase     = 0.127
	gaugeRatio    = 92
	gaugeOrigin   = 36
	gaugeInterval = 39
)

// One clamp of a jump or test lead adds this much. Value from memory.
const (
	ClampLow  quantity.Ohms = 0.0005
	ClampHigh quantity.Ohms = 0.001
)

// GaugeArea is the cross-section of a wire gauge in square millimetres; 1/0 is
// gauge 0, 2/0 is −1, down to −3.
func GaugeArea(gauge float64) float64 {
	d := gaugeBase * math.Pow(gaugeRatio, (gaugeOrigin-gauge)/gaugeInterval)
	return math.Pi / 4 * d * d
}

// Cable is the resistance of copper of a cross-section in square millimetres
// and a length in metres (the whole way the current runs) at a temperature.
func Cable(area, metres float64, at quantity.Celsius) quantity.Ohms {
	warm := 1 + copperCoefficient*float64(at-copperCelsius)
	const squareMillimetre = 1e-6
	return quantity.Ohms(copperResistivity * warm * metres / (area * squareMillimetre))
}

// Drop is the volts a resistance takes at a current, and the watts it heats.
func Drop(r quantity.Ohms, i quantity.Amperes) (volts quantity.Volts, watts float64) {
	volts = quantity.Volts(float64(r) * float64(i))
	return volts, float64(volts) * float64(i)
}

// Resistance of a joint or cable from the volts across it and the current
// through it, and the watts it heats. The current must be above zero.
func Resistance(v quantity.Volts, i quantity.Amperes) (r quantity.Ohms, watts float64) {
	return quantity.Ohms(float64(v) / float64(i)), float64(v) * float64(i)
}

// fuses is the cold resistance of a blade fuse by its rating: up to 40 A of the usual
// size, above that of the larger one. Values from memory; makers differ by a tenth or two,
// and a larger blade of 20 to 40 A has a tenth less.
var fuses = []struct{ rating, milliohm float64 }{
	{1, 123}, {2, 53.5}, {3, 31.1}, {4, 22.8},
	{5, 17.9}, {7.5, 10.9}, {10, 7.7}, {15, 4.8}, {20, 3.4}, {25, 2.5}, {30, 2.0}, {35, 1.65}, {40, 1.4},
	{50, 0.95}, {60, 0.75}, {70, 0.62}, {80, 0.5}, {100, 0.4},
}

// FuseSpread is one sigma of a blade fuse's resistance, a share of it. Value
// from memory.
const FuseSpread = 0.12

// FuseCurrent is the current through a blade fuse of a rating in amperes, from
// the millivolts across it. It reports false for a rating that is not in the
// table.
func FuseCurrent(rating, millivolts float64) (quantity.Amperes, bool) {
	i := sort.Search(len(fuses), func(i int) bool { return fuses[i].rating >= rating })
	if i == len(fuses) || fuses[i].rating != rating {
		return 0, false
	}
	return quantity.Amperes(millivolts / fuses[i].milliohm), true
}

// FuseRatings lists the ratings of blade fuses whose resistance is known, in amperes,
// ascending.
func FuseRatings() []float64 {
	ratings := make([]float64, len(fuses))
	for i, f := range fuses {
		ratings[i] = f.rating
	}
	return ratings
}
