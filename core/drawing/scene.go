// Package drawing holds scenes: what a person has in front of them, as data. A scene says
// which parts there are, where they lie, how they are joined, what state each is in and what
// is heard of it by somebody who does not see it. How a part is drawn is the screen's
// matter: it has one symbol for each.
package drawing

import (
	"maps"
	"slices"
	"strings"

	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/reading"
	"grapnel/core/trail"
	"grapnel/core/wording"
)

// Scene is one drawing. Places and sizes are in its own units, from the left and the top;
// what comes first lies underneath.
type Scene struct {
	Code   string  `json:"code"`
	Width  float64 `json:"width"`
	Height float64 `json:"height"`
	Parts  []Part  `json:"parts"`
	Leads  []Lead  `json:"leads"`
	// Focus is the part that a narrow screen shows, left, top, width and height; all zero for
	// the whole.
	Focus [4]float64 `json:"focus"`
	// Says is the whole in words.
	Says wording.Statement `json:"says"`
}

// Part is one thing of a scene.
type Part struct {
	ID string `json:"id"`
	// Symbol is what it is drawn as; empty for what is in its list only.
	Symbol string  `json:"symbol"`
	X      float64 `json:"x"`
	Y      float64 `json:"y"`
	W      float64 `json:"w"`
	H      float64 `json:"h"`
	// Sign is plus or minus, for what has one.
	Sign  string `json:"sign"`
	State State  `json:"state"`
	// Marks are what was found on it, by their codes.
	Marks []string `json:"marks"`
	// Tests are the numbers of the steps that are measured there.
	Tests []int `json:"tests"`
	// Name stands beside it, Value in it or beside it.
	Name  string `json:"name"`
	Value string `json:"value"`
	// Hit is what it means to tap it: the place or the joint; empty for nothing.
	Hit string `json:"hit"`
	// Line begins the reading that is taken there; empty where none is.
	Line string `json:"line"`
}

// State is how a part is shown.
type State string

// The states of a part.
const (
	Plain State = ""
	// Here is the one that is worked on, Off one that is taken off first.
	Here State = "here"
	Off  State = "off"
	// Good and Bad were measured, Found was seen.
	Good  State = "good"
	Bad   State = "bad"
	Found State = "found"
	// Faint is what is there and not meant.
	Faint State = "faint"
)

// States lists them.
func States() []State { return []State{Plain, Here, Off, Good, Bad, Found, Faint} }

// Lead joins parts: a cable, a link, the body.
type Lead struct {
	ID string `json:"id"`
	// Role is plus, minus or body: minus and body are striped.
	Role string `json:"role"`
	// Path are the points it goes through; it is bent round at each.
	Path  [][2]float64 `json:"path"`
	State State        `json:"state"`
	// Over tells that it lies over the parts, not under them.
	Over bool `json:"over"`
	// Loose tells that it hangs: its middle point pulls it, it does not go through it.
	Loose bool `json:"loose"`
}

// Roles lists what a lead may be.
func Roles() []string { return []string{"plus", "minus", "body", "thin"} }

// Symbols lists what a part may be drawn as.
func Symbols() []string {
	return []string{
		"battery_case", "battery_top", "cap", "seam", "post_clamp", "side_pad", "tray", "box", "box_signed", "starter", "alternator",
		"joint", "off", "sign", "car_side", "vent_tube", "case_edge", "adapter", "clip", "name",
		"battery_above", "clamp", "ring", "cable_end", "stud", "strap", "charger", "pack", "meter", "converter", "fuse_box",
		"bay", "boot", "seat", "motorcycle", "mower",
		"car_above", "car_whole", "cycle_above", "quad_above", "mower_above", "locker", "bench_above", "engine_above", "keep_clear", "bare_metal",
		"starter_above", "front_post", "front_bolt", "socket", "outside_live", "mat", "person", "clamp_above", "clamp_off", "marker", "ring_here",
		"cover_on", "cover_off", "supply", "load_box",
	}
}

