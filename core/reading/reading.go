// Package reading holds the kinds of reading a technician takes, the reading
// line in which one is typed or dictated, its printed form and its JSON form.
// All four come from one table, kinds.go: a field that is not in the table
// cannot be typed, printed, sent or stored.
package reading

import (
	"grapnel/core/quantity"
)

// Kind is what was measured or looked at.
type Kind string

// The kinds served.
const (
	OpenCircuit Kind = "open_circuit"
	Eye         Kind = "eye"
	Look        Kind = "look"
	Load        Kind = "load"
	Conductance Kind = "conductance"
)

// Number names a field that holds a figure.
type Number uint8

// The figures of all kinds; which kind has which, in what unit and range, is in
// kinds.go.
const (
	Volts Number = iota
	Amps
	Seconds
	Measured
	Rated
	BatteryC
	RestedMin
	SurfaceS
	WaitS
	RecoveredVolts
	Milliohm
	Percent
	numbers
)

// Choice names a field that holds one code of a list.
type Choice uint8

// The choices of all kinds.
const (
	TempBasis Choice = iota
	SurfaceRemoved
	Since
	Colour
	Method
	Standard
	Chemistry
	Finding
	Where
	Degree
	choices
)

// Reading is one reading. It is a plain comparable value: two readings are the
// same exactly when they are ==. The zero value has no kind and is not valid.
type Reading struct {
	Kind Kind
	// AfterCharge says that the battery had been charged in full before.
	AfterCharge bool
	// By names the instrument; At is a clock time (14:05) or RFC 3339.
	By, At string

	number [numbers]float64
	has    uint32
	choice [choices]string
}

// Number is a figure in the unit of the kinds table and whether it was given.
func (r Reading) Number(n Number) (float64, bool) { return r.number[n], r.Has(n) }

// Has reports whether a figure was given.
func (r Reading) Has(n Number) bool { return r.has&(1<<n) != 0 }

// Choice is a code, empty when it was not given.
func (r Reading) Choice(c Choice) string { return r.choice[c] }

// With returns the reading with a figure set.
func (r Reading) With(n Number, x float64) Reading {
	r.number[n], r.has = x, r.has|1<<n
	return r
}

// WithChoice returns the reading with a code set.
func (r Reading) WithChoice(c Choice, code string) Reading {
	r.choice[c] = code
	return r
}

// Volts is the voltage read, zero when there is none.
func (r Reading) Volts() quantity.Volts { return quantity.Volts(r.number[Volts]) }

// Temperature is the battery temperature and whether the reading has one.
func (r Reading) Temperature() (quantity.Celsius, bool) {
	return quantity.Celsius(r.number[BatteryC]), r.Has(BatteryC)
}
