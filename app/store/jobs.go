package store

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store/gen"
	"grapnel/core/diagnosis"
	"grapnel/core/school"
)

// AddJob opens a job.
func (s *Store) AddJob(ctx context.Context, shopID record.ID, j record.Job) error {
	symptoms, err := encode(j.Symptoms)
	if err != nil {
		return err
	}
	return s.q.AddJob(ctx, gen.AddJobParams{
		ID: j.ID, ShopID: shopID, VehicleID: j.VehicleID, CustomerID: j.CustomerID, State: j.State, PlaceID: j.PlaceID,
		Complaint: j.Complaint, Symptoms: symptoms, School: string(j.School), OpenedAt: j.OpenedAt, PromisedAt: j.PromisedAt,
		OpenedBy: j.OpenedBy, Purpose: j.Purpose, AssignedTo: j.AssignedTo,
	})
}

func jobFrom(row gen.Job, place string) (record.Job, error) {
	j := record.Job{
		ID: row.ID, VehicleID: row.VehicleID, CustomerID: row.CustomerID, State: row.State, PlaceID: row.PlaceID, Place: place,
		Complaint: row.Complaint, School: school.ID(row.School), OpenedAt: row.OpenedAt, PromisedAt: row.PromisedAt,
		ClosedAt: row.ClosedAt, OpenedBy: row.OpenedBy, Revision: int(row.Revision), Touched: row.Touched,
		Purpose: row.Purpose, AssignedTo: row.AssignedTo, WaitsFor: row.WaitsFor, WaitsNote: row.WaitsNote,
	}
	if len(row.Symptoms) == 0 {
		return j, nil
	}
	if err := json.Unmarshal(row.Symptoms, &j.Symptoms); err != nil {
		return j, fmt.Errorf("symptoms of job %s: %w", row.ID, err)
	}
	return j, nil
}

// Job finds a job.
func (s *Store) Job(ctx context.Context, shopID, id record.ID) (record.Job, error) {
	row, err := s.q.JobByID(ctx, gen.JobByIDParams{ShopID: shopID, ID: id})
	if err != nil {
		return record.Job{}, found(err)
	}
	return jobFrom(row.Job, row.Place)
}

// JobForUpdate finds a job and holds it until the transaction ends, so that
// changes of one job follow each other.
func (s *Store) JobForUpdate(ctx context.Context, shopID, id record.ID) (record.Job, error) {
	row, err := s.q.JobForUpdate(ctx, gen.JobForUpdateParams{ShopID: shopID, ID: id})
	if err != nil {
		return record.Job{}, found(err)
	}
	return jobFrom(row.Job, row.Place)
}

// UpdateJob writes what changes of a job: its revision and state, where it stands, who
// has it and what it waits for. It counts the change.
func (s *Store) UpdateJob(ctx context.Context, shopID record.ID, j record.Job) error {
	return s.q.UpdateJob(ctx, gen.UpdateJobParams{
		Revision: int32(j.Revision), State: j.State, ClosedAt: j.ClosedAt, PlaceID: j.PlaceID,
		AssignedTo: j.AssignedTo, WaitsFor: j.WaitsFor, WaitsNote: j.WaitsNote, ShopID: shopID, ID: j.ID,
	})
}

// TouchJobsOf counts a change of a battery or a vehicle on every job it is on; what those
// came to is made anew when next it is asked for.
func (s *Store) TouchJobsOf(ctx context.Context, shopID record.ID, of record.Subject) error {
	if of.VehicleID != nil {
		return s.q.TouchJobsOfVehicle(ctx, gen.TouchJobsOfVehicleParams{ShopID: shopID, VehicleID: of.VehicleID})
	}
	return s.q.TouchJobsOfBattery(ctx, gen.TouchJobsOfBatteryParams{ShopID: shopID, BatteryID: *of.BatteryID})
}

// Stamps count the changes of the shop and of a job.
func (s *Store) Stamps(ctx context.Context, shopID, jobID record.ID) (shop.Stamps, error) {
	row, err := s.q.Stamps(ctx, gen.StampsParams{ShopID: shopID, ID: jobID})
	return shop.Stamps{Shop: row.ShopTouched, Job: row.JobTouched, Event: row.LastEvent}, found(err)
}

// AddJobBattery puts a battery on a job.
func (s *Store) AddJobBattery(ctx context.Context, shopID, jobID, batteryID record.ID, ordinal int, position string) error {
	return s.q.AddJobBattery(
		ctx,
		gen.AddJobBatteryParams{JobID: jobID, BatteryID: batteryID, ShopID: shopID, Ordinal: int32(ordinal), Position: position},
	)
}

