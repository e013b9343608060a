package reading

import (
	"math"
	"strings"
)

// Print writes the reading as its canonical line; Parse of it gives the same
// reading back.
func Print(r Reading) string {
	t := tableOf(r.Kind)
	if t == nil {
		return ""
	}
	words := make([]string, 0, 16)
	if start := t.starting(&r); start != "" {
		words = append(words, start)
	}
	for _, p := range t.print {
		switch p.what {
		case partChoice:
			words = appendChoice(words, &r, t.choice(p.choice))
		case partCells:
			words = appendCells(words, &r)
		case partFuse:
			words = appendFuse(words, &r)
		default:
			words = appendNumber(words, &r, t, p.number)
		}
	}
	if r.AfterCharge {
		words = append(words, "after charge")
	}
	if r.By != "" {
		words = append(words, "by "+quoted(r.By))
	}
	if r.At != "" {
		words = append(words, "at "+r.At)
	}
	return strings.Join(words, " ")
}

// starting is the word a canonical line of the reading starts with.
func (t *kindTable) starting(r *Reading) string {
	switch {
	case t.byItem || len(t.starts) == 0:
		return ""
	case t.kind == Drain && !r.Has(Amps) && r.overFuse():
		return "" // the line starts with fuse
	}
	return t.starts[0]
}

// overFuse reports whether a drain names or rates a fuse.
func (r *Reading) overFuse() bool { return r.Fuse != "" || r.Has(FuseRatingA) }

func appendNumber(words []string, r *Reading, t *kindTable, id Number) []string {
	x, ok := r.Number(id)
	if !ok {
		return words
	}
	switch id {
	case Measured: // printed with Rated as one word
		rated, _ := r.Number(Rated)
		return append(words, plain(x)+"/"+plain(rated), "cca")
	case Rated:
		return words
	}
	f := t.number(id)
	if f.word != "" && !(id == EndVolts && !r.Has(StartVolts)) {
		words = append(words, f.word)
	}
	if f.hasBeside && !r.Has(f.beside) {
		words = append(words, t.number(f.beside).word)
	}
	if f.lead != "" {
		words = append(words, f.lead)
	}
	return append(words, f.figure(x))
}

// figure writes a figure as it stands in a canonical line.
func (f *numberField) figure(x float64) string {
	text := withUnit(x, f.unit)
	if f.small && x < 1 {
		text = thousandfold(x) + "ma"
	}
	if f.spaced {
		number := strings.TrimRight(text, "amv")
		return number + " " + text[len(number):]
	}
	return text
}

func appendChoice(words []string, r *Reading, f *choiceField) []string {
	code := r.Choice(f.id)
	if code == "" || f.id == Correction && code == "points" {
		return words // points are printed with their figure
	}
	if f.word != "" {
		words = append(words, f.word)
	}
	words = append(words, f.spokenOf(code))
	if x, ok := r.Number(f.sets); f.follows && ok {
		words = append(words, withUnit(x, unitSecond))
	}
	return words
}

func appendCells(words []string, r *Reading) []string {
	for _, cell := range r.Cells() {
		switch {
		case cell.Code != "":
			words = append(words, cell.Code)
		case cell.SG != 0:
			words = append(words, thousandfold(cell.SG))
		default:
			words = append(words, "-")
		}
	}
	return words
}

func appendFuse(words []string, r *Reading) []string {
	if !r.overFuse() {
		return words
	}
	words = append(words, "fuse")
	if r.Fuse != "" {
		words = append(words, quotedFuse(r.Fuse))
	}
	return words
}

// withUnit writes a figure with its unit, losing nothing.
func withUnit(x float64, u unit) string {
	switch {
	case u == unitSecond && x >= 60 && math.Mod(x, 60) == 0:
		return plain(x/60) + "min"
	case u == unitMinute && x >= 60 && math.Mod(x, 60) == 0:
		return plain(x/60) + "h"
	}
	return plain(x) + measures[u].printed
}

// quoted puts a name in quotes where it would not be one word by itself.
func quoted(name string) string {
	if strings.ContainsAny(name, " ;,") {
		return `"` + name + `"`
	}
	return name
}

// quotedFuse puts the name of a fuse in quotes where it could be taken for a
// figure or a word of the line.
func quotedFuse(name string) string {
	low := lower(name)
	p := parser{line: name, table: tableOf(Drain), words: []word{{end: int32(len(name)), low: low}, {low: "v"}}}
	if !p.isName(0) {
		return `"` + name + `"`
	}
	return quoted(name)
}
