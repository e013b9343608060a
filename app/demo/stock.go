package demo

import (
	"context"
	"slices"
	"time"

	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/fitting"
	"grapnel/core/quantity"
)

// stocked is a battery of the demo's stock: how many months ago it was made, and days ago it
// was charged.
type stocked struct {
	tag, maker, size string
	chemistry        battery.Chemistry
	amps             float64
	standard         battery.Standard
	ah               float64
	layout, holdDown string
	months, days     int
	price            int64
}

// stock of the demo: what the van of Tolliver Chandlery may get, what it may not, and what
// stands too long.
func stock() []stocked {
	const right, left = "positive_right", "positive_left"
	return []stocked{
		{"NB-11", "Capstan Heavy", "L4", battery.Flooded, 780, battery.EN, 82, right, fitting.FootAll, 4, 20, 13900},
		{"NB-12", "Halyard Blue", "L4", battery.EFB, 800, battery.EN, 80, right, fitting.FootAll, 2, 20, 17400},
		{"NB-13", "Halyard Blue", "L5", battery.AGM, 850, battery.EN, 92, right, fitting.FootAll, 5, 40, 23900},
		{"NB-14", "Capstan", "L3", battery.Flooded, 720, battery.EN, 72, right, fitting.FootShort, 3, 20, 11900},
		{"NB-15", "Capstan Heavy", "L4", battery.Flooded, 780, battery.EN, 82, left, fitting.FootAll, 3, 20, 13900},
		{"NB-07", "Gardener's Choice", "U1", battery.Flooded, 230, battery.SAE, 28, left, fitting.None, 9, 160, 5900},
		{"NB-16", "Halyard Blue", "L2", battery.EFB, 560, battery.EN, 60, right, fitting.FootAll, 1, 12, 12900},
	}
}

// fillStock takes the demo's own batteries in, and writes down what the van wants.
func (l *loader) fillStock(ctx context.Context) error {
	l.clock = l.start.Add(-12 * day)
	places, err := l.service.Places(ctx, l.owner)
	if err != nil {
		return err
	}
	at := slices.IndexFunc(places, func(p record.Place) bool { return p.Kind == record.Counter })
	for _, s := range stock() {
		i := shop.StockItem{
			Battery: record.Battery{ID: record.NewID(), Tag: s.tag, Maker: s.maker, Label: battery.Label{
				Chemistry: s.chemistry, NominalV: 12, Rating: rated(s.amps, s.standard), CapacityAh: ptr(quantity.AmpereHours(s.ah)),
				Made: l.start.AddDate(0, -s.months, 0).Format("2006-01"),
			}},
			Body:       fitting.Body{Layout: s.layout, Terminal: fitting.Top, HoldDown: s.holdDown, VentSide: fitting.None},
			PriceMinor: &s.price, ChargedOn: l.start.AddDate(0, 0, -s.days).Format(time.DateOnly),
		}
		if at >= 0 {
			i.PlaceID = &places[at].ID
		}
		if i.Body.Case = s.size; s.size == "U1" {
			i.Body.Case, i.Body.Group = "", s.size
		}
		if err := l.service.KeepStock(ctx, l.owner, i); err != nil {
			return err
		}
	}
	l.clock = l.start
	job, err := l.service.LatestJob(ctx, l.owner, "QN 77 BT")
	if err != nil {
		return err
	}
	page, err := l.service.JobPage(ctx, l.owner, job)
	if err != nil {
		return err
	}
	wants := shop.Wants{
		TrayLengthMM: ptr(320.0), TrayWidthMM: ptr(178.0), TrayHeightMM: ptr(214.0), Layout: "positive_right", Terminal: fitting.Top,
		HoldDown: fitting.FootLong, VentSide: fitting.None, TorqueNM: ptr(6.0),
	}
	if err := l.service.KeepWants(ctx, l.owner, job, wants); err != nil {
		return err
	}
	return l.service.KeepBody(ctx, l.owner, job, page.Batteries[0].ID, fitting.Body{Case: "L4", Layout: "positive_right", HoldDown: fitting.FootAll})
}

// greenClamp is a job that was handed back: a bad joint found, cleaned and proved.
func greenClamp() visit {
	return visit{
		plate: "TD 52 ELM", customer: "Perpetua Strand", phone: "0555 0126", vehicle: "Pickup, 1.9 petrol, 2013", tag: "LG-0021", maker: "Capstan",
		kind: evidence.Vehicle{Kind: "car", Engine: "petrol", Litres: ptr(1.9), Earth: "negative"},
		label: battery.Label{
			Chemistry: battery.Flooded, NominalV: 12, Rating: rated(600, battery.EN), CapacityAh: ptr(quantity.AmpereHours(62)), Made: "2023-05", Sealed: ptr(true),
		},
		symptoms: []string{"slow_crank"}, complaint: "Slow to turn, and worse when it is damp.", place: "Bay 2", ago: 16 * day, closedAgo: 15 * day,
		readings: []taken{
			{16*day - time.Hour, "look corrosion negative heavy"}, {16*day - 62*time.Minute, "look oxide positive"},
			{16*day - 70*time.Minute, "12.61 v 12c rested 9h"}, {16*day - 80*time.Minute, "crank 10.4v 4s slow"},
			{16*day - 82*time.Minute, "starter 150a"}, {16*day - 84*time.Minute, "drop negative clamp 0.62v 150a"},
			{16*day - 86*time.Minute, "drop positive clamp 0.18v 150a"}, {16*day - 88*time.Minute, "drop ground strap 0.05v 150a"},
			{16*day - 90*time.Minute, "case 1.4 v"}, {16*day - 3*time.Hour, "drop negative clamp 0.03v 155a"},
			{16*day - 182*time.Minute, "drop positive clamp 0.02v 155a"}, {16*day - 184*time.Minute, "case 0.0 v"},
			{16*day - 186*time.Minute, "crank 10.6v 2s normal"}, {16*day - 4*time.Hour, "load 280a 15s 10.1v"}, {16*day - 245*time.Minute, "running 14.2 v"},
		},
	}
}
