package evidence

import (
	"math"
	"slices"
	"strings"

	"grapnel/core/accuracy"
	"grapnel/core/battery"
	"grapnel/core/circuit"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/wording"
)

// voltsSigma is one sigma of a voltage of this reading, in volts.
func voltsSigma(r *reading.Reading, v float64) float64 {
	return float64(accuracy.VoltsSigma(accuracy.Instrument(r.By), quantity.Volts(v)))
}

// crank: volts at the posts while the starter turns. It is no load test: nobody
// knows the current. On a jump it says nothing of this battery.
func (ev Evidence) crank(i int, r reading.Reading, e Epoch) Finding {
	v := r.Volts()
	if f, none := ev.turnsNothing(); none {
		return f
	}
	limit := ev.crankLeast(i, &r, e)
	sound := r.Choice(reading.Sound)
	values := wording.Values{"volts": v, "limit": quantity.Volts(limit.Value), "sound": sound}
	if r.Is(reading.OnJump) {
		return unproven(CrankOnJump, "crank_on_jump", values)
	}
	silent := sound == "silent" || sound == "click" || sound == "chatter"
	holds := float64(v) >= limit.Value-1e-9
	code := CrankOK
	if !ev.Case.Vehicle.HasComputer() {
		code = CrankOKOld
	}
	switch {
	case silent && ev.Case.Label.PerTwelve(v) >= school.NoCurrentVolts:
		code = CrankNothing
	case !holds && !e.Charged():
		code = CrankLowUncharged
	case !holds:
		code = CrankLow
	case sound == "slow" || sound == "uneven":
		code = CrankSlow
	}
	return proven(code, values).against(limit, limit.atLeast(float64(v), voltsSigma(&r, float64(v))))
}

// turnsNothing is what a reading of the starter is worth where the 12 V battery turns no
// engine, or where a hybrid does not say whether it does; false where it does.
func (ev Evidence) turnsNothing() (Finding, bool) {
	v := ev.Case.Vehicle
	switch {
	case v.Cranks12V != nil && !*v.Cranks12V, v.Kind == "electric" && !v.Cranks():
		return unproven(CrankNone, "starter_none", wording.Values{"vehicle": v.Kind}), true
	case v.Kind == "hybrid" && v.Cranks12V == nil:
		return unproven(CrankAsk, "crank_ask", nil), true
	}
	return Finding{}, false
}

// crankLeast is the least volts while cranking: what an engine computer wants or, in an
// engine without one, what turns it; in the cold it falls as the load test's limit does.
func (ev Evidence) crankLeast(i int, r *reading.Reading, e Epoch) *Limit {
	id := school.CrankLeast
	if !ev.Case.Vehicle.HasComputer() {
		id = school.CrankLeastOld
	}
	value, note := ev.Case.Own.Limit(id)
	at, _, source := e.temperatureFor(i, r)
	if source == "unknown" {
		return ev.scaled(id, value, note)
	}
	half, _ := school.Find(school.HalfCCA)
	return ev.scaled(id, value-float64(school.LeastWarm-half.Limit(at)), note).at(at)
}

// managed reports a vehicle that manages its charge: by the reading where it says so, else by what is known of the vehicle.
func (ev Evidence) managed(r *reading.Reading) bool {
	return r.Is(reading.Managed) || r.Choice(reading.Managed) == "" && ev.Case.Vehicle.Manages()
}

// Managed reports a charging reading of a vehicle that manages its charge.
func (ev Evidence) Managed(i int) bool { return ev.managed(&ev.Case.Readings[i].Reading) }

// atSpeed is what charges only with the engine at speed: a dynamo, or the stator of a small
// engine; empty for an alternator.
func (ev Evidence) atSpeed() (Code, bool) {
	switch kind := ev.Case.Vehicle.Kind; {
	case kind == "classic" || kind == "tractor" || ev.Case.Label.NominalV < 12:
		return ChargingDynamo, true
	case kind == "motorcycle" || kind == "offroad" || kind == "mower":
		return ChargingStator, true
	}
	return "", false
}

