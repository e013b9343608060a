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
)

// authorityDir is the folder of the workshop's own authority: beside the database's folder,
// which is the database's own.
func (s *serving) authorityDir() (string, error) {
	dir, err := s.dataDir()
	return dir + "-tls", err
}

// source is what is backed up, and where to.
func (s *serving) source(dsn string) (backup.Source, error) {
	dir, err := s.dataDir()
	if err != nil {
		return backup.Source{}, err
	}
	authority, err := s.authorityDir()
	if s.backups == "" {
		s.backups = dir + "-backups"
	}
	return backup.Source{DSN: dsn, Authority: authority, Dir: s.backups, Release: release}, err
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
		made, err := source.Make(ctx, time.Now())
		if err != nil {
			return fmt.Errorf("%w\nNothing was changed. Put right what is said, or go on without one: -without-backup", err)
		}
		s.say("  " + made.Path)
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
	// A database of an earlier release has no list of them.
	_ = store.New(db).AddBackupRun(ctx, run)
	fmt.Fprintf(out, "%s\n%d rows, %s, read back and counted, in %.1f s\n", run.Path, run.Rows, room.Text(run.Bytes), run.Seconds)
	return backup.Rotate(source.Dir, time.Now())
}

// restore makes a shop again out of a backup, in an empty folder or an empty database.
func restore(ctx context.Context, args []string, _ io.Reader, out, errs io.Writer) error {
	s := serving{out: errs, errs: errs}
	dry := false
	set := flag.NewFlagSet("restore", flag.ContinueOnError)
	set.SetOutput(errs)
	set.StringVar(&s.data, "data", os.Getenv("GRAPNEL_DATA"), "empty folder to make the private database in (default: the system's place for it)")
	set.BoolVar(&dry, "dry-run", false, "read the backup to its end and say what it holds and what will be missing; nothing is written")
	if err := set.Parse(args); err != nil {
		return parseError(err)
	}
	s.kind = localdb.Shop
	if set.NArg() != 1 {
		fmt.Fprintln(errs, "grapnel restore FILE: a backup, such as grapnel-2026-11-29T023000Z.zip")
		return errBadInput
	}
	path := set.Arg(0)
	m, err := backup.Read(path)
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
	if dry {
		fmt.Fprintln(out, "Nothing was written.")
		return nil
	}
	return s.restore(ctx, path, out)
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
func (s *serving) restore(ctx context.Context, path string, out io.Writer) error {
	authority, err := s.authorityDir()
	if err != nil {
		return err
	}
	if _, err := os.Stat(authority); err == nil {
		fmt.Fprintf(out, "%s is there already and stays as it is.\n", authority)
		authority = ""
	}
	if dsn := os.Getenv("GRAPNEL_DSN"); dsn != "" {
		if _, err := backup.Restore(ctx, path, dsn, authority); err != nil {
			return err
		}
		fmt.Fprintln(out, "Restored, every row counted. Start it with: grapnel serve")
		return nil
	}
	dir, err := s.dataDir()
	if err != nil {
		return err
	}
	if entries, err := os.ReadDir(dir); err == nil && len(entries) > 0 {
		fmt.Fprintf(s.errs, "grapnel restore: %s holds something already: name an empty folder with -data\n", dir)
		return errBadInput
	}
	aside := filepath.Clean(dir) + ".restoring"
	if err := s.restoreAside(ctx, path, aside, authority); err != nil {
		return err
	}
	if err := os.Remove(dir); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	if err := os.Rename(aside, dir); err != nil {
		return err
	}
	fmt.Fprintf(out, "Restored, every row counted. Start it with: grapnel serve -data %s\n", dir)
	return nil
}

// restoreAside makes the private database in a folder of its own. What an earlier try left
// there is thrown away where it is one of ours.
func (s *serving) restoreAside(ctx context.Context, path, aside, authority string) error {
	if err := localdb.Discard(aside, localdb.Shop); err != nil {
		return err
	}
	server, err := localdb.Start(ctx, localdb.Options{Dir: aside, Kind: localdb.Shop, Say: s.say})
	if err != nil {
		return err
	}
	_, err = backup.Restore(ctx, path, server.DSN(), authority)
	if err = errors.Join(err, server.Stop()); err != nil {
		return errors.Join(err, localdb.Discard(aside, localdb.Shop))
	}
	return nil
}
