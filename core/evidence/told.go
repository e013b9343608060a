package evidence

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/use"
	"grapnel/core/wording"
)

// history is what the customer tells, each item a statement; the most telling
// one first.
func (ev Evidence) history(i int, r reading.Reading, _ Epoch) Finding {
	var said []wording.Statement
	say := func(code Code, values wording.Values) { said = append(said, wording.Say(string(code), values)) }
	if h, ok := r.Number(reading.LeftOnH); ok {
		say(HistoryLeftOn, wording.Values{"hours": h})
	}
	if n, ok := r.Number(reading.Jumps); ok {
		say(jumpsCode(&r, n), wording.Values{"jumps": n, "days": numberOr(&r, reading.JumpsDays, school.JumpDays)})
	}
	if trips, ok := r.Number(reading.TripsWeek); ok {
		code, values := ev.tripsFinding(&r, trips)
		say(code, values)
	} else if minutes, ok := r.Number(reading.TripMin); ok {
		say(HistoryTripLength, wording.Values{"minutes": quantity.Minutes(minutes)})
	}
	if d, ok := r.Number(reading.StandingDays); ok {
		code := HistoryStanding
		if d > school.StoodLong {
			code = HistoryStandingLong
		}
		say(code, wording.Values{"days": d, "most": float64(school.StoodLong)})
	}
	if c, ok := r.Number(reading.StoodC); ok {
		t := battery.Electrolyte(quantity.Celsius(c), numberOr(&r, reading.StoodH, usualStand), nil)
		say(HistoryStood, wording.Values{"air": quantity.Celsius(c), "spread": math.Round(float64(t.Sigma))})
	} else if h, ok := r.Number(reading.StoodH); ok {
		say(HistoryStoodHours, wording.Values{"hours": h})
	}
	if years, ok := r.Number(reading.AgeYears); ok {
		say(ageCodes[battery.AgeBand(years)], wording.Values{"years": years})
	}
	return Finding{Valid: true, Text: said[0], More: said[1:]}
}

func numberOr(r *reading.Reading, id reading.Number, usual float64) float64 {
	if x, ok := r.Number(id); ok {
		return x
	}
	return usual
}

var ageCodes = map[string]Code{"young": HistoryAgeYoung, "watch": HistoryAgeWatch, "old": HistoryAgeOld}

func jumpsCode(r *reading.Reading, jumps float64) Code {
	if jumps/numberOr(r, reading.JumpsDays, school.JumpDays) >= school.ManyJumps/float64(school.JumpDays) {
		return HistoryJumpsMany
	}
	return HistoryJumps
}

// tripsFinding strikes the balance of a week's driving.
func (ev Evidence) tripsFinding(r *reading.Reading, trips float64) (Code, wording.Values) {
	minutes, said := r.Number(reading.TripMin)
	values := wording.Values{"trips": trips, "minutes": quantity.Minutes(minutes)}
	capacity, known := ev.Case.Capacity()
	if !said || !known {
		return HistoryTrips, values
	}
	week := use.Week{
		Trips:    trips,
		Minutes:  quantity.Minutes(minutes),
		Air:      ev.air(),
		Capacity: capacity.Value,
		Plates:   ev.Case.Label.Plates(),
	}
	for i := range ev.Case.Readings {
		if other := &ev.Case.Readings[i].Reading; other.Kind == reading.Drain {
			if amps, _, ok := DrainAmps(other); ok && !other.Has(reading.FuseRatingA) {
				week.Drain = amps
			}
		}
	}
	b := week.Balance()
	measured := week.Drain
	if usual := quantity.Amperes(ev.DrainMost().Value); measured > usual {
		// Would it hold its own but for the drain?
		week.Drain = usual
		if without := week.Balance(); b.Loses && !without.Loses {
			values["in"], values["out"], values["drain"] = quantity.AmpereHours(b.In), quantity.AmpereHours(b.In-b.Net), measured
			return HistoryTripsDrain, values
		}
	}
	values["in"], values["net"] = quantity.AmpereHours(b.In), quantity.AmpereHours(math.Abs(b.Net))
	values["out"] = quantity.AmpereHours(b.In - b.Net)
	switch {
	case b.Loses:
		return HistoryTripsLose, values
	case b.Holds:
		return HistoryTripsHold, values
	}
	return HistoryTripsEven, values
}

// air is the coldest air spoken of, for a battery on the road; a mild day when
// nobody said.
func (ev Evidence) air() quantity.Celsius {
	if t, _, ok := ev.ColdestAir(0); ok {
		return t
	}
	return mildDay
}

// mildDay is the air taken for a week's driving when nobody has said. Value
// from memory.
const mildDay quantity.Celsius = 10

// ColdestAir is the coldest temperature spoken of from a reading on, °C: where it
// stood, of the air, of the battery. With it comes the place of the reading that speaks
// of it; false where none does.
func (ev Evidence) ColdestAir(from int) (coldest quantity.Celsius, by int, known bool) {
	for i := from; i < len(ev.Case.Readings); i++ {
		r := &ev.Case.Readings[i].Reading
		for _, id := range []reading.Number{reading.BatteryC, reading.StoodC, reading.AirC} {
			if c, ok := r.Number(id); ok && (!known || quantity.Celsius(c) < coldest) {
				coldest, by, known = quantity.Celsius(c), i, true
			}
		}
	}
	return coldest, by, known
}
