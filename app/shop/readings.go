package shop

import (
	"context"
	"errors"
	"slices"
	"strings"
	"time"

	"grapnel/core/evidence"
	"grapnel/core/problem"
	"grapnel/core/reading"
	"grapnel/core/trail"
	"grapnel/core/wording"
)

// Keep is a reading to be kept. ID is made by the client and is the idempotency
// key: the same one twice is kept once.
type Keep struct {
	ID        ID
	BatteryID ID
	Line      string
	TakenAt   time.Time
}

// Kept says what keeping did.
type Kept struct {
	// Reopened tells that the job had been closed and is open again.
	Reopened bool `json:"reopened"`
	// Again tells that this reading had been kept before.
	Again bool `json:"again"`
}

// Keep appends a reading to the job, or the several of one line, all or none. A
// reading on a closed job is kept and reopens it.
func (s *Service) Keep(ctx context.Context, who Person, jobID ID, in Keep) (Kept, error) {
	if in.ID.IsZero() {
		return Kept{}, problem.List{problem.New("problem.missing", "id", "", "a UUID")}
	}
	parsed, err := parse(in.Line)
	if err != nil {
		return Kept{}, err
	}
	var kept Kept
	err = s.changeTo(ctx, who, jobID, "reading_kept", in, func(tx Store, j *Job) (r CaseRecords, err error) {
		kept = Kept{}
		if again, err := already(ctx, tx, who, jobID, in.ID); again || err != nil {
			kept.Again = again
			return r, errors.Join(err, errNothingToDo(again))
		}
		err = in.each(parsed, func(one Keep, read reading.Reading) error {
			in.BatteryID, err = s.addReading(ctx, tx, who, j, one, read)
			return err
		})
		if err != nil {
			return r, err
		}
		if j.State == JobClosed {
			kept.Reopened = true
			if err := s.takeUp(ctx, tx, who, j); err != nil {
				return r, err
			}
		}
		// Whoever takes the first reading has the job.
		if j.AssignedTo == nil {
			j.AssignedTo = &who.ID
		}
		if r, err = recordsOf(ctx, tx, who.ShopID, *j); err != nil {
			return r, err
		}
		return r, in.each(parsed, func(one Keep, read reading.Reading) error {
			return s.clocksAfter(ctx, tx, who, r, one, read.Kind)
		})
	})
	return kept, err
}

// errNothing ends a change that had been made before; it never leaves change.
var errNothing = errors.New("nothing to do")

func errNothingToDo(again bool) error {
	if again {
		return errNothing
	}
	return nil
}

// already reports a row that was written before; one of another job is refused.
func already(ctx context.Context, tx Store, who Person, jobID, id ID) (bool, error) {
	row, err := tx.Reading(ctx, who.ShopID, id)
	switch {
	case errors.Is(err, ErrNotFound):
		return false, nil
	case err != nil:
		return false, err
	case row.JobID != jobID:
		return false, problem.List{problem.New("problem.taken", "id", id.String(), "an ID of its own")}
	}
	return true, nil
}

// parse understands a line of one or several readings.
func parse(line string) ([]reading.Parsed, error) {
	if len(line) > maxLine {
		return nil, problem.List{problem.New("problem.text", "line", line[:40]+"…", problem.Range(1, maxLine, "characters"))}
	}
	return reading.ParseAll(line)
}

// addReading writes a reading behind the others of its job, once it goes with the
// label of its battery, which it returns.
func (s *Service) addReading(ctx context.Context, tx Store, who Person, j *Job, in Keep, r reading.Reading) (ID, error) {
	b, err := batteryOf(ctx, tx, who, j.ID, in.BatteryID)
	if err != nil {
		return ID{}, err
	}
	if pr, bad := evidence.CheckAgainst(b.Label, r); bad {
		return ID{}, problem.List{pr}
	}
	last, err := tx.LastOrdinal(ctx, who.ShopID, j.ID)
	if err != nil {
		return ID{}, err
	}
	sh, err := tx.OnlyShop(ctx)
	if err != nil {
		return ID{}, err
	}
	row := in.row(*j, b.ID, r, last+1, s.stamp(), sh.Location())
	row.PersonID = who.ID
	return b.ID, tx.AddReading(ctx, who.ShopID, row)
}

// takenAt is when a reading was taken: as its line says, else as the device
// says, else now. A clock time is today's, or yesterday's if it were to come.
func takenAt(device time.Time, said string, now time.Time, zone *time.Location) time.Time {
	at := now
	if !device.IsZero() && device.Before(now.Add(time.Minute)) {
		at = device.UTC().Truncate(time.Microsecond)
	}
	if said == "" {
		return at
	}
	if full, err := time.Parse(time.RFC3339, said); err == nil {
		return full.UTC()
	}
	clock, err := time.Parse("15:04", said)
	if err != nil {
		return at
	}
	day := at.In(zone)
	said1 := time.Date(day.Year(), day.Month(), day.Day(), clock.Hour(), clock.Minute(), 0, 0, zone)
	if said1.After(at) {
		said1 = said1.AddDate(0, 0, -1)
	}
	return said1.UTC()
}

