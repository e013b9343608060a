package shop_test

import (
	"context"
	"errors"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"grapnel/app/people"
	"grapnel/app/picture/picturetest"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/core/diagnosis"
	"grapnel/core/problem"
	"grapnel/core/school"
	"grapnel/core/trail"
)

// step finds a step of the job as it stands.
func (b *bench) step(code string) trail.Step {
	b.t.Helper()
	for _, stage := range b.battery().Work.Stages {
		for _, step := range stage.Steps {
			if step.Code == code {
				return step
			}
		}
	}
	b.t.Fatalf("no step %s", code)
	return trail.Step{}
}

func (b *bench) answer(code, value, note string) error {
	return b.Answer(b.t.Context(), b.owner, b.job, record.StepAnswer{ID: record.NewID(), Code: code, Value: value, Note: note})
}

// fieldsOf names the fields a refusal is about.
func fieldsOf(err error) []string {
	var list problem.List
	var fields []string
	if errors.As(err, &list) {
		for _, p := range list {
			fields = append(fields, p.Field)
		}
	}
	return fields
}

// TestSteps ticks a step, takes it back and checks who did it.
func TestSteps(t *testing.T) {
	b := newBench(t)
	b.must(b.answer("glasses", trail.Done, ""))
	if got := b.step("glasses"); got.State != trail.Done || got.By != "Ada Quill" {
		t.Errorf("%+v", got)
	}
	b.must(b.answer("glasses", "", ""))
	if got := b.step("glasses"); got.State != "open" || got.By != "" {
		t.Errorf("taken back: %+v", got)
	}
	for _, c := range []struct{ code, value, note, field string }{
		{"hats", trail.Done, "", "code"}, {"glasses", "perhaps", "", "value"}, {"hold_down", trail.NotDone, "", "note"}, {"choice", trail.Done, "a horse", "note"},
	} {
		if got := fieldsOf(b.answer(c.code, c.value, c.note)); !slices.Contains(got, c.field) {
			t.Errorf("%s %s: problems of %v, want %s", c.code, c.value, got, c.field)
		}
	}
}

// TestClosingList checks that a job is not handed back with open points, and names
// each.
func TestClosingList(t *testing.T) {
	b := newBench(t)
	open := openPointsOf(b)
	fields := fieldsOf(b.Close(t.Context(), b.owner, b.job))
	if len(fields) != len(open) || !slices.Contains(fields, "finish.clips_off") {
		t.Fatalf("open %d, refused for %v", len(open), fields)
	}
	b.handBack(b.job)
	page, err := b.JobPage(t.Context(), b.owner, b.job)
	b.must(err)
	if page.Job.State != record.JobClosed || page.Batteries[0].Work.Open != 0 {
		t.Errorf("%+v", page.Job)
	}
	// Taken up again, what may have been touched is asked again; the choice stands.
	b.must(b.Reopen(t.Context(), b.owner, b.job))
	again := openPointsOf(b)
	has := func(code string) bool {
		return slices.ContainsFunc(again, func(s trail.Step) bool { return s.Code == code })
	}
	if !has("clips_off") || !has("keys") || has("choice") {
		t.Errorf("asked again: %+v", again)
	}
}

func openPointsOf(b *bench) []trail.Step {
	b.t.Helper()
	page, err := b.JobPage(b.t.Context(), b.owner, b.job)
	b.must(err)
	return openPoints(page)
}

