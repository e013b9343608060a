package shop_test

import (
	"errors"
	"slices"
	"strings"
	"testing"
	"time"

	"grapnel/app/record"
	"grapnel/core/diagnosis"
	"grapnel/core/problem"
	"grapnel/core/school"
	"grapnel/core/trail"
)

func (b *bench) lift(readings ...record.ID) error {
	c := record.Clearing{ID: record.NewID(), Stop: school.FrozenOrDamaged, Reason: "thawed indoors over night", Readings: readings}
	return b.Clear(b.t.Context(), b.owner, b.job, c)
}

// TestStopsAgain checks that a stop rule that was lifted stops again by what nobody had
// seen then: an earlier reading corrected, a named one corrected, one not named.
func TestStopsAgain(t *testing.T) {
	b := newBench(t)
	none := b.keep("look none")
	b.keep("look frozen")
	b.must(b.lift())
	if b.action() == diagnosis.StopUnsafe {
		t.Fatal("lifted, it stops")
	}
	b.change(none, b.Correct, "look bulge")
	if b.action() != diagnosis.StopUnsafe {
		t.Error("an earlier reading corrected to a bulge does not stop")
	}

	b.job = record.NewID()
	_, err := b.BringIn(t.Context(), b.owner, b.usual())
	b.must(err)
	frozen, crack := b.keep("look frozen"), b.keep("look crack")
	b.must(b.lift(frozen))
	if b.action() != diagnosis.StopUnsafe {
		t.Error("lifted for one reading, the other does not stop")
	}
	b.must(b.lift(crack))
	if b.action() == diagnosis.StopUnsafe {
		t.Error("lifted for both, it stops")
	}
	b.change(frozen, b.Correct, "look bulge")
	if b.action() != diagnosis.StopUnsafe {
		t.Error("a reading it was lifted for, corrected, does not stop")
	}
	// What is not on the job cannot be named, nor a rule lifted that nothing raises.
	if got := fieldsOf(b.lift(record.NewID())); !slices.Contains(got, "readings") {
		t.Errorf("a stranger's reading: %v", got)
	}
	gas := record.Clearing{ID: record.NewID(), Stop: school.Gas, Reason: "aired the bay, all night"}
	if got := fieldsOf(b.Clear(t.Context(), b.owner, b.job, gas)); !slices.Contains(got, "stop") {
		t.Errorf("a rule that nothing raises: %v", got)
	}
}

// TestStopIsEnforced checks that what a stop rule forbids is refused, with the rule and
// what clears it, and nothing written; that what it does not forbid is taken, and what
// was measured before it was raised as well.
func TestStopIsEnforced(t *testing.T) {
	b := newBench(t)
	b.now = b.now.Add(time.Hour)
	b.keep("look bulge")
	before := b.battery()
	refused := func(what string, err error) {
		t.Helper()
		var list problem.List
		if !errors.As(err, &list) || list[0].Code != "problem.stopped" || !strings.Contains(list[0].Text, "lift the stop rule") {
			t.Errorf("%s: %v", what, err)
		}
	}
	refused("a load step", b.answer("knob_off", trail.Done, ""))
	for _, kind := range []string{trail.Load, trail.JumpWait} {
		refused("a clock: "+kind, b.StartClock(t.Context(), b.owner, b.job, record.Clock{ID: record.NewID(), Kind: kind}))
	}
	for _, line := range []string{"load 325a 15s 9.1v", "crank 9.8v 2s", "jump started", "480/540 cca sae", "running 14.2v", "12.4 v rested 2h; load 325a 15s 9.1v"} {
		_, err := b.Keep(t.Context(), b.owner, b.job, record.Keep{ID: record.NewID(), Line: line})
		refused(line, err)
	}
	// What raises the rule and what it forbids in one line is no way around it.
	sound := newBench(t)
	_, err := sound.Keep(t.Context(), sound.owner, sound.job, record.Keep{ID: record.NewID(), Line: "look bulge; load 325a 15s 9.1v"})
	refused("both in one line", err)
	if got := sound.battery(); len(got.Readings) != 0 {
		t.Errorf("half a line was kept: %+v", got.Readings)
	}
	if after := b.battery(); len(after.Readings) != len(before.Readings) {
		t.Errorf("something was written: %+v", after.Readings)
	}
	if preview, err := b.Preview(t.Context(), b.owner, b.job, b.battery().ID, record.Wanted{Line: "load 325a 15s 9.1v"}); err != nil || len(preview.Refusals) == 0 {
		t.Errorf("the echo says nothing of it: %+v, %v", preview.Refusals, err)
	}
	// Looking, resting and measuring at rest go on; what was done before goes in.
	b.keep("12.4 v rested 2h")
	b.must(b.answer("glasses", trail.Done, ""))
	_, err = b.Keep(t.Context(), b.owner, b.job, record.Keep{ID: record.NewID(), Line: "load 325a 15s 9.1v at 14:20"})
	b.must(err)
	b.must(b.lift())
	b.keep("load 325a 15s 10.1v")
	b.must(b.answer("knob_off", trail.Done, ""))
}

// TestClearedOnce checks that a clearing sent again adds nothing: no revision, no
// verdict, no event.
func TestClearedOnce(t *testing.T) {
	b := newBench(t)
	b.keep("look frozen")
	c := record.Clearing{ID: record.NewID(), Stop: school.FrozenOrDamaged, Reason: "thawed indoors over night"}
	b.must(b.Clear(t.Context(), b.owner, b.job, c))
	before := b.written()
	b.must(b.Clear(t.Context(), b.owner, b.job, c))
	if after := b.written(); after != before {
		t.Errorf("%+v, and again %+v", before, after)
	}
	a := record.StepAnswer{ID: record.NewID(), Code: "glasses", Value: trail.Done}
	b.must(b.Answer(t.Context(), b.owner, b.job, a))
	before = b.written()
	b.must(b.Answer(t.Context(), b.owner, b.job, a))
	if after := b.written(); after != before {
		t.Errorf("an answer: %+v, and again %+v", before, after)
	}
}

// written counts what stands of the job.
type written struct{ revision, verdicts, events int }

func (b *bench) written() written {
	b.t.Helper()
	count := func(query string) (n int) {
		if err := b.db.QueryRowContext(b.t.Context(), query, b.job).Scan(&n); err != nil {
			b.t.Fatal(err)
		}
		return n
	}
	return written{
		b.jobNow().Revision, count("SELECT COUNT(*) FROM verdict WHERE job_id = ?"), count("SELECT COUNT(*) FROM event WHERE job_id = ?"),
	}
}
