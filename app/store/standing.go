package store

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store/gen"
	"grapnel/core/evidence"
	"grapnel/core/standing"
)

// Climate is that of the shop; the zero one where nobody said.
func (s *Store) Climate(ctx context.Context, shopID record.ID) (shop.OwnClimate, error) {
	text, err := s.q.Climate(ctx, shopID)
	return unsaid[shop.OwnClimate](text, err, "climate of shop", shopID)
}

// KeepClimate writes down the climate of the shop.
func (s *Store) KeepClimate(ctx context.Context, shopID record.ID, c shop.OwnClimate) error {
	text, err := encode(c)
	if err != nil {
		return err
	}
	return s.q.KeepClimate(ctx, gen.KeepClimateParams{Climate: string(text), ID: shopID})
}

// AddStanding writes down that a battery stands; ErrTaken where it does already.
func (s *Store) AddStanding(ctx context.Context, shopID record.ID, st shop.Standing) error {
	said, err := encode(st.Said)
	if err != nil {
		return err
	}
	return taken(s.q.AddStanding(ctx, gen.AddStandingParams{
		ID: st.ID, ShopID: shopID, BatteryID: st.BatteryID, VehicleID: st.VehicleID, PlaceID: st.PlaceID, FromAt: st.FromAt,
		Said: string(said), SeenAt: st.SeenAt, ChangedAt: st.ChangedAt,
	}))
}

// ChangeStanding writes down how it stands now, or that it does no more.
func (s *Store) ChangeStanding(ctx context.Context, shopID record.ID, st shop.Standing) error {
	said, err := encode(st.Said)
	if err != nil {
		return err
	}
	open := true
	p := gen.ChangeStandingParams{
		PlaceID: st.PlaceID, Said: string(said), SeenAt: st.SeenAt, ToAt: st.ToAt, Open: &open, ChangedAt: st.ChangedAt, ShopID: shopID, ID: st.ID,
	}
	if st.ToAt != nil {
		p.Open = nil
	}
	return s.q.ChangeStanding(ctx, p)
}

// KeepForecast keeps what one comes to, unless it was changed since its revision.
func (s *Store) KeepForecast(ctx context.Context, shopID, id record.ID, revision int, basis string, f shop.Forecast) error {
	text, err := encode(f)
	if err != nil {
		return err
	}
	return s.q.KeepForecast(ctx, gen.KeepForecastParams{Basis: basis, Forecast: string(text), ShopID: shopID, ID: id, Revision: int32(revision)})
}

// LockStanding holds one for the rest of a transaction, and reads it.
func (s *Store) LockStanding(ctx context.Context, shopID, id record.ID) (shop.StandingRow, error) {
	if _, err := s.q.StandingLocked(ctx, gen.StandingLockedParams{ShopID: shopID, ID: id}); err != nil {
		return shop.StandingRow{}, found(err)
	}
	return s.Standing(ctx, shopID, id)
}

// Standing is one that stands, or stood.
func (s *Store) Standing(ctx context.Context, shopID, id record.ID) (shop.StandingRow, error) {
	r, err := s.q.StandingByID(ctx, gen.StandingByIDParams{ShopID: shopID, ID: id})
	if err != nil {
		return shop.StandingRow{}, found(err)
	}
	return standingOf(gen.StandingNowRow(r))
}

// StandingNow lists all that stands, in the order it was put away.
func (s *Store) StandingNow(ctx context.Context, shopID record.ID) ([]shop.StandingRow, error) {
	rows, err := s.q.StandingNow(ctx, shopID)
	if err != nil {
		return nil, err
	}
	return eachOrFail(rows, standingOf)
}

// OpenStandingOf is the one a battery stands as; the zero ID for none.
func (s *Store) OpenStandingOf(ctx context.Context, shopID, batteryID record.ID) (record.ID, error) {
	ids, err := s.q.OpenStandingOf(ctx, gen.OpenStandingOfParams{ShopID: shopID, BatteryID: batteryID})
	if err != nil || len(ids) == 0 {
		return record.ID{}, err
	}
	return ids[0], nil
}

