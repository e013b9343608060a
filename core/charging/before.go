package charging

import (
	"grapnel/core/quantity"
	"grapnel/core/twin"
	"grapnel/core/wording"
)

// ChargeAir is what a charge needs of the place it is at.
type ChargeAir struct {
	// M3h is fresh air in m³/h, OpeningCm2 the free opening that lets it in by itself,
	// ClearM how far away sparks and flames stay, in metres.
	M3h        float64 `json:"m3h"`
	OpeningCm2 float64 `json:"opening_cm2"`
	ClearM     float64 `json:"clear_m"`
}

// placeAir is the air that a charge needs.
func (s *situation) placeAir(c Charger, step quantity.Amperes) *ChargeAir {
	a := s.air62485(c, step, s.holds(c))
	return &ChargeAir{thousandth(a.Flow), thousandth(a.Opening), thousandth(a.Clear)}
}

// before is what is seen to before a charge, in order.
func (s *situation) before(d *twin.Design, c Charger, step quantity.Amperes, r run) []wording.Statement {
	say := func(code string, values wording.Values) wording.Statement { return wording.Say("before."+code, values) }
	out := []wording.Statement{say("clean", nil)}
	if s.where == InVehicle {
		out = append(out, say("in_vehicle", nil))
	} else {
		out = append(out, say("bench", nil))
	}
	if s.where == InVehicle && s.Case.Vehicle.StartsAndStops() {
		out = append(out, say("second_battery", nil))
	}
	if s.Label.NominalV == pairVolts {
		out = append(out, say("halves", nil))
	}
	if s.Until == Equalise {
		out = append(out, say("equalise", wording.Values{"volts": s.set(c)}))
	}
	if warm, ok := s.warm(d, c, step); ok {
		cold, there := r.likely.hours(chargedPercent)
		switch {
		case !there:
			out = append(out, say("cold_never", wording.Values{"celsius": s.celsius, "hours": warm}))
		case cold-warm >= coldCounts:
			out = append(out, say("cold", wording.Values{"celsius": s.celsius, "hours": cold - warm}))
		}
	}
	return append(out, say("outdoors", nil), say("order", nil))
}

// pairVolts is the nominal voltage of two batteries in series.
const pairVolts quantity.Volts = 24

// coldCounts is from how many hours on the cold is worth a word. Value from memory.
const coldCounts = 0.5

// warm is how long the same charge takes at 25 °C, of a battery that is colder.
func (s *situation) warm(d *twin.Design, c Charger, step quantity.Amperes) (hours float64, ok bool) {
	if s.celsius >= chargeCelsius {
		return 0, false
	}
	return trackOf(d, twin.Sound, s.charge.Percent, s.drive(c, step), chargeCelsius, chargeCelsius).hours(chargedPercent)
}
