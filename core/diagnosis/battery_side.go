package diagnosis

import (
	"math"
	"slices"

	"grapnel/core/accuracy"
	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/twin"
)

// turning is what the starter meets: nothing in the way, a bad joint, a drag, a
// lock, or an engine that does not fire.
type turning int8

const (
	turnsFreely turning = iota
	turnsByJoint
	turnsByDrag
	turnsNot
	turnsNoFire
	turnings
)

// rows holds the likelihood of one reading for every battery of the grid and
// every charge. Where only the kind of the odd cell tells batteries apart, one
// row serves many.
type rows struct {
	reading int
	of      [][]float64 // by point
	// of every turning, for a reading of the starter; nil otherwise.
	turns [][][]float64
}

// batteryEpoch is one charge of the battery and what was read at it.
type batteryEpoch struct {
	charged, doubted bool
	// drawn is set where the epoch follows a discharge.
	drawn    *drawnTo
	readings []rows
	// likelihoods is what all its readings say of each battery of the grid, products the
	// same at every charge; both are made when they are first asked for.
	likelihoods [][turnings]epochLikelihood
	products    map[[2]int]scaledRow
}

// batterySide weighs every battery of the grid by the readings taken of it.
type batterySide struct {
	engine *Engine
	design *twin.Design
	ev     evidence.Evidence
	epochs []batteryEpoch
	// one is what one cell of this battery counts for among the six that all volts are
	// carried over to: two in a six-volt battery, half of one in a pair of 24 V.
	one float64
}

// modelVolts is one sigma of what the model itself is off by under load, partVolts what is
// added as the charge goes to nothing, and modelShare of the drop it expects. Values from
// memory; the load limits are met
// within 0.1 V.
const (
	modelVolts = 0.06
	partVolts  = 0.7
	modelShare = 0.03
	// loadPerKelvin is what a degree is worth under load, volts. Computed from the
	// table of limits: 1.1 V over 39 K.
	loadPerKelvin = 0.028
	// guessedRating is one sigma of the cranking power of a label without one, as a
	// share. Value from memory.
	guessedRating = 0.3
	// standsInRating is the same where what the vehicle requires stands in for it: most
	// batteries have a little more.
	standsInRating = 0.12
	// unsaidAmps is one sigma of a load whose tester does not say its current, as a
	// share of half the rating. Value from memory.
	unsaidAmps = 0.25
)

func (e *Engine) batterySide(ev evidence.Evidence, d *twin.Design) batterySide {
	b := batterySide{engine: e, design: d, ev: ev, one: sixCells / float64(max(1, ev.Case.Label.Cells()))}
	for n, epoch := range ev.Epochs {
		side := batteryEpoch{charged: epoch.AfterCharge && !epoch.Unproven, doubted: n > 0 && !(epoch.AfterCharge && !epoch.Unproven)}
		if epoch.DrawnSince {
			side.charged, side.doubted = false, true // full once, and drawn on since
		}
		if epoch.Drawn {
			side.drawn = drawnOf(ev, n)
		}
		for i := epoch.First; i < epoch.End; i++ {
			e.heed()
			if r, ok := b.likelihood(i); ok {
				side.readings = append(side.readings, r)
			}
		}
		b.epochs = append(b.epochs, side)
	}
	if len(b.epochs) == 0 {
		b.epochs = []batteryEpoch{{}}
	}
	return b
}

// likelihood is what one reading says of every battery of the grid; false for a
// reading that says nothing of the battery.
func (b *batterySide) likelihood(i int) (rows, bool) {
	r := &b.ev.Case.Readings[i].Reading
	if f := &b.ev.Findings[i]; f.Contradicted() || f.Code() == evidence.ChargeReversed || f.Code() == evidence.ChargeNothing {
		return rows{}, false // what cannot be true with another, and what is no charge, weighs nothing
	}
	switch r.Kind {
	case reading.OpenCircuit:
		if b.unsettled(i) {
			return rows{}, false
		}
		return b.byOdd(i, b.openCircuit(i, r)), true
	case reading.Gravity:
		if like := b.gravity(i, r); like != nil {
			return b.byOdd(i, like), true
		}
	case reading.Eye:
		if like := b.eye(r); like != nil && !b.unsettled(i) {
			return b.byOdd(i, like), true
		}
	case reading.Load:
		return b.load(i, r), true
	case reading.Conductance:
		return b.conductance(i, r)
	case reading.Reserve:
		return b.reserve(i, r)
	case reading.Crank:
		if b.ev.Findings[i].Valid {
			return b.crank(i, r), true
		}
	}
	return rows{}, false
}

