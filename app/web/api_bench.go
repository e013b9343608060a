package web

import (
	"context"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/core/bench"
	"grapnel/core/reading"
	"grapnel/core/school"
	"grapnel/core/source"
	"grapnel/core/wording"
)

// SumCard is one sum of the bench with its words.
type SumCard struct {
	ID      string          `json:"id"`
	Group   string          `json:"group"`
	Title   string          `json:"title"`
	Formula string          `json:"formula"`
	Inputs  []SumInput      `json:"inputs"`
	Sources []source.Source `json:"sources"`
}

// SumInput is one input of a card with its words.
type SumInput struct {
	Name     string   `json:"name"`
	Label    string   `json:"label"`
	Unit     string   `json:"unit"`
	Low      float64  `json:"low"`
	High     float64  `json:"high"`
	Start    string   `json:"start"`
	Choices  []Choice `json:"choices"`
	Text     bool     `json:"text"`
	Optional bool     `json:"optional"`
	// IfName and IfCode are the choice and its code that the input belongs to.
	IfName string `json:"if_name"`
	IfCode string `json:"if_code"`
}

// BenchPage is every card, and the parts of the bench in order.
type BenchPage struct {
	Groups []Choice  `json:"groups"`
	Cards  []SumCard `json:"cards"`
	// Own are the shop's own figures, for a device that works sums out by itself.
	Own school.Own `json:"own"`
}

type sumInput struct {
	Sum  string `path:"sum" maxLength:"40"`
	Body struct {
		Inputs map[string]string `json:"inputs"`
	}
}

type keepSumInput struct {
	JobPath
	KeptID record.ID `path:"kept"`
	Body   struct {
		Sum    string            `json:"sum" maxLength:"40"`
		Inputs map[string]string `json:"inputs"`
	}
}

// LimitPath names the limit in an address.
type LimitPath struct {
	Limit school.LimitID `path:"limit" maxLength:"40"`
}

type setLimitInput struct {
	LimitPath
	Body struct {
		Value float64 `json:"value"`
		Note  string  `json:"note" maxLength:"1000"`
	}
}

type lineInput struct {
	Body struct {
		Line string `json:"line" maxLength:"2000"`
	}
}

// JobText is a job in plain text.
type JobText struct {
	Text string `json:"text" maxLength:"200000"`
}

type importInput struct{ Body JobText }

// ImportedJob says what importing did.
type ImportedJob struct {
	JobID    record.ID `json:"job_id" format:"uuid"`
	Again    bool      `json:"again"`
	Readings int       `json:"readings"`
}

func (s *Server) benchAPI(api huma.API) {
	page := benchPage()
	get(s, api, "/sums", "sums", "The sums of the bench: inputs, formulas, sources",
		func(ctx context.Context, _ *none) (BenchPage, error) {
			own, err := s.shop.Own(ctx, who(ctx))
			now := page
			now.Own = own
			if own == nil {
				now.Own = school.Own{}
			}
			return now, err
		})
	post(s, api, "/sums/{sum}", "workSum", "Work a sum out; nothing is written",
		func(ctx context.Context, in *sumInput) (bench.Result, error) {
			return s.shop.WorkSum(ctx, who(ctx), in.Sum, in.Body.Inputs)
		})
	put(s, api, "/jobs/{job}/sums/{kept}", "keepSum", "Keep a sum with a job; its ID is the idempotency key",
		func(ctx context.Context, in *keepSumInput) (record.JobPage, error) {
			kept := record.KeptSum{ID: in.KeptID, Sum: in.Body.Sum, Inputs: in.Body.Inputs}
			return s.pageAfter(ctx, in.JobID, s.shop.KeepSum(ctx, who(ctx), in.JobID, kept))
		})
	get(s, api, "/figures", "figures", "Every figure of the trade with its source, and the shop's own",
		func(ctx context.Context, _ *none) ([]shop.KnownFigure, error) {
			return s.shop.Figures(ctx, who(ctx))
		})
	put(s, api, "/limits/{limit}", "setLimit", "Set the shop's own figure for a limit",
		func(ctx context.Context, in *setLimitInput) ([]shop.KnownFigure, error) {
			return s.figuresAfter(ctx, s.shop.SetLimit(ctx, who(ctx), in.Limit, in.Body.Value, in.Body.Note))
		})
	remove(s, api, "/limits/{limit}", "dropLimit", "Go back to the trade's figure",
		func(ctx context.Context, in *LimitPath) ([]shop.KnownFigure, error) {
			return s.figuresAfter(ctx, s.shop.DropLimit(ctx, who(ctx), in.Limit))
		})
	post(s, api, "/complete", "complete", "What may be typed next in a reading line",
		func(_ context.Context, in *lineInput) (reading.Completions, error) {
			return reading.Complete(in.Body.Line), nil
		})
	get(s, api, "/jobs/{job}/text", "jobText", "A job as plain text",
		func(ctx context.Context, in *JobPath) (JobText, error) {
			text, err := s.shop.Export(ctx, who(ctx), in.JobID)
			return JobText{text}, err
		})
	post(s, api, "/import", "importJob", "Take a job in from plain text, all or nothing",
		func(ctx context.Context, in *importInput) (ImportedJob, error) {
			done, err := s.shop.Import(ctx, who(ctx), in.Body.Text, nil)
			return ImportedJob{done.JobID, done.Again, done.Readings}, err
		})
}

func (s *Server) figuresAfter(ctx context.Context, err error) ([]shop.KnownFigure, error) {
	if err != nil {
		return nil, err
	}
	return s.shop.Figures(ctx, who(ctx))
}

func benchPage() BenchPage {
	var page BenchPage
	for _, group := range bench.Groups() {
		page.Groups = append(page.Groups, Choice{group, wording.Word("group_" + group)})
	}
	for _, sum := range bench.Sums() {
		card := SumCard{ID: sum.ID, Group: sum.Group, Title: sum.Title(), Formula: sum.Formula(), Sources: sum.Sources}
		for _, in := range sum.Inputs {
			card.Inputs = append(card.Inputs, SumInput{
				Name: in.Name, Label: sum.Label(in), Unit: in.Unit, Low: in.Low, High: in.High, Start: in.Start, Choices: choices(in.Codes),
				Text: in.Text, Optional: in.Optional, IfName: in.If[0], IfCode: in.If[1],
			})
		}
		page.Cards = append(page.Cards, card)
	}
	return page
}
