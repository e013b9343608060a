package whole_test

import (
	"os"
	"path/filepath"
	"testing"

	"grapnel/app/whole"
)

// TestWrite checks that a file takes another's place whole, with its mode, and that what
// cannot be written leaves the one that is there and nothing beside it.
func TestWrite(t *testing.T) {
	dir := t.TempDir()
	path := filepath.Join(dir, "kept")
	for _, text := range []string{"first", "second"} {
		if err := whole.Write(path, []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
		if body, err := os.ReadFile(path); err != nil || string(body) != text {
			t.Errorf("%q %v", body, err)
		}
	}
	if info, err := os.Stat(path); err != nil || info.Mode().Perm() != 0o600 {
		t.Errorf("%v %v", info, err)
	}
	if err := whole.Write(filepath.Join(dir, "none", "kept"), nil, 0o600); err == nil {
		t.Error("written into nowhere")
	}
	full := filepath.Join(dir, "full")
	if err := os.MkdirAll(filepath.Join(full, "x"), 0o700); err != nil {
		t.Fatal(err)
	}
	if err := whole.Write(full, []byte("x"), 0o600); err == nil {
		t.Error("written over a folder")
	}
	if list, err := os.ReadDir(dir); err != nil || len(list) != 2 {
		t.Errorf("%v %v", list, err)
	}
}
