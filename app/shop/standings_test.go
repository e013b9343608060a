package shop_test

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	ics "github.com/arran4/golang-ical"

	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/core/battery"
	"grapnel/core/problem"
	"grapnel/core/standing"
)

// putAway lets the battery of the bench's job stand, and gives its ID.
func (b *bench) putAway(change func(*shop.PutAway)) record.ID {
	b.t.Helper()
	drain := 20.0
	in := shop.PutAway{ID: record.NewID(), BatteryID: b.battery().ID, FromAt: b.now, Said: shop.StandingSaid{Where: standing.Outdoors, Connected: true, DrainMA: &drain}}
	if change != nil {
		change(&in)
	}
	b.must(b.PutAway(b.t.Context(), b.owner, in))
	return in.ID
}

func (b *bench) yard() []shop.YardRow {
	b.t.Helper()
	page, err := b.Yard(b.t.Context(), b.owner, nil)
	b.must(err)
	return page.Rows
}

func (b *bench) season(id record.ID) shop.SeasonPage {
	b.t.Helper()
	page, err := b.Season(b.t.Context(), b.owner, id)
	b.must(err)
	return page
}

func (b *bench) come(id record.ID, line, did string) {
	b.t.Helper()
	b.must(b.Come(b.t.Context(), b.owner, id, shop.Come{ID: record.NewID(), Line: line, Did: did, At: b.now}))
}

// TestPutAway lets a battery stand once, says it twice, changes it, takes it out and back.
func TestPutAway(t *testing.T) {
	b := newBench(t)
	b.keep("12.50 v 20c rested 3h")
	in := shop.PutAway{ID: record.NewID(), BatteryID: b.battery().ID, FromAt: b.now, Said: shop.StandingSaid{Where: standing.Outdoors, Connected: true}}
	for _, err := range together(8, func(int) error { return b.PutAway(t.Context(), b.owner, in) }) {
		b.must(err)
	}
	rows := b.yard()
	if len(rows) != 1 || !rows[0].Judged || rows[0].Charge == nil || rows[0].Charge.Percent < 70 || rows[0].Charge.Percent > 90 || rows[0].Stale {
		t.Fatalf("%+v", rows)
	}
	other := in
	other.ID = record.NewID()
	var refused problem.List
	if err := b.PutAway(t.Context(), b.owner, other); !errors.As(err, &refused) || refused[0].Field != "battery_id" {
		t.Errorf("it stands twice: %v", err)
	}
	before := b.events()
	in.Said.Care, in.Said.Spot = standing.Maintain, " row C "
	b.must(b.PutAway(t.Context(), b.owner, in))
	b.must(b.PutAway(t.Context(), b.owner, in))
	if n := b.events() - before; n != 1 {
		t.Errorf("%d events for one change", n)
	}
	if row := b.yard()[0]; row.Spot != "row C" || row.Bad != nil || row.Charge.Percent < 90 {
		t.Errorf("on a maintainer: %+v", row)
	}
	b.must(b.EndStanding(t.Context(), b.owner, in.ID, false))
	b.must(b.EndStanding(t.Context(), b.owner, in.ID, false))
	if len(b.yard()) != 0 {
		t.Error("it stands on")
	}
	b.must(b.PutAway(t.Context(), b.owner, other))
	if err := b.EndStanding(t.Context(), b.owner, in.ID, true); err == nil {
		t.Error("put back beside another")
	}
	b.must(b.EndStanding(t.Context(), b.owner, other.ID, false))
	b.must(b.EndStanding(t.Context(), b.owner, in.ID, true))
	if rows := b.yard(); len(rows) != 1 || rows[0].ID != in.ID {
		t.Errorf("%+v", rows)
	}
}

