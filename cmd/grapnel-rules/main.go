// Grapnel-rules prints the hash of the rules, for the build of the core for the browser,
// which is given it instead of the whole handbook it is worked out from.
package main

import (
	"fmt"

	"grapnel/core/handbook"
)

func main() { fmt.Println(handbook.RulesHash()) }
