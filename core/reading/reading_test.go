package reading

import (
	"encoding/json"
	"errors"
	"strings"
	"testing"

	"grapnel/core/problem"
)

// canonical lines print as they stand. The forms are those of the published
// grammar of the reading line.
var canonical = []string{
	"12.41 v 18c rested 2h",
	"12.6 v 20c lamps 2min wait 1min",
	"12.66 v rested 3h after charge",
	"12.9 v -5c felt rested 20min since drive by meter-2 at 14:05",
	`12.9 v load 15s wait 15s by "bench meter" at 2026-11-24T14:05:00Z`,
	"load 325a 15s 9.4v 18c",
	"load 130a 10s 10.6v fixed back 12.3v",
	"load 15s 9.4v starter after charge",
	"594/650 cca",
	"594/650 cca sae agm 12.5v",
	"320/590 cca en 11.83v 20c 4.2mohm 54%",
	"eye dark",
	"eye clear after charge",
	"look crack",
	"look corrosion positive heavy",
	"look none",
	"look clamp_not_seated negative",
}

// same are other ways to say a canonical line.
var same = map[string]string{
	"12,41v 18c rested 2h":                           "12.41 v 18c rested 2h",
	"12.41 volts at 18c, rested 2 hours":             "12.41 v 18c rested 2h",
	"18c 12.41v rested 120min":                       "12.41 v 18c rested 2h",
	"rested 2h":                                      "",
	"12.41 18c 2h":                                   "12.41 v 18c rested 2h",
	"12.41V 64.4F rested 1h30":                       "12.41 v 18.000000000000004c rested 90min",
	"load 325 15 9.4":                                "load 325a 15s 9.4v",
	"LOAD 9,4 V 15 sec 325 amps":                     "load 325a 15s 9.4v",
	"load 130a 10s 10.6v fixed recovered 12.3v":      "load 130a 10s 10.6v fixed back 12.3v",
	"594 of 650":                                     "594/650 cca",
	"594 / 650 cca SAE wet 12.5v":                    "594/650 cca sae flooded 12.5v",
	"look loose clamp":                               "look clamp_loose",
	"look clamp not seated minus":                    "look clamp_not_seated negative",
	"look corrosion + heavy":                         "look corrosion positive heavy",
	"eye yellow":                                     "eye clear",
	"12.6 v 20c headlamps 120 s wait 60 s":           "12.6 v 20c lamps 2min wait 1min",
	"12.7 v after drive":                             "12.7 v since drive",
	"12.7 v since driving rested 1 h 18 celsius":     "12.7 v 18c rested 1h since drive",
	"12.41 v −5 °c":                                  "12.41 v -5c",
	"12410 mv rested 2h":                             "12.41 v rested 2h",
	"load 325a 15s 9.4v 18c probe pile and 12v back": "",
}

func TestCanonical(t *testing.T) {
	for _, line := range canonical {
		p, err := Parse(line)
		if err != nil {
			t.Errorf("%s: %v", line, err)
			continue
		}
		if got := Print(p.Reading); got != line {
			t.Errorf("%s prints as %s", line, got)
		}
	}
}

func TestSame(t *testing.T) {
	for line, want := range same {
		p, err := Parse(line)
		if want == "" {
			if err == nil {
				t.Errorf("%s was understood as %s", line, Print(p.Reading))
			}
			continue
		}
		if err != nil {
			t.Errorf("%s: %v", line, err)
		} else if got := Print(p.Reading); got != want {
			t.Errorf("%s is understood as %s, want %s", line, got, want)
		}
	}
}

// TestObjects checks that a line and its object are the same reading.
func TestObjects(t *testing.T) {
	for _, line := range canonical {
		p, err := Parse(line)
		if err != nil {
			t.Fatal(err)
		}
		data, err := json.Marshal(p.Reading)
		if err != nil {
			t.Fatal(err)
		}
		var back Reading
		if err := json.Unmarshal(data, &back); err != nil {
			t.Errorf("%s as %s: %v", line, data, err)
		}
		if back != p.Reading {
			t.Errorf("%s comes back from JSON as %s", line, Print(back))
		}
	}
}

