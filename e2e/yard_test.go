package e2e_test

import (
	"fmt"
	"strings"
	"testing"

	"grapnel/e2e/browser"
)

// shownRows are the rows of the yard that are to be seen, in their order.
const shownRows = `[...document.querySelectorAll('tbody tr')].filter(r => r.getClientRects().length > 0).map(r => r.querySelector('a').innerText)`

func (p *person) rows(want ...string) {
	p.t.Helper()
	list := fmt.Sprintf("%q", want)
	p.do(p.Until(fmt.Sprintf(`JSON.stringify(%s) === JSON.stringify([%s])`, shownRows, strings.ReplaceAll(strings.Trim(list, "[]"), `" "`, `", "`))))
}

// TestYard filters all that stands as one types, asks who is looked at first on a cold night,
// puts something away by the keys alone, and prints the list with a column for volts.
func TestYard(t *testing.T) {
	_, p := comeIn(t, 1280, 800, "Jonah Pell")
	p.do(p.Type("y"))
	p.see("14 stand", "MOWER D", "now, below 12.4 V", "none in sight")
	p.accessible("the yard")
	p.do(p.Fill("Find", "withy row d"))
	p.rows("FEN 12", "QUAD 2")
	p.see("2 of 14")
	p.do(p.Fill("Find", "nobody"))
	p.see("Nothing that stands is called that.")
	p.do(p.Fill("Find", " "))
	p.do(p.Fill("Low forecast for tonight", "-2O"))
	p.see("A figure, such as -9.")
	p.do(p.Fill("Low forecast for tonight", "−34"))
	p.see("the one to be looked at first tonight on top")
	p.do(p.Until(shownRows + `[0] === 'WS 63 JIB' && document.querySelector('tbody tr').className.includes('bg-oxide-wash')`))
	// The printed list has room for volts, and nothing of what is tapped.
	if pages, err := p.PrintedPages(); err != nil || pages < 1 || pages > 2 {
		t.Errorf("%d pages, %v", pages, err)
	}
	volts := `[...document.querySelectorAll('th')].find(e => e.textContent === 'Volts').getClientRects().length > 0`
	p.do(p.Until(`!(` + volts + `)`))
	p.do(p.AsPrinted(true))
	p.do(p.Until(volts + ` && [...document.querySelectorAll('button, input')].every(e => e.getClientRects().length === 0)`))
	p.do(p.AsPrinted(false))

	// By the keys: the vehicle is found, Enter takes it, the form is filled and sent.
	p.tabTo("Put away")
	p.do(p.Type(browser.Enter))
	p.see("Put something away")
	p.do(p.Fill("Plate, customer, or the tag of a battery in stock", "td 52"))
	p.see("Pickup")
	p.do(p.Type(browser.Enter))
	p.see("The air there")
	p.do(p.Fill("Where in it", "row E"))
	p.do(p.Fill("Drain asleep, if measured", "18"))
	p.do(p.Fill("Charge, if not read", "88"))
	p.do(p.Type(browser.Enter))
	p.see("TD 52 ELM", "row E", "18 mA measured")
	p.accessible("a season")
	// It stands once: a second time it is refused, with what was typed still there.
	p.do(p.Type("y"))
	p.see("15 stand")
	p.tap("Put away")
	p.do(p.Fill("Plate, customer, or the tag of a battery in stock", "td 52"))
	p.see("Pickup")
	p.do(p.Type(browser.Enter))
	p.see("The air there")
	p.do(p.Fill("Where in it", "row F"))
	p.do(p.Type(browser.Enter))
	p.see("not put away already")
	p.do(p.Until(`[...document.querySelectorAll('input')].some(e => e.value === 'row F')`))
	p.accessible("putting away")
}

