package procedure_test

import (
	"slices"
	"testing"

	"grapnel/core/procedure"
)

// moving are the operations that a hand gets wrong.
var moving = []procedure.Op{procedure.Clamp, procedure.Unclamp, procedure.LiftOff, procedure.PutOn, procedure.Plug, procedure.Unplug}

// harmless are the swaps and drops of ours that break no rule, by the sentences of the steps:
// what is fitted for good may go on in another order while the battery is off, a maintainer
// that is not plugged in maintains nothing and harms nobody, and two plugs of one charger
// are the same step. Everything else that is swapped or dropped is found.
var harmless = [][2]string{
	{"maintain_plug", ""},
	{"wake_plug", "wake_again"}, {"wake_unplug", "charge_unplug"},
	{"switch_bypass_post", "switch_clamp"}, {"switch_bypass_stud", "switch_clamp"}, {"switch_bypass_stud", "switch_bypass_post"},
	{"switch_on_post", "switch_bypass_post"}, {"switch_on_post", "switch_bypass_stud"}, {"switch_on_post", "switch_clamp"},
	{"earth_off", "switch_on_post"},
	{"earth_off", "ring_live"}, {"earth_on", "ring_earth"}, {"ring_live", "earth_on"},
}

func isHarmless(a, b string) bool {
	return slices.Contains(harmless, [2]string{a, b})
}

func short(code string) string { return code[len("procedure."):] }

// TestEveryMutationIsFound drops each step that joins or parts, and swaps any two, in every
// order there is: the checker objects, but for what harms nobody.
func TestEveryMutationIsFound(t *testing.T) {
	total := 0
	all(t, func(t *testing.T, a procedure.Ask, w procedure.Written) {
		var at []int
		for i, st := range w.Steps {
			if slices.Contains(moving, st.Op) {
				at = append(at, i)
			}
		}
		for k, i := range at {
			total++
			code := short(w.Steps[i].Code)
			if procedure.Check(w.Scene, slices.Delete(slices.Clone(w.Steps), i, i+1)).Safe && !isHarmless(code, "") {
				t.Errorf("%s, %s: without %q it passes", a.Name, a.Setting, w.Steps[i].Text)
			}
			for _, j := range at[k+1:] {
				total++
				steps := slices.Clone(w.Steps)
				steps[i], steps[j] = steps[j], steps[i]
				if procedure.Check(w.Scene, steps).Safe && !isHarmless(code, short(w.Steps[j].Code)) {
					t.Errorf("%s, %s: %q and %q swapped it passes", a.Name, a.Setting, w.Steps[i].Text, w.Steps[j].Text)
				}
			}
		}
	})
	t.Logf("%d mutations", total)
}

// TestHalfWay leaves every order after every step: the way back from there is safe, ends
// with nothing open, and is short where little was done. The same holds where the step was
// done twice, or its neighbour before it, up to the first thing that is objected to.
func TestHalfWay(t *testing.T) {
	total := 0
	all(t, func(t *testing.T, a procedure.Ask, w procedure.Written) {
		for n := range w.Steps {
			total++
			safeBack(t, a, w.Scene, w.Steps[:n+1])
			twice := slices.Insert(slices.Clone(w.Steps), n, w.Steps[n])
			safeBack(t, a, w.Scene, untilObjected(w.Scene, twice))
			if n > 0 {
				moved := slices.Clone(w.Steps)
				moved[n-1], moved[n] = moved[n], moved[n-1]
				safeBack(t, a, w.Scene, untilObjected(w.Scene, moved))
			}
		}
	})
	t.Logf("%d states", total)
}

// untilObjected is an order up to the first step that is objected to.
func untilObjected(sc procedure.Scene, steps []procedure.Step) []procedure.Step {
	v := procedure.Check(sc, steps)
	if v.Safe {
		return steps
	}
	return steps[:v.Objections[0].Step]
}

func safeBack(t *testing.T, a procedure.Ask, sc procedure.Scene, done []procedure.Step) {
	t.Helper()
	way := procedure.Back(sc, done)
	whole := append(slices.Clone(done), way...)
	joined := procedure.EndsOf(sc, whole).Joined
	sc.Stays = slices.DeleteFunc(slices.Clone(sc.Stays), func(p procedure.Pair) bool { return !slices.Contains(joined, p) })
	if v := procedure.Check(sc, whole); !v.Safe {
		t.Errorf("%s, %s: after %d steps the way back %v is not safe: %v", a.Name, a.Setting, len(done), texts(way), v.Objections)
	}
}

func texts(steps []procedure.Step) []string {
	var out []string
	for _, st := range steps {
		out = append(out, st.Text)
	}
	return out
}
