package shelf

import (
	"math"
	"slices"
	"sync"
	"time"

	"grapnel/core/charging"
)

// board is a shelf in whole minutes from now on, batteries and channels by their place in
// the lists.
type board struct {
	ask   Ask
	start time.Time
	hands hands
	// pairs are each battery with each channel: what is set, and what is asked of the place.
	pairs [][]charging.Pair
	// ways are the same as the search wants them, nothing where a battery may not go.
	ways [][]way
	jobs []job
	// free are the batteries that are not on a channel yet and may go on one.
	free []int
	// fixed are the blocks that stand where they are, a list for each channel by time: what
	// is on already, and what a person has decided.
	fixed [][]block
	// starts are when each channel is free of what is on it already, pins the blocks on it
	// that a person has decided.
	starts []int
	pins   [][]block
	groups []group
	// base is what all that is fixed costs.
	base cost
	// groupOf is which group a channel belongs to.
	groupOf []int
}

// way is a battery on a channel: minutes until testable and until ready, and what it asks
// of the place while it is on. Ready is never for one that may not go on.
type way struct {
	test, ready int
	watts, air  float64
	// short tells of a way that is closed because the place has too little for it.
	short bool
}

// job is what a battery costs.
type job struct {
	flat bool
	// due is the promise in thousandths of a minute, never where there is none; weight is
	// that of a minute late in thousandths.
	due, weight int64
	// from is not before when a person wants it on.
	from int
	// pinned is the channel that a person decided for, -1 for none.
	pinned int
	since  int
}

// block is a battery on a channel, in minutes; testable or off may be never.
type block struct{ battery, channel, on, testable, off int }

// group is a set of channels that are planned together: one by itself, or all of a place
// whose mains or air may run short.
type group struct {
	channels []int
	// watts and air are the limits; infinite where there is none.
	watts, air float64
	tight      bool
}

// minute is the first whole minute that is not before a time; whole the last not after it.
func (b *board) minute(t time.Time) int {
	return bounded(math.Ceil(t.Sub(b.start).Minutes() - rounding))
}
func (b *board) whole(t time.Time) int {
	return bounded(math.Floor(t.Sub(b.start).Minutes() + rounding))
}

// rounding is how far off a whole minute still counts as one.
const rounding = 1e-9

// bounded keeps minutes within what sums of them have room for, some years.
func bounded(minutes float64) int { return int(max(-farMinutes, min(minutes, farMinutes))) }

// farMinutes is further off than any plan reaches, about ten years.
const farMinutes = 5e6

// at is a minute as a time.
func (b *board) at(minute int) time.Time {
	return b.start.Add(time.Duration(minute) * time.Minute).In(b.ask.Zone)
}

// boardOf is a shelf as the search wants it, of every battery with every channel.
func boardOf(a Ask, pairs [][]charging.Pair) *board {
	b := &board{ask: a, pairs: pairs, start: a.Now.Truncate(time.Minute)}
	if b.start.Before(a.Now) {
		b.start = b.start.Add(time.Minute)
	}
	b.hands = handsOf(a.Hands, b.minute, b.whole)
	b.ways = make([][]way, len(a.Batteries))
	for i := range a.Batteries {
		b.jobs = append(b.jobs, b.jobOf(&a.Batteries[i]))
		b.ways[i] = make([]way, len(a.Channels))
		for c := range a.Channels {
			b.ways[i][c] = wayOf(b.pairs[i][c], a.Batteries[i].Charge.Until)
		}
	}
	b.begin()
	b.limits()
	b.pin()
	for _, list := range b.fixed {
		for _, f := range list {
			if len(b.pairs[f.battery][f.channel].Refusals) > 0 {
				b.base.unplaced++
				continue
			}
			b.base = b.base.with(b.jobs[f.battery].of(f.testable, f.off))
		}
	}
	for i := range a.Batteries {
		open := func(w way) bool { return w.ready != never }
		if b.jobs[i].since < 0 && b.jobs[i].pinned < 0 && slices.ContainsFunc(b.ways[i], open) {
			b.free = append(b.free, i)
		}
	}
	return b
}

// pin lays the blocks that a person has decided, the earliest wanted first, each as early as
// it may be.
func (b *board) pin() {
	var pinned []int
	for i := range b.jobs {
		if c := b.jobs[i].pinned; c >= 0 && b.jobs[i].since < 0 && b.ways[i][c].ready != never {
			pinned = append(pinned, i)
		}
	}
	slices.SortStableFunc(pinned, func(x, y int) int { return b.jobs[x].from - b.jobs[y].from })
	for _, i := range pinned {
		c := b.jobs[i].pinned
		line := newLine(b, b.groupOf[c])
		if one, ok := line.lay(i, c); ok {
			b.fixed[c], b.pins[c] = append(b.fixed[c], one), append(b.pins[c], one)
			slices.SortFunc(b.fixed[c], func(x, y block) int { return x.on - y.on })
		}
	}
}

// pairs are worked out side by side, a battery at a time.
func (p Planner) pairs(a Ask) [][]charging.Pair {
	chargers := make([]charging.Charger, len(a.Channels))
	for i := range a.Channels {
		chargers[i] = a.Channels[i].Charger
	}
	out := make([][]charging.Pair, len(a.Batteries))
	var all sync.WaitGroup
	for half := range halves {
		all.Go(func() {
			for i := half; i < len(a.Batteries); i += halves {
				out[i] = p.Charging.Pairs(a.Batteries[i].Charge, chargers)
			}
		})
	}
	all.Wait()
	return out
}

