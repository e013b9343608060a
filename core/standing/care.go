package standing

import (
	"cmp"
	"math"
	"slices"
	"time"

	"grapnel/core/battery"
	"grapnel/core/charging"
	"grapnel/core/quantity"
	"grapnel/core/twin"
	"grapnel/core/wording"
)

// Care is one thing that can be done for a standing battery, with what it comes to.
type Care struct {
	Kind string `json:"kind" enum:"none,disconnect,bypass,take_in,maintain,maintain_by_socket,solar,visit,drive,wake"`
	// Fits tells that it carries the battery through the season, and can be done here.
	Fits bool                `json:"fits"`
	Why  []wording.Statement `json:"why"`
	// Dates are those that come with this care, as the battery is.
	Dates Dates `json:"dates"`
	// DaysBought is how much later the first bad day comes than with nothing done; nil where
	// none comes within the season.
	DaysBought *int `json:"days_bought"`
	// ChargeFirst tells that it holds only if the battery is charged in full before; Charged
	// are the dates then.
	ChargeFirst bool   `json:"charge_first"`
	Charged     *Dates `json:"charged_dates"`
	// EveryDays is how often somebody comes.
	EveryDays *int `json:"every_days"`
	// Minutes is how long a drive or a waking takes each time.
	Minutes           *float64 `json:"minutes"`
	HandsMinutesMonth float64  `json:"hands_minutes_month"`
	Amps              *Sizes   `json:"amps"`
	KindOfCharger     *string  `json:"kind_of_charger"`
	// SolarWatts is the panel each month asks for, January first; nil for one without sun.
	SolarWatts []*float64 `json:"solar_watts_by_month" nullable:"true"`
}

// Sizes are those of a maintainer, A.
type Sizes struct {
	Least  float64 `json:"least"`
	Enough float64 `json:"enough"`
	Most   float64 `json:"most"`
}

// Kinds of charger for a standing battery. A constant trickle, which never stops, is none.
const (
	maintainer = "maintainer"
	multiStage = "multi_stage"
)

// work is what a care costs: hands' minutes once and at each visit, and besides, where several
// would do, what it costs otherwise, as minutes a season: what is set again after a battery was
// off, a lift, the wear of short runs. Values from memory.
var work = map[string]struct{ once, visit, besides float64 }{
	None:     {0, 2, 0},
	Apart:    {5, 10, 15},
	Bypass:   {20, 2, 10},
	TakeIn:   {25, 10, 20},
	Maintain: {10, 2, 0},
	BySocket: {5, 2, 8},
	Solar:    {30, 2, 10},
	Visit:    {0, 20, 0},
	Drive:    {0, 10, 30},
	Wake:     {0, 5, 5},
}

const (
	monthDays   = 365.25 / 12
	hoursPerDay = 24
	// electricApart is what it costs besides to take the 12 V off an electric car, minutes. Value
	// from memory.
	electricApart = 20.0
	// chargedPercent is a battery that was charged in full.
	chargedPercent = 100.0
)

// charged is a battery that was charged in full.
var charged = battery.Charge{Percent: chargedPercent, Low: chargedPercent, High: chargedPercent}

// care compares what can be done, the best first: what carries it through before what does
// not, then by hands' work and what else it costs.
func (s *situation) care(plain Dates) []Care {
	kinds := s.Care
	if len(kinds) == 0 {
		kinds = s.applicable()
	}
	out := make([]Care, 0, len(kinds))
	for _, kind := range kinds {
		if slices.ContainsFunc(out, func(c Care) bool { return c.Kind == kind }) {
			continue
		}
		c := Care{Kind: kind, Fits: true, Why: []wording.Statement{}, Dates: plain}
		s.judge(&c, plain)
		c.HandsMinutesMonth = s.hands(c)
		with := c.Dates
		if c.ChargeFirst {
			with = *c.Charged
		}
		c.DaysBought = s.bought(with, plain)
		out = append(out, c)
	}
	slices.SortStableFunc(out, func(a, b Care) int {
		return cmp.Or(cmp.Compare(truth(b.Fits), truth(a.Fits)), cmp.Compare(s.cost(a), s.cost(b)))
	})
	return out
}

