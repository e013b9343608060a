package diagnosis

import "testing"

// BenchmarkDraw is what a screen's pictures of a case of four readings cost.
func BenchmarkDraw(b *testing.B) {
	c := decode(b, flooded650+`,"capacity_ah":65,"reserve_min":110`, "", "12.24 v 18c rested 2h", "load 325a 15s 9.3v", "590/650 cca", "drain 240ma asleep 40min")
	judged.Draw(c)
	for b.Loop() {
		judged.Draw(c)
	}
}

// BenchmarkExplain is what the account of the same case costs.
func BenchmarkExplain(b *testing.B) {
	c := decode(b, flooded650+`,"capacity_ah":65,"reserve_min":110`, "", "12.24 v 18c rested 2h", "load 325a 15s 9.3v", "590/650 cca", "drain 240ma asleep 40min")
	judged.Explain(c)
	for b.Loop() {
		judged.Explain(c)
	}
}
