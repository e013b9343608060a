package procedure

import "grapnel/core/school"

// What a vehicle is jumped with.
const (
	WithVehicle = "vehicle"
	WithPack    = "pack"
	WithCharger = "charger"
)

// jumpSettings are all that an engine or computers hang on, with each of the three ways.
func jumpSettings(r rig) []Sitting {
	if r.alone || r.idle {
		return nil
	}
	var out []Sitting
	for _, with := range []string{WithVehicle, WithPack, WithCharger} {
		out = append(out, Sitting{Vehicle: r.code, With: with})
	}
	return out
}

// Ends of the jump leads: at the dead vehicle and at the donor.
const (
	liveDead   = "live_dead"
	liveDonor  = "live_donor"
	earthDonor = "earth_donor"
	earthDead  = "earth_dead"
)

// feedMinutes is how long a donor feeds before the first try where nothing was worked out:
// the middle of the trade's 2 to 10 minutes. Common practice, no source.
const feedMinutes = 5

// packMinutes is how long a pack feeds first. Value from memory.
const packMinutes = 1

func writeJump(o *order, s Sitting, way string, people int) {
	o.prepareJump(s)
	if s.With == WithVehicle {
		o.jumpByVehicle(way, people)
	} else {
		o.jumpBy(s.With, way, people)
	}
	o.afterJump(s)
}

func (o *order) prepareJump(s Sitting) {
	o.do("glasses", school.Acid, school.Tools)
	o.ask("jump_stop", school.FrozenOrDamaged, school.EyeClear, school.Lithium)
	o.ask("jump_cause")
	if o.earth == Positive {
		o.do("earth_side", school.EarthSide)
	}
	if o.traction {
		o.do("jump_open")
		o.do("jump_orange", school.HighVoltage)
	}
	o.do("jump_loads", school.VehicleMoves)
	o.do("jump_volts_"+s.With, school.MixedVoltage)
	switch {
	case o.small:
		o.do("jump_switches")
	case o.join == parallel:
		o.do("jump_two")
	}
}

// jumpByVehicle is the order with two leads and another vehicle.
func (o *order) jumpByVehicle(way string, people int) {
	earthed, live := o.sides()
	o.bringDonor(earthed, live)
	o.do("jump_apart")
	if people > 1 {
		o.do("jump_two_people")
	}
	o.reach()
	o.layFor(people, liveDonor, "jump_lay_live")
	o.clampBy(people, 1, liveDead, o.livePost(), "jump_live_dead")
	o.clampBy(people, 2, liveDonor, "donor_"+live, "jump_live_donor")
	o.layFor(people, earthDead, "jump_lay_earth")
	o.clampBy(people, 2, earthDonor, "donor_"+earthed, "jump_earth_donor")
	o.lastClamp(people, earthDead, way)
	if !o.small {
		o.say(Step{Op: Start, Source: "donor", By: second(people)}, "jump_start_donor", school.Exhaust)
	} else {
		o.do("jump_donor_off")
	}
	o.wait(o.feed, "jump_feed")
	o.tryIt()
	o.do("jump_surge", school.Surge)
	o.unclampBy(people, 1, earthDead, "jump_off_earth_dead")
	o.layFor(people, earthDead, "jump_lay_off")
	o.unclampBy(people, 2, earthDonor, "jump_off_earth_donor")
	o.unclampBy(people, 2, liveDonor, "jump_off_live_donor")
	o.layFor(people, liveDonor, "jump_lay_off")
	o.unclampBy(people, 1, liveDead, "jump_off_live_dead")
	o.shut()
}

// bringDonor puts the other vehicle beside this one, with the leads between them.
func (o *order) bringDonor(earthed, live string) {
	sc := o.Scene
	sc.Sources = append(sc.Sources, Source{"donor", "donor_plus", "donor_minus", o.volts(), true, Donor})
	sc.add("donor", Post, "donor_minus", "donor_plus")
	sc.add("donor", Body, "donor_body")
	sc.add("hand", Away, "hand")
	sc.Joined = append(sc.Joined, Pair{"donor_" + earthed, "donor_body"})
	sc.Leads = append(sc.Leads,
		Lead{ID: "lead_live", Ends: Pair{liveDead, liveDonor}, Role: live},
		Lead{ID: "lead_earth", Ends: Pair{earthDonor, earthDead}, Role: earthed})
}

