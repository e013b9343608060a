package study

import (
	"math"
	"math/rand/v2"
	"runtime"
	"slices"
	"sync"
	"sync/atomic"

	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/reading"
	"grapnel/core/twin"
)

// Figures are what one way of working came to.
type Figures struct {
	// RightCause is the share of cases whose main fault is the verdict's cause.
	RightCause float64 `json:"right_cause"`
	// WronglyReplaced is the share of good batteries that were replaced, BadKept
	// that of bad ones neither replaced nor stopped, ExpectedCost their sum.
	WronglyReplaced float64 `json:"wrongly_replaced"`
	BadKept         float64 `json:"bad_kept"`
	ExpectedCost    float64 `json:"expected_cost"`
	// RightRepair is the share of vehicles whose main fault's repair was done, and no
	// battery changed for nothing.
	RightRepair float64 `json:"right_repair"`
	// ComeBack60 is the share that did not start, or was flat again, within 60 days.
	ComeBack60 float64 `json:"comeback_60"`
	// FaultsFound is the share of all faults that would strand their vehicle that were
	// named above one half, FalseAlarms that of all named which were not there.
	FaultsFound float64 `json:"faults_found"`
	FalseAlarms float64 `json:"false_alarms"`
	// Cost is the shop's money for each vehicle: new batteries, hours, come-backs.
	Cost float64 `json:"cost"`
	// Minutes of hands at work; waits, which pass by themselves, apart.
	MinutesMedian float64 `json:"minutes_median"`
	MinutesP90    float64 `json:"minutes_p90"`
	WaitingMedian float64 `json:"waiting_minutes_median"`
	TestsMedian   float64 `json:"tests_median"`
	// CalibrationError is the mean gap between confidence and the share that was
	// right, over ten bins of equal count; Calibration its bins.
	CalibrationError float64 `json:"calibration_error"`
	Calibration      []Bin   `json:"calibration"`
	// Confusion counts cases by main fault and verdict's cause.
	Confusion map[string]map[string]int `json:"confusion"`
	// Actions counts the verdicts.
	Actions map[string]int `json:"actions"`
	// ReplacedByCharge is the share of good batteries replaced, by charge on
	// arrival in fifths.
	ReplacedByCharge []Share `json:"replaced_by_charge"`
	// CertaintyByMinute is the mean confidence of the verdict had the work stopped
	// after some minutes.
	CertaintyByMinute []Certainty `json:"certainty_by_minute,omitempty"`
}

// Bin is a tenth of the verdicts by their confidence.
type Bin struct {
	Confidence float64 `json:"confidence"`
	Right      float64 `json:"right"`
	Count      int     `json:"count"`
}

// Share is of so many.
type Share struct {
	Share float64 `json:"share"`
	Of    int     `json:"of"`
}

// Certainty is after some minutes of work.
type Certainty struct {
	Minutes float64 `json:"minutes"`
	Right   float64 `json:"right"`
}

// Result is a whole study.
type Result struct {
	Cases     int                `json:"cases"`
	Seed      uint64             `json:"seed"`
	Fleet     string             `json:"fleet"`
	Seconds   float64            `json:"seconds"`
	Grapnel   Figures            `json:"grapnel"`
	Baselines map[string]Figures `json:"baselines"`
	// Oracle is the same engine told every quantity a shop could measure, exactly.
	Oracle Figures `json:"oracle"`
}

// ended is how one case ended under one way of working.
type ended struct {
	main, cause     string
	action          diagnosis.Action
	good            bool
	confidence      float64
	minutes, wait   float64
	tests           int
	arrived         float64
	judged          bool
	rightAt         [certaintySteps]bool
	power, capacity float64
	symptom         string
	done            done
	// present are the faults it has, stranding those that would bring it back.
	present   []string
	stranding map[string]bool
	cameBack  bool
}

const (
	certaintySteps = 13
	certaintyEvery = 5.0
)

