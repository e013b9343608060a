package diagnosis

import (
	"math"
	"slices"

	"grapnel/core/accuracy"
	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/twin"
)

// factor is one thing of the vehicle that is in order or not.
type factor int8

const (
	chargingSystem factor = iota // in order, under, over, converter dead
	drain
	leftOn
	driving
	standing
	top
	joint
	starter
	lock
	engine
	fit
	cranked
	monitor // the battery monitor: knows its battery, or an older one
	factors
	noFactor factor = -1
)

// faults is the most values a factor has: in order first.
const faults = 4

// concurrent is how likely each fault is where something else brought the vehicle
// here. Values from memory.
var concurrent = [factors][faults]float64{
	chargingSystem: {0, 0.04, 0.015, 0.01}, drain: {0, 0.05}, leftOn: {0, 0.03}, driving: {0, 0.10}, standing: {0, 0.04}, top: {0, 0.05},
	joint: {0, 0.08}, starter: {0, 0.03, 0.004}, monitor: {0, 0.004}, lock: {0, 0.01}, engine: {0, 0.03}, fit: {0, 0.006}, cranked: {0, 0.02},
}

// likelihood is what one reading says of the vehicle: the likelihood of each
// value of each factor, of each condition of the battery, and of single causes.
// One means that it says nothing.
type likelihood struct {
	of    [factors][faults]float64
	class [classes]float64
	cause map[string]float64
	// dropped is a drop over a joint or cable, which only tells together with the
	// other drops.
	dropped *dropped
	silent  bool
}

func silence() likelihood {
	t := likelihood{silent: true, class: [classes]float64{1, 1, 1, 1}}
	for f := range t.of {
		t.of[f] = [faults]float64{1, 1, 1, 1}
	}
	return t
}

func (t *likelihood) says(f factor, like ...float64) {
	t.silent = false
	copy(t.of[f][:], like)
	for v := len(like); v < faults; v++ {
		t.of[f][v] = like[0]
	}
}

// likelihoods are what the readings say of the vehicle, one for each; a reading
// that a later one of the same place and manner took the place of is silent.
func (f *facts) likelihoods() []likelihood {
	stands := make([]bool, len(f.ev.Findings))
	for _, finding := range f.standing {
		stands[finding.Index()] = true
	}
	list := make([]likelihood, len(f.ev.Findings))
	found := map[sameThing]bool{}
	for i := range list {
		list[i] = silence()
		r := &f.ev.Case.Readings[i].Reading
		place := placeOf(r)
		// What is found at a joint or on the top, cleaned and measured again has
		// still brought the vehicle here.
		cleanable := r.Kind == reading.Drop || r.Kind == reading.CaseLeak
		if cleanable && found[place] || !cleanable && !stands[i] {
			continue
		}
		if cleanable && !stands[i] && !slices.Contains(beyondFindings, f.ev.Findings[i].Code()) {
			continue
		}
		found[place] = true
		f.hear(&list[i], i)
	}
	f.agree(list)
	return list
}

// agree adds what two methods say together: a load and a tester that both fail a charged
// battery are a confident verdict.
func (f *facts) agree(list []likelihood) {
	load, tester := -1, -1
	for _, finding := range f.standing {
		switch {
		case !finding.Valid || finding.Outcome != evidence.Fail:
		case finding.Kind == reading.Load:
			load = finding.Index()
		case finding.Kind == reading.Conductance:
			tester = finding.Index()
		}
	}
	if load >= 0 && tester >= 0 && f.ev.EpochOf(load).First == f.ev.EpochOf(tester).First {
		list[tester].class[sound] *= bothFail
		list[tester].silent = false
	}
}

// bothFail is what two methods that fail one charged battery add against a sound one. Value
// from memory.
const bothFail = 0.3

