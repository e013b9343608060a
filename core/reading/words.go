package reading

import (
	"maps"
	"strings"
)

// unit is how a figure is written in a line.
type unit uint8

const (
	unitVolt unit = iota
	unitAmpere
	unitSecond // printed as min where whole
	unitMinute // printed as h where whole
	unitHour
	unitDay
	unitYear
	unitCelsius
	unitMilliohm
	unitMillivolt
	unitPercent
	unitPerWeek
	unitAmpereHour
	unitPlain
)

// dimension is what a unit measures: figures of one dimension can be converted.
type dimension uint8

const (
	potential dimension = iota
	current
	timeSpan
	temperatureC
	resistance
	share
	rate
	electricity
	count
)

// measure is a unit of a dimension: shift is the power of ten it is smaller
// than the core's unit, seconds its length where it is a time span.
type measure struct {
	dimension dimension
	shift     int
	seconds   float64
	name      string // in a problem's text
	printed   string // in a line
}

const (
	minuteSeconds = 60
	hourSeconds   = 60 * minuteSeconds
	daySeconds    = 24 * hourSeconds
	weekSeconds   = 7 * daySeconds
	yearSeconds   = 365.25 * daySeconds
)

var measures = [...]measure{
	unitVolt:       {potential, 0, 0, "V", "v"},
	unitAmpere:     {current, 0, 0, "A", "a"},
	unitSecond:     {timeSpan, 0, 1, "s", "s"},
	unitMinute:     {timeSpan, 0, minuteSeconds, "min", "min"},
	unitHour:       {timeSpan, 0, hourSeconds, "h", "h"},
	unitDay:        {timeSpan, 0, daySeconds, "days", "d"},
	unitYear:       {timeSpan, 0, yearSeconds, "years", "y"},
	unitCelsius:    {temperatureC, 0, 0, "°C", "c"},
	unitMilliohm:   {resistance, 3, 0, "mΩ", "mohm"},
	unitMillivolt:  {potential, 3, 0, "mV", "mv"},
	unitPercent:    {share, 0, 0, "%", "%"},
	unitPerWeek:    {rate, 0, 0, "a week", "/week"},
	unitAmpereHour: {electricity, 0, 0, "Ah", "ah"},
	unitPlain:      {count, 0, 0, "", ""},
}

// unitName is the unit's sign in a problem's text.
func unitName(u unit) string { return measures[u].name }

// spokenUnit is a way a unit may be written or spoken.
type spokenUnit struct {
	dimension  dimension
	shift      int
	seconds    float64
	fahrenheit bool
}

// unitWords are the ways a unit may be written or spoken.
var unitWords = func() map[string]*spokenUnit {
	words := map[string]*spokenUnit{}
	add := func(u spokenUnit, names ...string) {
		for _, name := range names {
			words[name] = &u
		}
	}
	add(spokenUnit{dimension: potential}, "v", "volt", "volts", "vac", "vdc")
	add(spokenUnit{dimension: potential, shift: 3}, "mv", "millivolt", "millivolts")
	add(spokenUnit{dimension: current}, "a", "amp", "amps", "ampere", "amperes")
	add(spokenUnit{dimension: current, shift: 3}, "ma", "milliamp", "milliamps")
	add(spokenUnit{dimension: current, shift: 6}, "ua", "µa", "μa")
	add(spokenUnit{dimension: timeSpan, seconds: 1}, "s", "sec", "secs", "second", "seconds")
	add(spokenUnit{dimension: timeSpan, seconds: minuteSeconds}, "min", "mins", "minute", "minutes", "m")
	add(spokenUnit{dimension: timeSpan, seconds: hourSeconds}, "h", "hr", "hrs", "hour", "hours")
	add(spokenUnit{dimension: timeSpan, seconds: daySeconds}, "d", "day", "days")
	add(spokenUnit{dimension: timeSpan, seconds: weekSeconds}, "w", "wk", "week", "weeks")
	add(spokenUnit{dimension: timeSpan, seconds: yearSeconds / 12}, "mo", "month", "months")
	add(spokenUnit{dimension: timeSpan, seconds: yearSeconds}, "y", "yr", "yrs", "year", "years")
	add(spokenUnit{dimension: temperatureC}, "c", "°c", "celsius", "deg", "degrees")
	add(spokenUnit{dimension: temperatureC, fahrenheit: true}, "f", "°f", "fahrenheit")
	add(spokenUnit{dimension: resistance, shift: 3}, "mohm", "mohms", "mω", "milliohm", "milliohms")
	add(spokenUnit{dimension: share}, "%", "percent")
	add(spokenUnit{dimension: rate}, "/week", "/w", "/wk", "perweek")
	add(spokenUnit{dimension: electricity}, "ah", "amphours")
	return words
}()

