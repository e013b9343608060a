package charging

import (
	"cmp"
	"math"
	"slices"

	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/safety"
	"grapnel/core/twin"
	"grapnel/core/wording"
)

// Now is how far a charge is.
type Now struct {
	Percent   *Estimate `json:"percent"`
	AhIn      *Estimate `json:"ah_in"`
	HoursLeft *Estimate `json:"hours_left"`
}

// Anomaly is something that the log of a charge shows, with how likely it is and what to
// do.
type Anomaly struct {
	Code        string  `json:"code"`
	Probability float64 `json:"probability"`
	Text        string  `json:"text"`
	Do          string  `json:"do"`
}

// suspect is what may lie behind a log: a condition of the battery and of the leads, by
// the name of what it is; empty for a charge that goes as it should.
type suspect struct {
	code  string
	prior float64
	of    twin.Condition
	lead  quantity.Ohms
}

// suspects are what a charge may be like, each in several degrees. How often each is met
// with on a shelf, and the degrees, are values from memory.
var suspects = []suspect{
	{prior: 0.30, of: twin.Condition{Health: 1, Capacity: 1}},
	{prior: 0.22, of: twin.Condition{Health: 0.9, Capacity: 0.85, Sulphation: 0.05}},
	{prior: 0.16, of: twin.Condition{Health: 0.8, Capacity: 0.7, Sulphation: 0.15}},
	{prior: 0.08, of: twin.Condition{Health: 1, Capacity: 1.1}},
	{code: "not_accepting", prior: 0.02, of: twin.Condition{Health: 0.6, Capacity: 0.7, Sulphation: 0.85}},
	{code: "not_accepting", prior: 0.02, of: twin.Condition{Health: 0.5, Capacity: 0.6, Sulphation: 0.95}},
	{code: "poor_contact", prior: 0.02, of: twin.Sound, lead: 0.1},
	{code: "poor_contact", prior: 0.02, of: twin.Sound, lead: 0.4},
	{code: "poor_contact", prior: 0.01, of: twin.Sound, lead: 1.5},
	{code: "early_full", prior: 0.03, of: twin.Condition{Health: 0.6, Capacity: 0.4, Sulphation: 0.3}},
	{code: "early_full", prior: 0.02, of: twin.Condition{Health: 0.5, Capacity: 0.25, Sulphation: 0.4}},
	{code: "shorted_cell", prior: 0.03, of: twin.Condition{Health: 1, Capacity: 1, Odd: &twin.Cell{Health: 1, Capacity: 1, Shorted: true}}},
	{code: "shorted_cell", prior: 0.02, of: twin.Condition{Health: 0.7, Capacity: 0.7, Odd: &twin.Cell{Health: 0.7, Capacity: 0.7, Shorted: true}}},
}

// belief is a suspect at one charge before the log, with what the log makes of it.
type belief struct {
	suspect
	track  track
	weight float64
}

// What a point of a log is off by against the model: the volts and, of the current, a
// share and the least. Values from memory.
const (
	logVolts     = 0.35
	logAmpsShare = 0.15
	logAmpsLeast = 0.25
	// outlier is the share of points that a belief need not explain.
	outlier = 0.02
)

// follow judges a charge by its log: what is likely by now, how long it goes on, and what
// is not as it should be.
func (s *situation) follow(p *Plan, d *twin.Design, c Charger, step quantity.Amperes) {
	drive := c.drives(s.Label, s.asLogged(c, step))
	beliefs := s.believe(d, drive)
	minutes, _ := s.Log[len(s.Log)-1].Number(reading.Minutes)
	last := minutes / minutesPerHour
	for i := range s.Log {
		minutes, _ := s.Log[i].Number(reading.Minutes)
		amps, _ := s.Log[i].Number(reading.Amps)
		p.Log = append(p.Log, Point{thousandth(minutes / minutesPerHour), s.Log[i].Volts(), quantity.Amperes(amps)})
	}
	p.Now = nowOf(beliefs, last, s.ahIn())
	for _, b := range []*Estimate{p.Now.Percent, p.Now.AhIn, p.Now.HoursLeft} {
		b.round()
	}
	p.Curve = curveOf(beliefs, p.Curve, last)
	p.Anomalies = anomaliesOf(beliefs)
	s.measured(p, c)
}

const minutesPerHour = 60

