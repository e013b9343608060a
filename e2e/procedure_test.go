package e2e_test

import (
	"fmt"
	"testing"

	"grapnel/e2e"
	"grapnel/e2e/browser"
)

// due waits until a step, from 1, is the one at hand.
func (p *person) due(step int) {
	p.t.Helper()
	p.do(p.Until(fmt.Sprintf(`document.querySelector('[role=img][aria-label^="%d of "]') !== null`, step)))
}

// onward taps Done until a step, from 1, is at hand.
func (p *person) onward(from, to int) {
	p.t.Helper()
	for step := from; step < to; step++ {
		p.due(step)
		p.tap("Done")
	}
	p.due(to)
}

// inState counts what the picture shows in a state.
func (p *person) inState(symbolState string, want int) {
	p.t.Helper()
	p.do(p.Until(fmt.Sprintf(`document.querySelectorAll('main svg [data-part][data-state=%q]').length >= %d`, symbolState, want)))
}

// orders opens the orders of work of a job.
func (p *person) orders(plate string) {
	p.t.Helper()
	p.tap(plate)
	p.see("What holds")
	p.tap("Step by step")
	p.see("Jump it", "Load test", "Drawn for")
}

const allSteps = 28 // those of a jump from another vehicle by one person, to a car

// TestJumpAlone jumps a car by one person at a phone: the sum first, then every step with its
// picture, one taken back, a reading kept with the job on the way, to the end.
func TestJumpAlone(t *testing.T) {
	shop, p := comeIn(t, 390, 844, "Jonah Pell")
	p.orders("WS 204 K")
	p.accessible("the orders of work")
	p.tap("Will it crank?")
	p.see("The three ways, here", "What is known")
	p.tap("Another vehicle")
	p.see("Where the volts stay", "reaches the starter", "25 mm²")
	p.do(p.Fill("Leads, mm² of copper", "16"))
	p.do(p.Fill("Length of one, m", "4"))
	p.do(p.Until(`!document.body.innerText.includes('The leads were not described in full')`))
	p.accessible("the jump")
	p.narrow()
	p.tap("Begin, step by step")
	p.see("Glasses and gloves on")
	p.onward(1, 8)
	p.see("Lay the plus lead’s far end on the mat", "The moment its near end is on, the far end is live.")
	p.accessible("a step on the phone")
	p.narrow()
	p.onward(8, 10)
	p.see("The plus lead’s other end to the donor’s + post.")
	p.inState("good", 1)
	// Back says what must be undone before it counts.
	p.tap("Back")
	p.see("Undo it first", "Take the lead’s end here off the battery’s + post.")
	p.tap("It is undone")
	p.due(9)
	p.onward(9, 13)
	p.see("Last clamp: the engine’s lifting eye.", "It may spark here, away from the battery")
	p.inState("good", 3)
	p.onward(13, 17)
	p.see("Did it start?")
	// A line that cannot be taken stays where it was typed, and so does the step.
	p.do(p.Fill("The reading, as one line", "jump startet maybe"))
	p.tap("Done")
	p.see("“startet”")
	p.due(17)
	p.do(p.Fill("The reading, as one line", "jump started with vehicle"))
	p.onward(17, 19)
	p.see("Off in reverse, the last one first")
	p.onward(19, allSteps)
	p.tap("Done")
	p.see("All steps are done.")
	p.tap("Finish it")
	p.see("Finished.", "Jonah Pell")
	p.do(p.Until(`(fetch(location.pathname.replace('/procedures/', '/attempts/').replace('/jobs/', '/api/jobs/')).then(r => r.json()).then(page => { window.ended = page.progress.ended }), window.ended === 'finished')`))
	for _, query := range []string{
		`SELECT COUNT(*) FROM reading WHERE typed LIKE 'jump started%'`,
		`SELECT COUNT(*) FROM attempt_event WHERE did = 'finished'`,
		`SELECT COUNT(*) FROM attempt_event WHERE did = 'back' AND step = 8`,
		`SELECT COUNT(*) FROM attempt WHERE name = 'jump' AND people = 1`,
		`SELECT COUNT(*) FROM attempt WHERE name = 'jump' AND setting LIKE '%"with":"vehicle"%'`,
	} {
		has(t, shop, 1, query)
	}
}

// TestJumpByTwo jumps a car by two people on two phones: what one does the other sees, and
// both tapping Done on one step do it once.
func TestJumpByTwo(t *testing.T) {
	shop, here := comeIn(t, 390, 844, "Jonah Pell")
	here.orders("WS 204 K")
	here.do(here.TapIn(`li:has(h2)`, "from another vehicle"))
	here.tap("Two people", "Begin")
	here.see("Glasses and gloves on")
	at, err := browser.JS[string](here.Page, "location.pathname")
	here.do(err)
	donor := beside(t, shop, here, "Mara Ostwick")
	donor.do(donor.Open(at))
	donor.see("Glasses and gloves on")
	here.tap("I am here")
	donor.tap("I am the second")
	here.onward(1, 9)
	donor.due(9)
	here.see("The second person holds the plus lead’s far end", "The other person")
	donor.see("You")
	donor.tap("Done")
	here.due(10)
	here.see("You", "The plus lead to the battery’s + post.")
	// Both at once: it was done once.
	errs := make(chan error, 2)
	for _, p := range []*person{here, donor} {
		go func() { errs <- p.Tap("Done") }()
	}
	here.do(<-errs)
	here.do(<-errs)
	here.due(11)
	donor.due(11)
	here.see("The other person")
	donor.see("The plus lead’s other end to the donor’s + post.")
	has(t, shop, 2, `SELECT COUNT(DISTINCT person_id) FROM attempt_event`)
}

