package web

import (
	"context"
	"fmt"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/core/battery"
	"grapnel/core/charging"
	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/field"
	"grapnel/core/fitting"
	"grapnel/core/problem"
	"grapnel/core/trail"
	"grapnel/core/wording"
)

// JobPath names the job in an address.
type JobPath struct {
	JobID record.ID `path:"job"`
}

// Key is that of a change which names none of its own in its address or body.
type Key struct {
	Key record.ID `header:"Idempotency-Key" doc:"A UUIDv7 made by the client: the same change under it is made once"`
}

// under is a context whose changes are made under the key.
func (k Key) under(ctx context.Context) context.Context { return shop.WithKey(ctx, k.Key) }

type jobInput struct {
	JobPath
	Key
}

type todayInput struct {
	Before   time.Time `query:"before" doc:"Show jobs opened before this moment"`
	BeforeID record.ID `query:"before_id"`
}

type searchInput struct {
	Query string `query:"q" maxLength:"60"`
}

// BatteryInput is a battery as it is brought in or relabelled.
type BatteryInput struct {
	ID       record.ID  `json:"id" format:"uuid"`
	Tag      string     `json:"tag,omitempty" maxLength:"200"`
	Maker    string     `json:"maker,omitempty" maxLength:"200"`
	Position string     `json:"position,omitempty" maxLength:"32"`
	Posts    string     `json:"posts,omitempty" maxLength:"8"`
	Label    LabelInput `json:"label"`
}

// battery reads the input; path is where it stands in the body.
func (b BatteryInput) battery(path string) (record.Fitted, problem.List) {
	label, found := b.Label.Read(path + "label")
	return record.Fitted{
		Battery:  record.Battery{ID: b.ID, Tag: b.Tag, Maker: b.Maker, Posts: b.Posts, Label: label},
		Position: b.Position,
	}, found
}

// VehicleInput is a vehicle as it is brought in.
type VehicleInput struct {
	ID          record.ID  `json:"id" format:"uuid"`
	Plate       string     `json:"plate,omitempty" maxLength:"200"`
	Description string     `json:"description,omitempty" maxLength:"300"`
	Facts       FactsInput `json:"facts,omitempty"`
	Tray        string     `json:"tray,omitempty" maxLength:"16"`
	Joined      string     `json:"joined,omitempty" maxLength:"16"`
}

// vehicle reads the input; path is where it stands in the body.
func (v VehicleInput) vehicle(path string) (record.Vehicle, problem.List) {
	facts, found := v.Facts.Read(path + "facts")
	return record.Vehicle{ID: v.ID, Plate: v.Plate, Description: v.Description, Tray: v.Tray, Joined: v.Joined, Vehicle: facts}, found
}

// CustomerInput is a customer as they come in.
type CustomerInput struct {
	ID    record.ID `json:"id" format:"uuid"`
	Name  string    `json:"name,omitempty" maxLength:"300"`
	Phone string    `json:"phone,omitempty" maxLength:"100"`
}

type bringInInput struct {
	Body struct {
		ID         record.ID      `json:"id" format:"uuid"`
		Customer   *CustomerInput `json:"customer,omitempty"`
		Vehicle    *VehicleInput  `json:"vehicle,omitempty"`
		Batteries  []BatteryInput `json:"batteries" maxItems:"8"`
		Symptoms   []string       `json:"symptoms,omitempty" maxItems:"13"`
		Complaint  string         `json:"complaint,omitempty" maxLength:"2000"`
		Place      string         `json:"place,omitempty" maxLength:"40"`
		Purpose    string         `json:"purpose,omitempty" maxLength:"16"`
		PromisedAt *time.Time     `json:"promised_at,omitempty"`
	}
}

type relabelInput struct {
	JobPath
	Key
	Body BatteryInput
}

type describeInput struct {
	JobPath
	Key
	Body VehicleInput
}

// BatteryPath names the battery in an address.
type BatteryPath struct {
	BatteryID record.ID `path:"battery"`
}

type accountInput struct {
	JobPath
	BatteryPath
}

type chargeInput struct {
	JobPath
	BatteryPath
	Charger record.ID `query:"charger"`
	Until   string    `query:"until" enum:"testable,full,equalise"`
}