// BaselineNames lists the baselines.
func BaselineNames() []string { return []string{"one_rule", "conductance", "charge_then_load"} }

// workers share the cases; the outcome does not hang on how many there are.
var workers = runtime.GOMAXPROCS

// Run studies so many cases of a fleet. The same seed gives the same figures. Progress, which
// may be nil, hears how many are done and ends the study early by returning false; the result
// then says nothing.
func Run(f Fleet, cases int, seed uint64, progress func(done int) bool) Result {
	engine := diagnosis.New()
	var designs twin.Designs
	ways := append([]string{"grapnel", "oracle"}, BaselineNames()...)
	all := make([][]ended, len(ways))
	for i := range all {
		all[i] = make([]ended, cases)
	}
	next, done, stopped := make(chan int), 0, atomic.Bool{}
	var wait sync.WaitGroup
	var mu sync.Mutex
	for range workers(0) {
		wait.Go(func() {
			for i := range next {
				if stopped.Load() {
					continue
				}
				stranding := f.stranding(func() truth { return f.draw(rand.New(rand.NewPCG(seed, uint64(i))), &designs) })
				for k, way := range ways {
					all[k][i] = f.work(engine, &designs, way, seed, i)
					all[k][i].stranding = stranding
				}
				if progress != nil {
					mu.Lock()
					done++
					if !progress(done) {
						stopped.Store(true)
					}
					mu.Unlock()
				}
			}
		})
	}
	for i := range cases {
		next <- i
	}
	close(next)
	wait.Wait()
	r := Result{Cases: cases, Seed: seed, Fleet: f.Name, Grapnel: sumUp(all[0], f.Prices), Oracle: sumUp(all[1], f.Prices), Baselines: map[string]Figures{}}
	for k, name := range BaselineNames() {
		r.Baselines[name] = sumUp(all[k+2], f.Prices)
	}
	return r
}

// work does one case one way. Truth and instruments are drawn from the seed and
// the case's number, so that every way meets the same vehicle.
func (f *Fleet) work(engine *diagnosis.Engine, designs *twin.Designs, way string, seed uint64, i int) ended {
	t := f.draw(rand.New(rand.NewPCG(seed, uint64(i))), designs)
	w := newTechnician(f, &t, rand.New(rand.NewPCG(seed^0x9e3779b97f4a7c15, uint64(i))), way == "oracle")
	e := ended{main: t.main, present: t.faults(), good: t.good, arrived: t.arrived, power: t.power, capacity: t.capacity, symptom: t.symptom}
	switch way {
	case "grapnel":
		w.diagnose(engine, &e)
	case "oracle":
		w.everything(engine, &e)
	default:
		baselines[way](w, &e)
	}
	if e.done.named == nil {
		e.done = doneByHabit(w, &e)
	}
	e.minutes, e.wait, e.tests = w.minutes, w.waiting, w.tests
	e.cameBack = t.comesBack(t.handBack(e.done, t.battery))
	return e
}

// Budget of a case, minutes of hands at work, and what is sure enough to stop:
// the action, and what brought it here. A test has to settle at least so many
// bits to be worth taking.
const (
	budget      = 75.0
	sureAction  = 0.988
	sureCause   = 0.80
	worthTaking = 0.03
	mostOfOne   = 2
)

// final reports an action that ends the work.
func final(a diagnosis.Action) bool {
	return a == diagnosis.Keep || a == diagnosis.Replace || a == diagnosis.LookElsewhere || a == diagnosis.StopUnsafe
}

// diagnose follows the engine: its next test, until the verdict is sure, nothing
// more is worth its minutes, or the budget is spent.
func (w *technician) diagnose(engine *diagnosis.Engine, e *ended) {
	a := engine.Brief(w.c)
	for {
		w.mark(e, a)
		if w.thaw(a) {
			a = engine.Brief(w.c)
			continue
		}
		if final(a.Verdict.Action) && a.Verdict.Confidence >= sureAction && causeSure(a) {
			break
		}
		test, ok := w.choose(a)
		if !ok || !w.take(test.Test, test.Minutes, test.Wait) {
			break
		}
		a = engine.Brief(w.c)
	}
	w.mark(e, a)
	w.end(e, w.beforeItGoes(engine, a))
}

