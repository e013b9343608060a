package shop

import (
	"context"
	"errors"
	"slices"
	"time"

	"grapnel/app/record"
	"grapnel/core/charging"
	"grapnel/core/evidence"
	"grapnel/core/problem"
)

// Charged is a charge that a battery of a job had on the shelf, for the report.
type Charged struct {
	BatteryID ID         `json:"battery_id"`
	Charger   string     `json:"charger"`
	Until     string     `json:"until" enum:"testable,full,equalise"`
	OnAt      time.Time  `json:"on_at"`
	OffAt     *time.Time `json:"off_at,omitempty"`
	// AhIn went in by its checks, nil without any; ToPutIn is what was missing.
	AhIn    *charging.Estimate `json:"ah_in"`
	ToPutIn *charging.Estimate `json:"to_put_in"`
}

// Charged lists what the batteries of a job were charged with on the shelf, the first first.
func (s shelves) Charged(ctx context.Context, who Person, jobID ID) ([]Charged, error) {
	list, err := s.store.ChargesOfJob(ctx, who.ShopID, jobID)
	if err != nil {
		return nil, err
	}
	chargers, err := s.store.Chargers(ctx, who.ShopID)
	if err != nil {
		return nil, err
	}
	out := []Charged{}
	for _, c := range list {
		if c.On == nil {
			continue
		}
		one, err := s.charged(ctx, who, c, chargers)
		if err != nil {
			return nil, err
		}
		out = append(out, one)
	}
	return out, nil
}

func (s shelves) charged(ctx context.Context, who Person, c record.Charge, chargers []record.Charger) (Charged, error) {
	out := Charged{BatteryID: c.BatteryID, Until: c.Until, OnAt: c.On.At, OffAt: c.OffAt}
	what, err := s.whatOf(ctx, s.store, who, c)
	if err != nil {
		return out, err
	}
	ask := what.ask
	if c.OffAt != nil {
		// What was read behind it is no part of it.
		ask.Case, ask.Log = charging.LogOf(upTo(what.judged, *c.OffAt))
	}
	// A charger that is off the list by now has no name any more.
	if i := slices.IndexFunc(chargers, func(one record.Charger) bool { return one.ID == c.On.ChargerID }); i >= 0 {
		out.Charger = laneName(chargers[i], c.On.Channel)
		with := chargerOf(chargers[i])
		ask.Charger = &with
	}
	plan := s.planner.Plan(ask)
	out.ToPutIn = plan.Ah.ToPutIn
	if plan.Now != nil {
		out.AhIn = plan.Now.AhIn
	}
	return out, nil
}

// upTo is a case as it stood at a time.
func upTo(c evidence.Case, at time.Time) evidence.Case {
	c.Readings = slices.DeleteFunc(slices.Clone(c.Readings), func(r evidence.Taken) bool { return r.At.After(at) })
	return c
}

// Limits of what a maker says of a charge.
const (
	mostMakerVolts = 1000
	mostMakerAmps  = 500
)

// SetMakerCharge writes down how a battery's maker wants it charged.
func (s shelves) SetMakerCharge(ctx context.Context, who Person, battery ID, m record.MakerCharge) error {
	var found problem.List
	if m.Volts != nil {
		found.CheckNumber("volts", m.Volts, 0.1, mostMakerVolts, "V")
	}
	if m.Amps != nil {
		found.CheckNumber("amps", m.Amps, 0.01, mostMakerAmps, "A")
	}
	found.CheckText("charger", m.Charger, 0, maxNameText)
	if err := found.Err(); err != nil {
		return err
	}
	return s.write(ctx, func(tx Tx) error {
		if _, err := tx.Battery(ctx, who.ShopID, battery); err != nil {
			return err
		}
		before, err := tx.MakerCharge(ctx, who.ShopID, battery)
		if err != nil && !errors.Is(err, ErrNotFound) || err == nil && sameJSON(before, m) {
			return err
		}
		if err := tx.SetMakerCharge(ctx, who.ShopID, battery, m); err != nil {
			return err
		}
		return s.tell(ctx, tx, who, nil, "maker_charge", map[string]any{"battery": battery, "before": before, "after": m})
	})
}

// MakerCharge is how a battery's maker wants it charged, as far as it was written down.
func (s shelves) MakerCharge(ctx context.Context, who Person, battery ID) (record.MakerCharge, error) {
	m, err := s.store.MakerCharge(ctx, who.ShopID, battery)
	if errors.Is(err, ErrNotFound) {
		return m, nil
	}
	return m, err
}
