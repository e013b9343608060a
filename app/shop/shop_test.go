package shop_test

import (
	"context"
	"database/sql"
	"errors"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"grapnel/app/localdb/dbtest"
	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store"
	"grapnel/core/battery"
	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/problem"
	"grapnel/core/trail"
)

func TestMain(m *testing.M) { dbtest.Main(m) }

// bench is a shop with an owner and one job on a 650 A battery.
type bench struct {
	*shop.Service
	t     *testing.T
	db    *sql.DB
	owner people.Person
	job   record.ID
	now   time.Time
}

func newBench(t *testing.T) *bench {
	b := &bench{t: t, now: time.Date(2026, 11, 24, 14, 0, 0, 0, time.UTC)}
	b.db = dbtest.Open(t)
	b.Service = shop.NewService(store.New(b.db), func() time.Time { return b.now })
	owner, err := b.SetUp(t.Context(), shop.SetUp{ShopName: "Lockside", TimeZone: "Europe/London", Name: "Ada Quill", SignIn: "Ada", Password: "ten letters at least"})
	b.must(err)
	b.owner, b.job = owner, record.NewID()
	_, err = b.BringIn(t.Context(), owner, b.usual())
	b.must(err)
	return b
}

func (b *bench) must(err error) {
	b.t.Helper()
	if err != nil {
		b.t.Fatal(err)
	}
}

func (b *bench) usual() shop.BringIn {
	return shop.BringIn{
		JobID: b.job, Symptoms: []string{"slow_crank"}, Place: "Bay 1",
		Customer: &record.Customer{Name: "Ines"}, Vehicle: &record.Vehicle{Plate: "ab 12", Vehicle: evidence.Vehicle{Kind: "car"}},
		Batteries: []record.Fitted{{Battery: record.Battery{Label: battery.Label{
			Chemistry: battery.Flooded, NominalV: 12, Rating: &battery.Rating{Value: 650, Standard: battery.SAE},
		}}}},
	}
}

// bringTwo opens a job on two batteries of one label, and goes on with it.
func (b *bench) bringTwo(positions ...string) []record.BatteryOnJob {
	b.t.Helper()
	in := b.usual()
	in.JobID = record.NewID()
	in.Batteries = append(in.Batteries, in.Batteries[0])
	for i, position := range positions {
		in.Batteries[i].Position = position
	}
	_, err := b.BringIn(b.t.Context(), b.owner, in)
	b.must(err)
	b.job = in.JobID
	page, err := b.JobPage(b.t.Context(), b.owner, b.job)
	b.must(err)
	return page.Batteries
}

func (b *bench) keep(line string) record.ID {
	b.t.Helper()
	id := record.NewID()
	_, err := b.Keep(b.t.Context(), b.owner, b.job, record.Keep{ID: id, Line: line})
	b.must(err)
	return id
}

func (b *bench) battery() record.BatteryOnJob {
	b.t.Helper()
	page, err := b.JobPage(b.t.Context(), b.owner, b.job)
	b.must(err)
	return page.Batteries[0]
}

// handBack answers what is open of the closing list and closes the job.
func (b *bench) handBack(job record.ID) {
	b.t.Helper()
	page, err := b.JobPage(b.t.Context(), b.owner, job)
	b.must(err)
	for _, step := range openPoints(page) {
		answer := record.StepAnswer{ID: record.NewID(), Code: step.Code, Value: trail.NotDone, Note: "not today"}
		b.must(b.Answer(b.t.Context(), b.owner, job, answer))
	}
	b.must(b.Close(b.t.Context(), b.owner, job))
}

// openPoints are the points of the closing list that nobody has answered.
func openPoints(page record.JobPage) []trail.Step {
	var open []trail.Step
	for _, stage := range page.Batteries[0].Work.Stages {
		for _, step := range stage.Steps {
			if step.Must && step.State == "open" {
				open = append(open, step)
			}
		}
	}
	return open
}

func (b *bench) action() diagnosis.Action { return b.battery().Assessment.Verdict.Action }

// change does something to the reading that holds now in a chain.
func (b *bench) change(root record.ID, do func(context.Context, people.Person, record.ID, record.ID, shop.Correction) error, line string) {
	b.t.Helper()
	for _, r := range b.battery().Readings {
		if r.Root == root {
			b.must(do(b.t.Context(), b.owner, b.job, r.ID, shop.Correction{ID: record.NewID(), Line: line, Reason: "read wrongly"}))
			return
		}
	}
	b.t.Fatal("no such reading")
}

