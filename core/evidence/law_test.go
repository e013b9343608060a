package evidence

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// everyFinding are cases that together reach every finding there are words for.
var everyFinding = []struct {
	label string
	lines []string
}{
	{rated650, []string{"12.41 v 21c rested 2h", "12.60 v rested 10min", "12.60 v since drive", "12.60 v", "13.2 v rested 2h", "12.60 v lamps 5s wait 1min", "12.8 v rested 3h", "12.65 v rested 3h"}},
	{rated650, []string{"11.8 v rested 3h after charge"}},
	{rated650, []string{"eye green", "eye dark", "eye clear", "eye unsure"}},
	{`"chemistry":"flooded","nominal_v":12,"sealed":true`, []string{"eye clear", "load 325a 15s 9.4v", "594/650 cca"}},
	{`"chemistry":"lifepo4","nominal_v":12`, []string{"13.2 v"}},
	{rated650, []string{"look none", "look crack", "look corrosion light", "look corrosion heavy", "look hold down"}},
	{rated650, []string{"12.65 v 21c rested 2h", "load 325a 15s 10v", "load 325a 15s 9v", "load 325a 5s 10v", "load 325a 40s 9v", "load 15s 9.9v", "load 130a 15s 11.5v", "load 220a 15s 9.9v", "load 400a 15s 9.4v", "load 325a 15s 8v -25c"}},
	{rated650, []string{"12.65 v rested 2h", "load 325a 15s 10v", "load 325a 15s 8v", "load 325a 15s 9v"}},
	{rated650, []string{"12.1 v 21c rested 2h", "load 325a 15s 10v", "load 325a 15s 9v", "620/650 cca", "400/650 cca"}},
	{rated650, []string{"12.1 v rested 2h", "load 325a 15s 10v"}},
	{rated650, []string{"load 325a 15s 8v", "400/650 cca"}},
	{rated650, []string{"eye green", "load 325a 15s 8v", "400/650 cca"}},
	{rated650, []string{"look clamp loose", "12.65 v 21c rested 2h", "load 325a 15s 8v", "400/650 cca"}},
	{rated650, []string{"level ok ok dry ok ok ok", "12.65 v 21c rested 2h", "load 325a 15s 8v", "400/650 cca"}},
	{rated650, []string{"11.9 v 25c rested 9h", "charge 14.2v 6a 30min", "12.3 v 25c rested 3h after charge", "load 325a 15s 8v", "400/650 cca"}},
	{rated650, []string{"12.65 v 21c rested 2h", "620/650 cca", "540/650 cca", "470/650 cca", "400/650 cca", "400/500 cca", "400/650 cca en", "400/650 cca agm"}},
}

