package record

import (
	"errors"
	"time"

	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/problem"
)

// ErrNotFound is returned for a thing the shop does not have.
var ErrNotFound = errors.New("not found")

// Moment is now, in the zone of the shop: what a case is looked at from. It is the
// caller's to know.
type Moment struct {
	Now  time.Time
	Zone *time.Location
}

// Judged is the moment a job is judged at: now, or when it was handed back.
func (m Moment) Judged(j Job) time.Time {
	if j.State == JobClosed && j.ClosedAt != nil {
		return j.ClosedAt.In(m.Zone)
	}
	return m.Now.In(m.Zone)
}

// CaseRecords is what is written down about a job that its batteries are judged by.
type CaseRecords struct {
	Job         Job          `json:"job"`
	Vehicle     *Vehicle     `json:"vehicle"`
	Batteries   []Fitted     `json:"batteries"`
	Rows        []Reading    `json:"rows"`
	Limits      []OwnLimit   `json:"limits"`
	Clearings   []Clearing   `json:"clearings"`
	Instruments []Instrument `json:"instruments"`
	// Replacements are the batteries of the job that others were fitted for.
	Replacements []Replacement `json:"replacements"`
}

// BatteryCase is one battery of a job as a case for the core.
type BatteryCase struct {
	evidence.Case
	Battery  Fitted
	Readings []ReadingView
	// Clearings are the stop rules lifted for it, Purpose what the job is for.
	Clearings []Clearing
	Purpose   string
	// Replaced is when another was fitted for it; nil for not.
	Replaced *time.Time
}

// replaced is when another battery was fitted for one of the job, nil for not.
func (r CaseRecords) replaced(id ID) *time.Time {
	for _, one := range r.Replacements {
		if one.OldID == id {
			return &one.At
		}
	}
	return nil
}

// Cases builds the case of each battery of the job.
func (r CaseRecords) Cases(m Moment) []BatteryCase {
	var facts evidence.Vehicle
	if r.Vehicle != nil {
		facts = r.Vehicle.Vehicle
	}
	judged := m.Judged(r.Job)
	out := make([]BatteryCase, 0, len(r.Batteries))
	for _, b := range r.Batteries {
		views, taken := Fold(r.Rows, b.ID)
		taken = NotTakenAhead(taken, m.Now.In(m.Zone))
		lifted := r.clearings(b.ID)
		c := evidence.Case{
			AsOf: judged.Format(time.DateOnly), Now: judged, Label: b.Label, Vehicle: facts, Symptoms: r.Job.Symptoms, School: r.Job.School,
			Own: Own(r.Limits), Cleared: r.cleared(lifted), Readings: taken,
		}
		c = c.Known(kindsOf(r.Instruments))
		out = append(out, BatteryCase{Case: c, Battery: b, Readings: views, Clearings: lifted, Purpose: r.Job.Purpose, Replaced: r.replaced(b.ID)})
	}
	return out
}

// clearings are the stop rules lifted for a battery.
func (r CaseRecords) clearings(batteryID ID) []Clearing {
	out := []Clearing{}
	for _, c := range r.Clearings {
		if c.BatteryID == batteryID {
			out = append(out, c)
		}
	}
	return out
}

// cleared are stop rules lifted as the core takes them, in the same order.
func (r CaseRecords) cleared(list []Clearing) []evidence.Clearing {
	var out []evidence.Clearing
	for _, c := range list {
		out = append(out, evidence.Clearing{Stop: c.Stop, Readings: c.names(r.Rows)})
	}
	return out
}

// kindsOf is the kind of each instrument by its name.
func kindsOf(list []Instrument) map[string]string {
	kinds := map[string]string{}
	for _, one := range list {
		kinds[one.Name] = one.Kind
	}
	return kinds
}

// Case is the case of one battery; of the first where none is named.
func (r CaseRecords) Case(m Moment, batteryID ID) (BatteryCase, error) {
	for _, c := range r.Cases(m) {
		if batteryID.IsZero() || c.Battery.ID == batteryID {
			return c, nil
		}
	}
	return BatteryCase{}, ErrNotFound
}

// OneOf finds a battery in a list; the first for an empty ID.
func OneOf(list []Fitted, id ID) (Fitted, error) {
	for _, b := range list {
		if id.IsZero() || b.ID == id {
			return b, nil
		}
	}
	return Fitted{}, problem.List{problem.New("problem.code", "battery_id", id.String(), "a battery of this job")}
}

// Explainer answers for a verdict.
type Explainer interface {
	Explain(c evidence.Case) diagnosis.Account
}

// Account answers for the verdict on one battery.
func (r CaseRecords) Account(engine Explainer, m Moment, batteryID ID) (diagnosis.Account, error) {
	c, err := r.Case(m, batteryID)
	if err != nil {
		return diagnosis.Account{}, err
	}
	return engine.Explain(c.Case), nil
}