// BatteriesOfJob lists the batteries of a job in order.
func (s *Store) BatteriesOfJob(ctx context.Context, shopID, jobID record.ID) ([]record.Fitted, error) {
	rows, err := s.q.BatteriesOfJob(ctx, gen.BatteriesOfJobParams{ShopID: shopID, JobID: jobID})
	return each(rows, func(r gen.BatteriesOfJobRow) record.Fitted {
		b := fitted(batteryFrom(r.Battery), r.Position)
		b.Jobs = int(r.Jobs)
		return b
	}), err
}

// OpenRows lists the open jobs, latest first, from before a point on.
func (s *Store) OpenRows(ctx context.Context, shopID record.ID, before time.Time, beforeID record.ID, limit int) ([]shop.TodayRow, error) {
	rows, err := s.q.OpenRows(ctx, gen.OpenRowsParams{ShopID: shopID, Before: before, BeforeID: beforeID, Limit: int32(limit)})
	if err != nil {
		return nil, err
	}
	return eachOrFail(rows, todayRow)
}

// ClosedRows lists the jobs handed back since a moment, the latest first.
func (s *Store) ClosedRows(ctx context.Context, shopID record.ID, since time.Time, limit int) ([]shop.TodayRow, error) {
	rows, err := s.q.ClosedRows(ctx, gen.ClosedRowsParams{ShopID: shopID, ClosedAt: &since, Limit: int32(limit)})
	if err != nil {
		return nil, err
	}
	return eachOrFail(rows, func(r gen.ClosedRowsRow) (shop.TodayRow, error) { return todayRow(gen.OpenRowsRow(r)) })
}

func todayRow(r gen.OpenRowsRow) (shop.TodayRow, error) {
	job, err := jobFrom(r.Job, r.Place)
	s := r.JobState
	return shop.TodayRow{Job: job, Plate: r.Plate, Description: r.Description, CustomerName: r.CustomerName, State: shop.JobState{
		JobID: s.JobID, Revision: int(s.Revision), Basis: s.Basis, BatteryID: s.BatteryID, Batteries: int(s.Batteries),
		Action: diagnosis.Action(s.Action),
		Waits:  s.Waits, Next: s.NextStep, MadeAt: s.MadeAt,
	}}, err
}

// mostNext is the longest sentence of what is next, in characters.
const mostNext = 500

// PutState writes what a job has come to.
func (s *Store) PutState(ctx context.Context, shopID record.ID, j shop.JobState) error {
	return s.q.PutJobState(ctx, gen.PutJobStateParams{
		JobID: j.JobID, ShopID: shopID, Revision: int32(j.Revision), Basis: j.Basis, BatteryID: j.BatteryID, Batteries: int32(j.Batteries),
		Action: string(j.Action), Waits: j.Waits, NextStep: short(j.Next), MadeAt: j.MadeAt,
	})
}

// short cuts a sentence to what its column holds.
func short(text string) string {
	if runes := []rune(text); len(runes) > mostNext {
		return string(runes[:mostNext-1]) + "…"
	}
	return text
}

// LatestJob is the job opened last.
func (s *Store) LatestJob(ctx context.Context, shopID record.ID) (record.ID, error) {
	id, err := s.q.LatestJob(ctx, shopID)
	return id, found(err)
}

// JobsOfBattery lists the jobs of a battery, latest first.
func (s *Store) JobsOfBattery(ctx context.Context, shopID, batteryID record.ID) ([]record.Job, error) {
	rows, err := s.q.JobsOfBattery(ctx, gen.JobsOfBatteryParams{ShopID: shopID, BatteryID: batteryID})
	if err != nil {
		return nil, err
	}
	return eachOrFail(rows, func(r gen.JobsOfBatteryRow) (record.Job, error) { return jobFrom(r.Job, r.Place) })
}

// readingColumns are those of a reading, in the order a row is written.
const readingColumns = "INSERT INTO reading (id, shop_id, job_id, battery_id, vehicle_id, root_id, supersedes_id, ordinal, act, reason, kind, typed, payload, taken_at, taken_zone, received_at, person_id, instrument) VALUES "

