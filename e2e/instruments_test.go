package e2e_test

import (
	"context"
	"io"
	"net"
	"testing"
	"time"

	"grapnel/app/instrument"
	"grapnel/core/battery"
	"grapnel/e2e/browser"
)

// listening lets somebody answer on loopback and says where.
func listening(t *testing.T, answer func(net.Conn)) string {
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
			go answer(conn)
		}
	}()
	return instrument.SimulatedAt(listener.Addr())
}

// TestInstruments finds a meter by its address, takes its figure into the line when
// it holds still, and is not held up by one that sends rubbish nor by one that hangs.
func TestInstruments(t *testing.T) {
	bench, err := instrument.NewBench(battery.Label{Chemistry: battery.Flooded, NominalV: 12, Rating: &battery.Rating{Value: 420, Standard: battery.SAE}}, 100, 15, 3)
	if err != nil {
		t.Fatal(err)
	}
	ctx, stop := context.WithCancel(t.Context())
	defer stop()
	listener, err := instrument.ListenSimulated("127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	go bench.Serve(ctx, listener, instrument.SimulatedInstruments()[0])
	rubbish := listening(t, func(c net.Conn) {
		for range time.Tick(100 * time.Millisecond) {
			if _, err := io.WriteString(c, "tea\n"); err != nil {
				return
			}
		}
	})
	hangs := listening(t, func(net.Conn) {})

	p := come(t, 1280, 800)
	p.tap("Mara Ostwick")
	p.see("worst first")
	p.do(p.Open("/instruments"))
	p.see("shelf-logger")
	p.do(p.Fill("Address", instrument.SimulatedAt(listener.Addr())))
	p.tap("Ask what is there")
	p.see("It answers: GRAPNEL,SIMULATED MULTIMETER")
	for _, one := range []struct{ name, address, protocol string }{{"bay-meter", instrument.SimulatedAt(listener.Addr()), "answers questions"}, {"teapot", rubbish, "sends lines"}, {"sleeper", hangs, "sends lines"}} {
		p.do(p.Fill("Address", one.address))
		p.tap(one.protocol)
		p.do(p.Fill("Name, one word", one.name))
		p.tap("Keep the instrument")
		p.see(one.name)
	}
	p.see("steady", "answers no figure", "does not answer")
	p.accessible("instruments")

	p.do(p.Open("/"))
	p.tap("HL 5 RYE")
	p.see("What holds")
	p.stage("Charge state")
	p.do(p.Fill("Reading line", " rested 2h"))
	p.do(p.Until(`[...document.querySelectorAll('[aria-label="Instruments"] button')].some(b => b.innerText === 'Take')`))
	p.do(p.TapIn(`[aria-label="Instruments"]`, "Take"))
	p.do(p.Until(`/^12\.\d\dV rested 2h by bay-meter$/.test(document.querySelector('[aria-label="Reading line"]').value)`))
	p.do(p.Until(`document.querySelector('[aria-live] .border-verdigris')`))
	p.do(p.Fill("Reading line", "12.65V rested 2h by bay-meter"))
	p.do(p.Type(browser.Enter))
	p.see("12.65V rested 2h by bay-meter")
}
