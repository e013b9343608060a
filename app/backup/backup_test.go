package backup_test

import (
	"archive/zip"
	"bytes"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"grapnel/app/backup"
	"grapnel/app/demo"
	"grapnel/app/localdb/dbtest"
	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store"
)

func TestMain(m *testing.M) { dbtest.Main(m) }

var now = time.Date(2026, 11, 29, 2, 30, 0, 0, time.UTC)

var discard = slog.New(slog.DiscardHandler)

func must(t *testing.T, err error) {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
}

// demoSource is the demo workshop in a database of its own, to be backed up, with an
// authority.
func demoSource(t *testing.T) (backup.Source, *sql.DB) {
	t.Helper()
	dsn := dbtest.DSN(t)
	db, err := store.Open(dsn)
	must(t, err)
	t.Cleanup(func() { must(t, db.Close()) })
	_, err = store.Migrate(t.Context(), db)
	must(t, err)
	must(t, demo.Fill(t.Context(), db))
	authority := t.TempDir()
	for _, name := range []string{"authority.pem", "authority.key"} {
		must(t, os.WriteFile(filepath.Join(authority, name), []byte("this is "+name), 0o600))
	}
	key, err := backup.OpenKey(filepath.Join(t.TempDir(), "shop-backup.key"))
	must(t, err)
	return backup.Source{DSN: dsn, Authority: authority, Dir: filepath.Join(t.TempDir(), "backups"), Release: "test", Key: key}, db
}

// contents are the rows of each table; those of sessions are left out, which a restore ends.
func contents(t *testing.T, db *sql.DB) map[string][]string {
	t.Helper()
	return dbtest.Rows(t, db, nil, "sessions", "signed_in", "claim", "about_database")
}

// restored restores a backup into a database of its own.
func restored(t *testing.T, path, authority string) *sql.DB {
	t.Helper()
	dsn := dbtest.DSN(t)
	_, err := backup.Place{DSN: dsn, Authority: authority}.Restore(t.Context(), path)
	must(t, err)
	db, err := store.Open(dsn)
	must(t, err)
	t.Cleanup(func() { must(t, db.Close()) })
	return db
}

// TestNoPasswordIsWrittenDown checks that a backup writes no password into a file for MariaDB's
// programs, which would stay behind a kill: it is made where nothing can be written besides.
// No source: it is how the program is to behave.
func TestNoPasswordIsWrittenDown(t *testing.T) {
	source, _ := demoSource(t)
	t.Setenv("TMPDIR", filepath.Join(t.TempDir(), "not-there"))
	_, err := source.Make(t.Context(), now, backup.Daily)
	must(t, err)
}

// TestRestoredIsTheSame backs a still shop up and finds every row of it in what is restored,
// the authority too, and that it can be worked in.
func TestRestoredIsTheSame(t *testing.T) {
	source, db := demoSource(t)
	made, err := source.Make(t.Context(), now, backup.Daily)
	must(t, err)
	if made.Schema != store.Latest() || len(made.Shops) != 1 || !made.Authority || made.Tables["reading"] == 0 || made.Bytes == 0 || filepath.Base(made.Path) != fmt.Sprintf("grapnel-daily-%s-s%d-2026-11-29T023000Z.zip", made.Database[:8], made.Schema) {
		t.Errorf("%+v", made)
	}
	if info, err := os.Stat(made.Path); err != nil || info.Mode().Perm() != 0o600 {
		t.Errorf("%v %v", info.Mode(), err)
	}
	authority := filepath.Join(t.TempDir(), "tls")
	again := restored(t, made.Path, authority)
	want, got := contents(t, db), contents(t, again)
	for table, rows := range want {
		if !slices.Equal(rows, got[table]) {
			t.Errorf("%s: %d rows, restored %d", table, len(rows), len(got[table]))
		}
	}
	if body, err := os.ReadFile(filepath.Join(authority, "authority.key")); err != nil || string(body) != "this is authority.key" {
		t.Errorf("%q %v", body, err)
	}
	s := shop.NewService(store.New(again), time.Now)
	mara, err := s.Enter(t.Context(), people.Attempt{SignIn: demo.SignIns()[0].SignIn, Secret: demo.SignIns()[0].Password})
	must(t, err)
	today, err := s.Today(t.Context(), mara, time.Time{}, record.ID{})
	if err != nil || len(today.Open) == 0 {
		t.Fatalf("%+v %v", today, err)
	}
	page, err := s.JobPage(t.Context(), mara, today.Open[0].Job.ID)
	must(t, err)
	must(t, func() error {
		_, err := s.Keep(t.Context(), mara, page.Job.ID, record.Keep{ID: record.NewID(), BatteryID: page.Batteries[0].ID, Line: "12.5 v 18c rested 2h", TakenAt: time.Now()})
		return err
	}())
	if _, err := (backup.Place{DSN: dbtest.DSN(t) + "x"}).Restore(t.Context(), made.Path); err == nil {
		t.Error("restored into nowhere")
	}
}

