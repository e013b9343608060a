// Package localdb runs a private MariaDB on loopback with its own data folder,
// for the demo, for a shop without a database of its own and for tests. It
// never touches a server that is already on the machine: it has its own folder,
// its own free port, its own accounts with random passwords, and reads no
// configuration file.
package localdb

import (
	"context"
	"crypto/rand"
	"database/sql"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"net"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"runtime"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"time"

	"github.com/go-sql-driver/mysql"

	"grapnel/app/room"
	"grapnel/app/whole"
)

// ErrInUse is returned when another Grapnel runs on the same data folder.
var ErrInUse = errors.New("another Grapnel is running on this data folder")

// Options say where the server lives and how careful it is.
type Options struct {
	// Dir is the data folder; it is made when missing.
	Dir string
	// Kind is what the folder must be for; empty for whatever it is for, a shop where it
	// is new.
	Kind string
	// Fresh throws away what is in the folder first.
	Fresh bool
	// Throwaway trades safety on power loss for speed: tests only.
	Throwaway bool
	// Say is told what is being done, a line at a time; nil for silence.
	Say func(string)
	// Left is how much room there is at a folder, in bytes; nil for the disk's own word.
	Left func(dir string) (int64, error)
	// Hang is how long the server may say nothing before it is ended and started again; zero
	// for the usual.
	Hang time.Duration
}

// full reports that there is too little room for a server to start: one that is started
// without does not answer, and does not go either.
func (o Options) full(dir string) (left int64, full bool) {
	left, err := o.Left(dir)
	return left, err == nil && left < room.Least
}

// Server is a running private MariaDB.
type Server struct {
	dir   string
	port  int
	creds credentials
	lock  *os.File

	// stopping is closed when the server is to go, watched when nobody watches it any
	// more; lost has the one error of a server that could not be started again.
	stopping, watched chan struct{}
	lost              chan error

	mu  sync.Mutex
	now *process
}

// process is one run of the server.
type process struct {
	cmd    *exec.Cmd
	exited chan struct{}
	err    error
}

func (p *process) gone() bool {
	select {
	case <-p.exited:
		return true
	default:
		return false
	}
}

func (s *Server) process() *process {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.now
}

// credentials are made once per data folder and kept beside it, readable by the
// owner only.
type credentials struct {
	Root string `json:"root"`
	App  string `json:"app"`
}

// database and account of the application.
const (
	database = "grapnel"
	account  = "grapnel"
)

// How long starting and stopping may take, and how often a free port that was
// taken in the meantime is replaced.
const (
	startTimeout = 60 * time.Second
	stopTimeout  = 30 * time.Second
	askAgain     = time.Second
	portTries    = 5
)

// DefaultDir is where a shop's data lives unless told otherwise: /var/lib for
// root (the server runs as the mysql user, which must be able to reach it), the
// person's own data folder for anyone else.
func DefaultDir(name string) (string, error) {
	if os.Geteuid() == 0 {
		return filepath.Join("/var/lib/grapnel", name), nil
	}
	if base := os.Getenv("XDG_DATA_HOME"); base != "" {
		return filepath.Join(base, "grapnel", name), nil
	}
	home, err := os.UserHomeDir()
	return filepath.Join(home, ".local", "share", "grapnel", name), err
}

// Start runs the server on a data folder and returns when it answers. A server
// left over from a Grapnel that was killed is stopped first; a folder in use by
// one that lives is refused with ErrInUse, and one that is not ours by name. While it
// runs it is watched, and started again where it goes by itself; see Lost.
func Start(ctx context.Context, o Options) (*Server, error) {
	if o.Say == nil {
		o.Say = func(string) {}
	}
	if o.Left == nil {
		o.Left = room.Left
	}
	dir, err := filepath.Abs(o.Dir)
	if err != nil {
		return nil, err
	}
	s := &Server{dir: dir, stopping: make(chan struct{}), watched: make(chan struct{}), lost: make(chan error, 1)}
	if _, err := s.check(o); err != nil {
		return nil, err
	}
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return nil, fmt.Errorf("data folder: %w", err)
	}
	// Whether another serves the folder comes first: that one needs no room to be asked.
	if err := s.takeLock(); err != nil {
		return nil, err
	}
	if left, full := o.full(dir); full {
		err := fmt.Errorf("%s are left on the disk of %s, and the database needs %s: make room, then start again", room.Text(left), dir, room.Text(room.Least))
		return nil, errors.Join(err, s.lock.Close())
	}
	if err := s.start(ctx, o); err != nil {
		return nil, errors.Join(err, s.lock.Close())
	}
	return s, nil
}

