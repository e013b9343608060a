package charging

import (
	"cmp"
	"math"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/safety"
	"grapnel/core/school"
	"grapnel/core/twin"
	"grapnel/core/wording"
)

// Estimate is an estimate that holds about four of five outcomes between Low and High.
type Estimate struct {
	Value float64 `json:"value"`
	Low   float64 `json:"low"`
	High  float64 `json:"high"`
}

// thousandth rounds what is only an estimate.
func thousandth[T ~float64](x T) T { return T(math.Round(float64(x)*1000) / 1000) }

// round rounds a band; nil stays nil.
func (b *Estimate) round() {
	if b != nil {
		b.Value, b.Low, b.High = thousandth(b.Value), thousandth(b.Low), thousandth(b.High)
	}
}

// Setting is what the charger is set to.
type Setting struct {
	Chemistry battery.Chemistry `json:"chemistry"`
	Volts     quantity.Volts    `json:"volts"`
	Amps      quantity.Amperes  `json:"amps"`
}

// AmpereHours are what is missing, and what has to be put in for it.
type AmpereHours struct {
	Missing *Estimate `json:"missing"`
	ToPutIn *Estimate `json:"to_put_in"`
}

// Moment is a moment of the charge as it is expected, with its band.
type Moment struct {
	Hours     float64          `json:"hours"`
	Volts     quantity.Volts   `json:"volts"`
	VoltsLow  quantity.Volts   `json:"volts_low"`
	VoltsHigh quantity.Volts   `json:"volts_high"`
	Amps      quantity.Amperes `json:"amps"`
	AmpsLow   quantity.Amperes `json:"amps_low"`
	AmpsHigh  quantity.Amperes `json:"amps_high"`
	Percent   float64          `json:"percent"`
}

// Range is where a figure should lie.
type Range struct {
	Low  float64 `json:"low"`
	High float64 `json:"high"`
}

// ShouldShow is what a look at the charge should show.
type ShouldShow struct {
	Minutes float64 `json:"minutes"`
	Volts   Range   `json:"volts"`
	Amps    Range   `json:"amps"`
}

// ByCharger is the same charge with another charger of the shop.
type ByCharger struct {
	ID            string              `json:"id"`
	Allowed       bool                `json:"allowed"`
	Refusals      []wording.Statement `json:"refusals"`
	TestableHours *Estimate           `json:"testable_hours"`
	FullHours     *Estimate           `json:"full_hours"`
}

// Afterwards is one thing done when it is full.
type Afterwards struct {
	Code    string  `json:"code"`
	Minutes float64 `json:"minutes"`
	Text    string  `json:"text"`
}

// Plan is one charge planned.
type Plan struct {
	Allowed  bool                `json:"allowed"`
	Refusals []wording.Statement `json:"refusals"`
	// Steps wake a battery that lies under the charger's volts.
	Steps   []wording.Statement `json:"steps"`
	Setting *Setting            `json:"setting"`
	Why     []wording.Statement `json:"why"`
	// Before is what is seen to before it begins, in order; Air what it needs of its place.
	Before []wording.Statement `json:"before"`
	Air    *ChargeAir          `json:"air"`
	// DelayHours is how long a deeply discharged sealed battery may take no current.
	DelayHours    *Estimate   `json:"delay_hours"`
	Ah            AmpereHours `json:"ah"`
	TestableHours *Estimate   `json:"testable_hours"`
	FullHours     *Estimate   `json:"full_hours"`
	// RuleHours is the workshop's rule, nil without a reserve.
	RuleHours *float64     `json:"rule_hours"`
	ByCharger []ByCharger  `json:"by_charger"`
	Curve     []Moment     `json:"curve"`
	Checks    []ShouldShow `json:"checks"`
	// Log is what was read of it so far.
	Log []Point `json:"log"`
	// Now is how far the charge is by its log, nil without one.
	Now *Now `json:"now"`
	// Anomalies are what the log shows besides a charge that goes as it should, the
	// likeliest first; Stop tells that a stop rule holds.
	Anomalies []Anomaly           `json:"anomalies"`
	Stop      bool                `json:"stop"`
	After     []Afterwards        `json:"after"`
	Cautions  []school.Caution    `json:"cautions"`
	Assumed   []wording.Statement `json:"assumed"`
}

// Point is a check as it was taken.
type Point struct {
	Hours float64          `json:"hours"`
	Volts quantity.Volts   `json:"volts"`
	Amps  quantity.Amperes `json:"amps"`
}

