package web

import (
	"context"
	"net/http"
	"slices"
	"sync"

	"grapnel/app/record"
)

// How many operations are worked on at once: enough to keep two processors and a disk busy. Of
// those that may calculate for seconds only some, and of one session's only some, so that neither
// what is large nor whoever asks for much keeps the others from working.
const (
	mostAtOnce     = 8
	mostHeavy      = 2
	mostOfSession  = 4
	heavyOfSession = 1
	// mostWaiting is how many of one session's may wait for their turn.
	mostWaiting = 100
)

// bays are places to work at. Who comes while all are taken waits, and the first to come is
// the first to be served. More at once would not be done sooner: each holds memory that is
// walked through again and again, and some would be served long after others.
type bays struct {
	all, heavy chan struct{}
	mu         sync.Mutex
	shares     map[record.ID]*share
}

// share is what one session may have of the bays.
type share struct {
	any, heavy chan struct{}
	// users are those who work or wait.
	users int
}

func newBays() *bays {
	return &bays{all: make(chan struct{}, mostAtOnce), heavy: make(chan struct{}, mostHeavy), shares: map[record.ID]*share{}}
}

// enter waits for a bay; leave gives it back. The context ends the waiting. All who have not
// signed in are one session.
func (b *bays) enter(ctx context.Context, session record.ID, heavy bool) (leave func(), err error) {
	mine, ok := b.take(session)
	if !ok {
		return nil, newProblem(http.StatusServiceUnavailable, "This session asks for more at once than one person can look at. Try again in a few seconds.")
	}
	gates := []chan struct{}{mine.any, b.all}
	if heavy {
		gates = []chan struct{}{mine.any, mine.heavy, b.heavy, b.all}
	}
	for n, gate := range gates {
		select {
		case gate <- struct{}{}:
		case <-ctx.Done():
			b.giveBack(session, gates[:n])
			return nil, ctx.Err()
		}
	}
	return func() { b.giveBack(session, gates) }, nil
}

func (b *bays) take(session record.ID) (*share, bool) {
	b.mu.Lock()
	defer b.mu.Unlock()
	mine := b.shares[session]
	if mine == nil {
		mine = &share{any: make(chan struct{}, mostOfSession), heavy: make(chan struct{}, heavyOfSession)}
		b.shares[session] = mine
	}
	if mine.users >= mostOfSession+mostWaiting {
		return nil, false
	}
	mine.users++
	return mine, true
}

func (b *bays) giveBack(session record.ID, gates []chan struct{}) {
	for _, gate := range slices.Backward(gates) {
		<-gate
	}
	b.mu.Lock()
	defer b.mu.Unlock()
	mine := b.shares[session]
	if mine.users--; mine.users == 0 {
		delete(b.shares, session)
	}
}

// outside are operations that take no bay from others: they wait for their turn at hashing a
// password or for an instrument, or neither ask the database nor calculate.
var outside = []string{"setUp", "signIn", "useResetCode", "changePassword", "dropSecond", "addPerson", "probeInstrument", "complete"}

// heavy are operations that may calculate for seconds.
var heavy = []string{
	"assess", "importJob", "account", "planCharge", "workOutJump", "fitting", "shelf", "chargeOnShelf", "season", "workSum", "jobText", "preview",
}

// bay is enter for an operation.
func (s *Server) bay(ctx context.Context, operation string) (leave func(), err error) {
	if slices.Contains(outside, operation) {
		return func() {}, nil
	}
	return s.bays.enter(ctx, from(ctx).ID, slices.Contains(heavy, operation))
}
