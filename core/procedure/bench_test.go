package procedure_test

import (
	"testing"

	"grapnel/core/procedure"
)

// BenchmarkCheck is one run of the checker over the longest jump. Wanted: under 0.1 ms.
func BenchmarkCheck(b *testing.B) {
	w, err := procedure.Show(procedure.Ask{Name: "jump", Setting: procedure.Sitting{Vehicle: "two_24v", With: "vehicle"}, School: "body", People: 1})
	if err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		procedure.Check(w.Scene, w.Steps)
	}
}

// BenchmarkShow writes an order and checks it.
func BenchmarkShow(b *testing.B) {
	for b.Loop() {
		if _, err := procedure.Show(procedure.Ask{Name: "jump", Setting: procedure.Sitting{Vehicle: "car", With: "vehicle"}, School: "body", People: 1}); err != nil {
			b.Fatal(err)
		}
	}
}