// second is the second person where there is one.
func second(people int) int {
	if people > 1 {
		return 2
	}
	return 0
}

// who is the person at a vehicle, where there are two.
func who(people, by int) int {
	if people > 1 {
		return by
	}
	return 0
}

// layFor says where a loose end waits: alone on the mat, or in the other person's hand.
func (o *order) layFor(people int, end, code string) {
	if people > 1 {
		o.lay(end, "hand", code+"_two").By = map[string]int{liveDonor: 2, earthDead: 1}[end]
		return
	}
	o.lay(end, "mat", code)
}

func (o *order) clampBy(people, by int, end, place, code string) {
	o.clamp(end, place, code, school.Reversed).By = who(people, by)
}

func (o *order) unclampBy(people, by int, end, code string) {
	o.unclamp(end, code, school.Spark).By = who(people, by)
}

// lastClamp closes the circuit, where the school says.
func (o *order) lastClamp(people int, end, way string) {
	code := "jump_last_body"
	switch {
	case o.remote:
		code = "jump_last_front"
	case o.earthPoint(way) == o.earthedPost():
		code = "jump_last_post"
	}
	o.clamp(end, o.earthPoint(way), code, school.Spark).By = who(people, 1)
}

// tryIt wakes or cranks it.
func (o *order) tryIt() {
	switch {
	case o.traction:
		o.do("jump_ready")
	default:
		if o.diesel {
			o.do("jump_glow")
		}
		o.say(Step{Op: Crank}, "jump_crank", school.VehicleMoves, school.CrankingLimit)
	}
	o.read("jump ", "jump_tried")
}

// jumpBy is the order with a pack or a charger that has an engine start: two clips.
func (o *order) jumpBy(kind, way string, people int) {
	o.bring(kind, kind, o.volts(), nil)
	live, earthed := o.clips(kind)
	o.reach()
	o.do("jump_place_" + kind)
	o.clamp(live, o.livePost(), "jump_clip_live", school.Reversed).By = who(people, 1)
	code := "jump_clip_body"
	switch {
	case o.remote:
		code = "jump_clip_front"
	case o.earthPoint(way) == o.earthedPost():
		code = "jump_clip_post"
	}
	o.clamp(earthed, o.earthPoint(way), code).By = who(people, 1)
	if kind == WithPack {
		o.say(Step{Op: SwitchOn, Source: kind, By: second(people)}, "jump_pack_on")
		o.wait(packMinutes, "jump_pack_feed")
	} else {
		o.say(Step{Op: Plug, Source: kind, By: second(people)}, "jump_plug", school.Ventilation)
		o.wait(o.feed, "jump_feed")
		// A start current is too much for a small battery, and nothing is cranked where one only
		// wakes computers. Common practice, no source.
		if o.small || o.traction {
			o.do("jump_no_start")
		} else {
			o.do("jump_to_start")
		}
	}
	o.tryIt()
	if kind == WithPack {
		o.back(SwitchOff, SwitchOn, kind, "jump_pack_off").By = second(people)
	} else {
		o.back(Unplug, Plug, kind, "jump_unplug").By = second(people)
	}
	o.unclamp(earthed, "jump_clip_earth_off").By = who(people, 1)
	o.unclamp(live, "jump_clip_live_off").By = who(people, 1)
	o.shut()
}

func (o *order) afterJump(s Sitting) {
	if o.traction {
		o.read("dcdc ", "jump_dcdc")
	} else {
		o.read("running ", "jump_running", school.Exhaust)
	}
	o.do("jump_drive")
	o.do("jump_full")
	if s.With == WithPack {
		o.do("jump_pack_back")
	}
}
