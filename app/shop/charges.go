package shop

import (
	"context"

	"grapnel/app/record"
	"grapnel/core/battery"
	"grapnel/core/charging"
	"grapnel/core/problem"
	"grapnel/core/quantity"
)

// charges are planned, followed and judged.
type charges struct {
	*house
	planner charging.Planner
}

// WhichCharge is what of a charge is asked: with which charger of the shop, none for one
// that is kind to the battery, and until when.
type WhichCharge struct {
	ChargerID ID
	Until     string
}

// PlanCharge plans the charge of a battery on a job from its readings, and judges it by the
// checks taken since it began.
func (s charges) PlanCharge(ctx context.Context, who Person, jobID, batteryID ID, which WhichCharge) (charging.Plan, error) {
	now, err := s.seeJob(ctx, who, jobID)
	if err != nil {
		return charging.Plan{}, err
	}
	of, err := now.Case(now.Moment, batteryID)
	if err != nil {
		return charging.Plan{}, err
	}
	chargers, err := s.store.Chargers(ctx, who.ShopID)
	if err != nil {
		return charging.Plan{}, err
	}
	ask := charging.Ask{Label: of.Case.Label, Until: charging.Full, Attended: true}
	ask.Case, ask.Log = charging.LogOf(of.Case)
	if which.Until != "" {
		ask.Until = which.Until
	}
	for _, c := range chargers {
		one := chargerOf(c)
		ask.Chargers = append(ask.Chargers, one)
		if c.ID == which.ChargerID {
			ask.Charger = &one
		}
	}
	if ask.Charger == nil && !which.ChargerID.IsZero() {
		return charging.Plan{}, problem.List{problem.New("problem.code", "charger", which.ChargerID.String(), "a charger of this shop")}
	}
	return s.planner.Plan(ask), nil
}

// chargerOf is a charger of the shop as the core knows chargers.
func chargerOf(c record.Charger) charging.Charger {
	out := charging.Charger{ID: c.ID.String(), Kind: charging.ChargerKind(c.Kind), Compensates: c.Compensates}
	for _, amps := range c.Amps {
		out.Amps = append(out.Amps, quantity.Amperes(amps))
	}
	for _, setting := range c.Settings {
		out.Settings = append(out.Settings, battery.Chemistry(setting))
	}
	if c.Volts != nil {
		volts := quantity.Volts(*c.Volts)
		out.Volts = &volts
	}
	if c.WakeV != nil {
		volts := quantity.Volts(*c.WakeV)
		out.WakeV = &volts
	}
	return out
}
