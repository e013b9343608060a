package twin

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/quantity"
)

const (
	// wellStep is the most of the fast well that one step moves.
	wellStep = 0.08
	// shortestStep and longestStep bound a discharging step, seconds.
	shortestStep = 0.05
	longestStep  = 600.0
	// endClose is how near the end of a discharge is found, seconds.
	endClose = 1e-3
)

// dischargeStep is a step that moves the fast well, and the lag at first, only
// a little.
func (b *Battery) dischargeStep(amps float64) float64 {
	g := &b.groups[b.count-1]
	if g.shorted {
		g = &b.groups[0]
	}
	step := wellStep * b.design.fast * g.ampSecs / math.Max(math.Abs(amps), 1e-9)
	// Near empty the voltage falls away: go slower there.
	step *= math.Max(g.first(b.design), wellStep)
	return math.Min(math.Max(step, shortestStep), longestStep)
}

// discharge draws a constant current until the voltage falls to a floor or the
// time is up, and returns the seconds it held.
func (b *Battery) discharge(amps, seconds, floor, air float64) float64 {
	t := 0.0
	for t < seconds {
		step := math.Min(b.dischargeStep(amps), seconds-t)
		before := *b
		b.step(amps, step, air)
		if b.volts(amps) > floor {
			t += step
			continue
		}
		return t + b.untilFloor(before, amps, step, floor, air)
	}
	return t
}

// untilFloor finds within one step where the voltage meets the floor.
func (b *Battery) untilFloor(before Battery, amps, step, floor, air float64) float64 {
	low, high := 0.0, step
	for high-low > endClose*math.Min(1, step) {
		middle := (low + high) / 2
		*b = before
		b.step(amps, middle, air)
		if b.volts(amps) > floor {
			low = middle
		} else {
			high = middle
		}
	}
	*b = before
	b.step(amps, high, air)
	return high
}

// after is the voltage at the end of some seconds of a current; the battery is
// moved on.
func (b *Battery) after(amps, seconds, air float64) float64 {
	for t := 0.0; t < seconds; {
		step := math.Min(b.dischargeStep(amps), seconds-t)
		b.step(amps, step, air)
		t += step
	}
	return b.volts(amps)
}

// Discharge draws a constant current for some seconds, or until the voltage at the posts
// falls to a floor. It returns how long it held, no time where the volts lie under the
// floor at once, and the volts at the end, under load. A current below zero charges,
// without a charger's bounds.
func (b *Battery) Discharge(
	amps quantity.Amperes,
	seconds quantity.Seconds,
	floor quantity.Volts,
	air quantity.Celsius,
) (quantity.Seconds, quantity.Volts) {
	held := b.discharge(float64(amps), float64(seconds), float64(floor), float64(air))
	return quantity.Seconds(held), quantity.Volts(b.volts(float64(amps)))
}

// Under is the voltage at the posts at the end of some seconds of a constant current in
// amperes, in one step: wells and lag exactly, warmed by what the current loses at its
// start. It is off by less than 0.03 V (six cells) against many steps wherever a limit
// lies. It may be below zero for a current the battery cannot give. The battery stays as
// it is.
func (b *Battery) Under(amps quantity.Amperes, seconds quantity.Seconds) quantity.Volts {
	later := *b
	f := later.factors()
	a, t := float64(amps), float64(seconds)
	later.lag = a
	warmer := later.watts(a, f) * t / later.joulesPerKelvin()
	later.lag = b.lag
	for i := range later.groups[:later.count] {
		later.advance(&later.groups[i], a, t, f)
	}
	later.lag += (a - later.lag) * -math.Expm1(-t/lagSeconds)
	later.surface = math.Max(later.surface-a*t/(surfaceFarad*later.design.Capacity), 0)
	later.celsius += warmer
	return quantity.Volts(later.volts(a))
}

// Resistance is the resistance in ohms that the posts show between nothing and a current,
// at the end of some seconds: the volts that are lost over the current. The current must
// not be zero.
func (b *Battery) Resistance(amps quantity.Amperes, seconds quantity.Seconds) quantity.Ohms {
	return quantity.Ohms(float64(b.Volts()-b.Under(amps, seconds)) / float64(amps))
}

