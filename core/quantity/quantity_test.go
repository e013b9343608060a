package quantity

import (
	"math"
	"strings"
	"testing"
)

// TestConversions checks exact conversions. Source: the definitions of the
// Fahrenheit scale and of the international pound, inch and standard gravity;
// the torque factors as the trade's handbooks print them.
func TestConversions(t *testing.T) {
	for _, c := range []struct {
		name      string
		got, want float64
		within    float64
	}{
		{"70 °F", float64(Fahrenheit(70).Celsius()), 21.111111, 1e-6},
		{"0 °F", float64(Fahrenheit(0).Celsius()), -17.777778, 1e-6},
		{"80 °F", float64(Fahrenheit(80).Celsius()), 26.666667, 1e-6},
		{"-40", float64(Celsius(-40).Fahrenheit()), -40, 0},
		{"1 in·lbf", float64(InchPounds(1).NewtonMetres()), 0.1129848, 5e-8},
		{"1 ft·lbf", float64(FootPounds(1).NewtonMetres()), 1.355818, 5e-7},
		{"70 in·lbf", float64(InchPounds(70).NewtonMetres()), 7.9, 0.02},
		{"2 h", float64(Minutes(120).Seconds()), 7200, 0},
	} {
		if math.Abs(c.got-c.want) > c.within {
			t.Errorf("%s: got %v, want %v", c.name, c.got, c.want)
		}
	}
}

// TestRoundTrips checks that there and back loses nothing that matters.
func TestRoundTrips(t *testing.T) {
	for x := -60.0; x < 120; x += 0.7 {
		if back := Celsius(x).Fahrenheit().Celsius(); math.Abs(float64(back)-x) > 1e-12*100 {
			t.Errorf("%v °C comes back as %v", x, back)
		}
		if back := NewtonMetres(x).InchPounds().NewtonMetres(); math.Abs(float64(back)-x) > 1e-10 {
			t.Errorf("%v N·m by inch-pounds comes back as %v", x, back)
		}
		if back := NewtonMetres(x).FootPounds().NewtonMetres(); math.Abs(float64(back)-x) > 1e-10 {
			t.Errorf("%v N·m by foot-pounds comes back as %v", x, back)
		}
	}
}

func TestPrinting(t *testing.T) {
	var metric Units
	american := Units{Fahrenheit: true, TorqueUnit: TorqueInchPound}
	comma := Units{DecimalComma: true}
	for _, c := range []struct{ got, want string }{
		{metric.Volts(12.4), "12.40 V"},
		{comma.Volts(12.4), "12,40 V"},
		{metric.Amperes(325), "325 A"},
		{metric.Amperes(6.1), "6.1 A"},
		{metric.AmpereHours(65), "65 Ah"},
		{metric.Temperature(-18), "−18 °C"},
		{metric.Temperature(-0.2), "0 °C"},
		{american.Temperature(-18), "0 °F"},
		{american.Torque(7.9), "70 in·lbf"},
		{metric.Torque(7.9), "7.9 N·m"},
		{Units{TorqueUnit: TorqueFootPound}.Torque(15), "11.1 ft·lbf"},
		{metric.Ohms(0.0033), "3.3 mΩ"},
		{metric.Span(15), "15 s"},
		{metric.Span(60), "1 min"},
		{metric.Span(90), "90 s"},
		{metric.Span(2400), "40 min"},
		{metric.Span(7200), "2 h"},
		{metric.Span(12000), "3 h 20 min"},
		{metric.Span(0), "0 min"},
		{metric.Span(5 * 86400), "5 days"},
		{metric.Shortest(12.345678912), "12.345679"},
	} {
		if strings.ReplaceAll(c.got, gap, " ") != c.want {
			t.Errorf("got %q, want %q", c.got, c.want)
		}
	}
}

func TestDuration(t *testing.T) {
	if got := Minutes(1.5).Duration().Seconds(); got != 90 {
		t.Errorf("a minute and a half is %v s", got)
	}
}
