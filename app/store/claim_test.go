package store_test

import (
	"context"
	"testing"
	"time"

	"grapnel/app/localdb/dbtest"
	"grapnel/app/store"
)

// TestBackupsAreHeldByOne checks that one server at a time has the right to make backups, that
// one which was killed over it leaves it to the others within minutes, and that what it gives
// back behind that is not theirs.
func TestBackupsAreHeldByOne(t *testing.T) {
	db := dbtest.Open(t)
	one, two := store.New(db), store.New(db)
	hold := func(s *store.Store, want bool) func() {
		t.Helper()
		release, held, err := s.HoldBackups(t.Context())
		if err != nil || held != want {
			t.Fatalf("held %t, want %t: %v", held, want, err)
		}
		return release
	}
	first := hold(one, true)
	hold(two, false)
	first()
	second := hold(two, true)
	hold(one, false)
	var left float64
	if err := db.QueryRowContext(t.Context(), "SELECT TIMESTAMPDIFF(SECOND, UTC_TIMESTAMP(), until_at) FROM claim WHERE name = 'backup'").Scan(&left); err != nil || left > 120 || left < 100 {
		t.Errorf("it holds for %g s unless it is renewed: %v", left, err)
	}
	// As two minutes after a kill.
	if _, err := db.ExecContext(t.Context(), "UPDATE claim SET until_at = UTC_TIMESTAMP() - INTERVAL 1 SECOND WHERE name = 'backup'"); err != nil {
		t.Fatal(err)
	}
	third := hold(one, true)
	second()
	hold(two, false)
	third()
	hold(two, true)()
}

// TestClaimsAreRenewed checks that a claim is renewed until it is given back, past a time when
// that fails.
func TestClaimsAreRenewed(t *testing.T) {
	ctx, stop := context.WithCancel(t.Context())
	times, ended := make(chan bool), make(chan struct{})
	go func() {
		defer close(ended)
		store.Every(ctx, time.Millisecond, func(context.Context) (bool, error) {
			times <- true
			return false, context.DeadlineExceeded
		})
	}()
	for range 3 {
		<-times
	}
	stop()
	for {
		select {
		case <-times:
		case <-ended:
			return
		}
	}
}
