// Package device answers on a phone or a tablet what the server answers, while the
// line to it is down: the same rules, on what the device was last given of a job and
// on what has been done to it since. It runs in the browser; cmd/grapnel-device
// hands it over.
package device

import (
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"grapnel/app/record"
	"grapnel/core/bench"
	"grapnel/core/diagnosis"
	"grapnel/core/problem"
	"grapnel/core/reading"
	"grapnel/core/school"
)

// Device works out pages, echoes and sums by itself.
type Device struct {
	engine *diagnosis.Engine
	// rules is the hash of its rules.
	rules string
	// zone is where the device is, now its clock.
	zone *time.Location
	now  func() time.Time
}

// New is a device whose rules have a hash, in a time zone, with its clock.
func New(rules string, zone *time.Location, now func() time.Time) *Device {
	return &Device{engine: diagnosis.New(), rules: rules, zone: zone, now: now}
}

// Asked is what the screens ask for: which of the fields count depends on the
// question.
type Asked struct {
	// Records are those of the job as the server gave them last, Waiting what was done
	// to it that the server has not been told of yet, in order.
	Records json.RawMessage  `json:"records"`
	Waiting []record.Waiting `json:"waiting"`

	BatteryID record.ID   `json:"battery_id"`
	Line      string      `json:"line"`
	Replaces  record.ID   `json:"replaces"`
	Aside     []record.ID `json:"aside"`

	Sum    string            `json:"sum"`
	Inputs map[string]string `json:"inputs"`
	Own    school.Own        `json:"own"`

	// Zone is that of the shop, OffsetS how far it is ahead of UTC now, in seconds; the
	// device's own where none is named.
	Zone    string `json:"zone"`
	OffsetS int    `json:"offset_s"`
}

// moment is now by the device's clock, in the zone of the shop: a browser knows no zones
// but by their distance.
func (d *Device) moment(a Asked) record.Moment {
	zone := d.zone
	if a.Zone != "" {
		zone = time.FixedZone(a.Zone, a.OffsetS)
	}
	return record.Moment{Now: d.now(), Zone: zone}
}

// answers are the questions a device can be asked, by name; each has the address of
// the server's that it stands in for.
var answers = map[string]func(*Device, Asked) (any, error){
	"page":     (*Device).page,     // GET /jobs/{job}
	"preview":  (*Device).preview,  // POST /jobs/{job}/preview
	"account":  (*Device).account,  // GET /jobs/{job}/batteries/{battery}/account
	"sum":      (*Device).sum,      // POST /sums/{sum}
	"complete": (*Device).complete, // POST /complete
}

// outcome is an answer, or what is wrong with the question in the form that the
// server gives it.
type outcome struct {
	Answer  any      `json:"answer,omitempty"`
	Problem *trouble `json:"problem,omitempty"`
}

type trouble struct {
	Status int          `json:"status"`
	Detail string       `json:"detail"`
	Errors problem.List `json:"errors"`
}

// Status codes of what is wrong, as the server gives them.
const (
	unprocessable = 422
	missing       = 404
	failed        = 500
)

// Answer answers one question, both in JSON. It never fails: what is wrong is in the
// answer.
func (d *Device) Answer(question string, body []byte) []byte {
	given, err := d.answer(question, body)
	out := outcome{Answer: given}
	if err != nil {
		out = outcome{Problem: troubleOf(err)}
	}
	text, err := json.Marshal(out)
	if err != nil {
		text, _ = json.Marshal(outcome{Problem: troubleOf(err)}) // plain text always marshals
	}
	return text
}

func (d *Device) answer(question string, body []byte) (given any, err error) {
	answer, ok := answers[question]
	if !ok {
		return nil, fmt.Errorf("no such question: %s", question)
	}
	// A fault of ours ends the one answer, not the device.
	defer func() {
		if v := recover(); v != nil {
			err = fmt.Errorf("panic: %v", v)
		}
	}()
	var asked Asked
	if err := json.Unmarshal(body, &asked); err != nil {
		return nil, err
	}
	return answer(d, asked)
}

func troubleOf(err error) *trouble {
	if list, ok := errors.AsType[problem.List](err); ok {
		return &trouble{Status: unprocessable, Detail: list.Error(), Errors: list}
	}
	status := failed
	if errors.Is(err, record.ErrNotFound) {
		status = missing
	}
	return &trouble{Status: status, Detail: err.Error(), Errors: problem.List{}}
}

// records are those of the job with what waits to be sent in them. What cannot be
// taken is left out: it stands on the screen by itself until a person has seen to it.
func (d *Device) records(a Asked) (record.Records, error) {
	var r record.Records
	if err := json.Unmarshal(a.Records, &r); err != nil {
		return r, err
	}
	for _, w := range a.Waiting {
		_ = r.Count(w, d.moment(a))
	}
	return r, nil
}

func (d *Device) page(a Asked) (any, error) {
	r, err := d.records(a)
	if err != nil {
		return nil, err
	}
	page := r.Page(d.engine, d.moment(a))
	// What the server gave stays what the next page is worked out from.
	page.RulesHash, page.Records = d.rules, a.Records
	return page, nil
}

func (d *Device) preview(a Asked) (any, error) {
	r, err := d.records(a)
	if err != nil {
		return nil, err
	}
	return r.Preview(d.engine, d.moment(a), a.BatteryID, record.Wanted{Line: a.Line, Replaces: a.Replaces, Aside: a.Aside})
}

func (d *Device) account(a Asked) (any, error) {
	r, err := d.records(a)
	if err != nil {
		return nil, err
	}
	return r.Account(d.engine, d.moment(a), a.BatteryID)
}

func (d *Device) sum(a Asked) (any, error) {
	sum, ok := bench.Find(a.Sum)
	if !ok {
		return nil, record.ErrNotFound
	}
	m := d.moment(a)
	now := m.Now.In(m.Zone)
	return sum.Work(a.Inputs, bench.Setting{Year: now.Year(), Month: int(now.Month()), Own: a.Own, Engine: d.engine})
}

func (d *Device) complete(a Asked) (any, error) { return reading.Complete(a.Line), nil }