// cost is what cares are ordered by, minutes a month.
func (s *situation) cost(c Care) float64 {
	besides := work[c.Kind].besides
	if s.Vehicle.Electric() && (c.Kind == Apart || c.Kind == TakeIn) {
		// The maker's wait for the high voltage, locks and boot without power.
		besides += electricApart
	}
	return c.HandsMinutesMonth + besides/s.months()
}

// months is how long the season is, one at the least.
func (s *situation) months() float64 { return math.Max(1, float64(s.days)/monthDays) }

func truth(yes bool) int {
	if yes {
		return 1
	}
	return 0
}

// applicable are the kinds that can apply at all to such a vehicle, connected or not.
func (s *situation) applicable() []string {
	loose := s.Vehicle.Kind == "none" || s.Vehicle.Kind == ""
	socketless := []string{"motorcycle", "offroad", "mower", "tractor", "classic"}
	return slices.DeleteFunc(Kinds(), func(kind string) bool {
		switch kind {
		case Apart, Bypass:
			return s.apart
		case BySocket:
			return loose || s.apart || s.Socket == nil && slices.Contains(socketless, s.Vehicle.Kind)
		case TakeIn:
			return s.Place == Heated && s.apart
		case Drive:
			return loose
		case Wake:
			return !s.Vehicle.Electric()
		}
		return false
	})
}

// judge fills in what a care comes to.
func (s *situation) judge(c *Care, plain Dates) {
	switch c.Kind {
	case None:
		s.leftAlone(c)
	case Apart:
		s.disconnect(c)
	case Bypass:
		s.bypass(c)
	case TakeIn:
		s.takeIn(c)
	case Maintain:
		s.maintain(c)
	case BySocket:
		s.socket(c)
	case Solar:
		s.solar(c)
	case Visit:
		s.visit(c)
	case Drive:
		s.drive(c)
	case Wake:
		s.wake(c)
	}
	if plain.Freezes != nil && plain.Freezes.Early == s.date(0) && (c.KindOfCharger != nil || c.ChargeFirst) {
		c.say("thaw", nil)
	}
}

func (c *Care) say(code string, values wording.Values) {
	c.Why = append(c.Why, wording.Say("standing_care."+code, values))
}

// no says why a care does not fit.
func (c *Care) no(code string, values wording.Values) {
	c.Fits = false
	c.say(code, values)
}

// holds says what a forecast comes to, and whether nothing bad comes in it.
func (c *Care) holds(d Dates, from string) bool {
	bad := false
	for _, one := range []struct {
		code string
		on   *When
	}{{"freezes", d.Freezes}, {"no_start", d.ChargeLow}, {"below", d.Below}} {
		if one.on != nil {
			bad = true
			if one.on.Date == from {
				c.say(one.code+"_now", nil)
				continue
			}
			c.say(one.code, wording.Values{"on": one.on.Date, "early": one.on.Early, "late": one.on.Late})
		}
	}
	if d.Starts != nil && d.ChargeLow == nil {
		c.say("too_cold", wording.Values{"on": d.Starts.Date})
	}
	return !bad
}

// standThrough is a way of standing through the season as the battery is, and, where that does
// not hold, charged in full first.
func (s *situation) standThrough(c *Care, w stand) {
	c.Dates = s.dates(s.forecast(w), w.climate)
	if c.Dates.hold() {
		c.holds(c.Dates, s.date(0))
		return
	}
	w.charge = charged
	then := s.dates(s.forecast(w), w.climate)
	c.Charged = &then
	if c.Fits = then.hold(); c.Fits {
		c.ChargeFirst = true
		c.say("charge_first", nil)
	}
	c.holds(then, s.date(0))
}

func (s *situation) every(c *Care, days int) { c.EveryDays = &days }

// leftAlone is nothing done: looked at all the same, as often as such batteries are.
func (s *situation) leftAlone(c *Care) {
	if !c.holds(c.Dates, s.date(0)) {
		c.Fits = false
	}
	s.every(c, s.interval())
	c.say("look_every", wording.Values{"days": float64(*c.EveryDays)})
}

