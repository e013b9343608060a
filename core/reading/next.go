package reading

import (
	"slices"
	"strconv"
	"strings"

	"grapnel/core/problem"
	"grapnel/core/wording"
)

// Completion is something that may be typed next.
type Completion struct {
	// Insert is the text to put in the place of the word begun.
	Insert string `json:"insert"`
	// Says what it would be understood as.
	Says string `json:"says"`
	// Example is a line in which it stands.
	Example string `json:"example"`
}

// Completions are what may be typed next: each replaces the line from a byte on.
type Completions struct {
	From int          `json:"from"`
	List []Completion `json:"list"`
}

// Complete lists what may come next in a line: the words that continue the one
// begun or, where it is whole already, those that may stand behind it, each with
// its blank.
func Complete(line string) Completions {
	start := 0
	if parts := Parts(line); len(parts) > 0 && !strings.HasSuffix(strings.TrimSpace(line), ";") {
		start = parts[len(parts)-1].Start
	} else {
		start = len(line)
	}
	body := line[start:]
	words := split(body)
	whole := words
	begun := ""
	from, list := len(line), []Completion{}
	if len(words) > 0 && int(words[len(words)-1].end) == len(body) {
		begun = words[len(words)-1].low
		from = start + int(words[len(words)-1].start)
		words = words[:len(words)-1]
	}
	before := line[start:from]
	for _, candidate := range candidates(before, words) {
		if filled, ok := withFigure(candidate, begun); ok && taken(before+filled.Insert) {
			list = append(list, filled)
		} else if !ok && strings.HasPrefix(candidate.Insert, begun) && candidate.Insert != begun {
			list = append(list, candidate)
		}
	}
	if len(list) > 0 || begun == "" {
		return Completions{from, list}
	}
	for _, candidate := range candidates(body, whole) {
		candidate.Insert = " " + candidate.Insert
		list = append(list, candidate)
	}
	return Completions{len(line), list}
}

// withFigure puts the figure that was begun in the place of the example's: 0.07 becomes
// 0.07 v where the example is 0.08 v. It reports whether both have a figure.
func withFigure(c Completion, figure string) (Completion, bool) {
	const digits = "0123456789."
	bare := func(text string) string { return strings.TrimLeft(strings.TrimPrefix(text, "-"), digits) }
	behind := bare(c.Insert)
	if figure == "" || bare(figure) != "" || behind == c.Insert || strings.Trim(figure, "-.") == "" {
		return c, false
	}
	unit, _, _ := strings.Cut(strings.TrimPrefix(behind, " "), " ")
	if unit == "" || strings.ContainsAny(unit, digits+"/") {
		return c, false
	}
	c.Insert = figure + behind[:len(behind)-len(strings.TrimPrefix(behind, " "))] + unit
	return c, true
}

// taken reports a line in which nothing is wrong, though something may be missing.
func taken(line string) bool {
	p := parser{line: line, words: split(line)}
	p.run()
	return !slices.ContainsFunc(p.problems, func(pr problem.Problem) bool { return pr.Code != "problem.missing" })
}

// candidates are the completions behind the whole words of a line.
func candidates(body string, words []word) []Completion {
	if len(words) == 0 {
		return openingCompletions()
	}
	p := parser{line: body, words: words}
	p.run()
	if p.table == nil || p.next < len(p.words) {
		return nil // what stands there is not understood
	}
	return p.completions()
}

func openingCompletions() []Completion {
	list := make([]Completion, 0, len(kinds))
	for i := range kinds {
		t := &kinds[i]
		insert, _, _ := strings.Cut(t.example, " ")
		if len(t.starts) == 0 {
			insert = t.example
		}
		list = append(list, Completion{insert, wording.Kind(string(t.kind)), t.example})
		if t.byItem || t.kind == Drain {
			for _, word := range t.starts {
				if word != insert && word != "left" {
					list = append(list, Completion{word, wording.Kind(string(t.kind)), t.exampleOf(word)})
				}
			}
		}
	}
	return list
}

