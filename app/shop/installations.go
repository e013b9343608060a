package shop

import (
	"context"
	"slices"
	"time"

	"grapnel/app/record"
	"grapnel/core/problem"
)

// installations write down which battery is in which vehicle. A battery is in one place at a
// time, and a position of a vehicle has one battery: fitting one ends where it was, and
// what was there.
type installations struct{ *house }

// Fit is a battery that is fitted into a vehicle, or moved within one.
type Fit struct {
	ID        ID        `json:"-"`
	BatteryID ID        `json:"battery_id"`
	VehicleID ID        `json:"vehicle_id"`
	Position  string    `json:"position"`
	At        time.Time `json:"at"`
}

// Moved tells what fitting did: what is where now, and what was taken out for it.
type Moved struct {
	Now []record.Installation `json:"now"`
	Out []record.Installation `json:"out"`
}

// Fit fits a battery into a vehicle, or moves it to another position or vehicle.
func (s installations) Fit(ctx context.Context, who Person, in Fit) (Moved, error) {
	var found problem.List
	found.CheckText("position", in.Position, 0, 32)
	checkTime(&found, "at", &in.At, s.stamp().Add(time.Hour))
	if err := found.Err(); err != nil {
		return Moved{}, err
	}
	var out Moved
	err := s.write(ctx, func(tx Tx) error {
		again, err := s.once(ctx, tx, who, keyed{id: in.ID, kind: "fitted", subject: &in.BatteryID, body: in}, &out)
		if again || err != nil {
			return err
		}
		if _, err := tx.Vehicle(ctx, who.ShopID, in.VehicleID); err != nil {
			return err
		}
		b, err := tx.Battery(ctx, who.ShopID, in.BatteryID)
		if err != nil {
			return err
		}
		out, err = fit(
			ctx,
			tx,
			who.ShopID,
			in.VehicleID,
			[]record.Fitted{{Battery: b, Position: in.Position}},
			in.At.UTC().Truncate(time.Microsecond),
		)
		if err != nil {
			return err
		}
		return s.moved(ctx, tx, who, in.ID, "fitted", in.BatteryID, out)
	})
	return out, err
}

// TakeOut takes a battery out of the vehicle it is in.
func (s installations) TakeOut(ctx context.Context, who Person, key, batteryID ID, at time.Time) (Moved, error) {
	var found problem.List
	checkTime(&found, "at", &at, s.stamp().Add(time.Hour))
	if err := found.Err(); err != nil {
		return Moved{}, err
	}
	var out Moved
	err := s.write(ctx, func(tx Tx) error {
		again, err := s.once(ctx, tx, who, keyed{id: key, kind: "taken_out", subject: &batteryID, body: map[string]any{"at": at}}, &out)
		if again || err != nil {
			return err
		}
		out = Moved{Now: []record.Installation{}, Out: []record.Installation{}}
		installed, err := tx.InstalledNow(ctx, who.ShopID, ID{}, batteryID)
		if err != nil {
			return err
		}
		for _, one := range installed {
			if err := endInstallation(ctx, tx, who.ShopID, one, at, &out); err != nil {
				return err
			}
		}
		return s.moved(ctx, tx, who, key, "taken_out", batteryID, out)
	})
	return out, err
}

// moved writes down that a battery is somewhere else.
func (s installations) moved(ctx context.Context, tx Tx, who Person, key ID, kind string, batteryID ID, did Moved) error {
	if err := answer(ctx, tx, key, did); err != nil {
		return err
	}
	if err := tx.TouchJobsOf(ctx, who.ShopID, record.Subject{BatteryID: &batteryID}); err != nil {
		return err
	}
	return s.tell(ctx, tx, who, nil, kind, map[string]any{"battery_id": batteryID, "now": did.Now, "out": did.Out})
}

// fit puts batteries into a vehicle at the same time.
func fit(ctx context.Context, tx PlaceStore, shopID, vehicleID ID, batteries []record.Fitted, at time.Time) (Moved, error) {
	did := Moved{Now: []record.Installation{}, Out: []record.Installation{}}
	together := func(id ID) bool {
		return slices.ContainsFunc(batteries, func(b record.Fitted) bool { return b.ID == id })
	}
	for _, b := range batteries {
		installed, err := tx.InstalledNow(ctx, shopID, vehicleID, b.ID)
		if err != nil {
			return did, err
		}
		there := false
		for _, one := range installed {
			stays := one.BatteryID == b.ID && one.VehicleID == vehicleID && one.Position == b.Position
			there = there || stays
			elsewhere := one.BatteryID == b.ID && !stays
			inItsPlace := one.VehicleID == vehicleID && one.Position == b.Position && !together(one.BatteryID)
			if !elsewhere && !inItsPlace {
				continue
			}
			if err := endInstallation(ctx, tx, shopID, one, at, &did); err != nil {
				return did, err
			}
		}
		if there {
			continue
		}
		now := record.Installation{ID: record.NewID(), BatteryID: b.ID, VehicleID: vehicleID, Position: b.Position, FromAt: at}
		if err := tx.AddInstallation(ctx, shopID, now); err != nil {
			return did, err
		}
		did.Now = append(did.Now, now)
	}
	return did, nil
}

// endInstallation ends one, never before it began.
func endInstallation(ctx context.Context, tx PlaceStore, shopID ID, one record.Installation, at time.Time, did *Moved) error {
	if at.Before(one.FromAt) {
		at = one.FromAt
	}
	one.ToAt = &at
	did.Out = append(did.Out, one)
	return tx.EndInstallation(ctx, shopID, one.ID, at)
}

// Installations lists where a battery was, latest first.
func (s installations) Installations(ctx context.Context, who Person, batteryID ID) ([]record.Installation, error) {
	return s.store.InstallationsOf(ctx, who.ShopID, batteryID)
}
