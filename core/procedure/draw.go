package procedure

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"grapnel/core/drawing"
	"grapnel/core/wording"
)

// Draw is what a person has in front of them in each step of an order: the vehicle from
// above, every lead where it is once the step is done, what moves ringed.
func Draw(s Sitting, w Written) []drawing.Scene {
	out := make([]drawing.Scene, len(w.Steps))
	p := newPicture(s, w)
	for i := range w.Steps {
		p.step(i)
		out[i] = p.scene(i)
	}
	return out
}

// LastClamp is the picture of an order with everything on: at the last clamp before it
// cranks or is taken off. The bare metal and the earthed post may be tapped, each for its
// school.
func LastClamp(s Sitting, w Written) drawing.Scene {
	last := 0
	for i, st := range w.Steps {
		if st.Op == Unclamp {
			break
		}
		if st.Op == Clamp {
			last = i
		}
	}
	p := newPicture(s, w)
	for i := range last + 1 {
		p.step(i)
	}
	sc, r := p.scene(last), p.rig
	for i := range sc.Parts {
		if sc.Parts[i].ID == r.metal {
			sc.Parts[i].Hit = SchoolBody
		}
	}
	if r.remote || r.monitor {
		return sc
	}
	at := p.at[r.earthedPost()]
	post := box{at.x - 15, at.y - 15, 30, 30}.part("pick_post", "")
	post.Hit = SchoolPost
	sc.Parts = append(sc.Parts, post)
	return sc
}

// picture goes through an order and knows where each thing lies.
type picture struct {
	*state
	rig   rig
	stage stage
	steps []Step
	wide  float64
	// at are the places, tools where what was brought stands.
	at    map[string]spot
	tools []drawing.Part
	// done is the step, from 1, that put an end where it is; seen are the leads that were
	// taken up.
	done map[string]int
	seen map[string]bool
	// lying is where an end was laid.
	lying map[string]string
}

func newPicture(s Sitting, w Written) *picture {
	r := rigOf(s)
	code := r.code
	if r.alone {
		code = "bench"
	}
	p := &picture{
		state: begin(&w.Scene, w.Steps), rig: r, stage: stages[code], steps: w.Steps, wide: vehicleWide,
		at: map[string]spot{}, done: map[string]int{}, seen: map[string]bool{}, lying: map[string]string{},
	}
	for id, at := range p.stage.at {
		p.at[id] = at
	}
	for id, b := range p.stage.zones {
		if _, ok := p.at[id]; !ok {
			p.at[id] = b.middle()
		}
	}
	for n := 1; n <= r.count && n <= len(p.stage.batteries); n++ {
		minus, plus := p.stage.batteries[n-1].posts(r.side)
		p.at[post(Minus, n)], p.at[post(Plus, n)] = minus, plus
	}
	p.bringTools()
	return p
}

// Where what is brought stands beside the vehicle.
var (
	toolAt   = box{vehicleWide + 24, 196, 124, 96}
	helperAt = box{vehicleWide + 14, 60, 136, 82}
	donorAt  = vehicleWide + gap
)

// bringTools lays out what was brought: a donor is a vehicle of its own beside this one.
func (p *picture) bringTools() {
	for _, source := range p.state.scene.Sources {
		switch {
		case source.Kind == Donor:
			p.donor()
		case source.ID == "helper":
			p.wide = vehicleWide + toolWide
			b := helperAt.part("helper", "battery_above")
			p.tools = append(p.tools, b)
			minus, plus := helperAt.posts(false)
			p.at[source.Minus], p.at[source.Plus] = minus, plus
		case source.Kind != Battery:
			p.tool(source.ID, toolSymbols[source.Kind], source.Plus, source.Minus)
		}
	}
	for _, l := range p.state.scene.Leads {
		switch l.ID {
		case "meter":
			p.tool("meter", "meter", "", "")
		case "tester_lead_plus":
			p.tool("tester", "load_box", "tester_plus", "tester_minus")
		case "switch":
			minus := p.at[p.rig.earthedPost()]
			p.at["switch_stud"] = spot{max(40, minus.x-24), minus.y + 88}
			p.at["switch"] = p.at["switch_stud"]
		}
	}
	p.at["mat"] = spot{p.wide - toolWide/2, vehicleTall - 84}
	p.at["bench"] = p.at["mat"]
	if _, ok := p.at["donor_plus"]; ok {
		p.at["mat"] = spot{vehicleWide + gap/2, vehicleTall - 84}
		p.at["hand"] = spot{vehicleWide + gap/2, 60}
	}
}

