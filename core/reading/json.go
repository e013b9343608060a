package reading

import (
	"encoding/json"
	"fmt"
	"slices"
	"sort"
	"strconv"
	"strings"

	"grapnel/core/problem"
)

// MarshalJSON writes the reading as a flat object with its kind first and only
// the fields that were given.
func (r Reading) MarshalJSON() ([]byte, error) {
	t := tableOf(r.Kind)
	if t == nil {
		return nil, fmt.Errorf("reading of unknown kind %q", r.Kind)
	}
	out := []byte(`{"kind":"` + string(r.Kind) + `"`)
	if t.cells != nil {
		out = append(out, `,"cells":[`...)
		for i, cell := range r.Cells() {
			if i > 0 {
				out = append(out, ',')
			}
			out = append(out, cell.json()...)
		}
		out = append(out, ']')
	}
	if t.list != "" {
		out = append(out, `,"`+t.list+`":[`...)
		for i, f := range t.listed() {
			if i > 0 {
				out = append(out, ',')
			}
			out = append(out, plain(r.number[f.id])...)
		}
		out = append(out, ']')
	}
	for i := range t.numbers {
		if f := &t.numbers[i]; r.Has(f.id) && !t.inList(f) {
			out = append(out, `,"`+f.json+`":`+plain(r.number[f.id])...)
		}
	}
	for i := range t.choices {
		f := &t.choices[i]
		switch code := r.Choice(f.id); {
		case code == "":
		case f.flag:
			out = append(out, `,"`+f.json+`":`+strconv.FormatBool(code == Yes)...)
		default:
			out = append(out, `,"`+f.json+`":"`+code+`"`...)
		}
	}
	if r.AfterCharge {
		out = append(out, `,"after_charge":true`...)
	}
	for _, text := range [...]struct{ key, value string }{{"fuse", r.Fuse}, {"by", r.By}, {"at", r.At}} {
		if text.value != "" {
			encoded, err := json.Marshal(text.value)
			if err != nil {
				return nil, err
			}
			out = append(append(out, `,"`+text.key+`":`...), encoded...)
		}
	}
	return append(out, '}'), nil
}

func (c Cell) json() string {
	switch {
	case c.Code != "":
		return `"` + c.Code + `"`
	case c.SG != 0:
		return plain(c.SG)
	}
	return "null"
}

// UnmarshalJSON reads what MarshalJSON writes, or a reading line as a string.
func (r *Reading) UnmarshalJSON(data []byte) error {
	var value any
	if err := json.Unmarshal(data, &value); err != nil {
		return err
	}
	parsed, problems := FromJSON(value)
	if err := problems.Err(); err != nil {
		return err
	}
	*r = parsed
	return nil
}

// FromJSON takes a decoded JSON value: a reading line as a string, or an object
// with kind. Unknown fields, kinds and codes are refused by name; null means
// missing. Problems name fields relative to the reading.
func FromJSON(value any) (Reading, problem.List) {
	switch v := value.(type) {
	case string:
		parsed, err := Parse(v)
		if list, ok := err.(problem.List); ok {
			return Reading{}, lineProblems(v, list)
		}
		return parsed.Reading, nil
	case map[string]any:
		return fromObject(v)
	}
	return Reading{}, problem.List{problem.New("problem.type", "", fmt.Sprint(value), openings())}
}

// lineProblems gives a problem of a line the whole line as context.
func lineProblems(line string, list problem.List) problem.List {
	out := make(problem.List, len(list))
	for i, p := range list {
		if p.Field == "line" {
			p.Field = ""
		}
		out[i] = p
	}
	return out
}

func fromObject(object map[string]any) (Reading, problem.List) {
	name, _ := object["kind"].(string)
	t := tableOf(Kind(name))
	if t == nil {
		return Reading{}, problem.List{problem.New("problem.code", "kind", given(object["kind"]), problem.OneOf(Kinds()))}
	}
	r := Reading{Kind: t.kind}
	var found problem.List
	for _, key := range sortedKeys(object) {
		if value := object[key]; key != "kind" && value != nil {
			if pr, bad := r.setField(t, key, value); bad {
				found = append(found, pr)
			}
		}
	}
	if len(found) == 0 {
		normalise(&r)
		found = check(&r)
	}
	return r, found
}

// setField fills one field of an object.
func (r *Reading) setField(t *kindTable, key string, value any) (problem.Problem, bool) {
	if t.cells != nil && key == "cells" {
		return r.setCells(t.cells, value)
	}
	if t.list != "" && key == t.list {
		return r.setList(t, value)
	}
	for i := range t.numbers {
		f := &t.numbers[i]
		if f.json != key || t.inList(f) {
			continue
		}
		x, ok := value.(float64)
		if !ok {
			return problem.New("problem.type", key, given(value), f.allowed()), true
		}
		r.set(f.id, x)
		return problem.Problem{}, false
	}
	for i := range t.choices {
		f := &t.choices[i]
		if f.json != key {
			continue
		}
		code, ok := f.fromJSON(value)
		if !ok {
			return problem.New("problem.code", key, given(value), problem.OneOf(f.offered())), true
		}
		r.choice[f.id] = codeIDs[code]
		return problem.Problem{}, false
	}
	return r.setCommon(t, key, value)
}

