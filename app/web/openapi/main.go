// Command openapi prints the description of the API, from which the front
// end's types are made (make api).
package main

import (
	"fmt"
	"os"

	"grapnel/app/web"
)

func main() {
	description, err := web.OpenAPI("dev")
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	fmt.Printf("%s\n", description)
}
