package diagnosis

import (
	"math"

	"grapnel/core/quantity"
)

// class is one of the four conditions of a battery.
type class int8

const (
	sound class = iota
	worn
	deadCell
	damaged
	classes
)

// oddKind is how one cell differs from the others.
type oddKind int8

const (
	oddNone oddKind = iota
	oddShorted
	oddLeaking
	oddWeak
	// oddLagging is a cell that charges less than the others and gives less.
	oddLagging
	oddKinds
)

// point is one battery a case may have. Its weight is its share within its
// class.
type point struct {
	class            class
	health, capacity float64
	odd              oddKind
	oddShare         float64 // capacity of the odd cell
	weight           float64
}

// knot is a corner of a density drawn in straight lines.
type knot struct{ at, density float64 }

// How power and capacity lie in batteries that come in: most sound ones hold
// between 0.75 and 1 of their label, worn ones all below that. Values from
// memory; a battery is sound from 0.70 of its power and 0.60 of its capacity on,
// which is where the trade's limits lie.
var (
	soundHealth   = []knot{{0.70, 0.25}, {0.78, 0.7}, {0.88, 1}, {0.97, 0.8}, {1.08, 0.15}}
	wornHealth    = []knot{{0.12, 0.25}, {0.35, 0.8}, {0.55, 1}, {0.64, 0.9}, {0.70, 0.6}}
	soundCapacity = []knot{{0.60, 0.2}, {0.75, 0.7}, {0.90, 1}, {1.05, 0.6}}
	// wornCapacity goes with lost power, lostCapacity stands by itself under power
	// that holds.
	wornCapacity = []knot{{0.15, 0.3}, {0.40, 0.9}, {0.60, 1}, {0.90, 0.35}}
	lostCapacity = []knot{{0.15, 0.3}, {0.35, 0.8}, {0.60, 1}}
	heldHealth   = []knot{{0.70, 0.9}, {0.80, 1}, {1.00, 0.2}}
)

// Shares within the classes. Values from memory.
const (
	// lostShare of the worn have lost capacity and hold their power.
	lostShare = 0.12
	// Of bad cells these are shorted, leak, have little capacity, or lag behind the others.
	shortedShare = 0.32
	leakingShare = 0.20
	weakShare    = 0.28
	laggingShare = 0.20
)

// Nodes of the grid along each density; fine multiplies them.
const (
	healthNodes   = 9
	capacityNodes = 3
	damagedNodes  = 7
	lostNodes     = 5
	chargeNodes   = 26
)

// gives is the share of the label's ampere-hours that the cells alike of a battery hold.
func (p *point) gives() float64 { return p.capacity }

// grid lists the batteries a case may have.
func grid(fine int) []point {
	var list []point
	add := func(c class, share float64, health, capacity []node) {
		for _, h := range health {
			for _, q := range capacity {
				list = append(list, point{class: c, health: h.at, capacity: q.at, weight: share * h.weight * q.weight})
			}
		}
	}
	add(sound, 1, nodes(soundHealth, healthNodes*fine), nodes(soundCapacity, capacityNodes*fine))
	add(worn, 1-lostShare, nodes(wornHealth, healthNodes*fine), nodes(wornCapacity, lostNodes*fine))
	add(worn, lostShare, nodes(heldHealth, capacityNodes*fine), nodes(lostCapacity, lostNodes*fine))
	for _, h := range nodes(soundHealth, capacityNodes*fine) {
		list = append(list,
			point{deadCell, h.at, 0.9, oddShorted, 1, shortedShare * h.weight},
			point{deadCell, h.at, 0.9, oddLeaking, 0.8, leakingShare * h.weight},
			point{deadCell, h.at, 0.9, oddWeak, 0.2, weakShare * h.weight / 2},
			point{deadCell, h.at, 0.9, oddWeak, 0.45, weakShare * h.weight / 2},
			point{deadCell, h.at, 0.9, oddLagging, 0.5, laggingShare * h.weight},
		)
	}
	for _, h := range nodes([]knot{{0.1, 1}, {1, 1}}, damagedNodes*fine) {
		list = append(list, point{class: damaged, health: h.at, capacity: h.at, weight: h.weight})
	}
	return list
}

