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
	"sg 1265 1260 - 1210 1265 1260 at 15c",
	"sg 1265 1260 1255 auto",
	"sg 1265 1260 1255 1210 1265 1260 points -14",
	"sg green green fair green red green",
	"sg 1265 1260.5 1255 - at 15c bare just watered after charge",
	"level ok ok low ok dry ok",
	"load 130a 10s 10.6v fixed back 12.3v",
	"crank 9.8v 4s slow",
	"crank 9.8v 4s slow no start on jump",
	"running 14.3 v",
	"running 13.9 v raised loads on",
	"running 12.9 v idle loads off just jumped managed 5c 10min",
	"ripple 0.08 v",
	"starter 145a 10.1v stud 9.6v",
	"starter stud 9.6v",
	"drop negative_clamp 0.45v 150a",
	"drop charge_positive 0.2v 30a charging",
	"drain 85 ma asleep 40min",
	"drain 1.5 a clamp",
	"drain 0 ma",
	"drain 85 ma fuse F12 asleep 40min over fuse",
	"fuse F12 15a 1.2mv",
	"fuse 15a 1.2mv asleep 30min",
	`fuse "15a" 15a 1.2mv`,
	"case 4.5 v",
	"age 5y",
	"jumps 3 in 90d",
	"stood 8h -6c",
	"trips 6/week 9min",
	"trips 9min",
	"stood -6c",
	"lights left on 14h",
	"age 5y jumps 3 in 90d stood 8h -6c standing 40d trips 6/week 9min lights left on 14h",
	"dcdc 12.4v to 13.9v 5s",
	"dcdc to 13.9v",
	"reserve 10a 90min 12.6v to 11.9v 20c",
	"reserve 10a 90min 11.9v stopped early",
	"charge 14.2v 6.1a 90min cool no gas",
	"charge 12.2v 6a 8h warm gas full",
	"charge 14.4v 0.4a 10h hot 53c gas 61ah not full",
	"jump started",
	"jump no",
	"jump started pack",
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

	// One figure said in several ways; the published grammar calls them the same.
	"sg 1.265 1,260 - 1.210 1265 1260 15c":   "sg 1265 1260 - 1210 1265 1260 at 15c",
	"gravity 1265 1260 1255 automatic":       "sg 1265 1260 1255 auto",
	"sg 1265 1260 1255 compensated at 15 c":  "sg 1265 1260 1255 at 15c auto",
	"sg points −14 1265 1260 1255":           "sg 1265 1260 1255 points -14",
	"sg good good fair good bad ?":           "sg green green fair green red -",
	"level fine ok under ok empty ok":        "level ok ok low ok dry ok",
	"rested 2h 12.41v 18c":                   "12.41 v 18c rested 2h",
	"lamps 2min 12.6v wait 1min":             "12.6 v lamps 2min wait 1min",
	"cranking 9.8 v slowly 4 s not started":  "crank 9.8v 4s slow no start",
	"running loads on 13.9 volts revs":       "running 13.9 v raised loads on",
	"running 14.1 idle with smart":           "running 14.1 v idle managed",
	"ripple 80 mv":                           "ripple 0.08 v",
	"starter draw 145 10.1 stud 9.6":         "starter 145a 10.1v stud 9.6v",
	"drop negative clamp 450 mv 150 a":       "drop negative_clamp 0.45v 150a",
	"drop neg clamp 0.45 150":                "drop negative_clamp 0.45v 150a",
	"drop earth strap 0.3v cranking":         "drop ground_strap 0.3v cranking",
	"drain 0.085 a slept 40 min":             "drain 85 ma asleep 40min",
	"drain 85ma asleep 40min":                "drain 85 ma asleep 40min",
	"drain fuse F12 15 a 1.2 mv":             "fuse F12 15a 1.2mv",
	"fuse f12, 15a, 0.0012v":                 "fuse f12 15a 1.2mv",
	"fuse 12 15a 1,2mv":                      `fuse "12" 15a 1.2mv`,
	"case leak 4.5v":                         "case 4.5 v",
	"age 60 months":                          "age 5y",
	"jump starts 3":                          "",
	"jumps 3 in 3 months":                    "jumps 3 in 91.3125d",
	"stood -6c stood 8h":                     "stood 8h -6c",
	"stood -6c 8h":                           "",
	"stood 8 hours at -6c":                   "stood 8h -6c",
	"stood 1d 21.2f":                         "stood 24h -6c",
	"trips 6 a week 9 min":                   "trips 6/week 9min",
	"trips 6 per week of 9min":               "",
	"lights on 14 hours":                     "lights left on 14h",
	"left on 14h":                            "lights left on 14h",
	"dcdc 12.4 13.9 5s":                      "dcdc 12.4v to 13.9v 5s",
	"reserve 10a 1h30 12.6v 11.9v":           "reserve 10a 90min 12.6v to 11.9v",
	"reserve 10a 90min to 11.9v":             "reserve 10a 90min 11.9v",
	"charge 14.2v 6.1a 1.5h cold no gassing": "charge 14.2v 6.1a 90min cool no gas",
	"jump yes with booster":                  "jump started pack",
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
		{"120 v", "problem.range", "120 v", "-36 to 36 V", "12 v"},
		{"1241 rested 2h", "line.needs_unit", "1241", "volts", "12.41 v"},
		{"-120 v", "problem.range", "-120 v", "-36 to 36 V", ""},
		{"halves 12.7v", "problem.missing", "", "0 to 36 V", ""},
		{"12.6 v 180c", "problem.range", "180c", "-50 to 85 °C", ""},
		{"12.6 v 18c 19c", "line.twice", "19c", "18c", ""},
		{"12.6 v 12.4 v", "line.twice", "12.4", "12.6v", ""},
		{"12.6 v purple", "line.unknown", "purple", "rested", ""},
		{"12.6 v rested", "line.after_word", "rested", "rested", ""},
		{"12.6 v 18x", "line.unit", "18x", "°C", ""},
		{"12.6 v 300a", "line.no_place", "300a", "load 325a", ""},
		{"load 325a 15s", "problem.missing", "", "0 to 36 V", ""},
		{"load 325 15 9", "line.needs_unit", "9", "volts", ""},
		{"load 325a 75s 9.4v", "problem.range", "75s", "1 to 60 s", ""},
		{"load 5000a 15s 9.4v", "problem.range", "5000a", "1 to 3000 A", ""},
		{"594/ cca", "line.pair", "594/", "594/650", ""},
		{"594/650 cca sae en", "line.twice", "en", "SAE", ""},
		{"325a 15s 9.4v", "line.no_place", "325a 15s 9.4v", "load 325a", "load 325a 15s 9.4v"},
		{"126.5 v", "problem.range", "126.5 v", "-36 to 36 V", "12.65 v"},
		{"sg 126 1265 1260", "line.gravity", "126", "1265", "1260"},
		{"sg 12.65 1260 1250", "line.gravity", "12.65", "1265", "1265"},
		{"sg 1265 -15 -10", "line.gravity_points", "-15", "1265", "1250"},
		{"sg 1265 0.025 0.03", "line.gravity_points", "0.025", "1265", "1265"},
		{"sg 1265 1260 1255 1210 1265", "problem.cells", "", "6 (12 V)", ""},
		{"sg", "problem.missing", "", "6 (12 V)", ""},
		{"sg 1265 1260 1250 points", "line.after_word", "points", "points -14", ""},
		{"sg 1265 1260 1250 points -14 auto", "problem.together", "", "points", ""},
		{"level ok ok wet", "line.unknown", "wet", "dry", ""},
		{"fuse F12 1.2mv", "problem.missing", "", "7.5", ""},
		{"fuse F12 15a", "problem.missing", "", "mV", ""},
		{"drain asleep 40min", "problem.missing", "", "drain 85 ma", ""},
		{"drop 0.4v 150a", "problem.missing", "", "ground_strap", ""},
		{"history age 5y", "line.opening", "history", "age", ""},
		{"in 90d", "line.opening", "in", "12.41", ""},
		{"jumps in 90d", "line.after_word", "jumps", "jumps 3", ""},
		{"age 50y", "problem.range", "50y", "0 to 40 years", ""},
		{"trips 6/week 9v", "line.no_place", "9v", "stood", ""},
		{"dcdc 5s", "problem.missing", "", "0 to 36 V", ""},
		{"reserve 10a 90min", "problem.missing", "", "0 to 36 V", ""},
		{"charge 14.2v", "problem.missing", "", "0 to 500 A", ""},
		{"jump", "problem.missing", "", "true, false", ""},
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
		{`{"kind":"gravity","cells":[1.265]}`, "cells"},
		{`{"kind":"gravity","cells":[1.265,"blue",null]}`, "cells[1]"},
		{`{"kind":"gravity","cells":[1.265,12.6,null]}`, "cells[1]"},
		{`{"kind":"gravity","cells":[1.265,true,null]}`, "cells[1]"},
		{`{"kind":"gravity","cells":"1265"}`, "cells"},
		{`{"kind":"gravity","cells":[1.265,1.26,1.25],"correction":"points"}`, "points"},
		{`{"kind":"level","cells":[1.265,"ok","ok"]}`, "cells[0]"},
		{`{"kind":"drain","fuse":"F12"}`, "millivolts"},
		{`{"kind":"drain","asleep_min":40}`, "amps"},
		{`{"kind":"drain","fuse":"F12","millivolts":1.2}`, "fuse_rating_a"},
		{`{"kind":"crank","volts":9.8,"started":"yes"}`, "started"},
		{`{"kind":"crank","volts":9.8,"fuse":"F12"}`, "fuse"},
		{`{"kind":"jump"}`, "started"},
		{`{"kind":"history"}`, "age_years"},
		{`{"kind":"drop","volts":0.3}`, "where"},
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
		if from, _ := completed(line); from < 0 || from > len(line) {
			t.Fatalf("%q is completed at %d", line, from)
		}
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

