package web

import (
	"context"
	"net/http"
	"strconv"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-chi/chi/v5"

	"grapnel/app/archive"
	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/core/problem"
)

// StandingPath names what stands in an address.
type StandingPath struct {
	StandingID record.ID `path:"standing"`
}

// feedRoot is where calendars with a secret address are.
const feedRoot = "/calendar/"

type yardInput struct {
	Tonight string `query:"tonight_c" doc:"The low that is forecast for tonight outdoors, °C; empty for none"`
}

// Bounds of a night: plausibility only.
const coldestNight, warmestNight = -70.0, 40.0

func (in *yardInput) tonight() (*float64, error) {
	if in.Tonight == "" {
		return nil, nil
	}
	x, err := strconv.ParseFloat(in.Tonight, 64)
	if err != nil || !(x >= coldestNight && x <= warmestNight) { // NaN is none either
		return nil, problem.List{problem.New("problem.range", "tonight_c", in.Tonight, problem.Range(coldestNight, warmestNight, "°C"))}
	}
	return &x, nil
}

type putAwayInput struct {
	StandingPath
	Body struct {
		BatteryID record.ID         `json:"battery_id" format:"uuid"`
		PlaceID   *record.ID        `json:"place_id,omitempty" format:"uuid"`
		FromAt    time.Time         `json:"from_at"`
		Said      shop.StandingSaid `json:"said"`
	}
}

type endStandingInput struct {
	StandingPath
	Key
	Body struct {
		Back bool `json:"back,omitempty" doc:"It stands on, as if it had not ended"`
	}
}

type comeInput struct {
	StandingPath
	VisitID record.ID `path:"visit"`
	Body    struct {
		Line string    `json:"line,omitempty" maxLength:"2000"`
		Did  string    `json:"did" maxLength:"16"`
		Note string    `json:"note,omitempty" maxLength:"2000"`
		At   time.Time `json:"at"`
	}
}

type visitPath struct {
	StandingPath
	VisitID record.ID `path:"visit"`
}

type climateInput struct {
	Key
	Body shop.OwnClimate
}

type feedInput struct {
	FeedID record.ID `path:"feed"`
	Body   struct {
		Name string `json:"name" maxLength:"200"`
	}
}

type feedPath struct {
	FeedID record.ID `path:"feed"`
}

