package e2e_test

import (
	"fmt"
	"strings"
	"testing"

	"grapnel/app/demo"
	"grapnel/app/localdb/dbtest"
	"grapnel/e2e"
	"grapnel/e2e/browser"
)

// stage opens a stage of the trail by its knot or its name.
func (p *person) stage(name string) {
	p.t.Helper()
	// Lying down the knots are named by stage and state, standing by both lines.
	knot := name + ":"
	if lying, err := browser.JS[bool](p.Page, `innerWidth < 1024`); err != nil || !lying {
		p.do(err)
		knot = name + " "
	}
	p.do(p.TapIn(`[aria-label="Stages of the job"]`, knot))
	p.do(p.Until(fmt.Sprintf(`document.querySelector('main h1')?.innerText === %q`, name)))
}

// tabTo moves the focus by the keyboard alone to what carries a name.
func (p *person) tabTo(name string) {
	p.t.Helper()
	for range 150 {
		p.do(p.Type(browser.Tab))
		at, err := browser.JS[string](p.Page, `(e => (e.getAttribute('aria-label') || e.innerText || '').replace(/\s+/g, ' ').trim())(document.activeElement)`)
		p.do(err)
		if strings.HasPrefix(strings.ToLower(at), strings.ToLower(name)) {
			return
		}
	}
	p.t.Fatalf("the keyboard does not come to %q", name)
}

// answerAll answers every open point of the closing list by taps: done where it is
// offered, and what belongs to Decide there.
func (p *person) answerAll() {
	p.t.Helper()
	p.stage("Finish")
	p.do(p.Until(`document.querySelector('[aria-label="Before the keys go back"]')`))
	for range 20 {
		left, err := browser.JS[string](p.Page, `([...document.querySelectorAll('[aria-label="Before the keys go back"] [role=group]')].find(g => !g.querySelector('[aria-pressed=true]'))?.getAttribute('aria-label') ?? '')`)
		p.do(err)
		if left == "" {
			return
		}
		group := fmt.Sprintf(`[...document.querySelectorAll('[aria-label="Before the keys go back"] [role=group]')].find(g => g.getAttribute('aria-label') === %q)`, left)
		_, err = browser.JS[bool](p.Page, `(`+group+`.querySelector('button').click(), true)`)
		p.do(err)
		p.do(p.Until(group + `?.querySelector('[aria-pressed=true]')`))
	}
	p.t.Fatal("the closing list has no end")
}

// handBack goes from the verdict to the keys.
func (p *person) handBack(choice, cause string) {
	p.t.Helper()
	p.stage("Decide")
	p.see("Copy it") // what comes a moment later is there
	p.tap(choice)
	p.see("chosen, ")
	p.tap(cause)
	p.answerAll()
	p.tap("Hand it back")
	p.see("This job is handed back")
}

// bringInByTap brings one in on the phone.
func (p *person) bringInByTap(plate string, taps ...string) {
	p.t.Helper()
	p.tap("Bring it in")
	p.see("What they say")
	p.do(p.Fill("Plate or name", plate))
	for _, name := range taps {
		p.reach(name)
		p.tap(name)
	}
	p.reach("flooded")
	p.do(p.Fill("Rating, A", "650"))
	p.do(p.Submit())
	p.see("What holds")
}

// reach goes on through the parts of a screen that shows one at a time, until something
// to tap is in sight.
func (p *person) reach(name string) {
	p.t.Helper()
	shown := func(name string) bool {
		t, err := p.Shown(name)
		p.do(err)
		return t
	}
	for shown("Back") {
		p.tap("Back")
	}
	for range 4 {
		if shown(name) {
			return
		}
		p.tap("Next: ")
	}
	p.t.Fatalf("%s is on no part of this screen", name)
}

// figures taps them on the keypad.
func (p *person) figures(text string) {
	p.t.Helper()
	for _, key := range text {
		name := string(key)
		if key == '.' {
			name = "decimal mark"
		}
		p.do(p.TapIn("[data-keypad]", name))
	}
}

// volts enters rested volts by the keypad.
func (p *person) volts(figures string, chips ...string) {
	p.t.Helper()
	p.stage("Charge state")
	p.figures(figures)
	p.tap(chips...)
	p.do(p.TapIn("[data-keypad]", "Keep"))
	p.do(p.Until(`document.querySelector('[aria-label="Reading line"]').value === ''`))
}

