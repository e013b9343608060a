package reading

import (
	"math"
	"strconv"
	"strings"
)

// Print writes the reading as its canonical line; Parse of it gives the same
// reading back.
func Print(r Reading) string {
	t := tableOf(r.Kind)
	if t == nil {
		return ""
	}
	var words []string
	if t.starts != "" {
		words = append(words, t.starts)
	}
	for _, p := range t.print {
		if p.isChoice {
			words = appendChoice(words, r, t.choice(p.choice))
		} else {
			words = appendNumber(words, r, t, p.number)
		}
	}
	if r.AfterCharge {
		words = append(words, "after charge")
	}
	if r.By != "" {
		words = append(words, "by "+quoted(r.By))
	}
	if r.At != "" {
		words = append(words, "at "+r.At)
	}
	return strings.Join(words, " ")
}

func appendNumber(words []string, r Reading, t *kindTable, id Number) []string {
	x, ok := r.Number(id)
	if !ok {
		return words
	}
	switch id {
	case Measured: // printed with Rated as one word
		rated, _ := r.Number(Rated)
		return append(words, plain(x)+"/"+plain(rated), "cca")
	case Rated:
		return words
	}
	f := t.number(id)
	if f.word != "" {
		words = append(words, f.word)
	}
	text := withUnit(x, f.unit)
	if r.Kind == OpenCircuit && id == Volts {
		text = plain(x) + " v"
	}
	return append(words, text)
}

func appendChoice(words []string, r Reading, f *choiceField) []string {
	code := r.Choice(f.id)
	if code == "" {
		return words
	}
	if f.word != "" {
		words = append(words, f.word)
	}
	words = append(words, strings.ToLower(code))
	if x, ok := r.Number(f.sets); f.follows && ok {
		words = append(words, withUnit(x, unitSecond))
	}
	return words
}

// withUnit writes a figure with its unit, losing nothing.
func withUnit(x float64, u unit) string {
	switch u {
	case unitVolt:
		return plain(x) + "v"
	case unitAmpere:
		return plain(x) + "a"
	case unitSecond:
		if x >= 60 && math.Mod(x, 60) == 0 {
			return plain(x/60) + "min"
		}
		return plain(x) + "s"
	case unitMinute:
		if x >= 60 && math.Mod(x, 60) == 0 {
			return plain(x/60) + "h"
		}
		return plain(x) + "min"
	case unitCelsius:
		return plain(x) + "c"
	case unitMilliohm:
		return plain(x) + "mohm"
	case unitPercent:
		return plain(x) + "%"
	}
	return plain(x)
}

func plain(x float64) string { return strconv.FormatFloat(x, 'f', -1, 64) }

// quoted puts a name in quotes where it would not be one word by itself.
func quoted(name string) string {
	if strings.ContainsAny(name, " ;") {
		return `"` + name + `"`
	}
	return name
}
