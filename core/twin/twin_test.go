package twin

import (
	"math"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/quantity"
)

// label makes a label with all three figures of the model.
func label(c battery.Chemistry, cranking, reserve, capacity float64) battery.Label {
	ah, minutes := quantity.AmpereHours(capacity), quantity.Minutes(reserve)
	return battery.Label{
		Chemistry: c, NominalV: 12, CapacityAh: &ah, ReserveMin: &minutes,
		Rating: &battery.Rating{Value: quantity.Amperes(cranking), Standard: battery.SAE},
	}
}

// labels are six batteries from a motorcycle's to a lorry's: cranking amperes,
// reserve minutes and ampere-hours as such labels have them.
var labels = []battery.Label{
	label(battery.Flooded, 540, 90, 55), label(battery.Flooded, 650, 110, 65), label(battery.Flooded, 800, 140, 80),
	label(battery.Flooded, 300, 40, 28), label(battery.AGM, 180, 18, 11), label(battery.Flooded, 1000, 200, 105),
}

func design(t testing.TB, l battery.Label) *Design {
	t.Helper()
	d, ok := Calibrate(l)
	if !ok {
		t.Fatal("not calibrated")
	}
	return d
}

func near(t *testing.T, what string, got, want, within float64) {
	t.Helper()
	if !(math.Abs(got-want) <= within) {
		t.Errorf("%s: %.4f, want %.4f within %g", what, got, want, within)
	}
}

// crankable is the current a full, new battery gives at a temperature for some
// seconds to a voltage over six cells.
func crankable(d *Design, celsius, seconds, volts float64) float64 {
	low, high := 0.0, 4*d.Cranking
	for range 40 {
		amps := (low + high) / 2
		if b := d.full(celsius); b.after(amps, seconds, celsius) > d.twelve(volts) {
			low = amps
		} else {
			high = amps
		}
	}
	return low
}

// TestDefinitions holds the model against the definitions its label is made
// from. Source: SAE J537 for cranking amperes (30 s at −18 °C to 7.2 V) and
// reserve (25 A at 26.7 °C to 10.5 V), EN 50342-1 for the 20 h capacity; values
// from memory.
func TestDefinitions(t *testing.T) {
	for _, l := range labels {
		d := design(t, l)
		near(t, "cranking amperes", crankable(d, -17.8, 30, 7.2)/d.Cranking, 1, 0.0005)
		near(t, "reserve", d.reserveMinutes()/d.Reserve, 1, 0.0005)
		near(t, "20 h", d.slowHours()/20, 1, 0.001)
	}
}

// TestOtherStandards holds it against what other standards ask of the same
// battery: CA over CCA 1.25 (common practice, no source); EN 10 s to 7.5 V, DIN
// 30 s to 9 V and IEC 60 s to 8.4 V against the usual chart (values from memory:
// 0.93 to 0.96, 0.56 to 0.57, 0.66 to 0.67), which no model meets exactly.
func TestOtherStandards(t *testing.T) {
	for _, l := range labels {
		d := design(t, l)
		near(t, "CA/CCA", crankable(d, 0, 30, 7.2)/d.Cranking, 1.25, 0.012)
		near(t, "EN/SAE", crankable(d, -18, 10, 7.5)/d.Cranking, 0.94, 0.05)
		near(t, "DIN/SAE", crankable(d, -18, 30, 9)/d.Cranking, 0.57, 0.02)
		near(t, "IEC/SAE", crankable(d, -18, 60, 8.4)/d.Cranking, 0.67, 0.03)
	}
}

// TestTables holds the rested battery against the published tables of volts and
// gravity. Source: Battery Council International service practice, value from
// memory. Other chemistries against their own.
func TestTables(t *testing.T) {
	for _, chemistry := range []battery.Chemistry{battery.Flooded, battery.EFB, battery.AGM, battery.Gel} {
		d := design(t, label(chemistry, 650, 110, 65))
		for percent := 0.0; percent <= 100; percent += 25 {
			b := d.New(Sound, percent, battery.TableCelsius)
			near(t, string(chemistry)+" volts", float64(b.Volts()), float64(battery.Label{Chemistry: chemistry, NominalV: 12}.VoltsFromCharge(percent)), 0.011)
			if chemistry == battery.Flooded {
				near(t, "gravity", b.Gravities()[0], battery.GravityFromCharge(percent), 0.0025)
			}
		}
	}
}

