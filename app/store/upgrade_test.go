package store_test

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"slices"
	"strings"
	"testing"
	"time"

	"grapnel/app/localdb/dbtest"
	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store"
	"grapnel/core/diagnosis"
	"grapnel/core/problem"
	"grapnel/core/procedure"
	"grapnel/core/school"
	"grapnel/core/trail"
)

// landed is the last schema that was landed before this one; its dumps, each what a
// schema added to a shop as the one before kept it, are in testdata.
const landed = 11

// moved is the last schema whose data a later one moves to other tables: an upgrade from it
// takes long enough to be broken off.
const moved = 3

// TestMain lets the test binary be the upgrade that is killed: started with a DSN in its
// environment it brings that database up to date.
func TestMain(m *testing.M) {
	if dsn := os.Getenv("GRAPNEL_TEST_UPGRADE"); dsn != "" {
		if _, err := store.OpenAndUpgrade(context.Background(), dsn, store.Upgrade{}); err != nil {
			fmt.Fprintln(os.Stderr, err)
			os.Exit(1)
		}
		os.Exit(0)
	}
	dbtest.Main(m)
}

// TestUpgrades checks that a shop kept by an earlier schema is all there after the
// upgrade, and can do what the later ones brought.
func TestUpgrades(t *testing.T) {
	for from := int64(1); from <= landed; from++ {
		t.Run(fmt.Sprintf("from schema %d", from), func(t *testing.T) { upgrade(t, from) })
	}
}

// kept is a database that a release with a schema left behind.
func kept(t *testing.T, schema int64) (dsn string, db *sql.DB) {
	t.Helper()
	dsn = dbtest.DSN(t)
	db, err := store.Open(dsn)
	must(t, err)
	t.Cleanup(func() { must(t, db.Close()) })
	if schema == 0 {
		return dsn, db // nothing is there yet
	}
	for s := int64(1); s <= schema; s++ {
		if s == 1 || s > moved {
			must(t, store.MigrateTo(t.Context(), db, max(s, min(moved, schema))))
		}
		dump, err := os.ReadFile(fmt.Sprintf("testdata/schema-%d.sql", s))
		must(t, err)
		for _, statement := range strings.Split(string(dump), ";\n") {
			if strings.TrimSpace(statement) == "" {
				continue
			}
			if _, err := db.ExecContext(t.Context(), statement); err != nil {
				t.Fatalf("%.60s: %v", statement, err)
			}
		}
	}
	// A release before this one kept no list of what a migration had done.
	_, err = db.ExecContext(t.Context(), "DROP TABLE IF EXISTS migration_step")
	must(t, err)
	return dsn, db
}

