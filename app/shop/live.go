package shop

import (
	"context"
	"errors"
	"slices"
	"sync"
	"time"
)

// Change is one event as it is told to every open screen: what changed, not how.
type Change struct {
	ID int64 `json:"id"`
	// ShopID is whose it is; nobody else is told.
	ShopID   ID        `json:"-"`
	JobID    *ID       `json:"job_id,omitempty"`
	Revision int       `json:"revision"`
	PersonID *ID       `json:"person_id,omitempty"`
	Kind     string    `json:"kind"`
	At       time.Time `json:"at"`
}

// Feed tells everyone who listens what has changed, in every shop of the database; whoever
// passes it on passes on their own shop's. It reads the event table: at
// once when this process has written, and every feedEvery for what other copies of
// the server wrote. Transactions may commit in another order than their events are
// numbered, so a stretch before the latest is always read again.
type Feed struct {
	store feedStore
	woken chan struct{}

	mu sync.Mutex
	// recent are the latest changes in the order they were seen; first is the place
	// of the first of them.
	recent []Change
	first  int
	// floor is the latest event when the feed began, last the latest seen.
	floor, last int64
	begun       bool
	// told is closed and made anew with each change.
	told chan struct{}
}

const (
	feedEvery = time.Second
	// feedKept is how many changes a listener may be behind, and up to twice as many,
	// before it is told to read everything anew.
	feedKept = 1024
	// feedOverlap is how far back the table is read again.
	feedOverlap = 128
	// feedPause is between two looks at the least: what many change at once is read together, and
	// told to each listener in one piece. A change that comes alone is told at once.
	feedPause = 100 * time.Millisecond
)

// ErrBehind is returned to a listener that has missed changes.
var ErrBehind = errors.New("behind")

func newFeed(store feedStore) *Feed {
	return &Feed{store: store, woken: make(chan struct{}, 1), told: make(chan struct{})}
}

// feedStore is where a feed reads.
type feedStore interface {
	LastEvent(ctx context.Context) (int64, error)
	EventsAfter(ctx context.Context, id int64, limit int) ([]Change, error)
}

// wake makes the feed look at once.
func (f *Feed) wake() {
	select {
	case f.woken <- struct{}{}:
	default:
	}
}

// Run keeps the feed until the context ends. Errors of the database are passed
// to say and tried again.
func (f *Feed) Run(ctx context.Context, say func(error)) {
	tick := time.NewTicker(feedEvery)
	defer tick.Stop()
	for {
		looked := time.Now()
		if err := f.look(ctx); err != nil && ctx.Err() == nil {
			say(err)
		}
		select {
		case <-ctx.Done():
			return
		case <-f.woken:
			time.Sleep(feedPause - time.Since(looked))
		case <-tick.C:
		}
	}
}

// look takes what is new out of the event table.
func (f *Feed) look(ctx context.Context) error {
	if !f.Begun() {
		last, err := f.store.LastEvent(ctx)
		if err != nil {
			return err
		}
		f.mu.Lock()
		f.floor, f.last, f.begun = last, last, true
		f.mu.Unlock()
	}
	list, err := f.store.EventsAfter(ctx, max(f.floor, f.last-feedOverlap), feedKept)
	if err == nil {
		f.take(list)
	}
	return err
}

// Begun reports whether the feed has found where it begins.
func (f *Feed) Begun() bool {
	f.mu.Lock()
	defer f.mu.Unlock()
	return f.begun
}

// take keeps the changes that have not been seen yet and tells everyone.
func (f *Feed) take(list []Change) {
	f.mu.Lock()
	defer f.mu.Unlock()
	before := len(f.recent)
	had := map[int64]bool{}
	for _, c := range f.recent {
		if c.ID > f.last-feedOverlap {
			had[c.ID] = true
		}
	}
	for _, c := range list {
		if !had[c.ID] {
			f.recent = append(f.recent, c)
		}
	}
	if len(f.recent) == before {
		return
	}
	for _, c := range f.recent[before:] {
		f.last = max(f.last, c.ID)
	}
	// They are cut by many at once, and not at each change.
	if over := len(f.recent) - feedKept; over > feedKept {
		f.recent, f.first = slices.Clone(f.recent[over:]), f.first+over
	}
	close(f.told)
	f.told = make(chan struct{})
}

// From is the place a listener goes on from: behind the change it saw last, or at
// the end for one that saw none. ErrBehind tells that it has missed some for good.
func (f *Feed) From(last int64) (int, error) {
	f.mu.Lock()
	defer f.mu.Unlock()
	end := f.first + len(f.recent)
	switch {
	case last <= 0:
		return end, nil
	case last < f.floor || f.first > 0 && len(f.recent) > 0 && last < f.recent[0].ID:
		return end, ErrBehind
	}
	for i, c := range f.recent {
		if c.ID > last-feedOverlap && c.ID != last {
			return f.first + i, nil
		}
	}
	return end, nil
}

// After waits until something has changed behind a place and returns it with the
// place to go on from. ErrBehind tells that some of it is no longer kept.
func (f *Feed) After(ctx context.Context, place int) ([]Change, int, error) {
	for {
		list, next, told, err := f.since(place)
		if len(list) > 0 || err != nil {
			return list, next, err
		}
		select {
		case <-ctx.Done():
			return nil, place, ctx.Err()
		case <-told:
		}
	}
}

func (f *Feed) since(place int) ([]Change, int, chan struct{}, error) {
	f.mu.Lock()
	defer f.mu.Unlock()
	next := f.first + len(f.recent)
	if place < f.first {
		return nil, next, f.told, ErrBehind
	}
	return slices.Clone(f.recent[place-f.first:]), next, f.told, nil
}