var toolSymbols = map[string]string{Charger: "charger", Pack: "pack", KeepAlive: "supply"}

func (p *picture) tool(id, symbol, plus, minus string) {
	p.wide = max(p.wide, vehicleWide+toolWide)
	b := toolAt
	if slices.ContainsFunc(p.tools, func(t drawing.Part) bool { return t.ID == "helper" }) {
		b.y = 250
	}
	t := b.part(id, symbol)
	t.Name = short(id)
	p.tools = append(p.tools, t)
	p.at[id] = b.middle()
	// The lead that goes up leaves from above, so that the two do not cross.
	high, low := spot{b.x + 18, b.y + 30}, spot{b.x + 18, b.y + b.h - 30}
	if p.at[p.plusPost()].y > p.at[p.minusPost()].y {
		high, low = low, high
	}
	p.at[plus], p.at[minus] = high, low
}

// plusPost and minusPost are where the two leads of what is brought go.
func (p *picture) plusPost() string {
	if p.rig.earth == Positive {
		return p.rig.earthPoint(p.state.scene.School)
	}
	return p.rig.livePost()
}

func (p *picture) minusPost() string {
	if p.rig.earth == Positive {
		return p.rig.livePost()
	}
	return p.rig.earthPoint(p.state.scene.School)
}

// donor is another vehicle, its battery on the near side.
func (p *picture) donor() {
	p.wide = donorAt + vehicleWide
	b := box{donorAt + 44, 66, batteryWide, batteryTall}
	body := box{donorAt + 12, 12, 376, 446}.part("donor_car", "car_above")
	engine := box{donorAt + 104, 214, 190, 206}.part("donor", "engine_above")
	engine.Name = wording.Word("drawn_engine")
	battery := b.part("donor_battery", "battery_above")
	battery.Value = wording.Text("scene.nominal", wording.Values{"volts": p.rig.volts()})
	p.tools = append(p.tools, body, engine, battery, nameAt(donorAt+vehicleWide/2, "drawn_donor"))
	p.at["donor_minus"], p.at["donor_plus"] = b.posts(false)
	p.at["donor"] = box{donorAt + 104, 214, 190, 206}.middle()
}

// nameAt writes what a vehicle is at its foot.
func nameAt(x float64, code string) drawing.Part {
	n := box{x - 60, vehicleTall - 30, 120, 16}.part(code, "name")
	n.Name = wording.Word(code)
	return n
}

// step does a step on the picture.
func (p *picture) step(i int) {
	st := &p.steps[i]
	it := st.subject()
	switch st.Op {
	case Lay:
		p.lying[it] = st.Place
	case Clamp, PutOn, Plug:
		delete(p.lying, it)
	}
	if st.Op.changes() || st.Op == Lay {
		p.done[it] = i + 1
		p.seen[p.lead[it].ID] = true
	}
	p.take(st)
}

// scene is the picture after a step.
func (p *picture) scene(i int) drawing.Scene {
	st := &p.steps[i]
	sc := drawing.Scene{Code: "procedure", Width: p.wide, Height: vehicleTall, Parts: p.ground(), Leads: []drawing.Lead{}}
	sc.Leads = append(sc.Leads, p.cables()...)
	sc.Parts = append(sc.Parts, p.tools...)
	p.vehicleClamps(&sc)
	leads, clips := p.brought(i)
	sc.Leads, sc.Parts = append(sc.Leads, leads...), append(sc.Parts, clips...)
	p.covers(&sc)
	p.ring(&sc, st)
	sc.Focus = p.focus(st)
	sc.Says = wording.Say("scene.procedure", wording.Values{"step": i + 1, "of": len(p.steps), "text": st.Text, "joined": p.joinedInWords()})
	return sc
}

// roomForVolts is how wide a battery must be drawn to have its volts between its posts.
const roomForVolts = 130

