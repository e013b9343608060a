package backup

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"os"
	"slices"
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
	// Schema is the version of the schema of what is in it; zero where that was not written
	// down.
	Schema int64 `json:"schema"`
	// RemovedAt is when its file was taken away, to make room for later ones or by the owner.
	RemovedAt *time.Time `json:"removed_at"`
	// Missing tells that the file was not taken away and is not there all the same. It is found
	// out when the list is looked at, on the machine that made it.
	Missing bool `json:"missing"`
	// database is the id of the database it is of, known where it was just made.
	database string
}

// Good reports a backup that there is to go back to.
func (r Run) Good() bool { return r.Trouble == "" && r.RemovedAt == nil && !r.Missing }

// Book is where it is written down that a backup was made.
type Book interface {
	AddBackupRun(ctx context.Context, r Run) error
	// BackupRuns lists the latest as of a moment, the latest first; those that a clock stamped
	// that was ahead stand last.
	BackupRuns(ctx context.Context, now time.Time, limit int) ([]Run, error)
	// RemoveBackupRuns writes down that the files of a host were taken away.
	RemoveBackupRuns(ctx context.Context, host string, paths []string, at time.Time) error
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
	// LongAfter is how long one may be under way before that is said.
	LongAfter = 15 * time.Minute
	// tryAgain is how long after one that failed the next is tried.
	tryAgain = time.Hour
	// holdEvery is how often the right to make one is asked for while another has it.
	holdEvery = time.Second
	// lookTime is how long a look into the book may take.
	lookTime = time.Minute
	mostRuns = 100
	// aheadBy is how far the clock of another machine may be ahead of ours before what it
	// stamped is taken for one of the future.
	aheadBy = 5 * time.Minute
)

// Standing is how it stands with the backups at a moment.
type Standing struct {
	// Runs are the latest, the latest first.
	Runs []Run
	// LastGood is the latest that there is to go back to; nil for none.
	LastGood *Run
	// Age is how old that one is.
	Age time.Duration
	// Late tells that it is too old, or that there is none.
	Late bool
	// Missing are those whose files are not there and were not taken away.
	Missing []Run
	// Others is how many files of other databases lie in the folder, and of releases whose
	// names did not say of which.
	Others int
}

// Look finds out how it stands with the backups of a folder. What this machine made is looked
// for on its disk. A stamp of the future says nothing of how old a backup is: the clock was
// ahead when it was made.
func Look(ctx context.Context, book Book, dir string, now time.Time) (Standing, error) {
	ctx, cancel := context.WithTimeoutCause(ctx, lookTime, errHangs)
	defer cancel()
	runs, err := book.BackupRuns(ctx, now.Add(aheadBy), mostRuns)
	if err != nil {
		return Standing{}, err
	}
	host := hostName()
	out := Standing{Runs: runs, Late: true}
	for i := range runs {
		r := &runs[i]
		if r.Good() && r.Host == host && !there(r.Path) {
			// Before schema 12 it was not written down what was taken away.
			if r.Schema == 0 {
				r.RemovedAt = &r.MadeAt
			} else {
				r.Missing = true
				out.Missing = append(out.Missing, *r)
			}
		}
		if r.Good() && out.LastGood == nil && r.MadeAt.Before(now.Add(aheadBy)) {
			out.LastGood, out.Age = r, max(0, now.Sub(r.MadeAt))
			out.Late = out.Age > LateAfter
		}
	}
	out.Others = others(dir, runs)
	return out, nil
}

func there(path string) bool {
	_, err := os.Stat(path)
	return !errors.Is(err, fs.ErrNotExist)
}

func hostName() string {
	if host, err := os.Hostname(); err == nil {
		return host
	}
	return "unknown"
}

// others counts the backups of a folder that are not of the database that a list is of. What is
// wrong with a folder is told by the backup that is made into it.
func others(dir string, runs []Run) (n int) {
	list, err := Kept(dir)
	if err != nil {
		return 0
	}
	for _, one := range list {
		if !slices.ContainsFunc(runs, func(r Run) bool { return r.Path == one.Path }) {
			n++
		}
	}
	return n
}

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
	release, held, err := k.hold(ctx)
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

