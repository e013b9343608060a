package trail

import (
	"slices"
	"strings"
	"testing"

	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/safety"
	"grapnel/core/wording"
)

// judged is shared by the tests: it keeps the labels it has calibrated.
var judged = diagnosis.New()

const (
	flooded650 = `{"chemistry":"flooded","nominal_v":12,"rating":{"value":650,"standard":"SAE"}`
	lithium    = `{"chemistry":"lifepo4","nominal_v":12`
)

// decode reads a case of a battery, more of it, and its readings as lines.
func decode(t *testing.T, battery, extra string, lines ...string) evidence.Case {
	t.Helper()
	var list []string
	for _, l := range lines {
		list = append(list, `"`+l+`"`)
	}
	c, err := evidence.Decode(strings.NewReader(`{"battery":` + battery + `}` + extra + `,"readings":[` + strings.Join(list, ",") + `]}`))
	if err != nil {
		t.Fatalf("%s %v: %v", extra, lines, err)
	}
	return c
}

// situation is a case with everything the steps depend on.
func situation(t *testing.T, battery, extra string, seating Mounting, lines ...string) *Situation {
	t.Helper()
	c := decode(t, battery, extra, lines...)
	ev := evidence.Examine(c)
	return &Situation{Case: c, Mounting: seating, Purpose: Repair, Assessment: judged.Assess(c), Safety: safety.StateOf(ev), Plan: diagnosis.PlanLoad(ev), Answers: map[string]Answer{}}
}

// codes lists the steps of a stage.
func codes(s *Situation, stage string) []string {
	var out []string
	for _, step := range Steps(s, stage) {
		out = append(out, step.Code)
	}
	return out
}

func states(c evidence.Case, closed bool) string {
	var out []string
	for _, s := range Stages(c, judged.Assess(c), Repair, closed) {
		out = append(out, s.State)
	}
	return strings.Join(out, " ")
}

// TestTrail checks how far each case has come: arrive, look, charge state,
// charge, crank power, vehicle, decide, finish.
func TestTrail(t *testing.T) {
	for _, c := range []struct {
		lines  []string
		closed bool
		want   string
	}{
		{nil, false, "done open open open open open open open"},
		{[]string{"look none"}, false, "done done open open open open open open"},
		{[]string{"eye dark"}, false, "done done done waits open open waits open"},
		{[]string{"13.05 v since charge"}, false, "done open waits open open open open open"},
		{[]string{"12.24 v rested 2h"}, false, "done open done waits open open waits open"},
		{[]string{"12.24 v 18c rested 2h", "load 325a 15s 9.3v"}, false, "done open done waits waits open waits open"},
		{[]string{"12.65 v 18c rested 2h"}, false, "done open done not_needed open open open open"},
		{[]string{"12.65 v 21c rested 2h", "load 325a 15s 8.9v"}, false, "done open done not_needed done open done open"},
		{[]string{"12.65 v 21c rested 2h", "load 325a 15s 9.9v"}, true, "done open done not_needed done open done done"},
		{[]string{"12.2 v 21c rested 2h", "load 325a 15s 9.9v"}, false, "done open done open done waits done open"},
		{[]string{"12.24 v 18c rested 2h", "12.6 v 18c rested 2h after charge"}, false, "done open done done open open open open"},
		{[]string{"look crack"}, false, "done done open barred barred open done open"},
		{[]string{"look corrosion heavy"}, false, "done done open open open open waits open"},
	} {
		if got := states(decode(t, flooded650, "", c.lines...), c.closed); got != c.want {
			t.Errorf("%v: %s, want %s", c.lines, got, c.want)
		}
	}
}

