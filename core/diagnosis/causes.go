package diagnosis

import (
	"cmp"
	"math"
	"slices"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/reading"
	"grapnel/core/wording"
)

// leastShown is the probability under which a cause is left out, leastWeight the
// shift of its log-odds from which a reading is named for or against it, and
// leastShift that of its probability from which an effect is shown.
const (
	leastShown  = 0.02
	leastWeight = 0.15
	leastShift  = 0.01
)

// vehicleKinds are the readings taken of the vehicle.
var vehicleKinds = []reading.Kind{
	reading.Crank, reading.ChargingSystem, reading.Ripple, reading.StarterDraw, reading.Drop, reading.Drain, reading.DCDC, reading.Jump,
}

// faultFindings are the findings that say by themselves what of the vehicle is at
// fault.
var faultFindings = []evidence.Code{
	evidence.ChargingLow, evidence.ChargingHigh, evidence.RippleBad, evidence.DCDCLow, evidence.DCDCSlow, evidence.DCDCHigh,
	evidence.DrainHigh, evidence.DrainHighFuse, evidence.DrainHighPlain, evidence.ChargingOut, evidence.StarterDead, evidence.StarterHigh, evidence.StarterLow, evidence.StarterStudLow,
	evidence.DropHigh, evidence.DropHighOhms, evidence.CrankSlow,
}

// faultOf is the cause that a finding names by itself.
var faultOf = map[evidence.Code]string{
	evidence.ChargingLow: "undercharging", evidence.ChargingOut: "undercharging", evidence.RippleBad: "undercharging",
	evidence.ChargingHigh: "overcharging",
	evidence.DCDCLow:      "dcdc_fault", evidence.DCDCSlow: "dcdc_fault", evidence.DCDCHigh: "overcharging",
	evidence.DrainHigh: "parasitic_drain", evidence.DrainHighFuse: "parasitic_drain", evidence.DrainHighPlain: "parasitic_drain",
	evidence.StarterHigh: "starter_drag", evidence.StarterDead: "starter_dead", evidence.StarterStudLow: "poor_connection",
	evidence.DropHigh: "poor_connection", evidence.DropHighOhms: "poor_connection",
	evidence.CaseDirty: "case_leakage", evidence.CaseFilthy: "case_leakage",
}

// measured is the fault that the readings of the vehicle have found, with its probability;
// empty for none. Of several it is the one that more likely brought the vehicle here.
func (f *facts) measured(b *belief) (code string, p float64) {
	most := -1.0
	consider := func(cause string) {
		if cause == "undercharging" && f.ev.Case.Vehicle.Electric() {
			cause = "dcdc_fault"
		}
		for i, m := range hypotheses {
			if m.code != cause || m.factor == noFactor {
				continue
			}
			// What the rest makes likelier leads.
			if holds := b.faults[m.factor][m.value]; b.ofSound[i]+holds > most {
				code, p, most = cause, holds, b.ofSound[i]+holds
			}
		}
	}
	for _, i := range f.vehicleFaults() {
		if cause, ok := faultOf[f.ev.Findings[i].Code()]; ok {
			consider(cause)
		}
	}
	for _, cause := range f.suspected {
		consider(cause)
	}
	return code, p
}

// OfVehicle reports a kind of reading that is taken of the vehicle.
func OfVehicle(k reading.Kind) bool { return slices.Contains(vehicleKinds, k) }

// FaultFound reports a finding that says by itself what of the vehicle is at
// fault.
func FaultFound(f evidence.Finding) bool { return slices.Contains(faultFindings, f.Code()) }

// vehicleFaults are valid readings of the vehicle that say what else is at
// fault.
func (f *facts) vehicleFaults() []int {
	var list []int
	for _, finding := range f.standing {
		if !finding.Valid || !OfVehicle(finding.Kind) || !FaultFound(finding) {
			continue
		}
		if slices.Contains(softFindings, finding.Code()) && !f.turnsBadly {
			continue
		}
		list = append(list, finding.Index())
	}
	return list
}

