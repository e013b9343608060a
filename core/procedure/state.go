package procedure

import (
	"maps"
	"slices"
	"strings"
)

// state is a scene at one moment of an order.
type state struct {
	scene *Scene
	*layout
	joined pairs
	// laid, tied and covered are how loose ends wait; bare are things whose cover is off.
	laid, tied, covered, bare map[string]bool
	// bagged are things that were covered once, so that they have no cover of their own.
	bagged map[string]bool
	// on are the sources that give current, running the engines that run, cut the switches
	// in leads that are open.
	on, running, cut map[string]bool
}

// layout is what of a scene never changes.
type layout struct {
	names   names
	places  map[string]Place
	sources map[string]Source
	// owner of a lead is the source it hangs on for good, if any.
	owner map[string]string
	// lead of an end.
	lead map[string]Lead
	// loose are the ends that a hand moves.
	loose []string
	// posts are the places that sources begin and end at, fixed what is joined at the start.
	posts map[string]Source
	fixed pairs
	// ends are the nodes of the leads, poles those of the sources, plus before minus.
	ends, poles [][2]int
	// leads are those of the scene, and a pole of a tool that a hand clamps by itself, as a lead
	// without length.
	leads []Lead
}

func layoutOf(sc *Scene, steps []Step) *layout {
	f := &layout{
		names:  names{find: map[string]int{}},
		places: map[string]Place{}, sources: map[string]Source{}, owner: map[string]string{}, lead: map[string]Lead{}, posts: map[string]Source{},
		fixed: slices.Clone(sc.Joined),
	}
	for _, p := range sc.Places {
		f.places[p.ID] = p
		f.names.of(p.ID)
	}
	for _, s := range sc.Sources {
		f.sources[s.ID] = s
		f.posts[s.Plus], f.posts[s.Minus] = s, s
		f.names.of(s.Plus)
		f.names.of(s.Minus)
	}
	f.leads = append(slices.Clone(sc.Leads), polesAsLeads(sc, steps)...)
	for _, l := range f.leads {
		for _, end := range l.Ends {
			f.names.of(end)
			f.lead[end] = l
			if s, ok := f.posts[end]; ok && s.Kind != Battery && s.Kind != Donor {
				f.owner[l.ID] = s.ID
			}
		}
	}
	for _, l := range f.leads {
		for _, end := range l.Ends {
			if f.moves(end) && !slices.Contains(f.loose, end) {
				f.loose = append(f.loose, end)
			}
		}
	}
	for _, l := range sc.Leads {
		f.ends = append(f.ends, [2]int{f.names.of(l.Ends[0]), f.names.of(l.Ends[1])})
	}
	for _, s := range sc.Sources {
		f.poles = append(f.poles, [2]int{f.names.of(s.Plus), f.names.of(s.Minus)})
	}
	for _, p := range sc.Joined {
		f.names.of(p[0])
		f.names.of(p[1])
	}
	for i := range steps {
		for _, id := range []string{steps[i].End, steps[i].Place} {
			if id != "" {
				f.names.of(id)
			}
		}
	}
	return f
}

// polesAsLeads are the poles of tools that steps clamp themselves, where a scene gives them
// no leads.
func polesAsLeads(sc *Scene, steps []Step) []Lead {
	var out []Lead
	for _, s := range sc.Sources {
		if s.Kind == Battery || s.Kind == Donor {
			continue
		}
		for i, pole := range []string{s.Plus, s.Minus} {
			if slices.ContainsFunc(steps, func(st Step) bool { return st.End == pole && (st.Op == Clamp || st.Op == Unclamp || st.Op == Plug) }) {
				out = append(out, Lead{ID: pole + "_by_itself", Ends: Pair{pole, pole}, Role: []string{Plus, Minus}[i]})
			}
		}
	}
	return out
}

// moves reports whether an end is one that a hand moves: no source begins there, and it is
// no fixed place.
func (f *layout) moves(end string) bool {
	if _, ok := f.posts[end]; ok {
		return f.owner[f.lead[end].ID] != "" && f.lead[end].Ends[0] == f.lead[end].Ends[1]
	}
	p, ok := f.places[end]
	return !ok || p.Kind == ClampEnd || p.Kind == Away
}

// byClamp names the clamp in a step that lifts it by its post, or puts it on there, and
// names the post alone.
func byClamp(sc *Scene, steps []Step) []Step {
	out := slices.Clone(steps)
	for i := range out {
		st := &out[i]
		if st.End != "" || st.Op != LiftOff && st.Op != PutOn {
			continue
		}
		for _, p := range sc.Joined {
			if p[0] == st.Place || p[1] == st.Place {
				st.End = p[0]
				if p[0] == st.Place {
					st.End = p[1]
				}
			}
		}
		if post := slices.ContainsFunc(sc.Sources, func(s Source) bool { return s.Plus == st.Place || s.Minus == st.Place }); !post {
			st.End = "" // the place is the clamp itself
		}
	}
	return out
}

