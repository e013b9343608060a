package jump

import (
	"encoding/json"
	"fmt"
	"math"
	"strings"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/quantity"
	"grapnel/core/twin"
)

var planner = Planner{Designs: new(twin.Designs)}

// base is an ordinary jump; what stands in a case takes the place of what stands here.
var base = map[string]string{
	"dead":         `{"battery": {"chemistry": "flooded", "nominal_v": 12, "rating": {"value": 600, "standard": "SAE"}, "capacity_ah": 60}, "charge": {"percent": 15, "low": 8, "high": 22}, "battery_c": 0}`,
	"vehicle":      `{"kind": "car", "engine": "petrol", "litres": 1.8}`,
	"with":         `{"kind": "vehicle", "battery": {"chemistry": "flooded", "nominal_v": 12, "rating": {"value": 600, "standard": "SAE"}, "capacity_ah": 60}, "charge": {"percent": 95}, "battery_c": 0}`,
	"cables":       `{"awg": 4, "metres": 3}`,
	"feed_minutes": `0`,
}

// ask is the base with some fields changed, "field value".
func ask(t testing.TB, changed ...string) Ask {
	t.Helper()
	fields := map[string]string{}
	for k, v := range base {
		fields[k] = v
	}
	for _, c := range changed {
		key, value, _ := strings.Cut(c, " ")
		fields[key] = value
	}
	var parts []string
	for k, v := range fields {
		parts = append(parts, fmt.Sprintf("%q: %s", k, v))
	}
	a, err := Decode(strings.NewReader("{" + strings.Join(parts, ",") + "}"))
	if err != nil {
		t.Fatal(err)
	}
	return a
}

func codes(a Answer) string {
	var list []string
	for _, r := range a.Refusals {
		_, code, _ := strings.Cut(r.Code, ".")
		list = append(list, code)
	}
	return strings.Join(list, " ")
}

// TestCableByHand works 3 m of 4 AWG with four clamps out: ASTM B258 makes it 21.15 mm²,
// IEC 60028 0.815 mΩ/m at 20 °C, so 6 m are 4.89 mΩ, the clamps 3.00 mΩ (0.75 each, value
// from memory), and 200 A lose 1.58 V. A try of 10 s at 200 A heats a metre with 32.6 W:
// 326 J into 72.95 J/K, 4.47 K.
func TestCableByHand(t *testing.T) {
	s := scene{area: 21.15, metres: 3, clamp: 0.00075, copperAt: 20}
	c := s.cable(200)
	for what, pair := range map[string][2]float64{"mΩ": {c.Mohm, 7.89}, "V": {c.VoltsLost, 1.578}, "K": {c.KelvinPerTry, 4.47}} {
		if math.Abs(pair[0]-pair[1]) > 0.01*pair[1] {
			t.Errorf("%g %s, by hand %g", pair[0], what, pair[1])
		}
	}
	s.copperAt = -10 // 30 K colder, 0.393 % a kelvin (IEC 60028)
	if got, want := s.cable(200).Mohm, 4.89*(1-0.00393*30)+3; math.Abs(got-want) > 0.01 {
		t.Errorf("%g mΩ at -10 °C, by hand %g", got, want)
	}
}

// TestSplit holds the two batteries against Kirchhoff: the volts behind the cables are those
// at the dead battery's posts, and the currents are the starter's.
func TestSplit(t *testing.T) {
	design, _ := planner.Designs.Of(ask(t).Dead.Label)
	for _, percent := range []float64{0, 10, 40, 80} {
		for _, amps := range []float64{60, 150, 300} {
			b := design.New(twin.Sound, percent, 0)
			other := design.New(twin.Sound, 95, 0)
			p := pair{&b, vehicleOf(other, With{}, 1), 0.008, 0}
			x := p.split(amps, crankSeconds)
			here := float64(b.Under(quantity.Amperes(amps-x), crankSeconds))
			there := p.donor.gives(x) - 0.008*x
			if x > 0 && x < amps && x < p.donor.most && math.Abs(here-there) > 0.002 {
				t.Errorf("%g %%, %g A: %g V here, %g V behind the cables", percent, amps, here, there)
			}
			if got := float64(p.Under(quantity.Amperes(amps), crankSeconds)); got < here-0.001 {
				t.Errorf("%g %%, %g A: %g V with a donor, %g V without what it gives", percent, amps, got, here)
			}
		}
	}
}

