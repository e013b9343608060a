package terminals_test

import (
	"math"
	"slices"
	"strings"
	"testing"

	"gonum.org/v1/gonum/mat"

	"grapnel/core/battery"
	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/terminals"
	"grapnel/core/trail"
	"grapnel/core/twin"
)

func situation(t *testing.T, v evidence.Vehicle, m trail.Mounting, lines ...string) *trail.Situation {
	t.Helper()
	ah, rating := quantity.AmpereHours(60), battery.Rating{Value: 560, Standard: battery.SAE}
	c := evidence.Case{Label: battery.Label{Chemistry: battery.Flooded, NominalV: 12, CapacityAh: &ah, Rating: &rating}, Vehicle: v, School: school.HalfCCA}
	for _, line := range lines {
		parsed, err := reading.Parse(line)
		if err != nil {
			t.Fatal(line, err)
		}
		c.Readings = append(c.Readings, evidence.Untimed(parsed.Reading)...)
	}
	return &trail.Situation{Case: c, Mounting: m, Assessment: diagnosis.New().Assess(c)}
}

func car() evidence.Vehicle {
	litres := 1.6
	return evidence.Vehicle{Kind: "car", Engine: "petrol", Litres: &litres}
}

func look(t *testing.T, lines ...string) terminals.JointPicture {
	t.Helper()
	return terminals.Work{Designs: new(twin.Designs)}.Of(situation(t, car(), trail.Mounting{}, lines...), nil)
}

func at(p terminals.JointPicture, where string) terminals.Joint {
	return p.Joints[slices.IndexFunc(p.Joints, func(j terminals.Joint) bool { return j.Where == where })]
}

// TestDropSum: 0.5 V at 150 A is 3.3 mΩ and 75 W (computed in the handbook of the trade).
func TestDropSum(t *testing.T) {
	p := look(t, "12.6 v 20c rested 3h", "crank 10.2v 3s slow", "drop negative_clamp 0.5v 150a")
	d := at(p, "negative_clamp").Now
	if math.Abs(d.Ohms.Value-0.00333) > 0.00001 || d.Watts != 75 || d.Taken || math.Abs(*d.Share-0.5/10.2) > 0.001 {
		t.Errorf("%+v", d)
	}
	if d.Ohms.Low >= d.Ohms.Value || d.Ohms.High <= d.Ohms.Value {
		t.Errorf("its band: %+v", d.Ohms)
	}
	if d.Faster == nil || *d.Faster < 0.03 || *d.Faster > 0.3 {
		t.Errorf("faster without it: %v", d.Faster)
	}
	if p.Worst != "negative_clamp" || at(p, "negative_clamp").State != terminals.High || len(p.Open) != 1 {
		t.Errorf("%s %+v", p.Worst, p.Open)
	}
}

