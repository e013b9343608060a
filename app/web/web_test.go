package web_test

import (
	"bytes"
	"compress/gzip"
	"database/sql"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"grapnel/app/demo"
	"grapnel/app/localdb/dbtest"
	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/web"
	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
)

func TestMain(m *testing.M) { dbtest.Main(m) }

const setUpCode = "OPENSESAME"

// visitor is a browser without a screen: it keeps its cookies.
type visitor struct {
	t      testing.TB
	base   string
	client *http.Client
	// handler is the server itself.
	handler http.Handler
	// agent is what the browser says that it is; empty for nothing of its own.
	agent string
}

func newVisitor(t testing.TB, db *sql.DB) *visitor {
	t.Helper()
	return newVisitorWith(t, db, web.Config{})
}

// newVisitorWith visits a server that behaves as configured.
func newVisitorWith(t testing.TB, db *sql.DB, config web.Config) *visitor {
	t.Helper()
	config.Release, config.SetUpCode = "test", setUpCode
	if config.Log == nil {
		config.Log = slog.New(slog.DiscardHandler)
	}
	handler, err := web.New(db, config)
	if err != nil {
		t.Fatal(err)
	}
	server := httptest.NewServer(handler)
	t.Cleanup(func() { handler.EndStreams(); server.Close(); handler.Close() })
	jar, err := cookiejar.New(nil)
	if err != nil {
		t.Fatal(err)
	}
	return &visitor{t, server.URL, &http.Client{Jar: jar}, handler, ""}
}

// call sends JSON and reads JSON.
func (v *visitor) call(method, path string, in, out any) *http.Response {
	v.t.Helper()
	var body io.Reader
	switch x := in.(type) {
	case nil:
	case string:
		body = strings.NewReader(x)
	default:
		data, err := json.Marshal(in)
		if err != nil {
			v.t.Fatal(err)
		}
		body = bytes.NewReader(data)
	}
	request, err := http.NewRequestWithContext(v.t.Context(), method, v.base+path, body)
	if err != nil {
		v.t.Fatal(err)
	}
	request.Header.Set("Content-Type", "application/json")
	if v.agent != "" {
		request.Header.Set("User-Agent", v.agent)
	}
	response, err := v.client.Do(request)
	if err != nil {
		v.t.Fatal(err)
	}
	defer response.Body.Close()
	data, err := io.ReadAll(response.Body)
	if err != nil {
		v.t.Fatal(err)
	}
	if out != nil {
		if err := json.Unmarshal(data, out); err != nil {
			v.t.Fatalf("%s %s: %v in %s", method, path, err, data)
		}
	}
	return response
}

// demoVisitor is signed in to the demo workshop as its owner.
func demoVisitor(t testing.TB) *visitor {
	t.Helper()
	return demoVisitorWith(t, web.Config{})
}

func demoVisitorWith(t testing.TB, config web.Config) *visitor {
	t.Helper()
	db := dbtest.Filled(t, demo.Fill)
	v := newVisitorWith(t, db, config)
	p := demo.SignIns()[0]
	if r := v.call("POST", "/api/sign-in", map[string]string{"sign_in": p.SignIn, "password": p.Password}, nil); r.StatusCode != 200 {
		t.Fatal(r.Status)
	}
	return v
}

func (v *visitor) jobOf(plate string) record.ID {
	v.t.Helper()
	var today shop.Today
	v.call("GET", "/api/today", nil, &today)
	for _, row := range append(today.Open, today.Closed...) {
		if row.Plate == plate {
			return row.Job.ID
		}
	}
	v.t.Fatalf("no job of %s", plate)
	return record.ID{}
}

// TestFirstStart checks the one-time set-up: guarded by its code, done once,
// and signing the owner in.
func TestFirstStart(t *testing.T) {
	v := newVisitor(t, dbtest.Open(t))
	var hello web.Hello
	if v.call("GET", "/api/hello", nil, &hello); !hello.NeedsSetUp {
		t.Fatal("an empty shop does not ask to be set up")
	}
	form := map[string]string{"code": "guess", "shop_name": "Lockside", "time_zone": "Europe/London", "name": "Ada", "sign_in": "ada", "password": "ten letters at least"}
	var problem web.Problem
	if r := v.call("POST", "/api/set-up", form, &problem); r.StatusCode != 403 || problem.Errors[0].Field != "code" {
		t.Errorf("a wrong code: %s %+v", r.Status, problem)
	}
	form["code"], form["time_zone"], form["password"] = setUpCode, "Moon", "short"
	if r := v.call("POST", "/api/set-up", form, &problem); r.StatusCode != 422 || len(problem.Errors) != 2 {
		t.Errorf("bad fields: %s %+v", r.Status, problem)
	}
	form["time_zone"], form["password"] = "Europe/London", "ten letters at least"
	r := v.call("POST", "/api/set-up", form, &hello)
	if r.StatusCode != 200 || hello.Person == nil || hello.Person.Role != people.Owner {
		t.Fatalf("%s %+v", r.Status, hello)
	}
	cookie := r.Header.Get("Set-Cookie")
	if !strings.Contains(cookie, "HttpOnly") || !strings.Contains(cookie, "SameSite=Strict") {
		t.Errorf("cookie %q", cookie)
	}
	if r := v.call("POST", "/api/set-up", form, nil); r.StatusCode != 409 {
		t.Errorf("set up twice: %s", r.Status)
	}
	if r := v.call("POST", "/api/sign-out", nil, nil); r.StatusCode != 200 {
		t.Error(r.Status)
	}
	if r := v.call("GET", "/api/today", nil, &problem); r.StatusCode != 401 || problem.RequestID == "" || r.Header.Get("Content-Type") != "application/problem+json" {
		t.Errorf("signed out: %s %+v", r.Status, problem)
	}
}

