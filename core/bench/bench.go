// Package bench holds the sums of the bench: every number of the trade that is
// worked out in the head or looked up in a booklet, each as a card with its
// inputs, its formula, its sources and its result. The sums themselves are those
// of the packages above; here they are given names, ranges and words. A result
// can be a reading line, to be kept on a job.
package bench

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"grapnel/core/diagnosis"
	"grapnel/core/problem"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/source"
	"grapnel/core/wording"
)

// Sum is one card.
type Sum struct {
	ID string `json:"id"`
	// Group is the part of the bench it lies on.
	Group  string  `json:"group"`
	Inputs []Input `json:"inputs"`
	// Sources of what it rests on.
	Sources []source.Source `json:"sources"`

	work func(*work)
}

// Title is what the card is called, Formula how it works it out.
func (s Sum) Title() string { return wording.Text("sum."+s.ID, nil) }

// Formula is how the sum is worked out, in words and signs.
func (s Sum) Formula() string { return wording.Text("sum."+s.ID+".formula", nil) }

// Label says what an input of this sum is.
func (s Sum) Label(in Input) string {
	if own := "sum.in." + s.ID + "." + in.Name; wording.Has(own) {
		return wording.Text(own, nil)
	}
	return wording.Text("sum.in."+in.Name, nil)
}

// Input is one thing a sum is given.
type Input struct {
	Name string `json:"name"`
	// Unit of a figure; empty for a plain one, a choice or a text.
	Unit string `json:"unit"`
	// Low and High bound a figure.
	Low  float64 `json:"low"`
	High float64 `json:"high"`
	// Start is what the card begins with, as text.
	Start string `json:"start"`
	// Codes a choice is made from.
	Codes []string `json:"codes,omitempty"`
	// Text marks a word that is neither a figure nor a choice.
	Text bool `json:"text,omitempty"`
	// Optional may be left empty.
	Optional bool `json:"optional,omitempty"`
	// If names the choice, and its code, that the input belongs to: by, gauge.
	// Another choice leaves it out.
	If [2]string `json:"if"`
}

// Figure is one line of a result.
type Figure struct {
	Code  string  `json:"code"`
	Label string  `json:"label"`
	Value float64 `json:"value"`
	Unit  string  `json:"unit"`
	// Low and High are its band, nil where it has none.
	Low  *float64 `json:"low,omitempty"`
	High *float64 `json:"high,omitempty"`
	// Text is the figure with its unit and band, in words.
	Text string `json:"text"`
	// Tone is good, waits or bad where the figure is held against something.
	Tone string `json:"tone,omitempty"`
	// Main marks the figure the card is there for.
	Main bool `json:"main,omitempty"`
}

// Line is one line of a curve, drawn from left to right.
type Line struct {
	Label  string       `json:"label"`
	Points [][2]float64 `json:"points"`
	// Upper makes a band of it.
	Upper [][2]float64 `json:"upper,omitempty"`
	// Limit marks one that is a limit.
	Limit bool `json:"limit,omitempty"`
}

// Curve is the picture of a sum.
type Curve struct {
	XUnit string `json:"x_unit"`
	YUnit string `json:"y_unit"`
	Lines []Line `json:"lines"`
	// Marks are where the inputs lie.
	Marks [][2]float64 `json:"marks"`
}

// Result is what a sum comes to.
type Result struct {
	Figures []Figure            `json:"figures"`
	Says    []wording.Statement `json:"says"`
	Curve   *Curve              `json:"curve,omitempty"`
	// Line is a reading line with the inputs, empty where the sum is no reading.
	Line string `json:"line,omitempty"`
}

// Setting is what a sum is worked out in: the month by which ages are counted,
// and the shop's own figures for limits.
type Setting struct {
	Year, Month int
	Own         school.Own
	// Engine keeps the labels it has calibrated; nil calibrates anew.
	Engine *diagnosis.Engine
}

// Tones lists how a figure stands against what it is held against.
func Tones() []string { return []string{"good", "waits", "bad"} }

// Groups lists the parts of the bench in order.
func Groups() []string { return []string{"state", "power", "charge", "standing", "wiring", "fitting"} }

// Sums lists the cards in the order of the bench.
func Sums() []Sum { return slices.Clone(sums) }

// Find returns a card by its name.
func Find(id string) (Sum, bool) {
	for _, s := range sums {
		if s.ID == id {
			return s, true
		}
	}
	return Sum{}, false
}

