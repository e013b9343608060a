package main

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"grapnel/core/diagnosis"
	"grapnel/core/study"
)

// waysWords name the ways of working on the page.
var waysWords = map[string]string{
	"grapnel": "Grapnel", "oracle": "oracle", "one_rule": "one rule: volts, then half-CCA as it comes in, under 9.6 V replace",
	"conductance": "the conductance tester believed", "charge_then_load": "charge first, then load by the book",
}

// goals are the figures wanted of the study.
var goals = map[string][]struct {
	what   string
	of     func(study.Figures) float64
	wanted float64
	sign   string
}{
	"standard": {
		{"right repair", func(f study.Figures) float64 { return f.RightRepair }, 0.95, "≥"},
		{"faults found that would strand the vehicle", func(f study.Figures) float64 { return f.FaultsFound }, 0.85, "≥"},
		{"faults named that are not there", func(f study.Figures) float64 { return f.FalseAlarms }, 0.10, "≤"},
		{"good batteries replaced", func(f study.Figures) float64 { return f.WronglyReplaced }, 0.01, "≤"},
		{"bad batteries kept", func(f study.Figures) float64 { return f.BadKept }, 0.025, "≤"},
		{"calibration error", func(f study.Figures) float64 { return f.CalibrationError }, 0.03, "≤"},
	},
	"stress": {
		{"good batteries replaced", func(f study.Figures) float64 { return f.WronglyReplaced }, 0.04, "≤"},
		{"calibration error", func(f study.Figures) float64 { return f.CalibrationError }, 0.06, "≤"},
	},
}

// notMet stands at a goal that is missed.
const notMet = "**not met**"

// met says whether a figure is on the wanted side of a goal.
func met(got float64, sign string, wanted float64) string {
	if sign == "≥" && got < wanted || sign == "≤" && got > wanted {
		return notMet
	}
	return "met"
}

// against are the goals that are measured by the oracle and the best habit of the same fleet.
func against(b *strings.Builder, r study.Result) {
	best := 1.0
	for _, name := range study.BaselineNames() {
		best = min(best, r.Baselines[name].ComeBack60)
	}
	say := func(what string, got float64, sign string, wanted float64, how string) {
		fmt.Fprintf(b, "- %s: %.2f %%, wanted %s %.2f %% (%s): %s\n", what, 100*got, sign, 100*wanted, how, met(got, sign, wanted))
	}
	if r.Fleet == "standard" {
		say("come back within 60 days", r.Grapnel.ComeBack60, "≤", best/3, "a third of the best habit")
		say("come back within 60 days", r.Grapnel.ComeBack60, "≤", r.Oracle.ComeBack60+0.015, "the oracle and 1.5 points")
	}
	if r.Fleet == "stress" {
		say("right repair", r.Grapnel.RightRepair, "≥", r.Oracle.RightRepair-0.02, "the oracle less 2 points")
		say("right repair of the oracle", r.Oracle.RightRepair, "≥", 0.75, "what can be known at all")
	}
}

// studyPage is the page in Markdown.
func studyPage(results []study.Result, fleets []study.Fleet, scanned []study.Scan) string {
	var b strings.Builder
	b.WriteString(
		"# Does the verdict hold?\n\nMade by `make study`; do not edit. Anyone can recompute it: the same seed gives the same figures, on any machine.\n\n",
	)
	b.WriteString(
		"Virtual vehicles with known hidden faults stand in for cars. The diagnosis sees only what its instruments show, with their errors, asks for one test after the other by what each settles for its minutes, and stops when the verdict is sure, nothing more is worth its minutes, or 75 minutes of work are spent. Beside it the same vehicles go through three habits of the trade.\n\n",
	)
	for k, r := range results {
		studySection(&b, r, fleets[k])
	}
	b.WriteString(scansText)
	for _, s := range scanned {
		fmt.Fprintf(&b, "![%s: how likely sound, worn, one bad cell, damaged.](study/scan-%s.svg)\n\n", s.About, s.Name)
		for _, step := range s.Steps {
			fmt.Fprintf(&b, "- %s: %s\n", strings.TrimSpace(fmt.Sprintf("%g to %g %s", step.From, step.To, s.Unit)), step.Why)
		}
		b.WriteString("\n")
	}
	b.WriteString(studyCaveats)
	return b.String()
}