// interval is how long such a battery goes without a look.
func (s *situation) interval() int {
	if s.apart {
		return ApartDays
	}
	return ConnectedDays
}

// resets are vehicles that forget when their battery is off.
func (s *situation) resets() bool {
	return !slices.Contains([]string{"mower", "tractor", "classic", "motorcycle", "offroad", "none", ""}, s.Vehicle.Kind)
}

func (s *situation) disconnect(c *Care) {
	if s.apart {
		c.no("apart_already", nil)
		return
	}
	w := s.as
	w.drain = Drain{}
	s.standThrough(c, w)
	s.every(c, ApartDays)
	c.say("look_every", wording.Values{"days": float64(ApartDays)})
	if s.resets() {
		c.say("resets", nil)
	}
	if s.Vehicle.Electric() {
		c.say("high_voltage", nil)
	}
}

func (s *situation) bypass(c *Care) {
	if s.apart {
		c.no("apart_already", nil)
		return
	}
	// What keeps the memories alive goes on drawing through the fuse.
	c.say("bypass_draws", wording.Values{"drain": s.as.drain.Amps})
	if !c.holds(c.Dates, s.date(0)) {
		c.Fits = false
	}
	s.every(c, ConnectedDays)
	c.say("never_start", nil)
}

func (s *situation) takeIn(c *Care) {
	if s.Place == Heated && s.apart {
		c.no("in_already", nil)
		return
	}
	zone, _ := FindZone(Temperate)
	if s.Climate != nil {
		zone = *s.Climate
	}
	w := s.as
	w.drain, w.climate = Drain{}, zone.At(Heated)
	s.standThrough(c, w)
	s.every(c, ApartDays)
	kind := multiStage
	c.KindOfCharger, c.Amps = &kind, s.size(Drain{}).sizes()
	c.say("take_in", wording.Values{"celsius": quantity.Celsius(heatedColdest), "days": float64(ApartDays)})
	if s.resets() && !s.apart {
		c.say("resets", nil)
	}
	if s.Vehicle.Electric() {
		c.say("high_voltage", nil)
	}
}

// warmest is the warmest mean of the season where it stands: there it loses most by itself.
func (s *situation) warmest() quantity.Celsius { return s.extreme(math.Max) }

// chilliest is the coldest mean of the season: there it takes least charge.
func (s *situation) chilliest() quantity.Celsius { return s.extreme(math.Min) }

func (s *situation) extreme(of func(a, b float64) float64) quantity.Celsius {
	x := float64(s.as.climate.Mean(s.from))
	for day := 0; day <= s.days; day += 7 {
		x = of(x, float64(s.as.climate.Mean(s.day(day))))
	}
	return quantity.Celsius(x)
}

// size is the maintainer that carries a drain.
func (s *situation) size(d Drain) Maintainer {
	return MaintainerFor(s.design.Capacity, d.Amps, s.Label.Plates(), s.warmest())
}

// sizes are those of a maintainer as they are told.
func (m Maintainer) sizes() *Sizes {
	return &Sizes{hundredth(float64(m.Least)), hundredth(float64(m.Enough)), hundredth(float64(m.Most))}
}

// upkeep is what every maintainer on mains has in common.
func (s *situation) upkeep(c *Care) {
	kind := maintainer
	c.KindOfCharger, c.Dates = &kind, Dates{}
	if !s.mains {
		c.no("no_mains", nil)
	}
	c.say("never_trickle", wording.Values{"percent": float64(RefillPercent)})
	if s.Place != Heated {
		c.say("residual", nil)
	}
	if s.Vehicle.Electric() {
		c.say("sleep_first", wording.Values{"minutes": float64(SleepMinutes)})
	}
	s.every(c, ConnectedDays)
}

func (s *situation) maintain(c *Care) {
	s.upkeep(c)
	m := s.size(s.as.drain)
	c.Amps = m.sizes()
	c.say("size", wording.Values{"least": m.Least, "enough": m.Enough, "most": m.Most})
	if m.Short {
		c.no("drain_too_high", wording.Values{"least": m.Least, "most": m.Most})
	}
}