// Planner plans charges; it keeps the labels it has calibrated.
type Planner struct{ Designs *twin.Designs }

// chargedPercent is the charge that counts as full.
const chargedPercent = 98.0

// Plan plans one charge.
func (p Planner) Plan(a Ask) Plan {
	s := situationOf(a)
	c := s.charger()
	plan := Plan{
		Refusals: s.refuse(c), Steps: []wording.Statement{}, Why: []wording.Statement{}, Before: []wording.Statement{}, ByCharger: []ByCharger{}, Curve: []Moment{},
		Checks: []ShouldShow{}, Log: []Point{}, Anomalies: []Anomaly{}, After: []Afterwards{}, Cautions: s.cautions(c), Assumed: s.assumed,
	}
	for _, r := range plan.Refusals {
		if r.Code == "refusal.will_not_wake" {
			plan.Steps = s.waking()
		}
	}
	plan.Allowed = len(plan.Refusals) == 0
	design, ok := p.Designs.Of(s.Label)
	if !plan.Allowed || !ok {
		return plan
	}
	plan.ByCharger = s.sideBySide(design)
	step := c.choose(s.capacity.Value, s.Label, s.small)
	plan.Setting = &Setting{s.Label.Chemistry, s.set(c), step}
	plan.DelayHours = s.delay(c)
	plan.Ah = s.ampereHours()
	run := s.run(design, c, step)
	plan.TestableHours, plan.FullHours = run.until(school.JudgePercent), run.until(chargedPercent)
	plan.RuleHours = s.rule(step)
	plan.Curve = run.curve()
	if len(s.Log) > 0 {
		s.follow(&plan, design, c, step)
	}
	plan.Checks = checksOf(plan.Curve)
	plan.Why = s.why(c, step, run, design)
	plan.Before, plan.Air = s.before(design, c, step, run), s.placeAir(c, step)
	plan.After = afterwards
	plan.round()
	return plan
}

// round rounds what is estimated, once everything has been made of it.
func (p *Plan) round() {
	bands := []*Estimate{p.DelayHours, p.Ah.Missing, p.Ah.ToPutIn, p.TestableHours, p.FullHours}
	for _, one := range p.ByCharger {
		bands = append(bands, one.TestableHours, one.FullHours)
	}
	for _, b := range bands {
		b.round()
	}
	for i := range p.Curve {
		m := &p.Curve[i]
		m.Volts, m.VoltsLow, m.VoltsHigh = thousandth(m.Volts), thousandth(m.VoltsLow), thousandth(m.VoltsHigh)
		m.Amps, m.AmpsLow, m.AmpsHigh = thousandth(m.Amps), thousandth(m.AmpsLow), thousandth(m.AmpsHigh)
		m.Hours, m.Percent = thousandth(m.Hours), thousandth(m.Percent)
	}
	for i := range p.Checks {
		c := &p.Checks[i]
		c.Volts, c.Amps = Range{thousandth(c.Volts.Low), thousandth(c.Volts.High)}, Range{thousandth(c.Amps.Low), thousandth(c.Amps.High)}
	}
}

// situationOf works out what the question leaves open, and says what was taken for it.
func situationOf(a Ask) *situation {
	a.Case.Label = a.Label
	s := &situation{Ask: a, evidence: evidence.Examine(a.Case), assumed: []wording.Statement{}}
	s.stops = safety.Stops(s.evidence)
	kind := a.Case.Vehicle.Kind
	s.small = kind == "motorcycle" || kind == "offroad"
	s.capacity = s.size()
	s.takeCharge()
	s.takeTemperatures()
	s.where = a.Where
	if s.where == "" {
		s.where = InVehicle
		if s.small || kind == "" || kind == "none" {
			s.where = OnBench
		}
		s.assume("where", wording.Values{"where": s.where})
	}
	return s
}

func (s *situation) assume(what string, values wording.Values) {
	s.assumed = append(s.assumed, wording.Say("assumed."+what, values))
}

// size is the battery's ampere-hours, guessed where the label does not tell.
func (s *situation) size() battery.Estimate {
	c, ok := s.Label.AnyCapacity()
	if !ok {
		c = battery.Estimate{Value: usualAh, Low: usualAh * (1 - usualAhSpread), High: usualAh * (1 + usualAhSpread), Converted: true}
	}
	if c.Converted {
		s.assume("capacity", wording.Values{"ah": c.Value})
	}
	return c
}

