// Package fitting chooses the battery that goes in: out of a stock, by what the original, the
// tray and the vehicle want. It holds what a replacement has to match: case sizes and their
// layouts, posts and the torque their clamps are tightened with.
package fitting

import (
	"math"

	"grapnel/core/quantity"
	"grapnel/core/source"
)

// Torque is a range for one kind of terminal. The vehicle maker's own figure
// goes before it.
type Torque struct {
	// Terminal is top or side.
	Terminal string                `json:"terminal"`
	Low      quantity.NewtonMetres `json:"low"`
	High     quantity.NewtonMetres `json:"high"`
	Source   source.Source         `json:"source"`
}

// torques: the published ranges first, then what the trade says.
var torques = []Torque{
	{"top", quantity.InchPounds(50).NewtonMetres(), quantity.InchPounds(70).NewtonMetres(), source.By(source.BCI)},
	{"side", quantity.InchPounds(70).NewtonMetres(), quantity.InchPounds(90).NewtonMetres(), source.By(source.BCI)},
	{"top", quantity.InchPounds(89).NewtonMetres(), quantity.InchPounds(100).NewtonMetres(), source.Common("at the most")},
	{
		"side",
		quantity.FootPounds(11).NewtonMetres(),
		quantity.FootPounds(11).NewtonMetres(),
		source.Common("or wrist-tight and does not turn"),
	},
}

// Terminals lists the kinds of terminal.
func Terminals() []string { return []string{"top", "side"} }

// Torques are the ranges for a kind of terminal, the published one first.
func Torques(terminal string) []Torque {
	var list []Torque
	for _, t := range torques {
		if t.Terminal == terminal {
			list = append(list, t)
		}
	}
	return list
}

// Judge places a maker's torque against the ranges of a terminal: under, in or
// over all of them.
func Judge(terminal string, t quantity.NewtonMetres) string {
	low, high := quantity.NewtonMetres(1e9), quantity.NewtonMetres(0)
	for _, row := range Torques(terminal) {
		low, high = min(low, row.Low), max(high, row.High)
	}
	switch {
	case t < low:
		return "under"
	case t > high:
		return "over"
	}
	return "in"
}

// Posts at their base in millimetres; a clamp forced on the wrong one shows.
// Source: EN 50342-2, value from memory.
const (
	PositivePost = 19.5
	NegativePost = 17.9
)

// Years of make from which a keep-alive supply is wanted in a swap: German cars
// and others; every electric car, and in doubt. Common practice, no source.
const (
	KeepAliveGerman = 2009
	KeepAliveOther  = 2013
)

func roundTenth(x float64) float64 { return math.Round(x*10) / 10 }
