// Package whole writes small files that are there whole or not at all, whatever ends the
// program or the machine in the middle.
package whole

import (
	"errors"
	"os"
	"path/filepath"
)

// Write writes a file beside its place, puts it to disk and gives it its name.
func Write(path string, body []byte, mode os.FileMode) error {
	return write(path, body, mode, os.Rename)
}

// New is Write for a file that is not there yet; fs.ErrExist where something is.
func New(path string, body []byte, mode os.FileMode) error {
	return write(path, body, mode, func(from, to string) error {
		if err := os.Link(from, to); err != nil {
			return err
		}
		return os.Remove(from)
	})
}

func write(path string, body []byte, mode os.FileMode, place func(from, to string) error) error {
	file, err := os.CreateTemp(filepath.Dir(path), "."+filepath.Base(path)+"-*")
	if err != nil {
		return err
	}
	_, err = file.Write(body)
	if err == nil {
		err = file.Chmod(mode)
	}
	if err == nil {
		err = file.Sync()
	}
	if err = errors.Join(err, file.Close()); err == nil {
		err = place(file.Name(), path)
	}
	if err != nil {
		return errors.Join(err, os.Remove(file.Name()))
	}
	return SyncDir(filepath.Dir(path))
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
