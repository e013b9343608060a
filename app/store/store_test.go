package store_test

import (
	"context"
	"errors"
	"reflect"
	"sync"
	"testing"
	"time"

	"grapnel/app/localdb/dbtest"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store"
	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/school"
)

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
	err := s.Write(t.Context(), func(tx shop.Tx) error {
		if err := tx.AddShop(t.Context(), record.Shop{ID: record.NewID(), Name: "half", TimeZone: "UTC", CreatedAt: time.Now()}); err != nil {
			return err
		}
		return broken
	})
	if !errors.Is(err, broken) {
		t.Fatal(err)
	}
	if list, err := s.Shops(t.Context()); err != nil || len(list) != 0 {
		t.Errorf("half a shop was written: %v %v", list, err)
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

// TestNounsRoundTrip checks that what is written down is read back whole, the
// unknown as unknown.
func TestNounsRoundTrip(t *testing.T) {
	s := store.New(dbtest.Open(t))
	at := time.Date(2026, 11, 24, 10, 0, 0, 123000, time.UTC)
	sh := record.Shop{ID: record.NewID(), Name: "Quay", TimeZone: "Europe/London", School: school.Quick9V, CreatedAt: at, Hands: record.UsualHours()}
	must(t, s.AddShop(t.Context(), sh))
	if got, err := s.Shop(t.Context(), sh.ID); err != nil || !reflect.DeepEqual(got, sh) {
		t.Errorf("shop %+v, %v", got, err)
	}
	full := record.Battery{ID: record.NewID(), Tag: "A 1", Maker: "Halyard", Label: battery.Label{
		Chemistry: battery.AGM, NominalV: 12, Rating: &battery.Rating{Value: 608, Standard: battery.EN}, CapacityAh: ptr(quantity.AmpereHours(65.5)),
		ReserveMin: ptr(quantity.Minutes(110)), Made: "2023-03", Sealed: ptr(false), EyeFitted: ptr(true), LabelLoadA: ptr(quantity.Amperes(300)), FullSG: ptr(1.28),
	}}
	bare := record.Battery{ID: record.NewID(), Label: battery.Label{Chemistry: battery.Unknown, NominalV: 6}}
	for _, b := range []record.Battery{full, bare} {
		must(t, s.AddBattery(t.Context(), sh.ID, b, at))
		got, err := s.Battery(t.Context(), sh.ID, b.ID)
		if err != nil || !reflect.DeepEqual(got, b) {
			t.Errorf("battery %+v, %v", got, err)
		}
	}
	vehicle := record.Vehicle{ID: record.NewID(), Plate: "AB 12", Description: "van", Vehicle: evidence.Vehicle{
		Kind: "van", Engine: "diesel", Litres: ptr(2.3), RequiredCCA: ptr(quantity.Amperes(640)), StartStop: ptr(true), ManagedCharging: ptr(false), Earth: "negative",
	}}
	must(t, s.AddVehicle(t.Context(), sh.ID, vehicle, at))
	if got, err := s.Vehicle(t.Context(), sh.ID, vehicle.ID); err != nil || !reflect.DeepEqual(got, vehicle) {
		t.Errorf("vehicle %+v, %v", got, err)
	}
	fitted := record.Installation{ID: record.NewID(), BatteryID: full.ID, VehicleID: vehicle.ID, Position: "left", FromAt: at}
	must(t, s.AddInstallation(t.Context(), sh.ID, fitted))
	installed, err := s.InstallationsOf(t.Context(), sh.ID, full.ID)
	if err != nil || len(installed) != 1 || installed[0].Position != "left" || installed[0].ToAt != nil || !installed[0].FromAt.Equal(at) {
		t.Errorf("installed %+v, %v", installed, err)
	}
	in, err := s.FindVehicles(t.Context(), sh.ID, "AB 12")
	if err != nil || len(in) != 1 || len(in[0].Batteries) != 1 || in[0].Batteries[0].Label.Position != "left" {
		t.Errorf("in the vehicle: %+v, %v", in, err)
	}
	if _, err := s.Battery(t.Context(), record.NewID(), full.ID); !errors.Is(err, shop.ErrNotFound) {
		t.Errorf("another shop sees the battery: %v", err)
	}
}

// TestSearch checks plates with and without blanks, names, and that the marks
// of the search language are taken as they are.
func TestSearch(t *testing.T) {
	s := store.New(dbtest.Open(t))
	at := time.Now()
	sh := record.Shop{ID: record.NewID(), TimeZone: "UTC", CreatedAt: at}
	must(t, s.AddShop(t.Context(), sh))
	customer := record.Customer{ID: record.NewID(), Name: "Ines_Calloway"}
	must(t, s.AddCustomer(t.Context(), sh.ID, customer, at))
	for _, plate := range []string{"WS 204 K", "WS 2", "100%"} {
		must(t, s.AddVehicle(t.Context(), sh.ID, record.Vehicle{ID: record.NewID(), CustomerID: &customer.ID, Plate: plate}, at))
	}
	for query, want := range map[string]int{"ws204": 1, "WS 2": 2, "ws": 2, "204": 0, "calloway": 3, "Ines_": 3, "%": 0, "100%": 1, "_": 3, `\`: 0, "nobody": 0} {
		got, err := s.FindVehicles(t.Context(), sh.ID, query)
		if err != nil || len(got) != want {
			t.Errorf("%q finds %d, want %d (%v)", query, len(got), want, err)
		}
	}
}

// TestEventsAreWritten checks that a change leaves its event with it.
func TestEventsAreWritten(t *testing.T) {
	s := store.New(dbtest.Open(t))
	sh := record.Shop{ID: record.NewID(), TimeZone: "UTC", CreatedAt: time.Now()}
	must(t, s.AddShop(t.Context(), sh))
	job := record.NewID()
	for i := range 3 {
		must(t, s.AddEvent(t.Context(), sh.ID, shop.Event{JobID: &job, Revision: i, Kind: "reading_kept", Body: map[string]int{"n": i}, At: time.Now()}))
	}
	events, err := s.EventsOfJob(t.Context(), sh.ID, job)
	if err != nil || len(events) != 3 || events[0].Revision != 2 {
		t.Errorf("%+v, %v", events, err)
	}
}

// TestGivenUpInTheDatabase has a statement wait for a lock that is not given up, and finds that
// the database ends it when its request is over, and that nothing of it is left.
func TestGivenUpInTheDatabase(t *testing.T) {
	db := dbtest.Open(t)
	s := store.New(db)
	sh := record.Shop{ID: record.NewID(), Name: "x", TimeZone: "UTC", School: "half_cca", CreatedAt: time.Now()}
	must(t, s.AddShop(t.Context(), sh))
	holder, err := db.BeginTx(t.Context(), nil)
	must(t, err)
	defer func() { must(t, holder.Rollback()) }()
	_, err = holder.ExecContext(t.Context(), "UPDATE shop SET touched = touched + 1")
	must(t, err)
	ctx, cancel := context.WithTimeout(t.Context(), 300*time.Millisecond)
	defer cancel()
	began := time.Now()
	if err := s.TouchShop(ctx, sh.ID); err == nil {
		t.Fatal("it was not given up")
	}
	const running = "SELECT COUNT(*) FROM information_schema.processlist WHERE db = DATABASE() AND command = 'Query' AND id <> CONNECTION_ID()"
	for n := 1; n > 0; {
		must(t, db.QueryRowContext(t.Context(), running).Scan(&n))
		if took := time.Since(began); took > 3*time.Second {
			t.Fatalf("the database still works at it after %s", took)
		}
	}
	var touched int
	must(t, db.QueryRowContext(t.Context(), "SELECT touched FROM shop").Scan(&touched))
	if touched != 0 {
		t.Errorf("touched %d times", touched)
	}
}

func must(t *testing.T, err error) {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
}

func ptr[T any](x T) *T { return &x }
