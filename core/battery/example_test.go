package battery_test

import (
	"fmt"

	"grapnel/core/battery"
	"grapnel/core/quantity"
)

// A rested voltage says how charged a battery is, its temperature set right.
func ExampleLabel_ChargeFromVolts() {
	l := battery.Label{Chemistry: battery.Flooded, NominalV: 12}
	for _, at := range []struct{ volts, celsius float64 }{{12.65, 26.7}, {12.4, 20}, {12.4, -5}} {
		percent, _ := l.ChargeFromVolts(quantity.Volts(at.volts), quantity.Celsius(at.celsius))
		fmt.Printf("%.2f V at %g °C: %.0f %%\n", at.volts, at.celsius, percent)
	}
	// Output:
	// 12.65 V at 26.7 °C: 100 %
	// 12.40 V at 20 °C: 70 %
	// 12.40 V at -5 °C: 74 %
}

// A rating of one standard is carried over to SAE with the width of the conversion.
func ExampleRating_SAE() {
	c := battery.Rating{Value: 640, Standard: battery.EN}.SAE()
	fmt.Printf("640 A EN is %.0f A SAE (%.0f to %.0f), converted: %v\n", c.SAE, c.Low, c.High, c.Converted)
	// Output:
	// 640 A EN is 700 A SAE (665 to 735), converted: true
}

// A discharged battery freezes, a charged one does not.
func ExampleFreezingPointAtCharge() {
	for _, percent := range []float64{100, 50, 20} {
		fmt.Printf("%g %%: %.0f °C\n", percent, float64(battery.FreezingPointAtCharge(percent)))
	}
	// Output:
	// 100 %: -57 °C
	// 50 %: -24 °C
	// 20 %: -14 °C
}
