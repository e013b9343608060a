package reading

import (
	"strings"

	"grapnel/core/wording"
)

// Understood is a stretch of a reading line in the words it was understood as.
type Understood struct {
	Span
	Text wording.Statement `json:"text"`
}

// Echo words each span of a parsed line.
func Echo(p Parsed) []Understood {
	out := make([]Understood, 0, len(p.Spans))
	for _, span := range p.Spans {
		// "594/650" and the word "cca" behind it are one thing, said once.
		if n := len(out); span.Field == "measured" && n > 0 && out[n-1].Field == "measured" {
			out[n-1].End = span.End
			continue
		}
		out = append(out, Understood{span, p.Reading.say(span.Field)})
	}
	return out
}

// say words one field of the reading.
func (r *Reading) say(field string) wording.Statement {
	t := tableOf(r.Kind)
	code := "echo." + field
	if own := "echo." + string(r.Kind) + "." + field; wording.Has(own) {
		code = own
	}
	for i := range t.numbers {
		if f := &t.numbers[i]; f.json == field {
			x, _ := r.Number(f.id)
			rated, _ := r.Number(Rated)
			return wording.Say(code, wording.Values{"x": x, "y": rated})
		}
	}
	for i := range t.choices {
		f := &t.choices[i]
		if f.json != field {
			continue
		}
		if own := "echo." + field + "." + r.Choice(f.id); wording.Has(own) {
			return wording.Say(own, nil)
		}
		return wording.Say(code, wording.Values{"code": r.Choice(f.id)})
	}
	said := map[string]string{"kind": string(r.Kind), "by": r.By, "at": r.At, "fuse": r.Fuse, "cells": r.spokenCells()}
	return wording.Say(code, wording.Values{"code": said[field]})
}

// spokenCells lists the cells as they are printed.
func (r *Reading) spokenCells() string { return strings.Join(appendCells(nil, r), " ") }
