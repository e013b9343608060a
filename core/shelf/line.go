package shelf

import (
	"cmp"
	"slices"
)

// entry is a battery that goes on a channel when its turn comes.
type entry struct{ battery, channel int }

// cost is what a plan costs, the first that differs tells: batteries not placed, thousandths
// of minutes late times thousandths of weight, minutes stood flat, the minute that the last
// is off.
type cost struct {
	unplaced   int
	late, flat int64
	last       int
}

func (c cost) compare(d cost) int {
	return cmp.Or(cmp.Compare(c.unplaced, d.unplaced), cmp.Compare(c.late, d.late), cmp.Compare(c.flat, d.flat), cmp.Compare(c.last, d.last))
}

// with is the cost of two parts of a plan together.
func (c cost) with(d cost) cost {
	return cost{c.unplaced + d.unplaced, c.late + d.late, c.flat + d.flat, max(c.last, d.last)}
}

// of is what a battery costs that is testable and off at a minute.
func (j *job) of(testable, off int) cost {
	c := cost{last: off}
	if off == never {
		c.last = 0
	}
	if over := int64(off)*thousandths - j.due; over > 0 && off != never {
		c.late = over * j.weight
	}
	if j.flat && testable != never {
		c.flat = int64(max(0, testable))
	}
	return c
}

// line lays the batteries of a group in turn, each as early as it may be.
type line struct {
	*board
	group *group
	// free is when each channel of the shelf is free, by what was laid so far.
	free []int
	// load is what the place gives, by minute; only where the group is tight.
	load  []step
	asked int
	// marks are how the line stood before each turn of the list that was kept last, with
	// what the turns before it cost; only where the group is tight.
	marks []mark
	// like are, for a channel, those that a battery for it may go on as well, itself among
	// them; nil where each is by itself.
	like [][]int
}

// step is what a place gives from a minute on.
type step struct {
	from       int
	watts, air float64
}

type mark struct {
	free []int
	load []step
	sum  cost
}

func newLine(b *board, group int) *line {
	l := &line{board: b, group: &b.groups[group], free: make([]int, len(b.ask.Channels))}
	l.clear()
	return l
}

// clear takes away what was laid, all but what is fixed.
func (l *line) clear() {
	copy(l.free, l.starts)
	if !l.group.tight {
		return
	}
	l.load = append(l.load[:0], step{})
	for _, c := range l.group.channels {
		for _, f := range l.fixed[c] {
			l.take(max(0, f.on), f.off, &l.ways[f.battery][c])
		}
	}
}

// lay lays a battery on a channel at the first time that it may go on and somebody is there;
// false where there is none, or nobody is there to take it off.
func (l *line) lay(battery, channel int) (one block, ok bool) {
	w := &l.ways[battery][channel]
	at := max(l.freeFrom(channel), l.jobs[battery].from)
	for {
		on := l.hands.next(at)
		if on == never {
			return block{}, false
		}
		off := l.hands.next(on + w.ready)
		if off == never {
			return block{}, false
		}
		if at = l.blocked(channel, on, off, w); at > on {
			continue
		}
		channel = l.closest(channel, on)
		l.free[channel] = off
		if l.group.tight {
			l.take(on, off, w)
		}
		testable := never
		if w.test != never {
			testable = on + w.test
		}
		return block{battery, channel, on, testable, off}, true
	}
}

// freeFrom is when a channel, or the first that is like it, is free.
func (l *line) freeFrom(channel int) int {
	first := l.free[channel]
	if l.like != nil {
		for _, c := range l.like[channel] {
			first = min(first, l.free[c])
		}
	}
	return first
}

// closest is the one of the channels like this that is free by a minute and became so last:
// those that are free longer stay so for what comes earlier.
func (l *line) closest(channel, on int) int {
	if l.like == nil {
		return channel
	}
	best := none
	for _, c := range l.like[channel] {
		if l.free[c] <= on && (best == none || l.free[c] > l.free[best]) {
			best = c
		}
	}
	return best
}

// blocked is the minute up to which something stands in the way of a battery that is on a
// channel for a time; its first minute where nothing does.
func (l *line) blocked(channel, on, off int, w *way) int {
	for _, f := range l.pins[channel] {
		if on < f.off && off > f.on {
			return f.off
		}
	}
	if !l.group.tight {
		return on
	}
	until := on
	watts, air := l.group.watts-w.watts+rounding, l.group.air-w.air+rounding
	for i := l.stepAt(on); i < len(l.load) && l.load[i].from < off; i++ {
		if s := &l.load[i]; s.watts > watts || s.air > air {
			until = never
			if i+1 < len(l.load) {
				until = l.load[i+1].from
			}
		}
	}
	return until
}

