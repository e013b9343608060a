package shop

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"grapnel/app/fold"
	"grapnel/app/record"
	"grapnel/core/battery"
	"grapnel/core/charging"
	"grapnel/core/evidence"
	"grapnel/core/problem"
)

// places are where things stand, and the chargers that stand there: rows that the owner
// edits.
type places struct{ *house }

// Places lists the shop's places in the order of the board.
func (s places) Places(ctx context.Context, who Person) ([]record.Place, error) {
	return s.store.Places(ctx, who.ShopID)
}

// KeepPlace adds a place, or changes one that is known by its ID; the owner only.
func (s places) KeepPlace(ctx context.Context, who Person, in record.Place) error {
	var found problem.List
	in.Name = strings.TrimSpace(in.Name)
	found.CheckText("name", in.Name, 1, 40)
	found.CheckCode("kind", in.Kind, record.PlaceKinds(), false)
	found.CheckNumber("watts", in.Watts, 1, 100000, "W")
	found.CheckNumber("room_m3", in.RoomM3, 1, 100000, "m³")
	found.CheckNumber("air_m3h", in.AirM3h, 0, 100000, "m³/h")
	if in.ID.IsZero() {
		found = append(found, problem.New("problem.missing", "id", "", "a UUID"))
	}
	if in.Ordinal < 0 || in.Ordinal > 1000 {
		found = append(found, problem.New("problem.range", "ordinal", fmt.Sprint(in.Ordinal), problem.Range(0, 1000, "")))
	}
	if err := found.Err(); err != nil {
		return err
	}
	return s.set(ctx, who, "place_kept", in, func(tx Tx) (before any, known bool, err error) {
		list, err := tx.Places(ctx, who.ShopID)
		if err != nil {
			return nil, false, err
		}
		if slices.ContainsFunc(list, func(p record.Place) bool { return fold.Name(p.Name) == fold.Name(in.Name) && p.ID != in.ID }) {
			return nil, false, named(ErrTaken, in.Name, "a name no other place has")
		}
		before, known = one(list, func(p record.Place) bool { return p.ID == in.ID })
		return before, known, nil
	}, func(tx Tx) error {
		return named(tx.KeepPlace(ctx, who.ShopID, in, s.stamp()), in.Name, "a name no other place has")
	})
}

// named words ErrTaken for a name that another row has; any other error stays as it is.
func named(err error, name, allowed string) error {
	if errors.Is(err, ErrTaken) {
		return problem.List{problem.New("problem.taken", "name", name, allowed)}
	}
	return err
}

// DropPlace takes a place off the list; what stands or stood there keeps it.
func (s places) DropPlace(ctx context.Context, who Person, id ID) error {
	return s.drop(ctx, who, "place_dropped", id, func(tx Tx) (bool, error) {
		list, err := tx.Places(ctx, who.ShopID)
		return isPlace(list, id), err
	}, func(tx Tx) error { return tx.DropPlace(ctx, who.ShopID, id) })
}

// Chargers lists the shop's chargers by name.
func (s places) Chargers(ctx context.Context, who Person) ([]record.Charger, error) {
	return s.store.Chargers(ctx, who.ShopID)
}

// KeepCharger adds a charger, or changes one that is known by its ID; the owner only.
func (s places) KeepCharger(ctx context.Context, who Person, in record.Charger) error {
	var found problem.List
	in.Name = strings.TrimSpace(in.Name)
	found.CheckText("name", in.Name, 1, 60)
	found.CheckCode("kind", in.Kind, charging.Kinds(), false)
	if in.ID.IsZero() {
		found = append(found, problem.New("problem.missing", "id", "", "a UUID"))
	}
	if len(in.Amps) == 0 || len(in.Amps) > 12 {
		found = append(found, problem.New("problem.missing", "amps", "", "1 to 12 steps"))
	}
	if in.Channels == 0 {
		in.Channels = 1
	}
	if in.Channels < 1 || in.Channels > mostChannels {
		found = append(found, problem.New("problem.range", "channels", fmt.Sprint(in.Channels), problem.Range(1, mostChannels, "")))
	}
	for i := range in.Amps {
		found.CheckNumber(fmt.Sprintf("amps[%d]", i), &in.Amps[i], 0.1, 500, "A")
	}
	found.CheckNumber("volts", in.Volts, 5, 40, "V")
	found.CheckNumber("wake_v", in.WakeV, 0, 24, "V")
	for i, code := range in.Settings {
		found.CheckCode(fmt.Sprintf("settings[%d]", i), code, battery.Chemistries(), false)
	}
	if err := found.Err(); err != nil {
		return err
	}
	slices.Sort(in.Amps)
	if in.Settings == nil {
		in.Settings = []string{}
	}
	return s.set(ctx, who, "charger_kept", in, func(tx Tx) (before any, known bool, err error) {
		list, err := tx.Chargers(ctx, who.ShopID)
		if err != nil {
			return nil, false, err
		}
		if slices.ContainsFunc(list, func(c record.Charger) bool { return fold.Name(c.Name) == fold.Name(in.Name) && c.ID != in.ID }) {
			return nil, false, named(ErrTaken, in.Name, "a name no other charger has")
		}
		if in.PlaceID != nil {
			there, err := tx.Places(ctx, who.ShopID)
			if err != nil {
				return nil, false, err
			}
			if !isPlace(there, *in.PlaceID) {
				return nil, false, noPlace(*in.PlaceID)
			}
		}
		used, err := usedChannels(ctx, tx, who.ShopID, in.ID)
		if err != nil {
			return nil, false, err
		}
		if in.Channels < used {
			return nil, false, problem.List{problem.New("problem.range", "channels", fmt.Sprint(in.Channels), fmt.Sprintf("%d or more: something is on it", used))}
		}
		before, known = one(list, func(c record.Charger) bool { return c.ID == in.ID })
		return before, known, nil
	}, func(tx Tx) error {
		return named(tx.KeepCharger(ctx, who.ShopID, in, s.stamp()), in.Name, "a name no other charger has")
	})
}