// TestLoadLimits holds it against the limits of the load test over temperature:
// one health, about 0.69 of the label, meets them all within 0.1 V. Source:
// Battery Council International service practice, value from memory.
func TestLoadLimits(t *testing.T) {
	table := []struct{ celsius, volts float64 }{{21, 9.6}, {16, 9.5}, {10, 9.4}, {4, 9.3}, {-1, 9.1}, {-7, 8.9}, {-12, 8.7}, {-18, 8.5}}
	for _, l := range labels {
		d := design(t, l)
		for _, row := range table {
			b := d.New(Condition{Health: 0.69, Capacity: 1}, 100, quantity.Celsius(row.celsius))
			within := 0.1
			if l.Chemistry == battery.AGM {
				within = 0.21 // its constants are not anchored separately
			}
			near(t, "load limit", b.after(d.Cranking/2, 15, row.celsius), row.volts, within)
		}
	}
}

// TestAcceptance: about ten times the current goes in at 27 °C as at −18 °C,
// half charged, in the first minute. Common practice, no source.
func TestAcceptance(t *testing.T) {
	for _, l := range labels {
		d := design(t, l)
		in := func(celsius quantity.Celsius, hours float64) float64 {
			b := d.New(Sound, 50, celsius)
			return b.Charge(Charger{Amps: 1e4, Volts: 14.4}, hours, 100, celsius, nil).AhIn
		}
		near(t, "acceptance", in(27, 1.0/60)/in(-18, 1.0/60), 11, 1.5)
		if soon, later := in(27, 1.0/60)/in(-18, 1.0/60), in(27, 1.0/6)/in(-18, 1.0/6); later >= soon {
			t.Errorf("the cold battery does not catch up: %.1f then %.1f", soon, later)
		}
	}
}

// TestLessons: what twin and trade teach of one battery of 600 A. A shorted cell
// rests at 10.5 V and loads low; 8 mΩ in the joint rest full and load as low; one
// cell at a quarter of its capacity rests full and passes, and lasts 14 minutes.
// Computed with the prototype of the model; the 10.5 V common practice.
func TestLessons(t *testing.T) {
	d := design(t, label(battery.Flooded, 600, 100, 62))
	full := d.full(tableCelsius)
	near(t, "full at rest", float64(full.Volts()), 12.65, 0.011)

	short := d.New(Condition{Health: 1, Capacity: 1, Odd: &Cell{Health: 1, Capacity: 1, Shorted: true}}, 100, battery.TableCelsius)
	near(t, "shorted at rest", float64(short.Volts()), 10.54, 0.02)
	near(t, "shorted under load", float64(short.Under(300, 15)), 8.3, 0.35)

	near(t, "joint under load", float64(full.Under(300, 15))-0.008*300, 7.93, 0.05)

	weak := d.New(Condition{Health: 1, Capacity: 1, Odd: &Cell{Health: 1, Capacity: 0.25}}, 100, battery.TableCelsius)
	near(t, "weak cell at rest", float64(weak.Volts()), 12.65, 0.011)
	if v := weak.Under(300, 15); v < 9.6 {
		t.Errorf("one weak cell fails the load test with %.2f V", v)
	}
	near(t, "weak cell's minutes at 25 A", weak.discharge(25, 1e5, 10.5, tableCelsius)/60, 14, 2)
}

// TestHalfCharged: at half charge far more health is asked to pass the load test
// than at full: the reason a fail at a low charge means nothing. Computed with
// the prototype: 0.67 at full to 1.01 at half charge, 21 °C.
func TestHalfCharged(t *testing.T) {
	d := design(t, labels[1])
	asked := func(percent float64) float64 {
		low, high := 0.1, 3.0
		for range 40 {
			h := (low + high) / 2
			if b := d.New(Condition{Health: h, Capacity: 1}, percent, 21); b.Under(quantity.Amperes(d.Cranking/2), 15) > 9.6 {
				high = h
			} else {
				low = h
			}
		}
		return low
	}
	for percent, want := range map[float64]float64{100: 0.67, 75: 0.80, 60: 0.91, 50: 1.01, 25: 1.53} {
		near(t, "health to pass", asked(percent), want, 0.05*want)
	}
}

