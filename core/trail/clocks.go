package trail

import (
	"fmt"
	"math"
	"slices"

	"grapnel/core/charging"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/safety"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// The waits of the trade that a clock counts.
const (
	Rest        = "rest"
	Lamps       = "lamps"
	LampsWait   = "lamps_wait"
	Load        = "load"
	LoadWait    = "load_wait"
	LoadCool    = "load_cool"
	StarterCool = "starter_cool"
	CrankRest   = "crank_rest"
	Sleep       = "sleep"
	ChargeCheck = "charge_check"
	JumpWait    = "jump_wait"
)

// Clocks lists the kinds of clock.
func Clocks() []string {
	return []string{Rest, Lamps, LampsWait, Load, LoadWait, LoadCool, StarterCool, CrankRest, Sleep, ChargeCheck, JumpWait}
}

// clockWork is the work that a clock counts: the seconds of a load, the lamps that draw
// on the battery, a charge that goes on, a jump. What rests, cools or sleeps is none.
var clockWork = map[string]safety.Work{Load: safety.Test, Lamps: safety.Test, ChargeCheck: safety.Charge, JumpWait: safety.Jump}

// ClockWork is the work that a kind of clock counts; safety.None for a mere wait.
func ClockWork(kind string) safety.Work { return clockWork[kind] }

// Figures of the waits that stand nowhere else.
const (
	// loadCool is how long a carbon pile cools before the next test. Value from
	// memory; that it has to cool is common practice.
	loadCool quantity.Seconds = 60
	// jumpWait is how long a donor feeds the flat battery before it is cranked,
	// within the 2 to 10 min of common practice.
	jumpWait quantity.Minutes = 5
)

// Clock is a wait as it is set going.
type Clock struct {
	Kind    string           `json:"kind"`
	Seconds quantity.Seconds `json:"seconds"`
	// Text says what is waited for, Rings what to do when it is over.
	Text  wording.Statement `json:"text"`
	Rings wording.Statement `json:"rings"`
	// Then is the clock that goes on by itself when this one is over.
	Then string `json:"then,omitempty"`
}

// ClockOf sets a kind of clock for a situation: a school's seconds of load, the
// time this kind of car takes to sleep. False for a kind there is not.
func ClockOf(s *Situation, kind string) (Clock, bool) {
	c := Clock{Kind: kind}
	switch kind {
	case Rest:
		c.Seconds = school.RestMinutes.Seconds()
	case Lamps:
		c.Seconds = school.LampSeconds
	case LampsWait:
		c.Seconds = school.LampWait
	case Load:
		practice, _ := school.Find(s.Case.School)
		c.Seconds = practice.Seconds
	case LoadWait:
		c.Seconds = school.LoadWait
	case LoadCool:
		c.Seconds = loadCool
	case StarterCool:
		c.Seconds = school.StarterCool.Seconds()
	case CrankRest:
		c.Seconds = school.CrankRest
	case Sleep:
		c.Seconds = school.SleepMinutes.Seconds()
		if s.electric() {
			c.Seconds = school.SleepMinutesElectric.Seconds()
		}
	case ChargeCheck:
		c.Seconds = charging.CheckMinutes.Seconds()
	case JumpWait:
		c.Seconds = jumpWait.Seconds()
	default:
		return Clock{}, false
	}
	c.Text, c.Rings = ClockWords(kind, c.Seconds)
	c.Then, _ = Follows(kind)
	return c, true
}

// ClockWords say what a clock waits for and what to do when it is over.
func ClockWords(kind string, seconds quantity.Seconds) (text, rings wording.Statement) {
	return wording.Say("clock."+kind, wording.Values{"seconds": seconds}), wording.Say("rings."+kind, nil)
}

// Follows is the clock that goes on by itself when one is over: the wait after
// the lamps.
func Follows(kind string) (string, bool) {
	if kind == Lamps {
		return LampsWait, true
	}
	return "", false
}

// fading are the clocks that need no answer: what cools or rests may be used
// again, and after FadeMinutes nobody needs to be told any more.
var fading = []string{Lamps, LampsWait, Load, LoadWait, LoadCool, StarterCool, CrankRest, JumpWait}

// FadeMinutes is how long a clock that needs no answer still shows that it is
// over. Value from memory.
const FadeMinutes quantity.Minutes = 5

// Faded reports a clock of some seconds that has nothing left to say after it ran so
// long: one that needs no answer, FadeMinutes after its end. One that waits for a reading
// never fades.
func Faded(kind string, seconds, ran quantity.Seconds) bool {
	return slices.Contains(fading, kind) && ran > seconds+FadeMinutes.Seconds()
}

// StartedBy is the clock a kept reading sets going by itself: volts that are not
// rested yet start the rest, a check of a charge the next one, a drain taken
// awake the sleep. False where it starts none.
func StartedBy(s *Situation, r reading.Reading, f evidence.Finding) (string, bool) {
	switch r.Kind {
	case reading.OpenCircuit:
		since := r.Choice(reading.Since)
		return Rest, s.judged() && !f.Valid && (since == "drive" || since == "charge")
	case reading.ChargeLog:
		return ChargeCheck, !r.Is(reading.ChargerFull) && !s.stopped()
	case reading.Load:
		if r.Choice(reading.Method) == "starter" {
			return StarterCool, true
		}
		return LoadCool, true
	case reading.Crank:
		return CrankRest, !r.Is(reading.Started)
	case reading.Drain:
		return Sleep, !f.Valid
	}
	return "", false
}

// Saying is what a clock adds to the reading that follows it: how long the
// battery stood or the car slept, in whole minutes, and how the lamps took the
// surface charge off. Empty for a clock whose seconds no reading carries.
func Saying(kind string, ran quantity.Seconds) string {
	minutes := math.Floor(float64(ran) / 60)
	switch {
	case kind == Rest && minutes >= 1:
		return fmt.Sprintf("rested %gmin", minutes)
	case kind == Sleep && minutes >= 1:
		return fmt.Sprintf("asleep %gmin", minutes)
	case kind == LampsWait && ran >= school.LampWait:
		return fmt.Sprintf("lamps %gmin wait %gs", float64(school.LampSeconds)/60, math.Floor(float64(ran)))
	}
	return ""
}

// AnswersClock reports whether a reading of this kind is what a clock was waiting
// for: keeping it ends the clock.
func AnswersClock(kind string, r reading.Kind) bool {
	return slices.Contains(answering[kind], r)
}

var answering = map[string][]reading.Kind{
	Rest: {reading.OpenCircuit, reading.Gravity}, Lamps: {reading.OpenCircuit}, LampsWait: {reading.OpenCircuit},
	Load: {
		reading.Load,
	}, LoadWait: {reading.OpenCircuit}, LoadCool: {reading.Load}, StarterCool: {reading.Crank, reading.StarterDraw, reading.Load},
	CrankRest: {reading.Crank}, Sleep: {reading.Drain, reading.OpenCircuit}, ChargeCheck: {reading.ChargeLog}, JumpWait: {reading.Jump},
}