// node is a place on a density and the share of it that it stands for.
type node struct{ at, weight float64 }

// nodes stand for a density: n slices of equal width, each at its middle.
func nodes(knots []knot, n int) []node {
	first, last := knots[0].at, knots[len(knots)-1].at
	list, sum := make([]node, n), 0.0
	for i := range list {
		at := first + (last-first)*(float64(i)+0.5)/float64(n)
		list[i] = node{at, densityAt(knots, at)}
		sum += list[i].weight
	}
	for i := range list {
		list[i].weight /= sum
	}
	return list
}

func densityAt(knots []knot, at float64) float64 {
	x, y := func(k knot) float64 { return k.at }, func(k knot) float64 { return k.density }
	return quantity.Graph[knot]{Points: knots, X: x, Y: y}.At(at)
}

// profile is how charged a battery is likely to be.
type profile int8

const (
	profileNormal profile = iota
	profileLow
	profileFlat
	// profileWeak is a battery that does not hold what it is given.
	profileWeak
	arrivals       // the profiles a battery can arrive with
	profileCharged = arrivals
	profileTired   = arrivals + 1
	profiles       = arrivals + 2
)

// profileDensities are the charges by percent: of a battery nothing draws on, of
// one that loses ground, of one that something emptied, of one that does not hold, of one
// charged in full, and of sulphated plates charged in full. Values from memory.
var profileDensities = [profiles][]knot{
	profileNormal:  {{0, 0.03}, {40, 0.08}, {60, 0.3}, {75, 0.8}, {90, 1}, {100, 0.8}},
	profileLow:     {{0, 0.6}, {30, 1}, {60, 1}, {80, 0.4}, {100, 0.1}},
	profileFlat:    {{0, 1}, {25, 0.9}, {60, 0.25}, {100, 0.03}},
	profileWeak:    {{0, 0.2}, {40, 0.25}, {60, 0.4}, {75, 0.8}, {90, 1}, {100, 0.8}},
	profileCharged: {{0, 0.0015}, {60, 0.005}, {85, 0.12}, {95, 1}, {100, 1.4}},
	profileTired:   {{0, 0.05}, {50, 0.05}, {80, 0.15}, {88, 0.5}, {95, 1}, {100, 0.9}},
}

// charges are the nodes of charge and each profile's share of them.
type charges struct {
	at     []float64
	shares [profiles][]float64
}

func chargeAxis(fine int) charges {
	n := chargeNodes * fine
	var c charges
	for i := range n {
		c.at = append(c.at, 100*(float64(i)+0.5)/float64(n))
	}
	for p, knots := range profileDensities {
		for _, node := range nodes(knots, n) {
			c.shares[p] = append(c.shares[p], node.weight*(1-deepOf[p]))
		}
		c.shares[p][0] += deepOf[p]
	}
	return c
}

// deepOf is how often a battery comes in drawn below flat, by how charged it is likely to
// be: the commonest flat battery is just that. Values from memory.
var deepOf = [profiles]float64{profileNormal: 0.006, profileLow: 0.10, profileFlat: 0.30, profileWeak: 0.05, profileTired: 0.004}

// normal is the density of a normal distribution at a distance of its middle, on
// a floor that keeps one wild reading from ruling out everything.
func normal(distance, sigma float64) float64 { return floored(distance, sigma, wildShare) }

// strict is normal for what is read with care and looked at twice.
func strict(distance, sigma float64) float64 { return floored(distance, sigma, strictShare) }

func floored(distance, sigma, floor float64) float64 {
	z := distance / sigma
	if z > 6 || z < -6 {
		return floor / sigma
	}
	return (math.Exp(-z*z/2)*inverseRootTwoPi + floor) / sigma
}

// below is the share of a normal distribution below a distance of its middle.
func below(distance, sigma float64) float64 { return 0.5 * math.Erfc(-distance/sigma/math.Sqrt2) }

const (
	// wildShare is how likely a reading is that nothing explains: misread, mistyped;
	// strictShare where it would be noticed. Values from memory.
	wildShare        = 0.0008
	strictShare      = 0.00001
	inverseRootTwoPi = 0.3989422804014327
)
