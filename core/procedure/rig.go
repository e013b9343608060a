package procedure

import "slices"

// rig is how a battery sits in a kind of vehicle: what the work on it hangs on.
type rig struct {
	code string
	// nominal is that of one battery, V; count how many there are and join how they hang
	// together: parallel or series.
	nominal float64
	count   int
	join    string
	earth   string
	// metal is the bare metal that takes the last clamp; avoid are the places nearby that take
	// none.
	metal string
	avoid []string
	rigIs
}

// rigIs are the yes and no of a rig.
type rigIs struct {
	// remote: posts in front, the battery out of reach behind. side: pads in its side.
	remote, side bool
	// traction: a hybrid or electric car, whose 12 V cranks nothing. modules: electronics that
	// want a keep-alive. monitor: a sensor on the earthed post.
	traction, modules, monitor bool
	// alone: it stands on a bench, no vehicle around it. out: it is taken out to be charged.
	alone, out bool
	// caps: its cells open. small: a small engine. tube: its gas leaves by a tube. diesel: it
	// glows first. idle: it turns nothing at all.
	caps, small, tube, diesel, idle bool
	// either: its body may lie on plus as well.
	either bool
}

const (
	parallel = "parallel"
	series   = "series"
)

// Bare metal of the kinds of vehicle.
const (
	liftingEye  = "lifting_eye"
	groundBolt  = "ground_bolt"
	engineBlock = "engine_block"
	frame       = "frame"
)

// rigs are the batteries and where they sit, the ordinary car first. Common practice, no
// source.
var rigs = []rig{
	{"car", 12, 1, "", Negative, liftingEye, bay, rigIs{modules: true, caps: true}},
	{"car_side", 12, 1, "", Negative, liftingEye, bay, rigIs{modules: true, side: true}},
	{"car_boot", 12, 1, "", Negative, groundBolt, bay, rigIs{modules: true, remote: true, tube: true}},
	{"car_seat", 12, 1, "", Negative, groundBolt, bay, rigIs{modules: true, remote: true, tube: true}},
	{"car_arch", 12, 1, "", Negative, groundBolt, bay, rigIs{modules: true, remote: true, tube: true}},
	{"start_stop", 12, 1, "", Negative, groundBolt, bay, rigIs{modules: true, monitor: true}},
	{"two_parallel", 12, 2, parallel, Negative, engineBlock, bay, rigIs{modules: true, caps: true, diesel: true}},
	{"two_24v", 12, 2, series, Negative, frame, bay, rigIs{caps: true, diesel: true}},
	{"hybrid", 12, 1, "", Negative, groundBolt, bay, rigIs{modules: true, remote: true, traction: true, tube: true}},
	{"electric", 12, 1, "", Negative, groundBolt, []string{"wing", "orange"}, rigIs{modules: true, traction: true}},
	{"motorcycle", 12, 1, "", Negative, frame, []string{"exhaust", "tank"}, rigIs{out: true, small: true}},
	{"offroad", 12, 1, "", Negative, frame, []string{"exhaust", "tank", "belt"}, rigIs{out: true, small: true}},
	{"mower", 12, 1, "", Negative, frame, []string{"belt", "exhaust", "tank"}, rigIs{small: true, caps: true}},
	{"classic_12v", 12, 1, "", Negative, engineBlock, bay, rigIs{caps: true, either: true}},
	{"classic_6v", 6, 1, "", Negative, engineBlock, bay, rigIs{caps: true, either: true}},
	{"tractor_8v", 8, 1, "", Negative, engineBlock, bay, rigIs{caps: true, either: true}},
	{"two_sixes", 6, 2, series, Negative, engineBlock, bay, rigIs{caps: true, either: true}},
	{"bank", 12, 3, parallel, Negative, frame, nil, rigIs{caps: true, idle: true}},
	{"bench", 12, 1, "", Negative, "", nil, rigIs{alone: true, caps: true}},
}

// bay are the places of an engine bay that take no clamp.
var bay = []string{"belt", "exhaust", "fuel_rail", "wing"}

// hazardOf is what is wrong with a place that takes no clamp.
var hazardOf = map[string]string{
	"belt": Belt, "exhaust": Hot, "fuel_rail": Fuel, "tank": Fuel, "wing": Paint, "orange": Hot, "hold_down": NearBattery,
}

// rigOf is the rig of a setting.
func rigOf(s Sitting) rig {
	i := slices.IndexFunc(rigs, func(r rig) bool { return r.code == s.Vehicle })
	r := rigs[max(0, i)]
	if s.Earth != "" {
		r.earth = s.Earth
	}
	if s.Where == onBench {
		r.alone, r.remote, r.count, r.join = true, false, 1, ""
	}
	return r
}

// volts are those of the whole.
func (r rig) volts() float64 {
	if r.join == series {
		return r.nominal * float64(r.count)
	}
	return r.nominal
}

