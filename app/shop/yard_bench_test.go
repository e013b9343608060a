package shop_test

import (
	"errors"
	"fmt"
	"testing"
	"time"

	"grapnel/app/localdb/dbtest"
	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store"
	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/standing"
)

// manyStand are five hundred that stand.
func manyStand(b *testing.B) (*shop.Service, people.Person) {
	b.Helper()
	s := shop.NewService(store.New(dbtest.Open(b)), time.Now)
	owner, err := s.SetUp(b.Context(), shop.SetUp{ShopName: "Lockside", TimeZone: "Europe/London", Name: "Ada Quill", SignIn: "Ada", Password: "ten letters at least"})
	if err != nil {
		b.Fatal(err)
	}
	for i := range 500 {
		ah := quantity.AmpereHours(40 + i%60)
		id := record.NewID()
		item := shop.StockItem{Battery: record.Battery{ID: id, Tag: fmt.Sprintf("T-%d", i), Label: battery.Label{Chemistry: battery.Flooded, NominalV: 12, CapacityAh: &ah, Made: "2026-01"}}}
		stand := shop.PutAway{ID: record.NewID(), BatteryID: id, FromAt: time.Now(), Said: shop.StandingSaid{Where: "outdoors", Charge: &shop.SaidCharge{
			ChargeBand: standing.ChargeBand{Percent: 80, Low: 70, High: 90}, At: time.Now(), From: "said",
		}}}
		if err := errors.Join(s.KeepStock(b.Context(), owner, item), s.PutAway(b.Context(), owner, stand)); err != nil {
			b.Fatal(err)
		}
	}
	return s, owner
}

// BenchmarkYard lists five hundred that stand, from what is stored.
func BenchmarkYard(b *testing.B) {
	s, owner := manyStand(b)
	for b.Loop() {
		if page, err := s.Yard(b.Context(), owner, nil); err != nil || len(page.Rows) != 500 {
			b.Fatal(len(page.Rows), err)
		}
	}
}

// BenchmarkForecasts makes the forecasts of five hundred anew, as after another climate.
func BenchmarkForecasts(b *testing.B) {
	s, owner := manyStand(b)
	zones := []string{"cold", "mild"}
	for i := 0; b.Loop(); i++ {
		if err := s.KeepClimate(b.Context(), owner, shop.OwnClimate{Zone: zones[i%2]}); err != nil {
			b.Fatal(err)
		}
		if n, err := s.RefreshStanding(b.Context(), owner.ShopID); err != nil || n != 500 {
			b.Fatal(n, err)
		}
	}
}
