package standing

import (
	"math"
	"time"

	"grapnel/core/battery"
	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/twin"
)

// What is not known of a standing battery, as a share of what the model takes: four of five
// lie between low and high. Values from memory.
const (
	// losesLow and losesHigh bound self-discharge: plates age, tops get damp.
	losesLow, losesHigh = 0.6, 1.8
	// holdsLow and holdsHigh bound the ampere-hours against the label's, guessLow and guessHigh
	// where the label gives none.
	holdsLow, holdsHigh = 0.8, 1.05
	guessLow, guessHigh = 0.65, 1.4
)

const wholePercent = 100.0

// stand is one way for a battery to stand: where, with what drawn, from which charge.
type stand struct {
	charge  battery.Charge
	drain   Drain
	climate Climate
}

// season is what does not change between the ways of standing that are compared.
type season struct {
	design  *twin.Design
	label   battery.Label
	vehicle evidence.Vehicle
	from    time.Time
	days    int
	// below is the charge under which a standing battery is charged, percent.
	below float64
	// starter is what its engine draws, 0 where it cranks none; morning the one it has to
	// start on, nil for each month's coldest.
	starter quantity.Amperes
	morning *quantity.Celsius
	needs   map[quantity.Celsius]need
}

// need is the charge in percent that starts the engine: a middling one, an easy and a hard one.
type need struct{ value, low, high float64 }

// track is the charge of each day, percent: middle, low end, high end.
type track struct{ middle, low, high []float64 }

// day is the date of a day of the season.
func (s *season) day(n int) time.Time { return s.from.AddDate(0, 0, n) }

// air is the mean of each day of the season.
func (s *season) air(c Climate) []quantity.Celsius {
	air := make([]quantity.Celsius, s.days)
	for d := range air {
		air[d] = c.Mean(s.day(d))
	}
	return air
}

// through is the charge of each day, percent, for a certain condition.
func (s *season) through(air []quantity.Celsius, percent float64, drain quantity.Amperes, c twin.Condition) []float64 {
	b := s.design.New(c, percent, air[0])
	out := make([]float64, s.days+1)
	b.Stand(drain, s.days, func(day int) quantity.Celsius { return air[day] }, func(day int, percent float64) { out[day] = percent })
	return out
}

// forecast stands a battery through the season, once as it most likely is and once for each
// end of what is not known; the ends are added as independent errors are.
func (s *season) forecast(w stand) track {
	air := s.air(w.climate)
	least, most := holdsLow, holdsHigh
	if !s.design.CapacityKnown {
		least, most = guessLow, guessHigh
	}
	c, d := w.charge, w.drain
	t := track{middle: s.through(air, c.Percent, d.Amps, twin.Sound), low: make([]float64, s.days+1), high: make([]float64, s.days+1)}
	for _, other := range []struct {
		percent float64
		drain   quantity.Amperes
		c       twin.Condition
	}{
		{c.Low, d.Amps, twin.Sound},
		{c.High, d.Amps, twin.Sound},
		{c.Percent, d.High, twin.Sound},
		{c.Percent, d.Low, twin.Sound},
		{c.Percent, d.Amps, twin.Condition{Health: 1, Capacity: 1, Loses: losesHigh}},
		{c.Percent, d.Amps, twin.Condition{Health: 1, Capacity: 1, Loses: losesLow}},
		{c.Percent, d.Amps, twin.Condition{Health: 1, Capacity: least}},
		{c.Percent, d.Amps, twin.Condition{Health: 1, Capacity: most}},
	} {
		if other.percent == c.Percent && other.drain == d.Amps && other.c == twin.Sound {
			continue
		}
		for day, x := range s.through(air, other.percent, other.drain, other.c) {
			if off := x - t.middle[day]; off < 0 {
				t.low[day] += off * off
			} else {
				t.high[day] += off * off
			}
		}
	}
	for day, x := range t.middle {
		t.low[day] = math.Max(0, x-math.Sqrt(t.low[day]))
		t.high[day] = math.Min(wholePercent, x+math.Sqrt(t.high[day]))
	}
	return t
}

// When is a day that comes: the likeliest, and four of five between early and late. A late
// that is open is the last day that was looked at: it may be later, or never.
type When struct {
	Date  string `json:"date"`
	Early string `json:"early"`
	Late  string `json:"late"`
	Open  bool   `json:"open"`
}

// Dates are the days that matter; nil for one that does not come.
type Dates struct {
	Below  *When `json:"below_12_4"`
	Starts *When `json:"no_start"`
	// Freezes is on the safe side: its date is that of the low end of the band.
	Freezes *When `json:"freezes"`
	// ChargeLow is when it would not start for want of charge: where one charged in full would.
	ChargeLow *When `json:"charge_too_low"`
}

// hold reports that nothing bad comes that a charge would help against.
func (d Dates) hold() bool { return d.Below == nil && d.Freezes == nil && d.ChargeLow == nil }

// first is the day on which something holds first; false for never.
func (s *season) first(holds func(day int) bool) (int, bool) {
	for day := range s.days + 1 {
		if holds(day) {
			return day, true
		}
	}
	return s.days, false
}

func (s *season) date(day int) string { return s.day(day).Format(dateForm) }

// when puts three days together: nil where the middle one does not come.
func (s *season) when(early, middle, late func(day int) bool) *When {
	day, comes := s.first(middle)
	if !comes {
		return nil
	}
	// An end never lies on the other side of the middle.
	first, _ := s.first(early)
	last, ends := s.first(late)
	return &When{s.date(day), s.date(min(first, day)), s.date(max(last, day)), !ends}
}

