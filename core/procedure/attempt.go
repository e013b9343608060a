package procedure

import (
	"slices"

	"grapnel/core/drawing"
	"grapnel/core/safety"
	"grapnel/core/trail"
	"grapnel/core/wording"
)

// Deed is what a person did at a step of an attempt.
type Deed struct {
	// Step counts from 0.
	Step int    `json:"step"`
	Did  string `json:"did" enum:"done,back,left,taken_up,finished"`
}

// What a person does at a step.
const (
	// StepDone goes on to the next, StepBack takes the step before back.
	StepDone = "done"
	StepBack = "back"
	// Left is an attempt that was broken off, its way back taken; TakenUp one that goes on in
	// other hands.
	Left     = "left"
	TakenUp  = "taken_up"
	Finished = "finished"
)

// Deeds lists them.
func Deeds() []string { return []string{StepDone, StepBack, Left, TakenUp, Finished} }

// Progress is how far an attempt has come.
type Progress struct {
	// At is the step that is due, from 0; as many as there are steps when all are done.
	At int `json:"at"`
	// Open tells that it goes on; Ended is how it ended otherwise.
	Open  bool   `json:"open"`
	Ended string `json:"ended"`
}

// Follow goes through what was done, in the order it was kept. Two who did the same step at
// once did it once; what was done at a step that is not due any more changes nothing.
func Follow(steps int, deeds []Deed) Progress {
	p := Progress{Open: true}
	for _, d := range deeds {
		if !p.Open {
			break
		}
		switch {
		case d.Did == StepDone && d.Step == p.At && p.At < steps:
			p.At++
		case d.Did == StepBack && d.Step == p.At-1:
			p.At--
		case d.Did == Left, d.Did == Finished && p.At == steps:
			p.Open, p.Ended = false, d.Did
		}
	}
	return p
}

// Shown is one step as a screen shows it.
type Shown struct {
	Number int    `json:"number"`
	Op     string `json:"op"`
	Text   string `json:"text"`
	Why    string `json:"why"`
	Right  string `json:"right"`
	// Undo is what must be undone to go back behind this step; empty for nothing.
	Undo string `json:"undo"`
	// Recalls is what was written down at an earlier step and is wanted again here.
	Recalls string `json:"recalls"`
	// Back is the way back from the order once this step is done.
	Back     []string            `json:"back"`
	Cautions []trail.CautionText `json:"cautions"`
	Asks     string              `json:"asks"`
	Line     string              `json:"line"`
	Minutes  float64             `json:"minutes"`
	By       int                 `json:"by"`
	// ReverseOf is the number of the step it takes back, 0 for none.
	ReverseOf int           `json:"reverse_of"`
	Drawing   drawing.Scene `json:"drawing"`
}

// Steps are the steps of an order as screens show them.
func Steps(s Sitting, w Written) []Shown {
	drawings := Draw(s, w)
	out := make([]Shown, len(w.Steps))
	for i := range w.Steps {
		st := &w.Steps[i]
		one := Shown{
			Number: i + 1, Op: string(st.Op), Text: st.Text, Why: st.Why, Right: st.Right, Undo: undo(st), Asks: st.Asks, Line: st.Line,
			Minutes: st.Minutes, By: st.By, Drawing: drawings[i], Cautions: trail.InWords(st.Cautions), Back: []string{},
		}
		if st.ReverseOf != nil {
			one.ReverseOf = *st.ReverseOf + 1
		}
		for _, b := range Back(w.Scene, w.Steps[:i+1]) {
			one.Back = append(one.Back, b.Text)
		}
		out[i] = one
	}
	return out
}

// undo is what must be undone to go back behind a step.
func undo(st *Step) string {
	reverse, ok := backOps[st.Op]
	if !ok {
		return ""
	}
	it := st.End
	if it == "" {
		it = st.subject()
	}
	return wording.Text("back."+string(reverse), wording.Values{"end": called(it), "place": called(st.Place)})
}

// works are the work that an order is on the battery.
var works = map[string]safety.Work{
	"jump": safety.Jump, "charge": safety.Charge, "wake_charger": safety.Charge, "maintainer": safety.Charge, "maintainer_by_socket": safety.Charge,
	"load_test": safety.Test,
}

