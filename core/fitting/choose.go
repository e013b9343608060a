package fitting

import (
	"cmp"
	"math"
	"slices"

	"grapnel/core/battery"
	"grapnel/core/charging"
	"grapnel/core/diagnosis"
	"grapnel/core/procedure"
	"grapnel/core/school"
	"grapnel/core/trail"
	"grapnel/core/twin"
	"grapnel/core/wording"
)

// Chosen is what fits, best first, how the first differs from what comes out, and what to
// order where the stock has nothing.
type Chosen struct {
	Fits []Candidate `json:"fits"`
	// Difference is that of the first, whether it goes in or not; nil for an empty stock.
	Difference *Difference `json:"difference"`
	// Order is what a battery has to be that is ordered instead, a sentence a property.
	Order     []wording.Statement `json:"order"`
	Procedure *Replacing          `json:"procedure"`
	Cautions  []school.Caution    `json:"cautions"`
	Assumed   []wording.Statement `json:"assumed"`
}

// Candidate is one battery of the stock, judged.
type Candidate struct {
	ID      string              `json:"id"`
	Verdict string              `json:"verdict" enum:"fits,fits_with,no"`
	Reasons []wording.Statement `json:"reasons"`
	// RatingMargin is its rating as a share of the original's, in the original's standard.
	RatingMargin *charging.Estimate `json:"rating_margin"`
	// ColdStart is the coldest air in which it starts this engine, new and charged, °C.
	ColdStart *charging.Estimate `json:"cold_start_c"`
	TestFirst bool               `json:"test_first"`
}

// Verdicts of a candidate, the best first.
const (
	Fits     = "fits"
	FitsWith = "fits_with"
	No       = "no"
)

// Difference is how the new battery differs from the original: new less old in millimetres,
// nil where either is not known.
type Difference struct {
	LengthMM *float64 `json:"length_mm"`
	WidthMM  *float64 `json:"width_mm"`
	HeightMM *float64 `json:"height_mm"`
	// Layout is same or swapped, nil where either is not known.
	Layout *string `json:"layout"`
	// Vent is same, moves or none, nil where either is not known.
	Vent *string `json:"vent"`
}

// Replacing is the order of work, as grapnel procedure show takes it.
type Replacing struct {
	Name    string            `json:"name"`
	Setting procedure.Sitting `json:"setting"`
	People  int               `json:"people"`
}

// Planner chooses what fits; it keeps the labels it has calibrated.
type Planner struct{ Designs *twin.Designs }

// Plan judges every battery of the stock and puts the best first.
func (p Planner) Plan(a Ask) Chosen {
	out := Chosen{Fits: []Candidate{}, Order: orderOf(a.Need), Cautions: cautions(a.Need), Assumed: []wording.Statement{}}
	car, starts := p.car(a.Need)
	if starts && a.Need.Vehicle.Engine == "" && a.Need.Vehicle.Litres == nil {
		out.Assumed = append(out.Assumed, wording.Say("assumed.fit_engine", wording.Values{"amps": car.Starter.Amps}))
	}
	if a.Need.Tray == (Box{}) {
		out.Assumed = append(out.Assumed, wording.Say("assumed.fit_tray", nil))
	}
	judged := make([]judged, len(a.Stock))
	for i := range a.Stock {
		item := &a.Stock[i]
		f := facts{ask: &a, need: &a.Need, item: item, margin: margin(a.Need.Original.Rating, item.Label.Rating)}
		if starts {
			f.cold, f.never = p.cold(item.Label, car)
		}
		judged[i] = f.judge()
		if item.made() == "" && item.Charged == nil {
			out.Assumed = append(out.Assumed, wording.Say("assumed.fit_age", wording.Values{"id": item.ID}))
		}
	}
	slices.SortStableFunc(judged, better)
	for _, j := range judged {
		out.Fits = append(out.Fits, j.Candidate)
	}
	if len(judged) > 0 {
		out.Difference = difference(a.Need.Body, judged[0].item.Body)
	}
	out.Procedure = replacing(a.Need)
	return out
}

// judged is a candidate with what it is ordered by.
type judged struct {
	Candidate
	item *Item
	held map[string]bool
}

// better puts what fits before what fits with something; then enough rating; then what is
// neither old nor needs a charge; then the oldest, so that stock turns. What is of no known
// age stands behind.
func better(a, b judged) int {
	rank := func(j judged) int { return slices.Index([]string{Fits, FitsWith, No}, j.Verdict) }
	stale := func(j judged) int { return truth(j.held[oldStock] || j.held[chargeFirst]) }
	age := func(j judged) string {
		if made := j.item.made(); made != "" {
			return made
		}
		return "~"
	}
	return cmp.Or(
		cmp.Compare(rank(a), rank(b)),
		cmp.Compare(truth(a.held[ratingLow]), truth(b.held[ratingLow])),
		cmp.Compare(stale(a), stale(b)),
		cmp.Compare(age(a), age(b)),
	)
}

func truth(yes bool) int {
	if yes {
		return 1
	}
	return 0
}

// margin is a new rating as a share of an old one, in the old one's standard.
func margin(old, now *battery.Rating) *charging.Estimate {
	if old == nil || now == nil || old.Value <= 0 {
		return nil
	}
	if old.Standard == now.Standard {
		share := thousandth(float64(now.Value / old.Value))
		return &charging.Estimate{Value: share, Low: share, High: share}
	}
	sae := now.SAE()
	value, back := battery.FromSAE(sae.SAE, old.Standard)
	there := 0.0
	if sae.SAE > 0 {
		there = float64(sae.High/sae.SAE) - 1
	}
	share, band := float64(value/old.Value), math.Hypot(there, back)
	return &charging.Estimate{Value: thousandth(share), Low: thousandth(share * (1 - band)), High: thousandth(share * (1 + band))}
}

