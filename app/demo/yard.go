package demo

import (
	"context"
	"fmt"
	"slices"
	"time"

	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/standing"
)

// laidUp is something of the demo that stands: what it is, how long ago it was put away, what was
// read then and later.
type laidUp struct {
	visit
	spot, where, care string
	connected         bool
	drain             float64
	mains             *bool
	socket            *standing.Socket
	coldest           *float64
	wanted            int
	note              string
	later             []came
}

// came is somebody who came to it, so long ago.
type came struct {
	ago       time.Duration
	line, did string
}

func label(c battery.Chemistry, volts quantity.Volts, ah float64, r *battery.Rating, sealed bool) battery.Label {
	return battery.Label{Chemistry: c, NominalV: volts, CapacityAh: ptr(quantity.AmpereHours(ah)), Rating: r, Sealed: &sealed}
}

func stood(plate, customer, vehicle, tag, maker string, kind evidence.Vehicle, l battery.Label, ago time.Duration, line string) visit {
	return visit{
		plate: plate, customer: customer, vehicle: vehicle, tag: tag, maker: maker, kind: kind, label: l, symptoms: []string{"preventive"},
		complaint: "To stand over the winter.", ago: ago + time.Hour, closedAgo: ago,
		readings: []taken{{ago + 50*time.Minute, "look none"}, {ago + 40*time.Minute, line}},
	}
}