// mostChannels is how many outputs a charger may have.
const mostChannels = 24

// DropCharger takes a charger off the list.
func (s places) DropCharger(ctx context.Context, who Person, id ID) error {
	return s.drop(ctx, who, "charger_dropped", id, func(tx Tx) (bool, error) {
		used, err := usedChannels(ctx, tx, who.ShopID, id)
		if err != nil {
			return false, err
		}
		if used > 0 {
			return false, problem.List{problem.New("problem.taken", "charger", id.String(), "one with nothing on it")}
		}
		list, err := tx.Chargers(ctx, who.ShopID)
		return slices.ContainsFunc(list, func(c record.Charger) bool { return c.ID == id }), err
	}, func(tx Tx) error { return tx.DropCharger(ctx, who.ShopID, id) })
}

// usedChannels is the last channel of a charger that has something on it; 0 for none.
func usedChannels(ctx context.Context, tx ShelfStore, shopID, id ID) (int, error) {
	open, err := tx.OpenCharges(ctx, shopID)
	used := 0
	for _, c := range open {
		if c.On != nil && c.On.ChargerID == id {
			used = max(used, c.On.Channel)
		}
	}
	return used, err
}

// isPlace reports a place that is on the shop's list, noPlace one that is not.
func isPlace(list []record.Place, id ID) bool {
	return slices.ContainsFunc(list, func(p record.Place) bool { return p.ID == id })
}

func noPlace(id ID) error {
	return problem.List{problem.New("problem.code", "place_id", id.String(), "a place of the shop")}
}

// one finds a row in a list as set asks for it: nil and false where it is not there.
func one[T any](list []T, is func(T) bool) (row any, known bool) {
	if i := slices.IndexFunc(list, is); i >= 0 {
		return list[i], true
	}
	return nil, false
}

// set writes a row of the shop that says how things stand: said again, nothing is
// written.
func (h *house) set(
	ctx context.Context,
	who Person,
	kind string,
	now any,
	find func(Tx) (before any, known bool, err error),
	put func(Tx) error,
) error {
	return h.write(ctx, func(tx Tx) error {
		before, known, err := find(tx)
		if err != nil || known && sameJSON(before, now) {
			return err
		}
		if err := put(tx); err != nil {
			return err
		}
		if err := tx.TouchShop(ctx, who.ShopID); err != nil {
			return err
		}
		return h.tell(ctx, tx, who, nil, kind, map[string]any{"before": before, "after": now})
	})
}

// drop takes a row of the shop off; one that is not there stays so.
func (h *house) drop(ctx context.Context, who Person, kind string, id any, there func(Tx) (bool, error), take func(Tx) error) error {
	return h.write(ctx, func(tx Tx) error {
		is, err := there(tx)
		if err != nil || !is {
			return err
		}
		if err := take(tx); err != nil {
			return err
		}
		if err := tx.TouchShop(ctx, who.ShopID); err != nil {
			return err
		}
		return h.tell(ctx, tx, who, nil, kind, map[string]any{"id": id})
	})
}

// placed puts a job at a place by its name; empty for nowhere.
func placed(ctx context.Context, tx PlaceStore, shopID ID, j *record.Job, name string) error {
	if name == "" {
		j.PlaceID, j.Place = nil, ""
		return nil
	}
	if name == j.Place && j.PlaceID != nil {
		return nil
	}
	list, err := tx.Places(ctx, shopID)
	if err != nil {
		return err
	}
	i := slices.IndexFunc(list, func(p record.Place) bool { return p.Name == name })
	if i < 0 {
		return problem.List{problem.New("problem.code", "place", name, problem.OneOf(namesOf(list)))}
	}
	j.PlaceID, j.Place = &list[i].ID, name
	return nil
}

func namesOf(list []record.Place) []string {
	names := make([]string, len(list))
	for i, p := range list {
		names[i] = p.Name
	}
	return names
}

// placeNames are the names of the shop's places, in the order of the board.
func placeNames(ctx context.Context, store PlaceStore, shopID ID) ([]string, error) {
	list, err := store.Places(ctx, shopID)
	return namesOf(list), err
}