// TestRefused checks that each bad line points at its word, says what would be
// understood, and offers the likely meaning without taking it.
func TestRefused(t *testing.T) {
	for _, c := range []struct{ line, code, word, says, suggest string }{
		{"", "line.empty", "", "12.41 v", ""},
		{"hello", "line.opening", "hello", "load", ""},
		{"120 v", "problem.range", "120 v", "0 to 36 V", "12 v"},
		{"1241 rested 2h", "line.needs_unit", "1241", "volts", "12.41 v"},
		{"-12.1 v", "problem.range", "-12.1 v", "0 to 36 V", ""},
		{"12.6 v 180c", "problem.range", "180c", "-50 to 85 °C", ""},
		{"12.6 v 18c 19c", "line.twice", "19c", "18c", ""},
		{"12.6 v 12.4 v", "line.twice", "12.4", "12.6v", ""},
		{"12.6 v purple", "line.unknown", "purple", "rested", ""},
		{"12.6 v rested", "line.after_word", "rested", "rested", ""},
		{"12.6 v 18x", "line.unit", "18x", "c", ""},
		{"12.6 v 300a", "line.no_place", "300a", "load 325a", ""},
		{"load 325a 15s", "problem.missing", "", "0 to 36 V", ""},
		{"load 325 15 9", "line.needs_unit", "9", "volts", ""},
		{"load 325a 75s 9.4v", "problem.range", "75s", "1 to 60 s", ""},
		{"load 5000a 15s 9.4v", "problem.range", "5000a", "1 to 3000 A", ""},
		{"594/ cca", "line.pair", "594/", "594/650", ""},
		{"594/650 cca sae en", "line.twice", "en", "SAE", ""},
		{"sg 1265 1260", "line.later", "sg", "open_circuit", ""},
		{"drain 85 ma", "line.later", "drain", "open_circuit", ""},
		{"look", "problem.missing", "", "crack", ""},
		{"look crack bulge", "line.twice", "bulge", "crack", ""},
		{"eye blue", "line.unknown", "blue", "green", ""},
		{"12.6 v at 25:00", "line.after_word", "at", "14:05", ""},
		{`12.6 v by "` + strings.Repeat("x", 70) + `"`, "problem.text", "", "60", ""},
	} {
		_, err := Parse(c.line)
		var list problem.List
		if !errors.As(err, &list) {
			t.Errorf("%q was understood", c.line)
			continue
		}
		p := list[0]
		if p.Code != c.code || !strings.Contains(p.Allowed, c.says) {
			t.Errorf("%q: got %s (%s), want %s naming %q", c.line, p.Code, p.Text, c.code, c.says)
		}
		if got := c.line[p.Start:p.End]; got != c.word {
			t.Errorf("%q points at %q, want %q", c.line, got, c.word)
		}
		if got := strings.Join(p.Suggest, "|"); got != c.suggest {
			t.Errorf("%q suggests %q, want %q", c.line, got, c.suggest)
		}
	}
}

// TestRefusedObjects checks that unknown fields, kinds and codes are refused by
// name and null means missing.
func TestRefusedObjects(t *testing.T) {
	for _, c := range []struct{ object, field string }{
		{`{"kind":"gravity","cells":[1.265]}`, "kind"},
		{`{"kind":"smell"}`, "kind"},
		{`{"volts":12.4}`, "kind"},
		{`{"kind":"open_circuit"}`, "volts"},
		{`{"kind":"open_circuit","volts":"12.4"}`, "volts"},
		{`{"kind":"open_circuit","volts":null}`, "volts"},
		{`{"kind":"open_circuit","volts":12.4,"amps":3}`, "amps"},
		{`{"kind":"open_circuit","volts":12.4,"since":"noon"}`, "since"},
		{`{"kind":"open_circuit","volts":12.4,"surface_s":120}`, "surface_removed"},
		{`{"kind":"open_circuit","volts":12.4,"at":"noon"}`, "at"},
		{`{"kind":"open_circuit","volts":12.4,"after_charge":"yes"}`, "after_charge"},
		{`{"kind":"load","amps":-3,"seconds":15,"volts":9.4}`, "amps"},
		{`{"kind":"eye","colour":"blue"}`, "colour"},
		{`[1]`, ""},
	} {
		var r Reading
		err := json.Unmarshal([]byte(c.object), &r)
		var list problem.List
		if !errors.As(err, &list) || list[0].Field != c.field {
			t.Errorf("%s: got %v, want a problem of %s", c.object, err, c.field)
		}
	}
	var r Reading
	if err := json.Unmarshal([]byte(`{"kind":"load","amps":null,"seconds":15,"volts":9.4,"battery_c":null}`), &r); err != nil || r.Has(Amps) {
		t.Errorf("null is not missing: %v %v", err, r)
	}
}

// TestEcho checks what the line shows as said and as assumed.
func TestEcho(t *testing.T) {
	p, err := Parse("load 325 15s 9.4v")
	if err != nil {
		t.Fatal(err)
	}
	var said []string
	for _, u := range Echo(p) {
		mark := ""
		if u.Assumed {
			mark = "?"
		}
		said = append(said, u.Text.Text+mark)
	}
	want := "load test|325 A?|15 s|9.40 V at the end"
	if got := strings.ReplaceAll(strings.Join(said, "|"), "\u00a0", " "); got != want {
		t.Errorf("got %s, want %s", got, want)
	}
}

// FuzzParse checks the law of the reading line: Parse never panics, and
// Parse(Print(r)) gives r back for whatever it understood, from the line and
// from JSON.
func FuzzParse(f *testing.F) {
	for _, line := range canonical {
		f.Add(line)
	}
	for line := range same {
		f.Add(line)
	}
	f.Add("load 1e9a 15s")
	f.Add("12.4 v by \"\" at")
	f.Add("\"\"\"")
	f.Add("594//650 %")
	f.Fuzz(func(t *testing.T, line string) {
		p, err := Parse(line)
		if err != nil {
			return
		}
		printed := Print(p.Reading)
		again, err := Parse(printed)
		if err != nil {
			t.Fatalf("%q prints as %q, which is not understood: %v", line, printed, err)
		}
		if again.Reading != p.Reading {
			t.Fatalf("%q prints as %q, which is another reading", line, printed)
		}
		if twice := Print(again.Reading); twice != printed {
			t.Fatalf("%q prints as %q and then as %q", line, printed, twice)
		}
		data, err := json.Marshal(p.Reading)
		if err != nil {
			t.Fatal(err)
		}
		var back Reading
		if err := json.Unmarshal(data, &back); err != nil || back != p.Reading {
			t.Fatalf("%q as %s: %v", line, data, err)
		}
	})
}

func BenchmarkParse(b *testing.B) {
	b.ReportAllocs()
	for b.Loop() {
		if _, err := Parse("12.41 v 18c rested 2h"); err != nil {
			b.Fatal(err)
		}
	}
}
