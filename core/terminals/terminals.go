// Package terminals works on the joints between battery and starter: what each drop measured
// while cranking comes to, which one costs most, what was seen on a joint means and what is
// done about it, whether the battery is cleaned where it sits or out of the vehicle, and
// whether the work is proved.
package terminals

import (
	"cmp"
	"math"
	"slices"
	"strings"

	"grapnel/core/accuracy"
	"grapnel/core/charging"
	"grapnel/core/circuit"
	"grapnel/core/diagnosis"
	"grapnel/core/drawing"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/trail"
	"grapnel/core/twin"
	"grapnel/core/wording"
)

// JointPicture is everything the joints of one battery come to.
type JointPicture struct {
	// Joints in the way of the current, from plus round to minus, then the sides as a whole
	// and the charging cables.
	Joints []Joint `json:"joints"`
	// Worst is the place that costs the starter most now, empty where nothing was measured.
	Worst string `json:"worst"`
	// Crank is what the starter gets now, and what it would get with every joint in order;
	// nil for what cranks nothing on 12 V or whose label says too little.
	Crank *Crank `json:"crank"`
	// Case is the leakage over the case top.
	Case  Leak    `json:"case"`
	Found []Found `json:"found"`
	Way   Way     `json:"way"`
	// Torque of the terminals: the maker's figure, or that it is not known, then the ranges.
	Torque []Tightening `json:"torque"`
	// Open says what keeps the work from being closed; empty when it is proved.
	Open []wording.Statement `json:"open"`
	// Before and After are the circuit as it was first measured, and as it is; nil where no
	// engine is cranked.
	Before  *drawing.Scene      `json:"before"`
	After   *drawing.Scene      `json:"after"`
	Assumed []wording.Statement `json:"assumed"`
}

// States of a joint.
const (
	Unmeasured = "unmeasured"
	InOrder    = "in_order"
	High       = "high"
	// Closed was beyond its limit and is not any more; StillHigh was measured again and is.
	Closed    = "closed"
	StillHigh = "still_high"
	// Unproven was measured last with too little current to prove anything.
	Unproven = "unproven"
)

// Joint is one place a drop is measured at.
type Joint struct {
	Where string  `json:"where"`
	Name  string  `json:"name"`
	Side  string  `json:"side" enum:"positive,negative,charging"`
	Limit float64 `json:"limit"`
	State string  `json:"state" enum:"unmeasured,in_order,high,closed,still_high,unproven"`
	// Before is the first drop measured there, Now the last; Now is nil before the first,
	// Before nil where there was one only.
	Before *Drop `json:"before"`
	Now    *Drop `json:"now"`
	// Line begins the reading that is taken there.
	Line string `json:"line"`
}

// Drop is one drop with what it comes to.
type Drop struct {
	Volts float64 `json:"volts"`
	// Amps through it, Taken where it was not measured but is usual for the starter.
	Amps  float64           `json:"amps"`
	Taken bool              `json:"taken"`
	Ohms  charging.Estimate `json:"ohms"`
	Watts float64           `json:"watts"`
	// Share of the battery's volts while cranking that stay here, 0 to 1; nil for a charging
	// cable.
	Share *float64 `json:"share"`
	// Faster is how much faster it would crank with this joint in order, as a share; nil
	// where it is not worked out, or where it does not turn now.
	Faster *float64    `json:"faster"`
	Ref    wording.Ref `json:"reading"`
}

// Crank is the starter with the joints as they are, and with all of them in order.
type Crank struct {
	Posts   float64 `json:"posts_volts"`
	Starter float64 `json:"starter_volts"`
	// Lost is the share of the posts' volts that does not reach the starter.
	Lost  float64 `json:"lost"`
	Speed float64 `json:"speed"`
	// Sound is the speed with every joint in order.
	Sound float64 `json:"sound_speed"`
	Amps  float64 `json:"amps"`
}

