package e2e_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"grapnel/e2e"
	"grapnel/e2e/browser"
)

// lies waits until the shelf's board has a battery's block in a channel's lane.
func (p *person) lies(battery, lane string) {
	p.t.Helper()
	p.do(p.Until(fmt.Sprintf(`[...document.querySelectorAll('[data-lane=%q] a')].some(a => a.innerText.includes(%q))`, lane, battery)))
}

// laneOf is the channel that a battery's block lies in.
func (p *person) laneOf(battery string) string {
	p.t.Helper()
	const found = `[...document.querySelectorAll('[data-lane]')].find(l => [...l.querySelectorAll('a')].some(a => a.innerText.includes(%q)))`
	p.do(p.Until(fmt.Sprintf(found, battery)))
	lane, err := browser.JS[string](p.Page, fmt.Sprintf(found, battery)+".dataset.lane")
	p.do(err)
	return lane
}

// order is the lanes from the top of the shelf to its foot.
func (p *person) order() []string {
	p.t.Helper()
	lanes, err := browser.JS[[]string](p.Page, `[...document.querySelectorAll('[data-lane]')].map(e => e.dataset.lane)`)
	p.do(err)
	return lanes
}

// TestShelf shows nine batteries in their states, moves one by hand and one by the keys, says
// what that costs, takes it back, and takes jobs on to the list.
func TestShelf(t *testing.T) {
	shop, p := comeIn(t, 1280, 800, "Mara Ostwick")
	p.tap("Shelf")
	p.see("4 on, 5 waiting", "The battery is hot.", "It takes hardly any current", "Ways to be less late", "lithium battery is charged by its maker", "Fresh air while they charge")
	p.accessible("the shelf")
	// The hour says which channel has room first; it is dragged to another.
	first := p.laneOf("ST-109")
	other, channel := "Shelf 2, 10 A, channel 1", 1
	if first == other {
		other, channel = "Shelf 2, 10 A, channel 2", 2
	}
	p.do(p.Drag("9 ST-109", fmt.Sprintf(`[data-lane=%q]`, other)))
	p.lies("ST-109", other)
	p.see("What was decided by hand", "decided")
	decided := fmt.Sprintf("SELECT COUNT(*) FROM charge WHERE chalk = 9 AND pin_channel = %d", channel)
	has(t, shop, 1, decided)
	p.tap("Undo")
	p.lies("ST-109", first)
	p.tabTo("9 ST-109")
	// What has the focus is scrolled to, and taken up when it stands.
	p.do(p.Until(`(at => (window.at === at ? ++window.same : (window.at = at, window.same = 0)) > 3)(document.activeElement.getBoundingClientRect().top)`))
	p.do(p.Type(" "))
	p.heard("9 ST-109 over ")
	p.do(p.Drawn()) // it listens to the arrows from then on
	// The lanes stand in the order of the list: down or up until it is there. A minute that has
	// gone by since may have given it a lane of its own, above or below the one wanted, which no
	// plan changes while it is held.
	over, lanes := p.laneOf("ST-109"), p.order()
	for at, to := slices.Index(lanes, over), slices.Index(lanes, other); at != to; {
		key, by := browser.Down, 1
		if at > to {
			key, by = browser.Up, -1
		}
		at += by
		p.do(p.Type(key))
		p.heard("9 ST-109 over " + lanes[at] + ".")
	}
	p.do(p.Type(" "))
	p.lies("ST-109", other)
	// What is on is not moved.
	p.do(p.Drag("3 ST-103", `[data-lane="Small, 1 A"]`))
	p.see("take it off first")
	p.lies("ST-103", other)
	p.tap("Put them on the list")
	p.see("4 on, 7 waiting")
	if pages, err := p.PrintedPages(); err != nil || pages < 1 || pages > 2 {
		t.Errorf("the list prints on %d pages, %v", pages, err)
	}
	// The one refusal was meant.
	if len(p.Console) != 1 || !strings.Contains(p.Console[0], "422") {
		t.Errorf("the console says: %s", strings.Join(p.Console, "\n"))
	}
}

// TestShelfOnThePhone puts a battery on and takes another off by thumb, and finds nothing too
// wide or too small.
func TestShelfOnThePhone(t *testing.T) {
	shop, p := comeIn(t, 390, 844, "Jonah Pell")
	p.do(p.Open("/shelf"))
	p.see("ST-103")
	p.narrow()
	p.accessible("the shelf on the phone")
	p.tap("Off")
	p.see("3 is off. Let it rest an hour")
	on, err := shop.Count(t.Context(), "SELECT COUNT(*) FROM charge WHERE open = 1 AND on_at IS NOT NULL")
	if err != nil {
		t.Fatal(err)
	}
	p.tap("On")
	p.see("is on ")
	has(t, shop, on+1, "SELECT COUNT(*) FROM charge WHERE open = 1 AND on_at IS NOT NULL")
}

