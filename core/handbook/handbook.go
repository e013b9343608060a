// Package handbook puts together what every package of the core knows: each
// table, limit and constant of the trade with its value, unit and source. The
// command grapnel sources prints it and a page of the application shows it.
//
// Where a row of the trade's handbook is found:
//
//	triage, what a symptom suggests            diagnosis (symptomHints)
//	what is looked for, and what stops work    school (LookRuleFor, Caution)
//	date codes, life expectancy                battery (DateCode, AgeBand)
//	charge by volts, gravity, eye, zones       battery (ChargeFromVolts, ChargeFromGravity), evidence
//	surface charge                             school (RestMinutes and the rest), battery (SurfaceCharge)
//	hydrometer, spread of cells                battery (Gravity), evidence
//	freezing, acid strength                    battery (FreezingPoint, AcidStrength)
//	temperature of the acid                    battery (Electrolyte)
//	ratings and their standards                battery (Rating, Definitions, FromSAE)
//	reserve, ampere-hours, minutes at a load   battery (CapacityFromReserve, MinutesAt)
//	load test, its limits and schools          school (LoadSchool), evidence
//	conductance                                school (GradeOf), evidence
//	limits of the vehicle's side               school (Limits)
//	fuses, cables, joints                      circuit
//	a week's use                               use
//	drains and days standing                   battery (DaysStanding)
//	verdicts                                   diagnosis (Assess)
//	charging volts, current, acceptance        battery (Charging, AcceptanceDelay, Acceptance)
//	charging time, rates, air                  charging
//	torque, case sizes, posts, keep-alive      fitting
//	self-discharge, maintainers, intervals     battery (SelfDischarge), standing
//	steps, questions, waits, close-out list    trail
//	what an instrument is worth                accuracy
//	the reading line                           reading
//	a job as plain text                        logbook
//	every sum with its inputs and words        bench
package handbook

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"

	"grapnel/core/accuracy"
	"grapnel/core/battery"
	"grapnel/core/charging"
	"grapnel/core/circuit"
	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/fitting"
	"grapnel/core/jump"
	"grapnel/core/procedure"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/shelf"
	"grapnel/core/source"
	"grapnel/core/standing"
	"grapnel/core/terminals"
	"grapnel/core/trail"
	"grapnel/core/twin"
	"grapnel/core/use"
)

// Sources lists every figure of the trade by package, in the order in which
// the packages build on each other.
func Sources() []source.Entry {
	var all []source.Entry
	for _, list := range [][]source.Entry{
		quantities(), battery.Sources(), accuracy.Sources(), circuit.Sources(), use.Sources(), reading.Sources(), school.Sources(),
		evidence.Sources(),
		twin.Sources(), diagnosis.Sources(), charging.Sources(), shelf.Sources(), jump.Sources(), fitting.Sources(), terminals.Sources(), standing.Sources(), trail.Sources(), procedure.Sources(),
	} {
		all = append(all, list...)
	}
	return all
}

// quantities are the exact factors of the units, listed here because their
// package stands below that of the sources.
func quantities() []source.Entry {
	exact := source.From("exact: the international pound, inch and standard gravity")
	return source.In("quantity",
		source.Figure("newtonMetresPerInchPound", quantity.InchPounds(1).NewtonMetres(), "N·m", exact),
		source.Figure("newtonMetresPerFootPound", quantity.FootPounds(1).NewtonMetres(), "N·m", exact),
	)
}

// RulesHash identifies the figures and rule tables a verdict is drawn by: sixteen
// hexadecimal digits. It is stored beside the verdict, so that an old one can be told
// from a new rule.
func RulesHash() string { return hashOf(Sources(), school.Tables()) }

func hashOf(figures []source.Entry, tables map[string]any) string {
	data, err := json.Marshal(map[string]any{"figures": figures, "tables": tables})
	if err != nil {
		// Tables of plain numbers and strings always encode; the test holds this.
		return "unhashed"
	}
	sum := sha256.Sum256(data)
	return hex.EncodeToString(sum[:8])
}
