package twin

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/quantity"
)

// Car is the vehicle around a battery: what its current runs through, what it
// turns, what charges it and what it draws asleep.
type Car struct {
	Circuit Circuit
	Starter Starter
	// Alternator, or the DC-DC converter of a hybrid or electric car.
	Alternator Alternator
	// Asleep is the drain of the sleeping car, Awake before that, and
	// SleepMinutes how long it takes.
	Asleep, Awake quantity.Amperes
	SleepMinutes  quantity.Minutes
	// Leak is the volts a meter finds between a post and the top of the case.
	Leak quantity.Volts
}

// Circuit is the resistance of the joints and cables, in ohms.
type Circuit struct {
	PositiveClamp, PositiveCable, StarterStud   quantity.Ohms
	NegativeClamp, NegativeCable, GroundStrap   quantity.Ohms
	ChargePositive, ChargeNegative, EngineEarth quantity.Ohms
}

// Ordinary joints and cables of a car in order. Values from memory: 0.02 to 0.1
// V each at 150 A.
const (
	ordinaryJoint quantity.Ohms = 0.0002
	ordinaryCable quantity.Ohms = 0.0006
	chargeCable   quantity.Ohms = 0.002
	// ordinaryStarter is the current ordinary cables are made for.
	ordinaryStarter quantity.Amperes = 130
)

// InOrder is a circuit without a fault.
var InOrder = Circuit{
	PositiveClamp: ordinaryJoint, PositiveCable: ordinaryCable, StarterStud: ordinaryJoint,
	NegativeClamp: ordinaryJoint, NegativeCable: ordinaryCable, GroundStrap: ordinaryJoint,
	ChargePositive: chargeCable, ChargeNegative: ordinaryCable, EngineEarth: ordinaryJoint,
}

// For is the circuit of a vehicle whose starter draws so much: from
// ordinaryStarter on, cables grow with the current.
func (c Circuit) For(starter quantity.Amperes) Circuit {
	if starter > ordinaryStarter {
		thick := quantity.Ohms(ordinaryStarter / starter)
		for _, r := range []*quantity.Ohms{&c.PositiveClamp, &c.PositiveCable, &c.StarterStud, &c.NegativeClamp, &c.NegativeCable,
			&c.GroundStrap} {
			*r *= thick
		}
	}
	return c
}

// Part is one joint or cable, in ohms, by the name a drop reading has for it; nil for a
// name that is none. What it points at belongs to the circuit and may be changed.
func (c *Circuit) Part(where string) *quantity.Ohms {
	return map[string]*quantity.Ohms{
		"positive_clamp": &c.PositiveClamp, "positive_cable": &c.PositiveCable, "starter_stud": &c.StarterStud,
		"negative_clamp": &c.NegativeClamp, "negative_cable": &c.NegativeCable, "ground_strap": &c.GroundStrap,
		"charge_positive": &c.ChargePositive, "charge_negative": &c.ChargeNegative,
	}[where]
}

// Positive and Negative are each side from post to starter.
func (c Circuit) Positive() quantity.Ohms { return c.PositiveClamp + c.PositiveCable + c.StarterStud }

// Negative is the earthed side, from the starter's body to the post.
func (c Circuit) Negative() quantity.Ohms { return c.NegativeClamp + c.NegativeCable + c.GroundStrap }

// Starter turns the engine.
type Starter struct {
	// Amps is the current it takes to turn the warm engine.
	Amps quantity.Amperes
	// Drag multiplies what the engine asks: 1 in order, more for a starter or
	// engine that drags.
	Drag float64
	// Open marks a key, lock or switch that keeps it from turning.
	Open bool
	// Fires tells whether the engine runs once it turns.
	Fires bool
}

// Alternator charges while the engine runs, or the DC-DC converter while the
// car is awake.
type Alternator struct {
	Volts quantity.Volts
	Amps  quantity.Amperes
	// Ripple is AC volts at the posts.
	Ripple quantity.Volts
	// Dead marks one that gives nothing.
	Dead bool
}

// Cranked is what the starter made of the battery.
type Cranked struct {
	Volts, Stud quantity.Volts // at the posts, at the starter
	Amps        quantity.Amperes
	// Speed is that of a warm, sound engine as 1; 0 when it does not turn.
	Speed   float64
	Sound   string
	Started bool
}

const (
	// stallRatio is the current of the locked starter at 10 V against that which
	// turns the warm engine. Value from memory.
	stallRatio = 4.5
	stallVolts = 10.0
	// usualStud is the volts a warm starter is made for.
	usualStud = 10.4
	// From these shares of its speed an engine sounds normal, turns at all, and
	// fires. Values from memory.
	normalSpeed = 0.62
	leastSpeed  = 0.12
	fireSpeed   = 0.40
	// chatterVolts at the posts let go of the relay. Value from memory.
	chatterVolts quantity.Volts = 7.5
	// feebleAmps is the least a starter draws to make itself heard, silent below.
	feebleAmps = 15
	// crankingSeconds is when the lowest steady volts are read.
	crankingSeconds = 2.0
)

