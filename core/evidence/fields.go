package evidence

import (
	"slices"

	"grapnel/core/field"
	"grapnel/core/quantity"
)

// vehicleFields of a vehicle. Ranges are plausibility only (common practice, no source).
var vehicleFields = field.Table[Vehicle]{
	field.Choice("kind", VehicleKinds(), func(v *Vehicle) *string { return &v.Kind }),
	field.Choice("engine", Engines(), func(v *Vehicle) *string { return &v.Engine }).Written(sayEngine, takeEngine),
	field.Number("litres", "l", 0.02, 30, func(v *Vehicle) **float64 { return &v.Litres }),
	field.Number("required_cca", "A", 10, 3000, func(v *Vehicle) **quantity.Amperes { return &v.RequiredCCA }).Behind("required"),
	field.YesNo("start_stop", "start-stop", "no start-stop", func(v *Vehicle) **bool { return &v.StartStop }),
	field.YesNo("managed_charging", "managed charging", "no managed charging", func(v *Vehicle) **bool { return &v.ManagedCharging }),
	field.YesNo("cranks_12v", "cranks on 12 V", "does not crank on 12 V", func(v *Vehicle) **bool { return &v.Cranks12V }),
	field.Number("system_v", "V", 6, 48, func(v *Vehicle) **quantity.Volts { return &v.SystemV }).Behind("system"),
	field.Choice("earth", Earths(), func(v *Vehicle) *string { return &v.Earth }).Behind("earth"),
}

// VehicleFields is the one table of what a vehicle says.
func VehicleFields() field.Table[Vehicle] { return slices.Clone(vehicleFields) }

// sayEngine says which engine; none is said with its word, as a vehicle of no kind is
// called none as well.
func sayEngine(v *Vehicle) string {
	if v.Engine == "none" {
		return "engine none"
	}
	return v.Engine
}

func takeEngine(v *Vehicle, text string) bool {
	if text == "engine none" {
		v.Engine = "none"
		return true
	}
	if v.Engine != "" || text == "none" || !slices.Contains(Engines(), text) {
		return false
	}
	v.Engine = text
	return true
}
