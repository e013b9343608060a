// Package jump works out a jump start before anything is clamped: whether it may be, whether
// it will crank, what the cables lose, how long the donor should feed first, and what would
// help most.
package jump

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/charging"
	"grapnel/core/circuit"
	"grapnel/core/diagnosis"
	"grapnel/core/procedure"
	"grapnel/core/quantity"
	"grapnel/core/school"
	"grapnel/core/twin"
	"grapnel/core/wording"
)

// Answer is what is to be known before a jump. Sums are nil where it is refused.
type Answer struct {
	Allowed  bool                `json:"allowed"`
	Refusals []wording.Statement `json:"refusals"`
	Cranks   *Cranks             `json:"cranks"`
	Cable    *Cable              `json:"cable"`
	// Lost is where the donor's volts stay on the way to the starter, in its order; what is
	// left reaches the starter.
	Lost      []Loss              `json:"lost"`
	Feed      *Feed               `json:"feed"`
	Better    []Better            `json:"better"`
	Procedure *Procedure          `json:"procedure"`
	After     []wording.Statement `json:"after"`
	Cautions  []school.Caution    `json:"cautions"`
	Assumed   []wording.Statement `json:"assumed"`
}

// Cranks is what the starter makes of both batteries together.
type Cranks struct {
	// Probability that the engine turns fast enough to fire.
	Probability  float64           `json:"probability"`
	StarterVolts charging.Estimate `json:"starter_volts"`
	// Speed is that of a warm engine on a sound battery as 1.
	Speed     charging.Estimate `json:"speed"`
	DeadAmps  float64           `json:"dead_amps"`
	DonorAmps float64           `json:"donor_amps"`
}

// Cable is what both leads and the four clamps take.
type Cable struct {
	Mohm      float64 `json:"mohm"`
	VoltsLost float64 `json:"volts_lost"`
	// KelvinPerTry is how much a try of ten seconds warms the copper.
	KelvinPerTry float64 `json:"kelvin_per_try"`
}

// Loss is what one part of the way takes, volts.
type Loss struct {
	Code  string  `json:"code" enum:"donor,leads,joints,starter"`
	Text  string  `json:"text"`
	Volts float64 `json:"volts"`
}

// Feed is for how long the donor charges first until it cranks in nine of ten.
type Feed struct {
	Minutes charging.Estimate `json:"minutes"`
}

// Better is a change with what it makes of the probability.
type Better struct {
	Change      string  `json:"change" enum:"thicker_cable,shorter_cable,feed_longer,bigger_donor,warm,clean_joints"`
	Text        string  `json:"text"`
	Probability float64 `json:"probability"`
}

// Procedure is the order of the clamps, as grapnel procedure show takes it.
type Procedure struct {
	Name    string            `json:"name"`
	Setting procedure.Sitting `json:"setting"`
	School  string            `json:"school"`
	People  int               `json:"people"`
}

// Planner works jumps out; it keeps the labels it has calibrated.
type Planner struct{ Designs *twin.Designs }

// scene is a jump with everything it hangs on.
type scene struct {
	design   *twin.Design
	dead     charging.State
	engine   quantity.Celsius
	starter  quantity.Amperes
	joints   quantity.Ohms
	donor    donor
	area     float64
	metres   float64
	clamp    float64
	copperAt quantity.Celsius
	feed     float64
}

// Plan works a jump out.
func (p Planner) Plan(a Ask) Answer {
	out := Answer{
		Refusals: []wording.Statement{}, Better: []Better{}, Lost: []Loss{}, After: []wording.Statement{}, Cautions: cautions(a), Assumed: []wording.Statement{},
	}
	assume := func(what string, values wording.Values) {
		out.Assumed = append(out.Assumed, wording.Say("assumed."+what, values))
	}
	dead := charging.StateOf(a.Dead)
	out.Assumed = append(out.Assumed, dead.Assumed...)
	s := scene{dead: dead, engine: dead.Celsius, joints: a.Joints, copperAt: dead.Celsius, feed: a.Feed}
	if a.Engine != nil {
		s.engine = *a.Engine
	}
	label := a.Dead.Label
	if label.Chemistry == battery.Unknown {
		label.Chemistry = battery.Flooded
		assume("jump_chemistry", nil)
	}
	var ok bool
	if s.design, ok = p.Designs.Of(label); ok {
		s.starter = diagnosis.StarterAmps(a.Vehicle, s.design)
		if a.Vehicle.Electric() {
			s.starter, s.engine = wakeAmps, warmest
			assume("jump_wake", wording.Values{"amps": s.starter})
		}
		s.takeCables(a, assume)
		s.donor = p.donorOf(a, s, assume)
	}
	out.Refusals = refuse(a, s, ok)
	out.Allowed = len(out.Refusals) == 0
	if out.Allowed || len(out.Refusals) == 1 && out.Refusals[0].Code == "jump_refusal."+notThisWay {
		out.Procedure = procedureOf(a)
	}
	if !out.Allowed || !ok {
		return out
	}
	cranks := s.cranks()
	out.Lost = s.losses()
	out.Cranks, out.Cable = &cranks, s.cable(cranks.DonorAmps)
	out.Feed = s.feeding()
	out.Better = s.better(cranks.Probability)
	out.After = afterwards(a)
	return out
}

