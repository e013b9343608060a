package diagnosis

import (
	"slices"

	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/safety"
	"grapnel/core/school"
	"grapnel/core/twin"
	"grapnel/core/wording"
)

// facts are what the rules ask of a case, each found once.
type facts struct {
	ev evidence.Evidence
	// suspected are causes that the look suggests and all readings bear out.
	suspected []string
	// turnsBadly says that all readings bear out a starter that drags or a bad
	// joint.
	turnsBadly bool
	// rather says that the battery is rather bad than sound, by all readings.
	rather bool
	// reserveShort is a reserve check that ended far below the volts of the least
	// capacity a battery is kept with, -1 for none.
	reserveShort int
	// labelDoubted says that the label's rating does not fit what the battery does.
	labelDoubted bool
	// design is the model of the label; nil where the chemistry is not judged.
	design *twin.Design
	// stops are the stop rules that hold.
	stops []safety.Stop
	// tests of the last epoch in which any load or conductance test was valid.
	loadPass, loadFail, condPass, condWeak, condFail []int
	// apart is the latest gravity reading that found a bad cell of a charged
	// battery; reserveFail the latest reserve check that found capacity gone; -1
	// for none.
	apart, reserveFail int
	// reservePass is the latest reserve check that was passed; condemned the latest of two
	// halves one of which stayed down after a charge, or of a link found open on the
	// charger; -1 for none.
	reservePass, condemned int
	// standing are the findings that stand: of several of the same place and
	// manner the latest.
	standing []evidence.Finding
	// beyond are drops and leakage beyond their limit that still stand.
	beyond []int
	// unproven are failed tests that charging could make valid, in the last epoch.
	unproven []int
	// invalid are tests of the last epoch that prove nothing for another reason.
	invalid []int
	// deadAfterCharge is a voltage under 12.0 V after a full charge, -1 for none.
	deadAfterCharge int
	// drawnSince is the same voltage where something may have drawn on it since, -1 for none.
	drawnSince int
	// missingCell is a rested voltage that looks like one cell gone, -1 for none.
	missingCell int
	// arrivedLow is the first reading that found the battery under 75 %, -1 for none.
	arrivedLow int
	// looks are findings of the look with a cause they suggest.
	looks []int
	// spoilt are dirty or loose joints of the last epoch.
	spoilt []int
	// lastAfterCharge says that the last epoch follows a full charge.
	lastAfterCharge bool
}

func gather(ev evidence.Evidence) *facts {
	f := &facts{ev: ev, reserveShort: -1, deadAfterCharge: -1, drawnSince: -1, missingCell: -1, arrivedLow: -1, apart: -1, reserveFail: -1, reservePass: -1, condemned: -1}
	last := ev.Last()
	f.lastAfterCharge, f.spoilt = last.AfterCharge, last.Spoilt
	f.decisiveTests()
	for i := last.First; i < last.End; i++ {
		if finding := ev.Findings[i]; finding.FailProvesNothing() {
			f.unproven = append(f.unproven, i)
		} else if finding.Outcome != evidence.None && !finding.Valid {
			f.invalid = append(f.invalid, i)
		}
	}
	f.stand()
	f.voltages()
	f.seen()
	f.stops = safety.Stops(ev)
	return f
}

// decisiveTests takes the tests of the last epoch that has a valid one: a full
// charge in between makes the later tests the better ones.
func (f *facts) decisiveTests() {
	for n := len(f.ev.Epochs) - 1; n >= 0; n-- {
		e := f.ev.Epochs[n]
		for i := e.First; i < e.End; i++ {
			f.sort(i, f.ev.Findings[i])
		}
		if len(f.loadPass)+len(f.loadFail)+len(f.condPass)+len(f.condWeak)+len(f.condFail) > 0 {
			return
		}
	}
}

func (f *facts) sort(i int, finding evidence.Finding) {
	if !finding.Valid {
		return
	}
	if finding.Kind != reading.Load && finding.Kind != reading.Conductance {
		return
	}
	load := finding.Kind == reading.Load
	switch {
	case load && finding.Outcome == evidence.Pass:
		f.loadPass = append(f.loadPass, i)
	case load && finding.Outcome == evidence.Fail:
		f.loadFail = append(f.loadFail, i)
	case finding.Outcome == evidence.Pass:
		f.condPass = append(f.condPass, i)
	case finding.Outcome == evidence.Weak:
		f.condWeak = append(f.condWeak, i)
	case finding.Outcome == evidence.Fail:
		f.condFail = append(f.condFail, i)
	}
}

// voltages looks for what volts alone tell: dead after a charge, one cell
// missing, low at arrival.
func (f *facts) voltages() {
	l := f.ev.Case.Label
	for _, e := range f.ev.Epochs {
		if f.arrivedLow < 0 && e.Low() && !e.Drawn {
			f.arrivedLow = lowReading(e)
		}
		if e.OpenCircuit == nil {
			continue
		}
		if low, high := l.MissingCell(); *e.OpenCircuit >= low && *e.OpenCircuit <= high {
			f.missingCell = e.OpenCircuitReading
		}
	}
	f.deadAfterCharge = f.deadReading(f.ev.Last())
}

