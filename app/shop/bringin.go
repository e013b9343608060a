package shop

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/problem"
	"grapnel/core/trail"
)

// BringIn is what is asked when something comes in. Only the battery's
// chemistry and volts are needed; everything else may be left out.
type BringIn struct {
	JobID ID
	// Customer is new or known by its ID; nil for none.
	Customer *Customer
	// Vehicle is new or known by its ID; nil for a battery by itself.
	Vehicle   *Vehicle
	Batteries []SeatedBattery
	Symptoms  []string
	Complaint string
	Place     string
	// Purpose is what the job is for; a complaint where it is not said.
	Purpose    string
	PromisedAt *time.Time
	// OpenedAt is when it came in; nil for now.
	OpenedAt *time.Time
}

func (in BringIn) check() problem.List {
	var found problem.List
	if in.JobID.IsZero() {
		found = append(found, problem.New("problem.missing", "id", "", "a UUID"))
	}
	if in.Customer != nil {
		checkText(&found, "customer.name", in.Customer.Name, 0, maxNameText)
		checkText(&found, "customer.phone", in.Customer.Phone, 0, 40)
	}
	if in.Vehicle != nil {
		checkText(&found, "vehicle.plate", in.Vehicle.Plate, 0, maxPlate)
		checkText(&found, "vehicle.description", in.Vehicle.Description, 0, 160)
		checkCode(&found, "vehicle.kind", in.Vehicle.Kind, evidence.VehicleKinds(), true)
		checkCode(&found, "vehicle.engine", in.Vehicle.Engine, evidence.Engines(), true)
		checkCode(&found, "vehicle.earth", in.Vehicle.Earth, evidence.Earths(), true)
		checkCode(&found, "vehicle.seat", in.Vehicle.Seat, trail.Places(), true)
		checkCode(&found, "vehicle.joined", in.Vehicle.Joined, trail.Joins(), true)
	}
	if len(in.Batteries) == 0 {
		found = append(found, problem.New("problem.missing", "batteries", "", "1 to 8"))
	}
	for i, b := range in.Batteries {
		found = append(found, checkBattery(fmt.Sprintf("batteries[%d]", i), b.Battery)...)
	}
	for i, symptom := range in.Symptoms {
		checkCode(&found, fmt.Sprintf("symptoms[%d]", i), symptom, evidence.Symptoms(), false)
	}
	checkText(&found, "complaint", in.Complaint, 0, maxComplaint)
	checkCode(&found, "place", in.Place, places, true)
	checkCode(&found, "purpose", in.Purpose, trail.Purposes(), true)
	return found
}

func checkCode(found *problem.List, field, code string, codes []string, optional bool) {
	if code == "" && optional || slices.Contains(codes, code) {
		return
	}
	*found = append(*found, problem.New("problem.code", field, code, problem.OneOf(codes)))
}

func checkNumber(found *problem.List, field string, x *float64, low, high float64, unit string) {
	if x != nil && !(*x >= low && *x <= high) {
		*found = append(*found, problem.New("problem.range", field, fmt.Sprint(*x), problem.Range(low, high, unit)))
	}
}

// checkBattery holds a label against what labels can say.
func checkBattery(path string, b Battery) problem.List {
	var found problem.List
	l := b.Label
	checkText(&found, path+".tag", b.Tag, 0, 40)
	checkText(&found, path+".maker", b.Maker, 0, maxNameText)
	checkCode(&found, path+".posts", b.Posts, trail.Posts(), true)
	checkCode(&found, path+".label.chemistry", string(l.Chemistry), battery.Chemistries(), false)
	if !slices.Contains(battery.NominalVolts(), float64(l.NominalV)) {
		found = append(found, problem.New("problem.code", path+".label.nominal_v", fmt.Sprint(float64(l.NominalV)), "6, 8, 12, 24 V"))
	}
	if l.Rating != nil {
		value := float64(l.Rating.Value)
		checkNumber(&found, path+".label.rating.value", &value, 10, 3000, "A")
		checkCode(&found, path+".label.rating.standard", string(l.Rating.Standard), battery.Standards(), false)
	}
	checkNumber(&found, path+".label.capacity_ah", (*float64)(l.CapacityAh), 0.5, 1000, "Ah")
	checkNumber(&found, path+".label.reserve_min", (*float64)(l.ReserveMin), 1, 2000, "min")
	checkNumber(&found, path+".label.label_load_a", (*float64)(l.LabelLoadA), 5, 2000, "A")
	checkNumber(&found, path+".label.full_sg", l.FullSG, 1.2, 1.32, "")
	if l.Made != "" && !evidence.ValidMade(l.Made) {
		found = append(found, problem.New("problem.code", path+".label.made", l.Made, "YYYY, YYYY-MM"))
	}
	return found
}

