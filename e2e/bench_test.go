package e2e_test

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"grapnel/core/bench"
	"grapnel/core/reading"
	"grapnel/e2e/browser"
)

// bench opens the bench as a person of the demo workshop.
func (p *person) bench(who string) {
	p.t.Helper()
	p.tap(who)
	p.see("worst first")
	p.do(p.Type("s"))
	p.see("Bench sums")
}

// TestBenchSums works a sum out as it is typed, with a wrong figure once, finds
// the inputs in the address, and pulls the result into a job: kept with it, and
// as a reading.
func TestBenchSums(t *testing.T) {
	p := come(t, 1280, 800)
	p.bench("Mara Ostwick")
	p.do(p.Fill("Search the sums", "half of"))
	p.do(p.Gone("Torque"))
	p.tap("Load test")
	p.see("325 A", "9.40 V", "Battery Council International")
	p.do(p.Fill("rating on the label", "700"))
	p.do(p.Fill("battery temperature", "-18"))
	p.see("350 A", "8.50 V")
	p.do(p.Fill("battery temperature", "0f")) // the same to a quarter of a degree
	p.see("8.51 V", "by the Fahrenheit table")
	p.do(p.Fill("battery temperature", "-18"))
	p.do(p.Fill("rating on the label", "7"))
	p.see("10 to 3000 A")
	p.do(p.Fill("rating on the label", "700"))
	p.do(p.Fill("volts at the end", "8,6"))
	p.see("0.10 V")
	p.do(p.Until(`location.search.includes('rating=700') && location.search.includes('battery_c=-18')`))
	address, err := browser.JS[string](p.Page, "location.pathname + location.search")
	if err != nil {
		t.Fatal(err)
	}
	p.do(p.Open("/figures"))
	p.see("Figures and their sources")
	p.do(p.Open(address)) // the link keeps the inputs
	p.see("350 A", "0.10 V")

	p.do(p.Until(`[...document.querySelectorAll('select option')].some(o => o.innerText === 'WS 204 K')`))
	if _, err := browser.JS[bool](p.Page, `(() => { const s = [...document.querySelectorAll('select')].at(-1); const o = [...s.options].find(o => o.innerText === 'WS 204 K'); Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set.call(s, o.value); s.dispatchEvent(new Event('change', {bubbles: true})); return true })()`); err != nil {
		t.Fatal(err)
	}
	p.tap("Keep this sum with WS 204 K")
	p.see("Kept with WS 204 K")
	p.tap("Take it as a reading of WS 204 K")
	p.see("What would hold", "350 A", "8.60 V at the end")
	p.do(p.Type(browser.Escape + browser.Escape + "1"))
	p.see("Sums kept with this job", "Load test")
}

// TestEveryCardOpens opens every card of the bench and finds its result.
func TestEveryCardOpens(t *testing.T) {
	p := come(t, 1280, 800)
	p.bench("Jonah Pell")
	for _, sum := range bench.Sums() {
		p.do(p.Open("/sums/" + sum.ID))
		p.do(p.Until(fmt.Sprintf(`document.querySelector('h1')?.innerText === %q && document.querySelectorAll('dl dd').length > 0`, sum.Title())))
	}
	if len(p.Console) > 0 {
		t.Errorf("the console says: %s", strings.Join(p.Console, "\n"))
	}
}

// TestSumsForABattery goes from a job to the bench with its label filled in.
func TestSumsForABattery(t *testing.T) {
	p := come(t, 390, 844)
	p.tap("Jonah Pell")
	p.see("worst first")
	p.tap("EX 12 FEN")
	p.tap("Arrive")
	p.tap("Sums for this battery")
	p.tap("Charging volts")
	p.see("Never equalise this one")
	p.do(p.Until(`document.querySelector('#in-chemistry').value === 'agm' && document.querySelector('#in-capacity_ah').value === '12'`))
	p.tap("Keep this sum with EX 12 FEN", "Back to EX 12 FEN")
	p.see("What holds")
	p.narrow()
}