// beyondFindings are those of a joint or of leakage beyond its limit.
var beyondFindings = []evidence.Code{evidence.DropHigh, evidence.DropHighOhms, evidence.CaseDirty, evidence.CaseFilthy}

// sameThing tells readings of one place and manner apart from others: a later
// one takes the place of an earlier.
type sameThing struct {
	kind                                 reading.Kind
	where, fuse, speed, loads, condition string
}

// stand keeps the findings that still stand, in the order taken.
func (f *facts) stand() {
	latest := map[sameThing]int{}
	for i := range f.ev.Case.Readings {
		latest[placeOf(&f.ev.Case.Readings[i].Reading)] = i
	}
	for i := range f.ev.Case.Readings {
		r := &f.ev.Case.Readings[i].Reading
		if r.Kind != reading.History && r.Kind != reading.ChargeLog && latest[placeOf(r)] != i {
			continue
		}
		finding := f.ev.Findings[i]
		f.standing = append(f.standing, finding)
		if slices.Contains(beyondFindings, finding.Code()) {
			f.beyond = append(f.beyond, i)
		}
		switch finding.Code() {
		case evidence.GravityApart, evidence.GravityApartDrawn:
			f.apart = i
		case evidence.ReserveFail:
			f.reserveFail = i
		case evidence.ReservePass, evidence.ReserveGood:
			f.reservePass = i
		case evidence.HalvesDead, evidence.LogOpen:
			f.condemned = i
		}
	}
}

func placeOf(r *reading.Reading) sameThing {
	return sameThing{
		r.Kind,
		r.Choice(reading.Where) + r.Choice(reading.Finding),
		r.Fuse,
		r.Choice(reading.Speed),
		r.Choice(reading.Loads),
		r.Choice(reading.Condition),
	}
}

// deadReading finds a voltage under 12.0 V after a full charge. An unrested one
// counts as well: rest only lowers it.
func (f *facts) deadReading(e evidence.Epoch) int {
	if !e.AfterCharge || e.Unproven {
		return -1
	}
	if e.Contradiction.Unsettled() {
		return -1
	}
	if e.OpenCircuit != nil {
		if f.ev.Case.Label.PerTwelve(*e.OpenCircuit) < school.DeadVolts && f.apart < 0 {
			if e.DrawnSince {
				f.drawnSince = e.OpenCircuitReading
				return -1
			}
			return e.OpenCircuitReading
		}
		return -1
	}
	for i := e.First; i < e.End; i++ {
		r := f.ev.Case.Readings[i]
		if r.Kind == reading.OpenCircuit && f.ev.Case.Label.PerTwelve(r.Volts()) < school.DeadVolts {
			return i
		}
	}
	return -1
}

func lowReading(e evidence.Epoch) int {
	if e.Charge != nil {
		return e.Charge.Readings[0]
	}
	return e.AtMostReading
}

// seen takes what the look found.
func (f *facts) seen() {
	for i := range f.ev.Case.Readings {
		r := &f.ev.Case.Readings[i].Reading
		if r.Kind == reading.Look && school.LookRuleFor(r.Choice(reading.Finding)).Suggests != "" {
			f.looks = append(f.looks, i)
		}
	}
}

// say makes a statement about the readings at some places of the case.
func (f *facts) say(code string, values wording.Values, places ...int) wording.Statement {
	return wording.Say(code, values, f.ev.Case.Refs(places...)...)
}

// passed reports a valid pass by load or conductance that no valid test
// contradicts, or one that outweighs what does once both methods were repeated.
func (f *facts) passed() bool {
	if f.apart >= 0 || f.reserveFail >= 0 || f.reserveShort >= 0 {
		return false
	}
	passes := len(f.loadPass) + len(f.condPass)
	if f.ev.Case.DeepCycle() && f.reservePass >= 0 {
		passes++
	}
	if passes == 0 && (len(f.condWeak) == 0 || !f.repeated()) {
		return false
	}
	return len(f.loadFail)+len(f.condFail) == 0 || f.repeated() && !f.rather
}

// fails are the valid failed tests, loads first.
func (f *facts) fails() []int { return append(append([]int{}, f.loadFail...), f.condFail...) }

// disagreement reports valid tests that contradict each other and have not been
// settled by repeating both.
func (f *facts) disagreement() bool { return f.contradicted() && !f.repeated() }

func (f *facts) contradicted() bool {
	good := len(f.loadPass) + len(f.condPass)
	bad := len(f.loadFail) + len(f.condFail)
	return good > 0 && bad > 0
}

