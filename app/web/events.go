package web

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"sync"
	"time"

	"grapnel/app/record"
	"grapnel/app/shop"
)

// usualPing keeps a stream open through what stands between, and finds out that a
// screen has gone; a screen that hears none for a while knows that its line is down.
const usualPing = 5 * time.Second

// usualPatience is how long a screen may take to read what is sent to it before it is let go.
const usualPatience = 10 * time.Second

// mostStreams is how many streams one session may have: a browser has one for all its tabs.
const mostStreams = 10

// openStreams counts the streams by the session they hang on.
type openStreams struct {
	mu   sync.Mutex
	list map[record.ID]int
}

// take counts one more; false where a session has as many as it may.
func (o *openStreams) take(session record.ID) bool {
	o.mu.Lock()
	defer o.mu.Unlock()
	if o.list == nil {
		o.list = map[record.ID]int{}
	}
	if o.list[session] >= mostStreams {
		return false
	}
	o.list[session]++
	return true
}

// count is how many there are in all.
func (o *openStreams) count() float64 {
	o.mu.Lock()
	defer o.mu.Unlock()
	n := 0
	for _, one := range o.list {
		n += one
	}
	return float64(n)
}

func (o *openStreams) giveBack(session record.ID) {
	o.mu.Lock()
	defer o.mu.Unlock()
	if o.list[session]--; o.list[session] == 0 {
		delete(o.list, session)
	}
}

// events is the stream of what changes in the shop, as server-sent events: one
// "change" for each, numbered, so that a screen whose line was down goes on from
// the last it saw. "anew" tells it to read everything again, "ping" that the line holds. It
// ends with the session it hangs on.
func (s *Server) events(w http.ResponseWriter, r *http.Request) {
	control := http.NewResponseController(w)
	session := from(r.Context())
	if !s.screens.take(session.ID) {
		s.fail(r, newProblem(http.StatusTooManyRequests, fmt.Sprintf("This session follows the shop %d times already. Close some of its windows.", mostStreams))).write(w)
		return
	}
	defer s.screens.giveBack(session.ID)
	// The server's limit is for requests that end; each event has its own to be taken by.
	if err := control.SetReadDeadline(time.Time{}); err != nil {
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
	out := eventWriter{w, control, s.config.Patience}
	if out.write(frame(begun, 0, nothing)) != nil {
		return
	}
	s.follow(out, r, feed, place)
}

// follow writes changes until the screen goes, its session ends or the server stops.
func (s *Server) follow(out eventWriter, r *http.Request, feed *shop.Feed, place int) {
	for asked := time.Now(); ; {
		if time.Since(asked) >= s.config.Ping {
			asked = time.Now()
			if s.ended(r.Context()) {
				return
			}
		}
		ctx, cancel := contextOfBoth(r.Context(), s.streams, s.config.Ping)
		list, next, err := feed.After(ctx, place)
		cancel()
		switch {
		case r.Context().Err() != nil || s.streams.Err() != nil:
			return
		case errors.Is(err, shop.ErrBehind):
			err = out.write(frame("anew", 0, nothing))
		case err != nil:
			err = out.write(frame("ping", 0, nothing))
		default:
			err = s.pass(out, who(r.Context()).ShopID, list)
		}
		if err != nil {
			return
		}
		place = next
	}
}

// ended reports that the session of a request lets nobody in any more. Where nobody can say
// it goes on.
func (s *Server) ended(ctx context.Context) bool {
	return errors.Is(s.shop.Still(ctx, from(ctx).ID), record.ErrNotFound)
}

// pass writes what changed in a shop, all of it at once.
func (s *Server) pass(out eventWriter, shopID record.ID, list []shop.Change) error {
	var all []byte
	for _, c := range list {
		if c.ShopID != shopID {
			continue
		}
		one, err := s.frames.of(c)
		if err != nil {
			return err
		}
		all = append(all, one...)
	}
	if len(all) == 0 {
		return nil
	}
	return out.write(all)
}

// nothing is what an event says that has nothing to say.
var nothing = []byte("{}")

// frame is an event as it goes over the line; an id of zero is none.
func frame(name string, id int64, data []byte) []byte {
	number := ""
	if id > 0 {
		number = fmt.Sprintf("id: %d\n", id)
	}
	return fmt.Appendf(nil, "event: %s\n%sdata: %s\n\n", name, number, data)
}

// frames are the latest changes as they go over the line, made once for all streams.
type frames struct {
	mu   sync.Mutex
	list map[int64][]byte
}

// mostFrames bounds how many are remembered; one that was forgotten is made again.
const mostFrames = 4096

func (f *frames) of(c shop.Change) ([]byte, error) {
	f.mu.Lock()
	defer f.mu.Unlock()
	if one, ok := f.list[c.ID]; ok {
		return one, nil
	}
	data, err := json.Marshal(c)
	if err != nil {
		return nil, err
	}
	if f.list == nil || len(f.list) >= mostFrames {
		f.list = map[int64][]byte{}
	}
	f.list[c.ID] = frame("change", c.ID, data)
	return f.list[c.ID], nil
}

// eventWriter sends events to one screen; each write has its own time to be taken in.
type eventWriter struct {
	w        http.ResponseWriter
	control  *http.ResponseController
	patience time.Duration
}

func (e eventWriter) write(frames []byte) error {
	if err := e.control.SetWriteDeadline(time.Now().Add(e.patience)); err != nil {
		return err
	}
	if _, err := e.w.Write(frames); err != nil {
		return err
	}
	return e.control.Flush()
}

// contextOfBoth ends with either of two contexts, or after a while.
func contextOfBoth(a, b context.Context, after time.Duration) (context.Context, context.CancelFunc) {
	ctx, cancel := context.WithTimeout(a, after)
	stop := context.AfterFunc(b, cancel)
	return ctx, func() { stop(); cancel() }
}