// TestReadingsAreNeverLost walks a reading through correction, withdrawal and
// undo: every line stays and the verdict follows what holds.
func TestReadingsAreNeverLost(t *testing.T) {
	b := newBench(t)
	b.keep("12.65 v 21c rested 2h")
	load := b.keep("load 325a 15s 8.9v")
	expect := func(want diagnosis.Action, typed, state string, before int) {
		t.Helper()
		r := b.battery().Readings[1]
		if got := b.action(); got != want || r.Typed != typed || r.State != state || len(r.Before) != before {
			t.Fatalf("got %s with %q %s after %d, want %s with %q %s after %d", got, r.Typed, r.State, len(r.Before), want, typed, state, before)
		}
	}
	expect(diagnosis.Replace, "load 325a 15s 8.9v", record.ActKept, 0)
	b.change(load, b.Correct, "load 325a 15s 9.9v")
	expect(diagnosis.LookElsewhere, "load 325a 15s 9.9v", record.ActCorrected, 1)
	b.change(load, b.Undo, "")
	expect(diagnosis.Replace, "load 325a 15s 8.9v", record.ActRestored, 2)
	b.change(load, b.Mistaken, "")
	expect(diagnosis.MoreTests, "load 325a 15s 8.9v", record.ActMistaken, 3)
	b.change(load, b.Undo, "")
	expect(diagnosis.Replace, "load 325a 15s 8.9v", record.ActRestored, 4)
}

// TestUndoOfKeeping checks that undoing a reading just kept withdraws it.
func TestUndoOfKeeping(t *testing.T) {
	b := newBench(t)
	root := b.keep("12.65 v 21c rested 2h")
	b.change(root, b.Undo, "")
	if r := b.battery().Readings[0]; r.State != record.ActMistaken || r.Counts {
		t.Errorf("got %+v", r)
	}
}

// TestKeptOnce checks that the same ID is stored once, however often and from
// however many hands at once it is sent.
func TestKeptOnce(t *testing.T) {
	b := newBench(t)
	id := record.NewID()
	var wait sync.WaitGroup
	failures := make(chan error, 8)
	for range 8 {
		wait.Add(1)
		go func() {
			defer wait.Done()
			_, err := b.Keep(t.Context(), b.owner, b.job, record.Keep{ID: id, Line: "12.4 v rested 2h"})
			failures <- err
		}()
	}
	wait.Wait()
	close(failures)
	for err := range failures {
		if err != nil {
			t.Error(err)
		}
	}
	if n := len(b.battery().Readings); n != 1 {
		t.Errorf("%d readings stored", n)
	}
	again, err := b.Keep(t.Context(), b.owner, b.job, record.Keep{ID: id, Line: "12.4 v rested 2h"})
	if err != nil || again.Reopened {
		t.Errorf("got %+v, %v", again, err)
	}
	if _, err := b.BringIn(t.Context(), b.owner, b.usual()); err != nil {
		t.Errorf("the same job twice: %v", err)
	}
}

// TestTwoHands checks that two corrections of the same reading do not both win.
func TestTwoHands(t *testing.T) {
	b := newBench(t)
	id := b.keep("12.4 v rested 2h")
	correct := func() error {
		return b.Correct(t.Context(), b.owner, b.job, id, shop.Correction{ID: record.NewID(), Line: "12.5 v rested 2h", Reason: "typed wrongly"})
	}
	b.must(correct())
	if err := correct(); !errors.Is(err, shop.ErrSuperseded) {
		t.Errorf("got %v, want ErrSuperseded", err)
	}
}

// TestClosedJob checks that a reading on a closed job is kept, reopens it and
// says so.
func TestClosedJob(t *testing.T) {
	b := newBench(t)
	b.handBack(b.job)
	kept, err := b.Keep(t.Context(), b.owner, b.job, record.Keep{ID: record.NewID(), Line: "12.4 v rested 2h"})
	if err != nil || !kept.Reopened {
		t.Fatalf("got %+v, %v", kept, err)
	}
	page, err := b.JobPage(t.Context(), b.owner, b.job)
	b.must(err)
	if page.Job.State != record.JobOpen || page.Job.ClosedAt != nil || len(page.Batteries[0].Readings) != 1 {
		t.Errorf("got %+v", page.Job)
	}
	b.handBack(b.job)
	b.must(b.Reopen(t.Context(), b.owner, b.job))
}

