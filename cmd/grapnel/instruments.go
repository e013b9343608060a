package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"net"
	"slices"
	"strconv"
	"strings"
	"sync"

	"grapnel/app/instrument"
	"grapnel/core/battery"
	"grapnel/core/quantity"
)

// instruments lets simulated instruments measure a virtual battery, each at a port
// of its own, until it is told to stop.
func instruments(ctx context.Context, args []string, _ io.Reader, out, errs io.Writer) error {
	host, port, percent, celsius, rating, seed := "127.0.0.1", 5025, 60.0, 15.0, 650.0, uint64(1)
	charger, fault, amps, speed := false, "", 6.0, 1.0
	if err := flags("instruments", args, errs, func(set *flag.FlagSet) {
		set.StringVar(&host, "host", host, "address to listen on")
		set.IntVar(&port, "port", port, "port of the first instrument; the others follow (0: any)")
		set.Float64Var(&percent, "charge", percent, "charge of the battery, percent")
		set.Float64Var(&celsius, "celsius", celsius, "temperature of the battery")
		set.Float64Var(&rating, "rating", rating, "rating on its label, A SAE")
		set.BoolVar(&charger, "charger", charger, "a charger with the battery on it instead: what is read off it, a reading line each second")
		set.StringVar(&fault, "fault", fault, "what is wrong with that charge: "+strings.Join(instrument.Faults(), ", "))
		set.Float64Var(&amps, "amps", amps, "current of that charger")
		set.Float64Var(&speed, "speed", speed, "how many times as fast as the clock its time runs")
		set.Uint64Var(&seed, "seed", seed, "makes the instruments' errors")
	}); err != nil {
		return err
	}
	for _, c := range []struct {
		name           string
		x, least, most float64
	}{{"charge", percent, 0, 100}, {"celsius", celsius, -30, 50}, {"rating", rating, 50, 2000}, {"port", float64(port), 0, 65500}, {"amps", amps, 0.1, 100}, {"speed", speed, 0.1, 10000}} {
		if !(c.x >= c.least && c.x <= c.most) {
			fmt.Fprintf(errs, "%s: given %g, allowed %g to %g\n", c.name, c.x, c.least, c.most)
			return errBadInput
		}
	}
	if fault != "" && !slices.Contains(instrument.Faults(), fault) {
		fmt.Fprintf(errs, "fault: given %s, allowed %s\n", fault, strings.Join(instrument.Faults(), ", "))
		return errBadInput
	}
	label := battery.Label{
		Chemistry: battery.Flooded,
		NominalV:  12,
		Rating:    &battery.Rating{Value: quantity.Amperes(rating), Standard: battery.SAE},
	}
	if charger {
		return serveCharger(ctx, net.JoinHostPort(host, strconv.Itoa(port)), out, func() (*instrument.Charging, error) {
			volts, _ := label.Charging(chargerCelsius)
			return instrument.NewCharging(
				label, percent, quantity.Celsius(celsius), quantity.Amperes(amps), volts.AbsorbHigh, instrument.Fault(fault), seed,
			)
		}, speed)
	}
	bench, err := instrument.NewBench(label, percent, quantity.Celsius(celsius), seed)
	if err != nil {
		return err
	}
	return serveBench(ctx, bench, host, port, out)
}

// chargerCelsius is the temperature that the virtual charger's volts are set for.
const chargerCelsius = 25

// serveCharger lets a virtual charger be read at one port.
func serveCharger(ctx context.Context, at string, out io.Writer, made func() (*instrument.Charging, error), speed float64) error {
	charging, err := made()
	if err != nil {
		return err
	}
	listener, err := instrument.ListenSimulated(at)
	if err != nil {
		return fmt.Errorf("charger: %w (choose another with -port)", err)
	}
	fmt.Fprintf(out, "%-20s %s %s\nStop it with Ctrl-C\n", "Charger", instrument.Lines, instrument.SimulatedAt(listener.Addr()))
	return charging.Serve(ctx, listener, speed)
}

// serveBench opens one port for each instrument and says which.
func serveBench(ctx context.Context, bench *instrument.Bench, host string, port int, out io.Writer) error {
	ctx, stop := context.WithCancel(ctx)
	defer stop()
	var open sync.WaitGroup
	defer open.Wait()
	failed := make(chan error, len(instrument.SimulatedInstruments()))
	for i, one := range instrument.SimulatedInstruments() {
		at := port
		if port > 0 {
			at += i
		}
		listener, err := instrument.ListenSimulated(net.JoinHostPort(host, strconv.Itoa(at)))
		if err != nil {
			stop()
			return fmt.Errorf("%s: %w (choose another with -port)", one.Name, err)
		}
		fmt.Fprintf(out, "%-20s %s %s\n", one.Name, one.Protocol, instrument.SimulatedAt(listener.Addr()))
		open.Go(func() { failed <- bench.Serve(ctx, listener, one) })
	}
	fmt.Fprintln(out, "Stop it with Ctrl-C")
	var err error
	select {
	case <-ctx.Done():
	case err = <-failed:
	}
	stop()
	open.Wait()
	return errors.Join(err)
}
