package shop

import (
	"cmp"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"grapnel/app/record"
	"grapnel/core/battery"
	"grapnel/core/evidence"
	"grapnel/core/problem"
	"grapnel/core/quantity"
	"grapnel/core/reading"
	"grapnel/core/standing"
	"grapnel/core/wording"
)

// StandingStore keeps what stands, who came to it, the climate of the shop, and the calendars
// that are subscribed to.
type StandingStore interface {
	Climate(ctx context.Context, shopID record.ID) (OwnClimate, error)
	KeepClimate(ctx context.Context, shopID record.ID, c OwnClimate) error

	// AddStanding writes down that a battery stands; ErrTaken where it does already.
	AddStanding(ctx context.Context, shopID record.ID, s Standing) error
	ChangeStanding(ctx context.Context, shopID record.ID, s Standing) error
	// KeepForecast keeps what one comes to, unless it was changed since its revision.
	KeepForecast(ctx context.Context, shopID, id record.ID, revision int, basis string, f Forecast) error
	LockStanding(ctx context.Context, shopID, id record.ID) (StandingRow, error)
	Standing(ctx context.Context, shopID, id record.ID) (StandingRow, error)
	StandingNow(ctx context.Context, shopID record.ID) ([]StandingRow, error)
	// OpenStandingOf is the one a battery stands as; the zero ID for none.
	OpenStandingOf(ctx context.Context, shopID, batteryID record.ID) (record.ID, error)
	AddStandingVisit(ctx context.Context, shopID, standingID, personID record.ID, v StandingVisit, received time.Time) error
	StandingVisits(ctx context.Context, shopID, standingID record.ID) ([]StandingVisit, error)
	MistakenVisit(ctx context.Context, shopID, id record.ID) error

	AddFeed(ctx context.Context, shopID, personID record.ID, f CalendarFeed, secret string) error
	Feeds(ctx context.Context, shopID record.ID) ([]CalendarFeed, error)
	WithdrawFeed(ctx context.Context, shopID, id record.ID, at time.Time) error
	FeedBySecret(ctx context.Context, secret string) (shopID, personID record.ID, err error)
}

// OwnClimate is that of the shop: a zone by its name, or twelve means and coldest nights of its
// own. Empty is the temperate zone.
type OwnClimate struct {
	Zone string            `json:"zone" enum:",polar,cold,temperate,mild,hot"`
	Own  *standing.Climate `json:"own,omitempty"`
}

// figures are the climate's, temperate where nobody said.
func (c OwnClimate) figures() standing.Climate {
	if c.Own != nil {
		return *c.Own
	}
	found, _ := standing.FindZone(cmp.Or(c.Zone, standing.Temperate))
	return found
}

// StandingRow is a battery that stands, with all that its forecast hangs on.
type StandingRow struct {
	Standing
	Battery     record.Battery
	Vehicle     evidence.Vehicle
	Plate       string
	Description string
	Customer    string
	// Readings counts the readings of the battery, so that one more is noticed.
	Readings int64
	Basis    string
	Forecast Forecast
}

// standings are the batteries that stand, the walks to them and their calendar.
type standings struct {
	*house
	plan standing.Planner
}

// forecastDays is how far ahead of today a forecast looks, mostForecast how far from the charge
// that it begins from at the most; trackEvery how many days apart its track is kept.
const (
	forecastDays = 210
	mostForecast = 730
	trackEvery   = 5
)

// basis says what a forecast of a row is made of.
func (s standings) basis(row StandingRow, c OwnClimate, now time.Time) string {
	text, _ := json.Marshal([]any{s.rules, row.Said, row.Battery.Label, row.Vehicle, row.Readings, row.SeenAt, c, now.Format("2006-01")})
	sum := sha256.Sum256(text)
	return hex.EncodeToString(sum[:16])
}

// knownOf is what is known of a battery: its charge, when, and what draws on it.
type knownOf struct {
	charge *battery.Charge
	at     time.Time
	basis  string
	drain  *standing.Drain
}

