package shop_test

import (
	"errors"
	"testing"
	"time"

	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/core/problem"
)

// TestPlanCharge plans the charge of a battery on a job with a charger of the shop, and
// follows it by the checks that were kept since; a charger that there is not is refused by
// name.
func TestPlanCharge(t *testing.T) {
	b := newBench(t)
	charger := record.Charger{ID: record.NewID(), Name: "Shelf 1", Kind: "multi_stage", Amps: []float64{2, 6}, Settings: []string{}}
	b.must(b.KeepCharger(t.Context(), b.owner, charger))
	b.keep("12.24 v 18c rested 2h")
	of := b.battery().ID
	plan, err := b.PlanCharge(t.Context(), b.owner, b.job, of, shop.WhichCharge{})
	b.must(err)
	if !plan.Allowed || len(plan.ByCharger) != 1 || plan.ByCharger[0].FullHours == nil || plan.Now != nil {
		t.Errorf("without a charger: %+v", plan)
	}
	with := shop.WhichCharge{ChargerID: charger.ID}
	plan, err = b.PlanCharge(t.Context(), b.owner, b.job, of, with)
	b.must(err)
	if plan.Setting == nil || plan.Setting.Amps != 6 {
		t.Errorf("with Shelf 1: %+v", plan.Setting)
	}
	for _, line := range []string{"charge 13.3v 6a 30min cool", "charge 13.5v 6a 60min cool no gas"} {
		b.now = b.now.Add(30 * time.Minute)
		b.keep(line)
	}
	plan, err = b.PlanCharge(t.Context(), b.owner, b.job, of, with)
	b.must(err)
	if plan.Now == nil || len(plan.Log) != 2 || plan.Now.Percent.Value < 50 || plan.Stop {
		t.Errorf("after two checks: %+v, log %+v", plan.Now, plan.Log)
	}
	var list problem.List
	if _, err := b.PlanCharge(t.Context(), b.owner, b.job, of, shop.WhichCharge{ChargerID: record.NewID()}); !errors.As(err, &list) || list[0].Field != "charger" {
		t.Errorf("a charger that there is not: %v", err)
	}
	b.keep("look crack")
	plan, err = b.PlanCharge(t.Context(), b.owner, b.job, of, with)
	b.must(err)
	if plan.Allowed || plan.Setting != nil {
		t.Errorf("a cracked case: %+v", plan)
	}
}
