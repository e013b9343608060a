package procedure_test

import (
	"slices"
	"testing"

	"grapnel/core/procedure"
	"grapnel/core/quantity"
)

// TestRefit: wherever a battery is cleaned or replaced the order begins with glasses and
// gloves, the rings are noted before anything comes off and given back before the earthed side
// goes on, each joint is seated by the maker's torque where it is known, and a side terminal
// has its mat (common practice, no source).
func TestRefit(t *testing.T) {
	torque := quantity.NewtonMetres(6)
	for _, l := range procedure.List() {
		if !slices.Contains([]string{"clean_in_place", "clean_out", "replace"}, l.Name) {
			continue
		}
		for _, setting := range l.Settings {
			ask := procedure.Ask{Name: l.Name, Setting: setting, People: 1}
			if len(l.Schools) > 0 {
				ask.School = l.Schools[0]
			}
			plain, err := procedure.Show(ask)
			if err != nil {
				t.Fatal(err)
			}
			ask.Torque = &torque
			w, err := procedure.Show(ask)
			if err != nil || len(w.Steps) != len(plain.Steps) {
				t.Errorf("%s %s: with a torque %d steps, without %d, %v", l.Name, setting, len(w.Steps), len(plain.Steps), err)
			}
			at := func(code string) int {
				return slices.IndexFunc(w.Steps, func(s procedure.Step) bool { return s.Code == "procedure."+code })
			}
			off := slices.IndexFunc(w.Steps, func(s procedure.Step) bool { return s.Op == procedure.LiftOff })
			earth := at("earth_on")
			if at("glasses") != 0 || at("stack_order") < 0 || at("stack_order") > off || at("stack_back") < off || at("stack_back") > earth || at("seat_maker") < 0 {
				t.Errorf("%s %s: noted at %d, off at %d, given back at %d, earth on at %d", l.Name, setting, at("stack_order"), off, at("stack_back"), earth)
			}
			if mat := at("side_mat") >= 0; mat != (setting.Vehicle == "car_side" && l.Name != "clean_in_place") {
				t.Errorf("%s %s: a mat %v", l.Name, setting, mat)
			}
			shown := procedure.Steps(setting, w)
			procedure.Recall(shown, w, map[int]string{at("stack_order"): "starter, fuse box, winch"})
			if shown[at("stack_back")].Recalls != "starter, fuse box, winch" {
				t.Errorf("%s %s: the rings are not given back", l.Name, setting)
			}
		}
	}
}