// part is a part without marks.
func part(id, symbol string, x, y, w, h float64) Part {
	return Part{ID: id, Symbol: symbol, X: x, Y: y, W: w, H: h, Marks: []string{}, Tests: []int{}}
}

// Sides as a scene names them.
const (
	positive = "positive"
	negative = "negative"
	both     = "both"
)

// Of are the scenes of a battery on a job, as they stand.
func Of(s *trail.Situation) []Scene {
	scenes := append([]Scene{Battery(s)}, Settings(s)...)
	if circuit, ok := Circuit(s); ok {
		scenes = append(scenes, circuit)
	}
	return scenes
}

// seen are the looks that count: each finding with the side it was found on, empty for
// all.
func seen(s *trail.Situation) map[string]string {
	found := map[string]string{}
	for _, t := range s.Case.Readings {
		if t.Reading.Kind != reading.Look {
			continue
		}
		finding, where := t.Reading.Choice(reading.Finding), t.Reading.Choice(reading.Where)
		if finding == "none" {
			continue
		}
		if before, ok := found[finding]; ok && before != where {
			where = both
		}
		found[finding] = where
	}
	return found
}

// on reports whether a side is meant.
func on(where, side string) bool { return where == "" || where == both || where == side }

// Battery is the battery as it stands, with what was seen on it.
func Battery(s *trail.Situation) Scene {
	found := seen(s)
	sc := Scene{Code: "battery", Width: 280, Height: 236, Leads: []Lead{}}
	side := s.Mounting.Posts == trail.SidePosts
	marks := func(codes ...string) []string {
		out := []string{}
		for _, code := range codes {
			if _, ok := found[code]; ok {
				out = append(out, code)
			}
		}
		return out
	}
	state := func(p *Part) {
		if len(p.Marks) > 0 {
			p.State = Found
		}
	}
	tray := part("tray", "tray", 12, 212, 256, 18)
	tray.Hit, tray.Marks = "tray", marks("hold_down")
	state(&tray)
	box := part("case", "battery_case", 24, 84, 232, 124)
	box.Hit, box.Marks = "case", marks("crack", "bulge", "case_leak", "frozen", "hot")
	state(&box)
	top := part("top", "battery_top", 24, 58, 232, 26)
	top.Hit, top.Marks = "top", marks("dirty_top", "wet_vents", "smell", "hiss")
	state(&top)
	sc.Parts = append(sc.Parts, tray, box, top)
	sc.Parts = append(sc.Parts, caps(s)...)
	for _, one := range []struct {
		side, sign string
		x          float64
	}{{negative, "−", 62}, {positive, "+", 218}} {
		sc.Parts = append(sc.Parts, post(found, one.side, one.sign, one.x, side))
		if side {
			continue
		}
		cable := Lead{ID: "cable_" + one.side, Role: roleOf(one.side), Over: true, Path: [][2]float64{{one.x, 42}, {one.x - 34, 40}, {one.x - 52, 62}, {one.x - 56, 86}}}
		if one.side == positive {
			cable.Path = [][2]float64{{one.x, 42}, {one.x + 34, 40}, {one.x + 52, 62}, {one.x + 56, 86}}
		}
		for _, code := range []string{"cable_green", "cable_damaged"} {
			if where, ok := found[code]; ok && on(where, one.side) {
				cable.State = Bad
			}
		}
		sc.Leads = append(sc.Leads, cable)
	}
	sc.Parts = append(sc.Parts, names(s)...)
	sc.Says = wording.Say("scene.battery_clean", nil)
	if len(found) > 0 {
		sc.Says = wording.Say("scene.battery", wording.Values{"seen": inWords(slices.Sorted(maps.Keys(found)))})
	}
	return sc
}

