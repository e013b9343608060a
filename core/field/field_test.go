package field_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/field"
	"grapnel/core/reading"
)

// TestEveryFieldIsKnownEverywhere checks that each field of label and vehicle can be
// decoded, written as plain text and read back from it, and has words, a unit and a range
// or codes for a form.
func TestEveryFieldIsKnownEverywhere(t *testing.T) {
	everywhere(t, battery.Fields(), map[string]any{
		"chemistry": "flooded", "nominal_v": 12.0, "rating": map[string]any{"value": 650.0, "standard": "SAE"}, "capacity_ah": 65.5,
		"reserve_min": 110.0, "made": "2021-08", "sealed": false, "eye_fitted": true, "label_load_a": 300.0, "full_sg": 1.28,
		"deep_cycle": false, "plates": "calcium", "position": "left",
	}, "position")
	everywhere(t, evidence.VehicleFields(), map[string]any{
		"kind": "car", "engine": "diesel", "litres": 2.3, "required_cca": 640.0, "start_stop": true, "managed_charging": false,
		"cranks_12v": true, "system_v": 12.0, "earth": "negative",
	})
}

func everywhere[T any](t *testing.T, table field.Table[T], whole map[string]any, elsewhere ...string) {
	t.Helper()
	of, found := table.Decode(whole, "of")
	if err := found.Err(); err != nil {
		t.Fatal(err)
	}
	for _, f := range table {
		if _, ok := whole[f.Name]; !ok || f.Get(&of) == nil {
			t.Errorf("%s is in the table, and the test or the decoder knows nothing of it", f.Name)
		}
		if f.Allowed() == "" {
			t.Errorf("%s: nothing says what may be said", f.Name)
		}
	}
	for _, d := range table.Describe() {
		if d.Label == "" || strings.HasPrefix(d.Label, "field ") {
			t.Errorf("%s has no words for a form", d.Name)
		}
	}
	if found := table.Check(&of, "of"); len(found) > 0 {
		t.Errorf("what was decoded is refused: %v", found)
	}
	// As plain text, a phrase a field, each read back.
	var back T
	if found := table.Parse(&back, strings.Join(table.Print(&of), ", "), reading.Figure); len(found) > 0 {
		t.Errorf("%q is written and not read: %v", table.Print(&of), found)
	}
	for _, f := range table {
		if got, want := fmt.Sprint(f.Get(&back)), fmt.Sprint(f.Get(&of)); got != want && !slices.Contains(elsewhere, f.Name) {
			t.Errorf("%s: %s came back as %s", f.Name, want, got)
		}
	}
}

// TestDecodeNamesWhatIsWrong checks that every problem is named under its path, all at
// once, and that what is not said is not said.
func TestDecodeNamesWhatIsWrong(t *testing.T) {
	_, found := battery.Fields().Decode(map[string]any{
		"chemistry": "tea", "nominal_v": 13.0, "rating": map[string]any{"value": -1.0, "standard": "SAE"}, "capacity_ah": "many",
		"made": "yesterday", "sealed": "yes", "colour": "blue", "reserve_min": nil,
	}, "battery")
	var fields []string
	for _, p := range found {
		fields = append(fields, p.Field)
	}
	for _, want := range []string{"chemistry", "nominal_v", "rating.value", "capacity_ah", "made", "sealed", "colour"} {
		if !slices.Contains(fields, "battery."+want) {
			t.Errorf("%s is not named in %v", want, fields)
		}
	}
	if slices.Contains(fields, "battery.reserve_min") {
		t.Error("null is taken for a value")
	}
	if _, found := battery.Fields().Decode(map[string]any{"nominal_v": 12.0}, ""); len(found) != 1 || found[0].Field != "chemistry" {
		t.Errorf("a label without its chemistry: %v", found)
	}
}
