package procedure

import "grapnel/core/school"

// cleanOutSettings: what can be lifted out alone.
func cleanOutSettings(r rig) []Sitting { return inVehicle(r) }

func writeCleanInPlace(o *order, s Sitting, way string, _ int) {
	o.prepare()
	o.ask("clean_light")
	o.off("")
	o.scrub(way)
	o.on(way)
	o.proof()
}

func writeCleanOut(o *order, s Sitting, way string, _ int) {
	o.prepare()
	o.off("")
	o.out()
	o.do("clean_scrape", school.Acid)
	o.do("clean_soda_out", school.Soda, school.Acid)
	o.do("clean_tray", school.Soda)
	o.do("clean_rinse")
	o.bright(way)
	o.in("clean_in")
	o.on(way)
	if o.caps {
		o.say(Step{Op: Uncover, Source: Battery}, "caps_off", school.Acid)
		o.read("level ", "caps_level")
		o.back(Cover, Uncover, Battery, "caps_on")
	}
	o.proof()
}

// off takes both sides off, the earthed one first, of every battery; by is how a keep-alive
// feeds the vehicle meanwhile.
func (o *order) off(by string) {
	_, live := o.sides()
	o.say(Step{Op: Do, Asks: AsksPhoto}, "stack_order")
	o.earthOff()
	if o.join == series {
		o.say(Step{Op: LiftOff, End: "link_near", Place: post(live, 1)}, "part")
		o.say(Step{Op: Cover, End: "link_near"}, "bag", school.LiveClamp)
		return
	}
	for n := 1; n <= o.count; n++ {
		clamp := clampOf(live, n)
		o.say(Step{Op: Uncover, Place: post(live, n)}, "uncover")
		o.say(Step{Op: LiftOff, End: clamp, Place: post(live, n)}, "live_off")
		if by != "" && by != byNothing || o.count > 1 {
			o.say(Step{Op: Cover, End: clamp}, "bag", school.LiveClamp)
		}
	}
}

// on puts them back: the live side first, the earthed one last.
func (o *order) on(way string) {
	_, live := o.sides()
	o.do("stack_back")
	if o.join == series {
		o.say(Step{Op: Uncover, End: "link_near"}, "unbag")
		o.back(PutOn, LiftOff, "link_near", "join")
	} else {
		for n := o.count; n >= 1; n-- {
			if o.bagged(clampOf(live, n)) {
				o.say(Step{Op: Uncover, End: clampOf(live, n)}, "unbag")
			}
			o.back(PutOn, LiftOff, clampOf(live, n), "live_on")
			o.back(Cover, Uncover, post(live, n), "cover", school.Clearance)
		}
	}
	o.seat()
	o.earthOn()
	if way == GreaseOver {
		o.do("grease_over")
	}
}

// seat tightens the joints: by the vehicle maker's torque where it is known.
func (o *order) seat() {
	if o.torque == nil {
		o.do("seat")
		return
	}
	o.values["torque"], o.values["inch"] = float64(*o.torque), float64(o.torque.InchPounds())
	o.do("seat_maker")
}

// bagged reports whether the latest step on an end put a bag over it.
func (o *order) bagged(end string) bool {
	for i := len(o.steps) - 1; i >= 0; i-- {
		if st := &o.steps[i]; st.subject() == end {
			return st.Op == Cover
		}
	}
	return false
}

func (o *order) scrub(way string) {
	o.do("clean_scrape", school.Acid)
	o.do("clean_soda", school.Soda, school.Acid)
	o.do("clean_hold_down", school.Soda)
	o.do("clean_rinse")
	o.bright(way)
}

func (o *order) bright(way string) {
	if o.side {
		o.do("clean_pads")
	} else {
		o.do("clean_bright")
	}
	if way == GreaseBefore {
		o.do("grease_before")
	}
}