// lookUp finds the latest charge and drain of a battery: of its readings without a job, of its
// last job, or as somebody said.
func (s standings) lookUp(ctx context.Context, tx Tx, shopID ID, row StandingRow, m Moment) (knownOf, error) {
	row.FromAt = record.NotAhead(row.FromAt, m.Now)
	k := knownOf{basis: "guess", at: row.FromAt}
	var drainAt time.Time
	if c := row.Said.Charge; c != nil {
		charge := battery.Charge(c.ChargeBand)
		k.charge, k.at, k.basis = &charge, record.NotAhead(c.At, m.Now), c.From
	}
	take := func(c evidence.Case) {
		ev := evidence.Examine(c)
		charge, at := lastCharge(ev, c)
		if charge != nil && standing.Holds(at, row.FromAt) && (k.charge == nil || !at.Before(k.at)) {
			k.charge, k.at, k.basis = charge, at, "reading"
		}
		for _, f := range ev.Findings {
			r := c.Readings[f.Index()]
			amps, ok := r.Number(reading.Amps)
			if ok && f.Valid && r.Kind == reading.Drain && !r.At.Before(drainAt) {
				d := standing.Measured(quantity.Amperes(amps))
				k.drain, drainAt = &d, r.At
			}
		}
	}
	jobs, err := tx.JobsOfBattery(ctx, shopID, row.BatteryID)
	if err != nil {
		return k, err
	}
	if len(jobs) > 0 {
		_, of, err := s.seeBattery(ctx, tx, shopID, jobs[0], row.BatteryID)
		if err != nil {
			return k, err
		}
		take(of.Case)
	}
	loose, err := tx.LooseReadings(ctx, shopID, row.BatteryID)
	if err != nil {
		return k, err
	}
	c := evidence.Case{Now: m.Now.In(m.Zone), Label: row.Battery.Label, Vehicle: row.Vehicle}
	_, c.Readings = record.Fold(loose, row.BatteryID)
	c.Readings = record.NotTakenAhead(c.Readings, c.Now)
	take(c)
	if row.Said.DrainMA != nil {
		d := standing.Measured(quantity.Amperes(*row.Said.DrainMA / 1000))
		k.drain = &d
	}
	return k, nil
}

// lastCharge is the charge of the last epoch that has one, with when it was read.
func lastCharge(ev evidence.Evidence, c evidence.Case) (*battery.Charge, time.Time) {
	for _, e := range slices.Backward(ev.Epochs) {
		if e.Charge == nil {
			continue
		}
		var at time.Time
		for _, i := range e.Charge.Readings {
			if c.Readings[i].At.After(at) {
				at = c.Readings[i].At
			}
		}
		charge := e.Charge.Charge
		return &charge, at
	}
	return nil, time.Time{}
}

// ask is what is asked of a row.
func (s standings) ask(row StandingRow, k knownOf, c OwnClimate, m Moment) standing.Ask {
	climate := c.figures()
	from := dayOf(k.at, m.Zone)
	a := standing.Ask{
		Label: row.Battery.Label, Charge: k.charge, Vehicle: row.Vehicle, From: from, Drain: k.drain, Connected: &row.Said.Connected,
		Place: row.Said.Where, Climate: &climate, Mains: row.Said.Mains, Socket: row.Said.Socket,
	}
	if x := row.Said.ColdestStart; x != nil {
		at := quantity.Celsius(*x)
		a.ColdestStart = &at
	}
	since := int(today(m).Sub(from).Hours() / 24)
	a.Days = min(mostForecast, max(since, 0)+forecastDays)
	return a
}

func dayOf(at time.Time, zone *time.Location) time.Time {
	y, mo, d := at.In(zone).Date()
	return time.Date(y, mo, d, 0, 0, 0, 0, time.UTC)
}

