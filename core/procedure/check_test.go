package procedure_test

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"testing"

	"grapnel/core/procedure"
	"grapnel/core/safety"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// scene is one car with its battery, written as somebody outside would: only what is needed
// is said. The %s take more sources, places, leads, joints and fields.
const scene = `{"sources": [{"id": "battery", "plus": "bp", "minus": "bm", "nominal_v": 12, "gassing": true, "kind": "battery"}%s],
 "places": [{"id": "bp", "on": "battery", "kind": "post"}, {"id": "bm", "on": "battery", "kind": "post"},
  {"id": "cp", "on": "car", "kind": "clamp_end"}, {"id": "cm", "on": "car", "kind": "clamp_end"},
  {"id": "eye", "on": "car", "kind": "body"}, {"id": "belt", "on": "car", "kind": "body", "hazards": ["belt"]},
  {"id": "starter", "on": "car", "kind": "stud"}, {"id": "mat", "on": "ground", "kind": "away"}%s],
 "leads": [{"id": "cable_plus", "ends": ["cp", "starter"], "colour_role": "plus"}, {"id": "cable_minus", "ends": ["cm", "eye"], "colour_role": "minus"}%s],
 "joined": [["cp", "bp"], ["cm", "bm"], ["belt", "eye"]%s], "earth": "negative"%s}`

// Things brought to it.
const (
	donor       = `, {"id": "donor", "plus": "dp", "minus": "dm", "nominal_v": 12, "gassing": true, "kind": "donor"}`
	smallDonor  = `, {"id": "donor", "plus": "dp", "minus": "dm", "nominal_v": 6, "gassing": true, "kind": "donor"}`
	donorPlaces = `, {"id": "dp", "on": "donor", "kind": "post"}, {"id": "dm", "on": "donor", "kind": "post"}, {"id": "dbody", "on": "donor", "kind": "body"}`
	jumpLeads   = `, {"id": "red", "ends": ["r1", "r2"], "colour_role": "plus"}, {"id": "black", "ends": ["k1", "k2"], "colour_role": "minus"}`
	donorBody   = `, ["dm", "dbody"]`
	touching    = `, ["dm", "dbody"], ["dbody", "eye"]`
	charger     = `, {"id": "charger", "plus": "xp", "minus": "xm", "nominal_v": 12, "kind": "charger"}`
	chargerLead = `, {"id": "x1", "ends": ["xp", "x_plus"], "colour_role": "plus"}, {"id": "x2", "ends": ["xm", "x_minus"], "colour_role": "minus"}`
	supply      = `, {"id": "ka", "plus": "xp", "minus": "xm", "nominal_v": 12, "kind": "keep_alive"}`
	supplyLead  = `, {"id": "x1", "ends": ["xp", "x_plus"], "colour_role": "plus", "fuse_a": 5}, {"id": "x2", "ends": ["xm", "x_minus"], "colour_role": "minus"}`
	meter       = `, {"id": "meter", "ends": ["m1", "m2"], "colour_role": "minus", "fuse_a": 10}`
)

func sceneOf(sources, places, leads, joined, fields string) string {
	return fmt.Sprintf(scene, sources, places, leads, joined, fields)
}

func jumping(fields string) string {
	return sceneOf(donor, donorPlaces, jumpLeads, donorBody, fields)
}

// steps are written as op end place, a source after @, and joined by semicolons.
func steps(text string) string {
	var out []string
	for _, one := range strings.Split(text, ";") {
		words := strings.Fields(one)
		st := map[string]any{"op": words[0]}
		for i, key := range []string{"end", "place"} {
			if len(words) <= i+1 {
				break
			}
			if source, ok := strings.CutPrefix(words[i+1], "@"); ok {
				st["source"] = source
			} else if words[i+1] == "-" {
				continue
			} else if words[0] == "do" {
				st["cautions"] = []string{words[i+1]}
			} else {
				st[key] = words[i+1]
			}
		}
		raw, _ := json.Marshal(st)
		out = append(out, string(raw))
	}
	return "[" + strings.Join(out, ",") + "]"
}

func verdict(t *testing.T, sc, order string) procedure.Verdict {
	t.Helper()
	o, err := procedure.Decode(strings.NewReader(`{"scene": ` + sc + `, "steps": ` + steps(order) + `}`))
	if err != nil {
		t.Fatalf("%s: %v", order, err)
	}
	return procedure.Check(o.Scene, o.Steps)
}

