package diagnosis

import (
	"math"
	"slices"
	"sort"

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

// weigh multiplies the prior with what was found, once a kind of evidence: two
// fails of a discharged battery are one error counted once.
func weigh(f facts) Condition {
	o := prior
	for _, name := range f.evidenceNames() {
		for k := range o {
			o[k] *= likelihoods[name][k]
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
	add(len(f.loadPass) > 0, "load_pass")
	add(len(f.loadFail) > 0, "load_fail")
	add(len(f.condPass) > 0, "cond_pass")
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
	if f.ev.Case.Vehicle.Electric() {
		p["dcdc_fault"], p["undercharging"] = p["undercharging"], 0
	}
	if !f.complaint() && len(f.suggested()) == 0 {
		p["nothing_wrong"] = condition.Sound * (1 - f.lowProbability())
	}
	return f.explain(p)
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
