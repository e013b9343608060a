package record

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/problem"
	"grapnel/core/reading"
	"grapnel/core/safety"
	"grapnel/core/school"
	"grapnel/core/trail"
)

// Keep is a reading to be kept. ID is made by the client and is the idempotency key: the
// same one twice is kept once.
type Keep struct {
	ID        ID        `json:"id"`
	BatteryID ID        `json:"battery_id"`
	Line      string    `json:"line"`
	TakenAt   time.Time `json:"taken_at"`
}

// Each goes through the readings of a line: each has its own part of it and an ID
// that follows from the line's.
func (in Keep) Each(parsed []reading.Parsed, do func(Keep, reading.Reading) error) error {
	for i, part := range reading.Parts(in.Line) {
		one := in
		one.Line = in.Line[part.Start:part.End]
		if i > 0 {
			one.ID = in.ID.Part(i)
		}
		if err := do(one, parsed[i].Reading); err != nil {
			return err
		}
	}
	return nil
}

// Row is a reading as it is written down: of whom, behind which others, and when it was
// taken. A time that cannot be is refused.
func (in Keep) Row(of Subject, r reading.Reading, ordinal int, m Moment) (Reading, error) {
	at, problems := evidence.TakenAt(r.At, in.TakenAt, m.Now, m.Zone)
	if len(problems) > 0 {
		return Reading{}, problems
	}
	return Reading{
		ID: in.ID, JobID: of.JobID, BatteryID: of.BatteryID, VehicleID: of.VehicleID, RootID: in.ID, Ordinal: ordinal, Act: ActKept,
		Typed: in.Line, Reading: r, TakenAt: at, TakenZone: m.Zone.String(), ReceivedAt: m.Now,
	}, nil
}

// Rows are the rows of a line behind those of a case, numbered from the one after last:
// each goes with the label, and nothing that the case says forbids it, nor anything that
// stands before it in the line. The case is nil for a vehicle by itself.
func (in Keep) Rows(c *evidence.Case, of Subject, last int, parsed []reading.Parsed, m Moment) ([]Reading, error) {
	if n := last + len(parsed); n > evidence.MostReadings {
		return nil, problem.List{problem.New("problem.range", "line", fmt.Sprintf("reading %d", n), fmt.Sprintf("%d readings of one job: bring it in again", evidence.MostReadings))}
	}
	rows := make([]Reading, 0, len(parsed))
	err := in.Each(parsed, func(one Keep, read reading.Reading) error {
		row, err := one.Row(of, read, last+len(rows)+1, m)
		if err != nil {
			return err
		}
		if c != nil {
			if err := row.Fits(*c); err != nil {
				return err
			}
			c.Readings = append(c.Readings[:len(c.Readings):len(c.Readings)], evidence.Taken{ID: row.ID.Ref(), At: row.TakenAt, Reading: read})
		}
		rows = append(rows, row)
		return nil
	})
	return rows, err
}

// Fits reports a row that the label of a case cannot have, or that a stop rule forbids.
func (row Reading) Fits(c evidence.Case) error {
	if pr, bad := evidence.CheckAgainst(c.Label, row.Reading); bad {
		return problem.List{pr}
	}
	return Permitted(c, safety.Act{Work: safety.WorkOf(row.Reading), At: row.TakenAt}, "line")
}

// Permitted reports an act that the stop rules of a case forbid, as a problem of a field.
func Permitted(c evidence.Case, act safety.Act, field string) error {
	if act.Work == safety.None {
		return nil
	}
	if d := safety.Permits(safety.StateOf(evidence.Examine(c)), act); !d.Allowed {
		return Refused(field, d)
	}
	return nil
}

// Refused words what a stop rule forbids as a problem of a field, with what clears it.
func Refused(field string, d safety.Decision) problem.List {
	var list problem.List
	for _, r := range d.Refusals {
		list = append(list, problem.New("problem.stopped", field, r.Reason.Text, r.Clears.Text))
	}
	return list
}

// Take adds a reading that waits on the device for the line to the server, as the
// server will keep it: the several of one line all or none. One that the records
// hold already is left as it is.
func (r *CaseRecords) Take(in Keep, by string, m Moment) error {
	parsed, err := ParseLine(in.Line)
	if err != nil {
		return err
	}
	b, err := OneOf(r.Batteries, in.BatteryID)
	if err != nil {
		return err
	}
	if slices.ContainsFunc(r.Rows, func(row Reading) bool { return row.ID == in.ID }) {
		return nil
	}
	c, err := r.Case(m, b.ID)
	if err != nil {
		return err
	}
	of := Subject{JobID: &r.Job.ID, BatteryID: &b.ID, VehicleID: r.Job.VehicleID}
	rows, err := in.Rows(&c.Case, of, LastOrdinal(r.Rows), parsed, m)
	if err != nil {
		return err
	}
	for i := range rows {
		rows[i].PersonName, rows[i].ReceivedAt = by, time.Time{}
	}
	r.Rows = append(r.Rows, rows...)
	return nil
}

// Say adds an answer that waits on the device.
func (r *Records) Say(in StepAnswer, by string) error {
	b, err := OneOf(r.Batteries, in.BatteryID)
	if err != nil {
		return err
	}
	in.BatteryID, in.By = b.ID, by
	r.Answers = append(r.Answers, in)
	return nil
}