// TestChargeTimes: 60 Ah from half to 95 % at 25 °C and 14.4 V. Computed with the
// prototype of the model (±30 %): 14 h at 2 A, 5.5 at 6, 4 at 10, 3.3 at 25; at
// −10 °C about 17 h with 2 A, and quicker when the charger compensates.
func TestChargeTimes(t *testing.T) {
	d := design(t, label(battery.Flooded, 540, 97, 60))
	hours := func(amps quantity.Amperes, celsius quantity.Celsius, perKelvin quantity.Volts) float64 {
		b := d.New(Sound, 50, celsius)
		return b.Charge(Charger{amps, 14.4, perKelvin, 0}, 80, 95, celsius, nil).Hours
	}
	for amps, want := range map[quantity.Amperes]float64{2: 14, 6: 5.5, 10: 4, 25: 3.3} {
		near(t, "hours", hours(amps, 25, 0), want, 0.12*want)
	}
	near(t, "cold hours", hours(2, -10, 0), 17, 2)
	if plain, compensated := hours(10, -10, 0), hours(10, -10, 0.024); compensated > 0.8*plain {
		t.Errorf("compensation does not help: %.1f and %.1f h", plain, compensated)
	}
}

// TestStanding: 60 Ah calcium with 30 mA about 22 days to 12.4 V at any
// temperature, about 270 without a drain at 25 °C. Computed with the prototype.
func TestStanding(t *testing.T) {
	l, sealed := label(battery.Flooded, 540, 97, 60), true
	l.Sealed = &sealed
	d := design(t, l)
	days := func(drain quantity.Amperes, celsius quantity.Celsius) float64 {
		b, days := d.New(Sound, 100, celsius), 0.0
		b.Park(drain, 24*500, Steady(celsius), func(p ParkPoint) bool {
			days = p.Hours / 24
			return battery.AtTable(p.Volts, celsius) > 12.4
		})
		return days
	}
	near(t, "drained, warm", days(0.03, 25), 22, 2)
	near(t, "drained, cold", days(0.03, 0), 24, 2.5)
	near(t, "by itself", days(0, 25), 270, 20)
}

// TestConservation: what is drawn is what is missing, to rounding, gassing
// apart; what is charged is stored at the efficiency.
func TestConservation(t *testing.T) {
	d := design(t, labels[1])
	b := d.New(Sound, 90, 25)
	held := b.AmpereHours()
	b.Discharge(20, 3600, 0, 25)
	lost := b.gassing(2.1, b.factors()) * 1
	near(t, "drawn", held-b.AmpereHours(), 20, lost+1e-9)

	b = d.New(Sound, 40, 25)
	held = b.AmpereHours()
	end := b.Charge(Charger{Amps: 6, Volts: 14.4}, 3, 100, 25, nil)
	near(t, "stored", (b.AmpereHours()-held)/end.AhIn, stored, 0.004)
}

// TestStepSize: the answer does not hang on the steps it is reached in.
func TestStepSize(t *testing.T) {
	d := design(t, labels[1])
	for _, amps := range []float64{5, 25, 325} {
		one, many := d.New(Sound, 90, 10), d.New(Sound, 90, 10)
		one.step(amps, 10, 10)
		for range 1000 {
			many.step(amps, 0.01, 10)
		}
		near(t, "volts in one step and a thousand", one.volts(amps), many.volts(amps), 0.012*amps/325+1e-6)
		near(t, "charge in one step and a thousand", one.groups[0].held, many.groups[0].held, 0.01)
		near(t, "wells in one step and a thousand", one.groups[0].apart, many.groups[0].apart, 1e-4)
	}
}

