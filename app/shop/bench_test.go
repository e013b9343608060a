package shop_test

import (
	"errors"
	"slices"
	"strings"
	"testing"
	"time"

	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/problem"
	"grapnel/core/reading"
	"grapnel/core/school"
)

// TestEveryKindIsKept keeps a reading of every kind, and several in one line, all
// or none.
func TestEveryKindIsKept(t *testing.T) {
	b := newBench(t)
	for _, kind := range reading.Kinds() {
		b.keep(reading.Example(reading.Kind(kind)))
	}
	readings := b.battery().Readings
	if len(readings) != len(reading.Kinds()) {
		t.Fatalf("%d readings", len(readings))
	}
	for i, kind := range reading.Kinds() {
		if readings[i].Kind != kind || readings[i].Canonical != reading.Example(reading.Kind(kind)) {
			t.Errorf("%s came back as %+v", kind, readings[i])
		}
	}
	several := record.Keep{ID: record.NewID(), Line: "12.6 v 20c rested 2h; running 14.2 v ;ripple 0.05 v"}
	for range 2 {
		_, err := b.Keep(t.Context(), b.owner, b.job, several)
		b.must(err)
	}
	after := b.battery().Readings[len(readings):]
	if len(after) != 3 || after[1].Typed != "running 14.2 v" || !after[2].Counts {
		t.Errorf("%+v", after)
	}
	_, err := b.Keep(t.Context(), b.owner, b.job, record.Keep{ID: record.NewID(), Line: "12.5 v rested 2h; sg 1265 1265"})
	var list problem.List
	if !errors.As(err, &list) || len(b.battery().Readings) != len(readings)+3 {
		t.Errorf("half a line was kept: %v", err)
	}
	err = b.Correct(t.Context(), b.owner, b.job, after[0].ID, shop.Correction{ID: record.NewID(), Line: "12.5 v; ripple 0.1 v", Reason: "typed wrongly"})
	if !errors.As(err, &list) {
		t.Errorf("two readings took the place of one: %v", err)
	}
}

// TestVehicleReadingsHoldForAll checks that what is measured of the vehicle
// counts for both of its batteries, and what is measured of one for that alone.
func TestVehicleReadingsHoldForAll(t *testing.T) {
	b := newBench(t)
	in := b.usual()
	in.JobID = record.NewID()
	second := in.Batteries[0]
	in.Batteries = []record.Fitted{in.Batteries[0], second}
	in.Batteries[0].ID, in.Batteries[1].ID = record.NewID(), record.NewID()
	in.Batteries[0].Position, in.Batteries[1].Position = "left", "right"
	_, err := b.BringIn(t.Context(), b.owner, in)
	b.must(err)
	b.job = in.JobID
	b.keep("12.65 v 21c rested 2h; load 325a 15s 10.1v; running 12.8 v raised")
	page, err := b.JobPage(t.Context(), b.owner, b.job)
	b.must(err)
	left, right := page.Batteries[0], page.Batteries[1]
	if len(left.Readings) != 3 || len(right.Readings) != 1 || right.Readings[0].Kind != "charging" {
		t.Fatalf("left %d, right %+v", len(left.Readings), right.Readings)
	}
	if left.Assessment.Verdict.Action != diagnosis.LookElsewhere || right.Assessment.Verdict.Action != diagnosis.MoreTests {
		t.Errorf("left %s, right %s", left.Assessment.Verdict.Action, right.Assessment.Verdict.Action)
	}
	if !slices.ContainsFunc(right.Assessment.Causes, func(c diagnosis.Cause) bool { return c.Cause == "undercharging" && c.Probability > 0.8 }) {
		t.Errorf("the right one does not know of the charging volts: %+v", right.Assessment.Causes)
	}
	text, err := b.Export(t.Context(), b.owner, b.job)
	if err != nil || strings.Count(text, "running 12.8 v") != 1 {
		t.Errorf("%s %v", text, err)
	}
}

// TestOwnLimit checks that only the owner sets a limit, within its range and
// with a note, that verdicts follow it, and that it can be dropped.
func TestOwnLimit(t *testing.T) {
	b := newBench(t)
	b.keep("12.65 v 21c rested 2h; load 325a 15s 10.1v; drop negative_clamp 0.3v 150a")
	if b.action() != diagnosis.CleanAndRetest {
		t.Fatalf("got %s", b.action())
	}
	for _, c := range []struct {
		id    school.LimitID
		value float64
		note  string
		field string
	}{{school.JointMost, 9, "x", "value"}, {school.JointMost, 0.4, " ", "note"}, {school.JointMost, 0.4, strings.Repeat("x", 300), "note"}} {
		var list problem.List
		if err := b.SetLimit(t.Context(), b.owner, c.id, c.value, c.note); !errors.As(err, &list) || list[0].Field != c.field {
			t.Errorf("%v %q: %v", c.value, c.note, err)
		}
	}
	if err := b.SetLimit(t.Context(), b.owner, "no_such", 1, "x"); !errors.Is(err, shop.ErrNotFound) {
		t.Errorf("a limit nobody knows: %v", err)
	}
	for range 2 {
		b.must(b.SetLimit(t.Context(), b.owner, school.JointMost, 0.4, "maker's manual"))
	}
	if b.action() == diagnosis.CleanAndRetest || b.battery().Assessment.Findings[2].Limit.Note != "maker's manual" {
		t.Errorf("got %s", b.action())
	}
	figures, err := b.Figures(t.Context(), b.owner)
	b.must(err)
	at := slices.IndexFunc(figures, func(f shop.KnownFigure) bool { return f.ID == "limits.joint_most" })
	if f := figures[at]; f.Own == nil || f.Own.SetBy != "Ada Quill" || f.Limit == nil || f.Value != "0.1" {
		t.Errorf("%+v", f)
	}
	b.must(b.DropLimit(t.Context(), b.owner, school.JointMost))
	if b.action() != diagnosis.CleanAndRetest {
		t.Errorf("got %s", b.action())
	}
}

