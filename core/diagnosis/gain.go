package diagnosis

import (
	"math"

	"grapnel/core/quantity"
	"grapnel/core/twin"
	"grapnel/core/wording"
)

// test is what a test costs: minutes of hands, and minutes that pass by
// themselves meanwhile. Common practice, no source.
type test struct{ minutes, wait float64 }

var tests = map[string]test{
	"open_circuit": {3, 0}, "rest": {3, 60}, "look": {3, 0}, "load": {4, 0}, "conductance": {3, 0}, "gravity": {6, 0},
	"reserve": {12, 165}, "charge": {10, 300}, "charging": {5, 0}, "dcdc": {3, 0}, "drain": {8, 35}, "trips": {3, 0},
	"case_leak": {2, 0}, "drop": {8, 0}, "starter_draw": {6, 0}, "crank": {2, 0}, "clean": {15, 0}, "rating": {1, 0}, "top_up": {5, 0},
	"temperature": {1, 0}, "equalise": {10, 240}, "repair": {30, 0}, "fuses": {20, 0}, "clear_stop": {5, 0},
	"warm": {3, 240}, "cranks_12v": {2, 0},
}

// waitShare is what a minute of waiting costs against one of work. Value from
// memory: a shelf place and a customer without a car.
const waitShare = 0.03

// cost is what a test costs in minutes of work, its waits counted in part.
func (t test) cost() float64 { return t.minutes + waitShare*t.wait }

// settled is what a test is expected to settle: bits of what brought the vehicle
// here and what the battery is, and the two likeliest of those it tells apart.
type settled struct {
	bits float64
	a, b string
}

// outcomes is how likely each outcome of a test is, by what holds. Of battery
// tests, by battery of the grid; of vehicle tests, by what brought it here.
type outcomes struct {
	byPoint, byHypothesis [][]float64
}

// information is the mutual information of a test's outcome and what holds: one
// of the battery's faults, or, with a sound battery, one of the other causes.
func (w *weighing) information(b *belief, o outcomes) settled {
	var sums [arrivals][turnings]*[classes][]float64
	joint := make([][]float64, len(hypotheses))
	n := o.count()
	for z := range joint {
		joint[z] = make([]float64, n)
	}
	for i, m := range hypotheses {
		of := sums[m.arrives][m.turns]
		if of == nil && o.byPoint != nil {
			of = w.outcomeSums(b.weights.of[m.arrives][m.turns], o.byPoint, n)
			sums[m.arrives][m.turns] = of
		}
		for k := range classes {
			z := i
			if k != sound {
				z = hypothesisOfClass[k]
			}
			for v := range n {
				if of != nil {
					joint[z][v] += b.share[i][k] * of[k][v]
				} else {
					joint[z][v] += b.share[i][k] * b.weights.sums[m.arrives][m.turns][k] * o.byHypothesis[i][v]
				}
			}
		}
	}
	return settledBy(joint, n)
}

func (o *outcomes) count() int {
	if o.byPoint != nil {
		return len(o.byPoint[0])
	}
	return len(o.byHypothesis[0])
}

// outcomeSums is how likely each outcome is with each condition, over all
// batteries of the grid.
func (w *weighing) outcomeSums(weights []float64, like [][]float64, n int) *[classes][]float64 {
	out := new([classes][]float64)
	for k := range out {
		out[k] = make([]float64, n)
	}
	for p, x := range weights {
		row := out[w.engine.points[p].class]
		for v, l := range like[p] {
			row[v] += x * l
		}
	}
	return out
}

// hypothesisOfClass is where the battery's own faults stand in hypotheses.
var hypothesisOfClass = func() (at [classes]int) {
	for i, m := range hypotheses {
		if m.class != sound {
			at[m.class] = i
		}
	}
	return at
}()

func settledBy(joint [][]float64, n int) settled {
	out, total := make([]float64, n), make([]float64, len(joint))
	for z := range joint {
		for v, x := range joint[z] {
			out[v] += x
			total[z] += x
		}
	}
	var s settled
	for z := range joint {
		for v, x := range joint[z] {
			if x > 0 {
				s.bits += x * (math.Log2(x/out[v]) - math.Log2(total[z]))
			}
		}
	}
	s.bits = math.Max(s.bits, 0)
	s.a, s.b = toldApart(joint, total)
	return s
}

// toldApart names the likeliest and the one that a test parts from it best for
// its own likelihood.
func toldApart(joint [][]float64, total []float64) (a, b string) {
	first := 0
	for z := range total {
		if total[z] > total[first] {
			first = z
		}
	}
	best := 0.0
	for z := range total {
		if z == first || total[z] <= 0 {
			continue
		}
		apart := 0.0
		for v := range joint[z] {
			apart += math.Abs(joint[z][v]/total[z] - joint[first][v]/total[first])
		}
		if apart *= total[z]; apart > best {
			best, b = apart, hypotheses[z].code
		}
	}
	return hypotheses[first].code, b
}

