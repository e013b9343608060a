package reading

import (
	"encoding/json"
	"math/rand/v2"
	"strings"
	"testing"
)

// random makes a reading from the table: any mix of the fields its kind has,
// each within its range.
func random(r *rand.Rand) Reading {
	k := &kinds[r.IntN(len(kinds))]
	out := Reading{Kind: k.kind, AfterCharge: r.IntN(2) == 0}
	for _, c := range k.choices {
		if c.required || r.IntN(2) == 0 {
			out = out.WithChoice(c.id, c.codes[r.IntN(len(c.codes))])
		}
	}
	for _, f := range k.numbers {
		follows := f.gate == behindCode && out.Choice(SurfaceRemoved) == ""
		if (f.required || r.IntN(2) == 0) && !follows {
			out = out.With(f.id, figureIn(r, f))
		}
	}
	if k.cells != nil {
		out = out.WithCells(randomCells(r, k.cells)...)
	}
	if k.kind == Drain && r.IntN(2) == 0 {
		out.Fuse = []string{"F12", "12", "15a", "radio", "asleep", "cabin 3", "by", "ö"}[r.IntN(8)]
	}
	for _, text := range []*string{&out.By, &out.At} {
		if r.IntN(3) == 0 {
			*text = map[*string][]string{&out.By: {"meter-2", "bench meter", "after", "12v", "lamps 2min", "ö"}, &out.At: {"09:05", "23:59", "2026-11-24T14:05:00+01:00"}}[text][r.IntN(3)]
		}
	}
	return mended(r, out)
}

// mended fills what must stand together.
func mended(r *rand.Rand, out Reading) Reading {
	t := tableOf(out.Kind)
	if len(t.checkLeast(&out)) > 0 {
		f := t.number(t.least[r.IntN(len(t.least))])
		out = out.With(f.id, figureIn(r, *f))
	}
	switch out.Kind {
	case Gravity:
		if out.Has(Points) {
			out = out.WithChoice(Correction, "points")
		} else if out.Choice(Correction) == "points" {
			out = out.With(Points, -14)
		}
	case Drain:
		if out.Has(Millivolts) && !out.Has(FuseRatingA) {
			out = out.With(FuseRatingA, 7.5)
		}
		if out.overFuse() && !out.Has(Millivolts) && !out.Has(Amps) {
			out = out.With(Millivolts, 0.1).With(FuseRatingA, 15)
		}
	case History:
		if out.Has(JumpsDays) {
			out = out.With(Jumps, 3)
		}
	}
	return out
}

func randomCells(r *rand.Rand, f *cellField) []Cell {
	cells := make([]Cell, []int{3, 4, 6, 12}[r.IntN(4)])
	for i := range cells {
		switch {
		case r.IntN(6) == 0:
		case f.figures && r.IntN(3) > 0:
			cells[i].SG = []float64{1.265, 1.2655, 1, 1.4, 1 + 0.4*r.Float64()}[r.IntN(5)]
		default:
			cells[i].Code = f.codes[r.IntN(len(f.codes))]
		}
	}
	return cells
}

// figureIn picks a figure of a field: a round one, a bound, or one with all its
// decimals.
func figureIn(r *rand.Rand, f numberField) float64 {
	switch r.IntN(4) {
	case 0:
		return f.low
	case 1:
		return f.high
	case 2:
		return f.low + float64(r.IntN(int(f.high-f.low)+1))*0.25
	}
	return f.low + (f.high-f.low)*r.Float64()
}

// TestLaw checks over many readings of every kind that the printed line and the
// JSON object give the reading back, bit for bit.
func TestLaw(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for range 20_000 {
		want := random(r)
		if len(check(&want)) > 0 {
			t.Fatalf("the generator made %s, which is refused: %v", Print(want), check(&want))
		}
		line := Print(want)
		p, err := Parse(line)
		if err != nil {
			t.Fatalf("%s: %v", line, err)
		}
		if p.Reading != want {
			t.Fatalf("%s is read as %s", line, Print(p.Reading))
		}
		data, err := json.Marshal(want)
		if err != nil {
			t.Fatal(err)
		}
		var back Reading
		if err := json.Unmarshal(data, &back); err != nil || back != want {
			t.Fatalf("%s comes back as %s: %v", data, Print(back), err)
		}
	}
}