// halves is how many parts work is done in side by side. Whatever the machine, it is the
// same, so that the plan is.
const halves = 2

func wayOf(p charging.Pair, until string) way {
	w := way{test: never, ready: never, watts: p.Watts, air: p.Air}
	ready := p.Ready(until)
	if ready == nil {
		return w
	}
	w.ready, w.test = minutesOf(*ready), never
	if p.Testable != nil {
		w.test = minutesOf(*p.Testable)
	}
	return w
}

const minutesPerHour = 60

func minutesOf(hours float64) int { return int(math.Ceil(hours*minutesPerHour - rounding)) }

// thousandths keep sums of what is late exact.
const thousandths = 1000

func (b *board) jobOf(one *Battery) job {
	j := job{flat: Sulphates(one.Charge.State()), due: never * thousandths, weight: int64(math.Round(one.Weight * thousandths)), pinned: -1, since: -1}
	if one.ReadyBy != nil {
		j.due = int64(math.Round(max(-farMinutes, min(one.ReadyBy.Sub(b.start).Minutes(), farMinutes)) * thousandths))
	}
	if one.Pin != nil {
		j.pinned = slices.IndexFunc(b.ask.Channels, func(c Channel) bool { return c.ID == one.Pin.Channel })
		if one.Pin.From != nil {
			j.from = max(0, b.minute(*one.Pin.From))
		}
	}
	return j
}

// begin takes in what is on a channel already, and lays what a person has decided. One that
// may not be on any more is taken off as soon as somebody is there, and counts as not placed.
func (b *board) begin() {
	b.fixed, b.pins = make([][]block, len(b.ask.Channels)), make([][]block, len(b.ask.Channels))
	b.starts = make([]int, len(b.ask.Channels))
	for c, channel := range b.ask.Channels {
		if channel.Since == nil {
			continue
		}
		i := slices.IndexFunc(b.ask.Batteries, func(one Battery) bool { return one.ID == channel.Since.Battery })
		if i < 0 {
			continue
		}
		b.jobs[i].since = c
		pair := b.pairs[i][c]
		one := block{battery: i, channel: c, on: b.whole(channel.Since.At), testable: never, off: b.hands.next(0)}
		if pair.Testable != nil {
			one.testable = b.since(c, *pair.Testable)
		}
		if len(pair.Refusals) == 0 {
			ready := charging.MostHours
			if r := pair.Ready(b.ask.Batteries[i].Charge.Until); r != nil {
				ready = *r
			}
			one.off = b.hands.next(max(0, b.since(c, ready)))
		}
		b.fixed[c], b.starts[c] = append(b.fixed[c], one), one.off
	}
}

// since is the minute so many hours after what is on a channel was put on.
func (b *board) since(channel int, hours float64) int {
	return bounded(math.Ceil(b.ask.Channels[channel].Since.At.Sub(b.start).Minutes() + hours*minutesPerHour - rounding))
}

// limits part the channels into groups.
func (b *board) limits() {
	b.groupOf = make([]int, len(b.ask.Channels))
	of := map[string]int{}
	for c, channel := range b.ask.Channels {
		at := slices.IndexFunc(b.ask.Places, func(p Place) bool { return p.ID == channel.Place })
		one := group{channels: []int{c}, watts: math.Inf(1), air: math.Inf(1)}
		if at >= 0 {
			one.watts, one.air = orInfinite(b.ask.Places[at].Watts), orInfinite(b.ask.Places[at].AirM3h)
			if i, known := of[channel.Place]; known {
				b.groups[i].channels = append(b.groups[i].channels, c)
				b.groupOf[c] = i
				continue
			}
			of[channel.Place] = len(b.groups)
		}
		b.groupOf[c] = len(b.groups)
		b.groups = append(b.groups, one)
	}
	for i := 0; i < len(b.groups); i++ {
		b.forbid(i)
		b.loosen(i)
	}
}

func orInfinite(x *float64) float64 {
	if x == nil {
		return math.Inf(1)
	}
	return *x
}

// forbid closes the ways that by themselves ask for more than the place has.
func (b *board) forbid(i int) {
	for _, c := range b.groups[i].channels {
		for j := range b.ways {
			if w := &b.ways[j][c]; w.watts > b.groups[i].watts+rounding || w.air > b.groups[i].air+rounding {
				w.ready, w.short = never, w.ready != never
			}
		}
	}
}

// loosen parts a group whose limits can never be reached into its channels.
func (b *board) loosen(i int) {
	watts, air := 0.0, 0.0
	for _, c := range b.groups[i].channels {
		mostWatts, mostAir := 0.0, 0.0
		for j := range b.ways {
			if w := &b.ways[j][c]; w.ready != never || b.jobs[j].since == c {
				mostWatts, mostAir = max(mostWatts, w.watts), max(mostAir, w.air)
			}
		}
		watts, air = watts+mostWatts, air+mostAir
	}
	one := &b.groups[i]
	one.tight = watts > one.watts+rounding || air > one.air+rounding
	if one.tight {
		return
	}
	for _, c := range one.channels[1:] {
		b.groupOf[c] = len(b.groups)
		b.groups = append(b.groups, group{channels: []int{c}, watts: math.Inf(1), air: math.Inf(1)})
	}
	b.groups[i] = group{channels: b.groups[i].channels[:1], watts: math.Inf(1), air: math.Inf(1)}
}
