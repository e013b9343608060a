package shop_test

import (
	"context"
	"errors"
	"slices"
	"sync"
	"testing"
	"testing/synctest"
	"time"

	"grapnel/app/shop"
)

// eventsOnly is a store of nothing but events, as several writers leave them: their
// numbers are given out in one order and may be seen in another.
type eventsOnly struct {
	shop.Store
	mu   sync.Mutex
	list []shop.Change
}

func (e *eventsOnly) LastEvent(context.Context) (int64, error) {
	e.mu.Lock()
	defer e.mu.Unlock()
	last := int64(0)
	for _, c := range e.list {
		last = max(last, c.ID)
	}
	return last, nil
}

func (e *eventsOnly) EventsAfter(_ context.Context, id int64, limit int) ([]shop.Change, error) {
	e.mu.Lock()
	defer e.mu.Unlock()
	out := []shop.Change{}
	for _, c := range e.list {
		if c.ID > id {
			out = append(out, c)
		}
	}
	slices.SortFunc(out, func(a, b shop.Change) int { return int(a.ID - b.ID) })
	return out[:min(limit, len(out))], nil
}

func (e *eventsOnly) commit(ids ...int64) {
	e.mu.Lock()
	defer e.mu.Unlock()
	for _, id := range ids {
		e.list = append(e.list, shop.Change{ID: id})
	}
}

// follow lets a feed run on a store while something is tried with it, in a time of its own.
func follow(t *testing.T, e *eventsOnly, try func(t *testing.T, ctx context.Context, feed *shop.Feed)) {
	t.Helper()
	synctest.Test(t, func(t *testing.T) {
		ctx, stop := context.WithCancel(t.Context())
		defer stop()
		feed := shop.NewService(e, time.Now).Feed()
		go feed.Run(ctx, func(err error) { t.Error(err) })
		synctest.Wait()
		if !feed.Begun() {
			t.Fatal("the feed has not begun")
		}
		try(t, ctx, feed)
	})
}

// TestFeedOutOfOrder commits events in another order than they are numbered: each is
// told, once.
func TestFeedOutOfOrder(t *testing.T) {
	e := &eventsOnly{list: []shop.Change{{ID: 5}}}
	follow(t, e, func(t *testing.T, ctx context.Context, feed *shop.Feed) {
		place, err := feed.From(0)
		if err != nil {
			t.Fatal(err)
		}
		var told []int64
		for _, step := range [][]int64{{7, 9}, {6}, {8, 10}} {
			e.commit(step...)
			for want := len(told) + len(step); len(told) < want; {
				list, next, err := feed.After(ctx, place)
				if err != nil {
					t.Fatal(err)
				}
				for _, c := range list {
					told = append(told, c.ID)
				}
				place = next
			}
		}
		if !slices.Equal(told, []int64{7, 9, 6, 8, 10}) {
			t.Errorf("told %v", told)
		}
	})
}

// TestFeedBehind checks that a listener that comes back too late is told so, instead
// of going on with a gap.
func TestFeedBehind(t *testing.T) {
	e := &eventsOnly{list: []shop.Change{{ID: 5}}}
	follow(t, e, func(t *testing.T, ctx context.Context, feed *shop.Feed) {
		if _, err := feed.From(3); !errors.Is(err, shop.ErrBehind) {
			t.Errorf("one from before the feed began: %v", err)
		}
		many := make([]int64, 2500)
		for i := range many {
			many[i] = int64(i + 6)
		}
		place, _ := feed.From(0)
		for at := 0; at < len(many); at += 500 {
			e.commit(many[at : at+500]...)
			for seen := 0; seen < 500; {
				list, next, err := feed.After(ctx, place)
				if err != nil {
					t.Fatal(err)
				}
				seen, place = seen+len(list), next
			}
		}
		if _, _, err := feed.After(ctx, 0); !errors.Is(err, shop.ErrBehind) {
			t.Errorf("2500 changes behind: %v", err)
		}
		if _, err := feed.From(10); !errors.Is(err, shop.ErrBehind) {
			t.Errorf("one whose last is no longer kept: %v", err)
		}
		if at, err := feed.From(2505); err != nil || at > place {
			t.Errorf("one who saw the last: %d, %v", at, err)
		}
	})
}