// TestRehearsal backs a shop up while many work in it: what is restored is the shop as it
// stood at one moment, with every row of then, as it is still in the shop.
func TestRehearsal(t *testing.T) {
	source, db := demoSource(t)
	s := shop.NewService(store.New(db), time.Now)
	mara, err := s.Enter(t.Context(), people.Attempt{SignIn: demo.SignIns()[0].SignIn, Secret: demo.SignIns()[0].Password})
	must(t, err)
	ctx, stop := context.WithCancel(t.Context())
	var hands sync.WaitGroup
	var kept atomic.Int64
	for range 4 {
		hands.Go(func() {
			for ctx.Err() == nil {
				in := shop.BringIn{JobID: record.NewID(), Batteries: []record.Fitted{{}}}
				in.Batteries[0].Label.Chemistry, in.Batteries[0].Label.NominalV = "flooded", 12
				if _, err := s.BringIn(t.Context(), mara, in); err != nil {
					t.Error(err)
					return
				}
				page, err := s.JobPage(t.Context(), mara, in.JobID)
				for n := 0; err == nil && n < 4; n++ {
					line := fmt.Sprintf("12.%02d v 18c rested 2h", 40+n)
					_, err = s.Keep(t.Context(), mara, in.JobID, record.Keep{ID: record.NewID(), BatteryID: page.Batteries[0].ID, Line: line, TakenAt: time.Now()})
					kept.Add(1)
				}
				if err != nil {
					t.Error(err)
					return
				}
			}
		})
	}
	for kept.Load() < 20 {
		time.Sleep(time.Millisecond) // until they are at work
	}
	made, err := source.Make(t.Context(), now, backup.Daily)
	stop()
	hands.Wait()
	must(t, err)
	after, again := contents(t, db), contents(t, restored(t, made.Path, ""))
	for table, rows := range again {
		switch table {
		case "job", "job_state", "shop", "standing": // rows that change
			continue
		}
		there := map[string]bool{}
		for _, row := range after[table] {
			there[row] = true
		}
		for _, row := range rows {
			if !there[row] {
				t.Errorf("%s: a row that is not in the shop: %.200s", table, row)
			}
		}
	}
	// One moment: whatever a change wrote is all there or not at all.
	db = restored(t, made.Path, "")
	for what, query := range map[string]string{
		"readings without their event": "SELECT COUNT(*) FROM reading LEFT JOIN event ON event.job_id = reading.job_id AND event.kind IN ('reading_kept', 'reading_corrected', 'reading_mistaken', 'reading_undone', 'imported', 'visit_kept') WHERE reading.job_id IS NOT NULL AND event.id IS NULL",
		"events without their reading": "SELECT (SELECT COUNT(*) FROM event WHERE kind = 'reading_kept') > (SELECT COUNT(*) FROM reading)",
		"jobs without a verdict":       "SELECT COUNT(*) FROM job WHERE NOT EXISTS (SELECT 1 FROM verdict WHERE verdict.job_id = job.id)",
		"revisions behind":             "SELECT COUNT(*) FROM job WHERE revision <> (SELECT MAX(verdict.revision) FROM verdict WHERE verdict.job_id = job.id)",
	} {
		var n int
		must(t, db.QueryRowContext(t.Context(), query).Scan(&n))
		if n != 0 {
			t.Errorf("%d %s", n, what)
		}
	}
	t.Logf("%d readings kept meanwhile, %d of %d in the backup", kept.Load(), made.Tables["reading"], len(after["reading"]))
}