// TestEveryFindingIsReached checks that every finding there are words for is the
// finding of some reading, and that no reading finds what there are no words for.
func TestEveryFindingIsReached(t *testing.T) {
	reached := map[string]bool{}
	note := func(ev Evidence) {
		for _, f := range ev.Findings {
			for _, s := range append([]wording.Statement{f.Text}, f.More...) {
				reached[s.Code] = true
				if !wording.Has(s.Code) {
					t.Errorf("no words for %s", s.Code)
				}
			}
			if f.WayOut != nil {
				reached[f.WayOut.Code] = true
			}
		}
	}
	for _, c := range everyFinding {
		note(examined(t, c.label, c.lines...))
	}
	for label, lines := range kindLines(t) {
		for _, line := range lines {
			note(examined(t, label, line))
		}
	}
	note(examined(t, rated650, "12.65 v 21c rested 2h", "crank 9.1v 3s"))
	note(examined(t, rated180, "charge 14.4v 1a 60min", "charge 14.4v 2a 90min"))
	for _, lines := range [][]string{
		{"0.3 v rested 2h"}, {"-12.1 v"}, {"0.3 v rested 2h", "charge 14.4v 0a 17h"},
		{"12.65 v 20c rested 3h", "sg 1190 1190 1190 1185 1190 1190 at 20c", "load 325a 15s 9.0v", "500/650 cca"},
		{"12.0 v 20c rested 3h", "sg 1265 1265 1265 1265 1265 1265 at 20c"},
		{"12.0 v 20c rested 3h", "eye green"}, {"12.7 v 20c rested 3h", "eye dark"},
		{"12.2 v 20c rested 3h", "load 325a 15s 9.8v", "12.66 v 20c rested 3h after charge", "load 325a 15s 9.3v"},
		{"12.2 v 20c rested 3h", "600/650 cca", "12.66 v 20c rested 3h after charge", "440/650 cca"},
		{"sg 1235 1235 1230 1235 1235 1235", "load 325a 15s 8.3v", "400/650 cca"},
		{"12.65 v 25c rested 3h after charge", "reserve 10a 95min 12.6v to 11.9v 25c", "sg 1225 1225 1220 1140 1225 1225 at 25c"},
		{"12.65 v 20c rested 3h", "load 500a 15s 9.4v"},
		{"12.3 v 20c rested 3h after charge"},
	} {
		note(examined(t, rated650, lines...))
	}
	note(examined(t, rated650, "12.4 v rested 3h", "drain 400 ma asleep 60min", "trips 10/week 20min"))
	note(examined(t, rated24, "halves 12.65v 12.62v rested 5h"))
	note(examined(t, rated24, "halves 12.7v 12.1v rested 5h"))
	note(examined(t, rated24, "halves 12.7v 10.6v rested 5h after charge"))
	note(examined(t, rated650+petrolCar, "running 13.0 v 40a idle"))
	note(examined(t, rated650+petrolCar, "running 12.3 v -14a raised"))
	note(examined(t, rated650+petrolCar, "11.8 v rested 9d after charge"))
	note(examined(t, rated650+petrolCar, "crank 12.4v 2s silent", "starter 12.4v stud 12.2v"))
	note(examined(t, rated180+motorcycle, "running 12.8 v idle", "drain 30 ma"))
	note(examined(t, rated180+electric, "crank 9.1v 3s slow"))
	note(examined(t, rated180+hybrid, "crank 9.1v 3s slow"))
	note(examined(t, rated650+oldCar, "crank 9.0v 3s"))
	note(examined(t, `"chemistry":"flooded","nominal_v":12},"vehicle":{"kind":"car","required_cca":600`, "12.65 v 20c rested 3h", "load 300a 15s 8.6v"))
	for _, log := range []string{"10ah full", "45ah full", "68ah full", "30ah", "150ah"} {
		note(examined(t, rated650, "11.9 v 25c rested 9h", "charge 14.4v 1a 60min "+log))
	}
	note(examined(t, rated650, "trips 6/week", "trips 3/week 6min", "stood 5h", "age 4y", "12.65 v 21c rested 2h", "load 325a 15s 8v back 11.5v"))
	trip, err := reading.Parse("trips 6/week 9min")
	if err != nil {
		t.Fatal(err)
	}
	alone := reading.Reading{Kind: reading.History}.With(reading.TripMin, numberOr(&trip.Reading, reading.TripMin, 0))
	note(Examine(Case{Label: battery.Label{Chemistry: battery.Flooded, NominalV: 12}, Readings: Untimed(alone)}))
	for _, code := range wording.Codes() {
		if (strings.HasPrefix(code, "finding.") || strings.HasPrefix(code, "way.") || strings.HasPrefix(code, "more.")) && !reached[code] {
			t.Errorf("%s is said by nothing", code)
		}
	}
}

