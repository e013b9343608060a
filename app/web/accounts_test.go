package web_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"log/slog"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/pquerna/otp/totp"

	"grapnel/app/demo"
	"grapnel/app/localdb/dbtest"
	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/app/web"
)

const anySecret = "blue heron on the lock"

// hire has the owner add somebody, and gives their browser, signed in.
func (v *visitor) hire(signIn string, role people.Role) (people.Person, *visitor) {
	v.t.Helper()
	var p people.Person
	body := map[string]any{"id": record.NewID(), "name": "Tam " + signIn, "sign_in": signIn, "role": role, "password": anySecret}
	if r := v.call("POST", "/api/people", body, &p); r.StatusCode != http.StatusOK {
		v.t.Fatal(r.Status)
	}
	other := v.visitedAs(people.Nobody)
	other.signIn(signIn, anySecret)
	return p, other
}

// TestPeopleOverHTTP has the owner switch somebody off and on, hand out a code, and sign
// them out; whoever has the code sets another password with it.
func TestPeopleOverHTTP(t *testing.T) {
	v := demoVisitor(t)
	p, tam := v.hire("tam", people.Technician)
	open := func() bool { return tam.call("GET", "/api/today", nil, nil).StatusCode == http.StatusOK }
	path := "/api/people/" + p.ID.String()
	change := func(role people.Role, active bool) *http.Response {
		return v.call("PUT", path, map[string]any{"name": "Tam Reed", "role": role, "active": active}, &p)
	}
	if r := change(people.Counter, false); r.StatusCode != http.StatusOK || p.Active || open() {
		t.Errorf("switched off: %s %+v", r.Status, p)
	}
	var problem web.Problem
	if r := tam.call("POST", "/api/sign-in", map[string]string{"sign_in": "tam", "password": anySecret}, &problem); r.StatusCode != http.StatusUnauthorized {
		t.Errorf("in though switched off: %s", r.Status)
	}
	if r := change(people.Technician, true); r.StatusCode != http.StatusOK || !p.Active {
		t.Errorf("switched on: %s", r.Status)
	}
	tam.signIn("tam", anySecret)
	if r := v.call("DELETE", path+"/sessions", nil, nil); r.StatusCode != http.StatusOK || open() {
		t.Errorf("signed out by the owner: %s", r.Status)
	}
	var made shop.ResetCode
	v.call("POST", path+"/reset", nil, &made)
	reset := func(code, password string) *http.Response {
		return tam.call("POST", "/api/reset", map[string]string{"sign_in": "tam", "code": code, "password": password}, &problem)
	}
	if r := reset("AAAA-BBBB-CCCCC", "two herons on the lock"); r.StatusCode != http.StatusUnauthorized || problem.Errors[0].Field != "code" {
		t.Errorf("a wrong code: %s %+v", r.Status, problem)
	}
	if r := reset(made.Code, "tam1234567"); r.StatusCode != http.StatusUnprocessableEntity || problem.Errors[0].Field != "password" || strings.Contains(problem.Detail, "1234567") {
		t.Errorf("a password anybody tries: %s %+v", r.Status, problem)
	}
	if r := reset(made.Code, "two herons on the lock"); r.StatusCode != http.StatusOK || !open() {
		t.Errorf("the right code: %s", r.Status)
	}
	var mara people.Person
	var list []people.Person
	v.call("GET", "/api/people", nil, &list)
	for _, one := range list {
		if one.Role == people.Owner {
			mara = one
		}
	}
	if r := v.call("PUT", "/api/people/"+mara.ID.String(), map[string]any{"name": "Mara", "role": "counter", "active": true}, &problem); r.StatusCode != http.StatusUnprocessableEntity || problem.Errors[0].Field != "role" {
		t.Errorf("the only owner steps down: %s %+v", r.Status, problem)
	}
}

