package web

import (
	"sync"
	"time"

	"github.com/alexedwards/scs/v2"
)

// recentSessions remembers for a moment what the store says of a session: fifty open
// screens that ask for the same change ask for fifty sessions as well.
type recentSessions struct {
	scs.Store
	mu   sync.Mutex
	kept map[string]recentSession
}

type recentSession struct {
	data []byte
	at   time.Time
}

// A session that another copy of the server has ended lives on for this long at most.
const (
	recentLife  = time.Second
	mostRecents = 1024
)

// Find finds a session, by what was said of it a moment ago where that is known.
func (r *recentSessions) Find(token string) ([]byte, bool, error) {
	r.mu.Lock()
	had, ok := r.kept[token]
	r.mu.Unlock()
	if ok && time.Since(had.at) < recentLife {
		return had.data, true, nil
	}
	data, found, err := r.Store.Find(token)
	if err == nil && found {
		r.mu.Lock()
		if r.kept == nil || len(r.kept) >= mostRecents {
			r.kept = map[string]recentSession{}
		}
		r.kept[token] = recentSession{data, time.Now()}
		r.mu.Unlock()
	}
	return data, found, err
}

// Commit writes a session down.
func (r *recentSessions) Commit(token string, data []byte, expiry time.Time) error {
	defer r.forget(token)
	return r.Store.Commit(token, data, expiry)
}

// Delete ends a session.
func (r *recentSessions) Delete(token string) error {
	defer r.forget(token)
	return r.Store.Delete(token)
}

func (r *recentSessions) forget(token string) {
	r.mu.Lock()
	defer r.mu.Unlock()
	delete(r.kept, token)
}
