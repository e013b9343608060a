package reading

import (
	"math"
	"strconv"
)

// gravityUnit is the sign of a specific gravity, which is written in points.
const gravityUnit = "SG"

// Shown is a figure of an instrument as a person reads it, with the digits it is worth:
// volts to the hundredth, small ones to the millivolt, gravity in points.
func Shown(value float64, unit string) string { return figureOf(value, unit, "\u00a0") }

// FromInstrument is the part of a reading line that a figure of an instrument makes: its value
// with its unit, and the instrument by its name.
func FromInstrument(value float64, unit, by string) string {
	return figureOf(value, unit, "") + " by " + by
}

func figureOf(value float64, unit, gap string) string {
	digits := 3
	switch {
	case unit == gravityUnit:
		return strconv.FormatFloat(math.Round(value*1000), 'f', 0, 64)
	case unit == "V" && math.Abs(value) >= 1:
		digits = 2
	case math.Abs(value) >= 10:
		digits = 1
	}
	return strconv.FormatFloat(value, 'f', digits, 64) + gap + unit
}
