package evidence

import (
	"math"
	"slices"

	"grapnel/core/accuracy"
	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/school"
)

// epochs splits the readings where a full charge lies between: the first
// after_charge reading after one without it opens a new epoch. So does the first
// rested charge state behind the logs of a charge: what was measured before them
// was measured of another charge, whether or not anybody says so; and the first test of
// the battery behind logs that put in all that was missing. And so does a discharge:
// behind a reserve check the battery is no longer what it was.
func epochs(c Case) []Epoch {
	var out []Epoch
	for i := range c.Readings {
		r := &c.Readings[i].Reading
		said := i > 0 && r.AfterCharge && !c.Readings[i-1].AfterCharge
		switch {
		case i == 0 || said || !r.AfterCharge && (restedAfterLogs(c, out[len(out)-1], i) || testedWhenFull(c, out[len(out)-1], i)):
			out = append(out, Epoch{First: i, AfterCharge: r.AfterCharge, Dry: -1})
		case drawnDown(c, out[len(out)-1], i):
			out = append(out, Epoch{First: i, Drawn: true, Dry: -1})
		}
		out[len(out)-1].End = i + 1
	}
	if n := len(c.Readings); n > 0 && drawnDown(c, out[len(out)-1], n) {
		// Nothing was read behind it: the battery is drawn down all the same.
		out = append(out, Epoch{First: n, End: n, Drawn: true, Dry: -1})
	}
	for i := range out {
		fill(c, &out[i])
		if i == 0 {
			continue
		}
		if out[i].Drawn {
			out[i].whatIsLeft(c, out[i-1])
			continue
		}
		if out[i].AfterCharge {
			out[i].Unproven = fallsShort(c, out[i-1])
		} else {
			out[i].AfterCharge = filledUp(c, out[i-1])
		}
	}
	return out
}

// restedAfterLogs reports a charge state that counts, behind a charge log of the
// epoch so far.
func restedAfterLogs(c Case, e Epoch, i int) bool {
	r := &c.Readings[i].Reading
	rested := r.Kind == reading.OpenCircuit && c.Label.Chemistry.Judged() && surfaceCharge(c.Label, r) == "" ||
		r.Kind == reading.Gravity && !r.Is(reading.JustWatered)
	if !rested {
		return false
	}
	for j := e.First; j < i; j++ {
		if c.Readings[j].Kind == reading.ChargeLog {
			return true
		}
	}
	return false
}

// testedWhenFull reports a test of the battery behind a charge log of the epoch so far,
// with whose logs all is in that was missing.
func testedWhenFull(c Case, e Epoch, i int) bool {
	switch c.Readings[i].Kind {
	case reading.Load, reading.Conductance, reading.Reserve:
	default:
		return false
	}
	if i == e.First || c.Readings[i-1].Kind != reading.ChargeLog {
		return false
	}
	fill(c, &e)
	return filledUp(c, e)
}

func fill(c Case, e *Epoch) {
	e.takeTemperatures(c)
	for i := e.First; i < e.End; i++ {
		switch r := &c.Readings[i].Reading; r.Kind {
		case reading.Look:
			spoil(r, i, e)
		case reading.Level:
			e.takeLevel(r, i)
		case reading.Eye:
			if r.Choice(reading.Colour) == "clear" && c.Label.Opens() {
				e.Dry = i
			}
		}
	}
	if !c.Label.Chemistry.Judged() {
		return
	}
	e.takeCharge(c)
	if e.Charge == nil {
		boundFromConductance(c, e)
	}
}

// takenTemperature is a battery temperature and the reading it came with.
type takenTemperature struct {
	reading int
	at      quantity.Celsius
}

// near is the temperature a reading inherits: the last one taken before it, else
// the first after it. The zero value stands for none.
func (e Epoch) near(i int) (quantity.Celsius, bool) {
	for n := len(e.temperatures) - 1; n >= 0; n-- {
		if e.temperatures[n].reading <= i || n == 0 {
			return e.temperatures[n].at, true
		}
	}
	return 0, false
}

// takeTemperatures gathers the battery temperatures of the epoch (one taken
// while charging is not that of a test), and what it should be from where the
// battery stood.
func (e *Epoch) takeTemperatures(c Case) {
	for i := e.First; i < e.End; i++ {
		r := &c.Readings[i].Reading
		if t, ok := r.Temperature(); ok && r.Kind != reading.ChargeLog {
			e.temperatures = append(e.temperatures, takenTemperature{i, t})
		}
		if air, ok := r.Number(reading.StoodC); ok && r.Kind == reading.History {
			hours, said := r.Number(reading.StoodH)
			if !said {
				hours = usualStand
			}
			if t := battery.Electrolyte(quantity.Celsius(air), hours, nil); t.Sigma <= mostStoodSigma {
				e.Stood = &t
			}
		}
	}
}