// TestTrailOfTheVehicle checks what the trail says of charge and vehicle.
func TestTrailOfTheVehicle(t *testing.T) {
	state := func(code string, lines ...string) Stage {
		c := decode(t, flooded650+`,"capacity_ah":65`, `,"symptom":"dies_again"`, lines...)
		trail := Stages(c, judged.Assess(c), Repair, false)
		return trail[slices.IndexFunc(trail, func(s Stage) bool { return s.Code == code })]
	}
	passed := []string{"12.65 v 21c rested 2h", "load 325a 15s 10.1v"}
	for _, c := range []struct {
		code  string
		lines []string
		state string
		says  string
	}{
		{StageVehicle, nil, "open", "not yet"},
		{StageVehicle, passed, "waits", "find the cause"},
		{StageVehicle, append(slices.Clone(passed), "drain 85 ma asleep 40min"), "done", "drain at rest"},
		{StageVehicle, []string{"running 14.2 v", "ripple 0.02 v"}, "done", "2 measured"},
		{StageVehicle, []string{"drain 85 ma"}, "open", "not yet"},
		{StageOnShelf, []string{"11.9 v rested 5h", "charge 14.4v 6a 60min"}, "waits", "14.40"},
		{StageOnShelf, []string{"11.9 v rested 5h", "charge 14.4v 6a 60min", "12.6 v rested 3h after charge"}, "done", "charged in full"},
		{StageOnShelf, []string{"charge 14.4v 6a 60min hot"}, "barred", "stopped"},
	} {
		if got := state(c.code, c.lines...); got.State != c.state || !strings.Contains(got.Text.Text, c.says) {
			t.Errorf("%v: %s is %s, %q", c.lines, c.code, got.State, got.Text.Text)
		}
	}
}

// TestSettings walks each setting of the trade and checks that it brings its own
// steps and leaves out those of others. Handbook of the trade, section 1, common
// practice, no source.
func TestSettings(t *testing.T) {
	car := `,"vehicle":{"kind":"car","engine":"petrol"}`
	for _, c := range []struct {
		name, battery, extra string
		seating              Mounting
		want, not            []string
	}{
		{"car, top posts", flooded650, car, Mounting{Bonnet, TopPosts, Alone}, []string{"glasses", "still", "look_strap", "knob_off", "load_on", "run_idle", "starter_amps", "hold_down", "keys"}, []string{"side_adapters", "orange", "dcdc", "vent_tube", "isolate", "run_coil"}},
		{"side terminals", flooded650, car, Mounting{Posts: SidePosts}, []string{"look_mat", "side_adapters", "crank_adapters"}, []string{"vent_tube"}},
		{"battery in the boot", flooded650, car, Mounting{Where: Boot}, []string{"look_vent", "own_posts", "vent_tube"}, []string{"key_blade"}},
		{"start-stop with a plain battery", flooded650, `,"vehicle":{"kind":"car","start_stop":true}`, Mounting{}, []string{"look_efb", "run_managed"}, nil},
		{"two in parallel", flooded650, `,"vehicle":{"kind":"truck","engine":"diesel"}`, Mounting{Joined: Parallel}, []string{"two_parallel", "look_same", "isolate", "crank_alone", "charge_both", "joined_again"}, []string{"bank_alone"}},
		{"hybrid, locked", `{"chemistry":"agm","nominal_v":12`, `,"vehicle":{"kind":"hybrid"},"symptom":"locked_out"`, Mounting{Where: Boot}, []string{"orange", "key_blade", "feed_front", "outside_lead", "fob_cell", "asleep_first", "aux_only", "dcdc"}, []string{"run_idle", "ripple", "starter_amps", "drops", "surface"}},
		{"electric", `{"chemistry":"agm","nominal_v":12`, `,"vehicle":{"kind":"electric"}`, Mounting{}, []string{"orange", "dcdc", "sleep"}, []string{"look_belt", "crank_volts", "key_blade"}},
		{"motorcycle", `{"chemistry":"agm","nominal_v":12,"capacity_ah":10`, `,"vehicle":{"kind":"motorcycle"}`, Mounting{}, []string{"look_strip", "charge_out", "charge_rate", "strip"}, []string{"each_cell", "caps"}},
		{"mower with caps", flooded650 + `,"sealed":false`, `,"vehicle":{"kind":"mower"}`, Mounting{}, []string{"charge_coil", "run_coil", "look_level", "each_cell", "plates_covered", "caps"}, []string{"charge_out"}},
		{"six volts, positive earth", `{"chemistry":"flooded","nominal_v":6,"rating":{"value":400,"standard":"SAE"}`, `,"vehicle":{"kind":"classic","earth":"positive"}`, Mounting{}, []string{"earth_words", "other_volts", "dynamo", "run_dynamo", "run_raised"}, []string{"run_idle", "ripple"}},
		{"bank", flooded650, `,"vehicle":{"kind":"none"}`, Mounting{Joined: Bank}, []string{"bank_alone", "isolate", "no_vehicle"}, []string{"still", "keys", "run_idle"}},
		{"lithium", lithium, `,"vehicle":{"kind":"motorcycle"}`, Mounting{}, []string{"lithium_record", "charge_lithium", "crank_lithium"}, []string{"load_on", "surface", "charge_rate", "full_charge"}},
		{"24 V", `{"chemistry":"flooded","nominal_v":24`, car, Mounting{}, []string{"in_series"}, []string{"other_volts"}},
	} {
		s := situation(t, c.battery, c.extra, c.seating)
		var all []string
		for _, stage := range Stages(s.Case, s.Assessment, Repair, false) {
			all = append(all, codes(s, stage.Code)...)
		}
		for _, code := range c.want {
			if !slices.Contains(all, code) {
				t.Errorf("%s: step %s is missing", c.name, code)
			}
		}
		for _, code := range c.not {
			if slices.Contains(all, code) {
				t.Errorf("%s: step %s does not belong", c.name, code)
			}
		}
	}
}

