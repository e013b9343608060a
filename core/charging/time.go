package charging

import (
	"math"
	"time"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
)

const (
	// CheckMinutes is how often a charge is looked at. Common practice, no source.
	CheckMinutes quantity.Minutes = 30
	// fullPercent is where the workshop's rule ends.
	fullPercent = 100
	// usualRate and slowRate are what a car battery is charged with; boostMost is
	// for a short boost only, startMost for seconds, to start. Common practice,
	// no source.
	usualRate quantity.Amperes = 10
	slowRate  quantity.Amperes = 2
	boostMost quantity.Amperes = 40
	startMost quantity.Amperes = 200
	// refuseVolts is under what a charger with reverse protection may not start,
	// six cells. Common practice, no source.
	refuseVolts quantity.Volts = 8
	// CoilAh is what a mower's weak coil adds in the CoilMinutes an engine is run
	// for want of a charger. Values from memory; the minutes are common practice.
	CoilAh      quantity.AmpereHours = 1
	CoilMinutes quantity.Minutes     = 20
)

// WorkshopHours is the trade's rule for a charge: reserve minutes over average
// amperes, in hours from flat, in proportion from a part charge in percent.
// Common practice, no source; it takes the minutes for ampere-hours and is
// generous. The current must be above zero.
func WorkshopHours(reserve quantity.Minutes, average quantity.Amperes, from float64) float64 {
	return float64(reserve) / float64(average) * (fullPercent - from) / fullPercent
}

// TaperAverage is the average current of a taper charger that falls from its
// first current to what it gives after an hour. Common practice, no source:
// 30 A falling to 10 A counts 20 A.
func TaperAverage(first, afterHour quantity.Amperes) quantity.Amperes { return (first + afterHour) / 2 }

// Margin is how many times the workshop's rule exceeds what is missing at its
// own average current, for the capacity of a slow drain.
func Margin(hours float64, average quantity.Amperes, missing quantity.AmpereHours) float64 {
	return hours * float64(average) / float64(missing)
}

// Rate tells what charging a battery of some ampere-hours with a current is called in the
// shop: slow, kind, quick, boost or start_only, each up to its current. Common practice,
// no source.
func Rate(current quantity.Amperes, capacity float64) string {
	kind, quick := battery.Flooded.ChargeCurrent(capacity)
	switch {
	case current <= slowRate || current <= kind/2:
		return "slow"
	case current <= kind*(1+rateTolerance):
		return "kind"
	case current <= max(quick, usualRate):
		return "quick"
	case current <= boostMost:
		return "boost"
	}
	return "start_only"
}

// rateTolerance is how far over 10 % still counts as that. Value from memory.
const rateTolerance = 0.05

// CoilAmpereHours is what running a small engine with a weak coil puts back, one
// ampere-hour for every 20 min; zero for a run of no time.
func CoilAmpereHours(run quantity.Minutes) quantity.AmpereHours {
	return CoilAh * quantity.AmpereHours(math.Max(0, float64(run/CoilMinutes)))
}

// Starts reports whether a charger with reverse protection is likely to begin
// at these volts across six cells.
func Starts(volts quantity.Volts) bool { return volts >= refuseVolts }

// NextCheck is when a charge that runs is looked at again: CheckMinutes after its last
// check. False where none runs: no check was taken, the charger said full, the battery
// rested since, or nobody knows when it was.
func NextCheck(c evidence.Case) (due time.Time, running bool) {
	last := evidence.Examine(c).Last()
	for i := last.End - 1; i >= last.First; i-- {
		r := &c.Readings[i]
		if r.Kind == reading.ChargeLog {
			return r.At.Add(CheckMinutes.Duration()), !r.Is(reading.ChargerFull) && !r.At.IsZero()
		}
	}
	return time.Time{}, false
}