// TestClearStop lifts a stop rule with a reason: the verdict goes on, the person
// and the reason stay, and the same thing found again stops the work again.
func TestClearStop(t *testing.T) {
	b := newBench(t)
	b.keep("look frozen")
	lift := func(reason string) error {
		return b.Clear(t.Context(), b.owner, b.job, record.Clearing{ID: record.NewID(), Stop: school.FrozenOrDamaged, Reason: reason})
	}
	if got := fieldsOf(lift("fine")); !slices.Contains(got, "reason") {
		t.Errorf("a short reason: %v", got)
	}
	if b.action() != diagnosis.StopUnsafe || b.step("knob_off").State != "barred" {
		t.Fatal("a frozen battery is not stopped")
	}
	b.must(lift("thawed indoors over night, case whole"))
	cleared := b.battery().Work.Cleared
	if b.action() == diagnosis.StopUnsafe || b.step("knob_off").State == "barred" || len(cleared) != 1 || cleared[0].By != "Ada Quill" {
		t.Errorf("%s, cleared %+v", b.action(), cleared)
	}
	b.must(b.answer("glasses", trail.Done, ""))
	text, err := b.Export(t.Context(), b.owner, b.job)
	b.must(err)
	for _, want := range []string{"lifted: frozen-or-damaged for 1 by Ada Quill: thawed indoors", "# done, Ada Quill; Safety glasses"} {
		if !strings.Contains(text, want) {
			t.Errorf("the plain text has no %q:\n%s", want, text)
		}
	}
	b.keep("look frozen")
	if b.action() != diagnosis.StopUnsafe {
		t.Error("found again, it does not stop")
	}
}

// TestMounting checks that how a battery sits changes the steps and is known at the
// next visit.
func TestMounting(t *testing.T) {
	b := newBench(t)
	battery := b.battery().ID
	b.must(b.Mount(t.Context(), b.owner, b.job, battery, trail.Mounting{Where: trail.Boot, Posts: trail.SidePosts, Joined: trail.Parallel}))
	for _, code := range []string{"look_vent", "side_adapters", "two_parallel"} {
		b.step(code)
	}
	if got := fieldsOf(b.Mount(t.Context(), b.owner, b.job, battery, trail.Mounting{Where: "roof"})); !slices.Contains(got, "where") {
		t.Errorf("the roof: %v", got)
	}
	b.handBack(b.job)
	found, err := b.FindVehicles(t.Context(), b.owner, "AB 12")
	b.must(err)
	if v := found[0]; v.Tray != trail.Boot || v.Joined != trail.Parallel || v.Batteries[0].Posts != trail.SidePosts {
		t.Errorf("%+v", v)
	}
}

// TestDesk hands a job over and lets it wait.
func TestDesk(t *testing.T) {
	b := newBench(t)
	other, err := b.AddPerson(t.Context(), b.owner, people.Person{Name: "Jon Pell", SignIn: "jon", Role: people.Technician}, "ten letters at least")
	b.must(err)
	b.keep("look none")
	if j := b.jobNow(); j.AssignedTo == nil || *j.AssignedTo != b.owner.ID {
		t.Errorf("whoever took the first reading has the job: %+v", j)
	}
	b.must(b.SetDesk(t.Context(), b.owner, b.job, shop.Desk{Place: "Shelf", AssignedTo: &other.ID, WaitsFor: shop.WaitsPart, WaitsNote: "clamp, positive", Note: "strap is next"}))
	j := b.jobNow()
	if j.Place != "Shelf" || *j.AssignedTo != other.ID || j.WaitsFor != shop.WaitsPart || j.WaitsNote != "clamp, positive" {
		t.Errorf("%+v", j)
	}
	stranger := record.NewID()
	if got := fieldsOf(b.SetDesk(t.Context(), b.owner, b.job, shop.Desk{Place: "Moon", WaitsFor: "rain"})); len(got) != 2 {
		t.Errorf("refused for %v", got)
	}
	if got := fieldsOf(b.SetDesk(t.Context(), b.owner, b.job, shop.Desk{AssignedTo: &stranger})); !slices.Contains(got, "assigned_to") {
		t.Errorf("a stranger: %v", got)
	}
}

func (b *bench) jobNow() record.Job {
	b.t.Helper()
	page, err := b.JobPage(b.t.Context(), b.owner, b.job)
	b.must(err)
	return page.Job
}

func (b *bench) clocks() []shop.RunningClock {
	b.t.Helper()
	list, err := b.Clocks(b.t.Context(), b.owner)
	b.must(err)
	return list.Clocks
}