// TestAgainstANetwork: drops made by a linear solver on a circuit of known resistances come
// back as those resistances, and their watts add up to what the battery gives less what the
// starter gets.
func TestAgainstANetwork(t *testing.T) {
	names := []string{"positive_clamp", "positive_cable", "starter_stud", "ground_strap", "negative_cable", "negative_clamp"}
	ohms := []float64{0.0008, 0.0006, 0.0002, 0.0004, 0.0007, 0.0030}
	const inside, emf, load = 0.006, 12.6, 0.060
	// Unknown are the potentials of the nodes between: post, each joint's far side, starter's
	// two sides; the minus post is earth. Branches in a ring.
	ring := append(append([]float64{}, ohms[:3]...), load)
	ring = append(ring, ohms[3:]...)
	n := len(ring)
	g, rhs := mat.NewDense(n, n, nil), mat.NewVecDense(n, nil)
	for i := range n { // node i is before branch i; node n is the minus post
		conduct := 1 / ring[i]
		g.Set(i, i, g.At(i, i)+conduct)
		if i+1 < n {
			g.Set(i, i+1, g.At(i, i+1)-conduct)
			g.Set(i+1, i, g.At(i+1, i)-conduct)
			g.Set(i+1, i+1, g.At(i+1, i+1)+conduct)
		}
	}
	g.Set(0, 0, g.At(0, 0)+1/inside)
	rhs.SetVec(0, emf/inside)
	var v mat.VecDense
	if err := v.SolveVec(g, rhs); err != nil {
		t.Fatal(err)
	}
	amps := (emf - v.AtVec(0)) / inside
	// A reading line holds three decimals; these readings are not rounded.
	s := situation(t, car(), trail.Mounting{})
	branches := []int{0, 1, 2, 4, 5, 6}
	for k, name := range names {
		i := branches[k]
		far := 0.0
		if i+1 < n {
			far = v.AtVec(i + 1)
		}
		r := reading.Reading{Kind: reading.Drop}.With(reading.Volts, v.AtVec(i)-far).With(reading.Amps, amps).WithChoice(reading.Where, name)
		s.Case.Readings = append(s.Case.Readings, evidence.Untimed(r)...)
	}
	p := terminals.Work{Designs: new(twin.Designs)}.Of(s, nil)
	watts := 0.0
	for k, name := range names {
		j := at(p, name)
		watts += j.Now.Watts
		if math.Abs(j.Now.Ohms.Value-ohms[k]) > 2e-6 {
			t.Errorf("%s: %v, the network has %v", name, j.Now.Ohms.Value, ohms[k])
		}
	}
	starter := (v.AtVec(3) - v.AtVec(4)) * amps
	if given := v.AtVec(0) * amps; math.Abs(given-starter-watts) > 0.02 {
		t.Errorf("%v W given, %v W at the starter, %v W lost", given, starter, watts)
	}
	if p.Worst != "negative_clamp" {
		t.Errorf("worst is %s", p.Worst)
	}
}

// TestBeforeAndAfter: what was high and is not is closed, what is still high is open, and a
// second reading with hardly any current proves nothing.
func TestBeforeAndAfter(t *testing.T) {
	p := look(t, "drop positive_clamp 0.45v 150a", "case 4.5v", "drop positive_clamp 0.04v 150a", "case 0.05v")
	j := at(p, "positive_clamp")
	if j.State != terminals.Closed || j.Before.Volts != 0.45 || j.Now.Volts != 0.04 || j.Before.Faster != nil {
		t.Errorf("%+v", j)
	}
	if p.Case.State != terminals.Closed || *p.Case.Before != 4.5 || len(p.Open) != 0 {
		t.Errorf("%+v %+v", p.Case, p.Open)
	}
	if p.Before == nil || p.After == nil {
		t.Fatal("no drawing")
	}
	value := func(sc int) string {
		scene := p.Before
		if sc == 1 {
			scene = p.After
		}
		for _, part := range scene.Parts {
			if part.Hit == "positive_clamp" {
				return part.Value
			}
		}
		return ""
	}
	if !strings.Contains(value(0), "0.45") || !strings.Contains(value(1), "0.04") {
		t.Errorf("drawn: %q, %q", value(0), value(1))
	}
	p = look(t, "drop ground_strap 0.5v 150a", "drop ground_strap 0.3v 150a", "drop negative_clamp 0.4v 150a", "drop negative_clamp 0.01v 10a", "case 0.5v")
	if at(p, "ground_strap").State != terminals.StillHigh || at(p, "negative_clamp").State != terminals.Unproven || len(p.Open) != 3 {
		t.Errorf("%+v", p.Open)
	}
}

