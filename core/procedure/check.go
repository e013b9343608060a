package procedure

import (
	"slices"
	"strings"

	"grapnel/core/problem"
	"grapnel/core/quantity"
	"grapnel/core/wording"
)

// Rule is one thing that an order must not break.
type Rule string

// The rules. Each one's reason is a sentence of the catalogue.
const (
	Short             Rule = "short"
	LiveLooseEnd      Rule = "live_loose_end"
	SparkAtBattery    Rule = "spark_at_battery"
	ClampingLive      Rule = "clamping_live_charger"
	EarthLastOff      Rule = "earth_last_off"
	EarthFirstOn      Rule = "earth_first_on"
	NotReversed       Rule = "not_reversed"
	CrankingKeepAlive Rule = "cranking_on_keep_alive"
	Unfused           Rule = "keep_alive_unfused"
	SupplyBroken      Rule = "supply_broken"
	MixedVoltage      Rule = "mixed_voltage"
	HazardPlace       Rule = "hazard_place"
	LeftOpen          Rule = "left_open"
	ThroughMeter      Rule = "cranking_through_meter"
	SodaCapsOff       Rule = "soda_with_caps_off"
	ChargingBarred    Rule = "charging_barred"
)

// Rules lists them.
func Rules() []Rule {
	return []Rule{
		Short, LiveLooseEnd, SparkAtBattery, ClampingLive, EarthLastOff, EarthFirstOn, NotReversed, CrankingKeepAlive, Unfused, SupplyBroken,
		MixedVoltage, HazardPlace, LeftOpen, ThroughMeter, SodaCapsOff, ChargingBarred,
	}
}

// Objection is one rule that one step breaks.
type Objection struct {
	// Step counts from 0.
	Step int    `json:"step"`
	Rule Rule   `json:"rule"`
	Text string `json:"text"`
}

// Verdict is what the checker says of an order.
type Verdict struct {
	Safe       bool        `json:"safe"`
	Objections []Objection `json:"objections"`
}

// MostKeepAlive is the most that the fuse of a keep-alive supply may be. Common practice, no
// source.
const MostKeepAlive quantity.Amperes = 5

// checker goes through an order, step by step, and remembers what must be undone.
type checker struct {
	*state
	steps []Step
	now   int
	// before is the circuit before the step, of sources that are on.
	before, after *net
	clashes       map[string]clash
	// open are the joints made and broken that must be taken back, the latest last.
	open []opened
	// promised tells that the vehicle's supply must not break any more, broken that it is.
	promised, broken bool
	vehicle          [2]int
	said             []Objection
}

// opened is a joint made or broken.
type opened struct {
	op    Op
	it    string
	place string
}

// Check goes through an order and lists every objection; it goes on after one. It knows
// nothing of how an order was made.
func Check(sc Scene, steps []Step) Verdict {
	steps = byClamp(&sc, steps)
	c := checker{state: begin(&sc, steps), steps: steps, said: []Objection{}}
	c.vehicle = c.vehicleSides()
	c.before, _ = c.net(which{live: true})
	_, c.clashes = c.net(which{})
	c.clash(nil, c.clashes)
	for i := range steps {
		c.now = i
		c.step(&steps[i])
	}
	c.end()
	return Verdict{len(c.said) == 0, c.said}
}

// object says that a rule is broken, once a step.
func (c *checker) object(rule Rule, what string) {
	if slices.ContainsFunc(c.said, func(o Objection) bool { return o.Step == c.now && o.Rule == rule }) {
		return
	}
	c.said = append(c.said, Objection{c.now, rule, wording.Text("rule."+string(rule), wording.Values{"what": called(what)})})
}

// called is what an id is called in a sentence.
func called(id string) string {
	if code := "thing." + id; wording.Has(code) {
		return wording.Text(code, nil)
	}
	return strings.ReplaceAll(id, "_", " ")
}

