// Package wording turns what the core has to say into words. Everything the
// core says is a code with values; the catalogue here is the only place that
// holds a sentence of the trade, so that it can be read, tested and translated
// in one piece.
package wording

import (
	"fmt"
	"sort"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"grapnel/core/quantity"
)

// Values are the figures and names that go into a sentence, by name.
type Values map[string]any

// Statement is one thing the core says.
type Statement struct {
	// Code names the sentence in the catalogue.
	Code string `json:"code"`
	// Values are the figures in it, in the core's units.
	Values Values `json:"values"`
	// Readings name the readings it rests on.
	Readings []Ref `json:"readings"`
	// Text is the sentence in English, in Celsius and with a decimal point.
	Text string `json:"text"`
}

// Say makes a statement about some readings.
func Say(code string, values Values, readings ...Ref) Statement {
	if values == nil {
		values = Values{}
	}
	if readings == nil {
		readings = []Ref{}
	}
	return Statement{Code: code, Values: values, Readings: readings, Text: Text(code, values)}
}

// Text renders a sentence in the default units. An unknown code renders as the
// code itself in angle brackets, so that a gap shows instead of hiding.
func Text(code string, values Values) string { return TextIn(quantity.Units{}, code, values) }

// TextIn renders a sentence in a person's units.
func TextIn(u quantity.Units, code string, values Values) string {
	template, ok := english[code]
	if !ok {
		return "⟨" + code + "⟩"
	}
	var out strings.Builder
	for {
		before, rest, found := strings.Cut(template, "{")
		out.WriteString(before)
		if !found {
			return out.String()
		}
		placeholder, after, _ := strings.Cut(rest, "}")
		name, form, _ := strings.Cut(placeholder, ":")
		out.WriteString(figure(u, values[name], form))
		template = after
	}
}

// figure prints one value in the form its placeholder asks for.
func figure(u quantity.Units, value any, form string) string {
	x, isNumber := number(value)
	if !isNumber {
		switch text := fmt.Sprint(value); {
		case form == "word":
			return Word(text)
		case form == "kind":
			return Kind(text)
		case form == "Word" && text != "":
			return capital(Word(text))
		case form == "date":
			return day(text)
		case form == "tail" && text != "":
			return " " + Word(text)
		}
		return fmt.Sprint(value)
	}
	switch form {
	case "V":
		return u.Volts(quantity.Volts(x))
	case "A":
		return u.Amperes(quantity.Amperes(x))
	case "C":
		return u.Temperature(quantity.Celsius(x))
	case "%":
		return u.Number(x, 0) + "\u00a0%"
	case "s":
		return u.Span(quantity.Seconds(x))
	case "min":
		return u.Span(quantity.Minutes(x).Seconds())
	case "Ah":
		return u.AmpereHours(quantity.AmpereHours(x))
	case "Ohm":
		return u.Ohms(quantity.Ohms(x))
	case "mA":
		return u.Milliamperes(quantity.Amperes(x))
	case "0":
		return u.Number(x, 0)
	case "1":
		return u.Number(x, 1)
	case "2":
		return u.Number(x, 2)
	case "3":
		return u.Number(x, 3)
	}
	return u.Shortest(x)
}

func number(value any) (float64, bool) {
	switch x := value.(type) {
	case float64:
		return x, true
	case int:
		return float64(x), true
	case quantity.Volts:
		return float64(x), true
	case quantity.Amperes:
		return float64(x), true
	case quantity.Celsius:
		return float64(x), true
	case quantity.Seconds:
		return float64(x), true
	case quantity.Minutes:
		return float64(x), true
	case quantity.AmpereHours:
		return float64(x), true
	case quantity.Ohms:
		return float64(x), true
	}
	return 0, false
}

// day is a date as it is said, 24 January; what is none stays as it is.
func day(text string) string {
	at, err := time.Parse(time.DateOnly, text)
	if err != nil {
		return text
	}
	return at.Format("2\u00a0January")
}

// capital is a word as a sentence begins with it.
func capital(text string) string {
	first, size := utf8.DecodeRuneInString(text)
	return string(unicode.ToUpper(first)) + text[size:]
}

// Word is the trade's word for a code such as clamp_not_seated; a code without
// an entry is read with spaces for its underscores.
func Word(code string) string {
	if w, ok := english["word."+code]; ok {
		return w
	}
	return strings.ReplaceAll(code, "_", " ")
}

// Kind is the trade's word for a kind of reading, where the code alone means
// something else as well.
func Kind(code string) string {
	if w, ok := english["word.kind_"+code]; ok {
		return w
	}
	return Word(code)
}

// Words is the trade's word for each code that has one of its own.
func Words() map[string]string {
	words := map[string]string{}
	for code, word := range english {
		if name, ok := strings.CutPrefix(code, "word."); ok {
			words[name] = word
		}
	}
	return words
}

// Has reports whether the catalogue holds a code.
func Has(code string) bool {
	_, ok := english[code]
	return ok
}

// Codes lists every code of the catalogue in order.
func Codes() []string {
	codes := make([]string, 0, len(english))
	for code := range english {
		codes = append(codes, code)
	}
	sort.Strings(codes)
	return codes
}

// Placeholders lists the value names a sentence needs.
func Placeholders(code string) []string {
	var names []string
	template := english[code]
	for {
		_, rest, found := strings.Cut(template, "{")
		if !found {
			return names
		}
		placeholder, after, _ := strings.Cut(rest, "}")
		name, _, _ := strings.Cut(placeholder, ":")
		names = append(names, name)
		template = after
	}
}