// Work gives a sum its inputs as they were typed and works it out. A missing
// optional input is left out; others begin with their start. Problems name the
// input and what is allowed.
func (s Sum) Work(typed map[string]string, in Setting) (Result, error) {
	if in.Engine == nil {
		in.Engine = diagnosis.New()
	}
	w := work{sum: s, number: map[string]float64{}, text: map[string]string{}, setting: in}
	for name := range typed {
		if !slices.ContainsFunc(s.Inputs, func(in Input) bool { return in.Name == name }) {
			w.problems = append(w.problems, problem.New("problem.unknown_field", name, typed[name], s.names()))
		}
	}
	for _, in := range s.Inputs {
		if in.If[0] != "" && w.text[in.If[0]] != in.If[1] {
			continue
		}
		text, given := typed[in.Name]
		if !given {
			text = in.Start
		}
		w.take(in, strings.TrimSpace(text))
	}
	if err := w.problems.Err(); err != nil {
		return Result{}, err
	}
	s.work(&w)
	if err := w.problems.Err(); err != nil {
		return Result{}, err
	}
	if w.out.Figures == nil {
		w.out.Figures = []Figure{}
	}
	if w.out.Says == nil {
		w.out.Says = []wording.Statement{}
	}
	return w.out, nil
}

func (s Sum) names() string {
	names := make([]string, len(s.Inputs))
	for i, in := range s.Inputs {
		names[i] = in.Name
	}
	return strings.Join(names, ", ")
}

// work is one sum being worked out.
type work struct {
	sum      Sum
	number   map[string]float64
	text     map[string]string
	setting  Setting
	out      Result
	problems problem.List
}

// take reads one input.
func (w *work) take(in Input, text string) {
	switch {
	case text == "" && in.Optional:
	case in.Codes != nil:
		if !slices.Contains(in.Codes, text) {
			w.problems = append(w.problems, problem.New("problem.code", in.Name, text, problem.OneOf(in.Codes)))
			return
		}
		w.text[in.Name] = text
	case in.Text:
		w.text[in.Name] = text
	default:
		w.figure(in, text)
	}
}

func (w *work) figure(in Input, text string) {
	allowed := strings.TrimSpace(problem.Range(in.Low, in.High, in.Unit))
	if text == "" {
		w.problems = append(w.problems, problem.New("problem.missing", in.Name, "", allowed))
		return
	}
	x, unit, ok := reading.Figure(text)
	if ok {
		x, ok = convert(x, unit, in.Unit)
	}
	switch {
	case !ok:
		w.problems = append(w.problems, problem.New("problem.type", in.Name, text, allowed))
	case x < in.Low || x > in.High:
		w.problems = append(w.problems, problem.New("problem.range", in.Name, text, allowed))
	default:
		w.number[in.Name] = x
	}
}

// limit is a limit of the trade or the shop's own, which is said then.
func (w *work) limit(id school.LimitID) float64 {
	value, note := w.setting.Own.Limit(id)
	w.ownFigure(note)
	return value
}

// ownFigure says where the shop's own figure is from, where it has one.
func (w *work) ownFigure(note string) {
	if note != "" {
		w.say("own_figure", wording.Values{"note": note})
	}
}

func (w *work) has(name string) bool { _, ok := w.number[name]; return ok }

// refuse says that an input does not go with the others.
func (w *work) refuse(name, allowed string) {
	w.problems = append(w.problems, problem.New("problem.code", name, w.given(name), allowed))
}

func (w *work) given(name string) string {
	if x, ok := w.number[name]; ok {
		return source.Text(x)
	}
	return w.text[name]
}

// show adds a figure to the result.
func (w *work) show(code string, value float64, unit string) *Figure {
	w.out.Figures = append(w.out.Figures, Figure{
		Code: code, Label: wording.Text("sum.out."+code, nil), Value: value, Unit: unit, Text: printed(value, unit),
	})
	return &w.out.Figures[len(w.out.Figures)-1]
}

// words adds a result that is a word and not a figure.
func (w *work) words(code, text string) *Figure {
	f := w.show(code, 0, "")
	f.Text = text
	return f
}

// main marks the figure the card is there for.
func (f *Figure) main() *Figure { f.Main = true; return f }

// band adds a figure's band.
func (f *Figure) band(low, high float64) *Figure {
	f.Low, f.High = &low, &high
	f.Text = wording.Text("sum.band", wording.Values{"value": f.Text, "low": bare(low, f.Unit), "high": bare(high, f.Unit)})
	return f
}

// judge gives the figure a tone.
func (f *Figure) judge(good bool) *Figure {
	f.Tone = "bad"
	if good {
		f.Tone = "good"
	}
	return f
}

func (f *Figure) waits() *Figure { f.Tone = "waits"; return f }

func (w *work) say(code string, values wording.Values) {
	w.out.Says = append(w.out.Says, wording.Say("sum.say."+code, values))
}

// decimals of a unit, as far as they mean something.
var decimals = map[string]int{
	"V": 2, "A": 1, "Ah": 1, "mΩ": 2, "mA": 0, "mV": 1, "°C": 0, "%": 0, "W": 0, "SG": 3, "mm²": 1, "N·m": 1, "in·lbf": 0, "ft·lbf": 1,
	"m³/h": 2, "cm²": 0, "m": 2, "l/h": 1, "h": 1, "mm": 0, "days": 0, "K": 0, "min": 0, "": 2, "l": 1, "years": 1, "%/month": 1, "σ": 1,
}

