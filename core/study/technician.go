package study

import (
	"math"
	"math/rand/v2"
	"slices"

	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/safety"
	"grapnel/core/school"
	"grapnel/core/twin"
)

// technician works on one virtual vehicle: takes the readings asked for, charges,
// cleans, and knows nothing of the truth.
type technician struct {
	truth   *truth
	virtual twin.Virtual
	draws   *rand.Rand
	c       evidence.Case
	prices  Prices
	// charged says that a full charge lies behind the readings from here on.
	charged bool
	minutes float64
	waiting float64
	tests   int
	taken   map[string]int
}

func newTechnician(f *Fleet, t *truth, r *rand.Rand, exact bool) *technician {
	w := &technician{truth: t, draws: r, taken: map[string]int{}, prices: f.Prices}
	noise := func() float64 {
		x := r.NormFloat64()
		if f.Tails > 0 && r.Float64() < f.Tails {
			x *= 3
		}
		return x
	}
	w.virtual = twin.Virtual{Battery: t.battery, Car: t.car, Noise: noise, Scale: f.Noise, Acid: t.acid}
	if f.MisreadC != 0 {
		w.virtual.Misread = f.MisreadC * quantity.Celsius(1-2*r.IntN(2))
	}
	if exact {
		w.virtual.Scale, w.virtual.Misread = 0, 0
	}
	w.virtual.Own()
	w.c = evidence.Case{
		AsOf:     t.asOf,
		Label:    t.typed,
		Vehicle:  t.vehicleOf(),
		Symptoms: []string{t.symptom},
		School:   school.HalfCCA,
		Readings: nil,
	}
	return w
}

// keep takes a reading into the case.
func (w *technician) keep(r reading.Reading) {
	r.AfterCharge = w.charged
	w.c.Readings = append(w.c.Readings, evidence.Taken{Reading: r})
}

// take does one of the tests the diagnosis names and counts its minutes. It
// reports false for a step that gives nothing more to read.
func (w *technician) take(test string, minutes, wait float64) bool {
	do, ok := doing[test]
	if !ok {
		return false
	}
	w.minutes, w.waiting = w.minutes+minutes, w.waiting+wait
	w.tests++
	w.taken[test]++
	do(w)
	return true
}

// doing is how each test is done.
var doing = map[string]func(*technician){
	"open_circuit": func(w *technician) { w.keep(w.virtual.OpenCircuit(120)) },
	"rest":         func(w *technician) { w.keep(w.virtual.OpenCircuit(60)) },
	"look":         (*technician).look,
	"load":         func(w *technician) { w.keep(w.virtual.Load(w.loadAmps(), 15)) },
	"conductance":  (*technician).conductance,
	"gravity":      func(w *technician) { w.keep(w.virtual.Gravity()) },
	"reserve":      (*technician).reserve,
	"charge":       (*technician).charge,
	"charging":     func(w *technician) { w.keep(w.virtual.Charging("raised")) },
	"ripple":       func(w *technician) { w.keep(w.virtual.Ripple()) },
	"dcdc":         func(w *technician) { w.keep(w.virtual.DCDC()) },
	"drain":        func(w *technician) { w.keep(w.virtual.Drain(40)) },
	"trips":        (*technician).ask,
	"case_leak":    func(w *technician) { w.keep(w.virtual.CaseLeak()) },
	"drop":         (*technician).drops,
	"starter_draw": func(w *technician) { w.keep(w.virtual.StarterDraw()) },
	"crank":        func(w *technician) { w.keep(w.virtual.Crank()) },
	"clean":        (*technician).clean,
	"temperature":  func(w *technician) { w.keep(w.virtual.OpenCircuit(120)) },
}

func (w *technician) loadAmps() quantity.Amperes {
	plan := diagnosis.PlanLoad(evidence.Examine(w.c))
	if plan.Amps == nil {
		return quantity.Amperes(1)
	}
	return *plan.Amps
}

func (w *technician) look() {
	if len(w.truth.seen) == 0 {
		w.keep(reading.Reading{Kind: reading.Look}.WithChoice(reading.Finding, "none"))
	}
	for _, finding := range w.truth.seen {
		r := reading.Reading{Kind: reading.Look}.WithChoice(reading.Finding, finding)
		if finding == "corrosion" && !w.truth.has("poor_connection") {
			r = r.WithChoice(reading.Degree, "light")
		}
		w.keep(r)
	}
}

// unbitten is how often a tester's clamp does not bite, and by how much it then
// reads low. Invented within the trade's 5 to 20 %.
const unbitten = 0.05

