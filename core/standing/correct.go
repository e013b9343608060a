package standing

import (
	"math"
	"time"

	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/twin"
	"grapnel/core/wording"
)

// ChargeBand is a charge with its band, percent.
type ChargeBand battery.Charge

// Off is how far a later reading lies from what was forecast for its day.
type Off struct {
	On string `json:"on"`
	// Said is what was forecast, Found what was read.
	Said  ChargeBand `json:"said"`
	Found ChargeBand `json:"found"`
	// Points is found less said, percent.
	Points float64 `json:"points"`
	// Inside tells that the two agree within their bands.
	Inside bool `json:"inside"`
	// Drain is what would have to be drawn for it, A; nil where it was charged since, or no
	// day has passed.
	Drain *quantity.Amperes `json:"drain_a"`
	Say   wording.Statement `json:"say"`
}

// Compare holds a charge that was found on a later day against the forecast of an ask.
// It reports false where the ask is not forecast, or the day is not after its first.
func (p Planner) Compare(a Ask, on time.Time, found battery.Charge) (Off, bool) {
	days := int(math.Round(on.Sub(a.From).Hours() / hoursPerDay))
	if days < 1 || days > mostDays {
		return Off{}, false
	}
	a.Days = days
	s, ok := p.situation(a, &[]wording.Statement{})
	if !ok {
		return Off{}, false
	}
	t := s.forecast(s.as)
	said := ChargeBand{Percent: hundredth(t.middle[days]), Low: hundredth(t.low[days]), High: hundredth(t.high[days])}
	o := Off{On: on.Format(dateForm), Said: said, Found: ChargeBand(found), Points: hundredth(found.Percent - said.Percent)}
	o.Inside = found.Low <= said.High && found.High >= said.Low
	if found.Percent < s.as.charge.Percent {
		drain := s.implied(found.Percent)
		o.Drain = &drain
	}
	o.Say = s.sayOff(o)
	return o, true
}

// impliedSteps finds a drain to a thousandth of what would empty the battery in the time.
const impliedSteps = 16

// implied is the drain that brings the forecast to what was found, not below zero.
func (s *situation) implied(percent float64) quantity.Amperes {
	air := s.air(s.as.climate)
	low, high := 0.0, s.design.Capacity/hoursPerDay/float64(s.days)*2
	for range impliedSteps {
		drain := (low + high) / 2
		if s.through(air, s.as.charge.Percent, quantity.Amperes(drain), twin.Sound)[s.days] > percent {
			low = drain
		} else {
			high = drain
		}
	}
	return quantity.Amperes((low + high) / 2)
}

// sayOff says it in words, with what is likeliest behind it.
func (s *situation) sayOff(o Off) wording.Statement {
	values := wording.Values{
		"found": o.Found.Percent, "said": o.Said.Percent, "low": o.Said.Low, "high": o.Said.High, "by": math.Abs(o.Points),
	}
	switch {
	case o.Inside:
		return wording.Say("standing_off.inside", values)
	case o.Points < 0:
		values["why"] = "off_drain_higher"
		if s.apart {
			values["why"] = "off_loses_more"
		}
		return wording.Say("standing_off.less", values)
	}
	values["why"] = "off_drain_lower"
	if s.apart || o.Found.Percent > s.as.charge.High {
		values["why"] = "off_charged"
	}
	return wording.Say("standing_off.more", values)
}
