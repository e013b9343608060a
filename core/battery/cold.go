package battery

import (
	"math"

	"grapnel/core/quantity"
)

type coldPoint struct {
	at                     quantity.Celsius
	batteryHas, engineAsks float64
}

// coldPower is the widely printed chart of a battery's cranking power and what
// the engine then asks, in percent of a warm day. Value from memory; harsher
// than the ratings allow, so it explains and calibrates nothing.
var coldPower = []coldPoint{{-18, 40, 210}, {0, 65, 155}, {27, 100, 100}}

// ColdPower is the teaching chart: how much of its cranking power a battery has
// at a temperature, and how much of its warm torque the engine asks, both in
// percent; between −18 and 27 °C, its ends beyond.
func ColdPower(at quantity.Celsius) (batteryHas, engineAsks float64) {
	read := func(y func(coldPoint) float64) float64 {
		x := func(p coldPoint) float64 { return float64(p.at) }
		return quantity.Graph[coldPoint]{Points: coldPower, X: x, Y: y}.At(float64(at))
	}
	return read(func(p coldPoint) float64 { return p.batteryHas }), read(func(p coldPoint) float64 { return p.engineAsks })
}

// Acceptance is the current a half-charged battery takes at a temperature in
// its first minutes, for ampere-hours: geometric between the two marks.
func Acceptance(capacity float64, at quantity.Celsius) quantity.Amperes {
	at = min(max(at, acceptColdCelsius), acceptWarmCelsius)
	share := float64((at - acceptColdCelsius) / (acceptWarmCelsius - acceptColdCelsius))
	return acceptCold * quantity.Amperes(math.Pow(float64(acceptWarm/acceptCold), share)*capacity/acceptCapacity)
}
