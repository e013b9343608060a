package reading

import (
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"grapnel/core/problem"
	"grapnel/core/quantity"
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
// its word; after that words may stand in any order. A line whose only
// quantities are volts, temperature and waiting is an open-circuit voltage in
// whatever order they were said. A problem points at the word at fault and says
// what would be understood there; Parse never panics.
func Parse(line string) (Parsed, error) {
	p := parser{line: line, words: split(line)}
	if len(p.words) == 0 {
		return Parsed{}, problem.List{p.fault("line.empty", word{}, "", openings())}
	}
	p.run()
	if len(p.problems) > 0 {
		return Parsed{}, p.problems
	}
	return Parsed{p.reading, p.spans}, nil
}

// ParseAll understands a line with one or several readings parted by
// semicolons. Spans and problems point into the whole line. Nothing is taken
// when one of them is not understood.
func ParseAll(line string) ([]Parsed, error) {
	var all []Parsed
	var problems problem.List
	for _, part := range Parts(line) {
		parsed, err := Parse(line[part.Start:part.End])
		if list, ok := err.(problem.List); ok {
			for _, pr := range list {
				if pr.End > 0 {
					pr = pr.At(pr.Start+part.Start, pr.End+part.Start)
				}
				problems = append(problems, pr)
			}
			continue
		}
		for i := range parsed.Spans {
			parsed.Spans[i].Start += part.Start
			parsed.Spans[i].End += part.Start
		}
		all = append(all, parsed)
	}
	if len(problems) > 0 {
		return nil, problems
	}
	if len(all) == 0 {
		_, err := Parse("")
		return nil, err
	}
	return all, nil
}

// Part is the place of one reading in a line.
type Part struct{ Start, End int }

// Parts divides a line at its semicolons, leaving out what is empty. A
// semicolon inside a quoted name parts nothing.
func Parts(line string) []Part {
	var parts []Part
	start := 0
	add := func(end int) {
		if text := strings.TrimSpace(line[start:end]); text != "" {
			from := start + strings.Index(line[start:end], text)
			parts = append(parts, Part{from, from + len(text)})
		}
		start = end + 1
	}
	for i := 0; i < len(line); {
		if line[i] == '"' && (i == 0 || line[i-1] == ' ') {
			i = wordEnd(line, i)
			continue
		}
		if line[i] == ';' {
			add(i)
		}
		i++
	}
	if start < len(line) {
		add(len(line))
	}
	return parts
}

// word is one blank-separated stretch of the line.
type word struct {
	start, end int32
	low        string // lower case, without a trailing comma
}

// at is where a word stands.
func (w word) at() (start, end int) { return int(w.start), int(w.end) }

// raw is a word as typed.
func (p *parser) raw(w word) string { return p.line[w.start:w.end] }

func split(line string) []word {
	words := make([]word, 0, strings.Count(line, " ")+1)
	for i := 0; i < len(line); {
		if line[i] == ' ' {
			i++
			continue
		}
		if line[i] >= utf8.RuneSelf || line[i] < ' ' {
			if r, size := utf8.DecodeRuneInString(line[i:]); unicode.IsSpace(r) {
				i += size
				continue
			}
		}
		end := wordEnd(line, i)
		low := line[i:end]
		for len(low) > 0 && (low[len(low)-1] == ',' || low[len(low)-1] == ';') {
			low = low[:len(low)-1]
		}
		words = append(words, word{int32(i), int32(end), lower(low)})
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
	for ; i < len(line); i++ {
		if line[i] == ' ' {
			return i
		}
		if line[i] >= utf8.RuneSelf || line[i] < ' ' {
			if r, _ := utf8.DecodeRuneInString(line[i:]); unicode.IsSpace(r) {
				return i
			}
		}
	}
	return len(line)
}

type parser struct {
	line     string
	words    []word
	next     int
	table    *kindTable
	reading  Reading
	fuse     bool // the fuse has been named
	spans    []Span
	problems problem.List
}

// usualSpans is how many things a line usually says.
const usualSpans = 6

func (p *parser) run() {
	p.spans = make([]Span, 0, min(len(p.words), usualSpans))
	p.open()
	for p.next < len(p.words) && len(p.problems) == 0 {
		p.item()
	}
	if len(p.problems) == 0 {
		p.settle()
		p.problems = check(&p.reading)
	}
}

// settle completes what a line leaves to be understood.
func (p *parser) settle() {
	r := &p.reading
	// A single voltage of a reserve check is the one at its end.
	if r.Kind == Reserve && r.Has(StartVolts) && !r.Has(EndVolts) {
		r.set(EndVolts, r.number[StartVolts])
		r.unset(StartVolts)
		for i := range p.spans {
			if p.spans[i].Field == "start_volts" {
				p.spans[i].Field, p.spans[i].Assumed = "end_volts", true
			}
		}
	}
	normalise(r)
}

// normalise gives the one form to what can be said in two.
func normalise(r *Reading) {
	if r.Kind == Gravity && r.Has(Points) && r.Choice(Correction) == "" {
		r.choice[Correction] = codeIDs["points"]
	}
}

func (p *parser) fault(code string, w word, given, allowed string) problem.Problem {
	return problem.New(code, "line", given, allowed).At(w.at())
}

func (p *parser) fail(pr problem.Problem) { p.problems = append(p.problems, pr) }

func (p *parser) span(from, to word, field string, assumed bool) {
	p.spans = append(p.spans, Span{int(from.start), int(to.end), field, assumed})
}

// openings words what a line may start with.
func openings() string {
	var list []string
	for i := range kinds {
		switch t := &kinds[i]; {
		case len(t.starts) == 0:
			list = append(list, t.example)
		case t.byItem || t.kind == Drain:
			list = append(list, t.starts...)
		default:
			list = append(list, t.starts[0])
		}
	}
	return strings.Join(list, " · ")
}

// open decides the kind from the first word.
func (p *parser) open() {
	first := p.words[0]
	if startsNumber(first.low) {
		p.openWithNumber(first)
		return
	}
	t := starters[first.low]
	if t != nil {
		p.begin(t)
		if !t.byItem && first.low != "fuse" {
			p.span(first, first, "kind", false)
			p.next = 1
		}
		return
	}
	// Words of waiting may come before the volts: "rested 2h 12.41 v".
	if t = tableOf(OpenCircuit); t.words[first.low].kind != entryNone && len(p.words) > 1 {
		p.begin(t)
		return
	}
	p.fail(p.fault("line.opening", first, p.raw(first), openings()))
}

func (p *parser) begin(t *kindTable) {
	p.table = t
	p.reading.Kind = t.kind
}

func (p *parser) openWithNumber(first word) {
	if len(p.words) > 1 && (p.words[1].low == "of" || p.words[1].low == "/") || strings.IndexByte(first.low, '/') >= 0 {
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
			p.fail(p.fault("line.pair", first, p.raw(first), Example(Conductance)))
			return
		}
		last = p.words[p.next]
		rated = last.low
		p.next++
	}
	a, restA, okA := leadingDecimal(measured)
	b, restB, okB := leadingDecimal(rated)
	if !okA || !okB || restA != "" && restA != "a" || restB != "" && restB != "a" {
		p.fail(p.fault("line.pair", first, p.raw(first), Example(Conductance)))
		return
	}
	p.reading.set(Measured, a.float(0))
	p.reading.set(Rated, b.float(0))
	p.span(first, last, "measured", false)
}

// item understands the next word, and what belongs to it.
func (p *parser) item() {
	w := p.words[p.next]
	if p.table.cells != nil && p.cell(w) {
		return
	}
	if startsNumber(w.low) {
		p.figure(w)
		return
	}
	switch w.low {
	case "by":
		p.by(w)
		return
	case "at":
		p.at(w)
		return
	case "after":
		p.after(w)
		return
	}
	e, length := p.lookUp()
	last := p.words[p.next+max(length, 1)-1]
	switch e.kind {
	case entryNumber:
		p.next += length
		p.afterWord(w, &p.table.numbers[e.index])
	case entryChoice:
		p.next += length
		f := &p.table.choices[e.index]
		p.choose(f, f.codes[e.code], w, last)
	case entryChoiceWord:
		p.afterChoiceWord(w, &p.table.choices[e.index])
	case entryFuse:
		p.fuseName(w)
	default:
		p.filler(w)
	}
}

// filler passes over words that say nothing of their own.
func (p *parser) filler(w word) {
	switch {
	case w.low == "and" || w.low == "with" || w.low == "for":
		p.next++
	case p.table.kind == Conductance && w.low == "cca":
		p.span(w, w, "measured", false)
		p.next++
	case p.table.kind == CaseLeak && w.low == "leak", p.table.kind == StarterDraw && w.low == "draw":
		p.span(w, w, "kind", false)
		p.next++
	default:
		p.fail(p.fault("line.unknown", w, p.raw(w), p.understood()))
	}
}

// lookUp finds what the next word means, taking the longest of one, two or
// three words together: clamp not seated.
func (p *parser) lookUp() (entry, int) {
	one := p.table.words[p.words[p.next].low]
	if !one.opens {
		return one, 1
	}
	var room [96]byte
	longest := 1
	for longest < 3 && p.next+longest < len(p.words) && p.words[p.next+longest].low != "" && p.words[p.next+longest].low[0] >= 'a' {
		longest++
	}
	for length := longest; length > 1; length-- {
		for _, spoken := range [2]bool{false, true} {
			if e := p.table.words[string(p.joined(room[:0], length, spoken))]; e.kind != entryNone {
				return e, length
			}
		}
	}
	return one, 1
}

func (p *parser) joined(buf []byte, length int, spoken bool) []byte {
	for i := range length {
		if i > 0 {
			buf = append(buf, '_')
		}
		low := p.words[p.next+i].low
		if known, ok := sameWord[low]; spoken && ok {
			low = known
		}
		buf = append(buf, low...)
	}
	return buf
}

// afterWord reads the figure behind a word such as rested.
func (p *parser) afterWord(w word, f *numberField) {
	if p.next < len(p.words) {
		if fig, ok := p.quantity(); ok {
			if other := p.besideOf(f, &fig); other != nil {
				f = other
			}
			p.set(f, &fig, w, fig.unit == nil && f.unit != unitPlain && f.unit != unitPerWeek)
			return
		}
	}
	if len(p.problems) == 0 {
		p.fail(p.fault("line.after_word", w, p.raw(w), f.sample()))
	}
}

// besideOf is the figure that stands beside a worded one, when the unit says
// that it is meant: "stood -6c".
func (p *parser) besideOf(f *numberField, fig *figureRead) *numberField {
	if fig.unit == nil || fig.unit.dimension == measures[f.unit].dimension {
		return nil
	}
	for i := range p.table.numbers {
		other := &p.table.numbers[i]
		if other.hasBeside && other.beside == f.id && measures[other.unit].dimension == fig.unit.dimension {
			return other
		}
	}
	return nil
}

// sample is how a figure of the field is typed.
func (f *numberField) sample() string {
	if f.example != "" {
		return f.example
	}
	return withUnit(60, f.unit)
}

// figureRead is a number as it stands in the line.
//
// unit is nil where none was said; from and to are indexes of words.
type figureRead struct {
	number   decimal
	value    float64 // without a unit, or a compound of hours and minutes
	unit     *spokenUnit
	from, to int
	compound bool // value is in minutes
}

// quantity reads a number with its unit, if there is one, from p.next on.
func (p *parser) quantity() (figureRead, bool) {
	w := p.words[p.next]
	number, rest, ok := leadingDecimal(w.low)
	if !ok {
		return figureRead{}, false
	}
	fig := figureRead{number: number, value: number.float(0), from: p.next, to: p.next}
	p.next++
	if rest == "" {
		rest = p.unitBehind(&fig)
		if rest == "" {
			return fig, true
		}
	}
	if minutes, ok := hoursAndMinutes(fig.value, rest); ok {
		fig.value, fig.compound, fig.unit = minutes, true, unitWords["min"]
		return fig, true
	}
	u, known := unitWords[rest]
	if !known {
		p.fail(p.fault("line.unit", w, p.raw(w), p.unitsHere()))
		return fig, false
	}
	fig.unit = u
	return fig, true
}

// unitBehind takes the unit that stands as a word of its own behind a number;
// empty when none does.
func (p *parser) unitBehind(fig *figureRead) string {
	if p.next == len(p.words) {
		return ""
	}
	after := p.words[p.next]
	if p.table.kind == History && (after.low == "a" || after.low == "per" || after.low == "times") {
		for p.next < len(p.words) {
			fig.to = p.next
			p.next++
			if u := unitWords[p.words[fig.to].low]; u != nil && u.seconds == weekSeconds {
				return "/week"
			}
		}
		return "/week"
	}
	if !isUnit(after.low) || p.table.words[after.low].kind != entryNone {
		return ""
	}
	fig.to = p.next
	p.next++
	return after.low
}

// unitsHere lists the units the figures of the kind are in.
func (p *parser) unitsHere() string {
	var names []string
	seen := map[string]bool{}
	for i := range p.table.numbers {
		if name := unitName(p.table.numbers[i].unit); name != "" && !seen[name] {
			seen[name] = true
			names = append(names, name)
		}
	}
	return strings.Join(names, ", ")
}

// hoursAndMinutes reads 1h30 and 1h30min, in minutes.
func hoursAndMinutes(hours float64, rest string) (float64, bool) {
	if len(rest) < 2 || rest[0] != 'h' {
		return 0, false
	}
	minutes, tail, ok := leadingDecimal(rest[1:])
	m := minutes.float(0)
	if !ok || m < 0 || m >= 60 || tail != "" && tail != "min" && tail != "m" {
		return 0, false
	}
	return hours*60 + m, true
}

// figure places a number that no word announces: in the first figure of the
// kind that it can be, one without a word of its own before one with.
func (p *parser) figure(w word) {
	fig, ok := p.quantity()
	if !ok {
		return
	}
	var first, second, worded *numberField
	for i := range p.table.numbers {
		f := &p.table.numbers[i]
		switch {
		case p.reading.Has(f.id) || !p.canBe(f, &fig):
		case f.word != "":
			if worded == nil {
				worded = f
			}
		case first == nil:
			first = f
		case second == nil:
			second = f
		}
	}
	if first == nil {
		first = worded
	}
	switch {
	case first == nil:
		p.noPlace(w, &fig)
	case fig.unit == nil && second != nil:
		p.fail(p.fault("line.needs_unit", w, p.raw(w), names([]*numberField{first, second})))
	default:
		p.set(first, &fig, w, fig.unit == nil || first.word != "")
	}
}

// canBe reports whether a figure without a word could fill a field.
func (p *parser) canBe(f *numberField, fig *figureRead) bool {
	if f.gate == behindCode || f.gate == beforeFuse && p.fuse || f.gate == behindFuse && !p.fuse {
		return false
	}
	if p.table.byItem && (f.word != "" || f.hasBeside && !p.reading.Has(f.beside)) {
		return false // "9min" is no age, and no trip before one was spoken of
	}
	if fig.unit != nil {
		return fig.unit.dimension == measures[f.unit].dimension
	}
	if f.bareHigh == 0 || f.word != "" && f.unit != unitVolt {
		return false
	}
	// A bare whole number is never volts: 12 may be seconds or degrees as well.
	if f.unit == unitVolt && !fig.number.marked || f.unit == unitSecond && fig.number.marked {
		return false
	}
	return fig.value >= f.bareLow && fig.value <= f.bareHigh
}

// noPlace explains a figure that fits nowhere: a unit is missing, or the field
// is filled already, or the kind has no such figure.
func (p *parser) noPlace(w word, fig *figureRead) {
	if fig.unit == nil {
		pr := p.fault("line.needs_unit", w, p.raw(w), names(p.unset()))
		if f := p.table.number(Volts); f != nil && !p.reading.Has(Volts) {
			pr = pr.Suggesting(nearVolts(fig.value)...)
		}
		p.fail(pr)
		return
	}
	for i := range p.table.numbers {
		f := &p.table.numbers[i]
		if measures[f.unit].dimension == fig.unit.dimension && p.reading.Has(f.id) {
			p.fail(p.fault("line.twice", w, p.raw(w), withUnit(p.reading.number[f.id], f.unit)))
			return
		}
	}
	pr := p.fault("line.no_place", w, p.raw(w), p.table.example)
	if p.table.kind == OpenCircuit && fig.unit.dimension == current {
		pr = p.fault("line.no_place", w, p.raw(w), Example(Load))
		if meant, err := Parse("load " + p.line); err == nil {
			pr = pr.At(0, len(p.line)).Suggesting(Print(meant.Reading))
		}
	}
	p.fail(pr)
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

// set fills a figure once and checks its range on the spot, so that the problem
// can point at the word.
func (p *parser) set(f *numberField, fig *figureRead, from word, assumed bool) {
	own := &measures[f.unit]
	if fig.unit != nil && fig.unit.dimension != own.dimension {
		p.fail(p.fault("line.unit", p.words[fig.from], p.raw(p.words[fig.from]), unitName(f.unit)))
		return
	}
	if p.reading.Has(f.id) {
		p.fail(p.fault("line.twice", from, p.raw(p.words[fig.from]), withUnit(p.reading.number[f.id], f.unit)))
		return
	}
	value := fig.in(own)
	p.reading.set(f.id, value)
	if pr, bad := f.outside(value); bad {
		p.fail(pr.At(int(p.words[fig.from].start), int(p.words[fig.to].end)))
		return
	}
	p.span(from, p.words[fig.to], f.json, assumed)
}

// in is the figure in a unit of its dimension.
func (fig *figureRead) in(own *measure) float64 {
	switch {
	case fig.unit == nil:
		return fig.value
	case fig.unit.fahrenheit:
		return float64(quantity.Fahrenheit(fig.value).Celsius())
	case own.dimension == timeSpan && fig.unit.seconds != own.seconds:
		return fig.value * fig.unit.seconds / own.seconds
	case fig.compound || fig.unit.shift == own.shift:
		return fig.value
	}
	return fig.number.float(fig.unit.shift - own.shift)
}

// cell reads the next cell of a gravity or level line; it reports false when
// the word is something else.
func (p *parser) cell(w word) bool {
	f := p.table.cells
	cell, ok := f.code(w.low)
	if !ok && f.figures {
		d, rest, isNumber := leadingDecimal(w.low)
		if !isNumber || rest != "" || p.numberTakesUnit() {
			return false
		}
		cell.SG = p.gravity(w, d)
		ok = true
	}
	if !ok || len(p.problems) > 0 {
		return ok
	}
	p.next++
	if p.reading.cellCount == MostCells {
		p.fail(p.fault("line.cells", w, p.raw(w), cellCounts))
		return true
	}
	p.reading.cells[p.reading.cellCount] = cell
	p.reading.cellCount++
	// One span holds all the cells that stand together.
	if last := len(p.spans) - 1; last >= 0 && p.spans[last].Field == "cells" && int(p.words[p.next-2].end) == p.spans[last].End {
		p.spans[last].End = int(w.end)
	} else {
		p.span(w, w, "cells", false)
	}
	return true
}

// code is the cell a word stands for.
func (f *cellField) code(low string) (Cell, bool) {
	if low == "-" || low == "–" || low == "?" {
		return Cell{}, true
	}
	if low == "" || low[0] < 'a' {
		return Cell{}, false
	}
	for _, text := range [2]string{low, shortForms[low]} {
		for _, code := range f.codes {
			if code == text {
				return Cell{Code: code}, true
			}
		}
	}
	return Cell{}, false
}

// numberTakesUnit reports whether the word behind the number at p.next is its
// unit: "15 c" is a temperature.
func (p *parser) numberTakesUnit() bool {
	if p.next+1 >= len(p.words) {
		return false
	}
	return isUnit(p.words[p.next+1].low)
}

// isUnit reports whether a word is a unit; one that begins with a digit is none.
func isUnit(low string) bool {
	if low == "" || low[0] >= '0' && low[0] <= '9' {
		return false
	}
	_, known := unitWords[low]
	return known
}

// gravity reads one cell's figure: 1265 and 1.265 are the same.
func (p *parser) gravity(w word, d decimal) float64 {
	sg := d.float(0)
	if sg >= 1000*leastSG && sg <= 1000*mostSG {
		return d.float(3)
	}
	if sg >= leastSG && sg <= mostSG {
		return sg
	}
	code := "line.gravity"
	if sg < leastSG || sg < 100 && !d.marked {
		code = "line.gravity_points"
	}
	pr := p.fault(code, w, p.raw(w), "1265, 1.265")
	p.fail(pr.Suggesting(p.nearGravity(sg)...))
	return 0
}

// nearGravity offers what a gravity out of range may have meant: a digit left
// out, a mark slipped, or points off the first cell.
func (p *parser) nearGravity(x float64) []string {
	for _, factor := range [...]float64{10, 0.1, 0.01} {
		if sg := x * factor; sg >= 1080 && sg <= 1320 {
			return []string{plain(float64(int(sg + 0.5)))}
		}
		if sg := x * factor; sg >= 1.08 && sg <= 1.32 {
			return []string{plain(float64(int(sg*1000 + 0.5)))}
		}
	}
	if first := p.reading.cells[0].SG; first > 0 {
		if sg := first*1000 + x; sg >= 1000*leastSG && sg <= 1000*mostSG {
			return []string{plain(float64(int(sg + 0.5)))}
		}
	}
	return nil
}

// fuseName reads the name of a fuse, which may be left out.
func (p *parser) fuseName(w word) {
	p.next++
	p.fuse = true
	last := w
	if p.next < len(p.words) && p.isName(p.next) {
		last = p.words[p.next]
		p.reading.Fuse = strings.Trim(strings.TrimRight(p.raw(last), ",;"), `"`)
		p.next++
	}
	p.span(w, last, "fuse", false)
}

// isName reports whether a word is a name and not a figure with its unit or a
// word of the line.
func (p *parser) isName(i int) bool {
	w := p.words[i]
	if p.raw(w)[0] == '"' {
		return true
	}
	if p.table.words[w.low].kind != entryNone || w.low == "by" || w.low == "at" || w.low == "after" {
		return false
	}
	_, rest, isNumber := leadingDecimal(w.low)
	if !isNumber {
		return true
	}
	if rest != "" {
		_, known := unitWords[rest]
		return !known
	}
	if i+1 == len(p.words) {
		return true
	}
	return !isUnit(p.words[i+1].low)
}

// by reads the instrument's name.
func (p *parser) by(w word) {
	p.next++
	if p.next == len(p.words) {
		p.fail(p.fault("line.after_word", w, p.raw(w), "by meter-2"))
		return
	}
	name := p.words[p.next]
	p.reading.By = strings.Trim(p.raw(name), `"`)
	p.span(w, name, "by", false)
	p.next++
}

// at reads a time, or the temperature of "at 18c".
func (p *parser) at(w word) {
	p.next++
	if p.next == len(p.words) {
		p.fail(p.fault("line.after_word", w, p.raw(w), "at 14:05, at 18c"))
		return
	}
	if t := p.words[p.next]; validAt(p.raw(t)) {
		p.reading.At = p.raw(t)
		p.span(w, t, "at", false)
		p.next++
		return
	}
	if f := p.temperatureField(); f != nil && strings.IndexByte(p.raw(p.words[p.next]), ':') < 0 {
		if fig, ok := p.quantity(); ok && fig.unit != nil && fig.unit.dimension == temperatureC {
			p.set(f, &fig, w, false)
			return
		}
	}
	if len(p.problems) == 0 {
		p.fail(p.fault("line.after_word", w, p.raw(w), "at 14:05, at 18c"))
	}
}

func (p *parser) temperatureField() *numberField {
	for i := range p.table.numbers {
		if f := &p.table.numbers[i]; f.unit == unitCelsius {
			return f
		}
	}
	return nil
}

// validAt reports a clock time such as 14:05, or a time by RFC 3339.
func validAt(s string) bool {
	if len(s) <= 5 {
		hour, minute, ok := strings.Cut(s, ":")
		h, okH := twoDigits(hour)
		m, okM := twoDigits(minute)
		return ok && okH && okM && len(minute) == 2 && h < 24 && m < 60
	}
	if len(s) < len("2026-11-24T14:05:00Z") {
		return false
	}
	_, err := time.Parse(time.RFC3339, s)
	return err == nil
}

func twoDigits(s string) (int, bool) {
	if len(s) == 0 || len(s) > 2 {
		return 0, false
	}
	x := 0
	for i := range len(s) {
		if s[i] < '0' || s[i] > '9' {
			return 0, false
		}
		x = x*10 + int(s[i]-'0')
	}
	return x, true
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
			p.next++
			p.choose(p.table.choice(Since), "drive", w, what)
			return
		}
	}
	p.fail(p.fault("line.after_word", w, p.raw(w), "after charge, after drive"))
}

