package bench

import (
	"math"
	"strings"
	"testing"

	"grapnel/core/problem"
	"grapnel/core/reading"
)

// TestInputBounds checks that every figure of every card is refused just outside
// its range by its name, and taken at its ends or refused by another's.
func TestInputBounds(t *testing.T) {
	for _, s := range Sums() {
		for _, in := range s.Inputs {
			if in.Codes != nil || in.Text {
				continue
			}
			typed := map[string]string{}
			if in.If[0] != "" {
				typed[in.If[0]] = in.If[1]
			}
			for _, beyond := range []float64{in.Low - 1, in.High + 1} {
				typed[in.Name] = g(beyond)
				_, err := s.Work(typed, november)
				list, ok := err.(problem.List)
				if !ok || list[0].Field != in.Name || list[0].Allowed == "" {
					t.Errorf("%s.%s at %v: %v", s.ID, in.Name, beyond, err)
				}
			}
		}
	}
}

// TestUnits checks that a figure may be typed in any of its units.
func TestUnits(t *testing.T) {
	for _, c := range []struct {
		id, name, one, other, code string
	}{
		{"load_test", "battery_c", "50f", "10", "limit"},
		{"load_test", "battery_c", "50 °F", "10c", "limit"},
		{"drain_days", "drain_a", "85ma", "0,085", "days_flat"},
		{"cable", "length", "10ft", "3.048 m", "copper"},
		{"cable", "length", "300cm", "3", "copper"},
		{"torque", "torque", "5 nm", "5", "own_inch"},
		{"torque", "torque", "12 in·lbf", "1 ft·lbf", "own_nm"},
		{"case_size", "tray_length", "11in", "279.4", "fits_L3"},
		{"reserve_check", "minutes", "1.5h", "90min", "share_taken"},
		{"charge_from_gravity", "sg", "1240", "1.240", "charge"},
		{"fuse", "millivolts", "0.0012v", "1.2", "through_fuse"},
	} {
		a := figure(t, worked(t, c.id, map[string]string{c.name: c.one}), c.code)
		b := figure(t, worked(t, c.id, map[string]string{c.name: c.other}), c.code)
		if math.Abs(a.Value-b.Value) > 1e-9 || a.Text != b.Text {
			t.Errorf("%s: %s gives %s, %s gives %s", c.id, c.one, a.Text, c.other, b.Text)
		}
	}
	s, _ := Find("cable")
	if _, err := s.Work(map[string]string{"length": "3 kg"}, november); err == nil {
		t.Error("three kilograms of length")
	}
}

// TestMonotoneCards checks which way each sum goes: physical reason.
func TestMonotoneCards(t *testing.T) {
	for _, c := range []struct {
		id, name, less, more, code string
		up                         bool
	}{
		{"charge_from_volts", "volts", "12.2", "12.5", "charge", true},
		{"charge_from_gravity", "sg", "1.200", "1.250", "charge", true},
		{"freezing", "percent", "20", "80", "freezes", false},
		{"freezing", "night_c", "-30", "-5", "margin", true},
		{"surface_charge", "hours", "0.5", "3", "too_high_by", false},
		{"load_test", "battery_c", "-10", "15", "limit", true},
		{"load_test", "rating", "400", "800", "set", true},
		{"conductance", "measured", "400", "600", "ratio", true},
		{"capacity", "amps", "5", "20", "lasts", false},
		{"reserve_check", "minutes", "30", "90", "share_taken", true},
		{"expected", "amps", "100", "300", "sound_volts", false},
		{"expected", "percent", "40", "90", "sound_volts", true},
		{"expected", "battery_c", "-15", "20", "sound_ohms", false},
		{"expected", "rating", "400", "700", "sound_ohms", false},
		{"expected", "volts", "9.0", "9.8", "own_power", true},
		{"charge_time", "percent", "20", "70", "model_time", false},
		{"charge_time", "charger_volts", "13.6", "14.6", "model_time", false},
		{"charge_time", "battery_c", "-10", "25", "model_time", false},
		{"cold", "air_c", "-15", "15", "battery_has", true},
		{"cold", "air_c", "-15", "15", "engine_asks", false},
		{"charge_time", "amps", "5", "15", "workshop_hours", false},
		{"charge_time", "percent", "20", "80", "missing", false},
		{"charge_volts", "battery_c", "0", "35", "absorption", false},
		{"charge_check", "ah_in", "5", "30", "share_in", true},
		{"acceptance", "battery_c", "-10", "20", "accepts", true},
		{"acceptance", "charger_volts", "13", "16.5", "delay", false},
		{"air", "capacity_ah", "50", "200", "flow", true},
		{"maintainer", "drain_a", "0.02", "0.5", "maintainer_least", true},
		{"drain_days", "drain_a", "0.02", "0.2", "days_flat", false},
		{"drain_days", "air_c", "5", "35", "days_flat", false},
		{"week", "trip_min", "5", "60", "week_net", true},
		{"week", "air_c", "-15", "20", "week_net", true},
		{"cable", "length", "1", "6", "drop", true},
		{"cable", "gauge", "1", "10", "drop", true},
		{"joint", "amps", "50", "300", "joint_ohms", false},
		{"electrolyte", "air_c", "-20", "10", "acid_c", true},
	} {
		less := figure(t, worked(t, c.id, map[string]string{c.name: c.less}), c.code).Value
		more := figure(t, worked(t, c.id, map[string]string{c.name: c.more}), c.code).Value
		if less == more || (more > less) != c.up {
			t.Errorf("%s: %s %s gives %v, %s gives %v", c.id, c.name, c.less, less, c.more, more)
		}
	}
}

