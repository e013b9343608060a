package fitting_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/fitting"
	"grapnel/core/twin"
)

// anyOf draws one of some values, or none.
func anyOf[T any](r *rand.Rand, list ...T) *T {
	i := r.IntN(len(list) + 1)
	if i == len(list) {
		return nil
	}
	return &list[i]
}

func anyLabel(r *rand.Rand) map[string]any {
	l := map[string]any{
		"chemistry": battery.Chemistries()[r.IntN(len(battery.Chemistries()))], "nominal_v": []float64{6, 12, 12, 12, 24}[r.IntN(5)],
		"capacity_ah": anyOf(r, 7, 45, 60, 80, 180), "reserve_min": anyOf(r, 60, 90, 140), "deep_cycle": anyOf(r, true, false), "position": anyOf(r, "left"),
	}
	if r.IntN(4) > 0 {
		l["rating"] = map[string]any{"value": 100 + r.IntN(900), "standard": battery.Standards()[r.IntN(len(battery.Standards()))]}
	}
	return l
}

func anyBody(r *rand.Rand, into map[string]any) {
	if r.IntN(2) == 0 {
		into["case"] = anyOf(r, fitting.Cases()...)
	} else {
		into["group"] = anyOf(r, fitting.Groups()...)
	}
}

func anyOutside(r *rand.Rand, into map[string]any) {
	into["layout"], into["terminal"] = anyOf(r, fitting.Layouts()...), anyOf(r, fitting.TerminalKinds()...)
	into["hold_down"], into["vent_side"] = anyOf(r, fitting.HoldDowns()...), anyOf(r, fitting.VentSides()...)
}

func anyAsk(r *rand.Rand) map[string]any {
	original := map[string]any{"battery": anyLabel(r)}
	anyBody(r, original)
	need := map[string]any{
		"original": original, "tray": map[string]any{"length_mm": anyOf(r, 200, 280, 360), "width_mm": anyOf(r, 140, 180), "height_mm": anyOf(r, 180, 230)},
		"coldest_c": anyOf(r, -30, -10, 5), "cables_reach": anyOf(r, true, false),
		"vehicle": map[string]any{
			"kind": anyOf(r, "car", "truck", "motorcycle", "hybrid", "electric", "none", "mower"), "engine": anyOf(r, "petrol", "diesel"), "litres": anyOf(r, 0.6, 2.0, 6.5),
			"start_stop": anyOf(r, true, false), "required_cca": anyOf(r, 300, 700), "cranks_12v": anyOf(r, true, false), "system_v": anyOf(r, 12, 24), "earth": anyOf(r, "positive"),
		},
	}
	anyOutside(r, need)
	var stock []any
	for i := range r.IntN(6) {
		item := map[string]any{"id": fmt.Sprint(i), "battery": anyLabel(r), "made": anyOf(r, "2025-01", "2026-06", "2026-11"), "charged_on": anyOf(r, "2026-03-01", "2026-11-20")}
		anyBody(r, item)
		anyOutside(r, item)
		stock = append(stock, item)
	}
	return map[string]any{"need": need, "stock": stock, "today": "2026-11-29"}
}

// TestLaws holds over whatever may be asked: every battery is judged once, what is no has a
// reason, the best stands first, bands hold their value, lithium and lead never stand in for
// each other, start-stop takes no plain flooded one, every sentence has its words, and what
// is judged of one battery does not hang on the others but for a pair.
func TestLaws(t *testing.T) {
	r := rand.New(rand.NewPCG(15, 2))
	p := fitting.Planner{Designs: new(twin.Designs)}
	rank := []string{fitting.Fits, fitting.FitsWith, fitting.No}
	for range 150 {
		question := anyAsk(r)
		text, err := json.Marshal(question)
		if err != nil {
			t.Fatal(err)
		}
		a, err := fitting.Decode(strings.NewReader(string(text)))
		if err != nil {
			t.Fatalf("%s: %v", text, err)
		}
		got := p.Plan(a)
		answer, err := json.Marshal(got)
		if err != nil || strings.Contains(string(answer), "⟨") {
			t.Fatalf("%s: %v\n%s", text, err, answer)
		}
		seen := map[string]bool{}
		for i, f := range got.Fits {
			seen[f.ID] = true
			item := a.Stock[slices.IndexFunc(a.Stock, func(s fitting.Item) bool { return s.ID == f.ID })]
			if i > 0 && slices.Index(rank, f.Verdict) < slices.Index(rank, got.Fits[i-1].Verdict) {
				t.Errorf("%s: %s stands behind %s", text, f.Verdict, got.Fits[i-1].Verdict)
			}
			if f.Verdict != fitting.Fits && len(f.Reasons) == 0 {
				t.Errorf("%s: %s is %s without a reason", text, f.ID, f.Verdict)
			}
			lithium := func(l battery.Label) bool { return l.Chemistry == battery.LiFePO4 }
			plain := a.Need.Vehicle.StartStop != nil && *a.Need.Vehicle.StartStop && item.Label.Chemistry == battery.Flooded && !lithium(a.Need.Original)
			if (lithium(item.Label) != lithium(a.Need.Original) || plain || item.Label.NominalV != a.Need.Original.NominalV) && f.Verdict != fitting.No {
				t.Errorf("%s: %s is %s", text, f.ID, f.Verdict)
			}
			if c := f.ColdStart; c != nil && (c.Low > c.Value || c.Value > c.High) {
				t.Errorf("%s: %+v", text, c)
			}
			if m := f.RatingMargin; m != nil && (m.Low > m.Value || m.Value > m.High) {
				t.Errorf("%s: %+v", text, m)
			}
			alone := p.Plan(fitting.Ask{Need: a.Need, Stock: []fitting.Item{item}, Today: a.Today}).Fits[0]
			if alone.Verdict != f.Verdict && !strings.Contains(codes(f)+codes(alone), "pair_differs") {
				t.Errorf("%s: %s is %s alone and %s among others", text, f.ID, alone.Verdict, f.Verdict)
			}
		}
		if len(seen) != len(a.Stock) || len(got.Fits) != len(a.Stock) {
			t.Errorf("%s: %d of %d judged", text, len(got.Fits), len(a.Stock))
		}
	}
}
