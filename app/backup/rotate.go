package backup

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"time"
)

// How many daily backups are kept: the latest of each of so many days, weeks and months. Of
// those made before an upgrade the latest few are kept however old they are; those that
// somebody asked for are kept until somebody takes them away. Common practice, no source.
const (
	keepDays     = 7
	keepWeeks    = 5
	keepMonths   = 12
	keepUpgrades = 3
)

// partLife is how old a file has to be that a killed run left behind before it goes: longer
// than any backup takes.
const partLife = 24 * time.Hour

// Rotate takes away the backups of a database that others of the same kind stand for, and says
// which. Of another database, or of a release whose names do not say of which, none is touched;
// nor is one whose name says that it is yet to be made: the clock was ahead then. What a killed
// run left behind goes as well.
func Rotate(dir, database string, now time.Time) (gone []string, err error) {
	list, err := Kept(dir)
	if err != nil {
		return nil, err
	}
	var daily, upgrades []Named
	for _, one := range list {
		switch {
		case one.Database != short(database) || one.At.After(now):
		case one.Kind == Daily:
			daily = append(daily, one)
		case one.Kind == Upgrade:
			upgrades = append(upgrades, one)
		}
	}
	out := append(spare(daily), upgrades[min(len(upgrades), keepUpgrades):]...)
	for _, one := range out {
		if removed := os.Remove(one.Path); notThere(removed) != nil {
			err = errors.Join(err, removed)
			continue
		}
		gone = append(gone, one.Path)
	}
	return gone, errors.Join(err, clearParts(dir, now))
}

// clearParts takes away what killed runs left behind.
func clearParts(dir string, now time.Time) error {
	parts, err := filepath.Glob(filepath.Join(dir, prefix+"*"+unfinished))
	for _, path := range parts {
		if info, failed := os.Stat(path); failed == nil && now.Sub(info.ModTime()) > partLife {
			err = errors.Join(err, notThere(os.Remove(path)))
		}
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
