package shop

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"grapnel/app/record"
	"grapnel/core/evidence"
	"grapnel/core/logbook"
	"grapnel/core/problem"
	"grapnel/core/reading"
	"grapnel/core/trail"
	"grapnel/core/wording"
)

// logbooks are jobs as plain text.
type logbooks struct{ *house }

// Imported says what importing a job did.
type Imported struct {
	JobID ID
	// Again tells that the same text had been imported before.
	Again    bool
	Readings int
}

// Progress is told how far a long work has come.
type Progress func(done, total int)

// maxImported is how many readings a job is imported with at the most; it parts those of
// one battery from those of the next in their IDs as well.
const maxImported = 1 << 16

// importStep is how many rows are written at a time.
const importStep = 250

// mostLines is how many readings one text may hold.
const mostLines = 10000

// Import takes a job from plain text, all or nothing. The same text twice is
// imported once: its content is its idempotency key. A vehicle that the shop
// knows by its plate is that vehicle, and a battery in it with the same tag that
// battery. What was read then was done then: no stop rule forbids to write it down.
func (s logbooks) Import(ctx context.Context, who Person, text string, tell Progress) (Imported, error) {
	book, err := logbook.Parse(text)
	if err != nil {
		return Imported{}, err
	}
	total := 0
	for _, b := range book.Batteries {
		total += len(b.Lines)
	}
	if total > mostLines {
		return Imported{}, problem.List{problem.New("problem.range", "readings", fmt.Sprint(total), problem.Range(0, mostLines, "lines"))}
	}
	in := bringInFrom(book, who.ShopID.Named([]byte(text)))
	if err := in.check(s.stamp(), []string{in.Place}).Err(); err != nil {
		return Imported{}, err
	}
	out := Imported{JobID: in.JobID, Readings: total}
	err = s.write(ctx, func(tx Tx) error {
		again, err := s.once(ctx, tx, who, keyed{id: in.JobID, kind: "brought_in", body: map[string]any{"text": len(text)}}, nil)
		if out.Again = again; again || err != nil {
			return err
		}
		return s.take(ctx, tx, who, in.copied(), book, tell)
	})
	return out, wrap(err, "import")
}

// take writes an imported job inside one transaction.
func (s logbooks) take(ctx context.Context, tx Tx, who Person, in BringIn, book logbook.Book, tell Progress) error {
	if err := recognise(ctx, tx, who, &in); err != nil {
		return err
	}
	if err := ensurePlace(ctx, tx, who.ShopID, in.Place, s.stamp()); err != nil {
		return err
	}
	opening := jobs{house: s.house}
	j, err := opening.newJob(ctx, tx, who, in)
	if err != nil {
		return err
	}
	if book.School != "" {
		j.School = book.School
	}
	r, err := opening.open(ctx, tx, who, in, &j)
	if err != nil {
		return err
	}
	m, err := s.moment(ctx, tx, who.ShopID)
	if err != nil {
		return err
	}
	for i, one := range book.Batteries {
		rows, err := importRows(in.JobID, i, one, r.Batteries[i].ID, j, m)
		if err != nil {
			return err
		}
		for n := range rows {
			rows[n].PersonID, rows[n].Ordinal = who.ID, len(r.Rows)+n+1
		}
		r.Rows = append(r.Rows, rows...)
		clearings, err := importClearings(in.JobID, i, one, rows, j, who, m)
		if err != nil {
			return err
		}
		for _, c := range clearings {
			if err := tx.AddClearing(ctx, who.ShopID, c); err != nil {
				return err
			}
		}
		r.Clearings = append(r.Clearings, clearings...)
	}
	for from := 0; from < len(r.Rows); from += importStep {
		to := min(from+importStep, len(r.Rows))
		if err := tx.AddReadings(ctx, who.ShopID, r.Rows[from:to]...); err != nil {
			return err
		}
		if tell != nil {
			tell(to, len(r.Rows))
		}
	}
	if err := s.judge(ctx, tx, who.ShopID, scene{r, m}); err != nil {
		return err
	}
	did := map[string]any{"job": j, "readings": len(r.Rows), "clearings": len(r.Clearings), "limits": book.Own}
	return s.tell(ctx, tx, who, &j, "imported", did)
}

