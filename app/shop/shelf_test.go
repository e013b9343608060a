package shop_test

import (
	"errors"
	"strings"
	"sync"
	"testing"
	"time"

	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/core/battery"
	"grapnel/core/problem"
	"grapnel/core/quantity"
	"grapnel/core/trail"
)

// shelfBench is a shop with a charger of two channels and batteries to charge.
type shelfBench struct {
	*bench
	charger record.Charger
}

func newShelf(t *testing.T) *shelfBench {
	b := &shelfBench{bench: newBench(t)}
	b.charger = record.Charger{ID: record.NewID(), Name: "Pair", Kind: "multi_stage", Amps: []float64{2, 6}, Settings: []string{"flooded"}, Channels: 2}
	b.must(b.KeepCharger(t.Context(), b.owner, b.charger))
	return b
}

// loose puts a battery that belongs to no job on the list, with a reading where one is said.
func (b *shelfBench) loose(chemistry battery.Chemistry, ah float64, line string) record.ID {
	b.t.Helper()
	id, of := record.NewID(), record.NewID()
	label := battery.Label{Chemistry: chemistry, NominalV: 12, CapacityAh: ptr(quantity.AmpereHours(ah))}
	b.must(b.AskCharge(b.t.Context(), b.owner, shop.AskCharge{
		ID: id, BatteryID: of, Until: "full", Weight: 1, Battery: &record.Battery{Tag: "S", Label: label},
	}))
	if line != "" {
		b.check(id, line)
	}
	return id
}

func (b *shelfBench) check(id record.ID, line string) {
	b.t.Helper()
	b.must(b.KeepCheck(b.t.Context(), b.owner, id, record.Keep{ID: record.NewID(), Line: line, TakenAt: b.now}))
}

func (b *shelfBench) item(id record.ID) shop.ShelfItem {
	b.t.Helper()
	page, err := b.Charge(b.t.Context(), b.owner, id)
	b.must(err)
	return page.Item
}

func (b *shelfBench) on(id record.ID, channel int) error {
	to := record.OnCharger{Output: record.Output{ChargerID: b.charger.ID, Channel: channel}, At: b.now}
	return b.Connect(b.t.Context(), b.owner, id, to)
}

// fault is the first field that an error names.
func fault(err error) string {
	var list problem.List
	if !errors.As(err, &list) {
		return ""
	}
	return list[0].Field
}

// TestShelfFromListToRest takes a battery from the list over its charger to its rest: it is
// planned, on, looked at, off, and its clocks go with it.
func TestShelfFromListToRest(t *testing.T) {
	b := newShelf(t)
	id := b.loose(battery.Flooded, 60, "12.1 v 18c rested 9h")
	if item := b.item(id); item.State != "planned" || item.Charge.Chalk != 1 || item.Lane != "Pair, channel 1" || item.Full == nil || item.ReadyTo.Before(*item.Full) || !item.Flat {
		t.Errorf("planned: %+v", item)
	}
	b.must(b.on(id, 2))
	b.must(b.on(id, 2)) // said twice
	b.now = b.now.Add(30 * time.Minute)
	clocks, err := b.Clocks(t.Context(), b.owner)
	b.must(err)
	if len(clocks.Clocks) != 1 || clocks.Clocks[0].Kind != trail.ChargeCheck || clocks.Clocks[0].EndsAt.After(b.now) {
		t.Errorf("the look after half an hour: %+v", clocks.Clocks)
	}
	b.check(id, "charge 12.8v 6a 30min cool no gas")
	item := b.item(id)
	if item.State != "on" || item.Lane != "Pair, channel 2" || item.Check == nil || !item.Check.Equal(b.now.Add(30*time.Minute)) || item.Stop {
		t.Errorf("on: %+v", item)
	}
	b.must(b.TakeOff(t.Context(), b.owner, id, b.now))
	clocks, err = b.Clocks(t.Context(), b.owner)
	b.must(err)
	if len(clocks.Clocks) != 1 || clocks.Clocks[0].Kind != trail.Rest {
		t.Errorf("the rest: %+v", clocks.Clocks)
	}
	if _, err := b.Charge(t.Context(), b.owner, id); !errors.Is(err, shop.ErrNotFound) {
		t.Errorf("it is still on the shelf: %v", err)
	}
	closed := shop.AskCharge{ID: id, Until: "testable", Weight: 1}
	if err := b.AskCharge(t.Context(), b.owner, closed); fault(err) != "charge" {
		t.Errorf("one that is over is asked for anew: %v", err)
	}
	if err := b.Decide(t.Context(), b.owner, id, nil); fault(err) != "charge" {
		t.Errorf("one that is over is decided: %v", err)
	}
	// Its number is free again.
	if again := b.item(b.loose(battery.Flooded, 60, "")); again.Charge.Chalk != 1 {
		t.Errorf("the next one is number %d", again.Charge.Chalk)
	}
}

