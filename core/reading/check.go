package reading

import (
	"strings"
	"unicode"

	"grapnel/core/problem"
)

// maxName is the longest instrument or fuse name taken, in bytes.
const maxName = 60

// What a cell's specific gravity can be at all; beyond it nobody can mean it.
const (
	leastSG = 1.0
	mostSG  = 1.4
)

// cellCounts says how many cells a reading may have.
const cellCounts = "3 (6 V), 4 (8 V), 6 (12 V) or 12 (24 V) cells; - for one that could not be read"

// outside words a figure beyond its plausible range.
func (f *numberField) outside(x float64) (problem.Problem, bool) {
	if x >= f.low && x <= f.high {
		return problem.Problem{}, false
	}
	pr := problem.New("problem.range", f.json, strings.TrimSpace(plain(x)+" "+unitName(f.unit)), f.allowed())
	if f.unit == unitVolt {
		pr = pr.Suggesting(nearVolts(x)...)
	}
	return pr, true
}

// allowed words the range of a field.
func (f *numberField) allowed() string {
	return strings.TrimSpace(problem.Range(f.low, f.high, unitName(f.unit)))
}

// check finds what is wrong with one reading by itself: a required field
// missing, a figure out of range, a figure that needs its code.
func check(r *Reading) problem.List {
	t := tableOf(r.Kind)
	var found problem.List
	for i := range t.numbers {
		f := &t.numbers[i]
		x, given := r.Number(f.id)
		if !given && f.required {
			found = append(found, problem.New("problem.missing", f.json, "", f.allowed()))
		}
		if !given {
			continue
		}
		if pr, bad := f.outside(x); bad {
			found = append(found, pr)
		}
	}
	for i := range t.choices {
		f := &t.choices[i]
		if f.required && r.choice[f.id] == 0 || f.follows && r.choice[f.id] == 0 && r.Has(f.sets) {
			found = append(found, problem.New("problem.missing", f.json, "", problem.OneOf(f.offered())))
		}
	}
	found = append(found, t.checkLeast(r)...)
	found = append(found, t.checkCells(r)...)
	found = append(found, checkTogether(r)...)
	for _, name := range [2]struct{ field, text string }{{"by", r.By}, {"fuse", r.Fuse}} {
		if name.text != "" && !validName(name.text) {
			found = append(found, problem.New("problem.text", name.field, name.text, nameAllowed()))
		}
	}
	return found
}

func nameAllowed() string { return problem.Range(1, maxName, "characters, no quotes") }

// checkLeast asks for one figure of those a kind must have one of.
func (t *kindTable) checkLeast(r *Reading) problem.List {
	if len(t.least) == 0 || r.overFuse() {
		return nil // a fuse asks for its own, checkTogether
	}
	for _, id := range t.least {
		if r.Has(id) {
			return nil
		}
	}
	f := t.number(t.least[0])
	return problem.List{problem.New("problem.missing", f.json, "", f.allowed()+" ("+t.example+")")}
}

func (t *kindTable) checkCells(r *Reading) problem.List {
	if t.cells == nil {
		return nil
	}
	switch count := int(r.cellCount); count {
	case 3, 4, 6, 12:
	case 0:
		return problem.List{problem.New("problem.missing", "cells", "", cellCounts)}
	default:
		return problem.List{problem.New("problem.cells", "cells", plain(float64(count)), cellCounts)}
	}
	for _, cell := range r.Cells() {
		if cell.SG != 0 && (cell.SG < leastSG || cell.SG > mostSG) {
			return problem.List{problem.New("problem.range", "cells", plain(cell.SG), problem.Range(leastSG, mostSG, ""))}
		}
	}
	return nil
}

// checkTogether finds fields that cannot stand together or not alone.
func checkTogether(r *Reading) problem.List {
	var found problem.List
	ask := func(field, allowed string) { found = append(found, problem.New("problem.missing", field, "", allowed)) }
	switch r.Kind {
	case Gravity:
		correction := r.Choice(Correction)
		if correction == "points" && !r.Has(Points) {
			ask("points", problem.Range(-100, 100, ""))
		}
		if r.Has(Points) && correction != "points" {
			found = append(found, problem.New("problem.together", "correction", correction, "points"))
		}
	case Drain:
		if r.Has(Millivolts) && !r.Has(FuseRatingA) {
			ask("fuse_rating_a", "1, 2, 3, 4, 5, 7.5, 10, 15, 20, 25, 30, 35, 40, 50, 60, 70, 80, 100 A")
		}
		if r.overFuse() && !r.Has(Millivolts) && !r.Has(Amps) {
			ask("millivolts", problem.Range(0, 500, "mV"))
		}
	case History:
		if r.Has(JumpsDays) && !r.Has(Jumps) {
			ask("jumps", problem.Range(0, 400, ""))
		}
	}
	return found
}

func validName(name string) bool {
	return name != "" && len(name) <= maxName && !strings.ContainsFunc(name, func(c rune) bool {
		return c == '"' || problem.Hidden(c) || unicode.IsControl(c) || unicode.IsSpace(c) && c != ' '
	}) && name == strings.TrimSpace(name)
}