// step asks each rule about one step, some before it is done and some after.
func (c *checker) step(st *Step) {
	c.reversed(st)
	c.earthSide(st)
	c.place(st)
	c.doing(st)
	lifted, stood := "", ""
	if st.Op == Unclamp || st.Op == LiftOff || st.Op == Unplug {
		lifted = st.subject()
		if at := c.joined.of(lifted); len(at) > 0 {
			stood = at[0]
		}
	}
	c.take(st)
	c.after = c.before
	if st.Op.changes() {
		clashesBefore := c.clashes
		c.after, _ = c.net(which{live: true})
		_, c.clashes = c.net(which{})
		c.clash(clashesBefore, c.clashes)
	}
	switch {
	case st.Op == Clamp:
		c.spark(c.before, st.subject(), c.at(st))
	case lifted != "" && stood != "" && st.Op == Unclamp:
		c.spark(c.after, lifted, stood)
	}
	c.liveCharger(st, stood)
	c.looseEnds(st)
	c.supply()
	c.barred(st)
	c.before = c.after
}

// at is where a step leaves its end.
func (c *checker) at(st *Step) string {
	if st.Place != "" {
		return st.Place
	}
	if at := c.joined.of(st.subject()); len(at) > 0 {
		return at[0]
	}
	return ""
}

// clash objects to sources that clash now and did not before.
func (c *checker) clash(before, now map[string]clash) {
	for _, source := range c.scene.Sources {
		if is := now[source.ID]; is != none && is != before[source.ID] {
			c.object(Rule(is), source.ID)
		}
	}
}

// spark objects where a live circuit closes or opens at a post that may gas. The net is the
// one in which the joint is open: sources reach it from both sides.
func (c *checker) spark(open *net, end, place string) {
	if end == "" || place == "" {
		return
	}
	a, b := c.names.of(end), c.names.of(place)
	if open.same(a, b) || !open.together(a, b) {
		return
	}
	if post := c.gassing(place); post != "" && !c.named(post) {
		c.object(SparkAtBattery, place)
	}
}

// gassing is the post that gas may stand above at a place; empty for none. A cable's clamp
// that sits on a post is as near as the post, and a hold-down is.
func (c *checker) gassing(place string) string {
	if source, ok := c.posts[place]; ok {
		if source.Gassing && c.places[place].Kind != RemotePlus && c.places[place].Kind != RemoteMinus {
			return place
		}
		return ""
	}
	if slices.Contains(c.places[place].Hazards, NearBattery) {
		return place
	}
	if c.places[place].Kind != ClampEnd {
		return ""
	}
	for _, at := range c.joined.of(place) {
		if source, ok := c.posts[at]; ok && source.Gassing {
			return at
		}
	}
	return ""
}

// named reports whether the school names a post for the last clamp: the earthed one of the
// battery worked on.
func (c *checker) named(post string) bool {
	return c.scene.School == SchoolPost && len(c.scene.Sources) > 0 && post == c.earthed(c.scene.Sources[0])
}

func (c *checker) earthed(s Source) string {
	if c.scene.Earth == Positive {
		return s.Plus
	}
	return s.Minus
}

func (c *checker) unearthed(s Source) string {
	if c.scene.Earth == Positive {
		return s.Minus
	}
	return s.Plus
}

// liveCharger objects to a clamp that is put on or taken off while a charger gives.
func (c *checker) liveCharger(st *Step, stood string) {
	plugs := (st.Op == Plug || st.Op == Unplug) && st.End != ""
	if st.Op != Clamp && st.Op != Unclamp && st.Op != LiftOff && st.Op != PutOn && !plugs {
		return
	}
	node := c.names.of(st.subject())
	for _, source := range c.scene.Sources {
		switched := slices.ContainsFunc(c.steps, func(s Step) bool { return s.Op == SwitchOn && s.Source == source.ID })
		if !c.on[source.ID] || source.Kind != Charger && (source.Kind != Pack || !switched) {
			continue
		}
		plus := c.names.of(source.Plus)
		reached := c.before.together(plus, node) || c.after.together(plus, node)
		if reached || c.owner[c.lead[st.subject()].ID] == source.ID || stood != "" && c.before.together(plus, c.names.of(stood)) {
			c.object(ClampingLive, source.ID)
		}
	}
}

// looseEnds objects to an end that is live and lies where it can touch. One that was in the
// hand in this step, or whose lead was, may be seen to in the next.
func (c *checker) looseEnds(st *Step) {
	for _, end := range c.loose {
		if !c.dangles(c.after, end) || c.inHand(st, end) {
			continue
		}
		c.object(LiveLooseEnd, end)
	}
}

