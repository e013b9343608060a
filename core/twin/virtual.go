package twin

import (
	"math"

	"grapnel/core/accuracy"
	"grapnel/core/quantity"
	"grapnel/core/reading"
)

// Source is a battery as an instrument or a vehicle meets it. *Battery is one.
type Source interface {
	Cells() int
	Temperature() quantity.Celsius
	// Volts at the posts with nothing drawn; Under a current after some seconds,
	// the battery staying as it is.
	Volts() quantity.Volts
	Under(quantity.Amperes, quantity.Seconds) quantity.Volts
	Discharge(amps quantity.Amperes, seconds quantity.Seconds, floor quantity.Volts, air quantity.Celsius) (quantity.Seconds, quantity.Volts)
	Accept(Charger) (quantity.Amperes, quantity.Volts)
	Fill(at quantity.Celsius)
	// Warm brings it to a temperature.
	Warm(at quantity.Celsius)
	Gravities() []float64
	Conductance() float64
}

// Virtual is a vehicle whose truth is hidden and whose instruments answer, each
// with its own error.
type Virtual struct {
	Battery Source
	Car     *Car
	// Noise gives one draw of a standard normal distribution.
	Noise func() float64
	// Scale multiplies every instrument's error; 1 for what accuracy says.
	Scale float64
	// Misread is added to every battery temperature.
	Misread quantity.Celsius
	// Acid is how far the battery's acid is off the usual, in specific gravity: a point moves
	// the rested volts of a cell by a millivolt.
	Acid float64
	// The tester's and the hydrometer's own errors, the same at every reading.
	Tester, Hydrometer float64
}

// Own draws the errors that belong to the instruments themselves.
func (v *Virtual) Own() {
	v.Tester = v.Scale * v.Noise() * accuracy.ConductanceTruth
	v.Hydrometer = v.Scale * v.Noise() * accuracy.HydrometerInstrument
}

func (v *Virtual) with(x, sigma float64) float64 { return x + v.Scale*sigma*v.Noise() }

func (v *Virtual) meter(x quantity.Volts) float64 {
	return math.Max(0, shown(v.with(float64(x), float64(accuracy.VoltsSigma(accuracy.GoodMeter, x))), 2))
}

// shown rounds to the digits an instrument shows.
func shown(x float64, digits int) float64 {
	p := math.Pow10(digits)
	return math.Round(x*p) / p
}

func (v *Virtual) celsius() float64 {
	basis := float64(accuracy.TemperatureSigma(""))
	return shown(v.with(float64(v.Battery.Temperature()+v.Misread), basis), 0)
}

// OpenCircuit reads the volts at rest.
func (v *Virtual) OpenCircuit(rested quantity.Minutes) reading.Reading {
	r := reading.Reading{Kind: reading.OpenCircuit}
	return r.With(reading.Volts, v.meter(v.Battery.Volts()+v.acidVolts())).With(reading.BatteryC, v.celsius()).With(reading.RestedMin, float64(rested))
}

// acidVolts is what the acid moves the volts by.
func (v *Virtual) acidVolts() quantity.Volts {
	return quantity.Volts(v.Acid * float64(v.Battery.Cells()))
}

// Gravity reads every cell with a bare hydrometer.
func (v *Virtual) Gravity() reading.Reading {
	cells := v.Battery.Gravities()
	out := make([]reading.Cell, len(cells))
	for i, sg := range cells {
		out[i].SG = math.Max(1, shown(v.with(sg, accuracy.HydrometerReading)+v.Hydrometer+v.Acid, 3))
	}
	r := reading.Reading{Kind: reading.Gravity}
	return r.WithCells(out...).WithChoice(reading.Correction, "automatic")
}

// Load holds a carbon pile at a current for some seconds.
func (v *Virtual) Load(amps quantity.Amperes, seconds quantity.Seconds) reading.Reading {
	truly := quantity.Amperes(math.Max(1, v.with(float64(amps), float64(accuracy.AmperesSigma(amps)))))
	volts := v.Battery.Under(truly, seconds) + v.acidVolts()
	read := math.Max(0, shown(v.with(float64(volts), float64(accuracy.LoadVoltsSigma(volts))), 2))
	r := reading.Reading{Kind: reading.Load}
	return r.With(reading.Amps, float64(amps)).
		With(reading.Seconds, float64(seconds)).
		With(reading.Volts, read).
		With(reading.BatteryC, v.celsius())
}

// Conductance reads a tester set to a rating. Drop is the share a clamp that
// does not bite makes it read too low; 0 for a clean post.
func (v *Virtual) Conductance(rated quantity.Amperes, standard string, drop float64) reading.Reading {
	ratio := v.Battery.Conductance() * (1 + v.Tester) * (1 - drop)
	ratio = v.with(ratio, accuracy.ConductanceRepeat*ratio)
	r := reading.Reading{
		Kind: reading.Conductance,
	}.With(reading.Measured, math.Max(1, shown(ratio*float64(rated), 0))).
		With(reading.Rated, float64(rated))
	return r.WithChoice(reading.Standard, standard)
}

