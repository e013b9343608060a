package bench

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/charging"
	"grapnel/core/quantity"
	"grapnel/core/school"
	"grapnel/core/source"
	"grapnel/core/standing"
	"grapnel/core/twin"
	"grapnel/core/wording"
)

// chargeSums are about charging and its air.
var chargeSums = []Sum{
	{
		ID: "charge_time", Group: "charge",
		Inputs: []Input{
			reserve, capacity, percentIn, number("amps", "A", 0.1, 200, "10"), optional(number("amps_hour", "A", 0.1, 200, "")), batteryC,
			chemistry, number("charger_volts", "V", 13, 16, "14.4"),
		},
		Sources: []source.Source{
			source.Common("RC / average amperes; taper average"),
			source.From("Ah missing / average amperes"), source.Common("acceptance when cold"),
			source.From("the model, calibrated from the label").With("cold charging is its least certain part"),
		},
		work: chargeTime,
	},
	{
		ID: "running", Group: "charge",
		Inputs: []Input{
			chemistry, capacity, percentIn, batteryC, number("run", "min", 1, 600, "20"), choice("puller", "car", "car", "mower"),
			only(number("spare_a", "A", 1, 150, "30"), "puller", "car"),
		},
		Sources: []source.Source{
			source.From("the model, calibrated from the label"), source.Common("15 to 20 min outdoors, then read again"),
			source.Recalled("a weak coil adds about 1 Ah in that time; alternators hold 14.2 V"),
		},
		work: running,
	},
	{
		ID: "charge_volts", Group: "charge", Inputs: []Input{chemistry, nominal, choice("caps", "open", "open", "closed"), capacity, batteryC},
		Sources: []source.Source{
			source.Recalled("volts at 25 °C, −3 to −5 mV a cell and kelvin"),
			source.Common("10 % of the ampere-hours; equalising flooded only"),
		},
		work: chargeVolts,
	},
	{
		ID: "charge_check", Group: "charge", Inputs: []Input{capacity, percentIn, number("ah_in", "Ah", 0, 2000, "20"),
			choice("lamp", "full", "full", "not_full")},
		Sources: []source.Source{
			source.Common("full after a third of it: tired, sulphated or badly connected"),
			source.Recalled("charge efficiency"),
		},
		work: chargeCheck,
	},
	{
		ID: "acceptance", Group: "charge", Inputs: []Input{number("charger_volts", "V", 1, 20, "14.4"), capacity, batteryC},
		Sources: []source.Source{source.Common("delay by charger volts; 50 A at 27 °C, under 5 A at −18 °C half charged")},
		work:    acceptance,
	},
	{
		ID: "air", Group: "charge",
		Inputs: []Input{
			choice("chemistry", "flooded", "flooded", "efb", "agm", "gel"),
			nominal, capacity, choice("mode", "boost", charging.Modes()...), only(number("amps", "A", 0.1, 500, "10"), "mode", "unlimited"),
			number("strings", "", 1, 40, "1"), number("room", "m³", 0.1, 10000, "30"),
		},
		Sources: []source.Source{source.By(source.IEC62485)},
		work:    air,
	},
	{
		ID: "maintainer", Group: "charge", Inputs: []Input{capacity, platesIn, number("drain_a", "A", 0, 5, "30ma"), batteryC},
		Sources: []source.Source{source.Common("10 % at most, 1 A enough"), source.From("twice drain and self-discharge")},
		work:    maintainer,
	},
}

// keeps is what stays of a charge in a battery that no more is known of.
func (w *work) keeps() float64 { return battery.Label{}.Keeps(0, false).Value }

func chargeTime(w *work) {
	average := quantity.Amperes(w.number["amps"])
	if later, ok := w.number["amps_hour"]; ok {
		if later > float64(average) {
			w.refuse("amps_hour", wording.Text("allowed.range", wording.Values{"low": "0.1", "high": g(float64(average)), "unit": "A"}))
			return
		}
		average = charging.TaperAverage(average, quantity.Amperes(later))
		w.show("average", float64(average), "A")
	}
	capacity, percent := w.number["capacity_ah"], w.number["percent"]
	hours := charging.WorkshopHours(quantity.Minutes(w.number["reserve_min"]), average, percent)
	missing := battery.AhMissing(capacity, percent, w.keeps())
	w.show("workshop_hours", hours*60, "min").main()
	w.show("missing", float64(missing), "Ah")
	w.show("ah_hours", float64(missing)/float64(average)*60, "min")
	if missing > 0 {
		w.show("times", charging.Margin(hours, average, missing), "")
	}
	w.modelledCharge(average)
	accepts := battery.Acceptance(capacity, w.celsius("battery_c"))
	w.show("accepts", float64(accepts), "A")
	if accepts < average {
		w.say("cold_charge", nil)
	}
	w.words("rate", wording.Word("rate_"+charging.Rate(quantity.Amperes(w.number["amps"]), capacity)))
	w.say("check_every", wording.Values{"minutes": charging.CheckMinutes})
}

