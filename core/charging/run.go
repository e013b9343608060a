package charging

import (
	"math"
	"slices"

	"grapnel/core/quantity"
	"grapnel/core/twin"
	"grapnel/core/wording"
)

// run is a charge worked out on the model: as it is most likely, and as it goes for
// batteries and charges to either side of that.
type run struct {
	likely track
	others []track
	// delay is the wait before any current shows, in hours.
	delay Estimate
	// spread is how far off the model itself may be, as a share of the hours.
	spread float64
}

// track is one charge on the model, a point each quarter of an hour from its start.
type track []twin.ChargePoint

// grid is how far apart the points of a charge are, in hours.
const grid = 0.25

// beyond is how far past full a track goes on, so that a slower one beside it has its
// band, in percent of the charge.
const beyond = 100.5

// drive is what the model is charged with at a step.
func (s *situation) drive(c Charger, step quantity.Amperes) twin.Charger {
	drive := c.drives(s.Label, step)
	drive.Volts = s.holds(c)
	return drive
}

// track charges the likely battery.
func (s *situation) track(d *twin.Design, drive twin.Charger) track {
	return trackOf(d, twin.Sound, s.charge.Percent, drive, s.celsius, s.air)
}

// run charges on the model: the likely battery, and those whose charge, size and plates lie
// at the ends of what holds four of five.
func (s *situation) run(d *twin.Design, c Charger, step quantity.Amperes) run {
	drive := s.drive(c, step)
	with := func(percent float64, condition twin.Condition) track {
		return trackOf(d, condition, percent, drive, s.celsius, s.air)
	}
	r := run{likely: s.track(d, drive), spread: warmModel}
	if s.celsius < coldCharging {
		r.spread = coldModel
	}
	// Of two things that may both be off, each is taken at two thirds of its own range.
	low := s.charge.Percent + (s.charge.Low-s.charge.Percent)*share
	high := s.charge.Percent + (s.charge.High-s.charge.Percent)*share
	smaller := 1 - share*max(1-s.capacity.Low/s.capacity.Value, usualWear)
	larger := 1 + share*max(s.capacity.High/s.capacity.Value-1, usualSpare)
	r.others = []track{
		with(low, twin.Condition{Health: 1, Capacity: larger}),
		with(high, twin.Condition{Health: 1, Capacity: smaller}),
		with(low, twin.Condition{Health: worn, Capacity: smaller, Sulphation: usualSulphation}),
	}
	if delay := s.delay(c); delay != nil {
		r.delay = *delay
	}
	return r
}

// What the batteries of a shop are, for the band around one whose label is all that is
// known; and how far off the model is over a charge, warm and in the cold. Values from
// memory.
const (
	share           = 2.0 / 3
	usualWear       = 0.25
	usualSpare      = 0.05
	worn            = 0.8
	usualSulphation = 0.15
	warmModel       = 0.15
	coldModel       = 0.5
)

// trackOf charges a battery for as long as it takes, MostHours at the most.
func trackOf(d *twin.Design, of twin.Condition, percent float64, c twin.Charger, at, air quantity.Celsius) track {
	b := d.New(of, percent, at)
	amps, volts := b.Accept(c)
	points := track{{Volts: volts, Amps: amps, Percent: b.Percent(), Celsius: at}}
	ah := 0.0
	for hours := grid; hours <= MostHours && points[len(points)-1].Percent < chargedPercent; hours += grid {
		p := b.Charge(c, grid, beyond, air, nil)
		ah += p.AhIn
		p.Hours, p.AhIn = hours, ah
		points = append(points, p)
	}
	return points
}

// hours is when a track has a charge; false where it does not get there.
func (t track) hours(percent float64) (float64, bool) {
	at := slices.IndexFunc(t, func(p twin.ChargePoint) bool { return p.Percent >= percent })
	switch {
	case at < 0:
		return 0, false
	case at == 0:
		return 0, true
	}
	before, after := t[at-1], t[at]
	part := (percent - before.Percent) / (after.Percent - before.Percent)
	return before.Hours + part*(after.Hours-before.Hours), true
}

