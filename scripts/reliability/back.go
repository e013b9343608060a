package main

import (
	"context"
	"database/sql"
	"errors"
	"flag"
	"fmt"
	"maps"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"grapnel/app/localdb"
	"grapnel/app/store"
)

// back walks the whole way back for each schema that has landed: the release of that schema fills a
// shop, this one upgrades it, the backup that was made before is restored, and the old release
// serves it again, row for row as it was. The old releases are built from the history.
func back(ctx context.Context, args []string) (err error) {
	set := flag.NewFlagSet("back", flag.ExitOnError)
	least := set.Int64("from", 1, "the first schema")
	_ = set.Parse(args) // it ends the program where something is wrong
	dir, err := workDir()
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(dir)) }()
	for schema := *least; schema < store.Latest(); schema++ {
		old, err := oldBinary(ctx, dir, schema)
		if err != nil {
			return err
		}
		if old == "" {
			fmt.Printf("schema %d: no release ended with it\n", schema)
			continue
		}
		if err := wayBack(ctx, filepath.Join(dir, fmt.Sprint("schema-", schema)), old, schema); err != nil {
			return fmt.Errorf("schema %d: %w", schema, err)
		}
	}
	return nil
}

// restores is the first schema whose release can restore by itself.
const restores = 11

// oldBinary builds the last release with a schema; empty where none ended with it.
func oldBinary(ctx context.Context, dir string, schema int64) (string, error) {
	added, err := command(ctx, ".", "git", "log", "--diff-filter=A", "--format=%H", "--", fmt.Sprintf("app/store/migrations/%05d_*", schema+1))
	if err != nil {
		return "", err
	}
	revision := strings.Fields(added)[0] + "^"
	if there, err := command(ctx, ".", "git", "ls-tree", "--name-only", revision, "app/store/migrations/"); err != nil || !strings.Contains(there, fmt.Sprintf("/%05d_", schema)) {
		return "", err
	}
	source, binary := filepath.Join(dir, "source"), filepath.Join(dir, fmt.Sprint("grapnel-", schema))
	if _, err := command(ctx, ".", "git", "worktree", "add", "--detach", "-f", source, revision); err != nil {
		return "", err
	}
	_, err = command(ctx, source, "go", "build", "-o", binary, "./cmd/grapnel")
	_, gone := command(ctx, ".", "git", "worktree", "remove", "--force", source)
	return binary, errors.Join(err, gone)
}

// command runs a program to its end and gives what it printed.
func command(ctx context.Context, dir, name string, args ...string) (string, error) {
	cmd := exec.CommandContext(ctx, name, args...)
	cmd.Dir = dir
	text, err := cmd.CombinedOutput()
	if err != nil {
		err = fmt.Errorf("%s %s: %w\n%s", name, strings.Join(args, " "), err, tail(string(text)))
	}
	return string(text), err
}

// wayBack walks the way back of one release.
func wayBack(ctx context.Context, dir, old string, schema int64) error {
	first, again := filepath.Join(dir, "first"), filepath.Join(dir, "again")
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return err
	}
	if err := served(ctx, old, "demo", first); err != nil {
		return fmt.Errorf("the old release: %w", err)
	}
	// Early releases left no mark on a demo's folder: it is taken for a shop's.
	verb := "demo"
	if _, err := os.Stat(filepath.Join(first, "grapnel-folder")); err != nil {
		verb = "serve"
	}
	before, err := rowsOf(ctx, first)
	if err != nil {
		return err
	}
	if err := served(ctx, binary, verb, first); err != nil {
		return fmt.Errorf("the upgrade: %w", err)
	}
	kept, err := filepath.Glob(first + "-backups/grapnel-upgrade-*.zip")
	if err != nil || len(kept) != 1 {
		return fmt.Errorf("%d backups made before the upgrade, %w", len(kept), err)
	}
	restore := []string{old, "restore", "-data", again, kept[0]}
	if schema < restores {
		restore = []string{binary, "restore", "-data", again, "-key", first + "-backup.key", kept[0]}
	}
	if _, err := command(ctx, ".", restore[0], restore[1:]...); err != nil {
		return err
	}
	after, err := rowsOf(ctx, again)
	if err != nil {
		return err
	}
	if err := sameRows(before, after); err != nil {
		return err
	}
	if err := served(ctx, old, "serve", again); err != nil {
		return fmt.Errorf("the old release, restored: %w", err)
	}
	rows := 0
	for _, list := range after {
		rows += len(list)
	}
	fmt.Printf("schema %d: upgraded, restored and served again by its own release; %d rows of %d tables as they were\n", schema, rows, len(after))
	return nil
}