// modelledTo is the charge up to which the model's time is given: the last of it
// takes as long again.
const modelledTo = 95

// modelledCharge is the model's own time beside the workshop rule, of a twelve-volt
// battery.
func (w *work) modelledCharge(amps quantity.Amperes) {
	percent := w.number["percent"]
	d, ok := w.setting.Engine.Design(w.label())
	if !ok || percent >= modelledTo {
		return
	}
	f := charging.Model(
		d,
		percent,
		modelledTo,
		twin.Charger{Amps: amps, Volts: quantity.Volts(w.number["charger_volts"])},
		w.celsius("battery_c"),
	)
	shown := w.show("model_time", f.Hours*60, "min").main()
	if f.Reached {
		shown.band(f.Low*60, f.High*60)
	} else {
		shown.Text = wording.Text("sum.over", wording.Values{"value": shown.Text})
		w.say("model_short", nil)
	}
	w.show("model_ah", f.AhIn, "Ah")
	w.draw("h", "%", nil, Line{Label: "charge_modelled", Points: f.Points})
}

// alternatorVolts is what an alternator holds a warm battery at. Value from memory.
const alternatorVolts quantity.Volts = 14.2

// believedMinutes is what a run is widely believed to do: twenty minutes fill a battery. Common
// practice, no source; the model says otherwise.
const believedMinutes = 20.0

// running is what a run of the engine really brings back, against what is believed of it.
func running(w *work) {
	percent, run := w.number["percent"], w.number["run"]
	d, ok := w.setting.Engine.Design(w.label())
	if !ok || percent >= modelledTo {
		w.show("run_percent", percent, "%").main()
		return
	}
	amps := quantity.Amperes(w.number["spare_a"])
	if w.text["puller"] == "mower" {
		amps = quantity.Amperes(charging.CoilAmpereHours(minutesPerHour))
		w.say("coil_weak", wording.Values{"amps": amps})
	}
	f := charging.Model(d, percent, modelledTo, twin.Charger{Amps: amps, Volts: alternatorVolts}, w.celsius("battery_c"))
	reached := at(f.Points, run/minutesPerHour)
	w.show("run_percent", reached, "%").main()
	w.show("run_ah", (reached-percent)/100*w.number["capacity_ah"], "Ah")
	for _, until := range []struct {
		name string
		to   float64
	}{{"run_testable", school.JudgePercent}, {"run_full", modelledTo}} {
		if hours, there := when(f.Points, until.to); there && percent < until.to {
			w.show(until.name, hours*minutesPerHour, "min")
		}
	}
	w.say("run_surface", nil)
	if reached < school.JudgePercent {
		w.say("run_short", nil)
	}
	points := make([][2]float64, len(f.Points))
	for i, p := range f.Points {
		points[i] = [2]float64{p[0] * minutesPerHour, p[1]}
	}
	last := points[len(points)-1][0]
	w.draw("min", "%", mark(run, reached), Line{Label: "run_model", Points: points},
		Line{Label: "run_believed", Points: [][2]float64{{0, percent}, {min(believedMinutes, last), 100}, {last, 100}}})
}

const minutesPerHour = 60

// at is a curve's height at a place, between its points.
func at(points [][2]float64, x float64) float64 {
	for i := 1; i < len(points); i++ {
		if points[i][0] >= x {
			a, b := points[i-1], points[i]
			return a[1] + (x-a[0])/(b[0]-a[0])*(b[1]-a[1])
		}
	}
	return points[len(points)-1][1]
}

// when is where a rising curve has a height; false where it never does.
func when(points [][2]float64, y float64) (float64, bool) {
	for i := 1; i < len(points); i++ {
		if points[i][1] >= y-0.01 {
			a, b := points[i-1], points[i]
			return a[0] + (y-a[1])/max(b[1]-a[1], 1e-9)*(b[0]-a[0]), true
		}
	}
	return 0, false
}

