package demo

import (
	"context"
	"fmt"
	"slices"
	"time"

	"grapnel/app/instrument"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/core/battery"
	"grapnel/core/charging"
	"grapnel/core/quantity"
)

// setShelfUp writes down the shelf's place and chargers, and hours that hold now, whenever
// the demo is looked at.
func (l *loader) setShelfUp(ctx context.Context) error {
	places, err := l.service.Places(ctx, l.owner)
	if err != nil {
		return err
	}
	at := slices.IndexFunc(places, func(p record.Place) bool { return p.Kind == record.Shelf })
	there := places[at]
	there.Watts, there.RoomM3, there.AirM3h = ptr(1400.0), ptr(45.0), ptr(14.0)
	if err := l.service.KeepPlace(ctx, l.owner, there); err != nil {
		return err
	}
	for _, c := range chargers(there.ID) {
		if err := l.service.KeepCharger(ctx, l.owner, c); err != nil {
			return fmt.Errorf("%s: %w", c.Name, err)
		}
	}
	return l.service.SetHands(ctx, l.owner, hoursAround(l.start))
}

// hoursAround are the usual hours, and where it is another time now ten hours around it, so
// that the demo's shop is open; at night all day, since ten hours around it would reach into
// another.
func hoursAround(now time.Time) []record.Hours {
	london, err := time.LoadLocation("Europe/London")
	if err != nil {
		london = time.UTC
	}
	now = now.In(london)
	from, to := 8, 18
	switch hour := now.Hour(); {
	case hour < 4 || hour > 17:
		from, to = 0, 24
	case hour < 9 || hour > 14:
		from, to = hour-4, hour+6
	}
	out := []record.Hours{}
	for day := 1; day <= 7; day++ {
		out = append(out, record.Hours{Day: day, From: fmt.Sprintf("%02d:00", from), To: fmt.Sprintf("%02d:59", to-1)})
	}
	return out
}

// chargers are those of the shelf.
func chargers(shelf record.ID) []record.Charger {
	wakes := 8.0
	charger := func(name, kind string, channels int, compensates bool, settings []string, amps ...float64) record.Charger {
		return record.Charger{
			ID: record.NewID(), Name: name, Kind: kind, Amps: amps, Settings: settings, Compensates: compensates, PlaceID: &shelf, Channels: channels,
		}
	}
	all := []string{"flooded", "efb", "agm", "gel"}
	out := []record.Charger{
		charger("Shelf 1, 6 A", "multi_stage", 2, true, all, 2, 6),
		charger("Shelf 2, 10 A", "multi_stage", 2, true, all, 4, 10),
		charger("Small, 1 A", "maintainer", 1, false, all, 1),
		charger("Old trolley, 30 A", "taper", 1, false, []string{"flooded"}, 30),
	}
	out[0].WakeV, out[1].WakeV = &wakes, &wakes
	return out
}

// shelved is a battery of the shop's own on the demo's shelf: since when it stands, what was
// read of it, and where it is on, if it is.
type shelved struct {
	tag, maker string
	label      battery.Label
	until      string
	promised   time.Duration
	readings   []taken
	charger    string
	channel    int
	on         time.Duration
	// logged tells that the shop's logger followed it until now, from this charge on.
	logged float64
}

func flooded(ah, amps float64) battery.Label {
	return battery.Label{
		Chemistry: battery.Flooded, NominalV: 12, CapacityAh: ptr(quantity.AmpereHours(ah)), Rating: rated(amps, battery.SAE), Sealed: ptr(false),
	}
}

func sealed(chemistry battery.Chemistry, ah, amps float64) battery.Label {
	l := flooded(ah, amps)
	l.Chemistry, l.Sealed = chemistry, ptr(true)
	return l
}

// onTheShelf is what stands there: one as it should be, one that takes no current, one hot,
// one nearly full, one under the volts its chargers start on, one that cannot be charged,
// one promised too early, and two that wait.
func onTheShelf() []shelved {
	return []shelved{
		{
			tag: "ST-101", maker: "Halyard Blue", label: flooded(55, 540), until: "full", promised: 9 * time.Hour,
			readings: []taken{
				{4 * time.Hour, "12.05 v 16c rested 12h"}, {2*time.Hour + 12*time.Minute, "charge 12.7v 6a 30min cool no gas"},
				{100 * time.Minute, "charge 12.8v 6a 60min cool no gas"}, {40 * time.Minute, "charge 12.9v 5.9a 120min cool no gas"},
			},
			charger: "Shelf 1, 6 A", channel: 1, on: 2*time.Hour + 42*time.Minute,
		},
		{
			tag: "ST-102", maker: "Capstan", label: sealed(battery.AGM, 60, 620), until: "full",
			readings: []taken{
				{5 * time.Hour, "11.7 v 15c rested 20h"}, {70 * time.Minute, "charge 14.6v 0.2a 30min cool no gas"},
				{12 * time.Minute, "charge 14.7v 0.2a 90min cool no gas"},
			},
			charger: "Shelf 1, 6 A", channel: 2, on: 102 * time.Minute,
		},
		{
			tag: "ST-103", maker: "Capstan Heavy", label: flooded(80, 760), until: "full",
			readings: []taken{
				{7 * time.Hour, "12.2 v 17c rested 9h"}, {3 * time.Hour, "charge 13.6v 10a 60min cool no gas"},
				{25 * time.Minute, "charge 14.3v 9.6a 215min hot no gas"},
			},
			charger: "Shelf 2, 10 A", channel: 1, on: 4 * time.Hour,
		},
		{
			tag: "ST-104", maker: "Bowsprit Moto", label: sealed(battery.AGM, 10, 150), until: "full",
			readings: []taken{
				{9 * time.Hour, "12.4 v 17c rested 9h"}, {150 * time.Minute, "charge 13.7v 1a 120min cool no gas"},
				{20 * time.Minute, "charge 14.55v 0.4a 250min cool no gas"},
			},
			charger: "Small, 1 A", channel: 1, on: 270 * time.Minute, logged: 60,
		},
		{tag: "ST-105", maker: "Halyard Blue", label: flooded(45, 420), until: "full", readings: []taken{{2 * time.Hour, "5.9 v 14c rested 30h"}}},
		{
			tag: "ST-106", maker: "Gardener's Choice", label: battery.Label{Chemistry: battery.LiFePO4, NominalV: 12, CapacityAh: ptr(quantity.AmpereHours(8))},
			until: "full", readings: []taken{{time.Hour, "12.9 v 17c rested 9h"}},
		},
		{
			tag: "ST-107", maker: "Old Wharf", label: flooded(70, 680), until: "full", promised: 5 * time.Hour,
			readings: []taken{{3 * time.Hour, "11.95 v 14c rested 12h"}},
		},
		{tag: "ST-108", maker: "Capstan Aux", label: sealed(battery.AGM, 45, 345), until: "testable", readings: []taken{{4 * time.Hour, "12.1 v 15c rested 30h"}}},
		{tag: "ST-109", maker: "Halyard Blue", label: flooded(65, 650), until: "full", readings: []taken{{6 * time.Hour, "12.45 v 15c rested 30h"}}},
	}
}

