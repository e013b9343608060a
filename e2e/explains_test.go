package e2e_test

import (
	"fmt"
	"strings"
	"testing"

	"grapnel/e2e/browser"
)

// scrollTo brings a heading of the page into sight.
func (p *person) scrollTo(text string) {
	p.t.Helper()
	p.do(p.Until(fmt.Sprintf(`[...document.querySelectorAll('h2, h3, summary')].filter(e => e.innerText.includes(%q)).map(e => (e.scrollIntoView(), true)).length > 0`, text)))
}

// TestLoadPictureExplains reads the argument off the load picture: where a sound
// battery would lie, full and as charged, the line through what was measured and
// its resistance against a sound one's.
func TestLoadPictureExplains(t *testing.T) {
	p := come(t, 1280, 800)
	p.tap("Mara Ostwick")
	p.see("worst first")
	p.tap("WS 204 K")
	p.see("sound and full would lie in here", "sound, charged as this one is", "9.0 mΩ", "A sound one of this label")
	p.line("load 325a 15s 7.9v", false)
	p.see("What would hold", "10.5 mΩ")
	p.line("12.66 v 17c rested 3h after charge", true)
	// A kept reading leads to its stage; only then is another one opened.
	p.do(p.Until(`document.querySelector('main h1')?.innerText === 'Charge state'`))
	p.tap("Crank power")
	p.see("sound, charged as this one is")
	p.do(p.Gone("sound and full would lie in here")) // charged: one band
}

// TestTwoMethodsOnTheScreen lets two methods contradict each other and follows
// what is still to be seen to.
func TestTwoMethodsOnTheScreen(t *testing.T) {
	p := come(t, 1280, 800)
	p.tap("Mara Ostwick")
	p.see("worst first")
	p.tap("QN 77 BT")
	p.see("Both methods say the same", "Cranking power by each method")
	p.do(p.Until(`document.querySelector('section[aria-label="Two methods"] svg').getAttribute('aria-label').startsWith('load test: ')`))
	p.line("720/760 cca en", false)
	p.see("contradict each other", "still to do Temperature taken at the battery", "seen to Both taken again")
}

// TestReserveHelper plans the timed discharge and begins its line.
func TestReserveHelper(t *testing.T) {
	p := come(t, 390, 844)
	p.tap("Jonah Pell")
	p.see("worst first")
	p.tap("PL 88 ORE")
	p.see("What holds")
	p.tap("Crank power")
	p.tap("Reserve check: what lost capacity looks like")
	p.see("takes a quarter of its ampere-hours", "one cell at a quarter", "Stop at 10.50 V")
	p.tap("Begin its line")
	p.do(p.Until(`document.querySelector('[aria-label="Reading line"]').value.startsWith('reserve 8.5a 97min to ')`))
	p.line("reserve 8.5a 97min to 11.2v 15c", false)
	p.verdict("replace", true)
	p.narrow()
}

// TestDrainHunt hunts a drain fuse by fuse with taps and figures, and keeps each.
func TestDrainHunt(t *testing.T) {
	p := come(t, 390, 844)
	p.tap("Jonah Pell")
	p.see("worst first")
	p.tap("WS 204 K")
	p.see("What holds")
	p.tap("Vehicle")
	p.tap("Drain, fuse by fuse")
	p.see("First the whole drain, asleep")
	p.line("drain 240ma asleep 40min", true)
	p.see("240 mA in all")
	p.scrollTo("Drain, fuse by fuse")
	p.do(p.Fill("its name", "F7"))
	p.do(p.Fill("asleep, min", "45"))
	p.do(p.Fill("millivolts", "0,1"))
	p.do(p.Until(`document.querySelector('[aria-label="Reading line"]').value === 'fuse F7 15a 0,1mv asleep 45min'`))
	p.see("are not explained yet")
	p.do(p.Fill("Reading line", "fuse F7 15a 0.1mv asleep 45min"))
	p.do(p.Type(browser.Enter))
	p.do(p.Until(`document.querySelector('[aria-label="Reading line"]').value === ''`))
	p.scrollTo("Drain, fuse by fuse")
	// The entry begins anew, and what the car sleeps stays.
	p.do(p.Until(`[...document.querySelectorAll('fieldset input')].map(e => e.value).join('|') === '||45'`))
	p.tap("10 A")
	p.do(p.Fill("its name", "F22"))
	p.do(p.Fill("millivolts", "1.6"))
	p.see("Fuse F22 carries 208 mA")
	p.narrow()
	p.accessible("drain, fuse by fuse")
}

// TestSetAside looks at what would hold without a reading, and counts it again:
// nothing is written.
func TestSetAside(t *testing.T) {
	p := come(t, 1280, 800)
	p.tap("Mara Ostwick")
	p.see("worst first")
	p.tap("QN 77 BT")
	p.verdict("replace", false)
	aside := func(n int) {
		t.Helper()
		if _, err := browser.JS[bool](p.Page, fmt.Sprintf(`([...document.querySelectorAll('li button')].filter(b => b.innerText === 'Set aside')[%d].click(), true)`, n)); err != nil {
			t.Fatal(err)
		}
	}
	aside(4) // the load after the charge
	p.see("What would hold without one reading; nothing is changed")
	p.verdict("replace", false) // the conductance test alone
	aside(4)                    // what is now fifth: the conductance test
	p.see("without 2 readings")
	p.verdict("more_tests", false)
	p.accessible("readings set aside")
	p.tap("Count them again")
	p.do(p.Gone("nothing is changed"))
	p.verdict("replace", false)
	p.do(p.Until(`document.querySelectorAll('[aria-label="Readings"] > li').length === 6`))
}

// TestVerdictAnswers asks the verdict why: what would turn it, where the schools
// disagree, and the paragraph for the customer, on the screen and on the report.
func TestVerdictAnswers(t *testing.T) {
	p := come(t, 1280, 800)
	p.tap("Mara Ostwick")
	p.see("worst first")
	p.tap("WS 204 K")
	p.see("What holds")
	p.tap("Why this?")
	p.see("The nearest change of one reading", "9.52 V or more instead of 9.30 V", "Where the schools disagree on it", "By the school “quick, 9.0 V”")
	p.accessible("why this")
	p.do(p.Type("7"))
	p.see("Why not replace it?", "of a hundred good batteries of this label would fail the load test as well", "one more test decide it")
	p.do(p.Open("/"))
	p.tap("QN 77 BT")
	p.see("What holds")
	p.do(p.Type("7"))
	p.see("Why replace it?", "Two tests of different kinds say the same", "are bad")
	p.tap("Copy it")
	p.do(p.Type("8"))
	p.tap("Report to print")
	p.see("Why replace it?", "so being flat is not the explanation")
	if len(p.Console) > 0 {
		t.Errorf("the console says: %s", strings.Join(p.Console, "\n"))
	}
}

// TestExpectedOnTheBench works out what a battery should show under a load, and
// the model's charging time beside the workshop rule.
func TestExpectedOnTheBench(t *testing.T) {
	p := come(t, 1280, 800)
	p.bench("Jonah Pell")
	p.tap("What it should show")
	p.see("its internal resistance", "sound batteries", "with the least power it is kept for")
	p.do(p.Fill("volts it showed", "9,1"))
	p.see("of the label’s power")
	p.accessible("what it should show")
	p.do(p.Open("/sums/charge_time?capacity_ah=60&amps=2&battery_c=25"))
	p.see("workshop rule", "by the model, to 95 %", "charge by the model")
}