// TestPurposes checks what stock and a purchase ask for.
func TestPurposes(t *testing.T) {
	s := situation(t, flooded650, "", Mounting{Where: Bench})
	for purpose, want := range map[string]string{Purchase: "before_buying", Stock: "shelf_age"} {
		s.Purpose = purpose
		if got := codes(s, StageArrive); !slices.Contains(got, want) || slices.Contains(got, "see_it") {
			t.Errorf("%s: %v", purpose, got)
		}
	}
}

// TestStorage checks the trails into storage and out of it, of new stock and of a purchase: what
// they ask for in words, and which points readings close. A test that counts for nothing closes
// none.
func TestStorage(t *testing.T) {
	car := `,"vehicle":{"kind":"car"}`
	doubtful := []string{"12.1 v 18c rested 2h", "load 325a 15s 8.9v"}
	good := []string{"12.1 v 18c rested 2h", "12.66 v 18c rested 3h after charge", "load 325a 15s 10.1v"}
	for _, c := range []struct {
		name, purpose  string
		readings       []string
		open, closed   []string
		arrives, never string
	}{
		{"in, doubtful", BeforeStorage, doubtful, []string{"store_tested", "store_noted", "store_greased", "store_vehicle", "store_away", "full_charge"}, nil, "to_store", "first_start"},
		{"in, charged and passed", BeforeStorage, good, []string{"store_greased", "store_away"}, []string{"store_tested", "store_noted", "full_charge"}, "to_store", "cause"},
		{"out", AfterStorage, good, []string{"first_start", "vehicle_again"}, []string{"full_charge"}, "from_store", "store_away"},
		{"out and started", AfterStorage, append(slices.Clone(good), "running 14.2 v"), []string{"vehicle_again"}, []string{"first_start"}, "from_store", "cause"},
		{"new stock", Stock, good[:2], []string{"store_tested", "oldest_first"}, nil, "shelf_age", "store_away"},
		{"second-hand on volts alone", Purchase, good[:1], []string{"bought_cells", "bought_load"}, []string{"bought_volts"}, "before_buying", "store_tested"},
		{"second-hand, all of it", Purchase, append(slices.Clone(good), "sg 1265 1265 1260 1265 1260 1265 18c"), nil, []string{"bought_volts", "bought_cells", "bought_load"}, "before_buying", "oldest_first"},
	} {
		s := situation(t, flooded650+`,"sealed":false`, car, Mounting{}, c.readings...)
		s.Purpose = c.purpose
		if !slices.Contains(codes(s, StageArrive), c.arrives) {
			t.Errorf("%s: it does not say %s", c.name, c.arrives)
		}
		open := map[string]bool{}
		for _, step := range Unanswered(s) {
			open[step.Code] = true
		}
		all := codes(s, StageFinish)
		for _, code := range c.open {
			if !open[code] {
				t.Errorf("%s: %s is not open: %v", c.name, code, open)
			}
		}
		for _, code := range c.closed {
			if open[code] || !slices.Contains(all, code) {
				t.Errorf("%s: %s is not closed by its readings: %v", c.name, code, all)
			}
		}
		if slices.Contains(all, c.never) {
			t.Errorf("%s: %s does not belong", c.name, c.never)
		}
	}
}

