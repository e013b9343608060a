package study

import (
	"math"
	"testing"

	"grapnel/core/diagnosis"
)

// steepest is how far the odds of any condition may go from one figure of a scan to the next,
// outside its named steps. Common sense, no source: a cliff is no opinion.
const steepest = 0.13

// TestScansAreSmooth checks that the condition goes smoothly with every reading, but for
// steps that have a reason, and that what counts is what the trade says.
func TestScansAreSmooth(t *testing.T) {
	list, err := Scans(diagnosis.New())
	if err != nil {
		t.Fatal(err)
	}
	for _, s := range list {
		for k := 1; k < len(s.Points); k++ {
			a, b := s.Points[k-1], s.Points[k]
			if named(s, a.X, b.X) {
				continue
			}
			for _, pair := range [][2]float64{
				{a.Condition.Sound, b.Condition.Sound}, {a.Condition.Worn, b.Condition.Worn},
				{a.Condition.DeadCell, b.Condition.DeadCell}, {a.Condition.Damaged, b.Condition.Damaged},
			} {
				if jump := math.Abs(pair[0] - pair[1]); jump > steepest {
					t.Errorf("%s from %g to %g: %.3f, %+v to %+v", s.Name, a.X, b.X, jump, a.Condition, b.Condition)
				}
			}
		}
	}
}

func named(s Scan, from, to float64) bool {
	for _, step := range s.Steps {
		if to > step.From && from < step.To {
			return true
		}
	}
	return false
}

// TestScansSayWhatTheTradeSays checks some places of them. The commonest flat battery is flat;
// common practice, no source.
func TestScansSayWhatTheTradeSays(t *testing.T) {
	list, err := Scans(diagnosis.New())
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		scan     string
		from, to float64
		holds    func(ScanPoint) bool
	}{
		{"volts", 10.9, 11.85, func(p ScanPoint) bool { return p.Condition.DeadCell < 0.15 && p.Condition.Sound > 0.5 }},
		{"volts", 4, 9.6, func(p ScanPoint) bool { return p.Condition.DeadCell < 0.15 && p.Condition.Sound > 0.5 }},
		{"volts", 10.35, 10.5, func(p ScanPoint) bool { return p.Condition.DeadCell > 0.4 }},
		{"volts", 4, 12.4, func(p ScanPoint) bool { return p.Action == diagnosis.ChargeAndRetest }},
		{"six-volts", 4.6, 5.85, func(p ScanPoint) bool { return p.Condition.DeadCell < 0.15 }},
		{"load", 5, 9.4, func(p ScanPoint) bool { return p.Action == diagnosis.Replace && p.Condition.Sound < 0.3 }},
		{"load", 9.65, 11.5, func(p ScanPoint) bool { return p.Action == diagnosis.Keep }},
		{"load-half", 5, 9.5, func(p ScanPoint) bool { return p.Action == diagnosis.ChargeAndRetest }},
		{"tester", 150, 430, func(p ScanPoint) bool { return p.Action == diagnosis.Replace }},
		{"gravity", 1100, 1205, func(p ScanPoint) bool { return p.Action == diagnosis.Replace && p.Condition.DeadCell > 0.8 }},
		{"gravity", 1240, 1285, func(p ScanPoint) bool { return p.Condition.DeadCell < 0.1 }},
	} {
		for _, s := range list {
			for _, p := range s.Points {
				if s.Name == c.scan && p.X >= c.from-1e-9 && p.X <= c.to+1e-9 && !c.holds(p) {
					t.Errorf("%s at %g: %s %+v", s.Name, p.X, p.Action, p.Condition)
				}
			}
		}
	}
}
