package trail

import (
	"grapnel/core/reading"
	"grapnel/core/wording"
)

// Question is one that changes the odds, answered by a tap: each choice is a
// reading line.
type Question struct {
	Code    string            `json:"code"`
	Text    wording.Statement `json:"text"`
	Choices []Reply           `json:"choices"`
	// Line begins the answer that no choice gives.
	Line string `json:"line"`
	// Told tells that it has been answered.
	Told bool `json:"told"`
}

// QuestionCodes lists every question there is.
func QuestionCodes() []string {
	codes := make([]string, len(questions))
	for i, q := range questions {
		codes[i] = q.code
	}
	return codes
}

// Reply is one answer: its words and the line it keeps.
type Reply struct {
	Text string `json:"text"`
	Line string `json:"line"`
}

// question is one row of the table of questions.
type question struct {
	code   string
	when   func(*Situation) bool
	fields []reading.Number
	begins string
	// lines are the answers by a tap; the words of each are choice.CODE.N.
	lines []string
}

// questions are asked of whoever brings it: age, jumps, what was left on, where
// it stood, trips, standing. Common practice, no source.
var questions = []question{
	{code: "age", fields: []reading.Number{reading.AgeYears}, begins: "age ", lines: []string{"age 1y", "age 3y", "age 5y", "age 7y"}},
	{
		code:   "jumps",
		when:   (*Situation).vehicle,
		fields: []reading.Number{reading.Jumps},
		begins: "jumps ",
		lines:  []string{"jumps 0 in 90d", "jumps 1 in 90d", "jumps 3 in 90d"},
	},
	{
		code:   "left_on",
		when:   (*Situation).vehicle,
		fields: []reading.Number{reading.LeftOnH},
		begins: "lights left on ",
		lines:  []string{"lights left on 0h", "lights left on 3h", "lights left on 14h"},
	},
	{
		code:   "stood",
		fields: []reading.Number{reading.StoodC, reading.StoodH},
		begins: "stood ",
		lines:  []string{"stood 8h 18c", "stood 8h 8c", "stood 8h 0c", "stood 8h -8c"},
	},
	{
		code:   "standing",
		when:   (*Situation).vehicle,
		fields: []reading.Number{reading.StandingDays},
		begins: "standing ",
		lines:  []string{"standing 0d", "standing 3d", "standing 14d", "standing 60d"},
	},
	{
		code:   "trips",
		when:   func(s *Situation) bool { return s.vehicle() && !s.kind("mower") },
		fields: []reading.Number{reading.TripsWeek},
		begins: "trips ",
		lines:  []string{"trips 10/week 30min", "trips 10/week 10min", "trips 4/week 8min", "trips 1/week 20min"},
	},
}

// Questions lists what to ask, in the order it is asked.
func Questions(s *Situation) []Question {
	out := []Question{}
	for _, q := range questions {
		if q.when != nil && !q.when(s) {
			continue
		}
		one := Question{Code: q.code, Text: wording.Say("ask."+q.code, nil), Line: q.begins, Told: s.told(q.fields...), Choices: []Reply{}}
		for _, line := range q.lines {
			one.Choices = append(one.Choices, Reply{Text: wording.Text("choice."+line, nil), Line: line})
		}
		out = append(out, one)
	}
	return out
}
