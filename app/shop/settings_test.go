package shop_test

import (
	"testing"

	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/trail"
)

// TestEverySettingToTheKeys walks each setting of the trade from the symptom to the
// keys: it is brought in, measured, refused while points are open, answered point by
// point, and handed back with a page for the customer.
func TestEverySettingToTheKeys(t *testing.T) {
	b := newBench(t)
	yes, no := true, false
	flooded := battery.Label{Chemistry: battery.Flooded, NominalV: 12, Rating: &battery.Rating{Value: 650, Standard: battery.SAE}, Sealed: &no}
	agm := battery.Label{Chemistry: battery.AGM, NominalV: 12, Rating: &battery.Rating{Value: 345, Standard: battery.SAE}}
	six := battery.Label{Chemistry: battery.Flooded, NominalV: 6, Rating: &battery.Rating{Value: 400, Standard: battery.SAE}}
	lithium := battery.Label{Chemistry: battery.LiFePO4, NominalV: 12}
	pass := "12.66 v 18c rested 2h; load 325a 15s 10.2v"
	for _, c := range []struct {
		name    string
		vehicle *evidence.Vehicle
		label   battery.Label
		mount   trail.Mounting
		count   int
		purpose string
		symptom string
		line    string
		// point is one that this setting is asked for before the keys, or at all.
		point string
	}{
		{"car", &evidence.Vehicle{Kind: "car"}, flooded, trail.Mounting{Where: trail.Bonnet}, 1, trail.Repair, "slow_crank", pass, "hold_down"},
		{"side terminals", &evidence.Vehicle{Kind: "car"}, flooded, trail.Mounting{Posts: trail.SidePosts}, 1, trail.Repair, "slow_crank", pass, "covers"},
		{"out of reach", &evidence.Vehicle{Kind: "car"}, flooded, trail.Mounting{Where: trail.WheelArch}, 1, trail.Repair, "dies_again", pass, "vent_tube"},
		{"start-stop", &evidence.Vehicle{Kind: "car", StartStop: &yes}, agm, trail.Mounting{}, 1, trail.Repair, "slow_crank", "12.9 v 18c rested 2h; load 173a 15s 8.1v", "register"},
		{"two in parallel", &evidence.Vehicle{Kind: "truck", Engine: "diesel"}, flooded, trail.Mounting{Joined: trail.Parallel}, 2, trail.Repair, "slow_crank", pass, "joined_again"},
		{"hybrid", &evidence.Vehicle{Kind: "hybrid"}, agm, trail.Mounting{Where: trail.Boot}, 1, trail.Repair, "locked_out", "12.9 v rested 2h; dcdc 12.8v to 14.1v 3s", "vent_tube"},
		{"electric", &evidence.Vehicle{Kind: "electric"}, agm, trail.Mounting{}, 1, trail.Repair, "odd_warnings", "12.1 v rested 2h", "full_charge"},
		{"motorcycle", &evidence.Vehicle{Kind: "motorcycle"}, agm, trail.Mounting{}, 1, trail.Repair, "flat_after_storage", "12.9 v rested 2h", "strip"},
		{"mower", &evidence.Vehicle{Kind: "mower"}, flooded, trail.Mounting{}, 1, trail.Repair, "flat_after_storage", "11.9 v 5c rested 20h", "caps"},
		{"six volts, positive earth", &evidence.Vehicle{Kind: "classic", Earth: "positive"}, six, trail.Mounting{}, 1, trail.Repair, "slow_crank", "6.33 v 15c rested 5h; load 200a 15s 5.0v", "keys"},
		{"bank", nil, flooded, trail.Mounting{}, 3, trail.Repair, "dies_again", pass, "clips_off"},
		{"stock", nil, agm, trail.Mounting{}, 1, trail.Stock, "preventive", "12.6 v rested 20h", "clips_off"},
		{"purchase", nil, flooded, trail.Mounting{}, 1, trail.Purchase, "preventive", pass, "clips_off"},
		{"quick look", &evidence.Vehicle{Kind: "car"}, flooded, trail.Mounting{}, 1, trail.QuickLook, "preventive", pass, "covers"},
		{"lithium", &evidence.Vehicle{Kind: "motorcycle"}, lithium, trail.Mounting{}, 1, trail.Repair, "slow_crank", "13.2 v rested 2h", "hold_down"},
	} {
		t.Run(c.name, func(t *testing.T) {
			b.t = t
			in := shop.BringIn{JobID: record.NewID(), Symptoms: []string{c.symptom}, Purpose: c.purpose}
			if c.vehicle != nil {
				in.Vehicle = &record.Vehicle{Vehicle: *c.vehicle, Tray: c.mount.Where, Joined: c.mount.Joined}
			}
			for range c.count {
				in.Batteries = append(in.Batteries, record.Fitted{Battery: record.Battery{Label: c.label, Posts: c.mount.Posts}})
			}
			_, err := b.BringIn(t.Context(), b.owner, in)
			b.must(err)
			b.job = in.JobID
			b.keep(c.line)
			if err := b.Close(t.Context(), b.owner, b.job); err == nil {
				t.Fatal("handed back with every point open")
			}
			if !b.answerOpen(c.point) {
				t.Errorf("%s is not asked", c.point)
			}
			b.must(b.Close(t.Context(), b.owner, b.job))
			page, err := b.JobPage(t.Context(), b.owner, b.job)
			b.must(err)
			for _, one := range page.Batteries {
				if w := one.Work.ForCustomer; c.label.Chemistry.Judged() && len(w.Untested) == 0 {
					t.Errorf("the customer is told of no gap: %+v", w)
				}
			}
		})
	}
}

// answerOpen answers every open point of each battery of the job, and reports whether
// one of them was asked.
func (b *bench) answerOpen(point string) bool {
	b.t.Helper()
	asked := false
	page, err := b.JobPage(b.t.Context(), b.owner, b.job)
	b.must(err)
	for _, one := range page.Batteries {
		for _, stage := range one.Work.Stages {
			for _, step := range stage.Steps {
				asked = asked || step.Code == point
				if !step.Must || step.State != "open" {
					continue
				}
				answer := record.StepAnswer{ID: record.NewID(), BatteryID: one.ID, Code: step.Code, Value: trail.NotDone, Note: "not today"}
				b.must(b.Answer(b.t.Context(), b.owner, b.job, answer))
			}
		}
	}
	return asked
}
