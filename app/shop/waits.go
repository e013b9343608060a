package shop

import (
	"context"
	"slices"
	"time"

	"grapnel/app/record"
	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/problem"
	"grapnel/core/quantity"
	"grapnel/core/safety"
	"grapnel/core/trail"
)

// waits are counted by clocks.
type waits struct{ *house }

// RunningClock is a clock as every screen of the shop shows it.
type RunningClock struct {
	record.Clock
	EndsAt time.Time `json:"ends_at"`
	// Plate and Place say whose wait it is.
	Plate string           `json:"plate"`
	Place string           `json:"place"`
	By    string           `json:"by"`
	Text  record.Statement `json:"text"`
	Rings record.Statement `json:"rings"`
	// Says is what the wait so far adds to the reading that follows it.
	Says string `json:"says"`
	// Begins is the line of that reading, with a gap for its figure; empty for none.
	Begins string `json:"begins"`
	// Early tells that a reading now would be taken before its time.
	Early bool `json:"early"`
}

// Clocks is every clock of the shop that runs or rings, and the server's time to
// count by.
type Clocks struct {
	Now    time.Time      `json:"now"`
	Clocks []RunningClock `json:"clocks"`
}

// Clocks lists what runs or rings in the shop, the oldest first. A clock that has
// nothing left to say ends.
func (s waits) Clocks(ctx context.Context, who Person) (Clocks, error) {
	list, err := s.store.RunningClocks(ctx, who.ShopID)
	out := Clocks{Now: s.stamp(), Clocks: []RunningClock{}}
	for _, c := range list {
		if c.StartedAt.After(out.Now.Add(mostClock)) {
			// No wait is as long as that: a clock that was ahead set it going. It begins anew.
			c.StartedAt = out.Now
			if e := s.store.RestartClock(ctx, who.ShopID, c.ID, out.Now); e != nil && err == nil {
				err = e
			}
		}
		c.StartedAt = record.NotAhead(c.StartedAt, out.Now)
		if faded(c.Clock, out.Now) {
			// Nobody waits for it: the clock is silent already, and ending it again does
			// nothing.
			if e := s.store.EndClock(ctx, who.ShopID, c.ID, out.Now, record.ClockFaded); e != nil && err == nil {
				err = e
			}
			continue
		}
		out.Clocks = append(out.Clocks, c.shown(out.Now))
	}
	slices.Reverse(out.Clocks)
	return out, err
}

// faded reports a clock that has nothing left to say.
func faded(c record.Clock, now time.Time) bool {
	return trail.Faded(c.Kind, c.Seconds, quantity.Seconds(now.Sub(c.StartedAt).Seconds()))
}

// shown fills in what follows from the clock and the time.
func (c RunningClock) shown(now time.Time) RunningClock {
	ran := quantity.Seconds(now.Sub(c.StartedAt).Seconds())
	c.EndsAt = c.StartedAt.Add(c.Seconds.Duration())
	c.Says, c.Early = trail.Saying(c.Kind, ran), ran < c.Seconds
	c.Begins = trail.Begins(c.Kind, c.Says)
	c.Text, c.Rings = trail.ClockWords(c.Kind, c.Seconds)
	return c
}

// clockDone is what a command did to a clock.
type clockDone struct {
	ID        ID               `json:"id"`
	BatteryID ID               `json:"battery_id"`
	Kind      string           `json:"kind"`
	Outcome   string           `json:"outcome,omitempty"`
	Seconds   quantity.Seconds `json:"seconds,omitempty"`
	StartedAt time.Time        `json:"started_at"`
}

func doneTo(c record.Clock, outcome string) clockDone {
	return clockDone{c.ID, c.BatteryID, c.Kind, outcome, c.Seconds, c.StartedAt}
}

// StartClock sets a clock going. Its ID is made by the client: the same one twice
// starts once. One of the same kind that runs on the battery is ended first. A clock that
// counts work which a stop rule forbids is refused.
func (s waits) StartClock(ctx context.Context, who Person, jobID ID, in record.Clock) error {
	body := map[string]any{"battery_id": in.BatteryID, "kind": in.Kind}
	c := command{who: who, jobID: jobID, kind: "clock_started", key: &keyed{id: in.ID, kind: "clock_started", subject: &jobID, body: body}}
	return s.run(ctx, c, func(tx Tx, j *record.Job) (done, error) {
		now, of, err := s.seeBattery(ctx, tx, who.ShopID, *j, in.BatteryID)
		if err != nil {
			return done{}, err
		}
		begun := in
		begun.BatteryID = of.Battery.ID
		clocks, err := s.start(ctx, tx, who, now, now.situation(of), begun)
		return done{body: map[string]any{"clocks": clocks}}, err
	})
}

// situation is what a clock needs to know of a battery's case.
func (s scene) situation(of record.BatteryCase) *trail.Situation {
	return of.Situation(s.Job, s.Vehicle, diagnosis.Assessment{}, nil)
}

