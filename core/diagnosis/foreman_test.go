package diagnosis

import (
	"embed"
	"fmt"
	"io/fs"
	"slices"
	"strconv"
	"strings"
	"testing"

	"grapnel/core/evidence"
	"grapnel/core/logbook"
	"grapnel/core/wording"
)

// The cases of a foreman: what a master technician would say of readings he is called to.
// They stand in testdata/foreman as text that needs no knowledge of the code: the label, the
// vehicle, the readings line by line, what must hold, and why. Common practice of the trade,
// no source, but where a case names one.
//
//go:embed testdata/foreman
var foremanFiles embed.FS

// foremanCase is one case of the text.
type foremanCase struct {
	name, header, why string
	readings, musts   []string
}

func foremanCases(t *testing.T) []foremanCase {
	t.Helper()
	var list []foremanCase
	err := fs.WalkDir(foremanFiles, "testdata/foreman", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		text, err := foremanFiles.ReadFile(path)
		for _, line := range strings.Split(string(text), "\n") {
			key, rest, _ := strings.Cut(line, " ")
			last := len(list) - 1
			switch {
			case line == "" || key == "#":
			case key == "case":
				list = append(list, foremanCase{name: rest})
			case key == "|":
				list[last].readings = append(list[last].readings, rest)
			case key == "must":
				list[last].musts = append(list[last].musts, rest)
			case key == "why":
				list[last].why = rest
			default:
				list[last].header += line + "\n"
			}
		}
		return err
	})
	if err != nil {
		t.Fatal(err)
	}
	return list
}

func (c foremanCase) parse(t *testing.T) evidence.Case {
	t.Helper()
	text := c.header
	if !strings.Contains(text, "battery:") {
		t.Fatal("no battery")
	}
	book, err := logbook.Parse(text + "\n" + strings.Join(c.readings, "\n") + "\n")
	if err != nil {
		t.Fatalf("%v\n%s", err, text)
	}
	return book.Case(0)
}

// TestForeman puts every case through the engine and checks all that must hold.
func TestForeman(t *testing.T) {
	cases := foremanCases(t)
	if len(cases) < leastForemanCases {
		t.Errorf("%d cases, want %d", len(cases), leastForemanCases)
	}
	seen := map[string]bool{}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			if seen[c.name] || c.why == "" || len(c.musts) == 0 {
				t.Fatal("a case has a name of its own, something that must hold, and a reason")
			}
			seen[c.name] = true
			told := toldOf{a: judged.Assess(c.parse(t))}
			for _, must := range c.musts {
				if why := told.fails(must); why != "" {
					t.Errorf("must %s: %s\n  why: %s\n%s", must, why, c.why, told.sketch())
				}
			}
		})
	}
}

// leastForemanCases is how many there are at the least.
const leastForemanCases = 120

// toldOf is an assessment that is held against what must hold.
type toldOf struct{ a Assessment }

// fails says what is wrong with one demand; empty where it holds.
func (t toldOf) fails(must string) string {
	words := strings.Fields(must)
	args := words[1:]
	switch words[0] {
	case "action":
		return oneOf(string(t.a.Verdict.Action), args)
	case "cause":
		return oneOf(t.cause(), args)
	case "first":
		if len(t.a.Next) == 0 {
			return "nothing is next"
		}
		return oneOf(t.a.Next[0].Test, args)
	case "next", "never":
		return t.offers(args, words[0] == "next")
	case "valid", "invalid":
		return t.counts(args, words[0] == "valid")
	case "finding":
		return t.found(args[0], args[1])
	case "caution", "nocaution":
		for _, c := range t.a.Cautions {
			if string(c) == args[0] {
				return holds(words[0] == "caution", "it is there")
			}
		}
		return holds(words[0] == "nocaution", "it is not there")
	case "says", "silent":
		text := strings.Join(args, " ")
		return holds(strings.Contains(t.text(), text) == (words[0] == "says"), "of it all")
	case "charge":
		return t.charge(args)
	}
	return t.compare(words)
}

