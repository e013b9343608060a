package main

import (
	"bytes"
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"os/signal"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"grapnel/app/demo"
	"grapnel/app/localdb"
	"grapnel/app/record"
)

// TestMain lets the test binary be the grapnel that is killed: started with arguments in
// its environment it runs them.
func TestMain(m *testing.M) {
	if args := os.Getenv("GRAPNEL_TEST_RUN"); args != "" {
		ctx, stop := signal.NotifyContext(context.Background(), syscall.SIGTERM)
		code := run(ctx, strings.Fields(args), os.Stdin, os.Stdout, os.Stderr)
		stop()
		os.Exit(code)
	}
	os.Exit(m.Run())
}

// killed is a workshop whose server and database are killed while it is worked in.
type killed struct {
	t       *testing.T
	dir     string
	address string
	errs    bytes.Buffer

	mu      sync.Mutex
	process *exec.Cmd
	ended   chan struct{}
}

// begin starts the program, as a service manager would.
func (k *killed) begin() {
	cmd := exec.Command(os.Args[0])
	cmd.Env = append(os.Environ(), fmt.Sprintf("GRAPNEL_TEST_RUN=demo -address %s -data %s", k.address, k.dir))
	cmd.Stderr = &k.errs
	if err := cmd.Start(); err != nil {
		k.t.Error(err)
		return
	}
	ended := make(chan struct{})
	k.mu.Lock()
	k.process, k.ended = cmd, ended
	k.mu.Unlock()
	go func() {
		_ = cmd.Wait() // it is killed; that is its error
		close(ended)
	}()
}

// killServer kills the program outright; it is begun again.
func (k *killed) killServer() {
	_ = k.process.Process.Kill() // it may have ended by itself
	<-k.ended
	k.begin()
}

// killDatabase kills the database alone; the program is left to see to it.
func (k *killed) killDatabase() {
	text, err := os.ReadFile(filepath.Join(k.dir, "mariadbd.pid"))
	if err != nil {
		return // it is being started
	}
	if pid, err := strconv.Atoi(string(text)); err == nil {
		_ = syscall.Kill(pid, syscall.SIGKILL)
	}
}

// healthy waits until the workshop is served again by itself.
func (k *killed) healthy(patience time.Duration) {
	deadline := time.Now().Add(patience)
	for {
		r, err := http.Get("http://" + k.address + "/healthz")
		if err == nil {
			r.Body.Close()
			if r.StatusCode == http.StatusOK {
				return
			}
		}
		if time.Now().After(deadline) {
			k.t.Fatalf("the workshop is not served again: %v\n%s", err, &k.errs)
		}
		time.Sleep(20 * time.Millisecond)
	}
}

// worker is somebody at a phone who taps until the tap was answered.
type worker struct {
	k      *killed
	client *http.Client
	// away counts the answers that said so, odd has those that nobody should see.
	away atomic.Int64
	odd  sync.Map
}

// put sends one deed until it is answered; out may be nil.
func (w *worker) put(method, path string, body, out any) {
	data, err := json.Marshal(body)
	if err != nil {
		w.k.t.Error(err)
		return
	}
	for deadline := time.Now().Add(3 * time.Minute); time.Now().Before(deadline); time.Sleep(15 * time.Millisecond) {
		request, err := http.NewRequest(method, "http://"+w.k.address+path, bytes.NewReader(data))
		if err != nil {
			w.k.t.Error(err)
			return
		}
		request.Header.Set("Content-Type", "application/json")
		r, err := w.client.Do(request)
		if err != nil {
			continue // the line is down
		}
		text, err := io.ReadAll(r.Body)
		r.Body.Close()
		switch {
		case err != nil:
		case r.StatusCode < 300:
			if out != nil {
				if err := json.Unmarshal(text, out); err != nil {
					w.k.t.Errorf("%s %s: %v", method, path, err)
				}
			}
			return
		case r.StatusCode == http.StatusServiceUnavailable && r.Header.Get("Retry-After") != "":
			w.away.Add(1)
		default:
			w.odd.Store(fmt.Sprintf("%s %s: %s %s", method, path, r.Status, text), true)
			return
		}
	}
	w.k.t.Errorf("%s %s was never answered", method, path)
}

// visit is what one worker did on one job.
type visit struct {
	job      string
	readings []string
	answers  int
}

// work brings a battery in, takes readings, corrects one and answers a step.
func (w *worker) work(readings int) visit {
	v := visit{job: record.NewID().String()}
	battery := record.NewID().String()
	label := map[string]any{"chemistry": "flooded", "nominal_v": 12, "rating": map[string]any{"value": 540, "standard": "EN"}}
	w.put("POST", "/api/jobs", map[string]any{"id": v.job, "batteries": []any{map[string]any{"id": battery, "label": label}}}, nil)
	for n := range readings {
		id := record.NewID().String()
		line := fmt.Sprintf("12.%02d v 18c rested 2h", 40+n%40)
		body := map[string]any{"battery_id": battery, "line": line, "taken_at": time.Now().UTC()}
		w.put("PUT", "/api/jobs/"+v.job+"/readings/"+id, body, nil)
		if n%5 == 4 {
			w.put("PUT", "/api/jobs/"+v.job+"/readings/"+id, body, nil)
		}
		v.readings = append(v.readings, id)
	}
	w.put("POST", "/api/jobs/"+v.job+"/readings/"+v.readings[0]+"/correct", map[string]any{"id": record.NewID().String(), "line": "12.5 v 18c rested 2h", "reason": "misread"}, nil)
	w.put("PUT", "/api/jobs/"+v.job+"/answers/"+record.NewID().String(), map[string]any{"battery_id": battery, "code": "glasses", "value": "done", "at": time.Now().UTC()}, nil)
	v.answers = 1
	return v
}