// kindLines are the lines of TestEveryKindFinds by their label.
func kindLines(t *testing.T) map[string][]string {
	t.Helper()
	return map[string][]string{
		rated650: {
			"sg 1265 1262 1265 1260 1262 1265 27c", "sg 1265 1262 1265 1230 1262 1265 27c", "sg 1265 1262 - 1210 1262 1265 27c", "sg 1190 1190 1190 1130 1190 1190 27c",
			"sg green green fair green red green", "sg 1265 - - - - -", "sg - - - - - -", "sg 1100 1100 1100 1100 1100 1100 just watered", "level ok ok ok ok ok ok", "level ok low ok ok ok ok",
			"level ok low ok ok dry ok", "crank 10.4v 3s", "crank 9.1v 3s", "crank 10.4v 3s slow", "crank 12.2v click", "crank 11v 3s on jump", "running 13.5 v", "running 13.4 v",
			"running 13.4 v just jumped", "running 12.8 v managed", "running 14.9 v", "running 15.2 v", "ripple 0.09 v", "ripple 0.1 v", "ripple 0.6 v", "starter 700a", "starter 40a", "starter 145a 10.6v stud 9.9v",
			"starter 145a", "starter stud 9.6v", "starter 10.1v", "drop negative_clamp 0.1v 150a", "drop negative_clamp 0.45v 150a", "drop whole_positive 0.45v", "drop whole_positive 0.6v", "drop positive_clamp 0.02v 15a",
			"drain 50 ma asleep 40min", "drain 85 ma asleep 40min", "drain 85 ma", "drain 85 ma asleep 10min", "fuse F12 15a 1.2mv asleep 40min", "fuse F12 15a 0.1mv", "fuse F12 15a 1.2mv", "fuse F1 45a 1mv",
			"case 0.05 v", "case 0.3 v", "case 4.5 v", "reserve 25a 14min 12.65v to 10.5v", "reserve 25a 75min 12.65v to 10.5v", "reserve 25a 100min to 10.5v", "reserve 25a 14min 12.2v to 10.5v",
			"reserve 25a 30min 12.65v to 11.9v", "reserve 25a 10min 12.65v to 12.2v", "charge 14.2v 6a 60min cool no gas", "charge 14.2v 6a 60min hot", "charge 12.2v 6a 8h", "charge 14.4v 1a 60min full",
			"jump started", "jump no", "lights left on 14h", "jumps 3 in 90d", "jumps 1 in 90d", "trips 1/week 3min", "trips 10/week 60min", "standing 40d", "standing 4d", "stood 8h -6c", "age 2y", "age 7y",
		},
		rated180:                               {"dcdc 12.4v to 13.9v 5s", "dcdc 12.4v to 12.6v", "dcdc 12.4v to 15.2v", "dcdc 12.4v to 13.9v 2min", "dcdc 12.4v", "charge 14.4v 1a 60min gas", "charge 15.4v 1a 60min"},
		rated300:                               {"running 6.3 v idle"},
		rated180 + electric:                    {"starter 100a"},
		`"chemistry":"flooded","nominal_v":12`: {"reserve 25a 10min to 10.5v"},
	}
}

// TestLimitsFollowTheCells checks that limits of volts at the posts scale with
// the cells and those of joints do not. Physical reason: cells in series add.
func TestLimitsFollowTheCells(t *testing.T) {
	of := func(volts float64, line string) float64 {
		label := fmt.Sprintf(`"chemistry":"flooded","nominal_v":%g,"rating":{"value":650,"standard":"SAE"}`, volts)
		limit := examined(t, label, line).Findings[0].Limit
		if limit == nil {
			t.Fatalf("%s has no limit", line)
		}
		return limit.Value
	}
	for line, scales := range map[string]bool{
		"crank 4.9v 3s": true, "running 7.0 v raised": true, "dcdc 6.2v to 7.0v": true, "load 325a 15s 4.9v 21c": true,
		"drop negative_clamp 0.05v 150a": false, "case 0.1 v": false, "ripple 0.05 v": false, "drain 30 ma": false,
	} {
		six, twelve := of(6, line), of(12, line)
		if want := map[bool]float64{true: twelve / 2, false: twelve}[scales]; math.Abs(six-want) > 0.011 {
			t.Errorf("%s: limit %v of 6 V, %v of 12 V", line, six, twelve)
		}
	}
}