// TestLines checks that the reading line of a card holds the inputs, so that a
// result pulled into a job is the reading that was meant.
func TestLines(t *testing.T) {
	for _, c := range []struct {
		id    string
		typed map[string]string
		want  string
	}{
		{"charge_from_volts", map[string]string{"volts": "12,41", "battery_c": "64.4f", "rested_min": "2h"}, "12.41 v 18c rested 2h"},
		{"charge_from_volts", map[string]string{"rested_min": ""}, "12.41 v 18c"},
		{"load_test", map[string]string{"rating": "650", "volts": "9.4", "battery_c": "18"}, "load 325a 15s 9.4v 18c"},
		{"load_test", map[string]string{"volts": ""}, ""},
		{"load_test", map[string]string{"school": "starter_10v"}, ""},
		{"fixed_load", map[string]string{"amps": "130", "volts": "10.6", "battery_c": "20"}, "load 130a 10s 10.6v 20c fixed"},
		{"conductance", map[string]string{"measured": "594", "rating": "650"}, "594/650 cca"},
		{"reserve_check", map[string]string{"minutes": "90", "end_volts": "11.9"}, "reserve 10a 90min to 11.9v 20c"},
		{"fuse", map[string]string{"fuse_rating": "7.5", "millivolts": "0.4", "asleep_min": ""}, "fuse 7.5a 0.4mv"},
		{"fuse", map[string]string{"asleep_min": "1h"}, "fuse 15a 1.2mv asleep 1h"},
		{"week", map[string]string{"trips": "6", "trip_min": "9"}, "trips 6/week 9min"},
		{"joint", map[string]string{"where": "ground_strap", "volts": "0.3", "amps": "140"}, "drop ground strap 0.3v 140a"},
		{"date_code", map[string]string{"date_code": "L1"}, "age 5y"},
	} {
		line := worked(t, c.id, c.typed).Line
		if line == "" || c.want == "" {
			if line != c.want {
				t.Errorf("%s %v: %q, want %q", c.id, c.typed, line, c.want)
			}
			continue
		}
		got, err := reading.Parse(line)
		if err != nil {
			t.Errorf("%s: %q: %v", c.id, line, err)
			continue
		}
		want, err := reading.Parse(c.want)
		if err != nil {
			t.Fatal(err)
		}
		if got.Reading != want.Reading {
			t.Errorf("%s %v: %q, want %q", c.id, c.typed, reading.Print(got.Reading), c.want)
		}
	}
}

