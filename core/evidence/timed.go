package evidence

import (
	"math"
	"time"

	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/wording"
)

const minutesPerHour = 60

// reserve: the timed discharge, the only test that sees lost capacity. Run to
// 10.5 V it is judged by the share of the time this label should have lasted; a
// shorter one clears only the share it took.
func (ev Evidence) reserve(i int, r reading.Reading, e Epoch) Finding {
	l := ev.Case.Label
	amps, _ := r.Number(reading.Amps)
	minutes, _ := r.Number(reading.Minutes)
	end, _ := r.Number(reading.EndVolts)
	at, _, source := e.temperatureFor(i, &r)
	if source == "unknown" {
		at = battery.TableCelsius
	}
	values := wording.Values{"amps": quantity.Amperes(amps), "minutes": quantity.Minutes(minutes), "end": quantity.Volts(end)}
	expected, known := l.MinutesAt(quantity.Amperes(amps), at)
	if !known {
		return unproven(ReserveUnknown, "reserve_unknown", values)
	}
	share := minutes / float64(expected)
	values["expected"], values["share"] = expected, math.Round(share*100)
	limit := &Limit{Unit: "min"}
	least, note := ev.Case.Own.Limit(school.ReserveShare)
	limit.Value, limit.Note = math.Round(least*float64(expected)), note
	if source != "unknown" {
		limit.at(at)
	}
	values["least"] = quantity.Minutes(limit.Value)
	m := limit.atLeast(minutes, reserveSigma*float64(expected))
	if quantity.Volts(end) > l.FromTwelve(battery.ReserveEndVolts)+endTolerance {
		if share >= school.ReserveTaken {
			return proven(ReservePass, values).against(limit, m)
		}
		return proven(ReservePart, values).against(limit, m)
	}
	switch full := ev.startedFull(&r, e); {
	case share >= school.ReserveWatch:
		return proven(ReserveGood, values).is(Pass).against(limit, m)
	case !full:
		f := unproven(ReserveNotFull, "low", values).is(Fail).against(limit, m)
		f.chargeRelated = true
		return f
	case share >= least:
		return proven(ReserveWeak, values).is(Weak).against(limit, m)
	}
	return proven(ReserveFail, values).is(Fail).against(limit, m)
}

const (
	// reserveSigma is one sigma of the minutes a label promises, as a share.
	// Value from memory.
	reserveSigma = 0.08
	// endTolerance is how near 10.5 V counts as run to its end. Value from memory.
	endTolerance quantity.Volts = 0.05
)

// startedFull reports whether the discharge began from a full battery: after a
// proven charge, at a charge state of 90 %, or at the volts of one.
func (ev Evidence) startedFull(r *reading.Reading, e Epoch) bool {
	if e.Charge != nil && !e.Charge.EyeOnly && (e.Charge.Percent >= school.FullPercent || e.AfterCharge && !e.Unproven) {
		return true
	}
	start, ok := r.Number(reading.StartVolts)
	return ok && e.Charge == nil && quantity.Volts(start) >= ev.Case.Label.VoltsFromCharge(school.FullPercent)
}

// ChargeMinutes are the minutes since the charge began of each check in a run of
// readings, by place: as the check says, else by its time and that of a check before
// it. The first check that says nothing counts as the beginning. A check without a
// time, or more than a day after the one before, has none.
func ChargeMinutes(c Case, first, end int) map[int]quantity.Minutes {
	out := map[int]quantity.Minutes{}
	var began, last time.Time
	for i := first; i < end; i++ {
		r := &c.Readings[i]
		if r.Kind != reading.ChargeLog {
			continue
		}
		said, known := r.Number(reading.Minutes)
		if !r.At.IsZero() && (last.IsZero() || r.At.Sub(last) > longestGap) {
			began = time.Time{}
		}
		switch {
		case known:
			out[i] = quantity.Minutes(said)
			if !r.At.IsZero() {
				began = r.At.Add(-quantity.Minutes(said).Duration())
			}
		case !r.At.IsZero() && !began.IsZero():
			out[i] = quantity.Minutes(r.At.Sub(began).Minutes())
		case !r.At.IsZero():
			began = r.At
		}
		last = r.At
	}
	return out
}

