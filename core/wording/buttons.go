package wording

// buttonWords are what is written on the button that leads to what comes next.
var buttonWords = map[string]string{
	"word.button_open_circuit": "Take the volts",
	"word.button_rest":         "Read again",
	"word.button_charge":       "To the charge",
	"word.button_load":         "To the load test",
	"word.button_conductance":  "To the test",
	"word.button_look":         "Look it over",
	"word.button_clean":        "What was seen",
	"word.button_clear_stop":   "What was seen",
	"word.button_rating":       "To the label",
	"word.button_label":        "To the label",
	"word.button_charging":     "To the vehicle",
	"word.button_drain":        "To the vehicle",
	"word.button_drop":         "To the vehicle",
	"word.button_dcdc":         "To the vehicle",
	"word.button_gravity":      "Read the cells",
	"word.button_reserve":      "To the reserve check",
	"word.button":              "Go there",
}
