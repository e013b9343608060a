package trail

import (
	"fmt"
	"slices"
	"strings"

	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// Take is a reading that a button begins: its words and the line, which ends in a gap for
// the figures.
type Take struct {
	Text string `json:"text"`
	Line string `json:"line"`
}

// takes are the readings that a stage offers besides those of its steps, by the code of
// their words. Common practice, no source.
var takes = map[string][]Take{
	StageCrank:   {{"kind_load", "load "}, {"reserve", "reserve "}},
	StageVehicle: {{"over_fuse", "fuse "}, {"jump", "jump "}},
}

// Takes are the readings that each stage offers besides those of its steps.
func Takes() map[string][]Take {
	out := map[string][]Take{}
	for stage, list := range takes {
		for _, t := range list {
			out[stage] = append(out[stage], Take{capital(wording.Word(t.Text)), t.Line})
		}
	}
	return out
}

// LookPlace is a place of the drawing that is looked at, with what may be found there:
// each answer is a line that is kept by one tap.
type LookPlace struct {
	Place    string  `json:"place"`
	Text     string  `json:"text"`
	Findings []Reply `json:"findings"`
	// OfVehicle marks what a battery by itself has not.
	OfVehicle bool `json:"of_vehicle"`
}

// lookPlace is one row of the table: the findings in the order they are met with, the
// degree behind one in brackets.
type lookPlace struct {
	place, where string
	findings     []string
	ofVehicle    bool
}

// atSide is what is found at one post with its clamp and cable.
var atSide = []string{
	"corrosion light", "corrosion heavy", "oxide", "clamp_loose", "clamp_not_seated", "clamp_worn", "clamp_universal", "ring_between", "post_loose",
	"cable_green", "cable_damaged",
}

// lookPlaces are in the order of the hand: the side that comes off first, first. Common
// practice, no source.
var lookPlaces = []lookPlace{
	{place: "negative", where: "negative", findings: atSide},
	{place: "positive", where: "positive", findings: atSide},
	{place: "top", findings: []string{"dirty_top", "wet_vents", "smell", "hiss"}},
	{place: "case", findings: []string{"crack", "bulge", "case_leak", "frozen", "hot"}},
	{place: "tray", findings: []string{"hold_down", "vent_tube", "vent_plug"}},
	{place: "strap", findings: []string{"strap_bad"}, ofVehicle: true},
	{place: "belt", findings: []string{"belt", "belt_slips"}, ofVehicle: true},
}

// LookPlaces are the places that are looked at.
func LookPlaces() []LookPlace {
	out := make([]LookPlace, len(lookPlaces))
	for i, row := range lookPlaces {
		out[i] = LookPlace{Place: row.place, Text: wording.Word("look_" + row.place), OfVehicle: row.ofVehicle}
		for _, found := range row.findings {
			finding, degree, _ := strings.Cut(found, " ")
			words := []string{"look", strings.ReplaceAll(finding, "_", " "), row.where, degree}
			text := wording.Word(finding)
			if degree != "" {
				text += ", " + wording.Word("degree_"+degree)
			}
			line := strings.Join(slices.DeleteFunc(words, func(w string) bool { return w == "" }), " ")
			out[i].Findings = append(out[i].Findings, Reply{text, line})
		}
	}
	return out
}

// Eyes are the answers of the eye that is built in.
func Eyes() []Reply {
	var out []Reply
	for _, colour := range reading.Codes(reading.Eye, reading.Colour) {
		out = append(out, Reply{wording.Word("eye_" + colour), "eye " + colour})
	}
	return out
}

// Rests are the ways a battery stood before its volts were read, in the words of the
// reading line.
func Rests() []Reply {
	return []Reply{
		{wording.Word("stood_rested"), fmt.Sprintf("rested %gh", float64(school.RestMinutes)/60)},
		// What people are told to do: the minute that the sentence next.rest asks for, of the
		// quarter of one to a whole one that is common practice.
		{wording.Word("stood_lamps"), fmt.Sprintf("lamps %gmin wait 1min", float64(school.LampSeconds)/60)},
		{wording.Word("stood_driven"), "since drive"},
		{wording.Word("stood_charged"), "since charge"},
	}
}

// begins are the lines that a wait leads to. The figure comes first, in the gap.
var begins = map[string]string{Rest: " v ", LampsWait: " v ", Sleep: "drain  "}

// Begins is the line that a wait leads to, with what the wait adds to it; empty where it
// leads to none, or has nothing to add yet.
func Begins(kind, says string) string {
	line, ok := begins[kind]
	if !ok || says == "" {
		return ""
	}
	return line + says
}

// capital is a word that begins what is written on a button.
func capital(word string) string {
	if word == "" {
		return word
	}
	return strings.ToUpper(word[:1]) + word[1:]
}
