package demo

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"time"

	"grapnel/app/store"
)

// How far a database is filled with the demo, as it stands in about_database.
const (
	filling = "filling"
	filled  = "filled"
)

// Fill loads the demo into a migrated database as of now. One that was being filled when it was
// killed is emptied and filled anew; one that holds a shop otherwise is left as it is.
func Fill(ctx context.Context, db *sql.DB) error {
	var so string
	err := db.QueryRowContext(ctx, "SELECT value FROM about_database WHERE name = 'demo'").Scan(&so)
	switch {
	case errors.Is(err, sql.ErrNoRows):
		if taken, err := hasPeople(ctx, db); err != nil || taken {
			return err
		}
	case err != nil:
		return fmt.Errorf("demo: %w", err)
	case so == filled:
		return nil
	}
	if err := begin(ctx, db); err != nil {
		return fmt.Errorf("demo: %w", err)
	}
	if err := Load(ctx, store.New(db), time.Now()); err != nil {
		return err
	}
	return mark(ctx, db, filled)
}

func hasPeople(ctx context.Context, db *sql.DB) (bool, error) {
	var n int
	if err := db.QueryRowContext(ctx, "SELECT COUNT(*) FROM person").Scan(&n); err != nil {
		return false, fmt.Errorf("demo: %w", err)
	}
	return n > 0, nil
}

// begin writes down that the database is being filled, and takes away what was filled by halves.
func begin(ctx context.Context, db *sql.DB) error {
	if err := mark(ctx, db, filling); err != nil {
		return err
	}
	c, err := db.Conn(ctx)
	if err != nil {
		return err
	}
	defer c.Close()
	tables, err := tablesOf(ctx, c)
	if err != nil {
		return err
	}
	// A row may name one of a table that is emptied before it.
	if _, err := c.ExecContext(ctx, "SET foreign_key_checks = 0"); err != nil {
		return err
	}
	for _, table := range tables {
		if _, err := c.ExecContext(ctx, "DELETE FROM `"+table+"`"); err != nil {
			return fmt.Errorf("%s: %w", table, err)
		}
	}
	_, err = c.ExecContext(ctx, "SET foreign_key_checks = 1")
	return err
}

// tablesOf are the tables that hold what is filled in: not what the database says of itself.
func tablesOf(ctx context.Context, c *sql.Conn) ([]string, error) {
	rows, err := c.QueryContext(ctx, `SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE()
AND table_name NOT IN ('about_database', 'goose_db_version', 'migration_step')`)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	var out []string
	for rows.Next() {
		var one string
		if err := rows.Scan(&one); err != nil {
			return nil, err
		}
		out = append(out, one)
	}
	return out, rows.Err()
}

func mark(ctx context.Context, db *sql.DB, so string) error {
	_, err := db.ExecContext(ctx, "INSERT INTO about_database (name, value) VALUES ('demo', ?) ON DUPLICATE KEY UPDATE value = VALUES(value)", so)
	return err
}
