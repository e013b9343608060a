package shop

import (
	"context"
	"slices"
	"time"

	"grapnel/app/record"
	"grapnel/core/charging"
	"grapnel/core/evidence"
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
