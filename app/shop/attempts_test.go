package shop_test

import (
	"errors"
	"slices"
	"strings"
	"testing"

	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/core/battery"
	"grapnel/core/jump"
	"grapnel/core/procedure"
)

// jumped is a jump of the job's battery by one person.
func (b *bench) jumped() record.Attempt {
	return record.Attempt{
		ID: record.NewID(), JobID: b.job, BatteryID: b.battery().ID, Name: "jump", Setting: procedure.Sitting{Vehicle: "car", With: "vehicle"}, School: "body", People: 1,
	}
}

func (b *bench) did(a record.Attempt, step int, did string) error {
	return b.StepAttempt(b.t.Context(), b.owner, b.job, record.AttemptEvent{ID: record.NewID(), AttemptID: a.ID, Step: step, Did: did})
}

func (b *bench) attempt(a record.Attempt) shop.AttemptPage {
	b.t.Helper()
	page, err := b.Attempt(b.t.Context(), b.owner, b.job, a.ID)
	b.must(err)
	return page
}

// TestAttempts begins a jump, does its steps, takes one back, breaks it off, and begins again:
// the first stays as it was.
func TestAttempts(t *testing.T) {
	b := newBench(t)
	a := b.jumped()
	minutes := 7.0
	a.Minutes = &minutes
	b.must(b.Begin(t.Context(), b.owner, a))
	b.must(b.Begin(t.Context(), b.owner, a)) // said again after a lost answer
	for step := range 9 {
		b.must(b.did(a, step, "done"))
	}
	b.must(b.did(a, 8, "back"))
	page := b.attempt(a)
	if page.Progress.At != 8 || !page.Progress.Open || len(page.Events) != 10 || page.Events[0].By != "Ada Quill" || page.Title != "Jump it" {
		t.Errorf("%+v, %d events, %q", page.Progress, len(page.Events), page.Title)
	}
	for _, s := range page.Steps {
		if s.Op == "wait" && s.Minutes != minutes {
			t.Errorf("it feeds for %v minutes", s.Minutes)
		}
	}
	b.must(b.did(a, 8, "left"))
	b.must(b.did(a, 8, "done")) // a phone that did not know yet
	if page := b.attempt(a); page.Progress.Open || page.Progress.Ended != "left" || page.Progress.At != 8 {
		t.Errorf("broken off: %+v", page.Progress)
	}
	again := b.jumped()
	b.must(b.Begin(t.Context(), b.owner, again))
	list, err := b.Attempts(t.Context(), b.owner, b.job)
	if err != nil || len(list) != 2 || list[0].Progress.At+list[1].Progress.At != 8 {
		t.Errorf("%+v %v", list, err)
	}
	offered, err := b.Procedures(t.Context(), b.owner, b.job, b.battery().ID)
	if err != nil || len(offered) != 13 || offered[0].Name != "jump" || offered[0].Stopped {
		t.Errorf("%d offered, %v", len(offered), err)
	}
}

// TestManyHandsOnOneStep has eight hands tap Done on each of three steps at once: each was
// done once, nothing is lost, and one deed sent eight times is one event.
func TestManyHandsOnOneStep(t *testing.T) {
	b := newBench(t)
	a := b.jumped()
	b.must(b.Begin(t.Context(), b.owner, a))
	for step := range 3 {
		for _, err := range together(8, func(int) error { return b.did(a, step, "done") }) {
			b.must(err)
		}
	}
	one := record.AttemptEvent{ID: record.NewID(), AttemptID: a.ID, Step: 3, Did: "done"}
	for _, err := range together(8, func(int) error { return b.StepAttempt(t.Context(), b.owner, b.job, one) }) {
		b.must(err)
	}
	if page := b.attempt(a); page.Progress.At != 4 || len(page.Events) != 25 {
		t.Errorf("at %d with %d events", page.Progress.At, len(page.Events))
	}
}

