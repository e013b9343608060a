package diagnosis

import (
	"math"
	"slices"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/twin"
)

// Engine weighs cases. It holds the grid of batteries a case may have and the
// labels it has calibrated; it is safe for use by several at once.
type Engine struct {
	points  []point
	axis    charges
	designs *twin.Designs
	// soundHealth and soundCapacity bound the power and the capacity of most sound
	// batteries.
	soundHealth, soundCapacity [2]float64
	// done says why nobody waits any more for what is worked out; nil for somebody always does.
	done func() error
}

// New makes an engine.
func New() *Engine { return newEngine(1) }

// newEngine makes an engine whose grid is finer by a factor.
func newEngine(fine int) *Engine {
	return &Engine{
		points: grid(fine), axis: chargeAxis(fine), designs: new(twin.Designs),
		soundHealth: edgesOf(soundHealth, soundEdges), soundCapacity: edgesOf(soundCapacity, soundEdges),
	}
}

// Design is the model of a label, as six cells; false where its chemistry is not
// judged.
func (e *Engine) Design(l battery.Label) (*twin.Design, bool) {
	l.NominalV = sixCellVolts
	return e.designs.Of(l)
}

const sixCellVolts quantity.Volts = 12

// rested is the rested volts of one cell at a node of charge, at the tables'
// temperature.
func (e *Engine) rested(d *twin.Design, s int) float64 {
	return d.RestedCell(e.axis.at[s], battery.TableCelsius)
}

// belief is what holds once all readings are weighed.
type belief struct {
	// hypotheses is the probability of each of hypotheses, in their order.
	hypotheses []float64
	// class is the probability of each condition; low that of a sound battery
	// that came in under three quarters.
	class [classes]float64
	low   float64
	// ofSound is the probability of each of hypotheses together with a sound battery.
	ofSound []float64
	// faults is the probability of each value of each factor.
	faults [factors][faults]float64
	// share of each of hypotheses with each condition, before the batteries of the grid
	// are told apart by weights.
	share   [][classes]float64
	weights *pointWeights
}

// weighing is one case being weighed: everything that does not change when one
// reading is set aside.
type weighing struct {
	engine      *Engine
	facts       *facts
	battery     batterySide
	likelihoods []likelihood
	prior       []float64
	class       [][classes]float64
	concurrent  [factors][faults]float64
	// possible marks the values a factor may have at all in this vehicle.
	possible [factors][faults]bool
	// all is what all the battery's readings say, kept for every belief that sets
	// none of them aside.
	all *pointWeights
	// whole is what all epochs say of each battery of the grid.
	whole [][turnings]*caseLikelihood
}

func (e *Engine) weigh(f *facts) *weighing {
	w := &weighing{
		engine:      e,
		facts:       f,
		battery:     e.batterySide(f.ev, f.design),
		likelihoods: f.likelihoods(),
		prior:       priorOf(f.ev.Case),
		concurrent:  concurrent,
		whole:       make([][turnings]*caseLikelihood, len(e.points)),
	}
	// An alternator or a converter, not both.
	if electric := f.ev.Case.Vehicle.Electric(); electric || !hasConverter(f.ev.Case) {
		out, in := 3, 1
		if electric {
			out, in = 1, 3
		}
		w.concurrent[chargingSystem][in] += w.concurrent[chargingSystem][out]
		w.concurrent[chargingSystem][out] = 0
	}
	age := ageFactor(f.ev.Case)
	for _, m := range hypotheses {
		w.class = append(w.class, classPrior(age, m))
	}
	w.takePossible()
	return w
}

// takePossible marks what may stand beside something else, or have brought the
// vehicle here.
func (w *weighing) takePossible() {
	for f := range w.concurrent {
		w.possible[f][0] = true
		for v, p := range w.concurrent[f] {
			w.possible[f][v] = w.possible[f][v] || p > 0
		}
	}
	for i, m := range hypotheses {
		if m.factor != noFactor && w.prior[i] > 0 {
			w.possible[m.factor][m.value] = true
		}
	}
}

// leftOut marks the readings that are left out, as leave-one-out has it; nil for none.
type leftOut []bool

func (a leftOut) has(i int) bool { return a != nil && a[i] }

