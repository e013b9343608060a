// Package shop is what people do in the workshop: bringing in, reading, clearing,
// closing, looking up. Each use case says through a small interface what it needs of
// the store; what it writes goes through one transaction, with one event of what was
// done and, where the write carries a key of its own, one deed. What is written down and
// what follows from it is package record; the rules of the trade are core's.
package shop

import (
	"context"
	"errors"
	"time"

	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/core/school"
)

// The errors of a store.
var (
	// ErrSuperseded is returned when a row is changed that another row has already
	// taken the place of.
	ErrSuperseded = errors.New("already superseded")
	// ErrTaken is returned for a name that another row has.
	ErrTaken = people.ErrTaken
)

// Store keeps the shop. Reads outside Write see the last committed state; what is done
// inside Write happens whole or not at all.
type Store interface {
	Tx
	people.Store
	// Sweep forgets the sessions and the failed tries of before a moment.
	Sweep(ctx context.Context, before time.Time) error
	// SealKey is what somebody's devices seal with; fresh becomes it where there is none yet.
	SealKey(ctx context.Context, p people.Person, fresh string) (string, error)
	// KnowDevice writes down that somebody signed in on a device, by a hash of what it carries;
	// SweepDevices forgets those of long ago.
	KnowDevice(ctx context.Context, p people.Person, device string, at time.Time) error
	SweepDevices(ctx context.Context, before time.Time) error
	// ThinVerdicts makes verdicts that no longer hold small; more says that some are left.
	ThinVerdicts(ctx context.Context) (more bool, err error)
	Write(ctx context.Context, do func(Tx) error) error
}

// Tx is everything that can be read and written in one transaction.
type Tx interface {
	FoundingStore
	StaffStore
	DeedStore
	NounStore
	PlaceStore
	ShelfStore
	JobStore
	ReadingStore
	VerdictStore
	EventStore
	LimitStore
	WorkStore
	AttemptStore
	StockStore
	StandingStore
	ClockStore
	InstrumentStore
	PhotoStore
}

// FoundingStore keeps the shop itself and who works in it.
type FoundingStore interface {
	Shop(ctx context.Context, id record.ID) (record.Shop, error)
	// Shops lists the shops of the database.
	Shops(ctx context.Context) ([]record.Shop, error)
	AddShop(ctx context.Context, s record.Shop) error
	// Once marks something that happens once in a shop's life; ErrTaken when it has.
	Once(ctx context.Context, milestone string) error
	// TouchShop counts a change that all jobs rest on.
	TouchShop(ctx context.Context, shopID record.ID) error
	CountPeople(ctx context.Context) (int, error)
}

// StaffStore keeps who works in the shop and what lets them in.
type StaffStore interface {
	AddPerson(ctx context.Context, p people.Person, at time.Time) error
	Person(ctx context.Context, shopID, id record.ID) (people.Person, error)
	ChangePerson(ctx context.Context, p people.Person) error
	// Owners lists, and holds, the owners who may come in.
	Owners(ctx context.Context, shopID record.ID) ([]record.ID, error)
	SetPassword(ctx context.Context, p people.Person, hash string) error
	SetSecond(ctx context.Context, p people.Person, secret string, on bool, recovery []string) error
	// UseSecondStep uses a code of a phone up; false where it was used before.
	UseSecondStep(ctx context.Context, shopID, personID record.ID, step int64) (bool, error)
	KeepResetCode(ctx context.Context, p people.Person, hash string, until time.Time) error
	// UseResetCode uses a code up; false where there is none such any more.
	UseResetCode(ctx context.Context, p people.Person, hash string) (bool, error)
	AddSession(ctx context.Context, s people.Session) error
	EndSession(ctx context.Context, p people.Person, id record.ID, at time.Time) error
	// EndSessionsBut ends every session of a person but one, and makes all their devices
	// unknown; the zero ID spares none.
	EndSessionsBut(ctx context.Context, p people.Person, spared record.ID, at time.Time) error
}

// DeedStore keeps the writes that carry a key of their own.
type DeedStore interface {
	// AddDeed writes a deed down; it reports false where its key is known already.
	AddDeed(ctx context.Context, d Deed) (fresh bool, err error)
	Deed(ctx context.Context, id record.ID) (Deed, error)
	AnswerDeed(ctx context.Context, id record.ID, answer string) error
}