// TestSeason compares what can be done for one battery: what it comes to left as it is, what
// each care buys, the one that is chosen, what a later reading says of the forecast.
func TestSeason(t *testing.T) {
	shop, p := comeIn(t, 1280, 800, "Jonah Pell")
	p.do(shop.Winter(t.Context()))
	p.do(p.Open("/yard"))
	p.tap("MOWER D")
	p.see("May freeze from", "12.4 V: charge it below this", "it freezes here", "the coldest night of the month", "Over 12 volts it cannot freeze", "Concrete drains it", "A run of the engine fills it", "Tyres")
	first := `document.querySelector('[aria-label="Cares compared"] article')`
	p.do(p.Until(first + `.getAttribute('aria-label') === 'maintainer on clamps or ring leads' && ` + first + `.innerText.includes('never a constant trickle')`))
	p.do(p.Until(`[...document.querySelectorAll('article')].find(a => a.getAttribute('aria-label') === 'driven now and then').innerText.includes('too little')`))
	// The values are read by keyboard.
	p.do(p.Until(`(document.querySelector('svg[role=img]').focus(), document.activeElement.tagName === 'svg')`))
	p.do(p.Type(browser.Right + browser.Right))
	p.do(p.Until(`[...document.querySelectorAll('[aria-live=polite]')].some(e => /charge \d/.test(e.innerText))`))
	p.do(p.TapIn(`article[aria-label="maintainer on clamps or ring leads"]`, "Choose this"))
	p.see("Holds through the season", "Undo")
	p.tap("Undo")
	p.see("May freeze from")
	p.do(p.TapIn(`article[aria-label="disconnected"]`, "Choose this"))
	p.see("Chosen; leave it")
	p.tap("Change")
	p.see("How MOWER D stands")
	p.do(p.Fill("Drain asleep, if measured", "4O"))
	p.see("A figure.")
	p.do(p.Fill("Drain asleep, if measured", "9"))
	p.tap("Keep it")
	p.see("9 mA measured")
	// Somebody comes: far below what was forecast, and it says so.
	p.tap("Somebody came")
	p.do(p.Fill("Reading line", "11.9x v"))
	p.tap("Keep it")
	p.do(p.Until(`document.querySelector('[role=dialog] [role=alert]')`))
	p.do(p.Fill("Reading line", "11.95 v 2c rested 12h"))
	p.tap("Keep it")
	p.see("11.95 v 2c rested 12h", "points below the forecast", "The forecast goes on from here.", "Worked out from its last reading")
	p.tap("11.95 v 2c rested 12h was a mistake")
	p.see("By mistake: kept, and counts no more.")
	p.do(p.Until(`!document.body.innerText.includes('points below the forecast')`))
	p.tap("Take it out")
	p.see("It does not stand any more.", "Bring it in")
	p.tap("It stands on")
	p.see("What to do with it, best first")
}

// TestRoundByThumb works a round at a phone without the line: each card is kept on the device,
// and is in the database once when the line is back.
func TestRoundByThumb(t *testing.T) {
	shop, p := comeIn(t, 390, 844, "Jonah Pell")
	p.tap("Yard")
	p.see("14 stand")
	p.narrow()
	p.tap("Rounds")
	p.see("take along", "charger")
	p.accessible("the rounds at a phone")
	p.narrow()
	stops, err := browser.JS[int](p.Page, `document.querySelectorAll('main section:first-of-type ol li').length`)
	p.do(err)
	p.tap("Begin the round")
	p.see("Should be at", "Keep, and on")
	p.accessible("a card of a round")
	p.narrow()
	shop.Down()
	p.see("The line is down")
	card := `document.querySelector('main section[aria-label] h2').innerText`
	for i, volts := range []string{"12.41", "12.3"} {
		name, err := browser.JS[string](p.Page, card)
		p.do(err)
		for _, digit := range volts {
			key := map[rune]string{'.': "decimal mark"}[digit]
			if key == "" {
				key = string(digit)
			}
			p.do(p.TapIn("[data-keypad]", key))
		}
		p.do(p.Until(fmt.Sprintf(`document.querySelector('[aria-label=Volts]').innerText.includes(%q)`, volts)))
		if i == 1 {
			p.tap("charged in full")
		}
		p.tap("Keep, and on")
		p.do(p.Until(fmt.Sprintf(`%s !== %q`, card, name)))
	}
	p.see(fmt.Sprintf("2/%d", stops))
	p.tap("Skip")
	p.see("2 to be sent")
	p.do(shop.Up())
	p.sent()
	// Two are the demo's own.
	has(t, shop, 2+2, "SELECT COUNT(*) FROM standing_visit")
	p.tap("Leave it")
	p.do(p.Until(fmt.Sprintf(`document.querySelectorAll('main section:first-of-type ol li').length <= %d`, stops-1)))
}

