// Package dbtest gives tests a private MariaDB: one server a test binary, one
// database a test.
package dbtest

import (
	"context"
	"database/sql"
	"fmt"
	"os"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"grapnel/app/localdb"
	"grapnel/app/store"
)

var (
	server *localdb.Server
	made   atomic.Int64
)

// Main runs a package's tests with a server beside them:
//
//	func TestMain(m *testing.M) { dbtest.Main(m) }
//
// What is to be done at the end goes along.
func Main(m *testing.M, after ...func()) { os.Exit(run(m, after)) }

func run(m *testing.M, after []func()) int {
	dir, err := os.MkdirTemp(quickest(), "grapnel-test-")
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	defer os.RemoveAll(dir)
	// The server runs as another user when we are root.
	if err := os.Chmod(dir, 0o755); err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	server, err = localdb.Start(context.Background(), localdb.Options{Dir: dir, Throwaway: true})
	if err != nil {
		fmt.Fprintln(os.Stderr, "test database:", err)
		return 1
	}
	defer func() {
		if err := server.Stop(); err != nil {
			fmt.Fprintln(os.Stderr, "test database:", err)
		}
	}()
	code := m.Run()
	for _, do := range after {
		do()
	}
	return code
}

// quickest is where a database that is thrown away is quickest: in memory where the
// machine has a folder there, else where temporary files are.
func quickest() string {
	const memory = "/dev/shm"
	if info, err := os.Stat(memory); err == nil && info.IsDir() {
		return memory
	}
	return ""
}

// DSN makes an empty database for this test alone.
func DSN(tb testing.TB) string {
	tb.Helper()
	dsn, err := server.CreateDatabase(tb.Context(), fmt.Sprintf("t%d", made.Add(1)))
	if err != nil {
		tb.Fatal(err)
	}
	return dsn
}

// Open makes a migrated database for this test alone.
func Open(tb testing.TB) *sql.DB {
	tb.Helper()
	db := opened(tb)
	if _, err := store.Migrate(tb.Context(), db); err != nil {
		tb.Fatal(err)
	}
	return db
}

// opened is an empty database for this test alone, closed when the test ends.
func opened(tb testing.TB) *sql.DB {
	tb.Helper()
	db, err := store.Open(DSN(tb))
	if err != nil {
		tb.Fatal(err)
	}
	tb.Cleanup(func() {
		if err := db.Close(); err != nil {
			tb.Error(err)
		}
	})
	return db
}

// pattern is the database that Filled copies.
var pattern struct {
	sync.Mutex
	name string
	at   time.Time
}

// patternLife is how long a filled database is copied: what is filled in relative to now,
// as a demo is, must not grow old.
const patternLife = time.Minute

// Filled makes a migrated database for this test alone that holds what fill puts in. It is
// filled once for many tests and copied for each, so a test binary has one way to fill.
func Filled(tb testing.TB, fill func(context.Context, *sql.DB) error) *sql.DB {
	tb.Helper()
	db := opened(tb)
	if err := fromPattern(tb.Context(), db, fill); err != nil {
		tb.Fatal(err)
	}
	return db
}

// fromPattern copies the pattern, which it fills first where there is none that is fresh.
func fromPattern(ctx context.Context, db *sql.DB, fill func(context.Context, *sql.DB) error) error {
	pattern.Lock()
	defer pattern.Unlock()
	if pattern.name == "" || time.Since(pattern.at) > patternLife {
		if err := makePattern(ctx, fill); err != nil {
			return err
		}
	}
	return copyFrom(ctx, pattern.name, db)
}

func makePattern(ctx context.Context, fill func(context.Context, *sql.DB) error) error {
	dsn, err := server.CreateDatabase(ctx, fmt.Sprintf("p%d", made.Add(1)))
	if err != nil {
		return err
	}
	at := time.Now()
	db, err := store.Open(dsn)
	if err != nil {
		return err
	}
	defer db.Close()
	if _, err := store.Migrate(ctx, db); err != nil {
		return err
	}
	if err := fill(ctx, db); err != nil {
		return err
	}
	pattern.at = at
	return db.QueryRowContext(ctx, "SELECT DATABASE()").Scan(&pattern.name)
}