func (s *situation) socket(c *Care) {
	s.upkeep(c)
	m := s.size(s.as.drain)
	fuse := SocketFuse
	if s.Socket != nil && s.Socket.Fuse != nil {
		fuse = *s.Socket.Fuse
	} else if s.Socket != nil {
		s.say("standing_fuse", wording.Values{"fuse": fuse})
	}
	through := fuse * SocketMost / SocketFuse
	m.Most = min(m.Most, through)
	m.Enough = min(m.Enough, m.Most)
	c.Amps = m.sizes()
	switch {
	case s.apart:
		c.no("socket_apart", nil)
	case s.Vehicle.Kind == "none" || s.Vehicle.Kind == "":
		c.no("no_socket", nil)
	case s.Socket != nil && s.Socket.Live != nil && !*s.Socket.Live:
		c.no("socket_dead", nil)
	case s.Socket == nil || s.Socket.Live == nil:
		c.no("socket_unknown", nil)
	}
	if m.Least > m.Most {
		c.no("socket_fuse", wording.Values{"least": m.Least, "most": m.Most, "fuse": fuse})
	} else {
		c.say("socket_most", wording.Values{"most": m.Most, "fuse": fuse})
	}
}

const (
	// sunToBattery is what of the sun on a panel reaches the battery: dirt, angle, regulator,
	// and that a panel is rated warm and square to the sun. Value from memory.
	sunToBattery = 0.6
	// panelVolts is what a panel that is regulated charges at, six cells. Value from memory.
	panelVolts = 13.5
	// panelMost is the largest panel that is laid on a windscreen or a roof for a battery
	// alone, W. Value from memory.
	panelMost = 60.0
)

func (s *situation) solar(c *Care) {
	kind := Solar
	c.KindOfCharger = &kind
	volts := panelVolts * float64(s.Label.Cells()) / sixCells
	c.SolarWatts = make([]*float64, monthsOfYear)
	for m := range monthsOfYear {
		if s.sun[m] <= 0 {
			continue
		}
		least := MaintainerFor(s.design.Capacity, s.as.drain.Amps, s.Label.Plates(), quantity.Celsius(s.as.climate.Monthly[m])).Least
		// Sun hours at full strength are as many as there are kWh/m².
		watts := hundredth(float64(least) * hoursPerDay * volts / s.sun[m] / sunToBattery)
		c.SolarWatts[m] = &watts
	}
	if s.Place != Outdoors {
		c.no("no_sun", nil)
		return
	}
	most, dark := s.panel(c.SolarWatts)
	switch {
	case dark:
		c.no("dark", nil)
	case most > panelMost:
		c.no("panel_large", wording.Values{"watts": math.Ceil(most), "most": panelMost})
	default:
		c.Dates = Dates{}
		c.say("panel", wording.Values{"watts": math.Ceil(most)})
	}
	s.every(c, ConnectedDays)
}

// panel is the largest that a month of the season asks for; dark where a month has no sun.
func (s *situation) panel(watts []*float64) (most float64, dark bool) {
	for day := range s.days {
		w := watts[s.day(day).Month()-1]
		if w == nil {
			return most, true
		}
		most = math.Max(most, *w)
	}
	return most, false
}

const sixCells = 6.0

// visit is a night on a charger every so many days: before the low end of the band from full
// comes to the charge at which a standing battery is charged, or to a bad day.
func (s *situation) visit(c *Care) {
	kind := multiStage
	c.KindOfCharger, c.Amps, c.Dates = &kind, s.size(s.as.drain).sizes(), Dates{}
	if !s.mains {
		c.no("no_mains", nil)
	}
	days := s.lasts()
	switch {
	case s.Vehicle.Electric():
		days = min(days, ElectricHigh)
	default:
		days = min(days, s.interval())
	}
	s.every(c, days)
	if days < leastVisit {
		c.no("too_often", wording.Values{"days": float64(days)})
	} else {
		c.say("night", wording.Values{"days": float64(days)})
	}
	if s.Place != Heated {
		c.say("residual", nil)
	}
	if s.Vehicle.Electric() {
		c.say("sleep_first", wording.Values{"minutes": float64(SleepMinutes)})
	}
}

