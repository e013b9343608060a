package battery

import (
	"math"

	"grapnel/core/quantity"
)

// acidPoint ties specific gravity to the freezing point of the electrolyte.
type acidPoint struct {
	sg      float64
	freezes quantity.Celsius
}

// freezing is the freezing point of sulphuric-acid electrolyte. Source: the
// usual handbook table, value from memory.
var freezing = []acidPoint{
	{1.000, 0}, {1.050, -3.3}, {1.100, -7.8}, {1.150, -15}, {1.200, -27}, {1.250, -52}, {1.265, -57}, {1.300, -71},
}

// gravityPoints is specific gravity by charge, flooded, 26.7 °C. Source:
// Battery Council International service practice, value from memory.
var gravityPoints = []struct{ percent, sg float64 }{
	{0, 1.120}, {25, 1.155}, {50, 1.190}, {75, 1.225}, {100, 1.265},
}

// GravityFromCharge is the specific gravity of ordinary acid at a state of
// charge in percent, 0 to 100.
func GravityFromCharge(percent float64) float64 {
	for i := 1; i < len(gravityPoints); i++ {
		a, b := gravityPoints[i-1], gravityPoints[i]
		if percent <= b.percent {
			return a.sg + (percent-a.percent)/(b.percent-a.percent)*(b.sg-a.sg)
		}
	}
	return gravityPoints[len(gravityPoints)-1].sg
}

// FreezingPoint is where electrolyte of a specific gravity, 1.000 to 1.300,
// begins to freeze. Outside the table its end values hold.
func FreezingPoint(sg float64) quantity.Celsius {
	if sg <= freezing[0].sg {
		return freezing[0].freezes
	}
	for i := 1; i < len(freezing); i++ {
		a, b := freezing[i-1], freezing[i]
		if sg <= b.sg {
			share := (sg - a.sg) / (b.sg - a.sg)
			return a.freezes + quantity.Celsius(share)*(b.freezes-a.freezes)
		}
	}
	return freezing[len(freezing)-1].freezes
}

// FreezingPointAtCharge is where a battery at this charge begins to freeze,
// rounded up to the next whole degree: the safe side.
func FreezingPointAtCharge(percent float64) quantity.Celsius {
	return quantity.Celsius(math.Ceil(float64(FreezingPoint(GravityFromCharge(percent)))))
}
