package evidence

import (
	"errors"
	"strings"
	"testing"

	"grapnel/core/problem"
	"grapnel/core/school"
)

// TestDecodeRefuses checks that every problem is listed with the path of its
// field, what was given and what is allowed.
func TestDecodeRefuses(t *testing.T) {
	for _, c := range []struct{ json, fields string }{
		{`{`, "case"},
		{`[]`, "case"},
		{`{} {}`, "case"},
		{`{}`, "battery readings"},
		{`{"battery":{},"readings":[]}`, "battery.chemistry battery.nominal_v"},
		{`{"battery":{"chemistry":"wet","nominal_v":13},"readings":[]}`, "battery.chemistry battery.nominal_v"},
		{`{"battery":{"chemistry":"agm","nominal_v":12,"colour":"red"},"readings":[],"mood":1}`, "battery.colour mood"},
		{`{"battery":{"chemistry":"agm","nominal_v":12,"rating":{"value":"650"}},"readings":[]}`, "battery.rating.value battery.rating.standard"},
		{`{"battery":{"chemistry":"agm","nominal_v":12,"rating":{"value":650,"standard":"BCI"}},"readings":[]}`, "battery.rating.standard"},
		{`{"battery":{"chemistry":"agm","nominal_v":12,"made":"March"},"readings":[]}`, "battery.made"},
		{`{"battery":{"chemistry":"agm","nominal_v":12,"sealed":"yes","full_sg":1265}, "readings":[]}`, "battery.sealed battery.full_sg"},
		{`{"battery":{"chemistry":"agm","nominal_v":12},"vehicle":{"kind":"boat","wheels":4},"readings":[]}`, "vehicle.kind vehicle.wheels"},
		{`{"battery":{"chemistry":"agm","nominal_v":12},"symptom":["slow_crank","sad"],"school":"mine","tools":["hammer"],"readings":[]}`, "symptom school tools"},
		{`{"battery":{"chemistry":"agm","nominal_v":12},"as_of":"yesterday","readings":{}}`, "as_of readings"},
		{`{"battery":{"chemistry":"agm","nominal_v":12},"readings":[{"kind":"load","amps":-5,"seconds":15,"volts":9},"nonsense",7]}`, "readings[0].amps readings[1] readings[2]"},
		{`{"battery":{"chemistry":"agm","nominal_v":12},"readings":["24.5 v"]}`, "readings[0].volts"},
		{`{"battery":{"chemistry":"agm","nominal_v":6},"readings":["load 100a 15s 5v back 18v"]}`, "readings[0].recovered_volts"},
		{`{"battery":{"chemistry":"agm","nominal_v":12},"readings":[{"kind":"smell","amps":0.03}]}`, "readings[0].kind"},
		{`{"battery":{"chemistry":"agm","nominal_v":12},"readings":["sg 1265 1260 1265 1265 1260 1265"]}`, "readings[0].cells"},
		{`{"battery":{"chemistry":"flooded","sealed":true,"nominal_v":12},"readings":["level ok ok ok ok ok ok"]}`, "readings[0].cells"},
		{`{"battery":{"chemistry":"flooded","nominal_v":12},"readings":["sg 1265 1260 1265"]}`, "readings[0].cells"},
		{`{"battery":{"chemistry":"flooded","nominal_v":12},"readings":["24.8 v rested 2h"]}`, "readings[0].volts"},
		{`{"battery":{"chemistry":"flooded","nominal_v":12},"readings":["load 325a 70s 9.6v"]}`, "readings[0].seconds"},
		{`{"battery":{"chemistry":"flooded","nominal_v":12},"readings":["fuse F12 1.2mv"]}`, "readings[0].fuse_rating_a"},
		{`{"battery":{"chemistry":"flooded","nominal_v":12},"limits":{"drain_most":{"value":0.03}},"readings":[]}`, "limits.drain_most.note"},
		{`{"battery":{"chemistry":"flooded","nominal_v":12},"limits":{"drain_most":{"value":3,"note":"maker"}},"readings":[]}`, "limits.drain_most.value"},
		{`{"battery":{"chemistry":"flooded","nominal_v":12},"limits":{"drain":{"value":3,"note":"maker"}},"readings":[]}`, "limits.drain"},
	} {
		_, err := Decode(strings.NewReader(c.json))
		var list problem.List
		if !errors.As(err, &list) {
			t.Errorf("%s was taken", c.json)
			continue
		}
		var fields []string
		for _, p := range list {
			fields = append(fields, p.Field)
			if p.Allowed == "" || !strings.Contains(p.Text, p.Field) {
				t.Errorf("%s: bare problem %+v", c.json, p)
			}
		}
		if got := strings.Join(fields, " "); got != c.fields {
			t.Errorf("%s: problems of %q, want %q", c.json, got, c.fields)
		}
	}
}

