package battery

import (
	"math"

	"grapnel/core/quantity"
)

// ChargePoint ties a state of charge to the rested open-circuit volts of a
// six-cell battery at 26.7 °C.
type ChargePoint struct {
	Percent float64        `json:"percent"`
	Volts   quantity.Volts `json:"volts"`
	Tag     string         `json:"-"`
}

// openCircuit holds the rested open-circuit voltage by chemistry, rising.
//
//   - flooded: Battery Council International service practice, value from memory
//   - EFB, AGM, gel: values from memory, origin not certain; the trade's marks
//     for AGM (full 12.8-13.0, about half below 12.5) are common practice
var openCircuit = map[Chemistry][]ChargePoint{
	Flooded: {{0, 11.89, "P"}, {25, 12.06, "P"}, {50, 12.24, "P"}, {75, 12.45, "P"}, {100, 12.65, "P"}},
	EFB:     {{0, 11.90, "M"}, {25, 12.08, "M"}, {50, 12.28, "M"}, {75, 12.50, "M"}, {100, 12.70, "M"}},
	AGM:     {{0, 11.80, "M"}, {25, 12.00, "M"}, {50, 12.30, "M"}, {75, 12.60, "M"}, {100, 12.85, "M"}},
	Gel:     {{0, 11.80, "M"}, {25, 12.00, "M"}, {50, 12.35, "M"}, {75, 12.65, "M"}, {100, 12.85, "M"}},
}

const (
	// TableCelsius is the temperature the open-circuit tables hold at (80 °F).
	TableCelsius quantity.Celsius = 26.7
	// millivoltsPerKelvin is added to a six-cell reading for every degree
	// colder than the table. Computed from 0.2 mV/K a cell.
	millivoltsPerKelvin = 1.2
)

// restedCeiling is the highest rested six-cell voltage of a full battery. A
// higher reading is surface charge or another chemistry. Flooded: strong
// (calcium) acid may reach 12.90 V, common practice; the others carry the same
// margin over their full mark, value from memory.
var restedCeiling = map[Chemistry]quantity.Volts{Flooded: 12.90, EFB: 12.95, AGM: 13.10, Gel: 13.10}

// OrdinaryCeiling is the rested six-cell voltage a flooded battery with
// ordinary acid (1.265) does not stay above. Common practice, no source.
const OrdinaryCeiling quantity.Volts = 12.75

// tradeMarks are the volts people of the trade go by, six cells, highest first.
// Common practice, no source. None for EFB and gel.
var tradeMarks = map[Chemistry][]struct {
	From quantity.Volts
	Mark string
}{
	Flooded: {{12.6, "full"}, {12.4, "three_quarters"}, {12.0, "low"}, {0, "discharged"}},
	AGM:     {{12.8, "full"}, {12.5, "charge_it"}, {0, "half"}},
}

// TradeMark is what the trade calls a rested voltage of this battery; empty for
// a chemistry it has no marks for.
func (l Label) TradeMark(v quantity.Volts) string {
	for _, m := range tradeMarks[l.Chemistry] {
		if l.PerTwelve(v) >= m.From {
			return m.Mark
		}
	}
	return ""
}

// ChargeScale is the open-circuit table of this battery, scaled by its cells;
// nil where the chemistry is not judged.
func (l Label) ChargeScale() []ChargePoint {
	table := openCircuit[l.Chemistry]
	scaled := make([]ChargePoint, len(table))
	for i, p := range table {
		scaled[i] = ChargePoint{p.Percent, l.FromTwelve(p.Volts), p.Tag}
	}
	return scaled
}

// RestedCeiling is the highest voltage this battery can rest at; above it the
// reading still holds surface charge. Zero where the chemistry is not judged.
func (l Label) RestedCeiling() quantity.Volts {
	shift := l.AcidShift()
	if l.strengthKnown() && l.Chemistry == Flooded {
		// The ceiling allows for strong acid; where its strength is said, nothing has to be.
		return l.FromTwelve(OrdinaryCeiling + shift)
	}
	return l.FromTwelve(restedCeiling[l.Chemistry] + max(shift, 0))
}

// ordinaryAcid is the full gravity that a chemistry's volts table holds for. Computed from
// the table by the cell rule.
var ordinaryAcid = map[Chemistry]float64{Flooded: FullGravity, EFB: 1.2725}

func (l Label) strengthKnown() bool { return l.FullSG != nil && ordinaryAcid[l.Chemistry] > 0 }

// AcidShift is how far a battery of this label rests above the table, six cells, by its
// maker's own full gravity: a point of gravity is a millivolt a cell (the cell rule). Zero
// where the label does not say it, or the acid is bound.
func (l Label) AcidShift() quantity.Volts {
	if !l.strengthKnown() {
		return 0
	}
	return quantity.Volts(tableCells * (*l.FullSG - ordinaryAcid[l.Chemistry]))
}

