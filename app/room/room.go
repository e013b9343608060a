// Package room tells how much room is left on a disk.
package room

import (
	"fmt"
	"os"
	"path/filepath"
	"syscall"
)

const (
	// Least is how much has to be left for a database to be started or written to, in bytes:
	// it lays out its own files in pieces of some megabytes, and one that finds no room for a
	// piece in the middle of a change breaks off.
	Least = 64 << 20
	// Little is how much has to be left before anybody is warned, in bytes: a year of a busy
	// shop is some half of it.
	Little = 1 << 30
)

// Text says how much that is.
func Text(bytes int64) string {
	switch {
	case bytes < 1<<20:
		return fmt.Sprintf("%.0f kB", float64(bytes)/(1<<10))
	case bytes < 10<<30:
		return fmt.Sprintf("%.1f MB", float64(bytes)/(1<<20))
	}
	return fmt.Sprintf("%.0f GB", float64(bytes)/(1<<30))
}

// Left is how many bytes may still be written where a folder is, or where it would be made.
func Left(dir string) (int64, error) {
	for at := dir; ; at = filepath.Dir(at) {
		if _, err := os.Stat(at); err != nil && at != filepath.Dir(at) {
			continue
		}
		var disk syscall.Statfs_t
		if err := syscall.Statfs(at, &disk); err != nil {
			return 0, fmt.Errorf("room at %s: %w", at, err)
		}
		return int64(disk.Bavail) * int64(disk.Bsize), nil
	}
}
