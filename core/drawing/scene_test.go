package drawing_test

import (
	"math"
	"slices"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/diagnosis"
	"grapnel/core/drawing"
	"grapnel/core/evidence"
	"grapnel/core/reading"
	"grapnel/core/trail"
	"grapnel/core/wording"
)

// situation is a car's battery with some lines read on it.
func situation(t *testing.T, mounting trail.Mounting, earth string, lines ...string) *trail.Situation {
	t.Helper()
	sealed := false
	c := evidence.Case{
		Label:   battery.Label{Chemistry: battery.Flooded, NominalV: 12, Sealed: &sealed},
		Vehicle: evidence.Vehicle{Kind: "car", Earth: earth},
	}
	for i, line := range lines {
		parsed, err := reading.ParseAll(line)
		if err != nil {
			t.Fatal(err)
		}
		c.Readings = append(c.Readings, evidence.Taken{ID: wording.Ref(rune('a' + i)), Reading: parsed[0].Reading})
	}
	a := diagnosis.New().Assess(c)
	return &trail.Situation{Case: c, Mounting: mounting, Assessment: a, Answers: map[string]trail.Answer{}}
}

func find(t *testing.T, sc drawing.Scene, id string) drawing.Part {
	t.Helper()
	for _, p := range sc.Parts {
		if p.ID == id {
			return p
		}
	}
	t.Fatalf("%s has no %s", sc.Code, id)
	return drawing.Part{}
}

// TestWhatWasSeen checks that each finding stands on its own part, on its own side.
func TestWhatWasSeen(t *testing.T) {
	s := situation(t, trail.Mounting{}, "", "look corrosion positive heavy", "look cable green negative", "look crack", "look none")
	sc := drawing.Battery(s)
	if p := find(t, sc, "positive"); p.State != drawing.Found || len(p.Marks) != 1 || p.Marks[0] != "corrosion" {
		t.Errorf("the positive post: %+v", p)
	}
	if p := find(t, sc, "negative"); p.State != drawing.Plain {
		t.Errorf("the negative post: %+v", p)
	}
	if p := find(t, sc, "case"); len(p.Marks) != 1 || p.Marks[0] != "crack" {
		t.Errorf("the case: %+v", p)
	}
	for _, lead := range sc.Leads {
		if bad := lead.State == drawing.Bad; bad != (lead.ID == "cable_negative") {
			t.Errorf("%s: %q", lead.ID, lead.State)
		}
	}
	if want := "Battery, seen: " + wording.Word("cable_green") + ", " + wording.Word("corrosion") + ", " + wording.Word("crack"); sc.Says.Text != want {
		t.Errorf("it says %q, not %q", sc.Says.Text, want)
	}
	if clean := drawing.Battery(situation(t, trail.Mounting{}, "", "look none")); clean.Says.Code != "scene.battery_clean" {
		t.Errorf("a clean one says %q", clean.Says.Text)
	}
}

// TestCircuitHasItsDrops checks that a drop lies at its joint, judged against its limit (0.2 V
// a clamp while cranking, common practice), and that on a positive earth the signs swap with
// their joints.
func TestCircuitHasItsDrops(t *testing.T) {
	sc, ok := drawing.Circuit(situation(t, trail.Mounting{}, "positive", "drop negative_clamp 0.45v 150a", "drop positive_clamp 0.03v 150a"))
	if !ok {
		t.Fatal("no circuit")
	}
	if p := find(t, sc, "negative_clamp"); p.State != drawing.Bad || p.Value == "" {
		t.Errorf("the bad joint: %+v", p)
	}
	if plus, minus := find(t, sc, "positive_clamp"), find(t, sc, "negative_clamp"); plus.X >= minus.X {
		t.Errorf("the earthed plus clamp at %v, the live minus one at %v: the body is on the left", plus.X, minus.X)
	}
	if p := find(t, sc, "positive_clamp"); p.State != drawing.Good {
		t.Errorf("the good joint: %+v", p)
	}
	for _, p := range sc.Parts {
		if p.Hit == "" {
			continue
		}
		taken, err := reading.Parse(p.Line + "0.1v")
		if err != nil || taken.Reading.Kind != reading.Drop || taken.Reading.Choice(reading.Where) != p.Hit {
			t.Errorf("%s begins %q: %v", p.Hit, p.Line, err)
		}
	}
	numbers := map[string]int{}
	for _, step := range trail.Steps(situation(t, trail.Mounting{}, "positive"), trail.StageVehicle) {
		if step.Number > 0 {
			numbers[string(step.Kind)] = step.Number
		}
	}
	if p := find(t, sc, "negative_cable"); !slices.Equal(p.Tests, []int{numbers["drain"]}) || numbers["drain"] == 0 {
		t.Errorf("the drain is test %d and stands at its cable as %v", numbers["drain"], p.Tests)
	}
	if p := find(t, sc, "battery"); !slices.Contains(p.Tests, numbers["crank"]) || !slices.Contains(p.Tests, numbers["charging"]) {
		t.Errorf("the battery's posts have the tests %v of %v", p.Tests, numbers)
	}
	left, right := find(t, sc, "post_minus"), find(t, sc, "post_plus")
	if left.Sign != "+" || right.Sign != "−" || left.X > right.X {
		t.Errorf("signs %q at %.0f and %q at %.0f", left.Sign, left.X, right.Sign, right.X)
	}
	bare := situation(t, trail.Mounting{}, "")
	bare.Case.Vehicle = evidence.Vehicle{}
	if _, ok := drawing.Circuit(bare); ok {
		t.Error("a battery by itself has a circuit")
	}
}

// TestEveryScene checks that every part of every scene lies within it, carries an ID of its
// own, and that each scene is said.
func TestEveryScene(t *testing.T) {
	for _, joined := range append(trail.Joins(), "") {
		for _, where := range trail.Places() {
			for _, posts := range trail.Posts() {
				for _, sc := range drawing.Of(situation(t, trail.Mounting{Where: where, Posts: posts, Joined: joined}, "")) {
					ids := map[string]bool{}
					for _, p := range sc.Parts {
						if ids[p.ID] {
							t.Errorf("%s has %s twice", sc.Code, p.ID)
						}
						ids[p.ID] = true
						if p.Symbol != "" && !slices.Contains(drawing.Symbols(), p.Symbol) {
							t.Errorf("%s is drawn as %q, which no symbol is", p.ID, p.Symbol)
						}
						if p.X < 0 || p.Y < 0 || p.X+p.W > sc.Width || p.Y+p.H > sc.Height || math.IsNaN(p.X+p.Y) {
							t.Errorf("%s: %s lies outside: %+v", sc.Code, p.ID, p)
						}
					}
					if !wording.Has(sc.Says.Code) {
						t.Errorf("%s is not said: %+v", sc.Code, sc.Says)
					}
				}
			}
		}
	}
}
