package shop

import (
	"context"
	"time"

	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/problem"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/trail"
)

// CaseRecords is what is written down about a job that its batteries are judged by.
type CaseRecords struct {
	Job         Job             `json:"job"`
	Vehicle     *Vehicle        `json:"vehicle"`
	Batteries   []SeatedBattery `json:"batteries"`
	Rows        []Reading       `json:"rows"`
	Limits      []OwnLimit      `json:"limits"`
	Clearings   []Clearing      `json:"clearings"`
	Instruments []Instrument    `json:"instruments"`
}

// Records is everything that is written down about a job. Its page is worked out
// from them alone, on the server or on a device that the line to it is down for.
type Records struct {
	CaseRecords
	Customer *Customer    `json:"customer"`
	Answers  []StepAnswer `json:"answers"`
	Photos   []Photo      `json:"photos"`
	Sums     []KeptSum    `json:"sums"`
}

// recordsOf reads what the batteries of a job are judged by.
func recordsOf(ctx context.Context, tx Store, shopID ID, j Job) (CaseRecords, error) {
	r := CaseRecords{Job: j}
	var err error
	if r.Batteries, err = tx.BatteriesOfJob(ctx, shopID, j.ID); err != nil {
		return r, err
	}
	if r.Rows, err = tx.ReadingsOfJob(ctx, shopID, j.ID); err != nil {
		return r, err
	}
	if r.Limits, err = tx.Limits(ctx, shopID); err != nil {
		return r, err
	}
	if r.Clearings, err = tx.ClearingsOfJob(ctx, shopID, j.ID); err != nil {
		return r, err
	}
	if r.Instruments, err = tx.Instruments(ctx, shopID); err != nil || j.VehicleID == nil {
		return r, err
	}
	v, err := tx.Vehicle(ctx, shopID, *j.VehicleID)
	r.Vehicle = &v
	return r, wrap(err, "vehicle")
}

func (s *Service) recordsOf(ctx context.Context, who Person, jobID ID) (CaseRecords, error) {
	j, err := s.store.Job(ctx, who.ShopID, jobID)
	if err != nil {
		return CaseRecords{}, err
	}
	return recordsOf(ctx, s.store, who.ShopID, j)
}

// jobCase is one battery of a job as a case for the core.
type jobCase struct {
	evidence.Case
	battery  SeatedBattery
	readings []ReadingView
	// cleared are the stop rules lifted on the job, purpose what it is for.
	cleared []Clearing
	purpose string
}

// cases builds the case of each battery of the job.
func (r CaseRecords) cases() []jobCase {
	figures := own(r.Limits)
	var facts evidence.Vehicle
	if r.Vehicle != nil {
		facts = r.Vehicle.Vehicle
	}
	out := make([]jobCase, 0, len(r.Batteries))
	for _, b := range r.Batteries {
		views, readings := present(r.Rows, b.ID)
		byKind(readings, r.Instruments)
		out = append(out, jobCase{battery: b, readings: views, cleared: r.Clearings, purpose: r.Job.Purpose, Case: evidence.Case{
			Cleared: clearedBy(r.Clearings, b.ID, views), AsOf: r.Job.OpenedAt.Format(time.DateOnly), Label: b.Label, Vehicle: facts,
			Symptoms: r.Job.Symptoms, School: r.Job.School, Own: figures, Readings: readings,
		}})
	}
	return out
}

// caseOf is the case of one battery; of the first where none is named.
func (r CaseRecords) caseOf(batteryID ID) (jobCase, error) {
	for _, c := range r.cases() {
		if batteryID.IsZero() || c.battery.ID == batteryID {
			return c, nil
		}
	}
	return jobCase{}, ErrNotFound
}