// stand writes down where what a job is about stays from now on: its vehicle, or its
// first battery where there is none.
func stand(ctx context.Context, tx Tx, shopID ID, j record.Job, at time.Time) error {
	if err := tx.EndStays(ctx, shopID, record.Subject{JobID: &j.ID}, at); err != nil || j.PlaceID == nil {
		return err
	}
	stay := record.Stay{ID: record.NewID(), VehicleID: j.VehicleID, PlaceID: *j.PlaceID, FromAt: at, Purpose: record.ForJob, JobID: &j.ID}
	if j.VehicleID == nil {
		batteries, err := tx.BatteriesOfJob(ctx, shopID, j.ID)
		if err != nil || len(batteries) == 0 {
			return err
		}
		stay.BatteryID = &batteries[0].ID
	}
	return tx.AddStay(ctx, shopID, stay)
}

// Stay puts a battery or a vehicle at a place without a job: on the shelf, in the yard.
// Where it stayed before ends.
func (s places) Stay(ctx context.Context, who Person, in record.Stay) error {
	var found problem.List
	checkOneOf(&found, in.BatteryID, in.VehicleID)
	found.CheckCode("purpose", in.Purpose, record.StayPurposes(), false)
	checkTime(&found, "from_at", &in.FromAt, s.stamp().Add(time.Hour))
	if err := found.Err(); err != nil {
		return err
	}
	in.JobID, in.ToAt, in.FromAt = nil, nil, in.FromAt.UTC().Truncate(time.Microsecond)
	return s.write(ctx, func(tx Tx) error {
		again, err := s.once(ctx, tx, who, keyed{id: in.ID, kind: "stays", body: in}, nil)
		if again || err != nil {
			return err
		}
		list, err := tx.Places(ctx, who.ShopID)
		if err != nil {
			return err
		}
		if !isPlace(list, in.PlaceID) {
			return noPlace(in.PlaceID)
		}
		of := record.Subject{BatteryID: in.BatteryID, VehicleID: in.VehicleID}
		if err := known(ctx, tx, who.ShopID, of); err != nil {
			return err
		}
		if err := tx.EndStays(ctx, who.ShopID, of, in.FromAt); err != nil {
			return err
		}
		if err := tx.AddStay(ctx, who.ShopID, in); err != nil {
			return err
		}
		return s.tell(ctx, tx, who, nil, "stays", in)
	})
}

// checkOneOf reports that not just one of a battery and a vehicle is meant.
func checkOneOf(found *problem.List, battery, vehicle *ID) {
	if (battery == nil) == (vehicle == nil) {
		*found = append(*found, problem.New("problem.missing", "battery_id", "", "battery_id or vehicle_id"))
	}
}

// Leave ends where a battery or a vehicle stays, not before it came there.
func (s places) Leave(ctx context.Context, who Person, key ID, of record.Subject, at time.Time) error {
	var found problem.List
	checkOneOf(&found, of.BatteryID, of.VehicleID)
	latest := s.stamp().Add(time.Hour)
	checkTime(&found, "at", &at, latest)
	if err := found.Err(); err != nil {
		return err
	}
	return s.write(ctx, func(tx Tx) error {
		again, err := s.once(
			ctx,
			tx,
			who,
			keyed{id: key, kind: "leaves", body: map[string]any{"battery_id": of.BatteryID, "vehicle_id": of.VehicleID}},
			nil,
		)
		if again || err != nil {
			return err
		}
		of.JobID = nil
		if err := known(ctx, tx, who.ShopID, of); err != nil {
			return err
		}
		stays, err := tx.StaysOf(ctx, who.ShopID, of)
		if err != nil {
			return err
		}
		if i := slices.IndexFunc(stays, func(st record.Stay) bool { return st.ToAt == nil }); i >= 0 && at.Before(stays[i].FromAt) {
			return problem.List{evidence.OutOfReach("at", at, stays[i].FromAt, latest)}
		}
		if err := tx.EndStays(ctx, who.ShopID, of, at.UTC().Truncate(time.Microsecond)); err != nil {
			return err
		}
		return s.tell(ctx, tx, who, nil, "leaves", map[string]any{"battery_id": of.BatteryID, "vehicle_id": of.VehicleID, "at": at})
	})
}

// StaysAt lists what stays at a place now; StaysOf where a battery or vehicle stayed,
// latest first.
func (s places) StaysAt(ctx context.Context, who Person, placeID ID) ([]record.Stay, error) {
	return s.store.StaysAt(ctx, who.ShopID, placeID)
}

// StaysOf lists where a battery or vehicle stayed, latest first.
func (s places) StaysOf(ctx context.Context, who Person, of record.Subject) ([]record.Stay, error) {
	return s.store.StaysOf(ctx, who.ShopID, of)
}

// known reports a subject the shop does not have.
func known(ctx context.Context, tx NounStore, shopID ID, of record.Subject) error {
	if of.BatteryID != nil {
		if _, err := tx.Battery(ctx, shopID, *of.BatteryID); err != nil {
			return err
		}
	}
	if of.VehicleID != nil {
		if _, err := tx.Vehicle(ctx, shopID, *of.VehicleID); err != nil {
			return err
		}
	}
	return nil
}
