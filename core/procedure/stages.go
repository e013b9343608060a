package procedure

import "grapnel/core/drawing"

// spot is a point of a drawing, in its own units from the left and the top.
type spot struct{ x, y float64 }

// box is a place with its size.
type box struct{ x, y, w, h float64 }

// stage is where the things of a rig lie on the paper, seen from above.
type stage struct {
	// body is the outline of the vehicle and what it is drawn as.
	symbol string
	body   box
	// batteries, in order; engine is what is cranked, empty for nothing.
	batteries []box
	engine    box
	// zones are the places that take no clamp.
	zones map[string]box
	// at are the places an end goes to, besides the batteries' posts.
	at map[string]spot
}

// The paper: one vehicle, what is brought beside it, another vehicle.
const (
	vehicleWide = 400.0
	vehicleTall = 470.0
	toolWide    = 170.0
	gap         = 56.0
)

// battery sizes on the paper.
const (
	batteryWide = 140.0
	batteryTall = 84.0
)

// inBay is a battery in the bay, the engine beside it.
var inBay = stage{
	symbol: "car_above", body: box{12, 12, 376, 446},
	batteries: []box{{216, 66, batteryWide, batteryTall}},
	engine:    box{96, 214, 190, 206},
	zones: map[string]box{
		"belt": {46, 222, 40, 190}, "exhaust": {296, 318, 44, 104}, "fuel_rail": {128, 352, 126, 26}, "wing": {352, 176, 28, 128},
		"hold_down": {236, 152, 100, 16},
	},
	at: map[string]spot{
		"lifting_eye": {150, 262}, "engine_block": {150, 268}, "ground_bolt": {92, 132}, "frame": {92, 140}, "starter": {242, 396},
		"socket": {326, 236}, "outside_live": {70, 60}, "hold_down": {286, 160},
	},
}

// twoInBay are two side by side at the front.
var twoInBay = inBay.with(func(s *stage) {
	s.batteries = []box{{50, 62, batteryWide, batteryTall}, {216, 62, batteryWide, batteryTall}}
	s.at["ground_bolt"], s.at["frame"] = spot{64, 186}, spot{64, 188}
})

// whole is a car whose battery lies behind, with marked posts in front.
var whole = stage{
	symbol: "car_whole", body: box{80, 8, 240, 454},
	engine: box{138, 92, 124, 56},
	zones: map[string]box{
		"belt": {100, 88, 28, 78}, "exhaust": {272, 88, 28, 60}, "fuel_rail": {156, 128, 88, 14}, "wing": {298, 170, 18, 90}, "hold_down": {150, 430, 100, 10},
	},
	at: map[string]spot{
		"remote_plus": {244, 66}, "remote_minus": {150, 66}, "ground_bolt": {150, 66}, "starter": {222, 116}, "socket": {200, 214}, "outside_live": {114, 30},
		"hold_down": {200, 434},
	},
}

// behind is a whole car with its battery at a place.
func behind(b box) stage {
	return whole.with(func(s *stage) { s.batteries = []box{b} })
}

// frontBox is an electric car's front: battery and converter, the high-voltage side.
var frontBox = stage{
	symbol: "car_above", body: box{12, 12, 376, 446},
	batteries: []box{{216, 80, batteryWide, batteryTall}},
	zones: map[string]box{
		"orange": {70, 236, 236, 170}, "wing": {352, 176, 28, 128}, "hold_down": {236, 166, 100, 16},
	},
	at: map[string]spot{
		"ground_bolt": {92, 132}, "starter": {110, 200}, "socket": {326, 236}, "outside_live": {70, 60}, "hold_down": {286, 174},
	},
}

var cycle = stage{
	symbol: "cycle_above", body: box{120, 10, 160, 450},
	batteries: []box{{148, 262, 104, 62}},
	engine:    box{160, 176, 80, 66},
	zones:     map[string]box{"tank": {150, 80, 100, 84}, "exhaust": {262, 250, 34, 160}, "hold_down": {160, 330, 80, 12}},
	at:        map[string]spot{"frame": {134, 226}, "starter": {200, 214}, "hold_down": {200, 336}},
}

var quad = cycle.with(func(s *stage) {
	s.symbol, s.body = "quad_above", box{60, 10, 280, 450}
	s.zones["belt"] = box{96, 186, 32, 96}
})

var lawn = stage{
	symbol: "mower_above", body: box{60, 14, 280, 446},
	batteries: []box{{140, 330, 120, 72}},
	engine:    box{136, 58, 128, 104},
	zones:     map[string]box{"belt": {96, 196, 208, 58}, "exhaust": {276, 70, 34, 84}, "tank": {92, 66, 34, 84}, "hold_down": {150, 408, 100, 12}},
	at:        map[string]spot{"frame": {104, 296}, "starter": {170, 142}, "hold_down": {200, 414}},
}

var locker = stage{
	symbol: "locker", body: box{12, 40, 376, 250},
	batteries: []box{{24, 84, 112, 68}, {144, 84, 112, 68}, {264, 84, 112, 68}},
	zones:     map[string]box{"hold_down": {40, 160, 320, 12}},
	at:        map[string]spot{"frame": {60, 262}, "starter": {330, 258}, "hold_down": {200, 166}},
}

var bench = stage{
	symbol: "bench_above", body: box{12, 60, 376, 300},
	batteries: []box{{90, 150, 180, 108}},
	at:        map[string]spot{},
}

// stages are the rigs' own.
var stages = map[string]stage{
	"car": inBay, "car_side": inBay, "start_stop": inBay, "classic_12v": inBay, "classic_6v": inBay, "tractor_8v": inBay,
	"two_parallel": twoInBay, "two_24v": twoInBay, "two_sixes": twoInBay,
	"car_boot": behind(box{146, 374, 110, 66}), "car_seat": behind(box{104, 238, 100, 60}), "car_arch": behind(box{206, 362, 96, 58}), "hybrid": behind(box{146, 374, 110, 66}),
	"electric": frontBox, "motorcycle": cycle, "offroad": quad, "mower": lawn, "bank": locker, "bench": bench,
}

// with is a stage that differs.
func (s stage) with(change func(*stage)) stage {
	zones, at := s.zones, s.at
	s.zones, s.at = map[string]box{}, map[string]spot{}
	for k, v := range zones {
		s.zones[k] = v
	}
	for k, v := range at {
		s.at[k] = v
	}
	change(&s)
	return s
}

// posts are the places of a battery's two posts, as its symbol has them; on pads in its side
// they lie at its edge.
func (b box) posts(side bool) (minus, plus spot) {
	const minusAt, plusAt, down = 24.0 / batteryWide, 116.0 / batteryWide, 23.0 / batteryTall
	y := b.y + down*b.h
	if side {
		y = b.y + b.h
	}
	return spot{b.x + minusAt*b.w, y}, spot{b.x + plusAt*b.w, y}
}

func (b box) middle() spot { return spot{b.x + b.w/2, b.y + b.h/2} }

func (b box) part(id, symbol string) drawing.Part {
	return drawing.Part{ID: id, Symbol: symbol, X: b.x, Y: b.y, W: b.w, H: b.h, Marks: []string{}, Tests: []int{}}
}