// TestVisit keeps what was read, says how far the forecast was off, moves the next visit, and
// does once what is sent many times.
func TestVisit(t *testing.T) {
	b := newBench(t)
	b.keep("12.62 v 20c rested 3h")
	id := b.putAway(nil)
	due := b.yard()[0].Due
	b.now = b.now.Add(20 * 24 * time.Hour)
	come := shop.Come{ID: record.NewID(), Line: "12.10 v 5c rested 12h", Did: shop.DidLook, At: b.now}
	for _, err := range together(8, func(int) error { return b.Come(t.Context(), b.owner, id, come) }) {
		b.must(err)
	}
	page := b.season(id)
	if len(page.Visits) != 1 || page.Visits[0].Off == nil || page.Visits[0].Off.Inside || page.Visits[0].Off.Drain == nil || *page.Visits[0].Off.Drain < 0.03 {
		t.Fatalf("visits %+v", page.Visits)
	}
	if page.Forecast.Basis != "reading" || page.Forecast.Charge.Percent > 70 || page.Row.Bad == nil || page.Row.Bad.Days > 0 {
		t.Errorf("the forecast does not go on from the reading: %+v %+v", page.Forecast, page.Row.Bad)
	}
	life, err := b.BatteryPage(t.Context(), b.owner, page.Standing.BatteryID)
	if err != nil || len(life.Loose) != 1 || life.Loose[0].Typed != come.Line {
		t.Errorf("its life: %+v %v", life.Loose, err)
	}
	// A drain that is read counts from there on, and a full charge begins the forecast anew.
	b.now = b.now.Add(time.Hour)
	in := shop.PutAway{ID: id, BatteryID: page.Standing.BatteryID, FromAt: page.Standing.FromAt, Said: page.Standing.Said}
	in.Said.DrainMA = nil
	b.must(b.PutAway(t.Context(), b.owner, in))
	b.come(id, "drain 8 ma asleep 40min", shop.DidLook)
	b.come(id, "", shop.DidCharge)
	after := b.season(id)
	if after.Forecast.Basis != "charged" || after.Forecast.DrainBasis != "measured" || after.Forecast.DrainMA != 8 || after.Row.Due.To <= due.To || after.Row.Bad != nil && after.Row.Bad.Days < 30 {
		t.Errorf("%+v %+v", after.Forecast, after.Row)
	}
	// What comes in late is kept, and moves nothing back.
	late := shop.Come{ID: record.NewID(), Line: "12.55 v 5c rested 12h", Did: shop.DidLook, At: b.now.Add(-10 * 24 * time.Hour)}
	b.must(b.Come(t.Context(), b.owner, id, late))
	if now := b.season(id); !now.Standing.SeenAt.Equal(after.Standing.SeenAt) || len(now.Visits) != 4 || now.Forecast.Basis != "charged" {
		t.Errorf("%+v", now.Forecast)
	}
	// One that was a mistake stays, marked, with its reading, and counts no more.
	b.must(b.MistakenVisit(t.Context(), b.owner, id, late.ID))
	b.must(b.MistakenVisit(t.Context(), b.owner, id, late.ID))
	charged := b.season(id).Visits[0]
	b.must(b.MistakenVisit(t.Context(), b.owner, id, charged.ID))
	left := b.season(id)
	if left.Forecast.Basis != "reading" || left.Forecast.Charge.Percent > 70 || len(left.Visits) != 4 || !left.Visits[0].Mistaken {
		t.Errorf("after two mistakes: %+v %+v", left.Forecast, left.Visits)
	}
	if life, err := b.BatteryPage(t.Context(), b.owner, page.Standing.BatteryID); err != nil || len(life.Loose) != 3 || life.Loose[1].Counts && life.Loose[0].Counts && life.Loose[2].Counts {
		t.Errorf("its life: %+v %v", life.Loose, err)
	}
	var found problem.List
	if err := b.Come(t.Context(), b.owner, id, shop.Come{ID: record.NewID(), Line: "12.x v", Did: shop.DidLook, At: b.now}); !errors.As(err, &found) {
		t.Errorf("a line that cannot be: %v", err)
	}
}

