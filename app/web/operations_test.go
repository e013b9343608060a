package web_test

import (
	"fmt"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/web"
	"grapnel/core/diagnosis"
)

// label is a battery's label as the front end sends it.
func label(chemistry string, volts, rating float64) map[string]any {
	l := map[string]any{"chemistry": chemistry, "nominal_v": volts}
	if rating > 0 {
		l["rating"] = map[string]any{"value": rating, "standard": "SAE"}
	}
	return l
}

// bring opens a job on one battery and gives its ID.
func (v *visitor) bring(l map[string]any) record.ID {
	v.t.Helper()
	id := record.NewID()
	body := map[string]any{"id": id, "symptoms": []string{"slow_crank"}, "batteries": []any{map[string]any{"id": record.ID{}, "label": l}}}
	if r := v.call("POST", "/api/jobs", body, nil); r.StatusCode != http.StatusOK {
		v.t.Fatal(r.Status)
	}
	return id
}

// keep keeps a line on a job and gives the reading's ID and the page after it.
func (v *visitor) keep(job record.ID, line string) (record.ID, record.JobPage) {
	v.t.Helper()
	id := record.NewID()
	var answer web.KeptAnswer
	r := v.call("PUT", fmt.Sprintf("/api/jobs/%s/readings/%s", job, id), map[string]any{"line": line, "battery_id": record.ID{}, "taken_at": time.Now()}, &answer)
	if r.StatusCode != http.StatusOK {
		v.t.Fatalf("%s: %s", line, r.Status)
	}
	return id, answer.Page
}

func action(page record.JobPage) diagnosis.Action { return page.Batteries[0].Assessment.Verdict.Action }

// TestSchemaProblems checks that a body that does not fit names its field and
// what is allowed.
func TestSchemaProblems(t *testing.T) {
	v := demoVisitor(t)
	job := v.jobOf("DUN 48").String()
	one := record.NewID().String()
	for _, c := range []struct{ method, path, body, field, says string }{
		{"POST", "/api/jobs", `{"id":"` + one + `"}`, "batteries", "batteries is missing. Allowed: something in its place."},
		{"POST", "/api/jobs", `{"id":"x","batteries":[]}`, "id", "id: “x” does not fit. Allowed: an ID as 01935b7c-0000-7000-8000-000000000000."},
		{"POST", "/api/jobs", `{"id":"` + one + `","batteries":[],"wheels":4}`, "wheels", "wheels is not a field here. Allowed: the fields of the API's description."},
		{"POST", "/api/jobs", `{"id":"` + one + `","batteries":[],"place":"` + strings.Repeat("x", 300) + `"}`, "place", "Allowed: up to 40 characters."},
		{"POST", "/api/jobs", `{"id":"` + one + `","batteries":7}`, "batteries", "batteries: “7” does not fit. Allowed: a list."},
		{"POST", "/api/jobs", `{"id":"` + one + `","batteries":[],"promised_at":"noon"}`, "promised_at", "promised_at: “noon” does not fit. Allowed: a moment as 2026-11-24T14:00:00Z."},
		{"POST", "/api/jobs/" + job + "/preview", `{"line":7,"battery_id":"` + record.ID{}.String() + `"}`, "line", "line: “7” does not fit. Allowed: a text."},
		{"POST", "/api/sign-in", `{"sign_in":"ada"}`, "password", "password is missing."},
		{"POST", "/api/sign-in", `{"sign_in":"ada","password":7}`, "password", "password does not fit. Allowed: a text."},
	} {
		var p web.Problem
		r := v.call(c.method, c.path, c.body, &p)
		named := slices.ContainsFunc(p.Errors, func(f web.ProblemField) bool {
			return f.Field == c.field && f.Allowed != "" && strings.Contains(f.Text, c.says)
		})
		if r.StatusCode != http.StatusUnprocessableEntity || !named {
			t.Errorf("%s %s: %s, %+v, want of %s %q", c.path, c.body, r.Status, p.Errors, c.field, c.says)
		}
	}
	var p web.Problem
	if r := v.call("POST", "/api/jobs", `{"id":`, &p); r.StatusCode != http.StatusBadRequest || p.RequestID == "" {
		t.Errorf("broken JSON: %s %+v", r.Status, p)
	}
	if r := v.call("POST", "/api/jobs/"+job+"/preview", `{"line":"`+strings.Repeat("x", 2<<20)+`"}`, nil); r.StatusCode != http.StatusRequestEntityTooLarge && r.StatusCode != http.StatusUnprocessableEntity && r.StatusCode != http.StatusBadRequest {
		t.Errorf("two megabytes: %s", r.Status)
	}
}