// CrankingPower is the current the battery would give for 30 s at −18 °C to 7.2 V (six
// cells), charged in full and rested, as a share of the label's: 1 for one as its label
// promises it, at most 2. Source: the definition of SAE J537.
func (b *Battery) CrankingPower() float64 {
	d := b.design
	whole := *b
	whole.Fill(crankCelsius)
	low, high := 0.0, 2*d.Cranking
	for range 26 {
		amps := (low + high) / 2
		test := whole
		if test.after(amps, crankSeconds, crankCelsius) > d.twelve(crankVolts) {
			low = amps
		} else {
			high = amps
		}
	}
	return (low + high) / 2 / d.Cranking
}

// ReserveShare is how long the battery, charged in full, carries a twentieth of the
// label's ampere-hours at 25 °C to 10.5 V (six cells), as a share of the label's 20 h: 1
// for one as its label promises it, at most 2. Source: the definition of the 20 h rating.
func (b *Battery) ReserveShare() float64 {
	d := b.design
	whole := *b
	whole.Fill(slowCelsius)
	return whole.discharge(d.Capacity/slowHours, 2*slowHours*secondsPerHour, d.twelve(reserveVolts), slowCelsius) / secondsPerHour / slowHours
}

// Charger is what feeds a battery: a current up to a voltage.
type Charger struct {
	Amps  quantity.Amperes
	Volts quantity.Volts
	// PerKelvin lowers the volts for each kelvin above 25 °C and raises them
	// below it, over all cells.
	PerKelvin quantity.Volts
	// Lead is the resistance of its leads and clamps, 0 for good ones: the charger's volts
	// are its own, those at the posts are less.
	Lead quantity.Ohms
}

// ChargePoint is a moment of a charge.
type ChargePoint struct {
	Hours   float64          `json:"hours"`
	Volts   quantity.Volts   `json:"volts"`
	Amps    quantity.Amperes `json:"amps"`
	Percent float64          `json:"percent"`
	Celsius quantity.Celsius `json:"celsius"`
	AhIn    float64          `json:"ah_in"`
}

const (
	chargeCelsius = 25.0
	// chargeWell is the most of the fast well that one charging step moves;
	// chargeShortest and chargeLongest bound it, seconds.
	chargeWell     = 0.004
	chargeShortest = 1.0
	chargeLongest  = 300.0
)

// Charge charges for some hours, or until a charge in percent is reached, in air of a
// temperature, and tells each kept moment to watch, which may be nil. It returns the last:
// zero hours and the state as it is where the charge was there already. A charge that the
// charger's volts or sulphation keep out is not reached; the hours bound it.
func (b *Battery) Charge(c Charger, hours, percent float64, air quantity.Celsius, watch func(ChargePoint)) ChargePoint {
	at := ChargePoint{Percent: b.Percent(), Celsius: b.Temperature(), Volts: b.Volts()}
	for seconds := 0.0; seconds < hours*secondsPerHour && b.Percent() < percent; {
		amps, volts := b.charging(c)
		step := chargeWell * b.design.fast * b.groups[0].ampSecs / math.Max(amps, 1e-9)
		step = math.Min(math.Max(step, chargeShortest), math.Min(chargeLongest, hours*secondsPerHour-seconds))
		b.step(-amps, step, float64(air))
		seconds += step
		at = ChargePoint{
			seconds / secondsPerHour,
			quantity.Volts(volts),
			quantity.Amperes(amps),
			b.Percent(),
			b.Temperature(),
			at.AhIn + amps*step/secondsPerHour,
		}
		if watch != nil {
			watch(at)
		}
	}
	return at
}

// charging is the current a charger drives now, and the volts at the posts: by
// its limit, or where its voltage meets the resistance of the plates and the
// gas.
func (b *Battery) charging(c Charger) (amps, volts float64) {
	f := b.factors()
	limit := float64(c.Volts) - float64(c.PerKelvin)*(b.celsius-chargeCelsius)
	push, ohms := b.surface*float64(b.design.Cells)/cellsOfTables, 0.0
	for i := range b.groups[:b.count] {
		g := &b.groups[i]
		e := b.cellEMF(g)
		push += g.cells * e
		ohms += g.cells * (e - b.cellVolts(g, -1, f)) * -1
	}
	gas := b.gassing(limit/float64(b.design.Cells), f)
	lead := float64(c.Lead)
	amps = math.Max((limit-push)/(ohms+lead), 0) + gas
	if most := float64(c.Amps); amps > most {
		return most, math.Min(push+most*ohms, limit-most*lead)
	}
	return amps, limit - amps*lead
}