// TestCalendar makes a secret address, reads the calendar through it as a program would, and
// withdraws it.
func TestCalendar(t *testing.T) {
	_, p := comeIn(t, 1280, 800, "Edda Brandreth")
	p.do(p.Open("/yard"))
	p.see("14 stand")
	p.tap("Calendar")
	p.see("Nobody has subscribed yet.")
	p.do(p.Fill("Subscribe: for whom or what", "the counter’s phone"))
	p.tap("Make an address")
	p.see("it is not shown again", "made")
	p.accessible("the calendars")
	address, err := browser.JS[string](p.Page, `document.querySelector('output[aria-label="Secret address"]').innerText`)
	p.do(err)
	const ask = `(async () => { const a = await fetch(%q, { credentials: 'omit', cache: 'no-store' }); return a.status + ' ' + (await a.text()).replaceAll('\r\n ', '') })()`
	text, err := browser.JS[string](p.Page, fmt.Sprintf(ask, address))
	p.do(err)
	for _, want := range []string{"200 BEGIN:VCALENDAR", "VERSION:2.0", "MOWER D", "DTSTART;VALUE=DATE:", "END:VCALENDAR"} {
		if !strings.Contains(text, want) {
			t.Errorf("%s is not in %.300s", want, text)
		}
	}
	if strings.Contains(text, "Calloway") || strings.Count(text, "BEGIN:VEVENT") != 14 {
		t.Errorf("%d events: %.200s", strings.Count(text, "BEGIN:VEVENT"), text)
	}
	p.tap("Withdraw the counter’s phone")
	p.see("Nobody has subscribed yet.")
	text, err = browser.JS[string](p.Page, fmt.Sprintf(ask, address))
	p.do(err)
	if !strings.HasPrefix(text, "404") {
		t.Errorf("withdrawn, and it answers %.100s", text)
	}
}

// TestClimate lets the owner alone keep the climate, and has the forecasts follow.
func TestClimate(t *testing.T) {
	_, p := comeIn(t, 1280, 800, "Jonah Pell")
	p.do(p.Open("/yard"))
	p.see("14 stand")
	p.tap("Climate")
	p.see("The owner keeps the climate.")
	p.do(p.Type(browser.Escape))
	p.tap("JP: Jonah Pell, menu", "Sign out", "Mara Ostwick")
	p.see("worst first")
	p.do(p.Open("/yard"))
	p.see("14 stand")
	p.tap("Climate")
	p.do(p.Fill("Coldest night of Jan", "9"))
	p.see("no night is warmer than its mean")
	p.tap("hot")
	p.accessible("the climate")
	p.tap("Keep it")
	p.do(p.Until(`!document.querySelector('[role=dialog]') && [...document.querySelectorAll('tbody tr')].every(r => !r.innerText.includes('may freeze'))`))
}

// TestBoardZoom shows a week and a season by the keys, opens what stands from the board, and
// has a list by time at a phone.
func TestBoardZoom(t *testing.T) {
	_, p := comeIn(t, 1280, 800, "Jonah Pell")
	lane := func(board, name string) string {
		return fmt.Sprintf(`document.querySelector('[aria-label=%q] [data-lane=%q] a') !== null`, board, name)
	}
	p.see("Due next", "Yard round:")
	p.do(p.Until(lane("Board of the day", "Rounds") + ` && ` + lane("Board of the day", "Shelf 1 · 1")))
	p.do(p.Type("-"))
	p.do(p.Until(lane("Board of the week", "Rounds")))
	p.accessible("the week")
	p.do(p.Type("-"))
	p.do(p.Until(lane("Board of the season", "Yard, row C")))
	p.accessible("the season's board")
	p.do(p.Until(`location.search === '?board=season'`))
	p.do(p.Type("-+"))
	p.do(p.Until(lane("Board of the week", "Rounds")))
	p.do(p.Type("-"))
	p.do(p.Until(lane("Board of the season", "Yard, row C")))
	p.tap("MOWER D")
	p.see("Left as it is")
	p.do(p.Back())
	p.do(p.Until(lane("Board of the season", "Yard, row C")))
	p.do(p.Size(390, 844))
	p.do(p.Open("/"))
	p.see("What to do, by its time", "Yard round:")
	p.narrow()
	p.tap("worst first")
	p.see("What to do, worst first")
}

