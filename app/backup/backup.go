// Package backup keeps a copy of all that a shop has: its database as one consistent
// snapshot, taken while it is worked in, and the workshop's own certificate authority. It is
// one file, an ordinary zip, in which anybody finds the statements that make the database
// again. A file is called good only when it has been read back whole and what is in it has
// been counted. The dump itself is MariaDB's own (mariadb-dump).
package backup

import (
	"archive/zip"
	"bytes"
	"cmp"
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"strings"
	"syscall"
	"time"

	"github.com/go-sql-driver/mysql"

	"grapnel/app/dsn"
)

// Source is what is backed up, and where to.
type Source struct {
	// DSN is how the database is reached.
	DSN string
	// Authority is the folder of the workshop's own authority; one that is not there is left
	// out.
	Authority string
	// Dir is the folder that backups are kept in; it is made when missing.
	Dir string
	// Release is the version that makes the backup.
	Release string
	// Key is what it is sealed with.
	Key Key
	// Quiet is how long MariaDB's program may write nothing before it is given up; zero for
	// the usual.
	Quiet time.Duration
}

// How long a dump may say nothing, and a question to the database take, before the database is
// taken to hang.
const usualQuiet = 2 * time.Minute

func (s Source) quiet() time.Duration { return cmp.Or(s.Quiet, usualQuiet) }

// Manifest is what a backup says it holds.
type Manifest struct {
	MadeAt  time.Time `json:"made_at"`
	Release string    `json:"release"`
	// Kind is what asked for it, Database the id of the database; both empty where an earlier
	// release made it.
	Kind     string `json:"kind"`
	Database string `json:"database"`
	// Schema is the version of the database's schema.
	Schema int64 `json:"schema"`
	// Shops are the names of the shops in it, Tables how many rows each table has.
	Shops  []string         `json:"shops"`
	Tables map[string]int64 `json:"tables"`
	// Authority tells whether the workshop's own authority is in it.
	Authority bool `json:"authority"`
}

// Rows is how many rows there are in all.
func (m Manifest) Rows() (n int64) {
	for _, one := range m.Tables {
		n += one
	}
	return n
}

// Backup is one file that is good.
type Backup struct {
	Path  string `json:"path"`
	Bytes int64  `json:"bytes"`
	Manifest
}

// The parts of a backup.
const (
	databasePart  = "database.sql"
	authorityPart = "authority/"
	manifestPart  = "manifest.json"
)

// authorityFiles are what an authority has in its folder.
var authorityFiles = []string{"authority.pem", "authority.key"}

// Make makes a backup as of a moment because of what asked for it (Daily, Asked, Upgrade), and
// reads it back. What goes wrong leaves no file behind that could be taken for one.
func (s Source) Make(ctx context.Context, at time.Time, kind string) (Backup, error) {
	made, err := s.make(ctx, at, kind)
	if err != nil {
		return Backup{}, fmt.Errorf("backup: %w", err)
	}
	return made, nil
}

func (s Source) make(ctx context.Context, at time.Time, kind string) (Backup, error) {
	if err := os.MkdirAll(s.Dir, 0o700); err != nil {
		return Backup{}, err
	}
	file, err := os.CreateTemp(s.Dir, prefix+"*"+unfinished)
	if err != nil {
		return Backup{}, err
	}
	part := file.Name()
	m, err := s.write(ctx, file, Manifest{MadeAt: at.UTC(), Release: s.Release, Kind: kind})
	if err = errors.Join(err, file.Close()); err == nil {
		err = s.check(part, m)
	}
	path := ""
	if err == nil {
		path, err = Named{Kind: kind, Database: short(m.Database), Schema: m.Schema, At: at}.put(part)
	}
	if err != nil {
		return Backup{}, errors.Join(err, notThere(os.Remove(part)))
	}
	info, err := os.Stat(path)
	return Backup{Path: path, Manifest: m, Bytes: info.Size()}, err
}

// notThere is an error but for that of a file that has gone already.
func notThere(err error) error {
	if errors.Is(err, fs.ErrNotExist) {
		return nil
	}
	return err
}

// short is how a database's id stands in a name.
func short(id string) string { return id[:min(len(id), shownID)] }

