package main

import (
	"errors"
	"fmt"

	"grapnel/e2e/browser"
)

// views lists the pictures. The first signs in; the session stays for the rest.
func views() []view {
	return []view{
		{"today", 1280, 800, "light", func(p *browser.Page) error {
			return errors.Join(p.See("Come in as"), p.Tap("Mara Ostwick"), p.See("worst first"), p.Until(`document.querySelector('[data-lane=Rounds] a') !== null`), p.See("Look at"))
		}},
		{"job", 1280, 800, "light", func(p *browser.Page) error {
			return errors.Join(openJob(p, "WS 204 K"), p.Fill("Reading line", "load 325a 15s 10.1v after charge"), p.See("What would hold"))
		}},
		{"shelf", 1280, 800, "light", func(p *browser.Page) error { return errors.Join(p.Open("/shelf"), p.See("Ways to be less late")) }},
		{"charge", 1280, 800, "light", func(p *browser.Page) error {
			return errors.Join(p.Open("/shelf"), p.Tap("ST-104"), p.See("shelf-logger followed it"))
		}},
		{"bring-in", 1280, 800, "light", func(p *browser.Page) error { return errors.Join(p.Open("/bring-in"), p.See("What they say")) }},
		{"battery", 1280, 800, "light", func(p *browser.Page) error {
			return errors.Join(openJob(p, "WS 204 K"), p.Type("1"), p.Tap("Its 1 earlier visit"), p.See("Sat in"))
		}},
		{"report", 1280, 1000, "light", func(p *browser.Page) error {
			return errors.Join(openJob(p, "QN 77 BT"), p.Type("8"), p.Tap("Report to print"), p.See("What would change it"))
		}},
		{"sums", 1280, 800, "light", func(p *browser.Page) error { return errors.Join(p.Open("/sums"), p.See("Load test")) }},
		{"jump", 1280, 800, "light", func(p *browser.Page) error {
			return errors.Join(openJob(p, "HL 5 RYE"), p.Tap("Step by step"), p.Tap("Will it crank?"), p.Tap("Another vehicle"), p.See("Where the volts stay"))
		}},
		{"procedure", 1280, 800, "light", func(p *browser.Page) error {
			return errors.Join(openOrder(p, "HL 5 RYE", 0), onward(p, 12), p.See("Last clamp"))
		}},
		{"terminals", 1280, 800, "light", func(p *browser.Page) error {
			return errors.Join(openKnown(p, "TD 52 ELM", "terminals"), p.See("good again"))
		}},
		{"fit", 1280, 800, "light", func(p *browser.Page) error {
			return errors.Join(openJob(p, "QN 77 BT"), p.Type("7"), p.Tap("What fits, from the stock"), p.See("Will the new one do?"))
		}},
		{"yard", 1280, 800, "light", func(p *browser.Page) error { return errors.Join(p.Open("/yard"), p.See("14 stand")) }},
		{"season", 1280, 800, "light", func(p *browser.Page) error {
			return errors.Join(p.Open("/yard"), p.Tap("MOWER D"), p.See("it freezes here"))
		}},
		{"phone-round", 390, 844, "dark", func(p *browser.Page) error {
			return errors.Join(p.Open("/yard/rounds"), p.Tap("Begin the round"), p.See("Keep, and on"), p.Tap("Skip"), p.TapIn("[data-keypad]", "1"), p.TapIn("[data-keypad]", "2"), p.TapIn("[data-keypad]", "decimal mark"), p.TapIn("[data-keypad]", "4"), p.See("Kept as"))
		}},
		{"stock", 1280, 800, "dark", func(p *browser.Page) error { return errors.Join(p.Open("/stock"), p.See("NB-07")) }},
		{"phone-step", 390, 844, "dark", func(p *browser.Page) error {
			return errors.Join(openOrder(p, "HL 5 RYE", 5), onward(p, 9), p.See("clamp off its post"))
		}},
		{"phone-count", 390, 844, "dark", func(p *browser.Page) error {
			return errors.Join(openJob(p, "WS 204 K"), p.Type("5"), p.Tap("Load on: count"), p.See("seconds to the reading"), p.ScrollUp())
		}},
		{"phone-today", 390, 844, "light", func(p *browser.Page) error { return errors.Join(p.Open("/"), p.See("worst first")) }},
	}
}

func openJob(p *browser.Page, plate string) error {
	return errors.Join(p.Open("/"), p.Tap(plate), p.See("What holds"))
}

// openKnown opens a screen of the latest job of a vehicle that was handed back.
func openKnown(p *browser.Page, plate, screen string) error {
	const find = `(async () => {
		const get = async path => (await fetch('/api' + path)).json()
		const found = await get('/vehicles?q=' + encodeURIComponent(%q))
		const life = await get('/batteries/' + found[0].batteries[0].id)
		return life.visits[0].job_id
	})()`
	job, err := browser.JS[string](p, fmt.Sprintf(find, plate))
	return errors.Join(err, p.Open("/jobs/"+job+"/"+screen))
}

// openOrder begins an order of work of a job, by its place in the list.
func openOrder(p *browser.Page, plate string, at int) error {
	card := fmt.Sprintf("main ul > li:nth-of-type(%d)", at+1)
	way := func() error { return nil }
	if at == 0 {
		way = func() error { return p.TapIn(card, "from another vehicle") }
	}
	return errors.Join(openJob(p, plate), p.Tap("Step by step"), p.See("Drawn for"), way(), p.TapIn(card, "Begin"), p.See("Glasses and gloves on"))
}

// onward does so many steps.
func onward(p *browser.Page, steps int) error {
	for i := 1; i <= steps; i++ {
		here := fmt.Sprintf(`document.querySelector('[role=img][aria-label^="%d of "]') !== null`, i)
		if err := errors.Join(p.Until(here), p.Tap("Done")); err != nil {
			return err
		}
	}
	return p.Until(fmt.Sprintf(`document.querySelector('[role=img][aria-label^="%d of "]') !== null`, steps+1))
}
