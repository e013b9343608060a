package trail

import (
	"cmp"
	"maps"
	"slices"

	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// Stage is one stop on the trail of a job, in working order.
type Stage struct {
	Code string `json:"code"`
	// State is done, waits, open, barred or not_needed.
	State string            `json:"state"`
	Text  wording.Statement `json:"text"`
}

// The stages of a job.
const (
	StageArrive  = "arrive"
	StageLook    = "look"
	StageCharge  = "charge_state"
	StageOnShelf = "charge"
	StageCrank   = "crank_power"
	StageVehicle = "vehicle"
	StageDecide  = "decide"
	StageFinish  = "finish"
)

// StageCodes lists them in working order.
func StageCodes() []string {
	return []string{StageArrive, StageLook, StageCharge, StageOnShelf, StageCrank, StageVehicle, StageDecide, StageFinish}
}

// Stages says how far a case has come. Closed marks a job that was handed back; a
// quick look needs no charge and no search on the vehicle as long as nothing it
// found asks for one.
func Stages(c evidence.Case, a diagnosis.Assessment, purpose string, closed bool) []Stage {
	stopped := len(a.Stops) > 0
	stages := []Stage{
		arriveStage(c), lookStage(c), chargeStateStage(a, c, stopped), chargeStage(a, c, stopped), crankStage(a, stopped),
		vehicleStage(a), decideStage(a), finishStage(closed),
	}
	if purpose == QuickLook && (a.Verdict.Action == diagnosis.Keep || a.Verdict.Action == diagnosis.MoreTests) {
		for i, one := range stages {
			if one.State == Open && (one.Code == StageOnShelf || one.Code == StageVehicle) {
				stages[i] = stage(one.Code, NotNeeded, "not_quick", nil)
			}
		}
	}
	return stages
}

func stage(code, state, text string, values wording.Values) Stage {
	return Stage{Code: code, State: state, Text: wording.Say("trail."+text, values)}
}

func arriveStage(c evidence.Case) Stage {
	if len(c.Symptoms) == 0 {
		return stage(StageArrive, Done, "no_symptom", nil)
	}
	return stage(StageArrive, Done, "symptom", wording.Values{"symptom": c.Symptoms[0]})
}

func lookStage(c evidence.Case) Stage {
	state, text, values := Open, "not_yet", wording.Values{}
	for _, r := range c.Readings {
		switch {
		case r.Kind == reading.Look && r.Choice(reading.Finding) == "none":
			state, text = Done, "look_none"
		case r.Kind == reading.Look:
			state, text, values = Done, "look_found", wording.Values{"finding": r.Choice(reading.Finding)}
		case r.Kind == reading.Eye && state == Open:
			state, text, values = Done, "eye", wording.Values{"colour": r.Choice(reading.Colour)}
		}
	}
	return stage(StageLook, state, text, values)
}

func chargeStateStage(a diagnosis.Assessment, c evidence.Case, stopped bool) Stage {
	if a.ChargeState != nil {
		return stage(StageCharge, Done, "percent", wording.Values{"percent": a.ChargeState.Percent})
	}
	last := evidence.Examine(c).Last()
	if last.Contradiction != nil {
		return stage(StageCharge, Waits, "contradicted", nil)
	}
	for i := last.End - 1; i >= last.First; i-- {
		if c.Readings[i].Kind == reading.OpenCircuit && c.Label.Chemistry.Judged() {
			return stage(StageCharge, Waits, "rest_first", wording.Values{"volts": c.Readings[i].Volts()})
		}
	}
	if stopped {
		return stage(StageCharge, Open, "stopped", nil)
	}
	return stage(StageCharge, Open, "not_yet", nil)
}

// chargeStage is done when a full charge lies behind the last readings.
func chargeStage(a diagnosis.Assessment, c evidence.Case, stopped bool) Stage {
	charged := false
	var check *reading.Reading
	for i := range c.Readings {
		r := &c.Readings[i].Reading
		charged = charged || r.AfterCharge
		if r.Kind == reading.ChargeLog {
			check = r
		} else if r.AfterCharge {
			check = nil
		}
	}
	switch {
	case check != nil && !stopped:
		return stage(StageOnShelf, Waits, "charging_now", wording.Values{"volts": check.Volts()})
	case stopped:
		return stage(StageOnShelf, Barred, "stopped", nil)
	case a.Verdict.Action == diagnosis.ChargeAndRetest:
		return stage(StageOnShelf, Waits, "charge_needed", nil)
	case charged:
		return stage(StageOnShelf, Done, "charged", nil)
	case a.ChargeState != nil && a.ChargeState.Percent >= school.JudgePercent:
		return stage(StageOnShelf, NotNeeded, "charge_enough", nil)
	}
	return stage(StageOnShelf, Open, "not_yet", nil)
}

func crankStage(a diagnosis.Assessment, stopped bool) Stage {
	if stopped {
		return stage(StageCrank, Barred, "stopped", nil)
	}
	found := stage(StageCrank, Open, "not_yet", nil)
	for _, f := range a.Findings {
		switch {
		case f.Outcome == evidence.None:
		case f.Valid && f.Outcome == evidence.Pass:
			found = stage(StageCrank, Done, "passed", nil)
		case f.Valid && f.Outcome == evidence.Fail:
			found = stage(StageCrank, Done, "failed", nil)
		case f.Valid:
			found = stage(StageCrank, Done, "weak", nil)
		default:
			found = stage(StageCrank, Waits, "proves_nothing", nil)
		}
	}
	return found
}

// vehicleStage is done when something of the vehicle was measured that counts,
// unless the cause is still being looked for.
func vehicleStage(a diagnosis.Assessment) Stage {
	counted, beyond := 0, ""
	for _, f := range a.Findings {
		if !f.Valid || !diagnosis.OfVehicle(f.Kind) && f.Kind != reading.CaseLeak {
			continue
		}
		counted++
		if diagnosis.FaultFound(f) {
			beyond = string(f.Kind)
		}
	}
	switch {
	case beyond != "":
		return stage(StageVehicle, Done, "vehicle_fault", wording.Values{"kind": beyond})
	case a.Verdict.Action == diagnosis.LookElsewhere:
		return stage(StageVehicle, Waits, "vehicle_next", nil)
	case counted > 0:
		return stage(StageVehicle, Done, "vehicle_ok", wording.Values{"count": counted})
	}
	return stage(StageVehicle, Open, "not_yet", nil)
}

func decideStage(a diagnosis.Assessment) Stage {
	switch a.Verdict.Action {
	case diagnosis.MoreTests:
		return stage(StageDecide, Open, "not_yet", nil)
	case diagnosis.ChargeAndRetest, diagnosis.CleanAndRetest:
		return stage(StageDecide, Waits, "verdict", wording.Values{"action": string(a.Verdict.Action)})
	}
	return stage(StageDecide, Done, "verdict", wording.Values{"action": string(a.Verdict.Action)})
}

func finishStage(closed bool) Stage {
	if closed {
		return stage(StageFinish, Done, "closed", nil)
	}
	return stage(StageFinish, Open, "not_yet", nil)
}

// stageOf is the stage a kind of reading belongs to.
var stageOf = map[reading.Kind]string{
	reading.Halves: StageCharge, reading.OpenCircuit: StageCharge, reading.Gravity: StageCharge, reading.Eye: StageLook,
	reading.Look: StageLook, reading.Level: StageLook, reading.CaseLeak: StageLook,
	reading.Load: StageCrank, reading.Conductance: StageCrank, reading.Reserve: StageCrank,
	reading.ChargeLog: StageOnShelf, reading.History: StageArrive,
	reading.Crank: StageVehicle, reading.ChargingSystem: StageVehicle, reading.Ripple: StageVehicle,
	reading.StarterDraw: StageVehicle, reading.Drop: StageVehicle, reading.Drain: StageVehicle,
	reading.DCDC: StageVehicle, reading.Jump: StageVehicle,
}

// StageOf is the stage a kind of reading belongs to.
func StageOf(kind reading.Kind) string { return stageOf[kind] }

// StageAt is the stage to open a job on: that of the last reading, or the first of the
// trail.
func StageAt(readings []evidence.Taken) string {
	if len(readings) == 0 {
		return StageArrive
	}
	return cmp.Or(StageOf(readings[len(readings)-1].Reading.Kind), StageArrive)
}

// stageOfTest is where what comes next is done, by the name that package diagnosis gives
// it, where that is not where its reading belongs.
var stageOfTest = map[string]string{
	"rest": StageCharge, "temperature": StageCharge, "warm": StageCharge, "cranks_12v": StageArrive, "charge": StageOnShelf, "equalise": StageOnShelf,
	"clean": StageLook, "clear_stop": StageLook, "top_up": StageLook, "rating": StageArrive, "label": StageArrive, "trips": StageArrive,
	"charging": StageVehicle, "fuses": StageVehicle, "repair": StageVehicle, "case_leak": StageVehicle,
}

// Tests lists everything that may come next, by its name.
func Tests() []string { return slices.Sorted(maps.Keys(StagesOfTests())) }

// StagesOfTests tells for everything that may come next where it is done.
func StagesOfTests() map[string]string {
	stages := map[string]string{}
	for kind, stage := range stageOf {
		stages[string(kind)] = stage
	}
	maps.Copy(stages, stageOfTest)
	return stages
}
