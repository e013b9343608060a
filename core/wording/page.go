package wording

// pageWords are the sentences of the page on the reading line.
var pageWords = map[string]string{
	"page.title":       "# The reading line",
	"page.intro":       "A reading costs one line. Type or dictate it as it is called out; what was understood is shown word by word before it is kept. This page is made from the table the program reads lines by (`make reading-line`).",
	"page.rules":       "- A line that starts with a number and `v` is open-circuit volts, one with `594/650` a conductance test; any other starts with its word.\n- After that words may stand in any order. `18c 12.41v` is the same as `12.41v 18c`: a line of volts, temperature and waiting alone is open-circuit volts.\n- A comma is a decimal mark. Fahrenheit needs its `f`. `1265` and `1.265` are the same gravity.\n- Several readings in one line are parted by `;`.\n- A figure without its unit is taken where only one thing can be meant, and marked as assumed.\n- What cannot be is refused with what would be taken, and, where a digit or a mark seems to have slipped, with what may have been meant. Nothing is guessed silently.",
	"page.units":       "## Units",
	"page.short":       "## Short forms",
	"page.needed":      "needed",
	"page.everywhere":  "## On any reading",
	"page.files":       "## A job as a file\n\nA file of reading lines below a header of label and vehicle is a job in plain text. `grapnel import < job.txt` reads it and `grapnel export` writes it; the way there and back loses nothing.\n\n    as of: 2026-11-24T08:30:00Z\n    vehicle: car, petrol, 2 l\n    plate: WS 204 K\n    symptom: slow_crank\n    school: half_cca\n    battery: flooded, 12 V, 650 A SAE, 65 Ah, 110 min, made 2021-08, caps open\n\n    12.24 v 18c rested 2h\n    load 325a 15s 9.3v\n\nA job of several batteries has a `battery:` line before the readings of each. Lines that begin with `#` are remarks.",
	"page.column.unit": "unit", "page.column.spellings": "typed as", "page.column.typed": "typed", "page.column.means": "what it is",
	"page.column.allowed": "taken", "page.column.field": "field", "page.column.short": "typed", "page.column.stands": "taken as",
}
