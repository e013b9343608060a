package procedure

import "grapnel/core/school"

const (
	byClips   = "clips"
	bySocket  = "socket"
	byClamps  = "clamps"
	byRings   = "rings"
	byNothing = "none"
)

// maintainerSettings: rings want a screwed clamp to sit under, and a lead that is laid out
// to where it is reached.
func maintainerSettings(r rig) []Sitting {
	if r.alone || r.remote || r.count > 1 {
		return []Sitting{{Vehicle: r.code, By: byClamps}}
	}
	return []Sitting{{Vehicle: r.code, By: byClamps}, {Vehicle: r.code, By: byRings}}
}

// Fuses of a maintainer's leads, A. Values from memory.
const (
	maintainerFuse = 7.5
	keepAliveFuse  = 5
)

const maintainer = "maintainer"

func fuse(amps float64) *float64 { return &amps }

func writeMaintainer(o *order, s Sitting, way string, _ int) {
	o.prepare()
	o.ask("maintain_fit", school.FrozenOrDamaged, school.Lithium)
	o.do("maintain_place", school.Ventilation, school.OutdoorsMains)
	if s.By == byRings {
		o.rings()
	} else {
		o.posts()
		o.bring(maintainer, Charger, o.volts(), fuse(maintainerFuse))
		live, earthed := o.clips(maintainer)
		o.reach()
		o.clipsOn(maintainer, o.livePost(), o.earthPoint(way))
		o.Stays = append(o.Stays, Pair{live, o.livePost()}, Pair{earthed, o.earthPoint(way)})
		o.back(Cover, Uncover, o.livePost(), "maintain_cover")
	}
	o.maintains()
}

// maintains has it begin and written down.
func (o *order) maintains() {
	o.say(Step{Op: Plug, Source: maintainer}, "maintain_plug")
	o.do("maintain_set")
	o.read("charge ", "maintain_check")
	o.do("maintain_note")
}

// rings are two eyes under the clamps' own bolts, left there: the earthed clamp is off while
// a spanner is at the live one.
func (o *order) rings() {
	earthed, live := o.sides()
	o.bring(maintainer, Charger, o.volts(), fuse(maintainerFuse))
	ringLive, ringEarth := o.clips(maintainer)
	if o.side {
		o.do("ring_spacer")
	}
	o.earthOff()
	o.say(Step{Op: Uncover, Place: o.livePost()}, "uncover")
	o.clamp(ringLive, clampOf(live, 1), "ring_live")
	o.shut()
	o.earthOn()
	o.clamp(ringEarth, clampOf(earthed, 1), "ring_earth")
	o.Stays = append(o.Stays, Pair{ringLive, clampOf(live, 1)}, Pair{ringEarth, clampOf(earthed, 1)})
	o.do("ring_lead")
}

// socketSettings are vehicles with an accessory socket.
func socketSettings(r rig) []Sitting {
	if !r.modules {
		return nil
	}
	return []Sitting{{Vehicle: r.code}}
}

// socket puts the vehicle's accessory socket into the scene, and the plug of a source that
// fits it: its tip on the live side, its shell on the body.
func (o *order) socket(id string) (tip string) {
	_, live := o.sides()
	tip, shell := id+"_tip", id+"_shell"
	o.add("vehicle", Socket, "socket")
	o.Joined = append(o.Joined, Pair{"socket", "starter"})
	o.add(id+"_plug", ClampEnd, tip, shell)
	for i := range o.Leads {
		l := &o.Leads[i]
		for _, side := range []string{Plus, Minus} {
			if l.Ends[1] != id+"_clip_"+side {
				continue
			}
			if l.Ends[1] = shell; side == live {
				l.Ends[1] = tip
			}
		}
	}
	return tip
}

func writeSocket(o *order, _ Sitting, _ string, _ int) {
	o.glasses()
	o.do("still", school.VehicleMoves)
	o.ask("maintain_fit", school.FrozenOrDamaged, school.Lithium)
	o.do("maintain_place", school.Ventilation, school.OutdoorsMains)
	o.ask("socket_live")
	o.ask("socket_fuse")
	o.bring(maintainer, Charger, o.volts(), fuse(maintainerFuse))
	tip := o.socket(maintainer)
	o.say(Step{Op: Plug, End: tip, Place: "socket"}, "socket_plug")
	o.Stays = append(o.Stays, Pair{tip, "socket"})
	if o.traction {
		o.do("socket_sleep")
	}
	o.maintains()
}

