package reading_test

import (
	"fmt"

	"grapnel/core/reading"
)

// A line is typed as it is called out, in any order, and printed in one form.
func ExampleParse() {
	for _, line := range []string{"12,41V rested 2h 68f", "load 15s 9.4v 325a", "sg 1265 1260 - 1210 1265 1260 at 15c"} {
		p, err := reading.Parse(line)
		if err != nil {
			fmt.Println(err)
			continue
		}
		fmt.Println(p.Reading.Kind, "|", reading.Print(p.Reading))
	}
	// Output:
	// open_circuit | 12.41 v 20c rested 2h
	// load | load 325a 15s 9.4v
	// gravity | sg 1265 1260 - 1210 1265 1260 at 15c
}

// What cannot be understood is named, with what could stand there.
func ExampleParse_problem() {
	_, err := reading.Parse("12.4 v rested 2 apples")
	fmt.Println(err)
	// Output:
	// “apples” is not understood here. Understood: °C, wait …, probe, infrared, felt, air, lamps, load, since drive, since charge, since stood, after charge, by …, at ….
}
