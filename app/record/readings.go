package record

import (
	"slices"
	"strings"
	"time"

	"grapnel/core/evidence"
	"grapnel/core/reading"
	"grapnel/core/wording"
)

// What a reading row does.
const (
	ActKept      = "kept"
	ActCorrected = "corrected"
	ActMistaken  = "mistaken"
	ActRestored  = "restored"
)

// Reading is one row of the append-only log: a reading kept, the correction of one, its
// withdrawal, or the undoing of either. It belongs to a battery or a vehicle, and to a
// job where it was taken on one.
type Reading struct {
	ID           ID
	JobID        *ID
	BatteryID    *ID
	VehicleID    *ID
	RootID       ID
	SupersedesID *ID
	Ordinal      int
	Act          string
	Reason       string
	Typed        string
	Reading      reading.Reading
	TakenAt      time.Time
	TakenZone    string
	ReceivedAt   time.Time
	PersonID     ID
	PersonName   string
}

// ReadingView is one reading as it stands now, with its history.
type ReadingView struct {
	// ID is the row that holds now; Root the first of its chain.
	ID   ID `json:"id"`
	Root ID `json:"root"`
	// Counts tells that it is part of the case; a withdrawn one is not.
	Counts    bool      `json:"counts"`
	BatteryID ID        `json:"battery_id"`
	JobID     ID        `json:"job_id"`
	Kind      string    `json:"kind"`
	Typed     string    `json:"typed"`
	Canonical string    `json:"canonical"`
	State     string    `json:"state" enum:"kept,corrected,mistaken,restored"`
	Reason    string    `json:"reason"`
	TakenAt   time.Time `json:"taken_at"`
	TakenZone string    `json:"taken_zone"`
	By        string    `json:"by"`
	// Waits tells that it waits on the device for the line to the server.
	Waits bool `json:"waits"`
	// Before are the superseded lines, oldest first.
	Before []Superseded `json:"before"`
}

// Superseded is a line that no longer holds, kept with the reason.
type Superseded struct {
	Typed  string    `json:"typed"`
	Reason string    `json:"reason"`
	At     time.Time `json:"at"`
	By     string    `json:"by"`
}

// Superseded is the row that takes the place of another.
func (row Reading) Superseded(id ID, act, reason string) Reading {
	old := row.ID
	row.ID, row.SupersedesID, row.Act, row.Reason = id, &old, act, strings.TrimSpace(reason)
	return row
}

// Correct makes of a row the correction of another: what it says now, and when, goes with
// its battery and is not forbidden. The records themselves stay as they are.
func (r CaseRecords) Correct(row *Reading, old Reading, line string, said reading.Reading, m Moment) error {
	at, problems := evidence.TakenAgain(said.At, old.TakenAt, old.ReceivedAt, m.Zone)
	if len(problems) > 0 {
		return problems
	}
	row.Typed, row.Reading, row.TakenAt = line, said, at
	// The reading corrected does not count any more.
	r.Rows = slices.DeleteFunc(slices.Clone(r.Rows), func(other Reading) bool { return other.RootID == row.RootID })
	c, err := r.Case(m, *row.BatteryID)
	if err != nil {
		return err
	}
	return row.Fits(c.Case)
}

// Undo makes of a row the undoing of what was done last: it says again what stood before
// that, or is withdrawn where nothing did.
func (row *Reading) Undo(before *Reading) {
	if before == nil || before.Act == ActMistaken {
		row.Act = ActMistaken
	}
	if before != nil {
		row.Typed, row.Reading, row.TakenAt = before.Typed, before.Reading, before.TakenAt
	}
}

// late is how long after it was taken a reading has to come in to be sorted in by its
// own time: a device that waited for the line, or a time that was typed. Sooner, the
// order in which readings came in counts, whatever two clocks say.
const late = 2 * time.Minute

// chain is a reading with everything that was done to it.
type chain struct {
	rows []Reading
	leaf Reading
	// at sorts it among the others.
	at time.Time
}

// Fold makes of the rows of a battery, and of those of the vehicle around it, the
// readings as they stand, in the order taken: each by the row that nothing superseded,
// with the superseded lines beside it. Those that count are returned as the core takes
// them as well.
func Fold(rows []Reading, batteryID ID) ([]ReadingView, []evidence.Taken) {
	chains := chainsOf(rows, batteryID)
	views, taken := make([]ReadingView, 0, len(chains)), make([]evidence.Taken, 0, len(chains))
	for i := range chains {
		v := chains[i].view()
		v.Counts = v.State != ActMistaken
		if v.Counts {
			leaf := chains[i].leaf
			taken = append(taken, evidence.Taken{ID: leaf.ID.Ref(), At: leaf.TakenAt, Reading: leaf.Reading})
		}
		views = append(views, v)
	}
	return views, taken
}

// LastOrdinal is the place of the last of some rows; zero for none.
func LastOrdinal(rows []Reading) int {
	last := 0
	for _, row := range rows {
		last = max(last, row.Ordinal)
	}
	return last
}

// Ref names a row as a reading of its case.
func (id ID) Ref() wording.Ref { return wording.Ref(id.String()) }

func chainsOf(rows []Reading, batteryID ID) []*chain {
	of := map[ID]*chain{}
	var chains []*chain
	for _, r := range received(rows) {
		theirs := r.BatteryID == nil || *r.BatteryID != batteryID
		if theirs && !r.Reading.OfVehicle() {
			continue
		}
		c, seen := of[r.RootID]
		if !seen {
			c = &chain{}
			of[r.RootID] = c
			chains = append(chains, c)
		}
		c.rows = append(c.rows, r)
	}
	for _, c := range chains {
		c.settle()
	}
	slices.SortStableFunc(chains, func(a, b *chain) int { return a.at.Compare(b.at) })
	return chains
}

// settle finds the row that holds, and the time that sorts it.
func (c *chain) settle() {
	superseded := map[ID]bool{}
	for _, r := range c.rows {
		if r.SupersedesID != nil {
			superseded[*r.SupersedesID] = true
		}
	}
	slices.SortStableFunc(c.rows, func(a, b Reading) int { return a.ReceivedAt.Compare(b.ReceivedAt) })
	for _, r := range c.rows {
		if !superseded[r.ID] {
			c.leaf = r
		}
	}
	c.at = c.rows[0].ReceivedAt
	for _, r := range c.rows {
		if r.ID == r.RootID {
			c.at = r.ReceivedAt
		}
	}
	if c.at.IsZero() || c.at.Sub(c.leaf.TakenAt) > late {
		c.at = c.leaf.TakenAt
	}
}

// view shows a chain as one reading.
func (c *chain) view() ReadingView {
	leaf, before := c.leaf, []Superseded{}
	for _, r := range c.rows {
		if r.ID != leaf.ID {
			before = append(before, Superseded{Typed: r.Typed, Reason: r.Reason, At: r.ReceivedAt, By: r.PersonName})
		}
	}
	v := ReadingView{
		ID: leaf.ID, Root: leaf.RootID, Kind: string(leaf.Reading.Kind), Typed: leaf.Typed, Canonical: reading.Print(leaf.Reading),
		State:  leaf.Act,
		Reason: leaf.Reason, TakenAt: leaf.TakenAt, TakenZone: leaf.TakenZone, By: leaf.PersonName, Waits: leaf.ReceivedAt.IsZero(),
		Before: before,
	}
	if leaf.BatteryID != nil {
		v.BatteryID = *leaf.BatteryID
	}
	if leaf.JobID != nil {
		v.JobID = *leaf.JobID
	}
	return v
}
