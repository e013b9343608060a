package terminals

import (
	"slices"
	"strings"

	"grapnel/core/fitting"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/source"
	"grapnel/core/trail"
	"grapnel/core/wording"
)

// Found is something that was seen on a joint, with what it means, what it does not mean, and
// what is done about it.
type Found struct {
	Code  string            `json:"code"`
	Text  string            `json:"text"`
	Means wording.Statement `json:"means"`
	Not   wording.Statement `json:"not"`
	Do    []Remedy          `json:"do"`
	Ref   wording.Ref       `json:"reading"`
}

// Remedy is something that is done about it, in the order it is done.
type Remedy struct {
	Code string            `json:"code"`
	Text wording.Statement `json:"text"`
}

// deeds are what is done about what was seen. Common practice, no source.
var deeds = map[string][]string{
	"corrosion":        {"clean", "charging_volts", "proof"},
	"oxide":            {"clean", "proof"},
	"clamp_loose":      {"spread_seat", "replace_clamp", "proof"},
	"clamp_not_seated": {"spread_seat", "proof"},
	"clamp_universal":  {"replace_cable", "proof"},
	"clamp_worn":       {"replace_clamp", "proof"},
	"ring_between":     {"spacer", "proof"},
	"cable_green":      {"replace_cable", "proof"},
	"cable_damaged":    {"replace_cable", "proof"},
	"strap_bad":        {"replace_strap", "proof"},
	"post_loose":       {"replace_battery"},
	"dirty_top":        {"wash_top", "case_proof"},
}

// Seen lists what may be seen on a joint, as a look says it.
func Seen() []string {
	return []string{
		"corrosion", "oxide", "clamp_not_seated", "clamp_loose", "clamp_universal", "clamp_worn", "ring_between", "cable_green", "cable_damaged", "strap_bad",
		"post_loose", "dirty_top",
	}
}

// found lists what was seen, each finding and side once, the last look of it.
func found(s *trail.Situation) []Found {
	out := []Found{}
	met := map[[2]string]bool{}
	for i := len(s.Case.Readings) - 1; i >= 0; i-- {
		r := &s.Case.Readings[i].Reading
		code, where := r.Choice(reading.Finding), r.Choice(reading.Where)
		if r.Kind != reading.Look || deeds[code] == nil || met[[2]string{code, where}] {
			continue
		}
		met[[2]string{code, where}] = true
		values := wording.Values{"where": where, "degree": r.Choice(reading.Degree)}
		f := Found{
			Code: code, Text: seenText(code, where, r.Choice(reading.Degree)), Ref: s.Case.Ref(i),
			Means: wording.Say("seen_means."+code, values, s.Case.Ref(i)), Not: wording.Say("seen_not."+code, values), Do: []Remedy{},
		}
		for _, deed := range deeds[code] {
			f.Do = append(f.Do, Remedy{deed, wording.Say("terminals_do."+deed, values)})
		}
		out = append(out, f)
	}
	slices.Reverse(out)
	return out
}

// seenText names what was seen with its side and degree.
func seenText(code, where, degree string) string {
	parts := []string{wording.Word(code)}
	if where != "" {
		parts = append(parts, wording.Word("seen_"+where))
	}
	if degree != "" {
		parts = append(parts, wording.Word("degree_"+degree))
	}
	return strings.Join(parts, ", ")
}

// Way is where it is cleaned: the order of work with the reasons for it.
type Way struct {
	Name string              `json:"name" enum:"clean_in_place,clean_out"`
	Why  []wording.Statement `json:"why"`
}

// reasonOut is a reason to clean it out of the vehicle.
type reasonOut struct {
	code string
	when func(*trail.Situation) bool
}

// reasonsOut: heavy dirt, so that soda reaches no cell and acid no tray; where nothing can be
// rinsed; where something that acid harms lies below; where makers want it out. Common
// practice, no source.
var reasonsOut = []reasonOut{
	{"heavy", func(s *trail.Situation) bool { return saw(s, "corrosion", "heavy") || filthy(s) }},
	{"inside", func(s *trail.Situation) bool {
		return slices.Contains([]string{trail.Boot, trail.UnderSeat, trail.WheelArch}, s.Mounting.Where) || s.Case.Vehicle.Electric()
	}},
	{"below", func(s *trail.Situation) bool { return s.Mounting.Posts == trail.SidePosts && saw(s, "corrosion", "") }},
	{"small", func(s *trail.Situation) bool {
		return slices.Contains([]string{"motorcycle", "offroad"}, s.Case.Vehicle.Kind)
	}},
	{"wet", func(s *trail.Situation) bool { return saw(s, "wet_vents", "") }},
}

func saw(s *trail.Situation, code, degree string) bool {
	return last(s, func(r *reading.Reading) bool {
		return r.Kind == reading.Look && r.Choice(reading.Finding) == code && (degree == "" || r.Choice(reading.Degree) == degree)
	}) != nil
}

// filthyVolts over the case top are a filthy one. Common practice, no source.
const filthyVolts = 4

func filthy(s *trail.Situation) bool {
	r := last(s, func(r *reading.Reading) bool { return r.Kind == reading.CaseLeak })
	return r != nil && r.Volts() >= filthyVolts
}

func wayOf(s *trail.Situation) Way {
	w := Way{Name: "clean_in_place", Why: []wording.Statement{}}
	for _, r := range reasonsOut {
		if r.when(s) {
			w.Name = "clean_out"
			w.Why = append(w.Why, wording.Say("clean_why."+r.code, nil))
		}
	}
	if len(w.Why) == 0 {
		w.Why = append(w.Why, wording.Say("clean_why.light", nil))
	}
	return w
}

// Tightening is a range a terminal is tightened with, or the maker's own figure.
type Tightening struct {
	// Of is maker, published or trade.
	Of   string  `json:"of" enum:"maker,published,trade"`
	Low  float64 `json:"low_nm"`
	High float64 `json:"high_nm"`
	Text string  `json:"text"`
}

// torqueOf: the vehicle maker's figure first where it is known, and that it is not known
// where it is not; then the ranges.
func torqueOf(s *trail.Situation, maker *quantity.NewtonMetres) []Tightening {
	terminal := "top"
	if s.Mounting.Posts == trail.SidePosts {
		terminal = "side"
	}
	out := []Tightening{}
	if maker != nil {
		code := "torque_own." + fitting.Judge(terminal, *maker)
		out = append(out, Tightening{"maker", float64(*maker), float64(*maker), wording.Text(code, torqueValues(*maker, *maker))})
	} else {
		out = append(out, Tightening{Of: "maker", Text: wording.Text("torque_own.unknown", nil)})
	}
	for _, t := range fitting.Torques(terminal) {
		of := "trade"
		if t.Source.Kind != source.Practice {
			of = "published"
		}
		out = append(out, Tightening{of, thousandth(float64(t.Low)), thousandth(float64(t.High)), wording.Text("torque_range."+of, torqueValues(t.Low, t.High))})
	}
	return out
}

func torqueValues(low, high quantity.NewtonMetres) wording.Values {
	return wording.Values{
		"low": float64(low), "high": float64(high), "low_inch": float64(low.InchPounds()), "high_inch": float64(high.InchPounds()),
		"low_foot": float64(low.FootPounds()), "high_foot": float64(high.FootPounds()),
	}
}
