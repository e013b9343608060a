package web

import (
	"context"
	"fmt"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/core/battery"
	"grapnel/core/jump"
	"grapnel/core/problem"
	"grapnel/core/procedure"
	"grapnel/core/quantity"
	"grapnel/core/wording"
)

// JobBatteryPath names a battery of a job in an address.
type JobBatteryPath struct {
	JobPath
	BatteryPath
}

// AttemptPath names an attempt of a job in an address.
type AttemptPath struct {
	JobPath
	AttemptID record.ID `path:"attempt"`
}

type beginInput struct {
	AttemptPath
	Body struct {
		BatteryID record.ID         `json:"battery_id" format:"uuid"`
		Name      string            `json:"name" maxLength:"32"`
		Setting   procedure.Sitting `json:"setting"`
		School    string            `json:"school" maxLength:"16"`
		People    int               `json:"people"`
		Minutes   *float64          `json:"minutes,omitempty" doc:"How long a donor feeds, as it was worked out"`
	}
}

type stepInput struct {
	AttemptPath
	EventID record.ID `path:"event"`
	Body    struct {
		Step int       `json:"step" doc:"From 0"`
		Did  string    `json:"did" maxLength:"16" doc:"done, back, left, taken_up, finished"`
		Note string    `json:"note,omitempty" maxLength:"2000"`
		At   time.Time `json:"at,omitempty"`
	}
}

// JumpDonor is what a vehicle is jumped with, as a form says it.
type JumpDonor struct {
	Kind     string   `json:"kind" enum:"vehicle,pack,charger"`
	Percent  *float64 `json:"percent,omitempty"`
	Celsius  *float64 `json:"battery_c,omitempty"`
	NominalV *float64 `json:"nominal_v,omitempty"`
	Amps     *float64 `json:"amps,omitempty"`
	Ah       *float64 `json:"capacity_ah,omitempty"`
	Running  bool     `json:"running,omitempty"`
	Hybrid   bool     `json:"hybrid,omitempty"`
}

type jumpInput struct {
	JobBatteryPath
	Body struct {
		With    JumpDonor `json:"with"`
		Square  *float64  `json:"mm2,omitempty"`
		Metres  *float64  `json:"metres,omitempty"`
		Engine  *float64  `json:"engine_c,omitempty"`
		Joints  float64   `json:"joints_mohm,omitempty"`
		Minutes float64   `json:"feed_minutes,omitempty"`
		School  string    `json:"school,omitempty" enum:"body,post"`
		People  int       `json:"people,omitempty"`
	}
}

const milliohm = 1e-3

// problems are the figures that are out of range, each by its name in words.
func (in *jumpInput) problems() error {
	b := in.Body
	var found problem.List
	for _, f := range []struct {
		name      string
		is        *float64
		low, high float64
		unit      string
	}{
		{"jump_percent", b.With.Percent, 0, 100, "%"}, {"jump_celsius", b.With.Celsius, -60, 80, "°C"}, {"jump_nominal", b.With.NominalV, 2, 48, "V"},
		{"jump_amps", b.With.Amps, 1, 10000, "A"}, {"jump_ah", b.With.Ah, 1, 400, "Ah"}, {"jump_square", b.Square, 0.5, 200, "mm²"},
		{"jump_metres", b.Metres, 0.1, 20, "m"}, {"jump_engine", b.Engine, -60, 80, "°C"}, {"jump_joints", &b.Joints, 0, 500, "mΩ"},
		{"jump_minutes", &b.Minutes, 0, 240, "min"},
	} {
		if f.is != nil && (*f.is < f.low || *f.is > f.high) {
			found = append(found, problem.New("problem.range", wording.Word(f.name), fmt.Sprint(*f.is), problem.Range(f.low, f.high, f.unit)))
		}
	}
	return found.Err()
}

