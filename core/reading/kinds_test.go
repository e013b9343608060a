package reading

import (
	"slices"
	"strings"
	"testing"
)

// TestTable checks the one table against itself: every field is printed, every
// range is one, every example is canonical, no word means two things.
func TestTable(t *testing.T) {
	for _, k := range kinds {
		p, err := Parse(k.example)
		if err != nil || p.Reading.Kind != k.kind || Print(p.Reading) != k.example {
			t.Errorf("%s: example %q: %v", k.kind, k.example, err)
		}
		if Example(k.kind) != k.example {
			t.Errorf("%s has no example", k.kind)
		}
		for _, f := range k.numbers {
			followed := slices.ContainsFunc(k.choices, func(c choiceField) bool { return c.follows && c.sets == f.id })
			printed := slices.ContainsFunc(k.print, func(p part) bool { return !p.isChoice && p.number == f.id })
			if printed == followed {
				t.Errorf("%s.%s is printed %v, and behind a code %v", k.kind, f.json, printed, followed)
			}
			if f.low >= f.high || f.bareHigh != 0 && (f.bareLow < f.low || f.bareHigh > f.high) {
				t.Errorf("%s.%s has a range that is none", k.kind, f.json)
			}
		}
		words := map[string]string{}
		for _, c := range k.choices {
			if !slices.ContainsFunc(k.print, func(p part) bool { return p.isChoice && p.choice == c.id }) {
				t.Errorf("%s.%s is not printed", k.kind, c.json)
			}
			for _, code := range c.codes {
				if other, taken := words[strings.ToLower(code)]; taken && c.word == "" {
					t.Errorf("%s: %s means %s and %s", k.kind, code, other, c.json)
				}
				words[strings.ToLower(code)] = c.json
			}
		}
	}
}

// TestEveryCode checks that each code of each kind can be typed and comes back.
func TestEveryCode(t *testing.T) {
	start := map[Kind]string{OpenCircuit: "12.4 v ", Eye: "eye ", Look: "look ", Load: "load 300a 15s 9v ", Conductance: "500/600 cca "}
	for _, k := range kinds {
		for _, c := range k.choices {
			for _, code := range c.codes {
				line := start[k.kind]
				if k.kind == Look && c.id != Finding {
					line += "corrosion "
				}
				if c.word != "" {
					line += c.word + " "
				}
				for _, spelling := range []string{strings.ToLower(code), strings.ReplaceAll(strings.ToUpper(code), "_", " ")} {
					p, err := Parse(line + spelling)
					if err != nil || p.Reading.Choice(c.id) != code {
						t.Errorf("%s%s: got %q, %v", line, spelling, p.Reading.Choice(c.id), err)
					}
				}
			}
		}
	}
}

// TestEveryBound checks that each figure is taken at its bounds and refused
// beyond them, by line and by object alike.
func TestEveryBound(t *testing.T) {
	for _, k := range kinds {
		base, err := Parse(k.example)
		if err != nil {
			t.Fatal(err)
		}
		for _, f := range k.numbers {
			for x, ok := range map[float64]bool{f.low: true, f.high: true, f.low - 0.5: false, f.high + 0.5: false} {
				r := base.Reading.With(f.id, x)
				if f.id == SurfaceS {
					r = r.WithChoice(SurfaceRemoved, "lamps")
				}
				if got := len(check(r)) == 0; got != ok {
					t.Errorf("%s.%s = %v taken %v", k.kind, f.json, x, got)
				}
				if _, err := Parse(Print(r)); (err == nil) != ok && x >= 0 {
					t.Errorf("%s.%s = %v as %q: %v", k.kind, f.json, x, Print(r), err)
				}
			}
		}
	}
}

// TestLaterKinds checks that a kind of the trade which is not served is refused
// by its name, not as nonsense.
func TestLaterKinds(t *testing.T) {
	for word, kind := range laterWords {
		if !slices.Contains(later, kind) {
			t.Errorf("%s leads to %s, which is in no list", word, kind)
		}
		if _, err := Parse(word + " 1"); err == nil || !strings.Contains(err.Error(), kind) {
			t.Errorf("%s: %v", word, err)
		}
	}
}
