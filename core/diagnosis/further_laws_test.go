package diagnosis

import (
	"slices"
	"testing"

	"grapnel/core/evidence"
	"grapnel/core/reading"
	"grapnel/core/wording"
)

// TestVehicleNeverCondemns checks over many cases that what is measured of the
// vehicle, or told of it, never turns a verdict into a replacement: those come
// from the battery alone. None of the lines says a temperature, which would
// reach the tests.
func TestVehicleNeverCondemns(t *testing.T) {
	lines := []string{
		"crank 8.0v 4s slow", "running 12.4 v raised", "running 15.9 v", "ripple 0.9 v", "starter 800a 7.0v stud 5.0v", "drop positive_clamp 0.9v 150a",
		"drain 900 ma asleep 60min", "case 5 v", "dcdc 12.0v to 12.1v", "jump no", "age 14y", "jumps 9 in 30d", "standing 300d", "trips 2/week 3min",
	}
	extra := map[string]evidence.Case{}
	for _, line := range lines {
		extra[line] = decode(t, flooded650, "", line)
	}
	n := 0
	combinations(t, func(c evidence.Case, a Assessment) {
		before := a.Verdict.Action
		n++
		line := lines[n%len(lines)]
		c.Readings = append(slices.Clone(c.Readings), extra[line].Readings...)
		if after := judged.Brief(c).Verdict.Action; after == Replace && before != Replace {
			t.Errorf("%s turned %s into a replacement: %s", line, before, printed(c))
		}
	})
}

func printed(c evidence.Case) (lines []string) {
	for _, r := range c.Readings {
		lines = append(lines, reading.Print(r.Reading))
	}
	return lines
}

// TestWayOut checks that a reading that proves nothing says how it could be made
// to, and that one that counts asks for nothing.
func TestWayOut(t *testing.T) {
	combinations(t, func(c evidence.Case, a Assessment) {
		for _, f := range a.Findings {
			if f.Valid == (f.WayOut != nil) {
				t.Errorf("%s: counts %v, way out %v (%s)", f.Kind, f.Valid, f.WayOut, printed(c))
			}
		}
	})
}

// TestListsAreOrdered checks what a screen takes for granted: causes from the
// likeliest down, each once; next tests the most telling for their time first,
// each once, with minutes and no negative gain; every finding in the order of
// its reading.
func TestListsAreOrdered(t *testing.T) {
	combinations(t, func(c evidence.Case, a Assessment) {
		seen := map[string]bool{}
		for i, cause := range a.Causes {
			if seen[cause.Cause] || !slices.Contains(CauseCodes(), cause.Cause) || i > 0 && cause.Probability > a.Causes[i-1].Probability {
				t.Errorf("cause %s out of place: %s", cause.Cause, printed(c))
			}
			seen[cause.Cause] = true
		}
		for i, n := range a.Next {
			if seen[n.Test+"/"+n.Text.Text] || n.Minutes <= 0 || n.Gain < 0 {
				t.Errorf("next %d is %+v: %s", i, n, printed(c))
			}
			seen[n.Test+"/"+n.Text.Text] = true
		}
		for i, f := range a.Findings {
			if f.Reading != wording.Index(i) || f.Kind != c.Readings[i].Kind {
				t.Errorf("finding %d is of reading %s, %s", i, f.Reading, f.Kind)
			}
		}
	})
}

// TestColdBatteryIsAskedLess checks over temperatures that the limit a load is
// held against never rises as the battery gets colder, and that a failed load
// that counts keeps counting when it was warmer still.
func TestColdBatteryIsAskedLess(t *testing.T) {
	before, failed := 0.0, false
	for at := -25; at <= 40; at++ {
		f := judged.Assess(decode(t, flooded650, "", "12.75 v rested 3h", loadAt(at))).Findings[1]
		if f.Limit == nil || f.Limit.AtC == nil || *f.Limit.AtC != float64(at) {
			t.Fatalf("at %d °C the limit is %+v", at, f.Limit)
		}
		if f.Limit.Value < before {
			t.Errorf("the limit falls to %g V at %d °C", f.Limit.Value, at)
		}
		before = f.Limit.Value
		if failed && f.Outcome != evidence.Fail {
			t.Errorf("9.2 V failed in the cold and is %s at %d °C", f.Outcome, at)
		}
		failed = failed || f.Outcome == evidence.Fail
	}
	if !failed {
		t.Error("9.2 V never failed")
	}
}

func loadAt(celsius int) string {
	r := reading.Reading{Kind: reading.Load}
	return reading.Print(r.With(reading.Amps, 325).With(reading.Seconds, 15).With(reading.Volts, 9.2).With(reading.BatteryC, float64(celsius)))
}

// TestRemeasuredVehicle checks that the latest of a kind and place stands, and
// that a joint or a top which was cleaned and measured again has still brought
// the vehicle here.
func TestRemeasuredVehicle(t *testing.T) {
	for _, c := range []struct{ bad, good, cause string }{
		{"drain 300 ma asleep 60min", "drain 20 ma asleep 60min", "parasitic_drain"},
		{"running 12.6 v raised", "running 14.2 v raised", "undercharging"},
		{"dcdc 12.4v to 12.5v", "dcdc 12.4v to 13.9v 5s", "dcdc_fault"},
		{"drop negative_clamp 0.45v 150a", "drop negative_clamp 0.03v 150a", "poor_connection"},
		{"case 4.5 v", "case 0.02 v", "case_leakage"},
	} {
		sound := []string{"12.65 v 21c rested 2h", "load 325a 15s 10.1v"}
		before := probability(judged.Assess(decode(t, flooded650, "", append(sound, c.bad)...)), c.cause)
		after := probability(judged.Assess(decode(t, flooded650, "", append(sound, c.bad, c.good)...)), c.cause)
		cleaned := c.cause == "poor_connection" || c.cause == "case_leakage"
		if before < 0.5 || !cleaned && after > 0.3 || cleaned && after < 0.5 {
			t.Errorf("%s: %g with the fault, %g once %s", c.cause, before, after, c.good)
		}
	}
}

func probability(a Assessment, cause string) float64 {
	for _, c := range a.Causes {
		if c.Cause == cause {
			return c.Probability
		}
	}
	return 0
}
