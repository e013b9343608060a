package web_test

import (
	"bufio"
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"
	"time"

	"grapnel/app/web"
)

// pipes is a listener whose lines hold nothing: what is sent waits until it is read, as it
// does when a screen's own store is full.
type pipes struct {
	accepts chan net.Conn
	closed  chan struct{}
}

func (p *pipes) Accept() (net.Conn, error) {
	select {
	case c := <-p.accepts:
		return c, nil
	case <-p.closed:
		return nil, net.ErrClosed
	}
}

func (p *pipes) Close() error { close(p.closed); return nil }

func (*pipes) Addr() net.Addr { return &net.TCPAddr{IP: net.IPv4(127, 0, 0, 1)} }

// TestSlowScreen checks that a screen that does not read what it is sent is let go, and that
// nobody else waits for it. No source: it is how the program is to behave.
func TestSlowScreen(t *testing.T) {
	v := demoVisitorWith(t, web.Config{Ping: 20 * time.Millisecond, Patience: 300 * time.Millisecond})
	lines := &pipes{make(chan net.Conn), make(chan struct{})}
	server := &http.Server{Handler: v.handler}
	go func() { _ = server.Serve(lines) }() // it ends when it is closed
	t.Cleanup(func() { _ = server.Close() })
	here, there := net.Pipe()
	defer here.Close()
	lines.accepts <- there
	base, err := url.Parse(v.base)
	if err != nil {
		t.Fatal(err)
	}
	request := "GET /api/events HTTP/1.1\r\nHost: 127.0.0.1\r\n"
	for _, c := range v.client.Jar.Cookies(base) {
		request += "Cookie: " + c.Name + "=" + c.Value + "\r\n"
	}
	if _, err := io.WriteString(here, request+"\r\n"); err != nil {
		t.Fatal(err)
	}
	answer, err := http.ReadResponse(bufio.NewReaderSize(here, 16), nil)
	if err != nil || answer.StatusCode != http.StatusOK {
		t.Fatal(answer, err)
	}
	if got := v.streams(); got != "1" {
		t.Fatalf("%s streams", got)
	}
	// It reads no more. Somebody else is told all the same.
	other := v.listen("")
	other.next(t, "hello")
	v.keep(v.jobOf("DUN 48"), "look none")
	other.next(t, "change")
	for end := time.Now().Add(10 * time.Second); v.streams() != "1"; time.Sleep(20 * time.Millisecond) {
		if time.Now().After(end) {
			t.Fatalf("%s streams: the screen that does not read is not let go", v.streams())
		}
	}
	other.next(t, "ping")
}

// streams is how many streams the server says that it has.
func (v *visitor) streams() string {
	v.t.Helper()
	out := httptest.NewRecorder()
	v.handler.(*web.Server).Metrics().ServeHTTP(out, httptest.NewRequest(http.MethodGet, "/metrics", nil))
	_, rest, _ := strings.Cut(out.Body.String(), "\ngrapnel_streams ")
	count, _, _ := strings.Cut(rest, "\n")
	return count
}
