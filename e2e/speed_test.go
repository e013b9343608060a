package e2e_test

import (
	"encoding/json"
	"math"
	"math/rand/v2"
	"testing"
	"time"

	"grapnel/core/charging"
	"grapnel/core/quantity"
	"grapnel/e2e/browser"
)

// usable is a job's page that can be worked with: the verdict, the stage at hand with
// its surface, and the reading line.
const usable = `document.querySelector('[data-action]') && document.querySelector('main h1') && document.querySelector('[aria-label="Steps"]') && document.querySelector('[aria-label="Reading line"]')`

// since opens an address and tells how long it takes from then until a condition holds,
// in milliseconds.
func (p *person) since(address, condition string) float64 {
	p.t.Helper()
	_, err := browser.JS[bool](p.Page, `(setTimeout(() => location.assign('`+address+`'), 0), true)`)
	p.do(err)
	p.do(p.Until(`location.pathname === '` + address + `' && ` + condition))
	ms, err := browser.JS[float64](p.Page, `performance.now()`)
	p.do(err)
	return ms
}

// BenchmarkJobPage opens a job over a slow line: 1.6 Mbit/s and 150 ms before every
// answer. Cold is a browser that has nothing yet, warm one that was here before.
func BenchmarkJobPage(b *testing.B) {
	p := come(b, 390, 844)
	p.tap("Jonah Pell")
	p.see("worst first")
	p.tap("WS 204 K")
	p.see("What holds")
	job, err := browser.JS[string](p.Page, `location.pathname`)
	p.do(err)
	var cold, warm float64
	for b.Loop() {
		p.do(p.Open("/manifest.webmanifest"))
		p.do(p.Forget())
		p.do(p.Slow(1600, 150*time.Millisecond))
		cold += p.since(job, usable)
		p.do(p.Slow(1e6, 0))
		p.do(p.Open(job))
		p.do(p.Until(cached))
		p.do(p.Slow(1600, 150*time.Millisecond))
		p.do(p.Open("/manifest.webmanifest"))
		warm += p.since(job, usable)
	}
	b.ReportMetric(cold/float64(b.N), "ms-cold")
	b.ReportMetric(warm/float64(b.N), "ms-warm")
}

// BenchmarkDevice asks the core on the device for its first echo, which has it made
// ready, and for one after it.
func BenchmarkDevice(b *testing.B) {
	shop, p := atHand(b, 390, 844)
	p.tap("WS 204 K")
	p.see("What holds")
	shop.Down()
	p.see("The line is down")
	echo := func(line, seen string) float64 {
		p.do(p.Type("/" + browser.Escape + "/"))
		start := time.Now()
		_, err := browser.JS[bool](p.Page, `document.execCommand('insertText', false, '`+line+`')`)
		p.do(err)
		p.see(seen)
		return float64(time.Since(start).Milliseconds())
	}
	var first, next float64
	for b.Loop() {
		p.do(p.Open("/"))
		p.tap("WS 204 K")
		p.see("What holds")
		first += echo("12.61 v rested 2h", "12.61 V")
		next += echo("12.52 v rested 2h", "12.52 V")
	}
	b.ReportMetric(first/float64(b.N), "ms-first")
	b.ReportMetric(next/float64(b.N), "ms-next")
}

// drawn notes when a logger's line is on the screen.
const drawn = `new MutationObserver((_, self) => {
	if (!document.querySelector('path.stroke-verdigris')) return
	self.disconnect()
	requestAnimationFrame(() => setTimeout(() => { window.drawnAt = performance.now() }))
}).observe(document, {childList: true, subtree: true})`

// BenchmarkLoggedLine draws what a logger has read in ten hours of a second each: from the
// last answer that the page waits for until the page is on the screen with a line of two
// points, and how much longer it takes with all of it.
func BenchmarkLoggedLine(b *testing.B) {
	var trace charging.Trace
	noise := rand.New(rand.NewPCG(1, 1))
	for s := range 36_000 {
		hours := float64(s) / 3600
		trace.Add(charging.TracePoint{
			Seconds: float64(s), Volts: quantity.Volts(min(14.4, 12.8+0.3*hours) + 0.01*noise.NormFloat64()),
			Amps: quantity.Amperes(min(6, 6*math.Exp(5-hours)) * (1 + 0.02*noise.NormFloat64())),
		})
	}
	kept, err := json.Marshal(trace)
	if err != nil {
		b.Fatal(err)
	}
	shop, p := comeIn(b, 1280, 800, "Mara Ostwick")
	p.do(p.Open("/shelf"))
	p.tap("ST-104")
	p.see("Charged about")
	page := p.path()
	p.do(p.Before(drawn))
	shown := func(points []byte) float64 {
		if err := shop.Exec(b.Context(), "UPDATE trace SET points = ?", points); err != nil {
			b.Fatal(err)
		}
		p.do(p.Open(page))
		p.do(p.Until(`window.drawnAt`))
		ms, err := browser.JS[float64](p.Page, `drawnAt - Math.max(...performance.getEntriesByType('resource').filter(e => e.name.includes('/shelf/charges/')).map(e => e.responseEnd))`)
		p.do(err)
		return ms
	}
	short, err := json.Marshal(charging.Trace{Runs: [][]charging.TracePoint{{{Volts: 13, Amps: 1}, {Seconds: 36_000, Volts: 14, Amps: 1}}}})
	if err != nil {
		b.Fatal(err)
	}
	bare, whole := 0.0, 0.0
	for b.Loop() {
		bare += shown(short)
		whole += shown(kept)
	}
	b.ReportMetric(bare/float64(b.N), "ms-page")
	b.ReportMetric((whole-bare)/float64(b.N), "ms-line")
	b.ReportMetric(float64(trace.Points()), "points")
	b.ReportMetric(float64(len(kept))/1000, "kB")
}
