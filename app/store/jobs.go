package store

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"grapnel/app/shop"
	"grapnel/app/store/gen"
	"grapnel/core/diagnosis"
	"grapnel/core/school"
)

// AddJob opens a job.
func (s *Store) AddJob(ctx context.Context, shopID shop.ID, j shop.Job) error {
	symptoms, err := encode(j.Symptoms)
	if err != nil {
		return err
	}
	return s.q.AddJob(ctx, gen.AddJobParams{
		ID: j.ID, ShopID: shopID, VehicleID: j.VehicleID, CustomerID: j.CustomerID, State: j.State, Place: j.Place,
		Complaint: j.Complaint, Symptoms: symptoms, School: string(j.School), OpenedAt: j.OpenedAt, PromisedAt: j.PromisedAt,
		OpenedBy: j.OpenedBy, Purpose: j.Purpose, AssignedTo: j.AssignedTo,
	})
}

func jobFrom(row gen.Job) (shop.Job, error) {
	j := shop.Job{
		ID: row.ID, VehicleID: row.VehicleID, CustomerID: row.CustomerID, State: row.State, Place: row.Place,
		Complaint: row.Complaint, School: school.ID(row.School), OpenedAt: row.OpenedAt, PromisedAt: row.PromisedAt,
		ClosedAt: row.ClosedAt, OpenedBy: row.OpenedBy, Revision: int(row.Revision), VerdictID: row.VerdictID,
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
func (s *Store) Job(ctx context.Context, shopID, id shop.ID) (shop.Job, error) {
	row, err := s.q.JobByID(ctx, gen.JobByIDParams{ShopID: shopID, ID: id})
	if err != nil {
		return shop.Job{}, found(err)
	}
	return jobFrom(row)
}

// JobForUpdate finds a job and holds it until the transaction ends, so that
// changes of one job follow each other.
func (s *Store) JobForUpdate(ctx context.Context, shopID, id shop.ID) (shop.Job, error) {
	row, err := s.q.JobForUpdate(ctx, gen.JobForUpdateParams{ShopID: shopID, ID: id})
	if err != nil {
		return shop.Job{}, found(err)
	}
	return jobFrom(row)
}

// UpdateJob writes what changes of a job: its revision, state and latest verdict,
// where it stands, who has it and what it waits for.
func (s *Store) UpdateJob(ctx context.Context, shopID shop.ID, j shop.Job) error {
	return s.q.BumpJob(ctx, gen.BumpJobParams{
		Revision: int32(j.Revision), State: j.State, ClosedAt: j.ClosedAt, VerdictID: j.VerdictID, Place: j.Place,
		AssignedTo: j.AssignedTo, WaitsFor: j.WaitsFor, WaitsNote: j.WaitsNote, ShopID: shopID, ID: j.ID,
	})
}

// AddJobBattery puts a battery on a job.
func (s *Store) AddJobBattery(ctx context.Context, shopID, jobID, batteryID shop.ID, ordinal int, position string) error {
	return s.q.AddJobBattery(ctx, gen.AddJobBatteryParams{JobID: jobID, BatteryID: batteryID, ShopID: shopID, Ordinal: int32(ordinal), Position: position})
}

// BatteriesOfJob lists the batteries of a job in order.
func (s *Store) BatteriesOfJob(ctx context.Context, shopID, jobID shop.ID) ([]shop.SeatedBattery, error) {
	rows, err := s.q.BatteriesOfJob(ctx, gen.BatteriesOfJobParams{ShopID: shopID, JobID: jobID})
	return each(rows, func(r gen.BatteriesOfJobRow) shop.SeatedBattery {
		b := seated(batteryFrom(r.Battery), r.Position)
		b.Jobs = int(r.Jobs)
		return b
	}), err
}

// JobRows lists jobs in a state, latest first, from before a point on.
func (s *Store) JobRows(ctx context.Context, shopID shop.ID, state string, before time.Time, beforeID shop.ID, limit int) ([]shop.TodayRow, error) {
	rows, err := s.q.JobRows(ctx, gen.JobRowsParams{ShopID: shopID, State: state, Before: before, BeforeID: beforeID, Limit: int32(limit)})
	if err != nil {
		return nil, err
	}
	out := make([]shop.TodayRow, 0, len(rows))
	for _, r := range rows {
		job, err := jobFrom(r.Job)
		if err != nil {
			return nil, err
		}
		row := shop.TodayRow{
			Job: job, Plate: r.Plate, Description: r.Description, CustomerName: r.CustomerName,
			Action: diagnosis.Action(r.Action), Waits: r.Waits, Next: r.NextStep,
		}
		out = append(out, row)
	}
	return out, nil
}

// AddReading appends a row to the log of readings. A row that supersedes one
// which another has superseded already is refused.
func (s *Store) AddReading(ctx context.Context, shopID shop.ID, r shop.Reading) error {
	payload, err := encode(r.Reading)
	if err != nil {
		return err
	}
	err = s.q.AddReading(ctx, gen.AddReadingParams{
		ID: r.ID, ShopID: shopID, JobID: r.JobID, BatteryID: r.BatteryID, VehicleID: r.VehicleID, RootID: r.RootID,
		SupersedesID: r.SupersedesID, Ordinal: int32(r.Ordinal), Act: r.Act, Reason: r.Reason, Kind: string(r.Reading.Kind),
		Typed: r.Typed, Payload: payload, TakenAt: r.TakenAt, TakenZone: r.TakenZone, ReceivedAt: r.ReceivedAt,
		PersonID: r.PersonID, Instrument: r.Reading.By,
	})
	if number(err) == errDuplicate {
		return shop.ErrSuperseded
	}
	return err
}

func readingFrom(row gen.Reading, person string) (shop.Reading, error) {
	r := shop.Reading{
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
func (s *Store) Reading(ctx context.Context, shopID, id shop.ID) (shop.Reading, error) {
	row, err := s.q.ReadingByID(ctx, gen.ReadingByIDParams{ShopID: shopID, ID: id})
	if err != nil {
		return shop.Reading{}, found(err)
	}
	return readingFrom(row, "")
}

// ReadingsOfJob lists every row of a job in the order taken.
func (s *Store) ReadingsOfJob(ctx context.Context, shopID, jobID shop.ID) ([]shop.Reading, error) {
	rows, err := s.q.ReadingsOfJob(ctx, gen.ReadingsOfJobParams{ShopID: shopID, JobID: jobID})
	if err != nil {
		return nil, err
	}
	return eachOrFail(rows, func(r gen.ReadingsOfJobRow) (shop.Reading, error) { return readingFrom(r.Reading, r.PersonName) })
}

// ReadingsOfBattery lists the rows of a battery over its visits, latest first.
func (s *Store) ReadingsOfBattery(ctx context.Context, shopID, batteryID shop.ID) ([]shop.Reading, error) {
	rows, err := s.q.ReadingsOfBattery(ctx, gen.ReadingsOfBatteryParams{ShopID: shopID, BatteryID: &batteryID})
	if err != nil {
		return nil, err
	}
	return eachOrFail(rows, func(r gen.ReadingsOfBatteryRow) (shop.Reading, error) { return readingFrom(r.Reading, r.PersonName) })
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

// LastOrdinal is the place of the last reading of a job, zero for none.
func (s *Store) LastOrdinal(ctx context.Context, shopID, jobID shop.ID) (int, error) {
	n, err := s.q.LastOrdinal(ctx, gen.LastOrdinalParams{ShopID: shopID, JobID: jobID})
	return int(n), err
}

// AddVerdict keeps a verdict whole.
func (s *Store) AddVerdict(ctx context.Context, shopID shop.ID, v shop.Verdict) error {
	body, err := encode(v.Body)
	if err != nil {
		return err
	}
	return s.q.AddVerdict(ctx, gen.AddVerdictParams{
		ID: v.ID, ShopID: shopID, JobID: v.JobID, BatteryID: v.BatteryID, Revision: int32(v.Revision), MadeAt: v.MadeAt,
		Action: string(v.Body.Verdict.Action), Waits: v.Waits(), NextStep: v.NextStep(), RulesHash: v.RulesHash, Body: body,
	})
}

// VerdictsOfBattery lists the last verdict of each job of a battery.
func (s *Store) VerdictsOfBattery(ctx context.Context, shopID, batteryID shop.ID) ([]shop.PastVerdict, error) {
	rows, err := s.q.VerdictsOfBattery(ctx, gen.VerdictsOfBatteryParams{ShopID: shopID, BatteryID: batteryID})
	if err != nil {
		return nil, err
	}
	return eachOrFail(rows, func(r gen.VerdictsOfBatteryRow) (shop.PastVerdict, error) {
		v := r.Verdict
		past := shop.PastVerdict{
			Verdict:  shop.Verdict{ID: v.ID, JobID: v.JobID, BatteryID: v.BatteryID, Revision: int(v.Revision), MadeAt: v.MadeAt, RulesHash: v.RulesHash},
			OpenedAt: r.OpenedAt, State: r.State,
		}
		if err := json.Unmarshal(v.Body, &past.Body); err != nil {
			return past, fmt.Errorf("verdict %s: %w", v.ID, err)
		}
		return past, nil
	})
}

// AddEvent writes one change into the audit trail.
func (s *Store) AddEvent(ctx context.Context, shopID shop.ID, e shop.Event) error {
	body, err := encode(e.Body)
	if err != nil {
		return err
	}
	return s.q.AddEvent(ctx, gen.AddEventParams{
		ShopID: shopID, JobID: e.JobID, Revision: int32(e.Revision), PersonID: e.PersonID, Kind: e.Kind, Body: body, At: e.At,
	})
}

// EventsOfJobKind lists the changes of one kind of a job, latest first.
func (s *Store) EventsOfJobKind(ctx context.Context, shopID, jobID shop.ID, kind string) ([]shop.Event, error) {
	rows, err := s.q.EventsOfJobKind(ctx, gen.EventsOfJobKindParams{ShopID: shopID, JobID: &jobID, Kind: kind})
	return each(rows, func(r gen.EventsOfJobKindRow) shop.Event { return eventFrom(r.Event, r.PersonName) }), err
}

func eventFrom(e gen.Event, person string) shop.Event {
	return shop.Event{JobID: e.JobID, Revision: int(e.Revision), PersonID: e.PersonID, PersonName: person, Kind: e.Kind, Body: e.Body, At: e.At}
}

// JobsOfVehicle lists the jobs of a vehicle, latest first.
func (s *Store) JobsOfVehicle(ctx context.Context, shopID, vehicleID shop.ID) ([]shop.Job, error) {
	rows, err := s.q.JobsOfVehicle(ctx, gen.JobsOfVehicleParams{ShopID: shopID, VehicleID: &vehicleID})
	if err != nil {
		return nil, err
	}
	return eachOrFail(rows, jobFrom)
}

// Limits lists the shop's own figures for limits.
func (s *Store) Limits(ctx context.Context, shopID shop.ID) ([]shop.OwnLimit, error) {
	rows, err := s.q.ShopLimits(ctx, shopID)
	return each(rows, func(r gen.ShopLimitsRow) shop.OwnLimit {
		return shop.OwnLimit{ID: school.LimitID(r.LimitID), Value: r.Value, Note: r.Note, SetBy: r.SetByName, SetAt: r.SetAt}
	}), err
}

// SetLimit writes the shop's own figure for a limit.
func (s *Store) SetLimit(ctx context.Context, shopID shop.ID, l shop.OwnLimit, by shop.ID) error {
	return s.q.SetShopLimit(ctx, gen.SetShopLimitParams{ShopID: shopID, LimitID: string(l.ID), Value: l.Value, Note: l.Note, SetBy: by, SetAt: l.SetAt})
}

// DropLimit takes the shop's own figure for a limit away.
func (s *Store) DropLimit(ctx context.Context, shopID shop.ID, id school.LimitID) error {
	return s.q.DropShopLimit(ctx, gen.DropShopLimitParams{ShopID: shopID, LimitID: string(id)})
}

// EventsOfJob lists the changes of a job, latest first.
func (s *Store) EventsOfJob(ctx context.Context, shopID, jobID shop.ID) ([]shop.Event, error) {
	rows, err := s.q.EventsOfJob(ctx, gen.EventsOfJobParams{ShopID: shopID, JobID: &jobID})
	return each(rows, func(r gen.EventsOfJobRow) shop.Event { return eventFrom(r.Event, r.PersonName) }), err
}