// forecast works out what a row comes to under its care.
func (s standings) forecast(row StandingRow, k knownOf, c OwnClimate, m Moment) Forecast {
	a := s.ask(row, k, c, m)
	f := Forecast{MadeOn: today(m).Format(time.DateOnly), From: a.From.Format(time.DateOnly), Charge: (*standing.ChargeBand)(k.charge), Basis: k.basis, DrainBasis: "none", Track: []Tracked{}}
	switch {
	case !row.Said.Connected:
	case k.drain != nil:
		f.DrainMA, f.DrainBasis = float64(k.drain.Amps)*1000, "measured"
	default:
		f.DrainMA, f.DrainBasis = float64(standing.Typical(row.Vehicle).Amps)*1000, "usual"
	}
	every := standing.ConnectedDays
	kept, ok := s.plan.Under(a, row.Said.Care)
	if ok {
		every = kept.EveryDays
	}
	seen := dayOf(record.NotAhead(row.SeenAt, m.Now), m.Zone)
	due := standing.NextVisit(kept.Dates, every, seen)
	if wanted, err := time.Parse(time.DateOnly, row.Said.WantedOn); err == nil {
		due = due.Wanted(wanted, seen)
	}
	f.Due = DueVisit{
		From: due.From.Format(time.DateOnly), To: due.To.Format(time.DateOnly), Why: due.Why,
		Carry: standing.Carry(row.Battery.Label, row.Vehicle, row.Said.Care, due.Why),
	}
	if !ok {
		return f
	}
	f.Judged, f.Dates, f.Margin = true, kept.Dates, math.Inf(1)
	now := today(m).Format(time.DateOnly)
	for i, p := range kept.Curve {
		if i%trackEvery == 0 || i == len(kept.Curve)-1 {
			f.Track = append(f.Track, Tracked{On: p.Date, ChargeBand: standing.ChargeBand{Percent: p.Percent, Low: p.Low, High: p.High}})
		}
		if margin := float64(p.Coldest - p.FreezesLow); p.Date >= now && margin < f.Margin {
			f.Margin, f.MarginOn = margin, p.Date
		}
	}
	if math.IsInf(f.Margin, 1) {
		f.Margin = 0
	}
	return f
}

// work forecasts a row and keeps it.
func (s standings) work(ctx context.Context, tx Tx, shopID ID, row StandingRow, c OwnClimate, m Moment) (Forecast, error) {
	k, err := s.lookUp(ctx, tx, shopID, row, m)
	if err != nil {
		return Forecast{}, err
	}
	f := s.forecast(row, k, c, m)
	return f, tx.KeepForecast(ctx, shopID, row.ID, row.Revision, s.basis(row, c, today(m)), f)
}

// RefreshStanding forecasts anew what was forecast from something else than holds now, and says
// how many that were. It is meant for the background: the list is drawn from what is stored.
func (s standings) RefreshStanding(ctx context.Context, shopID ID) (int, error) {
	m, err := s.moment(ctx, s.store, shopID)
	if err != nil {
		return 0, err
	}
	c, err := s.store.Climate(ctx, shopID)
	if err != nil {
		return 0, err
	}
	rows, err := s.store.StandingNow(ctx, shopID)
	made := 0
	for _, row := range rows {
		if row.Basis == s.basis(row, c, today(m)) {
			continue
		}
		if _, err := s.work(ctx, s.store, shopID, row, c, m); err != nil {
			return made, err
		}
		made++
	}
	if made > 0 {
		s.feed.wake()
	}
	return made, err
}

// PutAway is a battery that is put away, or what is said of it now.
type PutAway struct {
	ID        ID           `json:"id"`
	BatteryID ID           `json:"battery_id"`
	PlaceID   *ID          `json:"place_id"`
	FromAt    time.Time    `json:"from_at"`
	Said      StandingSaid `json:"said"`
}