// TestStoppedAttempt sees a crack half-way: nothing more is clamped or cranked, and what is
// on comes off.
func TestStoppedAttempt(t *testing.T) {
	b := newBench(t)
	a := b.jumped()
	b.must(b.Begin(t.Context(), b.owner, a))
	for step := range 9 {
		b.must(b.did(a, step, "done"))
	}
	b.keep("look crack")
	if err := b.did(a, 9, "done"); len(fieldsOf(err)) != 1 || fieldsOf(err)[0] != "step" {
		t.Errorf("the next clamp: %v", err)
	}
	if page := b.attempt(a); len(page.Stopped) == 0 || page.Progress.At != 9 {
		t.Errorf("%+v", page.Progress)
	}
	b.must(b.did(a, 8, "back"))
	b.must(b.did(a, 8, "left"))
	if err := b.Begin(t.Context(), b.owner, b.jumped()); len(fieldsOf(err)) != 1 || fieldsOf(err)[0] != "name" {
		t.Errorf("another try: %v", err)
	}
	offered, err := b.Procedures(t.Context(), b.owner, b.job, b.battery().ID)
	if err != nil {
		t.Fatal(err)
	}
	for _, o := range offered {
		if want := procedure.WorkOfOrder(o.Name) != ""; o.Stopped != want {
			t.Errorf("%s is stopped: %v", o.Name, o.Stopped)
		}
	}
}

// TestLithiumIsNotPutThroughIt offers a lithium battery nothing that is made for lead: no
// charge, no jump, no load; what only works around it stays.
func TestLithiumIsNotPutThroughIt(t *testing.T) {
	b := newBench(t)
	in := b.usual()
	in.JobID = record.NewID()
	in.Batteries[0].Label = battery.Label{Chemistry: battery.LiFePO4, NominalV: 12}
	_, err := b.BringIn(t.Context(), b.owner, in)
	b.must(err)
	b.job = in.JobID
	offered, err := b.Procedures(t.Context(), b.owner, b.job, b.battery().ID)
	b.must(err)
	for _, o := range offered {
		if want := procedure.WorkOfOrder(o.Name) != ""; o.Stopped != want || want != (o.Why != "") {
			t.Errorf("%s is stopped: %v, %q", o.Name, o.Stopped, o.Why)
		}
	}
	if err := b.Begin(t.Context(), b.owner, b.jumped()); len(fieldsOf(err)) != 1 || fieldsOf(err)[0] != "name" {
		t.Errorf("a jump: %v", err)
	}
}

// TestBadAttempts names what is wrong with an attempt, writes nothing, and finds none of
// another job.
func TestBadAttempts(t *testing.T) {
	b := newBench(t)
	for field, spoil := range map[string]func(*record.Attempt){
		"name":    func(a *record.Attempt) { a.Name = "fly" },
		"setting": func(a *record.Attempt) { a.Setting.Vehicle = "boat" },
		"minutes": func(a *record.Attempt) { m := 4000.0; a.Minutes = &m },
	} {
		a := b.jumped()
		spoil(&a)
		if err := b.Begin(t.Context(), b.owner, a); len(fieldsOf(err)) != 1 || fieldsOf(err)[0] != field {
			t.Errorf("%s: %v", field, err)
		}
	}
	a := b.jumped()
	b.must(b.Begin(t.Context(), b.owner, a))
	for field, e := range map[string]record.AttemptEvent{
		"did":  {ID: record.NewID(), AttemptID: a.ID, Did: "flown"},
		"step": {ID: record.NewID(), AttemptID: a.ID, Step: 99, Did: "done"},
	} {
		if err := b.StepAttempt(t.Context(), b.owner, b.job, e); len(fieldsOf(err)) != 1 || fieldsOf(err)[0] != field {
			t.Errorf("%s: %v", field, err)
		}
	}
	first := b.job
	b.bringTwo("left", "right")
	if _, err := b.Attempt(t.Context(), b.owner, b.job, a.ID); !errors.Is(err, shop.ErrNotFound) {
		t.Errorf("the attempt of another job: %v", err)
	}
	b.job = first
	if page := b.attempt(a); len(page.Events) != 0 {
		t.Errorf("%d events", len(page.Events))
	}
}