// leastVisit is how many days apart visits are at the least, before another care is better.
// Value from memory.
const leastVisit = 3

// lasts is how many days one charge lasts at the worst time of the season, at the low end.
func (s *situation) lasts() int {
	b := season{
		design: s.design, label: s.label, vehicle: s.vehicle, from: s.from, days: ApartDays, below: s.below,
		starter: s.starter, morning: s.morning, needs: s.needs,
	}
	worst := Climate{}
	warm, night := float64(s.warmest()), math.Inf(1)
	for day := range s.days + 1 {
		night = math.Min(night, float64(s.as.climate.Night(s.day(day))))
	}
	for m := range worst.Monthly {
		worst.Monthly[m], worst.Coldest[m] = warm, night
	}
	t := b.forecast(stand{charged, s.as.drain, worst})
	days, _ := b.first(func(day int) bool {
		return t.low[day] < b.below || b.starter > 0 && b.stalls(t, worst, 0, wholePercent)(day)
	})
	return max(days-1, 0)
}

// bought is how much later the first bad day comes with a care; nil where none comes.
func (s *situation) bought(with, without Dates) *int {
	last := func(d Dates) int {
		first := s.days + 1
		for _, w := range []*When{d.Below, d.ChargeLow, d.Freezes} {
			if w == nil {
				continue
			}
			if on, err := time.Parse(dateForm, w.Date); err == nil {
				first = min(first, int(on.Sub(s.from)/(hoursPerDay*time.Hour)))
			}
		}
		return first
	}
	if with.hold() {
		return nil
	}
	n := last(with) - last(without)
	return &n
}

// hands is the work of a care, minutes a month over the season.
func (s *situation) hands(c Care) float64 {
	months := s.months()
	w := work[c.Kind]
	minutes := w.once / months
	each := w.visit
	if c.Minutes != nil && c.Kind == Drive {
		each += *c.Minutes
	}
	if c.EveryDays != nil && *c.EveryDays > 0 {
		minutes += each * math.Floor(float64(s.days)/float64(*c.EveryDays)) / months
	}
	return math.Round(minutes*10) / 10
}

// refill is how a battery is charged while its vehicle runs or is awake.
type refill struct {
	kinds []string
	amps  quantity.Amperes
	volts quantity.Volts
}

// refills are by kind of vehicle: what its alternator, dynamo, coil or converter spares for
// the battery, and at how many volts, six cells. Values from memory.
var refills = []refill{
	{[]string{"car", "van", "truck"}, 50, 14.2},
	{[]string{"hybrid", "electric"}, 40, 14.2},
	{[]string{"tractor"}, 25, 14.2},
	{[]string{"classic"}, 12, 14},
	{[]string{"motorcycle"}, 10, 14.2},
	{[]string{"offroad"}, 8, 14.2},
	{[]string{"mower"}, 3, 13.8},
}

func refillOf(kind string) (refill, bool) {
	for _, r := range refills {
		if slices.Contains(r.kinds, kind) {
			return r, true
		}
	}
	return refill{}, false
}

const (
	// keptPercent is the charge a driven battery is kept above: a little over that of 12.4 V.
	// Computed.
	keptPercent = 72.0
	// drivenPercent is what a battery holds on the mean that is driven now and then. Value from
	// memory.
	drivenPercent = 80.0
	// driveMost is the longest a vehicle is taken out for its battery alone, min. Value from
	// memory.
	driveMost      = 60.0
	minutesPerHour = 60.0
	// noRefill is how long is tried, hours.
	noRefill = 12.0
)

// lazyRounds are the days between drives or wakings that are tried, the laziest first.
var lazyRounds = []int{30, 21, 14, 7}

