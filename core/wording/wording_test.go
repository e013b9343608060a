package wording

import (
	"regexp"
	"strings"
	"testing"

	"grapnel/core/quantity"
)

// forms are the ways a placeholder may ask to be printed.
var forms = regexp.MustCompile(`\{([a-z_]+)(?::(V|A|C|%|s|min|2|word|tail))?\}`)

// TestCatalogue checks every sentence: whole placeholders, whole sentences, no
// double blanks, no name of a person or maker's product.
func TestCatalogue(t *testing.T) {
	for _, code := range Codes() {
		text := english[code]
		if rest := forms.ReplaceAllString(text, ""); strings.ContainsAny(rest, "{}") {
			t.Errorf("%s has a broken placeholder: %s", code, text)
		}
		if strings.TrimSpace(text) != text || strings.Contains(text, "  ") || text == "" {
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
	want := "9.30 V under load is short of 9.52 V, but at 51 % charge a sound battery does this too. It proves nothing yet."
	if got := strings.ReplaceAll(Text("finding.load_fail_low", values), "\u00a0", " "); got != want {
		t.Errorf("got %s", got)
	}
	american := quantity.Units{Fahrenheit: true, DecimalComma: true}
	got := TextIn(american, "finding.load_pass", Values{"volts": 9.9, "amps": quantity.Amperes(325), "seconds": quantity.Seconds(15), "at": quantity.Celsius(10), "limit": 9.4})
	if got = strings.ReplaceAll(got, "\u00a0", " "); got != "9,90 V under 325 A for 15 s; at 50 °F at least 9,40 V is asked. Passed." {
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
	if words := Words(); words["keep"] != "Keep it" || len(words) < 50 {
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
