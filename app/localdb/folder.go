package localdb

import (
	"cmp"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"grapnel/app/whole"
)

// What a data folder is for. It is written down in the folder, so that a demo never
// takes a shop's folder for its own, nor throws anything away but its own.
const (
	Shop = "shop"
	Demo = "demo"
)

// markName is the file that says what a folder is for.
const markName = "grapnel-folder"

// own are the names of what a server puts into its folder.
var own = []string{"data", "tmp", "credentials.json", "grapnel.lock", markName, "mariadbd.pid", "port", "mariadbd.log"}

func (s *Server) markFile() string { return filepath.Join(s.dir, markName) }

// check refuses a folder that is not ours to use, by name, before anything is written
// into it: one that holds other files, or that is for something else. A folder of a
// release that wrote no mark is a shop's, but for the demo's own place.
func (s *Server) check(o Options) (kind string, err error) {
	entries, err := os.ReadDir(s.dir)
	if err != nil {
		if errors.Is(err, os.ErrNotExist) {
			return cmp.Or(o.Kind, Shop), nil
		}
		return "", fmt.Errorf("data folder: %w", err)
	}
	var others []string
	for _, e := range entries {
		if !slices.Contains(own, e.Name()) && !halfWritten(e.Name()) {
			others = append(others, e.Name())
		}
	}
	if len(others) > 0 {
		return "", fmt.Errorf(
			"%s is no data folder of Grapnel's: it holds %s. Name another folder, or an empty one, with -data",
			s.dir,
			strings.Join(others[:min(3, len(others))], ", "),
		)
	}
	kind = s.kind(len(entries) == 0, cmp.Or(o.Kind, Shop))
	if o.Kind != "" && kind != o.Kind {
		return "", fmt.Errorf("%s holds a %s, not a %s. Name another folder with -data", s.dir, kind, o.Kind)
	}
	return kind, nil
}

// halfWritten reports a file of ours that a kill left beside its place.
func halfWritten(name string) bool {
	return slices.ContainsFunc(own, func(one string) bool { return strings.HasPrefix(name, "."+one+"-") })
}

// kind is what a folder is for; the one asked for where it is new.
func (s *Server) kind(empty bool, asked string) string {
	mark, err := os.ReadFile(s.markFile())
	if err == nil {
		return strings.TrimSpace(string(mark))
	}
	if _, err := os.Stat(s.data()); empty || errors.Is(err, os.ErrNotExist) {
		return asked
	}
	if demo, err := DefaultDir(Demo); err == nil && demo == s.dir {
		return Demo
	}
	return Shop
}

// Discard throws a folder of ours away, whole, for what it is marked; one that is not there
// is no error, one that is not ours or in use is left as it is.
func Discard(dir, kind string) error {
	dir, err := filepath.Abs(dir)
	if err != nil {
		return err
	}
	if _, err := os.Stat(dir); errors.Is(err, os.ErrNotExist) {
		return nil
	}
	s := &Server{dir: dir}
	if _, err := s.check(Options{Dir: dir, Kind: kind}); err != nil {
		return err
	}
	if err := s.takeLock(); err != nil {
		return err
	}
	if err := s.stopOrphan(func(string) {}); err != nil {
		return errors.Join(err, s.lock.Close())
	}
	return errors.Join(os.RemoveAll(dir), s.lock.Close())
}

// mark writes down what the folder is for.
func (s *Server) mark(kind string) error {
	if err := whole.Write(s.markFile(), []byte(kind+"\n"), 0o644); err != nil {
		return fmt.Errorf("data folder: %w", err)
	}
	return nil
}

// empty throws away what a server has in its folder; the lock and the mark stay.
func (s *Server) empty() error {
	for _, name := range own {
		if name == markName || name == "grapnel.lock" {
			continue
		}
		if err := os.RemoveAll(filepath.Join(s.dir, name)); err != nil {
			return fmt.Errorf("data folder: %w", err)
		}
	}
	return nil
}
