package store

import (
	"context"
	"database/sql"
	"fmt"
	"time"

	"grapnel/app/store/gen"
)

// timed gives each statement the time that is left of its request: a database does not hear
// that whoever asked has gone, and would go on working for nobody.
type timed struct{ gen.DBTX }

// within is a statement that the database gives up when the time of its context is over.
func within(ctx context.Context, statement string) string {
	end, ok := ctx.Deadline()
	if !ok {
		return statement
	}
	left := max(time.Until(end), time.Millisecond)
	return fmt.Sprintf("SET STATEMENT max_statement_time=%.3f FOR %s", left.Seconds(), statement)
}

func (t timed) ExecContext(ctx context.Context, statement string, args ...any) (sql.Result, error) {
	return t.DBTX.ExecContext(ctx, within(ctx, statement), args...)
}

func (t timed) QueryContext(ctx context.Context, statement string, args ...any) (*sql.Rows, error) {
	return t.DBTX.QueryContext(ctx, within(ctx, statement), args...)
}

func (t timed) QueryRowContext(ctx context.Context, statement string, args ...any) *sql.Row {
	return t.DBTX.QueryRowContext(ctx, within(ctx, statement), args...)
}
