package evidence

import (
	"math"

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
	switch v := l.PerTwelve(r.Volts()); {
	case v <= reversedFrom:
		return proven(ChargeReversed, wording.Values{"volts": r.Volts()})
	case v < nothingBelow:
		return unproven(ChargeNothing, "nothing", values)
	}
	if f, ok := ev.contradicted(i, e, wording.Values{"percent": ch.Percent, "volts": r.Volts()}); ok {
		return f
	}
	reason := surfaceCharge(l, &r)
	if reason == "" {
		code := ChargeFound
		switch {
		case e.AfterCharge && l.PerTwelve(r.Volts()) < school.DeadVolts && e.DrawnSince:
			code = ChargeDeadDrawn
			rested, _ := r.Number(reading.RestedMin)
			values["rested"] = quantity.Minutes(rested)
		case e.AfterCharge && l.PerTwelve(r.Volts()) < school.DeadVolts:
			code = ChargeDead
		case l.PerTwelve(r.Volts()) > battery.OrdinaryCeiling && l.Chemistry == battery.Flooded && l.FullSG == nil:
			code = ChargeStrong
		case ch.Percent < school.JudgePercent && e.Charged():
			code = ChargeLowCharged
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

func (ev Evidence) eye(i int, r reading.Reading, e Epoch) Finding {
	colour := r.Choice(reading.Colour)
	if f, ok := ev.contradicted(i, e, wording.Values{"percent": school.EyePercent}); ok {
		return f
	}
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

// halves: the two parts of a 24 V pair, of two in series, or of a pair once parted, held
// against each other. Alike in age and use, they rest alike.
func (ev Evidence) halves(i int, r reading.Reading, e Epoch) Finding {
	one, other := halfVolts(ev.Case.Label, &r)
	apart := math.Abs(float64(one - other))
	first, _ := r.Number(reading.Volts)
	second, _ := r.Number(reading.OtherVolts)
	limit := ev.limit(school.HalvesMost)
	values := wording.Values{
		"one": quantity.Volts(first), "other": quantity.Volts(second), "apart": quantity.Volts(math.Abs(first - second)),
		"limit": quantity.Volts(limit.Value), "lower": quantity.Volts(math.Min(first, second)),
	}
	m := limit.atMost(apart, math.Sqrt2*voltsSigma(&r, first))
	switch {
	case apart > limit.Value+1e-9 && e.AfterCharge && min(one, other) < school.DeadVolts:
		return proven(HalvesDead, values).is(Fail).against(limit, m)
	case apart > limit.Value+1e-9:
		return proven(HalvesApart, values).against(limit, m)
	}
	return proven(HalvesEven, values).against(limit, m)
}

// halfVolts are the two halves as six cells each: of a pair once parted each is a whole
// battery of this label, else half of one.
func halfVolts(l battery.Label, r *reading.Reading) (one, other quantity.Volts) {
	first, _ := r.Number(reading.Volts)
	second, _ := r.Number(reading.OtherVolts)
	scale := quantity.Volts(2)
	if (first+second)/2 > wholeFrom*float64(l.NominalV) {
		scale = 1
	}
	return l.PerTwelve(quantity.Volts(first)) * scale, l.PerTwelve(quantity.Volts(second)) * scale
}

// wholeFrom is the share of the nominal volts from which a half is a whole battery of
// a pair. Computed: half of a full one is 0.53 of it, a whole flat one 0.8.
const wholeFrom = 0.7

// chargeFromHalves is the charge by the weaker half, which decides what the pair gives.
func (e *Epoch) chargeFromHalves(l battery.Label, r *reading.Reading, i int) *ChargeState {
	if rested, said := r.Number(reading.RestedMin); said && quantity.Minutes(rested) < school.RestMinutes {
		return nil
	}
	one, other := halfVolts(l, r)
	v := l.FromTwelve(min(one, other))
	if v > l.RestedCeiling() {
		return nil
	}
	ch, ok := band(l, v, i, r, *e)
	if !ok {
		return nil
	}
	e.OpenCircuit, e.OpenCircuitReading = &v, i
	return &ChargeState{Charge: ch, Basis: []string{string(reading.Halves)}, Readings: []int{i}}
}
