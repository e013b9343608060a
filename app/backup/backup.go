// Package backup keeps a copy of all that a shop has: its database as one consistent
// snapshot, taken while it is worked in, and the workshop's own certificate authority. It is
// one file, an ordinary zip, in which anybody finds the statements that make the database
// again. A file is called good only when it has been read back whole and what is in it has
// been counted. The dump itself is MariaDB's own (mariadb-dump).
package backup

import (
	"archive/zip"
	"bytes"
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
}

// Manifest is what a backup says it holds.
type Manifest struct {
	MadeAt  time.Time `json:"made_at"`
	Release string    `json:"release"`
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

// How a backup is named, and one that is not done yet.
const (
	prefix, suffix = "grapnel-", ".zip"
	unfinished     = ".part"
	stamp          = "2006-01-02T150405Z"
)

// authorityFiles are what an authority has in its folder.
var authorityFiles = []string{"authority.pem", "authority.key"}

// Make makes a backup as of a moment, and reads it back. What goes wrong leaves no file
// behind that could be taken for one.
func (s Source) Make(ctx context.Context, at time.Time) (Backup, error) {
	if err := os.MkdirAll(s.Dir, 0o700); err != nil {
		return Backup{}, fmt.Errorf("backup: %w", err)
	}
	path := filepath.Join(s.Dir, prefix+at.UTC().Format(stamp)+suffix)
	part := path + unfinished
	m, err := s.write(ctx, part, at)
	if err == nil {
		err = s.check(part, m)
	}
	if err == nil {
		err = os.Rename(part, path)
	}
	if err != nil {
		return Backup{}, errors.Join(fmt.Errorf("backup: %w", err), gone(os.Remove(part)))
	}
	info, err := os.Stat(path)
	if err != nil {
		return Backup{}, fmt.Errorf("backup: %w", err)
	}
	return Backup{Path: path, Bytes: info.Size(), Manifest: m}, nil
}

func gone(err error) error {
	if errors.Is(err, fs.ErrNotExist) {
		return nil
	}
	return err
}

// check reads a file back and finds in it what was written.
func (s Source) check(path string, m Manifest) error {
	read, err := Read(path)
	if err != nil {
		return fmt.Errorf("read back: %w", err)
	}
	if len(read.Tables) != len(m.Tables) || read.Rows() != m.Rows() || read.Authority != m.Authority {
		return fmt.Errorf("read back: %d rows of %d tables, written %d of %d", read.Rows(), len(read.Tables), m.Rows(), len(m.Tables))
	}
	return nil
}

// write writes the file and puts it to disk.
func (s Source) write(ctx context.Context, path string, at time.Time) (Manifest, error) {
	m := Manifest{MadeAt: at.UTC(), Release: s.Release}
	config, err := dsn.Parse(s.DSN)
	if err != nil {
		return m, err
	}
	before, err := s.about(ctx, &m)
	if err != nil {
		return m, err
	}
	file, err := os.OpenFile(path, os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600)
	if err != nil {
		return m, err
	}
	archive := zip.NewWriter(file)
	err = s.parts(ctx, archive, config, &m)
	err = errors.Join(err, archive.Close())
	if err == nil {
		err = file.Sync()
	}
	if err = errors.Join(err, file.Close()); err != nil {
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
	if err := dump(ctx, config, io.MultiWriter(into, count)); err != nil {
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
		var missing *mysql.MySQLError
		if errors.As(err, &missing) && missing.Number == errNoTable {
			continue
		}
		if err != nil {
			return nil, fmt.Errorf("count %s: %w", table, err)
		}
		out[table] = n
	}
	return out, nil
}

// errNoTable is MariaDB's number for a table that is not there.
const errNoTable = 1146

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

// dump has MariaDB write the database as statements, one row a line, as it stands at one
// moment.
func dump(ctx context.Context, config *mysql.Config, into io.Writer) error {
	return tool(ctx, config, "mariadb-dump", nil, into, "--single-transaction", "--quick", "--skip-extended-insert", "--complete-insert", "--hex-blob",
		"--no-tablespaces", "--skip-lock-tables", "--skip-add-locks", "--skip-disable-keys", "--skip-add-drop-table", "--tz-utc", "--default-character-set=utf8mb4", config.DBName)
}

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
	cmd.Stdin, cmd.Stdout, cmd.Stderr, cmd.ExtraFiles = in, out, &said, []*os.File{options}
	if err := cmd.Run(); err != nil {
		if errors.Is(err, exec.ErrNotFound) {
			return fmt.Errorf("%s is not installed: it is in Debian's package mariadb-client", name)
		}
		return fmt.Errorf("%s: %w: %s", name, errors.Join(ctx.Err(), err), bytes.TrimSpace(said.Bytes()))
	}
	return nil
}
