package main

import (
	"database/sql"
	"fmt"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"grapnel/app/demo"
	"grapnel/app/localdb"
	"grapnel/app/store"
)

// backups lists the backups in a folder.
func backups(t *testing.T, dir string) []string {
	t.Helper()
	list, err := filepath.Glob(filepath.Join(dir, "grapnel-*.zip"))
	if err != nil {
		t.Fatal(err)
	}
	return list
}

// TestBackupAndRestore backs the demo up while it is served, has a dry run say what is in it
// and what will be missing, restores it into an empty folder, and works in what came of it.
func TestBackupAndRestore(t *testing.T) {
	dir, kept := dataDir(t), filepath.Join(t.TempDir(), "second disk")
	running(t, "demo", "-address", "127.0.0.1:0", "-data", dir)
	code, out, errs := command0([]string{"backup", "-shop", "demo", "-data", dir, "-backups", kept}, "")
	list := backups(t, kept)
	if code != 0 || len(list) != 1 || !strings.Contains(out, list[0]) || !strings.Contains(out, "counted") {
		t.Fatalf("exit %d, %s %s, %v", code, out, errs, list)
	}
	again := filepath.Join(filepath.Dir(dir), "again")
	// Its key is not that of the new folder, nor of this machine's shop: it is asked for.
	key := dir + "-backup.key"
	if code, _, errs = command0([]string{"restore", "-dry-run", "-data", again, list[0]}, ""); code != exitBadInput || !strings.Contains(errs, "-key") {
		t.Errorf("without its key: exit %d, %s", code, errs)
	}
	code, out, errs = command0([]string{"restore", "-dry-run", "-key", key, "-data", again, list[0]}, "")
	if code != 0 || !strings.Contains(out, "Lockside Garage") || !strings.Contains(out, "Missing will be:") || !strings.Contains(out, "certificate authority") || !strings.Contains(out, "Nothing was written") {
		t.Errorf("exit %d, %s %s", code, out, errs)
	}
	if _, err := os.Stat(again); err == nil {
		t.Error("a dry run wrote something")
	}
	printed, _, _ := strings.Cut(command1(t, "backup-key", "-data", dir), "\n")
	if code, out, errs = command0([]string{"restore", "-data", again, "-key", strings.ToLower(printed), list[0]}, ""); code != 0 || !strings.Contains(out, "Restored") {
		t.Fatalf("exit %d, %s %s", code, out, errs)
	}
	if left, err := filepath.Glob(again + ".restoring*"); err != nil || len(left) > 0 {
		t.Errorf("left beside it: %v", left)
	}
	// It goes on with the key that it was sealed with.
	if kept, _, _ := strings.Cut(command1(t, "backup-key", "-data", again), "\n"); kept != printed {
		t.Errorf("the key is %s, not %s", kept, printed)
	}
	url, screen := running(t, "serve", "-address", "127.0.0.1:0", "-data", again)
	if strings.Contains(screen.String(), "First start") {
		t.Error("the restored shop is to be set up")
	}
	p := demo.SignIns()[0]
	r, err := http.Post(url+"/api/sign-in", "application/json", strings.NewReader(fmt.Sprintf(`{"sign_in":%q,"password":%q}`, p.SignIn, p.Password)))
	if err != nil || r.StatusCode != http.StatusOK {
		t.Fatalf("%v %v", r, err)
	}
	// The shop that is served keeps a backup of its own.
	for end := time.Now().Add(time.Minute); len(backups(t, again+"-backups")) == 0; time.Sleep(20 * time.Millisecond) {
		if time.Now().After(end) {
			t.Fatal("no backup is kept of what is served")
		}
	}
	// What holds something is not restored over, and what is no backup is none.
	if code, _, errs = command0([]string{"restore", "-key", key, "-data", dir, list[0]}, ""); code != exitBadInput || !strings.Contains(errs, "holds something") {
		t.Errorf("over a shop: exit %d, %s", code, errs)
	}
	tampersWith(t, list[0], filepath.Join(filepath.Dir(dir), "elsewhere"), key)
	notes := filepath.Join(kept, "notes.txt")
	if err := os.WriteFile(notes, []byte("not a backup"), 0o600); err != nil {
		t.Fatal(err)
	}
	for _, file := range []string{notes, filepath.Join(kept, "none.zip")} {
		if code, _, errs = command0([]string{"restore", "-data", filepath.Join(again, "x"), file}, ""); code != exitBadInput || !strings.Contains(errs, file) {
			t.Errorf("%s: exit %d, %s", file, code, errs)
		}
	}
}

