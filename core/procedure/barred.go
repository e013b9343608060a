package procedure

import (
	"strings"

	"grapnel/core/reading"
	"grapnel/core/safety"
	"grapnel/core/school"
)

// moreForbids is what cautions forbid that are no stop rules of a job: plates that stand dry
// bear neither charge nor load, and a lithium battery takes nothing that is made for lead.
// Common practice, no source.
var moreForbids = map[school.Caution][]safety.Work{
	school.PlatesDry:  {safety.Charge, safety.Test},
	school.Lithium:    {safety.Charge, safety.Test, safety.Jump},
	school.LithiumHot: {safety.Charge, safety.Test, safety.Jump, safety.Crank},
}

// forbidden is the caution in force that forbids a work, empty for none.
func (c *checker) forbidden(w safety.Work) school.Caution {
	for _, caution := range c.scene.Barred {
		if !safety.Permits(safety.State{Stops: []safety.Stop{{Caution: caution}}}, safety.Act{Work: w}).Allowed {
			return caution
		}
		for _, other := range moreForbids[caution] {
			if other == w {
				return caution
			}
		}
	}
	return ""
}

// barred objects to work on the battery that a stop rule forbids.
func (c *checker) barred(st *Step) {
	if len(c.scene.Barred) == 0 || len(c.scene.Sources) == 0 {
		return
	}
	if w := c.workOf(st); w != safety.None {
		if caution := c.forbidden(w); caution != "" {
			c.object(ChargingBarred, string(caution))
		}
	}
}

// workOf is the work a step is to the battery worked on.
func (c *checker) workOf(st *Step) safety.Work {
	worked := c.names.of(c.scene.Sources[0].Plus)
	switch st.Op {
	case Crank:
		return safety.Crank
	case Measure:
		return lineWork(st.Line + " " + st.Text)
	case Plug, SwitchOn, Start, Clamp:
		return c.feeds(worked)
	}
	return safety.None
}

// feeds is the work that another source does to the battery worked on, once its circuit is
// closed.
func (c *checker) feeds(worked int) safety.Work {
	for _, source := range c.scene.Sources[1:] {
		if !c.on[source.ID] {
			continue
		}
		n, _ := c.net(which{live: true, without: source.ID})
		plus, minus := c.names.of(source.Plus), c.names.of(source.Minus)
		if !n.together(plus, worked) || !n.together(minus, worked) {
			continue
		}
		switch source.Kind {
		case Charger:
			return safety.Charge
		case Donor, Pack:
			return safety.Jump
		case Battery:
			if c.moved(source) {
				return safety.Charge
			}
		}
	}
	return safety.None
}

// moved reports whether another battery was brought: leads that were loose hang on it.
func (c *checker) moved(s Source) bool {
	for _, post := range []string{s.Plus, s.Minus} {
		for _, at := range c.joined.of(post) {
			if !c.fixed.has(at) {
				return true
			}
		}
	}
	return false
}

// lineWork is the work of a reading by the word its line begins with.
func lineWork(line string) safety.Work {
	fields := strings.Fields(line)
	if len(fields) == 0 {
		return safety.None
	}
	for kind, word := range map[reading.Kind]string{
		reading.Load: "load", reading.Reserve: "reserve", reading.Crank: "crank", reading.StarterDraw: "starter", reading.ChargingSystem: "running",
	} {
		if fields[0] == word {
			return safety.WorkOf(reading.Reading{Kind: kind})
		}
	}
	return safety.None
}
