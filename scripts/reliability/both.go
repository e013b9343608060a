package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"time"

	"grapnel/app/store"
)

// both has the release before and this one serve one database at once, as while copies are replaced
// one after the other: people work at the old one alone, at both behind the upgrade, at the new one.
func both(ctx context.Context, args []string) (err error) {
	set := flag.NewFlagSet("both", flag.ExitOnError)
	people := set.Int("people", 8, "people at work")
	each := set.Duration("each", 8*time.Second, "how long each of the three stretches is")
	_ = set.Parse(args) // it ends the program where something is wrong
	dir, err := workDir()
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(dir)) }()
	old, err := oldBinary(ctx, dir, store.Latest()-1)
	if err != nil {
		return err
	}
	own, err := newNode(ctx, dir, "own")
	if err != nil {
		return err
	}
	defer own.kill()
	copyOf := func(path, verb, name string) (*process, string, error) {
		port := freePort()
		p := grapnel(verb, port, []string{"GRAPNEL_DSN=" + own.dsn()}, "-backups", filepath.Join(dir, name+"-backups"))
		p.path = path
		if err := p.start(); err != nil {
			return nil, "", err
		}
		if err := healthy(ctx, baseOf(port), 2*time.Minute); err != nil {
			p.stop()
			return nil, "", fmt.Errorf("%s: %w\n%s", name, err, tail(p.said.String()))
		}
		return p, baseOf(port), nil
	}
	before, oldBase, err := copyOf(old, "demo", "old")
	if err != nil {
		return err
	}
	defer before.stop()
	b := newBook()
	if err := crew(ctx, b, *people, 0, 0, *each, oldBase); err != nil {
		return err
	}
	now, newBase, err := copyOf(binary, "serve", "new")
	if err != nil {
		return err
	}
	defer now.stop()
	if err := crew(ctx, b, *people, 0, 0, *each, oldBase, newBase); err != nil {
		return err
	}
	before.stop()
	if err := crew(ctx, b, *people, 0, 0, *each, newBase); err != nil {
		return err
	}
	db, err := store.Open(own.dsn())
	if err != nil {
		return err
	}
	defer db.Close()
	kept, lost, doubled, err := b.verify(ctx, db)
	if err != nil {
		return err
	}
	b.said()
	fmt.Printf("the release before and this one on one database: %d readings answered, %d lost, %d doubled\n", kept+lost, lost, doubled)
	return flawless(b, lost, doubled)
}