// wakeAmps is what a hybrid or electric car draws on 12 V until it is ready: it cranks
// nothing there. Value from memory.
const wakeAmps quantity.Amperes = 20

// takeCables takes the leads, and what is usual for what is not said.
func (s *scene) takeCables(a Ask, assume func(string, wording.Values)) {
	s.area, s.metres, s.clamp = usualArea, usualMetres, float64(circuit.ClampLow+circuit.ClampHigh)/2
	if a.With.Kind != Vehicle {
		s.metres = shortLead
	}
	if a.Cables.Area != nil {
		s.area = *a.Cables.Area
	}
	if a.Cables.Metres != nil {
		s.metres = *a.Cables.Metres
	}
	if a.Cables.Area == nil || a.Cables.Metres == nil {
		assume("jump_cables", wording.Values{"square": s.area, "metres": s.metres})
	}
	if a.Cables.Clamp != nil {
		s.clamp = float64(*a.Cables.Clamp)
	}
}

// Usual leads: their copper, and the length of one between vehicles and of a pack's or a
// charger's own. Values from memory.
const (
	usualArea   = 25.0
	usualMetres = 3.0
	shortLead   = 0.6
	// leads and clamps are how many the current runs through.
	leads  = 2
	clamps = 4
)

// ohms is that of both leads and the clamps.
func (s *scene) ohms() float64 {
	return float64(circuit.Cable(s.area, leads*s.metres, s.copperAt)) + clamps*s.clamp
}

// trySeconds is the longest that a starter is turned at once. Common practice, no source.
const trySeconds = 10

// heatOfCopper is what a cubic metre of copper takes for a kelvin, J: 385 J/(kg·K) at
// 8960 kg/m³. Source: usual data for copper, value from memory.
const heatOfCopper = 385 * 8960.0

func (s *scene) cable(amps float64) *Cable {
	const square = 1e-6
	copper := float64(circuit.Cable(s.area, 1, s.copperAt))
	kelvin := amps * amps * copper * trySeconds / (heatOfCopper * s.area * square)
	return &Cable{thousandth(s.ohms() / milli), thousandth(amps * s.ohms()), thousandth(kelvin)}
}

// drags are what an engine may ask against a middling one of its kind, each as likely as its
// weight. Values from memory.
var drags = []charging.Weighed{{X: twin.EasyDrag, Weight: 0.25}, {X: 1, Weight: 0.5}, {X: twin.HardDrag, Weight: 0.25}}

// speedSigma is how far the speed of the model may be off, as a share of a warm engine's.
// Value from memory.
const (
	speedSigma = 0.06
	// fires is the speed from which an engine fires, as twin has it.
	fires = 0.40
)

// starts are the charges that the dead battery may have: the ends of its band and its middle.
func (s *scene) starts() []charging.Weighed {
	c := s.dead.Charge
	if c.Low == c.High {
		return []charging.Weighed{{X: c.Percent, Weight: 1}}
	}
	return []charging.Weighed{{X: c.Low, Weight: 0.25}, {X: c.Percent, Weight: 0.5}, {X: c.High, Weight: 0.25}}
}

// fed is the dead battery at a charge once the donor has fed it for some minutes.
func (s *scene) fed(percent, minutes float64) twin.Battery {
	b := s.design.New(twin.Sound, percent, s.dead.Celsius)
	if minutes > 0 {
		c := s.donor.charges
		c.Lead += quantity.Ohms(s.ohms())
		b.Charge(c, minutes/minutesPerHour, wholePercent, s.dead.Celsius, nil)
	}
	return b
}

const (
	minutesPerHour = 60.0
	wholePercent   = 100.0
)