// byOdd spreads a likelihood that only the odd cell decides over all batteries.
func (b *batterySide) byOdd(i int, like func(odd oddKind, percent float64) float64) rows {
	axis := b.engine.axis.at
	var kinds [oddKinds][]float64
	for odd := range kinds {
		kinds[odd] = make([]float64, len(axis))
		for s, percent := range axis {
			kinds[odd][s] = like(oddKind(odd), percent)
		}
	}
	out := rows{reading: i, of: make([][]float64, len(b.engine.points))}
	for p := range b.engine.points {
		out.of[p] = kinds[b.engine.points[p].odd]
	}
	return out
}

// each works a likelihood out for every battery and every charge.
func (b *batterySide) each(i int, like func(p *point, s int) float64) rows {
	axis := b.engine.axis.at
	flat := make([]float64, len(axis)*len(b.engine.points))
	out := rows{reading: i, of: make([][]float64, len(b.engine.points))}
	for p := range b.engine.points {
		row := flat[p*len(axis) : (p+1)*len(axis)]
		for s := range axis {
			row[s] = like(&b.engine.points[p], s)
		}
		out.of[p] = row
	}
	return out
}

// leakLeast and leakUsual are the volts a leaking cell lacks at rest, at the least and
// usually beyond that; lagLacks what a cell that lags lacks. Values from memory.
const (
	leakLeast = 0.05
	leakUsual = 0.6
	lagLacks  = 0.07
	// unsaidRest is how likely volts were rested that nobody says it of. Value from
	// memory.
	unsaidRest = 0.5
	// sixCells is what every voltage is carried over to.
	sixCells = 6
)

// openCircuit: rested volts lie about the charge's; unrested ones somewhere
// between those and what surface charge adds.
func (b *batterySide) openCircuit(i int, r *reading.Reading) func(oddKind, float64) float64 {
	at, atSigma, _ := b.ev.TemperatureAt(i)
	v := float64(b.ev.Case.Label.PerTwelve(r.Volts()) - b.ev.Case.Label.AcidShift())
	meter := float64(accuracy.VoltsSigma(accuracy.Instrument(r.By), quantity.Volts(v)))
	makers, surface := float64(b.ev.Case.Label.VoltsSpread()), float64(battery.SurfaceMost)
	sigma := math.Sqrt(meter*meter + makers*makers + math.Pow(emfPerKelvin*float64(atSigma), 2))
	rested := 1.0
	if !b.ev.Findings[i].Valid {
		rested = 0
		if b.ev.Findings[i].Code() == evidence.ChargeRestUnknown {
			rested = unsaidRest
		}
	}
	return func(odd oddKind, percent float64) float64 {
		cell := b.design.RestedCell(percent, at)
		off := v - sixCells*cell
		full := v - sixCells*b.design.RestedCell(100, at)
		// Strong acid rests above the table's full mark: more than full is full.
		off -= math.Max(0, math.Min(full, off))
		like := 0.0
		switch odd {
		case oddShorted:
			off += b.one * cell
		case oddLeaking:
			if percent < flatPercent {
				return drawnDeep(off+b.one*leakLeast, sigma)
			}
			return lacking(off+b.one*leakLeast, b.one*leakUsual, sigma) + strictShare
		case oddLagging:
			off += b.one * lagLacks
		}
		if rested > 0 {
			like += rested * strict(off, sigma)
		}
		if percent < flatPercent && rested > 0 {
			// Drawn below flat, a battery rests anywhere under the table's mark.
			like = (1-deepShare)*like + rested*deepShare*drawnDeep(off, sigma)
		}
		if rested < 1 {
			like += (1 - rested) * ((below(off, sigma)-below(off-surface, sigma))/surface + wildShare)
		}
		return like
	}
}

// A battery below flatPercent has been drawn deeper in most cases, usually by deepUsual
// volts, six cells, and now and then by anything down to nothing. Values from memory.
const (
	flatPercent = 4
	deepShare   = 0.8
	deepUsual   = 0.9
	deepAny     = 0.15
	deepMost    = 10.0
)

// drawnDeep is the density of the volts of a battery drawn below flat, by how far they lie
// from those of a flat one.
func drawnDeep(off, sigma float64) float64 {
	return (1-deepAny)*lacking(off, deepUsual, sigma) + deepAny*(below(off+deepMost, sigma)-below(off, sigma))/deepMost
}