// ground is what lies under everything: the vehicle, its battery, what turns and burns.
func (p *picture) ground() []drawing.Part {
	s := p.stage
	parts := []drawing.Part{s.body.part("body", s.symbol)}
	if _, donor := p.at["donor_plus"]; donor {
		parts = append(parts, nameAt(vehicleWide/2, "drawn_here"))
	}
	if s.engine.w > 0 && !p.rig.alone {
		engine := s.engine.part("engine", "engine_above")
		engine.Name = wording.Word("drawn_engine")
		parts = append(parts, engine)
	}
	for _, id := range p.rig.avoid {
		if b, ok := s.zones[id]; ok && !p.rig.alone {
			zone := b.part(id, "keep_clear")
			zone.State, zone.Name = drawing.Bad, wording.Word("drawn_"+id)
			parts = append(parts, zone)
		}
	}
	for n := 1; n <= p.rig.count && n <= len(s.batteries); n++ {
		b := s.batteries[n-1].part(numbered(Battery, n), "battery_above")
		b.Marks = append(b.Marks, "cells_"+strconv.Itoa(int(p.rig.nominal)/2))
		if p.rig.side {
			b.Marks = append(b.Marks, "pads")
		}
		if p.rig.monitor {
			b.Marks = append(b.Marks, "monitor")
		}
		if b.W >= roomForVolts {
			b.Value = wording.Text("scene.nominal", wording.Values{"volts": p.rig.nominal})
		}
		parts = append(parts, b)
	}
	return append(parts, p.points()...)
}

// points are the places that a clamp may go to, and the mat.
func (p *picture) points() []drawing.Part {
	var parts []drawing.Part
	point := func(id, symbol string, size float64) {
		if at, ok := p.at[id]; ok {
			parts = append(parts, box{at.x - size/2, at.y - size/2, size, size}.part(id, symbol))
		}
	}
	if !p.rig.alone {
		point(p.rig.metal, "bare_metal", 24)
		switch {
		case p.rig.idle:
			point("starter", "stud", 34)
		case p.rig.engine():
			point("starter", "starter_above", 40)
		case !p.rig.remote:
			point("starter", "converter", 64)
		}
	}
	if p.rig.remote {
		point("remote_plus", "front_post", 30)
		point("remote_minus", "front_bolt", 26)
	}
	for _, id := range []string{"socket", "outside_live"} {
		if p.places[id].ID != "" {
			point(id, id, 30)
		}
	}
	if slices.ContainsFunc(p.steps, func(st Step) bool { return st.Op == Lay && st.Place != "hand" }) {
		mat := p.at["mat"]
		m := box{mat.x - 26, mat.y - 34, 52, 76}.part("mat", "mat")
		m.Name = wording.Word("drawn_mat")
		parts = append(parts, m)
	}
	if slices.ContainsFunc(p.steps, func(st Step) bool { return st.Place == "hand" }) {
		hand := p.at["hand"]
		h := box{hand.x - 22, hand.y - 26, 44, 60}.part("hand", "person")
		h.Name = wording.Word("drawn_second")
		parts = append(parts, h)
	}
	return parts
}

// cables are the vehicle's own, from the clamps to where they lead.
func (p *picture) cables() []drawing.Lead {
	var leads []drawing.Lead
	for _, l := range p.state.scene.Leads {
		if !strings.HasPrefix(l.ID, "cable_") && l.ID != "link" {
			continue
		}
		from, to := p.where(l.Ends[0]), p.where(l.Ends[1])
		leads = append(leads, drawing.Lead{ID: l.ID, Role: l.Role, Path: bow(from, to, 0.12), State: drawing.Faint, Over: true, Loose: true})
	}
	if p.rig.remote {
		live := Plus
		if p.rig.earth == Positive {
			live = Minus
		}
		leads = append(leads, drawing.Lead{ID: "along", Role: live, Path: bow(p.at["remote_"+live], p.at["starter"], 0.1), State: drawing.Faint, Over: true, Loose: true})
	}
	return leads
}

// where an end or a place is on the paper.
func (p *picture) where(id string) spot {
	if at, ok := p.at[id]; ok {
		return at
	}
	if lying := p.lying[id]; lying != "" {
		return p.lies(id, lying)
	}
	for _, one := range p.joined {
		if one[0] == id {
			return p.where(one[1])
		}
	}
	for _, one := range p.fixed {
		if one[0] == id && p.at[one[1]] != (spot{}) {
			return p.off(p.at[one[1]], id)
		}
	}
	return p.resting(id)
}

