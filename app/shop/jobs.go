package shop

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"golang.org/x/sync/errgroup"

	"grapnel/app/record"
	"grapnel/core/battery"
	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/problem"
	"grapnel/core/trail"
)

// jobs are brought in, shown, moved about and handed back.
type jobs struct {
	*house
	pages *pageCache
}

// BringIn is what is asked when something comes in. Only the battery's
// chemistry and volts are needed; everything else may be left out.
type BringIn struct {
	JobID ID `json:"-"`
	// Customer is new or known by its ID; nil for none.
	Customer *record.Customer `json:"customer,omitempty"`
	// Vehicle is new or known by its ID; nil for a battery by itself.
	Vehicle   *record.Vehicle `json:"vehicle,omitempty"`
	Batteries []record.Fitted `json:"batteries"`
	Symptoms  []string        `json:"symptoms"`
	Complaint string          `json:"complaint"`
	Place     string          `json:"place"`
	// Purpose is what the job is for; a complaint where it is not said.
	Purpose    string     `json:"purpose"`
	PromisedAt *time.Time `json:"promised_at,omitempty"`
	// OpenedAt is when it came in; nil for now.
	OpenedAt *time.Time `json:"opened_at,omitempty"`
}

// mostBatteries is how many a job has at the most, farthest how far ahead a promise lies.
const (
	mostBatteries = 8
	farthest      = 10 * 365 * 24 * time.Hour
)

func (in BringIn) check(now time.Time, places []string) problem.List {
	var found problem.List
	if in.Customer != nil {
		found.CheckText("customer.name", in.Customer.Name, 0, maxNameText)
		found.CheckText("customer.phone", in.Customer.Phone, 0, 40)
	}
	if in.Vehicle != nil {
		checkVehicle(&found, in.Vehicle)
	}
	if n := len(in.Batteries); n == 0 || n > mostBatteries {
		found = append(found, problem.New("problem.missing", "batteries", "", "1 to 8"))
	}
	for i, b := range in.Batteries {
		path := fmt.Sprintf("batteries[%d]", i)
		found = append(found, checkBattery(path, b.Battery)...)
		found.CheckText(path+".position", b.Position, 0, 32)
		if !b.ID.IsZero() && slices.ContainsFunc(in.Batteries[:i], func(other record.Fitted) bool { return other.ID == b.ID }) {
			found = append(found, problem.New("problem.taken", path+".id", b.ID.String(), "each battery once"))
		}
	}
	for i, symptom := range in.Symptoms {
		found.CheckCode(fmt.Sprintf("symptoms[%d]", i), symptom, evidence.Symptoms(), false)
	}
	found.CheckText("complaint", in.Complaint, 0, maxComplaint)
	found.CheckCode("place", in.Place, places, true)
	found.CheckCode("purpose", in.Purpose, trail.Purposes(), true)
	checkTime(&found, "promised_at", in.PromisedAt, now.Add(farthest))
	checkTime(&found, "opened_at", in.OpenedAt, now.Add(farthest))
	return found
}

// checkTime reports a time out of reach.
func checkTime(found *problem.List, field string, at *time.Time, latest time.Time) {
	if at != nil && (at.Before(evidence.Earliest) || at.After(latest)) {
		*found = append(*found, evidence.OutOfReach(field, *at, evidence.Earliest, latest))
	}
}

func checkVehicle(found *problem.List, v *record.Vehicle) {
	found.CheckText("vehicle.plate", v.Plate, 0, maxPlate)
	found.CheckText("vehicle.description", v.Description, 0, 160)
	found.CheckCode("vehicle.tray", v.Tray, trail.Places(), true)
	found.CheckCode("vehicle.joined", v.Joined, trail.Joins(), true)
	*found = append(*found, evidence.VehicleFields().Check(&v.Vehicle, "vehicle")...)
}

// checkBattery holds a label against what labels can say.
func checkBattery(path string, b record.Battery) problem.List {
	var found problem.List
	found.CheckText(path+".tag", b.Tag, 0, 40)
	found.CheckText(path+".maker", b.Maker, 0, maxNameText)
	found.CheckCode(path+".posts", b.Posts, trail.Posts(), true)
	return append(found, battery.Fields().Check(&b.Label, path+".label")...)
}

