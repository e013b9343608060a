package school

import (
	"strings"

	"grapnel/core/quantity"
	"grapnel/core/source"
)

// LimitID names a limit a reading is held against.
type LimitID string

// The limits. Volts at a battery's posts are those of six cells and scale with
// its cells; drops over joints and cables do not.
const (
	LoadLeast        LimitID = "load_least"
	CrankLeast       LimitID = "crank_least"
	ChargingLeast    LimitID = "charging_least"
	ChargingMost     LimitID = "charging_most"
	ChargingMostCold LimitID = "charging_most_cold"
	ChargingMoment   LimitID = "charging_moment"
	ManagedLeast     LimitID = "managed_least"
	RippleGood       LimitID = "ripple_good"
	RippleBad        LimitID = "ripple_bad"
	DCDCLeast        LimitID = "dcdc_least"
	DCDCMost         LimitID = "dcdc_most"
	JointMost        LimitID = "joint_most"
	GroundMost       LimitID = "ground_most"
	PositiveMost     LimitID = "positive_most"
	ChargeCableMost  LimitID = "charge_cable_most"
	DrainMost        LimitID = "drain_most"
	CaseLeakMost     LimitID = "case_leak_most"
	CaseLeakFilthy   LimitID = "case_leak_filthy"
	StarterSmall     LimitID = "starter_small"
	StarterLarge     LimitID = "starter_large"
	StarterDiesel    LimitID = "starter_diesel"
	StarterLeast     LimitID = "starter_least"
	SpreadBad        LimitID = "gravity_spread"
	ReserveShare     LimitID = "reserve_share"
	ChargingMostGel  LimitID = "charging_most_gel"
	CrankLeastOld    LimitID = "crank_least_old"
	DrainMostSmall   LimitID = "drain_most_small"
	DrainDays        LimitID = "drain_days"
	HalvesMost       LimitID = "halves_most"
)

// LimitRow is one limit: its figure, the range a shop may put its maker's
// figure in, and where it comes from.
type LimitRow struct {
	ID    LimitID `json:"id"`
	Value float64 `json:"value"`
	Unit  string  `json:"unit"`
	// Low and High bound what a shop may set.
	Low    float64       `json:"low"`
	High   float64       `json:"high"`
	Source source.Source `json:"source"`
	// Cells marks volts at the posts of six cells, which scale.
	Cells bool `json:"cells"`
}

// limits of the tests, all but the temperature table of the load test.
var limits = []LimitRow{
	{LoadLeast, 9.6, "V", 8, 10.5, source.By(source.BCI).With("at 21 °C and warmer; the temperature table moves with it"), true},
	{
		CrankLeast,
		9.6,
		"V",
		7,
		11,
		source.Common("below it an engine computer drops to its back-up program until the key is turned off"),
		true,
	},
	{ChargingLeast, 13.5, "V", 12.5, 14.5, source.Common("at idle, unless just jumped or managed"), true},
	{ChargingMost, 14.8, "V", 14, 16, source.Common("warm"), true},
	{ChargingMostCold, 15.0, "V", 14, 16.5, source.Common("cold"), true},
	{ChargingMoment, 15.5, "V", 14.5, 16.5, source.Recalled("a managed system may touch it for moments on overrun"), true},
	{ManagedLeast, 12.5, "V", 11.5, 14, source.Common("smart charging may sit at 12.5 to 13 V"), true},
	{RippleGood, 0.1, "V", 0.02, 1, source.Common("AC at the posts, running"), false},
	{RippleBad, 0.5, "V", 0.1, 2, source.Common("AC at the posts, running: a bad diode"), false},
	{DCDCLeast, 13.0, "V", 12, 15, source.Common("12 V side of a hybrid or electric car, awake"), true},
	{DCDCMost, 14.8, "V", 14, 16.5, source.Common("12 V side of a hybrid or electric car, awake"), true},
	{JointMost, 0.1, "V", 0.02, 0.5, source.Common("one joint, cranking"), false},
	{GroundMost, 0.2, "V", 0.05, 1, source.Common("ground side in all, cranking"), false},
	{PositiveMost, 0.5, "V", 0.1, 1.5, source.Common("positive side in all, cranking"), false},
	{ChargeCableMost, 0.2, "V", 0.05, 1, source.Common("alternator to battery, each side, under load"), false},
	{DrainMost, 0.05, "A", 0.005, 1, source.Common("locked and asleep"), false},
	{CaseLeakMost, 0.2, "V", 0.05, 2, source.Common("near 0 V is clean; 0.2 to 0.5 V: clean it"), false},
	{CaseLeakFilthy, 4, "V", 1, 10, source.Common("filthy tops show 4 to 5 V"), false},
	{StarterSmall, 150, "A", 50, 500, source.Common("small and medium petrol engines 60 to 150 A"), false},
	{StarterLarge, 250, "A", 100, 800, source.Common("V8 150 to 250 A"), false},
	{StarterDiesel, 600, "A", 150, 1500, source.Common("diesel 250 to 600 A"), false},
	{StarterLeast, 60, "A", 5, 300, source.Common("less than this hardly turns a car's engine: resistance"), false},
	{ChargingMostGel, 14.4, "V", 14, 15, source.Common("gel at most, whatever the air"), true},
	{CrankLeastOld, 8.5, "V", 6, 11, source.Recalled("an engine without a computer: what turns and fires it"), true},
	{DrainMostSmall, 0.005, "A", 0.0005, 0.1, source.Recalled("motorcycle 1 to 5 mA; mower, tractor and classic next to nothing"), false},
	{DrainDays, 30, "days", 7, 120, source.Recalled("what draws it down to no start in less is a fault, on a vehicle with no modules to speak of"), false},
	{HalvesMost, 0.2, "V", 0.05, 1, source.Recalled("six cells each: two alike in age and use rest alike"), false},
	{SpreadBad, 0.050, "", 0.02, 0.1, source.By(source.BCI).With("between the highest and the lowest cell of a charged battery"), false},
	{
		ReserveShare,
		0.6,
		"",
		0.3,
		1,
		source.Recalled("of what the label's own capacity or reserve would carry; under it the battery leaves its owner stranded"),
		false,
	},
}

