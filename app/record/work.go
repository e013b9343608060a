package record

import (
	"encoding/json"
	"slices"
	"time"

	"grapnel/core/bench"
	"grapnel/core/diagnosis"
	"grapnel/core/drawing"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/safety"
	"grapnel/core/school"
	"grapnel/core/trail"
	"grapnel/core/wording"
)

// StepAnswer is what a person said to a step. Rows are only appended: the last of a step
// counts, and an empty value takes an answer back.
type StepAnswer struct {
	ID        ID        `json:"id"`
	JobID     *ID       `json:"-"`
	BatteryID ID        `json:"battery_id"`
	VehicleID *ID       `json:"-"`
	Code      string    `json:"code"`
	Value     string    `json:"value"`
	Note      string    `json:"note"`
	PersonID  ID        `json:"-"`
	By        string    `json:"by"`
	At        time.Time `json:"at"`
}

// Clearing is a stop rule that a person has lifted with a reason, for the readings that
// raised it, by their rows.
type Clearing struct {
	ID        ID             `json:"id"`
	JobID     *ID            `json:"-"`
	BatteryID ID             `json:"battery_id"`
	Stop      school.Caution `json:"stop"`
	Reason    string         `json:"reason"`
	Readings  []ID           `json:"readings"`
	// Revision is the job's that the person saw.
	Revision int `json:"revision"`
	// Last is how an earlier release named the readings: those up to this ordinal that
	// had come in by then.
	Last     int       `json:"last,omitempty"`
	PersonID ID        `json:"-"`
	By       string    `json:"by"`
	At       time.Time `json:"at"`
}

// names are the readings a clearing holds for.
func (c Clearing) names(rows []Reading) []wording.Ref {
	var out []wording.Ref
	for _, id := range c.Readings {
		out = append(out, id.Ref())
	}
	if len(c.Readings) > 0 || c.Last == 0 {
		return out
	}
	for _, r := range rows {
		if r.Ordinal <= c.Last && !r.ReceivedAt.After(c.At) {
			out = append(out, r.ID.Ref())
		}
	}
	return out
}

// KeptSum is a sum of the bench that was kept with a job.
type KeptSum struct {
	// ID names the keeping and makes it idempotent.
	ID     ID                `json:"id"`
	Sum    string            `json:"sum"`
	Title  string            `json:"title"`
	Inputs map[string]string `json:"inputs"`
	Result bench.Result      `json:"result"`
	By     string            `json:"by"`
	At     time.Time         `json:"at"`
}

// How a clock ended.
const (
	ClockAnswered = "answered"
	ClockStopped  = "stopped"
	ClockFaded    = "faded"
)

// Clock is a wait that is being counted.
type Clock struct {
	ID        ID               `json:"id"`
	JobID     *ID              `json:"job_id,omitempty"`
	BatteryID ID               `json:"battery_id"`
	VehicleID *ID              `json:"-"`
	Kind      string           `json:"kind"`
	Seconds   quantity.Seconds `json:"seconds"`
	StartedAt time.Time        `json:"started_at"`
	StartedBy ID               `json:"-"`
	EndedAt   *time.Time       `json:"-"`
	Outcome   string           `json:"-"`
}

// Statement is a sentence of the core.
type Statement = wording.Statement

// StageWork is what one stage asks for.
type StageWork struct {
	Stage string       `json:"stage"`
	Steps []trail.Step `json:"steps"`
}

// Work is everything the surfaces of a job's stages show besides the readings.
type Work struct {
	Stages    []StageWork      `json:"stages"`
	Questions []trail.Question `json:"questions"`
	Options   []trail.Option   `json:"options"`
	// At is the stage to open it on.
	At string `json:"at"`
	// Open counts the points of the closing list that nobody has answered.
	Open    int         `json:"open"`
	Resets  []Statement `json:"resets"`
	Watch   []Statement `json:"watch"`
	Cleared []Clearing  `json:"cleared"`
	// Forbidden is the work that a stop rule forbids now.
	Forbidden []safety.Work `json:"forbidden"`
	// ForCustomer is what the customer's page says.
	ForCustomer trail.HandOver `json:"for_customer"`
	// Clocks are the waits that may be set going, as they would be set.
	Clocks []trail.Clock `json:"clocks"`
}