// TestOnlyWhatBelongs checks that an input of another choice is left out, and
// that naming it is no fault.
func TestOnlyWhatBelongs(t *testing.T) {
	byArea := worked(t, "cable", map[string]string{"by": "area", "area": "21.15", "gauge": "99"})
	byGauge := worked(t, "cable", map[string]string{"by": "gauge", "gauge": "4", "area": "none"})
	if a, b := figure(t, byArea, "copper").Value, figure(t, byGauge, "copper").Value; math.Abs(a-b) > 0.001 {
		t.Errorf("4 AWG is 21.15 mm²: %v and %v", a, b)
	}
	agm := worked(t, "drain_days", map[string]string{"chemistry": "agm", "plates": "antimony"})
	if got := figure(t, agm, "self").Value; math.Abs(got-figure(t, worked(t, "drain_days", map[string]string{"chemistry": "agm"}), "self").Value) > 1e-9 {
		t.Errorf("plates of an AGM battery: %v", got)
	}
}

// TestSayings checks what a card adds to its figures, where it must.
func TestSayings(t *testing.T) {
	for _, c := range []struct {
		id    string
		typed map[string]string
		code  string
	}{
		{"charge_from_volts", map[string]string{"volts": "13.3"}, "too_high"},
		{"charge_from_volts", map[string]string{"rested_min": "10"}, "rest_short"},
		{"charge_from_volts", map[string]string{"rested_min": ""}, "rest_unsaid"},
		{"charge_combined", map[string]string{"volts": "12.65", "sg": "1.130"}, "apart"},
		{"rating", map[string]string{"standard": "DIN"}, "converted"},
		{"load_test", map[string]string{"battery_c": "-25"}, "too_cold"},
		{"load_test", map[string]string{"volts": "8.0"}, "fail_needs_charge"},
		{"fixed_load", map[string]string{"amps": "100", "volts": "11.9"}, "fixed_little"},
		{"fixed_load", map[string]string{"amps": "250", "volts": "10.5"}, "fixed_enough"},
		{"fixed_load", map[string]string{"amps": "250", "volts": "9.0"}, "fixed_short"},
		{"conductance", map[string]string{"percent": "40"}, "conductance_low"},
		{"capacity", map[string]string{"reserve_min": "28"}, "reserve_small"},
		{"reserve_check", map[string]string{"minutes": "20", "end_volts": "10.4"}, "reserve_gone"},
		{"reserve_check", map[string]string{"minutes": "20"}, "reserve_part"},
		{"freezing", map[string]string{"percent": "0", "night_c": "-20"}, "freezes"},
		{"charge_time", map[string]string{"battery_c": "-18"}, "cold_charge"},
		{"charge_volts", map[string]string{"chemistry": "agm"}, "equalise_never"},
		{"charge_volts", nil, "equalise_off"},
		{"charge_check", map[string]string{"ah_in": "5"}, "full_early"},
		{"charge_check", map[string]string{"ah_in": "25"}, "full_short"},
		{"charge_check", map[string]string{"ah_in": "40"}, "full_believed"},
		{"charge_check", map[string]string{"ah_in": "90", "lamp": "not_full"}, "too_much"},
		{"acceptance", map[string]string{"charger_volts": "5"}, "charger_refuses"},
		{"maintainer", map[string]string{"drain_a": "5", "capacity_ah": "12"}, "drain_too_big"},
		{"week", map[string]string{"trips": "1", "trip_min": "3"}, "week_loses"},
		{"week", map[string]string{"trips": "14", "trip_min": "60", "air_c": "15"}, "week_holds"},
		{"torque", map[string]string{"torque": "3"}, "torque_under"},
		{"torque", map[string]string{"torque": "20"}, "torque_over"},
		{"case_size", map[string]string{"tray_length": "120"}, "none_fits"},
		{"date_code", map[string]string{"date_code": "A4"}, "shelf"},
	} {
		found := false
		for _, s := range worked(t, c.id, c.typed).Says {
			found = found || s.Code == "sum.say."+c.code && strings.HasSuffix(s.Text, ".")
		}
		if !found {
			t.Errorf("%s %v does not say %s: %+v", c.id, c.typed, c.code, worked(t, c.id, c.typed).Says)
		}
	}
}