// check reads a file back and finds in it what was written.
func (s Source) check(path string, m Manifest) error {
	if _, err := CheckSeal(path, []Key{s.Key}); err != nil {
		return fmt.Errorf("read back: %w", err)
	}
	read, err := Read(path)
	if err != nil {
		return fmt.Errorf("read back: %w", err)
	}
	if len(read.Tables) != len(m.Tables) || read.Rows() != m.Rows() || read.Authority != m.Authority {
		return fmt.Errorf("read back: %d rows of %d tables, written %d of %d", read.Rows(), len(read.Tables), m.Rows(), len(m.Tables))
	}
	return nil
}

// write writes the file, seals it and puts it to disk.
func (s Source) write(ctx context.Context, file *os.File, m Manifest) (Manifest, error) {
	config, err := dsn.Parse(s.DSN)
	if err != nil {
		return m, err
	}
	before, err := s.about(ctx, &m)
	if err != nil {
		return m, err
	}
	archive := zip.NewWriter(file)
	err = errors.Join(archive.SetComment(s.Key.blankSeal()), s.parts(ctx, archive, config, &m))
	if err = errors.Join(err, archive.Close()); err != nil {
		return m, err
	}
	if err := errors.Join(s.Key.seal(file), file.Sync()); err != nil {
		return m, err
	}
	return m, s.between(ctx, before, m)
}

func (s Source) parts(ctx context.Context, archive *zip.Writer, config *mysql.Config, m *Manifest) error {
	into, err := archive.Create(databasePart)
	if err != nil {
		return err
	}
	count := &counter{}
	if err := s.dump(ctx, config, io.MultiWriter(into, count)); err != nil {
		return err
	}
	if !count.whole() {
		return errors.New("mariadb-dump ended before its end")
	}
	m.Tables = count.tables
	for _, name := range authorityFiles {
		body, err := os.ReadFile(filepath.Join(s.Authority, name))
		if s.Authority == "" || errors.Is(err, fs.ErrNotExist) {
			continue
		}
		if err != nil {
			return err
		}
		m.Authority = true
		if err := put(archive, authorityPart+name, body); err != nil {
			return err
		}
	}
	body, err := json.MarshalIndent(m, "", "  ")
	if err != nil {
		return err
	}
	return put(archive, manifestPart, body)
}

func put(archive *zip.Writer, name string, body []byte) error {
	into, err := archive.Create(name)
	if err == nil {
		_, err = into.Write(body)
	}
	return err
}

// growing are tables that only ever grow: what a snapshot has of them lies between what was
// there before and what is there after.
var growing = []string{"reading", "event", "deed"}

// about finds out what the database says of itself, and how much there is of what only grows.
func (s Source) about(ctx context.Context, m *Manifest) (map[string]int64, error) {
	ctx, cancel := context.WithTimeoutCause(ctx, s.quiet(), errHangs)
	defer cancel()
	config, err := dsn.Parse(s.DSN)
	if err != nil {
		return nil, err
	}
	db, err := dsn.Open(config)
	if err != nil {
		return nil, err
	}
	defer db.Close()
	if m.Schema, err = SchemaOf(ctx, db); err != nil {
		return nil, err
	}
	if m.Database, err = IdentityOf(ctx, db); err != nil {
		return nil, err
	}
	rows, err := db.QueryContext(ctx, "SELECT name FROM shop ORDER BY created_at, id")
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	m.Shops = []string{}
	for rows.Next() {
		var name string
		if err := rows.Scan(&name); err != nil {
			return nil, err
		}
		m.Shops = append(m.Shops, name)
	}
	if err := rows.Err(); err != nil {
		return nil, err
	}
	return countAll(ctx, db, growing)
}

// IdentityOf is the id of a database, sixteen hexadecimal figures. One of a schema before 12
// has none of its own: it goes by its first shop, as migration 12 does.
func IdentityOf(ctx context.Context, db *sql.DB) (string, error) {
	var id string
	err := db.QueryRowContext(ctx, "SELECT value FROM about_database WHERE name = 'id'").Scan(&id)
	if isNoTable(err) || errors.Is(err, sql.ErrNoRows) {
		err = db.QueryRowContext(ctx, "SELECT LOWER(LEFT(SHA2(id, 256), 16)) FROM shop ORDER BY created_at, id LIMIT 1").Scan(&id)
	}
	if errors.Is(err, sql.ErrNoRows) {
		return strings.Repeat("0", 16), nil
	}
	if err != nil {
		return "", fmt.Errorf("id of the database: %w", err)
	}
	return id, nil
}