// ensurePlace adds a place that an imported job names and the shop does not have.
func ensurePlace(ctx context.Context, tx PlaceStore, shopID ID, name string, at time.Time) error {
	if name == "" {
		return nil
	}
	list, err := tx.Places(ctx, shopID)
	if err != nil || slices.ContainsFunc(list, func(p record.Place) bool { return p.Name == name }) {
		return err
	}
	return tx.KeepPlace(ctx, shopID, record.Place{ID: record.NewID(), Name: name, Kind: record.Yard, Ordinal: len(list) + 1}, at)
}

// importRows are the rows of one battery of a book.
func importRows(jobID ID, battery int, one logbook.Battery, batteryID ID, j record.Job, m Moment) ([]record.Reading, error) {
	rows := make([]record.Reading, 0, len(one.Lines))
	at := j.OpenedAt
	for n, line := range one.Lines {
		var problems problem.List
		if at, problems = importedAt(line.Reading.At, at, m); len(problems) > 0 {
			return nil, problem.List{problems[0].Under(fmt.Sprintf("line %d", line.Number))}
		}
		id := jobID.Part(battery*maxImported + n + 1)
		rows = append(rows, record.Reading{
			ID: id, JobID: &j.ID, BatteryID: &batteryID, VehicleID: j.VehicleID, RootID: id, Act: record.ActKept, Typed: line.Typed,
			Reading: line.Reading, TakenAt: at, TakenZone: m.Zone.String(), ReceivedAt: m.Now,
		})
	}
	return rows, nil
}

// workday is how far ahead of the reading before it a time of day may lie: the readings
// of a text stand in the order taken.
const workday = 18 * time.Hour

// importedAt is when a reading of a text was taken: as it says, else with the one before.
func importedAt(said string, before time.Time, m Moment) (time.Time, problem.List) {
	if said == "" {
		return before, nil
	}
	return evidence.TakenAt(said, before.Add(workday), m.Now, m.Zone)
}

// importClearings are the stop rules lifted for readings of one battery of a book.
func importClearings(
	jobID ID,
	battery int,
	one logbook.Battery,
	rows []record.Reading,
	j record.Job,
	who Person,
	m Moment,
) ([]record.Clearing, error) {
	var out []record.Clearing
	for n, lifted := range one.Lifted {
		c := record.Clearing{
			ID: jobID.Part(battery*maxImported + maxImported/2 + n + 1), JobID: &j.ID, BatteryID: *rows[0].BatteryID, Stop: lifted.Stop,
			Reason: strings.TrimSpace(lifted.Reason), Revision: 1, PersonID: who.ID, By: lifted.By, At: m.Now,
		}
		if lifted.By != "" && lifted.By != who.Name {
			c.Reason = fmt.Sprintf("%s (%s)", c.Reason, lifted.By)
		}
		for _, place := range lifted.Readings {
			c.Readings = append(c.Readings, rows[place].ID)
		}
		out = append(out, c)
	}
	return out, nil
}

func bringInFrom(book logbook.Book, id ID) BringIn {
	in := BringIn{JobID: id, Symptoms: book.Symptoms, Complaint: book.Complaint, Place: book.Place, Purpose: book.Purpose}
	if !book.AsOf.IsZero() {
		at := book.AsOf.UTC().Truncate(time.Microsecond)
		in.OpenedAt = &at
	}
	if book.Customer != "" || book.Phone != "" {
		in.Customer = &record.Customer{Name: book.Customer, Phone: book.Phone}
	}
	if book.Plate != "" || book.Description != "" || book.Vehicle.Kind != "" || book.Tray != "" || book.Joined != "" {
		in.Vehicle = &record.Vehicle{
			Plate:       book.Plate,
			Description: book.Description,
			Tray:        book.Tray,
			Joined:      book.Joined,
			Vehicle:     book.Vehicle,
		}
	}
	for _, one := range book.Batteries {
		fitted := record.Fitted{
			Battery:  record.Battery{Tag: one.Tag, Maker: one.Maker, Posts: one.Posts, Label: one.Label},
			Position: one.Label.Position,
		}
		fitted.Label.Position = ""
		in.Batteries = append(in.Batteries, fitted)
	}
	return in
}

