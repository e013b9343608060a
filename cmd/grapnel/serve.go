package main

import (
	"context"
	"crypto/rand"
	"crypto/tls"
	"database/sql"
	"encoding/base32"
	"errors"
	"flag"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"net/netip"
	"os"
	"runtime/debug"
	"strconv"
	"strings"
	"time"

	"grapnel/app/authority"
	"grapnel/app/backup"
	"grapnel/app/demo"
	"grapnel/app/localdb"
	"grapnel/app/room"
	"grapnel/app/shop"
	"grapnel/app/store"
	"grapnel/app/web"
)

// serving is what serve and demo share.
type serving struct {
	address, data string
	certFile, key string
	// own serves TLS by the workshop's own authority; trustAddress is where phones
	// begin, over plain HTTP.
	own          bool
	trustAddress string
	// phones is the page where they begin, fingerprint what they compare there.
	phones, fingerprint string
	// proxy are the addresses or ranges of proxies that speak TLS in front of us, hosts the
	// names that the shop is reached by besides the machine's own.
	proxy, hosts string
	proxies      []netip.Prefix
	// authority and pair are what we speak TLS by ourselves with.
	authority *authority.Authority
	pair      tls.Certificate
	verbose   bool
	// attach lets a command work beside a Grapnel that serves.
	attach    bool
	out, errs io.Writer
	log       *slog.Logger
	kind      string
	fresh     bool
	lost      <-chan error
	// private is the folder of the private database; empty for a database of one's own.
	private string
	// metrics is where what was counted is served.
	metrics string
	// backups is the folder that backups go to, withoutBackup makes none before an upgrade.
	backups       string
	withoutBackup bool
	// upgraded writes down the backup that was made before an upgrade; nil where none was.
	upgraded func(ctx context.Context, book backup.Book) error
	// asItIs leaves the schema of the database alone; dsn is how it is reached.
	asItIs bool
	dsn    string
	// version is the schema the database has.
	version         int64
	hint            []web.DemoPerson
	prepare         func(ctx context.Context, db *sql.DB) error
	announceSignIns func(url string)
}

// defineData defines where the data is and where its backups go.
func (s *serving) defineData(set *flag.FlagSet) {
	set.StringVar(&s.data, "data", os.Getenv("GRAPNEL_DATA"), "folder of the private database (default: the system's place for it)")
	set.StringVar(&s.backups, "backups", os.Getenv("GRAPNEL_BACKUPS"), "folder that backups go to, best on another disk (default: beside the data)")
}

func (s *serving) define(set *flag.FlagSet) {
	set.StringVar(&s.address, "address", "127.0.0.1:8040", "address to listen on")
	s.defineData(set)
	set.BoolVar(&s.withoutBackup, "without-backup", false, "make no backup before a new release changes the database")
	set.StringVar(&s.certFile, "tls-cert", "", "certificate file: serve TLS")
	set.StringVar(&s.key, "tls-key", "", "key file of the certificate")
	set.BoolVar(&s.own, "tls", false, "serve TLS by the workshop's own authority, with a page that puts it on phones")
	set.StringVar(&s.trustAddress, "trust-address", "", "where that page is served over plain HTTP (default: the port after -address)")
	set.StringVar(
		&s.proxy,
		"behind-proxy",
		"",
		"address, or range such as 10.0.0.0/24, of the proxy that speaks TLS for us; its forwarded header is believed, nobody else's",
	)
	set.StringVar(&s.hosts, "host", "", "names the shop is reached by besides this machine's own, parted by commas")
	set.StringVar(&s.metrics, "metrics", usualMetrics, "address for /metrics and profiles, for this machine alone unless you say otherwise; empty for none")
	set.BoolVar(&s.verbose, "verbose", false, "log every request")
}

// serve runs the workshop until it is told to stop.
func serve(ctx context.Context, args []string, _ io.Reader, out, errs io.Writer) error {
	s := serving{out: out, errs: errs, kind: localdb.Shop}
	if err := flags("serve", args, errs, s.define); err != nil {
		return err
	}
	return s.run(ctx)
}

// runDemo serves an invented workshop.
func runDemo(ctx context.Context, args []string, _ io.Reader, out, errs io.Writer) error {
	s := serving{out: out, errs: errs, kind: localdb.Demo}
	if err := flags("demo", args, errs, func(set *flag.FlagSet) {
		s.define(set)
		set.BoolVar(&s.fresh, "fresh", false, "throw the demo's data away and load it anew")
	}); err != nil {
		return err
	}
	s.hint = demo.SignIns()
	s.prepare = func(ctx context.Context, db *sql.DB) error {
		s.say("Loading the demo workshop")
		return demo.Fill(ctx, db)
	}
	s.announceSignIns = func(string) {
		for _, p := range s.hint {
			s.say(fmt.Sprintf("  sign in as %-6s password %s   (%s, %s)", p.SignIn, p.Password, p.Name, p.Role))
		}
	}
	if s.fresh && os.Getenv("GRAPNEL_DSN") != "" {
		fmt.Fprintln(errs, "grapnel demo: -fresh throws away the private database only; with GRAPNEL_DSN set, name an empty database instead")
		return errBadInput
	}
	return s.run(ctx)
}