func (s *Server) start(ctx context.Context, o Options) error {
	// The folder may have become another's while we waited for the lock.
	kind, err := s.check(o)
	if err != nil {
		return err
	}
	if err := s.mark(kind); err != nil {
		return err
	}
	if err := s.stopOrphan(o.Say); err != nil {
		return err
	}
	if o.Fresh {
		if err := s.empty(); err != nil {
			return err
		}
	}
	as, err := s.serverUser()
	if err != nil {
		return err
	}
	// A server that starts takes away what it finds of temporary tables: in a folder that
	// others use too it would be theirs.
	if err := serversOwn(s.tmp(), as); err != nil {
		return err
	}
	fresh, err := s.initialise(ctx, as, o.Say)
	if err != nil {
		return err
	}
	if !fresh {
		// A first start that was killed at its very end leaves what it was told.
		if err := os.Remove(s.initFile()); err != nil && !errors.Is(err, os.ErrNotExist) {
			return err
		}
	}
	for try := 0; ; try++ {
		if s.port, err = freePort(); err != nil {
			return err
		}
		if err = s.run(ctx, as, o.Throwaway, fresh); err == nil || try == portTries || ctx.Err() != nil || errors.Is(err, ErrAccounts) {
			break
		}
	}
	if err != nil {
		return err
	}
	if fresh {
		if err := s.keepAccounts(); err != nil {
			return errors.Join(err, s.stopProcess())
		}
	}
	go func() {
		defer close(s.watched)
		s.watch(as, o)
	}()
	return nil
}

// takeLock makes sure that one Grapnel uses the folder. The lock goes with the
// process, however it ends.
func (s *Server) takeLock() error {
	f, err := os.OpenFile(filepath.Join(s.dir, "grapnel.lock"), os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return fmt.Errorf("data folder: %w", err)
	}
	if err := syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		return errors.Join(fmt.Errorf("%w: %s", ErrInUse, s.dir), f.Close())
	}
	s.lock = f
	return nil
}

func (s *Server) data() string     { return filepath.Join(s.dir, "data") }
func (s *Server) tmp() string      { return filepath.Join(s.dir, "tmp") }
func (s *Server) pidFile() string  { return filepath.Join(s.dir, "mariadbd.pid") }
func (s *Server) portFile() string { return filepath.Join(s.dir, "port") }
func (s *Server) socket() string   { return filepath.Join(s.data(), "grapnel.sock") }
func (s *Server) logFile() string  { return filepath.Join(s.dir, "mariadbd.log") }

// stopOrphan stops a server whose Grapnel was killed: a mariadbd on this very folder. It is
// looked for among all that runs and not by the number that was written down: a Grapnel that
// is killed just behind starting one has not written it, and a server that is just starting
// does not hear that it was left.
func (s *Server) stopOrphan(say func(string)) error {
	numbers, err := filepath.Glob("/proc/[0-9]*")
	if err != nil {
		return err
	}
	for _, one := range numbers {
		pid, err := strconv.Atoi(filepath.Base(one))
		if err != nil || !s.isOurs(pid) {
			continue
		}
		say("Stopping the database left over from a Grapnel that was killed")
		if err := end(pid, func() bool { return !s.isOurs(pid) }); err != nil {
			return fmt.Errorf("stop left-over database: %w", err)
		}
	}
	if err := os.Remove(s.pidFile()); err != nil && !errors.Is(err, os.ErrNotExist) {
		return err
	}
	return nil
}

// end asks a server to stop until it has: one that is only just starting does not hear
// the first time. One that takes too long is killed; what it committed is safe.
func end(pid int, gone func() bool) error {
	asked, deadline := time.Time{}, time.Now().Add(stopTimeout)
	for signal := syscall.SIGTERM; !gone(); time.Sleep(20 * time.Millisecond) {
		switch now := time.Now(); {
		case now.After(deadline.Add(askAgain)):
			return fmt.Errorf("process %d does not end", pid)
		case now.After(deadline):
			signal = syscall.SIGKILL
			fallthrough
		case now.Sub(asked) > askAgain:
			if err := syscall.Kill(pid, signal); err != nil && !errors.Is(err, syscall.ESRCH) {
				return err
			}
			asked = now
		}
	}
	return nil
}

