package shop

import (
	"context"
	"errors"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"grapnel/core/logbook"
	"grapnel/core/reading"
	"grapnel/core/trail"
	"grapnel/core/wording"
)

// Imported says what importing a job did.
type Imported struct {
	JobID ID
	// Again tells that the same text had been imported before.
	Again    bool
	Readings int
}

// Import takes a job from plain text, all or nothing. The same text twice is
// imported once: its content is its idempotency key. A vehicle that the shop
// knows by its plate is that vehicle, and a battery in it with the same tag that
// battery.
func (s *Service) Import(ctx context.Context, who Person, text string) (Imported, error) {
	book, err := logbook.Parse(text)
	if err != nil {
		return Imported{}, err
	}
	in := bringInFrom(book, ID(uuid.NewSHA1(uuid.UUID(who.ShopID), []byte(text))))
	if err := s.recognise(ctx, who, &in); err != nil {
		return Imported{}, err
	}
	out := Imported{JobID: in.JobID}
	if _, err := s.store.Job(ctx, who.ShopID, in.JobID); !errors.Is(err, ErrNotFound) {
		out.Again = true
		return out, err
	}
	if err := in.check().Err(); err != nil {
		return Imported{}, err
	}
	j, err := s.newJob(ctx, who, in)
	if err != nil {
		return Imported{}, err
	}
	if book.School != "" {
		j.School = book.School
	}
	err = s.write(ctx, func(tx Store) error {
		out.Readings = 0
		if err := s.open(ctx, tx, who, in, &j); err != nil {
			return err
		}
		for i, one := range book.Batteries {
			for n, line := range one.Lines {
				keep := Keep{ID: partID(in.JobID, i*maxImported+n+1), BatteryID: in.Batteries[i].ID, Line: line.Typed, TakenAt: j.OpenedAt}
				if _, err := s.addReading(ctx, tx, who, &j, keep, line.Reading); err != nil {
					return err
				}
				out.Readings++
			}
		}
		return s.judgeAnew(ctx, tx, who, &j)
	})
	return out, wrap(err, "import")
}

// maxImported parts the readings of one battery from those of the next.
const maxImported = 1 << 16

// partID is the ID of a part of a thing, made from the thing's own: the same
// every time.
func partID(whole ID, part int) ID {
	return ID(uuid.NewSHA1(uuid.UUID(whole), []byte{byte(part >> 24), byte(part >> 16), byte(part >> 8), byte(part)}))
}

func bringInFrom(book logbook.Book, id ID) BringIn {
	in := BringIn{JobID: id, Symptoms: book.Symptoms, Complaint: book.Complaint, Place: book.Place}
	if !book.AsOf.IsZero() {
		at := book.AsOf.UTC().Truncate(time.Microsecond)
		in.OpenedAt = &at
	}
	if book.Customer != "" || book.Phone != "" {
		in.Customer = &Customer{Name: book.Customer, Phone: book.Phone}
	}
	if book.Plate != "" || book.Description != "" || book.Vehicle.Kind != "" {
		in.Vehicle = &Vehicle{Plate: book.Plate, Description: book.Description, Vehicle: book.Vehicle}
	}
	for _, one := range book.Batteries {
		seated := SeatedBattery{Battery: Battery{Tag: one.Tag, Maker: one.Maker, Label: one.Label}, Position: one.Label.Position}
		seated.Label.Position = ""
		in.Batteries = append(in.Batteries, seated)
	}
	return in
}

// recognise finds the vehicle by its plate and its batteries by their tags.
func (s *Service) recognise(ctx context.Context, who Person, in *BringIn) error {
	if in.Vehicle == nil || in.Vehicle.Plate == "" {
		return nil
	}
	found, err := s.FindVehicles(ctx, who, in.Vehicle.Plate)
	if err != nil {
		return err
	}
	for _, known := range found {
		if known.Plate != strings.ToUpper(strings.TrimSpace(in.Vehicle.Plate)) {
			continue
		}
		in.Vehicle, in.Customer = &known.Vehicle, nil
		for i := range in.Batteries {
			at := slices.IndexFunc(known.Batteries, func(b SeatedBattery) bool { return b.Tag != "" && b.Tag == in.Batteries[i].Tag })
			if at >= 0 {
				in.Batteries[i] = known.Batteries[at]
			}
		}
		return nil
	}
	return nil
}

