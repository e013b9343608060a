package diagnosis

import (
	"slices"
	"strings"
	"testing"

	"grapnel/core/evidence"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// TestCautionsOfTheWork checks that the cautions belong to the work a reading is
// taken in. Common practice, no source; first aid by the usual safety data sheet,
// value from memory.
func TestCautionsOfTheWork(t *testing.T) {
	for _, c := range []struct {
		battery, extra, line string
		has                  []school.Caution
	}{
		{flooded650, "", "running 14.2 v", []school.Caution{school.Exhaust, school.VehicleMoves}},
		{flooded650, "", "ripple 0.05 v", []school.Caution{school.Exhaust}},
		{flooded650, "", "crank 10.2v 3s", []school.Caution{school.CrankingLimit, school.VehicleMoves}},
		{flooded650, "", "starter 140a", []school.Caution{school.CrankingLimit}},
		{flooded650, "", "charge 14.4v 6a 60min", []school.Caution{school.Ventilation, school.Spark}},
		{flooded650, "", "jump started", []school.Caution{school.MixedVoltage, school.Surge, school.CrankingLimit}},
		{flooded650, "", "drop negative_clamp 0.4v 150a", []school.Caution{school.Soda}},
		{flooded650, "", "case 4.5 v", []school.Caution{school.Soda}},
		{agm180, "", "charge 15.4v 1a 60min", []school.Caution{school.HighVolts}},
		{agm180, "", "charge 14.4v 1a 60min gas", []school.Caution{school.Gas}},
		{opens650, "", "level dry ok ok ok ok ok", []school.Caution{school.PlatesDry}},
		{flooded650, `,"vehicle":{"kind":"electric"}`, "12.6 v rested 2h", []school.Caution{school.HighVoltage}},
		{flooded650, `,"vehicle":{"kind":"classic","earth":"positive"}`, "12.6 v rested 2h", []school.Caution{school.EarthSide}},
		{flooded650, "", "11.8 v rested 3h after charge", []school.Caution{school.LiveClamp, school.Clearance}},
		{lithium, "", "13.2 v", []school.Caution{school.Lithium}},
	} {
		got := judged.Assess(decode(t, c.battery, c.extra, c.line)).Cautions
		for _, want := range append(c.has, school.Defer) {
			if !slices.Contains(got, want) {
				t.Errorf("%s: no %s among %v", c.line, want, got)
			}
		}
		if len(got) != len(unique(got)) {
			t.Errorf("%s: said twice: %v", c.line, got)
		}
	}
}

// TestEveryCautionHasWords checks that every caution of the trade is a sentence
// with its figures in it.
func TestEveryCautionHasWords(t *testing.T) {
	all := school.Cautions()
	for _, c := range all {
		text := c.Say().Text
		if !strings.HasSuffix(text, ".") || strings.ContainsAny(text, "⟨⟩{}<>") {
			t.Errorf("%s reads %q", c, text)
		}
	}
	worded := 0
	for _, code := range wording.Codes() {
		if strings.HasPrefix(code, "caution.") {
			worded++
		}
	}
	if worded != len(all) {
		t.Errorf("%d cautions have words, %d are known", worded, len(all))
	}
	for caution, figures := range map[school.Caution][]string{
		school.Hot: {"52"}, school.Acid: {"15"}, school.Lifting: {"45"}, school.CrankingLimit: {"10", "1", "3", "2"}, school.HighVolts: {"15"}, school.LiveClamp: {"5"},
	} {
		for _, figure := range figures {
			if !strings.Contains(caution.Say().Text, figure) {
				t.Errorf("%s lacks %s: %s", caution, figure, caution.Say().Text)
			}
		}
	}
}

// TestNextOnTheVehicle checks what is asked for once the battery has passed:
// what fits the complaint, what has not been measured, and, once a fault is
// found, that it is followed up.
func TestNextOnTheVehicle(t *testing.T) {
	passed := []string{"12.0 v 21c rested 8h", "12.65 v 21c rested 2h after charge", "load 325a 15s 10.1v"}
	for _, c := range []struct {
		extra string
		lines []string
		first string
		never []string
	}{
		{`,"symptom":"dies_again"`, nil, "charging", []string{"dcdc", "starter_draw"}},
		{`,"symptom":"dies_again"`, []string{"running 14.2 v", "trips 10/week 60min", "case 0.02 v"}, "drain", []string{"charging"}},
		{`,"symptom":"dies_again"`, []string{"running 14.2 v", "drain 20 ma", "case 0.02 v"}, "trips", []string{"drain", "charging"}},
		{`,"symptom":"dies_again"`, []string{"drain 85 ma asleep 40min"}, "fuses", nil},
		{`,"symptom":"dies_again"`, []string{"drain 85 ma asleep 40min", "fuse F1 15a 0.4mv asleep 50min"}, "repair", nil},
		{`,"symptom":"dies_again"`, []string{"running 12.6 v"}, "repair", nil},
		{`,"symptom":"dies_again","vehicle":{"kind":"hybrid"}`, nil, "dcdc", []string{"charging"}},
		{`,"symptom":"slow_crank"`, []string{"running 14.2 v", "drain 20 ma", "trips 10/week 60min", "crank 10.6v slow", "case 0.02 v"}, "starter_draw", nil},
		{`,"symptom":"dies_again"`, []string{"look dirty top", "running 14.2 v", "drain 20 ma", "lights left on 1h"}, "case_leak", nil},
	} {
		a := judged.Assess(decode(t, flooded650, c.extra, append(slices.Clone(passed), c.lines...)...))
		if a.Verdict.Action != LookElsewhere || len(a.Next) == 0 || a.Next[0].Test != c.first {
			t.Errorf("%s %v: %s, next %+v, want %s", c.extra, c.lines, a.Verdict.Action, a.Next, c.first)
		}
		for _, n := range a.Next {
			if slices.Contains(c.never, n.Test) {
				t.Errorf("%s %v asks for %s", c.extra, c.lines, n.Test)
			}
		}
	}
}

// TestNextForTheBattery checks the tests that only some batteries want: cells
// that open, plates that are dry, capacity that was never looked at.
func TestNextForTheBattery(t *testing.T) {
	asks := func(a Assessment, test string) bool {
		return slices.ContainsFunc(a.Next, func(n Next) bool { return n.Test == test })
	}
	for _, c := range []struct {
		battery, extra string
		lines          []string
		test           string
		want           bool
	}{
		{opens650, "", []string{"12.65 v 21c rested 2h"}, "gravity", true},
		{flooded650, "", []string{"12.65 v 21c rested 2h"}, "gravity", false},
		{opens650, `,"tools":["meter"]`, []string{"12.65 v 21c rested 2h"}, "gravity", false},
		{opens650, "", []string{"12.65 v 21c rested 2h", "sg 1265 1260 1265 1230 1265 1260 27c"}, "equalise", true},
		{opens650, "", []string{"level dry ok ok ok ok ok"}, "top_up", true},
		{flooded650 + `,"capacity_ah":65`, `,"symptom":"dies_again"`, []string{"12.65 v 21c rested 2h", "load 325a 15s 10.1v"}, "reserve", true},
		{flooded650 + `,"capacity_ah":65`, `,"symptom":"dies_again"`, []string{"12.65 v 21c rested 2h", "load 325a 15s 10.1v", "reserve 10a 90min to 12v"}, "reserve", false},
		{flooded650 + `,"capacity_ah":65`, "", []string{"12.65 v 21c rested 2h", "load 325a 15s 10.1v"}, "reserve", false},
		{flooded650, "", []string{"stood 9h 4c", "12.65 v rested 9h"}, "temperature", false},
		{flooded650, "", []string{"12.65 v rested 9h"}, "temperature", true},
		{flooded650, "", []string{"drop ground_strap 0.4v 150a"}, "clean", true},
	} {
		if got := asks(judged.Assess(decode(t, c.battery, c.extra, c.lines...)), c.test); got != c.want {
			t.Errorf("%v: asks for %s %v", c.lines, c.test, got)
		}
	}
}

// TestSidesOfTheVehicle checks that a cause names the readings that speak for it and
// against it.
func TestSidesOfTheVehicle(t *testing.T) {
	a := judged.Assess(decode(t, opens650, `,"symptom":"dies_again"`, "12.1 v 21c rested 8h", "12.65 v 21c rested 2h after charge", "load 325a 15s 10.1v",
		"sg 1265 1260 1265 1260 1265 1260 27c", "running 13.7 v", "drain 85 ma asleep 40min", "drop negative_clamp 0.03v 150a"))
	for cause, want := range map[string]struct{ pro, con string }{
		"parasitic_drain": {"85", ""}, "undercharging": {"Reported", "85"}, "discharged_sound": {"12.10", ""},
	} {
		at := slices.IndexFunc(a.Causes, func(c Cause) bool { return c.Cause == cause })
		if at < 0 {
			t.Errorf("%s is not ranked: %+v", cause, a.Causes)
			continue
		}
		if !said(a.Causes[at].For, want.pro) || want.con != "" && !said(a.Causes[at].Against, want.con) {
			t.Errorf("%s: for %v, against %v", cause, a.Causes[at].For, a.Causes[at].Against)
		}
	}
}

func said(list []wording.Statement, text string) bool {
	return slices.ContainsFunc(list, func(s wording.Statement) bool { return strings.Contains(s.Text, text) })
}

// TestCorrosionIsAHint checks that corrosion of one post is a weak hint and asks
// for nothing by itself. Common practice, contested.
func TestCorrosionIsAHint(t *testing.T) {
	of := func(line, cause string) float64 {
		for _, c := range judged.Assess(decode(t, flooded650, `,"symptom":"cranks_no_start"`, line)).Causes {
			if c.Cause == cause {
				return c.Probability
			}
		}
		return 0
	}
	if p := of("look corrosion positive", "overcharging"); p <= 0 || p > 0.2 {
		t.Errorf("positive post: overcharging %v", p)
	}
	if p := of("look corrosion negative", "undercharging"); p <= 0 || p > 0.2 {
		t.Errorf("negative post: undercharging %v", p)
	}
	if p := of("look corrosion", "overcharging"); p != 0 {
		t.Errorf("either post: overcharging %v", p)
	}
}

// TestNeverByAgeOrHistory checks that nothing the customer tells condemns or
// clears a battery.
func TestNeverByAgeOrHistory(t *testing.T) {
	for _, told := range []string{"age 15y", "jumps 20 in 30d", "standing 300d", "lights left on 90h", "trips 1/week 2min", "stood 9h 4c"} {
		for _, measured := range [][]string{{"12.65 v 21c rested 2h"}, {"12.65 v 21c rested 2h", "load 325a 15s 10.1v"}} {
			with := judged.Assess(decode(t, flooded650, "", append([]string{told}, measured...)...)).Verdict.Action
			without := judged.Assess(decode(t, flooded650, "", measured...)).Verdict.Action
			if with != without {
				t.Errorf("%s turned %s into %s", told, without, with)
			}
		}
	}
	if a := judged.Assess(decode(t, flooded650, "", "age 15y")); a.Verdict.Action != MoreTests || a.Condition.Worn > 0.5 {
		t.Errorf("by age alone: %s %+v", a.Verdict.Action, a.Condition)
	}
}

// TestEveryCauseCanLead checks that each cause of the contract is the likeliest
// one of some case.
func TestEveryCauseCanLead(t *testing.T) {
	for _, c := range []struct {
		cause, battery, extra string
		lines                 []string
	}{
		{"discharged_sound", flooded650, "", []string{"12.0 v 21c rested 8h", "load 325a 15s 9.9v"}},
		{"worn", flooded650, "", []string{"12.65 v 21c rested 2h", "load 325a 15s 8.5v"}},
		{"dead_cell", opens650, "", []string{"sg 1265 1260 1265 1150 1265 1260 27c"}},
		{"damaged", flooded650, "", []string{"look crack"}},
		{"poor_connection", flooded650, "", []string{"drop negative_clamp 0.6v 150a"}},
		{"undercharging", flooded650, "", []string{"running 12.4 v"}},
		{"overcharging", flooded650, "", []string{"running 16 v"}},
		{"dcdc_fault", agm180, `,"vehicle":{"kind":"electric"}`, []string{"dcdc 12.2v to 12.2v"}},
		{"parasitic_drain", flooded650, "", []string{"drain 900 ma asleep 60min"}},
		{"accessory_left_on", flooded650, "", []string{"lights left on 14h"}},
		{"short_trips", flooded650, "", []string{"trips 1/week 3min"}},
		{"storage", flooded650, `,"symptom":"flat_after_storage"`, []string{"standing 90d"}},
		{"case_leakage", flooded650, "", []string{"case 4.8 v"}},
		{"starter_drag", flooded650, `,"vehicle":{"kind":"car","engine":"petrol","litres":1.2}`, []string{"starter 400a"}},
		{"wrong_battery", flooded650, `,"vehicle":{"kind":"car","required_cca":900}`, []string{"12.65 v 21c rested 2h"}},
		{"engine_fault", flooded650, `,"symptom":"cranks_no_start"`, []string{"12.65 v 21c rested 2h"}},
		{"nothing_wrong", flooded650, `,"symptom":"preventive"`, []string{"12.65 v 21c rested 2h", "load 325a 15s 10.3v"}},
	} {
		a := judged.Assess(decode(t, c.battery, c.extra, c.lines...))
		if len(a.Causes) == 0 || a.Causes[0].Cause != c.cause {
			t.Errorf("%v: %+v, want %s first", c.lines, a.Causes, c.cause)
		}
	}
	// These are never alone: they stand beside another.
	for cause, lines := range map[string][]string{"over_cranking": {"jumps 9 in 30d"}, "key_or_interlock": {"crank 12.3v silent"}} {
		a := judged.Assess(decode(t, flooded650, "", lines...))
		if !slices.ContainsFunc(a.Causes, func(c Cause) bool { return c.Cause == cause }) {
			t.Errorf("%v does not name %s: %+v", lines, cause, a.Causes)
		}
	}
}

// TestOrderOfTheVehicle checks that readings of different places may be taken in
// any order.
func TestOrderOfTheVehicle(t *testing.T) {
	lines := []string{"12.65 v 21c rested 2h", "load 325a 15s 10.1v", "running 12.8 v idle", "ripple 0.7 v", "drain 85 ma asleep 40min", "drop ground_strap 0.4v 150a", "case 0.1 v", "age 5y", "crank 10.4v 3s"}
	want := judged.Assess(decode(t, flooded650, `,"symptom":"dies_again"`, lines...))
	for shift := range lines {
		turned := append(slices.Clone(lines[shift:]), lines[:shift]...)
		got := judged.Assess(decode(t, flooded650, `,"symptom":"dies_again"`, turned...))
		if got.Verdict.Action != want.Verdict.Action || deref(got.Verdict.Cause) != deref(want.Verdict.Cause) || got.Condition != want.Condition {
			t.Errorf("%v: %s %v, before %s %v", turned, got.Verdict.Action, deref(got.Verdict.Cause), want.Verdict.Action, deref(want.Verdict.Cause))
		}
		for i, c := range got.Causes {
			if c.Probability != want.Causes[i].Probability || c.Cause != want.Causes[i].Cause {
				t.Errorf("%v: cause %d is %s %v", turned, i, c.Cause, c.Probability)
			}
		}
	}
}

// TestLithiumKeepsEveryKind checks that readings of a battery that is not judged
// are kept and say so.
func TestLithiumKeepsEveryKind(t *testing.T) {
	for _, line := range []string{"13.2 v", "load 100a 10s 12v", "running 14.2 v", "charge 14.4v 9a 60min hot", "drain 85 ma asleep 40min", "look hot", "age 5y"} {
		a := judged.Assess(decode(t, lithium, "", line))
		if a.Verdict.Action != MoreTests || a.Findings[0].Valid || a.Findings[0].Outcome != evidence.None {
			t.Errorf("%s: %s, %+v", line, a.Verdict.Action, a.Findings[0])
		}
	}
}