// turn cranks with a battery that was fed, for an engine that asks so much.
func (s *scene) turn(b *twin.Battery, drag float64) (twin.Cranked, *pair) {
	both := &pair{b, s.donor, s.ohms(), s.engine}
	car := twin.Car{
		Circuit: twin.InOrder.For(s.starter),
		Starter: twin.Starter{Amps: s.starter, Drag: drag, Fires: true},
	}
	car.Circuit.PositiveClamp += s.joints
	return car.Crank(both), both
}

// likely is how likely an engine fires that turns at a speed.
func likely(speed float64) float64 {
	if speed <= 0 {
		return 0
	}
	return math.Erfc((fires-speed)/speedSigma/math.Sqrt2) / 2
}

// probability is how likely it starts after so many minutes of feeding, from a list of
// charges.
func (s *scene) probability(minutes float64, from []charging.Weighed) float64 {
	total := 0.0
	for _, start := range from {
		b := s.fed(start.X, minutes)
		for _, drag := range drags {
			turned, _ := s.turn(&b, drag.X)
			total += start.Weight * drag.Weight * likely(turned.Speed)
		}
	}
	return total
}

// cranks tries it over all that is not known.
func (s *scene) cranks() Cranks {
	var volts, speeds []charging.Weighed
	var out Cranks
	for _, start := range s.starts() {
		b := s.fed(start.X, s.feed)
		for _, drag := range drags {
			turned, _ := s.turn(&b, drag.X)
			w := start.Weight * drag.Weight
			volts, speeds = append(volts, charging.Weighed{X: float64(turned.Stud), Weight: w}), append(speeds, charging.Weighed{X: turned.Speed, Weight: w})
			out.Probability += w * likely(turned.Speed)
		}
	}
	b := s.fed(s.dead.Charge.Percent, s.feed)
	turned, both := s.turn(&b, 1)
	out.DonorAmps = thousandth(both.split(float64(turned.Amps), crankSeconds))
	out.DeadAmps = thousandth(float64(turned.Amps) - out.DonorAmps)
	out.StarterVolts = bandOf(float64(turned.Stud), volts)
	out.Speed = bandOf(turned.Speed, speeds)
	out.Probability = thousandth(out.Probability)
	return out
}

// losses follow the donor's volts on their way to the starter. Where the donor gives nothing
// they are the dead battery's own.
func (s *scene) losses() []Loss {
	b := s.fed(s.dead.Charge.Percent, s.feed)
	turned, both := s.turn(&b, 1)
	from := both.split(float64(turned.Amps), crankSeconds)
	posts := float64(both.Under(turned.Amps, crankSeconds))
	rest := max(s.donor.gives(0), posts)
	leads := from * s.ohms()
	var out []Loss
	for _, l := range []Loss{
		{Code: "donor", Volts: max(0, rest-leads-posts)}, {Code: "leads", Volts: leads}, {Code: "joints", Volts: max(0, posts-float64(turned.Stud))},
		{Code: "starter", Volts: float64(turned.Stud)},
	} {
		out = append(out, Loss{l.Code, wording.Word("lost_" + l.Code), thousandth(l.Volts)})
	}
	return out
}

// crankSeconds is when the volts of a crank are read, as twin has it.
const crankSeconds = 2

// bandOf is a figure with where four of five outcomes lie.
func bandOf(value float64, list []charging.Weighed) charging.Estimate {
	low, high := charging.Outer(list)
	return charging.Estimate{Value: thousandth(value), Low: thousandth(min(low, value)), High: thousandth(max(high, value))}
}

// thousandth rounds what is only an estimate.
func thousandth[T ~float64](x T) float64 { return math.Round(float64(x)*1000) / 1000 }

// steps of feeding that are tried, minutes, and the probability that is enough.
var feedSteps = []float64{0, 1, 2, 3, 5, 7, 10, 15, 20, 30, 45, 60}

const (
	enough   = 0.9
	mostFed  = 60.0
	feedMore = 10
)

// feeding is how long to feed until it cranks in nine of ten; nil where an hour does not do.
func (s *scene) feeding() *Feed {
	until := func(from []charging.Weighed) (float64, bool) {
		for _, minutes := range feedSteps {
			if s.probability(minutes, from) >= enough {
				return minutes, true
			}
		}
		return mostFed, false
	}
	value, ok := until(s.starts())
	if !ok {
		return nil
	}
	low, _ := until([]charging.Weighed{{X: s.dead.Charge.High, Weight: 1}})
	high, _ := until([]charging.Weighed{{X: s.dead.Charge.Low, Weight: 1}})
	return &Feed{charging.Estimate{Value: value, Low: min(low, value), High: max(high, value)}}
}
