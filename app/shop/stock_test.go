package shop_test

import (
	"errors"
	"slices"
	"testing"
	"time"

	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/core/battery"
	"grapnel/core/fitting"
	"grapnel/core/trail"
)

// stocked is a battery taken into the stock, like the one that the usual job is about.
func (b *bench) stocked(tag string, change func(*shop.StockItem)) record.ID {
	b.t.Helper()
	i := shop.StockItem{
		Battery: record.Battery{ID: record.NewID(), Tag: tag, Label: battery.Label{Chemistry: battery.Flooded, NominalV: 12, Rating: &battery.Rating{Value: 680, Standard: battery.SAE}}},
		Body:    fitting.Body{Case: "L3", Layout: "positive_right", Terminal: "top", HoldDown: "foot_all", VentSide: "none"}, ChargedOn: "2026-11-10",
	}
	i.Battery.Label.Made = "2026-09"
	if change != nil {
		change(&i)
	}
	b.must(b.KeepStock(b.t.Context(), b.owner, i))
	return i.Battery.ID
}

func (b *bench) stock() []shop.StockRow {
	b.t.Helper()
	page, err := b.Stock(b.t.Context(), b.owner)
	b.must(err)
	return page.Rows
}

func (b *bench) fits() shop.FitSum {
	b.t.Helper()
	sum, err := b.Fitting(b.t.Context(), b.owner, b.job, b.battery().ID, nil, false)
	b.must(err)
	return sum
}

func (b *bench) replacing(id record.ID) shop.Replace {
	return shop.Replace{ID: record.NewID(), BatteryID: b.battery().ID, NewID: id, Goes: record.Scrap, Deposit: "paid_back", WarrantyUntil: "2028-11-24", At: b.now}
}

// TestStock takes batteries in, changes one, says twice what was said once, and lets them go
// and come back.
func TestStock(t *testing.T) {
	b := newBench(t)
	one := b.stocked("ST-1", nil)
	old := b.stocked("ST-2", func(i *shop.StockItem) { i.Battery.Label.Made, i.ChargedOn = "2026-01", "2026-05-01" })
	rows := b.stock()
	if len(rows) != 2 || rows[0].Battery.ID != old || len(rows[0].Stands) != 2 || len(rows[1].Stands) != 0 || *rows[0].Months != 10 {
		t.Fatalf("%+v", rows)
	}
	before := b.events()
	price := int64(11900)
	again := rows[1].StockItem
	again.PriceMinor, again.ChargedOn = &price, "2026-11-24"
	b.must(b.KeepStock(t.Context(), b.owner, again))
	b.must(b.KeepStock(t.Context(), b.owner, again))
	if n := b.events() - before; n != 1 {
		t.Errorf("%d events for one change", n)
	}
	b.must(b.LeaveStock(t.Context(), b.owner, one, "sold"))
	b.must(b.LeaveStock(t.Context(), b.owner, one, "scrap"))
	if rows := b.stock(); len(rows) != 1 {
		t.Errorf("%d after one was sold", len(rows))
	}
	b.must(b.LeaveStock(t.Context(), b.owner, one, ""))
	if rows := b.stock(); len(rows) != 2 || *rows[1].PriceMinor != price {
		t.Errorf("%+v", rows)
	}
}

// TestStockRefused names what is wrong, and writes nothing of it.
func TestStockRefused(t *testing.T) {
	b := newBench(t)
	low, much := 3.0, int64(-1)
	err := b.KeepStock(t.Context(), b.owner, shop.StockItem{
		Battery: record.Battery{ID: record.NewID(), Label: battery.Label{Chemistry: battery.Flooded, NominalV: 12}},
		Body:    fitting.Body{Group: "34", Case: "L3", Layout: "upside", LengthMM: &low}, ChargedOn: "yesterday", PriceMinor: &much,
	})
	for _, field := range []string{"battery.tag", "body.group", "body.layout", "body.length_mm", "charged_on", "price_minor"} {
		if !slices.Contains(fieldsOf(err), field) {
			t.Errorf("%s is not named in %v", field, err)
		}
	}
	// A battery of a customer is not taken into the stock by its ID.
	of := shop.StockItem{Battery: record.Battery{ID: b.battery().ID, Tag: "X", Label: battery.Label{Chemistry: battery.Flooded, NominalV: 12}}}
	if err := b.KeepStock(t.Context(), b.owner, of); !slices.Equal(fieldsOf(err), []string{"id"}) {
		t.Errorf("%v", err)
	}
	if err := b.LeaveStock(t.Context(), b.owner, record.NewID(), "sold"); !errors.Is(err, shop.ErrNotFound) {
		t.Errorf("%v", err)
	}
	if rows := b.stock(); len(rows) != 0 {
		t.Errorf("%+v", rows)
	}
}

