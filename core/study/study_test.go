package study

import (
	"fmt"
	"grapnel/core/diagnosis"
	"grapnel/core/reading"
	"grapnel/core/twin"
	"math/rand/v2"
	"os"
	"sort"
	"testing"
)

func TestDraft(t *testing.T) {
	f, _ := Load("standard")
	if os.Getenv("FLEET") != "" {
		f, _ = Load(os.Getenv("FLEET"))
	}
	n := 1500
	r := Run(f, n, 1, nil)
	for _, x := range []struct {
		n string
		f Figures
	}{{"grapnel", r.Grapnel}, {"oracle", r.Oracle}} {
		fmt.Printf("%s right %.3f wrong %.4f kept %.4f cal %.3f min %.0f p90 %.0f tests %.0f %v\n", x.n, x.f.RightCause, x.f.WronglyReplaced, x.f.BadKept, x.f.CalibrationError, x.f.MinutesMedian, x.f.MinutesP90, x.f.TestsMedian, x.f.Actions)
		for _, b := range x.f.Calibration {
			fmt.Printf(" %.3f/%.3f", b.Confidence, b.Right)
		}
		fmt.Println()
		var keys []string
		for k := range x.f.Confusion {
			keys = append(keys, k)
		}
		sort.Strings(keys)
		for _, k := range keys {
			fmt.Println("  ", k, x.f.Confusion[k])
		}
	}
	for n, b := range r.Baselines {
		fmt.Printf("%s right %.3f wrong %.4f kept %.4f cost %.4f min %.0f\n", n, b.RightCause, b.WronglyReplaced, b.BadKept, b.ExpectedCost, b.MinutesMedian)
	}
	if os.Getenv("SHOW") == "" {
		return
	}
	engine := diagnosis.New()
	var designs twin.Designs
	shown := 0
	for i := 0; i < n && shown < 14; i++ {
		way := os.Getenv("WAY")
		e := f.work(engine, &designs, way, 1, i)
		bad := false
		switch os.Getenv("SHOW") {
		case "wrong":
			bad = e.good && e.action == diagnosis.Replace
		case "kept":
			bad = !e.good && e.action != diagnosis.Replace && e.action != diagnosis.StopUnsafe
		default:
			bad = e.main == os.Getenv("SHOW") && e.cause != e.main
		}
		if !bad {
			continue
		}
		shown++
		tr := f.draw(rand.New(rand.NewPCG(1, uint64(i))), &designs)
		w := newTechnician(&f, &tr, rand.New(rand.NewPCG(1^0x9e3779b97f4a7c15, uint64(i))), way == "oracle")
		var e2 ended
		if way == "oracle" {
			w.everything(engine, &e2)
		} else {
			w.diagnose(engine, &e2)
		}
		fmt.Printf("== %s also %v power %.2f cap %.2f arrived %.0f -> %s %s %.2f; %s %s %v\n", tr.main, tr.also, tr.power, tr.capacity, tr.arrived, e.action, e.cause, e.confidence, tr.symptom, tr.vehicle.Kind, tr.label)
		a := engine.Brief(w.c)
		for k, r := range w.c.Readings {
			fmt.Println("     ", reading.Print(r), "|", a.Findings[k].Text.Text)
		}
		for k, c := range a.Causes {
			if k < 5 {
				fmt.Print("  ", c.Cause, " ", c.Probability)
			}
		}
		fmt.Println()
		for k, c := range a.Next {
			if k < 5 {
				fmt.Print("  ", c.Test, " ", c.Gain)
			}
		}
		fmt.Println(a.Condition)
	}
}
