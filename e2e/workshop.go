// Package e2e holds the tests that act as the person at the vehicle or at the
// counter: the whole product, its database and a real browser.
package e2e

import (
	"context"
	"database/sql"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"sync/atomic"
	"time"

	"grapnel/app/demo"
	"grapnel/app/store"
	"grapnel/app/web"
)

// Workshop is the demo workshop served on loopback.
type Workshop struct {
	URL    string
	server *httptest.Server
	db     *sql.DB
	config web.Config
	// web is the server that answers; nil while it is down.
	web atomic.Pointer[web.Server]
}

// Open serves the demo workshop from a migrated database.
func Open(ctx context.Context, db *sql.DB, now time.Time) (*Workshop, error) {
	if err := demo.Load(ctx, store.New(db), now); err != nil {
		return nil, err
	}
	return serve(db, web.Config{DemoHint: demo.SignIns()})
}

// OpenEmpty serves a shop that nobody has set up yet, with the code that its
// terminal would show.
func OpenEmpty(db *sql.DB, code string) (*Workshop, error) {
	return serve(db, web.Config{SetUpCode: code})
}

func serve(db *sql.DB, config web.Config) (*Workshop, error) {
	config.Release, config.Log = "test", slog.New(slog.DiscardHandler)
	w := &Workshop{db: db, config: config}
	if err := w.Up(); err != nil {
		return nil, err
	}
	w.server = httptest.NewServer(http.HandlerFunc(func(rw http.ResponseWriter, r *http.Request) {
		handler := w.web.Load()
		if handler == nil {
			panic(http.ErrAbortHandler) // the connection breaks off, as with no server there
		}
		handler.ServeHTTP(rw, r)
	}))
	w.URL = w.server.URL
	return w, nil
}

// Down stops the server; its address stays, and nothing answers there.
func (w *Workshop) Down() {
	if handler := w.web.Swap(nil); handler != nil {
		handler.Close()
	}
	w.server.CloseClientConnections()
}

// Up starts the server anew on the same database.
func (w *Workshop) Up() error {
	handler, err := web.New(w.db, w.config)
	if err == nil {
		w.web.Store(handler)
	}
	return err
}

// Close stops serving.
func (w *Workshop) Close() {
	w.Down()
	w.server.Close()
}