// TestUnder: the one-step answer the diagnosis works with lies close to the
// stepped one, which warms as it goes, wherever a limit of the trade lies.
func TestUnder(t *testing.T) {
	worst := 0.0
	for _, l := range labels {
		d := design(t, l)
		for _, celsius := range []float64{-18, 0, 20, 40} {
			for _, health := range []float64{0.4, 0.7, 1} {
				for percent := 30.0; percent <= 100; percent += 10 {
					b := d.New(Condition{Health: health, Capacity: 0.9}, percent, quantity.Celsius(celsius))
					quick := float64(b.Under(quantity.Amperes(d.Cranking/2), 15))
					if slow := b.after(d.Cranking/2, 15, celsius); slow > 8.4 {
						worst = math.Max(worst, math.Abs(quick-slow))
					}
				}
			}
		}
	}
	if worst > 0.03 {
		t.Errorf("one step is off by %.3f V", worst)
	}
	t.Logf("one step against many: %.3f V at the most", worst)
}

// TestLoaded: the form the diagnosis asks for many healths at once is the
// one-step answer, but for the warmth the current makes.
func TestLoaded(t *testing.T) {
	d := design(t, labels[2])
	for _, health := range []float64{0.3, 0.7, 1} {
		for percent := 20.0; percent <= 100; percent += 20 {
			b := d.New(Condition{Health: health, Capacity: 0.8}, percent, 5)
			if v := float64(b.Under(400, 15)); v > 7 {
				near(t, "loaded", 6*d.Loaded(0.8, percent, 5, 400, 15).Cell(health), v, 0.08)
			}
			near(t, "rested", 6*d.RestedCell(percent, 5), float64(b.Volts()), 1e-9)
		}
	}
	near(t, "a tester on a half-charged battery", TesterShare(50), 0.946, 0.01)
}

// TestMonotone: more charge, health, warmth or a smaller load never lower the
// volts; a longer one never raises them.
func TestMonotone(t *testing.T) {
	d := design(t, labels[1])
	under := func(health, percent, celsius, amps, seconds float64) float64 {
		b := d.New(Condition{Health: health, Capacity: 1}, percent, quantity.Celsius(celsius))
		return float64(b.Under(quantity.Amperes(amps), quantity.Seconds(seconds)))
	}
	base := [5]float64{0.7, 60, 5, 300, 15}
	up := [5]float64{0.05, 5, 3, -20, -2}
	for k := range base {
		before := math.Inf(-1)
		x := base
		for range 8 {
			v := under(x[0], x[1], x[2], x[3], x[4])
			if v < before {
				t.Errorf("volts fall as figure %d improves: %v", k, x)
			}
			before, x[k] = v, x[k]+up[k]
		}
	}
}

// TestCells: six cells twice over give twice the volts.
func TestCells(t *testing.T) {
	twelve, six := labels[1], labels[1]
	six.NominalV = 6
	a, b := design(t, twelve).New(Sound, 80, 15), design(t, six).New(Sound, 80, 15)
	near(t, "half the cells", float64(b.Under(325, 15))*2, float64(a.Under(325, 15)), 0.01)
	near(t, "half the cells at rest", float64(b.Volts())*2, float64(a.Volts()), 1e-9)
}

// TestPower: the power and the reserve measured on a battery follow what it was
// made with.
func TestPower(t *testing.T) {
	d := design(t, labels[1])
	for _, share := range []float64{1, 0.8, 0.6, 0.4} {
		b := d.New(Condition{Health: share, Capacity: 1}, 50, 20)
		near(t, "cranking power", b.CrankingPower(), share, 0.03)
		near(t, "conductance, half charged", b.Conductance(), share*0.946, 0.02)
		b = d.New(Condition{Health: 1, Capacity: share}, 50, 20)
		near(t, "reserve", b.ReserveShare(), share, 0.03)
	}
}