// batteryOf finds a battery of the job; the first for an empty ID.
func batteryOf(ctx context.Context, tx Store, who Person, jobID, batteryID ID) (SeatedBattery, error) {
	batteries, err := tx.BatteriesOfJob(ctx, who.ShopID, jobID)
	if err != nil {
		return SeatedBattery{}, err
	}
	return batteryIn(batteries, batteryID)
}

// batteryIn finds a battery in a list; the first for an empty ID.
func batteryIn(list []SeatedBattery, id ID) (SeatedBattery, error) {
	for _, b := range list {
		if id.IsZero() || b.ID == id {
			return b, nil
		}
	}
	return SeatedBattery{}, problem.List{problem.New("problem.code", "battery_id", id.String(), "a battery of this job")}
}

// Correction changes a kept reading by a new row that supersedes it.
type Correction struct {
	ID     ID
	Line   string
	Reason string
}

// Correct supersedes a reading with another line. A reason is needed.
func (s *Service) Correct(ctx context.Context, who Person, jobID, readingID ID, in Correction) error {
	parsed, err := parse(in.Line)
	if err != nil {
		return err
	}
	if err := onlyOne(parsed, true); err != nil {
		return err
	}
	return s.supersede(ctx, who, jobID, readingID, in, ActCorrected, func(ctx context.Context, tx Store, row *Reading, _ Reading) error {
		b, err := batteryOf(ctx, tx, who, jobID, *row.BatteryID)
		if err != nil {
			return err
		}
		if pr, bad := evidence.CheckAgainst(b.Label, parsed[0].Reading); bad {
			return problem.List{pr}
		}
		row.Typed, row.Reading = in.Line, parsed[0].Reading
		return nil
	})
}

// Mistaken withdraws a reading: it stays, marked, and no longer counts.
func (s *Service) Mistaken(ctx context.Context, who Person, jobID, readingID ID, in Correction) error {
	return s.supersede(ctx, who, jobID, readingID, in, ActMistaken, nil)
}

// Undo takes back the last thing done to a reading: keeping it, correcting it
// or withdrawing it. Nothing is deleted; the undoing is a row as well.
func (s *Service) Undo(ctx context.Context, who Person, jobID, readingID ID, in Correction) error {
	in.Reason = wording.Text("reason.undone", nil)
	return s.supersede(ctx, who, jobID, readingID, in, ActRestored, func(ctx context.Context, tx Store, row *Reading, old Reading) error {
		if old.SupersedesID == nil {
			row.Act = ActMistaken
			return nil
		}
		before, err := tx.Reading(ctx, who.ShopID, *old.SupersedesID)
		row.Typed, row.Reading = before.Typed, before.Reading
		if before.Act == ActMistaken {
			row.Act = ActMistaken
		}
		return err
	})
}

// supersede writes a row that takes another's place.
func (s *Service) supersede(ctx context.Context, who Person, jobID, readingID ID, in Correction, act string, alter func(context.Context, Store, *Reading, Reading) error) error {
	var found problem.List
	checkText(&found, "reason", in.Reason, 1, maxReason)
	if in.ID.IsZero() {
		found = append(found, problem.New("problem.missing", "id", "", "a UUID"))
	}
	if err := found.Err(); err != nil {
		return err
	}
	return s.change(ctx, who, jobID, "reading_"+act, in, func(tx Store, j *Job) error {
		if again, err := already(ctx, tx, who, jobID, in.ID); again || err != nil {
			return errors.Join(err, errNothingToDo(again))
		}
		old, err := tx.Reading(ctx, who.ShopID, readingID)
		if err != nil {
			return err
		}
		if old.JobID != jobID {
			return ErrNotFound
		}
		row := old
		row.ID, row.SupersedesID, row.Act, row.Reason = in.ID, &old.ID, act, strings.TrimSpace(in.Reason)
		row.ReceivedAt, row.PersonID = s.stamp(), who.ID
		if alter != nil {
			if err := alter(ctx, tx, &row, old); err != nil {
				return err
			}
		}
		return tx.AddReading(ctx, who.ShopID, row)
	})
}

// change alters a job in one transaction: it holds the job, makes the change,
// judges it anew, and records what was done.
func (s *Service) change(ctx context.Context, who Person, jobID ID, kind string, body any, do func(Store, *Job) error) error {
	return s.changeTo(ctx, who, jobID, kind, body, func(tx Store, j *Job) (CaseRecords, error) {
		if err := do(tx, j); err != nil {
			return CaseRecords{}, err
		}
		return recordsOf(ctx, tx, who.ShopID, *j)
	})
}

