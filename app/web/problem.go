package web

import (
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"math"
	"net/http"
	"strconv"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/app/people"
	"grapnel/app/shop"
	"grapnel/app/store"
	"grapnel/core/problem"
)

// Problem is an error answer in the form of RFC 9457, with every field at
// fault, what was given and what is allowed.
type Problem struct {
	Type      string         `json:"type" example:"about:blank"`
	Title     string         `json:"title"`
	Status    int            `json:"status"`
	Detail    string         `json:"detail"`
	RequestID string         `json:"request_id"`
	Errors    []ProblemField `json:"errors"`
	// retry is after how many seconds it may be tried again; zero for the usual.
	retry int
}

// ProblemField is one field at fault.
type ProblemField struct {
	Field   string   `json:"field"`
	Given   string   `json:"given"`
	Allowed string   `json:"allowed"`
	Code    string   `json:"code"`
	Text    string   `json:"text"`
	Start   int      `json:"start"`
	End     int      `json:"end"`
	Suggest []string `json:"suggest"`
}

// Error is the detail.
func (p *Problem) Error() string { return p.Detail }

// GetStatus is the HTTP status.
func (p *Problem) GetStatus() int { return p.Status }

// ContentType is that of RFC 9457.
func (p *Problem) ContentType(string) string { return "application/problem+json" }

func newProblem(status int, detail string, fields ...ProblemField) *Problem {
	if fields == nil {
		fields = []ProblemField{}
	}
	return &Problem{Type: "about:blank", Title: http.StatusText(status), Status: status, Detail: detail, Errors: fields}
}

// installProblems makes huma's own errors, such as a body that does not fit its
// schema, come out as ours. Once: they are huma's for the whole program, and a request may
// be reading them.
var installProblems = sync.OnceFunc(func() {
	huma.DefaultArrayNullable = false
	wordSchemas()
	huma.NewError = func(status int, message string, errs ...error) huma.StatusError {
		status, message = tooLarge(status, message, errs)
		return schemaProblem(status, message, errs)
	}
	huma.NewErrorWithContext = func(ctx huma.Context, status int, message string, errs ...error) huma.StatusError {
		status, message = tooLarge(status, message, errs)
		p := schemaProblem(status, message, errs)
		if ctx != nil {
			p.RequestID = requestID(ctx.Context())
		}
		return p
	}
})

// tooLarge tells a body that is too large from one that could not be read.
func tooLarge(status int, message string, errs []error) (int, string) {
	var large *http.MaxBytesError
	for _, err := range errs {
		if errors.As(err, &large) {
			return http.StatusRequestEntityTooLarge, fmt.Sprintf("body: too large. Allowed: up to %d bytes.", large.Limit)
		}
	}
	return status, message
}

// fail turns what the shop says into an answer.
func (s *Server) fail(r *http.Request, err error) *Problem {
	p := s.problemFor(r, err)
	p.RequestID = requestID(r.Context())
	return p
}

func (s *Server) problemFor(r *http.Request, err error) *Problem {
	var list problem.List
	var ready *Problem
	var used shop.KeyUsed
	var waiting people.Waiting
	switch {
	case errors.As(err, &ready):
		return ready
	case errors.As(err, &used):
		return newProblem(http.StatusConflict, used.List.Error(), problemFields(used.List)...)
	case errors.As(err, &list):
		return newProblem(http.StatusUnprocessableEntity, list.Error(), problemFields(list)...)
	case errors.As(err, &waiting):
		p := newProblem(http.StatusTooManyRequests, "Too many wrong tries. The next one is heard in "+said(waiting.Until.Sub(s.config.Now()))+".")
		p.retry = max(1, int(math.Ceil(waiting.Until.Sub(s.config.Now()).Seconds())))
		return p
	case errors.Is(err, shop.ErrNotFound):
		return newProblem(http.StatusNotFound, "There is no such thing in this shop. It may have an older address.")
	case errors.Is(err, shop.ErrForbidden):
		return newProblem(http.StatusForbidden, "This is its maker's to do, or the owner's.")
	case errors.Is(err, shop.ErrSuperseded):
		return newProblem(
			http.StatusConflict,
			"Someone else has changed this reading in the meantime. Both versions are kept; look at it again.",
		)
	case errors.Is(err, shop.ErrTaken):
		return newProblem(http.StatusConflict, "The shop is set up already. Sign in.")
	case store.IsThere(err):
		return newProblem(http.StatusConflict, "Something else is there already under an ID that was sent. Make a new one and try again.")
	case r.Context().Err() != nil:
		return newProblem(http.StatusServiceUnavailable, "The request took too long, or ended before it was done. Try again.")
	case store.Full(err):
		s.health.sawFull(time.Now())
		s.log.ErrorContext(r.Context(), "disk full", slog.Any("error", err), slog.String("path", r.URL.Path))
		return newProblem(
			http.StatusServiceUnavailable,
			"The disk of the workshop's database is full. Nothing was written by halves. Make room on it, then try again.",
		)
	case store.Away(err):
		s.log.WarnContext(r.Context(), "database away", slog.Any("error", err), slog.String("path", r.URL.Path))
		return newProblem(
			http.StatusServiceUnavailable,
			"The workshop's database is not there at the moment; it is being started again. Nothing was written by halves. Try again in a few seconds.",
		)
	}
	s.log.ErrorContext(
		r.Context(),
		"request failed",
		slog.Any("error", err),
		slog.String("path", r.URL.Path),
		slog.String("request_id", requestID(r.Context())),
	)
	return newProblem(
		http.StatusInternalServerError,
		"Something failed on our side. Nothing was written by halves. Try again; if it stays, give this request id.",
	)
}

func problemFields(list problem.List) []ProblemField {
	out := make([]ProblemField, len(list))
	for i, p := range list {
		suggest := p.Suggest
		if suggest == nil {
			suggest = []string{}
		}
		out[i] = ProblemField{
			Field:   p.Field,
			Given:   p.Given,
			Allowed: p.Allowed,
			Code:    p.Code,
			Text:    p.Text,
			Start:   p.Start,
			End:     p.End,
			Suggest: suggest,
		}
	}
	return out
}

// retryAfter is when to try again what cannot be answered now, in seconds.
const retryAfter = 3

// GetHeaders are what goes along with the problem.
func (p *Problem) GetHeaders() http.Header {
	switch {
	case p.retry > 0:
		return http.Header{"Retry-After": {strconv.Itoa(p.retry)}}
	case p.Status == http.StatusServiceUnavailable:
		return http.Header{"Retry-After": {strconv.Itoa(retryAfter)}}
	}
	return nil
}

// write sends a problem outside huma.
func (p *Problem) write(w http.ResponseWriter) {
	w.Header().Set("Content-Type", "application/problem+json")
	for name, value := range p.GetHeaders() {
		w.Header()[name] = value
	}
	w.WriteHeader(p.Status)
	// The status is sent; a client that has gone cannot be told more.
	_ = json.NewEncoder(w).Encode(p)
}

// said is a wait in words, rounded up.
func said(d time.Duration) string {
	if seconds := max(1, int(math.Ceil(d.Seconds()))); seconds < 90 {
		return fmt.Sprintf("%d s", seconds)
	}
	return fmt.Sprintf("%d min", int(math.Ceil(d.Minutes())))
}