// post is a post of one of its batteries, numbered from 1.
func post(side string, n int) string { return numbered("battery_"+side, n) }

func clampOf(side string, n int) string { return numbered("clamp_"+side, n) }

func numbered(id string, n int) string {
	if n <= 1 {
		return id
	}
	return id + "_" + string(rune('0'+n))
}

// sides of a rig: the one that lies on the body, and the other.
func (r rig) sides() (earthed, live string) {
	if r.earth == Positive {
		return Plus, Minus
	}
	return Minus, Plus
}

// livePost is where the live side of the whole is reached: the marked post in front, or the
// post of the battery that the starter cable sits on.
func (r rig) livePost() string {
	_, live := r.sides()
	switch {
	case r.remote:
		return "remote_" + live
	case r.join == series:
		return post(live, r.count)
	}
	return post(live, 1)
}

// earthedPost is the earthed post of the battery that sits on the body.
func (r rig) earthedPost() string {
	earthed, _ := r.sides()
	return post(earthed, 1)
}

// earthPoint is where the last clamp of a school goes. On the side of a sensor that is the
// body by every school: it must see the current.
func (r rig) earthPoint(way string) string {
	switch {
	case r.alone, way == SchoolPost && !r.remote && !r.monitor:
		return r.earthedPost()
	case r.remote:
		earthed, _ := r.sides()
		return "remote_" + earthed
	}
	return r.metal
}

// scene is the rig before anything is brought to it.
func (r rig) scene(way string) *Scene {
	earthed, live := r.sides()
	sc := &Scene{Earth: r.earth, School: way, Stays: []Pair{}}
	for n := 1; n <= r.count; n++ {
		id := numbered(Battery, n)
		sc.Sources = append(sc.Sources, Source{id, post(Plus, n), post(Minus, n), r.nominal, true, Battery})
		sc.add(id, Post, post(Minus, n), post(Plus, n))
	}
	sc.add("bench", Bench, "bench")
	sc.add("ground", Away, "mat")
	if r.alone {
		return sc
	}
	sc.add("vehicle", Body, r.metal)
	sc.add("vehicle", Stud, "starter")
	for _, id := range append(slices.Clone(r.avoid), "hold_down") {
		sc.Places = append(sc.Places, Place{id, "vehicle", Body, []string{hazardOf[id]}})
		sc.Joined = append(sc.Joined, Pair{id, r.metal})
	}
	r.cables(sc, earthed, live)
	if r.remote {
		sc.Places = append(sc.Places, Place{"remote_plus", "vehicle", RemotePlus, []string{}}, Place{"remote_minus", "vehicle", RemoteMinus, []string{}})
		sc.Joined = append(sc.Joined, Pair{"remote_" + live, "starter"}, Pair{"remote_" + earthed, r.metal})
	}
	return sc
}

// cables are the vehicle's own, with the clamps that sit on the posts.
func (r rig) cables(sc *Scene, earthed, live string) {
	cable := func(side string, n int, other string) {
		clamp := clampOf(side, n)
		sc.add("vehicle", ClampEnd, clamp)
		sc.Leads = append(sc.Leads, Lead{ID: numbered("cable_"+side, n), Ends: Pair{clamp, other}, Role: side})
		sc.Joined = append(sc.Joined, Pair{clamp, post(side, n)})
	}
	if r.join != series {
		for n := 1; n <= r.count; n++ {
			cable(earthed, n, r.metal)
			cable(live, n, "starter")
		}
		return
	}
	cable(earthed, 1, r.metal)
	cable(live, r.count, "starter")
	sc.add("vehicle", ClampEnd, "link_near", "link_far")
	sc.Leads = append(sc.Leads, Lead{ID: "link", Ends: Pair{"link_near", "link_far"}, Role: live})
	sc.Joined = append(sc.Joined, Pair{"link_near", post(live, 1)}, Pair{"link_far", post(earthed, r.count)})
}

func (sc *Scene) add(on, kind string, ids ...string) {
	for _, id := range ids {
		sc.Places = append(sc.Places, Place{id, on, kind, []string{}})
	}
}

// bring puts a source with its two loose leads beside the scene: the ends are named after
// it and their side.
func (sc *Scene) bring(id, kind string, nominal float64, fuse *float64) {
	sc.Sources = append(sc.Sources, Source{id, id + "_plus", id + "_minus", nominal, false, kind})
	sc.add(id, Away, id+"_plus", id+"_minus")
	for _, side := range []string{Plus, Minus} {
		lead := Lead{ID: id + "_lead_" + side, Ends: Pair{id + "_" + side, id + "_clip_" + side}, Role: side}
		if side == Plus || sc.Earth == Positive {
			lead.FuseA = fuse
		}
		sc.Leads = append(sc.Leads, lead)
	}
}
