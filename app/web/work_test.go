package web_test

import (
	"bufio"
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"grapnel/app/people"
	"grapnel/app/picture/picturetest"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/web"
	"grapnel/core/diagnosis"
	"grapnel/core/trail"
)

// finish answers every open point of a job's closing list.
func (v *visitor) finish(job record.ID) {
	v.t.Helper()
	var page record.JobPage
	v.call("GET", "/api/jobs/"+job.String(), nil, &page)
	for _, b := range page.Batteries {
		for _, stage := range b.Work.Stages {
			for _, step := range stage.Steps {
				if step.Must && step.State == "open" {
					v.answer(job, b.ID, step.Code, trail.NotNeeded, "")
				}
			}
		}
	}
}

func (v *visitor) answer(job, battery record.ID, code, value, note string) record.JobPage {
	v.t.Helper()
	var page record.JobPage
	r := v.call("PUT", fmt.Sprintf("/api/jobs/%s/answers/%s", job, record.NewID()), map[string]any{"battery_id": battery, "code": code, "value": value, "note": note}, &page)
	if r.StatusCode != http.StatusOK {
		v.t.Fatalf("%s: %s", code, r.Status)
	}
	return page
}

// stream is one open screen: the events it is told.
type stream struct {
	body   io.Closer
	events chan told
}

type told struct {
	name, id string
	change   shop.Change
}

// listen opens the stream of events, behind one seen before.
func (v *visitor) listen(last string) *stream {
	v.t.Helper()
	request, err := http.NewRequestWithContext(v.t.Context(), http.MethodGet, v.base+"/api/events", nil)
	if err != nil {
		v.t.Fatal(err)
	}
	if last != "" {
		request.Header.Set("Last-Event-ID", last)
	}
	response, err := v.client.Do(request)
	if err != nil || response.StatusCode != http.StatusOK || response.Header.Get("Content-Type") != "text/event-stream" {
		v.t.Fatalf("%v %v", response, err)
	}
	s := &stream{response.Body, make(chan told, 64)}
	go s.read(response.Body)
	v.t.Cleanup(func() { s.body.Close() })
	return s
}

func (s *stream) read(body io.Reader) {
	defer close(s.events)
	var one told
	lines := bufio.NewScanner(body)
	for lines.Scan() {
		name, value, _ := strings.Cut(lines.Text(), ": ")
		switch name {
		case "event":
			one.name = value
		case "id":
			one.id = value
		case "data":
			// What is no change leaves it empty.
			_ = json.Unmarshal([]byte(value), &one.change)
		case "":
			if one.name != "" {
				s.events <- one
			}
			one = told{}
		}
	}
}

// next waits for an event of a name.
func (s *stream) next(t testing.TB, name string) told {
	t.Helper()
	for {
		select {
		case one, ok := <-s.events:
			if !ok {
				t.Fatal("the stream has ended")
			}
			if one.name == name {
				return one
			}
		case <-time.After(10 * time.Second):
			t.Fatalf("no %s", name)
		}
	}
}

// TestEvents checks that a change is told to an open screen, that a screen whose
// line was down goes on from what it saw last, and that one that has missed too
// much is told to read everything anew.
func TestEvents(t *testing.T) {
	v := demoVisitor(t)
	job := v.jobOf("DUN 48")
	screen := v.listen("")
	screen.next(t, "hello")
	v.keep(job, "look none")
	first := screen.next(t, "change")
	if first.change.Kind != "reading_kept" || first.change.JobID == nil || *first.change.JobID != job || first.id == "" {
		t.Errorf("told %+v", first)
	}
	screen.body.Close()
	v.keep(job, "6.3 v 14c rested 12h")
	again := v.listen(first.id)
	if missed := again.next(t, "change"); missed.change.ID <= first.change.ID || missed.change.Kind != "reading_kept" {
		t.Errorf("told %+v after %s", missed, first.id)
	}
	if old := v.listen("1"); old.next(t, "anew").name != "anew" {
		t.Error("a screen that has missed everything is not told so")
	}
}