func (s *serving) say(line string) { fmt.Fprintln(s.out, line) }

func (s *serving) dataDir() (string, error) {
	if s.data != "" {
		return s.data, nil
	}
	return localdb.DefaultDir(s.kind)
}

// must is what the data folder has to be for: a command beside a Grapnel that serves works
// on whatever it is told.
func (s *serving) must() string {
	if s.attach {
		return ""
	}
	return s.kind
}

// database opens GRAPNEL_DSN or a private server, and migrates it.
func (s *serving) database(ctx context.Context) (_ *sql.DB, stop func() error, err error) {
	dsn := os.Getenv("GRAPNEL_DSN")
	stop = func() error { return nil }
	if dsn == "" {
		dir, err := s.dataDir()
		if err != nil {
			return nil, stop, err
		}
		server, err := localdb.Start(ctx, localdb.Options{Dir: dir, Kind: s.must(), Fresh: s.fresh, Say: s.say})
		switch {
		case err == nil:
			dsn, stop, s.lost, s.private = server.DSN(), server.Stop, server.Lost(), dir
		case s.attach && errors.Is(err, localdb.ErrInUse):
			if dsn, err = localdb.Attach(dir); err != nil {
				return nil, stop, err
			}
		default:
			return nil, stop, err
		}
	}
	s.dsn = dsn
	if !s.asItIs {
		err = s.steadily(ctx, func() (err error) {
			s.version, err = store.OpenAndUpgrade(ctx, dsn, store.Upgrade{Before: s.beforeUpgrade(dsn)})
			return err
		})
	}
	if err != nil {
		return nil, stop, errors.Join(err, stop())
	}
	db, err := store.Open(dsn)
	if err != nil {
		return nil, stop, errors.Join(err, stop())
	}
	if s.upgraded != nil {
		if err := s.upgraded(ctx, store.New(db)); err != nil {
			s.say("the backup before the upgrade is not in the list of backups: " + err.Error())
		}
	}
	stopServer := stop
	return db, func() error { return errors.Join(db.Close(), stopServer()) }, nil
}

// Tries of what is done at the start while the private database is killed and started again.
const (
	startTries = 6
	startPause = time.Second
)

// steadily does something at the start that may be done again. The private database is
// started again by its watcher when it is killed: then it is done once more.
func (s *serving) steadily(ctx context.Context, do func() error) error {
	for try := 1; ; try++ {
		err := do()
		if err == nil || os.Getenv("GRAPNEL_DSN") != "" || !store.Away(err) || try == startTries {
			return err
		}
		s.say("the database went away while Grapnel was starting; once more")
		select {
		case <-ctx.Done():
			return errors.Join(err, ctx.Err())
		case <-time.After(time.Duration(try) * startPause):
		}
	}
}

// softMemory is how much memory the program holds itself to, in bytes, unless Go's own
// GOMEMLIMIT says otherwise: a shop's server may be a small machine that the database shares.
const softMemory = 116 << 20

func sparing() {
	if os.Getenv("GOMEMLIMIT") == "" {
		debug.SetMemoryLimit(softMemory)
	}
}

func (s *serving) run(ctx context.Context) (err error) {
	sparing()
	if s.proxies, err = web.Proxies(s.proxy); err != nil {
		fmt.Fprintf(s.errs, "grapnel: -behind-proxy: %v\n", err)
		return errBadInput
	}
	level := slog.LevelInfo
	if s.verbose {
		level = slog.LevelDebug
	}
	s.log = slog.New(slog.NewJSONHandler(s.errs, &slog.HandlerOptions{Level: level}))
	db, closeDB, err := s.database(ctx)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, closeDB()) }()
	if s.prepare != nil {
		if err := s.steadily(ctx, func() error { return s.prepare(ctx, db) }); err != nil {
			return err
		}
	}
	var code string
	if err := s.steadily(ctx, func() (err error) { code, err = setUpCode(ctx, db); return err }); err != nil {
		return err
	}
	config := web.Config{
		Release: release, Secure: s.secure(), Proxies: s.proxies, Hosts: s.names(), Plain: s.plain(), SetUpCode: code, DemoHint: s.hint, Log: s.log,
	}
	if s.private != "" {
		config.Room = func() (int64, error) { return room.Left(s.private) }
	}
	if s.own {
		if err := s.certify(&config); err != nil {
			return err
		}
	}
	// An invented shop is backed up only where it is asked for.
	if s.kind != localdb.Demo || s.backups != "" {
		source, err := s.source(s.dsn)
		if err != nil {
			return err
		}
		config.Backups = backup.NewKeeper(source, store.New(db), time.Now, s.log)
	}
	handler, err := web.New(db, config)
	if err != nil {
		return err
	}
	defer handler.Close()
	counted, err := s.count(handler.Metrics())
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, counted.Close()) }()
	return s.listen(ctx, handler, handler.EndStreams, code)
}

