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

// ReservePlan is the timed discharge to take on this battery, with what the model
// expects of it from full: the only test that sees lost capacity.
type ReservePlan struct {
	// Amps to draw: those of the latest reserve check, else about the headlamps'.
	Amps quantity.Amperes `json:"amps"`
	// Minutes until a quarter of the ampere-hours is out.
	Minutes quantity.Minutes `json:"minutes"`
	// SoundLow and SoundHigh bound the volts of a sound battery then, under the
	// load; Least is where one with the least capacity a battery is kept for lies.
	SoundLow  quantity.Volts `json:"sound_low"`
	SoundHigh quantity.Volts `json:"sound_high"`
	Least     quantity.Volts `json:"least"`
	// Stop is where the discharge is ended whatever the clock says.
	Stop quantity.Volts `json:"stop"`
	// Curve is the volts over time of a sound battery, of one with the least
	// capacity, and of one with a cell at a quarter of its own.
	Curve []ReservePoint `json:"curve"`
	// Taken are the checks of the case.
	Taken []ReserveTaken `json:"taken"`
	// Celsius is the battery temperature it is worked out for.
	Celsius quantity.Celsius  `json:"celsius"`
	Text    wording.Statement `json:"text"`
}

// ReservePoint is a moment of the discharge.
type ReservePoint struct {
	Minutes  quantity.Minutes `json:"minutes"`
	Low      quantity.Volts   `json:"low"`
	High     quantity.Volts   `json:"high"`
	Least    quantity.Volts   `json:"least"`
	WeakCell quantity.Volts   `json:"weak_cell"`
}

// ReserveTaken is where a check ended.
type ReserveTaken struct {
	Reading wording.Ref      `json:"reading"`
	Minutes quantity.Minutes `json:"minutes"`
	Volts   quantity.Volts   `json:"volts"`
}

// A pair of headlamps draws lampsAmps; a small battery is drawn at lampsShare of
// its ampere-hours, to the half ampere. The curve has reserveSteps and reaches
// reserveReach of the planned time; weakCell is the share of its capacity that
// the one weak cell has. Values from memory.
const (
	lampsAmps    = 10.0
	lampsShare   = 0.15
	reserveSteps = 18
	reserveReach = 1.5
	weakCell     = 0.25
)

// planReserve is nil where neither ampere-hours nor reserve are on the label.
func (e *Engine) planReserve(ev evidence.Evidence) *ReservePlan {
	l := ev.Case.Label
	d, ok := e.Design(l)
	if !ok || !d.CapacityKnown {
		return nil
	}
	p := &ReservePlan{
		Amps:    reserveAmps(d.Capacity),
		Stop:    l.FromTwelve(battery.ReserveEndVolts),
		Taken:   []ReserveTaken{},
		Celsius: battery.TableCelsius,
	}
	if t := ev.Last().TestTemperature(); t != nil {
		p.Celsius = *t
	}
	for i, r := range ev.Case.Readings {
		if r.Kind != reading.Reserve {
			continue
		}
		amps, _ := r.Number(reading.Amps)
		minutes, _ := r.Number(reading.Minutes)
		end, _ := r.Number(reading.EndVolts)
		p.Amps = quantity.Amperes(amps)
		p.Taken = append(p.Taken, ReserveTaken{ev.Case.Ref(i), quantity.Minutes(minutes), quantity.Volts(end)})
	}
	p.Minutes = quantity.Minutes(math.Round(school.ReserveTaken * d.Capacity / float64(p.Amps) * 60))
	p.draw(l, d, e.soundCapacity)
	p.Text = wording.Say("reserve.plan", wording.Values{
		"amps": p.Amps, "minutes": p.Minutes, "low": p.SoundLow, "high": p.SoundHigh, "least": p.Least, "stop": p.Stop,
	})
	return p
}

func reserveAmps(capacity float64) quantity.Amperes {
	return quantity.Amperes(math.Max(0.5, math.Round(2*math.Min(lampsAmps, lampsShare*capacity))/2))
}

// draw discharges four batteries on the model, side by side.
func (p *ReservePlan) draw(l battery.Label, d *twin.Design, sound [2]float64) {
	cell := twin.Cell{Health: 1, Capacity: weakCell}
	cells := []twin.Battery{
		d.New(twin.Condition{Health: 1, Capacity: sound[0]}, 100, p.Celsius),
		d.New(twin.Condition{Health: 1, Capacity: sound[1]}, 100, p.Celsius),
		d.New(twin.Condition{Health: soundHealth[0].at, Capacity: soundCapacity[0].at}, 100, p.Celsius),
		d.New(twin.Condition{Health: 1, Capacity: 1, Odd: &cell}, 100, p.Celsius),
	}
	whole := reserveReach * float64(p.Minutes)
	for _, t := range p.Taken {
		whole = math.Max(whole, reserveReach*float64(t.Minutes))
	}
	step := quantity.Seconds(whole * 60 / reserveSteps)
	for i := range reserveSteps + 1 {
		at := p.point(l, quantity.Minutes(float64(i)*float64(step)/60), cells)
		p.Curve = append(p.Curve, at)
		for k, v := range []quantity.Volts{at.Low, at.High, at.Least, at.WeakCell} {
			if v > p.Stop { // one that is at its end stays there
				cells[k].Discharge(p.Amps, step, 0, p.Celsius)
			}
		}
	}
	p.SoundLow, p.SoundHigh, p.Least = p.at(p.Minutes)
}

func (p *ReservePlan) point(l battery.Label, minutes quantity.Minutes, cells []twin.Battery) ReservePoint {
	volts := func(k int) quantity.Volts {
		v := float64(l.FromTwelve(cells[k].Under(p.Amps, settleSeconds)))
		return quantity.Volts(math.Round(v*1000) / 1000)
	}
	return ReservePoint{Minutes: minutes, Low: volts(0), High: volts(1), Least: volts(2), WeakCell: volts(3)}
}

// settleSeconds is how long a load is on before its volts are read. Value from
// memory.
const settleSeconds quantity.Seconds = 5

// at is the curve at a time, in straight lines.
func (p *ReservePlan) at(minutes quantity.Minutes) (low, high, least quantity.Volts) {
	read := func(y func(ReservePoint) quantity.Volts) quantity.Volts {
		of := quantity.Graph[ReservePoint]{
			Points: p.Curve,
			X:      func(at ReservePoint) float64 { return float64(at.Minutes) },
			Y:      func(at ReservePoint) float64 { return float64(y(at)) },
		}
		return quantity.Volts(of.At(float64(minutes)))
	}
	return read(func(at ReservePoint) quantity.Volts { return at.Low }),
		read(func(at ReservePoint) quantity.Volts { return at.High }),
		read(func(at ReservePoint) quantity.Volts { return at.Least })
}
