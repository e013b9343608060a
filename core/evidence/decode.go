package evidence

import (
	"encoding/json"
	"fmt"
	"io"
	"math"
	"slices"
	"sort"
	"strings"
	"time"

	"grapnel/core/battery"
	"grapnel/core/field"
	"grapnel/core/problem"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// Decode reads a case as JSON. Every problem is listed with the path of its
// field; unknown fields are refused by name and null means missing.
func Decode(in io.Reader) (Case, error) {
	decoder := json.NewDecoder(in)
	var root any
	if err := decoder.Decode(&root); err != nil {
		return Case{}, problem.List{problem.New("problem.json", "case", err.Error(), "{\"battery\": {…}, \"readings\": […]}")}
	}
	if decoder.Decode(new(any)) != io.EOF {
		return Case{}, problem.List{problem.New("problem.json", "case", "more than one value", "{…}")}
	}
	object, ok := root.(map[string]any)
	if !ok {
		return Case{}, problem.List{problem.New("problem.type", "case", field.Short(root), "{\"battery\": {…}, \"readings\": […]}")}
	}
	var d decoding
	c := d.caseFrom(&fields{object: object})
	if err := d.problems.Err(); err != nil {
		return Case{}, err
	}
	return c, nil
}

// decoding gathers the problems of one case.
type decoding struct{ problems problem.List }

// fields is one JSON object and where it stands.
type fields struct {
	path   string
	object map[string]any
	known  []string
}

func (f *fields) at(key string) string {
	if f.path == "" {
		return key
	}
	return f.path + "." + key
}

// take returns a field's value, nil when missing, and remembers its name.
func (f *fields) take(key string) any {
	f.known = append(f.known, key)
	return f.object[key]
}

func (d *decoding) fault(code string, f *fields, key string, value any, allowed string) {
	d.problems = append(d.problems, problem.New(code, f.at(key), field.Short(value), allowed))
}

// refuseUnknown reports the fields nobody asked for.
func (d *decoding) refuseUnknown(f *fields) {
	var unknown []string
	for key := range f.object {
		if !slices.Contains(f.known, key) {
			unknown = append(unknown, key)
		}
	}
	sort.Strings(unknown)
	for _, key := range unknown {
		d.fault("problem.unknown_field", f, key, f.object[key], strings.Join(f.known, ", "))
	}
}

func (d *decoding) number(f *fields, key string, low, high float64, unit string) *float64 {
	value := f.take(key)
	if value == nil {
		return nil
	}
	x, ok := value.(float64)
	if !ok {
		d.fault("problem.type", f, key, value, problem.Range(low, high, unit))
		return nil
	}
	if x < low || x > high {
		d.fault("problem.range", f, key, value, problem.Range(low, high, unit))
		return nil
	}
	return &x
}

func (d *decoding) code(f *fields, key string, codes []string) string {
	value := f.take(key)
	if value == nil {
		return ""
	}
	text, ok := value.(string)
	if !ok || !slices.Contains(codes, text) {
		d.fault("problem.code", f, key, value, problem.OneOf(codes))
		return ""
	}
	return text
}

func (d *decoding) text(f *fields, key, allowed string, valid func(string) bool) string {
	value := f.take(key)
	if value == nil {
		return ""
	}
	text, ok := value.(string)
	if !ok || !valid(text) {
		d.fault("problem.type", f, key, value, allowed)
		return ""
	}
	return text
}

// under returns a nested object, or an empty one with missing set.
func (d *decoding) under(f *fields, key string) (inner *fields, missing bool) {
	value := f.take(key)
	inner = &fields{path: f.at(key), object: map[string]any{}}
	if value == nil {
		return inner, true
	}
	object, ok := value.(map[string]any)
	if !ok {
		d.fault("problem.type", f, key, value, "{…}")
		return inner, false
	}
	inner.object = object
	return inner, false
}

// many returns one code or a list of codes.
func (d *decoding) many(f *fields, key string, codes []string) []string {
	value := f.take(key)
	if value == nil {
		return nil
	}
	list, ok := value.([]any)
	if !ok {
		list = []any{value}
	}
	out := []string{}
	for _, item := range list {
		text, ok := item.(string)
		if !ok || !slices.Contains(codes, text) {
			d.fault("problem.code", f, key, item, problem.OneOf(codes))
			continue
		}
		out = append(out, text)
	}
	return out
}

func (d *decoding) caseFrom(f *fields) Case {
	c := Case{
		AsOf:  d.text(f, "as_of", "YYYY-MM-DD", isDate),
		Label: d.label(f),
	}
	c.Vehicle = d.vehicle(f)
	c.Symptoms = d.many(f, "symptom", Symptoms())
	c.School = school.ID(d.code(f, "school", school.IDs()))
	c.Tools = d.many(f, "tools", Tools())
	c.Own = d.limits(f)
	c.Readings = Untimed(d.readings(f, c.Label)...)
	c.Cleared = d.clearings(f, len(c.Readings))
	d.refuseUnknown(f)
	return c
}

func isDate(s string) bool {
	_, err := time.Parse(time.DateOnly, s)
	return err == nil
}

func (d *decoding) label(f *fields) battery.Label {
	inner, missing := d.under(f, "battery")
	if missing {
		d.fault("problem.missing", f, "battery", nil, "{\"chemistry\": …, \"nominal_v\": …}")
		return battery.Label{}
	}
	l, problems := battery.Fields().Decode(inner.object, inner.path)
	d.problems = append(d.problems, problems...)
	return l
}

func (d *decoding) vehicle(f *fields) Vehicle {
	inner, missing := d.under(f, "vehicle")
	if missing {
		return Vehicle{}
	}
	v, problems := vehicleFields.Decode(inner.object, inner.path)
	d.problems = append(d.problems, problems...)
	return v
}

// clearings are stop rules that were lifted, for readings by their index:
// [{"stop": "frozen-or-damaged", "readings": [0, 1]}].
func (d *decoding) clearings(f *fields, readings int) []Clearing {
	value := f.take("cleared")
	if value == nil {
		return nil
	}
	list, ok := value.([]any)
	if !ok {
		d.fault("problem.type", f, "cleared", value, "[{\"stop\": …, \"readings\": […]}]")
		return nil
	}
	var out []Clearing
	for i, item := range list {
		path := fmt.Sprintf("cleared[%d]", i)
		object, ok := item.(map[string]any)
		if !ok {
			d.fault("problem.type", f, path, item, "{…}")
			continue
		}
		one := &fields{path: f.at(path), object: object}
		stop := school.Caution(d.code(one, "stop", school.StopCodes()))
		named := d.indexes(one, "readings", readings)
		for _, key := range []string{"stop", "readings"} {
			if object[key] == nil {
				d.fault("problem.missing", one, key, nil, "stop, readings")
			}
		}
		d.refuseUnknown(one)
		out = append(out, Clearing{Stop: stop, Readings: named})
	}
	return out
}

// indexes are places of readings in the case.
func (d *decoding) indexes(f *fields, key string, readings int) []wording.Ref {
	value := f.take(key)
	list, ok := value.([]any)
	allowed := fmt.Sprintf("[0 … %d]", max(readings-1, 0))
	if value != nil && !ok {
		d.fault("problem.type", f, key, value, allowed)
	}
	var out []wording.Ref
	for _, item := range list {
		i, ok := item.(float64)
		if !ok || i != math.Trunc(i) || i < 0 || int(i) >= readings {
			d.fault("problem.range", f, key, item, allowed)
			continue
		}
		out = append(out, wording.Index(int(i)))
	}
	return out
}

// limits are a shop's own figures: {"drain_most": {"value": 0.03, "note": …}}.
func (d *decoding) limits(f *fields) school.Own {
	inner, missing := d.under(f, "limits")
	if missing {
		return nil
	}
	own := school.Own{}
	for _, row := range school.Limits() {
		one, missing := d.under(inner, string(row.ID))
		if missing {
			continue
		}
		value := d.number(one, "value", row.Low, row.High, row.Unit)
		note := d.text(one, "note", problem.Range(1, school.MostNote, "characters"), school.ValidNote)
		if one.object["value"] == nil {
			d.fault("problem.missing", one, "value", nil, problem.Range(row.Low, row.High, row.Unit))
		}
		if one.object["note"] == nil {
			d.fault("problem.missing", one, "note", nil, problem.Range(1, school.MostNote, "characters"))
		}
		d.refuseUnknown(one)
		if value != nil {
			own[row.ID] = school.Override{Value: *value, Note: note}
		}
	}
	d.refuseUnknown(inner)
	return own
}

func (d *decoding) readings(f *fields, l battery.Label) []reading.Reading {
	value := f.take("readings")
	list, ok := value.([]any)
	if value == nil {
		d.fault("problem.missing", f, "readings", nil, "[…]")
		return nil
	}
	if !ok {
		d.fault("problem.type", f, "readings", value, "[…]")
		return nil
	}
	out := make([]reading.Reading, 0, len(list))
	for i, item := range list {
		path := fmt.Sprintf("readings[%d]", i)
		r, problems := reading.FromJSON(item)
		if len(problems) == 0 && l.NominalV > 0 {
			if pr, bad := CheckAgainst(l, r); bad {
				problems = append(problems, pr)
			}
		}
		for _, pr := range problems {
			d.problems = append(d.problems, pr.Under(path))
		}
		out = append(out, r)
	}
	return out
}