// usualAh is the size of a battery whose label tells nothing, with the share it may be
// off. Values from memory.
const (
	usualAh       = 60.0
	usualAhSpread = 0.4
)

// takeCharge takes the charge that was given, else what the readings come to; nothing
// known is anything.
func (s *situation) takeCharge() {
	for i := len(s.Case.Readings) - 1; i >= 0; i-- {
		if r := s.Case.Readings[i].Reading; r.Kind == reading.OpenCircuit {
			v := r.Volts()
			s.volts = &v
			break
		}
	}
	var known bool
	s.charge, known = s.state(s.evidence)
	if !known && s.Label.Chemistry.Judged() {
		s.assume("charge", nil)
	}
}

// state is the charge before it: the one given, else what the readings come to; false, and
// anything from flat to full, where nothing tells.
func (a Ask) state(ev evidence.Evidence) (battery.Charge, bool) {
	if a.Charge != nil {
		return *a.Charge, true
	}
	if state := ev.Last().Charge; state != nil {
		return state.Charge, true
	}
	return battery.Charge{Percent: 50, Low: 0, High: 100}, false
}

// State is the charge that a battery has before it is charged.
func (a Ask) State() battery.Charge {
	a.Case.Label = a.Label
	charge, _ := a.state(evidence.Examine(a.Case))
	return charge
}

// State is what is known of a battery before anything is connected to it.
type State struct {
	Charge  battery.Charge
	Celsius quantity.Celsius
	// Frozen, Damaged and EyeClear forbid every charge and every jump.
	Frozen, Damaged, EyeClear bool
	// Assumed is what was taken for what is not known of its charge and temperature.
	Assumed []wording.Statement
}

// StateOf is what is known of the battery of a question.
func StateOf(a Ask) State {
	a.Where = OnBench // where it stands is no matter here
	s := situationOf(a)
	return State{s.charge, s.celsius, s.frozen(), s.damaged(), s.stopped(school.EyeClear), s.assumed}
}

// Assumed is what is taken for what the question leaves open.
func Assumed(a Ask) []wording.Statement { return situationOf(a).assumed }

// takeTemperatures: the battery's own where it is said or was measured, else the air's;
// the air's where it is said, else the battery's.
func (s *situation) takeTemperatures() {
	at := s.BatteryC
	if at == nil {
		for i := range s.Case.Readings {
			if t, ok := s.Case.Readings[i].Reading.Temperature(); ok {
				at = &t
			}
		}
	}
	at = cmp.Or(at, s.AirC)
	if at == nil {
		room := battery.TemperatureUnknown
		at = &room
		s.assume("battery_c", wording.Values{"celsius": room})
	}
	s.celsius, s.air = *at, *at
	if s.AirC != nil {
		s.air = *s.AirC
	}
}

// charger is the one that was asked about, else one that is kind to the battery.
func (s *situation) charger() Charger {
	if s.Charger != nil {
		return *s.Charger
	}
	kind, _ := s.Label.Chemistry.ChargeCurrent(s.capacity.Value)
	amps := quantity.Amperes(math.Round(float64(kind)*2) / 2)
	s.assume("charger", wording.Values{"amps": max(amps, 0.5)})
	return Charger{Kind: MultiStageKind, Amps: []quantity.Amperes{max(amps, 0.5)}, Compensates: true}
}

// holds is the voltage that the charger holds at 25 °C: for equalising the least that does it,
// unless the charger has its own.
func (s *situation) holds(c Charger) quantity.Volts {
	if s.Until == Equalise && c.Volts == nil {
		v, _ := s.Label.Charging(chargeCelsius)
		return v.EqualiseLow
	}
	return c.absorption(s.Label)
}

// set is the voltage to set at the battery's temperature.
func (s *situation) set(c Charger) quantity.Volts {
	v := s.holds(c) - c.perKelvin(s.Label)*quantity.Volts(s.celsius-chargeCelsius)
	return quantity.Volts(math.Round(float64(v)*100) / 100)
}

// deeplyFlat is the charge up to which a sealed battery may take no current at first.
const deeplyFlat = 5.0

// Where in the band of the trade's longest waits the wait most likely lies, and its least.
// Values from memory.
const (
	delayLikely = 0.5
	delayLeast  = 0.1
)

