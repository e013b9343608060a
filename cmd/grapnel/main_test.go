package main

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"math"
	"slices"
	"strings"
	"testing"

	"grapnel/app/instrument"
	"grapnel/core/reading"
)

func command0(args []string, in string) (code int, out, errs string) {
	var o, e bytes.Buffer
	code = run(context.Background(), args, strings.NewReader(in), &o, &e)
	return code, o.String(), e.String()
}

// TestAssess checks the contract of the command: exit 0 with the answer, or 2
// with every problem on standard error and nothing on standard output.
func TestAssess(t *testing.T) {
	code, out, errs := command0([]string{"assess"}, `{"battery":{"chemistry":"flooded","nominal_v":12,"rating":{"value":650,"standard":"SAE"}},"readings":["12.24 v 18c rested 2h","load 325a 15s 9.3v"]}`)
	var answer struct {
		Verdict struct{ Action string }
	}
	if err := json.Unmarshal([]byte(out), &answer); err != nil || code != 0 || answer.Verdict.Action != "charge_and_retest" {
		t.Errorf("exit %d, %v, %s %s", code, err, out, errs)
	}
	code, out, errs = command0([]string{"assess"}, `{"battery":{"chemistry":"flooded","nominal_v":12},"readings":["12.24 v", {"kind":"load","amps":-3,"seconds":900,"volts":9}],"what":1}`)
	if code != exitBadInput || out != "" {
		t.Errorf("exit %d, output %q", code, out)
	}
	for _, field := range []string{"readings[1].amps", "readings[1].seconds", "what"} {
		if !strings.Contains(errs, field) {
			t.Errorf("%s is not named in %q", field, errs)
		}
	}
}

// TestCharge plans a charge over the command, has one refused, and bad input named field by
// field with nothing on standard output.
func TestCharge(t *testing.T) {
	battery := `"battery":{"chemistry":"flooded","nominal_v":12,"capacity_ah":65,"reserve_min":110}`
	code, out, errs := command0([]string{"charge"}, `{`+battery+`,"charge":{"percent":50},"charger":{"kind":"multi_stage","amps":[2,6]}}`)
	var answer struct {
		Allowed   bool
		Refusals  []struct{ Code string }
		Setting   *struct{ Amps float64 }
		RuleHours float64 `json:"rule_hours"`
	}
	if err := json.Unmarshal([]byte(out), &answer); err != nil || code != 0 || !answer.Allowed || answer.Setting.Amps != 6 || answer.RuleHours == 0 {
		t.Errorf("exit %d, %v, %s %s", code, err, out, errs)
	}
	code, out, _ = command0([]string{"charge"}, `{`+battery+`,"readings":["look crack"]}`)
	if err := json.Unmarshal([]byte(out), &answer); err != nil || code != 0 || answer.Allowed || answer.Setting != nil || len(answer.Refusals) != 1 {
		t.Errorf("a cracked case: exit %d, %v, %s", code, err, out)
	}
	code, out, errs = command0([]string{"charge"}, `{`+battery+`,"charge":{"percent":150},"charger":{"kind":"x"},"what":1}`)
	if code != exitBadInput || out != "" {
		t.Errorf("exit %d, output %q", code, out)
	}
	for _, field := range []string{"charge.percent", "charger.kind", "charger.amps", "what"} {
		if !strings.Contains(errs, field) {
			t.Errorf("%s is not named in %q", field, errs)
		}
	}
}