// checkSaid holds what is said of a battery that stands against what can be.
func checkSaid(found *problem.List, said *StandingSaid, latest time.Time) {
	said.Spot, said.Note = strings.TrimSpace(said.Spot), strings.TrimSpace(said.Note)
	found.CheckText("said.spot", said.Spot, 0, 40)
	found.CheckText("said.note", said.Note, 0, 500)
	found.CheckCode("said.where", said.Where, standing.Places(), false)
	found.CheckCode("said.care", said.Care, standing.Kinds(), true)
	found.CheckNumber("said.drain_ma", said.DrainMA, 0, standing.MostDrain, "mA")
	found.CheckNumber("said.coldest_start_c", said.ColdestStart, -60, 50, "°C")
	checkDay(found, "said.wanted_on", said.WantedOn)
	if said.Socket != nil {
		found.CheckNumber("said.socket.fuse_a", (*float64)(said.Socket.Fuse), 1, 60, "A")
	}
	c := said.Charge
	if c == nil {
		return
	}
	found.CheckNumber("said.charge.percent", &c.Percent, 0, 100, "%")
	found.CheckNumber("said.charge.low", &c.Low, 0, 100, "%")
	found.CheckNumber("said.charge.high", &c.High, 0, 100, "%")
	found.CheckCode("said.charge.from", c.From, []string{"said", "charged"}, false)
	checkTime(found, "said.charge.at", &c.At, latest)
	c.Low, c.High = min(c.Low, c.Percent), max(c.High, c.Percent)
}

// PutAway writes down that a battery stands, or changes what is said of one that does. Its ID is
// the idempotency key; a battery stands once.
func (s standings) PutAway(ctx context.Context, who Person, in PutAway) error {
	latest := s.stamp().Add(time.Hour)
	var found problem.List
	if in.ID.IsZero() {
		found = append(found, problem.New("problem.missing", "id", "", "a UUID"))
	}
	checkSaid(&found, &in.Said, latest)
	checkTime(&found, "from_at", &in.FromAt, latest)
	if err := found.Err(); err != nil {
		return err
	}
	return s.write(ctx, func(tx Tx) error {
		if in.PlaceID != nil {
			if err := hasPlace(ctx, tx, who.ShopID, *in.PlaceID); err != nil {
				return err
			}
		}
		row, err := tx.LockStanding(ctx, who.ShopID, in.ID)
		switch {
		case err == nil:
			return s.change(ctx, tx, who, row, in)
		case err != ErrNotFound:
			return err
		}
		return s.put(ctx, tx, who, in)
	})
}

// put begins a standing.
func (s standings) put(ctx context.Context, tx Tx, who Person, in PutAway) error {
	if err := known(ctx, tx, who.ShopID, record.Subject{BatteryID: &in.BatteryID}); err != nil {
		return problem.List{problem.New("problem.code", "battery_id", in.BatteryID.String(), "a battery of the shop")}
	}
	if other, err := tx.OpenStandingOf(ctx, who.ShopID, in.BatteryID); err != nil || !other.IsZero() {
		return cmp.Or(err, alreadyStands(in.BatteryID))
	}
	at := in.FromAt.UTC().Truncate(time.Microsecond)
	st := Standing{
		ID: in.ID, BatteryID: in.BatteryID, PlaceID: in.PlaceID, FromAt: at, SeenAt: at, Said: in.Said, Revision: 1, ChangedAt: s.stamp(),
	}
	fitted, err := tx.InstalledNow(ctx, who.ShopID, ID{}, in.BatteryID)
	if err != nil {
		return err
	}
	if len(fitted) > 0 {
		st.VehicleID = &fitted[0].VehicleID
	} else {
		// What is in no vehicle is connected to none.
		st.Said.Connected = false
	}
	if err := tx.AddStanding(ctx, who.ShopID, st); err == ErrTaken {
		return alreadyStands(in.BatteryID)
	} else if err != nil {
		return err
	}
	if err := s.stays(ctx, tx, who, st); err != nil {
		return err
	}
	return s.told(ctx, tx, who, st.ID, "put_away", st)
}

func alreadyStands(id ID) error {
	return problem.List{problem.New("problem.taken", "battery_id", id.String(), "a battery that is not put away already")}
}

