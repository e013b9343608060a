package store

import (
	"context"
	"database/sql"
	"embed"
	"fmt"
	"io/fs"
	"time"

	"github.com/pressly/goose/v3"
)

//go:embed migrations/*.sql
var migrations embed.FS

// lockSeconds is how long a start waits for another that is migrating.
const lockSeconds = 60

// Migrate brings the schema up to date, under a lock of the database server, so
// that copies started together do not run into each other.
func Migrate(ctx context.Context, db *sql.DB) (int64, error) {
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
	defer func() {
		// The lock ends with the connection in any case.
		_, _ = conn.ExecContext(context.WithoutCancel(ctx), "SELECT RELEASE_LOCK(CONCAT('grapnel-migrate-', DATABASE()))")
	}()
	return up(ctx, db)
}

func up(ctx context.Context, db *sql.DB) (int64, error) {
	p, err := provider(db)
	if err != nil {
		return 0, err
	}
	if _, err := p.Up(ctx); err != nil {
		return 0, fmt.Errorf("migrations: %w", err)
	}
	return p.GetDBVersion(ctx)
}

func provider(db *sql.DB) (*goose.Provider, error) {
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	p, err := goose.NewProvider(goose.DialectMySQL, db, files)
	if err != nil {
		return nil, fmt.Errorf("migrations: %w", err)
	}
	return p, nil
}
