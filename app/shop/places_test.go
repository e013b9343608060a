package shop_test

import (
	"errors"
	"slices"
	"testing"
	"time"

	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/shop"
)

// TestPlaces checks that places and chargers are rows that the owner edits: added,
// changed, taken off the list, each once, and that what is wrong is named.
func TestPlaces(t *testing.T) {
	b := newBench(t)
	jon, err := b.AddPerson(t.Context(), b.owner, people.Person{Name: "Jon Pell", SignIn: "jon", Role: people.Technician}, "ten letters at least")
	b.must(err)
	watts, room := 1800.0, 60.0
	rack := record.Place{ID: record.NewID(), Name: "Charging rack", Kind: record.Shelf, Indoors: true, Watts: &watts, RoomM3: &room, Ordinal: 9}
	charger := record.Charger{ID: record.NewID(), Name: "Blue one", Kind: "multi_stage", Amps: []float64{10, 2, 5}, Settings: []string{"flooded", "agm"}, PlaceID: &rack.ID}
	for range 2 {
		b.must(b.KeepPlace(t.Context(), b.owner, rack))
		b.must(b.KeepCharger(t.Context(), b.owner, charger))
	}
	list, err := b.Places(t.Context(), jon)
	b.must(err)
	chargers, err := b.Chargers(t.Context(), jon)
	b.must(err)
	if got := list[len(list)-1]; len(list) != 7 || got.Name != "Charging rack" || *got.Watts != 1800 || *got.RoomM3 != 60 || !got.Indoors {
		t.Errorf("%+v", list)
	}
	if len(chargers) != 1 || !slices.Equal(chargers[0].Amps, []float64{2, 5, 10}) || *chargers[0].PlaceID != rack.ID {
		t.Errorf("%+v", chargers)
	}
	for field, p := range map[string]record.Place{
		"name": {ID: record.NewID(), Name: "bay 1", Kind: record.Bay}, "kind": {ID: record.NewID(), Name: "Roof", Kind: "roof"},
		"watts": {ID: record.NewID(), Name: "A", Kind: record.Bay, Watts: ptr(-3.0)}, "room_m3": {ID: record.NewID(), Name: "A", Kind: record.Bay, RoomM3: ptr(1e308)},
		"ordinal": {ID: record.NewID(), Name: "A", Kind: record.Bay, Ordinal: -1}, "id": {Name: "A", Kind: record.Bay},
	} {
		if got := fieldsOf(b.KeepPlace(t.Context(), b.owner, p)); !slices.Equal(got, []string{field}) {
			t.Errorf("%s: refused for %v", field, got)
		}
	}
	stranger := record.NewID()
	for field, c := range map[string]record.Charger{
		"amps[1]": {ID: record.NewID(), Name: "A", Kind: "taper", Amps: []float64{2, -1}}, "amps": {ID: record.NewID(), Name: "A", Kind: "taper"},
		"kind": {ID: record.NewID(), Name: "A", Kind: "magic", Amps: []float64{2}}, "name": {ID: record.NewID(), Name: "blue ONE", Kind: "taper", Amps: []float64{2}},
		"settings[0]": {ID: record.NewID(), Name: "A", Kind: "taper", Amps: []float64{2}, Settings: []string{"tea"}},
		"place_id":    {ID: record.NewID(), Name: "A", Kind: "taper", Amps: []float64{2}, PlaceID: &stranger},
		"volts":       {ID: record.NewID(), Name: "A", Kind: "taper", Amps: []float64{2}, Volts: ptr(0.0)},
	} {
		if got := fieldsOf(b.KeepCharger(t.Context(), b.owner, c)); !slices.Equal(got, []string{field}) {
			t.Errorf("%s: refused for %v", field, got)
		}
	}
	// A job can stand there, and still says so when the place is off the list.
	b.must(b.SetDesk(t.Context(), b.owner, b.job, shop.Desk{Place: "Charging rack"}))
	b.must(b.DropCharger(t.Context(), b.owner, charger.ID))
	for range 2 {
		b.must(b.DropPlace(t.Context(), b.owner, rack.ID))
	}
	if list, err = b.Places(t.Context(), jon); err != nil || len(list) != 6 || b.jobNow().Place != "Charging rack" {
		t.Errorf("%+v, %v, the job stands at %q", list, err, b.jobNow().Place)
	}
}

