package evidence_test

import (
	"fmt"
	"strings"
	"time"

	"grapnel/core/evidence"
)

// Every reading is answered with what it proves, or what would make it count.
func ExampleExamine() {
	c, err := evidence.Decode(strings.NewReader(`{
		"as_of": "2026-11-20",
		"battery": {"chemistry": "flooded", "nominal_v": 12},
		"readings": ["13.05 v since charge", "12.62 v 18c rested 2h"]
	}`))
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, f := range evidence.Examine(c).Findings {
		fmt.Println(f.Valid, "|", f.Text.Text)
	}
	// Output:
	// false | 13.05 V is more than the 12.90 V this battery can rest at: surface charge, or another chemistry. It proves nothing yet.
	// true | 12.62 V at rest is 98 % charged (88 to 100).
}

// A time of day is that of the day the reading was typed on, or of the one before.
func ExampleTakenAt() {
	now := time.Date(2026, 11, 24, 14, 0, 30, 0, time.UTC)
	for _, said := range []string{"14:01", "15:30", "2031-01-01T10:00:00Z"} {
		at, problems := evidence.TakenAt(said, time.Time{}, now, time.UTC)
		fmt.Println(said, "|", at.Format("2 Jan 15:04"), len(problems))
	}
	// Output:
	// 14:01 | 24 Nov 14:01 0
	// 15:30 | 23 Nov 15:30 0
	// 2031-01-01T10:00:00Z | 1 Jan 00:00 1
}
