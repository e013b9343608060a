package bench

import (
	"math"

	"grapnel/core/accuracy"
	"grapnel/core/battery"
	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/school"
	"grapnel/core/source"
	"grapnel/core/wording"
)

// powerSums are about cranking power and capacity.
var powerSums = []Sum{
	{
		ID: "rating", Group: "power", Inputs: []Input{ratingIn, standardIn},
		Sources: []source.Source{
			source.Recalled("comparison chart; no exact conversion exists"),
			source.Common("CA is 1.25 CCA"),
			source.By("SAE J537, EN 50342-1, IEC 60095-1, DIN, JIS"),
		},
		work: rating,
	},
	{
		ID: "load_test", Group: "power",
		Inputs: []Input{
			ratingIn, standardIn, nominal, labelLoad, started(batteryC, "10"), choice("school", "half_cca", school.IDs()...),
			optional(number("volts", "V", 1, 33, "9.5")),
		},
		Sources: []source.Source{source.By(source.BCI), source.Common("other schools")},
		work:    loadTest,
	},
	{
		ID: "fixed_load", Group: "power",
		Inputs: []Input{
			ratingIn, standardIn, nominal, number("amps", "A", 5, 2000, "130"), number("open_volts", "V", 1, 33, "12.6"),
			number("volts", "V", 1, 33, "11.3"), batteryC,
		},
		Sources: []source.Source{source.By(source.BCI), source.From("a straight line from the volts at rest")},
		work:    fixedLoad,
	},
	{
		ID: "conductance", Group: "power",
		Inputs:  []Input{number("measured", "A", 1, 3000, "594"), ratingIn, started(percentIn, "90")},
		Sources: []source.Source{source.Common("grades"), source.Recalled("error of the tester")},
		work:    conductance,
	},
	{
		ID: "capacity", Group: "power",
		Inputs: []Input{optional(reserve), optional(started(capacity, "")), number("amps", "A", 0.2, 500, "10"), batteryC},
		Sources: []source.Source{
			source.By(source.SAEJ537),
			source.Common("Ah ≈ RC/2 + 16"),
			source.Recalled("Peukert's exponent where the label has one figure"),
		},
		work: capacitySum,
	},
	{
		ID: "reserve_check", Group: "power",
		Inputs: []Input{
			reserve, capacity, number("amps", "A", 0.2, 500, "10"), number("minutes", "min", 0.5, 6000, "90"),
			number("end_volts", "V", 1, 33, "11.9"), batteryC,
		},
		Sources: []source.Source{source.Common("a quarter of the ampere-hours"), source.Recalled("share from which capacity is gone")},
		work:    reserveCheck,
	},
	{
		ID: "expected", Group: "power",
		Inputs: []Input{
			chemistry, nominal, ratingIn, standardIn, optional(capacity), started(percentIn, "100"), batteryC,
			number("amps", "A", 0.1, 2000, "325"), number("seconds", "s", 0.1, 60, "15"),
			optional(number("volts", "V", 1, 33, "")),
		},
		Sources: []source.Source{
			source.From("the model, calibrated from the label: SAE J537 and the 20 h capacity come out of it"),
			source.Recalled("spread of sound batteries"),
		},
		work: expectedUnder,
	},
	{
		ID: "cold", Group: "power", Inputs: []Input{number("air_c", "°C", -18, 27, "-10")},
		Sources: []source.Source{source.Recalled("widely printed chart, harsher than the ratings allow: it explains, it calibrates nothing")},
		work:    cold,
	},
}

func rating(w *work) {
	own := *w.label().Rating
	sae := own.SAE()
	w.show("sae", math.Round(float64(sae.SAE)), "A").main()
	if sae.Converted {
		w.out.Figures[0].band(math.Round(float64(sae.Low)), math.Round(float64(sae.High)))
		w.say("converted", nil)
	}
	w.show("half", math.Round(float64(sae.SAE)*school.HalfRating), "A")
	for _, d := range battery.Definitions() {
		if d.Standard == battery.SAE || d.Standard == battery.MCA || d.Standard == own.Standard {
			continue
		}
		value, band := battery.FromSAE(sae.SAE, d.Standard)
		f := w.show("in_standard", math.Round(float64(value)), "A")
		label := wording.Values{"standard": string(d.Standard), "at": d.At, "seconds": d.Seconds, "volts": d.Volts}
		f.Code, f.Label = "in_"+string(d.Standard), wording.Text("sum.out.in_standard", label)
		f.band(math.Round(float64(value)*(1-band)), math.Round(float64(value)*(1+band)))
	}
}

func (w *work) target(l battery.Label) quantity.Amperes {
	c := evidence.Case{Label: l}
	if w.has("label_load_a") {
		own := quantity.Amperes(w.number["label_load_a"])
		c.Label.LabelLoadA = &own
	}
	target, _ := c.LoadTarget()
	return quantity.Amperes(math.Round(float64(target)))
}