// Below chartEnd the printed chart says nothing and the oil goes on thickening: by so much a
// kelvin, as from 0 °C to there. Value from memory.
const (
	chartEnd = quantity.Celsius(-18)
	thickens = 0.0169
)

// Asks is what the engine asks at its temperature against a warm one: 2.1 at −18 °C and about
// 2.6 at −30 °C.
func Asks(at quantity.Celsius) float64 {
	_, percent := battery.ColdPower(at)
	return percent / percentOfShare * math.Exp(thickens*math.Max(0, float64(chartEnd-at)))
}

// Crank turns the engine on this battery for a moment; the battery stays as it
// is. The engine is as warm as the battery.
func (c *Car) Crank(b Source) Cranked {
	if c.Starter.Open || c.Starter.Amps <= 0 {
		return Cranked{Volts: b.Volts(), Sound: "silent"}
	}
	share := quantity.Volts(float64(b.Cells()) / cellsOfTables)
	amps := c.Starter.Amps * quantity.Amperes(c.Starter.Drag*Asks(b.Temperature()))
	inside := quantity.Ohms(stallVolts/stallRatio/float64(c.Starter.Amps)) * quantity.Ohms(share)
	outside := c.Circuit.Positive() + c.Circuit.Negative()
	posts := b.Under(amps, crankingSeconds)
	stud := posts - quantity.Volts(float64(outside)*float64(amps))
	made := share*usualStud - quantity.Volts(float64(inside)*float64(c.Starter.Amps))
	speed := float64((stud - quantity.Volts(float64(inside)*float64(amps))) / made)
	if speed < leastSpeed {
		return c.stalled(b, inside+outside, share)
	}
	sound := "normal"
	switch {
	case posts < share*chatterVolts:
		return Cranked{Volts: posts, Stud: stud, Amps: amps, Sound: "chatter"}
	case speed < normalSpeed:
		sound = "slow"
	}
	return Cranked{posts, stud, amps, speed, sound, speed >= fireSpeed && c.Starter.Fires}
}

// stalled is the starter that does not turn: the current is what the
// resistances leave of it.
func (c *Car) stalled(b Source, ohms quantity.Ohms, share quantity.Volts) Cranked {
	low, high := 0.0, float64(b.Volts())/float64(ohms)
	for range 20 {
		amps := (low + high) / 2
		if float64(b.Under(quantity.Amperes(amps), lagSeconds*3))-amps*float64(ohms) > 0 {
			low = amps
		} else {
			high = amps
		}
	}
	amps := quantity.Amperes(low)
	posts := b.Under(amps, lagSeconds*3)
	stud := posts - quantity.Volts(float64(c.Circuit.Positive()+c.Circuit.Negative())*low)
	sound := "click"
	switch {
	case amps < feebleAmps:
		sound = "silent"
	case posts < share*chatterVolts:
		sound = "chatter"
	}
	return Cranked{Volts: posts, Stud: stud, Amps: amps, Sound: sound}
}

// Running is what the posts show with the engine running or the car awake.
func (c *Car) Running(b Source) (volts quantity.Volts, amps quantity.Amperes) {
	a := c.Alternator
	if a.Dead {
		return b.Under(runningLoads, 1), 0
	}
	amps, volts = b.Accept(Charger{Amps: a.Amps, Volts: a.Volts})
	return volts, amps
}

// runningLoads is what a running engine draws from a battery that nothing
// charges. Value from memory.
const runningLoads quantity.Amperes = 12

// Week is how a vehicle is used: trips a week of some minutes each.
type Week struct {
	Trips, Minutes float64
}

// StartAmps for StartSeconds is one start of a car, 0.125 Ah. Common practice, no source.
const (
	StartAmps    quantity.Amperes = 150
	StartSeconds quantity.Seconds = 3
)

const (
	hoursPerWeek   = 168.0
	minutesPerHour = 60.0
)

// Weeks drives and stands for some weeks: each trip a start, then the alternator at what
// it gives, and the drain of the sleeping car between. It returns the charge at the end, in
// percent, after standing. Under one trip in all it only stands.
func (c *Car) Weeks(b *Battery, w Week, weeks float64, air Air) float64 {
	trips := w.Trips * weeks
	between := hoursPerWeek / math.Max(w.Trips, 1.0/8)
	if trips < 1 {
		b.Park(c.Asleep, hoursPerWeek*weeks, air, nil)
		return b.Percent()
	}
	hours := 0.0
	for range int(trips) {
		stood := math.Max(between-w.Minutes/minutesPerHour, 0)
		from := hours
		b.Park(c.Asleep, stood, func(h float64) quantity.Celsius { return air(from + h) }, nil)
		b.Discharge(StartAmps, StartSeconds, 0, air(from))
		if !c.Alternator.Dead {
			b.Charge(Charger{Amps: c.Alternator.Amps, Volts: c.Alternator.Volts}, w.Minutes/minutesPerHour, percentOfShare, air(from), nil)
		} else {
			b.Discharge(runningLoads, quantity.Seconds(w.Minutes*minuteSeconds), 0, air(from))
		}
		hours += between
	}
	return b.Percent()
}
