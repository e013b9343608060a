package store

import (
	"context"
	"database/sql"
	"time"
)

// Beat writes one small thing, so that whoever asks knows whether the database takes changes: one
// that is read only, or a node that has lost its cluster, answers all the same.
func Beat(ctx context.Context, db *sql.DB, now time.Time) error {
	const statement = "INSERT INTO about_database (name, value) VALUES ('beat', ?) ON DUPLICATE KEY UPDATE value = VALUES(value)"
	_, err := db.ExecContext(ctx, statement, now.UTC().Format(time.RFC3339))
	if number(err) == errDeadlock {
		// Another copy wrote at the same moment, so it can be written to.
		return nil
	}
	return err
}