// asLogged is the current that the charger was set to, as the log shows it: the step that
// lies nearest to the most that was read, where that is no step short of it.
func (s *situation) asLogged(c Charger, step quantity.Amperes) quantity.Amperes {
	most := 0.0
	for i := range s.Log {
		amps, _ := s.Log[i].Number(reading.Amps)
		most = max(most, amps)
	}
	if most <= float64(step)*(1+logAmpsShare) {
		return step
	}
	for _, one := range c.Amps {
		if float64(one) >= most*(1-logAmpsShare) {
			return one
		}
	}
	return quantity.Amperes(most)
}

// believe weighs every suspect, at the low end, the middle and the high end of the charge
// before the log, against the log.
func (s *situation) believe(d *twin.Design, drive twin.Charger) []belief {
	var out []belief
	best := math.Inf(-1)
	for _, one := range suspects {
		for _, start := range s.starts() {
			with := drive
			with.Lead = one.lead
			b := belief{suspect: one, track: trackOf(d, one.of, start.X, with, s.celsius, s.air)}
			b.weight = math.Log(one.prior*start.Weight) + s.likelihood(b.track)
			best = max(best, b.weight)
			out = append(out, b)
		}
	}
	sum := 0.0
	for i := range out {
		out[i].weight = math.Exp(out[i].weight - best)
		sum += out[i].weight
	}
	for i := range out {
		out[i].weight /= sum
	}
	return out
}

// starts are the charges before the log that are tried: the likely one, and one to either
// side, each as likely as what it stands for.
func (s *situation) starts() []Weighed {
	c := s.charge
	if c.Low == c.High {
		return []Weighed{{c.Percent, 1}}
	}
	return []Weighed{{c.Percent + (c.Low-c.Percent)*share, 0.25}, {c.Percent, 0.5}, {c.Percent + (c.High-c.Percent)*share, 0.25}}
}

// likelihood is how well a track explains the log, as a logarithm. A point counts less
// where others stand close to it: they share their errors.
func (s *situation) likelihood(t track) float64 {
	total, before := 0.0, -1.0
	for i := range s.Log {
		minutes, _ := s.Log[i].Number(reading.Minutes)
		amps, _ := s.Log[i].Number(reading.Amps)
		hours := minutes / minutesPerHour
		at := t.at(hours)
		volts := (float64(s.Log[i].Volts()) - float64(at.Volts)) / logVolts
		sigma := math.Hypot(logAmpsLeast, logAmpsShare*math.Max(amps, float64(at.Amps)))
		off := (amps - float64(at.Amps)) / sigma
		own := math.Log((1-outlier)*math.Exp(-(volts*volts+off*off)/2) + outlier*math.Exp(-outlierFar))
		apart := 1.0
		if before >= 0 {
			apart = math.Min(1, (hours-before)/grid)
		}
		total += own * apart
		before = hours
	}
	return total
}

// outlierFar is how unlikely a point is that no belief explains, as a logarithm. Value
// from memory.
const outlierFar = 8.0

// at is a track at some hours; behind its end as it was then.
func (t track) at(hours float64) twin.ChargePoint {
	i := int(hours / grid)
	if i >= len(t)-1 {
		return t[len(t)-1]
	}
	part := hours/grid - float64(i)
	a, b := t[i], t[i+1]
	mix := func(x, y float64) float64 { return x + part*(y-x) }
	return twin.ChargePoint{
		Hours: hours, Volts: quantity.Volts(mix(float64(a.Volts), float64(b.Volts))), Amps: quantity.Amperes(mix(float64(a.Amps), float64(b.Amps))),
		Percent: mix(a.Percent, b.Percent), Celsius: b.Celsius, AhIn: mix(a.AhIn, b.AhIn),
	}
}

// ahIn is what went in by the log: the last of what the charger counted, else the current
// over the time, from the first check on as it was there.
func (s *situation) ahIn() Estimate {
	ah, at, before := 0.0, 0.0, math.NaN()
	spread := clampShare
	for i := range s.Log {
		minutes, _ := s.Log[i].Number(reading.Minutes)
		amps, _ := s.Log[i].Number(reading.Amps)
		if math.IsNaN(before) {
			before = amps
		}
		ah += (amps + before) / 2 * (minutes - at) / minutesPerHour
		if counted, said := s.Log[i].Number(reading.AhIn); said {
			ah, spread = counted, countedShare
		}
		at, before = minutes, amps
	}
	return Estimate{ah, ah * (1 - spread), ah * (1 + spread)}
}

