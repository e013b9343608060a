package web

import (
	"context"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/app/record"
	"grapnel/app/shop"
)

// PlacePath names the place in an address.
type PlacePath struct {
	PlaceID record.ID `path:"place"`
}

// ChargerPath names the charger in an address.
type ChargerPath struct {
	ChargerID record.ID `path:"charger"`
}

type keepPlaceInput struct {
	PlacePath
	Body struct {
		Name    string   `json:"name" maxLength:"200"`
		Kind    string   `json:"kind" maxLength:"16"`
		Indoors bool     `json:"indoors,omitempty"`
		Watts   *float64 `json:"watts,omitempty"`
		RoomM3  *float64 `json:"room_m3,omitempty"`
		AirM3h  *float64 `json:"air_m3h,omitempty"`
		Ordinal int      `json:"ordinal,omitempty"`
	}
}

type keepChargerInput struct {
	ChargerPath
	Body struct {
		Name        string     `json:"name" maxLength:"200"`
		Kind        string     `json:"kind" maxLength:"16"`
		Amps        []float64  `json:"amps" maxItems:"12"`
		Volts       *float64   `json:"volts,omitempty"`
		Settings    []string   `json:"settings,omitempty" maxItems:"8"`
		WakeV       *float64   `json:"wake_v,omitempty"`
		Compensates bool       `json:"compensates,omitempty"`
		PlaceID     *record.ID `json:"place_id,omitempty" format:"uuid"`
		Channels    int        `json:"channels,omitempty"`
	}
}

type fitInput struct {
	BatteryPath
	InstallationID record.ID `path:"installation"`
	Body           struct {
		VehicleID record.ID `json:"vehicle_id" format:"uuid"`
		Position  string    `json:"position,omitempty" maxLength:"200"`
		At        time.Time `json:"at"`
	}
}

type takeOutInput struct {
	BatteryPath
	RemovalID record.ID `path:"removal"`
	Body      struct {
		At time.Time `json:"at"`
	}
}

type stayInput struct {
	StayID record.ID `path:"stay"`
	Body   struct {
		BatteryID *record.ID `json:"battery_id,omitempty" format:"uuid"`
		VehicleID *record.ID `json:"vehicle_id,omitempty" format:"uuid"`
		PlaceID   record.ID  `json:"place_id" format:"uuid"`
		FromAt    time.Time  `json:"from_at"`
		Purpose   string     `json:"purpose" maxLength:"16"`
	}
}

type leaveInput struct {
	LeaveID record.ID `path:"leave"`
	Body    struct {
		BatteryID *record.ID `json:"battery_id,omitempty" format:"uuid"`
		VehicleID *record.ID `json:"vehicle_id,omitempty" format:"uuid"`
		At        time.Time  `json:"at"`
	}
}

type looseInput struct {
	BatteryPath
	ReadingID record.ID `path:"reading"`
	Body      struct {
		Line    string    `json:"line" maxLength:"2000"`
		TakenAt time.Time `json:"taken_at"`
	}
}

// placeAPI serves what belongs to no job: places and chargers, which battery is in which
// vehicle, what stays where, and readings taken there.
func (s *Server) placeAPI(api huma.API) {
	get(s, api, "/places", "places", "The shop's places in the order of the board",
		func(ctx context.Context, _ *none) ([]record.Place, error) {
			return s.shop.Places(ctx, who(ctx))
		})
	put(s, api, "/places/{place}", "keepPlace", "Add a place, or change one; the owner only",
		func(ctx context.Context, in *keepPlaceInput) ([]record.Place, error) {
			b := in.Body
			p := record.Place{
				ID:      in.PlaceID,
				Name:    b.Name,
				Kind:    b.Kind,
				Indoors: b.Indoors,
				Watts:   b.Watts,
				RoomM3:  b.RoomM3,
				AirM3h:  b.AirM3h,
				Ordinal: b.Ordinal,
			}
			return listAfter(ctx, s.shop.KeepPlace(ctx, who(ctx), p), s.shop.Places)
		})
	remove(s, api, "/places/{place}", "dropPlace", "Take a place off the list; the owner only",
		func(ctx context.Context, in *PlacePath) ([]record.Place, error) {
			return listAfter(ctx, s.shop.DropPlace(ctx, who(ctx), in.PlaceID), s.shop.Places)
		})
	get(s, api, "/places/{place}/stays", "staysAt", "What stays at a place now",
		func(ctx context.Context, in *PlacePath) ([]record.Stay, error) {
			return s.shop.StaysAt(ctx, who(ctx), in.PlaceID)
		})
	get(s, api, "/chargers", "chargers", "The shop's chargers",
		func(ctx context.Context, _ *none) ([]record.Charger, error) {
			return s.shop.Chargers(ctx, who(ctx))
		})
	put(s, api, "/chargers/{charger}", "keepCharger", "Add a charger, or change one; the owner only",
		func(ctx context.Context, in *keepChargerInput) ([]record.Charger, error) {
			b := in.Body
			c := record.Charger{
				ID:          in.ChargerID,
				Name:        b.Name,
				Kind:        b.Kind,
				Amps:        b.Amps,
				Volts:       b.Volts,
				Settings:    b.Settings,
				WakeV:       b.WakeV,
				Compensates: b.Compensates,
				PlaceID:     b.PlaceID,
				Channels:    b.Channels,
			}
			return listAfter(ctx, s.shop.KeepCharger(ctx, who(ctx), c), s.shop.Chargers)
		})
	remove(s, api, "/chargers/{charger}", "dropCharger", "Take a charger off the list; the owner only",
		func(ctx context.Context, in *ChargerPath) ([]record.Charger, error) {
			return listAfter(ctx, s.shop.DropCharger(ctx, who(ctx), in.ChargerID), s.shop.Chargers)
		})
	s.whereaboutsAPI(api)
}

