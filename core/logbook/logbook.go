// Package logbook holds a job as plain text: a header of label and vehicle, and
// a reading line for each reading, as it was typed. Parse reads it and Print
// writes it; the way there and back loses nothing. Remarks begin with # and are
// passed over.
package logbook

import (
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
	"time"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/problem"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/school"
)

// Book is one job.
type Book struct {
	// AsOf is when it was opened; the zero time for not said.
	AsOf                                                  time.Time
	Customer, Phone, Plate, Description, Complaint, Place string
	Vehicle                                               evidence.Vehicle
	Symptoms                                              []string
	School                                                school.ID
	Tools                                                 []string
	// Own holds figures of the shop's own that the case was judged by.
	Own       school.Own
	Batteries []Battery
}

// Battery is one battery of the job and what was read of it.
type Battery struct {
	Label      battery.Label
	Tag, Maker string
	Lines      []Line
}

// Line is one reading: as typed, and as understood.
type Line struct {
	Typed   string
	Reading reading.Reading
	// Number is the line of the file it stands in, from 1; zero when not read
	// from one.
	Number int
}

// Case is one battery of the book as a case for the core.
func (b Book) Case(i int) evidence.Case {
	c := evidence.Case{Label: b.Batteries[i].Label, Vehicle: b.Vehicle, Symptoms: b.Symptoms, School: b.School, Tools: b.Tools, Own: b.Own}
	if !b.AsOf.IsZero() {
		c.AsOf = b.AsOf.Format(time.DateOnly)
	}
	for _, line := range b.Batteries[i].Lines {
		c.Readings = append(c.Readings, line.Reading)
	}
	return c
}

// textKey is a header line that holds free text.
type textKey struct {
	key string
	of  func(*Book) *string
}

// textKeys in the order they are written. The last two speak of the battery
// above them.
var textKeys = []textKey{
	{"customer", func(b *Book) *string { return &b.Customer }},
	{"phone", func(b *Book) *string { return &b.Phone }},
	{"plate", func(b *Book) *string { return &b.Plate }},
	{"description", func(b *Book) *string { return &b.Description }},
	{"complaint", func(b *Book) *string { return &b.Complaint }},
	{"place", func(b *Book) *string { return &b.Place }},
	{"tag", func(b *Book) *string { return &b.last().Tag }},
	{"maker", func(b *Book) *string { return &b.last().Maker }},
	{"position", func(b *Book) *string { return &b.last().Label.Position }},
}

const batteryKeys = 3 // the last ones of textKeys

func (b *Book) last() *Battery { return &b.Batteries[len(b.Batteries)-1] }

// Print writes the book. A complaint of several lines takes a line each.
func Print(b Book) string {
	var out strings.Builder
	put := func(key, value string) {
		for _, part := range strings.Split(value, "\n") {
			if part != "" {
				out.WriteString(key + ": " + part + "\n")
			}
		}
	}
	if !b.AsOf.IsZero() {
		at, layout := b.AsOf.UTC(), time.RFC3339Nano
		if at.Equal(at.Truncate(24 * time.Hour)) {
			layout = time.DateOnly
		}
		put("as of", at.Format(layout))
	}
	for _, k := range textKeys[:len(textKeys)-batteryKeys] {
		put(k.key, *k.of(&b))
	}
	put("vehicle", strings.Join(vehicleItems.print(&b.Vehicle), ", "))
	put("symptom", strings.Join(b.Symptoms, ", "))
	put("school", string(b.School))
	if b.Tools != nil {
		out.WriteString(strings.TrimSpace("tools: "+strings.Join(b.Tools, ", ")) + "\n")
	}
	for _, id := range slices.Sorted(maps.Keys(b.Own)) {
		put("limit", string(id)+" "+strconv.FormatFloat(b.Own[id].Value, 'f', -1, 64)+" "+b.Own[id].Note)
	}
	for _, one := range b.Batteries {
		put("battery", strings.Join(labelItems.print(&one.Label), ", "))
		put("tag", one.Tag)
		put("maker", one.Maker)
		put("position", one.Label.Position)
		out.WriteString("\n")
		for _, line := range one.Lines {
			out.WriteString(line.Typed + "\n")
		}
		if len(one.Lines) > 0 {
			out.WriteString("\n")
		}
	}
	return strings.TrimRight(out.String(), "\n") + "\n"
}

// Parse reads a book. Every problem is listed, with its line.
func Parse(text string) (Book, error) {
	p := parser{}
	for i, line := range strings.Split(strings.TrimPrefix(text, "\ufeff"), "\n") {
		p.line(i+1, strings.TrimSpace(line))
	}
	if len(p.book.Batteries) == 0 {
		p.fault(0, problem.New("problem.missing", "battery", "", "battery: flooded, 12 V, 650 A SAE"))
	}
	if err := p.problems.Err(); err != nil {
		return Book{}, err
	}
	return p.book, nil
}