// settlesIdle reports a reading of a managed system that says something: with load on it or
// at speed. At idle it may rest.
func settlesIdle(r *reading.Reading) bool {
	return r.Choice(reading.Speed) != "idle" || r.Is(reading.Loads)
}

// charging: volts at the posts with the engine running. Low ones prove nothing
// just after a jump, with managed charging, or with a dynamo at idle.
func (ev Evidence) charging(i int, r reading.Reading, _ Epoch) Finding {
	v := float64(r.Volts())
	sigma := voltsSigma(&r, v)
	managed := ev.managed(&r)
	least, most, known := ev.limit(school.ChargingLeast), ev.chargingMost(&r, managed), r.Has(reading.AirC) || managed
	values := wording.Values{"volts": r.Volts(), "limit": quantity.Volts(least.Value), "most": quantity.Volts(most.Value)}
	warm := ev.limit(school.ChargingMost)
	if ev.Case.Label.Chemistry == battery.Gel {
		most, known = ev.limit(school.ChargingMostGel), true
	}
	amps, clamped := r.Number(reading.Amps)
	values["amps"] = quantity.Amperes(math.Abs(amps))
	atSpeed, wantsSpeed := ev.atSpeed()
	switch {
	case v > most.Value+1e-9:
		return proven(ChargingHigh, values).against(most, most.atMost(v, sigma))
	case v > warm.Value+1e-9 && !known:
		return unproven(ChargingHighAir, "charging_air", values).against(warm, warm.atMost(v, sigma))
	case v >= least.Value-1e-9:
		return proven(ChargingOK, values).against(least, least.atLeast(v, sigma))
	case clamped && amps >= ev.takesMuch():
		return unproven(ChargingTakes, "charging_takes", values).against(least, least.atLeast(v, sigma))
	case r.Is(reading.JustJumped):
		return unproven(ChargingJumped, "charging_jumped", values).against(least, least.atLeast(v, sigma))
	case wantsSpeed && r.Choice(reading.Speed) != "raised":
		return unproven(atSpeed, "charging_raise", values).against(least, least.atLeast(v, sigma))
	case clamped && amps <= -outOfIt && !managed:
		return proven(ChargingOut, values).against(least, least.atLeast(v, sigma))
	}
	if managed {
		least = ev.limit(school.ManagedLeast)
		values["limit"] = quantity.Volts(least.Value)
		if v >= least.Value-1e-9 || !settlesIdle(&r) {
			return unproven(ChargingManaged, "charging_managed", values).against(least, least.atLeast(v, sigma))
		}
	}
	return proven(ChargingLow, values).against(least, least.atLeast(v, sigma))
}

// takesMuch is the current into a battery from which low volts say that it is flat and
// takes all there is, amperes.
func (ev Evidence) takesMuch() float64 {
	if capacity, ok := ev.Case.Capacity(); ok {
		return takesShare * capacity.Value
	}
	return takesAmps
}

// A battery that takes a third of its ampere-hours is flat; of one whose size nobody said,
// this many amperes; and this many out of it while the engine runs are no error of a
// clamp. Values from memory.
const (
	takesShare = 0.33
	takesAmps  = 20
	outOfIt    = 3
)

// chargingMost is the highest charging volts: by the air where it is known, the
// cold's otherwise, and what a managed system may touch.
func (ev Evidence) chargingMost(r *reading.Reading, managed bool) *Limit {
	if managed {
		return ev.limit(school.ChargingMoment)
	}
	air, known := r.Number(reading.AirC)
	if !known {
		return ev.limit(school.ChargingMostCold)
	}
	value, note := ev.Case.Own.ChargingMostAt(quantity.Celsius(air))
	return ev.scaled(school.ChargingMost, value, note).at(quantity.Celsius(air))
}

func (ev Evidence) ripple(i int, r reading.Reading, _ Epoch) Finding {
	v, _ := r.Number(reading.VoltsAC)
	good, bad := ev.limit(school.RippleGood), ev.limit(school.RippleBad)
	sigma := float64(accuracy.RippleSigma(quantity.Volts(v)))
	values := wording.Values{"volts": v, "good": good.Value, "bad": bad.Value}
	switch {
	case v > bad.Value+1e-9:
		return proven(RippleBad, values).against(bad, bad.atMost(v, sigma))
	case v >= good.Value-1e-9:
		return proven(RippleSuspect, values).against(good, good.atMost(v, sigma))
	}
	return proven(RippleGood, values).against(good, good.atMost(v, sigma))
}

