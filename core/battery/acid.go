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

type gravityPoint struct{ percent, sg float64 }

func (p gravityPoint) charge() float64  { return p.percent }
func (p gravityPoint) gravity() float64 { return p.sg }

// gravityPoints is specific gravity by charge, flooded, 26.7 °C. Source:
// Battery Council International service practice, value from memory.
var gravityPoints = []gravityPoint{
	{0, 1.120}, {25, 1.155}, {50, 1.190}, {75, 1.225}, {100, 1.265},
}

// GravityFromCharge is the specific gravity of ordinary acid at a state of
// charge in percent, 0 to 100.
func GravityFromCharge(percent float64) float64 {
	return quantity.Graph[gravityPoint]{Points: gravityPoints, X: gravityPoint.charge, Y: gravityPoint.gravity}.At(percent)
}

// FreezingPoint is where electrolyte of a specific gravity, 1.000 to 1.300,
// begins to freeze. Outside the table its end values hold.
func FreezingPoint(sg float64) quantity.Celsius {
	of := quantity.Graph[acidPoint]{
		Points: freezing,
		X:      func(p acidPoint) float64 { return p.sg },
		Y:      func(p acidPoint) float64 { return float64(p.freezes) },
	}
	return quantity.Celsius(of.At(sg))
}

// FreezingPointAtCharge is where a battery at this charge begins to freeze,
// rounded up to the next whole degree: the safe side.
func FreezingPointAtCharge(percent float64) quantity.Celsius {
	return quantity.Celsius(math.Ceil(float64(FreezingPoint(GravityFromCharge(percent)))))
}