// countedShare is what a charger's own count is off by. Value from memory.
const countedShare = 0.05

// nowOf is what the beliefs come to at the end of the log.
func nowOf(beliefs []belief, hours float64, ah Estimate) *Now {
	percent := make([]Weighed, len(beliefs))
	left := make([]Weighed, len(beliefs))
	for i, b := range beliefs {
		percent[i] = Weighed{math.Min(b.track.at(hours).Percent, 100), b.weight}
		end, ok := b.track.hours(chargedPercent)
		if !ok {
			end = MostHours
		}
		left[i] = Weighed{math.Max(0, end-hours), b.weight}
	}
	now := &Now{Percent: bandOf(percent, leastPercentBand), AhIn: &ah, HoursLeft: bandOf(left, 0)}
	now.Percent.High = math.Min(now.Percent.High, 100)
	now.HoursLeft.Low *= 1 - warmModel
	now.HoursLeft.High = math.Min(MostHours, now.HoursLeft.High*(1+warmModel))
	return now
}

// leastPercentBand is what a charge worked out from a log is off by at the least, percent.
// Value from memory.
const leastPercentBand = 4.0

// Weighed is a figure with how likely it is.
type Weighed struct{ X, Weight float64 }

// Outer is where four of five of what is likely lie; it puts the list, which is not empty, in
// order.
func Outer(list []Weighed) (low, high float64) {
	slices.SortFunc(list, func(a, b Weighed) int { return cmp.Compare(a.X, b.X) })
	sum := 0.0
	low, high = list[0].X, list[len(list)-1].X
	for _, w := range list {
		if sum < outerTenth && sum+w.Weight >= outerTenth {
			low = w.X
		}
		if sum < 1-outerTenth && sum+w.Weight >= 1-outerTenth {
			high = w.X
		}
		sum += w.Weight
	}
	return low, high
}

// bandOf is the mean of what is believed, and where four of five lie.
func bandOf(list []Weighed, least float64) *Estimate {
	low, high := Outer(list)
	mean := 0.0
	for _, w := range list {
		mean += w.X * w.Weight
	}
	return &Estimate{mean, math.Max(0, math.Min(low, mean-least)), math.Max(high, mean+least)}
}

// outerTenth lies outside a band on either side. Exact by definition.
const outerTenth = 0.1

// curveOf is the charge as it was planned up to the last check, and behind it as it goes on
// by what the log shows.
func curveOf(beliefs []belief, planned []Moment, last float64) []Moment {
	best := slices.MaxFunc(beliefs, func(a, b belief) int { return cmp.Compare(a.weight, b.weight) })
	out := []Moment{}
	for _, m := range planned {
		if m.Hours < last {
			out = append(out, m)
		}
	}
	for hours := last; hours <= MostHours; hours += grid {
		p := best.track.at(hours)
		m := momentOf(p, hours)
		for _, b := range beliefs {
			if b.weight >= unlikely {
				m.widen(b.track.at(hours))
			}
		}
		out = append(out, m.read())
		if p.Percent >= chargedPercent {
			break
		}
	}
	return out
}

// unlikely is the weight under which a belief is left out of a band. Value from memory.
const unlikely = 0.05

// anomaliesOf are the suspects that the log makes worth naming, the likeliest first.
func anomaliesOf(beliefs []belief) []Anomaly {
	weights := map[string]float64{}
	for _, b := range beliefs {
		if b.code != "" {
			weights[b.code] += b.weight
		}
	}
	out := []Anomaly{}
	for code, p := range weights {
		if p >= worthNaming {
			out = append(out, anomaly(code, p))
		}
	}
	slices.SortFunc(out, func(a, b Anomaly) int {
		return cmp.Or(cmp.Compare(b.Probability, a.Probability), cmp.Compare(a.Code, b.Code))
	})
	return out
}

// worthNaming is the probability from which an anomaly is named. Value from memory.
const worthNaming = 0.2

func anomaly(code string, p float64) Anomaly {
	return Anomaly{code, thousandth(p), wording.Text("anomaly."+code, nil), wording.Text("anomaly_do."+code, nil)}
}