// Crank reads volts at the posts while the starter turns.
func (v *Virtual) Crank() reading.Reading {
	c := v.Car.Crank(v.Battery)
	r := reading.Reading{Kind: reading.Crank}.With(reading.Volts, v.meter(c.Volts)).WithChoice(reading.Sound, c.Sound)
	return r.WithChoice(reading.Started, yes(c.Started))
}

func yes(b bool) string {
	if b {
		return reading.Yes
	}
	return reading.No
}

// StarterDraw reads the starter's current by clamp and its volts.
func (v *Virtual) StarterDraw() reading.Reading {
	c := v.Car.Crank(v.Battery)
	amps := math.Max(1, shown(v.with(float64(c.Amps), float64(accuracy.ClampSigma(c.Amps))), 0))
	return reading.Reading{
		Kind: reading.StarterDraw,
	}.With(reading.Amps, amps).
		With(reading.Volts, v.meter(c.Volts)).
		With(reading.StudVolts, v.meter(c.Stud))
}

// Drop reads the volts across a joint or cable while cranking.
func (v *Virtual) Drop(where string) reading.Reading {
	c := v.Car.Crank(v.Battery)
	ohms := map[string]quantity.Ohms{"whole_positive": v.Car.Circuit.Positive(), "whole_negative": v.Car.Circuit.Negative()}[where]
	if part := v.Car.Circuit.Part(where); part != nil {
		ohms = *part
	}
	volts := quantity.Volts(float64(ohms) * float64(c.Amps))
	read := math.Max(0, shown(v.with(float64(volts), float64(accuracy.DropSigma(volts))), 2))
	r := reading.Reading{Kind: reading.Drop}.WithChoice(reading.Where, where).With(reading.Volts, read)
	amps := shown(v.with(float64(c.Amps), float64(accuracy.ClampSigma(c.Amps))), 0)
	if amps < 1 {
		return r
	}
	return r.With(reading.Amps, amps)
}

// Charging reads the posts with the engine running.
func (v *Virtual) Charging(speed string) reading.Reading {
	volts, _ := v.Car.Running(v.Battery)
	return reading.Reading{Kind: reading.ChargingSystem}.With(reading.Volts, v.meter(volts)).WithChoice(reading.Speed, speed)
}

// Ripple reads AC volts at the posts.
func (v *Virtual) Ripple() reading.Reading {
	x := v.Car.Alternator.Ripple
	read := math.Max(0, shown(v.with(float64(x), float64(accuracy.RippleSigma(x))), 2))
	return reading.Reading{Kind: reading.Ripple}.With(reading.VoltsAC, read)
}

// DCDC reads the 12 V side of a hybrid or electric car as it wakes.
func (v *Virtual) DCDC() reading.Reading {
	volts, _ := v.Car.Running(v.Battery)
	r := reading.Reading{Kind: reading.DCDC}.With(reading.RestVolts, v.meter(v.Battery.Volts()))
	return r.With(reading.AwakeVolts, v.meter(volts)).With(reading.Seconds, 5)
}

// Drain reads the sleeping car with an ammeter in series.
func (v *Virtual) Drain(asleep quantity.Minutes) reading.Reading {
	amps := v.Car.Asleep
	if asleep < v.Car.SleepMinutes {
		amps = v.Car.Awake
	}
	read := math.Max(0, shown(v.with(float64(amps), float64(accuracy.DrainSigma("series", amps))), 3))
	return reading.Reading{
		Kind: reading.Drain,
	}.With(reading.Amps, read).
		With(reading.AsleepMin, float64(asleep)).
		WithChoice(reading.Method, "series")
}

// CaseLeak reads from a post over the top of the case.
func (v *Virtual) CaseLeak() reading.Reading {
	return reading.Reading{Kind: reading.CaseLeak}.With(reading.Volts, v.meter(v.Car.Leak))
}

// Reserve holds a known load for some minutes or to 10.5 V, whichever is first.
// The battery is moved on.
func (v *Virtual) Reserve(amps quantity.Amperes, minutes quantity.Minutes) reading.Reading {
	start, at := v.meter(v.Battery.Volts()), v.celsius()
	floor := quantity.Volts(reserveVolts * float64(v.Battery.Cells()) / cellsOfTables)
	held, end := v.Battery.Discharge(amps, minutes.Seconds(), floor, v.Battery.Temperature())
	truly := math.Max(0.2, shown(v.with(float64(amps), float64(accuracy.ClampSigma(0))*0.1+0.02*float64(amps)), 1))
	r := reading.Reading{
		Kind: reading.Reserve,
	}.With(reading.Amps, truly).
		With(reading.Minutes, math.Max(0.5, shown(float64(held)/minuteSeconds, 0)))
	return r.With(reading.StartVolts, start).With(reading.EndVolts, v.meter(end)).With(reading.BatteryC, at)
}
