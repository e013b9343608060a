package use_test

import (
	"fmt"

	"grapnel/core/use"
)

// Six trips of nine minutes a week at 5 °C, by the trade's rule of thumb.
func ExampleWeek_Balance() {
	b := use.Week{Trips: 6, Minutes: 9, Air: 5, Capacity: 60, Plates: "calcium"}.Balance()
	fmt.Printf("takes %.1f Ah, gets %.1f (%.1f to %.1f): loses %v\n", b.Starts+b.Drain+b.Self, b.In, b.Low, b.High, b.Loses)
	// Output:
	// takes 5.0 Ah, gets 7.3 (4.6 to 11.7): loses false
}
