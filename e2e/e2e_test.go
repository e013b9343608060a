package e2e_test

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"

	"grapnel/app/demo"
	"grapnel/app/localdb/dbtest"
	"grapnel/e2e"
	"grapnel/e2e/browser"
)

func TestMain(m *testing.M) {
	dbtest.Main(m, func() {
		for range sideBySide {
			if b := <-browsers; b != nil {
				_ = b.Close() // the profile of a browser that is ended may still be written
			}
		}
	})
}

// sideBySide is how many browsers there are; a test has one to itself while it runs.
const sideBySide = 4

// browsers are those that nobody has; nil for one that is still to be started.
var browsers = func() chan *browser.Browser {
	list := make(chan *browser.Browser, sideBySide)
	for range sideBySide {
		list <- nil
	}
	return list
}()

// lent is the browser that each running test has.
var lent sync.Map

// borrow gives a test a browser until it ends; from then on it runs beside others.
func borrow(t testing.TB) *browser.Browser {
	t.Helper()
	if b, ok := lent.Load(t); ok {
		return b.(*browser.Browser)
	}
	if one, ok := t.(*testing.T); ok {
		one.Parallel()
	}
	b := <-browsers
	var err error
	if b == nil {
		if b, err = browser.Start(); err != nil {
			browsers <- nil
			t.Fatal(err)
		}
	}
	lent.Store(t, b)
	t.Cleanup(func() {
		lent.Delete(t)
		if t.Failed() {
			_ = b.Close() // the next gets a fresh one
			b = nil
		}
		browsers <- b
	})
	return b
}

// person is someone at a screen of the demo workshop.
type person struct {
	*browser.Page
	t testing.TB
}

// come opens the demo workshop in a browser of the given size.
func come(t testing.TB, width, height int64) *person {
	t.Helper()
	borrow(t)
	shop, err := e2e.Open(dbtest.Filled(t, demo.Fill))
	if err != nil {
		t.Fatal(err)
	}
	p := visit(t, shop, width, height)
	p.do(p.See("Come in as"))
	return p
}

// visit opens a browser on a shop.
func visit(t testing.TB, shop *e2e.Workshop, width, height int64) *person {
	t.Helper()
	b := borrow(t)
	t.Cleanup(shop.Close)
	page, err := b.Private(shop.URL, width, height)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(page.Close)
	p := &person{page, t}
	p.do(p.Open("/"))
	return p
}

// comeIn opens the demo workshop in a browser, signs somebody in, and gives the workshop
// as well, whose server can be stopped.
func comeIn(t testing.TB, width, height int64, name string) (*e2e.Workshop, *person) {
	t.Helper()
	borrow(t)
	shop, err := e2e.Open(dbtest.Filled(t, demo.Fill))
	if err != nil {
		t.Fatal(err)
	}
	p := visit(t, shop, width, height)
	p.tap(name)
	p.see("worst first")
	return shop, p
}

func (p *person) do(err error) {
	p.t.Helper()
	if err != nil {
		p.t.Fatalf("%v\nthe console says: %s", err, strings.Join(p.Console, "\n"))
	}
}

func (p *person) see(texts ...string) {
	p.t.Helper()
	for _, text := range texts {
		p.do(p.See(text))
	}
}

func (p *person) tap(names ...string) {
	p.t.Helper()
	for _, name := range names {
		p.do(p.Tap(name))
	}
}

// verdict waits until the shown verdict is an action, and whether it is only a
// preview.
func (p *person) verdict(action string, preview bool) {
	p.t.Helper()
	p.do(p.Until(fmt.Sprintf(`document.querySelector('[data-action]')?.dataset.action === %q && document.body.innerText.includes('not kept yet') === %v`, action, preview)))
}

// line types a reading into the line and, when asked, keeps it.
func (p *person) line(text string, keep bool) {
	p.t.Helper()
	p.do(p.Fill("Reading line", text))
	if keep {
		p.do(p.Until(`document.querySelector('[aria-live] .border-verdigris')`))
		p.do(p.Type(browser.Enter))
		p.do(p.Until(`document.querySelector('[aria-label="Reading line"]').value === ''`))
	}
}

// narrow checks that the page does not scroll sideways on a phone.
func (p *person) narrow() {
	p.t.Helper()
	wide, err := browser.JS[int](p.Page, "document.documentElement.scrollWidth")
	if err != nil || wide > 390 {
		p.t.Errorf("the page is %d px wide (%v)", wide, err)
	}
}