// TestQuickLook checks the short trail: few steps, no charge and no search on the
// vehicle, until something found asks for them.
func TestQuickLook(t *testing.T) {
	car := `,"vehicle":{"kind":"car"},"symptom":"preventive"`
	s := situation(t, flooded650, car, Mounting{}, "look none", "12.66 v 18c rested 2h", "load 325a 15s 10.1v")
	s.Purpose = QuickLook
	steps := 0
	for _, stage := range Stages(s.Case, s.Assessment, QuickLook, false) {
		steps += len(Steps(s, stage.Code))
		if want := stage.Code == StageOnShelf || stage.Code == StageVehicle; want != (stage.State == "not_needed") {
			t.Errorf("%s is %s", stage.Code, stage.State)
		}
	}
	if steps > 18 || len(Unanswered(s)) != 3 {
		t.Errorf("%d steps, %d points before the keys", steps, len(Unanswered(s)))
	}
	low := situation(t, flooded650, car, Mounting{}, "12.1 v 18c rested 2h")
	for _, stage := range Stages(low.Case, low.Assessment, QuickLook, false) {
		if stage.Code == StageOnShelf && stage.State != "waits" {
			t.Errorf("a flat battery needs no charge: %s", stage.State)
		}
	}
}

// TestStepStates checks that readings do steps, hands tick the others, and a stop
// rule closes what it forbids.
func TestStepStates(t *testing.T) {
	car := `,"vehicle":{"kind":"car"}`
	state := func(s *Situation, stage, code string) Step {
		for _, step := range Steps(s, stage) {
			if step.Code == code {
				return step
			}
		}
		t.Fatalf("no step %s", code)
		return Step{}
	}
	s := situation(t, flooded650, car, Mounting{}, "12.66 v 18c rested 2h", "load 325a 15s 10.1v")
	s.Answers["knob_off"] = Answer{Value: Done, By: "Mara"}
	for code, want := range map[string]string{"knob_off": Done, "surface_off": Done, "load_on": Done, "load_cool": "open"} {
		if got := state(s, StageCrank, code); got.State != want || got.Measured != (code == "surface_off" || code == "load_on") {
			t.Errorf("%s is %s, measured %v", code, got.State, got.Measured)
		}
	}
	if got := state(s, StageCrank, "load_on"); got.Line != "load 325A 15s " || !strings.Contains(got.Text.Text, "325") || got.Clock != Load {
		t.Errorf("the load is prepared as %q, %s", got.Line, got.Text.Text)
	}
	stopped := situation(t, flooded650, car, Mounting{}, "look crack")
	for _, step := range Steps(stopped, StageCrank) {
		if step.State != "barred" {
			t.Errorf("%s is %s on a cracked battery", step.Code, step.State)
		}
	}
	if got := state(stopped, StageVehicle, "drain"); got.State == "barred" {
		t.Error("measuring a drain is not forbidden")
	}
}