// BringIn opens a job: the customer, vehicle and batteries that are new are
// written down with it, all or nothing. The same job twice is opened once.
func (s jobs) BringIn(ctx context.Context, who Person, in BringIn) (record.Job, error) {
	if in.JobID.IsZero() {
		return record.Job{}, problem.List{problem.New("problem.missing", "id", "", "a UUID")}
	}
	places, err := placeNames(ctx, s.store, who.ShopID)
	if err != nil {
		return record.Job{}, err
	}
	if err := in.check(s.stamp(), places).Err(); err != nil {
		return record.Job{}, err
	}
	var j record.Job
	err = s.write(ctx, func(tx Tx) error {
		again, err := s.once(ctx, tx, who, keyed{id: in.JobID, kind: "brought_in", body: in}, nil)
		if err != nil {
			return err
		}
		if again {
			j, err = tx.Job(ctx, who.ShopID, in.JobID)
			return err
		}
		fresh := in.copied()
		if j, err = s.newJob(ctx, tx, who, fresh); err != nil {
			return err
		}
		r, err := s.open(ctx, tx, who, fresh, &j)
		if err != nil {
			return err
		}
		m, err := s.moment(ctx, tx, who.ShopID)
		if err != nil {
			return err
		}
		if err := s.judge(ctx, tx, who.ShopID, scene{r, m}); err != nil {
			return err
		}
		return s.tell(ctx, tx, who, &j, "brought_in", broughtIn{j, r.Vehicle, r.Batteries})
	})
	return j, wrap(err, "bring it in")
}

// copied is a bring-in that can be filled in anew at each try of its transaction.
func (in BringIn) copied() BringIn {
	in.Batteries = slices.Clone(in.Batteries)
	if in.Customer != nil {
		c := *in.Customer
		in.Customer = &c
	}
	if in.Vehicle != nil {
		v := *in.Vehicle
		in.Vehicle = &v
	}
	return in
}

// broughtIn is what the event of a new job says.
type broughtIn struct {
	Job       record.Job      `json:"job"`
	Vehicle   *record.Vehicle `json:"vehicle"`
	Batteries []record.Fitted `json:"batteries"`
}

// newJob is the job as it is opened.
func (s jobs) newJob(ctx context.Context, tx Tx, who Person, in BringIn) (record.Job, error) {
	sh, err := tx.Shop(ctx, who.ShopID)
	if err != nil {
		return record.Job{}, err
	}
	at := s.stamp()
	if in.OpenedAt != nil && in.OpenedAt.Before(at) {
		at = *in.OpenedAt
	}
	j := record.Job{
		ID: in.JobID, State: record.JobOpen, Complaint: strings.TrimSpace(in.Complaint), Symptoms: in.Symptoms,
		School: sh.School, OpenedAt: at, PromisedAt: in.PromisedAt, OpenedBy: who.ID, Revision: 1, Purpose: cmp.Or(in.Purpose, trail.Repair),
	}
	if j.Symptoms == nil {
		j.Symptoms = []string{}
	}
	return j, placed(ctx, tx, who.ShopID, &j, in.Place)
}

// open writes everything of a new job inside one transaction and gives what it is judged
// by.
func (s jobs) open(ctx context.Context, tx Tx, who Person, in BringIn, j *record.Job) (record.CaseRecords, error) {
	var r record.CaseRecords
	if err := addCustomer(ctx, tx, who, in, j); err != nil {
		return r, err
	}
	if err := addVehicle(ctx, tx, who, in, j); err != nil {
		return r, err
	}
	if err := tx.AddJob(ctx, who.ShopID, *j); err != nil {
		return r, err
	}
	if err := addBatteries(ctx, tx, who, in, j); err != nil {
		return r, err
	}
	if err := stand(ctx, tx, who.ShopID, *j, j.OpenedAt); err != nil {
		return r, err
	}
	return recordsOf(ctx, tx, who.ShopID, *j)
}

func addCustomer(ctx context.Context, tx NounStore, who Person, in BringIn, j *record.Job) error {
	c := in.Customer
	if c == nil || c.ID.IsZero() && strings.TrimSpace(c.Name) == "" {
		return nil
	}
	if !c.ID.IsZero() {
		if _, err := tx.Customer(ctx, who.ShopID, c.ID); !errors.Is(err, ErrNotFound) {
			j.CustomerID = &c.ID
			return err
		}
	} else {
		c.ID = in.JobID.Part(customerPart)
	}
	c.Name = strings.TrimSpace(c.Name)
	j.CustomerID = &c.ID
	return tx.AddCustomer(ctx, who.ShopID, *c, j.OpenedAt)
}

