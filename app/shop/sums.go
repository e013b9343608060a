package shop

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"grapnel/core/bench"
)

// KeptSum is a sum of the bench that was kept with a job.
type KeptSum struct {
	// ID names the keeping and makes it idempotent.
	ID     ID                `json:"id"`
	Sum    string            `json:"sum"`
	Title  string            `json:"title"`
	Inputs map[string]string `json:"inputs"`
	Result bench.Result      `json:"result"`
	By     string            `json:"by"`
	At     time.Time         `json:"at"`
}

const sumKept = "sum_kept"

// WorkSum works a sum out with the shop's own figures.
func (s *Service) WorkSum(ctx context.Context, who Person, id string, inputs map[string]string) (bench.Result, error) {
	sum, ok := bench.Find(id)
	if !ok {
		return bench.Result{}, ErrNotFound
	}
	figures, err := s.Own(ctx, who)
	if err != nil {
		return bench.Result{}, err
	}
	now := s.now()
	return sum.Work(inputs, bench.Setting{Year: now.Year(), Month: int(now.Month()), Own: figures, Engine: s.engine})
}

// KeepSum keeps a sum with a job, as it comes out now. The same ID twice is kept
// once.
func (s *Service) KeepSum(ctx context.Context, who Person, jobID ID, in KeptSum) error {
	result, err := s.WorkSum(ctx, who, in.Sum, in.Inputs)
	if err != nil {
		return err
	}
	sum, _ := bench.Find(in.Sum)
	in.Title, in.Result, in.By, in.At = sum.Title(), result, who.Name, s.stamp()
	in.Result.Curve = nil // drawn anew from its inputs
	return s.write(ctx, func(tx Store) error {
		j, err := tx.JobForUpdate(ctx, who.ShopID, jobID)
		if err != nil {
			return err
		}
		kept, err := sumsOf(ctx, tx, who.ShopID, jobID)
		if err != nil {
			return err
		}
		for _, k := range kept {
			if k.ID == in.ID {
				return nil
			}
		}
		return s.record(ctx, tx, who, &j, sumKept, in)
	})
}

// sumsOf lists the sums kept with a job, latest first.
func sumsOf(ctx context.Context, tx Store, shopID, jobID ID) ([]KeptSum, error) {
	events, err := tx.EventsOfJobKind(ctx, shopID, jobID, sumKept)
	if err != nil {
		return nil, err
	}
	out := make([]KeptSum, 0, len(events))
	for _, e := range events {
		var k KeptSum
		body, ok := e.Body.(json.RawMessage)
		if !ok {
			return nil, fmt.Errorf("event body is %T", e.Body)
		}
		if err := json.Unmarshal(body, &k); err != nil {
			return nil, fmt.Errorf("kept sum: %w", err)
		}
		out = append(out, k)
	}
	return out, nil
}