// longestGap is how far two checks of one charge lie apart at the most: a night.
// Value from memory; every half hour is common practice.
const longestGap = 24 * time.Hour

// AhPutIn is what the charge logs of an epoch put in: the ampere-hours said by
// the latest that says any, or its amperes over its minutes. The current of a
// charge only falls, so the sum from the later amperes is on the low side. It
// reports false where no log tells.
func AhPutIn(c Case, e Epoch) (quantity.AmpereHours, bool) {
	ah, before, known := 0.0, 0.0, false
	at := ChargeMinutes(c, e.First, e.End)
	for i := e.First; i < e.End; i++ {
		r := &c.Readings[i].Reading
		if r.Kind != reading.ChargeLog {
			continue
		}
		if said, ok := r.Number(reading.AhIn); ok {
			ah, known = said, true
		}
		amps, _ := r.Number(reading.Amps)
		since, ok := at[i]
		minutes := float64(since)
		switch {
		case !ok:
		case r.Has(reading.AhIn):
			before = minutes
		case minutes < before: // another charge
			ah, before, known = ah+amps*minutes/minutesPerHour, minutes, true
		default:
			ah, before, known = ah+amps*(minutes-before)/minutesPerHour, minutes, true
		}
	}
	return quantity.AmpereHours(ah), known
}

// missing is the ampere-hours an epoch lacked to full, from its band; it
// reports false when capacity or charge are not known.
func missing(c Case, e Epoch) (battery.Estimate, bool) {
	capacity, ok := c.Capacity()
	if !ok || e.Charge == nil || e.Charge.EyeOnly {
		return battery.Estimate{}, false
	}
	keeps := c.Label.Keeps(c.YearsOld())
	return battery.Estimate{
		Value: float64(battery.AhMissing(capacity.Value, e.Charge.Percent, keeps.Value)),
		Low:   float64(battery.AhMissing(capacity.Low, e.Charge.High, keeps.High)),
		High:  float64(battery.AhMissing(capacity.High, e.Charge.Low, keeps.Low)),
	}, true
}

// fallsShort reports that the logs of a charge put in less than was missing
// even at the low end of the band: the full charge it is said to be was none.
func fallsShort(c Case, before Epoch) bool {
	ah, logged := AhPutIn(c, before)
	lacks, known := missing(c, before)
	return logged && known && float64(ah) < lacks.Low
}

// filledUp reports that the logs of an epoch put in at least what was missing: a
// proven full charge.
func filledUp(c Case, before Epoch) bool {
	ah, logged := AhPutIn(c, before)
	lacks, known := missing(c, before)
	return logged && known && float64(ah) >= lacks.Value
}

// chargeLog: one check of a charge. Heat, gassing of a sealed battery and a
// rising current stop it; volts that stay low after hours are a shorted cell;
// a full lamp is held against what was missing.
func (ev Evidence) chargeLog(i int, r reading.Reading, e Epoch) Finding {
	l := ev.Case.Label
	v, minutes := r.Volts(), numberOr(&r, reading.Minutes, 0)
	amps, _ := r.Number(reading.Amps)
	values := wording.Values{"volts": v, "amps": quantity.Amperes(amps), "minutes": quantity.Minutes(minutes)}
	at, _ := r.Temperature()
	switch {
	case r.Choice(reading.Warmth) == "hot" || at >= school.HotCelsius:
		return proven(LogHot, values).against((&Limit{Value: float64(school.HotCelsius), Unit: "°C"}), nil)
	case l.Chemistry.ValveRegulated() && r.Is(reading.Gassing):
		return proven(LogGassing, values)
	case l.Chemistry.ValveRegulated() && ev.risingCurrent(i, e):
		return proven(LogRunaway, values)
	}
	if ev.openOnCharger(i, &r, e) {
		return proven(LogOpen, values).is(Fail)
	}
	charged := &Limit{Value: tidy(float64(l.FromTwelve(school.ChargedVolts))), Unit: "V"}
	values["limit"] = quantity.Volts(charged.Value)
	if quantity.Minutes(minutes) >= school.LongChargeMinutes && float64(v) < charged.Value && amps > 0 {
		return proven(LogLow, values).against(charged, charged.atLeast(float64(v), voltsSigma(&r, float64(v))))
	}
	if most := ev.mostChargeVolts(&r); v > most+endTolerance {
		limit := &Limit{Value: tidy(float64(most)), Unit: "V"}
		values["most"] = most
		return proven(LogHigh, values).against(limit, limit.atMost(float64(v), voltsSigma(&r, float64(v))))
	}
	return ev.ampereHours(i, &r, e, values)
}