// TestJump works a jump out over the command, has one refused, and bad input named field by
// field with nothing on standard output.
func TestJump(t *testing.T) {
	dead := `"dead":{"battery":{"chemistry":"flooded","nominal_v":12,"capacity_ah":60},"charge":{"percent":20},"battery_c":%s}`
	var answer struct {
		Allowed bool
		Cranks  *struct{ Probability float64 }
		Cable   *struct{ Mohm float64 }
	}
	code, out, errs := command0([]string{"jump"}, "{"+fmt.Sprintf(dead, "20")+`,"cables":{"awg":4,"metres":3}}`)
	if err := json.Unmarshal([]byte(out), &answer); err != nil || code != 0 || !answer.Allowed || answer.Cranks.Probability < 0.9 || math.Abs(answer.Cable.Mohm-7.89) > 0.02 {
		t.Errorf("exit %d, %v, %s %s", code, err, out, errs)
	}
	code, out, _ = command0([]string{"jump"}, "{"+fmt.Sprintf(dead, "-30")+"}")
	answer.Cranks, answer.Cable = nil, nil
	if err := json.Unmarshal([]byte(out), &answer); err != nil || code != 0 || answer.Allowed || answer.Cranks != nil || answer.Cable != nil {
		t.Errorf("ice: exit %d, %v, %s", code, err, out)
	}
	code, out, errs = command0([]string{"jump"}, `{"with":{"kind":"rope"},"people":4}`)
	if code != exitBadInput || out != "" || !strings.Contains(errs, "dead") || !strings.Contains(errs, "with.kind") || !strings.Contains(errs, "people") {
		t.Errorf("exit %d, output %q, %q", code, out, errs)
	}
}

// TestStanding runs the forecast as a person at a shell does: a mower that freezes, from today
// where no day is said, and every wrong field named with nothing on standard output.
func TestStanding(t *testing.T) {
	var answer struct {
		Curve []struct{ Date string }
		Dates map[string]*struct{ Date, Early, Late string }
		Care  []struct {
			Kind string
			Fits bool
		}
		Cautions []string
	}
	code, out, errs := command0([]string{"standing"}, `{"battery":{"chemistry":"flooded","nominal_v":12,"capacity_ah":28},"charge":{"percent":40},"vehicle":{"kind":"mower"},"from":"2026-11-21","climate":"cold","mains":true}`)
	if err := json.Unmarshal([]byte(out), &answer); err != nil || code != 0 || len(answer.Curve) != 181 || answer.Dates["freezes"] == nil || len(answer.Care) < 5 || !answer.Care[0].Fits || !slices.Contains(answer.Cautions, "frozen-or-damaged") {
		t.Errorf("exit %d, %v, %.300s %s", code, err, out, errs)
	}
	code, out, errs = command0([]string{"standing"}, `{"battery":{"chemistry":"flooded","nominal_v":12},"days":1}`)
	if err := json.Unmarshal([]byte(out), &answer); err != nil || code != 0 || answer.Curve[0].Date < "2026-11-29" {
		t.Errorf("from today: exit %d, %v, %s", code, answer.Curve, errs)
	}
	code, out, errs = command0([]string{"standing"}, `{"from":"soon","place":"attic"}`)
	for _, field := range []string{"battery", "from", "place"} {
		if code != exitBadInput || out != "" || !strings.Contains(errs, field) {
			t.Errorf("exit %d, output %q: %s is not named in %q", code, out, field, errs)
		}
	}
}

// TestFit chooses over the command, gives the order of work as procedure show takes it, and
// names bad input field by field with nothing on standard output.
func TestFit(t *testing.T) {
	var answer struct {
		Fits []struct {
			ID, Verdict string
			TestFirst   bool `json:"test_first"`
		}
		Procedure json.RawMessage
	}
	const old = `{"chemistry":"agm","nominal_v":12,"rating":{"value":180,"standard":"SAE"},"capacity_ah":11}`
	code, out, errs := command0([]string{"fit"}, `{"need":{"original":{"battery":`+old+`},"layout":"positive_left","vehicle":{"kind":"motorcycle"}},
		"stock":[{"id":"swapped","battery":`+old+`,"layout":"positive_right"},{"id":"same","battery":`+old+`,"layout":"positive_left","made":"2026-10"}],"today":"2026-11-29"}`)
	err := json.Unmarshal([]byte(out), &answer)
	if err != nil || code != 0 || len(answer.Fits) != 2 || answer.Fits[0].ID != "same" || answer.Fits[0].Verdict != "fits" || answer.Fits[1].Verdict != "no" || !answer.Fits[0].TestFirst {
		t.Errorf("exit %d, %v, %s %s", code, err, out, errs)
	}
	if code, shown, errs := command0([]string{"procedure", "show"}, string(answer.Procedure)); code != 0 || !strings.Contains(shown, "lift_off") {
		t.Errorf("its order of work: exit %d, %s", code, errs)
	}
	code, out, errs = command0([]string{"fit"}, `{"need":{"tray":{"depth":3}},"stock":[{"id":"a","battery":null}]}`)
	for _, field := range []string{"need.original", "need.tray.depth", "stock[0].battery", "today"} {
		if code != exitBadInput || out != "" || !strings.Contains(errs, field) {
			t.Errorf("exit %d, output %q: %s is not named in %q", code, out, field, errs)
		}
	}
}

