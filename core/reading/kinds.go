package reading

import (
	"slices"
	"strings"
)

// gate says in which lines a figure without a word may be meant.
type gate uint8

const (
	always gate = iota
	beforeFuse
	behindFuse
	// behindCode is a figure that only a code sets: "lamps 2min".
	behindCode
)

// numberField is a figure a kind can carry.
type numberField struct {
	id   Number
	json string
	unit unit
	// low and high bound what is taken at all; beyond them nobody can mean it.
	low, high float64
	// word stands before the figure in a line: "rested 2h"; empty for none.
	word string
	// lead is a word that is printed before the figure and need not be typed.
	lead string
	// spaced prints a blank between figure and unit; small prints thousandths
	// below one: 85 ma.
	spaced, small bool
	// bareLow and bareHigh are the range in which the figure may stand without
	// a unit; both zero: never.
	bareLow, bareHigh float64
	required          bool
	gate              gate
	// beside is the worded figure this one stands behind: "stood 8h -6c". When
	// that is missing, its word announces this one: "stood -6c".
	beside    Number
	hasBeside bool
	// example is the figure in a line, for what may be typed next.
	example string
}

// choiceField is a code a kind can carry.
type choiceField struct {
	id    Choice
	json  string
	codes []string
	// say is how each code is printed; nil for the code itself in lower case.
	say []string
	// flag marks a yes or no, a boolean in JSON.
	flag bool
	// word stands before the code in a line: "since drive"; empty for none.
	word     string
	required bool
	// sets is a figure that may follow the code: "lamps 2min".
	sets Number
	// follows reports whether sets is used.
	follows bool
}

// cellField is what the cells of a kind may hold.
type cellField struct {
	codes []string
	// figures are taken beside the codes, within low and high.
	figures   bool
	low, high float64
}

// kindTable is one kind: how its line begins and what it may carry, in the
// order in which a canonical line prints it.
type kindTable struct {
	kind Kind
	// starts are the words a line may start with, the canonical one first; none
	// for a line that starts with a number.
	starts []string
	// byItem marks a kind whose first word is one of its items: "age 5y".
	byItem  bool
	numbers []numberField
	choices []choiceField
	cells   *cellField
	print   []part // canonical order
	// least holds figures of which one must be there.
	least []Number
	// list is the JSON name of an array whose items are figures of the kind, each named
	// for its place: volts[0], volts[1]; empty for none.
	list    string
	example string

	words map[string]entry // made from the fields above, words.go
}

// part is one element of a canonical line: a number, a choice, the cells or the
// fuse.
type part struct {
	what   partKind
	number Number
	choice Choice
}

type partKind uint8

const (
	partNumber partKind = iota
	partChoice
	partCells
	partFuse
)

func n(id Number) part { return part{number: id} }
func c(id Choice) part { return part{what: partChoice, choice: id} }

func yesNo(id Choice, json, yes, no string) choiceField {
	return choiceField{id: id, json: json, codes: []string{Yes, No}, say: []string{yes, no}, flag: true}
}

var (
	temperature = numberField{id: BatteryC, json: "battery_c", unit: unitCelsius, low: -50, high: 85, example: "18c"}
	tempBasis   = choiceField{id: TempBasis, json: "temp_basis", codes: []string{"probe", "infrared", "felt", "air"}}
)

// volts is a voltage that may stand without a unit where it has a decimal mark.
func volts(id Number, json, word, example string) numberField {
	return numberField{id: id, json: json, unit: unitVolt, low: 0, high: 36, word: word, bareLow: 1, bareHigh: 32, example: example}
}

// eitherWay takes a voltage of either sign: a meter on a reversed battery shows minus.
func eitherWay(f numberField) numberField { f.low = -f.high; return f }

func required(f numberField) numberField { f.required = true; return f }
func spaced(f numberField) numberField   { f.spaced = true; return f }