// ask puts what a form says into the question.
func (in *jumpInput) ask(a jump.Ask) jump.Ask {
	b := in.Body
	a.With = jump.With{Kind: b.With.Kind, NominalV: b.With.NominalV, Amps: b.With.Amps, Running: b.With.Running, Hybrid: b.With.Hybrid}
	if b.With.Percent != nil {
		a.With.Charge = &battery.Charge{Percent: *b.With.Percent, Low: *b.With.Percent, High: *b.With.Percent}
	}
	a.With.Celsius, a.Engine = celsius(b.With.Celsius), celsius(b.Engine)
	if b.With.Ah != nil {
		ah := quantity.AmpereHours(*b.With.Ah)
		nominal := a.Dead.Label.NominalV
		a.With.Label = &battery.Label{Chemistry: battery.Flooded, NominalV: nominal, CapacityAh: &ah}
	}
	a.Cables = jump.Cables{Area: b.Square, Metres: b.Metres}
	a.Joints, a.Feed = quantity.Ohms(b.Joints*milliohm), b.Minutes
	if b.School != "" {
		a.School = b.School
	}
	a.People = max(1, b.People)
	return a
}

func celsius(x *float64) *quantity.Celsius {
	if x == nil {
		return nil
	}
	c := quantity.Celsius(*x)
	return &c
}

// attemptsAPI serves the orders of work and what is done in them.
func (s *Server) attemptsAPI(api huma.API) {
	get(s, api, "/jobs/{job}/batteries/{battery}/procedures", "procedures", "The orders of work that make sense on a battery as it sits",
		func(ctx context.Context, in *JobBatteryPath) ([]procedure.Offered, error) {
			return s.shop.Procedures(ctx, who(ctx), in.JobID, in.BatteryID)
		})
	post(s, api, "/jobs/{job}/batteries/{battery}/jump", "workOutJump", "Will it crank, before anything is clamped; nothing is written",
		func(ctx context.Context, in *jumpInput) (shop.JumpSum, error) {
			if err := in.problems(); err != nil {
				return shop.JumpSum{}, err
			}
			return s.shop.Jump(ctx, who(ctx), in.JobID, in.BatteryID, in.ask)
		})
	get(s, api, "/jobs/{job}/attempts", "attempts", "The orders of work that were begun on a job, the latest first",
		func(ctx context.Context, in *JobPath) ([]shop.Attempted, error) {
			return s.shop.Attempts(ctx, who(ctx), in.JobID)
		})
	get(s, api, "/jobs/{job}/attempts/{attempt}", "attempt", "One attempt with its order drawn step by step, and what was done",
		func(ctx context.Context, in *AttemptPath) (shop.AttemptPage, error) {
			return s.shop.Attempt(ctx, who(ctx), in.JobID, in.AttemptID)
		})
	put(s, api, "/jobs/{job}/attempts/{attempt}", "beginAttempt", "Begin an order of work; its ID is the idempotency key",
		func(ctx context.Context, in *beginInput) (shop.AttemptPage, error) {
			b := in.Body
			a := record.Attempt{
				ID: in.AttemptID, JobID: in.JobID, BatteryID: b.BatteryID, Name: b.Name, Setting: b.Setting, School: b.School, People: b.People, Minutes: b.Minutes,
			}
			if err := s.shop.Begin(ctx, who(ctx), a); err != nil {
				return shop.AttemptPage{}, err
			}
			return s.shop.Attempt(ctx, who(ctx), in.JobID, in.AttemptID)
		})
	put(s, api, "/jobs/{job}/attempts/{attempt}/events/{event}", "stepAttempt", "Write down what was done at a step; the ID is the idempotency key",
		func(ctx context.Context, in *stepInput) (shop.AttemptPage, error) {
			b := in.Body
			e := record.AttemptEvent{ID: in.EventID, AttemptID: in.AttemptID, Step: b.Step, Did: b.Did, Note: b.Note, At: b.At}
			if err := s.shop.StepAttempt(ctx, who(ctx), in.JobID, e); err != nil {
				return shop.AttemptPage{}, err
			}
			return s.shop.Attempt(ctx, who(ctx), in.JobID, in.AttemptID)
		})
}