// The parts of a job that get an ID from its own where the client gives none.
const (
	customerPart = 1 << 30
	vehiclePart  = customerPart + 1
	batteryPart  = customerPart + 2
)

func addVehicle(ctx context.Context, tx NounStore, who Person, in BringIn, j *record.Job) error {
	v := in.Vehicle
	if v == nil {
		return nil
	}
	if v.ID.IsZero() {
		v.ID = in.JobID.Part(vehiclePart)
	}
	j.VehicleID = &v.ID
	known, err := tx.Vehicle(ctx, who.ShopID, v.ID)
	switch {
	case err == nil:
		if j.CustomerID == nil {
			j.CustomerID = known.CustomerID
		}
		return nil
	case !errors.Is(err, ErrNotFound):
		return err
	}
	v.CustomerID, v.Plate = j.CustomerID, strings.ToUpper(strings.TrimSpace(v.Plate))
	return tx.AddVehicle(ctx, who.ShopID, *v, j.OpenedAt)
}

// addBatteries puts the batteries on the job, writes down new ones, and fits them into
// the vehicle they came in.
func addBatteries(ctx context.Context, tx Tx, who Person, in BringIn, j *record.Job) error {
	for i := range in.Batteries {
		b := &in.Batteries[i]
		if b.ID.IsZero() {
			b.ID = in.JobID.Part(batteryPart + i)
		}
		_, err := tx.Battery(ctx, who.ShopID, b.ID)
		if errors.Is(err, ErrNotFound) {
			err = tx.AddBattery(ctx, who.ShopID, b.Battery, j.OpenedAt)
		}
		if err != nil {
			return err
		}
		if err := tx.AddJobBattery(ctx, who.ShopID, j.ID, b.ID, i, b.Position); err != nil {
			return err
		}
	}
	if j.VehicleID == nil {
		return nil
	}
	_, err := fit(ctx, tx, who.ShopID, *j.VehicleID, in.Batteries, j.OpenedAt)
	return err
}

// Close hands the job back, once every point of the closing list is answered. Its
// clocks stop, and it stays nowhere any more.
func (s jobs) Close(ctx context.Context, who Person, jobID ID) error {
	return s.run(ctx, command{who: who, jobID: jobID, kind: "closed", judges: true}, func(tx Tx, j *record.Job) (done, error) {
		if j.State == record.JobClosed {
			return done{}, errNothing
		}
		now, err := s.see(ctx, tx, who.ShopID, *j)
		if err != nil {
			return done{}, err
		}
		if err := s.refuseOpen(ctx, tx, who, now); err != nil {
			return done{}, err
		}
		at := s.stamp()
		j.State, j.ClosedAt, j.WaitsFor, j.WaitsNote = record.JobClosed, &at, "", ""
		stopped, err := endClocks(ctx, tx, who.ShopID, j.ID, at, record.ClockStopped, func(record.Clock) bool { return true })
		if err != nil {
			return done{}, err
		}
		err = tx.EndStays(ctx, who.ShopID, record.Subject{JobID: &j.ID}, at)
		return done{body: map[string]any{"closed_at": at, "clocks": stopped}, scene: &now}, err
	})
}

// refuseOpen refuses to hand a job back while points of the closing list are open.
func (s jobs) refuseOpen(ctx context.Context, tx Tx, who Person, now scene) error {
	answers, err := tx.AnswersOfJob(ctx, who.ShopID, now.Job.ID)
	if err != nil {
		return err
	}
	var found problem.List
	var named []string
	for _, c := range now.Cases(now.Moment) {
		a, err := s.brief(ctx, c.Case)
		if err != nil {
			return err
		}
		for _, step := range trail.Unanswered(c.Situation(now.Job, now.Vehicle, a, answers)) {
			if !slices.Contains(named, step.Code) {
				named = append(named, step.Code)
				const allowed = "done, not needed, or not done with a reason"
				found = append(found, problem.New("problem.open_point", "finish."+step.Code, step.Text.Text, allowed))
			}
		}
	}
	return found.Err()
}

// Reopen takes a closed job up again.
func (s jobs) Reopen(ctx context.Context, who Person, jobID ID) error {
	return s.run(ctx, command{who: who, jobID: jobID, kind: "reopened", judges: true}, func(tx Tx, j *record.Job) (done, error) {
		if j.State == record.JobOpen {
			return done{}, errNothing
		}
		asked, err := s.takeUp(ctx, tx, who, j)
		return done{body: map[string]any{"asked_again": asked}}, err
	})
}

