package fitting

import (
	"math"
	"testing"

	"grapnel/core/quantity"
)

// TestTorques checks the ranges: top post 5.6 to 7.9, side terminal 7.9 to
// 10.2 N·m (Battery Council International, value from memory); 10 to 11.3 and
// 15 N·m are common practice, no source.
func TestTorques(t *testing.T) {
	for _, c := range []struct {
		terminal  string
		row       int
		low, high float64
	}{{"top", 0, 5.6, 7.9}, {"side", 0, 7.9, 10.2}, {"top", 1, 10, 11.3}, {"side", 1, 15, 15}} {
		row := Torques(c.terminal)[c.row]
		if math.Abs(float64(row.Low)-c.low) > 0.1 || math.Abs(float64(row.High)-c.high) > 0.1 {
			t.Errorf("%s: %+v", c.terminal, row)
		}
	}
	for torque, want := range map[quantity.NewtonMetres]string{3: "under", 6: "in", 9: "in", 14: "over"} {
		if got := Judge("top", torque); got != want {
			t.Errorf("%v N·m on a top post: %s", torque, got)
		}
	}
}

// TestSizes checks case sizes: European ones by EN 50342-2, North American
// groups, both values from memory.
func TestSizes(t *testing.T) {
	for name, length := range map[string]float64{"L1": 207, "L2": 242, "L3": 278, "L4": 315, "L5": 353, "24": 260, "51R": 238, "U1": 197,
		"27": 306, "31": 330, "47": 242, "48": 278, "49": 354, "78": 260, "94R": 315, "B24": 238, "D31": 306, "A": 513, "LB6": 394} {
		if s, ok := FindSize(name); !ok || s.Length != length {
			t.Errorf("%s: %+v", name, s)
		}
	}
	if _, ok := FindSize("L9"); ok {
		t.Error("a size nobody makes")
	}
	if s, _ := FindSize("75"); !s.Side {
		t.Error("group 75 has its terminals on the side")
	}
	if s, _ := FindSize("L3"); s.Volume() != 9.2 {
		t.Errorf("L3 is %v l", s.Volume())
	}
	if len(Layouts()) != 4 {
		t.Error("layouts")
	}
}

// TestFitTray checks that what is offered goes in, the best filled first, and
// that nothing that goes in is left out.
func TestFitTray(t *testing.T) {
	fits := FitTray(280, 176, 195)
	if len(fits) == 0 || fits[0].Name != "L3" {
		t.Fatalf("%+v", fits)
	}
	offered := map[string]bool{}
	for _, f := range fits {
		offered[f.Name] = true
	}
	for _, s := range Sizes() {
		if in := s.Length <= 280 && s.Width <= 176 && s.Height <= 195; in != offered[s.Name] {
			t.Errorf("%s: offered %v", s.Name, offered[s.Name])
		}
	}
	if fits := FitTray(100, 100, 100); fits != nil {
		t.Errorf("%+v", fits)
	}
}
