package main

import (
	"context"
	"database/sql"
	"errors"
	"flag"
	"fmt"
	"math/rand/v2"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"syscall"
	"time"

	"grapnel/app/localdb"
	"grapnel/app/store"
)

// kills kills the server, its private database or a database of its own again and again
// while people work, and counts what was lost, what is there twice, and how long it took
// until the shop was served again by itself.
func kills(ctx context.Context, args []string) (err error) {
	set := flag.NewFlagSet("kills", flag.ExitOnError)
	what := set.String("what", "server", "server, private (its private database), own (a database it was given)")
	times := set.Int("times", 50, "how often")
	people := set.Int("people", 8, "people at work meanwhile")
	_ = set.Parse(args) // it ends the program where something is wrong
	dir, err := workDir()
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(dir)) }()
	data, port := filepath.Join(dir, "demo"), freePort()
	var env []string
	var blow func() error
	open := func() (*sql.DB, error) { return attached(data) }
	if *what == "own" {
		own, err := newNode(ctx, dir, "own")
		if err != nil {
			return err
		}
		defer own.kill()
		env = []string{"GRAPNEL_DSN=" + own.dsn()}
		blow = func() error {
			own.kill()
			return own.start()
		}
		open = func() (*sql.DB, error) { return store.Open(own.dsn()) }
	}
	server := grapnel("demo", port, env, "-data", data)
	if *what == "server" {
		blow = func() error {
			server.kill()
			return server.start()
		}
	}
	if *what == "private" {
		blow = func() error { return killPrivate(data) }
	}
	if blow == nil {
		return fmt.Errorf("-what %s: allowed server, private, own", *what)
	}
	if err := server.start(); err != nil {
		return err
	}
	defer server.stop()
	if err := healthy(ctx, baseOf(port), 2*time.Minute); err != nil {
		return fmt.Errorf("%w\n%s", err, &server.said)
	}
	b := newBook()
	working, stop := context.WithCancel(ctx)
	defer stop()
	over := make(chan error, 1)
	go func() { over <- crewUntil(working, ctx, b, *people, baseOf(port)) }()
	var back []time.Duration
	for n := range *times {
		time.Sleep(time.Duration(200+rand.IntN(800)) * time.Millisecond)
		if err := blow(); err != nil {
			return err
		}
		began := time.Now()
		if err := healthy(ctx, baseOf(port), time.Minute); err != nil {
			return fmt.Errorf("kill %d: %w\n%s", n+1, err, &server.said)
		}
		back = append(back, time.Since(began))
	}
	stop()
	if err := <-over; err != nil {
		return err
	}
	db, err := open()
	if err != nil {
		return err
	}
	defer db.Close()
	kept, lost, doubled, err := b.verify(ctx, db)
	if err != nil {
		return err
	}
	slices.Sort(back)
	fmt.Printf("%s killed %d times: %d readings answered, %d lost, %d doubled; served again after %.2f s (median), %.2f s (most)\n",
		*what, *times, kept, lost, doubled, back[len(back)/2].Seconds(), back[len(back)-1].Seconds())
	b.said()
	return flawless(b, lost, doubled)
}

// flawless is an error where something that was answered is lost or doubled, or where a fault of
// ours was answered.
func flawless(b *book, lost, doubled int) error {
	if faults := b.statuses[http.StatusInternalServerError]; faults+lost+doubled > 0 {
		return fmt.Errorf("%d lost, %d doubled, %d answers of 500", lost, doubled, faults)
	}
	return nil
}

// attached opens the private database of a data folder that a Grapnel works on.
func attached(data string) (*sql.DB, error) {
	dsn, err := localdb.Attach(data)
	if err != nil {
		return nil, err
	}
	return store.Open(dsn)
}

// killPrivate kills the private database of a data folder.
func killPrivate(data string) error {
	text, err := os.ReadFile(filepath.Join(data, "mariadbd.pid"))
	if err != nil {
		return nil // it is being started
	}
	pid, err := strconv.Atoi(string(text))
	if err != nil {
		return nil // it is being written
	}
	if err := syscall.Kill(pid, syscall.SIGKILL); err != nil && !errors.Is(err, syscall.ESRCH) {
		return err
	}
	return nil
}
