package safety_test

import (
	"fmt"
	"strings"

	"grapnel/core/evidence"
	"grapnel/core/safety"
)

// A battery that bulges is not tested under load; looking at it is no work it forbids.
func ExamplePermits() {
	c, err := evidence.Decode(strings.NewReader(`{"as_of": "2026-11-20", "battery": {"chemistry": "flooded", "nominal_v": 12}, "readings": ["look bulge"]}`))
	if err != nil {
		fmt.Println(err)
		return
	}
	state := safety.StateOf(evidence.Examine(c))
	for _, work := range []safety.Work{safety.Test, safety.None} {
		d := safety.Permits(state, safety.Act{Work: work})
		fmt.Printf("%q allowed: %v\n", work, d.Allowed)
		for _, r := range d.Refusals {
			fmt.Println(r.Caution, "|", r.Clears.Text)
		}
	}
	// Output:
	// "test" allowed: false
	// frozen-or-damaged | Thaw it indoors and look again: a case without crack or bulge, dry, the posts firm. What is broken is not lifted, it is replaced.
	// "" allowed: true
}
