package localdb_test

import (
	"context"
	"database/sql"
	"os"
	"path/filepath"
	"sync/atomic"
	"testing"
	"time"
)

// onDisk is a query that MariaDB answers by way of a temporary table on disk, because of its
// long texts, and of a file that it sorts in.
const onDisk = `SELECT COUNT(*) FROM (
  SELECT a.seq, REPEAT(MD5(a.seq), 40) AS long_text FROM seq_1_to_30000 a GROUP BY long_text ORDER BY long_text DESC LIMIT 20000
) AS sorted`

// TestBesideEachOther checks that a server which sorts on disk is left alone by others that
// start and stop meanwhile on the same machine: each that starts sweeps its temporary folder.
// No source: it is how MariaDB 10.11 was seen to behave.
func TestBesideEachOther(t *testing.T) {
	mine := start(t, reachable(t))
	defer stop(t, mine)
	db, err := sql.Open("mysql", mine.DSN())
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	db.SetMaxOpenConns(1)
	for _, little := range []string{"SET tmp_memory_table_size = 16384", "SET sort_buffer_size = 16384"} {
		if _, err := db.ExecContext(t.Context(), little); err != nil {
			t.Fatal(err)
		}
	}

	ctx, done := context.WithCancel(t.Context())
	var answered atomic.Int64
	failed, ended := make(chan error, 1), make(chan struct{})
	go func() {
		defer close(ended)
		for ctx.Err() == nil {
			var n int
			err := db.QueryRowContext(t.Context(), onDisk).Scan(&n)
			if err != nil || n != 20000 {
				failed <- err
				return
			}
			answered.Add(1)
		}
	}()
	other := reachable(t)
	for range 3 {
		s := start(t, other)
		before := answered.Load()
		until(t, "another query is answered", func() bool { return answered.Load() > before || len(failed) > 0 })
		stop(t, s)
	}
	// What was a release's before this one, it takes again: it knows of no such folder.
	if _, err := os.Stat(filepath.Join(other, "tmp")); !os.IsNotExist(err) {
		t.Errorf("the folder for what is temporary is left behind: %v", err)
	}
	done()
	<-ended
	select {
	case err := <-failed:
		t.Errorf("after %d queries: %v", answered.Load(), err)
	default:
	}
}

// TestOwnTemporaryFolder checks that the temporary folder lies in the data folder, where
// nobody but the server's user can look, and that nothing is put where others have theirs.
// No source: it is how the program is to behave.
func TestOwnTemporaryFolder(t *testing.T) {
	dir := reachable(t) + " with a blank"
	s := start(t, dir)
	defer stop(t, s)
	db, err := sql.Open("mysql", s.DSN())
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	var at string
	if err := db.QueryRowContext(t.Context(), "SELECT @@tmpdir").Scan(&at); err != nil {
		t.Fatal(err)
	}
	info, err := os.Stat(at)
	if err != nil || at != filepath.Join(dir, "tmp") || info.Mode().Perm() != 0o700 {
		t.Errorf("temporary files go to %s, %v %v", at, info, err)
	}
}

// until waits until something is so.
func until(t *testing.T, what string, so func() bool) {
	t.Helper()
	for end := time.Now().Add(time.Minute); !so(); time.Sleep(5 * time.Millisecond) {
		if time.Now().After(end) {
			t.Fatalf("it is not so that %s", what)
		}
	}
}