// lacking is the density of a distance below nothing that is usually so much, and rarer the
// more, seen with an error: an exponential distribution smeared by a normal one.
func lacking(off, usual, sigma float64) float64 {
	rate := 1 / usual
	exponent := rate*off + rate*rate*sigma*sigma/2
	if exponent > 600 {
		return 0
	}
	return rate * math.Exp(exponent) * below(-off-rate*sigma*sigma, sigma)
}

// drawnTo is what a discharge leaves in a battery of the label's own ampere-hours: the charge
// it began from and the share taken out, with one sigma in percent; known is false where
// neither is.
type drawnTo struct {
	from, share, sigma float64
	known              bool
}

func drawnOf(ev evidence.Evidence, n int) *drawnTo {
	left := ev.Epochs[n].Left
	before := ev.Epochs[n-1].Charge
	if left == nil {
		return &drawnTo{}
	}
	from := 100.0
	if before != nil {
		from = before.Percent
	}
	return &drawnTo{
		from: from, share: math.Max(0, from-left.Percent), known: true,
		sigma: math.Max(leastDrawnSigma, (left.High-left.Low)/(2*battery.BandSigmas)),
	}
}

// leastDrawnSigma is one sigma of what is left at the least, percent. Value from memory.
const leastDrawnSigma = 5

// weights is how likely each charge is for a battery that gives a share of the label's
// ampere-hours.
func (d *drawnTo) weights(axis []float64, gives float64) []float64 {
	out, sum := make([]float64, len(axis)), 0.0
	middle := math.Max(0, d.from-d.share/math.Max(gives, leastGives))
	for s, percent := range axis {
		z := (percent - middle) / d.sigma
		out[s] = math.Exp(-z*z/2) + 1e-4
		sum += out[s]
	}
	for s := range out {
		out[s] /= sum
	}
	return out
}

// leastGives keeps a battery that gives next to nothing within reach. Value from memory.
const leastGives = 0.1

// unsettled reports that the readings of a charge contradict each other.
func (b *batterySide) unsettled(i int) bool {
	c := b.ev.EpochOf(i).Contradiction
	return c.Unsettled() || c != nil && b.ev.Case.Readings[i].Kind == reading.Eye
}

// emfPerKelvin is the rested volts of six cells over temperature, as the
// open-circuit table has it.
const emfPerKelvin = 1.2e-3

// Gravity of cells: one sigma of a battery's acid against the table together
// with the instrument's own error, of one cell against its neighbours, and how
// far a bad cell lies from them. Values from memory.
const (
	acidSpread = 0.0065
	cellSpread = 0.0055
	// drifted is the share of cells that have drifted, driftedSpread one sigma of those.
	drifted       = 0.1
	driftedSpread = 0.017
	badCellLow    = 0.09
	badCellWide   = 0.045
	// badCells is how likely each cell of a battery with a bad one is bad.
	badCells  = 0.2
	zoneSigma = 14
)

// gravity: the middle of the cells tells the charge, what stands out of them
// tells a bad cell.
func (b *batterySide) gravity(i int, r *reading.Reading) func(oddKind, float64) float64 {
	if r.Is(reading.JustWatered) {
		return nil
	}
	cells, zones := b.ev.CellGravities(i)
	if len(cells) == 0 {
		if zones == nil {
			return nil
		}
		return func(_ oddKind, percent float64) float64 { return normal(percent-zones.Percent, zoneSigma) }
	}
	middle, best := median(cells), upper(cells)
	even, odd, none := 1.0, 1.0, 1.0
	for _, sg := range cells {
		even *= evenCell(sg - middle)
		good := evenCell(sg - best)
		odd *= (1-badCells)*good + badCells*normal(sg-best+badCellLow, badCellWide)*cellSpread
		none *= (1 - badCells) * good
	}
	odd = (odd - none) / anyBad(len(cells))
	if unread := b.ev.Case.Label.Cells() - len(cells); unread > 0 {
		// The bad one may be among those that could not be read.
		share := float64(unread) / float64(b.ev.Case.Label.Cells())
		odd = (1-share)*odd + share*even
	}
	spread, shift := acidSpread, b.ev.Case.Label.GravityShift()
	if b.ev.Case.Label.FullSG != nil {
		spread = ownAcidSpread
	}
	if r.Choice(reading.Correction) == "" || r.Choice(reading.Correction) == "none" {
		_, atSigma, _ := b.ev.TemperatureAt(i)
		spread = math.Hypot(spread, battery.GravityTemperatureSigma(atSigma))
	}
	contradicted, drawn := b.unsettled(i), b.ev.EpochOf(i).Drawn
	return func(kind oddKind, percent float64) float64 {
		like, others := normal(middle-shift-twin.CellGravity(percent), spread), normal(best-shift-twin.CellGravity(percent), spread)
		if contradicted {
			like, others = 1, 1 // the cells against each other are all it tells
		}
		if kind == oddShorted || kind == oddLeaking || kind == oddLagging || drawn && kind == oddWeak {
			return others * odd
		}
		return like * even
	}
}

