package instrument

import (
	"context"
	"errors"
	"sync"
	"time"
)

// State is what an instrument shows now, as a screen shows it.
type State struct {
	// Sample is the latest figure; nil where there is none.
	Sample *Sample `json:"sample"`
	Hold   Hold    `json:"hold"`
	// Trouble is what is wrong, one of the codes; empty for nothing.
	Trouble string `json:"trouble"`
}

// What is wrong with an instrument, as a code.
const (
	Silent   = "silent"
	Rubbish  = "rubbish"
	Overload = "overload"
	// Starting: it was asked for just now.
	Starting = "starting"
)

// Watcher reads the instruments that somebody looks at, and leaves those alone that
// nobody has asked for in a while.
type Watcher struct {
	network Network
	mu      sync.Mutex
	watched map[place]*watch
	// leaving are those that nobody looks at any more and that have still to hang up.
	leaving map[place]*watch
	running sync.WaitGroup
	ended   context.Context
	end     context.CancelFunc
	// life is how long one that nobody asks for goes on being read.
	life time.Duration
}

type place struct {
	protocol Protocol
	address  string
}

type watch struct {
	state State
	asked time.Time
	// before is one of the same instrument that has still to hang up; over is closed when
	// this one has.
	before *watch
	over   chan struct{}
}

// How an instrument is watched.
const (
	readEvery  = 250 * time.Millisecond
	watchLife  = 10 * time.Second
	retryAfter = time.Second
)

// NewWatcher watches over a network until it is closed.
func NewWatcher(network Network) *Watcher {
	w := &Watcher{network: network, watched: map[place]*watch{}, leaving: map[place]*watch{}, life: watchLife}
	w.ended, w.end = context.WithCancel(context.Background())
	return w
}

// Close hangs up on every instrument.
func (w *Watcher) Close() {
	w.end()
	w.running.Wait()
}

// State is what an instrument shows; it begins to be watched with the first asking.
func (w *Watcher) State(protocol Protocol, address string) State {
	w.mu.Lock()
	defer w.mu.Unlock()
	at := place{protocol, address}
	one, known := w.watched[at]
	if !known {
		one = &watch{state: State{Trouble: Starting}, before: w.leaving[at], over: make(chan struct{})}
		w.watched[at] = one
		if w.ended.Err() == nil {
			w.running.Go(func() { w.follow(at, one) })
		}
	}
	one.asked = time.Now()
	return one.state
}

// follow reads one instrument as long as somebody looks at it, and dials again when
// the line breaks.
func (w *Watcher) follow(at place, one *watch) {
	defer w.hungUp(at, one)
	if one.before != nil {
		<-one.before.over
	}
	for w.wanted(at, one) {
		r, err := w.network.Dial(w.ended, at.protocol, at.address)
		if err == nil {
			err = w.read(at, one, r)
			err = errors.Join(err, r.Close())
		}
		w.put(one, State{Trouble: troubleOf(err)})
		if !w.wanted(at, one) {
			return
		}
		select {
		case <-w.ended.Done():
		case <-time.After(retryAfter):
		}
	}
}

// read takes figures until nobody looks any more or the line breaks. A figure that
// is none is said and read again.
func (w *Watcher) read(at place, one *watch, r Reader) error {
	var steady Steady
	tick := time.NewTicker(readEvery)
	defer tick.Stop()
	for w.wanted(at, one) {
		sample, err := r.Read(w.ended)
		switch {
		case errors.Is(err, ErrRubbish) || errors.Is(err, ErrOverload):
			steady.Forget()
			w.put(one, State{Trouble: troubleOf(err)})
		case err != nil:
			return err
		default:
			w.put(one, State{Sample: &sample, Hold: steady.Add(time.Now(), sample)})
		}
		select {
		case <-w.ended.Done():
			return nil
		case <-tick.C:
		}
	}
	return nil
}

// wanted reports whether somebody still looks at an instrument; it forgets one that
// nobody does. One that is looked at again then is another watch: the old one hangs up
// and is done.
func (w *Watcher) wanted(at place, one *watch) bool {
	w.mu.Lock()
	defer w.mu.Unlock()
	if w.watched[at] != one {
		return false
	}
	if w.ended.Err() != nil || time.Since(one.asked) > w.life {
		delete(w.watched, at)
		w.leaving[at] = one
		return false
	}
	return true
}

// hungUp tells whoever waits to look at the same instrument that it is free.
func (w *Watcher) hungUp(at place, one *watch) {
	w.mu.Lock()
	defer w.mu.Unlock()
	one.before = nil
	if w.leaving[at] == one {
		delete(w.leaving, at)
	}
	close(one.over)
}

func (w *Watcher) put(one *watch, s State) {
	w.mu.Lock()
	defer w.mu.Unlock()
	one.state = s
}

func troubleOf(err error) string {
	switch {
	case errors.Is(err, ErrRubbish):
		return Rubbish
	case errors.Is(err, ErrOverload):
		return Overload
	}
	return Silent
}
