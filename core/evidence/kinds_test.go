package evidence

import (
	"math"
	"strings"
	"testing"

	"grapnel/core/reading"
)

const (
	rated650  = `"chemistry":"flooded","nominal_v":12,"rating":{"value":650,"standard":"SAE"},"capacity_ah":65,"reserve_min":110,"sealed":false`
	rated180  = `"chemistry":"agm","nominal_v":12,"rating":{"value":180,"standard":"SAE"},"capacity_ah":12`
	rated300  = `"chemistry":"flooded","nominal_v":6,"rating":{"value":300,"standard":"SAE"},"sealed":false`
	petrolCar = `},"vehicle":{"kind":"car","engine":"petrol","litres":1.6`
	dieselCar = `},"vehicle":{"kind":"van","engine":"diesel","litres":2.3`
	electric  = `},"vehicle":{"kind":"electric"`
	rated24   = `"chemistry":"flooded","nominal_v":24,"rating":{"value":900,"standard":"SAE"},"capacity_ah":140`

	motorcycle = `},"vehicle":{"kind":"motorcycle"`
	oldCar     = `},"vehicle":{"kind":"classic"`
	hybrid     = `},"vehicle":{"kind":"hybrid"`
	mildHybrid = `},"vehicle":{"kind":"hybrid","cranks_12v":true`
	managed    = `},"vehicle":{"kind":"car","managed_charging":true`
)

