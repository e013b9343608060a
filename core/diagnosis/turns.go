package diagnosis

import (
	"cmp"
	"math"
	"slices"

	"grapnel/core/accuracy"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/wording"
)

// Turn is a change of one reading that turns the verdict.
type Turn struct {
	Reading wording.Ref `json:"reading"`
	// From is the figure as it was read, To the nearest that turns the verdict, in
	// the reading's own unit.
	From float64 `json:"from"`
	To   float64 `json:"to"`
	// Sigmas is how far that is in the error of the instrument.
	Sigmas float64           `json:"sigmas"`
	Action Action            `json:"action"`
	Text   wording.Statement `json:"text"`
}

// figure is the number of a kind of reading that may have come out otherwise.
type figure struct {
	number reading.Number
	// unit names the sentence, step is the last digit the instrument shows.
	unit  string
	step  float64
	sigma func(r *reading.Reading, x float64) float64
}

func meterSigma(r *reading.Reading, x float64) float64 {
	return float64(accuracy.VoltsSigma(accuracy.Instrument(r.By), quantity.Volts(x)))
}

func loadSigmaOf(_ *reading.Reading, x float64) float64 {
	return float64(accuracy.LoadVoltsSigma(quantity.Volts(x)))
}

func testerSigmaOf(_ *reading.Reading, x float64) float64 { return accuracy.ConductanceSigma(x) }

func dropSigmaOf(_ *reading.Reading, x float64) float64 {
	return float64(accuracy.DropSigma(quantity.Volts(x)))
}

func drainSigmaOf(r *reading.Reading, _ float64) float64 {
	_, sigma, _ := evidence.DrainAmps(r)
	return float64(sigma)
}

// figures are those a verdict may turn on.
var figures = map[reading.Kind]figure{
	reading.OpenCircuit:    {reading.Volts, "volts", 0.01, meterSigma},
	reading.Load:           {reading.Volts, "volts", 0.01, loadSigmaOf},
	reading.Conductance:    {reading.Measured, "amps", 1, testerSigmaOf},
	reading.Reserve:        {reading.EndVolts, "volts", 0.01, meterSigma},
	reading.Drop:           {reading.Volts, "volts", 0.01, dropSigmaOf},
	reading.CaseLeak:       {reading.Volts, "volts", 0.01, meterSigma},
	reading.ChargingSystem: {reading.Volts, "volts", 0.01, meterSigma},
	reading.Crank:          {reading.Volts, "volts", 0.01, meterSigma},
	reading.StarterDraw: {
		reading.Amps,
		"amps",
		1,
		func(_ *reading.Reading, x float64) float64 { return float64(accuracy.ClampSigma(quantity.Amperes(x))) },
	},
	reading.Drain: {reading.Amps, "milliamps", 0.001, drainSigmaOf},
}

// reachSigmas are the distances a turn is looked for at, in the instrument's
// error, one after the other; turnSteps is how often the last one is halved.
var reachSigmas = []float64{1, 2, 4, 8, 16, 32}

const turnSteps = 7

// turns looks for the smallest change of one figure that turns the verdict,
// first among all readings close by, then further out.
func (e *Engine) turns(c evidence.Case, action Action) []Turn {
	list, near := []Turn{}, 0.0
	for _, far := range reachSigmas {
		for i := range c.Readings {
			for _, way := range []float64{-1, 1} {
				if t, ok := e.turn(c, i, way*near, way*far, action); ok {
					list = append(list, t)
				}
			}
		}
		if len(list) > 0 {
			break
		}
		near = far
	}
	slices.SortStableFunc(list, func(a, b Turn) int { return cmp.Compare(math.Abs(a.Sigmas), math.Abs(b.Sigmas)) })
	return list
}

// turn looks between two distances, the nearer of which is known not to turn the
// verdict.
func (e *Engine) turn(c evidence.Case, i int, near, far float64, action Action) (Turn, bool) {
	f, ok := figures[c.Readings[i].Kind]
	if !ok {
		return Turn{}, false
	}
	from, said := c.Readings[i].Number(f.number)
	if !said {
		return Turn{}, false
	}
	sigma := math.Max(f.sigma(&c.Readings[i].Reading, from), f.step)
	at := func(sigmas float64) float64 {
		// Away from what was read, to what the instrument would show.
		steps := (from + sigmas*sigma) / f.step
		if sigmas < 0 {
			return math.Floor(steps+tinyStep) * f.step
		}
		return math.Ceil(steps-tinyStep) * f.step
	}
	turned, ok := e.would(c, i, f.number, at(far))
	if !ok || turned == action {
		return Turn{}, false
	}
	for range turnSteps {
		middle := (near + far) / 2
		if a, ok := e.would(c, i, f.number, at(middle)); ok && a != action {
			far, turned = middle, a
		} else {
			near = middle
		}
	}
	to := math.Round(at(far)/f.step) * f.step
	t := Turn{Reading: c.Ref(i), From: from, To: to, Sigmas: math.Round((to-from)/sigma*10) / 10, Action: turned}
	t.Text = t.say(c.Readings[i].Kind, f.unit)
	return t, true
}

// tinyStep keeps a figure that is a whole number of steps where it is.
const tinyStep = 1e-6

// would is the action if one figure of one reading had been another; false where
// no instrument shows it.
func (e *Engine) would(c evidence.Case, i int, n reading.Number, x float64) (Action, bool) {
	changed := c.Readings[i]
	changed.Reading = changed.With(n, x)
	if _, bad := evidence.CheckAgainst(c.Label, changed.Reading); bad || x <= 0 {
		return "", false
	}
	readings := slices.Clone(c.Readings)
	readings[i], c.Readings = changed, readings
	return e.decide(evidence.Examine(c)).verdict.Action, true
}

// say is the turn in words. One closer than the instruments can tell says so.
func (t *Turn) say(kind reading.Kind, unit string) wording.Statement {
	code := "turn." + unit
	if math.Abs(t.Sigmas) <= 2 {
		code += "_near"
	}
	way := "or_more"
	if t.To < t.From {
		way = "or_less"
	}
	return wording.Say(
		code,
		wording.Values{"kind": string(kind), "from": t.From, "to": t.To, "way": way, "action": string(t.Action)},
		t.Reading,
	)
}