// A battery whose standing time was not said stood the night, and a temperature
// from where it stood is of use within 8 K. Values from memory.
const (
	usualStand                      = 8
	mostStoodSigma quantity.Celsius = 8
)

// temperatureFor is the battery temperature for a reading, its one sigma, and
// where it is from: said, epoch, stood or unknown.
func (e Epoch) temperatureFor(i int, r *reading.Reading) (at, sigma quantity.Celsius, source string) {
	if t, ok := r.Temperature(); ok {
		return t, accuracy.TemperatureSigma(r.Choice(reading.TempBasis)), "said"
	}
	if t, ok := e.near(i); ok {
		return t, accuracy.TemperatureSigma("felt"), "epoch"
	}
	if e.Stood != nil {
		return e.Stood.At, e.Stood.Sigma, "stood"
	}
	return battery.TemperatureUnknown, battery.TemperatureUnknownSigma, "unknown"
}

// TestTemperature is the battery temperature a test of the epoch would be
// judged at, nil when nothing is known of it.
func (e Epoch) TestTemperature() *quantity.Celsius {
	t, taken := e.near(e.End)
	switch {
	case taken:
		return &t
	case e.Stood != nil:
		return &e.Stood.At
	}
	return nil
}

// spoil gathers dirty and loose joints; a later look that finds nothing clears
// them.
func spoil(r *reading.Reading, i int, e *Epoch) {
	finding := r.Choice(reading.Finding)
	switch {
	case finding == "none":
		e.Spoilt = nil
	case school.LookRuleFor(finding).Spoils && r.Choice(reading.Degree) != "light":
		e.Spoilt = append(e.Spoilt, i)
	}
}

func (e *Epoch) takeLevel(r *reading.Reading, i int) {
	e.Dry = -1
	for _, cell := range r.Cells() {
		if cell.Code == "dry" {
			e.Dry = i
		}
	}
}

// takeCharge joins what volts, gravity and, where neither is there, the eye say
// of the charge. The latest of a kind stands for it. Those that contradict each
// other are not joined: nothing is known of the charge until that is settled.
func (e *Epoch) takeCharge(c Case) {
	var volts, gravity, eye, halves *ChargeState
	apart, hangs := false, false
	most, _ := c.Own.Limit(school.SpreadBad)
	for i := e.First; i < e.End; i++ {
		switch r := &c.Readings[i].Reading; r.Kind {
		case reading.OpenCircuit:
			if state := e.chargeFromVolts(c.Label, r, i); state != nil {
				volts = state
			}
		case reading.Halves:
			if state := e.chargeFromHalves(c.Label, r, i); state != nil {
				halves = state
			}
		case reading.Gravity:
			if cells := gravityCells(c.Label, i, r, *e); cells.known > 0 && !r.Is(reading.JustWatered) {
				gravity = &ChargeState{Charge: whole(cells.charge), Basis: []string{string(reading.Gravity)}, Readings: []int{i}}
				apart, hangs = cells.spread > most+1e-9, cells.uncorrected
			}
		case reading.Eye:
			if state := chargeFromEye(r, i); state != nil {
				eye = state
			}
		}
	}
	if volts == nil {
		volts = halves
	}
	e.DrawnSince = e.AfterCharge && e.OpenCircuit != nil && c.Label.PerTwelve(*e.OpenCircuit) < school.DeadVolts &&
		Evidence{Case: c}.DrewSince(e.OpenCircuitReading)
	e.Contradiction = contradiction(volts, gravity, eye, apart)
	switch {
	case e.Contradiction.Unsettled():
		e.OpenCircuit = nil
	case volts != nil && gravity != nil && apart:
		// One cell is down: the volts lack what it lacks, the others' acid tells.
		e.Charge = gravity
	case volts != nil && gravity != nil:
		e.Charge = &ChargeState{
			Charge: whole(battery.Combine(volts.Charge, gravity.Charge)),
			Basis:  append(slices.Clone(volts.Basis), string(reading.Gravity)), Readings: []int{volts.Readings[0], gravity.Readings[0]},
		}
	case volts != nil:
		e.Charge = volts
	case gravity != nil:
		e.Charge = gravity
		e.Hangs = hangs && gravity.Low < school.JudgePercent
	default:
		e.Charge = eye
	}
}

