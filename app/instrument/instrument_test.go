package instrument_test

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"math"
	"net"
	"slices"
	"strings"
	"sync/atomic"
	"testing"
	"time"
	"unicode/utf8"

	"grapnel/app/instrument"
	"grapnel/core/battery"
	"grapnel/core/quantity"
)

// network is the machine's own.
var network instrument.Network

// answering listens on loopback and lets a conversation be held with whoever calls.
func answering(t *testing.T, talk func(net.Conn)) string {
	t.Helper()
	listener, err := instrument.ListenSimulated("127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { listener.Close() })
	go func() {
		for {
			conn, err := listener.Accept()
			if err != nil {
				return
			}
			go talk(conn)
		}
	}()
	return instrument.SimulatedAt(listener.Addr())
}

// says sends some text to whoever calls, and then nothing.
func says(text string) func(net.Conn) {
	return func(conn net.Conn) {
		// The test sees what did not arrive.
		_, _ = io.WriteString(conn, text)
	}
}

func dial(t *testing.T, protocol instrument.Protocol, address string) instrument.Reader {
	t.Helper()
	r, err := network.Dial(t.Context(), protocol, address)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { r.Close() })
	return r
}

// TestLines reads what meters send by themselves: units, prefixes, AC, a comma.
func TestLines(t *testing.T) {
	for line, want := range map[string]instrument.Sample{
		"12.41 V\r\n":    {Value: 12.41, Unit: instrument.Volt},
		"12,41 V DC\n":   {Value: 12.41, Unit: instrument.Volt},
		"85.2 mA\n":      {Value: 0.0852, Unit: instrument.Ampere},
		"0.045VAC\n":     {Value: 0.045, Unit: instrument.Volt, AC: true},
		"-3.5e-1 A\n":    {Value: -0.35, Unit: instrument.Ampere},
		"1.265 SG\n":     {Value: 1.265, Unit: instrument.Gravity},
		"18 °C\n":        {Value: 18, Unit: instrument.Celsius},
		"3.3 mOhm\n":     {Value: 0.0033, Unit: instrument.Ohm},
		"junk\n12.6 V\n": {Value: 12.6, Unit: instrument.Volt},
	} {
		r := dial(t, instrument.Lines, answering(t, says(line)))
		var got instrument.Sample
		var err error
		// The line before the last may be read first.
		for range 50 {
			if got, err = r.Read(t.Context()); err == nil {
				break
			}
			time.Sleep(5 * time.Millisecond)
		}
		if err != nil || got.Unit != want.Unit || got.AC != want.AC || math.Abs(got.Value-want.Value) > 1e-12 {
			t.Errorf("%q: %+v, %v", line, got, err)
		}
	}
}

// TestRubbish checks that what is no figure is named, shortened, and never taken.
func TestRubbish(t *testing.T) {
	for _, c := range []struct {
		line string
		want error
	}{
		{"hello\n", instrument.ErrRubbish}, {"12.41\n", instrument.ErrRubbish}, {"12.41 parsecs\n", instrument.ErrRubbish}, {"NaN V\n", instrument.ErrRubbish},
		{strings.Repeat("9", 4000) + "\n", instrument.ErrRubbish}, {"9.9E37 V\n", instrument.ErrOverload}, {"\x00\xff\n", instrument.ErrRubbish},
	} {
		r := dial(t, instrument.Lines, answering(t, says(c.line)))
		got, err := r.Read(t.Context())
		if !errors.Is(err, c.want) || len(err.Error()) > 160 {
			t.Errorf("%.20q: %+v, %v", c.line, got, err)
		}
	}
}