// TestOldReadings begins no forecast from a charge that was read before the vehicle was driven on,
// and takes no drain that was read before it slept.
func TestOldReadings(t *testing.T) {
	b := newBench(t)
	b.keep("12.62 v 20c rested 3h")
	b.keep("drain 900 ma asleep 1min")
	b.now = b.now.AddDate(0, 0, 30)
	in := shop.PutAway{ID: record.NewID(), BatteryID: b.battery().ID, FromAt: b.now, Said: shop.StandingSaid{Where: standing.Outdoors, Connected: true}}
	b.must(b.PutAway(t.Context(), b.owner, in))
	if f := b.season(in.ID).Forecast; f.Basis != "guess" || f.Charge != nil || f.From != "2026-12-24" || f.DrainBasis != "usual" {
		t.Errorf("%+v", f)
	}
	b.come(in.ID, "12.6 v 5c rested 12h; drain 22 ma asleep 45min", shop.DidLook)
	if f := b.season(in.ID).Forecast; f.Basis != "reading" || f.DrainBasis != "measured" || f.DrainMA != 22 {
		t.Errorf("%+v", f)
	}
}

// TestReplacedWhileItStands has a vehicle stand on with the battery that is fitted for its own,
// and with its own again when that is taken back.
func TestReplacedWhileItStands(t *testing.T) {
	b := newBench(t)
	b.keep("12.62 v 20c rested 3h")
	b.putAway(func(in *shop.PutAway) { in.Said.Spot = "row C" })
	old, fresh := b.battery().ID, b.stocked("ST-1", nil)
	r := b.replacing(fresh)
	b.must(b.Replace(t.Context(), b.owner, b.job, r))
	stands := func(want record.ID) {
		t.Helper()
		if _, err := b.RefreshStanding(t.Context(), b.owner.ShopID); err != nil {
			t.Fatal(err)
		}
		rows := b.yard()
		if len(rows) != 1 || rows[0].Spot != "row C" || rows[0].Name != "AB 12" || !rows[0].Judged || b.season(rows[0].ID).Standing.BatteryID != want {
			t.Errorf("%+v", rows)
		}
	}
	stands(fresh)
	b.must(b.TakeBack(t.Context(), b.owner, b.job, r.ID))
	stands(old)
}

// TestDayOfTheShop begins a forecast on the day that it is in the shop, also in the hour in which
// its clock is changed and another day elsewhere.
func TestDayOfTheShop(t *testing.T) {
	for at, day := range map[string]string{"2026-10-24T23:30:00Z": "2026-10-25", "2026-10-25T00:59:00Z": "2026-10-25", "2026-10-25T23:30:00Z": "2026-10-25", "2027-03-28T23:30:00Z": "2027-03-29"} {
		b := newBench(t)
		now, err := time.Parse(time.RFC3339, at)
		b.must(err)
		b.now = now
		id := b.putAway(func(in *shop.PutAway) {
			in.Said.Charge = &shop.SaidCharge{ChargeBand: standing.ChargeBand{Percent: 90, Low: 80, High: 100}, At: now, From: "said"}
		})
		if page := b.season(id); page.Forecast.From != day || page.Today != day || page.Answer.Curve[0].Date != day {
			t.Errorf("%s is %s in the shop: from %s, today %s", at, day, page.Forecast.From, page.Today)
		}
	}
}

// TestForecastFollows has the background make anew what rests on another climate, another month,
// or a reading taken elsewhere; and leave the rest alone.
func TestForecastFollows(t *testing.T) {
	b := newBench(t)
	b.keep("12.62 v 20c rested 3h")
	id := b.putAway(nil)
	made := func(want int, why string) {
		t.Helper()
		if n, err := b.RefreshStanding(t.Context(), b.owner.ShopID); err != nil || n != want {
			t.Errorf("%s: %d made anew, %v", why, n, err)
		}
	}
	made(0, "nothing has changed")
	b.must(b.KeepClimate(t.Context(), b.owner, shop.OwnClimate{Zone: "polar"}))
	if !b.yard()[0].Stale {
		t.Error("another climate is not noticed")
	}
	was := *b.yard()[0].Margin
	made(1, "another climate")
	if row := b.yard()[0]; row.Stale || *row.Margin >= was {
		t.Errorf("polar: %+v after %g K", row.Margin, was)
	}
	battery := b.season(id).Standing.BatteryID
	b.must(b.KeepOf(t.Context(), b.owner, record.Subject{BatteryID: &battery}, record.Keep{ID: record.NewID(), Line: "12.2 v 5c rested 12h", TakenAt: b.now}))
	made(1, "a reading elsewhere")
	b.now = b.now.AddDate(0, 1, 0)
	made(1, "another month")
	made(0, "nothing has changed since")
}