// TestCarByThumb does a car from the symptom to the keys by tapping on a phone.
func TestCarByThumb(t *testing.T) {
	p := come(t, 390, 844)
	p.tap("Jonah Pell")
	p.see("worst first")
	p.bringInByTap("TH 1 MB", "cranks slowly", "flooded")
	p.stage("Arrive")
	p.see("Safety glasses and gloves on", "Acid: glasses and gloves")
	p.tap("Safety glasses")
	p.see("Jonah Pell")
	// A question that is answered makes room: the next lies elsewhere then.
	for tap, line := range map[string]string{"about 5": "age 5y", "daily, 10 min": "trips 10/week 10min", "outside, 8 °C": "stood 8h 8c"} {
		p.tap(tap)
		p.see(line)
	}
	p.tap("under the bonnet")
	p.narrow()
	p.stage("Look")
	p.tap("Positive post", "corrosion, a little")
	p.do(p.Until(`document.querySelector('svg[aria-label="Battery, seen: corrosion"]')`))
	p.narrow()
	p.volts("12.66", "stood an hour or more")
	p.stage("Crank power")
	p.tap("Load on: count")
	p.do(p.Until(`document.querySelector('[role=timer]')`))
	p.figures("10.1")
	p.do(p.TapIn("[data-keypad]", "Keep"))
	p.verdict("look_elsewhere", false)
	p.narrow()
	p.stage("Vehicle")
	p.see("Drops over the joints")
	_, err := browser.JS[bool](p.Page, `(document.querySelector('[data-joint=negative_clamp]').dispatchEvent(new MouseEvent('click', {bubbles: true})), true)`)
	p.do(err)
	p.do(p.Until(`document.querySelector('[aria-label="Reading line"]').value === 'drop negative clamp '`))
	p.line("drop negative clamp 0.05v 140a", true)
	p.see("0.05 V")
	p.narrow()
	p.handBack("Find what flattened it", "Unknown")
}

// TestHybridByThumb does a hybrid that is locked dead: its own access, its own
// cautions, no engine and no starter to test.
func TestHybridByThumb(t *testing.T) {
	p := come(t, 390, 844)
	p.tap("Jonah Pell")
	p.see("worst first")
	p.bringInByTap("HY 2 BR", "hybrid", "smart key dead", "AGM")
	p.stage("Arrive")
	p.see("Orange cables", "mechanical blade", "emergency lead")
	p.tap("in the boot")
	p.see("Feed 12 V at the marked post in front")
	p.stage("Charge state")
	p.see("Lock the car and let it sleep")
	p.volts("12.9", "stood an hour or more")
	p.stage("Crank power")
	p.see("This battery turns no engine")
	p.line("load 325a 15s 10.4v", true)
	p.stage("Vehicle")
	p.see("it climbs within seconds", "DC-DC converter")
	p.do(p.Gone("Starter draw"))
	p.do(p.Gone("Drops over the joints"))
	p.line("dcdc 12.8v to 14.1v 3s", true)
	p.stage("Finish")
	p.see("Vent tube on again")
	p.narrow()
	p.verdict("look_elsewhere", false)
	p.handBack("Find what flattened it", "Parasitic drain")
}

// TestMotorcycleByThumb does a motorcycle whose battery is charged on the bench.
func TestMotorcycleByThumb(t *testing.T) {
	p := come(t, 390, 844)
	p.tap("Jonah Pell")
	p.see("worst first")
	p.tap("EX 12 FEN")
	p.see("What holds")
	p.stage("Look")
	p.tap("Step 1 of")
	p.see("sealing strip")
	p.stage("Charge")
	p.see("Take it out of the vehicle", "About 1.2 A is kind to it", "Charger off and unplugged")
	p.line("charge 14.4v 1.1a 90min cool no gas", true)
	p.do(p.Until(`document.querySelector('header').innerText.includes('29:')`))
	p.line("charge 14.5v 0.2a 8h full", true)
	p.line("12.9 v rested 2h after charge", true)
	p.line("load 90a 15s 10.3v", true)
	p.verdict("look_elsewhere", false)
	p.handBack("Find what flattened it", "Long storage")
}

