package record

import (
	"fmt"
	"slices"
	"strings"

	"grapnel/core/diagnosis"
	"grapnel/core/drawing"
	"grapnel/core/evidence"
	"grapnel/core/problem"
	"grapnel/core/reading"
	"grapnel/core/safety"
	"grapnel/core/school"
	"grapnel/core/trail"
	"grapnel/core/wording"
)

// Records is everything that is written down about a job. Its page is worked out from
// them alone, on the server or on a device that the line to it is down for.
type Records struct {
	CaseRecords
	Customer *Customer    `json:"customer"`
	Answers  []StepAnswer `json:"answers"`
	Photos   []Photo      `json:"photos"`
	Sums     []KeptSum    `json:"sums"`
	// Event is the last event of the job that is counted in.
	Event int64 `json:"event"`
}

// Judge judges cases and draws what it finds.
type Judge interface {
	Assess(c evidence.Case) diagnosis.Assessment
	Draw(c evidence.Case) diagnosis.Picture
}

// Page is everything the job screen shows.
func (r Records) Page(engine Judge, m Moment) JobPage {
	page := JobPage{Job: r.Job, Customer: r.Customer, Vehicle: r.Vehicle, Batteries: []BatteryOnJob{}, Sums: r.Sums, Photos: r.Photos, Event: r.Event, Replacements: append([]Replacement{}, r.Replacements...)}
	cautions := []school.Caution{}
	for _, c := range r.Cases(m) {
		a := engine.Assess(c.Case)
		stages := trail.Stages(c.Case, a, r.Job.Purpose, r.Job.State == JobClosed)
		situation := c.Situation(r.Job, r.Vehicle, a, r.Answers)
		page.Batteries = append(page.Batteries, BatteryOnJob{
			Fitted: c.Battery, LabelText: c.Label.Text(), MayOpen: c.Label.MayOpen(), Cells: c.Label.Cells(), Assessment: a, Picture: engine.Draw(c.Case), Trail: stages,
			Work: workOf(situation, stages, c), Scenes: drawing.Of(situation), Readings: c.Readings, Visits: max(0, c.Battery.Jobs-1),
		})
		cautions = append(cautions, a.Cautions...)
	}
	page.Cautions = cautionTexts(cautions)
	return page
}

// MostLine is the longest reading line taken, in bytes.
const MostLine = 500

// ParseLine understands a line of one or several readings.
func ParseLine(line string) ([]reading.Parsed, error) {
	if len(line) > MostLine {
		return nil, problem.List{problem.New("problem.text", "line", problem.Cut(line, 40), problem.Range(1, MostLine, "characters"))}
	}
	return reading.ParseAll(line)
}

// OnlyOne refuses several readings where one takes the place of another.
func OnlyOne(parsed []reading.Parsed, correcting bool) error {
	if correcting && len(parsed) > 1 {
		return problem.List{problem.New("problem.one_reading", "line", "", "")}
	}
	return nil
}

// Preview is what would hold if a line were kept.
type Preview struct {
	Understood []reading.Understood `json:"understood"`
	Assumed    []wording.Statement  `json:"assumed"`
	Canonical  string               `json:"canonical"`
	// Refusals are the stop rules that forbid what the line was taken in; the line is
	// not kept before they are lifted.
	Refusals []safety.Refusal `json:"refusals"`
	// Findings are those of the readings in the line.
	Findings   []evidence.Finding   `json:"findings"`
	Assessment diagnosis.Assessment `json:"assessment"`
	Picture    diagnosis.Picture    `json:"picture"`
	Trail      []trail.Stage        `json:"trail"`
	Stage      string               `json:"stage"`
	// Revision is that of the job it was made from.
	Revision int `json:"revision"`
}

// Wanted is what a preview is asked for: the line to keep, the reading it would
// replace, and readings to set aside. All but one of them may be empty.
type Wanted struct {
	Line     string
	Replaces ID
	Aside    []ID
}

// parse understands the line that is wanted; none where readings are set aside only.
func (w Wanted) parse() ([]reading.Parsed, error) {
	if strings.TrimSpace(w.Line) == "" && len(w.Aside) > 0 {
		return nil, nil
	}
	parsed, err := ParseLine(w.Line)
	if err != nil {
		return nil, err
	}
	return parsed, OnlyOne(parsed, !w.Replaces.IsZero())
}