type parser struct {
	book     Book
	problems problem.List
}

// fault adds a problem under its line.
func (p *parser) fault(line int, pr problem.Problem) {
	if line > 0 {
		pr = pr.Under("line " + strconv.Itoa(line))
	}
	p.problems = append(p.problems, pr)
}

func (p *parser) line(number int, text string) {
	if text == "" || text[0] == '#' {
		return
	}
	key, value, isHeader := strings.Cut(text, ":")
	key = strings.ToLower(strings.TrimSpace(key))
	if isHeader && p.header(number, key, strings.TrimSpace(value)) {
		return
	}
	p.reading(number, text)
}

// header takes a line of the header; it reports false for one that is none.
func (p *parser) header(number int, key, value string) bool {
	switch key {
	case "as of":
		p.asOf(number, value)
	case "vehicle":
		p.items(number, vehicleItems.parse(&p.book.Vehicle, value))
	case "symptom", "symptoms":
		p.codes(number, "symptom", value, evidence.Symptoms(), &p.book.Symptoms)
	case "tools":
		p.book.Tools = []string{}
		p.codes(number, "tools", value, evidence.Tools(), &p.book.Tools)
	case "school":
		if _, known := school.Find(school.ID(value)); !known {
			p.fault(number, problem.New("problem.code", "school", value, problem.OneOf(school.IDs())))
		}
		p.book.School = school.ID(value)
	case "limit":
		p.limit(number, value)
	case "battery":
		p.battery(number, value)
	default:
		return p.free(number, key, value)
	}
	return true
}

// free takes a header line of free text.
func (p *parser) free(number int, key, value string) bool {
	for i, k := range textKeys {
		if k.key != key {
			continue
		}
		if i >= len(textKeys)-batteryKeys && len(p.book.Batteries) == 0 {
			p.fault(number, problem.New("problem.missing", "battery", "", "battery: …"))
			return true
		}
		if at := k.of(&p.book); *at == "" {
			*at = value
		} else {
			*at += "\n" + value
		}
		return true
	}
	return false
}

func (p *parser) asOf(number int, value string) {
	for _, layout := range []string{time.RFC3339Nano, time.DateOnly} {
		if at, err := time.Parse(layout, value); err == nil {
			p.book.AsOf = at
			return
		}
	}
	p.fault(number, problem.New("problem.type", "as of", value, "2026-11-24, 2026-11-24T14:05:00Z"))
}

// limit takes a figure of the shop's own: drain_most 0.03 the maker's manual.
func (p *parser) limit(number int, value string) {
	id, rest, _ := strings.Cut(value, " ")
	figure, note, _ := strings.Cut(rest, " ")
	row, known := school.FindLimit(school.LimitID(id))
	x, unit, isFigure := reading.Figure(figure)
	switch {
	case !known:
		p.fault(number, problem.New("problem.code", "limit", id, "drain_most 0.03 the maker's manual"))
	case !isFigure || unit != "" || x < row.Low || x > row.High:
		p.fault(number, problem.New("problem.range", "limit."+id, figure, problem.Range(row.Low, row.High, row.Unit)))
	case !school.ValidNote(note):
		p.fault(number, problem.New("problem.missing", "limit."+id+".note", "", problem.Range(1, school.MostNote, "characters")))
	default:
		if p.book.Own == nil {
			p.book.Own = school.Own{}
		}
		p.book.Own[row.ID] = school.Override{Value: x, Note: note}
	}
}

func (p *parser) codes(number int, field, value string, known []string, into *[]string) {
	for _, code := range strings.Split(value, ",") {
		if code = strings.TrimSpace(code); code == "" {
			continue
		}
		if !slices.Contains(known, code) {
			p.fault(number, problem.New("problem.code", field, code, problem.OneOf(known)))
			continue
		}
		*into = append(*into, code)
	}
}

func (p *parser) items(number int, found problem.List) {
	for _, pr := range found {
		p.fault(number, pr)
	}
}

func (p *parser) battery(number int, value string) {
	p.book.Batteries = append(p.book.Batteries, Battery{})
	l := &p.book.last().Label
	p.items(number, labelItems.parse(l, value))
	if l.Chemistry == "" {
		p.fault(number, problem.New("problem.missing", "chemistry", "", problem.OneOf(battery.Chemistries())))
	}
	if l.NominalV == 0 {
		p.fault(number, problem.New("problem.missing", "nominal_v", "", "6 V, 8 V, 12 V, 24 V"))
	}
}

