package bench

import (
	"math"

	"grapnel/core/accuracy"
	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/school"
	"grapnel/core/source"
	"grapnel/core/wording"
)

// stateSums are what a battery's state is: charge, acid, freezing, temperature.
var stateSums = []Sum{
	{
		ID: "charge_from_volts", Group: "state",
		Inputs: []Input{
			chemistry,
			nominal,
			number("volts", "V", 1, 33, "12.41"),
			started(batteryC, "18"),
			optional(number("rested_min", "min", 0, 525600, "2h")),
		},
		Sources: []source.Source{source.By(source.BCI).With("flooded"), source.Recalled("EFB, AGM, gel")},
		work:    chargeFromVolts,
	},
	{
		ID: "charge_from_gravity", Group: "state",
		Inputs: []Input{
			number("sg", "SG", 1, 1.4, "1.240"), started(batteryC, "15"), choice("correction", "none", "none", "automatic"),
			optional(number("full_sg", "SG", 1.2, 1.32, "")),
		},
		Sources: []source.Source{source.By(source.BCI), source.By(source.Linden).With("cell rule"), source.By(source.PerryAcid)},
		work:    chargeFromGravity,
	},
	{
		ID: "charge_combined", Group: "state",
		Inputs: []Input{
			chemistry, nominal, optional(number("volts", "V", 1, 33, "12.41")), optional(number("sg", "SG", 1, 1.4, "1.225")),
			optional(choice("eye", "", "green", "dark")), batteryC,
		},
		Sources: []source.Source{source.By(source.BCI), source.From("each estimate weighs by the width of its band")},
		work:    chargeCombined,
	},
	{
		ID: "surface_charge", Group: "state",
		Inputs:  []Input{nominal, started(ratingIn, "650"), standardIn, number("hours", "h", 0, 48, "1")},
		Sources: []source.Source{source.Common("60 min, headlamps or a load"), source.Recalled("how fast it decays")},
		work:    surfaceCharge,
	},
	{
		ID: "electrolyte", Group: "state",
		Inputs: []Input{
			number("air_c", "°C", -40, 50, "-6"),
			started(number("hours", "h", 0, 72, ""), "8"),
			optional(number("start_c", "°C", -40, 60, "")),
		},
		Sources: []source.Source{source.Recalled("first-order lag of 6 h"), source.Common("ask for the last 6 to 8 h")},
		work:    electrolyte,
	},
	{
		ID: "freezing", Group: "state",
		Inputs:  []Input{percentIn, number("night_c", "°C", -60, 20, "-15")},
		Sources: []source.Source{source.By(source.AcidFreeze), source.By(source.BCI).With("gravity by charge")},
		work:    freezing,
	},
}

func chargeFromVolts(w *work) {
	l := w.label()
	v := quantity.Volts(w.number["volts"])
	if v > l.MostVolts() {
		w.refuse("volts", wording.Text("allowed.range", wording.Values{"low": "0", "high": g(float64(l.MostVolts())), "unit": "V"}))
		return
	}
	at := w.celsius("battery_c")
	ch, _ := l.ChargeBand(v, accuracy.VoltsSigma(accuracy.GoodMeter, v), at, accuracy.TemperatureSigma("felt"))
	f := w.show("charge", math.Round(ch.Percent), "%").band(math.Floor(ch.Low), math.Ceil(ch.High)).main()
	f.judge(ch.Percent >= school.JudgePercent)
	if ch.Percent < school.JudgePercent {
		f.waits()
	}
	w.show("at_table", float64(l.FromTwelve(battery.AtTable(l.PerTwelve(v), at))), "V")
	w.show("freezes", float64(battery.FreezingPointAtCharge(ch.Low)), "°C")
	if mark := l.TradeMark(v); mark != "" {
		w.words("trade_mark", wording.Word("mark_"+mark))
	}
	rested, said := w.number["rested_min"]
	switch {
	case v > l.RestedCeiling():
		w.say("too_high", wording.Values{"ceiling": l.RestedCeiling()})
	case !said:
		w.say("rest_unsaid", nil)
	case quantity.Minutes(rested) < school.RestMinutes:
		w.say("rest_short", wording.Values{"more": school.RestMinutes - quantity.Minutes(rested)})
	}
	low, high := float64(l.VoltsFromCharge(0))*0.985, float64(l.RestedCeiling())
	w.draw("V", "%", mark(float64(v), ch.Percent), Line{Label: string(l.Chemistry), Points: curve(low, high, func(x float64) float64 {
		percent, _ := l.ChargeFromVolts(quantity.Volts(x), at)
		return percent
	})})
	w.out.Line = line("%s v %sc", g(float64(v)), g(float64(at)))
	if said {
		w.out.Line += line(" rested %smin", g(rested))
	}
}

