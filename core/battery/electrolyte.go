package battery

import (
	"math"

	"grapnel/core/quantity"
)

// electrolyteHours is the time constant with which the electrolyte follows the
// air around the battery. Value from memory; the trade asks where it stood for
// the last 6 to 8 hours.
const electrolyteHours = 6

// placeSigma is one sigma of the air beside the battery against the air one
// knows of: engine bay, sun, wind. Value from memory.
const placeSigma quantity.Celsius = 2

// Temperature is an estimated temperature with one sigma.
type Temperature struct {
	At    quantity.Celsius `json:"at"`
	Sigma quantity.Celsius `json:"sigma"`
}

// Electrolyte is the temperature of the electrolyte after standing in air of a
// temperature for some hours: a first-order lag with a time constant of 6 h. A
// nil start is not known, and the air itself is then the best guess, with a
// band that narrows as the hours pass.
func Electrolyte(air quantity.Celsius, hours float64, start *quantity.Celsius) Temperature {
	left := math.Exp(-math.Max(hours, 0) / electrolyteHours)
	t := Temperature{At: air, Sigma: quantity.Celsius(math.Hypot(float64(placeSigma), float64(TemperatureUnknownSigma)*left))}
	if start != nil {
		t.At = air + (*start-air)*quantity.Celsius(left)
		t.Sigma = quantity.Celsius(math.Hypot(float64(placeSigma)*(1-left), float64(placeSigma)*left))
	}
	return t
}

// Surface charge. Values from memory.
const (
	// SurfaceMost is the most of it over six cells, straight after a charge or
	// drive; SurfaceHours its time constant. An hour is three of them, after which
	// 0.02 V are left: that is what counts as rested. The rest goes in about 4 h.
	SurfaceMost  quantity.Volts = 0.45
	SurfaceHours                = 1.0 / 3
)

// SurfaceCharge is how much the volts of this battery may still be too high at
// the most, some hours after the last charge or drive.
func (l Label) SurfaceCharge(hours float64) quantity.Volts {
	return l.FromTwelve(SurfaceMost * quantity.Volts(math.Exp(-math.Max(hours, 0)/SurfaceHours)))
}

// density of sulphuric acid at 20 °C by weight share. Source: CRC and Perry,
// value from memory.
var density = []struct{ percent, sg float64 }{
	{20, 1.1394}, {25, 1.1783}, {30, 1.2185}, {35, 1.2599}, {40, 1.3028}, {45, 1.3476},
}

// pureDensity is that of sulphuric acid without water, at 20 °C. Source: CRC,
// value from memory.
const pureDensity = 1.8305

// AcidStrength is the share of acid in electrolyte of a specific gravity, 1.14
// to 1.35, in percent by weight and by volume of pure acid.
func AcidStrength(sg float64) (weight, volume float64) {
	first, last := density[0], density[len(density)-1]
	sg = math.Min(math.Max(sg, first.sg), last.sg)
	for i := 1; i < len(density); i++ {
		a, b := density[i-1], density[i]
		if sg <= b.sg {
			weight = a.percent + (sg-a.sg)/(b.sg-a.sg)*(b.percent-a.percent)
			break
		}
	}
	return weight, weight * sg / pureDensity
}

// FreezeMargin is how many kelvin the coldest night lies above the freezing
// point at a charge in percent; negative when it freezes.
func FreezeMargin(percent float64, night quantity.Celsius) quantity.Celsius {
	return night - FreezingPointAtCharge(percent)
}