// takeUp opens a job again and tells which points it asks again: what may have been
// touched since it was handed back.
func (h *house) takeUp(ctx context.Context, tx Tx, who Person, j *record.Job) (asked []string, err error) {
	answers, err := tx.AnswersOfJob(ctx, who.ShopID, j.ID)
	if err != nil {
		return nil, err
	}
	type point struct {
		battery ID
		code    string
	}
	stands := map[point]bool{}
	for _, a := range answers {
		stands[point{a.BatteryID, a.Code}] = a.Value != ""
	}
	asked = []string{}
	for p, stood := range stands {
		if !stood || !slices.Contains(trail.AskedAgain(), p.code) {
			continue
		}
		again := record.StepAnswer{ID: record.NewID(), JobID: &j.ID, BatteryID: p.battery, Code: p.code, PersonID: who.ID, At: h.stamp()}
		if err := tx.AddAnswer(ctx, who.ShopID, again); err != nil {
			return nil, err
		}
		asked = append(asked, p.code)
	}
	slices.Sort(asked)
	j.State, j.ClosedAt = record.JobOpen, nil
	return asked, stand(ctx, tx, who.ShopID, *j, h.stamp())
}

// Relabel changes what is known of a battery on a job, such as a rating that
// was missing. The old label stays in the event log.
func (s jobs) Relabel(ctx context.Context, who Person, jobID ID, b record.Battery) error {
	if err := checkBattery("battery", b).Err(); err != nil {
		return err
	}
	return s.run(ctx, command{who: who, jobID: jobID, kind: "relabelled", judges: true, said: b}, func(tx Tx, j *record.Job) (done, error) {
		old, err := batteryOf(ctx, tx, who, jobID, b.ID)
		if err != nil {
			return done{}, err
		}
		before, after := old.Battery, b
		before.Label.Position, after.Posts = "", before.Posts
		after.Label.Position = ""
		if sameJSON(before, after) {
			return done{}, errNothing
		}
		if err := tx.UpdateLabel(ctx, who.ShopID, b); err != nil {
			return done{}, err
		}
		return done{body: map[string]any{"before": before, "after": after}}, tx.TouchJobsOf(ctx, who.ShopID, record.Subject{BatteryID: &b.ID})
	})
}

// Describe corrects or completes what is known of the vehicle of a job. How its battery
// sits is Mount's to say, and whose it is stays.
func (s jobs) Describe(ctx context.Context, who Person, jobID ID, v record.Vehicle) error {
	var found problem.List
	v.Plate = strings.ToUpper(strings.TrimSpace(v.Plate))
	checkVehicle(&found, &v)
	v.Tray, v.Joined = "", ""
	if err := found.Err(); err != nil {
		return err
	}
	return s.run(ctx, command{who: who, jobID: jobID, kind: "described", judges: true, said: v}, func(tx Tx, j *record.Job) (done, error) {
		if j.VehicleID == nil {
			return done{}, problem.List{problem.New("problem.code", "vehicle", v.Plate, "a job with a vehicle")}
		}
		before, err := tx.Vehicle(ctx, who.ShopID, *j.VehicleID)
		if err != nil {
			return done{}, err
		}
		v.ID, v.CustomerID, v.Tray, v.Joined = before.ID, before.CustomerID, before.Tray, before.Joined
		if sameJSON(before, v) {
			return done{}, errNothing
		}
		if err := tx.UpdateVehicle(ctx, who.ShopID, v); err != nil {
			return done{}, err
		}
		return done{body: map[string]any{"before": before, "after": v}}, tx.TouchJobsOf(ctx, who.ShopID, record.Subject{VehicleID: &v.ID})
	})
}

// sameJSON reports two values that are written the same.
func sameJSON(a, b any) bool {
	x, errX := json.Marshal(a)
	y, errY := json.Marshal(b)
	return errX == nil && errY == nil && string(x) == string(y)
}

// batteryOf finds a battery of the job; the first for an empty ID.
func batteryOf(ctx context.Context, tx JobStore, who Person, jobID, batteryID ID) (record.Fitted, error) {
	batteries, err := tx.BatteriesOfJob(ctx, who.ShopID, jobID)
	if err != nil {
		return record.Fitted{}, err
	}
	return record.OneOf(batteries, batteryID)
}

// mounting is how a battery is said to sit.
type mounting struct {
	BatteryID ID `json:"battery_id"`
	trail.Mounting
}

