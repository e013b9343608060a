package charging

import (
	"math"

	"grapnel/core/quantity"
	"grapnel/core/twin"
)

// Forecast is what the model expects of a charge.
type Forecast struct {
	// Hours until the charge asked for, Low and High their band. Reached is false
	// where the charger does not get there in MostHours.
	Hours, Low, High float64
	Reached          bool
	// AhIn is what the charger has put in by then.
	AhIn float64
	// Points are the moments of it, hours and percent.
	Points [][2]float64
}

// How far off the model is: warm, and in the cold, where it is least certain and
// another of its kind takes up to twice as long; as shares of the time. Values
// from memory.
const (
	warmSpread = 0.2
	coldSpread = 1.0
)

// coldCharging is where the cold begins. Value from memory.
const coldCharging quantity.Celsius = 10

// MostHours is the longest charge that is worked out, drawnPoints how finely it is
// drawn.
const (
	MostHours   = 72.0
	drawnPoints = 48
)

// Model charges a battery of a design from one charge to another, in percent, and
// tells how long it takes. The charging resistance, the taper and the gas come
// from the twin.
func Model(d *twin.Design, from, to float64, c twin.Charger, at quantity.Celsius) Forecast {
	f := Forecast{Points: [][2]float64{{0, from}}}
	b := d.New(twin.Sound, from, at)
	var all [][2]float64
	last := b.Charge(c, MostHours, to, at, func(p twin.ChargePoint) { all = append(all, [2]float64{p.Hours, p.Percent}) })
	every := max(1, len(all)/drawnPoints)
	for i := every - 1; i < len(all); i += every {
		f.Points = append(f.Points, all[i])
	}
	if n := len(all); n > 0 && f.Points[len(f.Points)-1] != all[n-1] {
		f.Points = append(f.Points, all[n-1])
	}
	spread := warmSpread
	if at < coldCharging {
		spread = coldSpread
	}
	f.Hours, f.AhIn, f.Reached = last.Hours, last.AhIn, b.Percent() >= to-percentClose
	f.Low, f.High = f.Hours/(1+spread), math.Min(f.Hours*(1+spread), MostHours)
	return f
}

// percentClose is how near the charge asked for counts as reached.
const percentClose = 0.01