// believe weighs the case without the readings set aside.
func (w *weighing) believe(without leftOut) belief {
	like := w.vehicleLike(without)
	classLike := [classes]float64{1, 1, 1, 1}
	for i := range w.likelihoods {
		if without.has(i) {
			continue
		}
		for k := range classLike {
			classLike[k] *= w.likelihoods[i].class[k]
		}
		rescale(classLike[:])
	}
	causes := w.causeLikes(without)
	b := belief{
		hypotheses: make([]float64, len(hypotheses)),
		ofSound:    make([]float64, len(hypotheses)), share: make([][classes]float64, len(hypotheses)),
		weights: w.weightsWithout(without),
	}
	sum := 0.0
	for i, m := range hypotheses {
		v := w.prior[i] * w.vehicleOf(like, m) * causes[i]
		of := &b.weights.sums[m.arrives][m.turns]
		for k := range classes {
			b.share[i][k] = v * w.class[i][k] * classLike[k]
			x := b.share[i][k] * of[k]
			b.class[k] += x
			b.hypotheses[i] += x
		}
		b.ofSound[i] = b.share[i][sound] * of[sound]
		b.low += b.share[i][sound] * b.weights.lows[m.arrives][m.turns]
		sum += b.hypotheses[i]
	}
	b.scale(sum)
	w.marginals(&b, like)
	w.notNothing(&b, like)
	return b
}

// notNothing takes from nothing wrong what a fault beside it has: a vehicle in which a fault
// was measured is one with a fault, whatever it came in for.
func (w *weighing) notNothing(b *belief, like [factors][faults]float64) {
	nothing := slices.IndexFunc(hypotheses, func(m hypothesis) bool { return m.code == codeOfNothing })
	had := b.hypotheses[nothing]
	if had == 0 {
		return
	}
	clear := 1.0
	moves := make([]float64, len(hypotheses))
	all := 0.0
	for i, m := range hypotheses {
		if m.factor == noFactor {
			continue
		}
		now, before := w.concurrentOf(m.factor, like[m.factor])[m.value], w.concurrent[m.factor][m.value]
		if now <= before || before >= 1 {
			continue
		}
		moves[i] = (now - before) / (1 - before)
		clear *= 1 - moves[i]
		all += moves[i]
	}
	if all == 0 {
		return
	}
	moved := had * (1 - clear)
	for i, x := range moves {
		b.hypotheses[i] += moved * x / all
		b.ofSound[i] += moved * x / all
	}
	b.hypotheses[nothing], b.ofSound[nothing] = had-moved, math.Max(0, b.ofSound[nothing]-moved)
}

func (b *belief) scale(sum float64) {
	if sum <= 0 {
		return
	}
	for i := range b.hypotheses {
		b.hypotheses[i] /= sum
		b.ofSound[i] /= sum
		for k := range b.share[i] {
			b.share[i][k] /= sum
		}
	}
	for k := range b.class {
		b.class[k] /= sum
	}
	b.low /= sum
}

// marginals gives every fault its probability: that it brought the vehicle here,
// or stands beside what did.
func (w *weighing) marginals(b *belief, like [factors][faults]float64) {
	for f := range like {
		beside := w.concurrentOf(factor(f), like[f])
		elsewhere := 1.0
		for i, m := range hypotheses {
			if m.factor == factor(f) {
				elsewhere -= b.hypotheses[i]
				b.faults[f][m.value] += b.hypotheses[i]
			}
		}
		for v := range beside {
			b.faults[f][v] += elsewhere * beside[v]
		}
	}
}

// concurrentOf is how likely each value of a factor is where something else brought
// the vehicle here.
func (w *weighing) concurrentOf(f factor, like [faults]float64) [faults]float64 {
	p := w.concurrent[f]
	p[0] = 1
	for _, x := range p[1:] {
		p[0] -= x
	}
	before, sum := p, 0.0
	for v := range p {
		p[v] *= like[v]
		sum += p[v]
	}
	if sum == 0 {
		return before // nothing that may stand beside explains what was read
	}
	for v := range p {
		p[v] /= sum
	}
	return p
}

// vehicleLike joins what the readings say of each factor.
func (w *weighing) vehicleLike(without leftOut) [factors][faults]float64 {
	var like [factors][faults]float64
	for f := range like {
		like[f] = [faults]float64{1, 1, 1, 1}
	}
	for i := range w.likelihoods {
		if without.has(i) || w.likelihoods[i].silent {
			continue
		}
		for f := range like {
			for v := range like[f] {
				like[f][v] *= w.likelihoods[i].of[f][v]
			}
			w.rescaleFactor(factor(f), &like[f])
		}
	}
	drops := joined(w.likelihoods, without)
	like[joint][0] *= drops[0]
	like[joint][1] *= drops[1]
	w.rescaleFactor(joint, &like[joint])
	if wrong := w.facts.fits(); wrong != nil {
		like[fit][0], like[fit][1] = wrong[0], wrong[1]
	}
	return like
}