// stays writes down at which place it stands, where that is one of the shop's.
func (s standings) stays(ctx context.Context, tx Tx, who Person, st Standing) error {
	of := record.Subject{BatteryID: &st.BatteryID}
	if st.VehicleID != nil {
		of = record.Subject{VehicleID: st.VehicleID}
	}
	at := s.stamp()
	if err := tx.EndStays(ctx, who.ShopID, of, at); err != nil || st.PlaceID == nil || st.ToAt != nil {
		return err
	}
	return tx.AddStay(ctx, who.ShopID, record.Stay{
		ID: record.NewID(), BatteryID: of.BatteryID, VehicleID: of.VehicleID, PlaceID: *st.PlaceID, FromAt: at, Purpose: record.ForStorage,
	})
}

// told forecasts what was changed, and tells of it.
func (s standings) told(ctx context.Context, tx Tx, who Person, id ID, kind string, body any) error {
	row, err := tx.Standing(ctx, who.ShopID, id)
	if err != nil {
		return err
	}
	m, err := s.moment(ctx, tx, who.ShopID)
	if err != nil {
		return err
	}
	c, err := tx.Climate(ctx, who.ShopID)
	if err != nil {
		return err
	}
	if _, err := s.work(ctx, tx, who.ShopID, row, c, m); err != nil {
		return err
	}
	return s.tell(ctx, tx, who, nil, kind, body)
}

// change writes down what is said now of one that stands.
func (s standings) change(ctx context.Context, tx Tx, who Person, row StandingRow, in PutAway) error {
	if row.ToAt != nil {
		return problem.List{problem.New("problem.code", "id", in.ID.String(), "one that stands")}
	}
	if row.BatteryID != in.BatteryID {
		return problem.List{problem.New("problem.code", "battery_id", in.BatteryID.String(), row.BatteryID.String())}
	}
	if in.Said.Charge == nil {
		in.Said.Charge = row.Said.Charge
	}
	if row.VehicleID == nil {
		in.Said.Connected = false
	}
	if sameJSON(row.Said, in.Said) && same(row.PlaceID, in.PlaceID) {
		return nil
	}
	before := row.Standing
	moved := !same(row.PlaceID, in.PlaceID)
	row.Said, row.PlaceID, row.ChangedAt = in.Said, in.PlaceID, s.stamp()
	if err := tx.ChangeStanding(ctx, who.ShopID, row.Standing); err != nil {
		return err
	}
	if moved {
		if err := s.stays(ctx, tx, who, row.Standing); err != nil {
			return err
		}
	}
	return s.told(ctx, tx, who, row.ID, "standing_changed", map[string]any{"before": before, "after": row.Standing})
}

// EndStanding ends a standing, or, with back, lets it stand on as if it had not ended.
func (s standings) EndStanding(ctx context.Context, who Person, id ID, back bool) error {
	return s.write(ctx, func(tx Tx) error {
		row, err := tx.LockStanding(ctx, who.ShopID, id)
		if err != nil || (row.ToAt == nil) == back {
			return err
		}
		at := s.stamp()
		row.ToAt, row.ChangedAt = &at, at
		if back {
			if other, err := tx.OpenStandingOf(ctx, who.ShopID, row.BatteryID); err != nil || !other.IsZero() {
				return cmp.Or(err, alreadyStands(row.BatteryID))
			}
			row.ToAt = nil
		}
		if err := tx.ChangeStanding(ctx, who.ShopID, row.Standing); err != nil {
			return err
		}
		if err := s.stays(ctx, tx, who, row.Standing); err != nil {
			return err
		}
		return s.told(ctx, tx, who, id, map[bool]string{false: "taken_out", true: "put_back"}[back], map[string]any{"id": id})
	})
}

