package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"syscall"
	"time"
)

// disk fills the disk that the shop is kept on while people work, and frees it again. It
// mounts a small disk in memory, and so has to be run by root.
func disk(ctx context.Context, args []string) (err error) {
	set := flag.NewFlagSet("disk", flag.ExitOnError)
	times := set.Int("times", 5, "how often it is full")
	people := set.Int("people", 8, "people at work meanwhile")
	full := set.Duration("full", 15*time.Second, "how long it is full")
	size := set.Int("size", 600, "how large the disk is, in megabytes")
	slow := set.Duration("slow", 0, "how long filling it takes; zero for at once, in the middle of what is written")
	_ = set.Parse(args) // it ends the program where something is wrong
	dir, err := workDir()
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(dir)) }()
	mounted := filepath.Join(dir, "disk")
	if err := os.Mkdir(mounted, 0o755); err != nil {
		return err
	}
	if err := syscall.Mount("none", mounted, "tmpfs", 0, fmt.Sprintf("size=%dm,mode=755", *size)); err != nil {
		return fmt.Errorf("mount a disk in memory: %w", err)
	}
	defer func() { err = errors.Join(err, syscall.Unmount(mounted, syscall.MNT_DETACH)) }()
	server, base, err := demo(ctx, mounted)
	if err != nil {
		return err
	}
	defer server.stop()
	b := newBook()
	working, stop := context.WithCancel(ctx)
	defer stop()
	over := make(chan error, 1)
	go func() { over <- crewUntil(working, ctx, b, *people, base) }()
	var waited []time.Duration
	for range *times {
		time.Sleep(5 * time.Second)
		fill := filepath.Join(mounted, "fill")
		if err := fillUp(fill, *size, *slow); err != nil {
			return err
		}
		time.Sleep(*full)
		before := b.answeredSoFar()
		if err := os.Remove(fill); err != nil {
			return err
		}
		freed := time.Now()
		for b.answeredSoFar() == before && time.Since(freed) < time.Minute {
			time.Sleep(10 * time.Millisecond)
		}
		waited = append(waited, time.Since(freed))
	}
	stop()
	if err := <-over; err != nil {
		return err
	}
	db, err := attached(filepath.Join(mounted, "demo"))
	if err != nil {
		return err
	}
	defer db.Close()
	kept, lost, doubled, err := b.verify(ctx, db)
	if err != nil {
		return err
	}
	fmt.Printf("disk full %d times for %s: %d readings answered, %d lost, %d doubled; the first answer behind %v\n", *times, *full, kept, lost, doubled, waited)
	b.said()
	return flawless(b, lost, doubled)
}

// fillUp writes a file until there is no room left, on a disk of so many megabytes and for
// about so long.
func fillUp(path string, size int, slow time.Duration) error {
	file, err := os.Create(path)
	if err != nil {
		return err
	}
	for err == nil {
		_, err = io.CopyN(file, zeros{}, 1<<20)
		time.Sleep(slow / time.Duration(size))
	}
	if !errors.Is(err, syscall.ENOSPC) {
		return fmt.Errorf("the disk was not filled: %w", err)
	}
	return file.Close()
}

// zeros never end.
type zeros struct{}

func (zeros) Read(p []byte) (int, error) {
	clear(p)
	return len(p), nil
}
