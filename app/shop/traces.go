package shop

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/core/charging"
	"grapnel/core/problem"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/wording"
)

// Logger is the kind of an instrument that reads the volts and the amps of a charge at once.
const Logger = "logger"

// LoggerProtocol is what a logger is spoken to in.
const LoggerProtocol = "log"

// Logged is what a logger sees of a charge, for its page.
type Logged struct {
	Instrument string `json:"instrument"`
	Followed   bool   `json:"followed"`
	// Trouble is what is wrong with the instrument, one of its codes, Why the same in words;
	// empty for nothing.
	Trouble string         `json:"trouble"`
	Why     string         `json:"why"`
	Trace   charging.Trace `json:"trace"`
}

// FollowCharge has a charge that is on followed by one of the shop's loggers.
func (s shelves) FollowCharge(ctx context.Context, who Person, id, instrumentID ID) error {
	return s.change(ctx, who, id, "charge_followed", func(tx Tx, c *record.Charge) error {
		if c.On == nil || !c.Open() {
			return problem.List{problem.New("problem.taken", "charge", fmt.Sprint(c.Chalk), "one that is on a charger")}
		}
		// Of two who ask for one logger at once the second sees what the first did.
		if err := tx.TouchShop(ctx, who.ShopID); err != nil {
			return err
		}
		list, err := tx.Instruments(ctx, who.ShopID)
		if err != nil {
			return err
		}
		if !slices.ContainsFunc(list, func(one record.Instrument) bool { return one.ID == instrumentID && one.Kind == Logger }) {
			return problem.List{problem.New("problem.code", "instrument_id", instrumentID.String(), "a logger of this shop")}
		}
		followed, err := tx.FollowedTraces(ctx)
		if err != nil {
			return err
		}
		for _, t := range followed {
			if t.InstrumentID == instrumentID && t.ChargeID != id {
				return problem.List{problem.New("problem.taken", "instrument_id", instrumentID.String(), "a logger that follows no other charge")}
			}
		}
		if err := tx.FollowCharge(ctx, record.Trace{ChargeID: id, ShopID: who.ShopID, InstrumentID: instrumentID, PersonID: who.ID}); err != nil {
			return err
		}
		return s.tell(ctx, tx, who, nil, "charge_followed", map[string]any{"charge": id, "instrument": instrumentID})
	})
}

// UnfollowCharge ends the following of a charge; what was seen stays.
func (s shelves) UnfollowCharge(ctx context.Context, who Person, id ID) error {
	return s.change(ctx, who, id, "charge_left", func(tx Tx, _ *record.Charge) error {
		if err := tx.LeaveCharge(ctx, who.ShopID, id); err != nil {
			return err
		}
		return s.tell(ctx, tx, who, nil, "charge_left", map[string]any{"charge": id})
	})
}

