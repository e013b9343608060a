// Package e2e holds the tests that act as the person at the vehicle or at the
// counter: the whole product, its database and a real browser.
package e2e

import (
	"context"
	"database/sql"
	"log/slog"
	"net/http/httptest"
	"time"

	"grapnel/app/demo"
	"grapnel/app/store"
	"grapnel/app/web"
)

// Workshop is the demo workshop served on loopback.
type Workshop struct {
	URL    string
	server *httptest.Server
	web    *web.Server
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
	handler, err := web.New(db, config)
	if err != nil {
		return nil, err
	}
	server := httptest.NewServer(handler)
	return &Workshop{URL: server.URL, server: server, web: handler}, nil
}

// Close stops serving.
func (w *Workshop) Close() {
	w.web.EndStreams()
	w.server.Close()
	w.web.Close()
}
