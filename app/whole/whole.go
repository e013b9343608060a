// Package whole writes small files that are there whole or not at all, whatever ends the
// program or the machine in the middle.
package whole

import (
	"errors"
	"io"
	"os"
	"path/filepath"
)

// disk is where files are written: the system's, or one in a test that loses its power.
type disk interface {
	CreateTemp(dir, pattern string) (file, error)
	Rename(from, to string) error
	Link(from, to string) error
	Remove(path string) error
	// SyncDir puts the names of a folder to disk.
	SyncDir(path string) error
}

// file is one that is being written.
type file interface {
	io.Writer
	Name() string
	Chmod(mode os.FileMode) error
	// Sync puts what was written to disk.
	Sync() error
	Close() error
}

// system is the disk of the operating system.
type system struct{}

func (system) CreateTemp(dir, pattern string) (file, error) { return os.CreateTemp(dir, pattern) }
func (system) Rename(from, to string) error                 { return os.Rename(from, to) }
func (system) Link(from, to string) error                   { return os.Link(from, to) }
func (system) Remove(path string) error                     { return os.Remove(path) }
func (system) SyncDir(path string) error                    { return SyncDir(path) }

// Write writes a file beside its place, puts it to disk and gives it its name.
func Write(path string, body []byte, mode os.FileMode) error {
	return write(system{}, path, body, mode, false)
}

// New is Write for a file that is not there yet; fs.ErrExist where something is.
func New(path string, body []byte, mode os.FileMode) error {
	return write(system{}, path, body, mode, true)
}

func write(on disk, path string, body []byte, mode os.FileMode, fresh bool) error {
	beside, err := on.CreateTemp(filepath.Dir(path), "."+filepath.Base(path)+"-*")
	if err != nil {
		return err
	}
	_, err = beside.Write(body)
	if err == nil {
		err = beside.Chmod(mode)
	}
	if err == nil {
		err = beside.Sync()
	}
	if err = errors.Join(err, beside.Close()); err == nil {
		err = place(on, beside.Name(), path, fresh)
	}
	if err != nil {
		return errors.Join(err, on.Remove(beside.Name()))
	}
	return on.SyncDir(filepath.Dir(path))
}

// place gives a file its name: in the place of what has it, or only where nothing has.
func place(on disk, from, to string, fresh bool) error {
	if !fresh {
		return on.Rename(from, to)
	}
	if err := on.Link(from, to); err != nil {
		return err
	}
	return on.Remove(from)
}

// SyncDir puts the names of a folder to disk: a file that was given its name has it behind a
// loss of power only then.
func SyncDir(path string) error {
	dir, err := os.Open(path)
	if err != nil {
		return err
	}
	return errors.Join(dir.Sync(), dir.Close())
}
