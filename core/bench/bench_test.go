package bench

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/problem"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/wording"
)

var november = Setting{Year: 2026, Month: 11}

func worked(t testing.TB, id string, typed map[string]string) Result {
	t.Helper()
	s, ok := Find(id)
	if !ok {
		t.Fatalf("no card %s", id)
	}
	r, err := s.Work(typed, november)
	if err != nil {
		t.Fatalf("%s %v: %v", id, typed, err)
	}
	return r
}

func figure(t testing.TB, r Result, code string) Figure {
	t.Helper()
	for _, f := range r.Figures {
		if f.Code == code {
			return f
		}
	}
	t.Fatalf("no figure %s in %+v", code, r.Figures)
	return Figure{}
}

// TestEveryCard works every card out as it begins, with every choice, and looks
// for gaps in its words, figures that are none, and lines that do not parse.
func TestEveryCard(t *testing.T) {
	for _, s := range Sums() {
		if !slices.Contains(Groups(), s.Group) || len(s.Sources) == 0 || strings.ContainsAny(s.Title()+s.Formula(), "⟨⟩") {
			t.Errorf("%s: group %q, %d sources, %q, %q", s.ID, s.Group, len(s.Sources), s.Title(), s.Formula())
		}
		whole(t, s, worked(t, s.ID, nil))
		for _, in := range s.Inputs {
			if strings.ContainsAny(s.Label(in), "⟨⟩") {
				t.Errorf("%s.%s has no label", s.ID, in.Name)
			}
			for _, code := range in.Codes {
				r, err := s.Work(map[string]string{in.Name: code}, november)
				if err == nil {
					whole(t, s, r)
				}
			}
			if in.Codes == nil && !in.Text {
				for _, x := range []float64{in.Low, in.High} {
					if r, err := s.Work(map[string]string{in.Name: g(x)}, november); err == nil {
						whole(t, s, r)
					}
				}
			}
		}
	}
}

func whole(t *testing.T, s Sum, r Result) {
	t.Helper()
	if len(r.Figures) == 0 && len(r.Says) == 0 {
		t.Errorf("%s says nothing", s.ID)
	}
	for _, f := range r.Figures {
		if math.IsNaN(f.Value) || math.IsInf(f.Value, 0) || strings.ContainsAny(f.Text+f.Label, "⟨⟩{}") || f.Text == "" || strings.Contains(f.Text, "NaN") {
			t.Errorf("%s: %+v", s.ID, f)
		}
		if f.Low != nil && (*f.Low > *f.High+1e-9) {
			t.Errorf("%s: band of %+v", s.ID, f)
		}
	}
	for _, say := range r.Says {
		if strings.ContainsAny(say.Text, "⟨⟩{}") || strings.Contains(say.Text, "<nil>") {
			t.Errorf("%s says %q", s.ID, say.Text)
		}
	}
	if r.Line != "" {
		if _, err := reading.Parse(r.Line); err != nil {
			t.Errorf("%s: line %q: %v", s.ID, r.Line, err)
		}
	}
	if r.Curve == nil {
		return
	}
	for _, l := range r.Curve.Lines {
		if strings.ContainsAny(l.Label, "⟨⟩") || len(l.Points) < 2 {
			t.Errorf("%s: line %q of %d points", s.ID, l.Label, len(l.Points))
		}
		for _, p := range append(slices.Clone(l.Points), l.Upper...) {
			if math.IsNaN(p[0]+p[1]) || math.IsInf(p[0]+p[1], 0) {
				t.Errorf("%s: line %q runs through %v", s.ID, l.Label, p)
			}
		}
	}
}

