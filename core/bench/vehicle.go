package bench

import (
	"math"
	"strconv"

	"grapnel/core/accuracy"
	"grapnel/core/battery"
	"grapnel/core/circuit"
	"grapnel/core/fitting"
	"grapnel/core/quantity"
	"grapnel/core/school"
	"grapnel/core/source"
	"grapnel/core/standing"
	"grapnel/core/use"
	"grapnel/core/wording"
)

// standingSums are about drains, standing and use.
var standingSums = []Sum{
	{
		ID: "drain_days", Group: "standing",
		Inputs: []Input{
			capacity,
			chemistry,
			only(platesKind, "chemistry", "flooded"),
			number("drain_a", "A", 0, 60, "30ma"),
			number("air_c", "°C", -30, 45, "15"),
			started(percentIn, "100"),
		},
		Sources: []source.Source{
			source.Recalled("self-discharge, doubling every 10 K"),
			source.Common("recharge below 12.4 V"),
			source.Recalled("charge under which no start is trusted"),
		},
		work: drainDays,
	},
	{
		ID: "fuse", Group: "standing", Inputs: []Input{choice("fuse_rating", "15", fuseRatings()...),
			number("millivolts", "mV", 0, 500, "1.2"), optional(number("asleep_min", "min", 0, 10080, "40"))},
		Sources: []source.Source{source.Recalled("cold resistance of blade fuses; makers differ by a tenth or two")},
		work:    fuse,
	},
	{
		ID: "week", Group: "standing",
		Inputs: []Input{
			number("trips", "", 0, 300, "6"),
			number("trip_min", "min", 0, 1440, "9"), number("air_c", "°C", -30, 45, "0"), capacity, platesIn,
			number("drain_a", "A", 0, 5, "25ma"),
		},
		Sources: []source.Source{
			source.Common("0.125 Ah a start; acceptance warm and cold"),
			source.Recalled("band of what a drive puts back"),
		},
		work: week,
	},
}

// wiringSums are about cables, joints and tools.
var wiringSums = []Sum{
	{
		ID: "cable", Group: "wiring",
		Inputs: []Input{
			choice("by", "gauge", "gauge", "area"),
			only(number("gauge", "", -3, 40, "4"), "by", "gauge"), only(number("area", "mm²", 0.1, 240, "25"), "by", "area"),
			number("length", "m", 0.01, 50, "3"),
			number("clamps", "", 0, 8, "4"), number("amps", "A", 0.1, 3000, "200"), number("cable_c", "°C", -40, 105, "20"),
		},
		Sources: []source.Source{source.By(source.IEC60028), source.By(source.ASTMB258), source.Recalled("0.5 to 1 mΩ a clamp")},
		work:    cable,
	},
	{
		ID: "joint", Group: "wiring", Inputs: []Input{choice("where", "negative_clamp", jointPlaces...),
			number("volts", "V", 0, 36, "0.45"), number("amps", "A", 0.1, 3000, "150")},
		Sources: []source.Source{source.Common("joint 0.1 V, ground side 0.2 V, positive side 0.5 V"), source.From("R = V/I, P = V·I")},
		work:    joint,
	},
}

var jointPlaces = []string{
	"positive_clamp",
	"positive_cable",
	"starter_stud",
	"negative_clamp",
	"negative_cable",
	"ground_strap",
	"whole_positive",
	"whole_negative",
	"charge_positive",
	"charge_negative",
}

// fittingSums are about replacing.
var fittingSums = []Sum{
	{
		ID: "torque", Group: "fitting", Inputs: []Input{choice("terminal", "top", fitting.Terminals()...),
			optional(number("torque", "N·m", 0.1, 60, "6"))},
		Sources: []source.Source{source.By(source.BCI), source.Common("wider ranges"), source.From("exact conversion of units")},
		work:    torque,
	},
	{
		ID: "case_size", Group: "fitting", Inputs: []Input{number("tray_length", "mm", 100, 600, "280"),
			number("tray_width", "mm", 100, 300, "180"), number("tray_height", "mm", 100, 400, "200")},
		Sources: []source.Source{source.By(source.EN50342s2), source.Recalled("Battery Council International groups")},
		work:    caseSize,
	},
	{
		ID: "date_code", Group: "fitting", Inputs: []Input{{Name: "date_code", Text: true, Start: "C4"}},
		Sources: []source.Source{source.Common("A is January, M December, I left out; makers differ")},
		work:    dateCode,
	},
}

var sums = concat(stateSums, powerSums, chargeSums, standingSums, wiringSums, fittingSums)

func concat(lists ...[]Sum) []Sum {
	var all []Sum
	for _, list := range lists {
		all = append(all, list...)
	}
	return all
}

