package fitting_test

import (
	"encoding/json"
	"maps"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"grapnel/core/fitting"
	"grapnel/core/twin"
)

// A need and a stock battery that fits it, as the cases below change them: an ordinary car
// whose original is a flooded L3.
const (
	plainNeed = `{"original": {"battery": {"chemistry": "flooded", "nominal_v": 12, "rating": {"value": 640, "standard": "EN"}, "capacity_ah": 65}, "case": "L3"},
		"tray": {"length_mm": 285, "width_mm": 178, "height_mm": 195}, "hold_down": "foot_long", "layout": "positive_right", "terminal": "top", "vent_side": "none",
		"vehicle": {"kind": "car", "engine": "petrol", "litres": 1.5}}`
	plainItem = `{"id": "new", "battery": {"chemistry": "flooded", "nominal_v": 12, "rating": {"value": 680, "standard": "EN"}, "capacity_ah": 70}, "case": "L3",
		"layout": "positive_right", "terminal": "top", "hold_down": "foot_all", "vent_side": "none", "made": "2026-09", "charged_on": "2026-11-01"}`
)

// changed is a JSON object with the fields of another put over its own, inner objects too; a
// null takes a field away.
func changed(t *testing.T, base, with string) string {
	t.Helper()
	var a, b map[string]any
	if err := json.Unmarshal([]byte(base), &a); err != nil {
		t.Fatal(err)
	}
	if err := json.Unmarshal([]byte("{"+with+"}"), &b); err != nil {
		t.Fatal(with, err)
	}
	over(a, b)
	out, err := json.Marshal(a)
	if err != nil {
		t.Fatal(err)
	}
	return string(out)
}

func over(a, b map[string]any) {
	for key, value := range b {
		inner, isObject := value.(map[string]any)
		if mine, ok := a[key].(map[string]any); ok && isObject {
			over(mine, inner)
			continue
		}
		a[key] = value
	}
}

func choose(t *testing.T, need string, items ...string) fitting.Chosen {
	t.Helper()
	a, err := fitting.Decode(strings.NewReader(`{"need": ` + need + `, "stock": [` + strings.Join(items, ",") + `], "today": "2026-11-29"}`))
	if err != nil {
		t.Fatal(err)
	}
	return fitting.Planner{Designs: new(twin.Designs)}.Plan(a)
}

func codes(c fitting.Candidate) string {
	var out []string
	for _, r := range c.Reasons {
		out = append(out, strings.TrimPrefix(r.Code, "fit."))
	}
	return strings.Join(out, " ")
}

