package charging

import (
	"cmp"
	"fmt"
	"io"
	"slices"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/field"
	"grapnel/core/quantity"
	"grapnel/core/reading"
)

// Where a battery is charged.
const (
	InVehicle = "in_vehicle"
	OnBench   = "bench"
)

// Until what it is charged.
const (
	Testable = "testable"
	Full     = "full"
	Equalise = "equalise"
)

// Untils lists until what a battery may be charged.
func Untils() []string { return []string{Testable, Full, Equalise} }

// Ask is one charge that is asked about.
type Ask struct {
	Label battery.Label
	// Charge is the charge before it; nil where Readings tell it.
	Charge *battery.Charge
	// Case holds the readings, the label and the vehicle, for what they say of the charge
	// and of what forbids one.
	Case evidence.Case
	// BatteryC and AirC are temperatures; nil for not said.
	BatteryC, AirC *quantity.Celsius
	// Where is InVehicle or OnBench; empty for not said.
	Where string
	// Until is Testable, Full or Equalise.
	Until string
	// Attended tells that somebody looks after it.
	Attended bool
	// Charger is the one it is planned with; nil for one that is kind to it.
	Charger *Charger
	// Chargers are the others of the shop, to set beside it.
	Chargers []Charger
	// Log are the checks of the charge that runs, in order.
	Log []reading.Reading
}

// Ranges of a charger's figures: plausibility only (common practice, no source).
const (
	leastAmps, mostAmps = 0.05, 400
	leastVolt, mostVolt = 3, 40
	wakeMost            = 30
	namesMost           = 60
)

// Decode reads a charge that is asked about as JSON. Every problem is listed with the
// path of its field.
func Decode(in io.Reader) (Ask, error) {
	o, err := field.Read(in, "charge", "{\"battery\": {…}, \"charge\": {\"percent\": …}}")
	if err != nil {
		return Ask{}, err
	}
	a := askFrom(o)
	o.Close()
	return a, o.Err()
}

func askFrom(o *field.Object) Ask {
	a := Ask{Label: evidence.TakeLabel(o, "battery"), Until: Full, Attended: true}
	a.Charge = TakeCharge(o, "charge")
	a.Case = evidence.Case{Label: a.Label}
	readings := evidence.TakeReadings(o, "readings", a.Label)
	a.Case.Readings = evidence.Untimed(readings...)
	if a.Charge == nil && readings == nil {
		o.Missing("charge", "{\"percent\": 0 to 100}, or readings")
	}
	a.BatteryC = TakeCelsius(o, "battery_c")
	a.AirC = TakeCelsius(o, "air_c")
	a.Where = o.Code("where", []string{InVehicle, OnBench})
	a.Case.Vehicle = evidence.TakeVehicle(o, "vehicle")
	a.Until = TakeUntil(o, "until")
	if attended := o.Flag("attended"); attended != nil {
		a.Attended = *attended
	}
	if c, missing := TakeCharger(o, "charger"); !missing {
		a.Charger = &c
	}
	o.Each("chargers", "[{\"id\": …, \"kind\": …, \"amps\": …}]", func(item *field.Object) {
		id := item.Text("id", NameForm, IsName)
		item.Missing("id", NameForm)
		c := chargerFrom(item)
		c.ID = id
		item.Close()
		a.Chargers = append(a.Chargers, c)
	})
	a.Log = takeLog(o, a.Label)
	return a
}

// NameForm says what a name may be.
var NameForm = fmt.Sprintf("1 to %d characters", namesMost)

// IsName reports a name that a charger, a place or a battery may have.
func IsName(s string) bool { return s != "" && len([]rune(s)) <= namesMost }

// TakeUntil takes until what a battery is charged, Full where it is not said.
func TakeUntil(o *field.Object, key string) string {
	return cmp.Or(o.Code(key, Untils()), Full)
}

// TakeCharge takes a charge with its band; one without a band is taken as it stands.
func TakeCharge(o *field.Object, key string) *battery.Charge {
	inner, missing := o.Under(key)
	if missing {
		return nil
	}
	inner.Missing("percent", "0 to 100 %")
	percent := inner.Number("percent", 0, 100, "%")
	low, high := inner.Number("low", 0, 100, "%"), inner.Number("high", 0, 100, "%")
	inner.Close()
	if percent == nil {
		return &battery.Charge{}
	}
	c := battery.Charge{Percent: *percent, Low: *percent, High: *percent}
	if low != nil {
		c.Low = min(*low, *percent)
	}
	if high != nil {
		c.High = max(*high, *percent)
	}
	return &c
}

// TakeCelsius takes the temperature of a battery or of air; nil where it is missing.
func TakeCelsius(o *field.Object, key string) *quantity.Celsius {
	x := o.Number(key, -60, 80, "°C")
	if x == nil {
		return nil
	}
	at := quantity.Celsius(*x)
	return &at
}

// TakeCharger takes a charger; the zero one, and true, where it is missing.
func TakeCharger(o *field.Object, key string) (c Charger, missing bool) {
	inner, missing := o.Under(key)
	if missing {
		return c, true
	}
	c = chargerFrom(inner)
	inner.Close()
	return c, false
}

func chargerFrom(o *field.Object) Charger {
	c := Charger{Kind: ChargerKind(o.Code("kind", Kinds()))}
	o.Missing("kind", "one of the kinds of charger")
	c.Amps = takeSteps(o)
	if v := o.Number("volts", leastVolt, mostVolt, "V"); v != nil {
		volts := quantity.Volts(*v)
		c.Volts = &volts
	}
	for _, code := range o.Codes("settings", battery.Chemistries()) {
		c.Settings = append(c.Settings, battery.Chemistry(code))
	}
	if v := o.Number("wake_v", 0, wakeMost, "V"); v != nil {
		volts := quantity.Volts(*v)
		c.WakeV = &volts
	}
	if yes := o.Flag("compensates"); yes != nil {
		c.Compensates = *yes
	}
	return c
}

// takeSteps takes a current or the list of a charger's steps, in rising order.
func takeSteps(o *field.Object) []quantity.Amperes {
	const allowed = "0.05 to 400 A, or a list of them"
	value := o.Take("amps")
	o.Missing("amps", allowed)
	list, ok := value.([]any)
	if !ok && value != nil {
		list = []any{value}
	}
	var steps []quantity.Amperes
	for _, item := range list {
		x, ok := item.(float64)
		if !ok || x < leastAmps || x > mostAmps {
			o.Fault("problem.range", "amps", item, allowed)
			continue
		}
		steps = append(steps, quantity.Amperes(x))
	}
	if value != nil && len(steps) == 0 && len(list) == 0 {
		o.Fault("problem.range", "amps", value, allowed)
	}
	slices.Sort(steps)
	return slices.Compact(steps)
}

// takeLog takes the checks of a charge, which are charge_log readings with the minutes
// since it began, rising.
func takeLog(o *field.Object, l battery.Label) []reading.Reading {
	list := evidence.TakeReadings(o, "log", l)
	last := 0.0
	for i, r := range list {
		at := fmt.Sprintf("log[%d]", i)
		if r.Kind != reading.ChargeLog {
			o.Fault("problem.code", at+".kind", string(r.Kind), string(reading.ChargeLog))
			continue
		}
		minutes, said := r.Number(reading.Minutes)
		switch {
		case !said:
			o.Fault("problem.missing", at+".minutes", nil, "minutes since this charge began")
		case minutes < last:
			o.Fault("problem.range", at+".minutes", minutes, fmt.Sprintf("%g min or more, as the check before it", last))
		}
		last = max(last, minutes)
	}
	return list
}