func fuseRatings() []string {
	ratings := circuit.FuseRatings()
	list := make([]string, len(ratings))
	for i, r := range ratings {
		list[i] = g(r)
	}
	return list
}

func drainDays(w *work) {
	l := w.label()
	capacity, from, at := w.number["capacity_ah"], w.number["percent"], w.celsius("air_c")
	drain := quantity.Amperes(w.number["drain_a"])
	plates := w.text["plates"]
	if l.Chemistry != battery.Flooded {
		plates = string(l.Chemistry)
	}
	self := battery.SelfDischarge(plates, at)
	recharge, _ := l.ChargeFromVolts(battery.RechargeVolts, battery.TableCelsius)
	days := func(to float64) (float64, bool) { return battery.DaysStanding(capacity, drain, self, from, to) }
	w.days("days_recharge")(days(recharge)).main()
	w.days("days_no_start")(days(battery.NoStartPercent)).main()
	w.days("days_flat")(days(0))
	const month = 30
	w.show("self", self*month, "%/month")
	w.show("drain_share", float64(drain)*24*100/capacity*month, "%/month")
	w.say("warmth_drains", nil)
	end, ever := days(0)
	if !ever || end > mostDays {
		end = mostDays
	}
	if end > 0 {
		perDay := float64(drain)*24/capacity*100 + self
		w.draw(
			"days",
			"%",
			nil,
			Line{Label: "charge_left", Points: curve(0, end, func(x float64) float64 { return math.Max(0, from-x*perDay) })},
			Line{Label: "no_start", Limit: true, Points: [][2]float64{{0, battery.NoStartPercent}, {end, battery.NoStartPercent}}},
		)
	}
}

// days shows a span that may never end.
// mostDays is how far the standing of a battery is drawn.
const mostDays = 730

// days shows whole days, or that it never comes to it.
func (w *work) days(code string) func(days float64, ever bool) *Figure {
	return func(days float64, ever bool) *Figure {
		if !ever {
			return w.words(code, wording.Text("sum.never", nil))
		}
		return w.show(code, math.Floor(days), "days")
	}
}

func fuse(w *work) {
	rating, _ := strconv.ParseFloat(w.text["fuse_rating"], 64)
	mv := w.number["millivolts"]
	amps, _ := circuit.FuseCurrent(rating, mv)
	per, _ := circuit.FuseCurrent(rating, 1)
	sigma := math.Hypot(circuit.FuseSpread*float64(amps), accuracy.MillivoltsSigma*float64(per))
	ma := float64(amps) * 1000
	f := w.show("through_fuse", ma, "mA").band(math.Max(0, ma-2000*sigma), ma+2000*sigma).main()
	limit := w.limit(school.DrainMost)
	f.judge(float64(amps) <= limit)
	w.show("drain_limit", limit*1000, "mA")
	w.say("fuse_cold", nil)
	w.out.Line = line("fuse %sa %smv", g(rating), g(mv))
	if x, ok := w.number["asleep_min"]; ok {
		w.out.Line += line(" asleep %smin", g(x))
	}
}

func week(w *work) {
	b := use.Week{
		Trips: w.number["trips"], Minutes: quantity.Minutes(w.number["trip_min"]), Air: w.celsius("air_c"), Capacity: w.number["capacity_ah"],
		Plates: w.text["plates"], Drain: quantity.Amperes(w.number["drain_a"]),
	}.Balance()
	f := w.show("week_net", b.Net, "Ah").main()
	f.band(b.Low-(b.In-b.Net), b.High-(b.In-b.Net))
	w.show("week_in", b.In, "Ah")
	w.show("week_starts", b.Starts, "Ah")
	w.show("week_drain", b.Drain, "Ah")
	w.show("week_self", b.Self, "Ah")
	switch {
	case b.Loses:
		f.judge(false)
		w.say("week_loses", nil)
	case b.Holds:
		f.judge(true)
		w.say("week_holds", nil)
	default:
		f.waits()
		w.say("week_even", nil)
	}
	w.out.Line = line("trips %s/week %smin", g(w.number["trips"]), g(w.number["trip_min"]))
}

