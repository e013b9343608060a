// Package trail is the way through a job, from the symptom to the keys: the
// stages in working order and how far each has come, the steps of each stage as
// the setting asks for them with the cautions in front of them, the questions
// that change the odds, the waits with their clocks, and the list that is
// answered before the keys go back. The trail is a map and no rail: nothing here
// forbids an order; only a stop rule closes steps.
//
// Everything is a table a technician could read: steps.go, questions.go,
// clocks.go and closeout.go.
package trail

import (
	"slices"
	"time"

	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/reading"
	"grapnel/core/safety"
	"grapnel/core/school"
)

// Mounting is how a battery sits and what stands beside it. It changes words,
// drawings, steps and cautions, never a verdict. Empty is not said.
type Mounting struct {
	Where  string `json:"where,omitempty"`
	Posts  string `json:"posts,omitempty"`
	Joined string `json:"joined,omitempty"`
}

// Where a battery sits.
const (
	Bonnet    = "bonnet"
	Boot      = "boot"
	UnderSeat = "seat"
	WheelArch = "wheel_arch"
	Bench     = "bench"
)

// Places lists where a battery may sit.
func Places() []string { return []string{Bonnet, Boot, UnderSeat, WheelArch, Bench} }

// The posts of a battery: on top, or threaded pads in its side.
const (
	TopPosts  = "top"
	SidePosts = "side"
)

// Posts lists the kinds of posts.
func Posts() []string { return []string{TopPosts, SidePosts} }

// How several batteries are joined.
const (
	Alone    = "alone"
	Parallel = "parallel"
	Series   = "series"
	Bank     = "bank"
)

// Joins lists how batteries may be joined.
func Joins() []string { return []string{Alone, Parallel, Series, Bank} }

// What a job is for.
const (
	// Repair follows a complaint.
	Repair = "repair"
	// QuickLook is the preventive check of three minutes.
	QuickLook = "quick_look"
	// Stock is a battery of the shop's own.
	Stock = "stock"
	// Purchase is one the shop may buy.
	Purchase = "purchase"
	// BeforeStorage is one that is put away for a season, AfterStorage one that comes out again.
	BeforeStorage = "before_storage"
	AfterStorage  = "after_storage"
)

// Purposes lists what a job may be for, the usual first.
func Purposes() []string {
	return []string{Repair, QuickLook, BeforeStorage, AfterStorage, Stock, Purchase}
}

// Answer is what a person said to a step: done, not_done or not_needed, with a
// note where one was given.
type Answer struct {
	Value string `json:"value"`
	Note  string `json:"note"`
	By    string `json:"by"`
}

// Answers a step takes.
const (
	Done      = "done"
	NotDone   = "not_done"
	NotNeeded = "not_needed"
)

// What else a step or a stage may be: nobody has answered it, it waits for something, a
// stop rule bars it.
const (
	Open   = "open"
	Waits  = "waits"
	Barred = "barred"
)

// StepStates lists what a step may be.
func StepStates() []string { return []string{Open, Done, NotDone, NotNeeded, Barred} }

// StageStates lists what a stage may be.
func StageStates() []string { return []string{Done, Waits, Open, Barred, NotNeeded} }

// Situation is everything the steps depend on. It is a value; nothing here
// reads a clock or a screen.
type Situation struct {
	Case       evidence.Case
	Mounting   Mounting
	Purpose    string
	Assessment diagnosis.Assessment
	// Safety is what may be done to the battery now.
	Safety safety.State
	Plan   diagnosis.LoadPlan
	// Replaced is when another battery was fitted for this one on the job; nil for not.
	Replaced *time.Time
	// Answers are what was said to the steps so far, by their code.
	Answers map[string]Answer
}

func (s *Situation) vehicle() bool {
	return s.Case.Vehicle.Kind != "" && s.Case.Vehicle.Kind != "none"
}

func (s *Situation) kind(kinds ...string) bool {
	return slices.Contains(kinds, s.Case.Vehicle.Kind)
}

func (s *Situation) electric() bool { return s.Case.Vehicle.Electric() }

// small reports vehicles whose makers want the battery charged on a bench.
func (s *Situation) small() bool { return s.kind("motorcycle", "offroad") }

func (s *Situation) symptom(symptoms ...string) bool {
	return slices.ContainsFunc(s.Case.Symptoms, func(have string) bool { return slices.Contains(symptoms, have) })
}

func (s *Situation) opens() bool { return s.Case.Label.Opens() }

func (s *Situation) judged() bool { return s.Case.Label.Chemistry.Judged() }

func (s *Situation) side() bool { return s.Mounting.Posts == SidePosts }

func (s *Situation) joined(how ...string) bool { return slices.Contains(how, s.Mounting.Joined) }

// remote reports a battery away from the bonnet, with posts to feed it in front.
func (s *Situation) remote() bool {
	return slices.Contains([]string{Boot, UnderSeat, WheelArch}, s.Mounting.Where)
}

func (s *Situation) positiveEarth() bool { return s.Case.Vehicle.Earth == "positive" }

func (s *Situation) startStop() bool {
	return s.Case.Vehicle.StartsAndStops()
}

// starter reports a school that uses the vehicle's own starter as the load.
func (s *Situation) starter() bool {
	found, _ := school.Find(s.Case.School)
	return found.Starter
}

// cranks reports a vehicle whose battery turns an engine, which charges it as it
// runs.
func (s *Situation) cranks() bool { return s.vehicle() && !s.electric() }

// measured reports a reading of one of these kinds.
func (s *Situation) measured(kinds ...reading.Kind) bool {
	return slices.ContainsFunc(s.Case.Readings, func(r evidence.Taken) bool { return slices.Contains(kinds, r.Kind) })
}

// told reports a history reading with one of these fields.
func (s *Situation) told(fields ...reading.Number) bool {
	for i := range s.Case.Readings {
		r := &s.Case.Readings[i].Reading
		if r.Kind != reading.History {
			continue
		}
		if slices.ContainsFunc(fields, r.Has) {
			return true
		}
	}
	return false
}

// charged reports a full charge behind the readings.
func (s *Situation) charged() bool {
	return slices.ContainsFunc(s.Case.Readings, func(r evidence.Taken) bool { return r.AfterCharge })
}

func (s *Situation) action(actions ...diagnosis.Action) bool {
	return slices.Contains(actions, s.Assessment.Verdict.Action)
}

// stopped reports that a stop rule holds.
func (s *Situation) stopped() bool { return len(s.Safety.Stops) > 0 }
