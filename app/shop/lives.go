package shop

import (
	"context"
	"slices"
	"time"

	"grapnel/app/record"
	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
)

// lives are batteries over their visits.
type lives struct{ *house }

// BatteryPage is one battery's life.
type BatteryPage struct {
	Battery       record.Battery        `json:"battery"`
	LabelText     string                `json:"label_text"`
	Installations []record.Installation `json:"installations"`
	// Replacements are those that it was fitted by, or another was fitted for it.
	Replacements []record.Replacement `json:"replacements"`
	Visits       []Visit              `json:"visits"`
	// Loose are readings that belong to no job.
	Loose []record.ReadingView `json:"loose"`
}

// Visit is one job of a battery with the verdict it ended on.
type Visit struct {
	JobID      ID                   `json:"job_id"`
	OpenedAt   time.Time            `json:"opened_at"`
	State      string               `json:"state"`
	Action     diagnosis.Action     `json:"action"`
	Confidence float64              `json:"confidence"`
	RulesHash  string               `json:"rules_hash"`
	Readings   []record.ReadingView `json:"readings"`
	// Findings are what the readings that count proved, by their IDs.
	Findings []evidence.Finding `json:"findings"`
}

// BatteryPage gathers a battery's life: its readings by visit, latest first. What each
// reading proved is found from the case of its own visit, with the vehicle's readings of
// that visit, so that no finding stands beside another's reading.
func (s lives) BatteryPage(ctx context.Context, who Person, batteryID ID) (BatteryPage, error) {
	b, err := s.store.Battery(ctx, who.ShopID, batteryID)
	if err != nil {
		return BatteryPage{}, err
	}
	page := BatteryPage{Battery: b, LabelText: b.Label.Text(), Visits: []Visit{}}
	if page.Replacements, err = s.store.ReplacementsOfBattery(ctx, who.ShopID, batteryID); err != nil {
		return BatteryPage{}, err
	}
	if page.Installations, err = s.store.InstallationsOf(ctx, who.ShopID, batteryID); err != nil {
		return BatteryPage{}, err
	}
	loose, err := s.store.LooseReadings(ctx, who.ShopID, batteryID)
	if err != nil {
		return BatteryPage{}, err
	}
	page.Loose, _ = record.Fold(loose, batteryID)
	page.Visits, err = s.visits(ctx, who, b)
	return page, err
}

func (s lives) visits(ctx context.Context, who Person, b record.Battery) ([]Visit, error) {
	m, err := s.moment(ctx, s.store, who.ShopID)
	if err != nil {
		return nil, err
	}
	jobs, err := s.store.JobsOfBattery(ctx, who.ShopID, b.ID)
	if err != nil || len(jobs) == 0 {
		return []Visit{}, err
	}
	verdicts, err := s.store.VerdictsOfBattery(ctx, who.ShopID, b.ID)
	if err != nil {
		return nil, err
	}
	ids := make([]ID, len(jobs))
	for i, j := range jobs {
		ids[i] = j.ID
	}
	rows, err := s.store.ReadingsOfJobs(ctx, who.ShopID, ids...)
	if err != nil {
		return nil, err
	}
	shared := record.CaseRecords{Batteries: []record.Fitted{{Battery: b}}}
	if shared.Limits, err = s.store.Limits(ctx, who.ShopID); err != nil {
		return nil, err
	}
	if shared.Instruments, err = s.store.Instruments(ctx, who.ShopID); err != nil {
		return nil, err
	}
	out := make([]Visit, 0, len(jobs))
	vehicles := map[ID]*record.Vehicle{}
	for _, j := range jobs {
		r := shared
		r.Job, r.Rows = j, ofJob(rows, j.ID)
		if j.VehicleID != nil && vehicles[*j.VehicleID] == nil {
			v, err := s.store.Vehicle(ctx, who.ShopID, *j.VehicleID)
			if err != nil {
				return nil, wrap(err, "vehicle")
			}
			vehicles[v.ID] = &v
		}
		if j.VehicleID != nil {
			r.Vehicle = vehicles[*j.VehicleID]
		}
		out = append(out, visitOf(r, m, verdicts))
	}
	return out, nil
}

// PastVerdict is what held of a battery on a job at a moment.
type PastVerdict struct {
	Revision  int               `json:"revision"`
	MadeAt    time.Time         `json:"made_at"`
	RulesHash string            `json:"rules_hash"`
	Verdict   diagnosis.Verdict `json:"verdict"`
}

// Verdicts lists what held of a battery on a job, the latest first.
func (s lives) Verdicts(ctx context.Context, who Person, jobID, batteryID ID) ([]PastVerdict, error) {
	list, err := s.store.VerdictHistory(ctx, who.ShopID, jobID, batteryID)
	if err == nil && len(list) == 0 {
		return nil, ErrNotFound
	}
	out := make([]PastVerdict, len(list))
	for i, v := range list {
		out[i] = PastVerdict{v.Revision, v.MadeAt, v.RulesHash, v.Body.Verdict}
	}
	return out, err
}

// ThinVerdicts makes verdicts that no longer hold small, until none is left to do.
func (s lives) ThinVerdicts(ctx context.Context) error {
	for more := true; more; {
		var err error
		if more, err = s.store.ThinVerdicts(ctx); err != nil {
			return err
		}
	}
	return nil
}

// visitOf is one visit of the one battery of the records.
func visitOf(r record.CaseRecords, m Moment, verdicts []record.Verdict) Visit {
	c := r.Cases(m)[0]
	v := Visit{
		JobID:    r.Job.ID,
		OpenedAt: r.Job.OpenedAt,
		State:    r.Job.State,
		Readings: c.Readings,
		Findings: evidence.Examine(c.Case).Findings,
	}
	if i := slices.IndexFunc(verdicts, func(one record.Verdict) bool { return one.JobID == r.Job.ID }); i >= 0 {
		v.Action, v.Confidence, v.RulesHash = verdicts[i].Body.Verdict.Action, verdicts[i].Body.Verdict.Confidence, verdicts[i].RulesHash
	}
	return v
}

func ofJob(rows []record.Reading, jobID ID) []record.Reading {
	var out []record.Reading
	for _, r := range rows {
		if same(r.JobID, &jobID) {
			out = append(out, r)
		}
	}
	return out
}
