package web_test

import (
	"fmt"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"grapnel/app/demo"
	"grapnel/app/localdb/dbtest"
	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store"
	"grapnel/app/web"
	"grapnel/core/battery"
	"grapnel/core/evidence"
)

// manyJobs is how many jobs the database holds in the benchmarks.
const manyJobs = 10_000

// settle is how long the database is left to itself after seeding.
const settle = 8 * time.Second

// BenchmarkPages measures what the server takes for a job's page and for Today
// with 10 000 jobs in the database, five readings each on the one measured.
func BenchmarkPages(b *testing.B) {
	db := dbtest.Open(b)
	s := store.New(db)
	if err := demo.Load(b.Context(), s, time.Now()); err != nil {
		b.Fatal(err)
	}
	service := shop.NewService(s, time.Now)
	owner, err := service.Enter(b.Context(), people.Attempt{SignIn: demo.SignIns()[0].SignIn, Secret: demo.SignIns()[0].Password})
	if err != nil {
		b.Fatal(err)
	}
	for i := range manyJobs {
		in := shop.BringIn{
			JobID: record.NewID(), Vehicle: &record.Vehicle{Plate: fmt.Sprintf("N %d", i), Vehicle: evidence.Vehicle{Kind: "car"}},
			Batteries: []record.Fitted{{Battery: record.Battery{Label: battery.Label{Chemistry: battery.Flooded, NominalV: 12}}}},
		}
		if _, err := service.BringIn(b.Context(), owner, in); err != nil {
			b.Fatal(err)
		}
	}
	handler, err := web.New(db, web.Config{Release: "test", Log: slog.New(slog.DiscardHandler)})
	if err != nil {
		b.Fatal(err)
	}
	defer handler.Close()
	cookie := signedIn(b, handler)
	// The database goes on writing out what was seeded; a shop's is quiet.
	time.Sleep(settle)
	found, err := service.FindVehicles(b.Context(), owner, "QN 77")
	if err != nil || len(found) == 0 {
		b.Fatal("no demo van", err)
	}
	life, err := service.BatteryPage(b.Context(), owner, found[0].Batteries[0].ID)
	if err != nil {
		b.Fatal(err)
	}
	job := life.Visits[0].JobID
	path := "/api/jobs/" + job.String()
	for name, path := range map[string]string{"job": path, "job after a change": path, "today": "/api/today"} {
		b.Run(name, func(b *testing.B) {
			b.ReportAllocs()
			for b.Loop() {
				if strings.HasSuffix(name, "change") {
					b.StopTimer()
					if _, err := db.ExecContext(b.Context(), "UPDATE job SET touched = touched + 1 WHERE id = ?", job); err != nil {
						b.Fatal(err)
					}
					b.StartTimer()
				}
				request := httptest.NewRequestWithContext(b.Context(), "GET", path, nil)
				request.Header.Set("Accept-Encoding", "gzip")
				request.Header.Set("Cookie", cookie)
				answer := httptest.NewRecorder()
				handler.ServeHTTP(answer, request)
				if answer.Code != http.StatusOK {
					b.Fatal(answer.Code)
				}
			}
		})
	}
}

// signedIn signs the demo's owner in and gives the session's cookie.
func signedIn(b *testing.B, handler http.Handler) string {
	b.Helper()
	p := demo.SignIns()[0]
	body := fmt.Sprintf(`{"sign_in":%q,"password":%q}`, p.SignIn, p.Password)
	request := httptest.NewRequestWithContext(b.Context(), "POST", "/api/sign-in", strings.NewReader(body))
	request.Header.Set("Content-Type", "application/json")
	answer := httptest.NewRecorder()
	handler.ServeHTTP(answer, request)
	cookies := answer.Result().Cookies()
	if len(cookies) == 0 {
		b.Fatal("not signed in: ", answer.Body)
	}
	return cookies[0].Name + "=" + cookies[0].Value
}