// hear fills in what one reading says.
func (f *facts) hear(t *likelihood, i int) {
	r, finding := &f.ev.Case.Readings[i].Reading, &f.ev.Findings[i]
	for _, code := range finding.Codes() {
		if finding.Outcome == evidence.None || finding.Valid {
			f.hearCode(t, code)
		}
	}
	switch r.Kind {
	case reading.Look:
		if r.Choice(reading.Finding) != "none" || !f.foundBefore(i) {
			hearLook(t, r)
		}
	case reading.Drain:
		f.hearDrain(t, r, finding)
	case reading.Jump:
		hearJump(t, r)
	}
	if !finding.Valid {
		return
	}
	defer t.beyond(finding)
	switch r.Kind {
	case reading.ChargingSystem:
		f.hearCharging(t, i, r)
	case reading.DCDC:
		f.hearConverter(t, r, finding.Code() == evidence.DCDCSlow)
	case reading.Ripple:
		hearRipple(t, r)
	case reading.CaseLeak:
		v := math.Max(float64(r.Volts()), 0.005)
		t.says(top, logNormal(v, 0.05, 0.9), logNormal(v, 1.4, 0.9))
	case reading.Drop:
		hearDrop(t, r)
	case reading.StarterDraw:
		f.hearStarter(t, i, r)
	}
}

// beyond weighs what lies beyond its limit against a vehicle in order: the trade's limits lie
// where hardly any such vehicle does.
func (t *likelihood) beyond(finding *evidence.Finding) {
	cause, ok := faultOf[finding.Code()]
	if !ok || slices.Contains(softFindings, finding.Code()) || finding.Kind == reading.Drop {
		return
	}
	for _, m := range hypotheses {
		if m.code == cause && m.factor != noFactor {
			t.of[m.factor][0] *= beyondInOrder
			t.silent = false
		}
	}
}

// beyondInOrder is what a reading beyond its limit leaves of a vehicle in order. Value from
// memory.
const beyondInOrder = 0.3

// logNormal is the density of a quantity about a middle, by its logarithm.
func logNormal(x, middle, sigma float64) float64 { return normal(math.Log(x/middle), sigma) }

// Volts at the posts while running, six cells: of a system in order, a weak
// one, a dead one and one that overcharges, each with one sigma. Values from
// memory about the trade's limits of 13.5 and 14.8 V; colder air asks for more.
const (
	runsAt, runsSigma         = 14.25, 0.28
	weakAt, weakSigma         = 12.95, 0.35
	deadAt, deadSigma         = 12.15, 0.40
	overAt, overSigma         = 15.55, 0.50
	deadAlternators           = 0.4
	runsPerKelvin             = 0.012
	managedAt, managedSigma   = 13.4, 0.9
	awakeAt, awakeSigma       = 14.1, 0.40
	sleepingAt, sleepingSigma = 12.45, 0.40
)

func (f *facts) hearCharging(t *likelihood, i int, r *reading.Reading) {
	v := float64(f.ev.Case.Label.PerTwelve(r.Volts()))
	order := runsAt
	if air, ok := r.Number(reading.AirC); ok {
		order += runsPerKelvin * math.Max(0, 20-air)
	}
	good := normal(v-order, runsSigma)
	if f.ev.Managed(i) {
		good = (good + normal(v-managedAt, managedSigma)) / 2
	}
	over := overAt
	if f.ev.Case.Label.Chemistry == battery.Gel {
		order, over = order-gelLess, over-gelLess
		good = normal(v-order, runsSigma)
	}
	dead := normal(v-deadAt, deadSigma)
	under := deadAlternators*dead + (1-deadAlternators)*normal(v-weakAt, weakSigma)
	t.says(chargingSystem, good, under, normal(v-over, overSigma), dead)
}

// gelLess is how much less a gel battery is charged with, six cells. Value from memory.
const gelLess = 0.3

// A converter that takes over late: how often one in order does, and one at fault. Values
// from memory.
const (
	lateInOrder = 0.02
	lateAtFault = 0.6
)

func (f *facts) hearConverter(t *likelihood, r *reading.Reading, slow bool) {
	awake, _ := r.Number(reading.AwakeVolts)
	v := float64(f.ev.Case.Label.PerTwelve(quantity.Volts(awake)))
	dead := normal(v-sleepingAt, sleepingSigma)
	good := normal(v-awakeAt, awakeSigma)
	if slow {
		good, dead = lateInOrder*good, lateAtFault*good
	}
	t.says(chargingSystem, good, good, normal(v-overAt, overSigma), dead)
}

