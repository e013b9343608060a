package study

import (
	"encoding/json"
	"math/rand/v2"
	"slices"
	"testing"

	"grapnel/core/diagnosis"
	"grapnel/core/reading"
	"grapnel/core/twin"
)

func fleet(t testing.TB, name string) Fleet {
	t.Helper()
	f, err := Load(name)
	if err != nil {
		t.Fatal(err)
	}
	return f
}

// TestBounds runs a small study of each fleet and holds it to bounds that leave
// room for its few cases; docs/study.md has the large one. Bounds computed from
// several seeds.
func TestBounds(t *testing.T) {
	standard := Run(fleet(t, "standard"), 200, 5, nil)
	g := standard.Grapnel
	if g.RightCause < 0.80 || g.WronglyReplaced > 0.03 || g.BadKept > 0.10 || g.MinutesMedian > 50 || g.RightRepair < 0.92 || g.ComeBack60 > 0.08 || g.FaultsFound < 0.85 || g.FalseAlarms > 0.10 || g.CalibrationError > 0.06 {
		t.Errorf("standard: right %.3f, repaired %.3f, back %.3f, found %.3f, alarms %.3f, good replaced %.4f, bad kept %.4f, %.0f min, calibration %.3f", g.RightCause, g.RightRepair, g.ComeBack60, g.FaultsFound, g.FalseAlarms, g.WronglyReplaced, g.BadKept, g.MinutesMedian, g.CalibrationError)
	}
	stress := Run(fleet(t, "stress"), 100, 5, nil)
	if s := stress.Grapnel; s.WronglyReplaced > 0.04 {
		t.Errorf("stress: good replaced %.4f", s.WronglyReplaced)
	}
	winter := Run(fleet(t, "winter"), 100, 5, nil)
	for _, r := range []Result{standard, stress, winter} {
		for name, b := range r.Baselines {
			if r.Grapnel.ComeBack60 >= b.ComeBack60 || r.Grapnel.RightRepair <= b.RightRepair || r.Grapnel.FaultsFound <= b.FaultsFound {
				t.Errorf("%s: %s does as well: back %.3f and %.3f", r.Fleet, name, r.Grapnel.ComeBack60, b.ComeBack60)
			}
		}
	}
	for name, b := range standard.Baselines {
		if standard.Grapnel.ExpectedCost > b.ExpectedCost || standard.Grapnel.RightCause <= b.RightCause {
			t.Errorf("%s judges as well: expected cost %.4f and %.4f", name, standard.Grapnel.ExpectedCost, b.ExpectedCost)
		}
	}
}

// TestSameSeed: the same seed gives the same figures, however the work is shared;
// another seed gives others.
func TestSameSeed(t *testing.T) {
	f := fleet(t, "standard")
	text := func(seed uint64) string {
		data, err := json.Marshal(Run(f, 12, seed, nil))
		if err != nil {
			t.Fatal(err)
		}
		return string(data)
	}
	defer func(w func(int) int) { workers = w }(workers)
	workers = func(int) int { return 1 }
	alone := text(3)
	workers = func(int) int { return 4 }
	if shared := text(3); shared != alone {
		t.Error("four workers find what one does not")
	}
	if text(4) == alone {
		t.Error("another seed changes nothing")
	}
}

// TestFleets: every cause of the fleet's mix has symptoms and a charge it arrives
// with, and what is drawn keeps to the fleet's own definitions.
func TestFleets(t *testing.T) {
	for _, name := range FleetNames() {
		f := fleet(t, name)
		for main := range f.Main {
			if len(f.Symptoms[main]) == 0 || f.Arrival[main][1] == 0 || !slices.Contains(diagnosis.CauseCodes(), main) {
				t.Errorf("%s: %s lacks symptoms or arrival, or is no cause", name, main)
			}
		}
		var designs twin.Designs
		mains, bad := map[string]int{}, 0
		for i := range 300 {
			c := f.draw(rand.New(rand.NewPCG(9, uint64(i))), &designs)
			mains[c.main]++
			ofBattery := slices.Contains(batteryFaults, c.main)
			if !c.good {
				bad++
			}
			if !c.good && !ofBattery {
				t.Errorf("%s %d: a bad battery (power %.2f, capacity %.2f) is marked %s", name, i, c.power, c.capacity, c.main)
			}
			if c.electric() && slices.Contains(crankSymptoms, c.symptom) {
				t.Errorf("%s %d: an electric car %s", name, i, c.symptom)
			}
			if f.Extra > 0 && len(c.also) < f.Extra && c.main != "nothing_wrong" {
				t.Errorf("%s %d: only %v beside %s", name, i, c.also, c.main)
			}
		}
		if len(mains) < 12 || bad < 50 || bad > 165 {
			t.Errorf("%s: %d mains, %d of 300 bad", name, len(mains), bad)
		}
	}
	if _, err := Load("nowhere"); err == nil {
		t.Error("a fleet that is not there was loaded")
	}
}

// TestPlainDiffers: the stress fleet's battery follows another law than the twin:
// the same label at the same charge and load shows other volts, and yet holds to
// what its label means.
func TestPlainDiffers(t *testing.T) {
	f := fleet(t, "stress")
	l := f.Labels[1]
	p := newPlain(rand.New(rand.NewPCG(1, 1)), l, twin.Sound, 100, -18)
	if v := p.Under(l.Cranking, 30); v < 6.1 || v > 7.8 {
		t.Errorf("a new one at its rating shows %.2f V", v)
	}
	d, _ := twin.Calibrate(l.label())
	most := 0.0
	for _, percent := range []float64{40, 60, 80, 100} {
		a := newPlain(rand.New(rand.NewPCG(1, 1)), l, twin.Sound, percent, 5)
		b := d.New(twin.Sound, percent, 5)
		if apart := float64(a.Under(l.Cranking/2, 15) - b.Under(l.Cranking/2, 15)); apart > most || -apart > most {
			most = max(apart, -apart)
		}
	}
	if most < 0.1 {
		t.Errorf("the two models differ by %.3f V at the most", most)
	}
}

// TestReadingsAreTakenAsPeopleDo: every reading the technician takes can be typed
// and read back, and charging comes before what is said to follow it.
func TestReadingsAreTakenAsPeopleDo(t *testing.T) {
	f := fleet(t, "standard")
	engine := diagnosis.New()
	var designs twin.Designs
	for i := range 30 {
		c := f.draw(rand.New(rand.NewPCG(2, uint64(i))), &designs)
		w := newTechnician(&f, &c, rand.New(rand.NewPCG(3, uint64(i))), false)
		w.diagnose(engine, new(ended))
		for _, r := range w.c.Readings {
			if back, err := reading.Parse(reading.Print(r.Reading)); err != nil || back.Reading != r.Reading {
				t.Fatalf("%q does not come back: %v", reading.Print(r.Reading), err)
			}
		}
		if w.minutes > budget {
			t.Errorf("case %d took %.0f minutes", i, w.minutes)
		}
	}
}

func BenchmarkCase(b *testing.B) {
	f := fleet(b, "standard")
	engine := diagnosis.New()
	var designs twin.Designs
	i := 0
	for b.Loop() {
		f.work(engine, &designs, "grapnel", 1, i)
		i++
	}
}