// TestWithout: with every joint in order it turns as fast as the picture says it would, and a
// larger drop costs more.
func TestWithout(t *testing.T) {
	small, large := look(t, "drop negative_clamp 0.3v 150a"), look(t, "drop negative_clamp 1.5v 150a")
	if *at(small, "negative_clamp").Now.Faster >= *at(large, "negative_clamp").Now.Faster {
		t.Error("a larger drop costs no more")
	}
	if large.Crank.Speed >= small.Crank.Speed || large.Crank.Lost <= small.Crank.Lost || large.Crank.Sound != small.Crank.Sound {
		t.Errorf("%+v %+v", small.Crank, large.Crank)
	}
	// Half a whole side that no part of was measured counts as one place.
	if p := look(t, "drop whole_negative 0.6v 150a"); p.Worst != "whole_negative" || p.Crank.Speed >= p.Crank.Sound {
		t.Errorf("%s %+v", p.Worst, p.Crank)
	}
	// Nothing turns on an electric car.
	e := terminals.Work{Designs: new(twin.Designs)}.Of(situation(t, evidence.Vehicle{Kind: "electric"}, trail.Mounting{}, "case 1v"), nil)
	if e.Crank != nil || e.Before != nil || e.Way.Name != "clean_out" {
		t.Errorf("%+v", e)
	}
}

// TestFound: everything that can be seen on a joint says what it means, what it does not, and
// what is done; heavy dirt comes out of the vehicle.
func TestFound(t *testing.T) {
	var lines []string
	for _, code := range terminals.Seen() {
		lines = append(lines, "look "+strings.ReplaceAll(code, "_", " ")+" positive")
	}
	p := look(t, append(lines, "look corrosion positive heavy")...)
	if len(p.Found) != len(terminals.Seen()) || p.Way.Name != "clean_out" {
		t.Fatalf("%d found, %s", len(p.Found), p.Way.Name)
	}
	for _, f := range p.Found {
		for _, text := range []string{f.Means.Text, f.Not.Text} {
			if text == "" || strings.Contains(text, "⟨") {
				t.Errorf("%s: %q", f.Code, text)
			}
		}
		for _, d := range f.Do {
			if strings.Contains(d.Text.Text, "⟨") {
				t.Errorf("%s: %q", f.Code, d.Text.Text)
			}
		}
		if f.Code == "cable_green" && !strings.Contains(f.Do[0].Text.Text, "never spliced") {
			t.Errorf("a green cable: %s", f.Do[0].Text.Text)
		}
	}
	if w := look(t, "look corrosion negative light").Way; w.Name != "clean_in_place" || len(w.Why) != 1 {
		t.Errorf("%+v", w)
	}
}

// TestTorque: the maker's figure first, or that it is not known; then 5.6 to 7.9 N·m on top
// posts, 7.9 to 10.2 N·m on side terminals (Battery Council International, value from memory).
func TestTorque(t *testing.T) {
	own := quantity.NewtonMetres(6)
	work := terminals.Work{Designs: new(twin.Designs)}
	p := work.Of(situation(t, car(), trail.Mounting{}), &own)
	if p.Torque[0].Of != "maker" || p.Torque[0].Low != 6 || !strings.Contains(p.Torque[0].Text, "53") || p.Torque[1].Of != "published" || math.Abs(p.Torque[1].Low-5.6) > 0.1 {
		t.Errorf("%+v", p.Torque)
	}
	side := work.Of(situation(t, car(), trail.Mounting{Posts: trail.SidePosts}), nil)
	if !strings.Contains(side.Torque[0].Text, "not known") || math.Abs(side.Torque[1].High-10.2) > 0.1 {
		t.Errorf("%+v", side.Torque)
	}
}

// TestEarthedPlus: a side has the limit of the side that lies on the body, 0.2 V in all, where
// that is plus; the live one 0.5 V (common practice, no source).
func TestEarthedPlus(t *testing.T) {
	v := car()
	v.Earth = "positive"
	p := terminals.Work{Designs: new(twin.Designs)}.Of(situation(t, v, trail.Mounting{}, "drop whole_positive 0.3v 150a", "drop whole_negative 0.3v 150a"), nil)
	if plus, minus := at(p, "whole_positive"), at(p, "whole_negative"); plus.State != terminals.High || minus.State != terminals.InOrder {
		t.Errorf("the earthed side %s, the live one %s", plus.State, minus.State)
	}
}
