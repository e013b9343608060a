package shelf

import "slices"

// Up to so many batteries and channels every order is weighed.
const (
	fewBatteries = 7
	fewChannels  = 3
)

// tree is the search through every order of a few batteries on a few channels.
//
// It is enough to lay batteries in the order of their beginnings: where nothing can be moved
// to earlier, laying each as early as it may be in that order gives the same plan again.
type tree struct {
	*board
	channels []int
	lines    []*line
	left     []int
	list     []entry
	// best is the list that costs least, and cost what the whole plan then comes to.
	best []entry
	cost cost
}

// exact weighs every order of a few batteries on a few channels; nil where there are more.
func (b *board) exact(open []bool) *order {
	var channels []int
	for c := range open {
		if open[c] {
			channels = append(channels, c)
		}
	}
	if len(b.free) > fewBatteries || len(channels) > fewChannels {
		return nil
	}
	o := b.empty()
	t := b.tree(channels)
	t.left, t.cost = slices.Clone(b.free), o.total
	t.grow(b.base, 0)
	t.into(o)
	o.missing = len(b.free) - len(t.best)
	o.total = b.sum(o)
	return o
}

func (b *board) tree(channels []int) *tree {
	t := &tree{board: b, channels: channels, lines: make([]*line, len(b.ask.Channels))}
	of := map[int]*line{}
	for _, c := range channels {
		group := b.groupOf[c]
		if of[group] == nil {
			of[group] = newLine(b, group)
		}
		t.lines[c] = of[group]
	}
	return t
}

// into takes the best list over into an order that has nothing of these channels.
func (t *tree) into(o *order) {
	for _, e := range t.best {
		group := t.groupOf[e.channel]
		o.lists[group] = append(o.lists[group], e)
	}
	for _, c := range t.channels {
		group := t.groupOf[c]
		o.costs[group] = t.lines[c].whole(o.lists[group])
	}
}

// grow lays each battery that is left on each channel next, unless it begins before the one
// laid last or already costs more than the best.
func (t *tree) grow(sum cost, begin int) {
	laid := false
	for n := range t.left {
		i := t.left[n]
		for _, c := range t.channels {
			if t.ways[i][c].ready == never {
				continue
			}
			line := t.lines[c]
			free, load := line.free[c], []step(nil)
			if line.group.tight {
				load = slices.Clone(line.load)
			}
			one, ok := line.lay(i, c)
			if ok && one.on >= begin {
				laid = true
				more := sum.with(t.jobs[i].of(one.testable, one.off))
				t.left = slices.Delete(t.left, n, n+1)
				t.list = append(t.list, entry{i, c})
				if t.bound(more, one.on).compare(t.cost) < 0 {
					t.grow(more, one.on)
				}
				t.list = t.list[:len(t.list)-1]
				t.left = slices.Insert(t.left, n, i)
			}
			line.free[c] = free
			if line.group.tight {
				line.load = load
			}
		}
	}
	if laid {
		return
	}
	sum.unplaced += len(t.left)
	if sum.compare(t.cost) < 0 {
		t.cost, t.best = sum, slices.Clone(t.list)
	}
}

// bound is the least that a plan comes to that begins like this: every battery that is left
// goes on at once, on the channel where it is done first.
func (t *tree) bound(sum cost, begin int) cost {
	for _, i := range t.left {
		testable, ready := never, never
		for _, c := range t.channels {
			w := &t.ways[i][c]
			if w.ready == never {
				continue
			}
			on := t.hands.next(max(begin, t.lines[c].free[c]))
			if on == never {
				continue
			}
			testable, ready = min(testable, on+w.test), min(ready, on+w.ready)
		}
		if ready == never {
			continue
		}
		if off := t.hands.next(ready); off != never {
			sum = sum.with(t.jobs[i].of(testable, off))
		}
	}
	return sum
}
