package store

import (
	"context"
	"database/sql"
)

// MigrateTo brings an empty database to an earlier schema, for tests of the
// upgrade from it.
func MigrateTo(ctx context.Context, db *sql.DB, version int64) error {
	p, err := provider(db)
	if err != nil {
		return err
	}
	_, err = p.UpTo(ctx, version)
	return err
}
