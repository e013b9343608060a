package shop_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"grapnel/app/picture/picturetest"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store"
	"grapnel/core/battery"
	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/school"
	"grapnel/core/trail"
)

// row is the job on the board.
func (b *bench) row() shop.TodayRow {
	b.t.Helper()
	today, err := b.Today(b.t.Context(), b.owner, time.Time{}, record.ID{})
	b.must(err)
	for _, row := range append(today.Open, today.Closed...) {
		if row.Job.ID == b.job {
			return row
		}
	}
	b.t.Fatal("the job is not on the board")
	return shop.TodayRow{}
}

// agree reports a board that says another thing than the job's page.
func (b *bench) agree(when string) diagnosis.Action {
	b.t.Helper()
	page, row := b.battery().Assessment, b.row()
	if page.Verdict.Action != row.Action || len(page.Next) > 0 && !strings.Contains(row.Next, page.Next[0].Text.Text) && row.Waits == "hands" {
		b.t.Errorf("%s the job says %s, the board %s: %s", when, page.Verdict.Action, row.Action, row.Next)
	}
	return row.Action
}

// TestBoardSaysTheSame checks that the board and the job say the same after everything a
// verdict rests on has changed: a limit, the label, an instrument, another job of the same
// battery, the day, the release.
func TestBoardSaysTheSame(t *testing.T) {
	b := newBench(t)
	b.keep("12.66 v 21c rested 2h; load 325a 15s 9.75v")
	first := b.agree("at first")
	b.must(b.SetLimit(t.Context(), b.owner, school.LoadLeast, 9.9, "the maker's manual"))
	if b.agree("after a limit of the shop's own") == first {
		t.Errorf("the limit changes nothing; it stays %s", first)
	}
	b.must(b.DropLimit(t.Context(), b.owner, school.LoadLeast))
	b.agree("without it")

	// The same battery on a second job, relabelled there.
	one := b.job
	in := b.usual()
	in.JobID, in.Customer = record.NewID(), nil
	in.Vehicle.ID, in.Batteries[0].ID = *b.jobNow().VehicleID, b.battery().ID
	_, err := b.BringIn(t.Context(), b.owner, in)
	b.must(err)
	b.job = in.JobID
	relabelled := b.battery().Battery
	relabelled.Label.Chemistry = battery.LiFePO4
	relabelled.Label.Rating = nil
	b.must(b.Relabel(t.Context(), b.owner, b.job, relabelled))
	b.agree("relabelled")
	b.job = one
	if got := b.agree("relabelled on another job"); got == first {
		t.Errorf("another chemistry changes nothing: %s", got)
	}
	relabelled.Label.Chemistry, relabelled.Label.Rating = battery.Flooded, &battery.Rating{Value: 650, Standard: battery.SAE}
	b.must(b.Relabel(t.Context(), b.owner, b.job, relabelled))
	hybrid := record.Vehicle{Plate: "AB 12", Vehicle: evidence.Vehicle{Kind: "hybrid", RequiredCCA: amps(900)}}
	b.must(b.Describe(t.Context(), b.owner, in.JobID, hybrid))
	b.agree("after the vehicle was described on another job")
	if v := b.vehicle(); v.Kind != "hybrid" || *v.RequiredCCA != 900 || v.Plate != "AB 12" {
		t.Errorf("%+v", v)
	}
	b.now = b.now.AddDate(0, 8, 0)
	b.agree("months later")
	b.handBack(b.job)
	b.agree("handed back")
	b.now = b.now.Add(time.Hour)
	b.agree("an hour after")

	// Another release, with other rules.
	_, err = b.db.ExecContext(t.Context(), "UPDATE job_state SET basis = 'another release', action = 'keep', next_step = 'nonsense'")
	b.must(err)
	b.agree("after another release")
}

func amps(x quantity.Amperes) *quantity.Amperes { return &x }

func (b *bench) vehicle() record.Vehicle {
	b.t.Helper()
	page, err := b.JobPage(b.t.Context(), b.owner, b.job)
	b.must(err)
	return *page.Vehicle
}

