package main

import (
	"errors"

	"grapnel/e2e/browser"
)

// views lists the pictures. The first signs in; the session stays for the rest.
func views() []view {
	return []view{
		{"today", 1280, 800, "light", func(p *browser.Page) error {
			return errors.Join(p.See("Come in as"), p.Tap("Mara Ostwick"), p.See("worst first"), p.See("Bay 1"))
		}},
		{"job", 1280, 800, "light", func(p *browser.Page) error {
			return errors.Join(openJob(p, "WS 204 K"), p.Fill("Reading line", "load 325a 15s 10.1v after charge"), p.See("What would hold"))
		}},
		{"job-dark", 1280, 800, "dark", func(p *browser.Page) error { return errors.Join(openJob(p, "QN 77 BT"), p.See("amperes drawn")) }},
		{"charge-state", 1280, 800, "light", func(p *browser.Page) error {
			return errors.Join(openJob(p, "HL 5 RYE"), p.See("a fail proves nothing here"))
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
		{"vehicle", 1280, 800, "light", func(p *browser.Page) error {
			return errors.Join(openJob(p, "PL 88 ORE"), p.See("Drops over the joints"))
		}},
		{"reading-line", 1280, 800, "light", func(p *browser.Page) error {
			return errors.Join(
				openJob(p, "PL 88 ORE"),
				p.Type("3"),
				p.Fill("Reading line", "drop ground strap 0.12v"),
				p.See("amperes through it"),
			)
		}},
		{"decide", 1280, 800, "light", func(p *browser.Page) error {
			return errors.Join(openJob(p, "QN 77 BT"), p.Type("7"), p.See("The nearest change of one reading"))
		}},
		{"sums", 1280, 800, "light", func(p *browser.Page) error { return errors.Join(p.Open("/sums"), p.See("Load test")) }},
		{"customer", 1280, 1000, "light", func(p *browser.Page) error {
			return errors.Join(
				openJob(p, "QN 77 BT"),
				p.Type("8"),
				p.Tap("Page for the customer"),
				p.See("Why replace it?"),
				p.See("Of a hundred"),
			)
		}},
		{"finish", 1280, 800, "light", func(p *browser.Page) error {
			return errors.Join(openJob(p, "PL 88 ORE"), p.Type("8"), p.See("Before the keys go back"))
		}},
		{"phone-count", 390, 844, "dark", func(p *browser.Page) error {
			return errors.Join(openJob(p, "WS 204 K"), p.Type("5"), p.Tap("Load on: count"), p.See("seconds to the reading"), p.ScrollUp())
		}},
		{"phone-job", 390, 844, "dark", func(p *browser.Page) error {
			return errors.Join(openJob(p, "WS 204 K"), p.Type("1"), p.See("one tap keeps"), p.ScrollUp())
		}},
		{"phone-shelf", 390, 844, "dark", func(p *browser.Page) error { return errors.Join(p.Open("/shelf"), p.See("ST-103")) }},
		{"phone-today", 390, 844, "light", func(p *browser.Page) error { return errors.Join(p.Open("/"), p.See("worst first")) }},
	}
}

func openJob(p *browser.Page, plate string) error {
	return errors.Join(p.Open("/"), p.Tap(plate), p.See("What holds"))
}