// TestMonotone makes one thing better at a time: it never cranks less likely, nor slower.
func TestMonotone(t *testing.T) {
	donor := func(cca, ah float64) string {
		return fmt.Sprintf(`with {"kind": "vehicle", "battery": {"chemistry": "flooded", "nominal_v": 12, "rating": {"value": %g, "standard": "SAE"}, "capacity_ah": %g}, "charge": {"percent": 90}, "battery_c": -15}`, cca, ah)
	}
	dead := func(celsius float64) string {
		return fmt.Sprintf(`dead {"battery": {"chemistry": "flooded", "nominal_v": 12, "rating": {"value": 600, "standard": "SAE"}, "capacity_ah": 60}, "charge": {"percent": 40}, "battery_c": %g}`, celsius)
	}
	hard := []string{dead(-15), donor(450, 45), "joints_mohm 12"}
	for name, steps := range map[string][]string{
		"temperature": {dead(-18), dead(-10), dead(0), dead(10), dead(25)},
		"section":     {`cables {"mm2": 6, "metres": 3}`, `cables {"mm2": 10, "metres": 3}`, `cables {"mm2": 25, "metres": 3}`, `cables {"mm2": 50, "metres": 3}`},
		"length":      {`cables {"mm2": 16, "metres": 6}`, `cables {"mm2": 16, "metres": 3}`, `cables {"mm2": 16, "metres": 1}`},
		"donor":       {donor(300, 35), donor(450, 45), donor(600, 60), donor(900, 90)},
		"joints":      {"joints_mohm 30", "joints_mohm 12", "joints_mohm 8", "joints_mohm 0"},
		"feeding":     {"feed_minutes 0", "feed_minutes 3", "feed_minutes 10", "feed_minutes 30"},
		"engine":      {"engine_c -20", "engine_c 0", "engine_c 20"},
	} {
		var last *Cranks
		for _, step := range steps {
			with := append([]string{}, hard...)
			if name == "feeding" {
				with = append(with, `with {"kind": "vehicle", "running": true, "battery_c": -15}`)
			}
			a := planner.Plan(ask(t, append(with, step)...))
			if !a.Allowed {
				t.Fatalf("%s: %s: %s", name, step, codes(a))
			}
			if last != nil && (a.Cranks.Probability < last.Probability-0.002 || a.Cranks.Speed.Value < last.Speed.Value-0.005) {
				t.Errorf("%s: %s: %+v, before %+v", name, step, *a.Cranks, *last)
			}
			last = a.Cranks
		}
	}
}

// TestRefusals has every refusal hold by what it hangs on, and nothing refused without one
// (handbook 10).
func TestRefusals(t *testing.T) {
	dead := func(inside string) string {
		return `dead {"battery": {"chemistry": "flooded", "nominal_v": 12}, ` + inside + `}`
	}
	for want, changed := range map[string][]string{
		"":              {},
		"mixed_voltage": {`with {"kind": "vehicle", "nominal_v": 6}`},
		// A flat battery is ice at -25 °C: handbook 5.5, about -10 °C.
		"frozen":               {dead(`"charge": {"percent": 20, "low": 0, "high": 30}, "battery_c": -25`)},
		"damaged":              {dead(`"charge": {"percent": 20}, "battery_c": 10, "readings": ["look crack"]`)},
		"eye_clear":            {dead(`"charge": {"percent": 20}, "battery_c": 10, "readings": ["eye clear"]`)},
		"lithium":              {`dead {"battery": {"chemistry": "lifepo4", "nominal_v": 12}, "charge": {"percent": 20}, "battery_c": 10}`},
		"weak_donor":           {`with {"kind": "vehicle", "hybrid": true}`},
		"not_this_way":         {`school "earth_first"`},
		"frozen weak_donor":    {dead(`"charge": {"percent": 2}, "battery_c": -25`), `with {"kind": "vehicle", "hybrid": true}`},
		"mixed_voltage frozen": {dead(`"charge": {"percent": 2}, "battery_c": -25`), `with {"kind": "vehicle", "nominal_v": 24}`},
	} {
		a := planner.Plan(ask(t, changed...))
		if codes(a) != want || a.Allowed != (want == "") {
			t.Errorf("want %q, got %q, allowed %v", want, codes(a), a.Allowed)
		}
		if !a.Allowed && (a.Cranks != nil || a.Cable != nil || a.Feed != nil || len(a.Better) > 0 || len(a.After) > 0) {
			t.Errorf("%s: sums in spite of it: %+v", want, a)
		}
		if (a.Procedure != nil) != (want == "" || want == "not_this_way") || a.Procedure != nil && a.Procedure.School != Body {
			t.Errorf("%s: procedure %+v", want, a.Procedure)
		}
	}
	// A small pack on a large diesel is weak, a large one on a small petrol engine is not.
	diesel := `vehicle {"kind": "van", "engine": "diesel", "litres": 3}`
	if a := planner.Plan(ask(t, diesel, `with {"kind": "pack", "amps": 150, "battery_c": -10}`)); codes(a) != "weak_donor" {
		t.Errorf("a small pack on a large diesel: %q", codes(a))
	}
	if a := planner.Plan(ask(t, `with {"kind": "pack", "amps": 1000, "battery_c": 10}`)); !a.Allowed || a.Cranks.Probability < 0.9 {
		t.Errorf("a large pack on a small engine: %q %+v", codes(a), a.Cranks)
	}
}