// off is beside a post, where a clamp that was lifted off it is tied.
func (p *picture) off(post spot, id string) spot {
	side, up := 54.0, 12.0
	earthed := strings.Contains(id, Minus) || strings.Contains(id, "near")
	switch {
	case p.rig.count > 1 && earthed:
		side, up = 34, 38
	case p.rig.count > 1:
		side, up = 6, -66 // below its battery, where the next one's clamp is not
	}
	if earthed {
		side = -side
	}
	return spot{max(24, min(vehicleWide-30, post.x+side)), max(34, post.y-up)}
}

// lies is where an end lies that was laid down: each beside the other.
func (p *picture) lies(id, place string) spot {
	at := p.at[place]
	if place == "hand" {
		// Whoever holds it stands at the vehicle it is for.
		if id == earthDead {
			return spot{at.x - 14, at.y + 22}
		}
		return spot{at.x + 14, at.y + 22}
	}
	if strings.Contains(id, "earth") || strings.Contains(id, Minus) {
		return spot{at.x, at.y + 22}
	}
	return spot{at.x, at.y - 12}
}

// resting is where a clip hangs that was not taken up: at what it belongs to.
func (p *picture) resting(id string) spot {
	l := p.lead[id]
	for _, end := range l.Ends {
		if end != id {
			if at, ok := p.at[end]; ok {
				return spot{at.x - 26, at.y}
			}
		}
	}
	if l.ID == "meter" {
		return spot{toolAt.x - 14, toolAt.y + 40}
	}
	if strings.HasPrefix(l.ID, "switch") || strings.HasPrefix(l.ID, "bypass") {
		return p.where("switch_stud")
	}
	return p.at["mat"]
}

// bow is a lead between two points that hangs through by a share of its length.
func bow(a, b spot, by float64) [][2]float64 {
	dx, dy := b.x-a.x, b.y-a.y
	return [][2]float64{{a.x, a.y}, {(a.x+b.x)/2 - dy*by, (a.y+b.y)/2 + dx*by}, {b.x, b.y}}
}

// vehicleClamps are the clamps of the vehicle's cables, on their posts or beside them.
func (p *picture) vehicleClamps(sc *drawing.Scene) {
	for _, place := range p.state.scene.Places {
		if place.Kind != ClampEnd || place.On != "vehicle" {
			continue
		}
		at := p.where(place.ID)
		c := box{at.x - 13, at.y - 13, 26, 26}.part(place.ID, "clamp_above")
		if !p.seated(place.ID) {
			c.Symbol, c.State = "clamp_off", drawing.Off
			c.Name = wording.Word(map[bool]string{true: "drawn_bagged", false: "drawn_off"}[p.covered[place.ID]])
			if p.tied[place.ID] {
				c.Name = wording.Word("drawn_tied")
			}
			if p.covered[place.ID] {
				c.Marks = append(c.Marks, "bag")
			}
		}
		sc.Parts = append(sc.Parts, c)
	}
}

// brought are the leads that were brought with their ends, each with the number of the step
// that put it there.
func (p *picture) brought(now int) ([]drawing.Lead, []drawing.Part) {
	var leads []drawing.Lead
	var clips []drawing.Part
	for _, l := range p.state.scene.Leads {
		if strings.HasPrefix(l.ID, "cable_") || l.ID == "link" || !p.taken(l) {
			continue
		}
		path := bow(p.where(l.Ends[0]), p.where(l.Ends[1]), p.hangs(l))
		if l.ID == "meter" {
			leads = append(leads, p.probes(l)...)
		} else {
			leads = append(leads, drawing.Lead{ID: l.ID, Role: l.Role, Path: path, Over: true, Loose: true})
		}
		for _, end := range l.Ends {
			if !slices.Contains(p.loose, end) {
				continue
			}
			at := p.where(end)
			clip := box{at.x - 13, at.y - 13, 26, 26}.part(end, "marker")
			switch {
			case p.seated(end) && p.done[end] == now+1:
				clip.State = drawing.Found
			case p.seated(end):
				clip.State = drawing.Good
			default:
				clip.State = drawing.Faint
			}
			if p.done[end] > 0 && p.seated(end) {
				clip.Value = strconv.Itoa(p.done[end])
			}
			clips = append(clips, clip)
		}
	}
	return leads, clips
}

// taken reports whether a lead is to be seen: what hangs on a tool always, others once they
// were taken up.
func (p *picture) taken(l Lead) bool {
	return p.owner[l.ID] != "" || strings.HasPrefix(l.ID, "tester") || l.ID == "meter" || p.seen[l.ID]
}

