package shop

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"sort"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"golang.org/x/sync/errgroup"
	"golang.org/x/sync/singleflight"

	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/problem"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/trail"
	"grapnel/core/wording"
)

// clearedBy are the clearings of a battery as its case counts them: each holds for
// the readings that had been taken by then.
func clearedBy(clearings []Clearing, batteryID ID, views []ReadingView) []evidence.Clearing {
	var out []evidence.Clearing
	for _, c := range clearings {
		if c.BatteryID != batteryID {
			continue
		}
		n := 0
		for _, v := range views {
			if v.Index >= 0 && v.ordinal <= c.Last {
				n = v.Index + 1
			}
		}
		out = append(out, evidence.Clearing{Stop: c.Stop, Readings: n})
	}
	return out
}

// present folds the rows of a battery, and those of the vehicle around it, into
// readings as they stand: each chain by the row nobody superseded, with the
// superseded lines kept beside it.
func present(rows []Reading, batteryID ID) ([]ReadingView, []reading.Reading) {
	chains := map[ID][]Reading{}
	var roots []ID
	for _, r := range rows {
		if r.BatteryID == nil || *r.BatteryID != batteryID && !r.Reading.OfVehicle() {
			continue
		}
		if _, seen := chains[r.RootID]; !seen {
			roots = append(roots, r.RootID)
		}
		chains[r.RootID] = append(chains[r.RootID], r)
	}
	views, readings := []ReadingView{}, []reading.Reading{}
	for _, root := range roots {
		v, leaf := viewOf(chains[root])
		if v.State != ActMistaken {
			v.Index = len(readings)
			readings = append(readings, leaf.Reading)
		}
		views = append(views, v)
	}
	return views, readings
}

// viewOf shows a chain of rows as one reading.
func viewOf(chain []Reading) (ReadingView, Reading) {
	superseded := map[ID]bool{}
	for _, r := range chain {
		if r.SupersedesID != nil {
			superseded[*r.SupersedesID] = true
		}
	}
	sort.SliceStable(chain, func(i, j int) bool { return chain[i].ReceivedAt.Before(chain[j].ReceivedAt) })
	var leaf Reading
	before := []Superseded{}
	reason := ""
	for _, r := range chain {
		if !superseded[r.ID] {
			leaf, reason = r, r.Reason
			continue
		}
		before = append(before, Superseded{Typed: r.Typed, Reason: r.Reason, At: r.ReceivedAt, By: r.PersonName})
	}
	return ReadingView{
		ID: leaf.ID, Root: leaf.RootID, Index: -1, BatteryID: *leaf.BatteryID, JobID: leaf.JobID, Kind: string(leaf.Reading.Kind),
		Typed: leaf.Typed, Canonical: reading.Print(leaf.Reading), State: leaf.Act, Reason: reason, TakenAt: leaf.TakenAt,
		TakenZone: leaf.TakenZone, By: leaf.PersonName, Waits: leaf.ReceivedAt.IsZero(), Before: before, ordinal: leaf.Ordinal,
	}, leaf
}

// pageCache keeps the pages of jobs as they were gathered last: with many screens
// open on a job, one change has all of them ask for the same page.
type pageCache struct {
	gathering singleflight.Group
	mu        sync.Mutex
	pages     map[ID]cachedPage
	serial    atomic.Int64
}

type cachedPage struct {
	page JobPage
	// event is the shop's latest event when the page was gathered.
	event int64
	at    time.Time
}

// A page is used again while nothing has happened in the shop, and not for long:
// what commits late under an earlier number would not be noticed.
const (
	pageLife  = 2 * time.Second
	mostPages = 128
)

// fresh is the kept page of a job, if it still holds.
func (c *pageCache) fresh(jobID ID, event int64) (JobPage, bool) {
	c.mu.Lock()
	defer c.mu.Unlock()
	kept, ok := c.pages[jobID]
	return kept.page, ok && kept.event == event && time.Since(kept.at) < pageLife
}

func (c *pageCache) keep(jobID ID, event int64, page JobPage) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.pages == nil || len(c.pages) >= mostPages {
		c.pages = map[ID]cachedPage{}
	}
	c.pages[jobID] = cachedPage{page, event, time.Now()}
}

// JobPage is everything the job screen shows. It is read only: several who ask
// share it.
func (s *Service) JobPage(ctx context.Context, who Person, jobID ID) (JobPage, error) {
	event, err := s.store.LastEvent(ctx, who.ShopID)
	if err != nil {
		return JobPage{}, err
	}
	if page, ok := s.pages.fresh(jobID, event); ok {
		return page, nil
	}
	key := fmt.Sprintf("%s %s %d", who.ShopID, jobID, event)
	page, err, _ := s.pages.gathering.Do(key, func() (any, error) {
		// Those who wait for it do not lose it when the first of them goes.
		page, err := s.gather(context.WithoutCancel(ctx), who, jobID)
		if err == nil {
			s.pages.keep(jobID, event, page)
		}
		return page, err
	})
	if err != nil {
		return JobPage{}, err
	}
	return page.(JobPage), nil
}