// TestShelfWithoutTheLine shows the shelf and a charge as they were seen last, and says that
// nothing can be put on or off until the line is back; then it goes on.
func TestShelfWithoutTheLine(t *testing.T) {
	shop, p := atHand(t, 390, 844)
	p.do(p.Open("/shelf"))
	p.tap("ST-104")
	p.see("shelf-logger followed it")
	p.do(p.Open("/shelf"))
	p.see("ST-103")
	shop.Down()
	p.see("The line is down")
	p.do(p.Open("/shelf"))
	p.see("The line is down", "ST-103", "ST-109")
	p.tap("ST-104")
	p.see("shelf-logger followed it", "Charged about")
	p.do(p.Open("/shelf"))
	p.tap("Off")
	p.see("The server cannot be reached.")
	if err := shop.Up(); err != nil {
		t.Fatal(err)
	}
	p.do(p.Until(`!document.body.innerText.includes("The line is down")`))
	p.tap("Off")
	p.see("is off. Let it rest an hour")
}

// shift is a script that puts the page's clock on by what it finds kept.
const shift = `(() => {
	const Real = Date, skew = () => Number(localStorage.getItem('skew') ?? 0)
	window.Date = class extends Real {
		constructor(...said) { if (said.length) super(...said); else super(Real.now() + skew()) }
		static now() { return Real.now() + skew() }
	}
})()`

// later puts the clocks of the workshop and of the page on.
func (p *person) later(shop *e2e.Workshop, by time.Duration) {
	p.t.Helper()
	shop.Later(by)
	_, err := browser.JS[bool](p.Page, fmt.Sprintf(`localStorage.setItem('skew', Number(localStorage.getItem('skew') ?? 0) + %d), true`, by.Milliseconds()))
	p.do(err)
}

// look keeps a check of a charge as a person does: two figures, and the taps that differ.
func (p *person) look(volts, amps string, taps ...string) {
	p.t.Helper()
	p.do(p.Fill("Volts", volts))
	p.do(p.Fill("Amperes", amps))
	p.tap(taps...)
	p.tap("Keep the check")
	p.do(p.Until(`document.querySelector('form[aria-label="A look at it"] input')?.value === ''`))
}

// TestChargeWithSixChecks follows a charge over three hours by six looks: each falls on the
// curve, the time that is left narrows, and it ends with its rest.
func TestChargeWithSixChecks(t *testing.T) {
	shop, p := comeIn(t, 1280, 800, "Mara Ostwick")
	p.do(p.Before(shift))
	p.do(p.Open("/shelf"))
	p.tap("ST-108")
	p.see("Charged about", "Can be tested, 75 %", "Why these volts and amps")
	p.accessible("a charge that is planned")
	p.tap("On Shelf 2, 10 A, channel 2")
	p.see("Look at it again at")
	// 45 Ah AGM at 4 A: figures as the model of the battery has them.
	for i, check := range [][2]string{{"13.0", "4.0"}, {"13.1", "4.0"}, {"13.2", "4.0"}, {"13.4", "4.0"}, {"13.5", "3.9"}, {"13.7", "3.9"}} {
		p.later(shop, 30*time.Minute)
		p.do(p.Open(p.path()))
		p.see("A look is due since")
		p.look(check[0], check[1])
		p.do(p.Until(fmt.Sprintf(`document.querySelectorAll('svg circle').length >= %d`, 2*(i+1))))
	}
	p.see("Ah in, of those to put in")
	p.accessible("a charge that runs")
	p.later(shop, 30*time.Minute)
	p.do(p.Open(p.path()))
	p.look("13.9", "4.0", "hot")
	p.see("The battery is hot.", "charger off before anything else")
	p.do(p.Size(390, 844))
	p.do(p.Drawn())
	p.narrow()
	p.accessible("a charge that is stopped, on the phone")
	p.tap("It is off")
	p.see("8 is off")
}

// path is where the page is.
func (p *person) path() string {
	p.t.Helper()
	path, err := browser.JS[string](p.Page, "location.pathname")
	p.do(err)
	return path
}

// TestSetUpShelf has the owner write down a charger, a place's air and the hours; wrong
// figures are refused where they stand.
func TestSetUpShelf(t *testing.T) {
	shop, p := comeIn(t, 1280, 800, "Mara Ostwick")
	p.do(p.Open("/shelf/set-up"))
	p.see("When somebody is there", "Old trolley, 30 A")
	p.accessible("hours, chargers and places")
	p.tap("One more charger")
	p.do(p.Fill("Name", "Bench supply"))
	p.do(p.Fill("Steps, A", "5 900"))
	p.tap("supply")
	p.tap("Keep the charger")
	p.see("Allowed: 0.1 to 500")
	p.do(p.Fill("Steps, A", "5 20"))
	p.do(p.Fill("Channels", "3"))
	p.tap("Keep the charger")
	p.see("Bench supply", "3 channels")
	has(t, shop, 1, "SELECT COUNT(*) FROM charger WHERE name = 'Bench supply' AND channels = 3")
	p.tap("Take off")
	p.tap("Keep the hours")
	p.see("the shelf is planned anew")
	p.do(p.Open("/shelf"))
	p.see("Bench supply, channel 3")
}
