package web

import (
	"context"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/app/record"
	"grapnel/app/shop"
)

// ChargePath names the charge in an address.
type ChargePath struct {
	ChargeID record.ID `path:"charge"`
}

type askChargeInput struct {
	ChargePath
	Body struct {
		BatteryID record.ID  `json:"battery_id" format:"uuid"`
		JobID     *record.ID `json:"job_id,omitempty" format:"uuid"`
		Until     string     `json:"until" maxLength:"16"`
		ReadyBy   *time.Time `json:"ready_by,omitempty"`
		Weight    float64    `json:"weight"`
		// Battery is one that the shop does not know yet.
		Battery *BatteryInput `json:"battery,omitempty"`
	}
}

type connectInput struct {
	ChargePath
	Body struct {
		ChargerID record.ID `json:"charger_id" format:"uuid"`
		Channel   int       `json:"channel"`
		At        time.Time `json:"at"`
	}
}

type takeOffInput struct {
	ChargePath
	Body struct {
		At time.Time `json:"at"`
	}
}

type decideInput struct {
	ChargePath
	Body struct {
		ChargerID record.ID  `json:"charger_id" format:"uuid"`
		Channel   int        `json:"channel"`
		From      *time.Time `json:"from,omitempty"`
	}
}

type checkInput struct {
	ChargePath
	ReadingID record.ID `path:"reading"`
	Body      struct {
		Line    string    `json:"line" maxLength:"2000"`
		TakenAt time.Time `json:"taken_at"`
	}
}

type handsInput struct {
	Body struct {
		Hours []record.Hours `json:"hours" maxItems:"28"`
	}
}

type makerInput struct {
	BatteryPath
	Body struct {
		Volts   *float64 `json:"volts,omitempty"`
		Amps    *float64 `json:"amps,omitempty"`
		Charger string   `json:"charger" maxLength:"120"`
	}
}

type followInput struct {
	ChargePath
	Body struct {
		InstrumentID record.ID `json:"instrument_id" format:"uuid"`
	}
}

// LoggedAnswer is what a logger saw of a charge; null where nothing followed it.
type LoggedAnswer struct {
	Logged *shop.Logged `json:"logged"`
}

