package shop

import (
	"context"
	"errors"
	"slices"
	"strings"
	"time"

	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/problem"
	"grapnel/core/school"
	"grapnel/core/trail"
)

// StepAnswer is what a person said to a step of a job. Rows are only appended:
// the last of a step counts, and an empty value takes an answer back.
type StepAnswer struct {
	ID        ID        `json:"id"`
	JobID     ID        `json:"-"`
	BatteryID ID        `json:"battery_id"`
	Code      string    `json:"code"`
	Value     string    `json:"value"`
	Note      string    `json:"note"`
	PersonID  ID        `json:"-"`
	By        string    `json:"by"`
	At        time.Time `json:"at"`
}

// Clearing is a stop rule that a person has lifted with a reason. It holds for
// the readings up to Last, by their ordinal.
type Clearing struct {
	ID        ID             `json:"id"`
	JobID     ID             `json:"-"`
	BatteryID ID             `json:"battery_id"`
	Stop      school.Caution `json:"stop"`
	Reason    string         `json:"reason"`
	Last      int            `json:"last"`
	PersonID  ID             `json:"-"`
	By        string         `json:"by"`
	At        time.Time      `json:"at"`
}

// What a job may wait for besides what its verdict asks.
const (
	WaitsCustomer = "customer"
	WaitsPart     = "part"
	WaitsCharge   = "charge"
	WaitsNight    = "night"
)

// WaitsFor lists what a job may be set to wait for.
func WaitsFor() []string { return []string{WaitsCustomer, WaitsPart, WaitsCharge, WaitsNight} }

// StageWork is what one stage asks for.
type StageWork struct {
	Stage string       `json:"stage"`
	Steps []trail.Step `json:"steps"`
}

// Work is everything the surfaces of a job's stages show besides the readings.
type Work struct {
	Stages    []StageWork      `json:"stages"`
	Questions []trail.Question `json:"questions"`
	Options   []trail.Option   `json:"options"`
	// Open counts the points of the closing list that nobody has answered.
	Open    int         `json:"open"`
	Resets  []Statement `json:"resets"`
	Watch   []Statement `json:"watch"`
	Cleared []Clearing  `json:"cleared"`
	// ForCustomer is what the customer's page says.
	ForCustomer trail.HandOver `json:"for_customer"`
	// Clocks are the waits that may be set going, as they would be set.
	Clocks []trail.Clock `json:"clocks"`
}

// situationOf is a case with what stands around it, as the trail asks for it.
func situationOf(j Job, v *Vehicle, c jobCase, a diagnosis.Assessment, answers []StepAnswer) *trail.Situation {
	s := &trail.Situation{
		Case: c.Case, Purpose: j.Purpose, Assessment: a, Plan: diagnosis.PlanLoad(evidence.Examine(c.Case)),
		Seating: trail.Seating{Posts: c.battery.Posts}, Answers: map[string]trail.Answer{},
	}
	if v != nil {
		s.Seating.Where, s.Seating.Joined = v.Seat, v.Joined
	} else {
		s.Seating.Where = trail.Bench
	}
	for _, one := range answers {
		if one.BatteryID != c.battery.ID && !trail.OfJob(one.Code) {
			continue
		}
		if one.Value == "" {
			delete(s.Answers, one.Code)
			continue
		}
		s.Answers[one.Code] = trail.Answer{Value: one.Value, Note: one.Note, By: one.By}
	}
	return s
}

// workOf fills the surfaces of the stages.
func workOf(s *trail.Situation, stages []trail.Stage, cleared []Clearing, batteryID ID) Work {
	w := Work{Questions: trail.Questions(s), Options: trail.Options(s), Open: len(trail.Open(s)), Resets: trail.Resets(s), Watch: trail.Watch(s), ForCustomer: trail.ForCustomer(s), Cleared: []Clearing{}}
	for _, kind := range trail.Clocks() {
		c, _ := trail.ClockOf(s, kind)
		w.Clocks = append(w.Clocks, c)
	}
	for _, stage := range stages {
		w.Stages = append(w.Stages, StageWork{Stage: stage.Code, Steps: trail.Steps(s, stage.Code)})
	}
	for _, one := range cleared {
		if one.BatteryID == batteryID {
			w.Cleared = append(w.Cleared, one)
		}
	}
	return w
}

// note alters what stands around a job's readings, in one transaction: nothing is
// judged anew, and everyone who looks at the job is told.
func (s *Service) note(ctx context.Context, who Person, jobID ID, kind string, body any, do func(Store, *Job) error) error {
	err := s.write(ctx, func(tx Store) error {
		j, err := tx.JobForUpdate(ctx, who.ShopID, jobID)
		if err != nil {
			return err
		}
		if err := do(tx, &j); err != nil {
			return err
		}
		return s.record(ctx, tx, who, &j, kind, body)
	})
	if errors.Is(err, errNothing) {
		return nil
	}
	return err
}

