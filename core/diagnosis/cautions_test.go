package diagnosis

import (
	"math"
	"slices"
	"testing"

	"grapnel/core/evidence"
	"grapnel/core/school"
)

// TestCautions checks which cautions and stop rules each case raises.
func TestCautions(t *testing.T) {
	for _, c := range []struct {
		battery, extra string
		lines          []string
		want, not      []school.Caution
	}{
		{flooded650, "", nil, []school.Caution{school.Acid, school.Tools, school.Lifting, school.Defer}, []school.Caution{school.Lithium, school.EarthSide, school.HighVoltage}},
		{flooded650, `,"vehicle":{"kind":"electric"}`, nil, []school.Caution{school.HighVoltage}, nil},
		{flooded650, `,"vehicle":{"kind":"hybrid","start_stop":true}`, nil, []school.Caution{school.HighVoltage, school.Electronics}, nil},
		{flooded650, `,"vehicle":{"earth":"positive"}`, nil, []school.Caution{school.EarthSide}, nil},
		{flooded650, `,"school":"starter_9v6"`, nil, []school.Caution{school.VehicleMoves, school.CrankingLimit}, nil},
		{flooded650, "", []string{"load 130a 10s 10v fixed"}, []school.Caution{school.GlowingLoad}, nil},
		{flooded650, "", []string{"12.1 v rested 2h"}, []school.Caution{school.Ventilation, school.Spark}, nil},
		{flooded650, "", []string{"12.6 v rested 2h"}, nil, []school.Caution{school.Ventilation}},
		{flooded650, "", []string{"12.6 v 55c rested 2h"}, []school.Caution{school.Hot}, nil},
		{flooded650, "", []string{"look hiss"}, []school.Caution{school.Gas}, nil},
		{flooded650, "", []string{"eye clear"}, []school.Caution{school.EyeClear}, nil},
		{flooded650 + `,"sealed":false`, "", []string{"eye clear"}, []school.Caution{school.PlatesDry}, []school.Caution{school.EyeClear}},
		{lithium, "", nil, []school.Caution{school.Lithium, school.Defer}, []school.Caution{school.Acid}},
		{lithium, "", []string{"look bulge"}, []school.Caution{school.LithiumHot, school.Lithium}, []school.Caution{school.FrozenOrDamaged}},
	} {
		got := judged.Assess(decode(t, c.battery, c.extra, c.lines...)).Cautions
		for _, id := range c.want {
			if !slices.Contains(got, id) {
				t.Errorf("%s %v: %s is missing in %v", c.extra, c.lines, id, got)
			}
		}
		for _, id := range c.not {
			if slices.Contains(got, id) {
				t.Errorf("%s %v: %s does not belong in %v", c.extra, c.lines, id, got)
			}
		}
	}
}

// TestCausesBySymptom checks what is likeliest before anything is measured.
// Triage of the trade, common practice, no source.
func TestCausesBySymptom(t *testing.T) {
	for symptom, want := range map[string]string{
		"lights_left_on": "accessory_left_on", "cranks_no_start": "engine_fault", "flat_after_storage": "storage",
		"dies_again": "parasitic_drain", "lights_no_crank": "poor_connection",
	} {
		a := judged.Assess(decode(t, flooded650, `,"symptom":"`+symptom+`"`, "12.65 v 21c rested 2h", "load 325a 15s 10v"))
		found := slices.IndexFunc(a.Causes, func(c Cause) bool { return c.Cause == want })
		if found != 0 || a.Verdict.Cause == nil || *a.Verdict.Cause != want {
			t.Errorf("%s: %s stands at %d, verdict's cause %s", symptom, want, found, deref(a.Verdict.Cause))
		}
		if len(a.Causes[0].For) == 0 {
			t.Errorf("%s: nothing is said for %s", symptom, want)
		}
	}
	ev := judged.Assess(decode(t, agm180, `,"symptom":"odd_warnings","vehicle":{"kind":"electric"}`))
	if !slices.ContainsFunc(ev.Causes, func(c Cause) bool { return c.Cause == "dcdc_fault" }) || slices.ContainsFunc(ev.Causes, func(c Cause) bool { return c.Cause == "undercharging" }) {
		t.Errorf("an electric car has a converter and no alternator: %+v", ev.Causes)
	}
}

// TestForAndAgainst checks that a cause names the readings that speak for and
// against it.
func TestForAndAgainst(t *testing.T) {
	a := judged.Assess(decode(t, flooded650, "", "12.24 v 18c rested 2h", "load 325a 15s 9.9v"))
	for _, c := range a.Causes {
		if c.Cause != "discharged_sound" {
			continue
		}
		if len(c.For) != 2 || c.For[0].Readings[0] != "0" || c.For[1].Readings[0] != "1" {
			t.Errorf("for %+v", c.For)
		}
		return
	}
	t.Error("a flat battery that passed is not called discharged and sound")
}

