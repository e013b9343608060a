package shop

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"sync"
	"time"

	"golang.org/x/sync/singleflight"

	"grapnel/app/record"
	"grapnel/core/battery"
	"grapnel/core/charging"
	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/reading"
	"grapnel/core/shelf"
	"grapnel/core/wording"
)

// Shelf is all that charges and waits for it, planned.
type Shelf struct {
	Shop record.Shop `json:"shop"`
	Now  time.Time   `json:"now"`
	// From and To are what the board shows.
	From  time.Time    `json:"from"`
	To    time.Time    `json:"to"`
	Lanes []ShelfLane  `json:"lanes"`
	Items []ShelfItem  `json:"items"`
	Fixes []shelf.Fix  `json:"fixes"`
	Cost  shelf.Cost   `json:"cost"`
	Air   []PlaceAir   `json:"air"`
	Offer []ShelfOffer `json:"offers"`
	// Decided is what the decisions of people cost, nil where there are none.
	Decided *wording.Statement `json:"decided"`
}

// ShelfLane is a channel.
type ShelfLane struct {
	record.Output
	Name  string `json:"name"`
	Place string `json:"place"`
	Free  bool   `json:"free"`
}

// ShelfItem is a battery on the shelf: what charges, what waits, what finds no channel.
type ShelfItem struct {
	Charge record.Charge `json:"charge"`
	// State is on, planned or unplaced.
	State string `json:"state" enum:"on,planned,unplaced"`
	Label string `json:"label"`
	Tag   string `json:"tag"`
	Plate string `json:"plate"`
	// Percent is how full it is now, Flat tells that it sulphates, since Standing.
	Percent  *charging.Estimate `json:"percent"`
	Flat     bool               `json:"flat"`
	Standing *time.Time         `json:"standing"`
	Lane     string             `json:"lane"`
	Setting  *charging.Setting  `json:"setting"`
	On       *time.Time         `json:"on_at"`
	Testable *time.Time         `json:"testable"`
	Full     *time.Time         `json:"full"`
	Off      *time.Time         `json:"off"`
	// ReadyFrom and ReadyTo hold four of five of the times at which it is ready.
	ReadyFrom *time.Time `json:"ready_from"`
	ReadyTo   *time.Time `json:"ready_to"`
	// Late is by how many minutes it misses its promise.
	Late float64 `json:"late"`
	// Check is when it is looked at next, Stop tells that a stop rule holds.
	Check     *time.Time         `json:"check"`
	Anomalies []charging.Anomaly `json:"anomalies"`
	Stop      bool               `json:"stop"`
	Why       *wording.Statement `json:"why"`
}

// The states of an item.
const (
	itemOn       = "on"
	itemPlanned  = "planned"
	itemUnplaced = "unplaced"
)

// ShelfOffer is a battery whose job waits for a charge and that is not on the list.
type ShelfOffer struct {
	JobID      ID         `json:"job_id"`
	BatteryID  ID         `json:"battery_id"`
	Plate      string     `json:"plate"`
	PromisedAt *time.Time `json:"promised_at,omitempty"`
}

// PlaceAir is what a place needs now and at the most.
type PlaceAir struct {
	Place string      `json:"place"`
	Rows  []shelf.Air `json:"rows"`
	// Most is the row that needs most.
	Most shelf.Air `json:"most"`
}

// shelfCache keeps the plan of the last question: every screen asks the same.
type shelfCache struct {
	planning singleflight.Group
	mu       sync.Mutex
	question string
	plan     shelf.Plan
}

// answer answers a question, once for all who ask it meanwhile.
func (c *shelfCache) answer(p shelf.Planner, a shelf.Ask) (shelf.Plan, error) {
	text, err := json.Marshal([]any{a, a.Zone.String()})
	if err != nil {
		return shelf.Plan{}, err
	}
	question := string(text)
	c.mu.Lock()
	kept, plan := c.question == question, c.plan
	c.mu.Unlock()
	if kept {
		return plan, nil
	}
	answer, _, _ := c.planning.Do(question, func() (any, error) {
		plan := p.Plan(a)
		c.mu.Lock()
		c.question, c.plan = question, plan
		c.mu.Unlock()
		return plan, nil
	})
	return answer.(shelf.Plan), nil
}

