package procedure_test

import (
	"math"
	"slices"
	"strings"
	"testing"

	"grapnel/core/drawing"
	"grapnel/core/procedure"
)

// TestEveryStepIsDrawn draws every order there is: each thing lies on the paper under an ID
// of its own, is drawn as a symbol there is, and is said; a step that moves something has
// its ring; a clamp that is on lies where its place is, with the number of the step that put
// it there.
func TestEveryStepIsDrawn(t *testing.T) {
	all(t, func(t *testing.T, a procedure.Ask, w procedure.Written) {
		scenes := procedure.Draw(a.Setting, w)
		for i, sc := range scenes {
			where := a.Name + ", " + a.Setting.String() + ", " + w.Steps[i].Text
			onPaper(t, where, sc)
			st := w.Steps[i]
			if slices.Contains(moving, st.Op) && part(sc, "ring") == nil {
				t.Errorf("%s: no ring", where)
			}
			if st.Op != procedure.Clamp {
				continue
			}
			clip, ring := part(sc, st.End), part(sc, "ring")
			if clip == nil || ring == nil {
				t.Errorf("%s: %s is not drawn", where, st.End)
				continue
			}
			if far := math.Hypot(clip.X+clip.W/2-ring.X-ring.W/2, clip.Y+clip.H/2-ring.Y-ring.H/2); far > 1 || clip.State != drawing.Found || clip.Value == "" {
				t.Errorf("%s: the clip is %.0f from its ring, %q, number %q", where, far, clip.State, clip.Value)
			}
		}
	})
}

func onPaper(t *testing.T, where string, sc drawing.Scene) {
	t.Helper()
	ids := map[string]bool{}
	for _, p := range sc.Parts {
		if ids[p.ID] {
			t.Errorf("%s has %s twice", where, p.ID)
		}
		ids[p.ID] = true
		if !slices.Contains(drawing.Symbols(), p.Symbol) {
			t.Errorf("%s: %s is drawn as %q", where, p.ID, p.Symbol)
		}
		if p.X+p.W/2 < 0 || p.Y+p.H/2 < 0 || p.X+p.W/2 > sc.Width || p.Y+p.H/2 > sc.Height {
			t.Errorf("%s: %s lies outside: %+v", where, p.ID, p)
		}
		if strings.ContainsAny(p.Name+p.Value, "⟨{") {
			t.Errorf("%s: %s is called %q %q", where, p.ID, p.Name, p.Value)
		}
	}
	for _, l := range sc.Leads {
		if len(l.Path) != 3 || !slices.Contains(drawing.Roles(), l.Role) {
			t.Errorf("%s: %s goes %v as %q", where, l.ID, l.Path, l.Role)
		}
		for _, at := range [][2]float64{l.Path[0], l.Path[2]} {
			if at == ([2]float64{}) {
				t.Errorf("%s: %s ends nowhere", where, l.ID)
			}
		}
	}
	if f := sc.Focus; f[2] <= 0 || f[0]+f[2] > sc.Width+1 || !strings.Contains(sc.Says.Text, "Step") {
		t.Errorf("%s: focus %v of %.0f, %q", where, f, sc.Width, sc.Says.Text)
	}
}

func part(sc drawing.Scene, id string) *drawing.Part {
	for i := range sc.Parts {
		if sc.Parts[i].ID == id {
			return &sc.Parts[i]
		}
	}
	return nil
}

// TestFollow follows attempts: two who tap Done on one step did it once, what is not due
// changes nothing, and what is over stays over.
func TestFollow(t *testing.T) {
	did := func(what string, steps ...int) []procedure.Deed {
		var out []procedure.Deed
		for _, s := range steps {
			out = append(out, procedure.Deed{Step: s, Did: what})
		}
		return out
	}
	for _, c := range []struct {
		name  string
		deeds []procedure.Deed
		want  procedure.Progress
	}{
		{"nothing yet", nil, procedure.Progress{At: 0, Open: true}},
		{"both tapped", did("done", 0, 0, 1, 1), procedure.Progress{At: 2, Open: true}},
		{"one that is not due", did("done", 0, 2), procedure.Progress{At: 1, Open: true}},
		{"back and on", slices.Concat(did("done", 0, 1), did("back", 1), did("done", 1)), procedure.Progress{At: 2, Open: true}},
		{"back twice at once", slices.Concat(did("done", 0, 1), did("back", 1, 1)), procedure.Progress{At: 1, Open: true}},
		{"taken up goes on", slices.Concat(did("done", 0), did("taken_up", 1), did("done", 1)), procedure.Progress{At: 2, Open: true}},
		{"broken off", slices.Concat(did("done", 0), did("left", 1), did("done", 1)), procedure.Progress{At: 1, Ended: "left"}},
		{"finished too soon", slices.Concat(did("done", 0), did("finished", 3)), procedure.Progress{At: 1, Open: true}},
		{"finished", slices.Concat(did("done", 0, 1, 2), did("finished", 3)), procedure.Progress{At: 3, Ended: "finished"}},
	} {
		if got := procedure.Follow(3, c.deeds); got != c.want {
			t.Errorf("%s: %+v, want %+v", c.name, got, c.want)
		}
	}
}

// TestEveryWayBackIsSaid reads what must be undone and the way back of every step there is:
// each in whole words.
func TestEveryWayBackIsSaid(t *testing.T) {
	all(t, func(t *testing.T, a procedure.Ask, w procedure.Written) {
		for _, s := range procedure.Steps(a.Setting, w) {
			if said := s.Undo + strings.Join(s.Back, " "); strings.ContainsAny(said, "⟨⟩{}<>") {
				t.Errorf("%s, %s: behind %q lies %q", a.Name, a.Setting, s.Text, said)
			}
		}
	})
}

// TestSteps checks what screens get: what must be undone is said where a joint was made or
// broken, and the way back once it is done.
func TestSteps(t *testing.T) {
	a := procedure.Ask{Name: "jump", Setting: procedure.Sitting{Vehicle: "car", With: "vehicle"}, School: "body", People: 1}
	w, err := procedure.Show(a)
	if err != nil {
		t.Fatal(err)
	}
	steps := procedure.Steps(a.Setting, w)
	for i, s := range steps {
		if joins := slices.Contains(moving, w.Steps[i].Op); joins && s.Undo == "" {
			t.Errorf("%q: nothing to undo", s.Text)
		}
		if clamped := w.Steps[i].Op == procedure.Clamp; clamped && len(s.Back) == 0 {
			t.Errorf("%q: no way back", s.Text)
		}
	}
	if last := steps[len(steps)-1]; len(last.Back) != 0 {
		t.Errorf("at the end the way back is %v", last.Back)
	}
}