// TestColdSnap puts first who may freeze on the night that is forecast.
func TestColdSnap(t *testing.T) {
	b := newBench(t)
	b.keep("12.62 v 20c rested 3h")
	b.putAway(nil)
	flat := b.stocked("ST-9", nil)
	b.must(b.PutAway(t.Context(), b.owner, shop.PutAway{ID: record.NewID(), BatteryID: flat, FromAt: b.now, Said: shop.StandingSaid{
		Where: standing.Unheated, Charge: &shop.SaidCharge{ChargeBand: standing.ChargeBand(battery.Charge{Percent: 72, Low: 40, High: 80}), At: b.now, From: "said"},
	}}))
	night := -20.0
	page, err := b.Yard(t.Context(), b.owner, &night)
	b.must(err)
	if len(page.Rows) != 2 || *page.Rows[0].Tonight > *page.Rows[1].Tonight {
		t.Errorf("%+v", page.Rows)
	}
	// A shed is milder than the open, and 40 % freezes about -20 °C there all the same.
	if got := *page.Rows[0].Tonight; page.Rows[0].Tag != "ST-9" || got < 0 || got > 8 {
		t.Errorf("%s, %g K above ice", page.Rows[0].Tag, got)
	}
}

// TestRoundsAndCalendar groups what is due into walks, and gives them as a calendar that a
// library reads: one event for each, which moves and is not doubled when a visit is made.
func TestRoundsAndCalendar(t *testing.T) {
	b := newBench(t)
	b.keep("12.62 v 20c rested 3h")
	id := b.putAway(nil)
	for i := range 5 {
		tag := fmt.Sprintf("ST-%d", i)
		stock := b.stocked(tag, nil)
		b.must(b.PutAway(t.Context(), b.owner, shop.PutAway{ID: record.NewID(), BatteryID: stock, FromAt: b.now.Add(-time.Duration(i) * time.Hour), Said: shop.StandingSaid{Where: standing.Heated, Spot: "rack"}}))
	}
	rounds, err := b.Rounds(t.Context(), b.owner)
	b.must(err)
	stops := 0
	for _, w := range rounds.Walks {
		stops += len(w.Stops)
		if len(w.Carry) == 0 || w.On < rounds.Today {
			t.Errorf("%+v", w)
		}
	}
	if stops != 6 || len(rounds.Walks) != 2 {
		t.Errorf("%d stops on %d walks", stops, len(rounds.Walks))
	}
	first := b.calendar()
	b.now = b.now.AddDate(0, 0, 25)
	b.come(id, "12.50 v 5c rested 12h", shop.DidLook)
	second := b.calendar()
	uid := "standing-" + id.String() + "@grapnel"
	if len(first) != 6 || len(second) != 6 || first[uid].day == second[uid].day || second[uid].sequence <= first[uid].sequence {
		t.Errorf("%+v, then %+v", first[uid], second[uid])
	}
}

type entry struct {
	day, summary string
	sequence     int
}