// TestWholeJobByKeyboard does the whole job without a mouse: sign in, bring it
// in, volts, load, the verdict and its reasons, correct, undo, report, hand
// back, and the same battery seen again next time.
func TestWholeJobByKeyboard(t *testing.T) {
	p := come(t, 1280, 800)
	p.do(p.Fill("Sign in as", "jonah"))
	p.do(p.Fill("Password", "wrong wrong wrong"))
	p.do(p.Type(browser.Enter))
	p.see("do not belong together")
	p.do(p.Fill("Password", "four claws hold"))
	p.do(p.Type(browser.Enter))
	p.see("What to do, worst first", "Bay 1")

	// "b" brings it in; the plate has the caret already; Tab and arrows do the rest.
	p.do(p.Type("b"))
	p.see("What they say")
	p.do(p.Until(`document.activeElement?.labels?.[0]?.innerText.startsWith('Plate')`))
	p.do(p.Type("kb 905 w"))
	p.do(p.Type(browser.Tab + browser.Tab + browser.Tab + browser.Right))
	p.do(p.Until(`document.activeElement?.innerText === 'van'`))
	p.do(p.Type(" ")) // a hand holds the arrow key long enough to choose; the driver does not
	p.do(p.Until(`document.activeElement?.innerText === 'van' && document.activeElement.getAttribute('aria-checked') === 'true'`))
	p.do(p.Fill("Rating", "650"))
	p.do(p.Type(browser.Enter))
	p.see("KB 905 W", "What holds")
	p.verdict("more_tests", false)

	// "/" reaches the line; the verdict follows each keystroke and is kept on Enter.
	p.do(p.Type("/"))
	p.do(p.Until(`document.activeElement?.getAttribute('aria-label') === 'Reading line'`))
	p.do(p.Type("12,24 v 18c rested 2h"))
	p.verdict("charge_and_retest", true)
	p.see("rested 2 h", "battery at 18 °C")
	p.do(p.Type(browser.Enter))
	p.verdict("charge_and_retest", false)
	p.line("load 325a 15s 9.3v", true)
	p.see("Proves nothing yet", "9.54 V")
	p.line("12.66 v rested 3h after charge", true)
	p.line("load 325a 15s 10.1v", true)
	p.verdict("look_elsewhere", false)

	// Escape leaves the empty line; a figure goes to a stage of the trail.
	p.do(p.Type(browser.Escape + "7"))
	p.see("find what flattened it", "For and against each cause")

	// Up brings the last line back; Escape clears it.
	p.do(p.Type("/"))
	p.do(p.Fill("Reading line", ""))
	p.do(p.Type(browser.Up))
	p.do(p.Until(`document.querySelector('[aria-label="Reading line"]').value === 'load 325a 15s 10.1v'`))
	p.do(p.Type(browser.Escape))
	p.do(p.Until(`document.querySelector('[aria-label="Reading line"]').value === ''`))

	// Hand it back, bring the same van in again: its battery is known.
	p.do(p.Type(browser.Escape + "8"))
	p.see("The verdict stands at")
	p.handBackByKeyboard("Find what flattened it")
	p.do(p.Type("b"))
	p.see("What they say")
	p.do(p.Fill("Plate", "kb905"))
	p.do(p.Until(`document.querySelector('[role=option]')?.innerText.includes('KB 905 W')`))
	p.do(p.Type(browser.Down))
	p.do(p.Until(`document.querySelector('[role=option][aria-selected=true]')`))
	p.do(p.Type(browser.Enter))
	p.see("Known here")
	p.do(p.Fill("In their words", "back for the winter"))
	p.do(p.Type(browser.Enter))
	p.see("What holds", "Its 1 earlier visit")
}

