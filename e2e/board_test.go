package e2e_test

import (
	"fmt"
	"testing"

	"grapnel/e2e/browser"
)

// standsAt waits until the board has a job's block in a lane.
func (p *person) standsAt(plate, lane string) {
	p.t.Helper()
	p.do(p.Until(fmt.Sprintf(`[...document.querySelectorAll('[data-lane=%q] a')].some(a => a.innerText.includes(%q))`, lane, plate)))
}

// placed counts the jobs of a plate that stand at a place, in the database.
const placed = `SELECT COUNT(*) FROM job JOIN vehicle ON vehicle.id = job.vehicle_id
	JOIN place ON place.id = job.place_id WHERE vehicle.plate = ? AND place.name = ?`

// TestBoardByKeyboard takes a job from one bay to another with the keys alone, hears what
// happens, takes it back, and follows the block's link with Enter.
func TestBoardByKeyboard(t *testing.T) {
	shop, p := comeIn(t, 1280, 800, "Mara Ostwick")
	p.standsAt("WS 204 K", "Bay 2")
	p.tabTo("WS 204 K")
	p.do(p.Type(" "))
	p.heard("WS 204 K over Bay 2.")
	p.do(p.Drawn()) // it listens to the arrows from then on
	p.do(p.Type(browser.Down))
	p.heard("WS 204 K over Bay 3.")
	p.do(p.Type(browser.Escape))
	p.heard("WS 204 K stays.")
	p.standsAt("WS 204 K", "Bay 2")
	p.do(p.Type(" "))
	p.heard("WS 204 K over Bay 2.")
	p.do(p.Drawn()) // it listens to the arrows from then on
	p.do(p.Type(browser.Down))
	p.heard("WS 204 K over Bay 3.")
	p.do(p.Type(" "))
	p.standsAt("WS 204 K", "Bay 3")
	p.see("WS 204 K: Bay 3.")
	// The hand is still on it.
	p.do(p.Until(`document.activeElement?.closest('[data-lane="Bay 3"]') && document.activeElement.innerText.includes('WS 204 K')`))
	has(t, shop, 1, placed, "WS 204 K", "Bay 3")
	p.tap("Undo")
	p.standsAt("WS 204 K", "Bay 2")
	p.see("WS 204 K: Bay 2.")
	// The message of the same name has the focus on the way; and what the server answers to the
	// undoing may lay the block anew: it is looked for again until the focus stays on its link.
	for stays := false; !stays; {
		p.tabTo("WS 204 K")
		p.do(p.Drawn())
		at, err := browser.JS[bool](p.Page, `document.activeElement.matches('[data-lane] a') && document.activeElement.innerText.includes('WS 204 K')`)
		p.do(err)
		stays = at
	}
	p.do(p.Type(browser.Enter))
	p.see("What holds")
	p.do(p.Until(`location.pathname.startsWith('/jobs/')`))
}

// heard waits until the live region has said something.
func (p *person) heard(text string) {
	p.t.Helper()
	p.do(p.Until(fmt.Sprintf(`[...document.querySelectorAll('[aria-live]')].some(e => e.innerText.includes(%q))`, text)))
}

// TestBoardByHand drags a job to another place, without following its link, and once more
// while the server is down: it stands there at once and is sent later.
func TestBoardByHand(t *testing.T) {
	shop, p := comeIn(t, 1280, 800, "Mara Ostwick")
	p.standsAt("WS 204 K", "Bay 2")
	p.do(p.Drag("WS 204 K charge", `[data-lane="Counter"]`))
	p.standsAt("WS 204 K", "Counter")
	p.do(p.Until(`location.pathname === '/'`))
	p.see("WS 204 K: Counter.")
	there, err := shop.Count(t.Context(), placed, "WS 204 K", "Bay 1")
	p.do(err)
	shop.Down()
	p.see("The line is down")
	p.do(p.Drag("WS 204 K charge", `[data-lane="Bay 1"]`))
	p.standsAt("WS 204 K", "Bay 1")
	p.see("1 to be sent")
	p.do(shop.Up())
	p.sent()
	p.standsAt("WS 204 K", "Bay 1")
	has(t, shop, there+1, placed, "WS 204 K", "Bay 1")
	p.accessible("the board")
}

// TestFindFromAnyScreen finds a job, a battery that was here before and the way to bring in
// what is not known, from screens that have no search of their own.
func TestFindFromAnyScreen(t *testing.T) {
	_, p := comeIn(t, 1280, 800, "Mara Ostwick")
	p.do(p.Open("/figures"))
	p.see("Figures and their sources")
	p.do(p.Type("f"))
	p.do(p.Fill("Plate, name or tag", "dun"))
	p.see("the battery and what was read of it", "Bring in dun")
	p.do(p.Type(browser.Enter))
	p.see("What holds", "DUN 48")
	p.do(p.Type("f"))
	p.do(p.Fill("Plate, name or tag", "fenwright"))
	p.see("the battery and what was read of it")
	p.accessible("find")
	p.do(p.Type(browser.Down + browser.Enter))
	p.do(p.Until(`location.pathname.startsWith('/batteries/')`))
	p.do(p.Size(390, 844))
	p.tap("Find")
	p.do(p.Fill("Plate, name or tag", "zz 9"))
	p.tap("Bring in zz 9")
	p.do(p.Until(`location.pathname === '/bring-in' && location.search.includes('zz')`))
}

// TestBackFindsItAsItWas goes to a job far down the list of the day on a phone and back:
// the list is scrolled as it was, and the focus is on the link that led away. A screen that
// is come to anew begins at its top.
func TestBackFindsItAsItWas(t *testing.T) {
	_, p := comeIn(t, 390, 844, "Mara Ostwick")
	last := `[...document.querySelectorAll('section[aria-label="What to do next"] li a')].at(-1)`
	p.do(p.Until(last))
	scrolled, err := browser.JS[float64](p.Page, `(`+last+`.scrollIntoView({block: 'end'}), `+last+`.focus(), scrollY)`)
	p.do(err)
	if scrolled < 100 {
		t.Fatalf("the list does not scroll: %.0f", scrolled)
	}
	p.do(p.Type(browser.Enter))
	p.see("What holds")
	top, err := browser.JS[float64](p.Page, `scrollY`)
	p.do(err)
	if top != 0 {
		t.Errorf("the job begins at %.0f", top)
	}
	p.stage("Look")
	p.stage("Crank power")
	p.do(p.Back())
	p.do(p.Until(`document.querySelector('main h1')?.innerText === 'Look'`))
	p.do(p.Back())
	p.do(p.Back())
	p.see("worst first")
	p.do(p.Until(fmt.Sprintf(`Math.abs(scrollY - %f) < 2 && document.activeElement === %s`, scrolled, last)))
}