// TestOwnAccount lists sessions with where and when, ends them, changes a password and
// switches a second step on and off, as a browser does.
func TestOwnAccount(t *testing.T) {
	var heard bytes.Buffer
	v := demoVisitorWith(t, web.Config{Log: slog.New(slog.NewJSONHandler(&heard, nil))})
	_, tam := v.hire("tam", people.Technician)
	phone := v.visitedAs(people.Nobody)
	phone.agent = "Mozilla/5.0 (Linux; Android 14; K) Mobile Safari/537.36"
	phone.signIn("tam", anySecret)
	var list []people.Session
	tam.call("GET", "/api/me/sessions", nil, &list)
	if len(list) != 2 || list[0].Device != "phone, Android" || list[0].Address != "127.0.0.1" || list[0].Current || !list[1].Current {
		t.Fatalf("%+v", list)
	}
	if r := tam.call("DELETE", "/api/me/sessions/"+list[0].ID.String(), nil, &list); r.StatusCode != http.StatusOK || len(list) != 1 {
		t.Errorf("%s %+v", r.Status, list)
	}
	if r := phone.call("GET", "/api/today", nil, nil); r.StatusCode != http.StatusUnauthorized {
		t.Errorf("signed out elsewhere: %s", r.Status)
	}
	phone.signIn("tam", anySecret)
	if tam.call("DELETE", "/api/me/sessions", nil, &list); len(list) != 1 {
		t.Errorf("%+v", list)
	}
	phone.signIn("tam", anySecret)
	var problem web.Problem
	body := map[string]string{"had": "a guess at it", "password": "two herons on the lock"}
	if r := tam.call("POST", "/api/me/password", body, &problem); r.StatusCode != http.StatusUnprocessableEntity || problem.Errors[0].Field != "had" {
		t.Errorf("without knowing it: %s %+v", r.Status, problem)
	}
	body["had"] = anySecret
	if r := tam.call("POST", "/api/me/password", body, nil); r.StatusCode != http.StatusOK || phone.call("GET", "/api/today", nil, nil).StatusCode != http.StatusUnauthorized {
		t.Errorf("changed: %s", r.Status)
	}
	var begun web.SecondBegun
	if tam.call("POST", "/api/me/second", nil, &begun); !strings.HasPrefix(begun.URI, "otpauth://totp/") || begun.Side < 21 || begun.Path == "" {
		t.Errorf("%+v", begun)
	}
	code, err := totp.GenerateCode(begun.Secret, time.Now())
	if err != nil {
		t.Fatal(err)
	}
	var recovery web.RecoveryCodes
	if r := tam.call("PUT", "/api/me/second", map[string]string{"code": code}, &recovery); r.StatusCode != http.StatusOK || len(recovery.Codes) != 10 {
		t.Fatalf("%s %+v", r.Status, recovery)
	}
	enter := map[string]string{"sign_in": "tam", "password": "two herons on the lock"}
	if r := phone.call("POST", "/api/sign-in", enter, &problem); r.StatusCode != http.StatusUnauthorized || problem.Errors[0].Field != "second" {
		t.Errorf("the second step is not asked for: %s %+v", r.Status, problem)
	}
	enter["second"] = "000000"
	if r := phone.call("POST", "/api/sign-in", enter, &problem); r.StatusCode != http.StatusUnauthorized || problem.Errors[0].Field != "second" {
		t.Errorf("a wrong second: %s %+v", r.Status, problem)
	}
	enter["second"] = recovery.Codes[0]
	if r := phone.call("POST", "/api/sign-in", enter, nil); r.StatusCode != http.StatusOK {
		t.Errorf("by a recovery code: %s", r.Status)
	}
	if r := phone.call("POST", "/api/me/second/off", map[string]string{"had": enter["password"]}, nil); r.StatusCode != http.StatusOK {
		t.Errorf("off: %s", r.Status)
	}
	phone.call("POST", "/api/sign-out", nil, nil)
	v.visitedAs(people.Counter).call("POST", "/api/people", map[string]any{}, nil)
	for _, line := range []string{`"signed in","person":"tam","address":"127.0.0.1","request_id"`, "sign-in refused", "password changed", "signed out", `"refused","person":"edda","role":"counter","operation":"addPerson"`} {
		if !strings.Contains(heard.String(), line) {
			t.Errorf("the log does not say %s", line)
		}
	}
	for _, secret := range []string{anySecret, "herons", "a guess", begun.Secret, recovery.Codes[0]} {
		if strings.Contains(heard.String(), secret) {
			t.Errorf("the log says %q", secret)
		}
	}
}

