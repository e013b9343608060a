package shop

import (
	"context"
	"errors"
	"slices"
	"time"

	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/problem"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/trail"
	"grapnel/core/wording"
)

// How a clock ended.
const (
	ClockAnswered = "answered"
	ClockStopped  = "stopped"
)

// Clock is a wait that is being counted.
type Clock struct {
	ID        ID               `json:"id"`
	JobID     ID               `json:"job_id"`
	BatteryID ID               `json:"battery_id"`
	Kind      string           `json:"kind"`
	Seconds   quantity.Seconds `json:"seconds"`
	StartedAt time.Time        `json:"started_at"`
	StartedBy ID               `json:"-"`
	EndedAt   *time.Time       `json:"-"`
	Outcome   string           `json:"-"`
}

// RunningClock is a clock as every screen of the shop shows it.
type RunningClock struct {
	Clock
	EndsAt time.Time `json:"ends_at"`
	// Plate and Place say whose wait it is.
	Plate string    `json:"plate"`
	Place string    `json:"place"`
	By    string    `json:"by"`
	Text  Statement `json:"text"`
	Rings Statement `json:"rings"`
	// Says is what the wait so far adds to the reading that follows it.
	Says string `json:"says"`
	// Early tells that a reading now would be taken before its time.
	Early bool `json:"early"`
}

// Clocks is every clock of the shop that runs or rings, and the server's time to
// count by.
type Clocks struct {
	Now    time.Time      `json:"now"`
	Clocks []RunningClock `json:"clocks"`
}

// Statement is a sentence of the core.
type Statement = wording.Statement

// Clocks lists what runs or rings in the shop.
func (s *Service) Clocks(ctx context.Context, who Person) (Clocks, error) {
	list, err := s.store.RunningClocks(ctx, who.ShopID)
	out := Clocks{Now: s.stamp(), Clocks: []RunningClock{}}
	for _, c := range list {
		if !trail.Faded(c.Kind, c.Seconds, quantity.Seconds(out.Now.Sub(c.StartedAt).Seconds())) {
			out.Clocks = append(out.Clocks, c.shown(out.Now))
		}
	}
	return out, err
}

// shown fills in what follows from the clock and the time.
func (c RunningClock) shown(now time.Time) RunningClock {
	ran := quantity.Seconds(now.Sub(c.StartedAt).Seconds())
	c.EndsAt = c.StartedAt.Add(c.Seconds.Duration())
	c.Says, c.Early = trail.Saying(c.Kind, ran), ran < c.Seconds
	c.Text, c.Rings = trail.ClockWords(c.Kind, c.Seconds)
	return c
}

// StartClock sets a clock going. Its ID is made by the client: the same one twice
// starts once. One of the same kind that runs on the battery is ended first.
func (s *Service) StartClock(ctx context.Context, who Person, jobID ID, in Clock) error {
	if in.ID.IsZero() {
		return problem.List{problem.New("problem.missing", "id", "", "a UUID")}
	}
	return s.note(ctx, who, jobID, "clock_started", in, func(tx Store, j *Job) error {
		if _, err := tx.Clock(ctx, who.ShopID, in.ID); !errors.Is(err, ErrNotFound) {
			return errors.Join(err, errNothingToDo(err == nil))
		}
		b, err := batteryOf(ctx, tx, who, jobID, in.BatteryID)
		if err != nil {
			return err
		}
		sit, err := s.situation(ctx, tx, who, *j, b.ID)
		if err != nil {
			return err
		}
		in.BatteryID = b.ID
		return s.start(ctx, tx, who, sit, j, in)
	})
}

// situation is what a clock needs to know of a battery's case.
func (s *Service) situation(ctx context.Context, tx Store, who Person, j Job, batteryID ID) (*trail.Situation, error) {
	r, err := recordsOf(ctx, tx, who.ShopID, j)
	if err != nil {
		return nil, err
	}
	c, err := r.caseOf(batteryID)
	if err != nil {
		return nil, err
	}
	return situationOf(j, r.Vehicle, c, diagnosis.Assessment{}, nil), nil
}