// what is a battery of the shelf with what is known of it.
type what struct {
	charge record.Charge
	ask    charging.Ask
	plate  string
	tag    string
	judged evidence.Case
	opened *time.Time
}

// whatOf gathers what is known of the battery of a charge: of its job where it has one.
func (s shelves) whatOf(ctx context.Context, tx Tx, who Person, c record.Charge) (what, error) {
	if c.On != nil {
		on := *c.On
		on.At = record.NotAhead(on.At, s.stamp())
		c.On = &on
	}
	one := what{charge: c, opened: &c.AskedAt}
	var of record.BatteryCase
	if c.JobID != nil {
		j, err := tx.Job(ctx, who.ShopID, *c.JobID)
		if err != nil {
			return one, err
		}
		now, err := s.see(ctx, tx, who.ShopID, j)
		if err != nil {
			return one, err
		}
		if of, err = now.Case(now.Moment, c.BatteryID); err != nil {
			return one, err
		}
		if now.Vehicle != nil {
			one.plate = cmp.Or(now.Vehicle.Plate, now.Vehicle.Description)
		}
		one.opened = &j.OpenedAt
	} else {
		b, err := tx.Battery(ctx, who.ShopID, c.BatteryID)
		if err != nil {
			return one, err
		}
		loose, err := tx.LooseReadings(ctx, who.ShopID, c.BatteryID)
		if err != nil {
			return one, err
		}
		of.Battery.Battery = b
		_, taken := record.Fold(loose, c.BatteryID)
		taken = record.NotTakenAhead(taken, s.stamp())
		of.Case = evidence.Case{Label: b.Label, Readings: taken}
	}
	one.tag, one.judged = of.Battery.Tag, of.Case
	one.ask = charging.Ask{Label: of.Case.Label, Until: c.Until, Attended: true, Where: charging.OnBench}
	one.ask.Case, one.ask.Log = charging.LogOf(of.Case)
	if c.On == nil {
		// What was charged before it came here tells how full it is; nothing runs.
		one.ask.Case, one.ask.Log = of.Case, nil
	}
	return one, nil
}

// Shelf plans all that charges and waits.
func (s shelves) Shelf(ctx context.Context, who Person) (Shelf, error) {
	d, plan, err := s.planned(ctx, who)
	if err != nil {
		return Shelf{}, err
	}
	return d.write(plan), nil
}

// planned gathers the shelf and plans it.
func (s shelves) planned(ctx context.Context, who Person) (*draft, shelf.Plan, error) {
	d := &draft{shelves: s, page: Shelf{Now: s.stamp(), Items: []ShelfItem{}}}
	open, err := d.gather(ctx, who)
	if err != nil {
		return d, shelf.Plan{}, err
	}
	now, sh := s.now().Truncate(time.Minute), d.page.Shop
	d.ask = shelf.Ask{Now: now, Zone: sh.Location(), Hands: windows(sh, now)}
	d.channels(open)
	for _, c := range open {
		one, err := s.whatOf(ctx, s.store, who, c)
		if err != nil {
			return d, shelf.Plan{}, wrap(err, fmt.Sprintf("battery %d", c.Chalk))
		}
		d.add(one)
	}
	plan, err := s.kept.answer(shelf.Planner{Charging: s.planner}, d.ask)
	return d, plan, err
}

// gather reads what the shop has for charging, and gives what is charged.
func (d *draft) gather(ctx context.Context, who Person) (open []record.Charge, err error) {
	if d.page.Shop, err = d.store.Shop(ctx, who.ShopID); err != nil {
		return nil, err
	}
	if d.chargers, err = d.store.Chargers(ctx, who.ShopID); err != nil {
		return nil, err
	}
	if d.places, err = d.store.Places(ctx, who.ShopID); err != nil {
		return nil, err
	}
	if open, err = d.store.OpenCharges(ctx, who.ShopID); err != nil {
		return nil, err
	}
	d.page.Offer, err = d.offers(ctx, who, open)
	return open, err
}