// TestCookie checks what the session's cookie is like over TLS and without, and that what is
// stored opens nothing.
func TestCookie(t *testing.T) {
	for _, secure := range []bool{false, true} {
		db := dbtest.Filled(t, demo.Fill)
		v := newVisitorWith(t, db, web.Config{Secure: secure})
		p := demo.SignIns()[0]
		r := v.call("POST", "/api/sign-in", map[string]string{"sign_in": p.SignIn, "password": p.Password}, nil)
		if len(r.Cookies()) != 2 {
			t.Fatalf("%v", r.Cookies())
		}
		for _, c := range r.Cookies() {
			if !c.HttpOnly || c.SameSite != http.SameSiteStrictMode || c.Secure != secure || c.Path != "/" || c.Domain != "" || strings.HasPrefix(c.Name, "__Host-") != secure {
				t.Errorf("%+v", c)
			}
			var n int
			const stored = "SELECT (SELECT COUNT(*) FROM sessions WHERE token = ?) + (SELECT COUNT(*) FROM known_device WHERE hash = ?)"
			if err := db.QueryRowContext(t.Context(), stored, c.Value, c.Value).Scan(&n); err != nil || n != 0 {
				t.Errorf("what %s holds is stored itself: %d, %v", c.Name, n, err)
			}
		}
		at := slices.IndexFunc(r.Cookies(), func(c *http.Cookie) bool { return !strings.HasSuffix(c.Name, "-device") })
		c := r.Cookies()[at]
		if secure {
			continue
		}
		var stored string
		if err := db.QueryRowContext(t.Context(), "SELECT token FROM sessions LIMIT 1").Scan(&stored); err != nil {
			t.Fatal(err)
		}
		thief := v.visitedAs(people.Nobody)
		home, err := url.Parse(v.base)
		if err != nil {
			t.Fatal(err)
		}
		thief.client.Jar.SetCookies(home, []*http.Cookie{{Name: c.Name, Value: stored}})
		if r := thief.call("GET", "/api/today", nil, nil); r.StatusCode != http.StatusUnauthorized {
			t.Errorf("what is stored opens: %s", r.Status)
		}
	}
}

// TestManyGuesses has a hundred and fifty try at once: all are answered, none is let in, and
// few are worked on at a time.
func TestManyGuesses(t *testing.T) {
	v := demoVisitor(t)
	statuses := make(chan int, 150)
	for n := range 150 {
		go func() {
			jar, _ := cookiejar.New(nil)
			other := &visitor{t: t, base: v.base, client: &http.Client{Jar: jar}}
			statuses <- other.call("POST", "/api/sign-in", map[string]string{"sign_in": "mara", "password": fmt.Sprint("a guess ", n)}, nil).StatusCode
		}()
	}
	count := map[int]int{}
	for range 150 {
		count[<-statuses]++
	}
	// Four at a time may be under way when the fifth failure is written down.
	if count[http.StatusUnauthorized] > 5+4 || count[http.StatusUnauthorized]+count[http.StatusTooManyRequests] != 150 {
		t.Errorf("%v", count)
	}
}

// TestStreams checks that a stream ends with its session, and that a session has no more
// than it may.
func TestStreams(t *testing.T) {
	v := demoVisitorWith(t, web.Config{Ping: 50 * time.Millisecond})
	p, tam := v.hire("tam", people.Technician)
	var streams []*stream
	for range 10 {
		streams = append(streams, tam.listen(""))
	}
	var problem web.Problem
	if r := tam.call("GET", "/api/events", nil, &problem); r.StatusCode != http.StatusTooManyRequests || problem.Detail == "" {
		t.Errorf("the eleventh: %s", r.Status)
	}
	streams[0].body.Close()
	freed := func() bool { // the server finds out when it says that it is there
		request, err := http.NewRequestWithContext(t.Context(), http.MethodGet, tam.base+"/api/events", nil)
		if err != nil {
			t.Fatal(err)
		}
		r, err := tam.client.Do(request)
		if err != nil {
			t.Fatal(err)
		}
		r.Body.Close()
		return r.StatusCode == http.StatusOK
	}
	for end := time.Now().Add(10 * time.Second); !freed(); time.Sleep(20 * time.Millisecond) {
		if time.Now().After(end) {
			t.Fatal("the place of a stream that has gone is not given back")
		}
	}
	other := v.listen("")
	v.call("DELETE", "/api/people/"+p.ID.String()+"/sessions", nil, nil)
	ended := time.After(10 * time.Second)
	for {
		select {
		case _, open := <-streams[1].events:
			if open {
				continue
			}
		case <-ended:
			t.Fatal("a stream goes on when its session has ended")
		}
		break
	}
	other.next(t, "ping")
}

