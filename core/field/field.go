// Package field holds tables of what a label or a vehicle says: each thing once, with
// its name, its unit and range or its codes, and how it is written. The case that assess
// reads, the plain text of the logbook, the inputs of the bench, the API and its forms
// all read these tables, so that a field is known everywhere or nowhere.
package field

import (
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"grapnel/core/problem"
	"grapnel/core/wording"
)

// Kind is what a field holds.
type Kind string

// The kinds of field.
const (
	Figure Kind = "figure"
	Code   Kind = "code"
	Flag   Kind = "flag"
	Text   Kind = "text"
	Group  Kind = "group"
)

// Field is one thing that a T says. Make one with Number, Plain, OneOf, Choice, YesNo,
// Words or Of.
type Field[T any] struct {
	// Name is its name in JSON.
	Name string
	Kind Kind
	// Unit, Low and High are of a figure; Figures are those it may be, none for any.
	Unit      string
	Low, High float64
	Figures   []float64
	// Codes are those of a code.
	Codes []string
	// Required marks one that is always said.
	Required bool
	// Before stands before it in plain text: made 2021-08. Yes and No are the phrases of
	// a flag. Form is how a text is written.
	Before, Yes, No, Form string
	// Parts are the fields of a group.
	Parts []Description

	valid func(string) bool
	get   func(*T) any
	set   func(*T, any)
	// check is of a group.
	check func(*T, string) problem.List
	// decode, say and take are of a field that is written in a way of its own.
	decode func(value any, path string) (any, problem.List)
	say    func(*T) string
	take   func(*T, string) bool
}

// Number is a figure within a range.
func Number[T any, F ~float64](name, unit string, low, high float64, at func(*T) **F) Field[T] {
	return Field[T]{
		Name: name, Kind: Figure, Unit: unit, Low: low, High: high,
		get: func(of *T) any {
			if p := *at(of); p != nil {
				return float64(*p)
			}
			return nil
		},
		set: func(of *T, value any) { x := F(value.(float64)); *at(of) = &x },
	}
}

// Plain is a figure that is always said, within a range.
func Plain[T any, F ~float64](name, unit string, low, high float64, at func(*T) *F) Field[T] {
	return Field[T]{
		Name: name, Kind: Figure, Unit: unit, Low: low, High: high, Required: true,
		get: func(of *T) any {
			if *at(of) == 0 {
				return nil
			}
			return float64(*at(of))
		},
		set: func(of *T, value any) { *at(of) = F(value.(float64)) },
	}
}

// OneOf is a figure that is always said and one of a few.
func OneOf[T any, F ~float64](name, unit string, figures []float64, at func(*T) *F) Field[T] {
	f := Plain(name, unit, slices.Min(figures), slices.Max(figures), at)
	f.Figures = figures
	return f
}

// Choice is one of some codes; empty for not said.
func Choice[T any, S ~string](name string, codes []string, at func(*T) *S) Field[T] {
	return Field[T]{
		Name: name, Kind: Code, Codes: codes,
		get: func(of *T) any {
			if *at(of) == "" {
				return nil
			}
			return string(*at(of))
		},
		set: func(of *T, value any) { *at(of) = S(value.(string)) },
	}
}

// YesNo is a yes or no in two phrases; nil for not said.
func YesNo[T any](name, yes, no string, at func(*T) **bool) Field[T] {
	return Field[T]{
		Name: name, Kind: Flag, Yes: yes, No: no,
		get: func(of *T) any {
			if p := *at(of); p != nil {
				return *p
			}
			return nil
		},
		set: func(of *T, value any) { b := value.(bool); *at(of) = &b },
	}
}

// Words is a text of a form; empty for not said.
func Words[T any](name, form string, valid func(string) bool, at func(*T) *string) Field[T] {
	return Field[T]{
		Name: name, Kind: Text, Form: form, valid: valid,
		get: func(of *T) any {
			if *at(of) == "" {
				return nil
			}
			return *at(of)
		},
		set: func(of *T, value any) { *at(of) = value.(string) },
	}
}

