package study

import (
	"math/rand/v2"
	"slices"
	"testing"

	"grapnel/core/twin"
)

// TestAllInOrderStays: with every fault repaired and a new battery hardly any vehicle comes
// back, whatever the fleet; left as they came in, most do whose faults strand them. The
// fleet's own definitions.
func TestAllInOrderStays(t *testing.T) {
	for _, name := range FleetNames() {
		f := fleet(t, name)
		var designs twin.Designs
		back, left, stranded := 0, 0, 0
		for i := range 120 {
			draw := func() truth { return f.draw(rand.New(rand.NewPCG(11, uint64(i))), &designs) }
			c := draw()
			for _, fault := range c.faults() {
				c.repair(fault)
			}
			if c.comesBack(c.newBattery()) {
				back++
			}
			strands := f.stranding(draw)
			for fault := range strands {
				if !slices.Contains(c.faults(), fault) {
					t.Errorf("%s %d: %s strands it and is not there", name, i, fault)
				}
			}
			if len(strands) == 0 {
				continue
			}
			stranded++
			as := draw()
			as.battery.Fill(workshop)
			if as.comesBack(drivenOf(as.battery)) {
				left++
			}
		}
		if back > 12 {
			t.Errorf("%s: %d of 120 come back with nothing wrong", name, back)
		}
		if stranded < 20 || float64(left) < 0.9*float64(stranded) {
			t.Errorf("%s: %d of %d that would be stranded come back", name, left, stranded)
		}
	}
}

// TestRepairs: a repair counts only for what it is a repair of.
func TestRepairs(t *testing.T) {
	charged := done{named: map[string]bool{}, charged: true}
	changed := done{named: map[string]bool{ofBattery: true}, replaced: true}
	cleaned := done{named: map[string]bool{}, cleaned: true}
	told := done{named: map[string]bool{"short_trips": true}}
	for _, c := range []struct {
		of    done
		fault string
		want  bool
	}{
		{charged, "accessory_left_on", true}, {charged, "worn", false}, {charged, "short_trips", false}, {changed, "dead_cell", true},
		{changed, "parasitic_drain", false}, {cleaned, "poor_connection", true}, {cleaned, "starter_drag", false}, {told, "short_trips", true},
		{told, "nothing_wrong", true},
	} {
		if got := c.of.repaired(c.fault); got != c.want {
			t.Errorf("%s by %+v: %v", c.fault, c.of, got)
		}
	}
}

// TestFrozenIsThawed: a battery that may be frozen and nothing worse is thawed and judged, not
// thrown away.
func TestFrozenIsThawed(t *testing.T) {
	winter := Run(fleet(t, "winter"), 60, 3, nil)
	if winter.Grapnel.WronglyReplaced > 0.05 {
		t.Errorf("%.3f good batteries replaced", winter.Grapnel.WronglyReplaced)
	}
}
