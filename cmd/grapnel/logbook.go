package main

import (
	"context"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"time"

	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/store"
	"grapnel/core/evidence"
	"grapnel/core/logbook"
)

// importing is what import and export share: whose jobs, and whether a shop is
// meant at all.
type importing struct {
	serving
	as       string
	caseOnly bool
	// pictures is the folder the pictures of a job are written to, or read from.
	pictures string
}

func (i *importing) define(set *flag.FlagSet) {
	set.StringVar(&i.data, "data", os.Getenv("GRAPNEL_DATA"), "folder of the private database (default: the system's place for it)")
	set.StringVar(&i.kind, "shop", "shop", "which private database: shop or demo")
	set.StringVar(&i.as, "as", "", "sign-in of the person who does it (default: the owner)")
	set.StringVar(&i.pictures, "pictures", "", "folder of the pictures of the job, by the names in its text")
	set.BoolVar(&i.caseOnly, "case", false, "no shop: between plain text and the JSON that assess reads")
}

// importJobs reads jobs in plain text into the shop, each file whole or not at
// all, or turns one into the case that assess reads.
func importJobs(ctx context.Context, args []string, in io.Reader, out, errs io.Writer) error {
	i := importing{serving: serving{out: errs, errs: errs, attach: true}}
	set := flag.NewFlagSet("import", flag.ContinueOnError)
	set.SetOutput(errs)
	i.define(set)
	if err := set.Parse(args); err != nil {
		return parseError(err)
	}
	texts, err := contents(set.Args(), in)
	if err != nil {
		fmt.Fprintln(errs, "grapnel import:", err)
		return errBadInput
	}
	if i.caseOnly {
		return printCases(texts, out, errs)
	}
	return i.with(ctx, func(s *shop.Service, who people.Person) error {
		for _, text := range texts {
			done, err := s.Import(ctx, who, text, progress(errs))
			if problems(err, errs) {
				return errBadInput
			}
			if err != nil {
				return err
			}
			said := fmt.Sprintf("%s  %d readings", done.JobID, done.Readings)
			if done.Again {
				said = done.JobID.String() + "  imported before"
			}
			if i.pictures != "" {
				if err := i.readPictures(ctx, s, who, done.JobID, text); err != nil {
					return err
				}
			}
			fmt.Fprintln(out, said)
		}
		return nil
	})
}

// progressFrom is the number of readings from which the progress of an import is shown.
const progressFrom = 500

// progress says how far a long import has come.
func progress(errs io.Writer) shop.Progress {
	return func(done, total int) {
		if total >= progressFrom {
			fmt.Fprintf(errs, "%d of %d readings\n", done, total)
		}
	}
}

func parseError(err error) error {
	if errors.Is(err, flag.ErrHelp) {
		return err
	}
	return errBadInput
}

// contents are the files named, or standard input.
func contents(names []string, in io.Reader) ([]string, error) {
	if len(names) == 0 {
		data, err := io.ReadAll(in)
		return []string{string(data)}, err
	}
	texts := make([]string, len(names))
	for i, name := range names {
		data, err := os.ReadFile(name)
		if err != nil {
			return nil, err
		}
		texts[i] = string(data)
	}
	return texts, nil
}

// printCases writes each battery of the jobs as a case.
func printCases(texts []string, out, errs io.Writer) error {
	var cases []evidence.Case
	for _, text := range texts {
		book, err := logbook.Parse(text)
		if problems(err, errs) {
			return errBadInput
		}
		for i := range book.Batteries {
			cases = append(cases, book.Case(i))
		}
	}
	encoder := json.NewEncoder(out)
	encoder.SetIndent("", "  ")
	for _, c := range cases {
		if err := encoder.Encode(c); err != nil {
			return err
		}
	}
	return nil
}

