package wording

// sceneWords say a drawing in words, and name its parts.
var sceneWords = map[string]string{
	"scene.battery_clean": "Battery, nothing seen yet",
	"scene.battery":       "Battery, seen: {seen}",
	"scene.circuit_open":  "Circuit of battery, cables and starter, no drop measured yet",
	"scene.circuit":       "Circuit, measured: {joints}",
	"scene.cells":         "{nominal:0}\u00a0V, {cells} cells",
	"scene.volts":         "{volts:V}",

	"scene.joined_parallel":   "Two side by side, plus to plus: both links off, each tested alone",
	"scene.joined_series":     "Two in a row, plus to minus: the link off, each tested alone",
	"scene.joined_bank":       "A bank: every link off, each tested alone",
	"scene.remote_boot":       "It sits in the boot: fed at the marked posts in front; its gas leaves by a tube",
	"scene.remote_seat":       "It sits under a seat: fed at the marked posts in front; its gas leaves by a tube",
	"scene.remote_wheel_arch": "It sits in the wheel arch: fed at the marked posts in front; its gas leaves by a tube",
	"scene.side_pad":          "Pads in the side: an adapter screwed in to test and to charge, nothing between cable and pad",

	"scene.procedure": "Step {step:0} of {of:0}: {text} Clamped now: {joined}.",
	"scene.nominal":   "{volts:0}\u00a0V",

	"word.drawn_engine": "engine", "word.drawn_keep_alive": "keep-alive", "word.drawn_tester": "load", "word.drawn_here": "this vehicle", "word.drawn_donor": "the donor", "word.drawn_starter": "starter", "word.drawn_mat": "mat", "word.drawn_second": "held clear", "word.drawn_nothing": "nothing",
	"word.drawn_belt": "belt, fan", "word.drawn_exhaust": "hot", "word.drawn_fuel_rail": "fuel", "word.drawn_tank": "fuel", "word.drawn_wing": "paint", "word.drawn_orange": "orange: high voltage",
	"word.drawn_bagged": "bagged, live", "word.drawn_off": "off", "word.drawn_tied": "tied away",
	"word.drawn_lifting_eye": "lifting eye", "word.drawn_ground_bolt": "ground bolt", "word.drawn_engine_block": "bare metal", "word.drawn_frame": "bare frame",
	"word.drawn_remote_plus": "marked +", "word.drawn_remote_minus": "ground bolt", "word.drawn_socket": "socket", "word.drawn_outside_live": "emergency lead",

	"word.side_earthed":    "earthed side",
	"word.side_live":       "live side",
	"word.part_battery":    "battery",
	"word.part_starter":    "starter",
	"word.part_alternator": "alternator",
	"word.part_body":       "body and engine",
}