// afterChoiceWord reads the code behind a word such as since.
func (p *parser) afterChoiceWord(w word, f *choiceField) {
	p.next++
	if p.next < len(p.words) {
		what := p.words[p.next]
		for _, text := range [2]string{what.low, shortForms[what.low]} {
			for _, code := range f.codes {
				if code == text {
					p.next++
					p.choose(f, code, w, what)
					return
				}
			}
		}
	}
	p.fail(p.fault("line.after_word", w, p.raw(w), f.word+" "+strings.Join(f.codes, ", "+f.word+" ")))
}

// choose fills a code once, and the figure that may follow it.
func (p *parser) choose(f *choiceField, code string, from, to word) {
	if already := p.reading.Choice(f.id); already != "" && already != code {
		p.fail(p.fault("line.twice", to, p.raw(to), f.shown(already)))
		return
	}
	p.reading.choice[f.id] = codeIDs[code]
	p.span(from, to, f.json, false)
	if f.follows && p.next < len(p.words) && p.isTime() {
		if fig, ok := p.quantity(); ok {
			p.set(p.table.number(f.sets), &fig, p.words[fig.from], false)
		}
	}
}

func (f *choiceField) spokenOf(code string) string {
	for i, c := range f.codes {
		if c == code {
			return f.spoken(i)
		}
	}
	return code
}

// isTime reports whether a number with a unit of time stands at p.next.
func (p *parser) isTime() bool {
	d, rest, ok := leadingDecimal(p.words[p.next].low)
	if !ok {
		return false
	}
	if rest == "" && p.next+1 < len(p.words) {
		rest = p.words[p.next+1].low
	}
	if _, compound := hoursAndMinutes(d.float(0), rest); compound {
		return true
	}
	u, known := unitWords[rest]
	return known && u.dimension == timeSpan
}
