package trail

import (
	"slices"
	"strings"
	"testing"

	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/reading"
	"grapnel/core/wording"
)

// TestTapsAreLines checks that whatever is kept by one tap is a reading line as the parser
// prints it, in words, and has words of its own: common practice, no source.
func TestTapsAreLines(t *testing.T) {
	var taps []Reply
	for _, place := range LookPlaces() {
		if place.Text == "" || strings.Contains(place.Text, "look ") {
			t.Errorf("%s has no name", place.Place)
		}
		taps = append(taps, place.Findings...)
	}
	looks := len(taps)
	for _, tap := range append(taps, Eyes()...) {
		parsed, err := reading.Parse(tap.Line)
		if printed := strings.ReplaceAll(reading.Print(parsed.Reading), "_", " "); err != nil || printed != tap.Line {
			t.Errorf("%q is kept as %q: %v", tap.Line, printed, err)
		}
		if tap.Text == "" {
			t.Errorf("%q has no words", tap.Line)
		}
	}
	if len(Eyes()) != 4 || looks < 20 {
		t.Errorf("%d colours, %d findings", len(Eyes()), looks)
	}
}

// TestEveryFindingHasItsPlace checks that all that a look can find can be tapped.
func TestEveryFindingHasItsPlace(t *testing.T) {
	var lines []string
	for _, place := range LookPlaces() {
		for _, f := range place.Findings {
			lines = append(lines, f.Line)
		}
	}
	for _, finding := range reading.Codes(reading.Look, reading.Finding) {
		words := "look " + strings.ReplaceAll(finding, "_", " ")
		if finding != "none" && !slices.ContainsFunc(lines, func(line string) bool { return strings.HasPrefix(line, words) }) {
			t.Errorf("%s stands at no place", finding)
		}
	}
}

// TestWaysItStood checks that volts with each of the offered rests can be read, and that
// the hour and the lamps make them count.
func TestWaysItStood(t *testing.T) {
	counts := map[string]bool{}
	for _, rest := range Rests() {
		parsed, err := reading.Parse("12.5 v 20c " + rest.Line)
		if err != nil {
			t.Errorf("%q: %v", rest.Line, err)
			continue
		}
		c := decode(t, flooded650, "", reading.Print(parsed.Reading))
		counts[rest.Line] = evidence.Examine(c).Findings[0].Valid
	}
	for line, want := range map[string]bool{"rested 1h": true, "lamps 2min wait 1min": true, "since drive": false, "since charge": false} {
		if got, ok := counts[line]; !ok || got != want {
			t.Errorf("%q counts: %v (offered %v), want %v", line, got, ok, want)
		}
	}
}

// TestBegins checks the line each wait leads to: nothing before it has something to add,
// and with a figure in its gap a reading.
func TestBegins(t *testing.T) {
	for _, kind := range Clocks() {
		if got := Begins(kind, ""); got != "" {
			t.Errorf("%s begins %q with nothing to say", kind, got)
		}
	}
	for kind, line := range map[string]string{
		Rest:      "12.5 v rested 61min",
		LampsWait: "12.5 v lamps 2min wait 15s",
		Sleep:     "drain 85 ma asleep 40min",
	} {
		_, says, _ := strings.Cut(line, " v ")
		gap := "12.5"
		if kind == Sleep {
			says, gap = "asleep 40min", "85 ma"
		}
		begun := Begins(kind, says)
		whole := strings.Replace(begun, "  ", " "+gap+" ", 1)
		if strings.HasPrefix(begun, " ") {
			whole = gap + begun
		}
		if whole != line {
			t.Errorf("%s: %q, want %q", kind, whole, line)
		}
		if _, err := reading.Parse(whole); err != nil {
			t.Errorf("%q: %v", whole, err)
		}
	}
	if Begins(LoadCool, "x") != "" {
		t.Error("a load that cools leads to no reading")
	}
}

// TestUrgency checks what is seen to first: danger before anything, what is late before
// what is not, a customer who can go before a battery that charges by itself.
func TestUrgency(t *testing.T) {
	order := []struct {
		wait string
		late bool
	}{{WaitStop, true}, {WaitCustomer, true}, {WaitCharge, true}, {WaitCustomer, false}, {WaitHands, false}, {WaitRest, false}, {WaitCharge, false}}
	for i := 1; i < len(order); i++ {
		before, after := order[i-1], order[i]
		if Urgency(before.wait, before.late) >= Urgency(after.wait, after.late) {
			t.Errorf("%v does not stand before %v", before, after)
		}
	}
	if Urgency(WaitStop, false) != Urgency(WaitStop, true) {
		t.Error("danger is not made worse by being late")
	}
}

// TestBoardWords checks that each wait is said in a few words.
func TestBoardWords(t *testing.T) {
	for _, wait := range WaitKinds() {
		if got := BoardWords(wait, diagnosis.Keep); got == "" || len(got) > 20 {
			t.Errorf("%s: %q", wait, got)
		}
	}
	if got := BoardWords(WaitCustomer, diagnosis.Replace); got != wording.Word("replace") {
		t.Errorf("the customer is told %q", got)
	}
}

// TestStagesHaveHeads checks that each stage says what it is about.
func TestStagesHaveHeads(t *testing.T) {
	for _, code := range StageCodes() {
		if !wording.Has("word.head_" + code) {
			t.Errorf("%s has no head", code)
		}
	}
	for stage, list := range Takes() {
		for _, take := range list {
			if !slices.Contains(StageCodes(), stage) || take.Text == "" || !strings.HasSuffix(take.Line, " ") {
				t.Errorf("%s: %+v", stage, take)
			}
		}
	}
}