// shelfAPI serves what charges and what waits for it.
func (s *Server) shelfAPI(api huma.API) {
	get(s, api, "/shelf", "shelf", "All that charges and waits for it, planned",
		func(ctx context.Context, _ *none) (shop.Shelf, error) {
			return s.shop.Shelf(ctx, who(ctx))
		})
	get(s, api, "/shelf/charges/{charge}", "chargeOnShelf", "One charge of the shelf with its place in the plan",
		func(ctx context.Context, in *ChargePath) (shop.ChargePage, error) {
			return s.shop.Charge(ctx, who(ctx), in.ChargeID)
		})
	put(s, api, "/shelf/charges/{charge}/readings/{reading}", "keepCheck",
		"Keep a reading of a battery on the shelf; its ID is the idempotency key",
		func(ctx context.Context, in *checkInput) (shop.ChargePage, error) {
			keep := record.Keep{ID: in.ReadingID, Line: in.Body.Line, TakenAt: in.Body.TakenAt}
			if err := s.shop.KeepCheck(ctx, who(ctx), in.ChargeID, keep); err != nil {
				return shop.ChargePage{}, err
			}
			return s.shop.Charge(ctx, who(ctx), in.ChargeID)
		})
	get(s, api, "/shelf/charges/{charge}/trace", "loggedCharge", "What a logger sees of a charge, thinned without losing a knee",
		func(ctx context.Context, in *ChargePath) (LoggedAnswer, error) {
			return s.loggedAfter(ctx, in.ChargeID, nil)
		})
	put(s, api, "/shelf/charges/{charge}/logger", "followCharge", "Have a charge followed by a logger of the shop",
		func(ctx context.Context, in *followInput) (LoggedAnswer, error) {
			return s.loggedAfter(ctx, in.ChargeID, s.shop.FollowCharge(ctx, who(ctx), in.ChargeID, in.Body.InstrumentID))
		})
	remove(s, api, "/shelf/charges/{charge}/logger", "unfollowCharge", "End the following of a charge; what was seen stays",
		func(ctx context.Context, in *ChargePath) (LoggedAnswer, error) {
			return s.loggedAfter(ctx, in.ChargeID, s.shop.UnfollowCharge(ctx, who(ctx), in.ChargeID))
		})
	get(s, api, "/jobs/{job}/charges", "charged", "What the batteries of a job were charged with on the shelf",
		func(ctx context.Context, in *JobPath) ([]shop.Charged, error) {
			return s.shop.Charged(ctx, who(ctx), in.JobID)
		})
	get(s, api, "/batteries/{battery}/maker-charge", "makerCharge", "How a battery's maker wants it charged",
		func(ctx context.Context, in *BatteryPath) (record.MakerCharge, error) {
			return s.shop.MakerCharge(ctx, who(ctx), in.BatteryID)
		})
	put(s, api, "/batteries/{battery}/maker-charge", "setMakerCharge", "Write down how a battery's maker wants it charged",
		func(ctx context.Context, in *makerInput) (record.MakerCharge, error) {
			b := in.Body
			if err := s.shop.SetMakerCharge(ctx, who(ctx), in.BatteryID, record.MakerCharge{Volts: b.Volts, Amps: b.Amps, Charger: b.Charger}); err != nil {
				return record.MakerCharge{}, err
			}
			return s.shop.MakerCharge(ctx, who(ctx), in.BatteryID)
		})
	put(s, api, "/shelf/hands", "setHands", "Say when somebody is there; the owner only",
		func(ctx context.Context, in *handsInput) (shop.Shelf, error) {
			return s.shelfAfter(ctx, s.shop.SetHands(ctx, who(ctx), in.Body.Hours))
		})
	put(s, api, "/shelf/charges/{charge}", "askCharge", "Put a battery on the list, or change what is asked; the ID is the idempotency key",
		func(ctx context.Context, in *askChargeInput) (shop.Shelf, error) {
			b := in.Body
			ask := shop.AskCharge{ID: in.ChargeID, BatteryID: b.BatteryID, JobID: b.JobID, Until: b.Until, ReadyBy: b.ReadyBy, Weight: b.Weight}
			if b.Battery != nil {
				fresh, found := b.Battery.battery("battery.")
				if err := found.Err(); err != nil {
					return shop.Shelf{}, err
				}
				ask.Battery = &fresh.Battery
			}
			return s.shelfAfter(ctx, s.shop.AskCharge(ctx, who(ctx), ask))
		})
	put(s, api, "/shelf/charges/{charge}/on", "connectCharge", "Say that a battery is on a charger",
		func(ctx context.Context, in *connectInput) (shop.Shelf, error) {
			to := record.OnCharger{Output: record.Output{ChargerID: in.Body.ChargerID, Channel: in.Body.Channel}, At: in.Body.At}
			return s.shelfAfter(ctx, s.shop.Connect(ctx, who(ctx), in.ChargeID, to))
		})
	put(s, api, "/shelf/charges/{charge}/off", "takeOffCharge", "Say that a battery is off its charger, or off the list",
		func(ctx context.Context, in *takeOffInput) (shop.Shelf, error) {
			return s.shelfAfter(ctx, s.shop.TakeOff(ctx, who(ctx), in.ChargeID, in.Body.At))
		})
	put(s, api, "/shelf/charges/{charge}/decision", "decideCharge", "Decide where a battery is charged, and not before when",
		func(ctx context.Context, in *decideInput) (shop.Shelf, error) {
			pin := record.ChargePin{Output: record.Output{ChargerID: in.Body.ChargerID, Channel: in.Body.Channel}, From: in.Body.From}
			return s.shelfAfter(ctx, s.shop.Decide(ctx, who(ctx), in.ChargeID, &pin))
		})
	remove(s, api, "/shelf/charges/{charge}/decision", "takeBackDecision", "Take a decision back",
		func(ctx context.Context, in *ChargePath) (shop.Shelf, error) {
			return s.shelfAfter(ctx, s.shop.Decide(ctx, who(ctx), in.ChargeID, nil))
		})
}

// shelfAfter is the shelf as it is planned after a change, or the change's error.
func (s *Server) shelfAfter(ctx context.Context, err error) (shop.Shelf, error) {
	if err != nil {
		return shop.Shelf{}, err
	}
	return s.shop.Shelf(ctx, who(ctx))
}

// loggedAfter is what a logger saw of a charge after a change, or the change's error.
func (s *Server) loggedAfter(ctx context.Context, charge record.ID, err error) (LoggedAnswer, error) {
	if err != nil {
		return LoggedAnswer{}, err
	}
	logged, err := s.shop.Logged(ctx, who(ctx), charge)
	return LoggedAnswer{logged}, err
}