// yard of the demo: fourteen that stand.
func yard() []laidUp {
	no, yes := ptr(false), ptr(true)
	dead := &standing.Socket{Live: no}
	return []laidUp{
		{
			visit: stood("MOWER D", "Staithe Bowling Green", "Ride-on mower, 0.5 petrol", "LG-0061", "Gardener's Choice", evidence.Vehicle{Kind: "mower", Engine: "petrol", Litres: ptr(0.5)},
				label(battery.Flooded, 12, 28, rated(230, battery.SAE), false), 8*day, "12.38 v 12c rested 20h"),
			spot: "row C", where: standing.Unheated, connected: true, drain: 4, mains: yes, note: "Under the blue sheet.",
		},
		{
			visit: stood("EX 31 OAK", "Wren Abara", "Motorcycle, 900 cc", "LG-0062", "Bowsprit Moto", evidence.Vehicle{Kind: "motorcycle", Engine: "petrol", Litres: ptr(0.9), Earth: "negative"},
				label(battery.AGM, 12, 11, rated(190, battery.SAE), true), 31*day, "12.88 v 16c rested 20h"),
			spot: "heated shed", where: standing.Heated, connected: true, care: standing.Maintain, mains: yes, wanted: 120,
			later: []came{{2 * day, "12.91 v 16c rested 60min", shop.DidLook}},
		},
		{
			visit: stood("DUN 7", "Aldous Fenwright", "Six-volt tourer, 1938", "LG-0063", "Old Wharf", evidence.Vehicle{Kind: "classic", Engine: "petrol", Litres: ptr(1.3), Earth: "positive"},
				battery.Label{Chemistry: battery.Flooded, NominalV: 6, CapacityAh: ptr(quantity.AmpereHours(70)), Alloy: "antimony", Sealed: no}, 40*day, "6.34 v 12c rested 12h"),
			spot: "barn", where: standing.Unheated, care: standing.Apart, mains: no,
		},
		{
			visit: stood("VT 19 SEA", "Isolde Marrick", "Electric hatchback, 2021", "LG-0064", "Capstan Aux", evidence.Vehicle{Kind: "electric", Earth: "negative"},
				label(battery.AGM, 12, 45, nil, true), 12*day, "12.79 v 9c rested 12h"),
			spot: "row A", where: standing.Outdoors, connected: true, care: standing.Visit, mains: yes, wanted: 78, note: "Abroad for three months. Traction pack left at 60 %.",
		},
		{
			visit: stood("BK 21 RUN", "Liesel Marchbanks", "Hybrid estate, 2019", "LG-0065", "Capstan Aux", evidence.Vehicle{Kind: "hybrid", Engine: "petrol", Litres: ptr(1.8), Cranks12V: no, Earth: "negative"},
				label(battery.AGM, 12, 45, nil, true), 20*day, "12.70 v 9c rested 12h"),
			spot: "row A", where: standing.Outdoors, connected: true, care: standing.Wake, mains: no, later: []came{{6 * day, "12.66 v 6c rested 12h", shop.DidLook}},
		},
		{
			visit: stood("QN 40 TUG", "Tolliver Chandlery", "Panel van with a tracker, 2.0 diesel", "LG-0066", "Capstan Heavy", evidence.Vehicle{Kind: "van", Engine: "diesel", Litres: ptr(2.0), Earth: "negative"},
				label(battery.EFB, 12, 75, rated(730, battery.EN), true), 6*day, "12.62 v 8c rested 12h"),
			spot: "row B", where: standing.Outdoors, connected: true, drain: 95, mains: yes, socket: dead, wanted: 40, note: "The tracker may not be switched off.",
		},
		{
			visit: stood("WS 63 JIB", "Ines Calloway", "Convertible, 1.8 petrol, 2008", "LG-0067", "Halyard Blue", evidence.Vehicle{Kind: "car", Engine: "petrol", Litres: ptr(1.8), Earth: "negative"},
				label(battery.Flooded, 12, 60, rated(540, battery.EN), true), 44*day, "12.60 v 14c rested 12h"),
			spot: "row A", where: standing.Outdoors, connected: true, mains: yes, wanted: 130,
		},
		{
			visit: stood("PL 70 BAY", "Jory Tamblyn", "Saloon, 2.0 diesel, 2018", "LG-0068", "Halyard Blue", evidence.Vehicle{Kind: "car", Engine: "diesel", Litres: ptr(2.0), StartStop: yes, Earth: "negative"},
				label(battery.AGM, 12, 70, rated(760, battery.EN), true), 25*day, "12.80 v 12c rested 12h"),
			spot: "row B", where: standing.Outdoors, connected: true, care: standing.BySocket, mains: yes, socket: &standing.Socket{Live: yes, Fuse: ptr(quantity.Amperes(20))},
		},
		{
			visit: stood("FEN 12", "Withy Hall Farm", "Tractor, 2.5 diesel, 1974", "LG-0069", "Capstan Heavy", evidence.Vehicle{Kind: "tractor", Engine: "diesel", Litres: ptr(2.5), Earth: "negative"},
				label(battery.Flooded, 12, 95, rated(720, battery.SAE), false), 50*day, "12.55 v 10c rested 20h"),
			spot: "row D", where: standing.Outdoors, connected: true, mains: no, coldest: ptr(-10.0),
		},
		{
			visit: stood("QUAD 2", "Withy Hall Farm", "Quad, 0.4 petrol", "LG-0070", "Bowsprit Moto", evidence.Vehicle{Kind: "offroad", Engine: "petrol", Litres: ptr(0.4)},
				label(battery.AGM, 12, 14, rated(200, battery.SAE), true), 22*day, "12.72 v 10c rested 12h"),
			spot: "row D", where: standing.Outdoors, connected: true, care: standing.Solar, mains: no,
		},
		{
			visit: stood("HL 88 RIG", "Osric Penhale", "Camper van, 2.2 diesel, 2016", "LG-0071", "Capstan Heavy", evidence.Vehicle{Kind: "van", Engine: "diesel", Litres: ptr(2.2), Earth: "negative"},
				label(battery.Flooded, 12, 80, rated(760, battery.EN), true), 18*day, "12.58 v 9c rested 12h"),
			spot: "row B", where: standing.Outdoors, care: standing.Apart, mains: yes,
		},
	}
}

// bank of the demo: two leisure batteries that came out of a boat, each by itself.
func bank() visit {
	v := visit{
		customer: "Perpetua Strand", tag: "LG-0072", maker: "Capstan Leisure", symptoms: []string{"preventive"}, complaint: "Boat bank, out for the winter.",
		ago: 28*day + time.Hour, closedAgo: 28 * day, label: label(battery.Flooded, 12, 110, nil, false),
		readings: []taken{{28*day + 40*time.Minute, "12.58 v 14c rested 20h"}},
	}
	v.label.DeepCycle = ptr(true)
	return v
}