// kinds is the one table of the reading line. Ranges are plausibility only
// (common practice, no source): beyond them nobody can have meant the figure.
var kinds = []kindTable{
	{
		kind: OpenCircuit, example: "12.41 v 18c rested 2h",
		numbers: []numberField{
			required(spaced(eitherWay(volts(Volts, "volts", "", "12.41 v")))),
			temperature,
			{id: RestedMin, json: "rested_min", unit: unitMinute, low: 0, high: 525600, word: "rested", example: "rested 2h"},
			{id: SurfaceS, json: "surface_s", unit: unitSecond, low: 0, high: 3600, gate: behindCode, example: "lamps 2min"},
			{id: WaitS, json: "wait_s", unit: unitSecond, low: 0, high: 86400, word: "wait", example: "wait 1min"},
		},
		choices: []choiceField{
			tempBasis,
			{id: SurfaceRemoved, json: "surface_removed", codes: []string{"lamps", "load"}, sets: SurfaceS, follows: true},
			{id: Since, json: "since", codes: []string{"drive", "charge", "stood"}, word: "since"},
		},
		print: []part{n(Volts), n(BatteryC), c(TempBasis), n(RestedMin), c(SurfaceRemoved), n(WaitS), c(Since)},
	},
	{
		kind: Gravity, starts: []string{"sg", "gravity", "hydrometer"}, example: "sg 1265 1260 - 1210 1265 1260 at 15c",
		cells: &cellField{codes: []string{"green", "fair", "red"}, figures: true, low: 1, high: 1.4},
		numbers: []numberField{
			{id: BatteryC, json: "battery_c", unit: unitCelsius, low: -50, high: 85, lead: "at", example: "at 15c"},
			{id: Points, json: "points", unit: unitPlain, low: -100, high: 100, word: "points", example: "points -14"},
		},
		choices: []choiceField{
			{id: Correction, json: "correction", codes: []string{"none", "automatic", "points"}, say: []string{"bare", "auto", "points"}},
			yesNo(JustWatered, "just_watered", "just watered", "not watered"),
		},
		print: []part{{what: partCells}, n(BatteryC), c(Correction), n(Points), c(JustWatered)},
	},
	{
		kind: Eye, starts: []string{"eye"}, example: "eye dark",
		choices: []choiceField{{id: Colour, json: "colour", codes: []string{"green", "dark", "clear", "unsure"}, required: true}},
		print:   []part{c(Colour)},
	},
	{
		kind: Level, starts: []string{"level", "levels"}, example: "level ok ok low ok dry ok",
		cells: &cellField{codes: []string{"ok", "low", "dry"}},
		print: []part{{what: partCells}},
	},
	{
		kind: Load, starts: []string{"load"}, example: "load 325a 15s 9.4v 18c",
		numbers: []numberField{
			{id: Amps, json: "amps", unit: unitAmpere, low: 1, high: 3000, bareLow: 40, bareHigh: 3000, example: "325a"},
			{id: Seconds, json: "seconds", unit: unitSecond, low: 1, high: 60, bareLow: 10, bareHigh: 30, required: true, example: "15s"},
			required(volts(Volts, "volts", "", "9.4v")),
			temperature,
			volts(RecoveredVolts, "recovered_volts", "back", "back 12.3v"),
		},
		choices: []choiceField{
			tempBasis,
			{id: Method, json: "method", codes: []string{"pile", "fixed", "starter"}},
		},
		print: []part{n(Amps), n(Seconds), n(Volts), n(BatteryC), c(TempBasis), c(Method), n(RecoveredVolts)},
	},
	{
		kind: Conductance, example: "594/650 cca sae agm 12.5v",
		numbers: []numberField{
			{id: Measured, json: "measured", unit: unitPlain, low: 1, high: 3000, required: true, example: "594/650 cca"},
			{id: Rated, json: "rated", unit: unitPlain, low: 10, high: 3000, required: true},
			volts(Volts, "volts", "", "12.5v"),
			temperature,
			{id: Milliohm, json: "milliohm", unit: unitMilliohm, low: 0.1, high: 500, example: "4.2mohm"},
			{id: Percent, json: "percent", unit: unitPercent, low: 0, high: 200, example: "91%"},
		},
		choices: []choiceField{
			{id: Standard, json: "standard", codes: []string{"SAE", "EN", "IEC", "DIN", "JIS", "CA", "MCA", "HCA"}},
			{id: Chemistry, json: "chemistry", codes: []string{"flooded", "efb", "agm", "gel", "lifepo4", "unknown"}},
		},
		print: []part{n(Measured), n(Rated), c(Standard), c(Chemistry), n(Volts), n(BatteryC), n(Milliohm), n(Percent)},
	},
	{
		kind: Crank, starts: []string{"crank", "cranking"}, example: "crank 9.8v 4s slow",
		numbers: []numberField{
			required(volts(Volts, "volts", "", "9.8v")),
			{id: Seconds, json: "seconds", unit: unitSecond, low: 0.1, high: 60, bareLow: 1, bareHigh: 30, example: "4s"},
		},
		choices: []choiceField{
			{id: Sound, json: "sound", codes: []string{"normal", "slow", "uneven", "click", "chatter", "silent"}},
			yesNo(Started, "started", "started", "no start"),
			yesNo(OnJump, "on_jump", "on jump", "no jump"),
		},
		print: []part{n(Volts), n(Seconds), c(Sound), c(Started), c(OnJump)},
	},
	{
		kind: ChargingSystem, starts: []string{"running"}, example: "running 13.9 v raised loads on",
		numbers: []numberField{
			required(spaced(volts(Volts, "volts", "", "14.3 v"))),
			{id: Amps, json: "amps", unit: unitAmpere, low: -500, high: 500, example: "38a"},
			{id: AirC, json: "air_c", unit: unitCelsius, low: -60, high: 70, example: "5c"},
			{id: MinutesRunning, json: "minutes_running", unit: unitMinute, low: 0, high: 1440, example: "10min"},
		},
		choices: []choiceField{
			{id: Speed, json: "speed", codes: []string{"idle", "raised"}},
			yesNo(Loads, "loads", "loads on", "loads off"),
			yesNo(JustJumped, "just_jumped", "just jumped", "not jumped"),
			yesNo(Managed, "managed", "managed", "not managed"),
		},
		print: []part{n(Volts), n(Amps), c(Speed), c(Loads), c(JustJumped), c(Managed), n(AirC), n(MinutesRunning)},
	},
	{
		kind: Ripple, starts: []string{"ripple"}, example: "ripple 0.08 v",
		numbers: []numberField{
			{
				id:       VoltsAC,
				json:     "volts_ac",
				unit:     unitVolt,
				low:      0,
				high:     20,
				bareLow:  0,
				bareHigh: 5,
				spaced:   true,
				required: true,
				example:  "0.08 v",
			},
		},
		print: []part{n(VoltsAC)},
	},
	{
		kind: StarterDraw, starts: []string{"starter"}, example: "starter 145a 10.1v stud 9.6v",
		numbers: []numberField{
			{id: Amps, json: "amps", unit: unitAmpere, low: 1, high: 3000, bareLow: 40, bareHigh: 3000, example: "145a"},
			volts(Volts, "volts", "", "10.1v"),
			volts(StudVolts, "stud_volts", "stud", "stud 9.6v"),
		},
		print: []part{n(Amps), n(Volts), n(StudVolts)},
		least: []Number{Amps, Volts, StudVolts},
	},
	{
		kind: Drop, starts: []string{"drop"}, example: "drop negative_clamp 0.45v 150a",
		numbers: []numberField{
			{id: Volts, json: "volts", unit: unitVolt, low: 0, high: 36, bareLow: 0, bareHigh: 12, required: true, example: "0.45v"},
			{id: Amps, json: "amps", unit: unitAmpere, low: 0.1, high: 3000, bareLow: 40, bareHigh: 3000, example: "150a"},
		},
		choices: []choiceField{
			{
				id:   Where,
				json: "where",
				codes: []string{
					"positive_clamp",
					"positive_cable",
					"starter_stud",
					"negative_clamp",
					"negative_cable",
					"ground_strap",
					"whole_positive",
					"whole_negative",
					"charge_positive",
					"charge_negative",
				},
				required: true,
			},
			{id: Condition, json: "condition", codes: []string{"cranking", "charging"}},
		},
		print: []part{c(Where), n(Volts), n(Amps), c(Condition)},
	},
	{
		kind: Drain, starts: []string{"drain", "fuse"}, example: "drain 85 ma asleep 40min",
		numbers: []numberField{
			{id: Amps, json: "amps", unit: unitAmpere, low: 0, high: 60, spaced: true, small: true, gate: beforeFuse, example: "85 ma"},
			{id: FuseRatingA, json: "fuse_rating_a", unit: unitAmpere, low: 0.5, high: 200, gate: behindFuse, example: "15a"},
			{id: Millivolts, json: "millivolts", unit: unitMillivolt, low: 0, high: 500, example: "1.2mv"},
			{id: AsleepMin, json: "asleep_min", unit: unitMinute, low: 0, high: 10080, word: "asleep", example: "asleep 40min"},
		},
		choices: []choiceField{
			{id: Method, json: "method", codes: []string{"series", "clamp", "fuse"}, say: []string{"series", "clamp", "over fuse"}},
		},
		print: []part{n(Amps), {what: partFuse}, n(FuseRatingA), n(Millivolts), n(AsleepMin), c(Method)},
		least: []Number{Amps, Millivolts},
	},
	{
		kind: CaseLeak, starts: []string{"case"}, example: "case 4.5 v",
		numbers: []numberField{
			required(spaced(numberField{id: Volts, json: "volts", unit: unitVolt, low: 0, high: 36, bareLow: 0, bareHigh: 16, example: "4.5 v"})),
		},
		print: []part{n(Volts)},
	},
	{
		kind: Look, starts: []string{"look"}, example: "look corrosion positive heavy",
		choices: []choiceField{
			{
				id:   Finding,
				json: "finding",
				codes: []string{
					"none",
					"crack",
					"bulge",
					"case_leak",
					"wet_vents",
					"frozen",
					"post_loose",
					"clamp_loose",
					"clamp_not_seated",
					"corrosion",
					"oxide",
					"cable_green",
					"cable_damaged",
					"clamp_universal",
					"clamp_worn",
					"ring_between",
					"strap_bad",
					"hold_down",
					"dirty_top",
					"smell",
					"hiss",
					"hot",
					"belt",
					"belt_slips",
					"vent_tube",
					"vent_plug",
				},
				required: true,
			},
			{id: Where, json: "where", codes: []string{"positive", "negative", "both"}},
			{id: Degree, json: "degree", codes: []string{"light", "heavy"}},
		},
		print: []part{c(Finding), c(Where), c(Degree)},
	},
	{
		kind: History, byItem: true, starts: []string{"age", "jumps", "stood", "standing", "trips", "lights", "left"}, example: "stood 8h -6c",
		numbers: []numberField{
			{id: AgeYears, json: "age_years", unit: unitYear, low: 0, high: 40, word: "age", bareLow: 0, bareHigh: 40, example: "age 5y"},
			{id: Jumps, json: "jumps", unit: unitPlain, low: 0, high: 400, word: "jumps", bareLow: 0, bareHigh: 400, example: "jumps 3"},
			{id: JumpsDays, json: "jumps_days", unit: unitDay, low: 1, high: 3650, word: "in", example: "in 90d"},
			{id: StoodH, json: "stood_h", unit: unitHour, low: 0, high: 8760, word: "stood", example: "stood 8h"},
			{id: StoodC, json: "stood_c", unit: unitCelsius, low: -60, high: 70, beside: StoodH, hasBeside: true, example: "-6c"},
			{id: StandingDays, json: "standing_days", unit: unitDay, low: 0, high: 3650, word: "standing", example: "standing 40d"},
			{
				id:       TripsWeek,
				json:     "trips_week",
				unit:     unitPerWeek,
				low:      0,
				high:     300,
				word:     "trips",
				bareLow:  0,
				bareHigh: 300,
				example:  "trips 6/week",
			},
			{id: TripMin, json: "trip_min", unit: unitMinute, low: 0, high: 1440, beside: TripsWeek, hasBeside: true, example: "9min"},
			{id: LeftOnH, json: "left_on_h", unit: unitHour, low: 0, high: 2000, word: "lights left on", example: "lights left on 14h"},
		},
		print: []part{n(AgeYears), n(Jumps), n(JumpsDays), n(StoodH), n(StoodC), n(StandingDays), n(TripsWeek), n(TripMin), n(LeftOnH)},
		least: []Number{AgeYears, Jumps, StoodH, StoodC, StandingDays, TripsWeek, TripMin, LeftOnH},
	},
	{
		kind: DCDC, starts: []string{"dcdc", "dc-dc"}, example: "dcdc 12.4v to 13.9v 5s",
		numbers: []numberField{
			volts(RestVolts, "rest_volts", "", "12.4v"),
			volts(AwakeVolts, "awake_volts", "to", "to 13.9v"),
			{id: Seconds, json: "seconds", unit: unitSecond, low: 0, high: 3600, example: "5s"},
		},
		print: []part{n(RestVolts), n(AwakeVolts), n(Seconds)},
		least: []Number{AwakeVolts, RestVolts},
	},
	{
		kind: Reserve, starts: []string{"reserve"}, example: "reserve 10a 90min 12.6v to 11.9v 20c",
		numbers: []numberField{
			{id: Amps, json: "amps", unit: unitAmpere, low: 0.2, high: 500, required: true, example: "10a"},
			{id: Minutes, json: "minutes", unit: unitMinute, low: 0.5, high: 6000, required: true, example: "90min"},
			volts(StartVolts, "start_volts", "", "12.6v"),
			required(volts(EndVolts, "end_volts", "to", "to 11.9v")),
			temperature,
		},
		choices: []choiceField{yesNo(StoppedEarly, "stopped_early", "stopped early", "not stopped")},
		print:   []part{n(Amps), n(Minutes), n(StartVolts), n(EndVolts), n(BatteryC), c(StoppedEarly)},
	},
	{
		kind: ChargeLog, starts: []string{"charge"}, example: "charge 14.2v 6.1a 90min cool no gas",
		numbers: []numberField{
			required(volts(Volts, "volts", "", "14.2v")),
			{id: Amps, json: "amps", unit: unitAmpere, low: 0, high: 500, required: true, example: "6.1a"},
			{id: Minutes, json: "minutes", unit: unitMinute, low: 0, high: 43200, example: "90min"},
			temperature,
			{id: AhIn, json: "ah_in", unit: unitAmpereHour, low: 0, high: 2000, example: "24ah"},
		},
		choices: []choiceField{
			{id: Warmth, json: "warmth", codes: []string{"cool", "warm", "hot"}},
			yesNo(Gassing, "gassing", "gas", "no gas"),
			yesNo(ChargerFull, "charger_full", "full", "not full"),
		},
		print: []part{n(Volts), n(Amps), n(Minutes), c(Warmth), n(BatteryC), c(Gassing), n(AhIn), c(ChargerFull)},
	},
	{
		kind: Halves, starts: []string{"halves", "pair"}, example: "halves 12.7v 11.7v 20c rested 3h",
		numbers: []numberField{
			required(volts(Volts, "volts[0]", "", "12.7v")),
			required(volts(OtherVolts, "volts[1]", "", "11.7v")),
			temperature,
			{id: RestedMin, json: "rested_min", unit: unitMinute, low: 0, high: 525600, word: "rested", example: "rested 3h"},
		},
		print: []part{n(Volts), n(OtherVolts), n(BatteryC), n(RestedMin)},
		list:  "volts",
	},
	{
		kind: Jump, starts: []string{"jump"}, example: "jump started",
		choices: []choiceField{
			{id: Started, json: "started", codes: []string{Yes, No}, say: []string{"started", "no"}, flag: true, required: true},
			{id: With, json: "with", codes: []string{"pack", "charger", "vehicle"}},
		},
		print: []part{c(Started), c(With)},
	},
}

