package evidence

import (
	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// surfaceCharge says why a voltage is not a charge state; empty when it is one.
func surfaceCharge(l battery.Label, r *reading.Reading) Code {
	if r.Volts() > l.RestedCeiling() {
		return ChargeTooHigh
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
		return ChargeRestShort
	case r.Choice(reading.SurfaceRemoved) != "":
		return ChargeRemovalShort
	case r.Choice(reading.Since) == "drive" || r.Choice(reading.Since) == "charge" || r.AfterCharge:
		return ChargeSurface
	}
	return ChargeRestUnknown
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
		code := ChargeFound
		switch {
		case e.AfterCharge && l.PerTwelve(r.Volts()) < school.DeadVolts:
			code = ChargeDead
		case l.PerTwelve(r.Volts()) > battery.OrdinaryCeiling && l.Chemistry == battery.Flooded:
			code = ChargeStrong
		case ch.Percent < school.JudgePercent:
			code = ChargeLow
		}
		return proven(code, values)
	}
	values["ceiling"] = l.RestedCeiling()
	if rested, ok := r.Number(reading.RestedMin); ok {
		values["rested"] = quantity.Minutes(rested)
		values["more"] = school.RestMinutes - quantity.Minutes(rested)
	}
	how := wording.Say("way.rest", nil)
	return Finding{Text: wording.Say(string(reason), values), WayOut: &how}
}

func (ev Evidence) eye(i int, r reading.Reading, _ Epoch) Finding {
	colour := r.Choice(reading.Colour)
	switch {
	case colour == "clear" && ev.Case.Label.Opens():
		return unproven(EyeClearOpen, "top_up", nil)
	case colour == "unsure":
		return unproven(EyeUnsure, "tap_eye", nil)
	}
	return proven(eyeCodes[colour], wording.Values{"percent": school.EyePercent})
}

var eyeCodes = map[string]Code{"green": EyeGreen, "dark": EyeDark, "clear": EyeClear}

func (ev Evidence) look(i int, r reading.Reading, _ Epoch) Finding {
	finding := r.Choice(reading.Finding)
	rule := school.LookRuleFor(finding)
	values := wording.Values{"finding": finding, "where": r.Choice(reading.Where), "degree": r.Choice(reading.Degree)}
	code := LookFound
	switch {
	case finding == "none":
		code = LookNone
	case rule.Stop != "":
		code = LookStop
	case rule.Spoils && r.Choice(reading.Degree) == "light":
		code = LookLight
	case rule.Spoils:
		code = LookSpoils
	}
	return proven(code, values)
}
