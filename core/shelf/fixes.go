package shelf

import (
	"cmp"
	"slices"
	"time"

	"grapnel/core/charging"
	"grapnel/core/wording"
)

// What is tried for those that are late: so many batteries, the latest first, so many kinds
// of charger, so many of the next times that somebody leaves; and with how much work.
const (
	fixLate     = 3
	fixChargers = 4
	fixLeavings = 3
	fixWork     = 20_000
)

// stayHours is how much longer somebody stays, putOffDays what a promise is put off by.
const (
	stayHours  = 1
	putOffDays = 1
)

// fixer tries changes of a shelf against its plan.
type fixer struct {
	Planner
	board *board
	best  *order
}

// fixes are the ways to be less late, the one that saves most first; of each kind of way
// only those that save anything.
func (p Planner) fixes(b *board, best *order) []Fix {
	out := []Fix{}
	if best.total.late == 0 {
		return out
	}
	f := fixer{p, b, best}
	for _, one := range f.late() {
		out = append(append(out, f.amps(one)...), f.tomorrow(one)...)
	}
	out = append(append(out, most(f.hands())...), most(f.chargers())...)
	slices.SortStableFunc(out, func(x, y Fix) int { return cmp.Compare(y.SavesMinutes, x.SavesMinutes) })
	return out
}

// late are the blocks that cost the most lateness.
func (f fixer) late() []block {
	blocks, _ := f.board.blocks(f.best)
	costs := func(one block) int64 { return f.board.jobs[one.battery].of(one.testable, one.off).late }
	blocks = slices.DeleteFunc(blocks, func(one block) bool { return costs(one) == 0 })
	slices.SortStableFunc(blocks, func(x, y block) int { return cmp.Compare(costs(y), costs(x)) })
	return blocks[:min(fixLate, len(blocks))]
}

// most is the way that saves most.
func most(ways []Fix) []Fix {
	if len(ways) == 0 {
		return nil
	}
	return []Fix{slices.MaxFunc(ways, func(x, y Fix) int { return cmp.Compare(x.SavesMinutes, y.SavesMinutes) })}
}

// try plans a changed shelf from the plan as it is, and says what is saved; none where
// nothing is.
func (f fixer) try(code string, a Ask, pairs [][]charging.Pair, values wording.Values) []Fix {
	b := boardOf(a, pairs)
	now := b.again(f.best)
	saved := f.best.total.late - now.total.late
	if saved <= 0 || now.total.unplaced > f.best.total.unplaced {
		return nil
	}
	minutes := cost{late: saved}.read().LateMinutes
	values["minutes"] = minutes
	return []Fix{{Text: wording.Text("fix."+code, values), Code: code, SavesMinutes: minutes, Values: values}}
}

// amps sets more than is kind, within what the battery may have.
func (f fixer) amps(one block) []Fix {
	b := f.board
	battery, channel := b.ask.Batteries[one.battery], b.ask.Channels[one.channel]
	ask, charged := battery.Charge, time.Duration(0)
	if b.jobs[one.battery].since == one.channel {
		charged = b.start.Sub(channel.Since.At)
		ask = f.Charging.After(ask, channel.Charger, charged.Hours())
	}
	pair, ok := f.Charging.Faster(ask, channel.Charger)
	if !ok {
		return nil
	}
	usual := b.pairs[one.battery][one.channel].Setting.Amps
	pair.Later(charged.Hours())
	pairs := slices.Clone(b.pairs)
	pairs[one.battery] = slices.Clone(pairs[one.battery])
	pairs[one.battery][one.channel] = pair
	return f.try("amps", b.ask, pairs, wording.Values{"battery": battery.ID, "amps": pair.Setting.Amps, "usual": usual})
}

// tomorrow puts a promise off by a day.
func (f fixer) tomorrow(one block) []Fix {
	a := f.board.ask
	a.Batteries = slices.Clone(a.Batteries)
	by := a.Batteries[one.battery].ReadyBy.In(a.Zone).AddDate(0, 0, putOffDays)
	a.Batteries[one.battery].ReadyBy = &by
	return f.try("tomorrow", a, f.board.pairs, wording.Values{"battery": a.Batteries[one.battery].ID, "at": f.clock(by)})
}

func (f fixer) clock(at time.Time) string { return at.In(f.board.ask.Zone).Format("2 January 15:04") }

// hands has somebody stay longer, each of the next times.
func (f fixer) hands() []Fix {
	var out []Fix
	a := f.board.ask
	slices.SortFunc(a.Hands, func(x, y Window) int { return x.To.Compare(y.To) })
	tried := 0
	for i, w := range a.Hands {
		if w.To.Before(a.Now) || tried == fixLeavings {
			continue
		}
		tried++
		longer := a
		longer.Hands = slices.Clone(a.Hands)
		longer.Hands[i].To = w.To.Add(stayHours * time.Hour)
		out = append(out, f.try("hands", longer, f.board.pairs, wording.Values{"at": f.clock(longer.Hands[i].To)})...)
	}
	return out
}

// chargers sets one more beside each kind that is there.
func (f fixer) chargers() []Fix {
	var out []Fix
	b := f.board
	var tried []int
	for c, channel := range b.ask.Channels {
		same := func(i int) bool {
			other := b.ask.Channels[i]
			return charging.Alike(other.Charger, channel.Charger) && other.Place == channel.Place
		}
		if len(tried) == fixChargers || slices.ContainsFunc(tried, same) {
			continue
		}
		tried = append(tried, c)
		a := b.ask
		a.Channels = append(slices.Clone(a.Channels), Channel{ID: channel.ID + "+", Place: channel.Place, Charger: channel.Charger})
		pairs := make([][]charging.Pair, len(b.pairs))
		for i := range pairs {
			pairs[i] = append(slices.Clone(b.pairs[i]), b.pairs[i][c])
		}
		out = append(out, f.try("charger", a, pairs, wording.Values{"channel": channel.ID})...)
	}
	return out
}