func (s *Service) start(ctx context.Context, tx Store, who Person, sit *trail.Situation, j *Job, in Clock) error {
	set, ok := trail.ClockOf(sit, in.Kind)
	if !ok {
		return problem.List{problem.New("problem.code", "kind", in.Kind, problem.OneOf(trail.Clocks()))}
	}
	now := s.stamp()
	if in.StartedAt.IsZero() || in.StartedAt.After(now) || now.Sub(in.StartedAt) > mostClock {
		in.StartedAt = now
	}
	in.StartedAt = in.StartedAt.UTC().Truncate(time.Microsecond)
	in.JobID, in.Seconds, in.StartedBy = j.ID, set.Seconds, who.ID
	running, err := tx.ClocksOfJob(ctx, who.ShopID, j.ID)
	if err != nil {
		return err
	}
	for _, c := range running {
		if c.EndedAt == nil && c.BatteryID == in.BatteryID && c.Kind == in.Kind {
			if err := tx.EndClock(ctx, who.ShopID, c.ID, now, ClockStopped); err != nil {
				return err
			}
		}
	}
	return tx.AddClock(ctx, who.ShopID, in)
}

// mostClock is how far back a device may say that a clock was started.
const mostClock = 24 * time.Hour

// StopClock ends a clock by hand. The lamps' clock is followed by the wait after
// them. A clock that has ended already stays as it is.
func (s *Service) StopClock(ctx context.Context, who Person, clockID ID) error {
	c, err := s.store.Clock(ctx, who.ShopID, clockID)
	if err != nil || c.EndedAt != nil {
		return err
	}
	return s.note(ctx, who, c.JobID, "clock_stopped", c, func(tx Store, j *Job) error {
		now := s.stamp()
		if err := tx.EndClock(ctx, who.ShopID, c.ID, now, ClockStopped); err != nil {
			return err
		}
		then, follows := trail.Follows(c.Kind)
		if !follows || now.Sub(c.StartedAt) < c.Seconds.Duration() {
			return nil
		}
		sit, err := s.situation(ctx, tx, who, *j, c.BatteryID)
		if err != nil {
			return err
		}
		return s.start(ctx, tx, who, sit, j, Clock{ID: partID(c.ID, 1), BatteryID: c.BatteryID, Kind: then})
	})
}

// stopClocks ends every clock of a job.
func (s *Service) stopClocks(ctx context.Context, tx Store, who Person, j *Job) error {
	list, err := tx.ClocksOfJob(ctx, who.ShopID, j.ID)
	for _, c := range list {
		if c.EndedAt == nil {
			err = errors.Join(err, tx.EndClock(ctx, who.ShopID, c.ID, s.stamp(), ClockStopped))
		}
	}
	return err
}

// clocksAfter ends the clocks that a kept reading answers and starts the one it
// sets going, from when it was taken.
func (s *Service) clocksAfter(ctx context.Context, tx Store, who Person, r CaseRecords, in Keep, kind reading.Kind) error {
	running, err := tx.ClocksOfJob(ctx, who.ShopID, r.Job.ID)
	if err != nil {
		return err
	}
	for _, c := range running {
		if c.EndedAt != nil || c.BatteryID != in.BatteryID || !trail.AnswersClock(c.Kind, kind) {
			continue
		}
		if err := tx.EndClock(ctx, who.ShopID, c.ID, s.stamp(), ClockAnswered); err != nil {
			return err
		}
	}
	c, err := r.caseOf(in.BatteryID)
	if err != nil {
		return err
	}
	at := slices.IndexFunc(c.readings, func(v ReadingView) bool { return v.ID == in.ID })
	if at < 0 {
		return nil
	}
	i := c.readings[at].Index
	sit := situationOf(r.Job, r.Vehicle, c, diagnosis.Assessment{}, nil)
	sets, starts := trail.StartedBy(sit, c.Readings[i], evidence.Examine(c.Case).Findings[i])
	if !starts {
		return nil
	}
	return s.start(ctx, tx, who, sit, &r.Job, Clock{ID: partID(in.ID, clockPart), BatteryID: in.BatteryID, Kind: sets, StartedAt: in.TakenAt})
}

// clockPart numbers the clock a reading starts behind any number of readings of
// one line.
const clockPart = 1000
