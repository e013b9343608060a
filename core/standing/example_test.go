package standing_test

import (
	"fmt"

	"grapnel/core/standing"
)

// What a maintainer has to give for 60 Ah with 40 mA of drain in a cool shed.
func ExampleMaintainerFor() {
	m := standing.MaintainerFor(60, 0.04, "calcium", 10)
	fmt.Printf("at least %.2f A, %.1f A is enough, %.0f A at the most\n", float64(m.Least), float64(m.Enough), float64(m.Most))
	// Output:
	// at least 0.08 A, 1.0 A is enough, 6 A at the most
}
