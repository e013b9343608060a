package procedure

import (
	"fmt"
	"grapnel/core/quantity"
	"io"
	"slices"

	"grapnel/core/field"
	"grapnel/core/problem"
	"grapnel/core/school"
)

// Ask is one order that is asked for.
type Ask struct {
	Name    string
	Setting Sitting
	School  string
	People  int
	// Feed is for how long a donor feeds before the first try, minutes, as it was worked out;
	// nil for the usual.
	Feed *float64
	// Torque is the vehicle maker's for the terminals; nil for not known. It changes a
	// sentence, never a step.
	Torque *quantity.NewtonMetres
}

// Bounds of what is asked: plausibility only (common practice, no source).
const (
	mostThings  = 200
	mostSteps   = 400
	mostVolts   = 96
	mostFuse    = 500
	mostMinutes = 100000
)

// DecodeAsk reads which order is asked for. Every problem is listed with the path of its
// field.
func DecodeAsk(in io.Reader) (Ask, error) {
	o, err := field.Read(in, "procedure", "{\"name\": \"jump\", \"setting\": {\"vehicle\": \"car\", \"with\": \"vehicle\"}}")
	if err != nil {
		return Ask{}, err
	}
	o.Missing("name", problem.OneOf(Names()))
	a := Ask{Name: o.Code("name", Names()), People: 1}
	l, ok := listed(a.Name)
	if ok {
		a.takeSetting(o, l)
		a.School = o.Code("school", l.Schools)
		if a.School == "" && len(l.Schools) > 0 {
			a.School = l.Schools[0]
		}
	} else {
		o.Take("setting")
		o.Take("school")
	}
	if x := o.Number("people", 1, 2, ""); x != nil {
		a.People = int(*x)
		if ok && (float64(a.People) != *x || !slices.Contains(l.People, a.People)) {
			o.Fault("problem.range", "people", *x, fmt.Sprint(l.People))
		}
	}
	o.Close()
	return a, o.Err()
}

// takeSetting takes the setting, which is one of those that are listed; missing it is the
// ordinary one.
func (a *Ask) takeSetting(o *field.Object, l Listed) {
	inner, missing := o.Under("setting")
	if missing {
		a.Setting = l.Settings[0]
		return
	}
	for _, key := range settingKeys {
		*key.of(&a.Setting) = inner.Code(key.name, key.codes(l.Settings))
	}
	inner.Close()
	if o.Err() == nil && !slices.Contains(l.Settings, a.Setting) {
		o.Fault("problem.code", "setting", a.Setting.String(), problem.OneOf(settingNames(l.Settings)))
	}
}

// Order is a scene with the steps on it, to be checked.
type Order struct {
	Scene Scene  `json:"scene"`
	Steps []Step `json:"steps"`
}

// Decode reads an order to be checked. Every problem is listed with the path of its field.
func Decode(in io.Reader) (Order, error) {
	o, err := field.Read(in, "order", "{\"scene\": {…}, \"steps\": […]}")
	if err != nil {
		return Order{}, err
	}
	var order Order
	inner, missing := o.Under("scene")
	if missing {
		o.Missing("scene", "{\"sources\": […], \"places\": […], \"leads\": […]}")
	} else {
		order.Scene = takeScene(inner)
	}
	o.Missing("steps", "a list of steps")
	o.Each("steps", "{\"op\": \"clamp\", …}", func(item *field.Object) { order.Steps = append(order.Steps, takeStep(item)) })
	// What is written beside the order by show is let be.
	o.Take("ends")
	o.Close()
	if len(order.Steps) > mostSteps {
		o.Fault("problem.range", "steps", len(order.Steps), problem.Range(0, mostSteps, ""))
	}
	if o.Err() == nil {
		var problems problem.List
		known(&order.Scene, order.Steps, &problems)
		o.Found(problems...)
	}
	return order, o.Err()
}

func takeScene(o *field.Object) Scene {
	sc := Scene{Earth: Negative, Barred: []school.Caution{}, Joined: []Pair{}, Stays: []Pair{}}
	o.Each("sources", "{\"id\": \"battery\", …}", func(item *field.Object) { sc.Sources = append(sc.Sources, takeSource(item)) })
	o.Each("places", "{\"id\": \"battery_plus\", …}", func(item *field.Object) { sc.Places = append(sc.Places, takePlace(item)) })
	o.Each("leads", "{\"id\": \"lead\", \"ends\": [\"a\", \"b\"], …}", func(item *field.Object) { sc.Leads = append(sc.Leads, takeLead(item)) })
	sc.Joined = append(sc.Joined, takePairs(o, "joined")...)
	if code := o.Code("earth", []string{Negative, Positive}); code != "" {
		sc.Earth = code
	}
	sc.School = text(o, "school")
	for _, code := range o.Codes("barred", cautionCodes()) {
		sc.Barred = append(sc.Barred, school.Caution(code))
	}
	sc.Stays = append(sc.Stays, takePairs(o, "stays")...)
	if len(sc.Sources) == 0 {
		o.Fault("problem.missing", "sources", nil, "the battery worked on, and what else gives current")
	}
	if n := len(sc.Sources) + len(sc.Places) + len(sc.Leads); n > mostThings {
		o.Fault("problem.range", "places", n, problem.Range(0, mostThings, ""))
	}
	o.Close()
	return sc
}

