package web_test

import (
	"bytes"
	"encoding/json"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/santhosh-tekuri/jsonschema/v6"

	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/core/bench"
)

// described checks answers against the description of the API, by a library of JSON
// Schema that knows nothing of ours.
type described struct {
	v        *visitor
	compiler *jsonschema.Compiler
	paths    map[string]map[string]struct {
		Responses map[string]struct {
			Content map[string]struct {
				Schema struct {
					Ref  string `json:"$ref"`
					Type string `json:"type"`
				} `json:"schema"`
			} `json:"content"`
		} `json:"responses"`
	}
}

const descriptionAt = "file:///openapi.json"

func describe(v *visitor) *described {
	v.t.Helper()
	var whole json.RawMessage
	if r := v.call("GET", "/api/openapi.json", nil, &whole); r.StatusCode != http.StatusOK {
		v.t.Fatalf("the description: %s", r.Status)
	}
	document, err := jsonschema.UnmarshalJSON(bytes.NewReader(whole))
	if err != nil {
		v.t.Fatal(err)
	}
	d := &described{v: v, compiler: jsonschema.NewCompiler()}
	d.compiler.DefaultDraft(jsonschema.Draft2020)
	if err := d.compiler.AddResource(descriptionAt, document); err != nil {
		v.t.Fatal(err)
	}
	if err := json.Unmarshal(whole, &struct{ Paths any }{&d.paths}); err != nil {
		v.t.Fatal(err)
	}
	return d
}

// check calls an operation and holds its answer against the description.
func (d *described) check(method, template, path string, body any) {
	d.v.t.Helper()
	var answer json.RawMessage
	if r := d.v.call(method, "/api"+path, body, &answer); r.StatusCode != http.StatusOK {
		d.v.t.Errorf("%s %s: %s", method, path, r.Status)
		return
	}
	escaped := strings.ReplaceAll(strings.ReplaceAll(template, "~", "~0"), "/", "~1")
	at := descriptionAt + "#/paths/" + escaped + "/" + strings.ToLower(method) + "/responses/200/content/application~1json/schema"
	schema, err := d.compiler.Compile(at)
	if err != nil {
		d.v.t.Fatalf("%s %s: %v", method, template, err)
	}
	value, err := jsonschema.UnmarshalJSON(bytes.NewReader(answer))
	if err != nil {
		d.v.t.Fatal(err)
	}
	if err := schema.Validate(value); err != nil {
		d.v.t.Errorf("%s %s is not as described: %v", method, path, err)
	}
}

// asking asks for one operation, by its template and with its path filled in.
type asking func(method, template, path string, body any)