// Of is a group of fields that are said together, such as a rating and its standard.
func Of[T, P any](name string, parts Table[P], at func(*T) **P, say func(P) string, take func(string) (P, bool)) Field[T] {
	return Field[T]{
		Name: name, Kind: Group, Parts: parts.Describe(), Form: parts.forms(),
		get: func(of *T) any {
			if p := *at(of); p != nil {
				return *p
			}
			return nil
		},
		set: func(of *T, value any) { p := value.(P); *at(of) = &p },
		check: func(of *T, path string) problem.List {
			if p := *at(of); p != nil {
				return parts.Check(p, path)
			}
			return nil
		},
		decode: func(value any, path string) (any, problem.List) {
			object, ok := value.(map[string]any)
			if !ok {
				return nil, problem.List{problem.New("problem.type", path, Short(value), "{…}")}
			}
			return parts.Decode(object, path)
		},
		say: func(of *T) string {
			if p := *at(of); p != nil {
				return say(*p)
			}
			return ""
		},
		take: func(of *T, text string) bool {
			p, ok := take(text)
			if ok {
				*at(of) = &p
			}
			return ok
		},
	}
}

// Must marks a field that is always said.
func (f Field[T]) Must() Field[T] { f.Required = true; return f }

// Behind gives a field the word that stands before it in plain text.
func (f Field[T]) Behind(word string) Field[T] { f.Before = word; return f }

// Written gives a field a way of its own to stand in plain text.
func (f Field[T]) Written(say func(*T) string, take func(*T, string) bool) Field[T] {
	f.say, f.take = say, take
	return f
}

// Get is what is said: a float64, a string, a bool or a group; nil for nothing.
func (f Field[T]) Get(of *T) any { return f.get(of) }

// Allowed words what may be said.
func (f Field[T]) Allowed() string {
	switch {
	case len(f.Figures) > 0:
		texts := make([]string, len(f.Figures))
		for i, x := range f.Figures {
			texts[i] = plain(x)
		}
		return strings.TrimSpace(strings.Join(texts, ", ") + " " + f.Unit)
	case f.Kind == Figure:
		return problem.Range(f.Low, f.High, f.Unit)
	case f.Kind == Code:
		return problem.OneOf(f.Codes)
	case f.Kind == Flag:
		return "true, false"
	}
	return f.Form
}

// mostShort is how much of a value is quoted, in bytes.
const mostShort = 80

// Short prints a given value briefly.
func Short(value any) string {
	if value == nil {
		return ""
	}
	text, err := json.Marshal(value)
	if err != nil {
		return fmt.Sprint(value)
	}
	if s, ok := value.(string); ok {
		text = []byte(s)
	}
	return problem.Cut(string(text), mostShort)
}

func plain(x float64) string { return strconv.FormatFloat(x, 'f', -1, 64) }

// Description is a field as a form needs it.
type Description struct {
	Name     string    `json:"name"`
	Label    string    `json:"label"`
	Kind     Kind      `json:"kind" enum:"figure,code,flag,text,group"`
	Unit     string    `json:"unit"`
	Low      float64   `json:"low"`
	High     float64   `json:"high"`
	Figures  []float64 `json:"figures"`
	Codes    []string  `json:"codes"`
	Required bool      `json:"required"`
	Form     string    `json:"form"`
	// Parts are the fields of a group.
	Parts []Description `json:"parts"`
}

func (f Field[T]) describe() Description {
	return Description{
		Name: f.Name, Label: wording.Word("field_" + f.Name), Kind: f.Kind, Unit: f.Unit, Low: f.Low, High: f.High,
		Figures: listed(f.Figures), Codes: listed(f.Codes), Required: f.Required, Form: f.Form, Parts: listed(f.Parts),
	}
}

// listed is a list that is never null in JSON.
func listed[T any](list []T) []T {
	if list == nil {
		return []T{}
	}
	return list
}
