package store

import (
	"context"
	"database/sql"
)

// MigrateTo brings an empty database to an earlier schema, for tests of the
// upgrade from it.
func MigrateTo(ctx context.Context, db *sql.DB, version int64) error {
	_, err := Upgrade{To: version}.Run(ctx, db)
	return err
}

// Interrupted is an upgrade that is told of each statement it has done; an error ends it
// there.
func Interrupted(after func(version int64, step int) error) Upgrade { return Upgrade{after: after} }

// Statements counts the statements of each migration.
func Statements(version int64) int {
	files, err := migrations.ReadDir("migrations")
	if err != nil || int(version) > len(files) {
		return 0
	}
	text, err := migrations.ReadFile("migrations/" + files[version-1].Name())
	if err != nil {
		return 0
	}
	return len(statementsOf(string(text)))
}

// Every is tested by itself: what it renews holds for minutes.
var Every = every
