package twin_test

import (
	"fmt"

	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/twin"
)

// A battery is calibrated from its label and worked: loaded, left standing, charged.
func ExampleCalibrate() {
	capacity := quantity.AmpereHours(65)
	d, ok := twin.Calibrate(battery.Label{
		Chemistry: battery.Flooded, NominalV: 12, CapacityAh: &capacity, Rating: &battery.Rating{Value: 650, Standard: battery.SAE},
	})
	if !ok {
		return // a chemistry that is not judged
	}
	b := d.New(twin.Sound, 100, 20)
	fmt.Printf("rested %.2f V, under 325 A for 15 s %.1f V\n", float64(b.Volts()), float64(b.Under(325, 15)))
	b.Park(0.05, 30*24, func(float64) quantity.Celsius { return 10 }, nil)
	fmt.Printf("after 30 days at 50 mA: %.0f %%\n", b.Percent())
	// Output:
	// rested 12.64 V, under 325 A for 15 s 10.3 V
	// after 30 days at 50 mA: 44 %
}
