package jump

import (
	"cmp"
	"slices"

	"grapnel/core/quantity"
	"grapnel/core/wording"
)

// change is one thing that may help, by its code; false where it cannot be done here.
type change struct {
	code string
	make func(s *scene) bool
}

// changes are what may help. How far each goes is a value from memory.
var changes = []change{
	{"thicker_cable", func(s *scene) bool { s.area *= twice; return true }},
	{"shorter_cable", func(s *scene) bool { s.metres /= twice; return s.metres >= shortLead }},
	{"feed_longer", func(s *scene) bool { s.feed += feedMore; return true }},
	{"bigger_donor", func(s *scene) bool { s.donor = s.donor.larger(halfMore); return true }},
	{"warm", func(s *scene) bool {
		warm := min(s.engine+warmBy, warmest)
		done := warm > s.engine
		s.engine, s.dead.Celsius = max(warm, s.engine), max(s.dead.Celsius, min(s.dead.Celsius+warmBy, warmest))
		return done
	}},
	{"clean_joints", func(s *scene) bool { done := s.joints > 0; s.joints = 0; return done }},
}

const (
	twice                     = 2
	halfMore                  = 1.5
	warmBy   quantity.Celsius = 15
	warmest  quantity.Celsius = 25
	// worthSaying is by how much a change has to help to be named.
	worthSaying = 0.005
)

// better are the changes that help, the most first.
func (s *scene) better(base float64) []Better {
	out := []Better{}
	for _, c := range changes {
		now := *s
		if !c.make(&now) {
			continue
		}
		p := thousandth(now.probability(now.feed, now.starts()))
		if p > base+worthSaying {
			out = append(out, Better{c.code, wording.Text("jump_better."+c.code, nil), p})
		}
	}
	slices.SortStableFunc(out, func(a, b Better) int { return cmp.Compare(b.Probability, a.Probability) })
	return out
}