// fillYard puts away what stands in the demo, and lets somebody come to it.
func (l *loader) fillYard(ctx context.Context) error {
	l.clock = l.start.Add(-60 * day)
	if err := l.service.KeepClimate(ctx, l.owner, shop.OwnClimate{Zone: "cold"}); err != nil {
		return err
	}
	places, err := l.service.Places(ctx, l.owner)
	if err != nil {
		return err
	}
	at := slices.IndexFunc(places, func(p record.Place) bool { return p.Kind == record.Yard })
	for _, y := range yard() {
		if err := l.visit(ctx, y.visit); err != nil {
			return fmt.Errorf("%s: %w", y.plate, err)
		}
		found, err := l.service.FindVehicles(ctx, l.owner, y.plate)
		if err != nil || len(found) != 1 {
			return fmt.Errorf("%s: %d found: %w", y.plate, len(found), err)
		}
		l.clock = l.start.Add(-y.closedAgo)
		in := shop.PutAway{ID: record.NewID(), BatteryID: found[0].Batteries[0].ID, FromAt: l.clock, Said: y.said(l.start)}
		if at >= 0 {
			in.PlaceID = &places[at].ID
		}
		if err := l.putAway(ctx, in, y.later); err != nil {
			return fmt.Errorf("%s: %w", y.plate, err)
		}
	}
	if err := l.fillStore(ctx); err != nil {
		return err
	}
	l.clock = l.start
	_, err = l.service.RefreshStanding(ctx, l.owner.ShopID)
	return err
}

func (y laidUp) said(now time.Time) shop.StandingSaid {
	said := shop.StandingSaid{Spot: y.spot, Where: y.where, Connected: y.connected, Mains: y.mains, Socket: y.socket, ColdestStart: y.coldest, Care: y.care, Note: y.note}
	if y.drain > 0 {
		said.DrainMA = &y.drain
	}
	if y.wanted > 0 {
		said.WantedOn = now.AddDate(0, 0, y.wanted).Format(time.DateOnly)
	}
	return said
}

func (l *loader) putAway(ctx context.Context, in shop.PutAway, later []came) error {
	if err := l.service.PutAway(ctx, l.owner, in); err != nil {
		return err
	}
	for _, c := range later {
		l.clock = l.start.Add(-c.ago)
		if err := l.service.Come(ctx, l.owner, in.ID, shop.Come{ID: record.NewID(), Line: c.line, Did: c.did, At: l.clock}); err != nil {
			return err
		}
	}
	return nil
}

// fillStore lets a bank and one of the shop's own batteries stand in the store.
func (l *loader) fillStore(ctx context.Context) error {
	v := bank()
	l.clock = l.start.Add(-v.ago)
	fitted := record.Fitted{Battery: record.Battery{Tag: v.tag, Maker: v.maker, Label: v.label}, Position: "1"}
	second := fitted
	second.Tag, second.Position = "LG-0073", "2"
	in := shop.BringIn{
		JobID: record.NewID(), Symptoms: v.symptoms, Complaint: v.complaint, Customer: &record.Customer{Name: v.customer}, Batteries: []record.Fitted{fitted, second},
	}
	j, err := l.service.BringIn(ctx, l.owner, in)
	if err != nil {
		return err
	}
	page, err := l.service.JobPage(ctx, l.owner, j.ID)
	if err != nil {
		return err
	}
	store := func(id record.ID, spot string, ago time.Duration, charge *shop.SaidCharge) error {
		l.clock = l.start.Add(-ago)
		said := shop.StandingSaid{Spot: spot, Where: standing.Heated, Mains: ptr(true), Charge: charge}
		return l.putAway(ctx, shop.PutAway{ID: record.NewID(), BatteryID: id, FromAt: l.clock, Said: said}, nil)
	}
	for i, b := range page.Batteries {
		line := v.readings[0].line
		if i == 1 {
			line = "12.41 v 14c rested 20h" // one of the two is behind the other
		}
		l.clock = l.start.Add(-v.readings[0].ago)
		if _, err := l.service.Keep(ctx, l.owner, j.ID, record.Keep{ID: record.NewID(), BatteryID: b.ID, Line: line, TakenAt: l.clock}); err != nil {
			return err
		}
	}
	l.clock = l.start.Add(-v.closedAgo)
	if err := l.handBack(ctx, j.ID); err != nil {
		return err
	}
	for _, b := range page.Batteries {
		if err := store(b.ID, "battery rack", v.closedAgo, nil); err != nil {
			return err
		}
	}
	l.clock = l.start
	stocked, err := l.service.Stock(ctx, l.owner)
	if err != nil {
		return err
	}
	i := slices.IndexFunc(stocked.Rows, func(r shop.StockRow) bool { return r.Battery.Tag == "NB-07" })
	if i < 0 {
		return fmt.Errorf("NB-07 is not in stock")
	}
	charged := l.start.Add(-160 * day)
	return store(stocked.Rows[i].Battery.ID, "stock shelf", 160*day, &shop.SaidCharge{
		ChargeBand: standing.ChargeBand{Percent: 97, Low: 90, High: 100}, At: charged, From: "charged",
	})
}