// TestAnyOrder checks that the words behind a line's opening may stand in any
// order.
func TestAnyOrder(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	for opening, parts := range map[string][]string{
		"12.41 v": {"18c", "rested 2h", "since drive", "after charge", "felt", "by meter-2", "lamps 2min", "wait 1min", "at 14:05"},
		"load":    {"325a", "15s", "9.4v", "18c", "fixed", "back 12.3v", "after charge", "probe"},
		"594/650": {"cca", "sae", "agm", "12.5v", "20c", "4mohm", "91%", "by tester"},
		"look":    {"corrosion", "positive", "heavy", "after charge"},
	} {
		first, err := Parse(opening + " " + strings.Join(parts, " "))
		if err != nil {
			t.Fatal(err)
		}
		for range 200 {
			r.Shuffle(len(parts), func(i, j int) { parts[i], parts[j] = parts[j], parts[i] })
			line := opening + " " + strings.Join(parts, " ")
			p, err := Parse(line)
			if err != nil || p.Reading != first.Reading {
				t.Fatalf("%s: %s, %v", line, Print(p.Reading), err)
			}
		}
	}
}

// TestSpans checks that every word of a line is accounted for, once and in order.
func TestSpans(t *testing.T) {
	for _, line := range canonical {
		p, err := Parse(line)
		if err != nil {
			t.Fatal(err)
		}
		covered := make([]bool, len(line))
		for _, s := range p.Spans {
			if s.Start >= s.End || s.End > len(line) {
				t.Fatalf("%s: span %+v", line, s)
			}
			for i := s.Start; i < s.End; i++ {
				if covered[i] {
					t.Errorf("%s: byte %d is said twice", line, i)
				}
				covered[i] = true
			}
		}
		for i, c := range covered {
			if !c && line[i] != ' ' {
				t.Errorf("%s: %q at %d is not accounted for", line, line[i], i)
			}
		}
		for _, u := range Echo(p) {
			if u.Text.Text == "" || strings.Contains(u.Text.Text, "⟨") {
				t.Errorf("%s: %s has no words", line, u.Field)
			}
		}
	}
}

// TestEveryUnit checks each way a unit may be written or spoken.
func TestEveryUnit(t *testing.T) {
	for word, u := range unitWords {
		line := map[dimension]string{
			potential: "load 300a 15s 9 ", current: "load 15s 9v 300 ", timeSpan: "12.4v rested 20 ", temperatureC: "12.4v 20 ",
			resistance: "500/600 4 ", share: "500/600 90 ", rate: "trips 6 ", electricity: "charge 14v 6a 20 ",
		}[u.dimension] + word
		switch {
		case u.dimension == potential && u.shift == 3:
			line = "load 300a 15s 9000 " + word
		case u.dimension == current && u.shift > 0:
			line = "drain 85 " + word
		case u.seconds > weekSeconds:
			line = "age 3 " + word
		}
		spaced, err := Parse(line)
		if err != nil {
			t.Errorf("%s: %v", line, err)
			continue
		}
		joined, err := Parse(strings.TrimSuffix(line, " "+word) + word)
		if err != nil || joined.Reading != spaced.Reading {
			t.Errorf("%s joined to its figure: %v", line, err)
		}
	}
}

// TestStartsNumber checks that what starts a number is what leadingDecimal finds
// one in.
func TestStartsNumber(t *testing.T) {
	signs, marks, rests := []string{"", "-", "+", "−", "--"}, []string{"", ".", ",", ".."}, []string{"", "5", "5v", "x", "v5", "-5"}
	for _, sign := range signs {
		for _, mark := range marks {
			for _, rest := range rests {
				text := sign + mark + rest
				if _, _, found := leadingDecimal(text); found != startsNumber(text) {
					t.Errorf("%q: found %v", text, found)
				}
			}
		}
	}
}
