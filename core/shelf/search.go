package shelf

import (
	"cmp"
	"math"
	"slices"
	"sync"
)

// order is a plan as the search has it: for each group the batteries in their turn, with what
// each list costs.
type order struct {
	lists [][]entry
	costs []cost
	// missing are how many are in no list.
	missing int
	total   cost
}

func (o *order) copyOf() *order {
	c := &order{lists: make([][]entry, len(o.lists)), costs: slices.Clone(o.costs), missing: o.missing, total: o.total}
	for i := range o.lists {
		c.lists[i] = slices.Clone(o.lists[i])
	}
	return c
}

// searcher looks for a better order, among the channels that are open to it.
type searcher struct {
	*board
	lines []*line
	luck  luck
	// to are the channels that each battery may go on, may the same as yes or no.
	to  [][]int
	may [][]bool
	// work is what may still be spent, in batteries laid.
	work int
	seed uint64
	// heat is how far uphill it goes; at 0 costs are weighed in their order.
	heat float64
	// most is what the change that is weighed now may cost, as one figure.
	most float64
	// was is what the plan cost before it, rest what the groups cost that it leaves alone.
	was, rest cost
}

// luck is a row of numbers that look drawn, always the same from a seed (xorshift).
type luck uint64

func (l *luck) next() uint64 {
	x := uint64(*l)
	x ^= x << 13
	x ^= x >> 7
	x ^= x << 17
	*l = luck(x)
	return x
}

// below is a number from 0 on below n.
func (l *luck) below(n int) int { return int(l.next() >> 32 * uint64(n) >> 32) }

// What the search spends at most for each channel that it takes in, in batteries laid; the
// first channels, up to wholeAt, get less, smallPart of it at the least. A battery in a group
// whose limits bind costs tightWork. It is counted, not timed, so that the same question has
// the same answer.
const (
	workEach  = 600_000
	wholeAt   = 12
	smallPart = 0.1
	tightWork = 3
)

// Weights of the costs against each other while the search may still go uphill, in minutes
// stood flat: one battery not placed, a minute late, a minute longer until the last is off;
// the heat it ends with, and the part of the work after which costs are weighed
// in their order. Tried out on made-up shelves.
const (
	unplacedWeight = 1e5
	lateWeight     = 12.0
	lastWeight     = 0.2
	hotEnd         = 0.4
	coldPart       = 0.25
)

// hotStarts are the heats that the searches side by side begin with.
var hotStarts = [halves]float64{120, 1000}

// search finds an order. The channels that hold nothing join one by one, each time from the
// best without it, so that one more charger never costs more.
func (b *board) search() *order {
	open := make([]bool, len(b.ask.Channels))
	var joining []int
	for c := range open {
		used := slices.ContainsFunc(b.free, func(i int) bool { return b.ways[i][c].ready != never })
		switch {
		case !used:
		case len(b.fixed[c]) > 0:
			open[c] = true
		default:
			joining = append(joining, c)
		}
	}
	best := b.empty()
	if len(b.free) == 0 {
		return best
	}
	if slices.Contains(open, true) || len(joining) == 0 {
		best = b.improve(best, open)
	}
	for _, c := range joining {
		open[c] = true
		best = b.improve(best, open)
	}
	return best
}

// again searches a little from the plan of a board that differs little.
func (b *board) again(best *order) *order {
	open := make([]bool, len(b.ask.Channels))
	for c := range open {
		open[c] = true
	}
	from := b.empty()
	for _, list := range best.lists {
		for _, e := range list {
			if group := b.groupOf[e.channel]; b.ways[e.battery][e.channel].ready != never {
				from.lists[group] = append(from.lists[group], e)
				from.missing--
			}
		}
	}
	for i := range from.lists {
		from.costs[i] = newLine(b, i).whole(from.lists[i])
	}
	from.total = b.sum(from)
	s := b.searcher(open, 0)
	s.work = fixWork
	return s.run(from)
}

// empty is the order in which nothing has a place yet.
func (b *board) empty() *order {
	o := &order{lists: make([][]entry, len(b.groups)), costs: make([]cost, len(b.groups)), missing: len(b.free)}
	o.total = b.sum(o)
	return o
}

// sum is what an order costs with all that is fixed.
func (b *board) sum(o *order) cost {
	total := b.base
	total.unplaced += o.missing
	for _, c := range o.costs {
		total = total.with(c)
	}
	return total
}

// improve searches from an order, twice side by side with other luck, and gives the best
// of all.
func (b *board) improve(from *order, open []bool) *order {
	if few := b.exact(open); few != nil {
		if few.total.compare(from.total) < 0 {
			return few
		}
		return from
	}
	var found [halves]*order
	var all sync.WaitGroup
	for half := range halves {
		all.Go(func() { found[half] = b.searcher(open, uint64(half)).run(from) })
	}
	all.Wait()
	best := from
	for _, o := range found {
		if o.total.compare(best.total) < 0 {
			best = o
		}
	}
	return best
}