// starterDraw: current and volts while cranking, and what arrives at the
// starter's stud.
func (ev Evidence) starterDraw(i int, r reading.Reading, _ Epoch) Finding {
	car := ev.Case.Vehicle
	if f, none := ev.turnsNothing(); none {
		if f.Code() == CrankNone {
			return unproven(StarterNone, "starter_none", nil)
		}
		return f
	}
	amps, hasAmps := r.Number(reading.Amps)
	stud, hasStud := r.Number(reading.StudVolts)
	at, hasVolts := r.Number(reading.Volts)
	values := wording.Values{"amps": quantity.Amperes(amps), "stud": quantity.Volts(stud), "volts": quantity.Volts(at)}
	if hasStud && hasVolts {
		limit := ev.limit(school.PositiveMost)
		lost := at - stud
		values["lost"], values["limit"] = quantity.Volts(lost), quantity.Volts(limit.Value)
		if lost > limit.Value+1e-9 {
			return proven(StarterStudLow, values).against(limit, limit.atMost(lost, math.Sqrt2*voltsSigma(&r, at)))
		}
	}
	if hasStud && ev.triedInVain() && float64(ev.Case.Label.PerTwelve(quantity.Volts(stud))) >= float64(school.NoCurrentVolts)-studLess {
		return proven(StarterDead, values)
	}
	if !hasAmps {
		if hasStud {
			return proven(StarterStud, values)
		}
		return proven(StarterVolts, values)
	}
	most := ev.starterLimit(school.StarterMost(car.Engine, litres(car)))
	sigma := float64(accuracy.ClampSigma(quantity.Amperes(amps)))
	least := ev.starterLimit(school.StarterLeast)
	values["most"], values["least"] = quantity.Amperes(most.Value), quantity.Amperes(least.Value)
	switch {
	case amps > most.Value:
		return proven(StarterHigh, values).against(most, most.atMost(amps, sigma))
	case amps < least.Value && !smallEngine(car):
		return proven(StarterLow, values).against(least, least.atLeast(amps, sigma))
	}
	return proven(StarterOK, values).against(most, most.atMost(amps, sigma))
}

// studLess is how far under the volts of a starter that draws nothing its stud may lie while
// it is told to turn and does not. Value from memory.
const studLess = 2.0

// triedInVain reports a starter that was heard not to turn, in the latest cranking or, where
// none was taken, by what the customer says.
func (ev Evidence) triedInVain() bool {
	heard, silent := false, false
	for i := range ev.Case.Readings {
		r := &ev.Case.Readings[i].Reading
		if sound := r.Choice(reading.Sound); r.Kind == reading.Crank && sound != "" {
			heard, silent = true, sound == "silent" || sound == "click"
		}
	}
	if heard {
		return silent
	}
	return slices.Contains(ev.Case.Symptoms, "lights_no_crank") || slices.Contains(ev.Case.Symptoms, "single_click")
}

// starterLimit is a limit of starter current for the vehicle's own volts: the same power
// draws twice as much at 6 V.
func (ev Evidence) starterLimit(id school.LimitID) *Limit {
	l := ev.limit(id)
	l.Value = math.Round(l.Value * twelveVolts / float64(ev.Case.SystemVolts()))
	return l
}

const twelveVolts = 12

func litres(v Vehicle) float64 {
	if v.Litres == nil {
		return 0
	}
	return *v.Litres
}

// smallEngine reports an engine whose starter draws less than a car's.
func smallEngine(v Vehicle) bool {
	return v.Kind == "motorcycle" || v.Kind == "mower" || v.Kind == "offroad" || v.Kind == "hybrid"
}

