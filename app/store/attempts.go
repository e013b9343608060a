package store

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"grapnel/app/record"
	"grapnel/app/store/gen"
)

// AddAttempt writes down that an order of work was begun.
func (s *Store) AddAttempt(ctx context.Context, shopID record.ID, a record.Attempt) error {
	setting, err := json.Marshal(a.Setting)
	if err != nil {
		return err
	}
	return s.q.AddAttempt(ctx, gen.AddAttemptParams{
		ID: a.ID, ShopID: shopID, JobID: a.JobID, BatteryID: a.BatteryID, PersonID: a.PersonID, Name: a.Name, Setting: string(setting),
		School: a.School, People: int32(a.People), Minutes: a.Minutes, BegunAt: a.BegunAt,
		OrderHash: a.Order,
	})
}

// Attempt is one attempt.
func (s *Store) Attempt(ctx context.Context, shopID, id record.ID) (record.Attempt, error) {
	row, err := s.q.Attempt(ctx, gen.AttemptParams{ShopID: shopID, ID: id})
	if err != nil {
		return record.Attempt{}, found(err)
	}
	return attemptOf(row.Attempt, row.PersonName)
}

// AttemptsOfJob lists those of a job, the latest first.
func (s *Store) AttemptsOfJob(ctx context.Context, shopID, jobID record.ID) ([]record.Attempt, error) {
	rows, err := s.q.AttemptsOfJob(ctx, gen.AttemptsOfJobParams{ShopID: shopID, JobID: jobID})
	out := make([]record.Attempt, 0, len(rows))
	for _, row := range rows {
		a, err := attemptOf(row.Attempt, row.PersonName)
		if err != nil {
			return nil, err
		}
		out = append(out, a)
	}
	return out, err
}

func attemptOf(row gen.Attempt, by string) (record.Attempt, error) {
	a := record.Attempt{
		ID: row.ID, JobID: row.JobID, BatteryID: row.BatteryID, Name: row.Name, School: row.School, People: int(row.People), Minutes: row.Minutes,
		PersonID: row.PersonID, By: by, BegunAt: row.BegunAt, Order: row.OrderHash,
	}
	if err := json.Unmarshal([]byte(row.Setting), &a.Setting); err != nil {
		return record.Attempt{}, fmt.Errorf("attempt %s: its setting: %w", row.ID, err)
	}
	return a, nil
}

// AddAttemptEvent appends what was done.
func (s *Store) AddAttemptEvent(ctx context.Context, shopID record.ID, e record.AttemptEvent, received time.Time) error {
	return s.q.AddAttemptEvent(ctx, gen.AddAttemptEventParams{
		ID: e.ID, ShopID: shopID, AttemptID: e.AttemptID, PersonID: e.PersonID, Step: int32(e.Step), Did: e.Did, Note: e.Note, At: e.At, ReceivedAt: received,
	})
}

// AttemptEvents lists what was done in an attempt, in the order it was kept.
func (s *Store) AttemptEvents(ctx context.Context, shopID, attemptID record.ID) ([]record.AttemptEvent, error) {
	rows, err := s.q.AttemptEvents(ctx, gen.AttemptEventsParams{ShopID: shopID, AttemptID: attemptID})
	return each(rows, func(r gen.AttemptEventsRow) record.AttemptEvent { return eventOf(r.AttemptEvent, r.PersonName) }), err
}

// AttemptEventsOfJob lists what was done in all attempts of a job, in the order it was kept.
func (s *Store) AttemptEventsOfJob(ctx context.Context, shopID, jobID record.ID) ([]record.AttemptEvent, error) {
	rows, err := s.q.AttemptEventsOfJob(ctx, gen.AttemptEventsOfJobParams{ShopID: shopID, JobID: jobID})
	return each(rows, func(r gen.AttemptEventsOfJobRow) record.AttemptEvent { return eventOf(r.AttemptEvent, r.PersonName) }), err
}

func eventOf(r gen.AttemptEvent, by string) record.AttemptEvent {
	return record.AttemptEvent{ID: r.ID, AttemptID: r.AttemptID, Step: int(r.Step), Did: r.Did, Note: r.Note, PersonID: r.PersonID, By: by, At: r.At}
}
