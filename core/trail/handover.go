package trail

import (
	"slices"

	"grapnel/core/battery"
	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// HandOver is what the customer's page says of one battery and the vehicle around it,
// besides the verdict: what was measured and how, what was not, and when to come back.
type HandOver struct {
	Measured []Measured          `json:"measured"`
	Untested []wording.Statement `json:"untested"`
	Return   []wording.Statement `json:"return"`
}

// Measured is one measurement that counts, with the method it was made by.
type Measured struct {
	Text   wording.Statement `json:"text"`
	Method wording.Statement `json:"method"`
}

// told are the kinds of reading that a customer is told of, in the order they are told.
// What is only seen or heard stands with the work that was done.
var told = []reading.Kind{
	reading.OpenCircuit, reading.Gravity, reading.Load, reading.Conductance, reading.Reserve, reading.Crank, reading.StarterDraw,
	reading.ChargingSystem, reading.DCDC, reading.Ripple, reading.Drop, reading.CaseLeak, reading.Drain,
}

// ForCustomer is the customer's page of one battery.
func ForCustomer(s *Situation) HandOver {
	return HandOver{Measured: measuredOf(s), Untested: untestedOf(s), Return: returnOf(s)}
}

// measuredOf tells the last reading of each kind that counts; of drops, each joint's.
func measuredOf(s *Situation) []Measured {
	out := []Measured{}
	for _, kind := range told {
		for i, f := range s.Assessment.Findings {
			if f.Kind == kind && f.Valid && !s.repeated(i) {
				out = append(out, Measured{Text: f.Text, Method: wording.Say("method."+s.method(kind), nil)})
			}
		}
	}
	return out
}

// repeated reports a reading that a later one of its kind, and place, takes the place
// of for the customer.
func (s *Situation) repeated(i int) bool {
	r := &s.Case.Readings[i].Reading
	for k := i + 1; k < len(s.Assessment.Findings); k++ {
		later := &s.Case.Readings[k].Reading
		if later.Kind == r.Kind && later.Choice(reading.Where) == r.Choice(reading.Where) && s.Assessment.Findings[k].Valid {
			return true
		}
	}
	return false
}

// method names how a kind is measured; a load is by the school of the job.
func (s *Situation) method(kind reading.Kind) string {
	if kind != reading.Load {
		return string(kind)
	}
	found, _ := school.Find(s.Case.School)
	return string(found.ID)
}

// gap is something that a customer may take for tested and is not.
type gap struct {
	code string
	// when is where it belongs, by what it is tested.
	when func(*Situation) bool
	by   []reading.Kind
}

// gaps in the order of the trail. Common practice, no source.
var gaps = []gap{
	{"power", (*Situation).judged, []reading.Kind{reading.Load, reading.Conductance}},
	{"capacity", (*Situation).judged, []reading.Kind{reading.Reserve}},
	{"cells", func(s *Situation) bool { return s.judged() && s.opens() }, []reading.Kind{reading.Gravity}},
	{"starting", (*Situation).cranks, []reading.Kind{reading.Crank, reading.StarterDraw}},
	{"charging", (*Situation).cranks, []reading.Kind{reading.ChargingSystem}},
	{"dcdc", (*Situation).electric, []reading.Kind{reading.DCDC, reading.ChargingSystem}},
	{"drain", (*Situation).vehicle, []reading.Kind{reading.Drain}},
}

func untestedOf(s *Situation) []wording.Statement {
	out := []wording.Statement{}
	for _, g := range gaps {
		if g.when(s) && !s.counts(g.by...) {
			out = append(out, wording.Say("untested."+g.code, nil))
		}
	}
	return out
}

// counts reports a reading of one of these kinds that proves something.
func (s *Situation) counts(kinds ...reading.Kind) bool {
	return slices.ContainsFunc(s.Assessment.Findings, func(f evidence.Finding) bool { return f.Valid && slices.Contains(kinds, f.Kind) })
}

// back is a reason to come back, by when it holds.
type back struct {
	code string
	when func(*Situation) bool
}

// backs are the reasons to come back, the soonest first. That a jump is followed by a
// full charge and the tests, what stands by every 30 days connected and every three
// months disconnected, and that a battery is watched closely after three years are
// common practice, no source.
var backs = []back{
	{"unsafe", func(s *Situation) bool { return s.action(diagnosis.StopUnsafe) }},
	{"jumped", func(s *Situation) bool { return s.measured(reading.Jump) && !s.charged() }},
	{"retest", func(s *Situation) bool {
		return s.action(diagnosis.ChargeAndRetest, diagnosis.CleanAndRetest, diagnosis.MoreTests) && s.judged()
	}},
	{"kept_bad", func(s *Situation) bool { return s.action(diagnosis.Replace) && !s.replaces() }},
	{"flat_again", func(s *Situation) bool { return s.Answers["cause"].Value == NotDone }},
	{"new", (*Situation).replaces},
	{"stands", func(s *Situation) bool { return s.vehicle() && s.symptom("flat_after_storage") }},
	{"old", func(s *Situation) bool { return s.action(diagnosis.Keep, diagnosis.LookElsewhere) && s.watched() }},
	{"winter", func(s *Situation) bool { return s.action(diagnosis.Keep, diagnosis.LookElsewhere) && !s.watched() }},
}

func returnOf(s *Situation) []wording.Statement {
	out := []wording.Statement{}
	for _, b := range backs {
		if b.when(s) {
			out = append(out, wording.Say("back."+b.code, nil))
		}
	}
	return out
}

// watched reports a battery of an age from which it is watched closely.
func (s *Situation) watched() bool {
	years, known := s.Case.YearsOld()
	return known && battery.AgeBand(years) != "young"
}
