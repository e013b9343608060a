package procedure

import (
	"slices"

	"grapnel/core/wording"
)

// backOps is what takes an operation back.
var backOps = map[Op]Op{
	Clamp: Unclamp, Unclamp: Clamp, LiftOff: PutOn, PutOn: LiftOff, Plug: Unplug, Unplug: Plug, SwitchOn: SwitchOff, SwitchOff: SwitchOn, Cover: Uncover, Uncover: Cover,
}

// Back is the way back from an order that is left half-way: what is open is taken back in
// reverse, and an end that is live is laid down at once. What was meant to stay and is in
// its place stays. The order that this makes of what was done is safe.
func Back(sc Scene, done []Step) []Step {
	done = byClamp(&sc, done)
	b := back{state: begin(&sc, done)}
	for i := range done {
		b.note(&done[i])
		b.take(&done[i])
	}
	for _, end := range b.loose {
		if len(done) > 0 {
			b.layDown(end)
		}
	}
	for len(b.open) > b.stays() {
		last := b.open[len(b.open)-1]
		b.open = b.open[:len(b.open)-1]
		b.undo(last)
	}
	return b.way
}

// back goes through what was done and then the other way.
type back struct {
	*state
	open []Step
	way  []Step
}

// note keeps what must be taken back: a step that takes an earlier one back leaves neither.
func (b *back) note(st *Step) {
	reverse, ok := backOps[st.Op]
	if !ok {
		return
	}
	for i := len(b.open) - 1; i >= 0; i-- {
		if b.open[i].Op == reverse && b.open[i].subject() == st.subject() {
			b.open = slices.Delete(b.open, i, i+1)
			return
		}
	}
	// What gave at the start is not made to give again.
	if st.Op == SwitchOff || st.Op == Unplug && st.End == "" {
		return
	}
	again := slices.ContainsFunc(b.open, func(o Step) bool { return o.Op == st.Op && o.subject() == st.subject() })
	if again {
		return
	}
	kept := *st
	if from := b.sitsAt(st.subject()); st.Op == LiftOff && from != "" {
		kept.Place = from
	}
	b.open = append(b.open, kept)
}

// stays counts what lies undermost, was meant to stay and is where it was meant to.
func (b *back) stays() int {
	for i, st := range b.open {
		it := st.subject()
		meant := slices.ContainsFunc(b.scene.Stays, func(p Pair) bool { return b.isOf(p, it) && slices.Contains(b.joined, p) })
		if !meant {
			return i
		}
	}
	return len(b.open)
}

// undo takes one step back.
func (b *back) undo(of Step) {
	op := backOps[of.Op]
	if of.Op == Unclamp && !b.seatedBefore(of) {
		return
	}
	b.add(Step{Op: op, End: of.End, Place: of.Place, Source: of.Source, Lead: of.Lead})
	if op == Unclamp || op == Uncover || op == LiftOff {
		b.layDown(of.subject())
	}
}

// seatedBefore reports whether an end that was taken off sat on something at the start.
func (b *back) seatedBefore(of Step) bool {
	_, ok := b.wasAt(of.subject())
	return ok
}

// layDown lays an end that is live where nothing is; a cable's clamp is covered.
func (b *back) layDown(end string) {
	n, _ := b.net(which{live: true})
	if !slices.Contains(b.loose, end) || !b.dangles(n, end) {
		return
	}
	if b.places[end].Kind == ClampEnd {
		if next, ok := b.next(); !ok || next.subject() != end {
			b.add(Step{Op: Cover, End: end})
		}
		return
	}
	b.add(Step{Op: Lay, End: end, Place: b.somewhere()})
}

func (b *back) next() (Step, bool) {
	if len(b.open) == 0 {
		return Step{}, false
	}
	return b.open[len(b.open)-1], true
}

// somewhere is a place where a loose end may wait.
func (b *back) somewhere() string {
	for _, p := range b.scene.Places {
		if (p.Kind == Away || p.Kind == Bench) && (p.ID == "mat" || p.ID == "bench") {
			return p.ID
		}
	}
	for _, p := range b.scene.Places {
		if p.Kind == Away || p.Kind == Bench {
			return p.ID
		}
	}
	return ""
}

func (b *back) add(st Step) {
	st.Code = "back." + string(st.Op)
	what := st.End
	if what == "" {
		what = st.subject()
	}
	st.Text = wording.Text(st.Code, wording.Values{"end": called(what), "place": called(st.Place)})
	b.way = append(b.way, st)
	b.take(&st)
}