// usualMetrics is where metrics are served unless told otherwise.
const usualMetrics = "127.0.0.1:8049"

// count serves the metrics at an address of their own. At the usual one another copy on this
// machine may have them already: that is said, and no reason not to serve.
func (s *serving) count(handler http.Handler) (*http.Server, error) {
	// A profile takes as long as is asked for, so there is no limit on writing.
	server := &http.Server{Handler: handler, ReadHeaderTimeout: headerTimeout, ReadTimeout: readTimeout}
	if s.metrics == "" {
		return server, nil
	}
	listener, err := net.Listen("tcp", s.metrics)
	if err != nil && s.metrics == usualMetrics {
		s.log.Warn("no metrics", slog.Any("error", err))
		return server, nil
	}
	if err != nil {
		return nil, fmt.Errorf("metrics: %w (choose another address with -metrics, or none)", err)
	}
	go func() {
		if err := server.Serve(listener); !errors.Is(err, http.ErrServerClosed) {
			s.log.Error("metrics", slog.Any("error", err))
		}
	}()
	return server, nil
}

// names are what the shop may be called in a browser's address besides an IP address.
func (s *serving) names() []string {
	list := authority.Hosts()
	if name, err := os.Hostname(); err == nil {
		short, _, _ := strings.Cut(name, ".")
		list = append(list, name, short)
	}
	return append(list, strings.FieldsFunc(s.hosts, func(c rune) bool { return c == ',' || c == ' ' })...)
}

// secure reports whether browsers reach us over TLS.
func (s *serving) secure() bool { return s.certFile != "" || s.own || s.proxy != "" }

// plain reports that others than this machine reach us, and nothing keeps what they send from
// being read on the way.
func (s *serving) plain() bool {
	host, _, err := net.SplitHostPort(s.address)
	if err != nil || s.secure() {
		return false
	}
	address, err := netip.ParseAddr(host)
	return host != "localhost" && (err != nil || !address.IsLoopback())
}

// setUpCode makes the code that guards the first start's page; empty when
// somebody can sign in already.
func setUpCode(ctx context.Context, db *sql.DB) (string, error) {
	needs, err := shop.NewService(store.New(db), time.Now).NeedsSetUp(ctx)
	if err != nil || !needs {
		return "", err
	}
	raw := make([]byte, 5)
	// crypto/rand.Read never fails; it ends the program instead.
	_, _ = rand.Read(raw)
	return base32.StdEncoding.EncodeToString(raw), nil
}

// How long a request may take, and how long a stop waits for those under way.
const (
	headerTimeout = 10 * time.Second
	readTimeout   = 30 * time.Second
	writeTimeout  = 2 * time.Minute
	idleTimeout   = 2 * time.Minute
	stopTimeout   = 10 * time.Second
)

// authenticated are the cipher suites of TLS 1.2 that keep secret what was sent when a key is lost
// later, and that find out about every changed byte (RFC 9325, section 4.2); those of TLS 1.3 all do.
func authenticated() []uint16 {
	return []uint16{
		tls.TLS_ECDHE_ECDSA_WITH_AES_128_GCM_SHA256, tls.TLS_ECDHE_ECDSA_WITH_AES_256_GCM_SHA384, tls.TLS_ECDHE_ECDSA_WITH_CHACHA20_POLY1305_SHA256,
		tls.TLS_ECDHE_RSA_WITH_AES_128_GCM_SHA256, tls.TLS_ECDHE_RSA_WITH_AES_256_GCM_SHA384, tls.TLS_ECDHE_RSA_WITH_CHACHA20_POLY1305_SHA256,
	}
}

