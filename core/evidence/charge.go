package evidence

import (
	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// surfaceCharge says why a voltage is not a charge state; empty when it is one.
func surfaceCharge(l battery.Label, r *reading.Reading) string {
	if r.Volts() > l.RestedCeiling() {
		return "too_high"
	}
	rested, hasRest := r.Number(reading.RestedMin)
	switch {
	case hasRest && quantity.Minutes(rested) >= school.RestMinutes:
		return ""
	case removed(r):
		return ""
	case r.Choice(reading.Since) == "stood" && !hasRest:
		return ""
	case hasRest:
		return "rest_short"
	case r.Choice(reading.SurfaceRemoved) != "":
		return "removal_short"
	case r.Choice(reading.Since) == "drive" || r.Choice(reading.Since) == "charge" || r.AfterCharge:
		return "surface"
	}
	return "rest_unknown"
}

// removed reports whether surface charge was taken off by lamps or a load. A
// time that was not said is taken as kept.
func removed(r *reading.Reading) bool {
	leastOn, leastWait := school.LampSeconds, school.LampWait
	switch r.Choice(reading.SurfaceRemoved) {
	case "lamps":
	case "load":
		leastOn, leastWait = school.LoadSeconds, school.LoadWait
	default:
		return false
	}
	on, saidOn := r.Number(reading.SurfaceS)
	wait, saidWait := r.Number(reading.WaitS)
	return (!saidOn || quantity.Seconds(on) >= leastOn) && (!saidWait || quantity.Seconds(wait) >= leastWait)
}

func (ev Evidence) openCircuit(i int, r reading.Reading, e Epoch) Finding {
	l := ev.Case.Label
	ch, _ := band(l, r.Volts(), i, &r, e)
	values := wording.Values{"volts": r.Volts(), "percent": ch.Percent, "low": ch.Low, "high": ch.High}
	reason := surfaceCharge(l, &r)
	if reason == "" {
		code := "finding.charge"
		switch {
		case e.AfterCharge && l.PerTwelve(r.Volts()) < school.DeadVolts:
			code = "finding.charge_dead"
		case l.PerTwelve(r.Volts()) > battery.OrdinaryCeiling && l.Chemistry == battery.Flooded:
			code = "finding.charge_strong"
		case ch.Percent < school.JudgePercent:
			code = "finding.charge_low"
		}
		return Finding{Valid: true, Text: wording.Say(code, values, i)}
	}
	values["ceiling"] = l.RestedCeiling()
	if rested, ok := r.Number(reading.RestedMin); ok {
		values["rested"] = quantity.Minutes(rested)
		values["more"] = school.RestMinutes - quantity.Minutes(rested)
	}
	way := wording.Say("way.rest", nil, i)
	return Finding{Text: wording.Say("finding.charge_"+reason, values, i), WayOut: &way}
}

func (ev Evidence) eye(i int, r reading.Reading, _ Epoch) Finding {
	colour := r.Choice(reading.Colour)
	if colour == "clear" && ev.Case.Label.Opens() {
		way := wording.Say("way.top_up", nil, i)
		return Finding{Text: wording.Say("finding.eye_clear_open", nil, i), WayOut: &way}
	}
	f := Finding{Valid: colour != "unsure", Text: wording.Say("finding.eye_"+colour, wording.Values{"percent": school.EyePercent}, i)}
	if !f.Valid {
		way := wording.Say("way.tap_eye", nil, i)
		f.WayOut = &way
	}
	return f
}

func (ev Evidence) look(i int, r reading.Reading, _ Epoch) Finding {
	finding := r.Choice(reading.Finding)
	rule := school.LookRuleFor(finding)
	values := wording.Values{"finding": finding, "where": r.Choice(reading.Where), "degree": r.Choice(reading.Degree)}
	code := "finding.look"
	switch {
	case finding == "none":
		code = "finding.look_none"
	case rule.Stop != "":
		code = "finding.look_stop"
	case rule.Spoils && r.Choice(reading.Degree) == "light":
		code = "finding.look_light"
	case rule.Spoils:
		code = "finding.look_spoils"
	}
	return Finding{Valid: true, Text: wording.Say(code, values, i)}
}
