package web

import (
	"context"
	"slices"
)

// mostAtOnce is how many operations are worked on at once: enough to keep two processors and
// a disk busy.
const mostAtOnce = 8

// bays are places to work at. Who comes while all are taken waits, and the first to come is
// the first to be served. More at once would not be done sooner: each holds memory that is
// walked through again and again, and some would be served long after others.
type bays chan struct{}

// enter waits for a bay; leave gives it back. The context ends the waiting.
func (b bays) enter(ctx context.Context) (leave func(), err error) {
	select {
	case b <- struct{}{}:
		return func() { <-b }, nil
	case <-ctx.Done():
		return nil, ctx.Err()
	}
}

// outside are operations that mostly wait, for their turn at hashing a password or for an
// instrument: they take no bay from others.
var outside = []string{"setUp", "signIn", "useResetCode", "changePassword", "dropSecond", "addPerson", "probeInstrument"}

// bay is enter for an operation.
func (s *Server) bay(ctx context.Context, operation string) (leave func(), err error) {
	if slices.Contains(outside, operation) {
		return func() {}, nil
	}
	return s.bays.enter(ctx)
}
