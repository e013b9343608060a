package battery

import (
	"math"

	"grapnel/core/quantity"
)

// coldPower is the widely printed chart of a battery's cranking power and what
// the engine then asks, in percent of a warm day. Value from memory; harsher
// than the ratings allow, so it explains and calibrates nothing.
var coldPower = []struct {
	at                     quantity.Celsius
	batteryHas, engineAsks float64
}{{-18, 40, 210}, {0, 65, 155}, {27, 100, 100}}

// ColdPower is the teaching chart: how much of its cranking power a battery has
// at a temperature, and how much of its warm torque the engine asks, both in
// percent; between −18 and 27 °C, its ends beyond.
func ColdPower(at quantity.Celsius) (batteryHas, engineAsks float64) {
	first, last := coldPower[0], coldPower[len(coldPower)-1]
	at = min(max(at, first.at), last.at)
	for i := 1; i < len(coldPower); i++ {
		a, b := coldPower[i-1], coldPower[i]
		if at <= b.at {
			s := float64((at - a.at) / (b.at - a.at))
			return a.batteryHas + s*(b.batteryHas-a.batteryHas), a.engineAsks + s*(b.engineAsks-a.engineAsks)
		}
	}
	return last.batteryHas, last.engineAsks
}

// Acceptance is the current a half-charged battery takes at a temperature in
// its first minutes, for ampere-hours: geometric between the two marks.
func Acceptance(capacity float64, at quantity.Celsius) quantity.Amperes {
	at = min(max(at, acceptColdCelsius), acceptWarmCelsius)
	share := float64((at - acceptColdCelsius) / (acceptWarmCelsius - acceptColdCelsius))
	return acceptCold * quantity.Amperes(math.Pow(float64(acceptWarm/acceptCold), share)*capacity/acceptCapacity)
}