// TestFortyNeeds holds a hand-made table of needs and batteries with the verdict and the
// reasons a technician gives. Sizes by EN 50342-2 and North American groups (values from
// memory); the rules are common practice, no source.
func TestFortyNeeds(t *testing.T) {
	const startStop = `"vehicle": {"start_stop": true}`
	for _, c := range []struct{ name, need, item, verdict, reasons string }{
		{"same again", ``, ``, "fits", ""},
		{"better chemistry", ``, `"battery": {"chemistry": "efb"}`, "fits", "chemistry_differs"},
		{"AGM for flooded", ``, `"battery": {"chemistry": "agm"}`, "fits", "chemistry_differs"},
		{"start-stop takes no plain flooded", startStop, ``, "no", "chemistry_lower"},
		{"start-stop came with EFB", startStop + `, "original": {"battery": {"chemistry": "efb"}}`, `"battery": {"chemistry": "efb"}`, "fits", ""},
		{"start-stop came with AGM, EFB offered", startStop + `, "original": {"battery": {"chemistry": "agm"}}`, `"battery": {"chemistry": "efb"}`, "no", "chemistry_lower"},
		{"start-stop EFB takes AGM", startStop + `, "original": {"battery": {"chemistry": "efb"}}`, `"battery": {"chemistry": "agm"}`, "fits", "chemistry_differs"},
		{"start-stop takes no gel", startStop + `, "original": {"battery": {"chemistry": "efb"}}`, `"battery": {"chemistry": "gel"}`, "no", "chemistry_differs"},
		{"EFB original, vehicle not said", `"original": {"battery": {"chemistry": "efb"}}`, ``, "no", "chemistry_lower"},
		{"EFB original, no start-stop", `"original": {"battery": {"chemistry": "efb"}}, "vehicle": {"start_stop": false}`, ``, "fits_with", "chemistry_lower"},
		{"AGM under a seat is not followed by flooded", `"original": {"battery": {"chemistry": "agm"}}, "vehicle": {"start_stop": false}`, ``, "no", "chemistry_lower"},
		{"never lithium for lead", ``, `"battery": {"chemistry": "lifepo4"}`, "no", "chemistry_differs"},
		{"never lead for lithium", `"original": {"battery": {"chemistry": "lifepo4"}}`, ``, "no", "chemistry_differs"},
		{"lithium for lithium", `"original": {"battery": {"chemistry": "lifepo4"}}`, `"battery": {"chemistry": "lifepo4"}`, "fits", ""},
		{"what it is is not known", ``, `"battery": {"chemistry": "unknown"}`, "no", "chemistry_differs"},
		{"gel in a golf cart's AGM place", `"original": {"battery": {"chemistry": "agm", "deep_cycle": true}}`, `"battery": {"chemistry": "gel", "deep_cycle": true}`, "fits_with", "chemistry_differs"},
		{"gel follows gel", `"original": {"battery": {"chemistry": "gel"}}`, `"battery": {"chemistry": "gel"}`, "fits", ""},
		{"flooded never for gel", `"original": {"battery": {"chemistry": "gel"}}`, ``, "no", "chemistry_lower"},
		{"six volts in a car of twelve", ``, `"battery": {"nominal_v": 6}`, "no", "voltage_differs"},
		{"deep-cycle without a rating", ``, `"battery": {"deep_cycle": true, "rating": null}`, "no", "deep_cycle_differs not_known"},
		{"starter in a bank", `"original": {"battery": {"deep_cycle": true, "rating": null}}`, `"battery": {"deep_cycle": false}`, "no", "deep_cycle_differs"},
		{"too long", ``, `"case": "L4"`, "no", "too_long"},
		{"too wide and too long", ``, `"case": null, "group": "65"`, "no", "too_long too_wide"},
		{"too high", ``, `"case": null, "group": "34"`, "no", "too_high"},
		{"measured millimetres go before the size", ``, `"length_mm": 290`, "no", "too_long"},
		{"larger, and the tray has room", `"tray": {"length_mm": 360}`, `"case": "L5"`, "fits", "size_larger_case_ok"},
		{"smaller", ``, `"case": "L2"`, "fits", ""},
		{"no tray, no judgement of size", `"tray": null`, `"case": "L5"`, "fits", ""},
		{"a size nobody wrote down", ``, `"case": null`, "fits_with", "not_known"},
		{"swapped", ``, `"layout": "positive_left"`, "no", "layout_swapped"},
		{"swapped, and the cables reach", `"cables_reach": true`, `"layout": "positive_left"`, "fits_with", "layout_swapped"},
		{"a diagonal", ``, `"layout": "diagonal_right"`, "no", "layout_swapped"},
		{"EN calls it 1", ``, `"layout": "1"`, "no", "layout_swapped"},
		{"EN calls it 0", ``, `"layout": "0"`, "fits", ""},
		{"slim posts of a narrow Asian case", ``, `"case": "B19", "terminal": null`, "no", "too_high terminal"},
		{"layout not asked for", `"layout": null`, `"layout": "positive_left"`, "fits", ""},
		{"side terminals", ``, `"terminal": "side"`, "no", "terminal"},
		{"group 75 has its own", `"original": {"case": null, "group": "75"}, "terminal": null`, ``, "no", "terminal size_larger_case_ok"},
		{"thin posts", ``, `"terminal": "small"`, "no", "terminal"},
		{"foot on the short sides", ``, `"hold_down": "foot_short"`, "fits_with", "hold_down"},
		{"no foot at all", ``, `"hold_down": "none"`, "no", "hold_down"},
		{"a bar holds any", `"hold_down": "top_bar"`, `"hold_down": "none"`, "fits", ""},
		{"outlet on the other side", `"vent_side": "left"`, `"vent_side": "right"`, "fits_with", "vent"},
		{"no outlet in a boot", `"vent_side": "left"`, ``, "no", "vent"},
		{"a little weaker", ``, `"battery": {"rating": {"value": 600}}`, "fits_with", "rating_low"},
		{"far weaker", ``, `"battery": {"rating": {"value": 480}}`, "no", "rating_low"},
		{"another standard, enough", ``, `"battery": {"rating": {"value": 760, "standard": "SAE"}}`, "fits", "rating_by_conversion"},
		{"another standard, short", ``, `"battery": {"rating": {"value": 620, "standard": "SAE"}}`, "fits_with", "rating_low rating_by_conversion"},
		{"the vehicle requires more", `"vehicle": {"required_cca": 800}`, ``, "no", "rating_low"},
		{"a diesel at thirty below", `"coldest_c": -39, "vehicle": {"engine": "diesel", "litres": 3}`, ``, "no", "rating_low"},
		{"less reserve", ``, `"battery": {"capacity_ah": 60}`, "fits", "reserve_low"},
		{"less reserve where nothing cranks", `"vehicle": {"kind": "electric", "engine": "none"}`, `"battery": {"capacity_ah": 40}`, "no", "reserve_low"},
		{"one of a pair alone", `"original": {"battery": {"position": "left"}}`, ``, "no", "pair_differs"},
		{"one of a pair that is as new", `"original": {"battery": {"position": "left", "made": "2026-08"}}`, `"battery": {"rating": {"value": 640}, "capacity_ah": 65}`, "fits", ""},
		{"a label without a rating", ``, `"battery": {"rating": null}`, "fits_with", "not_known"},
		{"a mower's in a large diesel", `"original": {"battery": {"rating": null}}, "vehicle": {"engine": "diesel", "litres": 6}`, `"battery": {"rating": {"value": 90}, "capacity_ah": 20}`, "no", "rating_low reserve_low"},
		{"what decides stands first", `"vent_side": "left"`, `"layout": "positive_left", "vent_side": "right", "battery": {"chemistry": "efb"}`, "no", "layout_swapped vent chemistry_differs"},
		{"old stock, charged", ``, `"made": "2026-02"`, "fits", "old_stock"},
		{"charged in July", ``, `"charged_on": "2026-07-01"`, "fits", "charge_first"},
		{"made in July, never charged", ``, `"made": "2026-07", "charged_on": null`, "fits", "charge_first"},
		{"made in the middle of May, over six months", ``, `"made": "2026-05"`, "fits", "old_stock"},
		{"made in June", ``, `"made": "2026-06"`, "fits", ""},
	} {
		got := choose(t, changed(t, plainNeed, c.need), changed(t, plainItem, c.item))
		if f := got.Fits[0]; f.Verdict != c.verdict || codes(f) != c.reasons {
			t.Errorf("%s: %s for %q, want %s for %q", c.name, f.Verdict, codes(f), c.verdict, c.reasons)
		} else if !f.TestFirst {
			t.Errorf("%s: not tested before it goes in", c.name)
		} else if got.Difference == nil {
			t.Errorf("%s: nothing is said of how it differs", c.name)
		}
	}
}