// TestClocks starts a clock by a reading, reads what it says as time goes on, and
// ends it by the reading it waited for.
func TestClocks(t *testing.T) {
	b := newBench(t)
	b.keep("12.9 v since drive")
	list := b.clocks()
	if len(list) != 1 || list[0].Kind != trail.Rest || !list[0].EndsAt.Equal(b.now.Add(time.Hour)) || list[0].Plate != "AB 12" || list[0].By != "Ada Quill" {
		t.Fatalf("%+v", list)
	}
	b.now = b.now.Add(40 * time.Minute)
	if c := b.clocks()[0]; !c.Early || c.Says != "rested 40min" {
		t.Errorf("after 40 min: %+v", c)
	}
	b.now = b.now.Add(30 * time.Minute)
	c := b.clocks()[0]
	if c.Early || c.Says != "rested 70min" {
		t.Errorf("after 70 min: %+v", c)
	}
	b.keep("12.62 v " + c.Says)
	if left := b.clocks(); len(left) != 0 {
		t.Errorf("answered, and still %+v", left)
	}
	if state := b.battery().Assessment.ChargeState; state == nil {
		t.Error("the volts do not count")
	}
}

// TestClockOfLateReading checks that a reading that waited on a device starts its
// clock from when it was taken.
func TestClockOfLateReading(t *testing.T) {
	b := newBench(t)
	taken := b.now.Add(-25 * time.Minute)
	_, err := b.Keep(t.Context(), b.owner, b.job, record.Keep{ID: record.NewID(), Line: "12.9 v since drive", TakenAt: taken})
	b.must(err)
	if list := b.clocks(); len(list) != 1 || !list[0].EndsAt.Equal(taken.Add(time.Hour)) {
		t.Errorf("%+v", list)
	}
}

// TestClockByHand starts one twice, lets the lamps be followed by their wait, and
// checks that what only cools falls silent by itself.
func TestClockByHand(t *testing.T) {
	b := newBench(t)
	id := record.NewID()
	for range 2 {
		b.must(b.StartClock(t.Context(), b.owner, b.job, record.Clock{ID: id, Kind: trail.Lamps, StartedAt: b.now.Add(-10 * time.Second)}))
	}
	list := b.clocks()
	if len(list) != 1 || !list[0].EndsAt.Equal(b.now.Add(110*time.Second)) {
		t.Fatalf("%+v", list)
	}
	b.now = b.now.Add(2 * time.Minute)
	b.must(b.StopClock(t.Context(), b.owner, id))
	b.must(b.StopClock(t.Context(), b.owner, id))
	if list = b.clocks(); len(list) != 1 || list[0].Kind != trail.LampsWait {
		t.Fatalf("after the lamps %+v", list)
	}
	b.now = b.now.Add(20 * time.Second)
	if says := b.clocks()[0].Says; says != "lamps 2min wait 20s" {
		t.Errorf("says %q", says)
	}
	b.keep("12.5 v lamps 2min wait 20s")
	b.keep("load 325a 15s 10.1v")
	if list = b.clocks(); len(list) != 1 || list[0].Kind != trail.LoadCool {
		t.Fatalf("after the load %+v", list)
	}
	b.now = b.now.Add(10 * time.Minute)
	if list = b.clocks(); len(list) != 0 {
		t.Errorf("a load that cooled long ago still shows: %+v", list)
	}
	if got := fieldsOf(b.StartClock(t.Context(), b.owner, b.job, record.Clock{ID: record.NewID(), Kind: "tea"})); !slices.Contains(got, "kind") {
		t.Errorf("tea: %v", got)
	}
	b.must(b.StartClock(t.Context(), b.owner, b.job, record.Clock{ID: record.NewID(), Kind: trail.Sleep}))
	b.handBack(b.job)
	if list = b.clocks(); len(list) != 0 {
		t.Errorf("handed back, and still %+v", list)
	}
}

// TestFeed checks that every change is told once, in order, to one who listens and
// to one whose line was down.
func TestFeed(t *testing.T) {
	b := newBench(t)
	ctx, stop := context.WithTimeout(t.Context(), 20*time.Second)
	defer stop()
	feed := b.Feed()
	done := make(chan struct{})
	go func() { feed.Run(ctx, func(err error) { t.Error(err) }); close(done) }()
	for !feed.Begun() {
		time.Sleep(time.Millisecond)
	}
	place, err := feed.From(0)
	b.must(err)
	b.keep("look none")
	b.must(b.answer("glasses", trail.Done, ""))
	var kinds []string
	var ids []int64
	for len(kinds) < 2 {
		list, next, err := feed.After(ctx, place)
		b.must(err)
		for _, c := range list {
			kinds, ids = append(kinds, c.Kind), append(ids, c.ID)
			if c.JobID == nil || *c.JobID != b.job {
				t.Errorf("%+v names no job", c)
			}
		}
		place = next
	}
	if got := strings.Join(kinds, " "); got != "reading_kept answered" {
		t.Errorf("told %s", got)
	}
	again, err := feed.From(ids[0])
	b.must(err)
	list, _, err := feed.After(ctx, again)
	if err != nil || len(list) != 1 || list[0].ID != ids[1] {
		t.Errorf("one who missed the second is told %+v, %v", list, err)
	}
	stop()
	<-done
}