const (
	on  = "clamp r1 bp; clamp r2 dp; clamp k1 dm; clamp k2 eye"
	off = "unclamp k2; unclamp k1; unclamp r2; lay r2 mat; unclamp r1"
)

// TestRules breaks each rule once, on scenes that are written by hand, and names the step and
// the rule; beside it stands the same order as the trade does it, which passes. Source: the
// trade's stop rules and orders of clamps, common practice; a jump's order as battery and
// vehicle makers print it, value from memory.
func TestRules(t *testing.T) {
	for _, c := range []struct {
		name, scene, order string
		// rules are those that are broken, by the step: "8 short".
		rules []string
	}{
		{"a jump by the book", jumping(""), on + "; crank; " + off, nil},
		{"last clamp on the battery", jumping(""), "clamp r1 bp; clamp r2 dp; clamp k1 dm; clamp k2 bm; " + off, []string{"3 spark_at_battery", "4 spark_at_battery"}},
		{"the school names the post", jumping(`, "school": "post"`), "clamp r1 bp; clamp r2 dp; clamp k1 dm; clamp k2 bm; " + off, nil},
		{"last on the donor", jumping(`, "school": "post"`), "clamp r1 bp; clamp r2 dp; clamp k2 eye; clamp k1 dm; unclamp k1; unclamp k2; unclamp r2; lay r2 mat; unclamp r1", []string{"3 spark_at_battery", "4 spark_at_battery"}},
		{"earth first", jumping(`, "school": "earth_first"`), "clamp k1 dm; clamp k2 eye; clamp r1 bp; lay r2 mat; clamp r2 dp", []string{"0 earth_first_on", "1 earth_first_on", "4 spark_at_battery", "4 left_open"}},
		{"reversed on the donor", jumping(""), "clamp r1 bp; clamp r2 dm; clamp k1 dp; clamp k2 eye; unclamp k2; unclamp k1; unclamp r2; lay r2 mat; unclamp r1", []string{"3 short"}},
		{"a lead across its own battery", jumping(""), "clamp r1 bp; clamp r2 bm; unclamp r2; unclamp r1", []string{"1 short", "1 spark_at_battery"}},
		{"six volts on twelve", sceneOf(smallDonor, donorPlaces, jumpLeads, donorBody, ""), on + "; " + off, []string{"3 mixed_voltage"}},
		{"bodies touching", sceneOf(donor, donorPlaces, jumpLeads, touching, ""), on + "; " + off, []string{"1 spark_at_battery", "6 spark_at_battery"}},
		{"a live end forgotten", jumping(""), "clamp r1 bp; do; clamp r2 dp; unclamp r2; lay r2 mat; unclamp r1", []string{"0 live_loose_end"}},
		{"laid on the mat it waits", jumping(""), "lay r2 mat; clamp r1 bp; do; do; clamp r2 dp; unclamp r2; lay r2 mat; unclamp r1", nil},
		{"on the belt", jumping(""), "clamp r1 bp; clamp r2 dp; clamp k1 dm; clamp k2 belt; " + off, []string{"3 hazard_place"}},
		{"not in reverse", jumping(""), on + "; unclamp k1; lay k1 mat; unclamp k2; unclamp r2; lay r2 mat; unclamp r1", []string{"4 not_reversed", "4 spark_at_battery"}},
		{"the live lead off first", jumping(""), on + "; unclamp r2; lay r2 mat; unclamp k2; lay k2 mat; unclamp k1; unclamp r1", []string{"4 earth_last_off", "4 not_reversed", "4 spark_at_battery"}},
		{"one forgotten", jumping(""), on + "; unclamp k2; unclamp k1; unclamp r2; lay r2 mat", []string{"7 left_open"}},

		{"a charge by the book", sceneOf(charger, "", chargerLead, "", ""), "clamp x_plus bp; clamp x_minus eye; plug @charger; unplug @charger; unclamp x_minus; unclamp x_plus", nil},
		{"clamped while plugged in", sceneOf(charger, "", chargerLead, "", ""), "plug @charger; clamp x_plus bp; clamp x_minus eye; unplug @charger; unclamp x_minus; unclamp x_plus", []string{"1 clamping_live_charger", "2 clamping_live_charger", "3 not_reversed"}},
		{"off while it gives", sceneOf(charger, "", chargerLead, "", ""), "clamp x_plus bp; clamp x_minus eye; switch_on @charger; unclamp x_minus; switch_off @charger; unclamp x_plus", []string{"3 clamping_live_charger"}},
		{"a charger whose poles are its clips", sceneOf(charger, "", "", "", ""), "clamp xp bp; clamp xm eye; plug @charger; unplug @charger; unclamp xm; unclamp xp", nil},
		{"the same, minus first", sceneOf(charger, "", "", "", ""), "clamp xm eye; clamp xp bp; plug @charger; unplug @charger; unclamp xp; unclamp xm", []string{"0 earth_first_on", "4 earth_last_off"}},
		{"the same, clamped while it gives", sceneOf(charger, "", "", "", ""), "clamp xp bp; plug @charger; clamp xm eye; unplug @charger; unclamp xm; unclamp xp", []string{"2 clamping_live_charger"}},
		{"frozen", sceneOf(charger, "", chargerLead, "", `, "barred": ["frozen-or-damaged"]`), "clamp x_plus bp; clamp x_minus eye; plug @charger; unplug @charger; unclamp x_minus; unclamp x_plus", []string{"2 charging_barred"}},
		{"frozen and jumped", jumping(`, "barred": ["frozen-or-damaged"]`), on + "; crank; " + off, []string{"3 charging_barred", "4 charging_barred"}},
		{"plates dry bar the charge", sceneOf(charger, "", chargerLead, "", `, "barred": ["plates-dry"]`), "clamp x_plus bp; clamp x_minus eye; switch_on @charger; switch_off @charger; unclamp x_minus; unclamp x_plus", []string{"2 charging_barred"}},
		{"an ordinary caution bars nothing", sceneOf(charger, "", chargerLead, "", `, "barred": ["acid", "ventilation"]`), "clamp x_plus bp; clamp x_minus eye; plug @charger; unplug @charger; unclamp x_minus; unclamp x_plus", nil},

		{"a swap by the book", sceneOf("", "", "", "", ""), "lift_off cm; tie_away cm; lift_off cp; put_on cp bp; put_on cm bm", nil},
		{"plus off first", sceneOf("", "", "", "", ""), "lift_off cp; lift_off cm; put_on cp bp; put_on cm bm", []string{"0 earth_last_off", "2 not_reversed"}},
		{"minus on first", sceneOf("", "", "", "", ""), "lift_off cm; tie_away cm; lift_off cp; put_on cm bm; put_on cp bp", []string{"3 earth_first_on", "3 not_reversed"}},
		{"clamps exchanged", sceneOf("", "", "", "", ""), "lift_off cm; tie_away cm; lift_off cp; put_on cp bm; put_on cm bp", []string{"3 not_reversed", "4 not_reversed", "4 left_open"}},
		{"the post is named, not the clamp", sceneOf("", "", "", "", ""), "lift_off - bp; lift_off - bm; put_on - bp; put_on - bm", []string{"0 earth_last_off", "2 not_reversed"}},
		{"left off", sceneOf("", "", "", "", ""), "lift_off cm; tie_away cm", []string{"1 left_open"}},
		{"left off on purpose", sceneOf("", "", "", "", `, "stays": [["cm", "mat"]]`), "lift_off cm; tie_away cm", nil},
		{"positive earth: plus is the earthed one", strings.NewReplacer(`"negative"`, `"positive"`, `"cp", "starter"`, `"cp", "eye"`, `"cm", "eye"`, `"cm", "starter"`).Replace(sceneOf("", "", "", "", "")), "lift_off cm; lift_off cp; put_on cm bm; put_on cp bp", []string{"0 earth_last_off", "2 not_reversed"}},

		{"a supply by the book", sceneOf(supply, "", supplyLead, "", ""), "clamp x_plus cp; clamp x_minus eye; switch_on @ka; lift_off cm; tie_away cm; lift_off cp; cover cp; uncover cp; put_on cp bp; put_on cm bm; switch_off @ka; unclamp x_minus; unclamp x_plus", nil},
		{"its live clamp not bagged", sceneOf(supply, "", supplyLead, "", ""), "clamp x_plus cp; clamp x_minus eye; switch_on @ka; lift_off cm; tie_away cm; lift_off cp; do; put_on cp bp; put_on cm bm; switch_off @ka; unclamp x_minus; unclamp x_plus", []string{"5 live_loose_end"}},
		{"switched off too soon", sceneOf(supply, "", supplyLead, "", ""), "clamp x_plus cp; clamp x_minus eye; switch_on @ka; lift_off cm; tie_away cm; switch_off @ka; put_on cm bm; unclamp x_minus; unclamp x_plus", []string{"5 supply_broken"}},
		{"no fuse", sceneOf(supply, "", chargerLead, "", ""), "clamp x_plus cp; clamp x_minus eye; unclamp x_minus; unclamp x_plus", []string{"0 keep_alive_unfused"}},
		{"cranked on it", sceneOf(supply, "", supplyLead, "", ""), "clamp x_plus cp; clamp x_minus eye; switch_on @ka; crank; switch_off @ka; unclamp x_minus; unclamp x_plus", []string{"3 cranking_on_keep_alive"}},

		{"a drain by the book", sceneOf("", "", meter, "", ""), "lay m2 mat; clamp m1 cm; clamp m2 bm; lift_off cm; tie_away cm; measure; put_on cm bm; unclamp m2; lay m2 mat; unclamp m1", nil},
		{"the supply broken by the meter", sceneOf("", "", meter, "", ""), "lay m2 mat; clamp m1 cm; lift_off cm; tie_away cm; clamp m2 bm; measure; unclamp m2; lay m2 mat; put_on cm bm; unclamp m1", []string{"2 supply_broken"}},
		{"cranked through it", sceneOf("", "", meter, "", ""), "lay m2 mat; clamp m1 cm; clamp m2 bm; lift_off cm; tie_away cm; crank; put_on cm bm; unclamp m2; lay m2 mat; unclamp m1", []string{"5 cranking_through_meter"}},
		{"cranked with it bridged", sceneOf("", "", meter, "", ""), "lay m2 mat; clamp m1 cm; clamp m2 bm; crank; unclamp m2; lay m2 mat; unclamp m1", nil},

		{"soda with the caps off", sceneOf("", "", "", "", ""), "uncover @battery; do soda; cover @battery", []string{"1 soda_with_caps_off"}},
		{"soda with the caps on", sceneOf("", "", "", "", ""), "uncover @battery; cover @battery; do soda", nil},
		{"a cover left off", sceneOf("", "", "", "", ""), "uncover bp; do", []string{"1 left_open"}},
	} {
		v := verdict(t, c.scene, c.order)
		var found []string
		for _, o := range v.Objections {
			found = append(found, fmt.Sprintf("%d %s", o.Step, o.Rule))
			if o.Text == "" || strings.ContainsAny(o.Text, "⟨{") {
				t.Errorf("%s: %s says %q", c.name, o.Rule, o.Text)
			}
		}
		for _, rule := range c.rules {
			if !slices.Contains(found, rule) {
				t.Errorf("%s: %q is not objected to: %v", c.name, rule, found)
			}
		}
		if v.Safe != (len(c.rules) == 0) || v.Safe != (len(found) == 0) {
			t.Errorf("%s: safe %v with %v", c.name, v.Safe, found)
		}
	}
}

