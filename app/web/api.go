package web

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humachi"
	"github.com/go-chi/chi/v5"
	"github.com/go-chi/httprate"
)

// api registers every operation; the OpenAPI description is made from them.
func (s *Server) api(r chi.Router) {
	r.Use(s.readyPage)
	api := humachi.New(r, apiConfig(s.config.Release))
	s.operations(api)
	s.plain(r, http.MethodGet, "/openapi.json", "description", s.description)
	s.plain(r, http.MethodGet, "/events", "events", s.events)
	s.plain(r, http.MethodPut, "/jobs/{job}/photos/{photo}", "keepPhoto", s.keepPhoto)
	s.plain(r, http.MethodGet, "/photos/{photo}", "photo", s.photo)
	s.plain(r, http.MethodGet, "/calendar.ics", "calendar", s.calendar)
}

// plain registers an operation that is no JSON in and out.
func (s *Server) plain(r chi.Router, method, path, id string, do http.HandlerFunc) {
	s.registered(id)
	r.MethodFunc(method, path, func(w http.ResponseWriter, r *http.Request) {
		if p := s.mayNot(r.Context(), id); p != nil {
			p.write(w)
			return
		}
		do(w, r)
	})
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
	s.serverAPI(api)
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

// answer is a JSON body.
type answer[T any] struct{ Body T }

// none is the input of an operation that takes nothing.
type none struct{}

// operation is one entry of the API.
type operation struct {
	method, path, id, about string
	// raw bodies are read by the core, which says better what is wrong with them.
	raw bool
	// limiter says how often a person may do it; nil for as often as they like.
	limiter *httprate.RateLimiter
}

// add registers an operation whose errors are the shop's or the core's.
func add[I, O any](s *Server, api huma.API, op operation, do func(context.Context, *I) (O, error)) {
	s.registered(op.id)
	before := huma.Middlewares{s.guard(op.id)}
	if op.limiter != nil {
		before = append(before, s.limited(op.limiter))
	}
	huma.Register(api, huma.Operation{
		Middlewares: before,
		OperationID: op.id, Method: op.method, Path: op.path, Summary: op.about, SkipValidateBody: op.raw,
		Errors: []int{http.StatusUnauthorized, http.StatusForbidden, http.StatusNotFound, http.StatusConflict, http.StatusUnprocessableEntity},
	}, func(ctx context.Context, in *I) (*answer[O], error) {
		leave, err := s.bay(ctx, op.id)
		if err != nil {
			return nil, s.fail(request(ctx), err)
		}
		defer leave()
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