// loadShift is how far the shop's own least volts lie off the trade's.
func (w *work) loadShift() quantity.Volts {
	shift, note := w.setting.Own.LoadShift()
	w.ownFigure(note)
	return shift
}

func loadTest(w *work) {
	l := w.label()
	practice, _ := school.Find(school.ID(w.text["school"]))
	at := w.celsius("battery_c")
	shift := w.loadShift()
	limit := float64(l.FromTwelve(practice.Limit(at) + shift))
	target := w.target(l)
	if !practice.Starter {
		w.show("set", float64(target), "A").main()
	}
	w.show("hold", float64(practice.Seconds), "s")
	w.show("limit", limit, "V").main()
	if practice.ID == school.HalfCCA {
		w.show("limit_fahrenheit", float64(l.FromTwelve(school.FahrenheitLimit(at)+shift)), "V")
	}
	if l.Rating.SAE().Converted && !w.has("label_load_a") {
		w.say("converted", nil)
	}
	if at < school.ColdestTest {
		w.say("too_cold", nil)
	}
	v, given := w.number["volts"]
	marks := mark(float64(at), limit)
	if given {
		sigma := float64(accuracy.LoadVoltsSigma(quantity.Volts(v)))
		w.show("apart_from_limit", v-limit, "V").judge(v >= limit)
		w.show("in_sigmas", (v-limit)/sigma, "σ")
		if v < limit {
			w.say("fail_needs_charge", nil)
		}
		marks = mark(float64(at), v)
	}
	w.draw("°C", "V", marks, Line{Label: "least", Limit: true, Points: curve(-25, 30, func(x float64) float64 {
		return float64(l.FromTwelve(practice.Limit(quantity.Celsius(x)) + shift))
	})})
	if given && !practice.Starter {
		w.out.Line = line("load %sa %ss %sv %sc", g(float64(target)), g(float64(practice.Seconds)), g(v), g(float64(at)))
	}
}

func fixedLoad(w *work) {
	l := w.label()
	target := float64(w.target(l))
	amps, open, v, at := w.number["amps"], w.number["open_volts"], w.number["volts"], w.celsius("battery_c")
	share := amps / target
	w.show("share_of_load", share*100, "%").judge(share >= 2*school.LittleRating)
	resistance := (open - v) / amps
	w.show("resistance", resistance*1000, "mΩ")
	carried := open - resistance*target
	half, _ := school.Find(school.HalfCCA)
	limit := float64(l.FromTwelve(half.Limit(at) + w.loadShift()))
	w.show("at_half", carried, "V").main().judge(carried >= limit)
	w.show("limit", limit, "V")
	switch {
	case v > open:
		w.refuse("volts", wording.Text("allowed.range", wording.Values{"low": "0", "high": g(open), "unit": "V"}))
	case share < 2*school.LittleRating:
		w.say("fixed_little", wording.Values{"low": school.FixedLow, "high": school.FixedHigh})
	case carried < limit:
		w.say("fixed_short", nil)
	default:
		w.say("fixed_enough", nil)
	}
	w.out.Line = line("load %sa %ss %sv %sc fixed", g(amps), g(float64(school.FixedSeconds)), g(v), g(float64(at)))
	w.draw("A", "V", [][2]float64{{0, open}, {amps, v}},
		Line{Label: "carried", Points: [][2]float64{{0, open}, {target, carried}}},
		Line{Label: "least", Limit: true, Points: [][2]float64{{target * 0.8, limit}, {target * 1.2, limit}}})
}

func conductance(w *work) {
	measured, rated := w.number["measured"], w.number["rating"]
	ratio := measured / rated
	grade := school.GradeOf(ratio)
	sigma := accuracy.ConductanceSigma(ratio)
	w.show("ratio", ratio*100, "%").band((ratio-2*sigma)*100, (ratio+2*sigma)*100).main()
	f := w.words("grade", wording.Word("grade_"+grade.Code))
	if w.number["percent"] < school.JudgePercent {
		f.waits()
		w.say("conductance_low", nil)
	} else {
		f.judge(grade.Code == "good" || grade.Code == "serviceable")
	}
	low, high := accuracy.BadClamp(ratio)
	w.show("bad_clamp", low*100, "%").band(low*100, high*100)
	w.out.Line = line("%s/%s cca", g(measured), g(rated))
}

