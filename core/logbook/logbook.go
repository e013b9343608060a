// Package logbook holds a job as plain text: a header of label and vehicle, and
// a reading line for each reading, as it was typed. Parse reads it and Print
// writes it; the way there and back loses nothing. Remarks begin with # and are
// passed over.
package logbook

import (
	"maps"
	"slices"
	"strconv"
	"strings"
	"time"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/problem"
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
	// Purpose is what the job is for; Tray and Joined how the battery sits.
	Purpose, Tray, Joined string
	// Own holds figures of the shop's own that the case was judged by.
	Own school.Own
	// Photos are the pictures of the job, by name.
	Photos    []Photo
	Batteries []Battery
}

// Photo is a picture of the job: when it was taken, the name of its file, and a note.
type Photo struct {
	At   time.Time
	Name string
	Note string
}

// Lifted is a stop rule that a person has lifted with a reason, for readings by their
// place among the lines of their battery, from 0.
type Lifted struct {
	Stop     school.Caution
	Readings []int
	By       string
	Reason   string
}

// Battery is one battery of the job and what was read of it.
type Battery struct {
	Label             battery.Label
	Tag, Maker, Posts string
	Lines             []Line
	Lifted            []Lifted
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
		c.Readings = append(c.Readings, evidence.Taken{Reading: line.Reading})
	}
	for _, l := range b.Batteries[i].Lifted {
		c.Cleared = append(c.Cleared, evidence.Clearing{Stop: l.Stop, Readings: c.Refs(l.Readings...)})
	}
	return c
}

// textKey is a header line that holds free text.
type textKey struct {
	key string
	of  func(*Book) *string
}

// textKeys in the order they are written. The last ones speak of the battery
// above them.
var textKeys = []textKey{
	{"customer", func(b *Book) *string { return &b.Customer }},
	{"phone", func(b *Book) *string { return &b.Phone }},
	{"plate", func(b *Book) *string { return &b.Plate }},
	{"description", func(b *Book) *string { return &b.Description }},
	{"complaint", func(b *Book) *string { return &b.Complaint }},
	{"place", func(b *Book) *string { return &b.Place }},
	{"purpose", func(b *Book) *string { return &b.Purpose }},
	{"tray", func(b *Book) *string { return &b.Tray }},
	{"joined", func(b *Book) *string { return &b.Joined }},
	{"tag", func(b *Book) *string { return &b.last().Tag }},
	{"maker", func(b *Book) *string { return &b.last().Maker }},
	{"posts", func(b *Book) *string { return &b.last().Posts }},
	{"position", func(b *Book) *string { return &b.last().Label.Position }},
}

const batteryKeys = 4 // the last ones of textKeys

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
	put("vehicle", strings.Join(evidence.VehicleFields().Print(&b.Vehicle), ", "))
	put("symptom", strings.Join(b.Symptoms, ", "))
	put("school", string(b.School))
	if b.Tools != nil {
		out.WriteString(strings.TrimSpace("tools: "+strings.Join(b.Tools, ", ")) + "\n")
	}
	for _, id := range slices.Sorted(maps.Keys(b.Own)) {
		put("limit", string(id)+" "+strconv.FormatFloat(b.Own[id].Value, 'f', -1, 64)+" "+b.Own[id].Note)
	}
	for _, p := range b.Photos {
		put("photo", strings.TrimSpace(p.At.UTC().Format(time.RFC3339Nano)+" "+p.Name+" "+strings.Join(strings.Fields(p.Note), " ")))
	}
	for _, one := range b.Batteries {
		put("battery", strings.Join(battery.Fields().Print(&one.Label), ", "))
		put("tag", one.Tag)
		put("maker", one.Maker)
		put("posts", one.Posts)
		put("position", one.Label.Position)
		out.WriteString("\n")
		for _, line := range one.Lines {
			out.WriteString(line.Typed + "\n")
		}
		for _, l := range one.Lifted {
			put("lifted", l.print())
		}
		if len(one.Lines)+len(one.Lifted) > 0 {
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
		p.items(number, evidence.VehicleFields().Parse(&p.book.Vehicle, value, reading.Figure))
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
	case "photo":
		p.photo(number, value)
	case "lifted":
		p.lifted(number, value)
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

// print writes a stop rule that was lifted: frozen-or-damaged for 1, 2 by Mara: thawed.
func (l Lifted) print() string {
	places := make([]string, len(l.Readings))
	for i, place := range l.Readings {
		places[i] = strconv.Itoa(place + 1)
	}
	by := ""
	if l.By != "" {
		by = " by " + l.By
	}
	return string(l.Stop) + " for " + strings.Join(places, ", ") + by + ": " + l.Reason
}

// liftedForm is how a stop rule that was lifted is written.
const liftedForm = "frozen-or-damaged for 1, 2 by Mara: thawed and looked over"

func (p *parser) lifted(number int, value string) {
	head, reason, hasReason := strings.Cut(value, ": ")
	head, by, _ := strings.Cut(head, " by ")
	stop, list, hasList := strings.Cut(head, " for ")
	if len(p.book.Batteries) == 0 || !hasReason || !hasList || !slices.Contains(school.StopCodes(), stop) {
		p.fault(number, problem.New("problem.type", "lifted", value, liftedForm))
		return
	}
	l := Lifted{Stop: school.Caution(stop), By: by, Reason: strings.TrimSpace(reason)}
	lines := len(p.book.last().Lines)
	for _, text := range strings.Split(list, ",") {
		place, err := strconv.Atoi(strings.TrimSpace(text))
		if err != nil || place < 1 || place > lines {
			p.fault(number, problem.New("problem.range", "lifted", text, problem.Range(1, float64(lines), "readings above it")))
			return
		}
		l.Readings = append(l.Readings, place-1)
	}
	p.book.last().Lifted = append(p.book.last().Lifted, l)
}

// photo takes a picture's time, name and note.
func (p *parser) photo(number int, value string) {
	when, rest, _ := strings.Cut(value, " ")
	name, note, _ := strings.Cut(rest, " ")
	at, err := time.Parse(time.RFC3339Nano, when)
	if err != nil || name == "" {
		p.fault(number, problem.New("problem.type", "photo", value, "2026-11-24T14:05:00Z name.jpeg what it shows"))
		return
	}
	p.book.Photos = append(p.book.Photos, Photo{at, name, note})
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
	p.items(number, battery.Fields().Parse(l, value, reading.Figure))
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

// FromCase is a case as a book of one battery; its readings take their
// canonical lines. The day of a case becomes midnight of that day.
func FromCase(c evidence.Case) Book {
	b := Book{Vehicle: c.Vehicle, Symptoms: c.Symptoms, School: c.School, Tools: c.Tools, Own: c.Own, Batteries: []Battery{{Label: c.Label}}}
	if at, err := time.Parse(time.DateOnly, c.AsOf); err == nil {
		b.AsOf = at
	}
	for _, r := range c.Readings {
		b.Batteries[0].Lines = append(b.Batteries[0].Lines, Line{Typed: reading.Print(r.Reading), Reading: r.Reading})
	}
	for _, one := range c.Cleared {
		l := Lifted{Stop: one.Stop, Reason: "-"}
		for i := range c.Readings {
			if slices.Contains(one.Readings, c.Ref(i)) {
				l.Readings = append(l.Readings, i)
			}
		}
		if len(l.Readings) > 0 {
			b.Batteries[0].Lifted = append(b.Batteries[0].Lifted, l)
		}
	}
	return b
}
