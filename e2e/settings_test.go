package e2e_test

import (
	"testing"
)

// drawn waits for a drawing by the name that is read out for it.
func (p *person) drawn(name string) {
	p.t.Helper()
	p.do(p.Until(`[...document.querySelectorAll('svg[role=img]')].some(s => s.getAttribute('aria-label').startsWith(` + "`" + name + "`" + `))`))
}

// TestSettingsAreDrawn says how a battery sits, one tap after the other, and finds it
// drawn; its date code is read and confirmed.
func TestSettingsAreDrawn(t *testing.T) {
	p := enter(t, 390, 844, "Jonah Pell", "HL 5 RYE")
	for _, c := range []struct{ where, posts, joined, drawing string }{
		{"in the boot", "side terminals", "in series", "Two in a row"},
		{"under a seat", "posts on top", "two in parallel", "Two side by side"},
		{"in the wheel arch", "side terminals", "a bank of several", "A bank"},
	} {
		p.stage("Arrive")
		p.do(p.TapIn("[aria-label='Where it sits']", c.where))
		p.do(p.TapIn("[aria-label='Its posts']", c.posts))
		p.do(p.TapIn("[aria-label='How many, and how joined']", c.joined))
		p.stage("Look")
		p.drawn(c.drawing)
		p.drawn("It sits " + c.where)
		if c.posts == "side terminals" {
			p.drawn("Pads in the side")
		}
	}
	p.do(p.Fill("Date code", "Z9"))
	p.see("a letter A to M but I")
	p.do(p.Fill("Date code", "C4"))
	p.tap("2024-03")
	p.see("Made 2024-03")
	p.narrow()
	p.accessible("look, a bank in the wheel arch")
}

// TestFigurePad takes readings on the circuit by our own keys alone: the figure goes
// where the line left its gap, with the unit the core takes for likely.
func TestFigurePad(t *testing.T) {
	p := enter(t, 390, 844, "Jonah Pell", "PL 88 ORE")
	p.stage("Vehicle")
	p.tap("Ripple")
	for _, key := range []string{"0", "decimal mark", "0", "8", "one less", "unit V"} {
		p.do(p.TapIn("[data-keypad]", key))
	}
	p.do(p.Until(`document.querySelector('[aria-label="Reading line"]').value.trim() === 'ripple 0.07 v'`))
	p.do(p.Until(`document.querySelector('[aria-label="Reading line"]').inputMode === 'none'`))
	p.accessible("vehicle, with the keypad")
	p.do(p.TapIn("[data-keypad]", "Keep"))
	p.see("0.070 V of ripple")

	// A gap in the middle of a line is filled where it is.
	p.stage("Charge")
	p.tap("A check of the charge")
	for _, key := range []string{"1", "4", "decimal mark", "1", "back", "2", "unit V", "6", "unit A"} {
		p.do(p.TapIn("[data-keypad]", key))
	}
	p.do(p.Until(`document.querySelector('[aria-label="Reading line"]').value.trim() === 'charge 14.2v 6a'`))
}

// TestCustomerPage hands the customer a page in plain words: on one sheet, and on a
// phone.
func TestCustomerPage(t *testing.T) {
	p := enter(t, 390, 844, "Mara Ostwick", "QN 77 BT")
	p.stage("Finish")
	p.tap("Page for the customer")
	p.see("For Tolliver Chandlery", "Why replace it?", "What was measured", "Load test: half of its rated cranking amperes",
		"Not tested", "How long it lasts under a small load", "When to come back", "To watch", "To set again", "Radio: its code and stations")
	p.narrow()
	p.accessible("customer's page")
	pages, err := p.PrintedPages()
	p.do(err)
	if pages != 1 {
		t.Errorf("it prints on %d sheets", pages)
	}
}
