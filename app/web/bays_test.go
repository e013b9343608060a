package web

import (
	"context"
	"errors"
	"slices"
	"testing"
	"testing/synctest"

	"grapnel/app/people"
)

// Common practice, no source: a queue serves who came first.
func TestBaysServeInOrder(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		b := make(bays, 1)
		leave, err := b.enter(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		served := make(chan int, 5)
		for n := range cap(served) {
			go func() {
				leave, err := b.enter(t.Context())
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
			t.Fatal("somebody was served while the bay was taken")
		}
		leave()
		synctest.Wait()
		close(served)
		var order []int
		for n := range served {
			order = append(order, n)
		}
		if !slices.Equal(order, []int{0, 1, 2, 3, 4}) {
			t.Errorf("served in the order %v", order)
		}
	})
}

func TestWhoGoesWaitsNoMore(t *testing.T) {
	b := make(bays, 1)
	leave, err := b.enter(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	gone, cancel := context.WithCancel(t.Context())
	cancel()
	if _, err := b.enter(gone); !errors.Is(err, context.Canceled) {
		t.Errorf("who has gone: %v", err)
	}
	leave()
	if _, err := b.enter(t.Context()); err != nil {
		t.Errorf("the bay that was left: %v", err)
	}
}

// A password is hashed in a turn of its own: the bays stay free for who works.
func TestHashingTakesNoBay(t *testing.T) {
	s := &Server{bays: make(bays, 1)}
	for _, id := range outside {
		if people.WhoMay(id) == nil {
			t.Errorf("%s is no operation", id)
		}
		if _, err := s.bay(t.Context(), id); err != nil || len(s.bays) != 0 {
			t.Errorf("%s: %v, %d taken", id, err, len(s.bays))
		}
	}
	if _, err := s.bay(t.Context(), "keepReading"); err != nil || len(s.bays) != 1 {
		t.Errorf("keepReading: %v, %d taken", err, len(s.bays))
	}
}
