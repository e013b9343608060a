// Package web is Grapnel over HTTP: the API under /api, sessions, and the
// embedded front end. It holds no rule of the trade.
package web

import (
	"cmp"
	"context"
	"database/sql"
	"errors"
	"log/slog"
	"net/http"
	"net/netip"
	"sync"
	"time"

	"github.com/alexedwards/scs/mysqlstore"
	"github.com/alexedwards/scs/v2"
	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"
	"github.com/go-chi/httprate"
	"github.com/klauspost/compress/gzip"

	"grapnel/app/backup"
	"grapnel/app/instrument"
	"grapnel/app/metrics"
	"grapnel/app/people"
	"grapnel/app/recorder"
	"grapnel/app/shop"
	"grapnel/app/store"
)

// Config says how the server behaves.
type Config struct {
	// Release is the version shown in the API description.
	Release string
	// Secure marks the session cookie for TLS only.
	Secure bool
	// Proxies are the addresses whose forwarded header is believed; none for nobody's.
	Proxies []netip.Prefix
	// Hosts are the names we are asked for by besides IP addresses and localhost; nil for
	// whatever a browser says.
	Hosts []string
	// Network is how instruments are reached; the zero one is the machine's own.
	Network instrument.Network
	// Plain tells that others than this machine reach us over plain HTTP.
	Plain bool
	// Fingerprint is that of the workshop's own authority, CertificateUntil when the server's
	// certificate ends; empty where another speaks TLS for us, or nobody.
	Fingerprint      string
	CertificateUntil time.Time
	// Room is how many bytes may still be written where the database is; nil where that is
	// not known from here.
	Room func() (int64, error)
	// Backups keeps the backups; nil where none are kept.
	Backups *backup.Keeper
	// SetUpCode guards the first start's page; empty when people exist.
	SetUpCode string
	// DemoHint lists who may sign in to the demo; nil outside it.
	DemoHint []DemoPerson
	// Ping is how often a stream of events says that it is there; zero for the usual.
	Ping time.Duration
	// Patience is how long a screen may take to read an event before it is let go; zero for
	// the usual.
	Patience time.Duration
	Log      *slog.Logger
	Now      func() time.Time
}

// DemoPerson is someone the demo's sign-in page offers.
type DemoPerson struct {
	Name     string `json:"name"`
	SignIn   string `json:"sign_in"`
	Password string `json:"password"`
	Role     string `json:"role"`
}

// Server answers HTTP requests.
type Server struct {
	config   Config
	log      *slog.Logger
	db       *sql.DB
	shop     *shop.Service
	sessions *scs.SessionManager
	front    frontEnd
	handler  http.Handler
	pages    readyPages
	screens  openStreams
	frames   frames
	bays     *bays
	health   health
	counts   *metrics.Metrics
	probes   *httprate.RateLimiter
	watcher  *instrument.Watcher
	// describe makes the description of the API, once.
	describe func() ([]byte, error)
	// streams ends the feed and every stream of events.
	streams context.Context
	end     context.CancelFunc
	// stale asks for the forecasts to be looked over.
	stale chan struct{}
	// background is the feed's own work.
	background sync.WaitGroup
}

const (
	sessionSweep = 15 * time.Minute
	// compression favours time over size: the line is the workshop's own.
	compression = gzip.BestSpeed
	// mostBody is the largest request body taken, in bytes.
	mostBody = 1<<20 + shop.MostPhoto
)

// New builds the server on a migrated database. Close ends its background work.
func New(db *sql.DB, config Config) (*Server, error) {
	if config.Now == nil {
		config.Now = time.Now
	}
	if config.Log == nil {
		config.Log = slog.Default()
	}
	config.Ping, config.Patience = cmp.Or(config.Ping, usualPing), cmp.Or(config.Patience, usualPatience)
	front, err := loadFrontEnd()
	if err != nil {
		return nil, err
	}
	s := &Server{config: config, log: config.Log, db: db, shop: shop.NewService(store.New(db), config.Now), front: front}
	s.watcher, s.stale = instrument.NewWatcher(config.Network), make(chan struct{}, 1)
	s.bays = newBays()
	s.probes = httprate.NewRateLimiter(probesAMinute, time.Minute)
	s.describe = sync.OnceValues(func() ([]byte, error) { return OpenAPI(config.Release) })
	s.sessions = scs.New()
	s.sessions.Store = &recentSessions{Store: mysqlstore.NewWithCleanupInterval(db, 0)} // sweep cleans up
	s.sessions.Lifetime, s.sessions.HashTokenInStore = people.SessionLife, true
	s.sessions.Cookie.Name, s.sessions.Cookie.HttpOnly = cookieName(config.Secure), true
	s.sessions.Cookie.SameSite, s.sessions.Cookie.Secure = http.SameSiteStrictMode, config.Secure
	s.sessions.ErrorFunc = func(w http.ResponseWriter, r *http.Request, err error) { s.fail(r, err).write(w) }
	s.counts = metrics.New(db, config.Release, s.gauges())
	s.shop.Observe(shop.Observer{Kept: s.counts.Kept, Assessed: s.counts.Assessed})
	if config.Room != nil {
		s.shop.AskForRoom(s.room)
	}
	s.handler = s.routes()
	s.streams, s.end = context.WithCancel(context.Background())
	s.background.Go(func() {
		s.shop.Feed().Run(s.streams, func(err error) { s.log.Error("feed", slog.Any("error", err)) })
	})
	loggers := recorder.New(s.shop, config.Network, config.Now, s.log)
	s.background.Go(func() { loggers.Run(s.streams) })
	s.background.Go(s.foresee)
	s.background.Go(s.sweep)
	if config.Backups != nil {
		s.background.Go(func() { config.Backups.Run(s.streams) })
	}
	return s, nil
}

