package charging

import (
	"slices"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/safety"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// situation is a charge that is asked about, with what follows from it.
type situation struct {
	Ask
	evidence evidence.Evidence
	stops    []safety.Stop
	charge   battery.Charge
	// volts are the last that were read at rest, nil for none.
	volts    *quantity.Volts
	celsius  quantity.Celsius
	air      quantity.Celsius
	where    string
	small    bool
	capacity battery.Estimate
	assumed  []wording.Statement
}

// refusal is one row of the table: what forbids a charge, by the code of its sentence.
type refusal struct {
	code  string
	holds func(*situation, Charger) bool
}

// refusals are in the order in which they are said. Common practice, no source, where a
// figure's own source does not say otherwise.
var refusals = []refusal{
	{code: "frozen", holds: func(s *situation, _ Charger) bool { return s.frozen() }},
	{code: "damaged", holds: func(s *situation, _ Charger) bool { return s.damaged() }},
	{code: "eye_clear", holds: func(s *situation, _ Charger) bool { return s.stopped(school.EyeClear) }},
	{code: "plates_dry", holds: func(s *situation, _ Charger) bool { return s.dry() }},
	{code: "lithium", holds: func(s *situation, _ Charger) bool { return s.Label.Chemistry == battery.LiFePO4 }},
	{code: "unknown_chemistry", holds: func(s *situation, _ Charger) bool { return s.Label.Chemistry == battery.Unknown }},
	{code: "must_leave_vehicle", holds: (*situation).mustLeave},
	{code: "sealed_equalise", holds: func(s *situation, _ Charger) bool { return s.Until == Equalise && !s.equalises() }},
	{code: "no_setting", holds: func(s *situation, c Charger) bool { return s.Label.Chemistry.Judged() && !c.sets(s.Label.Chemistry) }},
	{code: "too_many_amps", holds: (*situation).tooManyAmps},
	{code: "too_many_volts", holds: (*situation).tooManyVolts},
	{code: "never_for_storage", holds: func(s *situation, c Charger) bool { return c.Kind == ConstantKind && !s.Attended }},
	{code: "will_not_wake", holds: (*situation).willNotWake},
}

// refuse lists what forbids a charge with a charger.
func (s *situation) refuse(c Charger) []wording.Statement {
	out := []wording.Statement{}
	for _, r := range refusals {
		if r.holds(s, c) {
			out = append(out, wording.Say("refusal."+r.code, s.values(c)))
		}
	}
	return out
}

// values are the figures in the sentences of a refusal.
func (s *situation) values(c Charger) wording.Values {
	v := wording.Values{"chemistry": string(s.Label.Chemistry), "percent": s.charge.Percent}
	if len(c.Amps) > 0 {
		v["amps"] = c.Amps[0]
	}
	if s.Label.Chemistry.Judged() {
		v["most_amps"] = quantity.Amperes(most(s.Label, s.small) * s.capacity.Value)
		v["volts"] = c.absorption(s.Label)
		v["most_volts"] = s.mostVolts()
	}
	if c.WakeV != nil {
		v["wake_v"] = *c.WakeV
	}
	return v
}

// stopped reports a stop rule that holds by the readings.
func (s *situation) stopped(rule school.Caution) bool {
	return slices.ContainsFunc(s.stops, func(one safety.Stop) bool { return one.Caution == rule })
}

// found reports a stop for what is frozen or damaged, by whether it is frost.
func (s *situation) found(frost bool) bool {
	for _, one := range s.stops {
		if one.Caution != school.FrozenOrDamaged {
			continue
		}
		at := one.Places()
		seen := len(at) > 0 && s.Case.Readings[at[0]].Choice(reading.Finding) == "frozen"
		if (one.Frost != nil || seen) == frost {
			return true
		}
	}
	return false
}

func (s *situation) damaged() bool { return s.found(false) }

// frozen is what was seen, or acid that freezes at or above the battery's own temperature
// at the low end of its charge.
func (s *situation) frozen() bool {
	if s.found(true) {
		return true
	}
	return s.Label.Chemistry.Judged() && s.celsius <= battery.FreezingPointAtCharge(s.charge.Low)
}

// dry reports plates that stood dry when the level was looked at last.
func (s *situation) dry() bool { return s.evidence.Last().Dry >= 0 && len(s.Case.Readings) > 0 }

// equalises reports a battery that may be equalised: flooded, its cells known to open.
func (s *situation) equalises() bool {
	v, ok := s.Label.Charging(chargeCelsius)
	return ok && v.EqualiseHigh > 0
}

// inVehicleMost is the most volts on a battery that is still in its vehicle, six cells.
// Common practice, no source.
const inVehicleMost quantity.Volts = 15

// mustLeave: off-road vehicles and motorcycles always, and whatever is charged above 15 V.
func (s *situation) mustLeave(c Charger) bool {
	if s.where != InVehicle {
		return false
	}
	high := s.Label.Chemistry.Judged() && s.Label.PerTwelve(c.absorption(s.Label)) > inVehicleMost
	return s.small || s.Until == Equalise || high
}

func (s *situation) tooManyAmps(c Charger) bool {
	if !s.Label.Chemistry.Judged() || len(c.Amps) == 0 {
		return false
	}
	return c.Amps[0] > rateLimit(s.capacity.Value, s.Label, s.small)
}

// mostVolts is the most a charger may hold for the battery at 25 °C.
func (s *situation) mostVolts() quantity.Volts {
	v, _ := s.Label.Charging(chargeCelsius)
	if s.Until == Equalise && v.EqualiseHigh > 0 {
		return v.EqualiseHigh
	}
	return v.AbsorbHigh
}

// settingTolerance is how far above its chemistry's range a charger may hold: what is
// printed on one is rounded. Value from memory.
const settingTolerance quantity.Volts = 0.05

func (s *situation) tooManyVolts(c Charger) bool {
	return s.Label.Chemistry.Judged() && c.absorption(s.Label) > s.mostVolts()+settingTolerance
}

// willNotWake: the battery lies under the volts that the charger starts on.
func (s *situation) willNotWake(c Charger) bool {
	if c.WakeV == nil || !s.Label.Chemistry.Judged() {
		return false
	}
	return s.atRest() < *c.WakeV
}

// atRest are the volts at the posts: as they were read, else by the charge.
func (s *situation) atRest() quantity.Volts {
	if s.volts != nil {
		return *s.volts
	}
	return s.Label.VoltsFromCharge(s.charge.Percent)
}

// A rest in this range, six cells, is five cells of six: no second battery wakes it.
// Common practice, no source.
const (
	fiveCellsLeast quantity.Volts = 10.2
	fiveCellsMost  quantity.Volts = 10.8
)

// waking are the steps that wake a battery with a second one; none where frost, damage or
// one cell that is missing forbids it.
func (s *situation) waking() []wording.Statement {
	rest := s.Label.PerTwelve(s.atRest())
	if s.frozen() || s.damaged() || rest >= fiveCellsLeast && rest <= fiveCellsMost {
		return []wording.Statement{}
	}
	out := []wording.Statement{}
	for _, code := range []string{"polarity", "second", "begin", "part", "watch"} {
		out = append(out, wording.Say("wake."+code, wording.Values{"volts": s.Label.NominalV}))
	}
	return out
}
