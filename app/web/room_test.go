package web_test

import (
	"fmt"
	"net/http"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"grapnel/app/record"
	"grapnel/app/room"
	"grapnel/app/web"
)

// TestFullDisk checks that before the disk is full nothing is written any more: that is said,
// everything can be looked at, people come in, the owner is warned, and with room again it
// goes on. No source: it is how the program is to behave.
func TestFullDisk(t *testing.T) {
	var left atomic.Int64
	left.Store(10 * room.Little)
	v := demoVisitorWith(t, web.Config{Room: func() (int64, error) { return left.Load(), nil }})
	job := v.jobOf("DUN 48")
	keep := func(id record.ID) (*http.Response, string) {
		var problem web.Problem
		r := v.call("PUT", fmt.Sprintf("/api/jobs/%s/readings/%s", job, id), map[string]any{"line": "look none", "battery_id": record.ID{}, "taken_at": time.Now()}, &problem)
		return r, problem.Detail
	}
	warned := func() string {
		var hello web.Hello
		v.call("GET", "/api/hello", nil, &hello)
		for _, w := range hello.Warnings {
			if w.Code == "disk" {
				return w.Text
			}
		}
		return ""
	}
	if got := warned(); got != "" {
		t.Errorf("warned with room: %s", got)
	}
	left.Store(room.Little - 1)
	if got := warned(); !strings.Contains(got, "1024.0 MB are left") {
		t.Errorf("warned with little room: %q", got)
	}
	id := record.NewID()
	if r, said := keep(id); r.StatusCode != http.StatusOK {
		t.Errorf("with little room: %s %s", r.Status, said)
	}
	left.Store(room.Least - 1)
	before := v.readings(job)
	later := record.NewID()
	if r, said := keep(later); r.StatusCode != http.StatusServiceUnavailable || r.Header.Get("Retry-After") == "" || !strings.Contains(said, "64.0 MB are left") {
		t.Errorf("without room: %s %q", r.Status, said)
	}
	if after := v.readings(job); after != before {
		t.Errorf("%d readings before, %d after", before, after)
	}
	v.visitedAs("technician")
	left.Store(10 * room.Little)
	if r, said := keep(later); r.StatusCode != http.StatusOK || v.readings(job) != before+1 {
		t.Errorf("with room again: %s %s", r.Status, said)
	}
}

// readings is how many readings the page of a job shows.
func (v *visitor) readings(job record.ID) int {
	v.t.Helper()
	var page record.JobPage
	if r := v.call("GET", "/api/jobs/"+job.String(), nil, &page); r.StatusCode != http.StatusOK {
		v.t.Fatal(r.Status)
	}
	n := 0
	for _, b := range page.Batteries {
		n += len(b.Readings)
	}
	return n
}
