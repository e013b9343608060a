package logbook

import (
	"encoding/json"
	"reflect"
	"strings"
	"testing"

	"grapnel/core/problem"
	"grapnel/core/reading"
)

const job = `as of: 2026-11-24T08:30:00Z
customer: Ines Calloway
phone: 0555 0142
plate: WS 204 K
description: Estate car, 2.0 petrol, 2017
complaint: Turns slowly: on cold mornings.
complaint: Jumped twice.
place: Bay 2
vehicle: car, petrol, 2 l, required 540 A, start-stop, no managed charging, earth negative
symptom: slow_crank, cold_only
school: half_cca
tools: meter, pile
limit: drain_most 0.03 the maker's manual
battery: flooded, 12 V, 650 A SAE, 65 Ah, 110 min, made 2021-08, caps open, no eye, label load 300 A, full gravity 1.275
tag: LG-0031
maker: Halyard Blue
position: left

look none
12.24V 18c rested 2h
load 325a 15s 9.3v at 14:05

battery: agm, 12 V, sealed
position: right

12.8 v rested 3h after charge by "meter 2"
`

// TestRoundTrip checks that a job's text comes back to the letter, and the job
// from it whole.
func TestRoundTrip(t *testing.T) {
	b, err := Parse(job)
	if err != nil {
		t.Fatal(err)
	}
	if got := Print(b); got != job {
		t.Errorf("got\n%s\nwant\n%s", got, job)
	}
	if len(b.Batteries) != 2 || len(b.Batteries[0].Lines) != 3 || b.Batteries[0].Lines[1].Typed != "12.24V 18c rested 2h" {
		t.Errorf("%+v", b.Batteries)
	}
	if c := b.Case(1); c.AsOf != "2026-11-24" || len(c.Readings) != 1 || !c.Readings[0].AfterCharge || c.Label.Position != "right" {
		t.Errorf("%+v", c)
	}
}

// TestEveryKind checks that every kind of reading passes through a file.
func TestEveryKind(t *testing.T) {
	text := "battery: flooded, 12 V\n\n"
	for _, kind := range reading.Kinds() {
		text += reading.Example(reading.Kind(kind)) + "\n"
	}
	b, err := Parse(text)
	if err != nil {
		t.Fatal(err)
	}
	if got := Print(b); got != text {
		t.Errorf("got\n%s", got)
	}
	again, err := Parse(Print(b))
	if err != nil || !reflect.DeepEqual(again, b) {
		t.Errorf("the second reading differs: %v", err)
	}
}

// TestTolerant checks remarks, several readings in a line, Windows line ends,
// and a file without a final line end.
func TestTolerant(t *testing.T) {
	b, err := Parse("# a job\r\nbattery: AGM ,12v\r\n")
	if err == nil {
		t.Errorf("a chemistry in capitals was taken: %+v", b)
	}
	b, err = Parse("# a job\r\nbattery: agm , 12v, 180 a SAE\r\n\r\n12.8 v rested 3h; 175/180 cca ;\r\n# done\r\nlook none")
	if err != nil {
		t.Fatal(err)
	}
	if lines := b.Batteries[0].Lines; len(lines) != 3 || lines[1].Typed != "175/180 cca" || lines[2].Number != 6 {
		t.Errorf("%+v", lines)
	}
}

// TestRefused checks that every problem names its line and what is allowed.
func TestRefused(t *testing.T) {
	for text, field := range map[string]string{
		"":                                "battery",
		"12.4 v":                          "line 1.battery",
		"battery: flooded":                "line 1.nominal_v",
		"battery: 12 V":                   "line 1.chemistry",
		"battery: flooded, 12 V, 650":     "line 1.item",
		"battery: flooded, 12 V, 5 A SAE": "line 1.item",
		"symptom: sneezes":                "line 1.symptom",
		"school: ninth":                   "line 1.school",
		"limit: drain 3 x":                "line 1.limit",
		"limit: drain_most 3 x":           "line 1.limit.drain_most",
		"limit: drain_most 0.03":          "line 1.limit.drain_most.note",
		"as of: tomorrow":                 "line 1.as of",
		"tag: LG-1":                       "line 1.battery",
		"battery: agm, 12 V\n12.4 v\nsg 1265 1265 1265 1265 1265 1265": "line 3.cells",
		"battery: flooded, 12 V\n\n12.4 v rested 2h colour blue":       "line 3.line",
	} {
		_, err := Parse(text)
		list, ok := err.(problem.List)
		if !ok {
			t.Errorf("%q was taken", text)
			continue
		}
		found := false
		for _, pr := range list {
			found = found || pr.Field == field && pr.Allowed != ""
		}
		if !found {
			t.Errorf("%q: %v, want %s", text, list, field)
		}
	}
}

// TestCaseAsJSON checks that a book's case is what the command assess takes.
func TestCaseAsJSON(t *testing.T) {
	b, err := Parse(job)
	if err != nil {
		t.Fatal(err)
	}
	data, err := json.Marshal(b.Case(0))
	if err != nil || !strings.Contains(string(data), `"amps":325`) {
		t.Errorf("%s %v", data, err)
	}
}

// TestFromCase checks that a case comes back from its book.
func TestFromCase(t *testing.T) {
	b, err := Parse(job)
	if err != nil {
		t.Fatal(err)
	}
	c := b.Case(0)
	again, err := Parse(Print(FromCase(c)))
	if err != nil {
		t.Fatal(err)
	}
	if got := again.Case(0); !reflect.DeepEqual(got, c) {
		t.Errorf("got %+v, want %+v", got, c)
	}
}

// FuzzBook checks that whatever is read prints as text that reads the same.
func FuzzBook(f *testing.F) {
	f.Add(job)
	f.Add("battery: flooded, 12 V\n12.4 v; look none")
	f.Add("complaint: a\ncomplaint:\ncomplaint: b: c\nbattery: agm, 6 V, 10 A CA\nposition: 1\n# x\nage 5y at 14:05")
	f.Add("as of: 2026-11-24T23:59:59.5+02:00\nvehicle: mower, engine none\nbattery: gel, 24 V, eye, full gravity 1.28")
	f.Fuzz(func(t *testing.T, text string) {
		b, err := Parse(text)
		if err != nil {
			return
		}
		printed := Print(b)
		again, err := Parse(printed)
		if err != nil {
			t.Fatalf("%q prints as %q: %v", text, printed, err)
		}
		if twice := Print(again); twice != printed {
			t.Fatalf("%q prints as %q and then as %q", text, printed, twice)
		}
	})
}