func cable(w *work) {
	area := w.number["area"]
	if w.has("gauge") {
		area = circuit.GaugeArea(w.number["gauge"])
		w.show("area", area, "mm²")
	}
	bare := circuit.Cable(area, w.number["length"], w.celsius("cable_c"))
	clamps := w.number["clamps"]
	low, high := bare+circuit.ClampLow*quantity.Ohms(clamps), bare+circuit.ClampHigh*quantity.Ohms(clamps)
	amps := quantity.Amperes(w.number["amps"])
	middle := (low + high) / 2
	volts, watts := circuit.Drop(middle, amps)
	lowVolts, _ := circuit.Drop(low, amps)
	highVolts, _ := circuit.Drop(high, amps)
	w.show("copper", float64(bare)*1000, "mΩ")
	w.show("whole", float64(middle)*1000, "mΩ").band(float64(low)*1000, float64(high)*1000)
	w.show("drop", float64(volts), "V").band(float64(lowVolts), float64(highVolts)).main()
	w.show("watts", watts, "W")
	w.say("there_and_back", nil)
	w.draw(
		"A",
		"V",
		mark(float64(amps), float64(volts)),
		Line{
			Label:  "drop",
			Points: [][2]float64{{0, 0}, {float64(amps) * 1.5, float64(lowVolts) * 1.5}},
			Upper:  [][2]float64{{0, 0}, {float64(amps) * 1.5, float64(highVolts) * 1.5}},
		},
	)
}

func joint(w *work) {
	v, amps, where := w.number["volts"], w.number["amps"], w.text["where"]
	r, watts := circuit.Resistance(quantity.Volts(v), quantity.Amperes(amps))
	limit := w.limit(school.DropLimit(where))
	w.show("joint_ohms", float64(r)*1000, "mΩ").main()
	w.show("watts", watts, "W")
	w.show("joint_limit", limit, "V")
	w.show("over", v-limit, "V").judge(v <= limit)
	w.out.Line = line("drop %s %sv %sa", where, g(v), g(amps))
}

func torque(w *work) {
	for _, t := range fitting.Torques(w.text["terminal"]) {
		f := w.show("torque_range", float64(t.Low), "N·m").band(float64(t.Low), float64(t.High)).main()
		f.Label = wording.Text(
			"sum.out.torque_range",
			wording.Values{"tag": wording.Word("tag_" + string(t.Source.Kind)), "note": t.Source.Note},
		)
		f.Text += wording.Text("sum.also", wording.Values{
			"a": bare(float64(t.Low.InchPounds()), "in·lbf") + " to " + printed(float64(t.High.InchPounds()), "in·lbf"),
			"b": bare(float64(t.Low.FootPounds()), "ft·lbf") + " to " + printed(float64(t.High.FootPounds()), "ft·lbf"),
		})
	}
	if x, ok := w.number["torque"]; ok {
		own := quantity.NewtonMetres(x)
		w.show("own_nm", x, "N·m")
		w.show("own_inch", float64(own.InchPounds()), "in·lbf")
		place := fitting.Judge(w.text["terminal"], own)
		w.show("own_foot", float64(own.FootPounds()), "ft·lbf").judge(place == "in")
		w.say("torque_"+place, nil)
	}
	w.say("maker_first", nil)
}

func caseSize(w *work) {
	fits := fitting.FitTray(w.number["tray_length"], w.number["tray_width"], w.number["tray_height"])
	for _, f := range fits {
		row := w.words(
			"fits",
			wording.Text(
				"sum.size",
				wording.Values{"length": f.Length, "width": f.Width, "height": f.Height, "spare": f.SpareLength, "volume": f.Volume()},
			),
		)
		row.Label, row.Code = f.Name, "fits_"+f.Name
		if f.SpareLength >= fitting.SpareUsual {
			row.judge(true)
		} else {
			row.waits()
		}
	}
	if len(fits) == 0 {
		w.say("none_fits", nil)
	}
	w.say(
		"layout",
		wording.Values{
			"spare":    float64(fitting.SpareUsual),
			"positive": float64(fitting.PositivePost),
			"negative": float64(fitting.NegativePost),
		},
	)
}

func dateCode(w *work) {
	guesses := battery.DateCode(w.text["date_code"], w.setting.Year, w.setting.Month)
	for i, guess := range guesses {
		years := float64(guess.AgeMonths) / 12
		f := w.words(
			"made",
			wording.Text("sum.made", wording.Values{"made": guess.Made, "years": years, "band": wording.Word("age_" + battery.AgeBand(years))}),
		)
		f.Code = "made_" + guess.Made
		if i == 0 {
			f.main()
		}
	}
	if len(guesses) == 0 {
		w.refuse("date_code", wording.Text("sum.date_code_form", nil))
		return
	}
	if guesses[0].AgeMonths >= battery.ShelfMonths {
		w.say("shelf", wording.Values{"months": float64(battery.ShelfMonths)})
	}
	w.say("guess", nil)
	w.say("keep_alive", wording.Values{"german": strconv.Itoa(fitting.KeepAliveGerman), "other": strconv.Itoa(fitting.KeepAliveOther)})
	w.out.Line = line("age %sy", g(math.Round(float64(guesses[0].AgeMonths)/12*10)/10))
}

func maintainerFor(w *work) standing.Maintainer {
	return standing.MaintainerFor(w.number["capacity_ah"], quantity.Amperes(w.number["drain_a"]), w.text["plates"], w.celsius("battery_c"))
}
