package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"io/fs"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"grapnel/app/backup"
	"grapnel/app/localdb"
	"grapnel/app/room"
	"grapnel/app/store"
	"grapnel/app/whole"
)

// authorityDir is the folder of the workshop's own authority: beside the database's folder,
// which is the database's own.
func (s *serving) authorityDir() (string, error) {
	dir, err := s.dataDir()
	return dir + "-tls", err
}

// backupDir is the folder that backups go to.
func (s *serving) backupDir() (string, error) {
	if s.backups != "" {
		return s.backups, nil
	}
	dir, err := s.dataDir()
	return dir + "-backups", err
}

// keyFile is where the key is kept that backups are sealed with.
func (s *serving) keyFile() (string, error) {
	dir, err := s.dataDir()
	return filepath.Clean(dir) + "-backup.key", err
}

// source is what is backed up, and where to. Where there is no key to seal backups with yet, it
// is made.
func (s *serving) source(dsn string) (backup.Source, error) {
	dir, err := s.backupDir()
	if err != nil {
		return backup.Source{}, err
	}
	authority, err := s.authorityDir()
	if err != nil {
		return backup.Source{}, err
	}
	path, err := s.keyFile()
	if err != nil {
		return backup.Source{}, err
	}
	key, err := backup.OpenKey(path)
	if err != nil {
		return backup.Source{}, fmt.Errorf("backup key: %w", err)
	}
	return backup.Source{DSN: dsn, Authority: authority, Dir: dir, Release: release, Key: key}, nil
}

// beforeUpgrade keeps a backup of a database that is about to be changed by a release.
func (s *serving) beforeUpgrade(dsn string) func(context.Context, int64) error {
	if s.withoutBackup {
		return nil
	}
	return func(ctx context.Context, from int64) error {
		source, err := s.source(dsn)
		if err != nil {
			return err
		}
		s.say(fmt.Sprintf("Making a backup before the database goes on from schema %d", from))
		run := source.Tried(ctx, time.Now(), backup.Upgrade)
		if run.Trouble != "" {
			return fmt.Errorf("%s\nNothing was changed. Put right what is said, or go on without one: -without-backup", run.Trouble)
		}
		s.say("  " + run.Path)
		s.upgraded = func(ctx context.Context, book backup.Book) error { return source.WriteDown(ctx, book, run, time.Now()) }
		return nil
	}
}

// backUp makes a backup while the shop is worked in.
func backUp(ctx context.Context, args []string, _ io.Reader, out, errs io.Writer) (err error) {
	s := serving{out: errs, errs: errs, attach: true}
	if err := flags("backup", args, errs, func(set *flag.FlagSet) {
		s.defineData(set)
		set.StringVar(&s.kind, "shop", localdb.Shop, "which private database: shop or demo")
	}); err != nil {
		return err
	}
	// What is there is kept as it is, of whatever schema.
	s.asItIs = true
	db, closeDB, err := s.database(ctx)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, closeDB()) }()
	source, err := s.source(s.dsn)
	if err != nil {
		return err
	}
	run := source.Tried(ctx, time.Now(), backup.Asked)
	if run.Trouble != "" {
		return errors.New(run.Trouble)
	}
	fmt.Fprintf(out, "%s\n%d rows, %s, read back and counted, in %.1f s\n", run.Path, run.Rows, room.Text(run.Bytes), run.Seconds)
	if err := source.WriteDown(ctx, store.New(db), run, time.Now()); err != nil {
		// The backup is good all the same: a database of an earlier release has no list of
		// them, and one whose disk is full takes no line of it.
		fmt.Fprintln(errs, "grapnel backup: it is not in the shop's list of backups:", err)
	}
	return nil
}

// backupKey prints the key that backups are sealed with, for the safe.
func backupKey(_ context.Context, args []string, _ io.Reader, out, errs io.Writer) error {
	s := serving{out: errs, errs: errs}
	if err := flags("backup-key", args, errs, func(set *flag.FlagSet) {
		s.defineData(set)
		set.StringVar(&s.kind, "shop", localdb.Shop, "which private database: shop or demo")
	}); err != nil {
		return err
	}
	path, err := s.keyFile()
	if err != nil {
		return err
	}
	key, err := backup.ReadKey(path)
	if errors.Is(err, fs.ErrNotExist) {
		fmt.Fprintf(errs, "grapnel backup-key: there is no %s: it is made with the first backup\n", path)
		return errBadInput
	}
	if err != nil {
		return err
	}
	fmt.Fprintf(out, "%s\n\nThis is backup key %s. Print it and put it into the safe, apart from the backups: on another machine\ngrapnel restore asks for it. Whoever has it can make a backup that is taken for yours.\n", key, key.ID())
	return nil
}

