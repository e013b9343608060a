package standing

import (
	"fmt"
	"io"
	"time"

	"grapnel/core/battery"
	"grapnel/core/charging"
	"grapnel/core/evidence"
	"grapnel/core/field"
	"grapnel/core/quantity"
)

// Kinds of care.
const (
	None      = "none"
	Apart     = "disconnect"
	Bypass    = "bypass"
	TakeIn    = "take_in"
	Maintain  = "maintain"
	BySocket  = "maintain_by_socket"
	Solar     = "solar"
	Visit     = "visit"
	Drive     = "drive"
	Wake      = "wake"
	dateForm  = time.DateOnly
	dateShape = "a date as 2026-11-24"
)

// Kinds lists every kind of care.
func Kinds() []string {
	return []string{None, Apart, Bypass, TakeIn, Maintain, BySocket, Solar, Visit, Drive, Wake}
}

// Ask is one standing battery that is asked about. Nil and empty are not said.
type Ask struct {
	Label   battery.Label
	Charge  *battery.Charge
	Vehicle evidence.Vehicle
	// From is the day it is asked for; zero for today.
	From      time.Time
	Days      int
	Drain     *Drain
	Connected *bool
	Place     string
	Climate   *Climate
	// ColdestStart is the one morning it has to start on; nil for every month's coldest.
	ColdestStart *quantity.Celsius
	// Care are the kinds to compare; empty for all that can apply.
	Care   []string
	Mains  *bool
	Socket *Socket
	// Sun falls on a panel, kWh/m² a day, January first.
	Sun *[monthsOfYear]float64
}

// Socket is the accessory socket of a vehicle. Nil is not known.
type Socket struct {
	// Live tells that it is, with the key off.
	Live *bool             `json:"live"`
	Fuse *quantity.Amperes `json:"fuse_a"`
}

// MostDrain is the largest drain that is taken, mA; it and the others are ranges of what is asked: plausibility only (common practice, no source).
const (
	usualDays    = 180
	mostDays     = 730
	MostDrain    = 20000
	leastAir     = -70
	mostAir      = 60
	leastFuse    = 1
	mostFuse     = 60
	mostSunshine = 12
)

// Decode reads a standing battery that is asked about as JSON. Every problem is listed with
// the path of its field.
func Decode(in io.Reader) (Ask, error) {
	o, err := field.Read(in, "standing", "{\"battery\": {…}, \"charge\": {\"percent\": …}}")
	if err != nil {
		return Ask{}, err
	}
	a := Ask{Label: evidence.TakeLabel(o, "battery"), Charge: charging.TakeCharge(o, "charge"), Vehicle: evidence.TakeVehicle(o, "vehicle"), Days: usualDays}
	a.From = takeDate(o, "from")
	if days := o.Number("days", 1, mostDays, "days"); days != nil {
		a.Days = int(*days)
		if float64(a.Days) != *days {
			o.Fault("problem.type", "days", *days, fmt.Sprintf("whole days, 1 to %d", mostDays))
		}
	}
	a.Drain = takeDrain(o)
	a.Connected = o.Flag("connected")
	a.Place = o.Code("place", Places())
	a.Climate = takeClimate(o)
	if x := o.Number("coldest_start_c", leastAir, mostAir, "°C"); x != nil {
		at := quantity.Celsius(*x)
		a.ColdestStart = &at
	}
	a.Care = o.Codes("care", Kinds())
	a.Mains = o.Flag("mains")
	a.Socket = takeSocket(o)
	if o.Take("sun_kwh_m2") != nil {
		sun := takeMonths(o, "sun_kwh_m2", 0, mostSunshine, "kWh/m²")
		a.Sun = &sun
	}
	o.Close()
	return a, o.Err()
}

