// Package evidence holds a case: one battery, the vehicle it came in, and its
// readings in the order taken. It divides the readings into epochs (a full
// charge opens a new one), finds what each reading proves and what it does not,
// and says why. It draws no conclusion; that is package diagnosis.
package evidence

import (
	"slices"
	"time"

	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// Vehicle is what the battery starts. The zero value knows nothing of it.
type Vehicle struct {
	Kind            string            `json:"kind,omitempty"`
	Engine          string            `json:"engine,omitempty"`
	Litres          *float64          `json:"litres,omitempty"`
	RequiredCCA     *quantity.Amperes `json:"required_cca,omitempty"`
	StartStop       *bool             `json:"start_stop,omitempty"`
	ManagedCharging *bool             `json:"managed_charging,omitempty"`
	// Cranks12V tells whether the 12 V battery turns an engine; nil for what its kind does.
	Cranks12V *bool `json:"cranks_12v,omitempty"`
	// SystemV is the nominal voltage of its starting system.
	SystemV *quantity.Volts `json:"system_v,omitempty"`
	Earth   string          `json:"earth,omitempty"`
}

// Electric reports whether a DC-DC converter charges the battery.
func (v Vehicle) Electric() bool { return v.Kind == "hybrid" || v.Kind == "electric" }

// Cranks reports whether the 12 V battery turns an engine: a hybrid or electric car's only
// where that is said.
func (v Vehicle) Cranks() bool {
	if v.Kind == "none" || v.Engine == "none" {
		return false
	}
	return !v.Electric() || v.Cranks12V != nil && *v.Cranks12V
}

// Plain reports a vehicle without modules to speak of: nothing has to go to sleep, and next
// to nothing is drawn at rest.
func (v Vehicle) Plain() bool {
	return slices.Contains([]string{"motorcycle", "offroad", "mower", "tractor", "classic"}, v.Kind)
}

// HasComputer reports an engine that a computer runs, which wants its volts while cranking.
// What nobody described has one.
func (v Vehicle) HasComputer() bool {
	return v.Kind != "classic" && v.Kind != "mower" && v.Kind != "tractor"
}

// StartsAndStops reports a start-stop vehicle.
func (v Vehicle) StartsAndStops() bool { return v.StartStop != nil && *v.StartStop }

// Manages reports a vehicle that manages its charging: where it is said, else one that stops
// its engine by itself.
func (v Vehicle) Manages() bool {
	if v.ManagedCharging != nil {
		return *v.ManagedCharging
	}
	return v.StartsAndStops()
}

// SystemVolts is the nominal voltage of the vehicle's starting system: its own where it is
// said, else the battery's.
func (c Case) SystemVolts() quantity.Volts {
	if c.Vehicle.SystemV != nil {
		return *c.Vehicle.SystemV
	}
	return c.Label.NominalV
}

// DeepCycle reports a battery made to be drawn down, which is judged by its capacity.
func (c Case) DeepCycle() bool { return c.Label.DeepCycle != nil && *c.Label.DeepCycle }

// Case is everything known when a verdict is asked for.
type Case struct {
	// AsOf is the day the case is judged, YYYY-MM-DD; empty for not said.
	AsOf     string        `json:"as_of,omitempty"`
	Label    battery.Label `json:"battery"`
	Vehicle  Vehicle       `json:"vehicle"`
	Symptoms []string      `json:"symptom,omitempty"`
	School   school.ID     `json:"school,omitempty"`
	Tools    []string      `json:"tools,omitempty"`
	// Own holds the shop's own figures for limits; nil for the trade's.
	Own school.Own `json:"limits,omitempty"`
	// Cleared are stop rules that a person has lifted with a reason.
	Cleared  []Clearing `json:"cleared,omitempty"`
	Readings []Taken    `json:"readings"`
	// Now is the moment the case is looked at; the zero time for not said.
	Now time.Time `json:"-"`
}

// Taken is a reading with its time. In JSON it is the reading alone.
type Taken struct {
	// ID names the reading; empty where its place in the case does.
	ID wording.Ref
	// At is when it was taken; the zero time for not known.
	At time.Time
	reading.Reading
}

// Untimed makes readings of a case that has no times and no names of its own.
func Untimed(readings ...reading.Reading) []Taken {
	out := make([]Taken, len(readings))
	for i, r := range readings {
		out[i].Reading = r
	}
	return out
}

// Ref names the reading at a place of the case.
func (c Case) Ref(i int) wording.Ref {
	if id := c.Readings[i].ID; id != "" {
		return id
	}
	return wording.Index(i)
}

// Refs names the readings at some places.
func (c Case) Refs(places ...int) []wording.Ref {
	out := make([]wording.Ref, len(places))
	for n, i := range places {
		out[n] = c.Ref(i)
	}
	return out
}

// Clearing lifts a stop rule for the readings it names. What any other reading finds,
// a later one or one that took the place of a named one, stops the work again.
type Clearing struct {
	Stop     school.Caution `json:"stop"`
	Readings []wording.Ref  `json:"readings"`
}

// Lifted reports whether a stop rule has been cleared for all the readings that it
// rests on.
func (c Case) Lifted(stop school.Caution, places ...int) bool {
	for _, i := range places {
		name := c.Ref(i)
		if !slices.ContainsFunc(c.Cleared, func(one Clearing) bool { return one.Stop == stop && slices.Contains(one.Readings, name) }) {
			return false
		}
	}
	return len(places) > 0
}

// Capacity is the 20 h capacity of the battery with its band: the label's, from
// its reserve, or guessed from its rating.
func (c Case) Capacity() (battery.Estimate, bool) { return c.Label.AnyCapacity() }

// VehicleKinds lists the kinds of vehicle.
func VehicleKinds() []string {
	return []string{"car", "van", "truck", "motorcycle", "offroad", "mower", "tractor", "classic", "hybrid", "electric", "none"}
}

// Engines lists the kinds of engine.
func Engines() []string { return []string{"petrol", "diesel", "none"} }

// Earths lists which side of the battery is earthed.
func Earths() []string { return []string{"negative", "positive"} }

// Symptoms lists what a customer may report, in the order of the triage.
func Symptoms() []string {
	return []string{
		"silent",
		"lights_no_crank",
		"single_click",
		"rapid_click",
		"slow_crank",
		"cranks_no_start",
		"dies_again",
		"flat_after_storage",
		"lights_left_on",
		"odd_warnings",
		"cold_only",
		"locked_out",
		"preventive",
	}
}

// Tools lists what a shop may have.
func Tools() []string {
	return []string{"meter", "hydrometer", "pile", "fixed_load", "conductance", "clamp", "charger"}
}

// HasTool reports whether the shop has a tool; a case that does not say has all.
func (c Case) HasTool(tool string) bool {
	if c.Tools == nil {
		return true
	}
	for _, t := range c.Tools {
		if t == tool {
			return true
		}
	}
	return false
}

// Known gives each reading that names an instrument of the shop the kind of it, by which
// its error is known; the others keep what they say.
func (c Case) Known(kinds map[string]string) Case {
	readings := slices.Clone(c.Readings)
	for i := range readings {
		if kind, ok := kinds[readings[i].By]; ok {
			readings[i].By = kind
		}
	}
	c.Readings = readings
	return c
}