// inList reports a figure that stands in the kind's array.
func (t *kindTable) inList(f *numberField) bool {
	return t.list != "" && strings.HasPrefix(f.json, t.list+"[")
}

// listed are the figures of the kind's array, in its order.
func (t *kindTable) listed() []numberField {
	var list []numberField
	for i := range t.numbers {
		if t.inList(&t.numbers[i]) {
			list = append(list, t.numbers[i])
		}
	}
	return list
}

// setList fills the figures of an array, which has to have one for each.
func (r *Reading) setList(t *kindTable, value any) (problem.Problem, bool) {
	items, ok := value.([]any)
	fields := t.listed()
	if !ok || len(items) != len(fields) {
		return problem.New("problem.type", t.list, given(value), t.example), true
	}
	for i := range fields {
		x, ok := items[i].(float64)
		if !ok {
			return problem.New("problem.type", fields[i].json, given(items[i]), fields[i].allowed()), true
		}
		r.set(fields[i].id, x)
	}
	return problem.Problem{}, false
}

// fromJSON is the code a JSON value stands for: a boolean for a yes or no.
func (f *choiceField) fromJSON(value any) (string, bool) {
	if f.flag {
		answer, ok := value.(bool)
		if answer {
			return Yes, ok
		}
		return No, ok
	}
	text, _ := value.(string)
	return text, slices.Contains(f.codes, text)
}

// setCells fills the cells; null is a cell that could not be read.
func (r *Reading) setCells(f *cellField, value any) (problem.Problem, bool) {
	list, ok := value.([]any)
	if !ok || len(list) > MostCells {
		return problem.New("problem.type", "cells", given(value), cellCounts), true
	}
	cells := make([]Cell, len(list))
	for i, item := range list {
		where := fmt.Sprintf("cells[%d]", i)
		switch x := item.(type) {
		case nil:
		case float64:
			sg := x
			if sg >= 1000*leastSG && sg <= 1000*mostSG {
				sg /= 1000 // 1265 and 1.265 are the same gravity
			}
			if !f.figures {
				return problem.New("problem.code", where, given(item), problem.OneOf(f.codes)), true
			}
			if sg < f.low || sg > f.high {
				return problem.New("problem.range", where, given(item), problem.Range(f.low, f.high, "")), true
			}
			cells[i].SG = sg
		case string:
			if !slices.Contains(f.codes, x) {
				return problem.New("problem.code", where, given(item), problem.OneOf(f.codes)), true
			}
			cells[i].Code = x
		default:
			return problem.New("problem.type", where, given(item), f.allowed()), true
		}
	}
	*r = r.WithCells(cells...)
	return problem.Problem{}, false
}

func (f *cellField) allowed() string {
	if f.figures {
		return problem.Range(f.low, f.high, "") + ", null, " + problem.OneOf(f.codes)
	}
	return problem.OneOf(f.codes)
}

// setCommon fills what every kind may carry.
func (r *Reading) setCommon(t *kindTable, key string, value any) (problem.Problem, bool) {
	text, isText := value.(string)
	switch key {
	case "after_charge":
		flag, ok := value.(bool)
		r.AfterCharge = flag
		return problem.New("problem.type", key, given(value), "true, false"), !ok
	case "by":
		r.By = text
		return problem.New("problem.type", key, given(value), nameAllowed()), !isText || !validName(text)
	case "fuse":
		if t.kind != Drain {
			break
		}
		r.Fuse = text
		return problem.New("problem.type", key, given(value), nameAllowed()), !isText || !validName(text)
	case "at":
		r.At = text
		return problem.New("problem.type", key, given(value), "2026-11-24T14:05:00Z, 14:05"), !validAt(text)
	}
	return problem.New("problem.unknown_field", key, given(value), strings.Join(t.fields(), ", ")), true
}

// fields lists the JSON names a kind takes.
func (t *kindTable) fields() []string {
	var list []string
	if t.cells != nil {
		list = append(list, "cells")
	}
	if t.list != "" {
		list = append(list, t.list)
	}
	for i := range t.numbers {
		if f := &t.numbers[i]; !t.inList(f) {
			list = append(list, f.json)
		}
	}
	if t.kind == Drain {
		list = append(list, "fuse")
	}
	for _, f := range t.choices {
		list = append(list, f.json)
	}
	return append(list, "after_charge", "by", "at")
}

func given(value any) string {
	if value == nil {
		return ""
	}
	text, err := json.Marshal(value)
	if err != nil {
		return fmt.Sprint(value)
	}
	return strings.Trim(string(text), `"`)
}

func sortedKeys(object map[string]any) []string {
	keys := make([]string, 0, len(object))
	for key := range object {
		keys = append(keys, key)
	}
	sort.Strings(keys)
	return keys
}