// gather reads and judges everything the job screen shows.
func (s *Service) gather(ctx context.Context, who Person, jobID ID) (JobPage, error) {
	j, err := s.store.Job(ctx, who.ShopID, jobID)
	if err != nil {
		return JobPage{}, err
	}
	var r Records
	// What stands beside the batteries is read while they are.
	beside, besideCtx := errgroup.WithContext(ctx)
	beside.Go(func() (err error) {
		r.Sums, err = sumsOf(besideCtx, s.store, who.ShopID, jobID)
		return err
	})
	beside.Go(func() (err error) {
		r.Answers, err = s.store.AnswersOfJob(besideCtx, who.ShopID, jobID)
		return err
	})
	beside.Go(func() (err error) {
		r.Photos, err = s.store.PhotosOfJob(besideCtx, who.ShopID, jobID)
		return err
	})
	if j.CustomerID != nil {
		beside.Go(func() error {
			c, err := s.store.Customer(besideCtx, who.ShopID, *j.CustomerID)
			r.Customer = &c
			return wrap(err, "customer")
		})
	}
	of, err := recordsOf(ctx, s.store, who.ShopID, j)
	if err := errors.Join(err, beside.Wait()); err != nil {
		return JobPage{}, err
	}
	r.CaseRecords = of
	page := r.Page(s.engine)
	page.RulesHash, page.serial = s.rules, s.pages.serial.Add(1)
	page.Records, err = json.Marshal(r)
	return page, err
}

func cautionTexts(list []school.Caution) []trail.CautionText {
	var once []school.Caution
	for _, c := range list {
		if !slices.Contains(once, c) {
			once = append(once, c)
		}
	}
	return trail.InWords(once)
}

// labelText is the label in one line: Flooded 12 V, 650 A SAE, 65 Ah.
func labelText(b Battery) string {
	var u quantity.Units
	l := b.Label
	chemistry := wording.Word(string(l.Chemistry))
	parts := []string{strings.ToUpper(chemistry[:1]) + chemistry[1:] + " " + u.Shortest(float64(l.NominalV)) + "\u00a0V"}
	if l.Rating != nil {
		parts = append(parts, u.Amperes(l.Rating.Value)+" "+string(l.Rating.Standard))
	}
	if l.CapacityAh != nil {
		parts = append(parts, u.AmpereHours(*l.CapacityAh))
	}
	return strings.Join(parts, ", ")
}

// stageOf is the stage a kind of reading belongs to.
var stageOf = map[reading.Kind]string{
	reading.OpenCircuit: trail.StageCharge, reading.Gravity: trail.StageCharge, reading.Eye: trail.StageLook,
	reading.Look: trail.StageLook, reading.Level: trail.StageLook, reading.CaseLeak: trail.StageLook,
	reading.Load: trail.StageCrank, reading.Conductance: trail.StageCrank, reading.Reserve: trail.StageCrank,
	reading.ChargeLog: trail.StageOnShelf, reading.History: trail.StageArrive,
	reading.Crank: trail.StageVehicle, reading.Charging: trail.StageVehicle, reading.Ripple: trail.StageVehicle,
	reading.StarterDraw: trail.StageVehicle, reading.Drop: trail.StageVehicle, reading.Drain: trail.StageVehicle,
	reading.DCDC: trail.StageVehicle, reading.Jump: trail.StageVehicle,
}

// Wanted is what a preview is asked for: the line to keep, the reading it would
// replace, and readings to set aside. All but one of them may be empty.
type Wanted struct {
	Line     string
	Replaces ID
	Aside    []ID
}

// Preview judges the job as if a line had been kept, and readings had not been
// taken; nothing is written. The line may hold several readings.
func (s *Service) Preview(ctx context.Context, who Person, jobID, batteryID ID, want Wanted) (Preview, error) {
	parsed, err := want.parse()
	if err != nil {
		return Preview{}, err
	}
	r, err := s.recordsOf(ctx, who, jobID)
	if err != nil {
		return Preview{}, err
	}
	return r.preview(s.engine, batteryID, parsed, want)
}

// parse understands the line that is wanted; none where readings are set aside only.
func (w Wanted) parse() ([]reading.Parsed, error) {
	if strings.TrimSpace(w.Line) == "" && len(w.Aside) > 0 {
		return nil, nil
	}
	parsed, err := parse(w.Line)
	if err != nil {
		return nil, err
	}
	return parsed, onlyOne(parsed, !w.Replaces.IsZero())
}

