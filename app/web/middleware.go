package web

import (
	"context"
	"crypto/rand"
	"encoding/base64"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"runtime/debug"
	"strings"
	"time"

	"github.com/go-chi/chi/v5/middleware"
	"github.com/klauspost/compress/gzhttp"

	"grapnel/app/record"
)

type contextKey int

const (
	keyRequestID contextKey = iota
	keyNonce
	keyPerson
	keySession
	keyRequest
	keyAnswer
	keyDone
)

// withRequestID names each request; no name is taken from outside.
func withRequestID(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		id := record.NewID().String()
		w.Header().Set("X-Request-Id", id)
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), keyRequestID, id)))
	})
}

func requestID(ctx context.Context) string {
	id, _ := ctx.Value(keyRequestID).(string)
	return id
}

// done is what a request turned out to be, found out on the way.
type done struct{ operation string }

// is names the operation that a request asks for.
func is(ctx context.Context, operation string) {
	if d, ok := ctx.Value(keyDone).(*done); ok {
		d.operation = operation
	}
}

// clientGone is how a request is counted whose client went before it was answered. Common practice,
// no source: no standard has a figure for it.
const clientGone = 499

// logged writes one structured line a request, and has it counted.
func (s *Server) logged(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		started := time.Now()
		wrapped := middleware.NewWrapResponseWriter(w, r.ProtoMajor)
		was := &done{"other"}
		next.ServeHTTP(wrapped, r.WithContext(context.WithValue(r.Context(), keyDone, was)))
		level, status := slog.LevelDebug, wrapped.Status()
		switch {
		case errors.Is(r.Context().Err(), context.Canceled):
			// Who asked has gone: whatever was answered, nobody heard it, and nothing failed.
			status = clientGone
		case status >= 500:
			level = slog.LevelError
		}
		if s.counts != nil {
			s.counts.Request(was.operation, status, time.Since(started))
		}
		s.log.Log(r.Context(), level, "request", slog.String("method", r.Method), slog.String("path", plainPath(r)),
			slog.String("operation", was.operation), slog.Int("status", status), slog.Int("bytes", wrapped.BytesWritten()),
			slog.Duration("took", time.Since(started)), slog.String("request_id", requestID(r.Context())))
	})
}

// plainPath is the path of a request as it may stand in a log: without the secret of a calendar.
func plainPath(r *http.Request) string {
	if strings.HasPrefix(r.URL.Path, feedRoot) {
		return feedRoot + "…"
	}
	return r.URL.Path
}

// recovered turns a panic into a problem and a log line with its stack.
func (s *Server) recovered(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		defer func() {
			if v := recover(); v != nil {
				if v == http.ErrAbortHandler {
					panic(v)
				}
				s.fail(r, fmt.Errorf("panic: %v\n%s", v, debug.Stack())).write(w)
			}
		}()
		next.ServeHTTP(w, r)
	})
}

// secured sets the security headers. Styles that the dialog parts add at run
// time carry the nonce; nothing else inline is allowed. Programs may be compiled
// from WebAssembly of ours, which is the core on the device.
func (s *Server) secured(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		raw := make([]byte, 16)
		// crypto/rand.Read never fails; it ends the program instead.
		_, _ = rand.Read(raw)
		nonce := base64.RawStdEncoding.EncodeToString(raw)
		h := w.Header()
		h.Set(
			"Content-Security-Policy",
			"default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self' 'nonce-"+nonce+"'; img-src 'self' data: blob:; font-src 'self'; connect-src 'self'; manifest-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'",
		)
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "no-referrer")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		h.Set("Permissions-Policy", "geolocation=(), microphone=(), payment=()")
		if s.config.Secure {
			h.Set("Strict-Transport-Security", "max-age=31536000")
		}
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), keyNonce, nonce)))
	})
}

// How long a request may take before it is given up. Streams of events have no end, and
// a job of thousands of readings takes its time to be taken in.
const (
	requestTime = 30 * time.Second
	importTime  = 3 * time.Minute
)

// sendTime is how long behind that an answer may take to be read by whoever asked.
const sendTime = 30 * time.Second

// bounded gives every request a deadline, and its answer one.
func bounded(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		limit := requestTime
		switch r.URL.Path {
		case "/api/events":
			next.ServeHTTP(w, r)
			return
		case "/api/import":
			limit = importTime
		}
		// Where the connection has no deadlines, as in a test, there is nobody slow either.
		_ = http.NewResponseController(w).SetWriteDeadline(time.Now().Add(limit + sendTime))
		ctx, cancel := context.WithTimeout(r.Context(), limit)
		defer cancel()
		next.ServeHTTP(w, r.WithContext(ctx))
	})
}

func noStore(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Cache-Control", "no-store")
		next.ServeHTTP(w, r)
	})
}

// packed sends answers packed to whoever takes them so. What packs, most of a megabyte, is
// taken when there is something to pack: not by those who wait, nor for as long as a stream
// of events lasts.
var packed = func() func(http.Handler) http.Handler {
	wrap, err := gzhttp.NewWrapper(
		gzhttp.CompressionLevel(compression), gzhttp.EnableZstd(false),
		gzhttp.ExceptContentTypes([]string{"text/event-stream", "image/jpeg", "image/png", "font/woff2"}),
	)
	if err != nil {
		panic(err) // the options are constants
	}
	return func(next http.Handler) http.Handler { return wrap(next) }
}()