// changeTo is a change that has read the records of the job as they stand after it.
func (s *Service) changeTo(ctx context.Context, who Person, jobID ID, kind string, body any, do func(Store, *Job) (CaseRecords, error)) error {
	err := s.write(ctx, func(tx Store) error {
		j, err := tx.JobForUpdate(ctx, who.ShopID, jobID)
		if err != nil {
			return err
		}
		r, err := do(tx, &j)
		if err != nil {
			return err
		}
		j.Revision++
		if err := s.judge(ctx, tx, who, &j, r); err != nil {
			return err
		}
		return s.record(ctx, tx, who, &j, kind, body)
	})
	if errors.Is(err, errNothing) {
		return nil
	}
	return err
}

// judgeAnew reads the records of a job and judges by them.
func (s *Service) judgeAnew(ctx context.Context, tx Store, who Person, j *Job) error {
	r, err := recordsOf(ctx, tx, who.ShopID, *j)
	if err != nil {
		return err
	}
	return s.judge(ctx, tx, who, j, r)
}

// judge assesses every battery of the job and keeps the verdicts whole.
func (s *Service) judge(ctx context.Context, tx Store, who Person, j *Job, r CaseRecords) error {
	at := s.stamp()
	for i, c := range r.cases() {
		v := Verdict{ID: NewID(), JobID: j.ID, BatteryID: c.battery.ID, Revision: j.Revision, MadeAt: at, RulesHash: s.rules, Body: s.engine.Assess(c.Case)}
		if err := tx.AddVerdict(ctx, who.ShopID, v); err != nil {
			return err
		}
		if i == 0 {
			j.VerdictID = &v.ID
		}
	}
	return tx.UpdateJob(ctx, who.ShopID, *j)
}

func (s *Service) record(ctx context.Context, tx Store, who Person, j *Job, kind string, body any) error {
	return tx.AddEvent(ctx, who.ShopID, Event{JobID: &j.ID, Revision: j.Revision, PersonID: &who.ID, Kind: kind, Body: body, At: s.stamp()})
}

// Close hands the job back, once every point of the closing list is answered. Its
// clocks stop.
func (s *Service) Close(ctx context.Context, who Person, jobID ID) error {
	return s.change(ctx, who, jobID, "closed", nil, func(tx Store, j *Job) error {
		if j.State == JobClosed {
			return errNothing
		}
		if err := s.refuseOpen(ctx, tx, who, j); err != nil {
			return err
		}
		at := s.stamp()
		j.State, j.ClosedAt, j.WaitsFor, j.WaitsNote = JobClosed, &at, "", ""
		return s.stopClocks(ctx, tx, who, j)
	})
}

// Reopen takes a closed job up again.
func (s *Service) Reopen(ctx context.Context, who Person, jobID ID) error {
	return s.change(ctx, who, jobID, "reopened", nil, func(tx Store, j *Job) error {
		if j.State == JobOpen {
			return errNothing
		}
		return s.takeUp(ctx, tx, who, j)
	})
}

// takeUp opens a job again. What may have been touched since it was handed back is
// asked again before the next time.
func (s *Service) takeUp(ctx context.Context, tx Store, who Person, j *Job) error {
	answers, err := tx.AnswersOfJob(ctx, who.ShopID, j.ID)
	if err != nil {
		return err
	}
	type point struct {
		battery ID
		code    string
	}
	stands := map[point]bool{}
	for _, a := range answers {
		stands[point{a.BatteryID, a.Code}] = a.Value != ""
	}
	for p, stood := range stands {
		if !stood || !slices.Contains(trail.AskedAgain(), p.code) {
			continue
		}
		again := StepAnswer{ID: NewID(), JobID: j.ID, BatteryID: p.battery, Code: p.code, PersonID: who.ID, At: s.stamp()}
		if err := tx.AddAnswer(ctx, who.ShopID, again); err != nil {
			return err
		}
	}
	j.State, j.ClosedAt = JobOpen, nil
	return nil
}

// Relabel changes what is known of a battery on a job, such as a rating that
// was missing. The old label stays in the event log.
func (s *Service) Relabel(ctx context.Context, who Person, jobID ID, b Battery) error {
	if err := checkBattery("battery", b).Err(); err != nil {
		return err
	}
	type change struct{ Before, After Battery }
	body := &change{After: b}
	return s.change(ctx, who, jobID, "relabelled", body, func(tx Store, _ *Job) error {
		old, err := batteryOf(ctx, tx, who, jobID, b.ID)
		if err != nil {
			return err
		}
		body.Before = old.Battery
		return tx.UpdateLabel(ctx, who.ShopID, b)
	})
}