// TestOwnFigure sets the shop's own limit as the owner, sees the verdict follow
// it, and goes back to the trade's.
func TestOwnFigure(t *testing.T) {
	p := come(t, 1280, 800)
	p.tap("Mara Ostwick")
	p.see("worst first")
	p.tap("PL 88 ORE")
	p.see("Parasitic drain", "more than 50 mA")
	p.tap("MO: Mara Ostwick", "Figures and their sources")
	p.do(p.Fill("Search the figures", "drain at rest"))
	p.see("limits.drain_most")
	p.tap("Use our own")
	p.do(p.Fill("Our own figure", "9"))
	p.do(p.Fill("Where it is from", "service manual, page 88"))
	p.do(p.Submit())
	p.see("0.005 to 1 A")
	p.do(p.Fill("Our own figure", "0,3"))
	p.do(p.Submit())
	p.see("The shop’s own, from service manual, page 88")
	p.do(p.Open("/"))
	p.tap("PL 88 ORE")
	p.see("up to 300 mA", "the shop’s own: service manual, page 88")
	p.do(p.Open("/figures"))
	p.do(p.Fill("Search the figures", "drain at rest"))
	p.tap("Change", "Back to the trade’s figure")
	p.do(p.Gone("service manual, page 88"))
}

// TestEveryKindOnTheScreen types a line of every kind on one job and finds it
// kept, with what it proves.
func TestEveryKindOnTheScreen(t *testing.T) {
	p := come(t, 1280, 800)
	p.tap("Jonah Pell")
	p.see("worst first")
	p.do(p.Open("/bring-in"))
	p.do(p.Fill("Rating, A", "650"))
	p.do(p.Type(browser.Enter))
	p.see("What holds")
	for _, kind := range reading.Kinds() {
		example := reading.Example(reading.Kind(kind))
		p.line(example, true)
		p.do(p.Until(fmt.Sprintf(`[...document.querySelectorAll('[aria-label=Readings] li')].some(li => li.innerText.includes(%q) && li.innerText.length > %d)`, example, len(example)+20)))
	}
	// Several in one line.
	p.line("12.6 v 20c rested 2h; running 14.2 v; ripple 0.05 v", true)
	p.do(p.Until(`[...document.querySelectorAll('[aria-label=Readings] li p.num')].slice(-3).map(e => e.innerText).join('|') === '12.6 v 20c rested 2h|running 14.2 v|ripple 0.05 v'`))
}

// TestCompletionByKeyboard writes a whole line with the arrows and Enter alone,
// and follows a near miss.
func TestCompletionByKeyboard(t *testing.T) {
	p := come(t, 1280, 800)
	p.tap("Jonah Pell")
	p.see("worst first")
	p.tap("QN 77 BT")
	p.see("What holds")
	p.do(p.Type("/"))
	p.do(p.Type("runn"))
	p.see("charging volts")
	p.do(p.Type(browser.Down))
	p.do(p.Until(`document.activeElement?.innerText.startsWith('running')`))
	p.do(p.Type(browser.Enter))
	p.do(p.Until(`document.querySelector('[aria-label="Reading line"]').value === 'running '`))
	p.see("Still needed: volts")
	p.do(p.Type(browser.Down))
	p.do(p.Until(`document.activeElement?.innerText.startsWith('14.3 v')`))
	p.do(p.Type(browser.Enter))
	p.see("14.30 V running")
	p.do(p.Type(browser.Enter))
	// The next line is begun while the last is on its way: none of it is lost.
	p.do(p.Fill("Reading line", "126.5 v rested 2h"))
	p.tap("take 12.65 v")
	p.see("12.65 V")
}