// TestProcedure shows the first setting of every procedure that is listed, has the checker
// take what was shown as it stands and object to it with a step left out, and bad input named.
func TestProcedure(t *testing.T) {
	code, out, errs := command0([]string{"procedure", "list"}, "")
	var list []struct {
		Name     string
		Settings []map[string]string
		Schools  []string
		People   []int
	}
	if err := json.Unmarshal([]byte(out), &list); err != nil || code != 0 || len(list) != 13 || list[0].Name != "jump" || list[0].Settings[0]["vehicle"] != "car" {
		t.Fatalf("exit %d, %v, %s %s", code, err, out, errs)
	}
	for _, l := range list {
		ask, _ := json.Marshal(map[string]any{"name": l.Name, "setting": l.Settings[0], "people": l.People[0]})
		code, out, errs := command0([]string{"procedure", "show"}, string(ask))
		var shown struct {
			Scene json.RawMessage
			Steps []map[string]any
			Ends  struct{ Joined [][2]string }
		}
		if err := json.Unmarshal([]byte(out), &shown); err != nil || code != 0 || len(shown.Steps) < 4 || shown.Ends.Joined == nil {
			t.Errorf("%s: exit %d, %v, %s", ask, code, err, errs)
		}
		if code, said, errs := command0([]string{"procedure", "check"}, out); code != 0 || !strings.Contains(said, `"safe": true`) {
			t.Errorf("%s: exit %d, %s %s", ask, code, said, errs)
		}
		at := slices.IndexFunc(shown.Steps, func(st map[string]any) bool { return st["op"] == "unclamp" })
		if at < 0 {
			continue
		}
		order, _ := json.Marshal(map[string]any{"scene": shown.Scene, "steps": slices.Delete(shown.Steps, at, at+1)})
		if code, said, errs := command0([]string{"procedure", "check"}, string(order)); code != 0 || !strings.Contains(said, `"safe": false`) {
			t.Errorf("%s without a step: exit %d, %s %s", ask, code, said, errs)
		}
	}
	for _, bad := range [][2]string{{"show", `{"name": "fly"}`}, {"check", `{"steps": []}`}, {"fold", `{}`}} {
		if code, out, errs := command0([]string{"procedure", bad[0]}, bad[1]); code != exitBadInput || out != "" || errs == "" {
			t.Errorf("%v: exit %d, %q %q", bad, code, out, errs)
		}
	}
}

// TestShelf plans a shelf over the command in the zone that is asked for, and has bad input
// named field by field with nothing on standard output.
func TestShelf(t *testing.T) {
	question := `{"now": "2026-11-24T08:00:00Z", "zone": "Asia/Tokyo", "channels": [{"id": "a", "charger": {"kind": "multi_stage", "amps": [2, 6]}}],
		"batteries": [{"id": "7", "battery": {"chemistry": "flooded", "nominal_v": 12, "capacity_ah": 65}, "charge": {"percent": 50}}]}`
	code, out, errs := command0([]string{"shelf"}, question)
	var answer struct {
		Plan []struct{ Battery, Channel, On string }
		Cost struct {
			FlatHours float64 `json:"flat_hours"`
		}
	}
	if err := json.Unmarshal([]byte(out), &answer); err != nil || code != 0 || len(answer.Plan) != 1 || answer.Plan[0].On != "2026-11-24T17:00:00+09:00" || answer.Cost.FlatHours == 0 {
		t.Errorf("exit %d, %v, %s %s", code, err, out, errs)
	}
	code, out, errs = command0([]string{"shelf"}, `{"zone": "Nowhere", "batteries": [{"id": "7"}], "what": 1}`)
	if code != exitBadInput || out != "" {
		t.Errorf("exit %d, output %q", code, out)
	}
	for _, field := range []string{"now", "zone", "batteries[0].battery", "what"} {
		if !strings.Contains(errs, field) {
			t.Errorf("%s is not named in %q", field, errs)
		}
	}
}