func (b *board) searcher(open []bool, seed uint64) *searcher {
	joined := 0
	s := &searcher{board: b, seed: seed, luck: luck(seed*0x9E3779B97F4A7C15 + 0xD1B54A32D192ED03), to: make([][]int, len(b.jobs)), may: make([][]bool, len(b.jobs))}
	for c := range open {
		if open[c] {
			joined++
		}
	}
	part := math.Min(1, float64(joined)/wholeAt)
	s.work = int(float64(workEach) * (smallPart + (1-smallPart)*part*part*part))
	for i := range b.groups {
		s.lines = append(s.lines, newLine(b, i))
		if b.groups[i].tight {
			s.lines[i].like = b.alike(i, open)
		}
	}
	for _, i := range b.free {
		s.may[i] = make([]bool, len(open))
		for c := range open {
			if s.may[i][c] = open[c] && b.ways[i][c].ready != never; s.may[i][c] && s.kindOf(c) == c {
				s.to[i] = append(s.to[i], c)
			}
		}
	}
	return s
}

// run fills in what has no place yet, then searches: uphill too while it is hot, downhill
// at the end.
func (s *searcher) run(from *order) *order {
	now := from.copyOf()
	for i, list := range now.lists {
		for at := range list {
			list[at].channel = s.kindOf(list[at].channel)
		}
		now.costs[i] = s.lines[i].whole(list)
		s.lines[i].keep(list, 0)
	}
	s.fill(now)
	best := now.copyOf()
	whole, hot := s.work, hotStarts[s.seed%halves]
	for s.work > 0 && now.missing < len(s.free) {
		part := float64(s.work) / float64(whole)
		s.heat = 0
		if part > coldPart {
			s.heat = hot * math.Pow(hotEnd/hot, (1-part)/(1-coldPart))
		}
		for range movesEach {
			s.move(now)
			if now.total.compare(best.total) < 0 {
				best = now.copyOf()
			}
		}
	}
	if from.missing == best.missing && from.total.compare(best.total) < 0 {
		return from
	}
	s.settle(best)
	return best
}

// alike are, for each channel of a group, the open ones that are to every battery as it is:
// which of them one goes on is settled when it is laid.
func (b *board) alike(group int, open []bool) [][]int {
	like := make([][]int, len(b.ask.Channels))
	for _, c := range b.groups[group].channels {
		like[c] = []int{c}
		for _, d := range b.groups[group].channels {
			same := func(i int) bool { return b.ways[i][c] == b.ways[i][d] }
			if c != d && open[c] && open[d] && len(b.pins[c])+len(b.pins[d]) == 0 && !slices.ContainsFunc(b.free, func(i int) bool { return !same(i) }) {
				like[c] = append(like[c], d)
			}
		}
		slices.Sort(like[c])
	}
	return like
}

// kindOf is the first channel like a channel: it stands for all of them.
func (s *searcher) kindOf(channel int) int {
	if like := s.lines[s.groupOf[channel]].like; like != nil {
		return like[channel][0]
	}
	return channel
}

// settle writes down on which of several channels that are alike each battery goes.
func (s *searcher) settle(o *order) {
	for i, list := range o.lists {
		l := s.lines[i]
		if l.like == nil {
			continue
		}
		l.clear()
		for at := range list {
			if one, ok := l.lay(list[at].battery, list[at].channel); ok {
				list[at].channel = one.channel
			}
		}
	}
}

// movesEach are tried at one heat.
const movesEach = 64

// fill gives every battery that has no place the one at the end of a list that costs least,
// the earliest promised first.
func (s *searcher) fill(o *order) {
	placed := map[int]bool{}
	for _, list := range o.lists {
		for _, e := range list {
			placed[e.battery] = true
		}
	}
	left := slices.DeleteFunc(slices.Clone(s.free), func(i int) bool { return placed[i] })
	slices.SortStableFunc(left, func(x, y int) int { return cmp.Compare(s.jobs[x].due, s.jobs[y].due) })
	for _, i := range left {
		s.append(o, i)
	}
	o.total = s.sum(o)
}

func (s *searcher) append(o *order, battery int) {
	at, least := -1, cost{}
	for _, c := range s.to[battery] {
		group := s.groupOf[c]
		was := o.costs[group]
		o.costs[group] = s.lines[group].whole(append(o.lists[group], entry{battery, c}))
		total := s.sum(o)
		o.costs[group] = was
		if at < 0 || total.compare(least) < 0 {
			at, least = c, total
		}
	}
	if at >= 0 {
		group := s.groupOf[at]
		o.lists[group] = append(o.lists[group], entry{battery, at})
		o.costs[group] = s.lines[group].whole(o.lists[group])
		s.lines[group].keep(o.lists[group], 0)
		o.missing--
	}
}

