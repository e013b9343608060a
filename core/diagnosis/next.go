package diagnosis

import (
	"math"
	"sort"

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
	if len(f.spoilt) > 0 {
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
	if last.Temperature == nil && len(f.ev.Epochs) > 0 && f.decidable() && len(f.loadPass) == 0 {
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
	return list
}

func (f facts) ofTest(name string, bad float64) Next {
	t := tests[name]
	return step(t.name, t.minutes, t.gain(bad), f.planValues())
}

// onTheVehicle lists where to look for what flattened a sound battery. It
// tells nothing more about the battery, so its gain about that is nil.
func (f facts) onTheVehicle() []Next {
	var list []Next
	if f.arrivedLow >= 0 {
		list = append(list, step("charging", 5, 0, nil), step("drain", 45, 0, nil))
	}
	if f.complaint() {
		list = append(list, step("drop", 10, 0, nil))
	}
	return list
}

func (f facts) has(kind reading.Kind) bool {
	for _, r := range f.ev.Case.Readings {
		if r.Kind == kind {
			return true
		}
	}
	return false
}