func cautionCodes() []string {
	var out []string
	for _, c := range school.Cautions() {
		out = append(out, string(c))
	}
	return out
}

const idForm = "an id: letters, digits, _ and -"

// text is an id or a code of somebody's own; empty where it is missing.
func text(o *field.Object, key string) string {
	return o.Text(key, idForm, func(s string) bool { return len(s) <= 200 })
}

func must(o *field.Object, key string) string {
	id := text(o, key)
	o.Missing(key, idForm)
	return id
}

func takeSource(o *field.Object) Source {
	s := Source{ID: must(o, "id"), Plus: must(o, "plus"), Minus: must(o, "minus"), Kind: Battery}
	if x := o.Number("nominal_v", 0, mostVolts, "V"); x != nil {
		s.NominalV = *x
	}
	o.Missing("nominal_v", problem.Range(0, mostVolts, "V"))
	if kind := o.Code("kind", SourceKinds()); kind != "" {
		s.Kind = kind
	}
	// A battery of which nobody says that it does not gas may.
	s.Gassing = s.Kind == Battery || s.Kind == Donor
	if yes := o.Flag("gassing"); yes != nil {
		s.Gassing = *yes
	}
	o.Close()
	return s
}

func takePlace(o *field.Object) Place {
	p := Place{ID: must(o, "id"), On: text(o, "on"), Kind: o.Code("kind", PlaceKinds())}
	o.Missing("kind", problem.OneOf(PlaceKinds()))
	p.Hazards = append([]string{}, o.Codes("hazards", HazardCodes())...)
	o.Close()
	return p
}

func takeLead(o *field.Object) Lead {
	l := Lead{ID: must(o, "id"), Role: o.Code("colour_role", []string{Plus, Minus})}
	l.Ends = pair(o, "ends", o.Take("ends"))
	o.Missing("ends", pairForm)
	l.FuseA = o.Number("fuse_a", 0, mostFuse, "A")
	o.Close()
	return l
}

const pairForm = "two ids: [\"a\", \"b\"]"

func pair(o *field.Object, key string, value any) Pair {
	var p Pair
	if value == nil {
		return p
	}
	list, ok := value.([]any)
	if !ok || len(list) != len(p) {
		o.Fault("problem.type", key, value, pairForm)
		return p
	}
	for i, item := range list {
		if p[i], ok = item.(string); !ok || p[i] == "" {
			o.Fault("problem.type", key, value, pairForm)
		}
	}
	return p
}

func takePairs(o *field.Object, key string) []Pair {
	list, _ := o.List(key, pairForm)
	var out []Pair
	for i, item := range list {
		out = append(out, pair(o, fmt.Sprintf("%s[%d]", key, i), item))
	}
	return out
}

func takeStep(o *field.Object) Step {
	st := Step{
		Op: Op(o.Code("op", Ops())), Lead: text(o, "lead"), End: text(o, "end"), Place: text(o, "place"), Source: text(o, "source"),
		Cautions: []school.Caution{},
	}
	o.Missing("op", problem.OneOf(Ops()))
	words := func(key string) string { return o.Text(key, "a text", func(string) bool { return true }) }
	st.Text, st.Why, st.Right, st.Code, st.Line = words("text"), words("why"), words("right"), words("code"), words("line")
	st.Asks = o.Code("asks", []string{AsksReading, AsksWait, AsksPhoto, AsksAnswer})
	if x := o.Number("minutes", 0, mostMinutes, "min"); x != nil {
		st.Minutes = *x
	}
	if x := o.Number("by", 1, 2, ""); x != nil {
		st.By = int(*x)
	}
	for _, code := range o.Codes("cautions", cautionCodes()) {
		st.Cautions = append(st.Cautions, school.Caution(code))
	}
	if x := o.Number("reverse_of", 0, mostSteps, ""); x != nil {
		i := int(*x)
		st.ReverseOf = &i
	}
	st.needs(o)
	o.Close()
	return st
}

// needs asks for what an operation cannot be done without.
func (st *Step) needs(o *field.Object) {
	switch st.Op {
	case Clamp, Lay:
		o.Missing("end", idForm)
		o.Missing("place", idForm)
	case Unclamp:
		o.Missing("end", idForm)
	case LiftOff, PutOn, TieAway, Cover, Uncover, Plug, Unplug, SwitchOn, SwitchOff:
		if st.subject() == "" {
			o.Fault("problem.missing", "end", nil, "what is handled: end, place, lead or source")
		}
	}
}

func stepPath(i int, key string) string { return fmt.Sprintf("steps[%d].%s", i, key) }

// idsOf are the ids of a scene, each once.
func idsOf(sc *Scene) []string {
	var out []string
	add := func(ids ...string) {
		for _, id := range ids {
			if id != "" && !slices.Contains(out, id) {
				out = append(out, id)
			}
		}
	}
	for _, s := range sc.Sources {
		add(s.ID, s.Plus, s.Minus)
	}
	for _, p := range sc.Places {
		add(p.ID, p.On)
	}
	for _, l := range sc.Leads {
		add(l.ID, l.Ends[0], l.Ends[1])
	}
	for _, p := range sc.Joined {
		add(p[0], p[1])
	}
	return out
}