// exportJob writes a job of the shop as plain text, or a case.
func exportJob(ctx context.Context, args []string, in io.Reader, out, errs io.Writer) error {
	i := importing{serving: serving{out: errs, errs: errs, attach: true}}
	var job, plate string
	if err := flags("export", args, errs, func(set *flag.FlagSet) {
		i.define(set)
		set.StringVar(&job, "job", "", "ID of the job (default: the one opened last)")
		set.StringVar(&plate, "plate", "", "the last job of the vehicle with this plate")
	}); err != nil {
		return err
	}
	if i.caseOnly {
		return printBook(in, out, errs)
	}
	return i.with(ctx, func(s *shop.Service, who people.Person) error {
		id, err := record.ParseID(job)
		if job != "" && err != nil {
			fmt.Fprintf(errs, "grapnel export: job: %q is not an ID. Allowed: a UUID\n", job)
			return errBadInput
		}
		if job == "" {
			id, err = s.LatestJob(ctx, who, plate)
		}
		if err == nil {
			var text string
			if text, err = s.Export(ctx, who, id); err == nil {
				_, err = io.WriteString(out, text)
			}
			if err == nil && i.pictures != "" {
				err = i.writePictures(ctx, s, who, id)
			}
		}
		if errors.Is(err, shop.ErrNotFound) {
			fmt.Fprintln(errs, "grapnel export: there is no such job")
			return errBadInput
		}
		return err
	})
}

// writePictures writes the pictures of a job as files, by the names its text has.
func (i *importing) writePictures(ctx context.Context, s *shop.Service, who people.Person, job record.ID) error {
	if err := os.MkdirAll(i.pictures, 0o755); err != nil {
		return err
	}
	return s.Pictures(ctx, who, job, func(p record.Photo, body []byte) error {
		return os.WriteFile(filepath.Join(i.pictures, shop.PhotoName(p)), body, 0o644)
	})
}

// readPictures keeps the pictures that a job's text names, each once.
func (i *importing) readPictures(ctx context.Context, s *shop.Service, who people.Person, job record.ID, text string) error {
	book, err := logbook.Parse(text)
	if err != nil {
		return err
	}
	for _, named := range book.Photos {
		body, err := os.ReadFile(filepath.Join(i.pictures, filepath.Base(named.Name)))
		if err != nil {
			return fmt.Errorf("pictures: %w", err)
		}
		p := record.Photo{ID: job.Named([]byte(named.Name)), MediaType: http.DetectContentType(body), Note: named.Note, TakenAt: named.At}
		if err := s.KeepPhoto(ctx, who, job, p, body); err != nil {
			return fmt.Errorf("%s: %w", named.Name, err)
		}
	}
	return nil
}

// printBook writes a case as plain text.
func printBook(in io.Reader, out, errs io.Writer) error {
	c, err := evidence.Decode(in)
	if problems(err, errs) {
		return errBadInput
	}
	if err != nil {
		return err
	}
	_, err = io.WriteString(out, logbook.Print(logbook.FromCase(c)))
	return err
}

// with opens the shop's database and finds the person.
func (i *importing) with(ctx context.Context, do func(*shop.Service, people.Person) error) (err error) {
	db, closeDB, err := i.database(ctx)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, closeDB()) }()
	s := shop.NewService(store.New(db), time.Now)
	who, err := i.person(ctx, s)
	if err != nil {
		return err
	}
	return do(s, who)
}

// person is who does it: whoever is named, or an owner where there is one shop.
func (i *importing) person(ctx context.Context, s *shop.Service) (people.Person, error) {
	shops, err := s.Shops(ctx)
	if err != nil {
		return people.Person{}, err
	}
	switch {
	case len(shops) == 0:
		return people.Person{}, errors.New("there is no shop yet: start it with grapnel serve, set it up, then import")
	case len(shops) > 1 && i.as == "":
		return people.Person{}, fmt.Errorf("there are %d shops in this database: name who does it with -as", len(shops))
	}
	for _, sh := range shops {
		list, err := s.People(ctx, people.Person{ShopID: sh.ID})
		if err != nil {
			return people.Person{}, err
		}
		for _, p := range list {
			if p.Active && (i.as == p.SignIn || i.as == "" && p.Role == people.Owner) {
				return p, nil
			}
		}
	}
	return people.Person{}, fmt.Errorf("nobody signs in as %q", i.as)
}
