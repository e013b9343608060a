package web

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"time"

	"grapnel/app/shop"
)

// pingEvery keeps a stream open through what stands between, and finds out that a
// screen has gone; a screen that hears none for a while knows that its line is down.
const pingEvery = 5 * time.Second

// events is the stream of what changes in the shop, as server-sent events: one
// "change" for each, numbered, so that a screen whose line was down goes on from
// the last it saw. "anew" tells it to read everything again, "ping" that the line holds.
func (s *Server) events(w http.ResponseWriter, r *http.Request) {
	control := http.NewResponseController(w)
	// The server's limits are for requests that end.
	if err := errors.Join(control.SetReadDeadline(time.Time{}), control.SetWriteDeadline(time.Time{})); err != nil {
		s.fail(r, fmt.Errorf("stream: %w", err)).write(w)
		return
	}
	w.Header().Set("Content-Type", "text/event-stream")
	w.Header().Set("X-Accel-Buffering", "no")
	feed := s.shop.Feed()
	last, _ := strconv.ParseInt(r.Header.Get("Last-Event-ID"), 10, 64)
	place, err := feed.From(last)
	begun := "hello"
	if err != nil {
		begun = "anew"
	}
	if writeEvent(w, control, begun, 0, struct{}{}) != nil {
		return
	}
	s.follow(w, r, control, feed, place)
}

// follow writes changes until the screen goes or the server stops.
func (s *Server) follow(w http.ResponseWriter, r *http.Request, control *http.ResponseController, feed *shop.Feed, place int) {
	for {
		ctx, cancel := contextOfBoth(r.Context(), s.streams, pingEvery)
		list, next, err := feed.After(ctx, place)
		cancel()
		switch {
		case r.Context().Err() != nil || s.streams.Err() != nil:
			return
		case errors.Is(err, shop.ErrBehind):
			err = writeEvent(w, control, "anew", 0, struct{}{})
		case err != nil:
			err = writeEvent(w, control, "ping", 0, struct{}{})
		default:
			for _, c := range list {
				err = errors.Join(err, writeEvent(w, control, "change", c.ID, c))
			}
		}
		if err != nil {
			return
		}
		place = next
	}
}

func writeEvent(w http.ResponseWriter, control *http.ResponseController, name string, id int64, body any) error {
	data, err := json.Marshal(body)
	if err != nil {
		return err
	}
	number := ""
	if id > 0 {
		number = fmt.Sprintf("id: %d\n", id)
	}
	if _, err := fmt.Fprintf(w, "event: %s\n%sdata: %s\n\n", name, number, data); err != nil {
		return err
	}
	return control.Flush()
}

// contextOfBoth ends with either of two contexts, or after a while.
func contextOfBoth(a, b context.Context, after time.Duration) (context.Context, context.CancelFunc) {
	ctx, cancel := context.WithTimeout(a, after)
	stop := context.AfterFunc(b, cancel)
	return ctx, func() { stop(); cancel() }
}