// TestBankOfTwo tests each battery of a bank on its own, and asks for the keys
// once.
func TestBankOfTwo(t *testing.T) {
	p := come(t, 390, 844)
	p.tap("Jonah Pell")
	p.see("worst first")
	p.bringInByTap("BK 2 TWO", "truck", "2", "a bank of several", "cranks slowly", "flooded")
	p.stage("Arrive")
	p.see("isolate each battery and test it alone")
	p.volts("12.66", "stood an hour or more")
	p.line("load 325a 15s 10.1v", true)
	p.verdict("look_elsewhere", false)
	p.do(p.TapIn(`[aria-label="Which battery"]`, "2"))
	p.verdict("more_tests", false)
	p.line("12.66 v rested 2h", true)
	p.line("load 325a 15s 8.0v", true)
	p.verdict("replace", false)
	p.handBack("Replace the battery", "Unknown")
}

// handBackByKeyboard answers the closing list, writes the choice down and hands the
// job back, with the keyboard alone.
func (p *person) handBackByKeyboard(choice string) {
	p.t.Helper()
	const open = `[...document.querySelectorAll('[aria-label="Before the keys go back"] [role=group]')].filter(g => !g.querySelector('[aria-pressed=true]')).length`
	leave := func() { p.do(p.Until(`(document.activeElement?.blur(), true)`)) }
	p.do(p.Until(open + ` > 0`))
	for n := 1; n > 0; {
		var err error
		n, err = browser.JS[int](p.Page, open)
		p.do(err)
		if n == 0 {
			break
		}
		leave()
		for answered := true; answered; {
			p.tabTo("Done")
			answered, err = browser.JS[bool](p.Page, `!!document.activeElement.parentElement.querySelector('[aria-pressed=true]')`)
			p.do(err)
		}
		p.do(p.Type(browser.Enter))
		p.do(p.Until(fmt.Sprintf(open+` < %d`, n)))
	}
	p.tabTo("Hand it back")
	p.do(p.Type(browser.Enter))
	p.see("Before it is handed back: What brought it here")
	leave()
	p.do(p.Type("7"))
	p.see("What may be done")
	p.tabTo(choice)
	p.do(p.Type(browser.Enter))
	p.see("chosen, ")
	p.tabTo("Unknown")
	p.do(p.Type(browser.Enter))
	p.see("Not found: unknown")
	leave()
	p.do(p.Type("8"))
	p.tabTo("Hand it back")
	p.do(p.Type(browser.Enter))
	p.see("This job is handed back")
}

// TestTwoAtOneJob has two people on one job: each sees the other's reading, the
// clock it starts and the steps ticked, without doing anything, and the same volts
// from two hands are two readings.
func TestTwoAtOneJob(t *testing.T) {
	shop, err := e2e.Open(dbtest.Filled(t, demo.Fill))
	if err != nil {
		t.Fatal(err)
	}
	one := visit(t, shop, 1280, 800)
	other := visit(t, shop, 390, 844)
	for p, name := range map[*person]string{one: "Mara Ostwick", other: "Jonah Pell"} {
		p.tap(name)
		p.see("worst first")
		p.tap("DUN 48")
		p.see("What holds")
	}
	one.line("6.29 v since drive", true)
	other.see("6.29 v since drive")
	other.do(other.Until(`document.querySelector('header').innerText.includes('+ 1')`))
	other.stage("Arrive")
	other.tap("Safety glasses")
	one.do(one.Type(browser.Escape + browser.Escape + "1"))
	one.see("Jonah Pell")
	one.line("ripple 0.03 v", true)
	other.line("ripple 0.03 v", true)
	one.do(one.Until(`[...document.querySelectorAll('[aria-label="Readings"] > li')].filter(li => li.innerText.includes('ripple 0.03 v')).length === 2`))
}

// TestServerRestart stops the server in the middle of a countdown and starts it
// again: the screen says that the line is down and counts on by itself, and the
// clock is still there afterwards.
func TestServerRestart(t *testing.T) {
	shop, p := comeIn(t, 390, 844, "Jonah Pell")
	p.tap("WS 204 K")
	p.see("What holds")
	p.stage("Crank power")
	p.tap("Load on: count")
	counted := func(most int) {
		t.Helper()
		p.do(p.Until(fmt.Sprintf(`Number(document.querySelector('[role=timer]')?.innerText.split('\n')[0]) <= %d`, most)))
	}
	counted(14)
	shop.Down()
	p.see("The line is down")
	counted(10)
	p.do(shop.Up())
	p.do(p.Gone("The line is down"))
	counted(8)
	p.see("read the volts, then load off")
}