// names are which side is joined to the body, and what the label says it is.
func names(s *trail.Situation) []Part {
	left, right := "side_earthed", "side_live"
	// On a positive-earth vehicle the words change places, not the picture.
	if s.Case.Vehicle.Earth == "positive" {
		left, right = right, left
	}
	var parts []Part
	write := func(id, text string, x, y float64) {
		p := part(id, "name", x-50, y-8, 100, 16)
		p.Name = text
		parts = append(parts, p)
	}
	if s.Case.Vehicle.Kind != "" && s.Case.Vehicle.Kind != "none" {
		write("name_negative", wording.Word(left), 62, 12)
		write("name_positive", wording.Word(right), 218, 12)
	}
	nominal := s.Case.Label.NominalV
	write("name_case", wording.Text("scene.cells", wording.Values{"nominal": float64(nominal), "cells": int(nominal) / 2}), 140, 192)
	return parts
}

func roleOf(side string) string {
	if side == positive {
		return "plus"
	}
	return "minus"
}

// inWords are codes in the words of the trade, in a row.
func inWords(codes []string) string {
	words := make([]string, len(codes))
	for i, code := range codes {
		words[i] = wording.Word(code)
	}
	return strings.Join(words, ", ")
}

// caps are what closes the cells: drawn open to the hand where they come off.
func caps(s *trail.Situation) []Part {
	label := s.Case.Label
	n := int(label.NominalV) / 2
	parts := make([]Part, 0, n)
	symbol := "seam"
	if label.Sealed != nil && !*label.Sealed {
		symbol = "cap"
	}
	wide := 232 / float64(max(1, n))
	for i := range n {
		parts = append(parts, part("cell_"+string(rune('1'+i)), symbol, 24+wide*float64(i), 58, wide, 26))
	}
	return parts
}

// post is a post with its clamp, or a pad in the side with its bolt.
func post(found map[string]string, side, sign string, x float64, pad bool) Part {
	p := part(side, "post_clamp", x-24, 24, 48, 40)
	if pad {
		p = part(side, "side_pad", x-18, 120, 36, 92)
	}
	p.Sign, p.Hit = sign, side
	for _, code := range []string{"corrosion", "oxide", "clamp_loose", "clamp_not_seated", "clamp_worn", "clamp_universal", "ring_between", "post_loose"} {
		if where, ok := found[code]; ok && on(where, side) {
			p.Marks, p.State = append(p.Marks, code), Found
		}
	}
	return p
}

// joint is where a drop is measured in the circuit.
type joint struct {
	code string
	x, y float64
}

// joints are the places between battery, starter and alternator.
var joints = []joint{
	{"positive_clamp", 150, 62}, {"positive_cable", 262, 34}, {"starter_stud", 392, 62},
	{"negative_clamp", 74, 62}, {"negative_cable", 74, 178}, {"ground_strap", 262, 204},
	{"charge_positive", 300, 88}, {"charge_negative", 300, 164},
}

// jointsOf are they with the side that lies on the body on the left: the clamp and cable of
// minus, or of plus where plus is earthed.
func jointsOf(v evidence.Vehicle) []joint {
	if v.Earth != "positive" {
		return joints
	}
	other := map[string]string{
		"positive_clamp": "negative_clamp", "positive_cable": "negative_cable", "negative_clamp": "positive_clamp", "negative_cable": "positive_cable",
	}
	out := slices.Clone(joints)
	for i, j := range out {
		if code, ok := other[j.code]; ok {
			out[i].code = code
		}
	}
	return out
}

