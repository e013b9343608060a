package people

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"time"

	"grapnel/app/record"
)

// Guard is what has failed lately for one person, name, address, session or device.
type Guard struct {
	Failures int
	LastAt   time.Time
}

// notAhead is the guard with no failure ahead of a moment.
func (g Guard) notAhead(now time.Time) Guard {
	g.LastAt = record.NotAhead(g.LastAt, now)
	return g
}

// patience says how much guessing is put up with.
type patience struct {
	// free is how many failures cost nothing, first the wait behind the next; each
	// further one doubles it up to most.
	free        int
	first, most time.Duration
	// forgives is how long it takes until one failure is forgotten.
	forgives time.Duration
}

// The patience with a name, an address, and a session or a known device: many people may sign in from one
// address, and mistype. Common practice, no source.
var (
	withName    = patience{free: 5, first: 10 * time.Second, most: 15 * time.Minute, forgives: 10 * time.Minute}
	withAddress = patience{free: 20, first: 5 * time.Second, most: 15 * time.Minute, forgives: time.Minute}
	withSession = patience{free: 5, first: 10 * time.Second, most: 15 * time.Minute, forgives: 10 * time.Minute}
)

// left is how many failures still stand at a moment.
func (p patience) left(g Guard, now time.Time) int {
	return max(0, g.Failures-int(max(0, now.Sub(g.LastAt))/p.forgives))
}

// After is the guard after one more failure.
func (p patience) after(g Guard, now time.Time) Guard { return Guard{p.left(g, now) + 1, now} }

// until is when the next try is heard; the zero time for at once.
func (p patience) until(g Guard, now time.Time) time.Time {
	over := p.left(g, now) - p.free
	if over < 0 {
		return time.Time{}
	}
	wait := p.most
	if over < 16 { // it has doubled beyond any bound by then
		wait = min(p.most, p.first<<over)
	}
	return g.LastAt.Add(wait)
}

// Waiting is the error of a try that comes too early: nothing was looked at.
type Waiting struct{ Until time.Time }

func (w Waiting) Error() string {
	return fmt.Sprintf("too many wrong tries; the next is heard at %s", w.Until.UTC().Format(time.TimeOnly))
}

// subject names what is guarded, so that nobody's name or address is written down in it.
func subject(kind, of string) string {
	sum := sha256.Sum256([]byte(kind + ":" + of))
	return hex.EncodeToString(sum[:])
}