func standingOf(r gen.StandingNowRow) (shop.StandingRow, error) {
	row := shop.StandingRow{
		Standing: shop.Standing{
			ID: r.Standing.ID, BatteryID: r.Standing.BatteryID, VehicleID: r.Standing.VehicleID, PlaceID: r.Standing.PlaceID, Place: r.Place,
			FromAt: r.Standing.FromAt, ToAt: r.Standing.ToAt, SeenAt: r.Standing.SeenAt, Revision: int(r.Standing.Revision), ChangedAt: r.Standing.ChangedAt,
		},
		Battery: batteryFrom(r.Battery), Plate: r.Plate, Description: r.Description, Customer: r.Customer, Basis: r.Standing.Basis,
		Vehicle: evidence.Vehicle{Kind: r.Kind, Engine: r.Engine, Litres: r.Litres, Cranks12V: r.Cranks12v, Earth: r.Earth}, Readings: r.Readings,
	}
	if err := json.Unmarshal([]byte(r.Standing.Said), &row.Said); err != nil {
		return row, fmt.Errorf("standing %s: %w", row.ID, err)
	}
	if r.Standing.VehicleID == nil {
		row.Vehicle = evidence.Vehicle{Kind: "none"}
	}
	var err error
	row.Forecast, err = unsaid[shop.Forecast](r.Standing.Forecast, nil, "forecast of", row.ID)
	return row, err
}

// AddStandingVisit writes down that somebody came to one.
func (s *Store) AddStandingVisit(ctx context.Context, shopID, standingID, personID record.ID, v shop.StandingVisit, received time.Time) error {
	off, err := encode(v.Off)
	if err != nil {
		return err
	}
	ids, err := encode(v.Readings)
	if err != nil {
		return err
	}
	return s.q.AddStandingVisit(ctx, gen.AddStandingVisitParams{
		ID: v.ID, ShopID: shopID, StandingID: standingID, PersonID: personID, At: v.At, ReceivedAt: received, Typed: v.Typed, Did: v.Did, Note: v.Note,
		Found: string(off), Readings: string(ids),
	})
}

// MistakenVisit marks one as written down by mistake.
func (s *Store) MistakenVisit(ctx context.Context, shopID, id record.ID) error {
	return s.q.MistakenVisit(ctx, gen.MistakenVisitParams{ShopID: shopID, ID: id})
}

// StandingVisits lists who came to one, latest first.
func (s *Store) StandingVisits(ctx context.Context, shopID, standingID record.ID) ([]shop.StandingVisit, error) {
	rows, err := s.q.StandingVisits(ctx, gen.StandingVisitsParams{ShopID: shopID, StandingID: standingID})
	if err != nil {
		return nil, err
	}
	return eachOrFail(rows, func(r gen.StandingVisitsRow) (shop.StandingVisit, error) {
		v := shop.StandingVisit{ID: r.StandingVisit.ID, At: r.StandingVisit.At, By: r.PersonName, Typed: r.StandingVisit.Typed, Did: r.StandingVisit.Did, Note: r.StandingVisit.Note, Mistaken: r.StandingVisit.Mistaken}
		if v.Readings, err = unsaid[[]record.ID](r.StandingVisit.Readings, nil, "readings of visit", v.ID); err != nil {
			return v, err
		}
		off, err := unsaid[*standing.Off](r.StandingVisit.Found, nil, "visit", v.ID)
		v.Off = off
		return v, err
	})
}

// AddFeed writes down a calendar that is subscribed to, by the hash of its secret.
func (s *Store) AddFeed(ctx context.Context, shopID, personID record.ID, f shop.CalendarFeed, secret string) error {
	return s.q.AddFeed(ctx, gen.AddFeedParams{ID: f.ID, ShopID: shopID, PersonID: personID, Name: f.Name, Secret: secret, CreatedAt: f.CreatedAt})
}

// Feeds lists those that are not withdrawn.
func (s *Store) Feeds(ctx context.Context, shopID record.ID) ([]shop.CalendarFeed, error) {
	rows, err := s.q.Feeds(ctx, shopID)
	return each(rows, func(r gen.FeedsRow) shop.CalendarFeed {
		return shop.CalendarFeed{ID: r.CalendarFeed.ID, Name: r.CalendarFeed.Name, By: r.PersonName, Rests: !r.PersonActive, CreatedAt: r.CalendarFeed.CreatedAt}
	}), err
}

// WithdrawFeed makes an address answer no more.
func (s *Store) WithdrawFeed(ctx context.Context, shopID, id record.ID, at time.Time) error {
	return s.q.WithdrawFeed(ctx, gen.WithdrawFeedParams{WithdrawnAt: &at, ShopID: shopID, ID: id})
}

// FeedBySecret is the shop of a feed that is not withdrawn, and who made it; none while they
// are switched off.
func (s *Store) FeedBySecret(ctx context.Context, secret string) (shopID, personID record.ID, err error) {
	row, err := s.q.FeedBySecret(ctx, secret)
	return row.ShopID, row.PersonID, found(err)
}