// VoltsSpread is one sigma of how batteries of this label differ from its table at rest,
// six cells.
func (l Label) VoltsSpread() quantity.Volts {
	if l.strengthKnown() {
		return OwnSpread
	}
	return TableSpread
}

// AtTable carries a six-cell voltage at a battery temperature over to the
// temperature of the tables.
func AtTable(v quantity.Volts, at quantity.Celsius) quantity.Volts {
	return v + quantity.Volts(millivoltsPerKelvin/1000*float64(TableCelsius-at))
}

// ChargeFromVolts is the state of charge in percent, 0 to 100, for a rested
// open-circuit voltage of this battery at its temperature. It reports false
// where the chemistry is not judged.
func (l Label) ChargeFromVolts(v quantity.Volts, at quantity.Celsius) (percent float64, ok bool) {
	table := openCircuit[l.Chemistry]
	if len(table) == 0 || l.Cells() == 0 {
		return 0, false
	}
	return chargeOverVolts(table).At(float64(AtTable(l.PerTwelve(v)-l.AcidShift(), at))), true
}

// chargeOverVolts and voltsOverCharge read a table of rested volts either way.
func chargeOverVolts(table []ChargePoint) quantity.Graph[ChargePoint] {
	return quantity.Graph[ChargePoint]{Points: table, X: ChargePoint.volts, Y: ChargePoint.percent}
}

func voltsOverCharge(table []ChargePoint) quantity.Graph[ChargePoint] {
	return quantity.Graph[ChargePoint]{Points: table, X: ChargePoint.percent, Y: ChargePoint.volts}
}

func (p ChargePoint) volts() float64   { return float64(p.Volts) }
func (p ChargePoint) percent() float64 { return p.Percent }

// VoltsFromCharge is the rested open-circuit voltage of this battery at the
// tables' temperature for a state of charge in percent, 0 to 100.
func (l Label) VoltsFromCharge(percent float64) quantity.Volts {
	return l.FromTwelve(l.AcidShift() + quantity.Volts(voltsOverCharge(openCircuit[l.Chemistry]).At(percent)))
}

// Charge is a state of charge with its band, in percent.
type Charge struct {
	Percent float64 `json:"percent"`
	Low     float64 `json:"low"`
	High    float64 `json:"high"`
}

// TableSpread is one sigma of how makers' batteries differ from the table at rest, six
// cells: acid of 1.265 to 1.300 moves full volts by up to 0.2 V. OwnSpread is the same
// where the label says its own full gravity. Computed and value from memory.
const (
	TableSpread quantity.Volts = 0.04
	OwnSpread   quantity.Volts = 0.015

	tableCells = 6
)

// BandSigmas makes a two-sided 90 % band of one sigma.
const BandSigmas = 1.645

// TemperatureUnknown is the battery temperature taken when none is known, with
// TemperatureUnknownSigma: a workshop between frost and summer. Value from memory.
const (
	TemperatureUnknown      quantity.Celsius = 20
	TemperatureUnknownSigma quantity.Celsius = 12
)

// ChargeBand is the charge for a rested voltage with a 90 % band from the
// meter's error, the spread between makers and the error of the temperature,
// each as one sigma in the battery's own volts and degrees.
func (l Label) ChargeBand(v, meter quantity.Volts, at, atSigma quantity.Celsius) (Charge, bool) {
	percent, ok := l.ChargeFromVolts(v, at)
	if !ok {
		return Charge{}, false
	}
	byTemperature := l.FromTwelve(quantity.Volts(millivoltsPerKelvin / 1000 * float64(atSigma)))
	half := BandSigmas * rootSum(meter, l.FromTwelve(l.VoltsSpread()), byTemperature)
	low, _ := l.ChargeFromVolts(v-half, at)
	high, _ := l.ChargeFromVolts(v+half, at)
	return Charge{Percent: percent, Low: low, High: high}, true
}

// rootSum adds independent errors, one sigma each.
func rootSum(sigmas ...quantity.Volts) quantity.Volts {
	var sum float64
	for _, s := range sigmas {
		sum += float64(s) * float64(s)
	}
	return quantity.Volts(math.Sqrt(sum))
}

// A full battery with one cell gone rests at the volts of the others: 2.04 to
// 2.18 V each (10.5 V of a 12 V battery), but never where a discharged one of
// all its cells may rest. Computed from cells of 2.1 V.
const (
	missingCellLow  quantity.Volts = 2.04
	missingCellHigh quantity.Volts = 2.18
)

// MissingCell is the range of rested volts that looks like one cell gone.
func (l Label) MissingCell() (low, high quantity.Volts) {
	others := quantity.Volts(l.Cells() - 1)
	flat := l.VoltsFromCharge(0)
	return others * missingCellLow, min(others*missingCellHigh, flat-flat/100)
}
