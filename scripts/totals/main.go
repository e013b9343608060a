// Command totals reads the output of go test -json, shows what failed and how
// long each package took, and ends with one line of totals.
package main

import (
	"bufio"
	"encoding/json"
	"fmt"
	"os"
	"strings"
)

type event struct {
	Action, Package, Test, Output string
	Elapsed                       float64
}

func main() {
	var passed, failed, skipped int
	broken := map[string]bool{}
	output := map[string]*strings.Builder{}
	lines := bufio.NewScanner(os.Stdin)
	lines.Buffer(nil, 1<<20)
	for lines.Scan() {
		var e event
		if json.Unmarshal(lines.Bytes(), &e) != nil {
			fmt.Println(lines.Text())
			continue
		}
		key := e.Package + " " + e.Test
		switch e.Action {
		case "output":
			if output[key] == nil {
				output[key] = &strings.Builder{}
			}
			output[key].WriteString(e.Output)
		case "build-output":
			fmt.Print(e.Output)
		case "pass", "fail", "skip":
			count(e, broken, &passed, &failed, &skipped)
			if e.Action == "fail" && output[key] != nil {
				fmt.Print(output[key])
			}
		}
	}
	fmt.Printf("%d passed, %d failed, %d skipped\n", passed, failed, skipped)
	if failed > 0 || passed == 0 || lines.Err() != nil {
		os.Exit(1)
	}
}

// count takes tests; a package's own line is shown, and counted only when it
// fails without a failing test, as when it does not compile.
func count(e event, broken map[string]bool, passed, failed, skipped *int) {
	if e.Test == "" {
		if e.Action != "skip" {
			fmt.Printf("%-4s %-32s %6.2f s\n", e.Action, e.Package, e.Elapsed)
		}
		if e.Action == "fail" && !broken[e.Package] {
			*failed++
		}
		return
	}
	switch e.Action {
	case "pass":
		*passed++
	case "fail":
		*failed++
		broken[e.Package] = true
	case "skip":
		*skipped++
	}
}
