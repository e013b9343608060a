package jump

import (
	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/procedure"
	"grapnel/core/quantity"
	"grapnel/core/wording"
)

const (
	notThisWay = "not_this_way"
	weakDonor  = "weak_donor"
)

// refusal is what forbids a jump, by the code of its sentence.
type refusal struct {
	code  string
	holds func(a Ask, s scene) bool
}

// refusals are in the order in which they are said.
var refusals = []refusal{
	{"mixed_voltage", func(a Ask, _ scene) bool {
		volts := a.With.nominal()
		return volts > 0 && volts != a.nominal()
	}},
	{"frozen", func(_ Ask, s scene) bool { return s.dead.Frozen }},
	{"damaged", func(_ Ask, s scene) bool { return s.dead.Damaged }},
	{"eye_clear", func(_ Ask, s scene) bool { return s.dead.EyeClear }},
	{"lithium", func(a Ask, _ scene) bool { return a.Dead.Label.Chemistry == battery.LiFePO4 }},
	{weakDonor, weak},
	{notThisWay, func(a Ask, _ scene) bool { return a.School == EarthFirst }},
}

// nominal is that of the side that is jumped: of a system of several the whole.
func (a Ask) nominal() float64 {
	if a.Vehicle.SystemV != nil {
		return max(float64(*a.Vehicle.SystemV), float64(a.Dead.Label.NominalV))
	}
	return float64(a.Dead.Label.NominalV)
}

// nominal is the donor's volts by what is said of it, 0 for nothing.
func (w With) nominal() float64 {
	if w.NominalV != nil {
		return *w.NominalV
	}
	if w.Label != nil {
		return float64(w.Label.NominalV)
	}
	return 0
}

// leastDonor is the least that a donor gives of what the starter asks warm. Value from
// memory.
const leastDonor = 0.4

// weak: a hybrid, whose small battery and converter are not made for it, or one that gives
// less than a good part of what the starter asks. A charger with a start is no donor: it
// charges first.
func weak(a Ask, s scene) bool {
	if a.With.Kind == Charger || s.design == nil {
		return false
	}
	return a.With.Hybrid || s.donor.most < leastDonor*float64(s.starter)
}

func refuse(a Ask, s scene, known bool) []wording.Statement {
	out := []wording.Statement{}
	for _, r := range refusals {
		if !r.holds(a, s) {
			continue
		}
		values := wording.Values{"volts": quantity.Volts(a.nominal()), "other": quantity.Volts(a.With.nominal())}
		if known {
			values["amps"], values["asks"] = quantity.Amperes(s.donor.most), s.starter
		}
		prefix := "jump_refusal."
		if r.code == weakDonor && !a.With.Hybrid {
			prefix = "jump_small."
		}
		out = append(out, wording.Say(prefix+r.code, values))
	}
	return out
}

// procedureOf is the order of the clamps that goes with a jump: never one that is recorded
// only. Nil where nothing hangs on the battery that a jump could start.
func procedureOf(a Ask) *Procedure {
	way := a.School
	if way == EarthFirst {
		way = Body
	}
	sits := procedure.Sits(a.Vehicle, a.Dead.Label, a.Mounting)
	settings := procedure.For("jump", sits)
	if len(settings) == 0 {
		settings = procedure.For("jump", procedure.Sits(evidence.Vehicle{}, a.Dead.Label, a.Mounting))
	}
	for _, setting := range settings {
		if setting.With == a.With.Kind {
			return &Procedure{"jump", setting, way, a.People}
		}
	}
	return nil
}

// afterwards is what follows a jump.
func afterwards(a Ask) []wording.Statement {
	codes := []string{"volts", "drive", "charge", "tests", "cause"}
	if a.With.Kind == Pack {
		codes = append(codes, "pack")
	}
	out := []wording.Statement{}
	for _, code := range codes {
		out = append(out, wording.Say("jump_after."+code, nil))
	}
	return out
}
