// Package instrument reads meters, clamps, load banks and testers over the
// workshop's own network: SCPI over TCP, as bench and automotive multimeters with
// a LAN port speak it, and lines over TCP, as meters behind a serial bridge send
// them by themselves. It says when a figure holds still and why it does not, and
// it ships simulated instruments that measure a virtual battery over the same
// protocols.
package instrument

import (
	"context"
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"
	"time"

	"grapnel/core/problem"
)

// Protocol is how an instrument is spoken to.
type Protocol string

// The protocols.
const (
	SCPI  Protocol = "scpi"
	Lines Protocol = "lines"
	// Log is that of a logger, which sends the volts and the amps of a charge in one line.
	Log Protocol = "log"
)

// Protocols lists the protocols.
func Protocols() []string { return []string{string(SCPI), string(Lines), string(Log)} }

// Unit is what a figure is in.
type Unit string

// The units instruments answer in, prefixes taken out.
const (
	Volt    Unit = "V"
	Ampere  Unit = "A"
	Gravity Unit = "SG"
	Celsius Unit = "°C"
	Ohm     Unit = "Ω"
)

// Sample is one figure as an instrument showed it.
type Sample struct {
	Value float64 `json:"value"`
	Unit  Unit    `json:"unit"`
	// AC marks an alternating quantity.
	AC bool `json:"ac"`
}

// Reader is one instrument that answers. It is used by one at a time.
type Reader interface {
	// Identify is what the instrument says it is; empty where it cannot say.
	Identify(ctx context.Context) (string, error)
	// Read takes the figure that stands on it.
	Read(ctx context.Context) (Sample, error)
	Close() error
}

// What can be wrong with an instrument. Each is wrapped with what was seen.
var (
	// ErrSilent: nothing came in time.
	ErrSilent = errors.New("the instrument does not answer")
	// ErrRubbish: what came is no figure.
	ErrRubbish = errors.New("the instrument answers something that is no figure")
	// ErrOverload: the figure is beyond the range that is set on it.
	ErrOverload = errors.New("beyond the instrument's range")
)

// Limits of a conversation.
const (
	dialTimeout   = 2 * time.Second
	answerTimeout = 2 * time.Second
	// mostAnswer is the longest line taken, in bytes.
	mostAnswer = 256
	// overload is what SCPI instruments answer beyond their range. Common practice of
	// the standard's users, no source.
	overload = 9.9e37
)

// parseSample reads a figure with its unit: "12.41 V", "85.2 mA DC", "0.045VAC",
// "1.265 SG". A comma is a decimal mark.
func parseSample(line string) (Sample, error) {
	text := strings.ReplaceAll(strings.TrimSpace(line), ",", ".")
	end := 0
	for end < len(text) && strings.ContainsRune("+-.0123456789eE", rune(text[end])) {
		end++
	}
	x, err := strconv.ParseFloat(text[:end], 64)
	if err != nil || math.IsInf(x, 0) || math.IsNaN(x) {
		return Sample{}, rubbish(line)
	}
	if math.Abs(x) >= overload {
		return Sample{}, ErrOverload
	}
	s, ok := unitOf(strings.Join(strings.Fields(text[end:]), ""))
	if !ok {
		return Sample{}, rubbish(line)
	}
	s.Value *= x
	return s, nil
}

// unitOf reads a unit with its prefix and whether it alternates; the value is the
// prefix's factor.
func unitOf(text string) (Sample, bool) {
	s := Sample{Value: 1}
	if rest, ok := strings.CutSuffix(text, "AC"); ok && rest != "" {
		text, s.AC = rest, true
	}
	if rest, ok := strings.CutSuffix(text, "DC"); ok && rest != "" {
		text = rest
	}
	switch text {
	case "SG":
		s.Unit = Gravity
		return s, true
	case "C", "°C", "degC":
		s.Unit = Celsius
		return s, true
	}
	for prefix, factor := range map[string]float64{"": 1, "m": 1e-3, "u": 1e-6, "µ": 1e-6, "k": 1e3} {
		for name, unit := range map[string]Unit{"V": Volt, "A": Ampere, "Ohm": Ohm, "Ω": Ohm} {
			if text == prefix+name {
				s.Value, s.Unit = factor, unit
				return s, true
			}
		}
	}
	return s, false
}

// rubbish quotes what came, shortened and printable.
func rubbish(line string) error {
	return fmt.Errorf("%w: %s", ErrRubbish, problem.Cut(strconv.Quote(line), 60))
}
