package web

import (
	"context"
	"strconv"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/app/record"
	"grapnel/app/shop"
	"grapnel/core/fitting"
	"grapnel/core/problem"
)

type keepStockInput struct {
	BatteryPath
	Body struct {
		Tag        string       `json:"tag" maxLength:"200"`
		Maker      string       `json:"maker,omitempty" maxLength:"200"`
		Posts      string       `json:"posts,omitempty" maxLength:"8"`
		Label      LabelInput   `json:"label"`
		Body       fitting.Body `json:"body"`
		PlaceID    *record.ID   `json:"place_id,omitempty" format:"uuid"`
		PriceMinor *int64       `json:"price_minor,omitempty"`
		ChargedOn  string       `json:"charged_on,omitempty" maxLength:"10"`
	}
}

type leaveStockInput struct {
	BatteryPath
	Body struct {
		How string `json:"how" maxLength:"16" doc:"sold, scrap; empty for back again"`
	}
}

type wantsInput struct {
	JobPath
	Key
	Body shop.Wants
}

type bodyInput struct {
	JobBatteryPath
	Key
	Body fitting.Body
}

type fittingInput struct {
	JobBatteryPath
	Coldest string `query:"coldest_c" doc:"The coldest morning it has to start on, °C; empty for none"`
	Reach   bool   `query:"cables_reach"`
}

// coldest is the morning that was asked for, nil for none.
func (in *fittingInput) coldest() (*float64, error) {
	if in.Coldest == "" {
		return nil, nil
	}
	x, err := strconv.ParseFloat(in.Coldest, 64)
	if err != nil || !(x >= fitting.LeastColdest && x <= fitting.MostColdest) { // NaN is none either
		return nil, problem.List{problem.New("problem.range", "coldest_c", in.Coldest, problem.Range(fitting.LeastColdest, fitting.MostColdest, "°C"))}
	}
	return &x, nil
}

type replaceInput struct {
	JobPath
	ReplacementID record.ID `path:"replacement"`
	Body          struct {
		BatteryID     record.ID `json:"battery_id" format:"uuid"`
		NewID         record.ID `json:"new_battery_id" format:"uuid"`
		Goes          string    `json:"goes" maxLength:"16"`
		Deposit       string    `json:"deposit" maxLength:"16"`
		WarrantyUntil string    `json:"warranty_until,omitempty" maxLength:"10"`
		CablesReach   bool      `json:"cables_reach,omitempty"`
		At            time.Time `json:"at"`
	}
}

type takeBackInput struct {
	JobPath
	ReplacementID record.ID `path:"replacement"`
	Key
}

// StockLabel is a label to stick on a battery of the stock, with the code of its tag as one
// path in a square.
type StockLabel struct {
	BatteryID record.ID `json:"battery_id"`
	Tag       string    `json:"tag"`
	Maker     string    `json:"maker"`
	Text      string    `json:"text"`
	Made      string    `json:"made"`
	ChargedOn string    `json:"charged_on"`
	Size      string    `json:"size"`
	Side      int       `json:"side"`
	Path      string    `json:"path"`
}

// stockLabels are the labels of all that is there.
func (s *Server) stockLabels(ctx context.Context, _ *none) ([]StockLabel, error) {
	page, err := s.shop.Stock(ctx, who(ctx))
	if err != nil {
		return nil, err
	}
	out := make([]StockLabel, 0, len(page.Rows))
	for _, r := range page.Rows {
		side, path, err := codeOf(r.Battery.Tag)
		if err != nil {
			return nil, err
		}
		out = append(out, StockLabel{
			BatteryID: r.Battery.ID, Tag: r.Battery.Tag, Maker: r.Battery.Maker, Text: r.LabelText, Made: r.Battery.Label.Made, ChargedOn: r.ChargedOn,
			Size: sizeText(r.Body), Side: side, Path: path,
		})
	}
	return out, nil
}

func sizeText(b fitting.Body) string {
	switch {
	case b.Case != "":
		return "case " + b.Case
	case b.Group != "":
		return "group " + b.Group
	}
	return ""
}