// isOurs reports a program of MariaDB's that works on this very folder: a server, or what makes
// the folder for one.
func (s *Server) isOurs(pid int) bool {
	line, err := os.ReadFile(fmt.Sprintf("/proc/%d/cmdline", pid))
	return err == nil && strings.Contains(string(line), "mariadb") && strings.Contains(string(line), "--datadir="+s.data()+"\x00")
}

// serverUser is the account the server runs as: never root.
func (s *Server) serverUser() (*syscall.Credential, error) {
	if os.Geteuid() != 0 {
		return nil, nil
	}
	u, err := user.Lookup("mysql")
	if err != nil {
		return nil, errors.New(
			"running as root needs a user called mysql for the database: useradd --system --home /nonexistent --shell /usr/sbin/nologin mysql",
		)
	}
	uid, errUID := strconv.ParseUint(u.Uid, 10, 32)
	gid, errGID := strconv.ParseUint(u.Gid, 10, 32)
	return &syscall.Credential{Uid: uint32(uid), Gid: uint32(gid)}, errors.Join(errUID, errGID)
}

// ErrAccounts is returned where a folder's database does not let us in by what is written down of its
// accounts. Nothing of it is touched.
var ErrAccounts = errors.New("the accounts of the private database are not known")

// holdsShop reports that there is a shop's database in the folder that was made to its end: while it
// is being made what it is told at its first start lies beside it.
func (s *Server) holdsShop() bool {
	if _, err := os.Stat(s.initFile()); err == nil {
		return false
	}
	_, err := os.Stat(filepath.Join(s.data(), database))
	return err == nil
}

// initialise makes the data folder's system tables once. A half-made folder is
// thrown away and made again.
func (s *Server) initialise(ctx context.Context, as *syscall.Credential, say func(string)) (fresh bool, err error) {
	data, err := os.ReadFile(s.credentialsFile())
	if err == nil {
		if err = json.Unmarshal(data, &s.creds); err != nil {
			err = fmt.Errorf("%w: %s: %w", ErrAccounts, s.credentialsFile(), err)
		}
		return false, err
	}
	if !errors.Is(err, fs.ErrNotExist) {
		return false, fmt.Errorf("%w: %w", ErrAccounts, err)
	}
	if s.holdsShop() {
		return false, fmt.Errorf("%w: %s is missing, and %s holds a shop. Put the file back, or restore a backup into another folder", ErrAccounts, s.credentialsFile(), s.data())
	}
	say("Making a database in " + s.dir)
	for range makeTries {
		if err = s.makeData(ctx, as); err == nil || ctx.Err() != nil {
			break
		}
	}
	if err == nil {
		err = s.prepareAccounts(as)
	}
	return true, err
}

// makeTries is how often making the system tables is tried: on a machine that
// starts several servers at once it has been seen to fail for want of resources.
const makeTries = 3

// makeData makes the system tables in an empty folder.
func (s *Server) makeData(ctx context.Context, as *syscall.Credential) error {
	if err := os.RemoveAll(s.data()); err != nil {
		return err
	}
	if err := serversOwn(s.data(), as); err != nil {
		return err
	}
	cmd := exec.CommandContext(ctx, "mariadb-install-db", "--no-defaults", "--datadir="+s.data(),
		"--auth-root-authentication-method=normal", "--skip-test-db", "--skip-name-resolve", "--force", "--innodb-log-file-size=8M",
		"--innodb-use-native-aio=0")
	// As an option it would be taken apart at its blanks.
	cmd.Env = append(os.Environ(), "TMPDIR="+s.tmp())
	// Told the user by name it would stumble over a blank in the folder's. It goes with us, which
	// hangs on the thread that started it.
	runtime.LockOSThread()
	defer runtime.UnlockOSThread()
	cmd.SysProcAttr = &syscall.SysProcAttr{Credential: as, Pdeathsig: syscall.SIGKILL}
	cmd.Dir = s.data()
	if out, err := cmd.CombinedOutput(); err != nil {
		return fmt.Errorf("mariadb-install-db: %w (are the packages mariadb-server-core and mariadb-client-core installed?)\n%s", err, out)
	}
	return nil
}

// serversOwn makes a folder where there is none, and the server's user its owner: nobody else
// looks into it.
func serversOwn(dir string, as *syscall.Credential) error {
	if err := os.MkdirAll(dir, 0o700); err != nil || as == nil {
		return err
	}
	return os.Chown(dir, int(as.Uid), int(as.Gid))
}

