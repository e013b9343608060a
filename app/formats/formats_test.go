package formats_test

import (
	"bytes"
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/santhosh-tekuri/jsonschema/v6"

	"grapnel/app/formats"
	"grapnel/core/charging"
	"grapnel/core/fitting"
	"grapnel/core/jump"
	"grapnel/core/procedure"
	"grapnel/core/shelf"
	"grapnel/core/standing"
	"grapnel/core/twin"
)

// asked are questions whose answers differ in what is there and what is null.
var asked = map[string][]string{
	"charge": {
		`{"battery": {"chemistry": "flooded", "nominal_v": 12, "capacity_ah": 65, "reserve_min": 110}, "charge": {"percent": 50}}`,
		`{"battery": {"chemistry": "agm", "nominal_v": 12, "sealed": true}, "charge": {"percent": 1}, "chargers": [{"id": "a", "kind": "taper", "amps": [2, 6]}]}`,
		`{"battery": {"chemistry": "lifepo4", "nominal_v": 12}, "readings": []}`,
		`{"battery": {"chemistry": "flooded", "nominal_v": 12, "capacity_ah": 65}, "charge": {"percent": 40}, "charger": {"kind": "multi_stage", "amps": 6}, "log": ["charge 10.9v 6a 60min", "charge 11.0v 6a 90min hot"]}`,
		`{"battery": {"chemistry": "flooded", "nominal_v": 12, "capacity_ah": 65}, "charge": {"percent": 40}, "charger": {"kind": "multi_stage", "amps": 6}, "log": ["charge 13.2v 6.1a 30min cool"]}`,
		`{"battery": {"chemistry": "gel", "nominal_v": 12, "capacity_ah": 40}, "readings": ["3 v"], "charger": {"kind": "supply", "amps": 4, "wake_v": 6}}`,
	},
	"jump": {
		`{"dead": {"battery": {"chemistry": "flooded", "nominal_v": 12, "capacity_ah": 60}, "charge": {"percent": 15, "low": 8, "high": 22}, "battery_c": 0}, "joints_mohm": 35, "with": {"kind": "vehicle", "running": true}}`,
		`{"dead": {"battery": {"chemistry": "lifepo4", "nominal_v": 12}}, "with": {"kind": "pack"}}`,
		`{"dead": {"battery": {"chemistry": "agm", "nominal_v": 12}, "charge": {"percent": 40}}, "with": {"kind": "charger", "amps": 200}, "school": "earth_first"}`,
	},
	"fit": {
		`{"need": {"original": {"battery": {"chemistry": "flooded", "nominal_v": 12}}}, "today": "2026-11-29"}`,
		`{"need": {"original": {"battery": {"chemistry": "efb", "nominal_v": 12, "rating": {"value": 640, "standard": "EN"}}, "case": "L3"}, "layout": "positive_right", "vent_side": "left", "vehicle": {"kind": "car", "start_stop": true}},
			"stock": [{"id": "a", "battery": {"chemistry": "agm", "nominal_v": 12, "rating": {"value": 760, "standard": "SAE"}}, "group": "34", "layout": "positive_right", "vent_side": "right", "made": "2026-01"},
			{"id": "b", "battery": {"chemistry": "lifepo4", "nominal_v": 12}}], "today": "2026-11-29"}`,
	},
	"standing": {
		`{"battery": {"chemistry": "flooded", "nominal_v": 12}, "from": "2026-11-21"}`,
		`{"battery": {"chemistry": "agm", "nominal_v": 12, "capacity_ah": 45}, "charge": {"percent": 20, "low": 10, "high": 30}, "vehicle": {"kind": "electric"}, "from": "2026-11-21", "climate": "polar", "mains": false}`,
		`{"battery": {"chemistry": "lifepo4", "nominal_v": 12}, "care": ["none", "wake"], "from": "2026-11-21"}`,
		`{"battery": {"chemistry": "flooded", "nominal_v": 6, "capacity_ah": 70}, "vehicle": {"kind": "classic", "engine": "petrol"}, "from": "2026-11-21", "days": 30, "sun_kwh_m2": [0,1,2,3,4,5,5,4,3,2,1,0], "socket": {"live": true}}`,
	},
	"procedure-list": {`{}`},
	"procedure-show": {
		`{"name": "jump"}`,
		`{"name": "replace", "setting": {"vehicle": "two_24v", "by": "none"}}`,
	},
	"procedure-check": {
		`{"scene": {"sources": [{"id": "b", "plus": "p", "minus": "m", "nominal_v": 12}], "places": [], "leads": []}, "steps": []}`,
		`{"scene": {"sources": [{"id": "b", "plus": "p", "minus": "m", "nominal_v": 12}], "leads": [{"id": "l", "ends": ["x", "y"]}]}, "steps": [{"op": "clamp", "end": "x", "place": "p"}, {"op": "clamp", "end": "y", "place": "m"}]}`,
	},
	"shelf": {
		`{"now": "2026-11-24T08:00:00Z"}`,
		`{"now": "2026-11-24T08:00:00+01:00", "zone": "Europe/Berlin", "places": [{"id": "p", "watts": 400, "air_m3h": 2}],
			"channels": [{"id": "a", "place": "p", "charger": {"kind": "multi_stage", "amps": [2, 6]}}, {"id": "b", "charger": {"kind": "maintainer", "amps": 0.05}}],
			"batteries": [{"id": "1", "battery": {"chemistry": "flooded", "nominal_v": 12, "capacity_ah": 55}, "charge": {"percent": 30}, "ready_by": "2026-11-24T09:00:00+01:00"},
			{"id": "2", "battery": {"chemistry": "lifepo4", "nominal_v": 12}}], "hands": [{"from": "2026-11-24T08:00:00+01:00", "to": "2026-11-24T18:00:00+01:00"}]}`,
		`{"now": "2026-11-24T08:00:00Z", "channels": [{"id": "b", "charger": {"kind": "maintainer", "amps": 0.05}, "since": {"battery": "1", "at": "2026-11-24T07:00:00Z"}}],
			"batteries": [{"id": "1", "battery": {"chemistry": "agm", "nominal_v": 12, "capacity_ah": 55}}], "hands": [{"from": "2026-11-23T08:00:00Z", "to": "2026-11-23T18:00:00Z"}]}`,
	},
}