func studySection(b *strings.Builder, r study.Result, f study.Fleet) {
	fmt.Fprintf(
		b,
		"## The %s fleet\n\n%s\n\n%d cases, seed %d, %.0f s on the machine of [performance.md](performance.md).\n\n",
		f.Name,
		f.About,
		r.Cases,
		r.Seed,
		r.Seconds,
	)
	b.WriteString(
		"| | right main cause | good replaced | bad kept | expected cost | minutes of work, median and 90 % | waiting, median | calibration error |\n|---|---|---|---|---|---|---|---|\n",
	)
	row := func(name string, x study.Figures, calibrated bool) {
		calibration := "—"
		if calibrated {
			calibration = fmt.Sprintf("%.3f", x.CalibrationError)
		}
		fmt.Fprintf(
			b,
			"| %s | %.1f %% | %.2f %% | %.2f %% | %.3f | %.0f, %.0f | %.0f | %s |\n",
			waysWords[name],
			100*x.RightCause,
			100*x.WronglyReplaced,
			100*x.BadKept,
			x.ExpectedCost,
			x.MinutesMedian,
			x.MinutesP90,
			x.WaitingMedian,
			calibration,
		)
	}
	row("grapnel", r.Grapnel, true)
	for _, name := range study.BaselineNames() {
		row(name, r.Baselines[name], false)
	}
	row("oracle", r.Oracle, true)
	b.WriteString("\n")
	for _, g := range goals[f.Name] {
		got := g.of(r.Grapnel)
		how := met(got, g.sign, g.wanted)
		if how == notMet {
			how += fmt.Sprintf("; the oracle comes to %.2f %%", 100*g.of(r.Oracle))
		}
		fmt.Fprintf(b, "- %s: %.2f %%, wanted %s %.1f %%: %s\n", g.what, 100*got, g.sign, 100*g.wanted, how)
	}
	against(b, r)
	afterTable(b, r)
	missesTable(b, r)
	for _, figure := range []struct{ file, about string }{
		{"confusion", "Main fault down, the verdict's cause across; cells are shares of a row."},
		{"calibration", "Confidence against what was right, ten bins of equal count."},
		{"minutes", "Share of cases whose final verdict and cause are right, had the work stopped after so many minutes."},
		{"replaced", "Good batteries replaced, by their charge on arrival: Grapnel and the three habits."},
	} {
		fmt.Fprintf(b, "\n![%s](study/%s-%s.svg)\n", figure.about, f.Name, figure.file)
	}
	b.WriteString("\n")
}

// missesShown is how many of the commonest wrong causes the page lists.
const missesShown = 10

// missesTable says which main faults are taken for which causes, the commonest
// first, and what the oracle makes of the same cases.
func missesTable(b *strings.Builder, r study.Result) {
	type miss struct {
		main, cause string
		n           int
	}
	var misses []miss
	wrong, sameBattery, ofBattery := 0, 0, study.BatteryFaults()
	for main, row := range r.Grapnel.Confusion {
		for cause, n := range row {
			if main == cause {
				continue
			}
			misses = append(misses, miss{main, cause, n})
			wrong += n
			if slices.Contains(ofBattery, main) && slices.Contains(ofBattery, cause) {
				sameBattery += n
			}
		}
	}
	slices.SortFunc(misses, func(a, b miss) int {
		return cmp.Or(b.n-a.n, strings.Compare(a.main, b.main), strings.Compare(a.cause, b.cause))
	})
	fmt.Fprintf(b, "\nOf %d wrong causes %d name the wrong fault of a battery that is bad either way: ", wrong, sameBattery)
	fmt.Fprintf(
		b,
		"were worn plates, a bad cell and damage one answer, %.1f %% would be right. The commonest:\n\n",
		100*(1-float64(wrong-sameBattery)/float64(r.Cases)),
	)
	b.WriteString("| main fault | taken for | cases | the oracle |\n|---|---|---|---|\n")
	for _, m := range misses[:min(missesShown, len(misses))] {
		fmt.Fprintf(b, "| %s | %s | %d | %d |\n", short(m.main), short(m.cause), m.n, r.Oracle.Confusion[m.main][m.cause])
	}
}