// drop: volts across a joint or cable. A small current proves nothing where the
// drop is small too; a drop beyond its limit is one at any current.
func (ev Evidence) drop(i int, r reading.Reading, _ Epoch) Finding {
	v, where := float64(r.Volts()), r.Choice(reading.Where)
	limit := ev.limit(school.DropLimit(school.Earthed(where, ev.Case.Vehicle.Earth)))
	amps, known := r.Number(reading.Amps)
	least := float64(school.DropAmps)
	if strings.HasPrefix(where, "charge_") || r.Choice(reading.Condition) == "charging" {
		least = float64(school.DropAmpsCharging)
	}
	if smallEngine(ev.Case.Vehicle) {
		least = math.Min(least, float64(school.DropAmpsCharging))
	}
	values := wording.Values{
		"where": where,
		"volts": r.Volts(),
		"limit": quantity.Volts(limit.Value),
		"amps":  quantity.Amperes(amps),
		"least": quantity.Amperes(least),
	}
	high, ok := DropHigh, DropOK
	if known {
		resistance, watts := circuit.Resistance(quantity.Volts(v), quantity.Amperes(amps))
		values["ohms"], values["watts"] = resistance, watts
		high, ok = DropHighOhms, DropOKOhms
	}
	m := limit.atMost(v, float64(accuracy.DropSigma(quantity.Volts(v))))
	switch {
	case v > limit.Value+1e-9:
		return proven(high, values).against(limit, m)
	case known && amps < least:
		return unproven(DropSmallCurrent, "drop_current", values).against(limit, m)
	}
	return proven(ok, values).against(limit, m)
}

// DrainAmps is the current of a drain reading: its amperes, or the millivolts
// across its fuse. It reports false for a fuse whose resistance is not known.
func DrainAmps(r *reading.Reading) (amps quantity.Amperes, sigma quantity.Amperes, known bool) {
	if a, ok := r.Number(reading.Amps); ok {
		return quantity.Amperes(a), accuracy.DrainSigma(r.Choice(reading.Method), quantity.Amperes(a)), true
	}
	rating, _ := r.Number(reading.FuseRatingA)
	mv, _ := r.Number(reading.Millivolts)
	amps, known = circuit.FuseCurrent(rating, mv)
	if !known {
		return 0, 0, false
	}
	perMillivolt, _ := circuit.FuseCurrent(rating, 1)
	sigma = quantity.Amperes(math.Hypot(circuit.FuseSpread*float64(amps), accuracy.MillivoltsSigma*float64(perMillivolt)))
	return amps, sigma, true
}

// sleep is how long this vehicle is left before a drain counts; nothing for one without
// modules that have to go to sleep.
func (ev Evidence) sleep() quantity.Minutes {
	switch v := ev.Case.Vehicle; {
	case v.Kind == "electric":
		return school.SleepMinutesElectric
	case v.Plain():
		return 0
	}
	return school.SleepMinutes
}

// DrainMost is the most this vehicle may draw at rest. On one full of modules that is the
// trade's figure, on a van or truck more where its ampere-hours carry it; on the others
// what leaves enough to start after so many days, and never less than its kind draws.
func (ev Evidence) DrainMost() *Limit {
	v := ev.Case.Vehicle
	most := ev.limit(school.DrainMost)
	days, note := ev.Case.Own.Limit(school.DrainDays)
	capacity, known := ev.Case.Capacity()
	byDays := capacity.Value * (100 - battery.NoStartPercent) / 100 / (days * hoursPerDay)
	switch {
	case v.Plain():
		small := ev.limit(school.DrainMostSmall)
		if known && byDays > small.Value {
			small.Value, small.Note = math.Round(byDays*1000)/1000, note
		}
		return small
	case known && (v.Kind == "truck" || v.Kind == "van") && byDays > most.Value:
		most.Value, most.Note = math.Round(byDays*1000)/1000, note
	}
	return most
}

const hoursPerDay = 24

