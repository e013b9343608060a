// Package twin holds the battery as a model: six cells with two charge wells
// each, calibrated from a label so that the published definitions of cranking
// amperes, reserve and ampere-hours come out of it, and the virtual vehicle
// around it. It serves the forecasts, the cranking predictions, the virtual
// vehicles of the study and the likelihoods of the diagnosis alike.
//
// A Battery is a plain value: copying it copies its state, so that a forecast is
// made on a copy. Currents are positive when they discharge.
package twin

import (
	"cmp"
	"math"

	"grapnel/core/battery"
	"grapnel/core/quantity"
)

// Condition is what a battery has become: shares of what its label promises.
type Condition struct {
	// Health is the share of the label's cranking power the plates can give.
	Health float64
	// Capacity is the share of the label's ampere-hours they can give.
	Capacity float64
	// Sulphation hinders charging: 0 for none, below 1.
	Sulphation float64
	// Loses is self-discharge as a share of a new one's of its plates; 0 is taken as 1.
	Loses float64
	// Odd is one cell that differs from the others; nil for none.
	Odd *Cell
}

// Cell is one odd cell.
type Cell struct {
	// Health and Capacity are shares as in Condition, of the label.
	Health, Capacity float64
	// Shorted marks plates that touch: the cell gives no volts.
	Shorted bool
	// Shunt discharges the cell by itself through a resistance; 0 for none.
	Shunt quantity.Ohms
}

// Sound is a battery as its label promises it.
var Sound = Condition{Health: 1, Capacity: 1}

// group is a number of cells alike.
type group struct {
	cells   float64
	health  float64 // share of cranking power
	ampSecs float64 // charge of the full wells, A·s
	shunt   float64 // ohms, 0 for none
	shorted bool
	held    float64 // charge in both wells, A·s
	apart   float64 // second well less first, as a share
}

// Battery is a battery and its state. Make one with Design.New.
type Battery struct {
	design     *Design
	groups     [2]group
	count      int
	sulphation float64
	loses      float64 // self-discharge against a new one's of its plates
	surface    float64 // volts over six cells
	lag        float64 // A, the current the plates have followed
	celsius    float64
	heat       factors // of celsius
}

// factors are the temperature's own, kept because they are dear.
type factors struct {
	celsius                              float64
	ohmic, kinetic, exchange, accept, rt float64
	gas                                  float64
	known                                bool
}

const (
	absoluteZero = -273.15
	// reference is 26.7 °C in kelvin, where the tables of the trade hold.
	reference = 299.85
	// Activation temperatures in kelvin: of the plates' resistance, of the
	// reaction, of the exchange between the wells and of accepting charge.
	ohmicKelvin    = 1100.0
	kineticKelvin  = 1000.0
	exchangeKelvin = 2500.0
	acceptKelvin   = 4920.0
	// gasConstant over faradayConstant, volts per kelvin. Exact by definition.
	gasConstant     = 8.31446261815324
	faradayConstant = 96485.33212
	// emptyRise is how much the resistance grows as the fast well empties.
	emptyRise = 0.25
	// kineticShare of the cranking amperes is the exchange current of the plates.
	kineticShare = 0.02
	// lagSeconds is how long the plates take to follow a current.
	lagSeconds = 0.3
	// leastWell keeps the model finite at a well run dry.
	leastWell = 1e-3
	// dryWell is the charge of the fast well below which a cell gives way.
	dryWell = 4e-3
	// reversal is how far a dry cell is driven below nothing, volts.
	reversal = 0.6
	// shortOhms is the resistance left in a shorted cell as a share of a sound
	// one's.
	shortOhms = 0.6

	// surfaceFarad is the capacity of surface charge for each ampere-hour,
	// surfaceSeconds its decay.
	surfaceFarad   = 30.0
	surfaceSeconds = battery.SurfaceHours * secondsPerHour
	// Heat: joules per kelvin and ampere-hour of six cells, and the seconds in which the
	// battery follows the air.
	heatCapacity = 240.0
	heatSeconds  = 6 * 3600.0

	// Gassing and self-discharge, one law: gasAmps for each ampere-hour at
	// gasVolts a cell and gasCelsius, by gasPerVolt and gasPerKelvin.
	gasAmps      = 16e-5
	gasVolts     = 2.23
	gasCelsius   = 20.0
	gasPerVolt   = 11.0
	gasPerKelvin = 0.0693

	// acceptOhms is the charging resistance of one ampere-hour at half charge,
	// V·h; acceptFull the share of charge where nothing more goes in.
	acceptOhms = 0.45
	acceptFull = 1.01
	// stored is the share of the charging current that is stored.
	stored = 0.96

	// heatClose is how far the temperature moves, in kelvin, before its factors
	// are worked out anew.
	heatClose = 0.01

	cellsOfTables  = 6.0
	secondsPerHour = 3600.0
	percentOfShare = 100.0
)