// SchemaOf is the version of a database's schema.
func SchemaOf(ctx context.Context, db *sql.DB) (int64, error) {
	var version int64
	err := db.QueryRowContext(ctx, "SELECT COALESCE(MAX(version_id), 0) FROM goose_db_version WHERE is_applied = 1").Scan(&version)
	if err != nil {
		return 0, fmt.Errorf("schema version: %w", err)
	}
	return version, nil
}

// countAll counts the rows of tables; one that an earlier schema does not have has none.
func countAll(ctx context.Context, db *sql.DB, tables []string) (map[string]int64, error) {
	out := map[string]int64{}
	for _, table := range tables {
		var n int64
		err := db.QueryRowContext(ctx, "SELECT COUNT(*) FROM `"+table+"`").Scan(&n)
		if isNoTable(err) {
			continue
		}
		if err != nil {
			return nil, fmt.Errorf("count %s: %w", table, err)
		}
		out[table] = n
	}
	return out, nil
}

// isNoTable reports MariaDB's answer for a table that is not there.
func isNoTable(err error) bool {
	const noTable = 1146
	var said *mysql.MySQLError
	return errors.As(err, &said) && said.Number == noTable
}

// between finds that what was written of what only grows lies between what was there before
// and what is there now.
func (s Source) between(ctx context.Context, before map[string]int64, m Manifest) error {
	var later Manifest
	after, err := s.about(ctx, &later)
	if err != nil {
		return err
	}
	for table, least := range before {
		if n := m.Tables[table]; n < least || n > after[table] {
			return fmt.Errorf("%d rows of %s were written, there were %d before and %d after", n, table, least, after[table])
		}
	}
	return nil
}

// errHangs is why something is given up that says nothing.
var errHangs = errors.New("the database does not answer")

// dump has MariaDB write the database as statements, one row a line, as it stands at one
// moment. A program that writes nothing for too long is ended: the database hangs.
func (s Source) dump(ctx context.Context, config *mysql.Config, into io.Writer) error {
	ctx, cancel := context.WithCancelCause(ctx)
	defer cancel(nil)
	alarm := time.AfterFunc(s.quiet(), func() { cancel(errHangs) })
	defer alarm.Stop()
	heard := writer(func(p []byte) (int, error) {
		alarm.Reset(s.quiet())
		return into.Write(p)
	})
	return tool(ctx, config, "mariadb-dump", nil, heard, "--single-transaction", "--quick", "--skip-extended-insert", "--complete-insert", "--hex-blob",
		"--no-tablespaces", "--skip-lock-tables", "--skip-add-locks", "--skip-disable-keys", "--skip-add-drop-table", "--skip-triggers", "--tz-utc", "--default-character-set=utf8mb4", config.DBName)
}

// writer is a function that takes what is written.
type writer func(p []byte) (int, error)

// Write hands it over.
func (w writer) Write(p []byte) (int, error) { return w(p) }

// tool runs a program of MariaDB's on a database. The password goes by a pipe: a file would
// stay behind a Grapnel that is killed.
func tool(ctx context.Context, config *mysql.Config, name string, in io.Reader, out io.Writer, args ...string) error {
	options, told, err := os.Pipe()
	if err != nil {
		return err
	}
	defer options.Close()
	// So little goes into a pipe that nobody reads yet.
	if _, err := told.WriteString(clientOptions(dsn.One(ctx, config))); err != nil {
		return errors.Join(err, told.Close())
	}
	if err := told.Close(); err != nil {
		return err
	}
	var said bytes.Buffer
	cmd := exec.CommandContext(ctx, name, append([]string{"--defaults-file=/dev/fd/3"}, args...)...)
	// It goes with us; that hangs on the thread that started it.
	runtime.LockOSThread()
	defer runtime.UnlockOSThread()
	cmd.SysProcAttr = &syscall.SysProcAttr{Pdeathsig: syscall.SIGKILL}
	cmd.Stdin, cmd.Stdout, cmd.Stderr, cmd.ExtraFiles = in, out, &said, []*os.File{options}
	if err := cmd.Run(); err != nil {
		if errors.Is(err, exec.ErrNotFound) {
			return fmt.Errorf("%s is not installed: it is in Debian's package mariadb-client", name)
		}
		return fmt.Errorf("%s: %w: %s", name, errors.Join(context.Cause(ctx), err), bytes.TrimSpace(said.Bytes()))
	}
	return nil
}
