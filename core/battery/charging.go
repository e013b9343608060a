package battery

import (
	"math"

	"grapnel/core/quantity"
)

// ChargeVolts are the charging voltages of a chemistry at 25 °C, six cells. An
// equalising range of zero is not allowed.
type ChargeVolts struct {
	AbsorbLow    quantity.Volts `json:"absorb_low"`
	AbsorbHigh   quantity.Volts `json:"absorb_high"`
	FloatLow     quantity.Volts `json:"float_low"`
	FloatHigh    quantity.Volts `json:"float_high"`
	EqualiseLow  quantity.Volts `json:"equalise_low"`
	EqualiseHigh quantity.Volts `json:"equalise_high"`
}

// chargeVolts at 25 °C. Values from memory; equalising flooded batteries only,
// never sealed ones, is common practice. The float of EFB is that of flooded.
var chargeVolts = map[Chemistry]ChargeVolts{
	Flooded: {14.4, 14.8, 13.2, 13.5, 15.5, 16.0},
	EFB:     {14.4, 14.8, 13.2, 13.5, 0, 0},
	AGM:     {14.4, 14.7, 13.5, 13.8, 0, 0},
	Gel:     {14.1, 14.4, 13.5, 13.8, 0, 0},
}

const (
	chargeCelsius quantity.Celsius = 25
	// Temperature compensation of charging volts, millivolts a cell and kelvin;
	// −3 to −5, the middle. Value from memory.
	compensation        = -4
	compensationLow     = -5
	compensationHigh    = -3
	cellsOfTables       = 6
	millivolts          = 1000
	compensationColdest = -20
	compensationWarmest = 50
	// currentShare is the charging current that is kind, of the ampere-hours;
	// the most for valve-regulated batteries and small ones. Common practice.
	currentShare = 0.10
	// quickShare is as fast as a flooded car battery is charged in the shop:
	// 10 A into 55 Ah is called quick. Common practice, no source.
	quickShare = 0.20
)

// Charging gives the charging voltages of this battery at a temperature,
// compensated by −4 mV a cell and kelvin off 25 °C between −20 and 50 °C. It
// reports false for a chemistry that is not judged. Equalising is for flooded
// batteries whose cells open.
func (l Label) Charging(at quantity.Celsius) (ChargeVolts, bool) {
	v, ok := chargeVolts[l.Chemistry]
	if !ok {
		return ChargeVolts{}, false
	}
	at = min(max(at, compensationColdest), compensationWarmest)
	shift := quantity.Volts(compensation * cellsOfTables / float64(millivolts) * float64(at-chargeCelsius))
	if !l.Opens() {
		v.EqualiseLow, v.EqualiseHigh = 0, 0
	}
	for _, x := range []*quantity.Volts{&v.AbsorbLow, &v.AbsorbHigh, &v.FloatLow, &v.FloatHigh, &v.EqualiseLow, &v.EqualiseHigh} {
		if *x > 0 {
			*x = tidy(l.FromTwelve(*x + shift))
		}
	}
	return v, true
}

// tidy rounds volts that a charger is set to, to the millivolt.
func tidy(v quantity.Volts) quantity.Volts {
	return quantity.Volts(math.Round(float64(v)*millivolts) / millivolts)
}

// ChargeCurrent is the kind and the quickest charging current for ampere-hours:
// 10 % and 20 % of them; valve-regulated batteries stay at 10 %.
func (c Chemistry) ChargeCurrent(capacity float64) (kind, quick quantity.Amperes) {
	kind = quantity.Amperes(currentShare * capacity)
	if c.ValveRegulated() {
		return kind, kind
	}
	return kind, quantity.Amperes(quickShare * capacity)
}

// acceptanceDelays: how long a deeply discharged sealed battery may take before
// it draws any current, by the charger's volts across it. Common practice, no
// source.
var acceptanceDelays = []struct {
	from  quantity.Volts
	hours float64
}{{16, 4}, {14, 8}, {0, 16}}

// AcceptanceDelay is the longest wait in hours before a deeply discharged
// sealed battery draws current, by the charger's volts across six cells.
func AcceptanceDelay(volts quantity.Volts) float64 {
	for _, d := range acceptanceDelays {
		if volts >= d.from {
			return d.hours
		}
	}
	return acceptanceDelays[len(acceptanceDelays)-1].hours
}

// Acceptance of a half-charged battery of ordinary size by temperature: about
// 50 A at 27 °C, under 5 A at −18 °C. Common practice, no source.
const (
	acceptWarm        quantity.Amperes = 50
	acceptCold        quantity.Amperes = 5
	acceptWarmCelsius quantity.Celsius = 27
	acceptColdCelsius quantity.Celsius = -18
	// acceptCapacity is the size the two figures are taken for. Value from memory.
	acceptCapacity = 60
)

// CompensationSpread is the middle absorption voltage of this battery at a
// temperature for the flattest and the steepest compensation in use.
func (l Label) CompensationSpread(at quantity.Celsius) (low, high quantity.Volts) {
	v := chargeVolts[l.Chemistry]
	middle := (v.AbsorbLow + v.AbsorbHigh) / 2
	at = min(max(at, compensationColdest), compensationWarmest)
	by := func(perCell float64) quantity.Volts {
		return l.FromTwelve(middle + quantity.Volts(perCell*cellsOfTables/float64(millivolts)*float64(at-chargeCelsius)))
	}
	a, b := by(compensationLow), by(compensationHigh)
	return min(a, b), max(a, b)
}