// TestDonorWithinItsModel asks much of small and cold donors: none gives more than the model
// gives to 7.2 V at its temperature, and a larger label gives more.
func TestDonorWithinItsModel(t *testing.T) {
	for _, celsius := range []float64{-25, 0, 30} {
		last := 0.0
		for _, cca := range []float64{400, 600, 900} {
			with := fmt.Sprintf(`with {"kind": "vehicle", "running": true, "battery": {"chemistry": "flooded", "nominal_v": 12, "rating": {"value": %g, "standard": "SAE"}}, "battery_c": %g}`, cca, celsius)
			a := ask(t, with, `vehicle {"kind": "van", "engine": "diesel", "litres": 3}`,
				fmt.Sprintf(`dead {"battery": {"chemistry": "flooded", "nominal_v": 12}, "charge": {"percent": 60}, "battery_c": %g}`, celsius))
			design, _ := planner.Designs.Of(*a.With.Label)
			b := design.New(twin.Sound, 100, quantity.Celsius(celsius))
			most := mostOf(&b, cutVolts)
			got := planner.Plan(a)
			if !got.Allowed {
				continue
			}
			if got.Cranks.DonorAmps > most+0.001 || got.Cranks.DonorAmps < last {
				t.Errorf("%g A SAE at %g °C gives %g A of %g, the smaller one %g", cca, celsius, got.Cranks.DonorAmps, most, last)
			}
			last = got.Cranks.DonorAmps
		}
	}
	// Above its label in the warm: the label is for -18 °C (SAE J537).
	design, _ := planner.Designs.Of(battery.Label{Chemistry: battery.Flooded, NominalV: 12, Rating: &battery.Rating{Value: 600, Standard: battery.SAE}})
	if b := design.New(twin.Sound, 100, 0); mostOf(&b, cutVolts) < 600 {
		t.Errorf("%g A at 0 °C of 600 A SAE", mostOf(&b, cutVolts))
	}
}

// TestAJointInTheWay finds a joint of 8 mΩ: it costs volts at the starter, and cleaning it is
// named among what helps where it matters.
func TestAJointInTheWay(t *testing.T) {
	clean, dirty := planner.Plan(ask(t)), planner.Plan(ask(t, "joints_mohm 8"))
	lost := clean.Cranks.StarterVolts.Value - dirty.Cranks.StarterVolts.Value
	amps := dirty.Cranks.DeadAmps + dirty.Cranks.DonorAmps
	if want := 0.008 * amps; math.Abs(lost-want) > 0.15*want {
		t.Errorf("%g V lost over 8 mΩ at %g A, by Ohm %g", lost, amps, want)
	}
	worse := planner.Plan(ask(t, "joints_mohm 35"))
	if len(worse.Better) == 0 || worse.Better[0].Change != "clean_joints" {
		t.Errorf("a joint of 35 mΩ: %+v", worse.Better)
	}
	for i := 1; i < len(worse.Better); i++ {
		if worse.Better[i].Probability > worse.Better[i-1].Probability {
			t.Errorf("not the most first: %+v", worse.Better)
		}
	}
}

