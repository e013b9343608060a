package bench_test

import (
	"fmt"

	"grapnel/core/bench"
)

// A sum of the bench takes its inputs as they are typed.
func ExampleSum_Work() {
	sum, _ := bench.Find("charge_from_volts")
	r, err := sum.Work(map[string]string{"chemistry": "flooded", "nominal_v": "12", "volts": "12,4", "battery_c": "20"}, bench.Setting{Year: 2026, Month: 11})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(r.Figures[0].Code, r.Figures[0].Text)
	// Output:
	// charge 70 % (60 to 80)
}