// beside is somebody else in the same workshop, on a device of their own.
func beside(t *testing.T, shop *e2e.Workshop, _ *person, name string) *person {
	t.Helper()
	other := visit(t, shop, 390, 844)
	other.see("Come in as")
	other.tap(name)
	other.see("worst first")
	return other
}

// TestJumpHandedOver breaks a jump off without the line and hands it over: steps done without
// the line are sent when it is back, somebody else goes on at the same step, stops with the
// way back, and a second try is an attempt of its own.
func TestJumpHandedOver(t *testing.T) {
	shop, p := atHand(t, 390, 844)
	p.orders("WS 204 K")
	p.tap("Begin")
	p.see("Glasses and gloves on")
	at, err := browser.JS[string](p.Page, "location.pathname")
	p.do(err)
	p.onward(1, 4)
	shop.Down()
	p.see("The line is down")
	p.onward(4, 9)
	p.do(p.Open(at))
	p.see("The line is down")
	p.due(9)
	if err := shop.Up(); err != nil {
		t.Fatal(err)
	}
	p.do(p.Until(`!document.body.innerText.includes("The line is down")`))
	other := beside(t, shop, p, "Mara Ostwick")
	other.tap("WS 204 K")
	other.see("What holds")
	other.tap("Step by step")
	other.see("step 9 of")
	other.tap("Go on")
	other.due(9)
	other.onward(9, 10)
	other.tap("Stop")
	other.see("Break it off here", "Take the pack’s − clip off", "Take the pack’s + clip off the battery’s + post.", "Cover the battery’s + post.")
	other.do(other.Fill("Why, or what is left", "the customer has to go"))
	other.tap("All of it is undone")
	other.see("Broken off.", "the customer has to go")
	p.see("Broken off.")
	other.tap("Another order, or a second try")
	other.see("broken off")
	other.tap("Begin")
	other.due(1)
	has(t, shop, 2, `SELECT COUNT(*) FROM attempt`)
}

// TestJumpRefused puts the last clamp elsewhere on the picture, and refuses a 6 V donor on
// 12 V, a hybrid that must not give, and a jump that a stop rule forbids.
func TestJumpRefused(t *testing.T) {
	_, p := comeIn(t, 1280, 800, "Jonah Pell")
	p.orders("WS 204 K")
	p.tap("Will it crank?", "Another vehicle")
	p.see("Where the volts stay", "Last clamp: the engine’s lifting eye.")
	for _, c := range [][2]string{{"post", "Last clamp: the battery’s − post, as its maker says."}, {"body", "Last clamp: the engine’s lifting eye."}} {
		p.do(p.Until(fmt.Sprintf(`document.querySelector('main svg [data-place=%q]')?.dispatchEvent(new MouseEvent('click', {bubbles: true}))`, c[0])))
		p.see(c[1])
	}
	p.do(p.Fill("Its nominal volts, V", "120"))
	p.see("Its nominal volts: 120 is out of range. Allowed: 2 to 48 V.")
	p.do(p.Fill("Its nominal volts, V", "6"))
	p.see("Not this way.", "6 V onto 12 V is never joined")
	if gone, err := browser.JS[bool](p.Page, `![...document.querySelectorAll('button')].some(b => b.innerText === 'Begin, step by step' && !b.disabled)`); err != nil || !gone {
		t.Errorf("it may be begun all the same, %v", err)
	}
	p.accessible("a jump that is refused")
	p.do(p.Fill("Its nominal volts, V", "12"))
	p.see("Where the volts stay")
	p.tap("a hybrid")
	p.see("A hybrid takes a jump and gives none")
	// A crack that was seen forbids it on every way.
	p.tap("Other orders of work")
	p.see("Load test")
	p.tap("To the job")
	p.see("What holds")
	p.line("look crack", true)
	p.tap("Step by step")
	p.see("Not now: No charge, no load test, no jump.")
	if barred, err := browser.JS[bool](p.Page, `[...document.querySelectorAll('li')].filter(l => /Not now:/.test(l.innerText)).every(l => [...l.querySelectorAll('button')].find(b => b.innerText === 'Begin').disabled)`); err != nil || !barred {
		t.Errorf("what a stop rule forbids may be begun, %v", err)
	}
}

// TestProcedureAtTheDesk walks by the keys, sees the whole order beside the picture, and
// prints it with every step drawn.
func TestProcedureAtTheDesk(t *testing.T) {
	_, p := comeIn(t, 1280, 800, "Mara Ostwick")
	p.orders("WS 204 K")
	p.do(p.TapIn(`li:has(h2):nth-of-type(7)`, "Begin"))
	p.see("Keep the electronics fed", "Do the work at the battery now")
	p.accessible("a procedure at the desk")
	p.do(p.Type(browser.Right))
	p.due(2)
	p.do(p.Type(browser.Right))
	p.due(3)
	p.see("What the car draws asleep")
	p.do(p.Type(browser.Left))
	p.due(2)
	p.do(p.Type(browser.Enter))
	p.due(3)
	p.do(p.Before(`window.print = () => { window.printed = document.querySelectorAll('article li svg').length }`))
	p.do(p.Open("/"))
	p.tap("WS 204 K")
	p.see("What holds")
	p.tap("Step by step")
	p.see("step 3 of")
	p.tap("Go on")
	p.due(3)
	p.tap("Print")
	p.do(p.Until(`window.printed === 11`))
	if pages, err := p.PrintedPages(); err != nil || pages > 3 {
		t.Errorf("the sheet has %d pages, %v", pages, err)
	}
}
