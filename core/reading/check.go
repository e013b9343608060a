package reading

import (
	"strings"
	"unicode"

	"grapnel/core/problem"
)

// maxName is the longest instrument name taken, in bytes.
const maxName = 60

// outside words a figure beyond its plausible range.
func (f *numberField) outside(x float64) (problem.Problem, bool) {
	if x >= f.low && x <= f.high {
		return problem.Problem{}, false
	}
	pr := problem.New("problem.range", f.json, plain(x)+" "+unitName[f.unit], problem.Range(f.low, f.high, unitName[f.unit]))
	if f.unit == unitVolt {
		pr = pr.Suggesting(nearVolts(x)...)
	}
	return pr, true
}

// check finds what is wrong with one reading by itself: a required field
// missing, a figure out of range, a figure that needs its code.
func check(r Reading) problem.List {
	t := tableOf(r.Kind)
	var found problem.List
	for i := range t.numbers {
		f := &t.numbers[i]
		x, given := r.Number(f.id)
		if !given && f.required {
			found = append(found, problem.New("problem.missing", f.json, "", problem.Range(f.low, f.high, unitName[f.unit])))
		}
		if pr, bad := f.outside(x); given && bad {
			found = append(found, pr)
		}
	}
	for i := range t.choices {
		f := &t.choices[i]
		if r.Choice(f.id) == "" && f.required {
			found = append(found, problem.New("problem.missing", f.json, "", problem.OneOf(f.codes)))
		}
		if f.follows && r.Choice(f.id) == "" && r.Has(f.sets) {
			found = append(found, problem.New("problem.missing", f.json, "", problem.OneOf(f.codes)))
		}
	}
	if !validName(r.By) {
		found = append(found, problem.New("problem.text", "by", r.By, problem.Range(1, maxName, "characters, no quotes")))
	}
	return found
}

func validName(name string) bool {
	return len(name) <= maxName && !strings.ContainsFunc(name, func(c rune) bool {
		return c == '"' || c == unicode.ReplacementChar || unicode.IsControl(c) || unicode.IsSpace(c) && c != ' '
	}) && name == strings.TrimSpace(name)
}