// Export writes a job as plain text: its label, its vehicle and every reading
// that stands, as it was typed. A reading whose time its line does not tell gets
// it behind; one that was withdrawn is a remark.
func (s *Service) Export(ctx context.Context, who Person, jobID ID) (string, error) {
	r, err := s.recordsOf(ctx, who, jobID)
	if err != nil {
		return "", err
	}
	j, vehicle := r.Job, r.Vehicle
	answers, err := s.store.AnswersOfJob(ctx, who.ShopID, jobID)
	if err != nil {
		return "", err
	}
	sh, err := s.store.OnlyShop(ctx)
	if err != nil {
		return "", err
	}
	book := logbook.Book{AsOf: j.OpenedAt, Complaint: j.Complaint, Place: j.Place, Symptoms: j.Symptoms, School: j.School}
	if j.CustomerID != nil {
		c, err := s.store.Customer(ctx, who.ShopID, *j.CustomerID)
		if err != nil {
			return "", wrap(err, "customer")
		}
		book.Customer, book.Phone = c.Name, c.Phone
	}
	if vehicle != nil {
		book.Plate, book.Description, book.Vehicle = vehicle.Plate, vehicle.Description, vehicle.Vehicle
	}
	for i, c := range r.cases() {
		one := logbook.Battery{Label: c.Label, Tag: c.battery.Tag, Maker: c.battery.Maker}
		one.Label.Position = c.battery.Position
		for _, v := range c.readings {
			if v.BatteryID == c.battery.ID {
				one.Lines = append(one.Lines, exported(v, j, sh.Location()))
			}
		}
		a := s.engine.Assess(c.Case)
		one.Lines = append(one.Lines, remarks(situationOf(j, vehicle, c, a, answers), trail.Stages(c.Case, a, j.Purpose, false), c, i == 0)...)
		book.Batteries = append(book.Batteries, one)
	}
	return logbook.Print(book), nil
}

// remarks are what people did about a battery besides readings: the steps answered and
// the stop rules lifted, each with who and why. What belongs to the job stands with
// the first.
func remarks(sit *trail.Situation, stages []trail.Stage, c jobCase, first bool) []logbook.Line {
	var out []logbook.Line
	add := func(words ...string) {
		// A remark is one line, whatever was typed into it.
		out = append(out, logbook.Line{Typed: "# " + strings.Join(strings.Fields(strings.Join(words, "; ")), " ")})
	}
	for _, stage := range stages {
		for _, step := range trail.Steps(sit, stage.Code) {
			if step.By == "" || !first && trail.OfJob(step.Code) {
				continue
			}
			words := []string{wording.Text("answered."+step.State, nil) + ", " + step.By, step.Text.Text}
			if step.Note != "" {
				words = append(words, step.Note)
			}
			add(words...)
		}
	}
	for _, one := range c.cleared {
		if one.BatteryID == c.battery.ID {
			add(wording.Text("answered.lifted", nil)+", "+one.By, string(one.Stop), one.Reason)
		}
	}
	return out
}

// exported is a reading's line with its time where the line alone, taken when
// the job was opened, would not give it back.
func exported(v ReadingView, j Job, zone *time.Location) logbook.Line {
	if v.Index < 0 {
		return logbook.Line{Typed: "# " + v.Typed + " (" + v.Reason + ")"}
	}
	parsed, err := reading.Parse(v.Typed)
	if err == nil && takenAt(j.OpenedAt, parsed.Reading.At, j.OpenedAt, zone).Equal(v.TakenAt) {
		return logbook.Line{Typed: v.Typed}
	}
	at := v.TakenAt.UTC().Format(time.RFC3339Nano)
	if parsed.Reading.At == "" {
		return logbook.Line{Typed: v.Typed + " at " + at}
	}
	parsed.Reading.At = at
	return logbook.Line{Typed: reading.Print(parsed.Reading)}
}

// LatestJob is the job opened last, or the last of a vehicle by its plate.
func (s *Service) LatestJob(ctx context.Context, who Person, plate string) (ID, error) {
	if plate != "" {
		return s.latestOf(ctx, who, plate)
	}
	latest := Job{}
	for _, state := range []string{JobOpen, JobClosed} {
		rows, err := s.store.JobRows(ctx, who.ShopID, state, s.stamp().Add(time.Hour), ID{}, 1)
		if err != nil {
			return ID{}, err
		}
		if len(rows) > 0 && rows[0].Job.OpenedAt.After(latest.OpenedAt) {
			latest = rows[0].Job
		}
	}
	if latest.ID.IsZero() {
		return ID{}, ErrNotFound
	}
	return latest.ID, nil
}

func (s *Service) latestOf(ctx context.Context, who Person, plate string) (ID, error) {
	found, err := s.FindVehicles(ctx, who, plate)
	if err != nil {
		return ID{}, err
	}
	if len(found) == 0 {
		return ID{}, ErrNotFound
	}
	jobs, err := s.store.JobsOfVehicle(ctx, who.ShopID, found[0].ID)
	if err != nil {
		return ID{}, err
	}
	if len(jobs) == 0 {
		return ID{}, ErrNotFound
	}
	return jobs[0].ID, nil
}