// putBack is how long it takes, at the coldest of the season, to put back what so many days
// and a start have taken, min; false where it does not come back.
func (s *situation) putBack(r refill, days int) (minutes float64, ok bool) {
	at := s.chilliest()
	b := s.design.New(twin.Sound, chargedPercent, at)
	whole := b.AmpereHours()
	b.Stand(s.as.drain.Amps, days, func(int) quantity.Celsius { return at }, func(int, float64) {})
	lost := chargedPercent * (whole - b.AmpereHours()) / whole
	if s.starter > 0 {
		lost += chargedPercent * float64(twin.StartAmps) * float64(twin.StartSeconds) / secondsPerHour / whole
	}
	if keptPercent+lost > chargedPercent {
		return 0, false
	}
	driven := s.design.New(twin.Sound, keptPercent, at)
	volts := r.volts * quantity.Volts(float64(s.Label.Cells())/sixCells)
	end := driven.Charge(twin.Charger{Amps: r.amps, Volts: volts}, noRefill, keptPercent+lost, at, nil)
	return math.Ceil(end.Hours * minutesPerHour), end.Percent >= keptPercent+lost
}

const secondsPerHour = 3600.0

// runs is a care that lets the vehicle charge its own battery.
func (s *situation) runs(c *Care, r refill, rounds []int, most float64) bool {
	for _, days := range rounds {
		minutes, ok := s.putBack(r, days)
		if ok && minutes <= most || days == rounds[len(rounds)-1] {
			s.every(c, days)
			if ok {
				c.Minutes = &minutes
			}
			return ok && minutes <= most
		}
	}
	return false
}

func (s *situation) drive(c *Care) {
	r, ok := refillOf(s.Vehicle.Kind)
	if !ok {
		c.no("not_driven", nil)
		return
	}
	if s.apart {
		c.no("apart_already", nil)
		return
	}
	switch ok := s.runs(c, r, lazyRounds, driveMost); {
	case s.Vehicle.Kind == "mower":
		c.no("coil", wording.Values{"ah": charging.CoilAh, "minutes": charging.CoilMinutes})
	case ok:
		c.Dates = s.dates(s.driven(), s.as.climate)
		c.Fits = c.holds(c.Dates, s.date(0))
		c.say("drive", wording.Values{"minutes": *c.Minutes, "days": float64(*c.EveryDays)})
	case c.Minutes != nil:
		c.no("drive_long", wording.Values{"minutes": *c.Minutes, "days": float64(*c.EveryDays)})
	default:
		c.no("drive_never", wording.Values{"days": float64(*c.EveryDays)})
	}
}

// driven is the charge of a battery that is driven or woken: kept above keptPercent, and never
// lower than one that is left alone. What it holds between is not known.
func (s *situation) driven() track {
	t := s.left
	above := func(charge []float64, least float64) []float64 {
		out := slices.Clone(charge)
		for day, x := range out {
			out[day] = math.Max(x, least)
		}
		return out
	}
	return track{above(t.middle, drivenPercent), above(t.low, keptPercent), above(t.high, chargedPercent)}
}

// wakes are the days between wakings that are tried.
var wakes = []int{14, 7, 5, 3}

func (s *situation) wake(c *Care) {
	if !s.Vehicle.Electric() {
		c.no("not_electric", nil)
		return
	}
	if s.apart {
		c.no("apart_already", nil)
		return
	}
	r, _ := refillOf(s.Vehicle.Kind)
	if !s.runs(c, r, wakes, WakeHigh) {
		c.no("wake_never", wording.Values{"days": float64(*c.EveryDays)})
		return
	}
	*c.Minutes = math.Max(*c.Minutes, WakeLow)
	c.Dates = s.dates(s.driven(), s.as.climate)
	c.Fits = c.holds(c.Dates, s.date(0))
	c.say("wake", wording.Values{"minutes": *c.Minutes, "days": float64(*c.EveryDays)})
}

// refused are the cares of a battery that is not judged: none.
func refused(a Ask) []Care {
	out := []Care{}
	for _, kind := range a.Care {
		c := Care{Kind: kind, Why: []wording.Statement{}}
		c.no("not_judged", nil)
		out = append(out, c)
	}
	return out
}
