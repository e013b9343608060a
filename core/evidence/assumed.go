package evidence

import (
	"grapnel/core/reading"
	"grapnel/core/wording"
)

// Assumed lists what a reading leaves unsaid and what was taken for it, so that
// it can be shown beside what was typed.
func (ev Evidence) Assumed(index int) []wording.Statement {
	out := []wording.Statement{}
	r, on := ev.Case.Readings[index].Reading, ev.Case.Ref(index)
	if r.Kind != reading.Load && r.Kind != reading.OpenCircuit || !ev.Case.Label.Chemistry.Judged() {
		return out
	}
	at, _, source := ev.EpochOf(index).temperatureFor(index, &r)
	switch source {
	case "stood":
		out = append(out, wording.Say("assumed.stood", wording.Values{"x": at}, on))
	case "epoch":
		out = append(out, wording.Say("assumed.temperature", wording.Values{"x": at}, on))
	case "unknown":
		out = append(out, wording.Say("assumed.no_temperature", nil, on))
	}
	if r.Kind == reading.OpenCircuit && surfaceCharge(ev.Case.Label, &r) == ChargeRestUnknown {
		out = append(out, wording.Say("assumed.rest", nil, on))
	}
	return out
}
