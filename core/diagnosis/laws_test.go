package diagnosis

import (
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"reflect"
	"slices"
	"strings"
	"testing"
	"unicode/utf8"

	"grapnel/core/battery"
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
		want := judged.Assess(decode(t, flooded650, "", lines...))
		for range 24 {
			r.Shuffle(len(lines), func(i, j int) { lines[i], lines[j] = lines[j], lines[i] })
			got := judged.Assess(decode(t, flooded650, "", lines...))
			if got.Verdict.Action != want.Verdict.Action || got.Condition != want.Condition || deref(got.Verdict.Cause) != deref(want.Verdict.Cause) {
				t.Errorf("%v: %s, %+v; before %s", lines, got.Verdict.Action, got.Condition, want.Verdict.Action)
			}
		}
	}
}

// TestPure checks that the same case gives the same answer and is left alone.
func TestPure(t *testing.T) {
	combinations(t, func(c evidence.Case, a Assessment) {
		before := slices.Clone(c.Readings)
		first, err := json.Marshal(a)
		if err != nil {
			t.Fatal(err)
		}
		second, err := json.Marshal(judged.Assess(c))
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
	combinations(t, func(c evidence.Case, a Assessment) {
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
// verdict for the worse, nor makes a sound battery a hundredth less likely.
func TestMoreVoltsNeverWorse(t *testing.T) {
	rank := map[Action]int{Replace: 0, ChargeAndRetest: 1, MoreTests: 1, LookElsewhere: 2, Keep: 2}
	for _, rested := range []string{"12.65 v 21c rested 2h", "12.2 v 5c rested 2h", "eye green", "12.6 v rested 2h"} {
		before, sound := -1, -1.0
		for tenths := 70; tenths <= 115; tenths++ {
			c := decode(t, flooded650, "", rested, "load 325a 15s 9v")
			c.Readings[1].Reading = c.Readings[1].With(reading.Volts, float64(tenths)/10)
			a := judged.Assess(c)
			if rank[a.Verdict.Action] < before || a.Condition.Sound < sound-0.01 {
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
		c.Readings[0].Reading = c.Readings[0].With(reading.Volts, float64(hundredths)/100)
		a := judged.Assess(c)
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
			c.Readings[i].Reading = c.Readings[i].With(reading.BatteryC, float64(at))
		}
		pass := judged.Assess(c).Findings[1].Outcome == evidence.Pass
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
				c.Readings[i].Reading = r.With(reading.Volts, v*nominal/12)
			}
			c.Label.NominalV = quantity.Volts(nominal)
			if got := judged.Assess(c).Verdict.Action; string(got) != lines[2] {
				t.Errorf("%v V: %s, want %s", nominal, got, lines[2])
			}
		}
	}
}

// atPosts are the volts at a battery's posts that double with its cells.
var atPosts = []reading.Number{reading.Volts, reading.RecoveredVolts, reading.StudVolts, reading.AwakeVolts, reading.RestVolts, reading.StartVolts, reading.EndVolts}

// TestTwoInSeries checks that a 24 V battery is two of 12 V: with every voltage
// at its posts doubled, verdict, condition and charge are the same. The volts of
// joints and of the case stay as they are. Physical reason: cells in series add.
func TestTwoInSeries(t *testing.T) {
	for _, lines := range [][]string{
		{"12.65 v 21c rested 2h", "load 325a 15s 10.1v"},
		{"12.65 v 21c rested 2h", "load 325a 15s 8.9v back 11.4v"},
		{"12.24 v 18c rested 2h", "load 325a 15s 9.3v"},
		{"11.8 v rested 3h after charge"},
		{"12.6 v 20c rested 2h", "480/650 cca 12.6v", "running 13.2 v"},
		{"12.6 v 20c rested 2h", "620/650 cca", "running 15.3 v 20c", "starter 145a 10.6v stud 10.5v"},
		{"charge 12.2v 6a 8h", "look crack"},
		{"12.6 v 20c rested 2h", "dcdc 12.4v to 12.6v", "load 325a 15s 10.1v", "drop negative_clamp 0.05v 150a", "case 0.1 v"},
		{"11.9 v -20c air rested 9h"},
	} {
		one := decode(t, flooded650, "", lines...)
		two := one
		two.Label.NominalV *= 2
		two.Readings = nil
		for _, r := range one.Readings {
			for _, id := range atPosts {
				if v, ok := r.Number(id); ok && r.Kind != reading.Drop && r.Kind != reading.CaseLeak {
					r.Reading = r.With(id, 2*v)
				}
			}
			two.Readings = append(two.Readings, r)
		}
		a, b := judged.Assess(one), judged.Assess(two)
		// One cell of twelve counts half of what one of six does, and no more differs.
		near := math.Abs(a.Condition.Sound-b.Condition.Sound) < 0.02 && math.Abs(a.Condition.Damaged-b.Condition.Damaged) < 0.02
		if a.Verdict.Action != b.Verdict.Action || !near || deref(a.Verdict.Cause) != deref(b.Verdict.Cause) && a.Verdict.Action != Replace {
			t.Errorf("%v: 12 V %s %+v, 24 V %s %+v", lines, a.Verdict.Action, a.Condition, b.Verdict.Action, b.Condition)
		}
		if (a.ChargeState == nil) != (b.ChargeState == nil) || a.ChargeState != nil && a.ChargeState.Percent != b.ChargeState.Percent {
			t.Errorf("%v: charge %+v and %+v", lines, a.ChargeState, b.ChargeState)
		}
	}
}

// TestMeasuredMovesItsCause checks that a reading of the vehicle beyond its
// limit raises its cause and one within its limit lowers it.
func TestMeasuredMovesItsCause(t *testing.T) {
	of := func(cause string, lines ...string) float64 {
		for _, c := range judged.Assess(decode(t, flooded650, `,"symptom":["dies_again","slow_crank"]`, append([]string{"12.65 v 21c rested 2h"}, lines...)...)).Causes {
			if c.Cause == cause {
				return c.Probability
			}
		}
		return 0
	}
	for _, c := range []struct{ cause, bad, good string }{
		{"undercharging", "running 12.9 v", "running 14.2 v"},
		{"overcharging", "running 15.5 v 20c", "running 14.2 v"},
		{"parasitic_drain", "drain 85 ma asleep 40min", "drain 20 ma"},
		{"poor_connection", "drop negative_clamp 0.4v 150a", "drop negative_clamp 0.03v 150a"},
		{"case_leakage", "case 4.5 v", "case 0.02 v"},
		{"starter_drag", "starter 700a", "starter 140a"},
		{"short_trips", "trips 1/week 3min", "trips 10/week 60min"},
		{"accessory_left_on", "lights left on 14h", "look none"},
		{"dcdc_fault", "dcdc 12.4v to 12.5v", "dcdc 12.4v to 14.1v"},
	} {
		before, bad, good := of(c.cause), of(c.cause, c.bad), of(c.cause, c.good)
		if bad <= before || good > before || bad > 0.9999 {
			t.Errorf("%s: %v before, %v with %s, %v with %s", c.cause, before, bad, c.bad, good, c.good)
		}
	}
}

// TestRemeasured checks that of two readings of one place the later stands, and
// that those of other places stand beside it.
func TestRemeasured(t *testing.T) {
	base := []string{"12.65 v 21c rested 2h", "load 325a 15s 10.1v"}
	action := func(lines ...string) Action {
		return judged.Assess(decode(t, flooded650, "", append(slices.Clone(base), lines...)...)).Verdict.Action
	}
	for _, c := range []struct {
		lines []string
		want  Action
	}{
		{[]string{"drop negative_clamp 0.4v 150a", "drop negative_clamp 0.03v 150a"}, Keep},
		{[]string{"drop negative_clamp 0.4v 150a", "drop positive_clamp 0.03v 150a"}, CleanAndRetest},
		{[]string{"case 4.5 v", "case 0.02 v"}, Keep},
		{[]string{"running 12.9 v idle", "running 14.2 v idle"}, Keep},
		{[]string{"running 12.9 v idle", "running 14.2 v raised"}, LookElsewhere},
		{[]string{"drain 85 ma asleep 40min", "drain 20 ma asleep 60min"}, Keep},
	} {
		if got := action(c.lines...); got != c.want {
			t.Errorf("%v: %s, want %s", c.lines, got, c.want)
		}
	}
}

// TestWrongBattery checks a battery its vehicle is not made for.
func TestWrongBattery(t *testing.T) {
	for extra, want := range map[string]bool{
		`,"vehicle":{"kind":"car","start_stop":true}`: true, `,"vehicle":{"kind":"car","required_cca":760}`: true,
		`,"vehicle":{"kind":"car","required_cca":600}`: false, `,"vehicle":{"kind":"car"}`: false,
	} {
		a := judged.Assess(decode(t, flooded650, extra, "12.65 v 21c rested 2h"))
		if got := slices.ContainsFunc(a.Causes, func(c Cause) bool { return c.Cause == "wrong_battery" }); got != want {
			t.Errorf("%s: wrong battery %v", extra, got)
		}
	}
}

// BenchmarkAssessTwenty is the case the speed is promised for.
func BenchmarkAssessTwenty(b *testing.B) {
	c := decode(b, flooded650+`,"capacity_ah":65,"reserve_min":110,"sealed":false`, `,"symptom":["dies_again"]`,
		"age 4y", "trips 4/week 10min", "stood 9h 4c", "look dirty top", "level ok ok ok ok ok ok", "11.92 v rested 9h", "load 325a 15s 8.1v", "charge 14.3v 7a 60min cool",
		"charge 14.4v 6a 11h warm full", "12.64 v 15c rested 6h after charge", "sg 1265 1262 1265 1260 1262 1265 15c", "load 325a 15s 10.0v", "600/650 cca",
		"running 14.3 v idle", "running 14.2 v raised loads on", "ripple 0.04 v", "drop negative_clamp 0.06v 140a", "case 0.1 v", "drain 210 ma asleep 45min", "fuse F14 15a 0.8mv asleep 60min")
	b.ReportAllocs()
	for b.Loop() {
		judged.Assess(c)
	}
}

// TestLongJobs checks that hundreds of readings weigh as few do: every probability is
// one, and what was read five hundred times comes to the same verdict as once.
func TestLongJobs(t *testing.T) {
	for name, lines := range map[string][]string{
		"like volts":        {"12.65 v 21c rested 2h"},
		"like loads":        {"12.65 v 21c rested 2h", "load 325a 15s 10.2v"},
		"contradicting":     {"12.65 v 21c rested 2h", "load 325a 15s 10.2v", "load 325a 15s 7.2v", "640/650 cca", "310/650 cca"},
		"of the vehicle":    {"running 12.1 v", "running 15.9 v", "dcdc 12.4v to 12.4v", "ripple 0.9 v", "jumps 5 in 60d", "trips 10/week 3min"},
		"drops":             {"drop negative_clamp 0.9v 150a", "drop positive_clamp 0.01v 150a", "crank 12.3v click", "crank 7.0v 4s slow"},
		"one after another": {"12.65 v 21c rested 2h after charge", "load 325a 15s 10.2v after charge", "11.9 v rested 3h", "load 325a 15s 8.2v"},
		"cells":             {"sg 1265 1100 1265 1290 1010 1180 27c", "sg 1190 1190 1190 1190 1190 1190 27c"},
	} {
		for _, extra := range []string{"", `,"vehicle":{"kind":"electric"},"symptom":"dies_again"`} {
			var many []string
			for len(many) < 300 {
				many = append(many, lines...)
			}
			a := judged.Assess(decode(t, opens650, extra, many...))
			if path := notFinite(reflect.ValueOf(a), name); path != "" {
				t.Errorf("%s", path)
			}
			c := a.Condition
			if sum := c.Sound + c.Worn + c.DeadCell + c.Damaged; math.Abs(sum-1) > 1e-6 || len(a.Causes) == 0 {
				t.Errorf("%s: %+v sums to %g, %d causes", name, c, sum, len(a.Causes))
			}
		}
	}
	one := judged.Brief(decode(t, flooded650, "", "12.65 v 21c rested 2h", "load 325a 15s 10.2v"))
	many := judged.Brief(decode(t, flooded650, "", append([]string{"12.65 v 21c rested 2h"}, slices.Repeat([]string{"load 325a 15s 10.2v"}, 500)...)...))
	if many.Verdict.Action != one.Verdict.Action || many.Condition.Sound < 0.9 {
		t.Errorf("once %+v, five hundred times %+v", one.Condition, many.Condition)
	}
}

// notFinite is the place of the first figure in a value that is no number or has no
// end; empty where all are.
func notFinite(v reflect.Value, path string) string {
	switch v.Kind() {
	case reflect.Float64:
		if x := v.Float(); math.IsNaN(x) || math.IsInf(x, 0) {
			return fmt.Sprintf("%s is %g", path, x)
		}
	case reflect.Pointer, reflect.Interface:
		if !v.IsNil() {
			return notFinite(v.Elem(), path)
		}
	case reflect.Slice, reflect.Array:
		for i := range v.Len() {
			if bad := notFinite(v.Index(i), fmt.Sprintf("%s[%d]", path, i)); bad != "" {
				return bad
			}
		}
	case reflect.Map:
		for _, key := range v.MapKeys() {
			if bad := notFinite(v.MapIndex(key), fmt.Sprintf("%s[%v]", path, key)); bad != "" {
				return bad
			}
		}
	case reflect.Struct:
		for i := range v.NumField() {
			if bad := notFinite(v.Field(i), path+"."+v.Type().Field(i).Name); bad != "" {
				return bad
			}
		}
	}
	return ""
}

// FuzzFinite checks on any valid case that nothing the core says of it is without end
// or no number, and that all of it can be written as JSON: the verdict, the pictures
// and the account. The bytes choose label, vehicle and readings of every kind.
func FuzzFinite(f *testing.F) {
	for seed := range byte(24) {
		f.Add([]byte{seed, seed * 7, seed * 31, seed * 3, seed * 17, seed * 13, seed * 5, seed * 29, seed * 11})
	}
	f.Add([]byte{0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0})
	f.Fuzz(func(t *testing.T, data []byte) {
		c, ok := anyCase(data)
		if !ok {
			return
		}
		allFinite(t, c)
	})
}

// allFinite reports what the core says of a case that has no end, is no number or cannot be
// written as JSON.
func allFinite(t *testing.T, c evidence.Case) {
	t.Helper()
	for name, said := range map[string]any{"assessment": judged.Assess(c), "picture": judged.Draw(c), "account": judged.Explain(c), "evidence": evidence.Examine(c).Findings} {
		if bad := notFinite(reflect.ValueOf(said), name); bad != "" {
			t.Errorf("%v: %s", c.Readings, bad)
		}
		if _, err := json.Marshal(said); err != nil {
			t.Errorf("%v: %s: %v", c.Readings, name, err)
		}
	}
}

// FuzzCase takes anything for a case in JSON: it is refused by its fields, or judged to the
// end. No source: it is how the program is to behave.
func FuzzCase(f *testing.F) {
	for _, text := range []string{
		`{"as_of":"2026-11-24","battery":{"chemistry":"flooded","nominal_v":12,"rating":{"value":650,"standard":"SAE"}},"vehicle":{"kind":"car"},"symptom":["slow_crank"],"readings":[{"kind":"ocv","v":12.4,"temp_c":18,"rested":true}]}`,
		`{"battery":{"chemistry":"agm","nominal_v":6,"capacity_ah":12,"reserve_min":90},"vehicle":{"kind":"motorcycle"},"tools":["multimeter"],"readings":["load 325a 15s 9.4v","594/650 cca"],"limits":{"age_years":5}}`,
		`{"battery":{"chemistry":"flooded","nominal_v":12},"readings":["look leak"],"cleared":[{"stop":"leak","readings":[0]}]}`,
		`{"battery":null,"readings":[null]}`, `[]`, `"` + strings.Repeat("\xf7", 27) + `"`, `{"readings":1e999}`,
	} {
		f.Add(text)
	}
	for line := range strings.SplitSeq("12.4 v 18c rested 2h|load 325a 15s 9.4v|594/650 cca|sg 1.265 1.260 1.265 1.200 1.265 1.260 20c|crank 9.1v|running 14.2v|ripple 0.02 v|drop 0.2v|drain 0.03a|charge 14.2v 6.1a 90min|eye green|look frozen|age 4y|jumps 3", "|") {
		f.Add(fmt.Sprintf(`{"battery":{"chemistry":"flooded","nominal_v":12,"rating":{"value":650,"standard":"SAE"}},"vehicle":{"kind":"car"},"readings":[%q]}`, line))
	}
	f.Fuzz(func(t *testing.T, text string) {
		if len(text) > 4000 {
			return // a body that large is refused before
		}
		c, err := evidence.Decode(strings.NewReader(text))
		switch {
		case err != nil && (err.Error() == "" || !utf8.ValidString(err.Error())):
			t.Errorf("refused without a word that can be read: %q", err)
		case err == nil:
			allFinite(t, c)
		}
	})
}

// anyCase makes a valid case of some bytes: a label, a vehicle, and for each further
// pair of bytes the example of a kind of reading with one figure at the end of its
// range, or as it is.
func anyCase(data []byte) (evidence.Case, bool) {
	if len(data) < 4 {
		return evidence.Case{}, false
	}
	text := fmt.Sprintf(`{"battery":{"chemistry":%q,"nominal_v":%g`, battery.Chemistries()[int(data[0])%len(battery.Chemistries())], battery.NominalVolts()[int(data[1])%4])
	if data[2]&1 > 0 {
		text += fmt.Sprintf(`,"rating":{"value":%d,"standard":%q}`, 10+int(data[2])*11, battery.Standards()[int(data[1]/4)%len(battery.Standards())])
	}
	if data[2]&2 > 0 {
		text += fmt.Sprintf(`,"capacity_ah":%g`, 0.5+float64(data[1])*3)
	}
	if data[2]&4 > 0 {
		text += fmt.Sprintf(`,"reserve_min":%d`, 1+int(data[0])*7)
	}
	text += fmt.Sprintf(`},"vehicle":{"kind":%q},"readings":[]}`, evidence.VehicleKinds()[int(data[3])%len(evidence.VehicleKinds())])
	c, err := evidence.Decode(strings.NewReader(text))
	if err != nil {
		return c, false
	}
	for i := 4; i < len(data) && len(c.Readings) < 12; i++ {
		line := farLines[int(data[i])%len(farLines)]
		parsed, err := reading.Parse(line)
		if err != nil {
			panic(line + ": " + err.Error())
		}
		r := parsed.Reading
		r.AfterCharge = i%3 == 0 && data[i]&1 > 0
		if _, bad := evidence.CheckAgainst(c.Label, r); !bad {
			c.Readings = append(c.Readings, evidence.Taken{Reading: r})
		}
	}
	return c, true
}

// farLines are readings of every kind at the ends of what a line takes.
var farLines = []string{
	"0 v", "0 v -50c rested 0min", "16.4 v 85c rested 525600min", "12.4 v lamps 0s wait 0s", "12.4 v load 3600s wait 86400s since drive", "5.1 v rested 3h",
	"sg 1000 1000 1000 1000 1000 1000", "sg 1400 1000 1400 1000 1400 1000 -50c", "sg - - - - - -", "sg green fair red green fair red", "sg 1265 - - - - - 85c", "sg 1200 1200 1200 points -100",
	"sg - - -", "sg green red 1400", "sg 1265 1265 1265 1265 just watered", "eye green", "eye dark", "eye clear", "eye unsure", "level dry dry dry dry dry dry", "level - - -",
	"load 1a 1s 0v", "load 3000a 60s 16.4v 85c", "load 60s 0v starter", "load 40a 1s 16.4v fixed back 0v", "load 325a 15s 9.4v", "1/3000 cca", "3000/10 cca hca lifepo4 0v -50c 0.1mohm 0%", "594/650 cca",
	"crank 0v 0.1s silent", "crank 16.4v 60s normal started", "crank 9v slow no start on jump", "crank 5v chatter", "running 0 v", "running 16.4 v raised loads on 70c 525min", "running 13 v managed", "ripple 0 v", "ripple 10 v",
	"starter 1a", "starter 3000a 0v stud 0v", "starter stud 0v", "starter 16.4v stud 0v", "drop negative_clamp 0v", "drop whole_positive 5v 1a", "drop charge_positive 0v 3000a charging", "drop ground_strap 0.1v 150a",
	"drain 0 ma", "drain 60 a clamp asleep 0min", "drain 85 ma asleep 40min series", "fuse F1 5a 0mv", "fuse 30a 500mv asleep 60min", "fuse F2 7.5a 0.1mv", "case 0 v", "case 16 v", "look none", "look crack", "look corrosion both heavy", "look hot", "look hiss",
	"look frozen", "look dirty_top light", "look belt", "age 0y", "age 40y", "jumps 0", "jumps 400 in 1d", "stood 0h -50c", "stood 720h 50c", "stood -6c", "standing 0d", "standing 3000d", "trips 0/week 0min", "trips 200/week 600min", "trips 9min", "lights left on 0h",
	"dcdc 0v to 0v 0s", "dcdc 16v to 16v 60s", "dcdc to 13.9v", "reserve 0.2a 0.5min 0v", "reserve 500a 1min 16v to 10.5v", "reserve 25a 3000min 12.6v to 10.5v", "reserve 10a 90min 12.6v to 11.9v 20c", "charge 0v 0a", "charge 16.4v 100a 10000min hot 85c gas 1000ah full", "charge 14.2v 6a 30min cool no gas",
	"halves 12.7v 10.6v rested 3h after charge", "halves 0v 0v", "-12.1 v", "0.1 v rested 1h", "running 14.2 v 500a", "running 12 v -500a",
	"charge 12.2v 6a 8h", "jump started pack", "jump no vehicle",
}

// TestFarLines checks that every kind of reading stands among them, and that each is
// taken.
func TestFarLines(t *testing.T) {
	seen := map[reading.Kind]bool{}
	for _, line := range farLines {
		parsed, err := reading.Parse(line)
		if err != nil {
			t.Errorf("%s: %v", line, err)
		}
		seen[parsed.Reading.Kind] = true
	}
	for _, kind := range reading.Kinds() {
		if !seen[reading.Kind(kind)] {
			t.Errorf("no %s", kind)
		}
	}
}