// TestSilence checks that an instrument that hangs, hangs up or is not there costs
// its time-out and no more.
func TestSilence(t *testing.T) {
	hangs := answering(t, func(net.Conn) {})
	hangsUp := answering(t, func(c net.Conn) { c.Close() })
	for name, address := range map[string]string{"hangs": hangs, "hangs up": hangsUp} {
		for _, protocol := range []instrument.Protocol{instrument.SCPI, instrument.Lines} {
			ctx, cancel := context.WithTimeout(t.Context(), 300*time.Millisecond)
			began := time.Now()
			_, err := dial(t, protocol, address).Read(ctx)
			cancel()
			if took := time.Since(began); !errors.Is(err, instrument.ErrSilent) || took > 2*time.Second {
				t.Errorf("one that %s, %s: %v after %s", name, protocol, err, took)
			}
		}
	}
	if _, err := network.Dial(t.Context(), instrument.SCPI, "simulator:1"); !errors.Is(err, instrument.ErrSilent) {
		t.Errorf("nobody there: %v", err)
	}
	if _, err := network.Dial(t.Context(), "morse", hangs); err == nil || !strings.Contains(err.Error(), "scpi, lines") {
		t.Errorf("a protocol there is not: %v", err)
	}
}

// TestSCPI asks a meter what it is, what it is set to, and its figure.
func TestSCPI(t *testing.T) {
	meter := answering(t, func(c net.Conn) {
		answers := map[string]string{"*IDN?": "A,B,1,2", "FUNC?": `"CURR"`, "READ?": "+8.500000E-02"}
		for {
			var question string
			if _, err := fmt.Fscanln(c, &question); err != nil {
				return
			}
			fmt.Fprintf(c, "%s\n", answers[question])
		}
	})
	r := dial(t, instrument.SCPI, meter)
	if name, err := r.Identify(t.Context()); err != nil || name != "A,B,1,2" {
		t.Errorf("%q %v", name, err)
	}
	if got, err := r.Read(t.Context()); err != nil || got.Unit != instrument.Ampere || math.Abs(got.Value-0.085) > 1e-12 {
		t.Errorf("%+v %v", got, err)
	}
	odd := dial(t, instrument.SCPI, answering(t, says("tea\ntea\n")))
	if _, err := odd.Read(t.Context()); !errors.Is(err, instrument.ErrRubbish) {
		t.Errorf("a meter set to tea: %v", err)
	}
}

// TestSteady checks when a figure holds still: not at once, not while it moves, not
// with a bad contact, and not across a change of unit.
func TestSteady(t *testing.T) {
	volts := func(x float64) instrument.Sample { return instrument.Sample{Value: x, Unit: instrument.Volt} }
	run := func(figure func(i int) instrument.Sample) instrument.Hold {
		var s instrument.Steady
		var h instrument.Hold
		start := time.Unix(0, 0)
		for i := range 12 {
			h = s.Add(start.Add(time.Duration(i)*250*time.Millisecond), figure(i))
		}
		return h
	}
	for _, c := range []struct {
		name   string
		figure func(i int) instrument.Sample
		why    string
	}{
		{"still", func(i int) instrument.Sample { return volts(12.41 + 0.005*float64(i%2)) }, ""},
		{"rising", func(i int) instrument.Sample { return volts(12.2 + 0.03*float64(i)) }, instrument.Moving},
		{"bad contact", func(i int) instrument.Sample { return volts(12.4 - 3*float64(i%2)) }, instrument.Unquiet},
		{"another unit just now", func(i int) instrument.Sample {
			if i == 11 {
				return instrument.Sample{Value: 12.41, Unit: instrument.Ampere}
			}
			return volts(12.41)
		}, instrument.TooFew},
	} {
		h := run(c.figure)
		if h.Still != (c.why == "") || h.Why != c.why {
			t.Errorf("%s: %+v", c.name, h)
		}
	}
	if h := run(func(int) instrument.Sample { return volts(12.41) }); math.Abs(h.Value-12.41) > 1e-9 {
		t.Errorf("the mean is %g", h.Value)
	}
}

