package diagnosis_test

import (
	"fmt"
	"strings"

	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
)

// A case is judged with its reasons: a load that fails on a battery that is not charged
// proves nothing yet.
func ExampleEngine_Assess() {
	c, err := evidence.Decode(strings.NewReader(`{
		"as_of": "2026-11-20",
		"battery": {"chemistry": "flooded", "nominal_v": 12, "rating": {"value": 650, "standard": "SAE"}},
		"readings": ["12.24 v 18c rested 2h", "load 325a 15s 9.3v"]
	}`))
	if err != nil {
		fmt.Println(err)
		return
	}
	a := diagnosis.New().Assess(c)
	fmt.Println(a.Verdict.Action)
	fmt.Println(a.Verdict.Because[0].Text)
	fmt.Println(a.Next[0].Test)
	// Output:
	// charge_and_retest
	// 9.30 V under load is below 9.54 V, but at 51 % charge a sound battery does that too. Proves nothing yet.
	// charge
}
