package recorder_test

import (
	"context"
	"log/slog"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"grapnel/app/demo"
	"grapnel/app/instrument"
	"grapnel/app/localdb/dbtest"
	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/recorder"
	"grapnel/app/shop"
	"grapnel/app/store"
	"grapnel/core/battery"
	"grapnel/core/quantity"
)

func TestMain(m *testing.M) { dbtest.Main(m) }

// bay is the demo workshop with a virtual charger whose log it reads, and a clock that can be
// put on.
type bay struct {
	*shop.Service
	t       *testing.T
	who     people.Person
	ahead   atomic.Int64
	address string
	silence func()
}

func (b *bay) now() time.Time { return time.Now().Add(time.Duration(b.ahead.Load())) }

// serve has a virtual charger with a fault be read at a port of its own.
func (b *bay) serve(fault instrument.Fault) {
	b.t.Helper()
	ah := quantity.AmpereHours(60)
	// Volts that are too many come late in a charge.
	percent, speed := 40.0, 1.0
	if fault == "over_volts" {
		percent, speed = 97, 3000
	}
	charging, err := instrument.NewCharging(battery.Label{Chemistry: battery.Flooded, NominalV: 12, CapacityAh: &ah}, percent, 18, 6, 14.6, fault, 1)
	if err != nil {
		b.t.Fatal(err)
	}
	listener, err := instrument.ListenSimulated("127.0.0.1:0")
	if err != nil {
		b.t.Fatal(err)
	}
	ctx, end := context.WithCancel(context.Background())
	var open sync.WaitGroup
	open.Go(func() { _ = charging.Serve(ctx, listener, speed) })
	b.address, b.silence = instrument.SimulatedAt(listener.Addr()), func() { end(); open.Wait() }
	b.t.Cleanup(b.silence)
}

