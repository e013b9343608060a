// Package whole writes small files that are there whole or not at all, whatever ends the
// program in the middle.
package whole

import (
	"errors"
	"os"
	"path/filepath"
)

// Write writes a file beside its place, puts it to disk and gives it its name.
func Write(path string, body []byte, mode os.FileMode) error {
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
		err = os.Rename(file.Name(), path)
	}
	if err != nil {
		return errors.Join(err, os.Remove(file.Name()))
	}
	return nil
}
