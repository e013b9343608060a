package store_test

import (
	"context"
	"errors"
	"sync"
	"testing"
	"time"

	"grapnel/app/localdb/dbtest"
	"grapnel/app/shop"
	"grapnel/app/store"
)

func TestMain(m *testing.M) { dbtest.Main(m) }

// TestMigrateTogether checks that copies started together migrate once, under
// the lock.
func TestMigrateTogether(t *testing.T) {
	dsn := dbtest.DSN(t)
	var wait sync.WaitGroup
	for range 4 {
		wait.Add(1)
		go func() {
			defer wait.Done()
			db, err := store.Open(dsn)
			if err != nil {
				t.Error(err)
				return
			}
			defer db.Close()
			if version, err := store.Migrate(t.Context(), db); err != nil || version < 1 {
				t.Errorf("version %d, %v", version, err)
			}
		}()
	}
	wait.Wait()
}

// TestWriteIsWhole checks that what fails leaves nothing behind.
func TestWriteIsWhole(t *testing.T) {
	s := store.New(dbtest.Open(t))
	broken := errors.New("broken")
	err := s.Write(t.Context(), func(tx shop.Store) error {
		if err := tx.AddShop(t.Context(), shop.Shop{ID: shop.NewID(), Name: "half", TimeZone: "UTC", CreatedAt: time.Now()}); err != nil {
			return err
		}
		return broken
	})
	if !errors.Is(err, broken) {
		t.Fatal(err)
	}
	if _, err := s.OnlyShop(t.Context()); !errors.Is(err, shop.ErrNotFound) {
		t.Errorf("half a shop was written: %v", err)
	}
}

// TestBadDSN checks that the message names the setting and shows its form.
func TestBadDSN(t *testing.T) {
	if _, err := store.Open("nonsense"); err == nil {
		t.Error("nonsense was taken for a DSN")
	}
	db, err := store.Open("grapnel:x@tcp(127.0.0.1:1)/grapnel")
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	ctx, cancel := context.WithTimeout(t.Context(), 5*time.Second)
	defer cancel()
	if _, err := store.Migrate(ctx, db); err == nil {
		t.Error("migrated a database that is not there")
	}
}
