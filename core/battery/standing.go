package battery

import (
	"math"

	"grapnel/core/quantity"
)

// selfDischarge is the share of its capacity a battery loses in a month at
// 25 °C, in percent. Values from memory.
var selfDischarge = map[string]float64{
	"antimony": 8, "calcium": 3, "efb": 3, "agm": 2, "gel": 2,
}

const (
	// selfDischargeCelsius is the temperature the table holds at, and
	// selfDischargeDouble the kelvin over which it doubles. Value from memory.
	selfDischargeCelsius quantity.Celsius = 25
	selfDischargeDouble                   = 10
	monthDays                             = 365.25 / 12
)

// Rested six-cell volts of a flooded battery by which a standing battery is
// judged. Common practice, no source.
const (
	// RechargeVolts asks for a charge of a battery in store.
	RechargeVolts quantity.Volts = 12.4
	// NoStartPercent is the charge at which a battery is not trusted to start
	// an engine. Value from memory.
	NoStartPercent = 35
)

// Plates is how the grids of a flooded battery are alloyed, which decides its
// self-discharge: antimony or calcium. Few labels say it; newer sealed ones are calcium.
func (l Label) Plates() string {
	if l.Chemistry != Flooded {
		return string(l.Chemistry)
	}
	if l.Alloy != "" {
		return l.Alloy
	}
	if l.Opens() {
		return "antimony"
	}
	return "calcium"
}

// SelfDischarge is the trade's rule of thumb for what a battery loses by itself, in
// percent of its capacity a day, at a temperature: so much a month, twice as much for
// every 10 K. Plates is one of PlatesKinds; zero for any other. What a battery will have
// lost is for the model to say, twin.Battery.Park, whose losses go with its volts.
func SelfDischarge(plates string, at quantity.Celsius) float64 {
	monthly := selfDischarge[plates]
	return monthly / monthDays * math.Exp2(float64(at-selfDischargeCelsius)/selfDischargeDouble)
}

// PlatesKinds lists what SelfDischarge knows.
func PlatesKinds() []string { return []string{"antimony", "calcium", "efb", "agm", "gel"} }

// DaysStanding is the trade's rule of thumb for how many days a battery of some
// ampere-hours stands from one charge to another, in percent, with a drain and what it
// loses by itself, in percent a day: what is there over what is taken. Zero where it is
// there already; false where nothing draws and it never is.
func DaysStanding(capacity float64, drain quantity.Amperes, selfPercentDay, from, to float64) (days float64, ever bool) {
	if from <= to {
		return 0, true
	}
	byDrain := float64(drain) * hoursPerDay / capacity * 100
	if byDrain+selfPercentDay <= 0 {
		return 0, false
	}
	return (from - to) / (byDrain + selfPercentDay), true
}

const hoursPerDay = 24