// NounStore keeps customers, vehicles and batteries.
type NounStore interface {
	AddCustomer(ctx context.Context, shopID record.ID, c record.Customer, at time.Time) error
	Customer(ctx context.Context, shopID, id record.ID) (record.Customer, error)
	AddVehicle(ctx context.Context, shopID record.ID, v record.Vehicle, at time.Time) error
	Vehicle(ctx context.Context, shopID, id record.ID) (record.Vehicle, error)
	UpdateVehicle(ctx context.Context, shopID record.ID, v record.Vehicle) error
	FindVehicles(ctx context.Context, shopID record.ID, query string) ([]record.FoundVehicle, error)
	AddBattery(ctx context.Context, shopID record.ID, b record.Battery, at time.Time) error
	UpdateLabel(ctx context.Context, shopID record.ID, b record.Battery) error
	SetPosts(ctx context.Context, shopID, batteryID record.ID, posts string) error
	Battery(ctx context.Context, shopID, id record.ID) (record.Battery, error)
}

// PlaceStore keeps places, chargers, which battery is in which vehicle, and what stays
// where.
type PlaceStore interface {
	Places(ctx context.Context, shopID record.ID) ([]record.Place, error)
	KeepPlace(ctx context.Context, shopID record.ID, p record.Place, at time.Time) error
	DropPlace(ctx context.Context, shopID, id record.ID) error
	Chargers(ctx context.Context, shopID record.ID) ([]record.Charger, error)
	KeepCharger(ctx context.Context, shopID record.ID, c record.Charger, at time.Time) error
	DropCharger(ctx context.Context, shopID, id record.ID) error

	// InstalledNow lists, and holds, where a battery and what in a vehicle is installed.
	InstalledNow(ctx context.Context, shopID, vehicleID, batteryID record.ID) ([]record.Installation, error)
	AddInstallation(ctx context.Context, shopID record.ID, i record.Installation) error
	EndInstallation(ctx context.Context, shopID, id record.ID, at time.Time) error
	InstallationsOf(ctx context.Context, shopID, batteryID record.ID) ([]record.Installation, error)

	AddStay(ctx context.Context, shopID record.ID, s record.Stay) error
	EndStays(ctx context.Context, shopID record.ID, of record.Subject, at time.Time) error
	StaysAt(ctx context.Context, shopID, placeID record.ID) ([]record.Stay, error)
	StaysOf(ctx context.Context, shopID record.ID, of record.Subject) ([]record.Stay, error)
}

// JobStore keeps the visits.
type JobStore interface {
	AddJob(ctx context.Context, shopID record.ID, j record.Job) error
	Job(ctx context.Context, shopID, id record.ID) (record.Job, error)
	JobForUpdate(ctx context.Context, shopID, id record.ID) (record.Job, error)
	// UpdateJob writes what changes of a job and counts the change.
	UpdateJob(ctx context.Context, shopID record.ID, j record.Job) error
	// TouchJobsOf counts a change of a battery or a vehicle on every job it is on.
	TouchJobsOf(ctx context.Context, shopID record.ID, of record.Subject) error
	// Stamps count the changes of the shop and of a job.
	Stamps(ctx context.Context, shopID, jobID record.ID) (Stamps, error)
	AddJobBattery(ctx context.Context, shopID, jobID, batteryID record.ID, ordinal int, position string) error
	BatteriesOfJob(ctx context.Context, shopID, jobID record.ID) ([]record.Fitted, error)
	OpenRows(ctx context.Context, shopID record.ID, before time.Time, beforeID record.ID, limit int) ([]TodayRow, error)
	ClosedRows(ctx context.Context, shopID record.ID, since time.Time, limit int) ([]TodayRow, error)
	PutState(ctx context.Context, shopID record.ID, s JobState) error
	LatestJob(ctx context.Context, shopID record.ID) (record.ID, error)
	JobsOfVehicle(ctx context.Context, shopID, vehicleID record.ID) ([]record.Job, error)
	JobsOfBattery(ctx context.Context, shopID, batteryID record.ID) ([]record.Job, error)
}

// ReadingStore keeps the append-only log.
type ReadingStore interface {
	AddReadings(ctx context.Context, shopID record.ID, rows ...record.Reading) error
	Reading(ctx context.Context, shopID, id record.ID) (record.Reading, error)
	ReadingsOfJobs(ctx context.Context, shopID record.ID, jobs ...record.ID) ([]record.Reading, error)
	// LooseReadings are those of a battery that belong to no job.
	LooseReadings(ctx context.Context, shopID, batteryID record.ID) ([]record.Reading, error)
}