// TestFiveWithoutTheLine keeps five readings while the line is down: none is lost, each is
// stored once, in its order and with its own time.
func TestFiveWithoutTheLine(t *testing.T) {
	shop, p := comeIn(t, 1280, 800, "Mara Ostwick")
	p.tap("PL 88 ORE")
	p.see("What holds")
	before, err := browser.JS[int](p.Page, `document.querySelectorAll('[aria-label="Readings"] > li').length`)
	p.do(err)
	shop.Down()
	p.see("The line is down")
	lines := []string{"ripple 0.05 v", "case 0.1 v", "running 14.1 v idle", "drain 40 ma asleep 45min", "12.6 v rested 2h"}
	for i, line := range lines {
		p.do(p.Fill("Reading line", line))
		p.do(p.Type(browser.Enter))
		p.see(fmt.Sprintf("%d to be sent", i+1))
		p.do(p.Until(`document.querySelector('[aria-label="Reading line"]').value === ''`))
	}
	p.do(shop.Up())
	p.do(p.Gone("to be sent"))
	got, err := browser.JS[[]string](p.Page, fmt.Sprintf(`[...document.querySelectorAll('[aria-label="Readings"] > li')].slice(%d).map(li => li.innerText)`, before))
	p.do(err)
	for i, line := range lines {
		if len(got) != len(lines) || !strings.Contains(got[i], line) {
			t.Fatalf("kept %d: %q, want %v", len(got), got, lines)
		}
	}
}

// TestWithoutTheServer closes the application while the server is down and opens it
// again: the day's jobs are there, a reading is kept on the device, and it is sent
// once the server is back.
func TestWithoutTheServer(t *testing.T) {
	shop, p := comeIn(t, 390, 844, "Jonah Pell")
	// The device has taken what it needs once the worker has the page and the jobs.
	p.do(p.Until(`!!navigator.serviceWorker.controller`))
	p.do(p.Open("/"))
	p.see("worst first")
	p.do(p.Until(`(globalThis.kept ??= 0, caches.open('grapnel-pages').then(c => c.keys()).then(k => { globalThis.kept = k.filter(r => /jobs\/[^/]+$/.test(r.url)).length }), globalThis.kept >= 7)`))
	p.do(p.Until(cached))
	shop.Down()
	p.do(p.Open("/"))
	p.see("worst first", "The line is down")
	p.tap("DUN 48")
	p.see("Battery", "6.31 v 14c rested 12h")
	p.line("ripple 0.03 v", false)
	p.do(p.Type(browser.Enter))
	p.see("1 to be sent")
	p.do(p.Open("/"))
	p.tap("DUN 48")
	p.see("1 to be sent", "ripple 0.03 v")
	p.do(shop.Up())
	p.do(p.Gone("to be sent"))
	p.see("ripple 0.03 v")
}

// TestTenTaps takes a vehicle that the shop knows from Today to a valid verdict on a phone
// and counts the taps, each figure of the keypad one; the plate is typed.
func TestTenTaps(t *testing.T) {
	_, p := comeIn(t, 390, 844, "Mara Ostwick")
	taps := 0
	tap := func(within string, names ...string) {
		t.Helper()
		for _, name := range names {
			p.do(p.TapIn(within, name))
			taps++
		}
	}
	tap("body", "Bring it in")
	p.see("What they say")
	p.do(p.Fill("Plate or name", "ex 12"))
	tap("[role=listbox]", "EX 12 FEN")
	p.see("Known here")
	tap("form", "Bring it in")
	p.see("What holds")
	tap(`[aria-label="Stages of the job"]`, "Charge state")
	p.do(p.Until(`document.querySelector('[data-keypad]')`))
	tap("[data-keypad]", "stood an hour or more", "1", "2", "decimal mark", "3", "Keep")
	p.do(p.Until(`document.querySelector('[aria-label="Reading line"]').value === ''`))
	p.verdict("charge_and_retest", false)
	p.see("charged")
	if taps > 10 {
		t.Errorf("%d taps from Today to a valid verdict, ten at most", taps)
	}
}
