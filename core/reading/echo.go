package reading

import "grapnel/core/wording"

// Understood is a stretch of a reading line in the words it was understood as.
type Understood struct {
	Span
	Text wording.Statement `json:"text"`
}

// Echo words each span of a parsed line.
func Echo(p Parsed) []Understood {
	out := make([]Understood, 0, len(p.Spans))
	for _, span := range p.Spans {
		// "594/650" and the word "cca" behind it are one thing, said once.
		if n := len(out); span.Field == "measured" && n > 0 && out[n-1].Field == "measured" {
			out[n-1].End = span.End
			continue
		}
		out = append(out, Understood{span, p.Reading.say(span.Field)})
	}
	return out
}

// say words one field of the reading.
func (r Reading) say(field string) wording.Statement {
	t := tableOf(r.Kind)
	for _, f := range t.numbers {
		if f.json == field {
			x, _ := r.Number(f.id)
			rated, _ := r.Number(Rated)
			code := "echo." + field
			if r.Kind == Load && f.id == Volts {
				code += ".load"
			}
			return wording.Say(code, wording.Values{"x": x, "y": rated})
		}
	}
	for _, f := range t.choices {
		if f.json == field {
			return wording.Say("echo."+field, wording.Values{"code": r.Choice(f.id)})
		}
	}
	said := map[string]string{"kind": string(r.Kind), "by": r.By, "at": r.At, "after_charge": ""}
	return wording.Say("echo."+field, wording.Values{"code": said[field]})
}
