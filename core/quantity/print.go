package quantity

import (
	"math"
	"strconv"
	"strings"
)

// gap is the no-break space that stands between a figure and its unit. The
// shipped type has a narrow space and next to no narrow no-break one.
const gap = "\u00a0"

// Torque units a person may choose.
const (
	TorqueNewtonMetre = "N·m"
	TorqueInchPound   = "in·lbf"
	TorqueFootPound   = "ft·lbf"
)

// Units is what one person wants to read: the zero value shows Celsius,
// newton-metres and a decimal point.
type Units struct {
	Fahrenheit   bool
	TorqueUnit   string
	DecimalComma bool
}

// Number prints x with the given decimals, a true minus sign and the person's
// decimal mark.
func (u Units) Number(x float64, decimals int) string {
	s := strconv.FormatFloat(x, 'f', decimals, 64)
	if x < 0 {
		// A value that rounds to zero carries no sign.
		if s = strings.TrimPrefix(s, "-"); strings.Trim(s, "0.") != "" {
			s = "−" + s
		}
	}
	if u.DecimalComma {
		s = strings.Replace(s, ".", ",", 1)
	}
	return s
}

// Shortest prints x with as many decimals as it has, at most six.
func (u Units) Shortest(x float64) string {
	s := strconv.FormatFloat(math.Round(x*1e6)/1e6, 'f', -1, 64)
	decimals := 0
	if i := strings.IndexByte(s, '.'); i >= 0 {
		decimals = len(s) - i - 1
	}
	return u.Number(x, decimals)
}

// Volts prints to the hundredth: 12.41 V.
func (u Units) Volts(v Volts) string { return u.Number(float64(v), 2) + gap + "V" }

// Amperes prints whole amperes from 10 A up, tenths below.
func (u Units) Amperes(a Amperes) string {
	decimals := 0
	if math.Abs(float64(a)) < 10 && a != Amperes(math.Trunc(float64(a))) {
		decimals = 1
	}
	return u.Number(float64(a), decimals) + gap + "A"
}

// Milliamperes prints whole milliamperes below 1 A, amperes from there on.
func (u Units) Milliamperes(a Amperes) string {
	if math.Abs(float64(a)) >= 1 {
		return u.Amperes(a)
	}
	return u.Number(float64(a)*1000, 0) + gap + "mA"
}

// AmpereHours prints whole ampere-hours from 10 up, tenths below.
func (u Units) AmpereHours(q AmpereHours) string {
	return strings.TrimSuffix(u.Amperes(Amperes(q)), "A") + "Ah"
}

// Ohms prints milliohms to the tenth.
func (u Units) Ohms(r Ohms) string { return u.Number(float64(r)*1000, 1) + gap + "mΩ" }

// Temperature prints whole degrees in the person's unit.
func (u Units) Temperature(c Celsius) string {
	if u.Fahrenheit {
		return u.Number(float64(c.Fahrenheit()), 0) + gap + "°F"
	}
	return u.Number(float64(c), 0) + gap + "°C"
}

// Torque prints in the person's unit to the tenth (whole inch-pounds).
func (u Units) Torque(t NewtonMetres) string {
	switch u.TorqueUnit {
	case TorqueInchPound:
		return u.Number(float64(t.InchPounds()), 0) + gap + TorqueInchPound
	case TorqueFootPound:
		return u.Number(float64(t.FootPounds()), 1) + gap + TorqueFootPound
	}
	return u.Number(float64(t), 1) + gap + TorqueNewtonMetre
}

// Span prints a time span in the largest unit that reads well: 15 s, 40 min,
// 2 h, 3 h 20 min, 5 days.
func (u Units) Span(s Seconds) string {
	x := math.Round(float64(s))
	switch {
	case x < 120 && math.Mod(x, 60) != 0:
		return u.Number(x, 0) + gap + "s"
	case x < 2*3600 && math.Mod(x, 3600) != 0 || x == 0:
		return u.Number(math.Round(x/60), 0) + gap + "min"
	case x < 72*3600:
		minutes := math.Round(x / 60)
		hours := math.Floor(minutes / 60)
		text := u.Number(hours, 0) + gap + "h"
		if rest := minutes - hours*60; rest > 0 {
			text += " " + u.Number(rest, 0) + gap + "min"
		}
		return text
	}
	return u.Number(math.Round(x/86400), 0) + gap + "days"
}
