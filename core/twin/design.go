package twin

import (
	"math"
	"sync"

	"grapnel/core/battery"
	"grapnel/core/quantity"
)

// Design is a label as a model: its figures, and the constants that make the
// published definitions come out of it. It is read-only once calibrated.
type Design struct {
	Chemistry battery.Chemistry
	Cells     int
	// Capacity is the 20 h capacity in ampere-hours, Cranking the SAE cranking
	// amperes, Reserve the minutes at 25 A.
	Capacity, Cranking, Reserve float64
	// RatingKnown tells whether the label has a rating; CapacityKnown whether it
	// has ampere-hours or a reserve. What it lacks is guessed.
	RatingKnown, CapacityKnown bool

	ohmic    float64 // volts over six cells taken by the cranking amperes at 26.7 °C
	excess   float64 // charge below the 20 h discharge's end, as a share
	exchange float64 // between the wells, per second at 26.7 °C
	fast     float64 // share of the fast well
	self     float64 // self-discharge against a calcium battery's
	emf      [5]float64
}

// What a label that says nothing is taken for: a middling car battery. Values
// from memory.
const (
	usualCapacity = 60.0
	usualCranking = 540.0
)

// Fast well: a share for each ampere of rating and ampere-hour, within bounds.
const (
	fastPerRate = 0.03
	fastLeast   = 0.25
	fastMost    = 0.5
)

// Flooded electromotive force over six cells: 11.89 + 0.66 s + 0.10 s² V, the
// open-circuit table as a curve, with 0.2 mV for each cell and kelvin.
const (
	emfFlat      = 11.89
	emfRise      = 0.66
	emfCurve     = 0.10
	emfPerKelvin = 2e-4
	tableCelsius = float64(battery.TableCelsius)
	quarters     = 4
)

// selfShare is self-discharge against a calcium battery's, by plates.
var selfShare = map[string]float64{"antimony": 8.0 / 3, "calcium": 1, "efb": 1, "agm": 2.0 / 3, "gel": 2.0 / 3}

// Designs calibrates labels and keeps what it has calibrated. The zero value is
// ready; it is safe for use by several at once.
type Designs struct {
	mu    sync.Mutex
	known map[key]*Design
}

// key is what of a label the model depends on.
type key struct {
	chemistry                   battery.Chemistry
	cells                       int
	plates                      string
	capacity, cranking, reserve float64
	ratingKnown, capacityKnown  bool
}

// keptDesigns bounds what is kept, well above the labels a shop sees in a year.
const keptDesigns = 4096

// Of is the design of a label; false where its chemistry is not judged.
func (s *Designs) Of(l battery.Label) (*Design, bool) {
	if !l.Chemistry.Judged() || l.Cells() == 0 {
		return nil, false
	}
	k := keyOf(l)
	s.mu.Lock()
	defer s.mu.Unlock()
	if d, ok := s.known[k]; ok {
		return d, true
	}
	if s.known == nil || len(s.known) >= keptDesigns {
		s.known = map[key]*Design{}
	}
	d := calibrate(k)
	s.known[k] = d
	return d, true
}

// Calibrate is the design of one label; false where its chemistry is not judged.
func Calibrate(l battery.Label) (*Design, bool) {
	if !l.Chemistry.Judged() || l.Cells() == 0 {
		return nil, false
	}
	return calibrate(keyOf(l)), true
}

// keyOf fills in what a label leaves out, from what it has.
func keyOf(l battery.Label) key {
	k := key{chemistry: l.Chemistry, cells: l.Cells(), plates: l.Plates(), capacity: usualCapacity, cranking: usualCranking}
	if c, ok := l.AnyCapacity(); ok {
		k.capacity = c.Value
		_, k.capacityKnown = l.Capacity()
	}
	switch {
	case l.Rating != nil:
		k.cranking, k.ratingKnown = float64(l.Rating.SAE().SAE), true
	case k.capacityKnown:
		k.cranking = k.capacity * usualCranking / usualCapacity
	}
	if l.ReserveMin != nil {
		k.reserve = float64(*l.ReserveMin)
	} else {
		k.reserve = reserveBy(k.capacity)
	}
	return k
}

// reserveBy is the reserve of ampere-hours by the usual exponent of a starting
// battery, as battery.Label.MinutesAt has it.
func reserveBy(capacity float64) float64 {
	ah := quantity.AmpereHours(capacity)
	minutes, _ := battery.Label{CapacityAh: &ah}.MinutesAt(reserveAmps, battery.TableCelsius)
	return float64(minutes)
}

// The definitions a label is held against. Source: SAE J537 for cranking
// amperes and reserve, EN 50342-1 for ampere-hours, values from memory.
const (
	crankCelsius  = -17.8
	crankSeconds  = 30.0
	crankVolts    = 7.2
	reserveAmps   = 25.0
	reserveVolts  = 10.5
	slowHours     = 20.0
	slowCelsius   = 25.0
	minuteSeconds = 60.0
)