// Circuit is the circuit around the battery: its joints, each with the drop found there
// last. There is none without a vehicle whose engine the battery cranks.
func Circuit(s *trail.Situation) (Scene, bool) {
	v := s.Case.Vehicle
	if v.Kind == "" || v.Kind == "none" || v.Electric() {
		return Scene{}, false
	}
	plus, minus := "+", "−"
	// On a positive-earth vehicle the words change places, not the picture.
	if v.Earth == "positive" {
		plus, minus = minus, plus
	}
	box := part("battery", "box", 44, 72, 136, 66)
	box.Name = wording.Word("part_battery")
	starter := part("starter", "starter", 358, 64, 68, 68)
	starter.Name = wording.Word("part_starter")
	alternator := part("alternator", "alternator", 262, 88, 76, 76)
	alternator.Name = wording.Word("part_alternator")
	body := part("body", "name", 150, 222, 80, 10)
	body.Name = wording.Word("part_body")
	left, right := part("post_minus", "sign", 64, 80, 20, 20), part("post_plus", "sign", 140, 80, 20, 20)
	left.Sign, right.Sign = minus, plus
	sc := Scene{
		Code: "circuit", Width: 480, Height: 240,
		Parts: []Part{box, starter, alternator, left, right, body},
		Leads: []Lead{
			{ID: "start_plus", Role: "plus", Path: [][2]float64{{150, 62}, {200, 34}, {342, 34}, {392, 62}}},
			{ID: "start_body", Role: "body", Path: [][2]float64{{74, 62}, {74, 204}, {392, 204}, {392, 132}}},
			{ID: "charge_plus", Role: "thin", Path: [][2]float64{{150, 66}, {215, 88}, {300, 88}}},
			{ID: "charge_minus", Role: "thin", Path: [][2]float64{{74, 150}, {150, 164}, {300, 164}}},
		},
	}
	found := drops(s)
	var said []string
	for _, j := range jointsOf(v) {
		p := part(j.code, "joint", j.x-9, j.y-9, 18, 18)
		p.Hit, p.Line = j.code, dropLine(j.code)
		if d, ok := found[j.code]; ok {
			p.State, p.Value = d.state, d.text
			said = append(said, wording.Word(j.code)+" "+d.text)
		}
		sc.Parts = append(sc.Parts, p)
	}
	// The whole of a side lies nowhere of its own: it is in the list of joints only.
	for _, code := range []string{"whole_positive", "whole_negative"} {
		p := part(code, "", 0, 0, 0, 0)
		p.Hit, p.Line = code, dropLine(code)
		if d, ok := found[code]; ok {
			p.State, p.Value = d.state, d.text
			said = append(said, wording.Word(code)+" "+d.text)
		}
		sc.Parts = append(sc.Parts, p)
	}
	numberTests(&sc, trail.Steps(s, trail.StageVehicle))
	sc.Says = wording.Say("scene.circuit_open", nil)
	if len(said) > 0 {
		sc.Says = wording.Say("scene.circuit", wording.Values{"joints": strings.Join(said, "; ")})
	}
	return sc, true
}

// measuredAt is where each test of the vehicle is taken in the circuit: the meter's tips at
// the battery's posts, a clamp round a cable. Drops are taken at every joint. Common
// practice, no source.
var measuredAt = map[reading.Kind]string{
	reading.Crank: "battery", reading.ChargingSystem: "battery", reading.Ripple: "battery", reading.CaseLeak: "battery",
	reading.StarterDraw: "positive_cable", reading.Drain: "negative_cable",
}

// numberTests writes the number of each test where it is taken.
func numberTests(sc *Scene, steps []trail.Step) {
	for _, step := range steps {
		at := slices.IndexFunc(sc.Parts, func(p Part) bool { return p.ID == measuredAt[step.Kind] })
		if at >= 0 {
			sc.Parts[at].Tests = append(sc.Parts[at].Tests, step.Number)
		}
	}
}

// dropLine begins the drop over a joint: while it cranks, or charges over a cable of the
// charging side.
func dropLine(code string) string {
	line := "drop " + strings.ReplaceAll(code, "_", " ") + " "
	if strings.HasPrefix(code, "charge_") {
		line += "charging "
	}
	return line
}

type drop struct {
	state State
	text  string
}

// drops are the latest at each joint, judged as the findings judge them.
func drops(s *trail.Situation) map[string]drop {
	out := map[string]drop{}
	for _, t := range s.Case.Readings {
		if t.Reading.Kind != reading.Drop {
			continue
		}
		d := drop{Good, wording.Text("scene.volts", wording.Values{"volts": float64(t.Reading.Volts())})}
		if f, ok := findingOf(s.Assessment, t); ok && f.Margin != nil && f.Margin.Value < 0 {
			d.state = Bad
		}
		out[t.Reading.Choice(reading.Where)] = d
	}
	return out
}

