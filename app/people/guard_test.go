package people

import (
	"testing"
	"time"
)

// TestPatience walks a guesser: the first tries cost nothing, each further one waits twice as
// long up to a bound, and what is left alone is forgiven. The figures are our own.
func TestPatience(t *testing.T) {
	now := time.Date(2026, 11, 29, 9, 0, 0, 0, time.UTC)
	var g Guard
	wait := func() time.Duration { return max(0, withName.until(g, now).Sub(now)) }
	for range withName.free - 1 {
		g = withName.after(g, now)
		if wait() != 0 {
			t.Fatalf("%d failures wait %s", g.Failures, wait())
		}
	}
	for _, want := range []time.Duration{10, 20, 40, 80, 160, 320, 640, 900, 900} {
		g = withName.after(g, now)
		if wait() != want*time.Second {
			t.Errorf("%d failures wait %s, want %s", g.Failures, wait(), want*time.Second)
		}
	}
	for range 100 {
		g = withName.after(g, now)
	}
	if wait() != withName.most {
		t.Errorf("a hundred failures wait %s", wait())
	}
	g = Guard{withName.free + 2, now}
	now = now.Add(3 * withName.forgives)
	if wait() != 0 || withName.left(g, now) != withName.free-1 {
		t.Errorf("half an hour later %d stand, %s", withName.left(g, now), wait())
	}
	// A guesser who keeps to the pace for a day gets in as many tries as a name forgives, and
	// the few that were free.
	tries, g := 0, Guard{}
	for end := now.Add(24 * time.Hour); now.Before(end); now = now.Add(time.Second) {
		if !now.Before(withName.until(g, now)) {
			g, tries = withName.after(g, now), tries+1
		}
	}
	if tries > 160 {
		t.Errorf("%d guesses a day", tries)
	}
}
