package backup

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"
)

// How many backups are kept: the latest of each of so many days, weeks and months.
// Common practice, no source.
const (
	keepDays   = 7
	keepWeeks  = 5
	keepMonths = 12
)

// Kept lists the backups of a folder by when they were made, the latest first. Only their
// names are looked at.
func Kept(dir string) ([]Named, error) {
	entries, err := os.ReadDir(dir)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, nil
	}
	if err != nil {
		return nil, fmt.Errorf("backups: %w", err)
	}
	var out []Named
	for _, e := range entries {
		text, isOurs := strings.CutPrefix(strings.TrimSuffix(e.Name(), suffix), prefix)
		at, err := time.Parse(stamp, text)
		if isOurs && err == nil && strings.HasSuffix(e.Name(), suffix) {
			out = append(out, Named{filepath.Join(dir, e.Name()), at})
		}
	}
	slices.SortFunc(out, func(a, b Named) int { return b.At.Compare(a.At) })
	return out, nil
}

// Named is a backup by its name.
type Named struct {
	Path string
	At   time.Time
}

// Rotate takes away the backups that others stand for: of each day, week and month the latest
// is kept, as far back as so many of each go. What a killed run left behind goes as well.
func Rotate(dir string, now time.Time) error {
	list, err := Kept(dir)
	if err != nil {
		return err
	}
	stale, err := filepath.Glob(filepath.Join(dir, prefix+"*"+suffix+unfinished))
	if err != nil {
		return err
	}
	for _, path := range stale {
		if info, statErr := os.Stat(path); statErr == nil && now.Sub(info.ModTime()) > 24*time.Hour {
			err = errors.Join(err, gone(os.Remove(path)))
		}
	}
	for _, one := range spare(list) {
		err = errors.Join(err, gone(os.Remove(one.Path)))
	}
	return err
}

// spare are those of a list, the latest first, that need not be kept.
func spare(list []Named) []Named {
	type period struct {
		most int
		name func(time.Time) string
		seen map[string]bool
	}
	periods := []*period{
		{keepDays, func(t time.Time) string { return t.Format(time.DateOnly) }, map[string]bool{}},
		{keepWeeks, func(t time.Time) string { y, w := t.ISOWeek(); return fmt.Sprint(y, " ", w) }, map[string]bool{}},
		{keepMonths, func(t time.Time) string { return t.Format("2006-01") }, map[string]bool{}},
	}
	var out []Named
	for _, one := range list {
		kept := false
		for _, p := range periods {
			name := p.name(one.At)
			if !p.seen[name] && len(p.seen) < p.most {
				p.seen[name], kept = true, true
			}
		}
		if !kept {
			out = append(out, one)
		}
	}
	return out
}
