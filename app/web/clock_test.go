package web_test

import (
	"context"
	"database/sql"
	"fmt"
	"log/slog"
	"net/http"
	"path/filepath"
	"slices"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/pquerna/otp/totp"

	"grapnel/app/backup"
	"grapnel/app/demo"
	"grapnel/app/localdb/dbtest"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store"
	"grapnel/app/web"
)

// moved puts every time that is stored on by as much, as if the clock had been that far ahead, or
// behind, whenever one was written down: each column of a time, and the steps of phones' codes.
func moved(t *testing.T, db *sql.DB, by time.Duration) {
	t.Helper()
	rows, err := db.QueryContext(t.Context(), `SELECT table_name, column_name FROM information_schema.columns
WHERE table_schema = DATABASE() AND data_type IN ('datetime', 'timestamp') AND table_name NOT IN ('goose_db_version')`)
	if err != nil {
		t.Fatal(err)
	}
	defer rows.Close()
	set := map[string][]string{"person": {fmt.Sprintf("second_last = second_last + %d", int64(by.Seconds())/30)}}
	for rows.Next() {
		var table, column string
		if err := rows.Scan(&table, &column); err != nil {
			t.Fatal(err)
		}
		set[table] = append(set[table], fmt.Sprintf("`%s` = `%s` + INTERVAL %d SECOND", column, column, int64(by.Seconds())))
	}
	if err := rows.Err(); err != nil || len(set) < 30 {
		t.Fatal(len(set), err)
	}
	for table, columns := range set {
		if _, err := db.ExecContext(t.Context(), "UPDATE `"+table+"` SET "+strings.Join(columns, ", ")); err != nil {
			t.Fatal(table, err)
		}
	}
}

// TestClockJumps has everything that is stored stamped by a clock that was a day or a year ahead or
// behind, and is right now: whoever guesses waits no longer than ever, phone codes are taken, what
// was signed in still is where the clock was ahead, no job has vanished, clocks come to their end,
// what is on a charger comes off, backups go on, and everything can be looked at and worked in.
// No source: it is how the program is to behave.
func TestClockJumps(t *testing.T) {
	const day = 24 * time.Hour
	for _, by := range []time.Duration{day, 365 * day, -day, -365 * day} {
		t.Run(by.String(), func(t *testing.T) { jumped(t, by) })
	}
}

// jumpedShop is the demo shop with something in it that each clock matters to, moved.
type jumpedShop struct {
	*visitor
	db     *sql.DB
	secret string
	// ahead is how far the shop's clock was put on since.
	ahead atomic.Int64
	open  int
}

func (j *jumpedShop) now() time.Time { return time.Now().Add(time.Duration(j.ahead.Load())) }

func jumped(t *testing.T, by time.Duration) {
	j := &jumpedShop{db: dbtest.Filled(t, demo.Fill)}
	nowhere := backup.Source{DSN: "grapnel:x@tcp(127.0.0.1:1)/grapnel", Dir: filepath.Join(t.TempDir(), "kept")}
	book := store.New(j.db)
	must := func(err error) {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
	}
	j.visitor = newVisitorWith(t, j.db, web.Config{Now: j.now})
	owner := demo.SignIns()[0]
	j.signIn(owner.SignIn, owner.Password)
	var today shop.Today
	j.call("GET", "/api/today", nil, &today)
	j.open = len(today.Open) + 1
	j.secret = j.withSecondStep(owner.Password)
	j.guessAt("edda")
	job := j.bring(label("flooded", 12, 540))
	j.keep(job, "12.5 v 18c rested 2h")
	must(book.AddBackupRun(t.Context(), backup.Run{ID: record.NewID(), MadeAt: time.Now(), Why: backup.Daily, Host: "another", Path: "x"}))
	release, held, err := book.HoldBackups(t.Context())
	if err != nil || !held {
		t.Fatal(held, err)
	}
	t.Cleanup(release)
	moved(t, j.db, by)
	// Another server, which remembers nothing of before.
	cookies := j.client
	j.visitor = newVisitorWith(t, j.db, web.Config{Now: j.now, Backups: backup.NewKeeper(nowhere, book, j.now, slog.New(slog.DiscardHandler))})
	if by > 0 {
		stillSignedIn(t, j.visitor, cookies, owner.Name)
	}
	j.entersByPhone(t, owner)
	j.waitsNoLonger(t)
	j.call("GET", "/api/today", nil, &today)
	if len(today.Open) != j.open {
		t.Errorf("%d jobs are open, there were %d", len(today.Open), j.open)
	}
	j.clocksEnd(t)
	j.worksOn(t, job)
	j.comesOff(t)
	j.everythingOf(func(method, _, path string, body any) {
		if r := j.call(method, "/api"+path, body, nil); r.StatusCode >= 500 {
			t.Errorf("%s %s: %s", method, path, r.Status)
		}
	})
	j.yardIsDue(t)
	// The claim that was held when the clock was wrong holds nobody up.
	for end := time.Now().Add(30 * time.Second); ; time.Sleep(10 * time.Millisecond) {
		runs, err := book.BackupRuns(t.Context(), j.now(), 10)
		must(err)
		if slices.ContainsFunc(runs, func(r backup.Run) bool { return r.Trouble != "" }) {
			break
		}
		if time.Now().After(end) {
			t.Fatalf("no backup is tried any more: %+v", runs)
		}
	}
}

// stillSignedIn finds a browser signed in that was so before.
func stillSignedIn(t *testing.T, v *visitor, was *http.Client, name string) {
	t.Helper()
	// The cookies are another address's only because each test server has a port of its own.
	jar := was.Jar
	other := *v
	other.client = &http.Client{Jar: jar}
	var hello web.Hello
	if other.call("GET", "/api/hello", nil, &hello); hello.Person == nil || hello.Person.Name != name {
		t.Errorf("signed in is %+v", hello.Person)
	}
}

