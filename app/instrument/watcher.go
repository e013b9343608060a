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
	mu      sync.Mutex
	watched map[place]*watch
	running sync.WaitGroup
	ended   context.Context
	end     context.CancelFunc
}

type place struct {
	protocol Protocol
	address  string
}

type watch struct {
	state State
	asked time.Time
}

// How an instrument is watched.
const (
	readEvery  = 250 * time.Millisecond
	watchLife  = 10 * time.Second
	retryAfter = time.Second
)

// NewWatcher watches until it is closed.
func NewWatcher() *Watcher {
	w := &Watcher{watched: map[place]*watch{}}
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
		one = &watch{state: State{Trouble: Starting}}
		w.watched[at] = one
		if w.ended.Err() == nil {
			w.running.Go(func() { w.follow(at) })
		}
	}
	one.asked = time.Now()
	return one.state
}

// follow reads one instrument as long as somebody looks at it, and dials again when
// the line breaks.
func (w *Watcher) follow(at place) {
	for w.wanted(at) {
		r, err := Dial(w.ended, at.protocol, at.address)
		if err == nil {
			err = w.read(at, r)
			err = errors.Join(err, r.Close())
		}
		w.put(at, State{Trouble: troubleOf(err)})
		select {
		case <-w.ended.Done():
		case <-time.After(retryAfter):
		}
	}
}

// read takes figures until nobody looks any more or the line breaks. A figure that
// is none is said and read again.
func (w *Watcher) read(at place, r Reader) error {
	var steady Steady
	tick := time.NewTicker(readEvery)
	defer tick.Stop()
	for w.wanted(at) {
		sample, err := r.Read(w.ended)
		switch {
		case errors.Is(err, ErrRubbish) || errors.Is(err, ErrOverload):
			steady.Forget()
			w.put(at, State{Trouble: troubleOf(err)})
		case err != nil:
			return err
		default:
			w.put(at, State{Sample: &sample, Hold: steady.Add(time.Now(), sample)})
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
// nobody does.
func (w *Watcher) wanted(at place) bool {
	w.mu.Lock()
	defer w.mu.Unlock()
	one, ok := w.watched[at]
	if !ok || w.ended.Err() != nil || time.Since(one.asked) > watchLife {
		delete(w.watched, at)
		return false
	}
	return true
}

func (w *Watcher) put(at place, s State) {
	w.mu.Lock()
	defer w.mu.Unlock()
	if one, ok := w.watched[at]; ok {
		one.state = s
	}
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
