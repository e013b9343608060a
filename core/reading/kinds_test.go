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
			printed := slices.ContainsFunc(k.print, func(p part) bool { return p.what == partNumber && p.number == f.id })
			if printed == followed {
				t.Errorf("%s.%s is printed %v, and behind a code %v", k.kind, f.json, printed, followed)
			}
			if f.low >= f.high || f.bareHigh != 0 && (f.bareLow < f.low || f.bareHigh > f.high) {
				t.Errorf("%s.%s has a range that is none", k.kind, f.json)
			}
		}
		words := map[string]string{}
		for _, c := range k.choices {
			if !slices.ContainsFunc(k.print, func(p part) bool { return p.what == partChoice && p.choice == c.id }) {
				t.Errorf("%s.%s is not printed", k.kind, c.json)
			}
			for _, code := range c.codes {
				if other, taken := words[strings.ToLower(code)]; taken && c.word == "" && !c.flag {
					t.Errorf("%s: %s means %s and %s", k.kind, code, other, c.json)
				}
				words[strings.ToLower(code)] = c.json
			}
		}
	}
}

// TestEveryCode checks that each code of each kind can be typed and comes back.
func TestEveryCode(t *testing.T) {
	for _, k := range kinds {
		base, err := Parse(k.example)
		if err != nil {
			t.Fatal(err)
		}
		for _, c := range k.choices {
			for i, code := range c.codes {
				if c.id == Correction && code == "points" {
					continue // said with its figure
				}
				bare := base.Reading
				bare.choice[c.id] = 0
				line := Print(bare) + " "
				if c.word != "" {
					line += c.word + " "
				}
				spoken := c.spoken(i)
				for _, spelling := range []string{spoken, strings.ReplaceAll(strings.ToUpper(spoken), "_", " ")} {
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
				if f.id == Points {
					r = r.WithChoice(Correction, "points")
				}
				if f.id == Jumps || f.id == JumpsDays {
					r = r.With(Jumps, 3).With(f.id, x)
				}
				if f.id == Millivolts || f.id == FuseRatingA {
					r = r.With(FuseRatingA, 10).With(f.id, x)
				}
				if got := len(check(&r)) == 0; got != ok {
					t.Errorf("%s.%s = %v taken %v", k.kind, f.json, x, got)
				}
				if _, err := Parse(Print(r)); (err == nil) != ok && x >= 0 {
					t.Errorf("%s.%s = %v as %q: %v", k.kind, f.json, x, Print(r), err)
				}
			}
		}
	}
}

// TestShortForms checks that each short form leads to a word of some kind: one
// that leads nowhere is dead.
func TestShortForms(t *testing.T) {
	for short, long := range shortForms {
		lives := false
		for i := range kinds {
			_, known := kinds[i].words[long]
			cell := kinds[i].cells != nil && slices.Contains(kinds[i].cells.codes, long)
			since := kinds[i].choice(Since)
			lives = lives || known || cell || since != nil && slices.Contains(since.codes, long)
		}
		if !lives {
			t.Errorf("%s stands for %s, which no kind knows", short, long)
		}
	}
}

// TestShortFormsStandForOneThing checks that a line is taken or refused the same in
// every run, in whatever order the short forms are gone through: none stands for
// another short form.
func TestShortFormsStandForOneThing(t *testing.T) {
	for line, want := range map[string]string{
		"look fine": "look none", "look ok": "look none", "look full": "", "look empty": "", "level fine full ok under ok empty": "level ok ok ok low ok dry", "eye bad": "",
	} {
		for range 60 {
			for i := range kinds {
				kinds[i].words = kinds[i].index()
			}
			parsed, err := Parse(line)
			if got := Print(parsed.Reading); (err == nil) != (want != "") || err == nil && got != want {
				t.Fatalf("%q is %q, %v; want %q", line, got, err, want)
			}
		}
	}
}

// TestComplete checks what may come next: openings on an empty line, and on
// every line begun only what the parser then takes.
func TestComplete(t *testing.T) {
	from, list := completed("")
	if from != 0 || len(list) < len(kinds) {
		t.Fatalf("%d openings at %d", len(list), from)
	}
	for _, k := range kinds {
		words := strings.Fields(k.example)
		for i := 1; i <= len(words); i++ {
			begun := strings.Join(words[:i], " ") + " "
			if _, err := Parse(begun); err != nil {
				continue
			}
			from, list := completed(begun)
			if from != len(begun) {
				t.Errorf("%q is completed from %d", begun, from)
			}
			for _, c := range list {
				p := parser{line: begun + c.Insert, words: split(begun + c.Insert)}
				p.run()
				for _, pr := range p.problems {
					if strings.HasPrefix(pr.Code, "line.") {
						t.Errorf("%q is offered %q: %v", begun, c.Insert, pr)
					}
				}
				if c.Says == "" || strings.Contains(c.Says, "⟨") {
					t.Errorf("%s: %q says nothing", k.kind, c.Insert)
				}
			}
		}
	}
	if from, list := completed("12.41 v res"); from != 8 || len(list) != 1 || list[0].Insert != "rested 2h" {
		t.Errorf("res: %d %v", from, list)
	}
	for begun, want := range map[string][]string{
		"ripple 0.07": {"0.07 v"}, "12.5": {"12.5 v"}, "charge 14.1v 9": {"9a", "9min"}, "drain 40": {"40 ma"},
		"drop negative clamp 0.2 v 120": {"120a"}, "stood 8h -3": {"-3c"}, "fuse F12 10a 2": {"2mv"}, "running 45": nil,
	} {
		_, list := completed(begun)
		for i, c := range list {
			if i < len(want) && c.Insert != want[i] || i < len(want) && !taken(begun[:strings.LastIndex(begun, " ")+1]+c.Insert) {
				t.Errorf("%q is offered %q, want %v", begun, c.Insert, want)
			}
		}
		if len(list) < len(want) {
			t.Errorf("%q is offered %v, want %v", begun, list, want)
		}
	}
	if from, list := completed("eye dark; dra"); from != 10 || len(list) != 1 || list[0].Insert != "drain" {
		t.Errorf("second reading: %d %v", from, list)
	}
	if _, list := completed("eye dark; "); len(list) < len(kinds) {
		t.Errorf("behind a semicolon: %v", list)
	}
	if _, list := completed("hello "); len(list) != 0 {
		t.Errorf("behind nonsense: %v", list)
	}
}

func completed(line string) (from int, list []Completion) {
	c := Complete(line)
	return c.From, c.List
}
