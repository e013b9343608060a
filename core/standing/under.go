package standing

import (
	"slices"

	"grapnel/core/battery"
	"grapnel/core/quantity"
)

// Kept is how a battery stands under the care that was chosen for it.
type Kept struct {
	Curve []SeasonDay
	Dates Dates
	// EveryDays is how often somebody comes, by the care.
	EveryDays int
}

// held is the charge of a battery that something keeps full. Values from memory.
var held = battery.Charge{Percent: 98, Low: 90, High: 100}

// Under forecasts an ask under a care; empty is none. It reports false where the battery is not
// judged, or the care is no kind that there is.
func (p Planner) Under(a Ask, care string) (Kept, bool) {
	if care == "" {
		care = None
	}
	if !slices.Contains(Kinds(), care) {
		return Kept{}, false
	}
	connected, indoors := a.Connected, a.Place
	switch care {
	case Apart:
		off := false
		connected = &off
	case TakeIn:
		off := false
		connected, indoors = &off, Heated
	}
	a.Connected, a.Place, a.Care = connected, indoors, []string{care}
	full := Season{}
	s, ok := p.situation(a, &full.Assumed)
	if !ok {
		return Kept{}, false
	}
	t := s.forecast(s.as)
	s.left = t
	plain := s.dates(t, s.as.climate)
	k := Kept{EveryDays: s.interval()}
	switch care {
	case Maintain, BySocket, Solar:
		t = s.steadyAt(held)
	case Drive, Wake:
		t = s.driven()
	}
	if c := s.care(plain)[0]; c.EveryDays != nil && care != Apart && care != TakeIn {
		k.EveryDays = max(1, *c.EveryDays)
	}
	k.Dates, k.Curve = s.dates(t, s.as.climate), s.curve(t, s.as.climate)
	return k, true
}

// steadyAt is a season at one charge.
func (s *situation) steadyAt(c battery.Charge) track {
	flat := func(x float64) []float64 { return slices.Repeat([]float64{x}, s.days+1) }
	return track{flat(c.Percent), flat(c.Low), flat(c.High)}
}

// Tonight is how cold a night is where a battery stands, by what is forecast for outdoors.
func Tonight(place string, outdoors quantity.Celsius) quantity.Celsius {
	var c Climate
	// The mean bounds no night here.
	c.Monthly[0], c.Coldest[0] = mostAir, float64(outdoors)
	return quantity.Celsius(c.At(place).Coldest[0])
}
