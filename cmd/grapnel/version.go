package main

import (
	"context"
	"fmt"
	"io"
	"runtime"

	"grapnel/core/handbook"
)

// release is the version of the product.
const release = "0.1.0"

// version prints the release, the rule tables' hash and the Go it was built with.
func version(_ context.Context, args []string, _ io.Reader, out, errs io.Writer) error {
	if err := flags("version", args, errs, noFlags); err != nil {
		return err
	}
	_, err := fmt.Fprintf(out, "grapnel %s, rules %s, %s\n", release, handbook.RulesHash(), runtime.Version())
	return err
}
