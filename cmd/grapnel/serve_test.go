package main

import (
	"bytes"
	"context"
	"net/http"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"testing"
	"time"

	"grapnel/app/localdb"
)

// terminal is what a person sees while the server runs.
type terminal struct {
	mu   sync.Mutex
	text bytes.Buffer
}

func (t *terminal) Write(p []byte) (int, error) {
	t.mu.Lock()
	defer t.mu.Unlock()
	return t.text.Write(p)
}

func (t *terminal) String() string {
	t.mu.Lock()
	defer t.mu.Unlock()
	return t.text.String()
}

// dataDir is a folder that the database's own user can reach.
func dataDir(t *testing.T) string {
	t.Helper()
	dir, err := os.MkdirTemp("", "grapnel-serve-")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { os.RemoveAll(dir) })
	if err := os.Chmod(dir, 0o755); err != nil {
		t.Fatal(err)
	}
	return filepath.Join(dir, "data")
}

var address = regexp.MustCompile(`Grapnel is at (http://\S+)`)

// running starts a command that serves, gives its address, and stops it at the
// end, gracefully.
func running(t *testing.T, args ...string) (url string, screen *terminal) {
	t.Helper()
	ctx, stop := context.WithCancel(context.Background())
	screen = &terminal{}
	ended := make(chan int, 1)
	go func() { ended <- run(ctx, args, strings.NewReader(""), screen, screen) }()
	t.Cleanup(func() {
		stop()
		if code := <-ended; code != 0 {
			t.Errorf("%v ended with %d: %s", args, code, screen)
		}
	})
	for deadline := time.Now().Add(60 * time.Second); time.Now().Before(deadline); time.Sleep(20 * time.Millisecond) {
		if match := address.FindStringSubmatch(screen.String()); match != nil {
			return match[1], screen
		}
	}
	t.Fatalf("%v does not serve: %s", args, screen)
	return "", nil
}

func ready(t *testing.T, url string) {
	t.Helper()
	r, err := http.Get(url + "/readyz")
	if err != nil {
		t.Fatal(err)
	}
	defer r.Body.Close()
	if r.StatusCode != http.StatusOK {
		t.Errorf("%s is not ready: %s", url, r.Status)
	}
}

// TestServe starts a shop on a private database and on one of the person's own.
func TestServe(t *testing.T) {
	url, screen := running(t, "serve", "-address", "127.0.0.1:0", "-data", dataDir(t))
	ready(t, url)
	if !strings.Contains(screen.String(), "give the code") {
		t.Errorf("no code for the first start: %s", screen)
	}
	own, err := localdb.Start(t.Context(), localdb.Options{Dir: dataDir(t), Throwaway: true})
	if err != nil {
		t.Fatal(err)
	}
	defer func() {
		if err := own.Stop(); err != nil {
			t.Error(err)
		}
	}()
	t.Setenv("GRAPNEL_DSN", own.DSN())
	if code, out, errs := command0([]string{"migrate"}, ""); code != 0 || !strings.Contains(out, "schema version 1") {
		t.Errorf("migrate: %d %s %s", code, out, errs)
	}
	t.Run("own database", func(t *testing.T) {
		url, screen := running(t, "demo", "-address", "127.0.0.1:0")
		ready(t, url)
		if !strings.Contains(screen.String(), "sign in as mara") {
			t.Errorf("nobody to sign in as: %s", screen)
		}
	})
}
