package shop

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"strings"
	"time"

	"grapnel/app/record"
	"grapnel/core/battery"
	"grapnel/core/charging"
	"grapnel/core/drawing"
	"grapnel/core/evidence"
	"grapnel/core/jump"
	"grapnel/core/problem"
	"grapnel/core/procedure"
	"grapnel/core/quantity"
	"grapnel/core/safety"
	"grapnel/core/school"
	"grapnel/core/trail"
	"grapnel/core/wording"
)

// attempts are the orders of work that are begun on the batteries of jobs.
type attempts struct {
	*house
	jump jump.Planner
}

// Procedures lists the orders of work that make sense on a battery of a job.
func (s attempts) Procedures(ctx context.Context, who Person, jobID, batteryID ID) ([]procedure.Offered, error) {
	now, err := s.seeJob(ctx, who, jobID)
	if err != nil {
		return nil, err
	}
	of, err := now.of(batteryID)
	if err != nil {
		return nil, err
	}
	state := safety.StateOf(evidence.Examine(of.Case))
	list := procedure.Offer(sits(now, of))
	for i := range list {
		o := &list[i]
		for _, r := range safety.Permits(state, safety.Act{Work: procedure.WorkOfOrder(o.Name)}).Refusals {
			o.Stopped, o.Why = true, r.Reason.Text
		}
		if forLead(o.Name, of.Case.Label) {
			o.Stopped, o.Why = true, school.Lithium.Say().Text
		}
	}
	return list, nil
}

// forLead reports whether an order is one for lead batteries that a lithium battery is not
// put through: its maker's instructions alone hold for charging, jumping and testing it.
func forLead(name string, label battery.Label) bool {
	return label.Chemistry == battery.LiFePO4 && procedure.WorkOfOrder(name) != safety.None
}

// sits is how a battery of a job sits.
func sits(now scene, of record.BatteryCase) procedure.Sitting {
	return procedure.Sits(of.Case.Vehicle, of.Case.Label, mountingOf(now, of))
}

// Begin begins an order of work. One that a stop rule forbids is not begun, and none is that
// the checker objects to.
func (s attempts) Begin(ctx context.Context, who Person, in record.Attempt) error {
	if err := checkAttempt(in).Err(); err != nil {
		return err
	}
	body := map[string]any{"battery_id": in.BatteryID, "name": in.Name, "setting": in.Setting, "school": in.School, "people": in.People, "minutes": in.Minutes}
	c := command{who: who, jobID: in.JobID, kind: "attempt_begun", key: &keyed{id: in.ID, kind: "attempt_begun", subject: &in.JobID, body: body}}
	return s.run(ctx, c, func(tx Tx, j *record.Job) (done, error) {
		_, of, err := s.seeBattery(ctx, tx, who.ShopID, *j, in.BatteryID)
		if err != nil {
			return done{}, err
		}
		if err := record.Permitted(of.Case, safety.Act{Work: procedure.WorkOfOrder(in.Name)}, "name"); err != nil {
			return done{}, err
		}
		if forLead(in.Name, of.Case.Label) {
			return done{}, problem.List{problem.New("problem.refused", "name", wording.Word("procedure_"+in.Name), school.Lithium.Say().Text)}
		}
		w, err := procedure.Show(in.Ask())
		if err != nil {
			return done{}, err
		}
		m, err := s.moment(ctx, tx, who.ShopID)
		if err != nil {
			return done{}, err
		}
		begun := in
		begun.BatteryID, begun.PersonID, begun.BegunAt, begun.Order = of.Battery.ID, who.ID, m.Now, markOf(w)
		return done{body: begun}, tx.AddAttempt(ctx, who.ShopID, begun)
	})
}

func checkAttempt(in record.Attempt) problem.List {
	var found problem.List
	found.CheckCode("name", in.Name, procedure.Names(), false)
	if len(found) == 0 && !in.Ask().Valid() {
		found = append(found, problem.New("problem.code", "setting", in.Setting.String(), "one that is listed, with one of its schools and people"))
	}
	if in.Minutes != nil && (*in.Minutes < 1 || *in.Minutes > mostFeeding) {
		found = append(found, problem.New("problem.range", "minutes", fmt.Sprint(*in.Minutes), problem.Range(1, mostFeeding, "min")))
	}
	return found
}

// mostFeeding is the longest that a donor feeds, minutes: plausibility only.
const mostFeeding = 240

