package shop

import (
	"context"
	"time"

	"grapnel/app/record"
	"grapnel/core/evidence"
	"grapnel/core/problem"
	"grapnel/core/reading"
	"grapnel/core/wording"
)

// readings are kept, corrected, withdrawn and undone; no row is ever changed.
type readings struct{ *house }

// Kept says what keeping did.
type Kept struct {
	// Reopened tells that the job had been closed and is open again.
	Reopened bool `json:"reopened"`
}

// Keep appends a reading to the job, or the several of one line, all or none. A
// reading on a closed job is kept and reopens it. What a stop rule forbids is refused
// until the rule is lifted; what was taken before the rule was raised stands.
func (s readings) Keep(ctx context.Context, who Person, jobID ID, in record.Keep) (Kept, error) {
	parsed, err := record.ParseLine(in.Line)
	if err != nil {
		return Kept{}, err
	}
	var kept Kept
	c := command{
		who:    who,
		jobID:  jobID,
		kind:   "reading_kept",
		judges: true,
		into:   &kept,
		key:    &keyed{id: in.ID, kind: "reading_kept", subject: &jobID, body: in},
	}
	err = s.run(ctx, c, func(tx Tx, j *record.Job) (done, error) {
		kept = Kept{}
		now, err := s.see(ctx, tx, who.ShopID, *j)
		if err != nil {
			return done{}, err
		}
		rows, err := rowsOf(now, in, parsed, who)
		if err != nil {
			return done{}, err
		}
		if err := tx.AddReadings(ctx, who.ShopID, rows...); err != nil {
			return done{}, err
		}
		if j.State == record.JobClosed {
			kept.Reopened = true
			if _, err := s.takeUp(ctx, tx, who, j); err != nil {
				return done{}, err
			}
		}
		// Whoever takes the first reading has the job.
		if j.AssignedTo == nil {
			j.AssignedTo = &who.ID
		}
		for i := range rows {
			rows[i].PersonName = who.Name
		}
		now.Job, now.Rows = *j, append(now.Rows, rows...)
		clocks, err := s.clocksAfter(ctx, tx, who, now, rows)
		if err != nil {
			return done{}, err
		}
		return done{body: keptRows(rows, kept.Reopened, clocks), answer: kept, scene: &now}, nil
	})
	return kept, err
}

// keptReadings is what the event of kept readings says.
type keptReadings struct {
	Readings []keptReading `json:"readings"`
	Reopened bool          `json:"reopened"`
	// Clocks are those that the readings ended or started.
	Clocks []clockDone `json:"clocks"`
}

type keptReading struct {
	ID        ID        `json:"id"`
	BatteryID *ID       `json:"battery_id"`
	Kind      string    `json:"kind"`
	Line      string    `json:"line"`
	TakenAt   time.Time `json:"taken_at"`
}

func keptRows(rows []record.Reading, reopened bool, clocks []clockDone) keptReadings {
	out := keptReadings{Reopened: reopened, Clocks: clocks}
	for _, r := range rows {
		out.Readings = append(out.Readings, keptReading{r.ID, r.BatteryID, string(r.Reading.Kind), r.Typed, r.TakenAt})
	}
	return out
}

// rowsOf are the rows of a line, behind the others of its job, once each goes with the
// label of its battery and nothing forbids it.
func rowsOf(now scene, in record.Keep, parsed []reading.Parsed, who Person) ([]record.Reading, error) {
	c, err := now.of(in.BatteryID)
	if err != nil {
		return nil, err
	}
	of := record.Subject{JobID: &now.Job.ID, BatteryID: &c.Battery.ID, VehicleID: now.Job.VehicleID}
	rows, err := in.Rows(&c.Case, of, record.LastOrdinal(now.Rows), parsed, now.Moment)
	for i := range rows {
		rows[i].PersonID = who.ID
	}
	return rows, err
}

// KeepOf keeps a reading of a battery or a vehicle that belongs to no job: on the shelf,
// in the yard.
func (s readings) KeepOf(ctx context.Context, who Person, of record.Subject, in record.Keep) error {
	parsed, err := record.ParseLine(in.Line)
	if err != nil {
		return err
	}
	of.JobID = nil
	subject := of.BatteryID
	if subject == nil {
		subject = of.VehicleID
	}
	if subject == nil {
		return problem.List{problem.New("problem.missing", "battery_id", "", "battery_id or vehicle_id")}
	}
	return s.write(ctx, func(tx Tx) error {
		again, err := s.once(ctx, tx, who, keyed{id: in.ID, kind: "reading_kept", subject: subject, body: in}, nil)
		if again || err != nil {
			return err
		}
		if err := known(ctx, tx, who.ShopID, of); err != nil {
			return err
		}
		m, err := s.moment(ctx, tx, who.ShopID)
		if err != nil {
			return err
		}
		rows, err := looseRows(ctx, tx, who, of, in, parsed, m)
		if err != nil {
			return err
		}
		if err := tx.AddReadings(ctx, who.ShopID, rows...); err != nil {
			return err
		}
		return s.tell(ctx, tx, who, nil, "reading_kept", keptRows(rows, false, nil))
	})
}