// largePetrol is the displacement in litres from which a petrol engine counts
// as a large one. Value from memory (V8).
const largePetrol = 4.0

// Bounds of temperature for the highest charging volts. Value from memory: the
// trade says warm and cold.
const (
	chargingCold quantity.Celsius = 0
	chargingWarm quantity.Celsius = 20
)

// Limits lists every limit a shop may set to its maker's figure.
func Limits() []LimitRow { return append([]LimitRow(nil), limits...) }

// FindLimit is a limit by its name, with its unit, its range and its source. It reports
// false for a name that is none.
func FindLimit(id LimitID) (LimitRow, bool) {
	for _, row := range limits {
		if row.ID == id {
			return row, true
		}
	}
	return LimitRow{}, false
}

// Override is a shop's own figure for a limit and where it is from.
type Override struct {
	Value float64 `json:"value"`
	Note  string  `json:"note"`
}

// MostNote is the longest note on where a shop's own figure is from, in bytes.
const MostNote = 200

// ValidNote reports a note that says something.
func ValidNote(note string) bool { return strings.TrimSpace(note) != "" && len(note) <= MostNote }

// Own holds a shop's own figures by limit; nil for none.
type Own map[LimitID]Override

// Limit is the figure that holds, in the limit's own unit, and, where it is the shop's
// own, its note. A limit that is not known is zero.
func (o Own) Limit(id LimitID) (value float64, note string) {
	if own, ok := o[id]; ok {
		return own.Value, own.Note
	}
	row, _ := FindLimit(id)
	return row.Value, ""
}

// LoadShift is how far the shop's own least volts under load lie off the
// trade's, six cells; the table over temperature moves with it.
func (o Own) LoadShift() (shift quantity.Volts, note string) {
	value, note := o.Limit(LoadLeast)
	return quantity.Volts(value) - LeastWarm, note
}

// ChargingMostAt is the higher limit of charging volts, six cells, for the air: the cold
// one in the cold, the warm one in the warm, in a straight line between, where the note
// is the warm one's.
func (o Own) ChargingMostAt(air quantity.Celsius) (volts float64, note string) {
	warm, warmNote := o.Limit(ChargingMost)
	cold, coldNote := o.Limit(ChargingMostCold)
	switch {
	case air >= chargingWarm:
		return warm, warmNote
	case air <= chargingCold:
		return cold, coldNote
	}
	share := float64((chargingWarm - air) / (chargingWarm - chargingCold))
	return warm + share*(cold-warm), warmNote
}