// TestShelfStops rings at once where a check says stop, and plans no battery that must not be
// charged.
func TestShelfStops(t *testing.T) {
	b := newShelf(t)
	id := b.loose(battery.Flooded, 60, "12.1 v 18c rested 9h")
	b.must(b.on(id, 1))
	b.now = b.now.Add(20 * time.Minute)
	b.check(id, "charge 14.2v 6a 20min hot no gas")
	if item := b.item(id); !item.Stop || item.Anomalies[0].Code != "too_hot" {
		t.Errorf("hot: %+v", item)
	}
	clocks, err := b.Clocks(t.Context(), b.owner)
	b.must(err)
	if len(clocks.Clocks) != 1 || clocks.Clocks[0].EndsAt.After(b.now) {
		t.Errorf("it does not ring: %+v", clocks.Clocks)
	}
	lithium := b.loose(battery.LiFePO4, 8, "12.9 v rested 9h")
	if item := b.item(lithium); item.State != "unplaced" || item.Why == nil || item.Why.Code != "refusal.lithium" {
		t.Errorf("lithium: %+v", item)
	}
	if err := b.on(lithium, 2); fault(err) != "charger_id" || !strings.Contains(err.Error(), "lithium") {
		t.Errorf("lithium goes on: %v", err)
	}
	if err := b.on(b.loose(battery.AGM, 60, ""), 2); fault(err) != "charger_id" {
		t.Errorf("a charger without the setting: %v", err)
	}
}

// TestShelfDecided keeps a decision, says what it costs, and takes it back; it moves nothing
// that is on.
func TestShelfDecided(t *testing.T) {
	b := newShelf(t)
	first, second := b.loose(battery.Flooded, 60, "12.1 v 18c rested 9h"), b.loose(battery.Flooded, 60, "12.2 v 18c rested 9h")
	pin := &record.ChargePin{Output: record.Output{ChargerID: b.charger.ID, Channel: 2}, From: ptr(b.now.Add(2 * time.Hour))}
	b.must(b.Decide(t.Context(), b.owner, first, pin))
	page, err := b.Shelf(t.Context(), b.owner)
	b.must(err)
	if item := b.item(first); item.Lane != "Pair, channel 2" || !item.On.Equal(b.now.Add(2*time.Hour)) || page.Decided == nil {
		t.Errorf("decided: %+v, %+v", item, page.Decided)
	}
	b.must(b.Decide(t.Context(), b.owner, first, nil))
	if item := b.item(first); item.Charge.Pin != nil || !item.On.Equal(b.now) {
		t.Errorf("taken back: %+v", item)
	}
	b.must(b.on(second, 1))
	if err := b.Decide(t.Context(), b.owner, second, pin); fault(err) != "charge" {
		t.Errorf("one that is on is moved: %v", err)
	}
}

// TestShelfTwoHands has many put different batteries on one channel at once: one is on.
func TestShelfTwoHands(t *testing.T) {
	b := newShelf(t)
	ids := make([]record.ID, 6)
	for i := range ids {
		ids[i] = b.loose(battery.Flooded, 60, "")
	}
	errs := make([]error, len(ids))
	var all sync.WaitGroup
	for i, id := range ids {
		all.Go(func() { errs[i] = b.on(id, 1) })
	}
	all.Wait()
	on := 0
	for _, err := range errs {
		switch {
		case err == nil:
			on++
		case fault(err) != "channel":
			t.Errorf("another fault: %v", err)
		}
	}
	page, err := b.Shelf(t.Context(), b.owner)
	b.must(err)
	states := map[string]int{}
	for _, item := range page.Items {
		states[item.State]++
	}
	if on != 1 || states["on"] != 1 || states["planned"] != 5 {
		t.Errorf("%d said they did, shelf %v", on, states)
	}
}