// dates are the days that matter of a forecast.
func (s *season) dates(t track, c Climate) Dates {
	under := func(charge []float64) func(int) bool {
		return func(day int) bool { return charge[day] < s.below }
	}
	out := Dates{Below: s.when(under(t.low), under(t.middle), under(t.high))}
	icy := func(charge []float64) func(int) bool {
		return func(day int) bool {
			return ice(charge[day]) >= c.Night(s.day(day))
		}
	}
	out.Freezes = s.when(icy(t.low), icy(t.low), icy(t.high))
	if s.starter > 0 {
		out.Starts = s.when(s.stalls(t, c, -1, never), s.stalls(t, c, 0, never), s.stalls(t, c, 1, never))
		out.ChargeLow = s.when(s.stalls(t, c, -1, wholePercent), s.stalls(t, c, 0, wholePercent), s.stalls(t, c, 1, wholePercent))
	}
	return out
}

// stalls reports the days on which the engine would not start, at an end of what is not
// known: -1 for the worst, 0 for the middle, 1 for the best. Charge and engine are
// independent of one another. Days on which it wants more charge than most are passed over.
func (s *season) stalls(t track, c Climate, end int, most float64) func(int) bool {
	return func(day int) bool {
		n, x := s.need(s.coldest(c, day)), t.middle[day]
		switch {
		case n.value > most:
			return false
		case end < 0:
			return x-math.Hypot(x-t.low[day], n.high-n.value) < n.value
		case end > 0:
			return x+math.Hypot(t.high[day]-x, n.value-n.low) < n.value
		}
		return x < n.value
	}
}

// coldest is the air of the morning of a day.
func (s *season) coldest(c Climate, day int) quantity.Celsius {
	if s.morning != nil {
		return *s.morning
	}
	return c.Night(s.day(day))
}

// never is a charge that no battery has.
const never = wholePercent + 1

// What this engine asks against a middling one of its kind: four of five between. It started on
// this battery until it was put away, so less is open than of an engine nobody knows. Values
// from memory.
const (
	easyEngine = 0.9
	hardEngine = 1.12
)

// ice is the freezing point at a charge, rounded up to a tenth: the safe side.
func ice(percent float64) quantity.Celsius {
	const tenths = 10
	return quantity.Celsius(math.Ceil(float64(battery.FreezingPoint(battery.GravityFromCharge(percent)))*tenths) / tenths)
}

// need is the charge that starts the engine as cold as the air.
func (s *season) need(at quantity.Celsius) need {
	if n, ok := s.needs[at]; ok {
		return n
	}
	car := twin.Car{Circuit: twin.InOrder.For(s.starter), Starter: twin.Starter{Amps: s.starter, Fires: true}}
	charge := func(drag float64) float64 {
		car.Starter.Drag = drag
		starts := func(percent float64) bool {
			b := s.design.New(twin.Sound, percent, at)
			return car.Crank(&b).Started
		}
		low, high := 0.0, wholePercent
		switch {
		case !starts(high):
			return never
		case starts(low):
			return 0
		}
		for range chargeSteps {
			if middle := (low + high) / 2; starts(middle) {
				high = middle
			} else {
				low = middle
			}
		}
		return high
	}
	n := need{charge(1), charge(easyEngine), charge(hardEngine)}
	s.needs[at] = n
	return n
}

// chargeSteps finds a charge to a fiftieth of a percent.
const chargeSteps = 13

// SeasonDay is a day of the season. The volts are rested ones at 26.7 °C.
type SeasonDay struct {
	Date    string           `json:"date"`
	Percent float64          `json:"percent"`
	Low     float64          `json:"low"`
	High    float64          `json:"high"`
	Volts   quantity.Volts   `json:"volts"`
	Freezes quantity.Celsius `json:"freezes_c"`
	Coldest quantity.Celsius `json:"coldest_c"`
	// FreezesLow and FreezesHigh are the freezing points of the ends of the band, the safe side
	// first.
	FreezesLow  quantity.Celsius `json:"freezes_low_c"`
	FreezesHigh quantity.Celsius `json:"freezes_high_c"`
	// Starts is the charge its engine wants that morning, nil where it cranks none.
	Starts *float64 `json:"starts_percent"`
}

func (s *season) curve(t track, c Climate) []SeasonDay {
	out := make([]SeasonDay, len(t.middle))
	for day, x := range t.middle {
		on := s.day(day)
		p := SeasonDay{
			Date: on.Format(dateForm), Percent: hundredth(x), Low: hundredth(t.low[day]), High: hundredth(t.high[day]),
			Volts:   quantity.Volts(hundredth(float64(s.label.VoltsFromCharge(x)))),
			Freezes: ice(x), Coldest: quantity.Celsius(hundredth(float64(c.Night(on)))),
			FreezesLow: ice(t.low[day]), FreezesHigh: ice(t.high[day]),
		}
		if s.starter > 0 {
			wants := hundredth(math.Min(s.need(s.coldest(c, day)).value, wholePercent))
			p.Starts = &wants
		}
		out[day] = p
	}
	return out
}

func hundredth(x float64) float64 { return math.Round(x*100) / 100 }

// starterOf is what the vehicle's own engine draws, 0 where the battery cranks none.
func starterOf(v evidence.Vehicle, d *twin.Design) quantity.Amperes {
	if v.Kind == "" && v.Engine == "" && v.Litres == nil || !v.Cranks() {
		return 0
	}
	return diagnosis.StarterAmps(v, d)
}
