package school

import (
	"slices"

	"grapnel/core/quantity"
	"grapnel/core/wording"
)

// Caution names a warning or stop rule; its words are in the wording catalogue
// under caution.ID.
type Caution string

// The cautions of the trade.
const (
	FrozenOrDamaged Caution = "frozen-or-damaged"
	EyeClear        Caution = "eye-clear"
	PlatesDry       Caution = "plates-dry"
	Hot             Caution = "hot"
	Gas             Caution = "gas"
	Spark           Caution = "spark"
	EarthSide       Caution = "earth-side"
	HighVoltage     Caution = "high-voltage"
	Electronics     Caution = "electronics"
	Acid            Caution = "acid"
	Lifting         Caution = "lifting"
	Ventilation     Caution = "ventilation"
	Tools           Caution = "tools"
	VehicleMoves    Caution = "vehicle-moves"
	CrankingLimit   Caution = "cranking-limit"
	GlowingLoad     Caution = "glowing-load"
	Exhaust         Caution = "exhaust"
	HighVolts       Caution = "high-volts"
	Runaway         Caution = "runaway"
	MixedVoltage    Caution = "mixed-voltage"
	LiveClamp       Caution = "live-clamp"
	Surge           Caution = "surge"
	Clearance       Caution = "clearance"
	Soda            Caution = "soda"
	Lithium         Caution = "lithium"
	LithiumHot      Caution = "lithium-hot"
	Reversed        Caution = "reversed"
	OutdoorsMains   Caution = "outdoors-mains"
	Defer           Caution = "defer"
)

// Cautions lists them.
func Cautions() []Caution {
	return []Caution{
		FrozenOrDamaged, EyeClear, PlatesDry, Hot, Gas, Spark, EarthSide, HighVoltage, Electronics, Acid, Lifting, Ventilation, Tools,
		VehicleMoves, CrankingLimit, GlowingLoad, Exhaust, HighVolts, Runaway, MixedVoltage, LiveClamp, Surge, Clearance, Soda, Lithium, LithiumHot, Reversed,
		OutdoorsMains, Defer,
	}
}

// always are shown with every case.
var always = []Caution{Acid, Tools, Lifting, Defer}

// Always lists the cautions that belong to every case.
func Always() []Caution { return slices.Clone(always) }

// stops are the rules that block charge, load and jump until cleared.
var stops = []Caution{LithiumHot, Reversed, FrozenOrDamaged, EyeClear, Gas, Hot, Runaway}

// Stops reports whether a caution is a stop rule.
func (c Caution) Stops() bool { return slices.Contains(stops, c) }

// StopCodes lists the stop rules.
func StopCodes() []string {
	codes := make([]string, len(stops))
	for i, c := range stops {
		codes[i] = string(c)
	}
	return codes
}

// LookRule is what a finding of the look does to the case.
type LookRule struct {
	// Stop is the stop rule it raises, if any.
	Stop Caution `json:"stop,omitempty"`
	// Lasting marks damage that a charge does not undo.
	Lasting bool `json:"lasting,omitempty"`
	// Spoils marks a dirty or loose joint: it spoils a failed test and asks for
	// cleaning first.
	Spoils bool `json:"spoils,omitempty"`
	// Suggests is the cause it points to, if any.
	Suggests string `json:"suggests,omitempty"`
}

// lookRules: damage at the vents alone (wet_vents) is no damage. Handbook of
// the trade, common practice, no source.
var lookRules = map[string]LookRule{
	"crack":            {Stop: FrozenOrDamaged, Lasting: true, Suggests: "damaged"},
	"bulge":            {Stop: FrozenOrDamaged, Lasting: true, Suggests: "damaged"},
	"case_leak":        {Stop: FrozenOrDamaged, Lasting: true, Suggests: "damaged"},
	"post_loose":       {Stop: FrozenOrDamaged, Lasting: true, Suggests: "damaged"},
	"frozen":           {Stop: FrozenOrDamaged, Suggests: "damaged"},
	"smell":            {Stop: Gas, Suggests: "overcharging"},
	"hiss":             {Stop: Gas, Suggests: "overcharging"},
	"hot":              {Stop: Hot, Suggests: "overcharging"},
	"wet_vents":        {Suggests: "overcharging"},
	"clamp_loose":      {Spoils: true, Suggests: "poor_connection"},
	"clamp_not_seated": {Spoils: true, Suggests: "poor_connection"},
	"corrosion":        {Spoils: true, Suggests: "poor_connection"},
	"oxide":            {Spoils: true, Suggests: "poor_connection"},
	"cable_green":      {Suggests: "poor_connection"},
	"cable_damaged":    {Suggests: "poor_connection"},
	"strap_bad":        {Suggests: "poor_connection"},
	"clamp_universal":  {Suggests: "poor_connection"},
	"clamp_worn":       {Spoils: true, Suggests: "poor_connection"},
	"ring_between":     {Spoils: true, Suggests: "poor_connection"},
	"dirty_top":        {Suggests: "case_leakage"},
	"belt":             {Suggests: "undercharging"},
	"belt_slips":       {Suggests: "undercharging"},
}

// LookRuleFor is the rule of a finding; the zero rule for one that changes
// nothing.
func LookRuleFor(finding string) LookRule { return lookRules[finding] }

// Tables is every rule table of this package, for printing and for the hash
// that is stored with each verdict.
func Tables() map[string]any {
	byTemperature := make([][2]float64, len(loadLimits))
	for i, p := range loadLimits {
		byTemperature[i] = [2]float64{float64(p.at), float64(p.least)}
	}
	return map[string]any{
		"load_schools": loadSchools, "load_limits": byTemperature, "grades": grades, "look_rules": lookRules,
		"judge_percent": JudgePercent, "eye_percent": EyePercent, "rest_minutes": RestMinutes,
		"dead_volts": DeadVolts, "little_rating": LittleRating, "limits": limits,
	}
}

// Figures of the cautions.
const (
	// FlushMinutes with water for acid in the eyes or on the skin. Source: usual
	// safety data sheet for battery acid, value from memory.
	FlushMinutes quantity.Minutes = 15
	// TiltMost is how far a flooded battery is tilted, in degrees. Common
	// practice, no source.
	TiltMost = 45
	// CrankMost is the longest the starter is turned on, CrankRest the rest
	// before the next of CrankTries; a school that holds longer lets it cool for
	// StarterCool. Common practice, no source.
	CrankMost   quantity.Seconds = 10
	CrankRest   quantity.Seconds = 60
	CrankTries                   = 3
	StarterCool quantity.Minutes = 2
	// HighVoltsFrom is where charging belongs off the vehicle. Common practice,
	// no source.
	HighVoltsFrom quantity.Volts = 15
	// KeepAliveMost is the fuse of a keep-alive supply. Common practice, no source.
	KeepAliveMost quantity.Amperes = 5
)

// cautionValues are the figures in the cautions' words.
var cautionValues = wording.Values{
	"hot": HotCelsius, "flush": FlushMinutes, "tilt": float64(TiltMost), "crank": CrankMost, "rest": CrankRest, "tries": float64(CrankTries),
	"cool": StarterCool, "high": HighVoltsFrom, "fuse": KeepAliveMost,
}

// Say words a caution for some readings.
func (c Caution) Say(readings ...wording.Ref) wording.Statement {
	return wording.Say("caution."+string(c), cautionValues, readings...)
}