// whole rounds a charge to whole percent, which is what is shown and what is
// compared; its band outwards.
func whole(ch battery.Charge) battery.Charge {
	return battery.Charge{Percent: math.Round(ch.Percent), Low: math.Floor(ch.Low), High: math.Ceil(ch.High)}
}

// band is the charge a voltage stands for.
func band(l battery.Label, v quantity.Volts, i int, r *reading.Reading, e Epoch) (battery.Charge, bool) {
	at, sigma, source := e.temperatureFor(i, r)
	if source == "unknown" {
		// With no temperature the figure is read straight off the table; the
		// band carries what is not known.
		at = battery.TableCelsius
	}
	ch, ok := l.ChargeBand(v, accuracy.VoltsSigma(accuracy.Instrument(r.By), v), at, sigma)
	return whole(ch), ok
}

// chargeFromVolts is the charge by rested volts; unrested ones bound it from
// above.
func (e *Epoch) chargeFromVolts(l battery.Label, r *reading.Reading, i int) *ChargeState {
	ch, ok := band(l, r.Volts(), i, r, *e)
	if !ok {
		return nil
	}
	switch {
	case l.PerTwelve(r.Volts()) <= reversedFrom:
		return nil
	case l.PerTwelve(r.Volts()) < nothingBelow:
		e.AtMost, e.AtMostReading = &ch, i
		return nil
	}
	if surfaceCharge(l, r) != "" {
		if e.AtMost == nil || ch.Percent < e.AtMost.Percent {
			e.AtMost, e.AtMostReading = &ch, i
		}
		return nil
	}
	v := r.Volts()
	e.OpenCircuit, e.OpenCircuitReading = &v, i
	return &ChargeState{Charge: ch, Basis: []string{string(reading.OpenCircuit)}, Readings: []int{i}}
}

// chargeFromEye knows little: the eye sees one cell.
func chargeFromEye(r *reading.Reading, i int) *ChargeState {
	ch, ok := school.ChargeFromEye(r.Choice(reading.Colour))
	if !ok {
		return nil
	}
	return &ChargeState{Charge: ch, Basis: []string{string(reading.Eye)}, Readings: []int{i}, EyeOnly: true}
}

// boundFromConductance uses the volts a conductance tester shows: it does not
// know of a rest, so they bound the charge from above.
func boundFromConductance(c Case, e *Epoch) {
	for i := e.First; i < e.End; i++ {
		r := &c.Readings[i].Reading
		if r.Kind != reading.Conductance || !r.Has(reading.Volts) {
			continue
		}
		if ch, ok := band(c.Label, r.Volts(), i, r, *e); ok && (e.AtMost == nil || ch.Percent < e.AtMost.Percent) {
			e.AtMost, e.AtMostReading = &ch, i
		}
	}
}

// TemperatureAt is the battery temperature a reading is judged at and its one
// sigma; Known is false where nobody said anything of it.
func (ev Evidence) TemperatureAt(i int) (at, sigma quantity.Celsius, known bool) {
	at, sigma, source := ev.EpochOf(i).temperatureFor(i, &ev.Case.Readings[i].Reading)
	return at, sigma, source != "unknown"
}

// EngineAt is the temperature of the engine at a reading: of the air it stood in, whatever was
// done to the battery since; else the battery's, a mild day's where nobody said either.
func (ev Evidence) EngineAt(i int) quantity.Celsius {
	if e := ev.EpochOf(i); e.Stood != nil {
		return e.Stood.At
	}
	if at, _, known := ev.TemperatureAt(i); known {
		return at
	}
	return warmEngine
}

// warmEngine is an engine of which nobody said how cold it is: the chart's warm one.
const warmEngine quantity.Celsius = 20

// CellGravities are the corrected gravities of a reading's cells that were read
// as figures, and the charge its coloured zones stand for, nil for none.
func (ev Evidence) CellGravities(i int) (figures []float64, zones *battery.Charge) {
	r := &ev.Case.Readings[i].Reading
	at, _, known := ev.TemperatureAt(i)
	points, _ := r.Number(reading.Points)
	var banded []battery.Charge
	for _, cell := range r.Cells() {
		if zone, ok := battery.ChargeFromZone(cell.Code); ok {
			banded = append(banded, zone)
		} else if cell.SG > 0 {
			figures = append(figures, corrected(cell.SG, r.Choice(reading.Correction), points, at, known))
		}
	}
	if len(banded) > 0 {
		mean := meanOf(banded)
		zones = &mean
	}
	return figures, zones
}
