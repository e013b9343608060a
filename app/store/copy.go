package store

import (
	"context"
	"database/sql"
	"fmt"
	"strings"

	"github.com/pressly/goose/v3"
)

// complete is the table that says that a copy is whole.
const complete = "copy_complete"

// keepCopy copies the database into one beside it, NAME_before_VERSION, before it is
// changed. A copy that is whole is left as it is, one that is not is made anew; an empty
// database has nothing to be kept.
func (u Upgrade) keepCopy(ctx context.Context, db *sql.DB, p *goose.Provider) error {
	from, to, err := p.GetVersions(ctx)
	if err != nil || from == 0 || from >= to || u.WithoutCopy {
		return wrapped(err, "schema version")
	}
	var name string
	if err := db.QueryRowContext(ctx, "SELECT DATABASE()").Scan(&name); err != nil {
		return wrapped(err, "copy")
	}
	target := fmt.Sprintf("%s_before_%d", name, to)
	whole, err := hasTable(ctx, db, target, complete)
	if err != nil || whole {
		return wrapped(err, "copy")
	}
	u.say("Keeping a copy of the database as " + target)
	if err := copyAll(ctx, db, name, target); err != nil {
		return fmt.Errorf(
			"no copy of the database could be kept as %s, and nothing was changed: %w\nGive the account rights on it, or keep a copy yourself and run: grapnel migrate -without-copy",
			target,
			err,
		)
	}
	return nil
}

func wrapped(err error, doing string) error {
	if err == nil {
		return nil
	}
	return fmt.Errorf("%s: %w", doing, err)
}

func hasTable(ctx context.Context, db *sql.DB, database, table string) (bool, error) {
	var n int
	err := db.QueryRowContext(ctx, "SELECT COUNT(*) FROM information_schema.tables WHERE table_schema = ? AND table_name = ?", database,
		table).
		Scan(&n)
	return n > 0, err
}

func copyAll(ctx context.Context, db *sql.DB, from, to string) error {
	for _, statement := range []string{"DROP DATABASE IF EXISTS " + quoted(to),
		"CREATE DATABASE " + quoted(to) + " CHARACTER SET utf8mb4 COLLATE utf8mb4_general_ci"} {
		if _, err := db.ExecContext(ctx, statement); err != nil {
			return err
		}
	}
	const tablesOf = "SELECT table_name FROM information_schema.tables WHERE table_schema = ? AND table_type = 'BASE TABLE' ORDER BY table_name"
	tables, err := column[string](ctx, db, tablesOf, from)
	if err != nil {
		return err
	}
	for _, table := range tables {
		if err := copyTable(ctx, db, from, to, table); err != nil {
			return fmt.Errorf("%s: %w", table, err)
		}
	}
	_, err = db.ExecContext(ctx, "CREATE TABLE "+quoted(to)+"."+quoted(complete)+" (at DATETIME NOT NULL) AS SELECT UTC_TIMESTAMP() AS at")
	return err
}

// copyTable copies one table; columns that follow from others follow in the copy.
func copyTable(ctx context.Context, db *sql.DB, from, to, table string) error {
	if _, err := db.ExecContext(ctx, "CREATE TABLE "+quoted(to)+"."+quoted(table)+" LIKE "+quoted(from)+"."+quoted(table)); err != nil {
		return err
	}
	const columnsOf = "SELECT column_name FROM information_schema.columns " +
		"WHERE table_schema = ? AND table_name = ? AND COALESCE(generation_expression, '') = '' ORDER BY ordinal_position"
	columns, err := column[string](ctx, db, columnsOf, from, table)
	if err != nil {
		return err
	}
	for i := range columns {
		columns[i] = quoted(columns[i])
	}
	list := strings.Join(columns, ", ")
	_, err = db.ExecContext(ctx, "INSERT INTO "+quoted(to)+"."+quoted(table)+" ("+list+") SELECT "+list+" FROM "+quoted(from)+"."+quoted(table))
	return err
}

func quoted(name string) string { return "`" + strings.ReplaceAll(name, "`", "``") + "`" }

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