// exampleOf is a line that starts with one of a kind's words.
func (t *kindTable) exampleOf(start string) string {
	for i := range t.numbers {
		if f := &t.numbers[i]; strings.HasPrefix(f.word, start) {
			return f.example
		}
	}
	if start == "fuse" {
		return "fuse F12 15a 1.2mv"
	}
	return t.example
}

// completions are the fields still open, each as it would be typed.
func (p *parser) completions() []Completion {
	var list []Completion
	t := p.table
	add := func(insert, says string) {
		list = append(list, Completion{insert, says, t.example})
	}
	if t.cells != nil && int(p.reading.cellCount) < 6 {
		if t.cells.figures {
			add("1265", wording.Text("field.cells", nil))
		}
		for _, code := range append(append([]string{}, t.cells.codes...), "-") {
			add(code, wording.Text("field.cells", nil))
		}
	}
	for _, f := range p.unset() {
		if f.hasBeside && !p.reading.Has(f.beside) {
			continue
		}
		if f.example != "" && f.gate != behindCode && !(f.gate == behindFuse && !p.fuse) && !(f.gate == beforeFuse && p.fuse) {
			add(f.example, fieldSays(t.kind, f.json))
		}
	}
	for i := range t.choices {
		f := &t.choices[i]
		if p.reading.choice[f.id] != 0 {
			continue
		}
		for j := range f.codes {
			text := f.spoken(j)
			if f.word != "" {
				text = f.word + " " + text
			}
			if p.table.words[strings.ReplaceAll(text, " ", "_")].kind == entryNumber {
				continue // said with its figure
			}
			add(text, fieldSays(t.kind, f.json))
		}
	}
	if !p.reading.AfterCharge {
		add("after charge", fieldSays(t.kind, "after_charge"))
	}
	if p.reading.By == "" {
		add("by meter-2", fieldSays(t.kind, "by"))
	}
	return list
}

// fieldSays words what a field of a kind holds.
func fieldSays(kind Kind, json string) string {
	if own := "field." + string(kind) + "." + json; wording.Has(own) {
		return wording.Text(own, nil)
	}
	return wording.Text("field."+json, nil)
}

// offered lists a choice's codes as they stand in JSON.
func (f *choiceField) offered() []string {
	if f.flag {
		return []string{"true", "false"}
	}
	return f.codes
}

// names lists figures with their units, for a problem's text.
func names(fields []*numberField) string {
	list := make([]string, 0, len(fields))
	for _, f := range fields {
		switch {
		case f.gate == behindCode:
			continue
		case f.word != "":
			list = append(list, f.word+" … "+unitName(f.unit))
		default:
			list = append(list, wording.Word(f.json)+" ("+unitName(f.unit)+")")
		}
	}
	return strings.Join(list, ", ")
}

// understood lists the words that would be taken at this point.
func (p *parser) understood() string {
	var list []string
	for _, f := range p.unset() {
		switch {
		case f.word != "":
			list = append(list, f.word+" …")
		case f.unit != unitPlain && f.gate != behindCode:
			list = append(list, unitName(f.unit))
		}
	}
	if p.table.cells != nil {
		list = append(list, p.table.cells.codes...)
		list = append(list, "-")
	}
	for i := range p.table.choices {
		f := &p.table.choices[i]
		if p.reading.choice[f.id] != 0 {
			continue
		}
		for j := range f.codes {
			text := strings.ReplaceAll(f.spoken(j), "_", " ")
			if f.word != "" {
				text = f.word + " " + text
			}
			list = append(list, text)
		}
	}
	return strings.Join(append(list, "after charge", "by …", "at …"), ", ")
}

// nearVolts offers what a voltage far out of range may have meant, for a lead
// battery: a slipped or missing decimal mark.
func nearVolts(x float64) []string {
	var meant []string
	for _, divisor := range []float64{10, 100, 1000} {
		if v := x / divisor; v >= 5 && v <= 16.5 {
			meant = append(meant, strconv.FormatFloat(v, 'f', -1, 64)+" v")
		}
	}
	return meant
}
