package e2e_test

import (
	"context"
	"fmt"
	"strings"
	"testing"

	"grapnel/app/instrument"
	"grapnel/core/battery"
	"grapnel/core/charging"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/twin"
	"grapnel/core/wording"
)

// sixty is the label of a virtual battery.
func sixty(chemistry battery.Chemistry) battery.Label {
	ah := quantity.AmpereHours(60)
	return battery.Label{Chemistry: chemistry, NominalV: 12, CapacityAh: &ah}
}

// TestLoggerOnThePage finds a logger by its address and has it follow a charge: what it reads
// is shown and drawn, and it is let go.
func TestLoggerOnThePage(t *testing.T) {
	bench, err := instrument.NewCharging(sixty(battery.AGM), 20, 18, 10, 14.7, "", 1)
	if err != nil {
		t.Fatal(err)
	}
	listener, err := instrument.ListenSimulated("127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	ctx, stop := context.WithCancel(t.Context())
	defer stop()
	go bench.Serve(ctx, listener, 1)
	shop, p := comeIn(t, 1280, 800, "Mara Ostwick")
	p.do(p.Open("/instruments"))
	p.do(p.Fill("Address, host:port", instrument.SimulatedAt(listener.Addr())))
	p.tap("Ask what is there")
	p.see("It answers: it sends its figure by itself.")
	p.do(p.Fill("Name, one word", "logger-1"))
	p.tap("Keep the instrument")
	p.see("logger-1 a logger of charges", "follows a charge, from its page")
	p.do(p.Open("/shelf"))
	p.tap("ST-101")
	p.tap("Follow it by logger-1")
	p.see("logger-1 follows it; each half hour is kept as a check.", "figures; the line keeps within")
	p.do(p.Until(`document.querySelectorAll('svg path.stroke-verdigris').length >= 2`))
	p.accessible("a charge that a logger follows")
	p.do(p.Size(390, 844))
	p.do(p.Drawn())
	p.narrow()
	p.tap("Let logger-1 go")
	p.see("logger-1 followed it.")
	// What its maker says of a lithium battery is written down where nothing is planned.
	p.do(p.Open("/shelf"))
	p.tap("ST-106")
	p.see("charged by its maker’s instructions", "is not written down yet")
	p.tap("Write down what its maker says")
	p.do(p.Fill("Volts", "14,4"))
	p.do(p.Fill("Charger", "the grey one that came with it"))
	p.tap("Keep it")
	p.see("14.4 V", "the grey one that came with it", "Change what its maker says")
	p.accessible("what a maker says of a charge")
	has(t, shop, 2, "SELECT COUNT(*) FROM trace WHERE followed = 0 AND points LIKE '%volts%'")
}

// gone is a charge of the virtual charger with a fault, as it is read every half hour until
// the core names the fault.
func gone(t *testing.T, fault string) (label battery.Label, lines []string) {
	t.Helper()
	label, volts := sixty(battery.Flooded), quantity.Volts(14.6)
	if fault == "runaway" {
		label, volts = sixty(battery.AGM), 14.55
	}
	bench, err := instrument.NewCharging(label, 50, 20, 6, volts, instrument.Fault(fault), 1)
	if err != nil {
		t.Fatal(err)
	}
	planner := charging.Planner{Designs: new(twin.Designs)}
	rested, err := reading.Parse("12.2 v 20c rested 9h")
	if err != nil {
		t.Fatal(err)
	}
	ask := charging.Ask{
		Label: label, Until: charging.Full, Attended: true, Case: evidence.Case{Label: label, Readings: evidence.Untimed(rested.Reading)},
		Charger: &charging.Charger{Kind: charging.MultiStageKind, Amps: []quantity.Amperes{6}}, Where: charging.OnBench,
	}
	for range 28 {
		bench.Run(30)
		lines = append(lines, bench.Reads())
		r, err := reading.Parse(lines[len(lines)-1])
		if err != nil {
			t.Fatal(err)
		}
		ask.Log = append(ask.Log, r.Reading)
		for _, a := range planner.Plan(ask).Anomalies {
			if a.Code == fault {
				return label, lines
			}
		}
	}
	t.Fatalf("%s is never named", fault)
	return label, lines
}

// TestChargesThatGoWrong lets a charge go wrong in each of the named ways on the virtual
// charger, read every half hour; the last look is typed as a line, and the page says what is
// wrong and what to do.
func TestChargesThatGoWrong(t *testing.T) {
	shop, p := comeIn(t, 1280, 800, "Mara Ostwick")
	for _, fault := range instrument.Faults() {
		label, lines := gone(t, fault)
		charge, err := shop.Charged(t.Context(), label, "12.2 v 20c rested 9h", lines[:len(lines)-1])
		if err != nil {
			t.Fatalf("%s: %v", fault, err)
		}
		p.do(p.Open("/shelf/" + charge.String()))
		p.do(p.Fill("Or as a line", lines[len(lines)-1]))
		p.insist("Keep the check", plain(wording.Text("anomaly."+fault, nil)))
		p.see(plain(wording.Text("anomaly_do."+fault, nil)))
		p.tap("It is off")
		p.see("is off. Let it rest an hour")
	}
}

// insist taps until something is seen: on a busy machine the page says that the server cannot be
// reached, and whoever stands there taps once more.
func (p *person) insist(name, text string) {
	p.t.Helper()
	for range 5 {
		p.tap(name)
		p.do(p.Until(fmt.Sprintf(`(t => t.includes(%q) || t.includes('The server cannot be reached.'))(document.body.innerText.replace(/\s+/g, ' '))`, text)))
		if said, err := p.Text(); err == nil && strings.Contains(plain(said), text) {
			return
		}
	}
	p.see(text)
}

func plain(text string) string { return strings.Join(strings.Fields(text), " ") }
