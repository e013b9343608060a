package e2e_test

import (
	"strings"
	"testing"

	"grapnel/e2e/browser"
)

// lost lists texts that run out of the screen or out of the box they stand in, where
// nobody can scroll to them.
const lost = `[...document.querySelectorAll('body *')].filter(e => {
	const r = e.getBoundingClientRect(), style = getComputedStyle(e)
	const text = [...e.childNodes].some(n => n.nodeType === 3 && n.data.trim() !== '')
	if (!text || (e.innerText ?? '').trim() === '' || r.width <= 1 || style.visibility === 'hidden' || e.closest("a,span,div,p,button")?.offsetWidth <= 1 || e.closest('svg')) return false
	for (let up = e; up; up = up.parentElement) if (/auto|scroll/.test(getComputedStyle(up).overflowX) && up.scrollWidth > up.clientWidth) return false
	return r.right > innerWidth + 1 || r.left < -1 || (/hidden|clip/.test(style.overflowX) && style.textOverflow !== 'ellipsis' && e.scrollWidth > e.clientWidth + 1)
}).map(e => e.innerText.trim().slice(0, 40))`

// TestLargeText walks the job with text twice its size, at the vehicle and at the
// counter: no text runs out of sight, and the line stays in reach.
func TestLargeText(t *testing.T) {
	for _, size := range [][2]int64{{390, 844}, {1280, 800}} {
		p := come(t, size[0], size[1])
		p.do(p.TextSize(32))
		p.tap("Jonah Pell")
		p.see("worst first")
		check := func(where string) {
			t.Helper()
			var gone []string
			// A drawing knows the width it has a frame after it stands.
			for range 20 {
				p.do(p.Drawn())
				var err error
				gone, err = browser.JS[[]string](p.Page, lost)
				p.do(err)
				if len(gone) == 0 {
					return
				}
			}
			t.Errorf("%d px, %s: out of sight: %s", size[0], where, strings.Join(gone, " | "))
		}
		check("today")
		p.tap("WS 204 K")
		p.see("What holds")
		for i, stage := range []string{"Arrive", "Look", "Charge state", "Charge", "Crank power", "Vehicle", "Decide", "Finish"} {
			p.do(p.Type(string(rune('1' + i))))
			p.do(p.Until(`document.querySelector('main h1')?.innerText === '` + stage + `'`))
			check(stage)
		}
		p.do(p.Until(`(r => r.bottom <= innerHeight && r.height > 40)(document.querySelector('[aria-label="Reading line"]').getBoundingClientRect())`))
	}
}

// TestLessMotion asks for no motion: nothing of the page moves by itself.
func TestLessMotion(t *testing.T) {
	p := come(t, 390, 844)
	p.do(p.LessMotion())
	p.tap("Jonah Pell")
	p.see("worst first")
	p.tap("WS 204 K")
	p.see("What holds")
	p.stage("Crank power")
	p.tap("Load on: count")
	p.see("seconds to the reading")
	moving, err := browser.JS[int](p.Page, `document.getAnimations().filter(a => a.playState === 'running').length + [...document.querySelectorAll('body *')].filter(e => parseFloat(getComputedStyle(e).transitionDuration) > 0).length`)
	p.do(err)
	if moving != 0 {
		t.Errorf("%d things move", moving)
	}
}