// Waiting is one thing that was done to a job on a device and waits there for the line.
// Kind says which of the fields count.
type Waiting struct {
	ID        ID        `json:"id"`
	Kind      string    `json:"kind"`
	BatteryID ID        `json:"battery_id"`
	By        string    `json:"by"`
	At        time.Time `json:"at"`

	Line string `json:"line"`

	Code  string `json:"code"`
	Value string `json:"value"`
	Note  string `json:"note"`

	// Reading is the one that is corrected, withdrawn or taken back.
	Reading ID     `json:"reading"`
	Reason  string `json:"reason"`

	Stop     school.Caution `json:"stop"`
	Readings []ID           `json:"readings"`
	Revision int            `json:"revision"`

	Tag         string                 `json:"tag"`
	Maker       string                 `json:"maker"`
	Label       Said[battery.Label]    `json:"label"`
	Plate       string                 `json:"plate"`
	Description string                 `json:"description"`
	Facts       Said[evidence.Vehicle] `json:"facts"`
	Mounting    trail.Mounting         `json:"mounting"`

	Place      string `json:"place"`
	AssignedTo *ID    `json:"assigned_to"`
	WaitsFor   string `json:"waits_for"`
	WaitsNote  string `json:"waits_note"`
}

// What waits on a device, by its kind.
const (
	WaitingReading  = "reading"
	WaitingAnswer   = "answer"
	WaitingStop     = "stop"
	WaitingLabel    = "label"
	WaitingVehicle  = "vehicle"
	WaitingMounting = "mounting"
	WaitingDesk     = "desk"
	WaitingClose    = "close"
	WaitingReopen   = "reopen"
	WaitingCorrect  = "correct"
	WaitingMistaken = "mistaken"
	WaitingUndo     = "undo"
)

// Count counts in what waits on the device, as the server will. What only the server
// works out, such as a picture, is left to it.
func (r *Records) Count(w Waiting, m Moment) error {
	switch w.Kind {
	case WaitingReading:
		return r.Take(Keep{ID: w.ID, BatteryID: w.BatteryID, Line: w.Line, TakenAt: w.At}, w.By, m)
	case WaitingAnswer:
		return r.Say(StepAnswer{ID: w.ID, BatteryID: w.BatteryID, Code: w.Code, Value: w.Value, Note: w.Note, At: w.At}, w.By)
	case WaitingStop:
		r.Clearings = append(r.Clearings, Clearing{
			ID: w.ID, BatteryID: w.BatteryID, Stop: w.Stop, Reason: w.Reason, Readings: w.Readings, Revision: w.Revision, By: w.By, At: w.At,
		})
	case WaitingLabel:
		return r.relabel(w)
	case WaitingVehicle:
		return r.describe(w)
	case WaitingMounting:
		return r.mount(w)
	case WaitingDesk:
		r.Job.Place, r.Job.AssignedTo, r.Job.WaitsFor, r.Job.WaitsNote = w.Place, w.AssignedTo, w.WaitsFor, w.WaitsNote
	case WaitingClose:
		at := w.At
		r.Job.State, r.Job.ClosedAt, r.Job.WaitsFor, r.Job.WaitsNote = JobClosed, &at, "", ""
	case WaitingReopen:
		r.Job.State, r.Job.ClosedAt = JobOpen, nil
	case WaitingCorrect, WaitingMistaken, WaitingUndo:
		return r.alter(w, m)
	}
	return nil
}

func (r *Records) relabel(w Waiting) error {
	label, found := w.Label.Read("label")
	if err := found.Err(); err != nil {
		return err
	}
	b, err := r.fitted(w.BatteryID)
	if err != nil {
		return err
	}
	label.Position = b.Label.Position
	b.Tag, b.Maker, b.Label = w.Tag, w.Maker, label
	return nil
}

// fitted is a battery of the job, to be changed.
func (r *Records) fitted(id ID) (*Fitted, error) {
	i := slices.IndexFunc(r.Batteries, func(b Fitted) bool { return b.ID == id })
	if i < 0 {
		return nil, ErrNotFound
	}
	return &r.Batteries[i], nil
}

func (r *Records) describe(w Waiting) error {
	facts, found := w.Facts.Read("facts")
	if err := found.Err(); err != nil {
		return err
	}
	if r.Vehicle == nil {
		return ErrNotFound
	}
	r.Vehicle.Plate, r.Vehicle.Description, r.Vehicle.Vehicle = strings.ToUpper(strings.TrimSpace(w.Plate)), w.Description, facts
	return nil
}

func (r *Records) mount(w Waiting) error {
	b, err := r.fitted(w.BatteryID)
	if err != nil {
		return err
	}
	b.Posts = w.Mounting.Posts
	if r.Vehicle != nil {
		r.Vehicle.Tray, r.Vehicle.Joined = w.Mounting.Where, w.Mounting.Joined
	}
	return nil
}

// alter corrects a reading, withdraws it, or takes the last of either back.
func (r *Records) alter(w Waiting, m Moment) error {
	row := func(id ID) *Reading {
		if i := slices.IndexFunc(r.Rows, func(row Reading) bool { return row.ID == id }); i >= 0 {
			return &r.Rows[i]
		}
		return nil
	}
	old := row(w.Reading)
	if old == nil {
		return ErrNotFound
	}
	act := map[string]string{WaitingCorrect: ActCorrected, WaitingMistaken: ActMistaken, WaitingUndo: ActRestored}[w.Kind]
	next := old.Superseded(w.ID, act, w.Reason)
	next.PersonName, next.ReceivedAt = w.By, m.Now
	switch w.Kind {
	case WaitingCorrect:
		parsed, err := ParseLine(w.Line)
		if err == nil {
			err = OnlyOne(parsed, true)
		}
		if err == nil {
			err = r.Correct(&next, *old, w.Line, parsed[0].Reading, m)
		}
		if err != nil {
			return err
		}
	case WaitingUndo:
		var before *Reading
		if old.SupersedesID != nil {
			before = row(*old.SupersedesID)
		}
		next.Undo(before)
	}
	r.Rows = append(r.Rows, next)
	return nil
}