// beforeItGoes looks for what else is wrong before the vehicle is handed back: the tests that
// are worth their hands against a vehicle that comes back.
func (w *technician) beforeItGoes(engine *diagnosis.Engine, a diagnosis.Assessment) diagnosis.Assessment {
	for {
		best, worth := diagnosis.Next{}, 1.0
		for _, n := range a.Next {
			if _, can := doing[n.Test]; !can || w.taken[n.Test] > 0 || w.minutes+n.Minutes > budget || n.Minutes <= 0 {
				continue
			}
			finds := n.Finds * strandsUsually
			if n.Test == "reserve" || n.Test == "gravity" {
				finds = 1 - a.Condition.Sound // what the other tests may have missed
			}
			if x := finds * w.prices.ComeBack / (n.Minutes * w.prices.Hour / 60); x >= worth {
				best, worth = n, x
			}
		}
		if best.Test == "" || !w.take(best.Test, best.Minutes, best.Wait) {
			return a
		}
		a = engine.Brief(w.c)
	}
}

// strandsUsually is how often a fault of the vehicle strands it within two months. Computed on
// the standard fleet.
const strandsUsually = 0.8

// causeSure reports that the verdict's cause is sure enough to stop at. The
// battery's own, once it is replaced, needs no more.
func causeSure(a diagnosis.Assessment) bool {
	if a.Verdict.Action == diagnosis.Replace || a.Verdict.Action == diagnosis.StopUnsafe {
		return true
	}
	if a.Verdict.Cause != nil && *a.Verdict.Cause == "discharged_sound" {
		return false // nobody knows yet what flattened it
	}
	for _, c := range a.Causes {
		if a.Verdict.Cause != nil && c.Cause == *a.Verdict.Cause {
			return c.Probability >= sureCause
		}
	}
	return false
}

// choose takes the first test of the list that can be taken and is worth it.
func (w *technician) choose(a diagnosis.Assessment) (diagnosis.Next, bool) {
	for i, n := range a.Next {
		required := !final(a.Verdict.Action) && (i == 0 || n.Test == "load" || n.Test == "conductance")
		if n.Gain < worthTaking && !required || w.taken[n.Test] >= mostOfOne || w.minutes+n.Minutes > budget {
			continue
		}
		if _, can := doing[n.Test]; can {
			return n, true
		}
	}
	return diagnosis.Next{}, false
}

// mark notes whether the verdict was right after so many minutes.
func (w *technician) mark(e *ended, a diagnosis.Assessment) {
	right := a.Verdict.Cause != nil && *a.Verdict.Cause == e.main && final(a.Verdict.Action)
	for k := range e.rightAt {
		if float64(k)*certaintyEvery >= w.minutes {
			e.rightAt[k] = right
		}
	}
}

func (w *technician) end(e *ended, a diagnosis.Assessment) {
	e.done = doneBy(w, a)
	e.action, e.confidence, e.judged = a.Verdict.Action, a.Verdict.Confidence, final(a.Verdict.Action)
	if a.Verdict.Cause != nil {
		e.cause = *a.Verdict.Cause
	}
}

// everything takes every test there is, on a charged battery, without error.
func (w *technician) everything(engine *diagnosis.Engine, e *ended) {
	order := []string{"look", "open_circuit", "trips"}
	if w.truth.car.Starter.Amps > 0 {
		order = append(order, "crank", "drop", "starter_draw")
	}
	order = append(order, "case_leak", "drain")
	if w.truth.car.Starter.Amps > 0 {
		order = append(order, "charging", "ripple")
	} else {
		order = append(order, "dcdc")
	}
	order = append(order, "clean", "charge", "load", "conductance")
	if w.c.Label.Opens() {
		order = append(order, "gravity")
	}
	order = append(order, "reserve")
	for _, test := range order {
		w.take(test, 0, 0)
	}
	w.end(e, engine.Brief(w.c))
}

