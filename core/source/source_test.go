package source

import (
	"strings"
	"testing"
)

// TestEntries checks how figures and tables are written down.
func TestEntries(t *testing.T) {
	for _, c := range []struct{ got, want string }{
		{Figure("x", 12.41, "V", Common("")).Value, "12.41"},
		{Figure("x", 1.7241e-8, "Ω·m", By(IEC60028)).Value, "1.7241e-08"},
		{Figure("x", 15, "min", Common("")).Value, "15"},
		{Table("x", "V", Common(""), "a 1", "b 2").Value, "a 1; b 2"},
		{Codes("x", "V", Common(""), map[string][2]float64{"b": {2, 3}, "a": {1, 0.5}}).Value, "a 1 0.5; b 2 3"},
		{Codes("x", "", Common(""), map[string]map[string]float64{"a": {"worn": 0.5}}).Value, "a worn 0.5"},
		{Codes("x", "", Common(""), map[string]struct{ A, B float64 }{"a": {1, 2}}).Value, "a 1 2"},
		{Row("flooded", 1.5, 2), "flooded 1.5 2"},
		{Row("", 1, 2), "1 2"},
		{Text(0.000001), "0.000001"},
	} {
		if c.got != c.want {
			t.Errorf("got %q, want %q", c.got, c.want)
		}
	}
}

// TestSources checks that each tag says what a value is worth.
func TestSources(t *testing.T) {
	for _, s := range []Source{By(BCI), Common("why"), Recalled("why"), From("others")} {
		if s.Kind == "" || s.Title == "" {
			t.Errorf("%+v", s)
		}
	}
	if s := By(BCI).With("flooded"); !strings.Contains(s.Note, "value from memory") || !strings.HasSuffix(s.Note, "flooded") {
		t.Errorf("a published value is recalled from memory, and says so: %+v", s)
	}
	if entries := In("battery", Figure("TableCelsius", 26.7, "°C", By(BCI))); entries[0].Package != "battery" || strings.ContainsAny(entries[0].Name, "⟨⟩") {
		t.Errorf("%+v", entries)
	}
}