// TestEveryKindFinds checks what a reading of each kind finds, against which
// limit, on which side of it, and whether it counts. Limits are common practice,
// no source, where nothing else is named.
func TestEveryKindFinds(t *testing.T) {
	for _, c := range []struct {
		label, line, code string
		valid             bool
		limit             float64 // zero for none
		side              int     // −1 beyond it, 1 inside, 0 not asked
	}{
		// Gravity: 0.050 between cells (Battery Council International, value from memory).
		{rated650, "sg 1265 1262 1265 1260 1262 1265 27c", "gravity_even", true, 0.05, 1},
		{rated650, "sg 1265 1262 1265 1230 1262 1265 27c", "gravity_uneven", true, 0.05, 1},
		{rated650, "sg 1265 1262 - 1210 1262 1265 27c", "gravity_apart", true, 0.05, -1},
		{rated650, "sg 1265 1262 1265 1215 1262 1265 27c", "gravity_uneven", true, 0.05, 0},
		{rated650, "sg 1190 1190 1190 1130 1190 1190 27c", "gravity_apart_low", true, 0.05, -1},
		{rated650, "sg green green fair green red green", "gravity_zones", true, 0, 0},
		{rated650, "sg 1265 - - - - -", "gravity_one", true, 0, 0},
		{rated650, "sg - - - - - -", "gravity_unread", false, 0, 0},
		{rated650, "sg 1100 1100 1100 1100 1100 1100 just watered", "gravity_watered", false, 0, 0},
		{rated300, "sg 1265 1260 1200 27c", "gravity_apart", true, 0.05, -1},
		{rated650, "level ok ok ok ok ok ok", "level_ok", true, 0, 0},
		{rated650, "level ok low ok ok ok ok", "level_low", true, 0, 0},
		{rated650, "level ok low ok ok dry ok", "level_dry", true, 0, 0},

		{rated650, "crank 10.4v 3s", "crank_ok", true, 9.6, 1},
		{rated650, "crank 9.1v 3s", "crank_low_uncharged", true, 9.6, -1},
		{rated650, "crank 10.4v 3s slow", "crank_slow", true, 9.6, 1},
		{rated650, "crank 12.2v click", "crank_nothing", true, 9.6, 1},
		{rated650, "crank 11v 3s on jump", "crank_on_jump", false, 0, 0},
		{rated300, "crank 4.9v 3s", "crank_ok", true, 4.8, 1},

		{rated650, "running 13.5 v", "charging_ok", true, 13.5, 0},
		{rated650, "running 14.7 v", "charging_ok", true, 13.5, 1},
		{rated650, "running 13.4 v", "charging_low", true, 13.5, -1},
		{rated650, "running 13.4 v just jumped", "charging_jumped", false, 13.5, -1},
		{rated650, "running 12.8 v managed", "charging_managed", false, 12.5, 1},
		{rated650 + managed, "running 12.8 v", "charging_managed", false, 12.5, 1},
		{rated650 + managed, "running 12.8 v not managed", "charging_low", true, 13.5, -1},
		{rated650, "running 12.3 v managed", "charging_low", true, 12.5, -1},
		{rated650, "running 14.9 v", "charging_high_air", false, 14.8, -1},
		{rated650, "running 14.9 v 25c", "charging_high", true, 14.8, -1},
		{rated650, "running 14.9 v -5c", "charging_ok", true, 13.5, 1},
		{rated650, "running 15.2 v", "charging_high", true, 15, -1},
		{rated650, "running 15.4 v managed", "charging_ok", true, 13.5, 1},
		{rated300, "running 6.3 v idle", "charging_dynamo", false, 6.75, -1},
		{rated300, "running 7.1 v raised", "charging_ok", true, 6.75, 1},

		{rated650, "ripple 0.09 v", "ripple_good", true, 0.1, 1},
		{rated650, "ripple 0.1 v", "ripple_suspect", true, 0.1, 0},
		{rated650, "ripple 0.5 v", "ripple_suspect", true, 0.1, -1},
		{rated650, "ripple 0.6 v", "ripple_bad", true, 0.5, -1},

		{rated650 + petrolCar, "starter 150a", "starter_ok", true, 150, 0},
		{rated650 + petrolCar, "starter 220a", "starter_high", true, 150, -1},
		{rated650 + dieselCar, "starter 220a", "starter_ok", true, 600, 1},
		{rated650 + petrolCar, "starter 40a", "starter_low", true, 60, -1},
		{rated650, "starter 145a 10.6v stud 9.9v", "starter_stud_low", true, 0.5, -1},
		{rated650, "starter 145a 10.1v stud 9.6v", "starter_ok", true, 600, 1},
		{rated650, "starter stud 9.6v", "starter_stud", true, 0, 0},
		{rated650, "starter 10.1v", "starter_volts", true, 0, 0},
		{rated180 + electric, "starter 100a", "starter_none", false, 0, 0},

		{rated650, "drop negative_clamp 0.1v 150a", "drop_ok_ohms", true, 0.1, 0},
		{rated650, "drop negative_clamp 0.45v 150a", "drop_high_ohms", true, 0.1, -1},
		{rated650, "drop ground_strap 0.15v 150a", "drop_ok_ohms", true, 0.2, 1},
		{rated650, "drop whole_positive 0.45v", "drop_ok", true, 0.5, 1},
		{rated650, "drop whole_positive 0.6v", "drop_high", true, 0.5, -1},
		{rated650, "drop charge_positive 0.3v 20a charging", "drop_high_ohms", true, 0.2, -1},
		{rated650, "drop positive_clamp 0.02v 15a", "drop_small_current", false, 0.1, 1},
		{rated650, "drop positive_clamp 0.2v 15a", "drop_high_ohms", true, 0.1, -1},

		{rated650, "drain 50 ma asleep 40min", "drain_ok", true, 0.05, 0},
		{rated650, "drain 30 ma", "drain_ok", true, 0.05, 1},
		{rated650, "drain 85 ma asleep 40min", "drain_high", true, 0.05, -1},
		{rated650, "drain 85 ma", "drain_unsaid", false, 0.05, -1},
		{rated650, "drain 85 ma asleep 10min", "drain_awake", false, 0.05, -1},
		{rated180 + electric, "drain 85 ma asleep 3min", "drain_high", true, 0.05, -1},
		{rated650, "fuse F12 15a 1.2mv asleep 40min", "drain_high_fuse", true, 0.05, -1},
		{rated650, "fuse F12 15a 0.1mv", "drain_ok_fuse", true, 0.05, 1},
		{rated650, "fuse F12 15a 1.2mv", "drain_unsaid_fuse", false, 0.05, -1},
		{rated650, "fuse F1 45a 1mv", "drain_fuse_unknown", false, 0, 0},

		{rated650, "case 0.05 v", "case_clean", true, 0.2, 1},
		{rated650, "case 0.3 v", "case_dirty", true, 0.2, -1},
		{rated650, "case 4.5 v", "case_filthy", true, 0.2, -1},

		{rated180, "dcdc 12.4v to 13.9v 5s", "dcdc_ok", true, 13, 1},
		{rated180, "dcdc 12.4v to 12.6v", "dcdc_low", true, 13, -1},
		{rated180, "dcdc 12.4v to 15.2v", "dcdc_high", true, 14.8, -1},
		{rated180, "dcdc 12.4v to 13.9v 2min", "dcdc_slow", true, 13, 1},
		{rated180, "dcdc 12.4v", "dcdc_rest_only", false, 0, 0},

		{rated650, "reserve 25a 14min 12.65v to 10.5v", "reserve_fail", true, 66, -1},
		{rated650, "reserve 25a 75min 12.65v to 10.5v", "reserve_weak", true, 66, 1},
		{rated650, "reserve 25a 100min to 10.5v", "reserve_good", true, 66, 1},
		{rated650, "reserve 25a 14min 12.2v to 10.5v", "reserve_not_full", false, 66, -1},
		{rated650, "reserve 25a 30min 12.65v to 11.9v", "reserve_pass", true, 66, -1},
		{rated650, "reserve 25a 10min 12.65v to 12.2v", "reserve_part", true, 66, -1},
		{`"chemistry":"flooded","nominal_v":12`, "reserve 25a 10min to 10.5v", "reserve_unknown", false, 0, 0},

		{rated650, "-12.1 v", "reversed", true, 0, 0},
		{rated650, "0.3 v rested 2h", "charge_nothing", false, 0, 0},
		{rated24, "halves 12.65v 12.62v rested 5h", "halves_even", true, 0.2, 1},
		{rated24, "halves 12.7v 12.1v rested 5h", "halves_apart", true, 0.2, -1},
		{rated24, "halves 12.7v 10.6v rested 5h after charge", "halves_dead", true, 0.2, -1},
		{rated650 + petrolCar, "running 13.0 v 40a idle", "charging_takes", false, 13.5, -1},
		{rated650 + petrolCar, "running 12.3 v -14a raised", "charging_out", true, 13.5, -1},
		{rated180 + motorcycle, "running 12.8 v idle", "charging_stator", false, 13.5, -1},
		{rated180 + motorcycle, "running 12.8 v raised", "charging_low", true, 13.5, -1},
		{rated180 + motorcycle, "drain 30 ma", "drain_high_plain", true, 0.011, -1},
		{rated180 + motorcycle, "drain 2 ma", "drain_ok", true, 0.011, 1},
		{rated180 + electric, "crank 9.1v 3s slow", "crank_none", false, 0, 0},
		{rated180 + hybrid, "crank 9.1v 3s slow", "crank_ask", false, 0, 0},
		{rated180 + mildHybrid, "crank 10.1v 3s", "crank_ok", true, 9.6, 1},
		{rated650 + oldCar, "crank 9.0v 3s", "crank_ok_old", true, 8.5, 1},
		{rated650 + petrolCar, "crank 9.1v 3s", "crank_low_uncharged", true, 9.6, -1},

		{rated650, "charge 14.2v 6a 60min cool no gas", "log", true, 0, 0},
		{rated650, "charge 14.2v 6a 60min hot", "log_hot", true, 52, 0},
		{rated180, "charge 14.4v 1a 60min gas", "log_gassing", true, 0, 0},
		{rated650, "charge 14.4v 6a 60min gas", "log", true, 0, 0},
		{rated650, "charge 12.2v 6a 8h", "log_low", true, 13, -1},
		{rated180, "charge 15.4v 1a 60min", "log_high", true, 0, -1},
		{rated650, "charge 15.8v 1a 60min", "log", true, 0, 0},
		{rated650, "charge 14.4v 1a 60min full", "log_full_unknown", true, 0, 0},
		{rated650, "jump started", "jump_started", true, 0, 0},
		{rated650, "jump no", "jump_no", true, 0, 0},
		{rated650, "lights left on 14h", "history_left_on", true, 0, 0},
		{rated650, "jumps 3 in 90d", "history_jumps_many", true, 0, 0},
		{rated650, "jumps 1 in 90d", "history_jumps", true, 0, 0},
		{rated650, "trips 1/week 3min", "history_trips_lose", true, 0, 0},
		{rated650, "trips 10/week 60min", "history_trips_hold", true, 0, 0},
		{rated650, "standing 40d", "history_standing_long", true, 0, 0},
		{rated650, "standing 4d", "history_standing", true, 0, 0},
		{rated650, "stood 8h -6c", "history_stood", true, 0, 0},
		{rated650, "age 2y", "history_age_young", true, 0, 0},
		{rated650, "age 7y", "history_age_old", true, 0, 0},
	} {
		f := examined(t, c.label, c.line).Findings[0]
		if f.Text.Code != "finding."+c.code || f.Valid != c.valid {
			t.Errorf("%s: %s, valid %v; want %s, %v", c.line, f.Text.Code, f.Valid, c.code, c.valid)
			continue
		}
		if strings.ContainsAny(f.Text.Text, "⟨⟩{}") || strings.Contains(f.Text.Text, "<nil>") {
			t.Errorf("%s reads %q", c.line, f.Text.Text)
		}
		if c.limit != 0 && (f.Limit == nil || math.Abs(f.Limit.Value-c.limit) > 1e-9) {
			t.Errorf("%s: limit %+v, want %v", c.line, f.Limit, c.limit)
		}
		if c.side != 0 && (f.Margin == nil || f.Margin.Sigma <= 0 || f.Margin.Value*float64(c.side) <= 0 || f.Margin.Sigmas*float64(c.side) <= 0) {
			t.Errorf("%s: margin %+v, want side %d", c.line, f.Margin, c.side)
		}
		if !c.valid && f.WayOut == nil {
			t.Errorf("%s does not say what would make it count", c.line)
		}
	}
}

