package shop

import (
	"encoding/json"
	"time"

	"grapnel/core/battery"
	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/trail"
	"grapnel/core/wording"
)

// Role is what a person does in the shop.
type Role string

// The roles. Everyone may take readings; the owner also looks after people.
const (
	Owner      Role = "owner"
	Technician Role = "technician"
	Counter    Role = "counter"
)

// Roles lists the roles.
func Roles() []Role { return []Role{Owner, Technician, Counter} }

// Shop is one workshop.
type Shop struct {
	ID        ID        `json:"id"`
	Name      string    `json:"name"`
	TimeZone  string    `json:"time_zone"`
	School    school.ID `json:"school"`
	CreatedAt time.Time `json:"-"`
}

// Location is the shop's time zone, UTC where it is not known on this machine.
func (s Shop) Location() *time.Location {
	if loc, err := time.LoadLocation(s.TimeZone); err == nil {
		return loc
	}
	return time.UTC
}

// Person works in the shop.
type Person struct {
	ID           ID     `json:"id"`
	ShopID       ID     `json:"-"`
	Name         string `json:"name"`
	Initials     string `json:"initials"`
	SignIn       string `json:"sign_in"`
	Role         Role   `json:"role"`
	PasswordHash string `json:"-"`
	Active       bool   `json:"active"`
}

// Customer owns a vehicle.
type Customer struct {
	ID    ID     `json:"id"`
	Name  string `json:"name"`
	Phone string `json:"phone"`
}

// Vehicle is what came in.
type Vehicle struct {
	ID          ID     `json:"id"`
	CustomerID  *ID    `json:"customer_id,omitempty"`
	Plate       string `json:"plate"`
	Description string `json:"description"`
	// Seat is where its battery sits, Joined how several are joined; empty is not said.
	Seat   string `json:"seat,omitempty"`
	Joined string `json:"joined,omitempty"`
	evidence.Vehicle
}

// Battery is one battery with its label.
type Battery struct {
	ID    ID            `json:"id"`
	Tag   string        `json:"tag"`
	Maker string        `json:"maker"`
	Posts string        `json:"posts,omitempty"`
	Label battery.Label `json:"label"`
}

// Job states.
const (
	JobOpen   = "open"
	JobClosed = "closed"
)

// Job is one visit.
type Job struct {
	ID         ID         `json:"id"`
	VehicleID  *ID        `json:"vehicle_id,omitempty"`
	CustomerID *ID        `json:"customer_id,omitempty"`
	State      string     `json:"state" enum:"open,closed"`
	Place      string     `json:"place"`
	Complaint  string     `json:"complaint"`
	Symptoms   []string   `json:"symptoms"`
	School     school.ID  `json:"school"`
	OpenedAt   time.Time  `json:"opened_at"`
	PromisedAt *time.Time `json:"promised_at,omitempty"`
	ClosedAt   *time.Time `json:"closed_at,omitempty"`
	OpenedBy   ID         `json:"-"`
	// Purpose is what the job is for, AssignedTo who has it, WaitsFor what it waits
	// for besides what its verdict asks.
	Purpose    string `json:"purpose" enum:"repair,quick_look,stock,purchase"`
	AssignedTo *ID    `json:"assigned_to,omitempty"`
	WaitsFor   string `json:"waits_for"`
	WaitsNote  string `json:"waits_note"`
	Revision   int    `json:"revision"`
	VerdictID  *ID    `json:"-"`
}

// What a reading row does.
const (
	ActKept      = "kept"
	ActCorrected = "corrected"
	ActMistaken  = "mistaken"
	ActRestored  = "restored"
)