func (s *Server) credentialsFile() string { return filepath.Join(s.dir, "credentials.json") }

// run starts the server process on its port and waits until it answers.
func (s *Server) run(ctx context.Context, as *syscall.Credential, throwaway, fresh bool) error {
	// With a small log the pages are put to disk in spurts that everybody waits for; what is
	// thrown away starts quicker with one.
	flush, log, pool := "1", "96M", "128M"
	if throwaway {
		flush, log, pool = "0", "8M", "64M"
	}
	said, err := os.OpenFile(s.logFile(), os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	cmd := exec.Command("mariadbd", "--no-defaults", "--datadir="+s.data(), "--tmpdir="+s.tmp(), "--socket="+s.socket(),
		"--bind-address=127.0.0.1", "--port="+strconv.Itoa(s.port), "--skip-name-resolve", "--skip-log-bin",
		"--innodb-buffer-pool-size="+pool, "--innodb-log-file-size="+log, "--performance-schema=OFF",
		// What engines keep for tables that are not ours.
		"--aria-pagecache-buffer-size=8M", "--key-buffer-size=1M", "--innodb-log-buffer-size=8M",
		"--default-time-zone=+00:00", "--character-set-server=utf8mb4", "--innodb-flush-log-at-trx-commit="+flush)
	if fresh {
		// Nobody gets in before it was read.
		cmd.Args = append(cmd.Args, "--init-file="+s.initFile())
	}
	cmd.Stdout, cmd.Stderr = said, said
	cmd.SysProcAttr = &syscall.SysProcAttr{Credential: as, Pdeathsig: syscall.SIGTERM, Setpgid: true}
	if err := s.spawn(cmd, said); err != nil {
		return err
	}
	if err := os.WriteFile(s.pidFile(), []byte(strconv.Itoa(cmd.Process.Pid)), 0o600); err != nil {
		return errors.Join(err, s.stopProcess())
	}
	if err := os.WriteFile(s.portFile(), []byte(strconv.Itoa(s.port)), 0o600); err != nil {
		return errors.Join(err, s.stopProcess())
	}
	if err := s.waitReady(ctx); err != nil {
		return errors.Join(err, s.stopProcess())
	}
	return nil
}

// spawn starts the process and waits for it on one thread: the death signal
// that takes the server down with us is tied to the thread that started it.
func (s *Server) spawn(cmd *exec.Cmd, log *os.File) error {
	started, p := make(chan error, 1), &process{cmd: cmd, exited: make(chan struct{})}
	go func() {
		runtime.LockOSThread()
		defer runtime.UnlockOSThread()
		err := cmd.Start()
		started <- err
		if err == nil {
			p.err = cmd.Wait()
		}
		_ = log.Close() // written by the server, not by us
		close(p.exited)
	}()
	err := <-started
	s.mu.Lock()
	s.now = p
	s.mu.Unlock()
	if err != nil {
		return fmt.Errorf("mariadbd: %w (is the package mariadb-server-core installed?)", err)
	}
	return nil
}

func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, err
	}
	port := l.Addr().(*net.TCPAddr).Port
	return port, l.Close()
}

// errAccess is MariaDB's number for a wrong name or password.
const errAccess = 1045

// waitReady asks until the server answers or has gone.
func (s *Server) waitReady(ctx context.Context) error {
	ctx, cancel := context.WithTimeout(ctx, startTimeout)
	defer cancel()
	db, err := open(s.config(account, s.creds.App, ""))
	if err != nil {
		return err
	}
	defer db.Close()
	p := s.process()
	for {
		err := db.PingContext(ctx)
		if err == nil {
			return nil
		}
		if my := new(mysql.MySQLError); errors.As(err, &my) && my.Number == errAccess {
			return fmt.Errorf("%w: %s: %w", ErrAccounts, s.credentialsFile(), err)
		}
		select {
		case <-p.exited:
			return fmt.Errorf("mariadbd stopped at once, see %s: %w", s.logFile(), p.err)
		case <-ctx.Done():
			return fmt.Errorf("mariadbd does not answer, see %s: %w", s.logFile(), err)
		case <-time.After(20 * time.Millisecond):
		}
	}
}