// TestReadingOverHTTP walks correction, withdrawal and undo over the API.
func TestReadingOverHTTP(t *testing.T) {
	v := demoVisitor(t)
	job := v.bring(label("flooded", 12, 650))
	v.keep(job, "12.65 v 21c rested 2h")
	load, page := v.keep(job, "load 325a 15s 8.9v")
	if action(page) != diagnosis.Replace {
		t.Fatalf("got %s", action(page))
	}
	change := func(what string, id record.ID, line, reason string, want diagnosis.Action) record.ID {
		t.Helper()
		var page record.JobPage
		body := map[string]any{"id": record.NewID(), "line": line, "reason": reason}
		path := fmt.Sprintf("/api/jobs/%s/readings/%s/%s", job, id, what)
		if r := v.call("POST", path, body, &page); r.StatusCode != http.StatusOK || action(page) != want {
			t.Fatalf("%s: %s", what, r.Status)
		}
		if r := v.call("POST", path, body, &page); r.StatusCode != http.StatusOK {
			t.Errorf("%s sent twice: %s", what, r.Status)
		}
		return page.Batteries[0].Readings[1].ID
	}
	now := change("correct", load, "load 325a 15s 9.9v", "typed wrongly", diagnosis.LookElsewhere)
	now = change("undo", now, "", "", diagnosis.Replace)
	now = change("mistaken", now, "", "clamp was off", diagnosis.MoreTests)
	change("undo", now, "", "", diagnosis.Replace)
	var p web.Problem
	if r := v.call("POST", fmt.Sprintf("/api/jobs/%s/readings/%s/mistaken", job, load), map[string]any{"id": record.NewID(), "reason": "again"}, &p); r.StatusCode != http.StatusConflict {
		t.Errorf("a row already superseded: %s", r.Status)
	}
	if r := v.call("POST", fmt.Sprintf("/api/jobs/%s/readings/%s/mistaken", job, record.NewID()), map[string]any{"id": record.NewID(), "reason": "again"}, &p); r.StatusCode != http.StatusNotFound {
		t.Errorf("a reading that is none: %s", r.Status)
	}
	if r := v.call("POST", fmt.Sprintf("/api/jobs/%s/readings/%s/mistaken", job, load), map[string]any{"id": record.NewID()}, &p); r.StatusCode != http.StatusUnprocessableEntity || p.Errors[0].Field != "reason" {
		t.Errorf("no reason: %s %+v", r.Status, p.Errors)
	}
}

// TestPreviewReplaces checks that the preview of a correction stands in the
// corrected reading's place and writes nothing.
func TestPreviewReplaces(t *testing.T) {
	v := demoVisitor(t)
	job := v.bring(label("flooded", 12, 650))
	v.keep(job, "12.65 v 21c rested 2h")
	load, _ := v.keep(job, "load 325a 15s 8.9v")
	body := map[string]any{"line": "load 325a 15s 9.9v", "battery_id": record.ID{}}
	var beside, instead record.Preview
	v.call("POST", fmt.Sprintf("/api/jobs/%s/preview", job), body, &beside)
	body["replaces"] = load
	v.call("POST", fmt.Sprintf("/api/jobs/%s/preview", job), body, &instead)
	if len(beside.Assessment.Findings) != 3 || len(instead.Assessment.Findings) != 2 || instead.Assessment.Verdict.Action != diagnosis.LookElsewhere {
		t.Errorf("%d and %d findings, %s", len(beside.Assessment.Findings), len(instead.Assessment.Findings), instead.Assessment.Verdict.Action)
	}
	var page record.JobPage
	v.call("GET", "/api/jobs/"+job.String(), nil, &page)
	if len(page.Batteries[0].Readings) != 2 || action(page) != diagnosis.Replace {
		t.Error("a preview was written")
	}
}

// TestSetAside judges a job without one of its readings, with and without a line
// beside, and finds the job as it was.
func TestSetAside(t *testing.T) {
	v := demoVisitor(t)
	job := v.bring(label("flooded", 12, 650))
	v.keep(job, "12.65 v 21c rested 2h")
	load, _ := v.keep(job, "load 325a 15s 8.9v")
	path := fmt.Sprintf("/api/jobs/%s/preview", job)
	ask := func(line string, aside ...record.ID) (p record.Preview) {
		if r := v.call("POST", path, map[string]any{"line": line, "battery_id": record.ID{}, "aside": aside}, &p); r.StatusCode != 200 {
			t.Fatalf("%s: %s", line, r.Status)
		}
		return p
	}
	if p := ask("", load); p.Assessment.Verdict.Action != diagnosis.MoreTests || len(p.Assessment.Findings) != 1 || len(p.Understood) != 0 || p.Stage != "" {
		t.Errorf("without the load: %+v", p.Assessment.Verdict)
	}
	if p := ask("load 325a 15s 10.1v", load); p.Assessment.Verdict.Action != diagnosis.LookElsewhere && p.Assessment.Verdict.Action != diagnosis.Keep || len(p.Findings) != 1 || !p.Findings[0].Valid {
		t.Errorf("another in its place: %+v", p.Assessment.Verdict)
	}
	if r := v.call("POST", path, map[string]any{"line": "", "battery_id": record.ID{}}, nil); r.StatusCode != http.StatusUnprocessableEntity && r.StatusCode != http.StatusBadRequest {
		t.Errorf("nothing asked: %s", r.Status)
	}
	var page record.JobPage
	v.call("GET", "/api/jobs/"+job.String(), nil, &page)
	if len(page.Batteries[0].Readings) != 2 || action(page) != diagnosis.Replace {
		t.Error("setting aside was written")
	}
}

