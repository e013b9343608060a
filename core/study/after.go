package study

import (
	"maps"
	"math"
	"slices"

	"grapnel/core/diagnosis"
	"grapnel/core/quantity"
	"grapnel/core/twin"
)

// What follows the verdict: the shop does what it says, the vehicle drives on through its own
// use and climate, and comes back or does not.

// driven is a battery that a vehicle drives on with.
type driven interface {
	twin.Source
	// Percent is its charge.
	Percent() float64
	// Stand draws a current for some hours at a temperature, Drive charges for some hours.
	Stand(amps quantity.Amperes, hours float64, at quantity.Celsius)
	Drive(c twin.Charger, hours float64, at quantity.Celsius)
}

// modelled is the twin's battery, driven.
type modelled struct{ *twin.Battery }

func (m modelled) Stand(amps quantity.Amperes, hours float64, at quantity.Celsius) {
	m.Park(amps, hours, twin.Steady(at), nil)
}

func (m modelled) Drive(c twin.Charger, hours float64, at quantity.Celsius) {
	m.Charge(c, hours, fullEnough, at, nil)
}

// fullEnough is the charge, percent, at which a drive puts nothing in any more.
const fullEnough = 98

func drivenOf(b twin.Source) driven {
	if p, ok := b.(*plain); ok {
		return p
	}
	return modelled{b.(*twin.Battery)}
}

// Prices are a shop's money.
type Prices struct {
	Battery  float64 `json:"battery"`
	Hour     float64 `json:"hour"`
	ComeBack float64 `json:"come_back"`
}

// done is what the shop did to one vehicle, and what it named.
type done struct {
	// named are the faults it named above one half; the battery's own go by one name.
	named    map[string]bool
	replaced bool
	charged  bool
	cleaned  bool
}

// ofBattery is the name that worn plates, a bad cell and damage go by: one repair, a new
// battery.
const ofBattery = "battery"

// namedFrom is the probability above which a fault is named.
const namedFrom = 0.5

// noFaults are causes that are no faults: nothing of the vehicle is repaired for them.
var noFaults = []string{"nothing_wrong", "discharged_sound"}

// ofVehicle reports a cause that is a fault of the vehicle or its use, not of the battery.
func ofVehicle(cause string) bool {
	return !slices.Contains(batteryFaults, cause) && !slices.Contains(noFaults, cause)
}

// doneBy is what a verdict has the shop do: replace, clean, repair what was named, and hand
// back charged.
func doneBy(w *technician, a diagnosis.Assessment) done {
	d := done{named: map[string]bool{}, charged: true, cleaned: w.taken["clean"] > 0 || a.Verdict.Action == diagnosis.CleanAndRetest}
	d.replaced = a.Verdict.Action == diagnosis.Replace || a.Verdict.Action == diagnosis.StopUnsafe
	if 1-a.Condition.Sound > namedFrom || d.replaced {
		d.named[ofBattery] = true
	}
	for _, c := range a.Causes {
		if c.Probability > namedFrom && ofVehicle(c.Cause) {
			d.named[c.Cause] = true
		}
	}
	if c := a.Verdict.Cause; c != nil && ofVehicle(*c) {
		d.named[*c] = true
	}
	return d
}

// doneByHabit is what a habit of the trade does: a new battery or none, and the one thing it
// put it down to.
func doneByHabit(w *technician, e *ended) done {
	d := done{named: map[string]bool{}, charged: w.charged || e.cause == "discharged_sound"}
	if e.action == diagnosis.Replace {
		d.replaced = true
		d.named[ofBattery] = true
	} else if !slices.Contains(noFaults, e.cause) {
		d.named[e.cause] = true
	}
	return d
}

// repaired reports that a fault's own repair is among what was done.
func (d done) repaired(fault string) bool {
	switch {
	case slices.Contains(batteryFaults, fault):
		return d.replaced
	case fault == "nothing_wrong":
		return true
	case fault == "discharged_sound", fault == "accessory_left_on":
		return d.charged || d.replaced
	case fault == "poor_connection", fault == "case_leakage":
		return d.cleaned || d.named[fault]
	}
	return d.named[fault]
}

// faults are those a vehicle has, the battery's own under one name.
func (t *truth) faults() []string {
	var list []string
	if !t.good {
		list = append(list, ofBattery)
	}
	for _, fault := range append([]string{t.main}, t.also...) {
		if ofVehicle(fault) && !slices.Contains(list, fault) {
			list = append(list, fault)
		}
	}
	slices.Sort(list)
	return list
}

