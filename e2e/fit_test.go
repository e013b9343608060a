package e2e_test

import (
	"fmt"
	"testing"

	"grapnel/e2e/browser"
)

// pick chooses an option of a list by its words.
func (p *person) pick(label, option string) {
	p.t.Helper()
	const choose = `((label, option) => {
		const list = [...document.querySelectorAll('select')].find(e => (e.labels?.[0]?.innerText ?? '').trim() === label && e.getClientRects().length > 0)
		const one = list && [...list.options].find(o => o.text === option)
		if (!one) return false
		Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set.call(list, one.value)
		list.dispatchEvent(new Event('change', { bubbles: true }))
		return true
	})(%q, %q)`
	p.do(p.Until(fmt.Sprintf(choose, label, option)))
}

// measure keeps a drop at the terminals.
func (p *person) measure(where, volts, amps string) {
	p.t.Helper()
	p.pick("Where", where)
	p.do(p.Fill("Volts across it", volts))
	if amps != "" {
		p.do(p.Fill("Amperes, if clamped", amps))
	}
	p.tap("Keep")
	p.do(p.Until(`[...document.querySelectorAll('input')].find(e => e.labels?.[0]?.innerText === 'Volts across it').value === ''`))
}

// change sends a change of the job that is open, as another screen of ours would.
func (p *person) change(path, body string) {
	p.t.Helper()
	const send = `(async () => {
		const job = location.pathname.split('/')[2]
		const page = await (await fetch('/api/jobs/' + job)).json()
		const path = %q.replace('JOB', job).replace('BATTERY', page.batteries[0].id)
		const body = %q.replace('VEHICLE', page.vehicle?.id ?? '')
		const answer = await fetch('/api/' + path, { method: 'PUT', body, headers: { 'content-type': 'application/json' } })
		return answer.ok ? '' : await answer.text()
	})()`
	said, err := browser.JS[string](p.Page, fmt.Sprintf(send, path, body))
	p.do(err)
	if said != "" {
		p.t.Fatal(path, said)
	}
}

// toScreen opens another screen of the job that is open.
func (p *person) toScreen(name string) {
	p.t.Helper()
	job, err := browser.JS[string](p.Page, `location.pathname.split('/')[2]`)
	p.do(err)
	p.do(p.Open("/jobs/" + job + "/" + name))
}

// TestTerminals finds a bad joint at a phone, sees what it costs, says what was seen, and
// proves it: before and after stand beside each other, and the job is not closed meanwhile.
func TestTerminals(t *testing.T) {
	shop, p := comeIn(t, 390, 844, "Jonah Pell")
	p.tap("WS 204 K")
	p.see("What holds")
	p.toScreen("terminals")
	p.see("No joint was measured yet.", "The vehicle maker’s value is not known", "5.6 to 7.9")
	p.measure("Negative clamp", "0,62", "150")
	p.see("Negative clamp costs most: 0.62 V, 93 W.", "Without it the engine turns about", "more than 0.10 V", "4.13 mΩ")
	p.measure("Over the case top", "1.4", "")
	p.see("over the case top, and 0.20 V is clean enough")
	p.pick("Seen there", "corrosion, heavy")
	p.tap("Keep what was seen")
	p.see("Corrosion, minus side, heavy", "Its side is a hint, no proof", "Out of the vehicle", "so that soda reaches no cell")
	p.accessible("the terminals at a phone")
	p.narrow()
	// A wrong figure is kept where it was typed, with what is wrong about it.
	p.do(p.Fill("Volts across it", "99"))
	p.tap("Keep")
	p.see("0 to")
	p.measure("Negative clamp", "0.3", "150")
	p.see("still too high", "It does not close")
	p.measure("Negative clamp", "0.03", "155")
	p.measure("Over the case top", "0.05", "")
	p.see("good again", "Before", "Every joint that was measured is in order")
	has(t, shop, 5, "SELECT COUNT(*) FROM reading WHERE kind IN ('drop', 'case_leak') AND typed LIKE '%v%' AND received_at > NOW() - INTERVAL 1 HOUR AND person_id = (SELECT id FROM person WHERE sign_in = 'jonah')")
	// The order of work begins from here; the rings are given back at refit.
	p.tap("Clean, battery out")
	p.see("Glasses and gloves on")
}

// TestFitting chooses at a desk, is refused a swapped layout, fits one with the cables said to
// reach by nobody, and is kept from handing back while a line is open.
func TestFitting(t *testing.T) {
	shop, p := comeIn(t, 1280, 800, "Mara Ostwick")
	p.tap("QN 77 BT")
	p.see("What holds")
	p.do(p.Type("7"))
	p.tap("What fits, from the stock")
	p.see("Old and new, to scale", "Capstan Heavy NB-11", "fits, with", "Starts this engine down to", "+3 %", "24 mm above")
	p.accessible("what fits")
	p.tap("Capstan Heavy NB-15")
	p.see("The posts lie the other way", "It does not go in.")
	p.tap("reach without a pull")
	p.see("The cables are said to reach")
	p.tap("do not reach")
	p.see("It does not go in.")
	p.tap("Capstan Heavy NB-11")
	// With the keys alone.
	p.tabTo("It is in: write it down")
	p.do(p.Type(browser.Enter))
	p.see("Capstan Heavy NB-11 is fitted", "to recycling", "deposit paid back")
	p.accessible("writing a fitting down")
	p.tap("It is fitted")
	p.see("Fitted: Capstan Heavy NB-11", "to recycling, deposit paid back")
	has(t, shop, 1, "SELECT COUNT(*) FROM stock WHERE gone_how = 'fitted' AND here IS NULL")
	p.tap("Before the keys go back")
	p.see("No clamp turns by hand", "Charging volts read with the new battery in", "The new battery is fitted and written down")
	p.tap("Hand it back")
	p.see("Before it is handed back: No clamp turns by hand")
	p.toScreen("report")
	p.see("Fitted: Capstan Heavy NB-11. The old one to recycling, deposit paid back.")
	p.toScreen("fit")
	p.see("Fitted: Capstan Heavy NB-11")
	p.tap("Take it back")
	p.see("It is in: write it down")
	has(t, shop, 7, "SELECT COUNT(*) FROM stock WHERE here = 1")
}