// printed is a figure with its unit.
func printed(value float64, unit string) string {
	var u quantity.Units
	switch unit {
	case "min":
		return u.Span(quantity.Minutes(value).Seconds())
	case "s":
		return u.Span(quantity.Seconds(value))
	case "SG", "":
		return u.Number(value, decimals[unit])
	case "A":
		return u.Amperes(quantity.Amperes(value))
	}
	return u.Number(value, decimals[unit]) + "\u00a0" + unit
}

// bare is a figure without its unit.
func bare(value float64, unit string) string {
	if unit == "min" || unit == "s" {
		return printed(value, unit)
	}
	if unit == "A" && (value >= 10 || value <= -10) {
		return quantity.Units{}.Number(value, 0)
	}
	return quantity.Units{}.Number(value, decimals[unit])
}

// curve samples a function between two ends.
func curve(low, high float64, f func(float64) float64) [][2]float64 {
	const steps = 48
	points := make([][2]float64, 0, steps+1)
	for i := range steps + 1 {
		x := low + (high-low)*float64(i)/steps
		points = append(points, [2]float64{x, f(x)})
	}
	return points
}

func (w *work) draw(xUnit, yUnit string, marks [][2]float64, lines ...Line) {
	w.out.Curve = &Curve{XUnit: xUnit, YUnit: yUnit, Marks: marks, Lines: lines}
	if marks == nil {
		w.out.Curve.Marks = [][2]float64{}
	}
	for i := range lines {
		if lines[i].Label != "" {
			w.out.Curve.Lines[i].Label = wording.Text("sum.line."+lines[i].Label, nil)
		}
	}
}

func mark(x, y float64) [][2]float64 { return [][2]float64{{x, y}} }

// conversion of what may be typed in the place of a unit.
type conversion struct{ factor, shift float64 }

// typedUnits are the units each unit may be typed in. Inches, feet and pounds
// are exact by definition.
var typedUnits = map[string]map[string]conversion{
	"V":   {"v": {1, 0}, "mv": {0.001, 0}},
	"A":   {"a": {1, 0}, "ma": {0.001, 0}, "cca": {1, 0}},
	"Ah":  {"ah": {1, 0}},
	"mV":  {"mv": {1, 0}, "v": {1000, 0}},
	"°C":  {"c": {1, 0}, "°c": {1, 0}, "f": {5.0 / 9, -160.0 / 9}, "°f": {5.0 / 9, -160.0 / 9}},
	"%":   {"%": {1, 0}},
	"min": {"min": {1, 0}, "m": {1, 0}, "h": {60, 0}, "s": {1.0 / 60, 0}, "d": {1440, 0}},
	"h":   {"h": {1, 0}, "min": {1.0 / 60, 0}, "d": {24, 0}},
	"s":   {"s": {1, 0}, "min": {60, 0}},
	"m":   {"m": {1, 0}, "cm": {0.01, 0}, "mm": {0.001, 0}, "ft": {0.3048, 0}},
	"mm":  {"mm": {1, 0}, "cm": {10, 0}, "in": {25.4, 0}},
	"mm²": {"mm²": {1, 0}, "mm2": {1, 0}},
	"m³":  {"m³": {1, 0}, "m3": {1, 0}},
	"N·m": {
		"nm":     {1, 0},
		"n·m":    {1, 0},
		"in·lbf": {newtonMetres(1), 0},
		"inlb":   {newtonMetres(1), 0},
		"in-lb":  {newtonMetres(1), 0},
		"ft·lbf": {12 * newtonMetres(1), 0},
		"ftlb":   {12 * newtonMetres(1), 0},
		"ft-lb":  {12 * newtonMetres(1), 0},
	},
	"l": {"l": {1, 0}},
}

func newtonMetres(inchPounds float64) float64 {
	return float64(quantity.InchPounds(inchPounds).NewtonMetres())
}

// convert brings a typed figure into the unit of its input. A figure without a
// unit is in it already; 1265 is a specific gravity too.
func convert(x float64, typed, unit string) (float64, bool) {
	if unit == "SG" && typed == "" {
		if x >= 1000 {
			x /= 1000
		}
		return x, true
	}
	if typed == "" {
		return x, true
	}
	c, ok := typedUnits[unit][strings.ToLower(typed)]
	return x*c.factor + c.shift, ok
}

// number inputs are made with this.
func number(name, unit string, low, high float64, start string) Input {
	return Input{Name: name, Unit: unit, Low: low, High: high, Start: start}
}

func optional(in Input) Input { in.Optional = true; return in }

// only belongs to one code of a choice above it.
func only(in Input, name, code string) Input { in.If = [2]string{name, code}; return in }

func choice(name, start string, codes ...string) Input {
	return Input{Name: name, Codes: codes, Start: start}
}

func line(format string, values ...any) string { return fmt.Sprintf(format, values...) }

// g writes a figure for a reading line, to the millionth: a converted one is not
// exact.
func g(x float64) string {
	const millionth = 1e6
	return source.Text(math.Round(x*millionth) / millionth)
}