// Mount writes down how a battery sits; the next visit knows it.
func (s jobs) Mount(ctx context.Context, who Person, jobID, batteryID ID, in trail.Mounting) error {
	var found problem.List
	found.CheckCode("where", in.Where, trail.Places(), true)
	found.CheckCode("posts", in.Posts, trail.Posts(), true)
	found.CheckCode("joined", in.Joined, trail.Joins(), true)
	if err := found.Err(); err != nil {
		return err
	}
	return s.run(ctx, command{who: who, jobID: jobID, kind: "mounted", said: mounting{batteryID, in}}, func(tx Tx, j *record.Job) (done, error) {
		b, err := batteryOf(ctx, tx, who, jobID, batteryID)
		if err != nil {
			return done{}, err
		}
		before := trail.Mounting{Posts: b.Posts}
		var v record.Vehicle
		if j.VehicleID != nil {
			if v, err = tx.Vehicle(ctx, who.ShopID, *j.VehicleID); err != nil {
				return done{}, err
			}
			before.Where, before.Joined = v.Tray, v.Joined
		} else {
			in.Where, in.Joined = "", ""
		}
		if before == in {
			return done{}, errNothing
		}
		if err := tx.SetPosts(ctx, who.ShopID, b.ID, in.Posts); err != nil {
			return done{}, err
		}
		if j.VehicleID != nil {
			v.Tray, v.Joined = in.Where, in.Joined
			if err := tx.UpdateVehicle(ctx, who.ShopID, v); err != nil {
				return done{}, err
			}
		}
		did := map[string]any{"battery_id": b.ID, "before": before, "after": in}
		return done{body: did}, tx.TouchJobsOf(ctx, who.ShopID, record.Subject{BatteryID: &b.ID})
	})
}

// What a job may wait for besides what its verdict asks.
const (
	WaitsCustomer = "customer"
	WaitsPart     = "part"
	WaitsCharge   = "charge"
	WaitsNight    = "night"
)

// WaitsFor lists what a job may be set to wait for.
func WaitsFor() []string { return []string{WaitsCustomer, WaitsPart, WaitsCharge, WaitsNight} }

// Desk is where a job stands, who has it and what it waits for.
type Desk struct {
	Place      string `json:"place,omitempty" maxLength:"40"`
	AssignedTo *ID    `json:"assigned_to,omitempty" format:"uuid"`
	WaitsFor   string `json:"waits_for,omitempty" maxLength:"16"`
	WaitsNote  string `json:"waits_note,omitempty" maxLength:"2000"`
	// Note goes to whoever takes the job over.
	Note string `json:"note,omitempty" maxLength:"2000"`
}

// SetDesk moves a job, hands it over or lets it wait.
func (s jobs) SetDesk(ctx context.Context, who Person, jobID ID, in Desk) error {
	places, err := placeNames(ctx, s.store, who.ShopID)
	if err != nil {
		return err
	}
	var found problem.List
	found.CheckCode("place", in.Place, places, true)
	found.CheckCode("waits_for", in.WaitsFor, WaitsFor(), true)
	found.CheckText("waits_note", in.WaitsNote, 0, maxReason)
	found.CheckText("note", in.Note, 0, maxReason)
	if err := found.Err(); err != nil {
		return err
	}
	return s.run(ctx, command{who: who, jobID: jobID, kind: "desk", said: in}, func(tx Tx, j *record.Job) (done, error) {
		before := *j
		if in.AssignedTo != nil {
			p, err := tx.Person(ctx, who.ShopID, *in.AssignedTo)
			if err != nil && !errors.Is(err, ErrNotFound) {
				return done{}, err
			}
			if err != nil || !p.Active {
				return done{}, problem.List{problem.New("problem.code", "assigned_to", in.AssignedTo.String(), "a person of the shop")}
			}
		}
		j.AssignedTo, j.WaitsFor, j.WaitsNote = in.AssignedTo, in.WaitsFor, strings.TrimSpace(in.WaitsNote)
		if err := placed(ctx, tx, who.ShopID, j, in.Place); err != nil {
			return done{}, err
		}
		if !same(before.PlaceID, j.PlaceID) {
			if err := stand(ctx, tx, who.ShopID, *j, s.stamp()); err != nil {
				return done{}, err
			}
		}
		if sameJSON(before, *j) && in.Note == "" {
			return done{}, errNothing
		}
		return done{
			body: map[string]any{
				"place":       j.Place,
				"assigned_to": j.AssignedTo,
				"waits_for":   j.WaitsFor,
				"waits_note":  j.WaitsNote,
				"note":        strings.TrimSpace(in.Note),
			},
		}, nil
	})
}

