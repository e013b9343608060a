// Command grapnel is the whole product in one binary: it serves the workshop,
// runs the demo, judges a case from the command line and migrates the database.
package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"os"
	"os/signal"
	"syscall"

	"grapnel/core/problem"
)

// Exit codes: bad input is the caller's, a fault is ours.
const (
	exitFault    = 1
	exitBadInput = 2
)

// errBadInput marks an error whose message has been written in full.
var errBadInput = errors.New("bad input")

// command is one verb of the binary.
type command struct {
	name, about string
	run         func(ctx context.Context, args []string, in io.Reader, out, errs io.Writer) error
}

func commands() []command {
	return []command{
		{"serve", "serve the workshop (a private MariaDB unless GRAPNEL_DSN is set)", serve},
		{"demo", "serve an invented workshop to look at", runDemo},
		{"assess", "judge one case: JSON on standard input, the assessment on standard output", assess},
		{"charge", "plan one charge, follow it by its log, judge it: JSON in, JSON out", charge},
		{"shelf", "plan many charges on the channels there are: JSON in, JSON out", planShelf},
		{"jump", "work out a jump start before anything is clamped: JSON in, JSON out", workJump},
		{"standing", "forecast a standing battery and compare its care: JSON in, JSON out", stand},
		{"fit", "choose the battery that goes in: JSON in, JSON out", fit},
		{"procedure", "list, show or check the orders of work: procedure list; show and check take JSON", workProcedure},
		{"import", "take jobs in from plain text: files, or standard input", importJobs},
		{"export", "write a job as plain text", exportJob},
		{"study", "make virtual vehicles with hidden faults and measure whether the verdict holds", runStudy},
		{"instruments", "let simulated instruments measure a virtual battery over the network", instruments},
		{"sources", "print every figure of the trade with its value, unit, source and tag", sources},
		{"reading-line", "print the page on the reading line", readingLine},
		{"doctor", "look the server over: what is wrong, and what to do", doctor},
		{"backup", "make a backup while the shop is worked in", backUp},
		{"backup-key", "print the key that backups are sealed with, for the safe", backupKey},
		{"restore", "make a shop again out of a backup, in an empty folder: restore [-dry-run] FILE", restore},
		{"migrate", "bring the database's schema up to date", migrate},
		{"reset-password", "make a code with which somebody sets another password: reset-password NAME", resetPassword},
		{"add-shop", "make another shop in the database, which sees nothing of the others", addShop},
		{"manual", "print the manual page, for man", manual},
		{"completion", "print what completes commands and flags in Bash", completion},
		{"version", "print the version", version},
	}
}

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	code := run(ctx, os.Args[1:], os.Stdin, os.Stdout, os.Stderr)
	stop()
	os.Exit(code)
}

func run(ctx context.Context, args []string, in io.Reader, out, errs io.Writer) int {
	if len(args) == 0 || args[0] == "help" || args[0] == "-h" || args[0] == "--help" {
		usage(out)
		return 0
	}
	for _, c := range commands() {
		if c.name == args[0] {
			return exitCode(c.run(ctx, args[1:], in, out, errs), errs)
		}
	}
	fmt.Fprintf(errs, "grapnel: no command %q\n\n", args[0])
	usage(errs)
	return exitBadInput
}

func exitCode(err error, errs io.Writer) int {
	switch {
	case err == nil || errors.Is(err, flag.ErrHelp):
		return 0
	case errors.Is(err, errBadInput):
		return exitBadInput
	}
	fmt.Fprintf(errs, "grapnel: %v\n", err)
	return exitFault
}

func usage(out io.Writer) {
	fmt.Fprint(out, "grapnel COMMAND [flags]\n\n")
	for _, c := range commands() {
		fmt.Fprintf(out, "  %-12s %s\n", c.name, c.about)
	}
	fmt.Fprint(out, "\nGRAPNEL_DSN set: serve, demo, import, export and migrate use that MariaDB; otherwise a private one.\n")
}

// flags parses a command's flags; a wrong one is bad input.
func flags(name string, args []string, errs io.Writer, define func(*flag.FlagSet)) error {
	set := flag.NewFlagSet(name, flag.ContinueOnError)
	set.SetOutput(errs)
	define(set)
	if err := set.Parse(args); err != nil {
		if errors.Is(err, flag.ErrHelp) {
			return err
		}
		return errBadInput
	}
	if set.NArg() > 0 {
		fmt.Fprintf(errs, "grapnel %s: unexpected %q\n", name, set.Arg(0))
		return errBadInput
	}
	return nil
}

// problems writes what is wrong with input, a line each; it reports false for an
// error that is not the input's.
func problems(err error, errs io.Writer) bool {
	var list problem.List
	if !errors.As(err, &list) {
		return false
	}
	for _, p := range list {
		fmt.Fprintln(errs, p.Text)
	}
	return true
}
