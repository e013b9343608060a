package charging

import (
	"math"

	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
)

// TracePoint is what a logger read at one moment, in seconds since the charge began.
type TracePoint struct {
	Seconds float64          `json:"seconds"`
	Volts   quantity.Volts   `json:"volts"`
	Amps    quantity.Amperes `json:"amps"`
}

// Trace is what a logger saw of a charge, thinned as it came: every sample lies close to the
// straight line between the two points around it, so that no knee, dip or break is lost. The
// zero value is an empty one.
type Trace struct {
	// Runs are the points in order, parted where nothing was read for a while.
	Runs [][]TracePoint `json:"runs"`
	// Within is how far a sample lies from the line at the most.
	Within Within `json:"within"`
	// AmpereHours went in while it was read, by every sample.
	AmpereHours float64 `json:"ampere_hours"`
	// Samples is how many were read.
	Samples int `json:"samples"`

	// volts and amps are where the line from the last point but one may still go.
	volts, amps door
}

// Within is how close a thinned line keeps to what was read: the volts; and the amps, or
// where that is more a share of the larger of the two points around.
type Within struct {
	Volts quantity.Volts   `json:"volts"`
	Amps  quantity.Amperes `json:"amps"`
	Share float64          `json:"share"`
}

// doubled is twice as far.
func (w Within) doubled() Within { return Within{2 * w.Volts, 2 * w.Amps, 2 * w.Share} }

// door is the range of slopes by which a line passes close to every sample since its start.
type door struct{ low, high float64 }

// How a trace begins to be thinned, and how long it may become: at the limit it is thinned
// to twice as far. A record of 3000 points is some 60 kB and is drawn in one go. Values from
// memory.
const (
	traceVolts   = 0.005
	traceShare   = 0.005
	traceAmps    = 0.02
	mostPoints   = 3000
	traceSilence = 60.0
)

// Add takes the next sample, to a tenth of a second and a thousandth of a volt and an ampere. One that is not later than the last, or no figure, is left out.
func (t *Trace) Add(s TracePoint) {
	s = TracePoint{math.Round(10*s.Seconds) / 10, quantity.Volts(thousandth(float64(s.Volts))), quantity.Amperes(thousandth(float64(s.Amps)))}
	last, any := t.Last()
	if any && s.Seconds <= last.Seconds || !finite(s.Seconds, float64(s.Volts), float64(s.Amps)) {
		return
	}
	if t.Samples == 0 {
		t.Within = Within{traceVolts, traceAmps, traceShare}
	}
	t.Samples++
	if !any || s.Seconds-last.Seconds > traceSilence {
		t.Runs = append(t.Runs, []TracePoint{s})
		return
	}
	t.AmpereHours += float64(last.Amps+s.Amps) / 2 * (s.Seconds - last.Seconds) / secondsPerHour
	t.extend(s)
	if t.Points() > mostPoints {
		t.thin()
	}
}

// secondsPerHour is exact by definition.
const secondsPerHour = 3600

// extend draws the line of the last run on to a sample, with a new point where it would
// leave what was read before.
func (t *Trace) extend(s TracePoint) {
	run := &t.Runs[len(t.Runs)-1]
	n := len(*run)
	if n > 1 && t.volts.passes((*run)[n-2], s, float64(s.Volts-(*run)[n-2].Volts)) && t.amps.passes((*run)[n-2], s, float64(s.Amps-(*run)[n-2].Amps)) {
		(*run)[n-1] = s
		t.narrow((*run)[n-2], s)
		return
	}
	*run = append(*run, s)
	t.volts = door{math.Inf(-1), math.Inf(1)}
	t.amps = t.volts
	t.narrow((*run)[n-1], s)
}

// passes reports whether the line from a point to a sample that rises by so much stays
// close to all between. A door that was never opened lets nothing through.
func (d door) passes(from, to TracePoint, rise float64) bool {
	slope := rise / (to.Seconds - from.Seconds)
	return d != door{} && slope >= d.low && slope <= d.high
}

// narrow leaves only what passes close to this sample, too.
func (t *Trace) narrow(from, s TracePoint) {
	apart := s.Seconds - from.Seconds
	narrow := func(d *door, rise, within float64) {
		d.low, d.high = max(d.low, (rise-within)/apart), min(d.high, (rise+within)/apart)
	}
	narrow(&t.volts, float64(s.Volts-from.Volts), float64(t.Within.Volts))
	narrow(&t.amps, float64(s.Amps-from.Amps), max(float64(t.Within.Amps), t.Within.Share*math.Abs(float64(s.Amps))))
}

// thin draws every run anew through its own points, which lie as close to what was read as
// the new line does to them: together twice as far.
func (t *Trace) thin() {
	fewer := Trace{Within: t.Within}
	for _, run := range t.Runs {
		fewer.Runs = append(fewer.Runs, run[:1:1])
		fewer.volts, fewer.amps = door{}, door{}
		for _, s := range run[1:] {
			fewer.extend(s)
		}
	}
	t.Runs, t.volts, t.amps = fewer.Runs, fewer.volts, fewer.amps
	t.Within = t.Within.doubled()
}

// Points is how many points the trace has.
func (t *Trace) Points() int {
	n := 0
	for _, run := range t.Runs {
		n += len(run)
	}
	return n
}

// Last is the latest sample.
func (t *Trace) Last() (TracePoint, bool) {
	if len(t.Runs) == 0 {
		return TracePoint{}, false
	}
	run := t.Runs[len(t.Runs)-1]
	return run[len(run)-1], true
}

func finite(list ...float64) bool {
	for _, x := range list {
		if math.IsNaN(x) || math.IsInf(x, 0) {
			return false
		}
	}
	return true
}

// Urgent reports whether a check of a charge is a reason to stop it that its log did not
// show before.
func Urgent(c evidence.Case, check reading.Reading) bool {
	codeOf := func(c evidence.Case) string {
		ev := evidence.Examine(c)
		if len(ev.Findings) == 0 {
			return ""
		}
		return stopCodes[ev.Findings[len(ev.Findings)-1].Code()]
	}
	before := ""
	if n := len(c.Readings); n > 0 && c.Readings[n-1].Kind == reading.ChargeLog {
		before = codeOf(c)
	}
	with := c
	with.Readings = append(append([]evidence.Taken{}, c.Readings...), evidence.Untimed(check)...)
	now := codeOf(with)
	return now != "" && now != before
}