// until is how long the charge takes to a charge in percent, the wait before it included;
// nil where the charger does not get there.
func (r run) until(percent float64) *Estimate {
	likely, ok := r.likely.hours(percent)
	if !ok {
		return nil
	}
	least, most := likely, likely
	for _, t := range r.others {
		hours, ok := t.hours(percent)
		if !ok {
			hours = MostHours
		}
		least, most = min(least, hours), max(most, hours)
	}
	if likely == 0 {
		return &Estimate{r.delay.Value, r.delay.Low, max(most, r.delay.High)}
	}
	model := likely * r.spread
	return &Estimate{
		Value: r.delay.Value + likely,
		Low:   max(0, r.delay.Low+likely-math.Hypot(likely-least, model)),
		High:  min(MostHours, r.delay.High+likely+math.Hypot(most-likely, model)),
	}
}

// curve is the charge as it is expected, with the band of the others around it; while the
// battery takes no current yet, that is what it shows.
func (r run) curve() []Moment {
	var out []Moment
	waits := math.Round(r.delay.Value/grid) * grid
	for hours := 0.0; hours < waits; hours += grid {
		first := r.likely[0]
		out = append(out, Moment{
			Hours: hours, Volts: first.Volts, VoltsLow: first.Volts, VoltsHigh: first.Volts, AmpsHigh: first.Amps, Percent: first.Percent,
		})
	}
	for i, p := range r.likely {
		m := momentOf(p, waits+p.Hours)
		for _, t := range r.others {
			// One that is full already stays as it was then.
			m.widen(t[min(i, len(t)-1)])
		}
		out = append(out, m.read())
	}
	return out
}

// momentOf is a moment of a charge as the model has it, without a band.
func momentOf(p twin.ChargePoint, hours float64) Moment {
	return Moment{
		Hours: hours, Volts: p.Volts, VoltsLow: p.Volts, VoltsHigh: p.Volts, Amps: p.Amps, AmpsLow: p.Amps, AmpsHigh: p.Amps,
		Percent: math.Min(p.Percent, 100),
	}
}

// widen takes in what another battery shows then.
func (m *Moment) widen(q twin.ChargePoint) {
	m.VoltsLow, m.VoltsHigh = min(m.VoltsLow, q.Volts), max(m.VoltsHigh, q.Volts)
	m.AmpsLow, m.AmpsHigh = min(m.AmpsLow, q.Amps), max(m.AmpsHigh, q.Amps)
}

// read is the moment with what a meter and a charger's display are off by.
func (m Moment) read() Moment {
	m.VoltsLow, m.VoltsHigh = m.VoltsLow-meterVolts, m.VoltsHigh+meterVolts
	m.AmpsLow, m.AmpsHigh = m.AmpsLow*(1-clampShare), m.AmpsHigh*(1+clampShare)
	return m
}

// meterVolts is what a usual meter is off by on a charge. Value from memory.
const meterVolts quantity.Volts = 0.05

// clampShare is what a charger's own display of its current is off by. Value from memory.
const clampShare = 0.1

// why says why these volts and amps, why not more and not less.
func (s *situation) why(c Charger, step quantity.Amperes, r run, d *twin.Design) []wording.Statement {
	share := func(amps quantity.Amperes) float64 { return float64(amps) / s.capacity.Value * 100 }
	out := []wording.Statement{wording.Say("why_charge.amps", wording.Values{"amps": step, "percent": share(step), "ah": s.capacity.Value})}
	now, ok := r.likely.hours(chargedPercent)
	at := slices.Index(c.Amps, step)
	beside := func(i int, code string) {
		if !ok || i < 0 || i >= len(c.Amps) {
			return
		}
		if hours, there := s.track(d, s.drive(c, c.Amps[i])).hours(chargedPercent); there {
			values := wording.Values{"amps": c.Amps[i], "percent": share(c.Amps[i]), "hours": math.Abs(now - hours)}
			out = append(out, wording.Say("why_charge."+code, values))
		}
	}
	beside(at+1, "not_more")
	beside(at-1, "not_less")
	if limit := rateLimit(s.capacity.Value, s.Label, s.small); step < limit {
		out = append(out, wording.Say("why_charge.most", wording.Values{"amps": limit, "percent": share(limit)}))
	}
	code := "volts"
	if c.Compensates {
		code = "volts_compensated"
	}
	values := wording.Values{"volts": s.set(c), "chemistry": string(s.Label.Chemistry), "celsius": s.celsius}
	return append(out, wording.Say("why_charge."+code, values))
}
