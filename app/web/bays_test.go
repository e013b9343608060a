package web

import (
	"context"
	"errors"
	"slices"
	"testing"
	"testing/synctest"

	"grapnel/app/people"
	"grapnel/app/record"
)

// Common practice, no source: a queue serves who came first.
func TestBaysServeInOrder(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		b := newBays()
		var leave []func()
		for range mostAtOnce {
			one, err := b.enter(t.Context(), record.NewID(), false)
			if err != nil {
				t.Fatal(err)
			}
			leave = append(leave, one)
		}
		served := make(chan int, 5)
		for n := range cap(served) {
			go func() {
				leave, err := b.enter(t.Context(), record.NewID(), false)
				if err != nil {
					t.Error(err)
					return
				}
				served <- n
				leave()
			}()
			synctest.Wait()
		}
		if len(served) != 0 {
			t.Fatal("somebody was served while every bay was taken")
		}
		leave[0]()
		synctest.Wait()
		close(served)
		var order []int
		for n := range served {
			order = append(order, n)
		}
		if !slices.Equal(order, []int{0, 1, 2, 3, 4}) {
			t.Errorf("served in the order %v", order)
		}
		for _, one := range leave[1:] {
			one()
		}
		if len(b.shares) != 0 {
			t.Errorf("%d shares are left", len(b.shares))
		}
	})
}

func TestWhoGoesWaitsNoMore(t *testing.T) {
	b, session := newBays(), record.NewID()
	leave, err := b.enter(t.Context(), session, true)
	if err != nil {
		t.Fatal(err)
	}
	gone, cancel := context.WithCancel(t.Context())
	cancel()
	if _, err := b.enter(gone, session, true); !errors.Is(err, context.Canceled) {
		t.Errorf("who has gone: %v", err)
	}
	leave()
	leave, err = b.enter(t.Context(), session, true)
	if err != nil {
		t.Errorf("the bay that was left: %v", err)
	}
	leave()
	if len(b.all)+len(b.heavy)+len(b.shares) != 0 {
		t.Errorf("%d %d %d are taken", len(b.all), len(b.heavy), len(b.shares))
	}
}

// TestSharesOfBays has one session ask for far more than its share, of what is heavy and of what is
// not: another works as if it were alone, and whoever asks for too much at once is told.
// No source: it is how the program is to behave.
func TestSharesOfBays(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		b, greedy := newBays(), record.NewID()
		ctx, end := context.WithCancel(t.Context())
		refused := 0
		for n := range mostOfSession + mostWaiting + 10 {
			go func() {
				var told *Problem
				_, err := b.enter(ctx, greedy, n%2 == 0)
				if errors.As(err, &told) {
					refused++
				}
			}()
			synctest.Wait()
		}
		if refused != 10 || len(b.all) > mostOfSession || len(b.heavy) > heavyOfSession {
			t.Errorf("%d refused, %d and %d bays taken", refused, len(b.all), len(b.heavy))
		}
		for _, heavy := range []bool{true, false, false, false} {
			if _, err := b.enter(ctx, record.NewID(), heavy); err != nil {
				t.Error(err)
			}
		}
		end()
		synctest.Wait()
	})
}

// A password is hashed in a turn of its own: the bays stay free for who works. Every operation that
// is named here is one.
func TestHashingTakesNoBay(t *testing.T) {
	s := &Server{bays: newBays()}
	for _, id := range append(slices.Clone(outside), heavy...) {
		if people.WhoMay(id) == nil {
			t.Errorf("%s is no operation", id)
		}
	}
	for _, id := range outside {
		if _, err := s.bay(t.Context(), id); err != nil || len(s.bays.all) != 0 {
			t.Errorf("%s: %v, %d taken", id, err, len(s.bays.all))
		}
	}
	if _, err := s.bay(t.Context(), "keepReading"); err != nil || len(s.bays.all) != 1 {
		t.Errorf("keepReading: %v, %d taken", err, len(s.bays.all))
	}
}
