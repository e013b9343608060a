package main

import (
	"bytes"
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"net/http/cookiejar"
	"slices"
	"sync"
	"time"

	"grapnel/app/record"
)

// technician works as a phone does: each deed is sent until it is answered, by one copy of
// the server or, where that is not there, the next.
type technician struct {
	bases  []string
	at     int
	client *http.Client
	book   *book
	think  time.Duration
}

// book is what all technicians together have done.
type book struct {
	mu       sync.Mutex
	took     map[string][]time.Duration
	statuses map[int]int
	visits   []visit
	odd      []string
	// answered is when anything was answered last, stall the longest time that nothing was.
	answered time.Time
	stall    time.Duration
	// from and until bound what is counted.
	from time.Time
}

// visit is what one technician did on one job and was told was kept.
type visit struct {
	job      record.ID
	readings []record.ID
}

func newBook() *book {
	return &book{took: map[string][]time.Duration{}, statuses: map[int]int{}, answered: time.Now()}
}

func (b *book) wrote(what string, took time.Duration, status int) {
	b.mu.Lock()
	defer b.mu.Unlock()
	now := time.Now()
	b.statuses[status]++
	if status >= 500 {
		return
	}
	if now.After(b.from) {
		b.stall = max(b.stall, now.Sub(b.answered))
	}
	b.answered = now
	if now.After(b.from) {
		b.took[what] = append(b.took[what], took)
	}
}

// answeredSoFar counts what was answered well.
func (b *book) answeredSoFar() int {
	b.mu.Lock()
	defer b.mu.Unlock()
	return b.statuses[http.StatusOK] + b.statuses[http.StatusCreated]
}

func (b *book) strange(text string) {
	b.mu.Lock()
	defer b.mu.Unlock()
	if len(b.odd) < 20 {
		b.odd = append(b.odd, text)
	}
}

func newTechnician(book *book, think time.Duration, first int, bases ...string) (*technician, error) {
	jar, err := cookiejar.New(nil)
	if err != nil {
		return nil, err
	}
	transport := &http.Transport{MaxIdleConnsPerHost: 2, IdleConnTimeout: time.Minute}
	return &technician{bases: bases, at: first, client: &http.Client{Jar: jar, Timeout: 20 * time.Second, Transport: transport}, book: book, think: think}, nil
}

// errNever is what ends a technician whose deed nobody answered.
var errNever = errors.New("never answered")

// do sends one deed until it is answered.
func (t *technician) do(ctx context.Context, what, method, path string, body, out any) error {
	data, err := json.Marshal(body)
	if err != nil {
		return err
	}
	for end := time.Now().Add(2 * time.Minute); time.Now().Before(end) && ctx.Err() == nil; time.Sleep(20 * time.Millisecond) {
		again, err := t.once(ctx, what, method, path, data, out)
		if !again {
			return err
		}
		t.at++ // the next copy, as a balancer would
	}
	return errors.Join(errNever, ctx.Err())
}

func (t *technician) once(ctx context.Context, what, method, path string, data []byte, out any) (again bool, err error) {
	request, err := http.NewRequestWithContext(ctx, method, t.bases[t.at%len(t.bases)]+path, bytes.NewReader(data))
	if err != nil {
		return false, err
	}
	request.Header.Set("Content-Type", "application/json")
	began := time.Now()
	r, err := t.client.Do(request)
	if err != nil {
		return true, nil // the line is down
	}
	defer r.Body.Close()
	text, err := io.ReadAll(r.Body)
	if err != nil {
		return true, nil // it broke off
	}
	t.book.wrote(what, time.Since(began), r.StatusCode)
	switch {
	case r.StatusCode < 300:
		if out != nil {
			return false, json.Unmarshal(text, out)
		}
		return false, nil
	case r.StatusCode == http.StatusServiceUnavailable || r.StatusCode == http.StatusTooManyRequests:
		return true, nil
	}
	t.book.strange(fmt.Sprintf("%s %s: %s %.200s", method, path, r.Status, text))
	return false, fmt.Errorf("%s %s: %s", method, path, r.Status)
}

// signIn comes in as a technician of the demo.
func (t *technician) signIn(ctx context.Context) error {
	return t.do(ctx, "sign in", http.MethodPost, "/api/sign-in", map[string]string{"sign_in": "jonah", "password": "four claws hold"}, nil)
}

// pause is as long as a person thinks, more or less.
func (t *technician) pause(ctx context.Context) {
	if t.think == 0 {
		return
	}
	select {
	case <-ctx.Done():
	case <-time.After(time.Duration(float64(t.think) * (0.5 + rand.Float64()))):
	}
}

