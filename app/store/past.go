package store

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"

	"github.com/klauspost/compress/zstd"

	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store/gen"
)

// A verdict that another has taken the place of is kept as what has to be known besides the
// next to make it again: compressed with the next as its dictionary. Twenty kilobytes become
// some hundreds of bytes, and come back to the letter, found right by a checksum.

// pastOf is what has to be known of a text besides the next.
func pastOf(body, next []byte) ([]byte, error) {
	encoder, err := zstd.NewWriter(nil, zstd.WithEncoderDictRaw(1, next), zstd.WithEncoderConcurrency(1), zstd.WithEncoderLevel(zstd.SpeedBetterCompression))
	if err != nil {
		return nil, err
	}
	return encoder.EncodeAll(body, nil), encoder.Close()
}

// mostVerdict bounds what a verdict unpacks to, in bytes.
const mostVerdict = 64 << 20

// again makes a text again out of what was known besides the next.
func again(past, next []byte) ([]byte, error) {
	decoder, err := zstd.NewReader(nil, zstd.WithDecoderDictRaw(1, next), zstd.WithDecoderConcurrency(1), zstd.WithDecoderMaxMemory(mostVerdict))
	if err != nil {
		return nil, err
	}
	defer decoder.Close()
	return decoder.DecodeAll(past, nil)
}

// thinAtOnce is how many batteries of jobs are thinned in one go.
const thinAtOnce = 200

// ThinVerdicts makes verdicts that no longer hold small, and reports whether some are left to
// do.
func (s *Store) ThinVerdicts(ctx context.Context) (more bool, err error) {
	list, err := s.q.SupersededVerdicts(ctx, thinAtOnce)
	if err != nil {
		return false, err
	}
	for _, one := range list {
		if err := s.Write(ctx, func(tx shop.Tx) error { return tx.(*Store).thin(ctx, one) }); err != nil {
			return false, fmt.Errorf("verdicts of job %s: %w", one.JobID, err)
		}
	}
	return len(list) == thinAtOnce, nil
}

// thin makes all but the last of the verdicts of a battery on a job small. Those that are
// whole are the latest ones, so that each has its next beside it.
func (s *Store) thin(ctx context.Context, of gen.SupersededVerdictsRow) error {
	rows, err := s.q.VerdictsForUpdate(ctx, gen.VerdictsForUpdateParams(of))
	if err != nil {
		return err
	}
	for i := 0; i+1 < len(rows); i++ {
		past, err := pastOf(rows[i].Body, rows[i+1].Body)
		if err != nil {
			return err
		}
		if err := s.q.ThinVerdict(ctx, gen.ThinVerdictParams{Past: past, ShopID: of.ShopID, ID: rows[i].ID}); err != nil {
			return err
		}
	}
	return nil
}

// VerdictHistory lists every verdict of a battery on a job, the latest first, each as it was.
func (s *Store) VerdictHistory(ctx context.Context, shopID, jobID, batteryID record.ID) ([]record.Verdict, error) {
	rows, err := s.q.VerdictHistory(ctx, gen.VerdictHistoryParams{ShopID: shopID, JobID: jobID, BatteryID: batteryID})
	if err != nil {
		return nil, err
	}
	slices.Reverse(rows)
	out := make([]record.Verdict, len(rows))
	var next []byte
	for i, r := range rows {
		body := []byte(r.Body)
		if !r.Whole {
			if body, err = again(r.Past, next); err != nil {
				return nil, fmt.Errorf("verdict %s: %w", r.ID, err)
			}
		}
		out[i] = record.Verdict{ID: r.ID, JobID: r.JobID, BatteryID: r.BatteryID, Revision: int(r.Revision), MadeAt: r.MadeAt, RulesHash: r.RulesHash}
		if err := json.Unmarshal(body, &out[i].Body); err != nil {
			return nil, fmt.Errorf("verdict %s: %w", r.ID, err)
		}
		next = body
	}
	return out, nil
}