// served starts a release on a folder, has a technician of the demo come in, and stops it.
func served(ctx context.Context, path, verb, data string) error {
	port := freePort()
	// Releases before have no metrics to switch off.
	server := &process{name: verb, path: path, args: []string{verb, "-address", fmt.Sprint("127.0.0.1:", port), "-data", data}}
	if err := server.start(); err != nil {
		return err
	}
	defer server.stop()
	if err := healthy(ctx, baseOf(port), 2*time.Minute); err != nil {
		return fmt.Errorf("%w\n%s", err, tail(server.said.String()))
	}
	someone, err := newTechnician(newBook(), 0, 0, baseOf(port))
	if err != nil {
		return err
	}
	return errors.Join(someone.signIn(ctx), someone.do(ctx, "today", http.MethodGet, "/api/today", nil, nil))
}

// apart are the tables that a restore leaves empty, or writes itself: who was signed in, and what
// the upgrade's backup is told of.
var apart = []string{"sessions", "signed_in", "backup_run", "claim", "migration_step", "sign_in_guard", "goose_db_version"}

// rowsOf reads every row of a private database that nobody serves.
func rowsOf(ctx context.Context, data string) (rows map[string][]string, err error) {
	server, err := localdb.Start(ctx, localdb.Options{Dir: data})
	if err != nil {
		return nil, err
	}
	defer func() { err = errors.Join(err, server.Stop()) }()
	db, err := store.Open(server.DSN())
	if err != nil {
		return nil, err
	}
	defer db.Close()
	names, err := column(ctx, db, "SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE()")
	if err != nil {
		return nil, err
	}
	rows = map[string][]string{}
	for _, table := range names {
		if slices.Contains(apart, table) {
			continue
		}
		if rows[table], err = rowsOfTable(ctx, db, table); err != nil {
			return nil, fmt.Errorf("%s: %w", table, err)
		}
	}
	return rows, nil
}

// column reads one column of text.
func column(ctx context.Context, db *sql.DB, query string) (out []string, err error) {
	list, err := db.QueryContext(ctx, query)
	if err != nil {
		return nil, err
	}
	defer list.Close()
	for list.Next() {
		var one string
		if err := list.Scan(&one); err != nil {
			return nil, err
		}
		out = append(out, one)
	}
	return out, list.Err()
}

// rowsOfTable reads every row of a table as text, in an order of its own.
func rowsOfTable(ctx context.Context, db *sql.DB, table string) (out []string, err error) {
	list, err := db.QueryContext(ctx, "SELECT * FROM `"+table+"`")
	if err != nil {
		return nil, err
	}
	defer list.Close()
	names, err := list.Columns()
	if err != nil {
		return nil, err
	}
	for list.Next() {
		cells, into := make([]sql.RawBytes, len(names)), make([]any, len(names))
		for i := range cells {
			into[i] = &cells[i]
		}
		if err := list.Scan(into...); err != nil {
			return nil, err
		}
		var row strings.Builder
		for i, cell := range cells {
			fmt.Fprintf(&row, "%s=%q ", names[i], cell)
		}
		out = append(out, row.String())
	}
	slices.Sort(out)
	return out, list.Err()
}

// sameRows compares two databases, row for row.
func sameRows(before, after map[string][]string) error {
	if names, now := slices.Sorted(maps.Keys(before)), slices.Sorted(maps.Keys(after)); !slices.Equal(names, now) {
		return fmt.Errorf("tables %v, were %v", now, names)
	}
	for table, list := range before {
		if !slices.Equal(list, after[table]) {
			return fmt.Errorf("%s: %d rows, were %d, and they differ", table, len(after[table]), len(list))
		}
	}
	return nil
}
