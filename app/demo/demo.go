// Package demo loads an invented workshop: the garage of a small canal-side
// boatbuilding town. Every person, plate, maker and customer is made up; every
// verdict in it is drawn by the core from the readings, none is written here.
package demo

import (
	"context"
	"fmt"
	"time"

	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/web"
	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/trail"
)

// secret is the demo's one password; the demo holds nothing worth guarding.
const secret = "four claws hold"

// staff of the demo: the first is the owner.
var staff = []people.Person{
	{Name: "Mara Ostwick", SignIn: "mara", Role: people.Owner},
	{Name: "Jonah Pell", SignIn: "jonah", Role: people.Technician},
	{Name: "Edda Brandreth", SignIn: "edda", Role: people.Counter},
}

// SignIns lists who may sign in to the demo.
func SignIns() []web.DemoPerson {
	out := make([]web.DemoPerson, len(staff))
	for i, p := range staff {
		out[i] = web.DemoPerson{Name: p.Name, SignIn: p.SignIn, Password: secret, Role: string(p.Role)}
	}
	return out
}

// loader brings jobs in as the people of the demo would, at times of its own.
type loader struct {
	service *shop.Service
	owner   people.Person
	start   time.Time
	clock   time.Time
}

// Load fills an empty shop relative to now; one that has people already is left
// as it is.
func Load(ctx context.Context, kept shop.Store, now time.Time) error {
	l := &loader{start: now, clock: now.AddDate(-2, 0, 0)}
	l.service = shop.NewService(kept, func() time.Time { return l.clock })
	needs, err := l.service.NeedsSetUp(ctx)
	if err != nil || !needs {
		return err
	}
	l.owner, err = l.service.SetUp(
		ctx,
		shop.SetUp{
			ShopName: "Lockside Garage, Withy Staithe",
			TimeZone: "Europe/London",
			Name:     staff[0].Name,
			SignIn:   staff[0].SignIn,
			Password: secret,
		},
	)
	if err != nil {
		return fmt.Errorf("demo: %w", err)
	}
	for _, p := range staff[1:] {
		if _, err := l.service.AddPerson(ctx, l.owner, p, secret); err != nil {
			return fmt.Errorf("demo: %w", err)
		}
	}
	if err := l.setShelfUp(ctx); err != nil {
		return fmt.Errorf("demo: %w", err)
	}
	for _, v := range visits() {
		if err := l.visit(ctx, v); err != nil {
			return fmt.Errorf("demo: %s: %w", v.plate, err)
		}
	}
	if err := l.fillShelf(ctx); err != nil {
		return fmt.Errorf("demo: shelf: %w", err)
	}
	if err := l.fillStock(ctx); err != nil {
		return fmt.Errorf("demo: stock: %w", err)
	}
	if err := l.fillYard(ctx); err != nil {
		return fmt.Errorf("demo: yard: %w", err)
	}
	return nil
}

// taken is a reading and how long before now it was taken.
type taken struct {
	ago  time.Duration
	line string
}

// visit is one job of the demo. A second visit names the plate of the first and
// brings the same vehicle and battery in again.
type visit struct {
	plate, customer, phone, vehicle, tag, maker string
	kind                                        evidence.Vehicle
	label                                       battery.Label
	symptoms                                    []string
	complaint, place                            string
	ago                                         time.Duration
	promised                                    time.Duration
	readings                                    []taken
	closedAgo                                   time.Duration
}

func ptr[T any](x T) *T { return &x }

func rated(value float64, standard battery.Standard) *battery.Rating {
	return &battery.Rating{Value: quantity.Amperes(value), Standard: standard}
}

const day = 24 * time.Hour

