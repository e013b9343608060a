package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"strings"

	"grapnel/core/handbook"
	"grapnel/core/reading"
)

// sources prints every figure of the trade: as a table, or as JSON.
func sources(_ context.Context, args []string, _ io.Reader, out, errs io.Writer) error {
	asJSON := false
	if err := flags("sources", args, errs, func(set *flag.FlagSet) { set.BoolVar(&asJSON, "json", false, "as JSON") }); err != nil {
		return err
	}
	if asJSON {
		encoder := json.NewEncoder(out)
		encoder.SetIndent("", "  ")
		return encoder.Encode(handbook.Sources())
	}
	return printSources(out)
}

// printSources writes a line a figure, and the rows of a table below it.
func printSources(out io.Writer) error {
	var text strings.Builder
	for _, e := range handbook.Sources() {
		rows := strings.Split(e.Value, "; ")
		value := strings.TrimSpace(e.Value + " " + e.Unit)
		if len(rows) > 1 {
			value = fmt.Sprintf("table of %d (%s)", len(rows), e.Unit)
		}
		from := e.Source.Title
		if e.Source.Note != "" && e.Source.Note != from {
			from += " (" + e.Source.Note + ")"
		}
		fmt.Fprintf(&text, "%-5s%-36s %-26s %s: %s\n", "["+string(e.Source.Kind)+"]", e.Package+"."+e.ID, value, e.Name, from)
		if len(rows) > 1 {
			for _, row := range rows {
				fmt.Fprintf(&text, "%42s%s\n", "", row)
			}
		}
	}
	_, err := io.WriteString(out, text.String())
	return err
}

// readingLine prints the page on the reading line.
func readingLine(_ context.Context, args []string, _ io.Reader, out, errs io.Writer) error {
	if err := flags("reading-line", args, errs, noFlags); err != nil {
		return err
	}
	_, err := io.WriteString(out, reading.Page())
	return err
}