// withSecondStep asks the owner for a phone's codes from now on, and uses the present one.
func (j *jumpedShop) withSecondStep(password string) string {
	j.t.Helper()
	var begun struct{ Secret string }
	if r := j.call("POST", "/api/me/second", map[string]any{"password": password}, &begun); r.StatusCode != http.StatusOK {
		j.t.Fatal(r.Status)
	}
	if r := j.call("PUT", "/api/me/second", map[string]any{"code": j.code(begun.Secret)}, nil); r.StatusCode != http.StatusOK {
		j.t.Fatal(r.Status)
	}
	return begun.Secret
}

func (j *jumpedShop) code(secret string) string {
	j.t.Helper()
	code, err := totp.GenerateCode(secret, j.now())
	if err != nil {
		j.t.Fatal(err)
	}
	return code
}

// guessAt guesses at somebody's password until the next guess has to wait.
func (j *jumpedShop) guessAt(name string) {
	j.t.Helper()
	for range 12 {
		if r := j.visitedAs("").call("POST", "/api/sign-in", map[string]string{"sign_in": name, "password": "not this one"}, nil); r.StatusCode == http.StatusTooManyRequests {
			return
		}
	}
	j.t.Fatal("nobody has to wait")
}

// entersByPhone signs the owner in, with a code of a phone, and for the rest of the test.
func (j *jumpedShop) entersByPhone(t *testing.T, owner web.DemoPerson) {
	t.Helper()
	j.ahead.Add(int64(30 * time.Second)) // the next code
	body := map[string]string{"sign_in": owner.SignIn, "password": owner.Password, "second": j.code(j.secret)}
	if r := j.call("POST", "/api/sign-in", body, nil); r.StatusCode != http.StatusOK {
		t.Fatalf("with a code of the phone: %s", r.Status)
	}
}

// waitsNoLonger finds that whoever was guessed at comes in at the latest a quarter of an hour on.
func (j *jumpedShop) waitsNoLonger(t *testing.T) {
	t.Helper()
	edda := demo.SignIns()[2]
	try := func() int {
		return j.visitedAs("").call("POST", "/api/sign-in", map[string]string{"sign_in": edda.SignIn, "password": edda.Password}, nil).StatusCode
	}
	try()
	j.ahead.Add(int64(16 * time.Minute))
	if status := try(); status != http.StatusOK {
		t.Errorf("a quarter of an hour on: %d", status)
	}
}

// clocksEnd finds that no clock that runs has longer to run than its kind does.
func (j *jumpedShop) clocksEnd(t *testing.T) {
	t.Helper()
	for range 2 {
		var clocks shop.Clocks
		j.call("GET", "/api/clocks", nil, &clocks)
		for _, c := range clocks.Clocks {
			if most := clocks.Now.Add(c.Seconds.Duration()); c.EndsAt.After(most) {
				t.Errorf("%s ends %s, which is %s from now", c.Kind, c.EndsAt, c.EndsAt.Sub(clocks.Now))
			}
		}
		j.ahead.Add(int64(time.Minute))
	}
}

// worksOn keeps a reading on a job: it stands last, and is judged.
func (j *jumpedShop) worksOn(t *testing.T, job record.ID) {
	t.Helper()
	id := record.NewID()
	var answer web.KeptAnswer
	body := map[string]any{"line": "load 90a 15s 10.6v", "battery_id": record.ID{}, "taken_at": j.now()}
	if r := j.call("PUT", fmt.Sprintf("/api/jobs/%s/readings/%s", job, id), body, &answer); r.StatusCode != http.StatusOK {
		t.Fatalf("nothing is kept any more: %s", r.Status)
	}
	list := answer.Page.Batteries[0].Readings
	if last := list[len(list)-1]; last.ID != id {
		t.Errorf("the last reading is %s", last.Typed)
	}
	for _, r := range list {
		if r.TakenAt.After(j.now().Add(time.Hour)) {
			t.Errorf("%s was taken at %s", r.Typed, r.TakenAt)
		}
	}
}

// comesOff takes a battery off its charger.
func (j *jumpedShop) comesOff(t *testing.T) {
	t.Helper()
	var shelf shop.Shelf
	j.call("GET", "/api/shelf", nil, &shelf)
	for _, item := range shelf.Items {
		if item.Charge.On == nil {
			continue
		}
		var p web.Problem
		if r := j.call("PUT", "/api/shelf/charges/"+item.Charge.ID.String()+"/off", map[string]any{"at": j.now()}, &p); r.StatusCode != http.StatusOK {
			t.Errorf("off: %s %s", r.Status, p.Detail)
		}
		return
	}
	t.Error("nothing is on a charger")
}

// yardIsDue finds that nothing waits for its visit until a year is over.
func (j *jumpedShop) yardIsDue(t *testing.T) {
	t.Helper()
	service := shop.NewService(store.New(j.db), j.now)
	shops, err := service.Shops(context.Background())
	if err != nil {
		t.Fatal(err)
	}
	if _, err := service.RefreshStanding(context.Background(), shops[0].ID); err != nil {
		t.Fatal(err)
	}
	var yard shop.YardPage
	j.call("GET", "/api/standing", nil, &yard)
	for _, row := range yard.Rows {
		if latest := j.now().AddDate(0, 7, 0).Format(time.DateOnly); row.Due.From > latest {
			t.Errorf("%s is due on %s", row.Tag, row.Due.From)
		}
	}
}