// ownAcidSpread is acidSpread where the label says its own full gravity: the instrument's
// error. Value from memory.
const ownAcidSpread = 0.004

// evenCell is the density of one cell's distance from its neighbours in a battery that has no
// bad one: most are close, in some they have drifted apart and an equalising charge brings
// them together.
func evenCell(distance float64) float64 {
	return cellSpread * ((1-drifted)*strict(distance, cellSpread) + drifted*strict(distance, driftedSpread))
}

// anyBad is how likely at least one of some cells is bad in a battery that has a bad one.
func anyBad(cells int) float64 { return 1 - math.Pow(1-badCells, float64(cells)) }

// upper is what the good cells of a battery with bad ones hold: its upper quartile.
func upper(list []float64) float64 {
	sorted := slices.Sorted(slices.Values(list))
	return sorted[len(sorted)*3/4]
}

func median(list []float64) float64 {
	sorted := slices.Sorted(slices.Values(list))
	return (sorted[(len(sorted)-1)/2] + sorted[len(sorted)/2]) / 2
}

// eyeRight is how often the eye, which sees one cell, tells the battery's charge.
// Value from memory.
const eyeRight = 0.9

func (b *batterySide) eye(r *reading.Reading) func(oddKind, float64) float64 {
	colour := r.Choice(reading.Colour)
	if colour != "green" && colour != "dark" {
		return nil
	}
	return func(_ oddKind, percent float64) float64 {
		if (percent >= school.EyePercent) == (colour == "green") {
			return eyeRight
		}
		return 1 - eyeRight
	}
}

// loadedAt holds what a current does to cells of four capacities at every
// charge; capacity matters little in seconds.
type loadedAt [len(loadedCapacities)][]twin.Loaded

var loadedCapacities = [...]float64{0.2, 0.45, 0.7, 1}

func (b *batterySide) loaded(at quantity.Celsius, amps quantity.Amperes, seconds quantity.Seconds) loadedAt {
	var out loadedAt
	for k, capacity := range loadedCapacities {
		out[k] = make([]twin.Loaded, len(b.engine.axis.at))
		for s, percent := range b.engine.axis.at {
			out[k][s] = b.design.Loaded(capacity, percent, at, amps, seconds)
		}
	}
	return out
}

func (l *loadedAt) of(capacity float64, s int) *twin.Loaded {
	k := 0
	for k+1 < len(loadedCapacities) && capacity > (loadedCapacities[k]+loadedCapacities[k+1])/2 {
		k++
	}
	return &l[k][s]
}

// leakingVolts is what a leaking cell lacks under load against the others, and
// its spread: it may be driven below nothing; lagLoaded and lagSpread the same of one that
// lags. Values from memory.
const (
	leakingVolts  = 1.5
	leakingSpread = 0.75
	lagLoaded     = 0.5
	lagSpread     = 0.35
)

// volts is the voltage of a battery of the grid under the current, six cells,
// and what its odd cell adds to the error.
func (l *loadedAt) volts(p *point, s int, one float64) (v, spread float64) {
	cell := l.of(p.capacity, s).Cell(p.health)
	switch p.odd {
	case oddShorted:
		return (sixCells-one)*cell + one*l.of(p.capacity, s).Shorted(p.health), 0
	case oddLeaking:
		return sixCells*cell - one*leakingVolts, one * leakingSpread
	case oddWeak:
		return (sixCells-one)*cell + one*l.of(p.oddShare, s).Cell(p.health), 0
	case oddLagging:
		return sixCells*cell - one*lagLoaded, one * lagSpread
	}
	return sixCells * cell, 0
}

