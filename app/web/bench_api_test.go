package web_test

import (
	"net/http"
	"slices"
	"strings"
	"testing"

	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/web"
	"grapnel/core/bench"
	"grapnel/core/reading"
)

// TestBenchOverHTTP walks the sums, the figures, a limit of the shop's own, what
// may be typed next, and a job as plain text.
func TestBenchOverHTTP(t *testing.T) {
	v := demoVisitor(t)
	job := v.jobOf("WS 204 K").String()
	var page web.BenchPage
	if r := v.call("GET", "/api/sums", nil, &page); r.StatusCode != http.StatusOK || len(page.Cards) != len(bench.Sums()) || len(page.Groups) != len(bench.Groups()) {
		t.Fatalf("%s, %d cards", r.Status, len(page.Cards))
	}
	for _, card := range page.Cards {
		var result bench.Result
		if r := v.call("POST", "/api/sums/"+card.ID, map[string]any{"inputs": map[string]string{}}, &result); r.StatusCode != http.StatusOK || len(result.Figures)+len(result.Says) == 0 {
			t.Errorf("%s: %s", card.ID, r.Status)
		}
	}
	var p web.Problem
	r := v.call("POST", "/api/sums/load_test", map[string]any{"inputs": map[string]string{"rating": "none"}}, &p)
	if r.StatusCode != http.StatusUnprocessableEntity || p.Errors[0].Field != "rating" || p.Errors[0].Allowed == "" {
		t.Errorf("%s %+v", r.Status, p)
	}
	if r := v.call("POST", "/api/sums/alchemy", map[string]any{"inputs": map[string]string{}}, nil); r.StatusCode != http.StatusNotFound {
		t.Errorf("a sum nobody knows: %s", r.Status)
	}
	var kept record.JobPage
	body := map[string]any{"sum": "rating", "inputs": map[string]string{"rating": "760", "standard": "EN"}}
	if r := v.call("PUT", "/api/jobs/"+job+"/sums/"+record.NewID().String(), body, &kept); r.StatusCode != http.StatusOK || len(kept.Sums) != 1 {
		t.Errorf("%s %+v", r.Status, kept.Sums)
	}

	var figures []shop.KnownFigure
	own := map[string]any{"value": 0.03, "note": "maker's manual"}
	if r := v.call("PUT", "/api/limits/drain_most", own, &figures); r.StatusCode != http.StatusOK || !hasOwn(figures) {
		t.Errorf("%s", r.Status)
	}
	if r := v.call("PUT", "/api/limits/drain_most", map[string]any{"value": 9, "note": "x"}, nil); r.StatusCode != http.StatusUnprocessableEntity {
		t.Errorf("9 A of drain: %s", r.Status)
	}
	var after []shop.KnownFigure
	if r := v.call("DELETE", "/api/limits/drain_most", nil, &after); r.StatusCode != http.StatusOK || hasOwn(after) {
		t.Errorf("%s", r.Status)
	}

	var next reading.Completions
	if r := v.call("POST", "/api/complete", map[string]any{"line": "drop ground strap 0.1v"}, &next); r.StatusCode != http.StatusOK || len(next.List) == 0 || next.List[0].Insert != " 150a" {
		t.Errorf("%s %+v", r.Status, next)
	}
	var text web.JobText
	if r := v.call("GET", "/api/jobs/"+job+"/text", nil, &text); r.StatusCode != http.StatusOK || !strings.Contains(text.Text, "plate: WS 204 K\n") {
		t.Errorf("%s %s", r.Status, text.Text)
	}
	var done web.ImportedJob
	if r := v.call("POST", "/api/import", text, &done); r.StatusCode != http.StatusOK || done.Readings != 3 {
		t.Errorf("%s %+v", r.Status, done)
	}
	if r := v.call("POST", "/api/import", web.JobText{Text: "12.4 v"}, &p); r.StatusCode != http.StatusUnprocessableEntity || !strings.HasPrefix(p.Errors[0].Field, "line 1") {
		t.Errorf("%s %+v", r.Status, p.Errors)
	}
}

func hasOwn(figures []shop.KnownFigure) bool {
	return slices.ContainsFunc(figures, func(f shop.KnownFigure) bool { return f.Own != nil })
}