func (s *Server) config(user, password, db string) *mysql.Config {
	c := mysql.NewConfig()
	c.User, c.Passwd, c.DBName = user, password, db
	c.Net, c.Addr = "tcp", net.JoinHostPort("127.0.0.1", strconv.Itoa(s.port))
	c.Logger = quiet{}
	return c
}

// quiet keeps the driver from reporting each refused attempt while we wait.
type quiet struct{}

func (quiet) Print(...any) {}

func open(c *mysql.Config) (*sql.DB, error) {
	connector, err := mysql.NewConnector(c)
	if err != nil {
		return nil, err
	}
	return sql.OpenDB(connector), nil
}

// accounts are the statements that give root a password, make the application's account with
// rights on its own databases only, and leave nobody else: a line each, as the server reads
// them before it lets anybody in.
func (s *Server) accounts() string {
	return strings.Join([]string{
		"DELETE FROM mysql.global_priv WHERE User = '' OR Host NOT IN ('localhost', '127.0.0.1', '::1');",
		"FLUSH PRIVILEGES;",
		"CREATE DATABASE IF NOT EXISTS " + database + " CHARACTER SET utf8mb4 COLLATE utf8mb4_general_ci;",
		fmt.Sprintf("CREATE OR REPLACE USER '%s'@'127.0.0.1' IDENTIFIED BY '%s';", account, s.creds.App),
		fmt.Sprintf("GRANT ALL ON `%s%%`.* TO '%s'@'127.0.0.1';", database, account),
		fmt.Sprintf("CREATE OR REPLACE USER 'root'@'localhost' IDENTIFIED BY '%s';", s.creds.Root),
		"GRANT ALL ON *.* TO 'root'@'localhost' WITH GRANT OPTION;",
		"DELETE FROM mysql.global_priv WHERE User = 'root' AND Host <> 'localhost';",
		"FLUSH PRIVILEGES;",
	}, "\n") + "\n"
}

// initFile is read by the server at its first start, before it listens to anybody.
func (s *Server) initFile() string { return filepath.Join(s.data(), "first-start.sql") }

// prepareAccounts makes the passwords and writes down what the first start does with them.
func (s *Server) prepareAccounts(as *syscall.Credential) error {
	s.creds = credentials{Root: secret(), App: secret()}
	if err := os.WriteFile(s.initFile(), []byte(s.accounts()), 0o600); err != nil {
		return err
	}
	if as == nil {
		return nil
	}
	return os.Chown(s.initFile(), int(as.Uid), int(as.Gid))
}

// keepAccounts writes the passwords down last: without that file the folder counts as half
// made.
func (s *Server) keepAccounts() error {
	data, err := json.Marshal(s.creds)
	if err != nil {
		return err
	}
	if err := whole.Write(s.credentialsFile(), data, 0o600); err != nil {
		return err
	}
	return os.Remove(s.initFile())
}

func secret() string {
	raw := make([]byte, 24)
	// crypto/rand.Read never fails; it ends the program instead.
	_, _ = rand.Read(raw)
	return hex.EncodeToString(raw)
}

// DSN is how the application reaches its database.
func (s *Server) DSN() string { return s.config(account, s.creds.App, database).FormatDSN() }

// CreateDatabase makes another, empty database and gives its DSN: one per test.
// The name must be made of lower-case letters and digits.
func (s *Server) CreateDatabase(ctx context.Context, name string) (string, error) {
	db, err := open(s.config(account, s.creds.App, ""))
	if err != nil {
		return "", err
	}
	defer db.Close()
	full := database + "_" + name
	if _, err := db.ExecContext(ctx, "CREATE DATABASE "+full+" CHARACTER SET utf8mb4 COLLATE utf8mb4_general_ci"); err != nil {
		return "", err
	}
	return s.config(account, s.creds.App, full).FormatDSN(), nil
}

// Stop ends the server and gives the folder free.
func (s *Server) Stop() error {
	close(s.stopping)
	<-s.watched
	err := s.stopProcess()
	if err == nil {
		// Releases before this one take no folder that has it.
		err = os.RemoveAll(s.tmp())
	}
	return errors.Join(err, s.lock.Close())
}

func (s *Server) stopProcess() error {
	p := s.process()
	if p == nil || p.cmd.Process == nil {
		return nil
	}
	if err := end(p.cmd.Process.Pid, p.gone); err != nil {
		return fmt.Errorf("stop the database: %w", err)
	}
	if err := os.Remove(s.pidFile()); err != nil && !errors.Is(err, os.ErrNotExist) {
		return err
	}
	return nil
}