// cookieName is the session cookie's: over TLS one that no other host can set.
func cookieName(secure bool) string {
	if secure {
		return "__Host-grapnel"
	}
	return "grapnel"
}

// deviceCookie is the name of what a device carries on which somebody signed in.
func (s *Server) deviceCookie() string { return cookieName(s.config.Secure) + "-device" }

// foreseeEvery is how often what stands is looked over for forecasts that hold no more: after a
// reading elsewhere, another climate, a new month.
const foreseeEvery = 15 * time.Second

// sweep forgets sessions and failed tries of long ago, and makes small what no longer holds.
func (s *Server) sweep() {
	tick := time.NewTicker(sessionSweep)
	defer tick.Stop()
	for {
		select {
		case <-s.streams.Done():
			return
		case <-tick.C:
			if err := errors.Join(s.shop.Sweep(s.streams), s.shop.ThinVerdicts(s.streams)); err != nil && s.streams.Err() == nil && !store.Away(err) {
				s.log.Error("sweep", slog.Any("error", err))
			}
		}
	}
}

// foresee keeps the forecasts of what stands true, in the background.
func (s *Server) foresee() {
	tick := time.NewTicker(foreseeEvery)
	defer tick.Stop()
	for {
		if err := s.foreseeAll(); err != nil && s.streams.Err() == nil && !store.Away(err) {
			s.log.Error("forecasts", slog.Any("error", err))
		}
		select {
		case <-s.streams.Done():
			return
		case <-tick.C:
		case <-s.stale:
		}
	}
}

// foreseeAll looks the forecasts of every shop over.
func (s *Server) foreseeAll() error {
	list, err := s.shop.Shops(s.streams)
	for _, one := range list {
		if err != nil {
			return err
		}
		_, err = s.shop.RefreshStanding(s.streams, one.ID)
	}
	return err
}

// foreseeNow has the forecasts looked over at once.
func (s *Server) foreseeNow() {
	select {
	case s.stale <- struct{}{}:
	default: // they are about to be
	}
}

// Metrics serves what was counted, at an address that is not for the shop, under the names that
// are ours: no page from outside reads it through a browser on this machine.
func (s *Server) Metrics() http.Handler { return s.hosted(s.counts.Handler()) }

// gauges are what is looked up when the metrics are read.
func (s *Server) gauges() metrics.Gauges {
	return metrics.Gauges{
		Streams: s.screens.count,
		BackupAge: func() (float64, bool) {
			ctx, cancel := context.WithTimeout(s.streams, 2*time.Second)
			defer cancel()
			state, err := s.backups(ctx)
			if err != nil || state == nil || state.LastGood == nil {
				return 0, false
			}
			return state.age.Seconds(), true
		},
		CertificateLeft: func() (float64, bool) {
			return s.config.CertificateUntil.Sub(s.config.Now()).Seconds(), !s.config.CertificateUntil.IsZero()
		},
		Room: func() (float64, bool) {
			left, ok := s.left()
			return float64(left), ok
		},
	}
}

// EndStreams ends every stream of events, so that a stop need not wait for them.
func (s *Server) EndStreams() { s.end() }

// Close ends the background work; the database stays open.
func (s *Server) Close() {
	s.end()
	s.background.Wait()
	s.watcher.Close()
}

// ServeHTTP answers one request.
func (s *Server) ServeHTTP(w http.ResponseWriter, r *http.Request) { s.handler.ServeHTTP(w, r) }

func (s *Server) routes() http.Handler {
	r := chi.NewRouter()
	r.Use(withRequestID, s.logged, s.recovered, s.secured, s.hosted, s.front.named, packed)
	r.Get("/healthz", s.healthy)
	r.Get("/readyz", s.ready)
	r.Route("/api", func(r chi.Router) {
		r.Use(middleware.RequestSize(mostBody), noStore, bounded, s.sessions.LoadAndSave, s.identify)
		s.api(r)
		r.NotFound(func(w http.ResponseWriter, r *http.Request) { s.fail(r, shop.ErrNotFound).write(w) })
	})
	r.With(bounded).Get(feedRoot+"{secret}", s.feed)
	r.Get("/*", s.front.serve)
	own := http.NewCrossOriginProtection()
	own.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		s.fail(r, newProblem(http.StatusForbidden, "This was asked for by a page of another address, and was not done. If Grapnel stands behind a proxy, have it pass on the name it is asked for (Host).")).write(w)
	}))
	return own.Handler(r)
}

func writeText(w http.ResponseWriter, status int, text string) {
	w.Header().Set("Content-Type", "text/plain; charset=utf-8")
	w.WriteHeader(status)
	// The status is sent; a client that has gone cannot be told more.
	_, _ = w.Write([]byte(text + "\n"))
}
