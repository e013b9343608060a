// Package problem holds what is said about input that cannot be taken: which
// field, what was given, what is allowed. Nothing is refused without all three.
package problem

import (
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"grapnel/core/wording"
)

// Problem is one thing wrong with the input.
type Problem struct {
	// Field is the path of the field, such as readings[1].amps.
	Field string `json:"field"`
	// Given is what was given, as text; empty when the field is missing.
	Given string `json:"given"`
	// Allowed says what would be taken.
	Allowed string `json:"allowed"`
	// Code names the kind of problem in the wording catalogue.
	Code string `json:"code"`
	// Text is the whole message.
	Text string `json:"text"`
	// Start and End are byte offsets of the word at fault in a reading line;
	// both are zero where the whole field is meant.
	Start int `json:"start,omitempty"`
	End   int `json:"end,omitempty"`
	// Suggest holds readings of what may have been meant, never taken unasked.
	Suggest []string `json:"suggest,omitempty"`
}

// List is every problem found; it is an error when it is not empty.
type List []Problem

// Error joins the messages, one a line.
func (l List) Error() string {
	lines := make([]string, len(l))
	for i, p := range l {
		lines[i] = p.Text
	}
	return strings.Join(lines, "\n")
}

// Err returns the list as an error, or nil when there is nothing wrong.
func (l List) Err() error {
	if len(l) == 0 {
		return nil
	}
	return l
}

// Cut shortens what is quoted to about so many bytes, between two characters, and marks that
// something is missing.
func Cut(text string, most int) string {
	if len(text) <= most {
		return text
	}
	for most > 0 && !utf8.RuneStart(text[most]) {
		most--
	}
	return text[:most] + "…"
}

// New words a problem. The code is looked up in the wording catalogue with the
// values field, given and allowed.
func New(code, field, given, allowed string) Problem {
	p := Problem{Field: field, Given: given, Allowed: allowed, Code: code}
	p.Text = wording.Text(code, wording.Values{"field": field, "given": given, "allowed": allowed})
	return p
}

// At points the problem at a word of a reading line.
func (p Problem) At(start, end int) Problem {
	p.Start, p.End = start, end
	return p
}

// Suggesting adds what may have been meant to the problem and its message.
func (p Problem) Suggesting(meant ...string) Problem {
	if len(meant) == 0 {
		return p
	}
	p.Suggest = meant
	p.Text += " " + wording.Text("problem.meant", wording.Values{"meant": strings.Join(meant, ", ")})
	return p
}

// Under puts the problem below a path: volts under readings[2] becomes
// readings[2].volts.
func (p Problem) Under(path string) Problem {
	field := path
	if p.Field != "" {
		field = path + "." + p.Field
	}
	moved := New(p.Code, field, p.Given, p.Allowed).At(p.Start, p.End)
	if strings.HasPrefix(p.Code, "line.") {
		// A line's own message speaks of a word; say which line.
		moved.Text = field + ": " + moved.Text
	}
	return moved.Suggesting(p.Suggest...)
}

// Range words an allowed range of numbers with its unit.
func Range(low, high float64, unit string) string {
	text := func(x float64) string { return strconv.FormatFloat(x, 'f', -1, 64) }
	return wording.Text("allowed.range", wording.Values{"low": text(low), "high": text(high), "unit": unit})
}

// OneOf words an allowed list of codes.
func OneOf(codes []string) string {
	return wording.Text("allowed.one_of", wording.Values{"codes": strings.Join(codes, ", ")})
}

// Hidden reports a mark that nobody can see or type and that no text of ours holds:
// control characters but for the end of a line and the tab, marks of direction, joiners
// and blanks without width, and what was no character at all.
func Hidden(c rune) bool {
	switch {
	case c == '\n' || c == '\t':
		return false
	case c < ' ' || c >= 0x7f && c < 0xa0:
		return true
	case c >= 0x200b && c <= 0x200f, c >= 0x202a && c <= 0x202e, c >= 0x2060 && c <= 0x2069, c == 0xfeff, c == 0xad, c == 0x061c, c == 0xfffd:
		return true
	}
	return false
}

// CheckText reports a text that is shorter or longer than allowed, in characters without
// the blanks around it, or that holds hidden marks.
func (l *List) CheckText(field, text string, least, most int) {
	n := len([]rune(strings.TrimSpace(text)))
	switch {
	case n == 0 && least > 0:
		*l = append(*l, New("problem.missing", field, text, Range(float64(least), float64(most), "characters")))
	case n < least || n > most:
		*l = append(*l, New("problem.text", field, text, Range(float64(least), float64(most), "characters")))
	case !utf8.ValidString(text) || strings.ContainsFunc(text, Hidden):
		*l = append(
			*l,
			New("problem.text", field, strconv.QuoteToASCII(text), Range(float64(least), float64(most), "characters that can be seen")),
		)
	}
}

// CheckCode reports a code that is none of some; empty is taken where it may be left out.
func (l *List) CheckCode(field, code string, codes []string, optional bool) {
	if code == "" && optional || slices.Contains(codes, code) {
		return
	}
	*l = append(*l, New("problem.code", field, code, OneOf(codes)))
}

// CheckNumber reports a figure out of a range; nil is taken.
func (l *List) CheckNumber(field string, x *float64, low, high float64, unit string) {
	if x != nil && !(*x >= low && *x <= high) {
		*l = append(*l, New("problem.range", field, strconv.FormatFloat(*x, 'g', 8, 64), Range(low, high, unit)))
	}
}

// Named is the problem of another field.
func (p Problem) Named(field string) Problem { return New(p.Code, field, p.Given, p.Allowed) }