// visits of the demo, oldest first.
func visits() []visit {
	estate := visit{
		plate: "WS 204 K", customer: "Ines Calloway", phone: "0555 0142", vehicle: "Estate car, 2.0 petrol, 2017", tag: "LG-0031",
		maker: "Halyard Blue",
		kind:  evidence.Vehicle{Kind: "car", Engine: "petrol", Litres: ptr(2.0), Earth: "negative"},
		label: battery.Label{
			Chemistry:  battery.Flooded,
			NominalV:   12,
			Rating:     rated(650, battery.SAE),
			CapacityAh: ptr(quantity.AmpereHours(65)),
			ReserveMin: ptr(quantity.Minutes(110)),
			Made:       "2021-08",
			Sealed:     ptr(false),
		},
	}
	before := estate
	before.ago, before.closedAgo, before.symptoms, before.place = 392*day, 391*day, []string{"preventive"}, "Bay 1"
	before.complaint = "Winter check before the ferry season."
	before.readings = []taken{
		{392*day - time.Hour, "look none"},
		{392*day - 70*time.Minute, "12.61 v 11c rested 9h"},
		{392*day - 80*time.Minute, "load 325a 15s 10.4v"},
	}

	suspected := estate
	suspected.ago, suspected.promised = 2*time.Hour+20*time.Minute, 6*time.Hour
	suspected.symptoms, suspected.place = []string{"slow_crank", "cold_only"}, "Bay 2"
	suspected.complaint = "Turns slowly on cold mornings; jumped twice since October. Was told to buy a new one."
	suspected.readings = []taken{
		{130 * time.Minute, "look none"},
		{120 * time.Minute, "12.24 v 17c rested 2h"},
		{112 * time.Minute, "load 325a 15s 9.3v"},
	}

	return append([]visit{before, greenClamp()}, suspected, wornVan(), diesAgain(), justCharged(), motorcycle(), classic(), mower(), handedBack())
}

func wornVan() visit {
	return visit{
		plate: "QN 77 BT", customer: "Tolliver Chandlery", phone: "0555 0177", vehicle: "Delivery van, 2.3 diesel, 2015", tag: "LG-0018",
		maker: "Capstan Heavy",
		kind:  evidence.Vehicle{Kind: "van", Engine: "diesel", Litres: ptr(2.3), Earth: "negative"},
		label: battery.Label{
			Chemistry:  battery.Flooded,
			NominalV:   12,
			Rating:     rated(760, battery.EN),
			CapacityAh: ptr(quantity.AmpereHours(80)),
			Made:       "2018-02",
			Sealed:     ptr(true),
			EyeFitted:  ptr(true),
		},
		symptoms: []string{"slow_crank"}, complaint: "Slow every morning, charged overnight by the driver.", place: "Bay 1",
		ago: 27 * time.Hour, promised: time.Hour,
		readings: []taken{
			{
				26 * time.Hour,
				"look corrosion positive light",
			}, {25 * time.Hour, "12.31 v 9c rested 10h"}, {25*time.Hour - 5*time.Minute, "load 400a 15s 8.6v"},
			{
				3 * time.Hour,
				"12.63 v 15c rested 3h after charge",
			}, {170 * time.Minute, "load 400a 15s 8.9v"}, {160 * time.Minute, "470/760 cca en"},
		},
	}
}

func diesAgain() visit {
	return visit{
		plate: "PL 88 ORE", customer: "Jory Tamblyn", phone: "0555 0184", vehicle: "Family estate, 1.6 petrol, 2014", tag: "LG-0037",
		maker: "Capstan",
		kind:  evidence.Vehicle{Kind: "car", Engine: "petrol", Litres: ptr(1.6), Earth: "negative"},
		label: battery.Label{
			Chemistry:  battery.Flooded,
			NominalV:   12,
			Rating:     rated(540, battery.SAE),
			CapacityAh: ptr(quantity.AmpereHours(55)),
			ReserveMin: ptr(quantity.Minutes(90)),
			Made:       "2022-04",
			Sealed:     ptr(false),
		},
		symptoms: []string{"dies_again"}, complaint: "Flat again every four or five days. Has had two batteries in two years.", place: "Bay 3",
		ago: 30 * time.Hour, promised: 3 * time.Hour,
		readings: []taken{
			{29 * time.Hour, "trips 4/week 10min"}, {29*time.Hour - time.Minute, "jumps 3 in 60d"}, {28 * time.Hour, "look dirty top"},
			{
				28*time.Hour - 5*time.Minute,
				"11.92 v 12c rested 9h",
			}, {26 * time.Hour, "charge 14.3v 7.8a 60min cool no gas"}, {19 * time.Hour, "charge 14.4v 6.2a 9h warm gas full"},
			{
				5 * time.Hour,
				"12.64 v 15c rested 6h after charge",
			}, {290 * time.Minute, "sg 1265 1262 1265 1260 1262 1265 15c"}, {280 * time.Minute, "load 270a 15s 10.0v"},
			{
				260 * time.Minute,
				"running 14.3 v idle",
			}, {258 * time.Minute, "running 14.2 v raised loads on"}, {255 * time.Minute, "ripple 0.04 v"},
			{
				250 * time.Minute,
				"drop negative clamp 0.06v 140a",
			}, {245 * time.Minute, "case 0.1 v"}, {100 * time.Minute, "drain 210 ma asleep 45min"},
			{80 * time.Minute, "fuse F14 15a 0.8mv asleep 60min"},
		},
	}
}

