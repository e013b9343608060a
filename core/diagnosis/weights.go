package diagnosis

import (
	"math"
	"slices"
	"sort"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// odds weigh the four conditions: sound, worn, dead cell, damaged.
type odds [4]float64

// prior is what batteries that come in are like before anything is measured:
// most are only discharged, dirty or badly connected (common practice, no
// source; figures from memory).
var prior = odds{0.72, 0.20, 0.05, 0.03}

// likelihoods is how likely each kind of evidence is under each condition,
// coarse and from memory, until the engine computes them from the twin. A
// failed test of a discharged battery hardly speaks against it.
var likelihoods = map[string]odds{
	"load_pass":          {1, 0.05, 0.05, 0.3},
	"load_fail":          {0.03, 1, 1, 1},
	"load_fail_unproven": {0.6, 1, 1, 1},
	"cond_pass":          {1, 0.2, 0.15, 0.5},
	"cond_weak":          {0.35, 1, 0.8, 0.8},
	"cond_fail":          {0.06, 1, 1, 1},
	"cond_fail_unproven": {0.7, 1, 1, 1},
	"dead_after_charge":  {0.01, 0.5, 1, 0.3},
	"missing_cell":       {0.4, 0.5, 5, 0.6},
	"damage_seen":        {0.01, 0.01, 0.01, 1},
	"eye_clear":          {0.05, 0.2, 0.1, 1},
	"frost":              {0.3, 0.4, 0.3, 1},
}

// findingOdds are the likelihoods of findings by their code, the same way:
// coarse and from memory. Age alone hardly weighs.
var findingOdds = map[string]odds{
	"finding.gravity_even":       {1, 0.9, 0.15, 0.6},
	"finding.gravity_uneven":     {0.7, 1, 0.7, 0.7},
	"finding.gravity_apart":      {0.005, 0.08, 1, 0.2},
	"finding.gravity_apart_low":  {0.5, 0.6, 1, 0.6},
	"finding.reserve_good":       {1, 0.3, 0.1, 0.3},
	"finding.reserve_pass":       {1, 0.5, 0.2, 0.4},
	"finding.reserve_weak":       {0.3, 1, 0.5, 0.4},
	"finding.reserve_fail":       {0.02, 1, 0.6, 0.3},
	"finding.log_low":            {0.04, 0.08, 1, 0.2},
	"finding.log_full_early":     {0.35, 1, 0.5, 0.5},
	"finding.log_too_much":       {0.35, 0.8, 1, 0.6},
	"finding.crank_low":          {0.5, 1, 1, 0.8},
	"finding.history_jumps_many": {0.6, 1, 1, 0.9},
	"finding.history_age_young":  {1, 0.6, 0.9, 0.9},
	"finding.history_age_old":    {0.85, 1, 1, 1},
}

// findingHints is how likely a cause is from one finding that counts, by the
// finding's code. Common practice for the direction, figures from memory.
var findingHints = map[string]map[string]float64{
	"finding.charging_low":          {"undercharging": 0.88},
	"finding.charging_high":         {"overcharging": 0.92},
	"finding.ripple_bad":            {"undercharging": 0.80},
	"finding.ripple_suspect":        {"undercharging": 0.35},
	"finding.dcdc_low":              {"dcdc_fault": 0.92},
	"finding.dcdc_slow":             {"dcdc_fault": 0.50},
	"finding.dcdc_high":             {"overcharging": 0.85, "dcdc_fault": 0.60},
	"finding.drain_high":            {"parasitic_drain": 0.92},
	"finding.drain_high_fuse":       {"parasitic_drain": 0.92},
	"finding.drain_unsaid":          {"parasitic_drain": 0.50},
	"finding.drain_unsaid_fuse":     {"parasitic_drain": 0.50},
	"finding.drain_awake":           {"parasitic_drain": 0.25},
	"finding.case_dirty":            {"case_leakage": 0.70},
	"finding.case_filthy":           {"case_leakage": 0.88},
	"finding.starter_high":          {"starter_drag": 0.85},
	"finding.starter_low":           {"poor_connection": 0.60},
	"finding.starter_stud_low":      {"poor_connection": 0.85},
	"finding.starter_stud":          {"starter_drag": 0.30},
	"finding.drop_high":             {"poor_connection": 0.90},
	"finding.drop_high_ohms":        {"poor_connection": 0.92},
	"finding.crank_slow":            {"starter_drag": 0.50, "poor_connection": 0.35},
	"finding.crank_nothing":         {"poor_connection": 0.45, "key_or_interlock": 0.40, "starter_drag": 0.30},
	"finding.jump_no":               {"starter_drag": 0.35, "poor_connection": 0.30, "engine_fault": 0.30},
	"finding.history_left_on":       {"accessory_left_on": 0.92},
	"finding.history_jumps_many":    {"undercharging": 0.20, "parasitic_drain": 0.20, "over_cranking": 0.10},
	"finding.history_trips_lose":    {"short_trips": 0.80},
	"finding.history_trips_even":    {"short_trips": 0.35},
	"finding.history_standing_long": {"storage": 0.75},
	"finding.log_high":              {"overcharging": 0.40},
	"finding.level_low":             {"overcharging": 0.25},
	"finding.level_dry":             {"overcharging": 0.45},
}

// findingDenials is what is left of a cause's likelihood once a finding speaks
// against it. Figures from memory.
var findingDenials = map[string]map[string]float64{
	"finding.charging_ok":        {"undercharging": 0.12, "overcharging": 0.3},
	"finding.ripple_good":        {"undercharging": 0.8},
	"finding.dcdc_ok":            {"dcdc_fault": 0.08, "undercharging": 0.08},
	"finding.drain_ok":           {"parasitic_drain": 0.08},
	"finding.case_clean":         {"case_leakage": 0.1},
	"finding.starter_ok":         {"starter_drag": 0.25},
	"finding.drop_ok":            {"poor_connection": 0.6},
	"finding.drop_ok_ohms":       {"poor_connection": 0.6},
	"finding.crank_ok":           {"starter_drag": 0.4, "poor_connection": 0.6, "key_or_interlock": 0.3},
	"finding.jump_started":       {"starter_drag": 0.2, "engine_fault": 0.2, "key_or_interlock": 0.1},
	"finding.history_trips_hold": {"short_trips": 0.15},
	"finding.look_none":          {"poor_connection": 0.7},
}

// vehicleKinds are the readings taken of the vehicle.
var vehicleKinds = []reading.Kind{
	reading.Crank, reading.Charging, reading.Ripple, reading.StarterDraw, reading.Drop, reading.Drain, reading.DCDC, reading.Jump,
}

// vehicleFaults are valid readings of the vehicle that say what else is at
// fault, likelier than not.
func (f facts) vehicleFaults() []int {
	var list []int
	for _, finding := range f.standing {
		if !finding.Valid || !slices.Contains(vehicleKinds, finding.Kind) {
			continue
		}
		for _, p := range findingHints[finding.Text.Code] {
			if p >= 0.5 {
				list = append(list, finding.Reading)
				break
			}
		}
	}
	return list
}

// codesOf are the codes of all a finding says.
func codesOf(finding evidence.Finding) []string {
	codes := make([]string, 0, 1+len(finding.More))
	codes = append(codes, finding.Text.Code)
	for _, more := range finding.More {
		codes = append(codes, more.Code)
	}
	return codes
}

// weigh multiplies the prior with what was found, once a kind of evidence: two
// fails of a discharged battery are one error counted once.
func weigh(f facts) Condition {
	o := prior
	times := func(row odds) {
		for k := range o {
			o[k] *= row[k]
		}
	}
	for _, name := range f.evidenceNames() {
		times(likelihoods[name])
	}
	counted := map[string]bool{}
	for _, finding := range f.standing {
		for _, code := range codesOf(finding) {
			if row, ok := findingOdds[code]; ok && !counted[code] {
				counted[code] = true
				times(row)
			}
		}
	}
	sum := o[0] + o[1] + o[2] + o[3]
	return Condition{o[0] / sum, o[1] / sum, o[2] / sum, o[3] / sum}
}

// evidenceNames lists the rows of the likelihood table that apply.
func (f facts) evidenceNames() []string {
	var names []string
	add := func(applies bool, name string) {
		if applies {
			names = append(names, name)
		}
	}
	// A bad cell and lost capacity pass a load and a tester: a pass says nothing
	// against them.
	seen := f.apart < 0 && f.reserveFail < 0
	add(len(f.loadPass) > 0 && seen, "load_pass")
	add(len(f.loadFail) > 0, "load_fail")
	add(len(f.condPass) > 0 && seen, "cond_pass")
	add(len(f.condWeak) > 0, "cond_weak")
	add(len(f.condFail) > 0, "cond_fail")
	if len(f.unproven) > 0 && len(f.loadPass) == 0 {
		// Whichever was taken first, the load speaks louder.
		load := slices.ContainsFunc(f.unproven, func(i int) bool { return f.ev.Findings[i].Kind == reading.Load })
		add(load, "load_fail_unproven")
		add(!load, "cond_fail_unproven")
	}
	add(f.deadAfterCharge >= 0, "dead_after_charge")
	add(f.missingCell >= 0, "missing_cell")
	for _, s := range f.stops {
		lasting := s.reading >= 0 && school.LookRuleFor(f.ev.Case.Readings[s.reading].Choice(reading.Finding)).Lasting
		add(lasting, "damage_seen")
		add(s.caution == school.EyeClear, "eye_clear")
		add(s.caution == school.FrozenOrDamaged && !lasting, "frost")
	}
	return names
}

// symptomHints is how likely a cause is when a symptom is reported and nothing
// is measured yet. Triage of the trade, common practice; figures from memory.
var symptomHints = map[string]map[string]float64{
	"silent":             {"poor_connection": 0.30, "parasitic_drain": 0.20, "accessory_left_on": 0.20, "key_or_interlock": 0.10},
	"lights_no_crank":    {"poor_connection": 0.40, "starter_drag": 0.25, "key_or_interlock": 0.25},
	"single_click":       {"poor_connection": 0.30, "starter_drag": 0.25},
	"rapid_click":        {"poor_connection": 0.20, "parasitic_drain": 0.15, "short_trips": 0.15},
	"slow_crank":         {"short_trips": 0.25, "poor_connection": 0.20, "starter_drag": 0.15, "undercharging": 0.15},
	"cranks_no_start":    {"engine_fault": 0.85},
	"dies_again":         {"parasitic_drain": 0.40, "undercharging": 0.35, "short_trips": 0.25, "case_leakage": 0.10},
	"flat_after_storage": {"storage": 0.80, "parasitic_drain": 0.40},
	"lights_left_on":     {"accessory_left_on": 0.92},
	"odd_warnings":       {"undercharging": 0.30, "parasitic_drain": 0.20},
	"cold_only":          {"short_trips": 0.25, "starter_drag": 0.15},
	"locked_out":         {"parasitic_drain": 0.35, "undercharging": 0.25},
}

// flatHints is what empties a battery when nobody has said anything.
var flatHints = map[string]float64{"parasitic_drain": 0.25, "undercharging": 0.20, "short_trips": 0.20, "accessory_left_on": 0.20}

// lookHint is the probability of a cause that a finding of the look suggests,
// lightHint when it is only light. Values from memory.
const (
	lookHint  = 0.6
	lightHint = 0.25
)

// corrosionHints is what corrosion of one post is said to point to. Common
// practice, contested: a weak hint that asks for charging volts, no more.
var corrosionHints = map[string]string{"positive": "overcharging", "negative": "undercharging"}

// corrosionHint is how likely that is. Value from memory.
const corrosionHint = 0.1

// causeCodes fixes the order of equals.
var causeCodes = []string{
	"discharged_sound", "worn", "dead_cell", "damaged", "poor_connection", "undercharging", "overcharging", "dcdc_fault",
	"parasitic_drain", "accessory_left_on", "short_trips", "over_cranking", "storage", "case_leakage", "starter_drag",
	"wrong_battery", "engine_fault", "key_or_interlock", "nothing_wrong",
}

// leastShown is the probability under which a cause is left out.
const leastShown = 0.02

// rank lists the causes, most likely first.
func rank(f facts, condition Condition) []Cause {
	p := map[string]float64{"worn": condition.Worn, "dead_cell": condition.DeadCell, "damaged": condition.Damaged}
	p["discharged_sound"] = condition.Sound * f.lowProbability()
	for _, symptom := range f.ev.Case.Symptoms {
		raise(p, symptomHints[symptom])
	}
	if f.arrivedLow >= 0 && !f.complaint() {
		raise(p, flatHints)
	}
	for _, cause := range f.suggested() {
		raise(p, map[string]float64{cause: f.hint(cause)})
	}
	f.measured(p)
	for _, i := range f.looks {
		r := &f.ev.Case.Readings[i]
		if cause, ok := corrosionHints[r.Choice(reading.Where)]; ok && r.Choice(reading.Finding) == "corrosion" {
			raise(p, map[string]float64{cause: corrosionHint})
		}
	}
	if f.ev.Case.Vehicle.Electric() {
		raise(p, map[string]float64{"dcdc_fault": p["undercharging"]})
		p["undercharging"] = 0
	}
	if f.wrongBattery() {
		raise(p, map[string]float64{"wrong_battery": wrongHint})
	}
	if !f.complaint() && len(f.suggested()) == 0 && len(f.vehicleFaults()) == 0 {
		p["nothing_wrong"] = condition.Sound * (1 - f.lowProbability())
	}
	return f.explain(p)
}

// measured applies what the standing findings say for and against each cause,
// every finding's code once: first what denies it, then what points to it.
func (f facts) measured(p map[string]float64) {
	var codes []string
	for _, finding := range f.standing {
		for _, code := range codesOf(finding) {
			if !slices.Contains(codes, code) {
				codes = append(codes, code)
			}
		}
	}
	for _, code := range codes {
		for cause, left := range findingDenials[code] {
			p[cause] *= left
		}
	}
	for _, code := range codes {
		raise(p, findingHints[code])
	}
}

// wrongHint is how likely a battery that the vehicle is not made for has to do
// with it. Value from memory.
const wrongHint = 0.7

// wrongBattery reports a battery the vehicle is not made for: less cranking
// power than it requires, or plain flooded in a start-stop car.
func (f facts) wrongBattery() bool {
	v, l := f.ev.Case.Vehicle, f.ev.Case.Label
	weak := v.RequiredCCA != nil && l.Rating != nil && l.Rating.SAE().High < *v.RequiredCCA
	plain := v.StartStop != nil && *v.StartStop && l.Chemistry == battery.Flooded
	return weak || plain
}

func raise(p, hints map[string]float64) {
	for cause, hint := range hints {
		p[cause] = 1 - (1-p[cause])*(1-hint)
	}
}

// lowProbability is how likely the battery came in discharged.
func (f facts) lowProbability() float64 {
	switch {
	case f.arrivedLow >= 0:
		return 0.97
	case len(f.ev.Epochs) > 0 && f.ev.Epochs[0].Charge != nil && !f.ev.Epochs[0].Charge.EyeOnly:
		return 0.03
	}
	return 0.5
}

// explain orders the causes and gives each its readings for and against.
func (f facts) explain(p map[string]float64) []Cause {
	causes := []Cause{}
	for _, code := range causeCodes {
		if p[code] < leastShown {
			continue
		}
		if _, ofBattery := ofCondition[code]; !ofBattery {
			p[code] = math.Min(p[code], ruleConfidence) // coarse weights know no better
		}
		pro, con := f.sides(code)
		causes = append(causes, Cause{Cause: code, Probability: math.Round(p[code]*1000) / 1000, For: pro, Against: con})
	}
	sort.SliceStable(causes, func(i, j int) bool { return causes[i].Probability > causes[j].Probability })
	return causes
}

// sides gathers the findings that speak for and against a cause.
func (f facts) sides(cause string) (pro, con []wording.Statement) {
	pro, con = []wording.Statement{}, []wording.Statement{}
	text := func(list []int) (out []wording.Statement) {
		for _, i := range list {
			out = append(out, f.ev.Findings[i].Text)
		}
		return out
	}
	low := []int{}
	if f.arrivedLow >= 0 {
		low = []int{f.arrivedLow}
	}
	passes := append(append([]int{}, f.loadPass...), f.condPass...)
	fails := append(append([]int{}, f.loadFail...), f.condFail...)
	switch cause {
	case "discharged_sound":
		pro = append(pro, text(append(low, passes...))...)
		con = append(con, text(fails)...)
	case "nothing_wrong":
		pro = append(pro, text(passes)...)
	case "worn":
		pro = append(pro, text(append(fails, f.condWeak...))...)
		con = append(con, text(passes)...)
	case "dead_cell":
		pro = append(pro, text(present(f.missingCell, f.deadAfterCharge))...)
		con = append(con, text(passes)...)
	default:
		pro = append(pro, text(f.looksFor(cause))...)
		for _, symptom := range f.ev.Case.Symptoms {
			if symptomHints[symptom][cause] > 0 {
				pro = append(pro, wording.Say("because.symptom", wording.Values{"symptom": symptom}))
			}
		}
	}
	measuredFor, measuredAgainst := f.measuredSides(cause)
	return append(pro, measuredFor...), append(con, measuredAgainst...)
}

// ofCondition names the conditions in the order of odds.
var ofCondition = map[string]int{"discharged_sound": 0, "nothing_wrong": 0, "worn": 1, "dead_cell": 2, "damaged": 3}

// measuredSides gathers what the standing findings say of a cause.
func (f facts) measuredSides(cause string) (pro, con []wording.Statement) {
	k, own := ofCondition[cause]
	for _, finding := range f.standing {
		for n, code := range codesOf(finding) {
			text := finding.Text
			if n > 0 {
				text = finding.More[n-1]
			}
			row, weighs := findingOdds[code]
			_, denies := findingDenials[code][cause]
			switch {
			case findingHints[code][cause] > 0, own && weighs && row[k] >= 1 && row != (odds{1, 1, 1, 1}):
				pro = append(pro, text)
			case denies, own && weighs && row[k] < 0.5:
				con = append(con, text)
			}
		}
	}
	return pro, con
}

func (f facts) hint(cause string) float64 {
	for _, i := range f.looksFor(cause) {
		if f.ev.Case.Readings[i].Choice(reading.Degree) != "light" {
			return lookHint
		}
	}
	return lightHint
}

func (f facts) looksFor(cause string) []int {
	var list []int
	for _, i := range f.looks {
		if school.LookRuleFor(f.ev.Case.Readings[i].Choice(reading.Finding)).Suggests == cause {
			list = append(list, i)
		}
	}
	return list
}

// present keeps the indexes that are there.
func present(indexes ...int) []int {
	var list []int
	for _, i := range indexes {
		if i >= 0 && (len(list) == 0 || list[0] != i) {
			list = append(list, i)
		}
	}
	return list
}

// test is what the next-test list knows of a test: working minutes, waiting
// apart, and how often it finds a bad battery and clears a sound one.
type test struct {
	name              string
	minutes           float64
	sensitivity, true float64
}

// tests: common practice for the minutes; sensitivity and specificity from
// memory, on a charged battery.
var tests = map[string]test{
	"load":         {"load", 4, 0.93, 0.97},
	"conductance":  {"conductance", 2, 0.82, 0.90},
	"open_circuit": {"open_circuit", 3, 0, 0},
	"look":         {"look", 3, 0, 0},
	"gravity":      {"gravity", 6, 0.35, 0.99},
	"reserve":      {"reserve", 10, 0.45, 0.97},
}

// gain is the expected information in bits that a test with this sensitivity
// and specificity brings about whether the battery is bad.
func (t test) gain(bad float64) float64 {
	if t.sensitivity == 0 {
		return 0
	}
	positive := bad*t.sensitivity + (1-bad)*(1-t.true)
	after := positive*entropy(bad*t.sensitivity/positive) + (1-positive)*entropy(bad*(1-t.sensitivity)/(1-positive))
	return math.Max(0, entropy(bad)-after)
}

func entropy(p float64) float64 {
	if p <= 0 || p >= 1 {
		return 0
	}
	return -p*math.Log2(p) - (1-p)*math.Log2(1-p)
}