// TestBroken damages a backup in every way a disk may, and finds none of them taken for a
// good one, nor anything restored of it.
func TestBroken(t *testing.T) {
	source, _ := demoSource(t)
	made, err := source.Make(t.Context(), now, backup.Daily)
	must(t, err)
	whole, err := os.ReadFile(made.Path)
	must(t, err)
	flip := func(at int) []byte {
		out := bytes.Clone(whole)
		out[at] ^= 0x40
		return out
	}
	less := rewritten(t, made.Path, func(name string, body []byte) []byte {
		if name == "database.sql" {
			return bytes.Replace(body, []byte("INSERT INTO `reading`"), []byte("-- NSERT INTO `reading`"), 1)
		}
		return body
	})
	cut := rewritten(t, made.Path, func(name string, body []byte) []byte {
		if name == "database.sql" {
			return body[:bytes.LastIndex(body, []byte("-- Dump completed"))]
		}
		return body
	})
	keyless := rewritten(t, made.Path, func(name string, body []byte) []byte {
		if name == "authority/authority.key" {
			return nil
		}
		return body
	})
	for name, body := range map[string][]byte{
		"empty": {}, "half": whole[:len(whole)/2], "its end missing": whole[:len(whole)-30], "a bit in the middle": flip(len(whole) / 2), "a bit near the start": flip(200),
		"a row missing": less, "its last line missing": cut, "the key missing": keyless, "text": []byte("not a backup"),
	} {
		path := filepath.Join(t.TempDir(), "grapnel-2026-11-29T023000Z.zip")
		must(t, os.WriteFile(path, body, 0o600))
		if _, err := backup.Read(path); !errors.Is(err, backup.ErrBroken) {
			t.Errorf("%s: %v", name, err)
		}
		if _, err := (backup.Place{DSN: dbtest.DSN(t)}).Restore(t.Context(), path); !errors.Is(err, backup.ErrBroken) {
			t.Errorf("%s, restored: %v", name, err)
		}
	}
	// A database that holds something is not restored into.
	if _, err := (backup.Place{DSN: source.DSN}).Restore(t.Context(), made.Path); err == nil || !strings.Contains(err.Error(), "empty") {
		t.Errorf("over a shop: %v", err)
	}
}

// rewritten is a zip whose parts are changed; nil leaves one out.
func rewritten(t *testing.T, path string, change func(string, []byte) []byte) []byte {
	t.Helper()
	in, err := zip.OpenReader(path)
	must(t, err)
	defer in.Close()
	var out bytes.Buffer
	w := zip.NewWriter(&out)
	for _, f := range in.File {
		r, err := f.Open()
		must(t, err)
		body, err := io.ReadAll(r)
		must(t, err)
		if body = change(f.Name, body); body == nil {
			continue
		}
		into, err := w.Create(f.Name)
		must(t, err)
		_, err = into.Write(body)
		must(t, err)
	}
	must(t, w.Close())
	return out.Bytes()
}

// TestNoHalfBackup checks that a backup that fails leaves no file that could be taken for one.
func TestNoHalfBackup(t *testing.T) {
	source, _ := demoSource(t)
	ended, end := context.WithCancel(t.Context())
	end()
	nowhere := source
	nowhere.DSN = strings.Replace(source.DSN, "@tcp(127.0.0.1:", "@tcp(127.0.0.1:1", 1)
	shut := source
	shut.Dir = filepath.Join(source.Dir, "file")
	must(t, os.MkdirAll(source.Dir, 0o700))
	must(t, os.WriteFile(shut.Dir, nil, 0o600))
	for name, do := range map[string]func() error{
		"ended":         func() error { _, err := source.Make(ended, now, backup.Daily); return err },
		"no database":   func() error { _, err := nowhere.Make(t.Context(), now, backup.Daily); return err },
		"no such place": func() error { _, err := shut.Make(t.Context(), now, backup.Daily); return err },
	} {
		if do() == nil {
			t.Errorf("%s: no error", name)
		}
	}
	if left, err := filepath.Glob(filepath.Join(source.Dir, "grapnel-*")); err != nil || len(left) != 0 {
		t.Errorf("left behind: %v %v", left, err)
	}
	t.Setenv("PATH", "")
	if _, err := source.Make(t.Context(), now, backup.Daily); err == nil || !strings.Contains(err.Error(), "mariadb-client") {
		t.Errorf("without the program: %v", err)
	}
}

// clock tells a time and is put on.
func clock(at time.Time) (tell func() time.Time, later func(time.Duration)) {
	var mu sync.Mutex
	tell = func() time.Time { mu.Lock(); defer mu.Unlock(); return at }
	later = func(d time.Duration) { mu.Lock(); defer mu.Unlock(); at = at.Add(d) }
	return tell, later
}

