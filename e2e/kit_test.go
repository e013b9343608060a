package e2e_test

import (
	"testing"

	"grapnel/e2e/browser"
)

// TestKit opens the page of the kit at both sizes: axe-core finds nothing serious, a choice
// is made by the arrow keys, and what is said in passing is said.
func TestKit(t *testing.T) {
	_, p := comeIn(t, 1280, 800, "Edda Brandreth")
	for _, size := range []int64{1280, 390} {
		p.do(p.Size(size, 844))
		p.do(p.Open("/kit"))
		p.see("Main", "One or none, dark")
		p.accessible("the kit")
	}
	p.narrow()
	p.tap("Say something")
	p.see("Said once, and gone by itself.")
	p.do(p.Fill("Known, light", "a"))
	p.do(p.Type(browser.Down + browser.Enter))
	p.do(p.Until(`[...document.querySelectorAll('input')].some(i => i.value === 'AGM')`))
}

// overlapping names the texts of one drawing that lie over each other.
const overlapping = `[...document.querySelectorAll('main svg[role=img]')].flatMap(svg => {
	const texts = [...svg.querySelectorAll('text')].filter(t => t.textContent.trim() !== '' && t.getBoundingClientRect().width > 0)
	const level = texts.filter(t => !/rotate/.test(t.getAttribute('transform') || ''))
	return level.flatMap((a, i) => level.slice(i + 1).filter(b => {
		const [r, s] = [a.getBoundingClientRect(), b.getBoundingClientRect()]
		return Math.min(r.right, s.right) - Math.max(r.left, s.left) > 2 && Math.min(r.bottom, s.bottom) - Math.max(r.top, s.top) > 6
	}).map(b => a.textContent + ' | ' + b.textContent))
}).join('; ')`

// TestNamesTouchNothing checks that no two names of a picture lie over each other, at both
// sizes and with text twice as large, and that the arrow keys read its values.
func TestNamesTouchNothing(t *testing.T) {
	_, p := comeIn(t, 1280, 800, "Mara Ostwick")
	// Each picture is drawn anew at both sizes of the screen and of the text.
	look := func(what string) {
		t.Helper()
		for _, size := range []int64{1280, 390} {
			for _, letters := range []int64{16, 32} {
				p.do(p.Size(size, 844))
				p.do(p.TextSize(letters))
				p.do(p.Drawn())
				p.do(p.Until(`document.querySelector('main svg[role=img] text')`))
				text, err := browser.JS[string](p.Page, overlapping)
				if err != nil || text != "" {
					t.Errorf("%s at %d, text %d: %s (%v)", what, size, letters, text, err)
				}
			}
		}
		p.do(p.TextSize(16))
	}
	for _, plate := range []string{"QN 77 BT", "WS 204 K", "BK 90 WET"} {
		p.do(p.Open("/"))
		p.tap(plate)
		p.see("What holds")
		p.do(p.Until(`location.pathname.split('/').length === 5`))
		job, err := browser.JS[string](p.Page, `location.pathname.split('/').slice(0, 4).join('/')`)
		p.do(err)
		for _, stage := range []string{"crank_power", "charge_state"} {
			p.do(p.Open(job + "/" + stage))
			p.do(p.Until(`document.querySelector('main svg[role=img] text')`))
			look(plate + ", " + stage)
		}
	}
	for _, sum := range []string{"freezing", "charge_time"} {
		p.do(p.Open("/sums/" + sum))
		p.do(p.Until(`document.querySelector('main svg[role=img] text')`))
		look(sum)
	}
	p.do(p.Open("/sums/freezing"))
	p.do(p.Until(`(document.querySelector('main svg[tabindex]')?.focus(), document.activeElement.tagName === 'svg')`))
	p.do(p.Type(browser.Right + browser.Right))
	p.see("freezes below")
	p.do(p.Until(`[...document.querySelectorAll('[aria-live]')].some(e => /%: freezes below −\d/.test(e.innerText))`))
}