// TestSeveral checks several readings in one line.
func TestSeveral(t *testing.T) {
	line := `12.41 v by "a; b" 18c; load 325a 15s 9.4v ; ;eye dark;`
	all, err := ParseAll(line)
	if err != nil || len(all) != 3 {
		t.Fatalf("%d readings, %v", len(all), err)
	}
	for i, want := range []string{`12.41 v 18c by "a; b"`, "load 325a 15s 9.4v", "eye dark"} {
		if got := Print(all[i].Reading); got != want {
			t.Errorf("got %s, want %s", got, want)
		}
	}
	if s := all[2].Spans[0]; line[s.Start:s.End] != "eye" {
		t.Errorf("the third reading points at %q", line[s.Start:s.End])
	}
	_, err = ParseAll("eye dark; load 325a 15s 9.4v purple; sg 1265")
	var list problem.List
	if !errors.As(err, &list) || len(list) != 2 || list[0].Start != 29 || list[0].End != 35 {
		t.Errorf("two problems at their places: %+v", err)
	}
	if _, err := ParseAll(" ; "); err == nil {
		t.Error("nothing at all was understood")
	}
}

func BenchmarkParse(b *testing.B) {
	for _, line := range []string{"12.41 v 18c rested 2h", "sg 1265 1260 1255 1210 1265 1260 at 15c", "594/650 cca sae agm 12.5v", "drop negative clamp 0.45v 150a"} {
		b.Run(line, func(b *testing.B) {
			b.ReportAllocs()
			for b.Loop() {
				if _, err := Parse(line); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}