// Leak is the leakage over the case before and now.
type Leak struct {
	Limit  float64  `json:"limit"`
	State  string   `json:"state" enum:"unmeasured,in_order,high,closed,still_high"`
	Before *float64 `json:"before"`
	Now    *float64 `json:"now"`
}

// Work works the joints out; it keeps the labels it has calibrated.
type Work struct{ Designs *twin.Designs }

// places in the way of the current from the plus post round to the minus post; then what was
// measured over more than one; then the charging cables.
var places = []string{
	"positive_clamp", "positive_cable", "starter_stud", "ground_strap", "negative_cable", "negative_clamp",
	"whole_positive", "whole_negative", "charge_positive", "charge_negative",
}

// Of is the picture of a battery on a job as it stands. The maker's torque is in newton
// metres, nil for not known.
func (w Work) Of(s *trail.Situation, maker *quantity.NewtonMetres) JointPicture {
	out := JointPicture{
		Joints: []Joint{}, Found: found(s), Way: wayOf(s), Torque: torqueOf(s, maker), Open: []wording.Statement{}, Assumed: []wording.Statement{},
	}
	m := w.measured(s)
	out.Assumed = append(out.Assumed, m.assumed...)
	for _, where := range places {
		out.Joints = append(out.Joints, m.joint(where))
	}
	out.Worst = worst(out.Joints)
	out.Crank = m.crank()
	out.Case = leakOf(s)
	out.Open = open(out.Joints, out.Case)
	out.Before, out.After = before(s), scene(s)
	return out
}

// measured is what is known around the joints of one battery.
type measured struct {
	s       *trail.Situation
	car     twin.Car
	battery *twin.Battery
	// amps is the starter's current as it was measured last, or as is usual; 0 for a vehicle
	// that cranks nothing.
	amps    float64
	taken   bool
	posts   float64
	assumed []wording.Statement
}

func (w Work) measured(s *trail.Situation) *measured {
	m := &measured{s: s}
	design, ok := w.Designs.Of(s.Case.Label)
	if !ok || !cranks(s) {
		return m
	}
	state := charging.StateOf(charging.Ask{Label: s.Case.Label, Case: s.Case, Until: charging.Full, Attended: true})
	percent := wholePercent
	if c := s.Assessment.ChargeState; c != nil {
		percent = c.Percent
	} else {
		m.assumed = append(m.assumed, wording.Say("assumed.terminals_charge", nil))
	}
	starter := diagnosis.StarterAmps(s.Case.Vehicle, design)
	b := design.New(twin.Sound, percent, state.Celsius)
	m.battery = &b
	m.car = twin.Car{Circuit: twin.InOrder.For(starter), Starter: twin.Starter{Amps: starter, Drag: 1, Fires: true}}
	m.amps, m.taken = float64(m.car.Crank(m.battery).Amps), true
	if r := last(s, func(r *reading.Reading) bool { return r.Kind == reading.StarterDraw && r.Has(reading.Amps) }); r != nil {
		m.amps, _ = r.Number(reading.Amps)
		m.taken = false
	}
	m.car.Circuit = m.circuit()
	m.posts = float64(m.car.Crank(m.battery).Volts)
	if r := last(s, func(r *reading.Reading) bool { return r.Kind == reading.Crank && !r.Is(reading.OnJump) }); r != nil {
		m.posts = float64(r.Volts())
	}
	if m.taken && m.unclamped() {
		m.assumed = append(m.assumed, wording.Say("assumed.terminals_amps", wording.Values{"amps": quantity.Amperes(m.amps)}))
	}
	return m
}

const wholePercent = 100.0

// cranks reports a vehicle whose engine the battery turns.
func cranks(s *trail.Situation) bool {
	v := s.Case.Vehicle
	return v.Kind != "" && v.Cranks()
}

