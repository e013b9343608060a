// Package recorder reads the loggers that follow a charge, as long as the server runs, and
// hands what they see to the shop. With several servers on one database each charge is read
// by one of them.
package recorder

import (
	"context"
	"errors"
	"log/slog"
	"sync"
	"time"

	"grapnel/app/instrument"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/core/charging"
)

// Shop is what the recorder needs of it.
type Shop interface {
	// Watches lists what is to be read.
	Watches(ctx context.Context) ([]shop.Watch, error)
	// Hold gives a charge to one holder for a while and tells whether it has it.
	Hold(ctx context.Context, id, holder record.ID, life time.Duration) (bool, error)
	// Resume takes up what was seen of a charge that is held.
	Resume(ctx context.Context, w *shop.Watch) error
	// Saw keeps what was seen of a charge that is held.
	Saw(ctx context.Context, holder record.ID, w *shop.Watch, latest []charging.TracePoint) error
}

// Recorder reads loggers until its context ends.
type Recorder struct {
	shop    Shop
	network instrument.Network
	now     func() time.Time
	log     *slog.Logger
	// me is this server among those on the database.
	me record.ID
	// every is how often what was seen is kept.
	every   time.Duration
	mu      sync.Mutex
	reading map[record.ID]context.CancelFunc
	running sync.WaitGroup
}

// How the recorder works: how often it looks for charges to read and keeps what it has seen,
// for how long a charge is held by one server, when a logger that broke off is dialled again,
// how long the database may take to answer, and how many figures a check is the mean of.
const (
	lookEvery  = 2 * time.Second
	keepEvery  = 10 * time.Second
	answerIn   = 2 * time.Second
	holdLife   = 30 * time.Second
	retryAfter = 2 * time.Second
	latestMost = 10
)

// New makes a recorder over a network; now is the shop's clock.
func New(kept Shop, network instrument.Network, now func() time.Time, log *slog.Logger) *Recorder {
	return &Recorder{shop: kept, network: network, now: now, log: log, me: record.NewID(), every: keepEvery, reading: map[record.ID]context.CancelFunc{}}
}

// Run reads what is to be read until the context ends.
func (r *Recorder) Run(ctx context.Context) {
	defer r.running.Wait()
	tick := time.NewTicker(lookEvery)
	defer tick.Stop()
	for {
		if err := r.look(ctx); err != nil && ctx.Err() == nil {
			r.log.Error("loggers", slog.Any("error", err))
		}
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
	}
}

// look begins to read what is new, and leaves what is no longer to be read.
func (r *Recorder) look(ctx context.Context) error {
	// A question to the database is asked to its end: a connection broken off in the middle
	// costs both sides more than the answer.
	whole, done := context.WithTimeout(context.WithoutCancel(ctx), answerIn)
	defer done()
	list, err := r.shop.Watches(whole)
	if err != nil {
		return err
	}
	wanted := map[record.ID]bool{}
	for _, w := range list {
		wanted[w.ChargeID] = true
		if err := r.begin(ctx, whole, w); err != nil {
			return err
		}
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	for id, end := range r.reading {
		if !wanted[id] {
			end()
		}
	}
	return nil
}

// begin reads a charge that nobody else holds.
func (r *Recorder) begin(ctx, whole context.Context, w shop.Watch) error {
	r.mu.Lock()
	_, known := r.reading[w.ChargeID]
	r.mu.Unlock()
	if known {
		return nil
	}
	held, err := r.shop.Hold(whole, w.ChargeID, r.me, holdLife)
	if err != nil || !held {
		return err
	}
	if err := r.shop.Resume(whole, &w); err != nil {
		return err
	}
	ctx, end := context.WithCancel(ctx)
	r.mu.Lock()
	r.reading[w.ChargeID] = end
	r.mu.Unlock()
	r.running.Go(func() {
		defer func() {
			end()
			r.mu.Lock()
			defer r.mu.Unlock()
			delete(r.reading, w.ChargeID)
		}()
		r.follow(ctx, &w)
		r.leave(context.WithoutCancel(ctx), &w)
	})
	return nil
}

// errLost ends the reading of a charge that another server has by now.
var errLost = errors.New("held by another")

// follow reads one logger until the context ends or the charge is another's, and dials
// again when the line breaks.
func (r *Recorder) follow(ctx context.Context, w *shop.Watch) {
	for ctx.Err() == nil {
		err := r.read(ctx, w)
		if errors.Is(err, errLost) || ctx.Err() != nil {
			return
		}
		w.Trouble = instrument.Silent
		if errors.Is(err, instrument.ErrRubbish) {
			w.Trouble = instrument.Rubbish
		}
		if r.keep(ctx, w, nil) != nil {
			return
		}
		select {
		case <-ctx.Done():
		case <-time.After(retryAfter):
		}
	}
}

// leave keeps what was seen last and gives the charge free, so that another need not wait.
func (r *Recorder) leave(ctx context.Context, w *shop.Watch) {
	ctx, cancel := context.WithTimeout(ctx, answerIn)
	defer cancel()
	// A charge that is no longer followed is still this reader's to finish.
	err := r.shop.Saw(ctx, r.me, w, nil)
	if err == nil {
		_, err = r.shop.Hold(ctx, w.ChargeID, r.me, 0)
	}
	if err != nil {
		r.log.Error("logger", slog.String("name", w.Name), slog.Any("error", err))
	}
}

// read takes a logger's lines and keeps them every few seconds, the first at once.
func (r *Recorder) read(ctx context.Context, w *shop.Watch) error {
	var latest []charging.TracePoint
	var kept time.Time
	return r.network.ReadLog(ctx, w.Address, func(c instrument.Charge) error {
		s := charging.TracePoint{Seconds: r.now().Sub(w.OnAt).Seconds(), Volts: c.Volts, Amps: c.Amps}
		w.Add(s)
		latest = append(latest, s)
		latest = latest[max(0, len(latest)-latestMost):]
		if time.Since(kept) < r.every {
			return nil
		}
		kept, w.Trouble = time.Now(), ""
		return r.keep(ctx, w, latest)
	})
}

// keep hands what was seen to the shop; errLost where another server has the charge. A fault
// is logged, and it is tried again with the next.
func (r *Recorder) keep(ctx context.Context, w *shop.Watch, latest []charging.TracePoint) error {
	held, err := r.shop.Hold(ctx, w.ChargeID, r.me, holdLife)
	if err == nil && held {
		err = r.shop.Saw(ctx, r.me, w, latest)
	}
	if err != nil {
		r.log.Error("logger", slog.String("name", w.Name), slog.Any("error", err))
		return nil
	}
	if !held {
		return errLost
	}
	return nil
}