// rescaleFactor keeps what is said of a factor within reach: every cause has one
// value of it, so that a common power of two makes no difference.
func (w *weighing) rescaleFactor(f factor, like *[faults]float64) {
	for v := range like {
		if !w.possible[f][v] {
			like[v] = 0
		}
	}
	rescale(like[:])
}

// vehicleOf is the likelihood of all the vehicle's readings when one cause
// brought it here.
func (w *weighing) vehicleOf(like [factors][faults]float64, m hypothesis) float64 {
	all := 1.0
	for f := range like {
		if factor(f) == m.factor {
			all *= like[f][m.value]
			continue
		}
		sum, order := 0.0, 1.0
		for v := 1; v < faults; v++ {
			sum += w.concurrent[f][v] * like[f][v]
			order -= w.concurrent[f][v]
		}
		all *= sum + order*like[f][0]
	}
	return all
}

// causeLikes is what readings say of single causes, the most likely as one.
func (w *weighing) causeLikes(without leftOut) []float64 {
	logs, most := make([]float64, len(hypotheses)), 0.0
	for i := range w.likelihoods {
		if w.likelihoods[i].cause == nil || without.has(i) {
			continue
		}
		for k, m := range hypotheses {
			if x, ok := w.likelihoods[i].cause[m.code]; ok {
				logs[k] += math.Log(x)
				most = math.Max(most, logs[k])
			}
		}
	}
	for k := range logs {
		logs[k] = math.Exp(logs[k] - most)
	}
	return logs
}

// pointWeights is the likelihood of all the battery's readings for every battery
// of the grid, by how it arrives and what its starter meets; sums is the same by
// condition, lows the part in which a sound one came in under three quarters.
type pointWeights struct {
	of   [arrivals][turnings][]float64
	sums [arrivals][turnings][classes]float64
	lows [arrivals][turnings]float64
}

// weightsWithout is what the battery's readings say without those set aside.
func (w *weighing) weightsWithout(without leftOut) *pointWeights {
	for n := range w.battery.epochs {
		if w.battery.epochs[n].touched(without) {
			return w.weightsOfPoints(without)
		}
	}
	if w.all == nil {
		w.all = w.weightsOfPoints(nil)
	}
	return w.all
}

// weightsOfPoints sums over the charges of every epoch, each by itself.
func (w *weighing) weightsOfPoints(without leftOut) *pointWeights {
	out := new(pointWeights)
	n := len(w.engine.points)
	turns := w.turningsNeeded(without)
	flat := make([]float64, 2*int(arrivals)*n*len(turns))
	var lows [arrivals][turnings][]float64
	for a := range arrivals {
		for _, t := range turns {
			out.of[a][t], flat = flat[:n:n], flat[n:]
			lows[a][t], flat = flat[:n:n], flat[n:]
		}
	}
	product := make([]float64, len(w.engine.axis.at))
	exponents := make([][turnings]int, n)
	most := math.MinInt
	for p := range w.engine.points {
		for _, t := range turns {
			first, firstLow, later := w.weightsOf(p, t, without, product)
			exponents[p][t] = later.e
			for a := range first {
				x := w.engine.points[p].weight * first[a] * later.m
				out.of[a][t][p], lows[a][t][p] = x, w.engine.points[p].weight*firstLow[a]*later.m
				if _, e := math.Frexp(x); x > 0 {
					most = max(most, e+later.e)
				}
			}
		}
	}
	for a := range arrivals {
		for _, t := range turns {
			out.sumUp(w.engine.points, a, t, lows[a][t], exponents, most)
		}
		for t := range turnings {
			if out.of[a][t] == nil {
				out.of[a][t], out.sums[a][t], out.lows[a][t] = out.of[a][turnsFreely], out.sums[a][turnsFreely], out.lows[a][turnsFreely]
			}
		}
	}
	return out
}

// sumUp brings the weights of all batteries to one power of two and sums them by
// condition.
func (out *pointWeights) sumUp(points []point, a profile, t turning, lows []float64, exponents [][turnings]int, most int) {
	for p := range points {
		x := math.Ldexp(out.of[a][t][p], exponents[p][t]-most)
		out.of[a][t][p] = x
		out.sums[a][t][points[p].class] += x
		if points[p].class == sound {
			out.lows[a][t] += math.Ldexp(lows[p], exponents[p][t]-most)
		}
	}
}