// inHand reports whether an end was in the hand in this step, or hangs on a lead that was,
// and the next step is on that lead again: until then nobody lets go of it.
func (c *checker) inHand(st *Step, end string) bool {
	if c.now+1 >= len(c.steps) {
		return false
	}
	return c.sameLead(st.subject(), end) && c.sameLead(c.steps[c.now+1].subject(), end)
}

func (c *checker) sameLead(it, end string) bool {
	return it == end || c.lead[it].ID != "" && c.lead[it].ID == c.lead[end].ID
}

// place objects to an end at a place where it does not belong.
func (c *checker) place(st *Step) {
	if st.Op != Clamp && st.Op != Lay && st.Op != PutOn && st.Op != Plug {
		return
	}
	for _, hazard := range c.places[st.Place].Hazards {
		if hazard == Belt || hazard == Fuel || hazard == Hot || hazard == Paint {
			c.object(HazardPlace, st.Place)
		}
	}
}

// reversed keeps the joints that must be taken back in order.
func (c *checker) reversed(st *Step) {
	if !st.Op.joinsOrParts() {
		return
	}
	back := backOps[st.Op]
	it := st.subject()
	if c.meantToStay(it) {
		if st.End != "" && joins(st) && c.seated(it) {
			c.object(NotReversed, it)
		}
		return
	}
	at := -1
	for i, o := range c.open {
		if o.op == back && o.it == it {
			at = i
		}
	}
	switch {
	case at < 0 && joins(st) == c.seated(it) && (st.Op != Plug && st.Op != Unplug || st.End != ""):
		c.object(NotReversed, it)
	case at < 0:
		if source, named := c.sources[st.Source]; st.Op == Unplug && st.End == "" {
			if named && !c.on[source.ID] {
				c.object(NotReversed, it)
			}
			return
		} else if st.Op == Plug && st.End == "" && named && c.on[source.ID] {
			return // it is plugged in already
		}
		c.push(st)
	default:
		if at != len(c.open)-1 {
			c.object(NotReversed, it)
		}
		if st.Op == PutOn && c.open[at].place != "" && st.Place != "" && st.Place != c.open[at].place {
			c.object(NotReversed, it)
		}
		c.open = slices.Delete(c.open, at, at+1)
	}
}

// joins reports whether a step joins, so that what it joins must be off before it.
func joins(st *Step) bool { return st.Op == Clamp || st.Op == PutOn || st.Op == Plug }

func (c *checker) push(st *Step) {
	o := opened{st.Op, st.subject(), st.Place}
	if from := c.sitsAt(o.it); st.Op == LiftOff && from != "" {
		o.place = from
	}
	c.open = append(c.open, o)
}

// meantToStay reports whether an end, or a source by its leads, is one that stays.
func (c *checker) meantToStay(it string) bool {
	return slices.ContainsFunc(c.scene.Stays, func(p Pair) bool { return c.isOf(p, it) })
}

// earthSide objects to the order of the two sides: the earthed one comes off first and goes
// on last.
func (c *checker) earthSide(st *Step) {
	it := st.subject()
	switch st.Op {
	case LiftOff:
		for _, at := range c.joined.of(it) {
			if source, ok := c.posts[at]; ok && at == c.unearthed(source) && c.earthedOn(source, it) {
				c.object(EarthLastOff, it)
			}
		}
	case PutOn:
		source, ok := c.posts[c.at(st)]
		if ok && c.at(st) == c.earthed(source) && c.reachesBody(it) && c.liveSideOff() {
			c.object(EarthFirstOn, it)
		}
	case Clamp:
		if c.onEarthedSide(it) && !c.partnersOn(it) {
			c.object(EarthFirstOn, it)
		}
	case Unclamp:
		if !c.onEarthedSide(it) && c.earthedPartnerOn(it) {
			c.object(EarthLastOff, it)
		}
	}
}

// reachesBody reports whether an end is the body's, where the scene has one.
func (c *checker) reachesBody(end string) bool {
	bodies := 0
	for _, p := range c.scene.Places {
		if p.Kind != Body {
			continue
		}
		bodies++
		if c.before.same(c.names.of(p.ID), c.names.of(end)) {
			return true
		}
	}
	return bodies == 0
}