// TestNullIsMissing checks that null and absence are the same.
func TestNullIsMissing(t *testing.T) {
	c, err := Decode(strings.NewReader(`{"as_of":null,"battery":{"chemistry":"agm","nominal_v":12,"rating":null,"capacity_ah":null,"made":null,"sealed":null,"position":null},"vehicle":null,"symptom":null,"school":null,"tools":null,"readings":[]}`))
	if err != nil {
		t.Fatal(err)
	}
	if c.Label.Rating != nil || c.Label.CapacityAh != nil || c.Vehicle.Kind != "" || len(c.Symptoms) > 0 {
		t.Errorf("null was taken for something: %+v", c)
	}
}

// TestTools checks that a shop that does not say has every tool, and one that
// names none has none.
func TestTools(t *testing.T) {
	for tools, want := range map[string]bool{"null": true, "[]": false, `["pile"]`: true, `["meter"]`: false} {
		c, err := Decode(strings.NewReader(`{"battery":{"chemistry":"agm","nominal_v":12},"readings":[],"tools":` + tools + `}`))
		if err != nil || c.HasTool("pile") != want {
			t.Errorf("%s: %v, %v", tools, c.HasTool("pile"), err)
		}
	}
}

// TestSlippedPoint checks that volts ten times too high on this label offer the
// likely meaning.
func TestSlippedPoint(t *testing.T) {
	_, err := Decode(strings.NewReader(`{"battery":{"chemistry":"flooded","nominal_v":6},"readings":["31.5 v"]}`))
	var list problem.List
	if !errors.As(err, &list) || len(list[0].Suggest) != 0 {
		t.Errorf("31.5 V on six volts: %v", err)
	}
	_, err = Decode(strings.NewReader(`{"battery":{"chemistry":"flooded","nominal_v":12},"readings":["126.5 v"]}`))
	if !errors.As(err, &list) || strings.Join(list[0].Suggest, "|") != "12.65 v" {
		t.Errorf("126.5 V: %v", err)
	}
}

// TestEpochs checks where a full charge divides the readings.
func TestEpochs(t *testing.T) {
	for lines, want := range map[string][]int{
		`"12.2 v"`: {0},
		`"12.2 v","load 300a 15s 9v","12.6 v after charge","load 300a 15s 9v"`:        {0, 2},
		`"12.6 v after charge","12.6 v after charge","load 300a 15s 9v after charge"`: {0},
		`"12.6 v after charge","12.2 v","12.6 v after charge"`:                        {0, 2},
		`"12.2 v","12.6 v after charge","12.6 v","load 300a 15s 9v after charge"`:     {0, 1, 3},
	} {
		c, err := Decode(strings.NewReader(`{"battery":{"chemistry":"flooded","nominal_v":12},"readings":[` + lines + `]}`))
		if err != nil {
			t.Fatal(err)
		}
		var got []int
		for _, e := range Examine(c).Epochs {
			got = append(got, e.First)
		}
		if len(got) != len(want) {
			t.Errorf("%s: epochs at %v, want %v", lines, got, want)
			continue
		}
		for i := range want {
			if got[i] != want[i] {
				t.Errorf("%s: epochs at %v, want %v", lines, got, want)
			}
		}
	}
}

// TestDecodeClearings reads stop rules that were lifted, and names what is wrong with
// one that is not.
func TestDecodeClearings(t *testing.T) {
	const head = `{"battery":{"chemistry":"flooded","nominal_v":12},"readings":["look frozen","look none"],"cleared":`
	c, err := Decode(strings.NewReader(head + `[{"stop":"frozen-or-damaged","readings":[0]}]}`))
	if err != nil || !c.Lifted(school.FrozenOrDamaged, 0) || c.Lifted(school.FrozenOrDamaged, 1) || c.Lifted(school.Gas, 0) {
		t.Errorf("%+v %v", c.Cleared, err)
	}
	for given, field := range map[string]string{
		`{}`: "cleared", `[7]`: "cleared[0]", `[{"stop":"rain","readings":[0]}]`: "cleared[0].stop", `[{"stop":"gas"}]`: "cleared[0].readings",
		`[{"stop":"gas","readings":[2]}]`: "cleared[0].readings", `[{"stop":"gas","readings":[0],"by":"me"}]`: "cleared[0].by", `[{"readings":[0]}]`: "cleared[0].stop",
	} {
		_, err := Decode(strings.NewReader(head + given + `}`))
		var list problem.List
		if !errors.As(err, &list) || list[0].Field != field {
			t.Errorf("%s: %v, want a problem of %s", given, err, field)
		}
	}
}
