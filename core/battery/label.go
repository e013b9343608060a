// Package battery holds what a starting battery is: its label, its chemistry,
// its rating and the standard that rating was measured by, and the published
// tables that tie open-circuit volts, charge, acid and freezing together.
package battery

import (
	"strings"

	"grapnel/core/quantity"
	"grapnel/core/wording"
)

// Chemistry is how the battery is built.
type Chemistry string

// The chemistries Grapnel knows. LiFePO4 and Unknown are recorded and never
// judged: every lead table is wrong for the one and may be for the other.
const (
	Flooded Chemistry = "flooded"
	EFB     Chemistry = "efb"
	AGM     Chemistry = "agm"
	Gel     Chemistry = "gel"
	LiFePO4 Chemistry = "lifepo4"
	Unknown Chemistry = "unknown"
)

// Chemistries lists every chemistry in the order a label is asked.
func Chemistries() []string {
	return []string{string(Flooded), string(EFB), string(AGM), string(Gel), string(LiFePO4), string(Unknown)}
}

// Judged reports whether the lead tables hold for the chemistry.
func (c Chemistry) Judged() bool {
	return c == Flooded || c == EFB || c == AGM || c == Gel
}

// ValveRegulated reports whether the acid is bound and the cells cannot be
// opened: AGM and gel.
func (c Chemistry) ValveRegulated() bool { return c == AGM || c == Gel }

// NominalVolts lists the nominal voltages of starting batteries and banks.
func NominalVolts() []float64 { return []float64{6, 8, 12, 24} }

// voltsPerCell is the nominal voltage of one lead-acid cell.
const voltsPerCell = 2.0

// Label is what is printed on the battery. Nil means not known.
type Label struct {
	Chemistry  Chemistry             `json:"chemistry"`
	NominalV   quantity.Volts        `json:"nominal_v"`
	Rating     *Rating               `json:"rating,omitempty"`
	CapacityAh *quantity.AmpereHours `json:"capacity_ah,omitempty"`
	ReserveMin *quantity.Minutes     `json:"reserve_min,omitempty"`
	// Made is YYYY or YYYY-MM.
	Made      string `json:"made,omitempty"`
	Sealed    *bool  `json:"sealed,omitempty"`
	EyeFitted *bool  `json:"eye_fitted,omitempty"`
	// LabelLoadA is the test load printed on the label itself.
	LabelLoadA *quantity.Amperes `json:"label_load_a,omitempty"`
	// FullSG is the maker's specific gravity at full charge.
	FullSG *float64 `json:"full_sg,omitempty"`
	// DeepCycle marks one made to be drawn down, not to start an engine.
	DeepCycle *bool `json:"deep_cycle,omitempty"`
	// Alloy is that of a flooded battery's plates, calcium or antimony; empty for not
	// said.
	Alloy string `json:"plates,omitempty"`
	// Position tells which of several batteries this is.
	Position string `json:"position,omitempty"`
}

// Cells is the number of lead-acid cells in series: three in a 6 V battery,
// six in a 12 V one.
func (l Label) Cells() int { return int(float64(l.NominalV)/voltsPerCell + 0.5) }

// Opens reports a battery whose cells are known to open, so that water can be
// added. One whose label does not say does not count.
func (l Label) Opens() bool { return l.Sealed != nil && !*l.Sealed }

// MayOpen reports whether the cells may turn out to have caps that come off: a lead
// battery that is neither sealed nor valve-regulated, as far as is known.
func (l Label) MayOpen() bool {
	return l.Chemistry.Judged() && !l.Closed()
}

// Closed reports a battery that is known not to open: valve-regulated, or said to be sealed.
func (l Label) Closed() bool {
	return l.Chemistry.ValveRegulated() || l.Sealed != nil && *l.Sealed
}

// PerTwelve scales volts of this battery to those of a six-cell one, the form
// in which every table of the trade is printed.
func (l Label) PerTwelve(v quantity.Volts) quantity.Volts {
	return v * 6 / quantity.Volts(l.Cells())
}

// FromTwelve scales volts of a six-cell battery to this one, by its cells; the other way
// of PerTwelve.
func (l Label) FromTwelve(v quantity.Volts) quantity.Volts {
	return v * quantity.Volts(l.Cells()) / 6
}

// mostPerCell is more than any charge puts across a cell. Common practice, no
// source.
const mostPerCell = 2.75

// mostPerCellCharged is more than a charger or an alternator puts across a cell whose
// regulator has failed. Common practice, no source.
const mostPerCellCharged = 3.0

// MostChargedVolts is the highest voltage that can sensibly be read while it is charged:
// 3 V a cell, so that a regulator that has failed can be written down.
func (l Label) MostChargedVolts() quantity.Volts {
	return quantity.Volts(mostPerCellCharged * float64(l.Cells()))
}

// MostVolts is the highest voltage a reading of this battery can sensibly
// show: 2.75 V a cell, above any equalising charge (common practice, no source).
func (l Label) MostVolts() quantity.Volts { return quantity.Volts(mostPerCell * float64(l.Cells())) }

// Text is the label in one line: Flooded 12 V, 650 A SAE, 65 Ah.
func (l Label) Text() string {
	var u quantity.Units
	chemistry := wording.Word(string(l.Chemistry))
	parts := []string{strings.ToUpper(chemistry[:1]) + chemistry[1:] + " " + u.Shortest(float64(l.NominalV)) + "\u00a0V"}
	if l.Rating != nil {
		parts = append(parts, u.Amperes(l.Rating.Value)+" "+string(l.Rating.Standard))
	}
	if l.CapacityAh != nil {
		parts = append(parts, u.AmpereHours(*l.CapacityAh))
	}
	return strings.Join(parts, ", ")
}
