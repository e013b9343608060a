package web_test

import (
	"net/http"
	"strings"
	"testing"
	"time"

	"grapnel/app/demo"
	"grapnel/app/localdb/dbtest"
	"grapnel/app/room"
	"grapnel/app/web"
)

// TestHealth checks that a server says when the shop cannot be worked in though it can be looked
// at: the disk is full, the database takes no changes. What it says tells nobody where the
// database is. No source: it is how the program is to behave.
func TestHealth(t *testing.T) {
	db := dbtest.Filled(t, demo.Fill)
	left := int64(10 * room.Little)
	v := newVisitorWith(t, db, web.Config{Room: func() (int64, error) { return left, nil }})
	ask := func(path string) (int, string) {
		t.Helper()
		r, err := v.client.Get(v.base + path)
		if err != nil {
			t.Fatal(err)
		}
		defer r.Body.Close()
		text := make([]byte, 500)
		n, _ := r.Body.Read(text)
		return r.StatusCode, string(text[:n])
	}
	becomes := func(path string, want int, words string) {
		t.Helper()
		for end := time.Now().Add(20 * time.Second); ; time.Sleep(10 * time.Millisecond) {
			status, text := ask(path)
			if status == want && strings.Contains(text, words) {
				return
			}
			if time.Now().After(end) {
				t.Fatalf("%s: %d %s, want %d %s", path, status, text, want, words)
			}
		}
	}
	becomes("/healthz", http.StatusOK, "ok")
	left = room.Least - 1
	becomes("/healthz", http.StatusServiceUnavailable, "full: 64.0 MB are left")
	becomes("/readyz", http.StatusOK, "ok")
	left = 10 * room.Little
	becomes("/healthz", http.StatusOK, "ok")
	if _, err := db.ExecContext(t.Context(), "RENAME TABLE about_database TO taken_away"); err != nil {
		t.Fatal(err)
	}
	becomes("/healthz", http.StatusServiceUnavailable, "takes no changes")
	becomes("/readyz", http.StatusOK, "ok")
	if err := db.Close(); err != nil {
		t.Fatal(err)
	}
	for _, path := range []string{"/healthz", "/readyz"} {
		becomes(path, http.StatusServiceUnavailable, "does not answer")
		if _, text := ask(path); strings.Contains(text, "127.0.0.1") || strings.Contains(text, "sql") {
			t.Errorf("%s tells %s", path, text)
		}
	}
}
