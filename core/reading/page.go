package reading

import (
	"maps"
	"slices"
	"strings"

	"grapnel/core/wording"
)

// Page writes the reading line down as a page a technician can read, in
// Markdown. It is made from the tables the parser uses, so that it cannot be
// out of date.
func Page() string {
	var b strings.Builder
	say := func(code string) { b.WriteString(wording.Text("page."+code, nil) + "\n\n") }
	say("title")
	say("intro")
	say("rules")
	say("units")
	b.WriteString(unitsTable())
	say("everywhere")
	b.WriteString(everywhereTable())
	for i := range kinds {
		kinds[i].page(&b)
	}
	say("short")
	b.WriteString(shortTable())
	say("files")
	return b.String()
}

func row(cells ...string) string { return "| " + strings.Join(cells, " | ") + " |\n" }

func code(text string) string {
	if text == "" {
		return ""
	}
	return "`" + text + "`"
}

func heading(codes ...string) string {
	cells := make([]string, len(codes))
	for i, c := range codes {
		cells[i] = wording.Text("page.column."+c, nil)
	}
	return row(cells...) + row(slices.Repeat([]string{"---"}, len(codes))...)
}

// unitsTable lists how each unit may be written.
func unitsTable() string {
	spellings := map[string][]string{}
	for word, u := range unitWords {
		for i := range measures {
			m := &measures[i]
			if m.dimension == u.dimension && m.shift == u.shift && m.seconds == u.seconds && m.name != "" && !u.fahrenheit {
				spellings[m.name] = append(spellings[m.name], word)
			}
		}
		if u.fahrenheit {
			spellings["°F"] = append(spellings["°F"], word)
		}
	}
	out := heading("unit", "spellings")
	for _, name := range slices.Sorted(maps.Keys(spellings)) {
		slices.Sort(spellings[name])
		out += row(name, code(strings.Join(spellings[name], "`, `")))
	}
	return out + "\n"
}

func everywhereTable() string {
	out := heading("typed", "means")
	for _, field := range [][2]string{{"after charge", "after_charge"}, {"by meter-2", "by"}, {"at 14:05", "at"}} {
		out += row(code(field[0]), wording.Text("field."+field[1], nil))
	}
	return out + "\n"
}

// page writes one kind: what it is, an example, its figures and its words.
func (t *kindTable) page(b *strings.Builder) {
	b.WriteString("## " + wording.Kind(string(t.kind)) + "\n\n")
	b.WriteString(wording.Text("kind."+string(t.kind), nil) + "\n\n")
	b.WriteString("    " + t.example + "\n\n")
	b.WriteString(heading("typed", "means", "allowed", "field"))
	if t.cells != nil {
		allowed := strings.Join(append(slices.Clone(t.cells.codes), "-"), ", ")
		if t.cells.figures {
			allowed = "1000 – 1400, " + allowed
		}
		b.WriteString(row("", wording.Text("field.cells", nil), allowed, code("cells")))
	}
	if t.kind == Drain {
		b.WriteString(row(code("fuse F12"), wording.Text("field.fuse", nil), "", code("fuse")))
	}
	for i := range t.numbers {
		f := &t.numbers[i]
		needed := ""
		if f.required {
			needed = " (" + wording.Text("page.needed", nil) + ")"
		}
		b.WriteString(
			row(
				code(f.example),
				fieldSays(t.kind, f.json)+needed,
				strings.TrimSpace(plain(f.low)+" – "+plain(f.high)+" "+unitName(f.unit)),
				code(f.json),
			),
		)
	}
	for i := range t.choices {
		f := &t.choices[i]
		words := make([]string, len(f.codes))
		for j := range f.codes {
			words[j] = strings.TrimSpace(f.word + " " + f.spoken(j))
		}
		needed := ""
		if f.required {
			needed = " (" + wording.Text("page.needed", nil) + ")"
		}
		b.WriteString(row(code(strings.Join(words, "`, `")), fieldSays(t.kind, f.json)+needed, "", code(f.json)))
	}
	b.WriteString("\n")
}

// shortTable lists the short forms by what they stand for.
func shortTable() string {
	meant := map[string][]string{}
	for short, long := range shortForms {
		meant[long] = append(meant[long], strings.ReplaceAll(short, "_", " "))
	}
	out := heading("short", "stands")
	for _, long := range slices.Sorted(maps.Keys(meant)) {
		slices.Sort(meant[long])
		out += row(code(strings.Join(meant[long], "`, `")), code(strings.ReplaceAll(long, "_", " ")))
	}
	return out + "\n"
}