// drain: current of the sleeping car. A low one counts at once; a high one only
// when the car had been asleep.
func (ev Evidence) drain(i int, r reading.Reading, _ Epoch) Finding {
	amps, sigma, known := DrainAmps(&r)
	rating, _ := r.Number(reading.FuseRatingA)
	values := wording.Values{"amps": amps, "rating": rating, "sleep": ev.sleep(), "fuse": r.Fuse}
	if !known {
		return unproven(DrainFuseUnknown, "drain_fuse_unknown", values)
	}
	limit := ev.DrainMost()
	values["limit"] = quantity.Amperes(limit.Value)
	high, ok, unsaid := DrainHigh, DrainOK, DrainUnsaid
	if r.Fuse != "" || r.Has(reading.FuseRatingA) {
		high, ok, unsaid = DrainHighFuse, DrainOKFuse, DrainUnsaidFuse
	} else if ev.sleep() == 0 {
		high = DrainHighPlain
	}
	asleep, said := r.Number(reading.AsleepMin)
	values["asleep"] = quantity.Minutes(asleep)
	m := limit.atMost(float64(amps), float64(sigma))
	above := float64(amps) > limit.Value+1e-9
	switch {
	case above && !said && ev.sleep() > 0:
		return unproven(unsaid, "drain_asleep", values).against(limit, m)
	case above && quantity.Minutes(asleep) < ev.sleep():
		return unproven(DrainAwake, "drain_asleep", values).against(limit, m)
	case above:
		f := proven(high, values).against(limit, m)
		f.More = ev.daysStanding(i, amps)
		return f
	}
	return proven(ok, values).against(limit, m)
}

// daysStanding says how long the battery lasts with a drain.
func (ev Evidence) daysStanding(i int, amps quantity.Amperes) []wording.Statement {
	capacity, ok := ev.Case.Capacity()
	if !ok {
		return nil
	}
	l := ev.Case.Label
	self := battery.SelfDischarge(l.Plates(), battery.TemperatureUnknown)
	days, ever := battery.DaysStanding(capacity.Value, amps, self, 100, battery.NoStartPercent)
	if !ever {
		return nil
	}
	return []wording.Statement{wording.Say("more.days_standing", wording.Values{"days": math.Max(1, math.Round(days))})}
}

// caseLeak: a voltmeter from one post over the top.
func (ev Evidence) caseLeak(i int, r reading.Reading, _ Epoch) Finding {
	v := float64(r.Volts())
	limit, filthy := ev.limit(school.CaseLeakMost), ev.limit(school.CaseLeakFilthy)
	m := limit.atMost(v, voltsSigma(&r, v))
	values := wording.Values{"volts": r.Volts(), "limit": quantity.Volts(limit.Value)}
	switch {
	case v >= filthy.Value:
		return proven(CaseFilthy, values).against(limit, m)
	case v >= limit.Value-1e-9:
		return proven(CaseDirty, values).against(limit, m)
	}
	return proven(CaseClean, values).against(limit, m)
}

// dcdc: the 12 V side of a hybrid or electric car before and after it wakes.
func (ev Evidence) dcdc(i int, r reading.Reading, _ Epoch) Finding {
	awake, said := r.Number(reading.AwakeVolts)
	rest, _ := r.Number(reading.RestVolts)
	seconds, _ := r.Number(reading.Seconds)
	values := wording.Values{"volts": quantity.Volts(awake), "rest": quantity.Volts(rest), "seconds": quantity.Seconds(seconds)}
	if !said {
		return unproven(DCDCRestOnly, "dcdc_awake", values)
	}
	least, most := ev.limit(school.DCDCLeast), ev.limit(school.DCDCMost)
	values["limit"], values["most"] = quantity.Volts(least.Value), quantity.Volts(most.Value)
	sigma := voltsSigma(&r, awake)
	switch {
	case awake < least.Value-1e-9:
		return proven(DCDCLow, values).against(least, least.atLeast(awake, sigma))
	case awake > most.Value+1e-9:
		return proven(DCDCHigh, values).against(most, most.atMost(awake, sigma))
	case quantity.Seconds(seconds) > school.DCDCSeconds:
		return proven(DCDCSlow, values).against(least, least.atLeast(awake, sigma))
	}
	return proven(DCDCOK, values).against(least, least.atLeast(awake, sigma))
}

// jump: started on a jump, the starter is ruled out.
func (ev Evidence) jump(i int, r reading.Reading, _ Epoch) Finding {
	if r.Is(reading.Started) {
		return proven(JumpStarted, wording.Values{"low": float64(school.JumpDriveLow), "high": float64(school.JumpDriveHigh)})
	}
	return proven(JumpNo, nil)
}