// earthedOn reports whether the earthed side of a battery, or of one it is joined with, is
// still on the vehicle while another end of it comes off.
func (c *checker) earthedOn(s Source, lifted string) bool {
	n, _ := c.net(which{live: true, but: KeepAlive})
	for _, other := range c.scene.Sources {
		if other.Kind != Battery || !n.together(c.names.of(s.Plus), c.names.of(other.Plus)) {
			continue
		}
		post := c.earthed(other)
		for _, at := range c.joined.of(post) {
			if at != lifted && (c.fixed.has(at) || c.places[at].Kind == ClampEnd) && c.reachesBody(post) {
				return true
			}
		}
	}
	return false
}

// liveSideOff reports whether a clamp of the side away from the body is still off.
func (c *checker) liveSideOff() bool {
	return slices.ContainsFunc(c.open, func(o opened) bool {
		source, ok := c.posts[o.place]
		return o.op == LiftOff && ok && o.place == c.unearthed(source)
	})
}

// onEarthedSide reports whether a lead is the one of the body's side.
func (c *checker) onEarthedSide(end string) bool {
	role := c.lead[end].Role
	if role == "" {
		if at := c.joined.of(end); len(at) > 0 {
			source := c.posts[at[0]]
			return source.ID != "" && at[0] == c.earthed(source)
		}
		return false
	}
	return (role == Plus) == (c.scene.Earth == Positive)
}

// partners are the leads of the other side that belong to an end's.
func (c *checker) partners(end string) []Lead {
	own := c.lead[end]
	var out []Lead
	for _, l := range c.leads {
		if l.ID == own.ID || l.Role == own.Role || c.owner[l.ID] != c.owner[own.ID] || c.vehicles(l) {
			continue
		}
		out = append(out, l)
	}
	return out
}

// vehicles reports whether a lead is the vehicle's own cable: an end of it is a fixed place
// or a clamp that sat on something at the start.
func (c *checker) vehicles(l Lead) bool {
	if c.owner[l.ID] != "" {
		return false
	}
	return slices.ContainsFunc(l.Ends[:], func(end string) bool { return !c.moves(end) || c.fixed.has(end) })
}

// partnersOn reports whether every end of the other side's leads is on; true where there is
// none.
func (c *checker) partnersOn(end string) bool {
	for _, l := range c.partners(end) {
		for _, other := range l.Ends {
			if c.moves(other) && !c.joined.has(other) {
				return false
			}
		}
	}
	return true
}

func (c *checker) earthedPartnerOn(end string) bool {
	for _, l := range c.partners(end) {
		for _, other := range l.Ends {
			if c.moves(other) && c.joined.has(other) {
				return true
			}
		}
	}
	return false
}

// doing objects to what is done while something else holds.
func (c *checker) doing(st *Step) {
	switch st.Op {
	case Crank:
		for _, source := range c.scene.Sources {
			if source.Kind == KeepAlive && c.on[source.ID] && c.connected(source) {
				c.object(CrankingKeepAlive, source.ID)
			}
		}
		if l, ok := c.borneByFuse(); ok {
			c.object(ThroughMeter, l.ID)
		}
	case Clamp, Plug:
		source := c.sources[c.owner[c.lead[st.subject()].ID]]
		if source.Kind == KeepAlive && !c.fusedSupply(source) && !c.connected(source) {
			c.object(Unfused, source.ID)
		}
	case Do:
		if soda(st) {
			for it := range c.bare {
				if c.sources[it].Kind == Battery || strings.Contains(it, "cap") {
					c.object(SodaCapsOff, it)
				}
			}
		}
	}
}

func soda(st *Step) bool {
	for _, caution := range st.Cautions {
		if caution == "soda" {
			return true
		}
	}
	return strings.Contains(strings.ToLower(st.Text), "soda")
}

// connected reports whether an end of a source's own leads is on something.
func (c *checker) connected(s Source) bool {
	for _, l := range c.leads {
		if c.owner[l.ID] != s.ID {
			continue
		}
		for _, end := range l.Ends {
			if c.moves(end) && c.joined.has(end) {
				return true
			}
		}
	}
	return c.joined.has(s.Plus)
}

func (c *checker) fusedSupply(s Source) bool {
	return slices.ContainsFunc(c.scene.Leads, func(l Lead) bool {
		return c.owner[l.ID] == s.ID && l.FuseA != nil && *l.FuseA > 0 && quantity.Amperes(*l.FuseA) <= MostKeepAlive
	})
}

