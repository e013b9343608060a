package web

import (
	"bytes"
	"context"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
)

type previewInput struct {
	JobPath
	Body struct {
		Line      string    `json:"line" maxLength:"2000" doc:"May be empty where readings are set aside"`
		BatteryID record.ID `json:"battery_id" format:"uuid"`
		// Replaces is the reading being corrected.
		Replaces *record.ID `json:"replaces,omitempty"`
		// Aside are readings to judge without.
		Aside []record.ID `json:"aside,omitempty" maxItems:"200" doc:"Readings to judge without"`
	}
}

type keepInput struct {
	JobPath
	ReadingID record.ID `path:"reading"`
	Body      struct {
		Line      string    `json:"line" maxLength:"2000"`
		BatteryID record.ID `json:"battery_id" format:"uuid"`
		TakenAt   time.Time `json:"taken_at"`
	}
}

type changeInput struct {
	JobPath
	ReadingID record.ID `path:"reading"`
	Body      struct {
		// ID names the change itself and makes it idempotent.
		ID     record.ID `json:"id" format:"uuid"`
		Line   string    `json:"line,omitempty" maxLength:"2000"`
		Reason string    `json:"reason,omitempty" maxLength:"2000"`
	}
}

func (in *changeInput) correction() shop.Correction {
	return shop.Correction{ID: in.Body.ID, Line: in.Body.Line, Reason: in.Body.Reason}
}

// KeptAnswer is the job after a reading was kept, and what keeping did.
type KeptAnswer struct {
	Kept shop.Kept      `json:"kept"`
	Page record.JobPage `json:"page"`
}

func (s *Server) readingAPI(api huma.API) {
	post(s, api, "/jobs/{job}/preview", "preview", "What would hold if this line were kept; nothing is written",
		s.preview)
	put(s, api, "/jobs/{job}/readings/{reading}", "keepReading", "Keep a reading; its ID is the idempotency key",
		s.keep)
	post(s, api, "/jobs/{job}/readings/{reading}/correct", "correctReading", "Correct a reading by one that supersedes it",
		func(ctx context.Context, in *changeInput) (record.JobPage, error) {
			return s.pageAfter(ctx, in.JobID, s.shop.Correct(ctx, who(ctx), in.JobID, in.ReadingID, in.correction()))
		})
	post(s, api, "/jobs/{job}/readings/{reading}/mistaken", "mistakenReading", "Mark a reading mistaken; it stays and no longer counts",
		func(ctx context.Context, in *changeInput) (record.JobPage, error) {
			return s.pageAfter(ctx, in.JobID, s.shop.Mistaken(ctx, who(ctx), in.JobID, in.ReadingID, in.correction()))
		})
	post(s, api, "/jobs/{job}/readings/{reading}/undo", "undoReading", "Take back the last thing done to a reading",
		func(ctx context.Context, in *changeInput) (record.JobPage, error) {
			return s.pageAfter(ctx, in.JobID, s.shop.Undo(ctx, who(ctx), in.JobID, in.ReadingID, in.correction()))
		})
}

func (s *Server) preview(ctx context.Context, in *previewInput) (record.Preview, error) {
	want := record.Wanted{Line: in.Body.Line, Aside: in.Body.Aside}
	if in.Body.Replaces != nil {
		want.Replaces = *in.Body.Replaces
	}
	return s.shop.Preview(ctx, who(ctx), in.JobID, in.Body.BatteryID, want)
}

func (s *Server) keep(ctx context.Context, in *keepInput) (KeptAnswer, error) {
	taken := record.Keep{ID: in.ReadingID, BatteryID: in.Body.BatteryID, Line: in.Body.Line, TakenAt: in.Body.TakenAt}
	kept, err := s.shop.Keep(ctx, who(ctx), in.JobID, taken)
	page, err := s.pageAfter(ctx, in.JobID, err)
	return KeptAnswer{kept, page}, err
}

type assessInput struct {
	RawBody []byte `contentType:"application/json"`
}

func (s *Server) assessAPI(api huma.API) {
	add(
		s,
		api,
		operation{
			method: http.MethodPost,
			path:   "/assess",
			id:     "assess",
			about:  "Judge one case, as the command grapnel assess does",
			raw:    true,
		},
		func(ctx context.Context, in *assessInput) (diagnosis.Assessment, error) {
			c, err := evidence.Decode(bytes.NewReader(in.RawBody))
			if err != nil {
				return diagnosis.Assessment{}, err
			}
			return s.shop.Judge(ctx, c)
		},
	)
}