// WorkOf is the work that a step is, for what stop rules forbid; taking off is none, and
// neither is what only looks.
func WorkOf(name string, st Step) safety.Work {
	switch st.Op {
	case Crank:
		return safety.Crank
	case Clamp, Plug, SwitchOn, Start:
		return works[name]
	case Measure:
		return lineWork(st.Line)
	}
	return safety.None
}

// WorkOfOrder is the work that a whole order is.
func WorkOfOrder(name string) safety.Work { return works[name] }

// Offered is an order that makes sense on a battery, with its words.
type Offered struct {
	Name string `json:"name"`
	Word string `json:"word"`
	// Stopped tells that it is forbidden now, and Why.
	Stopped bool   `json:"stopped"`
	Why     string `json:"why"`
	// Choose says how one setting is chosen among several; empty where there is one.
	Choose   string        `json:"choose"`
	Settings []SettingSaid `json:"settings"`
	Schools  []WayOf       `json:"schools"`
	People   []int         `json:"people"`
	// Sits is how the battery sits, in words.
	Sits string `json:"sits"`
}

// SettingSaid is one setting with its words.
type SettingSaid struct {
	Setting Sitting `json:"setting"`
	Word    string  `json:"word"`
}

// WayOf is a school with its reason.
type WayOf struct {
	Code string `json:"code"`
	Word string `json:"word"`
	Why  string `json:"why"`
}

// Offer lists the orders that make sense on a battery as it sits.
func Offer(sits Sitting) []Offered {
	out := []Offered{}
	for _, p := range procedures() {
		settings := For(p.name, sits)
		if len(settings) == 0 {
			continue
		}
		o := Offered{Name: p.name, Word: wording.Word("procedure_" + p.name), People: p.people, Schools: []WayOf{}, Sits: wording.Word("sits_" + sits.Vehicle)}
		for _, s := range settings {
			o.Settings = append(o.Settings, SettingSaid{s, s.words()})
		}
		if how := "procedure_choose." + p.name; len(settings) > 1 && wording.Has(how) {
			o.Choose = wording.Text(how, nil)
		}
		for _, way := range p.schools {
			o.Schools = append(o.Schools, WayOf{way, wording.Word("way_" + way), wording.Text("way_why."+way, nil)})
		}
		out = append(out, o)
	}
	return out
}

// Ways are the school of an ask, and the others that there are for it.
func Ways(a Ask) (own WayOf, others []WayOf) {
	others = []WayOf{}
	p, _ := find(a.Name)
	for _, way := range p.schools {
		w := WayOf{way, wording.Word("way_" + way), wording.Text("way_why."+way, nil)}
		if way == a.School {
			own = w
		} else {
			others = append(others, w)
		}
	}
	return own, others
}

// SettingWords are what makes a setting differ from others of the same battery.
func SettingWords(s Sitting) string { return s.words() }

// words are what makes a setting differ from others of the same battery.
func (s Sitting) words() string {
	for _, pair := range [][2]string{{"with", s.With}, {"where", s.Where}, {"by", s.By}, {"bypass", s.Bypass}} {
		if pair[1] != "" {
			return wording.Word(pair[0] + "_" + pair[1])
		}
	}
	return ""
}

// Valid reports whether an ask is one of those that are listed.
func (a Ask) Valid() bool {
	l, ok := listed(a.Name)
	if !ok || !slices.Contains(l.Settings, a.Setting) || !slices.Contains(l.People, a.People) {
		return false
	}
	return len(l.Schools) == 0 && a.School == "" || slices.Contains(l.Schools, a.School)
}

// Recall gives the step at which the rings go back what was noted when they came off: the
// notes by their steps, from 0.
func Recall(steps []Shown, w Written, notes map[int]string) {
	noted := ""
	for i, st := range w.Steps {
		switch st.Code {
		case "procedure.stack_order":
			noted = notes[i]
		case "procedure.stack_back":
			steps[i].Recalls = noted
		}
	}
}