// VerdictStore keeps verdicts whole.
type VerdictStore interface {
	AddVerdict(ctx context.Context, shopID record.ID, v record.Verdict) error
	VerdictsOfBattery(ctx context.Context, shopID, batteryID record.ID) ([]record.Verdict, error)
	// VerdictHistory lists every verdict of a battery on a job, the latest first.
	VerdictHistory(ctx context.Context, shopID, jobID, batteryID record.ID) ([]record.Verdict, error)
}

// EventStore keeps what was done.
type EventStore interface {
	AddEvent(ctx context.Context, shopID record.ID, e Event) error
	EventsOfJobKind(ctx context.Context, shopID, jobID record.ID, kind string) ([]Event, error)
	EventsOfJob(ctx context.Context, shopID, jobID record.ID) ([]Event, error)
	// LastEvent and EventsAfter are of every shop: one feed serves them all.
	LastEvent(ctx context.Context) (int64, error)
	EventsAfter(ctx context.Context, id int64, limit int) ([]Change, error)
}

// LimitStore keeps the shop's own figures.
type LimitStore interface {
	Limits(ctx context.Context, shopID record.ID) ([]record.OwnLimit, error)
	SetLimit(ctx context.Context, shopID record.ID, l record.OwnLimit, by record.ID) error
	DropLimit(ctx context.Context, shopID record.ID, id school.LimitID) error
}

// WorkStore keeps what was said to steps, and the stop rules lifted.
type WorkStore interface {
	AddAnswer(ctx context.Context, shopID record.ID, a record.StepAnswer) error
	AnswersOfJob(ctx context.Context, shopID, jobID record.ID) ([]record.StepAnswer, error)
	AddClearing(ctx context.Context, shopID record.ID, c record.Clearing) error
	ClearingsOfJob(ctx context.Context, shopID, jobID record.ID) ([]record.Clearing, error)
}

// AttemptStore keeps the orders of work that were begun, and what was done in them.
type AttemptStore interface {
	AddAttempt(ctx context.Context, shopID record.ID, a record.Attempt) error
	Attempt(ctx context.Context, shopID, id record.ID) (record.Attempt, error)
	AttemptsOfJob(ctx context.Context, shopID, jobID record.ID) ([]record.Attempt, error)
	AddAttemptEvent(ctx context.Context, shopID record.ID, e record.AttemptEvent, received time.Time) error
	AttemptEvents(ctx context.Context, shopID, attemptID record.ID) ([]record.AttemptEvent, error)
	AttemptEventsOfJob(ctx context.Context, shopID, jobID record.ID) ([]record.AttemptEvent, error)
}

// ClockStore keeps the waits that are counted.
type ClockStore interface {
	AddClock(ctx context.Context, shopID record.ID, c record.Clock) error
	Clock(ctx context.Context, shopID, id record.ID) (record.Clock, error)
	EndClock(ctx context.Context, shopID, id record.ID, at time.Time, outcome string) error
	// RestartClock has a clock that still runs begin anew.
	RestartClock(ctx context.Context, shopID, id record.ID, at time.Time) error
	// RunningOfJob and RunningClocks list those that nothing has ended, latest first.
	RunningOfJob(ctx context.Context, shopID, jobID record.ID) ([]record.Clock, error)
	RunningClocks(ctx context.Context, shopID record.ID) ([]RunningClock, error)
}

// InstrumentStore keeps the meters that can be read over the network.
type InstrumentStore interface {
	Instruments(ctx context.Context, shopID record.ID) ([]record.Instrument, error)
	KeepInstrument(ctx context.Context, shopID record.ID, i record.Instrument, at time.Time) error
	DropInstrument(ctx context.Context, shopID, id record.ID) error
}

// PhotoStore keeps the pictures taken at the vehicle.
type PhotoStore interface {
	AddPhoto(ctx context.Context, shopID record.ID, p record.Photo, body []byte) error
	PhotoBody(ctx context.Context, shopID, id record.ID) (mediaType string, body []byte, err error)
	PhotosOfJob(ctx context.Context, shopID, jobID record.ID) ([]record.Photo, error)
	CountPhotos(ctx context.Context, shopID, jobID record.ID) (int, error)
}

// Stamps count changes: two that are the same say that nothing has changed between.
type Stamps struct {
	Shop, Job int64
	// Event is the last event of the job.
	Event int64
}

// Event is one change, as it is kept for the audit trail.
type Event struct {
	JobID      *record.ID
	Revision   int
	PersonID   *record.ID
	PersonName string
	Kind       string
	Body       any
	At         time.Time
}
