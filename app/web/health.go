package web

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"strconv"
	"sync"
	"time"

	"grapnel/app/room"
	"grapnel/app/store"
)

// How long the database may take to say that it is there, and how long what was found out of
// it is believed: anybody may ask.
const (
	pulseTime = 2 * time.Second
	pulseLife = 2 * time.Second
	// troubleLife is how long that is where it is not well: it may be well again at once.
	troubleLife = 100 * time.Millisecond
	// fullFor is how long a write that found the disk full stands against the next that is
	// tried.
	fullFor = 30 * time.Second
)

// Why the shop cannot be worked in, as anybody may know it: nothing of where its database is.
var (
	errNoDatabase = errors.New("the database does not answer")
	errReadOnly   = errors.New("the database takes no changes")
	errDiskFull   = errors.New("the disk of the database is full")
)

// health is what was found out last of whether the shop can be worked in.
type health struct {
	mu     sync.Mutex
	asked  time.Time
	write  error
	fullAt time.Time
}

// sawFull notes that a write has found the disk full.
func (h *health) sawFull(now time.Time) {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.fullAt, h.asked = now, time.Time{}
}

// ready answers whether the server can answer: a balancer goes by it.
func (s *Server) ready(w http.ResponseWriter, r *http.Request) {
	read, _ := s.pulse(r.Context())
	s.answerHealth(w, r, read)
}

// healthy answers whether the shop can be worked in: whoever starts it again, or is called when
// it cannot, goes by it.
func (s *Server) healthy(w http.ResponseWriter, r *http.Request) {
	_, write := s.pulse(r.Context())
	s.answerHealth(w, r, write)
}

func (s *Server) answerHealth(w http.ResponseWriter, _ *http.Request, err error) {
	if err != nil {
		w.Header().Set("Retry-After", strconv.Itoa(retryAfter))
		writeText(w, http.StatusServiceUnavailable, err.Error())
		return
	}
	writeText(w, http.StatusOK, "ok")
}

// pulse finds out whether the database answers, and whether it takes changes.
func (s *Server) pulse(ctx context.Context) (read, write error) {
	ctx, cancel := context.WithTimeout(ctx, pulseTime)
	defer cancel()
	if err := s.db.PingContext(ctx); err != nil {
		s.log.Warn("database away", slog.Any("error", err))
		return errNoDatabase, errNoDatabase
	}
	h := &s.health
	h.mu.Lock()
	defer h.mu.Unlock()
	life := pulseLife
	if h.write != nil {
		life = troubleLife
	}
	if time.Since(h.asked) >= life {
		h.write, h.asked = s.writable(ctx), time.Now()
	}
	return nil, h.write
}

// writable finds out why nothing can be written down; nil where it can.
func (s *Server) writable(ctx context.Context) error {
	if left, ok := s.left(); ok && left < room.Least {
		return fmt.Errorf("%w: %s are left", errDiskFull, room.Text(left))
	}
	if !s.health.fullAt.IsZero() && time.Since(s.health.fullAt) < fullFor {
		return errDiskFull
	}
	err := store.Beat(ctx, s.db, s.config.Now())
	switch {
	case err == nil:
		return nil
	case store.Full(err):
		return errDiskFull
	case store.Away(err):
		return errNoDatabase
	}
	s.log.Warn("the database takes no changes", slog.Any("error", err))
	return errReadOnly
}