func (w *technician) conductance() {
	drop := 0.0
	if w.draws.Float64() < unbitten {
		drop = between(w.draws, 0.05, 0.2)
	}
	rating := w.truth.typed.Rating
	w.keep(w.virtual.Conductance(rating.Value, string(rating.Standard), drop))
}

// A reserve check takes a fifth of the ampere-hours as its current and runs two
// hours and three quarters: somewhat over half of the charge.
const (
	reserveShare   = 0.2
	reserveMinutes = 165
)

func (w *technician) reserve() {
	ah := float64(w.truth.label.Capacity)
	w.keep(w.virtual.Reserve(quantity.Amperes(math.Round(ah*reserveShare*10)/10), reserveMinutes))
	w.virtual.Battery.Fill(workshop)
}

// workshop is its temperature.
const workshop quantity.Celsius = 17

// charge fills the battery on the shelf, lets it rest and reads its volts.
func (w *technician) charge() {
	w.virtual.Battery.Fill(workshop)
	w.charged = true
	w.keep(w.virtual.OpenCircuit(180))
}

// thaw does what is said of a battery that may be frozen and nothing worse: it comes indoors,
// is looked at again, and the stop rule is lifted where nothing broke. It reports whether that
// is what stopped the work.
func (w *technician) thaw(a diagnosis.Assessment) bool {
	if len(a.Stops) == 0 || w.taken["thaw"] > 0 || slices.ContainsFunc(a.Stops, func(s safety.Stop) bool { return s.Frost == nil }) {
		return false
	}
	w.taken["thaw"]++
	w.minutes, w.waiting, w.tests = w.minutes+thawMinutes, w.waiting+thawWait, w.tests+1
	for _, stop := range a.Stops {
		w.c.Cleared = append(w.c.Cleared, evidence.Clearing{Stop: stop.Caution, Readings: stop.Readings})
	}
	w.virtual.Battery.Warm(workshop)
	w.look()
	return true
}

// A battery comes indoors for a night and is looked over. Common practice, no source.
const (
	thawMinutes = 8
	thawWait    = 600
)

// ask hears how the vehicle is used, as people tell it.
func (w *technician) ask() {
	t := w.truth
	trips := math.Max(0, math.Round(t.week.Trips*logNormal(w.draws, 1, 0.2)))
	minutes := math.Max(1, math.Round(t.week.Minutes*logNormal(w.draws, 1, 0.25)))
	r := reading.Reading{Kind: reading.History}.With(reading.TripsWeek, trips).With(reading.TripMin, minutes)
	if t.standing > 0 {
		r = r.With(reading.StandingDays, t.standing)
	}
	if t.leftOn > 0 && w.draws.Float64() < 0.9 {
		r = r.With(reading.LeftOnH, t.leftOn)
	}
	w.keep(r)
}

// dropped are the places a voltage drop is looked for at.
var dropped = []string{"positive_clamp", "negative_clamp", "ground_strap", "whole_positive", "whole_negative"}

func (w *technician) drops() {
	if w.truth.car.Starter.Amps <= 0 {
		return
	}
	for _, where := range dropped {
		w.keep(w.virtual.Drop(where))
	}
}

// clean puts joints and top in order and measures again what had been found.
func (w *technician) clean() {
	w.truth.car.Circuit = twin.InOrder.For(w.truth.vehicle.Starter)
	w.truth.car.Leak = 0.02
	w.truth.seen = slices.DeleteFunc(w.truth.seen, func(s string) bool { return s == "corrosion" || s == "clamp_loose" || s == "dirty_top" })
	again := map[string]bool{}
	for _, f := range evidence.Examine(w.c).Findings {
		r := &w.c.Readings[f.Index()].Reading
		switch {
		case r.Kind == reading.Drop && (f.Code() == evidence.DropHigh || f.Code() == evidence.DropHighOhms):
			again[r.Choice(reading.Where)] = true
		case r.Kind == reading.CaseLeak:
			again["top"] = true
		case r.Kind == reading.Look:
			again["look"] = true
		}
	}
	if again["look"] {
		w.keep(reading.Reading{Kind: reading.Look}.WithChoice(reading.Finding, "none"))
	}
	for _, where := range append(slices.Clone(dropped), "positive_cable", "negative_cable", "starter_stud") {
		if again[where] {
			w.keep(w.virtual.Drop(where))
		}
	}
	if again["top"] {
		w.keep(w.virtual.CaseLeak())
	}
}
