package charging_test

import (
	"fmt"

	"grapnel/core/battery"
	"grapnel/core/charging"
	"grapnel/core/quantity"
	"grapnel/core/twin"
)

// How long a charge takes: the workshop's rule of thumb, and what the model expects.
func ExampleModel() {
	fmt.Printf("rule of thumb: %.1f h\n", charging.WorkshopHours(110, 10, 50))
	capacity := quantity.AmpereHours(65)
	d, _ := twin.Calibrate(battery.Label{Chemistry: battery.Flooded, NominalV: 12, CapacityAh: &capacity})
	f := charging.Model(d, 50, 97, twin.Charger{Amps: 6, Volts: 14.4}, 20)
	fmt.Printf("the model: %.0f h, within %.0f and %.0f\n", f.Hours, f.Low, f.High)
	// Output:
	// rule of thumb: 5.5 h
	// the model: 7 h, within 6 and 8
}
