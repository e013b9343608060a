package diagnosis

import (
	"grapnel/core/evidence"
	"grapnel/core/wording"
)

// Account is a verdict answering to whoever asks: the smallest change of one
// reading that would turn it, where the schools of practice disagree on this
// case, and one paragraph for the customer.
type Account struct {
	// Turns are the nearest changes, the smallest first; empty where nothing within
	// what the instruments can show turns it.
	Turns   []Turn              `json:"turns"`
	Schools []wording.Statement `json:"schools"`
	// Question is what the customer asks, Answer the sentences of the paragraph.
	Question wording.Statement   `json:"question"`
	Answer   []wording.Statement `json:"answer"`
}

// Explain gives the account of a case.
func (e *Engine) Explain(c evidence.Case) Account {
	ev := evidence.Examine(c)
	if !c.Label.Chemistry.Judged() {
		return Account{
			Turns: []Turn{}, Schools: []wording.Statement{},
			Question: wording.Say("customer.why_not", nil), Answer: []wording.Statement{wording.Say("customer.not_judged", nil)},
		}
	}
	d := e.decide(ev)
	question, answer := d.tell()
	return Account{Turns: e.turns(c, d.verdict.Action), Schools: e.disagree(ev, d.verdict.Action), Question: question, Answer: answer}
}
