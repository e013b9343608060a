package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"time"

	"grapnel/app/fold"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store/gen"
)

// Places lists the shop's places in the order of the board.
func (s *Store) Places(ctx context.Context, shopID record.ID) ([]record.Place, error) {
	rows, err := s.q.Places(ctx, shopID)
	return each(rows, func(r gen.Place) record.Place {
		return record.Place{ID: r.ID, Name: r.Name, Kind: r.Kind, Indoors: r.Indoors, Watts: r.Watts, RoomM3: r.RoomM3, AirM3h: r.AirM3h, Ordinal: int(r.Ordinal)}
	}), err
}

// KeepPlace adds a place or changes one; shop.ErrTaken where another has its name.
func (s *Store) KeepPlace(ctx context.Context, shopID record.ID, p record.Place, at time.Time) error {
	folded := foldedName(p.Name)
	return s.keep(ctx, "place", p.ID, shopID, func() error {
		return s.q.AddPlace(ctx, gen.AddPlaceParams{
			ID: p.ID, ShopID: shopID, Name: p.Name, NameFolded: folded, Kind: p.Kind, Indoors: p.Indoors, Watts: p.Watts,
			RoomM3: p.RoomM3, AirM3h: p.AirM3h, Ordinal: int32(p.Ordinal), CreatedAt: at,
		})
	}, func() error {
		return s.q.ChangePlace(ctx, gen.ChangePlaceParams{
			Name: p.Name, NameFolded: folded, Kind: p.Kind, Indoors: p.Indoors, Watts: p.Watts, RoomM3: p.RoomM3, AirM3h: p.AirM3h,
			Ordinal: int32(p.Ordinal), ShopID: shopID, ID: p.ID,
		})
	})
}

// foldedName is a name as it is compared, for a column in which releases before left nothing.
func foldedName(name string) sql.NullString {
	return sql.NullString{String: fold.Name(name), Valid: true}
}

// keep adds a row under an ID of the client's making, or changes the one that is there;
// shop.ErrTaken where another row has its name.
func (s *Store) keep(ctx context.Context, table string, id, shopID record.ID, add, change func() error) error {
	known, err := s.ours(ctx, table, "id", id, shopID)
	if err != nil {
		return err
	}
	if !known {
		if err := add(); !IsThere(err) {
			return err
		}
		// Somebody was faster: with this row, or with another one of its name.
		if known, err = s.oursNow(ctx, table, "id", id, shopID); err != nil {
			return err
		}
		if !known {
			return shop.ErrTaken
		}
	}
	return taken(change())
}

// DropPlace takes a place off the list and gives its name free.
func (s *Store) DropPlace(ctx context.Context, shopID, id record.ID) error {
	return s.q.DropPlace(ctx, gen.DropPlaceParams{ShopID: shopID, ID: id})
}

// Chargers lists the shop's chargers by name.
func (s *Store) Chargers(ctx context.Context, shopID record.ID) ([]record.Charger, error) {
	rows, err := s.q.Chargers(ctx, shopID)
	if err != nil {
		return nil, err
	}
	return eachOrFail(rows, func(r gen.Charger) (record.Charger, error) {
		c := record.Charger{
			ID:          r.ID,
			Name:        r.Name,
			Kind:        r.Kind,
			Volts:       r.Volts,
			WakeV:       r.WakeV,
			Compensates: r.Compensates,
			PlaceID:     r.PlaceID,
			Channels:    int(r.Channels),
		}
		if err := json.Unmarshal(r.Amps, &c.Amps); err != nil {
			return c, fmt.Errorf("charger %s: %w", r.ID, err)
		}
		if err := json.Unmarshal(r.Settings, &c.Settings); err != nil {
			return c, fmt.Errorf("charger %s: %w", r.ID, err)
		}
		return c, nil
	})
}

// KeepCharger adds a charger or changes one; shop.ErrTaken where another has its name.
func (s *Store) KeepCharger(ctx context.Context, shopID record.ID, c record.Charger, at time.Time) error {
	amps, err := encode(c.Amps)
	if err != nil {
		return err
	}
	settings, err := encode(c.Settings)
	if err != nil {
		return err
	}
	folded := foldedName(c.Name)
	return s.keep(ctx, "charger", c.ID, shopID, func() error {
		return s.q.AddCharger(ctx, gen.AddChargerParams{
			ID: c.ID, ShopID: shopID, Name: c.Name, NameFolded: folded, Kind: c.Kind, Amps: amps, Volts: c.Volts, Settings: settings,
			WakeV: c.WakeV, Compensates: c.Compensates, PlaceID: c.PlaceID, Channels: int32(c.Channels), CreatedAt: at,
		})
	}, func() error {
		return s.q.ChangeCharger(ctx, gen.ChangeChargerParams{
			Name: c.Name, NameFolded: folded, Kind: c.Kind, Amps: amps, Volts: c.Volts, Settings: settings, WakeV: c.WakeV,
			Compensates: c.Compensates, PlaceID: c.PlaceID, Channels: int32(c.Channels), ShopID: shopID, ID: c.ID,
		})
	})
}