// TestReplace fits a battery of the stock: the stock goes down by one, the installation is
// written down, the close-out asks for what belongs to it, and it is taken back.
func TestReplace(t *testing.T) {
	b := newBench(t)
	length := 285.0
	b.must(b.KeepWants(t.Context(), b.owner, b.job, shop.Wants{TrayLengthMM: &length, Layout: "positive_right", HoldDown: "foot_long"}))
	b.must(b.KeepBody(t.Context(), b.owner, b.job, b.battery().ID, fitting.Body{Case: "L3"}))
	swapped := b.stocked("ST-1", func(i *shop.StockItem) { i.Body.Layout = "positive_left" })
	right := b.stocked("ST-2", nil)
	sum := b.fits()
	if len(sum.Rows) != 2 || sum.Rows[0].Battery.ID != right || sum.Choice.Fits[0].Verdict != "fits" || sum.Choice.Fits[1].Verdict != "no" || *sum.OldBox.Length != 278 {
		t.Fatalf("%+v", sum.Choice.Fits)
	}
	if err := b.Replace(t.Context(), b.owner, b.job, b.replacing(swapped)); !slices.Equal(fieldsOf(err), []string{"new_battery_id"}) {
		t.Errorf("a swapped layout: %v", err)
	}
	in := b.replacing(right)
	b.must(b.Replace(t.Context(), b.owner, b.job, in))
	b.must(b.Replace(t.Context(), b.owner, b.job, in)) // said again after a lost answer
	if rows := b.stock(); len(rows) != 1 || rows[0].Battery.ID != swapped {
		t.Errorf("stock: %+v", rows)
	}
	if err := b.Replace(t.Context(), b.owner, b.job, b.replacing(swapped)); !slices.Equal(fieldsOf(err), []string{"battery_id"}) {
		t.Errorf("a second one for the same: %v", err)
	}
	was, err := b.Installations(t.Context(), b.owner, b.battery().ID)
	is, err2 := b.Installations(t.Context(), b.owner, right)
	if err != nil || err2 != nil || len(was) != 1 || was[0].ToAt == nil || len(is) != 1 || is[0].ToAt != nil {
		t.Errorf("%+v %+v %v %v", was, is, err, err2)
	}
	page, err := b.JobPage(t.Context(), b.owner, b.job)
	if err != nil || len(page.Replacements) != 1 || page.Replacements[0].Tag != "ST-2" || page.Replacements[0].By == "" {
		t.Errorf("%+v %v", page.Replacements, err)
	}
	for point, state := range map[string]string{"fitted": trail.Done, "clamps_tight": trail.Open, "charging_after": trail.Open, "resets": trail.Open} {
		if got := b.point(point); got != state {
			t.Errorf("%s is %q, want %q", point, got, state)
		}
	}
	b.now = b.now.Add(10 * time.Minute)
	b.keep("running 14.3 v")
	if got := b.point("charging_after"); got != trail.Done {
		t.Errorf("charging volts were read: %s", got)
	}
	b.must(b.TakeBack(t.Context(), b.owner, b.job, in.ID))
	b.must(b.TakeBack(t.Context(), b.owner, b.job, in.ID))
	if rows := b.stock(); len(rows) != 2 {
		t.Errorf("%d in stock after it was taken back", len(rows))
	}
	if was, err := b.Installations(t.Context(), b.owner, b.battery().ID); err != nil || len(was) != 2 || was[0].ToAt != nil {
		t.Errorf("%+v %v", was, err)
	}
	if got := b.point("fitted"); got != "" {
		t.Errorf("fitted is asked for: %s", got)
	}
}

// TestSecondUse puts the old battery into the stock, and takes it out of it again.
func TestSecondUse(t *testing.T) {
	b := newBench(t)
	in := b.replacing(b.stocked("ST-1", nil))
	in.Goes = record.SecondUse
	b.must(b.Replace(t.Context(), b.owner, b.job, in))
	if rows := b.stock(); len(rows) != 1 || rows[0].Battery.ID != b.battery().ID || !rows[0].Used {
		t.Errorf("%+v", rows)
	}
	b.must(b.TakeBack(t.Context(), b.owner, b.job, in.ID))
	if rows := b.stock(); len(rows) != 1 || rows[0].Battery.Tag != "ST-1" {
		t.Errorf("%+v", rows)
	}
}

// TestTwoHandsOneBattery has eight hands fit the one battery of the stock at once.
func TestTwoHandsOneBattery(t *testing.T) {
	b := newBench(t)
	id := b.stocked("ST-1", nil)
	done := 0
	for _, err := range together(8, func(int) error { return b.Replace(t.Context(), b.owner, b.job, b.replacing(id)) }) {
		if err == nil {
			done++
		} else if len(fieldsOf(err)) == 0 {
			t.Error(err)
		}
	}
	page, err := b.JobPage(t.Context(), b.owner, b.job)
	if err != nil || done != 1 || len(page.Replacements) != 1 || len(b.stock()) != 0 {
		t.Errorf("%d fitted, %+v %v", done, page.Replacements, err)
	}
}