func TestCommands(t *testing.T) {
	for _, c := range []struct {
		args []string
		code int
		says string
	}{
		{nil, 0, "assess"},
		{[]string{"help"}, 0, "GRAPNEL_DSN"},
		{[]string{"version"}, 0, release},
		{[]string{"juggle"}, exitBadInput, `no command "juggle"`},
		{[]string{"version", "now"}, exitBadInput, `unexpected "now"`},
		{[]string{"assess", "-fast"}, exitBadInput, "fast"},
		{[]string{"serve", "-h"}, 0, "address"},
	} {
		code, out, errs := command0(c.args, "")
		if code != c.code || !strings.Contains(out+errs, c.says) {
			t.Errorf("%v: exit %d, %q %q", c.args, code, out, errs)
		}
	}
}

// TestEveryKind gives the command each kind of reading as a line and as an
// object, and finds the same answer.
func TestEveryKind(t *testing.T) {
	for _, kind := range reading.Kinds() {
		line := reading.Example(reading.Kind(kind))
		parsed, err := reading.Parse(line)
		if err != nil {
			t.Fatal(err)
		}
		object, err := json.Marshal(parsed.Reading)
		if err != nil {
			t.Fatal(err)
		}
		quoted, err := json.Marshal(line)
		if err != nil {
			t.Fatal(err)
		}
		answer := func(r []byte) string {
			code, out, errs := command0([]string{"assess"}, `{"battery":{"chemistry":"flooded","nominal_v":12,"rating":{"value":650,"standard":"SAE"},"sealed":false},"readings":[`+string(r)+`]}`)
			if code != 0 {
				t.Fatalf("%s: exit %d, %s", r, code, errs)
			}
			return out
		}
		asLine := answer(quoted)
		if asLine != answer(object) || !strings.Contains(asLine, `"kind": "`+kind+`"`) {
			t.Errorf("%s: the line and its object differ", line)
		}
	}
}

// TestSources checks that every figure is printed with its tag.
func TestSources(t *testing.T) {
	code, out, errs := command0([]string{"sources"}, "")
	if code != 0 || errs != "" {
		t.Fatalf("exit %d, %s", code, errs)
	}
	var lines []string
	for _, line := range strings.Split(strings.TrimSpace(out), "\n") {
		if strings.HasPrefix(line, "   ") {
			continue // a row of the table above
		}
		lines = append(lines, line)
		if !strings.HasPrefix(line, "[P]") && !strings.HasPrefix(line, "[CP]") && !strings.HasPrefix(line, "[M]") && !strings.HasPrefix(line, "[C]") {
			t.Errorf("no tag: %s", line)
		}
	}
	for _, figure := range []string{"school.limits.load_least", "battery.openCircuit", "circuit.fuses", "charging.gassing", "fitting.torques", "IEC 62485"} {
		if !strings.Contains(out, figure) {
			t.Errorf("%s is not listed", figure)
		}
	}
	code, out, _ = command0([]string{"sources", "-json"}, "")
	var entries []map[string]any
	if err := json.Unmarshal([]byte(out), &entries); err != nil || code != 0 || len(entries) != len(lines) {
		t.Errorf("as JSON: exit %d, %d entries of %d, %v", code, len(entries), len(lines), err)
	}
}

// TestReadingLine checks that the page is printed.
func TestReadingLine(t *testing.T) {
	if code, out, _ := command0([]string{"reading-line"}, ""); code != 0 || !strings.HasPrefix(out, "# The reading line") {
		t.Errorf("exit %d, %.60s", code, out)
	}
}

