package instrument

import (
	"context"
	"fmt"
	"math/rand/v2"
	"net"
	"strings"
	"sync"
	"time"

	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/twin"
)

// Charging is a virtual charger with a virtual battery on it, which may have a fault. It says
// what a person would read off it and feel, as a reading line.
type Charging struct {
	mu      sync.Mutex
	battery twin.Battery
	charger twin.Charger
	fault   Fault
	noise   *rand.Rand
	// ah is the size on the label, minutes are what was charged so far, in what went in.
	ah, minutes, in float64
	// missing is what the battery lacked at first.
	missing float64
}

// Fault is what is wrong with a charge, by the name that the core gives it; empty for nothing.
type Fault string

// faults are how each fault is made: of the battery, and of what drives it.
var faults = map[Fault]struct {
	of    twin.Condition
	lead  quantity.Ohms
	volts quantity.Volts
}{
	"":                  {of: twin.Sound},
	"not_accepting":     {of: twin.Condition{Health: 0.6, Capacity: 0.7, Sulphation: 0.9}},
	"poor_contact":      {of: twin.Sound, lead: 0.4},
	"early_full":        {of: twin.Condition{Health: 0.6, Capacity: 0.35, Sulphation: 0.35}},
	"takes_too_much":    {of: twin.Condition{Health: 1, Capacity: 2.2}},
	"shorted_cell":      {of: twin.Condition{Health: 1, Capacity: 1, Odd: &twin.Cell{Health: 1, Capacity: 1, Shorted: true}}},
	"too_hot":           {of: twin.Sound},
	"over_volts":        {of: twin.Sound, volts: 16.6},
	"not_falling":       {of: twin.Sound},
	"lamp_contradicted": {of: twin.Sound},
	"runaway":           {of: twin.Sound},
}

// Faults lists the names of the faults, without none.
func Faults() []string {
	var names []string
	for _, name := range []Fault{
		"not_accepting", "poor_contact", "early_full", "takes_too_much", "shorted_cell", "too_hot", "over_volts", "not_falling",
		"lamp_contradicted", "runaway",
	} {
		names = append(names, string(name))
	}
	return names
}

// How some faults show: the minute from which a case is hot, the share of the ampere-hours that a
// current does not fall under, by how much a running away one grows in a minute, and the share of
// what is missing after which a lamp lies. Made up for the simulation.
const (
	hotFrom      = 45.0
	stays        = 0.05
	runsAway     = 0.01
	lampLies     = 0.35
	heldWithin   = 0.05
	chargedShare = 98.0
)

// NewCharging puts a battery on a charger of some amps and volts, at a charge in percent.
func NewCharging(l battery.Label, percent float64, at quantity.Celsius, amps quantity.Amperes, volts quantity.Volts, fault Fault, seed uint64) (*Charging, error) {
	var designs twin.Designs
	design, ok := designs.Of(l)
	capacity, known := l.AnyCapacity()
	made, named := faults[fault]
	if !ok || !known || !named {
		return nil, fmt.Errorf("no charge of %q with fault %q", l.Chemistry, fault)
	}
	if made.volts > 0 {
		volts = made.volts
	}
	return &Charging{
		battery: design.New(made.of, percent, at), charger: twin.Charger{Amps: amps, Volts: volts, Lead: made.lead}, fault: fault,
		noise: rand.New(rand.NewPCG(seed, 2)), ah: capacity.Value, missing: capacity.Value * (100 - percent) / 100,
	}, nil
}

// Run charges on for some minutes.
func (c *Charging) Run(minutes float64) {
	c.mu.Lock()
	defer c.mu.Unlock()
	p := c.battery.Charge(c.charger, minutes/60, 101, c.battery.Temperature(), nil)
	c.in += p.AhIn
	c.minutes += minutes
}

// Logs is what a logger reads of it now.
func (c *Charging) Logs() Charge {
	c.mu.Lock()
	defer c.mu.Unlock()
	seen, _ := c.logs()
	return seen
}

// logs reads it, and tells whether the charger holds its volts.
func (c *Charging) logs() (seen Charge, held bool) {
	accepted, at := c.battery.Accept(c.charger)
	amps, volts := float64(accepted), float64(at)
	held = volts > float64(c.charger.Volts)-heldWithin
	switch {
	case c.fault == "not_falling" && held:
		amps = max(amps, stays*c.ah)
	case c.fault == "runaway" && held:
		amps = stays * c.ah * (1 + runsAway*c.minutes)
	}
	volts += 0.01 * c.noise.NormFloat64()
	amps = max(0, amps*(1+0.02*c.noise.NormFloat64()))
	return Charge{quantity.Volts(volts), quantity.Amperes(amps)}, held
}

// Reads is what is read off it now, as a reading line.
func (c *Charging) Reads() string {
	c.mu.Lock()
	defer c.mu.Unlock()
	seen, held := c.logs()
	amps := float64(seen.Amps)
	warmth, full := "cool", ""
	if c.fault == "too_hot" && c.minutes >= hotFrom || c.fault == "runaway" && held && amps > 4*stays*c.ah {
		warmth = "hot"
	}
	if c.fault == "lamp_contradicted" && c.in > lampLies*c.missing || c.fault == "" && c.battery.Percent() >= chargedShare {
		full = " full"
	}
	return strings.TrimSpace(fmt.Sprintf("charge %.2fv %.2fa %.0fmin %s no gas%s", seen.Volts, amps, c.minutes, warmth, full))
}

// Serve sends what is read off it each second, to everyone who listens, until the context
// ends; its time runs some times as fast as the clock.
func (c *Charging) Serve(ctx context.Context, listener net.Listener, speed float64) error {
	var open sync.WaitGroup
	defer open.Wait()
	ctx, stop := context.WithCancel(ctx)
	defer stop()
	open.Go(func() {
		_ = eachSecond(ctx, func() error {
			c.Run(speed / 60)
			return nil
		})
	})
	return answerAll(ctx, listener, func(conn net.Conn) error {
		return eachSecond(ctx, func() error {
			_, err := fmt.Fprintln(conn, c.Reads())
			return err
		})
	})
}

// eachSecond does something now and each second after, until it fails or the context ends.
func eachSecond(ctx context.Context, do func() error) error {
	tick := time.NewTicker(time.Second)
	defer tick.Stop()
	for {
		if err := do(); err != nil {
			return err
		}
		select {
		case <-ctx.Done():
			return nil
		case <-tick.C:
		}
	}
}
