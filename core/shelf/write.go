package shelf

import (
	"cmp"
	"maps"
	"math"
	"slices"
	"time"

	"grapnel/core/charging"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// write is an order as it is answered.
func (b *board) write(o *order, fixes []Fix) Plan {
	blocks, missing := b.blocks(o)
	p := Plan{
		Plan: []Block{}, Late: []Late{}, Unplaced: []Unplaced{}, Hours: b.hours(), Fixes: fixes, Air: b.air(blocks),
		Cost: o.total.read(), Cautions: b.cautions(), Assumed: b.assumed(),
	}
	for _, one := range blocks {
		p.Plan = append(p.Plan, b.blockOf(one))
		if late := b.late(one); late > 0 {
			p.Late = append(p.Late, Late{b.ask.Batteries[one.battery].ID, late})
		}
	}
	slices.SortStableFunc(p.Late, func(x, y Late) int { return cmp.Compare(y.Minutes, x.Minutes) })
	for _, i := range missing {
		p.Unplaced = append(p.Unplaced, Unplaced{b.ask.Batteries[i].ID, b.why(i)})
	}
	return p
}

// cautions are those of every shelf, and those of the batteries that are on this one.
func (b *board) cautions() []school.Caution {
	out := []school.Caution{school.Acid, school.Spark, school.Ventilation, school.Gas, school.Hot}
	for _, one := range []struct {
		caution school.Caution
		holds   func(i int) bool
	}{
		{school.FrozenOrDamaged, func(i int) bool { return b.refused(i, "refusal.frozen", "refusal.damaged") }},
		{school.EyeClear, func(i int) bool { return b.refused(i, "refusal.eye_clear") }},
		{school.PlatesDry, func(i int) bool { return b.refused(i, "refusal.plates_dry") }},
		{school.Lithium, func(i int) bool { return b.refused(i, "refusal.lithium") }},
		{school.Runaway, func(i int) bool { return b.ask.Batteries[i].Charge.Label.Chemistry.ValveRegulated() }},
		{school.HighVolts, func(i int) bool { return b.ask.Batteries[i].Charge.Until == charging.Equalise }},
	} {
		for i := range b.ask.Batteries {
			if one.holds(i) {
				out = append(out, one.caution)
				break
			}
		}
	}
	return append(out, school.Defer)
}

// refused reports a battery that a channel is refused by one of some codes.
func (b *board) refused(i int, codes ...string) bool {
	for _, pair := range b.pairs[i] {
		if slices.ContainsFunc(pair.Refusals, func(r wording.Statement) bool { return slices.Contains(codes, r.Code) }) {
			return true
		}
	}
	return false
}

// read is a cost in the units that are answered.
func (c cost) read() Cost {
	const exact = thousandths * thousandths
	return Cost{float64(c.late) / exact, hoursOf(c.flat), hoursOf(int64(c.last))}
}

func hoursOf(minutes int64) float64 {
	return round(float64(minutes) / minutesPerHour)
}

// round is a figure to three digits behind the point.
func round(x float64) float64 { return math.Round(x*thousandths) / thousandths }

// blocks are an order's blocks and those that are fixed, by channel and time, and the
// batteries that have none.
func (b *board) blocks(o *order) (blocks []block, missing []int) {
	placed := map[int]bool{}
	take := func(one block) { blocks, placed[one.battery] = append(blocks, one), true }
	for c := range b.fixed {
		for _, f := range b.fixed[c] {
			if len(b.pairs[f.battery][c].Refusals) == 0 {
				take(f)
			}
		}
	}
	for i, list := range o.lists {
		line := newLine(b, i)
		for _, e := range list {
			if one, ok := line.lay(e.battery, e.channel); ok {
				take(one)
			}
		}
	}
	slices.SortFunc(blocks, func(x, y block) int { return cmp.Or(x.channel-y.channel, x.on-y.on) })
	for i := range b.jobs {
		if !placed[i] {
			missing = append(missing, i)
		}
	}
	return blocks, missing
}

func (b *board) blockOf(one block) Block {
	channel, pair := b.ask.Channels[one.channel], b.pairs[one.battery][one.channel]
	out := Block{
		Battery: b.ask.Batteries[one.battery].ID, Channel: channel.ID, On: b.at(one.on), Testable: b.maybe(one.testable),
		Off: b.maybe(one.off), Amps: float64(pair.Setting.Amps),
	}
	on := one.on
	if b.jobs[one.battery].since == one.channel {
		out.On = channel.Since.At.In(b.ask.Zone)
	}
	if pair.Full != nil {
		full := on + minutesOf(*pair.Full)
		if b.jobs[one.battery].since == one.channel {
			full = b.since(one.channel, *pair.Full)
		}
		out.Full = b.maybe(full)
	}
	return out
}

// maybe is a minute as a time, nil for never.
func (b *board) maybe(minute int) *time.Time {
	if minute == never {
		return nil
	}
	at := b.at(minute)
	return &at
}

// late is by how many minutes a block misses its promise.
func (b *board) late(one block) float64 {
	if one.off == never {
		return 0
	}
	return max(0, float64(int64(one.off)*thousandths-b.jobs[one.battery].due)/thousandths)
}

// hours are every pair that is allowed.
func (b *board) hours() map[string]map[string]Hours {
	out := map[string]map[string]Hours{}
	for i, one := range b.ask.Batteries {
		of := map[string]Hours{}
		for c, pair := range b.pairs[i] {
			if len(pair.Refusals) == 0 {
				of[b.ask.Channels[c].ID] = Hours{pair.Testable, pair.Full}
			}
		}
		out[one.ID] = of
	}
	return out
}

// why is why a battery has no place.
func (b *board) why(i int) wording.Statement {
	if c := max(b.jobs[i].since, b.jobs[i].pinned); c >= 0 && len(b.pairs[i][c].Refusals) > 0 {
		return b.pairs[i][c].Refusals[0]
	}
	var allowed, gets, short int
	for c, w := range b.ways[i] {
		if len(b.pairs[i][c].Refusals) > 0 {
			continue
		}
		allowed++
		if w.short {
			short++
		}
		if w.ready != never {
			gets++
		}
	}
	switch {
	case len(b.ask.Channels) == 0:
		return wording.Say("unplaced.no_channel", nil)
	case allowed == 0:
		return b.refusal(i)
	case gets > 0:
		return wording.Say("unplaced.no_hands", nil)
	case short > 0:
		return wording.Say("unplaced.place_too_small", nil)
	}
	return wording.Say("unplaced.never_ready", wording.Values{"hours": charging.MostHours})
}

// refusal is what forbids a battery on every channel, or on most where they differ.
func (b *board) refusal(i int) wording.Statement {
	count := map[string]int{}
	first := map[string]wording.Statement{}
	for _, pair := range b.pairs[i] {
		for _, r := range pair.Refusals {
			if count[r.Code]++; count[r.Code] == 1 {
				first[r.Code] = r
			}
		}
	}
	codes := slices.Sorted(maps.Keys(count))
	return first[slices.MaxFunc(codes, func(x, y string) int { return cmp.Or(count[x]-count[y], b.rank(i, y)-b.rank(i, x)) })]
}

// rank is where in the lists of what forbids a battery a code stands first.
func (b *board) rank(i int, code string) int {
	least := len(b.pairs[i]) + 1
	for _, pair := range b.pairs[i] {
		if at := slices.IndexFunc(pair.Refusals, func(r wording.Statement) bool { return r.Code == code }); at >= 0 {
			least = min(least, at)
		}
	}
	return least
}

// assumed are what was taken for what was not said, of which battery.
func (b *board) assumed() []wording.Statement {
	out := []wording.Statement{}
	for i, one := range b.ask.Batteries {
		if !slices.ContainsFunc(b.pairs[i], func(p charging.Pair) bool { return len(p.Refusals) == 0 }) {
			continue
		}
		for _, said := range charging.Assumed(one.Charge) {
			if said.Code != "assumed.charger" {
				values := maps.Clone(said.Values)
				if values == nil {
					values = wording.Values{}
				}
				values["battery"] = one.ID
				out = append(out, wording.Statement{Code: said.Code, Values: values, Readings: said.Readings, Text: one.ID + ": " + said.Text})
			}
		}
	}
	return out
}
