package jump

import (
	"io"

	"grapnel/core/battery"
	"grapnel/core/charging"
	"grapnel/core/circuit"
	"grapnel/core/evidence"
	"grapnel/core/field"
	"grapnel/core/quantity"
	"grapnel/core/trail"
)

// What a vehicle is jumped with.
const (
	Vehicle = "vehicle"
	Pack    = "pack"
	Charger = "charger"
)

// Schools of the last clamp.
const (
	// Body is the default: last to bare metal, away from the battery.
	Body = "body"
	// Post is on the dead battery's own post, where the maker says so.
	Post = "post"
	// EarthFirst is recorded when seen, never planned.
	EarthFirst = "earth_first"
)

// Ask is one jump that is asked about.
type Ask struct {
	// Dead is the battery that does not crank, with what is known of it.
	Dead    charging.Ask
	Vehicle evidence.Vehicle
	// Mounting is how it sits, where that is known.
	Mounting trail.Mounting
	// Engine is how warm the engine is; nil for as the battery.
	Engine *quantity.Celsius
	// Joints is what lies in the way of the whole starter current beyond cables in order.
	Joints quantity.Ohms
	With   With
	Cables Cables
	// Feed is for how long the donor charges the dead battery before it cranks, minutes.
	Feed   float64
	School string
	People int
}

// With is what it is jumped with. Nil is not said.
type With struct {
	Kind     string
	Label    *battery.Label
	Charge   *battery.Charge
	Celsius  *quantity.Celsius
	NominalV *float64
	// Amps is the peak on a pack's label, the current of a charger's engine start, or what a
	// running donor's alternator spares.
	Amps            *float64
	Running, Hybrid bool
}

// Cables are the two leads between them. Nil is not said.
type Cables struct {
	// Area is the cross-section in mm², Metres the length of one lead.
	Area, Metres *float64
	// Clamp is what one clamp adds.
	Clamp *quantity.Ohms
}

// Ranges of what is asked: plausibility only (common practice, no source).
const (
	mostJoints   = 500
	mostFeed     = 240
	leastArea    = 0.5
	mostArea     = 200
	leastGauge   = -3
	mostGauge    = 20
	leastMetres  = 0.1
	mostMetres   = 20
	mostClamp    = 50
	leastNominal = 2
	mostNominal  = 48
	mostPeak     = 10000
	milli        = 1e-3
)

// Decode reads a jump that is asked about as JSON. Every problem is listed with the path of
// its field.
func Decode(in io.Reader) (Ask, error) {
	o, err := field.Read(in, "jump", "{\"dead\": {\"battery\": {…}}, \"with\": {\"kind\": \"vehicle\"}}")
	if err != nil {
		return Ask{}, err
	}
	a := Ask{Dead: takeDead(o), School: Body, People: 1}
	a.Vehicle = evidence.TakeVehicle(o, "vehicle")
	a.Dead.Case.Vehicle = a.Vehicle
	a.Engine = charging.TakeCelsius(o, "engine_c")
	if x := o.Number("joints_mohm", 0, mostJoints, "mΩ"); x != nil {
		a.Joints = quantity.Ohms(*x * milli)
	}
	a.With = takeWith(o)
	a.Cables = takeCables(o)
	if x := o.Number("feed_minutes", 0, mostFeed, "min"); x != nil {
		a.Feed = *x
	}
	if code := o.Code("school", []string{Body, Post, EarthFirst}); code != "" {
		a.School = code
	}
	if x := o.Number("people", 1, 2, ""); x != nil {
		if *x != 1 && *x != 2 {
			o.Fault("problem.range", "people", *x, "1 or 2")
		}
		a.People = int(*x)
	}
	o.Close()
	return a, o.Err()
}

func takeDead(o *field.Object) charging.Ask {
	inner, missing := o.Under("dead")
	if missing {
		o.Missing("dead", "{\"battery\": {…}}")
		return charging.Ask{}
	}
	a := charging.Ask{Label: evidence.TakeLabel(inner, "battery"), Until: charging.Full, Attended: true}
	a.Charge = charging.TakeCharge(inner, "charge")
	a.BatteryC = charging.TakeCelsius(inner, "battery_c")
	a.Case = evidence.Case{Label: a.Label, Readings: evidence.Untimed(evidence.TakeReadings(inner, "readings", a.Label)...)}
	inner.Close()
	return a
}

func takeWith(o *field.Object) With {
	inner, missing := o.Under("with")
	w := With{Kind: Vehicle}
	if missing {
		return w
	}
	if kind := inner.Code("kind", []string{Vehicle, Pack, Charger}); kind != "" {
		w.Kind = kind
	}
	if l, missing := field.Decode(inner, "battery", battery.Fields()); !missing {
		w.Label = &l
	}
	w.Charge = charging.TakeCharge(inner, "charge")
	w.Celsius = charging.TakeCelsius(inner, "battery_c")
	w.NominalV = inner.Number("nominal_v", leastNominal, mostNominal, "V")
	w.Amps = inner.Number("amps", 1, mostPeak, "A")
	for key, to := range map[string]*bool{"running": &w.Running, "hybrid": &w.Hybrid} {
		if yes := inner.Flag(key); yes != nil {
			*to = *yes
		}
	}
	inner.Close()
	return w
}

func takeCables(o *field.Object) Cables {
	inner, missing := o.Under("cables")
	var c Cables
	if missing {
		return c
	}
	c.Area = inner.Number("mm2", leastArea, mostArea, "mm²")
	gauge := inner.Number("awg", leastGauge, mostGauge, "")
	switch {
	case gauge != nil && c.Area != nil:
		inner.Fault("problem.range", "awg", *gauge, "either mm2 or awg")
	case gauge != nil:
		area := circuit.GaugeArea(*gauge)
		c.Area = &area
	}
	c.Metres = inner.Number("metres", leastMetres, mostMetres, "m")
	if x := inner.Number("clamp_mohm", 0, mostClamp, "mΩ"); x != nil {
		ohms := quantity.Ohms(*x * milli)
		c.Clamp = &ohms
	}
	inner.Close()
	return c
}
