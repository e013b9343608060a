package store

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

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

// FollowCharge has a charge followed by an instrument from now on; what was seen of it stays.
func (s *Store) FollowCharge(ctx context.Context, t record.Trace) error {
	if _, err := s.ours(ctx, "trace", "charge_id", t.ChargeID, t.ShopID); err != nil {
		return err
	}
	return s.q.FollowCharge(ctx, gen.FollowChargeParams{ChargeID: t.ChargeID, ShopID: t.ShopID, InstrumentID: t.InstrumentID, PersonID: t.PersonID})
}

// LeaveCharge ends that; without one nothing happens.
func (s *Store) LeaveCharge(ctx context.Context, shopID, id record.ID) error {
	return s.q.LeaveCharge(ctx, gen.LeaveChargeParams{ShopID: shopID, ChargeID: id})
}

// Trace is what was seen of a charge; shop.ErrNotFound where nothing followed it.
func (s *Store) Trace(ctx context.Context, shopID, id record.ID) (record.Trace, error) {
	row, err := s.q.Trace(ctx, gen.TraceParams{ShopID: shopID, ChargeID: id})
	if err != nil {
		return record.Trace{}, found(err)
	}
	return traceFrom(row)
}

// FollowedTraces lists the charges that are followed now, without what was seen of them.
func (s *Store) FollowedTraces(ctx context.Context) ([]record.Trace, error) {
	rows, err := s.q.FollowedTraces(ctx)
	return each(rows, func(r gen.FollowedTracesRow) record.Trace {
		return record.Trace{ChargeID: r.ChargeID, ShopID: r.ShopID, InstrumentID: r.InstrumentID, PersonID: r.PersonID, Followed: true, CheckedAt: r.CheckedAt}
	}), err
}

// HoldTrace gives a followed charge to one server alone until some time, and tells whether
// it has it.
func (s *Store) HoldTrace(ctx context.Context, id, holder record.ID, at, till time.Time) (bool, error) {
	n, err := s.q.HoldTrace(ctx, gen.HoldTraceParams{Me: &holder, Till: &till, ID: id, At: &at, Latest: latest(at)})
	return n > 0, err
}

// KeepTrace writes what its holder has seen; what another holds is left.
func (s *Store) KeepTrace(ctx context.Context, holder record.ID, t record.Trace) error {
	points, err := encode(t.Trace)
	if err != nil {
		return err
	}
	return s.q.KeepTrace(ctx, gen.KeepTraceParams{
		Points: string(points), Trouble: t.Trouble, CheckedAt: t.CheckedAt, ChargeID: t.ChargeID, Holder: &holder,
	})
}

func traceFrom(r gen.Trace) (record.Trace, error) {
	t := record.Trace{
		ChargeID: r.ChargeID, ShopID: r.ShopID, InstrumentID: r.InstrumentID, PersonID: r.PersonID, Followed: r.Followed, Trouble: r.Trouble,
		CheckedAt: r.CheckedAt,
	}
	if r.Points == "" {
		return t, nil
	}
	if err := json.Unmarshal([]byte(r.Points), &t.Trace); err != nil {
		return t, fmt.Errorf("trace: %w", err)
	}
	return t, nil
}

// SetMakerCharge writes down how a battery's maker wants it charged.
func (s *Store) SetMakerCharge(ctx context.Context, shopID, battery record.ID, m record.MakerCharge) error {
	if _, err := s.ours(ctx, "maker_charge", "battery_id", battery, shopID); err != nil {
		return err
	}
	return s.q.SetMakerCharge(ctx, gen.SetMakerChargeParams{BatteryID: battery, ShopID: shopID, Volts: m.Volts, Amps: m.Amps, Charger: m.Charger})
}

// MakerCharge is how a battery's maker wants it charged; shop.ErrNotFound where nobody said.
func (s *Store) MakerCharge(ctx context.Context, shopID, battery record.ID) (record.MakerCharge, error) {
	row, err := s.q.MakerCharge(ctx, gen.MakerChargeParams{ShopID: shopID, BatteryID: battery})
	return record.MakerCharge{Volts: row.Volts, Amps: row.Amps, Charger: row.Charger}, found(err)
}