// load: the volts at the end of the load against those of every battery, within
// the errors of volts, current, temperature, rating and model.
func (b *batterySide) load(i int, r *reading.Reading) rows {
	at, atSigma, _ := b.ev.TemperatureAt(i)
	v := float64(b.ev.Case.Label.PerTwelve(r.Volts()))
	seconds, _ := r.Number(reading.Seconds)
	amps, ampsSigma := b.loadAmps(r)
	loaded := b.loaded(at, quantity.Amperes(amps), quantity.Seconds(seconds))
	meter := float64(accuracy.LoadVoltsSigma(quantity.Volts(v)))
	if by := accuracy.Instrument(r.By); by != "" {
		meter = math.Max(meter, float64(accuracy.VoltsSigma(by, quantity.Volts(v))))
	}
	fixed := meter*meter + modelVolts*modelVolts + math.Pow(loadPerKelvin*float64(atSigma), 2)
	share := math.Pow(ampsSigma/amps, 2) + modelShare*modelShare + math.Pow(b.ratingSigma(), 2)
	spoilt := b.ev.Findings[i].Outcome == evidence.Fail && len(b.ev.EpochOf(i).Spoilt) > 0
	// More than the best battery gives at this charge is what the best gives.
	v = math.Min(v, sixCells*loaded[len(loaded)-1][b.highest(i)].Cell(1))
	out := b.each(i, func(p *point, s int) float64 {
		expected, spread := loaded.volts(p, s, b.one)
		drop := sixCells*b.engine.rested(b.design, s) - expected
		// Nothing published anchors what a load does to a battery part charged.
		part := partVolts * (1 - b.engine.axis.at[s]/100)
		sigma := math.Sqrt(fixed + share*drop*drop + spread*spread + part*part)
		like := strict(v-expected, sigma)
		if spoilt {
			like = (1-joinedShare)*like + joinedShare*(below(expected-v, sigma)-below(expected-v-joinedVolts, sigma))/joinedVolts
		}
		return like
	})
	b.blend(out.of)
	return out
}

// highest is the node of the highest charge a reading's epoch allows. Volts as
// low as a bad cell's tell nothing of the others' charge.
func (b *batterySide) highest(i int) int {
	high := 100.0
	epoch := b.ev.EpochOf(i)
	if _, missing := b.ev.Case.Label.MissingCell(); epoch.OpenCircuit != nil && *epoch.OpenCircuit <= missing {
		return len(b.engine.axis.at) - 1
	}
	if charge := epoch.Charge; charge != nil {
		high = charge.High
	}
	axis := b.engine.axis.at
	for s := range axis {
		if axis[s] >= high {
			return s
		}
	}
	return len(axis) - 1
}

// strangeShare is how often a load reading is that of another battery, so to
// speak: the wrong current, the wrong figure, the wrong post. Value from memory.
const strangeShare = 0.006

// blend mixes into every battery's likelihood a little of what any battery would
// have shown: a strange reading tells the less the stranger it is.
func (b *batterySide) blend(like [][]float64) {
	for s := range b.engine.axis.at {
		any := 0.0
		for p := range b.engine.points {
			any += usualClass[b.engine.points[p].class] * b.engine.points[p].weight * like[p][s]
		}
		for p := range like {
			like[p][s] += strangeShare * any
		}
	}
}

// usualClass is how batteries that come in are, by and large. Value from memory.
var usualClass = [classes]float64{sound: 0.75, worn: 0.2, deadCell: 0.03, damaged: 0.02}

// A dirty or loose joint takes up to this much of a load, in this share of
// cases. Values from memory.
const (
	joinedShare = 0.5
	joinedVolts = 2.5
)

// loadAmps is the current of a load and one sigma of it.
func (b *batterySide) loadAmps(r *reading.Reading) (amps, sigma float64) {
	if amps, ok := r.Number(reading.Amps); ok {
		return amps, float64(accuracy.AmperesSigma(quantity.Amperes(amps)))
	}
	target, ok := b.ev.Case.LoadTarget()
	if r.Choice(reading.Method) == "starter" || !ok {
		target = starterOf(b.ev.Case, b.design)
	}
	return float64(target), unsaidAmps * float64(target)
}

// ratingSigma is what the label's rating is worth in the model's own, as a share.
func (b *batterySide) ratingSigma() float64 {
	rating, standsIn := b.ev.Case.RatedFor()
	if rating == nil {
		return guessedRating
	}
	if standsIn {
		return standsInRating
	}
	sae := rating.SAE()
	return float64(sae.High-sae.Low) / (2 * battery.BandSigmas) / float64(sae.SAE)
}

