package web_test

import (
	"encoding/json"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"regexp"
	"slices"
	"strings"
	"testing"

	"grapnel/app/demo"
	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/app/web"
)

// visitedAs is another browser at the same server; the empty role is signed out.
func (v *visitor) visitedAs(role people.Role) *visitor {
	v.t.Helper()
	jar, err := cookiejar.New(nil)
	if err != nil {
		v.t.Fatal(err)
	}
	other := &visitor{v.t, v.base, &http.Client{Jar: jar}, v.handler, ""}
	for _, p := range demo.SignIns() {
		if p.Role == string(role) {
			other.signIn(p.SignIn, p.Password)
		}
	}
	return other
}

func (v *visitor) signIn(name, password string) {
	v.t.Helper()
	if r := v.call("POST", "/api/sign-in", map[string]string{"sign_in": name, "password": password}, nil); r.StatusCode != http.StatusOK {
		v.t.Fatalf("%s: %s", name, r.Status)
	}
}

// served is one operation as it is served.
type served struct{ id, method, path string }

// plainOperations are those that are no JSON in and out, and so stand in no description.
var plainOperations = []served{
	{"description", "GET", "/openapi.json"}, {"events", "GET", "/events"}, {"keepPhoto", "PUT", "/jobs/{job}/photos/{photo}"},
	{"photo", "GET", "/photos/{photo}"}, {"calendar", "GET", "/calendar.ics"},
}

// operations lists all that is served.
func operations(t *testing.T) []served {
	t.Helper()
	text, err := web.OpenAPI("test")
	if err != nil {
		t.Fatal(err)
	}
	var d struct {
		Paths map[string]map[string]struct {
			OperationID string `json:"operationId"`
		}
	}
	if err := json.Unmarshal(text, &d); err != nil {
		t.Fatal(err)
	}
	list := slices.Clone(plainOperations)
	for path, methods := range d.Paths {
		for method, op := range methods {
			list = append(list, served{op.OperationID, strings.ToUpper(method), path})
		}
	}
	return list
}

var inPath = regexp.MustCompile(`\{[a-z]+\}`)

// unread is the body of a request that must not be looked at.
type unread struct{ was bool }

func (u *unread) Read([]byte) (int, error) {
	u.was = true
	return 0, http.ErrBodyReadAfterClose
}

// TestRightsAreKept asks for every operation that is served as everybody there is: who may
// not is told so before anything of the body is read, who may is not; and the table has
// what is served, no more and no less.
func TestRightsAreKept(t *testing.T) {
	v := demoVisitor(t)
	list := operations(t)
	named := make([]string, len(list))
	for i, op := range list {
		named[i] = op.id
	}
	slices.Sort(named)
	table := slices.Sorted(slices.Values(people.Operations()))
	if !slices.Equal(named, table) {
		t.Errorf("served:\n%v\nin the table:\n%v", named, table)
	}
	// These end the session that asks, or never end; others see to them.
	leaving := []string{"signOut", "events"}
	for _, role := range []people.Role{people.Nobody, people.Counter, people.Technician, people.Owner} {
		as := v.visitedAs(role)
		for _, op := range list {
			may := role.May(op.id)
			if may && slices.Contains(leaving, op.id) {
				continue
			}
			path := inPath.ReplaceAllStringFunc(op.path, func(string) string { return record.NewID().String() })
			request, err := http.NewRequestWithContext(t.Context(), op.method, v.base+"/api"+path, strings.NewReader(`{}`))
			if err != nil {
				t.Fatal(err)
			}
			request.Header.Set("Content-Type", "application/json")
			body := &unread{}
			r := as.serve(request, body)
			refused := r.StatusCode == http.StatusUnauthorized || r.StatusCode == http.StatusForbidden && op.id != "setUp"
			want := map[bool]int{true: http.StatusUnauthorized, false: http.StatusForbidden}[role == people.Nobody]
			if refused == may || !may && r.StatusCode != want {
				t.Errorf("%q %s: %s", role, op.id, r.Status)
			}
			if !may && body.was {
				t.Errorf("%q %s: the body was read first", role, op.id)
			}
		}
	}
}

// serve has a request answered in this process with a body that tells whether it was read,
// by whoever this visitor is.
func (v *visitor) serve(request *http.Request, body *unread) *http.Response {
	v.t.Helper()
	for _, c := range v.client.Jar.Cookies(request.URL) {
		request.AddCookie(c)
	}
	if request.Method != http.MethodGet {
		request.Body, request.ContentLength = io.NopCloser(body), -1
	}
	request.RemoteAddr = "127.0.0.1:9"
	answer := httptest.NewRecorder()
	v.handler.ServeHTTP(answer, request)
	return answer.Result()
}

// TestHelloSaysWhatMay checks that the screens are told what whoever is signed in may do.
func TestHelloSaysWhatMay(t *testing.T) {
	v := demoVisitor(t)
	for _, role := range []people.Role{people.Nobody, people.Counter, people.Owner} {
		var hello web.Hello
		v.visitedAs(role).call("GET", "/api/hello", nil, &hello)
		if !slices.Equal(hello.May, role.Rights()) || slices.Contains(hello.May, "clearStop") != (role == people.Owner) {
			t.Errorf("%q: %v", role, hello.May)
		}
	}
}
