package main

import "testing"

// TestCount checks that tests are counted, and a package only when it fails
// without a failing test of its own to show for it.
func TestCount(t *testing.T) {
	var passed, failed, skipped int
	broken := map[string]bool{}
	for _, e := range []event{
		{Action: "pass", Package: "a", Test: "T1"}, {Action: "pass", Package: "a", Test: "T1/sub"}, {Action: "skip", Package: "a", Test: "T2"},
		{Action: "fail", Package: "a", Test: "T3"}, {Action: "fail", Package: "a"}, {Action: "skip", Package: "none"}, {Action: "fail", Package: "broken"},
	} {
		count(e, broken, &passed, &failed, &skipped)
	}
	if passed != 2 || failed != 2 || skipped != 1 {
		t.Errorf("%d passed, %d failed, %d skipped", passed, failed, skipped)
	}
}
