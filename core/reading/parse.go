package reading

import (
	"regexp"
	"strconv"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"grapnel/core/problem"
	"grapnel/core/quantity"
	"grapnel/core/wording"
)

// Span says what a stretch of a reading line was understood as.
type Span struct {
	// Start and End are byte offsets into the line.
	Start int `json:"start"`
	End   int `json:"end"`
	// Field is the field of the reading it filled, or "kind".
	Field string `json:"field"`
	// Assumed marks what was not said in full, such as a figure without a unit.
	Assumed bool `json:"assumed"`
}

// Parsed is a reading line that was understood.
type Parsed struct {
	Reading Reading
	Spans   []Span
}

// Parse understands one reading line. A line that starts with a number and v is
// an open-circuit voltage, with n/n a conductance test; any other starts with
// its word; after that words may stand in any order. A problem points at the
// word at fault and says what would be understood there; Parse never panics.
func Parse(line string) (Parsed, error) {
	p := parser{words: split(line)}
	if len(p.words) == 0 {
		return Parsed{}, problem.List{p.fault("line.empty", word{}, "", openings())}
	}
	p.open()
	for p.next < len(p.words) && len(p.problems) == 0 {
		p.item()
	}
	if len(p.problems) == 0 {
		p.problems = append(p.problems, check(p.reading)...)
	}
	if len(p.problems) > 0 {
		return Parsed{}, p.problems
	}
	return Parsed{p.reading, p.spans}, nil
}

// word is one blank-separated stretch of the line.
type word struct {
	start, end int
	raw        string // as typed
	low        string // lower case, without a trailing comma
}

func split(line string) []word {
	var words []word
	for i := 0; i < len(line); {
		r, size := utf8.DecodeRuneInString(line[i:])
		if unicode.IsSpace(r) {
			i += size
			continue
		}
		end := wordEnd(line, i)
		raw := line[i:end]
		words = append(words, word{i, end, raw, strings.ToLower(strings.TrimRight(raw, ",;"))})
		i = end
	}
	return words
}

// wordEnd finds where the word at i ends: at a blank, or at the closing quote
// of a name.
func wordEnd(line string, i int) int {
	if line[i] == '"' {
		if closing := strings.IndexByte(line[i+1:], '"'); closing >= 0 {
			return i + 1 + closing + 1
		}
	}
	if blank := strings.IndexFunc(line[i:], unicode.IsSpace); blank >= 0 {
		return i + blank
	}
	return len(line)
}

type parser struct {
	words    []word
	next     int
	table    *kindTable
	reading  Reading
	spans    []Span
	problems problem.List
}

func (p *parser) fault(code string, w word, given, allowed string) problem.Problem {
	return problem.New(code, "line", given, allowed).At(w.start, w.end)
}

func (p *parser) fail(pr problem.Problem) { p.problems = append(p.problems, pr) }

func (p *parser) span(from, to word, field string, assumed bool) {
	p.spans = append(p.spans, Span{from.start, to.end, field, assumed})
}

// openings words what a line may start with.
func openings() string {
	examples := make([]string, len(kinds))
	for i, k := range kinds {
		examples[i] = k.example
	}
	return strings.Join(examples, " · ")
}

// open decides the kind from the first word.
func (p *parser) open() {
	first := p.words[0]
	if _, _, isNumber := leadingNumber(first.low); isNumber {
		p.openWithNumber(first)
		return
	}
	for i := range kinds {
		if kinds[i].starts == first.low {
			p.begin(&kinds[i])
			p.span(first, first, "kind", false)
			p.next = 1
			return
		}
	}
	if kind, ok := laterWords[first.low]; ok {
		p.fail(p.fault("line.later", first, kind, strings.Join(Kinds(), ", ")))
		return
	}
	p.fail(p.fault("line.opening", first, first.raw, openings()))
}

func (p *parser) begin(t *kindTable) {
	p.table = t
	p.reading.Kind = t.kind
}

