package fitting_test

import (
	"fmt"

	"grapnel/core/fitting"
	"grapnel/core/quantity"
)

// What a wrench was set to, against what a terminal wants.
func ExampleJudge() {
	for _, nm := range []float64{3, 6, 20} {
		fmt.Println(nm, "N·m on a top post:", fitting.Judge("top", quantity.NewtonMetres(nm)))
	}
	// Output:
	// 3 N·m on a top post: under
	// 6 N·m on a top post: in
	// 20 N·m on a top post: over
}