// recognise finds the vehicle by its plate and its batteries by their tags.
func recognise(ctx context.Context, tx NounStore, who Person, in *BringIn) error {
	if in.Vehicle == nil || in.Vehicle.Plate == "" {
		return nil
	}
	found, err := tx.FindVehicles(ctx, who.ShopID, in.Vehicle.Plate)
	if err != nil {
		return err
	}
	for _, known := range found {
		if known.Plate != strings.ToUpper(strings.TrimSpace(in.Vehicle.Plate)) {
			continue
		}
		in.Vehicle, in.Customer = &known.Vehicle, nil
		for i := range in.Batteries {
			at := slices.IndexFunc(known.Batteries, func(b record.Fitted) bool { return b.Tag != "" && b.Tag == in.Batteries[i].Tag })
			if at >= 0 {
				in.Batteries[i] = known.Batteries[at]
			}
		}
		return nil
	}
	return nil
}

// Export writes a job as plain text: its label, its vehicle, every reading that stands,
// as it was typed, the stop rules lifted for them, the pictures by name, and the shop's
// own limits it was judged by. A reading whose time its line does not tell gets it
// behind; one that was withdrawn is a remark.
func (s logbooks) Export(ctx context.Context, who Person, jobID ID) (string, error) {
	now, err := s.seeJob(ctx, who, jobID)
	if err != nil {
		return "", err
	}
	r, m := now.CaseRecords, now.Moment
	answers, err := s.store.AnswersOfJob(ctx, who.ShopID, jobID)
	if err != nil {
		return "", err
	}
	photos, err := s.store.PhotosOfJob(ctx, who.ShopID, jobID)
	if err != nil {
		return "", err
	}
	j := r.Job
	book := logbook.Book{
		AsOf:      j.OpenedAt,
		Complaint: j.Complaint,
		Place:     j.Place,
		Symptoms:  j.Symptoms,
		School:    j.School,
		Purpose:   j.Purpose,
		Own:       record.Own(r.Limits),
	}
	if book.Purpose == trail.Repair {
		book.Purpose = "" // what is meant where nothing is said
	}
	if j.CustomerID != nil {
		c, err := s.store.Customer(ctx, who.ShopID, *j.CustomerID)
		if err != nil {
			return "", wrap(err, "customer")
		}
		book.Customer, book.Phone = c.Name, c.Phone
	}
	if v := r.Vehicle; v != nil {
		book.Plate, book.Description, book.Tray, book.Joined, book.Vehicle = v.Plate, v.Description, v.Tray, v.Joined, v.Vehicle
	}
	for _, p := range photos {
		book.Photos = append(book.Photos, logbook.Photo{At: p.TakenAt, Name: PhotoName(p), Note: p.Note})
	}
	for i, c := range r.Cases(m) {
		one := s.exported(c, r, m)
		a, err := s.assess(ctx, c.Case)
		if err != nil {
			return "", err
		}
		one.Lines = append(one.Lines, remarks(c.Situation(j, r.Vehicle, a, answers), trail.Stages(c.Case, a, j.Purpose, false), i == 0)...)
		book.Batteries = append(book.Batteries, one)
	}
	return logbook.Print(book), nil
}

// PhotoName is the name a picture has as a file.
func PhotoName(p record.Photo) string {
	return p.ID.String() + "." + strings.TrimPrefix(p.MediaType, "image/")
}