// standsOn lets another battery stand where one did: it took its place in the vehicle. What is
// known of its charge is its own.
func (h *house) standsOn(ctx context.Context, tx Tx, shopID, before, now ID) error {
	id, err := tx.OpenStandingOf(ctx, shopID, before)
	if err != nil || id.IsZero() {
		return err
	}
	row, err := tx.LockStanding(ctx, shopID, id)
	if err != nil {
		return err
	}
	at, next := h.stamp(), row.Standing
	row.ToAt, row.ChangedAt = &at, at
	if err := tx.ChangeStanding(ctx, shopID, row.Standing); err != nil {
		return err
	}
	next.ID, next.BatteryID, next.FromAt, next.SeenAt, next.ChangedAt, next.ToAt = record.NewID(), now, at, at, at, nil
	next.Said.Charge = nil
	if err := tx.AddStanding(ctx, shopID, next); err != ErrTaken {
		return err
	}
	return nil // it stands already
}

// Come is somebody who came to a battery that stands.
type Come struct {
	ID   ID        `json:"-"`
	Line string    `json:"line"`
	Did  string    `json:"did"`
	Note string    `json:"note"`
	At   time.Time `json:"at"`
}

// Come keeps a visit: its reading, what was done, how far the forecast was off, and when
// somebody comes next. A reading that was taken before the last visit is kept all the same.
func (s standings) Come(ctx context.Context, who Person, id ID, in Come) error {
	var found problem.List
	in.Line, in.Note = strings.TrimSpace(in.Line), strings.TrimSpace(in.Note)
	found.CheckText("note", in.Note, 0, 500)
	found.CheckCode("did", in.Did, VisitDeeds(), false)
	checkTime(&found, "at", &in.At, s.stamp().Add(time.Hour))
	if err := found.Err(); err != nil {
		return err
	}
	var parsed []reading.Parsed
	if in.Line != "" {
		var err error
		if parsed, err = record.ParseLine(in.Line); err != nil {
			return err
		}
	}
	return s.write(ctx, func(tx Tx) error {
		again, err := s.once(ctx, tx, who, keyed{id: in.ID, kind: "standing_visit", subject: &id, body: in}, nil)
		if again || err != nil {
			return err
		}
		row, err := tx.LockStanding(ctx, who.ShopID, id)
		if err != nil {
			return err
		}
		m, err := s.moment(ctx, tx, who.ShopID)
		if err != nil {
			return err
		}
		before, err := s.lookUp(ctx, tx, who.ShopID, row, m)
		if err != nil {
			return err
		}
		at := in.At.UTC().Truncate(time.Microsecond)
		v := StandingVisit{ID: in.ID, At: at, Typed: in.Line, Did: in.Did, Note: in.Note}
		of := record.Subject{BatteryID: &row.BatteryID, VehicleID: row.VehicleID}
		if len(parsed) > 0 {
			rows, err := looseRows(ctx, tx, who, of, record.Keep{ID: record.NewID(), Line: in.Line, TakenAt: in.At}, parsed, m)
			if err != nil {
				return err
			}
			if err := tx.AddReadings(ctx, who.ShopID, rows...); err != nil {
				return err
			}
			for _, r := range rows {
				v.Readings = append(v.Readings, r.ID)
			}
		}
		if v.Off, err = s.off(ctx, tx, who, row, before, m); err != nil {
			return err
		}
		if in.Did == DidCharge {
			row.Said.Charge = &SaidCharge{ChargeBand: standing.AfterNight, At: at, From: "charged"}
		}
		if at.After(row.SeenAt) || row.SeenAt.After(m.Now) {
			row.SeenAt = at
		}
		row.ChangedAt = s.stamp()
		if err := tx.ChangeStanding(ctx, who.ShopID, row.Standing); err != nil {
			return err
		}
		if err := tx.AddStandingVisit(ctx, who.ShopID, id, who.ID, v, s.stamp()); err != nil {
			return err
		}
		return s.told(ctx, tx, who, id, "standing_visit", map[string]any{"standing_id": id, "visit": v})
	})
}