// TestTextFile takes a job in from plain text, with a wrong line once, and
// writes it back as it was.
func TestTextFile(t *testing.T) {
	p := come(t, 1280, 800)
	p.tap("Mara Ostwick")
	p.see("worst first")
	p.do(p.Type("b"))
	dir := t.TempDir()
	job := "as of: 2026-11-20T08:00:00Z\nplate: TXT 1\nvehicle: car, petrol, 2 l\nsymptom: slow_crank\nschool: half_cca\nbattery: flooded, 12 V, 650 A SAE, caps open\n\n12.24 v 18c rested 2h\nload 325a 15s 9.3v\n"
	good, bad := filepath.Join(dir, "good.txt"), filepath.Join(dir, "bad.txt")
	for name, text := range map[string]string{good: job, bad: strings.Replace(job, "9.3v", "93v", 1)} {
		if err := os.WriteFile(name, []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	p.do(p.Upload("input[type=file]", bad))
	p.see("line 9")
	p.do(p.Upload("input[type=file]", good))
	p.see("TXT 1", "What holds")
	p.verdict("charge_and_retest", false)
	text, err := browser.JS[string](p.Page, `fetch('/api' + location.pathname.split('/').slice(0, 3).join('/') + '/text').then(r => r.json()).then(r => r.text)`)
	if err != nil || text != job {
		t.Errorf("written back as\n%s(%v), want\n%s", text, err, job)
	}
	p.do(p.Type("8"))
	p.tap("As plain text")
	p.do(p.Until(`![...document.querySelectorAll('button')].some(b => b.disabled && b.innerText === 'As plain text')`))
}

// TestBenchIsAccessible runs axe-core on the bench and the figures, at both
// widths and in both themes.
func TestBenchIsAccessible(t *testing.T) {
	p := come(t, 1280, 844)
	p.tap("Mara Ostwick")
	p.see("worst first")
	both := func(name string) {
		for _, width := range []int64{390, 1280} {
			p.do(p.Size(width, 844))
			p.do(p.Drawn())
			p.accessible(name)
			if width == 390 && name == "figures" {
				p.narrow()
			}
		}
	}
	p.do(p.Open("/sums"))
	p.see("Charge from volts")
	both("sums")
	for _, id := range []string{"load_test", "air", "torque", "drain_days"} {
		p.do(p.Open("/sums/" + id))
		p.see("Where its figures are from")
		p.do(p.Until(`document.querySelectorAll('dl dd').length > 0`))
		both(id)
	}
	p.do(p.Open("/figures"))
	p.see("Figures and their sources")
	both("figures")
}

// TestDrainFoundByThumb does a come-back at the vehicle, by tapping at phone
// width: what the customer tells, volts, the charge with its logs, the load, the
// vehicle's side with a wrong figure once, and the drain followed to its fuse.
func TestDrainFoundByThumb(t *testing.T) {
	p := come(t, 390, 844)
	p.tap("Jonah Pell")
	p.see("worst first")
	p.tap("Bring it in")
	p.see("What they say")
	p.tap("flat again within days")
	p.reach("flooded")
	p.do(p.Fill("Rating, A", "540"))
	p.do(p.Fill("Ah", "55"))
	p.do(p.Submit())
	p.see("What holds")
	begun := func(line string) {
		t.Helper()
		p.do(p.Until(fmt.Sprintf(`document.querySelector('[aria-label="Reading line"]').value === %q`, line)))
	}
	// What the customer tells exactly: a button begins the line, the next one goes on.
	p.tap("Arrive")
	p.see("How is it driven?")
	p.do(p.TapIn(`[aria-label="How is it driven?"]`, "another value"))
	begun("trips ")
	p.line("trips 4/week 10min", true)
	p.see("4 trips of 10 min a week")
	p.line("12.0 v 15c rested 9h", true)
	p.verdict("charge_and_retest", false)
	p.line("charge 14.3v 7a 60min cool; charge 14.4v 6a 10h warm full", true)
	p.see("believable")
	p.line("12.65 v 15c rested 5h after charge; load 270a 15s 10.0v", true)
	p.verdict("look_elsewhere", false)

	p.tap("Vehicle")
	p.see("What flattened it")
	p.tap("Charging volts")
	begun("running ")
	p.see("Still needed: volts")
	p.tap("14.3 v")
	begun("running 14.3 v ")
	p.line("running 14.2 v", true)
	p.see("It charges")
	p.tap("Drain at rest")
	begun("drain ")
	// A wrong figure once: nothing is kept, and what is allowed is said.
	p.do(p.Fill("Reading line", "drain 210 a asleep 45min"))
	p.do(p.Type(browser.Enter))
	p.see("0 to 60 A")
	p.line("drain 210 ma asleep 45min", true)
	p.see("something stays awake", "Parasitic drain", "Millivolts across each fuse")
	p.tap("Over a fuse")
	begun("fuse ")
	p.line("fuse F14 15a 0.8mv asleep 60min", true)
	p.see("through fuse F14", "Repair the circuit behind this fuse")
	p.verdict("look_elsewhere", false)
	p.accessible("vehicle")
	p.narrow()
	small, err := browser.JS[string](p.Page, `[...document.querySelectorAll('main button, main a.btn')].filter(b => b.getClientRects().length > 0 && b.getBoundingClientRect().height < 44).map(b => b.innerText).join(', ')`)
	if err != nil || small != "" {
		t.Errorf("too small to tap with gloves: %s (%v)", small, err)
	}
	p.tap("Finish", "Report to print")
	p.see("Battery report", "210 mA after 45 min asleep", "50 mA")
}

// TestNearMissesOnTheScreen checks that a slipped mark is offered in the place
// of the word at fault, and that nothing is taken unasked.
func TestNearMissesOnTheScreen(t *testing.T) {
	p := come(t, 1280, 800)
	p.tap("Mara Ostwick")
	p.see("worst first")
	p.tap("WS 204 K")
	p.see("What holds")
	for _, c := range []struct{ typed, offer, then string }{
		{"126.5 v 18c rested 2h", "take 12.65 v", "12.65 v 18c rested 2h"},
		{"sg 1265 126 1265 1265 1265 1265 15c", "take 1260", "sg 1265 1260 1265 1265 1265 1265 15c"},
		{"sg 1265 -15 1265 1265 1265 1265", "take 1250", "sg 1265 1250 1265 1265 1265 1265"},
		{"325a 15s 9.4v", "take load 325a 15s 9.4v", "load 325a 15s 9.4v"},
	} {
		p.do(p.Fill("Reading line", c.typed))
		p.tap(c.offer)
		p.do(p.Until(fmt.Sprintf(`document.querySelector('[aria-label="Reading line"]').value === %q`, c.then)))
	}
	p.do(p.Until(`document.querySelectorAll('[aria-label="Readings"] > li').length === 3`))
}

// TestBenchByKeyboard reaches a sum, changes it and leaves it with the keys
// alone.
func TestBenchByKeyboard(t *testing.T) {
	p := come(t, 1280, 800)
	p.bench("Edda Brandreth")
	p.do(p.Until(`(document.querySelector('main input[type=search]').focus(), true)`))
	p.do(p.Type("fuse m"))
	p.do(p.Until(`document.querySelectorAll('main li a').length === 1`))
	p.do(p.Type(browser.Tab + browser.Enter))
	p.see("through the fuse", "250 mA")
	p.do(p.Until(`(document.querySelector('#in-millivolts').focus(), document.querySelector('#in-millivolts').select(), true)`))
	p.do(p.Type("0,1"))
	p.see("21 mA")
	p.do(p.Type(browser.Tab))
	p.do(p.Until(`document.activeElement?.id === 'in-asleep_min'`))
	p.do(p.Until(`location.search.includes('millivolts=0%2C1')`))
	if _, err := browser.JS[bool](p.Page, `(document.activeElement.blur(), true)`); err != nil {
		t.Fatal(err)
	}
	p.do(p.Type("t"))
	p.see("worst first")
}