// TestKilledAgainAndAgain kills the server or its database at random moments while
// four people work: nothing that was answered is lost, nothing is there twice, and the
// workshop is served again by itself. Whoever asks meanwhile is told to come again, or
// finds the line down.
func TestKilledAgainAndAgain(t *testing.T) {
	// Fifty of each: go run ./scripts/reliability kills.
	const kills, people = 10, 4
	k := &killed{t: t, dir: dataDir(t), address: freeAddress(t)}
	k.begin()
	defer func() {
		_ = k.process.Process.Signal(syscall.SIGTERM)
		<-k.ended
	}()
	k.healthy(time.Minute)
	jar, err := cookiejar.New(nil)
	if err != nil {
		t.Fatal(err)
	}
	w := &worker{k: k, client: &http.Client{Jar: jar, Timeout: 10 * time.Second}}
	mara := demo.SignIns()[0]
	w.put("POST", "/api/sign-in", map[string]string{"sign_in": mara.SignIn, "password": mara.Password}, nil)

	var ending atomic.Bool
	var mu sync.Mutex
	var visits []visit
	var all sync.WaitGroup
	for range people {
		all.Go(func() {
			for !ending.Load() {
				v := w.work(12)
				mu.Lock()
				visits = append(visits, v)
				mu.Unlock()
			}
		})
	}
	for n := range kills {
		time.Sleep(time.Duration(rand.IntN(600)) * time.Millisecond) // the moment is random; it is waited for nothing
		if n%3 == 0 {
			k.killServer()
		} else {
			k.killDatabase()
		}
		// Half the time the next blow falls while the last is still being got over.
		if rand.IntN(2) == 0 {
			k.healthy(time.Minute)
		}
	}
	k.healthy(time.Minute)
	ending.Store(true)
	all.Wait()
	w.odd.Range(func(said, _ any) bool { t.Error(said); return true })
	t.Logf("%d visits, %d answers of “come again”", len(visits), w.away.Load())
	k.verify(visits)
	if t.Failed() {
		// What the database said of itself tells whether it lost what it had acknowledged.
		if text, err := os.ReadFile(filepath.Join(k.dir, "mariadbd.log")); err == nil {
			t.Logf("mariadbd.log:\n%s", text)
		}
	}
}

// verify looks into the database itself.
func (k *killed) verify(visits []visit) {
	k.t.Helper()
	dsn, err := localdb.Attach(k.dir)
	if err != nil {
		k.t.Fatal(err)
	}
	db, err := sql.Open("mysql", dsn)
	if err != nil {
		k.t.Fatal(err)
	}
	defer db.Close()
	count := func(query string, args ...any) (n int) {
		k.t.Helper()
		if err := db.QueryRow(query, args...).Scan(&n); err != nil {
			k.t.Fatal(query, err)
		}
		return n
	}
	for _, v := range visits {
		id, err := record.ParseID(v.job)
		if err != nil {
			k.t.Fatal(err)
		}
		job := id[:]
		for _, one := range []struct {
			what, query string
			want        int
		}{
			{"batteries", "SELECT COUNT(*) FROM job_battery WHERE job_id = ?", 1},
			{"rows of readings", "SELECT COUNT(*) FROM reading WHERE job_id = ?", len(v.readings) + 1},
			{"readings kept", "SELECT COUNT(DISTINCT root_id) FROM reading WHERE job_id = ?", len(v.readings)},
			{"events of readings", "SELECT COUNT(*) FROM event WHERE job_id = ? AND kind = 'reading_kept'", len(v.readings)},
			{"corrections", "SELECT COUNT(*) FROM event WHERE job_id = ? AND kind = 'reading_corrected'", 1},
			{"events of bringing in", "SELECT COUNT(*) FROM event WHERE job_id = ? AND kind = 'brought_in'", 1},
			{"answers", "SELECT COUNT(*) FROM answer WHERE job_id = ?", v.answers},
			{"rows of the board", "SELECT COUNT(*) FROM job_state WHERE job_id = ?", 1},
			{"verdicts twice at a revision", "SELECT COUNT(*) - COUNT(DISTINCT battery_id, revision) FROM verdict WHERE job_id = ?", 0},
			{"revisions without a verdict", "SELECT job.revision - MAX(verdict.revision) FROM job JOIN verdict ON verdict.job_id = job.id WHERE job.id = ? GROUP BY job.id", 0},
		} {
			if got := count(one.query, job); got != one.want {
				k.t.Errorf("job %s: %d %s, want %d", v.job, got, one.what, one.want)
			}
		}
		for _, r := range v.readings {
			reading, err := record.ParseID(r)
			if err != nil {
				k.t.Fatal(err)
			}
			if count("SELECT COUNT(*) FROM reading WHERE id = ?", reading[:]) != 1 {
				k.t.Errorf("a reading that was answered is lost: %s", r)
			}
		}
	}
}

// freeAddress is an address on loopback that nobody listens on.
func freeAddress(t *testing.T) string {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer l.Close()
	return l.Addr().String()
}