// reading takes a line of one or several readings.
func (p *parser) reading(number int, text string) {
	if len(p.book.Batteries) == 0 {
		p.fault(number, problem.New("problem.missing", "battery", "", "battery: flooded, 12 V, 650 A SAE"))
		return
	}
	parsed, err := reading.ParseAll(text)
	if list, bad := err.(problem.List); bad {
		p.items(number, list)
		return
	}
	parts := reading.Parts(text)
	one := p.book.last()
	for i, part := range parts {
		if pr, bad := evidence.CheckAgainst(one.Label, parsed[i].Reading); bad {
			p.fault(number, pr)
			continue
		}
		one.Lines = append(one.Lines, Line{Typed: text[part.Start:part.End], Reading: parsed[i].Reading, Number: number})
	}
}

// item is one thing a label or vehicle says, parted from others by commas: how
// it is written, and how it is understood.
type item[T any] struct {
	say  func(*T) string
	take func(*T, string) bool
	// form is how it is written, for a problem's text.
	form string
}

type items[T any] []item[T]

func (list items[T]) print(of *T) []string {
	var out []string
	for _, it := range list {
		if text := it.say(of); text != "" {
			out = append(out, text)
		}
	}
	return out
}

func (list items[T]) parse(of *T, text string) problem.List {
	var found problem.List
	for _, part := range strings.Split(text, ",") {
		part = strings.TrimSpace(part)
		if part == "" || slices.ContainsFunc(list, func(it item[T]) bool { return it.take(of, part) }) {
			continue
		}
		forms := make([]string, len(list))
		for i, it := range list {
			forms[i] = it.form
		}
		found = append(found, problem.New("problem.text", "item", part, strings.Join(forms, ", ")))
	}
	return found
}

// withUnit is a figure written with its unit: 65 Ah.
func withUnit[T, F any](unit string, low, high float64, at func(*T) *F, value func(F) *float64) item[T] {
	return item[T]{
		form: problem.Range(low, high, unit),
		say: func(of *T) string {
			if x := value(*at(of)); x != nil {
				return strconv.FormatFloat(*x, 'f', -1, 64) + " " + unit
			}
			return ""
		},
		take: func(of *T, text string) bool {
			x, ok := figureOf(text, unit)
			if !ok || x < low || x > high {
				return false
			}
			return assign(at(of), x)
		},
	}
}

// assign puts a figure into a pointer to a figure of any named type.
func assign(at any, x float64) bool {
	switch p := at.(type) {
	case **float64:
		*p = &x
	case **quantity.AmpereHours:
		*p = pointer(quantity.AmpereHours(x))
	case **quantity.Minutes:
		*p = pointer(quantity.Minutes(x))
	case **quantity.Amperes:
		*p = pointer(quantity.Amperes(x))
	default:
		return false
	}
	return true
}

func pointer[T any](x T) *T { return &x }

func figureOf(text, unit string) (float64, bool) {
	x, typed, ok := reading.Figure(text)
	return x, ok && strings.EqualFold(typed, unit)
}

// word is one of some codes as it stands.
func word[T any](codes []string, at func(*T) *string) item[T] {
	return item[T]{
		form: problem.OneOf(codes),
		say:  func(of *T) string { return *at(of) },
		take: func(of *T, text string) bool {
			if !slices.Contains(codes, text) || *at(of) != "" {
				return false
			}
			*at(of) = text
			return true
		},
	}
}

// flag is a yes or no in two phrases.
func flag[T any](yes, no string, at func(*T) **bool) item[T] {
	return item[T]{
		form: yes + " | " + no,
		say: func(of *T) string {
			switch b := *at(of); {
			case b == nil:
				return ""
			case *b:
				return yes
			}
			return no
		},
		take: func(of *T, text string) bool {
			if text != yes && text != no {
				return false
			}
			*at(of) = pointer(text == yes)
			return true
		},
	}
}

// named is a figure or word behind its name: made 2021-08.
func named[T any](name, form string, say func(*T) string, take func(*T, string) bool) item[T] {
	return item[T]{
		form: name + " " + form,
		say: func(of *T) string {
			if text := say(of); text != "" {
				return name + " " + text
			}
			return ""
		},
		take: func(of *T, text string) bool {
			rest, ok := strings.CutPrefix(text, name+" ")
			return ok && take(of, strings.TrimSpace(rest))
		},
	}
}

func asFloat[T ~float64](p *T) *float64 {
	if p == nil {
		return nil
	}
	return pointer(float64(*p))
}

