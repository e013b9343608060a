package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"path"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/pressly/goose/v3"

	"grapnel/app/dsn"
)

//go:embed migrations/*.sql
var migrations embed.FS

// lockSeconds is how long a start waits for another that is migrating.
const lockSeconds = 60

// firstWithSteps is the first migration whose statements were written down one by one
// when it landed; those before may have been interrupted without a trace.
const firstWithSteps = 4

// Upgrade says how a schema is brought up to date.
type Upgrade struct {
	// Before is done to a database that holds something before it is changed; an error
	// leaves it as it is. Nil for nothing.
	Before func(ctx context.Context, from int64) error
	// To is the schema to stop at; zero for the latest.
	To int64
	// after is told of every statement that was done, for tests that interrupt.
	after func(version int64, step int) error
}

// Migrate brings the schema up to date; see Upgrade.Run.
func Migrate(ctx context.Context, db *sql.DB) (int64, error) { return Upgrade{}.Run(ctx, db) }

// Run brings the schema up to date, under a lock of the database server, so that copies
// started together do not run into each other. It may be interrupted at any moment, by a
// kill or by the loss of the server: every statement that was done is written down, and
// the next start goes on behind it. A signal does not interrupt it.
func (u Upgrade) Run(ctx context.Context, db *sql.DB) (int64, error) {
	conn, err := db.Conn(ctx)
	if err != nil {
		return 0, fmt.Errorf("database: %w", err)
	}
	defer conn.Close()
	var locked sql.NullInt64
	if err := conn.QueryRowContext(ctx, "SELECT GET_LOCK(CONCAT('grapnel-migrate-', DATABASE()), ?)", lockSeconds).Scan(&locked); err != nil {
		return 0, fmt.Errorf("migration lock: %w", err)
	}
	if locked.Int64 != 1 {
		return 0, fmt.Errorf("migration lock: another start has held it for %s", lockSeconds*time.Second)
	}
	ctx = context.WithoutCancel(ctx)
	defer func() {
		// The lock ends with the connection in any case.
		_, _ = conn.ExecContext(ctx, "SELECT RELEASE_LOCK(CONCAT('grapnel-migrate-', DATABASE()))")
	}()
	return u.run(ctx, db)
}

func (u Upgrade) run(ctx context.Context, db *sql.DB) (int64, error) {
	if err := u.prepare(ctx, db); err != nil {
		return 0, err
	}
	p, err := u.provider(db)
	if err != nil {
		return 0, err
	}
	if err := u.before(ctx, p); err != nil {
		return 0, err
	}
	if u.To > 0 {
		_, err = p.UpTo(ctx, u.To)
	} else {
		_, err = p.Up(ctx)
	}
	if err != nil {
		return 0, fmt.Errorf("migrations: %w", err)
	}
	return p.GetDBVersion(ctx)
}

// before does what is to be done before a database is changed, and refuses one of a release
// that is newer than this one.
func (u Upgrade) before(ctx context.Context, p *goose.Provider) error {
	from, to, err := p.GetVersions(ctx)
	switch {
	case err != nil:
		return fmt.Errorf("schema version: %w", err)
	case from > to:
		return fmt.Errorf("%w: it has schema %d, this release knows up to %d. Start the release it was last used with, or a newer one; nothing was changed", ErrNewer, from, to)
	case from == 0 || from == to || u.Before == nil || u.To > 0 && from >= u.To:
		return nil
	}
	return u.Before(ctx, from)
}

// ErrNewer is returned for a database that a newer release has used.
var ErrNewer = errors.New("the database belongs to a newer release of Grapnel")

// Latest is the newest schema that this release knows.
func Latest() int64 {
	latest := int64(0)
	files, err := fs.Glob(migrations, "migrations/*.sql")
	for _, file := range files {
		version, bad := versionOf(file)
		latest, err = max(latest, version), errors.Join(err, bad)
	}
	if err != nil {
		panic(err) // they are in the program, and named by us
	}
	return latest
}

func versionOf(file string) (int64, error) {
	prefix, _, _ := strings.Cut(path.Base(file), "_")
	return strconv.ParseInt(prefix, 10, 64)
}

// prepare makes the table of what was done, and mends a table of versions that was left
// empty.
func (u Upgrade) prepare(ctx context.Context, db *sql.DB) error {
	const steps = "CREATE TABLE IF NOT EXISTS migration_step (version BIGINT NOT NULL, step INT NOT NULL, PRIMARY KEY (version, step))"
	if _, err := db.ExecContext(ctx, steps); err != nil {
		return fmt.Errorf("migrations: %w", err)
	}
	var rows int
	err := db.QueryRowContext(ctx, "SELECT COUNT(*) FROM goose_db_version").Scan(&rows)
	if number(err) == errNoTable {
		return nil
	}
	if err == nil && rows == 0 {
		_, err = db.ExecContext(ctx, "INSERT INTO goose_db_version (version_id, is_applied) VALUES (0, 1)")
	}
	if err != nil {
		return fmt.Errorf("migrations: %w", err)
	}
	return nil
}

