package shop

import (
	"context"
	"strings"
	"time"

	"grapnel/app/record"
	"grapnel/core/evidence"
	"grapnel/core/problem"
	"grapnel/core/safety"
	"grapnel/core/trail"
)

// answers are what was said to the steps.
type answers struct{ *house }

// Answer writes down what a person said to a step. A point of the closing list
// that was not done needs a reason; the customer's choice is one of the options; what a
// stop rule forbids is not done before the rule is lifted.
func (s answers) Answer(ctx context.Context, who Person, jobID ID, in record.StepAnswer) error {
	in.Note = strings.TrimSpace(in.Note)
	if err := checkAnswer(in).Err(); err != nil {
		return err
	}
	body := map[string]any{"battery_id": in.BatteryID, "code": in.Code, "value": in.Value, "note": in.Note}
	c := command{who: who, jobID: jobID, kind: "answered", key: &keyed{id: in.ID, kind: "answered", subject: &jobID, body: body}}
	return s.run(ctx, c, func(tx Tx, j *record.Job) (done, error) {
		b, err := batteryOf(ctx, tx, who, jobID, in.BatteryID)
		if err != nil {
			return done{}, err
		}
		m, err := s.moment(ctx, tx, who.ShopID)
		if err != nil {
			return done{}, err
		}
		said := in
		said.JobID, said.BatteryID, said.VehicleID, said.PersonID = &j.ID, b.ID, j.VehicleID, who.ID
		at, problems := evidence.TakenAt("", in.At, m.Now, m.Zone)
		if len(problems) > 0 {
			return done{}, problem.List{problems[0].Named("at")}
		}
		said.At = at
		if work := trail.WorkOf(in.Code); in.Value == trail.Done && work != safety.None {
			_, c, err := s.seeBattery(ctx, tx, who.ShopID, *j, b.ID)
			if err != nil {
				return done{}, err
			}
			if err := record.Permitted(c.Case, safety.Act{Work: work, At: doneAt(in.At, at)}, "value"); err != nil {
				return done{}, err
			}
		}
		if err := s.contradicted(ctx, tx, who, *j, said); err != nil {
			return done{}, err
		}
		return done{body: said}, tx.AddAnswer(ctx, who.ShopID, said)
	})
}

// contradicted refuses an answer that what was measured says the opposite of.
func (s answers) contradicted(ctx context.Context, tx Tx, who Person, j record.Job, said record.StepAnswer) error {
	if !trail.Measures(said.Code) {
		return nil
	}
	now, of, err := s.seeBattery(ctx, tx, who.ShopID, j, said.BatteryID)
	if err != nil {
		return err
	}
	a, err := s.assess(ctx, of.Case)
	if err != nil {
		return err
	}
	if trail.Refuses(of.Situation(j, now.Vehicle, a, nil), said.Code, said.Value) {
		return problem.List{problem.New("problem.code", "value", said.Value, "a joint is still beyond its limit: measure it again, or say why it is left")}
	}
	return nil
}

// doneAt is when a step was done: as the device says; the zero time, for now, where it
// says nothing.
func doneAt(said, at time.Time) time.Time {
	if said.IsZero() {
		return time.Time{}
	}
	return at
}

func checkAnswer(in record.StepAnswer) problem.List {
	var found problem.List
	if !trail.HasStep(in.Code) {
		found = append(found, problem.New("problem.code", "code", in.Code, problem.OneOf(trail.StepCodes())))
	}
	found.CheckCode("value", in.Value, []string{trail.Done, trail.NotDone, trail.NotNeeded}, true)
	least := 0
	if in.Value == trail.NotDone && trail.Must(in.Code) {
		least = 1
	}
	found.CheckText("note", in.Note, least, maxReason)
	if in.Code == "choice" && in.Value == trail.Done {
		found.CheckCode("note", in.Note, trail.OptionCodes(), false)
	}
	return found
}