// conductanceCharge is one sigma of what the charge does to a tester, as a share,
// growing from nothing at full. Value from memory.
const conductanceCharge = 0.25

// conductance: measured over rated against the power of every battery. A clamp
// may not bite. Several readings of one tester share its own error and count as
// one.
func (b *batterySide) conductance(i int, r *reading.Reading) (rows, bool) {
	switch b.ev.Findings[i].Code() {
	case evidence.ConductanceWrongType, evidence.ConductanceWrongStandard, evidence.ConductanceWrongRating, evidence.ConductanceRatingMissing:
		return rows{}, false
	}
	measured, _ := r.Number(reading.Measured)
	rated, _ := r.Number(reading.Rated)
	ratio, many := measured/rated, 0.0
	for j := range b.ev.Case.Readings {
		if b.ev.Case.Readings[j].Kind == reading.Conductance {
			many++
		}
	}
	unbitten := unbittenShare
	if len(b.ev.EpochOf(i).Spoilt) > 0 {
		unbitten = spoiltShare
	}
	own := math.Pow(accuracy.ConductanceSigma(1), 2)
	return b.each(i, func(p *point, s int) float64 {
		percent := b.engine.axis.at[s]
		expected := p.health * twin.TesterShare(percent)
		switch p.odd {
		case oddShorted:
			expected *= shortedShows
		case oddLeaking:
			expected *= leakingShows
		case oddLagging:
			expected *= laggingShows
		}
		sigma := expected * math.Sqrt(own+math.Pow(conductanceCharge*(1-percent/100), 2)+math.Pow(b.ratingSigma()/2, 2))
		like := (1-unbitten)*normal(ratio-expected, sigma) + unbitten*normal(ratio-expected*unbittenReads, expected*unbittenWide)
		if many > 1 {
			like = math.Pow(like, 1/many)
		}
		return like
	}), true
}

// A tester's clamp that does not bite: how often, after a look and on a dirty
// joint, and what it makes of the reading. A shorted cell conducts, a leaking one
// less. Values from memory.
const (
	unbittenShare = 0.06
	spoiltShare   = 0.5
	unbittenReads = 0.87
	unbittenWide  = 0.09
	shortedShows  = 1.06
	leakingShows  = 0.85
	laggingShows  = 0.95
)

// reserveShare is one sigma of the minutes a label promises, as a share, reserveWide what
// is added of the label's own minutes; flatCell what a leaking cell leaves of them. Values
// from memory.
const (
	reserveShare = 0.10
	reserveWide  = 0.03
	flatCell     = 0.3
	// labelShare is one sigma of the ampere-hours against their label, a share.
	labelShare = 0.04
)

// reserve: a discharge run to its end lasted as long as this capacity would, at
// this charge; one stopped before shows at its end the volts of what is left.
func (b *batterySide) reserve(i int, r *reading.Reading) (rows, bool) {
	if !b.design.CapacityKnown && !b.design.RatingKnown {
		return rows{}, false
	}
	amps, _ := r.Number(reading.Amps)
	minutes, _ := r.Number(reading.Minutes)
	end, _ := r.Number(reading.EndVolts)
	at, _, _ := b.ev.TemperatureAt(i)
	v := float64(b.ev.Case.Label.PerTwelve(quantity.Volts(end)))
	guess := 0.0
	if !b.design.CapacityKnown {
		guess = guessedRating
	}
	if v > float64(battery.ReserveEndVolts+endNear) {
		return b.stopped(i, v, at, amps, minutes, math.Hypot(labelShare, guess)), true
	}
	guess = math.Hypot(guess, reserveShare)
	full := b.design.New(twin.Sound, 100, at)
	held, _ := full.Discharge(quantity.Amperes(amps), quantity.Seconds(longestReserve), battery.ReserveEndVolts, at)
	promised := float64(held) / 60
	return b.each(i, func(p *point, s int) float64 {
		expected := math.Max(promised*p.reserve()*b.engine.axis.at[s]/100, leastReserve*promised)
		sigma := math.Hypot(guess*expected, reserveWide*promised) + reserveDigit
		return strict(minutes-expected, sigma)
	}), true
}

// reserve is the share of a label's capacity that a battery of the grid gives:
// that of its poorest cell.
func (p *point) reserve() float64 {
	switch p.odd {
	case oddShorted:
		return leastReserve
	case oddLeaking:
		return flatCell
	case oddWeak, oddLagging:
		return p.oddShare
	}
	return p.capacity
}

