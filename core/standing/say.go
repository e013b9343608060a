package standing

import (
	"slices"

	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/twin"
	"grapnel/core/wording"
)

func tractionValues() wording.Values {
	return wording.Values{"low": float64(TractionLow), "high": float64(TractionHigh), "days": float64(TractionFullDays)}
}

// reminders are what the vehicle itself wants while it stands.
func reminders(a Ask) []wording.Statement {
	out := []wording.Statement{}
	say := func(code string, values wording.Values) {
		out = append(out, wording.Say("standing_reminder."+code, values))
	}
	kind := a.Vehicle.Kind
	if kind == "none" || kind == "" {
		say("stock", wording.Values{"days": float64(ApartDays)})
		return out
	}
	if a.Vehicle.Electric() {
		say("orange", nil)
		say("odd_warnings", nil)
		if kind == "hybrid" {
			say("hybrid_pack", tractionValues())
		}
	}
	say("note", nil)
	say("tyres", nil)
	say("brakes", nil)
	if !slices.Contains([]string{"motorcycle", "offroad", "mower"}, kind) {
		say("damp", nil)
	}
	say("pests", nil)
	if kind != "electric" {
		say("fuel", nil)
	}
	return out
}

// beliefs are what people say, answered with this battery's own figures.
func (s *situation) beliefs(t track, d Dates) []wording.Statement {
	out := []wording.Statement{}
	say := func(code string, values wording.Values) {
		out = append(out, wording.Say("standing_belief."+code, values))
	}
	say("over_12", s.twelveVolts(t, d))
	// What it loses by itself in the season, cold and warm: where the belief has it the wrong
	// way round.
	cold, warm := s.alone(coldFloor), s.alone(warmFloor)
	values := wording.Values{"days": float64(s.days), "cold": cold, "warm": warm, "at": quantity.Celsius(coldFloor), "than": quantity.Celsius(warmFloor)}
	say("concrete", values)
	say("cold_drains", values)
	if r, ok := refillOf(s.Vehicle.Kind); ok && s.starter > 0 {
		say("engine_run", s.idling(r))
	}
	return out
}

// The floors a belief is answered with, °C, and how long an engine is run for a battery, min.
// Values from memory.
const (
	coldFloor = 0
	warmFloor = 25
	idleRun   = 20.0
)

// alone is what it loses by itself in the season at a temperature, from full, percent.
func (s *situation) alone(at quantity.Celsius) float64 {
	b := s.design.New(twin.Sound, chargedPercent, at)
	b.Stand(0, s.days, func(int) quantity.Celsius { return at }, func(int, float64) {})
	return chargedPercent - b.Percent()
}

// twelveVolts is where this battery shows 12 V (six cells), and when: the freezing point then
// against the coldest night of the season.
func (s *situation) twelveVolts(t track, d Dates) wording.Values {
	twelve, _ := s.label.ChargeFromVolts(s.label.FromTwelve(twelve), battery.TableCelsius)
	night := s.as.climate.Night(s.from)
	for day := range s.days + 1 {
		night = min(night, s.as.climate.Night(s.day(day)))
	}
	values := wording.Values{
		"volts": s.label.FromTwelve(12), "percent": twelve, "freezes": ice(twelve), "night": night, "what": "over_12_safe",
	}
	if ice(twelve) >= night {
		values["what"] = "over_12_not"
	}
	return values
}

// idling is what an engine that is run where it stands puts back, against what a month takes.
func (s *situation) idling(r refill) wording.Values {
	at := s.chilliest()
	percent := min(s.as.charge.Percent, keptPercent)
	b := s.design.New(twin.Sound, percent, at)
	volts := r.volts * quantity.Volts(float64(s.Label.Cells())/sixCells)
	end := b.Charge(twin.Charger{Amps: r.amps, Volts: volts}, idleRun/minutesPerHour, chargedPercent, at, nil)
	month := float64(s.as.drain.Amps)*hoursPerDay*monthDays + battery.SelfDischarge(s.Label.Plates(), at)/wholePercent*s.design.Capacity*monthDays
	start := float64(twin.StartAmps) * float64(twin.StartSeconds) / secondsPerHour
	return wording.Values{
		"minutes": quantity.Minutes(idleRun), "in": quantity.AmpereHours(max(0, end.AhIn-start)), "out": quantity.AmpereHours(month), "celsius": at,
	}
}
