package trail

import (
	"slices"
	"strings"
	"testing"

	"grapnel/core/school"
	"grapnel/core/wording"
)

func codesOf(list []wording.Statement) []string {
	var out []string
	for _, s := range list {
		out = append(out, s.Code)
	}
	return out
}

// TestForCustomer checks what the customer is told was measured, by which method, and
// what was not. That each belongs on a report is common practice, no source.
func TestForCustomer(t *testing.T) {
	s := situation(t, flooded650+`,"sealed":false,"made":"2021-03"`, `,"as_of":"2026-11-24","vehicle":{"kind":"car"},"symptom":"slow_crank"`, Mounting{},
		"12.24 v 18c rested 2h", "load 325a 15s 9.3v", "12.66 v 18c rested 3h after charge", "load 325a 15s 10.1v", "drop negative_clamp 0.1v 150a", "drop ground_strap 0.05v 150a", "running 14.3 v")
	h := ForCustomer(s)
	var methods []string
	for _, m := range h.Measured {
		methods = append(methods, m.Method.Code)
	}
	want := []string{"method.open_circuit", "method.half_cca", "method.charging", "method.drop", "method.drop"}
	if !slices.Equal(methods, want) {
		t.Errorf("measured by %v, want %v", methods, want)
	}
	if first := h.Measured[0].Text.Text; !strings.Contains(first, "12.66") {
		t.Errorf("the last that counts is told, not %q", first)
	}
	if got := codesOf(h.Untested); !slices.Equal(got, []string{"untested.capacity", "untested.cells", "untested.starting", "untested.drain"}) {
		t.Errorf("untested %v", got)
	}
	s.Case.School = school.Starter10V
	if got := ForCustomer(s).Measured[1].Method.Code; got != "method.starter_10v" {
		t.Errorf("by the starter, and still %s", got)
	}
}

// TestWhenToComeBack checks the reasons to come back. Common practice, no source.
func TestWhenToComeBack(t *testing.T) {
	for _, c := range []struct {
		made, extra, choice string
		lines               []string
		want                string
	}{
		{"2021-03", "", "", []string{"12.24 v 18c rested 2h"}, "back.retest"},
		{"2021-03", "", "", []string{"12.66 v 18c rested 2h", "load 325a 15s 10.2v"}, "back.old"},
		{"2025-03", "", "", []string{"12.66 v 18c rested 2h", "load 325a 15s 10.2v"}, "back.winter"},
		{"2021-03", "", "", []string{"look crack"}, "back.unsafe"},
		{"2021-03", "", "replace", []string{"12.66 v 21c rested 2h", "load 325a 15s 8.2v"}, "back.new"},
		{"2021-03", "", "keep_anyway", []string{"12.66 v 21c rested 2h", "load 325a 15s 8.2v"}, "back.kept_bad"},
		{"2021-03", "", "", []string{"jump started"}, "back.jumped"},
		{"2021-03", `,"symptom":"flat_after_storage"`, "", []string{"12.0 v 18c rested 2h"}, "back.stands"},
	} {
		s := situation(t, flooded650+`,"made":"`+c.made+`"`, `,"as_of":"2026-11-24","vehicle":{"kind":"car"}`+c.extra, Mounting{}, c.lines...)
		if c.choice != "" {
			s.Answers["choice"] = Answer{Value: Done, Note: c.choice}
		}
		if got := codesOf(ForCustomer(s).Return); !slices.Contains(got, c.want) {
			t.Errorf("%s %v %s: come back for %v, want %s", c.made, c.lines, c.choice, got, c.want)
		}
	}
}

// TestHandOverHasWords checks that everything the customer may be told has words.
func TestHandOverHasWords(t *testing.T) {
	for _, g := range gaps {
		if !wording.Has("untested." + g.code) {
			t.Errorf("untested %s has no words", g.code)
		}
	}
	for _, b := range backs {
		if !wording.Has("back." + b.code) {
			t.Errorf("coming back for %s has no words", b.code)
		}
	}
	s := situation(t, flooded650, "", Mounting{})
	for _, kind := range told {
		if !wording.Has("method." + s.method(kind)) {
			t.Errorf("the method of %s has no words", kind)
		}
	}
	for _, id := range school.IDs() {
		if !wording.Has("method." + id) {
			t.Errorf("the school %s has no words", id)
		}
	}
}
