package jump

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/school"
	"grapnel/core/twin"
	"grapnel/core/wording"
)

// donorOf is what comes in over the cables, as cold as it is.
func (p Planner) donorOf(a Ask, s scene, assume func(string, wording.Values)) donor {
	at := s.dead.Celsius
	if a.With.Celsius != nil {
		at = *a.With.Celsius
	}
	share := float64(s.design.Cells) / sixCells
	percent := wholePercent
	if a.With.Charge != nil {
		percent = a.With.Charge.Percent
	}
	switch a.With.Kind {
	case Charger:
		amps := usualStart
		if a.With.Amps != nil {
			amps = *a.With.Amps
		} else {
			assume("jump_charger", wording.Values{"amps": quantity.Amperes(amps)})
		}
		return chargerOf(amps, share)
	case Pack:
		if a.With.Label == nil || !a.With.Label.Chemistry.Judged() {
			peak := usualPeak
			if a.With.Amps != nil {
				peak = *a.With.Amps
			} else {
				assume("jump_pack", wording.Values{"amps": quantity.Amperes(peak)})
			}
			assume("jump_peak", wording.Values{"peak": quantity.Amperes(peak), "amps": quantity.Amperes(usable(peak, percent, at))})
			return packOf(peak, percent, at, share)
		}
	}
	label := battery.Label{Chemistry: battery.Flooded, NominalV: a.Dead.Label.NominalV, CapacityAh: ptr(quantity.AmpereHours(usualDonorAh))}
	if a.With.Label != nil && a.With.Label.Chemistry.Judged() {
		label = *a.With.Label
	} else {
		assume("jump_donor", wording.Values{"ah": quantity.AmpereHours(usualDonorAh)})
	}
	design, _ := p.Designs.Of(label)
	return vehicleOf(design.New(twin.Sound, percent, at), a.With, share)
}

func ptr[T any](x T) *T { return &x }

// sixCells are those that figures of twelve volts are for.
const sixCells = 6.0

// What a donor is where nothing is said, and what an alternator spares at fast idle. Values
// from memory.
const (
	usualDonorAh = 60.0
	usualStart   = 100.0
	usualPeak    = 400.0
	usualSpare   = 40.0
)

// cutVolts is the end of a cranking test, six cells: what a battery gives counts down to it.
// Source: SAE J537.
const cutVolts = 7.2

// Volts of a running alternator, of a charger that starts, and how its volts fall beyond its
// current. Values from memory.
const (
	runningVolts = 14.0
	startVolts   = 14.2
	beyondOhms   = 1.0
)

// vehicleOf is another vehicle: its battery, and while it runs its alternator beside it.
func vehicleOf(b twin.Battery, w With, share float64) donor {
	most := mostOf(&b, cutVolts*share)
	spare := 0.0
	if w.Running {
		spare = usualSpare
		if w.Amps != nil {
			spare = *w.Amps
		}
	}
	gives := func(amps float64) float64 {
		v := float64(b.Under(quantity.Amperes(math.Max(0, amps-spare)), crankSeconds))
		if spare > 0 {
			// Up to what it spares the alternator holds the volts, then the battery.
			v += (runningVolts*share - v) * math.Max(0, math.Min(1, 1-amps/spare))
		}
		return v
	}
	charges := twin.Charger{Amps: quantity.Amperes(most), Volts: b.Volts()}
	if spare > 0 {
		charges = twin.Charger{Amps: quantity.Amperes(spare + feedFromBattery), Volts: quantity.Volts(runningVolts * share)}
	}
	return donor{gives, most, charges}
}

// feedFromBattery is what a running donor's battery adds to its alternator while it feeds.
// Value from memory.
const feedFromBattery = 10.0

// mostOf is the current at which a battery comes to some volts.
func mostOf(b *twin.Battery, volts float64) float64 {
	low, high := 0.0, float64(mostPeak)
	for range 30 {
		amps := (low + high) / 2
		if float64(b.Under(quantity.Amperes(amps), crankSeconds)) > volts {
			low = amps
		} else {
			high = amps
		}
	}
	return low
}

// What the peak on a pack's label is worth at the volts a starter needs, how that falls in
// the cold, and its volts with nothing drawn, six cells. Values from memory.
const (
	peakShare   = 0.4
	coldShare   = 0.012
	leastShare  = 0.25
	packVolts   = 12.8
	packAt      = 8.0
	packCharges = 20.0
)

// warmAt is the temperature from which a pack gives all it can. Value from memory.
const warmAt quantity.Celsius = 20

// usable is what a pack gives of its peak, as cold and as charged as it is.
func usable(peak, percent float64, at quantity.Celsius) float64 {
	cold := math.Max(leastShare, math.Min(1, 1+coldShare*float64(at-warmAt)))
	return peak * peakShare * cold * math.Min(1, percent/packFull)
}

// packFull is the charge from which a pack gives all it can. Value from memory.
const packFull = 75.0

func packOf(peak, percent float64, at quantity.Celsius, share float64) donor {
	most := math.Max(1, usable(peak, percent, at))
	ohms := (packVolts - packAt) / most
	return donor{
		func(amps float64) float64 { return share * (packVolts - ohms*amps) }, most,
		twin.Charger{Amps: packCharges, Volts: quantity.Volts(packVolts * share)},
	}
}

func chargerOf(amps, share float64) donor {
	return donor{
		func(x float64) float64 { return share * (startVolts - beyondOhms*math.Max(0, x-amps)) }, amps,
		twin.Charger{Amps: quantity.Amperes(math.Min(amps, feedByCharger)), Volts: quantity.Volts(startVolts * share)},
	}
}

// feedByCharger is the boost that a charger feeds with before it starts, A. Common practice,
// no source.
const feedByCharger = 40.0

// cautions are those of any jump, and of what it is jumped with.
func cautions(a Ask) []school.Caution {
	out := []school.Caution{school.Gas, school.Spark, school.VehicleMoves, school.CrankingLimit, school.LiveClamp, school.Defer}
	if a.With.Kind == Vehicle {
		out = append(out, school.Surge, school.Electronics, school.Exhaust)
	}
	if a.Dead.Label.Chemistry == battery.LiFePO4 {
		out = append(out, school.Lithium)
	}
	return out
}
