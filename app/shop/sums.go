package shop

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"

	"grapnel/app/record"
	"grapnel/core/bench"
)

// sums are worked out on the bench, and may be kept with a job.
type sums struct{ *house }

const sumKept = "sum_kept"

// WorkSum works a sum out with the shop's own figures.
func (s sums) WorkSum(ctx context.Context, who Person, id string, inputs map[string]string) (bench.Result, error) {
	sum, ok := bench.Find(id)
	if !ok {
		return bench.Result{}, ErrNotFound
	}
	list, err := s.store.Limits(ctx, who.ShopID)
	if err != nil {
		return bench.Result{}, err
	}
	m, err := s.moment(ctx, s.store, who.ShopID)
	if err != nil {
		return bench.Result{}, err
	}
	now := m.Now.In(m.Zone)
	var out bench.Result
	ended := s.judging(ctx, func(j *judged) {
		out, err = sum.Work(inputs, bench.Setting{Year: now.Year(), Month: int(now.Month()), Own: record.Own(list), Engine: j.Engine})
	})
	return out, cmp.Or(ended, err)
}

// KeepSum keeps a sum with a job, as it comes out now. The same ID twice is kept
// once.
func (s sums) KeepSum(ctx context.Context, who Person, jobID ID, in record.KeptSum) error {
	result, err := s.WorkSum(ctx, who, in.Sum, in.Inputs)
	if err != nil {
		return err
	}
	sum, _ := bench.Find(in.Sum)
	body := map[string]any{"sum": in.Sum, "inputs": in.Inputs}
	c := command{who: who, jobID: jobID, kind: sumKept, key: &keyed{id: in.ID, kind: sumKept, subject: &jobID, body: body}}
	return s.run(ctx, c, func(Tx, *record.Job) (done, error) {
		kept := in
		kept.Title, kept.Result, kept.By, kept.At = sum.Title(), result, who.Name, s.stamp()
		kept.Result.Curve = nil // drawn anew from its inputs
		return done{body: kept}, nil
	})
}

// sumsOf lists the sums kept with a job, latest first.
func sumsOf(ctx context.Context, tx EventStore, shopID, jobID ID) ([]record.KeptSum, error) {
	events, err := tx.EventsOfJobKind(ctx, shopID, jobID, sumKept)
	if err != nil {
		return nil, err
	}
	out := make([]record.KeptSum, 0, len(events))
	for _, e := range events {
		var k record.KeptSum
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
