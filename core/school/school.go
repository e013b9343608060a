// Package school holds what the trade has agreed on and where it has not: the
// limits a test is held against, the schools of practice a shop may choose
// between, the conditions under which a test counts, the stop rules and the
// cautions. All of it is data; nothing here looks at a reading.
package school

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/quantity"
)

// ID names a school of load testing.
type ID string

// The load-test schools. HalfCCA is the default: it is the one with published
// limits over temperature.
const (
	HalfCCA    ID = "half_cca"
	Quick9V    ID = "quick_9v"
	Starter9V6 ID = "starter_9v6"
	Starter10V ID = "starter_10v"
)

// LoadSchool is one way to judge volts under load.
type LoadSchool struct {
	ID ID `json:"id"`
	// Seconds is how long the load is held before the volts are read.
	Seconds quantity.Seconds `json:"seconds"`
	// Flat is the least volts of a six-cell battery; zero where the
	// temperature table holds.
	Flat quantity.Volts `json:"flat"`
	// Starter marks the schools that use the vehicle's starter as the load.
	Starter bool `json:"starter"`
	// Source is the tag of the limit: P published, CP common practice.
	Source string `json:"source"`
}

// loadSchools: half of the rating with the temperature table is Battery Council
// International service practice, value from memory; the others are common
// practice, no source.
var loadSchools = []LoadSchool{
	{ID: HalfCCA, Seconds: 15, Source: "P"},
	{ID: Quick9V, Seconds: 15, Flat: 9.0, Source: "CP"},
	{ID: Starter9V6, Seconds: 15, Flat: 9.6, Starter: true, Source: "CP"},
	{ID: Starter10V, Seconds: 20, Flat: 10.0, Starter: true, Source: "CP"},
}

// IDs lists the schools, the default first.
func IDs() []string {
	ids := make([]string, len(loadSchools))
	for i, s := range loadSchools {
		ids[i] = string(s.ID)
	}
	return ids
}

// Find returns a school by its name, the default for an empty one.
func Find(id ID) (LoadSchool, bool) {
	if id == "" {
		id = HalfCCA
	}
	for _, s := range loadSchools {
		if s.ID == id {
			return s, true
		}
	}
	return LoadSchool{}, false
}

// limitPoint is the least volts of a six-cell battery at the end of a load of
// half its rating, at a battery temperature.
type limitPoint struct {
	at    quantity.Celsius
	least quantity.Volts
}

// loadLimits falls with the cold. Source: Battery Council International service
// practice, value from memory, in whole degrees Celsius.
var loadLimits = []limitPoint{
	{-18, 8.5}, {-12, 8.7}, {-7, 8.9}, {-1, 9.1}, {4, 9.3}, {10, 9.4}, {16, 9.5}, {21, 9.6},
}

// loadLimitsFahrenheit is the same table as booklets in Fahrenheit print it: its
// rows lie up to half a degree beside those in Celsius, which is worth 0.02 V at the most.
// Source: the same.
var loadLimitsFahrenheit = []limitPoint{
	{quantity.Fahrenheit(0).Celsius(), 8.5}, {quantity.Fahrenheit(10).Celsius(), 8.7}, {quantity.Fahrenheit(20).Celsius(), 8.9},
	{quantity.Fahrenheit(30).Celsius(), 9.1}, {quantity.Fahrenheit(40).Celsius(), 9.3}, {quantity.Fahrenheit(50).Celsius(), 9.4},
	{quantity.Fahrenheit(60).Celsius(), 9.5}, {quantity.Fahrenheit(70).Celsius(), 9.6},
}

// Bounds of the temperature table: with no temperature at all a load fails only
// below the coldest limit and passes from the warmest.
const (
	LeastEver   quantity.Volts   = 8.5
	LeastWarm   quantity.Volts   = 9.6
	ColdestTest quantity.Celsius = -18
)

// Limit is the least six-cell volts at a battery temperature in this school. A
// flat limit never asks for more than the published table does in the cold,
// where a sound battery could not give it.
func (s LoadSchool) Limit(at quantity.Celsius) quantity.Volts {
	table := limitAt(at)
	if s.Flat == 0 {
		return table
	}
	if s.Starter {
		// The starter limits hold at 21 °C; in the cold they fall as the table does.
		return s.Flat - (LeastWarm - table)
	}
	return min(s.Flat, table)
}

// Unknown gives the two limits for an unknown temperature: at or above pass it
// passes, below fail it fails, between them it proves nothing.
func (s LoadSchool) Unknown() (pass, fail quantity.Volts) {
	return s.Limit(quantity.Celsius(math.Inf(1))), s.Limit(ColdestTest)
}