// StepAttempt writes down what was done at a step. Nothing that a stop rule forbids is done;
// taking off always may be.
func (s attempts) StepAttempt(ctx context.Context, who Person, jobID ID, in record.AttemptEvent) error {
	in.Note = strings.TrimSpace(in.Note)
	var found problem.List
	found.CheckCode("did", in.Did, procedure.Deeds(), false)
	found.CheckText("note", in.Note, 0, maxReason)
	if err := found.Err(); err != nil {
		return err
	}
	body := map[string]any{"attempt": in.AttemptID, "step": in.Step, "did": in.Did, "note": in.Note}
	c := command{who: who, jobID: jobID, kind: "attempt_step", key: &keyed{id: in.ID, kind: "attempt_step", subject: &in.AttemptID, body: body}}
	return s.run(ctx, c, func(tx Tx, j *record.Job) (done, error) {
		a, err := attemptOn(ctx, tx, who, jobID, in.AttemptID)
		if err != nil {
			return done{}, err
		}
		w, err := procedure.Show(a.Ask())
		if err != nil {
			return done{}, err
		}
		if in.Step < 0 || in.Step > len(w.Steps) {
			return done{}, problem.List{problem.New("problem.range", "step", fmt.Sprint(in.Step), problem.Range(0, float64(len(w.Steps)), ""))}
		}
		m, err := s.moment(ctx, tx, who.ShopID)
		if err != nil {
			return done{}, err
		}
		at, problems := evidence.TakenAt("", in.At, m.Now, m.Zone)
		if len(problems) > 0 {
			return done{}, problem.List{problems[0].Named("at")}
		}
		if in.Did == procedure.StepDone && rewritten(a, w) {
			return done{}, problem.List{problem.New("problem.refused", "step", wording.Word("procedure_"+a.Name), wording.Text("procedure_rewritten", nil))}
		}
		if in.Did == procedure.StepDone && in.Step < len(w.Steps) {
			if err := s.mayStep(ctx, tx, who, *j, a, w.Steps[in.Step], doneAt(in.At, at)); err != nil {
				return done{}, err
			}
		}
		kept := in
		kept.PersonID, kept.At = who.ID, at
		return done{body: kept}, tx.AddAttemptEvent(ctx, who.ShopID, kept, m.Now)
	})
}

// markOf names an order by what its steps do, not by their words: sixteen hexadecimal digits.
// An attempt that was begun with another mark is not gone on with.
func markOf(w procedure.Written) string {
	var all strings.Builder
	for _, st := range w.Steps {
		fmt.Fprintln(&all, st.Op, st.Lead, st.End, st.Place, st.Source, strings.TrimSuffix(st.Code, "_maker"))
	}
	sum := sha256.Sum256([]byte(all.String()))
	return hex.EncodeToString(sum[:8])
}

// rewritten reports an attempt whose order is written otherwise by now: the step at its place
// may be another.
func rewritten(a record.Attempt, w procedure.Written) bool {
	return a.Order != "" && a.Order != markOf(w)
}

// mayStep refuses a step that a stop rule forbids.
func (s attempts) mayStep(ctx context.Context, tx Tx, who Person, j record.Job, a record.Attempt, st procedure.Step, at time.Time) error {
	work := procedure.WorkOf(a.Name, st)
	if work == safety.None {
		return nil
	}
	_, of, err := s.seeBattery(ctx, tx, who.ShopID, j, a.BatteryID)
	if err != nil {
		return err
	}
	return record.Permitted(of.Case, safety.Act{Work: work, At: at}, "step")
}

// attemptOn is an attempt of a job.
func attemptOn(ctx context.Context, tx AttemptStore, who Person, jobID, id ID) (record.Attempt, error) {
	a, err := tx.Attempt(ctx, who.ShopID, id)
	if err == nil && a.JobID != jobID {
		return a, ErrNotFound
	}
	return a, err
}

// AttemptPage is an attempt with its order, drawn, and what was done in it.
type AttemptPage struct {
	Attempt record.Attempt `json:"attempt"`
	// Title is what it is, Sits how the battery sits, Way the school, in words.
	Title    string                `json:"title"`
	Sits     string                `json:"sits"`
	Way      procedure.WayOf       `json:"way"`
	Other    []procedure.WayOf     `json:"other"`
	Progress procedure.Progress    `json:"progress"`
	Steps    []procedure.Shown     `json:"steps"`
	Events   []record.AttemptEvent `json:"events"`
	// Stopped are the stop rules that forbid going on now, in words.
	Stopped []string `json:"stopped"`
}

// Attempt is one attempt with everything its screen shows.
func (s attempts) Attempt(ctx context.Context, who Person, jobID, id ID) (AttemptPage, error) {
	a, err := attemptOn(ctx, s.store, who, jobID, id)
	if err != nil {
		return AttemptPage{}, err
	}
	ask, err := s.asked(ctx, who, a)
	if err != nil {
		return AttemptPage{}, err
	}
	w, err := procedure.Show(ask)
	if err != nil {
		return AttemptPage{}, err
	}
	events, err := s.store.AttemptEvents(ctx, who.ShopID, id)
	if err != nil {
		return AttemptPage{}, err
	}
	p := AttemptPage{
		Attempt: a, Title: wording.Word("procedure_" + a.Name), Sits: wording.Word("sits_" + a.Setting.Vehicle), Other: []procedure.WayOf{},
		Progress: record.Progress(len(w.Steps), events), Steps: procedure.Steps(a.Setting, w), Events: events, Stopped: []string{},
	}
	procedure.Recall(p.Steps, w, record.Notes(events))
	p.Way, p.Other = procedure.Ways(a.Ask())
	if p.Progress.Open && rewritten(a, w) {
		p.Stopped = append(p.Stopped, wording.Text("procedure_rewritten", nil))
	}
	return p, s.stopped(ctx, who, &p)
}