// Bounds of the constants, and how close the calibration goes.
const (
	excessLeast, excessMost     = 0.005, 0.6
	exchangeLeast, exchangeMost = 2e-6, 0.05
	ohmicLeast, ohmicMost       = 0.05, 6.0
	calibrationRounds           = 8
	calibrationSteps            = 25
	calibrationClose            = 1e-4
	solveClose                  = 4e-6
	firstProbe                  = 0.004
)

func calibrate(k key) *Design {
	d := &Design{
		Chemistry: k.chemistry, Cells: k.cells, Capacity: k.capacity, Cranking: k.cranking, Reserve: k.reserve,
		RatingKnown: k.ratingKnown, CapacityKnown: k.capacityKnown,
		ohmic: 1, excess: 0.1, exchange: 3e-4, self: selfShare[k.plates],
		fast: math.Min(math.Max(fastPerRate*k.cranking/k.capacity, fastLeast), fastMost),
	}
	table := battery.Label{Chemistry: k.chemistry, NominalV: 12}
	for i := range d.emf {
		d.emf[i] = float64(table.VoltsFromCharge(float64(i) * percentOfShare / quarters))
	}
	for range calibrationRounds {
		before := *d
		d.excess = solve(excessLeast, excessMost, d.excess, func(x float64) float64 { d.excess = x; return d.slowHours() - slowHours })
		d.exchange = math.Exp(solve(math.Log(exchangeLeast), math.Log(exchangeMost), math.Log(d.exchange), func(x float64) float64 {
			d.exchange = math.Exp(x)
			return d.reserveMinutes()/d.Reserve - 1
		}))
		d.ohmic = solve(ohmicLeast, ohmicMost, d.ohmic, func(x float64) float64 { d.ohmic = x; return crankVolts - d.crankedVolts(d.Cranking) })
		if math.Abs(d.excess-before.excess)+math.Abs(d.exchange/before.exchange-1)+math.Abs(d.ohmic-before.ohmic) < calibrationClose {
			break
		}
	}
	return d
}

// solve finds where a rising function crosses zero between bounds, or the bound
// nearest to it: the secant guarded by bisection.
func solve(low, high, guess float64, f func(float64) float64) float64 {
	a, b := low, high
	x, before, fBefore := guess, math.NaN(), math.NaN()
	for range calibrationSteps {
		y := f(x)
		if math.Abs(y) < solveClose || b-a < 1e-9*(1+math.Abs(b)) {
			return x
		}
		if y < 0 {
			a = x
		} else {
			b = x
		}
		next := x - y*(x-before)/(y-fBefore)
		before, fBefore = x, y
		if math.IsNaN(next) {
			next = x - math.Copysign(firstProbe*(high-low), y)
		}
		if !(next > a && next < b) {
			next = (a + b) / 2
		}
		x = next
	}
	return x
}

// full is a sound, full, rested battery of twelve volts of this design.
func (d *Design) full(at float64) Battery { return d.New(Sound, percentOfShare, quantity.Celsius(at)) }

// twelve carries a six-cell voltage over to the cells of this design.
func (d *Design) twelve(v float64) float64 { return v * float64(d.Cells) / cellsOfTables }

func (d *Design) slowHours() float64 {
	b := d.full(slowCelsius)
	held := b.discharge(d.Capacity/slowHours, 3*slowHours*secondsPerHour, d.twelve(reserveVolts), slowCelsius)
	return held / secondsPerHour
}

func (d *Design) reserveMinutes() float64 {
	b := d.full(tableCelsius)
	return b.discharge(reserveAmps, 40*d.Reserve*minuteSeconds, d.twelve(reserveVolts), tableCelsius) / minuteSeconds
}

// crankedVolts is the voltage over six cells after 30 s of a current in the
// cold, of a new, full battery.
func (d *Design) crankedVolts(amps float64) float64 {
	b := d.full(crankCelsius)
	return b.after(amps, crankSeconds, crankCelsius) * cellsOfTables / float64(d.Cells)
}

// cellEMF is the electromotive force of one cell by its share of charge.
func (d *Design) cellEMF(s, celsius float64) float64 {
	thermal := emfPerKelvin * (celsius - tableCelsius)
	if d.Chemistry == battery.Flooded {
		return (emfFlat+emfRise*s+emfCurve*s*s)/cellsOfTables + thermal
	}
	x := s * quarters
	i := min(max(int(math.Floor(x)), 0), quarters-1)
	return (d.emf[i]+(x-float64(i))*(d.emf[i+1]-d.emf[i]))/cellsOfTables + thermal
}
