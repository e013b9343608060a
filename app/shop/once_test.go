package shop_test

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"grapnel/app/localdb/dbtest"
	"grapnel/app/people"
	"grapnel/app/picture/picturetest"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store"
	"grapnel/core/school"
	"grapnel/core/trail"
)

// together does something with many hands at once and gives each one's error.
func together(hands int, do func(n int) error) []error {
	errs := make([]error, hands)
	var all sync.WaitGroup
	for n := range hands {
		all.Go(func() { errs[n] = do(n) })
	}
	all.Wait()
	return errs
}

// TestSetUpOnce checks that four who set a shop up at once make one.
func TestSetUpOnce(t *testing.T) {
	db := dbtest.Open(t)
	s := shop.NewService(store.New(db), time.Now)
	var made atomic.Int64
	for _, err := range together(4, func(n int) error {
		_, err := s.SetUp(t.Context(), shop.SetUp{ShopName: "Lockside", TimeZone: "UTC", Name: "Ada Quill", SignIn: fmt.Sprint("ada", n), Password: "ten letters at least"})
		if err == nil {
			made.Add(1)
		}
		return err
	}) {
		if err != nil && !errors.Is(err, shop.ErrTaken) {
			t.Error(err)
		}
	}
	var shops, persons int
	if err := db.QueryRowContext(t.Context(), "SELECT (SELECT COUNT(*) FROM shop), (SELECT COUNT(*) FROM person)").Scan(&shops, &persons); err != nil {
		t.Fatal(err)
	}
	if made.Load() != 1 || shops != 1 || persons != 1 {
		t.Errorf("%d were told that they made it, %d shops, %d people", made.Load(), shops, persons)
	}
}

// TestManyHands checks that one thing sent by many hands at once is done once, and that
// each is answered the same.
func TestManyHands(t *testing.T) {
	b := newBench(t)
	in := b.usual()
	in.JobID = record.NewID()
	for _, err := range together(6, func(int) error {
		j, err := b.BringIn(t.Context(), b.owner, in)
		if err == nil && j.ID != in.JobID {
			return fmt.Errorf("another job: %s", j.ID)
		}
		return err
	}) {
		b.must(err)
	}
	reading := record.Keep{ID: record.NewID(), Line: "12.4 v rested 2h", TakenAt: b.now}
	answers := make([]shop.Kept, 16)
	for _, err := range together(len(answers), func(n int) (err error) {
		answers[n], err = b.Keep(t.Context(), b.owner, b.job, reading)
		return err
	}) {
		b.must(err)
	}
	for _, one := range answers[1:] {
		if fmt.Sprint(one) != fmt.Sprint(answers[0]) {
			t.Errorf("one was told %+v, another %+v", answers[0], one)
		}
	}
	clock := record.Clock{ID: record.NewID(), Kind: trail.Rest, StartedAt: b.now}
	for _, err := range together(6, func(int) error { return b.StartClock(t.Context(), b.owner, b.job, clock) }) {
		b.must(err)
	}
	if n := len(b.battery().Readings); n != 1 || len(b.clocks()) != 1 {
		t.Errorf("%d readings, clocks %+v", n, b.clocks())
	}
}

