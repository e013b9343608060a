package web

import (
	"context"
	"net"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humachi"
	"github.com/go-chi/chi/v5"
	"github.com/go-chi/httprate"
)

// Sign-in attempts allowed from one address.
const (
	signInTries  = 10
	signInWindow = time.Minute
)

// api registers every operation; the OpenAPI description is made from them.
func (s *Server) api(r chi.Router) {
	r.Use(s.limitSignIn, s.readyPage)
	api := humachi.New(r, apiConfig(s.config.Release))
	s.operations(api)
	r.Get("/openapi.json", s.description)
	r.Get("/events", s.events)
	r.Put("/jobs/{job}/photos/{photo}", s.keepPhoto)
	r.Get("/photos/{photo}", s.photo)
	r.Get("/calendar.ics", s.calendar)
}

func (s *Server) operations(api huma.API) {
	s.sessionAPI(api)
	s.peopleAPI(api)
	s.jobAPI(api)
	s.readingAPI(api)
	s.workAPI(api)
	s.instrumentAPI(api)
	s.placeAPI(api)
	s.stockAPI(api)
	s.standingAPI(api)
	s.shelfAPI(api)
	s.attemptsAPI(api)
	s.assessAPI(api)
	s.benchAPI(api)
}

// apiConfig keeps what huma would load from outside or add to answers away.
func apiConfig(release string) huma.Config {
	installProblems()
	config := huma.DefaultConfig("Grapnel", release)
	config.OpenAPIPath, config.DocsPath, config.SchemasPath = "", "", ""
	config.CreateHooks = nil
	config.Servers = []*huma.Server{{URL: "/api"}}
	return config
}

// peerAddress is who opened the connection. A forwarded header is believed of the
// proxy that a setting names, and of nobody else.
func (s *Server) peerAddress(r *http.Request) (string, error) {
	host, _, err := net.SplitHostPort(r.RemoteAddr)
	if err != nil {
		return r.RemoteAddr, nil
	}
	if s.config.Proxy != "" && host == s.config.Proxy {
		// The proxy adds who called it at the end; what stands before it anyone may write.
		list := strings.Split(r.Header.Get("X-Forwarded-For"), ",")
		if last := strings.TrimSpace(list[len(list)-1]); net.ParseIP(last) != nil {
			host = last
		}
	}
	return httprate.CanonicalizeIP(host), nil
}

// limitSignIn slows down guessing of passwords and of the set-up code.
func (s *Server) limitSignIn(next http.Handler) http.Handler {
	limited := httprate.LimitBy(signInTries, signInWindow, s.peerAddress,
		httprate.WithLimitHandler(func(w http.ResponseWriter, r *http.Request) {
			p := newProblem(http.StatusTooManyRequests, "Too many attempts from this device. Wait a minute, then try again.")
			p.RequestID = requestID(r.Context())
			p.write(w)
		}))(next)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method == http.MethodPost && (r.URL.Path == "/api/sign-in" || r.URL.Path == "/api/set-up") {
			limited.ServeHTTP(w, r)
			return
		}
		next.ServeHTTP(w, r)
	})
}

// answer is a JSON body.
type answer[T any] struct{ Body T }

// none is the input of an operation that takes nothing.
type none struct{}

// operation is one entry of the API.
type operation struct {
	method, path, id, about string
	// raw bodies are read by the core, which says better what is wrong with them.
	raw bool
}

// add registers an operation whose errors are the shop's or the core's.
func add[I, O any](s *Server, api huma.API, op operation, do func(context.Context, *I) (O, error)) {
	huma.Register(api, huma.Operation{
		OperationID: op.id, Method: op.method, Path: op.path, Summary: op.about, SkipValidateBody: op.raw,
		Errors: []int{http.StatusUnauthorized, http.StatusForbidden, http.StatusNotFound, http.StatusConflict, http.StatusUnprocessableEntity},
	}, func(ctx context.Context, in *I) (*answer[O], error) {
		out, err := do(ctx, in)
		if err != nil {
			return nil, s.fail(request(ctx), err)
		}
		return &answer[O]{out}, nil
	})
}

// get, put, post and remove are operations by their method.
func get[I, O any](s *Server, api huma.API, path, id, about string, do func(context.Context, *I) (O, error)) {
	add(s, api, operation{method: http.MethodGet, path: path, id: id, about: about}, do)
}

func put[I, O any](s *Server, api huma.API, path, id, about string, do func(context.Context, *I) (O, error)) {
	add(s, api, operation{method: http.MethodPut, path: path, id: id, about: about}, do)
}

func post[I, O any](s *Server, api huma.API, path, id, about string, do func(context.Context, *I) (O, error)) {
	add(s, api, operation{method: http.MethodPost, path: path, id: id, about: about}, do)
}

func remove[I, O any](s *Server, api huma.API, path, id, about string, do func(context.Context, *I) (O, error)) {
	add(s, api, operation{method: http.MethodDelete, path: path, id: id, about: about}, do)
}
