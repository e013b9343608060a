package web_test

import (
	"bytes"
	"io"
	"log/slog"
	"net/http"
	"strings"
	"sync"
	"testing"

	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/web"
)

// heard is a log that many may write to.
type heard struct {
	mu   sync.Mutex
	text bytes.Buffer
}

func (h *heard) Write(p []byte) (int, error) {
	h.mu.Lock()
	defer h.mu.Unlock()
	return h.text.Write(p)
}

// TestCalendarAddress reads the calendar without a session by its secret address alone, which
// stands in no log, until it is withdrawn; and as a file with a session.
func TestCalendarAddress(t *testing.T) {
	log := new(heard)
	v := demoVisitorWith(t, web.Config{Log: slog.New(slog.NewTextHandler(log, &slog.HandlerOptions{Level: slog.LevelDebug}))})
	id := record.NewID().String()
	var made shop.NewFeed
	if r := v.call("PUT", "/api/calendar/feeds/"+id, map[string]any{"name": "a phone"}, &made); r.StatusCode != http.StatusOK {
		t.Fatal(r.Status)
	}
	read := func(client *http.Client, path string) (status int, kind, text string) {
		t.Helper()
		r, err := client.Get(v.base + path)
		if err != nil {
			t.Fatal(err)
		}
		defer r.Body.Close()
		body, err := io.ReadAll(r.Body)
		if err != nil {
			t.Fatal(err)
		}
		return r.StatusCode, r.Header.Get("Content-Type"), string(body)
	}
	nobody := &http.Client{}
	if status, kind, text := read(nobody, made.Path); status != 200 || kind != "text/calendar; charset=utf-8" || strings.Count(text, "BEGIN:VEVENT") != 14 {
		t.Errorf("%d %s %.200s", status, kind, text)
	}
	if status, _, text := read(v.client, "/api/calendar.ics"); status != 200 || !strings.HasPrefix(text, "BEGIN:VCALENDAR\r\n") {
		t.Errorf("as a file: %d %.100s", status, text)
	}
	if r := v.call("PUT", "/api/calendar/feeds/"+id, map[string]any{"name": "a phone"}, nil); r.StatusCode != http.StatusUnprocessableEntity {
		t.Errorf("its secret is told again: %s", r.Status)
	}
	if r := v.call("DELETE", "/api/calendar/feeds/"+id, nil, nil); r.StatusCode != http.StatusOK {
		t.Fatal(r.Status)
	}
	for _, path := range []string{made.Path, "/calendar/none.ics", "/calendar/" + strings.Repeat("a", 4000)} {
		if status, _, text := read(nobody, path); status != http.StatusNotFound || strings.Contains(text, "VCALENDAR") {
			t.Errorf("%.60s: %d %.100s", path, status, text)
		}
	}
	log.mu.Lock()
	defer log.mu.Unlock()
	secret := strings.TrimSuffix(strings.TrimPrefix(made.Path, "/calendar/"), ".ics")
	if strings.Contains(log.text.String(), secret) || !strings.Contains(log.text.String(), "/calendar/…") {
		t.Error("the secret stands in the log, or the request does not")
	}
}