// Preview judges the job as if a line had been kept, and readings had not been taken;
// nothing is written. The line may hold several readings.
func (r CaseRecords) Preview(engine Judge, m Moment, batteryID ID, want Wanted) (Preview, error) {
	parsed, err := want.parse()
	if err != nil {
		return Preview{}, err
	}
	c, err := r.Case(m, batteryID)
	if err != nil {
		return Preview{}, err
	}
	p, err := c.preview(engine, m, parsed, want)
	p.Revision = r.Job.Revision
	return p, err
}

func (c BatteryCase) preview(engine Judge, m Moment, parsed []reading.Parsed, want Wanted) (Preview, error) {
	p := Preview{
		Understood: []reading.Understood{},
		Assumed:    []wording.Statement{},
		Findings:   []evidence.Finding{},
		Refusals:   []safety.Refusal{},
	}
	var canonical []string
	for _, one := range parsed {
		if pr, bad := evidence.CheckAgainst(c.Label, one.Reading); bad {
			return Preview{}, problem.List{pr}
		}
		p.Understood = append(p.Understood, reading.Echo(one)...)
		canonical = append(canonical, reading.Print(one.Reading))
		p.Stage = trail.StageOf(one.Reading.Kind)
	}
	next, at, err := c.with(parsed, want, m)
	if err != nil {
		return Preview{}, err
	}
	p.Canonical = strings.Join(canonical, "; ")
	ev := evidence.Examine(next)
	p.Assessment, p.Picture = engine.Assess(next), engine.Draw(next)
	p.Trail = trail.Stages(next, p.Assessment, c.Purpose, false)
	for i := range parsed {
		p.Assumed = append(p.Assumed, ev.Assumed(at+i)...)
		p.Findings = append(p.Findings, p.Assessment.Findings[at+i])
		p.refuse(c.Case, next.Readings[at:at+i], next.Readings[at+i])
	}
	return p, nil
}

// refuse notes the stop rules that forbid a reading: by the case as it is kept, and by
// what stands before it in its line.
func (p *Preview) refuse(kept evidence.Case, before []evidence.Taken, one evidence.Taken) {
	work := safety.WorkOf(one.Reading)
	if work == safety.None {
		return
	}
	kept.Readings = append(kept.Readings[:len(kept.Readings):len(kept.Readings)], before...)
	for _, refusal := range safety.Permits(safety.StateOf(evidence.Examine(kept)), safety.Act{Work: work, At: one.At}).Refusals {
		if !slices.ContainsFunc(p.Refusals, func(r safety.Refusal) bool { return r.Caution == refusal.Caution }) {
			p.Refusals = append(p.Refusals, refusal)
		}
	}
}

// with is the case with new readings in it, in the place of the one they replace
// or at the end, and without those set aside. It tells where the new ones stand.
func (c BatteryCase) with(parsed []reading.Parsed, want Wanted, m Moment) (next evidence.Case, at int, err error) {
	next = c.Case
	next.Readings = make([]evidence.Taken, 0, len(c.Case.Readings)+len(parsed))
	at = -1
	fresh, err := typedNow(parsed, m)
	if err != nil {
		return next, at, err
	}
	for _, t := range c.Case.Readings {
		switch {
		case slices.ContainsFunc(want.Aside, func(id ID) bool { return id.Ref() == t.ID }):
		case !want.Replaces.IsZero() && want.Replaces.Ref() == t.ID:
			at = len(next.Readings)
			next.Readings = append(next.Readings, fresh...)
		default:
			next.Readings = append(next.Readings, t)
		}
	}
	if at < 0 {
		at = len(next.Readings)
		next.Readings = append(next.Readings, fresh...)
	}
	return next, at, nil
}

// typedNow are the readings of a line that is being typed. A time of their own that
// cannot be is refused; any other they get when they are kept.
func typedNow(parsed []reading.Parsed, m Moment) ([]evidence.Taken, error) {
	out := make([]evidence.Taken, len(parsed))
	for i, one := range parsed {
		at, problems := evidence.TakenAt(one.Reading.At, m.Now, m.Now, m.Zone)
		if len(problems) > 0 {
			return nil, problems
		}
		out[i] = evidence.Taken{ID: wording.Ref(fmt.Sprintf("typed:%d", i)), At: at, Reading: one.Reading}
	}
	return out, nil
}