// restoring is a restore that was asked for.
type restoring struct {
	serving
	path string
	dry  bool
	// key is the key of the backup, as text or as the file it is in; unsealed takes a backup
	// without knowing whose it is.
	key      string
	unsealed bool
	// sealed is the key that the backup was found sealed with; nil for none.
	sealed *backup.Key
}

// restore makes a shop again out of a backup, in an empty folder or an empty database.
func restore(ctx context.Context, args []string, _ io.Reader, out, errs io.Writer) error {
	r := restoring{serving: serving{out: errs, errs: errs, kind: localdb.Shop}}
	set := flag.NewFlagSet("restore", flag.ContinueOnError)
	set.SetOutput(errs)
	set.StringVar(&r.data, "data", os.Getenv("GRAPNEL_DATA"), "empty folder to make the private database in (default: the system's place for it)")
	set.BoolVar(&r.dry, "dry-run", false, "read the backup to its end and say what it holds and what will be missing; nothing is written")
	set.StringVar(&r.key, "key", os.Getenv("GRAPNEL_BACKUP_KEY"), "key of the backup: what grapnel backup-key printed, or the file it is in (default: the key of the folder, or of this machine's shop)")
	set.BoolVar(&r.unsealed, "unsealed", false, "take a backup that is not sealed, or whose key is lost: nobody can tell then whether it was changed")
	if err := set.Parse(args); err != nil {
		return parseError(err)
	}
	if set.NArg() != 1 {
		fmt.Fprintln(errs, "grapnel restore FILE: a backup, such as grapnel-daily-4f3c2a1b-s12-2026-11-29T023000Z.zip")
		return errBadInput
	}
	r.path = set.Arg(0)
	if err := r.checkSeal(); err != nil {
		return err
	}
	m, err := backup.Read(r.path)
	if errors.Is(err, backup.ErrBroken) || errors.Is(err, fs.ErrNotExist) {
		fmt.Fprintln(errs, "grapnel restore:", err)
		return errBadInput
	}
	if err != nil {
		return err
	}
	describe(out, m, time.Now())
	if m.Schema > store.Latest() {
		fmt.Fprintf(errs, "grapnel restore: it was made by release %s with schema %d; this one knows up to %d. Restore it with that release, or a newer one\n", m.Release, m.Schema, store.Latest())
		return errBadInput
	}
	if r.dry {
		fmt.Fprintln(out, "Nothing was written.")
		return nil
	}
	return r.restore(ctx, out)
}

// checkSeal finds that the backup is as it was sealed, and by whom.
func (r *restoring) checkSeal() error {
	keys, err := r.keys()
	if err != nil {
		fmt.Fprintln(r.errs, "grapnel restore: -key:", err)
		return errBadInput
	}
	key, err := backup.CheckSeal(r.path, keys)
	var other backup.OtherKey
	switch {
	case err == nil:
		r.sealed = &key
		return nil
	case errors.Is(err, fs.ErrNotExist):
		fmt.Fprintln(r.errs, "grapnel restore:", err)
		return errBadInput
	case errors.Is(err, backup.ErrTampered):
		// Whoever has the key need not take what it says is another's.
		fmt.Fprintf(r.errs, "grapnel restore: %s: %v. It is not restored: whoever changed it may have changed who comes in\n", r.path, err)
		return errBadInput
	case r.unsealed && (errors.Is(err, backup.ErrUnsealed) || errors.As(err, &other)):
		fmt.Fprintf(r.errs, "Warning: %s: %v. Nobody can tell whether it was changed.\n", r.path, err)
		return nil
	case errors.As(err, &other):
		fmt.Fprintf(r.errs, "grapnel restore: %s: %v, which is not here. Give that key with -key: what grapnel backup-key printed where the backup was made, or the file SHOP-FOLDER-backup.key. Where the key is lost, -unsealed takes the backup without it\n", r.path, err)
		return errBadInput
	case errors.Is(err, backup.ErrUnsealed):
		fmt.Fprintf(r.errs, "grapnel restore: %s: %v, as those of releases before 12 are, or its end is missing. -unsealed takes it if you know where it is from\n", r.path, err)
		return errBadInput
	}
	return err
}

// keys are the keys at hand: the one that was given, else that of the folder and that of this
// machine's shop.
func (r *restoring) keys() ([]backup.Key, error) {
	if r.key != "" {
		key, err := backup.ParseKey(r.key)
		if err != nil {
			if _, there := os.Stat(r.key); there == nil {
				key, err = backup.ReadKey(r.key)
			}
		}
		return []backup.Key{key}, err
	}
	here, err := r.keyFile()
	if err != nil {
		return nil, err
	}
	usual, err := localdb.DefaultDir(localdb.Shop)
	if err != nil {
		return nil, err
	}
	var keys []backup.Key
	for _, path := range []string{here, usual + "-backup.key"} {
		key, err := backup.ReadKey(path)
		if errors.Is(err, fs.ErrNotExist) {
			continue
		}
		if err != nil {
			return nil, err
		}
		keys = append(keys, key)
	}
	return keys, nil
}

