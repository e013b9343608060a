package shop

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	"grapnel/app/record"
	"grapnel/core/charging"
	"grapnel/core/problem"
	"grapnel/core/quantity"
	"grapnel/core/school"
	"grapnel/core/trail"
)

// shelves are what waits for a charger and what is on one.
type shelves struct {
	*house
	planner  charging.Planner
	kept     *shelfCache
	readings readings
}

// ShelfStore keeps what is charged.
type ShelfStore interface {
	SetHands(ctx context.Context, shopID record.ID, hours []record.Hours) error
	AddCharge(ctx context.Context, shopID record.ID, c record.Charge) error
	// UpdateCharge writes what changes of a charge; ErrTaken where its channel has another.
	UpdateCharge(ctx context.Context, shopID record.ID, c record.Charge) error
	Charge(ctx context.Context, shopID, id record.ID) (record.Charge, error)
	ChargeForUpdate(ctx context.Context, shopID, id record.ID) (record.Charge, error)
	OpenCharges(ctx context.Context, shopID record.ID) ([]record.Charge, error)
	ChargesOfJob(ctx context.Context, shopID, jobID record.ID) ([]record.Charge, error)
	SetMakerCharge(ctx context.Context, shopID, battery record.ID, m record.MakerCharge) error
	// MakerCharge is what was said; ErrNotFound for nothing.
	MakerCharge(ctx context.Context, shopID, battery record.ID) (record.MakerCharge, error)
	FollowCharge(ctx context.Context, t record.Trace) error
	LeaveCharge(ctx context.Context, shopID, id record.ID) error
	Trace(ctx context.Context, shopID, id record.ID) (record.Trace, error)
	// FollowedTraces lists what is followed, without what was seen.
	FollowedTraces(ctx context.Context) ([]record.Trace, error)
	// HoldTrace gives a followed charge to one server alone until some time, and tells whether
	// it has it; KeepTrace writes what that saw.
	HoldTrace(ctx context.Context, id, holder record.ID, at, till time.Time) (bool, error)
	KeepTrace(ctx context.Context, holder record.ID, t record.Trace) error
}

// AskCharge is a battery that is put on the list of what waits for a charger.
type AskCharge struct {
	ID        ID
	BatteryID ID
	JobID     *ID
	Until     string
	ReadyBy   *time.Time
	Weight    float64
	// Battery is one that the shop does not know yet; nil for one that it does.
	Battery *record.Battery
}

// Limits of what is asked of a charge.
const (
	mostWeight = 10
	// waitsLonger is how far off a promise may be.
	waitsLonger = 366 * 24 * time.Hour
)

// AskCharge puts a battery on the list, or changes what is asked of one that is on it. It
// gets the least number that no other has.
func (s shelves) AskCharge(ctx context.Context, who Person, in AskCharge) error {
	var found problem.List
	found.CheckCode("until", in.Until, charging.Untils(), false)
	found.CheckNumber("weight", &in.Weight, 0.1, mostWeight, "")
	if in.Battery != nil {
		found = append(found, checkBattery("battery", *in.Battery)...)
	}
	if in.ReadyBy != nil {
		at := in.ReadyBy.UTC().Truncate(time.Microsecond)
		in.ReadyBy = &at
		checkTime(&found, "ready_by", in.ReadyBy, s.stamp().Add(waitsLonger))
	}
	if err := found.Err(); err != nil {
		return err
	}
	return s.write(ctx, func(tx Tx) error {
		before, err := tx.ChargeForUpdate(ctx, who.ShopID, in.ID)
		if err == nil && !before.Open() {
			return over(before)
		}
		if err == nil {
			now := before
			now.Until, now.ReadyBy, now.Weight = in.Until, in.ReadyBy, in.Weight
			return s.keep(ctx, tx, who, "charge_asked", before, now)
		}
		if !errors.Is(err, ErrNotFound) {
			return err
		}
		if _, err := tx.Battery(ctx, who.ShopID, in.BatteryID); errors.Is(err, ErrNotFound) && in.Battery != nil {
			fresh := *in.Battery
			fresh.ID = in.BatteryID
			if err := tx.AddBattery(ctx, who.ShopID, fresh, s.stamp()); err != nil {
				return err
			}
		} else if err != nil {
			return err
		}
		if in.JobID != nil {
			if _, err := batteryOf(ctx, tx, who, *in.JobID, in.BatteryID); err != nil {
				return err
			}
		}
		open, err := tx.OpenCharges(ctx, who.ShopID)
		if err != nil {
			return err
		}
		c := record.Charge{
			ID: in.ID, BatteryID: in.BatteryID, JobID: in.JobID, Chalk: freeChalk(open), Until: in.Until, ReadyBy: in.ReadyBy, Weight: in.Weight,
			AskedAt: s.stamp(),
		}
		if slices.ContainsFunc(open, func(other record.Charge) bool { return other.BatteryID == in.BatteryID }) {
			return problem.List{problem.New("problem.taken", "battery_id", in.BatteryID.String(), "a battery that is not on the list yet")}
		}
		if err := tx.AddCharge(ctx, who.ShopID, c); err != nil {
			return err
		}
		return s.tell(ctx, tx, who, nil, "charge_asked", c)
	})
}

