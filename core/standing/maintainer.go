// Package standing holds what a standing battery comes to and what keeps it well: its forecast
// over a season on the battery model, the days that matter, the cares compared for this one,
// the maintainer it needs, the intervals at which it is looked at, and walks of many visits.
package standing

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/quantity"
)

const (
	// mostShare of the ampere-hours is the largest charger for storage,
	// enoughAmps what upkeep asks for. Common practice, no source.
	mostShare                   = 0.10
	enoughAmps quantity.Amperes = 1
	// drainMargin is how many times the drain and self-discharge a maintainer
	// gives at the least. Computed: so that it gains ground.
	drainMargin = 2
	// SocketFuse is the usual fuse of an accessory socket, SocketMost what may be
	// fed through it. Common practice, no source.
	SocketFuse quantity.Amperes = 20
	SocketMost quantity.Amperes = 2
	// RefillPercent is the loss after which a multi-stage maintainer refills.
	// Common practice, no source.
	RefillPercent = 20
)

// Intervals in days. Common practice, no source.
const (
	// ConnectedDays is the longest a connected modern car is left; from
	// DisconnectDays to DisconnectMost of standing it is better disconnected.
	ConnectedDays  = 30
	DisconnectDays = 30
	DisconnectMost = 60
	// ApartDays is the longest a disconnected battery, or a new one on the shelf,
	// goes without a look.
	ApartDays = 91
	// ElectricLow and ElectricHigh bound the days between nights on a maintainer
	// of a hybrid's or electric car's 12 V battery.
	ElectricLow  = 14
	ElectricHigh = 21
	// WakeLow to WakeHigh minutes awake, or pre-conditioning, also charge it; a
	// few times a week or a weekly drive do.
	WakeLow  = 30
	WakeHigh = 60
	// TractionLow and TractionHigh are the percent a traction pack stores best
	// at; not full for over TractionFullDays.
	TractionLow      = 40
	TractionHigh     = 80
	TractionFullDays = 14
	// SleepMinutes is how long an electric car is locked before it sleeps and a charger goes on.
	SleepMinutes = 2
)

// Maintainer is the size of charger a standing battery wants, in amperes.
type Maintainer struct {
	Least  quantity.Amperes `json:"least"`
	Enough quantity.Amperes `json:"enough"`
	Most   quantity.Amperes `json:"most"`
	// Short tells that the drain asks for more than the battery may get.
	Short bool `json:"short"`
}

// MaintainerFor sizes a maintainer for ampere-hours, a drain and the battery's
// self-discharge at a temperature.
func MaintainerFor(capacity float64, drain quantity.Amperes, plates string, at quantity.Celsius) Maintainer {
	const hoursPerDay, percent = 24, 100
	self := quantity.Amperes(battery.SelfDischarge(plates, at) / percent * capacity / hoursPerDay)
	m := Maintainer{Least: drainMargin * (drain + self), Most: quantity.Amperes(mostShare * capacity)}
	m.Enough = quantity.Amperes(math.Min(math.Max(float64(enoughAmps), float64(m.Least)), float64(m.Most)))
	m.Short = m.Least > m.Most
	return m
}