// TestPhotos keeps a picture once and refuses what is none.
func TestPhotos(t *testing.T) {
	b := newBench(t)
	png := picturetest.PNG(80)
	p := record.Photo{ID: record.NewID(), MediaType: "image/png", Note: "green strands"}
	for range 2 {
		b.must(b.KeepPhoto(t.Context(), b.owner, b.job, p, png))
	}
	page, err := b.JobPage(t.Context(), b.owner, b.job)
	b.must(err)
	if len(page.Photos) != 1 || page.Photos[0].Note != "green strands" || page.Photos[0].MediaType != "image/jpeg" {
		t.Fatalf("%+v", page.Photos)
	}
	if kind, body, err := b.PhotoBody(t.Context(), b.owner, p.ID); err != nil || kind != "image/jpeg" || http.DetectContentType(body) != kind {
		t.Errorf("%s of %d bytes, %v", kind, len(body), err)
	}
	if got := fieldsOf(b.KeepPhoto(t.Context(), b.owner, b.job, record.Photo{ID: record.NewID(), MediaType: "text/html"}, []byte("<script>"))); !slices.Contains(got, "photo") {
		t.Errorf("a script: %v", got)
	}
}

// TestInstruments keeps an instrument, weighs a reading by its error, and refuses
// what no line could name.
func TestInstruments(t *testing.T) {
	b := newBench(t)
	meter := record.Instrument{ID: record.NewID(), Name: "bay-meter", Kind: "cheap_meter", Protocol: "scpi", Address: "127.0.0.1:5025", DueOn: "2026-01-31"}
	for range 2 {
		b.must(b.KeepInstrument(t.Context(), b.owner, meter))
	}
	list, err := b.Instruments(t.Context(), b.owner)
	b.must(err)
	if len(list) != 1 || !list[0].Overdue || list[0].Name != "bay-meter" {
		t.Fatalf("%+v", list)
	}
	b.keep("12.45 v rested 2h")
	good := b.battery().Assessment.ChargeState
	b.keep("12.45 v rested 2h by bay-meter")
	cheap := b.battery()
	if wide := cheap.Assessment.ChargeState; wide.High-wide.Low <= good.High-good.Low || !strings.Contains(cheap.Readings[1].Canonical, "by bay-meter") {
		t.Errorf("a cheap meter's band %+v, a good one's %+v, kept as %q", wide, good, cheap.Readings[1].Canonical)
	}
	for _, c := range []struct {
		change func(*record.Instrument)
		field  string
	}{
		{func(i *record.Instrument) { i.Name = "my meter" }, "name"}, {func(i *record.Instrument) { i.ID, i.Name = record.NewID(), "bay-meter" }, "name"},
		{func(i *record.Instrument) { i.Kind = "crystal" }, "kind"}, {func(i *record.Instrument) { i.Protocol = "morse" }, "protocol"},
		{func(i *record.Instrument) { i.Address = "somewhere" }, "address"}, {func(i *record.Instrument) { i.DueOn = "soon" }, "due_on"},
	} {
		bad := meter
		c.change(&bad)
		if got := fieldsOf(b.KeepInstrument(t.Context(), b.owner, bad)); !slices.Contains(got, c.field) {
			t.Errorf("%+v: %v", bad, got)
		}
	}
	b.must(b.DropInstrument(t.Context(), b.owner, meter.ID))
	if list, err := b.Instruments(t.Context(), b.owner); err != nil || len(list) != 0 {
		t.Errorf("%+v %v", list, err)
	}
}