// delay is the wait before a deeply discharged sealed battery takes current; nil for one
// that takes it at once. The 16 V stage is for sealed flooded ones off the vehicle.
func (s *situation) delay(c Charger) *Estimate {
	if !s.Label.Closed() || s.charge.Percent > deeplyFlat {
		return nil
	}
	longest := battery.AcceptanceDelay(s.Label.PerTwelve(s.set(c)))
	return &Estimate{longest * delayLikely, longest * delayLeast, longest}
}

// ampereHours are what is missing, and what has to be put in.
func (s *situation) ampereHours() AmpereHours {
	missing := func(capacity, percent float64) float64 { return capacity * (100 - percent) / 100 }
	whole := Estimate{
		missing(s.capacity.Value, s.charge.Percent),
		missing(s.capacity.Low, s.charge.High),
		missing(s.capacity.High, s.charge.Low),
	}
	keeps := s.Label.Keeps(s.Case.YearsOld())
	put := Estimate{whole.Value / keeps.Value, whole.Low / keeps.High, whole.High / keeps.Low}
	return AmpereHours{&whole, &put}
}

// rule is the workshop's rule: reserve over amps, in proportion; nil without a reserve.
func (s *situation) rule(step quantity.Amperes) *float64 {
	if s.Label.ReserveMin == nil {
		return nil
	}
	hours := WorkshopHours(*s.Label.ReserveMin, step, s.charge.Percent)
	return &hours
}

// sideBySide is the charge with each other charger of the shop.
func (s *situation) sideBySide(d *twin.Design) []ByCharger {
	out := make([]ByCharger, 0, len(s.Chargers))
	for _, c := range s.Chargers {
		one := ByCharger{ID: c.ID, Refusals: s.refuse(c)}
		one.Allowed = len(one.Refusals) == 0
		if one.Allowed {
			step := c.choose(s.capacity.Value, s.Label, s.small)
			run := s.run(d, c, step)
			one.TestableHours, one.FullHours = run.until(school.JudgePercent), run.until(chargedPercent)
		}
		out = append(out, one)
	}
	return out
}

// afterwards is what is done when it is full, in order. Common practice, no source.
var afterwards = func() []Afterwards {
	rows := []struct {
		code    string
		minutes float64
	}{{"off", 1}, {"rest", float64(school.RestMinutes)}, {"read", 1}, {"retest", 10}}
	out := make([]Afterwards, len(rows))
	for i, r := range rows {
		out[i] = Afterwards{r.code, r.minutes, wording.Text("after_charge."+r.code, nil)}
	}
	return out
}()

// cautions are those of the charge, in the order in which they are met with.
func (s *situation) cautions(c Charger) []school.Caution {
	out := []school.Caution{school.Acid}
	if s.frozen() || s.damaged() {
		out = append(out, school.FrozenOrDamaged)
	}
	if s.Label.Chemistry == battery.LiFePO4 {
		out = append(out, school.Lithium)
	}
	if s.dry() {
		out = append(out, school.PlatesDry)
	}
	out = append(out, school.Spark, school.Ventilation, school.Gas, school.Hot)
	if s.Label.Chemistry.ValveRegulated() {
		out = append(out, school.Runaway)
	}
	if s.Until == Equalise || s.Label.Chemistry.Judged() && s.Label.PerTwelve(c.absorption(s.Label)) > inVehicleMost {
		out = append(out, school.HighVolts)
	}
	return append(out, school.Defer)
}

// checksOf are the looks at a charge every half hour, up to its end; between the points of a
// curve that goes on from a check at any minute they are read off it.
func checksOf(curve []Moment) []ShouldShow {
	out := []ShouldShow{}
	for i := 1; i < len(curve); i++ {
		a, b := curve[i-1], curve[i]
		every := float64(CheckMinutes)
		minutes := (math.Floor(a.Hours*minutesPerHour/every+checkRounding) + 1) * every
		for ; minutes <= b.Hours*minutesPerHour+checkRounding; minutes += every {
			part := (minutes/minutesPerHour - a.Hours) / (b.Hours - a.Hours)
			mix := func(x, y float64) float64 { return x + part*(y-x) }
			out = append(out, ShouldShow{
				minutes,
				Range{mix(float64(a.VoltsLow), float64(b.VoltsLow)), mix(float64(a.VoltsHigh), float64(b.VoltsHigh))},
				Range{mix(float64(a.AmpsLow), float64(b.AmpsLow)), mix(float64(a.AmpsHigh), float64(b.AmpsHigh))},
			})
		}
	}
	return out
}

// checkRounding is how far off a half hour still counts as one, in minutes and in halves of
// an hour.
const checkRounding = 1e-6