func chargeFromGravity(w *work) {
	l := w.label()
	sg, at := w.number["sg"], w.celsius("battery_c")
	corrected := sg
	if w.text["correction"] == "none" {
		corrected = battery.Gravity(sg, at)
	}
	sigma := math.Hypot(accuracy.GravitySigma(), battery.GravityTemperatureSigma(accuracy.TemperatureSigma("felt")))
	ch := l.ChargeBandFromGravity(corrected, sigma)
	w.show("charge", math.Round(ch.Percent), "%").band(math.Floor(ch.Low), math.Ceil(ch.High)).main()
	w.show("corrected_sg", corrected, "SG")
	weight, volume := battery.AcidStrength(corrected)
	w.show("acid_weight", weight, "%")
	w.show("acid_volume", volume, "%")
	w.show("freezes", math.Ceil(float64(battery.FreezingPoint(corrected))), "°C")
	w.show("rule_volts", float64(l.RuleVolts(corrected)), "V")
	w.say("rule_rough", nil)
	w.draw("SG", "%", mark(corrected, ch.Percent), Line{Label: "flooded", Points: curve(1.1, 1.3, l.ChargeFromGravity)})
}

func chargeCombined(w *work) {
	l := w.label()
	var estimates []battery.Charge
	if w.has("volts") {
		v := quantity.Volts(w.number["volts"])
		ch, _ := l.ChargeBand(v, accuracy.VoltsSigma(accuracy.GoodMeter, v), w.celsius("battery_c"), accuracy.TemperatureSigma("felt"))
		estimates = append(estimates, ch)
		w.show("by_volts", math.Round(ch.Percent), "%").band(math.Floor(ch.Low), math.Ceil(ch.High))
	}
	if w.has("sg") {
		ch := l.ChargeBandFromGravity(battery.Gravity(w.number["sg"], w.celsius("battery_c")), accuracy.GravitySigma())
		estimates = append(estimates, ch)
		w.show("by_gravity", math.Round(ch.Percent), "%").band(math.Floor(ch.Low), math.Ceil(ch.High))
	}
	if ch, ok := school.ChargeFromEye(w.text["eye"]); ok {
		estimates = append(estimates, ch)
	}
	if len(estimates) == 0 {
		w.refuse("volts", wording.Text("sum.one_of_three", nil))
		return
	}
	ch := battery.Combine(estimates...)
	w.show("charge", math.Round(ch.Percent), "%").band(math.Floor(ch.Low), math.Ceil(ch.High)).main()
	if apart(estimates) {
		w.say("apart", nil)
	}
}

func apart(list []battery.Charge) bool {
	for i, a := range list {
		for _, b := range list[:i] {
			if a.Low > b.High || b.Low > a.High {
				return true
			}
		}
	}
	return false
}

func surfaceCharge(w *work) {
	l := w.label()
	hours := w.number["hours"]
	most := l.SurfaceCharge(hours)
	w.show("too_high_by", float64(most), "V").main()
	sae := l.Rating.SAE().SAE
	w.show("surface_load", math.Min(math.Round(float64(sae)*school.HalfRating), float64(school.SurfaceLoadMost)), "A")
	w.show("surface_seconds", float64(school.LoadSeconds), "s")
	w.show("lamps", float64(school.LampSeconds), "s")
	w.show("lamps_long", float64(school.HighBeamSeconds), "s")
	if wait := float64(school.RestMinutes) - hours*60; wait > 0 {
		w.show("wait", wait, "min").waits()
	}
	w.say("surface_schools", nil)
	w.draw(
		"h",
		"V",
		mark(hours, float64(most)),
		Line{Label: "at_most", Points: curve(0, 8, func(x float64) float64 { return float64(l.SurfaceCharge(x)) })},
	)
}

func electrolyte(w *work) {
	var start *quantity.Celsius
	if w.has("start_c") {
		c := w.celsius("start_c")
		start = &c
	}
	air, hours := w.celsius("air_c"), w.number["hours"]
	t := battery.Electrolyte(air, hours, start)
	w.show("acid_c", float64(t.At), "°C").band(float64(t.At-2*t.Sigma), float64(t.At+2*t.Sigma)).main()
	half, _ := school.Find(school.HalfCCA)
	w.show("load_limit", float64(half.Limit(t.At)), "V")
	if start == nil {
		w.say("start_unknown", nil)
	}
	var low, high [][2]float64
	for _, p := range curve(0, 24, func(float64) float64 { return 0 }) {
		at := battery.Electrolyte(air, p[0], start)
		low = append(low, [2]float64{p[0], float64(at.At - 2*at.Sigma)})
		high = append(high, [2]float64{p[0], float64(at.At + 2*at.Sigma)})
	}
	w.draw("h", "°C", mark(hours, float64(t.At)), Line{Label: "acid", Points: low, Upper: high})
}

func freezing(w *work) {
	percent, night := w.number["percent"], w.celsius("night_c")
	freezes, margin := battery.FreezingPointAtCharge(percent), battery.FreezeMargin(percent, night)
	w.show("freezes", float64(freezes), "°C").main()
	w.show("margin", float64(margin), "K").judge(margin > 0)
	w.show("sg_at_charge", battery.GravityFromCharge(percent), "SG")
	if margin <= 0 {
		w.say("freezes", nil)
	}
	w.say("freezing_coarse", nil)
	w.draw(
		"%",
		"°C",
		mark(percent, float64(night)),
		Line{
			Label:  "freezes_below",
			Points: curve(0, 100, func(x float64) float64 { return float64(battery.FreezingPoint(battery.GravityFromCharge(x))) }),
			Limit:  true,
		},
	)
}