// daysAhead is for how many days hands are counted on.
const daysAhead = 21

// windows are when somebody is there, from yesterday on.
func windows(sh record.Shop, now time.Time) []shelf.Window {
	var out []shelf.Window
	today := now.In(sh.Location())
	for ahead := -1; ahead < daysAhead; ahead++ {
		day := time.Date(today.Year(), today.Month(), today.Day()+ahead, 0, 0, 0, 0, today.Location())
		for _, h := range sh.Hands {
			if int(day.Weekday()+6)%7+1 != h.Day {
				continue
			}
			at := func(text string) time.Time {
				clock, _ := time.Parse(hourForm, text)
				return time.Date(day.Year(), day.Month(), day.Day(), clock.Hour(), clock.Minute(), 0, 0, day.Location())
			}
			out = append(out, shelf.Window{From: at(h.From), To: at(h.To)})
		}
	}
	return out
}

// offers are the batteries whose jobs wait for a charge and that nobody has put on the list.
func (s shelves) offers(ctx context.Context, who Person, open []record.Charge) ([]ShelfOffer, error) {
	out := []ShelfOffer{}
	rows, err := s.store.OpenRows(ctx, who.ShopID, s.stamp().Add(24*time.Hour), ID{}, pageJobs)
	for _, row := range rows {
		id := row.State.BatteryID
		listed := func(c record.Charge) bool { return id != nil && c.BatteryID == *id }
		if row.State.Action != diagnosis.ChargeAndRetest || id == nil || slices.ContainsFunc(open, listed) {
			continue
		}
		out = append(out, ShelfOffer{row.Job.ID, *id, cmp.Or(row.Plate, row.Description), row.Job.PromisedAt})
	}
	return out, err
}

// draft is a shelf while it is put together.
type draft struct {
	shelves
	page     Shelf
	ask      shelf.Ask
	chargers []record.Charger
	places   []record.Place
	whats    []what
	plans    []*charging.Plan
}

// laneName is what a channel is called.
func laneName(c record.Charger, channel int) string {
	if c.Channels < 2 {
		return c.Name
	}
	return fmt.Sprintf("%s, channel %d", c.Name, channel)
}

// channels lists the channels by place, with what is on them.
func (d *draft) channels(open []record.Charge) {
	placeOf := func(c record.Charger) (name string, ordinal int) {
		for _, p := range d.places {
			if c.PlaceID != nil && p.ID == *c.PlaceID {
				return p.Name, p.Ordinal
			}
		}
		return "", len(d.places) + 1000
	}
	for _, p := range d.places {
		d.ask.Places = append(d.ask.Places, shelf.Place{ID: p.Name, Watts: p.Watts, AirM3h: p.AirM3h, RoomM3: p.RoomM3})
	}
	slices.SortStableFunc(d.chargers, func(a, b record.Charger) int {
		_, x := placeOf(a)
		_, y := placeOf(b)
		return cmp.Compare(x, y)
	})
	d.page.Lanes = []ShelfLane{}
	for _, c := range d.chargers {
		place, _ := placeOf(c)
		for n := 1; n <= c.Channels; n++ {
			lane := ShelfLane{Output: record.Output{ChargerID: c.ID, Channel: n}, Name: laneName(c, n), Place: place, Free: true}
			channel := shelf.Channel{ID: lane.Name, Place: place, Charger: chargerOf(c)}
			for _, one := range open {
				if one.On != nil && one.On.Output == lane.Output {
					lane.Free = false
					channel.Since = &shelf.Since{Battery: chalkOf(one), At: one.On.At}
				}
			}
			d.page.Lanes = append(d.page.Lanes, lane)
			d.ask.Channels = append(d.ask.Channels, channel)
		}
	}
}

func chalkOf(c record.Charge) string { return fmt.Sprint(c.Chalk) }