// factorTests is how likely each outcome of a test of the vehicle is by what
// holds of its factor: in order first. Values from memory, as the likelihoods of
// the readings have them.
var factorTests = map[string]struct {
	of   factor
	rows [faults][]float64
}{
	"charging":     {chargingSystem, [faults][]float64{{0.96, 0.02, 0.02}, {0.12, 0.88, 0}, {0.12, 0, 0.88}, {0.02, 0.98, 0}}},
	"dcdc":         {chargingSystem, [faults][]float64{{0.97, 0.02, 0.01}, {0.05, 0.95, 0}, {0.15, 0, 0.85}, {0.03, 0.97, 0}}},
	"drain":        {drain, [faults][]float64{{0.96, 0.04}, {0.08, 0.92}}},
	"trips":        {driving, [faults][]float64{{0.74, 0.20, 0.06}, {0.05, 0.20, 0.75}}},
	"case_leak":    {top, [faults][]float64{{0.93, 0.07}, {0.15, 0.85}}},
	"drop":         {joint, [faults][]float64{{0.95, 0.05}, {0.20, 0.80}}},
	"starter_draw": {starter, [faults][]float64{{0.92, 0.08}, {0.2, 0.8}, {0.5, 0.5}}},
}

// finds is how likely a test of the vehicle finds a fault: any value of its factor but in
// order, as far as the test shows it.
func (b *belief) finds(test string) float64 {
	if test == "crank" {
		return heardDrag*b.faults[starter][1] + b.faults[starter][2] + heardJoint*b.faults[joint][1] + b.faults[engine][1] + b.faults[lock][1]
	}
	t, ok := factorTests[test]
	if !ok {
		return 0
	}
	sum := 0.0
	for v := 1; v < faults; v++ {
		shown := 0.0
		if len(t.rows[v]) > 0 {
			shown = 1 - t.rows[v][0]
		}
		sum += b.faults[t.of][v] * shown
	}
	return sum
}

// How often a cranking shows a starter that drags, and a bad joint. Values from memory, as
// crankHeard has them.
const (
	heardDrag  = 0.85
	heardJoint = 0.7
)

// ofFactor is the outcome of a vehicle test by what brought the vehicle here.
func (w *weighing) ofFactor(name string) outcomes {
	t := factorTests[name]
	like := w.vehicleLike(nil)
	beside := w.concurrentOf(t.of, like[t.of])
	usual := make([]float64, len(t.rows[0]))
	for v, row := range t.rows {
		for k, x := range row {
			usual[k] += beside[v] * x
		}
	}
	o := outcomes{byHypothesis: make([][]float64, len(hypotheses))}
	for i, m := range hypotheses {
		o.byHypothesis[i] = usual
		if m.factor == t.of {
			o.byHypothesis[i] = t.rows[m.value]
		}
	}
	return o
}

// Edges between the outcomes that are told apart, and one sigma of the test
// itself: volts under load about its limit, six cells, and a tester's share of
// the rating. Values from memory for the edges.
var (
	loadEdges   = []float64{-1.6, -0.5, 0, 0.5}
	testerEdges = []float64{0.55, 0.7, 0.8, 0.9}
)

const (
	loadSigma    = 0.17
	loadSeconds  = 15
	reserveEdge  = 0.65
	reserveSigma = 0.08
	cellShows    = 0.9
	cellFalse    = 0.02
	fullPercent  = 97
)

// ofLoad is the outcome of a load test by battery of the grid, at a charge in
// percent.
func (w *weighing) ofLoad(percent float64) outcomes {
	d := w.battery.design
	plan := PlanLoad(w.facts.ev)
	amps := quantity.Amperes(d.Cranking / 2)
	if plan.Amps != nil {
		amps = *plan.Amps
	}
	at := roomCelsius
	if plan.Limit.AtC != nil {
		at = quantity.Celsius(*plan.Limit.AtC)
	}
	limit := float64(w.facts.ev.Case.Label.PerTwelve(quantity.Volts(plan.Limit.Value)))
	var loaded loadedAt
	for k, capacity := range loadedCapacities {
		loaded[k] = []twin.Loaded{d.Loaded(capacity, percent, at, amps, loadSeconds)}
	}
	return w.byEdges(func(p *point) (float64, float64) {
		v, spread := loaded.volts(p, 0, w.battery.one)
		return v - limit, math.Hypot(loadSigma, spread)
	}, loadEdges)
}

// roomCelsius is the temperature of a test nobody gave one for.
const roomCelsius quantity.Celsius = 20

// byEdges sorts a normal outcome between edges.
func (w *weighing) byEdges(expect func(*point) (middle, sigma float64), edges []float64) outcomes {
	o := outcomes{byPoint: make([][]float64, len(w.engine.points))}
	for p := range w.engine.points {
		middle, sigma := expect(&w.engine.points[p])
		row := make([]float64, 0, len(edges)+1)
		before := 0.0
		for _, edge := range edges {
			share := below(edge-middle, sigma)
			row = append(row, share-before)
			before = share
		}
		o.byPoint[p] = append(row, 1-before)
	}
	return o
}