// TestWorkedExamples checks the trade's worked examples on the cards.
func TestWorkedExamples(t *testing.T) {
	for _, c := range []struct {
		source, id string
		typed      map[string]string
		code       string
		want, off  float64
	}{
		{"common practice, no source: RC 75 at 25 A is 3 h", "charge_time", map[string]string{"reserve_min": "75", "amps": "25", "percent": "0"}, "workshop_hours", 180, 0.01},
		{"common practice, no source: at 10 A 7.5 h", "charge_time", map[string]string{"reserve_min": "75", "amps": "10", "percent": "0"}, "workshop_hours", 450, 0.01},
		{"common practice, no source: taper 30 A, 10 A counts 20 A", "charge_time", map[string]string{"amps": "30", "amps_hour": "10"}, "average", 20, 0},
		{"computed: 75 Ah for the 54 Ah missing is a margin of 1.4", "charge_time", map[string]string{"reserve_min": "75", "amps": "25", "percent": "0", "capacity_ah": "53.5"}, "times", 1.4, 0.06},
		{"common practice, no source: RC 75 is about 54 Ah", "capacity", map[string]string{"reserve_min": "75"}, "ah_from_reserve", 53.5, 0.01},
		{"SAE J537, value from memory: 75 min at 25 A is 31 Ah", "capacity", map[string]string{"reserve_min": "75"}, "delivered", 31.25, 0.01},
		{"common practice, no source: 675 CA is 540 CCA", "rating", map[string]string{"rating": "675", "standard": "CA"}, "sae", 540, 0.5},
		{"chart, value from memory: DIN 280 is SAE 500", "rating", map[string]string{"rating": "280", "standard": "DIN"}, "sae", 500, 0.5},
		{"chart, value from memory: SAE 700 is EN 640", "rating", map[string]string{"rating": "700"}, "in_EN", 640, 0.5},
		{"BCI, value from memory: 650 A at 10 °C", "load_test", map[string]string{"rating": "650", "battery_c": "10"}, "limit", 9.4, 0.005},
		{"BCI, value from memory: half of it", "load_test", map[string]string{"rating": "650"}, "set", 325, 0},
		{"BCI, value from memory: six volts at 0 °F", "load_test", map[string]string{"nominal_v": "6", "battery_c": "0f"}, "limit", 4.25, 0.005},
		{"computed: 0.5 V at 150 A is 3.3 mΩ", "joint", map[string]string{"volts": "0.5", "amps": "150"}, "joint_ohms", 3.333, 0.001},
		{"computed: and 75 W", "joint", map[string]string{"volts": "0.5", "amps": "150"}, "watts", 75, 0.01},
		{"fuse resistance, value from memory: 1.2 mV on 15 A is 0.25 A", "fuse", map[string]string{"fuse_rating": "15", "millivolts": "1.2"}, "through_fuse", 250, 0.5},
		{"fuse resistance, value from memory: 0.1 mV on 30 A is 50 mA", "fuse", map[string]string{"fuse_rating": "30", "millivolts": "0.1"}, "through_fuse", 50, 0.5},
		{"IEC 62485-2, value from memory: 40 A into six cells is 12 m³/h", "air", map[string]string{"mode": "unlimited", "amps": "40"}, "flow", 12, 0.01},
		{"IEC 62485-2, value from memory: 28 cm² for each m³/h", "air", map[string]string{"mode": "unlimited", "amps": "40"}, "opening", 336, 0.1},
		{"exact: 70 in·lbf is 7.9 N·m", "torque", map[string]string{"torque": "70 in·lbf"}, "own_nm", 7.909, 0.001},
		{"exact: 11 ft·lbf is 15 N·m", "torque", map[string]string{"torque": "11ftlb"}, "own_nm", 14.914, 0.001},
		{"BCI, value from memory: 12.45 V is 75 %", "charge_from_volts", map[string]string{"volts": "12,45", "battery_c": "80f"}, "charge", 75, 0.5},
		{"BCI, value from memory: 1.225 is 75 %", "charge_from_gravity", map[string]string{"sg": "1225", "battery_c": "26.7"}, "charge", 75, 0.5},
		{"CRC and Perry, value from memory: 1.2599 is 35 % by weight", "charge_from_gravity", map[string]string{"sg": "1.2599", "correction": "automatic"}, "acid_weight", 35, 0.01},
		{"computed: 1.265 is 24 to 25 % by volume", "charge_from_gravity", map[string]string{"sg": "1.265", "correction": "automatic"}, "acid_volume", 24.5, 0.5},
		{"computed: half charged freezes at about −24 °C", "freezing", map[string]string{"percent": "50"}, "freezes", -24, 0.5},
		{"twin study, computed: 60 Ah and 30 mA, about 22 days to 12.4 V", "drain_days", map[string]string{"capacity_ah": "60", "drain_a": "30ma", "air_c": "20"}, "days_recharge", 22, 3},
		{"common practice, no source: 594 of 650", "conductance", map[string]string{"measured": "594", "rating": "650"}, "ratio", 91.4, 0.1},
		{"common practice, no source: 50 A at 27 °C", "acceptance", map[string]string{"capacity_ah": "60", "battery_c": "27"}, "accepts", 50, 0.01},
		{"common practice, no source: below 14 V up to 16 h", "acceptance", map[string]string{"charger_volts": "13.8"}, "delay", 16, 0},
		{"common practice, no source: 48 Ah, up to about 5 A", "maintainer", map[string]string{"capacity_ah": "48"}, "maintainer_most", 4.8, 0.001},
		{"IEC 60028 and ASTM B258, values from memory: 4 AWG is 0.815 mΩ/m", "cable", map[string]string{"gauge": "4", "length": "1", "clamps": "0"}, "copper", 0.815, 0.0005},
		{"twin study, computed: 60 Ah, 50 to 95 % at 6 A, 5.5 h", "charge_time", map[string]string{"capacity_ah": "60", "amps": "6", "battery_c": "25"}, "model_time", 330, 60},
		{"handbook, value from memory: a coil puts back about 1 Ah in 20 min", "running", map[string]string{"capacity_ah": "24", "percent": "40", "puller": "mower", "run": "20"}, "run_ah", 1, 0.15},
		{"common practice, no source: a drive of twenty minutes does not fill it", "running", map[string]string{"capacity_ah": "60", "percent": "40", "run": "20", "spare_a": "30"}, "run_percent", 54, 6},
		{"twin study, computed: at 2 A 14 h", "charge_time", map[string]string{"capacity_ah": "60", "amps": "2", "battery_c": "25"}, "model_time", 840, 60},
		{"open-circuit table, BCI, value from memory: half charged rests at 12.24 V", "expected", map[string]string{"percent": "50", "battery_c": "26.7"}, "before_load", 12.24, 0.01},
		{"BCI limit, value from memory, 9.6 V at 21 °C is 0.67 to 0.70 of the label", "expected", map[string]string{"battery_c": "21"}, "least_volts", 9.6, 0.2},
		{"computed: R = (12.64 − 9.6) / 325 is 9.4 mΩ", "expected", map[string]string{"battery_c": "21", "volts": "9.6"}, "own_ohms", 9.35, 0.1},
		{"common practice, no source: 0.125 Ah a start", "week", map[string]string{"trips": "8"}, "week_starts", 1, 1e-9},
	} {
		if got := figure(t, worked(t, c.id, c.typed), c.code).Value; math.Abs(got-c.want) > c.off {
			t.Errorf("%s: got %v, want %v", c.source, got, c.want)
		}
	}
}

