package reading

// unit is how a figure is written in a line.
type unit uint8

const (
	unitVolt unit = iota
	unitAmpere
	unitSecond // printed as min where whole
	unitMinute // printed as h where whole
	unitCelsius
	unitMilliohm
	unitPercent
	unitPlain
)

// unitName is the unit's sign in a problem's text.
var unitName = map[unit]string{
	unitVolt: "V", unitAmpere: "A", unitSecond: "s", unitMinute: "min",
	unitCelsius: "°C", unitMilliohm: "mΩ", unitPercent: "%", unitPlain: "A",
}

// numberField is a figure a kind can carry.
type numberField struct {
	id   Number
	json string
	unit unit
	// low and high bound what is taken at all; beyond them nobody can mean it.
	low, high float64
	// word stands before the figure in a line: "rested 2h"; empty for none.
	word string
	// bareLow and bareHigh are the range in which the figure may stand without
	// a unit; both zero: never.
	bareLow, bareHigh float64
	required          bool
}

// choiceField is a code a kind can carry.
type choiceField struct {
	id    Choice
	json  string
	codes []string
	// word stands before the code in a line: "since drive"; empty for none.
	word     string
	required bool
	// sets is a figure that may follow the code: "lamps 2min".
	sets Number
	// follows reports whether sets is used.
	follows bool
}

// kindTable is one kind: how its line begins and what it may carry, in the
// order in which a canonical line prints it.
type kindTable struct {
	kind    Kind
	starts  string // the word a line starts with; empty for a number
	numbers []numberField
	choices []choiceField
	print   []part // canonical order
	example string
}

// part is one element of a canonical line: a number or a choice.
type part struct {
	isChoice bool
	number   Number
	choice   Choice
}

func n(id Number) part { return part{number: id} }
func c(id Choice) part { return part{isChoice: true, choice: id} }

var temperature = numberField{id: BatteryC, json: "battery_c", unit: unitCelsius, low: -50, high: 85}

var tempBasis = choiceField{id: TempBasis, json: "temp_basis", codes: []string{"probe", "infrared", "felt", "air"}}

// kinds is the one table of the reading line. Ranges are plausibility only
// (common practice, no source): beyond them nobody can have meant the figure.
var kinds = []kindTable{
	{
		kind: OpenCircuit, example: "12.41 v 18c rested 2h",
		numbers: []numberField{
			{id: Volts, json: "volts", unit: unitVolt, low: 0, high: 36, bareLow: 1, bareHigh: 32, required: true},
			temperature,
			{id: RestedMin, json: "rested_min", unit: unitMinute, low: 0, high: 525600, word: "rested"},
			{id: SurfaceS, json: "surface_s", unit: unitSecond, low: 0, high: 3600, word: "lamps"},
			{id: WaitS, json: "wait_s", unit: unitSecond, low: 0, high: 86400, word: "wait"},
		},
		choices: []choiceField{
			tempBasis,
			{id: SurfaceRemoved, json: "surface_removed", codes: []string{"lamps", "load"}, sets: SurfaceS, follows: true},
			{id: Since, json: "since", codes: []string{"drive", "charge", "stood"}, word: "since"},
		},
		print: []part{n(Volts), n(BatteryC), c(TempBasis), n(RestedMin), c(SurfaceRemoved), n(WaitS), c(Since)},
	},
	{
		kind: Eye, starts: "eye", example: "eye dark",
		choices: []choiceField{{id: Colour, json: "colour", codes: []string{"green", "dark", "clear", "unsure"}, required: true}},
		print:   []part{c(Colour)},
	},
	{
		kind: Look, starts: "look", example: "look corrosion positive heavy",
		choices: []choiceField{
			{id: Finding, json: "finding", codes: []string{"none", "crack", "bulge", "case_leak", "wet_vents", "frozen", "post_loose", "clamp_loose", "clamp_not_seated", "corrosion", "oxide", "cable_green", "cable_damaged", "strap_bad", "hold_down", "dirty_top", "smell", "hiss", "hot", "belt"}, required: true},
			{id: Where, json: "where", codes: []string{"positive", "negative", "both"}},
			{id: Degree, json: "degree", codes: []string{"light", "heavy"}},
		},
		print: []part{c(Finding), c(Where), c(Degree)},
	},
	{
		kind: Load, starts: "load", example: "load 325a 15s 9.4v 18c",
		numbers: []numberField{
			{id: Amps, json: "amps", unit: unitAmpere, low: 1, high: 3000, bareLow: 40, bareHigh: 3000},
			{id: Seconds, json: "seconds", unit: unitSecond, low: 1, high: 60, bareLow: 10, bareHigh: 30, required: true},
			{id: Volts, json: "volts", unit: unitVolt, low: 0, high: 36, bareLow: 1, bareHigh: 32, required: true},
			temperature,
			{id: RecoveredVolts, json: "recovered_volts", unit: unitVolt, low: 0, high: 36, word: "back", bareLow: 1, bareHigh: 32},
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
			{id: Measured, json: "measured", unit: unitPlain, low: 1, high: 3000, required: true},
			{id: Rated, json: "rated", unit: unitPlain, low: 10, high: 3000, required: true},
			{id: Volts, json: "volts", unit: unitVolt, low: 0, high: 36, bareLow: 1, bareHigh: 32},
			temperature,
			{id: Milliohm, json: "milliohm", unit: unitMilliohm, low: 0.1, high: 500},
			{id: Percent, json: "percent", unit: unitPercent, low: 0, high: 200},
		},
		choices: []choiceField{
			{id: Standard, json: "standard", codes: []string{"SAE", "EN", "IEC", "DIN", "JIS", "CA", "MCA", "HCA"}},
			{id: Chemistry, json: "chemistry", codes: []string{"flooded", "efb", "agm", "gel", "lifepo4", "unknown"}},
		},
		print: []part{n(Measured), n(Rated), c(Standard), c(Chemistry), n(Volts), n(BatteryC), n(Milliohm), n(Percent)},
	},
}

