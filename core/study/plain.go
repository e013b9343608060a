package study

import (
	"math"
	"math/rand/v2"

	"grapnel/core/quantity"
	"grapnel/core/twin"
)

// plain is the deliberately different battery of the stress fleet: a source with
// one resistance and one well. Its resistance falls straight with the charge and
// by the square root of the lost power, and rises in the cold by a share for each
// kelvin; capacity shrinks with the current by a power. It shares no constant
// with the twin.
type plain struct {
	cranking, ampereHours float64
	health, capacity      float64
	charge                float64 // 0 to 1
	at                    quantity.Celsius
	low, high             float64 // rested volts, flat and full
	odd                   *twin.Cell
	oddCharge             float64
	sulphation            float64
	tester                float64 // what a tester makes of it
}

// The laws of the plain battery. Invented, to differ from the twin's.
const (
	plainExponent  = 1.13
	plainRise      = 0.75 // of the resistance, from full to flat
	plainPerKelvin = 0.0125
	plainLaw       = 0.9 // of the power lost, in the resistance
	plainCells     = 6
	plainReference = 25.0
	flatSeconds    = 3600.0
)

func newPlain(r *rand.Rand, l Label, c twin.Condition, percent float64, at quantity.Celsius) *plain {
	p := &plain{
		cranking: float64(l.Cranking), ampereHours: float64(l.Capacity), health: c.Health, capacity: c.Capacity, charge: percent / 100, at: at,
		low:  within(r, 11.8, 0.06, 11.6, 12),
		high: within(r, 12.7, 0.05, 12.58, 12.88), odd: c.Odd, sulphation: c.Sulphation, tester: logNormal(r, 1, 0.05),
	}
	if c.Odd != nil {
		p.oddCharge = p.charge
		if c.Odd.Shunt > 0 {
			p.oddCharge = math.Max(0, p.charge-between(r, 0.3, 1))
		}
	}
	return p
}

// full resistance of a sound, full battery at the reference temperature: at −18
// °C it drops from full to 7.2 V at the rated current.
func (p *plain) ohms() float64 {
	cold := 1 + plainPerKelvin*(plainReference+18)
	return (p.high - 7.2) / p.cranking / cold
}

func (p *plain) power() float64 {
	weakest := math.Pow(p.health, plainLaw)
	if p.odd != nil && p.odd.Shorted {
		weakest *= 0.55 // the other five have to do it
	}
	if p.odd != nil && p.odd.Shunt > 0 {
		weakest *= 0.5
	}
	return weakest
}

func (p *plain) reserve() float64 {
	c := p.capacity
	if p.odd != nil {
		c = math.Min(c, p.odd.Capacity)
		if p.odd.Shorted || p.odd.Shunt > 0 {
			c = math.Min(c, 0.2)
		}
	}
	return c
}

// Cells is six.
func (p *plain) Cells() int { return plainCells }

// Temperature is the battery's.
func (p *plain) Temperature() quantity.Celsius { return p.at }

func (p *plain) restedAt(charge float64) float64 {
	// A curve bent the other way than the table's.
	x := math.Min(math.Max(charge, 0), 1)
	return (p.low + (p.high-p.low)*math.Pow(x, 0.92)) / plainCells
}

func (p *plain) oddVolts(charge float64) float64 {
	switch {
	case p.odd.Shorted:
		return 0.05
	case p.odd.Shunt > 0:
		return p.restedAt(charge) - 0.9*(1-charge)
	}
	return p.restedAt(charge)
}

// Volts at rest.
func (p *plain) Volts() quantity.Volts {
	v := plainCells * p.restedAt(p.charge)
	if p.odd != nil {
		v += p.oddVolts(p.oddCharge) - p.restedAt(p.charge)
	}
	return quantity.Volts(v - 0.001*(25-float64(p.at)))
}

// Under a current, at once.
func (p *plain) Under(amps quantity.Amperes, seconds quantity.Seconds) quantity.Volts {
	taken := p.taken(float64(amps), float64(seconds))
	after := math.Max(p.charge-taken/p.capacity, 0)
	cold := 1 + plainPerKelvin*(plainReference-float64(p.at))
	r := p.ohms() * math.Max(cold, 0.6) * (1 + plainRise*(1-after)) / math.Pow(p.health, plainLaw)
	v := plainCells*p.restedAt(after) - float64(amps)*r
	if after <= 0.02 {
		v -= 3
	}
	if p.odd != nil {
		left := math.Max(p.oddCharge-taken/math.Max(p.odd.Capacity, 0.05), 0)
		v += p.oddVolts(left) - p.restedAt(after)
		if !p.odd.Shorted && left <= 0.03 {
			v -= 1.8
		}
	}
	return quantity.Volts(math.Max(v, 0) - 0.001*(25-float64(p.at)))
}