// TestKeyIsOneDeed checks that a key used again for anything else is refused, naming
// what differs, and that nothing is written, not even an event; the same again is the
// same answer.
func TestKeyIsOneDeed(t *testing.T) {
	b := newBench(t)
	other := record.NewID()
	in := b.usual()
	in.JobID, in.Vehicle = other, nil
	_, err := b.BringIn(t.Context(), b.owner, in)
	b.must(err)
	jon, err := b.AddPerson(t.Context(), b.owner, people.Person{ID: record.NewID(), Name: "Jon Pell", SignIn: "jon", Role: people.Technician}, "ten letters at least")
	b.must(err)
	b.keep("look frozen")
	png := picturetest.PNG(80)
	first := b.battery().Readings[0].ID

	type deed func(key record.ID, who people.Person, job record.ID, variant int) error
	deeds := map[string]deed{
		"a reading": func(key record.ID, who people.Person, job record.ID, v int) error {
			_, err := b.Keep(t.Context(), who, job, record.Keep{ID: key, Line: fmt.Sprintf("12.%d v rested 2h", 40+v), TakenAt: b.now})
			return err
		},
		"an answer": func(key record.ID, who people.Person, job record.ID, v int) error {
			return b.Answer(t.Context(), who, job, record.StepAnswer{ID: key, Code: "glasses", Value: []string{trail.Done, ""}[v]})
		},
		"a clock": func(key record.ID, who people.Person, job record.ID, v int) error {
			return b.StartClock(t.Context(), who, job, record.Clock{ID: key, Kind: []string{trail.Rest, trail.Sleep}[v], StartedAt: b.now})
		},
		"a picture": func(key record.ID, who people.Person, job record.ID, v int) error {
			return b.KeepPhoto(t.Context(), who, job, record.Photo{ID: key, MediaType: "image/png", Note: fmt.Sprint("note ", v), TakenAt: b.now}, png)
		},
		"a clearing": func(key record.ID, who people.Person, job record.ID, v int) error {
			if job == other {
				return shop.KeyUsed{} // nothing stops the other job; there is nothing to lift
			}
			return b.Clear(t.Context(), who, job, record.Clearing{ID: key, Stop: school.FrozenOrDamaged, Reason: fmt.Sprint("thawed over night ", v)})
		},
		"a correction": func(key record.ID, who people.Person, job record.ID, v int) error {
			if job == other {
				return shop.KeyUsed{}
			}
			return b.Correct(t.Context(), who, job, first, shop.Correction{ID: key, Line: "look frozen", Reason: fmt.Sprint("misread ", v)})
		},
		"a kept sum": func(key record.ID, who people.Person, job record.ID, v int) error {
			return b.KeepSum(t.Context(), who, job, record.KeptSum{ID: key, Sum: "charge_from_volts", Inputs: map[string]string{"volts": fmt.Sprintf("12.%d", 30+v)}})
		},
	}
	for name, do := range deeds {
		key := record.NewID()
		if err := do(key, b.owner, b.job, 0); err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		before := b.events()
		if err := do(key, b.owner, b.job, 0); err != nil {
			t.Errorf("%s again: %v", name, err)
		}
		for what, err := range map[string]error{
			"another body": do(key, b.owner, b.job, 1), "another job": do(key, b.owner, other, 0), "another person": do(key, jon, b.job, 0),
		} {
			var used shop.KeyUsed
			if !errors.As(err, &used) {
				t.Errorf("%s with %s: %v", name, what, err)
			}
		}
		if after := b.events(); after != before {
			t.Errorf("%s: %d events, and %d after it was sent again and refused", name, before, after)
		}
	}
	// A key of one kind is none of another; a person is added once.
	var used shop.KeyUsed
	if _, err := b.Keep(t.Context(), b.owner, b.job, record.Keep{ID: jon.ID, Line: "look none"}); !errors.As(err, &used) {
		t.Errorf("a person's key for a reading: %v", err)
	}
	again := people.Person{ID: jon.ID, Name: "Jon Pell", SignIn: "jon", Role: people.Technician}
	if _, err := b.AddPerson(t.Context(), b.owner, again, "ten letters at least"); err != nil {
		t.Errorf("the same person again: %v", err)
	}
	again.Name = "Tess Arl"
	if _, err := b.AddPerson(t.Context(), b.owner, again, "ten letters at least"); !errors.As(err, &used) || !strings.Contains(fmt.Sprint(err), "Tess") {
		t.Errorf("another person under his key: %v", err)
	}
}

func (b *bench) events() (n int) {
	b.t.Helper()
	if err := b.db.QueryRowContext(b.t.Context(), "SELECT COUNT(*) FROM event").Scan(&n); err != nil {
		b.t.Fatal(err)
	}
	return n
}