func upgrade(t *testing.T, from int64) {
	_, db := kept(t, from)
	if version, err := store.Migrate(t.Context(), db); err != nil || version < landed {
		t.Fatalf("version %d, %v", version, err)
	}
	s := shop.NewService(store.New(db), time.Now)
	who := onlyPerson(t, s)
	own, err := s.Own(t.Context(), who)
	if kept := own[school.DrainMost].Value == 0.04; err != nil || kept != (from >= 2) {
		t.Errorf("own limits %v, %v", own, err)
	}
	today, err := s.Today(t.Context(), who, time.Time{}, record.ID{})
	if err != nil || len(today.Open) != 1 || today.Open[0].Plate != "WS 204 K" || today.Open[0].Job.Place != "Bay 2" {
		t.Fatalf("%+v %v", today, err)
	}
	job := today.Open[0].Job.ID
	page, err := s.JobPage(t.Context(), who, job)
	if err != nil || page.Batteries[0].Readings[0].Typed != "12.24 v 17c rested 2h" || page.Sums == nil || page.Job.Purpose != trail.Repair {
		t.Errorf("%+v %v", page, err)
	}
	if page.Batteries[0].Assessment.Verdict.Action != today.Open[0].Action {
		t.Errorf("the board says %s, the job %s", today.Open[0].Action, page.Batteries[0].Assessment.Verdict.Action)
	}
	life, err := s.BatteryPage(t.Context(), who, page.Batteries[0].ID)
	if err != nil || len(life.Installations) != 1 || (life.Installations[0].ToAt == nil) != (from < 3) {
		t.Errorf("where it was: %+v %v", life.Installations, err)
	}
	if from >= 3 {
		ofThree(t, s, who, page)
	}
	if from >= 4 {
		chargers, err := s.Chargers(t.Context(), who)
		if err != nil || len(chargers) != 1 || chargers[0].Channels != map[bool]int{false: 1, true: 2}[from >= 6] {
			t.Errorf("chargers: %+v %v", chargers, err)
		}
	}
	if from >= 6 {
		shelf, err := s.Shelf(t.Context(), who)
		if err != nil || len(shelf.Items) != 1 || shelf.Items[0].Charge.Chalk != 7 {
			t.Errorf("the charge that was on: %+v %v", shelf.Items, err)
		}
	}
	if from >= 7 {
		ofSeven(t, s, who)
	}
	if from >= 9 {
		ofNine(t, s, who)
	}
	stood := 0
	if from >= 10 {
		stood = 1
		ofTen(t, s, who)
	}
	if from >= 11 {
		ofEleven(t, s, who)
	}
	// Whoever could sign in still can, and may do with it what this schema brought.
	made, err := s.MakeReset(t.Context(), who, who.ID)
	must(t, err)
	in, err := s.ResetPassword(t.Context(), people.Attempt{SignIn: who.SignIn, Secret: made.Code}, "blue heron on the lock")
	must(t, err)
	session, err := s.SignedIn(t.Context(), in, "127.0.0.1", "phone")
	must(t, err)
	if p, _, err := s.Present(t.Context(), session.ID); err != nil || p.ID != who.ID {
		t.Errorf("signed in: %+v %v", p, err)
	}
	// Something is put away, and forecast.
	stands := shop.PutAway{ID: record.NewID(), BatteryID: page.Batteries[0].ID, FromAt: time.Now(), Said: shop.StandingSaid{Where: "outdoors", Connected: true}}
	must(t, s.PutAway(t.Context(), who, stands))
	if yard, err := s.Yard(t.Context(), who, nil); err != nil || len(yard.Rows) != stood+1 || !yard.Rows[0].Judged {
		t.Errorf("yard: %+v %v", yard.Rows, err)
	}
	// An order of work is begun.
	attempt := record.Attempt{ID: record.NewID(), JobID: job, BatteryID: page.Batteries[0].ID, Name: "open_locked", Setting: procedure.Sitting{Vehicle: "car", By: "blade"}, People: 1}
	must(t, s.Begin(t.Context(), who, attempt))
	if list, err := s.Attempts(t.Context(), who, job); err != nil || len(list) != 1 || !list[0].Progress.Open {
		t.Errorf("attempts: %+v %v", list, err)
	}
	must(t, s.SetLimit(t.Context(), who, school.DrainMost, 0.03, "maker's manual"))
	must(t, s.StartClock(t.Context(), who, job, record.Clock{ID: record.NewID(), Kind: trail.Rest}))
	if clocks, err := s.Clocks(t.Context(), who); err != nil || len(clocks.Clocks) != 1 {
		t.Errorf("%+v %v", clocks, err)
	}
}

// ofSeven checks what schema 7 had: what a logger saw, and its maker's charge of a battery.
func ofSeven(t *testing.T, s *shop.Service, who people.Person) {
	t.Helper()
	batteryID, err := record.ParseID("01900000-0000-7000-8000-000000000010")
	must(t, err)
	charge, err := record.ParseID("01900000-0000-7000-8000-000000000040")
	must(t, err)
	if logged, err := s.Logged(t.Context(), who, charge); err != nil || logged == nil || logged.Instrument != "Logger 1" || logged.Followed {
		t.Errorf("what the logger saw: %+v %v", logged, err)
	}
	if maker, err := s.MakerCharge(t.Context(), who, batteryID); err != nil || maker.Volts == nil || *maker.Volts != 14.4 {
		t.Errorf("its maker's charge: %+v %v", maker, err)
	}
}

