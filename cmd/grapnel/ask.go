package main

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"time"

	"grapnel/core/charging"
	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/fitting"
	"grapnel/core/jump"
	"grapnel/core/procedure"
	"grapnel/core/shelf"
	"grapnel/core/standing"
	"grapnel/core/twin"
)

// answer reads one question as JSON and writes one answer. Nothing is written to standard
// output unless all of it can be.
func answer[Q, A any](
	name string, args []string, in io.Reader, out, errs io.Writer, read func(io.Reader) (Q, error), work func(Q) A,
) error {
	if err := flags(name, args, errs, noFlags); err != nil {
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

// stand forecasts one standing battery, from today where no day is asked for.
func stand(_ context.Context, args []string, in io.Reader, out, errs io.Writer) error {
	year, month, day := time.Now().Date()
	p := standing.Planner{Designs: new(twin.Designs), Today: time.Date(year, month, day, 0, 0, 0, 0, time.UTC)}
	return answer("standing", args, in, out, errs, standing.Decode, p.Plan)
}

// fit chooses the battery that goes in, out of a stock.
func fit(_ context.Context, args []string, in io.Reader, out, errs io.Writer) error {
	return answer("fit", args, in, out, errs, fitting.Decode, fitting.Planner{Designs: new(twin.Designs)}.Plan)
}

// workProcedure lists, shows or checks the orders of work.
func workProcedure(_ context.Context, args []string, in io.Reader, out, errs io.Writer) error {
	verb := ""
	if len(args) > 0 {
		verb, args = args[0], args[1:]
	}
	switch verb {
	case "list":
		nothing := func(io.Reader) (struct{}, error) { return struct{}{}, nil }
		return answer("procedure list", args, in, out, errs, nothing, func(struct{}) []procedure.Listed { return procedure.List() })
	case "show":
		return answer("procedure show", args, in, out, errs, readProcedure, func(w procedure.Written) procedure.Written { return w })
	case "check":
		check := func(o procedure.Order) procedure.Verdict { return procedure.Check(o.Scene, o.Steps) }
		return answer("procedure check", args, in, out, errs, procedure.Decode, check)
	}
	fmt.Fprintf(errs, "grapnel procedure: list, show or check, not %q\n", verb)
	return errBadInput
}

// readProcedure takes what is asked for and writes it; an order that is not safe is a fault
// of ours.
func readProcedure(in io.Reader) (procedure.Written, error) {
	ask, err := procedure.DecodeAsk(in)
	if err != nil {
		return procedure.Written{}, err
	}
	return procedure.Show(ask)
}

// planShelf plans many charges on the channels there are.
func planShelf(_ context.Context, args []string, in io.Reader, out, errs io.Writer) error {
	read := func(in io.Reader) (shelf.Ask, error) { return shelf.Decode(in, time.LoadLocation) }
	return answer("shelf", args, in, out, errs, read, shelf.Planner{Charging: charging.Planner{Designs: new(twin.Designs)}}.Plan)
}