// standingAPI serves what stands, the walks to it and its calendars.
func (s *Server) standingAPI(api huma.API) {
	get(s, api, "/standing", "yard", "All that stands, worst first; with tonight's low who has to be looked at first",
		func(ctx context.Context, in *yardInput) (shop.YardPage, error) {
			tonight, err := in.tonight()
			if err != nil {
				return shop.YardPage{}, err
			}
			return s.shop.Yard(ctx, who(ctx), tonight)
		})
	get(s, api, "/standing/rounds", "rounds", "The visits that are due, as walks",
		func(ctx context.Context, _ *none) (shop.Rounds, error) { return s.shop.Rounds(ctx, who(ctx)) })
	get(s, api, "/standing/{standing}", "season", "What one standing battery comes to, with every care compared",
		func(ctx context.Context, in *StandingPath) (shop.SeasonPage, error) {
			return s.shop.Season(ctx, who(ctx), in.StandingID)
		})
	put(s, api, "/standing/{standing}", "putAway", "Put a battery away, or change what is said of one that stands; its ID is the idempotency key",
		func(ctx context.Context, in *putAwayInput) (shop.SeasonPage, error) {
			b := in.Body
			p := shop.PutAway{ID: in.StandingID, BatteryID: b.BatteryID, PlaceID: b.PlaceID, FromAt: b.FromAt, Said: b.Said}
			return s.seasonAfter(ctx, in.StandingID, s.shop.PutAway(ctx, who(ctx), p))
		})
	put(s, api, "/standing/{standing}/end", "endStanding", "It does not stand any more, or stands on",
		func(ctx context.Context, in *endStandingInput) (shop.SeasonPage, error) {
			return s.seasonAfter(ctx, in.StandingID, s.shop.EndStanding(in.under(ctx), who(ctx), in.StandingID, in.Body.Back))
		})
	put(s, api, "/standing/{standing}/visits/{visit}", "come", "Somebody came to it: what was read and done; the ID is the idempotency key",
		func(ctx context.Context, in *comeInput) (shop.SeasonPage, error) {
			b := in.Body
			return s.seasonAfter(ctx, in.StandingID, s.shop.Come(ctx, who(ctx), in.StandingID, shop.Come{ID: in.VisitID, Line: b.Line, Did: b.Did, Note: b.Note, At: b.At}))
		})
	remove(s, api, "/standing/{standing}/visits/{visit}", "mistakenVisit", "A visit was written down by mistake: it stays, marked, with its readings, and counts no more",
		func(ctx context.Context, in *visitPath) (shop.SeasonPage, error) {
			return s.seasonAfter(ctx, in.StandingID, s.shop.MistakenVisit(ctx, who(ctx), in.StandingID, in.VisitID))
		})
	put(s, api, "/climate", "keepClimate", "The climate of the shop: a zone, or twelve means and coldest nights of its own",
		func(ctx context.Context, in *climateInput) (shop.YardPage, error) {
			if err := s.shop.KeepClimate(in.under(ctx), who(ctx), in.Body); err != nil {
				return shop.YardPage{}, err
			}
			s.foreseeNow()
			return s.shop.Yard(ctx, who(ctx), nil)
		})
	get(s, api, "/calendar/feeds", "calendarFeeds", "The calendars that are subscribed to",
		func(ctx context.Context, _ *none) ([]shop.CalendarFeed, error) { return s.shop.Feeds(ctx, who(ctx)) })
	put(s, api, "/calendar/feeds/{feed}", "makeFeed", "A secret address for a calendar: it is told once, here",
		func(ctx context.Context, in *feedInput) (shop.NewFeed, error) {
			return s.shop.MakeFeed(ctx, who(ctx), in.FeedID, in.Body.Name)
		})
	remove(s, api, "/calendar/feeds/{feed}", "withdrawFeed", "Withdraw the address of a calendar: it answers no more",
		func(ctx context.Context, in *feedPath) ([]shop.CalendarFeed, error) {
			if err := s.shop.WithdrawFeed(ctx, who(ctx), in.FeedID); err != nil {
				return nil, err
			}
			return s.shop.Feeds(ctx, who(ctx))
		})
}

func (s *Server) seasonAfter(ctx context.Context, id record.ID, err error) (shop.SeasonPage, error) {
	if err != nil {
		return shop.SeasonPage{}, err
	}
	return s.shop.Season(ctx, who(ctx), id)
}

// calendar is the calendar as a file, for whoever is signed in.
func (s *Server) calendar(w http.ResponseWriter, r *http.Request) {
	events, err := s.shop.Calendar(r.Context(), who(r.Context()))
	s.sendCalendar(w, r, events, err, "attachment; filename=\"grapnel.ics\"")
}

// feed is the calendar for a program that knows a secret address. A wrong or withdrawn one is
// told nothing but that there is nothing.
func (s *Server) feed(w http.ResponseWriter, r *http.Request) {
	events, err := s.shop.CalendarOf(r.Context(), chi.URLParam(r, "secret"))
	w.Header().Set("Referrer-Policy", "no-referrer")
	s.sendCalendar(w, r, events, err, "inline")
}

func (s *Server) sendCalendar(w http.ResponseWriter, r *http.Request, c archive.Calendar, err error, disposition string) {
	if err != nil {
		s.fail(r, err).write(w)
		return
	}
	w.Header().Set("Content-Type", "text/calendar; charset=utf-8")
	w.Header().Set("Content-Disposition", disposition)
	w.Header().Set("Cache-Control", "private, no-cache")
	// The status is sent; a client that has gone cannot be told more.
	_, _ = w.Write([]byte(c.Text()))
}