// TestGravityCorrections checks the three kinds of hydrometer: bare, correcting
// itself, and with points to add. Battery Council International, value from memory.
func TestGravityCorrections(t *testing.T) {
	median := func(line string) float64 {
		return examined(t, rated650, line).Findings[0].Text.Values["sg"].(float64)
	}
	for line, want := range map[string]float64{
		"sg 1250 1250 1250 1250 1250 1250 4c":            1.250 - 0.00072*22.7,
		"sg 1250 1250 1250 1250 1250 1250 auto 4c":       1.250,
		"sg 1250 1250 1250 1250 1250 1250 points -14 4c": 1.236,
		"sg 1250 1250 1250 1250 1250 1250":               1.250,
	} {
		if got := median(line); math.Abs(got-want) > 1e-9 {
			t.Errorf("%s: %v, want %v", line, got, want)
		}
	}
	// The temperature of another reading of the epoch counts, and where it stood.
	for _, first := range []string{"12.5 v 4c", "stood 9h 4c"} {
		ev := examined(t, rated650, first, "sg 1250 1250 1250 1250 1250 1250")
		if got := ev.Findings[1].Text.Values["sg"].(float64); math.Abs(got-(1.250-0.00072*22.7)) > 1e-9 {
			t.Errorf("after %s: %v", first, got)
		}
	}
}

