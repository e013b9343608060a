package evidence

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/reading"
)

const (
	// drawnShare is what has to be taken out of a battery in a reserve check, of its
	// ampere-hours, before what was known of its charge no longer holds; triesShare the
	// same for tries under load and of the starter. Values from memory.
	drawnShare = 0.05
	triesShare = 0.10
	// drawnSpread is one sigma of what is taken out against what was reckoned, a share:
	// the label's ampere-hours, the current, the time. Value from memory.
	drawnSpread = 0.15
	// endedPercent and endedMost are what is left in a battery that was run to 10.5 V.
	// Values from memory.
	endedPercent = 5
	endedMost    = 15
	// heldAmps is a starter's or a load's current that nobody gave, as a share of the
	// ampere-hours. Value from memory.
	heldAmps       = 3
	secondsPerHour = 3600
)

// takenOut is what a test draws from a battery, ampere-hours.
func takenOut(c Case, r *reading.Reading) float64 {
	amps, said := r.Number(reading.Amps)
	seconds, _ := r.Number(reading.Seconds)
	switch r.Kind {
	case reading.Reserve:
		minutes, _ := r.Number(reading.Minutes)
		return amps * minutes / minutesPerHour
	case reading.Load:
		if !said {
			target, _ := c.LoadTarget()
			amps = float64(target)
		}
		return amps * seconds / secondsPerHour
	case reading.Crank:
		if r.Is(reading.OnJump) || !turning(r) {
			return 0
		}
		capacity, _ := c.Capacity()
		return heldAmps * capacity.Value * seconds / secondsPerHour
	}
	return 0
}

// turning reports a starter that was heard to turn, or not heard at all.
func turning(r *reading.Reading) bool {
	sound := r.Choice(reading.Sound)
	return sound != "silent" && sound != "click" && sound != "chatter"
}

// drawnDown reports that what was taken out of a battery in an epoch, before a reading,
// ends what was known of its charge.
func drawnDown(c Case, e Epoch, before int) bool {
	if !c.Label.Chemistry.Judged() {
		return false
	}
	capacity, known := c.Capacity()
	out, most := 0.0, triesShare
	for i := e.First; i < before; i++ {
		r := &c.Readings[i].Reading
		if r.Kind == reading.Reserve && (!known || ended(c.Label, r)) {
			return true
		}
		if r.Kind == reading.OpenCircuit || r.Kind == reading.Gravity {
			if rested := r.Kind == reading.Gravity || surfaceCharge(c.Label, r) == ""; rested {
				out = 0 // read behind it: the charge is known anew
			}
		}
		out += takenOut(c, r)
		if r.Kind == reading.Reserve {
			most = drawnShare
		}
	}
	return known && out >= most*capacity.Value
}

// ended reports a reserve check that was run to its end.
func ended(l battery.Label, r *reading.Reading) bool {
	end, _ := r.Number(reading.EndVolts)
	return quantity.Volts(end) <= l.FromTwelve(battery.ReserveEndVolts)+endTolerance
}

// whatIsLeft is the charge behind a discharge, where nothing was read of it: what was
// there less what was taken out. Readings after charge behind it that show clearly more
// than that were taken after another charge.
func (e *Epoch) whatIsLeft(c Case, before Epoch) {
	left := leftBehind(c, before)
	e.Left = left
	for i := e.First; i < e.End; i++ {
		if c.Readings[i].AfterCharge && e.Charge != nil && !e.Charge.EyeOnly && (left == nil || e.Charge.Low > left.High) {
			e.AfterCharge, e.Drawn = true, false
			return
		}
	}
	if e.Charge == nil && e.AtMost == nil && e.Contradiction == nil && left != nil {
		e.Charge = left
	}
	if len(e.temperatures) == 0 {
		e.temperatures = before.temperatures
	}
	if e.Stood == nil {
		e.Stood = before.Stood
	}
	if e.Dry < 0 {
		e.Dry = before.Dry
	}
}

// leftBehind is nil where the charge before was not known.
func leftBehind(c Case, before Epoch) *ChargeState {
	out, basis, readings, run := 0.0, []string{}, []int{}, false
	from := before.Charge
	for i := before.First; i < before.End; i++ {
		r := &c.Readings[i].Reading
		ah := takenOut(c, r)
		if ah == 0 {
			continue
		}
		if from == nil && r.Kind == reading.Reserve {
			from = chargeAtStart(c.Label, r, i)
		}
		out += ah
		run = run || r.Kind == reading.Reserve && ended(c.Label, r)
		if n := len(basis); n == 0 || basis[n-1] != string(r.Kind) {
			basis = append(basis, string(r.Kind))
		}
		readings = append(readings, i)
	}
	if run {
		return &ChargeState{Charge: battery.Charge{Percent: endedPercent, Low: 0, High: endedMost}, Basis: basis, Readings: readings}
	}
	capacity, known := c.Capacity()
	if from == nil || from.EyeOnly || !known {
		return nil
	}
	share := 100 * out / capacity.Value
	spread := battery.BandSigmas * drawnSpread * share
	state := &ChargeState{
		Charge: whole(battery.Charge{
			Percent: math.Max(0, from.Percent-share), Low: math.Max(0, from.Low-share-spread), High: math.Max(0, from.High-share+spread),
		}),
		Basis: append(append([]string{}, from.Basis...), basis...), Readings: append(append([]int{}, from.Readings...), readings...),
	}
	return state
}

// chargeAtStart is the charge by the volts a reserve check began with.
func chargeAtStart(l battery.Label, r *reading.Reading, i int) *ChargeState {
	start, said := r.Number(reading.StartVolts)
	if !said {
		return nil
	}
	percent, ok := l.ChargeFromVolts(quantity.Volts(start), battery.TableCelsius)
	if !ok {
		return nil
	}
	return &ChargeState{
		Charge: battery.Charge{Percent: percent, Low: math.Max(0, percent-startSpread), High: math.Min(100, percent+startSpread)},
		Basis:  []string{string(reading.Reserve)}, Readings: []int{i},
	}
}

// startSpread is what the volts a reserve check begins with are worth, percent either
// way: nobody says how they rested. Value from memory.
const startSpread = 15

// Volts that are no charge, six cells: reversedFrom and below the battery is the wrong
// way round, below nothingBelow it shows next to nothing. Values from memory.
const (
	reversedFrom quantity.Volts = -0.5
	nothingBelow quantity.Volts = 2.0
)

// DrewSince reports that something may have drawn a battery down between its full charge and
// its volts: on the vehicle it stood for longer than a fault of the vehicle needs for that,
// and what it draws was not measured, or is enough.
func (ev Evidence) DrewSince(i int) bool {
	r := &ev.Case.Readings[i].Reading
	rested, said := r.Number(reading.RestedMin)
	if kind := ev.Case.Vehicle.Kind; !said || kind == "" || kind == "none" {
		return false
	}
	ah, amps := usualAmpereHours, unknownDrain
	if capacity, known := ev.Case.Capacity(); known {
		ah = capacity.Value
	}
	for j := range ev.Case.Readings {
		other := &ev.Case.Readings[j].Reading
		if drawn, _, known := DrainAmps(other); other.Kind == reading.Drain && known && other.Fuse == "" && !other.Has(reading.FuseRatingA) {
			amps = float64(drawn)
		}
	}
	return amps*rested/minutesPerHour >= drawsDown*ah
}

// A drain nobody measured may be so many amperes, and what takes this share of the
// ampere-hours explains volts under 12. Values from memory.
const (
	unknownDrain     = 1.0
	drawsDown        = 0.4
	usualAmpereHours = 60.0
)