// repair puts one fault of the vehicle right.
func (t *truth) repair(fault string) {
	car := t.car
	switch fault {
	case "poor_connection":
		car.Circuit = twin.InOrder.For(t.vehicle.Starter)
	case "case_leakage":
		car.Leak = cleanLeak
	case "undercharging", "dcdc_fault", "overcharging":
		car.Alternator = twin.Alternator{Volts: inOrderVolts, Amps: car.Alternator.Amps, Ripple: 0.04}
	case "parasitic_drain":
		car.Asleep = inOrderDrain
	case "starter_drag":
		car.Starter.Drag = 1
	case "engine_fault":
		car.Starter.Fires = true
	case "key_or_interlock":
		car.Starter.Open = false
	case "short_trips":
		t.topped = true
	case "storage":
		t.standing = 0
	}
}

// A vehicle in order. Values from memory.
const (
	cleanLeak    quantity.Volts   = 0.02
	inOrderVolts quantity.Volts   = 14.3
	inOrderDrain quantity.Amperes = 0.018
)

// handBack does what was done and returns the battery it leaves with.
func (t *truth) handBack(d done, b twin.Source) driven {
	for fault := range maps.Keys(d.named) {
		t.repair(fault)
	}
	if d.cleaned {
		t.repair("poor_connection")
		t.repair("case_leakage")
	}
	switch {
	case d.replaced:
		return t.newBattery()
	case d.charged:
		b.Fill(workshop)
	}
	return drivenOf(b)
}

// newBattery is one of the same label, as its label promises.
func (t *truth) newBattery() driven {
	if p, ok := t.battery.(*plain); ok {
		fresh := *p
		fresh.health, fresh.capacity, fresh.charge, fresh.odd, fresh.sulphation = 1, 1, 1, nil, 0
		return &fresh
	}
	b := t.design.New(twin.Sound, 100, workshop)
	return modelled{&b}
}

const (
	// drivenDays is how long a vehicle drives on.
	drivenDays = 60
	// leakAmps is what each volt over a dirty top draws, amperes. Value from memory.
	leakAmps = 0.02
	// toppedEvery is how often, in days, one that is driven too little is put on a charger
	// by an owner who was told.
	toppedEvery = 7
	// deadPercent is the charge at which a 12 V side that turns no engine is dead. Value from
	// memory.
	deadPercent = 12
	morning     = 7.0
	noon        = 13.0
)

// comesBack drives a vehicle on from the day it is handed back and reports whether it does not
// start, or is flat again.
func (t *truth) comesBack(b driven) bool {
	air := t.climate.From(t.day)
	due := 0.0
	stands := t.standing > 0
	for day := range drivenDays {
		at := air(float64(day)*24 + morning)
		mean := (at + air(float64(day)*24+noon)) / 2
		if stands {
			due = 0
			if day == drivenDays-1 {
				due = 1
			}
		} else {
			due += t.week.Trips / 7
		}
		trips := math.Floor(due)
		due -= trips
		away := trips * t.week.Minutes / 60
		asleep := t.car.Asleep + quantity.Amperes(leakAmps*float64(t.car.Leak))
		b.Stand(asleep, 24-away, mean)
		if t.topped && day%toppedEvery == toppedEvery-1 {
			b.Fill(mean)
		}
		if trips == 0 {
			continue
		}
		if t.strandsNow(b) {
			return true
		}
		b.Stand(twin.StartAmps, trips*float64(twin.StartSeconds)/3600, at)
		if t.car.Alternator.Dead {
			b.Stand(runningLoads, away, at)
			continue
		}
		b.Drive(twin.Charger{Amps: t.car.Alternator.Amps, Volts: t.car.Alternator.Volts}, away, at)
	}
	return false
}

// runningLoads is what a vehicle draws that nothing charges. Value from memory.
const runningLoads quantity.Amperes = 12

// strandsNow reports a vehicle that does not start this morning.
func (t *truth) strandsNow(b driven) bool {
	if t.electric() {
		return b.Percent() < deadPercent
	}
	return !t.car.Crank(b).Started
}

// stranding are the faults of a vehicle that each by itself would bring it back.
func (f *Fleet) stranding(draw func() truth) map[string]bool {
	first := draw()
	list := map[string]bool{}
	for _, fault := range first.faults() {
		t := draw()
		for _, other := range t.faults() {
			if other != fault && other != ofBattery {
				t.repair(other)
			}
		}
		b := t.newBattery()
		if fault == ofBattery {
			t.battery.Fill(workshop)
			b = drivenOf(t.battery)
		}
		if t.comesBack(b) {
			list[fault] = true
		}
	}
	return list
}