// TestChargeFromSeveral checks that volts and gravity make one estimate, and
// that both are named.
func TestChargeFromSeveral(t *testing.T) {
	ev := examined(t, rated650, "12.41 v 26c rested 2h", "sg 1225 1225 1225 1225 1225 1225 26c")
	state := ev.Last().Charge
	if state == nil || strings.Join(state.Basis, " ") != "open_circuit gravity" || state.Percent <= 70 || state.Percent >= 75 {
		t.Errorf("%+v", state)
	}
	only := examined(t, rated650, "sg 1225 1225 1225 1225 1225 1225 26c", "eye dark").Last().Charge
	if only == nil || strings.Join(only.Basis, " ") != "gravity" || only.EyeOnly {
		t.Errorf("gravity beside an eye: %+v", only)
	}
}

// TestProvenCharge checks that a full charge counts as one when as much went in
// as was missing, by the logs before it (common practice, no source).
func TestProvenCharge(t *testing.T) {
	for _, c := range []struct {
		logs     []string
		unproven bool
	}{
		{nil, false},
		{[]string{"charge 14.2v 6a 30min"}, true},
		{[]string{"charge 14.4v 6a 13h"}, false},
		{[]string{"charge 14.4v 8a 60min", "charge 14.4v 6a 12h"}, false},
		{[]string{"charge 14.4v 2a 60min 70ah"}, false},
		{[]string{"charge 14.4v 2a 60min 20ah"}, true},
	} {
		lines := append(append([]string{"11.9 v 25c rested 9h"}, c.logs...), "12.3 v 25c rested 3h after charge")
		if got := examined(t, rated650, lines...).Last().Unproven; got != c.unproven {
			t.Errorf("%v: unproven %v", c.logs, got)
		}
	}
}

// TestLogsOpenAnEpoch checks that a rested charge state behind the logs of a
// charge opens an epoch of its own, even where nobody says so: a test that failed
// before them is not judged by it. It counts as a full charge when as much went
// in as was missing.
func TestLogsOpenAnEpoch(t *testing.T) {
	before := []string{"12.0 v 21c rested 5h", "load 325a 15s 8.5v"}
	with := func(lines ...string) Evidence {
		return examined(t, rated650, append(append([]string{}, before...), lines...)...)
	}
	ev := with("charge 14.4v 6a 4h", "12.62 v 21c rested 3h")
	if len(ev.Epochs) != 2 || ev.Findings[1].Valid || ev.Last().AfterCharge || !ev.Last().Charged() {
		t.Errorf("%+v, %+v", ev.Epochs, ev.Findings[1])
	}
	if full := with("charge 14.4v 6a 13h full", "12.3 v 21c rested 3h"); !full.Last().AfterCharge || !full.Last().Charged() {
		t.Errorf("a proven charge: %+v", full.Last())
	}
	if part := with("charge 14.4v 6a 2h", "12.3 v 21c rested 3h"); part.Last().AfterCharge || part.Last().Charged() {
		t.Errorf("a charge of two hours: %+v", part.Last())
	}
	if still := with("charge 14.4v 6a 2h", "12.9 v since charge"); len(still.Epochs) != 1 {
		t.Errorf("volts that are not rested opened an epoch: %+v", still.Epochs)
	}
}