// TestBoardKnowsEveryBattery checks that the board speaks of the battery that has to be
// seen to first, whichever it is.
func TestBoardKnowsEveryBattery(t *testing.T) {
	b := newBench(t)
	second := b.bringTwo("1", "2")[1].ID
	_, err := b.Keep(t.Context(), b.owner, b.job, record.Keep{ID: record.NewID(), BatteryID: second, Line: "look bulge"})
	b.must(err)
	if row := b.row(); row.Action != diagnosis.StopUnsafe || row.Batteries != 2 || *row.State.BatteryID != second {
		t.Errorf("the second bulges, and the board says %s of %d", row.Action, row.Batteries)
	}
}

// TestToldAgain checks that a screen that is told of a change sees it, however soon after
// another job's commit it looks: no page is older than the last change.
func TestToldAgain(t *testing.T) {
	b := newBench(t)
	one := b.job
	in := b.usual()
	in.JobID = record.NewID()
	in.Vehicle.ID, in.Batteries[0].ID = *b.jobNow().VehicleID, b.battery().ID
	_, err := b.BringIn(t.Context(), b.owner, in)
	b.must(err)
	// A second server on the same database, as two hands at two phones would be served.
	other := shop.NewService(store.New(b.db), func() time.Time { return b.now })
	for n := range 20 {
		b.job = one
		b.keep(fmt.Sprintf("12.%d v rested 2h", 40+n))
		for _, s := range []*shop.Service{b.Service, other} {
			page, err := s.JobPage(t.Context(), b.owner, one)
			b.must(err)
			if got := len(page.Batteries[0].Readings); got != n+1 {
				t.Fatalf("after %d readings a page shows %d", n+1, got)
			}
		}
		l := b.battery().Battery
		l.Maker = fmt.Sprint("Halyard ", n)
		b.must(b.Relabel(t.Context(), b.owner, in.JobID, l))
		for _, s := range []*shop.Service{b.Service, other} {
			page, err := s.JobPage(t.Context(), b.owner, one)
			b.must(err)
			if got := page.Batteries[0].Maker; got != l.Maker {
				t.Fatalf("relabelled on another job as %s, the page shows %s", l.Maker, got)
			}
		}
	}
}

// TestLifePairsFindings checks that on a battery's page every finding stands beside the
// reading it is of: with readings of the vehicle taken at another battery, with changed
// ones, and with more than one page of history.
func TestLifePairsFindings(t *testing.T) {
	b := newBench(t)
	batteries := b.bringTwo("1", "2")
	keep := func(battery int, line string) {
		_, err := b.Keep(t.Context(), b.owner, b.job, record.Keep{ID: record.NewID(), BatteryID: batteries[battery].ID, Line: line})
		b.must(err)
	}
	keep(0, "running 14.2v")
	keep(1, "12.4 v rested 2h")
	keep(0, "12.7 v rested 2h")
	keep(1, "running 14.4v")
	for part := range 41 {
		line := make([]string, 10)
		for n := range line {
			line[n] = fmt.Sprintf("12.%d v rested 2h", 20+(10*part+n)%60)
		}
		keep(1, strings.Join(line, "; "))
	}
	life, err := b.BatteryPage(t.Context(), b.owner, batteries[1].ID)
	b.must(err)
	visit := life.Visits[0]
	if len(visit.Readings) != 413 || len(visit.Findings) != 413 {
		t.Errorf("%d readings and %d findings of 413", len(visit.Readings), len(visit.Findings))
	}
	for _, f := range visit.Findings {
		i := slices.IndexFunc(visit.Readings, func(r record.ReadingView) bool { return r.ID.Ref() == f.Reading })
		if i < 0 {
			t.Fatalf("a finding of no reading of the page: %+v", f)
		}
		r := visit.Readings[i]
		if string(f.Kind) != r.Kind {
			t.Errorf("beside %q stands %q", r.Typed, f.Text.Text)
		}
		if volts, ok := f.Text.Values["volts"]; ok && r.Kind == "open_circuit" && !strings.HasPrefix(r.Typed, fmt.Sprintf("%v v", volts)) && !strings.HasPrefix(r.Typed, fmt.Sprintf("%.2f v", volts)) {
			t.Errorf("beside %q stands %q", r.Typed, f.Text.Text)
		}
	}
}

