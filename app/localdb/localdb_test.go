package localdb_test

import (
	"context"
	"database/sql"
	"errors"
	"os"
	osexec "os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"grapnel/app/localdb"
)

func start(t *testing.T, dir string) *localdb.Server {
	t.Helper()
	s, err := localdb.Start(t.Context(), localdb.Options{Dir: dir, Throwaway: true})
	if err != nil {
		t.Fatal(err)
	}
	return s
}

func stop(t *testing.T, s *localdb.Server) {
	t.Helper()
	if err := s.Stop(); err != nil {
		t.Fatal(err)
	}
}

func exec(t *testing.T, dsn, statement string) {
	t.Helper()
	db, err := sql.Open("mysql", dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	if _, err := db.ExecContext(t.Context(), statement); err != nil {
		t.Fatal(err)
	}
}

// reachable makes a folder that the server's own user can get to.
func reachable(t *testing.T) string {
	t.Helper()
	dir, err := os.MkdirTemp("", "grapnel-localdb-")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { os.RemoveAll(dir) })
	if err := os.Chmod(dir, 0o755); err != nil {
		t.Fatal(err)
	}
	return filepath.Join(dir, "shop")
}

// TestLivesOn checks a stop and start on one folder, that the folder is refused
// while in use, and that a killed server and a killed Grapnel are dealt with.
func TestLivesOn(t *testing.T) {
	dir := reachable(t)
	first := start(t, dir)
	exec(t, first.DSN(), "CREATE TABLE kept (n INT)")

	if _, err := localdb.Start(t.Context(), localdb.Options{Dir: dir}); !errors.Is(err, localdb.ErrInUse) {
		t.Fatalf("a second server on the folder: got %v, want ErrInUse", err)
	}
	stop(t, first)

	second := start(t, dir)
	exec(t, second.DSN(), "INSERT INTO kept VALUES (1)")
	pid := serverPID(t, dir)
	if err := syscall.Kill(pid, syscall.SIGKILL); err != nil {
		t.Fatal(err)
	}
	stop(t, second)

	third := start(t, dir)
	exec(t, third.DSN(), "INSERT INTO kept VALUES (2)")
	stop(t, third)
}

// TestStalePID checks that a pid file naming some other process harms nobody.
func TestStalePID(t *testing.T) {
	dir := reachable(t)
	stop(t, start(t, dir))
	if err := os.WriteFile(filepath.Join(dir, "mariadbd.pid"), []byte(strconv.Itoa(os.Getpid())), 0o600); err != nil {
		t.Fatal(err)
	}
	s := start(t, dir)
	exec(t, s.DSN(), "SELECT 1")
	stop(t, s)
}

func serverPID(t *testing.T, dir string) int {
	t.Helper()
	text, err := os.ReadFile(filepath.Join(dir, "mariadbd.pid"))
	if err != nil {
		t.Fatal(err)
	}
	pid, err := strconv.Atoi(strings.TrimSpace(string(text)))
	if err != nil {
		t.Fatal(err)
	}
	return pid
}

// TestRights checks that the application's account reaches its own databases
// and nothing of the server's.
func TestRights(t *testing.T) {
	s := start(t, reachable(t))
	defer stop(t, s)
	ctx, cancel := context.WithTimeout(t.Context(), 10*time.Second)
	defer cancel()
	db, err := sql.Open("mysql", s.DSN())
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	var n int
	if err := db.QueryRowContext(ctx, "SELECT COUNT(*) FROM mysql.global_priv").Scan(&n); err == nil {
		t.Error("the application can read the accounts table")
	}
	root := strings.Replace(s.DSN(), strings.SplitN(s.DSN(), "@", 2)[0], "root:", 1)
	rootDB, err := sql.Open("mysql", root)
	if err != nil {
		t.Fatal(err)
	}
	defer rootDB.Close()
	if err := rootDB.PingContext(ctx); err == nil {
		t.Error("root gets in without a password")
	}
}

// TestMain lets the test binary stand in for a Grapnel that is killed: started
// with a folder in its environment it runs a server there until it dies.
func TestMain(m *testing.M) {
	if dir := os.Getenv("GRAPNEL_TEST_VICTIM"); dir != "" {
		if _, err := localdb.Start(context.Background(), localdb.Options{Dir: dir, Throwaway: true}); err != nil {
			os.Exit(3)
		}
		os.Stdout.WriteString("up\n")
		select {}
	}
	os.Exit(m.Run())
}

// TestKilledGrapnel checks that after a Grapnel was killed outright, the next
// one takes the folder over with all that was in it.
func TestKilledGrapnel(t *testing.T) {
	dir := reachable(t)
	first := start(t, dir)
	exec(t, first.DSN(), "CREATE TABLE kept (n INT)")
	stop(t, first)
	victim := osexec.Command(os.Args[0])
	victim.Env = append(os.Environ(), "GRAPNEL_TEST_VICTIM="+dir)
	out, err := victim.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	if err := victim.Start(); err != nil {
		t.Fatal(err)
	}
	if _, err := out.Read(make([]byte, 3)); err != nil {
		t.Fatalf("the victim did not come up: %v", err)
	}
	pid := serverPID(t, dir)
	if err := victim.Process.Kill(); err != nil {
		t.Fatal(err)
	}
	_ = victim.Wait() // it was killed; that is its error
	next := start(t, dir)
	defer stop(t, next)
	exec(t, next.DSN(), "INSERT INTO kept VALUES (1)")
	if serverPID(t, dir) == pid {
		t.Error("the killed Grapnel's server was taken for a new one")
	}
}

// TestHalfMade checks that a folder whose making was cut short is made again.
func TestHalfMade(t *testing.T) {
	dir := reachable(t)
	if err := os.MkdirAll(filepath.Join(dir, "data", "mysql"), 0o755); err != nil {
		t.Fatal(err)
	}
	s := start(t, dir)
	exec(t, s.DSN(), "SELECT 1")
	stop(t, s)
}

// TestDefaultDir checks where a shop's data goes for root and for anyone else.
func TestDefaultDir(t *testing.T) {
	t.Setenv("XDG_DATA_HOME", "/somewhere")
	dir, err := localdb.DefaultDir("shop")
	want := "/somewhere/grapnel/shop"
	if os.Geteuid() == 0 {
		want = "/var/lib/grapnel/shop"
	}
	if err != nil || dir != want {
		t.Errorf("%s, %v", dir, err)
	}
}

// TestAttach checks that a second program reaches the server another runs, and
// that a folder without one is said to be so.
func TestAttach(t *testing.T) {
	dir := reachable(t)
	if _, err := localdb.Attach(dir); err == nil {
		t.Error("attached to an empty folder")
	}
	s := start(t, dir)
	exec(t, s.DSN(), "CREATE TABLE kept (n INT)")
	dsn, err := localdb.Attach(dir)
	if err != nil {
		t.Fatal(err)
	}
	exec(t, dsn, "INSERT INTO kept VALUES (1)")
	stop(t, s)
	if _, err := localdb.Attach(dir); err == nil {
		t.Error("attached to a server that has stopped")
	}
	if err := os.WriteFile(filepath.Join(dir, "port"), []byte("x"), 0o600); err != nil {
		t.Fatal(err)
	}
	if _, err := localdb.Attach(dir); err == nil {
		t.Error("attached through a port that is no number")
	}
}