// taken is the share of the label's capacity that a current takes.
func (p *plain) taken(amps, seconds float64) float64 {
	slow := p.ampereHours / 20
	factor := math.Pow(math.Max(amps/slow, 1), plainExponent-1)
	return amps * seconds / flatSeconds * factor / p.ampereHours
}

// Discharge steps minute by minute to its floor.
func (p *plain) Discharge(
	amps quantity.Amperes,
	seconds quantity.Seconds,
	floor quantity.Volts,
	_ quantity.Celsius,
) (quantity.Seconds, quantity.Volts) {
	const step = 60
	held := quantity.Seconds(0)
	for held < seconds && p.Under(amps, step) > floor {
		taken := p.taken(float64(amps), step)
		p.charge = math.Max(p.charge-taken/p.capacity, 0)
		if p.odd != nil {
			p.oddCharge = math.Max(p.oddCharge-taken/math.Max(p.odd.Capacity, 0.05), 0)
		}
		held += step
	}
	return held, p.Under(amps, 1)
}

// Accept is a current that falls with the charge.
func (p *plain) Accept(c twin.Charger) (quantity.Amperes, quantity.Volts) {
	amps := quantity.Amperes((1 - p.charge) * p.ampereHours * 0.8)
	return min(amps, c.Amps), c.Volts
}

// Fill charges in full and rests.
func (p *plain) Fill(at quantity.Celsius) {
	p.charge, p.at = 1-0.12*p.sulphation, at
	p.oddCharge = p.charge
	if p.odd != nil && p.odd.Shunt > 0 {
		p.oddCharge = math.Max(0, p.charge-math.Min(0.9, 0.25/float64(p.odd.Shunt)))
	}
}

// Warm brings it to a temperature.
func (p *plain) Warm(at quantity.Celsius) { p.at = at }

// Gravities by a straight line.
func (p *plain) Gravities() []float64 {
	out := make([]float64, plainCells)
	for i := range out {
		out[i] = 1.115 + 0.152*p.charge
	}
	if p.odd != nil {
		out[plainCells-1] = 1.115 + 0.152*p.oddCharge
		if p.odd.Shorted {
			out[plainCells-1] = 1.13
		}
	}
	return out
}

// Conductance follows the root of what is left, and its own maker's law.
func (p *plain) Conductance() float64 {
	x := p.tester * math.Pow(p.health, 0.95) * (0.85 + 0.15*p.charge)
	if p.odd != nil && p.odd.Shunt > 0 {
		x *= 0.9
	}
	return x
}

// Percent is the charge of the cells alike.
func (p *plain) Percent() float64 { return 100 * p.charge }

// The plain battery standing and driven. Invented, to differ from the twin's.
const (
	plainSelf      = 0.0013 // of the charge a day
	plainShunt     = 0.02   // of the odd cell's charge an hour, over its shunt in ohms
	plainAccepts   = 0.7    // of the ampere-hours, at flat and warm
	plainColdTakes = 0.045  // less for each kelvin under the reference, as a power
	plainStored    = 0.93
)

// Stand draws a current for some hours.
func (p *plain) Stand(amps quantity.Amperes, hours float64, at quantity.Celsius) {
	p.at = at
	out := p.taken(float64(amps), hours*flatSeconds) + plainSelf*hours/24
	p.charge = math.Max(0, p.charge-out/p.capacity)
	if p.odd == nil {
		return
	}
	lost := out / math.Max(p.odd.Capacity, 0.05)
	if p.odd.Shunt > 0 {
		lost += plainShunt * hours / float64(p.odd.Shunt)
	}
	p.oddCharge = math.Max(0, p.oddCharge-lost)
}

// Drive charges at what it takes, less in the cold and as it fills.
func (p *plain) Drive(c twin.Charger, hours float64, at quantity.Celsius) {
	p.at = at
	const step = 0.1
	full := 1 - 0.12*p.sulphation
	for left := hours; left > 0; left -= step {
		cold := math.Exp(-plainColdTakes * math.Max(0, plainReference-float64(at)))
		push := math.Min(1, math.Max(0, (float64(c.Volts)-12.9)/1.4))
		takes := math.Min(float64(c.Amps), plainAccepts*p.ampereHours*(1-p.charge)*cold*push)
		in := takes * math.Min(step, left) * plainStored / p.ampereHours
		p.charge = math.Min(math.Max(full, p.charge), p.charge+in/p.capacity)
		p.oddCharge = math.Min(p.charge, p.oddCharge+in)
	}
}