// out lifts the battery out, in puts one in.
func (o *order) out() {
	if o.tube {
		o.do("tube_off")
	}
	o.do("hold_down_off")
	o.do("lift_out", school.Lifting, school.Acid)
}

func (o *order) in(code string) {
	if o.side {
		o.do("side_mat", school.Acid)
	}
	o.do(code, school.Lifting)
	o.do("hold_down_on")
	if o.tube {
		o.do("tube_on")
	}
}

func (o *order) proof() {
	if !o.idle && !o.traction {
		o.read("drop ", "proof_drop", school.VehicleMoves)
	}
	o.read("case ", "proof_case")
	o.do("clean_away")
}

// replaceSettings: with electronics a supply by clips or socket keeps them awake.
func replaceSettings(r rig) []Sitting {
	switch {
	case r.alone:
		return nil
	case r.modules:
		return []Sitting{{Vehicle: r.code, By: byClips}, {Vehicle: r.code, By: bySocket}}
	}
	return []Sitting{{Vehicle: r.code, By: byNothing}}
}

func writeReplace(o *order, s Sitting, _ string, _ int) {
	o.prepare()
	o.ask("replace_tested")
	o.do("replace_compare")
	if o.count > 1 {
		o.do("replace_pair")
	}
	o.keepAliveOn(s.By)
	o.off(s.By)
	o.out()
	o.do("replace_side_by_side", school.Lifting)
	if o.tube {
		o.do("replace_elbow")
	}
	o.do("clean_tray_dry")
	o.in("replace_in")
	o.replaceOn()
	o.do("replace_wiggle", school.Clearance)
	o.keepAliveOff(s.By)
	if o.traction {
		o.read("dcdc ", "replace_dcdc")
	} else if !o.idle {
		o.say(Step{Op: Crank}, "replace_start", school.VehicleMoves, school.CrankingLimit)
		o.read("running ", "replace_running", school.Exhaust)
	}
	if o.monitor || o.modules {
		o.do("replace_register")
		o.do("replace_resets")
	}
	o.do("replace_old")
}

// replaceOn puts the clamps on a new battery: which post is which is read first.
func (o *order) replaceOn() {
	o.read("", "replace_polarity")
	o.on("")
}

// drainSettings: where the earthed clamp can be reached.
func drainSettings(r rig) []Sitting {
	if r.alone || r.side || r.count > 1 || r.remote {
		return nil
	}
	return []Sitting{{Vehicle: r.code}}
}

// Waits for the modules, and the fuse in a meter's 10 A socket. Common practice, no source.
const (
	asleepMinutes = 40
	asleepShort   = 2
	meterFuse     = 10
)

// writeDrain puts a meter in series without breaking the supply: it bridges the joint before
// the joint opens, and is bridged before it comes off.
func writeDrain(o *order, _ Sitting, _ string, _ int) {
	earthed, _ := o.sides()
	clamp, post := clampOf(earthed, 1), o.earthedPost()
	o.prepareWith("drain_prepare")
	o.do("drain_range")
	o.Leads = append(o.Leads, Lead{ID: "meter", Ends: Pair{"probe_clamp", "probe_post"}, Role: earthed, FuseA: fuse(meterFuse)})
	o.lay("probe_post", "mat", "drain_lay")
	o.clamp("probe_clamp", clamp, "drain_clip_clamp")
	o.clamp("probe_post", post, "drain_clip_post")
	o.say(Step{Op: LiftOff, End: clamp, Place: post}, "drain_lift", school.Electronics)
	o.say(Step{Op: Cover, End: clamp}, "drain_bag")
	o.do("drain_closed")
	o.wait(map[bool]float64{true: asleepShort, false: asleepMinutes}[o.traction || !o.modules], "drain_sleep")
	o.read("drain ", "drain_read")
	o.say(Step{Op: Uncover, End: clamp}, "unbag")
	o.back(PutOn, LiftOff, clamp, "drain_back")
	o.unclamp("probe_post", "drain_post_off")
	o.lay("probe_post", "mat", "drain_lay_off")
	o.unclamp("probe_clamp", "drain_clamp_off")
	o.do("drain_days")
}