// TestFitSideTerminals, TestFitStartStop and TestFitMotorcycle see the settings that change
// what fits.
func TestFitSideTerminals(t *testing.T) {
	_, p := comeIn(t, 390, 844, "Mara Ostwick")
	p.tap("PL 88 ORE")
	p.see("What holds")
	p.change("jobs/JOB/batteries/BATTERY/mounting", `{"where": "bonnet", "posts": "side"}`)
	p.change("jobs/JOB/batteries/BATTERY/body", `{"group": "75", "case": "", "length_mm": null, "width_mm": null, "height_mm": null, "layout": "", "terminal": "", "hold_down": "", "vent_side": ""}`)
	p.toScreen("fit")
	p.see("group 75", "To order", "Made with side terminal")
	p.accessible("what fits at a phone")
	p.narrow()
	p.toScreen("terminals")
	p.see("7.9 to 10.2")
	p.tap("in·lbf")
	p.see("70 to 90 in·lbf")
	p.do(p.Fill("The vehicle maker’s value, in·lbf", "80"))
	p.tap("Write down")
	p.see("The vehicle maker’s value: 9.0 N·m (80 in·lbf).")
}

// TestFitStartStop: a car that stops its engine takes no plain flooded one, and its monitor is
// told.
func TestFitStartStop(t *testing.T) {
	_, p := comeIn(t, 1280, 800, "Mara Ostwick")
	p.tap("HL 5 RYE")
	p.see("What holds")
	p.change("jobs/JOB/vehicle", `{"id": "VEHICLE", "plate": "HL 5 RYE", "description": "Small hatchback", "facts": {"kind": "car", "engine": "petrol", "litres": "1.2", "start_stop": true}}`)
	p.toScreen("fit")
	p.tap("Capstan Heavy NB-11")
	p.see("Flooded where at least EFB belongs", "It does not go in.")
	p.tap("Halyard Blue NB-16")
	p.see("It is in: write it down")
	p.tap("It is in: write it down")
	p.tap("into our stock, used")
	p.tap("It is fitted")
	p.see("Fitted: Halyard Blue NB-16")
	p.tap("Before the keys go back")
	p.see("registered with the battery monitor")
	p.do(p.Open("/stock"))
	p.see("LG-0044", "used")
}

// TestFitMotorcycle: nothing of the shelf goes in, and what to order is said.
func TestFitMotorcycle(t *testing.T) {
	_, p := comeIn(t, 1280, 800, "Mara Ostwick")
	p.tap("EX 12 FEN")
	p.see("What holds")
	p.toScreen("fit")
	p.see("The tray was not measured", "fits, if it goes in")
	p.tap("The tray and the cables")
	p.do(p.Fill("Length, mm", "152"))
	p.do(p.Fill("Width, mm", "88"))
	p.do(p.Fill("To bonnet or box, mm", "2000"))
	p.tap("Write down")
	p.see("wants.tray.height_mm")
	p.do(p.Fill("To bonnet or box, mm", "132"))
	p.tap("Write down")
	p.see("Tray 152 × 88 × 132 mm.", "To order", "AGM or better, 12 V", "At most 152 × 88 × 132 mm.")
}

// TestStock takes a battery in, finds it, sells one and takes that back, and prints labels.
func TestStock(t *testing.T) {
	_, p := comeIn(t, 1280, 800, "Edda Brandreth")
	p.tap("Stock")
	p.see("NB-07", "months on the shelf", "Not charged since")
	p.accessible("the stock")
	p.tap("Take one in")
	p.do(p.Fill("Rating, A", "680"))
	p.do(p.Fill("Maker", "Bowsprit"))
	p.tap("Take it in")
	p.see("battery.tag")
	p.do(p.Fill("Our tag", "NB-20"))
	p.pick("Case size", "L3")
	p.do(p.Fill("Price", "129,50"))
	p.tap("Take it in")
	p.see("NB-20", "129.50", "case L3")
	p.do(p.Fill("Find", "bowsprit"))
	p.do(p.Until(`!document.body.innerText.includes('NB-11')`))
	p.tap("NB-20 was charged today")
	p.see("NB-20: charged today.")
	p.tap("NB-20 was sold")
	p.see("NB-20 is sold.")
	p.tap("Undo")
	p.see("NB-20")
	p.do(p.Open("/stock/labels"))
	p.see("NB-20", "NB-07")
	p.accessible("the labels")
	if pages, err := p.PrintedPages(); err != nil || pages != 1 {
		t.Errorf("the labels print on %d pages, %v", pages, err)
	}
}