// baselines are the ways of the trade.
var baselines = map[string]func(*technician, *ended){
	"one_rule": func(w *technician, e *ended) {
		w.take("open_circuit", 3, 0)
		w.take("load", 4, 0)
		w.byRule(e, w.last(reading.Volts) < 9.6)
	},
	"conductance": func(w *technician, e *ended) {
		w.take("conductance", 3, 0)
		w.byRule(e, w.last(reading.Measured)/w.last(reading.Rated) < 0.7)
	},
	"charge_then_load": func(w *technician, e *ended) {
		w.take("charge", 13, 300)
		w.take("load", 4, 0)
		finding := evidence.Examine(w.c).Findings
		w.byRule(e, finding[len(finding)-1].Outcome == evidence.Fail)
	},
}

// last is a figure of the last reading.
func (w *technician) last(n reading.Number) float64 {
	x, _ := w.c.Readings[len(w.c.Readings)-1].Number(n)
	return x
}

// byRule replaces on one fail; else it reads the charging volts, and names what
// the complaint suggests.
func (w *technician) byRule(e *ended, fail bool) {
	e.confidence, e.judged = 1, true
	if fail {
		e.action, e.cause = diagnosis.Replace, "worn"
		return
	}
	e.action, e.cause = diagnosis.Keep, obvious[e.symptom]
	test := "charging"
	if w.truth.car.Starter.Amps <= 0 {
		test = "dcdc"
	}
	w.take(test, 5, 0)
	v := w.last(reading.Volts)
	if test == "dcdc" {
		v = w.last(reading.AwakeVolts)
	}
	switch {
	case v < 13.5 && test == "dcdc":
		e.action, e.cause = diagnosis.LookElsewhere, "dcdc_fault"
	case v < 13.5:
		e.action, e.cause = diagnosis.LookElsewhere, "undercharging"
	case v > 15:
		e.action, e.cause = diagnosis.LookElsewhere, "overcharging"
	}
}

// obvious is what a complaint is put down to when battery and alternator are in
// order. Common practice, no source.
var obvious = map[string]string{
	"silent": "poor_connection", "lights_no_crank": "poor_connection", "single_click": "starter_drag", "rapid_click": "discharged_sound",
	"slow_crank": "short_trips", "cranks_no_start": "engine_fault", "dies_again": "parasitic_drain", "flat_after_storage": "storage",
	"lights_left_on": "accessory_left_on", "odd_warnings": "discharged_sound", "cold_only": "short_trips",
	"locked_out": "parasitic_drain", "preventive": "nothing_wrong",
}