// TestFill: sulphated plates do not fill, and a cell that discharges itself
// shows in its gravity.
func TestFill(t *testing.T) {
	d := design(t, labels[1])
	b := d.New(Condition{Health: 0.6, Capacity: 0.7, Sulphation: 0.5}, 20, 20)
	if b.Fill(20); b.Percent() > 95 || b.Percent() < 85 {
		t.Errorf("sulphated: %.1f %%", b.Percent())
	}
	leaky := d.New(Condition{Health: 1, Capacity: 1, Odd: &Cell{Health: 1, Capacity: 1, Shunt: 0.5}}, 50, 20)
	leaky.Fill(20)
	g := leaky.Gravities()
	if g[0]-g[5] < 0.05 {
		t.Errorf("a leaking cell keeps its acid: %v", g)
	}
}

// FuzzExtremes: nothing the model is asked breaks it.
func FuzzExtremes(f *testing.F) {
	f.Add(0.7, 60.0, -40.0, 300.0, 15.0)
	f.Add(0.05, 0.0, 70.0, 3000.0, 600.0)
	f.Add(1.2, 100.0, -60.0, 0.0, 0.1)
	d, _ := Calibrate(labels[1])
	f.Fuzz(func(t *testing.T, health, percent, celsius, amps, seconds float64) {
		for _, x := range []float64{health, percent, celsius, amps, seconds} {
			if math.IsNaN(x) || math.IsInf(x, 0) {
				return
			}
		}
		within := func(x, low, high float64) float64 { return math.Min(math.Max(x, low), high) }
		health, percent = within(health, 0.02, 1.5), within(percent, 0, 100)
		celsius, amps, seconds = within(celsius, -60, 80), within(amps, 0, 5000), within(seconds, 0.01, 1e5)
		for _, odd := range []*Cell{nil, {Health: 0.3, Capacity: 0.2, Shunt: 1}, {Health: 1, Capacity: 1, Shorted: true}} {
			b := d.New(Condition{Health: health, Capacity: health, Sulphation: 0.4, Odd: odd}, percent, quantity.Celsius(celsius))
			b.Discharge(quantity.Amperes(amps), quantity.Seconds(seconds), 0, quantity.Celsius(celsius))
			b.Charge(Charger{Amps: 40, Volts: 14.4}, 1, 100, quantity.Celsius(celsius), nil)
			b.Park(0.05, 48, Steady(quantity.Celsius(celsius)), nil)
			if v, p := float64(b.Volts()), b.Percent(); math.IsNaN(v) || math.IsNaN(p) || p < 0 || p > 100 || v < -1 || v > 20 {
				t.Fatalf("%v %v %v %v %v: %v V, %v %%", health, percent, celsius, amps, seconds, v, p)
			}
		}
	})
}

// TestDesigns: a label is calibrated once, what it lacks is guessed, and what is
// no lead battery has no design.
func TestDesigns(t *testing.T) {
	var kept Designs
	a, _ := kept.Of(labels[0])
	if b, _ := kept.Of(labels[0]); a != b {
		t.Error("the same label was calibrated twice")
	}
	bare, ok := kept.Of(battery.Label{Chemistry: battery.AGM, NominalV: 12})
	if !ok || bare.RatingKnown || bare.CapacityKnown {
		t.Errorf("a bare label: %+v", bare)
	}
	if _, ok := kept.Of(battery.Label{Chemistry: battery.LiFePO4, NominalV: 12}); ok {
		t.Error("lithium has a lead model")
	}
}

func BenchmarkCalibrate(b *testing.B) {
	for b.Loop() {
		Calibrate(labels[1])
	}
}

func BenchmarkUnder(b *testing.B) {
	x := design(b, labels[1]).New(Sound, 80, 20)
	for b.Loop() {
		x.Under(325, 15)
	}
}

func BenchmarkForecast180Days(b *testing.B) {
	d := design(b, labels[1])
	air := Climate{Mean: 8, Year: 10, Day: 4}.From(300)
	for b.Loop() {
		x := d.New(Sound, 100, 10)
		x.Park(0.02, 24*180, air, func(ParkPoint) bool { return true })
	}
}

func BenchmarkCharge(b *testing.B) {
	d := design(b, labels[1])
	for b.Loop() {
		x := d.New(Sound, 20, 15)
		x.Charge(Charger{Amps: 6, Volts: 14.4}, 40, 98, 15, nil)
	}
}
