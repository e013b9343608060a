package instrument

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"net"
	"strings"
	"sync"
	"time"

	"grapnel/core/accuracy"
	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/twin"
)

// Bench is a virtual battery on the bench with simulated instruments on it. All of
// them see the same battery, each with its own error.
type Bench struct {
	mu      sync.Mutex
	battery *twin.Battery
	noise   *rand.Rand
	// rated is the label's cranking current, as it stands on the label.
	rated float64
	// load is what the load bank draws, since when.
	load  quantity.Amperes
	since time.Time
	drain quantity.Amperes
	cell  int
}

// NewBench puts a battery on the bench at a charge in percent. The seed makes the
// instruments' errors.
func NewBench(l battery.Label, percent float64, at quantity.Celsius, seed uint64) (*Bench, error) {
	var designs twin.Designs
	design, ok := designs.Of(l)
	if !ok {
		return nil, fmt.Errorf("no model for chemistry %q", l.Chemistry)
	}
	on := design.New(twin.Sound, percent, at)
	return &Bench{battery: &on, rated: cranking(l), noise: rand.New(rand.NewPCG(seed, 1)), drain: 0.035}, nil
}

// Simulated is one instrument of the bench: how it is spoken to and what it is.
type Simulated struct {
	Name     string
	Protocol Protocol
	serve    func(ctx context.Context, b *Bench, conn net.Conn) error
}

// SimulatedInstruments lists what stands on the bench.
func SimulatedInstruments() []Simulated {
	return []Simulated{
		{"Bench multimeter", SCPI, multimeter},
		{"Drain clamp", Lines, streamed(func(b *Bench) string { return b.figure(float64(b.drain)*1000, 2, "%.0f mA") })},
		{"Load bank", Lines, loadBank},
		{"Hydrometer", Lines, streamed((*Bench).gravity)},
		{"Conductance tester", Lines, streamed((*Bench).conductance)},
	}
}

// Serve lets an instrument of the bench answer on a listener until the context
// ends.
func (b *Bench) Serve(ctx context.Context, listener net.Listener, one Simulated) error {
	return answerAll(ctx, listener, func(conn net.Conn) error { return one.serve(ctx, b, conn) })
}

// answerAll talks to everyone who connects to a listener, until the context ends.
func answerAll(ctx context.Context, listener net.Listener, talk func(net.Conn) error) error {
	stop := context.AfterFunc(ctx, func() { _ = listener.Close() })
	defer stop()
	var open sync.WaitGroup
	defer open.Wait()
	for {
		conn, err := listener.Accept()
		if err != nil {
			if ctx.Err() != nil {
				return nil
			}
			return err
		}
		open.Go(func() {
			end := context.AfterFunc(ctx, func() { _ = conn.Close() })
			defer end()
			// A client that hangs up ends the conversation; nobody else needs to know.
			_ = talk(conn)
			_ = conn.Close()
		})
	}
}

// volts are those at the posts now, under what the load bank draws.
func (b *Bench) volts(now time.Time) float64 {
	if b.load == 0 {
		return float64(b.battery.Volts())
	}
	return float64(b.battery.Under(b.load, quantity.Seconds(now.Sub(b.since).Seconds())))
}

// figure is a figure with an instrument's small unrest.
func (b *Bench) figure(x, sigma float64, form string) string {
	return fmt.Sprintf(form, x+sigma*b.noise.NormFloat64()/unrest)
}

// unrest is how much of an instrument's error shows as unrest of its figure; the
// rest of it is the same at every reading.
const unrest = 8

// multimeter answers SCPI.
func multimeter(_ context.Context, b *Bench, conn net.Conn) error {
	in := bufio.NewScanner(conn)
	for in.Scan() {
		answer := ""
		switch strings.ToUpper(strings.TrimSpace(in.Text())) {
		case "*IDN?":
			answer = "GRAPNEL,SIMULATED MULTIMETER,1,1"
		case "FUNC?":
			answer = `"VOLT"`
		case "READ?":
			b.mu.Lock()
			v := b.volts(time.Now())
			answer = b.figure(v, float64(accuracy.VoltsSigma(accuracy.GoodMeter, quantity.Volts(v))), "%+.6E")
			b.mu.Unlock()
		default:
			continue // a command asks nothing
		}
		if _, err := fmt.Fprintf(conn, "%s\n", answer); err != nil {
			return err
		}
	}
	return in.Err()
}

// streamEvery is how often an instrument that talks sends its figure.
const streamEvery = 250 * time.Millisecond

// streamed sends a figure again and again.
func streamed(figure func(*Bench) string) func(context.Context, *Bench, net.Conn) error {
	return func(ctx context.Context, b *Bench, conn net.Conn) error {
		tick := time.NewTicker(streamEvery)
		defer tick.Stop()
		for {
			b.mu.Lock()
			line := figure(b)
			b.mu.Unlock()
			if _, err := fmt.Fprintf(conn, "%s\r\n", line); err != nil {
				return err
			}
			select {
			case <-ctx.Done():
				return nil
			case <-tick.C:
			}
		}
	}
}

// loadBank sends the volts across its clamps, and takes "LOAD 325" and "OFF".
func loadBank(ctx context.Context, b *Bench, conn net.Conn) error {
	var told sync.WaitGroup
	told.Go(func() {
		in := bufio.NewScanner(conn)
		for in.Scan() {
			b.set(strings.Fields(strings.ToUpper(in.Text())))
		}
	})
	err := streamed(func(b *Bench) string {
		v := b.volts(time.Now())
		return b.figure(v, float64(accuracy.VoltsSigma(accuracy.GoodMeter, quantity.Volts(v))), "%.2f V")
	})(ctx, b, conn)
	err = errors.Join(err, conn.Close())
	told.Wait()
	return err
}

// mostLoad is what the bank draws at the most.
const mostLoad = 500

// set turns the load bank on or off; what it does not know it leaves.
func (b *Bench) set(words []string) {
	b.mu.Lock()
	defer b.mu.Unlock()
	amps := 0.0
	if len(words) == 2 && words[0] == "LOAD" {
		if _, err := fmt.Sscanf(words[1], "%g", &amps); err != nil || amps < 0 || amps > mostLoad {
			return
		}
	} else if len(words) != 1 || words[0] != "OFF" {
		return
	}
	now := time.Now()
	if b.load > 0 {
		// What was drawn until now is gone from the battery.
		held := quantity.Seconds(math.Max(0, now.Sub(b.since).Seconds()))
		b.battery.Discharge(b.load, held, 0, b.battery.Temperature())
	}
	b.load, b.since = quantity.Amperes(amps), now
}

// gravity is the specific gravity of one cell after the other, each for a while.
func (b *Bench) gravity() string {
	cells := b.battery.Gravities()
	i := (b.cell / perCell) % len(cells)
	b.cell++
	return b.figure(cells[i], accuracy.HydrometerReading, "%.3f SG")
}

// perCell is how many lines the hydrometer stays in a cell.
const perCell = 20

// conductance is the tester's figure in amperes of cold cranking.
func (b *Bench) conductance() string {
	return b.figure(b.rated*b.battery.Conductance(), unrest, "%.0f A")
}

// cranking is the label's cranking current; a usual one where it has none.
func cranking(l battery.Label) float64 {
	if l.Rating == nil {
		return usualRating
	}
	return float64(l.Rating.Value)
}

// usualRating stands for a label without one.
const usualRating = 600
