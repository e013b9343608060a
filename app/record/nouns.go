package record

import (
	"time"

	"grapnel/core/battery"
	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/school"
)

// Shop is one workshop.
type Shop struct {
	ID        ID        `json:"id"`
	Name      string    `json:"name"`
	TimeZone  string    `json:"time_zone"`
	School    school.ID `json:"school"`
	CreatedAt time.Time `json:"-"`
	// Hands are when somebody is there to put clamps on and off.
	Hands []Hours `json:"hands"`
	// Touched counts the changes of what all jobs rest on: limits, instruments, places,
	// labels, where a battery is.
	Touched int64 `json:"-"`
}

// Location is the shop's time zone, UTC where it is not known on this machine.
func (s Shop) Location() *time.Location {
	if loc, err := time.LoadLocation(s.TimeZone); err == nil {
		return loc
	}
	return time.UTC
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
	// Tray is where its battery sits, Joined how several are joined; empty is not said.
	Tray   string `json:"tray,omitempty"`
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

// Fitted is a battery and its position: in a vehicle, or among those of a job.
type Fitted struct {
	Battery
	Position string `json:"position"`
	// Jobs counts the jobs the battery has been on; known only on a job.
	Jobs int `json:"jobs"`
}

// FoundVehicle is a vehicle the shop knows, with what is needed to bring it in again.
type FoundVehicle struct {
	Vehicle
	CustomerName string   `json:"customer_name"`
	Batteries    []Fitted `json:"batteries"`
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
	PlaceID    *ID        `json:"place_id,omitempty"`
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
	Purpose    string `json:"purpose" enum:"repair,quick_look,before_storage,after_storage,stock,purchase"`
	AssignedTo *ID    `json:"assigned_to,omitempty"`
	WaitsFor   string `json:"waits_for"`
	WaitsNote  string `json:"waits_note"`
	// Revision counts the changes its verdict rests on.
	Revision int `json:"revision"`
	// Touched counts every change of it.
	Touched int64 `json:"-"`
}

// Place is somewhere in the shop that a job, a vehicle or a battery can be.
type Place struct {
	ID      ID     `json:"id"`
	Name    string `json:"name"`
	Kind    string `json:"kind" enum:"bay,shelf,yard,counter,store"`
	Indoors bool   `json:"indoors"`
	// Watts is what its sockets give, RoomM3 its volume, AirM3h the fresh air it has; nil
	// for not said.
	Watts  *float64 `json:"watts,omitempty"`
	RoomM3 *float64 `json:"room_m3,omitempty"`
	AirM3h *float64 `json:"air_m3h,omitempty"`
	// Ordinal is its order on the board.
	Ordinal int `json:"ordinal"`
}

// Kinds of place.
const (
	Bay     = "bay"
	Shelf   = "shelf"
	Yard    = "yard"
	Counter = "counter"
	Store   = "store"
)

// PlaceKinds lists the kinds of place.
func PlaceKinds() []string { return []string{Bay, Shelf, Yard, Counter, Store} }

// UsualPlaces are what a new shop begins with, in the order of the board.
func UsualPlaces() []Place {
	return []Place{
		{Name: "Bay 1", Kind: Bay, Indoors: true}, {Name: "Bay 2", Kind: Bay, Indoors: true}, {Name: "Bay 3", Kind: Bay, Indoors: true},
		{Name: "Shelf", Kind: Shelf, Indoors: true}, {Name: "Yard", Kind: Yard}, {Name: "Counter", Kind: Counter, Indoors: true},
	}
}

// Charger is a charger of the shop.
type Charger struct {
	ID   ID     `json:"id"`
	Name string `json:"name"`
	Kind string `json:"kind" enum:"constant,taper,multi_stage,boost,maintainer,solar,supply,engine"`
	// Amps are the steps it can be set to, ascending.
	Amps []float64 `json:"amps"`
	// Volts is its absorption voltage at 25 °C, nil for the chemistry's.
	Volts *float64 `json:"volts,omitempty"`
	// Settings are the chemistries it can be set to; none for all lead.
	Settings []string `json:"settings"`
	// WakeV is the least volts of a battery it starts on, nil for any.
	WakeV       *float64 `json:"wake_v,omitempty"`
	Compensates bool     `json:"compensates"`
	PlaceID     *ID      `json:"place_id,omitempty"`
	// Channels is how many outputs it has, each for one battery.
	Channels int `json:"channels"`
}

// Installation is which battery sat where in which vehicle, from when to when.
type Installation struct {
	ID          ID         `json:"-"`
	BatteryID   ID         `json:"-"`
	VehicleID   ID         `json:"vehicle_id"`
	Plate       string     `json:"plate"`
	Description string     `json:"description"`
	Position    string     `json:"position"`
	FromAt      time.Time  `json:"from_at"`
	ToAt        *time.Time `json:"to_at,omitempty"`
}

// Stay is a battery or a vehicle at a place, from when to when, and what for.
type Stay struct {
	ID        ID         `json:"id"`
	BatteryID *ID        `json:"battery_id,omitempty"`
	VehicleID *ID        `json:"vehicle_id,omitempty"`
	PlaceID   ID         `json:"place_id"`
	FromAt    time.Time  `json:"from_at"`
	ToAt      *time.Time `json:"to_at,omitempty"`
	Purpose   string     `json:"purpose" enum:"job,charge,storage,stock"`
	JobID     *ID        `json:"job_id,omitempty"`
}

// What something stays at a place for.
const (
	ForJob     = "job"
	ForCharge  = "charge"
	ForStorage = "storage"
	ForStock   = "stock"
)

// StayPurposes lists what something may stay for.
func StayPurposes() []string { return []string{ForJob, ForCharge, ForStorage, ForStock} }

// Subject is what a reading, a clock, an answer or a picture belongs to: a battery, a
// vehicle, or both. It may belong to a job besides.
type Subject struct {
	BatteryID *ID
	VehicleID *ID
	JobID     *ID
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

// OwnLimit is a shop's own figure for a limit.
type OwnLimit struct {
	ID    school.LimitID `json:"id"`
	Value float64        `json:"value"`
	Note  string         `json:"note"`
	SetBy string         `json:"set_by"`
	SetAt time.Time      `json:"set_at"`
}

// Own gathers a shop's own figures for the core; nil for none.
func Own(list []OwnLimit) school.Own {
	if len(list) == 0 {
		return nil
	}
	figures := school.Own{}
	for _, l := range list {
		figures[l.ID] = school.Override{Value: l.Value, Note: l.Note}
	}
	return figures
}

// Instrument is a meter, clamp or tester of the shop that can be read over the
// network. Its name is the word that stands in a reading line behind "by"; its kind
// says what its figures are worth.
type Instrument struct {
	ID       ID     `json:"id"`
	Name     string `json:"name"`
	Kind     string `json:"kind"`
	Protocol string `json:"protocol"`
	Address  string `json:"address"`
	// DueOn is the day its calibration is due, YYYY-MM-DD; empty for not said.
	DueOn string `json:"due_on"`
	// Overdue tells that the day has passed.
	Overdue bool `json:"overdue"`
}

// Photo is a picture taken at the vehicle, without its bytes.
type Photo struct {
	ID        ID        `json:"id"`
	JobID     *ID       `json:"-"`
	BatteryID *ID       `json:"-"`
	VehicleID *ID       `json:"-"`
	MediaType string    `json:"media_type"`
	Note      string    `json:"note"`
	PersonID  ID        `json:"-"`
	By        string    `json:"by"`
	TakenAt   time.Time `json:"taken_at"`
}