// told are the tables whose rows mean something to a person, with what they are called.
var told = []struct{ table, word string }{
	{"job", "jobs"}, {"reading", "readings"}, {"customer", "customers"}, {"vehicle", "vehicles"}, {"battery", "batteries"}, {"photo", "pictures"},
	{"verdict", "verdicts"}, {"standing", "batteries that stand or stood"}, {"stock", "batteries in stock or sold from it"}, {"person", "people"}, {"event", "events"},
}

// describe says what a backup holds and what will be missing.
func describe(out io.Writer, m backup.Manifest, now time.Time) {
	fmt.Fprintf(out, "Made %s by release %s, schema %d: %s\n", m.MadeAt.Format(time.RFC3339), m.Release, m.Schema, strings.Join(m.Shops, ", "))
	others := maps.Clone(m.Tables)
	for _, one := range told {
		fmt.Fprintf(out, "  %8d %s\n", m.Tables[one.table], one.word)
		delete(others, one.table)
	}
	rest := int64(0)
	for _, table := range slices.Sorted(maps.Keys(others)) {
		rest += others[table]
	}
	fmt.Fprintf(out, "  %8d rows of %d other tables\nIt has been read to its end and counted.\nMissing will be:\n", rest, len(others))
	fmt.Fprintf(out, "  what was done since, which is %s; what waits on phones is sent once they are back\n", now.Sub(m.MadeAt).Round(time.Minute))
	fmt.Fprintln(out, "  the sessions: everybody signs in again")
	if !m.Authority {
		fmt.Fprintln(out, "  the workshop's own certificate authority: phones that trusted one take another")
	}
}

// restore writes the shop beside where it is to be, and puts it there once it is whole: what
// is broken off on the way is not taken for a shop.
func (r *restoring) restore(ctx context.Context, out io.Writer) error {
	authority, err := r.authorityDir()
	if err != nil {
		return err
	}
	if _, err := os.Stat(authority); err == nil {
		fmt.Fprintf(out, "%s is there already and stays as it is.\n", authority)
		authority = ""
	}
	if dsn := os.Getenv("GRAPNEL_DSN"); dsn != "" {
		if _, err := (backup.Place{DSN: dsn, Authority: authority}).Restore(ctx, r.path); err != nil {
			return err
		}
		fmt.Fprintln(out, "Restored, every row counted. Start it with: grapnel serve")
		return r.keepKey(out)
	}
	dir, err := r.dataDir()
	if err != nil {
		return err
	}
	if entries, err := os.ReadDir(dir); err == nil && len(entries) > 0 {
		fmt.Fprintf(r.errs, "grapnel restore: %s holds something already: name an empty folder with -data\n", dir)
		return errBadInput
	}
	aside := filepath.Clean(dir) + ".restoring"
	if err := r.restoreAside(ctx, aside, authority); err != nil {
		return err
	}
	if err := os.Remove(dir); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	if err := os.Rename(aside, dir); err != nil {
		return err
	}
	if err := whole.SyncDir(filepath.Dir(filepath.Clean(dir))); err != nil {
		return err
	}
	fmt.Fprintf(out, "Restored, every row counted. Start it with: grapnel serve -data %s\n", dir)
	return r.keepKey(out)
}

// keepKey lets the shop go on sealing its backups with the key that this one was sealed with.
func (r *restoring) keepKey(out io.Writer) error {
	path, err := r.keyFile()
	if err != nil || r.sealed == nil {
		return err
	}
	if err := r.sealed.Keep(path); errors.Is(err, fs.ErrExist) {
		if there, err := backup.ReadKey(path); err != nil || there != *r.sealed {
			fmt.Fprintf(out, "%s is another key than that of the backup, and stays.\n", path)
		}
	} else if err != nil {
		return err
	}
	return nil
}

// restoreAside makes the private database in a folder of its own. What an earlier try left
// there is thrown away where it is one of ours.
func (r *restoring) restoreAside(ctx context.Context, aside, authority string) error {
	if err := localdb.Discard(aside, localdb.Shop); err != nil {
		return err
	}
	server, err := localdb.Start(ctx, localdb.Options{Dir: aside, Kind: localdb.Shop, Say: r.say})
	if err != nil {
		return err
	}
	_, err = backup.Place{DSN: server.DSN(), Authority: authority}.Restore(ctx, r.path)
	if err = errors.Join(err, server.Stop()); err != nil {
		return errors.Join(err, localdb.Discard(aside, localdb.Shop))
	}
	return nil
}
