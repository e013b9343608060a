// Package e2e holds the tests that act as the person at the vehicle or at the
// counter: the whole product, its database and a real browser.
package e2e

import (
	"context"
	"database/sql"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"slices"
	"sync/atomic"
	"time"

	"grapnel/app/demo"
	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store"
	"grapnel/app/web"
	"grapnel/core/battery"
	"grapnel/core/standing"
	"grapnel/e2e/browser"
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

// Open serves the demo workshop from a database that holds it.
func Open(db *sql.DB) (*Workshop, error) { return OpenWith(db, web.Config{}) }

// OpenWith serves the demo workshop by a server that is set otherwise.
func OpenWith(db *sql.DB, config web.Config) (*Workshop, error) {
	config.DemoHint = demo.SignIns()
	return serve(db, config)
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

// service acts on the workshop beside its server, as a person of it.
func (w *Workshop) service(ctx context.Context, role people.Role) (*shop.Service, people.Person, error) {
	service := shop.NewService(store.New(w.db), w.config.Now)
	shops, err := service.Shops(ctx)
	if err != nil {
		return nil, people.Person{}, err
	}
	staff, err := service.People(ctx, people.Person{ShopID: shops[0].ID})
	if err != nil {
		return nil, people.Person{}, err
	}
	i := slices.IndexFunc(staff, func(p people.Person) bool { return p.Role == role })
	return service, staff[i], nil
}

// Winter makes it winter the whole year: what a forecast comes to does not hang on the day
// it is tested.
func (w *Workshop) Winter(ctx context.Context) error {
	service, who, err := w.service(ctx, people.Owner)
	if err != nil {
		return err
	}
	var winter standing.Climate
	for month := range winter.Monthly {
		winter.Monthly[month], winter.Coldest[month] = 0, -20
	}
	return service.KeepClimate(ctx, who, shop.OwnClimate{Own: &winter})
}

// Bulge has somebody else find a bulged case on a job.
func (w *Workshop) Bulge(ctx context.Context, plate string) error {
	service, who, err := w.service(ctx, people.Counter)
	if err != nil {
		return err
	}
	job, err := service.LatestJob(ctx, who, plate)
	if err != nil {
		return err
	}
	_, err = service.Keep(ctx, who, job, record.Keep{ID: record.NewID(), Line: "look bulge", TakenAt: w.config.Now()})
	return err
}

// Charged puts a battery on a charger of its own that was read when it rested and, charging,
// every half hour since.
func (w *Workshop) Charged(ctx context.Context, label battery.Label, rested string, looks []string) (record.ID, error) {
	service, who, err := w.service(ctx, people.Owner)
	if err != nil {
		return record.ID{}, err
	}
	const apart = 30 * time.Minute
	begin := w.config.Now().Add(-time.Duration(len(looks)+1) * apart)
	charge, charger := record.NewID(), record.NewID()
	keep := func(line string, at time.Time) func() error {
		return func() error {
			return service.KeepCheck(ctx, who, charge, record.Keep{ID: record.NewID(), Line: line, TakenAt: at})
		}
	}
	steps := []func() error{
		func() error {
			return service.KeepCharger(ctx, who, record.Charger{
				ID: charger, Name: "Bench " + charger.String()[30:], Kind: "multi_stage", Amps: []float64{6}, Settings: []string{"flooded", "agm"}, Channels: 1,
			})
		},
		func() error {
			return service.AskCharge(ctx, who, shop.AskCharge{
				ID: charge, BatteryID: record.NewID(), Until: "full", Weight: 1, Battery: &record.Battery{Tag: "Bench", Label: label},
			})
		},
		keep(rested, begin.Add(-time.Minute)),
		func() error {
			return service.Connect(ctx, who, charge, record.OnCharger{Output: record.Output{ChargerID: charger, Channel: 1}, At: begin})
		},
	}
	for i, line := range looks {
		steps = append(steps, keep(line, begin.Add(time.Duration(i+1)*apart)))
	}
	for _, do := range steps {
		if err := do(); err != nil {
			return charge, err
		}
	}
	return charge, nil
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

// Settled asks until what a query counts comes to a number, or it has been waited for long
// enough: what a screen shows may be on its way to the database still. It gives the last count.
func (w *Workshop) Settled(ctx context.Context, want int, query string, args ...any) (n int, err error) {
	err = w.settled(func() (bool, error) {
		n, err = w.Count(ctx, query, args...)
		return n == want, err
	})
	return n, err
}

// SettledLines asks until the readings of a job are those, or it has been waited for long
// enough. It gives the last that were found.
func (w *Workshop) SettledLines(ctx context.Context, plate string, want []string) (list []string, err error) {
	err = w.settled(func() (bool, error) {
		list, err = w.Lines(ctx, plate)
		return slices.Equal(list, want), err
	})
	return list, err
}

func (w *Workshop) settled(so func() (bool, error)) error {
	for end := time.Now().Add(browser.Patience); ; time.Sleep(10 * time.Millisecond) {
		ok, err := so()
		if ok || err != nil || time.Now().After(end) {
			return err
		}
	}
}

// Exec does something to the workshop's database.
func (w *Workshop) Exec(ctx context.Context, statement string, args ...any) error {
	_, err := w.db.ExecContext(ctx, statement, args...)
	return err
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