// tampersWith exchanges the owner's password in a backup: with the key at hand it is not restored
// whatever is said; as a backup of nobody known it is, with a warning.
func tampersWith(t *testing.T, path, dir, key string) {
	t.Helper()
	body, err := os.ReadFile(path)
	if err != nil {
		t.Fatal(err)
	}
	changed := filepath.Join(t.TempDir(), "changed.zip")
	body[len(body)/2] ^= 1
	if err := os.WriteFile(changed, body, 0o600); err != nil {
		t.Fatal(err)
	}
	for _, more := range [][]string{nil, {"-unsealed"}} {
		code, _, errs := command0(append([]string{"restore", "-dry-run", "-key", key, "-data", dir}, append(more, changed)...), "")
		if code != exitBadInput || !strings.Contains(errs, "changed after it was sealed") {
			t.Errorf("%v: exit %d, %s", more, code, errs)
		}
	}
	if code, _, errs := command0([]string{"restore", "-dry-run", "-unsealed", "-data", dir, path}, ""); code != 0 || !strings.Contains(errs, "Nobody can tell") {
		t.Errorf("without its key: exit %d, %s", code, errs)
	}
}

// command1 runs a command that has to do, and gives what it writes.
func command1(t *testing.T, args ...string) string {
	t.Helper()
	code, out, errs := command0(args, "")
	if code != 0 {
		t.Fatalf("%v: exit %d, %s %s", args, code, out, errs)
	}
	return out
}

// TestBackupBeforeUpgrade checks that a backup is kept before a release changes the database,
// and that nothing is changed where none can be made.
func TestBackupBeforeUpgrade(t *testing.T) {
	own, err := localdb.Start(t.Context(), localdb.Options{Dir: dataDir(t), Throwaway: true})
	if err != nil {
		t.Fatal(err)
	}
	defer func() {
		if err := own.Stop(); err != nil {
			t.Error(err)
		}
	}()
	t.Setenv("GRAPNEL_DSN", own.DSN())
	db, err := store.Open(own.DSN())
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	if _, err := (store.Upgrade{To: 10}).Run(t.Context(), db); err != nil {
		t.Fatal(err)
	}
	schema := func() (n int) {
		t.Helper()
		if err := db.QueryRowContext(t.Context(), "SELECT MAX(version_id) FROM goose_db_version").Scan(&n); err != nil {
			t.Fatal(err)
		}
		return n
	}
	kept, shop := filepath.Join(t.TempDir(), "kept"), filepath.Join(t.TempDir(), "shop")
	file := filepath.Join(t.TempDir(), "file")
	if err := os.WriteFile(file, nil, 0o600); err != nil {
		t.Fatal(err)
	}
	if code, _, errs := command0([]string{"migrate", "-data", shop, "-backups", file}, ""); code != exitFault || !strings.Contains(errs, "-without-backup") || schema() != 10 {
		t.Errorf("where none can be made: exit %d, %s, schema %d", code, errs, schema())
	}
	if code, out, errs := command0([]string{"migrate", "-data", shop, "-backups", kept}, ""); code != 0 || !strings.Contains(out, fmt.Sprintf("schema version %d", store.Latest())) || len(backups(t, kept)) != 1 {
		t.Errorf("exit %d, %s %s, %v", code, out, errs, backups(t, kept))
	}
	if code, _, errs := command0([]string{"migrate", "-data", shop, "-backups", kept}, ""); code != 0 || len(backups(t, kept)) != 1 {
		t.Errorf("one with nothing to change: exit %d, %s, %v", code, errs, backups(t, kept))
	}
	upgrade := backups(t, kept)[0]
	if !strings.Contains(upgrade, "grapnel-upgrade-") || !strings.Contains(upgrade, "-s10-") {
		t.Errorf("it is called %s", upgrade)
	}
	// What the day's first backup, and ones that are asked for, leave of it is all of it.
	for range 2 {
		command1(t, "backup", "-data", shop, "-backups", kept)
	}
	if list := backups(t, kept); len(list) != 3 || !slices.Contains(list, upgrade) {
		t.Errorf("there are %v", list)
	}
	// The way back: the backup restored makes the database as it was.
	name := "back"
	dsn, err := own.CreateDatabase(t.Context(), name)
	if err != nil {
		t.Fatal(err)
	}
	t.Setenv("GRAPNEL_DSN", dsn)
	if code, out, errs := command0([]string{"restore", "-key", shop + "-backup.key", "-data", filepath.Join(t.TempDir(), "x"), upgrade}, ""); code != 0 || !strings.Contains(out, "schema 10") {
		t.Errorf("exit %d, %s %s", code, out, errs)
	}
	back, err := sql.Open("mysql", dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer back.Close()
	var n int
	if err := back.QueryRowContext(t.Context(), "SELECT MAX(version_id) FROM goose_db_version").Scan(&n); err != nil || n != 10 {
		t.Errorf("schema %d, %v", n, err)
	}
}
