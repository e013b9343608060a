package diagnosis

import (
	"context"
	"errors"
	"testing"
)

// TestHeeding ends the judging of a long case at several moments: nothing of it goes on, and the
// same engine judges the next case as ever. No source: it is how the program is to behave.
func TestHeeding(t *testing.T) {
	var lines []string
	for range 60 {
		lines = append(lines, "12.5 v 18c rested 3h", "load 325a 15s 9.7v 18c", "trips 6/week 9min")
	}
	c := decode(t, `"chemistry":"flooded","nominal_v":12,"rating":{"value":650,"standard":"SAE"}`, "", lines...)
	engine := New()
	whole := engine.Assess(c)
	for _, after := range []int{0, 1, 50, 250} {
		asked := 0
		done := func() error {
			if asked++; asked > after {
				return context.DeadlineExceeded
			}
			return nil
		}
		var a Assessment
		if err := Catch(func() { a = engine.Heeding(done).Assess(c) }); !errors.Is(err, context.DeadlineExceeded) || asked != after+1 {
			t.Errorf("ended after %d looks: %v, asked %d times", after, err, asked)
		}
		if a.Verdict.Action != "" {
			t.Errorf("it came to %s", a.Verdict.Action)
		}
	}
	if err := Catch(func() {
		if again := engine.Heeding(func() error { return nil }).Assess(c); again.Verdict.Action != whole.Verdict.Action || again.Condition != whole.Condition {
			t.Errorf("it comes to %+v, not %+v", again.Verdict, whole.Verdict)
		}
	}); err != nil {
		t.Error(err)
	}
	defer func() {
		if recover() != "something else" {
			t.Error("another panic is swallowed")
		}
	}()
	_ = Catch(func() { panic("something else") })
}
