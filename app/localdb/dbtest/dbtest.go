// Package dbtest gives tests a private MariaDB: one server a test binary, one
// database a test.
package dbtest

import (
	"context"
	"database/sql"
	"fmt"
	"os"
	"sync/atomic"
	"testing"

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
	db, err := store.Open(DSN(tb))
	if err != nil {
		tb.Fatal(err)
	}
	tb.Cleanup(func() {
		if err := db.Close(); err != nil {
			tb.Error(err)
		}
	})
	if _, err := store.Migrate(tb.Context(), db); err != nil {
		tb.Fatal(err)
	}
	return db
}