// TestCautionsBeforeSteps checks that what can hurt stands in front of its step.
func TestCautionsBeforeSteps(t *testing.T) {
	s := situation(t, flooded650+`,"sealed":false`, `,"vehicle":{"kind":"car"},"school":"starter_9v6"`, Mounting{})
	want := map[string]string{
		"glasses": "acid", "still": "vehicle-moves", "plates_covered": "plates-dry", "charge_order": "spark",
		"no_start": "cranking-limit", "run_idle": "exhaust", "crank_volts": "vehicle-moves", "drain": "electronics",
	}
	for _, stage := range Stages(s.Case, s.Assessment, Repair, false) {
		for _, step := range Steps(s, stage.Code) {
			caution := want[step.Code]
			delete(want, step.Code)
			if caution != "" && !slices.ContainsFunc(step.Cautions, func(c CautionText) bool { return string(c.ID) == caution && c.Text != "" }) {
				t.Errorf("%s has no caution %s", step.Code, caution)
			}
		}
	}
	if len(want) > 0 {
		t.Errorf("steps not found: %v", want)
	}
	if first := Steps(s, StageArrive)[0].Code; first != "glasses" {
		t.Errorf("the first step is %s", first)
	}
}

// TestEverythingHasWords checks that every step, question, clock and option has
// its sentence with all its figures, and that every line of an answer is read.
func TestEverythingHasWords(t *testing.T) {
	for _, code := range StepCodes() {
		if !wording.Has("step." + code) {
			t.Errorf("step %s has no words", code)
		}
	}
	for _, code := range OptionCodes() {
		if !wording.Has("option."+code) || !wording.Has("proves."+code) {
			t.Errorf("option %s has no words", code)
		}
	}
	s := situation(t, flooded650+`,"capacity_ah":65,"sealed":false`, `,"vehicle":{"kind":"car"}`, Mounting{})
	for _, kind := range Clocks() {
		c, ok := ClockOf(s, kind)
		if !ok || c.Seconds <= 0 || strings.Contains(c.Text.Text+c.Rings.Text, "⟨") {
			t.Errorf("clock %s: %+v", kind, c)
		}
	}
	for _, q := range Questions(s) {
		for _, choice := range q.Choices {
			if _, err := reading.Parse(choice.Line); err != nil || strings.Contains(choice.Text, "⟨") {
				t.Errorf("%s: %q reads %q: %v", q.Code, choice.Text, choice.Line, err)
			}
		}
	}
	for _, stage := range Stages(s.Case, s.Assessment, Repair, false) {
		for _, step := range Steps(s, stage.Code) {
			if strings.Contains(step.Text.Text, "⟨") || strings.Contains(step.Text.Text, "<nil>") {
				t.Errorf("%s says %q", step.Code, step.Text.Text)
			}
		}
	}
}

// TestQuestionsAreTold checks that an answer given once is not asked again.
func TestQuestionsAreTold(t *testing.T) {
	s := situation(t, flooded650, `,"vehicle":{"kind":"car"}`, Mounting{}, "age 5y", "stood 8h -6c")
	for _, q := range Questions(s) {
		if want := q.Code == "age" || q.Code == "stood"; q.Told != want {
			t.Errorf("%s told: %v", q.Code, q.Told)
		}
	}
	if bench := Questions(situation(t, flooded650, "", Mounting{})); len(bench) != 2 {
		t.Errorf("a battery by itself is asked %d questions", len(bench))
	}
}