// written lists the columns that a table is made with, those left out that are worked out
// from others.
func written(create string) string {
	var names []string
	for line := range strings.Lines(create) {
		name, rest, ok := strings.Cut(strings.TrimPrefix(strings.TrimSpace(line), "`"), "`")
		if ok && strings.HasPrefix(strings.TrimSpace(line), "`") && !strings.Contains(rest, " GENERATED ALWAYS ") {
			names = append(names, "`"+name+"`")
		}
	}
	return strings.Join(names, ", ")
}

// copyFrom copies every table of a database, with what is in it.
func copyFrom(ctx context.Context, from string, db *sql.DB) error {
	c, err := db.Conn(ctx)
	if err != nil {
		return err
	}
	defer c.Close()
	tables, err := tablesOf(ctx, c, from)
	if err != nil {
		return err
	}
	// A table may name another that comes later.
	if _, err := c.ExecContext(ctx, "SET FOREIGN_KEY_CHECKS = 0"); err != nil {
		return err
	}
	for _, table := range tables {
		var name, create string
		if err := c.QueryRowContext(ctx, "SHOW CREATE TABLE `"+from+"`.`"+table+"`").Scan(&name, &create); err != nil {
			return err
		}
		columns := written(create)
		for _, do := range []string{create, "INSERT INTO `" + table + "` (" + columns + ") SELECT " + columns + " FROM `" + from + "`.`" + table + "`"} {
			if _, err := c.ExecContext(ctx, do); err != nil {
				return fmt.Errorf("%s: %w", table, err)
			}
		}
	}
	_, err = c.ExecContext(ctx, "SET FOREIGN_KEY_CHECKS = 1")
	return err
}

func tablesOf(ctx context.Context, c *sql.Conn, of string) ([]string, error) {
	rows, err := c.QueryContext(ctx, "SHOW TABLES FROM `"+of+"`")
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	var tables []string
	for rows.Next() {
		var one string
		if err := rows.Scan(&one); err != nil {
			return nil, err
		}
		tables = append(tables, one)
	}
	return tables, rows.Err()
}

// Rows are the rows of each table as text, in order: of every table but those named, and
// where a shop is named only what is that shop's, of the tables that say whose a row is.
func Rows(tb testing.TB, db *sql.DB, shop []byte, but ...string) map[string][]string {
	tb.Helper()
	out := map[string][]string{}
	for table, columns := range columnsOf(tb, db, shop != nil) {
		if slices.Contains(but, table) {
			continue
		}
		query, args := "SELECT CONCAT_WS('|', "+columns+") FROM `"+table+"`", []any{}
		if shop != nil {
			query, args = query+" WHERE shop_id = ?", []any{shop}
		}
		out[table] = texts(tb, db, query, args...)
		slices.Sort(out[table])
	}
	return out
}

// columnsOf are the columns of each table as they are asked for; of those tables only that
// say whose a row is, where that is wanted.
func columnsOf(tb testing.TB, db *sql.DB, owned bool) map[string]string {
	tb.Helper()
	out := map[string]string{}
	for _, one := range texts(tb, db, `SELECT CONCAT(table_name, ' ', GROUP_CONCAT(CONCAT('COALESCE(HEX(`+"`', column_name, '`"+`), "-")') ORDER BY ordinal_position))
FROM information_schema.columns WHERE table_schema = DATABASE() GROUP BY table_name HAVING NOT ? OR SUM(column_name = 'shop_id') > 0`, owned) {
		table, columns, _ := strings.Cut(one, " ")
		out[table] = columns
	}
	return out
}

// texts are what a query of one column finds.
func texts(tb testing.TB, db *sql.DB, query string, args ...any) (out []string) {
	tb.Helper()
	found, err := db.QueryContext(tb.Context(), query, args...)
	if err != nil {
		tb.Fatal(err)
	}
	defer found.Close()
	for found.Next() {
		var text string
		if err := found.Scan(&text); err != nil {
			tb.Fatal(err)
		}
		out = append(out, text)
	}
	if err := found.Err(); err != nil {
		tb.Fatal(err)
	}
	return out
}