// Air is a temperature by hours from the start.
type Air func(hours float64) quantity.Celsius

// Steady is air that does not change.
func Steady(at quantity.Celsius) Air { return func(float64) quantity.Celsius { return at } }

// Climate is the air of a place by the day of the year: a yearly and a daily
// swing about a mean, coldest in the middle of January and before sunrise.
type Climate struct {
	Mean, Year, Day quantity.Celsius
}

const (
	hoursPerDay  = 24.0
	daysPerYear  = 365.25
	coldestDay   = 15.0
	coldestHour  = 5.0
	dayOfTwoPi   = 2 * math.Pi / hoursPerDay
	yearOfTwoPi  = 2 * math.Pi / daysPerYear
	parkShortest = 600.0
	parkLongest  = 6 * 3600.0
	parkWell     = 0.01
)

// From is the air from a day of the year on, 0 to 365.
func (c Climate) From(day float64) Air {
	return func(hours float64) quantity.Celsius {
		when := day + hours/hoursPerDay
		year := -math.Cos((when - coldestDay) * yearOfTwoPi)
		daily := -math.Cos((hours - coldestHour) * dayOfTwoPi)
		return c.Mean + c.Year*quantity.Celsius(year) + c.Day*quantity.Celsius(daily)
	}
}

// ParkPoint is a moment of standing.
type ParkPoint struct {
	Hours   float64          `json:"hours"`
	Volts   quantity.Volts   `json:"volts"`
	Percent float64          `json:"percent"`
	Celsius quantity.Celsius `json:"celsius"`
	// Margin is how many kelvin the electrolyte is above its freezing point.
	Margin quantity.Celsius `json:"margin"`
}

// Park lets the battery stand with a drain in amperes, zero for none, for some hours in
// air, and tells each step to watch, which may be nil and stops the standing by returning
// false. It returns the last step.
func (b *Battery) Park(drain quantity.Amperes, hours float64, air Air, watch func(ParkPoint) bool) ParkPoint {
	var at ParkPoint
	for seconds := 0.0; seconds < hours*secondsPerHour; {
		step := parkWell * b.design.fast * b.groups[b.count-1].ampSecs / math.Max(float64(drain), 1e-9)
		step = math.Min(math.Max(step, parkShortest), math.Min(parkLongest, hours*secondsPerHour-seconds))
		b.step(float64(drain), step, float64(air((seconds+step/2)/secondsPerHour)))
		seconds += step
		if watch == nil {
			continue
		}
		at = b.parked(seconds / secondsPerHour)
		if !watch(at) {
			return at
		}
	}
	return b.parked(hours)
}

func (b *Battery) parked(hours float64) ParkPoint {
	percent := b.Percent()
	freezes := battery.FreezingPoint(battery.GravityFromCharge(percent))
	return ParkPoint{hours, b.Volts(), percent, b.Temperature(), b.Temperature() - freezes}
}

// standShare is the most of its capacity that one step of Stand takes, so that a heavy drain is
// followed as closely as a light one.
const standShare = 0.02

// Stand lets the battery stand for whole days with a drain in amperes, zero for none, each day
// at one temperature, and tells the charge in percent at its beginning, and at the end of the
// last. Steps are a day long where little is drawn: for seasons, where Park is for hours.
func (b *Battery) Stand(drain quantity.Amperes, days int, air func(day int) quantity.Celsius, watch func(day int, percent float64)) {
	const day = hoursPerDay * secondsPerHour
	most := standShare * b.groups[0].ampSecs / math.Max(float64(drain), 1e-9)
	steps := math.Ceil(day / math.Min(most, day))
	for d := range days {
		watch(d, b.Percent())
		at := float64(air(d))
		for range int(steps) {
			b.step(float64(drain), day/steps, at)
		}
	}
	watch(days, b.Percent())
}

// Accept is the current in amperes, not below zero, that a charger would drive into the
// battery now, and the volts at the posts with it: the charger's current while it is all
// taken, else its volts. The battery stays as it is.
func (b *Battery) Accept(c Charger) (quantity.Amperes, quantity.Volts) {
	amps, volts := b.charging(c)
	return quantity.Amperes(amps), quantity.Volts(volts)
}

