package main

import (
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"grapnel/app/backup"
	"grapnel/app/localdb"
	"grapnel/app/record"
	"grapnel/app/store"
)

// TestDoctor looks over a shop that is well, one by one that is not, and finds what is wrong
// named with what to do, and the exit code of each.
func TestDoctor(t *testing.T) {
	dir := dataDir(t)
	look := func(want int, says ...string) {
		t.Helper()
		code, out, errs := command0([]string{"doctor", "-data", dir}, "")
		if code != want {
			t.Errorf("exit %d, want %d\n%s%s", code, want, out, errs)
		}
		for _, one := range says {
			if !strings.Contains(out, one) {
				t.Errorf("it says nothing of %q:\n%s", one, out)
			}
		}
	}
	look(exitFault, "WRONG  database", "there is none in "+dir)
	own, err := localdb.Start(t.Context(), localdb.Options{Dir: dir, Kind: localdb.Shop, Throwaway: true})
	if err != nil {
		t.Fatal(err)
	}
	stopped := false
	defer func() {
		if !stopped {
			_ = own.Stop()
		}
	}()
	db, err := store.Open(own.DSN())
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	if _, err := (store.Upgrade{To: 10}).Run(t.Context(), db); err != nil {
		t.Fatal(err)
	}
	look(exitFault, "WRONG  schema       10, this release knows up to", "grapnel migrate", "WRONG  backup")
	if _, err := store.Migrate(t.Context(), db); err != nil {
		t.Fatal(err)
	}
	look(exitFault, "ok     schema", "ok     clock", "ok     disk", "WRONG  backup       there is none")
	if code, _, errs := command0([]string{"backup", "-data", dir}, ""); code != 0 {
		t.Fatal(code, errs)
	}
	look(0, "ok     database     MariaDB", "ok     backup       the last good one is 0s old", "ok     programs")
	// Its file is gone; then it is old; then the database belongs to a newer release.
	runs, err := store.New(db).BackupRuns(t.Context(), time.Now(), 1)
	if err != nil {
		t.Fatal(err)
	}
	if err := os.Remove(runs[0].Path); err != nil {
		t.Fatal(err)
	}
	look(exitFault, "1 that are listed are not there")
	old := backup.Run{ID: record.NewID(), MadeAt: time.Now().Add(-50 * time.Hour), Path: "x"}
	if _, err := db.ExecContext(t.Context(), "DELETE FROM backup_run"); err != nil {
		t.Fatal(err)
	}
	if err := store.New(db).AddBackupRun(t.Context(), old); err != nil {
		t.Fatal(err)
	}
	look(exitFault, "50h0m0s old", "grapnel backup makes one now")
	if _, err := db.ExecContext(t.Context(), "INSERT INTO goose_db_version (version_id, is_applied) VALUES (99, 1)"); err != nil {
		t.Fatal(err)
	}
	look(exitFault, "WRONG  schema       99", "newer release")
	if err := os.MkdirAll(dir+"-tls", 0o700); err != nil {
		t.Fatal(err)
	}
	for _, name := range []string{"server.pem", "server.key"} {
		if err := os.WriteFile(filepath.Join(dir+"-tls", name), []byte("not one"), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	look(exitFault, "WRONG  certificate")
	if err := db.Close(); err != nil {
		t.Fatal(err)
	}
	stopped = true
	if err := own.Stop(); err != nil {
		t.Fatal(err)
	}
	if err := os.Rename(filepath.Join(dir, "data"), filepath.Join(dir, "data-gone")); err != nil {
		t.Fatal(err)
	}
	look(exitFault, "WRONG  database", "mariadbd.log")
}
