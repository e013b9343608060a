package evidence

import (
	"math"
	"slices"

	"grapnel/core/accuracy"
	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// pointsPerGravity is how many points a specific gravity of one has.
const pointsPerGravity = 1000

// cellGravities is what a hydrometer said of the cells.
type cellGravities struct {
	// known is how many cells could be read, as a figure or a zone.
	known  int
	charge battery.Charge
	// figures is how many were read as figures; the rest is of those.
	figures        int
	lowest         int // the cell with the lowest gravity, from 1
	least, most    float64
	spread, median float64
	// uncorrected says that nobody gave a temperature to correct bare figures by.
	uncorrected bool
}

// gravityCells corrects every cell and makes one charge of them. The median
// stands for the battery, so that one odd cell does not move it.
func gravityCells(l battery.Label, index int, r *reading.Reading, e Epoch) cellGravities {
	at, sigmaC, source := e.temperatureFor(index, r)
	correct := r.Choice(reading.Correction)
	points, _ := r.Number(reading.Points)
	var g cellGravities
	var figures []float64
	var zones []battery.Charge
	for i, cell := range r.Cells() {
		if zone, ok := battery.ChargeFromZone(cell.Code); ok {
			zones = append(zones, zone)
			continue
		}
		if cell.SG == 0 {
			continue
		}
		sg := corrected(cell.SG, correct, points, at, source != "unknown")
		figures = append(figures, sg)
		if g.lowest == 0 || sg < g.least {
			g.least, g.lowest = sg, i+1
		}
		g.most = max(g.most, sg)
	}
	g.figures, g.known = len(figures), len(figures)+len(zones)
	if g.figures == 0 {
		if len(zones) > 0 {
			g.charge = meanOf(zones)
		}
		return g
	}
	slices.Sort(figures)
	g.median = (figures[(len(figures)-1)/2] + figures[len(figures)/2]) / 2
	g.spread = math.Round((g.most-g.least)*1e4) / 1e4
	sigma := accuracy.GravitySigma()
	if correct == "" || correct == "none" {
		g.uncorrected = source == "unknown"
		if g.uncorrected {
			sigmaC = gravityUnknownSigma
		}
		sigma = math.Hypot(sigma, battery.GravityTemperatureSigma(sigmaC))
	}
	g.charge = l.ChargeBandFromGravity(g.median, sigma)
	return g
}

// gravityUnknownSigma is the temperature error of bare gravities that nobody gave one
// for: between −15 and 27 °C the correction is worth 0.03. Computed.
const gravityUnknownSigma quantity.Celsius = 18

// corrected is one cell's gravity at the tables' temperature. An instrument
// that corrects itself, or says the points to add, needs no more.
func corrected(sg float64, correction string, points float64, at quantity.Celsius, known bool) float64 {
	switch {
	case correction == "automatic":
		return sg
	case correction == "points":
		return sg + points/pointsPerGravity
	case known:
		return battery.Gravity(sg, at)
	}
	return sg
}

func meanOf(zones []battery.Charge) battery.Charge {
	var sum battery.Charge
	for _, z := range zones {
		sum.Percent, sum.Low, sum.High = sum.Percent+z.Percent, sum.Low+z.Low, sum.High+z.High
	}
	n := float64(len(zones))
	return battery.Charge{Percent: sum.Percent / n, Low: sum.Low / n, High: sum.High / n}
}

func (ev Evidence) gravity(i int, r reading.Reading, e Epoch) Finding {
	if r.Is(reading.JustWatered) {
		return unproven(GravityWatered, "gravity_watered", nil)
	}
	g := gravityCells(ev.Case.Label, i, &r, e)
	ch := whole(g.charge)
	if f, ok := ev.contradicted(i, e, wording.Values{"percent": ch.Percent, "sg": g.median}); ok {
		return f
	}
	values := wording.Values{"percent": ch.Percent, "low": ch.Low, "high": ch.High, "known": g.known, "cells": len(r.Cells())}
	if g.figures > 0 {
		values["cell"], values["least"], values["sg"] = g.lowest, g.least, g.median
		values["points"] = math.Round(g.spread * pointsPerGravity)
	}
	switch {
	case g.known == 0:
		return unproven(GravityUnread, "gravity_unread", values)
	case g.figures == 0:
		return proven(GravityZones, values)
	case g.figures == 1:
		return proven(GravityOne, values)
	}
	limit := ev.limit(school.SpreadBad)
	f := proven(GravityEven, values)
	switch {
	case g.spread > limit.Value+1e-9 && e.Drawn && ev.drawnFromFull(i):
		// A cell that falls behind the others while all give the same has less to give.
		f = proven(GravityApartDrawn, values).is(Fail)
	case g.spread > limit.Value+1e-9 && !e.Charged():
		f = proven(GravityApartLow, values)
	case g.spread > limit.Value+1e-9:
		f = proven(GravityApart, values).is(Fail)
	case g.spread >= battery.EqualiseSpread-1e-9:
		f = proven(GravityUneven, values)
	}
	if g.uncorrected {
		f.More = append(f.More, wording.Say("more.gravity_temperature", nil))
	}
	return f.against(limit, limit.atMost(g.spread, accuracy.SpreadSigma()))
}

// drawnFromFull reports that the epoch of a reading follows a discharge that began from a
// charged battery.
func (ev Evidence) drawnFromFull(i int) bool {
	n := ev.epochAt(i)
	return n > 0 && ev.Epochs[n-1].Charged()
}

func (ev Evidence) level(i int, r reading.Reading, _ Epoch) Finding {
	var low, dry []int
	for n, cell := range r.Cells() {
		switch cell.Code {
		case "low":
			low = append(low, n+1)
		case "dry":
			dry = append(dry, n+1)
		}
	}
	switch {
	case len(dry) > 0:
		return proven(LevelDry, wording.Values{"cells": listed(dry)})
	case len(low) > 0:
		return proven(LevelLow, wording.Values{"cells": listed(low)})
	}
	return proven(LevelOK, nil)
}

func listed(cells []int) string {
	text := ""
	for i, n := range cells {
		if i > 0 {
			text += ", "
		}
		text += quantity.Units{}.Number(float64(n), 0)
	}
	return text
}
