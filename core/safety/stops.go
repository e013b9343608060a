// Package safety holds what may be done to a battery now: the stop rules that its
// readings raise, the work each of them forbids, and what clears it. Permits is the
// one answer: the server asks it before a reading, a step or a clock is written down,
// the device while the line is down, and the screens before they offer anything.
//
// A stop rule is lifted by a person with a reason, for the readings that raised it by
// name. What any other reading finds, or a named one once it has been corrected, stops
// the work again.
package safety

import (
	"slices"
	"time"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// Stop is a stop rule that holds, with the readings it rests on.
type Stop struct {
	Caution  school.Caution `json:"stop"`
	Readings []wording.Ref  `json:"readings"`
	// Since is when the last of them was taken; the zero time for not known.
	Since time.Time `json:"-"`
	// Frost is the frost that raised it by itself, nil for what was seen.
	Frost *Frost `json:"frost,omitempty"`

	places []int
}

// Frost is a battery that is frozen, or may be: its electrolyte freezes at or above
// the coldest air, °C.
type Frost struct {
	Freezes quantity.Celsius `json:"freezes_c"`
	Coldest quantity.Celsius `json:"coldest_c"`
}

// Places are the places of its readings in the case that was examined, the one it was
// raised by first.
func (s Stop) Places() []int { return s.places }

// Stops lists the stop rules that hold: what the eye and the look found, heat, the
// latest check of a charge, and frost. One that was lifted for all the readings it
// rests on is left out. Source: the trade's stop rules, common practice.
func Stops(ev evidence.Evidence) []Stop {
	stops := append(append([]Stop{}, seen(ev)...), chargeStops(ev)...)
	if frozen, ok := frost(ev); ok {
		stops = append(stops, frozen)
	}
	stops = slices.DeleteFunc(stops, func(s Stop) bool { return ev.Case.Lifted(s.Caution, s.places...) })
	for i := range stops {
		stops[i].name(ev.Case)
	}
	return stops
}

// name fills in what the readings of the case tell of a stop.
func (s *Stop) name(c evidence.Case) {
	s.Readings = c.Refs(s.places...)
	for _, i := range s.places {
		if at := c.Readings[i].At; at.After(s.Since) {
			s.Since = at
		}
	}
}

// seen takes what the eye, the look and a hand on the case found.
func seen(ev evidence.Evidence) []Stop {
	var stops []Stop
	first := ev.Last().First
	for i := range ev.Case.Readings {
		r := &ev.Case.Readings[i].Reading
		switch r.Kind {
		case reading.Eye:
			if r.Choice(reading.Colour) == "clear" && !ev.Case.Label.Opens() {
				stops = append(stops, Stop{Caution: school.EyeClear, places: []int{i}})
			}
		case reading.OpenCircuit, reading.Halves:
			if ev.Findings[i].Code() == evidence.ChargeReversed {
				stops = append(stops, Stop{Caution: school.Reversed, places: []int{i}})
			}
		case reading.Look:
			rule := school.LookRuleFor(r.Choice(reading.Finding))
			if rule.Stop != "" && (rule.Lasting || i >= first) {
				stops = append(stops, Stop{Caution: ownStop(ev.Case.Label, rule.Stop), places: []int{i}})
			}
		}
		if t, ok := r.Temperature(); ok && t >= school.HotCelsius && i >= first && r.Kind != reading.ChargeLog {
			stops = append(stops, Stop{Caution: ownStop(ev.Case.Label, school.Hot), places: []int{i}})
		}
	}
	return stops
}

// ownStop is the rule of a lithium battery in the place of a lead one's: swollen, hot or
// gassing it is neither thawed nor cooled indoors.
func ownStop(l battery.Label, stop school.Caution) school.Caution {
	if l.Chemistry == battery.LiFePO4 {
		return school.LithiumHot
	}
	return stop
}

// logStops are the stop rules a check of a charge raises.
var logStops = map[evidence.Code]school.Caution{
	evidence.LogHot: school.Hot, evidence.LogGassing: school.Gas, evidence.LogRunaway: school.Runaway,
}

// chargeStops takes the stop rules of the latest check of a charge: an earlier one has
// been seen to.
func chargeStops(ev evidence.Evidence) []Stop {
	last := ev.Last()
	for i := last.End - 1; i >= last.First; i-- {
		if ev.Case.Readings[i].Kind != reading.ChargeLog {
			continue
		}
		if caution, ok := logStops[ev.Findings[i].Code()]; ok {
			return []Stop{{Caution: caution, places: []int{i}}}
		}
		return nil
	}
	return nil
}

// frost raises the stop rule by itself when the freezing point at the low end of the
// charge band lies above the coldest temperature taken.
func frost(ev evidence.Evidence) (Stop, bool) {
	last := ev.Last()
	var low float64
	var places []int
	switch {
	case last.Charge != nil:
		low, places = last.Charge.Low, last.Charge.Readings
	case last.AtMost != nil:
		low, places = last.AtMost.Low, []int{last.AtMostReading}
	default:
		return Stop{}, false
	}
	coldest, by, known := ev.ColdestAir(last.First)
	found := Frost{Freezes: battery.FreezingPointAtCharge(low), Coldest: coldest}
	if !known || found.Freezes <= coldest {
		return Stop{}, false
	}
	places = slices.Clone(places)
	if !slices.Contains(places, by) {
		places = append(places, by)
	}
	return Stop{Caution: school.FrozenOrDamaged, Frost: &found, places: places}, true
}
