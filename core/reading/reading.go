// Package reading holds the kinds of reading a technician takes, the reading
// line in which one is typed or dictated, its printed form and its JSON form.
// All of them come from one table, kinds.go: a field that is not in the table
// cannot be typed, printed, sent or stored. The page docs/reading-line.md and
// what may be typed next (Complete) are made from the same table.
//
// The law of the package: Parse(Print(r)) gives r back, bit for bit, and a
// canonical line prints unchanged.
package reading

import (
	"grapnel/core/quantity"
)

// Kind is what was measured, looked at or told.
type Kind string

// The kinds of reading.
const (
	OpenCircuit    Kind = "open_circuit"
	Gravity        Kind = "gravity"
	Eye            Kind = "eye"
	Level          Kind = "level"
	Load           Kind = "load"
	Conductance    Kind = "conductance"
	Crank          Kind = "crank"
	ChargingSystem Kind = "charging"
	Ripple         Kind = "ripple"
	StarterDraw    Kind = "starter_draw"
	Drop           Kind = "drop"
	Drain          Kind = "drain"
	CaseLeak       Kind = "case_leak"
	Look           Kind = "look"
	History        Kind = "history"
	DCDC           Kind = "dcdc"
	Reserve        Kind = "reserve"
	ChargeLog      Kind = "charge_log"
	Jump           Kind = "jump"
	Halves         Kind = "halves"
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
	Points
	AirC
	MinutesRunning
	VoltsAC
	StudVolts
	FuseRatingA
	Millivolts
	AsleepMin
	AgeYears
	Jumps
	JumpsDays
	StoodH
	StoodC
	StandingDays
	TripsWeek
	TripMin
	LeftOnH
	RestVolts
	AwakeVolts
	Minutes
	StartVolts
	EndVolts
	AhIn
	// OtherVolts is the second of two halves read apart.
	OtherVolts
	numbers
)

// Choice names a field that holds one code of a list, or a yes or no.
type Choice uint8

// The choices of all kinds. Those that are yes or no hold Yes or No.
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
	Correction
	JustWatered
	Sound
	Started
	OnJump
	Speed
	Loads
	JustJumped
	Managed
	Condition
	StoppedEarly
	Warmth
	Gassing
	ChargerFull
	With
	choices
)

// Yes and No are the codes of a choice that is a plain yes or no.
const (
	Yes = "yes"
	No  = "no"
)

// MostCells is the largest number of cells a reading can carry: two 12 V
// batteries in series.
const MostCells = 12

// Cell is one cell of a gravity or level reading. The zero value says that it
// could not be read.
type Cell struct {
	// SG is the specific gravity as read, 1.000 to 1.400; zero when not a figure.
	SG float64
	// Code is a colour zone of a simple hydrometer or a level, empty for none.
	Code string
}

// Reading is one reading. It is a plain comparable value: two readings are the
// same exactly when they are ==. The zero value has no kind and is not valid.
type Reading struct {
	Kind Kind
	// By names the instrument; At is a clock time (14:05) or RFC 3339; Fuse is
	// the name of the fuse a drain was measured over.
	By, At, Fuse string
	// AfterCharge says that the battery had been charged in full before.
	AfterCharge bool

	cellCount uint8
	has       uint64
	choice    [choices]codeID
	number    [numbers]float64
	cells     [MostCells]Cell
}

// Number is a figure in the unit of the kinds table and whether it was given.
func (r *Reading) Number(n Number) (float64, bool) { return r.number[n], r.Has(n) }

// Has reports whether a figure was given.
func (r *Reading) Has(n Number) bool { return r.has&(1<<n) != 0 }

// Choice is a code, empty when it was not given.
func (r *Reading) Choice(c Choice) string { return codeNames[r.choice[c]] }

// Is reports whether a yes-or-no was answered with yes.
func (r *Reading) Is(c Choice) bool { return r.Choice(c) == Yes }

// Cells are the cells of a gravity or level reading, in order; nil for other
// kinds.
func (r *Reading) Cells() []Cell { return r.cells[:r.cellCount:r.cellCount] }

// With returns the reading with a figure set.
func (r Reading) With(n Number, x float64) Reading {
	r.number[n], r.has = x, r.has|1<<n
	return r
}

// WithChoice returns the reading with a code set. A code no kind knows is left
// out.
func (r Reading) WithChoice(c Choice, code string) Reading {
	r.choice[c] = codeIDs[code]
	return r
}

// WithCells returns the reading with its cells set, at most MostCells.
func (r Reading) WithCells(cells ...Cell) Reading {
	r.cells = [MostCells]Cell{}
	r.cellCount = uint8(copy(r.cells[:], cells))
	return r
}

// OfVehicle reports a reading of the vehicle around the battery: it holds for
// every battery in it. What the customer tells is one, but for a battery's age.
func (r *Reading) OfVehicle() bool {
	switch r.Kind {
	case Crank, ChargingSystem, Ripple, StarterDraw, Drop, Drain, DCDC, Jump:
		return true
	case History:
		return !r.Has(AgeYears)
	}
	return false
}

// Volts is the voltage read, zero when there is none.
func (r *Reading) Volts() quantity.Volts { return quantity.Volts(r.number[Volts]) }

// Temperature is the battery temperature and whether the reading has one.
func (r *Reading) Temperature() (quantity.Celsius, bool) {
	return quantity.Celsius(r.number[BatteryC]), r.Has(BatteryC)
}

func (r *Reading) set(n Number, x float64) { r.number[n], r.has = x, r.has|1<<n }

func (r *Reading) unset(n Number) { r.number[n], r.has = 0, r.has&^(1<<n) }