// tableAt finds the table of a kind.
var tableAt = func() map[Kind]*kindTable {
	at := map[Kind]*kindTable{}
	for i := range kinds {
		at[kinds[i].kind] = &kinds[i]
	}
	return at
}()

func tableOf(kind Kind) *kindTable { return tableAt[kind] }

// Kinds lists the kinds.
func Kinds() []string {
	names := make([]string, len(kinds))
	for i, k := range kinds {
		names[i] = string(k.kind)
	}
	return names
}

// Codes lists what a choice of a kind may be; nil where the kind has no such choice.
func Codes(kind Kind, choice Choice) []string {
	if t := tableOf(kind); t != nil {
		for _, f := range t.choices {
			if f.id == choice {
				return slices.Clone(f.codes)
			}
		}
	}
	return nil
}

// Example is a canonical line of a kind.
func Example(kind Kind) string {
	if t := tableOf(kind); t != nil {
		return t.example
	}
	return ""
}

func (t *kindTable) number(id Number) *numberField {
	for i := range t.numbers {
		if t.numbers[i].id == id {
			return &t.numbers[i]
		}
	}
	return nil
}

func (t *kindTable) choice(id Choice) *choiceField {
	for i := range t.choices {
		if t.choices[i].id == id {
			return &t.choices[i]
		}
	}
	return nil
}

// spoken is how a code stands in a line.
func (f *choiceField) spoken(i int) string {
	if f.say != nil {
		return f.say[i]
	}
	return lower(f.codes[i])
}

// shown is how a code is written in a message: as it is spoken, but with its
// capitals.
func (f *choiceField) shown(code string) string {
	for i, c := range f.codes {
		if c == code && f.say != nil {
			return f.say[i]
		}
	}
	return strings.ReplaceAll(code, "_", " ")
}
