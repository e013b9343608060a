package e2e_test

import (
	"strings"
	"testing"

	"grapnel/e2e"
	"grapnel/e2e/browser"
)

// cached tells whether a file of the application is kept on the device.
const cached = `(globalThis.kept ??= false, caches.keys().then(names => Promise.all(names.map(n => caches.open(n).then(c => c.keys())))).then(all => { const k = all.flat(); globalThis.kept = k.some(r => /core-.*\.wasm$/.test(r.url)) && k.some(r => /device-worker/.test(r.url)) && k.some(r => /\/crank-/.test(r.url)) && k.some(r => /\/finish-/.test(r.url)) && k.some(r => /\/sums-/.test(r.url)) }), globalThis.kept)`

// atHand opens the workshop on a device and waits until it has all it needs to go on
// without the server.
func atHand(t testing.TB, width, height int64) (*e2e.Workshop, *person) {
	t.Helper()
	shop, p := comeIn(t, width, height, "Jonah Pell")
	p.do(p.Until(`!!navigator.serviceWorker.controller`))
	p.do(p.Open("/"))
	p.see("worst first")
	p.do(p.Until(cached))
	return shop, p
}

// holds is what holds, as the screen says it.
func (p *person) holds() string {
	p.t.Helper()
	text, err := browser.JS[string](p.Page, `document.querySelector('aside').innerText`)
	p.do(err)
	return text
}

// TestVerdictWithoutTheServer judges a job on the device while the server is down:
// the line is echoed, the verdict follows, a step is answered, and the server says the
// same of it when it is back.
func TestVerdictWithoutTheServer(t *testing.T) {
	shop, p := atHand(t, 1280, 800)
	p.tap("WS 204 K")
	p.see("What holds")
	p.verdict("charge_and_retest", false)
	shop.Down()
	p.see("The line is down")

	p.do(p.Fill("Reading line", "12.66 v rested 3h after charg"))
	p.see("needs something behind it")
	p.do(p.Fill("Reading line", "12.66 v rested 3h after charge; load 325a 15s 9.2v 18c"))
	p.see("9.20 V at the end")
	p.verdict("replace", true)
	p.do(p.Type(browser.Enter))
	p.verdict("replace", false)
	p.see("1 to be sent", "On this device, to be sent")

	// What was kept is counted in what is typed next, and can be taken back.
	p.line("load 325a 15s 10.2v 18c", true)
	p.see("2 to be sent")
	p.do(p.TapIn(`[aria-label="Readings"] > li:last-child`, "Back in the line"))
	p.see("1 to be sent")
	p.do(p.Until(`document.querySelector('[aria-label="Reading line"]').value === 'load 325a 15s 10.2v 18c'`))
	p.do(p.Type("/" + browser.Escape))
	p.verdict("replace", false)

	p.stage("Arrive")
	p.do(p.TapIn("main", "Safety glasses and gloves on"))
	p.do(p.Until(`document.querySelector('[aria-label^="Safety glasses"][aria-pressed=true]')`))
	p.see("2 to be sent")
	said := p.holds()

	p.do(shop.Up())
	p.do(p.Gone("to be sent"))
	p.do(p.Gone("The line is down"))
	if now := p.holds(); now != said {
		t.Errorf("the server says\n%s\nthe device said\n%s", now, said)
	}
	p.do(p.Open("/"))
	p.tap("WS 204 K")
	p.verdict("replace", false)
	p.stage("Arrive")
	p.do(p.Until(`document.querySelector('[aria-label^="Safety glasses"][aria-pressed=true]')`))
	if len(p.Console) > 0 && !strings.Contains(strings.Join(p.Console, " "), "ERR_") {
		t.Errorf("the console says: %s", strings.Join(p.Console, "\n"))
	}
}

// TestSumsWithoutTheServer works the bench while the server is down.
func TestSumsWithoutTheServer(t *testing.T) {
	shop, p := atHand(t, 390, 844)
	p.do(p.Until(`(globalThis.sums ??= false, caches.open('grapnel-constants').then(c => c.match('/api/sums')).then(m => { globalThis.sums = !!m }), globalThis.sums)`))
	shop.Down()
	p.do(p.Open("/sums/load_test"))
	p.see("The line is down")
	p.do(p.Until(`document.querySelectorAll('dl dd').length > 0`))
	p.do(p.Fill("Rating", "700"))
	p.see("350 A")
	p.do(p.Fill("Rating", "lots"))
	p.see("cannot be taken")
	p.do(shop.Up())
	p.do(p.Gone("The line is down"))
}