// measured adds what was measured and needs no model: heat, too many volts, a current that
// runs away or does not fall, a lamp that the ampere-hours contradict. What is to be
// stopped for stands first.
func (s *situation) measured(p *Plan, c Charger) {
	now := s.Case
	now.Readings = append(slices.Clone(now.Readings), evidence.Untimed(s.Log...)...)
	ev := evidence.Examine(now)
	last := ev.Findings[len(ev.Findings)-1]
	first := []Anomaly{}
	if code, ok := stopCodes[last.Code()]; ok {
		first = append(first, anomaly(code, 1))
	}
	p.Stop = len(first) > 0 || slices.ContainsFunc(safety.Stops(ev), func(one safety.Stop) bool { return len(one.Places()) > 0 && one.Places()[0] >= len(s.Case.Readings) })
	if s.notFalling(c) {
		p.Anomalies = add(p.Anomalies, anomaly("not_falling", likelyNotFalling))
	}
	if likely := s.takesTooMuch(c); likely >= worthNaming {
		p.Anomalies = add(p.Anomalies, anomaly("takes_too_much", likely))
	}
	if s.Log[len(s.Log)-1].Is(reading.ChargerFull) {
		s.lamp(p)
	}
	p.Anomalies = append(first, slices.DeleteFunc(p.Anomalies, func(a Anomaly) bool {
		return slices.ContainsFunc(first, func(f Anomaly) bool { return f.Code == a.Code })
	})...)
}

// stopCodes are what a check finds that the charge is stopped for.
var stopCodes = map[evidence.Code]string{
	evidence.LogHot: "too_hot", evidence.LogRunaway: "runaway", evidence.LogHigh: "over_volts",
}

// add puts an anomaly in its place by probability, once.
func add(list []Anomaly, one Anomaly) []Anomaly {
	list = append(slices.DeleteFunc(list, func(a Anomaly) bool { return a.Code == one.Code }), one)
	slices.SortStableFunc(list, func(a, b Anomaly) int { return cmp.Compare(b.Probability, a.Probability) })
	return list
}

// A current counts as not falling at the end of a charge when it is still a share of the
// ampere-hours and stood still for so long at the charger's volts, with what was missing
// put in. Values from memory.
const (
	stillAmps        = 0.03
	stillHours       = 1.0
	stillShare       = 0.9
	likelyNotFalling = 0.8
)

// notFalling reports a current that stays, at the volts that the charger holds, when the
// battery has had what it lacked.
func (s *situation) notFalling(c Charger) bool {
	held := float64(s.set(c)) - 2*float64(meterVolts)
	last := s.Log[len(s.Log)-1]
	amps, _ := last.Number(reading.Amps)
	minutes, _ := last.Number(reading.Minutes)
	if float64(last.Volts()) < held || amps < stillAmps*s.capacity.Value || s.ahIn().Value < s.ampereHours().ToPutIn.Value {
		return false
	}
	for i := len(s.Log) - 2; i >= 0; i-- {
		before, _ := s.Log[i].Number(reading.Amps)
		then, _ := s.Log[i].Number(reading.Minutes)
		if float64(s.Log[i].Volts()) < held || amps < before*stillShare {
			return false
		}
		if (minutes-then)/minutesPerHour >= stillHours {
			return true
		}
	}
	return false
}

// tooMuch is how far more than what was missing may go in before it counts, as a share of
// the most that was missing. Value from memory.
const tooMuch = 0.1

// takesTooMuch is how likely it is that a battery does not hold what it is given: more went
// in than can have been missing, and its volts are not there yet.
func (s *situation) takesTooMuch(c Charger) float64 {
	put, most := s.ahIn(), s.ampereHours().ToPutIn.High*(1+tooMuch)
	if float64(s.Log[len(s.Log)-1].Volts()) >= float64(s.set(c))-2*float64(meterVolts) {
		return 0
	}
	return 1 / (1 + math.Exp(-2*(put.Value-most)/math.Max(most*clampShare, 0.1)))
}

// lampShare is the share of what was missing under which the lamp is contradicted.
// Handbook: full after a third of it is a tired battery or a poor connection; value from
// memory.
const lampShare = 0.8

// lamp holds the charger's own word against the ampere-hours put in.
func (s *situation) lamp(p *Plan) {
	put, lacks := s.ahIn(), s.ampereHours().ToPutIn
	short := (lacks.Low*lampShare - put.Value) / math.Max(lacks.Low*lampShare*clampShare, 0.1)
	if likely := 1 / (1 + math.Exp(-2*short)); likely >= worthNaming {
		p.Anomalies = add(p.Anomalies, anomaly("lamp_contradicted", likely))
	}
}