// TestEveryRuleIsSaid checks that each rule has its sentence.
func TestEveryRuleIsSaid(t *testing.T) {
	for _, rule := range procedure.Rules() {
		if !wording.Has("rule." + string(rule)) {
			t.Errorf("%s is not said", rule)
		}
	}
}

// TestDecodeNamesEverything checks that each wrong field is named with what is allowed.
func TestDecodeNamesEverything(t *testing.T) {
	_, err := procedure.Decode(strings.NewReader(`{"scene": {"sources": [{"id": "b", "plus": "p", "kind": "sun"}], "places": [{"id": "p", "kind": "roof", "hazards": ["wolf"]}],
		"leads": [{"id": "l", "ends": ["a"], "colour_role": "green"}], "joined": [["a", 1]], "barred": ["x"], "what": 1}, "steps": [{"op": "weld"}, {"op": "clamp", "end": "a"}]}`))
	if err == nil {
		t.Fatal("it is taken")
	}
	for _, field := range []string{
		"scene.sources[0].minus", "scene.sources[0].nominal_v", "scene.sources[0].kind", "scene.places[0].kind", "scene.places[0].hazards", "scene.leads[0].ends",
		"scene.leads[0].colour_role", "scene.joined[0]", "scene.barred", "scene.what", "steps[0].op", "steps[1].place",
	} {
		if !strings.Contains(err.Error(), field) {
			t.Errorf("%s is not named in %v", field, err)
		}
	}
	if _, err := procedure.Decode(strings.NewReader(`{"scene": ` + sceneOf("", "", "", "", "") + `, "steps": [{"op": "lift_off", "end": "cx"}]}`)); err == nil || !strings.Contains(err.Error(), "steps[0].end") {
		t.Errorf("an end that is not there: %v", err)
	}
	for _, ask := range []string{`{}`, `{"name": "fly"}`, `{"name": "jump", "setting": {"vehicle": "boat"}}`, `{"name": "charge", "people": 2}`, `{"name": "replace", "school": "body"}`, `{"name": "jump", "setting": {"vehicle": "car", "by": "rings"}}`} {
		if _, err := procedure.DecodeAsk(strings.NewReader(ask)); err == nil {
			t.Errorf("%s is taken", ask)
		}
	}
}

