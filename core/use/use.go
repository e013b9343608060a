// Package use holds the trade's rule of thumb for what a week of driving takes from a
// battery and puts back: the starts, the drain while it stands, and the charge it accepts
// while the engine runs, which the cold makes small. It is for a sum on paper; what a
// battery will have come to after some weeks is for the model, twin.Car.Weeks.
package use

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/twin"
)

const (
	// usualDrain is the rest draw of a modern car in order: up to 50 mA is
	// usual; half of that is assumed. Value from memory.
	usualDrain quantity.Amperes = 0.025
	// usualCharge is the charge at which the balance is struck: three quarters,
	// where a battery that loses ground is still trusted. Value from memory.
	usualPercent = 75
	// emptyShare is the room below full over which acceptance falls to nothing,
	// in percent. Value from memory.
	emptyShare = 50
	// spreadFactor is the band of the balance's intake, up and down. Value from
	// memory.
	spreadFactor = 1.6

	secondsPerHour = 3600
	minutesPerHour = 60
	hoursPerWeek   = 24 * 7
	percent        = 100
)

// Week is how a vehicle is used.
type Week struct {
	Trips   float64          // a week
	Minutes quantity.Minutes // of one trip
	// Drain at rest; zero stands for the usual one.
	Drain quantity.Amperes
	// LoadsAmps is what accessories draw beyond what the alternator covers.
	LoadsAmps quantity.Amperes
	Air       quantity.Celsius
	Capacity  float64 // Ah
	Plates    string  // battery.PlatesKinds
	// AlternatorAmps is the most the battery is offered.
	AlternatorAmps quantity.Amperes
}

// Balance is a week's ampere-hours.
type Balance struct {
	Starts float64 `json:"starts"`
	Drain  float64 `json:"drain"`
	Self   float64 `json:"self"`
	Loads  float64 `json:"loads"`
	// In is what the battery accepts while the engine runs, with its band.
	In   float64 `json:"in"`
	Low  float64 `json:"low"`
	High float64 `json:"high"`
	// Net is In less all that is taken.
	Net float64 `json:"net"`
	// Loses is true when even the high end of the band does not cover it; Holds
	// when the low end does.
	Loses bool `json:"loses"`
	Holds bool `json:"holds"`
}

// OneStart is what a start takes, 0.125 Ah. Common practice, no source.
func OneStart() quantity.AmpereHours {
	return quantity.AmpereHours(float64(twin.StartAmps) * float64(twin.StartSeconds) / secondsPerHour)
}

// Balance strikes the week's balance at three quarters of charge. The cold
// battery accepts little: Acceptance at half charge, less as it fills.
func (w Week) Balance() Balance {
	drain := w.Drain
	if drain == 0 {
		drain = usualDrain
	}
	driving := w.Trips * float64(w.Minutes) / minutesPerHour
	b := Balance{
		Starts: w.Trips * float64(OneStart()),
		Drain:  float64(drain) * math.Max(0, hoursPerWeek-driving),
		Self:   battery.SelfDischarge(w.Plates, w.Air) * 7 / percent * w.Capacity,
		Loads:  float64(w.LoadsAmps) * driving,
	}
	accept := float64(battery.Acceptance(w.Capacity, w.Air)) * (percent - usualPercent) / emptyShare
	if w.AlternatorAmps > 0 {
		accept = math.Min(accept, float64(w.AlternatorAmps))
	}
	b.In = accept * driving
	b.Low, b.High = b.In/spreadFactor, b.In*spreadFactor
	out := b.Starts + b.Drain + b.Self + b.Loads
	b.Net = b.In - out
	b.Loses, b.Holds = b.High < out, b.Low >= out
	return b
}