// cranks reports a vehicle whose engine is started by this battery.
func cranks(n Need) bool {
	deep := n.Original.DeepCycle != nil && *n.Original.DeepCycle
	return !deep && n.Vehicle.Cranks()
}

// car is the vehicle as a starter sees it: its engine is that of the vehicle, or the one that
// the original was made for.
func (p Planner) car(n Need) (twin.Car, bool) {
	if !cranks(n) {
		return twin.Car{}, false
	}
	design, ok := p.Designs.Of(n.Original)
	if !ok {
		return twin.Car{}, false
	}
	amps := diagnosis.StarterAmps(n.Vehicle, design)
	return twin.Car{Circuit: twin.InOrder.For(amps), Starter: twin.Starter{Amps: amps, Drag: 1, Fires: true}}, true
}

// full is a battery as it goes in.
const full = 100.0

// cold is the coldest start of a battery with a label, nil where its label says too little or
// it starts the engine in no air at all; never tells the two apart.
func (p Planner) cold(l battery.Label, car twin.Car) (coldest *charging.Estimate, never bool) {
	if l.Rating == nil && l.CapacityAh == nil && l.ReserveMin == nil {
		return nil, false
	}
	design, ok := p.Designs.Of(l)
	if !ok {
		return nil, false
	}
	at := func(drag float64) (float64, bool) {
		car.Starter.Drag = drag
		c, starts := design.ColdestStart(twin.Sound, full, car)
		return thousandth(float64(c)), starts
	}
	value, starts := at(1)
	if !starts {
		_, easy := at(twin.EasyDrag)
		return nil, !easy
	}
	low, _ := at(twin.EasyDrag)
	high, starts := at(twin.HardDrag)
	if !starts {
		high = float64(twin.WarmestAir)
	}
	return &charging.Estimate{Value: value, Low: low, High: high}, false
}

// difference is drawn to scale, so it is told for each way apart.
func difference(old, now Body) *Difference {
	was, is := old.Box(), now.Box()
	d := &Difference{LengthMM: less(is.Length, was.Length), WidthMM: less(is.Width, was.Width), HeightMM: less(is.Height, was.Height)}
	if old.Layout != "" && now.Layout != "" {
		d.Layout = either(old.Layout == now.Layout, "same", "swapped")
	}
	switch {
	case now.VentSide == None:
		d.Vent = either(true, None, "")
	case old.VentSide != "" && now.VentSide != "":
		d.Vent = either(old.VentSide == now.VentSide, "same", "moves")
	}
	return d
}

func less(a, b *float64) *float64 {
	if a == nil || b == nil {
		return nil
	}
	x := thousandth(*a - *b)
	return &x
}

func either(yes bool, a, b string) *string {
	if yes {
		return &a
	}
	return &b
}

// replacing is the order of work for how the original sits.
func replacing(n Need) *Replacing {
	m := n.Mounting
	if n.Body.terminal() == Side {
		m.Posts = trail.SidePosts
	}
	settings := procedure.For("replace", procedure.Sits(n.Vehicle, n.Original, m))
	if len(settings) == 0 {
		return nil
	}
	return &Replacing{"replace", settings[0], 1}
}

// cautions are those of any battery that is changed, and of this vehicle.
func cautions(n Need) []school.Caution {
	out := []school.Caution{school.Acid, school.Lifting, school.Tools, school.Electronics, school.LiveClamp, school.Clearance}
	if n.Vehicle.Electric() {
		out = append(out, school.HighVoltage)
	}
	if n.Vehicle.Earth == "positive" {
		out = append(out, school.EarthSide)
	}
	if n.Original.Chemistry == battery.LiFePO4 {
		out = append(out, school.Lithium)
	}
	return append(out, school.Defer)
}

// orderOf says what a battery has to be that is ordered.
func orderOf(n Need) []wording.Statement {
	out := []wording.Statement{}
	say := func(code string, values wording.Values) { out = append(out, wording.Say("fit_order."+code, values)) }
	say("chemistry", wording.Values{"chemistry": string(leastChemistry(n)), "volts": n.Original.NominalV})
	if r := n.Original.Rating; r != nil {
		say("rating", wording.Values{"amps": r.Value, "standard": string(r.Standard)})
	}
	if ah := n.Original.CapacityAh; ah != nil {
		say("capacity", wording.Values{"ah": *ah})
	}
	switch tray := n.Tray; {
	case tray.Length != nil && tray.Width != nil && tray.Height != nil:
		say("tray", wording.Values{"length": *tray.Length, "width": *tray.Width, "height": *tray.Height})
	case n.Body.name() != "":
		say("size", wording.Values{"size": n.Body.name()})
	}
	for _, one := range []struct{ code, value string }{
		{"layout", n.Body.Layout}, {"terminal", n.Body.terminal()}, {"hold_down", n.Body.HoldDown}, {"vent", n.Body.VentSide},
	} {
		if one.value != "" && one.value != None {
			say(one.code, wording.Values{"is": one.value})
		}
	}
	if several(n) {
		say("pair", nil)
	}
	return out
}

func thousandth(x float64) float64 { return math.Round(x*1000) / 1000 }