// TestSimulatedBench measures the virtual battery over the real protocols: all see
// the same battery, and a load pulls its volts down.
func TestSimulatedBench(t *testing.T) {
	ah := quantity.AmpereHours(65)
	label := battery.Label{Chemistry: battery.Flooded, NominalV: 12, Rating: &battery.Rating{Value: 650, Standard: battery.SAE}, CapacityAh: &ah}
	bench, err := instrument.NewBench(label, 100, 20, 7)
	if err != nil {
		t.Fatal(err)
	}
	ctx, stop := context.WithCancel(t.Context())
	served := make(chan error, 8)
	at := map[string]string{}
	for _, one := range instrument.SimulatedInstruments() {
		listener, err := instrument.ListenSimulated("127.0.0.1:0")
		if err != nil {
			t.Fatal(err)
		}
		at[one.Name] = instrument.SimulatedAt(listener.Addr())
		go func() { served <- bench.Serve(ctx, listener, one) }()
		if protocol, _, err := network.Probe(ctx, at[one.Name]); err != nil || protocol != one.Protocol {
			t.Errorf("%s is found as %q: %v", one.Name, protocol, err)
		}
	}
	read := func(name string, protocol instrument.Protocol) float64 {
		t.Helper()
		got, err := dial(t, protocol, at[name]).Read(ctx)
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		return got.Value
	}
	rested := read("Bench multimeter", instrument.SCPI)
	if rested < 12.5 || rested > 12.8 {
		t.Errorf("a full battery rests at %g V", rested)
	}
	if a := read("Drain clamp", instrument.Lines); a < 0.02 || a > 0.05 {
		t.Errorf("drain %g A", a)
	}
	if sg := read("Hydrometer", instrument.Lines); sg < 1.24 || sg > 1.29 {
		t.Errorf("gravity %g", sg)
	}
	if a := read("Conductance tester", instrument.Lines); a < 520 || a > 780 {
		t.Errorf("tester %g A", a)
	}
	bank, err := net.Dial("tcp", strings.Replace(at["Load bank"], instrument.Simulator, "127.0.0.1", 1))
	if err != nil {
		t.Fatal(err)
	}
	fmt.Fprintf(bank, "LOAD 325\n")
	loaded := rested
	for range 100 {
		if loaded = read("Bench multimeter", instrument.SCPI); loaded < rested-1 {
			break
		}
		time.Sleep(10 * time.Millisecond)
	}
	if loaded < 9.4 || loaded > 11.8 {
		t.Errorf("under 325 A %g V", loaded)
	}
	bank.Close()
	stop()
	for range instrument.SimulatedInstruments() {
		if err := <-served; err != nil {
			t.Error(err)
		}
	}
	if _, err := instrument.NewBench(battery.Label{Chemistry: battery.LiFePO4, NominalV: 12}, 50, 20, 1); err == nil {
		t.Error("lithium has a model")
	}
}

// TestWatcher watches a meter that holds still, one that sends rubbish and one that
// hangs, all at once: none keeps the others up, and a line that broke is dialled
// again.
func TestWatcher(t *testing.T) {
	repeat := func(text string) func(net.Conn) {
		return func(c net.Conn) {
			for {
				if _, err := io.WriteString(c, text); err != nil {
					return
				}
				time.Sleep(50 * time.Millisecond)
			}
		}
	}
	var calls atomic.Int64
	places := map[string]string{
		"still":   answering(t, repeat("12.41 V\n")),
		"rubbish": answering(t, repeat("tea\n")),
		"hangs":   answering(t, func(net.Conn) {}),
		"breaks": answering(t, func(c net.Conn) {
			if calls.Add(1) == 1 {
				c.Close()
				return
			}
			repeat("1.5 A\n")(c)
		}),
	}
	w := instrument.NewWatcher(network)
	defer w.Close()
	until := func(name string, good func(instrument.State) bool) {
		t.Helper()
		var s instrument.State
		for range 200 {
			for _, address := range places {
				w.State(instrument.Lines, address)
			}
			if s = w.State(instrument.Lines, places[name]); good(s) {
				return
			}
			time.Sleep(40 * time.Millisecond)
		}
		t.Errorf("%s: %+v", name, s)
	}
	until("still", func(s instrument.State) bool { return s.Hold.Still && s.Sample.Value == 12.41 })
	until("rubbish", func(s instrument.State) bool { return s.Trouble == instrument.Rubbish })
	until("hangs", func(s instrument.State) bool { return s.Trouble == instrument.Silent })
	until("breaks", func(s instrument.State) bool { return s.Hold.Still && s.Sample.Unit == instrument.Ampere })
}