// AddReadings appends rows to the log of readings, in one statement. A row that
// supersedes one which another has superseded already is refused.
func (s *Store) AddReadings(ctx context.Context, shopID record.ID, rows ...record.Reading) error {
	if len(rows) == 0 {
		return nil
	}
	values := make([]any, 0, len(rows)*18)
	for _, r := range rows {
		payload, err := encode(r.Reading)
		if err != nil {
			return err
		}
		values = append(values, r.ID, shopID, r.JobID, r.BatteryID, r.VehicleID, r.RootID, r.SupersedesID, r.Ordinal, r.Act, r.Reason,
			string(r.Reading.Kind), r.Typed, []byte(payload), r.TakenAt, r.TakenZone, r.ReceivedAt, r.PersonID, r.Reading.By)
	}
	one := "(?" + strings.Repeat(", ?", 17) + ")"
	_, err := s.run.ExecContext(ctx, readingColumns+one+strings.Repeat(", "+one, len(rows)-1), values...)
	if number(err) == errDuplicate {
		return shop.ErrSuperseded
	}
	return err
}

func readingFrom(row gen.Reading, person string) (record.Reading, error) {
	r := record.Reading{
		ID: row.ID, JobID: row.JobID, BatteryID: row.BatteryID, VehicleID: row.VehicleID, RootID: row.RootID,
		SupersedesID: row.SupersedesID, Ordinal: int(row.Ordinal), Act: row.Act, Reason: row.Reason, Typed: row.Typed,
		TakenAt: row.TakenAt, TakenZone: row.TakenZone, ReceivedAt: row.ReceivedAt, PersonID: row.PersonID, PersonName: person,
	}
	if err := json.Unmarshal(row.Payload, &r.Reading); err != nil {
		return r, fmt.Errorf("reading %s: %w", row.ID, err)
	}
	return r, nil
}

// Reading finds one row.
func (s *Store) Reading(ctx context.Context, shopID, id record.ID) (record.Reading, error) {
	row, err := s.q.ReadingByID(ctx, gen.ReadingByIDParams{ShopID: shopID, ID: id})
	if err != nil {
		return record.Reading{}, found(err)
	}
	return readingFrom(row, "")
}

// ReadingsOfJobs lists every row of some jobs in the order taken.
func (s *Store) ReadingsOfJobs(ctx context.Context, shopID record.ID, jobs ...record.ID) ([]record.Reading, error) {
	if len(jobs) == 1 {
		rows, err := s.q.ReadingsOfJob(ctx, gen.ReadingsOfJobParams{ShopID: shopID, JobID: &jobs[0]})
		if err != nil {
			return nil, err
		}
		return eachOrFail(rows, func(r gen.ReadingsOfJobRow) (record.Reading, error) { return readingFrom(r.Reading, r.PersonName) })
	}
	if len(jobs) == 0 {
		return nil, nil
	}
	ids := make([]*record.ID, len(jobs))
	for i := range jobs {
		ids[i] = &jobs[i]
	}
	rows, err := s.q.ReadingsOfJobs(ctx, gen.ReadingsOfJobsParams{ShopID: shopID, Jobs: ids})
	if err != nil {
		return nil, err
	}
	return eachOrFail(rows, func(r gen.ReadingsOfJobsRow) (record.Reading, error) { return readingFrom(r.Reading, r.PersonName) })
}

// LooseReadings lists the rows of a battery that belong to no job, in the order taken.
func (s *Store) LooseReadings(ctx context.Context, shopID, batteryID record.ID) ([]record.Reading, error) {
	rows, err := s.q.LooseReadings(ctx, gen.LooseReadingsParams{ShopID: shopID, BatteryID: &batteryID})
	if err != nil {
		return nil, err
	}
	return eachOrFail(rows, func(r gen.LooseReadingsRow) (record.Reading, error) { return readingFrom(r.Reading, r.PersonName) })
}

func eachOrFail[A, B any](list []A, f func(A) (B, error)) ([]B, error) {
	out := make([]B, 0, len(list))
	for _, a := range list {
		b, err := f(a)
		if err != nil {
			return nil, err
		}
		out = append(out, b)
	}
	return out, nil
}

// AddVerdict keeps a verdict whole.
func (s *Store) AddVerdict(ctx context.Context, shopID record.ID, v record.Verdict) error {
	body, err := encode(v.Body)
	if err != nil {
		return err
	}
	return s.q.AddVerdict(ctx, gen.AddVerdictParams{
		ID: v.ID, ShopID: shopID, JobID: v.JobID, BatteryID: v.BatteryID, Revision: int32(v.Revision), MadeAt: v.MadeAt,
		Action: string(v.Body.Verdict.Action), RulesHash: v.RulesHash, Body: body,
	})
}