// looseRows are the rows of a line that belongs to no job.
func looseRows(
	ctx context.Context,
	tx Tx,
	who Person,
	of record.Subject,
	in record.Keep,
	parsed []reading.Parsed,
	m Moment,
) ([]record.Reading, error) {
	var c *evidence.Case
	last := 0
	if of.BatteryID != nil {
		b, err := tx.Battery(ctx, who.ShopID, *of.BatteryID)
		if err != nil {
			return nil, err
		}
		before, err := tx.LooseReadings(ctx, who.ShopID, b.ID)
		if err != nil {
			return nil, err
		}
		c = &evidence.Case{Now: m.Now.In(m.Zone), Label: b.Label}
		_, c.Readings = record.Fold(before, b.ID)
		c.Readings = record.NotTakenAhead(c.Readings, c.Now)
		last = record.LastOrdinal(before)
	}
	rows, err := in.Rows(c, of, last, parsed, m)
	for i := range rows {
		rows[i].PersonID = who.ID
	}
	return rows, err
}

// Loose lists the readings of a battery that belong to no job, as they stand.
func (s readings) Loose(ctx context.Context, who Person, batteryID ID) ([]record.ReadingView, error) {
	rows, err := s.store.LooseReadings(ctx, who.ShopID, batteryID)
	views, _ := record.Fold(rows, batteryID)
	return views, err
}

// Correction changes a kept reading by a new row that supersedes it.
type Correction struct {
	ID     ID     `json:"-"`
	Line   string `json:"line"`
	Reason string `json:"reason"`
}

// Correct supersedes a reading with another line. A reason is needed. The time that the
// new line says counts; one that says none keeps that of the old.
func (s readings) Correct(ctx context.Context, who Person, jobID, readingID ID, in Correction) error {
	parsed, err := record.ParseLine(in.Line)
	if err != nil {
		return err
	}
	if err := record.OnlyOne(parsed, true); err != nil {
		return err
	}
	alter := func(_ Tx, now scene, row *record.Reading, old record.Reading) error {
		return now.Correct(row, old, in.Line, parsed[0].Reading, now.Moment)
	}
	return s.supersede(ctx, who, jobID, readingID, in, record.ActCorrected, alter)
}

// Mistaken withdraws a reading: it stays, marked, and no longer counts.
func (s readings) Mistaken(ctx context.Context, who Person, jobID, readingID ID, in Correction) error {
	return s.supersede(ctx, who, jobID, readingID, in, record.ActMistaken, nil)
}

// Undo takes back the last thing done to a reading: keeping it, correcting it
// or withdrawing it. Nothing is deleted; the undoing is a row as well.
func (s readings) Undo(ctx context.Context, who Person, jobID, readingID ID, in Correction) error {
	in.Reason = wording.Text("reason.undone", nil)
	alter := func(tx Tx, _ scene, row *record.Reading, old record.Reading) error {
		if old.SupersedesID == nil {
			row.Undo(nil)
			return nil
		}
		before, err := tx.Reading(ctx, who.ShopID, *old.SupersedesID)
		row.Undo(&before)
		return err
	}
	return s.supersede(ctx, who, jobID, readingID, in, record.ActRestored, alter)
}

// superseded is what the event of a superseded reading says.
type superseded struct {
	ID         ID        `json:"id"`
	Supersedes ID        `json:"supersedes"`
	Act        string    `json:"act"`
	Line       string    `json:"line"`
	Before     string    `json:"before"`
	TakenAt    time.Time `json:"taken_at"`
	Reason     string    `json:"reason"`
}

// supersede writes a row that takes another's place.
func (s readings) supersede(
	ctx context.Context,
	who Person,
	jobID, readingID ID,
	in Correction,
	act string,
	alter func(Tx, scene, *record.Reading, record.Reading) error,
) error {
	var found problem.List
	found.CheckText("reason", in.Reason, 1, maxReason)
	if err := found.Err(); err != nil {
		return err
	}
	body := map[string]any{"reading": readingID, "line": in.Line, "reason": in.Reason}
	c := command{
		who:    who,
		jobID:  jobID,
		kind:   "reading_" + act,
		judges: true,
		key:    &keyed{id: in.ID, kind: "reading_" + act, subject: &jobID, body: body},
	}
	return s.run(ctx, c, func(tx Tx, j *record.Job) (done, error) {
		old, err := tx.Reading(ctx, who.ShopID, readingID)
		if err != nil {
			return done{}, err
		}
		if !same(old.JobID, &jobID) {
			return done{}, ErrNotFound
		}
		row := old.Superseded(in.ID, act, in.Reason)
		now, err := s.see(ctx, tx, who.ShopID, *j)
		if err != nil {
			return done{}, err
		}
		row.ReceivedAt, row.PersonID = now.Now, who.ID
		if alter != nil {
			if err := alter(tx, now, &row, old); err != nil {
				return done{}, err
			}
		}
		now.Rows = append(now.Rows, row)
		did := superseded{row.ID, old.ID, row.Act, row.Typed, old.Typed, row.TakenAt, row.Reason}
		return done{body: did, scene: &now}, tx.AddReadings(ctx, who.ShopID, row)
	})
}