// Answer writes down what a person said to a step. A point of the closing list
// that was not done needs a reason; the customer's choice is one of the options.
func (s *Service) Answer(ctx context.Context, who Person, jobID ID, in StepAnswer) error {
	var found problem.List
	if in.ID.IsZero() {
		found = append(found, problem.New("problem.missing", "id", "", "a UUID"))
	}
	if !trail.HasStep(in.Code) {
		found = append(found, problem.New("problem.code", "code", in.Code, problem.OneOf(trail.StepCodes())))
	}
	checkCode(&found, "value", in.Value, []string{trail.Done, trail.NotDone, trail.NotNeeded}, true)
	in.Note = strings.TrimSpace(in.Note)
	least := 0
	if in.Value == trail.NotDone && trail.Must(in.Code) {
		least = 1
	}
	checkText(&found, "note", in.Note, least, maxReason)
	if in.Code == "choice" && in.Value == trail.Done {
		checkCode(&found, "note", in.Note, trail.OptionCodes(), false)
	}
	if err := found.Err(); err != nil {
		return err
	}
	now := s.stamp()
	if in.At = in.At.UTC().Truncate(time.Microsecond); in.At.IsZero() || in.At.After(now) {
		in.At = now
	}
	in.JobID, in.PersonID = jobID, who.ID
	return s.note(ctx, who, jobID, "answered", in, func(tx Store, _ *Job) error {
		b, err := batteryOf(ctx, tx, who, jobID, in.BatteryID)
		if err != nil {
			return err
		}
		in.BatteryID = b.ID
		return tx.AddAnswer(ctx, who.ShopID, in)
	})
}

// Clear lifts a stop rule for what was found so far. The reason and the person
// stand on the job and the report; what is found later stops the work again.
func (s *Service) Clear(ctx context.Context, who Person, jobID ID, in Clearing) error {
	var found problem.List
	if in.ID.IsZero() {
		found = append(found, problem.New("problem.missing", "id", "", "a UUID"))
	}
	checkCode(&found, "stop", string(in.Stop), school.StopCodes(), false)
	checkText(&found, "reason", in.Reason, leastReason, maxReason)
	if err := found.Err(); err != nil {
		return err
	}
	in.Reason, in.JobID, in.PersonID, in.At = strings.TrimSpace(in.Reason), jobID, who.ID, s.stamp()
	return s.change(ctx, who, jobID, "stop_cleared", in, func(tx Store, j *Job) error {
		b, err := batteryOf(ctx, tx, who, j.ID, in.BatteryID)
		if err != nil {
			return err
		}
		last, err := tx.LastOrdinal(ctx, who.ShopID, j.ID)
		if err != nil {
			return err
		}
		in.BatteryID, in.Last = b.ID, last
		return tx.AddClearing(ctx, who.ShopID, in)
	})
}

// leastReason is the shortest reason for lifting a stop rule, in characters.
const leastReason = 8

// Sit writes down how a battery sits; the next visit knows it.
func (s *Service) Sit(ctx context.Context, who Person, jobID, batteryID ID, in trail.Seating) error {
	var found problem.List
	checkCode(&found, "where", in.Where, trail.Places(), true)
	checkCode(&found, "posts", in.Posts, trail.Posts(), true)
	checkCode(&found, "joined", in.Joined, trail.Joins(), true)
	if err := found.Err(); err != nil {
		return err
	}
	return s.note(ctx, who, jobID, "seated", in, func(tx Store, j *Job) error {
		b, err := batteryOf(ctx, tx, who, jobID, batteryID)
		if err != nil {
			return err
		}
		if err := tx.SetPosts(ctx, who.ShopID, b.ID, in.Posts); err != nil || j.VehicleID == nil {
			return err
		}
		return tx.SetSeat(ctx, who.ShopID, *j.VehicleID, in.Where, in.Joined)
	})
}

// Desk is where a job stands, who has it and what it waits for.
type Desk struct {
	Place      string `json:"place,omitempty" maxLength:"40"`
	AssignedTo *ID    `json:"assigned_to,omitempty" format:"uuid"`
	WaitsFor   string `json:"waits_for,omitempty" maxLength:"16"`
	WaitsNote  string `json:"waits_note,omitempty" maxLength:"2000"`
	// Note goes to whoever takes the job over.
	Note string `json:"note,omitempty" maxLength:"2000"`
}

// SetDesk moves a job, hands it over or lets it wait.
func (s *Service) SetDesk(ctx context.Context, who Person, jobID ID, in Desk) error {
	var found problem.List
	checkCode(&found, "place", in.Place, places, true)
	checkCode(&found, "waits_for", in.WaitsFor, WaitsFor(), true)
	checkText(&found, "waits_note", in.WaitsNote, 0, maxReason)
	checkText(&found, "note", in.Note, 0, maxReason)
	if err := found.Err(); err != nil {
		return err
	}
	return s.note(ctx, who, jobID, "desk", in, func(tx Store, j *Job) error {
		if in.AssignedTo != nil {
			p, err := tx.PersonByID(ctx, *in.AssignedTo)
			if err != nil || p.ShopID != who.ShopID || !p.Active {
				return problem.List{problem.New("problem.code", "assigned_to", in.AssignedTo.String(), "a person of the shop")}
			}
		}
		j.Place, j.AssignedTo, j.WaitsFor, j.WaitsNote = in.Place, in.AssignedTo, in.WaitsFor, strings.TrimSpace(in.WaitsNote)
		return tx.UpdateJob(ctx, who.ShopID, *j)
	})
}

// refuseOpen refuses to hand a job back while points of the closing list are open.
func (s *Service) refuseOpen(ctx context.Context, tx Store, who Person, j *Job) error {
	r, err := recordsOf(ctx, tx, who.ShopID, *j)
	if err != nil {
		return err
	}
	answers, err := tx.AnswersOfJob(ctx, who.ShopID, j.ID)
	if err != nil {
		return err
	}
	var found problem.List
	var named []string
	for _, c := range r.cases() {
		for _, step := range trail.Open(situationOf(*j, r.Vehicle, c, s.engine.Brief(c.Case), answers)) {
			if !slices.Contains(named, step.Code) {
				named = append(named, step.Code)
				found = append(found, problem.New("problem.open_point", "finish."+step.Code, step.Text.Text, "done, not needed, or not done with a reason"))
			}
		}
	}
	return found.Err()
}