func justCharged() visit {
	return visit{
		plate: "HL 5 RYE", customer: "Osric Penhale", phone: "", vehicle: "Small hatchback, 1.2 petrol, 2012", tag: "LG-0044",
		maker: "Halyard Blue",
		kind:  evidence.Vehicle{Kind: "car", Engine: "petrol", Litres: ptr(1.2), Earth: "negative"},
		label: battery.Label{
			Chemistry:  battery.Flooded,
			NominalV:   12,
			Rating:     rated(420, battery.SAE),
			CapacityAh: ptr(quantity.AmpereHours(45)),
			Sealed:     ptr(true),
		},
		symptoms: []string{"lights_left_on"}, complaint: "Interior lamp on over the weekend. Straight off the owner's charger.", place: "Shelf",
		ago: 50 * time.Minute, readings: []taken{{25 * time.Minute, "13.05 v 19c since charge"}},
	}
}

func motorcycle() visit {
	return visit{
		plate: "EX 12 FEN", customer: "Wren Abara", phone: "0555 0119", vehicle: "Twin-cylinder motorcycle, 650 cc", tag: "LG-0047",
		maker: "Bowsprit Moto",
		kind:  evidence.Vehicle{Kind: "motorcycle", Engine: "petrol", Litres: ptr(0.65), Earth: "negative"},
		label: battery.Label{
			Chemistry:  battery.AGM,
			NominalV:   12,
			Rating:     rated(180, battery.SAE),
			CapacityAh: ptr(quantity.AmpereHours(12)),
			Sealed:     ptr(true),
		},
		symptoms: []string{"flat_after_storage"}, complaint: "Stood since August.", place: "Shelf",
		ago: 95 * time.Minute, promised: 28 * time.Hour,
		readings: []taken{{85 * time.Minute, "12.42 v 12c rested 20h"}},
	}
}

func classic() visit {
	return visit{
		plate: "DUN 48", customer: "Aldous Fenwright", phone: "0555 0163", vehicle: "Six-volt saloon, 1951", tag: "LG-0009", maker: "Old Wharf",
		kind: evidence.Vehicle{Kind: "classic", Engine: "petrol", Litres: ptr(1.5), Earth: "positive"},
		label: battery.Label{
			Chemistry:  battery.Flooded,
			NominalV:   6,
			Rating:     rated(300, battery.SAE),
			CapacityAh: ptr(quantity.AmpereHours(75)),
			Made:       "2022",
			Sealed:     ptr(false),
		},
		symptoms: []string{"preventive"}, complaint: "Check before it is laid up.", place: "Bay 3",
		ago: 4 * time.Hour, promised: 2 * time.Hour,
		readings: []taken{
			{230 * time.Minute, "look none"},
			{220 * time.Minute, "6.31 v 14c rested 12h"},
			{210 * time.Minute, "load 150a 15s 5.0v"},
		},
	}
}

func mower() visit {
	return visit{
		plate: "MOWER C", customer: "Staithe Bowling Green", phone: "0555 0108", vehicle: "Ride-on mower", tag: "LG-0050",
		maker: "Gardener's Choice",
		kind:  evidence.Vehicle{Kind: "mower", Engine: "petrol", Litres: ptr(0.5)},
		label: battery.Label{
			Chemistry:  battery.Flooded,
			NominalV:   12,
			Rating:     rated(200, battery.SAE),
			CapacityAh: ptr(quantity.AmpereHours(24)),
			Sealed:     ptr(false),
		},
		symptoms: []string{"flat_after_storage"}, complaint: "From the shed; the case looks swollen.", place: "Yard",
		ago: 35 * time.Minute, readings: []taken{{30 * time.Minute, "look bulge"}},
	}
}