func ptr[T any](x T) *T { return &x }

// TestFitting checks that a position of a vehicle has one battery and a battery one
// place: fitting a new one takes the old one out, moving records both ends, and each is
// done once however often it is sent.
func TestFitting(t *testing.T) {
	b := newBench(t)
	old, vehicle := b.battery().ID, *b.jobNow().VehicleID
	in := b.usual()
	in.JobID, in.Vehicle, in.Customer = record.NewID(), nil, nil
	_, err := b.BringIn(t.Context(), b.owner, in)
	b.must(err)
	page, err := b.JobPage(t.Context(), b.owner, in.JobID)
	b.must(err)
	fresh := page.Batteries[0].ID
	at := b.now.Add(30 * time.Minute)
	b.now = b.now.Add(time.Hour)

	fit := shop.Fit{ID: record.NewID(), BatteryID: fresh, VehicleID: vehicle, At: at}
	for range 2 {
		did, err := b.Fit(t.Context(), b.owner, fit)
		b.must(err)
		if len(did.Now) != 1 || len(did.Out) != 1 || !did.Out[0].ToAt.Equal(at) || !did.Now[0].FromAt.Equal(at) {
			t.Errorf("fitted: %+v", did)
		}
	}
	within := func(battery record.ID, want ...bool) []record.Installation {
		t.Helper()
		list, err := b.Installations(t.Context(), b.owner, battery)
		b.must(err)
		var ended []bool
		for _, one := range list {
			ended = append(ended, one.ToAt != nil)
		}
		if !slices.Equal(ended, want) {
			t.Errorf("%+v", list)
		}
		return list
	}
	within(old, true)
	within(fresh, false)
	found, err := b.FindVehicles(t.Context(), b.owner, "AB 12")
	b.must(err)
	if len(found[0].Batteries) != 1 || found[0].Batteries[0].ID != fresh {
		t.Errorf("in the vehicle now: %+v", found[0].Batteries)
	}
	// Moved within the vehicle, then into the old one's company at its own place.
	_, err = b.Fit(t.Context(), b.owner, shop.Fit{ID: record.NewID(), BatteryID: fresh, VehicleID: vehicle, Position: "left", At: b.now})
	b.must(err)
	if list := within(fresh, false, true); list[0].Position != "left" {
		t.Errorf("%+v", list)
	}
	_, err = b.Fit(t.Context(), b.owner, shop.Fit{ID: record.NewID(), BatteryID: old, VehicleID: vehicle, Position: "right", At: b.now})
	b.must(err)
	within(old, false, true)
	within(fresh, false, true)
	key := record.NewID()
	for range 2 {
		did, err := b.TakeOut(t.Context(), b.owner, key, fresh, b.now)
		b.must(err)
		if len(did.Out) != 1 || len(did.Now) != 0 {
			t.Errorf("taken out: %+v", did)
		}
	}
	within(fresh, true, true)
	var used shop.KeyUsed
	if _, err := b.TakeOut(t.Context(), b.owner, key, old, b.now); !errors.As(err, &used) {
		t.Errorf("the key for another battery: %v", err)
	}
	if _, err := b.Fit(t.Context(), b.owner, shop.Fit{ID: record.NewID(), BatteryID: fresh, VehicleID: record.NewID(), At: b.now}); !errors.Is(err, shop.ErrNotFound) {
		t.Errorf("into a vehicle that is not there: %v", err)
	}
	if _, err := b.Fit(t.Context(), b.owner, shop.Fit{ID: record.NewID(), BatteryID: fresh, VehicleID: vehicle, At: b.now.AddDate(50, 0, 0)}); !slices.Contains(fieldsOf(err), "at") {
		t.Errorf("fitted in fifty years: %v", err)
	}
	// Together they are in the vehicle one at a time, by many hands at once.
	for _, err := range together(6, func(n int) error {
		battery := []record.ID{old, fresh}[n%2]
		_, err := b.Fit(t.Context(), b.owner, shop.Fit{ID: record.NewID(), BatteryID: battery, VehicleID: vehicle, Position: "one", At: b.now})
		return err
	}) {
		b.must(err)
	}
	var there int
	b.must(b.db.QueryRowContext(t.Context(), "SELECT COUNT(*) FROM installation WHERE vehicle_id = ? AND position = 'one' AND to_at IS NULL", vehicle).Scan(&there))
	if there != 1 {
		t.Errorf("%d batteries are in one place", there)
	}
}

