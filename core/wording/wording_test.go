package wording

import (
	"regexp"
	"strings"
	"testing"

	"grapnel/core/quantity"
)

// forms are the ways a placeholder may ask to be printed.
var forms = regexp.MustCompile(`\{([a-z_]+)(?::(V|A|C|Ah|Ohm|mA|%|s|min|0|1|2|3|word|Word|kind|tail|date))?\}`)

// TestCatalogue checks every sentence: whole placeholders, whole sentences, no
// double blanks, no name of a person or maker's product.
func TestCatalogue(t *testing.T) {
	for _, code := range Codes() {
		text := english[code]
		if rest := forms.ReplaceAllString(text, ""); strings.ContainsAny(rest, "{}") {
			t.Errorf("%s has a broken placeholder: %s", code, text)
		}
		if strings.TrimSpace(text) != text || strings.Contains(text, "  ") && !strings.HasPrefix(code, "page.") || text == "" {
			t.Errorf("%s has stray blanks: %q", code, text)
		}
		kind, _, _ := strings.Cut(code, ".")
		if last := text[len(text)-1]; (kind == "finding" || kind == "because" || kind == "way" || kind == "next" || kind == "caution" || kind == "change") && last != '.' {
			t.Errorf("%s is no whole sentence: %s", code, text)
		}
	}
}

func TestText(t *testing.T) {
	values := Values{"volts": 9.3, "limit": quantity.Volts(9.52), "percent": 51.0}
	want := "9.30 V under load is below 9.52 V, but at 51 % charge a sound battery does that too. Proves nothing yet."
	if got := strings.ReplaceAll(Text("finding.load_fail_low", values), "\u00a0", " "); got != want {
		t.Errorf("got %s", got)
	}
	american := quantity.Units{Fahrenheit: true, DecimalComma: true}
	got := TextIn(american, "finding.load_pass", Values{"volts": 9.9, "amps": quantity.Amperes(325), "seconds": quantity.Seconds(15), "at": quantity.Celsius(10), "limit": 9.4})
	if got = strings.ReplaceAll(got, "\u00a0", " "); got != "9,90 V under 325 A for 15 s; minimum 9,40 V at 50 °F. Passed." {
		t.Errorf("got %s", got)
	}
	if got := Text("no.such.code", nil); got != "⟨no.such.code⟩" {
		t.Errorf("a gap hides: %s", got)
	}
	if got := Text("finding.look", Values{"finding": "hold_down", "where": "", "degree": ""}); got != "Seen: hold-down missing or loose." {
		t.Errorf("got %s", got)
	}
}

func TestWord(t *testing.T) {
	for code, want := range map[string]string{"agm": "AGM", "clamp_not_seated": "clamp not seated", "crank_power": "Crank power", "some_new_code": "some new code"} {
		if got := Word(code); got != want {
			t.Errorf("%s: %s", code, got)
		}
	}
	if words := Words(); words["keep"] != "Keep" || len(words) < 50 {
		t.Errorf("%d words", len(words))
	}
}

func TestSay(t *testing.T) {
	s := Say("because.no_test", nil)
	if s.Values == nil || s.Readings == nil || s.Text == "" {
		t.Errorf("%+v", s)
	}
	if got := Placeholders("finding.charge"); strings.Join(got, " ") != "volts percent low high" {
		t.Errorf("placeholders %v", got)
	}
}

// TestForms checks how each form prints its figure, in a person's units.
func TestForms(t *testing.T) {
	var metric quantity.Units
	american := quantity.Units{Fahrenheit: true, DecimalComma: true}
	for _, c := range []struct {
		units quantity.Units
		value any
		form  string
		want  string
	}{
		{metric, quantity.Volts(9.52), "V", "9.52 V"},
		{american, quantity.Volts(9.52), "V", "9,52 V"},
		{metric, 325, "A", "325 A"},
		{metric, quantity.Celsius(-6.4), "C", "−6 °C"},
		{american, quantity.Celsius(-6.4), "C", "20 °F"},
		{metric, 51.0, "%", "51 %"},
		{metric, quantity.Seconds(90), "s", "90 s"},
		{metric, quantity.Minutes(90), "min", "90 min"},
		{metric, quantity.Minutes(180), "min", "3 h"},
		{metric, quantity.AmpereHours(6.5), "Ah", "6.5 Ah"},
		{metric, quantity.Ohms(0.003), "Ohm", "3.0 mΩ"},
		{metric, quantity.Amperes(0.085), "mA", "85 mA"},
		{metric, quantity.Amperes(1.2), "mA", "1.2 A"},
		{metric, 67.5, "0", "68"},
		{metric, 2.66, "1", "2.7"},
		{metric, 2.666, "2", "2.67"},
		{metric, 1.2251, "3", "1.225"},
		{metric, 1.5, "", "1.5"},
		{metric, "clamp_loose", "word", "loose clamp"},
		{metric, "charging", "kind", "charging volts"},
		{metric, "charging", "word", "charging"},
		{metric, "positive", "tail", " positive"},
		{metric, "", "tail", ""},
		{metric, "2027-01-24", "date", "24 January"},
		{metric, "soon", "date", "soon"},
	} {
		if got := strings.ReplaceAll(figure(c.units, c.value, c.form), "\u00a0", " "); got != c.want {
			t.Errorf("%v as %s: %q, want %q", c.value, c.form, got, c.want)
		}
	}
}