func (p *parser) openWithNumber(first word) {
	if len(p.words) > 1 && (p.words[1].low == "of" || p.words[1].low == "/") || strings.Contains(first.low, "/") {
		p.begin(tableOf(Conductance))
		p.pair()
		return
	}
	p.begin(tableOf(OpenCircuit))
}

// pair reads measured/rated: 594/650, 594 / 650, 594 of 650.
func (p *parser) pair() {
	first, last := p.words[0], p.words[0]
	measured, rated, together := strings.Cut(first.low, "/")
	p.next = 1
	if !together || rated == "" {
		if !together {
			p.next = 2
		}
		if p.next >= len(p.words) {
			p.fail(p.fault("line.pair", first, first.raw, Example(Conductance)))
			return
		}
		last = p.words[p.next]
		rated = last.low
		p.next++
	}
	a, restA, okA := leadingNumber(measured)
	b, restB, okB := leadingNumber(rated)
	if !okA || !okB || restA != "" && restA != "a" || restB != "" && restB != "a" {
		p.fail(p.fault("line.pair", first, first.raw, Example(Conductance)))
		return
	}
	p.reading = p.reading.With(Measured, a).With(Rated, b)
	p.span(first, last, "measured", false)
}

// item understands the next word, and what belongs to it.
func (p *parser) item() {
	w := p.words[p.next]
	if _, _, isNumber := leadingNumber(w.low); isNumber {
		p.figure(w)
		return
	}
	low := w.low
	if long, ok := shortForms[low]; ok && p.table.knows(long) {
		low = long
	}
	switch {
	case low == "by":
		p.by(w)
	case low == "at":
		p.at(w)
	case low == "after":
		p.after(w)
	case low == "cca" && p.table.kind == Conductance:
		p.span(w, w, "measured", false)
		p.next++
	case low == "and" || low == "with":
		p.next++
	case p.table.byWord(low) != nil && low != "lamps":
		p.afterWord(w, p.table.byWord(low))
	default:
		p.code(w)
	}
}

// knows reports whether a word means anything in lines of the kind.
func (t *kindTable) knows(low string) bool {
	if t.byWord(low) != nil {
		return true
	}
	for i := range t.choices {
		if _, ok := matchCode(t.choices[i].codes, low); ok {
			return true
		}
	}
	return false
}

// byWord finds the figure that a word of the line announces.
func (t *kindTable) byWord(low string) *numberField {
	for i := range t.numbers {
		if t.numbers[i].word == low && low != "" {
			return &t.numbers[i]
		}
	}
	return nil
}

// afterWord reads the figure behind a word such as rested.
func (p *parser) afterWord(w word, f *numberField) {
	p.next++
	if p.next < len(p.words) {
		if fig, ok := p.quantity(); ok {
			p.set(f, fig, w, !fig.hasUnit)
			return
		}
	}
	if len(p.problems) == 0 {
		p.fail(p.fault("line.after_word", w, w.raw, w.low+" "+withUnit(60, f.unit)))
	}
}

// figureRead is a number as it stands in the line.
type figureRead struct {
	value      float64
	unit       unit
	hasUnit    bool
	seconds    float64 // length of one unit, for times
	fahrenheit bool
	decimals   bool
	from, to   word
}

// quantity reads a number with its unit, if there is one, from p.next on.
func (p *parser) quantity() (figureRead, bool) {
	w := p.words[p.next]
	value, rest, ok := leadingNumber(w.low)
	if !ok {
		return figureRead{}, false
	}
	fig := figureRead{value: value, from: w, to: w, decimals: strings.ContainsAny(w.low, ".,")}
	p.next++
	if rest == "" {
		if p.next == len(p.words) {
			return fig, true
		}
		after := p.words[p.next]
		if _, known := unitWords[after.low]; !known || p.table.knows(after.low) {
			return fig, true
		}
		rest, fig.to = after.low, after
		p.next++
	}
	if compound, ok := hoursAndMinutes(value, rest); ok {
		fig.value, fig.unit, fig.hasUnit, fig.seconds = compound, unitSecond, true, 60
		return fig, true
	}
	u, known := unitWords[rest]
	if !known {
		p.fail(p.fault("line.unit", w, w.raw, "v, a, s, min, h, c, f, mohm, %"))
		return fig, false
	}
	fig.unit, fig.hasUnit = u.unit, true
	switch u.unit {
	case unitSecond:
		fig.seconds = u.factor
	case unitCelsius:
		if fig.fahrenheit = u.factor == 0; fig.fahrenheit {
			fig.value = float64(quantity.Fahrenheit(value).Celsius())
		}
	default:
		fig.value *= u.factor
	}
	return fig, true
}