// MistakenVisit marks a visit that was written down by mistake, with its readings: all of it stays and
// counts no more. Said again, nothing is written.
func (s standings) MistakenVisit(ctx context.Context, who Person, id, visitID ID) error {
	return s.write(ctx, func(tx Tx) error {
		row, err := tx.LockStanding(ctx, who.ShopID, id)
		if err != nil {
			return err
		}
		visits, err := tx.StandingVisits(ctx, who.ShopID, id)
		if err != nil {
			return err
		}
		i := slices.IndexFunc(visits, func(v StandingVisit) bool { return v.ID == visitID })
		if i < 0 {
			return ErrNotFound
		}
		v := visits[i]
		if v.Mistaken {
			return nil
		}
		if err := s.withdraw(ctx, tx, who, row.BatteryID, v.Readings); err != nil {
			return err
		}
		if err := tx.MistakenVisit(ctx, who.ShopID, v.ID); err != nil {
			return err
		}
		if c := row.Said.Charge; v.Did == DidCharge && c != nil && c.From == "charged" && c.At.Equal(v.At) {
			row.Said.Charge = nil
		}
		row.SeenAt = row.FromAt
		for _, other := range visits {
			if other.ID != v.ID && !other.Mistaken && other.At.After(row.SeenAt) {
				row.SeenAt = other.At
			}
		}
		row.ChangedAt = s.stamp()
		if err := tx.ChangeStanding(ctx, who.ShopID, row.Standing); err != nil {
			return err
		}
		return s.told(ctx, tx, who, id, "visit_mistaken", map[string]any{"standing_id": id, "visit": v})
	})
}

// withdraw marks readings of a battery that belong to no job as mistaken.
func (s standings) withdraw(ctx context.Context, tx Tx, who Person, batteryID ID, ids []ID) error {
	rows, err := tx.LooseReadings(ctx, who.ShopID, batteryID)
	if err != nil {
		return err
	}
	var gone []record.Reading
	for _, r := range rows {
		if slices.Contains(ids, r.ID) {
			back := r.Superseded(record.NewID(), record.ActMistaken, wording.Text("reason.visit_mistaken", nil))
			back.ReceivedAt, back.PersonID = s.stamp(), who.ID
			gone = append(gone, back)
		}
	}
	return tx.AddReadings(ctx, who.ShopID, gone...)
}

// off holds what is known now against what was forecast from what was known before.
func (s standings) off(ctx context.Context, tx Tx, who Person, row StandingRow, before knownOf, m Moment) (*standing.Off, error) {
	now, err := s.lookUp(ctx, tx, who.ShopID, row, m)
	if err != nil || now.charge == nil || now.basis != "reading" || before.charge == nil || !now.at.After(before.at) {
		return nil, err
	}
	c, err := tx.Climate(ctx, who.ShopID)
	if err != nil {
		return nil, err
	}
	o, ok := s.plan.Compare(s.ask(row, before, c, m), dayOf(now.at, m.Zone), *now.charge)
	if !ok {
		return nil, nil
	}
	return &o, nil
}

// KeepClimate writes down the climate of the shop; the owner only. The forecasts follow.
func (s standings) KeepClimate(ctx context.Context, who Person, c OwnClimate) error {
	var found problem.List
	found.CheckCode("zone", c.Zone, standing.ZoneCodes(), true)
	if c.Own != nil {
		for i := range c.Own.Monthly {
			found.CheckNumber(fmt.Sprintf("own.monthly_c[%d]", i), &c.Own.Monthly[i], -60, 50, "°C")
			found.CheckNumber(fmt.Sprintf("own.coldest_c[%d]", i), &c.Own.Coldest[i], -70, c.Own.Monthly[i], "°C")
		}
	}
	if err := found.Err(); err != nil {
		return err
	}
	return s.set(ctx, who, "climate", c, func(tx Tx) (any, bool, error) {
		before, err := tx.Climate(ctx, who.ShopID)
		return before, true, err
	}, func(tx Tx) error { return tx.KeepClimate(ctx, who.ShopID, c) })
}
