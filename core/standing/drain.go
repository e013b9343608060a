package standing

import (
	"grapnel/core/evidence"
	"grapnel/core/quantity"
)

// Drain is what a sleeping vehicle draws, with its band.
type Drain struct {
	Amps, Low, High quantity.Amperes
}

const (
	milli = 1e-3
	// measuredSpread is how far a drain that was read once is off over a season, either way, as
	// a share: a vehicle wakes now and then. Value from memory.
	measuredSpread = 0.1
)

// typical is what a vehicle of a kind draws asleep, in milliamperes: middling, low, high. A
// car in order draws up to 50 mA, a motorcycle 1 to 5, what has no modules next to nothing
// (common practice, no source); the others are values from memory.
var typical = []struct {
	kinds           []string
	amps, low, high float64
}{
	{[]string{"car", "van", "electric", ""}, 25, 10, 50},
	{[]string{"hybrid"}, 20, 10, 40},
	{[]string{"truck"}, 40, 15, 90},
	{[]string{"motorcycle"}, 2.5, 1, 5},
	{[]string{"offroad"}, 1.5, 0.5, 4},
	{[]string{"mower", "tractor", "classic"}, 0.3, 0, 1.5},
}

// Typical is the usual drain of a vehicle of its kind; nothing where there is no vehicle.
func Typical(v evidence.Vehicle) Drain {
	for _, row := range typical {
		for _, kind := range row.kinds {
			if kind == v.Kind {
				return Drain{quantity.Amperes(row.amps * milli), quantity.Amperes(row.low * milli), quantity.Amperes(row.high * milli)}
			}
		}
	}
	return Drain{}
}

// Measured is a drain that was read, with how far a season is off it.
func Measured(amps quantity.Amperes) Drain {
	return Drain{amps, amps * (1 - measuredSpread), amps * (1 + measuredSpread)}
}