// hoursAndMinutes reads 1h30 and 1h30min, in minutes.
func hoursAndMinutes(hours float64, rest string) (float64, bool) {
	if !strings.HasPrefix(rest, "h") || len(rest) < 2 {
		return 0, false
	}
	minutes, tail, ok := leadingNumber(rest[1:])
	if !ok || minutes < 0 || minutes >= 60 || tail != "" && tail != "min" && tail != "m" {
		return 0, false
	}
	return hours*60 + minutes, true
}

// figure places a number that no word announces.
func (p *parser) figure(w word) {
	fig, ok := p.quantity()
	if !ok {
		return
	}
	var fits []*numberField
	for i := range p.table.numbers {
		if f := &p.table.numbers[i]; fig.canBe(f) && !p.reading.Has(f.id) {
			fits = append(fits, f)
		}
	}
	switch {
	case len(fits) == 0:
		p.noPlace(w, fig)
	case !fig.hasUnit && len(fits) > 1 && fits[1].word == "":
		p.fail(p.fault("line.needs_unit", w, w.raw, names(fits)))
	default:
		f := fits[0]
		p.set(f, fig, w, !fig.hasUnit || f.word != "")
	}
}

// canBe reports whether a figure could fill a field.
func (f figureRead) canBe(field *numberField) bool {
	if f.hasUnit {
		return f.unit == field.unit || f.unit == unitSecond && field.unit == unitMinute
	}
	if field.bareHigh == 0 || field.word != "" {
		return false
	}
	// A bare whole number is never volts: 12 may be seconds or degrees as well.
	if field.unit == unitVolt && !f.decimals {
		return false
	}
	if field.unit == unitSecond && f.decimals {
		return false
	}
	return f.value >= field.bareLow && f.value <= field.bareHigh
}

// noPlace explains a figure that fits nowhere: a unit is missing, or the field
// is filled already, or the kind has no such figure.
func (p *parser) noPlace(w word, fig figureRead) {
	if !fig.hasUnit {
		pr := p.fault("line.needs_unit", w, w.raw, names(p.unset()))
		if p.table.kind == OpenCircuit && !p.reading.Has(Volts) {
			pr = pr.Suggesting(nearVolts(fig.value)...)
		}
		p.fail(pr)
		return
	}
	for i := range p.table.numbers {
		if f := &p.table.numbers[i]; f.unit == fig.unit && p.reading.Has(f.id) {
			p.fail(p.fault("line.twice", w, w.raw, withUnit(p.reading.number[f.id], f.unit)))
			return
		}
	}
	if p.table.kind == OpenCircuit && fig.unit == unitAmpere {
		p.fail(p.fault("line.no_place", w, w.raw, Example(Load)))
		return
	}
	p.fail(p.fault("line.no_place", w, w.raw, p.table.example))
}

// unset lists the figures of the kind that have not been said yet.
func (p *parser) unset() []*numberField {
	var open []*numberField
	for i := range p.table.numbers {
		if f := &p.table.numbers[i]; !p.reading.Has(f.id) {
			open = append(open, f)
		}
	}
	return open
}

func names(fields []*numberField) string {
	list := make([]string, 0, len(fields))
	for _, f := range fields {
		text := wording.Word(f.json) + " (" + unitName[f.unit] + ")"
		if f.word != "" {
			text = f.word + " … " + unitName[f.unit]
		}
		list = append(list, text)
	}
	return strings.Join(list, ", ")
}

