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

	"word.side_earthed":    "earthed side",
	"word.side_live":       "live side",
	"word.part_battery":    "battery",
	"word.part_starter":    "starter",
	"word.part_alternator": "alternator",
	"word.part_body":       "body and engine",
}