// TestRunaway checks a rising current at the same volts, in one charge only.
func TestRunaway(t *testing.T) {
	for _, c := range []struct {
		label, first, second string
		runaway              bool
	}{
		{rated180, "charge 14.4v 2a 60min", "charge 14.4v 3a 90min", true},
		{rated180, "charge 14.0v 2a 60min", "charge 14.4v 3a 90min", false},
		{rated180, "charge 14.4v 2a 60min", "charge 14.4v 1a 90min", false},
		{rated180, "charge 14.4v 1a 8h", "charge 14.4v 3a 10min", false},
		{rated650, "charge 14.4v 2a 60min", "charge 14.4v 3a 90min", false},
	} {
		f := examined(t, c.label, c.first, c.second).Findings[1]
		if got := f.Text.Code == "finding.log_runaway"; got != c.runaway {
			t.Errorf("%s, %s: %s", c.first, c.second, f.Text.Code)
		}
	}
}

// TestFullLamp checks a charger's word against what was missing.
func TestFullLamp(t *testing.T) {
	for log, code := range map[string]string{
		"charge 14.4v 1a 60min 10ah full": "log_full_early", "charge 14.4v 1a 60min 45ah full": "log_full_short",
		"charge 14.4v 1a 60min 68ah full": "log_full", "charge 14.4v 4a 60min 30ah": "log_progress", "charge 14.4v 4a 60min 150ah": "log_too_much",
	} {
		if got := examined(t, rated650, "11.9 v 25c rested 9h", log).Findings[1].Text.Code; got != "finding."+code {
			t.Errorf("%s: %s, want %s", log, got, code)
		}
	}
}

// TestOwnLimits checks that a shop's own figure moves the limit and says where
// it is from, the load's over every temperature.
func TestOwnLimits(t *testing.T) {
	own := rated650 + `},"limits":{"load_least":{"value":9.8,"note":"maker's sheet"},"joint_most":{"value":0.5,"note":"bench"}`
	ev := examined(t, own, "12.65 v 21c rested 2h", "load 325a 15s 9.7v", "load 325a 15s 8.8v -7c", "drop negative_clamp 0.45v 150a")
	for i, want := range map[int]float64{1: 9.8, 2: 9.1, 3: 0.5} {
		f := ev.Findings[i]
		if f.Limit == nil || math.Abs(f.Limit.Value-want) > 1e-9 || f.Limit.Note == "" {
			t.Errorf("reading %d: %+v", i, f.Limit)
		}
	}
	if ev.Findings[1].Outcome != Fail || ev.Findings[3].Text.Code != "finding.drop_ok_ohms" {
		t.Error("the shop's own figure was not used")
	}
}

// TestStoodLong checks that where it stood gives the temperature only after it
// stood long enough to tell.
func TestStoodLong(t *testing.T) {
	for line, want := range map[string]bool{"stood 8h -6c": true, "stood -6c": true, "stood 1h -6c": false} {
		ev := examined(t, rated650, line, "12.65 v rested 9h", "load 325a 15s 9.0v")
		if got := ev.Findings[2].Limit.AtC != nil; got != want {
			t.Errorf("%s: temperature known %v", line, got)
		}
	}
	assumed := examined(t, rated650, "stood 8h -6c", "load 325a 15s 9.0v").Assumed(1)
	if len(assumed) != 1 || assumed[0].Code != "assumed.stood" {
		t.Errorf("%+v", assumed)
	}
}

// TestOfVehicle checks which kinds hold for every battery of a vehicle.
func TestOfVehicle(t *testing.T) {
	for line, want := range map[string]bool{"running 14.3 v": true, "drain 30 ma": true, "age 5y": false, "trips 6/week 9min": true, "12.4 v": false, "load 325a 15s 9.4v": false} {
		parsed, err := reading.Parse(line)
		if err != nil {
			t.Fatal(err)
		}
		if got := parsed.Reading.OfVehicle(); got != want {
			t.Errorf("%s: %v", line, got)
		}
	}
}