// TestCorrectAndUndo corrects a kept reading with a reason, takes it back, marks
// it mistaken, and finds every line still there.
func TestCorrectAndUndo(t *testing.T) {
	p := come(t, 1280, 800)
	p.tap("Mara Ostwick")
	p.see("worst first")
	p.tap("DUN 48")
	p.verdict("keep", false)
	p.do(p.Until(`[...document.querySelectorAll('li button')].filter(b => b.innerText === 'Correct').length === 3`))
	if _, err := browser.JS[bool](p.Page, `([...document.querySelectorAll('li button')].filter(b => b.innerText === 'Correct')[2].click(), true)`); err != nil {
		t.Fatal(err)
	}
	p.do(p.Fill("Line", "load 150a 15s 4.3v"))
	p.see("Failed on a charged battery: it counts")
	p.tap("Typed wrongly", "Keep the corrected line")
	p.verdict("replace", false)
	p.see("Before: load 150a 15s 5.0v", "Changed by Mara Ostwick: Typed wrongly")
	p.tap("Undo")
	p.verdict("keep", false)
	p.see("Before: load 150a 15s 4.3v")
	if _, err := browser.JS[bool](p.Page, `([...document.querySelectorAll('li button')].filter(b => b.innerText === 'Mistaken')[2].click(), true)`); err != nil {
		t.Fatal(err)
	}
	p.tap("Wrong battery", "Mark it mistaken")
	p.verdict("more_tests", false)
	p.see("Marked mistaken by Mara Ostwick: Wrong battery")
}

// TestJobByThumb does the job at phone width by tapping alone, on the keypad.
func TestJobByThumb(t *testing.T) {
	p := come(t, 390, 844)
	p.tap("Jonah Pell")
	p.see("worst first")
	p.tap("Bring it in")
	p.see("What they say")
	p.tap("cranks slowly")
	p.do(p.Submit())
	p.see("What holds")
	p.tap("Charge state")
	p.tap("1", "2", "decimal mark", "6", "5")
	p.tap("battery")
	p.tap("2", "1")
	p.tap("stood an hour or more")
	p.verdict("more_tests", true)
	p.tap("Keep")
	p.verdict("more_tests", false)
	p.see("12.65 v 21c rested 1h")

	// The rating was not given, so no load can prove anything: complete the label.
	p.tap("Open label")
	p.tap("Complete the label")
	p.do(p.Fill("Rating, A", "650"))
	p.tap("Keep the label")
	p.see("650 A SAE")
	p.tap("Crank power")
	p.see("Draw", "325 A", "9.60 V")
	p.tap("8", "decimal mark", "9")
	p.verdict("replace", true)
	p.tap("Keep")
	p.verdict("replace", false)
	p.narrow()
}

// TestBadInput types what is wrong and reads what is said: nothing is lost.
func TestBadInput(t *testing.T) {
	p := come(t, 1280, 800)
	p.tap("Mara Ostwick")
	p.see("worst first")
	p.tap("HL 5 RYE")
	p.see("What holds")
	for text, says := range map[string]string{
		"120 v":              "Did you mean 12 v?",
		"12.6 v purple":      "is not understood here",
		"-40 v":              "-36 to 36 V",
		"12.6 v 400c":        "-50 to 85 °C",
		"24.4 v":             "more than this battery can show",
		"594/420 cca sae en": "already SAE",
		"sg 1265 1260":       "cells are not a battery",
	} {
		p.line(text, false)
		p.do(p.Type(browser.Enter))
		p.see(says)
		p.do(p.Until(fmt.Sprintf(`document.querySelector('[aria-label="Reading line"]').value === %q`, text)))
	}
	p.line("120 v", false)
	p.tap("take 12 v")
	p.do(p.Until(`document.querySelector('[aria-label="Reading line"]').value === '12 v'`))
	p.do(p.Until(`document.querySelectorAll('[aria-label="Readings"] > li').length === 1`))
}

// TestLineCut keeps a reading while the line to the server is down: it is tried
// again with the same key and stored once.
func TestLineCut(t *testing.T) {
	p := come(t, 1280, 800)
	p.tap("Mara Ostwick")
	p.see("worst first")
	p.tap("HL 5 RYE")
	p.see("What holds")
	p.line("12.61 v 19c rested 2h", false)
	p.see("rested 2 h")
	p.do(p.Offline(true))
	p.do(p.Type(browser.Enter + browser.Enter))
	p.see("1 to be sent when the line is back")
	p.do(p.Until(`document.querySelector('[aria-label="Reading line"]').value === ''`))
	p.do(p.Offline(false))
	p.do(p.Gone("to be sent"))
	p.do(p.Until(`document.querySelectorAll('[aria-label="Readings"] > li').length === 2`))
	p.do(p.Open("/"))
	p.tap("HL 5 RYE")
	p.see("What holds")
	p.do(p.Until(`document.querySelectorAll('[aria-label="Readings"] > li').length === 2`))
}

