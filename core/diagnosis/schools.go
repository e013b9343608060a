package diagnosis

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// disagree is where the schools of practice differ on this very case: those whose
// limit turns the verdict, and the habits that would.
func (e *Engine) disagree(ev evidence.Evidence, action Action) []wording.Statement {
	list := []wording.Statement{}
	loads := 0
	for i, f := range ev.Findings {
		if f.Kind == reading.Load && i >= ev.Last().First {
			loads++
		}
	}
	if loads > 0 {
		list = append(list, e.otherLimits(ev, action)...)
	}
	list = append(list, surfaceHabits(ev)...)
	list = append(list, corrosionHabit(ev)...)
	return append(list, ageHabit(ev)...)
}

// otherLimits judges the case by the other schools of load testing.
func (e *Engine) otherLimits(ev evidence.Evidence, action Action) []wording.Statement {
	var list []wording.Statement
	for _, id := range school.IDs() {
		c := ev.Case
		if c.School = school.ID(id); c.School == ev.School.ID {
			continue
		}
		other := evidence.Examine(c)
		if !decidedOtherwise(ev, other) {
			continue
		}
		plan := PlanLoad(other)
		values := wording.Values{"school": id, "limit": quantity.Volts(plan.Limit.Value)}
		if would := e.decide(other).verdict.Action; would != action {
			values["action"] = string(would)
			list = append(list, wording.Say("school.turns", values))
		} else {
			list = append(list, wording.Say("school.differs", values))
		}
	}
	if len(list) == 0 {
		list = append(list, wording.Say("school.agree", nil))
	}
	return list
}

// decidedOtherwise reports whether a load comes out otherwise, or counts
// otherwise, in another school.
func decidedOtherwise(a, b evidence.Evidence) bool {
	for i := range a.Findings {
		if a.Findings[i].Kind == reading.Load &&
			(a.Findings[i].Outcome != b.Findings[i].Outcome || a.Findings[i].Valid != b.Findings[i].Valid) {
			return true
		}
	}
	return false
}

// surfaceHabits are those of surface charge, said where the charge is close to
// what a failed test needs.
func surfaceHabits(ev evidence.Evidence) []wording.Statement {
	last := ev.Last()
	if last.Charge == nil || last.OpenCircuit == nil || last.Charge.Low > school.JudgePercent || last.Charge.High < school.JudgePercent {
		return nil
	}
	i := last.OpenCircuitReading
	r := &ev.Case.Readings[i].Reading
	rested, _ := r.Number(reading.RestedMin)
	seconds, _ := r.Number(reading.SurfaceS)
	switch {
	case r.Choice(reading.SurfaceRemoved) == "lamps" && quantity.Seconds(seconds) < school.HighBeamSeconds:
		return []wording.Statement{
			wording.Say("school.lamps", wording.Values{"seconds": quantity.Seconds(seconds), "long": school.HighBeamSeconds}, ev.Case.Ref(i)),
		}
	case rested > 0 && quantity.Minutes(rested) < overnight:
		return []wording.Statement{wording.Say("school.overnight", wording.Values{"rested": quantity.Minutes(rested)}, ev.Case.Ref(i))}
	}
	return nil
}

// overnight is what the cautious call a rest. Common practice, no source.
const overnight quantity.Minutes = 8 * 60

// corrosionHabit is said of corrosion on one side.
func corrosionHabit(ev evidence.Evidence) []wording.Statement {
	for i := range ev.Case.Readings {
		r := &ev.Case.Readings[i].Reading
		if r.Kind != reading.Look || r.Choice(reading.Finding) != "corrosion" {
			continue
		}
		if side := r.Choice(reading.Where); side == "positive" || side == "negative" {
			return []wording.Statement{wording.Say("school.corrosion_"+side, nil, ev.Case.Ref(i))}
		}
	}
	return nil
}

// ageHabit is said of a battery that some would change for its years alone.
func ageHabit(ev evidence.Evidence) []wording.Statement {
	years, known := ev.Case.YearsOld()
	if band := battery.AgeBand(years); !known || band == "young" {
		return nil
	}
	return []wording.Statement{wording.Say("school.age", wording.Values{"years": math.Round(2*years) / 2})}
}