const scansText = `## Scans

One reading at every figure it may show, all else the same. The condition goes smoothly with it but for steps that have a reason, which are shaded; a test holds it to that.

`

// afterTable is what came of the verdicts: the vehicles repaired as they say and driven on.
func afterTable(b *strings.Builder, r study.Result) {
	b.WriteString("\nAfter the verdict the shop does what it says (charges, cleans, replaces, repairs what was named above one half, hands back) and the vehicle drives on for 60 days of its own use and climate. It comes back when it does not start, or is flat again.\n\n")
	b.WriteString("| | right repair | come back within 60 days | faults found | named and not there | money a vehicle |\n|---|---|---|---|---|---|\n")
	row := func(name string, x study.Figures) {
		fmt.Fprintf(b, "| %s | %.1f %% | %.1f %% | %.1f %% | %.1f %% | %.0f |\n",
			waysWords[name], 100*x.RightRepair, 100*x.ComeBack60, 100*x.FaultsFound, 100*x.FalseAlarms, x.Cost)
	}
	row("grapnel", r.Grapnel)
	for _, name := range study.BaselineNames() {
		row(name, r.Baselines[name])
	}
	row("oracle", r.Oracle)
	for _, name := range study.BaselineNames() {
		cheaper, back := r.Grapnel.Cost-r.Baselines[name].Cost, r.Baselines[name].ComeBack60-r.Grapnel.ComeBack60
		if cheaper > 0 && back > 0 {
			fmt.Fprintf(b, "\nBy these prices “%s” costs %.0f less a vehicle, since it works less at each: it is the dearer one once a come-back costs the shop %.0f more than it does here.\n", waysWords[name], cheaper, cheaper/back)
		}
	}
}

const studyCaveats = `## What these figures are worth

- In the standard fleet the same model makes the cases and judges them: the figures say that the reasoning is sound where the model is, not that the model is the world. The stress fleet is there for that: its batteries follow another law of resistance, its instruments are worse, every temperature is misread by 8 °C, one rating in twenty is typed in wrong, and at least two hidden faults stand beside the main one.
- The fleets are data (core/study/fleet_standard.json, fleet_stress.json, fleet_winter.json) with assumed shares. Where a bad battery stands beside another fault, the battery is the main one. Four things were put right after the first runs, where the fleet contradicted itself: a diesel has no battery of a small petrol engine, a vehicle with nothing wrong now comes in at 76 % charge or more (below that the trade asks what flattened it), hybrids and electric cars no longer report that they crank slowly, and the cables of large starters grew with their current.
- A good battery is one that a full charge brings back to 70 % of its label's cranking power and 60 % of its capacity. Batteries right at these lines cannot be told apart by any test of the trade; they make most of what is wrong.
- Lost capacity alone shows in no test but the reserve check, which takes nearly three hours of waiting. It is asked for where it settles enough, not always. Bad batteries kept are for the most part those with a capacity just under the line and power just over it: the oracle, which misreads nothing, keeps nearly as many.
- The repair of worn plates, a bad cell and damage is one: a new battery. Something left on is repaired by a charge, a dirty top and a joint by cleaning; short trips and long standing by telling the owner, who then puts it on a charger once a week. Several faults hold at once and one is marked as the main one, so that in the stress fleet, with three, the share of right main causes says less than that of right repairs.
- Some vehicles come back whatever is done: a sound battery at three quarters of its power does not start every diesel on every cold morning. The oracle has them too.
- Money is the fleet's: a new battery 160, an hour 80, a come-back 220. The oracle works for nothing.
- A rating typed in wrong moves load and tester alike, as a battery stronger or weaker than its label does: only what no battery can do tells it, more than its label by both, or amperes that do not go with its ampere-hours. A label typed in too high is judged as worn.
- What stands in the way of a higher share of right causes is in the tables of the commonest misses. Plates worn in one cell more than in the others measure like plates worn in all: only gravity cell by cell parts them, and a sealed battery has none to give. A cracked or frozen battery that does not show it measures like a worn one. A battery that short trips have run down to just under the line where the trade asks why, and a joint that is bad in a vehicle whose battery happens to be low, leave readings that fit two causes. The oracle, told every quantity a shop can measure without error, misses the same ones, and in some fleets more: it is told once what stands, and sees nothing of what a cleaned joint, a charge or a second reading changes.
- Expected cost is good replaced plus bad kept, as shares of each. Minutes are hands at work; rests and charges run apart as waiting.
`

