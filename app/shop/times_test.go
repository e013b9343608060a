package shop_test

import (
	"slices"
	"testing"
	"time"

	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store"
	"grapnel/core/trail"
)

// taken is when a reading was taken, by the row its chain began with.
func (b *bench) taken(root record.ID) time.Time {
	b.t.Helper()
	for _, r := range b.battery().Readings {
		if r.Root == root {
			return r.TakenAt
		}
	}
	b.t.Fatal("no such reading")
	return time.Time{}
}

// TestWhenItWasTaken checks the times that a line or a device says.
func TestWhenItWasTaken(t *testing.T) {
	b := newBench(t)
	b.now = time.Date(2026, 11, 24, 14, 0, 30, 0, time.UTC)
	at := func(hour, minute int) time.Time { return time.Date(2026, 11, 24, hour, minute, 0, 0, time.UTC) }
	if got := b.taken(b.keep("12.4 v rested 2h at 14:01")); !got.Equal(at(14, 1)) {
		t.Errorf("at 14:01, typed at 14:00:30, was taken as %s", got)
	}
	if got := b.taken(b.keep("12.4 v rested 2h at 15:30")); !got.Equal(at(15, 30).AddDate(0, 0, -1)) {
		t.Errorf("at 15:30, typed at 14:00:30, was taken as %s", got)
	}
	for _, far := range []time.Time{b.now.AddDate(5, 0, 0), time.Date(9999, 12, 31, 0, 0, 0, 0, time.UTC), time.Date(0, 1, 1, 0, 0, 0, 0, time.UTC)} {
		_, err := b.Keep(t.Context(), b.owner, b.job, record.Keep{ID: record.NewID(), Line: "12.4 v rested 2h", TakenAt: far})
		if got := fieldsOf(err); far.IsZero() == slices.Contains(got, "taken_at") {
			t.Errorf("taken at %s: %v", far, got)
		}
	}
	_, err := b.Keep(t.Context(), b.owner, b.job, record.Keep{ID: record.NewID(), Line: "12.4 v rested 2h at 2031-01-01T10:00:00Z"})
	if got := fieldsOf(err); !slices.Contains(got, "at") {
		t.Errorf("at a time in 2031: %v", got)
	}
	// A correction of the time moves the reading; one of the volts leaves its time.
	root := b.keep("12.5 v rested 2h at 13:10")
	b.change(root, b.Correct, "12.5 v rested 2h at 12:10")
	if got := b.taken(root); !got.Equal(at(12, 10)) {
		t.Errorf("corrected to 12:10, it stands at %s", got)
	}
	b.now = b.now.Add(26 * time.Hour)
	b.change(root, b.Correct, "12.55 v rested 2h")
	if got := b.taken(root); !got.Equal(at(12, 10)) {
		t.Errorf("corrected in its volts the day after, it stands at %s", got)
	}
	b.change(root, b.Correct, "12.55 v rested 2h at 11:05")
	if got := b.taken(root); !got.Equal(at(11, 5)) {
		t.Errorf("corrected to 11:05 the day after, it stands at %s", got)
	}
}

// TestChargeFromWhenItBegan checks that the clock of a charge runs from when the charge
// was read, not from when it was typed.
func TestChargeFromWhenItBegan(t *testing.T) {
	b := newBench(t)
	b.keep("charge 14.2v 6a at 13:45")
	list := b.clocks()
	begun := time.Date(2026, 11, 24, 13, 45, 0, 0, time.UTC)
	if len(list) != 1 || list[0].Kind != trail.ChargeCheck || !list[0].StartedAt.Equal(begun) {
		t.Errorf("%+v", list)
	}
}