// TestBeforeStorage puts a mower away at the end of its trail: what readings close is closed, the
// rest is answered by hand.
func TestBeforeStorage(t *testing.T) {
	_, p := comeIn(t, 1280, 800, "Jonah Pell")
	p.do(p.Open("/bring-in?purpose=before_storage&plate=GRASS%207"))
	p.see("What they say")
	p.do(p.Fill("Rating", "230"))
	p.do(p.Type(browser.Enter))
	p.see("GRASS 7", "What holds", "never store a doubtful one")
	p.line("12.66 v 18c rested 3h after charge", true)
	p.do(p.Type(browser.Escape + "8"))
	p.see("A doubtful one is not stored.", "Put it away in the yard")
	p.tap("Put it away in the yard")
	p.see("The air there")
	p.do(p.Fill("Where in it", "shed"))
	p.tap("unheated", "Put it away")
	p.see("Left as it is", "shed, unheated")
}

// BenchmarkYard500 draws five hundred that stand, and filters them, in milliseconds.
func BenchmarkYard500(b *testing.B) {
	p := come(b, 1280, 800)
	p.tap("Mara Ostwick")
	p.see("worst first")
	const fill = `(async () => {
		const put = async (path, body) => { const a = await fetch('/api' + path, { method: 'PUT', body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }); if (!a.ok) throw new Error(await a.text()) }
		const id = () => crypto.randomUUID()
		const one = async i => {
			const battery = id()
			await put('/stock/' + battery, { tag: 'T-' + i, label: { chemistry: 'flooded', nominal_v: 12, capacity_ah: 40 + i % 60 }, body: { group: '', case: '', length_mm: null, width_mm: null, height_mm: null, layout: '', terminal: '', hold_down: '', vent_side: '' } })
			await put('/standing/' + id(), { battery_id: battery, from_at: new Date().toISOString(), said: { spot: 'row ' + i % 20, where: 'outdoors', connected: false, drain_ma: null, mains: null, coldest_start_c: null, care: '', wanted_on: '', note: '' } })
		}
		for (let i = 0; i < 486; i += 6) await Promise.all([0, 1, 2, 3, 4, 5].map(k => one(i + k)))
		return true
	})()`
	_, err := browser.JS[bool](p.Page, fill)
	p.do(err)
	p.do(p.Open("/yard"))
	p.see("500 stand")
	// From the answer in hand to the rows on the screen, and from a key to the rows that are left.
	const draw = `(async () => {
		const rows = () => document.querySelectorAll('tbody a[href^="/yard/"]').length
		const until = async done => { for (let i = 0; i < 800 && !done(); i++) await new Promise(go => setTimeout(go, 1)) }
		document.querySelector('a[href="/sums"]').click()
		await until(() => rows() === 0)
		const begun = performance.now()
		document.querySelector('nav a[href="/yard"]').click()
		await until(() => rows() > 0)
		const first = performance.now() - begun
		await until(() => rows() >= 500)
		return [first, performance.now() - begun]
	})()`
	const filter = `(async () => {
		const field = [...document.querySelectorAll('input')].find(e => e.placeholder.startsWith('Find'))
		const set = text => { Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(field, text); field.dispatchEvent(new Event('input', { bubbles: true })) }
		const shown = () => [...document.querySelectorAll('tbody tr')].filter(r => !r.hidden).length
		set('')
		await new Promise(done => setTimeout(done, 300))
		const begun = performance.now()
		set('T-123')
		while (shown() > 20) await new Promise(done => setTimeout(done, 0))
		const took = performance.now() - begun
		set('')
		return took
	})()`
	var first, drawn, filtered float64
	for b.Loop() {
		times, err := browser.JS[[]float64](p.Page, draw)
		p.do(err)
		first, drawn = first+times[0], drawn+times[1]
		ms, err := browser.JS[float64](p.Page, filter)
		p.do(err)
		filtered += ms
	}
	b.ReportMetric(first/float64(b.N), "ms-first")
	b.ReportMetric(drawn/float64(b.N), "ms-all")
	b.ReportMetric(filtered/float64(b.N), "ms-filtered")
}
