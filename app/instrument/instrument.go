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
	"net"
	"net/netip"
	"strconv"
	"strings"
	"syscall"
	"time"
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

// Dial opens the instrument at an address, host:port.
func Dial(ctx context.Context, protocol Protocol, address string) (Reader, error) {
	conn, err := dial(ctx, address)
	if err != nil {
		return nil, err
	}
	switch protocol {
	case SCPI:
		return newSCPI(conn), nil
	case Lines:
		return newLines(conn), nil
	}
	return nil, errors.Join(fmt.Errorf("protocol %q: allowed %s, %s", protocol, SCPI, Lines), conn.Close())
}

// dial opens a connection in the workshop's own network.
func dial(ctx context.Context, address string) (net.Conn, error) {
	dialer := net.Dialer{Timeout: dialTimeout, Control: onlyNear}
	conn, err := dialer.DialContext(ctx, "tcp", address)
	if err != nil {
		return nil, fmt.Errorf("%w: %w", ErrSilent, err)
	}
	return conn, nil
}

// ErrOutside: the address is not one of the workshop's own network.
var ErrOutside = errors.New("not an address of the workshop's own network")

// onlyNear lets nothing be dialled but this machine and private networks: the
// server is not to be sent knocking on doors outside.
func onlyNear(_, address string, _ syscall.RawConn) error {
	at, err := netip.ParseAddrPort(address)
	if err != nil {
		return err
	}
	if ip := at.Addr().Unmap(); !ip.IsLoopback() && !ip.IsPrivate() && !ip.IsLinkLocalUnicast() {
		return fmt.Errorf("%s: %w", ip, ErrOutside)
	}
	return nil
}

// Probe finds out by which protocol an address answers, and what it says it is.
func Probe(ctx context.Context, address string) (Protocol, string, error) {
	var failed error
	for _, protocol := range []Protocol{SCPI, Lines} {
		r, err := Dial(ctx, protocol, address)
		if err != nil {
			return "", "", err
		}
		name, err := r.Identify(ctx)
		if err == nil {
			_, err = r.Read(ctx)
		}
		if err := errors.Join(err, r.Close()); err == nil {
			return protocol, name, nil
		}
		failed = errors.Join(failed, err)
	}
	if err := probeLog(ctx, address); err == nil {
		return Log, "", nil
	}
	return "", "", failed
}

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
	shown := strconv.Quote(line)
	if len(shown) > 60 {
		shown = shown[:60] + "…"
	}
	return fmt.Errorf("%w: %s", ErrRubbish, shown)
}
