package bench

import (
	"grapnel/core/battery"
	"grapnel/core/quantity"
)

// Inputs that several sums share have one name, so that a label and a reading
// can fill them on every card.
var (
	chemistry  = choice("chemistry", "flooded", "flooded", "efb", "agm", "gel")
	nominal    = choice("nominal_v", "12", "6", "8", "12", "24")
	ratingIn   = started(ofLabel("rating", "value"), "650")
	standardIn = choice("standard", "SAE", battery.Standards()...)
	capacity   = started(ofLabel("capacity_ah"), "65")
	reserve    = started(ofLabel("reserve_min"), "110")
	labelLoad  = optional(ofLabel("label_load_a"))
	batteryC   = number("battery_c", "°C", -40, 60, "20")
	percentIn  = number("percent", "%", 0, 100, "50")
	platesKind = choice("plates", "calcium", "calcium", "antimony")
	platesIn   = choice("plates", "calcium", battery.PlatesKinds()...)
)

// ofLabel is an input with the unit and the range that the label's own field has; of a
// group, one part.
func ofLabel(name string, part ...string) Input {
	f, _ := battery.Fields().Find(name)
	unit, low, high := f.Unit, f.Low, f.High
	for _, p := range f.Parts {
		if len(part) > 0 && p.Name == part[0] {
			unit, low, high = p.Unit, p.Low, p.High
		}
	}
	return number(name, unit, low, high, "")
}

// started is an input that begins with another figure.
func started(in Input, start string) Input { in.Start = start; return in }

// label is the battery the inputs speak of.
func (w *work) label() battery.Label {
	l := battery.Label{Chemistry: battery.Flooded, NominalV: 12}
	if c, ok := w.text["chemistry"]; ok {
		l.Chemistry = battery.Chemistry(c)
	}
	if v, ok := w.text["nominal_v"]; ok {
		l.NominalV = map[string]quantity.Volts{"6": 6, "8": 8, "12": 12, "24": 24}[v]
	}
	if x, ok := w.number["rating"]; ok {
		standard := battery.Standard(w.text["standard"])
		if standard == "" {
			standard = battery.SAE
		}
		l.Rating = &battery.Rating{Value: quantity.Amperes(x), Standard: standard}
	}
	if x, ok := w.number["capacity_ah"]; ok {
		ah := quantity.AmpereHours(x)
		l.CapacityAh = &ah
	}
	if x, ok := w.number["reserve_min"]; ok {
		minutes := quantity.Minutes(x)
		l.ReserveMin = &minutes
	}
	if x, ok := w.number["full_sg"]; ok {
		l.FullSG = &x
	}
	if caps, ok := w.text["caps"]; ok {
		sealed := caps == "closed"
		l.Sealed = &sealed
	}
	return l
}

func (w *work) celsius(name string) quantity.Celsius { return quantity.Celsius(w.number[name]) }