// stockAPI serves the shop's own batteries, what fits, and the joints.
func (s *Server) stockAPI(api huma.API) {
	get(s, api, "/stock", "stock", "The batteries that are there to be fitted, what has stood too long first",
		func(ctx context.Context, _ *none) (shop.StockPage, error) { return s.shop.Stock(ctx, who(ctx)) })
	get(s, api, "/stock/labels", "stockLabels", "Labels to stick on the batteries of the stock, with the code of each tag", s.stockLabels)
	put(s, api, "/stock/{battery}", "keepStock", "Take a battery into the stock, or change what is written down of it; its ID is the idempotency key",
		func(ctx context.Context, in *keepStockInput) (shop.StockPage, error) {
			b := in.Body
			label, found := b.Label.Read("label")
			if err := found.Err(); err != nil {
				return shop.StockPage{}, err
			}
			item := shop.StockItem{
				Battery: record.Battery{ID: in.BatteryID, Tag: b.Tag, Maker: b.Maker, Posts: b.Posts, Label: label},
				Body:    b.Body, PlaceID: b.PlaceID, PriceMinor: b.PriceMinor, ChargedOn: b.ChargedOn,
			}
			return s.stockAfter(ctx, s.shop.KeepStock(ctx, who(ctx), item))
		})
	put(s, api, "/stock/{battery}/gone", "leaveStock", "A battery left the stock without being fitted, or is back",
		func(ctx context.Context, in *leaveStockInput) (shop.StockPage, error) {
			return s.stockAfter(ctx, s.shop.LeaveStock(ctx, who(ctx), in.BatteryID, in.Body.How))
		})
	put(s, api, "/jobs/{job}/wants", "keepWants", "What the job's vehicle wants of its battery: tray, posts, hold-down, vent, torque",
		func(ctx context.Context, in *wantsInput) (record.JobPage, error) {
			return s.pageAfter(ctx, in.JobID, s.shop.KeepWants(in.under(ctx), who(ctx), in.JobID, in.Body))
		})
	put(s, api, "/jobs/{job}/batteries/{battery}/body", "keepBody", "What a battery of the job looks like from outside",
		func(ctx context.Context, in *bodyInput) (record.JobPage, error) {
			return s.pageAfter(ctx, in.JobID, s.shop.KeepBody(in.under(ctx), who(ctx), in.JobID, in.BatteryID, in.Body))
		})
	get(s, api, "/jobs/{job}/batteries/{battery}/terminals", "terminals", "What the joints around a battery come to, before and after",
		func(ctx context.Context, in *JobBatteryPath) (shop.TerminalsSum, error) {
			return s.shop.Terminals(ctx, who(ctx), in.JobID, in.BatteryID)
		})
	get(s, api, "/jobs/{job}/batteries/{battery}/fit", "fitting", "What fits in place of a battery, out of the stock",
		func(ctx context.Context, in *fittingInput) (shop.FitSum, error) {
			coldest, err := in.coldest()
			if err != nil {
				return shop.FitSum{}, err
			}
			return s.shop.Fitting(ctx, who(ctx), in.JobID, in.BatteryID, coldest, in.Reach)
		})
	put(s, api, "/jobs/{job}/replacements/{replacement}", "replaceBattery", "A battery of the stock was fitted for one of the job; the ID is the idempotency key",
		func(ctx context.Context, in *replaceInput) (record.JobPage, error) {
			b := in.Body
			r := shop.Replace{
				ID: in.ReplacementID, BatteryID: b.BatteryID, NewID: b.NewID, Goes: b.Goes, Deposit: b.Deposit, WarrantyUntil: b.WarrantyUntil,
				CablesReach: b.CablesReach, At: b.At,
			}
			return s.pageAfter(ctx, in.JobID, s.shop.Replace(ctx, who(ctx), in.JobID, r))
		})
	remove(s, api, "/jobs/{job}/replacements/{replacement}", "takeBackReplacement", "Take back a fitting that was written down by mistake",
		func(ctx context.Context, in *takeBackInput) (record.JobPage, error) {
			return s.pageAfter(ctx, in.JobID, s.shop.TakeBack(in.under(ctx), who(ctx), in.JobID, in.ReplacementID))
		})
}

func (s *Server) stockAfter(ctx context.Context, err error) (shop.StockPage, error) {
	if err != nil {
		return shop.StockPage{}, err
	}
	return s.shop.Stock(ctx, who(ctx))
}
