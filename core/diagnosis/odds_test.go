package diagnosis

import (
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"grapnel/core/evidence"
)

// randomLine is a reading at random, of those that tell of the battery.
func randomLine(r *rand.Rand, charged string) string {
	switch r.IntN(9) {
	case 0, 1:
		return fmt.Sprintf("%.2f v %dc rested %dh%s", 9.5+3.4*r.Float64(), r.IntN(40)-10, 1+r.IntN(20), charged)
	case 2, 3:
		return fmt.Sprintf("load %da 15s %.2fv%s", 250+r.IntN(150), 6+5*r.Float64(), charged)
	case 4:
		return fmt.Sprintf("%d/650 cca%s", 150+r.IntN(550), charged)
	case 5:
		cells := ""
		for range 6 {
			cells += fmt.Sprintf(" %d", 1265-r.IntN(30)*r.IntN(4))
		}
		return fmt.Sprintf("sg%s at %dc%s", cells, 5+r.IntN(30), charged)
	case 6:
		return fmt.Sprintf("reserve %da %dmin 12.6v to %.2fv%s", 5+r.IntN(20), 10+r.IntN(150), 10.5+1.7*r.Float64(), charged)
	case 7:
		return fmt.Sprintf("crank %.2fv 3s%s", 7+4*r.Float64(), charged)
	}
	return fmt.Sprintf("charge 14.4v %da %dmin", 1+r.IntN(15), 30+r.IntN(600))
}

// TestReplaceIsBorneOut puts cases at random through the engine: a battery is never replaced
// with the odds against it, and never without a test that counts. The rules of judgement,
// common practice, no source.
func TestReplaceIsBorneOut(t *testing.T) {
	r := rand.New(rand.NewPCG(20, 26))
	labels := []string{flooded650 + `,"capacity_ah":65,"reserve_min":110,"sealed":false`, opens650, flooded650 + `,"deep_cycle":true,"capacity_ah":65,"sealed":false`}
	vehicles := []string{"", `,"vehicle":{"kind":"car"}`, `,"symptom":"preventive"`, `,"symptom":"slow_crank","vehicle":{"kind":"car","start_stop":true}`}
	replaced := 0
	for n := range 1200 {
		var lines []string
		charged := ""
		for range 1 + r.IntN(7) {
			if r.IntN(3) == 0 {
				charged = " after charge"
			}
			lines = append(lines, randomLine(r, charged))
		}
		a := judged.Brief(decode(t, labels[n%3], vehicles[n%4], lines...))
		if a.Verdict.Action != Replace {
			continue
		}
		replaced++
		if a.Verdict.Confidence < 0.5 {
			t.Errorf("%d: %v: replaced at %.3f, %+v", n, lines, a.Verdict.Confidence, a.Condition)
		}
	}
	if replaced < 120 {
		t.Errorf("only %d were replaced", replaced)
	}
}

// TestAnyCase puts lines of every kind together at random, on every kind of battery and
// vehicle: whatever comes in, the answer is whole, its sentences are filled in, and no battery
// is replaced with the odds against it.
func TestAnyCase(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 4))
	labels := []string{
		flooded650, opens650, agm180, six300, lithium, unrated, `"chemistry":"unknown","nominal_v":12`, `"chemistry":"gel","nominal_v":12,"capacity_ah":40`,
		`"chemistry":"flooded","nominal_v":24,"rating":{"value":900,"standard":"EN"}`, `"chemistry":"flooded","nominal_v":8,"capacity_ah":70,"full_sg":1.29,"sealed":false`,
		flooded650 + `,"deep_cycle":true,"capacity_ah":65,"sealed":false`,
	}
	vehicles := []string{
		"", `,"vehicle":{"kind":"none"}`, `,"vehicle":{"kind":"hybrid"}`, `,"vehicle":{"kind":"electric"},"tools":["meter"]`, `,"vehicle":{"kind":"car","start_stop":true},"tools":[]`,
		`,"vehicle":{"kind":"mower"},"symptom":"flat_after_storage"`, `,"vehicle":{"kind":"classic","system_v":6,"required_cca":300},"symptom":["silent","slow_crank"]`,
		`,"vehicle":{"kind":"truck","engine":"diesel","litres":9},"school":"starter_10v"`,
	}
	tried := 0
	for range 2000 {
		var lines []string
		for range 1 + r.IntN(6) {
			lines = append(lines, farLines[r.IntN(len(farLines))])
			if r.IntN(4) == 0 {
				lines = append(lines, randomLine(r, ""))
			}
		}
		text, err := json.Marshal(lines)
		if err != nil {
			t.Fatal(err)
		}
		c, err := evidence.Decode(strings.NewReader(fmt.Sprintf(`{"battery":{%s}%s,"readings":%s}`, labels[r.IntN(len(labels))], vehicles[r.IntN(len(vehicles))], text)))
		if err != nil {
			continue // more than this battery can show
		}
		tried++
		a := judged.Assess(c)
		out, err := json.Marshal(a)
		if err != nil || strings.ContainsAny(string(out), "⟨⟩") {
			t.Fatalf("%v: %v %s", lines, err, out)
		}
		if sum := a.Condition.Sound + a.Condition.Worn + a.Condition.DeadCell + a.Condition.Damaged; math.Abs(sum-1) > 1e-6 {
			t.Errorf("%v: the condition sums to %g", lines, sum)
		}
		if a.Verdict.Action == Replace && a.Verdict.Confidence < 0.5 {
			t.Errorf("%v: replaced at %.3f", lines, a.Verdict.Confidence)
		}
	}
	if tried < 800 {
		t.Errorf("only %d could be", tried)
	}
}
