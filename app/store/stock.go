package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store/gen"
	"grapnel/core/fitting"
)

// KeepBody writes down what a battery looks like from outside.
func (s *Store) KeepBody(ctx context.Context, shopID, batteryID record.ID, b fitting.Body) error {
	if _, err := s.ours(ctx, "battery_outside", "battery_id", batteryID, shopID); err != nil {
		return err
	}
	body, err := encode(b)
	if err != nil {
		return err
	}
	return s.q.KeepOutside(ctx, gen.KeepOutsideParams{BatteryID: batteryID, ShopID: shopID, Body: string(body)})
}

// Body is what a battery looks like from outside; the zero one where nobody said.
func (s *Store) Body(ctx context.Context, shopID, batteryID record.ID) (fitting.Body, error) {
	text, err := s.q.Outside(ctx, gen.OutsideParams{ShopID: shopID, BatteryID: batteryID})
	return unsaid[fitting.Body](text, err, "body of battery", batteryID)
}

// KeepWants writes down what a vehicle wants of a battery.
func (s *Store) KeepWants(ctx context.Context, shopID, vehicleID record.ID, w shop.Wants) error {
	if _, err := s.ours(ctx, "vehicle_wants", "vehicle_id", vehicleID, shopID); err != nil {
		return err
	}
	wants, err := encode(w)
	if err != nil {
		return err
	}
	return s.q.KeepWants(ctx, gen.KeepWantsParams{VehicleID: vehicleID, ShopID: shopID, Wants: string(wants)})
}

// Wants is what a vehicle wants of a battery; the zero one where nobody said.
func (s *Store) Wants(ctx context.Context, shopID, vehicleID record.ID) (shop.Wants, error) {
	text, err := s.q.Wants(ctx, gen.WantsParams{ShopID: shopID, VehicleID: vehicleID})
	return unsaid[shop.Wants](text, err, "wants of vehicle", vehicleID)
}

// unsaid reads a value that was kept as JSON; the zero one where none was kept.
func unsaid[T any](text string, err error, of string, id record.ID) (T, error) {
	var out T
	if errors.Is(err, sql.ErrNoRows) || err == nil && text == "" {
		return out, nil
	}
	if err != nil {
		return out, err
	}
	if err := json.Unmarshal([]byte(text), &out); err != nil {
		return out, fmt.Errorf("%s %s: %w", of, id, err)
	}
	return out, nil
}

// KeepStock writes down a battery of the shop's own as it stands.
func (s *Store) KeepStock(ctx context.Context, shopID record.ID, i shop.StockItem) error {
	if _, err := s.ours(ctx, "stock", "battery_id", i.Battery.ID, shopID); err != nil {
		return err
	}
	here := true
	p := gen.KeepStockParams{
		BatteryID: i.Battery.ID, ShopID: shopID, PlaceID: i.PlaceID, ChargedOn: i.ChargedOn, Used: i.Used, CameAt: i.CameAt,
		GoneAt: i.GoneAt, GoneHow: i.GoneHow, Here: &here,
	}
	if i.PriceMinor != nil {
		p.PriceMinor = sql.NullInt64{Int64: *i.PriceMinor, Valid: true}
	}
	if i.GoneAt != nil {
		p.Here = nil
	}
	return s.q.KeepStock(ctx, p)
}

// LeaveStock marks a battery of the stock as gone; it reports false where it had gone already.
func (s *Store) LeaveStock(ctx context.Context, shopID, batteryID record.ID, at time.Time, how string) (bool, error) {
	n, err := s.q.LeaveStock(ctx, gen.LeaveStockParams{GoneAt: &at, GoneHow: how, ShopID: shopID, BatteryID: batteryID})
	return n > 0, err
}

// StockItem is one battery of the shop's own, here or gone.
func (s *Store) StockItem(ctx context.Context, shopID, batteryID record.ID) (shop.StockItem, error) {
	row, err := s.q.StockRow(ctx, gen.StockRowParams{ShopID: shopID, BatteryID: batteryID})
	if err != nil {
		return shop.StockItem{}, found(err)
	}
	return stockOf(row)
}

// StockHere lists the batteries of the shop's own that are here, in the order they came.
func (s *Store) StockHere(ctx context.Context, shopID record.ID) ([]shop.StockItem, error) {
	rows, err := s.q.StockHere(ctx, shopID)
	if err != nil {
		return nil, err
	}
	return eachOrFail(rows, func(r gen.StockHereRow) (shop.StockItem, error) { return stockOf(gen.StockRowRow(r)) })
}

func stockOf(r gen.StockRowRow) (shop.StockItem, error) {
	i := shop.StockItem{
		Battery: batteryFrom(r.Battery), PlaceID: r.Stock.PlaceID, Place: r.Place, ChargedOn: r.Stock.ChargedOn, Used: r.Stock.Used,
		CameAt: r.Stock.CameAt, GoneAt: r.Stock.GoneAt, GoneHow: r.Stock.GoneHow,
	}
	if r.Stock.PriceMinor.Valid {
		i.PriceMinor = &r.Stock.PriceMinor.Int64
	}
	body, err := unsaid[fitting.Body](r.Body, nil, "body of battery", r.Battery.ID)
	i.Body = body
	return i, err
}

// AddReplacement writes down that a battery was fitted for another.
func (s *Store) AddReplacement(ctx context.Context, shopID, jobID record.ID, r record.Replacement) error {
	return s.q.AddReplacement(ctx, gen.AddReplacementParams{
		ID: r.ID, ShopID: shopID, JobID: jobID, OldID: r.OldID, NewID: r.NewID, Goes: r.Goes, Deposit: r.Deposit,
		WarrantyUntil: r.WarrantyUntil, PersonID: r.PersonID, At: r.At,
	})
}

// TakeBackReplacement marks one as taken back.
func (s *Store) TakeBackReplacement(ctx context.Context, shopID, id record.ID, at time.Time) error {
	return s.q.TakeBackReplacement(ctx, gen.TakeBackReplacementParams{BackAt: &at, ShopID: shopID, ID: id})
}

// ReplacementsOfJob lists those of a job that hold.
func (s *Store) ReplacementsOfJob(ctx context.Context, shopID, jobID record.ID) ([]record.Replacement, error) {
	rows, err := s.q.ReplacementsOfJob(ctx, gen.ReplacementsOfJobParams{ShopID: shopID, JobID: jobID})
	return each(rows, func(r gen.ReplacementsOfJobRow) record.Replacement {
		return replacementOf(r.Replacement, r.Tag, r.Maker, r.PersonName)
	}), err
}

// ReplacementsOfBattery lists those that a battery was the old or the new one of.
func (s *Store) ReplacementsOfBattery(ctx context.Context, shopID, batteryID record.ID) ([]record.Replacement, error) {
	rows, err := s.q.ReplacementsOfBattery(ctx, gen.ReplacementsOfBatteryParams{ShopID: shopID, OldID: batteryID, NewID: batteryID})
	return each(rows, func(r gen.ReplacementsOfBatteryRow) record.Replacement {
		return replacementOf(r.Replacement, r.Tag, r.Maker, r.PersonName)
	}), err
}

func replacementOf(r gen.Replacement, tag, maker, by string) record.Replacement {
	return record.Replacement{
		ID: r.ID, OldID: r.OldID, NewID: r.NewID, Tag: tag, Maker: maker, Goes: r.Goes, Deposit: r.Deposit, WarrantyUntil: r.WarrantyUntil,
		PersonID: r.PersonID, By: by, At: r.At,
	}
}
