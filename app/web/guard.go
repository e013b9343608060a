package web

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"slices"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humachi"

	"grapnel/app/people"
	"grapnel/app/record"
)

// sessionKey is where a browser's session has the one that is written down.
const sessionKey = "signed_in"

// mostUnknown is the largest body taken, in bytes, of whom nobody knows: a name and a password, or
// a shop that is set up.
const mostUnknown = 4 << 10

// identify finds who is signed in; who may do what is each operation's to ask.
func (s *Server) identify(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		ctx := context.WithValue(context.WithValue(r.Context(), keyRequest, r), keyAnswer, w)
		p, session, err := s.present(ctx)
		if err != nil && !errors.Is(err, record.ErrNotFound) {
			// Nobody knows who asks: that is no answer to who they are.
			s.fail(r, err).write(w)
			return
		}
		if err == nil {
			ctx = context.WithValue(context.WithValue(ctx, keyPerson, p), keySession, session)
		} else {
			r.Body = http.MaxBytesReader(w, r.Body, mostUnknown)
		}
		next.ServeHTTP(w, r.WithContext(ctx))
	})
}

// present is who is signed in by the session of a request; record.ErrNotFound for nobody.
func (s *Server) present(ctx context.Context) (people.Person, people.Session, error) {
	id, err := record.ParseID(s.sessions.GetString(ctx, sessionKey))
	if err != nil {
		return people.Person{}, people.Session{}, record.ErrNotFound
	}
	return s.shop.Present(ctx, id)
}

// who is the person signed in; the zero person for nobody.
func who(ctx context.Context) people.Person {
	p, _ := ctx.Value(keyPerson).(people.Person)
	return p
}

// from is the session of who is signed in; the zero one for nobody.
func from(ctx context.Context) people.Session {
	s, _ := ctx.Value(keySession).(people.Session)
	return s
}

func request(ctx context.Context) *http.Request {
	r, _ := ctx.Value(keyRequest).(*http.Request)
	return r
}

// answerTo is what the answer to a request is written to: its head, where an operation sets more
// than its body.
func answerTo(ctx context.Context) http.ResponseWriter {
	w, _ := ctx.Value(keyAnswer).(http.ResponseWriter)
	return w
}

// registered makes sure that an operation stands in the table of rights: one that nobody
// thought about is not served.
func (s *Server) registered(id string) {
	if people.WhoMay(id) == nil {
		panic(fmt.Sprintf("operation %s does not stand in the table of rights", id))
	}
}

// guard asks the table of rights before anything of a request's body is read.
func (s *Server) guard(id string) func(huma.Context, func(huma.Context)) {
	return func(ctx huma.Context, next func(huma.Context)) {
		if p := s.mayNot(ctx.Context(), id); p != nil {
			_, w := humachi.Unwrap(ctx)
			p.write(w)
			return
		}
		next(ctx)
	}
}

// mayNot is why whoever asks may not do an operation; nil where they may.
func (s *Server) mayNot(ctx context.Context, id string) *Problem {
	is(ctx, id)
	p := who(ctx)
	if p.Role.May(id) {
		return nil
	}
	problem := newProblem(http.StatusUnauthorized, "Sign in first.")
	if !p.ID.IsZero() {
		problem = newProblem(http.StatusForbidden, notYours(id))
		s.log.InfoContext(ctx, "refused", slog.String("person", p.SignIn), slog.String("role", string(p.Role)),
			slog.String("operation", id), slog.String("request_id", requestID(ctx)))
	}
	problem.RequestID = requestID(ctx)
	return problem
}

// notYours says whose an operation is.
func notYours(id string) string {
	if slices.Contains(people.WhoMay(id), people.Technician) {
		return "This is a technician's to do. Ask one, or the owner."
	}
	return "Only the owner may do this."
}
