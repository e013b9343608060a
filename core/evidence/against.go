package evidence

import (
	"fmt"

	"grapnel/core/battery"
	"grapnel/core/problem"
	"grapnel/core/quantity"
	"grapnel/core/reading"
)

// postVolts are the figures that are volts at a battery's posts.
var postVolts = []struct {
	id   reading.Number
	name string
}{
	{
		reading.Volts,
		"volts",
	}, {reading.RecoveredVolts, "recovered_volts"}, {reading.StudVolts, "stud_volts"}, {reading.RestVolts, "rest_volts"},
	{reading.AwakeVolts, "awake_volts"}, {reading.StartVolts, "start_volts"}, {reading.EndVolts, "end_volts"},
}

// CheckAgainst holds one reading against the label of its battery: volts that
// this many cells cannot show, the gravity of cells that cannot be opened, more
// or fewer cells than it has.
func CheckAgainst(l battery.Label, r reading.Reading) (problem.Problem, bool) {
	if pr, bad := checkCells(l, &r); bad {
		return pr, true
	}
	most := l.MostVolts()
	if r.Kind == reading.ChargeLog || r.Kind == reading.ChargingSystem {
		most = l.MostChargedVolts()
	}
	for _, f := range postVolts {
		v, ok := r.Number(f.id)
		if !ok || quantity.Volts(v) <= most {
			continue
		}
		pr := problem.New("problem.range_label", f.name, fmt.Sprintf("%g V", v), problem.Range(0, float64(most), "V"))
		return pr.Suggesting(slipped(l, v)...), true
	}
	return problem.Problem{}, false
}

func checkCells(l battery.Label, r *reading.Reading) (problem.Problem, bool) {
	if r.Kind != reading.Gravity && r.Kind != reading.Level {
		return problem.Problem{}, false
	}
	closed := l.Sealed != nil && *l.Sealed || l.Chemistry.ValveRegulated()
	if closed {
		return problem.New("problem.sealed", "cells", string(r.Kind), "open_circuit, eye, conductance, load"), true
	}
	if count := len(r.Cells()); l.Cells() > 0 && count != l.Cells() {
		return problem.New("problem.cells", "cells", fmt.Sprint(count), fmt.Sprintf("%d (%g V)", l.Cells(), float64(l.NominalV))), true
	}
	return problem.Problem{}, false
}

// slipped offers the volts meant when a decimal mark slipped.
func slipped(l battery.Label, v float64) []string {
	for _, divisor := range []float64{10, 100, 1000} {
		if x := quantity.Volts(v / divisor); x <= l.MostVolts() && x > l.MostVolts()/2 {
			return []string{fmt.Sprintf("%g v", float64(x))}
		}
	}
	return nil
}