// TestImportInOneGo checks that an import writes one verdict at one revision, and tells
// how far it is.
func TestImportInOneGo(t *testing.T) {
	b := newBench(t)
	const lines = 900
	var text strings.Builder
	text.WriteString("plate: MW 9\nvehicle: mower\nbattery: flooded, 12 V, 420 A SAE\n\n")
	for n := range lines {
		fmt.Fprintf(&text, "12.%02d v 18c rested 2h\n", 10+n%80)
	}
	told := 0
	done, err := b.Import(t.Context(), b.owner, text.String(), func(at, total int) {
		if at < told || total != lines {
			t.Errorf("told %d of %d after %d", at, total, told)
		}
		told = at
	})
	b.must(err)
	if done.Readings != lines || told != lines {
		t.Errorf("%d readings, told of %d", done.Readings, told)
	}
	b.job = done.JobID
	if got := b.written(); got.verdicts != 1 {
		t.Errorf("%+v", got)
	}
	var most int
	b.must(b.db.QueryRowContext(t.Context(), "SELECT COUNT(*) FROM verdict WHERE job_id = ?", done.JobID).Scan(&most))
	b.agree("imported")
	// The reading that comes after it is kept.
	b.keep("12.4 v rested 2h")
}

// TestSearchByIndex checks that vehicles are found by the start of a plate however it is
// written, by a part of the owner's name, each with the batteries in it now.
func TestSearchByIndex(t *testing.T) {
	b := newBench(t)
	for _, query := range []string{"ab12", "AB 1", "a b 1 2", "ines", "NES"} {
		found, err := b.FindVehicles(t.Context(), b.owner, query)
		b.must(err)
		if len(found) != 1 || found[0].Plate != "AB 12" || len(found[0].Batteries) != 1 || found[0].CustomerName != "Ines" {
			t.Errorf("%q found %+v", query, found)
		}
	}
	for _, query := range []string{"12", "%", "_", "zz"} {
		if found, err := b.FindVehicles(t.Context(), b.owner, query); err != nil || len(found) != 0 {
			t.Errorf("%q found %+v, %v", query, found, err)
		}
	}
	for name, query := range map[string]string{
		"plates":      "EXPLAIN SELECT * FROM vehicle WHERE shop_id = x'00' AND plate_plain LIKE 'AB%' ORDER BY plate_plain, id LIMIT 12",
		"closed jobs": "EXPLAIN SELECT * FROM job WHERE shop_id = x'00' AND state = 'closed' AND closed_at >= '2026-01-01' ORDER BY closed_at DESC, id DESC LIMIT 60",
	} {
		if key := b.plan(query); key != "vehicle_plain" && key != "job_closed" {
			t.Errorf("%s are looked for by %q", name, key)
		}
	}
}

// plan is the index that a query goes by.
func (b *bench) plan(query string) string {
	b.t.Helper()
	rows, err := b.db.QueryContext(b.t.Context(), query)
	b.must(err)
	defer rows.Close()
	columns, err := rows.Columns()
	b.must(err)
	if !rows.Next() {
		b.t.Fatal("no plan")
	}
	values := make([]any, len(columns))
	for i := range values {
		values[i] = new([]byte)
	}
	b.must(rows.Scan(values...))
	return string(*values[slices.Index(columns, "key")].(*[]byte))
}

