package diagnosis

import (
	"math"

	"grapnel/core/evidence"
	"grapnel/core/reading"
)

// hypothesis is what brought the vehicle here: one cause, or nothing.
type hypothesis struct {
	code string
	// class is the battery's condition when the battery itself is the cause.
	class class
	// factor and value are where its own evidence lies; factor is noFactor for
	// the battery's causes and for none.
	factor factor
	value  int8
	// arrives is how charged the battery comes in.
	arrives profile
	// turns is what the starter meets.
	turns turning
}

// hypotheses lists what may have brought a vehicle here, in the order of equals.
var hypotheses = []hypothesis{
	{"discharged_sound", sound, noFactor, 0, profileLow, turnsFreely},
	{"worn", worn, noFactor, 0, profileWeak, turnsFreely},
	{"dead_cell", deadCell, noFactor, 0, profileNormal, turnsFreely},
	{"damaged", damaged, noFactor, 0, profileNormal, turnsFreely},
	{"poor_connection", sound, joint, 1, profileNormal, turnsByJoint},
	{"undercharging", sound, chargingSystem, 1, profileLow, turnsFreely},
	{"overcharging", sound, chargingSystem, 2, profileNormal, turnsFreely},
	{"dcdc_fault", sound, chargingSystem, 3, profileLow, turnsFreely},
	{"parasitic_drain", sound, drain, 1, profileLow, turnsFreely},
	{"accessory_left_on", sound, leftOn, 1, profileFlat, turnsFreely},
	{"short_trips", sound, driving, 1, profileLow, turnsFreely},
	{"over_cranking", sound, cranked, 1, profileLow, turnsFreely},
	{"storage", sound, standing, 1, profileLow, turnsFreely},
	{"case_leakage", sound, top, 1, profileLow, turnsFreely},
	{"starter_drag", sound, starter, 1, profileNormal, turnsByDrag},
	{"starter_dead", sound, starter, 2, profileNormal, turnsNot},
	{"monitor_unregistered", sound, monitor, 1, profileLow, turnsFreely},
	{"wrong_battery", sound, fit, 1, profileNormal, turnsFreely},
	{"engine_fault", sound, engine, 1, profileNormal, turnsNoFire},
	{"key_or_interlock", sound, lock, 1, profileNormal, turnsNot},
	{"nothing_wrong", sound, noFactor, 0, profileNormal, turnsFreely},
}

// codeOfNothing is the cause of a vehicle that nothing is wrong with.
const codeOfNothing = "nothing_wrong"