// TestWithoutAJob checks that a battery on a shelf has its readings and its place without
// any job: kept once, on its own page, in no job's case.
func TestWithoutAJob(t *testing.T) {
	b := newBench(t)
	battery := b.battery().ID
	list, err := b.Places(t.Context(), b.owner)
	b.must(err)
	shelf, yard := list[3].ID, list[4].ID
	stay := record.Stay{ID: record.NewID(), BatteryID: &battery, PlaceID: shelf, FromAt: b.now, Purpose: record.ForCharge}
	for range 2 {
		b.must(b.Stay(t.Context(), b.owner, stay))
	}
	b.now = b.now.Add(time.Hour)
	b.must(b.Stay(t.Context(), b.owner, record.Stay{ID: record.NewID(), BatteryID: &battery, PlaceID: yard, FromAt: b.now, Purpose: record.ForStorage}))
	stays, err := b.StaysOf(t.Context(), b.owner, record.Subject{BatteryID: &battery})
	b.must(err)
	if len(stays) != 2 || stays[0].PlaceID != yard || stays[0].ToAt != nil || stays[1].ToAt == nil || !stays[1].ToAt.Equal(b.now) {
		t.Errorf("%+v", stays)
	}
	if there, err := b.StaysAt(t.Context(), b.owner, shelf); err != nil || len(there) != 0 {
		t.Errorf("still on the shelf: %+v, %v", there, err)
	}
	b.must(b.Leave(t.Context(), b.owner, record.NewID(), record.Subject{BatteryID: &battery}, b.now))
	if there, err := b.StaysAt(t.Context(), b.owner, yard); err != nil || len(there) != 0 {
		t.Errorf("still in the yard: %+v, %v", there, err)
	}
	for field, bad := range map[string]record.Stay{
		"battery_id": {ID: record.NewID(), PlaceID: shelf, FromAt: b.now, Purpose: record.ForCharge},
		"purpose":    {ID: record.NewID(), BatteryID: &battery, PlaceID: shelf, FromAt: b.now, Purpose: "tea"},
		"place_id":   {ID: record.NewID(), BatteryID: &battery, PlaceID: record.NewID(), FromAt: b.now, Purpose: record.ForCharge},
		"from_at":    {ID: record.NewID(), BatteryID: &battery, PlaceID: shelf, FromAt: b.now.AddDate(9, 0, 0), Purpose: record.ForCharge},
	} {
		if got := fieldsOf(b.Stay(t.Context(), b.owner, bad)); !slices.Contains(got, field) {
			t.Errorf("%s: refused for %v", field, got)
		}
	}

	keep := record.Keep{ID: record.NewID(), BatteryID: battery, Line: "12.6 v 12c rested 20h"}
	for range 2 {
		b.must(b.KeepOf(t.Context(), b.owner, record.Subject{BatteryID: &battery}, keep))
	}
	life, err := b.BatteryPage(t.Context(), b.owner, battery)
	b.must(err)
	if len(life.Loose) != 1 || life.Loose[0].Typed != keep.Line || len(b.battery().Readings) != 0 {
		t.Errorf("%+v; on the job %+v", life.Loose, b.battery().Readings)
	}
	b.must(b.KeepOf(t.Context(), b.owner, record.Subject{BatteryID: &battery}, record.Keep{ID: record.NewID(), Line: "look bulge"}))
	b.now = b.now.Add(time.Minute)
	if err := b.KeepOf(t.Context(), b.owner, record.Subject{BatteryID: &battery}, record.Keep{ID: record.NewID(), Line: "load 325a 15s 9.1v"}); !slices.Contains(fieldsOf(err), "line") {
		t.Errorf("a load on a bulging battery on the shelf: %v", err)
	}
	var used shop.KeyUsed
	keep.Line = "12.7 v 12c rested 20h"
	if err := b.KeepOf(t.Context(), b.owner, record.Subject{BatteryID: &battery}, keep); !errors.As(err, &used) {
		t.Errorf("the key for another line: %v", err)
	}
	if err := b.KeepOf(t.Context(), b.owner, record.Subject{}, keep); !slices.Contains(fieldsOf(err), "battery_id") {
		t.Errorf("of nothing: %v", err)
	}
}