// TestAccountOverHTTP asks for the account of every demo job: it answers the
// customer and names what would turn the verdict.
func TestAccountOverHTTP(t *testing.T) {
	v := demoVisitor(t)
	var today shop.Today
	v.call("GET", "/api/today", nil, &today)
	turns := 0
	for _, row := range today.Open {
		var page record.JobPage
		v.call("GET", "/api/jobs/"+row.Job.ID.String(), nil, &page)
		for _, b := range page.Batteries {
			var a diagnosis.Account
			r := v.call("GET", fmt.Sprintf("/api/jobs/%s/batteries/%s/account", row.Job.ID, b.ID), nil, &a)
			if r.StatusCode != 200 || len(a.Answer) == 0 || (a.Question.Code == "customer.why") != (b.Assessment.Verdict.Action == diagnosis.Replace) {
				t.Errorf("%s: %s, %+v", row.Plate, r.Status, a.Question)
			}
			turns += len(a.Turns)
		}
	}
	if turns == 0 {
		t.Error("nothing would turn any verdict of the demo")
	}
	if r := v.call("GET", fmt.Sprintf("/api/jobs/%s/batteries/%s/account", today.Open[0].Job.ID, record.NewID()), nil, nil); r.StatusCode != http.StatusNotFound {
		t.Errorf("a battery of nobody: %s", r.Status)
	}
}

// TestLabelCloseReopen completes a label, hands the job back and takes it up.
func TestLabelCloseReopen(t *testing.T) {
	v := demoVisitor(t)
	job := v.bring(label("flooded", 12, 0))
	v.keep(job, "12.65 v 21c rested 2h")
	_, page := v.keep(job, "load 325a 15s 8.9v")
	if action(page) != diagnosis.MoreTests {
		t.Fatalf("without a rating: %s", action(page))
	}
	battery := page.Batteries[0].ID
	path := "/api/jobs/" + job.String()
	v.call("PUT", path+"/label", map[string]any{"id": battery, "maker": "Halyard", "label": label("flooded", 12, 650)}, &page)
	if action(page) != diagnosis.Replace || !strings.Contains(page.Batteries[0].LabelText, "SAE") || page.Batteries[0].Maker != "Halyard" {
		t.Errorf("with the rating: %s, %s", action(page), page.Batteries[0].LabelText)
	}
	var p web.Problem
	if r := v.call("PUT", path+"/label", map[string]any{"id": battery, "label": label("wood", 12, 650)}, &p); r.StatusCode != http.StatusUnprocessableEntity || p.Errors[0].Field != "label.chemistry" {
		t.Errorf("a battery of wood: %s %+v", r.Status, p.Errors)
	}
	v.finish(job)
	for _, step := range []struct{ do, state string }{{"close", "closed"}, {"close", "closed"}, {"reopen", "open"}, {"reopen", "open"}} {
		if v.call("POST", path+"/"+step.do, nil, &page); page.Job.State != step.state {
			t.Errorf("%s: %s", step.do, page.Job.State)
		}
	}
	var life shop.BatteryPage
	if v.call("GET", "/api/batteries/"+battery.String(), nil, &life); len(life.Visits) != 1 || len(life.Visits[0].Findings) != 2 {
		t.Errorf("%+v", life)
	}
}

// TestChoices checks that a form gets every code with its word.
func TestChoices(t *testing.T) {
	v := demoVisitor(t)
	var c web.Choices
	v.call("GET", "/api/choices", nil, &c)
	if len(c.Symptoms) != 13 || len(c.Chemistries) != 6 || len(c.Standards) != 8 || len(c.VehicleKinds) != 11 || len(c.Places) == 0 {
		t.Errorf("%d symptoms, %d chemistries, %d standards, %d kinds, %d places", len(c.Symptoms), len(c.Chemistries), len(c.Standards), len(c.VehicleKinds), len(c.Places))
	}
	for _, code := range []string{"keep", "replace", "stop_unsafe", "worn", "crank_power", "slow_crank", "dcdc_fault"} {
		if c.Words[code] == "" {
			t.Errorf("%s has no word", code)
		}
	}
}

// TestTodayPages checks that Today is paged by key and shows what each job
// waits on.
func TestTodayPages(t *testing.T) {
	v := demoVisitor(t)
	for range 62 {
		v.bring(label("agm", 12, 180))
	}
	var first, second shop.Today
	v.call("GET", "/api/today", nil, &first)
	if len(first.Open) != 60 || !first.More {
		t.Fatalf("%d jobs, more %v", len(first.Open), first.More)
	}
	last := first.Open[59].Job
	v.call("GET", "/api/today?before="+last.OpenedAt.UTC().Format(time.RFC3339Nano)+"&before_id="+last.ID.String(), nil, &second)
	if len(second.Open) != 9 || second.More {
		t.Errorf("%d jobs on the second page, more %v", len(second.Open), second.More)
	}
	for _, a := range first.Open {
		for _, b := range second.Open {
			if a.Job.ID == b.Job.ID {
				t.Errorf("%s stands on both pages", a.Job.ID)
			}
		}
	}
}
