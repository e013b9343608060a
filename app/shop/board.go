package shop

import (
	"cmp"
	"context"
	"math"
	"slices"
	"strings"
	"time"

	"grapnel/app/record"
	"grapnel/core/diagnosis"
	"grapnel/core/trail"
)

// board is what is in the shop.
type board struct{ *house }

// pageJobs is how many jobs one page of a list holds.
const pageJobs = 60

// TodayRow is one job in the shop.
type TodayRow struct {
	Job          record.Job       `json:"job"`
	Plate        string           `json:"plate"`
	Description  string           `json:"description"`
	CustomerName string           `json:"customer_name"`
	Action       diagnosis.Action `json:"action"`
	// Next is what the job waits on, in words; Brief the same where there is little room.
	Next  string `json:"next"`
	Brief string `json:"brief"`
	// Waits is rest, charge, clean, hands, customer: what kind of wait it is.
	Waits string `json:"waits"`
	// Rank is the row's place among those of its page when the worst is seen to first.
	Rank int `json:"rank"`
	// Late tells that it was promised for a time that has passed.
	Late bool `json:"late"`
	// Batteries counts those of the job; the row speaks of the one to be seen to first.
	Batteries int `json:"batteries"`
	// State is what the row was made of.
	State JobState `json:"-"`
}

// Today is what is in the shop.
type Today struct {
	Shop   record.Shop `json:"shop"`
	Now    time.Time   `json:"now"`
	Open   []TodayRow  `json:"open"`
	Closed []TodayRow  `json:"closed"`
	// More tells whether older open jobs remain.
	More bool `json:"more"`
	// Places are the places of the shop, in order.
	Places []string `json:"places"`
}

// Today lists what is in the shop, latest first, from a point on; the zero
// time starts at the top. With it comes what was handed back lately, see handedBackSince.
func (s board) Today(ctx context.Context, who Person, before time.Time, beforeID ID) (Today, error) {
	sh, err := s.store.Shop(ctx, who.ShopID)
	if err != nil {
		return Today{}, err
	}
	m := Moment{Now: s.stamp(), Zone: sh.Location()}
	// At the top nothing is left out: what a clock stamped that was ahead is in the shop too.
	if before.IsZero() || before.After(endOfTime) {
		before = endOfTime
	}
	open, err := s.store.OpenRows(ctx, who.ShopID, before, beforeID, pageJobs+1)
	if err != nil {
		return Today{}, err
	}
	more := len(open) > pageJobs
	if more {
		open = open[:pageJobs]
	}
	closed, err := s.store.ClosedRows(ctx, who.ShopID, handedBackSince(m), mostClosed)
	if err != nil {
		return Today{}, err
	}
	for _, rows := range [][]TodayRow{open, closed} {
		if err := s.holding(ctx, who, rows, m); err != nil {
			return Today{}, err
		}
	}
	rank(open)
	names, err := placeNames(ctx, s.store, who.ShopID)
	return Today{Shop: sh, Now: m.Now, Open: open, Closed: closed, More: more, Places: names}, err
}

// endOfTime is behind whatever the database can say.
var endOfTime = time.Date(9999, 12, 31, 0, 0, 0, 0, time.UTC)

// shift is how far back what was handed back is listed when midnight is nearer: whoever works
// over midnight has not handed back less for it. Common practice, no source.
const shift = 8 * time.Hour

// handedBackSince is from when on what was handed back is listed: since the shop's midnight,
// and for the length of a shift at least.
func handedBackSince(m Moment) time.Time {
	local := m.Now.In(m.Zone)
	midnight := time.Date(local.Year(), local.Month(), local.Day(), 0, 0, 0, 0, m.Zone).UTC()
	if early := m.Now.Add(-shift); early.Before(midnight) {
		return early
	}
	return midnight
}

// rank says of each row in which place it is seen to. The rows stay as they are paged.
func rank(rows []TodayRow) {
	order := make([]*TodayRow, len(rows))
	for i := range rows {
		order[i] = &rows[i]
	}
	slices.SortStableFunc(order, func(a, b *TodayRow) int { return moreUrgent(*a, *b) })
	for place, row := range order {
		row.Rank = place
	}
}

// moreUrgent orders jobs: the worst first, among equals the one that was promised first.
func moreUrgent(a, b TodayRow) int {
	return cmp.Or(
		cmp.Compare(trail.Urgency(a.Waits, a.Late), trail.Urgency(b.Waits, b.Late)),
		cmp.Compare(promised(a), promised(b)),
	)
}

// promised is when a job was promised for; what was not promised comes after all that was.
func promised(row TodayRow) int64 {
	if row.Job.PromisedAt == nil {
		return math.MaxInt64
	}
	return row.Job.PromisedAt.UnixNano()
}

// mostClosed bounds how many jobs handed back lately are listed.
const mostClosed = 500

// holding makes the rows anew whose state no longer holds.
func (s board) holding(ctx context.Context, who Person, rows []TodayRow, m Moment) error {
	if len(rows) == 0 {
		return nil
	}
	var shared record.CaseRecords
	var err error
	if shared.Limits, err = s.store.Limits(ctx, who.ShopID); err != nil {
		return err
	}
	if shared.Instruments, err = s.store.Instruments(ctx, who.ShopID); err != nil {
		return err
	}
	for i := range rows {
		row := &rows[i]
		shared.Job = row.Job
		if row.State.Basis != s.basis(shared, m) || row.State.Revision != row.Job.Revision {
			if row.State, err = s.refresh(ctx, who.ShopID, row.Job.ID); err != nil {
				return err
			}
		}
		row.Action, row.Waits, row.Next, row.Batteries = row.State.Action, row.State.Waits, row.State.Next, row.State.Batteries
		row.Brief = trail.BoardWords(row.Waits, row.Action)
		row.Late = row.Job.PromisedAt != nil && row.Job.PromisedAt.Before(m.Now)
	}
	return nil
}

// FindVehicles searches the shop's vehicles by plate or customer.
func (s board) FindVehicles(ctx context.Context, who Person, query string) ([]record.FoundVehicle, error) {
	if strings.TrimSpace(query) == "" {
		return []record.FoundVehicle{}, nil
	}
	return s.store.FindVehicles(ctx, who.ShopID, query)
}
