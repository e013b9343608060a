package whole

import (
	"errors"
	"fmt"
	"io/fs"
	"maps"
	"os"
	"testing"
)

// errDark is what everything ends with once the power is gone; errDisk what a disk says that fails.
var errDark, errDisk = errors.New("no power"), errors.New("input/output error")

// losing is a disk that keeps what was synced and drops the rest when its power goes, as POSIX lets
// one (fsync(2): a file's content by its own sync, its name by its folder's).
type losing struct {
	// names are what a program sees, kept what is there behind a loss of power.
	names, kept map[string]*content
	// steps are left until the power goes, or the disk fails once.
	steps int
	fails bool
	made  int
}

// content is what a file holds: as it was written, and as it was synced.
type content struct{ written, synced string }

// step is taken before each thing that is done.
func (l *losing) step() error {
	l.steps--
	switch {
	case l.steps == 0 && l.fails:
		return errDisk
	case l.steps <= 0 && !l.fails:
		return errDark
	}
	return nil
}

func (l *losing) CreateTemp(dir, _ string) (file, error) {
	if err := l.step(); err != nil {
		return nil, err
	}
	l.made++
	name := fmt.Sprintf("%s/.beside-%d", dir, l.made)
	l.names[name] = &content{}
	return &open{l, name, l.names[name]}, nil
}

func (l *losing) Rename(from, to string) error {
	if err := l.step(); err != nil {
		return err
	}
	l.names[to] = l.names[from]
	delete(l.names, from)
	return nil
}

func (l *losing) Link(from, to string) error {
	if err := l.step(); err != nil {
		return err
	}
	if l.names[to] != nil {
		return fs.ErrExist
	}
	l.names[to] = l.names[from]
	return nil
}

func (l *losing) Remove(path string) error {
	if err := l.step(); err != nil {
		return err
	}
	delete(l.names, path)
	return nil
}

func (l *losing) SyncDir(string) error {
	if err := l.step(); err != nil {
		return err
	}
	l.kept = maps.Clone(l.names)
	return nil
}

// behind is what a name holds behind a loss of power that drops everything that was not synced, or
// where the disk had put the names there by itself meanwhile.
func (l *losing) behind(path string, namesToo bool) (string, bool) {
	names := l.kept
	if namesToo {
		names = l.names
	}
	c, ok := names[path]
	if !ok {
		return "", false
	}
	return c.synced, true
}

// open is a file of it that is being written.
type open struct {
	on   *losing
	name string
	of   *content
}

func (o *open) Name() string            { return o.name }
func (o *open) Chmod(os.FileMode) error { return o.on.step() }
func (o *open) Close() error            { return o.on.step() }

// Write comes short where the disk fails.
func (o *open) Write(body []byte) (int, error) {
	if err := o.on.step(); err != nil {
		o.of.written = string(body[:len(body)/2])
		return len(body) / 2, err
	}
	o.of.written = string(body)
	return len(body), nil
}

func (o *open) Sync() error {
	if err := o.on.step(); err != nil {
		return err
	}
	o.of.synced = o.of.written
	return nil
}

// TestPowerIsLost ends the power, or has the disk fail, at every step of writing a file: behind it the
// file is the one before or the new one, whole; the new one where that was answered; and what was
// there before is never gone.
func TestPowerIsLost(t *testing.T) {
	for _, fresh := range []bool{false, true} {
		for _, fails := range []bool{false, true} {
			answered := false
			for at := 1; at < 12; at++ {
				l := &losing{names: map[string]*content{}, kept: map[string]*content{}, steps: at, fails: fails}
				if !fresh {
					l.names["dir/kept"] = &content{"before", "before"}
					l.kept = maps.Clone(l.names)
				}
				err := write(l, "dir/kept", []byte("the new one"), 0o600, fresh)
				answered = answered || err == nil
				for _, namesToo := range []bool{false, true} {
					text, there := l.behind("dir/kept", namesToo)
					switch {
					case err == nil && text != "the new one":
						t.Errorf("new %v, disk fails %v, step %d: answered, and behind it %q", fresh, fails, at, text)
					case there && text != "before" && text != "the new one":
						t.Errorf("new %v, disk fails %v, step %d: behind it %q", fresh, fails, at, text)
					case !there && !fresh:
						t.Errorf("disk fails %v, step %d: what was there is gone", fails, at)
					}
				}
			}
			if !answered {
				t.Errorf("new %v, disk fails %v: it never came to its end", fresh, fails)
			}
		}
	}
}

// TestPowerTestFinds holds the test itself to a way of writing that is wrong: without the sync of the
// file its name may be there with nothing in it.
func TestPowerTestFinds(t *testing.T) {
	l := &losing{names: map[string]*content{}, kept: map[string]*content{}, steps: 100}
	f, err := l.CreateTemp("dir", "")
	if err != nil {
		t.Fatal(err)
	}
	if _, err := f.Write([]byte("the new one")); err != nil {
		t.Fatal(err)
	}
	if err := errors.Join(l.Rename(f.Name(), "dir/kept"), l.SyncDir("dir")); err != nil {
		t.Fatal(err)
	}
	if text, there := l.behind("dir/kept", false); !there || text != "" {
		t.Errorf("%q %v", text, there)
	}
}
