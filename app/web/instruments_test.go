package web_test

import (
	"context"
	"fmt"
	"io"
	"net/http"
	"strings"
	"testing"
	"time"

	"grapnel/app/instrument"
	"grapnel/app/record"
	"grapnel/app/web"
	"grapnel/core/battery"
)

// TestInstrumentsOverHTTP finds the simulated meter, keeps it, reads it until it holds
// still, and refuses to knock outside the workshop.
func TestInstrumentsOverHTTP(t *testing.T) {
	v := demoVisitor(t)
	bench, err := instrument.NewBench(battery.Label{Chemistry: battery.Flooded, NominalV: 12}, 80, 18, 2)
	if err != nil {
		t.Fatal(err)
	}
	ctx, stop := context.WithCancel(t.Context())
	defer stop()
	at := map[string]string{}
	for _, one := range instrument.SimulatedInstruments() {
		listener, err := instrument.ListenSimulated("127.0.0.1:0")
		if err != nil {
			t.Fatal(err)
		}
		at[one.Name] = instrument.SimulatedAt(listener.Addr())
		go bench.Serve(ctx, listener, one)
	}
	var found web.Probed
	if r := v.call("POST", "/api/instruments/probe", map[string]string{"address": at["Bench multimeter"]}, &found); r.StatusCode != http.StatusOK || found.Protocol != "scpi" || found.Says == "" {
		t.Errorf("%s %+v", r.Status, found)
	}
	for _, address := range []string{"203.0.113.9:53", "simulator:1", "127.0.0.1:1", "nowhere"} {
		var p web.Problem
		if r := v.call("POST", "/api/instruments/probe", map[string]string{"address": address}, &p); r.StatusCode != http.StatusUnprocessableEntity || len(p.Errors) == 0 || p.Errors[0].Field != "address" {
			t.Errorf("%s: %s %+v", address, r.Status, p)
		}
	}
	// What is no instrument is not quoted, and nobody feels through a network with it.
	banner, err := instrument.ListenSimulated("127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer banner.Close()
	go func() {
		for {
			conn, err := banner.Accept()
			if err != nil {
				return
			}
			_, _ = io.WriteString(conn, "SSH-2.0-within,a,b,c\r\n") // the test sees what is said of it
			conn.Close()
		}
	}()
	var p web.Problem
	if r := v.call("POST", "/api/instruments/probe", map[string]string{"address": instrument.SimulatedAt(banner.Addr())}, &p); r.StatusCode != http.StatusUnprocessableEntity || strings.Contains(fmt.Sprint(p), "within") {
		t.Errorf("%s %+v", r.Status, p)
	}
	for range 5 {
		v.call("POST", "/api/instruments/probe", map[string]string{"address": "127.0.0.1:1"}, &p)
	}
	if p.Status != http.StatusTooManyRequests || p.Detail == "" {
		t.Errorf("asked on and on: %+v", p)
	}
	var list []record.Instrument
	for name, kind := range map[string]string{"Bench multimeter": "good_meter", "Hydrometer": "hydrometer", "Drain clamp": "clamp"} {
		protocol := "lines"
		if kind == "good_meter" {
			protocol = "scpi"
		}
		body := map[string]string{"name": strings.ToLower(strings.Fields(name)[0]), "kind": kind, "protocol": protocol, "address": at[name]}
		if r := v.call("PUT", "/api/instruments/"+record.NewID().String(), body, &list); r.StatusCode != http.StatusOK {
			t.Errorf("%s: %s", name, r.Status)
		}
	}
	want := map[string]string{"bench": " V by bench", "hydrometer": " by hydrometer", "drain": "A by drain"}
	deadline := time.Now().Add(15 * time.Second)
	for len(want) > 0 && time.Now().Before(deadline) {
		var now []web.InstrumentNow
		v.call("GET", "/api/instruments/now", nil, &now)
		for _, one := range now {
			if end, waiting := want[one.Name]; waiting && strings.HasSuffix(one.Line, strings.TrimSpace(end)) && one.Shown != "" {
				delete(want, one.Name)
			}
		}
		time.Sleep(100 * time.Millisecond)
	}
	if len(want) > 0 {
		t.Errorf("not steady: %v", want)
	}
	if r := v.call("DELETE", "/api/instruments/"+list[0].ID.String(), nil, &list); r.StatusCode != http.StatusOK || len(list) != 3 {
		t.Errorf("%s %+v", r.Status, list)
	}
}

// TestWhatMakesItInstallable checks that a browser gets the worker, the manifest and
// its pictures as what they are.
func TestWhatMakesItInstallable(t *testing.T) {
	v := demoVisitor(t)
	for path, kind := range map[string]string{"/worker.js": "text/javascript", "/manifest.webmanifest": "application/manifest+json", "/grapnel-192.png": "image/png", "/grapnel-512.png": "image/png"} {
		response, err := v.client.Get(v.base + path)
		if err != nil {
			t.Fatal(err)
		}
		body, err := io.ReadAll(response.Body)
		response.Body.Close()
		if err != nil || response.StatusCode != http.StatusOK || !strings.HasPrefix(response.Header.Get("Content-Type"), kind) || len(body) == 0 {
			t.Errorf("%s: %s %s, %d bytes, %v", path, response.Status, response.Header.Get("Content-Type"), len(body), err)
		}
		if path == "/worker.js" && response.Header.Get("Cache-Control") != "no-cache" {
			t.Errorf("the worker is kept: %q", response.Header.Get("Cache-Control"))
		}
	}
}
