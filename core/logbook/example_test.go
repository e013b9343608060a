package logbook_test

import (
	"fmt"

	"grapnel/core/logbook"
)

// A job as plain text, read and written to the letter.
func ExampleParse() {
	b, err := logbook.Parse("plate: TX 7\nbattery: flooded, 12 V, 650 A SAE\n\n12.24 v 18c rested 2h\nload 325a 15s 9.3v\n")
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(b.Plate, len(b.Batteries[0].Lines))
	fmt.Print(logbook.Print(b))
	// Output:
	// TX 7 2
	// plate: TX 7
	// battery: flooded, 12 V, 650 A SAE
	//
	// 12.24 v 18c rested 2h
	// load 325a 15s 9.3v
}