// over says that a charge has ended.
func over(c record.Charge) error {
	return problem.List{problem.New("problem.taken", "charge", fmt.Sprint(c.Chalk), "one that is not over")}
}

// freeChalk is the least number that no charge has.
func freeChalk(open []record.Charge) int {
	for n := 1; ; n++ {
		if !slices.ContainsFunc(open, func(c record.Charge) bool { return c.Chalk == n }) {
			return n
		}
	}
}

// keep writes a charge that has changed, with its event; one that is the same is left.
func (s shelves) keep(ctx context.Context, tx Tx, who Person, kind string, before, now record.Charge) error {
	if sameJSON(before, now) {
		return nil
	}
	err := tx.UpdateCharge(ctx, who.ShopID, now)
	if errors.Is(err, ErrTaken) {
		return channelTaken(now.On.Channel)
	}
	if err != nil {
		return err
	}
	return s.tell(ctx, tx, who, nil, kind, map[string]any{"before": before, "after": now})
}

func channelTaken(channel int) error {
	return problem.List{problem.New("problem.taken", "channel", fmt.Sprint(channel), "a channel with nothing on it")}
}

// change changes an open charge.
func (s shelves) change(ctx context.Context, who Person, id ID, kind string, do func(tx Tx, c *record.Charge) error) error {
	return s.write(ctx, func(tx Tx) error {
		before, err := tx.ChargeForUpdate(ctx, who.ShopID, id)
		if err != nil {
			return err
		}
		now := before
		if err := do(tx, &now); err != nil {
			return err
		}
		return s.keep(ctx, tx, who, kind, before, now)
	})
}

// Connect writes down that a battery has been put on a charger. What forbids its charge
// forbids that.
func (s shelves) Connect(ctx context.Context, who Person, id ID, to record.OnCharger) error {
	to.At = to.At.UTC().Truncate(time.Microsecond)
	return s.change(ctx, who, id, "charge_on", func(tx Tx, c *record.Charge) error {
		if c.On != nil && c.On.Output == to.Output {
			return nil
		}
		var found problem.List
		checkTime(&found, "at", &to.At, s.stamp().Add(time.Minute))
		if c.On != nil || !c.Open() {
			found = append(found, problem.New("problem.taken", "charge", fmt.Sprint(c.Chalk), "one that is not on a charger yet; take it off first"))
		}
		if err := found.Err(); err != nil {
			return err
		}
		charger, err := s.output(ctx, tx, who, to.Output)
		if err != nil {
			return err
		}
		one, err := s.whatOf(ctx, tx, who, *c)
		if err != nil {
			return err
		}
		pair := s.planner.Pairs(one.ask, []charging.Charger{chargerOf(charger)})[0]
		for _, r := range pair.Refusals {
			found = append(found, problem.New("problem.refused", "charger_id", charger.Name, r.Text))
		}
		if err := found.Err(); err != nil {
			return err
		}
		c.On = &to
		return s.count(ctx, tx, who, *c, trail.ChargeCheck, to.At, charging.CheckMinutes.Seconds())
	})
}

// count has the next wait of a charge counted, in place of what was counted before: the look
// at it, which rings at once where no time is left, or its rest.
func (s shelves) count(ctx context.Context, tx Tx, who Person, c record.Charge, kind string, from time.Time, seconds quantity.Seconds) error {
	running, err := tx.RunningClocks(ctx, who.ShopID)
	if err != nil {
		return err
	}
	for _, one := range running {
		if one.BatteryID == c.BatteryID && (one.Kind == trail.ChargeCheck || one.Kind == trail.Rest) {
			if err := tx.EndClock(ctx, who.ShopID, one.ID, s.stamp(), record.ClockAnswered); err != nil {
				return err
			}
		}
	}
	return tx.AddClock(ctx, who.ShopID, record.Clock{
		ID: record.NewID(), JobID: c.JobID, BatteryID: c.BatteryID, Kind: kind, Seconds: seconds, StartedAt: from, StartedBy: who.ID,
	})
}

// output finds the charger of an output.
func (s shelves) output(ctx context.Context, tx Tx, who Person, out record.Output) (record.Charger, error) {
	list, err := tx.Chargers(ctx, who.ShopID)
	if err != nil {
		return record.Charger{}, err
	}
	i := slices.IndexFunc(list, func(c record.Charger) bool { return c.ID == out.ChargerID })
	if i < 0 {
		return record.Charger{}, problem.List{problem.New("problem.code", "charger_id", out.ChargerID.String(), "a charger of this shop")}
	}
	if out.Channel < 1 || out.Channel > list[i].Channels {
		return list[i], problem.List{problem.New("problem.range", "channel", fmt.Sprint(out.Channel), problem.Range(1, float64(list[i].Channels), ""))}
	}
	return list[i], nil
}