// TestClosedJobReopens keeps a reading on a job that was handed back.
func TestClosedJobReopens(t *testing.T) {
	p := come(t, 1280, 800)
	p.tap("Mara Ostwick")
	p.see("Handed back")
	p.tap("BK 90 WET")
	p.see("handed back")
	p.line("12.7 v 18c rested 3h", true)
	p.see("it is open again")
}

// parity is what the screen must answer as the command does.
var parity = []struct {
	rating string
	lines  []string
	action string
}{
	{"650", []string{"594/650 cca 12.0v"}, "charge_and_retest"},
	{"590", []string{"320/590 cca"}, "charge_and_retest"},
	{"650", []string{"12.24 v rested 2h", "load 325a 15s 9.3v"}, "charge_and_retest"},
	{"650", []string{"12.65 v 21c rested 2h", "load 325a 15s 8.9v"}, "replace"},
	{"650", []string{"12.2 v rested 2h", "load 325a 15s 9.75v"}, "look_elsewhere"},
}

// TestScreenSaysTheSame walks the published cases over the screen.
func TestScreenSaysTheSame(t *testing.T) {
	p := come(t, 1280, 800)
	p.tap("Mara Ostwick")
	p.see("worst first")
	for _, c := range parity {
		p.do(p.Open("/bring-in"))
		p.do(p.Fill("Rating, A", c.rating))
		p.do(p.Type(browser.Enter))
		p.see("What holds")
		for _, text := range c.lines {
			p.line(text, true)
		}
		p.verdict(c.action, false)
	}
}

// TestAccessible runs axe-core on each screen, at both widths and in both
// themes: no serious finding.
func TestAccessible(t *testing.T) {
	p := come(t, 1280, 800)
	check := p.accessible
	check("sign in")
	p.tap("Mara Ostwick")
	p.see("worst first")
	check("today")
	p.do(p.Open("/bring-in"))
	p.see("What they say")
	check("bring it in")
	p.do(p.Open("/people"))
	p.see("Someone new")
	check("people")
	p.do(p.Open("/"))
	p.tap("WS 204 K")
	p.see("What holds")
	for i, stage := range []string{"arrive", "look", "charge state", "charge", "crank power", "vehicle", "decide", "finish"} {
		p.do(p.Type(fmt.Sprint(i + 1)))
		p.do(p.Until(fmt.Sprintf(`document.querySelector('h1')?.innerText.toLowerCase() === %q`, stage)))
		check(stage)
	}
	p.tap("Report to print")
	p.see("What would change it")
	check("report")
	p.do(p.Open("/"))
	p.tap("WS 204 K")
	p.see("What holds")
	p.do(p.Type("1"))
	p.tap("Its 1 earlier visit")
	p.see("Sat in")
	check("battery")
	if len(p.Console) > 0 {
		t.Errorf("the console says: %s", strings.Join(p.Console, "\n"))
	}
}

// accessible runs axe-core on the screen that stands there, in both themes.
func (p *person) accessible(name string) {
	p.t.Helper()
	p.do(p.Until(`!document.querySelector('main [aria-busy]')`))
	axe, err := os.ReadFile(filepath.Join("..", "web", "node_modules", "axe-core", "axe.min.js"))
	if err != nil {
		p.t.Fatal("axe-core comes with the front end's packages: ", err)
	}
	// Through the debugger, not the page: its content policy allows no inline script.
	if there, err := browser.JS[bool](p.Page, `'axe' in window`); err != nil || !there {
		if _, err := browser.JS[bool](p.Page, string(axe)+"; true"); err != nil {
			p.t.Fatal(err)
		}
	}
	// Of the other theme only what hangs on colours is looked at again.
	for theme, only := range map[string]string{"light": "", "dark": ", runOnly: ['color-contrast', 'link-in-text-block']"} {
		p.do(p.Theme(theme))
		found, err := browser.JS[string](p.Page, `axe.run(document, {resultTypes: ['violations']`+only+`}).then(r => r.violations.filter(v => ['serious', 'critical'].includes(v.impact)).map(v => v.id + ': ' + v.nodes.map(n => n.target + ' ' + n.failureSummary).slice(0, 3).join(' | ')).join('\n'))`)
		if err != nil {
			p.t.Fatal(err)
		}
		if found != "" {
			p.t.Errorf("%s, %s:\n%s", name, theme, found)
		}
	}
}

