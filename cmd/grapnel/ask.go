package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"time"

	"grapnel/core/charging"
	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/jump"
	"grapnel/core/shelf"
	"grapnel/core/twin"
)

// answer reads one question as JSON and writes one answer. Nothing is written to standard
// output unless all of it can be.
func answer[Q, A any](
	name string, args []string, in io.Reader, out, errs io.Writer, read func(io.Reader) (Q, error), work func(Q) A,
) error {
	if err := flags(name, args, errs, func(*flag.FlagSet) {}); err != nil {
		return err
	}
	question, err := read(in)
	if problems(err, errs) {
		return errBadInput
	}
	if err != nil {
		return err
	}
	text, err := json.MarshalIndent(work(question), "", "  ")
	if err != nil {
		return err
	}
	_, err = fmt.Fprintf(out, "%s\n", text)
	return err
}

// assess judges a case.
func assess(_ context.Context, args []string, in io.Reader, out, errs io.Writer) error {
	return answer("assess", args, in, out, errs, evidence.Decode, diagnosis.New().Assess)
}

// charge plans one charge, follows it by its log and judges it.
func charge(_ context.Context, args []string, in io.Reader, out, errs io.Writer) error {
	return answer("charge", args, in, out, errs, charging.Decode, charging.Planner{Designs: new(twin.Designs)}.Plan)
}

// workJump works out a jump start before anything is clamped.
func workJump(_ context.Context, args []string, in io.Reader, out, errs io.Writer) error {
	return answer("jump", args, in, out, errs, jump.Decode, jump.Planner{Designs: new(twin.Designs)}.Plan)
}

// planShelf plans many charges on the channels there are.
func planShelf(_ context.Context, args []string, in io.Reader, out, errs io.Writer) error {
	read := func(in io.Reader) (shelf.Ask, error) { return shelf.Decode(in, time.LoadLocation) }
	return answer("shelf", args, in, out, errs, read, shelf.Planner{Charging: charging.Planner{Designs: new(twin.Designs)}}.Plan)
}