func (w *weighing) ofConductance(percent float64) outcomes {
	return w.byEdges(func(p *point) (float64, float64) {
		expected := p.health * twin.TesterShare(percent)
		return expected, expected * testerSigma
	}, testerEdges)
}

// testerSigma is a tester's error against the true power, as a share, a clamp
// that does not bite now and then included. Value from memory.
const testerSigma = 0.085

func (w *weighing) ofGravity() outcomes {
	o := outcomes{byPoint: make([][]float64, len(w.engine.points))}
	for p := range w.engine.points {
		o.byPoint[p] = []float64{1 - cellFalse, cellFalse}
		if odd := w.engine.points[p].odd; odd == oddShorted || odd == oddLeaking || odd == oddLagging {
			o.byPoint[p] = []float64{1 - cellShows, cellShows}
		}
	}
	return o
}

func (w *weighing) ofReserve() outcomes {
	return w.byEdges(func(p *point) (float64, float64) {
		return p.reserve(), reserveSigma
	}, []float64{0.45, reserveEdge, 0.8})
}

// ofVolts is the outcome of a rested voltage on arrival by what brought it here:
// how charged the battery comes in.
func (w *weighing) ofVolts() outcomes {
	o := outcomes{byHypothesis: make([][]float64, len(hypotheses))}
	edges := []float64{20, 45, 75}
	for i, m := range hypotheses {
		row := make([]float64, len(edges)+1)
		for s, share := range w.engine.axis.shares[m.arrives] {
			k := 0
			for k < len(edges) && w.engine.axis.at[s] >= edges[k] {
				k++
			}
			row[k] += share
		}
		o.byHypothesis[i] = row
	}
	return o
}

// ofLook is the outcome of a look: nothing, a joint, the top, damage. Values from
// memory, as lookSeen has them.
func (w *weighing) ofLook() outcomes {
	o := outcomes{byHypothesis: make([][]float64, len(hypotheses))}
	for i, m := range hypotheses {
		row := []float64{0.74, 0.13, 0.12, 0.01}
		switch {
		case m.factor == joint:
			row = []float64{0.27, 0.60, 0.12, 0.01}
		case m.factor == top:
			row = []float64{0.20, 0.10, 0.69, 0.01}
		case m.class == damaged:
			row = []float64{0.10, 0.05, 0.05, 0.80}
		}
		o.byHypothesis[i] = row
	}
	return o
}

// crankHeard is how likely a cranking is heard as turning well and starting,
// turning well and not starting, turning slowly, silent, or as clicks, by what the
// starter meets. Values from memory, as cranking has them.
var crankHeard = [turnings][]float64{
	turnsFreely: {0.72, 0.03, 0.15, 0.03, 0.07}, turnsByJoint: {0.10, 0.02, 0.33, 0.22, 0.33}, turnsByDrag: {0.10, 0.02, 0.60, 0.06, 0.22},
	turnsNot: {0.01, 0.01, 0.02, 0.86, 0.10}, turnsNoFire: {0.03, 0.75, 0.15, 0.02, 0.05},
}

func (w *weighing) ofCrank() outcomes {
	o := outcomes{byHypothesis: make([][]float64, len(hypotheses))}
	for i, m := range hypotheses {
		o.byHypothesis[i] = crankHeard[m.turns]
	}
	return o
}

// expects is what each test the list may hold would settle.
func (w *weighing) expects(b *belief, name string) settled {
	if _, ok := factorTests[name]; ok {
		return w.information(b, w.ofFactor(name))
	}
	switch name {
	case "load", "charge", "rating", "clean", "top_up", "warm":
		// What comes before a load test is worth what the test will be.
		return w.information(b, w.ofLoad(fullPercent))
	case "load_anyway":
		return w.information(b, w.ofLoad(w.percentNow()))
	case "conductance":
		return w.information(b, w.ofConductance(fullPercent))
	case "gravity", "equalise":
		return w.information(b, w.ofGravity())
	case "reserve":
		return w.information(b, w.ofReserve())
	case "open_circuit", "rest":
		return w.information(b, w.ofVolts())
	case "look":
		return w.information(b, w.ofLook())
	case "crank":
		return w.information(b, w.ofCrank())
	}
	return settled{}
}

// percentNow is the charge now, as far as it is known.
func (w *weighing) percentNow() float64 {
	last := w.facts.ev.Last()
	switch {
	case last.Charge != nil:
		return last.Charge.Percent
	case last.AtMost != nil:
		return last.AtMost.Percent
	}
	return judgePercent
}

// whyThis says why a test is worth taking.
func whyThis(test string, s settled, first bool) wording.Statement {
	values := wording.Values{"a": wording.Word(s.a), "b": wording.Word(s.b), "bits": math.Round(s.bits*100) / 100}
	switch {
	case test == "repair" || test == "fuses":
		return wording.Say("why.follow", values)
	case s.bits < leastGain || s.b == "":
		return wording.Say("why.prepares", values)
	case first:
		return wording.Say("why.most", values)
	}
	return wording.Say("why.tells", values)
}

// leastGain is what a test has to settle, in bits, to be worth naming two causes
// for.
const leastGain = 0.005