// work brings batteries in and reads them until the context ends; what was begun is brought
// to an end in whole.
func (t *technician) work(ctx context.Context, whole context.Context) {
	for ctx.Err() == nil {
		v := visit{job: record.NewID()}
		err := t.visit(ctx, whole, &v)
		t.book.mu.Lock()
		t.book.visits = append(t.book.visits, v)
		t.book.mu.Unlock()
		if err != nil {
			return
		}
	}
}

func (t *technician) visit(ctx, whole context.Context, v *visit) error {
	battery := record.NewID()
	label := map[string]any{"chemistry": "flooded", "nominal_v": 12, "rating": map[string]any{"value": 540, "standard": "EN"}}
	body := map[string]any{"id": v.job, "symptoms": []string{"slow_crank"}, "batteries": []any{map[string]any{"id": battery, "label": label}}}
	if err := t.do(whole, "bring in", http.MethodPost, "/api/jobs", body, nil); err != nil {
		return err
	}
	lines := visits[rand.IntN(len(visits))]
	for n, line := range lines {
		t.pause(ctx)
		if ctx.Err() != nil {
			return nil // all end at once, as nobody does
		}
		id := record.NewID()
		keep := map[string]any{"battery_id": battery, "line": line, "taken_at": time.Now().UTC()}
		if err := t.do(whole, "keep a reading", http.MethodPut, fmt.Sprintf("/api/jobs/%s/readings/%s", v.job, id), keep, nil); err != nil {
			return err
		}
		v.readings = append(v.readings, id)
		look, what := "/api/jobs/"+v.job.String(), "a job's page"
		if n%3 == 2 {
			look, what = "/api/today", "today"
		}
		if err := t.do(whole, what, http.MethodGet, look, nil, nil); err != nil {
			return err
		}
	}
	return nil
}

// said prints how long things took.
func (b *book) said() {
	b.mu.Lock()
	defer b.mu.Unlock()
	names := make([]string, 0, len(b.took))
	var all []time.Duration
	for name, list := range b.took {
		names = append(names, name)
		if name != "sign in" {
			all = append(all, list...)
		}
	}
	slices.Sort(names)
	line := func(name string, list []time.Duration) {
		slices.Sort(list)
		at := func(share float64) float64 {
			if len(list) == 0 {
				return 0
			}
			return float64(list[min(len(list)-1, int(share*float64(len(list))))].Microseconds()) / 1000
		}
		fmt.Printf("%-16s %7d   p50 %7.1f ms   p95 %7.1f ms   p99 %7.1f ms   most %8.1f ms\n", name, len(list), at(.5), at(.95), at(.99), at(1))
	}
	for _, name := range names {
		line(name, b.took[name])
	}
	line("all but sign-in", all)
	fmt.Printf("answers by status %v; the longest time that nobody was answered %.2f s\n", b.statuses, b.stall.Seconds())
	for _, text := range b.odd {
		fmt.Println("odd:", text)
	}
}

// verify looks into a database for all that was answered: lost are readings that are not
// there, doubled what is there twice.
func (b *book) verify(ctx context.Context, db *sql.DB) (kept, lost, doubled int, err error) {
	b.mu.Lock()
	defer b.mu.Unlock()
	count := func(query string, args ...any) (n int) {
		if err == nil {
			err = db.QueryRowContext(ctx, query, args...).Scan(&n)
		}
		return n
	}
	for _, v := range b.visits {
		for _, id := range v.readings {
			// A reading of two stands as two rows under names made of its own.
			if count("SELECT COUNT(*) FROM deed WHERE id = ?", id) == 0 {
				lost++
				continue
			}
			kept++
		}
		events := count("SELECT COUNT(*) FROM event WHERE job_id = ? AND kind = 'reading_kept'", v.job)
		rows := count("SELECT COUNT(*) FROM reading WHERE job_id = ?", v.job)
		// What was sent last and not answered may be there as well: once.
		doubled += max(0, events-len(v.readings)-1) + max(0, rows-len(v.readings)-1)
		lost += max(0, len(v.readings)-rows)
		doubled += count("SELECT COUNT(*) - COUNT(DISTINCT battery_id, revision) FROM verdict WHERE job_id = ?", v.job)
		doubled += max(0, count("SELECT COUNT(*) FROM job_battery WHERE job_id = ?", v.job)-1)
	}
	return kept, lost, doubled, err
}
