package charging

import (
	"math"
	"testing"
	"time"

	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
)

func near(t *testing.T, what string, got, want, within float64) {
	t.Helper()
	if math.Abs(got-want) > within {
		t.Errorf("%s: got %v, want %v", what, got, want)
	}
}

// TestAir checks the air of a charging place. Source: IEC 62485-2 / EN 50272-2,
// value from memory: Q = 0.05 × n × I_gas × C × 10⁻³, A = 28 × Q, d = 28.8 × ∛(I·C).
func TestAir(t *testing.T) {
	// 40 A into six cells without a limit of volts needs 12 m³/h (computed).
	a := AirFor(6, GasAmps(battery.Flooded, 80, 40, Unlimited), 1, 30)
	near(t, "flow", a.Flow, 12, 1e-9)
	near(t, "opening", a.Opening, 336, 1e-9)
	near(t, "distance", a.Clear, 28.8*math.Cbrt(40000)/1000, 1e-9)
	// 100 Ah vented on boost: 20 mA/Ah, 2 A, 0.6 m³/h.
	near(t, "boost", AirFor(6, GasAmps(battery.Flooded, 100, 10, Boost), 1, 30).Flow, 0.6, 1e-9)
	near(t, "float, valve-regulated", float64(GasAmps(battery.AGM, 100, 10, Float)), 0.1, 1e-9)
	near(t, "boost, valve-regulated", float64(GasAmps(battery.Gel, 100, 10, Boost)), 0.8, 1e-9)
	near(t, "float, vented", float64(GasAmps(battery.EFB, 100, 10, Float)), 0.5, 1e-9)
	if small := AirFor(6, 0.001, 1, 30); small.Clear != 0.5 {
		t.Errorf("never under half a metre: %v", small.Clear)
	}
	near(t, "four strings", AirFor(6, 2, 4, 30).Flow, 4*AirFor(6, 2, 1, 30).Flow, 1e-9)
	if !LimitedVolts(14.4, 6) || LimitedVolts(14.5, 6) {
		t.Error("2.40 V a cell is the bound")
	}
}

// TestHydrogen checks the hydrogen made against Faraday's law: half a mole for
// each mole of electrons, 22.414 l at 0 °C; constants as CODATA has them, value
// from memory.
func TestHydrogen(t *testing.T) {
	const faraday, molar = 96485.33, 22.414
	litres := 3600 / faraday / 2 * molar
	near(t, "litres of one ampere-hour", AirFor(1, 1, 1, 1).Hydrogen, litres, 0.005)
	a := AirFor(6, 2, 1, 30)
	near(t, "share in the air moved stays a fifth of what explodes", a.SharePercent, 0.84, 0.01)
	near(t, "litres until 4 %", a.HoursClosed*a.Hydrogen/1000/30*100, ExplosivePercent, 1e-9)
}

// TestWorkshopRule checks RC / A: RC 75 at 25 A is 3 h, at 10 A 7.5 h, half of
// it from half charge. Common practice, no source; the margins are computed.
func TestWorkshopRule(t *testing.T) {
	near(t, "at 25 A", WorkshopHours(75, 25, 0), 3, 1e-12)
	near(t, "at 10 A", WorkshopHours(75, 10, 0), 7.5, 1e-12)
	near(t, "from half", WorkshopHours(75, 10, 50), 3.75, 1e-12)
	near(t, "taper", float64(TaperAverage(30, 10)), 20, 1e-12)
	near(t, "margin over a fast drain", Margin(3, 25, battery.DeliveredAtReserve(75)), 2.4, 0.01)
	near(t, "margin over the 20 h capacity", Margin(3, 25, 53.5), 1.4, 0.01)
}

// TestRates checks what a rate is called: 2 A slow, 10 % kind, 10 A quick for a
// car, 40 A a short boost, 200 A to start. Common practice, no source.
func TestRates(t *testing.T) {
	for current, want := range map[quantity.Amperes]string{2: "slow", 6.5: "kind", 10: "quick", 40: "boost", 200: "start_only"} {
		if got := Rate(current, 65); got != want {
			t.Errorf("%v A: %s, want %s", current, got, want)
		}
	}
	near(t, "a mower's coil in a quarter of an hour", float64(CoilAmpereHours(15)), 0.75, 1e-9)
	if Starts(7) || !Starts(9) {
		t.Error("a charger with reverse protection begins from about 8 V")
	}
}

// TestNextCheck checks that a charge that runs is looked at half an hour after its last
// check (common practice, no source), and that one that is over is not.
func TestNextCheck(t *testing.T) {
	at := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	of := func(lines ...string) evidence.Case {
		c := evidence.Case{Label: battery.Label{Chemistry: battery.Flooded, NominalV: 12}}
		for i, line := range lines {
			parsed, err := reading.Parse(line)
			if err != nil {
				t.Fatal(err)
			}
			c.Readings = append(c.Readings, evidence.Taken{At: at.Add(time.Duration(i) * time.Hour), Reading: parsed.Reading})
		}
		return c
	}
	if due, ok := NextCheck(of("11.9 v rested 9h", "charge 14.2v 6a", "charge 14.3v 5a")); !ok || !due.Equal(at.Add(150*time.Minute)) {
		t.Errorf("due %s, %v", due, ok)
	}
	for _, lines := range [][]string{{}, {"11.9 v rested 9h"}, {"charge 14.2v 6a", "charge 14.4v 1a full"}, {"charge 14.2v 6a", "12.6 v rested 3h"}} {
		if due, ok := NextCheck(of(lines...)); ok {
			t.Errorf("%v: due %s", lines, due)
		}
	}
	c := of("charge 14.2v 6a")
	c.Readings[0].At = time.Time{}
	if _, ok := NextCheck(c); ok {
		t.Error("a check that nobody knows the time of is due")
	}
}