// TestRefusedWritesNothing checks that bad input names its field and leaves no
// trace.
func TestRefusedWritesNothing(t *testing.T) {
	b := newBench(t)
	for line, field := range map[string]string{
		"nonsense": "line", "12.4 v 400c": "battery_c", "24.4 v": "volts", strings.Repeat("x", 600): "line", "sg 1265": "cells",
	} {
		_, err := b.Keep(t.Context(), b.owner, b.job, record.Keep{ID: record.NewID(), Line: line})
		var list problem.List
		if !errors.As(err, &list) || list[0].Field != field {
			t.Errorf("%.20s: got %v, want a problem of %s", line, err, field)
		}
	}
	if err := b.Correct(t.Context(), b.owner, b.job, record.NewID(), shop.Correction{ID: record.NewID(), Line: "12.4 v"}); err == nil {
		t.Error("a correction without a reason was taken")
	}
	in := b.usual()
	in.JobID = record.NewID()
	in.Batteries[0].Label.NominalV = 13
	in.Batteries[0].Label.Rating = &battery.Rating{Value: -4, Standard: "BCI"}
	in.Symptoms, in.Place = []string{"sad"}, "the moon"
	_, err := b.BringIn(t.Context(), b.owner, in)
	var list problem.List
	if !errors.As(err, &list) || len(list) != 5 {
		t.Errorf("got %v", err)
	}
	if found, err := b.FindVehicles(t.Context(), b.owner, "AB12"); err != nil || len(found) != 1 {
		t.Errorf("%d vehicles, %v", len(found), err)
	}
	if n := len(b.battery().Readings); n != 0 {
		t.Errorf("%d readings were written", n)
	}
}

// TestSeenAgain checks that a battery's life spans its visits.
func TestSeenAgain(t *testing.T) {
	b := newBench(t)
	b.keep("12.65 v 21c rested 2h")
	b.keep("load 325a 15s 10.2v")
	b.handBack(b.job)
	found, err := b.FindVehicles(t.Context(), b.owner, "ines")
	b.must(err)
	b.now = b.now.AddDate(1, 0, 0)
	again := b.usual()
	again.JobID, again.Customer, again.Vehicle, again.Batteries = record.NewID(), nil, &found[0].Vehicle, found[0].Batteries
	_, err = b.BringIn(t.Context(), b.owner, again)
	b.must(err)
	life, err := b.BatteryPage(t.Context(), b.owner, found[0].Batteries[0].ID)
	b.must(err)
	if len(life.Visits) != 2 || len(life.Visits[1].Readings) != 2 || life.Visits[1].Action != diagnosis.LookElsewhere || len(life.Installations) != 1 {
		t.Errorf("got %+v", life)
	}
	page, err := b.JobPage(t.Context(), b.owner, again.JobID)
	b.must(err)
	if page.Batteries[0].Visits != 1 || page.Customer == nil || page.Customer.Name != "Ines" {
		t.Errorf("got %+v", page)
	}
}

// TestTakenAt checks when a reading counts as taken: as its line says, else as
// the device says, never in the future.
func TestTakenAt(t *testing.T) {
	b := newBench(t)
	for line, want := range map[string]time.Time{
		"12.4 v at 13:10":                b.now.Add(-50 * time.Minute),
		"12.4 v at 23:30":                b.now.Add(-14*time.Hour - 30*time.Minute),
		"12.4 v at 2026-11-20T08:00:00Z": time.Date(2026, 11, 20, 8, 0, 0, 0, time.UTC),
	} {
		id := b.keep(line)
		for _, r := range b.battery().Readings {
			if r.ID == id && !r.TakenAt.Equal(want) {
				t.Errorf("%s: taken %v, want %v", line, r.TakenAt, want)
			}
		}
	}
	future := record.NewID()
	_, err := b.Keep(t.Context(), b.owner, b.job, record.Keep{ID: future, Line: "12.4 v", TakenAt: b.now.Add(5 * time.Hour)})
	b.must(err)
	for _, r := range b.battery().Readings {
		if r.ID == future && !r.TakenAt.Equal(b.now) {
			t.Errorf("taken in the future: %v", r.TakenAt)
		}
	}
}

// TestRelabel checks that a rating found later makes the load count.
func TestRelabel(t *testing.T) {
	b := newBench(t)
	one := b.battery().Battery
	one.Label.Rating = nil
	b.must(b.Relabel(t.Context(), b.owner, b.job, one))
	b.keep("12.65 v 21c rested 2h")
	b.keep("load 325a 15s 8.9v")
	if got := b.action(); got != diagnosis.MoreTests {
		t.Errorf("without a rating: %s", got)
	}
	one.Label.Rating = &battery.Rating{Value: 650, Standard: battery.SAE}
	b.must(b.Relabel(t.Context(), b.owner, b.job, one))
	if got := b.action(); got != diagnosis.Replace {
		t.Errorf("with the rating: %s", got)
	}
}

// TestToday checks what each job is said to wait on.
func TestToday(t *testing.T) {
	b := newBench(t)
	b.keep("12.24 v 18c rested 2h")
	today, err := b.Today(t.Context(), b.owner, time.Time{}, record.ID{})
	b.must(err)
	if len(today.Open) != 1 || today.Open[0].Waits != "charge" || today.Open[0].Plate != "AB 12" || today.Open[0].Next == "" {
		t.Errorf("got %+v", today.Open)
	}
	b.handBack(b.job)
	today, err = b.Today(t.Context(), b.owner, time.Time{}, record.ID{})
	b.must(err)
	if len(today.Open) != 0 || len(today.Closed) != 1 {
		t.Errorf("got %d open, %d closed", len(today.Open), len(today.Closed))
	}
}

