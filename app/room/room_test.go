package room_test

import (
	"path/filepath"
	"testing"

	"grapnel/app/room"
)

// No source: it is how the program is to behave.
func TestLeft(t *testing.T) {
	dir := t.TempDir()
	here, err := room.Left(dir)
	if err != nil || here <= 0 {
		t.Fatalf("%d, %v", here, err)
	}
	there, err := room.Left(filepath.Join(dir, "not", "there", "yet"))
	if err != nil {
		t.Fatal(err)
	}
	// Others write on the same disk meanwhile.
	if there < here/2 || there > here*2 {
		t.Errorf("%d where the folder is, %d where one would be made in it", here, there)
	}
}