func begin(sc *Scene, steps []Step) *state {
	s := &state{
		scene: sc, layout: layoutOf(sc, steps), joined: slices.Clone(sc.Joined),
		laid: map[string]bool{}, tied: map[string]bool{}, covered: map[string]bool{}, bare: map[string]bool{}, bagged: map[string]bool{},
		on: map[string]bool{}, running: map[string]bool{}, cut: map[string]bool{},
	}
	for _, l := range sc.Leads {
		s.cut[l.ID] = cutAtFirst(l, steps)
	}
	// The clips of a charger or a pack hang in its own holders until they are taken.
	for _, end := range s.loose {
		if s.owner[s.lead[end].ID] != "" {
			s.laid[end] = true
		}
	}
	for _, source := range sc.Sources {
		s.on[source.ID] = onAtFirst(source, steps)
	}
	return s
}

// onAtFirst reports whether a source gives current before the first step. A battery always
// does. Of the others the first step that switches it tells what it was; a charger that no
// step switches is off, anything else gives.
func onAtFirst(source Source, steps []Step) bool {
	if source.Kind == Battery || source.Kind == Donor {
		return true
	}
	for i := range steps {
		if steps[i].Source != source.ID {
			continue
		}
		switch steps[i].Op {
		case Plug, SwitchOn, Start:
			return false
		case Unplug, SwitchOff, Stop:
			return true
		}
	}
	return source.Kind != Charger
}

// cutAtFirst reports whether the switch in a lead is open before the first step: it is
// where the first step that turns it closes it.
func cutAtFirst(l Lead, steps []Step) bool {
	for i := range steps {
		if steps[i].Lead == l.ID && (steps[i].Op == SwitchOn || steps[i].Op == SwitchOff) {
			return steps[i].Op == SwitchOn
		}
	}
	return false
}

// subject is what a step handles: its end, or the place or lead where that is all it names.
func (st *Step) subject() string {
	for _, id := range []string{st.End, st.Place, st.Lead} {
		if id != "" {
			return id
		}
	}
	return st.Source
}

// free takes an end from wherever it is joined. What hangs on it, as a clip on a cable's
// clamp, stays.
func (s *state) free(end string) {
	s.joined = slices.DeleteFunc(s.joined, func(p Pair) bool { return p[0] == end || p[1] == end && slices.Contains(s.fixed, p) })
}

// put joins an end to a place.
func (s *state) put(end, place string) {
	s.free(end)
	s.joined = append(s.joined, Pair{end, place})
	delete(s.laid, end)
	delete(s.tied, end)
	delete(s.covered, end)
}

// take does a step.
func (s *state) take(st *Step) {
	it := st.subject()
	switch st.Op {
	case Clamp, PutOn:
		if st.Place != "" && it != st.Place {
			s.put(it, st.Place)
		} else if back, ok := s.wasAt(it); ok {
			s.put(it, back)
		}
	case Unclamp, LiftOff:
		s.free(it)
		delete(s.laid, it)
	case Lay:
		s.laid[it] = true
	case TieAway:
		s.tied[it] = true
	case Cover:
		s.cover(it)
	case Uncover:
		s.uncover(it)
	case Plug:
		s.plug(st)
	case Unplug:
		s.unplug(st)
	case SwitchOn:
		if st.Lead != "" {
			delete(s.cut, st.Lead)
			return
		}
		s.on[st.Source] = true
	case SwitchOff:
		if st.Lead != "" {
			s.cut[st.Lead] = true
		} else if source := s.sources[st.Source]; source.Kind != Battery && source.Kind != Donor {
			s.on[st.Source] = false
		}
	case Start:
		s.running[it] = true
	case Stop:
		delete(s.running, it)
	}
}

// wasAt is where an end was joined at the start.
func (s *state) wasAt(end string) (string, bool) {
	for _, p := range s.fixed {
		if p[0] == end {
			return p[1], true
		}
		if p[1] == end {
			return p[0], true
		}
	}
	return "", false
}

func (s *state) cover(it string) {
	if s.bare[it] {
		delete(s.bare, it)
		return
	}
	s.covered[it], s.bagged[it] = true, true
}

func (s *state) uncover(it string) {
	if s.bagged[it] {
		delete(s.covered, it)
		return
	}
	s.bare[it] = true
}

// plug puts a source to the mains, or an end into a socket with whatever lies beside it in
// the same plug: that one meets the socket's shell, which is the body.
func (s *state) plug(st *Step) {
	if st.End == "" || st.Place == "" {
		s.on[st.Source] = true
		return
	}
	s.put(st.End, st.Place)
	for _, end := range s.besides(st.End) {
		if body, ok := s.bodyOf(s.places[st.Place].On); ok {
			s.put(end, body)
		}
	}
}