// TestJumpOfAJob works a jump out from what the job knows: the volts that were read make the
// charge.
func TestJumpOfAJob(t *testing.T) {
	b := newBench(t)
	plain := func(a jump.Ask) jump.Ask { a.With = jump.With{Kind: jump.Vehicle, Running: true}; return a }
	b.keep("11.7 v rested 3h 5c")
	flat, err := b.Jump(t.Context(), b.owner, b.job, b.battery().ID, plain)
	b.must(err)
	b.keep("12.65 v rested 3h 5c")
	full, err := b.Jump(t.Context(), b.owner, b.job, b.battery().ID, plain)
	b.must(err)
	if was, is := flat.Answer, full.Answer; !was.Allowed || !is.Allowed || was.Cranks.DeadAmps >= is.Cranks.DeadAmps || is.Procedure.Setting.Vehicle != "car" {
		t.Errorf("flat %+v, full %+v", was.Cranks, is.Cranks)
	}
	var hits []string
	for _, p := range full.Picture.Parts {
		if p.Hit != "" {
			hits = append(hits, p.Hit)
		}
	}
	if !slices.Equal(hits, []string{"body", "post"}) || len(full.Steps) < 20 {
		t.Errorf("on the picture may be tapped %v, %d steps", hits, len(full.Steps))
	}
	sum := 0.0
	for _, l := range full.Answer.Lost {
		sum += l.Volts
	}
	if len(full.Answer.Lost) != 4 || sum < 12 || sum > 15 {
		t.Errorf("the volts on the way: %+v", full.Answer.Lost)
	}
}

// TestRingsGivenBack notes the order of the rings when they come off: the step that refits
// them says it again, and the joint is seated by the vehicle maker's torque.
func TestRingsGivenBack(t *testing.T) {
	b := newBench(t)
	torque := 6.0
	b.must(b.KeepWants(t.Context(), b.owner, b.job, shop.Wants{TorqueNM: &torque}))
	a := record.Attempt{ID: record.NewID(), JobID: b.job, BatteryID: b.battery().ID, Name: "clean_out", Setting: procedure.Sitting{Vehicle: "car"}, School: "grease_over", People: 1}
	b.must(b.Begin(t.Context(), b.owner, a))
	noted := slices.IndexFunc(b.attempt(a).Steps, func(s procedure.Shown) bool { return s.Asks == procedure.AsksPhoto })
	for step := range noted {
		b.must(b.did(a, step, "done"))
	}
	b.must(b.StepAttempt(t.Context(), b.owner, b.job, record.AttemptEvent{ID: record.NewID(), AttemptID: a.ID, Step: noted, Did: "done", Note: "starter, then the winch"}))
	steps := b.attempt(a).Steps
	if !slices.ContainsFunc(steps, func(s procedure.Shown) bool { return s.Recalls == "starter, then the winch" }) {
		t.Error("the rings are not given back")
	}
	if !slices.ContainsFunc(steps, func(s procedure.Shown) bool { return strings.Contains(s.Text, "maker’s torque: 6.0\u00a0N·m") }) {
		t.Error("the maker's torque is not said")
	}
}

// TestRewritten goes on with no attempt whose order is written otherwise by now; it may be
// taken back and broken off.
func TestRewritten(t *testing.T) {
	b := newBench(t)
	a := b.jumped()
	b.must(b.Begin(t.Context(), b.owner, a))
	b.must(b.did(a, 0, "done"))
	if _, err := b.db.ExecContext(t.Context(), "UPDATE attempt SET order_hash = 'of-last-year'"); err != nil {
		t.Fatal(err)
	}
	if err := b.did(a, 1, "done"); !slices.Equal(fieldsOf(err), []string{"step"}) {
		t.Errorf("gone on with: %v", err)
	}
	if page := b.attempt(a); len(page.Stopped) != 1 || !strings.Contains(page.Stopped[0], "written anew") {
		t.Errorf("%v", page.Stopped)
	}
	b.must(b.did(a, 0, "back"))
	b.must(b.did(a, 0, "left"))
	if page := b.attempt(a); page.Progress.Open || len(page.Stopped) != 0 {
		t.Errorf("%+v", page)
	}
}
