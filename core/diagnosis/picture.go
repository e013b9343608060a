package diagnosis

import (
	"grapnel/core/accuracy"
	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// Picture is what a drawing of the case needs: the charge scale of this
// battery, the load test to take, and the points measured with their error.
type Picture struct {
	// Scale is the open-circuit table of this battery, empty when not judged.
	Scale []battery.ChargePoint `json:"scale"`
	// JudgeVolts is the rested voltage from which a failed test counts.
	JudgeVolts quantity.Volts `json:"judge_volts"`
	// CeilingVolts is the highest voltage this battery can rest at.
	CeilingVolts quantity.Volts `json:"ceiling_volts"`
	Plan         LoadPlan       `json:"plan"`
	// Rested is the latest open-circuit voltage that counts, Unrested one that
	// does not.
	Rested   *VoltsPoint `json:"rested"`
	Unrested *VoltsPoint `json:"unrested"`
	// Contradicted says that the latest readings of the charge contradict each other.
	Contradicted bool        `json:"contradicted"`
	Loads        []LoadPoint `json:"loads"`
	// Temperature is the battery temperature of the last epoch.
	Temperature *quantity.Celsius `json:"temperature"`
	// Expected is what a sound battery of this label would do.
	Expected Expected `json:"expected"`
	// Methods holds the load against the conductance tester.
	Methods Methods `json:"methods"`
	// Reserve is the timed discharge to take; nil where the label tells too little.
	Reserve *ReservePlan `json:"reserve"`
	// Hunt is where a drain goes, fuse by fuse.
	Hunt Hunt `json:"hunt"`
}

// VoltsPoint is a measured voltage with one sigma of its error.
type VoltsPoint struct {
	Reading wording.Ref    `json:"reading"`
	Volts   quantity.Volts `json:"volts"`
	Sigma   quantity.Volts `json:"sigma"`
	// AtMost is the charge that an unrested voltage bounds from above.
	AtMost *float64 `json:"at_most"`
}

// LoadPoint is a measured load test with one sigma of its errors. From is the
// rested voltage of its epoch, zero when there is none.
type LoadPoint struct {
	Reading    wording.Ref      `json:"reading"`
	Amps       quantity.Amperes `json:"amps"`
	AmpsSigma  quantity.Amperes `json:"amps_sigma"`
	Volts      quantity.Volts   `json:"volts"`
	VoltsSigma quantity.Volts   `json:"volts_sigma"`
	From       quantity.Volts   `json:"from"`
	Outcome    string           `json:"outcome"`
	Valid      bool             `json:"valid"`
	// Current marks a load of the last epoch.
	Current bool `json:"current"`
}

// Draw gathers the picture of a case.
func (e *Engine) Draw(c evidence.Case) Picture {
	ev := evidence.Examine(c)
	last := ev.Last()
	p := Picture{
		Scale: c.Label.ChargeScale(), Plan: PlanLoad(ev), Loads: []LoadPoint{}, Contradicted: last.Contradiction.Unsettled(), Temperature: last.TestTemperature(),
		JudgeVolts: c.Label.VoltsFromCharge(school.JudgePercent), CeilingVolts: c.Label.RestedCeiling(),
	}
	for i := last.First; i < last.End; i++ {
		if c.Readings[i].Kind == reading.OpenCircuit {
			p.place(ev, i)
		}
	}
	for i, r := range c.Readings {
		if r.Kind == reading.Load {
			p.Loads = append(p.Loads, loadPoint(ev, i, r.Reading, i >= last.First))
		}
	}
	p.Expected = e.expected(ev, p.Plan)
	p.Methods = e.methods(ev)
	p.Reserve = e.planReserve(ev)
	p.Hunt = hunt(ev)
	return p
}

func voltsPoint(ev evidence.Evidence, i int) *VoltsPoint {
	r := ev.Case.Readings[i]
	return &VoltsPoint{Reading: ev.Case.Ref(i), Volts: r.Volts(), Sigma: accuracy.VoltsSigma(accuracy.Instrument(r.By), r.Volts())}
}

func (p *Picture) place(ev evidence.Evidence, i int) {
	point := voltsPoint(ev, i)
	if ev.Findings[i].Valid {
		p.Rested = point
		return
	}
	if last := ev.Last(); last.AtMost != nil && last.AtMostReading == i {
		point.AtMost = &last.AtMost.Percent
	}
	p.Unrested = point
}

func loadPoint(ev evidence.Evidence, i int, r reading.Reading, current bool) LoadPoint {
	amps, _ := r.Number(reading.Amps)
	point := LoadPoint{
		Reading: ev.Case.Ref(i), Amps: quantity.Amperes(amps), AmpsSigma: accuracy.AmperesSigma(quantity.Amperes(amps)),
		Volts: r.Volts(), VoltsSigma: accuracy.LoadVoltsSigma(r.Volts()),
		Outcome: string(ev.Findings[i].Outcome), Valid: ev.Findings[i].Valid, Current: current,
	}
	if e := ev.EpochOf(i); e.OpenCircuit != nil {
		point.From = *e.OpenCircuit
	}
	return point
}