// shortForms are other words for a code or a word of the line; a joined entry
// stands for words behind each other. Each stands for what it names and for nothing
// that has a short form in its turn: a level that is full is not a look that found
// nothing.
var shortForms = map[string]string{
	"cracked": "crack", "bulged": "bulge", "bulging": "bulge", "swollen": "bulge", "leak": "case_leak", "leaking": "case_leak",
	"loose_post": "post_loose", "loose_clamp": "clamp_loose", "corroded": "corrosion", "oxidised": "oxide", "dirty": "dirty_top",
	"frost": "frozen", "smells": "smell", "hissing": "hiss", "nothing": "none", "ok": "none", "strap": "strap_bad",
	"yellow": "clear", "light_yellow": "clear", "black": "dark", "stuck": "unsure",
	"pos": "positive", "plus": "positive", "+": "positive", "neg": "negative", "minus": "negative", "-": "negative",
	"ir": "infrared", "hand": "felt", "wet": "flooded", "vrla": "agm",
	"lamp": "lamps", "headlamps": "lamps", "lights": "lamps", "rest": "rested", "waited": "wait", "recovered": "back",
	"driven": "drive", "driving": "drive", "charging": "charge", "charged": "charge",
	"good": "green", "bad": "red", "low": "red", "compensated": "auto", "automatic": "auto", "watered": "just_watered",
	"uncompensated": "bare",
	"fine":          "ok", "full": "ok", "under": "low", "empty": "dry",
	"clicks": "click", "clicking": "click", "chattering": "chatter", "slowly": "slow", "nothing_at_all": "silent",
	"not_started": "no_start", "failed": "no_start", "with_jump": "on_jump",
	"load_on": "loads_on", "load_off": "loads_off", "no_loads": "loads_off", "revs": "raised", "jumped": "just_jumped", "smart": "managed",
	"clamp_positive": "positive_clamp", "clamp_negative": "negative_clamp", "earth_strap": "ground_strap", "stud": "starter_stud",
	"sleeping": "asleep", "slept": "asleep", "clampmeter": "clamp", "in_series": "series",
	"left_on": "lights_left_on", "lights_on": "lights_left_on", "jump_starts": "jumps",
	"early": "stopped_early", "gassing": "gas", "no_gassing": "no_gas", "lukewarm": "warm", "cold": "cool",
	"yes": "started", "booster": "pack", "cables": "vehicle", "car": "vehicle",
	"awake": "to", "by_fuse": "over_fuse", "across_fuse": "over_fuse",
}

// lookForms are short forms that mean something else elsewhere: a look in which all
// is fine has found nothing, a level that is fine is up to its mark.
var lookForms = map[string]string{"fine": "none"}

// sameWord turns a spoken half of a joined name into the one it is known by.
var sameWord = map[string]string{"pos": "positive", "neg": "negative", "plus": "positive", "minus": "negative", "earth": "ground"}

// codeID is a code of any choice as a small number; zero is none.
type codeID uint8

// codeNames and codeIDs turn codes into small numbers and back; made from the
// kinds table, the same in every run.
var (
	codeNames = []string{""}
	codeIDs   = map[string]codeID{}
)

// entryKind is what a word of a line announces.
type entryKind uint8

const (
	entryNone entryKind = iota
	entryNumber
	entryChoice
	entryChoiceWord
	entryFuse
)

// entry is what a word means in lines of one kind.
type entry struct {
	kind entryKind
	// index is that of the number or choice field in its kind's table.
	index, code int
	// opens marks a word that may be the first of several.
	opens bool
}

// starters finds the kind that a line's first word opens.
var starters = map[string]*kindTable{}

func init() {
	for i := range kinds {
		t := &kinds[i]
		for _, word := range t.starts {
			starters[word] = t
		}
		intern(t)
		t.words = t.index()
	}
}

func intern(t *kindTable) {
	for _, f := range t.choices {
		for _, code := range f.codes {
			if _, known := codeIDs[code]; !known {
				codeIDs[code] = codeID(len(codeNames))
				codeNames = append(codeNames, code)
			}
		}
	}
}

// index makes the words of a kind: its own, then the short forms of them.
func (t *kindTable) index() map[string]entry {
	words := map[string]entry{}
	add := func(text string, e entry) {
		key := strings.ReplaceAll(lower(text), " ", "_")
		if _, taken := words[key]; !taken {
			words[key] = e
		}
	}
	if t.kind == Drain {
		add("fuse", entry{kind: entryFuse})
	}
	for i, f := range t.numbers {
		if f.word != "" {
			add(f.word, entry{kind: entryNumber, index: i})
		}
	}
	for i, f := range t.choices {
		for j, code := range f.codes {
			if f.word == "" {
				add(f.spoken(j), entry{kind: entryChoice, index: i, code: j})
				if !f.flag {
					add(code, entry{kind: entryChoice, index: i, code: j})
				}
			}
		}
		if f.word != "" {
			add(f.word, entry{kind: entryChoiceWord, index: i})
		}
	}
	own := maps.Clone(words)
	for short, long := range shortForms {
		if e, ok := own[long]; ok {
			add(short, e)
		}
	}
	for short, long := range lookForms {
		if e, ok := own[long]; ok && t.kind == Look {
			add(short, e)
		}
	}
	t.markOpenings(words)
	return words
}

// markOpenings marks the first word of each joined entry, so that only behind
// those a second word is looked for.
func (t *kindTable) markOpenings(words map[string]entry) {
	for key := range words {
		first, _, joined := strings.Cut(key, "_")
		if !joined {
			continue
		}
		for _, word := range append(spokenAs(first), first) {
			e := words[word]
			e.opens = true
			words[word] = e
		}
	}
}

func spokenAs(word string) []string {
	var list []string
	for spoken, known := range sameWord {
		if known == word {
			list = append(list, spoken)
		}
	}
	return list
}

// lower is strings.ToLower without work for what is lower case already.
func lower(s string) string {
	for i := 0; i < len(s); i++ {
		if c := s[i]; c >= 'A' && c <= 'Z' || c >= 0x80 {
			return strings.ToLower(s)
		}
	}
	return s
}