// stopped weighs the volts at the end of a discharge that was stopped.
func (b *batterySide) stopped(i int, v float64, at quantity.Celsius, amps, minutes, guess float64) rows {
	meter := float64(accuracy.VoltsSigma(accuracy.GoodMeter, quantity.Volts(v)))
	of := map[float64][]twin.Loaded{}
	take := func(capacity float64) []twin.Loaded {
		list, ok := of[capacity]
		if !ok {
			for _, percent := range b.engine.axis.at {
				list = append(list, b.design.Loaded(capacity, percent, at, quantity.Amperes(amps), quantity.Seconds(minutes*60)))
			}
			of[capacity] = list
		}
		return list
	}
	// Near its end the volts fall away within a few hundredths of capacity, less
	// than the grid parts: every node stands for what lies about it.
	return b.each(i, func(p *point, s int) float64 {
		like := 0.0
		for _, about := range capacityAbout {
			cell := take(p.capacity * about)[s].Cell(p.health)
			expected := sixCells * cell
			switch p.odd {
			case oddShorted:
				expected = (sixCells - b.one) * cell
			case oddLeaking:
				expected += b.one * (take(flatCell * about)[s].Cell(p.health) - cell)
			case oddWeak, oddLagging:
				expected += b.one * (take(p.oddShare * about)[s].Cell(p.health) - cell)
			}
			fallen := sixCells*b.engine.rested(b.design, s) - expected
			like += strict(v-expected, math.Sqrt(meter*meter+reserveVolts*reserveVolts+math.Pow(guess*fallen, 2)))
		}
		return like / float64(len(capacityAbout))
	})
}

// capacityAbout is what a node of capacity stands for.
var capacityAbout = [...]float64{0.88, 0.94, 1, 1.06, 1.12}

// reserveVolts is one sigma of the volts under a small load against the model.
// Value from memory.
const reserveVolts = 0.06

const (
	// longestReserve bounds the discharge that is worked out, seconds; leastReserve
	// is a battery that gives nothing, as a share; reserveDigit a minute's watch.
	longestReserve = 400 * 3600.0
	leastReserve   = 0.02
	reserveDigit   = 1.0
	// endNear is how near 10.5 V counts as run to its end.
	endNear quantity.Volts = 0.05
)

// StarterAmps is what a starter of this vehicle draws from a warm engine in
// order: a middling one of its kind.
func StarterAmps(v evidence.Vehicle, d *twin.Design) quantity.Amperes {
	litres := 0.0
	if v.Litres != nil {
		litres = *v.Litres
	}
	switch v.Kind {
	case "motorcycle", "mower", "offroad":
		return quantity.Amperes(d.Cranking * smallStarter)
	}
	if v.Engine == "" && litres == 0 {
		return twin.StartAmps
	}
	most, _ := school.Own(nil).Limit(school.StarterMost(v.Engine, litres))
	if v.Engine == "diesel" && litres > 0 {
		share := (litres - smallDiesel) / (largeDiesel - smallDiesel)
		return quantity.Amperes(dieselLeast + (most-dieselLeast)*math.Max(0, math.Min(1, share)))
	}
	return quantity.Amperes(most * usualStarter)
}

// starterOf is what the starter of a case draws at its system's own volts: the same power takes
// twice the current at 6 V. A small engine's goes with its battery's rating anyhow.
func starterOf(c evidence.Case, d *twin.Design) quantity.Amperes {
	amps := StarterAmps(c.Vehicle, d)
	switch c.Vehicle.Kind {
	case "motorcycle", "mower", "offroad":
		return amps
	}
	return amps * quantity.Amperes(sixCellVolts/c.SystemVolts())
}

const (
	// dieselLeast is what a small diesel's starter draws, A (common practice, no source: 250 to
	// 600); it grows with the litres from smallDiesel to largeDiesel. Those are values from
	// memory.
	dieselLeast = 250
	smallDiesel = 1.5
	largeDiesel = 6
	// usualStarter is a starter in order against the most its kind draws, and
	// smallStarter a small engine's against its battery's rating. Values from
	// memory.
	usualStarter = 0.72
	smallStarter = 0.25
	crankSeconds = 2
	// starterSpread is one sigma of a starter's current against its kind, a share.
	// Value from memory.
	starterSpread = 0.3
)