// Reading is one row of the append-only log: a reading kept, the correction of
// one, its withdrawal, or the undoing of either.
type Reading struct {
	ID           ID
	JobID        ID
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

// Verdict is a verdict as it stood, with the hash of the rules it was drawn by.
type Verdict struct {
	ID        ID                   `json:"id"`
	JobID     ID                   `json:"job_id"`
	BatteryID ID                   `json:"battery_id"`
	Revision  int                  `json:"revision"`
	MadeAt    time.Time            `json:"made_at"`
	RulesHash string               `json:"rules_hash"`
	Body      diagnosis.Assessment `json:"assessment"`
}

// PastVerdict is the last verdict of a job about a battery.
type PastVerdict struct {
	Verdict
	OpenedAt time.Time `json:"opened_at"`
	State    string    `json:"state"`
}

// Seat is where a battery sat, from when to when.
type Seat struct {
	VehicleID   ID         `json:"vehicle_id"`
	Plate       string     `json:"plate"`
	Description string     `json:"description"`
	Position    string     `json:"position"`
	FromAt      time.Time  `json:"from_at"`
	ToAt        *time.Time `json:"to_at,omitempty"`
}

// Event is one change, as it is kept for the audit trail.
type Event struct {
	JobID      *ID
	Revision   int
	PersonID   *ID
	PersonName string
	Kind       string
	Body       any
	At         time.Time
}

// SeatedBattery is a battery and where in the vehicle it sits.
type SeatedBattery struct {
	Battery
	Position string `json:"position"`
	// Jobs counts the jobs the battery has been on; known only on a job.
	Jobs int `json:"jobs"`
}

// FoundVehicle is a vehicle the shop knows, with what is needed to bring it in
// again.
type FoundVehicle struct {
	Vehicle
	CustomerName string          `json:"customer_name"`
	Batteries    []SeatedBattery `json:"batteries"`
}

// ReadingView is one reading as it stands now, with its history.
type ReadingView struct {
	// ID is the row that holds now; Root the first of its chain.
	ID   ID `json:"id"`
	Root ID `json:"root"`
	// Index is the reading's place among those that count; −1 when withdrawn.
	Index     int       `json:"index"`
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
	// Waits tells that the reading is on the device only: the server has not got it yet.
	Waits   bool `json:"waits"`
	ordinal int
	// Before lists the superseded lines, oldest first.
	Before []Superseded `json:"before"`
}

// Superseded is a line that no longer holds, kept with the reason.
type Superseded struct {
	Typed  string    `json:"typed"`
	Reason string    `json:"reason"`
	At     time.Time `json:"at"`
	By     string    `json:"by"`
}

// BatteryOnJob is one battery of a job with everything judged about it.
type BatteryOnJob struct {
	SeatedBattery
	LabelText string `json:"label_text"`
	// MayOpen tells that its cells may have caps that come off.
	MayOpen    bool                 `json:"may_open"`
	Assessment diagnosis.Assessment `json:"assessment"`
	Picture    diagnosis.Picture    `json:"picture"`
	Trail      []trail.Stage        `json:"trail"`
	Work       Work                 `json:"work"`
	Readings   []ReadingView        `json:"readings"`
	// Visits counts the earlier jobs of this battery.
	Visits int `json:"visits"`
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
	// Photos are the pictures taken at the vehicle.
	Photos    []Photo `json:"photos"`
	RulesHash string  `json:"rules_hash"`
	// Records are what the page was worked out from, for a device to work it out
	// again while the line to the server is down.
	Records json.RawMessage `json:"records"`
	// serial numbers the gatherings, so that the same page is known again.
	serial int64
}

// Serial numbers the gathering of the page: the same number is the same page.
func (p *JobPage) Serial() int64 { return p.serial }

// Preview is what would hold if a line were kept.
type Preview struct {
	Understood []reading.Understood `json:"understood"`
	Assumed    []wording.Statement  `json:"assumed"`
	Canonical  string               `json:"canonical"`
	// Findings are those of the readings in the line.
	Findings   []evidence.Finding   `json:"findings"`
	Assessment diagnosis.Assessment `json:"assessment"`
	Picture    diagnosis.Picture    `json:"picture"`
	Trail      []trail.Stage        `json:"trail"`
	Stage      string               `json:"stage"`
}

// TodayRow is one job in the shop.
type TodayRow struct {
	Job          Job              `json:"job"`
	Plate        string           `json:"plate"`
	Description  string           `json:"description"`
	CustomerName string           `json:"customer_name"`
	Action       diagnosis.Action `json:"action"`
	// Next is what the job waits on, in words.
	Next string `json:"next"`
	// Waits is rest, charge, clean, hands, customer: what kind of wait it is.
	Waits string `json:"waits" enum:"rest,charge,clean,stop,hands,customer"`
}

// Today is what is in the shop.
type Today struct {
	Shop   Shop       `json:"shop"`
	Now    time.Time  `json:"now"`
	Open   []TodayRow `json:"open"`
	Closed []TodayRow `json:"closed"`
	// More tells whether older open jobs remain.
	More bool `json:"more"`
	// Places are the places of the shop, in order.
	Places []string `json:"places"`
}

// BatteryPage is one battery's life.
type BatteryPage struct {
	Battery   Battery `json:"battery"`
	LabelText string  `json:"label_text"`
	Seats     []Seat  `json:"seats"`
	Visits    []Visit `json:"visits"`
}

// Visit is one job of a battery with the verdict it ended on.
type Visit struct {
	JobID      ID               `json:"job_id"`
	OpenedAt   time.Time        `json:"opened_at"`
	State      string           `json:"state"`
	Action     diagnosis.Action `json:"action"`
	Confidence float64          `json:"confidence"`
	RulesHash  string           `json:"rules_hash"`
	Readings   []ReadingView    `json:"readings"`
	// Findings are those of the verdict, by the readings' index.
	Findings []evidence.Finding `json:"findings"`
}