// follow begins a charge of a fresh battery that a logger follows, and reads it until the
// test ends.
func follow(t *testing.T, fault instrument.Fault) (b *bay, charge record.ID, run func() (stop func())) {
	b = &bay{t: t}
	db := dbtest.Filled(t, demo.Fill)
	b.Service = shop.NewService(store.New(db), b.now)
	shops, err := b.Shops(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	staff, err := b.People(t.Context(), people.Person{ShopID: shops[0].ID})
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range staff {
		if p.Role == people.Owner {
			b.who = p
		}
	}
	b.serve(fault)
	logger := record.Instrument{ID: record.NewID(), Name: "logger-1", Kind: shop.Logger, Protocol: shop.LoggerProtocol, Address: b.address}
	must(t, b.KeepInstrument(t.Context(), b.who, logger))
	charger := record.Charger{ID: record.NewID(), Name: "Logged", Kind: "multi_stage", Amps: []float64{6}, Settings: []string{"flooded"}, Channels: 1}
	must(t, b.KeepCharger(t.Context(), b.who, charger))
	ah := quantity.AmpereHours(60)
	charge = record.NewID()
	must(t, b.AskCharge(t.Context(), b.who, shop.AskCharge{
		ID: charge, BatteryID: record.NewID(), Until: "full", Weight: 1,
		Battery: &record.Battery{Tag: "LOG-1", Label: battery.Label{Chemistry: battery.Flooded, NominalV: 12, CapacityAh: &ah}},
	}))
	must(t, b.KeepCheck(t.Context(), b.who, charge, record.Keep{ID: record.NewID(), Line: "12.2 v 18c rested 9h", TakenAt: b.now()}))
	must(t, b.Connect(t.Context(), b.who, charge, record.OnCharger{Output: record.Output{ChargerID: charger.ID, Channel: 1}, At: b.now()}))
	must(t, b.FollowCharge(t.Context(), b.who, charge, logger.ID))
	return b, charge, func() func() {
		r := recorder.New(b.Service, instrument.Network{}, b.now, slog.New(slog.DiscardHandler))
		r.Every(100 * time.Millisecond)
		ctx, end := context.WithCancel(context.Background())
		var running sync.WaitGroup
		running.Go(func() { r.Run(ctx) })
		stop := func() { end(); running.Wait() }
		t.Cleanup(stop)
		return stop
	}
}

func must(t *testing.T, err error) {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
}

// wait waits for something to be so.
func (b *bay) wait(what string, is func() bool) {
	b.t.Helper()
	for deadline := time.Now().Add(15 * time.Second); !is(); time.Sleep(50 * time.Millisecond) {
		if time.Now().After(deadline) {
			b.t.Fatalf("waited in vain for %s", what)
		}
	}
}

// until waits for what a logger has seen to be as is asked.
func (b *bay) until(charge record.ID, what string, is func(*shop.Logged) bool) (seen *shop.Logged) {
	b.t.Helper()
	b.wait(what, func() bool {
		var err error
		seen, err = b.Logged(b.t.Context(), b.who, charge)
		must(b.t, err)
		return seen != nil && is(seen)
	})
	return seen
}

// checks are the checks that stand in the log of a charge.
func (b *bay) checks(charge record.ID) int {
	b.t.Helper()
	page, err := b.Charge(b.t.Context(), b.who, charge)
	must(b.t, err)
	return len(page.Plan.Log)
}

// TestLoggerFollows reads a charge by itself: what it sees is kept, each half hour is a check
// with the ampere-hours that went in, a logger that goes silent is said, and two servers keep
// no check twice. It ends with the charge.
func TestLoggerFollows(t *testing.T) {
	b, charge, run := follow(t, "")
	run()
	run()
	b.until(charge, "three samples", func(l *shop.Logged) bool { return l.Trace.Samples >= 3 && l.Followed && l.Instrument == "logger-1" })
	if n := b.checks(charge); n != 0 {
		t.Errorf("%d checks before half an hour", n)
	}
	b.ahead.Add(int64(31 * time.Minute))
	b.until(charge, "a run behind the gap", func(l *shop.Logged) bool { return len(l.Trace.Runs) == 2 })
	b.wait("a check", func() bool { return b.checks(charge) > 0 })
	seen := b.until(charge, "more samples", func(l *shop.Logged) bool { return len(l.Trace.Runs[1]) >= 2 })
	if n := b.checks(charge); n != 1 {
		t.Errorf("%d checks of one half hour by two servers", n)
	}
	if ah := seen.Trace.AmpereHours; ah <= 0 || ah > 0.2 {
		t.Errorf("%g Ah in a few seconds at 6 A", ah)
	}
	b.silence()
	b.until(charge, "silence said", func(l *shop.Logged) bool { return l.Trouble == instrument.Silent })
	must(t, b.TakeOff(t.Context(), b.who, charge, b.now()))
	if l := b.until(charge, "its end", func(l *shop.Logged) bool { return !l.Followed }); l.Trace.Samples < seen.Trace.Samples {
		t.Errorf("%d samples are left of %d", l.Trace.Samples, seen.Trace.Samples)
	}
}

// TestLoggerStops keeps a check at once when what is read is a reason to stop, long before
// the half hour, and once.
func TestLoggerStops(t *testing.T) {
	b, charge, run := follow(t, "over_volts")
	b.ahead.Add(int64(2 * time.Minute))
	run()
	b.wait("a check", func() bool { return b.checks(charge) > 0 })
	page, err := b.Charge(t.Context(), b.who, charge)
	must(t, err)
	if !page.Item.Stop || len(page.Plan.Log) != 1 {
		t.Errorf("stop %v after %d checks: %+v", page.Item.Stop, len(page.Plan.Log), page.Item.Anomalies)
	}
}

// TestLoggerTheWrongWayRound says of a logger whose clamps are reversed that its figures are
// none, and keeps no check of them.
func TestLoggerTheWrongWayRound(t *testing.T) {
	b, charge, run := follow(t, "")
	listener, err := instrument.ListenSimulated("127.0.0.1:0")
	must(t, err)
	t.Cleanup(func() { listener.Close() })
	go func() {
		conn, err := listener.Accept()
		for err == nil {
			_, err = conn.Write([]byte("-12.4 V; -3 A\n"))
			time.Sleep(50 * time.Millisecond)
		}
	}()
	list, err := b.Instruments(t.Context(), b.who)
	must(t, err)
	one := list[slices.IndexFunc(list, func(one record.Instrument) bool { return one.Name == "logger-1" })]
	one.Address = instrument.SimulatedAt(listener.Addr())
	must(t, b.KeepInstrument(t.Context(), b.who, one))
	b.ahead.Add(int64(31 * time.Minute))
	run()
	b.until(charge, "its trouble", func(l *shop.Logged) bool { return l.Trouble == instrument.Overload && l.Why != "" })
	if n := b.checks(charge); n != 0 {
		t.Errorf("%d checks of figures the wrong way round", n)
	}
}

// TestLoggerSurvivesRestart goes on with the same record when the server is started anew,
// without waiting for a hold to end.
func TestLoggerSurvivesRestart(t *testing.T) {
	b, charge, run := follow(t, "")
	stop := run()
	first := b.until(charge, "samples", func(l *shop.Logged) bool { return l.Trace.Samples >= 2 })
	stop()
	run()
	again := b.until(charge, "more samples", func(l *shop.Logged) bool { return l.Trace.Samples > first.Trace.Samples+1 })
	if len(again.Trace.Runs) != 1 {
		t.Errorf("%d runs: a restart is no gap", len(again.Trace.Runs))
	}
}

// TestWhatMayBeFollowed refuses a charge that is not on, an instrument that is no logger, and
// a logger that follows another.
func TestWhatMayBeFollowed(t *testing.T) {
	b, charge, _ := follow(t, "")
	list, err := b.Instruments(t.Context(), b.who)
	must(t, err)
	logger := list[slices.IndexFunc(list, func(one record.Instrument) bool { return one.Name == "logger-1" })]
	page, err := b.Shelf(t.Context(), b.who)
	must(t, err)
	for _, item := range page.Items {
		want := "another charge"
		err := b.FollowCharge(t.Context(), b.who, item.Charge.ID, logger.ID)
		switch {
		case item.Charge.ID == charge && err != nil:
			t.Errorf("followed again: %v", err)
		case item.Charge.ID == charge:
		case item.State != "on":
			want = "on a charger"
			fallthrough
		default:
			if err == nil || item.State != "on" && !strings.Contains(err.Error(), want) {
				t.Errorf("%s: %v, wanted %s", item.Tag, err, want)
			}
		}
	}
	// Two hands at once: the logger is free again, and two charges ask for it.
	must(t, b.UnfollowCharge(t.Context(), b.who, charge))
	var asking sync.WaitGroup
	var got atomic.Int32
	for _, item := range page.Items {
		if item.State != "on" {
			continue
		}
		asking.Go(func() {
			if b.FollowCharge(t.Context(), b.who, item.Charge.ID, logger.ID) == nil {
				got.Add(1)
			}
		})
	}
	asking.Wait()
	if got.Load() != 1 {
		t.Errorf("%d charges are followed by one logger", got.Load())
	}
	if err := b.FollowCharge(t.Context(), b.who, charge, record.NewID()); err == nil || !strings.Contains(err.Error(), "a logger of this shop") {
		t.Errorf("an unknown instrument: %v", err)
	}
	wrong := record.Instrument{ID: record.NewID(), Name: "meter-9", Kind: "meter", Protocol: shop.LoggerProtocol, Address: "simulator:1"}
	if err := b.KeepInstrument(t.Context(), b.who, wrong); err == nil {
		t.Error("a meter that speaks as a logger was taken")
	}
}
