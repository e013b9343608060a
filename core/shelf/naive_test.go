package shelf

import (
	"cmp"
	"math"
	"time"

	"grapnel/core/charging"
)

// naive tries every order of the batteries of a shelf on every channel, each laid at the
// first minute at which nothing forbids it, looked for minute by minute.
type naive struct {
	ask   Ask
	hours map[string]map[string]Hours
	pairs [][]charging.Pair
	laid  []naiveBlock
	found naiveCost
}

type naiveBlock struct{ battery, channel, on, off int }

type naiveCost struct {
	unplaced int
	cost     Cost
}

func newNaive(a Ask, hours map[string]map[string]Hours) *naive {
	return &naive{ask: a, hours: hours, pairs: planner.pairs(a), found: naiveCost{unplaced: math.MaxInt}}
}

func (n *naive) best() naiveCost {
	left := make([]int, len(n.ask.Batteries))
	for i := range left {
		left[i] = i
	}
	n.grow(left)
	return n.found
}

func (n *naive) grow(left []int) {
	if len(left) == 0 {
		n.weigh()
		return
	}
	for k, battery := range left {
		rest := append(append([]int{}, left[:k]...), left[k+1:]...)
		for channel := range n.ask.Channels {
			one, ok := n.first(battery, channel)
			if ok {
				n.laid = append(n.laid, one)
			}
			n.grow(rest)
			if ok {
				n.laid = n.laid[:len(n.laid)-1]
			}
		}
	}
}

// horizon is how far it looks, in minutes.
const horizon = 7 * 24 * 60

func (n *naive) first(battery, channel int) (naiveBlock, bool) {
	b := n.ask.Batteries[battery]
	hours, ok := n.hours[b.ID][n.ask.Channels[channel].ID]
	if !ok {
		return naiveBlock{}, false
	}
	ready := hours.Full
	if b.Charge.Until == charging.Testable {
		ready = hours.Testable
	}
	takes := int(math.Ceil(*ready*60 - 1e-9))
	for on := 0; on < horizon; on++ {
		if !n.there(on) {
			continue
		}
		off := on + takes
		for off < horizon && !n.there(off) {
			off++
		}
		one := naiveBlock{battery, channel, on, off}
		if off < horizon && n.fits(one) {
			return one, true
		}
		// Nothing changes before somebody comes or a battery comes off.
		if next := n.event(on); next > on+1 {
			on = next - 1
		}
	}
	return naiveBlock{}, false
}

// event is the next minute at which a battery comes off or hands come back.
func (n *naive) event(on int) int {
	next := horizon
	for _, one := range n.laid {
		if one.off > on {
			next = min(next, one.off)
		}
	}
	for _, w := range n.ask.Hands {
		if from := int(w.From.Sub(n.ask.Now).Minutes()); from > on {
			next = min(next, from)
		}
	}
	return next
}

func (n *naive) there(minute int) bool {
	if len(n.ask.Hands) == 0 {
		return true
	}
	at := n.ask.Now.Add(time.Duration(minute) * time.Minute)
	for _, w := range n.ask.Hands {
		if !at.Before(w.From) && !at.After(w.To) {
			return true
		}
	}
	return false
}

func (n *naive) fits(one naiveBlock) bool {
	all := append(append([]naiveBlock{}, n.laid...), one)
	for _, other := range n.laid {
		if other.channel == one.channel && other.on < one.off && one.on < other.off {
			return false
		}
	}
	if len(n.ask.Places) == 0 {
		return true
	}
	for _, edge := range all {
		watts, air := 0.0, 0.0
		for _, other := range all {
			if other.on <= edge.on && other.off > edge.on {
				pair := n.pairs[other.battery][other.channel]
				watts, air = watts+pair.Watts, air+pair.Air
			}
		}
		if watts > *n.ask.Places[0].Watts+1e-9 || air > *n.ask.Places[0].AirM3h+1e-9 {
			return false
		}
	}
	return true
}

func (n *naive) weigh() {
	c := naiveCost{unplaced: len(n.ask.Batteries) - len(n.laid)}
	for _, one := range n.laid {
		b := n.ask.Batteries[one.battery]
		if b.ReadyBy != nil {
			c.cost.LateMinutes += max(0, float64(one.off)-b.ReadyBy.Sub(n.ask.Now).Minutes()) * b.Weight
		}
		if b.Charge.Charge.Percent < 75 {
			c.cost.FlatHours += float64(one.on) + math.Ceil(*n.hours[b.ID][n.ask.Channels[one.channel].ID].Testable*60-1e-9)
		}
		c.cost.MakespanHours = max(c.cost.MakespanHours, float64(one.off))
	}
	c.cost.FlatHours, c.cost.MakespanHours = round(c.cost.FlatHours/60), round(c.cost.MakespanHours/60)
	f := n.found
	if cmp.Or(cmp.Compare(c.unplaced, f.unplaced), cmp.Compare(c.cost.LateMinutes, f.cost.LateMinutes),
		cmp.Compare(c.cost.FlatHours, f.cost.FlatHours), cmp.Compare(c.cost.MakespanHours, f.cost.MakespanHours)) < 0 {
		n.found = c
	}
}