// Ripple at the posts: of a system in order and with a bad diode, AC volts, and
// how many weak systems have one. Values from memory.
const (
	smooth, smoothSigma = 0.04, 0.6
	rough, roughSigma   = 0.55, 0.5
	badDiodes           = 0.25
)

func hearRipple(t *likelihood, r *reading.Reading) {
	v, _ := r.Number(reading.VoltsAC)
	v = math.Max(v, 0.005)
	good := logNormal(v, smooth, smoothSigma)
	t.says(chargingSystem, good, badDiodes*logNormal(v, rough, roughSigma)+(1-badDiodes)*good, good, good)
}

// A sleeping car's drain, amperes: in order and with a fault. Values from memory
// about the trade's 50 mA.
const (
	restful, restfulSigma = 0.02, 0.5
	drained, drainedSigma = 0.25, 0.9
	leastDrain            = 0.0003
	// usualDrainMost is the limit that these are about, amperes.
	usualDrainMost = 0.05
	// awakeAmps is a car that has not gone to sleep, and how likely a high drain is
	// that when nobody said how long it slept.
	awakeAmps, awakeAmpsSigma = 1.5, 1.1
	perhapsAwake              = 0.45
)

func (f *facts) hearDrain(t *likelihood, r *reading.Reading, finding *evidence.Finding) {
	amps, sigma, known := evidence.DrainAmps(r)
	if !known {
		return
	}
	a := math.Max(float64(amps), leastDrain)
	widen := float64(sigma) / a
	// What is usual goes with what this vehicle may draw.
	scale := f.ev.DrainMost().Value / usualDrainMost
	good := logNormal(a, restful*scale, math.Hypot(restfulSigma, widen))
	bad := logNormal(a, drained*math.Sqrt(scale), math.Hypot(drainedSigma, widen))
	if !finding.Valid {
		awake := logNormal(a, awakeAmps, awakeAmpsSigma)
		good, bad = (1-perhapsAwake)*good+perhapsAwake*awake, (1-perhapsAwake)*bad+perhapsAwake*awake
	}
	if r.Fuse != "" || r.Has(reading.FuseRatingA) {
		// One fuse of many clears little when it is quiet.
		if finding.Code() == evidence.DrainOKFuse {
			good, bad = 1, quietFuse
		}
	}
	t.says(drain, good, bad)
}

// quietFuse is what a quiet fuse leaves of the odds of a drain. Value from memory.
const quietFuse = 0.85

// seen is what one finding of the look says of the vehicle: how likely it is seen where
// the fault is, and where it is not. Values from memory.
type seen struct {
	of        factor
	value     int
	there     float64
	otherwise float64
}

var lookSeen = map[string][]seen{
	"corrosion":        {{joint, 1, 0.45, 0.10}},
	"oxide":            {{joint, 1, 0.20, 0.05}},
	"clamp_loose":      {{joint, 1, 0.25, 0.02}},
	"clamp_not_seated": {{joint, 1, 0.15, 0.02}},
	"cable_green":      {{joint, 1, 0.12, 0.01}},
	"cable_damaged":    {{joint, 1, 0.08, 0.01}},
	"strap_bad":        {{joint, 1, 0.12, 0.01}},
	"clamp_universal":  {{joint, 1, 0.10, 0.02}},
	"clamp_worn":       {{joint, 1, 0.12, 0.02}},
	"ring_between":     {{joint, 1, 0.06, 0.01}},
	"dirty_top":        {{top, 1, 0.75, 0.12}},
	"belt_slips":       {{chargingSystem, 1, 0.25, 0.01}, {chargingSystem, 3, 0.01, 0.01}},
	"belt":             {{chargingSystem, 1, 0.20, 0.01}, {chargingSystem, 3, 0.01, 0.01}},
	"wet_vents":        {{chargingSystem, 2, 0.45, 0.04}},
	"smell":            {{chargingSystem, 2, 0.30, 0.003}},
	"hiss":             {{chargingSystem, 2, 0.20, 0.003}},
	"hot":              {{chargingSystem, 2, 0.15, 0.004}},
}