// New makes a battery of this label in a condition, at rest at a charge of 0 to
// 100 % of its own capacity and a temperature.
func (d *Design) New(c Condition, percent float64, at quantity.Celsius) Battery {
	b := Battery{design: d, count: 1, sulphation: c.Sulphation, loses: cmp.Or(c.Loses, 1), celsius: float64(at)}
	cells := float64(d.Cells)
	if c.Odd != nil {
		b.count, cells = 2, cells-1
		b.groups[1] = d.group(1, c.Odd.Health, c.Odd.Capacity)
		b.groups[1].shunt, b.groups[1].shorted = float64(c.Odd.Shunt), c.Odd.Shorted
	}
	b.groups[0] = d.group(cells, c.Health, c.Capacity)
	b.Rest(percent)
	return b
}

func (d *Design) group(cells, health, capacity float64) group {
	return group{cells: cells, health: health, ampSecs: capacity * d.Capacity * secondsPerHour * (1 + d.excess)}
}

// Rest sets the charge in percent and takes all that passes with time away:
// surface charge, the difference of the wells. A cell with a shunt or less
// capacity is set to the same charge as the others.
func (b *Battery) Rest(percent float64) {
	for i := range b.groups[:b.count] {
		g := &b.groups[i]
		g.held = g.ampSecs * (percent/percentOfShare + b.design.excess) / (1 + b.design.excess)
		g.apart = 0
	}
	b.surface, b.lag = 0, 0
}

// RestOdd sets the charge of the odd cell alone, in percent.
func (b *Battery) RestOdd(percent float64) {
	if b.count == 2 {
		g := &b.groups[1]
		g.held = g.ampSecs * (percent/percentOfShare + b.design.excess) / (1 + b.design.excess)
		g.apart = 0
	}
}

// Temperature is that of the electrolyte.
func (b *Battery) Temperature() quantity.Celsius { return quantity.Celsius(b.celsius) }

// Warm brings the battery to a temperature, °C, as it stands.
func (b *Battery) Warm(at quantity.Celsius) { b.celsius = float64(at) }

// Percent is the state of charge, 0 to 100, of what the plates can still give: that of
// the cells alike, whatever an odd one holds.
func (b *Battery) Percent() float64 { return percentOf(b.design, &b.groups[0]) }

func percentOf(d *Design, g *group) float64 {
	p := (g.held/g.ampSecs*(1+d.excess) - d.excess) * percentOfShare
	return math.Min(math.Max(p, 0), percentOfShare)
}

// AmpereHours is the charge held in the cells alike, in ampere-hours above what
// the 20 h discharge leaves; negative when they were drawn below it.
func (b *Battery) AmpereHours() float64 {
	g := &b.groups[0]
	return (g.held - g.ampSecs*b.design.excess/(1+b.design.excess)) / secondsPerHour
}

// Gravities is the specific gravity of each cell, corrected to 26.7 °C, between some 1.00
// and 1.30; the odd one last.
func (b *Battery) Gravities() []float64 {
	out := make([]float64, 0, b.design.Cells)
	for i := range b.groups[:b.count] {
		g := &b.groups[i]
		share := percentOf(b.design, g) / percentOfShare
		if g.shorted {
			share = 0
		}
		for range int(g.cells) {
			out = append(out, gravityAt(share))
		}
	}
	return out
}

// gravityAt is the acid's specific gravity by charge: the published table as a
// curve.
func gravityAt(share float64) float64 { return 1.120 + 0.135*share + 0.010*share*share }

func (b *Battery) factors() *factors {
	if !b.heat.known || math.Abs(b.heat.celsius-b.celsius) > heatClose {
		kelvin := b.celsius - absoluteZero
		inverse := 1/kelvin - 1/reference
		// One exponential, its powers for the others.
		hundred := math.Exp(100 * inverse)
		b.heat = factors{
			celsius: b.celsius, known: true, kinetic: power(hundred, 10), rt: 2 * gasConstant / faradayConstant * kelvin,
			gas: math.Exp(gasPerKelvin * (b.celsius - gasCelsius)), accept: math.Exp(acceptKelvin * inverse),
		}
		b.heat.ohmic = b.heat.kinetic * hundred
		b.heat.exchange = b.heat.ohmic * b.heat.ohmic * hundred * hundred * hundred
	}
	return &b.heat
}

func power(x float64, n int) float64 {
	y := 1.0
	for range n {
		y *= x
	}
	return y
}

// first is the share of charge in the fast well.
func (g *group) first(d *Design) float64 { return g.held/g.ampSecs - (1-d.fast)*g.apart }

