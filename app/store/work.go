package store

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store/gen"
	"grapnel/core/quantity"
	"grapnel/core/school"
)

// LastEvent is the number of the shop's latest event, zero for none.
func (s *Store) LastEvent(ctx context.Context) (int64, error) {
	return s.q.LastEvent(ctx)
}

// EventsAfter lists the shop's events behind one, oldest first, without their
// bodies.
func (s *Store) EventsAfter(ctx context.Context, id int64, limit int) ([]shop.Change, error) {
	rows, err := s.q.EventsAfter(ctx, gen.EventsAfterParams{ID: id, Limit: int32(limit)})
	return each(rows, func(r gen.EventsAfterRow) shop.Change {
		return shop.Change{ID: r.ID, ShopID: r.ShopID, JobID: r.JobID, Revision: int(r.Revision), PersonID: r.PersonID, Kind: r.Kind, At: r.At}
	}), err
}

// SetPosts writes down what posts a battery has.
func (s *Store) SetPosts(ctx context.Context, shopID, batteryID record.ID, posts string) error {
	return s.q.SetPosts(ctx, gen.SetPostsParams{Posts: posts, ShopID: shopID, ID: batteryID})
}

// AddAnswer appends what was said to a step.
func (s *Store) AddAnswer(ctx context.Context, shopID record.ID, a record.StepAnswer) error {
	return s.q.AddAnswer(ctx, gen.AddAnswerParams{
		ID: a.ID, ShopID: shopID, JobID: a.JobID, BatteryID: a.BatteryID, VehicleID: a.VehicleID, Code: a.Code, Value: a.Value,
		Note: a.Note, PersonID: a.PersonID, At: a.At,
	})
}

// AnswersOfJob lists what was said to the steps of a job, oldest first.
func (s *Store) AnswersOfJob(ctx context.Context, shopID, jobID record.ID) ([]record.StepAnswer, error) {
	rows, err := s.q.AnswersOfJob(ctx, gen.AnswersOfJobParams{ShopID: shopID, JobID: &jobID})
	return each(rows, func(r gen.AnswersOfJobRow) record.StepAnswer {
		a := r.Answer
		return record.StepAnswer{
			ID:        a.ID,
			JobID:     a.JobID,
			BatteryID: a.BatteryID,
			Code:      a.Code,
			Value:     a.Value,
			Note:      a.Note,
			PersonID:  a.PersonID,
			By:        r.PersonName,
			At:        a.At,
		}
	}), err
}

// AddClearing appends a stop rule that was lifted.
func (s *Store) AddClearing(ctx context.Context, shopID record.ID, c record.Clearing) error {
	named, err := encode(c.Readings)
	if err != nil {
		return err
	}
	return s.q.AddClearing(ctx, gen.AddClearingParams{
		ID: c.ID, ShopID: shopID, JobID: c.JobID, BatteryID: c.BatteryID, Stop: string(c.Stop), Reason: c.Reason, Last: int32(c.Last),
		Readings: string(named), Revision: int32(c.Revision), PersonID: c.PersonID, At: c.At,
	})
}

// ClearingsOfJob lists the stop rules lifted on a job, oldest first.
func (s *Store) ClearingsOfJob(ctx context.Context, shopID, jobID record.ID) ([]record.Clearing, error) {
	rows, err := s.q.ClearingsOfJob(ctx, gen.ClearingsOfJobParams{ShopID: shopID, JobID: &jobID})
	if err != nil {
		return nil, err
	}
	return eachOrFail(rows, func(r gen.ClearingsOfJobRow) (record.Clearing, error) {
		c := r.Clearing
		out := record.Clearing{
			ID: c.ID, JobID: c.JobID, BatteryID: c.BatteryID, Stop: school.Caution(c.Stop), Reason: c.Reason, Readings: []record.ID{},
			Last:     int(c.Last),
			Revision: int(c.Revision), PersonID: c.PersonID, By: r.PersonName, At: c.At,
		}
		if c.Readings == "" {
			return out, nil // of a release that named them by their place
		}
		if err := json.Unmarshal([]byte(c.Readings), &out.Readings); err != nil {
			return out, fmt.Errorf("clearing %s: %w", c.ID, err)
		}
		return out, nil
	})
}

// AddClock starts a clock; the same one twice starts once.
func (s *Store) AddClock(ctx context.Context, shopID record.ID, c record.Clock) error {
	return s.q.AddClock(ctx, gen.AddClockParams{
		ID: c.ID, ShopID: shopID, JobID: c.JobID, BatteryID: c.BatteryID, VehicleID: c.VehicleID, Kind: c.Kind,
		Seconds: float64(c.Seconds), StartedAt: c.StartedAt, StartedBy: c.StartedBy,
	})
}

func clockFrom(c gen.Clock) record.Clock {
	return record.Clock{
		ID: c.ID, JobID: c.JobID, BatteryID: c.BatteryID, VehicleID: c.VehicleID, Kind: c.Kind, Seconds: quantity.Seconds(c.Seconds),
		StartedAt: c.StartedAt, StartedBy: c.StartedBy, EndedAt: c.EndedAt, Outcome: c.Outcome,
	}
}