// TestExportCarriesEverything writes a job out with everything that was said of it and
// takes it in at another shop: the text that shop writes is the same to the letter, and
// the verdict.
func TestExportCarriesEverything(t *testing.T) {
	b := newBench(t)
	battery := b.battery()
	l := battery.Battery
	yes, no := true, false
	l.Label.CapacityAh, l.Label.DeepCycle, l.Label.Sealed, l.Label.EyeFitted, l.Label.Alloy = ptr(quantity.AmpereHours(65.5)), &no, &no, &yes, "calcium"
	l.Label.Made, l.Label.FullSG, l.Label.LabelLoadA, l.Label.ReserveMin = "2021-08", ptr(1.28), amps(300), ptr(quantity.Minutes(110))
	l.Tag, l.Maker = "LG-7", "Halyard Blue"
	b.must(b.Relabel(t.Context(), b.owner, b.job, l))
	v := b.vehicle()
	v.Engine, v.Litres, v.RequiredCCA, v.Earth, v.StartStop, v.ManagedCharging = "diesel", ptr(2.3), amps(640), "negative", &yes, &no
	v.Description, v.Plate = "Estate car", "WS 9" // the other shop knows no such car
	b.must(b.Describe(t.Context(), b.owner, b.job, v))
	b.must(b.Mount(t.Context(), b.owner, b.job, battery.ID, trail.Mounting{Where: trail.Boot, Posts: trail.SidePosts, Joined: trail.Parallel}))
	b.must(b.SetLimit(t.Context(), b.owner, school.DrainMost, 0.03, "maker's manual"))
	b.keep("12.4 v 18c rested 2h; look frozen")
	b.must(b.lift())
	root := b.keep("load 325a 15s 9.3v")
	b.change(root, b.Correct, "load 325a 15s 9.4v")
	b.change(b.keep("ripple 0.4 v"), b.Mistaken, "")
	png := picturetest.PNG(80)
	b.must(b.KeepPhoto(t.Context(), b.owner, b.job, record.Photo{ID: record.NewID(), MediaType: "image/png", Note: "green strands", TakenAt: b.now}, png))
	text, err := b.Export(t.Context(), b.owner, b.job)
	b.must(err)
	for _, want := range []string{"posts: side", "lifted: frozen-or-damaged", "photo: ", "green strands", "drain_most", "required 640 A", "plates calcium", "no deep cycle", "boot", "parallel"} {
		if !strings.Contains(text, want) {
			t.Errorf("the text says nothing of %q:\n%s", want, text)
		}
	}
	other := newBench(t)
	other.now = b.now.Add(time.Hour)
	other.must(other.SetLimit(t.Context(), other.owner, school.DrainMost, 0.03, "maker's manual"))
	done, err := other.Import(t.Context(), other.owner, text, nil)
	other.must(err)
	other.job = done.JobID
	back, err := other.Export(t.Context(), other.owner, other.job)
	other.must(err)
	// Pictures are files of their own, named in the text; remarks are a person's.
	plain := func(text string) string {
		var kept []string
		for _, line := range strings.Split(text, "\n") {
			if !strings.HasPrefix(line, "photo:") && !strings.HasPrefix(line, "#") {
				kept = append(kept, strings.ReplaceAll(line, "by Ada Quill: ", ""))
			}
		}
		return strings.Join(kept, "\n")
	}
	if plain(back) != plain(text) {
		t.Errorf("it came back as\n%s\nand was\n%s", back, text)
	}
	if one, two := b.action(), other.action(); one != two {
		t.Errorf("here %s, there %s", one, two)
	}
}

// A change judges, and the page behind it asks about the very same case. No source: it is how
// the program is to behave.
func TestThePageAsksAboutTheCaseThatWasJudged(t *testing.T) {
	b := newBench(t)
	judged := 0
	b.Observe(shop.Observer{Assessed: func(time.Duration) { judged++ }})
	b.keep("12.4v rested 4h")
	if b.battery(); judged != 1 {
		t.Errorf("judged %d times for one reading and its page", judged)
	}
	if b.keep("12.3v rested 5h"); judged != 2 {
		t.Errorf("judged %d times for two readings", judged)
	}
}
