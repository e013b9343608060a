package backup

import (
	"context"
	"log/slog"
	"os"
	"sync"
	"time"

	"grapnel/app/record"

	"grapnel/core/problem"
)

// Run is one backup that was tried, as the owner sees it.
type Run struct {
	ID     record.ID `json:"id"`
	MadeAt time.Time `json:"made_at"`
	// Why is what asked for it: daily, asked, upgrade.
	Why     string  `json:"why"`
	Host    string  `json:"host"`
	Path    string  `json:"path"`
	Bytes   int64   `json:"bytes"`
	Rows    int64   `json:"rows"`
	Seconds float64 `json:"seconds"`
	// Trouble is what went wrong; empty for one that is good.
	Trouble string `json:"trouble"`
}

// What asks for a backup.
const (
	Daily   = "daily"
	Asked   = "asked"
	Upgrade = "upgrade"
)

// Book is where it is written down that a backup was made.
type Book interface {
	AddBackupRun(ctx context.Context, r Run) error
	// BackupRuns lists the latest, the latest first.
	BackupRuns(ctx context.Context, limit int) ([]Run, error)
	// HoldBackups gives one of the servers on a database the right to make backups, until
	// what it gets back is called; false where another has it.
	HoldBackups(ctx context.Context) (release func(), held bool, err error)
}

// How often it is looked whether a backup is due, and how old the last good one may be before
// one is due and before it is said to be late.
const (
	lookEvery = 5 * time.Minute
	dueAfter  = 24 * time.Hour
	LateAfter = 26 * time.Hour
	// tryAgain is how long after one that failed the next is tried.
	tryAgain = time.Hour
	// holdEvery is how often the right to make one is asked for while another has it.
	holdEvery = time.Second
	mostRuns  = 30
)

// Keeper makes a backup a day.
type Keeper struct {
	source Source
	book   Book
	now    func() time.Time
	log    *slog.Logger

	mu sync.Mutex
	// since is when the one under way began; zero for none.
	since time.Time
	wake  chan struct{}
}

// NewKeeper keeps backups of a source; now tells the time.
func NewKeeper(source Source, book Book, now func() time.Time, log *slog.Logger) *Keeper {
	return &Keeper{source: source, book: book, now: now, log: log, wake: make(chan struct{}, 1)}
}

// Dir is the folder that backups are kept in.
func (k *Keeper) Dir() string { return k.source.Dir }

// Since is when the backup under way began; the zero time for none.
func (k *Keeper) Since() time.Time {
	k.mu.Lock()
	defer k.mu.Unlock()
	return k.since
}

// Ask has a backup made now.
func (k *Keeper) Ask() {
	select {
	case k.wake <- struct{}{}:
	default: // it is about to be
	}
}

// Run makes backups until the context ends.
func (k *Keeper) Run(ctx context.Context) {
	tick := time.NewTicker(lookEvery)
	defer tick.Stop()
	for do := k.daily; ; {
		if err := do(ctx); err != nil && ctx.Err() == nil {
			k.log.Error("backup", slog.Any("error", err))
		}
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
			do = k.daily
		case <-k.wake:
			do = k.asked
		}
	}
}

// daily makes a backup where one is due and no other server makes it.
func (k *Keeper) daily(ctx context.Context) error {
	if due, err := k.due(ctx); err != nil || !due {
		return err
	}
	release, held, err := k.book.HoldBackups(ctx)
	if err != nil || !held {
		return err
	}
	defer release()
	// Another may have made it while this one waited.
	if due, err := k.due(ctx); err != nil || !due {
		return err
	}
	return k.make(ctx, Daily)
}

// asked makes the backup that somebody asked for. Where another server has the right to make
// one it is waited for: it may hold what was done before the asking, or none may come of it.
func (k *Keeper) asked(ctx context.Context) error {
	at := k.now()
	k.under(at)
	defer k.under(time.Time{})
	for {
		release, held, err := k.book.HoldBackups(ctx)
		if err != nil {
			return err
		}
		if held {
			defer release()
			break
		}
		select {
		case <-ctx.Done():
			return nil
		case <-time.After(holdEvery):
		}
	}
	list, err := k.book.BackupRuns(ctx, mostRuns)
	if err != nil {
		return err
	}
	if good, ok := LastGood(list); ok && good.MadeAt.After(at) {
		return nil
	}
	return k.make(ctx, Asked)
}

// due reports that the last good backup is a day old, and that the last that failed lies far
// enough back.
func (k *Keeper) due(ctx context.Context) (bool, error) {
	list, err := k.book.BackupRuns(ctx, mostRuns)
	if err != nil {
		return false, err
	}
	if len(list) > 0 && list[0].Trouble != "" && k.now().Sub(list[0].MadeAt) < tryAgain {
		return false, nil
	}
	good, ok := LastGood(list)
	return !ok || k.now().Sub(good.MadeAt) >= dueAfter, nil
}

// LastGood is the latest good one of a list.
func LastGood(list []Run) (Run, bool) {
	for _, r := range list {
		if r.Trouble == "" {
			return r, true
		}
	}
	return Run{}, false
}

func (k *Keeper) make(ctx context.Context, why string) error {
	k.under(k.now())
	defer k.under(time.Time{})
	run := k.source.Tried(ctx, k.now(), why)
	if run.Trouble == "" {
		k.log.Info("backup made", slog.String("path", run.Path), slog.Int64("bytes", run.Bytes), slog.Int64("rows", run.Rows), slog.Float64("seconds", run.Seconds))
		if err := Rotate(k.source.Dir, k.now()); err != nil {
			k.log.Error("old backups", slog.Any("error", err))
		}
	} else {
		k.log.Error("backup failed", slog.String("error", run.Trouble))
	}
	return k.book.AddBackupRun(context.WithoutCancel(ctx), run)
}

func (k *Keeper) under(at time.Time) {
	k.mu.Lock()
	defer k.mu.Unlock()
	k.since = at
}

// mostTrouble is how much of what went wrong is kept, in bytes.
const mostTrouble = 490

// Tried makes a backup and says how it went.
func (s Source) Tried(ctx context.Context, at time.Time, why string) Run {
	host, err := os.Hostname()
	if err != nil {
		host = "unknown"
	}
	began := time.Now()
	made, err := s.Make(ctx, at)
	run := Run{ID: record.NewID(), MadeAt: at.UTC(), Why: why, Host: host, Path: made.Path, Bytes: made.Bytes, Rows: made.Rows(), Seconds: time.Since(began).Seconds()}
	if err != nil {
		run.Trouble = problem.Cut(err.Error(), mostTrouble)
	}
	return run
}
