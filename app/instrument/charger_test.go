package instrument

import (
	"bufio"
	"context"
	"net"
	"strings"
	"testing"
	"time"

	"grapnel/core/battery"
	"grapnel/core/charging"
	"grapnel/core/evidence"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/twin"
)

// sixty is the label of the virtual battery; the one that runs away is valve-regulated.
func sixty(chemistry battery.Chemistry) battery.Label {
	ah := quantity.AmpereHours(60)
	return battery.Label{Chemistry: chemistry, NominalV: 12, CapacityAh: &ah}
}

// TestEveryFaultIsNamed lets each fault of the virtual charger run for as long as it takes,
// read every half hour as a person does, and has the core name it among the three likeliest;
// a charge without a fault is left alone.
func TestEveryFaultIsNamed(t *testing.T) {
	planner := charging.Planner{Designs: new(twin.Designs)}
	for _, fault := range append(Faults(), "") {
		label := sixty(battery.Flooded)
		volts := quantity.Volts(14.6)
		if fault == "runaway" {
			label, volts = sixty(battery.AGM), 14.55
		}
		bench, err := NewCharging(label, 50, 20, 6, volts, Fault(fault), 1)
		if err != nil {
			t.Fatal(err)
		}
		at := quantity.Celsius(20)
		ask := charging.Ask{
			Label: label, Charge: &battery.Charge{Percent: 50, Low: 45, High: 55}, BatteryC: &at, Until: charging.Full, Attended: true,
			Case: evidence.Case{Label: label}, Charger: &charging.Charger{Kind: charging.MultiStageKind, Amps: []quantity.Amperes{6}}, Where: charging.OnBench,
		}
		named := map[string]bool{}
		for range 28 {
			bench.Run(30)
			line := bench.Reads()
			r, err := reading.Parse(line)
			if err != nil {
				t.Fatalf("%s: %v", line, err)
			}
			ask.Log = append(ask.Log, r.Reading)
			plan := planner.Plan(ask)
			for i, a := range plan.Anomalies {
				if i < 3 {
					named[a.Code] = true
				}
			}
			if named[fault] || strings.Contains(line, "full") {
				break
			}
		}
		if fault == "" && len(named) > 0 || fault != "" && !named[fault] {
			t.Errorf("%q: named %v", fault, named)
		}
	}
}

// TestChargingIsServed listens to a virtual charger whose time runs fast, and hears its
// minutes pass.
func TestChargingIsServed(t *testing.T) {
	bench, err := NewCharging(sixty(battery.Flooded), 50, 20, 6, 14.6, "", 1)
	if err != nil {
		t.Fatal(err)
	}
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	ctx, stop := context.WithCancel(t.Context())
	ended := make(chan error, 1)
	go func() { ended <- bench.Serve(ctx, listener, 600) }()
	conn, err := net.DialTimeout("tcp", listener.Addr().String(), time.Second)
	if err != nil {
		t.Fatal(err)
	}
	in := bufio.NewScanner(conn)
	minutes := -1.0
	for range 3 {
		if !in.Scan() {
			t.Fatal("it fell silent")
		}
		r, err := reading.Parse(in.Text())
		if err != nil {
			t.Fatal(err)
		}
		minutes, _ = r.Reading.Number(reading.Minutes)
	}
	if minutes < 5 {
		t.Errorf("after three lines it is at %v min", minutes)
	}
	stop()
	if err := <-ended; err != nil {
		t.Error(err)
	}
	if _, err := NewCharging(sixty(battery.Flooded), 50, 20, 6, 14.6, "smoke", 1); err == nil {
		t.Error("a fault that there is not is taken")
	}
}
