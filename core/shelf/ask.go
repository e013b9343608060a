package shelf

import (
	"fmt"
	"io"
	"slices"
	"time"

	"grapnel/core/charging"
	"grapnel/core/evidence"
	"grapnel/core/field"
)

// How much a shelf may hold, and the ranges of its figures: plausibility only (common
// practice, no source).
const (
	mostBatteries, mostChannels, mostPlaces, mostHands = 200, 60, 60, 400
	mostWatts, mostAir, mostRoom                       = 100_000, 100_000, 100_000
	mostWeight                                         = 1000
)

// Zones finds a time zone by its name.
type Zones func(name string) (*time.Location, error)

// Decode reads a shelf that is asked about as JSON. Every problem is listed with the path
// of its field.
func Decode(in io.Reader, zones Zones) (Ask, error) {
	o, err := field.Read(in, "shelf", "{\"now\": …, \"channels\": […], \"batteries\": […]}")
	if err != nil {
		return Ask{}, err
	}
	a := askFrom(o, zones)
	o.Close()
	return a, o.Err()
}

func askFrom(o *field.Object, zones Zones) Ask {
	a := Ask{Zone: time.UTC}
	o.Missing("now", field.TimeForm)
	if now := o.Time("now"); now != nil {
		a.Now, a.Zone = *now, now.Location()
	}
	o.Text("zone", "the name of a time zone, as Europe/Berlin", func(s string) bool {
		zone, err := zones(s)
		if err == nil {
			a.Zone = zone
		}
		return s != "" && err == nil
	})
	place := ids{o: o, list: "places"}
	o.Each("places", "[{\"id\": …, \"watts\": …}]", func(item *field.Object) {
		a.Places = append(a.Places, Place{
			ID: place.take(item), Watts: item.Number("watts", 0, mostWatts, "W"), AirM3h: item.Number("air_m3h", 0, mostAir, "m³/h"),
			RoomM3: item.Number("room_m3", 0, mostRoom, "m³"),
		})
		item.Close()
	})
	battery := ids{o: o, list: "batteries"}
	o.Each("batteries", "[{\"id\": …, \"battery\": {…}, \"charge\": {…}}]", func(item *field.Object) {
		a.Batteries = append(a.Batteries, takeBattery(item, &battery))
		item.Close()
	})
	channel := ids{o: o, list: "channels"}
	on := map[string]bool{}
	o.Each("channels", "[{\"id\": …, \"charger\": {…}}]", func(item *field.Object) {
		one := Channel{ID: channel.take(item), Place: place.where(item)}
		item.Missing("charger", "{\"kind\": …, \"amps\": …}")
		one.Charger, _ = charging.TakeCharger(item, "charger")
		one.Since = takeSince(item, &battery, a.Now)
		if one.Since != nil && on[one.Since.Battery] {
			item.Fault("problem.taken", "since.battery", one.Since.Battery, "on one channel only")
		}
		if one.Since != nil {
			on[one.Since.Battery] = true
		}
		item.Close()
		a.Channels = append(a.Channels, one)
	})
	for i, one := range a.Batteries {
		if one.Pin != nil && !slices.Contains(channel.taken, one.Pin.Channel) {
			o.Fault("problem.code", fmt.Sprintf("batteries[%d].pin.channel", i), one.Pin.Channel, "an id of channels")
		}
	}
	o.Each("hands", "[{\"from\": …, \"to\": …}]", func(item *field.Object) {
		item.Missing("from", field.TimeForm)
		item.Missing("to", field.TimeForm)
		from, to := item.Time("from"), item.Time("to")
		if from != nil && to != nil && to.Before(*from) {
			item.Fault("problem.range", "to", to.Format(time.RFC3339), "from or later")
		}
		if from != nil && to != nil {
			a.Hands = append(a.Hands, Window{*from, *to})
		}
		item.Close()
	})
	for _, count := range []struct {
		list    string
		n, most int
	}{
		{"batteries", len(a.Batteries), mostBatteries}, {"channels", len(a.Channels), mostChannels},
		{"places", len(a.Places), mostPlaces}, {"hands", len(a.Hands), mostHands},
	} {
		if count.n > count.most {
			o.Fault("problem.range", count.list, float64(count.n), fmt.Sprintf("%d at the most", count.most))
		}
	}
	return a
}

// takeBattery takes one battery that is to be charged, out of its vehicle.
func takeBattery(item *field.Object, battery *ids) Battery {
	one := Battery{ID: battery.take(item), Weight: 1, ReadyBy: item.Time("ready_by"), Standing: item.Time("standing_since")}
	label := evidence.TakeLabel(item, "battery")
	one.Charge = charging.Ask{
		Label: label, Case: evidence.Case{Label: label, Vehicle: evidence.TakeVehicle(item, "vehicle")}, Charge: charging.TakeCharge(item, "charge"),
		BatteryC: charging.TakeCelsius(item, "battery_c"), Where: charging.OnBench, Until: charging.TakeUntil(item, "until"), Attended: true,
	}
	if w := item.Number("weight", 0, mostWeight, ""); w != nil {
		one.Weight = *w
	}
	if pin, missing := item.Under("pin"); !missing {
		pin.Missing("channel", "an id of channels")
		one.Pin = &Pin{Channel: pin.Text("channel", "an id of channels", func(string) bool { return true }), From: pin.Time("from")}
		pin.Close()
	}
	return one
}

// takeSince takes what is on a channel already.
func takeSince(item *field.Object, battery *ids, now time.Time) *Since {
	since, missing := item.Under("since")
	if missing {
		return nil
	}
	since.Missing("battery", "an id of batteries")
	since.Missing("at", field.TimeForm)
	one, at := battery.known(since, "battery"), since.Time("at")
	since.Close()
	if at == nil {
		return nil
	}
	if !now.IsZero() && at.After(now) {
		since.Fault("problem.range", "at", at.Format(time.RFC3339), "now or before")
	}
	return &Since{Battery: one, At: *at}
}

// ids are the names in a list, each once.
type ids struct {
	o     *field.Object
	list  string
	taken []string
}

func (d *ids) take(item *field.Object) string {
	item.Missing("id", charging.NameForm)
	id := item.Text("id", charging.NameForm, charging.IsName)
	if id != "" && slices.Contains(d.taken, id) {
		item.Fault("problem.taken", "id", id, "each id once")
	}
	d.taken = append(d.taken, id)
	return id
}

// where takes the place of a channel, which may be any where no places are given.
func (d *ids) where(item *field.Object) string {
	if len(d.taken) == 0 {
		return item.Text("place", charging.NameForm, charging.IsName)
	}
	return d.known(item, "place")
}

// known takes a name that stands in the list; empty where it is missing.
func (d *ids) known(item *field.Object, key string) string {
	return item.Text(key, "an id of "+d.list, func(s string) bool { return slices.Contains(d.taken, s) })
}