// TestHosts checks that only names of ours are answered to, and addresses in figures.
func TestHosts(t *testing.T) {
	v := demoVisitorWith(t, web.Config{Hosts: []string{"bench.local", "grapnel.example"}})
	for host, want := range map[string]int{
		"127.0.0.1:8040": 200, "[::1]:8040": 200, "localhost": 200, "Bench.Local:8040": 200, "grapnel.example.": 200, "192.168.4.7": 200,
		"evil.example": 421, "bench.local.evil.example": 421, "": 421, "127.0.0.1.evil.example:8040": 421,
	} {
		request := mustRequest(t, "GET", v.base+"/api/hello", "", "")
		request.Host = host
		if r := v.serve(request, &unread{}); r.StatusCode != want {
			t.Errorf("%q: %s", host, r.Status)
		}
		for _, path := range []string{"/metrics", "/debug/pprof/", "/debug/pprof/symbol"} {
			out := httptest.NewRecorder()
			request := httptest.NewRequest("GET", path, nil)
			request.Host = host
			if v.handler.(*web.Server).Metrics().ServeHTTP(out, request); out.Code != want {
				t.Errorf("%s at %q: %d", path, host, out.Code)
			}
		}
	}
}

// TestForwarded checks whose word on who called is believed: a proxy's of ours, of all it
// says the last hop that is not ours, by one header, never by two that may disagree.
func TestForwarded(t *testing.T) {
	const older, standard = "X-Forwarded-For", "Forwarded"
	for _, c := range []struct{ proxies, remote, header, value, want string }{
		{"", "127.0.0.1:9", older, "192.168.1.7", "127.0.0.1"},
		{"127.0.0.1", "127.0.0.1:9", older, "8.8.4.4, 192.168.1.7", "192.168.1.7"},
		{"127.0.0.1", "127.0.0.1:9", standard, "for=8.8.4.4;proto=https, For=192.168.1.7", "192.168.1.7"},
		{"127.0.0.1", "127.0.0.1:9", standard, `for="[fd00::7]:4711"`, "fd00::7"},
		{"127.0.0.1, 10.0.0.0/24", "127.0.0.1:9", older, "192.168.1.7, 10.0.0.3", "192.168.1.7"},
		{"10.0.0.0/24", "127.0.0.1:9", older, "192.168.1.7", "127.0.0.1"},
		{"::ffff:127.0.0.1", "127.0.0.1:9", older, "192.168.1.7", "192.168.1.7"},
		{"127.0.0.1", "127.0.0.1:9", older, "unknown", "127.0.0.1"},
		{"127.0.0.1", "127.0.0.1:9", "both", "192.168.1.7", "127.0.0.1"},
	} {
		proxies, err := web.Proxies(c.proxies)
		if err != nil {
			t.Fatal(err)
		}
		v := demoVisitorWith(t, web.Config{Proxies: proxies})
		body := fmt.Sprintf(`{"sign_in":%q,"password":%q}`, demo.SignIns()[1].SignIn, demo.SignIns()[1].Password)
		request := mustRequest(t, "POST", v.base+"/api/sign-in", body, "application/json")
		request.RemoteAddr = c.remote
		if c.header == "both" {
			request.Header.Set(older, c.value)
			request.Header.Set(standard, "for=192.168.1.8")
		} else {
			request.Header.Set(c.header, c.value)
		}
		jonah := v.visitedAs(people.Nobody)
		answer := httptest.NewRecorder()
		v.handler.ServeHTTP(answer, request)
		jonah.client.Jar.SetCookies(request.URL, answer.Result().Cookies())
		var list []people.Session
		if jonah.call("GET", "/api/me/sessions", nil, &list); len(list) != 1 || list[0].Address != c.want {
			t.Errorf("%+v: %+v", c, list)
		}
	}
	for _, wrong := range []string{"proxy.example", "10.0.0.0/99", "10.0.0", "127.0.0.1:80"} {
		if list, err := web.Proxies(wrong); err == nil || !strings.Contains(err.Error(), wrong) {
			t.Errorf("%s is taken: %v", wrong, list)
		}
	}
}

