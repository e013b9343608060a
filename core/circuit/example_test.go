package circuit_test

import (
	"fmt"

	"grapnel/core/circuit"
)

// The millivolts across a blade fuse tell the current through it.
func ExampleFuseCurrent() {
	amps, ok := circuit.FuseCurrent(15, 1.2)
	fmt.Printf("%.0f mA %v\n", float64(amps)*1000, ok)
	// Output:
	// 250 mA true
}

// What a cable of a cross-section in mm² and a length in metres drops under a starter.
func ExampleCable() {
	volts, watts := circuit.Drop(circuit.Cable(35, 3, 20), 200)
	fmt.Printf("%.2f V, %.0f W\n", float64(volts), watts)
	// Output:
	// 0.30 V, 59 W
}
