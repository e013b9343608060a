package diagnosis

import (
	"math"

	"grapnel/core/accuracy"
	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/twin"
	"grapnel/core/wording"
)

// Agreement is what two methods on one battery say of each other.
type Agreement string

// The agreements of load and conductance.
const (
	NoMethod        Agreement = "none"
	LoadOnly        Agreement = "load_only"
	ConductanceOnly Agreement = "conductance_only"
	MethodsAgree    Agreement = "agree"
	MethodsApart    Agreement = "apart"
	// OneError is two fails on a battery that was not charged: counted once.
	OneError Agreement = "one_error"
)

// Agreements lists them.
func Agreements() []Agreement {
	return []Agreement{NoMethod, LoadOnly, ConductanceOnly, MethodsAgree, MethodsApart, OneError}
}

// Methods holds the load test against the conductance tester, in the latest epoch
// that has either.
type Methods struct {
	State       Agreement `json:"state"`
	Load        *Power    `json:"load"`
	Conductance *Power    `json:"conductance"`
	// Least is the share of its label's power a battery is kept with.
	Least float64           `json:"least"`
	Text  wording.Statement `json:"text"`
	// Checks are what to look at before either is believed, where they lie apart,
	// in the order of the trade.
	Checks []Check `json:"checks"`
}

// Power is the cranking power one test stands for, as a share of the label's,
// once the battery is full. Low to High holds it nineteen times in twenty.
type Power struct {
	Reading wording.Ref `json:"reading"`
	Outcome string      `json:"outcome"`
	Valid   bool        `json:"valid"`
	Share   float64     `json:"share"`
	Low     float64     `json:"low"`
	High    float64     `json:"high"`
	// Amps is the same in SAE cold cranking amperes.
	Amps quantity.Amperes `json:"amps"`
}

// Check is one thing to see to, and whether the readings show that it was.
type Check struct {
	Done bool              `json:"done"`
	Text wording.Statement `json:"text"`
}

// methods compares the latest load and the latest conductance test.
func (e *Engine) methods(ev evidence.Evidence) Methods {
	m := Methods{State: NoMethod, Least: soundHealth[0].at, Checks: []Check{}}
	epoch, load, tester := latestTests(ev)
	if d, ok := e.Design(ev.Case.ModelLabel()); ok && d.RatingKnown && epoch.Charge != nil {
		if load >= 0 {
			m.Load = powerByLoad(ev, d, epoch, load)
		}
		if tester >= 0 {
			m.Conductance = powerByTester(ev, d, epoch, tester)
		}
	}
	m.State = agreement(ev, load, tester)
	m.Text = wording.Say(
		"methods."+string(m.State),
		wording.Values{"percent": float64(school.JudgePercent)},
		ev.Case.Refs(present(load, tester)...)...)
	if m.State == MethodsApart {
		m.Checks = checksOf(ev, epoch, load, tester)
	}
	return m
}

// latestTests is the latest epoch with a load or a conductance test, and the last
// of each in it, -1 for none.
func latestTests(ev evidence.Evidence) (epoch evidence.Epoch, load, tester int) {
	for n := len(ev.Epochs) - 1; n >= 0; n-- {
		epoch, load, tester = ev.Epochs[n], -1, -1
		for i := epoch.First; i < epoch.End; i++ {
			switch ev.Case.Readings[i].Kind {
			case reading.Load:
				load = i
			case reading.Conductance:
				tester = i
			}
		}
		if load >= 0 || tester >= 0 {
			return epoch, load, tester
		}
	}
	return ev.Last(), -1, -1
}

func agreement(ev evidence.Evidence, load, tester int) Agreement {
	switch {
	case load < 0 && tester < 0:
		return NoMethod
	case tester < 0:
		return LoadOnly
	case load < 0:
		return ConductanceOnly
	}
	a, b := ev.Findings[load], ev.Findings[tester]
	switch {
	case a.FailProvesNothing() && b.FailProvesNothing():
		return OneError
	case a.Outcome == evidence.Pass && b.Outcome == evidence.Fail, a.Outcome == evidence.Fail && b.Outcome == evidence.Pass:
		return MethodsApart
	}
	return MethodsAgree
}