// start sets a clock going and tells what it did: it, and those it took the place of.
func (h *house) start(ctx context.Context, tx Tx, who Person, now scene, sit *trail.Situation, in record.Clock) ([]clockDone, error) {
	set, ok := trail.ClockOf(sit, in.Kind)
	if !ok {
		return nil, problem.List{problem.New("problem.code", "kind", in.Kind, problem.OneOf(trail.Clocks()))}
	}
	at, problems := evidence.TakenAt("", in.StartedAt, now.Now, now.Zone)
	if len(problems) > 0 {
		return nil, problem.List{problems[0].Named("started_at")}
	}
	in.StartedAt = at
	if now.Now.Sub(in.StartedAt) > mostClock {
		in.StartedAt = now.Now
	}
	if d := safety.Permits(sit.Safety, safety.Act{Work: trail.ClockWork(in.Kind), At: in.StartedAt}); !d.Allowed {
		return nil, record.Refused("kind", d)
	}
	in.JobID, in.VehicleID, in.Seconds, in.StartedBy = &now.Job.ID, now.Job.VehicleID, set.Seconds, who.ID
	alike := func(c record.Clock) bool { return c.BatteryID == in.BatteryID && c.Kind == in.Kind }
	did, err := endClocks(ctx, tx, who.ShopID, now.Job.ID, now.Now, record.ClockStopped, alike)
	if err != nil {
		return nil, err
	}
	return append(did, doneTo(in, "")), tx.AddClock(ctx, who.ShopID, in)
}

// mostClock is how far back a device may say that a clock was started.
const mostClock = 24 * time.Hour

// StopClock ends a clock by hand. The lamps' clock is followed by the wait after
// them. A clock that has ended already stays as it is.
func (s waits) StopClock(ctx context.Context, who Person, clockID ID) error {
	c, err := s.store.Clock(ctx, who.ShopID, clockID)
	if err != nil || c.EndedAt != nil {
		return err
	}
	if c.JobID == nil {
		return s.write(ctx, func(tx Tx) error {
			if err := tx.EndClock(ctx, who.ShopID, c.ID, s.stamp(), record.ClockStopped); err != nil {
				return err
			}
			return s.tell(ctx, tx, who, nil, "clock_stopped", []clockDone{doneTo(c, record.ClockStopped)})
		})
	}
	return s.run(ctx, command{who: who, jobID: *c.JobID, kind: "clock_stopped", said: clockID}, func(tx Tx, j *record.Job) (done, error) {
		held, err := tx.Clock(ctx, who.ShopID, clockID)
		if err != nil || held.EndedAt != nil {
			return done{}, nothingOr(err)
		}
		at := s.stamp()
		if err := tx.EndClock(ctx, who.ShopID, c.ID, at, record.ClockStopped); err != nil {
			return done{}, err
		}
		did := []clockDone{doneTo(c, record.ClockStopped)}
		then, follows := trail.Follows(c.Kind)
		if !follows || at.Sub(c.StartedAt) < c.Seconds.Duration() {
			return done{body: map[string]any{"clocks": did}}, nil
		}
		now, of, err := s.seeBattery(ctx, tx, who.ShopID, *j, c.BatteryID)
		if err != nil {
			return done{}, err
		}
		next := record.Clock{ID: c.ID.Part(1), BatteryID: c.BatteryID, Kind: then}
		more, err := s.start(ctx, tx, who, now, now.situation(of), next)
		return done{body: map[string]any{"clocks": append(did, more...)}}, err
	})
}

func nothingOr(err error) error {
	if err == nil {
		return errNothing
	}
	return err
}

// endClocks ends those clocks of a job that are meant, and tells which.
func endClocks(
	ctx context.Context, tx ClockStore, shopID, jobID ID, at time.Time, outcome string, meant func(record.Clock) bool,
) ([]clockDone, error) {
	running, err := tx.RunningOfJob(ctx, shopID, jobID)
	if err != nil {
		return nil, err
	}
	did := []clockDone{}
	for _, c := range running {
		if !meant(c) {
			continue
		}
		did = append(did, doneTo(c, outcome))
		if err := tx.EndClock(ctx, shopID, c.ID, at, outcome); err != nil {
			return nil, err
		}
	}
	return did, nil
}

// clocksAfter ends the clocks that kept readings answer and starts those they set
// going, from when each was taken.
func (h *house) clocksAfter(ctx context.Context, tx Tx, who Person, now scene, rows []record.Reading) ([]clockDone, error) {
	answered := func(c record.Clock) bool {
		return slices.ContainsFunc(rows, func(row record.Reading) bool {
			return same(row.BatteryID, &c.BatteryID) && trail.AnswersClock(c.Kind, row.Reading.Kind)
		})
	}
	did, err := endClocks(ctx, tx, who.ShopID, now.Job.ID, now.Now, record.ClockAnswered, answered)
	if err != nil {
		return nil, err
	}
	if len(rows) == 0 {
		return did, nil
	}
	c, err := now.of(*rows[0].BatteryID)
	if err != nil {
		return nil, err
	}
	sit := now.situation(c)
	findings := evidence.Examine(c.Case).Findings
	for _, row := range rows {
		i := slices.IndexFunc(c.Case.Readings, func(t evidence.Taken) bool { return t.ID == row.ID.Ref() })
		if i < 0 {
			continue
		}
		kind, starts := trail.StartedBy(sit, c.Case.Readings[i].Reading, findings[i])
		if !starts || !safety.Permits(sit.Safety, safety.Act{Work: trail.ClockWork(kind)}).Allowed {
			continue
		}
		begun := record.Clock{ID: row.ID.Part(clockPart), BatteryID: *row.BatteryID, Kind: kind, StartedAt: row.TakenAt}
		more, err := h.start(ctx, tx, who, now, sit, begun)
		if err != nil {
			return nil, err
		}
		did = append(did, more...)
	}
	return did, nil
}

// clockPart numbers the clock a reading starts behind any number of readings of
// one line.
const clockPart = 1000