// sumUp makes the figures of a way of working.
func sumUp(list []ended, prices Prices) Figures {
	f := Figures{Confusion: map[string]map[string]int{}, Actions: map[string]int{}}
	var good, bad, replaced, kept, right int
	minutes, waits, tests := make([]float64, 0, len(list)), make([]float64, 0, len(list)), make([]float64, 0, len(list))
	by := make([]struct{ of, replaced int }, 5)
	for _, e := range list {
		if e.cause == e.main {
			right++
		}
		if f.Confusion[e.main] == nil {
			f.Confusion[e.main] = map[string]int{}
		}
		f.Confusion[e.main][e.cause]++
		f.Actions[string(e.action)]++
		fifth := min(int(e.arrived/20), 4)
		if e.good {
			good++
			by[fifth].of++
			if e.action == diagnosis.Replace {
				replaced++
				by[fifth].replaced++
			}
		} else {
			bad++
			if e.action != diagnosis.Replace && e.action != diagnosis.StopUnsafe {
				kept++
			}
		}
		minutes, waits, tests = append(minutes, e.minutes), append(waits, e.wait), append(tests, float64(e.tests))
	}
	f.RightCause, f.WronglyReplaced, f.BadKept = share(right, len(list)), share(replaced, good), share(kept, bad)
	f.ExpectedCost = f.WronglyReplaced + f.BadKept
	f.whatFollowed(list, prices)
	f.MinutesMedian, f.MinutesP90 = quantile(minutes, 0.5), quantile(minutes, 0.9)
	f.WaitingMedian, f.TestsMedian = quantile(waits, 0.5), quantile(tests, 0.5)
	f.Calibration, f.CalibrationError = calibrate(list)
	for _, b := range by {
		f.ReplacedByCharge = append(f.ReplacedByCharge, Share{share(b.replaced, b.of), b.of})
	}
	for k := range certaintySteps {
		n := 0
		for _, e := range list {
			if e.rightAt[k] {
				n++
			}
		}
		f.CertaintyByMinute = append(f.CertaintyByMinute, Certainty{float64(k) * certaintyEvery, share(n, len(list))})
	}
	return f
}

// whatFollowed sums up what was repaired, what was named and who came back.
func (f *Figures) whatFollowed(list []ended, prices Prices) {
	var right, back, strands, found, named, absent int
	money := 0.0
	for i := range list {
		e := &list[i]
		if e.done.repaired(e.main) && !(e.done.replaced && e.good) {
			right++
		}
		if e.cameBack {
			back++
			money += prices.ComeBack
		}
		if e.done.replaced {
			money += prices.Battery
		}
		money += prices.Hour * e.minutes / 60
		for fault := range e.stranding {
			strands++
			if e.done.named[fault] {
				found++
			}
		}
		for fault := range e.done.named {
			named++
			if !slices.Contains(e.present, fault) {
				absent++
			}
		}
	}
	f.RightRepair, f.ComeBack60 = share(right, len(list)), share(back, len(list))
	f.FaultsFound, f.FalseAlarms = share(found, strands), share(absent, named)
	f.Cost = math.Round(100*money/float64(max(1, len(list)))) / 100
}

func share(n, of int) float64 {
	if of == 0 {
		return 0
	}
	return math.Round(float64(n)/float64(of)*1e4) / 1e4
}

func quantile(list []float64, q float64) float64 {
	if len(list) == 0 {
		return 0
	}
	sorted := slices.Clone(list)
	slices.Sort(sorted)
	return sorted[min(int(q*float64(len(sorted))), len(sorted)-1)]
}

// actionRight reports whether an action was right by the truth.
func (e *ended) actionRight() bool {
	if e.action == diagnosis.Replace || e.action == diagnosis.StopUnsafe {
		return !e.good
	}
	return e.good
}

const bins = 10

// calibrate holds confidence against what was right, over verdicts that end the
// work, in bins of equal count.
func calibrate(list []ended) ([]Bin, float64) {
	var judged []ended
	for _, e := range list {
		if e.judged {
			judged = append(judged, e)
		}
	}
	slices.SortStableFunc(judged, func(a, b ended) int {
		switch {
		case a.confidence < b.confidence:
			return -1
		case a.confidence > b.confidence:
			return 1
		}
		return 0
	})
	var out []Bin
	gap := 0.0
	for k := range bins {
		part := judged[k*len(judged)/bins : (k+1)*len(judged)/bins]
		if len(part) == 0 {
			continue
		}
		right, sum := 0, 0.0
		for i := range part {
			sum += part[i].confidence
			if part[i].actionRight() {
				right++
			}
		}
		b := Bin{math.Round(sum/float64(len(part))*1e4) / 1e4, share(right, len(part)), len(part)}
		gap += math.Abs(b.Confidence - b.Right)
		out = append(out, b)
	}
	if len(out) == 0 {
		return out, 0
	}
	return out, math.Round(gap/float64(len(out))*1e4) / 1e4
}
