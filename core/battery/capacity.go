package battery

import (
	"math"

	"grapnel/core/quantity"
)

// Reserve capacity and ampere-hours.
const (
	// reserveAmps is the current of the reserve-capacity test, held at 26.7 °C
	// down to ReserveEndVolts. Source: SAE J537, value from memory.
	reserveAmps quantity.Amperes = 25
	// ReserveEndVolts ends a reserve test, six cells. Source: SAE J537, value
	// from memory.
	ReserveEndVolts quantity.Volts = 10.5
	// The trade's rule Ah = RC/2 + 16, for reserves of 60 min and more, good to
	// +5/−15 %. Common practice, no source.
	capacityPerReserve                      = 0.5
	capacityOffset     quantity.AmpereHours = 16
	leastReserve       quantity.Minutes     = 60
	capacityOver                            = 0.05
	capacityUnder                           = 0.15
	// slowHours is the discharge the ampere-hours of a label are given for.
	// Source: EN 50342-1, value from memory.
	slowHours = 20
	// peukertUsual is the exponent of a starting battery whose label does not
	// give both figures. Value from memory.
	peukertUsual = 1.18
	// capacityPerKelvin is how much of its capacity a battery loses for each
	// degree under 26.7 °C, a share. Value from memory.
	capacityPerKelvin = 0.008
)

// Estimate is a figure with its band; Converted marks one that is not the
// label's own.
type Estimate struct {
	Value     float64 `json:"value"`
	Low       float64 `json:"low"`
	High      float64 `json:"high"`
	Converted bool    `json:"converted"`
}

// CapacityFromReserve is the 20 h capacity in ampere-hours for a reserve
// capacity in minutes. It reports false for a reserve under 60 min, where the
// rule does not hold: ask for the ampere-hours.
func CapacityFromReserve(reserve quantity.Minutes) (Estimate, bool) {
	if reserve < leastReserve {
		return Estimate{}, false
	}
	ah := capacityPerReserve*float64(reserve) + float64(capacityOffset)
	return Estimate{ah, ah * (1 - capacityUnder), ah * (1 + capacityOver), true}, true
}

// ReserveFromCapacity is the reserve capacity in minutes for ampere-hours. It
// reports false for a battery too small for the rule.
func ReserveFromCapacity(ah quantity.AmpereHours) (Estimate, bool) {
	minutes := func(ah float64) float64 { return (ah - float64(capacityOffset)) / capacityPerReserve }
	value := minutes(float64(ah))
	if value < float64(leastReserve) {
		return Estimate{}, false
	}
	return Estimate{value, minutes(float64(ah) / (1 + capacityOver)), minutes(float64(ah) / (1 - capacityUnder)), true}, true
}

// Capacity is the 20 h capacity of a label in ampere-hours: its own, or from
// its reserve. It reports false when neither is known.
func (l Label) Capacity() (Estimate, bool) {
	if l.CapacityAh != nil {
		ah := float64(*l.CapacityAh)
		return Estimate{Value: ah, Low: ah, High: ah}, true
	}
	if l.ReserveMin != nil {
		return CapacityFromReserve(*l.ReserveMin)
	}
	return Estimate{}, false
}

// ampsPerAmpereHour is the SAE rating of a starting battery for each
// ampere-hour, with the relative band of a guess made from it. Value from
// memory; labels lie between 7 and 13.
const (
	ampsPerAmpereHour = 9.5
	ampsPerAmpereBand = 0.3
)

// AnyCapacity is Capacity or, where the label gives neither ampere-hours nor a
// reserve the rule holds for, a guess from the rating with a wide band.
func (l Label) AnyCapacity() (Estimate, bool) {
	if c, ok := l.Capacity(); ok {
		return c, true
	}
	if l.Rating == nil {
		return Estimate{}, false
	}
	ah := float64(l.Rating.SAE().SAE) / ampsPerAmpereHour
	return Estimate{ah, ah * (1 - ampsPerAmpereBand), ah * (1 + ampsPerAmpereBand), true}, true
}

// DeliveredAtReserve is what a battery gives at 25 A down to 10.5 V, in
// ampere-hours: its reserve minutes × 25/60.
func DeliveredAtReserve(reserve quantity.Minutes) quantity.AmpereHours {
	return quantity.AmpereHours(float64(reserve) * float64(reserveAmps) / minutesPerHour)
}

const minutesPerHour = 60

// Peukert is the exponent n in t = t₀·(I₀/I)ⁿ that joins a label's 20 h
// capacity and its reserve; the usual one where it lacks either. It lies
// between 1 and 1.5.
func (l Label) Peukert() float64 {
	if l.CapacityAh == nil || l.ReserveMin == nil {
		return peukertUsual
	}
	slow := float64(*l.CapacityAh) / slowHours
	if slow >= float64(reserveAmps) {
		return peukertUsual
	}
	n := math.Log(slowHours*minutesPerHour/float64(*l.ReserveMin)) / math.Log(float64(reserveAmps)/slow)
	return math.Min(math.Max(n, 1), 1.5)
}

// MinutesAt is how long a full battery of this label carries a current down to
// 10.5 V (six cells), in minutes, at a battery temperature. It reports false
// where neither capacity nor reserve is known.
func (l Label) MinutesAt(current quantity.Amperes, at quantity.Celsius) (quantity.Minutes, bool) {
	warm := 1 - capacityPerKelvin*math.Max(0, float64(TableCelsius-at))
	if l.ReserveMin != nil {
		return quantity.Minutes(float64(*l.ReserveMin) * math.Pow(float64(reserveAmps/current), l.Peukert()) * warm), true
	}
	c, ok := l.Capacity()
	if !ok {
		return 0, false
	}
	slow := c.Value / slowHours
	return quantity.Minutes(slowHours * minutesPerHour * math.Pow(slow/float64(current), l.Peukert()) * warm), true
}

// Of the ampere-hours put in so much stays: keepsModern in a sound modern battery,
// keepsOld in an old flooded one, with the ends of both. Values from memory.
const (
	keepsModern      = 0.96
	keepsModernLeast = 0.94
	keepsModernMost  = 0.98
	keepsOld         = 0.875
	keepsOldLeast    = 0.85
	keepsOldMost     = 0.90
)

// Keeps is the share of the ampere-hours put in that stays in a battery so many years
// old. Where the age is not known the band of a flooded one reaches down to an old one's.
func (l Label) Keeps(years float64, known bool) Estimate {
	modern := Estimate{Value: keepsModern, Low: keepsModernLeast, High: keepsModernMost}
	switch {
	case l.Chemistry != Flooded && l.Chemistry != "":
		return modern
	case !known:
		modern.Low = keepsOldLeast
		return modern
	case AgeBand(years) == "old":
		return Estimate{Value: keepsOld, Low: keepsOldLeast, High: keepsOldMost}
	}
	return modern
}

// AhMissing is what has to be put in to fill a battery from a charge in
// percent, in ampere-hours, where the share keeps of it stays.
func AhMissing(capacity, percent, keeps float64) quantity.AmpereHours {
	return quantity.AmpereHours(capacity * (100 - percent) / 100 / keeps)
}
