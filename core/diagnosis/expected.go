package diagnosis

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/twin"
	"grapnel/core/wording"
)

// Band is where a sound battery of this label lies under load at one charge.
type Band struct {
	// Code is sound_full for a full battery, sound_now for one charged as this one
	// is.
	Code string `json:"code"`
	// Low and High bound the charge in percent it is drawn for.
	Low  float64 `json:"low"`
	High float64 `json:"high"`
	// Points are its edges over the current.
	Points []BandPoint `json:"points"`
}

// BandPoint is the least and the most volts of a sound battery under a current.
type BandPoint struct {
	Amps quantity.Amperes `json:"amps"`
	Low  quantity.Volts   `json:"low"`
	High quantity.Volts   `json:"high"`
}

// Fit is the straight line through what was measured in the last epoch, with the
// resistance it stands for.
type Fit struct {
	// Readings it rests on: the rested volts and the loads.
	Readings []wording.Ref  `json:"readings"`
	From     quantity.Volts `json:"from"`
	// Ohms is the battery's resistance, OhmsSigma one sigma of the instruments'
	// error.
	Ohms      quantity.Ohms `json:"ohms"`
	OhmsSigma quantity.Ohms `json:"ohms_sigma"`
	// To is the largest current it was fitted to.
	To quantity.Amperes `json:"to"`
	// SoundLow and SoundHigh bound that of a sound battery of this label at this
	// charge and temperature, under the same load.
	SoundLow  quantity.Ohms     `json:"sound_low"`
	SoundHigh quantity.Ohms     `json:"sound_high"`
	Text      wording.Statement `json:"text"`
}

// Expected is what a sound battery of this label does under load: the bands of
// the load picture and the resistance to hold a measured one against.
type Expected struct {
	Bands []Band `json:"bands"`
	// Celsius is the battery temperature the bands hold at; Assumed says that
	// nobody gave one.
	Celsius quantity.Celsius `json:"celsius"`
	Assumed bool             `json:"assumed"`
	Fit     *Fit             `json:"fit"`
}

// soundEdges leaves this share of the sound batteries out at either edge of a
// band, and usualShare is the capacity one is drawn with, which matters little in
// seconds. bandSteps is how finely it is drawn, reachOfPlan how far beyond the
// load to set. Values from memory.
const (
	soundEdges  = 0.05
	usualShare  = 0.9
	bandSteps   = 20
	reachOfPlan = 1.24
)

// expected works the bands out; without a rating there are none.
func (e *Engine) expected(ev evidence.Evidence, plan LoadPlan) Expected {
	out := Expected{Bands: []Band{}, Celsius: roomCelsius, Assumed: true}
	d, ok := e.Design(ev.Case.ModelLabel())
	if !ok || !d.RatingKnown {
		return out
	}
	last := ev.Last()
	if t := last.TestTemperature(); t != nil {
		out.Celsius, out.Assumed = *t, false
	}
	s := soundAt{
		design:  d,
		health:  e.soundHealth,
		at:      out.Celsius,
		seconds: plan.Seconds,
		carry:   func(v float64) quantity.Volts { return ev.Case.Label.FromTwelve(quantity.Volts(v)) },
	}
	reach := quantity.Amperes(d.Cranking / 2)
	if plan.Amps != nil {
		reach = *plan.Amps
	}
	for _, r := range ev.Case.Readings {
		if amps, ok := r.Number(reading.Amps); ok && r.Kind == reading.Load {
			reach = max(reach, quantity.Amperes(amps))
		}
	}
	reach *= reachOfPlan
	if last.Charge == nil || last.Charge.Low < school.JudgePercent {
		out.Bands = append(out.Bands, s.band("sound_full", fullPercent, 100, reach))
	}
	if last.Charge != nil {
		out.Bands = append(out.Bands, s.band("sound_now", last.Charge.Low, last.Charge.High, reach))
		out.Fit = s.fit(ev, last)
	}
	return out
}

// soundAt is sound batteries of one label at one temperature, between two shares
// of its power.
type soundAt struct {
	design  *twin.Design
	health  [2]float64
	at      quantity.Celsius
	seconds quantity.Seconds
	carry   func(sixCells float64) quantity.Volts
}

func (s soundAt) band(code string, low, high float64, reach quantity.Amperes) Band {
	b := Band{Code: code, Low: low, High: high, Points: make([]BandPoint, 0, bandSteps+1)}
	for i := range bandSteps + 1 {
		amps := reach * quantity.Amperes(i) / bandSteps
		least, most := s.volts(low, high, amps)
		b.Points = append(b.Points, BandPoint{amps, s.carry(least), s.carry(most)})
	}
	return b
}

// volts are the least and the most of sound batteries between two charges under
// a current, six cells.
func (s soundAt) volts(low, high float64, amps quantity.Amperes) (least, most float64) {
	weak, strong := s.health[0], s.health[1]
	least = sixCells * s.design.Loaded(usualShare, low, s.at, amps, s.seconds).Cell(weak)
	most = sixCells * s.design.Loaded(usualShare, high, s.at, amps, s.seconds).Cell(strong)
	return least, most
}

// edgesOf are the places on a density that leave a share of it out at either end.
func edgesOf(knots []knot, share float64) [2]float64 {
	const slices = 200
	list, sum := nodes(knots, slices), 0.0
	edges := [2]float64{list[0].at, list[slices-1].at}
	for _, n := range list {
		if sum < share {
			edges[0] = n.at
		}
		if sum += n.weight; sum > 1-share {
			edges[1] = n.at
			break
		}
	}
	return edges
}

