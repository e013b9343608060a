package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"io"

	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
)

// assess reads a case and writes its assessment. Nothing is written to standard
// output unless all of it can be.
func assess(_ context.Context, args []string, in io.Reader, out, errs io.Writer) error {
	if err := flags("assess", args, errs, func(*flag.FlagSet) {}); err != nil {
		return err
	}
	c, err := evidence.Decode(in)
	if problems(err, errs) {
		return errBadInput
	}
	if err != nil {
		return err
	}
	answer, err := json.MarshalIndent(diagnosis.New().Assess(c), "", "  ")
	if err != nil {
		return err
	}
	_, err = fmt.Fprintf(out, "%s\n", answer)
	return err
}