// MariaDB's numbers for what a statement finds when it was done before.
const (
	errNoTable     = 1146
	errTableThere  = 1050
	errColumnThere = 1060
	errKeyThere    = 1061
	errDropGone    = 1091
)

func (u Upgrade) provider(db *sql.DB) (*goose.Provider, error) {
	files, err := fs.Glob(migrations, "migrations/*.sql")
	if err != nil {
		return nil, err
	}
	var list []*goose.Migration
	for _, file := range files {
		text, err := fs.ReadFile(migrations, file)
		if err != nil {
			return nil, err
		}
		version, err := versionOf(file)
		if err != nil {
			return nil, fmt.Errorf("migration %s: %w", file, err)
		}
		statements := statementsOf(string(text))
		list = append(list, goose.NewGoMigration(version, &goose.GoFunc{RunDB: func(ctx context.Context, db *sql.DB) error {
			return u.apply(ctx, db, version, statements)
		}}, nil))
	}
	p, err := goose.NewProvider(goose.DialectMySQL, db, nil, goose.WithGoMigrations(list...), goose.WithDisableGlobalRegistry(true))
	if err != nil {
		return nil, fmt.Errorf("migrations: %w", err)
	}
	return p, nil
}

// statementsOf are the statements of a migration's way up, in order.
func statementsOf(text string) []string {
	up, _, _ := strings.Cut(text, "-- +goose Down")
	var lines []string
	for _, line := range strings.Split(up, "\n") {
		if !strings.HasPrefix(strings.TrimSpace(line), "--") {
			lines = append(lines, line)
		}
	}
	var out []string
	for _, statement := range strings.Split(strings.Join(lines, "\n"), ";\n") {
		if statement = strings.TrimSpace(statement); statement != "" {
			out = append(out, strings.TrimSuffix(statement, ";"))
		}
	}
	return out
}

// begun is the step that says that a migration has been begun.
const begun = 0

// apply runs the statements of a migration that have not been done yet. A statement that
// was done and not written down, because the moment between is as good as any other to be
// killed in, finds its own work and goes on.
func (u Upgrade) apply(ctx context.Context, db *sql.DB, version int64, statements []string) error {
	done, err := column[int](ctx, db, "SELECT step FROM migration_step WHERE version = ?", version)
	if err != nil {
		return err
	}
	again := slices.Contains(done, begun) || version < firstWithSteps
	if err := u.step(ctx, db, version, begun); err != nil {
		return err
	}
	for i, statement := range statements {
		if slices.Contains(done, i+1) {
			continue
		}
		if _, err := db.ExecContext(ctx, statement); err != nil && !(again && was(err)) {
			return fmt.Errorf("schema %d, statement %d: %w", version, i+1, err)
		}
		if err := u.told(version, -(i + 1)); err != nil {
			return err
		}
		if err := u.step(ctx, db, version, i+1); err != nil {
			return err
		}
		// Only the first one not written down may have been done.
		again = again && version < firstWithSteps
	}
	return nil
}

// was reports an error that says that a statement has been done before.
func was(err error) bool {
	return slices.Contains([]uint16{errTableThere, errColumnThere, errKeyThere, errDropGone}, number(err))
}

// step writes down that a statement was done.
func (u Upgrade) step(ctx context.Context, db *sql.DB, version int64, step int) error {
	if _, err := db.ExecContext(ctx, "INSERT IGNORE INTO migration_step (version, step) VALUES (?, ?)", version, step); err != nil {
		return err
	}
	return u.told(version, step)
}

func (u Upgrade) told(version int64, step int) error {
	if u.after == nil {
		return nil
	}
	return u.after(version, step)
}

// OpenAndUpgrade brings the schema of a DSN up to date on connections of its own, which
// wait for as long as the work takes.
func OpenAndUpgrade(ctx context.Context, text string, u Upgrade) (int64, error) {
	config, err := dsn.Parse(text)
	if err != nil {
		return 0, err
	}
	config.Timeout, config.ReadTimeout, config.WriteTimeout = dialTimeout, slowAnswer, slowAnswer
	db, err := open(config)
	if err != nil {
		return 0, err
	}
	version, err := u.Run(ctx, db)
	return version, errors.Join(err, db.Close())
}

// column is what a query of one column finds.
func column[T any](ctx context.Context, db *sql.DB, query string, args ...any) ([]T, error) {
	rows, err := db.QueryContext(ctx, query, args...)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	var out []T
	for rows.Next() {
		var one T
		if err := rows.Scan(&one); err != nil {
			return nil, err
		}
		out = append(out, one)
	}
	return out, rows.Err()
}

// slowAnswer is how long one statement of an upgrade may take.
const slowAnswer = 4 * time.Hour