// loadSettings is every battery whose posts are reached.
func loadSettings(r rig) []Sitting {
	if r.remote {
		return nil
	}
	return []Sitting{{Vehicle: r.code}}
}

// coolMinutes is how long a load cools before the next test. Common practice, no source.
const coolMinutes = 1

func writeLoad(o *order, _ Sitting, _ string, _ int) {
	earthed, live := o.sides()
	o.prepare()
	o.ask("load_charged", school.FrozenOrDamaged, school.EyeClear, school.GlowingLoad)
	if o.side {
		o.do("side_adapters")
	}
	o.isolate()
	o.do("load_backed_off")
	o.add("tester", Bench, "tester_plus", "tester_minus")
	o.Leads = append(o.Leads,
		Lead{ID: "tester_lead_plus", Ends: Pair{"tester_plus", "tester_clip_plus"}, Role: Plus},
		Lead{ID: "tester_lead_minus", Ends: Pair{"tester_minus", "tester_clip_minus"}, Role: Minus})
	liveClip, earthClip := o.clips("tester")
	o.say(Step{Op: Uncover, Place: post(live, 1)}, "uncover")
	o.clamp(liveClip, post(live, 1), "load_live")
	o.clamp(earthClip, post(earthed, 1), "load_earth")
	o.read("load ", "load_read")
	o.do("load_off")
	o.unclamp(earthClip, "load_earth_off")
	o.unclamp(liveClip, "load_live_off")
	o.back(Cover, Uncover, post(live, 1), "cover")
	o.wait(coolMinutes, "load_cool")
	o.together()
}

// lockedSettings are cars that a flat battery locks.
func lockedSettings(r rig) []Sitting {
	if !r.modules || r.count > 1 {
		return nil
	}
	out := []Sitting{{Vehicle: r.code, By: "blade"}}
	if r.remote || r.traction {
		out = append(out, Sitting{Vehicle: r.code, By: "front_post"})
	}
	return append(out, Sitting{Vehicle: r.code, By: "outside_lead"})
}

func writeLocked(o *order, s Sitting, _ string, _ int) {
	if o.traction {
		o.do("jump_orange", school.HighVoltage)
	}
	o.do("locked_blade")
	if s.By == "blade" {
		o.do("locked_inside")
		o.do("locked_fob")
		o.do("locked_keep")
		return
	}
	o.do("glasses", school.Acid, school.Tools)
	live, earthed := o.outsidePlaces(s.By)
	o.bring(Pack, Pack, o.volts(), nil)
	clipLive, clipEarth := o.clips(Pack)
	o.do("locked_find_" + s.By)
	o.say(Step{Op: Uncover, Place: live}, "uncover_front")
	o.clamp(clipLive, live, "locked_live")
	o.clamp(clipEarth, earthed, "locked_earth")
	o.say(Step{Op: SwitchOn, Source: Pack}, "locked_feed")
	o.ask("locked_open")
	o.back(SwitchOff, SwitchOn, Pack, "jump_pack_off")
	o.unclamp(clipEarth, "jump_clip_earth_off")
	o.unclamp(clipLive, "jump_clip_live_off")
	o.back(Cover, Uncover, live, "cover")
	o.do("locked_keep")
}

// outsidePlaces are the posts under a lid in front, or the ends of a lead that was led
// outside.
func (o *order) outsidePlaces(by string) (live, earthed string) {
	e, l := o.sides()
	if by == "front_post" && o.remote {
		return "remote_" + l, "remote_" + e
	}
	o.add("vehicle", Stud, "outside_live")
	o.Joined = append(o.Joined, Pair{"outside_live", "starter"})
	return "outside_live", o.metal
}