// softFindings are those of the starter that a cold engine explains as well: they
// are a fault where all readings bear out a drag or a joint.
var softFindings = []evidence.Code{evidence.StarterHigh, evidence.StarterLow, evidence.CrankSlow}

// wrongBattery reports a battery the vehicle is not made for: less cranking
// power than it requires, or plain flooded in a start-stop car.
func (f *facts) wrongBattery() bool {
	v, l := f.ev.Case.Vehicle, f.ev.Case.Label
	weak := v.RequiredCCA != nil && l.Rating != nil && l.Rating.SAE().High < *v.RequiredCCA
	return weak || f.neverFits()
}

// neverFits reports a battery of a kind the vehicle is not made for, whatever it measures:
// plain flooded in a start-stop car, or another voltage than its system's.
func (f *facts) neverFits() bool {
	v, l := f.ev.Case.Vehicle, f.ev.Case.Label
	plain := v.StartsAndStops() && l.Chemistry == battery.Flooded
	// A 12 V battery may be half of 24 V, two of 6 V make 12 V.
	other := v.SystemV != nil && l.NominalV > *v.SystemV || v.SystemV != nil && l.NominalV == 8 && *v.SystemV != 8
	return plain || other
}

// marginal is how likely a cause holds, whether it brought the vehicle here or
// stands beside what did.
func (b *belief) marginal(i int, c Condition) float64 {
	switch m := hypotheses[i]; {
	case m.code == "worn":
		return c.Worn
	case m.code == "dead_cell":
		return c.DeadCell
	case m.code == "damaged":
		return c.Damaged
	case m.code == "discharged_sound":
		return b.low
	case m.factor != noFactor:
		return b.faults[m.factor][m.value]
	}
	return b.hypotheses[i]
}

// likely is one of hypotheses with its probability.
type likely struct {
	hypothesis int
	p          float64
}

// likelies are the causes worth showing, most likely first.
func (b *belief) likelies(c Condition) []likely {
	var list []likely
	for i := range hypotheses {
		if p := b.marginal(i, c); p >= leastShown {
			list = append(list, likely{i, p})
		}
	}
	slices.SortStableFunc(list, func(a, b likely) int { return cmp.Compare(thousandths(b.p), thousandths(a.p)) })
	return list
}

// rank lists the causes, most likely first, each with what speaks for and
// against it.
func (w *weighing) rank(list []likely, without []belief) []Cause {
	causes := make([]Cause, 0, len(list))
	for _, l := range list {
		pro, con := w.sides(l.hypothesis, l.p, without)
		causes = append(causes, Cause{Cause: hypotheses[l.hypothesis].code, Probability: thousandths(l.p), For: pro, Against: con})
	}
	return causes
}

func thousandths(p float64) float64 { return math.Round(p*1000) / 1000 }

// leaveOut weighs the case without each of its readings in turn.
func (w *weighing) leaveOut() []belief {
	list, set := make([]belief, len(w.likelihoods)), make(leftOut, len(w.likelihoods))
	for i := range list {
		w.engine.heed()
		set[i] = true
		list[i] = w.believe(set)
		set[i] = false
	}
	return list
}

// heavy is a finding with its weight for a cause.
type heavy struct {
	statement wording.Statement
	weight    float64
}

// sides are the findings for and against a cause in the order of their weight:
// how far each moves the log-odds of it against the case without that reading.
func (w *weighing) sides(i int, p float64, without []belief) (pro, con []wording.Statement) {
	var list []heavy
	for r := range without {
		other := without[r].marginal(i, without[r].condition())
		if weight := logit(p) - logit(other); math.Abs(weight) >= leastWeight {
			list = append(list, heavy{w.facts.ev.Findings[r].Text, weight})
		}
	}
	for _, symptom := range w.facts.ev.Case.Symptoms {
		share, usual := symptomPriors[symptom][hypotheses[i].code], symptomPriors["none"][hypotheses[i].code]
		if weight := math.Log(math.Max(share, leastPrior) / math.Max(usual, leastPrior)); math.Abs(weight) >= leastWeight {
			list = append(list, heavy{wording.Say("because.symptom", wording.Values{"symptom": symptom}), weight})
		}
	}
	slices.SortStableFunc(list, func(a, b heavy) int { return cmp.Compare(math.Abs(b.weight), math.Abs(a.weight)) })
	pro, con = []wording.Statement{}, []wording.Statement{}
	for _, h := range list {
		if h.weight > 0 {
			pro = append(pro, h.statement)
		} else {
			con = append(con, h.statement)
		}
	}
	return pro, con
}

