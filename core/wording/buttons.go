package wording

// buttonWords are what is written on the button that leads to what comes next.
var buttonWords = map[string]string{
	"word.button_open_circuit": "Read the volts",
	"word.button_rest":         "Read again",
	"word.button_charge":       "Open charging",
	"word.button_load":         "Open load test",
	"word.button_conductance":  "Open tester",
	"word.button_look":         "Look it over",
	"word.button_clean":        "Open the look",
	"word.button_clear_stop":   "Open the look",
	"word.button_rating":       "Open label",
	"word.button_label":        "Open label",
	"word.button_charging":     "Open vehicle tests",
	"word.button_drain":        "Open vehicle tests",
	"word.button_drop":         "Open vehicle tests",
	"word.button_dcdc":         "Open vehicle tests",
	"word.button_gravity":      "Read the cells",
	"word.button_reserve":      "Open reserve check",
	"word.button":              "Open",
}