// pageTime is how long gathering a page may take.
const pageTime = 15 * time.Second

// JobPage is everything the job screen shows. It is read only: several who ask
// share it.
func (s jobs) JobPage(ctx context.Context, who Person, jobID ID) (record.JobPage, error) {
	page, _, err := s.StampedPage(ctx, who, jobID)
	return page, err
}

// StampedPage is the page with the stamp it was gathered under: the same stamp is the
// same page.
func (s jobs) StampedPage(ctx context.Context, who Person, jobID ID) (record.JobPage, PageStamp, error) {
	m, err := s.moment(ctx, s.store, who.ShopID)
	if err != nil {
		return record.JobPage{}, PageStamp{}, err
	}
	stamps, err := s.store.Stamps(ctx, who.ShopID, jobID)
	if err != nil {
		return record.JobPage{}, PageStamp{}, err
	}
	stamp := PageStamp{JobID: jobID, Stamps: stamps, Day: m.Now.In(m.Zone).Format(time.DateOnly)}
	page, err := s.pages.page(stamp, func() (record.JobPage, error) {
		// Those who wait for it do not lose it when the first of them goes, and nobody
		// waits for ever.
		ctx, cancel := context.WithTimeout(context.WithoutCancel(ctx), pageTime)
		defer cancel()
		// What was committed since the stamps only makes it newer than it says.
		return s.gather(ctx, who, jobID, m, stamps.Event)
	})
	return page, stamp, err
}

// gather reads and judges everything the job screen shows.
func (s jobs) gather(ctx context.Context, who Person, jobID ID, m Moment, event int64) (record.JobPage, error) {
	j, err := s.store.Job(ctx, who.ShopID, jobID)
	if err != nil {
		return record.JobPage{}, err
	}
	r := record.Records{Event: event}
	// What stands beside the batteries is read while they are.
	beside, besideCtx := errgroup.WithContext(ctx)
	beside.Go(func() (err error) {
		r.Sums, err = sumsOf(besideCtx, s.store, who.ShopID, jobID)
		return err
	})
	beside.Go(func() (err error) {
		r.Answers, err = s.store.AnswersOfJob(besideCtx, who.ShopID, jobID)
		return err
	})
	beside.Go(func() (err error) {
		r.Photos, err = s.store.PhotosOfJob(besideCtx, who.ShopID, jobID)
		return err
	})
	if j.CustomerID != nil {
		beside.Go(func() error {
			c, err := s.store.Customer(besideCtx, who.ShopID, *j.CustomerID)
			r.Customer = &c
			return wrap(err, "customer")
		})
	}
	of, err := recordsOf(ctx, s.store, who.ShopID, j)
	if err := errors.Join(err, beside.Wait()); err != nil {
		return record.JobPage{}, err
	}
	r.CaseRecords = of
	var page record.JobPage
	if err := s.judging(ctx, func(j *judged) { page = r.Page(j, m) }); err != nil {
		return record.JobPage{}, err
	}
	page.RulesHash = s.rules
	page.Records, err = json.Marshal(r)
	return page, err
}

// Preview judges the job as if a line had been kept, and readings had not been
// taken; nothing is written. The line may hold several readings.
func (s jobs) Preview(ctx context.Context, who Person, jobID, batteryID ID, want record.Wanted) (record.Preview, error) {
	now, err := s.seeJob(ctx, who, jobID)
	if err != nil {
		return record.Preview{}, err
	}
	var p record.Preview
	ended := s.judging(ctx, func(j *judged) { p, err = now.Preview(j, now.Moment, batteryID, want) })
	return p, cmp.Or(ended, err)
}

// Account answers for the verdict on one battery of a job: what would turn it,
// where the schools disagree, and what the customer is told.
func (s jobs) Account(ctx context.Context, who Person, jobID, batteryID ID) (diagnosis.Account, error) {
	now, err := s.seeJob(ctx, who, jobID)
	if err != nil {
		return diagnosis.Account{}, err
	}
	var a diagnosis.Account
	ended := s.judging(ctx, func(j *judged) { a, err = now.Account(j, now.Moment, batteryID) })
	return a, cmp.Or(ended, err)
}