// VerdictsOfBattery lists the last verdict of each job of a battery.
func (s *Store) VerdictsOfBattery(ctx context.Context, shopID, batteryID record.ID) ([]record.Verdict, error) {
	rows, err := s.q.VerdictsOfBattery(ctx, gen.VerdictsOfBatteryParams{ShopID: shopID, BatteryID: batteryID})
	if err != nil {
		return nil, err
	}
	return eachOrFail(rows, func(r gen.VerdictsOfBatteryRow) (record.Verdict, error) {
		v := record.Verdict{ID: r.ID, JobID: r.JobID, BatteryID: batteryID, Revision: int(r.Revision), MadeAt: r.MadeAt, RulesHash: r.RulesHash}
		if err := json.Unmarshal(r.Body, &v.Body); err != nil {
			return v, fmt.Errorf("verdict %s: %w", r.ID, err)
		}
		return v, nil
	})
}

// AddEvent writes one change into the audit trail.
func (s *Store) AddEvent(ctx context.Context, shopID record.ID, e shop.Event) error {
	body, err := encode(e.Body)
	if err != nil {
		return err
	}
	return s.q.AddEvent(ctx, gen.AddEventParams{
		ShopID: shopID, JobID: e.JobID, Revision: int32(e.Revision), PersonID: e.PersonID, Kind: e.Kind, Body: body, At: e.At,
	})
}

// EventsOfJobKind lists the changes of one kind of a job, latest first.
func (s *Store) EventsOfJobKind(ctx context.Context, shopID, jobID record.ID, kind string) ([]shop.Event, error) {
	rows, err := s.q.EventsOfJobKind(ctx, gen.EventsOfJobKindParams{ShopID: shopID, JobID: &jobID, Kind: kind})
	return each(rows, func(r gen.EventsOfJobKindRow) shop.Event { return eventFrom(r.Event, r.PersonName) }), err
}

func eventFrom(e gen.Event, person string) shop.Event {
	return shop.Event{
		JobID:      e.JobID,
		Revision:   int(e.Revision),
		PersonID:   e.PersonID,
		PersonName: person,
		Kind:       e.Kind,
		Body:       e.Body,
		At:         e.At,
	}
}

// JobsOfVehicle lists the jobs of a vehicle, latest first.
func (s *Store) JobsOfVehicle(ctx context.Context, shopID, vehicleID record.ID) ([]record.Job, error) {
	rows, err := s.q.JobsOfVehicle(ctx, gen.JobsOfVehicleParams{ShopID: shopID, VehicleID: &vehicleID})
	if err != nil {
		return nil, err
	}
	return eachOrFail(rows, func(r gen.JobsOfVehicleRow) (record.Job, error) { return jobFrom(r.Job, r.Place) })
}

// Limits lists the shop's own figures for limits.
func (s *Store) Limits(ctx context.Context, shopID record.ID) ([]record.OwnLimit, error) {
	rows, err := s.q.ShopLimits(ctx, shopID)
	return each(rows, func(r gen.ShopLimitsRow) record.OwnLimit {
		return record.OwnLimit{ID: school.LimitID(r.LimitID), Value: r.Value, Note: r.Note, SetBy: r.SetByName, SetAt: r.SetAt}
	}), err
}

// SetLimit writes the shop's own figure for a limit.
func (s *Store) SetLimit(ctx context.Context, shopID record.ID, l record.OwnLimit, by record.ID) error {
	return s.q.SetShopLimit(
		ctx,
		gen.SetShopLimitParams{ShopID: shopID, LimitID: string(l.ID), Value: l.Value, Note: l.Note, SetBy: by, SetAt: l.SetAt},
	)
}

// DropLimit takes the shop's own figure for a limit away.
func (s *Store) DropLimit(ctx context.Context, shopID record.ID, id school.LimitID) error {
	return s.q.DropShopLimit(ctx, gen.DropShopLimitParams{ShopID: shopID, LimitID: string(id)})
}

// EventsOfJob lists the changes of a job, latest first.
func (s *Store) EventsOfJob(ctx context.Context, shopID, jobID record.ID) ([]shop.Event, error) {
	rows, err := s.q.EventsOfJob(ctx, gen.EventsOfJobParams{ShopID: shopID, JobID: &jobID})
	return each(rows, func(r gen.EventsOfJobRow) shop.Event { return eventFrom(r.Event, r.PersonName) }), err
}
