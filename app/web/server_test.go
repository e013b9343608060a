package web_test

import (
	"log/slog"
	"net/http"
	"net/http/httptest"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"grapnel/app/backup"
	"grapnel/app/demo"
	"grapnel/app/localdb/dbtest"
	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/store"
	"grapnel/app/web"
)

// codesOf are what the owner is warned of.
func codesOf(list []web.Warning) []string {
	out := []string{}
	for _, w := range list {
		out = append(out, w.Code)
	}
	return out
}

// TestServerState checks what the owner is told of the server, and nobody else: what others
// can read on the way, a backup that failed, and when a certificate ends.
func TestServerState(t *testing.T) {
	db := dbtest.Filled(t, demo.Fill)
	book := store.New(db)
	good := backup.Run{ID: record.NewID(), MadeAt: time.Now().Add(-30 * time.Hour), Why: backup.Daily, Path: "/kept/grapnel-1.zip", Bytes: 1 << 20, Rows: 4000, Seconds: 1.5}
	if err := book.AddBackupRun(t.Context(), good); err != nil {
		t.Fatal(err)
	}
	quiet := slog.New(slog.DiscardHandler)
	nowhere := backup.Source{DSN: "grapnel:x@tcp(127.0.0.1:1)/grapnel", Dir: filepath.Join(t.TempDir(), "kept")}
	config := web.Config{
		Log: quiet, Plain: true, Fingerprint: "AB12", CertificateUntil: time.Now().Add(10 * 24 * time.Hour),
		Backups: backup.NewKeeper(nowhere, book, time.Now, quiet),
	}
	v := newVisitorWith(t, db, config)
	v.signIn(demo.SignIns()[0].SignIn, demo.SignIns()[0].Password)
	var state web.ServerState
	for end := time.Now().Add(20 * time.Second); state.Backups == nil || len(state.Backups.Runs) < 2; time.Sleep(5 * time.Millisecond) {
		if time.Now().After(end) {
			t.Fatalf("no backup was tried: %+v", state.Backups)
		}
		v.call("GET", "/api/server", nil, &state)
	}
	want := []string{"backup_failed", "plain_http", "certificate"}
	if got := codesOf(state.Warnings); !slices.Equal(got, want) || state.Fingerprint != "AB12" || !state.Plain {
		t.Errorf("%v, %+v", got, state)
	}
	if b := state.Backups; !b.Late || b.LastGood == nil || b.LastGood.Path != good.Path || b.Dir != nowhere.Dir || b.Runs[0].Trouble == "" {
		t.Errorf("%+v", b)
	}
	for _, role := range []people.Role{people.Owner, people.Technician, people.Counter} {
		var hello web.Hello
		v.visitedAs(role).call("GET", "/api/hello", nil, &hello)
		if got := codesOf(hello.Warnings); role == people.Owner && !slices.Equal(got, want) || role != people.Owner && len(got) > 0 {
			t.Errorf("%s is warned of %v", role, got)
		}
	}
	if r := v.call("POST", "/api/server/backups", nil, &state); r.StatusCode != http.StatusOK {
		t.Errorf("asked: %s", r.Status)
	}
	// A server that keeps none says so.
	plain := demoVisitor(t)
	var none web.ServerState
	plain.call("GET", "/api/server", nil, &none)
	var problem web.Problem
	if r := plain.call("POST", "/api/server/backups", nil, &problem); r.StatusCode != http.StatusUnprocessableEntity || none.Backups != nil || len(none.Warnings) != 0 {
		t.Errorf("%s %+v", r.Status, none)
	}
}

// TestMetrics works in the shop and finds it counted, at the operators' own handler alone.
func TestMetrics(t *testing.T) {
	db := dbtest.Filled(t, demo.Fill)
	book := store.New(db)
	good := backup.Run{ID: record.NewID(), MadeAt: time.Now().Add(-2 * time.Hour), Why: backup.Daily}
	if err := book.AddBackupRun(t.Context(), good); err != nil {
		t.Fatal(err)
	}
	keeper := backup.NewKeeper(backup.Source{}, book, time.Now, slog.New(slog.DiscardHandler))
	v := newVisitorWith(t, db, web.Config{Backups: keeper, CertificateUntil: time.Now().Add(time.Hour), Room: func() (int64, error) { return 3 << 30, nil }})
	v.signIn(demo.SignIns()[0].SignIn, demo.SignIns()[0].Password)
	job := v.bring(label("flooded", 12, 540))
	v.keep(job, "12.4 v 18c rested 2h; ripple 0.02 v")
	v.listen("").next(t, "hello")
	v.call("GET", "/api/nowhere", nil, nil)
	v.visitedAs(people.Counter).call("POST", "/api/people", map[string]any{}, nil)
	page := func(handler http.Handler, path string) (int, string) {
		answer := httptest.NewRecorder()
		handler.ServeHTTP(answer, httptest.NewRequest(http.MethodGet, path, nil))
		return answer.Code, answer.Body.String()
	}
	operators := v.handler.(*web.Server).Metrics()
	status, text := page(operators, "/metrics")
	for _, line := range []string{
		`grapnel_requests_total{operation="keepReading",status="200"} 1`, `grapnel_requests_total{operation="addPerson",status="403"} 1`,
		`grapnel_requests_total{operation="other",status="404"} 1`, `grapnel_request_seconds_count{operation="bringIn"} 1`, "grapnel_readings_kept_total 2",
		"grapnel_streams 1", `go_sql_open_connections{db_name="grapnel"}`, "grapnel_backup_age_seconds 72", "grapnel_certificate_seconds_left 3", "grapnel_room_bytes 3.221225472e+09", "go_goroutines",
		`grapnel_build_info{release="test"} 1`,
	} {
		if !strings.Contains(text, line) {
			t.Errorf("the metrics lack %s", line)
		}
	}
	if status != http.StatusOK || !regexp.MustCompile(`grapnel_assess_seconds_count [1-9]`).MatchString(text) || strings.Contains(text, "Lockside") || strings.Contains(text, job.String()) {
		t.Errorf("%d\n%s", status, text)
	}
	if status, _ := page(operators, "/debug/pprof/goroutine?debug=1"); status != http.StatusOK {
		t.Errorf("profiles: %d", status)
	}
	for _, path := range []string{"/metrics", "/debug/pprof/", "/api/metrics"} {
		if _, text := page(v.handler, path); strings.Contains(text, "grapnel_requests_total") || strings.Contains(text, "goroutine") {
			t.Errorf("%s is served to everybody", path)
		}
	}
}