// fit draws a straight line by least squares through the rested volts and the
// loads of an epoch, each by its own error.
func (s soundAt) fit(ev evidence.Evidence, e evidence.Epoch) *Fit {
	if e.OpenCircuit == nil {
		return nil
	}
	from, f := float64(*e.OpenCircuit), Fit{Readings: ev.Case.Refs(e.OpenCircuitReading)}
	rested := float64(voltsPoint(ev, e.OpenCircuitReading).Sigma)
	var sum, squares, weights float64
	for i := e.First; i < e.End; i++ {
		p := loadPoint(ev, i, ev.Case.Readings[i].Reading, true)
		if ev.Case.Readings[i].Kind != reading.Load || p.Amps <= 0 {
			continue
		}
		amps := float64(p.Amps)
		ohms := (from - float64(p.Volts)) / amps
		sigma := math.Hypot(math.Hypot(float64(p.VoltsSigma), rested)/amps, ohms*float64(p.AmpsSigma)/amps)
		weight := 1 / (sigma * sigma)
		sum, squares, weights = sum+weight*ohms, squares+weight*ohms*ohms, weights+weight
		f.Readings, f.To = append(f.Readings, ev.Case.Ref(i)), max(f.To, p.Amps)
	}
	if weights == 0 {
		return nil
	}
	mean := sum / weights
	f.From, f.Ohms, f.OhmsSigma = quantity.Volts(from), quantity.Ohms(mean), quantity.Ohms(1/math.Sqrt(weights))
	if loads := len(f.Readings) - 1; loads > 1 {
		// Loads that lie further apart than their errors widen the band.
		apart := (squares - weights*mean*mean) / float64(loads-1)
		f.OhmsSigma *= quantity.Ohms(math.Sqrt(math.Max(1, apart)))
	}
	f.SoundLow, f.SoundHigh = s.ohms(e.Charge.Low, e.Charge.High, f.To)
	f.Text = f.say()
	return &f
}

// say holds the measured resistance against a sound one's, within the error of
// the instruments.
func (f *Fit) say() wording.Statement {
	low, high := f.Ohms-2*f.OhmsSigma, f.Ohms+2*f.OhmsSigma
	code := "fit.within"
	switch {
	case low > f.SoundHigh:
		code = "fit.above"
	case high < f.SoundLow:
		code = "fit.below"
	}
	return wording.Say(
		code,
		wording.Values{"ohms": f.Ohms, "low": low, "high": high, "sound_low": f.SoundLow, "sound_high": f.SoundHigh},
		f.Readings...)
}

// ohms bound the resistance of sound batteries between two charges.
func (s soundAt) ohms(low, high float64, amps quantity.Amperes) (least, most quantity.Ohms) {
	weak, strong := s.volts(low, high, amps)
	drop := func(percent, volts float64) quantity.Ohms {
		return quantity.Ohms(float64(s.carry(sixCells*s.design.RestedCell(percent, s.at)-volts)) / float64(amps))
	}
	return drop(high, strong), drop(low, weak)
}

// Load is a current drawn for some seconds at a charge and a temperature.
type Load struct {
	Percent float64
	At      quantity.Celsius
	Amps    quantity.Amperes
	Seconds quantity.Seconds
}

// Answer is what batteries of one label give under a load.
type Answer struct {
	// Rested is the voltage before it, New that of one as its label promises.
	Rested quantity.Volts
	New    quantity.Volts
	// SoundLow and SoundHigh bound most sound ones; Least is one with the least
	// power a battery is kept with.
	SoundLow, SoundHigh, Least quantity.Volts
	// Ohms is the resistance of a new one, OhmsLow and OhmsHigh of most sound ones.
	Ohms, OhmsLow, OhmsHigh quantity.Ohms
}

// Expect is what a battery of this label should do under a load; false where its
// chemistry is not judged.
func (e *Engine) Expect(l battery.Label, load Load) (Answer, bool) {
	d, ok := e.Design(l)
	if !ok {
		return Answer{}, false
	}
	six := d.Loaded(usualShare, load.Percent, load.At, load.Amps, load.Seconds)
	volts := func(health float64) quantity.Volts { return l.FromTwelve(quantity.Volts(sixCells * six.Cell(health))) }
	a := Answer{
		Rested: l.FromTwelve(quantity.Volts(sixCells * d.RestedCell(load.Percent, load.At))),
		New:    volts(1), SoundLow: volts(e.soundHealth[0]), SoundHigh: volts(e.soundHealth[1]), Least: volts(soundHealth[0].at),
	}
	ohms := func(v quantity.Volts) quantity.Ohms { return quantity.Ohms(float64(a.Rested-v) / float64(load.Amps)) }
	a.Ohms, a.OhmsLow, a.OhmsHigh = ohms(a.New), ohms(a.SoundHigh), ohms(a.SoundLow)
	return a, true
}

// PowerOf is the share of its label's power whose battery would show a voltage
// under a load; false where its chemistry is not judged.
func (e *Engine) PowerOf(l battery.Label, load Load, v quantity.Volts) (float64, bool) {
	d, ok := e.Design(l)
	if !ok {
		return 0, false
	}
	return powerAt(d.Loaded(usualShare, load.Percent, load.At, load.Amps, load.Seconds), float64(l.PerTwelve(v))), true
}
