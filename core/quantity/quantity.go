// Package quantity holds the measured quantities of the trade as types, so that
// volts cannot be handed where amperes are wanted, with their exact conversions.
//
// The core works in volts, amperes, ampere-hours, ohms, degrees Celsius,
// seconds, minutes and newton-metres. Fahrenheit, inch-pounds and foot-pounds
// are entered and shown where a person's setting asks for them.
package quantity

import "time"

// Volts is an electric potential difference in volts.
type Volts float64

// Amperes is an electric current in amperes; discharge is positive.
type Amperes float64

// AmpereHours is an electric charge in ampere-hours.
type AmpereHours float64

// Ohms is an electric resistance in ohms.
type Ohms float64

// Celsius is a temperature in degrees Celsius.
type Celsius float64

// Fahrenheit is a temperature in degrees Fahrenheit.
type Fahrenheit float64

// Seconds is a time span in seconds.
type Seconds float64

// Minutes is a time span in minutes.
type Minutes float64

// NewtonMetres is a torque in newton-metres.
type NewtonMetres float64

// InchPounds is a torque in pound-force inches.
type InchPounds float64

// FootPounds is a torque in pound-force feet.
type FootPounds float64

// Torque factors. Source: the international pound (0.453 592 37 kg), inch
// (0.0254 m) and standard gravity (9.806 65 m/s²), all exact by definition.
const (
	newtonMetresPerInchPound = 0.45359237 * 9.80665 * 0.0254
	newtonMetresPerFootPound = newtonMetresPerInchPound * 12
)

// Celsius converts exactly: (F − 32) × 5/9.
func (f Fahrenheit) Celsius() Celsius { return Celsius((float64(f) - 32) * 5 / 9) }

// Fahrenheit converts exactly: C × 9/5 + 32.
func (c Celsius) Fahrenheit() Fahrenheit { return Fahrenheit(float64(c)*9/5 + 32) }

// NewtonMetres converts exactly.
func (t InchPounds) NewtonMetres() NewtonMetres {
	return NewtonMetres(float64(t) * newtonMetresPerInchPound)
}

// NewtonMetres converts exactly.
func (t FootPounds) NewtonMetres() NewtonMetres {
	return NewtonMetres(float64(t) * newtonMetresPerFootPound)
}

// InchPounds converts exactly.
func (t NewtonMetres) InchPounds() InchPounds {
	return InchPounds(float64(t) / newtonMetresPerInchPound)
}

// FootPounds converts exactly.
func (t NewtonMetres) FootPounds() FootPounds {
	return FootPounds(float64(t) / newtonMetresPerFootPound)
}

// Seconds converts exactly.
func (m Minutes) Seconds() Seconds { return Seconds(m * 60) }

// Duration converts to Go's own time span, to the nanosecond.
func (s Seconds) Duration() time.Duration { return time.Duration(float64(s) * float64(time.Second)) }

// Duration converts to Go's own time span, to the nanosecond.
func (m Minutes) Duration() time.Duration { return time.Duration(float64(m) * float64(time.Minute)) }