// TestGuards checks security headers, cross-site protection and the limit on
// sign-in attempts.
func TestGuards(t *testing.T) {
	v := newVisitor(t, dbtest.Open(t))
	r := v.call("GET", "/healthz", nil, nil)
	policy := r.Header.Get("Content-Security-Policy")
	if r.StatusCode != 200 || !strings.Contains(policy, "default-src 'none'") || strings.Contains(policy, "'unsafe-") || r.Header.Get("X-Content-Type-Options") != "nosniff" {
		t.Errorf("%s, policy %q", r.Status, policy)
	}
	if r := v.call("GET", "/readyz", nil, nil); r.StatusCode != 200 {
		t.Errorf("not ready: %s", r.Status)
	}
	request, err := http.NewRequestWithContext(t.Context(), "POST", v.base+"/api/sign-in", strings.NewReader(`{}`))
	if err != nil {
		t.Fatal(err)
	}
	request.Header.Set("Sec-Fetch-Site", "cross-site")
	if r, err := v.client.Do(request); err != nil || r.StatusCode != 403 {
		t.Errorf("a cross-site post: %v %v", r.Status, err)
	}
	last := 0
	for range 12 {
		last = v.call("POST", "/api/sign-in", map[string]string{"sign_in": "ada", "password": "guess"}, nil).StatusCode
	}
	if last != 429 {
		t.Errorf("twelve guesses in a row end with %d", last)
	}
}

// TestFrontEnd checks that addresses of ours give the page with this request's
// nonce, and that what does not exist is said not to.
func TestFrontEnd(t *testing.T) {
	v := newVisitor(t, dbtest.Open(t))
	for _, path := range []string{"/", "/jobs/1", "/bring-in"} {
		r := v.call("GET", path, nil, nil)
		if r.StatusCode != 200 || !strings.HasPrefix(r.Header.Get("Content-Type"), "text/html") {
			t.Errorf("%s: %s", path, r.Status)
		}
	}
	if r := v.call("GET", "/assets/none.js", nil, nil); r.StatusCode != 404 {
		t.Errorf("a missing file: %s", r.Status)
	}
	if r := v.call("GET", "/api/none", nil, nil); r.StatusCode != 404 {
		t.Errorf("a missing operation: %s", r.Status)
	}
}

// parity are the cases that command, API and screen must answer alike.
var parity = map[string]string{
	`"rating":{"value":650,"standard":"SAE"}},"readings":["594/650 cca 12.0v"]`:                            "charge_and_retest",
	`"rating":{"value":590,"standard":"SAE"}},"readings":["320/590 cca"]`:                                  "charge_and_retest",
	`"rating":{"value":650,"standard":"SAE"}},"readings":["12.24 v rested 2h","load 325a 15s 9.3v"]`:       "charge_and_retest",
	`"rating":{"value":650,"standard":"SAE"}},"readings":["12.65 v 21c rested 2h","load 325a 15s 8.9v"]`:   "replace",
	`"rating":{"value":650,"standard":"SAE"}},"readings":["12.2 v rested 2h","load 325a 15s 9.75v"]`:       "look_elsewhere",
	`"rating":null},"readings":["12.65 v 21c rested 2h","load 325a 15s 8.9v"],"vehicle":{"kind":"mower"}`:  "more_tests",
	`"rating":{"value":650,"standard":"SAE"}},"readings":["look crack","12.2 v"],"symptom":["slow_crank"]`: "stop_unsafe",
}

// TestAssessParity checks that the API gives the very bytes the core gives.
func TestAssessParity(t *testing.T) {
	v := demoVisitor(t)
	for rest, action := range parity {
		in := `{"battery":{"chemistry":"flooded","nominal_v":12,` + rest + `}`
		c, err := evidence.Decode(strings.NewReader(in))
		if err != nil {
			t.Fatal(err)
		}
		want, err := json.Marshal(diagnosis.New().Assess(c))
		if err != nil {
			t.Fatal(err)
		}
		var got json.RawMessage
		v.call("POST", "/api/assess", in, &got)
		if !bytes.Equal(bytes.TrimSpace(got), want) {
			t.Errorf("%s: the API says %.200s, the core %.200s", rest, got, want)
		}
		var a diagnosis.Assessment
		if err := json.Unmarshal(got, &a); err != nil || string(a.Verdict.Action) != action {
			t.Errorf("%s: got %s, want %s (%v)", rest, a.Verdict.Action, action, err)
		}
	}
	var problem web.Problem
	if r := v.call("POST", "/api/assess", `{"battery":{"chemistry":"agm","nominal_v":12},"readings":[{"kind":"load","amps":-1,"seconds":15,"volts":9}]}`, &problem); r.StatusCode != 422 || problem.Errors[0].Field != "readings[0].amps" || problem.Errors[0].Allowed == "" {
		t.Errorf("%s %+v", r.Status, problem)
	}
}

