package diagnosis

import (
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"grapnel/core/evidence"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// judged is the engine all tests share: it keeps the labels it has calibrated.
var judged = New()

// decode builds a case from the fields of battery and of the case, and lines.
func decode(t testing.TB, battery, extra string, lines ...string) evidence.Case {
	t.Helper()
	readings, err := json.Marshal(lines)
	if err != nil {
		t.Fatal(err)
	}
	if lines == nil {
		readings = []byte("[]")
	}
	c, err := evidence.Decode(strings.NewReader(fmt.Sprintf(`{"battery":{%s}%s,"readings":%s}`, battery, extra, readings)))
	if err != nil {
		t.Fatal(err)
	}
	return c
}

const (
	flooded650 = `"chemistry":"flooded","nominal_v":12,"rating":{"value":650,"standard":"SAE"}`
	opens650   = flooded650 + `,"sealed":false`
	flooded590 = `"chemistry":"flooded","nominal_v":12,"rating":{"value":590,"standard":"SAE"}`
	unrated    = `"chemistry":"flooded","nominal_v":12`
	agm180     = `"chemistry":"agm","nominal_v":12,"rating":{"value":180,"standard":"SAE"}`
	six300     = `"chemistry":"flooded","nominal_v":6,"rating":{"value":300,"standard":"SAE"}`
	lithium    = `"chemistry":"lifepo4","nominal_v":12`
)

// worked are cases with the answer the trade gives. Where no source is named
// the rule is common practice of the trade.
var worked = []struct {
	name, battery, extra string
	lines                []string
	action               Action
	cause                string
	valid                []bool
}{
	{"594 of 650 at 12.0 V: good in condition, charge low", flooded650, "", []string{"594/650 cca 12.0v"}, ChargeAndRetest, "discharged_sound", []bool{false}},
	{"the same with the volts taken apart", flooded650, "", []string{"12.0 v rested 2h", "594/650 cca"}, ChargeAndRetest, "discharged_sound", []bool{true, false}},
	{"320 of 590 uncharged", flooded590, "", []string{"320/590 cca"}, ChargeAndRetest, "", []bool{false}},
	{"320 of 590 at 11.83 V", flooded590, "", []string{"11.83 v rested 2h", "320/590 cca"}, ChargeAndRetest, "discharged_sound", []bool{true, false}},
	{"9.3 V at 12.24 V rested", flooded650, "", []string{"12.24 v 18c rested 2h", "load 325a 15s 9.3v"}, ChargeAndRetest, "discharged_sound", []bool{true, false}},
	{"8.9 V at 12.65 V and 21 °C", flooded650, "", []string{"12.65 v 21c rested 2h", "load 325a 15s 8.9v"}, Replace, "worn", []bool{true, true}},
	{"9.75 V at 12.2 V: a pass is a pass", flooded650, "", []string{"12.2 v rested 2h", "load 325a 15s 9.75v"}, LookElsewhere, "discharged_sound", []bool{true, true}},
	{"order within an epoch does not matter", flooded650, "", []string{"load 325a 15s 8.9v", "12.65 v 21c rested 2h"}, Replace, "worn", []bool{true, true}},
	{"a sound, charged battery", flooded650, "", []string{"12.65 v 21c rested 2h", "load 325a 15s 10.1v"}, Keep, "nothing_wrong", []bool{true, true}},
	{"sound, but the car turns slowly", flooded650, `,"symptom":"slow_crank"`, []string{"12.65 v 21c rested 2h", "load 325a 15s 10.1v"}, LookElsewhere, "", []bool{true, true}},
	{"flat, charged, passed: find what flattened it", flooded650, `,"symptom":["slow_crank"]`, []string{"12.24 v 18c rested 2h", "load 325a 15s 9.3v", "12.66 v rested 3h after charge", "load 325a 15s 10.1v"}, LookElsewhere, "discharged_sound", []bool{true, false, true, true}},
	{"lights left on", flooded650, `,"symptom":"lights_left_on"`, []string{"11.9 v rested 8h", "12.66 v 20c rested 3h after charge", "load 325a 15s 10.1v"}, LookElsewhere, "accessory_left_on", []bool{true, true, true}},
	{"failed again after a full charge", flooded650, "", []string{"12.24 v 18c rested 2h", "load 325a 15s 9.3v", "12.60 v 18c rested 3h after charge", "load 325a 15s 9.2v"}, Replace, "worn", []bool{true, false, true, true}},
	{"counts as charged after a full charge, whatever it rests at", flooded650, "", []string{"12.30 v 20c rested 3h after charge", "load 325a 15s 8.8v"}, Replace, "worn", []bool{true, true}},
	{"stays below 12.0 V after a full charge", flooded650, "", []string{"11.8 v rested 3h after charge"}, Replace, "", []bool{true}},
	{"rests at 10.5 V after a full charge: a cell is gone", flooded650, "", []string{"10.5 v rested 3h after charge"}, Replace, "dead_cell", []bool{true}},
	{"a low voltage alone never condemns", flooded650, "", []string{"10.5 v rested 3h"}, ChargeAndRetest, "", []bool{true}},
	{"two fails on a discharged battery are one error", flooded650, "", []string{"12.1 v rested 3h", "load 325a 15s 8v", "300/650 cca"}, ChargeAndRetest, "", []bool{true, false, false}},
	{"just driven is not charged", flooded650, "", []string{"12.7 v 20c since drive", "load 325a 15s 9.0v"}, ChargeAndRetest, "", []bool{false, false}},
	{"conductance good, charged", flooded650, "", []string{"12.6 v 20c rested 2h", "620/650 cca"}, Keep, "nothing_wrong", []bool{true, true}},
	{"conductance weak, charged: a load decides", flooded650, "", []string{"12.6 v 20c rested 2h", "480/650 cca"}, MoreTests, "", []bool{true, true}},
	{"two methods agree", flooded650, "", []string{"12.6 v 20c rested 2h", "400/650 cca", "load 325a 15s 9.0v"}, Replace, "worn", []bool{true, true, true}},
	{"two methods disagree: charge, repeat both", flooded650, "", []string{"12.6 v 20c rested 2h", "400/650 cca", "load 325a 15s 10.2v"}, ChargeAndRetest, "", []bool{true, true, true}},
	{"they disagree on a battery just charged in full", flooded650, "", []string{"12.6 v 20c rested 2h after charge", "400/650 cca", "load 325a 15s 10.2v"}, MoreTests, "", []bool{true, true, true}},
	{"tester set to another rating", flooded650, "", []string{"12.6 v 20c rested 2h", "400/550 cca"}, MoreTests, "", []bool{true, false}},
	{"tester set to another standard", flooded650, "", []string{"12.6 v 20c rested 2h", "400/650 cca en"}, MoreTests, "", []bool{true, false}},
	{"tester set to another type", flooded650, "", []string{"12.6 v 20c rested 2h", "400/650 cca agm"}, MoreTests, "", []bool{true, false}},
	{"rating missing: a load proves nothing", unrated, "", []string{"12.6 v 20c rested 2h", "load 325a 15s 8v"}, MoreTests, "", []bool{true, false}},
	{"half of a DIN figure is far too little", `"chemistry":"flooded","nominal_v":12,"rating":{"value":280,"standard":"DIN"}`, "", []string{"12.6 v 21c rested 2h", "load 140a 15s 10.0v"}, MoreTests, "", []bool{true, false}},
	{"a load under a quarter of CCA proves little", flooded650, "", []string{"12.65 v 21c rested 2h", "load 130a 15s 11.5v"}, MoreTests, "", []bool{true, false}},
	{"but failing even that counts", flooded650, "", []string{"12.65 v 21c rested 2h", "load 130a 15s 9.0v"}, Replace, "worn", []bool{true, true}},
	{"read after five seconds", flooded650, "", []string{"12.65 v 21c rested 2h", "load 325a 5s 10.0v"}, MoreTests, "", []bool{true, false}},
	{"green eye: a pass counts", flooded650, "", []string{"eye green", "load 325a 15s 10.0v"}, Keep, "nothing_wrong", []bool{true, true}},
	{"green eye: a fail means charge and retest", flooded650, "", []string{"eye green", "load 325a 15s 8.0v"}, ChargeAndRetest, "", []bool{true, false}},
	{"dark eye: charge first", flooded650, "", []string{"eye dark"}, ChargeAndRetest, "discharged_sound", []bool{true}},
	{"clear eye stops", flooded650, "", []string{"eye clear"}, StopUnsafe, "damaged", []bool{true}},
	{"clear eye on caps that open: water first", flooded650 + `,"sealed":false`, "", []string{"eye clear"}, MoreTests, "", []bool{false}},
	{"a crack stops, whatever it measures", flooded650, "", []string{"12.65 v 21c rested 2h", "load 325a 15s 10.1v", "look crack"}, StopUnsafe, "damaged", []bool{true, true, true}},
	{"rotten-egg smell stops", flooded650, "", []string{"look smell"}, StopUnsafe, "overcharging", []bool{true}},
	{"damp at the vents is no damage", flooded650, "", []string{"look wet vents", "12.65 v 21c rested 2h"}, MoreTests, "", []bool{true, true}},
	{"flat in deep cold counts as frozen", flooded650, "", []string{"11.9 v -20c air rested 9h"}, StopUnsafe, "damaged", []bool{true}},
	{"full in deep cold does not", flooded650, "", []string{"12.6 v -20c air rested 9h"}, MoreTests, "", []bool{true}},
	{"thawed and charged", flooded650, "", []string{"look frozen", "12.6 v 20c rested 2h after charge", "load 325a 15s 10.1v"}, Keep, "nothing_wrong", []bool{true, true, true}},
	{"corrosion spoils a fail", flooded650, "", []string{"look corrosion positive heavy", "12.65 v 21c rested 2h", "load 325a 15s 9.0v"}, CleanAndRetest, "poor_connection", []bool{true, true, false}},
	{"and does not spoil a pass", flooded650, "", []string{"look corrosion positive heavy", "12.65 v 21c rested 2h", "load 325a 15s 10.1v"}, LookElsewhere, "poor_connection", []bool{true, true, true}},
	{"without a temperature 9.3 V is between the limits", flooded650, "", []string{"12.65 v rested 2h", "load 325a 15s 9.3v"}, MoreTests, "", []bool{true, false}},
	{"without a temperature 8.4 V fails", flooded650, "", []string{"12.65 v rested 2h", "load 325a 15s 8.4v"}, Replace, "worn", []bool{true, true}},
	{"quick school: 9.2 V is enough", flooded650, `,"school":"quick_9v"`, []string{"12.65 v 21c rested 2h", "load 325a 15s 9.2v"}, Keep, "nothing_wrong", []bool{true, true}},
	{"classic starter school: 9.8 V is not", flooded650, `,"school":"starter_10v"`, []string{"12.65 v 21c rested 2h", "load 20s 9.8v starter"}, Replace, "worn", []bool{true, true}},
	{"six volts: half the limit", six300, "", []string{"6.32 v 21c rested 2h", "load 150a 15s 4.85v"}, Keep, "nothing_wrong", []bool{true, true}},
	{"six volts failing", six300, "", []string{"6.32 v 21c rested 2h", "load 150a 15s 4.7v"}, Replace, "worn", []bool{true, true}},
	{"AGM at 12.42 V is not charged", agm180, "", []string{"12.42 v 12c rested 20h"}, ChargeAndRetest, "discharged_sound", []bool{true}},
	{"lithium is never judged", lithium, "", []string{"13.2 v rested 2h", "look crack"}, MoreTests, "", []bool{false, false}},
	{"unknown chemistry is asked for", `"chemistry":"unknown","nominal_v":12`, "", []string{"12.1 v rested 2h"}, MoreTests, "", []bool{false}},
	{"nothing measured", flooded650, "", nil, MoreTests, "", nil},

	// Gravity: over 50 points apart is a bad cell of a charged battery (Battery
	// Council International service practice, value from memory).
	{"one cell 55 points down, the rest full", opens650, "", []string{"sg 1265 1260 - 1210 1265 1260 at 27c"}, Replace, "dead_cell", []bool{true}},
	{"the same discharged proves no bad cell", opens650, "", []string{"sg 1200 1200 1195 1145 1200 1200 at 27c"}, ChargeAndRetest, "", []bool{true}},
	{"exactly 50 points is not over 50", opens650, "", []string{"sg 1265 1260 1265 1215 1265 1260 at 27c"}, MoreTests, "", []bool{true}},
	{"all low and even: discharged", opens650, "", []string{"sg 1190 1185 1190 1190 1185 1190 at 27c"}, ChargeAndRetest, "discharged_sound", []bool{true}},
	{"water just added", opens650, "", []string{"sg 1150 1150 1150 1150 1150 1150 just watered"}, MoreTests, "", []bool{false}},
	{"gravity makes a failed load count", opens650, "", []string{"sg 1265 1260 1265 1260 1265 1260 at 21c", "load 325a 15s 8.9v"}, Replace, "worn", []bool{true, true}},
	{"plates dry: a fail proves nothing", opens650, "", []string{"level ok ok dry ok ok ok", "12.6 v 21c rested 2h", "load 325a 15s 8.9v"}, ChargeAndRetest, "", []bool{true, true, false}},

	// A charge is proven when as much went in as was missing (common practice, no source).
	{"said to be charged, but the log falls short", flooded650 + `,"capacity_ah":65`, "", []string{"11.9 v 20c rested 5h", "charge 14.2v 6a 30min", "12.2 v 20c rested 3h after charge", "load 325a 15s 8.8v"}, ChargeAndRetest, "", []bool{true, true, true, false}},
	{"the log bears it out", flooded650 + `,"capacity_ah":65`, "", []string{"11.9 v 20c rested 5h", "charge 14.4v 6a 13h", "12.2 v 20c rested 3h after charge", "load 325a 15s 8.8v"}, Replace, "", []bool{true, true, true, true}},
	{"a valve-regulated battery that gasses on charge", agm180, "", []string{"charge 14.6v 2a 60min gas"}, StopUnsafe, "overcharging", []bool{true}},
	{"its current rises at the same volts", agm180, "", []string{"charge 14.4v 2a 60min", "charge 14.4v 3a 90min"}, StopUnsafe, "overcharging", []bool{true, true}},
	{"hot, then cool again", flooded650, "", []string{"charge 14.4v 9a 60min hot", "charge 14.0v 3a 120min cool"}, MoreTests, "", []bool{true, true}},
	{"12.2 V after eight hours on the charger", flooded650, "", []string{"charge 12.2v 6a 8h warm gas full"}, MoreTests, "dead_cell", []bool{true}},

	// The vehicle's side: limits are common practice, no source.
	{"sound, charged, and 12.9 V running", flooded650, "", []string{"12.65 v 21c rested 2h", "load 325a 15s 10.1v", "running 12.9 v raised"}, LookElsewhere, "undercharging", []bool{true, true, true}},
	{"just jumped: low running volts prove nothing", flooded650, `,"symptom":"silent"`, []string{"12.65 v 21c rested 2h after charge", "load 325a 15s 10.1v", "running 12.9 v just jumped"}, LookElsewhere, "", []bool{true, true, false}},
	{"a managed system at 12.8 V", flooded650, "", []string{"12.65 v 21c rested 2h", "load 325a 15s 10.1v", "running 12.8 v managed"}, Keep, "nothing_wrong", []bool{true, true, false}},
	{"a dynamo at idle", six300, `,"vehicle":{"kind":"classic"}`, []string{"6.32 v 21c rested 2h", "load 150a 15s 5.0v", "running 6.2 v idle"}, Keep, "nothing_wrong", []bool{true, true, false}},
	{"15.4 V running", flooded650, "", []string{"12.65 v 21c rested 2h", "load 325a 15s 10.1v", "running 15.4 v 20c"}, LookElsewhere, "overcharging", []bool{true, true, true}},
	{"85 mA asleep, battery sound", flooded650, `,"symptom":"dies_again"`, []string{"12.1 v rested 8h", "12.65 v 21c rested 2h after charge", "load 325a 15s 10.1v", "drain 85 ma asleep 40min"}, LookElsewhere, "parasitic_drain", []bool{true, true, true, true}},
	{"300 mA three minutes after locking", flooded650, `,"symptom":"dies_again"`, []string{"12.65 v 21c rested 2h after charge", "load 325a 15s 10.1v", "drain 300 ma asleep 3min"}, LookElsewhere, "", []bool{true, true, false}},
	{"0.25 A over a 15 A fuse", flooded650, `,"symptom":"dies_again"`, []string{"12.65 v 21c rested 2h after charge", "load 325a 15s 10.1v", "fuse F12 15a 1.2mv asleep 40min"}, LookElsewhere, "parasitic_drain", []bool{true, true, true}},
	{"0.45 V over a clamp", flooded650, `,"symptom":"slow_crank"`, []string{"12.65 v 21c rested 2h", "load 325a 15s 10.1v", "drop negative_clamp 0.45v 150a"}, CleanAndRetest, "poor_connection", []bool{true, true, true}},
	{"cleaned and measured again", flooded650, `,"symptom":"slow_crank"`, []string{"12.65 v 21c rested 2h", "load 325a 15s 10.1v", "drop negative_clamp 0.45v 150a", "drop negative_clamp 0.04v 150a"}, LookElsewhere, "", []bool{true, true, true, true}},
	{"a small current proves no good joint", flooded650, "", []string{"drop negative_clamp 0.04v 10a"}, MoreTests, "", []bool{false}},
	{"4.5 V over the top", flooded650, "", []string{"case 4.5 v"}, CleanAndRetest, "case_leakage", []bool{true}},
	{"the converter does not charge", agm180, `,"vehicle":{"kind":"hybrid"},"symptom":"odd_warnings"`, []string{"12.9 v 20c rested 3h after charge", "175/180 cca", "dcdc 12.4v to 12.5v 10s"}, LookElsewhere, "dcdc_fault", []bool{true, true, true}},
	{"lights left on, as told", flooded650, "", []string{"lights left on 14h", "11.8 v rested 3h", "12.65 v 21c rested 2h after charge", "load 325a 15s 10.1v"}, LookElsewhere, "accessory_left_on", []bool{true, true, true, true}},
	{"cranks well, does not start", flooded650, `,"symptom":"cranks_no_start"`, []string{"12.65 v 21c rested 2h", "load 325a 15s 10.1v", "crank 10.6v 4s"}, LookElsewhere, "engine_fault", []bool{true, true, true}},
	{"starter drags", flooded650, `,"symptom":"slow_crank","vehicle":{"kind":"car","engine":"petrol","litres":1.6}`, []string{"12.65 v 21c rested 2h", "load 325a 15s 10.1v", "starter 320a"}, LookElsewhere, "starter_drag", []bool{true, true, true}},
	{"the shop's own limit for a drain", flooded650, `,"limits":{"drain_most":{"value":0.1,"note":"maker's manual"}}`, []string{"12.65 v 21c rested 2h", "load 325a 15s 10.1v", "drain 85 ma asleep 40min"}, Keep, "nothing_wrong", []bool{true, true, true}},

	// Lost capacity: only the timed discharge sees it (computed, twin study).
	{"a quarter of the label's reserve", flooded650 + `,"capacity_ah":65,"reserve_min":110`, "", []string{"12.65 v 21c rested 2h after charge", "load 325a 15s 9.9v", "reserve 25a 14min to 10.5v"}, Replace, "", []bool{true, true, true}},
	{"not full when it began", flooded650 + `,"capacity_ah":65,"reserve_min":110`, "", []string{"12.3 v 21c rested 2h", "reserve 25a 40min to 10.5v"}, ChargeAndRetest, "", []bool{true, false}},
	{"a quarter taken and still there", flooded650 + `,"capacity_ah":65,"reserve_min":110`, "", []string{"12.65 v 21c rested 2h", "load 325a 15s 9.9v", "reserve 10a 90min 12.6v to 12.0v"}, Keep, "nothing_wrong", []bool{true, true, true}},

	// Where it stood gives the temperature a test is judged at.
	{"stood at −18 °C: 8.6 V is enough", flooded650, "", []string{"stood 9h -18c", "12.6 v rested 9h", "load 325a 15s 8.6v"}, Keep, "nothing_wrong", []bool{true, true, true}},
	{"flat and stood in deep frost counts as frozen", flooded650, "", []string{"stood 9h -20c", "11.9 v rested 9h"}, StopUnsafe, "damaged", []bool{true, true}},
	{"twenty-four volts", `"chemistry":"flooded","nominal_v":24,"rating":{"value":650,"standard":"SAE"}`, "", []string{"25.3 v 21c rested 2h", "load 325a 15s 19.3v"}, Keep, "nothing_wrong", []bool{true, true}},
	{"eight volts failing", `"chemistry":"flooded","nominal_v":8,"rating":{"value":300,"standard":"SAE"}`, "", []string{"8.43 v 21c rested 2h", "load 150a 15s 6.2v"}, Replace, "worn", []bool{true, true}},
}

func TestWorkedCases(t *testing.T) {
	for _, w := range worked {
		t.Run(w.name, func(t *testing.T) {
			a := judged.Assess(decode(t, w.battery, w.extra, w.lines...))
			if a.Verdict.Action != w.action {
				t.Errorf("got %s, want %s: %s", a.Verdict.Action, w.action, because(a))
			}
			if w.cause != "" && (a.Verdict.Cause == nil || *a.Verdict.Cause != w.cause) {
				t.Errorf("cause %v, want %s", deref(a.Verdict.Cause), w.cause)
			}
			for i, f := range a.Findings {
				if f.Valid != w.valid[i] {
					t.Errorf("reading %d valid %v, want %v: %s", i, f.Valid, w.valid[i], f.Text.Text)
				}
			}
			sane(t, a)
		})
	}
}

// TestEveryAction checks that each action is some case's verdict.
func TestEveryAction(t *testing.T) {
	for _, action := range []Action{StopUnsafe, Replace, CleanAndRetest, ChargeAndRetest, LookElsewhere, Keep, MoreTests} {
		if !slices.ContainsFunc(worked, func(w struct {
			name, battery, extra string
			lines                []string
			action               Action
			cause                string
			valid                []bool
		}) bool {
			return w.action == action
		}) {
			t.Errorf("no case reaches %s", action)
		}
	}
}

func because(a Assessment) string {
	var lines []string
	for _, s := range a.Verdict.Because {
		lines = append(lines, s.Text)
	}
	return strings.Join(lines, " / ")
}

func deref(s *string) string {
	if s == nil {
		return "none"
	}
	return *s
}

// sane checks what holds for every assessment: probabilities that are ones, a
// reason for every verdict, and words for everything said.
func sane(t testing.TB, a Assessment) {
	t.Helper()
	c := a.Condition
	if sum := c.Sound + c.Worn + c.DeadCell + c.Damaged; math.Abs(sum-1) > 1e-9 {
		t.Errorf("conditions sum to %v", sum)
	}
	if len(a.Verdict.Because) == 0 || len(a.Verdict.WouldChange) == 0 {
		t.Errorf("a bare verdict: %+v", a.Verdict)
	}
	if a.Verdict.Confidence < 0 || a.Verdict.Confidence > 1 {
		t.Errorf("confidence %v", a.Verdict.Confidence)
	}
	if s := a.ChargeState; s != nil && (s.Low > s.Percent || s.High < s.Percent || s.Low < 0 || s.High > 100) {
		t.Errorf("charge %+v", s)
	}
	for _, s := range statements(a) {
		if s.Text == "" || strings.ContainsAny(s.Text, "⟨⟩{}") || strings.Contains(s.Text, "<nil>") || strings.Contains(s.Text, "  ") {
			t.Errorf("%s reads %q", s.Code, s.Text)
		}
		for _, name := range wording.Placeholders(s.Code) {
			if _, ok := s.Values[name]; !ok {
				t.Errorf("%s lacks %s", s.Code, name)
			}
		}
	}
}

func statements(a Assessment) []wording.Statement {
	out := append(slices.Clone(a.Verdict.Because), a.Verdict.WouldChange...)
	for _, f := range a.Findings {
		out = append(out, f.Text)
		if f.WayOut != nil {
			out = append(out, *f.WayOut)
		}
	}
	for _, n := range a.Next {
		out = append(out, n.Text)
	}
	for _, c := range a.Causes {
		out = append(append(out, c.For...), c.Against...)
	}
	return out
}

// pieces are combined into many cases for the laws below.
var pieces = []string{
	"12.65 v 21c rested 2h", "12.24 v rested 2h", "12.7 v since drive", "13.2 v 20c", "11.5 v -15c rested 9h", "10.5 v rested 2h after charge",
	"12.6 v 20c rested 2h after charge", "12.4 v lamps 1min", "load 325a 15s 10.1v", "load 325a 15s 8.9v", "load 130a 10s 10.6v fixed", "load 15s 9.4v",
	"load 400a 15s 9.3v", "load 325a 30s 9.0v", "load 325a 15s 9.2v -25c", "load 15s 9.7v starter", "594/650 cca", "400/650 cca", "480/650 cca",
	"400/500 cca agm", "eye green", "eye dark", "eye clear", "eye unsure", "look crack", "look none", "look corrosion light", "look clamp loose",
	"look dirty top", "look hot", "look belt", "12.6 v 60c rested 2h",
	"crank 9.8v 4s slow", "crank 9.1v 4s", "crank 12.2v silent", "crank 10.5v 3s on jump", "running 14.3 v", "running 12.9 v raised loads on",
	"running 14.9 v", "running 15.4 v 20c", "running 13.0 v just jumped", "running 12.8 v managed", "ripple 0.08 v", "ripple 0.3 v", "ripple 0.7 v",
	"starter 145a 10.1v stud 9.6v", "starter 700a", "starter 30a", "starter 10.2v stud 9.1v", "starter stud 9.6v", "starter 10.0v",
	"drop negative_clamp 0.45v 150a", "drop negative_clamp 0.05v 150a", "drop ground_strap 0.1v 5a", "drop whole_positive 0.7v", "drop charge_positive 0.1v charging",
	"drain 85 ma asleep 40min", "drain 20 ma", "drain 300 ma", "drain 300 ma asleep 3min", "fuse F12 15a 1.2mv asleep 40min", "fuse F12 15a 1.2mv", "fuse F3 40a 1mv", "fuse F2 10a 0mv",
	"case 0.02 v", "case 0.3 v", "case 4.5 v", "age 2y", "age 5y", "age 7y jumps 3 in 90d", "stood 8h -6c", "stood 5h", "standing 40d", "trips 6/week 9min",
	"trips 10/week 60min", "lights left on 14h", "dcdc 12.4v to 13.9v 5s", "dcdc 12.4v to 12.5v", "dcdc 12.4v to 15.5v", "dcdc 12.4v", "dcdc 12.4v to 13.9v 3min",
	"reserve 10a 90min 12.6v to 11.9v 20c", "reserve 25a 10min 12.6v to 10.5v", "reserve 25a 200min to 10.5v", "reserve 2a 5min to 12.4v",
	"charge 14.2v 6.1a 90min cool no gas", "charge 12.2v 6a 8h warm gas full", "charge 16.5v 3a 60min", "charge 14.4v 1a 20min full", "charge 14.4v 9a 10h", "charge 14.4v 9a hot",
	"jump started", "jump no with pack",
}

// combinations calls do with many cases: pairs and triples of pieces with
// several labels, symptoms and schools.
func combinations(t *testing.T, do func(c evidence.Case, a Assessment)) {
	for _, one := range combined(t) {
		do(one.c, one.a)
	}
}

// judgedCase is a case with its assessment.
type judgedCase struct {
	c evidence.Case
	a Assessment
}

var combinedOnce []judgedCase

// combined judges the combined cases once for all tests.
func combined(t *testing.T) []judgedCase {
	if combinedOnce != nil {
		return combinedOnce
	}
	do := func(c evidence.Case) { combinedOnce = append(combinedOnce, judgedCase{c, judged.Assess(c)}) }
	labels := []string{flooded650, unrated, agm180, six300, `"chemistry":"gel","nominal_v":24,"rating":{"value":600,"standard":"EN"},"sealed":true`, flooded650 + `,"sealed":false,"label_load_a":300`}
	extras := []string{"", `,"symptom":"slow_crank"`, `,"symptom":["preventive"],"vehicle":{"kind":"hybrid","start_stop":true}`, `,"school":"starter_10v","vehicle":{"earth":"positive"},"tools":["meter"]`}
	for i, first := range pieces {
		for j, second := range pieces {
			if (i+j)%4 != 0 {
				continue // a quarter of all pairs is many enough
			}
			third := pieces[(i*7+j*13)%len(pieces)]
			label, extra := labels[(i+j)/4%len(labels)], extras[(i*3+j)%len(extras)]
			if strings.Contains(label, `"nominal_v":6`) {
				continue
			}
			do(decode(t, label, extra, first, second, third))
		}
	}
	for _, extra := range extras {
		do(decode(t, six300, extra, "6.3 v 20c rested 2h", "load 150a 15s 4.9v", "look oxide"))
	}
	return combinedOnce
}

func TestEverySentence(t *testing.T) {
	combinations(t, func(_ evidence.Case, a Assessment) {
		sane(t, a)
		for _, caution := range a.Cautions {
			if strings.ContainsAny(caution.Say().Text, "⟨{<") {
				t.Errorf("caution %s has no words", caution)
			}
		}
	})
}

// TestRulesHold checks the rules of judgement over many cases: never replace on
// a voltage alone or on a fail that does not count; a stop rule stands above all.
func TestRulesHold(t *testing.T) {
	combinations(t, func(c evidence.Case, a Assessment) {
		counts := false
		for _, f := range a.Findings {
			counts = counts || f.Valid && f.Outcome == evidence.Fail
		}
		dead := gather(evidence.Examine(c)).deadAfterCharge >= 0
		if a.Verdict.Action == Replace && !counts && !dead {
			t.Errorf("replaced without a basis: %v", c.Readings)
		}
		stopped := slices.ContainsFunc(a.Cautions, func(id school.Caution) bool { return id.Stops() })
		if stopped != (a.Verdict.Action == StopUnsafe) {
			t.Errorf("stop rule and verdict part ways: %v, %s", a.Cautions, a.Verdict.Action)
		}
	})
}

// TestPassNeverCondemns checks that a passing load test that counts never makes
// a battery likelier worn.
func TestPassNeverCondemns(t *testing.T) {
	combinations(t, func(c evidence.Case, a Assessment) {
		if c.School != "" && c.School != "half_cca" || c.Label.NominalV != 12 {
			return
		}
		before := a.Condition
		with := decode(t, flooded650, "", "load 325a 15s 10.4v").Readings[0]
		c.Readings = append(slices.Clone(c.Readings), with)
		a = judged.Brief(c)
		after := a.Condition
		if pass := a.Findings[len(a.Findings)-1]; !pass.Valid || pass.Outcome != evidence.Pass {
			return
		}
		if after.Worn > before.Worn+1e-9 {
			t.Errorf("a pass raised worn from %v to %v: %v", before.Worn, after.Worn, c.Readings)
		}
	})
}

// TestExample checks the published example case: half discharged, failed,
// charged, passed.
func TestExample(t *testing.T) {
	c, err := evidence.Decode(strings.NewReader(`{"as_of": "2026-11-24",
 "battery": {"chemistry": "flooded", "nominal_v": 12, "rating": {"value": 650, "standard": "SAE"}, "capacity_ah": 65, "reserve_min": 110, "made": "2023-03", "sealed": false},
 "vehicle": {"kind": "car", "engine": "petrol", "litres": 2.0}, "symptom": "slow_crank", "school": "half_cca",
 "readings": ["12.24 v 18c rested 2h", {"kind": "load", "amps": 325, "seconds": 15, "volts": 9.3, "battery_c": 18},
  "12.66 v rested 3h after charge", "load 325a 15s 10.1v"]}`))
	if err != nil {
		t.Fatal(err)
	}
	a := judged.Assess(c)
	if a.Verdict.Action != LookElsewhere || a.ChargeState == nil || a.ChargeState.Percent != 100 {
		t.Errorf("got %s at %+v", a.Verdict.Action, a.ChargeState)
	}
	if f := a.Findings[1]; f.Valid || f.Limit == nil || math.Abs(f.Limit.Value-9.54) > 0.001 || *f.Limit.AtC != 18 {
		t.Errorf("first load: %+v", f)
	}
	var keys map[string]any
	data, err := json.Marshal(a)
	if err != nil {
		t.Fatal(err)
	}
	if err := json.Unmarshal(data, &keys); err != nil {
		t.Fatal(err)
	}
	for _, key := range []string{"charge_state", "condition", "causes", "findings", "next", "verdict", "cautions"} {
		if _, ok := keys[key]; !ok {
			t.Errorf("the answer lacks %s", key)
		}
	}
}

// TestNext checks that a test which could prove nothing, or for which there is
// no tool, is not asked for.
func TestNext(t *testing.T) {
	has := func(a Assessment, test string) bool {
		return slices.ContainsFunc(a.Next, func(n Next) bool { return n.Test == test })
	}
	low := judged.Assess(decode(t, flooded650, "", "12.2 v rested 2h"))
	if low.Next[0].Test != "charge" || has(low, "conductance") {
		t.Errorf("discharged: %+v", low.Next)
	}
	full := judged.Assess(decode(t, flooded650, "", "12.65 v 20c rested 2h"))
	if full.Next[0].Test != "load" || full.Next[0].Gain <= 0 {
		t.Errorf("charged: %+v", full.Next)
	}
	if bare := judged.Assess(decode(t, flooded650, `,"tools":["meter"]`, "12.65 v 20c rested 2h")); has(bare, "load") || has(bare, "conductance") {
		t.Errorf("meter only: %+v", bare.Next)
	}
	if frozen := judged.Assess(decode(t, flooded650, "", "look frozen")); has(frozen, "load") || has(frozen, "charge") {
		t.Errorf("frozen: %+v", frozen.Next)
	}
}

// TestPicture checks that the drawing's figures are the case's.
func TestPicture(t *testing.T) {
	p := judged.Draw(decode(t, flooded650, "", "12.24 v 17c rested 2h", "load 325a 15s 9.3v"))
	if p.Plan.Amps == nil || *p.Plan.Amps != 325 || p.Plan.Limit.Value != 9.52 || p.Plan.FailProves {
		t.Errorf("plan %+v", p.Plan)
	}
	if len(p.Loads) != 1 || p.Loads[0].From != 12.24 || p.Loads[0].Valid || p.Rested == nil {
		t.Errorf("points %+v %+v", p.Loads, p.Rested)
	}
	if q := judged.Draw(decode(t, `"chemistry":"flooded","nominal_v":12,"rating":{"value":280,"standard":"DIN"}`, "")); *q.Plan.Amps != 250 || !q.Plan.Converted {
		t.Errorf("280 DIN is 500 SAE, half of it 250: %+v", q.Plan)
	}
}

func BenchmarkAssess(b *testing.B) {
	c := decode(b, flooded650, `,"symptom":"slow_crank"`, "12.24 v 18c rested 2h", "load 325a 15s 9.3v", "12.66 v rested 3h after charge", "load 325a 15s 10.1v")
	b.ReportAllocs()
	for b.Loop() {
		judged.Assess(c)
	}
}