// TestMarginMatchesOutcome checks over many voltages and temperatures that a
// pass lies inside its limit and a fail beyond it, and that the limit never
// rises in the cold.
func TestMarginMatchesOutcome(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 9))
	before := 0.0
	for at := -17.0; at < 30; at += 0.5 {
		volts := math.Round((8.2+r.Float64()*2)*100) / 100
		ev := examined(t, rated650, fmt.Sprintf("12.65 v %gc rested 2h", at), fmt.Sprintf("load 325a 15s %gv", volts))
		f := ev.Findings[1]
		if f.Limit.Value < before {
			t.Fatalf("the limit falls with warmth at %v °C", at)
		}
		before = f.Limit.Value
		if f.Outcome == Pass != (f.Margin.Value >= 0) && math.Abs(f.Margin.Value) > 0.006 {
			t.Errorf("%v V at %v °C: %s by %+v", volts, at, f.Outcome, f.Margin)
		}
		if math.Abs(f.Margin.Sigmas-f.Margin.Value/f.Margin.Sigma) > 0.06+0.01*math.Abs(f.Margin.Sigmas) {
			t.Errorf("sigmas %+v", f.Margin)
		}
	}
}

// TestSameReadingSameFinding checks that a reading typed in another form, unit or
// order finds the same.
func TestSameReadingSameFinding(t *testing.T) {
	for _, same := range [][]string{
		{"12.41 v 18c rested 2h", "18c rested 120min 12,41v", "64.4f 12.41v rested 2h"},
		{"drop negative_clamp 0.45v 150a", "drop negative clamp 450mv 150 amps", "drop neg clamp 150a 0.45v"},
		{"drain 85 ma asleep 40min", "drain 0.085a asleep 40 min", "drain asleep 40min 85ma"},
		{"running 13.9 v raised loads on", "running loads on raised 13.9v"},
		{"sg 1265 1260 - 1210 1265 1260 15c", "sg 1.265 1.260 - 1.210 1.265 1.260 at 59f"},
	} {
		first := examined(t, rated650, same[0]).Findings[0]
		for _, line := range same[1:] {
			f := examined(t, rated650, line).Findings[0]
			if f.Text.Code != first.Text.Code || f.Valid != first.Valid || (f.Margin == nil) != (first.Margin == nil) || f.Margin != nil && math.Abs(f.Margin.Value-first.Margin.Value) > 1e-3 {
				t.Errorf("%s finds %+v, %s %+v", same[0], first, line, f)
			}
		}
	}
}

// TestEpochsPartition checks that epochs cover the readings once, in order,
// whatever the readings are.
func TestEpochsPartition(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	pool := []string{"12.4 v rested 2h", "12.6 v rested 2h after charge", "load 325a 15s 9.4v", "load 325a 15s 9.9v after charge", "charge 14.4v 6a 60min", "sg 1225 1225 1225 1225 1225 1225", "age 5y", "running 14.2 v", "look none", "12.9 v since charge"}
	for range 300 {
		lines := make([]string, 1+r.IntN(8))
		for i := range lines {
			lines[i] = pool[r.IntN(len(pool))]
		}
		ev := examined(t, rated650, lines...)
		next := 0
		for n, e := range ev.Epochs {
			if e.First != next || e.End < e.First || e.End == e.First && !(e.Drawn && n == len(ev.Epochs)-1) {
				t.Fatalf("%v: epochs %+v", lines, ev.Epochs)
			}
			next = e.End
			if e.Drawn {
				continue // behind a discharge
			}
			opened := ev.Case.Readings[e.First]
			logs := slices.ContainsFunc(ev.Case.Readings[:e.First], func(r Taken) bool { return r.Kind == reading.ChargeLog })
			if n > 0 && !opened.AfterCharge && !logs {
				t.Errorf("%v: epoch %d opens without a charge", lines, n)
			}
			for i := e.First; i < e.End; i++ {
				if ev.EpochOf(i).First != e.First {
					t.Errorf("%v: reading %d is in another epoch", lines, i)
				}
			}
		}
		if next != len(lines) {
			t.Errorf("%v: readings are left over", lines)
		}
	}
}