// TestKeepOverHTTP checks preview, keeping, keeping again, and a refused line.
func TestKeepOverHTTP(t *testing.T) {
	v := demoVisitor(t)
	job := v.jobOf("HL 5 RYE")
	path := fmt.Sprintf("/api/jobs/%s", job)
	var preview record.Preview
	r := v.call("POST", path+"/preview", map[string]any{"line": "12.6 v rested 2h", "battery_id": record.ID{}}, &preview)
	if r.StatusCode != 200 || preview.Stage != "charge_state" || !preview.Findings[0].Valid || len(preview.Understood) != 2 {
		t.Errorf("%s %+v", r.Status, preview)
	}
	reading := path + "/readings/" + record.NewID().String()
	body := map[string]any{"line": "12.6 v rested 2h", "battery_id": record.ID{}, "taken_at": time.Now()}
	var first, again web.KeptAnswer
	v.call("PUT", reading, body, &first)
	v.call("PUT", reading, body, &again)
	if n := len(again.Page.Batteries[0].Readings); n != 2 || again.Kept != first.Kept {
		t.Errorf("%d readings, %+v then %+v", n, first.Kept, again.Kept)
	}
	body["line"] = "120 v"
	var problem web.Problem
	if r := v.call("PUT", path+"/readings/"+record.NewID().String(), body, &problem); r.StatusCode != 422 || problem.Errors[0].Suggest[0] != "12 v" {
		t.Errorf("%s %+v", r.Status, problem)
	}
	if r := v.call("PUT", path+"/readings/not-an-id", body, &problem); r.StatusCode != 422 {
		t.Errorf("an ID that is none: %s", r.Status)
	}
	if r := v.call("GET", "/api/jobs/"+record.NewID().String(), nil, &problem); r.StatusCode != 404 {
		t.Errorf("a job that is none: %s", r.Status)
	}
}

// mostFirstLoad is the most the first page's scripts and styles may weigh, in
// bytes of gzip.
const mostFirstLoad = 180_000

// TestFirstLoad weighs what the first page brings with it.
func TestFirstLoad(t *testing.T) {
	page, err := os.ReadFile(filepath.Join("dist", "index.html"))
	if err != nil {
		t.Skip("the front end is not built; make test builds it")
	}
	total := 0
	for _, match := range regexp.MustCompile(`(?:src|href)="/(assets/[^"]+\.(?:js|css))"`).FindAllSubmatch(page, -1) {
		data, err := os.ReadFile(filepath.Join("dist", string(match[1])))
		if err != nil {
			t.Fatal(err)
		}
		var packed bytes.Buffer
		w := gzip.NewWriter(&packed)
		if _, err := w.Write(data); err != nil {
			t.Fatal(err)
		}
		if err := w.Close(); err != nil {
			t.Fatal(err)
		}
		total += packed.Len()
	}
	t.Logf("first load: %d bytes of gzip", total)
	if total == 0 || total > mostFirstLoad {
		t.Errorf("%d bytes of scripts and styles, at most %d", total, mostFirstLoad)
	}
}

// TestDescriptionIsCurrent checks that the committed description of the API is
// the one made from the Go types, and the TypeScript types the ones made from it.
func TestDescriptionIsCurrent(t *testing.T) {
	folder := filepath.Join("..", "..", "web", "src", "api", "gen")
	want, err := web.OpenAPI("dev")
	if err != nil {
		t.Fatal(err)
	}
	got, err := os.ReadFile(filepath.Join(folder, "openapi.json"))
	if err != nil || !bytes.Equal(bytes.TrimSpace(got), want) {
		t.Errorf("web/src/api/gen/openapi.json is stale (%v): run make api", err)
	}
	tool := filepath.Join("..", "..", "web", "node_modules", ".bin", "openapi-typescript")
	if _, err := os.Stat(tool); err != nil {
		t.Skip("the front end's packages are not installed; make test installs them")
	}
	made := filepath.Join(t.TempDir(), "schema.d.ts")
	if out, err := exec.CommandContext(t.Context(), tool, filepath.Join(folder, "openapi.json"), "-o", made).CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, out)
	}
	fresh, errFresh := os.ReadFile(made)
	types, errTypes := os.ReadFile(filepath.Join(folder, "schema.d.ts"))
	if errFresh != nil || errTypes != nil || !bytes.Equal(fresh, types) {
		t.Error("web/src/api/gen/schema.d.ts is stale: run make api")
	}
}