// symptomPriors is how likely each cause is when a symptom is reported and
// nothing is measured: the triage of the trade. Common practice for the order,
// figures from memory. Rows are shares, made to sum to one; none is for a case
// with no symptom.
var symptomPriors = map[string]map[string]float64{
	"none": {
		"worn":              0.16,
		"dead_cell":         0.03,
		"damaged":           0.02,
		"poor_connection":   0.10,
		"undercharging":     0.09,
		"overcharging":      0.02,
		"parasitic_drain":   0.10,
		"accessory_left_on": 0.07,
		"short_trips":       0.10,
		"over_cranking":     0.01,
		"storage":           0.05,
		"case_leakage":      0.02,
		"starter_drag":      0.03,
		"wrong_battery":     0.004,
		"engine_fault":      0.02,
		"key_or_interlock":  0.02,
		"nothing_wrong":     0.16,
		"discharged_sound":  0.08,
	},
	"silent": {
		"worn":              0.10,
		"dead_cell":         0.06,
		"damaged":           0.02,
		"poor_connection":   0.23,
		"undercharging":     0.07,
		"parasitic_drain":   0.15,
		"accessory_left_on": 0.15,
		"short_trips":       0.03,
		"storage":           0.04,
		"case_leakage":      0.01,
		"starter_drag":      0.02,
		"key_or_interlock":  0.08,
		"discharged_sound":  0.05,
	},
	"lights_no_crank": {
		"worn":             0.10,
		"dead_cell":        0.03,
		"poor_connection":  0.33,
		"undercharging":    0.04,
		"parasitic_drain":  0.04,
		"short_trips":      0.04,
		"starter_drag":     0.10,
		"starter_dead":     0.12,
		"key_or_interlock": 0.18,
		"discharged_sound": 0.03,
	},
	"single_click": {
		"worn":              0.17,
		"dead_cell":         0.06,
		"poor_connection":   0.25,
		"undercharging":     0.08,
		"parasitic_drain":   0.07,
		"accessory_left_on": 0.05,
		"short_trips":       0.06,
		"starter_drag":      0.13,
		"starter_dead":      0.10,
		"discharged_sound":  0.04,
	},
	"rapid_click": {
		"worn":              0.20,
		"dead_cell":         0.06,
		"poor_connection":   0.12,
		"undercharging":     0.12,
		"parasitic_drain":   0.13,
		"accessory_left_on": 0.12,
		"short_trips":       0.12,
		"storage":           0.05,
		"case_leakage":      0.03,
		"discharged_sound":  0.05,
	},
	"slow_crank": {
		"worn":             0.28,
		"dead_cell":        0.05,
		"poor_connection":  0.16,
		"undercharging":    0.12,
		"parasitic_drain":  0.06,
		"short_trips":      0.15,
		"storage":          0.02,
		"starter_drag":     0.10,
		"wrong_battery":    0.02,
		"over_cranking":    0.01,
		"discharged_sound": 0.03,
	},
	"cranks_no_start": {
		"engine_fault":     0.80,
		"worn":             0.04,
		"key_or_interlock": 0.06,
		"poor_connection":  0.02,
		"starter_drag":     0.03,
		"over_cranking":    0.03,
		"nothing_wrong":    0.02,
	},
	"dies_again": {
		"worn":              0.17,
		"dead_cell":         0.06,
		"poor_connection":   0.02,
		"undercharging":     0.21,
		"parasitic_drain":   0.32,
		"accessory_left_on": 0.02,
		"short_trips":       0.12,
		"case_leakage":      0.06,
		"discharged_sound":  0.02,
	},
	"flat_after_storage": {
		"storage":          0.55,
		"parasitic_drain":  0.26,
		"worn":             0.09,
		"dead_cell":        0.03,
		"damaged":          0.03,
		"case_leakage":     0.03,
		"discharged_sound": 0.01,
	},
	"lights_left_on": {"accessory_left_on": 0.86, "worn": 0.07, "parasitic_drain": 0.03, "dead_cell": 0.02, "discharged_sound": 0.02},
	"odd_warnings": {
		"worn":             0.24,
		"dead_cell":        0.04,
		"poor_connection":  0.11,
		"undercharging":    0.24,
		"parasitic_drain":  0.18,
		"short_trips":      0.13,
		"discharged_sound": 0.04,
		"wrong_battery":    0.02,
	},
	"cold_only": {
		"worn":            0.42,
		"dead_cell":       0.03,
		"poor_connection": 0.12,
		"undercharging":   0.08,
		"short_trips":     0.17,
		"starter_drag":    0.12,
		"wrong_battery":   0.06,
	},
	"locked_out": {
		"worn":              0.24,
		"dead_cell":         0.05,
		"undercharging":     0.20,
		"parasitic_drain":   0.30,
		"accessory_left_on": 0.05,
		"short_trips":       0.09,
		"storage":           0.05,
		"discharged_sound":  0.02,
	},
	"preventive": {
		"nothing_wrong":   0.74,
		"worn":            0.14,
		"dead_cell":       0.02,
		"short_trips":     0.03,
		"poor_connection": 0.03,
		"storage":         0.02,
		"overcharging":    0.01,
		"undercharging":   0.01,
	},
}

// beside is how likely a battery is worn, has a bad cell or is damaged where
// something else brought the vehicle here. Values from memory.
var beside = [classes]float64{worn: 0.09, deadCell: 0.012, damaged: 0.003}

// ageOdds multiply the odds of a bad battery by its age in years, and seasonOdds
// by the month. Values from memory; age alone never decides.
var (
	ageOdds = []knot{{0, 0.2}, {2, 0.5}, {4, 1}, {6, 1.8}, {9, 2.6}, {15, 3.2}}
	// From November to February the cold finds out worn batteries and short trips,
	// in spring what has stood comes back.
	winterOdds = map[string]float64{"worn": 1.15, "short_trips": 1.3}
	springOdds = map[string]float64{"storage": 1.5, "worn": 0.95}
)

