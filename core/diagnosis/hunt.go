package diagnosis

import (
	"cmp"
	"math"
	"slices"

	"grapnel/core/circuit"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/wording"
)

// Hunt is where a drain goes: the whole of it, what each fuse carries, and what
// no fuse measured so far explains.
type Hunt struct {
	// Whole is the latest drain of the whole vehicle; nil where none was taken.
	Whole *Carried `json:"whole"`
	// Limit is the most a sleeping vehicle may draw.
	Limit quantity.Amperes `json:"limit"`
	// Fuses are those measured, the largest current first.
	Fuses []Carried `json:"fuses"`
	// LeastLeft and MostLeft bound what the fuses leave unexplained, nineteen times
	// in twenty; both zero without a whole.
	LeastLeft quantity.Amperes `json:"least_left"`
	MostLeft  quantity.Amperes `json:"most_left"`
	// Text is what to do next.
	Text wording.Statement `json:"text"`
	// Ratings are the blade fuses whose resistance is known, in amperes.
	Ratings []float64 `json:"ratings"`
}

// Carried is one current of the sleeping vehicle, with its band.
type Carried struct {
	Reading wording.Ref      `json:"reading"`
	Fuse    string           `json:"fuse"`
	Amps    quantity.Amperes `json:"amps"`
	Low     quantity.Amperes `json:"low"`
	High    quantity.Amperes `json:"high"`
	// Valid says that the vehicle had been asleep, or draws little anyhow.
	Valid bool `json:"valid"`
	// Share of the whole, 0 to 1 and above where the errors add up; 0 without a whole.
	Share float64 `json:"share"`

	sigma float64
	// place is the reading's in the case.
	place int
}

// carriesMost is the share of a drain from which one fuse is the one. Value from
// memory.
const carriesMost = 0.5

func hunt(ev evidence.Evidence) Hunt {
	h := Hunt{Limit: quantity.Amperes(ev.DrainMost().Value), Fuses: []Carried{}, Ratings: circuit.FuseRatings()}
	latest := map[string]Carried{}
	for i := range ev.Case.Readings {
		r := &ev.Case.Readings[i].Reading
		if r.Kind != reading.Drain {
			continue
		}
		amps, sigma, known := evidence.DrainAmps(r)
		if !known {
			continue
		}
		d := Carried{
			Reading: ev.Case.Ref(i),
			place:   i,
			Fuse:    r.Fuse,
			Amps:    amps,
			Low:     max(0, amps-2*sigma),
			High:    amps + 2*sigma,
			Valid:   ev.Findings[i].Valid,
			sigma:   float64(sigma),
		}
		if r.Fuse == "" && !r.Has(reading.FuseRatingA) {
			h.Whole = &d
			continue
		}
		latest[r.Fuse] = d
	}
	for _, d := range latest {
		h.Fuses = append(h.Fuses, d)
	}
	slices.SortFunc(h.Fuses, func(a, b Carried) int {
		return cmp.Or(cmp.Compare(b.Amps, a.Amps), cmp.Compare(a.place, b.place))
	})
	h.explain()
	h.Text = h.next()
	return h
}

// explain sets the fuses against the whole.
func (h *Hunt) explain() {
	if h.Whole == nil || h.Whole.Amps <= 0 {
		return
	}
	left, variance := float64(h.Whole.Amps), h.Whole.sigma*h.Whole.sigma
	for i := range h.Fuses {
		h.Fuses[i].Share = float64(h.Fuses[i].Amps / h.Whole.Amps)
		left -= float64(h.Fuses[i].Amps)
		variance += h.Fuses[i].sigma * h.Fuses[i].sigma
	}
	spread := 2 * math.Sqrt(variance)
	h.LeastLeft, h.MostLeft = quantity.Amperes(math.Max(0, left-spread)), quantity.Amperes(math.Max(0, left+spread))
}

// next is what the hunt comes to so far.
func (h *Hunt) next() wording.Statement {
	values := wording.Values{"limit": h.Limit, "left": h.MostLeft, "count": len(h.Fuses)}
	if h.Whole != nil {
		values["whole"] = h.Whole.Amps
	}
	if len(h.Fuses) > 0 {
		values["fuse"], values["amps"] = h.Fuses[0].Fuse, h.Fuses[0].Amps
	}
	code := "go_on"
	switch {
	case h.Whole == nil && len(h.Fuses) == 0:
		code = "begin"
	case h.found():
		code = "found"
		if h.Fuses[0].Fuse == "" {
			code = "found_unnamed"
		}
	case h.Whole == nil:
		code = "no_whole"
	case !h.Whole.Valid:
		code = "awake"
	case h.Whole.Amps <= h.Limit:
		code = "in_order"
	case len(h.Fuses) == 0:
		code = "first_fuse"
	case h.LeastLeft <= 0:
		code = "spread"
	}
	return wording.Say("hunt."+code, values, h.readings()...)
}

// found reports that one fuse alone carries too much, or most of what is too
// much.
func (h *Hunt) found() bool {
	if len(h.Fuses) == 0 || !h.Fuses[0].Valid {
		return false
	}
	first := h.Fuses[0]
	return first.Amps > h.Limit || h.Whole != nil && h.Whole.Valid && h.Whole.Amps > h.Limit && first.Share >= carriesMost
}

func (h *Hunt) readings() []wording.Ref {
	list := []wording.Ref{}
	if h.Whole != nil {
		list = append(list, h.Whole.Reading)
	}
	for _, d := range h.Fuses {
		list = append(list, d.Reading)
	}
	return list
}