// TestBestFirst holds the order of the list: verdict, rating, freshness, then the oldest.
func TestBestFirst(t *testing.T) {
	item := func(id, with string) string { return changed(t, plainItem, `"id": "`+id+`", `+with) }
	got := choose(t, plainNeed,
		item("no", `"layout": "positive_left"`),
		item("unknown", `"made": null`),
		item("weak", `"battery": {"rating": {"value": 630}}`),
		item("weak_spacer", `"battery": {"rating": {"value": 630}}, "hold_down": "foot_short"`),
		item("spacer", `"hold_down": "foot_short"`),
		item("old", `"made": "2025-11"`),
		item("new", `"made": "2026-10"`),
		item("flat", `"charged_on": "2026-06-01"`),
		item("older", `"made": "2026-06"`),
	)
	var ids []string
	for _, f := range got.Fits {
		ids = append(ids, f.ID)
	}
	want := []string{"older", "new", "unknown", "old", "flat", "spacer", "weak", "weak_spacer", "no"}
	if !slices.Equal(ids, want) {
		t.Errorf("%v, want %v", ids, want)
	}
	if len(got.Assumed) != 0 {
		t.Errorf("assumed: %+v", got.Assumed)
	}
}

// TestSmallerTray: a tray that is smaller never takes more.
func TestSmallerTray(t *testing.T) {
	random := rand.New(rand.NewPCG(15, 1))
	var items []string
	for _, s := range fitting.Sizes() {
		key := "case"
		if slices.Contains(fitting.Groups(), s.Name) {
			key = "group"
		}
		items = append(items, changed(t, plainItem, `"id": "`+s.Name+`", "case": null, "`+key+`": "`+s.Name+`"`))
	}
	goIn := func(box [3]float64) map[string]bool {
		tray, _ := json.Marshal(map[string]any{"tray": map[string]any{"length_mm": box[0], "width_mm": box[1], "height_mm": box[2]}})
		out := map[string]bool{}
		for _, f := range choose(t, changed(t, plainNeed, strings.Trim(string(tray), "{}")+"}"), items...).Fits {
			if f.Verdict != fitting.No {
				out[f.ID] = true
			}
		}
		return out
	}
	for range 60 {
		large := [3]float64{180 + 230*random.Float64(), 125 + 80*random.Float64(), 170 + 70*random.Float64()}
		small := large
		for i := range small {
			small[i] -= 60 * random.Float64()
		}
		in, out := goIn(large), goIn(small)
		for id := range maps.Keys(out) {
			if !in[id] {
				t.Errorf("%s goes into %v and not into %v", id, small, large)
			}
		}
	}
}