// everythingOf asks for all that has something of the shop in its path, for every job, battery,
// charge and standing battery of it.
func (v *visitor) everythingOf(ask asking) {
	v.t.Helper()
	var today shop.Today
	v.call("GET", "/api/today", nil, &today)
	for _, row := range append(today.Open, today.Closed...) {
		job := "/jobs/" + row.Job.ID.String()
		ask("GET", "/jobs/{job}", job, nil)
		var page record.JobPage
		v.call("GET", "/api"+job, nil, &page)
		for _, b := range page.Batteries {
			ask("GET", "/jobs/{job}/batteries/{battery}/account", job+"/batteries/"+b.ID.String()+"/account", nil)
			ask("GET", "/jobs/{job}/batteries/{battery}/verdicts", job+"/batteries/"+b.ID.String()+"/verdicts", nil)
			ask("GET", "/jobs/{job}/batteries/{battery}/charge", job+"/batteries/"+b.ID.String()+"/charge", nil)
			ask("GET", "/batteries/{battery}", "/batteries/"+b.ID.String(), nil)
			ask("GET", "/batteries/{battery}/maker-charge", "/batteries/"+b.ID.String()+"/maker-charge", nil)
			ask("GET", "/batteries/{battery}/stays", "/batteries/"+b.ID.String()+"/stays", nil)
			ask("GET", "/jobs/{job}/batteries/{battery}/terminals", job+"/batteries/"+b.ID.String()+"/terminals", nil)
			ask("GET", "/jobs/{job}/batteries/{battery}/fit", job+"/batteries/"+b.ID.String()+"/fit?coldest_c=-10", nil)
			ask("GET", "/jobs/{job}/batteries/{battery}/procedures", job+"/batteries/"+b.ID.String()+"/procedures", nil)
			for _, kind := range []string{"vehicle", "pack", "charger"} {
				ask("POST", "/jobs/{job}/batteries/{battery}/jump", job+"/batteries/"+b.ID.String()+"/jump", map[string]any{"with": map[string]any{"kind": kind}})
			}
			attempt := job + "/attempts/" + record.NewID().String()
			begun := map[string]any{"battery_id": b.ID, "name": "open_locked", "setting": map[string]any{"vehicle": "hybrid", "by": "front_post"}, "school": "", "people": 1}
			ask("PUT", "/jobs/{job}/attempts/{attempt}", attempt, begun)
			ask("PUT", "/jobs/{job}/attempts/{attempt}/events/{event}", attempt+"/events/"+record.NewID().String(), map[string]any{"step": 0, "did": "done"})
			ask("GET", "/jobs/{job}/attempts/{attempt}", attempt, nil)
			ask("POST", "/jobs/{job}/preview", job+"/preview", map[string]any{"line": "look none", "battery_id": b.ID})
		}
		ask("GET", "/jobs/{job}/text", job+"/text", nil)
		ask("GET", "/jobs/{job}/attempts", job+"/attempts", nil)
		ask("GET", "/jobs/{job}/charges", job+"/charges", nil)
	}
	for _, sum := range bench.Sums() {
		ask("POST", "/sums/{sum}", "/sums/"+sum.ID, map[string]any{"inputs": map[string]string{}})
	}
	ask("POST", "/complete", "/complete", map[string]any{"line": "load 3"})
	var places []record.Place
	v.call("GET", "/api/places", nil, &places)
	for _, place := range places {
		ask("GET", "/places/{place}/stays", "/places/"+place.ID.String()+"/stays", nil)
	}
	ask("GET", "/vehicles", "/vehicles?q=ws", nil)
	var shelf shop.Shelf
	v.call("GET", "/api/shelf", nil, &shelf)
	for _, item := range shelf.Items {
		ask("GET", "/shelf/charges/{charge}", "/shelf/charges/"+item.Charge.ID.String(), nil)
		ask("GET", "/shelf/charges/{charge}/trace", "/shelf/charges/"+item.Charge.ID.String()+"/trace", nil)
	}
	var yard shop.YardPage
	v.call("GET", "/api/standing", nil, &yard)
	if len(yard.Rows) < 14 {
		v.t.Errorf("%d stand", len(yard.Rows))
	}
	for _, row := range yard.Rows {
		ask("GET", "/standing/{standing}", "/standing/"+row.ID.String(), nil)
	}
	ask("PUT", "/standing/{standing}/visits/{visit}", "/standing/"+yard.Rows[0].ID.String()+"/visits/"+record.NewID().String(),
		map[string]any{"line": "12.1 v 5c rested 12h", "did": "looked", "at": time.Now()})
	ask("PUT", "/calendar/feeds/{feed}", "/calendar/feeds/"+record.NewID().String(), map[string]any{"name": "a phone"})
}

// TestAnswersAreAsDescribed checks what every operation that reads gives, for every job of
// the demo shop, against the description: each code is of its list, nothing is null that
// was not said to be. The front end's types rest on it.
func TestAnswersAreAsDescribed(t *testing.T) {
	v := demoVisitor(t)
	d := describe(v)
	asked := map[string]bool{}
	ask := func(method, template, path string, body any) {
		asked[method+" "+template] = true
		d.check(method, template, path, body)
	}
	v.everythingOf(ask)
	for path, operations := range d.paths {
		if _, ok := operations["get"]; ok && !asked["GET "+path] {
			if strings.Contains(path, "{") {
				t.Errorf("GET %s is not checked", path)
				continue
			}
			ask("GET", path, path, nil)
		}
	}
}
