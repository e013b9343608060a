package fitting_test

import (
	"fmt"
	"strings"
	"testing"

	"grapnel/core/fitting"
	"grapnel/core/twin"
)

// BenchmarkChoose judges a shelf of two hundred batteries of forty labels, the labels met for
// the first time and known already.
func BenchmarkChoose(b *testing.B) {
	var items []string
	for i := range 200 {
		items = append(items, fmt.Sprintf(`{"id": "%d", "battery": {"chemistry": "flooded", "nominal_v": 12, "rating": {"value": %d, "standard": "EN"}, "capacity_ah": %d}, "case": "L3", "made": "2026-0%d"}`, i, 400+10*(i%40), 40+i%40, 1+i%9))
	}
	a, err := fitting.Decode(strings.NewReader(`{"need": ` + plainNeed + `, "stock": [` + strings.Join(items, ",") + `], "today": "2026-11-29"}`))
	if err != nil {
		b.Fatal(err)
	}
	b.Run("labels new", func(b *testing.B) {
		for b.Loop() {
			fitting.Planner{Designs: new(twin.Designs)}.Plan(a)
		}
	})
	b.Run("labels known", func(b *testing.B) {
		p := fitting.Planner{Designs: new(twin.Designs)}
		for b.Loop() {
			p.Plan(a)
		}
	})
}