// StarterMost names the limit of starter current for an engine: petrol or
// diesel and its displacement in litres, zero for not known.
func StarterMost(engine string, litres float64) LimitID {
	switch {
	case engine == "diesel" || engine == "" && litres == 0:
		return StarterDiesel // nothing known: the loosest
	case litres >= largePetrol:
		return StarterLarge
	}
	return StarterSmall
}

// DropLimit names the limit of a joint or cable.
func DropLimit(where string) LimitID {
	switch where {
	case "positive_clamp", "negative_clamp", "starter_stud":
		return JointMost
	case "negative_cable", "ground_strap", "whole_negative":
		return GroundMost
	case "charge_positive", "charge_negative":
		return ChargeCableMost
	}
	return PositiveMost
}

// Earthed is the place that a drop counts as where plus is earthed: a side's limit is that of
// the side that lies on the body, whatever its sign. Earth is negative, positive or empty.
func Earthed(where, earth string) string {
	if earth != "positive" {
		return where
	}
	for _, pair := range [][2]string{{"positive_cable", "negative_cable"}, {"whole_positive", "whole_negative"}} {
		switch where {
		case pair[0]:
			return pair[1]
		case pair[1]:
			return pair[0]
		}
	}
	return where
}

// When a reading of the vehicle counts.
const (
	// SleepMinutes is how long a car full of modules is locked before a high drain
	// counts; 30 to 60 by car. Value from memory.
	SleepMinutes quantity.Minutes = 30
	// SleepMinutesElectric is that of some electric cars. Common practice, no source.
	SleepMinutesElectric quantity.Minutes = 2
	// DropAmps is the current under which a drop while cranking proves nothing.
	// Value from memory.
	DropAmps quantity.Amperes = 60
	// DropAmpsCharging is the same for a charging cable. Value from memory.
	DropAmpsCharging quantity.Amperes = 10
	// ReserveTaken is the share of the ampere-hours a reserve check takes out.
	// Computed: a quarter clears a quarter.
	ReserveTaken = 0.25
	// ReserveWatch is the share of the label's own time from which a battery run
	// to 10.5 V is good; between this and the limit it is weak. Value from memory.
	ReserveWatch = 0.8
	// FullPercent is the least charge a reserve check starts from. Value from memory.
	FullPercent = 90
	// ConductanceVolts is the least a battery should rest at before a
	// conductance test, six cells. Common practice, no source.
	ConductanceVolts quantity.Volts = 12.3
	// TooSoonShare of the missing ampere-hours: a charger that says full before
	// has found a tired battery or a poor connection; TooLateShare: one that
	// does not hold. Common practice for a third, value from memory for the other.
	TooSoonShare = 1.0 / 3
	TooLateShare = 1.6
	// ChargedVolts is what a sound battery shows at least after hours on the
	// charger, six cells; less is a shorted cell. Value from memory.
	ChargedVolts quantity.Volts = 13.0
	// LongChargeMinutes is how long that takes. Value from memory.
	LongChargeMinutes quantity.Minutes = 240
	// NoCurrentVolts are the six-cell volts from which a starter that does not
	// turn draws no current worth the name. Value from memory.
	NoCurrentVolts quantity.Volts = 11.5
	// DCDCSeconds is how soon a DC-DC converter has taken over. Common practice
	// for "within seconds", value from memory.
	DCDCSeconds quantity.Seconds = 60
	// RunawayRatio is how much a charging current has to rise between two checks
	// at volts within RunawayVolts to be runaway. Values from memory.
	RunawayRatio                = 1.15
	RunawayVolts quantity.Volts = 0.15
	// JumpDriveLow to JumpDriveHigh of driving after a jump prove only that it
	// restarts. Common practice, no source.
	JumpDriveLow  quantity.Minutes = 10
	JumpDriveHigh quantity.Minutes = 15
	// ManyJumps in JumpDays: frequent jumps mean it is failing. Common practice
	// for the fact, values from memory.
	ManyJumps = 3
	JumpDays  = 90
	// StoodLong is the days a connected modern car is left at most before it is
	// charged again. Common practice, no source.
	StoodLong = 30
)

// Spoken marks of the other ways to take surface charge off. Common practice,
// no source.
const (
	// HighBeamSeconds is the longer school of headlamps: high beam, 4 to 5 min.
	HighBeamSeconds quantity.Seconds = 240
	// SurfaceLoadMost is the most amperes a load takes surface charge off with.
	SurfaceLoadMost quantity.Amperes = 300
)