// whereaboutsAPI serves where batteries and vehicles are.
func (s *Server) whereaboutsAPI(api huma.API) {
	put(
		s,
		api,
		"/batteries/{battery}/installations/{installation}",
		"fitBattery",
		"Fit a battery into a vehicle, or move it; the ID is the idempotency key",
		func(ctx context.Context, in *fitInput) (shop.Moved, error) {
			b := in.Body
			fit := shop.Fit{ID: in.InstallationID, BatteryID: in.BatteryID, VehicleID: b.VehicleID, Position: b.Position, At: b.At}
			return s.shop.Fit(ctx, who(ctx), fit)
		},
	)
	put(
		s,
		api,
		"/batteries/{battery}/removals/{removal}",
		"takeOutBattery",
		"Take a battery out of the vehicle it is in; the ID is the idempotency key",
		func(ctx context.Context, in *takeOutInput) (shop.Moved, error) {
			return s.shop.TakeOut(ctx, who(ctx), in.RemovalID, in.BatteryID, in.Body.At)
		},
	)
	put(s, api, "/stays/{stay}", "stay", "Put a battery or a vehicle at a place; the ID is the idempotency key",
		func(ctx context.Context, in *stayInput) ([]record.Stay, error) {
			b := in.Body
			stay := record.Stay{
				ID:        in.StayID,
				BatteryID: b.BatteryID,
				VehicleID: b.VehicleID,
				PlaceID:   b.PlaceID,
				FromAt:    b.FromAt,
				Purpose:   b.Purpose,
			}
			return s.staysAfter(ctx, s.shop.Stay(ctx, who(ctx), stay), record.Subject{BatteryID: b.BatteryID, VehicleID: b.VehicleID})
		})
	put(s, api, "/leaves/{leave}", "leave", "End where a battery or a vehicle stays; the ID is the idempotency key",
		func(ctx context.Context, in *leaveInput) ([]record.Stay, error) {
			of := record.Subject{BatteryID: in.Body.BatteryID, VehicleID: in.Body.VehicleID}
			return s.staysAfter(ctx, s.shop.Leave(ctx, who(ctx), in.LeaveID, of, in.Body.At), of)
		})
	get(s, api, "/batteries/{battery}/stays", "staysOfBattery", "Where a battery stayed, latest first",
		func(ctx context.Context, in *BatteryPath) ([]record.Stay, error) {
			return s.shop.StaysOf(ctx, who(ctx), record.Subject{BatteryID: &in.BatteryID})
		})
	put(
		s,
		api,
		"/batteries/{battery}/readings/{reading}",
		"keepLooseReading",
		"Keep a reading of a battery that is on no job; its ID is the idempotency key",
		func(ctx context.Context, in *looseInput) (shop.BatteryPage, error) {
			of := record.Subject{BatteryID: &in.BatteryID}
			keep := record.Keep{ID: in.ReadingID, BatteryID: in.BatteryID, Line: in.Body.Line, TakenAt: in.Body.TakenAt}
			if err := s.shop.KeepOf(ctx, who(ctx), of, keep); err != nil {
				return shop.BatteryPage{}, err
			}
			return s.shop.BatteryPage(ctx, who(ctx), in.BatteryID)
		},
	)
}

// listAfter is a list of the shop as it stands after a change, or the change's error.
func listAfter[T any](ctx context.Context, err error, list func(context.Context, shop.Person) ([]T, error)) ([]T, error) {
	if err != nil {
		return nil, err
	}
	return list(ctx, who(ctx))
}

func (s *Server) staysAfter(ctx context.Context, err error, of record.Subject) ([]record.Stay, error) {
	if err != nil {
		return nil, err
	}
	return s.shop.StaysOf(ctx, who(ctx), of)
}
