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
	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store"
	"grapnel/app/web"
	"grapnel/e2e/fault"
)

// Workshop is the demo workshop served on loopback, behind a proxy that can be made to
// fail.
type Workshop struct {
	URL    string
	Line   *fault.Proxy
	server *httptest.Server
	line   *httptest.Server
	db     *sql.DB
	config web.Config
	// web is the server that answers; nil while it is down.
	web atomic.Pointer[web.Server]
	// ahead is how far its clock is ahead of the wall's, in nanoseconds.
	ahead atomic.Int64
}

// Later puts the workshop's clock on.
func (w *Workshop) Later(by time.Duration) { w.ahead.Add(int64(by)) }

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
	w.config.Now = func() time.Time { return time.Now().Add(time.Duration(w.ahead.Load())) }
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
	var err error
	if w.Line, err = fault.To(w.server.URL); err != nil {
		return nil, err
	}
	w.line = httptest.NewServer(w.Line)
	w.URL = w.line.URL
	return w, nil
}

// EndSessions signs everybody out, as when their time is over.
func (w *Workshop) EndSessions(ctx context.Context) error {
	_, err := w.db.ExecContext(ctx, "DELETE FROM sessions")
	return err
}

// Bulge has somebody else find a bulged case on a job.
func (w *Workshop) Bulge(ctx context.Context, plate string) error {
	service := shop.NewService(store.New(w.db), time.Now)
	sh, err := service.Shop(ctx)
	if err != nil {
		return err
	}
	staff, err := service.People(ctx, people.Person{ShopID: sh.ID})
	if err != nil {
		return err
	}
	job, err := service.LatestJob(ctx, staff[0], plate)
	if err != nil {
		return err
	}
	_, err = service.Keep(ctx, staff[0], job, record.Keep{ID: record.NewID(), Line: "look bulge", TakenAt: time.Now()})
	return err
}

// Lines are the readings of a job as they were typed, in the order they came in.
func (w *Workshop) Lines(ctx context.Context, plate string) ([]string, error) {
	rows, err := w.db.QueryContext(ctx, `SELECT reading.typed FROM reading JOIN job ON job.id = reading.job_id
		JOIN vehicle ON vehicle.id = job.vehicle_id WHERE vehicle.plate = ? ORDER BY reading.ordinal, reading.received_at`, plate)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	var list []string
	for rows.Next() {
		var one string
		if err := rows.Scan(&one); err != nil {
			return nil, err
		}
		list = append(list, one)
	}
	return list, rows.Err()
}

// Count counts what a query counts.
func (w *Workshop) Count(ctx context.Context, query string, args ...any) (n int, err error) {
	err = w.db.QueryRowContext(ctx, query, args...).Scan(&n)
	return n, err
}

// Down stops the server; its address stays, and nothing answers there.
func (w *Workshop) Down() {
	if handler := w.web.Swap(nil); handler != nil {
		handler.Close()
	}
	w.server.CloseClientConnections()
	w.line.CloseClientConnections()
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
	w.Line.Set(fault.None, nil)
	w.line.CloseClientConnections()
	w.line.Close()
	w.server.Close()
}