func capacitySum(w *work) {
	l := w.label()
	if !w.has("reserve_min") && !w.has("capacity_ah") {
		w.refuse("reserve_min", wording.Text("sum.reserve_or_ah", nil))
		return
	}
	if l.ReserveMin != nil {
		w.show("delivered", float64(battery.DeliveredAtReserve(*l.ReserveMin)), "Ah")
		if c, ok := battery.CapacityFromReserve(*l.ReserveMin); ok {
			w.show("ah_from_reserve", c.Value, "Ah").band(c.Low, c.High).main()
		} else {
			w.say("reserve_small", nil)
		}
	}
	if l.CapacityAh != nil {
		if r, ok := battery.ReserveFromCapacity(*l.CapacityAh); ok {
			w.show("reserve_from_ah", r.Value, "min").band(r.Low, r.High)
		}
	}
	amps, at := quantity.Amperes(w.number["amps"]), w.celsius("battery_c")
	if minutes, ok := l.MinutesAt(amps, at); ok {
		w.show("lasts", float64(minutes), "min").main()
	}
	w.draw("A", "h", nil, Line{Label: "lasts", Points: curve(2, 60, func(x float64) float64 {
		minutes, _ := l.MinutesAt(quantity.Amperes(x), at)
		return float64(minutes) / 60
	})})
}

func reserveCheck(w *work) {
	l := w.label()
	amps, minutes, end, at := w.number["amps"], w.number["minutes"], w.number["end_volts"], w.celsius("battery_c")
	expected, _ := l.MinutesAt(quantity.Amperes(amps), at)
	share := minutes / float64(expected)
	w.show("expected", float64(expected), "min").main()
	w.show("share_taken", share*100, "%")
	w.show("quarter", school.ReserveTaken*float64(expected), "min")
	switch ran := quantity.Volts(end) <= battery.ReserveEndVolts; {
	case ran && share < w.limit(school.ReserveShare):
		w.say("reserve_gone", nil)
	case !ran && share < school.ReserveTaken:
		w.say("reserve_part", nil)
	default:
		w.say("reserve_there", nil)
	}
	w.out.Line = line("reserve %sa %smin to %sv %sc", g(amps), g(minutes), g(end), g(float64(at)))
}

// expectedUnder is what a battery of this label should show under a load, and
// what one that shows something else is worth.
func expectedUnder(w *work) {
	l := w.label()
	load := diagnosis.Load{
		Percent: w.number["percent"], At: w.celsius("battery_c"), Amps: quantity.Amperes(w.number["amps"]),
		Seconds: quantity.Seconds(w.number["seconds"]),
	}
	a, _ := w.setting.Engine.Expect(l, load)
	w.show("sound_volts", float64(a.New), "V").band(float64(a.SoundLow), float64(a.SoundHigh)).main()
	w.show("sound_ohms", float64(a.Ohms)*1000, "mΩ").band(float64(a.OhmsLow)*1000, float64(a.OhmsHigh)*1000).main()
	w.show("least_volts", float64(a.Least), "V")
	w.show("before_load", float64(a.Rested), "V")
	if l.Rating.SAE().Converted {
		w.say("converted", nil)
	}
	if !w.has("capacity_ah") {
		w.say("capacity_guessed", nil)
	}
	marks := mark(float64(load.Amps), float64(a.New))
	if v, given := w.number["volts"]; given {
		if v > float64(a.Rested) {
			w.refuse(
				"volts",
				wording.Text("allowed.range", wording.Values{"low": "1", "high": g(math.Floor(float64(a.Rested)*100) / 100), "unit": "V"}),
			)
			return
		}
		share, _ := w.setting.Engine.PowerOf(l, load, quantity.Volts(v))
		w.show("own_ohms", (float64(a.Rested)-v)/float64(load.Amps)*1000, "mΩ")
		w.show("own_power", share*100, "%").judge(v >= float64(a.Least))
		if load.Percent < school.JudgePercent {
			w.say("fail_needs_charge", nil)
		}
		marks = mark(float64(load.Amps), v)
	}
	band := func(pick func(diagnosis.Answer) quantity.Volts) [][2]float64 {
		return curve(0, float64(load.Amps)*1.3, func(x float64) float64 {
			at := load
			at.Amps = quantity.Amperes(math.Max(x, 0.01))
			b, _ := w.setting.Engine.Expect(l, at)
			return float64(pick(b))
		})
	}
	w.draw(
		"A",
		"V",
		marks,
		Line{
			Label:  "sound_band",
			Points: band(func(b diagnosis.Answer) quantity.Volts { return b.SoundLow }),
			Upper:  band(func(b diagnosis.Answer) quantity.Volts { return b.SoundHigh }),
		},
		Line{Label: "least_power", Limit: true, Points: band(func(b diagnosis.Answer) quantity.Volts { return b.Least })},
	)
}

func cold(w *work) {
	at := w.celsius("air_c")
	has, asks := battery.ColdPower(at)
	w.show("battery_has", has, "%").main()
	w.show("engine_asks", asks, "%").main()
	w.say("teaching", nil)
	w.draw(
		"°C",
		"%",
		[][2]float64{{float64(at), has}, {float64(at), asks}},
		Line{
			Label:  "battery_has",
			Points: curve(-18, 27, func(x float64) float64 { y, _ := battery.ColdPower(quantity.Celsius(x)); return y }),
		},
		Line{
			Label:  "engine_asks",
			Points: curve(-18, 27, func(x float64) float64 { _, y := battery.ColdPower(quantity.Celsius(x)); return y }),
		},
	)
}