// ofNine checks what schema 9 had: a battery in stock with its case.
func ofNine(t *testing.T, s *shop.Service, who people.Person) {
	t.Helper()
	stock, err := s.Stock(t.Context(), who)
	if err != nil || len(stock.Rows) != 1 || stock.Rows[0].Battery.Tag != "NB-01" || stock.Rows[0].Body.Case != "L3" || *stock.Rows[0].PriceMinor != 12900 {
		t.Errorf("stock: %+v %v", stock.Rows, err)
	}
}

// ofTen checks what schema 10 had: a battery that stands, and a calendar.
func ofTen(t *testing.T, s *shop.Service, who people.Person) {
	t.Helper()
	yard, err := s.Yard(t.Context(), who, nil)
	if err != nil || len(yard.Rows) != 1 || yard.Rows[0].Tag != "LG-0071" {
		t.Errorf("yard: %+v %v", yard.Rows, err)
	}
	if feeds, err := s.Feeds(t.Context(), who); err != nil || len(feeds) != 1 || feeds[0].Name != "the counter" {
		t.Errorf("calendars: %+v %v", feeds, err)
	}
}

// ofEleven checks what schema 11 had: where somebody is signed in, and a place whose name is told
// from others by its accent alone.
func ofEleven(t *testing.T, s *shop.Service, who people.Person) {
	t.Helper()
	id, err := record.ParseID("01900000-0000-7000-8000-000000000080")
	must(t, err)
	if where, err := s.Sessions(t.Context(), who, id); err != nil || len(where) > 1 {
		t.Errorf("signed in: %+v %v", where, err)
	}
	add := func(name string) error {
		return s.KeepPlace(t.Context(), who, record.Place{ID: record.NewID(), Name: name, Kind: "bay"})
	}
	var taken problem.List
	if err := add("bühne"); !errors.As(err, &taken) || taken[0].Field != "name" {
		t.Errorf("a place of a name that is there: %v", err)
	}
	must(t, add("Buhne"))
}

func onlyPerson(t *testing.T, s *shop.Service) people.Person {
	t.Helper()
	shops, err := s.Shops(t.Context())
	must(t, err)
	sh := shops[0]
	list, err := s.People(t.Context(), people.Person{ShopID: sh.ID})
	if err != nil || len(list) != 1 {
		t.Fatalf("%v %v", list, err)
	}
	list[0].ShopID = sh.ID
	return list[0]
}

// ofThree checks what schema 3 had besides, and what its faults left behind.
func ofThree(t *testing.T, s *shop.Service, who people.Person, page record.JobPage) {
	t.Helper()
	b := page.Batteries[0]
	if v := page.Vehicle; v.Tray != "wheel_arch" || v.Joined != "alone" || b.Posts != "side" {
		t.Errorf("how it sits: %+v %s", v, b.Posts)
	}
	if len(b.Readings) != 3 || b.Readings[2].Typed != "12.36 v 17c rested 2h" || len(b.Readings[2].Before) != 1 {
		t.Errorf("readings: %+v", b.Readings)
	}
	// The rule was lifted for what had been found by then, and stays so.
	if len(b.Work.Cleared) != 1 || len(b.Assessment.Stops) != 0 || b.Assessment.Verdict.Action == diagnosis.StopUnsafe {
		t.Errorf("the stop rule that was lifted: %+v, %+v", b.Work.Cleared, b.Assessment.Stops)
	}
	if len(page.Photos) != 1 || page.Photos[0].Note != "the clamp" || page.Job.WaitsFor != "parts" || *page.Job.AssignedTo != who.ID {
		t.Errorf("%+v %+v", page.Photos, page.Job)
	}
	instruments, err := s.Instruments(t.Context(), who)
	if err != nil || len(instruments) == 0 || instruments[0].DueOn != "2027-01-31" {
		t.Errorf("%+v %v", instruments, err)
	}
	list, err := s.FindVehicles(t.Context(), who, "ws204")
	if err != nil || len(list) != 1 || len(list[0].Batteries) != 1 || list[0].Batteries[0].Tag != "LG-0032" {
		t.Errorf("of two in one place the one fitted last is there: %+v %v", list, err)
	}
	// What was done once is not done again under its key.
	deed := page.Batteries[0].Readings[0].ID
	kept, err := s.Keep(t.Context(), who, page.Job.ID, record.Keep{ID: deed, BatteryID: b.ID, Line: "12.24 v 17c rested 2h", TakenAt: b.Readings[0].TakenAt})
	if err != nil {
		t.Errorf("%+v %v", kept, err)
	}
	after, err := s.JobPage(t.Context(), who, page.Job.ID)
	if err != nil || len(after.Batteries[0].Readings) != len(b.Readings) {
		t.Errorf("a reading an earlier release kept was kept again: %v", err)
	}
}

