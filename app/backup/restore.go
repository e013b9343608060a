package backup

import (
	"archive/zip"
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"github.com/go-sql-driver/mysql"

	"grapnel/app/dsn"
	"grapnel/app/whole"
)

// ErrBroken is returned for a file that is no whole backup.
var ErrBroken = errors.New("no whole backup")

// How large the parts of a backup may be unpacked, in bytes; of the database's statements, how
// many times their size in the file, behind an allowance. A file that is made to fill a disk or
// the memory is found out before it does.
const (
	mostManifest  = 1 << 20
	mostAuthority = 64 << 10
	mostRatio     = 100
	allowance     = 64 << 20
	mostParts     = 16
)

// file is a backup that is open.
type file struct {
	*os.File
	archive *zip.Reader
	Manifest
}

// open opens a backup and reads what it says it holds.
func open(path string) (*file, error) {
	f, err := os.Open(path)
	if err != nil {
		return nil, err
	}
	out := &file{File: f}
	if err := out.begin(); err != nil {
		return nil, errors.Join(broken(path, err), f.Close())
	}
	return out, nil
}

func broken(path string, err error) error { return fmt.Errorf("%s: %w: %w", path, ErrBroken, err) }

func (f *file) begin() error {
	info, err := f.Stat()
	if err != nil {
		return err
	}
	if f.archive, err = zip.NewReader(f, info.Size()); err != nil {
		return err
	}
	if n := len(f.archive.File); n > mostParts {
		return fmt.Errorf("it has %d parts", n)
	}
	body, err := f.part(manifestPart, mostManifest)
	if err != nil {
		return err
	}
	return json.Unmarshal(body, &f.Manifest)
}

// part is a small part of a backup.
func (f *file) part(name string, most int64) ([]byte, error) {
	in, err := f.archive.Open(name)
	if err != nil {
		return nil, err
	}
	defer in.Close()
	body, err := io.ReadAll(io.LimitReader(in, most+1))
	if err == nil && int64(len(body)) > most {
		err = fmt.Errorf("%s is larger than %d bytes", name, most)
	}
	return body, err
}

// statements are the database's, no more of them than a backup may hold.
func (f *file) statements() (io.ReadCloser, error) {
	at := slices.IndexFunc(f.archive.File, func(p *zip.File) bool { return p.Name == databasePart })
	if at < 0 {
		return nil, fmt.Errorf("%s is missing", databasePart)
	}
	p := f.archive.File[at]
	if p.UncompressedSize64 > p.CompressedSize64*mostRatio+allowance {
		return nil, fmt.Errorf("%s is %d bytes and says it holds %d", databasePart, p.CompressedSize64, p.UncompressedSize64)
	}
	in, err := p.Open()
	if err != nil {
		return nil, err
	}
	return struct {
		io.Reader
		io.Closer
	}{io.LimitReader(in, int64(p.UncompressedSize64)), in}, nil
}

// whole finds in a backup what it says it holds, and nothing else.
func (f *file) whole() error {
	in, err := f.statements()
	if err != nil {
		return err
	}
	defer in.Close()
	count := &counter{}
	if err := checkForms(io.TeeReader(in, count)); err != nil {
		return err
	}
	if !count.whole() || !maps.Equal(count.tables, f.Tables) {
		return fmt.Errorf("it says %v, and holds %s", f.Tables, count)
	}
	for _, name := range authorityFiles {
		if f.Authority {
			if _, err := f.part(authorityPart+name, mostAuthority); err != nil {
				return err
			}
		}
	}
	return nil
}

// Read reads a backup to its end and finds in it what it says it holds, and nothing that a
// backup does not hold. Whether it is as it was sealed is CheckSeal's to find.
func Read(path string) (Manifest, error) {
	f, err := open(path)
	if err != nil {
		return Manifest{}, err
	}
	defer f.Close()
	if err := f.whole(); err != nil {
		return f.Manifest, broken(path, err)
	}
	return f.Manifest, nil
}

// Place is where a backup is restored to.
type Place struct {
	// DSN is how the database is reached, which is empty.
	DSN string
	// Authority is the folder for the workshop's own authority; empty where it stays as it is.
	Authority string
}