// TestOneConnection checks that an instrument that is asked for again just as the
// interest in it lapses is read over one connection, as it may let in no more than one.
func TestOneConnection(t *testing.T) {
	var open, most atomic.Int64
	address := answering(t, func(conn net.Conn) {
		most.Store(max(most.Load(), open.Add(1)))
		defer open.Add(-1)
		for {
			if _, err := io.WriteString(conn, "12.41 V\n"); err != nil {
				return
			}
			time.Sleep(5 * time.Millisecond) // as a meter talks
		}
	})
	w := instrument.NewWatcher(network)
	defer w.Close()
	w.SetLife(200 * time.Millisecond)
	until := func(what string, holds func() bool) {
		t.Helper()
		for deadline := time.Now().Add(20 * time.Second); !holds(); time.Sleep(5 * time.Millisecond) {
			if time.Now().After(deadline) {
				t.Fatalf("waited in vain until %s", what)
			}
		}
	}
	shows := func() bool { return w.State(instrument.Lines, address).Sample != nil }
	until("it shows a figure", shows)
	for range 3 {
		until("it is let go", func() bool { return open.Load() == 0 })
		until("it shows a figure again", shows) // within the second in which a broken line is dialled again
		asked := time.Now()
		until("any other watch had woken", func() bool { shows(); return time.Since(asked) > 1300*time.Millisecond })
	}
	if got := most.Load(); got != 1 {
		t.Errorf("%d connections at once", got)
	}
}

// TestLongAnswer checks that an over-long line is said to be rubbish and shifts no answer
// behind it.
func TestLongAnswer(t *testing.T) {
	address := answering(t, func(conn net.Conn) {
		defer conn.Close()
		in, asked := bufio.NewReader(conn), 0
		for {
			question, err := in.ReadString('\n')
			if err != nil {
				return
			}
			answer := "12.41"
			if strings.HasPrefix(question, "FUNC") {
				answer = `"VOLT:DC"`
			} else if asked++; asked == 2 {
				answer = strings.Repeat("9", 3000)
			}
			if _, err := fmt.Fprintf(conn, "%s\n", answer); err != nil {
				return
			}
		}
	})
	r := dial(t, instrument.SCPI, address)
	for n := range 5 {
		got, err := r.Read(t.Context())
		if n == 1 {
			if !errors.Is(err, instrument.ErrRubbish) {
				t.Errorf("a line of 3000 characters: %+v, %v", got, err)
			}
			continue
		}
		if err != nil || got.Value != 12.41 || got.Unit != instrument.Volt {
			t.Errorf("answer %d: %+v, %v", n, got, err)
		}
	}
}