// TakeOff writes down that a battery has been taken off its charger, or off the list.
func (s shelves) TakeOff(ctx context.Context, who Person, id ID, at time.Time) error {
	at = at.UTC().Truncate(time.Microsecond)
	return s.change(ctx, who, id, "charge_off", func(tx Tx, c *record.Charge) error {
		if !c.Open() {
			return nil
		}
		var found problem.List
		checkTime(&found, "at", &at, s.stamp().Add(time.Minute))
		// What a clock stamped that was ahead says nothing of when it was put on.
		if c.On != nil && at.Before(c.On.At) && !c.On.At.After(s.stamp()) {
			found = append(found, problem.New("problem.range", "at", at.Format(time.RFC3339), "after it was put on"))
		}
		if err := found.Err(); err != nil {
			return err
		}
		c.OffAt = &at
		if c.On == nil {
			return nil
		}
		if err := tx.LeaveCharge(ctx, who.ShopID, c.ID); err != nil {
			return err
		}
		return s.count(ctx, tx, who, *c, trail.Rest, at, school.RestMinutes.Seconds())
	})
}

// KeepCheck keeps a reading of a battery on the shelf: on its job where it has one.
func (s shelves) KeepCheck(ctx context.Context, who Person, id ID, in record.Keep) error {
	c, err := s.store.Charge(ctx, who.ShopID, id)
	if err != nil {
		return err
	}
	in.BatteryID = c.BatteryID
	if c.JobID != nil {
		_, err = s.readings.Keep(ctx, who, *c.JobID, in)
		return err
	}
	if err := s.readings.KeepOf(ctx, who, record.Subject{BatteryID: &c.BatteryID}, in); err != nil || c.On == nil || !c.Open() {
		return err
	}
	return s.write(ctx, func(tx Tx) error { return s.countOn(ctx, tx, who, c) })
}

// countOn counts to the next look at a charge that was looked at: no time at all where a stop
// rule holds.
func (s shelves) countOn(ctx context.Context, tx Tx, who Person, c record.Charge) error {
	one, err := s.whatOf(ctx, tx, who, c)
	if err != nil || len(one.ask.Log) == 0 {
		return err
	}
	charger, err := s.output(ctx, tx, who, c.On.Output)
	if err != nil {
		return err
	}
	with := chargerOf(charger)
	one.ask.Charger = &with
	seconds := charging.CheckMinutes.Seconds()
	if s.planner.Plan(one.ask).Stop {
		seconds = 0
	}
	at := one.judged.Readings[len(one.judged.Readings)-1].At
	return s.count(ctx, tx, who, c, trail.ChargeCheck, at, seconds)
}

// Decide writes down where a person wants a battery to be charged, and not before when; nil
// takes the decision back.
func (s shelves) Decide(ctx context.Context, who Person, id ID, pin *record.ChargePin) error {
	return s.change(ctx, who, id, "charge_decided", func(tx Tx, c *record.Charge) error {
		if !c.Open() {
			return over(*c)
		}
		if c.On != nil && pin != nil {
			return problem.List{problem.New("problem.taken", "charge", fmt.Sprint(c.Chalk), "one that is not on a charger yet; take it off first")}
		}
		if pin != nil {
			var found problem.List
			if pin.From != nil {
				from := pin.From.UTC().Truncate(time.Microsecond)
				pin.From = &from
				checkTime(&found, "from", pin.From, s.stamp().Add(waitsLonger))
			}
			if err := found.Err(); err != nil {
				return err
			}
			if _, err := s.output(ctx, tx, who, pin.Output); err != nil {
				return err
			}
		}
		c.Pin = pin
		return nil
	})
}

// SetHands writes down when somebody is there; the owner only.
func (s shelves) SetHands(ctx context.Context, who Person, hours []record.Hours) error {
	var found problem.List
	if len(hours) > mostHours {
		found = append(found, problem.New("problem.range", "hours", fmt.Sprint(len(hours)), fmt.Sprintf("%d at the most", mostHours)))
	}
	for i, h := range hours {
		from, errFrom := time.Parse(hourForm, h.From)
		to, errTo := time.Parse(hourForm, h.To)
		at := fmt.Sprintf("hours[%d]", i)
		if h.Day < 1 || h.Day > 7 {
			found = append(found, problem.New("problem.range", at+".day", fmt.Sprint(h.Day), "1 for Monday to 7"))
		}
		if errFrom != nil || errTo != nil || !from.Before(to) {
			found = append(found, problem.New("problem.type", at, h.From+" to "+h.To, "08:00 to 18:00, the second later"))
		}
	}
	if err := found.Err(); err != nil {
		return err
	}
	return s.write(ctx, func(tx Tx) error {
		sh, err := tx.Shop(ctx, who.ShopID)
		if err != nil || sameJSON(sh.Hands, hours) {
			return err
		}
		if err := tx.SetHands(ctx, who.ShopID, hours); err != nil {
			return err
		}
		return s.tell(ctx, tx, who, nil, "charge_hours", map[string]any{"before": sh.Hands, "after": hours})
	})
}

// mostHours is how many times of the week may be said, hourForm how one is.
const (
	mostHours = 28
	hourForm  = "15:04"
)
