// Command write writes the schemas of what the commands answer into a folder (make formats).
package main

import (
	"fmt"
	"os"
	"path/filepath"

	"grapnel/app/formats"
)

func main() {
	if len(os.Args) != 2 {
		fail(fmt.Errorf("write FOLDER"))
	}
	for _, name := range formats.Names() {
		schema, err := formats.Schema(name)
		if err == nil {
			err = os.WriteFile(filepath.Join(os.Args[1], name+".schema.json"), append(schema, '\n'), 0o644)
		}
		if err != nil {
			fail(err)
		}
	}
}

func fail(err error) {
	fmt.Fprintln(os.Stderr, err)
	os.Exit(1)
}