const textJob = `as of: 2026-11-20T08:00:00Z
customer: Ines Calloway
plate: TX 7
vehicle: car, petrol, 2 l
symptom: slow_crank
school: quick_9v
battery: flooded, 12 V, 650 A SAE, 65 Ah, caps open
tag: LG-7
position: left

12.24 v 18c rested 2h
load 325a 15s 9.3v at 2026-11-20T09:30:00Z
age 5y

battery: agm, 12 V, sealed
position: right

12.8 v rested 3h; look none
`

// TestTextWithoutAShop turns a job in plain text into cases and a case back.
func TestTextWithoutAShop(t *testing.T) {
	code, out, errs := command0([]string{"import", "-case"}, textJob)
	if code != 0 || strings.Count(out, `"battery"`) != 2 {
		t.Fatalf("exit %d, %s%s", code, out, errs)
	}
	var first json.RawMessage
	if err := json.NewDecoder(strings.NewReader(out)).Decode(&first); err != nil {
		t.Fatal(err)
	}
	if code, answer, errs := command0([]string{"assess"}, string(first)); code != 0 || !strings.Contains(answer, "charge_and_retest") && !strings.Contains(answer, "look_elsewhere") {
		t.Errorf("exit %d, %s", code, errs)
	}
	code, text, errs := command0([]string{"export", "-case"}, string(first))
	if code != 0 || !strings.Contains(text, "12.24 v 18c rested 2h\n") {
		t.Errorf("exit %d, %s%s", code, text, errs)
	}
	if code, again, _ := command0([]string{"import", "-case"}, text); code != 0 || again != indented(t, first) {
		t.Errorf("the case comes back as\n%s, not\n%s", again, first)
	}
	code, out, errs = command0([]string{"import", "-case"}, "battery: flooded, 12 V\n12.4 v purple\n")
	if code != exitBadInput || out != "" || !strings.Contains(errs, "line 2") {
		t.Errorf("exit %d, %q, %s", code, out, errs)
	}
	if code, _, errs := command0([]string{"import", "/no/such/file"}, ""); code != exitBadInput || errs == "" {
		t.Errorf("a missing file: exit %d, %s", code, errs)
	}
}

func indented(t *testing.T, data []byte) string {
	t.Helper()
	var out bytes.Buffer
	if err := json.Indent(&out, data, "", "  "); err != nil {
		t.Fatal(err)
	}
	return out.String() + "\n"
}

// TestInstruments starts the simulated bench, reads its meter by its own protocol,
// and checks that what is out of range is named.
func TestInstruments(t *testing.T) {
	ctx, stop := context.WithCancel(t.Context())
	out, in := io.Pipe()
	ended := make(chan int, 1)
	go func() {
		ended <- run(ctx, []string{"instruments", "-port", "0", "-charge", "100"}, nil, in, io.Discard)
		in.Close()
	}()
	var protocol, address string
	if _, err := fmt.Fscanf(bufio.NewReader(out), "Bench multimeter %s %s\n", &protocol, &address); err != nil {
		t.Fatal(err)
	}
	go io.Copy(io.Discard, out)
	meter, err := instrument.Network{}.Dial(ctx, instrument.Protocol(protocol), address)
	if err != nil {
		t.Fatal(err)
	}
	if got, err := meter.Read(ctx); err != nil || got.Unit != instrument.Volt || got.Value < 12.5 || got.Value > 12.8 {
		t.Errorf("%+v %v", got, err)
	}
	meter.Close()
	stop()
	if code := <-ended; code != 0 {
		t.Errorf("exit %d", code)
	}
	var errs strings.Builder
	if code := run(t.Context(), []string{"instruments", "-charger", "-fault", "smoke"}, nil, io.Discard, &errs); code != exitBadInput || !strings.Contains(errs.String(), "fault: given smoke, allowed not_accepting") {
		t.Errorf("a fault that there is not: exit %d, %s", code, errs.String())
	}
	errs.Reset()
	if code := run(t.Context(), []string{"instruments", "-charge", "140"}, nil, io.Discard, &errs); code != exitBadInput || !strings.Contains(errs.String(), "charge: given 140, allowed 0 to 100") {
		t.Errorf("exit %d, %s", code, errs.String())
	}
}