// TestClocks checks the waits against the handbook of the trade: an hour of rest,
// 2 min of lamps, 15 s of load (20 in the classic school), 30 min until a car
// sleeps, 2 an electric one, half an hour between checks. Common practice, no source.
func TestClocks(t *testing.T) {
	car := situation(t, flooded650, `,"vehicle":{"kind":"car"}`, Mounting{})
	electric := situation(t, flooded650, `,"vehicle":{"kind":"electric"}`, Mounting{})
	classic := situation(t, flooded650, `,"vehicle":{"kind":"car"},"school":"starter_10v"`, Mounting{})
	for _, c := range []struct {
		s       *Situation
		kind    string
		seconds float64
		then    string
	}{
		{car, Rest, 3600, ""}, {car, Lamps, 120, LampsWait}, {car, Load, 15, ""}, {classic, Load, 20, ""},
		{car, Sleep, 1800, ""}, {electric, Sleep, 120, ""}, {car, ChargeCheck, 1800, ""}, {car, StarterCool, 120, ""}, {car, CrankRest, 60, ""},
	} {
		got, _ := ClockOf(c.s, c.kind)
		if then, _ := Follows(c.kind); float64(got.Seconds) != c.seconds || then != c.then {
			t.Errorf("%s: %g s, then %q", c.kind, float64(got.Seconds), then)
		}
	}
	if _, ok := ClockOf(car, "tea"); ok {
		t.Error("there is no clock for tea")
	}
}

// TestStartedBy checks which kept reading sets which clock going, and that one
// needs no more waiting.
func TestStartedBy(t *testing.T) {
	for _, c := range []struct{ line, want string }{
		{"12.9 v since drive", Rest}, {"12.9 v since charge", Rest}, {"12.5 v rested 2h", ""}, {"charge 14.2v 6a 90min", ChargeCheck},
		{"charge 14.4v 1a 8h full", ""}, {"load 325a 15s 9.4v", LoadCool}, {"load 15s 9.8v starter", StarterCool}, {"crank 9.1v slow", CrankRest},
		{"drain 3a asleep 2min", Sleep}, {"drain 30ma asleep 40min", ""}, {"look none", ""},
	} {
		s := situation(t, flooded650+`,"capacity_ah":65`, `,"vehicle":{"kind":"car"}`, Mounting{}, c.line)
		got, ok := StartedBy(s, s.Case.Readings[0].Reading, s.Assessment.Findings[0])
		if want := c.want != ""; ok != want || ok && got != c.want {
			t.Errorf("%s starts %q, %v", c.line, got, ok)
		}
	}
}

// TestSaying checks that what a clock adds is read as a reading's own words.
func TestSaying(t *testing.T) {
	for _, c := range []struct {
		kind    string
		seconds float64
		want    string
	}{
		{Rest, 3600, "12.5 v rested 60min"}, {Rest, 50, "12.5 v "}, {LampsWait, 40, "12.5 v lamps 2min wait 40s"}, {LampsWait, 5, "12.5 v "}, {Load, 15, "12.5 v "},
	} {
		got := "12.5 v " + Saying(c.kind, quantity.Seconds(c.seconds))
		if got != c.want {
			t.Errorf("%s after %g s: %q", c.kind, c.seconds, got)
		}
		if _, err := reading.Parse(strings.TrimSpace(got)); err != nil {
			t.Errorf("%q is not read: %v", got, err)
		}
	}
	if got := "drain 30ma " + Saying(Sleep, 1500); got != "drain 30ma asleep 25min" {
		t.Error(got)
	}
}

// TestClosingList checks that the keys do not go back before each point is
// answered, and that not done with a reason is an answer.
func TestClosingList(t *testing.T) {
	s := situation(t, flooded650+`,"sealed":false`, `,"vehicle":{"kind":"car"},"symptom":"dies_again"`, Mounting{Where: Boot}, "12.66 v 18c rested 2h", "load 325a 15s 10.1v")
	open := Unanswered(s)
	if len(open) < 8 {
		t.Fatalf("%d points are open", len(open))
	}
	for i, step := range open {
		s.Answers[step.Code] = Answer{Value: []string{Done, NotNeeded, NotDone}[i%3]}
	}
	if left := Unanswered(s); len(left) != 0 {
		t.Errorf("still open: %+v", left)
	}
	if slices.ContainsFunc(open, func(step Step) bool { return step.Code == "full_charge" }) {
		t.Error("a battery that rests at full is asked for a charge")
	}
}

