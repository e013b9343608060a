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
)

// ErrBroken is returned for a file that is no whole backup.
var ErrBroken = errors.New("no whole backup")

// Read reads a backup to its end and finds in it what it says it holds.
func Read(path string) (Manifest, error) {
	var m Manifest
	archive, err := zip.OpenReader(path)
	if err != nil {
		return m, fmt.Errorf("%s: %w: %w", path, ErrBroken, err)
	}
	defer archive.Close()
	broken := func(err error) (Manifest, error) { return m, fmt.Errorf("%s: %w: %w", path, ErrBroken, err) }
	body, err := partOf(archive, manifestPart)
	if err != nil {
		return broken(err)
	}
	if err := json.Unmarshal(body, &m); err != nil {
		return broken(err)
	}
	count := &counter{}
	if err := stream(archive, databasePart, count); err != nil {
		return broken(err)
	}
	if !count.whole() || !maps.Equal(count.tables, m.Tables) {
		return broken(fmt.Errorf("it says %v, and holds %s", m.Tables, count))
	}
	for _, name := range authorityFiles {
		if m.Authority {
			if _, err := partOf(archive, authorityPart+name); err != nil {
				return broken(err)
			}
		}
	}
	return m, nil
}

// stream writes a part of a backup somewhere; its checksum is found right, or an error is
// returned.
func stream(archive *zip.ReadCloser, name string, into io.Writer) error {
	part, err := archive.Open(name)
	if err != nil {
		return err
	}
	defer part.Close()
	_, err = io.Copy(into, part)
	return err
}

func partOf(archive *zip.ReadCloser, name string) ([]byte, error) {
	var out strings.Builder
	err := stream(archive, name, &out)
	return []byte(out.String()), err
}

// Restore makes the database again in one that is empty, counts what came, and puts the
// authority into its folder. Whoever was signed in signs in again. The schema stays that of
// the backup: what upgrades one does so afterwards.
func Restore(ctx context.Context, path, database, authority string) (Manifest, error) {
	m, err := Read(path)
	if err != nil {
		return m, err
	}
	config, err := dsn.Parse(database)
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
	archive, err := zip.OpenReader(path)
	if err != nil {
		return m, err
	}
	defer archive.Close()
	err = load(ctx, archive, config)
	if err == nil {
		err = counted(ctx, db, m)
	}
	if err != nil {
		return m, errors.Join(err, emptied(context.WithoutCancel(ctx), db))
	}
	for _, statement := range []string{"DELETE FROM sessions", "UPDATE signed_in SET ended_at = UTC_TIMESTAMP(6) WHERE ended_at IS NULL"} {
		var missing *mysql.MySQLError
		if _, err := db.ExecContext(ctx, statement); err != nil && !(errors.As(err, &missing) && missing.Number == errNoTable) {
			return m, err
		}
	}
	if !m.Authority || authority == "" {
		return m, nil
	}
	return m, unpack(archive, authority)
}

// load runs the statements of a backup.
func load(ctx context.Context, archive *zip.ReadCloser, config *mysql.Config) error {
	part, err := archive.Open(databasePart)
	if err != nil {
		return err
	}
	defer part.Close()
	// One transaction, put to disk once: a row a statement would wait for the disk each time.
	in := io.MultiReader(strings.NewReader("SET autocommit = 0, unique_checks = 0;\n"), part, strings.NewReader("\nCOMMIT;\n"))
	return tool(ctx, config, "mariadb", in, io.Discard, "--default-character-set=utf8mb4", "--max-allowed-packet=64M", config.DBName)
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

// unpack puts the authority into its folder.
func unpack(archive *zip.ReadCloser, dir string) error {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return err
	}
	for _, name := range authorityFiles {
		body, err := partOf(archive, authorityPart+name)
		if err != nil {
			return err
		}
		file, err := os.OpenFile(filepath.Join(dir, name), os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
		if err != nil {
			return err
		}
		_, err = file.Write(body)
		if err := errors.Join(err, file.Close()); err != nil {
			return err
		}
	}
	return nil
}