// TestWhatIsSeenToFirst checks the order of the day: danger, then what is late, then what
// a hand can do, then what charges; the rows themselves stay as they are paged.
func TestWhatIsSeenToFirst(t *testing.T) {
	b := newBench(t)
	b.keep("12.24 v 18c rested 2h")
	names := map[record.ID]string{b.job: "charging"}
	bring := func(name string, promised *time.Time, line string) {
		in := shop.BringIn{JobID: record.NewID(), PromisedAt: promised, Batteries: b.usual().Batteries}
		_, err := b.BringIn(t.Context(), b.owner, in)
		b.must(err)
		names[in.JobID] = name
		if line != "" {
			_, err := b.Keep(t.Context(), b.owner, in.JobID, record.Keep{ID: record.NewID(), Line: line})
			b.must(err)
		}
	}
	soon, later := b.now.Add(time.Hour), b.now.Add(2*time.Hour)
	bring("nothing known", nil, "")
	bring("promised later", &later, "")
	bring("promised and late", &soon, "12.24 v 18c rested 2h")
	bring("frozen", nil, "look frozen")
	b.now = b.now.Add(90 * time.Minute)
	today, err := b.Today(t.Context(), b.owner, time.Time{}, record.ID{})
	b.must(err)
	got := make([]string, len(names))
	for i, row := range today.Open {
		got[row.Rank] = names[row.Job.ID]
		if row.Late != (names[row.Job.ID] == "promised and late") || row.Brief == "" {
			t.Errorf("%s: late %v, in short %q", names[row.Job.ID], row.Late, row.Brief)
		}
		if i > 0 && row.Job.OpenedAt.After(today.Open[i-1].Job.OpenedAt) {
			t.Error("the rows are not in the order they are paged in")
		}
	}
	if want := []string{"frozen", "promised and late", "promised later", "nothing known", "charging"}; !slices.Equal(got, want) {
		t.Errorf("seen to in the order %q, want %q", got, want)
	}
}

// TestPeople checks roles, names already taken, and that passwords are neither
// guessed nor told apart from unknown names.
func TestPeople(t *testing.T) {
	b := newBench(t)
	jo := people.Person{ID: record.NewID(), Name: "Jo Marsh", SignIn: "jo", Role: people.Technician}
	added, err := b.AddPerson(t.Context(), b.owner, jo, "another long secret")
	b.must(err)
	if added.Initials != "JM" {
		t.Errorf("initials %q", added.Initials)
	}
	twin := people.Person{ID: record.NewID(), Name: "Jo Two", SignIn: "JO", Role: people.Counter}
	var list problem.List
	if _, err := b.AddPerson(t.Context(), b.owner, twin, "another long secret"); !errors.As(err, &list) || list[0].Field != "sign_in" {
		t.Errorf("a name taken twice: %v", err)
	}
	if _, err := b.AddPerson(t.Context(), b.owner, people.Person{ID: record.NewID(), Role: "king"}, "short"); !errors.As(err, &list) || len(list) != 4 {
		t.Errorf("got %v", err)
	}
	for _, c := range []struct {
		name, secret string
		ok           bool
	}{{"jo", "another long secret", true}, {"JO ", "another long secret", true}, {"jo", "wrong", false}, {"nobody", "wrong", false}, {"jo", "", false}} {
		if _, err := b.Enter(t.Context(), people.Attempt{SignIn: c.name, Secret: c.secret}); (err == nil) != c.ok {
			t.Errorf("%q %q: %v", c.name, c.secret, err)
		}
	}
	if _, err := b.SetUp(t.Context(), shop.SetUp{ShopName: "B", TimeZone: "UTC", Name: "B", SignIn: "bb", Password: "ten letters at least"}); !errors.Is(err, shop.ErrTaken) {
		t.Errorf("set up twice: %v", err)
	}
}

// TestBank checks that each battery of a bank is judged on its own readings.
func TestBank(t *testing.T) {
	b := newBench(t)
	right := b.bringTwo("left", "right")[1]
	_, err := b.Keep(t.Context(), b.owner, b.job, record.Keep{ID: record.NewID(), BatteryID: right.ID, Line: "look crack"})
	b.must(err)
	page, err := b.JobPage(t.Context(), b.owner, b.job)
	b.must(err)
	if l, r := page.Batteries[0].Assessment.Verdict.Action, page.Batteries[1].Assessment.Verdict.Action; l != diagnosis.MoreTests || r != diagnosis.StopUnsafe {
		t.Errorf("left %s, right %s", l, r)
	}
}