func last(s *trail.Situation, is func(*reading.Reading) bool) *reading.Reading {
	for i := len(s.Case.Readings) - 1; i >= 0; i-- {
		if r := &s.Case.Readings[i].Reading; is(r) {
			return r
		}
	}
	return nil
}

// dropsAt are the drops measured at a place, as places of the case.
func dropsAt(s *trail.Situation, where string) []int {
	var out []int
	for i := range s.Case.Readings {
		if r := &s.Case.Readings[i].Reading; r.Kind == reading.Drop && r.Choice(reading.Where) == where {
			out = append(out, i)
		}
	}
	return out
}

// unclamped reports a drop whose current nobody measured.
func (m *measured) unclamped() bool {
	return slices.ContainsFunc(places, func(where string) bool {
		return slices.ContainsFunc(dropsAt(m.s, where), func(i int) bool {
			r := &m.s.Case.Readings[i].Reading
			return !r.Has(reading.Amps) && !charges(where)
		})
	})
}

// through is the current through a drop: its own, else the starter's. A charging cable's is
// known only where it was measured.
func (m *measured) through(r *reading.Reading) (amps float64, taken, known bool) {
	if a, ok := r.Number(reading.Amps); ok && a > 0 {
		return a, false, true
	}
	if charges(r.Choice(reading.Where)) || r.Choice(reading.Condition) == "charging" || m.amps <= 0 {
		return 0, false, false
	}
	return m.amps, m.taken, true
}

func charges(where string) bool { return strings.HasPrefix(where, "charge_") }

// ohms of the last drop at a place; false where none was measured.
func (m *measured) ohms(where string) (quantity.Ohms, bool) {
	at := dropsAt(m.s, where)
	if len(at) == 0 {
		return 0, false
	}
	r := &m.s.Case.Readings[at[len(at)-1]].Reading
	amps, _, known := m.through(r)
	if !known {
		return 0, false
	}
	ohms, _ := circuit.Resistance(r.Volts(), quantity.Amperes(amps))
	return ohms, true
}

// circuit is the vehicle's with what was measured in it. What a whole side has beyond its
// parts lies in its cable.
func (m *measured) circuit() twin.Circuit {
	c := m.car.Circuit
	for _, where := range places {
		if part := c.Part(where); part != nil && !charges(where) {
			if ohms, ok := m.ohms(where); ok {
				*part = ohms
			}
		}
	}
	for _, side := range []struct {
		where string
		of    func(twin.Circuit) quantity.Ohms
		rest  *quantity.Ohms
	}{{"whole_positive", twin.Circuit.Positive, &c.PositiveCable}, {"whole_negative", twin.Circuit.Negative, &c.NegativeCable}} {
		if whole, ok := m.ohms(side.where); ok && whole > side.of(c) {
			*side.rest += whole - side.of(c)
		}
	}
	return c
}

func (m *measured) crank() *Crank {
	if m.battery == nil {
		return nil
	}
	now := m.car.Crank(m.battery)
	whole := m.car
	whole.Circuit = twin.InOrder.For(m.car.Starter.Amps)
	out := &Crank{
		Posts: thousandth(float64(now.Volts)), Starter: thousandth(float64(now.Stud)), Amps: thousandth(float64(now.Amps)),
		Speed: thousandth(now.Speed), Sound: thousandth(whole.Crank(m.battery).Speed),
	}
	if now.Volts > 0 {
		out.Lost = thousandth(float64((now.Volts - now.Stud) / now.Volts))
	}
	return out
}

// without is how much faster it cranks with one place in order, as a share.
func (m *measured) without(where string) *float64 {
	now := m.car.Crank(m.battery).Speed
	better := m.car
	sound := twin.InOrder.For(m.car.Starter.Amps)
	switch where {
	case "whole_positive":
		better.Circuit.PositiveClamp, better.Circuit.PositiveCable, better.Circuit.StarterStud = sound.PositiveClamp, sound.PositiveCable, sound.StarterStud
	case "whole_negative":
		better.Circuit.NegativeClamp, better.Circuit.NegativeCable, better.Circuit.GroundStrap = sound.NegativeClamp, sound.NegativeCable, sound.GroundStrap
	default:
		part, from := better.Circuit.Part(where), sound.Part(where)
		*part = min(*part, *from)
	}
	then := better.Crank(m.battery).Speed
	if now <= 0 || then < now {
		return nil
	}
	share := thousandth(then/now - 1)
	return &share
}

