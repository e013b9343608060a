package school_test

import (
	"fmt"

	"grapnel/core/quantity"
	"grapnel/core/school"
)

// The least volts under half of the rating fall with the battery's temperature.
func ExampleLoadSchool_Limit() {
	s, _ := school.Find(school.HalfCCA)
	for _, at := range []float64{21, 4, -18} {
		fmt.Printf("%g °C: %.2f V\n", at, float64(s.Limit(quantity.Celsius(at))))
	}
	// Output:
	// 21 °C: 9.60 V
	// 4 °C: 9.30 V
	// -18 °C: 8.50 V
}