// add takes a battery in. One that is on a charger and was looked at is planned on from its
// last check, with what its log makes of it.
func (d *draft) add(one what) {
	b := shelf.Battery{ID: chalkOf(one.charge), Charge: one.ask, ReadyBy: one.charge.ReadyBy, Weight: one.charge.Weight, Standing: one.opened}
	var plan *charging.Plan
	if at := d.channelOf(one.charge); at >= 0 {
		ask := one.ask
		ask.Charger = &d.ask.Channels[at].Charger
		made := d.planner.Plan(ask)
		plan = &made
		if now := made.Now; now != nil && len(one.ask.Log) > 0 {
			minutes := lastMinutes(one.ask)
			d.ask.Channels[at].Since.At = one.charge.On.At.Add(time.Duration(minutes * float64(time.Minute))).Truncate(time.Second)
			b.Charge.Charge = &battery.Charge{Percent: now.Percent.Value, Low: now.Percent.Low, High: now.Percent.High}
		}
	}
	if pin := one.charge.Pin; pin != nil && one.charge.On == nil {
		if at := d.laneOf(pin.Output); at >= 0 {
			b.Pin = &shelf.Pin{Channel: d.page.Lanes[at].Name, From: pin.From}
		}
	}
	// The question is the same as long as nothing new is known.
	b.Charge.Log, b.Charge.Case.Now = nil, d.ask.Now
	d.ask.Batteries = append(d.ask.Batteries, b)
	d.whats, d.plans = append(d.whats, one), append(d.plans, plan)
}

// channelOf is the channel that a charge is on, -1 for none.
func (d *draft) channelOf(c record.Charge) int {
	if c.On == nil {
		return -1
	}
	return d.laneOf(c.On.Output)
}

// laneOf is where in the lanes, and in the channels, an output stands; -1 for nowhere.
func (d *draft) laneOf(out record.Output) int {
	return slices.IndexFunc(d.page.Lanes, func(l ShelfLane) bool { return l.Output == out })
}

// laneNamed is the same by its name.
func (d *draft) laneNamed(name string) int {
	return slices.IndexFunc(d.page.Lanes, func(l ShelfLane) bool { return l.Name == name })
}

// lastMinutes are the minutes of the last check of a log.
func lastMinutes(a charging.Ask) float64 {
	minutes, _ := a.Log[len(a.Log)-1].Number(reading.Minutes)
	return minutes
}

// write puts the plan and what is known of each battery together.
func (d *draft) write(plan shelf.Plan) Shelf {
	p := &d.page
	p.Fixes, p.Cost, p.Decided = plan.Fixes, plan.Cost, plan.Decided
	p.Air = airOf(plan.Air)
	for i, one := range d.whats {
		p.Items = append(p.Items, d.item(i, one, plan))
	}
	slices.SortStableFunc(p.Items, func(a, b ShelfItem) int { return cmp.Compare(a.Charge.Chalk, b.Charge.Chalk) })
	p.From, p.To = d.ask.Now.Add(-shownBefore), d.ask.Now.Add(shownAhead)
	for _, item := range p.Items {
		if item.State == itemOn && item.On.Before(p.From) && d.ask.Now.Sub(*item.On) < shownBegun {
			p.From = item.On.Add(-shownBefore / 4)
		}
		if item.Off != nil && item.Off.Before(d.ask.Now.Add(shownMost)) && item.Off.After(p.To) {
			p.To = item.Off.Add(shownBefore / 2)
		}
	}
	return *p
}

// What the board shows before now and ahead of it, at the most.
const (
	shownBefore = time.Hour
	shownBegun  = 12 * time.Hour
	shownAhead  = 8 * time.Hour
	shownMost   = 36 * time.Hour
)

