package instrument

import (
	"bufio"
	"context"
	"errors"
	"strings"
	"time"

	"grapnel/core/quantity"
	"grapnel/core/reading"
)

// Charge is what a logger reads of a charge at one moment.
type Charge struct {
	Volts quantity.Volts
	Amps  quantity.Amperes
}

// ReadLog takes what the logger at an address sends, a line at a time, until the context
// ends, the line breaks or what takes it says so. A line that is no figure is passed over;
// ErrRubbish comes where none of them is.
func (n Network) ReadLog(ctx context.Context, address string, take func(Charge) error) error {
	conn, err := n.dial(ctx, address)
	if err != nil {
		return err
	}
	defer conn.Close()
	stop := context.AfterFunc(ctx, func() { _ = conn.Close() })
	defer stop()
	in := bufio.NewScanner(conn)
	in.Buffer(make([]byte, mostAnswer), mostAnswer)
	for bad := 0; bad < mostRubbish; {
		if err := conn.SetReadDeadline(time.Now().Add(logSilence)); err != nil {
			return broken(err)
		}
		if !in.Scan() {
			return errors.Join(ctx.Err(), logBroken(in.Err()))
		}
		c, ok := parseCharge(in.Text())
		if !ok {
			bad++
			continue
		}
		bad = 0
		if err := take(c); err != nil {
			return err
		}
	}
	return ErrRubbish
}

// How long a logger may be silent, and how many lines may be no figures one after the other.
const (
	logSilence  = 10 * time.Second
	mostRubbish = 20
)

func logBroken(err error) error {
	if errors.Is(err, bufio.ErrTooLong) {
		return ErrRubbish
	}
	if err == nil {
		return ErrSilent
	}
	return broken(err)
}

// parseCharge reads a line of a logger: a check of a charge as a reading line has it
// ("charge 14.2v 6.1a 90min"), or volts and amps with their units, parted by a semicolon
// or a tab ("14.21 V; 6.05 A").
func parseCharge(line string) (Charge, bool) {
	if p, err := reading.Parse(line); err == nil && p.Reading.Kind == reading.ChargeLog {
		amps, _ := p.Reading.Number(reading.Amps)
		return Charge{p.Reading.Volts(), quantity.Amperes(amps)}, true
	}
	var c Charge
	var volts, amps bool
	for _, part := range strings.FieldsFunc(line, func(r rune) bool { return r == ';' || r == '\t' }) {
		s, err := parseSample(part)
		switch {
		case err != nil || s.AC:
			return c, false
		case s.Unit == Volt:
			c.Volts, volts = quantity.Volts(s.Value), true
		case s.Unit == Ampere:
			c.Amps, amps = quantity.Amperes(s.Value), true
		}
	}
	return c, volts && amps
}

// errSeen ends a look at a logger that has sent something.
var errSeen = errors.New("seen")

// probeLog reports whether a logger is at an address.
func (n Network) probeLog(ctx context.Context, address string) error {
	ctx, cancel := context.WithTimeout(ctx, answerTimeout)
	defer cancel()
	err := n.ReadLog(ctx, address, func(Charge) error { return errSeen })
	if errors.Is(err, errSeen) {
		return nil
	}
	return errors.Join(err, ErrSilent)
}