// kindOdds multiply causes by the kind of vehicle. Values from memory.
var kindOdds = map[string]map[string]float64{
	"motorcycle": {
		"storage":     3,
		"short_trips": 0.7,
	}, "mower": {"storage": 4, "undercharging": 1.5, "key_or_interlock": 1.5, "short_trips": 0.5},
	"tractor": {"storage": 2.5}, "classic": {"storage": 2.5, "undercharging": 1.4, "poor_connection": 1.3}, "offroad": {"storage": 2},
	"hybrid":   {"starter_drag": 0, "starter_dead": 0, "over_cranking": 0, "undercharging": 0},
	"electric": {"starter_drag": 0, "starter_dead": 0, "over_cranking": 0, "undercharging": 0, "engine_fault": 0.3, "overcharging": 0.5},
	"none": {
		"poor_connection":   0.2,
		"undercharging":     0.3,
		"parasitic_drain":   0.3,
		"accessory_left_on": 0.3,
		"short_trips":       0.3,
		"starter_drag":      0.05,
		"starter_dead":      0.05,
		"wrong_battery":     0.2,
		"engine_fault":      0.05,
		"key_or_interlock":  0.05,
		"case_leakage":      1.5,
		"storage":           2,
	},
}

// priorOf is how likely each cause of hypotheses is before anything is measured.
func priorOf(c evidence.Case) []float64 {
	p := make([]float64, len(hypotheses))
	for i, m := range hypotheses {
		for _, symptom := range symptomsOf(c) {
			p[i] += symptomPriors[symptom][m.code]
		}
		if m.code == "dcdc_fault" && (c.Vehicle.Electric() || hasConverter(c)) {
			for _, symptom := range symptomsOf(c) {
				p[i] += symptomPriors[symptom]["undercharging"]
			}
		}
		p[i] = math.Max(p[i], leastPrior) * oddsOf(c, m.code)
	}
	return toOne(p)
}

// hasConverter reports a vehicle whose converter was measured, whatever is known
// of its kind.
func hasConverter(c evidence.Case) bool {
	for i := range c.Readings {
		if c.Readings[i].Kind == reading.DCDC {
			return true
		}
	}
	return false
}

// noConverter multiplies a converter's fault where none is known to be. Value
// from memory.
const noConverter = 0.1

// leastPrior is what any cause has with any symptom: people tell what they
// think. Value from memory.
const leastPrior = 0.004

func symptomsOf(c evidence.Case) []string {
	if len(c.Symptoms) == 0 {
		return []string{"none"}
	}
	return c.Symptoms
}

// oddsOf is what age, season, vehicle and jumps make of a cause.
func oddsOf(c evidence.Case, code string) float64 {
	odds := 1.0
	by := func(table map[string]float64) {
		if x, ok := table[code]; ok {
			odds *= x
		}
	}
	by(kindOdds[c.Vehicle.Kind])
	if code == "dcdc_fault" && !c.Vehicle.Electric() && !hasConverter(c) {
		odds *= noConverter
	}
	if code == "monitor_unregistered" {
		odds *= monitorOdds(c)
	}
	switch month := c.Month(); {
	case month >= 11 || month == 1 || month == 2:
		by(winterOdds)
	case month >= 3 && month <= 5:
		by(springOdds)
	}
	if code == "worn" || code == "dead_cell" {
		odds *= ageFactor(c)
	}
	return odds
}

// monitorOdds is what a battery monitor makes of its own cause: there has to be one, and it
// is forgotten when a battery is new. Values from memory.
func monitorOdds(c evidence.Case) float64 {
	years, known := c.YearsOld()
	switch {
	case !c.Vehicle.Manages():
		return 0
	case known && years <= newBattery:
		return forgotten
	case known:
		return 0.5
	}
	return 1
}

// A battery up to so many years old was fitted lately, and may not have been registered.
const (
	newBattery = 1.0
	forgotten  = 8.0
)

// ageFactor multiplies the odds of a battery worn by age.
func ageFactor(c evidence.Case) float64 {
	years, known := c.YearsOld()
	if !known {
		return 1
	}
	return densityAt(ageOdds, years)
}

// classPrior is how likely each condition is, given what brought the vehicle
// here.
func classPrior(age float64, m hypothesis) [classes]float64 {
	if m.class != sound {
		var only [classes]float64
		only[m.class] = 1
		return only
	}
	p := beside
	p[worn] *= age
	p[deadCell] *= age
	if m.code == codeOfNothing {
		return [classes]float64{sound: 1}
	}
	p[worn] = math.Min(p[worn], 0.4)
	p[sound] = 1 - p[worn] - p[deadCell] - p[damaged]
	return p
}

func toOne(p []float64) []float64 {
	sum := 0.0
	for _, x := range p {
		sum += x
	}
	if sum > 0 {
		for i := range p {
			p[i] /= sum
		}
	}
	return p
}
