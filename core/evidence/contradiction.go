package evidence

import (
	"math"
	"slices"

	"grapnel/core/accuracy"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// Contradiction is readings of one charge that cannot all be true.
type Contradiction struct {
	// Code is what contradicts what, the code of the finding.
	Code Code
	// Readings are those that contradict each other.
	Readings []int
	// EyeOnly says that volts and gravity agree and the eye alone does not: it sees
	// one cell, and the charge holds.
	EyeOnly bool
}

// Unsettled reports a contradiction that leaves the charge unknown.
func (c *Contradiction) Unsettled() bool { return c != nil && !c.EyeOnly }

// apartPercent is how far two readings of one charge have to lie apart, beyond their
// bands, to contradict each other. Value from memory.
const apartPercent = 20

// contradicts reports two charges whose bands do not meet and that lie far apart.
func contradicts(a, b *ChargeState) bool {
	return a != nil && b != nil && (a.High < b.Low || b.High < a.Low) && math.Abs(a.Percent-b.Percent) >= apartPercent
}

// contradiction finds what cannot be true together; nil where all fits. Volts that lack
// what one cell down lacks fit the gravity that shows it.
func contradiction(volts, gravity, eye *ChargeState, cellDown bool) *Contradiction {
	explained := cellDown && volts != nil && gravity != nil && volts.Percent < gravity.Percent
	if contradicts(volts, gravity) && !explained {
		code := ContradictVoltsHigh
		if volts.Percent < gravity.Percent {
			code = ContradictVoltsLow
		}
		return &Contradiction{Code: code, Readings: []int{volts.Readings[0], gravity.Readings[0]}}
	}
	other := volts
	if other == nil || explained {
		other = gravity
	}
	if !eyeContradicts(eye, other) {
		return nil
	}
	code := ContradictEyeDark
	if eye.Percent > other.Percent {
		code = ContradictEyeGreen
	}
	return &Contradiction{Code: code, Readings: []int{other.Readings[0], eye.Readings[0]}, EyeOnly: volts != nil && gravity != nil}
}

// eyeContradicts reports an eye that no cell of a battery at this charge would show. Its
// mark lies at about 65 %, and is not sharp.
func eyeContradicts(eye, other *ChargeState) bool {
	if eye == nil || other == nil {
		return false
	}
	if eye.Percent > school.EyePercent {
		return other.High < school.EyePercent-eyeBlur
	}
	return other.Low > school.EyePercent+eyeBlur
}

// eyeBlur is how far from its mark the eye may still show either colour, percent. Value
// from memory.
const eyeBlur = 15

// reasons are the usual ones of a contradiction, the likeliest first.
var reasons = map[Code][]string{
	ContradictVoltsLow:  {"cell", "meter", "acid"},
	ContradictVoltsHigh: {"surface", "stratified", "acid", "chemistry", "hydrometer"},
	ContradictEyeGreen:  {"eye_one_cell", "eye_stuck", "cell", "meter"},
	ContradictEyeDark:   {"eye_one_cell", "eye_stuck", "surface", "stratified"},
}

// contradicted is the finding of a reading that another contradicts; false for one that
// none does.
func (ev Evidence) contradicted(i int, e Epoch, values wording.Values) (Finding, bool) {
	c := e.Contradiction
	if c == nil || !slices.Contains(c.Readings, i) || c.EyeOnly && ev.Case.Readings[i].Kind != reading.Eye {
		return Finding{}, false
	}
	values["with"] = string(ev.Case.Readings[c.Readings[0]].Kind)
	values["colour"] = wording.Word("unsaid")
	if colour := ev.Case.Readings[c.Readings[1]].Choice(reading.Colour); colour != "" {
		values["colour"] = colour
	}
	f := unproven(c.Code, "contradicted", values)
	for _, reason := range reasons[c.Code] {
		f.More = append(f.More, wording.Say("more.contradict_"+reason, nil))
	}
	return f, true
}

// Volts under the same load that a battery cannot show at a higher charge: lower than at
// the lower one by more than both were misread. Values from memory.
const (
	sameLoad     = 0.1 // of the amperes
	sameSeconds  = 5
	sameCelsius  = 8
	moreCharge   = 20 // percent
	lessVolts    = 0.2
	lessOfRating = 0.12
)

// irreconcilable marks loads and tester readings of which one has to be wrong: a battery
// gives less charged than it gave discharged, under the same load. One that another of
// the same charge bears out stands, and what it contradicts does not.
func (ev *Evidence) irreconcilable() {
	tests := ev.tests()
	known := map[int]bool{}
	borneOut := func(i int) bool {
		if _, ok := known[i]; !ok {
			known[i] = ev.borneOut(i)
		}
		return known[i]
	}
	for n, later := range tests {
		for _, earlier := range tests[:n] {
			if !ev.cannotBoth(earlier, later) {
				continue
			}
			switch first, second := borneOut(earlier), borneOut(later); {
			case second && !first:
				ev.setAside(earlier, later)
			case first && !second:
				ev.setAside(later, earlier)
			default:
				ev.setAside(earlier, later)
				ev.setAside(later, earlier)
			}
		}
	}
}

// cannotBoth reports two readings of one kind, the second at a clearly higher charge, that
// shows clearly less.
func (ev *Evidence) cannotBoth(i, j int) bool {
	a, b := &ev.Case.Readings[i].Reading, &ev.Case.Readings[j].Reading
	if a.Kind != b.Kind {
		return false
	}
	from, to := ev.EpochOf(i), ev.EpochOf(j)
	if from.First == to.First || from.Charge == nil || to.Charge == nil {
		return false
	}
	if to.Charge.Percent < from.Charge.Percent {
		i, j, a, b, from, to = j, i, b, a, to, from
	}
	if to.Charge.Percent-from.Charge.Percent < moreCharge || len(to.Spoilt) > len(from.Spoilt) {
		return false
	}
	switch a.Kind {
	case reading.Load:
		return ev.alike(i, j) && float64(a.Volts()-b.Volts()) > ev.scaledVolts(lessVolts)
	case reading.Conductance:
		return ratioOf(a)-ratioOf(b) > lessOfRating
	}
	return false
}

func (ev *Evidence) scaledVolts(v float64) float64 {
	return float64(ev.Case.Label.FromTwelve(quantity.Volts(v)))
}

func ratioOf(r *reading.Reading) float64 {
	measured, _ := r.Number(reading.Measured)
	rated, _ := r.Number(reading.Rated)
	return measured / rated
}

// alike reports two loads of the same current, time and temperature, as far as was said.
func (ev *Evidence) alike(i, j int) bool {
	a, b := &ev.Case.Readings[i].Reading, &ev.Case.Readings[j].Reading
	ampsA, saidA := a.Number(reading.Amps)
	ampsB, saidB := b.Number(reading.Amps)
	secondsA, _ := a.Number(reading.Seconds)
	secondsB, _ := b.Number(reading.Seconds)
	atA, _, knownA := ev.TemperatureAt(i)
	atB, _, knownB := ev.TemperatureAt(j)
	return saidA == saidB && math.Abs(ampsA-ampsB) <= sameLoad*math.Max(ampsA, ampsB) &&
		math.Abs(secondsA-secondsB) <= sameSeconds && a.Choice(reading.Method) == b.Choice(reading.Method) &&
		(!knownA || !knownB || math.Abs(float64(atA-atB)) <= sameCelsius)
}

// tests are the loads and tester readings.
func (ev *Evidence) tests() (list []int) {
	for i, r := range ev.Case.Readings {
		if r.Kind == reading.Load || r.Kind == reading.Conductance {
			list = append(list, i)
		}
	}
	return list
}

// borneOut reports a load or tester reading that another of its epoch repeats.
func (ev *Evidence) borneOut(i int) bool {
	e := ev.EpochOf(i)
	for j := e.First; j < e.End; j++ {
		if j == i || ev.Case.Readings[j].Kind != ev.Case.Readings[i].Kind {
			continue
		}
		a, b := &ev.Case.Readings[i].Reading, &ev.Case.Readings[j].Reading
		if a.Kind == reading.Load && ev.alike(i, j) && math.Abs(float64(a.Volts()-b.Volts())) <= 2*float64(accuracy.LoadVoltsSigma(a.Volts())) {
			return true
		}
		if a.Kind == reading.Conductance && math.Abs(ratioOf(a)-ratioOf(b)) <= lessOfRating/2 {
			return true
		}
	}
	return false
}

// setAside keeps a finding and takes its weight: what contradicts it is named.
func (ev *Evidence) setAside(i, other int) {
	f := &ev.Findings[i]
	if f.contradicts {
		return
	}
	code := LoadContradicted
	if f.Kind == reading.Conductance {
		code = ConductanceContradicted
	}
	values := wording.Values{"percent": ev.EpochOf(i).Charge.Percent, "other": ev.EpochOf(other).Charge.Percent}
	if f.Kind == reading.Load {
		values["volts"], values["before"] = ev.Case.Readings[i].Volts(), ev.Case.Readings[other].Volts()
	} else {
		values["volts"], values["before"] = math.Round(100*ratioOf(&ev.Case.Readings[i].Reading)), math.Round(100*ratioOf(&ev.Case.Readings[other].Reading))
	}
	marked := unproven(code, "repeat", values)
	marked.Limit, marked.Margin, marked.Outcome, marked.contradicts = f.Limit, f.Margin, f.Outcome, true
	marked.Kind, marked.index = f.Kind, f.index
	marked.rest(f.Reading)
	marked.Text.Readings = ev.Case.Refs(i, other)
	*f = marked
}

// Contradicted reports a test that another one contradicts: it is to be repeated.
func (f Finding) Contradicted() bool { return f.contradicts }
