package shop

import (
	"context"
	"errors"
	"time"

	"grapnel/core/school"
)

// ErrNotFound is returned for a thing the shop does not have.
var ErrNotFound = errors.New("not found")

// ErrSuperseded is returned when a row is changed that another row has already
// taken the place of.
var ErrSuperseded = errors.New("already superseded")

// Store keeps the shop. Reads outside Write see the last committed state; what
// is done inside Write happens whole or not at all.
type Store interface {
	Write(ctx context.Context, do func(Store) error) error

	OnlyShop(ctx context.Context) (Shop, error)
	AddShop(ctx context.Context, s Shop) error
	CountPeople(ctx context.Context) (int, error)
	AddPerson(ctx context.Context, p Person, at time.Time) error
	PersonBySignIn(ctx context.Context, signIn string) (Person, error)
	PersonByID(ctx context.Context, id ID) (Person, error)
	People(ctx context.Context, shopID ID) ([]Person, error)

	AddCustomer(ctx context.Context, shopID ID, c Customer, at time.Time) error
	Customer(ctx context.Context, shopID, id ID) (Customer, error)
	AddVehicle(ctx context.Context, shopID ID, v Vehicle, at time.Time) error
	Vehicle(ctx context.Context, shopID, id ID) (Vehicle, error)
	FindVehicles(ctx context.Context, shopID ID, query string) ([]FoundVehicle, error)
	AddBattery(ctx context.Context, shopID ID, b Battery, at time.Time) error
	UpdateLabel(ctx context.Context, shopID ID, b Battery) error
	Battery(ctx context.Context, shopID, id ID) (Battery, error)
	Seat(ctx context.Context, shopID, batteryID, vehicleID ID, position string, at time.Time) error
	BatteriesInVehicle(ctx context.Context, shopID, vehicleID ID) ([]SeatedBattery, error)
	Seats(ctx context.Context, shopID, batteryID ID) ([]Seat, error)

	AddJob(ctx context.Context, shopID ID, j Job) error
	Job(ctx context.Context, shopID, id ID) (Job, error)
	JobForUpdate(ctx context.Context, shopID, id ID) (Job, error)
	UpdateJob(ctx context.Context, shopID ID, j Job) error
	AddJobBattery(ctx context.Context, shopID, jobID, batteryID ID, ordinal int, position string) error
	BatteriesOfJob(ctx context.Context, shopID, jobID ID) ([]SeatedBattery, error)
	JobRows(ctx context.Context, shopID ID, state string, before time.Time, beforeID ID, limit int) ([]TodayRow, error)

	JobsOfVehicle(ctx context.Context, shopID, vehicleID ID) ([]Job, error)

	Limits(ctx context.Context, shopID ID) ([]OwnLimit, error)
	SetLimit(ctx context.Context, shopID ID, l OwnLimit, by ID) error
	DropLimit(ctx context.Context, shopID ID, id school.LimitID) error

	AddReading(ctx context.Context, shopID ID, r Reading) error
	Reading(ctx context.Context, shopID, id ID) (Reading, error)
	ReadingsOfJob(ctx context.Context, shopID, jobID ID) ([]Reading, error)
	ReadingsOfBattery(ctx context.Context, shopID, batteryID ID) ([]Reading, error)
	LastOrdinal(ctx context.Context, shopID, jobID ID) (int, error)

	AddVerdict(ctx context.Context, shopID ID, v Verdict) error
	VerdictsOfBattery(ctx context.Context, shopID, batteryID ID) ([]PastVerdict, error)

	AddEvent(ctx context.Context, shopID ID, e Event) error
	EventsOfJobKind(ctx context.Context, shopID, jobID ID, kind string) ([]Event, error)
	EventsOfJob(ctx context.Context, shopID, jobID ID) ([]Event, error)
	LastEvent(ctx context.Context, shopID ID) (int64, error)
	EventsAfter(ctx context.Context, shopID ID, id int64, limit int) ([]Change, error)

	SetSeat(ctx context.Context, shopID, vehicleID ID, where, joined string) error
	SetPosts(ctx context.Context, shopID, batteryID ID, posts string) error
	AddAnswer(ctx context.Context, shopID ID, a StepAnswer) error
	AnswersOfJob(ctx context.Context, shopID, jobID ID) ([]StepAnswer, error)
	AddClearing(ctx context.Context, shopID ID, c Clearing) error
	ClearingsOfJob(ctx context.Context, shopID, jobID ID) ([]Clearing, error)

	AddClock(ctx context.Context, shopID ID, c Clock) error
	Clock(ctx context.Context, shopID, id ID) (Clock, error)
	EndClock(ctx context.Context, shopID, id ID, at time.Time, outcome string) error
	ClocksOfJob(ctx context.Context, shopID, jobID ID) ([]Clock, error)
	RunningClocks(ctx context.Context, shopID ID) ([]RunningClock, error)

	Instruments(ctx context.Context, shopID ID) ([]Instrument, error)
	KeepInstrument(ctx context.Context, shopID ID, i Instrument, at time.Time) error
	DropInstrument(ctx context.Context, shopID, id ID) error

	AddPhoto(ctx context.Context, shopID ID, p Photo, body []byte) error
	PhotoBody(ctx context.Context, shopID, id ID) (mediaType string, body []byte, err error)
	PhotosOfJob(ctx context.Context, shopID, jobID ID) ([]Photo, error)
}
