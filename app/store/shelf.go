package store

import (
	"context"
	"encoding/json"
	"fmt"

	"grapnel/app/record"
	"grapnel/app/store/gen"
)

// SetHands writes down when somebody is there.
func (s *Store) SetHands(ctx context.Context, shopID record.ID, hours []record.Hours) error {
	text, err := encode(hours)
	if err != nil {
		return err
	}
	return s.q.SetHands(ctx, gen.SetHandsParams{Hands: string(text), ID: shopID})
}

// handsFrom reads when somebody is there; the usual hours where nothing was said.
func handsFrom(text string) ([]record.Hours, error) {
	if text == "" {
		return record.UsualHours(), nil
	}
	hours := []record.Hours{}
	if err := json.Unmarshal([]byte(text), &hours); err != nil {
		return nil, fmt.Errorf("hands: %w", err)
	}
	return hours, nil
}

// AddCharge puts a battery on the list of what waits for a charger.
func (s *Store) AddCharge(ctx context.Context, shopID record.ID, c record.Charge) error {
	row := chargeRow(c)
	return taken(s.q.AddCharge(ctx, gen.AddChargeParams{
		ID: c.ID, ShopID: shopID, BatteryID: c.BatteryID, JobID: c.JobID, Chalk: int32(c.Chalk), Goal: c.Until, ReadyBy: c.ReadyBy, Weight: c.Weight,
		AskedAt: c.AskedAt, ChargerID: row.ChargerID, Channel: row.Channel, OnAt: row.OnAt, OffAt: c.OffAt, PinChargerID: row.PinChargerID,
		PinChannel: row.PinChannel, PinFrom: row.PinFrom, Open: row.Open,
	}))
}

// UpdateCharge writes what changes of a charge; shop.ErrTaken where its channel has another.
func (s *Store) UpdateCharge(ctx context.Context, shopID record.ID, c record.Charge) error {
	row := chargeRow(c)
	return taken(s.q.UpdateCharge(ctx, gen.UpdateChargeParams{
		Goal: c.Until, ReadyBy: c.ReadyBy, Weight: c.Weight, ChargerID: row.ChargerID, Channel: row.Channel, OnAt: row.OnAt, OffAt: c.OffAt,
		PinChargerID: row.PinChargerID, PinChannel: row.PinChannel, PinFrom: row.PinFrom, Open: row.Open, ShopID: shopID, ID: c.ID,
	}))
}

// chargeRow spreads where a battery is on, and where it is wanted, over their columns.
func chargeRow(c record.Charge) (row gen.Charge) {
	if c.On != nil {
		row.ChargerID, row.Channel, row.OnAt = &c.On.ChargerID, int32(c.On.Channel), &c.On.At
	}
	if c.Pin != nil {
		row.PinChargerID, row.PinChannel, row.PinFrom = &c.Pin.ChargerID, int32(c.Pin.Channel), c.Pin.From
	}
	if open := true; c.Open() {
		row.Open = &open
	}
	return row
}

func chargeFrom(r gen.Charge) record.Charge {
	c := record.Charge{
		ID: r.ID, BatteryID: r.BatteryID, JobID: r.JobID, Chalk: int(r.Chalk), Until: r.Goal, ReadyBy: r.ReadyBy, Weight: r.Weight,
		AskedAt: r.AskedAt, OffAt: r.OffAt,
	}
	if r.ChargerID != nil && r.OnAt != nil {
		c.On = &record.OnCharger{Output: record.Output{ChargerID: *r.ChargerID, Channel: int(r.Channel)}, At: *r.OnAt}
	}
	if r.PinChargerID != nil {
		c.Pin = &record.ChargePin{Output: record.Output{ChargerID: *r.PinChargerID, Channel: int(r.PinChannel)}, From: r.PinFrom}
	}
	return c
}

// Charge is one charge.
func (s *Store) Charge(ctx context.Context, shopID, id record.ID) (record.Charge, error) {
	row, err := s.q.Charge(ctx, gen.ChargeParams{ShopID: shopID, ID: id})
	return chargeFrom(row), found(err)
}

// ChargeForUpdate is one charge, held until the transaction ends.
func (s *Store) ChargeForUpdate(ctx context.Context, shopID, id record.ID) (record.Charge, error) {
	row, err := s.q.ChargeForUpdate(ctx, gen.ChargeForUpdateParams{ShopID: shopID, ID: id})
	return chargeFrom(row), found(err)
}

// OpenCharges lists what waits for a charger or is on one, by the numbers on them.
func (s *Store) OpenCharges(ctx context.Context, shopID record.ID) ([]record.Charge, error) {
	rows, err := s.q.OpenCharges(ctx, shopID)
	return each(rows, chargeFrom), err
}

// ChargesOfJob lists the charges of a job, the first first.
func (s *Store) ChargesOfJob(ctx context.Context, shopID, jobID record.ID) ([]record.Charge, error) {
	rows, err := s.q.ChargesOfJob(ctx, gen.ChargesOfJobParams{ShopID: shopID, JobID: &jobID})
	return each(rows, chargeFrom), err
}