// item is one battery with its place in the plan.
func (d *draft) item(i int, one what, plan shelf.Plan) ShelfItem {
	item := ShelfItem{
		Charge: one.charge, State: itemUnplaced, Label: one.ask.Label.Text(), Tag: one.tag, Plate: one.plate, Standing: one.opened,
		Anomalies: []charging.Anomaly{},
	}
	state := d.ask.Batteries[i].Charge.State()
	item.Percent = &charging.Estimate{Value: state.Percent, Low: state.Low, High: state.High}
	for _, why := range plan.Unplaced {
		if why.Battery == chalkOf(one.charge) {
			item.Why = &why.Why
		}
	}
	for _, block := range plan.Plan {
		if block.Battery == chalkOf(one.charge) {
			d.place(&item, i, block)
		}
	}
	for _, late := range plan.Late {
		if late.Battery == chalkOf(one.charge) {
			item.Late = late.Minutes
		}
	}
	item.Flat = shelf.Sulphates(state)
	if made := d.plans[i]; made != nil {
		item.State, item.On = itemOn, &one.charge.On.At
		item.Anomalies, item.Stop = made.Anomalies, made.Stop
		item.Lane = d.page.Lanes[d.channelOf(one.charge)].Name
		item.Check = d.nextCheck(one)
	}
	return item
}

// nextCheck is when a charge that runs is looked at next.
func (d *draft) nextCheck(one what) *time.Time {
	at := one.charge.On.At.Add(charging.CheckMinutes.Duration())
	if len(one.ask.Log) > 0 {
		due, running := charging.NextCheck(one.judged)
		if !running {
			return nil
		}
		at = due
	}
	return &at
}

// place fills in what the plan says of a battery, with how sure that is.
func (d *draft) place(item *ShelfItem, i int, block shelf.Block) {
	item.State, item.Lane, item.On, item.Testable, item.Full, item.Off = itemPlanned, block.Channel, &block.On, block.Testable, block.Full, block.Off
	ask := d.ask.Batteries[i].Charge
	ask.Charger = &d.ask.Channels[d.laneNamed(block.Channel)].Charger
	made := d.planner.Plan(ask)
	item.Setting = made.Setting
	band := made.FullHours
	if ask.Until == charging.Testable {
		band = made.TestableHours
	}
	if band == nil {
		return
	}
	from, to := block.On.Add(hours(band.Low)), block.On.Add(hours(band.High))
	item.ReadyFrom, item.ReadyTo = &from, &to
}

func hours(x float64) time.Duration { return time.Duration(x * float64(time.Hour)).Round(time.Minute) }

// airOf gathers the rows of each place.
func airOf(rows []shelf.Air) []PlaceAir {
	out := []PlaceAir{}
	for _, row := range rows {
		if n := len(out); n == 0 || out[n-1].Place != row.Place {
			out = append(out, PlaceAir{Place: row.Place, Most: row})
		}
		last := &out[len(out)-1]
		last.Rows = append(last.Rows, row)
		if row.M3h > last.Most.M3h {
			last.Most = row
		}
	}
	return out
}

// ChargePage is one charge of the shelf: its place in the plan, and the charge itself.
type ChargePage struct {
	Shop record.Shop `json:"shop"`
	Now  time.Time   `json:"now"`
	Item ShelfItem   `json:"item"`
	// Plan is the charge with the charger that it is on, or is planned for.
	Plan  charging.Plan `json:"plan"`
	Lanes []ShelfLane   `json:"lanes"`
	// Begin is when the plan's hours begin: when it was put on, or will be.
	Begin time.Time `json:"begin"`
}

// Charge is one charge of the shelf.
func (s shelves) Charge(ctx context.Context, who Person, id ID) (ChargePage, error) {
	d, plan, err := s.planned(ctx, who)
	if err != nil {
		return ChargePage{}, err
	}
	at := slices.IndexFunc(d.whats, func(one what) bool { return one.charge.ID == id })
	if at < 0 {
		return ChargePage{}, ErrNotFound
	}
	page := ChargePage{Shop: d.page.Shop, Now: d.page.Now, Item: d.item(at, d.whats[at], plan), Lanes: d.page.Lanes, Begin: d.page.Now}
	if page.Item.On != nil {
		page.Begin = *page.Item.On
	}
	ask := d.whats[at].ask
	if lane := d.laneNamed(page.Item.Lane); lane >= 0 {
		ask.Charger = &d.ask.Channels[lane].Charger
	}
	for _, c := range d.chargers {
		one := chargerOf(c)
		one.ID = c.Name
		ask.Chargers = append(ask.Chargers, one)
	}
	page.Plan = s.planner.Plan(ask)
	return page, nil
}
