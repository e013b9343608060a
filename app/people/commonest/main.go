// Command commonest makes the list of the commonest passwords that ships with Grapnel, out of
// a text with a password a line, the commonest first; figures behind it are ignored:
//
//	go run ./app/people/commonest < passwords.txt > app/people/commonest.bin
//
// The list that ships was made of the 47 023 passwords of zxcvbn's frequency list (MIT).
package main

import (
	"bufio"
	"fmt"
	"os"
	"slices"
	"strings"

	"grapnel/app/people"
)

// most is how many are kept.
const most = 30000

func main() {
	var sums []string
	lines := bufio.NewScanner(os.Stdin)
	for lines.Scan() && len(sums) < most {
		if words := strings.Fields(lines.Text()); len(words) > 0 {
			sums = append(sums, people.Digest(words[0]))
		}
	}
	slices.Sort(sums)
	if _, err := os.Stdout.WriteString(strings.Join(slices.Compact(sums), "")); err != nil || lines.Err() != nil {
		fmt.Fprintln(os.Stderr, err, lines.Err())
		os.Exit(1)
	}
}