// Cells is the number of cells in series.
func (b *Battery) Cells() int { return b.design.Cells }

// Fill charges the battery in full and lets it rest at a temperature. What
// sulphation keeps out stays out, and a cell that discharges itself has done so
// for the hours of the rest.
func (b *Battery) Fill(at quantity.Celsius) {
	b.Rest(percentOfShare * (1 - b.sulphation*sulphationKeeps))
	b.Warm(at)
	if b.count == 2 && b.groups[1].shunt > 0 {
		b.Park(0, restHours, Steady(at), nil)
	}
}

const (
	// sulphationKeeps is how much of the charge sulphated plates do not take up.
	// Value from memory.
	sulphationKeeps = 0.15
	// restHours is a rest after a full charge: over night.
	restHours = 10.0
)

// Conductance is the share of the label's cranking power that a small signal
// shows: the plates' resistance and reaction, most of what the charge does to
// them taken out, as testers do by the volts they read.
func (b *Battery) Conductance() float64 {
	cells, ohms := 0.0, 0.0
	for i := range b.groups[:b.count] {
		g := &b.groups[i]
		h := math.Max(g.first(b.design), leastWell)
		rise := math.Sqrt(math.Sqrt(1 + emptyRise*(1/h-1)))
		if g.shorted {
			rise *= shortOhms
		}
		cells += g.cells
		ohms += g.cells * rise / g.health
	}
	return cells / ohms
}

// Loaded is a constant current at its end, ready to be asked for cells of any
// health: what the wells and the temperature do to it does not hang on health.
type Loaded struct {
	emf, ohmic, kinetic, scale float64 // of one cell
}

// Loaded draws a current for some seconds from cells of a capacity share, at a
// charge in percent and a temperature.
func (d *Design) Loaded(capacity, percent float64, at quantity.Celsius, amps quantity.Amperes, seconds quantity.Seconds) Loaded {
	b := d.New(Condition{Health: 1, Capacity: capacity}, percent, at)
	f, g := b.factors(), &b.groups[0]
	b.advance(g, float64(amps), float64(seconds), f)
	h := math.Max(g.first(d), leastWell)
	followed := float64(amps) * -math.Expm1(-float64(seconds)/lagSeconds)
	return Loaded{
		emf:     d.cellEMF(h*(1+d.excess)-d.excess, b.celsius),
		ohmic:   float64(amps) * d.ohmic / cellsOfTables / d.Cranking * f.ohmic * (1 + emptyRise*(1/h-1)),
		kinetic: followed * f.kinetic / (kineticShare * d.Cranking), scale: f.rt,
	}
}

// Cell is the voltage under the load of one cell of a health, a share of the label's
// cranking power above zero. A cell that cannot give the current is driven the other way,
// no further than reversed cells go.
func (l Loaded) Cell(health float64) float64 {
	return math.Max(l.emf-l.ohmic/health-l.scale*math.Asinh(l.kinetic/health), -reversal)
}

// Shorted is the voltage under the load of a shorted cell of a health above zero: nothing
// but a loss, so that it is not above zero.
func (l Loaded) Shorted(health float64) float64 { return -l.ohmic / health * shortOhms }

// RestedCell is the rested voltage of one cell at a charge of 0 to 100 % and a temperature.
func (d *Design) RestedCell(percent float64, at quantity.Celsius) float64 {
	return d.cellEMF(percent/percentOfShare, float64(at))
}

// CellGravity is the specific gravity, at 26.7 °C, of a cell at a charge of 0 to 100 %:
// 1.120 to 1.265, a curve through the trade's table (battery.GravityFromCharge).
func CellGravity(percent float64) float64 { return gravityAt(percent / percentOfShare) }

// TesterShare is what a conductance tester makes of a charge in percent: the
// share of the cranking power of the full battery it shows.
func TesterShare(percent float64) float64 {
	h := math.Max(percent/percentOfShare, emptyTester)
	return 1 / math.Sqrt(math.Sqrt(1+emptyRise*(1/h-1)))
}

// emptyTester is the charge share below which a tester shows no less. Value from
// memory.
const emptyTester = 0.05
