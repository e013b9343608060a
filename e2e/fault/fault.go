// Package fault is what can stand between a browser and the server: a proxy on loopback
// that fails in the ways lines and servers fail.
package fault

import (
	"bytes"
	"io"
	"net/http"
	"net/http/httputil"
	"net/url"
	"strconv"
	"strings"
	"sync"
)

// Kind is a way to fail.
type Kind int

// The ways to fail.
const (
	// None lets everything through.
	None Kind = iota
	// BadGateway answers 502 with a page of its own.
	BadGateway
	// Silence takes the request and says nothing until the fault is over.
	Silence
	// Portal answers 200 with a page of its own, as the sign-in page of a guest network.
	Portal
	// LostAnswer lets the request through and breaks the line before its answer.
	LostAnswer
)

// Proxy stands between.
type Proxy struct {
	through *httputil.ReverseProxy

	mu    sync.Mutex
	kind  Kind
	hits  func(*http.Request) bool
	build string
	// over is closed when the fault at hand ends; seen counts what it met.
	over chan struct{}
	seen int
}

// To is a proxy to a server.
func To(upstream string) (*Proxy, error) {
	target, err := url.Parse(upstream)
	if err != nil {
		return nil, err
	}
	p := &Proxy{over: make(chan struct{})}
	p.through = httputil.NewSingleHostReverseProxy(target)
	p.through.FlushInterval = -1
	p.through.ErrorLog = nil
	p.through.ErrorHandler = func(http.ResponseWriter, *http.Request, error) { panic(http.ErrAbortHandler) }
	p.through.ModifyResponse = p.rename
	return p, nil
}

// Set begins to fail for the requests that hits picks, all where it is nil; what was held
// in silence goes through.
func (p *Proxy) Set(kind Kind, hits func(*http.Request) bool) {
	p.mu.Lock()
	defer p.mu.Unlock()
	close(p.over)
	p.kind, p.hits, p.over, p.seen = kind, hits, make(chan struct{}), 0
}

// Seen is how many requests the fault at hand has met.
func (p *Proxy) Seen() int {
	p.mu.Lock()
	defer p.mu.Unlock()
	return p.seen
}

// Release has every answer name another build of the front end, as after an upgrade.
func (p *Proxy) Release(build string) {
	p.mu.Lock()
	defer p.mu.Unlock()
	p.build = build
}

// Writes picks what changes something.
func Writes(r *http.Request) bool { return r.Method != http.MethodGet && r.Method != http.MethodHead }

// Path picks requests whose address holds a text.
func Path(part string) func(*http.Request) bool {
	return func(r *http.Request) bool { return strings.Contains(r.URL.Path, part) }
}

const page = "<!doctype html><title>Elsewhere</title><h1>Not the workshop</h1>"

// ServeHTTP lets a request through, or fails.
func (p *Proxy) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	p.mu.Lock()
	kind, over := p.kind, p.over
	if p.hits != nil && !p.hits(r) {
		kind = None
	}
	if kind != None {
		p.seen++
	}
	if p.build != "" {
		r.Header.Del("Accept-Encoding") // a page is read to be renamed
	}
	p.mu.Unlock()
	switch kind {
	case BadGateway:
		answer(w, http.StatusBadGateway)
	case Portal:
		answer(w, http.StatusOK)
	case Silence:
		select {
		case <-over:
			panic(http.ErrAbortHandler)
		case <-r.Context().Done():
		}
	case LostAnswer:
		p.through.ServeHTTP(nowhere{http.Header{}}, r)
		panic(http.ErrAbortHandler)
	default:
		p.through.ServeHTTP(w, r)
	}
}

func answer(w http.ResponseWriter, status int) {
	w.Header().Set("Content-Type", "text/html")
	w.WriteHeader(status)
	_, _ = io.WriteString(w, page) // a browser that has gone cannot be told more
}

// nowhere takes an answer that nobody gets.
type nowhere struct{ header http.Header }

func (n nowhere) Header() http.Header         { return n.header }
func (n nowhere) Write(b []byte) (int, error) { return len(b), nil }
func (n nowhere) WriteHeader(int)             {}

const named = "Grapnel-Build"

// rename puts another build's name on an answer.
func (p *Proxy) rename(r *http.Response) error {
	p.mu.Lock()
	build := p.build
	p.mu.Unlock()
	before := r.Header.Get(named)
	if build == "" || before == "" {
		return nil
	}
	r.Header.Set(named, build)
	if !strings.HasPrefix(r.Header.Get("Content-Type"), "text/html") || r.Header.Get("Content-Encoding") != "" {
		return nil
	}
	body, err := io.ReadAll(r.Body)
	if err != nil {
		return err
	}
	body = bytes.ReplaceAll(body, []byte(before), []byte(build))
	r.Body = io.NopCloser(bytes.NewReader(body))
	r.ContentLength = int64(len(body))
	r.Header.Set("Content-Length", strconv.Itoa(len(body)))
	return nil
}