// TestResets checks the customer's list: nothing where nothing was disconnected.
func TestResets(t *testing.T) {
	car := `,"vehicle":{"kind":"car","start_stop":true}`
	kept := situation(t, flooded650, car, Mounting{}, "12.66 v 18c rested 2h", "load 325a 15s 10.1v")
	if got := Resets(kept); len(got) != 0 {
		t.Errorf("nothing was off, and still %v", got)
	}
	worn := situation(t, flooded650, car, Mounting{}, "12.66 v 21c rested 2h", "load 325a 15s 8.2v")
	if got := Resets(worn); len(got) != 6 {
		t.Errorf("%d to set again", len(got))
	}
	if got := codes(worn, StageFinish); !slices.Contains(got, "register") || !slices.Contains(got, "resets") {
		t.Errorf("closing list %v", got)
	}
}

// TestOptions checks that every verdict leaves a choice and says what each proves.
func TestOptions(t *testing.T) {
	for _, c := range []struct {
		lines []string
		first string
	}{
		{[]string{"look crack"}, "replace"}, {[]string{"12.24 v 18c rested 2h"}, "charge"}, {nil, "more_tests"},
		{[]string{"12.66 v 21c rested 2h", "load 325a 15s 8.2v"}, "replace"}, {[]string{"look corrosion heavy"}, "clean"},
	} {
		s := situation(t, flooded650, `,"vehicle":{"kind":"car"}`, Mounting{}, c.lines...)
		got := Options(s)
		if len(got) < 2 || got[0].Code != c.first || got[1].Proves.Text == "" {
			t.Errorf("%v: %+v", c.lines, got)
		}
	}
}

// TestWatch checks what the customer is told to watch.
func TestWatch(t *testing.T) {
	s := situation(t, flooded650, `,"vehicle":{"kind":"car"},"symptom":"dies_again"`, Mounting{}, "12.2 v 21c rested 2h", "load 325a 15s 9.9v", "drain 210ma asleep 45min")
	s.Answers["cause"] = Answer{Value: NotDone}
	var told []string
	for _, w := range Watch(s) {
		told = append(told, w.Code)
	}
	if !slices.Contains(told, "watch.parasitic_drain") || !slices.Contains(told, "watch.cause_unknown") {
		t.Errorf("watch %v", told)
	}
}

// TestTestsOfTheVehicle checks the order of the tests of a vehicle: what is wanted next
// stands first, with what prepares it before it, and the rest in working order. Common
// practice, no source.
func TestTestsOfTheVehicle(t *testing.T) {
	s := &Situation{Case: evidence.Case{Vehicle: evidence.Vehicle{Kind: "car"}}, Answers: map[string]Answer{}}
	codes := func() []string {
		var list []string
		for _, step := range Steps(s, StageVehicle) {
			list = append(list, step.Code)
		}
		return list
	}
	before := codes()
	s.Assessment.Next = []diagnosis.Next{{Test: "open_circuit"}, {Test: "fuses"}, {Test: "crank"}}
	after := codes()
	if got := after[:3]; !slices.Equal(got, []string{"sleep", "drain", "crank_volts"}) {
		t.Errorf("the list begins with %v", got)
	}
	rest := slices.DeleteFunc(slices.Clone(before), func(code string) bool { return slices.Contains(after[:3], code) })
	if !slices.Equal(after[3:], rest) {
		t.Errorf("then %v, in working order %v", after[3:], rest)
	}
}
