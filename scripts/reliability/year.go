package main

import (
	"cmp"
	"context"
	"errors"
	"flag"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"time"

	"grapnel/app/localdb"
	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store"
	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/trail"
)

// visits are what is called out on one job.
var visits = [][]string{
	{"12.24 v 17c rested 2h", "look corrosion positive heavy", "load 270a 15s 8.9v", "charge 14.2v 6.1a 90min cool no gas", "12.66 v rested 3h after charge", "load 270a 15s 10.1v", "running 14.2 v", "drop positive_clamp 0.08v 150a"},
	{"11.9 v 12c rested 8h", "sg 1180 1185 1175 1180 1110 1180 at 15c", "eye dark", "charge 14.4v 5.0a 120min warm gas", "12.5 v rested 2h after charge", "load 270a 15s 8.2v"},
	{"12.6 v 20c rested 3h", "520/540 cca sae flooded 12.6v", "drain 85 ma asleep 40min", "fuse F12 15a 1.2mv asleep 40min", "running 13.9 v raised loads on", "ripple 0.04 v"},
	{"12.4 v rested 1h", "crank 9.8v 3s slow", "starter 145a 10.1v stud 9.6v", "drop negative_clamp 0.45v 150a", "drop negative_clamp 0.06v 150a", "crank 10.6v 1s", "running 14.3 v"},
}

// year works a busy shop for a year in a database of its own and says how large it became.
func year(ctx context.Context, args []string) (err error) {
	set := flag.NewFlagSet("year", flag.ExitOnError)
	asked := set.Int("jobs", 6000, "jobs of the year: 20 a day on 300 days")
	_ = set.Parse(args) // it ends the program where something is wrong
	jobs := *asked
	dir, err := os.MkdirTemp("", "grapnel-year-")
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(dir)) }()
	if err := os.Chmod(dir, 0o755); err != nil {
		return err
	}
	server, err := localdb.Start(ctx, localdb.Options{Dir: dir, Throwaway: true})
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, server.Stop()) }()
	db, err := store.Open(server.DSN())
	if err != nil {
		return err
	}
	defer db.Close()
	if _, err := store.Migrate(ctx, db); err != nil {
		return err
	}
	clock := time.Now().AddDate(-1, 0, 0)
	s := shop.NewService(store.New(db), func() time.Time { return clock })
	owner, err := s.SetUp(ctx, shop.SetUp{ShopName: "A year", TimeZone: "UTC", Name: "Ada Quill", SignIn: "ada", Password: "blue heron on the lock"})
	if err != nil {
		return err
	}
	began := time.Now()
	readings := 0
	for n := range jobs {
		kept, err := work(ctx, s, owner, n, &clock)
		if err != nil {
			return fmt.Errorf("job %d: %w", n, err)
		}
		readings += kept
		if n%500 == 499 {
			if err := s.ThinVerdicts(ctx); err != nil {
				return err
			}
			fmt.Fprintf(os.Stderr, "%d jobs, %s\n", n+1, time.Since(began).Round(time.Second))
		}
		clock = clock.Add(365 * 24 * time.Hour / time.Duration(jobs+1))
	}
	if err := s.ThinVerdicts(ctx); err != nil {
		return err
	}
	fmt.Printf("%d jobs with %d readings in %s\n", jobs, readings, time.Since(began).Round(time.Second))
	return sizes(dir)
}

// work brings one vehicle in, reads it, answers what is asked and hands it back.
func work(ctx context.Context, s *shop.Service, owner people.Person, n int, clock *time.Time) (int, error) {
	rating := &battery.Rating{Value: 540, Standard: battery.SAE}
	in := shop.BringIn{
		JobID: record.NewID(), Symptoms: []string{"slow_crank"}, Complaint: "cranks slowly in the morning",
		Customer:  &record.Customer{Name: fmt.Sprintf("Customer %d", n%2500), Phone: "01632 960000"},
		Vehicle:   &record.Vehicle{Plate: fmt.Sprintf("Y %d K", n), Description: "Family estate, 1.6 petrol", Vehicle: evidence.Vehicle{Kind: "car", Engine: "petrol"}},
		Batteries: []record.Fitted{{Battery: record.Battery{Maker: "Capstan", Label: battery.Label{Chemistry: battery.Flooded, NominalV: 12, Rating: rating, Made: "2022-04"}}}},
	}
	if _, err := s.BringIn(ctx, owner, in); err != nil {
		return 0, err
	}
	page, err := s.JobPage(ctx, owner, in.JobID)
	if err != nil {
		return 0, err
	}
	lines := visits[rand.IntN(len(visits))]
	for _, line := range lines {
		*clock = clock.Add(90 * time.Second)
		keep := record.Keep{ID: record.NewID(), BatteryID: page.Batteries[0].ID, Line: line, TakenAt: *clock}
		if _, err := s.Keep(ctx, owner, in.JobID, keep); err != nil {
			return 0, fmt.Errorf("%s: %w", line, err)
		}
	}
	return len(lines), handBack(ctx, s, owner, in.JobID)
}

// handBack answers what is open and hands the job back.
func handBack(ctx context.Context, s *shop.Service, owner people.Person, job record.ID) error {
	page, err := s.JobPage(ctx, owner, job)
	if err != nil {
		return err
	}
	for _, b := range page.Batteries {
		for _, stage := range b.Work.Stages {
			for _, step := range stage.Steps {
				if step.State != "open" || !step.Must {
					continue
				}
				said := record.StepAnswer{ID: record.NewID(), BatteryID: b.ID, Code: step.Code, Value: trail.NotDone, Note: "the customer did not want it"}
				if err := s.Answer(ctx, owner, job, said); err != nil {
					return fmt.Errorf("%s: %w", step.Code, err)
				}
			}
		}
	}
	return s.Close(ctx, owner, job)
}

// sizes says what each table takes on disk, the largest first.
func sizes(dir string) error {
	files, err := filepath.Glob(filepath.Join(dir, "data", "grapnel", "*.ibd"))
	if err != nil {
		return err
	}
	type table struct {
		name  string
		bytes int64
	}
	var list []table
	total := int64(0)
	for _, file := range files {
		info, err := os.Stat(file)
		if err != nil {
			return err
		}
		list = append(list, table{filepath.Base(file), info.Size()})
		total += info.Size()
	}
	slices.SortFunc(list, func(a, b table) int { return cmp.Compare(b.bytes, a.bytes) })
	for _, one := range list {
		if one.bytes > 1<<20 {
			fmt.Printf("%8.1f MB  %s\n", float64(one.bytes)/(1<<20), one.name)
		}
	}
	fmt.Printf("%8.1f MB  in all\n", float64(total)/(1<<20))
	return nil
}