func (s *state) unplug(st *Step) {
	if st.End == "" {
		if s.sources[st.Source].Kind != Battery {
			s.on[st.Source] = false
		}
		return
	}
	// A plug's contacts touch nothing by themselves.
	for _, end := range append(s.besides(st.End), st.End) {
		s.free(end)
		s.laid[end] = true
	}
}

// besides are the other ends in the same plug.
func (s *state) besides(end string) []string {
	on := s.places[end].On
	var out []string
	for _, other := range s.loose {
		if other != end && on != "" && s.places[other].On == on {
			out = append(out, other)
		}
	}
	return out
}

// bodyOf is the bare metal of a thing.
func (s *state) bodyOf(on string) (string, bool) {
	for _, p := range s.scene.Places {
		if p.Kind == Body && p.On == on && len(p.Hazards) == 0 {
			return p.ID, true
		}
	}
	return "", false
}

// which sources and leads a net is made of.
type which struct {
	// live takes only the sources that are on, sound only the leads without a fuse.
	live, sound bool
	// but leaves out sources of a kind, without one by its id.
	but, without string
}

// net is the circuit as it stands, and which sources clash in it.
func (s *state) net(w which) (*net, map[string]clash) {
	n := newNet(len(s.names.ids))
	for i, l := range s.scene.Leads {
		if !s.cut[l.ID] && (!w.sound || !s.fused(l)) {
			n.join(s.ends[i][0], s.ends[i][1])
		}
	}
	for _, p := range s.joined {
		n.join(s.names.of(p[0]), s.names.of(p[1]))
	}
	var clashes map[string]clash
	for i, source := range s.scene.Sources {
		if w.live && !s.on[source.ID] || w.but != "" && source.Kind == w.but || w.without == source.ID {
			continue
		}
		if c := n.hold(s.poles[i][0], s.poles[i][1], source.NominalV); c != none {
			if clashes == nil {
				clashes = map[string]clash{}
			}
			clashes[source.ID] = c
		}
	}
	return n, clashes
}

// fused reports whether a lead bears no starter current: a fuse is in it, or a meter.
func (s *state) fused(l Lead) bool {
	return s.owner[l.ID] == "" && (l.FuseA != nil || strings.Contains(l.ID, "meter"))
}

// seated reports whether an end sits on something, not only something on it.
func (s *state) seated(end string) bool {
	return slices.ContainsFunc(s.joined, func(p Pair) bool { return p[0] == end || p[1] == end && slices.Contains(s.fixed, p) })
}

// sitsAt is where an end is joined, a post before anything else; empty for nowhere.
func (s *state) sitsAt(end string) string {
	from := ""
	for _, at := range s.joined.of(end) {
		if _, post := s.posts[at]; post || from == "" {
			from = at
		}
	}
	return from
}

// isOf reports whether what is meant to stay is an end, or is of a source by its leads.
func (s *state) isOf(stays Pair, it string) bool {
	return stays[0] == it || s.owner[s.lead[stays[0]].ID] == it
}

// joinsOrParts reports whether an operation makes a joint or breaks one.
func (op Op) joinsOrParts() bool {
	switch op {
	case Clamp, Unclamp, LiftOff, PutOn, Plug, Unplug:
		return true
	}
	return false
}

// changes reports whether an operation joins or parts anything, or makes a source give.
func (op Op) changes() bool {
	return op.joinsOrParts() || op == SwitchOn || op == SwitchOff
}

// dangles reports whether an end hangs loose, is held at a voltage against something, and
// does not lie safely: laid where nothing is, covered, or tied away where it is the body's
// own side and so makes no sparks there. The net is of the sources that are on.
func (s *state) dangles(n *net, end string) bool {
	if s.seated(end) || s.laid[end] || s.covered[end] || !s.live(n, end) {
		return false
	}
	return !s.tied[end] || s.hot(n, end)
}

// live reports whether something is held at a voltage against an end.
func (s *state) live(n *net, end string) bool {
	node := s.names.of(end)
	for i, source := range s.scene.Sources {
		if s.on[source.ID] && (n.same(node, s.poles[i][0]) || n.same(node, s.poles[i][1])) {
			return true
		}
	}
	return false
}

// hot reports whether an end is not the body's own side.
func (s *state) hot(n *net, end string) bool {
	for _, p := range s.scene.Places {
		if p.Kind == Body && n.same(s.names.of(p.ID), s.names.of(end)) {
			return false
		}
	}
	return true
}

// left is the state as it is said.
func (s *state) left() Ends {
	out := Ends{Joined: slices.Clone(s.joined), Covered: sorted(s.covered), Tied: sorted(s.tied), Running: sorted(s.running)}
	for _, source := range s.scene.Sources {
		if s.on[source.ID] && source.Kind != Battery && source.Kind != Donor {
			out.Running = append(out.Running, source.ID)
		}
	}
	return out
}

func sorted(set map[string]bool) []string {
	out := slices.Sorted(maps.Keys(set))
	if out == nil {
		return []string{}
	}
	return out
}