// TestKeptSum checks that a sum is kept with a job once, as it came out.
func TestKeptSum(t *testing.T) {
	b := newBench(t)
	in := record.KeptSum{ID: record.NewID(), Sum: "joint", Inputs: map[string]string{"volts": "0.5", "amps": "150"}}
	for range 2 {
		b.must(b.KeepSum(t.Context(), b.owner, b.job, in))
	}
	page, err := b.JobPage(t.Context(), b.owner, b.job)
	b.must(err)
	if len(page.Sums) != 1 || page.Sums[0].Title != "Joint" || page.Sums[0].By != "Ada Quill" || page.Sums[0].Result.Figures[1].Value != 75 {
		t.Errorf("%+v", page.Sums)
	}
	in.ID, in.Inputs = record.NewID(), map[string]string{"amps": "none"}
	var list problem.List
	if err := b.KeepSum(t.Context(), b.owner, b.job, in); !errors.As(err, &list) || list[0].Field != "amps" {
		t.Errorf("%v", err)
	}
	if _, err := b.WorkSum(t.Context(), b.owner, "perpetual_motion", nil); !errors.Is(err, shop.ErrNotFound) {
		t.Errorf("%v", err)
	}
}

// TestImportIsWhole checks that a text with one bad line leaves nothing behind,
// that a known vehicle and battery are recognised, and that a withdrawn reading
// goes out as a remark.
func TestImportIsWhole(t *testing.T) {
	b := newBench(t)
	text := "as of: 2026-11-23T09:00:00Z\nplate: AB 12\nsymptom: slow_crank\nbattery: flooded, 12 V, 650 A SAE\n\n12.24 v rested 2h\nload 325a 15s 9.3v\n"
	if _, err := b.Import(t.Context(), b.owner, strings.Replace(text, "9.3v", "9.3q", 1), nil); err == nil {
		t.Error("a bad line was taken")
	}
	done, err := b.Import(t.Context(), b.owner, text, nil)
	b.must(err)
	if done.Readings != 2 || done.Again {
		t.Errorf("%+v", done)
	}
	latest, err := b.LatestJob(t.Context(), b.owner, "ab 12")
	b.must(err)
	first, err := b.JobPage(t.Context(), b.owner, b.job)
	b.must(err)
	second, err := b.JobPage(t.Context(), b.owner, done.JobID)
	b.must(err)
	if first.Vehicle.ID != second.Vehicle.ID || second.Customer == nil || latest != b.job {
		t.Errorf("the vehicle was not recognised, or the latest is wrong: %v %v", second.Vehicle, latest)
	}
	b.job = done.JobID
	b.change(b.battery().Readings[1].Root, b.Mistaken, "")
	out, err := b.Export(t.Context(), b.owner, done.JobID)
	if err != nil || !strings.Contains(out, "\n# load 325a 15s 9.3v (read wrongly)\n") || !strings.Contains(out, "\n12.24 v rested 2h\n") {
		t.Errorf("%s %v", out, err)
	}
}

// TestLatestJob checks which job is exported when none is named: the one opened
// last, open or closed; by plate the last of that vehicle; none where there is
// none.
func TestLatestJob(t *testing.T) {
	b := newBench(t)
	first := b.job
	b.now = b.now.Add(time.Hour)
	later := b.usual()
	later.JobID, later.Vehicle = record.NewID(), &record.Vehicle{Plate: "CD 34", Vehicle: evidence.Vehicle{Kind: "motorcycle"}}
	_, err := b.BringIn(t.Context(), b.owner, later)
	b.must(err)
	for plate, want := range map[string]record.ID{"": later.JobID, "ab 12": first, "CD34": later.JobID, "cd 34": later.JobID} {
		if got, err := b.LatestJob(t.Context(), b.owner, plate); err != nil || got != want {
			t.Errorf("%q: got %v (%v), want %v", plate, got, err, want)
		}
	}
	b.handBack(later.JobID)
	if got, err := b.LatestJob(t.Context(), b.owner, ""); err != nil || got != later.JobID {
		t.Errorf("once closed: %v (%v)", got, err)
	}
	if _, err := b.LatestJob(t.Context(), b.owner, "ZZ 99"); !errors.Is(err, shop.ErrNotFound) {
		t.Errorf("a plate nobody knows: %v", err)
	}
	if _, err := b.LatestJob(t.Context(), people.Person{ShopID: record.NewID()}, ""); !errors.Is(err, shop.ErrNotFound) {
		t.Errorf("another shop: %v", err)
	}
}
