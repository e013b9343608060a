package store

import (
	"context"
	"time"

	"grapnel/app/backup"
	"grapnel/app/record"
	"grapnel/app/store/gen"
)

// AddBackupRun writes down that a backup was tried.
func (s *Store) AddBackupRun(ctx context.Context, r backup.Run) error {
	return s.q.AddBackupRun(ctx, gen.AddBackupRunParams{
		ID: r.ID, MadeAt: r.MadeAt, Why: r.Why, Host: r.Host, Path: r.Path, Bytes: r.Bytes, RowCount: r.Rows, Seconds: r.Seconds, Trouble: r.Trouble,
	})
}

// BackupRuns lists the latest, the latest first.
func (s *Store) BackupRuns(ctx context.Context, limit int) ([]backup.Run, error) {
	rows, err := s.q.BackupRuns(ctx, int32(limit))
	return each(rows, func(r gen.BackupRun) backup.Run {
		return backup.Run{
			ID: r.ID, MadeAt: r.MadeAt, Why: r.Why, Host: r.Host, Path: r.Path, Bytes: r.Bytes, Rows: r.RowCount, Seconds: r.Seconds, Trouble: r.Trouble,
		}
	}), err
}

// backupLife is how long a server may take for a backup before another may make one.
const backupLife = 4 * time.Hour

// HoldBackups gives this server the right to make backups. A row is claimed, since a lock of
// the database server's own is one node's alone in a cluster.
func (s *Store) HoldBackups(ctx context.Context) (release func(), held bool, err error) {
	const name = "backup"
	me, now := record.NewID(), time.Now().UTC()
	if err := s.q.AddClaim(ctx, gen.AddClaimParams{Name: name, Holder: me, UntilAt: now.Add(-time.Second)}); err != nil {
		return nil, false, err
	}
	held, err = one(s.q.TakeClaim(ctx, gen.TakeClaimParams{Me: me, Till: now.Add(backupLife), Name: name, At: now}))
	if err != nil || !held {
		return nil, false, err
	}
	return func() {
		// Where it cannot be given back it ends by itself.
		_ = s.q.GiveClaimBack(context.WithoutCancel(ctx), gen.GiveClaimBackParams{UntilAt: time.Now().UTC().Add(-time.Second), Name: name, Holder: me})
	}, true, nil
}