func (b *belief) condition() Condition {
	return Condition{b.class[sound], b.class[worn], b.class[deadCell], b.class[damaged]}
}

func logit(p float64) float64 {
	p = math.Min(math.Max(p, 1e-6), 1-1e-6)
	return math.Log(p / (1 - p))
}

// Effect is what one reading did: the condition without it, and every cause it
// moved.
type Effect struct {
	Reading wording.Ref `json:"reading"`
	// Without is the condition if the reading had not been taken.
	Without Condition `json:"without"`
	Causes  []Shift   `json:"causes"`
}

// Shift is a cause with its probability without a reading and with it.
type Shift struct {
	Cause   string  `json:"cause"`
	Without float64 `json:"without"`
	With    float64 `json:"with"`
}

// effects is what each reading did to every cause, the largest shift first.
func (w *weighing) effects(b *belief, c Condition, without []belief) []Effect {
	list := make([]Effect, 0, len(without))
	for r := range without {
		e := Effect{Reading: w.facts.ev.Case.Ref(r), Without: without[r].condition(), Causes: []Shift{}}
		for i, m := range hypotheses {
			with, other := b.marginal(i, c), without[r].marginal(i, e.Without)
			if math.Abs(with-other) >= leastShift {
				e.Causes = append(e.Causes, Shift{m.code, thousandths(other), thousandths(with)})
			}
		}
		slices.SortStableFunc(e.Causes, func(a, b Shift) int {
			return cmp.Compare(math.Abs(b.With-b.Without), math.Abs(a.With-a.Without))
		})
		list = append(list, e)
	}
	return list
}

// main is the likeliest cause that is no fault of the battery, given that the
// battery is sound, with its probability; never nothing, where something is
// known to be wrong.
func (b *belief) elsewhere(nothing bool) (code string, p float64) {
	sum := 0.0
	for i, m := range hypotheses {
		if m.class != sound || m.code == codeOfNothing && !nothing {
			continue
		}
		sum += b.ofSound[i]
		if b.ofSound[i] > p {
			code, p = m.code, b.ofSound[i]
		}
	}
	if sum > 0 {
		p /= sum
	}
	return code, p
}

// bornOut are those of some causes that all readings together make likely.
func (b *belief) bornOut(codes []string) []string {
	var list []string
	for i, m := range hypotheses {
		if slices.Contains(codes, m.code) && b.marginal(i, b.condition()) >= suspectFrom {
			list = append(list, m.code)
		}
	}
	return list
}

// suspectFrom is the probability from which what a look suggests is followed.
// Value from memory.
const suspectFrom = 0.3

// sureFrom is the probability from which a fault of the vehicle is followed up
// and nothing else looked for. Value from memory.
const sureFrom = 0.8

// sure reports that one thing of the vehicle brought it here, beyond much doubt.
func (b *belief) sure() bool {
	_, p := b.elsewhere(false)
	return p >= sureFrom
}

// sure is the same, with what was measured.
func (f *facts) sure(b *belief) bool {
	_, p := f.measured(b)
	return p >= sureFrom || b.sure()
}

// present keeps the indexes that are there.
func present(indexes ...int) []int {
	var list []int
	for _, i := range indexes {
		if i >= 0 && (len(list) == 0 || list[0] != i) {
			list = append(list, i)
		}
	}
	return list
}

// CauseCodes lists the causes, in the order of equals.
func CauseCodes() []string {
	codes := make([]string, len(hypotheses))
	for i, m := range hypotheses {
		codes[i] = m.code
	}
	return codes
}
