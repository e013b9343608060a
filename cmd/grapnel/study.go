package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"grapnel/core/diagnosis"
	"grapnel/core/study"
)

// mostCases bounds a study: ten thousand take about a minute on two cores.
const mostCases = 1_000_000

// runStudy measures whether the verdict holds: JSON on standard output, or, with
// -page, the page and its figures for all fleets into a folder.
func runStudy(ctx context.Context, args []string, _ io.Reader, out, errs io.Writer) error {
	cases, seed, fleet, page := 1000, uint64(1), "standard", ""
	err := flags("study", args, errs, func(set *flag.FlagSet) {
		set.IntVar(&cases, "cases", cases, "how many virtual vehicles")
		set.Uint64Var(&seed, "seed", seed, "seed: the same one gives the same figures")
		set.StringVar(&fleet, "fleet", fleet, strings.Join(study.FleetNames(), " or "))
		set.StringVar(&page, "page", page, "write study.md and its figures, of all fleets, into this folder")
	})
	if err != nil {
		return err
	}
	if cases < 1 || cases > mostCases {
		fmt.Fprintf(errs, "cases: given %d, allowed 1 to %d\n", cases, mostCases)
		return errBadInput
	}
	if !slices.Contains(study.FleetNames(), fleet) {
		fmt.Fprintf(errs, "fleet: given %q, allowed %s\n", fleet, strings.Join(study.FleetNames(), ", "))
		return errBadInput
	}
	if page != "" {
		return writeStudy(ctx, page, cases, seed, errs)
	}
	result, _, err := studied(ctx, fleet, cases, seed, errs)
	if err != nil {
		return err
	}
	encoder := json.NewEncoder(out)
	encoder.SetIndent("", "  ")
	return encoder.Encode(result)
}

// studied runs one fleet and times it; progress goes to standard error.
func studied(ctx context.Context, fleet string, cases int, seed uint64, errs io.Writer) (study.Result, study.Fleet, error) {
	f, err := study.Load(fleet)
	if err != nil {
		return study.Result{}, f, err
	}
	begun, told := time.Now(), time.Now()
	result := study.Run(f, cases, seed, func(done int) bool {
		if time.Since(told) > 5*time.Second {
			told = time.Now()
			fmt.Fprintf(errs, "%s: %d of %d\n", fleet, done, cases)
		}
		return ctx.Err() == nil
	})
	if err := ctx.Err(); err != nil {
		return study.Result{}, f, err
	}
	result.Seconds = float64(time.Since(begun).Round(100*time.Millisecond)) / float64(time.Second)
	return result, f, nil
}

// writeStudy writes the page of all fleets.
func writeStudy(ctx context.Context, folder string, cases int, seed uint64, errs io.Writer) error {
	figures := filepath.Join(folder, "study")
	if err := os.MkdirAll(figures, 0o750); err != nil {
		return err
	}
	var results []study.Result
	var fleets []study.Fleet
	for _, name := range study.FleetNames() {
		r, f, err := studied(ctx, name, cases, seed, errs)
		if err != nil {
			return err
		}
		results, fleets = append(results, r), append(fleets, f)
		data, err := json.MarshalIndent(r, "", "  ")
		if err != nil {
			return err
		}
		files := studyFigures(r)
		files[name+".json"] = string(data) + "\n"
		for file, text := range files {
			if err := os.WriteFile(filepath.Join(figures, file), []byte(text), 0o600); err != nil {
				return err
			}
		}
	}
	scans, err := study.Scans(diagnosis.New())
	if err != nil {
		return err
	}
	for _, s := range scans {
		if err := os.WriteFile(filepath.Join(figures, "scan-"+s.Name+".svg"), []byte(scanFigure(s)), 0o600); err != nil {
			return err
		}
	}
	return os.WriteFile(filepath.Join(folder, "study.md"), []byte(studyPage(results, fleets, scans)), 0o600)
}
