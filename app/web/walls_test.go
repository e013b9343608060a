package web_test

import (
	"bufio"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"net/http/httptest"
	"net/netip"
	"runtime"
	"strings"
	"sync"
	"testing"
	"time"

	"grapnel/app/demo"
	"grapnel/app/localdb/dbtest"
	"grapnel/app/web"
)

// logLines keeps what is logged.
type logLines struct {
	mu   sync.Mutex
	text strings.Builder
}

func (l *logLines) Write(p []byte) (int, error) {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.text.Write(p)
}

func (l *logLines) String() string {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.text.String()
}

// TestUnfinishedBodies has hundreds who have not signed in begin to send a megabyte each and not
// come to its end: no more than a few kilobytes of any is held, and one that comes in whole is
// refused. When they go, nothing of it is an error of ours.
// No source: a form of attack on whatever takes bodies.
func TestUnfinishedBodies(t *testing.T) {
	said := &logLines{}
	v := newVisitorWith(t, dbtest.Filled(t, demo.Fill), web.Config{Log: slog.New(slog.NewJSONHandler(said, nil))})
	address := strings.TrimPrefix(v.base, "http://")
	before := heap()
	const many = 300
	body := `{"sign_in":"` + strings.Repeat("x", 1<<20)
	var all sync.WaitGroup
	conns := make([]net.Conn, many)
	for n := range many {
		all.Go(func() {
			c, err := net.Dial("tcp", address)
			if err != nil {
				t.Error(err)
				return
			}
			conns[n] = c
			_ = c.SetWriteDeadline(time.Now().Add(3 * time.Second))
			// The server need not take it all.
			_, _ = fmt.Fprintf(c, "POST /api/sign-in HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/json\r\nContent-Length: %d\r\n\r\n%s", 2*len(body), body)
		})
	}
	all.Wait()
	if grew := int64(heap()) - int64(before); grew > many*128<<10 {
		t.Errorf("%d unfinished bodies hold %d kB each", many, grew/many>>10)
	}
	for _, c := range conns {
		if c != nil {
			_ = c.Close()
		}
	}
	if r := v.call("POST", "/api/sign-in", body+`","password":"x"}`, nil); r.StatusCode != http.StatusRequestEntityTooLarge {
		t.Errorf("a megabyte from nobody: %s", r.Status)
	}
	// Those that were cut off have been answered by now, or never will be.
	for end := time.Now().Add(5 * time.Second); time.Now().Before(end) && runtime.NumGoroutine() > 60; time.Sleep(10 * time.Millisecond) {
	}
	if text := said.String(); strings.Contains(text, `"ERROR"`) {
		t.Errorf("it is logged as an error of ours: %.400s", text)
	}
}

// heap is how much memory is in use, in bytes.
func heap() uint64 {
	runtime.GC()
	var m runtime.MemStats
	runtime.ReadMemStats(&m)
	return m.HeapInuse + m.StackInuse
}

// TestClientGone asks for what takes its time and goes: it is counted as what nobody waited for, and
// no error of ours is logged. No source: it is how the program is to behave.
func TestClientGone(t *testing.T) {
	said := &logLines{}
	v := newVisitorWith(t, dbtest.Filled(t, demo.Fill), web.Config{Log: slog.New(slog.NewJSONHandler(said, nil))})
	v.signIn(demo.SignIns()[0].SignIn, demo.SignIns()[0].Password)
	lines := make([]string, 3000)
	for i := range lines {
		lines[i] = []string{`"12.66 v rested 3h after charge"`, `"load 325a 15s 9.7v 18c"`, `"12.2 v rested 2h"`}[i%3]
	}
	long := `{"battery":{"chemistry":"flooded","nominal_v":12,"rating":{"value":650,"standard":"SAE"}},"readings":[` + strings.Join(lines, ",") + `]}`
	request := mustRequest(t, "POST", v.base+"/api/assess", long, "application/json")
	client := &http.Client{Jar: v.client.Jar, Timeout: 300 * time.Millisecond}
	if r, err := client.Do(request); err == nil {
		t.Fatalf("it was answered at once: %s", r.Status)
	}
	operators := v.handler.(*web.Server).Metrics()
	counted := func() bool {
		answer := httptest.NewRecorder()
		operators.ServeHTTP(answer, httptest.NewRequest(http.MethodGet, "/metrics", nil))
		text := answer.Body.String()
		return strings.Contains(text, `operation="assess",status="499"`)
	}
	for end := time.Now().Add(20 * time.Second); !counted(); time.Sleep(20 * time.Millisecond) {
		if time.Now().After(end) {
			t.Fatal("it goes on though nobody waits for it")
		}
	}
	if text := said.String(); strings.Contains(text, `"ERROR"`) {
		t.Errorf("it is logged as an error of ours: %.400s", text)
	}
}

// TestFewConnections opens more connections than one address may have: the ones beyond are closed at
// once, a proxy's are not, and one that goes makes room.
// No source: it is how the program is to behave.
func TestFewConnections(t *testing.T) {
	for _, proxies := range [][]netip.Prefix{nil, {netip.MustParsePrefix("127.0.0.0/8")}} {
		listener, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			t.Fatal(err)
		}
		few := &web.Few{Listener: listener, OfAddress: 3, All: 5, Proxies: proxies}
		server := &http.Server{Handler: http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) { _, _ = io.WriteString(w, "here") })}
		go func() { _ = server.Serve(few) }()
		most := map[bool]int{true: 5, false: 3}[len(proxies) > 0]
		var open []net.Conn
		for range most {
			open = append(open, answered(t, listener.Addr(), true))
		}
		answered(t, listener.Addr(), false)
		_ = open[0].Close()
		until(t, "there is room again", func() bool {
			c, err := net.Dial("tcp", listener.Addr().String())
			if err != nil {
				return false
			}
			defer c.Close()
			return ask(c) == nil
		})
		_ = server.Close()
	}
}

// answered opens a connection and finds it answered, or closed without a word.
func answered(t *testing.T, at net.Addr, want bool) net.Conn {
	t.Helper()
	c, err := net.Dial("tcp", at.String())
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = c.Close() })
	if err := ask(c); (err == nil) != want {
		t.Errorf("answered: %v", err)
	}
	return c
}

func ask(c net.Conn) error {
	_ = c.SetDeadline(time.Now().Add(5 * time.Second))
	if _, err := io.WriteString(c, "GET / HTTP/1.1\r\nHost: x\r\n\r\n"); err != nil {
		return err
	}
	line, err := bufio.NewReader(c).ReadString('\n')
	if err == nil && !strings.Contains(line, "200") {
		err = errors.New(line)
	}
	return err
}

// until waits until something is so.
func until(t *testing.T, what string, so func() bool) {
	t.Helper()
	for end := time.Now().Add(30 * time.Second); !so(); time.Sleep(10 * time.Millisecond) {
		if time.Now().After(end) {
			t.Fatalf("it is not so that %s", what)
		}
	}
}
