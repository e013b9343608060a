package record

import (
	"time"

	"grapnel/core/procedure"
)

// Attempt is an order of work that was begun on a battery of a job. A second try is an
// attempt of its own.
type Attempt struct {
	ID        ID                `json:"id" format:"uuid"`
	JobID     ID                `json:"job_id" format:"uuid"`
	BatteryID ID                `json:"battery_id" format:"uuid"`
	Name      string            `json:"name"`
	Setting   procedure.Sitting `json:"setting"`
	School    string            `json:"school"`
	People    int               `json:"people"`
	// Minutes are those that a donor feeds, as they were worked out; nil for the usual.
	Minutes  *float64  `json:"minutes"`
	PersonID ID        `json:"person_id" format:"uuid"`
	By       string    `json:"by"`
	BegunAt  time.Time `json:"begun_at"`
	// Order names the order as it was written when it was begun; empty for not known.
	Order string `json:"-"`
}

// Ask is the order it was begun with.
func (a Attempt) Ask() procedure.Ask {
	return procedure.Ask{Name: a.Name, Setting: a.Setting, School: a.School, People: a.People, Feed: a.Minutes}
}

// Notes are what was written down at the steps of an attempt, the last of each step.
func Notes(events []AttemptEvent) map[int]string {
	out := map[int]string{}
	for _, e := range events {
		if e.Note != "" {
			out[e.Step] = e.Note
		}
	}
	return out
}

// AttemptEvent is one thing done in an attempt; it is never changed.
type AttemptEvent struct {
	ID        ID        `json:"id" format:"uuid"`
	AttemptID ID        `json:"attempt_id" format:"uuid"`
	Step      int       `json:"step"`
	Did       string    `json:"did"`
	Note      string    `json:"note"`
	PersonID  ID        `json:"person_id" format:"uuid"`
	By        string    `json:"by"`
	At        time.Time `json:"at"`
}

// Progress is how far an attempt has come by its events.
func Progress(steps int, events []AttemptEvent) procedure.Progress {
	deeds := make([]procedure.Deed, len(events))
	for i, e := range events {
		deeds[i] = procedure.Deed{Step: e.Step, Did: e.Did}
	}
	return procedure.Follow(steps, deeds)
}
