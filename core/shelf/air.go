package shelf

import (
	"slices"

	"grapnel/core/charging"
)

// air is what each place needs while something charges there, from now on, a row for each
// time in which it stays the same.
func (b *board) air(blocks []block) []Air {
	out := []Air{}
	for _, place := range b.ask.Places {
		var there []block
		var edges []int
		for _, one := range blocks {
			if b.ask.Channels[one.channel].Place == place.ID && one.off > 0 {
				there = append(there, one)
				edges = append(edges, max(0, one.on), one.off)
			}
		}
		slices.Sort(edges)
		edges = slices.Compact(edges)
		for i := 0; i+1 < len(edges); i++ {
			flow := 0.0
			for _, one := range there {
				if one.on < edges[i+1] && one.off > edges[i] {
					flow += b.pairs[one.battery][one.channel].Air
				}
			}
			out = b.addAir(out, place, edges[i], edges[i+1], round(flow))
		}
	}
	return out
}

// addAir adds a row, or lengthens the one before it that needs the same.
func (b *board) addAir(rows []Air, place Place, from, to int, flow float64) []Air {
	if flow == 0 {
		return rows
	}
	if to == never {
		to = from
	}
	one := Air{From: b.at(from), To: b.at(to), Place: place.ID, M3h: flow, OpeningCm2: charging.Opening(flow), Enough: true}
	if place.AirM3h != nil {
		one.Enough = flow <= *place.AirM3h+rounding
	}
	if n := len(rows); n > 0 && rows[n-1].Place == place.ID && rows[n-1].M3h == flow && rows[n-1].To.Equal(one.From) {
		rows[n-1].To = one.To
		return rows
	}
	return append(rows, one)
}
