package instrument

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"net"
	"os"
	"strings"
	"time"
)

// scpi speaks to an instrument that answers questions: a line out, a line in.
type scpi struct {
	conn net.Conn
	in   *bufio.Reader
	// unit is what the instrument was set to when it was last asked.
	unit Sample
	set  time.Time
}

func newSCPI(conn net.Conn) *scpi {
	return &scpi{conn: conn, in: bufio.NewReaderSize(conn, mostAnswer)}
}

// functionEvery is how often an instrument is asked what it is set to: a person may
// turn its knob.
const functionEvery = time.Second

// functions are the settings of a multimeter by the name it answers.
var functions = map[string]Sample{
	"VOLT": {Unit: Volt}, "VOLT:DC": {Unit: Volt}, "VOLT:AC": {Unit: Volt, AC: true},
	"CURR": {Unit: Ampere}, "CURR:DC": {Unit: Ampere}, "CURR:AC": {Unit: Ampere, AC: true},
	"RES": {Unit: Ohm}, "TEMP": {Unit: Celsius},
}

// Identify asks for maker, model, number and version.
func (s *scpi) Identify(ctx context.Context) (string, error) {
	answer, err := s.ask(ctx, "*IDN?")
	plain := !strings.ContainsFunc(answer, func(c rune) bool { return c < ' ' || c > '~' })
	if err == nil && (strings.Count(answer, ",") != 3 || !plain) {
		return "", rubbish(answer)
	}
	return answer, err
}

// Read asks what the instrument is set to, and its figure.
func (s *scpi) Read(ctx context.Context) (Sample, error) {
	if time.Since(s.set) > functionEvery {
		answer, err := s.ask(ctx, "FUNC?")
		if err != nil {
			return Sample{}, err
		}
		unit, ok := functions[strings.Trim(answer, `"`)]
		if !ok {
			return Sample{}, rubbish(answer)
		}
		s.unit, s.set = unit, time.Now()
	}
	answer, err := s.ask(ctx, "READ?")
	if err != nil {
		return Sample{}, err
	}
	sample, err := parseSample(answer + string(s.unit.Unit))
	sample.AC = s.unit.AC
	return sample, err
}

// ask sends one question and takes the line that answers it.
func (s *scpi) ask(ctx context.Context, question string) (string, error) {
	if err := s.conn.SetDeadline(deadline(ctx)); err != nil {
		return "", broken(err)
	}
	if _, err := fmt.Fprintf(s.conn, "%s\n", question); err != nil {
		return "", broken(err)
	}
	line, err := s.in.ReadSlice('\n')
	answer := strings.TrimSpace(string(line))
	long := errors.Is(err, bufio.ErrBufferFull)
	// What is left of an over-long line is no answer to the next question.
	for n := 0; errors.Is(err, bufio.ErrBufferFull) && n < mostRest; n++ {
		_, err = s.in.ReadSlice('\n')
	}
	switch {
	case err != nil:
		return "", broken(err)
	case long:
		return "", rubbish(answer)
	}
	return answer, nil
}

// mostRest is how much of an over-long line is read to its end, in buffers; what does
// not end then is hung up on.
const mostRest = 256

// Close hangs up.
func (s *scpi) Close() error { return s.conn.Close() }

// deadline is when an answer is waited for no longer.
func deadline(ctx context.Context) time.Time {
	at := time.Now().Add(answerTimeout)
	if end, ok := ctx.Deadline(); ok && end.Before(at) {
		return end
	}
	return at
}

// broken says that nothing came, and why.
func broken(err error) error {
	if errors.Is(err, os.ErrDeadlineExceeded) {
		return ErrSilent
	}
	return fmt.Errorf("%w: %w", ErrSilent, err)
}
