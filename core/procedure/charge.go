package procedure

import "grapnel/core/school"

// chargeSettings: a motorcycle's or off-road vehicle's battery is charged out of it, always;
// what stands on a bench there only. Common practice, no source.
func chargeSettings(r rig) []Sitting {
	in, out := Sitting{Vehicle: r.code, Where: inPlace}, Sitting{Vehicle: r.code, Where: onBench}
	switch {
	case r.alone, r.out:
		return []Sitting{out}
	case r.remote, r.traction, r.count > 1:
		return []Sitting{in}
	}
	return []Sitting{in, out}
}

// checkMinutes is between two checks of a charge, restMinutes the rest after it. Common
// practice, no source.
const (
	checkMinutes = 30
	restMinutes  = 60
)

func writeCharge(o *order, _ Sitting, way string, _ int) {
	o.prepare()
	o.ask("charge_stop", school.FrozenOrDamaged, school.EyeClear, school.PlatesDry, school.Hot)
	o.do("charge_air", school.Ventilation, school.Gas)
	o.posts()
	o.isolate()
	o.bring(Charger, Charger, o.nominal, nil)
	o.do("charge_off")
	o.reach()
	o.chargerOn(way)
	o.say(Step{Op: Plug, Source: Charger}, "charge_plug")
	o.do("charge_set")
	o.wait(checkMinutes, "charge_wait")
	o.read("charge ", "charge_check", school.Hot, school.Gas)
	o.ask("charge_full")
	o.back(Unplug, Plug, Charger, "charge_unplug", school.Spark)
	o.chargerOff()
	o.shut()
	o.together()
	if o.count > 1 {
		o.do("charge_other")
	}
	o.wait(restMinutes, "charge_rest")
	o.read("", "volts_rested")
}

// posts are what is seen to at the posts before clips go on.
func (o *order) posts() {
	if o.side {
		o.do("side_adapters")
	}
	if o.monitor {
		o.do("monitor_body")
	}
	o.do("charge_clean")
}

// liveHere is where the live clip of a charger or tester goes: of several on the battery
// that was parted.
func (o *order) liveHere() string {
	_, live := o.sides()
	if o.count > 1 {
		return post(live, 1)
	}
	return o.livePost()
}

// earthHere is where its earthed clip goes: parted from the vehicle, on the post.
func (o *order) earthHere(way string) string {
	if o.count > 1 {
		return o.earthedPost()
	}
	return o.earthPoint(way)
}

func (o *order) chargerOn(way string) { o.clipsOn(Charger, o.liveHere(), o.earthHere(way)) }

// clipsOn puts both clips of what was brought on, the live one first.
func (o *order) clipsOn(id, liveAt, earthAt string) {
	live, earthed := o.clips(id)
	o.clamp(live, liveAt, "charge_live")
	code := "charge_body"
	switch {
	case earthAt == o.earthedPost():
		code = "charge_post"
	case o.remote:
		code = "charge_front"
	}
	o.clamp(earthed, earthAt, code)
}

func (o *order) chargerOff() {
	live, earthed := o.clips(Charger)
	o.unclamp(earthed, "charge_earth_off")
	o.unclamp(live, "charge_live_off")
}

// wakeSettings: on the bench, where a good battery can stand beside it.
func wakeSettings(r rig) []Sitting {
	if r.count > 1 || r.remote || r.traction {
		return nil
	}
	return []Sitting{{Vehicle: r.code, Where: onBench}}
}

// wakeMinutes is how long the good battery holds the other up. Value from memory.
const wakeMinutes = 10

// writeWake is a charger that does not begin on a battery that lies too low: a good battery
// beside it, its last clamp at its own post, which does not gas.
func writeWake(o *order, _ Sitting, _ string, _ int) {
	o.prepare()
	o.ask("wake_stop", school.FrozenOrDamaged, school.EyeClear)
	o.do("charge_air", school.Ventilation, school.Gas)
	earthed, live := o.sides()
	o.bring(Charger, Charger, o.nominal, nil)
	o.helper(earthed, live)
	o.do("charge_off")
	o.reach()
	o.chargerOn(SchoolPost)
	o.read("", "wake_polarity")
	o.lay("wake_live_helper", "bench", "wake_lay_live")
	o.clamp("wake_live_dead", post(live, 1), "wake_live_dead")
	o.clamp("wake_live_helper", "helper_"+live, "wake_live_helper")
	o.lay("wake_earth_helper", "bench", "wake_lay_earth")
	o.clamp("wake_earth_dead", post(earthed, 1), "wake_earth_dead")
	o.clamp("wake_earth_helper", "helper_"+earthed, "wake_last", school.Spark)
	o.say(Step{Op: Plug, Source: Charger}, "wake_plug")
	o.wait(wakeMinutes, "wake_wait")
	o.back(Unplug, Plug, Charger, "wake_unplug")
	o.unclamp("wake_earth_helper", "wake_first_off", school.Spark)
	o.lay("wake_earth_helper", "bench", "wake_lay_off")
	o.unclamp("wake_earth_dead", "wake_earth_dead_off")
	o.unclamp("wake_live_helper", "wake_live_helper_off")
	o.lay("wake_live_helper", "bench", "wake_lay_off")
	o.unclamp("wake_live_dead", "wake_live_dead_off")
	o.say(Step{Op: Plug, Source: Charger}, "wake_again")
	o.ask("wake_runs")
	o.wait(checkMinutes, "charge_wait")
	o.read("charge ", "charge_check", school.Hot, school.Gas)
	o.back(Unplug, Plug, Charger, "charge_unplug", school.Spark)
	o.chargerOff()
	o.shut()
}

// helper is a good battery that has rested: it does not gas.
func (o *order) helper(earthed, live string) {
	sc := o.Scene
	sc.Sources = append(sc.Sources, Source{"helper", "helper_plus", "helper_minus", o.nominal, false, Battery})
	sc.add("helper", Post, "helper_minus", "helper_plus")
	sc.Leads = append(sc.Leads,
		Lead{ID: "wake_lead_live", Ends: Pair{"wake_live_dead", "wake_live_helper"}, Role: live},
		Lead{ID: "wake_lead_earth", Ends: Pair{"wake_earth_dead", "wake_earth_helper"}, Role: earthed})
}
