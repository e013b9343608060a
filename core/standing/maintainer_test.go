package standing

import (
	"math"
	"testing"

	"grapnel/core/battery"
)

// TestMaintainer checks the size of a maintainer: at most 10 % of Ah, 1 A
// enough (common practice, no source), and twice what it loses (computed).
func TestMaintainer(t *testing.T) {
	m := MaintainerFor(48, 0.03, "calcium", 20)
	if math.Abs(float64(m.Most)-4.8) > 1e-9 || m.Enough != 1 || m.Short {
		t.Errorf("%+v", m)
	}
	lost := 0.03 + battery.SelfDischarge("calcium", 20)/100*48/24
	if math.Abs(float64(m.Least)-2*lost) > 1e-9 {
		t.Errorf("least %v, lost %v", m.Least, lost)
	}
	if m := MaintainerFor(12, 1, "agm", 20); !m.Short || m.Enough != m.Most {
		t.Errorf("a drain of an ampere on a motorcycle: %+v", m)
	}
	if warm, cold := MaintainerFor(48, 0, "antimony", 35), MaintainerFor(48, 0, "antimony", 5); warm.Least <= cold.Least {
		t.Error("warmth asks for less")
	}
}
