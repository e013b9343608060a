package backup_test

import (
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"grapnel/app/backup"
	"grapnel/app/store"
)

const database = "0123456789abcdef"

// named puts an empty file with the name of a backup into a folder.
func named(t *testing.T, dir, kind, database string, at time.Time) string {
	t.Helper()
	path := filepath.Join(dir, "grapnel-"+kind+"-"+database[:8]+"-s12-"+at.Format("2006-01-02T150405Z")+".zip")
	must(t, os.WriteFile(path, nil, 0o600))
	return path
}

func rotate(t *testing.T, dir string, at time.Time) []string {
	t.Helper()
	gone, err := backup.Rotate(dir, database, at)
	must(t, err)
	return gone
}

// TestRotation keeps a backup a day for two years: there are never more than what is meant,
// the latest of a week of days, of five weeks and of a year of months, and other files stay.
// No source: common practice.
func TestRotation(t *testing.T) {
	dir := t.TempDir()
	must(t, os.WriteFile(filepath.Join(dir, "grapnel-notes.zip"), nil, 0o600))
	day := now
	for range 730 {
		day = day.AddDate(0, 0, 1)
		named(t, dir, backup.Daily, database, day)
		later := day.Add(time.Hour)
		named(t, dir, backup.Daily, database, later)
		rotate(t, dir, later)
	}
	list, err := backup.Kept(dir)
	must(t, err)
	if len(list) > 7+5+12 || len(list) < 20 || !list[0].At.Equal(day.Add(time.Hour)) {
		t.Errorf("%d are kept, the latest of %s", len(list), list[0].At)
	}
	days := map[string]bool{}
	for _, one := range list {
		days[one.At.Format(time.DateOnly)] = true
	}
	for n := range 7 {
		if one := day.AddDate(0, 0, -n).Format(time.DateOnly); !days[one] {
			t.Errorf("none of %s", one)
		}
	}
	oldest := list[len(list)-1].At
	if months := day.Sub(oldest).Hours() / 24 / 30; months < 10.5 || months > 12.5 {
		t.Errorf("the oldest is of %s", oldest)
	}
	if _, err := os.Stat(filepath.Join(dir, "grapnel-notes.zip")); err != nil {
		t.Error(err)
	}
	if none, err := backup.Kept(filepath.Join(dir, "none")); err != nil || len(none) != 0 {
		t.Errorf("%v %v", none, err)
	}
}

// TestKindsRotateApart makes backups of each kind, of two databases, of releases before and of a
// clock that was ahead, all of one day: of those before an upgrade the last three are kept
// however old they get, of those that were asked for all, and what is not known to be spare stays.
// No source: it is how the program is to behave.
func TestKindsRotateApart(t *testing.T) {
	dir := t.TempDir()
	const other = "ffff456789abcdef"
	hour := func(n int) time.Time { return now.Add(time.Duration(n) * time.Hour) }
	var stay []string
	keep := func(path string) { stay = append(stay, path) }
	for n := range 5 {
		path := named(t, dir, backup.Upgrade, database, hour(n))
		if n >= 2 {
			keep(path)
		}
		keep(named(t, dir, backup.Asked, database, hour(n)))
		keep(named(t, dir, backup.Daily, other, hour(n)))
		keep(named(t, dir, backup.Upgrade, other, hour(n)))
		before := filepath.Join(dir, "grapnel-"+hour(n).Format("2006-01-02T150405Z")+".zip")
		must(t, os.WriteFile(before, nil, 0o600))
		keep(before)
		path = named(t, dir, backup.Daily, database, hour(n))
		if n == 4 {
			keep(path)
		}
	}
	keep(named(t, dir, backup.Daily, database, now.AddDate(1, 0, 0)))
	gone := rotate(t, dir, hour(5))
	if len(gone) != 2+4 {
		t.Errorf("%d went: %v", len(gone), gone)
	}
	// Three years on nothing of these is spare either.
	rotate(t, dir, now.AddDate(3, 0, 0))
	list, err := backup.Kept(dir)
	must(t, err)
	var there []string
	for _, one := range list {
		there = append(there, one.Path)
	}
	slices.Sort(stay)
	slices.Sort(there)
	if !slices.Equal(stay, there) {
		t.Errorf("there are\n%s\nwanted\n%s", strings.Join(there, "\n"), strings.Join(stay, "\n"))
	}
}

// TestNeverOver makes three backups of one kind in one second, beside one of another kind and one
// before an upgrade of the same day: each has a file of its own, and each can be read.
// No source: it is how the program is to behave.
func TestNeverOver(t *testing.T) {
	source, db := demoSource(t)
	seen := map[string]bool{}
	for _, kind := range []string{backup.Upgrade, backup.Asked, backup.Asked, backup.Asked, backup.Daily} {
		run := source.Tried(t.Context(), now, kind)
		if run.Trouble != "" || seen[run.Path] {
			t.Fatalf("%+v", run)
		}
		seen[run.Path] = true
		must(t, source.WriteDown(t.Context(), store.New(db), run, now))
	}
	for path := range seen {
		if _, err := backup.Read(path); err != nil {
			t.Error(err)
		}
	}
	if parts, err := filepath.Glob(filepath.Join(source.Dir, "*.part")); err != nil || len(parts) > 0 {
		t.Errorf("left behind: %v %v", parts, err)
	}
}

// TestMissingIsTold takes a listed backup away by hand: it is missing, and no backup to go back
// to. One that was taken away for later ones, or by the owner, is not missing.
// No source: it is how the program is to behave.
func TestMissingIsTold(t *testing.T) {
	source, db := demoSource(t)
	book := store.New(db)
	tell, later := clock(now)
	keeper := backup.NewKeeper(source, book, tell, discard)
	made := func(kind string) backup.Run {
		t.Helper()
		run := source.Tried(t.Context(), tell(), kind)
		must(t, source.WriteDown(t.Context(), book, run, tell()))
		later(time.Hour)
		return run
	}
	asked, first, second := made(backup.Asked), made(backup.Daily), made(backup.Daily)
	look := func() backup.Standing {
		t.Helper()
		so, err := keeper.Look(t.Context())
		must(t, err)
		return so
	}
	so := look()
	if len(so.Missing) != 0 || so.Late || so.LastGood.ID != second.ID || so.Runs[1].ID != first.ID || so.Runs[1].RemovedAt == nil {
		t.Errorf("%+v", so)
	}
	must(t, os.Remove(second.Path))
	so = look()
	if len(so.Missing) != 1 || so.Missing[0].ID != second.ID || so.LastGood.ID != asked.ID {
		t.Errorf("%+v", so)
	}
	must(t, keeper.Remove(t.Context(), so.Runs[2]))
	so = look()
	if len(so.Missing) != 1 || so.LastGood != nil || !so.Late {
		t.Errorf("%+v", so)
	}
	// Of another machine's disk nothing is known from here.
	elsewhere := so.Runs[0]
	elsewhere.Host = "another"
	if err := keeper.Remove(t.Context(), elsewhere); err == nil {
		t.Error("taken away elsewhere")
	}
}