// energy is a cost as one figure, but for when the last is off.
func energy(c cost) float64 {
	const exact = thousandths * thousandths
	return unplacedWeight*float64(c.unplaced) + lateWeight/exact*float64(c.late) + float64(c.flat)
}

// move tries one change and keeps it where it costs less, or by luck.
func (s *searcher) move(o *order) {
	n := len(s.free) - o.missing
	group, at := find(o, s.luck.below(n))
	x := o.lists[group][at]
	if s.luck.next()&(1<<40) == 0 {
		s.swap(o, x, group, at, n)
		return
	}
	c := s.to[x.battery][s.luck.below(len(s.to[x.battery]))]
	to := s.groupOf[c]
	turn := s.luck.below(len(o.lists[to]) + 1)
	there := put{turn, entry{x.battery, c}}
	if to == group {
		if c == x.channel && (turn == at || turn == at+1) {
			s.work--
			return
		}
		s.weigh(o, edit{group: group, skip: [2]int{at, none}, puts: [2]put{there, nothing}})
		return
	}
	s.weigh(o, take(group, at), edit{group: to, skip: [2]int{none, none}, puts: [2]put{there, nothing}})
}

// find is the n-th battery of all lists.
func find(o *order, n int) (group, at int) {
	for n >= len(o.lists[group]) {
		n -= len(o.lists[group])
		group++
	}
	return group, n
}

// swap changes a battery with another one.
func (s *searcher) swap(o *order, x entry, group, at, n int) {
	to, turn := find(o, s.luck.below(n))
	y := o.lists[to][turn]
	if x == y || !s.may[x.battery][y.channel] || !s.may[y.battery][x.channel] {
		s.work--
		return
	}
	here, there := put{at, entry{y.battery, x.channel}}, put{turn, entry{x.battery, y.channel}}
	if to == group {
		s.weigh(o, edit{group: group, skip: [2]int{at, turn}, puts: [2]put{here, there}})
		return
	}
	s.weigh(o, edit{group: group, skip: [2]int{at, none}, puts: [2]put{here, nothing}}, edit{group: to, skip: [2]int{turn, none}, puts: [2]put{there, nothing}})
}

// weigh takes over what changes, where it costs no more or luck will have it.
func (s *searcher) weigh(o *order, edits ...edit) {
	s.was, s.rest = o.total, o.total
	var was [2]cost
	for i := range edits {
		c := o.costs[edits[i].group]
		was[i] = c
		s.rest.unplaced, s.rest.late, s.rest.flat = s.rest.unplaced-c.unplaced, s.rest.late-c.late, s.rest.flat-c.flat
	}
	s.draw()
	kept := true
	for i := 0; i < len(edits) && kept; i++ {
		e := &edits[i]
		list := o.lists[e.group]
		if s.groups[e.group].tight {
			o.costs[e.group], kept = s.lines[e.group].price(list, e, s)
			s.work -= tightWork * (len(list) - e.first() + 1)
		} else {
			o.costs[e.group] = s.lines[e.group].alone(list, e)
			s.work -= len(list) + 1
		}
	}
	if kept {
		o.total = s.sum(o)
		kept = s.accepts(o.total)
	}
	if !kept {
		o.total = s.was
		for i := range edits {
			o.costs[edits[i].group] = was[i]
		}
		return
	}
	for i := range edits {
		e := &edits[i]
		o.lists[e.group] = e.apply(o.lists[e.group])
		if s.groups[e.group].tight {
			s.lines[e.group].keep(o.lists[e.group], e.first())
			s.work -= tightWork * (len(o.lists[e.group]) - e.first() + 1)
		}
	}
}

// draw draws how much the change that is weighed may cost.
func (s *searcher) draw() {
	if s.heat > 0 {
		s.most = energy(s.was) + lastWeight*float64(s.was.last) + s.heat*uphill[s.luck.next()>>(64-uphillBits)]
	}
}

// uphill are the shares of the heat that a change may cost more, each as often as another:
// the exponential distribution.
var uphill = func() (table [1 << uphillBits]float64) {
	for i := range table {
		table[i] = -math.Log((float64(i) + 0.5) / float64(len(table)))
	}
	return table
}()

const uphillBits = 10

// tooMuch reports of a part of a group that with the rest of the plan it costs too much
// already.
func (s *searcher) tooMuch(part cost) bool {
	sum := part.with(s.rest)
	if s.heat > 0 {
		return energy(sum) > s.most
	}
	was := s.was
	sum.last, was.last = 0, 0
	return sum.compare(was) > 0
}

// accepts reports whether a change is kept: one that costs no more always, another by luck
// while it is hot.
func (s *searcher) accepts(now cost) bool {
	if s.heat > 0 {
		return energy(now)+lastWeight*float64(now.last) <= s.most
	}
	return now.compare(s.was) <= 0
}
