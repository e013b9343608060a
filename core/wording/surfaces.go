package wording

// surfaceWords stand at the head of a stage, on its buttons and on the board.
var surfaceWords = map[string]string{
	"word.head_arrive":       "Who, what, and what they say",
	"word.head_look":         "Before anything is clamped on",
	"word.head_charge_state": "Volts at rest, on the scale of this chemistry",
	"word.head_charge":       "A full charge, then a rest",
	"word.head_crank_power":  "Volts at the end of the load",
	"word.head_vehicle":      "What flattened it",
	"word.head_decide":       "What the readings say together",
	"word.head_finish":       "Hand it back",

	"word.look_negative": "Negative post, clamp and cable",
	"word.look_positive": "Positive post, clamp and cable",
	"word.look_top":      "The top and the vents",
	"word.look_case":     "The case",
	"word.look_tray":     "Tray and hold-down",
	"word.look_strap":    "Ground strap",
	"word.look_belt":     "The belt",
	"word.degree_light":  "a little",
	"word.degree_heavy":  "heavy",
	"word.eye_green":     "green",
	"word.eye_dark":      "dark",
	"word.eye_clear":     "clear",
	"word.eye_unsure":    "not sure",

	"word.stood_rested":  "stood an hour or more",
	"word.stood_lamps":   "lamps 2\u00a0min, waited 1\u00a0min",
	"word.stood_driven":  "just driven",
	"word.stood_charged": "just charged",

	"word.board_rest":   "rest, then volts",
	"word.board_charge": "charge, then load",
	"word.board_clean":  "clean, then test",
}