// damageSeen is how likely each condition shows one of these, seenOnce for a
// finding, and soundLook what a look that finds nothing leaves of each. Values
// from memory.
var damageSeen = map[string][classes]float64{
	"crack": {0.0005, 0.001, 0.001, 0.25}, "bulge": {0.001, 0.004, 0.004, 0.25}, "case_leak": {0.0005, 0.001, 0.001, 0.2},
	"frozen": {0.001, 0.002, 0.001, 0.25}, "post_loose": {0.001, 0.002, 0.002, 0.1},
}

var (
	nothingSeenOf = map[factor][2]float64{joint: {0.85, 0.35}, top: {0.85, 0.35}}
	nothingSeenIs = [classes]float64{1, 1, 1, 0.08}
)

// Corrosion light or of one post, and what one post is said to point to. Common
// practice for the direction, contested; figures from memory.
const (
	lightShare = 0.5
	postHint   = 2.2
)

// corrosionHints is what corrosion of one post is said to point to.
var corrosionHints = map[string]int{"positive": 2, "negative": 1}

// foundBefore reports a look that found something before a reading: finding
// nothing then tells of the cleaning.
func (f *facts) foundBefore(i int) bool {
	for j := range f.ev.Case.Readings[:i] {
		r := &f.ev.Case.Readings[j].Reading
		if r.Kind == reading.Look && r.Choice(reading.Finding) != "none" {
			return true
		}
	}
	return false
}

func hearLook(t *likelihood, r *reading.Reading) {
	finding := r.Choice(reading.Finding)
	if finding == "none" {
		for f, p := range nothingSeenOf {
			t.says(f, p[0], p[1])
		}
		t.class = nothingSeenIs
		return
	}
	if p, ok := damageSeen[finding]; ok {
		t.class, t.silent = p, false
	}
	for _, s := range lookSeen[finding] {
		there := s.there
		if r.Choice(reading.Degree) == "light" {
			there = s.otherwise + (s.there-s.otherwise)*lightShare
		}
		like := t.of[s.of]
		like[0], like[s.value] = s.otherwise, there
		for v := 1; v < faults; v++ {
			if like[v] == 1 {
				like[v] = s.otherwise
			}
		}
		t.says(s.of, like[:]...)
	}
	if value, ok := corrosionHints[r.Choice(reading.Where)]; ok && finding == "corrosion" {
		like := [faults]float64{1, 1, 1, 1}
		like[value] = postHint
		t.says(chargingSystem, like[:]...)
	}
}

// jumpSays is what a start on a jump, or none, leaves of each cause. That it
// rules the starter out is common practice; figures from memory.
var jumpSays = map[string]map[factor][2]float64{
	reading.Yes: {starter: {0.9, 0.2}, engine: {0.9, 0.1}, lock: {0.9, 0.08}, joint: {0.9, 0.5}},
	reading.No:  {starter: {0.1, 0.5}, engine: {0.1, 0.8}, lock: {0.1, 0.9}, joint: {0.1, 0.4}},
}

func hearJump(t *likelihood, r *reading.Reading) {
	for f, p := range jumpSays[r.Choice(reading.Started)] {
		t.says(f, p[0], p[1])
		if f == starter {
			t.of[f][2] = p[1]
		}
	}
}

// toldSays is what the customer's account and the codes of some findings say:
// how likely it is heard where the fault is not, and where it is. Values from
// memory.
var toldSays = map[evidence.Code]map[factor][]float64{
	evidence.HistoryLeftOn:       {leftOn: {0.02, 0.85}},
	evidence.HistoryTripsLose:    {driving: {0.06, 0.75}},
	evidence.HistoryTripsEven:    {driving: {0.20, 0.20}},
	evidence.HistoryTripsHold:    {driving: {0.74, 0.05}},
	evidence.HistoryStandingLong: {standing: {0.06, 0.90}},
	evidence.HistoryStanding:     {standing: {0.6, 0.10}},
	evidence.HistoryJumpsMany:    {cranked: {0.06, 0.6}},
	evidence.LevelLow:            {chargingSystem: {0.10, 0.10, 0.4, 0.10}},
	evidence.LevelDry:            {chargingSystem: {0.03, 0.03, 0.4, 0.03}},
	evidence.LogHigh:             {chargingSystem: {0.1, 0.1, 0.3, 0.1}},
	evidence.ChargingOut:         {chargingSystem: {0.02, 0.6, 0.02, 0.6}},
}