// later names the kinds of the trade that this version does not serve yet, so
// that they can be refused by name.
var later = []string{"gravity", "level", "crank", "charging", "ripple", "starter_draw", "drop", "drain", "case_leak", "history", "dcdc", "reserve", "charge_log", "jump"}

// laterWords are the words their lines start with.
var laterWords = map[string]string{
	"sg": "gravity", "gravity": "gravity", "level": "level", "crank": "crank", "running": "charging", "ripple": "ripple",
	"starter": "starter_draw", "drop": "drop", "drain": "drain", "fuse": "drain", "case": "case_leak", "age": "history",
	"jumps": "history", "stood": "history", "trips": "history", "lights": "history", "dcdc": "dcdc", "reserve": "reserve",
	"charge": "charge_log", "jump": "jump",
}

// unitWords are the ways a unit may be written or spoken, and what one of it is
// in the core's unit.
var unitWords = map[string]struct {
	unit   unit
	factor float64
}{
	"v": {unitVolt, 1}, "volt": {unitVolt, 1}, "volts": {unitVolt, 1}, "mv": {unitVolt, 0.001},
	"a": {unitAmpere, 1}, "amp": {unitAmpere, 1}, "amps": {unitAmpere, 1}, "ampere": {unitAmpere, 1}, "amperes": {unitAmpere, 1},
	"s": {unitSecond, 1}, "sec": {unitSecond, 1}, "secs": {unitSecond, 1}, "second": {unitSecond, 1}, "seconds": {unitSecond, 1},
	"min": {unitSecond, 60}, "mins": {unitSecond, 60}, "minute": {unitSecond, 60}, "minutes": {unitSecond, 60}, "m": {unitSecond, 60},
	"h": {unitSecond, 3600}, "hr": {unitSecond, 3600}, "hrs": {unitSecond, 3600}, "hour": {unitSecond, 3600}, "hours": {unitSecond, 3600},
	"d": {unitSecond, 86400}, "day": {unitSecond, 86400}, "days": {unitSecond, 86400},
	"c": {unitCelsius, 1}, "°c": {unitCelsius, 1}, "celsius": {unitCelsius, 1}, "deg": {unitCelsius, 1}, "degrees": {unitCelsius, 1},
	"f": {unitCelsius, 0}, "°f": {unitCelsius, 0}, "fahrenheit": {unitCelsius, 0}, // factor 0: not a factor at all
	"mohm": {unitMilliohm, 1}, "mω": {unitMilliohm, 1}, "milliohm": {unitMilliohm, 1}, "milliohms": {unitMilliohm, 1},
	"%": {unitPercent, 1}, "percent": {unitPercent, 1},
}

// shortForms are other words for a code or a word of the line.
var shortForms = map[string]string{
	"cracked": "crack", "bulged": "bulge", "bulging": "bulge", "swollen": "bulge", "leak": "case_leak", "leaking": "case_leak",
	"loose_post": "post_loose", "loose_clamp": "clamp_loose", "corroded": "corrosion", "oxidised": "oxide", "dirty": "dirty_top",
	"frost": "frozen", "smells": "smell", "hissing": "hiss", "nothing": "none", "ok": "none", "strap": "strap_bad",
	"yellow": "clear", "black": "dark", "red": "dark", "stuck": "unsure",
	"pos": "positive", "plus": "positive", "+": "positive", "neg": "negative", "minus": "negative", "-": "negative",
	"ir": "infrared", "hand": "felt", "wet": "flooded", "vrla": "agm",
	"lamp": "lamps", "headlamps": "lamps", "lights": "lamps", "rest": "rested", "waited": "wait", "recovered": "back",
	"driven": "drive", "driving": "drive", "charging": "charge", "charged": "charge",
}

func tableOf(kind Kind) *kindTable {
	for i := range kinds {
		if kinds[i].kind == kind {
			return &kinds[i]
		}
	}
	return nil
}

// Kinds lists the kinds served.
func Kinds() []string {
	names := make([]string, len(kinds))
	for i, k := range kinds {
		names[i] = string(k.kind)
	}
	return names
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