// TestAgainstTheLabel checks what a label cannot show, for every kind that
// carries volts at the posts.
func TestAgainstTheLabel(t *testing.T) {
	twelve := battery.Label{Chemistry: battery.Flooded, NominalV: 12}
	for _, line := range []string{"24.8 v", "load 325a 15s 24v", "crank 22v", "running 28 v", "starter 24v", "starter stud 24v", "dcdc 24v to 28v", "dcdc 12v to 28v", "reserve 10a 90min to 24v", "charge 28v 6a", "594/650 cca 25v", "load 325a 15s 9v back 24v"} {
		parsed, err := reading.Parse(line)
		if err != nil {
			t.Fatal(err)
		}
		allowed := "0 to 16.5 V"
		// A regulator that has failed can be written down.
		if kind := parsed.Reading.Kind; kind == reading.ChargeLog || kind == reading.ChargingSystem {
			allowed = "0 to 18 V"
		}
		if pr, bad := CheckAgainst(twelve, parsed.Reading); !bad || pr.Allowed != allowed {
			t.Errorf("%s on a 12 V label: %+v", line, pr)
		}
		twice := battery.Label{Chemistry: battery.Flooded, NominalV: 24}
		if pr, bad := CheckAgainst(twice, parsed.Reading); bad {
			t.Errorf("%s on a 24 V label: %+v", line, pr)
		}
	}
	if pr, bad := CheckAgainst(twelve, reading.Reading{Kind: reading.OpenCircuit}.With(reading.Volts, 126)); !bad || !slices.Contains(pr.Suggest, "12.6 v") {
		t.Errorf("126 V: %+v", pr)
	}
}

// TestStarterLimits checks which current is too high for which engine: 150 A a
// small petrol one, 250 A a large one, 600 A a diesel. Common practice, no source.
func TestStarterLimits(t *testing.T) {
	for _, c := range []struct {
		engine string
		litres float64
		want   school.LimitID
	}{{"petrol", 1.6, school.StarterSmall}, {"petrol", 5, school.StarterLarge}, {"diesel", 2, school.StarterDiesel}, {"", 0, school.StarterDiesel}, {"", 1.2, school.StarterSmall}} {
		if got := school.StarterMost(c.engine, c.litres); got != c.want {
			t.Errorf("%s %v l: %s", c.engine, c.litres, got)
		}
	}
}

// TestAhPutIn checks the ampere-hours of charge logs: amperes times the time
// since the check before, the current only falling, or what the charger says.
func TestAhPutIn(t *testing.T) {
	for _, c := range []struct {
		lines []string
		want  quantity.AmpereHours
		known bool
	}{
		{[]string{"charge 14.4v 6a 60min"}, 6, true},
		{[]string{"charge 14.4v 6a 60min", "charge 14.4v 4a 120min"}, 10, true},
		{[]string{"charge 14.4v 6a 60min", "charge 14.4v 4a 30min"}, 8, true}, // another charge
		{[]string{"charge 14.4v 6a 60min 5ah", "charge 14.4v 4a 120min"}, 9, true},
		{[]string{"charge 14.4v 6a 60min", "charge 14.4v 4a 120min 9ah"}, 9, true},
		{[]string{"charge 14.4v 6a"}, 0, false},
		{[]string{"12.4 v rested 2h"}, 0, false},
	} {
		ev := examined(t, rated650, c.lines...)
		got, known := AhPutIn(ev.Case, ev.Last())
		if known != c.known || math.Abs(float64(got-c.want)) > 1e-9 {
			t.Errorf("%v: %v Ah, %v", c.lines, got, known)
		}
	}
}
