package main

import (
	"bytes"
	"database/sql"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"grapnel/app/localdb"
)

// brokenOff runs a command as a program of its own and kills it outright after a while; false
// where it had come to its end by itself.
func brokenOff(t *testing.T, after time.Duration, args ...string) bool {
	t.Helper()
	cmd := exec.Command(os.Args[0])
	cmd.Env = append(os.Environ(), "GRAPNEL_TEST_RUN="+strings.Join(args, " "))
	var said bytes.Buffer
	cmd.Stdout, cmd.Stderr = &said, &said
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	ended := make(chan error, 1)
	go func() { ended <- cmd.Wait() }()
	select {
	case err := <-ended:
		if err != nil {
			t.Fatalf("%v: %v\n%s", args, err, &said)
		}
		return false
	case <-time.After(after): // the moment of the kill is the test's own
	}
	_ = cmd.Process.Kill() // it may have ended by itself
	<-ended
	return true
}

// TestRestoreBrokenOff kills a restore at moments of chance and asks for it again at once: what the
// killed one left behind is in nobody's way, and what comes of it in the end is the shop.
// No source: it is how the program is to behave.
func TestRestoreBrokenOff(t *testing.T) {
	dir := dataDir(t)
	running(t, "demo", "-address", "127.0.0.1:0", "-data", dir)
	kept := filepath.Join(filepath.Dir(dir), "kept")
	command1(t, "backup", "-shop", "demo", "-data", dir, "-backups", kept)
	again := filepath.Join(filepath.Dir(dir), "again")
	args := []string{"restore", "-key", dir + "-backup.key", "-data", again, backups(t, kept)[0]}
	most := 2500 * time.Millisecond
	for n := range 8 {
		// The first kills fall while the system tables are made, the later ones anywhere.
		after := time.Duration(n+1) * 100 * time.Millisecond
		if n > 3 {
			after = time.Duration(rand.Int64N(int64(most)))
		}
		if !brokenOff(t, after, args...) {
			t.Logf("whole after %s", after)
			return
		}
	}
	command1(t, args...)
	if n := jobsIn(t, again); n == 0 {
		t.Error("nothing came of it")
	}
}

// jobsIn counts the jobs of a data folder that nobody serves.
func jobsIn(t *testing.T, dir string) int {
	t.Helper()
	own, err := localdb.Start(t.Context(), localdb.Options{Dir: dir, Throwaway: true})
	if err != nil {
		t.Fatal(err)
	}
	defer func() {
		if err := own.Stop(); err != nil {
			t.Error(err)
		}
	}()
	db, err := sql.Open("mysql", own.DSN())
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	var n int
	if err := db.QueryRowContext(t.Context(), "SELECT COUNT(*) FROM job").Scan(&n); err != nil {
		t.Fatal(err)
	}
	return n
}

// TestDemoBrokenOff kills the demo while it is filled, again and again: the one that comes to its
// end shows the whole workshop, once.
// No source: it is how the program is to behave.
func TestDemoBrokenOff(t *testing.T) {
	whole, dir := dataDir(t), dataDir(t)
	running(t, "demo", "-address", "127.0.0.1:0", "-data", whole)
	for range 4 {
		brokenOff(t, 1500*time.Millisecond+time.Duration(rand.Int64N(int64(2*time.Second))), "demo", "-address", "127.0.0.1:0", "-metrics", "127.0.0.1:0", "-data", dir)
	}
	running(t, "demo", "-address", "127.0.0.1:0", "-data", dir)
	counts := func(dir string) string {
		t.Helper()
		dsn, err := localdb.Attach(dir)
		if err != nil {
			t.Fatal(err)
		}
		db, err := sql.Open("mysql", dsn)
		if err != nil {
			t.Fatal(err)
		}
		defer db.Close()
		var out []string
		for _, table := range []string{"shop", "person", "job", "vehicle", "battery", "reading", "charge", "stock", "standing", "place", "charger"} {
			var n int
			if err := db.QueryRowContext(t.Context(), "SELECT COUNT(*) FROM `"+table+"`").Scan(&n); err != nil {
				t.Fatal(err)
			}
			out = append(out, fmt.Sprint(table, " ", n))
		}
		return strings.Join(out, ", ")
	}
	if want, got := counts(whole), counts(dir); want != got {
		t.Errorf("it shows\n%s, a whole one\n%s", got, want)
	}
}