// turningsNeeded is every turning when the starter was heard, else the free one.
func (w *weighing) turningsNeeded(without leftOut) []turning {
	for _, e := range w.battery.epochs {
		for _, r := range e.readings {
			if r.turns != nil && !without.has(r.reading) {
				return []turning{turnsFreely, turnsByJoint, turnsByDrag, turnsNot, turnsNoFire}
			}
		}
	}
	return []turning{turnsFreely}
}

// weightsOf works out one battery of the grid: the likelihood of the first epoch by
// how it arrives, the part of it under three quarters, and that of all later ones,
// which carries the power of two of them all.
func (w *weighing) weightsOf(p int, t turning, without leftOut, product []float64) (first, firstLow [arrivals]float64, later scaled) {
	whole := w.caseLikelihoodOf(p, t, product)
	arrival, later := whole.arrival, whole.later
	for n := range w.battery.epochs {
		if !w.battery.epochs[n].touched(without) {
			continue
		}
		said := w.likelihoodIn(n, p, t, without, product)
		if n == 0 {
			arrival = said
			continue
		}
		// One epoch in the place of the same without what is set aside.
		had := w.battery.epochs[n].likelihoods[p][t]
		later = later.times(said.all[0]/had.all[0], said.e-had.e)
	}
	later.e += arrival.e
	return arrival.all, arrival.low, later
}

// epochLikelihood is what the readings of one epoch say of one battery: by how it arrives
// for the first epoch, the same in every place for one behind a charge; low is the
// part under three quarters, e the power of two that was taken out.
type epochLikelihood struct {
	all, low [arrivals]float64
	e        int
}

// caseLikelihood is what all epochs say of one battery.
type caseLikelihood struct {
	arrival epochLikelihood
	later   scaled
}

// caseLikelihoodOf works out what all epochs say of one battery, once.
func (w *weighing) caseLikelihoodOf(p int, t turning, product []float64) *caseLikelihood {
	known := &w.whole[p][t]
	if *known != nil {
		return *known
	}
	whole := &caseLikelihood{later: scaled{m: 1}}
	for n := range w.battery.epochs {
		e := &w.battery.epochs[n]
		said := w.likelihoodIn(n, p, t, nil, product)
		if n == 0 {
			whole.arrival = said
			continue
		}
		if e.likelihoods == nil {
			e.likelihoods = make([][turnings]epochLikelihood, len(w.engine.points))
		}
		e.likelihoods[p][t] = said
		whole.later = whole.later.times(said.all[0], said.e)
	}
	*known = whole
	return whole
}

// likelihoodIn is what one epoch says of one battery.
func (w *weighing) likelihoodIn(n, p int, t turning, without leftOut, product []float64) epochLikelihood {
	e := &w.battery.epochs[n]
	said := epochLikelihood{e: e.product(p, t, without, product)}
	if n == 0 && !e.charged {
		for a := range said.all {
			said.all[a], said.low[a] = w.engine.axis.sum(profile(a), product)
		}
		return said
	}
	if e.drawn != nil && e.drawn.known {
		all := 0.0
		for s, weight := range e.drawn.weights(w.engine.axis.at, w.engine.points[p].gives()) {
			all += weight * product[s]
		}
		for a := range said.all {
			said.all[a] = all
		}
		return said
	}
	shares := profileCharged
	if class := w.engine.points[p].class; class == worn || class == damaged {
		shares = profileTired
	}
	all, low := w.engine.axis.sum(shares, product)
	if e.doubted {
		normal, _ := w.engine.axis.sum(profileNormal, product)
		lost, _ := w.engine.axis.sum(profileLow, product)
		all = (all + normal + lost) / 3
	}
	for a := range said.all {
		said.all[a], said.low[a] = all, low
	}
	return said
}

// touched reports that a reading of the epoch is set aside.
func (e *batteryEpoch) touched(without leftOut) bool {
	return without != nil && slices.ContainsFunc(e.readings, func(r rows) bool { return without.has(r.reading) })
}

// product multiplies the likelihoods of an epoch's readings at every charge and
// returns the power of two that was taken out.
func (e *batteryEpoch) product(p int, t turning, without leftOut, product []float64) (exponent int) {
	if len(e.readings) > longEpoch && without != nil {
		if only := e.only(without); only != nil {
			return e.productBut(only, p, t, product)
		}
	}
	for s := range product {
		product[s] = 1
	}
	for i := range e.readings {
		r := &e.readings[i]
		if without.has(r.reading) {
			continue
		}
		for s, x := range r.at(p, t) {
			product[s] *= x
		}
		if i%rescaleEvery == rescaleEvery-1 {
			exponent += rescale(product)
		}
	}
	return exponent
}