// DropCharger takes a charger off the list and gives its name free.
func (s *Store) DropCharger(ctx context.Context, shopID, id record.ID) error {
	return s.q.DropCharger(ctx, gen.DropChargerParams{ShopID: shopID, ID: id})
}

// InstalledNow lists what is in a vehicle and where a battery is, and holds both until
// the transaction ends.
func (s *Store) InstalledNow(ctx context.Context, shopID, vehicleID, batteryID record.ID) ([]record.Installation, error) {
	rows, err := s.q.InstalledNow(ctx, gen.InstalledNowParams{ShopID: shopID, VehicleID: vehicleID, BatteryID: batteryID})
	return each(rows, installationFrom), err
}

func installationFrom(r gen.Installation) record.Installation {
	return record.Installation{ID: r.ID, BatteryID: r.BatteryID, VehicleID: r.VehicleID, Position: r.Position, FromAt: r.FromAt, ToAt: r.ToAt}
}

// AddInstallation writes down that a battery is in a vehicle from a moment on.
func (s *Store) AddInstallation(ctx context.Context, shopID record.ID, i record.Installation) error {
	return s.q.AddInstallation(
		ctx,
		gen.AddInstallationParams{
			ID:        i.ID,
			ShopID:    shopID,
			BatteryID: i.BatteryID,
			VehicleID: i.VehicleID,
			Position:  i.Position,
			FromAt:    i.FromAt,
		},
	)
}

// EndInstallation writes down that it is not any more.
func (s *Store) EndInstallation(ctx context.Context, shopID, id record.ID, at time.Time) error {
	return s.q.EndInstallation(ctx, gen.EndInstallationParams{ToAt: &at, ShopID: shopID, ID: id})
}

// InstallationsOf lists where a battery was, latest first.
func (s *Store) InstallationsOf(ctx context.Context, shopID, batteryID record.ID) ([]record.Installation, error) {
	rows, err := s.q.InstallationsOfBattery(ctx, gen.InstallationsOfBatteryParams{ShopID: shopID, BatteryID: batteryID})
	return each(rows, func(r gen.InstallationsOfBatteryRow) record.Installation {
		i := installationFrom(r.Installation)
		i.Plate, i.Description = r.Plate, r.Description
		return i
	}), err
}

// AddStay writes down that something stays at a place from a moment on.
func (s *Store) AddStay(ctx context.Context, shopID record.ID, v record.Stay) error {
	return s.q.AddStay(ctx, gen.AddStayParams{
		ID: v.ID, ShopID: shopID, BatteryID: v.BatteryID, VehicleID: v.VehicleID, PlaceID: v.PlaceID, FromAt: v.FromAt, Purpose: v.Purpose,
		JobID: v.JobID,
	})
}

// EndStays ends where the subject of a job, a battery or a vehicle stays.
func (s *Store) EndStays(ctx context.Context, shopID record.ID, of record.Subject, at time.Time) error {
	switch {
	case of.JobID != nil:
		return s.q.EndStaysOfJob(ctx, gen.EndStaysOfJobParams{At: at, Shop: shopID, Subject: of.JobID})
	case of.BatteryID != nil:
		return s.q.EndStaysOfBattery(ctx, gen.EndStaysOfBatteryParams{At: at, Shop: shopID, Subject: of.BatteryID})
	}
	return s.q.EndStaysOfVehicle(ctx, gen.EndStaysOfVehicleParams{At: at, Shop: shopID, Subject: of.VehicleID})
}

func stayFrom(r gen.Stay) record.Stay {
	return record.Stay{
		ID:        r.ID,
		BatteryID: r.BatteryID,
		VehicleID: r.VehicleID,
		PlaceID:   r.PlaceID,
		FromAt:    r.FromAt,
		ToAt:      r.ToAt,
		Purpose:   r.Purpose,
		JobID:     r.JobID,
	}
}

// StaysAt lists what stays at a place now.
func (s *Store) StaysAt(ctx context.Context, shopID, placeID record.ID) ([]record.Stay, error) {
	rows, err := s.q.StaysAt(ctx, gen.StaysAtParams{ShopID: shopID, PlaceID: placeID})
	return each(rows, stayFrom), err
}

// StaysOf lists where a battery or a vehicle stayed, latest first.
func (s *Store) StaysOf(ctx context.Context, shopID record.ID, of record.Subject) ([]record.Stay, error) {
	if of.BatteryID != nil {
		rows, err := s.q.StaysOfBattery(ctx, gen.StaysOfBatteryParams{ShopID: shopID, BatteryID: of.BatteryID})
		return each(rows, stayFrom), err
	}
	rows, err := s.q.StaysOfVehicle(ctx, gen.StaysOfVehicleParams{ShopID: shopID, VehicleID: of.VehicleID})
	return each(rows, stayFrom), err
}