// calendar is the shop's calendar as a library reads it.
func (b *bench) calendar() map[string]entry {
	b.t.Helper()
	c, err := b.Calendar(b.t.Context(), b.owner)
	b.must(err)
	text := c.Text()
	for _, line := range strings.Split(strings.TrimSuffix(text, "\r\n"), "\r\n") {
		if len(line) > 75 || strings.Contains(line, "\n") {
			b.t.Errorf("a line that RFC 5545 does not allow: %q", line)
		}
	}
	if strings.Contains(text, "Ines") {
		b.t.Error("a customer travels along")
	}
	read, err := ics.ParseCalendar(strings.NewReader(text))
	b.must(err)
	out := map[string]entry{}
	for _, e := range read.Events() {
		value := func(p ics.ComponentProperty) string {
			if property := e.GetProperty(p); property != nil {
				return property.Value
			}
			b.t.Errorf("%s has no %s", e.Id(), p)
			return ""
		}
		var sequence int
		_, err := fmt.Sscan(value(ics.ComponentPropertySequence), &sequence)
		b.must(err)
		if value(ics.ComponentPropertyDtstamp) == "" || value(ics.ComponentPropertyDtEnd) <= value(ics.ComponentPropertyDtStart) {
			b.t.Errorf("%s: %s to %s", e.Id(), value(ics.ComponentPropertyDtStart), value(ics.ComponentPropertyDtEnd))
		}
		if _, twice := out[e.Id()]; twice {
			b.t.Errorf("%s twice", e.Id())
		}
		out[e.Id()] = entry{value(ics.ComponentPropertyDtStart), value(ics.ComponentPropertySummary), sequence}
	}
	return out
}

// TestCalendarFeed checks that a secret address gives the calendar until it is withdrawn, and that an ID
// tells its secret once.
func TestCalendarFeed(t *testing.T) {
	b := newBench(t)
	b.putAway(nil)
	id := record.NewID()
	made, err := b.MakeFeed(t.Context(), b.owner, id, "Edda’s phone")
	b.must(err)
	secret := strings.TrimPrefix(made.Path, "/calendar/")
	if c, err := b.CalendarOf(t.Context(), secret); err != nil || len(c.Events) != 1 {
		t.Fatalf("%+v %v", c, err)
	}
	if _, err := b.MakeFeed(t.Context(), b.owner, id, "Edda’s phone"); err == nil {
		t.Error("the secret is told twice")
	}
	technician := b.owner
	technician.ID, technician.Name, technician.Role = record.NewID(), "Jonah Pell", "technician"
	if err := b.WithdrawFeed(t.Context(), technician, id); !errors.Is(err, shop.ErrForbidden) {
		t.Errorf("withdrawn by another: %v", err)
	}
	// Who is switched off is told nothing any more, by no address they have.
	jo := b.hire("jo", people.Counter)
	theirs := record.NewID()
	had, err := b.MakeFeed(t.Context(), jo, theirs, "Jo’s phone")
	b.must(err)
	for _, active := range []bool{true, false, true} {
		jo.Active = active
		_, err := b.ChangePerson(t.Context(), b.owner, jo)
		b.must(err)
		_, err = b.CalendarOf(t.Context(), strings.TrimPrefix(had.Path, "/calendar/"))
		if answers := err == nil; answers != active || err != nil && !errors.Is(err, shop.ErrNotFound) {
			t.Errorf("active %v: %v", active, err)
		}
		list, err := b.Feeds(t.Context(), b.owner)
		b.must(err)
		if i := slices.IndexFunc(list, func(f shop.CalendarFeed) bool { return f.ID == theirs }); list[i].Rests == active {
			t.Errorf("active %v: %+v", active, list[i])
		}
	}
	b.must(b.WithdrawFeed(t.Context(), b.owner, theirs))
	b.must(b.WithdrawFeed(t.Context(), b.owner, id))
	b.must(b.WithdrawFeed(t.Context(), b.owner, id))
	for _, wrong := range []string{secret, "", "x.ics", strings.ToUpper(secret)} {
		if _, err := b.CalendarOf(t.Context(), wrong); !errors.Is(err, shop.ErrNotFound) {
			t.Errorf("%q: %v", wrong, err)
		}
	}
	if list, err := b.Feeds(t.Context(), b.owner); err != nil || len(list) != 0 {
		t.Errorf("%v %v", list, err)
	}
}