// FuzzCheck throws orders at the checker: it never falls over and says the same twice.
func FuzzCheck(f *testing.F) {
	f.Add(uint16(1), []byte{0, 1, 2, 3, 4, 5, 6, 7})
	f.Fuzz(func(t *testing.T, which uint16, raw []byte) {
		lists := procedure.List()
		l := lists[int(which)%len(lists)]
		a := procedure.Ask{Name: l.Name, Setting: l.Settings[int(which)%len(l.Settings)], School: "body", People: 1}
		w, err := procedure.Show(a)
		if err != nil {
			t.Fatal(err)
		}
		var order []procedure.Step
		for _, b := range raw {
			order = append(order, w.Steps[int(b)%len(w.Steps)])
		}
		v := procedure.Check(w.Scene, order)
		if again := procedure.Check(w.Scene, order); len(again.Objections) != len(v.Objections) || v.Safe != (len(v.Objections) == 0) {
			t.Errorf("%v and %v", v, again)
		}
		procedure.Back(w.Scene, order)
	})
}

// TestSpoiltScenes takes every order as it is printed and spoils its scene: the donor touches,
// has other volts, stands the other way round, the supply has no fuse, a stop rule is in
// force. The checker says so, with that rule.
func TestSpoiltScenes(t *testing.T) {
	broken := map[procedure.Rule]int{}
	all(t, func(t *testing.T, a procedure.Ask, w procedure.Written) {
		for rule, spoil := range map[procedure.Rule]func(*procedure.Scene) bool{
			procedure.SparkAtBattery: func(sc *procedure.Scene) bool {
				sc.Joined = append(slices.Clone(sc.Joined), procedure.Pair{"donor_body", bodyOf(sc)})
				return a.Setting.With == "vehicle"
			},
			procedure.MixedVoltage: func(sc *procedure.Scene) bool { return donorOf(sc, func(s *procedure.Source) { s.NominalV *= 2 }) },
			procedure.Short: func(sc *procedure.Scene) bool {
				return donorOf(sc, func(s *procedure.Source) { s.Plus, s.Minus = s.Minus, s.Plus })
			},
			procedure.Unfused: func(sc *procedure.Scene) bool {
				sc.Leads = slices.Clone(sc.Leads)
				for i := range sc.Leads {
					sc.Leads[i].FuseA = nil
				}
				return slices.ContainsFunc(sc.Sources, func(s procedure.Source) bool { return s.Kind == procedure.KeepAlive })
			},
			procedure.ChargingBarred: func(sc *procedure.Scene) bool {
				sc.Barred = []school.Caution{school.FrozenOrDamaged}
				return procedure.WorkOfOrder(a.Name) != safety.None
			},
		} {
			sc := w.Scene
			if !spoil(&sc) {
				continue
			}
			broken[rule]++
			if v := procedure.Check(sc, w.Steps); !slices.ContainsFunc(v.Objections, func(o procedure.Objection) bool { return o.Rule == rule }) {
				t.Errorf("%s, %s, %s: spoilt for %s it says %v", a.Name, a.Setting, a.School, rule, v.Objections)
			}
		}
	})
	for _, rule := range []procedure.Rule{procedure.SparkAtBattery, procedure.MixedVoltage, procedure.Short, procedure.Unfused, procedure.ChargingBarred} {
		if broken[rule] < 10 {
			t.Errorf("%s was tried %d times", rule, broken[rule])
		}
	}
}

// bodyOf is the vehicle's bare metal.
func bodyOf(sc *procedure.Scene) string {
	for _, p := range sc.Places {
		if p.Kind == procedure.Body && p.On == "vehicle" {
			return p.ID
		}
	}
	return ""
}

// donorOf changes what a vehicle is jumped with, in a scene of its own.
func donorOf(sc *procedure.Scene, change func(*procedure.Source)) bool {
	sc.Sources = slices.Clone(sc.Sources)
	for i := range sc.Sources {
		if k := sc.Sources[i].Kind; k == procedure.Donor || k == procedure.Pack {
			change(&sc.Sources[i])
			return true
		}
	}
	return false
}