// TestKeeper makes a backup when one is due, on one of two servers alone, when it is asked
// for, and tries again an hour after it failed; it tells which was the last good one.
func TestKeeper(t *testing.T) {
	source, db := demoSource(t)
	book := store.New(db)
	tell, later := clock(now)
	ctx, stop := context.WithCancel(t.Context())
	var servers sync.WaitGroup
	begin := func(s backup.Source) *backup.Keeper {
		k := backup.NewKeeper(s, book, tell, discard)
		servers.Go(func() { k.Run(ctx) })
		return k
	}
	runs := func(n int) []backup.Run {
		t.Helper()
		for end := time.Now().Add(30 * time.Second); ; time.Sleep(5 * time.Millisecond) {
			list, err := book.BackupRuns(t.Context(), tell(), 100)
			must(t, err)
			if len(list) >= n || time.Now().After(end) {
				if len(list) != n {
					t.Fatalf("%d runs, want %d: %+v", len(list), n, list)
				}
				return list
			}
		}
	}
	one := begin(source)
	begin(source)
	first := runs(1)[0]
	if first.Trouble != "" || first.Why != backup.Daily || first.Rows == 0 || first.Host == "" {
		t.Errorf("%+v", first)
	}
	later(time.Minute)
	one.Ask()
	if r := runs(2)[0]; r.Why != backup.Asked || r.Trouble != "" {
		t.Errorf("%+v", r)
	}
	stop()
	servers.Wait()
	if !one.Since().IsZero() {
		t.Errorf("under way since %s", one.Since())
	}
	// A server whose disk is full.
	ctx, stop = context.WithCancel(t.Context())
	defer stop()
	later(25 * time.Hour)
	full := source
	full.Dir = filepath.Join(t.TempDir(), "file")
	must(t, os.WriteFile(full.Dir, nil, 0o600))
	begin(full)
	list := runs(3)
	so, err := backup.Look(t.Context(), book, source.Dir, tell())
	if err != nil || list[0].Trouble == "" || so.LastGood == nil || so.LastGood.ID != list[1].ID || so.Late {
		t.Errorf("%+v %+v %v", list[0], so, err)
	}
	stop()
	servers.Wait()
	for _, minutes := range []time.Duration{30, 31} {
		ctx, stop = context.WithCancel(t.Context())
		later(minutes * time.Minute)
		begin(source)
		want := map[time.Duration]int{30: 3, 31: 4}[minutes]
		runs(want)
		stop()
		servers.Wait()
	}
	if left, err := backup.Kept(source.Dir); err != nil || len(left) != 3 {
		t.Errorf("%v %v", left, err)
	}
}

// busy is a book in which another server has the right to make backups for a while.
type busy struct {
	*store.Store
	asked chan struct{}
	mu    sync.Mutex
	until int
}

func (b *busy) HoldBackups(ctx context.Context) (func(), bool, error) {
	b.mu.Lock()
	b.until--
	held := b.until < 0
	b.mu.Unlock()
	if !held {
		b.asked <- struct{}{}
		return nil, false, nil
	}
	return b.Store.HoldBackups(ctx)
}

// TestAskedIsWaitedFor checks that a backup somebody asked for is made though another server
// had the right to make one at that moment, and that it is not made once more where the other
// began one behind the asking.
func TestAskedIsWaitedFor(t *testing.T) {
	source, db := demoSource(t)
	s := store.New(db)
	must(t, s.AddBackupRun(t.Context(), backup.Run{ID: record.NewID(), MadeAt: now, Why: backup.Daily, Path: "x"}))
	for _, other := range []bool{false, true} {
		book := &busy{Store: s, asked: make(chan struct{}), until: 1}
		tell, later := clock(now.Add(time.Minute))
		k := backup.NewKeeper(source, book, tell, discard)
		ctx, stop := context.WithCancel(t.Context())
		done := make(chan struct{})
		go func() { defer close(done); k.Run(ctx) }()
		k.Ask()
		<-book.asked
		if k.Since().IsZero() {
			t.Error("nothing is said to be under way while it is waited for")
		}
		if other {
			later(time.Minute)
			must(t, s.AddBackupRun(t.Context(), backup.Run{ID: record.NewID(), MadeAt: tell(), Why: backup.Asked, Path: "y"}))
		}
		for end := time.Now().Add(30 * time.Second); !k.Since().IsZero() && time.Now().Before(end); {
			time.Sleep(5 * time.Millisecond)
		}
		stop()
		<-done
		list, err := s.BackupRuns(t.Context(), tell(), 10)
		must(t, err)
		if want := map[bool]int{false: 2, true: 3}[other]; len(list) != want {
			t.Errorf("the other one made one %t: %d runs, want %d: %+v", other, len(list), want, list)
		}
	}
}