// Account answers for the verdict on one battery of a job: what would turn it,
// where the schools disagree, and what the customer is told.
func (s *Service) Account(ctx context.Context, who Person, jobID, batteryID ID) (diagnosis.Account, error) {
	r, err := s.recordsOf(ctx, who, jobID)
	if err != nil {
		return diagnosis.Account{}, err
	}
	return r.Account(s.engine, batteryID)
}

func (c jobCase) preview(engine *diagnosis.Engine, parsed []reading.Parsed, want Wanted) (Preview, error) {
	p := Preview{Understood: []reading.Understood{}, Assumed: []wording.Statement{}, Findings: []evidence.Finding{}}
	var canonical []string
	for _, one := range parsed {
		if pr, bad := evidence.CheckAgainst(c.Label, one.Reading); bad {
			return Preview{}, problem.List{pr}
		}
		p.Understood = append(p.Understood, reading.Echo(one)...)
		canonical = append(canonical, reading.Print(one.Reading))
		p.Stage = stageOf[one.Reading.Kind]
	}
	next, at := c.with(parsed, want)
	p.Canonical = strings.Join(canonical, "; ")
	ev := evidence.Examine(next)
	p.Assessment, p.Picture = engine.Assess(next), engine.Draw(next)
	p.Trail = trail.Stages(next, p.Assessment, c.purpose, false)
	for i := range parsed {
		p.Assumed = append(p.Assumed, ev.Assumed(at+i)...)
		p.Findings = append(p.Findings, p.Assessment.Findings[at+i])
	}
	return p, nil
}

// with is the case with new readings in it, in the place of the one they replace
// or at the end, and without those set aside. It tells where the new ones stand.
func (c jobCase) with(parsed []reading.Parsed, want Wanted) (next evidence.Case, at int) {
	next = c.Case
	next.Readings = make([]reading.Reading, 0, len(c.Readings)+len(parsed))
	at = -1
	for _, v := range c.readings {
		switch {
		case v.Index < 0 || slices.Contains(want.Aside, v.ID):
		case v.ID == want.Replaces:
			at = len(next.Readings)
			next.Readings = append(next.Readings, readingsOf(parsed)...)
		default:
			next.Readings = append(next.Readings, c.Readings[v.Index])
		}
	}
	if at < 0 {
		at = len(next.Readings)
		next.Readings = append(next.Readings, readingsOf(parsed)...)
	}
	return next, at
}

func readingsOf(parsed []reading.Parsed) []reading.Reading {
	out := make([]reading.Reading, len(parsed))
	for i, one := range parsed {
		out[i] = one.Reading
	}
	return out
}

// onlyOne refuses several readings where one takes the place of another.
func onlyOne(parsed []reading.Parsed, correcting bool) error {
	if correcting && len(parsed) > 1 {
		return problem.List{problem.New("problem.one_reading", "line", "", "")}
	}
	return nil
}

// BatteryPage gathers a battery's life: its readings by visit, latest first.
func (s *Service) BatteryPage(ctx context.Context, who Person, batteryID ID) (BatteryPage, error) {
	b, err := s.store.Battery(ctx, who.ShopID, batteryID)
	if err != nil {
		return BatteryPage{}, err
	}
	seats, err := s.store.Seats(ctx, who.ShopID, batteryID)
	if err != nil {
		return BatteryPage{}, err
	}
	verdicts, err := s.store.VerdictsOfBattery(ctx, who.ShopID, batteryID)
	if err != nil {
		return BatteryPage{}, err
	}
	rows, err := s.store.ReadingsOfBattery(ctx, who.ShopID, batteryID)
	if err != nil {
		return BatteryPage{}, err
	}
	sort.SliceStable(rows, func(i, j int) bool { return rows[i].Ordinal < rows[j].Ordinal })
	page := BatteryPage{Battery: b, LabelText: labelText(b), Seats: seats, Visits: []Visit{}}
	for _, v := range verdicts {
		visit := Visit{JobID: v.JobID, OpenedAt: v.OpenedAt, State: v.State, Action: v.Body.Verdict.Action, Confidence: v.Body.Verdict.Confidence, RulesHash: v.RulesHash, Findings: v.Body.Findings}
		visit.Readings, _ = present(ofJob(rows, v.JobID), batteryID)
		page.Visits = append(page.Visits, visit)
	}
	return page, nil
}

func ofJob(rows []Reading, jobID ID) []Reading {
	var out []Reading
	for _, r := range rows {
		if r.JobID == jobID {
			out = append(out, r)
		}
	}
	return out
}