// keepAliveSettings are vehicles with electronics.
func keepAliveSettings(r rig) []Sitting {
	if !r.modules {
		return nil
	}
	return []Sitting{{Vehicle: r.code, By: byClips}, {Vehicle: r.code, By: bySocket}}
}

func writeKeepAlive(o *order, s Sitting, _ string, _ int) {
	o.prepare()
	o.keepAliveOn(s.By)
	o.do("keep_work", school.LiveClamp, school.Electronics)
	o.keepAliveOff(s.By)
	o.do("keep_after")
}

const keepAlive = "keep_alive"

// keepAliveOn joins a small fused supply to the vehicle's own cables, or to its socket.
func (o *order) keepAliveOn(by string) {
	if by == byNothing || by == "" {
		return
	}
	o.bring(keepAlive, KeepAlive, o.volts(), fuse(keepAliveFuse))
	o.ask("keep_draw")
	if by == bySocket {
		tip := o.socket(keepAlive)
		o.ask("socket_live")
		o.say(Step{Op: Plug, End: tip, Place: "socket"}, "keep_socket", school.Electronics)
	} else {
		live, earthed := o.clips(keepAlive)
		liveAt, earthAt := o.keepPlaces()
		o.clamp(live, liveAt, "keep_live", school.Electronics)
		o.clamp(earthed, earthAt, "keep_earth")
	}
	o.say(Step{Op: SwitchOn, Source: keepAlive}, "keep_on", school.LiveClamp)
}

// keepPlaces are the vehicle's cables, or its posts in front: never the battery's own.
func (o *order) keepPlaces() (live, earthed string) {
	e, l := o.sides()
	if o.remote {
		return "remote_" + l, "remote_" + e
	}
	return clampOf(l, 1), o.metal
}

func (o *order) keepAliveOff(by string) {
	if by == byNothing || by == "" {
		return
	}
	o.back(SwitchOff, SwitchOn, keepAlive, "keep_off")
	if by == bySocket {
		o.back(Unplug, Plug, keepAlive+"_tip", "keep_socket_off")
		return
	}
	live, earthed := o.clips(keepAlive)
	o.unclamp(earthed, "keep_earth_off")
	o.unclamp(live, "keep_live_off")
}

// switchSettings: where a switch fits on the one earthed post that feeds the vehicle.
func switchSettings(r rig) []Sitting {
	if r.alone || r.remote || r.traction || r.side || r.join == parallel {
		return nil
	}
	return []Sitting{{Vehicle: r.code, Bypass: "none"}, {Vehicle: r.code, Bypass: "fused"}}
}

// bypassFuse is the fuse in a bypass, A. Value from memory.
const bypassFuse = 10

func writeSwitch(o *order, s Sitting, _ string, _ int) {
	earthed, _ := o.sides()
	clamp, post := clampOf(earthed, 1), o.earthedPost()
	o.prepare()
	o.ask("switch_memory", school.Electronics)
	o.add("switch", Stud, "switch_stud")
	o.Leads = append(o.Leads, Lead{ID: "switch", Ends: Pair{"switch_post", "switch_stud"}, Role: earthed})
	o.Stays = append(o.Stays, Pair{"switch_post", post}, Pair{clamp, "switch_stud"})
	o.earthOff()
	o.say(Step{Op: PutOn, End: "switch_post", Place: post}, "switch_on_post")
	if s.Bypass == "fused" {
		o.Leads = append(o.Leads, Lead{ID: "bypass", Ends: Pair{"bypass_post", "bypass_stud"}, Role: earthed, FuseA: fuse(bypassFuse)})
		o.Stays = append(o.Stays, Pair{"bypass_post", post}, Pair{"bypass_stud", "switch_stud"})
		o.say(Step{Op: PutOn, End: "bypass_stud", Place: "switch_stud"}, "switch_bypass_stud")
		o.say(Step{Op: PutOn, End: "bypass_post", Place: post}, "switch_bypass_post")
	}
	o.say(Step{Op: PutOn, End: clamp, Place: "switch_stud"}, "switch_clamp")
	o.say(Step{Op: SwitchOn, Lead: "switch"}, "switch_close", school.Spark)
	o.ask("switch_try")
	o.say(Step{Op: SwitchOff, Lead: "switch"}, "switch_open")
	if s.Bypass == "fused" {
		o.do("switch_never")
	}
	o.do("switch_tag")
}
