package store

import (
	"context"
	"sync"
	"time"

	"grapnel/app/backup"
	"grapnel/app/record"
	"grapnel/app/store/gen"
)

// AddBackupRun writes down that a backup was tried.
func (s *Store) AddBackupRun(ctx context.Context, r backup.Run) error {
	return s.q.AddBackupRun(ctx, gen.AddBackupRunParams{
		ID: r.ID, MadeAt: r.MadeAt, Why: r.Why, Host: r.Host, Path: r.Path, Bytes: r.Bytes, RowCount: r.Rows, Seconds: r.Seconds, Trouble: r.Trouble, SchemaVersion: r.Schema,
	})
}

// BackupRuns lists the latest as of a moment, the latest first; those that a clock stamped that
// was ahead stand last.
func (s *Store) BackupRuns(ctx context.Context, now time.Time, limit int) ([]backup.Run, error) {
	rows, err := s.q.BackupRuns(ctx, gen.BackupRunsParams{Now: now.UTC(), Limit: int32(limit)})
	return each(rows, func(r gen.BackupRun) backup.Run {
		return backup.Run{
			ID: r.ID, MadeAt: r.MadeAt, Why: r.Why, Host: r.Host, Path: r.Path, Bytes: r.Bytes, Rows: r.RowCount, Seconds: r.Seconds, Trouble: r.Trouble,
			Schema: r.SchemaVersion, RemovedAt: r.RemovedAt,
		}
	}), err
}

// RemoveBackupRuns writes down that the files of a host were taken away.
func (s *Store) RemoveBackupRuns(ctx context.Context, host string, paths []string, at time.Time) error {
	at = at.UTC()
	for _, path := range paths {
		if err := s.q.RemoveBackupRun(ctx, gen.RemoveBackupRunParams{At: &at, Host: host, Path: path}); err != nil {
			return err
		}
	}
	return nil
}

// How long the right to make backups holds unless it is renewed, and how often that is done:
// a server that was killed over one leaves it to the others soon, however long one takes.
const (
	backupClaim      = 2 * time.Minute
	backupClaimRenew = 20 * time.Second
)

// HoldBackups gives this server the right to make backups. A row is claimed, since a lock of
// the database server's own is one node's alone in a cluster.
func (s *Store) HoldBackups(ctx context.Context) (release func(), held bool, err error) {
	const name = "backup"
	me := record.NewID()
	if err := s.q.AddClaim(ctx, gen.AddClaimParams{Name: name, Holder: me, UntilAt: time.Now().UTC().Add(-time.Second)}); err != nil {
		return nil, false, err
	}
	take := func(ctx context.Context) (bool, error) {
		now := time.Now().UTC()
		return one(s.q.TakeClaim(ctx, gen.TakeClaimParams{Me: me, Till: now.Add(backupClaim), Name: name, At: now, Latest: *latest(now)}))
	}
	if held, err = take(ctx); err != nil || !held {
		return nil, false, err
	}
	holding, stop := context.WithCancel(context.WithoutCancel(ctx))
	var renewing sync.WaitGroup
	renewing.Go(func() { every(holding, backupClaimRenew, take) })
	return func() {
		stop()
		renewing.Wait()
		// Where it cannot be given back it ends by itself.
		_ = s.q.GiveClaimBack(context.WithoutCancel(ctx), gen.GiveClaimBackParams{UntilAt: time.Now().UTC().Add(-time.Second), Name: name, Holder: me})
	}, true, nil
}

// longestClaim is longer than anything is claimed for: a claim that holds for longer was stamped
// by a clock that was ahead, and holds no more.
const longestClaim = 10 * time.Minute

func latest(at time.Time) *time.Time {
	at = at.Add(longestClaim)
	return &at
}

// every renews a claim until the context ends. One that fails is tried again the next time.
func every(ctx context.Context, pause time.Duration, renew func(context.Context) (bool, error)) {
	tick := time.NewTicker(pause)
	defer tick.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
			_, _ = renew(ctx)
		}
	}
}