func (s *serving) listen(ctx context.Context, handler http.Handler, endStreams func(), code string) error {
	listener, err := net.Listen("tcp", s.address)
	if err != nil {
		return fmt.Errorf("%w (choose another with -address)", err)
	}
	server := &http.Server{
		Handler:           handler,
		ReadHeaderTimeout: headerTimeout,
		ReadTimeout:       readTimeout,
		WriteTimeout:      writeTimeout,
		IdleTimeout:       idleTimeout,
		TLSConfig:         &tls.Config{MinVersion: tls.VersionTLS12, CipherSuites: authenticated()},
		ErrorLog:          slog.NewLogLogger(s.log.Handler(), slog.LevelDebug),
	}
	server.RegisterOnShutdown(endStreams)
	listener = &web.Few{Listener: listener, OfAddress: web.MostOfAddress, All: web.MostConnections, Proxies: s.proxies}
	address := listener.Addr().String()
	servers := []*http.Server{server}
	failed := make(chan error, 2)
	if s.own {
		trust, phones, err := s.trusted(server, address)
		if err != nil {
			return errors.Join(err, listener.Close())
		}
		servers = append(servers, trust)
		go func() { failed <- trust.Serve(phones) }()
	}
	s.announce(address, code)
	go func() {
		if s.certFile != "" || s.own {
			failed <- server.ServeTLS(listener, s.certFile, s.key)
			return
		}
		failed <- server.Serve(listener)
	}()
	var ended error
	select {
	case err := <-failed:
		return err
	case ended = <-s.lost:
		// Without its database there is nothing to serve: whoever watches us sees it.
	case <-ctx.Done():
	}
	s.say("Stopping")
	stopping, cancel := context.WithTimeout(context.WithoutCancel(ctx), stopTimeout)
	defer cancel()
	for _, one := range servers {
		ended = errors.Join(ended, one.Shutdown(stopping))
	}
	return ended
}

// certify gives the server a certificate by the workshop's own authority.
func (s *serving) certify(config *web.Config) error {
	dir, err := s.authorityDir()
	if err != nil {
		return err
	}
	own, err := authority.Open(dir, time.Now())
	if err != nil {
		return err
	}
	pair, err := own.Certificate(authority.Hosts(), time.Now())
	if err != nil {
		return err
	}
	s.authority, s.pair = own, pair
	config.Fingerprint, config.CertificateUntil = own.Fingerprint(), pair.Leaf.NotAfter
	return nil
}

// trusted gives the server its certificate, and opens the plain address where phones come to
// trust it.
func (s *serving) trusted(server *http.Server, address string) (*http.Server, net.Listener, error) {
	hosts := authority.Hosts()
	server.TLSConfig.Certificates = []tls.Certificate{s.pair}
	host, port, err := net.SplitHostPort(address)
	if err != nil {
		return nil, nil, err
	}
	if s.trustAddress == "" {
		next, err := strconv.Atoi(port)
		if err != nil {
			return nil, nil, err
		}
		s.trustAddress = net.JoinHostPort(host, strconv.Itoa(next+1))
	}
	listener, err := net.Listen("tcp", s.trustAddress)
	if err != nil {
		return nil, nil, fmt.Errorf("%w (choose another with -trust-address)", err)
	}
	_, trustPort, err := net.SplitHostPort(listener.Addr().String())
	if err != nil {
		return nil, nil, errors.Join(err, listener.Close())
	}
	if ip := net.ParseIP(host); ip == nil || !ip.IsUnspecified() {
		hosts = []string{host}
	}
	trust := web.Trust{
		DER: s.authority.DER(), Fingerprint: s.authority.Fingerprint(),
		URL:  "https://" + net.JoinHostPort(hosts[0], port),
		Page: "http://" + net.JoinHostPort(hosts[0], trustPort) + "/trust",
	}
	s.phones, s.fingerprint = trust.Page, trust.Fingerprint
	return &http.Server{Handler: trust.Handler(), ReadHeaderTimeout: headerTimeout, ReadTimeout: readTimeout, WriteTimeout: writeTimeout}, listener, nil
}

func (s *serving) announce(address, code string) {
	scheme := "http"
	if s.certFile != "" || s.own {
		scheme = "https"
	}
	url := scheme + "://" + address
	s.say("Grapnel is at " + url)
	if s.announceSignIns != nil {
		s.announceSignIns(url)
	}
	if s.phones != "" {
		s.say("Phones begin at " + s.phones)
		s.say("  and compare the fingerprint " + s.fingerprint)
	}
	if s.plain() {
		s.say("Warning: others on the network reach this over plain HTTP: passwords and sessions can be read on the way. Use -tls, or a proxy that speaks TLS with -behind-proxy.")
	}
	if code != "" {
		s.say("First start: open " + url + "/set-up and give the code " + code)
	}
	s.say("Stop it with Ctrl-C")
}

// migrate brings the database's schema up to date and says which version it is.
func migrate(ctx context.Context, args []string, _ io.Reader, out, errs io.Writer) (err error) {
	s := serving{out: out, errs: errs, kind: localdb.Shop}
	if err := flags("migrate", args, errs, s.define); err != nil {
		return err
	}
	_, closeDB, err := s.database(ctx)
	if err != nil {
		return err
	}
	fmt.Fprintf(out, "schema version %d\n", s.version)
	return closeDB()
}