// Restore makes the database again in one that is empty, counts what came, and puts the
// authority into its folder. Whoever was signed in signs in again, and the database has an id of
// its own from then on. The schema stays that of the backup: what upgrades one does so
// afterwards.
func (p Place) Restore(ctx context.Context, path string) (Manifest, error) {
	f, err := open(path)
	if err != nil {
		return Manifest{}, err
	}
	defer f.Close()
	m := f.Manifest
	if err := f.whole(); err != nil {
		return m, broken(path, err)
	}
	config, err := dsn.Parse(p.DSN)
	if err != nil {
		return m, err
	}
	db, err := dsn.Open(config)
	if err != nil {
		return m, err
	}
	defer db.Close()
	var there int
	if err := db.QueryRowContext(ctx, "SELECT COUNT(*) FROM information_schema.tables WHERE table_schema = DATABASE()").Scan(&there); err != nil {
		return m, err
	}
	if there > 0 {
		return m, fmt.Errorf("the database holds %d tables: a backup is restored into an empty one", there)
	}
	if err = f.load(ctx, config); err == nil {
		err = counted(ctx, db, m)
	}
	if err == nil {
		err = renewed(ctx, db)
	}
	if err != nil {
		return m, errors.Join(err, emptied(context.WithoutCancel(ctx), db))
	}
	if !m.Authority || p.Authority == "" {
		return m, nil
	}
	return m, f.unpack(p.Authority)
}

// renewed ends what must not go on in a database that was restored: the sessions, and its id,
// which the database that the backup was made of may still go by.
func renewed(ctx context.Context, db *sql.DB) error {
	for _, statement := range []string{
		"DELETE FROM sessions", "UPDATE signed_in SET ended_at = UTC_TIMESTAMP(6) WHERE ended_at IS NULL",
		"UPDATE about_database SET value = LEFT(SHA2(CONCAT(UUID(), RAND(), NOW(6)), 256), 16) WHERE name = 'id'",
	} {
		if _, err := db.ExecContext(ctx, statement); err != nil && !isNoTable(err) {
			return err
		}
	}
	return nil
}

// load runs the statements of a backup. MariaDB's client is kept from doing anything but what
// the server does with them.
func (f *file) load(ctx context.Context, config *mysql.Config) error {
	part, err := f.statements()
	if err != nil {
		return err
	}
	defer part.Close()
	// One transaction, put to disk once: a row a statement would wait for the disk each time.
	in := io.MultiReader(strings.NewReader("SET autocommit = 0, unique_checks = 0;\n"), part, strings.NewReader("\nCOMMIT;\n"))
	return tool(ctx, config, "mariadb", in, io.Discard, "--batch", "--binary-mode", "--local-infile=0", "--loose-sandbox",
		"--default-character-set=utf8mb4", "--max-allowed-packet=64M", config.DBName)
}

// emptied takes away what a restore that failed has put into a database that was empty.
func emptied(ctx context.Context, db *sql.DB) error {
	conn, err := db.Conn(ctx)
	if err != nil {
		return err
	}
	defer conn.Close()
	var list sql.NullString
	const tables = "SELECT GROUP_CONCAT(CONCAT('`', table_name, '`')) FROM information_schema.tables WHERE table_schema = DATABASE()"
	if err := conn.QueryRowContext(ctx, tables).Scan(&list); err != nil || list.String == "" {
		return err
	}
	for _, statement := range []string{"SET foreign_key_checks = 0", "DROP TABLE " + list.String} {
		if _, err := conn.ExecContext(ctx, statement); err != nil {
			return err
		}
	}
	return nil
}

// counted finds that each table has what the backup says.
func counted(ctx context.Context, db *sql.DB, m Manifest) error {
	got, err := countAll(ctx, db, slices.Sorted(maps.Keys(m.Tables)))
	if err != nil {
		return err
	}
	if !maps.Equal(got, m.Tables) {
		return fmt.Errorf("restored %v, the backup holds %v", got, m.Tables)
	}
	return nil
}

// unpack puts the authority into its folder, which is there whole or not at all.
func (f *file) unpack(dir string) error {
	aside := filepath.Clean(dir) + ".restoring"
	if err := os.RemoveAll(aside); err != nil {
		return err
	}
	if err := os.MkdirAll(aside, 0o700); err != nil {
		return err
	}
	for _, name := range authorityFiles {
		body, err := f.part(authorityPart+name, mostAuthority)
		if err == nil {
			err = whole.New(filepath.Join(aside, name), body, 0o600)
		}
		if err != nil {
			return err
		}
	}
	if err := os.Rename(aside, dir); err != nil {
		return err
	}
	return whole.SyncDir(filepath.Dir(filepath.Clean(dir)))
}