// TestAccessibleAtTheVehicle runs axe-core at phone width where the work is done.
func TestAccessibleAtTheVehicle(t *testing.T) {
	p := come(t, 390, 844)
	p.tap("Jonah Pell")
	p.see("worst first")
	p.accessible("today")
	p.tap("EX 12 FEN")
	p.see("What holds")
	for _, stage := range []string{"Arrive", "Look", "Charge state", "Charge", "Crank power", "Vehicle", "Decide", "Finish"} {
		p.stage(stage)
		p.do(p.Until(fmt.Sprintf(`document.querySelector('h1')?.innerText === %q`, stage)))
		p.accessible(stage)
	}
}

// TestDialogsAreAccessible runs axe-core on what opens over the job, and finds each
// closed by Escape with the job as it was.
func TestDialogsAreAccessible(t *testing.T) {
	p := enter(t, 390, 844, "Jonah Pell", "WS 204 K")
	for _, c := range []struct{ stage, opens, shows string }{
		{"Arrive", "Bay 2, Mara Ostwick", "Where it stands"}, {"Arrive", "Complete the label", "The label"},
		{"Charge state", "Correct", "Correct a reading"}, {"Charge state", "Mistaken", "Mark a reading mistaken"},
	} {
		p.stage(c.stage)
		p.tap(c.opens)
		p.do(p.Until(`document.querySelector('[role=dialog]')`))
		p.see(c.shows)
		p.accessible(c.opens)
		p.do(p.Type(browser.Escape))
		p.do(p.Until(`!document.querySelector('[role=dialog]')`))
	}
	p.do(p.Type("?"))
	p.do(p.Until(`document.querySelector('[role=dialog]')`))
	p.accessible("keys")
	p.do(p.Type(browser.Escape))
	_, err := browser.JS[bool](p.Page, `(document.querySelector('header [aria-haspopup=dialog]').click(), true)`)
	p.do(err)
	p.do(p.Until(`document.querySelector('[role=dialog]')`))
	p.accessible("clocks")
}

// TestFirstStart sets a new shop up with the code from the terminal.
func TestFirstStart(t *testing.T) {
	shop, err := e2e.OpenEmpty(dbtest.Open(t), "SESAME")
	if err != nil {
		t.Fatal(err)
	}
	p := visit(t, shop, 1280, 800)
	p.see("Set the shop up")
	p.accessible("set up")
	for label, text := range map[string]string{"Code": "guess", "Name of the shop": "Quay Works", "Time zone": "UTC", "Your name": "Ada Quill", "Sign in as": "ada", "Password": "a long enough secret"} {
		p.do(p.Fill(label, text))
	}
	p.tap("Open the shop")
	p.see("where Grapnel was started")
	p.do(p.Fill("Code", "SESAME"))
	p.do(p.Type(browser.Enter))
	p.see("Nothing is in the shop", "Quay Works")
}

// TestReportPrintsOnOnePage prints the report of the longest demo job.
func TestReportPrintsOnOnePage(t *testing.T) {
	p := come(t, 1280, 800)
	p.tap("Mara Ostwick")
	p.see("worst first")
	p.tap("QN 77 BT")
	p.see("What holds")
	p.do(p.Type("8"))
	p.tap("Report to print")
	p.see("Battery report", "Method of the load test: half of the rating", "9.48 V at 15 °C", "What would change it")
	pages, err := p.PrintedPages()
	if err != nil || pages != 1 {
		t.Errorf("%d pages, %v", pages, err)
	}
}

// TestLookByTap finds damage by tapping: the stop rule closes what it forbids,
// and marking the finding mistaken with a reason opens it again.
func TestLookByTap(t *testing.T) {
	p := come(t, 1280, 800)
	p.tap("Jonah Pell")
	p.see("worst first")
	p.tap("EX 12 FEN")
	p.see("What holds")
	p.tap("Look")
	p.see("Before anything is clamped on")
	p.do(p.Until(`document.querySelector('svg[aria-label^="Battery"]')`))
	p.tap("The case", "crack")
	p.verdict("stop_unsafe", false)
	p.see("No charge, no load test, no jump", "closed by a stop rule")
	p.do(p.Until(`document.querySelector('svg[aria-label="Battery, seen: crack"]')`))
	if _, err := browser.JS[bool](p.Page, `([...document.querySelectorAll('li button')].filter(b => b.innerText === 'Mistaken').at(-1).click(), true)`); err != nil {
		t.Fatal(err)
	}
	p.see("Mark a reading mistaken")
	p.tap("Read the wrong figure", "Mark it mistaken")
	p.verdict("charge_and_retest", false)
}