// powerByLoad is the power whose battery would show the volts of a load.
func powerByLoad(ev evidence.Evidence, d *twin.Design, e evidence.Epoch, i int) *Power {
	r := &ev.Case.Readings[i].Reading
	amps, said := r.Number(reading.Amps)
	seconds, _ := r.Number(reading.Seconds)
	if !said || amps <= 0 {
		return nil
	}
	at, atSigma, _ := ev.TemperatureAt(i)
	v := float64(ev.Case.Label.PerTwelve(r.Volts()))
	share := func(v, percent, amps float64) float64 {
		return powerAt(d.Loaded(usualShare, percent, at, quantity.Amperes(amps), quantity.Seconds(seconds)), v)
	}
	p := e.Charge.Percent
	volts := math.Hypot(math.Hypot(float64(accuracy.LoadVoltsSigma(quantity.Volts(v))), modelVolts), loadPerKelvin*float64(atSigma))
	sigma := rootOf(
		(share(v+volts, p, amps)-share(v-volts, p, amps))/2,
		(share(v, e.Charge.Low, amps)-share(v, e.Charge.High, amps))/2/battery.BandSigmas,
		share(v, p, amps)*float64(accuracy.AmperesSigma(quantity.Amperes(amps)))/amps,
	)
	return power(ev, d, i, share(v, p, amps), sigma)
}

// Bounds of the power a load is turned into, as shares of the label's.
const (
	leastPower = 0.02
	mostPower  = 2.0
)

// powerAt is the share of the label's power at which six cells show a voltage.
func powerAt(l twin.Loaded, v float64) float64 {
	low, high := leastPower, mostPower
	for range 30 {
		if middle := (low + high) / 2; sixCells*l.Cell(middle) < v {
			low = middle
		} else {
			high = middle
		}
	}
	return (low + high) / 2
}

// powerByTester is what a conductance tester shows, carried over to a full
// battery.
func powerByTester(ev evidence.Evidence, d *twin.Design, e evidence.Epoch, i int) *Power {
	r := &ev.Case.Readings[i].Reading
	measured, _ := r.Number(reading.Measured)
	rated, _ := r.Number(reading.Rated)
	ratio := measured / rated
	share := ratio / twin.TesterShare(e.Charge.Percent)
	charge := (ratio/twin.TesterShare(e.Charge.Low) - ratio/twin.TesterShare(e.Charge.High)) / 2 / battery.BandSigmas
	return power(ev, d, i, share, rootOf(accuracy.ConductanceSigma(share), charge, conductanceCharge*(1-e.Charge.Percent/100)*share))
}

func power(ev evidence.Evidence, d *twin.Design, i int, share, sigma float64) *Power {
	hundredths := func(x float64) float64 { return math.Round(x*100) / 100 }
	return &Power{
		Reading: ev.Case.Ref(i), Outcome: string(ev.Findings[i].Outcome), Valid: ev.Findings[i].Valid,
		Share: hundredths(share), Low: hundredths(math.Max(0, share-2*sigma)), High: hundredths(share + 2*sigma),
		Amps: quantity.Amperes(math.Round(share * d.Cranking)),
	}
}

func rootOf(sigmas ...float64) float64 {
	sum := 0.0
	for _, s := range sigmas {
		sum += s * s
	}
	return math.Sqrt(sum)
}

// probeSigma is the temperature error, in kelvin, up to which it counts as taken
// and not as guessed. Value from memory.
const probeSigma quantity.Celsius = 2.5

// checksOf are temperature, joints, rating, charge, then both again: the order in
// which two methods that disagree are looked into. Common practice, no source.
func checksOf(ev evidence.Evidence, e evidence.Epoch, load, tester int) []Check {
	looked, probed, taken := false, false, 0
	for i := range ev.Case.Readings {
		r := &ev.Case.Readings[i].Reading
		looked = looked || r.Kind == reading.Look
		if i < e.First || i >= e.End {
			continue
		}
		_, said := r.Temperature()
		probed = probed || said && accuracy.TemperatureSigma(r.Choice(reading.TempBasis)) <= probeSigma
		if r.Kind == reading.Load || r.Kind == reading.Conductance {
			taken++
		}
	}
	say := func(code string, done bool, values wording.Values) Check {
		return Check{done, wording.Say("check."+code, values, ev.Case.Refs(load, tester)...)}
	}
	return []Check{
		say("temperature", probed, wording.Values{"volts": ev.Case.Label.FromTwelve(10 * loadPerKelvin)}),
		say("joints", looked && len(e.Spoilt) == 0, nil),
		say("rating", ev.Findings[tester].Valid, nil),
		say("charge", e.AfterCharge && !e.Unproven || e.Charge != nil && e.Charge.Percent >= school.FullPercent, nil),
		say("repeat", taken >= repeatedTests, nil),
	}
}
