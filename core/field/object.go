package field

import (
	"encoding/json"
	"fmt"
	"io"
	"slices"
	"sort"
	"strings"
	"time"

	"grapnel/core/problem"
)

// Object is one object of a JSON document while it is taken apart: each field is taken by
// its name, null counts as missing, and what is wrong is gathered with the path of its
// field. Close refuses what nobody asked for.
type Object struct {
	found  *problem.List
	path   string
	values map[string]any
	known  []string
}

// Read reads a document that is one object and nothing behind it. The name says what it
// is, such as a case, allowed how it looks.
func Read(in io.Reader, name, allowed string) (*Object, error) {
	decoder := json.NewDecoder(in)
	var root any
	if err := decoder.Decode(&root); err != nil {
		return nil, problem.List{problem.New("problem.json", name, err.Error(), allowed)}
	}
	if decoder.Decode(new(any)) != io.EOF {
		return nil, problem.List{problem.New("problem.json", name, "more than one value", "{…}")}
	}
	values, ok := root.(map[string]any)
	if !ok {
		return nil, problem.List{problem.New("problem.type", name, Short(root), allowed)}
	}
	return &Object{found: new(problem.List), values: values}, nil
}

// Err is everything that was wrong, nil for nothing.
func (o *Object) Err() error { return o.found.Err() }

// At is the path of a field.
func (o *Object) At(key string) string {
	if o.path == "" {
		return key
	}
	return o.path + "." + key
}

// Take gives a field's value, nil where it is missing.
func (o *Object) Take(key string) any {
	if !slices.Contains(o.known, key) {
		o.known = append(o.known, key)
	}
	return o.values[key]
}

// Fault says what is wrong with a field.
func (o *Object) Fault(code, key string, value any, allowed string) {
	o.Found(problem.New(code, o.At(key), Short(value), allowed))
}

// Found adds problems that were found elsewhere.
func (o *Object) Found(problems ...problem.Problem) { *o.found = append(*o.found, problems...) }

// Missing says that a field has to be there, where it is not.
func (o *Object) Missing(key, allowed string) {
	if o.values[key] == nil {
		o.Fault("problem.missing", key, nil, allowed)
	}
}

// Close refuses the fields that nobody took.
func (o *Object) Close() {
	var unknown []string
	for key := range o.values {
		if !slices.Contains(o.known, key) {
			unknown = append(unknown, key)
		}
	}
	sort.Strings(unknown)
	for _, key := range unknown {
		o.Fault("problem.unknown_field", key, o.values[key], strings.Join(o.known, ", "))
	}
}

// Number is a figure within a range; nil where it is missing or wrong.
func (o *Object) Number(key string, low, high float64, unit string) *float64 {
	value := o.Take(key)
	if value == nil {
		return nil
	}
	x, ok := value.(float64)
	if !ok {
		o.Fault("problem.type", key, value, problem.Range(low, high, unit))
		return nil
	}
	if x < low || x > high {
		o.Fault("problem.range", key, value, problem.Range(low, high, unit))
		return nil
	}
	return &x
}

// Code is one of some codes; empty where it is missing or wrong.
func (o *Object) Code(key string, codes []string) string {
	value := o.Take(key)
	if value == nil {
		return ""
	}
	text, ok := value.(string)
	if !ok || !slices.Contains(codes, text) {
		o.Fault("problem.code", key, value, problem.OneOf(codes))
		return ""
	}
	return text
}

// Codes are one code or a list of them; nil where the field is missing.
func (o *Object) Codes(key string, codes []string) []string {
	value := o.Take(key)
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
			o.Fault("problem.code", key, item, problem.OneOf(codes))
			continue
		}
		out = append(out, text)
	}
	return out
}

// Text is a text of a form; empty where it is missing or wrong.
func (o *Object) Text(key, allowed string, valid func(string) bool) string {
	value := o.Take(key)
	if value == nil {
		return ""
	}
	text, ok := value.(string)
	if !ok || !valid(text) {
		o.Fault("problem.type", key, value, allowed)
		return ""
	}
	return text
}

// TimeForm says how a time is written.
const TimeForm = "a time as 2026-11-24T14:05:00+01:00"

// Time is a moment with its zone; nil where it is missing or wrong.
func (o *Object) Time(key string) *time.Time {
	value := o.Take(key)
	if value == nil {
		return nil
	}
	text, ok := value.(string)
	at, err := time.Parse(time.RFC3339, text)
	if !ok || err != nil || at.Year() < 1990 || at.Year() > 2200 {
		o.Fault("problem.type", key, value, TimeForm)
		return nil
	}
	return &at
}

// Flag is a yes or no; nil where it is missing or wrong.
func (o *Object) Flag(key string) *bool {
	value := o.Take(key)
	if value == nil {
		return nil
	}
	yes, ok := value.(bool)
	if !ok {
		o.Fault("problem.type", key, value, "true, false")
		return nil
	}
	return &yes
}

// Under is an object within; an empty one, and true, where the field is missing.
func (o *Object) Under(key string) (inner *Object, missing bool) {
	value := o.Take(key)
	inner = &Object{found: o.found, path: o.At(key), values: map[string]any{}}
	if value == nil {
		return inner, true
	}
	values, ok := value.(map[string]any)
	if !ok {
		o.Fault("problem.type", key, value, "{…}")
		return inner, false
	}
	inner.values = values
	return inner, false
}

// List are the items of a field that is a list, with false where it is missing or none.
// The form says what is in it.
func (o *Object) List(key, form string) ([]any, bool) {
	value := o.Take(key)
	if value == nil {
		return nil, false
	}
	list, ok := value.([]any)
	if !ok {
		o.Fault("problem.type", key, value, form)
	}
	return list, ok
}

// Each hands out the objects of a list, each with its own path.
func (o *Object) Each(key, form string, do func(item *Object)) {
	list, _ := o.List(key, form)
	for i, item := range list {
		at := fmt.Sprintf("%s[%d]", key, i)
		values, ok := item.(map[string]any)
		if !ok {
			o.Fault("problem.type", at, item, "{…}")
			continue
		}
		do(&Object{found: o.found, path: o.At(at), values: values})
	}
}

// Decode takes what a T says out of an object within.
func Decode[T any](o *Object, key string, table Table[T]) (of T, missing bool) {
	inner, missing := o.Under(key)
	if missing {
		return of, true
	}
	of, problems := table.Decode(inner.values, inner.path)
	o.Found(problems...)
	return of, false
}