// Logged is what was seen of a charge; nil where nothing followed it.
func (s shelves) Logged(ctx context.Context, who Person, id ID) (*Logged, error) {
	t, err := s.store.Trace(ctx, who.ShopID, id)
	if errors.Is(err, ErrNotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	list, err := s.store.Instruments(ctx, who.ShopID)
	// One that is off the list by now has no name any more.
	out := &Logged{Instrument: wording.Word("instrument_" + Logger), Followed: t.Followed, Trouble: t.Trouble, Trace: t.Trace}
	if t.Trouble != "" {
		out.Why = wording.Word("trouble_" + t.Trouble)
	}
	if out.Trace.Runs == nil {
		out.Trace.Runs = [][]charging.TracePoint{}
	}
	for _, one := range list {
		if one.ID == t.InstrumentID {
			out.Instrument = one.Name
		}
	}
	return out, err
}

// Watch is a charge that a logger follows, with what is needed to read it.
type Watch struct {
	record.Trace
	Name    string
	Address string
	OnAt    time.Time
}

// Watches lists what is to be read now, without what was seen before.
func (s shelves) Watches(ctx context.Context) ([]Watch, error) {
	list, err := s.store.FollowedTraces(ctx)
	out := []Watch{}
	for _, t := range list {
		c, err := s.store.Charge(ctx, t.ShopID, t.ChargeID)
		if err != nil {
			return nil, err
		}
		instruments, err := s.store.Instruments(ctx, t.ShopID)
		if err != nil {
			return nil, err
		}
		i := slices.IndexFunc(instruments, func(one record.Instrument) bool { return one.ID == t.InstrumentID })
		if i < 0 || c.On == nil {
			continue // taken off the list meanwhile: nothing to read
		}
		out = append(out, Watch{t, instruments[i].Name, instruments[i].Address, record.NotAhead(c.On.At, s.stamp())})
	}
	return out, err
}

// Resume takes up what was seen of a charge that its reader holds.
func (s shelves) Resume(ctx context.Context, w *Watch) (err error) {
	w.Trace, err = s.store.Trace(ctx, w.ShopID, w.ChargeID)
	return err
}

// Hold gives a followed charge to one server alone for a while, and tells whether it has it.
func (s shelves) Hold(ctx context.Context, id, holder ID, life time.Duration) (bool, error) {
	at := s.stamp()
	return s.store.HoldTrace(ctx, id, holder, at, at.Add(life))
}

// Saw keeps what a logger has seen of a charge that its reader holds. From
// what was read last, if anything, a check is kept when one is due or a stop rule would hold.
func (s shelves) Saw(ctx context.Context, holder ID, w *Watch, latest []charging.TracePoint) error {
	at := s.stamp()
	line := ""
	var check reading.Reading
	if len(latest) > 0 {
		line = checkLine(w, middle(latest))
		p, err := reading.Parse(line)
		if err != nil {
			// Volts the wrong way round, or more than any charge has: no check comes of it.
			line, w.Trouble = "", beyondRange
		}
		check = p.Reading
	}
	due, err := s.checkDue(ctx, w, line, check)
	if err != nil {
		return err
	}
	if due {
		w.CheckedAt = &at
	}
	if err := s.store.KeepTrace(ctx, holder, w.Trace); err != nil || !due {
		return err
	}
	who := Person{ID: w.PersonID, ShopID: w.ShopID, Role: people.Technician}
	return s.KeepCheck(ctx, who, w.ChargeID, record.Keep{ID: record.NewID(), Line: line, TakenAt: at})
}

// checkDue reports whether a line is to be kept as a check: each half hour, and at once where
// a stop rule would hold.
func (s shelves) checkDue(ctx context.Context, w *Watch, line string, check reading.Reading) (bool, error) {
	if line == "" {
		return false, nil
	}
	last := w.OnAt
	if w.CheckedAt != nil {
		last = *w.CheckedAt
	}
	since := s.stamp().Sub(last)
	// One that lies ahead was stamped by a clock that was: nobody knows how long ago that is.
	if since < 0 {
		return true, nil
	}
	if since >= charging.CheckMinutes.Duration() || since < urgentEvery {
		return since >= urgentEvery, nil
	}
	c, err := s.store.Charge(ctx, w.ShopID, w.ChargeID)
	if err != nil {
		return false, err
	}
	one, err := s.whatOf(ctx, s.store, Person{ID: w.PersonID, ShopID: w.ShopID}, c)
	return err == nil && charging.Urgent(one.judged, check), err
}

// beyondRange is the trouble of an instrument whose figures no reading may have.
const beyondRange = "overload"

// urgentEvery is how long after a check the next may be kept at once.
const urgentEvery = time.Minute

// fromStart is how long after the start a logger may begin and still count all that went in.
const fromStart = 2 * time.Minute

// checkLine writes a logger's figures as a check. The ampere-hours are said where it saw the
// charge from its start, without a gap.
func checkLine(w *Watch, recent charging.TracePoint) string {
	minutes := int(recent.Seconds / time.Minute.Seconds())
	line := fmt.Sprintf("charge %.2fv %.2fa %dmin", recent.Volts, recent.Amps, minutes)
	if len(w.Runs) == 1 && w.Runs[0][0].Seconds < fromStart.Seconds() {
		line += fmt.Sprintf(" %.2fah", w.AmpereHours)
	}
	return line + " by " + w.Name
}

// middle is the mean of what was read last, against the noise of a single figure.
func middle(list []charging.TracePoint) charging.TracePoint {
	volts, amps := 0.0, 0.0
	for _, s := range list {
		volts += float64(s.Volts)
		amps += float64(s.Amps)
	}
	n := float64(len(list))
	return charging.TracePoint{Seconds: list[len(list)-1].Seconds, Volts: quantity.Volts(volts / n), Amps: quantity.Amperes(max(0, amps/n))}
}
