// Command reliability makes the figures of docs/reliability.md, with the binary as it is
// built (make build): go run ./scripts/reliability WHAT [flags]. Everything it starts is on
// loopback and in folders of its own, and is gone afterwards.
package main

import (
	"context"
	"fmt"
	"os"
	"os/signal"
	"syscall"
)

// jobs are what can be measured.
var jobs = []struct {
	name, about string
	run         func(context.Context, []string) error
}{
	{"year", "a busy shop's year: how large its database becomes", year},
	{"load", "many technicians at once: how long they wait, what it takes in memory", load},
	{"kills", "the server, its private database or one of its own killed again and again while many work", kills},
	{"starts", "first starts and the upgrades from every schema killed: does the next start come through", starts},
	{"back", "the whole way back from each schema that has landed, with the old releases built from the history", back},
	{"both", "the release before and this one on one database at once while people work", both},
	{"soak", "an hour of work: does anything grow that should not", soak},
	{"disk", "the disk full again and again while people work, and freed (root, for a disk in memory)", disk},
	{"badinput", "what no operation that writes wants, field by field: how many answers of 500", badInput},
	{"cluster", "three copies on a Galera cluster of three; a node and a copy are killed in the middle", clustered},
}

func main() {
	if len(os.Args) > 1 {
		for _, j := range jobs {
			if j.name == os.Args[1] {
				ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
				err := j.run(ctx, os.Args[2:])
				stop()
				if err != nil {
					fmt.Fprintln(os.Stderr, err)
					os.Exit(1)
				}
				return
			}
		}
	}
	fmt.Fprintln(os.Stderr, "go run ./scripts/reliability WHAT [flags]")
	for _, j := range jobs {
		fmt.Fprintf(os.Stderr, "  %-8s %s\n", j.name, j.about)
	}
	os.Exit(2)
}