// TestDaysAreTheShops checks that what is due, and the day that is judged, are by the
// shop's own day.
func TestDaysAreTheShops(t *testing.T) {
	b := newBench(t)
	_, err := b.db.ExecContext(t.Context(), "UPDATE shop SET time_zone = 'Pacific/Auckland'")
	b.must(err)
	// A server that is started finds it so.
	b.Service = shop.NewService(store.New(b.db), func() time.Time { return b.now })
	// It is the 25th there.
	for due, overdue := range map[string]bool{"2026-11-24": true, "2026-11-25": false} {
		id := record.NewID()
		b.must(b.KeepInstrument(t.Context(), b.owner, record.Instrument{ID: id, Name: "clamp-" + due[8:], Kind: "clamp", Protocol: "scpi", Address: "127.0.0.1:5025", DueOn: due}))
		list, err := b.Instruments(t.Context(), b.owner)
		b.must(err)
		i := slices.IndexFunc(list, func(one record.Instrument) bool { return one.ID == id })
		if i < 0 || list[i].Overdue != overdue {
			t.Errorf("due on %s: %+v", due, list)
		}
	}
	// The month of a date code is by the shop's day as well: the last evening of a year
	// in UTC is the new year there.
	b.now = time.Date(2026, 12, 31, 20, 0, 0, 0, time.UTC)
	got, err := b.WorkSum(t.Context(), b.owner, "date_code", map[string]string{"date_code": "A7"})
	b.must(err)
	if got.Figures[0].Code != "made_2027-01" {
		t.Errorf("A7 in the first hours of 2027: %+v", got.Figures)
	}
}

// TestFarTimesAreRefused checks that a job is brought in and promised within reach.
func TestFarTimesAreRefused(t *testing.T) {
	b := newBench(t)
	for _, far := range []time.Time{time.Date(9999, 12, 31, 0, 0, 0, 0, time.UTC), time.Date(1, 1, 1, 1, 0, 0, 0, time.UTC)} {
		in := b.usual()
		in.JobID, in.PromisedAt = record.NewID(), &far
		_, err := b.BringIn(t.Context(), b.owner, in)
		if got := fieldsOf(err); !slices.Contains(got, "promised_at") {
			t.Errorf("promised for %s: %v", far, got)
		}
	}
}

// TestHandedBackLately checks that what was handed back today is listed however long ago it
// came in and however much came in since, and over midnight for the length of a shift.
func TestHandedBackLately(t *testing.T) {
	b := newBench(t)
	old := b.job
	b.now = b.now.AddDate(0, 0, 5)
	for range 65 {
		in := shop.BringIn{JobID: record.NewID(), Batteries: b.usual().Batteries}
		_, err := b.BringIn(t.Context(), b.owner, in)
		b.must(err)
	}
	b.handBack(old)
	back := b.now
	for _, c := range []struct {
		at     time.Time
		listed bool
	}{
		{back, true},
		{time.Date(2026, 11, 29, 23, 59, 0, 0, time.UTC), true}, // ten hours, the same day
		{time.Date(2026, 11, 30, 0, 1, 0, 0, time.UTC), false},  // ten hours, and midnight
	} {
		b.now = c.at
		today, err := b.Today(t.Context(), b.owner, time.Time{}, record.ID{})
		b.must(err)
		if listed := len(today.Closed) == 1 && today.Closed[0].Job.ID == old; listed != c.listed {
			t.Errorf("handed back at %s, at %s: %d listed", back, c.at, len(today.Closed))
		}
	}
	in := shop.BringIn{JobID: record.NewID(), Batteries: b.usual().Batteries}
	b.now = time.Date(2026, 11, 30, 23, 50, 0, 0, time.UTC)
	_, err := b.BringIn(t.Context(), b.owner, in)
	b.must(err)
	b.handBack(in.JobID)
	b.now = time.Date(2026, 12, 1, 0, 5, 0, 0, time.UTC)
	today, err := b.Today(t.Context(), b.owner, time.Time{}, record.ID{})
	b.must(err)
	if len(today.Closed) != 1 || today.Closed[0].Job.ID != in.JobID {
		t.Errorf("a quarter of an hour later and the next day: %d listed", len(today.Closed))
	}
}
