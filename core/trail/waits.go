package trail

import (
	"cmp"
	"slices"

	"grapnel/core/diagnosis"
	"grapnel/core/wording"
)

// What a job waits on, as a board shows it.
const (
	WaitRest     = "rest"
	WaitCharge   = "charge"
	WaitClean    = "clean"
	WaitStop     = "stop"
	WaitHands    = "hands"
	WaitCustomer = "customer"
)

// WaitOf is what a battery waits on, by its verdict and the test that comes next.
func WaitOf(a diagnosis.Assessment) string {
	first := ""
	if len(a.Next) > 0 {
		first = a.Next[0].Test
	}
	switch a.Verdict.Action {
	case diagnosis.ChargeAndRetest:
		if first == "rest" || first == "open_circuit" {
			return WaitRest
		}
		return WaitCharge
	case diagnosis.CleanAndRetest:
		return WaitClean
	case diagnosis.StopUnsafe:
		return WaitStop
	case diagnosis.Keep, diagnosis.Replace:
		return WaitCustomer
	case diagnosis.MoreTests:
		if first == "rest" {
			return WaitRest
		}
	}
	return WaitHands
}

// waitOrder is in which order jobs are seen to by what they wait on: danger, then the
// customer, then what a hand can do now, then what passes by itself. Common practice, no
// source.
var waitOrder = []string{WaitStop, WaitCustomer, WaitHands, WaitRest, WaitClean, WaitCharge}

// Urgency is how soon a job is seen to, the least first: danger, then what is late, then
// by what it waits on.
func Urgency(wait string, late bool) int {
	at := slices.Index(waitOrder, wait)
	if late && wait != WaitStop {
		return at - len(waitOrder)
	}
	if wait == WaitStop {
		return -2 * len(waitOrder)
	}
	return at
}

// WaitKinds lists what a job may wait on, the most urgent first.
func WaitKinds() []string { return slices.Clone(waitOrder) }

// BoardWords say in short what a job waits on, as its block on the board has room for.
func BoardWords(wait string, action diagnosis.Action) string {
	if code := "board_" + wait; wording.Has("word." + code) {
		return wording.Word(code)
	}
	return wording.Word(string(action))
}

// NextWords says what is done next; empty when the customer decides.
func NextWords(a diagnosis.Assessment) string {
	if len(a.Next) == 0 || WaitOf(a) == WaitCustomer {
		return ""
	}
	return a.Next[0].Text.Text
}

// urgency orders the actions by how much of a job's batteries has to be seen to: what
// is not safe first, what needs nothing more last. Common practice, no source.
var urgency = []diagnosis.Action{
	diagnosis.StopUnsafe, diagnosis.Replace, diagnosis.CleanAndRetest, diagnosis.ChargeAndRetest, diagnosis.MoreTests,
	diagnosis.LookElsewhere, diagnosis.Keep,
}

// Worst is the place, among the assessments of a job's batteries, of the one that has to
// be seen to first: a pair is as good as its worse half. The first of equals; -1 for none.
func Worst(of []diagnosis.Assessment) int {
	worst := -1
	for i, a := range of {
		if worst < 0 || cmp.Less(slices.Index(urgency, a.Verdict.Action), slices.Index(urgency, of[worst].Verdict.Action)) {
			worst = i
		}
	}
	return worst
}