// joint is one place with its first and its last drop.
func (m *measured) joint(where string) Joint {
	limit, _ := m.s.Case.Own.Limit(school.DropLimit(school.Earthed(where, m.s.Case.Vehicle.Earth)))
	j := Joint{Where: where, Name: wording.Word(where), Side: sideOf(where), Limit: limit, State: Unmeasured, Line: "drop " + where + " "}
	at := dropsAt(m.s, where)
	if len(at) == 0 {
		return j
	}
	j.Now = m.drop(at[len(at)-1], true)
	if len(at) > 1 {
		j.Before = m.drop(at[0], false)
	}
	j.State = stateOf(j.Now.Volts > limit+near, slices.ContainsFunc(at[:len(at)-1], func(i int) bool {
		return float64(m.s.Case.Readings[i].Reading.Volts()) > limit+near
	}))
	if !m.proves(at[len(at)-1]) && j.Now.Volts <= limit+near {
		j.State = Unproven
	}
	return j
}

// proves reports a reading that proves something.
func (m *measured) proves(i int) bool {
	ref := m.s.Case.Ref(i)
	return !slices.ContainsFunc(m.s.Assessment.Findings, func(f evidence.Finding) bool { return f.Reading == ref && !f.Valid })
}

// near is how little beyond a limit is none.
const near = 1e-9

// stateOf is that of a joint that is beyond its limit or not now, and was or was not before.
func stateOf(high, was bool) string {
	switch {
	case high && was:
		return StillHigh
	case high:
		return High
	case was:
		return Closed
	}
	return InOrder
}

func sideOf(where string) string {
	switch {
	case charges(where):
		return "charging"
	case where == "starter_stud" || strings.HasSuffix(where, "positive") || strings.HasPrefix(where, "positive"):
		return "positive"
	}
	return "negative"
}

// drop is one reading with what it comes to; only the last one of a place has the speed that
// it costs.
func (m *measured) drop(i int, now bool) *Drop {
	r := &m.s.Case.Readings[i].Reading
	where, volts := r.Choice(reading.Where), float64(r.Volts())
	d := &Drop{Volts: volts, Ref: m.s.Case.Ref(i)}
	amps, taken, known := m.through(r)
	if !known {
		return d
	}
	d.Amps, d.Taken = thousandth(amps), taken
	ohms, watts := circuit.Resistance(r.Volts(), quantity.Amperes(amps))
	d.Watts = thousandth(watts)
	spread := math.Hypot(share(float64(accuracy.DropSigma(r.Volts())), volts), share(float64(accuracy.ClampSigma(quantity.Amperes(amps))), amps))
	if taken {
		spread = math.Hypot(spread, takenSpread)
	}
	d.Ohms = charging.Estimate{Value: micro(float64(ohms)), Low: micro(float64(ohms) * math.Max(0, 1-fourOfFive*spread)), High: micro(float64(ohms) * (1 + fourOfFive*spread))}
	if charges(where) || r.Choice(reading.Condition) == "charging" {
		return d
	}
	if m.posts > 0 {
		of := thousandth(volts / m.posts)
		d.Share = &of
	}
	if now && m.battery != nil {
		d.Faster = m.without(where)
	}
	return d
}

// takenSpread is one sigma of a starter's current that was not measured, a share. Value from
// memory. fourOfFive widens one sigma to where four of five lie, of a normal spread.
const (
	takenSpread = 0.3
	fourOfFive  = 1.28
)