// exported is one battery of a job with its readings and the stop rules lifted for them.
func (s logbooks) exported(c record.BatteryCase, r record.CaseRecords, m Moment) logbook.Battery {
	one := logbook.Battery{Label: c.Label, Tag: c.Battery.Tag, Maker: c.Battery.Maker, Posts: c.Battery.Posts}
	one.Label.Position = c.Battery.Position
	at := r.Job.OpenedAt
	places := map[wording.Ref]int{}
	counted := 0
	for _, v := range c.Readings {
		if v.BatteryID != c.Battery.ID {
			continue
		}
		if !v.Counts {
			one.Lines = append(one.Lines, remark(v.Typed+" ("+v.Reason+")"))
			continue
		}
		one.Lines = append(one.Lines, timedLine(v, at, m))
		places[v.ID.Ref()] = counted
		at, counted = v.TakenAt, counted+1
	}
	for n, lifted := range c.Clearings {
		l := logbook.Lifted{Stop: lifted.Stop, By: lifted.By, Reason: oneLine(lifted.Reason)}
		for _, ref := range c.Case.Cleared[n].Readings {
			if place, ok := places[ref]; ok {
				l.Readings = append(l.Readings, place)
			}
		}
		if len(l.Readings) > 0 {
			one.Lifted = append(one.Lifted, l)
		}
	}
	return one
}

// timedLine is a reading's line with its time where the line alone, behind the one before
// it, would not give it back.
func timedLine(v record.ReadingView, before time.Time, m Moment) logbook.Line {
	parsed, err := reading.Parse(v.Typed)
	if err == nil {
		if at, problems := importedAt(parsed.Reading.At, before, m); len(problems) == 0 && at.Equal(v.TakenAt) {
			return logbook.Line{Typed: v.Typed}
		}
	}
	at := v.TakenAt.UTC().Format(time.RFC3339Nano)
	if parsed.Reading.At == "" {
		return logbook.Line{Typed: v.Typed + " at " + at}
	}
	parsed.Reading.At = at
	return logbook.Line{Typed: reading.Print(parsed.Reading)}
}

// remark is a line that is passed over when it is read; it is one line, whatever was
// typed into it.
func remark(text string) logbook.Line { return logbook.Line{Typed: "# " + oneLine(text)} }

func oneLine(text string) string { return strings.Join(strings.Fields(text), " ") }

// remarks are the steps that people answered about a battery, each with who and why.
// What belongs to the job stands with the first.
func remarks(sit *trail.Situation, stages []trail.Stage, first bool) []logbook.Line {
	var out []logbook.Line
	for _, stage := range stages {
		for _, step := range trail.Steps(sit, stage.Code) {
			if step.By == "" || !first && trail.OfJob(step.Code) {
				continue
			}
			words := []string{wording.Text("answered."+step.State, nil) + ", " + step.By, step.Text.Text}
			if step.Note != "" {
				words = append(words, step.Note)
			}
			out = append(out, remark(strings.Join(words, "; ")))
		}
	}
	return out
}

// LatestJob is the job opened last, or the last of a vehicle by its plate.
func (s logbooks) LatestJob(ctx context.Context, who Person, plate string) (ID, error) {
	if plate == "" {
		return s.store.LatestJob(ctx, who.ShopID)
	}
	found, err := s.store.FindVehicles(ctx, who.ShopID, plate)
	if err != nil {
		return ID{}, err
	}
	if len(found) == 0 {
		return ID{}, ErrNotFound
	}
	list, err := s.store.JobsOfVehicle(ctx, who.ShopID, found[0].ID)
	if err != nil {
		return ID{}, err
	}
	if len(list) == 0 {
		return ID{}, ErrNotFound
	}
	return list[0].ID, nil
}

// Pictures hands over the pictures of a job, one after the other.
func (s logbooks) Pictures(ctx context.Context, who Person, jobID ID, take func(record.Photo, []byte) error) error {
	list, err := s.store.PhotosOfJob(ctx, who.ShopID, jobID)
	if err != nil {
		return err
	}
	for _, p := range list {
		_, body, err := s.store.PhotoBody(ctx, who.ShopID, p.ID)
		if err != nil {
			return err
		}
		if err := take(p, body); err != nil {
			return err
		}
	}
	return nil
}
