package battery

import (
	"math"

	"grapnel/core/quantity"
)

// gravityPerKelvin corrects a hydrometer for the temperature: 0.004 for each
// 10 °F off 80 °F. Source: Battery Council International, value from memory.
const gravityPerKelvin = 0.004 * 9 / 5 / 10

// Marks of specific gravity.
const (
	// FullGravity is a full cell of ordinary acid. Source: Battery Council
	// International, value from memory; 1.265 to 1.275 by maker is common practice.
	FullGravity     = 1.265
	FullGravityHigh = 1.275
	// FullGravityOld is a full cell of some old cars. Common practice, no source.
	FullGravityOld = 1.250
	// EqualiseSpread asks for an equalising charge of a flooded battery first.
	// Common practice, no source.
	EqualiseSpread = 0.030
)

// cellRule is the volts of a resting cell less its specific gravity. Source:
// Linden, Handbook of Batteries, value from memory. It fits near full and misses
// by 0.10 V for six cells when flat: the tables rule.
const cellRule = 0.845

// RuleVolts is what the cell rule makes of a specific gravity for this battery.
func (l Label) RuleVolts(sg float64) quantity.Volts {
	return quantity.Volts((sg + cellRule) * float64(l.Cells()))
}

// Gravity is a specific gravity corrected to the tables' temperature (26.7 °C)
// for electrolyte at a temperature: sg + 0.00072 for each degree warmer.
func Gravity(sg float64, at quantity.Celsius) float64 {
	return sg + gravityPerKelvin*float64(at-TableCelsius)
}

// GravityTemperatureSigma is what an error of the temperature, one sigma in
// kelvin, is worth in specific gravity.
func GravityTemperatureSigma(at quantity.Celsius) float64 { return gravityPerKelvin * float64(at) }

// GravityShift is how far this label's full gravity is off ordinary acid; zero where it
// does not say.
func (l Label) GravityShift() float64 {
	if l.FullSG == nil {
		return 0
	}
	return *l.FullSG - FullGravity
}

// ChargeFromGravity is the state of charge in percent, 0 to 100, for a
// corrected specific gravity. A label with its own full gravity shifts the
// whole table by the difference.
func (l Label) ChargeFromGravity(sg float64) float64 {
	sg -= l.GravityShift()
	return quantity.Graph[gravityPoint]{Points: gravityPoints, X: gravityPoint.gravity, Y: gravityPoint.charge}.At(sg)
}

// gravitySpread is one sigma of how makers' acid differs from the table at the
// same charge. Full is 1.265 to 1.275 by maker; value from memory.
const gravitySpread = 0.0065

// ChargeBandFromGravity is the charge for a corrected gravity with a 90 % band
// from one sigma of the hydrometer and the spread between makers.
func (l Label) ChargeBandFromGravity(sg, sigma float64) Charge {
	makers := gravitySpread
	if l.FullSG != nil {
		makers = 0
	}
	half := BandSigmas * math.Hypot(sigma, makers)
	return Charge{Percent: l.ChargeFromGravity(sg), Low: l.ChargeFromGravity(sg - half), High: l.ChargeFromGravity(sg + half)}
}

// zoneBands is the charge a coloured zone of a simple hydrometer stands for.
// Value from memory; the zones differ between instruments.
var zoneBands = map[string]Charge{
	"green": {Percent: 88, Low: 75, High: 100},
	"fair":  {Percent: 55, Low: 30, High: 80},
	"red":   {Percent: 15, Low: 0, High: 40},
}

// ChargeFromZone is the charge in percent, with its band, of a coloured zone of a simple
// hydrometer: green, fair or red. It reports false for any other word.
func ChargeFromZone(zone string) (Charge, bool) {
	ch, ok := zoneBands[zone]
	return ch, ok
}

// Combine joins several estimates of one charge into one: each weighs by the
// width of its band. Estimates that contradict each other widen the band to
// hold them all.
func Combine(estimates ...Charge) Charge {
	if len(estimates) == 1 {
		return estimates[0]
	}
	var weights, percent float64
	low, high := 100.0, 0.0
	apart := false
	for i, e := range estimates {
		half := math.Max((e.High-e.Low)/2, 1)
		weights += 1 / (half * half)
		percent += e.Percent / (half * half)
		low, high = math.Min(low, e.Low), math.Max(high, e.High)
		for _, other := range estimates[:i] {
			apart = apart || e.Low > other.High || other.Low > e.High
		}
	}
	if weights == 0 {
		return Charge{High: 100}
	}
	percent /= weights
	if apart {
		return Charge{Percent: percent, Low: low, High: high}
	}
	half := 1 / math.Sqrt(weights)
	return Charge{Percent: percent, Low: math.Max(0, percent-half), High: math.Min(100, percent+half)}
}