// longEpoch is the most readings of an epoch that are multiplied anew for each one
// set aside; of more, the whole product is divided.
const longEpoch = 32

// at is what a reading says of one battery at every charge.
func (r *rows) at(p int, t turning) []float64 {
	if r.turns != nil {
		return r.turns[t][p]
	}
	return r.of[p]
}

// only is the one reading of the epoch that is set aside, nil for none or several.
func (e *batteryEpoch) only(without leftOut) (one *rows) {
	for i := range e.readings {
		if !without.has(e.readings[i].reading) {
			continue
		}
		if one != nil {
			return nil
		}
		one = &e.readings[i]
	}
	return one
}

// productBut is the product of all readings but one.
func (e *batteryEpoch) productBut(one *rows, p int, t turning, product []float64) (exponent int) {
	if e.products == nil {
		e.products = map[[2]int]scaledRow{}
	}
	key := [2]int{p, int(t)}
	whole, known := e.products[key]
	if !known {
		whole.row = make([]float64, len(product))
		whole.e = e.product(p, t, nil, whole.row)
		e.products[key] = whole
	}
	for s, x := range one.at(p, t) {
		product[s] = whole.row[s] / x
	}
	return whole.e
}

// scaledRow is a row × 2^e.
type scaledRow struct {
	row []float64
	e   int
}

// sum weighs a product by a profile of charges; low is the part under three
// quarters.
func (c *charges) sum(p profile, product []float64) (all, low float64) {
	shares := c.shares[p]
	for s, x := range product {
		if c.at[s] < judgePercent {
			low += shares[s] * x
		}
		all += shares[s] * x
	}
	return all, low
}

// judgePercent is three quarters: from there a failed test counts.
const judgePercent = 75.0

// condition is the belief about the battery. A passing load that counts never
// speaks for a worn battery, however the rest shifts: what one of them, or all,
// would add to that goes to a sound one.
func (w *weighing) condition(b *belief) Condition {
	c := b.condition()
	for _, set := range w.without(w.passes()) {
		without := w.believe(set)
		if over := c.Worn - without.class[worn]; over > 0 {
			c.Worn, c.Sound = c.Worn-over, c.Sound+over
		}
	}
	return c.rounded()
}

// without are the ways to leave some of these readings out: all of them where they are few,
// else each and all.
func (w *weighing) without(list []int) []leftOut {
	var sets []leftOut
	if len(list) > fewPasses {
		all := make(leftOut, len(w.likelihoods))
		for _, i := range list {
			one := make(leftOut, len(w.likelihoods))
			one[i], all[i] = true, true
			sets = append(sets, one)
		}
		return append(sets, all)
	}
	for bits := 1; bits < 1<<len(list); bits++ {
		some := make(leftOut, len(w.likelihoods))
		for n, i := range list {
			some[i] = bits>>n&1 == 1
		}
		sets = append(sets, some)
	}
	return sets
}

// fewPasses is up to how many passes every choice of them is left out.
const fewPasses = 3

// passes are the passing loads that count.
func (w *weighing) passes() []int {
	var list []int
	for _, f := range w.facts.ev.Findings {
		if f.Kind == reading.Load && f.Valid && f.Outcome == evidence.Pass {
			list = append(list, f.Index())
		}
	}
	return list
}

// rounded takes the last digits off, which hang on the order of the readings.
func (c Condition) rounded() Condition {
	round := func(p float64) float64 { return math.Round(p*1e9) / 1e9 }
	r := Condition{Worn: round(c.Worn), DeadCell: round(c.DeadCell), Damaged: round(c.Damaged)}
	r.Sound = math.Max(0, 1-r.Worn-r.DeadCell-r.Damaged)
	return r
}

// fits is how likely what is known of label and vehicle is where the battery
// fits, and where it does not; nil where nothing is known.
func (f *facts) fits() *[2]float64 {
	v, l := f.ev.Case.Vehicle, f.ev.Case.Label
	if f.neverFits() {
		return &[2]float64{neverFits, 1}
	}
	if f.wrongBattery() {
		return &[2]float64{wrongFits, 1}
	}
	if v.RequiredCCA != nil && l.Rating != nil {
		return &[2]float64{1, rightMisfits}
	}
	return nil
}

// How often a battery of the wrong kind, and one with too little power, still has nothing to
// do with it, and how often one that is still misfits. Values from memory.
const (
	neverFits    = 0.0001
	wrongFits    = 0.03
	rightMisfits = 0.1
)
