package shop

import (
	"context"
	"time"

	"grapnel/core/diagnosis"
)

// places are where a job can stand, in the order of the board.
var places = []string{"Bay 1", "Bay 2", "Bay 3", "Shelf", "Yard", "Counter"}

// Places lists where a job can stand.
func Places() []string { return append([]string(nil), places...) }

// pageJobs is how many jobs one page of a list holds.
const pageJobs = 60

// NextStep is what the job waits on, in words; empty when the customer decides.
func (v Verdict) NextStep() string {
	if len(v.Body.Next) == 0 || v.Waits() == "customer" {
		return ""
	}
	return v.Body.Next[0].Text.Text
}

// Waits names the kind of wait, from the verdict and the step it asks for.
func (v Verdict) Waits() string {
	first := ""
	if len(v.Body.Next) > 0 {
		first = v.Body.Next[0].Test
	}
	switch v.Body.Verdict.Action {
	case diagnosis.ChargeAndRetest:
		if first == "rest" || first == "open_circuit" {
			return "rest"
		}
		return "charge"
	case diagnosis.CleanAndRetest:
		return "clean"
	case diagnosis.StopUnsafe:
		return "stop"
	case diagnosis.Keep, diagnosis.Replace:
		return "customer"
	case diagnosis.MoreTests:
		if first == "rest" {
			return "rest"
		}
	}
	return "hands"
}

// Today lists what is in the shop, latest first, from a point on; the zero
// time starts at the top.
func (s *Service) Today(ctx context.Context, who Person, before time.Time, beforeID ID) (Today, error) {
	sh, err := s.store.OnlyShop(ctx)
	if err != nil {
		return Today{}, err
	}
	now := s.stamp()
	if before.IsZero() {
		before = now.Add(24 * time.Hour)
	}
	open, err := s.store.JobRows(ctx, who.ShopID, JobOpen, before, beforeID, pageJobs+1)
	if err != nil {
		return Today{}, err
	}
	closed, err := s.closedToday(ctx, who, sh, now)
	more := len(open) > pageJobs
	if more {
		open = open[:pageJobs]
	}
	return Today{Shop: sh, Now: now, Open: open, Closed: closed, More: more, Places: Places()}, err
}

// closedToday lists the latest jobs that were handed back since midnight.
func (s *Service) closedToday(ctx context.Context, who Person, sh Shop, now time.Time) ([]TodayRow, error) {
	rows, err := s.store.JobRows(ctx, who.ShopID, JobClosed, now.Add(time.Minute), ID{}, pageJobs)
	local := now.In(sh.Location())
	midnight := time.Date(local.Year(), local.Month(), local.Day(), 0, 0, 0, 0, local.Location())
	out := []TodayRow{}
	for _, row := range rows {
		if row.Job.ClosedAt != nil && !row.Job.ClosedAt.Before(midnight) {
			out = append(out, row)
		}
	}
	return out, err
}