// repeated reports that tests of a charged battery were repeated: what still
// contradicts then is settled by the weight of all readings.
func (f *facts) repeated() bool {
	return len(f.loadPass)+len(f.loadFail)+len(f.condPass)+len(f.condFail)+len(f.condWeak) >= repeatedTests
}

// repeatedTests is both methods and one of them again. Common practice, no
// source.
const repeatedTests = 3

// doubtful reports valid fails that all readings together do not bear out: with the odds
// against it nothing is replaced.
func (f *facts) doubtful() bool {
	return len(f.fails()) > 0 && !f.rather && !f.contradicted()
}

// complaint reports whether the customer came with a fault.
func (f *facts) complaint() bool {
	for _, s := range f.ev.Case.Symptoms {
		if s != "preventive" {
			return true
		}
	}
	return false
}

// suggested lists the causes the look points to, apart from the battery's own
// condition.
func (f *facts) suggested() []string {
	var causes []string
	for _, i := range f.looks {
		r := &f.ev.Case.Readings[i].Reading
		rule := school.LookRuleFor(r.Choice(reading.Finding))
		if r.Choice(reading.Degree) == "light" && rule.Spoils {
			continue // to be cleaned, and no fault
		}
		if rule.Suggests != "damaged" && !slices.Contains(causes, rule.Suggests) {
			causes = append(causes, rule.Suggests)
		}
	}
	return causes
}

// shortReserve looks for a reserve check, from a full battery, whose volts at the
// end lie well below what the model expects of one with the least capacity.
func (f *facts) shortReserve() {
	for _, finding := range f.standing {
		i := finding.Index()
		r := &f.ev.Case.Readings[i].Reading
		if r.Kind != reading.Reserve || !finding.Valid || !f.ev.EpochOf(i).Charged() || !f.design.CapacityKnown {
			continue
		}
		if end, _ := r.Number(reading.EndVolts); f.ev.Case.Label.PerTwelve(quantity.Volts(end)) < f.leastEnd(i) {
			f.reserveShort = i
		}
	}
}

// leastEnd is the volts, six cells, below which a reserve check's end condemns:
// those of the least capacity, less half a sigma: the rest has to bear it out as well.
func (f *facts) leastEnd(i int) quantity.Volts {
	r := &f.ev.Case.Readings[i].Reading
	amps, _ := r.Number(reading.Amps)
	minutes, _ := r.Number(reading.Minutes)
	at, _, _ := f.ev.TemperatureAt(i)
	least := f.design.Loaded(soundCapacity[0].at, fullPercent, at, quantity.Amperes(amps), quantity.Seconds(minutes*60)).
		Cell(soundHealth[0].at)
	return quantity.Volts(sixCells*least - reserveVolts/2)
}

func unique(list []school.Caution) []school.Caution {
	var out []school.Caution
	for _, c := range list {
		if !slices.Contains(out, c) {
			out = append(out, c)
		}
	}
	return out
}

// cautions lists what has to be said in front of the work, stop rules first.
func cautions(f *facts) []school.Caution {
	var list []school.Caution
	for _, s := range f.stops {
		list = append(list, s.Caution)
	}
	c := f.ev.Case
	if c.Vehicle.Electric() {
		list = append(list, school.HighVoltage)
	}
	if c.Vehicle.Earth == "positive" {
		list = append(list, school.EarthSide)
	}
	if c.Vehicle.StartsAndStops() {
		list = append(list, school.Electronics)
	}
	if f.ev.School.Starter {
		list = append(list, school.VehicleMoves, school.CrankingLimit)
	}
	for _, r := range c.Readings {
		switch {
		case r.Choice(reading.Method) == "fixed":
			list = append(list, school.GlowingLoad)
		case r.Kind == reading.Eye && r.Choice(reading.Colour) == "clear" && c.Label.Opens():
			list = append(list, school.PlatesDry)
		}
	}
	if f.ev.Last().Low() {
		list = append(list, school.Ventilation, school.Spark)
	}
	if f.ev.Last().Dry >= 0 {
		list = append(list, school.PlatesDry)
	}
	for _, finding := range f.ev.Findings {
		list = append(list, kindCautions[finding.Kind]...)
		if finding.Code() == evidence.LogHigh {
			list = append(list, school.HighVolts)
		}
	}
	if len(f.beyond)+len(f.spoilt) > 0 {
		list = append(list, school.Soda)
	}
	return unique(append(list, school.Always()...))
}

// kindCautions belong to the work a reading is taken in.
var kindCautions = map[reading.Kind][]school.Caution{
	reading.ChargingSystem: {school.VehicleMoves, school.Exhaust},
	reading.Ripple:         {school.VehicleMoves, school.Exhaust},
	reading.Crank:          {school.VehicleMoves, school.CrankingLimit},
	reading.StarterDraw:    {school.VehicleMoves, school.CrankingLimit},
	reading.ChargeLog:      {school.Ventilation, school.Spark},
	reading.Jump:           {school.MixedVoltage, school.Spark, school.CrankingLimit, school.Surge},
}