func chargeVolts(w *work) {
	l := w.label()
	at := w.celsius("battery_c")
	v, _ := l.Charging(at)
	w.show("absorption", float64(v.AbsorbLow), "V").band(float64(v.AbsorbLow), float64(v.AbsorbHigh)).main()
	w.show("float", float64(v.FloatLow), "V").band(float64(v.FloatLow), float64(v.FloatHigh))
	if v.EqualiseHigh > 0 {
		w.show("equalise", float64(v.EqualiseLow), "V").band(float64(v.EqualiseLow), float64(v.EqualiseHigh)).waits()
		w.say("equalise_off", nil)
	} else {
		w.say("equalise_never", nil)
	}
	kind, quick := l.Chemistry.ChargeCurrent(w.number["capacity_ah"])
	w.show("kind_current", float64(kind), "A")
	w.show("quick_current", float64(quick), "A")
	low, high := l.CompensationSpread(at)
	w.show("compensation_spread", float64(low), "V").band(float64(low), float64(high))
	lower := curve(-20, 50, func(x float64) float64 { v, _ := l.Charging(quantity.Celsius(x)); return float64(v.AbsorbLow) })
	upper := curve(-20, 50, func(x float64) float64 { v, _ := l.Charging(quantity.Celsius(x)); return float64(v.AbsorbHigh) })
	w.draw("°C", "V", mark(float64(at), float64(v.AbsorbLow+v.AbsorbHigh)/2), Line{Label: "absorption", Points: lower, Upper: upper})
}

func chargeCheck(w *work) {
	missing := float64(battery.AhMissing(w.number["capacity_ah"], w.number["percent"], w.keeps()))
	in := w.number["ah_in"]
	w.show("missing", missing, "Ah").main()
	if missing > 0 {
		w.show("share_in", in/missing*100, "%")
	}
	full := w.text["lamp"] == "full"
	switch {
	case full && in <= school.TooSoonShare*missing:
		w.say("full_early", nil)
	case full && in < missing:
		w.say("full_short", nil)
	case full:
		w.say("full_believed", nil)
	case in > school.TooLateShare*missing:
		w.say("too_much", nil)
	default:
		w.say("goes_on", nil)
	}
}

func acceptance(w *work) {
	volts := quantity.Volts(w.number["charger_volts"])
	w.show("delay", battery.AcceptanceDelay(volts), "h").main()
	at := w.celsius("battery_c")
	capacity := w.number["capacity_ah"]
	w.show("accepts", float64(battery.Acceptance(capacity, at)), "A")
	if !charging.Starts(volts) {
		w.say("charger_refuses", nil)
	}
	w.say("delay_first", nil)
	w.draw(
		"°C",
		"A",
		mark(float64(at), float64(battery.Acceptance(capacity, at))),
		Line{
			Label:  "accepts",
			Points: curve(-20, 30, func(x float64) float64 { return float64(battery.Acceptance(capacity, quantity.Celsius(x))) }),
		},
	)
}

func air(w *work) {
	l := w.label()
	gas := charging.GasAmps(l.Chemistry, w.number["capacity_ah"], quantity.Amperes(w.number["amps"]), w.text["mode"])
	a := charging.AirFor(l.Cells(), gas, int(math.Round(w.number["strings"])), w.number["room"])
	w.show("flow", a.Flow, "m³/h").main()
	w.show("opening", a.Opening, "cm²")
	w.show("clear", a.Clear, "m")
	w.show("gas", float64(gas)*1000, "mA")
	w.show("hydrogen", a.Hydrogen, "l/h")
	w.show("hydrogen_share", a.SharePercent, "").judge(a.SharePercent < charging.ExplosivePercent)
	w.show("closed", a.HoursClosed, "h")
	w.say("no_spark", wording.Values{"percent": float64(charging.ExplosivePercent)})
}

func maintainer(w *work) {
	m := maintainerFor(w)
	w.show("maintainer_least", float64(m.Least), "A")
	w.show("maintainer", float64(m.Enough), "A").main()
	w.show("maintainer_most", float64(m.Most), "A")
	if m.Short {
		w.say("drain_too_big", nil)
	}
	w.show("connected_days", standing.ConnectedDays, "days")
	w.show("apart_days", standing.ApartDays, "days")
	w.say(
		"maintainer_kinds",
		wording.Values{"amps": standing.SocketMost, "fuse": standing.SocketFuse, "percent": float64(standing.RefillPercent)},
	)
	w.say("disconnect", wording.Values{"low": float64(standing.DisconnectDays), "high": float64(standing.DisconnectMost)})
	w.say("electric_stored", wording.Values{
		"low":  float64(standing.ElectricLow),
		"high": float64(standing.ElectricHigh), "wake": float64(standing.WakeLow), "most": float64(standing.WakeHigh),
		"from": float64(standing.TractionLow), "to": float64(standing.TractionHigh), "days": float64(standing.TractionFullDays),
	})
}