// TestDateCode checks a letter for the month and a digit for the year. Common
// practice, no source.
func TestDateCode(t *testing.T) {
	r := worked(t, "date_code", map[string]string{"date_code": "c4"})
	if r.Figures[0].Code != "made_2024-03" || !strings.Contains(r.Figures[0].Text, "2.7 years") {
		t.Errorf("%+v", r.Figures)
	}
	if r := worked(t, "date_code", map[string]string{"date_code": "M6"}); r.Figures[0].Code != "made_2016-12" {
		t.Errorf("a date to come was offered first: %+v", r.Figures)
	}
}

// TestRefuses checks that every problem names the input and what is allowed.
func TestRefuses(t *testing.T) {
	for _, c := range []struct{ id, name, value, field string }{
		{"load_test", "rating", "five", "rating"}, {"load_test", "rating", "5", "rating"}, {"load_test", "rating", "", "rating"},
		{"load_test", "rating", "650 v", "rating"}, {"load_test", "standard", "GOST", "standard"}, {"load_test", "colour", "red", "colour"},
		{"charge_from_volts", "volts", "24.8", "volts"}, {"date_code", "date_code", "I4", "date_code"}, {"date_code", "date_code", "", "date_code"},
		{"charge_time", "amps_hour", "20", "amps_hour"}, {"expected", "volts", "13.5", "volts"}, {"expected", "chemistry", "lifepo4", "chemistry"},
	} {
		s, _ := Find(c.id)
		_, err := s.Work(map[string]string{c.name: c.value}, november)
		list, ok := err.(problem.List)
		if !ok || list[0].Field != c.field || list[0].Allowed == "" {
			t.Errorf("%s %s=%q: %v", c.id, c.name, c.value, err)
		}
	}
	s, _ := Find("capacity")
	if _, err := s.Work(map[string]string{"reserve_min": "", "capacity_ah": ""}, november); err == nil {
		t.Error("a capacity of nothing")
	}
}

// TestOwnFigure checks that the shop's own limit shows on the card.
func TestOwnFigure(t *testing.T) {
	s, _ := Find("joint")
	r, err := s.Work(nil, Setting{Own: school.Own{school.JointMost: {Value: 0.5, Note: "maker's manual"}}})
	if err != nil || figure(t, r, "joint_limit").Value != 0.5 || figure(t, r, "over").Tone != "good" {
		t.Errorf("%+v %v", r, err)
	}
	if want := wording.Text("sum.say.own_figure", wording.Values{"note": "maker's manual"}); r.Says[0].Text != want {
		t.Errorf("%+v", r.Says)
	}
}

func BenchmarkWork(b *testing.B) {
	s, _ := Find("load_test")
	b.ReportAllocs()
	for b.Loop() {
		if _, err := s.Work(nil, november); err != nil {
			b.Fatal(err)
		}
	}
}

// TestFormulaFigures checks that a formula that is shown names the figures it is worked
// with (the constants of core/battery).
func TestFormulaFigures(t *testing.T) {
	for code, figures := range map[string][]float64{
		"sum.surface_charge.formula": {float64(battery.SurfaceMost), battery.SurfaceHours},
		"sum.charge_check.formula":   {battery.Label{}.Keeps(0, false).Value},
	} {
		text := wording.Text(code, nil)
		for _, figure := range figures {
			if shown := fmt.Sprintf("%.2f", figure); !strings.Contains(text, shown) {
				t.Errorf("%s: no %s in %q", code, shown, text)
			}
		}
	}
}
