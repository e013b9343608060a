package web_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"slices"
	"sync"
	"testing"
	"time"

	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/e2e/fault"
)

// op is one thing that somebody did to a row that several work on: what they wrote, or what they
// read there, from when they began until they knew.
type op struct {
	from, to time.Duration
	write    bool
	value    string
}

// orderly reports that a history has an order: one deed after the other, each somewhere between its
// beginning and its end, in which every read finds what was written last. It is the search of Wing
// and Gong (Testing and verifying concurrent objects, 1993) for one register, with what was tried
// before remembered as Lowe has it (Testing for linearizability, 2017).
func orderly(history []op, first string) bool {
	tried := map[string]bool{}
	var search func(done []bool, value string) bool
	search = func(done []bool, value string) bool {
		if !slices.Contains(done, false) {
			return true
		}
		key := fmt.Sprint(done, value)
		if tried[key] {
			return false
		}
		tried[key] = true
		// Nothing comes before what had ended when it began.
		earliest := time.Duration(1 << 62)
		for i, o := range history {
			if !done[i] {
				earliest = min(earliest, o.to)
			}
		}
		for i, o := range history {
			if done[i] || o.from > earliest || !o.write && o.value != value {
				continue
			}
			next := slices.Clone(done)
			next[i] = true
			if search(next, o.value) {
				return true
			}
		}
		return false
	}
	return search(make([]bool, len(history)), first)
}

// TestOrderly tries the search itself on histories whose answer is known.
func TestOrderly(t *testing.T) {
	for what, c := range map[string]struct {
		history []op
		want    bool
	}{
		"nothing":                  {nil, true},
		"written, then read":       {[]op{{0, 1, true, "a"}, {2, 3, false, "a"}}, true},
		"written, then forgotten":  {[]op{{0, 1, true, "a"}, {2, 3, false, ""}}, false},
		"read while it is written": {[]op{{0, 9, true, "a"}, {1, 2, false, ""}, {3, 4, false, "a"}}, true},
		"seen, and unseen again":   {[]op{{0, 9, true, "a"}, {1, 2, false, "a"}, {3, 4, false, ""}}, false},
		"two at once, either":      {[]op{{0, 9, true, "a"}, {0, 9, true, "b"}, {10, 11, false, "a"}}, true},
		"read what nobody wrote":   {[]op{{0, 1, true, "a"}, {2, 3, false, "b"}}, false},
	} {
		if got := orderly(c.history, ""); got != c.want {
			t.Errorf("%s: %v", what, got)
		}
	}
}

// register is a row of a job that people change and read.
type register struct {
	name  string
	write func(job, battery record.ID, value string) (path string, body any)
	read  func(record.JobPage) string
}

var registers = []register{
	{"what it waits for", func(job, _ record.ID, value string) (string, any) {
		return fmt.Sprintf("/api/jobs/%s/desk", job), map[string]any{"waits_for": "customer", "waits_note": value}
	}, func(p record.JobPage) string { return p.Job.WaitsNote }},
	{"the vehicle", func(job, _ record.ID, value string) (string, any) {
		return fmt.Sprintf("/api/jobs/%s/vehicle", job), map[string]any{"id": record.ID{}, "plate": "WS 204 K", "description": value}
	}, func(p record.JobPage) string { return p.Vehicle.Description }},
	{"the battery's tag", func(job, battery record.ID, value string) (string, any) {
		return fmt.Sprintf("/api/jobs/%s/label", job), map[string]any{"id": battery, "tag": value, "label": label("flooded", 12, 540)}
	}, func(p record.JobPage) string { return p.Batteries[0].Tag }},
}

// TestHistoriesHaveAnOrder has two to five people write and read one row at once, half of them over a
// line that breaks before the answer comes, so that the same deed is sent again: what they were told
// has an order in which one did it after the other.
func TestHistoriesHaveAnOrder(t *testing.T) {
	v := demoVisitor(t)
	line, err := fault.To(v.base)
	if err != nil {
		t.Fatal(err)
	}
	cut := httptest.NewServer(line)
	defer cut.Close()
	job := v.jobOf("WS 204 K")
	for _, hands := range []int{2, 3, 5} {
		for _, row := range registers {
			t.Run(fmt.Sprintf("%s by %d", row.name, hands), func(t *testing.T) {
				var page record.JobPage
				v.call("GET", "/api/jobs/"+job.String(), nil, &page)
				w := &worked{t: t, row: row, job: job, battery: page.Batteries[0].ID, began: time.Now()}
				line.Set(fault.LostAnswer, func(*http.Request) bool { return rand.IntN(4) == 0 })
				defer line.Set(fault.None, nil)
				var all sync.WaitGroup
				for n := range hands {
					other := v.visitedAs(people.Technician)
					if n%2 == 1 {
						other.base = cut.URL
					}
					all.Go(func() { w.work(other, n) })
				}
				all.Wait()
				if !orderly(w.history, row.read(page)) {
					t.Errorf("no order explains it: %+v", w.history)
				}
			})
		}
	}
}

// worked is what people did to one row.
type worked struct {
	t            *testing.T
	row          register
	job, battery record.ID
	began        time.Time
	mu           sync.Mutex
	history      []op
}

// work writes and reads in turns.
func (w *worked) work(v *visitor, who int) {
	for n := range 8 {
		o := op{from: time.Since(w.began), write: rand.IntN(2) == 0}
		if o.write {
			o.value = fmt.Sprintf("%d of hand %d", n, who)
			path, body := w.row.write(w.job, w.battery, o.value)
			w.until(v, "PUT", path, body, nil)
		} else {
			var page record.JobPage
			w.until(v, "GET", "/api/jobs/"+w.job.String(), nil, &page)
			o.value = w.row.read(page)
		}
		o.to = time.Since(w.began)
		w.mu.Lock()
		w.history = append(w.history, o)
		w.mu.Unlock()
	}
}

// until sends one deed, under one key, until it is answered.
func (w *worked) until(v *visitor, method, path string, body, out any) {
	data, err := json.Marshal(body)
	if err != nil {
		w.t.Error(err)
		return
	}
	key := record.NewID().String()
	for w.t.Context().Err() == nil {
		request, err := http.NewRequestWithContext(context.WithoutCancel(w.t.Context()), method, v.base+path, bytes.NewReader(data))
		if err != nil {
			w.t.Error(err)
			return
		}
		request.Header.Set("Content-Type", "application/json")
		request.Header.Set("Idempotency-Key", key)
		r, err := v.client.Do(request)
		if err != nil {
			continue // the line broke: nobody knows whether it was done
		}
		text, err := io.ReadAll(r.Body)
		r.Body.Close()
		if err != nil {
			continue
		}
		if r.StatusCode != http.StatusOK {
			w.t.Errorf("%s %s: %s %s", method, path, r.Status, text)
			return
		}
		if out != nil {
			if err := json.Unmarshal(text, out); err != nil {
				w.t.Error(err)
			}
		}
		return
	}
}
