package main

import (
	"bufio"
	"context"
	"errors"
	"flag"
	"fmt"
	"net/http"
	"os"
	"strconv"
	"strings"
	"time"
)

// soak has people work for an hour and finds out whether anything grows that should not: what runs
// in the server, its memory, its connections, the memory of the database.
func soak(ctx context.Context, args []string) (err error) {
	set := flag.NewFlagSet("soak", flag.ExitOnError)
	people := set.Int("people", 20, "technicians at once")
	think := set.Duration("think", 2*time.Second, "how long each thinks between two deeds")
	last := set.Duration("for", time.Hour, "how long they work")
	_ = set.Parse(args) // it ends the program where something is wrong
	dir, err := workDir()
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(dir)) }()
	metrics := fmt.Sprint("127.0.0.1:", freePort())
	server, base, err := demo(ctx, dir, "-metrics", metrics)
	if err != nil {
		return err
	}
	defer server.stop()
	b := newBook()
	over := make(chan error, 1)
	go func() { over <- crew(ctx, b, *people, *think, 0, *last, base) }()
	// What is kept on purpose has filled up by a quarter of the time.
	quarter := *last / 4
	first, err := averaged(ctx, server, metrics, quarter, quarter)
	if err != nil {
		return err
	}
	second, err := averaged(ctx, server, metrics, quarter, quarter)
	if err := errors.Join(err, <-over); err != nil {
		return err
	}
	b.said()
	return first.compare(second)
}

// amounts are what should not grow, by name.
type amounts map[string]float64

// averaged waits, and then averages what is looked at now and then for a while.
func averaged(ctx context.Context, server *process, metrics string, wait, during time.Duration) (amounts, error) {
	all, looks := amounts{}, 10
	if err := slept(ctx, wait-during/2); err != nil {
		return nil, err
	}
	for range looks {
		if err := slept(ctx, during/2/time.Duration(looks)); err != nil {
			return nil, err
		}
		one, err := looked(metrics)
		if err != nil {
			return nil, err
		}
		one["memory of the server, MB"], _ = server.memory()
		for name, value := range one {
			all[name] += value / float64(looks)
		}
	}
	return all, nil
}

func slept(ctx context.Context, d time.Duration) error {
	select {
	case <-ctx.Done():
		return ctx.Err()
	case <-time.After(max(0, d)):
		return nil
	}
}

// looked reads what the server says of itself.
func looked(metrics string) (amounts, error) {
	r, err := http.Get("http://" + metrics + "/metrics")
	if err != nil {
		return nil, err
	}
	defer r.Body.Close()
	out := amounts{}
	names := map[string]string{
		"go_goroutines": "goroutines", "go_memstats_heap_inuse_bytes": "heap, bytes", "go_threads": "threads",
		`go_sql_open_connections{db_name="grapnel"}`: "connections", "process_open_fds": "open files",
	}
	for lines := bufio.NewScanner(r.Body); lines.Scan(); {
		name, value, _ := strings.Cut(lines.Text(), " ")
		if called, ok := names[name]; ok {
			if out[called], err = strconv.ParseFloat(value, 64); err != nil {
				return nil, err
			}
		}
	}
	return out, nil
}

// mostGrowth is by how much the second look may be larger than the first.
const mostGrowth = 1.15

// compare is an error for what has grown.
func (s amounts) compare(later amounts) error {
	var grown []string
	for name, value := range s {
		fmt.Printf("%-28s %14.1f, later %14.1f\n", name, value, later[name])
		if later[name] > value*mostGrowth+4 {
			grown = append(grown, name)
		}
	}
	if len(grown) > 0 {
		return fmt.Errorf("grown: %s", strings.Join(grown, ", "))
	}
	return nil
}
