package instrument

import (
	"math"
	"time"

	"grapnel/core/accuracy"
	"grapnel/core/quantity"
)

// Why a figure is not taken yet.
const (
	// TooFew: it has not been watched long enough.
	TooFew = "too_few"
	// Moving: it goes one way.
	Moving = "moving"
	// Unquiet: it jumps about, as with a bad contact.
	Unquiet = "unquiet"
)

// Hold says whether a figure holds still, and if not, why.
type Hold struct {
	Still bool `json:"still"`
	// Value is the mean of what was watched.
	Value float64 `json:"value"`
	// Spread is how far apart the figures lie.
	Spread float64 `json:"spread"`
	Why    string  `json:"why,omitempty"`
}

// How long and how often a figure is watched before it is said to hold still.
const (
	watched   = 1500 * time.Millisecond
	leastSeen = 4
	// stillSigmas is how far apart the figures may lie, in the instrument's own error.
	stillSigmas = 2
	// oneWay is the share of all its changes from which a figure goes one way.
	oneWay = 0.6
	// otherShare is what counts as the error where no table has one.
	otherShare = 0.01
)

// Steady watches the figures of one instrument.
type Steady struct {
	seen []seen
}

type seen struct {
	at     time.Time
	sample Sample
}

// Add takes the next figure. A change of unit begins anew.
func (s *Steady) Add(at time.Time, x Sample) Hold {
	if n := len(s.seen); n > 0 && (s.seen[n-1].sample.Unit != x.Unit || s.seen[n-1].sample.AC != x.AC) {
		s.seen = s.seen[:0]
	}
	s.seen = append(s.seen, seen{at, x})
	for len(s.seen) > leastSeen && at.Sub(s.seen[1].at) >= watched {
		s.seen = s.seen[1:]
	}
	return s.hold(at)
}

// Forget begins anew, as after an instrument was silent.
func (s *Steady) Forget() { s.seen = s.seen[:0] }

func (s *Steady) hold(at time.Time) Hold {
	n := len(s.seen)
	low, high, sum, path := math.Inf(1), math.Inf(-1), 0.0, 0.0
	for i, one := range s.seen {
		x := one.sample.Value
		low, high, sum = math.Min(low, x), math.Max(high, x), sum+x
		if i > 0 {
			path += math.Abs(x - s.seen[i-1].sample.Value)
		}
	}
	net := math.Abs(s.seen[n-1].sample.Value - s.seen[0].sample.Value)
	h := Hold{Value: sum / float64(n), Spread: high - low}
	allowed := stillSigmas * sigmaOf(Sample{Value: h.Value, Unit: s.seen[n-1].sample.Unit})
	switch {
	case h.Spread > allowed && net > oneWay*path:
		h.Why = Moving
	case h.Spread > allowed:
		h.Why = Unquiet
	case n < leastSeen || at.Sub(s.seen[0].at) < watched:
		h.Why = TooFew
	default:
		h.Still = true
	}
	return h
}

// sigmaOf is one sigma of a figure by the table of the trade.
func sigmaOf(s Sample) float64 {
	switch {
	case s.Unit == Volt && math.Abs(s.Value) < 1:
		return float64(accuracy.DropSigma(quantity.Volts(math.Abs(s.Value))))
	case s.Unit == Volt:
		return float64(accuracy.VoltsSigma(accuracy.GoodMeter, quantity.Volts(s.Value)))
	case s.Unit == Gravity:
		return accuracy.HydrometerReading
	}
	return math.Max(otherShare*math.Abs(s.Value), 1e-4)
}