// toldClass is what such findings say of the battery's condition.
var toldClass = map[evidence.Code][classes]float64{
	evidence.HistoryJumpsMany: {0.5, 1, 1, 0.8},
	evidence.LogLow:           {0.02, 0.06, 1, 0.2},
	evidence.LogFullEarly:     {0.2, 1, 0.5, 0.5},
	evidence.LogTooMuch:       {0.2, 0.7, 1, 0.6},
	evidence.EyeClear:         {0.01, 0.05, 0.03, 0.5},
	evidence.ChargeReversed:   {0.05, 0.1, 0.1, 1},
	evidence.LogOpen:          {0.01, 0.03, 0.03, 1},
	evidence.ChargeNothing:    {0.35, 0.35, 0.35, 1},
	// A test that counts has been taken by the book: what the trade's rule says of it weighs
	// beside the model.
	evidence.LoadFail:              {0.4, 1, 1, 1},
	evidence.LoadFailNoTemperature: {0.4, 1, 1, 1},
	evidence.ConductanceFail:       {0.7, 1, 1, 1},
	evidence.ChargeDead:            {0.1, 0.6, 1, 0.6},
	evidence.GravityApart:          {0.05, 0.2, 1, 0.3},
	evidence.GravityApartDrawn:     {0.02, 0.3, 1, 0.3},
	evidence.ReserveFail:           {0.05, 1, 1, 1},
	evidence.HalvesDead:            {0.01, 0.05, 1, 0.1},
	evidence.HalvesApart:           {0.25, 0.6, 1, 0.4},
	evidence.LevelDry:              {0.3, 0.6, 0.6, 1},
}

// toldCause multiplies single causes.
var toldCause = map[evidence.Code]map[string]float64{
	evidence.HistoryJumpsMany: {"undercharging": 1.5, "parasitic_drain": 1.5},
}

func (f *facts) hearCode(t *likelihood, code evidence.Code) {
	for of, like := range toldSays[code] {
		t.says(of, like...)
	}
	if like, ok := toldClass[code]; ok {
		t.class, t.silent = like, false
	}
	if like, ok := toldCause[code]; ok {
		t.cause, t.silent = like, false
	}
}

// A starter's current against a middling one of its kind: in order, dragging,
// and held back by a joint, each with the sigma of its logarithm; and the
// resistance between post and stud, milliohms. Values from memory.
const (
	drawSigma             = 0.33
	dragDraws             = 1.9
	jointDraws, jointWide = 0.6, 0.45
	studOrder, studSigma  = 0.9, 0.5
	studBad, studBadSigma = 6.0, 0.9
	positiveShare         = 0.45
)

func (f *facts) hearStarter(t *likelihood, i int, r *reading.Reading) {
	amps, hasAmps := r.Number(reading.Amps)
	stud, hasStud := r.Number(reading.StudVolts)
	at, hasVolts := r.Number(reading.Volts)
	held := 1.0
	if f.ev.Findings[i].Code() == evidence.StarterDead {
		t.says(starter, 0.01, 0.05, 0.9)
		t.says(lock, 0.5, 0.02)
		t.says(joint, 0.5, 0.05)
		return
	}
	if hasAmps && amps < feebleStarter {
		t.says(lock, 0.01, 0.9)
		t.says(joint, 0.02, 0.25)
		t.says(starter, 0.02, 0.10, 0.6)
		return
	}
	if hasAmps {
		wide := math.Hypot(drawSigma, float64(accuracy.ClampSigma(quantity.Amperes(amps)))/amps)
		usual := float64(starterOf(f.ev.Case, f.design))
		usual *= twin.Asks(f.ev.EngineAt(i)) // a cold engine asks for more
		if f.ev.Case.Vehicle.Engine == "" && f.ev.Case.Vehicle.Litres == nil {
			wide = math.Hypot(wide, unknownWide)
		}
		order := logNormal(amps, usual, wide)
		held = logNormal(amps, usual*jointDraws, jointWide)
		t.says(starter, order, logNormal(amps, usual*dragDraws, wide), order)
		t.says(joint, order, held)
	}
	if hasStud && hasVolts && hasAmps {
		milliohms := math.Max(float64(f.ev.Case.Label.PerTwelve(quantity.Volts(at-stud))), 0.02) / amps * 1000
		order := logNormal(milliohms, studOrder, studSigma)
		bad := positiveShare*logNormal(milliohms, studBad, studBadSigma) + (1-positiveShare)*order
		t.says(joint, t.of[joint][0]*order, t.of[joint][1]*bad)
	}
}