// TestBeforeItIsChanged checks that what is to be done before a database is changed is done
// once, with nothing changed yet; that where it fails nothing is changed; and that it is not
// done for a database that is empty, or up to date.
func TestBeforeItIsChanged(t *testing.T) {
	_, db := kept(t, moved)
	before := rows(t, db)
	told := 0
	refusing := store.Upgrade{Before: func(_ context.Context, from int64) error {
		told++
		if from != moved {
			t.Errorf("from %d", from)
		}
		return errors.New("the disk is full")
	}}
	if _, err := refusing.Run(t.Context(), db); err == nil || !strings.Contains(err.Error(), "the disk is full") {
		t.Errorf("%v", err)
	}
	same(t, "after it was refused", rows(t, db), before)
	willing := store.Upgrade{Before: func(context.Context, int64) error { told++; return nil }}
	for range 2 {
		_, err := willing.Run(t.Context(), db)
		must(t, err)
	}
	_, empty := kept(t, 0)
	_, err := willing.Run(t.Context(), empty)
	must(t, err)
	if told != 2 {
		t.Errorf("done %d times", told)
	}
}

// TestNewerSchema checks that a database that a newer release has used is refused in words,
// and left as it is.
func TestNewerSchema(t *testing.T) {
	db := dbtest.Open(t)
	_, err := db.ExecContext(t.Context(), "INSERT INTO goose_db_version (version_id, is_applied) VALUES (999, 1)")
	must(t, err)
	before := rows(t, db)
	if _, err := store.Migrate(t.Context(), db); !errors.Is(err, store.ErrNewer) || !strings.Contains(err.Error(), "999") || !strings.Contains(err.Error(), "nothing was changed") {
		t.Errorf("%v", err)
	}
	same(t, "a newer one", rows(t, db), before)
}

// rows are the rows of each table. When something was done is left out: no two upgrades are
// at one time.
func rows(t *testing.T, db *sql.DB) map[string][]string {
	t.Helper()
	return dbtest.Rows(t, db, nil, "migration_step", "goose_db_version", "about_database")
}

// same reports tables that differ from those of an upgrade nobody disturbed.
func same(t *testing.T, what string, got, want map[string][]string) {
	t.Helper()
	if len(got) != len(want) {
		t.Errorf("%s: %d tables, want %d", what, len(got), len(want))
	}
	for table, text := range want {
		if !slices.Equal(got[table], text) {
			t.Errorf("%s: %s is\n%s\nwant\n%s", what, table, got[table], text)
		}
	}
}

// undisturbed are the tables of a database after an upgrade in one go.
func undisturbed(t *testing.T, from int64) map[string][]string {
	t.Helper()
	_, db := kept(t, from)
	_, err := store.Migrate(t.Context(), db)
	must(t, err)
	return rows(t, db)
}