// Choices are the codes a form offers, each with its word, and the fields of the forms.
type Choices struct {
	Symptoms     []Choice `json:"symptoms"`
	Chemistries  []Choice `json:"chemistries"`
	Standards    []Choice `json:"standards"`
	VehicleKinds []Choice `json:"vehicle_kinds"`
	Places       []Choice `json:"places"`
	Purposes     []Choice `json:"purposes"`
	Trays        []Choice `json:"trays"`
	Posts        []Choice `json:"posts"`
	Joins        []Choice `json:"joins"`
	WaitsFor     []Choice `json:"waits_for"`
	Instruments  []Choice `json:"instruments"`
	// Layouts to Groups are what a case looks like from outside, Goings where an old battery
	// goes and Deposits what becomes of its deposit.
	Layouts   []Choice `json:"layouts"`
	Terminals []Choice `json:"terminals"`
	HoldDowns []Choice `json:"hold_downs"`
	VentSides []Choice `json:"vent_sides"`
	Cases     []Choice `json:"cases"`
	Groups    []Choice `json:"groups"`
	Goings    []Choice `json:"goings"`
	Deposits  []Choice `json:"deposits"`
	// LabelFields and VehicleFields are everything a label and a vehicle say.
	LabelFields   []field.Description `json:"label_fields"`
	VehicleFields []field.Description `json:"vehicle_fields"`
	// StageOfTest is where each thing that may come next is done.
	StageOfTest map[string]string `json:"stage_of_test"`
	// Takes are what each stage offers to begin, Rests how a battery stood before its
	// volts were read, LookPlaces what is looked at and Eyes what the built-in eye shows.
	Takes      map[string][]trail.Take `json:"takes"`
	Rests      []trail.Reply           `json:"rests"`
	LookPlaces []trail.LookPlace       `json:"look_places"`
	Eyes       []trail.Reply           `json:"eyes"`
	// Words is the trade's word for each code.
	Words map[string]string `json:"words"`
}

// Choice is one code and its word.
type Choice struct {
	Code string `json:"code"`
	Word string `json:"word"`
}

func choices(codes []string) []Choice {
	out := make([]Choice, len(codes))
	for i, code := range codes {
		out[i] = Choice{code, wording.Word(code)}
	}
	return out
}

// plain are choices whose codes are their own words.
func plain(codes []string) []Choice {
	out := make([]Choice, len(codes))
	for i, code := range codes {
		out[i] = Choice{code, code}
	}
	return out
}

// prefixed are choices whose codes mean something else as well: their words stand
// under a prefix.
func prefixed(prefix string, codes []string) []Choice {
	out := choices(codes)
	for i := range out {
		out[i].Word = wording.Word(prefix + out[i].Code)
	}
	return out
}

func (s *Server) jobAPI(api huma.API) {
	get(s, api, "/today", "today", "What is in the shop and what each job waits on",
		func(ctx context.Context, in *todayInput) (shop.Today, error) {
			return s.shop.Today(ctx, who(ctx), in.Before, in.BeforeID)
		})
	get(s, api, "/choices", "choices", "The codes forms offer, with their words",
		s.choices)
	get(s, api, "/vehicles", "findVehicles", "Vehicles the shop knows, by plate or customer",
		func(ctx context.Context, in *searchInput) ([]record.FoundVehicle, error) {
			return s.shop.FindVehicles(ctx, who(ctx), in.Query)
		})
	post(s, api, "/jobs", "bringIn", "Bring something in: opens a job",
		s.bringIn)
	get(s, api, "/jobs/{job}", "job", "Everything the job screen shows",
		func(ctx context.Context, in *JobPath) (record.JobPage, error) {
			return s.shop.JobPage(ctx, who(ctx), in.JobID)
		})
	get(
		s,
		api,
		"/jobs/{job}/batteries/{battery}/account",
		"account",
		"What would turn the verdict, where the schools disagree, and what the customer is told",
		func(ctx context.Context, in *accountInput) (diagnosis.Account, error) {
			return s.shop.Account(ctx, who(ctx), in.JobID, in.BatteryID)
		},
	)
	get(s, api, "/jobs/{job}/batteries/{battery}/verdicts", "verdicts", "What held of a battery on a job, the latest first",
		func(ctx context.Context, in *accountInput) ([]shop.PastVerdict, error) {
			return s.shop.Verdicts(ctx, who(ctx), in.JobID, in.BatteryID)
		})
	get(s, api, "/jobs/{job}/batteries/{battery}/charge", "planCharge", "The charge of a battery planned, and judged by its checks",
		func(ctx context.Context, in *chargeInput) (charging.Plan, error) {
			return s.shop.PlanCharge(ctx, who(ctx), in.JobID, in.BatteryID, shop.WhichCharge{ChargerID: in.Charger, Until: in.Until})
		})
	post(s, api, "/jobs/{job}/close", "closeJob", "Hand the job back",
		func(ctx context.Context, in *jobInput) (record.JobPage, error) {
			return s.pageAfter(ctx, in.JobID, s.shop.Close(in.under(ctx), who(ctx), in.JobID))
		})
	post(s, api, "/jobs/{job}/reopen", "reopenJob", "Take a closed job up again",
		func(ctx context.Context, in *jobInput) (record.JobPage, error) {
			return s.pageAfter(ctx, in.JobID, s.shop.Reopen(in.under(ctx), who(ctx), in.JobID))
		})
	put(s, api, "/jobs/{job}/label", "relabel", "Correct or complete a battery's label",
		func(ctx context.Context, in *relabelInput) (record.JobPage, error) {
			b, found := in.Body.battery("")
			if err := found.Err(); err != nil {
				return record.JobPage{}, err
			}
			return s.pageAfter(ctx, in.JobID, s.shop.Relabel(in.under(ctx), who(ctx), in.JobID, b.Battery))
		})
	put(s, api, "/jobs/{job}/vehicle", "describe", "Correct or complete what is known of the job's vehicle",
		func(ctx context.Context, in *describeInput) (record.JobPage, error) {
			v, found := in.Body.vehicle("")
			if err := found.Err(); err != nil {
				return record.JobPage{}, err
			}
			return s.pageAfter(ctx, in.JobID, s.shop.Describe(in.under(ctx), who(ctx), in.JobID, v))
		})
	get(s, api, "/batteries/{battery}", "battery", "One battery's life",
		func(ctx context.Context, in *BatteryPath) (shop.BatteryPage, error) {
			return s.shop.BatteryPage(ctx, who(ctx), in.BatteryID)
		})
}