var labelItems = items[battery.Label]{
	word(battery.Chemistries(), func(l *battery.Label) *string { return (*string)(&l.Chemistry) }),
	{
		form: "6 V, 8 V, 12 V, 24 V",
		say: func(l *battery.Label) string {
			return strconv.FormatFloat(float64(l.NominalV), 'f', -1, 64) + " V"
		},
		take: func(l *battery.Label, text string) bool {
			v, ok := figureOf(text, "V")
			if !ok || !slices.Contains(battery.NominalVolts(), v) {
				return false
			}
			l.NominalV = quantity.Volts(v)
			return true
		},
	},
	{form: "650 A SAE", say: sayRating, take: takeRating},
	withUnit("Ah", 0.5, 1000, func(l *battery.Label) **quantity.AmpereHours { return &l.CapacityAh }, asFloat),
	withUnit("min", 1, 2000, func(l *battery.Label) **quantity.Minutes { return &l.ReserveMin }, asFloat),
	named("made", "2021-08", func(l *battery.Label) string { return l.Made }, func(l *battery.Label, text string) bool {
		l.Made = text
		return evidence.ValidMade(text)
	}),
	flag("sealed", "caps open", func(l *battery.Label) **bool { return &l.Sealed }),
	flag("eye", "no eye", func(l *battery.Label) **bool { return &l.EyeFitted }),
	named("label load", "300 A", func(l *battery.Label) string {
		if l.LabelLoadA == nil {
			return ""
		}
		return strconv.FormatFloat(float64(*l.LabelLoadA), 'f', -1, 64) + " A"
	}, func(l *battery.Label, text string) bool {
		x, ok := figureOf(text, "A")
		l.LabelLoadA = pointer(quantity.Amperes(x))
		return ok && x >= 5 && x <= 2000
	}),
	named("full gravity", "1.275", func(l *battery.Label) string {
		if l.FullSG == nil {
			return ""
		}
		return strconv.FormatFloat(*l.FullSG, 'f', -1, 64)
	}, func(l *battery.Label, text string) bool {
		x, ok := figureOf(text, "")
		l.FullSG = &x
		return ok && x >= 1.2 && x <= 1.32
	}),
}

func sayRating(l *battery.Label) string {
	if l.Rating == nil {
		return ""
	}
	return fmt.Sprintf("%s A %s", strconv.FormatFloat(float64(l.Rating.Value), 'f', -1, 64), l.Rating.Standard)
}

func takeRating(l *battery.Label, text string) bool {
	at := strings.LastIndexByte(text, ' ')
	if at < 0 || !slices.Contains(battery.Standards(), text[at+1:]) {
		return false
	}
	x, ok := figureOf(text[:at], "A")
	l.Rating = &battery.Rating{Value: quantity.Amperes(x), Standard: battery.Standard(text[at+1:])}
	return ok && x >= 10 && x <= 3000
}

var vehicleItems = items[evidence.Vehicle]{
	word(evidence.VehicleKinds(), func(v *evidence.Vehicle) *string { return &v.Kind }),
	named("engine", "none", func(v *evidence.Vehicle) string {
		if v.Engine != "none" {
			return ""
		}
		return v.Engine
	}, func(v *evidence.Vehicle, text string) bool {
		v.Engine = text
		return text == "none"
	}),
	word([]string{"petrol", "diesel"}, func(v *evidence.Vehicle) *string {
		if v.Engine == "none" {
			return new(string) // said as "engine none"
		}
		return &v.Engine
	}),
	withUnit("l", 0.02, 30, func(v *evidence.Vehicle) **float64 { return &v.Litres }, func(x *float64) *float64 { return x }),
	named("required", "540 A", func(v *evidence.Vehicle) string {
		if v.RequiredCCA == nil {
			return ""
		}
		return strconv.FormatFloat(float64(*v.RequiredCCA), 'f', -1, 64) + " A"
	}, func(v *evidence.Vehicle, text string) bool {
		x, ok := figureOf(text, "A")
		v.RequiredCCA = pointer(quantity.Amperes(x))
		return ok && x >= 10 && x <= 3000
	}),
	flag("start-stop", "no start-stop", func(v *evidence.Vehicle) **bool { return &v.StartStop }),
	flag("managed charging", "no managed charging", func(v *evidence.Vehicle) **bool { return &v.ManagedCharging }),
	named("earth", "negative | positive", func(v *evidence.Vehicle) string { return v.Earth }, func(v *evidence.Vehicle, text string) bool {
		v.Earth = text
		return slices.Contains(evidence.Earths(), text)
	}),
}

// FromCase is a case as a book of one battery; its readings take their
// canonical lines. The day of a case becomes midnight of that day.
func FromCase(c evidence.Case) Book {
	b := Book{Vehicle: c.Vehicle, Symptoms: c.Symptoms, School: c.School, Tools: c.Tools, Own: c.Own, Batteries: []Battery{{Label: c.Label}}}
	if at, err := time.Parse(time.DateOnly, c.AsOf); err == nil {
		b.AsOf = at
	}
	for _, r := range c.Readings {
		b.Batteries[0].Lines = append(b.Batteries[0].Lines, Line{Typed: reading.Print(r), Reading: r})
	}
	return b
}