// feebleStarter is a current under which a starter does not try to turn. Value
// from memory.
const feebleStarter = 15

// unknownWide is what a starter nobody described adds to the sigma of its
// current. Value from memory.
const unknownWide = 0.4

// dropped is a drop over a joint or cable as a resistance, in milliohms.
type dropped struct {
	where    string
	milliohm float64
	sigma    float64
}

// quietDrop is a drop, in volts, up to which a joint may carry no current where
// nobody gave one. Value from memory.
const quietDrop = 0.1

// usualDropAmps is the current of a drop nobody gave one for. Value from memory.
const usualDropAmps = 140.0

func hearDrop(t *likelihood, r *reading.Reading) {
	amps, known := r.Number(reading.Amps)
	v := float64(r.Volts())
	if !known {
		if v <= quietDrop {
			return // nobody knows that anything flowed
		}
		amps = usualDropAmps
	}
	t.dropped = &dropped{
		where: r.Choice(reading.Where), milliohm: v / amps * 1000,
		sigma: float64(accuracy.DropSigma(quantity.Volts(v))) / amps * 1000,
	}
	t.silent = false
}

// places is where a bad joint may be, how often it is there, and what a good one
// has, in milliohms. Values from memory.
var places = []struct {
	where, side string
	share, good float64
}{
	{"positive_clamp", "whole_positive", 0.27, 0.2}, {"negative_clamp", "whole_negative", 0.30, 0.2},
	{"positive_cable", "whole_positive", 0.09, 0.6}, {"negative_cable", "whole_negative", 0.08, 0.6},
	{"starter_stud", "whole_positive", 0.07, 0.2}, {"ground_strap", "whole_negative", 0.19, 0.2},
}

// A bad joint's resistance in milliohms, with the sigma of its logarithm, and
// the spread of a good one's. Values from memory: 0.5 V at 150 A are 3.3 mΩ.
const (
	badJoint, badJointSigma = 5.0, 0.9
	goodSpread              = 0.4
	sideGood                = 1.0
)

// joined is what all drops together say of the joint: in order, or bad at one of
// its places. Readings set aside are left out.
func joined(list []likelihood, without leftOut) [2]float64 {
	order, bad, any := 1.0, make([]float64, len(places)), false
	for k := range bad {
		bad[k] = places[k].share
	}
	for i := range list {
		d := list[i].dropped
		if d == nil || without.has(i) {
			continue
		}
		any = true
		good := d.order()
		order *= good
		for k, p := range places {
			if d.where == p.where || d.where == p.side {
				bad[k] *= d.faulty()
			} else {
				bad[k] *= good
			}
		}
		// Of order and bad only the ratio matters.
		all := append(bad, order)
		rescale(all)
		bad, order = all[:len(bad)], all[len(bad)]
	}
	if !any {
		return [2]float64{1, 1}
	}
	sum := 0.0
	for _, b := range bad {
		sum += b
	}
	return [2]float64{order, sum}
}

func (d *dropped) order() float64 {
	good := sideGood
	for _, p := range places {
		if p.where == d.where {
			good = p.good
		}
	}
	return strict(d.milliohm-good, math.Hypot(goodSpread*good, d.sigma))
}

func (d *dropped) faulty() float64 {
	x := math.Max(d.milliohm, 0.05)
	return logNormal(x, badJoint, math.Hypot(badJointSigma, d.sigma/x)) / x
}