// FahrenheitLimit is the least six-cell volts by the table in Fahrenheit, for
// half of the rating.
func FahrenheitLimit(at quantity.Celsius) quantity.Volts { return between(loadLimitsFahrenheit, at) }

func limitAt(at quantity.Celsius) quantity.Volts { return between(loadLimits, at) }

// between reads a table of limits and keeps its ends beyond them.
func between(table []limitPoint, at quantity.Celsius) quantity.Volts {
	of := quantity.Graph[limitPoint]{
		Points: table,
		X:      func(p limitPoint) float64 { return float64(p.at) },
		Y:      func(p limitPoint) float64 { return float64(p.least) },
	}
	// A limit is compared with what a meter shows: tidy to the millivolt.
	return quantity.Volts(math.Round(of.At(float64(at))*1000) / 1000)
}

// When a charge state counts. Common practice, no source.
const (
	// RestMinutes without charge or load take surface charge off.
	RestMinutes quantity.Minutes = 60
	// LampSeconds of headlamps, then LampWait, do so too.
	LampSeconds quantity.Seconds = 120
	LampWait    quantity.Seconds = 15
	// LoadSeconds of half the rating (at most 300 A), then LoadWait, do so too.
	LoadSeconds quantity.Seconds = 15
	LoadWait    quantity.Seconds = 15
)

// When a test counts.
const (
	// JudgePercent is the least charge a failed load or conductance test counts
	// at. Source: Battery Council International service practice, value from memory.
	JudgePercent = 75
	// EyePercent is what a green eye promises at least. Common practice, no source.
	EyePercent = 65
	// HalfRating is the share of the SAE rating a load test draws. Source:
	// Battery Council International service practice, value from memory.
	HalfRating = 0.5
	// LittleRating is the share of the SAE rating under which a passed load
	// proves little. Common practice, no source.
	LittleRating = 0.25
	// LoadTolerance is how far the current may be off half the rating before
	// the volts are carried over to it. Common practice, no source.
	LoadTolerance = 0.1
	// TimeTolerance is how early the volts may be read, LongSeconds how late.
	// Value from memory (a hand on the clock is good to about 0.7 s).
	TimeTolerance quantity.Seconds = 1
	LongSeconds   quantity.Seconds = 20
	// FixedSeconds is how long a heater-type load is held. Common practice, no source.
	FixedSeconds quantity.Seconds = 10
	// FixedLow to FixedHigh is what heater-type loads draw. Common practice, no
	// source.
	FixedLow  quantity.Amperes = 100
	FixedHigh quantity.Amperes = 150
)

// When a charged battery is bad without any test.
const (
	// DeadVolts is what a battery must rest above after a full charge, six
	// cells. Common practice, no source.
	DeadVolts quantity.Volts = 12.0
	// HotCelsius stops a charge (125 °F). Common practice, no source.
	HotCelsius quantity.Celsius = 52
)

// Grade is what a conductance tester's measured over rated means.
type Grade struct {
	Code  string  `json:"code"`
	Least float64 `json:"least"`
}

// Grades, best first; on a charged battery only. Common practice, no source.
var grades = []Grade{{"good", 0.90}, {"serviceable", 0.80}, {"weak", 0.70}, {"fail", 0}}

// GradeOf grades what a conductance tester measured over the rating, as a share: good from
// 0.90, serviceable from 0.80, weak from 0.70, fail below, whatever the ratio. It counts on
// a charged battery only. Common practice, no source.
func GradeOf(ratio float64) Grade {
	for _, g := range grades {
		if ratio >= g.Least {
			return g
		}
	}
	return grades[len(grades)-1]
}

// tidyCelsius writes a Fahrenheit row of the table in hundredths of a degree.
func tidyCelsius(at quantity.Celsius) float64 { return math.Round(float64(at)*100) / 100 }

// ChargeFromEye is the charge that the built-in eye stands for, with its band: green
// promises EyePercent of the one cell it sees, dark less than that. It reports false for
// any other colour, which tells no charge. Common practice, no source.
func ChargeFromEye(colour string) (battery.Charge, bool) {
	switch colour {
	case "green":
		return battery.Charge{Percent: (EyePercent + 100) / 2, Low: EyePercent, High: 100}, true
	case "dark":
		return battery.Charge{Percent: EyePercent / 2, Low: 0, High: EyePercent}, true
	}
	return battery.Charge{}, false
}