// TestFeeding waits for a running donor where the starter asks more than both give, and says
// nothing of it where waiting does not help.
func TestFeeding(t *testing.T) {
	cold := `dead {"battery": {"chemistry": "flooded", "nominal_v": 12, "rating": {"value": 400, "standard": "SAE"}, "capacity_ah": 44}, "charge": {"percent": 30}, "battery_c": -12}`
	thin := `cables {"mm2": 6, "metres": 4}`
	a := planner.Plan(ask(t, cold, thin, `with {"kind": "vehicle", "running": true, "battery_c": -12}`))
	if a.Feed == nil || a.Feed.Minutes.Value <= 0 || a.Feed.Minutes.Low > a.Feed.Minutes.Value || a.Feed.Minutes.High < a.Feed.Minutes.Value {
		t.Errorf("%+v with %+v", a.Feed, *a.Cranks)
	}
	if a := planner.Plan(ask(t, cold, thin, "joints_mohm 80")); a.Feed != nil {
		t.Errorf("feeding helps over a joint of 80 mΩ: %+v", a.Feed)
	}
}

// TestElectric wakes a car that cranks nothing on 12 V: a small pack does.
func TestElectric(t *testing.T) {
	for _, kind := range []string{"hybrid", "electric"} {
		a := planner.Plan(ask(t, fmt.Sprintf(`vehicle {"kind": %q}`, kind), `with {"kind": "pack", "amps": 200}`))
		if !a.Allowed || a.Cranks.Probability < 0.95 || a.Cranks.DonorAmps > 25 {
			t.Errorf("%s: %q %+v", kind, codes(a), a.Cranks)
		}
	}
}

// TestBadQuestions names every wrong field and what is allowed.
func TestBadQuestions(t *testing.T) {
	_, err := Decode(strings.NewReader(`{"dead": {"battery_c": 200}, "with": {"kind": "rope", "amps": 0}, "cables": {"mm2": 16, "awg": 4, "metres": 99}, "people": 3, "school": "mine", "more": 1}`))
	if err == nil {
		t.Fatal("taken")
	}
	for _, want := range []string{"dead.battery", "dead.battery_c", "with.kind", "with.amps", "cables.awg", "cables.metres", "people", "school", "more"} {
		if !strings.Contains(err.Error(), want) {
			t.Errorf("%s is not named in %v", want, err)
		}
	}
	if _, err := Decode(strings.NewReader(`{}`)); err == nil || !strings.Contains(err.Error(), "dead") {
		t.Errorf("nothing at all: %v", err)
	}
}

// FuzzDecode has no question bring it down; what is taken is answered whole.
func FuzzDecode(f *testing.F) {
	f.Add(`{"dead": {"battery": {"chemistry": "agm", "nominal_v": 12}, "charge": {"percent": 3}}, "with": {"kind": "charger", "amps": 200}}`)
	f.Add(`{"dead": {"battery": {"chemistry": "unknown", "nominal_v": 6}, "readings": ["5.9 v"]}, "with": {"kind": "pack", "battery": {"chemistry": "gel", "nominal_v": 6}}, "people": 2}`)
	f.Fuzz(func(t *testing.T, text string) {
		a, err := Decode(strings.NewReader(text))
		if err != nil {
			return
		}
		got := planner.Plan(a)
		if _, err := json.Marshal(got); err != nil {
			t.Errorf("%s: %v", text, err)
		}
		if got.Allowed != (len(got.Refusals) == 0) || got.Cranks != nil && (got.Cranks.Probability < 0 || got.Cranks.Probability > 1) {
			t.Errorf("%s: %+v", text, got)
		}
	})
}

func BenchmarkPlan(b *testing.B) {
	a := ask(b, "joints_mohm 35", "feed_minutes 5")
	planner.Plan(a)
	for b.Loop() {
		planner.Plan(a)
	}
}
