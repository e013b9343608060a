package diagnosis

import (
	"math"
	"slices"
	"sort"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/reading"
	"grapnel/core/wording"
)

// next lists the tests worth taking, best first. A test that a stop rule
// forbids, that the shop has no tool for, or that could prove nothing now is
// not in the list.
func next(f facts, condition Condition, action Action) []Next {
	if action == StopUnsafe {
		return []Next{step("clear_stop", 5, 0, nil)}
	}
	bad := 1 - condition.Sound
	var list []Next
	list = append(list, f.prepare(bad)...)
	if f.decidable() {
		list = append(list, f.decisive(bad)...)
	}
	sort.SliceStable(list, func(i, j int) bool { return list[i].Gain > list[j].Gain })
	if action == LookElsewhere {
		// The battery has answered; what is worth knowing now is elsewhere.
		list = append(f.onTheVehicle(), list...)
	}
	if list == nil {
		list = []Next{}
	}
	return list
}

func step(name string, minutes, gain float64, values wording.Values) Next {
	return Next{Test: name, Minutes: minutes, Gain: math.Round(gain*1000) / 1000, Text: wording.Say("next."+name, values)}
}

// decidable reports whether a load or conductance test would prove something.
func (f facts) decidable() bool {
	return f.ev.Last().Charged() && len(f.spoilt) == 0
}

// prepare lists what has to come before a test can decide. Its gain is that of
// the test it makes possible, a little less for each step before it.
func (f facts) prepare(bad float64) []Next {
	var list []Next
	last := f.ev.Last()
	best := tests["load"].gain(bad)
	if _, ok := f.ev.Case.LoadTarget(); !ok {
		list = append(list, step("rating", 1, 0.95*best, nil))
	}
	if last.Dry >= 0 {
		list = append(list, step("top_up", 5, best, nil))
	}
	if len(f.spoilt) > 0 || len(f.beyond) > 0 {
		list = append(list, step("clean", 15, best, nil))
	}
	switch {
	case last.Low() && !last.Charged():
		if f.ev.Case.HasTool("charger") {
			list = append(list, step("charge", 10, 0.9*best, f.planValues()))
		}
		if f.ev.Case.HasTool("pile") && len(f.loadPass) == 0 && len(f.unproven) == 0 {
			// A pass counts at any charge; a fail would have to be repeated.
			list = append(list, Next{Test: "load", Minutes: tests["load"].minutes, Gain: math.Round(300*best) / 1000,
				Text: wording.Say("next.load_anyway", f.planValues())})
		}
	case last.Charge == nil || last.Charge.EyeOnly:
		if last.AtMost != nil {
			list = append(list, step("rest", 3, 0.9*best, nil))
		} else {
			list = append(list, step("open_circuit", 3, 0.9*best, nil))
		}
	}
	if last.TestTemperature() == nil && len(f.ev.Epochs) > 0 && f.decidable() && len(f.loadPass) == 0 {
		list = append(list, step("temperature", 1, 0.3*best, nil))
	}
	if !f.has(reading.Look) {
		list = append(list, step("look", tests["look"].minutes, 0.1*best, nil))
	}
	return list
}

// decisive lists the tests that settle it on a charged battery.
func (f facts) decisive(bad float64) []Next {
	var list []Next
	_, rated := f.ev.Case.LoadTarget()
	pile := f.ev.Case.HasTool("pile") || f.ev.School.Starter
	contradicted := f.disagreement()
	if rated && pile && (len(f.loadPass)+len(f.loadFail) == 0 || contradicted) {
		list = append(list, f.ofTest("load", bad))
	}
	untested := len(f.condPass)+len(f.condFail)+len(f.condWeak) == 0
	if f.ev.Case.Label.Rating != nil && f.ev.Case.HasTool("conductance") && (untested || contradicted) {
		list = append(list, f.ofTest("conductance", bad))
	}
	l := f.ev.Case.Label
	if l.Opens() && f.ev.Case.HasTool("hydrometer") && !f.has(reading.Gravity) {
		list = append(list, f.ofTest("gravity", bad))
	}
	if f.uneven() && l.Opens() && l.Chemistry == battery.Flooded {
		list = append(list, step("equalise", 10, tests["gravity"].gain(bad), nil))
	}
	if _, known := f.ev.Case.Capacity(); known && f.passed() && f.emptied() && !f.has(reading.Reserve) {
		list = append(list, f.ofTest("reserve", bad))
	}
	return list
}

