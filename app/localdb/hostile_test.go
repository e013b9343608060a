package localdb_test

import (
	"errors"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"grapnel/app/localdb"
)

// TestHostileFolder starts on folders in which one of our own files holds what we never wrote: it is
// said, or it does no harm; no shop is made anew over the one that is there, and nobody else's process
// is ended. No source: it is how the program is to behave.
func TestHostileFolder(t *testing.T) {
	dir := reachable(t)
	s := start(t, dir)
	exec(t, s.DSN(), "CREATE TABLE kept (id INT PRIMARY KEY)")
	exec(t, s.DSN(), "INSERT INTO kept VALUES (1)")
	stop(t, s)
	for _, c := range []struct{ file, text string }{
		{"credentials.json", ""}, {"credentials.json", "{"}, {"credentials.json", "null"}, {"credentials.json", "[]"},
		{"credentials.json", `{"app": "'; DROP DATABASE grapnel; --", "root": "x"}`}, {"credentials.json", strings.Repeat("[", 1<<20)},
		{"mariadbd.pid", strconv.Itoa(os.Getpid())}, {"mariadbd.pid", "-1"}, {"mariadbd.pid", "0"}, {"mariadbd.pid", "1"}, {"mariadbd.pid", strings.Repeat("9", 4096)},
		{"port", "22"}, {"port", "-5"}, {"port", "../../etc"}, {"grapnel-folder", "demo; rm -rf /"}, {"grapnel.lock", "\x00\xff"},
	} {
		path := filepath.Join(dir, c.file)
		before, had := os.ReadFile(path)
		if err := os.WriteFile(path, []byte(c.text), 0o600); err != nil {
			t.Fatal(err)
		}
		s, err := localdb.Start(t.Context(), localdb.Options{Dir: dir, Throwaway: true})
		if err == nil {
			exec(t, s.DSN(), "UPDATE kept SET id = id")
			stop(t, s)
		} else if !strings.Contains(err.Error(), dir) && !strings.Contains(err.Error(), c.file) {
			t.Errorf("%s of %.20q: not said where: %v", c.file, c.text, err)
		}
		if had == nil {
			if err := os.WriteFile(path, before, 0o600); err != nil {
				t.Fatal(err)
			}
		} else {
			_ = os.Remove(path) // it may be gone already
		}
	}
	// The file that opens it is gone, or may not be read: what is there is not made anew.
	credentials, aside := filepath.Join(dir, "credentials.json"), dir+".aside"
	if err := os.Rename(credentials, aside); err != nil {
		t.Fatal(err)
	}
	if _, err := localdb.Start(t.Context(), localdb.Options{Dir: dir, Throwaway: true}); !errors.Is(err, localdb.ErrAccounts) {
		t.Errorf("without its accounts: %v", err)
	}
	if err := os.Symlink(credentials, credentials); err != nil {
		t.Fatal(err)
	}
	if _, err := localdb.Start(t.Context(), localdb.Options{Dir: dir, Throwaway: true}); !errors.Is(err, localdb.ErrAccounts) {
		t.Errorf("with accounts that cannot be read: %v", err)
	}
	if err := os.Rename(aside, credentials); err != nil {
		t.Fatal(err)
	}
	s = start(t, dir)
	defer stop(t, s)
	exec(t, s.DSN(), "INSERT INTO kept VALUES (2)")
}
