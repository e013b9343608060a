package procedure

import (
	"grapnel/core/quantity"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// order is an order while it is written.
type order struct {
	rig
	*Scene
	steps  []Step
	values wording.Values
	// feed is how long a donor feeds before the first try, minutes.
	feed float64
	// torque is the vehicle maker's for the terminals; nil where it is not known.
	torque *quantity.NewtonMetres
}

func newOrder(r rig, way string) *order {
	o := &order{rig: r, Scene: r.scene(way), values: wording.Values{"live": Plus, "earthed": Minus}}
	if r.earth == Positive {
		o.values = wording.Values{"live": wording.Word("live_side"), "earthed": wording.Word("earthed_side")}
	}
	return o
}

// say writes a step with its sentence: the code names it, its reason and what it looks like
// when it is right stand beside it in the catalogue.
func (o *order) say(st Step, code string, cautions ...school.Caution) *Step {
	values := wording.Values{"place": called(st.Place), "end": called(st.End), "minutes": st.Minutes}
	for k, v := range o.values {
		values[k] = v
	}
	st.Code = "procedure." + code
	st.Text = wording.Text(st.Code, values)
	if more := st.Code + ".why"; wording.Has(more) {
		st.Why = wording.Text(more, values)
	}
	if more := st.Code + ".right"; wording.Has(more) {
		st.Right = wording.Text(more, values)
	}
	st.Cautions = append([]school.Caution{}, cautions...)
	o.steps = append(o.steps, st)
	return &o.steps[len(o.steps)-1]
}

func (o *order) do(code string, cautions ...school.Caution) *Step {
	return o.say(Step{Op: Do}, code, cautions...)
}

// ask is something that the person answers.
func (o *order) ask(code string, cautions ...school.Caution) *Step {
	return o.say(Step{Op: Do, Asks: AsksAnswer}, code, cautions...)
}

func (o *order) wait(minutes float64, code string) *Step {
	return o.say(Step{Op: Wait, Minutes: minutes, Asks: AsksWait}, code)
}

func (o *order) read(line, code string, cautions ...school.Caution) *Step {
	return o.say(Step{Op: Measure, Line: line, Asks: AsksReading}, code, cautions...)
}

func (o *order) clamp(end, place, code string, cautions ...school.Caution) *Step {
	return o.say(Step{Op: Clamp, End: end, Place: place}, code, cautions...)
}

func (o *order) lay(end, place, code string) *Step {
	return o.say(Step{Op: Lay, End: end, Place: place}, code)
}

// back takes back the latest step that did something to an end or a source.
func (o *order) back(op, of Op, it, code string, cautions ...school.Caution) *Step {
	at := -1
	for i := range o.steps {
		if o.steps[i].Op == of && o.steps[i].subject() == it {
			at = i
		}
	}
	st := Step{Op: op, End: it}
	if at >= 0 {
		done := o.steps[at]
		st.End, st.Place, st.Source, st.Lead, st.ReverseOf = done.End, done.Place, done.Source, done.Lead, &at
	}
	if op == PutOn {
		for _, p := range o.Joined {
			if p[0] == it {
				st.Place = p[1]
			}
		}
	}
	return o.say(st, code, cautions...)
}

func (o *order) unclamp(end, code string, cautions ...school.Caution) *Step {
	return o.back(Unclamp, Clamp, end, code, cautions...)
}

// prepare is what comes before any work on a battery.
func (o *order) prepare() { o.prepareWith("still", school.VehicleMoves) }

// prepareWith is the same with a sentence of its own for a vehicle that is made to stand still.
func (o *order) prepareWith(still string, cautions ...school.Caution) {
	o.glasses()
	switch {
	case o.alone:
		o.do("bench_stands", school.Lifting)
	case o.traction:
		o.do("asleep", school.HighVoltage)
		o.do("latches", school.HighVoltage)
	default:
		o.do(still, cautions...)
	}
}

// glasses come before everything, and which side lies on the body where that is plus.
func (o *order) glasses() {
	o.do("glasses", school.Acid, school.Tools)
	if o.earth == Positive && !o.alone {
		o.do("earth_side", school.EarthSide)
	}
}

// reach opens the way to where the live side is reached.
func (o *order) reach() {
	st := Step{Op: Uncover, Place: o.livePost()}
	if o.remote {
		o.say(st, "uncover_front")
		return
	}
	o.say(st, "uncover")
}

func (o *order) shut() { o.back(Cover, Uncover, o.livePost(), "cover", school.Clearance) }

// earthOff takes the earthed clamps off and ties them away.
func (o *order) earthOff() {
	earthed, _ := o.sides()
	for n := 1; n <= o.earthClamps(); n++ {
		clamp := clampOf(earthed, n)
		o.say(Step{Op: LiftOff, End: clamp, Place: post(earthed, n)}, "earth_off")
		o.say(Step{Op: TieAway, End: clamp}, "tie_away")
	}
}

func (o *order) earthClamps() int {
	if o.join == series {
		return 1
	}
	return o.count
}

// earthOn puts them on again, each in one move.
func (o *order) earthOn() {
	earthed, _ := o.sides()
	for n := o.earthClamps(); n >= 1; n-- {
		o.back(PutOn, LiftOff, clampOf(earthed, n), "earth_on", school.Spark)
	}
}

// isolate parts the battery worked on from the others: every earthed clamp first.
func (o *order) isolate() {
	if o.count < 2 {
		return
	}
	o.earthOff()
	o.say(Step{Op: LiftOff, End: o.parting(), Place: o.partedFrom()}, "part")
	o.say(Step{Op: Cover, End: o.parting()}, "bag", school.LiveClamp)
}

// together joins them again.
func (o *order) together() {
	if o.count < 2 {
		return
	}
	o.say(Step{Op: Uncover, End: o.parting()}, "unbag")
	o.back(PutOn, LiftOff, o.parting(), "join")
	o.earthOn()
}

// parting is the end that parts the first battery from the others.
func (o *order) parting() string {
	_, live := o.sides()
	if o.join == series {
		return "link_near"
	}
	return clampOf(live, 1)
}

func (o *order) partedFrom() string {
	_, live := o.sides()
	return post(live, 1)
}

// clips are the ends of what was brought, the live one and the earthed one.
func (o *order) clips(id string) (live, earthed string) {
	e, l := o.sides()
	return id + "_clip_" + l, id + "_clip_" + e
}

// Written is an order as show writes it.
type Written struct {
	Scene Scene  `json:"scene"`
	Steps []Step `json:"steps"`
	Ends  Ends   `json:"ends"`
}

func (o *order) written() Written {
	sc := *o.Scene
	sc.Barred = []school.Caution{}
	for _, list := range []*[]Pair{&sc.Joined, &sc.Stays} {
		if *list == nil {
			*list = []Pair{}
		}
	}
	if sc.Leads == nil {
		sc.Leads = []Lead{}
	}
	return Written{sc, o.steps, EndsOf(sc, o.steps)}
}

// EndsOf is the state of a scene after the last step.
func EndsOf(sc Scene, steps []Step) Ends {
	steps = byClamp(&sc, steps)
	s := begin(&sc, steps)
	for i := range steps {
		s.take(&steps[i])
	}
	return s.left()
}
