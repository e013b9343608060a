package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"os"
	"sync"
	"time"

	"golang.org/x/sync/errgroup"
)

// load has many technicians work on one server and says how long they wait.
func load(ctx context.Context, args []string) (err error) {
	set := flag.NewFlagSet("load", flag.ExitOnError)
	people := set.Int("people", 100, "technicians at once")
	think := set.Duration("think", 2*time.Second, "how long each thinks between two deeds")
	last := set.Duration("for", 60*time.Second, "how long they work")
	warm := set.Duration("warm", 10*time.Second, "how long they work before it is counted: all begin at once, as nobody does")
	metrics := set.String("metrics", "", "where the server tells its metrics and profiles while it is loaded, as 127.0.0.1:8049")
	_ = set.Parse(args) // it ends the program where something is wrong
	dir, err := workDir()
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(dir)) }()
	server, base, err := demo(ctx, dir, "-metrics", *metrics)
	if err != nil {
		return err
	}
	defer server.stop()
	b := newBook()
	before, _ := server.memory()
	if err := crew(ctx, b, *people, *think, *warm, *last, base); err != nil {
		return err
	}
	now, most := server.memory()
	fmt.Printf("%d technicians, %s to think, %s\n", *people, *think, *last)
	b.said()
	fmt.Printf("memory of the server: %.0f MB before, %.0f MB after, %.0f MB at the most\n", before, now, most)
	return nil
}

// workDir is a folder that the database's own user can reach.
func workDir() (string, error) {
	dir, err := os.MkdirTemp("", "grapnel-reliability-")
	if err != nil {
		return "", err
	}
	return dir, os.Chmod(dir, 0o755)
}

// crew signs technicians in and has them work for a while, each at one of the copies first.
func crew(ctx context.Context, b *book, people int, think, warm, last time.Duration, bases ...string) error {
	list, err := signedIn(ctx, b, people, think, bases...)
	if err != nil {
		return err
	}
	working, stop := context.WithTimeout(ctx, warm+last)
	defer stop()
	b.mu.Lock()
	b.from, b.answered, b.stall = time.Now().Add(warm), time.Now(), 0
	b.mu.Unlock()
	workAll(working, ctx, list)
	return nil
}

// crewUntil is crew without an end of its own.
func crewUntil(working, whole context.Context, b *book, people int, bases ...string) error {
	list, err := signedIn(whole, b, people, 0, bases...)
	if err == nil {
		workAll(working, whole, list)
	}
	return err
}

// signedIn are technicians that have come in, each at one of the copies first.
func signedIn(ctx context.Context, b *book, people int, think time.Duration, bases ...string) ([]*technician, error) {
	var list []*technician
	for n := range people {
		t, err := newTechnician(b, think, n, bases...)
		if err != nil {
			return nil, err
		}
		list = append(list, t)
	}
	var coming errgroup.Group
	for _, t := range list {
		coming.Go(func() error { return t.signIn(ctx) })
	}
	if err := coming.Wait(); err != nil {
		return nil, fmt.Errorf("sign in: %w", err)
	}
	return list, nil
}

// workAll has technicians work until the first context ends; what they began by then is
// brought to an end within the second.
func workAll(working, whole context.Context, list []*technician) {
	var hands sync.WaitGroup
	for _, t := range list {
		hands.Go(func() {
			// They do not all begin at once.
			t.pause(working)
			t.work(working, whole)
		})
	}
	hands.Wait()
}