// TestSameBatteryTwice checks that one job has a battery once.
func TestSameBatteryTwice(t *testing.T) {
	b := newBench(t)
	in := b.usual()
	in.JobID = record.NewID()
	twin := in.Batteries[0]
	twin.ID = b.battery().ID
	in.Batteries = []record.Fitted{twin, twin}
	_, err := b.BringIn(t.Context(), b.owner, in)
	if got := fieldsOf(err); !slices.Contains(got, "batteries[1].id") {
		t.Errorf("%v: %v", got, err)
	}
}

// TestPictureLimit checks that every picture that is accepted is shown, and that one too
// many is refused.
func TestPictureLimit(t *testing.T) {
	b := newBench(t)
	png := picturetest.PNG(80)
	keep := func() error {
		return b.KeepPhoto(t.Context(), b.owner, b.job, record.Photo{ID: record.NewID(), MediaType: "image/png", TakenAt: b.now}, png)
	}
	for range shop.MostPhotos {
		b.must(keep())
	}
	page, err := b.JobPage(t.Context(), b.owner, b.job)
	b.must(err)
	if len(page.Photos) != shop.MostPhotos {
		t.Errorf("%d were accepted, %d are shown", shop.MostPhotos, len(page.Photos))
	}
	if got := fieldsOf(keep()); !slices.Contains(got, "photo") {
		t.Errorf("one too many: %v", got)
	}
}

// TestSilentClocksEnd checks that a clock that fell silent is no longer running, and
// never stands in front of one that does.
func TestSilentClocksEnd(t *testing.T) {
	b := newBench(t)
	for range 210 {
		b.must(b.StartClock(t.Context(), b.owner, b.job, record.Clock{ID: record.NewID(), Kind: trail.LoadCool}))
		b.now = b.now.Add(time.Second)
	}
	b.now = b.now.Add(time.Hour)
	b.must(b.StartClock(t.Context(), b.owner, b.job, record.Clock{ID: record.NewID(), Kind: trail.Rest}))
	if list := b.clocks(); len(list) != 1 || list[0].Kind != trail.Rest {
		t.Errorf("%+v", list)
	}
	var running int
	b.must(b.db.QueryRowContext(t.Context(), "SELECT COUNT(*) FROM clock WHERE ended_at IS NULL").Scan(&running))
	if running != 1 {
		t.Errorf("%d clocks are still running", running)
	}
}

// TestKeyOfARequest asks for a change that has no key of its own under one that came with
// its request: handed back once, it is not handed back again by a late second try, and the
// key is good for nothing else.
func TestKeyOfARequest(t *testing.T) {
	b := newBench(t)
	ctx := shop.WithKey(t.Context(), record.NewID())
	desk := shop.Desk{WaitsFor: shop.WaitsPart}
	b.must(b.SetDesk(ctx, b.owner, b.job, desk))
	b.must(b.SetDesk(t.Context(), b.owner, b.job, shop.Desk{}))
	b.must(b.SetDesk(ctx, b.owner, b.job, desk))
	page, err := b.JobPage(t.Context(), b.owner, b.job)
	b.must(err)
	if page.Job.WaitsFor != "" {
		t.Errorf("a late second try set it to wait for %q again", page.Job.WaitsFor)
	}
	for name, err := range map[string]error{
		"another body": b.SetDesk(ctx, b.owner, b.job, shop.Desk{WaitsFor: shop.WaitsNight}),
		"another deed": b.Reopen(ctx, b.owner, b.job),
	} {
		if used := (shop.KeyUsed{}); !errors.As(err, &used) {
			t.Errorf("%s under the key: %v", name, err)
		}
	}
	// What had nothing to do then has nothing to do later.
	again := shop.WithKey(t.Context(), record.NewID())
	b.must(b.SetDesk(again, b.owner, b.job, shop.Desk{}))
	b.must(b.SetDesk(t.Context(), b.owner, b.job, desk))
	b.must(b.SetDesk(again, b.owner, b.job, shop.Desk{}))
	page, err = b.JobPage(t.Context(), b.owner, b.job)
	b.must(err)
	if page.Job.WaitsFor != shop.WaitsPart {
		t.Error("a second try of a change that had nothing to do took back what came after it")
	}
}