// Situation is a case with what stands around it, as the trail asks for it.
func (c BatteryCase) Situation(j Job, v *Vehicle, a diagnosis.Assessment, answers []StepAnswer) *trail.Situation {
	ev := evidence.Examine(c.Case)
	s := &trail.Situation{
		Case: c.Case, Purpose: j.Purpose, Assessment: a, Safety: safety.StateOf(ev), Plan: diagnosis.PlanLoad(ev),
		Mounting: trail.Mounting{Posts: c.Battery.Posts}, Answers: map[string]trail.Answer{}, Replaced: c.Replaced,
	}
	if v != nil {
		s.Mounting.Where, s.Mounting.Joined = v.Tray, v.Joined
	} else {
		s.Mounting.Where = trail.Bench
	}
	for _, one := range answers {
		if one.BatteryID != c.Battery.ID && !trail.OfJob(one.Code) {
			continue
		}
		if one.Value == "" {
			delete(s.Answers, one.Code)
			continue
		}
		s.Answers[one.Code] = trail.Answer{Value: one.Value, Note: one.Note, By: one.By}
	}
	return s
}

// workOf fills the surfaces of the stages.
func workOf(s *trail.Situation, stages []trail.Stage, c BatteryCase) Work {
	w := Work{
		Questions: trail.Questions(s), Options: trail.Options(s), Open: len(trail.Unanswered(s)), Resets: trail.Resets(s), Watch: trail.Watch(s),
		At: trail.StageAt(s.Case.Readings), ForCustomer: trail.ForCustomer(s), Cleared: c.Clearings, Forbidden: safety.Forbidden(s.Safety),
	}
	for _, kind := range trail.Clocks() {
		clock, _ := trail.ClockOf(s, kind)
		w.Clocks = append(w.Clocks, clock)
	}
	for _, stage := range stages {
		w.Stages = append(w.Stages, StageWork{Stage: stage.Code, Steps: trail.Steps(s, stage.Code)})
	}
	return w
}

// cautionTexts are cautions in words, each once.
func cautionTexts(list []school.Caution) []trail.CautionText {
	var once []school.Caution
	for _, c := range list {
		if !slices.Contains(once, c) {
			once = append(once, c)
		}
	}
	return trail.InWords(once)
}

// JobPage is everything the job screen shows.
type JobPage struct {
	Job       Job                 `json:"job"`
	Customer  *Customer           `json:"customer"`
	Vehicle   *Vehicle            `json:"vehicle"`
	Batteries []BatteryOnJob      `json:"batteries"`
	Cautions  []trail.CautionText `json:"cautions"`
	// Sums are those of the bench that were kept with the job.
	Sums []KeptSum `json:"sums"`
	// Replacements are the batteries that others were fitted for here.
	Replacements []Replacement `json:"replacements"`
	// Photos are the pictures taken at the vehicle.
	Photos    []Photo `json:"photos"`
	RulesHash string  `json:"rules_hash"`
	// Event is the last event of the job that is counted in: one told later with this
	// number or a lower one is here already.
	Event int64 `json:"event"`
	// Records are what the page was worked out from, for a device to work it out
	// again while the line to the server is down.
	Records json.RawMessage `json:"records"`
}

// BatteryOnJob is one battery of a job with everything judged about it.
type BatteryOnJob struct {
	Fitted
	LabelText string `json:"label_text"`
	// MayOpen tells that its cells may have caps that come off.
	MayOpen bool `json:"may_open"`
	// Cells is how many there are in series; 0 where its volts do not tell.
	Cells      int                  `json:"cells"`
	Assessment diagnosis.Assessment `json:"assessment"`
	Picture    diagnosis.Picture    `json:"picture"`
	Trail      []trail.Stage        `json:"trail"`
	Work       Work                 `json:"work"`
	// Scenes are the drawings of it: the battery, how it sits, the circuit around it.
	Scenes   []drawing.Scene `json:"scenes"`
	Readings []ReadingView   `json:"readings"`
	// Visits counts the earlier jobs of this battery.
	Visits int `json:"visits"`
}