func share(part, of float64) float64 {
	if of == 0 {
		return 0
	}
	return part / of
}

func thousandth(x float64) float64 { return math.Round(x*1000) / 1000 }

// micro rounds a resistance to a microohm.
func micro(x float64) float64 { return math.Round(x*1e6) / 1e6 }

// worst is the single place whose drop lies farthest beyond what belongs there, as a share of
// its limit; a whole side counts where none of its parts was measured.
func worst(joints []Joint) string {
	single := func(j Joint) bool { return !strings.HasPrefix(j.Where, "whole_") && !charges(j.Where) }
	costs := func(j Joint) float64 {
		if j.Now == nil {
			return 0
		}
		return j.Now.Volts
	}
	candidates := slices.DeleteFunc(slices.Clone(joints), func(j Joint) bool {
		whole := !single(j) && !charges(j.Where) && !slices.ContainsFunc(joints, func(o Joint) bool { return single(o) && o.Side == j.Side && o.Now != nil })
		return j.Now == nil || !single(j) && !whole
	})
	if len(candidates) == 0 {
		return ""
	}
	// What lies beyond its limit goes before what does not: a cable may drop more than a joint.
	high := func(j Joint) int {
		if j.State == High || j.State == StillHigh {
			return 1
		}
		return 0
	}
	return slices.MaxFunc(candidates, func(a, b Joint) int { return cmp.Or(cmp.Compare(high(a), high(b)), cmp.Compare(costs(a), costs(b))) }).Where
}

func leakOf(s *trail.Situation) Leak {
	limit, _ := s.Case.Own.Limit(school.CaseLeakMost)
	out := Leak{Limit: limit, State: Unmeasured}
	var volts []float64
	for i := range s.Case.Readings {
		if r := &s.Case.Readings[i].Reading; r.Kind == reading.CaseLeak {
			volts = append(volts, float64(r.Volts()))
		}
	}
	if len(volts) == 0 {
		return out
	}
	out.Now = &volts[len(volts)-1]
	if len(volts) > 1 {
		out.Before = &volts[0]
	}
	dirty := func(v float64) bool { return v >= limit-near }
	out.State = stateOf(dirty(*out.Now), slices.ContainsFunc(volts[:len(volts)-1], dirty))
	return out
}

// open says what keeps the work from being closed: a joint that is still high, or that was
// measured with too little current since, and a case that still leaks.
func open(joints []Joint, leak Leak) []wording.Statement {
	out := []wording.Statement{}
	for _, j := range joints {
		if j.State == High || j.State == StillHigh || j.State == Unproven && j.Before != nil && j.Before.Volts > j.Limit {
			out = append(out, wording.Say("terminals_open."+j.State, wording.Values{"where": j.Where, "volts": quantity.Volts(j.Now.Volts), "limit": quantity.Volts(j.Limit)}, j.Now.Ref))
		}
	}
	if leak.State == High || leak.State == StillHigh {
		out = append(out, wording.Say("terminals_open.case", wording.Values{"volts": quantity.Volts(*leak.Now), "limit": quantity.Volts(leak.Limit)}))
	}
	return out
}

// scene is the circuit as it stands, before as it was measured first.
func scene(s *trail.Situation) *drawing.Scene {
	sc, ok := drawing.Circuit(s)
	if !ok {
		return nil
	}
	for i := range sc.Parts {
		sc.Parts[i].Tests = []int{} // here it is about the joints alone
	}
	return &sc
}

func before(s *trail.Situation) *drawing.Scene {
	again := *s
	again.Case.Readings = slices.Clone(s.Case.Readings)
	met := map[string]bool{}
	again.Case.Readings = slices.DeleteFunc(again.Case.Readings, func(t evidence.Taken) bool {
		if t.Kind != reading.Drop {
			return false
		}
		where := t.Choice(reading.Where)
		seen := met[where]
		met[where] = true
		return seen
	})
	return scene(&again)
}
