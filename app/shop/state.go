package shop

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"time"

	"grapnel/app/record"
	"grapnel/core/diagnosis"
	"grapnel/core/trail"
)

// JobState is what a job has come to, for boards and lists: one row a job, made by
// stateOf and by nothing else, so that a list and the job's own page say the same. It
// holds as long as the job's revision and the basis that all verdicts rest on are those
// it was made with.
type JobState struct {
	JobID    ID
	Revision int
	// Basis names the rules, the shop's own limits, its instruments and the day judged.
	Basis string
	// BatteryID is the battery that has to be seen to first, of Batteries.
	BatteryID *ID
	Batteries int
	Action    diagnosis.Action
	// Waits is what the job waits on, Next what is done next, in words.
	Waits  string
	Next   string
	MadeAt time.Time
}

// basis names what the verdicts of a job rest on besides the job itself.
func (h *house) basis(r record.CaseRecords, m Moment) string {
	kinds := map[string]string{}
	for _, one := range r.Instruments {
		kinds[one.Name] = one.Kind
	}
	// Limits and kinds always encode: they are figures and words.
	text, _ := json.Marshal([]any{h.rules, record.Own(r.Limits), kinds, m.Judged(r.Job).Format(time.DateOnly)})
	sum := sha256.Sum256(text)
	return hex.EncodeToString(sum[:8])
}

// stateOf makes a job's state of the assessments of its batteries.
func stateOf(r record.CaseRecords, of []diagnosis.Assessment, basis string, at time.Time) JobState {
	s := JobState{
		JobID:     r.Job.ID,
		Revision:  r.Job.Revision,
		Basis:     basis,
		Batteries: len(of),
		Action:    diagnosis.MoreTests,
		Waits:     trail.WaitHands,
		MadeAt:    at,
	}
	if worst := trail.Worst(of); worst >= 0 {
		a := of[worst]
		s.BatteryID, s.Action, s.Waits, s.Next = &r.Batteries[worst].ID, a.Verdict.Action, trail.WaitOf(a), trail.NextWords(a)
	}
	return s
}

// judge assesses every battery of the job, keeps the verdicts whole and what the job
// comes to.
func (h *house) judge(ctx context.Context, tx Tx, shopID ID, now scene) error {
	r, m := now.CaseRecords, now.Moment
	var all []diagnosis.Assessment
	for _, c := range r.Cases(m) {
		a, err := h.assess(ctx, c.Case)
		if err != nil {
			return err
		}
		all = append(all, a)
		v := record.Verdict{
			ID:        record.NewID(),
			JobID:     r.Job.ID,
			BatteryID: c.Battery.ID,
			Revision:  r.Job.Revision,
			MadeAt:    m.Now,
			RulesHash: h.rules,
			Body:      a,
		}
		if err := tx.AddVerdict(ctx, shopID, v); err != nil {
			return err
		}
	}
	return tx.PutState(ctx, shopID, stateOf(r, all, h.basis(r, m), m.Now))
}

// refresh makes a job's state anew where it no longer holds: another rule, limit,
// instrument or day, and nothing of the job itself.
func (h *house) refresh(ctx context.Context, shopID, jobID ID) (JobState, error) {
	var s JobState
	err := h.store.Write(ctx, func(tx Tx) error {
		j, err := tx.JobForUpdate(ctx, shopID, jobID)
		if err != nil {
			return err
		}
		now, err := h.see(ctx, tx, shopID, j)
		if err != nil {
			return err
		}
		var all []diagnosis.Assessment
		for _, c := range now.Cases(now.Moment) {
			a, err := h.brief(ctx, c.Case)
			if err != nil {
				return err
			}
			all = append(all, a)
		}
		s = stateOf(now.CaseRecords, all, h.basis(now.CaseRecords, now.Moment), now.Now)
		return tx.PutState(ctx, shopID, s)
	})
	return s, err
}

// caseReader is what a case is read from.
type caseReader interface {
	BatteriesOfJob(ctx context.Context, shopID, jobID ID) ([]record.Fitted, error)
	ReadingsOfJobs(ctx context.Context, shopID ID, jobs ...ID) ([]record.Reading, error)
	Limits(ctx context.Context, shopID ID) ([]record.OwnLimit, error)
	ClearingsOfJob(ctx context.Context, shopID, jobID ID) ([]record.Clearing, error)
	Instruments(ctx context.Context, shopID ID) ([]record.Instrument, error)
	Vehicle(ctx context.Context, shopID, id ID) (record.Vehicle, error)
	ReplacementsOfJob(ctx context.Context, shopID, jobID ID) ([]record.Replacement, error)
}

// recordsOf reads what the batteries of a job are judged by.
func recordsOf(ctx context.Context, tx caseReader, shopID ID, j record.Job) (record.CaseRecords, error) {
	r := record.CaseRecords{Job: j}
	var err error
	if r.Batteries, err = tx.BatteriesOfJob(ctx, shopID, j.ID); err != nil {
		return r, err
	}
	if r.Rows, err = tx.ReadingsOfJobs(ctx, shopID, j.ID); err != nil {
		return r, err
	}
	if r.Limits, err = tx.Limits(ctx, shopID); err != nil {
		return r, err
	}
	if r.Clearings, err = tx.ClearingsOfJob(ctx, shopID, j.ID); err != nil {
		return r, err
	}
	if r.Replacements, err = tx.ReplacementsOfJob(ctx, shopID, j.ID); err != nil {
		return r, err
	}
	if r.Instruments, err = tx.Instruments(ctx, shopID); err != nil || j.VehicleID == nil {
		return r, err
	}
	v, err := tx.Vehicle(ctx, shopID, *j.VehicleID)
	r.Vehicle = &v
	return r, wrap(err, "vehicle")
}

// scene is a job as it stands at a moment, with what its batteries are judged by.
type scene struct {
	record.CaseRecords
	Moment
}

// see reads a job's scene, now.
func (h *house) see(ctx context.Context, tx interface {
	caseReader
	FoundingStore
}, shopID ID, j record.Job) (scene, error) {
	r, err := recordsOf(ctx, tx, shopID, j)
	if err != nil {
		return scene{}, err
	}
	m, err := h.moment(ctx, tx, shopID)
	return scene{r, m}, err
}

// seeBattery is see, with the case of one battery; of the first for an empty ID.
func (h *house) seeBattery(ctx context.Context, tx Tx, shopID ID, j record.Job, batteryID ID) (scene, record.BatteryCase, error) {
	now, err := h.see(ctx, tx, shopID, j)
	if err != nil {
		return scene{}, record.BatteryCase{}, err
	}
	of, err := now.of(batteryID)
	return now, of, err
}

// seeJob reads the scene of a job by its ID, outside of any change.
func (h *house) seeJob(ctx context.Context, who Person, jobID ID) (scene, error) {
	j, err := h.store.Job(ctx, who.ShopID, jobID)
	if err != nil {
		return scene{}, err
	}
	return h.see(ctx, h.store, who.ShopID, j)
}

// of is the case of one battery; of the first for an empty ID.
func (s scene) of(batteryID ID) (record.BatteryCase, error) {
	b, err := record.OneOf(s.Batteries, batteryID)
	if err != nil {
		return record.BatteryCase{}, err
	}
	return s.Case(s.Moment, b.ID)
}