// TestJointStaysOpen: a joint that is still high is not closed by saying so; with a reason it
// is left, and a good drop closes it.
func TestJointStaysOpen(t *testing.T) {
	b := newBench(t)
	b.keep("drop negative_clamp 0.5v 150a")
	say := func(value, note string) error {
		return b.Answer(t.Context(), b.owner, b.job, record.StepAnswer{ID: record.NewID(), BatteryID: b.battery().ID, Code: "joints", Value: value, Note: note})
	}
	for _, value := range []string{trail.Done, trail.NotNeeded} {
		if err := say(value, ""); !slices.Equal(fieldsOf(err), []string{"value"}) {
			t.Errorf("%s: %v", value, err)
		}
	}
	if err := b.Close(t.Context(), b.owner, b.job); !slices.Contains(fieldsOf(err), "finish.joints") {
		t.Errorf("handed back with a joint that is high: %v", err)
	}
	b.must(say(trail.NotDone, "the customer comes back on Monday"))
	sum, err := b.Terminals(t.Context(), b.owner, b.job, b.battery().ID)
	if err != nil || sum.Worst != "negative_clamp" || len(sum.Open) != 1 {
		t.Errorf("%+v %v", sum.Open, err)
	}
	b.keep("drop negative_clamp 0.03v 150a")
	if got := b.point("joints"); got != trail.Done {
		t.Errorf("joints: %s", got)
	}
	if sum, err = b.Terminals(t.Context(), b.owner, b.job, b.battery().ID); err != nil || len(sum.Open) != 0 {
		t.Errorf("%+v %v", sum.Open, err)
	}
}

// point is the state of a point of the closing list, empty where it is not asked for.
func (b *bench) point(code string) string {
	b.t.Helper()
	page, err := b.JobPage(b.t.Context(), b.owner, b.job)
	b.must(err)
	for _, one := range page.Batteries {
		for _, stage := range one.Work.Stages {
			for _, step := range stage.Steps {
				if step.Code == code && stage.Stage == trail.StageFinish {
					return step.State
				}
			}
		}
	}
	return ""
}

// TestTwoJobsOneBattery has two jobs reach for the one battery of the stock at once: the first
// has it, the other is told so.
func TestTwoJobsOneBattery(t *testing.T) {
	b := newBench(t)
	id := b.stocked("ST-1", nil)
	type ask struct {
		job record.ID
		in  shop.Replace
	}
	asks := []ask{{b.job, b.replacing(id)}}
	first := b.job
	b.bringTwo("", "")
	asks = append(asks, ask{b.job, b.replacing(id)})
	b.job = first
	refused := 0
	for _, err := range together(2, func(i int) error { return b.Replace(t.Context(), b.owner, asks[i].job, asks[i].in) }) {
		if slices.Equal(fieldsOf(err), []string{"new_battery_id"}) {
			refused++
		} else if err != nil {
			t.Error(err)
		}
	}
	var n int
	b.must(b.db.QueryRow("SELECT COUNT(*) FROM replacement").Scan(&n))
	if refused != 1 || n != 1 {
		t.Errorf("%d refused, %d written down", refused, n)
	}
}

// TestPair changes both of a pair: the first wants a second one alike in stock, the second has
// to be like the first.
func TestPair(t *testing.T) {
	b := newBench(t)
	two := b.bringTwo("left", "right")
	b.must(b.Mount(t.Context(), b.owner, b.job, two[0].ID, trail.Mounting{Joined: trail.Parallel}))
	one, other := b.stocked("ST-1", nil), b.stocked("ST-3", func(i *shop.StockItem) { i.Battery.Label.Rating.Value = 720 })
	put := func(of int, id record.ID) error {
		in := b.replacing(id)
		in.BatteryID = two[of].ID
		return b.Replace(t.Context(), b.owner, b.job, in)
	}
	if err := put(0, one); !slices.Equal(fieldsOf(err), []string{"new_battery_id"}) {
		t.Errorf("one alone: %v", err)
	}
	second := b.stocked("ST-2", nil)
	b.must(put(0, one))
	if err := put(1, other); !slices.Equal(fieldsOf(err), []string{"new_battery_id"}) {
		t.Errorf("another kind beside it: %v", err)
	}
	b.must(put(1, second))
	for _, old := range two {
		if was, err := b.Installations(t.Context(), b.owner, old.ID); err != nil || len(was) != 1 || was[0].ToAt == nil {
			t.Errorf("%s: %+v %v", old.Position, was, err)
		}
	}
}

// TestGoneOn: a battery that has left is not changed as stock, and a fitting is not taken back
// whose old battery is in use elsewhere by now.
func TestGoneOn(t *testing.T) {
	b := newBench(t)
	id := b.stocked("ST-1", nil)
	item := b.stock()[0].StockItem
	in := b.replacing(id)
	in.Goes = record.SecondUse
	b.must(b.Replace(t.Context(), b.owner, b.job, in))
	if err := b.KeepStock(t.Context(), b.owner, item); !slices.Equal(fieldsOf(err), []string{"id"}) {
		t.Errorf("changed after it went: %v", err)
	}
	first, old := b.job, b.battery().ID
	b.bringTwo("", "")
	b.must(b.Replace(t.Context(), b.owner, b.job, b.replacing(old)))
	if err := b.TakeBack(t.Context(), b.owner, first, in.ID); !slices.Equal(fieldsOf(err), []string{"replacement"}) {
		t.Errorf("taken back from under another vehicle: %v", err)
	}
}