// studyFigures are the figures of one fleet as SVG, by file name.
func studyFigures(r study.Result) map[string]string {
	return map[string]string{
		r.Fleet + "-confusion.svg":   confusionFigure(r),
		r.Fleet + "-calibration.svg": calibrationFigure(r),
		r.Fleet + "-minutes.svg":     minutesFigure(r),
		r.Fleet + "-replaced.svg":    replacedFigure(r),
	}
}

// Colours and type of the figures, as the application has them in its light theme.
const (
	ink, lead, hairline, paper, verdigris, marigold, oxide = "#15222d", "#525c65", "#d8cfbd", "#fbf8f1", "#176e61", "#a86708", "#8f2e1f"
)

// drawing is an SVG being written.
type drawing struct {
	strings.Builder
}

func newDrawing(width, height float64, title string) *drawing {
	d := &drawing{}
	fmt.Fprintf(
		d,
		`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %g %g" font-family="sans-serif" font-size="13" role="img"><title>%s</title><rect width="100%%" height="100%%" fill="%s"/>`,
		width,
		height,
		title,
		paper,
	)
	return d
}

func (d *drawing) text(x, y float64, anchor, colour, text string) {
	fmt.Fprintf(d, `<text x="%.1f" y="%.1f" text-anchor="%s" fill="%s">%s</text>`, x, y, anchor, colour, text)
}

func (d *drawing) line(x1, y1, x2, y2 float64, colour string, width float64) {
	fmt.Fprintf(d, `<line x1="%.1f" y1="%.1f" x2="%.1f" y2="%.1f" stroke="%s" stroke-width="%g"/>`, x1, y1, x2, y2, colour, width)
}

func (d *drawing) end() string { return d.String() + "</svg>\n" }

// short are causes as the confusion names them.
func short(code string) string { return strings.ReplaceAll(code, "_", " ") }