// TestMargin: in its own standard a rating has no band; a converted one has, by the usual
// chart (value from memory): 700 SAE are 640 EN.
func TestMargin(t *testing.T) {
	same := choose(t, plainNeed, plainItem).Fits[0].RatingMargin
	if same.Value != 1.063 || same.Low != same.High {
		t.Errorf("680 of 640 EN: %+v", same)
	}
	other := choose(t, plainNeed, changed(t, plainItem, `"battery": {"rating": {"value": 700, "standard": "SAE"}}`)).Fits[0].RatingMargin
	if other.Value != 1 || other.Low >= 0.96 || other.High <= 1.04 {
		t.Errorf("700 SAE of 640 EN: %+v", other)
	}
	if m := choose(t, plainNeed, changed(t, plainItem, `"battery": {"rating": null}`)).Fits[0].RatingMargin; m != nil {
		t.Errorf("no rating: %+v", m)
	}
}

// TestColdStart: more rating starts colder, a larger engine warmer, and what cranks nothing
// has no coldest start.
func TestColdStart(t *testing.T) {
	at := func(need, item string) float64 {
		c := choose(t, changed(t, plainNeed, need), changed(t, plainItem, item)).Fits[0].ColdStart
		if c == nil || c.Low > c.Value || c.Value > c.High {
			t.Fatalf("%s %s: %+v", need, item, c)
		}
		return c.Value
	}
	const diesel = `"vehicle": {"engine": "diesel", "litres": 2.5}`
	if weak, strong := at(diesel, `"battery": {"rating": {"value": 450}, "capacity_ah": 50}`), at(diesel, `"battery": {"rating": {"value": 850}, "capacity_ah": 90}`); strong >= weak {
		t.Errorf("450 A starts at %v, 850 A at %v", weak, strong)
	}
	if petrol := at(``, ``); petrol >= at(diesel, ``) {
		t.Errorf("a petrol engine of 1.5 l at %v", petrol)
	}
	for _, need := range []string{`"vehicle": {"kind": "electric", "engine": "none"}`, `"vehicle": {"kind": "none"}`, `"original": {"battery": {"deep_cycle": true}}`} {
		if c := choose(t, changed(t, plainNeed, need), plainItem).Fits[0].ColdStart; c != nil {
			t.Errorf("%s starts at %+v", need, c)
		}
	}
}

// TestDifference is drawn to scale, and the order of work is one that can be shown.
func TestDifference(t *testing.T) {
	got := choose(t, changed(t, plainNeed, `"cables_reach": true, "vent_side": "left"`), changed(t, plainItem, `"case": "L2", "layout": "positive_left", "vent_side": "right"`))
	d := got.Difference
	if *d.LengthMM != -36 || *d.WidthMM != 0 || *d.HeightMM != 0 || *d.Layout != "swapped" || *d.Vent != "moves" {
		t.Errorf("%+v", d)
	}
	if p := got.Procedure; p == nil || p.Name != "replace" || p.Setting.Vehicle != "car" || p.People != 1 {
		t.Errorf("%+v", got.Procedure)
	}
	side := choose(t, changed(t, plainNeed, `"terminal": "side"`))
	if side.Difference != nil || side.Procedure.Setting.Vehicle != "car_side" || len(side.Fits) != 0 {
		t.Errorf("%+v", side)
	}
	if len(side.Order) < 6 {
		t.Errorf("to order: %+v", side.Order)
	}
}

// TestWrongInput names every field that is wrong.
func TestWrongInput(t *testing.T) {
	for input, fields := range map[string]string{
		`{}`:                                "need today",
		`{"need": {}, "today": "tomorrow"}`: "need.original today",
		`{"need": {"original": {}}, "today": "2026-11-29"}`: "need.original.battery",
		`{"need": {"original": {"battery": {"chemistry": "flooded", "nominal_v": 12}, "case": "L9", "group": "900"}, "tray": {"length_mm": -4}, "colour": 1}, "today": "2026-11-29"}`:                                                                                    "need.original.group need.original.case need.tray.length_mm need.colour",
		`{"need": {"original": {"battery": {"chemistry": "flooded", "nominal_v": 12}, "case": "L3", "group": "34"}}, "stock": [{"id": "a"}, {"id": "a", "battery": {"chemistry": "flooded", "nominal_v": 12}, "made": "2026", "charged_on": 4}], "today": "2026-11-29"}`: "need.original.group stock[0].battery stock[1].id stock[1].made stock[1].charged_on",
	} {
		_, err := fitting.Decode(strings.NewReader(input))
		if err == nil {
			t.Errorf("%s is taken", input)
			continue
		}
		for _, name := range strings.Fields(fields) {
			if !strings.Contains(err.Error(), name) {
				t.Errorf("%s: %s is not named in: %v", input, name, err)
			}
		}
	}
}