// TestSecretsAreNotSaidAgain checks that nothing that somebody gave for a password or a code
// comes back to them, however wrong what they sent is. No source: it is how the program is to
// behave.
func TestSecretsAreNotSaidAgain(t *testing.T) {
	v := demoVisitor(t)
	for _, c := range []struct{ path, body string }{
		{"/api/me/password", `{"had":"four claws hold","password":"` + strings.Repeat("herons", 40) + `"}`},
		{"/api/me/password", `{"had":"` + strings.Repeat("herons", 40) + `","password":"ten letters at least"}`},
		{"/api/me/password", `{"had":"four claws hold","password":["herons"]}`},
		{"/api/me/password", `{"had":"four claws hold","password":"herons"}`},
		{"/api/me/password", `{"had":"herons on the lock","password":"ten letters at least"}`},
		{"/api/sign-in", `{"sign_in":"mara","password":{"herons":1}}`},
		{"/api/sign-in", `{"sign_in":"mara","password":"herons`},
		{"/api/sign-in", `{"sign_in":"mara","password":"four claws hold","second":"` + strings.Repeat("herons", 9) + `"}`},
		{"/api/reset", `{"sign_in":"mara","code":"` + strings.Repeat("herons", 9) + `","password":"ten letters at least"}`},
		{"/api/people", `{"id":"` + record.NewID().String() + `","name":"Tam","sign_in":"tam","role":"technician","password":"herons"}`},
	} {
		status, text := v.text("POST", c.path, c.body)
		if status < 400 || strings.Contains(text, "heron") || strings.Contains(text, "validation failed") {
			t.Errorf("%s %.60s: %d %s", c.path, c.body, status, text)
		}
	}
}

// TestFromAnotherPage checks that what a page of another address asks for is not done, and
// that it is said what to do where that is a proxy's doing.
func TestFromAnotherPage(t *testing.T) {
	v := demoVisitor(t)
	request, err := http.NewRequestWithContext(t.Context(), http.MethodPost, v.base+"/api/sign-out", nil)
	if err != nil {
		t.Fatal(err)
	}
	request.Header.Set("Origin", "http://shop.invalid")
	r, err := v.client.Do(request)
	if err != nil {
		t.Fatal(err)
	}
	defer r.Body.Close()
	var problem web.Problem
	if err := json.NewDecoder(r.Body).Decode(&problem); err != nil || r.StatusCode != http.StatusForbidden || !strings.Contains(problem.Detail, "proxy") {
		t.Errorf("%s %+v %v", r.Status, problem, err)
	}
	if r := v.call("GET", "/api/today", nil, nil); r.StatusCode != http.StatusOK {
		t.Errorf("signed out by another page: %s", r.Status)
	}
}

// TestLockedOut has somebody guess at a name until it is heard no more, from the same address: a
// browser that it signed in on before still signs in, also after changing the password there.
func TestLockedOut(t *testing.T) {
	v := demoVisitor(t)
	_, tam := v.hire("tam", people.Technician)
	guess := v.visitedAs(people.Nobody)
	statuses := map[int]int{}
	for n := range 30 {
		statuses[guess.call("POST", "/api/sign-in", map[string]string{"sign_in": "TAM", "password": fmt.Sprint("a guess ", n)}, nil).StatusCode]++
	}
	if statuses[http.StatusTooManyRequests] < 20 {
		t.Fatalf("%v", statuses)
	}
	again := func(secret string, want int) {
		t.Helper()
		tam.call("POST", "/api/sign-out", nil, nil)
		if r := tam.call("POST", "/api/sign-in", map[string]string{"sign_in": "tam", "password": secret}, nil); r.StatusCode != want {
			t.Errorf("from the known browser: %s", r.Status)
		}
	}
	again(anySecret, http.StatusOK)
	const next = "grey heron on the weir"
	if r := tam.call("POST", "/api/me/password", map[string]string{"had": anySecret, "password": next}, nil); r.StatusCode != http.StatusOK {
		t.Fatal(r.Status)
	}
	again(next, http.StatusOK)
	if r := guess.call("POST", "/api/sign-in", map[string]string{"sign_in": "tam", "password": next}, nil); r.StatusCode != http.StatusTooManyRequests {
		t.Errorf("from another one: %s", r.Status)
	}
}