// borneByFuse is a lead with a fuse or a meter in it that alone joins what lies on both its
// ends.
func (c *checker) borneByFuse() (Lead, bool) {
	n, _ := c.net(which{live: true, sound: true})
	whole := func(end string) bool {
		return !c.moves(end) || c.joined.has(end)
	}
	for _, l := range c.scene.Leads {
		if c.fused(l) && whole(l.Ends[0]) && whole(l.Ends[1]) && !n.same(c.names.of(l.Ends[0]), c.names.of(l.Ends[1])) {
			return l, true
		}
	}
	return Lead{}, false
}

// vehicleSides are the nodes between which the vehicle is fed, -1 where there is none.
func (c *checker) vehicleSides() [2]int {
	out := [2]int{-1, -1}
	for _, source := range c.scene.Sources {
		if source.Kind != Battery {
			continue
		}
		for side, post := range []string{c.earthed(source), c.unearthed(source)} {
			for _, at := range c.fixed.of(post) {
				if out[side] < 0 || c.reaches(at, Stud, Body) {
					out[side] = c.names.of(at)
				}
			}
		}
	}
	return out
}

// reaches reports whether a cable leads from a clamp to a fixed place of the vehicle.
func (c *checker) reaches(clamp string, kinds ...string) bool {
	l := c.lead[clamp]
	return slices.ContainsFunc(l.Ends[:], func(end string) bool { return end != clamp && slices.Contains(kinds, c.places[end].Kind) })
}

// supplied reports whether the vehicle is fed.
func (c *checker) supplied() bool {
	return c.after.together(c.vehicle[0], c.vehicle[1]) && !c.after.same(c.vehicle[0], c.vehicle[1])
}

// supply objects once the vehicle loses a supply that was promised: by a keep-alive that is
// on, or by a meter or bypass that bridges the cable.
func (c *checker) supply() {
	if c.vehicle[0] < 0 || c.vehicle[1] < 0 {
		return
	}
	fed := c.supplied()
	if !c.promised {
		wasFed := c.before.together(c.vehicle[0], c.vehicle[1])
		c.promised = (fed || wasFed) && c.keeps()
	}
	if c.promised && !fed && !c.broken {
		c.object(SupplyBroken, c.names.ids[c.vehicle[1]])
	}
	c.broken = !fed
}

// keeps reports whether something is on that keeps the supply.
func (c *checker) keeps() bool {
	for _, source := range c.scene.Sources {
		if source.Kind == KeepAlive && c.on[source.ID] && c.connected(source) {
			return true
		}
	}
	return slices.ContainsFunc(c.scene.Leads, func(l Lead) bool {
		return c.fused(l) && slices.ContainsFunc(l.Ends[:], func(end string) bool { return c.moves(end) && c.joined.has(end) })
	})
}

// end objects to what is left behind.
func (c *checker) end() {
	c.now = max(0, len(c.steps)-1)
	for _, o := range c.open {
		if o.op == Unclamp && !c.fixed.has(o.it) || o.op == PutOn || o.op == Unplug {
			continue
		}
		c.object(LeftOpen, o.it)
	}
	for it := range c.bare {
		c.object(LeftOpen, it)
	}
	for _, p := range c.scene.Stays {
		if !slices.Contains(c.joined.of(p[0]), p[1]) && !(c.places[p[1]].Kind == Away && c.tied[p[0]]) {
			c.object(LeftOpen, p[0])
		}
	}
	for _, p := range c.fixed {
		if !slices.Contains(c.joined.of(p[0]), p[1]) && !c.meantToStay(p[0]) && !c.meantToStay(p[1]) {
			c.object(LeftOpen, p[0])
		}
	}
}

// known refuses ids that the scene does not have.
func known(sc *Scene, steps []Step, problems *problem.List) {
	ids := idsOf(sc)
	for i := range steps {
		for key, id := range map[string]string{"end": steps[i].End, "place": steps[i].Place, "lead": steps[i].Lead, "source": steps[i].Source} {
			if id != "" && !slices.Contains(ids, id) {
				*problems = append(*problems, problem.New("problem.code", stepPath(i, key), id, problem.OneOf(ids)))
			}
		}
	}
}
