package charging

import (
	"encoding/json"
	"math"
	"math/rand/v2"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/twin"
)

// everySecond is a charge of ten hours read each second with a logger's noise, which a clamp that
// slips for five seconds breaks once.
func everySecond(tb testing.TB, noise float64) []TracePoint {
	tb.Helper()
	var designs twin.Designs
	design, ok := designs.Of(battery.Label{Chemistry: battery.Flooded, NominalV: 12, CapacityAh: size(65)})
	if !ok {
		tb.Fatal("no design")
	}
	b := design.New(twin.Sound, 30, 15)
	charger := twin.Charger{Amps: 6, Volts: 14.4}
	dice := rand.New(rand.NewPCG(1, 1))
	var out []TracePoint
	for s := range 36_000 {
		if s%60 == 0 {
			b.Charge(charger, 1.0/60, 101, 15, nil)
		}
		amps, volts := b.Accept(charger)
		one := TracePoint{
			Seconds: float64(s), Volts: volts + quantity.Volts(0.01*noise*dice.NormFloat64()),
			Amps: amps * quantity.Amperes(1+0.02*noise*dice.NormFloat64()),
		}
		if s >= slips && s < slips+5 {
			one.Volts, one.Amps = 12.9, 0
		}
		out = append(out, one)
	}
	return out
}

func size(ah float64) *quantity.AmpereHours {
	x := quantity.AmpereHours(ah)
	return &x
}

const slips = 7000

// TestTraceKeepsEverySample holds the thinned line against all that was read: none lies
// further from it than it says, the break of five seconds and the knee where the charger
// begins to hold its volts are on it, and the record is small.
func TestTraceKeepsEverySample(t *testing.T) {
	for _, noise := range []float64{0, 0.3, 1} {
		samples := everySecond(t, noise)
		var trace Trace
		in := 0.0
		for i, s := range samples {
			trace.Add(s)
			samples[i] = TracePoint{s.Seconds, quantity.Volts(thousandth(float64(s.Volts))), quantity.Amperes(thousandth(float64(s.Amps)))}
			if i > 0 {
				in += float64(samples[i].Amps+samples[i-1].Amps) / 2 / 3600
			}
		}
		if len(trace.Runs) != 1 || trace.Samples != len(samples) || math.Abs(trace.AmpereHours-in) > 1e-6 {
			t.Fatalf("noise %g: %d runs of %d samples, %g Ah of %g", noise, len(trace.Runs), trace.Samples, trace.AmpereHours, in)
		}
		line := trace.Runs[0]
		for i, at := 0, 0; i < len(samples); i++ {
			for at+2 < len(line) && line[at+1].Seconds < samples[i].Seconds {
				at++
			}
			onLine(t, trace.Within, line[at], line[at+1], samples[i])
		}
		kept, err := json.Marshal(trace)
		if err != nil {
			t.Fatal(err)
		}
		t.Logf("noise %g: %d points, %d bytes, within %g V and %g of the amps", noise, trace.Points(), len(kept), trace.Within.Volts, trace.Within.Share)
		if len(kept) > 200_000 {
			t.Errorf("noise %g: %d bytes", noise, len(kept))
		}
		if slipped := between(line, slips-1, slips+6); slipped < 4 {
			t.Errorf("noise %g: %d points at the break", noise, slipped)
		}
	}
}

// onLine checks that a sample lies as close to the line between two points as is said.
func onLine(t *testing.T, within Within, from, to, s TracePoint) {
	t.Helper()
	part := (s.Seconds - from.Seconds) / (to.Seconds - from.Seconds)
	volts := float64(from.Volts) + part*float64(to.Volts-from.Volts)
	amps := float64(from.Amps) + part*float64(to.Amps-from.Amps)
	mayAmps := max(float64(within.Amps), within.Share*max(float64(from.Amps), float64(to.Amps), float64(s.Amps)))
	if math.Abs(volts-float64(s.Volts)) > float64(within.Volts)+1e-9 || math.Abs(amps-float64(s.Amps)) > mayAmps+1e-9 {
		t.Fatalf("%+v lies off the line from %+v to %+v", s, from, to)
	}
}

func between(line []TracePoint, from, to float64) (n int) {
	for _, s := range line {
		if s.Seconds >= from && s.Seconds <= to {
			n++
		}
	}
	return n
}

// TestTraceOfNothingNew needs two points for a current that stays, and parts what was not
// read; what is no figure or comes again is left out.
func TestTraceOfNothingNew(t *testing.T) {
	var trace Trace
	for s := range 3600 {
		trace.Add(TracePoint{Seconds: float64(s), Volts: 13, Amps: 6})
	}
	trace.Add(TracePoint{Seconds: 3599, Volts: 99, Amps: 6})
	trace.Add(TracePoint{Seconds: 3600, Volts: quantity.Volts(math.NaN()), Amps: 6})
	if trace.Points() != 2 || trace.Samples != 3600 {
		t.Errorf("%d points of %d", trace.Points(), trace.Samples)
	}
	trace.Add(TracePoint{Seconds: 7200, Volts: 13.5, Amps: 6})
	if len(trace.Runs) != 2 || math.Abs(trace.AmpereHours-6*3599.0/3600) > 1e-9 {
		t.Errorf("%d runs, %g Ah: nothing is counted while nothing is read", len(trace.Runs), trace.AmpereHours)
	}
}

// TestTraceGoesOn takes a trace up again from its record.
func TestTraceGoesOn(t *testing.T) {
	samples := everySecond(t, 0)
	var whole, first, second Trace
	for i, s := range samples {
		whole.Add(s)
		if i < 9000 {
			first.Add(s)
		}
	}
	kept, err := json.Marshal(first)
	if err != nil {
		t.Fatal(err)
	}
	if err := json.Unmarshal(kept, &second); err != nil {
		t.Fatal(err)
	}
	for _, s := range samples[9000:] {
		second.Add(s)
	}
	if second.Samples != whole.Samples || second.Points() > whole.Points()+2 || math.Abs(second.AmpereHours-whole.AmpereHours) > 1e-6 {
		t.Errorf("%d points of %d, %g Ah; without a break %d and %g", second.Points(), second.Samples, second.AmpereHours, whole.Points(), whole.AmpereHours)
	}
}

// TestUrgent tells what a check is stopped for, once.
func TestUrgent(t *testing.T) {
	c := evidence.Case{Label: battery.Label{Chemistry: battery.AGM, NominalV: 12, CapacityAh: size(60)}}
	line := func(text string) reading.Reading {
		p, err := reading.Parse(text)
		if err != nil {
			t.Fatal(err)
		}
		return p.Reading
	}
	if Urgent(c, line("charge 14.2v 6a 30min")) {
		t.Error("a check as it should be is urgent")
	}
	high := line("charge 16.4v 6a 60min")
	if !Urgent(c, high) {
		t.Error("16.4 V on AGM is not urgent")
	}
	c.Readings = evidence.Untimed(high)
	if Urgent(c, line("charge 16.4v 6a 61min")) {
		t.Error("what stands in the log is urgent again")
	}
}

func BenchmarkTrace(b *testing.B) {
	samples := everySecond(b, 1)
	for b.Loop() {
		var trace Trace
		for _, s := range samples {
			trace.Add(s)
		}
		kept, err := json.Marshal(trace)
		if err != nil {
			b.Fatal(err)
		}
		b.ReportMetric(float64(len(kept))/1000, "kB")
	}
}
