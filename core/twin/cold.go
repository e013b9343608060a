package twin

import "grapnel/core/quantity"

// What an engine may ask against a middling one of its kind: four of five lie between. Values
// from memory.
const (
	EasyDrag = 0.8
	HardDrag = 1.25
)

// Between these air temperatures a coldest start is looked for: colder than any place that
// vehicles stand at, warmer than any.
const (
	ColdestAir quantity.Celsius = -40
	WarmestAir quantity.Celsius = 50
	coldSteps                   = 14
)

// ColdestStart is the coldest air in which a battery of this design starts the car, engine
// and battery as cold as the air: to a hundredth of a degree; ColdestAir means there or colder still. It
// reports false where the car does not start in any. The percent is its charge, 0 to 100.
func (d *Design) ColdestStart(c Condition, percent float64, car Car) (quantity.Celsius, bool) {
	starts := func(at quantity.Celsius) bool {
		b := d.New(c, percent, at)
		return car.Crank(&b).Speed >= fireSpeed
	}
	low, high := ColdestAir, WarmestAir
	switch {
	case !starts(high):
		return 0, false
	case starts(low):
		return low, true
	}
	for range coldSteps {
		if at := (low + high) / 2; starts(at) {
			high = at
		} else {
			low = at
		}
	}
	return high, true
}
