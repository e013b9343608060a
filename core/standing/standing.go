package standing

import (
	"cmp"
	"slices"
	"time"

	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/school"
	"grapnel/core/twin"
	"grapnel/core/wording"
)

// Season is what a standing battery comes to.
type Season struct {
	// Curve is for it as it stands, day by day; empty where it is not forecast.
	Curve []SeasonDay `json:"curve"`
	Dates Dates       `json:"dates"`
	Care  []Care      `json:"care"`
	// Traction is where the pack of an electric car stores best, nil for any other.
	Traction  *Traction           `json:"traction"`
	Reminders []wording.Statement `json:"reminders"`
	// Beliefs are what people say of standing batteries, answered with this one's figures.
	Beliefs  []wording.Statement `json:"beliefs"`
	Cautions []school.Caution    `json:"cautions"`
	Assumed  []wording.Statement `json:"assumed"`
}

// Traction is the charge a traction pack stores best at, percent.
type Traction struct {
	Low  float64 `json:"low"`
	High float64 `json:"high"`
	Text string  `json:"text"`
}

// Planner forecasts standing batteries. It keeps the labels it has calibrated; Today is the
// day that is taken where none is said.
type Planner struct {
	Designs *twin.Designs
	Today   time.Time
}

// What is taken where a charge is not known: half to full, a value from memory.
var guessedCharge = battery.Charge{Percent: 75, Low: 50, High: 100}

// situation is an ask with all that was missing filled in.
type situation struct {
	Ask
	season
	as stand
	// left is its charge, left as it is.
	left  track
	apart bool
	mains bool
	sun   [monthsOfYear]float64
	say   func(code string, values wording.Values)
}

// Plan forecasts one standing battery and compares what can be done for it.
func (p Planner) Plan(a Ask) Season {
	out := Season{
		Curve: []SeasonDay{}, Care: []Care{}, Reminders: reminders(a), Beliefs: []wording.Statement{},
		Cautions: []school.Caution{school.Defer}, Assumed: []wording.Statement{},
	}
	if a.Vehicle.Kind == "electric" {
		out.Traction = &Traction{TractionLow, TractionHigh, wording.Text("standing_traction", tractionValues())}
	}
	s, ok := p.situation(a, &out.Assumed)
	if !ok {
		out.Care = refused(a)
		out.Cautions = append(out.Cautions, school.Lithium)
		return out
	}
	t := s.forecast(s.as)
	s.left = t
	out.Curve = s.curve(t, s.as.climate)
	out.Dates = s.dates(t, s.as.climate)
	out.Care = s.care(out.Dates)
	out.Beliefs = s.beliefs(t, out.Dates)
	out.Cautions = s.cautions(out)
	return out
}

// situation fills in what was not said; false where the chemistry is not judged.
func (p Planner) situation(a Ask, assumed *[]wording.Statement) (*situation, bool) {
	s := &situation{Ask: a}
	s.say = func(code string, values wording.Values) {
		*assumed = append(*assumed, wording.Say("assumed."+code, values))
	}
	if a.Label.Chemistry == battery.Flooded && a.Label.Alloy == "" {
		s.Label.Alloy = "calcium"
		s.say("standing_plates", nil)
	}
	design, ok := p.Designs.Of(s.Label)
	if !ok {
		return nil, false
	}
	s.season = season{
		design: design, label: s.Label, vehicle: a.Vehicle, from: a.From, days: cmp.Or(a.Days, usualDays), morning: a.ColdestStart,
		starter: starterOf(a.Vehicle, design), needs: map[quantity.Celsius]need{},
	}
	flooded := battery.Label{Chemistry: battery.Flooded, NominalV: twelve}
	s.below, _ = flooded.ChargeFromVolts(battery.RechargeVolts, battery.TableCelsius)
	if s.from.IsZero() {
		s.from = p.Today
		s.say("standing_from", wording.Values{"on": s.from.Format(dateForm)})
	}
	if !design.CapacityKnown {
		s.say("capacity", wording.Values{"ah": quantity.AmpereHours(design.Capacity)})
	}
	s.as = stand{charge: guessedCharge, climate: s.climate()}
	if a.Charge != nil {
		s.as.charge = *a.Charge
	} else {
		s.say("standing_charge", wording.Values{"percent": guessedCharge.Percent, "low": guessedCharge.Low, "high": guessedCharge.High})
	}
	s.drawn()
	s.mains = a.Mains == nil || *a.Mains
	if a.Mains == nil {
		s.say("standing_mains", nil)
	}
	s.sun = sunshine
	if a.Sun != nil {
		s.sun = *a.Sun
	}
	return s, true
}

// twelve is the nominal voltage the tables are for.
const twelve quantity.Volts = 12

// climate is that of the place it stands at.
func (s *situation) climate() Climate {
	if s.Place == "" {
		s.Place = Outdoors
		s.say("standing_place", nil)
	}
	c, _ := FindZone(Temperate)
	if s.Climate != nil {
		c = *s.Climate
	} else {
		s.say("standing_climate", nil)
	}
	return c.At(s.Place)
}

// drawn fills in what is drawn of it: nothing where it is not connected.
func (s *situation) drawn() {
	loose := s.Vehicle.Kind == "none" || s.Vehicle.Kind == "" && s.Drain == nil
	switch {
	case s.Connected != nil:
		s.apart = !*s.Connected
	default:
		s.apart = loose
		if !loose {
			s.say("standing_connected", nil)
		}
	}
	switch {
	case s.apart:
	case s.Drain != nil:
		s.as.drain = *s.Drain
	default:
		d := Typical(s.Vehicle)
		s.as.drain = d
		s.say("standing_drain", wording.Values{"drain": d.Amps, "low": d.Low, "high": d.High})
	}
}

// cautions are those of this battery and of what may be done for it.
func (s *situation) cautions(out Season) []school.Caution {
	list := []school.Caution{school.Acid, school.Ventilation}
	if out.Dates.Freezes != nil {
		list = append(list, school.FrozenOrDamaged)
	}
	if s.Vehicle.Electric() {
		list = append(list, school.HighVoltage)
	}
	if s.Vehicle.Earth == "positive" {
		list = append(list, school.EarthSide)
	}
	mains := func(c Care) bool { return c.KindOfCharger != nil && *c.KindOfCharger != Solar && c.Kind != TakeIn }
	if s.mains && s.Place != Heated && slices.ContainsFunc(out.Care, mains) {
		list = append(list, school.OutdoorsMains)
	}
	return append(list, school.Defer)
}