// takeDate takes a day; zero where it is missing or wrong.
func takeDate(o *field.Object, key string) time.Time {
	value := o.Take(key)
	if value == nil {
		return time.Time{}
	}
	text, _ := value.(string)
	at, err := time.Parse(dateForm, text)
	if err != nil || at.Year() < 1990 || at.Year() > 2200 {
		o.Fault("problem.type", key, value, dateShape)
		return time.Time{}
	}
	return at
}

// takeDrain takes a figure or a band, in milliamperes.
func takeDrain(o *field.Object) *Drain {
	const allowed = "0 to 20000 mA, or {\"low\": …, \"high\": …}"
	switch x := o.Take("drain_ma").(type) {
	case nil:
		return nil
	case map[string]any:
		inner, _ := o.Under("drain_ma")
		low, high := inner.Number("low", 0, MostDrain, "mA"), inner.Number("high", 0, MostDrain, "mA")
		inner.Missing("low", "0 to 20000 mA")
		inner.Missing("high", "0 to 20000 mA")
		inner.Close()
		if low == nil || high == nil {
			return &Drain{}
		}
		if *low > *high {
			inner.Fault("problem.range", "low", *low, "not above high")
		}
		// The middle of a band that was only bounded.
		return &Drain{quantity.Amperes((*low + *high) / 2 * milli), quantity.Amperes(*low * milli), quantity.Amperes(*high * milli)}
	case float64:
		if amps := o.Number("drain_ma", 0, MostDrain, "mA"); amps != nil {
			d := Measured(quantity.Amperes(*amps * milli))
			return &d
		}
		return &Drain{}
	default:
		o.Fault("problem.type", "drain_ma", x, allowed)
		return &Drain{}
	}
}

// takeClimate takes a zone's name or twelve means and coldest nights.
func takeClimate(o *field.Object) *Climate {
	switch x := o.Take("climate").(type) {
	case nil:
		return nil
	case map[string]any:
		inner, _ := o.Under("climate")
		c := Climate{Monthly: takeMonths(inner, "monthly_c", leastAir, mostAir, "°C"), Coldest: takeMonths(inner, "coldest_c", leastAir, mostAir, "°C")}
		inner.Close()
		for m := range c.Monthly {
			if c.Coldest[m] > c.Monthly[m] {
				inner.Fault("problem.range", fmt.Sprintf("coldest_c[%d]", m), c.Coldest[m], "not above monthly_c")
			}
		}
		return &c
	case string:
		c, _ := FindZone(o.Code("climate", ZoneCodes()))
		return &c
	default:
		o.Fault("problem.type", "climate", x, "a zone's code, or {\"monthly_c\": [12], \"coldest_c\": [12]}")
		return &Climate{}
	}
}

// ZoneCodes lists the names of the climates that have one.
func ZoneCodes() []string {
	out := make([]string, len(zones))
	for i, z := range zones {
		out[i] = z.Code
	}
	return out
}

// takeMonths takes twelve figures, January first.
func takeMonths(o *field.Object, key string, low, high float64, unit string) [monthsOfYear]float64 {
	var out [monthsOfYear]float64
	allowed := fmt.Sprintf("12 figures from %g to %g %s, January first", low, high, unit)
	list, ok := o.List(key, allowed)
	if !ok {
		o.Missing(key, allowed)
		return out
	}
	if len(list) != monthsOfYear {
		o.Fault("problem.type", key, list, allowed)
		return out
	}
	for i, item := range list {
		x, ok := item.(float64)
		if !ok || x < low || x > high {
			o.Fault("problem.range", fmt.Sprintf("%s[%d]", key, i), item, allowed)
			continue
		}
		out[i] = x
	}
	return out
}

func takeSocket(o *field.Object) *Socket {
	inner, missing := o.Under("socket")
	if missing {
		return nil
	}
	s := Socket{Live: inner.Flag("live")}
	if fuse := inner.Number("fuse_a", leastFuse, mostFuse, "A"); fuse != nil {
		amps := quantity.Amperes(*fuse)
		s.Fuse = &amps
	}
	inner.Close()
	return &s
}
