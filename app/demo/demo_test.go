package demo_test

import (
	"testing"
	"time"

	"grapnel/app/demo"
	"grapnel/app/localdb/dbtest"
	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store"
	"grapnel/core/diagnosis"
)

func TestMain(m *testing.M) { dbtest.Main(m) }

// TestLoad checks that the demo shows jobs in different states, drawn by the
// core from their readings, and is loaded once, whenever it is started: by day, just
// behind midnight, and in the night when the clocks of its shop are put back.
func TestLoad(t *testing.T) {
	for _, now := range []time.Time{
		time.Date(2026, 11, 24, 11, 0, 0, 0, time.UTC),
		time.Date(2027, 1, 1, 0, 0, 30, 0, time.UTC),
		time.Date(2027, 10, 31, 1, 5, 0, 0, time.UTC),
	} {
		t.Run(now.Format(time.DateTime), func(t *testing.T) { loads(t, now) })
	}
}

func loads(t *testing.T, now time.Time) {
	s := store.New(dbtest.Open(t))
	for range 2 {
		if err := demo.Load(t.Context(), s, now); err != nil {
			t.Fatal(err)
		}
	}
	service := shop.NewService(s, func() time.Time { return now })
	var who people.Person
	for _, p := range demo.SignIns() {
		person, err := service.Enter(t.Context(), people.Attempt{SignIn: p.SignIn, Secret: p.Password})
		if err != nil || string(person.Role) != p.Role {
			t.Errorf("%s cannot sign in: %v", p.Name, err)
		}
		if person.Role == people.Owner {
			who = person
		}
	}
	today, err := service.Today(t.Context(), who, time.Time{}, record.ID{})
	if err != nil {
		t.Fatal(err)
	}
	want := map[string]diagnosis.Action{
		"WS 204 K": diagnosis.ChargeAndRetest, "QN 77 BT": diagnosis.Replace, "HL 5 RYE": diagnosis.MoreTests,
		"EX 12 FEN": diagnosis.ChargeAndRetest, "DUN 48": diagnosis.Keep, "PL 88 ORE": diagnosis.LookElsewhere, "MOWER C": diagnosis.StopUnsafe,
	}
	waits := map[string]bool{}
	for _, row := range today.Open {
		if row.Action != want[row.Plate] {
			t.Errorf("%s: %s, want %s", row.Plate, row.Action, want[row.Plate])
		}
		waits[row.Waits] = true
		if row.Job.PromisedAt != nil && row.Job.PromisedAt.Before(now) {
			t.Errorf("%s was promised in the past", row.Plate)
		}
	}
	if len(today.Open) != len(want) || len(today.Closed) != 1 || len(waits) < 4 {
		t.Errorf("%d open, %d handed back, waits %v", len(today.Open), len(today.Closed), waits)
	}
	shelf, err := service.Shelf(t.Context(), who)
	if err != nil {
		t.Fatal(err)
	}
	shows := map[string]bool{}
	for _, item := range shelf.Items {
		shows[item.State] = true
		shows["stop"] = shows["stop"] || item.Stop
		shows["late"] = shows["late"] || item.Late > 0
		for _, a := range item.Anomalies {
			shows[a.Code] = true
		}
	}
	for _, state := range []string{"on", "planned", "unplaced", "stop", "late", "too_hot", "not_accepting"} {
		if !shows[state] {
			t.Errorf("nothing on the shelf is %s", state)
		}
	}
	if len(shelf.Items) != 9 || len(shelf.Fixes) == 0 || len(shelf.Air) == 0 {
		t.Errorf("%d on the shelf, %d fixes, air %v", len(shelf.Items), len(shelf.Fixes), shelf.Air)
	}
}
