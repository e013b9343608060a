package e2e_test

import (
	"testing"

	"grapnel/e2e/browser"
)

// TestChargePlanned opens the charge of a battery, takes one of the shop's chargers and then
// one that may not be, keeps a check that shows a poor contact, and finds what it is and what
// to do; at the counter and on the phone.
func TestChargePlanned(t *testing.T) {
	_, p := comeIn(t, 1280, 800, "Mara Ostwick")
	p.tap("WS 204 K")
	p.see("What holds")
	p.do(p.Type("4"))
	p.see("To put in", "side by side")
	p.tap("Shelf 1, 6 A")
	p.see("6 A, 14.")
	p.accessible("the charge planned")
	p.line("charge 12.6v 1.9a 30min cool", true)
	p.line("charge 12.6v 1.9a 120min cool", true)
	p.do(p.Type(browser.Escape))
	p.do(p.Until(`location.pathname.endsWith('/charge')`))
	p.see("a poor contact between charger and posts", "Put in so far")
	p.do(p.Size(390, 844))
	p.do(p.Drawn())
	p.narrow()
	p.accessible("the charge on the phone")
	p.tap("Old trolley, 30 A")
	p.see("is more than the 29")
}