// asked is the order an attempt was begun with, with what the vehicle's maker says of it.
func (s attempts) asked(ctx context.Context, who Person, a record.Attempt) (procedure.Ask, error) {
	ask := a.Ask()
	j, err := s.store.Job(ctx, who.ShopID, a.JobID)
	if err != nil || j.VehicleID == nil {
		return ask, err
	}
	w, err := s.store.Wants(ctx, who.ShopID, *j.VehicleID)
	ask.Torque = (*quantity.NewtonMetres)(w.TorqueNM)
	return ask, err
}

// stopped says which stop rules forbid an attempt that goes on.
func (s attempts) stopped(ctx context.Context, who Person, p *AttemptPage) error {
	now, err := s.seeJob(ctx, who, p.Attempt.JobID)
	if err != nil {
		return err
	}
	of, err := now.of(p.Attempt.BatteryID)
	if err != nil {
		if errors.Is(err, ErrNotFound) {
			return nil // the battery is off the job by now
		}
		return err
	}
	d := safety.Permits(safety.StateOf(evidence.Examine(of.Case)), safety.Act{Work: procedure.WorkOfOrder(p.Attempt.Name)})
	for _, r := range d.Refusals {
		p.Stopped = append(p.Stopped, r.Reason.Text)
	}
	return nil
}

// Attempted is an attempt in a list.
type Attempted struct {
	record.Attempt
	Title    string             `json:"title"`
	Word     string             `json:"word"`
	Steps    int                `json:"steps"`
	Progress procedure.Progress `json:"progress"`
}

// Attempts lists those of a job, the latest first.
func (s attempts) Attempts(ctx context.Context, who Person, jobID ID) ([]Attempted, error) {
	list, err := s.store.AttemptsOfJob(ctx, who.ShopID, jobID)
	if err != nil {
		return nil, err
	}
	events, err := s.store.AttemptEventsOfJob(ctx, who.ShopID, jobID)
	if err != nil {
		return nil, err
	}
	of := map[ID][]record.AttemptEvent{}
	for _, e := range events {
		of[e.AttemptID] = append(of[e.AttemptID], e)
	}
	out := []Attempted{}
	for _, a := range list {
		w, err := procedure.Show(a.Ask())
		if err != nil {
			return nil, err
		}
		out = append(out, Attempted{
			Attempt: a, Title: wording.Word("procedure_" + a.Name), Word: procedure.SettingWords(a.Setting), Steps: len(w.Steps),
			Progress: record.Progress(len(w.Steps), of[a.ID]),
		})
	}
	return out, nil
}

// JumpSum is a jump worked out, with the picture of its order and its steps in words.
type JumpSum struct {
	Answer jump.Answer `json:"answer"`
	// Picture has everything on; nil where there is no order to show.
	Picture *drawing.Scene `json:"picture"`
	Steps   []string       `json:"steps"`
}

// Jump works out a jump start of a battery of a job.
func (s attempts) Jump(ctx context.Context, who Person, jobID, batteryID ID, ask func(jump.Ask) jump.Ask) (JumpSum, error) {
	now, err := s.seeJob(ctx, who, jobID)
	if err != nil {
		return JumpSum{}, err
	}
	of, err := now.of(batteryID)
	if err != nil {
		return JumpSum{}, err
	}
	sum := JumpSum{Steps: []string{}, Answer: s.jump.Plan(ask(jump.Ask{
		Dead:    charging.Ask{Label: of.Case.Label, Case: of.Case, Until: charging.Full, Attended: true},
		Vehicle: of.Case.Vehicle, Mounting: mountingOf(now, of), School: jump.Body, People: 1,
	}))}
	p := sum.Answer.Procedure
	if p == nil {
		return sum, nil
	}
	w, err := procedure.Show(procedure.Ask{Name: p.Name, Setting: p.Setting, School: p.School, People: p.People})
	if err != nil {
		return JumpSum{}, err
	}
	picture := procedure.LastClamp(p.Setting, w)
	sum.Picture = &picture
	for _, st := range w.Steps {
		sum.Steps = append(sum.Steps, st.Text)
	}
	return sum, nil
}

// mountingOf is how a battery of a job is said to sit.
func mountingOf(now scene, of record.BatteryCase) trail.Mounting {
	m := trail.Mounting{Posts: of.Battery.Posts}
	if now.Vehicle != nil {
		m.Where, m.Joined = now.Vehicle.Tray, now.Vehicle.Joined
	}
	return m
}
