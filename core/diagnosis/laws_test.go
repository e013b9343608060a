package diagnosis

import (
	"encoding/json"
	"math/rand/v2"
	"slices"
	"testing"

	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
)

// TestOrderWithinEpoch checks that the order of tests and looks inside an epoch
// does not matter; of several charge states the last one stands, so there is one.
func TestOrderWithinEpoch(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 6))
	for _, lines := range [][]string{
		{"12.65 v 21c rested 2h", "load 325a 15s 9.9v", "600/650 cca", "look dirty top"},
		{"12.65 v 21c rested 2h", "load 325a 15s 8.9v", "400/650 cca", "look belt"},
		{"12.24 v 18c rested 2h", "load 325a 15s 9.3v", "320/650 cca"},
		{"eye green", "load 325a 15s 9.9v", "12.8 v since charge"},
	} {
		want := Assess(decode(t, flooded650, "", lines...))
		for range 24 {
			r.Shuffle(len(lines), func(i, j int) { lines[i], lines[j] = lines[j], lines[i] })
			got := Assess(decode(t, flooded650, "", lines...))
			if got.Verdict.Action != want.Verdict.Action || got.Condition != want.Condition || deref(got.Verdict.Cause) != deref(want.Verdict.Cause) {
				t.Errorf("%v: %s, %+v; before %s", lines, got.Verdict.Action, got.Condition, want.Verdict.Action)
			}
		}
	}
}

// TestPure checks that the same case gives the same answer and is left alone.
func TestPure(t *testing.T) {
	combinations(t, func(c evidence.Case) {
		before := slices.Clone(c.Readings)
		first, err := json.Marshal(Assess(c))
		if err != nil {
			t.Fatal(err)
		}
		second, err := json.Marshal(Assess(c))
		if err != nil || string(first) != string(second) {
			t.Errorf("two answers to one case: %v", c.Readings)
		}
		if !slices.Equal(before, c.Readings) {
			t.Error("the case was changed")
		}
	})
}

// TestStoredVerdictReadsBack checks that an assessment survives being stored.
func TestStoredVerdictReadsBack(t *testing.T) {
	combinations(t, func(c evidence.Case) {
		a := Assess(c)
		data, err := json.Marshal(a)
		if err != nil {
			t.Fatal(err)
		}
		var back Assessment
		if err := json.Unmarshal(data, &back); err != nil {
			t.Fatal(err)
		}
		again, err := json.Marshal(back)
		if err != nil || string(again) != string(data) {
			t.Errorf("%s comes back as %s", data, again)
		}
	})
}

// TestMoreVoltsNeverWorse checks that a higher voltage under load never turns a
// verdict for the worse.
func TestMoreVoltsNeverWorse(t *testing.T) {
	rank := map[Action]int{Replace: 0, ChargeAndRetest: 1, MoreTests: 1, LookElsewhere: 2, Keep: 2}
	for _, rested := range []string{"12.65 v 21c rested 2h", "12.2 v 5c rested 2h", "eye green", "12.6 v rested 2h"} {
		before, sound := -1, -1.0
		for tenths := 70; tenths <= 115; tenths++ {
			c := decode(t, flooded650, "", rested, "load 325a 15s 9v")
			c.Readings[1] = c.Readings[1].With(reading.Volts, float64(tenths)/10)
			a := Assess(c)
			if rank[a.Verdict.Action] < before || a.Condition.Sound < sound-1e-9 {
				t.Errorf("%s, %.1f V: %s after better", rested, float64(tenths)/10, a.Verdict.Action)
			}
			before, sound = rank[a.Verdict.Action], a.Condition.Sound
		}
	}
}

// TestMoreChargeNeverExcuses checks that a failed load counts from 75 % on and
// nowhere below.
func TestMoreChargeNeverExcuses(t *testing.T) {
	condemned := false
	for hundredths := 1180; hundredths <= 1275; hundredths++ {
		c := decode(t, flooded650, "", "12 v 26.7c rested 2h", "load 325a 15s 8v")
		c.Readings[0] = c.Readings[0].With(reading.Volts, float64(hundredths)/100)
		a := Assess(c)
		if got := a.Verdict.Action == Replace; got != (a.ChargeState.Percent >= 75) {
			t.Errorf("%.2f V, %v %%: %s", float64(hundredths)/100, a.ChargeState.Percent, a.Verdict.Action)
		} else if condemned && !got {
			t.Errorf("%.2f V excuses what less did not", float64(hundredths)/100)
		} else {
			condemned = got
		}
	}
}

// TestColdNeverCondemnsMore checks that the same volts are judged no harder in
// the cold.
func TestColdNeverCondemnsMore(t *testing.T) {
	passed := false
	for at := 40; at >= -17; at-- {
		c := decode(t, flooded650, "", "12.65 v 20c rested 2h", "load 325a 15s 9.25v 20c")
		for i := range c.Readings {
			c.Readings[i] = c.Readings[i].With(reading.BatteryC, float64(at))
		}
		pass := Assess(c).Findings[1].Outcome == evidence.Pass
		if passed && !pass {
			t.Errorf("at %d °C the limit rises", at)
		}
		passed = pass
	}
	if !passed {
		t.Error("9.25 V passes nowhere")
	}
}

// TestNominalVolts checks that scaled batteries get the verdict of the twelve.
func TestNominalVolts(t *testing.T) {
	for _, lines := range [][3]string{
		{"12.66 v 15c rested 2h", "load 325a 15s 9.9v", "keep"}, {"12.66 v 15c rested 2h", "load 325a 15s 9.0v", "replace"}, {"12.18 v 15c rested 2h", "load 325a 15s 9.0v", "charge_and_retest"},
	} {
		for _, nominal := range []float64{6, 8, 12, 24} {
			c := decode(t, flooded650, "", lines[0], lines[1])
			for i, r := range c.Readings {
				v, _ := r.Number(reading.Volts)
				c.Readings[i] = r.With(reading.Volts, v*nominal/12)
			}
			c.Label.NominalV = quantity.Volts(nominal)
			if got := Assess(c).Verdict.Action; string(got) != lines[2] {
				t.Errorf("%v V: %s, want %s", nominal, got, lines[2])
			}
		}
	}
}
