package shop

import (
	"testing"
	"time"

	"grapnel/core/battery"
	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/reading"
	"grapnel/core/school"
)

// What was found of a case is said again of the very same one and of no other. No source: it
// is how the program is to behave.
func TestTheSameCaseIsJudgedOnce(t *testing.T) {
	parsed, err := reading.ParseAll("12.4v rested 4h; 12.3v rested 4h")
	if err != nil {
		t.Fatal(err)
	}
	now := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	c := evidence.Case{
		Label: battery.Label{Chemistry: battery.Flooded, NominalV: 12, Rating: &battery.Rating{Value: 650, Standard: battery.SAE}},
		AsOf:  "2026-11-24", Now: now, Readings: evidence.Untimed(parsed[0].Reading),
	}
	c.Readings[0].ID, c.Readings[0].At = "first", now
	j := newJudged(diagnosis.New())
	found := j.Assess(c)
	// A mark that the engine never makes tells a case said again from one judged anew.
	const mark = diagnosis.Action("said again")
	kept := found
	kept.Verdict.Action = mark
	of := fingerprintOf(c)
	again := func(change func(*evidence.Case)) bool {
		other := c
		other.Readings = append([]evidence.Taken{}, c.Readings...)
		change(&other)
		j.last = map[fingerprint]diagnosis.Assessment{of: kept}
		return j.Assess(other).Verdict.Action == mark
	}
	if !again(func(*evidence.Case) {}) {
		t.Error("the same case was judged twice")
	}
	if !again(func(c *evidence.Case) { c.Now = now.Add(time.Hour) }) {
		t.Error("an hour later on the same day it was judged anew")
	}
	for name, change := range map[string]func(*evidence.Case){
		"another day":     func(c *evidence.Case) { c.AsOf = "2026-11-25" },
		"another label":   func(c *evidence.Case) { c.Label.NominalV = 6 },
		"another symptom": func(c *evidence.Case) { c.Symptoms = []string{"dead"} },
		"another hour":    func(c *evidence.Case) { c.Readings[0].At = now.Add(time.Hour) },
		"another reading": func(c *evidence.Case) { c.Readings[0].ID = "second" },
		"a lifted stop":   func(c *evidence.Case) { c.Cleared = []evidence.Clearing{{Stop: "frozen"}} },
		"no day said":     func(c *evidence.Case) { c.AsOf = "" },
		"no name":         func(c *evidence.Case) { c.Readings[0].ID = "" },
		"another zone":    func(c *evidence.Case) { c.Readings[0].At = now.In(time.FixedZone("there", 0)) },
		"another value":   func(c *evidence.Case) { c.Readings[0].Reading = parsed[1].Reading },
		"an own limit":    func(c *evidence.Case) { c.Own = school.Own{"age_years": school.Override{Value: 5}} },
		"another vehicle": func(c *evidence.Case) { c.Vehicle.Kind = "mower" },
	} {
		if again(change) {
			t.Errorf("%s: it was said again", name)
		}
	}
	// Whoever was given the page may write into what they were given: the label is still the
	// one that was judged first, by its address.
	if again(func(c *evidence.Case) { c.Label.Rating.Value = 600 }) {
		t.Error("a label that was written over was taken for the one before")
	}
	if found.Verdict.Action == mark || found.Verdict.Action == "" {
		t.Errorf("judged: %q", found.Verdict.Action)
	}
}