func (f facts) uneven() bool {
	for _, finding := range f.standing {
		if finding.Text.Code == "finding.gravity_uneven" || finding.Text.Code == "finding.gravity_apart" {
			return true
		}
	}
	return false
}

// emptied reports a battery that ran flat, or is said to again and again.
func (f facts) emptied() bool {
	return f.arrivedLow >= 0 || slices.Contains(f.ev.Case.Symptoms, "dies_again")
}

func (f facts) ofTest(name string, bad float64) Next {
	t := tests[name]
	return step(t.name, t.minutes, t.gain(bad), f.planValues())
}

// onTheVehicle lists where to look for what flattened or stopped a sound
// battery, and has not been looked at. It tells nothing more about the battery,
// so its gain about that is nil.
func (f facts) onTheVehicle() []Next {
	if found := f.putRight(); found != nil {
		return found
	}
	var list []Next
	add := func(kind reading.Kind, minutes float64) {
		if !f.proved(kind) {
			list = append(list, step(string(kind), minutes, 0, nil))
		}
	}
	if f.emptied() {
		if f.ev.Case.Vehicle.Electric() {
			add(reading.DCDC, 3)
		} else {
			add(reading.Charging, 5)
		}
		if f.ev.Case.HasTool("clamp") || f.ev.Case.HasTool("meter") {
			add(reading.Drain, 45)
		}
		if !f.told(reading.TripsWeek) && !f.told(reading.LeftOnH) {
			list = append(list, step("trips", 1, 0, nil))
		}
		if f.seenFinding("dirty_top") {
			add(reading.CaseLeak, 2)
		}
	}
	if f.cranksBadly() && f.ev.Case.Vehicle.Kind != "electric" {
		add(reading.Drop, 10)
		if f.ev.Case.HasTool("clamp") {
			add(reading.StarterDraw, 10)
		}
	}
	return list
}

// putRight is what follows once the vehicle's readings have found a fault: a
// drain is followed fuse by fuse, anything else put right and measured again.
func (f facts) putRight() []Next {
	faults := f.vehicleFaults()
	if len(faults) == 0 {
		return nil
	}
	drain := false
	for _, i := range faults {
		switch f.ev.Findings[i].Text.Code {
		case "finding.drain_high":
			drain = true
		case "finding.drain_high_fuse":
			return []Next{step("repair", 30, 0, nil)}
		}
	}
	if drain {
		return []Next{step("fuses", 20, 0, nil)}
	}
	return []Next{step("repair", 30, 0, nil)}
}

// crankSymptoms are complaints about the starting itself.
var crankSymptoms = []string{"silent", "lights_no_crank", "single_click", "rapid_click", "slow_crank", "cold_only"}

func (f facts) cranksBadly() bool {
	return slices.ContainsFunc(f.ev.Case.Symptoms, func(s string) bool { return slices.Contains(crankSymptoms, s) })
}

// proved reports a reading of a kind that counts.
func (f facts) proved(kind reading.Kind) bool {
	return slices.ContainsFunc(f.standing, func(finding evidence.Finding) bool { return finding.Kind == kind && finding.Valid })
}

func (f facts) told(id reading.Number) bool {
	return slices.ContainsFunc(f.ev.Case.Readings, func(r reading.Reading) bool { return r.Has(id) })
}

func (f facts) seenFinding(code string) bool {
	return slices.ContainsFunc(f.ev.Case.Readings, func(r reading.Reading) bool { return r.Choice(reading.Finding) == code })
}

func (f facts) has(kind reading.Kind) bool {
	for _, r := range f.ev.Case.Readings {
		if r.Kind == kind {
			return true
		}
	}
	return false
}
