// Package charging holds what charging asks for beside the battery's own
// tables: how long it takes by the workshop's rule, and the air a charging place
// needs. The forecast of one charge comes from the battery model and joins it
// here.
package charging

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/quantity"
)

// Air for a charging place. Source: IEC 62485-2 / EN 50272-2, value from memory.
const (
	// airPerAmpere is the fresh air for each cell and ampere of gassing current,
	// in cubic metres an hour: 24 times the 0.42 l of hydrogen of an ampere-hour,
	// with a safety factor of 5.
	airPerAmpere = 0.05
	// openingPerFlow is the free opening for natural ventilation, in square
	// centimetres for each cubic metre an hour.
	openingPerFlow = 28
	// clearPerRoot is the distance without spark or flame, in millimetres for the
	// cube root of the gassing current in milliamperes; never under leastClear.
	clearPerRoot = 28.8
	leastClear   = 0.5
	// hydrogenPerAmpereHour is the hydrogen of one cell, in cubic metres.
	hydrogenPerAmpereHour = 0.00042
	// ExplosivePercent is the share of hydrogen in air that explodes, by volume.
	ExplosivePercent = 4.0
	// gasVoltsMost is the charging voltage of a cell up to which the gassing
	// currents hold.
	gasVoltsMost quantity.Volts = 2.40
)

// gassing currents in milliamperes for each ampere-hour, float and boost.
// Source: IEC 62485-2 / EN 50272-2, value from memory.
var gassing = map[string][2]float64{"vented": {5, 20}, "valve_regulated": {1, 8}}

// How a battery is being charged, for the air it needs.
const (
	Float = "float"
	Boost = "boost"
	// Unlimited is charging without a voltage limit, or above 2.40 V a cell: the
	// whole current makes gas.
	Unlimited = "unlimited"
)

// Modes lists the ways of charging AirFor knows.
func Modes() []string { return []string{Boost, Float, Unlimited} }

// Air is what a charging place needs.
type Air struct {
	// GasAmps is the current that makes gas.
	GasAmps quantity.Amperes `json:"gas_amps"`
	// Flow of fresh air in cubic metres an hour, Opening for it in square
	// centimetres, Clear distance in metres.
	Flow    float64 `json:"flow"`
	Opening float64 `json:"opening"`
	Clear   float64 `json:"clear"`
	// Hydrogen made, in litres an hour, its share in the air moved in percent,
	// and the hours until a closed room of the volume given is explosive.
	Hydrogen     float64 `json:"hydrogen"`
	SharePercent float64 `json:"share_percent"`
	HoursClosed  float64 `json:"hours_closed"`
}

// GasAmps is the gassing current of a battery: by its ampere-hours in float or
// boost, the whole charging current in any other mode.
func GasAmps(c battery.Chemistry, capacity float64, current quantity.Amperes, mode string) quantity.Amperes {
	build := "vented"
	if c.ValveRegulated() {
		build = "valve_regulated"
	}
	const milliamperes = 1000
	switch mode {
	case Float:
		return quantity.Amperes(gassing[build][0] * capacity / milliamperes)
	case Boost:
		return quantity.Amperes(gassing[build][1] * capacity / milliamperes)
	}
	return current
}

// Opening is the free opening in cm² that lets a flow of fresh air in m³/h in by itself.
func Opening(flow float64) float64 { return openingPerFlow * flow }

// AirFor is the air that strings of cells need whose gassing current is known,
// and what happens in a closed room of a volume in cubic metres.
func AirFor(cells int, gas quantity.Amperes, strings int, room float64) Air {
	total := float64(cells) * float64(gas) * float64(strings)
	const milliamperes, millimetres, litres, percent = 1000, 1000, 1000, 100
	a := Air{GasAmps: gas, Flow: airPerAmpere * total, Hydrogen: hydrogenPerAmpereHour * total * litres}
	a.Opening = Opening(a.Flow)
	a.Clear = math.Max(leastClear, clearPerRoot*math.Cbrt(float64(gas)*milliamperes)/millimetres)
	if a.Flow > 0 {
		a.SharePercent = hydrogenPerAmpereHour * total / a.Flow * percent
		a.HoursClosed = room * ExplosivePercent / percent / (hydrogenPerAmpereHour * total)
	}
	return a
}

// LimitedVolts reports whether a charging voltage lets the gassing currents
// hold: 2.40 V a cell at most.
func LimitedVolts(volts quantity.Volts, cells int) bool {
	const rounding = 1e-9
	return volts <= gasVoltsMost*quantity.Volts(cells)+rounding
}
