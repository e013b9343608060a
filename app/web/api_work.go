package web

import (
	"context"
	"io"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-chi/chi/v5"

	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/core/problem"
	"grapnel/core/school"
	"grapnel/core/trail"
)

type answerInput struct {
	JobPath
	AnswerID record.ID `path:"answer"`
	Body     struct {
		BatteryID record.ID `json:"battery_id" format:"uuid"`
		Code      string    `json:"code" maxLength:"32" doc:"The step"`
		Value     string    `json:"value" maxLength:"16" doc:"done, not_done, not_needed; empty takes it back"`
		Note      string    `json:"note,omitempty" maxLength:"2000"`
		// At is when it was said, by the device's own time.
		At time.Time `json:"at,omitempty"`
	}
}

type clearInput struct {
	JobPath
	ClearingID record.ID `path:"clearing"`
	Body       struct {
		BatteryID record.ID `json:"battery_id" format:"uuid"`
		Stop      string    `json:"stop" maxLength:"32"`
		Reason    string    `json:"reason" maxLength:"2000"`
		// Readings are those that raised the rule, as the person saw them at Revision; empty
		// for those that raise it now.
		Readings []record.ID `json:"readings,omitempty" maxItems:"200"`
		Revision int         `json:"revision,omitempty"`
	}
}

type mountingInput struct {
	JobPath
	BatteryPath
	Key
	Body trail.Mounting
}

type deskInput struct {
	JobPath
	Key
	Body shop.Desk
}

type startClockInput struct {
	JobPath
	ClockID record.ID `path:"clock"`
	Body    struct {
		BatteryID record.ID `json:"battery_id" format:"uuid"`
		Kind      string    `json:"kind" maxLength:"16"`
		StartedAt time.Time `json:"started_at" doc:"By the device's own time"`
	}
}

type stopClockInput struct {
	ClockID record.ID `path:"clock"`
	Key
}

func (s *Server) workAPI(api huma.API) {
	put(s, api, "/jobs/{job}/answers/{answer}", "answerStep", "Write down what was said to a step; the ID is the idempotency key",
		func(ctx context.Context, in *answerInput) (record.JobPage, error) {
			b := in.Body
			said := record.StepAnswer{ID: in.AnswerID, BatteryID: b.BatteryID, Code: b.Code, Value: b.Value, Note: b.Note, At: b.At}
			return s.pageAfter(ctx, in.JobID, s.shop.Answer(ctx, who(ctx), in.JobID, said))
		})
	put(s, api, "/jobs/{job}/clearings/{clearing}", "clearStop", "Lift a stop rule for the readings named, with a reason",
		func(ctx context.Context, in *clearInput) (record.JobPage, error) {
			b := in.Body
			lifted := record.Clearing{
				ID:        in.ClearingID,
				BatteryID: b.BatteryID,
				Stop:      school.Caution(b.Stop),
				Reason:    b.Reason,
				Readings:  b.Readings,
				Revision:  b.Revision,
			}
			return s.pageAfter(ctx, in.JobID, s.shop.Clear(ctx, who(ctx), in.JobID, lifted))
		})
	put(s, api, "/jobs/{job}/batteries/{battery}/mounting", "mount", "How the battery sits: where, its posts, how several are joined",
		func(ctx context.Context, in *mountingInput) (record.JobPage, error) {
			return s.pageAfter(ctx, in.JobID, s.shop.Mount(in.under(ctx), who(ctx), in.JobID, in.BatteryID, in.Body))
		})
	put(s, api, "/jobs/{job}/desk", "desk", "Where the job stands, who has it, what it waits for",
		func(ctx context.Context, in *deskInput) (record.JobPage, error) {
			return s.pageAfter(ctx, in.JobID, s.shop.SetDesk(in.under(ctx), who(ctx), in.JobID, in.Body))
		})
	get(s, api, "/clocks", "clocks", "Every clock of the shop that runs or rings",
		func(ctx context.Context, _ *none) (shop.Clocks, error) {
			return s.shop.Clocks(ctx, who(ctx))
		})
	put(s, api, "/jobs/{job}/clocks/{clock}", "startClock", "Set a clock going; the ID is the idempotency key",
		func(ctx context.Context, in *startClockInput) (shop.Clocks, error) {
			b := in.Body
			begun := record.Clock{ID: in.ClockID, BatteryID: b.BatteryID, Kind: b.Kind, StartedAt: b.StartedAt}
			return s.clocksAfter(ctx, s.shop.StartClock(ctx, who(ctx), in.JobID, begun))
		})
	post(s, api, "/clocks/{clock}/stop", "stopClock", "Stop a clock",
		func(ctx context.Context, in *stopClockInput) (shop.Clocks, error) {
			return s.clocksAfter(ctx, s.shop.StopClock(in.under(ctx), who(ctx), in.ClockID))
		})
}

// clocksAfter are the clocks as they stand after a change, or the change's error.
func (s *Server) clocksAfter(ctx context.Context, err error) (shop.Clocks, error) {
	if err != nil {
		return shop.Clocks{}, err
	}
	return s.shop.Clocks(ctx, who(ctx))
}

// keepPhoto keeps a picture that is sent as it is; its note and when it was taken come
// in the address.
func (s *Server) keepPhoto(w http.ResponseWriter, r *http.Request) {
	job, jobErr := record.ParseID(chi.URLParam(r, "job"))
	id, idErr := record.ParseID(chi.URLParam(r, "photo"))
	if jobErr != nil || idErr != nil {
		s.fail(r, shop.ErrNotFound).write(w)
		return
	}
	body, err := io.ReadAll(http.MaxBytesReader(w, r.Body, shop.MostPhoto))
	if err != nil {
		s.fail(r, problem.List{problem.New("problem.range", "photo", "", problem.Range(1, shop.MostPhoto, "bytes"))}).write(w)
		return
	}
	about := r.URL.Query()
	var at time.Time
	if said := about.Get("taken_at"); said != "" {
		if at, err = time.Parse(time.RFC3339, said); err != nil {
			s.fail(r, problem.List{problem.New("problem.type", "taken_at", said, "2026-11-24T14:05:00Z")}).write(w)
			return
		}
	}
	photo := record.Photo{
		ID:        id,
		MediaType: http.DetectContentType(body),
		Note:      about.Get("note"),
		TakenAt:   at.UTC().Truncate(time.Microsecond),
	}
	if err := s.shop.KeepPhoto(r.Context(), who(r.Context()), job, photo, body); err != nil {
		s.fail(r, err).write(w)
		return
	}
	w.WriteHeader(http.StatusNoContent)
}

// photo sends a picture.
func (s *Server) photo(w http.ResponseWriter, r *http.Request) {
	id, err := record.ParseID(chi.URLParam(r, "photo"))
	if err != nil {
		s.fail(r, shop.ErrNotFound).write(w)
		return
	}
	mediaType, body, err := s.shop.PhotoBody(r.Context(), who(r.Context()), id)
	if err != nil {
		s.fail(r, err).write(w)
		return
	}
	w.Header().Set("Content-Type", mediaType)
	// It never changes; but the application's own cache alone keeps it, which is emptied as soon as
	// nobody is signed in on the device.
	// The status is sent; a client that has gone cannot be told more.
	_, _ = w.Write(body)
}
