// Package source holds where the figures of the trade come from. Every table,
// limit and constant of the core is listed by its package's Sources under the
// name it has in the code, with its value, unit and source; package handbook
// puts the lists together.
package source

import (
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"grapnel/core/wording"
)

// Kind tags what a figure is worth.
type Kind string

// The tags. No published document was at hand when the values were written
// down: a published one is recalled from memory too, and its title says whose
// it is.
const (
	// Published: printed in a standard or a service manual, recalled from memory.
	Published Kind = "P"
	// Practice: common practice of the trade, no source.
	Practice Kind = "CP"
	// Memory: from memory, origin not certain.
	Memory Kind = "M"
	// Computed from other values of the list, or exact by definition.
	Computed Kind = "C"
)

// Kinds lists the tags.
func Kinds() []Kind { return []Kind{Published, Practice, Memory, Computed} }

// Source is where a figure comes from.
type Source struct {
	Kind  Kind   `json:"kind"`
	Title string `json:"title"`
	Note  string `json:"note,omitempty"`
}

// By names a published source, recalled from memory.
func By(title string) Source { return Source{Published, title, "value from memory"} }

// Common is common practice of the trade.
func Common(note string) Source { return Source{Practice, "common practice, no source", note} }

// Recalled is from memory, origin not certain.
func Recalled(note string) Source { return Source{Memory, "value from memory", note} }

// From is computed, or exact by definition.
func From(title string) Source { return Source{Computed, title, ""} }

// With adds a note.
func (s Source) With(note string) Source {
	if s.Note != "" {
		note = s.Note + "; " + note
	}
	s.Note = note
	return s
}

// Documents that several packages cite.
const (
	BCI        = "Battery Council International service practice"
	SAEJ537    = "SAE J537"
	EN50342    = "EN 50342-1"
	EN50342s2  = "EN 50342-2"
	IEC62485   = "IEC 62485-2 / EN 50272-2"
	IEC60028   = "IEC 60028"
	ASTMB258   = "ASTM B258"
	Linden     = "Linden, Handbook of Batteries"
	PerryAcid  = "CRC and Perry, density of sulphuric acid"
	AcidFreeze = "usual handbook table for sulphuric-acid electrolyte"
	SafetyData = "usual safety data sheet for battery acid"
)

// Entry is one constant, limit or table of the trade.
type Entry struct {
	// Package is the folder it stands in, ID its name in the code.
	Package string `json:"package"`
	ID      string `json:"id"`
	// Name says what it is.
	Name string `json:"name"`
	// Value is the figure, or the rows of a table parted by semicolons.
	Value  string `json:"value"`
	Unit   string `json:"unit"`
	Source Source `json:"source"`
}

// figureDigits are as many as the exact factors of the units are printed with.
const figureDigits = 8

// Number is anything that is a figure.
type Number interface{ ~float64 | ~int }

// Figure is the entry of one figure.
func Figure[T Number](id string, value T, unit string, s Source) Entry {
	return Entry{ID: id, Value: strconv.FormatFloat(float64(value), 'g', figureDigits, 64), Unit: unit, Source: s}
}

// Table is the entry of a table, its rows parted by semicolons.
func Table(id, unit string, s Source, rows ...string) Entry {
	return Entry{ID: id, Value: strings.Join(rows, "; "), Unit: unit, Source: s}
}

// Codes is the entry of a table of figures by code, in the order of the codes.
func Codes[K ~string, V any](id, unit string, s Source, table map[K]V) Entry {
	rows := make([]string, 0, len(table))
	for _, code := range slices.Sorted(maps.Keys(table)) {
		rows = append(rows, string(code)+" "+bare.Replace(fmt.Sprint(table[code])))
	}
	return Table(id, unit, s, rows...)
}

// bare takes away what fmt puts around lists, maps and structs.
var bare = strings.NewReplacer("map[", "", "[", "", "]", "", "{", "", "}", "", ":", " ")

// Row writes one row of a table: a name, empty for none, then its figures.
func Row[T Number](name string, values ...T) string {
	texts := make([]string, len(values))
	for i, v := range values {
		texts[i] = Text(v)
	}
	return strings.TrimSpace(name + " " + strings.Join(texts, " "))
}

// Text writes a figure in full.
func Text[T Number](x T) string { return strconv.FormatFloat(float64(x), 'f', -1, 64) }

// In puts entries into a package and gives each its name from the catalogue.
func In(pkg string, entries ...Entry) []Entry {
	for i := range entries {
		entries[i].Package = pkg
		entries[i].Name = wording.Figure(pkg, entries[i].ID)
	}
	return entries
}