func handedBack() visit {
	return visit{
		plate: "BK 90 WET", customer: "Liesel Marchbanks", phone: "0555 0131", vehicle: "Hybrid hatchback, 2020", tag: "LG-0029",
		maker: "Capstan Aux",
		kind:  evidence.Vehicle{Kind: "hybrid", Engine: "petrol", Litres: ptr(1.8), Earth: "negative"},
		label: battery.Label{
			Chemistry:  battery.AGM,
			NominalV:   12,
			Rating:     rated(345, battery.SAE),
			CapacityAh: ptr(quantity.AmpereHours(45)),
			Made:       "2020-05",
			Sealed:     ptr(true),
		},
		symptoms: []string{"odd_warnings"}, complaint: "Brake and drive warnings after a week parked.", place: "Bay 1",
		ago: 9 * time.Hour, closedAgo: 5 * time.Minute,
		readings: []taken{
			{8 * time.Hour, "12.31 v 16c rested 8h"},
			{2 * time.Hour, "12.86 v 18c rested 2h after charge"},
			{110 * time.Minute, "load 172a 15s 10.5v"},
		},
	}
}

// visit brings one job in, keeps its readings and hands it back if it is done.
func (l *loader) visit(ctx context.Context, v visit) error {
	l.clock = l.start.Add(-v.ago)
	in := shop.BringIn{
		JobID: record.NewID(), Symptoms: v.symptoms, Complaint: v.complaint, Place: v.place,
		Customer:  &record.Customer{Name: v.customer, Phone: v.phone},
		Vehicle:   &record.Vehicle{Plate: v.plate, Description: v.vehicle, Vehicle: v.kind},
		Batteries: []record.Fitted{{Battery: record.Battery{Tag: v.tag, Maker: v.maker, Label: v.label}}},
	}
	if v.promised > 0 {
		in.PromisedAt = ptr(l.start.Add(v.promised).UTC().Truncate(time.Minute))
	}
	if err := l.knownBefore(ctx, v.plate, &in); err != nil {
		return err
	}
	j, err := l.service.BringIn(ctx, l.owner, in)
	if err != nil {
		return err
	}
	for _, r := range v.readings {
		l.clock = l.start.Add(-r.ago)
		if _, err := l.service.Keep(ctx, l.owner, j.ID, record.Keep{ID: record.NewID(), Line: r.line, TakenAt: l.clock}); err != nil {
			return fmt.Errorf("%s: %w", r.line, err)
		}
	}
	if v.closedAgo > 0 {
		l.clock = l.start.Add(-v.closedAgo)
		return l.handBack(ctx, j.ID)
	}
	return nil
}

// handBack answers the closing list and hands the job back.
func (l *loader) handBack(ctx context.Context, job record.ID) error {
	page, err := l.service.JobPage(ctx, l.owner, job)
	if err != nil {
		return err
	}
	for _, b := range page.Batteries {
		for _, stage := range b.Work.Stages {
			for _, step := range stage.Steps {
				if !step.Must || step.State != "open" {
					continue
				}
				answer := record.StepAnswer{ID: record.NewID(), BatteryID: b.ID, Code: step.Code, Value: trail.Done}
				if step.Code == "choice" {
					answer.Note = b.Work.Options[0].Code
				}
				if err := l.service.Answer(ctx, l.owner, job, answer); err != nil {
					return err
				}
			}
		}
	}
	return l.service.Close(ctx, l.owner, job)
}

// knownBefore takes a vehicle that has been here before with its battery and
// customer.
func (l *loader) knownBefore(ctx context.Context, plate string, in *shop.BringIn) error {
	found, err := l.service.FindVehicles(ctx, l.owner, plate)
	if err != nil || len(found) == 0 {
		return err
	}
	in.Customer, in.Vehicle, in.Batteries = nil, &found[0].Vehicle, found[0].Batteries
	return nil
}
