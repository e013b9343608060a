package jump

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/mat"

	"grapnel/core/diagnosis"
	"grapnel/core/quantity"
	"grapnel/core/twin"
)

// tangent is a source as a straight line near a current: its volts with nothing drawn, and
// its resistance.
func tangent(volts func(amps float64) float64, at float64) (open, ohms float64) {
	const near = 0.5
	ohms = (volts(at-near) - volts(at+near)) / (2 * near)
	return volts(at) + ohms*at, ohms
}

// TestAgainstALinearSolver works the same network out with Gonum's linear algebra, drawn
// nearer by Newton's way from a guess of its own: a dead battery and a donor behind leads,
// both feeding one starter. Source: Kirchhoff's laws; the solver is gonum.org/v1/gonum/mat.
func TestAgainstALinearSolver(t *testing.T) {
	design, _ := planner.Designs.Of(ask(t).Dead.Label)
	compared := 0
	for _, celsius := range []quantity.Celsius{-25, 0, 30} {
		for _, percent := range []float64{35, 60, 80} {
			for _, amps := range []float64{80, 160, 260} {
				b := design.New(twin.Sound, percent, celsius)
				p := pair{&b, vehicleOf(design.New(twin.Sound, 95, celsius), With{}, 1), 0.008, celsius}
				got := p.split(amps, crankSeconds)
				if got <= 0 || got >= amps || got >= p.donor.most {
					continue // one of them carries it alone: nothing is split
				}
				dead := func(x float64) float64 { return float64(b.Under(quantity.Amperes(x), crankSeconds)) }
				i1, i2 := amps/2, amps/2
				for range 30 {
					e1, r1 := tangent(dead, i1)
					e2, r2 := tangent(p.donor.gives, i2)
					// The volts at the posts and the two currents: two sources behind their
					// resistances, and the starter's current from both.
					network := mat.NewDense(3, 3, []float64{1, r1, 0, 1, 0, r2 + p.ohms, 0, 1, 1})
					var x mat.VecDense
					if err := x.SolveVec(network, mat.NewVecDense(3, []float64{e1, e2, amps})); err != nil {
						t.Fatal(err)
					}
					i1, i2 = (i1+x.AtVec(1))/2, (i2+x.AtVec(2))/2
				}
				compared++
				if math.Abs(i2-got) > 0.2 {
					t.Errorf("%g %% at %g °C, %g A: the donor gives %.2f A, by Gonum %.2f", percent, float64(celsius), amps, got, i2)
				}
				if here := float64(p.Under(quantity.Amperes(amps), crankSeconds)); math.Abs(here-dead(i1)) > 0.005 {
					t.Errorf("%g %% at %g °C, %g A: %.3f V at the posts, by Gonum %.3f", percent, float64(celsius), amps, here, dead(i1))
				}
			}
		}
	}
	if compared < 10 {
		t.Errorf("only %d networks were compared", compared)
	}
}

// TestAloneItIsTheTwin cranks at −25, 0 and 30 °C with a donor that gives nothing: what the
// sum says is what the twin's own car does on the battery alone.
func TestAloneItIsTheTwin(t *testing.T) {
	a := ask(t)
	design, _ := planner.Designs.Of(a.Dead.Label)
	for _, celsius := range []quantity.Celsius{-25, 0, 30} {
		for _, percent := range []float64{50, 75, 100} {
			s := scene{design: design, starter: diagnosis.StarterAmps(a.Vehicle, design), engine: celsius, donor: donor{gives: func(float64) float64 { return 0 }}}
			s.dead.Celsius = celsius
			b := design.New(twin.Sound, percent, celsius)
			got, _ := s.turn(&b, 1)
			car := twin.Car{Circuit: twin.InOrder.For(s.starter), Starter: twin.Starter{Amps: s.starter, Drag: 1, Fires: true}}
			alone := design.New(twin.Sound, percent, celsius)
			want := car.Crank(&alone)
			if math.Abs(float64(got.Stud-want.Stud)) > 0.001 || math.Abs(got.Speed-want.Speed) > 0.001 || math.Abs(float64(got.Amps-want.Amps)) > 0.1 {
				t.Errorf("%g %% at %g °C: %+v, the twin alone %+v", percent, float64(celsius), got, want)
			}
		}
	}
}