// pageAfter is the job as it stands after a change, or the change's error.
func (s *Server) pageAfter(ctx context.Context, jobID record.ID, err error) (record.JobPage, error) {
	if err != nil {
		return record.JobPage{}, err
	}
	return s.shop.JobPage(ctx, who(ctx), jobID)
}

func (s *Server) bringIn(ctx context.Context, in *bringInInput) (record.Job, error) {
	b := in.Body
	out := shop.BringIn{
		JobID:      b.ID,
		Symptoms:   b.Symptoms,
		Complaint:  b.Complaint,
		Place:      b.Place,
		Purpose:    b.Purpose,
		PromisedAt: b.PromisedAt,
	}
	if c := b.Customer; c != nil {
		out.Customer = &record.Customer{ID: c.ID, Name: c.Name, Phone: c.Phone}
	}
	var found problem.List
	if v := b.Vehicle; v != nil {
		read, bad := v.vehicle("vehicle.")
		found = append(found, bad...)
		out.Vehicle = &read
	}
	for i, one := range b.Batteries {
		fitted, bad := one.battery(fmt.Sprintf("batteries[%d].", i))
		found = append(found, bad...)
		out.Batteries = append(out.Batteries, fitted)
	}
	if err := found.Err(); err != nil {
		return record.Job{}, err
	}
	return s.shop.BringIn(ctx, who(ctx), out)
}

func (s *Server) choices(ctx context.Context, _ *none) (Choices, error) {
	list, err := s.shop.Places(ctx, who(ctx))
	if err != nil {
		return Choices{}, err
	}
	places := make([]Choice, len(list))
	for i, p := range list {
		places[i] = Choice{p.Name, p.Name}
	}
	return Choices{
		Symptoms: choices(evidence.Symptoms()), Chemistries: choices(battery.Chemistries()), Standards: choices(battery.Standards()),
		VehicleKinds: choices(evidence.VehicleKinds()), Places: places, Purposes: choices(trail.Purposes()), Trays: choices(trail.Places()),
		Posts: choices(trail.Posts()), Joins: choices(trail.Joins()), WaitsFor: prefixed("waits_", shop.WaitsFor()),
		Instruments: prefixed("instrument_", shop.InstrumentKinds()),
		Layouts:     choices(fitting.Layouts()), Terminals: choices(fitting.TerminalKinds()), HoldDowns: choices(fitting.HoldDowns()),
		VentSides: choices(fitting.VentSides()), Cases: plain(fitting.Cases()), Groups: plain(fitting.Groups()),
		Goings: prefixed("goes_", record.Goings()), Deposits: prefixed("deposit_", record.Deposits()),
		LabelFields: battery.Fields().Describe(), VehicleFields: evidence.VehicleFields().Describe(),
		StageOfTest: trail.StagesOfTests(), Takes: trail.Takes(), Rests: trail.Rests(), LookPlaces: trail.LookPlaces(), Eyes: trail.Eyes(),
		Words: wording.Words(),
	}, nil
}