// set fills a figure once and checks its range on the spot, so that the problem
// can point at the word.
func (p *parser) set(f *numberField, fig figureRead, from word, assumed bool) {
	value := fig.value
	if fig.hasUnit {
		if fig.unit == unitSecond && (f.unit == unitSecond || f.unit == unitMinute) {
			own := 1.0
			if f.unit == unitMinute {
				own = 60
			}
			value *= fig.seconds / own
		} else if fig.unit != f.unit {
			p.fail(p.fault("line.unit", fig.from, fig.from.raw, unitName[f.unit]))
			return
		}
	}
	if p.reading.Has(f.id) {
		p.fail(p.fault("line.twice", from, fig.from.raw, withUnit(p.reading.number[f.id], f.unit)))
		return
	}
	p.reading = p.reading.With(f.id, value)
	if pr, bad := f.outside(value); bad {
		p.fail(pr.At(fig.from.start, fig.to.end))
		return
	}
	p.span(from, fig.to, f.json, assumed)
}

// by reads the instrument's name.
func (p *parser) by(w word) {
	p.next++
	if p.next == len(p.words) {
		p.fail(p.fault("line.after_word", w, w.raw, "by meter-2"))
		return
	}
	name := p.words[p.next]
	p.reading.By = strings.Trim(name.raw, `"`)
	p.span(w, name, "by", false)
	p.next++
}

var clock = regexp.MustCompile(`^([01]?\d|2[0-3]):[0-5]\d$`)

// at reads a time, or the temperature of "at 18c".
func (p *parser) at(w word) {
	p.next++
	if p.next == len(p.words) {
		p.fail(p.fault("line.after_word", w, w.raw, "at 14:05, at 18c"))
		return
	}
	if t := p.words[p.next]; validAt(t.raw) {
		p.reading.At = t.raw
		p.span(w, t, "at", false)
		p.next++
		return
	}
	if f := p.table.number(BatteryC); f != nil && !strings.Contains(p.words[p.next].raw, ":") {
		if fig, ok := p.quantity(); ok && fig.unit == unitCelsius && fig.hasUnit {
			p.set(f, fig, w, false)
			return
		}
	}
	if len(p.problems) == 0 {
		p.fail(p.fault("line.after_word", w, w.raw, "at 14:05, at 18c"))
	}
}

func validAt(s string) bool {
	if clock.MatchString(s) {
		return true
	}
	_, err := time.Parse(time.RFC3339, s)
	return err == nil
}

// after reads "after charge" and "after drive".
func (p *parser) after(w word) {
	p.next++
	if p.next < len(p.words) {
		what := p.words[p.next]
		switch low := what.low; {
		case low == "charge" || low == "charging" || low == "charged":
			p.reading.AfterCharge = true
			p.span(w, what, "after_charge", false)
			p.next++
			return
		case (low == "drive" || low == "driving") && p.table.choice(Since) != nil:
			p.choose(p.table.choice(Since), "drive", w, what)
			p.next++
			return
		}
	}
	p.fail(p.fault("line.after_word", w, w.raw, "after charge, after drive"))
}

// code reads a code of one, two or three words: clamp not seated.
func (p *parser) code(w word) {
	if w.low == "since" && p.table.choice(Since) != nil {
		p.since(w)
		return
	}
	for length := min(3, len(p.words)-p.next); length > 0; length-- {
		last := p.words[p.next+length-1]
		if f, code := p.table.matchChoice(p.joined(length), p.reading); f != nil {
			p.next += length
			p.choose(f, code, w, last)
			return
		}
	}
	p.fail(p.fault("line.unknown", w, w.raw, p.understood()))
}

func (p *parser) joined(length int) string {
	if length == 1 {
		return p.words[p.next].low
	}
	parts := make([]string, length)
	for i := range parts {
		parts[i] = p.words[p.next+i].low
	}
	return strings.Join(parts, "_")
}

// matchChoice finds the field and code a word stands for; a field that is still
// open wins over one that is filled.
func (t *kindTable) matchChoice(text string, r Reading) (field *choiceField, code string) {
	for i := range t.choices {
		f := &t.choices[i]
		if f.word != "" {
			continue
		}
		for _, candidate := range []string{text, shortForms[text]} {
			if match, ok := matchCode(f.codes, candidate); ok {
				if r.Choice(f.id) == "" {
					return f, match
				}
				field, code = f, match
			}
		}
	}
	return field, code
}