// cranking is how a turning sounds: shares of normal, slow and not at all where
// they do not hang on the battery, of silence among the latter, and of starting
// when it turns. Values from memory.
var cranking = [turnings]struct{ normal, slow, silent, starts float64 }{
	turnsFreely:  {0, 0, 0.25, 0.95},
	turnsByJoint: {0.12, 0.33, 0.40, 0.8},
	turnsByDrag:  {0.12, 0.60, 0.20, 0.85},
	turnsNot:     {0.02, 0.02, 0.90, 0.5},
	turnsNoFire:  {0, 0, 0.25, 0.04},
}

// From these volts at the posts an engine turns normally or at all, with one
// sigma each, six cells. Values from memory.
const (
	turnsWell      = 9.3
	turnsWellSigma = 0.5
	turnsAtAll     = 7.7
	turnsSigma     = 0.6
)

// crank: volts at the posts while the starter turns, and how it sounds, for
// every battery and everything a starter may meet.
func (b *batterySide) crank(i int, r *reading.Reading) rows {
	at, _, _ := b.ev.TemperatureAt(i)
	v := float64(b.ev.Case.Label.PerTwelve(r.Volts()))
	amps := starterOf(b.ev.Case, b.design) * quantity.Amperes(twin.Asks(b.ev.EngineAt(i)))
	loaded := b.loaded(at, amps, crankSeconds)
	out := rows{reading: i, turns: make([][][]float64, turnings)}
	n := len(b.engine.axis.at)
	for t := range out.turns {
		out.turns[t] = make([][]float64, len(b.engine.points))
		flat := make([]float64, n*len(b.engine.points))
		for p := range out.turns[t] {
			out.turns[t][p], flat = flat[:n:n], flat[n:]
		}
	}
	for p := range b.engine.points {
		pt := &b.engine.points[p]
		for s := range n {
			expected, spread := loaded.volts(pt, s, b.one)
			rest := sixCells * b.engine.rested(b.design, s)
			if pt.odd == oddShorted {
				rest -= b.one * rest / sixCells
			}
			h := heard{v: v, expected: expected, rest: rest, spread: spread, drop: math.Max(rest-expected, 0.2)}
			h.none = below(turnsAtAll-expected, turnsSigma)
			h.well = below(expected-turnsWell, turnsWellSigma) * (1 - h.none)
			for t := range out.turns {
				out.turns[t][p][s] = h.like(turning(t), r)
			}
		}
	}
	out.of = out.turns[turnsFreely]
	return out
}

// heard is a cranking reading against one battery: the volts read, those
// expected of it with a middling starter, and at rest; how likely it turns not at
// all and well with nothing in the way.
type heard struct {
	v, expected, rest, spread, drop float64
	none, well                      float64
}

// like is the likelihood of the reading for what the starter meets.
func (h *heard) like(t turning, r *reading.Reading) float64 {
	c, well, none := cranking[t], h.well, h.none
	if t == turnsByJoint || t == turnsByDrag || t == turnsNot {
		// What is in the way adds to what the battery cannot do.
		well, none = c.normal*well, none+(1-none)*(1-c.normal-c.slow)
	}
	slow := math.Max(1-well-none, 0.01)
	like, turns := 1.0, true
	switch r.Choice(reading.Sound) {
	case "normal":
		like = well
	case "slow", "uneven":
		like = slow
	case "silent":
		like, turns = none*c.silent, false
	case "click", "chatter":
		like, turns = none*(1-c.silent), false
	}
	like += wildShare
	if turns {
		switch r.Choice(reading.Started) {
		case reading.Yes:
			like *= c.starts
		case reading.No:
			like *= 1 - c.starts
		}
	}
	return like * h.volts(t, turns)
}

// volts is the likelihood of the volts read.
func (h *heard) volts(t turning, turns bool) float64 {
	switch {
	case t == turnsNot:
		return normal(h.v-h.rest, 0.15)
	case t == turnsByJoint && !turns:
		return normal(h.v-h.rest+0.25*h.drop, 0.25*h.drop+0.1)
	case t == turnsByJoint:
		return normal(h.v-h.rest+0.7*h.drop, math.Hypot(0.3*h.drop, 0.2))
	case t == turnsByDrag:
		return normal(h.v-h.rest+1.4*h.drop, math.Hypot(0.4*h.drop+h.spread, 0.2))
	case !turns:
		return normal(h.v-math.Min(h.expected, turnsAtAll), 1.5)
	}
	return normal(h.v-h.expected, math.Sqrt(math.Pow(starterSpread*h.drop, 2)+h.spread*h.spread+0.04))
}
