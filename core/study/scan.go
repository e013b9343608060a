package study

import (
	"fmt"
	"strings"

	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
)

// Scan is one reading taken at every figure it may show, all else the same: how the condition
// of the battery goes with it.
type Scan struct {
	Name  string
	About string
	// Unit is that of X.
	Unit   string
	Points []ScanPoint
	// Steps are the places where a rule or a step of nature lets the odds jump, with its
	// reason.
	Steps []ScanStep
}

// ScanPoint is what one figure comes to.
type ScanPoint struct {
	X         float64
	Condition diagnosis.Condition
	Action    diagnosis.Action
}

// ScanStep is a stretch of a scan that has a reason to be steep.
type ScanStep struct {
	From, To float64
	Why      string
}

// scanned is one scan as data: the case around the reading, the line with its figure, and
// where it runs.
type scanned struct {
	name, about, unit, label, vehicle string
	before                            []string
	line                              string
	from, to, by                      float64
	steps                             []ScanStep
}

const scanLabel = `"chemistry":"flooded","nominal_v":12,"rating":{"value":650,"standard":"SAE"},"capacity_ah":65,"reserve_min":110`

var scans = []scanned{
	{
		"volts", "Rested volts of a car's battery, nothing else known", "V", scanLabel, `,"vehicle":{"kind":"car"}`,
		nil, "%.2f v 20c rested 3h", 4, 13.2, 0.05,
		[]ScanStep{
			{9.7, 10.75, "one missing cell: full less 2.1 V"}, {11.7, 12.0, "the end of the table: below it a battery is drawn down or has a bad cell"},
			{12.85, 13.05, "above its ceiling it is no rested voltage"},
		},
	},
	{
		"six-volts", "The same of a six-volt battery", "V", strings.Replace(scanLabel, `"nominal_v":12`, `"nominal_v":6`, 1), `,"vehicle":{"kind":"classic"}`,
		nil, "%.3f v 20c rested 3h", 2, 6.6, 0.025,
		[]ScanStep{
			{3.6, 4.4, "one missing cell: full less 2.1 V"}, {5.85, 6.0, "the end of the table"}, {6.4, 6.55, "above its ceiling"},
		},
	},
	{
		"load", "Volts under half of its rating, fully charged", "V", scanLabel, "",
		[]string{"12.65 v 20c rested 3h"}, "load 325a 15s %.2fv", 5, 11.5, 0.05,
		[]ScanStep{{9.5, 9.65, "the limit at 20 °C: from there it has passed"}},
	},
	{
		"load-half", "The same at half charge", "V", scanLabel, "",
		[]string{"12.24 v 20c rested 3h"}, "load 325a 15s %.2fv", 5, 11.5, 0.05,
		[]ScanStep{{9.5, 9.65, "the limit at 20 °C: a pass counts at any charge"}},
	},
	{
		"tester", "A tester's share of the rating, fully charged", "A", scanLabel, "",
		[]string{"12.65 v 20c rested 3h"}, "%.0f/650 cca", 150, 750, 5,
		[]ScanStep{{450, 460, "0.70 of the rating: from there it has not failed"}},
	},
	{
		"gravity", "One cell of six after a full charge, the others 1.265", "", scanLabel + `,"sealed":false`, "",
		nil, "sg 1265 1265 1265 1265 1265 %.0f at 25c after charge", 1100, 1285, 5,
		[]ScanStep{{1205, 1220, "50 points: from there a cell is bad"}},
	},
}

// Scans are the scans that ship, through an engine.
func Scans(engine *diagnosis.Engine) ([]Scan, error) {
	list := make([]Scan, 0, len(scans))
	for _, s := range scans {
		out := Scan{Name: s.name, About: s.about, Unit: s.unit, Steps: s.steps}
		for k := 0; s.from+float64(k)*s.by <= s.to+1e-9; k++ {
			x := s.from + float64(k)*s.by
			c, err := s.at(x)
			if err != nil {
				return nil, err
			}
			a := engine.Brief(c)
			out.Points = append(out.Points, ScanPoint{x, a.Condition, a.Verdict.Action})
		}
		list = append(list, out)
	}
	return list, nil
}

func (s scanned) at(x float64) (evidence.Case, error) {
	quoted := ""
	for _, line := range append(append([]string{}, s.before...), fmt.Sprintf(s.line, x)) {
		quoted += fmt.Sprintf(",%q", line)
	}
	c, err := evidence.Decode(strings.NewReader(fmt.Sprintf(`{"battery":{%s}%s,"readings":[%s]}`, s.label, s.vehicle, quoted[1:])))
	if err != nil {
		return c, fmt.Errorf("scan %s at %g: %w", s.name, x, err)
	}
	return c, nil
}
