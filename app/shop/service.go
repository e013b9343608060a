package shop

import (
	"context"
	"fmt"
	"sync"
	"time"

	"grapnel/app/people"
	"grapnel/app/record"
	"grapnel/core/charging"
	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/fitting"
	"grapnel/core/handbook"
	"grapnel/core/jump"
	"grapnel/core/standing"
	"grapnel/core/terminals"
	"grapnel/core/twin"
)

// ID, Person and Moment are named so often here that they go by their own names.
type (
	ID     = record.ID
	Person = people.Person
	Moment = record.Moment
)

// ErrNotFound is returned for a thing the shop does not have.
var ErrNotFound = record.ErrNotFound

// ErrForbidden is returned for what is somebody else's to do.
var ErrForbidden = people.ErrForbidden

// Service is what people do with the shop, each part in a file of its name. It is safe
// for use by many at once.
type Service struct {
	*people.Desk
	founding
	staff
	places
	installations
	jobs
	readings
	stops
	answers
	waits
	pictures
	board
	lives
	sums
	limits
	instruments
	logbooks
	charges
	shelves
	attempts
	stocks
	standings

	house *house
}

// NewService works on a store; now tells the time.
func NewService(store Store, now func() time.Time) *Service {
	h := &house{store: store, now: now, rules: handbook.RulesHash(), engine: diagnosis.New(), feed: newFeed(store)}
	h.judged = newJudged(h.engine)
	planner := charging.Planner{Designs: new(twin.Designs)}
	desk := people.NewDesk(store, now)
	return &Service{
		Desk: desk, house: h,
		founding: founding{h}, staff: staff{h, desk}, places: places{h}, installations: installations{h}, jobs: jobs{house: h, pages: &pageCache{}},
		readings: readings{h}, stops: stops{h},
		answers: answers{h}, waits: waits{h}, pictures: pictures{h}, board: board{h}, lives: lives{h}, sums: sums{h}, limits: limits{h},
		instruments: instruments{h}, logbooks: logbooks{h}, charges: charges{h, planner}, shelves: shelves{h, planner, &shelfCache{}, readings{h}},
		attempts:  attempts{h, jump.Planner{Designs: planner.Designs}},
		stocks:    stocks{h, fitting.Planner{Designs: planner.Designs}, terminals.Work{Designs: planner.Designs}},
		standings: standings{h, standing.Planner{Designs: planner.Designs}},
	}
}

// Judge judges one case by itself.
func (s *Service) Judge(ctx context.Context, c evidence.Case) (diagnosis.Assessment, error) {
	return s.house.assess(ctx, c)
}

// Feed is what listeners wait on.
func (s *Service) Feed() *Feed { return s.house.feed }

// Shop is the shop that somebody works in.
func (s *Service) Shop(ctx context.Context, who Person) (record.Shop, error) {
	return s.house.store.Shop(ctx, who.ShopID)
}

// Shops lists the shops of this database.
func (s *Service) Shops(ctx context.Context) ([]record.Shop, error) { return s.house.store.Shops(ctx) }

// house is what every part of the service shares.
type house struct {
	store Store
	now   func() time.Time
	// rules is the hash of the rule tables verdicts are drawn with.
	rules string
	// engine judges the cases and keeps the labels it has calibrated.
	engine *diagnosis.Engine
	// judged is the engine with what it found last.
	judged *judged
	feed   *Feed
	// zones are the time zones of shops by their IDs: one is said when the shop is founded
	// and stays.
	zones sync.Map
	// watch is told what work was done.
	watch Observer
	// room refuses a change where there is no room to write it down; nil for one that
	// there always is.
	room func() error
}

// Observer is told what work was done, for whoever looks after the server.
type Observer struct {
	// Kept is told how many readings a change kept, Assessed how long judging a case took.
	Kept     func(readings int)
	Assessed func(took time.Duration)
}

// Observe has the work observed; before anything else is done with the service.
func (s *Service) Observe(o Observer) { s.house.watch, s.house.judged.watched = o, o.Assessed }

// AskForRoom has every change ask first whether there is room to write it down; its error
// refuses the change. Before anything else is done with the service.
func (s *Service) AskForRoom(room func() error) { s.house.room = room }

// counting counts the readings that a transaction keeps.
type counting struct {
	Tx
	kept int
}

// AddReadings appends to the log.
func (c *counting) AddReadings(ctx context.Context, shopID record.ID, rows ...record.Reading) error {
	err := c.Tx.AddReadings(ctx, shopID, rows...)
	if err == nil {
		c.kept += len(rows)
	}
	return err
}

// write makes a change whole or not at all, and has everyone told who listens.
func (h *house) write(ctx context.Context, do func(Tx) error) error {
	if h.room != nil {
		if err := h.room(); err != nil {
			return err
		}
	}
	kept := 0
	err := h.store.Write(ctx, func(tx Tx) error {
		counted := &counting{Tx: tx}
		err := do(counted)
		kept = counted.kept
		return err
	})
	if err == nil {
		h.feed.wake()
		if h.watch.Kept != nil && kept > 0 {
			h.watch.Kept(kept)
		}
	}
	return err
}

// stamp is the present in the precision the database keeps.
func (h *house) stamp() time.Time { return h.now().UTC().Truncate(time.Microsecond) }

// moment is now in the zone of a shop.
func (h *house) moment(ctx context.Context, tx FoundingStore, shopID ID) (Moment, error) {
	if zone, ok := h.zones.Load(shopID); ok {
		return Moment{Now: h.stamp(), Zone: zone.(*time.Location)}, nil
	}
	sh, err := tx.Shop(ctx, shopID)
	if err != nil {
		return Moment{}, err
	}
	h.zones.Store(shopID, sh.Location())
	return Moment{Now: h.stamp(), Zone: sh.Location()}, nil
}

// Limits of texts, in characters.
const (
	maxNameText  = 120
	maxPlate     = 32
	maxComplaint = 500
	maxReason    = 300
)

// wrap says what was being done when something failed.
func wrap(err error, doing string) error {
	if err == nil {
		return nil
	}
	return fmt.Errorf("%s: %w", doing, err)
}