// stepAt is the step that a minute lies in: most often the one asked for last.
func (l *line) stepAt(minute int) int {
	if i := l.asked; i < len(l.load) && l.load[i].from <= minute && (i+1 == len(l.load) || l.load[i+1].from > minute) {
		return i
	}
	low, high := 0, len(l.load)
	for high-low > 1 {
		if middle := (low + high) / 2; l.load[middle].from <= minute {
			low = middle
		} else {
			high = middle
		}
	}
	l.asked = low
	return low
}

// take takes what a battery asks for out of what the place gives.
func (l *line) take(on, off int, w *way) {
	i := l.cut(on)
	for ; i < len(l.load) && l.load[i].from < off; i++ {
		if i+1 == len(l.load) && off != never || i+1 < len(l.load) && l.load[i+1].from > off {
			s := l.load[i]
			s.from = off
			l.load = slices.Insert(l.load, i+1, s)
		}
		l.load[i].watts += w.watts
		l.load[i].air += w.air
	}
}

// cut makes a step begin at a minute.
func (l *line) cut(minute int) int {
	i := l.stepAt(minute)
	if l.load[i].from == minute {
		return i
	}
	s := l.load[i]
	s.from = minute
	l.load = slices.Insert(l.load, i+1, s)
	return i + 1
}

// whole is what a list of batteries costs when they are laid in its order.
func (l *line) whole(list []entry) (sum cost) {
	l.clear()
	for _, e := range list {
		sum = l.add(sum, e)
	}
	return sum
}

func (l *line) add(sum cost, e entry) cost {
	one, ok := l.lay(e.battery, e.channel)
	if !ok {
		sum.unplaced++
		return sum
	}
	return sum.with(l.jobs[e.battery].of(one.testable, one.off))
}

// price is what the list that was kept last costs with an edit. It ends early, and is false,
// where a part of it costs too much already.
func (l *line) price(list []entry, e *edit, s *searcher) (sum cost, ok bool) {
	first := e.first()
	sum = l.restore(first)
	for turn := first; turn <= len(list); turn++ {
		for i := range e.puts {
			if e.puts[i].turn == turn {
				sum = l.add(sum, e.puts[i].entry)
			}
		}
		if turn < len(list) && !e.skips(turn) {
			sum = l.add(sum, list[turn])
		}
		if s.tooMuch(sum) {
			return sum, false
		}
	}
	return sum, true
}

// alone is the same for a channel that shares nothing with others.
func (l *line) alone(list []entry, e *edit) (sum cost) {
	c := l.group.channels[0]
	l.free[c] = l.starts[c]
	for turn := 0; turn <= len(list); turn++ {
		if e.puts[0].turn == turn {
			l.addAlone(&sum, e.puts[0].battery, c)
		}
		if e.puts[1].turn == turn {
			l.addAlone(&sum, e.puts[1].battery, c)
		}
		if turn < len(list) && !e.skips(turn) {
			l.addAlone(&sum, list[turn].battery, c)
		}
	}
	sum.last = l.free[c]
	return sum
}

func (l *line) addAlone(sum *cost, battery, c int) {
	if len(l.pins[c]) > 0 {
		*sum = l.add(*sum, entry{battery, c})
		return
	}
	w, j := &l.ways[battery][c], &l.jobs[battery]
	on := l.hands.next(max(l.free[c], j.from))
	off := never
	if on != never {
		off = l.hands.next(on + w.ready)
	}
	if off == never {
		sum.unplaced++
		return
	}
	l.free[c] = off
	if j.flat {
		sum.flat += int64(on + w.test)
	}
	if over := int64(off)*thousandths - j.due; over > 0 {
		sum.late += over * j.weight
	}
}

// restore stands the line as it stood before a turn.
func (l *line) restore(turn int) cost {
	if turn == 0 {
		l.clear()
		return cost{}
	}
	m := &l.marks[turn]
	copy(l.free, m.free)
	l.load = append(l.load[:0], m.load...)
	return m.sum
}

// keep marks how the line stands before each turn of a list that is kept, from a turn on.
func (l *line) keep(list []entry, first int) {
	if !l.group.tight {
		return
	}
	sum := l.restore(first)
	for turn := first; turn <= len(list); turn++ {
		if turn == len(l.marks) {
			l.marks = append(l.marks, mark{})
		}
		m := &l.marks[turn]
		m.free, m.load, m.sum = append(m.free[:0], l.free...), append(m.load[:0], l.load...), sum
		if turn < len(list) {
			sum = l.add(sum, list[turn])
		}
	}
}