func answer(t *testing.T, name, question string) any {
	t.Helper()
	switch name {
	case "shelf":
		a, err := shelf.Decode(strings.NewReader(question), time.LoadLocation)
		if err != nil {
			t.Fatal(err)
		}
		return shelf.Planner{Charging: charging.Planner{Designs: new(twin.Designs)}}.Plan(a)
	case "procedure-list":
		return procedure.List()
	case "procedure-show":
		a, err := procedure.DecodeAsk(strings.NewReader(question))
		if err != nil {
			t.Fatal(err)
		}
		w, err := procedure.Show(a)
		if err != nil {
			t.Fatal(err)
		}
		return w
	case "procedure-check":
		o, err := procedure.Decode(strings.NewReader(question))
		if err != nil {
			t.Fatal(err)
		}
		return procedure.Check(o.Scene, o.Steps)
	case "fit":
		a, err := fitting.Decode(strings.NewReader(question))
		if err != nil {
			t.Fatal(err)
		}
		return fitting.Planner{Designs: new(twin.Designs)}.Plan(a)
	case "standing":
		a, err := standing.Decode(strings.NewReader(question))
		if err != nil {
			t.Fatal(err)
		}
		return standing.Planner{Designs: new(twin.Designs)}.Plan(a)
	case "jump":
		a, err := jump.Decode(strings.NewReader(question))
		if err != nil {
			t.Fatal(err)
		}
		return jump.Planner{Designs: new(twin.Designs)}.Plan(a)
	case "charge":
		a, err := charging.Decode(strings.NewReader(question))
		if err != nil {
			t.Fatal(err)
		}
		return charging.Planner{Designs: new(twin.Designs)}.Plan(a)
	}
	t.Fatalf("no command %s", name)
	return nil
}

// TestSchemas checks that the published schemas are those of the Go types, and that real
// answers fit them, by a library that knows nothing of ours.
func TestSchemas(t *testing.T) {
	for _, name := range formats.Names() {
		want, err := formats.Schema(name)
		if err != nil {
			t.Fatal(err)
		}
		published, err := os.ReadFile(filepath.Join("..", "..", "docs", "formats", name+".schema.json"))
		if err != nil || !bytes.Equal(bytes.TrimSpace(published), want) {
			t.Errorf("docs/formats/%s.schema.json is stale (%v): run make formats", name, err)
		}
		document, err := jsonschema.UnmarshalJSON(bytes.NewReader(want))
		if err != nil {
			t.Fatal(err)
		}
		compiler := jsonschema.NewCompiler()
		if err := compiler.AddResource("file:///schema.json", document); err != nil {
			t.Fatal(err)
		}
		schema, err := compiler.Compile("file:///schema.json")
		if err != nil {
			t.Fatal(err)
		}
		for _, question := range asked[name] {
			text, err := json.Marshal(answer(t, name, question))
			if err != nil {
				t.Fatal(err)
			}
			value, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
			if err != nil {
				t.Fatal(err)
			}
			if err := schema.Validate(value); err != nil {
				t.Errorf("%s, %s: %v", name, question, err)
			}
		}
		if len(asked[name]) == 0 {
			t.Errorf("%s is not asked anything", name)
		}
	}
}
