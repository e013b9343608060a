package backup

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"time"

	"golang.org/x/sys/unix"

	"grapnel/app/whole"
)

// What asks for a backup.
const (
	Daily   = "daily"
	Asked   = "asked"
	Upgrade = "upgrade"
)

// How a backup is named, and one that is not done yet.
const (
	prefix, suffix = "grapnel-", ".zip"
	unfinished     = ".part"
	stamp          = "2006-01-02T150405Z"
	// shownID is how much of a database's id is in the name, in hexadecimal figures.
	shownID = 8
)

// Named is a backup by its name: grapnel-daily-4f3c2a1b-s12-2026-11-29T023000Z.zip. Those of
// releases before schema 12 are called grapnel-2026-11-29T023000Z.zip: what asked for them, and
// of which database they are, is not known, and they are left alone.
type Named struct {
	Path string
	// Kind is what asked for it; Database the first figures of the database's id; both empty
	// where the name does not say.
	Kind, Database string
	// Schema is the version of the schema; zero where the name does not say.
	Schema int64
	At     time.Time
}

// name is what a backup is called; nth tells those of one second apart, from the second on.
func (n Named) name(nth int) string {
	again := ""
	if nth > 1 {
		again = "-" + strconv.Itoa(nth)
	}
	return fmt.Sprintf("%s%s-%s-s%d-%s%s%s", prefix, n.Kind, n.Database, n.Schema, n.At.UTC().Format(stamp), again, suffix)
}

var nameForm = regexp.MustCompile(`^grapnel-(?:(daily|asked|upgrade)-([0-9a-f]{8})-s(\d{1,9})-)?(\d{4}-\d\d-\d\dT\d{6}Z)(?:-\d{1,6})?\.zip$`)

// parseName reads a file's name; false for one that is none of ours.
func parseName(path string) (Named, bool) {
	parts := nameForm.FindStringSubmatch(filepath.Base(path))
	if parts == nil {
		return Named{}, false
	}
	at, err := time.Parse(stamp, parts[4])
	if err != nil {
		return Named{}, false
	}
	schema := int64(0)
	if parts[3] != "" {
		schema, err = strconv.ParseInt(parts[3], 10, 64)
	}
	return Named{Path: path, Kind: parts[1], Database: parts[2], Schema: schema, At: at}, err == nil
}

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
		if one, ok := parseName(filepath.Join(dir, e.Name())); ok {
			out = append(out, one)
		}
	}
	slices.SortFunc(out, func(a, b Named) int { return b.At.Compare(a.At) })
	return out, nil
}

// mostOfASecond is how many backups of one kind and database may be made in a second.
const mostOfASecond = 1000

// put gives a file that is done its name, the next that is free, and puts the name to disk:
// no backup ever takes another's place.
func (n Named) put(part string) (path string, err error) {
	dir := filepath.Dir(part)
	for nth := 1; nth <= mostOfASecond; nth++ {
		path = filepath.Join(dir, n.name(nth))
		if err = renameNew(part, path); !errors.Is(err, fs.ErrExist) {
			break
		}
	}
	if err != nil {
		return "", err
	}
	return path, whole.SyncDir(dir)
}

// renameNew renames a file to a name that nothing has; fs.ErrExist where something has it.
func renameNew(from, to string) error {
	err := unix.Renameat2(unix.AT_FDCWD, from, unix.AT_FDCWD, to, unix.RENAME_NOREPLACE)
	if !errors.Is(err, unix.EINVAL) && !errors.Is(err, unix.ENOSYS) {
		if err != nil {
			err = &os.LinkError{Op: "rename", Old: from, New: to, Err: err}
		}
		return err
	}
	// A file system that cannot: the name is taken first, and then it is ours to rename over.
	taken, err := os.OpenFile(to, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	return errors.Join(taken.Close(), os.Rename(from, to))
}