func holds(ok bool, otherwise string) string {
	if ok {
		return ""
	}
	return otherwise
}

func oneOf(got string, allowed []string) string {
	return holds(slices.Contains(allowed, got), "it is "+got)
}

func (t toldOf) cause() string {
	if t.a.Verdict.Cause == nil {
		return "none"
	}
	return *t.a.Verdict.Cause
}

func (t toldOf) offers(tests []string, wanted bool) string {
	for _, test := range tests {
		there := slices.ContainsFunc(t.a.Next, func(n Next) bool { return n.Test == test })
		if there != wanted {
			return fmt.Sprintf("%s offered: %v", test, there)
		}
	}
	return ""
}

func (t toldOf) counts(places []string, wanted bool) string {
	for _, place := range places {
		i, err := strconv.Atoi(place)
		if err != nil || t.a.Findings[i-1].Valid != wanted {
			return fmt.Sprintf("%s counts: %v", place, t.a.Findings[i-1].Valid)
		}
	}
	return ""
}

// found checks the code of a finding by its place, from 1.
func (t toldOf) found(place, code string) string {
	i, err := strconv.Atoi(place)
	if err != nil {
		return err.Error()
	}
	return oneOf(strings.TrimPrefix(string(t.a.Findings[i-1].Code()), "finding."), []string{code})
}

func (t toldOf) charge(args []string) string {
	switch {
	case args[0] == "none":
		return holds(t.a.ChargeState == nil, "there is one")
	case t.a.ChargeState == nil:
		return "there is none"
	}
	return measure(t.a.ChargeState.Percent, args[0], args[1])
}

// compare holds a probability against a figure or another: sound < 0.5, worn > dead_cell,
// undercharging > 0.8, confidence > 0.5.
func (t toldOf) compare(words []string) string {
	if len(words) != 3 {
		return "is no demand"
	}
	right := words[2]
	if _, err := strconv.ParseFloat(right, 64); err != nil {
		right = fmt.Sprint(t.probability(right))
	}
	return measure(t.probability(words[0]), words[1], right)
}

func measure(got float64, sign, figure string) string {
	limit, err := strconv.ParseFloat(figure, 64)
	if err != nil {
		return err.Error()
	}
	return holds(sign == "<" && got < limit || sign == ">" && got > limit, fmt.Sprint("it is ", got))
}

func (t toldOf) probability(name string) float64 {
	switch c := t.a.Condition; name {
	case "sound":
		return c.Sound
	case "worn":
		return c.Worn
	case "dead_cell":
		return c.DeadCell
	case "damaged":
		return c.Damaged
	case "confidence":
		return t.a.Verdict.Confidence
	}
	for _, c := range t.a.Causes {
		if c.Cause == name {
			return c.Probability
		}
	}
	return 0
}

// text is all that the assessment says.
func (t toldOf) text() string {
	var all []string
	add := func(list ...wording.Statement) {
		for _, s := range list {
			all = append(all, s.Text)
		}
	}
	for _, f := range t.a.Findings {
		add(f.Text)
		add(f.More...)
	}
	for _, n := range t.a.Next {
		add(n.Text, n.Why)
	}
	add(t.a.Verdict.Because...)
	add(t.a.Verdict.WouldChange...)
	return strings.Join(all, "\n")
}

// sketch is the assessment in a few lines, for a case that fails.
func (t toldOf) sketch() string {
	out := fmt.Sprintf("  %s %s %.2f, %+v, charge %+v\n", t.a.Verdict.Action, t.cause(), t.a.Verdict.Confidence, t.a.Condition, t.a.ChargeState)
	for _, c := range t.a.Causes {
		out += fmt.Sprintf("  %s %.3f", c.Cause, c.Probability)
	}
	out += "\n  next:"
	for _, n := range t.a.Next {
		out += " " + n.Test
	}
	for i, f := range t.a.Findings {
		out += fmt.Sprintf("\n  %d %v %s", i+1, f.Valid, f.Text.Text)
	}
	return out
}