// hold asks for the right to make a backup.
func (k *Keeper) hold(ctx context.Context) (release func(), held bool, err error) {
	asking, cancel := context.WithTimeoutCause(ctx, lookTime, errHangs)
	defer cancel()
	return k.book.HoldBackups(asking)
}

// asked makes the backup that somebody asked for. Where another server has the right to make
// one it is waited for: it may hold what was done before the asking, or none may come of it.
func (k *Keeper) asked(ctx context.Context) error {
	at := k.now()
	k.under(at)
	defer k.under(time.Time{})
	for {
		release, held, err := k.hold(ctx)
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
	now, err := k.Look(ctx)
	if err != nil {
		return err
	}
	if now.LastGood != nil && now.LastGood.MadeAt.After(at) {
		return nil
	}
	return k.make(ctx, Asked)
}

// Look finds out how it stands with the backups now.
func (k *Keeper) Look(ctx context.Context) (Standing, error) {
	return Look(ctx, k.book, k.source.Dir, k.now())
}

// due reports that the last good backup is a day old, and that the last that failed lies far
// enough back.
func (k *Keeper) due(ctx context.Context) (bool, error) {
	s, err := k.Look(ctx)
	if err != nil {
		return false, err
	}
	if len(s.Runs) > 0 && s.Runs[0].Trouble != "" {
		if since := k.now().Sub(s.Runs[0].MadeAt); since >= 0 && since < tryAgain {
			return false, nil
		}
	}
	return s.LastGood == nil || s.Age >= dueAfter, nil
}

func (k *Keeper) make(ctx context.Context, why string) error {
	k.under(k.now())
	defer k.under(time.Time{})
	run := k.source.Tried(ctx, k.now(), why)
	if run.Trouble == "" {
		k.log.Info("backup made", slog.String("path", run.Path), slog.Int64("bytes", run.Bytes), slog.Int64("rows", run.Rows), slog.Float64("seconds", run.Seconds))
	} else {
		k.log.Error("backup failed", slog.String("error", run.Trouble))
	}
	if err := k.source.WriteDown(ctx, k.book, run, k.now()); err != nil {
		return fmt.Errorf("old backups: %w", err)
	}
	return nil
}

// WriteDown writes a run into the book, and takes away the backups that later ones stand for.
func (s Source) WriteDown(ctx context.Context, book Book, run Run, now time.Time) error {
	ctx, cancel := context.WithTimeoutCause(context.WithoutCancel(ctx), lookTime, errHangs)
	defer cancel()
	if err := book.AddBackupRun(ctx, run); err != nil || run.Trouble != "" {
		return err
	}
	gone, err := Rotate(s.Dir, run.database, now)
	return errors.Join(err, book.RemoveBackupRuns(ctx, run.Host, gone, now))
}

// Remove takes away the file of a backup that somebody asked for, and writes that down. One of
// another machine's disk cannot be taken away from here: ErrElsewhere.
func (k *Keeper) Remove(ctx context.Context, r Run) error {
	if r.Host != hostName() {
		return ErrElsewhere
	}
	if err := notThere(os.Remove(r.Path)); err != nil {
		return fmt.Errorf("backup: %w", err)
	}
	return k.book.RemoveBackupRuns(ctx, r.Host, []string{r.Path}, k.now())
}

// ErrElsewhere is returned for a backup that lies on another machine.
var ErrElsewhere = errors.New("the backup lies on another machine")

func (k *Keeper) under(at time.Time) {
	k.mu.Lock()
	defer k.mu.Unlock()
	k.since = at
}

// mostTrouble is how much of what went wrong is kept, in bytes.
const mostTrouble = 490

// Tried makes a backup and says how it went.
func (s Source) Tried(ctx context.Context, at time.Time, why string) Run {
	began := time.Now()
	made, err := s.Make(ctx, at, why)
	run := Run{
		ID: record.NewID(), MadeAt: at.UTC(), Why: why, Host: hostName(), Path: made.Path, Bytes: made.Bytes, Rows: made.Rows(), Schema: made.Schema,
		Seconds: time.Since(began).Seconds(), database: made.Database,
	}
	if err != nil {
		run.Trouble = problem.Cut(err.Error(), mostTrouble)
	}
	return run
}
