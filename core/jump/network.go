package jump

import (
	"math"

	"grapnel/core/quantity"
	"grapnel/core/twin"
)

// donor is what comes in over the cables.
type donor struct {
	// gives is the volts at its own posts while it gives a current, falling with it.
	gives func(amps float64) float64
	// most is the current it can give at its temperature.
	most float64
	// charges is how it charges a battery that waits, the cables not counted.
	charges twin.Charger
}

// larger is a donor of the same kind that is so many times as large.
func (d donor) larger(times float64) donor {
	c := d.charges
	c.Amps *= quantity.Amperes(times)
	return donor{func(amps float64) float64 { return d.gives(amps / times) }, d.most * times, c}
}

// pair is a dead battery with a donor beside it over cables, as the starter sees them.
type pair struct {
	*twin.Battery
	donor donor
	// ohms is that of both leads and the four clamps.
	ohms float64
	// engine is the temperature of the engine.
	engine quantity.Celsius
}

// Temperature is that of the engine: what it asks hangs on it.
func (p *pair) Temperature() quantity.Celsius { return p.engine }

// Volts at the dead battery's posts with nothing drawn.
func (p *pair) Volts() quantity.Volts {
	return max(p.Battery.Volts(), quantity.Volts(p.donor.gives(0)))
}

// Under is the volts at the dead battery's posts while both give a current together.
func (p *pair) Under(amps quantity.Amperes, seconds quantity.Seconds) quantity.Volts {
	from := p.split(float64(amps), seconds)
	if from >= float64(amps) {
		// The donor alone carries it; what the dead battery takes beside it is little.
		return quantity.Volts(p.donor.gives(from) - from*p.ohms)
	}
	return p.Battery.Under(amps-quantity.Amperes(from), seconds)
}

// splits bounds how often the split is drawn nearer; splitNear is how near it is drawn, volts.
const (
	splits    = 24
	splitNear = 0.0005
)

// split is how much of a current the donor gives: where its volts behind the cables meet the
// dead battery's. A donor whose volts lie under them gives nothing.
func (p *pair) split(amps float64, seconds quantity.Seconds) float64 {
	over := func(x float64) float64 {
		return p.donor.gives(x) - x*p.ohms - float64(p.Battery.Under(quantity.Amperes(amps-x), seconds))
	}
	low, high := 0.0, math.Min(amps, p.donor.most)
	atLow, atHigh := over(low), over(high)
	if atLow <= 0 {
		return 0
	}
	if atHigh >= 0 {
		return high
	}
	for range splits {
		// Between the middle and where a straight line would cross, for the bends of both.
		x := (low+high)/4 + (low+(high-low)*atLow/(atLow-atHigh))/2
		at := over(x)
		if math.Abs(at) < splitNear {
			return x
		}
		if at > 0 {
			low, atLow = x, at
		} else {
			high, atHigh = x, at
		}
	}
	return (low + high) / 2
}