// TestShelfOffersJobs offers what a job waits for, and takes it with its promise.
func TestShelfOffersJobs(t *testing.T) {
	b := newShelf(t)
	b.keep("12.1 v 18c rested 9h")
	page, err := b.Shelf(t.Context(), b.owner)
	b.must(err)
	if len(page.Offer) != 1 || page.Offer[0].JobID != b.job {
		t.Fatalf("offers %+v", page.Offer)
	}
	by := b.now.Add(time.Hour)
	ask := shop.AskCharge{ID: record.NewID(), BatteryID: page.Offer[0].BatteryID, JobID: &b.job, Until: "full", Weight: 2, ReadyBy: &by}
	b.must(b.AskCharge(t.Context(), b.owner, ask))
	b.must(b.AskCharge(t.Context(), b.owner, ask)) // said twice
	other := ask
	other.ID = record.NewID()
	if err := b.AskCharge(t.Context(), b.owner, other); fault(err) != "battery_id" {
		t.Errorf("one battery twice on the list: %v", err)
	}
	page, err = b.Shelf(t.Context(), b.owner)
	b.must(err)
	if len(page.Offer) != 0 || len(page.Items) != 1 || page.Items[0].Plate != "AB 12" || page.Items[0].Late <= 0 || len(page.Fixes) == 0 {
		t.Errorf("%+v", page)
	}
	b.must(b.on(ask.ID, 1))
	b.now = b.now.Add(30 * time.Minute)
	b.check(ask.ID, "charge 12.9v 6a 30min cool no gas")
	if item := b.item(ask.ID); len(item.Anomalies) > 0 && item.Anomalies[0].Probability > 0.8 || item.Check == nil {
		t.Errorf("its check is kept on its job: %+v", item)
	}
	b.must(b.TakeOff(t.Context(), b.owner, ask.ID, b.now))
	b.now = b.now.Add(2 * time.Hour)
	b.keep("12.5 v 18c rested 1h after charge")
	charged, err := b.Charged(t.Context(), b.owner, b.job)
	b.must(err)
	if len(charged) != 1 || charged[0].Charger != "Pair, channel 1" || charged[0].AhIn == nil || charged[0].AhIn.Value < 2 || charged[0].AhIn.Value > 4 || charged[0].OffAt == nil {
		t.Errorf("what went in: %+v", charged)
	}
}

// TestShelfRefuses names what is wrong, and lets only the owner say the hours.
func TestShelfRefuses(t *testing.T) {
	b := newShelf(t)
	id := b.loose(battery.Flooded, 60, "")
	bad := map[string]error{
		"until":   b.AskCharge(t.Context(), b.owner, shop.AskCharge{ID: id, Until: "later", Weight: 1}),
		"weight":  b.AskCharge(t.Context(), b.owner, shop.AskCharge{ID: id, Until: "full", Weight: 99}),
		"channel": b.on(id, 3),
		"charger_id": b.Connect(t.Context(), b.owner, id, record.OnCharger{
			Output: record.Output{ChargerID: record.NewID(), Channel: 1}, At: b.now,
		}),
		"at":           b.Connect(t.Context(), b.owner, id, record.OnCharger{Output: record.Output{ChargerID: b.charger.ID, Channel: 1}, At: b.now.Add(time.Hour)}),
		"hours[0].day": b.SetHands(t.Context(), b.owner, []record.Hours{{Day: 8, From: "08:00", To: "18:00"}}),
		"hours[0]":     b.SetHands(t.Context(), b.owner, []record.Hours{{Day: 1, From: "18:00", To: "08:00"}}),
	}
	for field, err := range bad {
		if fault(err) != field {
			t.Errorf("%s: %v", field, err)
		}
	}
	if err := b.TakeOff(t.Context(), b.owner, record.NewID(), b.now); !errors.Is(err, shop.ErrNotFound) {
		t.Errorf("one that there is not: %v", err)
	}
	b.must(b.on(id, 2))
	narrower := b.charger
	narrower.Channels = 1
	if err := b.KeepCharger(t.Context(), b.owner, narrower); fault(err) != "channels" {
		t.Errorf("a channel that is used is taken away: %v", err)
	}
	if err := b.DropCharger(t.Context(), b.owner, b.charger.ID); fault(err) != "charger" {
		t.Errorf("a charger that is used is taken off the list: %v", err)
	}
	b.must(b.SetHands(t.Context(), b.owner, []record.Hours{{Day: 2, From: "08:00", To: "14:10"}}))
	if item := b.item(id); item.Off == nil || item.Off.Weekday() != time.Tuesday {
		t.Errorf("off on another day than somebody is there: %+v", item)
	}
}

// TestMakerCharge keeps what a maker says of a charge, and refuses what cannot be.
func TestMakerCharge(t *testing.T) {
	b := newShelf(t)
	id := b.loose(battery.LiFePO4, 8, "")
	page, err := b.Charge(t.Context(), b.owner, id)
	b.must(err)
	of := page.Item.Charge.BatteryID
	said := record.MakerCharge{Volts: ptr(14.4), Charger: "its own"}
	b.must(b.SetMakerCharge(t.Context(), b.owner, of, said))
	b.must(b.SetMakerCharge(t.Context(), b.owner, of, said))
	if got, err := b.MakerCharge(t.Context(), b.owner, of); err != nil || got.Volts == nil || *got.Volts != 14.4 || got.Amps != nil || got.Charger != "its own" {
		t.Errorf("%+v %v", got, err)
	}
	if got := fault(b.SetMakerCharge(t.Context(), b.owner, of, record.MakerCharge{Volts: ptr(0.0)})); got != "volts" {
		t.Errorf("0 V is refused for %q", got)
	}
	if err := b.SetMakerCharge(t.Context(), b.owner, record.NewID(), said); !errors.Is(err, shop.ErrNotFound) {
		t.Errorf("a battery that there is not: %v", err)
	}
}