// hangs is how a lead bows: the two of a pair apart.
func (p *picture) hangs(l Lead) float64 {
	switch {
	case l.ID == "lead_live", l.ID == "wake_lead_live":
		return -0.22
	case l.ID == "lead_earth", l.ID == "wake_lead_earth":
		return 0.34
	case l.Role == Plus:
		return -0.14
	}
	return 0.14
}

// probes are a meter's two leads, from the meter to each end.
func (p *picture) probes(l Lead) []drawing.Lead {
	var out []drawing.Lead
	for i, end := range l.Ends {
		from := spot{toolAt.x + 20, toolAt.y + 30 + 40*float64(i)}
		out = append(out, drawing.Lead{ID: l.ID + "_" + strconv.Itoa(i+1), Role: "thin", Path: bow(from, p.where(end), 0.12), Over: true, Loose: true})
	}
	return out
}

// covers are the covers that are on or off.
func (p *picture) covers(sc *drawing.Scene) {
	for id := range p.state.places {
		at, known := p.at[id]
		if !known || !p.bare[id] && !p.covered[id] || p.places[id].Kind == ClampEnd {
			continue
		}
		c := box{at.x - 20, at.y - 20, 40, 40}.part("cover_"+id, "cover_off")
		if p.covered[id] {
			c.Symbol = "cover_on"
		}
		sc.Parts = append(sc.Parts, c)
	}
	slices.SortStableFunc(sc.Parts, func(a, b drawing.Part) int {
		return boolInt(strings.HasPrefix(a.ID, "cover_")) - boolInt(strings.HasPrefix(b.ID, "cover_"))
	})
}

func boolInt(b bool) int {
	if b {
		return 1
	}
	return 0
}

// ring goes round what a step moves, with its name beside it.
func (p *picture) ring(sc *drawing.Scene, st *Step) {
	at, name, ok := p.moved(st)
	if !ok {
		return
	}
	r := box{at.x - 30, at.y - 30, 60, 60}.part("ring", "ring_here")
	r.Name, r.State = name, drawing.Found
	sc.Parts = append(sc.Parts, r)
}

// moved is where a step's hand is, and what is there.
func (p *picture) moved(st *Step) (spot, string, bool) {
	for _, id := range []string{st.Place, st.End, st.Lead, st.Source} {
		if id == "" || id == "mat" || id == "bench" || id == "hand" {
			continue
		}
		at := p.where(id)
		if st.Op == LiftOff || st.Op == TieAway {
			at = p.where(st.End)
		}
		if at != (spot{}) {
			return at, short(id), true
		}
	}
	if st.Op == Crank {
		if at, ok := p.at["starter"]; ok && p.rig.engine() {
			return at, wording.Word("drawn_starter"), true
		}
	}
	return spot{}, "", false
}

func (r rig) engine() bool { return !r.idle && !r.traction && !r.alone }

// short is what a thing is called on a drawing, where there is room for a word or two.
func short(id string) string {
	if code := "word.drawn_" + id; wording.Has(code) {
		return wording.Word("drawn_" + id)
	}
	return ""
}

// focusMore is how much of what lies between two vehicles a narrow screen shows of each.
const focusMore = 36.0

// focus is the part of the paper that a narrow screen shows: the vehicle the hand is at, with
// what was brought.
func (p *picture) focus(st *Step) [4]float64 {
	if _, donor := p.at["donor_plus"]; !donor {
		return [4]float64{0, 0, p.wide, vehicleTall}
	}
	at, _, ok := p.moved(st)
	if ok && at.x > vehicleWide+gap {
		return [4]float64{vehicleWide - focusMore, 0, vehicleWide + gap + focusMore, vehicleTall}
	}
	return [4]float64{0, 0, vehicleWide + gap + focusMore, vehicleTall}
}

// joinedInWords are what hangs where, for who does not see it.
func (p *picture) joinedInWords() string {
	var said []string
	for _, one := range p.joined {
		if slices.Contains(p.fixed, one) || !slices.Contains(p.loose, one[0]) {
			continue
		}
		said = append(said, fmt.Sprintf("%s: %s", called(one[0]), called(one[1])))
	}
	if len(said) == 0 {
		return wording.Word("drawn_nothing")
	}
	return strings.Join(said, "; ")
}
