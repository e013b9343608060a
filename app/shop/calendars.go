package shop

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base32"
	"encoding/hex"
	"errors"
	"strings"
	"time"

	"grapnel/app/archive"
	"grapnel/app/people"
	"grapnel/core/problem"
	"grapnel/core/wording"
)

// epochOfSequences is the day from which sequences count.
var epochOfSequences = time.Date(2020, 1, 1, 0, 0, 0, 0, time.UTC)

// Calendar is the visits that are due, each on the day of its walk. It names what stands, and no
// customer: a calendar travels.
func (s standings) Calendar(ctx context.Context, who Person) (archive.Calendar, error) {
	sh, err := s.store.Shop(ctx, who.ShopID)
	if err != nil {
		return archive.Calendar{}, err
	}
	rounds, err := s.Rounds(ctx, who)
	if err != nil {
		return archive.Calendar{}, err
	}
	rows, err := s.store.StandingNow(ctx, who.ShopID)
	if err != nil {
		return archive.Calendar{}, err
	}
	byID := map[ID]StandingRow{}
	for _, r := range rows {
		byID[r.ID] = r
	}
	c := archive.Calendar{Name: sh.Name}
	for _, w := range rounds.Walks {
		on, err := time.Parse(time.DateOnly, w.On)
		if err != nil {
			return archive.Calendar{}, err
		}
		for _, stop := range w.Stops {
			c.Events = append(c.Events, eventOf(stop, byID[stop.ID], on))
		}
	}
	return c, nil
}

func eventOf(y YardRow, row StandingRow, on time.Time) archive.Event {
	made, _ := time.Parse(time.DateOnly, row.Forecast.MadeOn)
	changed := row.ChangedAt
	if made.After(changed) {
		changed = made
	}
	values := wording.Values{"name": y.Name, "from": y.Due.From, "to": y.Due.To}
	e := archive.Event{
		// A forecast that is made anew moves the day without anybody having changed anything.
		UID: "standing-" + y.ID.String() + "@grapnel", Sequence: row.Revision + int(made.Sub(epochOfSequences).Hours()/24), Changed: changed, On: on,
		Summary: wording.Text("calendar."+y.Due.Why, values), Location: strings.Trim(y.Place+", "+y.Spot, ", "),
	}
	var lines []string
	lines = append(lines, wording.Text("calendar.window", values))
	var things []string
	for _, thing := range y.Due.Carry {
		things = append(things, wording.Word("carry_"+thing))
	}
	lines = append(lines, wording.Text("calendar.carry", wording.Values{"things": strings.Join(things, ", ")}))
	e.Description = strings.Join(lines, "\n")
	return e
}

// NewFeed is a calendar with its secret address, which is told once.
type NewFeed struct {
	Feed CalendarFeed `json:"feed"`
	// Path is the secret address, from the root of the server.
	Path string `json:"path"`
}

// secretBytes is how long the secret of an address is.
const secretBytes = 20

// MakeFeed makes a secret address for a calendar. An ID that was used is refused: what was told
// once is not told again.
func (s standings) MakeFeed(ctx context.Context, who Person, id ID, name string) (NewFeed, error) {
	var found problem.List
	name = strings.TrimSpace(name)
	found.CheckText("name", name, 1, 60)
	if err := found.Err(); err != nil {
		return NewFeed{}, err
	}
	var secret [secretBytes]byte
	_, _ = rand.Read(secret[:]) // never fails
	text := strings.ToLower(base32.StdEncoding.WithPadding(base32.NoPadding).EncodeToString(secret[:]))
	f := CalendarFeed{ID: id, Name: name, By: who.Name, CreatedAt: s.stamp()}
	err := s.write(ctx, func(tx Tx) error {
		again, err := s.once(ctx, tx, who, keyed{id: id, kind: "calendar_feed", body: name}, nil)
		if again {
			return problem.List{problem.New("problem.taken", "feed", id.String(), "one that was not made yet; withdraw it and make another")}
		}
		if err != nil {
			return err
		}
		if err := tx.AddFeed(ctx, who.ShopID, who.ID, f, hashed(text)); err != nil {
			return err
		}
		return s.tell(ctx, tx, who, nil, "calendar_feed", f)
	})
	return NewFeed{f, "/calendar/" + text + ".ics"}, err
}

func hashed(secret string) string {
	sum := sha256.Sum256([]byte(secret))
	return hex.EncodeToString(sum[:])
}

// Feeds lists the calendars that are subscribed to.
func (s standings) Feeds(ctx context.Context, who Person) ([]CalendarFeed, error) {
	return s.store.Feeds(ctx, who.ShopID)
}

// WithdrawFeed makes the address of a calendar answer no more: the owner's deed, or of whoever
// made it.
func (s standings) WithdrawFeed(ctx context.Context, who Person, id ID) error {
	return s.write(ctx, func(tx Tx) error {
		list, err := tx.Feeds(ctx, who.ShopID)
		if err != nil {
			return err
		}
		for _, f := range list {
			if f.ID != id {
				continue
			}
			if who.Role != people.Owner && f.By != who.Name {
				return ErrForbidden
			}
			if err := tx.WithdrawFeed(ctx, who.ShopID, id, s.stamp()); err != nil {
				return err
			}
			return s.tell(ctx, tx, who, nil, "feed_withdrawn", f)
		}
		return nil
	})
}

// CalendarOf is the calendar behind a secret address.
func (s standings) CalendarOf(ctx context.Context, secret string) (archive.Calendar, error) {
	shopID, _, err := s.store.FeedBySecret(ctx, hashed(strings.TrimSuffix(secret, ".ics")))
	if errors.Is(err, ErrNotFound) {
		return archive.Calendar{}, ErrNotFound
	}
	if err != nil {
		return archive.Calendar{}, err
	}
	return s.Calendar(ctx, Person{ShopID: shopID})
}