// Clock finds a clock.
func (s *Store) Clock(ctx context.Context, shopID, id record.ID) (record.Clock, error) {
	row, err := s.q.ClockByID(ctx, gen.ClockByIDParams{ShopID: shopID, ID: id})
	return clockFrom(row), found(err)
}

// EndClock ends a clock that still runs.
func (s *Store) EndClock(ctx context.Context, shopID, id record.ID, at time.Time, outcome string) error {
	return s.q.EndClock(ctx, gen.EndClockParams{EndedAt: &at, Outcome: outcome, ShopID: shopID, ID: id})
}

// RunningOfJob lists the clocks of a job that nothing has ended, latest first.
func (s *Store) RunningOfJob(ctx context.Context, shopID, jobID record.ID) ([]record.Clock, error) {
	rows, err := s.q.ClocksOfJob(ctx, gen.ClocksOfJobParams{ShopID: shopID, JobID: &jobID})
	return each(rows, clockFrom), err
}

// RestartClock has a clock that still runs begin anew.
func (s *Store) RestartClock(ctx context.Context, shopID, id record.ID, at time.Time) error {
	return s.q.RestartClock(ctx, gen.RestartClockParams{StartedAt: at, ShopID: shopID, ID: id})
}

// RunningClocks lists the shop's clocks that nothing has ended, latest first.
func (s *Store) RunningClocks(ctx context.Context, shopID record.ID) ([]shop.RunningClock, error) {
	rows, err := s.q.RunningClocks(ctx, shopID)
	return each(rows, func(r gen.RunningClocksRow) shop.RunningClock {
		name := r.Plate
		if name == "" {
			name = r.Description
		}
		return shop.RunningClock{Clock: clockFrom(r.Clock), Plate: name, Place: r.Place, By: r.PersonName}
	}), err
}

// Instruments lists the shop's instruments that are in use.
func (s *Store) Instruments(ctx context.Context, shopID record.ID) ([]record.Instrument, error) {
	rows, err := s.q.Instruments(ctx, shopID)
	return each(rows, func(r gen.Instrument) record.Instrument {
		return record.Instrument{ID: r.ID, Name: r.Name, Kind: r.Kind, Protocol: r.Protocol, Address: r.Address, DueOn: r.DueOn}
	}), err
}

// KeepInstrument adds an instrument or changes one.
func (s *Store) KeepInstrument(ctx context.Context, shopID record.ID, i record.Instrument, at time.Time) error {
	if _, err := s.ours(ctx, "instrument", "id", i.ID, shopID); err != nil {
		return err
	}
	return s.q.KeepInstrument(ctx, gen.KeepInstrumentParams{
		ID: i.ID, ShopID: shopID, Name: i.Name, Kind: i.Kind, Protocol: i.Protocol, Address: i.Address, DueOn: i.DueOn, CreatedAt: at,
	})
}

// DropInstrument takes an instrument off the list.
func (s *Store) DropInstrument(ctx context.Context, shopID, id record.ID) error {
	return s.q.DropInstrument(ctx, gen.DropInstrumentParams{ShopID: shopID, ID: id})
}

// AddPhoto keeps a picture.
func (s *Store) AddPhoto(ctx context.Context, shopID record.ID, p record.Photo, body []byte) error {
	return s.q.AddPhoto(ctx, gen.AddPhotoParams{
		ID: p.ID, ShopID: shopID, JobID: p.JobID, BatteryID: p.BatteryID, VehicleID: p.VehicleID, MediaType: p.MediaType, Note: p.Note,
		Body: body, PersonID: p.PersonID, TakenAt: p.TakenAt,
	})
}

// PhotoBody is a picture's bytes with what they are.
func (s *Store) PhotoBody(ctx context.Context, shopID, id record.ID) (mediaType string, body []byte, err error) {
	row, err := s.q.PhotoByID(ctx, gen.PhotoByIDParams{ShopID: shopID, ID: id})
	return row.MediaType, row.Body, found(err)
}

// PhotosOfJob lists the pictures of a job, without their bytes.
func (s *Store) PhotosOfJob(ctx context.Context, shopID, jobID record.ID) ([]record.Photo, error) {
	rows, err := s.q.PhotosOfJob(ctx, gen.PhotosOfJobParams{ShopID: shopID, JobID: &jobID})
	return each(rows, func(r gen.PhotosOfJobRow) record.Photo {
		return record.Photo{ID: r.ID, JobID: &jobID, MediaType: r.MediaType, Note: r.Note, By: r.PersonName, TakenAt: r.TakenAt}
	}), err
}

// CountPhotos counts the pictures of a job.
func (s *Store) CountPhotos(ctx context.Context, shopID, jobID record.ID) (int, error) {
	n, err := s.q.CountPhotos(ctx, gen.CountPhotosParams{ShopID: shopID, JobID: &jobID})
	return int(n), err
}
