package charging

import (
	"math"
	"slices"

	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/twin"
)

// ChargerKind is how a charger ends its charge.
type ChargerKind string

// The kinds of charger: one that has no end of its own; one whose current falls as the
// volts rise; one that goes through its stages; one for a short boost; one that keeps a
// battery; a panel; a supply set by hand; the engine.
const (
	ConstantKind   ChargerKind = "constant"
	TaperKind      ChargerKind = "taper"
	MultiStageKind ChargerKind = "multi_stage"
	BoostKind      ChargerKind = "boost"
	MaintainerKind ChargerKind = "maintainer"
	SolarKind      ChargerKind = "solar"
	SupplyKind     ChargerKind = "supply"
	EngineKind     ChargerKind = "engine"
)

// Kinds lists them.
func Kinds() []string {
	return []string{
		string(ConstantKind), string(TaperKind), string(MultiStageKind), string(BoostKind), string(MaintainerKind), string(SolarKind),
		string(SupplyKind), string(EngineKind),
	}
}

// Charger is what charges.
type Charger struct {
	ID   string
	Kind ChargerKind
	// Amps are the steps it can be set to, rising.
	Amps []quantity.Amperes
	// Volts is its absorption voltage at 25 °C; nil for the chemistry's.
	Volts *quantity.Volts
	// Settings are the chemistries it can be set to; none for all lead.
	Settings []battery.Chemistry
	// WakeV is the least volts of a battery it starts on; nil for any.
	WakeV       *quantity.Volts
	Compensates bool
}

// averageShare is what a charger gives over a charge of what it is set to: a taper
// charger that starts at 30 A and gives 10 A after an hour counts 20 A (common practice,
// no source); a panel gives its current for about five hours of a day, value from memory.
var averageShare = map[ChargerKind]float64{TaperKind: 2.0 / 3, SolarKind: 5.0 / 24}

// average is the current that counts over a charge, of a step.
func (c Charger) average(step quantity.Amperes) quantity.Amperes {
	if share, ok := averageShare[c.Kind]; ok {
		return step * quantity.Amperes(share)
	}
	return step
}

// sets reports a charger that can be set to a chemistry.
func (c Charger) sets(chemistry battery.Chemistry) bool {
	return len(c.Settings) == 0 || slices.Contains(c.Settings, chemistry)
}

// absorption is the voltage that a charger holds for a battery, at 25 °C: its own, or the
// middle of the chemistry's.
func (c Charger) absorption(l battery.Label) quantity.Volts {
	if c.Volts != nil {
		return *c.Volts
	}
	v, _ := l.Charging(chargeCelsius)
	return (v.AbsorbLow + v.AbsorbHigh) / 2
}

// chargeCelsius is the temperature that charging volts are given for.
const chargeCelsius quantity.Celsius = 25

// compensation is how much a charger lowers its volts for each kelvin above 25 °C, a cell;
// 3 to 5 mV, the middle. Value from memory.
const compensation quantity.Volts = 0.004

// perKelvin is the same over all cells of a battery, none for a charger that does not
// compensate.
func (c Charger) perKelvin(l battery.Label) quantity.Volts {
	if !c.Compensates {
		return 0
	}
	return compensation * quantity.Volts(l.Cells())
}

// mostShares are the most current that a battery may be charged with, of its ampere-hours.
// Values from memory.
var mostShares = map[battery.Chemistry]float64{battery.Flooded: 0.45, battery.EFB: 0.45, battery.AGM: 0.35, battery.Gel: 0.2}

// smallShare is the most of those of motorcycles and off-road vehicles. Common practice, no
// source.
const smallShare = 0.1

// most is the most current that a battery may be charged with, as a share of its
// ampere-hours.
func most(l battery.Label, small bool) float64 {
	if small {
		return smallShare
	}
	return mostShares[l.Chemistry]
}

// rateLimit is the most current that a battery may be charged with.
func rateLimit(capacity float64, l battery.Label, small bool) quantity.Amperes {
	const rounding = 1e-9
	return quantity.Amperes(most(l, small)*capacity + rounding)
}

// choose is the step to set: the one nearest to a tenth of the ampere-hours that is still
// kind to the battery, else the least there is. A supply is set to what it is given with,
// as far as the battery may have it.
func (c Charger) choose(capacity float64, l battery.Label, small bool) quantity.Amperes {
	kind, quick := l.Chemistry.ChargeCurrent(capacity)
	most := kind * (1 + rateTolerance)
	if quick > kind && !small {
		most = kind * aboutTenth
	}
	if c.Kind == SupplyKind {
		kind, most = mostAmps, rateLimit(capacity, l, small)
	}
	step := c.Amps[0]
	for _, one := range c.Amps[1:] {
		if one <= most && math.Abs(float64(one-kind)) < math.Abs(float64(step-kind)) {
			step = one
		}
	}
	return step
}

// aboutTenth is up to how many times a tenth of the ampere-hours is still kind to a battery
// with liquid acid. Value from memory.
const aboutTenth = 1.5

// drives is what the model is charged with.
func (c Charger) drives(l battery.Label, step quantity.Amperes) twin.Charger {
	return twin.Charger{Amps: c.average(step), Volts: c.absorption(l), PerKelvin: c.perKelvin(l)}
}