// TestInterruptedAnywhere ends the upgrade of every schema whose data moves, and of an empty
// database, behind every single statement: written down as done or not yet. The next
// start goes on, and comes to the same.
func TestInterruptedAnywhere(t *testing.T) {
	for from := int64(0); from <= moved; from++ {
		t.Run(fmt.Sprintf("from schema %d", from), func(t *testing.T) {
			t.Parallel()
			want := undisturbed(t, from)
			_, db := kept(t, from)
			stopped := errors.New("stopped")
			seen := map[string]bool{}
			for {
				// Each time it goes one statement further than any time before.
				_, err := store.Interrupted(func(version int64, step int) error {
					at := fmt.Sprintf("%d.%d", version, step)
					if seen[at] {
						return nil
					}
					seen[at] = true
					return stopped
				}).Run(t.Context(), db)
				if err == nil {
					break
				}
				if !errors.Is(err, stopped) {
					t.Fatalf("after %d interruptions: %v", len(seen), err)
				}
			}
			least := 0
			for version := from + 1; store.Statements(version) > 0; version++ {
				least += store.Statements(version)
			}
			if len(seen) < least {
				t.Errorf("%d interruptions, and there are %d statements", len(seen), least)
			}
			same(t, "interrupted everywhere", rows(t, db), want)
		})
	}
}

// TestHalfDoneByAnEarlierRelease checks the state that earlier releases could not start
// from: a migration whose first statements were done and of which nothing was written
// down.
func TestHalfDoneByAnEarlierRelease(t *testing.T) {
	_, db := kept(t, 2)
	for _, statement := range []string{
		"ALTER TABLE vehicle ADD COLUMN seat VARCHAR(16) NOT NULL DEFAULT '', ADD COLUMN joined VARCHAR(16) NOT NULL DEFAULT ''",
		"ALTER TABLE battery ADD COLUMN posts VARCHAR(8) NOT NULL DEFAULT ''",
	} {
		_, err := db.ExecContext(t.Context(), statement)
		must(t, err)
	}
	if _, err := store.Migrate(t.Context(), db); err != nil {
		t.Fatal(err)
	}
	same(t, "half done", rows(t, db), undisturbed(t, 2))
}

// TestKilledUpgrades kills the program that upgrades at random moments, thirty times on
// every path; each database comes through whole.
func TestKilledUpgrades(t *testing.T) {
	const kills = 30
	for from := int64(0); from <= moved; from++ {
		t.Run(fmt.Sprintf("from schema %d", from), func(t *testing.T) {
			t.Parallel()
			want := undisturbed(t, from)
			for killed, tries := 0, 0; killed < kills && !t.Failed(); tries++ {
				if tries > 4*kills {
					t.Fatalf("killed only %d times in %d tries", killed, tries)
				}
				t.Run("", func(t *testing.T) {
					dsn, db := kept(t, from)
					for !tried(t, dsn, &killed) {
					}
					same(t, "killed", rows(t, db), want)
				})
			}
		})
	}
}

// tried runs the upgrade in a program of its own and kills it at a random moment; true
// where it came to its end before that.
func tried(t *testing.T, dsn string, killed *int) bool {
	t.Helper()
	cmd := exec.Command(os.Args[0])
	var errs strings.Builder
	cmd.Env, cmd.Stderr = append(os.Environ(), "GRAPNEL_TEST_UPGRADE="+dsn), &errs
	must(t, cmd.Start())
	ended := make(chan error, 1)
	go func() { ended <- cmd.Wait() }()
	select {
	case err := <-ended:
		if err != nil {
			t.Fatalf("after %d kills: %v: %s", *killed, err, &errs)
		}
		return true
	case <-time.After(time.Duration(10+rand.IntN(250)) * time.Millisecond):
	}
	if err := cmd.Process.Kill(); err != nil && !errors.Is(err, os.ErrProcessDone) {
		t.Fatal(err)
	}
	if err := <-ended; err != nil {
		*killed++
		return false
	}
	return true
}

// TestUpgradeDoesNotStopHalfWay checks that a signal in the middle of an upgrade does not
// interrupt it: what was begun is brought to its end.
func TestUpgradeDoesNotStopHalfWay(t *testing.T) {
	_, db := kept(t, moved)
	ctx, cancel := context.WithCancel(t.Context())
	version, err := store.Interrupted(func(int64, int) error { cancel(); return nil }).Run(ctx, db)
	if err != nil || version <= moved || ctx.Err() == nil {
		t.Errorf("version %d, %v", version, err)
	}
	same(t, "with a signal", rows(t, db), undisturbed(t, moved))
}