// fillShelf puts them on the list, and those on their chargers that are. The clocks of their
// looks are taken as heard: a workshop that one comes to look at does not ring from all sides.
func (l *loader) fillShelf(ctx context.Context) error {
	chargers, err := l.service.Chargers(ctx, l.owner)
	if err != nil {
		return err
	}
	for _, one := range onTheShelf() {
		id, battery := record.NewID(), record.NewID()
		l.clock = l.start.Add(-9 * time.Hour)
		ask := shop.AskCharge{
			ID: id, BatteryID: battery, Until: one.until, Weight: 1, Battery: &record.Battery{Tag: one.tag, Maker: one.maker, Label: one.label},
		}
		if one.promised > 0 {
			ask.ReadyBy = ptr(l.start.Add(one.promised).Truncate(time.Minute))
		}
		if err := l.service.AskCharge(ctx, l.owner, ask); err != nil {
			return fmt.Errorf("%s: %w", one.tag, err)
		}
		for i, r := range one.readings {
			if one.charger != "" && i == 1 {
				if err := l.connect(ctx, chargers, id, one); err != nil {
					return fmt.Errorf("%s: %w", one.tag, err)
				}
			}
			l.clock = l.start.Add(-r.ago)
			keep := record.Keep{ID: record.NewID(), Line: r.line, TakenAt: l.clock}
			if err := l.service.KeepOf(ctx, l.owner, record.Subject{BatteryID: &battery}, keep); err != nil {
				return fmt.Errorf("%s: %s: %w", one.tag, r.line, err)
			}
		}
		if one.logged > 0 {
			if err := l.log(ctx, id, one); err != nil {
				return fmt.Errorf("%s: %w", one.tag, err)
			}
		}
	}
	running, err := l.service.Clocks(ctx, l.owner)
	for _, clock := range running.Clocks {
		if clock.JobID == nil && err == nil {
			err = l.service.StopClock(ctx, l.owner, clock.ID)
		}
	}
	return err
}

func (l *loader) connect(ctx context.Context, chargers []record.Charger, id record.ID, one shelved) error {
	l.clock = l.start.Add(-one.on)
	at := slices.IndexFunc(chargers, func(c record.Charger) bool { return c.Name == one.charger })
	to := record.OnCharger{Output: record.Output{ChargerID: chargers[at].ID, Channel: one.channel}, At: l.clock}
	return l.service.Connect(ctx, l.owner, id, to)
}

// loggerAt is where `grapnel instruments -charger` lets the demo's logger be read when its
// port is 5030.
const loggerAt = "simulator:5030"

// log has the shop's logger have followed a charge until now.
func (l *loader) log(ctx context.Context, id record.ID, one shelved) error {
	l.clock = l.start
	logger := record.Instrument{ID: record.NewID(), Name: "shelf-logger", Kind: shop.Logger, Protocol: shop.LoggerProtocol, Address: loggerAt}
	if err := l.service.KeepInstrument(ctx, l.owner, logger); err != nil {
		return err
	}
	if err := l.service.FollowCharge(ctx, l.owner, id, logger.ID); err != nil {
		return err
	}
	list, err := l.service.Watches(ctx)
	if err != nil {
		return err
	}
	watch := &list[0]
	amps := quantity.Amperes(1)
	bench, err := instrument.NewCharging(one.label, one.logged, demoCelsius, amps, demoVolts, "", 3)
	if err != nil {
		return err
	}
	for at := time.Duration(0); at < one.on; at += loggedEvery {
		seen := bench.Logs()
		watch.Add(charging.TracePoint{Seconds: at.Seconds(), Volts: seen.Volts, Amps: seen.Amps})
		bench.Run(loggedEvery.Minutes())
	}
	me := record.NewID()
	if _, err := l.service.Hold(ctx, id, me, 0); err != nil {
		return err
	}
	if err := l.service.Saw(ctx, me, watch, nil); err != nil {
		return err
	}
	return l.service.UnfollowCharge(ctx, l.owner, id)
}

// How often the demo's logger reads, how warm it is there, and what its charger holds.
const (
	demoVolts   = 14.55
	loggedEvery = 10 * time.Second
	demoCelsius = 17
)
