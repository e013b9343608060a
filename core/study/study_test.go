package study

import (
	"encoding/json"
	"fmt"
	"testing"
)

func TestDraft(t *testing.T) {
	for _, name := range FleetNames() {
		f, err := Load(name)
		if err != nil {
			t.Fatal(err)
		}
		r := Run(f, 1000, 1, nil)
		data, _ := json.MarshalIndent(r.Grapnel, "", " ")
		fmt.Println(name, string(data))
		for n, b := range r.Baselines {
			fmt.Printf("%s right %.3f wrong %.4f kept %.4f cost %.4f min %.0f\n", n, b.RightCause, b.WronglyReplaced, b.BadKept, b.ExpectedCost, b.MinutesMedian)
		}
		o := r.Oracle
		fmt.Printf("oracle right %.3f wrong %.4f kept %.4f cal %.3f\n", o.RightCause, o.WronglyReplaced, o.BadKept, o.CalibrationError)
	}
}