func findingOf(a diagnosis.Assessment, t evidence.Taken) (evidence.Finding, bool) {
	for _, f := range a.Findings {
		if f.Reading == t.ID {
			return f, true
		}
	}
	return evidence.Finding{}, false
}

// Settings are how the battery sits and what it is joined to, where that changes the work:
// several joined, out of reach, pads in the side.
func Settings(s *trail.Situation) []Scene {
	m := s.Mounting
	var scenes []Scene
	if m.Joined == trail.Parallel || m.Joined == trail.Series || m.Joined == trail.Bank {
		scenes = append(scenes, joined(m.Joined))
	}
	if m.Where == trail.Boot || m.Where == trail.UnderSeat || m.Where == trail.WheelArch {
		scenes = append(scenes, remote(m.Where))
	}
	if m.Posts == trail.SidePosts {
		scenes = append(scenes, pad())
	}
	return scenes
}

// joined are two or three batteries with the links that come off before each is tested.
func joined(how string) Scene {
	sc := Scene{Code: "setting_joined", Width: 302, Height: 92, Parts: []Part{}, Leads: []Lead{}, Says: wording.Say("scene.joined_"+how, nil)}
	at := []float64{32, 204}
	if how == trail.Bank {
		at = []float64{16, 116, 216}
	}
	for i, x := range at {
		b := part("battery_"+string(rune('1'+i)), "box_signed", x, 46, 66, 40)
		if b.State = Faint; i == 0 {
			b.State = Here
		}
		sc.Parts = append(sc.Parts, b)
	}
	link := func(id string, path [][2]float64, crosses ...[2]float64) {
		sc.Leads = append(sc.Leads, Lead{ID: id, Role: "thin", Path: path})
		for _, c := range crosses {
			off := part(id+"_off", "off", c[0]-7, c[1]-7, 14, 14)
			off.State = Off
			sc.Parts = append(sc.Parts, off)
		}
	}
	first, last := at[0], at[len(at)-1]
	if how == trail.Series {
		link("link", [][2]float64{{first + 55, 46}, {first + 55, 26}, {last + 11, 26}, {last + 11, 46}}, [2]float64{150, 26})
		link("end_minus", [][2]float64{{first + 11, 46}, {first + 11, 14}})
		link("end_plus", [][2]float64{{last + 55, 46}, {last + 55, 14}})
		return sc
	}
	for i := 1; i < len(at); i++ {
		a, b := at[i-1], at[i]
		mid := (a + b + 66) / 2
		link("minus_"+string(rune('0'+i)), [][2]float64{{a + 11, 46}, {a + 11, 20}, {b + 11, 20}, {b + 11, 46}}, [2]float64{mid - 10, 20})
		link("plus_"+string(rune('0'+i)), [][2]float64{{a + 55, 46}, {a + 55, 34}, {b + 55, 34}, {b + 55, 46}}, [2]float64{mid + 10, 34})
	}
	return sc
}

// remote is a battery at the back, its posts in front, and the tube its gas leaves by.
func remote(where string) Scene {
	battery := part("battery", "box", 190, 44, 36, 24)
	battery.State = Here
	front := part("remote_plus", "sign", 30, 48, 20, 20)
	front.Sign, front.State = "+", Here
	return Scene{
		Code: "setting_remote", Width: 302, Height: 104, Says: wording.Say("scene.remote_"+where, nil),
		Parts: []Part{part("car", "car_side", 8, 14, 286, 82), battery, front, part("vent", "vent_tube", 204, 68, 8, 28)},
		Leads: []Lead{{ID: "along", Role: "plus", Over: true, Path: [][2]float64{{50, 58}, {190, 58}}}},
	}
}

// pad is a threaded pad in the side, with the adapter that a test needs.
func pad() Scene {
	return Scene{
		Code: "setting_pads", Width: 302, Height: 92, Says: wording.Say("scene.side_pad", nil), Leads: []Lead{},
		Parts: []Part{part("case", "case_edge", 14, 10, 86, 72), part("adapter", "adapter", 124, 30, 84, 34), part("clip", "clip", 206, 28, 66, 38)},
	}
}
