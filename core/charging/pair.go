package charging

import (
	"reflect"
	"slices"

	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/school"
	"grapnel/core/twin"
	"grapnel/core/wording"
)

// Pair is a battery with a charger: what forbids it, or what the charger is set to, how
// long it takes, and what it asks of the place.
type Pair struct {
	// Refusals forbid it; the rest is empty where there are any.
	Refusals []wording.Statement
	Setting  Setting
	// Testable and Full are the hours until it is; nil where the charger does not get there.
	Testable, Full *float64
	// Watts are drawn from the mains, Air is the fresh air that it needs in m³/h, both for
	// all the time that it is on.
	Watts, Air float64
}

// Ready is how long the charge takes that was asked for; nil where it never does.
func (p Pair) Ready(until string) *float64 {
	if until == Testable {
		return p.Testable
	}
	return p.Full
}

// mainsEfficiency is the share of its mains power that a charger gives on. Value from
// memory.
const mainsEfficiency = 0.85

// Pairs are a battery with each of some chargers, as Plan sets and forecasts one. A charger
// that does as one before it costs nothing.
func (p Planner) Pairs(a Ask, chargers []Charger) []Pair {
	s := situationOf(a)
	design, ok := p.Designs.Of(s.Label)
	memory := map[twin.Charger]Pair{}
	out := make([]Pair, len(chargers))
	for i, c := range chargers {
		out[i].Refusals = s.refuse(c)
		if ok && len(out[i].Refusals) == 0 {
			step := c.choose(s.capacity.Value, s.Label, s.small)
			out[i] = s.pair(design, c, step, memory)
		}
	}
	return out
}

// Faster is a battery with a charger at the most current that it may have; false where the
// charger has none above what Pairs sets.
func (p Planner) Faster(a Ask, c Charger) (Pair, bool) {
	s := situationOf(a)
	design, ok := p.Designs.Of(s.Label)
	if !ok || len(s.refuse(c)) > 0 || c.Kind == SupplyKind {
		return Pair{}, false
	}
	usual := c.choose(s.capacity.Value, s.Label, s.small)
	limit := rateLimit(s.capacity.Value, s.Label, s.small)
	for _, step := range slices.Backward(c.Amps) {
		if step <= limit {
			return s.pair(design, c, step, map[twin.Charger]Pair{}), step > usual
		}
	}
	return Pair{}, false
}

// After is what is asked of a battery that has been on a charger for some hours, as Pairs
// sets it.
func (p Planner) After(a Ask, c Charger, hours float64) Ask {
	s := situationOf(a)
	design, ok := p.Designs.Of(s.Label)
	if !ok || len(s.refuse(c)) > 0 {
		return a
	}
	step := c.choose(s.capacity.Value, s.Label, s.small)
	if wait := s.delay(c); wait != nil {
		hours = max(0, hours-wait.Value)
	}
	track := s.track(design, s.drive(c, step))
	gained := track.at(min(hours, track[len(track)-1].Hours)).Percent - s.charge.Percent
	up := func(percent float64) float64 { return min(100, percent+gained) }
	a.Charge = &battery.Charge{Percent: up(s.charge.Percent), Low: up(s.charge.Low), High: up(s.charge.High)}
	return a
}

// Later puts off what a pair says by the hours that were charged before.
func (p *Pair) Later(hours float64) {
	for _, x := range []**float64{&p.Testable, &p.Full} {
		if *x != nil {
			at := **x + hours
			*x = &at
		}
	}
}

// Alike reports two chargers that do the same, whatever they are called.
func Alike(a, b Charger) bool {
	a.ID, b.ID = "", ""
	return reflect.DeepEqual(a, b)
}

// pair is the battery with a charger at a step, remembered by what drives it.
func (s *situation) pair(d *twin.Design, c Charger, step quantity.Amperes, memory map[twin.Charger]Pair) Pair {
	drive := s.drive(c, step)
	p, known := memory[drive]
	if !known {
		track, delay := s.track(d, drive), 0.0
		if wait := s.delay(c); wait != nil {
			delay = wait.Value
		}
		p.Testable, p.Full = track.after(delay, school.JudgePercent), track.after(delay, chargedPercent)
		memory[drive] = p
	}
	p.Refusals = []wording.Statement{}
	p.Setting = Setting{s.Label.Chemistry, s.set(c), step}
	p.Watts = float64(step) * float64(p.Setting.Volts) / mainsEfficiency
	p.Air = s.airFlow(c, step, drive.Volts)
	return p
}

// after is when a track that begins after a wait has a charge; nil where it never does.
func (t track) after(delay, percent float64) *float64 {
	hours, ok := t.hours(percent)
	if !ok {
		return nil
	}
	hours = thousandth(delay + hours)
	return &hours
}

// airFlow is the fresh air that the charge needs in m³/h.
func (s *situation) airFlow(c Charger, step quantity.Amperes, volts quantity.Volts) float64 {
	return s.air62485(c, step, volts).Flow
}

// air62485 is what the charge needs of the air: by the gassing currents up to 2.40 V a cell,
// by the whole current above it and where nothing ends the charge.
func (s *situation) air62485(c Charger, step quantity.Amperes, volts quantity.Volts) Air {
	mode := Boost
	if c.Kind == ConstantKind || !LimitedVolts(volts, s.Label.Cells()) {
		mode = Unlimited
	}
	return AirFor(s.Label.Cells(), GasAmps(s.Label.Chemistry, s.capacity.Value, step, mode), 1, 0)
}
