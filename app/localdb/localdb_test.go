package localdb_test

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	osexec "os/exec"
	"os/user"
	"path/filepath"
	"strconv"
	"strings"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"grapnel/app/localdb"
	"grapnel/app/room"
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
	// Also where there is no room: who serves it already may be worked with.
	full := localdb.Options{Dir: dir, Left: func(string) (int64, error) { return 0, nil }}
	if _, err := localdb.Start(t.Context(), full); !errors.Is(err, localdb.ErrInUse) {
		t.Fatalf("with the disk full: got %v, want ErrInUse", err)
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

// TestNobodyGetsInMeanwhile knocks as root, without a password, at the port and at the socket
// from the moment a first start begins until it is over, and finds no moment to get in; what
// the first start was told is not left behind.
func TestNobodyGetsInMeanwhile(t *testing.T) {
	dir := reachable(t)
	over, knocks := make(chan struct{}), make(chan int, 1)
	go func() {
		n := 0
		defer func() { knocks <- n }()
		for {
			select {
			case <-over:
				return
			default:
			}
			port, err := os.ReadFile(filepath.Join(dir, "port"))
			if err != nil {
				continue
			}
			for _, at := range []string{"tcp(127.0.0.1:" + string(port) + ")", "unix(" + filepath.Join(dir, "data", "grapnel.sock") + ")"} {
				for _, who := range []string{"root", "", "mysql"} {
					db, err := sql.Open("mysql", who+"@"+at+"/")
					if err != nil {
						t.Error(err)
						return
					}
					if err := db.Ping(); err == nil {
						t.Errorf("%q got in at %s", who, at)
					}
					db.Close()
					n++
				}
			}
		}
	}()
	s := start(t, dir)
	close(over)
	if n := <-knocks; n == 0 {
		t.Error("nobody knocked")
	}
	entries, err := filepath.Glob(filepath.Join(dir, "data", "*.sql"))
	if err != nil || len(entries) > 0 {
		t.Errorf("left behind: %v %v", entries, err)
	}
	stop(t, s)
	stop(t, start(t, dir))
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

// TestFolders checks that a folder is used for what it is for and nothing else: other
// people's files and a shop are refused by name, before anything is written or deleted.
func TestFolders(t *testing.T) {
	kept := func(t *testing.T, dir string) string {
		t.Helper()
		if err := os.MkdirAll(dir, 0o755); err != nil {
			t.Fatal(err)
		}
		file := filepath.Join(dir, "accounts.txt")
		if err := os.WriteFile(file, []byte("a year's work"), 0o600); err != nil {
			t.Fatal(err)
		}
		return file
	}
	t.Run("other people's files", func(t *testing.T) {
		dir := reachable(t)
		file := kept(t, dir)
		for _, kind := range []string{localdb.Demo, localdb.Shop} {
			_, err := localdb.Start(t.Context(), localdb.Options{Dir: dir, Kind: kind, Fresh: kind == localdb.Demo})
			if err == nil || !strings.Contains(err.Error(), dir) || !strings.Contains(err.Error(), "accounts.txt") {
				t.Errorf("%s: %v", kind, err)
			}
		}
		entries, err := os.ReadDir(dir)
		if err != nil || len(entries) != 1 {
			t.Errorf("the folder was written into: %v %v", entries, err)
		}
		if text, err := os.ReadFile(file); err != nil || string(text) != "a year's work" {
			t.Errorf("%s %v", text, err)
		}
	})
	t.Run("a shop", func(t *testing.T) {
		dir := reachable(t)
		s := start(t, dir)
		exec(t, s.DSN(), "CREATE TABLE kept (n INT)")
		fresh := localdb.Options{Dir: dir, Kind: localdb.Demo, Fresh: true, Throwaway: true}
		if _, err := localdb.Start(t.Context(), fresh); err == nil || !strings.Contains(err.Error(), "holds a shop, not a demo") {
			t.Errorf("a shop being served: %v", err)
		}
		stop(t, s)
		// A folder of a release that wrote no mark is a shop's as well.
		if err := os.Remove(filepath.Join(dir, "grapnel-folder")); err != nil {
			t.Fatal(err)
		}
		for _, o := range []localdb.Options{fresh, {Dir: dir, Kind: localdb.Demo}} {
			if _, err := localdb.Start(t.Context(), o); err == nil {
				t.Error("the demo took a shop's folder")
			}
		}
		s = start(t, dir)
		exec(t, s.DSN(), "INSERT INTO kept VALUES (1)")
		stop(t, s)
	})
	t.Run("a demo", func(t *testing.T) {
		dir := reachable(t)
		begin := func(fresh bool) *localdb.Server {
			s, err := localdb.Start(t.Context(), localdb.Options{Dir: dir, Kind: localdb.Demo, Fresh: fresh, Throwaway: true})
			if err != nil {
				t.Fatal(err)
			}
			return s
		}
		s := begin(false)
		exec(t, s.DSN(), "CREATE TABLE kept (n INT)")
		if _, err := localdb.Start(t.Context(), localdb.Options{Dir: dir, Kind: localdb.Demo, Fresh: true}); !errors.Is(err, localdb.ErrInUse) {
			t.Errorf("a demo being shown was thrown away: %v", err)
		}
		exec(t, s.DSN(), "INSERT INTO kept VALUES (1)")
		stop(t, s)
		s = begin(false)
		exec(t, s.DSN(), "INSERT INTO kept VALUES (2)")
		stop(t, s)
		s = begin(true)
		exec(t, s.DSN(), "CREATE TABLE kept (n INT)") // it is not there any more
		stop(t, s)
	})
}

// TestStartsAgain checks that a server that is killed is there again under the same
// address, with what was committed, however often; and that one that cannot be started
// again is told of.
func TestStartsAgain(t *testing.T) {
	dir := reachable(t)
	s, err := localdb.Start(t.Context(), localdb.Options{Dir: dir})
	if err != nil {
		t.Fatal(err)
	}
	defer stop(t, s)
	exec(t, s.DSN(), "CREATE TABLE kept (n INT)")
	for n := range 3 {
		exec(t, s.DSN(), "INSERT INTO kept VALUES ("+strconv.Itoa(n)+")")
		before := serverPID(t, dir)
		if err := syscall.Kill(before, syscall.SIGKILL); err != nil {
			t.Fatal(err)
		}
		answers(t, s.DSN(), n+1)
		if serverPID(t, dir) == before {
			t.Error("the server that was killed still answers")
		}
	}
	// What cannot be started again: its folder is gone.
	if err := os.Rename(filepath.Join(dir, "data"), filepath.Join(dir, "data-gone")); err != nil {
		t.Fatal(err)
	}
	if err := syscall.Kill(serverPID(t, dir), syscall.SIGKILL); err != nil {
		t.Fatal(err)
	}
	select {
	case err := <-s.Lost():
		if err == nil {
			t.Error("lost without an error")
		}
	case <-time.After(90 * time.Second):
		t.Error("nobody was told")
	}
}

// TestHangs has the server stand still: it is ended and started again, on the same port, with what
// was in it. No source: it is how the program is to behave.
func TestHangs(t *testing.T) {
	dir := reachable(t)
	s, err := localdb.Start(t.Context(), localdb.Options{Dir: dir, Throwaway: true, Hang: 3 * time.Second})
	if err != nil {
		t.Fatal(err)
	}
	defer stop(t, s)
	exec(t, s.DSN(), "CREATE TABLE kept (n INT)")
	pid := serverPID(t, dir)
	if err := syscall.Kill(pid, syscall.SIGSTOP); err != nil {
		t.Fatal(err)
	}
	until(t, "another server runs", func() bool {
		text, err := os.ReadFile(filepath.Join(dir, "mariadbd.pid"))
		return err == nil && strings.TrimSpace(string(text)) != strconv.Itoa(pid)
	})
	answers(t, s.DSN(), 0)
}

// TestLeftOverUnknown checks that a server that nobody has written down is stopped all the
// same: its Grapnel was killed just behind starting it. No source: it is how the program is to
// behave.
func TestLeftOverUnknown(t *testing.T) {
	dir := reachable(t)
	s, err := localdb.Start(t.Context(), localdb.Options{Dir: dir})
	if err != nil {
		t.Fatal(err)
	}
	exec(t, s.DSN(), "CREATE TABLE kept (n INT)")
	// The same server once more, by nobody, as it was started.
	line, err := os.ReadFile(fmt.Sprintf("/proc/%d/cmdline", serverPID(t, dir)))
	if err != nil {
		t.Fatal(err)
	}
	stop(t, s)
	words := strings.Split(strings.TrimSuffix(string(line), "\x00"), "\x00")
	left := osexec.Command(words[0], words[1:]...)
	if os.Geteuid() == 0 {
		u, err := user.Lookup("mysql")
		if err != nil {
			t.Fatal(err)
		}
		uid, _ := strconv.ParseUint(u.Uid, 10, 32) // the system's own figures
		gid, _ := strconv.ParseUint(u.Gid, 10, 32)
		left.SysProcAttr = &syscall.SysProcAttr{Credential: &syscall.Credential{Uid: uint32(uid), Gid: uint32(gid)}}
	}
	if err := left.Start(); err != nil {
		t.Fatal(err)
	}
	ended := make(chan struct{})
	go func() {
		_ = left.Wait() // it is stopped
		close(ended)
	}()
	t.Cleanup(func() { _ = left.Process.Kill(); <-ended }) // it has ended where the test passes
	again, err := localdb.Start(t.Context(), localdb.Options{Dir: dir})
	if err != nil {
		t.Fatal(err)
	}
	defer stop(t, again)
	answers(t, again.DSN(), 0)
	select {
	case <-ended:
	default:
		t.Error("two servers run on one folder")
	}
}

// TestWaitsForRoom checks that a server whose disk is full is started again when there is
// room, however long that takes, and that none is started without. No source: it is how the
// program is to behave.
func TestWaitsForRoom(t *testing.T) {
	dir := reachable(t)
	var full atomic.Bool
	said := make(chan string, 64)
	options := localdb.Options{Dir: dir, Say: func(line string) { said <- line }, Left: func(string) (int64, error) {
		if full.Load() {
			return room.Least - 1, nil
		}
		return room.Least, nil
	}}
	full.Store(true)
	if s, err := localdb.Start(t.Context(), options); err == nil {
		stop(t, s)
		t.Fatal("started without room")
	} else if !strings.Contains(err.Error(), "64.0 MB are left") {
		t.Errorf("it says %v", err)
	}
	full.Store(false)
	s, err := localdb.Start(t.Context(), options)
	if err != nil {
		t.Fatal(err)
	}
	defer stop(t, s)
	exec(t, s.DSN(), "CREATE TABLE kept (n INT)")
	full.Store(true)
	if err := syscall.Kill(serverPID(t, dir), syscall.SIGKILL); err != nil {
		t.Fatal(err)
	}
	for waiting := false; !waiting; {
		select {
		case line := <-said:
			waiting = strings.Contains(line, "Waiting for room")
		case err := <-s.Lost():
			t.Fatal(err)
		case <-time.After(30 * time.Second):
			t.Fatal("nobody said that the disk is full")
		}
	}
	full.Store(false)
	answers(t, s.DSN(), 0)
}

// answers waits until the table of a database has so many rows.
func answers(t *testing.T, dsn string, want int) {
	t.Helper()
	db, err := sql.Open("mysql", dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	n, deadline := 0, time.Now().Add(30*time.Second)
	for time.Now().Before(deadline) {
		if err = db.QueryRowContext(t.Context(), "SELECT COUNT(*) FROM kept").Scan(&n); err == nil && n == want {
			return
		}
		time.Sleep(20 * time.Millisecond)
	}
	t.Fatalf("%d rows, want %d: %v", n, want, err)
}