func matchCode(codes []string, text string) (string, bool) {
	for _, code := range codes {
		if strings.EqualFold(code, text) {
			return code, true
		}
	}
	return "", false
}

func (p *parser) since(w word) {
	p.next++
	f := p.table.choice(Since)
	if p.next < len(p.words) {
		what := p.words[p.next]
		for _, text := range []string{what.low, shortForms[what.low]} {
			if code, ok := matchCode(f.codes, text); ok {
				p.next++
				p.choose(f, code, w, what)
				return
			}
		}
	}
	p.fail(p.fault("line.after_word", w, w.raw, "since "+strings.Join(f.codes, ", since ")))
}

// choose fills a code once, and the figure that may follow it.
func (p *parser) choose(f *choiceField, code string, from, to word) {
	if already := p.reading.Choice(f.id); already != "" && already != code {
		p.fail(p.fault("line.twice", to, to.raw, already))
		return
	}
	p.reading = p.reading.WithChoice(f.id, code)
	p.span(from, to, f.json, false)
	if !f.follows || p.next == len(p.words) {
		return
	}
	if value, rest, ok := leadingNumber(p.words[p.next].low); ok && p.isTime(value, rest) {
		if fig, ok := p.quantity(); ok {
			p.set(p.table.number(f.sets), fig, fig.from, false)
		}
	}
}

// isTime reports whether the number at p.next carries a unit of time.
func (p *parser) isTime(value float64, rest string) bool {
	if rest == "" && p.next+1 < len(p.words) {
		rest = p.words[p.next+1].low
	}
	if _, ok := hoursAndMinutes(value, rest); ok {
		return true
	}
	u, ok := unitWords[rest]
	return ok && u.unit == unitSecond
}

// understood lists the words that would be taken at this point.
func (p *parser) understood() string {
	var list []string
	for i := range p.table.numbers {
		f := &p.table.numbers[i]
		if p.reading.Has(f.id) || f.unit == unitPlain {
			continue
		}
		if f.word != "" {
			list = append(list, f.word+" …")
		} else {
			list = append(list, unitName[f.unit])
		}
	}
	for i := range p.table.choices {
		if f := &p.table.choices[i]; p.reading.Choice(f.id) == "" {
			for _, code := range f.codes {
				text := strings.ReplaceAll(strings.ToLower(code), "_", " ")
				if f.word != "" {
					text = f.word + " " + text
				}
				list = append(list, text)
			}
		}
	}
	return strings.Join(append(list, "after charge", "by …", "at …"), ", ")
}

// leadingNumber splits a word into the number it starts with and the rest. A
// comma is a decimal mark.
func leadingNumber(s string) (value float64, rest string, ok bool) {
	text := s
	sign := 1.0
	if after, found := strings.CutPrefix(text, "−"); found {
		text, sign = after, -1
	} else if after, found := strings.CutPrefix(text, "-"); found {
		text, sign = after, -1
	} else if after, found := strings.CutPrefix(text, "+"); found {
		text = after
	}
	end, marks := 0, 0
	for end < len(text) {
		ch := text[end]
		if (ch == '.' || ch == ',') && marks == 0 {
			marks++
		} else if ch < '0' || ch > '9' {
			break
		}
		end++
	}
	digits := strings.Replace(text[:end], ",", ".", 1)
	if strings.Trim(digits, ".") == "" {
		return 0, s, false
	}
	value, err := strconv.ParseFloat(digits, 64)
	if err != nil {
		return 0, s, false
	}
	return sign * value, text[end:], true
}

// nearVolts offers what a voltage far out of range may have meant, for a lead
// battery: a slipped or missing decimal mark.
func nearVolts(x float64) []string {
	var meant []string
	for _, divisor := range []float64{10, 100, 1000} {
		if v := x / divisor; v >= 5 && v <= 16.5 {
			meant = append(meant, strconv.FormatFloat(v, 'f', -1, 64)+" v")
		}
	}
	return meant
}