// TestWorkOverHTTP walks the operations around a job: steps, a stop rule lifted,
// how it sits, who has it, clocks, a picture.
func TestWorkOverHTTP(t *testing.T) {
	v := demoVisitor(t)
	job := v.bring(label("flooded", 12, 650))
	path := "/api/jobs/" + job.String()
	_, page := v.keep(job, "look frozen")
	battery := page.Batteries[0].ID
	if v.answer(job, battery, "glasses", trail.Done, ""); action(page) != diagnosis.StopUnsafe {
		t.Fatalf("frozen: %s", action(page))
	}
	v.call("PUT", path+"/clearings/"+record.NewID().String(), map[string]any{"battery_id": battery, "stop": "frozen-or-damaged", "reason": "thawed indoors, whole"}, &page)
	if action(page) == diagnosis.StopUnsafe || len(page.Batteries[0].Work.Cleared) != 1 {
		t.Errorf("lifted: %s", action(page))
	}
	v.call("PUT", path+"/batteries/"+battery.String()+"/mounting", map[string]any{"posts": "side"}, &page)
	if page.Batteries[0].Posts != "side" {
		t.Errorf("posts %q", page.Batteries[0].Posts)
	}
	v.call("PUT", path+"/desk", map[string]any{"place": "Shelf", "waits_for": "night"}, &page)
	if page.Job.Place != "Shelf" || page.Job.WaitsFor != "night" {
		t.Errorf("%+v", page.Job)
	}
	var clocks shop.Clocks
	clock := record.NewID()
	v.call("PUT", path+"/clocks/"+clock.String(), map[string]any{"battery_id": battery, "kind": "rest", "started_at": time.Now()}, &clocks)
	mine := func(c shop.RunningClock) bool { return c.ID == clock }
	if !slices.ContainsFunc(clocks.Clocks, mine) {
		t.Fatalf("%+v", clocks)
	}
	v.call("POST", "/api/clocks/"+clock.String()+"/stop", nil, &clocks)
	if slices.ContainsFunc(clocks.Clocks, mine) {
		t.Error("stopped, and still there")
	}
	v.photo(job)
}

func (v *visitor) photo(job record.ID) {
	v.t.Helper()
	id, png := record.NewID(), picturetest.PNG(90)
	send := func(body []byte) *http.Response {
		request, err := http.NewRequestWithContext(v.t.Context(), http.MethodPut, fmt.Sprintf("%s/api/jobs/%s/photos/%s?note=clamp", v.base, job, id), bytes.NewReader(body))
		if err != nil {
			v.t.Fatal(err)
		}
		response, err := v.client.Do(request)
		if err != nil {
			v.t.Fatal(err)
		}
		response.Body.Close()
		return response
	}
	if r := send(png); r.StatusCode != http.StatusNoContent {
		v.t.Fatal(r.Status)
	}
	response, err := v.client.Get(v.base + "/api/photos/" + id.String())
	if err != nil {
		v.t.Fatal(err)
	}
	defer response.Body.Close()
	body, err := io.ReadAll(response.Body)
	if err != nil || http.DetectContentType(body) != "image/jpeg" || response.Header.Get("Content-Type") != "image/jpeg" {
		v.t.Errorf("%s of %d bytes, %v", response.Header.Get("Content-Type"), len(body), err)
	}
	var p web.Problem
	if r := send(bytes.Repeat([]byte{1}, shop.MostPhoto+1)); r.StatusCode != http.StatusUnprocessableEntity {
		v.t.Errorf("too large: %s %+v", r.Status, p)
	}
}

// BenchmarkLive keeps a reading while fifty screens are open on its job and
// measures until each has been told and has the new page.
func BenchmarkLive(b *testing.B) {
	v := demoVisitor(b)
	job := v.jobOf("WS 204 K")
	// A session may have ten.
	const screens, sessions = 50, 5
	var open []*stream
	for range sessions {
		other := v.visitedAs(people.Technician)
		for range screens / sessions {
			open = append(open, other.listen(""))
		}
	}
	var took []time.Duration
	b.ResetTimer()
	for i := range b.N {
		began := time.Now()
		var all sync.WaitGroup
		each := make([]time.Duration, screens)
		for k, s := range open {
			all.Go(func() {
				s.next(b, "change")
				r, err := v.client.Get(v.base + "/api/jobs/" + job.String())
				if err == nil {
					_, err = io.Copy(io.Discard, r.Body)
					r.Body.Close()
				}
				if err != nil {
					b.Error(err)
				}
				each[k] = time.Since(began)
			})
		}
		v.keep(job, fmt.Sprintf("12.%02d v 17c rested 2h", 20+i%40))
		all.Wait()
		took = append(took, each...)
	}
	slices.Sort(took)
	b.ReportMetric(float64(took[len(took)*95/100].Microseconds())/1000, "p95-ms")
}