// TestSearchAndKeys uses the search line, the keys and their list.
func TestSearchAndKeys(t *testing.T) {
	p := come(t, 1280, 800)
	p.tap("Edda Brandreth")
	p.see("worst first")
	p.do(p.Type("?"))
	p.see("bring back the last line typed")
	p.do(p.Type(browser.Escape))
	p.do(p.Gone("bring back the last line typed"))
	p.do(p.Type("/"))
	p.do(p.Type("fenwright"))
	p.do(p.Until(`document.querySelectorAll('section li').length > 0 && !document.body.innerText.includes('MOWER C')`))
	p.do(p.Type(browser.Enter))
	p.see("Six-volt saloon", "5.00 V", "least at 14")
	p.do(p.Type("t"))
	p.see("worst first")
	p.do(p.Type("/"))
	p.do(p.Type("zz 99"))
	p.see("Nothing in the shop fits that")
	p.do(p.Type(browser.Enter))
	p.see("What they say")
	p.do(p.Until(`document.querySelector('input').value === 'zz 99'`))
}

// TestPeople adds someone as the owner, and finds that others may not.
func TestPeople(t *testing.T) {
	p := come(t, 1280, 800)
	p.tap("Mara Ostwick")
	p.see("worst first")
	p.tap("MO: Mara Ostwick")
	p.tap("People of the shop")
	p.see("Someone new")
	p.do(p.Fill("Name", "Tamsin Reed"))
	p.do(p.Fill("Signs in as", "tamsin"))
	p.do(p.Fill("First password", "short"))
	p.do(p.Submit())
	p.see("10 to 200 characters")
	p.do(p.Fill("First password", "long enough now"))
	p.do(p.Submit())
	p.see("Tamsin Reed")
	p.tap("MO: Mara Ostwick")
	p.tap("Sign out")
	p.see("Come in as")
	p.do(p.Fill("Sign in as", "tamsin"))
	p.do(p.Fill("Password", "long enough now"))
	p.do(p.Type(browser.Enter))
	p.see("worst first")
	p.do(p.Open("/people"))
	p.see("The owner adds people")
}

// TestThemeIsKept switches to dark and finds it dark the next time.
func TestThemeIsKept(t *testing.T) {
	p := come(t, 1280, 800)
	p.tap("Mara Ostwick")
	p.see("worst first")
	p.do(p.Theme("light"))
	p.do(p.Open("/"))
	p.tap("Switch to the dark theme")
	p.do(p.Until(`document.documentElement.dataset.theme === 'dark'`))
	p.do(p.Open("/"))
	p.do(p.Until(`document.documentElement.dataset.theme === 'dark'`))
	color, err := browser.JS[string](p.Page, "getComputedStyle(document.documentElement).backgroundColor")
	if err != nil || color != "rgb(16, 26, 34)" {
		t.Errorf("the dark paper is %s (%v)", color, err)
	}
}

// TestBringInIsRefusedWhole sends a bad label and finds every field named and
// nothing lost.
func TestBringInIsRefusedWhole(t *testing.T) {
	p := come(t, 1280, 800)
	p.tap("Jonah Pell")
	p.see("worst first")
	p.do(p.Open("/bring-in"))
	p.do(p.Fill("Plate", "new 1"))
	p.do(p.Fill("Rating, A", "9999"))
	p.do(p.Fill("Made", "March"))
	p.do(p.Type(browser.Enter))
	p.see("batteries[0].label.rating.value", "10 to 3000 A", "batteries[0].label.made", "YYYY-MM")
	p.do(p.Fill("Rating, A", "540"))
	p.do(p.Fill("Made", "2024-03"))
	p.do(p.Type(browser.Enter))
	p.see("NEW 1", "540 A SAE", "2024-03")
}

// TestThreeTaps brings the usual case in with three taps: known vehicle aside,
// a symptom, and the button.
func TestThreeTaps(t *testing.T) {
	p := come(t, 390, 844)
	p.tap("Jonah Pell")
	p.see("worst first")
	p.tap("Bring it in")
	p.see("What they say")
	p.tap("flat again within days")
	p.do(p.Submit())
	p.see("What holds", "More tests needed")
	p.tap("Arrive")
	p.see("flat again within days")
}