// Page is everything the job screen shows.
func (r Records) Page(engine *diagnosis.Engine) JobPage {
	page := JobPage{Job: r.Job, Customer: r.Customer, Vehicle: r.Vehicle, Batteries: []BatteryOnJob{}, Sums: r.Sums, Photos: r.Photos}
	cautions := []school.Caution{}
	for _, c := range r.cases() {
		a := engine.Assess(c.Case)
		stages := trail.Stages(c.Case, a, r.Job.Purpose, r.Job.State == JobClosed)
		page.Batteries = append(page.Batteries, BatteryOnJob{
			SeatedBattery: c.battery, LabelText: labelText(c.battery.Battery), MayOpen: c.Label.MayOpen(), Assessment: a, Picture: engine.Draw(c.Case), Trail: stages,
			Work: workOf(situationOf(r.Job, r.Vehicle, c, a, r.Answers), stages, c.cleared, c.battery.ID), Readings: c.readings, Visits: max(0, c.battery.Jobs-1),
		})
		cautions = append(cautions, a.Cautions...)
	}
	page.Cautions = cautionTexts(cautions)
	return page
}

// Preview judges the job as if a line had been kept, and readings had not been taken.
func (r CaseRecords) Preview(engine *diagnosis.Engine, batteryID ID, want Wanted) (Preview, error) {
	parsed, err := want.parse()
	if err != nil {
		return Preview{}, err
	}
	return r.preview(engine, batteryID, parsed, want)
}

func (r CaseRecords) preview(engine *diagnosis.Engine, batteryID ID, parsed []reading.Parsed, want Wanted) (Preview, error) {
	c, err := r.caseOf(batteryID)
	if err != nil {
		return Preview{}, err
	}
	return c.preview(engine, parsed, want)
}

// Account answers for the verdict on one battery.
func (r CaseRecords) Account(engine *diagnosis.Engine, batteryID ID) (diagnosis.Account, error) {
	c, err := r.caseOf(batteryID)
	if err != nil {
		return diagnosis.Account{}, err
	}
	return engine.Explain(c.Case), nil
}

// battery finds a battery of the job; the first for an empty ID.
func (r CaseRecords) battery(id ID) (SeatedBattery, error) {
	return batteryIn(r.Batteries, id)
}

// Take adds a reading that waits on the device for the line to the server, as the
// server will keep it: the several of one line all or none. One that the records
// hold already is left as it is.
func (r *CaseRecords) Take(in Keep, by string, zone *time.Location) error {
	parsed, err := parse(in.Line)
	if err != nil {
		return err
	}
	b, err := r.battery(in.BatteryID)
	if err != nil {
		return err
	}
	for _, one := range parsed {
		if pr, bad := evidence.CheckAgainst(b.Label, one.Reading); bad {
			return problem.List{pr}
		}
	}
	last := 0
	for _, row := range r.Rows {
		if row.ID == in.ID {
			return nil
		}
		last = max(last, row.Ordinal)
	}
	return in.each(parsed, func(one Keep, read reading.Reading) error {
		last++
		row := one.row(r.Job, b.ID, read, last, in.TakenAt, zone)
		row.PersonName, row.ReceivedAt = by, time.Time{}
		r.Rows = append(r.Rows, row)
		return nil
	})
}

// each goes through the readings of a line: each has its own part of it and an ID
// that follows from the line's.
func (in Keep) each(parsed []reading.Parsed, do func(Keep, reading.Reading) error) error {
	for i, part := range reading.Parts(in.Line) {
		one := in
		one.Line = in.Line[part.Start:part.End]
		if i > 0 {
			one.ID = partID(in.ID, i)
		}
		if err := do(one, parsed[i].Reading); err != nil {
			return err
		}
	}
	return nil
}

// row is a reading as it is written down.
func (in Keep) row(j Job, batteryID ID, r reading.Reading, ordinal int, now time.Time, zone *time.Location) Reading {
	return Reading{
		ID: in.ID, JobID: j.ID, BatteryID: &batteryID, VehicleID: j.VehicleID, RootID: in.ID, Ordinal: ordinal, Act: ActKept,
		Typed: in.Line, Reading: r, TakenAt: takenAt(in.TakenAt, r.At, now, zone), TakenZone: zone.String(), ReceivedAt: now,
	}
}

// Say adds an answer that waits on the device.
func (r *Records) Say(in StepAnswer, by string) error {
	b, err := r.battery(in.BatteryID)
	if err != nil {
		return err
	}
	in.BatteryID, in.By = b.ID, by
	r.Answers = append(r.Answers, in)
	return nil
}