// TestSymptomNeverCondemns checks that a symptom makes one cause likelier than
// another and by itself changes no verdict, nor makes a battery rather bad than
// sound.
func TestSymptomNeverCondemns(t *testing.T) {
	plain := judged.Assess(decode(t, flooded650, "", "12.24 v 18c rested 2h"))
	for _, symptom := range evidence.Symptoms() {
		got := judged.Assess(decode(t, flooded650, `,"symptom":"`+symptom+`"`, "12.24 v 18c rested 2h"))
		if got.Verdict.Action != plain.Verdict.Action || got.Condition.Sound < 0.5 {
			t.Errorf("%s makes of it %s %+v", symptom, got.Verdict.Action, got.Condition)
		}
	}
}

// TestAgeNeverCondemns checks that the date of make decides nothing.
func TestAgeNeverCondemns(t *testing.T) {
	for _, made := range []string{"1998", "2012-05", "2026-10"} {
		a := judged.Assess(decode(t, flooded650+`,"made":"`+made+`"`, `,"as_of":"2026-11-24"`, "12.65 v 21c rested 2h", "load 325a 15s 10v"))
		if a.Verdict.Action != Keep {
			t.Errorf("made %s: %s", made, a.Verdict.Action)
		}
	}
}

// TestUnitsOfEntry checks that Fahrenheit and Celsius, comma and point give the
// same answer.
func TestUnitsOfEntry(t *testing.T) {
	a := judged.Assess(decode(t, flooded650, "", "12.3 v 50f rested 2h", "load 325a 15s 9.4v"))
	b := judged.Assess(decode(t, flooded650, "", "12,3 v 10c rested 120min", "load 325 15 9,4"))
	if a.Verdict.Action != b.Verdict.Action || a.Condition != b.Condition || a.Findings[1].Limit.Value != b.Findings[1].Limit.Value {
		t.Errorf("%+v and %+v", a.Verdict, b.Verdict)
	}
}

// TestGain checks the expected information of a test: never more than there is
// to know, nothing about what is certain, and a load tells more of a charged
// battery than a tester does.
func TestGain(t *testing.T) {
	of := func(lines ...string) (load, tester, open float64) {
		c := decode(t, flooded650, `,"symptom":"slow_crank"`, lines...)
		f := gather(evidence.Examine(c))
		f.design, _ = judged.Design(c.Label)
		w := judged.weigh(f)
		b := w.believe(nil)
		for _, p := range b.hypotheses {
			if p > 0 {
				open -= p * math.Log2(p)
			}
		}
		return w.expects(&b, "load").bits, w.expects(&b, "conductance").bits, open
	}
	load, tester, open := of("12.65 v 21c rested 2h")
	if load <= tester || load > open || tester <= 0 {
		t.Errorf("load %.3f, tester %.3f of %.3f bits", load, tester, open)
	}
	if settled, _, _ := of("12.65 v 21c rested 2h", "load 325a 15s 10.4v", "640/650 cca", "load 325a 15s 10.4v"); settled > load/3 {
		t.Errorf("a third load still tells %.3f of %.3f bits", settled, load)
	}
}

// TestClearedStop checks that a stop rule that a person has lifted no longer holds
// for what was found by then, and that it holds again for what is found later.
func TestClearedStop(t *testing.T) {
	for _, c := range []struct {
		cleared string
		lines   []string
		stops   bool
	}{
		{``, []string{"look frozen"}, true},
		{`,"cleared":[{"stop":"frozen-or-damaged","readings":[0]}]`, []string{"look frozen", "12.66 v 18c rested 2h"}, false},
		{`,"cleared":[{"stop":"frozen-or-damaged","readings":[0]}]`, []string{"look frozen", "look frozen"}, true},
		{`,"cleared":[{"stop":"gas","readings":[0]}]`, []string{"look frozen"}, true},
		{``, []string{"stood 8h -20c", "11.9 v -20c rested 8h"}, true},
		{`,"cleared":[{"stop":"frozen-or-damaged","readings":[0,1]}]`, []string{"stood 8h -20c", "11.9 v -20c rested 8h"}, false},
		{`,"cleared":[{"stop":"frozen-or-damaged","readings":[0]}]`, []string{"look none", "look bulge"}, true},
		{`,"cleared":[{"stop":"frozen-or-damaged","readings":[0,1]}]`, []string{"stood 8h -20c", "11.9 v -20c rested 8h", "stood 8h -25c"}, true},
		{`,"cleared":[{"stop":"frozen-or-damaged","readings":[0,1]}]`, []string{"stood 8h -20c", "11.9 v -20c rested 8h", "11.8 v -20c rested 8h"}, true},
	} {
		got := judged.Assess(decode(t, flooded650, c.cleared, c.lines...)).Verdict.Action
		if (got == StopUnsafe) != c.stops {
			t.Errorf("%s %v: %s", c.cleared, c.lines, got)
		}
	}
}
