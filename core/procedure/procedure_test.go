package procedure_test

import (
	"strings"
	"testing"

	"grapnel/core/procedure"
	"grapnel/core/wording"
)

// all hands out every procedure in every setting, school and number of people.
func all(t *testing.T, do func(t *testing.T, a procedure.Ask, w procedure.Written)) {
	t.Helper()
	for _, l := range procedure.List() {
		ways := l.Schools
		if len(ways) == 0 {
			ways = []string{""}
		}
		for _, setting := range l.Settings {
			for _, way := range ways {
				for _, people := range l.People {
					a := procedure.Ask{Name: l.Name, Setting: setting, School: way, People: people}
					w, err := procedure.Show(a)
					if err != nil {
						t.Errorf("%s, %s, %s, %d: %v", a.Name, a.Setting, a.School, a.People, err)
						continue
					}
					do(t, a, w)
				}
			}
		}
	}
}

// TestEveryProcedureIsSafe shows every procedure in every setting, school and number of
// people: show refuses what the checker objects to.
func TestEveryProcedureIsSafe(t *testing.T) {
	n := 0
	all(t, func(t *testing.T, a procedure.Ask, w procedure.Written) {
		n++
		for i, st := range w.Steps {
			if strings.ContainsAny(st.Text+st.Why+st.Right, "⟨{") || st.Text == "" {
				t.Errorf("%s, %s: step %d says %q %q %q", a.Name, a.Setting, i, st.Text, st.Why, st.Right)
			}
			for _, id := range []string{st.End, st.Place, st.Source, st.Lead} {
				if id != "" && !wording.Has("thing."+id) {
					t.Errorf("%s, %s: %q is called nothing", a.Name, a.Setting, id)
				}
			}
		}
	})
	t.Logf("%d orders", n)
}