// openOnCharger reports a battery that showed next to nothing and takes nothing of a charge
// for as long as a sound one may need to begin: a link inside is open.
func (ev Evidence) openOnCharger(i int, r *reading.Reading, e Epoch) bool {
	amps, _ := r.Number(reading.Amps)
	if amps > noCurrent || numberOr(r, reading.Minutes, 0) < openMinutes {
		return false
	}
	for j := e.First; j < i; j++ {
		before := &ev.Case.Readings[j].Reading
		if before.Kind == reading.OpenCircuit && math.Abs(float64(ev.Case.Label.PerTwelve(before.Volts()))) < float64(nothingBelow) {
			return true
		}
	}
	return false
}

// No current for longer than a deeply discharged sealed battery waits: 16 h. Common practice
// for the time, value from memory for the current.
const (
	noCurrent   = 0.05
	openMinutes = 16 * minutesPerHour
)

// mostChargeVolts is the highest charging volts this battery may see: its
// equalising voltage where that is allowed, else its absorption's.
func (ev Evidence) mostChargeVolts(r *reading.Reading) quantity.Volts {
	at, said := r.Temperature()
	if !said {
		at = battery.TemperatureUnknown
	}
	v, _ := ev.Case.Label.Charging(at)
	return max(v.AbsorbHigh, v.EqualiseHigh)
}

// risingCurrent reports a current that grew since the check before at volts
// that did not: runaway.
func (ev Evidence) risingCurrent(i int, e Epoch) bool {
	r := &ev.Case.Readings[i].Reading
	for j := i - 1; j >= e.First; j-- {
		before := &ev.Case.Readings[j].Reading
		if before.Kind != reading.ChargeLog {
			continue
		}
		then, _ := before.Number(reading.Amps)
		now, _ := r.Number(reading.Amps)
		sameCharge := numberOr(r, reading.Minutes, 0) >= numberOr(before, reading.Minutes, 0)
		return sameCharge && now > then*school.RunawayRatio && math.Abs(float64(r.Volts()-before.Volts())) <= float64(school.RunawayVolts)
	}
	return false
}

// ampereHours holds what went in against what was missing.
func (ev Evidence) ampereHours(i int, r *reading.Reading, e Epoch, values wording.Values) Finding {
	upTo := e
	upTo.End = i + 1
	ah, logged := AhPutIn(ev.Case, upTo)
	lacks, known := missing(ev.Case, e)
	if !logged || !known || e.AfterCharge {
		if r.Is(reading.ChargerFull) {
			return proven(LogFullUnknown, values)
		}
		return proven(LogTaken, values)
	}
	values["ah"], values["missing"] = ah, quantity.AmpereHours(lacks.Value)
	limit := &Limit{Value: math.Round(lacks.Value), Unit: "Ah"}
	m := limit.atLeast(float64(ah), (lacks.High-lacks.Low)/4)
	switch full := r.Is(reading.ChargerFull); {
	case full && float64(ah) <= school.TooSoonShare*lacks.Low:
		return proven(LogFullEarly, values).against(limit, m)
	case full && float64(ah) < lacks.Low:
		return proven(LogFullShort, values).against(limit, m)
	case full:
		return proven(LogFull, values).against(limit, m)
	case float64(ah) > school.TooLateShare*lacks.High:
		return proven(LogTooMuch, values).against(limit, m)
	}
	// On the way there is nothing to be inside or beyond of yet.
	return proven(LogProgress, values).against(limit, nil)
}