func confusionFigure(r study.Result) string {
	codes := diagnosis.CauseCodes()
	codes = slices.DeleteFunc(codes, func(c string) bool {
		seen := len(r.Grapnel.Confusion[c]) > 0
		for _, row := range r.Grapnel.Confusion {
			seen = seen || row[c] > 0
		}
		return !seen
	})
	const cell, left, above = 34.0, 150.0, 130.0
	d := newDrawing(left+cell*float64(len(codes))+60, above+cell*float64(len(codes))+16, "Main fault and verdict's cause")
	for j, cause := range codes {
		x := left + cell*(float64(j)+0.6)
		fmt.Fprintf(d, `<text transform="translate(%.1f %.1f) rotate(-55)" fill="%s">%s</text>`, x, above-8, lead, short(cause))
	}
	for i, main := range codes {
		y := above + cell*float64(i)
		d.text(left-8, y+cell*0.65, "end", ink, short(main))
		total := 0
		for _, n := range r.Grapnel.Confusion[main] {
			total += n
		}
		for j, cause := range codes {
			n := r.Grapnel.Confusion[main][cause]
			if n == 0 || total == 0 {
				continue
			}
			share := float64(n) / float64(total)
			colour, on := oxide, ink
			if i == j {
				colour = verdigris
			}
			if share > 0.5 {
				on = paper
			}
			fmt.Fprintf(
				d,
				`<rect x="%.1f" y="%.1f" width="%g" height="%g" fill="%s" fill-opacity="%.2f"/>`,
				left+cell*float64(j),
				y,
				cell-2,
				cell-2,
				colour,
				0.12+0.88*share,
			)
			if share >= 0.005 {
				d.text(left+cell*(float64(j)+0.47), y+cell*0.62, "middle", on, fmt.Sprintf("%.0f", 100*share))
			}
		}
		d.text(left+cell*float64(len(codes))+8, y+cell*0.65, "start", lead, fmt.Sprint(total))
	}
	return d.end()
}

// plot is a frame whose upward axis goes from least to most, as shares.
type plot struct {
	*drawing
	left, top, width, height, least, most float64
}

func newPlot(title, below string, least, most float64) plot {
	p := plot{newDrawing(520, 340, title), 60, 40, 430, 240, least, most}
	for k := range 6 {
		share := float64(k) / 5
		y := p.top + p.height*(1-share)
		p.line(p.left, y, p.left+p.width, y, hairline, 1)
		p.text(p.left-8, y+4, "end", lead, fmt.Sprintf("%.0f %%", 100*(least+share*(most-least))))
	}
	p.text(p.left+p.width/2, p.top+p.height+46, "middle", lead, below)
	return p
}

func (p plot) at(x, y float64) (float64, float64) {
	return p.left + p.width*x, p.top + p.height*(1-math.Min((y-p.least)/(p.most-p.least), 1))
}

// calibrationFigure shows the corner of the unit square where the bins lie.
func calibrationFigure(r study.Result) string {
	low := 1.0
	for _, b := range r.Grapnel.Calibration {
		low = min(low, b.Confidence, b.Right)
	}
	low = math.Floor(low*10) / 10
	p := newPlot("Confidence and what was right", "confidence", low, 1)
	x1, y1 := p.at(0, low)
	x2, y2 := p.at(1, 1)
	p.line(x1, y1, x2, y2, lead, 1)
	for k := range 6 {
		share := float64(k) / 5
		x, y := p.at(share, low)
		p.text(x, y+20, "middle", lead, fmt.Sprintf("%.0f %%", 100*(low+(1-low)*share)))
	}
	for _, b := range r.Grapnel.Calibration {
		x, y := p.at((b.Confidence-low)/(1-low), b.Right)
		fmt.Fprintf(p, `<circle cx="%.1f" cy="%.1f" r="5" fill="%s"/>`, x, y, verdigris)
	}
	return p.end()
}

func minutesFigure(r study.Result) string {
	p := newPlot("Right after so many minutes", "minutes of work", 0, 1)
	list := r.Grapnel.CertaintyByMinute
	longest := list[len(list)-1].Minutes
	var points []string
	for _, c := range list {
		x, y := p.at(c.Minutes/longest, c.Right)
		points = append(points, fmt.Sprintf("%.1f,%.1f", x, y))
		if int(c.Minutes)%15 == 0 {
			_, zero := p.at(0, 0)
			p.text(x, zero+20, "middle", lead, fmt.Sprintf("%.0f", c.Minutes))
		}
	}
	fmt.Fprintf(p, `<polyline points="%s" fill="none" stroke="%s" stroke-width="2.4"/>`, strings.Join(points, " "), verdigris)
	return p.end()
}