// BringIn opens a job: the customer, vehicle and batteries that are new are
// written down with it, all or nothing. The same job twice is opened once.
func (s *Service) BringIn(ctx context.Context, who Person, in BringIn) (Job, error) {
	if err := in.check().Err(); err != nil {
		return Job{}, err
	}
	if known, err := s.store.Job(ctx, who.ShopID, in.JobID); !errors.Is(err, ErrNotFound) {
		return known, err
	}
	j, err := s.newJob(ctx, who, in)
	if err != nil {
		return Job{}, err
	}
	err = s.write(ctx, func(tx Store) error { return s.open(ctx, tx, who, in, &j) })
	return j, wrap(err, "bring it in")
}

// newJob is the job as it is opened.
func (s *Service) newJob(ctx context.Context, who Person, in BringIn) (Job, error) {
	sh, err := s.store.OnlyShop(ctx)
	if err != nil {
		return Job{}, err
	}
	at := s.stamp()
	if in.OpenedAt != nil && in.OpenedAt.Before(at) {
		at = *in.OpenedAt
	}
	j := Job{
		ID: in.JobID, State: JobOpen, Place: in.Place, Complaint: strings.TrimSpace(in.Complaint), Symptoms: in.Symptoms,
		School: sh.School, OpenedAt: at, PromisedAt: in.PromisedAt, OpenedBy: who.ID, Revision: 1,
		Purpose: cmp.Or(in.Purpose, trail.Repair),
	}
	if j.Symptoms == nil {
		j.Symptoms = []string{}
	}
	return j, nil
}

// open writes everything of a new job inside one transaction.
func (s *Service) open(ctx context.Context, tx Store, who Person, in BringIn, j *Job) error {
	if err := addCustomer(ctx, tx, who, in, j); err != nil {
		return err
	}
	if err := addVehicle(ctx, tx, who, in, j); err != nil {
		return err
	}
	if err := tx.AddJob(ctx, who.ShopID, *j); err != nil {
		return err
	}
	if err := addBatteries(ctx, tx, who, in, j); err != nil {
		return err
	}
	if err := s.judgeAnew(ctx, tx, who, j); err != nil {
		return err
	}
	return s.record(ctx, tx, who, j, "brought_in", in)
}

func addCustomer(ctx context.Context, tx Store, who Person, in BringIn, j *Job) error {
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
		c.ID = NewID()
	}
	c.Name = strings.TrimSpace(c.Name)
	j.CustomerID = &c.ID
	return tx.AddCustomer(ctx, who.ShopID, *c, j.OpenedAt)
}

func addVehicle(ctx context.Context, tx Store, who Person, in BringIn, j *Job) error {
	v := in.Vehicle
	if v == nil {
		return nil
	}
	if v.ID.IsZero() {
		v.ID = NewID()
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

// addBatteries puts the batteries on the job, and writes down new ones and
// where they sit.
func addBatteries(ctx context.Context, tx Store, who Person, in BringIn, j *Job) error {
	for i := range in.Batteries {
		b := &in.Batteries[i]
		if b.ID.IsZero() {
			b.ID = NewID()
		}
		_, err := tx.Battery(ctx, who.ShopID, b.ID)
		if errors.Is(err, ErrNotFound) {
			err = tx.AddBattery(ctx, who.ShopID, b.Battery, j.OpenedAt)
			if err == nil && j.VehicleID != nil {
				err = tx.Seat(ctx, who.ShopID, b.ID, *j.VehicleID, b.Position, j.OpenedAt)
			}
		}
		if err != nil {
			return err
		}
		if err := tx.AddJobBattery(ctx, who.ShopID, j.ID, b.ID, i, b.Position); err != nil {
			return err
		}
	}
	return nil
}