// TestLog reads what loggers send: a check as a reading line has it, or volts and amps with
// their units; what is no figure between them is passed over, and nothing else than figures
// is rubbish. An address outside is not dialled.
func TestLog(t *testing.T) {
	seen := func(text string) (list []instrument.Charge, err error) {
		err = network.ReadLog(t.Context(), answering(t, func(c net.Conn) {
			says(text)(c)
			c.Close()
		}), func(c instrument.Charge) error {
			list = append(list, c)
			return nil
		})
		return list, err
	}
	list, err := seen("charge 14.2v 6.1a 90min cool no gas\ntea\n14.21 V; 6050 mA\n14.3 V\t5,9 A\n14.3 V\n12.4 VAC; 1 A\ncharge 14.2v\nload 300a 15s 9.9v\n")
	want := []instrument.Charge{{Volts: 14.2, Amps: 6.1}, {Volts: 14.21, Amps: 6.05}, {Volts: 14.3, Amps: 5.9}}
	if !slices.Equal(list, want) || !errors.Is(err, instrument.ErrSilent) {
		t.Errorf("%v, %v", list, err)
	}
	if list, err := seen(strings.Repeat("tea\n", 40)); len(list) > 0 || !errors.Is(err, instrument.ErrRubbish) {
		t.Errorf("%v, %v", list, err)
	}
	if _, err := seen(strings.Repeat("9", 4000) + "\n"); !errors.Is(err, instrument.ErrRubbish) {
		t.Error(err)
	}
	protocol, _, err := network.Probe(t.Context(), answering(t, func(c net.Conn) {
		for range time.Tick(50 * time.Millisecond) {
			if _, err := io.WriteString(c, "charge 14.2v 6.1a\n"); err != nil {
				return
			}
		}
	}))
	if protocol != instrument.Log || err != nil {
		t.Errorf("a logger is asked what it is: %s, %v", protocol, err)
	}
}

// FuzzSCPI has an instrument answer anything: it is a figure that can be counted with, or one
// of the errors that a person is told, in words that can be shown. No source: it is how the
// program is to behave.
func FuzzSCPI(f *testing.F) {
	for _, text := range []string{
		"Ridgeway,MM-1,0042,1.2\nVOLT:DC\n+1.24100000E+01\n", "a,b,c,d\r\n\"CURR:AC\"\r\n9.9E37\r\n", "a,b,c,d\nRES\nNaN\n", "a,b,c,d\nTEMP\n1e999\n",
		"\n\n\n", "a,b,c,d\nVOLT\n-", "\x00\xff,,,\nVOLT\n1\n", strings.Repeat("9", 700) + "\nVOLT\n12\n", "a,b,c,d\nCURR\n1,5\n",
		"\xc10\xee\x7f\xe1\xe8؊00\xb30\x930\x04\xb7\xfe000\xb0\x83߯\n",
	} {
		f.Add(text)
	}
	f.Fuzz(func(t *testing.T, text string) {
		here, there := net.Pipe()
		defer here.Close()
		go func() { _, _ = io.Copy(io.Discard, there) }() // what it is asked
		go func() {
			_, _ = io.WriteString(there, text) // the line may be hung up before it is all said
			there.Close()
		}()
		s := instrument.Converse(here)
		began := time.Now()
		defer func() {
			if took := time.Since(began); took > time.Second {
				t.Errorf("it took %s of an instrument that had hung up", took)
			}
		}()
		name, err := s.Identify(t.Context())
		told(t, err)
		if err == nil && strings.ContainsFunc(name, func(c rune) bool { return c < ' ' || c > '~' }) {
			t.Errorf("it calls itself %q", name)
		}
		for range 3 {
			sample, err := s.Read(t.Context())
			told(t, err)
			if err == nil && (math.IsNaN(sample.Value) || math.IsInf(sample.Value, 0) || sample.Unit == "") {
				t.Errorf("it shows %+v", sample)
			}
		}
		if c, ok := instrument.ParseCharge(text); ok && (math.IsNaN(float64(c.Volts)) || math.IsNaN(float64(c.Amps)) || math.IsInf(float64(c.Volts), 0) || math.IsInf(float64(c.Amps), 0)) {
			t.Errorf("a logger says %+v", c)
		}
	})
}

// told checks that an error is one that a person is told, in words that can be shown.
func told(t *testing.T, err error) {
	t.Helper()
	if err == nil {
		return
	}
	if !errors.Is(err, instrument.ErrSilent) && !errors.Is(err, instrument.ErrRubbish) && !errors.Is(err, instrument.ErrOverload) {
		t.Errorf("another error: %v", err)
	}
	if said := err.Error(); !utf8.ValidString(said) || len(said) > 300 {
		t.Errorf("said in %d bytes: %q", len(said), said)
	}
}