// cellVolts is the voltage of one cell of a group at a current.
func (b *Battery) cellVolts(g *group, amps float64, f *factors) float64 {
	d := b.design
	cranking := g.health * d.Cranking
	ohms := d.ohmic / cellsOfTables / cranking * f.ohmic
	if g.shorted {
		return -amps * ohms * shortOhms
	}
	h := math.Max(g.first(d), leastWell)
	e := d.cellEMF(h*(1+d.excess)-d.excess, b.celsius)
	if amps < 0 {
		return e - amps*(ohms+b.acceptance(g, h, f))
	}
	v := e - amps*ohms*(1+emptyRise*(1/h-1)) - f.rt*math.Asinh(b.lag*f.kinetic/(kineticShare*cranking))
	if amps > 0 && h < dryWell {
		// The last of a cell goes at once, whatever the current.
		v = -reversal + (v+reversal)*(h-leastWell)/(dryWell-leastWell)
	}
	return math.Max(v, -reversal)
}

// acceptance is the charging resistance of one cell: it grows as the plates
// fill, in the cold and with sulphation.
func (b *Battery) acceptance(g *group, h float64, f *factors) float64 {
	room := math.Max(acceptFull-h, 1e-6)
	clear := 1 - b.sulphation
	ampereHours := g.ampSecs / secondsPerHour / (1 + b.design.excess)
	return acceptOhms / cellsOfTables / ampereHours * f.accept * math.Sqrt2 / 2 / (room * math.Sqrt(room)) / (clear * clear)
}

// volts is the voltage at the posts at a current.
func (b *Battery) volts(amps float64) float64 {
	f := b.factors()
	v := b.surface * float64(b.design.Cells) / cellsOfTables
	for i := range b.groups[:b.count] {
		g := &b.groups[i]
		v += g.cells * b.cellVolts(g, amps, f)
	}
	return v
}

// Volts is the voltage at the posts now, with nothing drawn: rested volts and what is
// left of a surface charge or of the lag behind a load.
func (b *Battery) Volts() quantity.Volts {
	resting := *b
	resting.lag = 0
	return quantity.Volts(resting.volts(0))
}

// step moves the battery on by some seconds at a constant current, in air of a
// temperature. Wells, lag and surface charge follow exactly; the temperature by
// the losses at the start of the step.
func (b *Battery) step(amps, seconds, air float64) {
	f := b.factors()
	d := b.design
	watts := b.watts(amps, f)
	for i := range b.groups[:b.count] {
		b.advance(&b.groups[i], amps, seconds, f)
	}
	b.lag += (math.Max(amps, 0) - b.lag) * -math.Expm1(-seconds/lagSeconds)
	farad := surfaceFarad * d.Capacity
	settled := -amps * surfaceSeconds / farad
	b.surface = settled + (b.surface-settled)*math.Exp(-seconds/surfaceSeconds)
	b.surface = math.Min(math.Max(b.surface, 0), float64(battery.SurfaceMost))
	toward := air + watts/b.joulesPerKelvin()*heatSeconds
	b.celsius = toward + (b.celsius-toward)*math.Exp(-seconds/heatSeconds)
}

// joulesPerKelvin is the heat it takes to warm the battery.
func (b *Battery) joulesPerKelvin() float64 {
	return heatCapacity * b.design.Capacity * float64(b.design.Cells) / cellsOfTables
}

// watts is the heat the current makes inside.
func (b *Battery) watts(amps float64, f *factors) float64 {
	if amps == 0 {
		return 0
	}
	lost := 0.0
	for i := range b.groups[:b.count] {
		g := &b.groups[i]
		lost += g.cells * (b.cellEMF(g) - b.cellVolts(g, amps, f))
	}
	return math.Abs(amps * lost)
}

func (b *Battery) cellEMF(g *group) float64 {
	if g.shorted {
		return 0
	}
	d := b.design
	return d.cellEMF(math.Max(g.first(d), leastWell)*(1+d.excess)-d.excess, b.celsius)
}

// advance moves the wells of one group.
func (b *Battery) advance(g *group, amps, seconds float64, f *factors) {
	if g.shorted {
		return
	}
	v := b.cellVolts(g, amps, f)
	lost := b.gassing(v, f)
	if g.shunt > 0 {
		lost += math.Max(v, 0) / g.shunt
	}
	net := amps
	if amps < 0 {
		// Of a charging current what gasses is not stored, and a little is lost.
		net = math.Min((amps+lost)*stored, 0)
		lost = math.Max(lost+amps, 0)
	}
	net += lost
	k := b.design.exchange * f.exchange
	settled := net / (b.design.fast * g.ampSecs) / k
	g.apart = settled + (g.apart-settled)*math.Exp(-k*seconds)
	g.held = math.Min(math.Max(g.held-net*seconds, 0), g.ampSecs)
	// Neither well holds less than nothing.
	if most := g.held / g.ampSecs / (1 - b.design.fast); g.apart > most {
		g.apart = most
	}
}

// gassing is the current that makes gas, or discharges the cell at rest.
func (b *Battery) gassing(cell float64, f *factors) float64 {
	return gasAmps * b.design.Capacity * b.design.self * b.loses * f.gas * math.Exp(gasPerVolt*(cell-gasVolts))
}