func replacedFigure(r study.Result) string {
	p := newPlot("Good batteries replaced by charge on arrival", "charge on arrival", 0, 1)
	ways := append([]string{"grapnel"}, study.BaselineNames()...)
	colours := []string{verdigris, oxide, marigold, lead}
	names := []string{"Grapnel", "one rule", "conductance believed", "charge, then load"}
	for fifth := range 5 {
		_, zero := p.at(0, 0)
		p.text(p.left+p.width*(float64(fifth)+0.5)/5, zero+20, "middle", lead, fmt.Sprintf("%d to %d %%", 20*fifth, 20*fifth+20))
		for k, way := range ways {
			f := r.Grapnel
			if way != "grapnel" {
				f = r.Baselines[way]
			}
			share := f.ReplacedByCharge[fifth].Share
			x, y := p.at((float64(fifth)+0.12+0.19*float64(k))/5, share)
			fmt.Fprintf(
				p,
				`<rect x="%.1f" y="%.1f" width="14" height="%.1f" fill="%s"><title>%s: %.1f %%</title></rect>`,
				x,
				y,
				math.Max(zero-y, 1),
				colours[k],
				names[k],
				100*share,
			)
		}
	}
	for k, name := range names {
		x := p.left + []float64{0, 78, 148, 318}[k]
		fmt.Fprintf(p, `<rect x="%.1f" y="12" width="11" height="11" fill="%s"/>`, x, colours[k])
		p.text(x+16, 22, "start", ink, name)
	}
	return p.end()
}

// scanTicks is how many figures stand under a scan at the most.
const scanTicks = 8

// roundStep is the least step of 1, 2 or 5 in its decade that is no smaller than another.
func roundStep(least float64) float64 {
	decade := math.Pow(10, math.Floor(math.Log10(least)))
	for _, round := range []float64{1, 2, 5} {
		if round*decade >= least {
			return round * decade
		}
	}
	return 10 * decade
}

// scanFigure draws one scan: a line for each condition, the named steps shaded.
func scanFigure(s study.Scan) string {
	p := newPlot(s.About, s.Unit, 0, 1)
	first, last := s.Points[0].X, s.Points[len(s.Points)-1].X
	share := func(x float64) float64 { return (x - first) / (last - first) }
	for _, step := range s.Steps {
		x1, y := p.at(share(max(step.From, first)), 1)
		x2, zero := p.at(share(min(step.To, last)), 0)
		fmt.Fprintf(p, `<rect x="%.1f" y="%.1f" width="%.1f" height="%.1f" fill="%s" opacity="0.45"><title>%s</title></rect>`, x1, y, x2-x1, zero-y, hairline, step.Why)
	}
	step := roundStep((last - first) / scanTicks)
	for at := math.Ceil(first/step) * step; at <= last+step/scanTicks; at += step {
		x, zero := p.at(share(at), 0)
		p.text(x, zero+20, "middle", lead, fmt.Sprintf("%.4g", at))
	}
	for k, line := range []struct {
		name, colour string
		of           func(diagnosis.Condition) float64
	}{
		{"sound", verdigris, func(c diagnosis.Condition) float64 { return c.Sound }},
		{"worn", marigold, func(c diagnosis.Condition) float64 { return c.Worn }},
		{"one cell bad", oxide, func(c diagnosis.Condition) float64 { return c.DeadCell }},
		{"damaged", lead, func(c diagnosis.Condition) float64 { return c.Damaged }},
	} {
		points := make([]string, len(s.Points))
		for i, at := range s.Points {
			x, y := p.at(share(at.X), line.of(at.Condition))
			points[i] = fmt.Sprintf("%.1f,%.1f", x, y)
		}
		fmt.Fprintf(p, `<polyline points="%s" fill="none" stroke="%s" stroke-width="2.2"/>`, strings.Join(points, " "), line.colour)
		x := p.left + []float64{0, 78, 148, 258}[k]
		fmt.Fprintf(p, `<rect x="%.1f" y="12" width="11" height="11" fill="%s"/>`, x, line.colour)
		p.text(x+16, 22, "start", ink, line.name)
	}
	return p.end()
}
