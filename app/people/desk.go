package people

import (
	"context"
	"errors"
	"sync"
	"time"

	"grapnel/app/fold"
	"grapnel/app/record"
)

// Store is what the desk needs to know who comes in.
type Store interface {
	CountPeople(ctx context.Context) (int, error)
	// PersonBySignIn finds who is active and signs in by a name, of any shop.
	PersonBySignIn(ctx context.Context, signIn string) (Person, error)
	People(ctx context.Context, shopID record.ID) ([]Person, error)

	Session(ctx context.Context, id record.ID) (Session, Person, error)
	SeeSession(ctx context.Context, id record.ID, at time.Time) error
	SessionsOf(ctx context.Context, shopID, personID record.ID) ([]Session, error)

	// Guards are what has failed lately, by subject; FailGuard changes one under a lock.
	Guard(ctx context.Context, subject string) (Guard, error)
	FailGuard(ctx context.Context, subject string, next func(Guard) Guard) error
	DropGuard(ctx context.Context, subject string) error

	// UseSecondStep and UseRecoveryCode use a code up; false where it was used before.
	UseSecondStep(ctx context.Context, shopID, personID record.ID, step int64) (bool, error)
	UseRecoveryCode(ctx context.Context, shopID, personID record.ID, hash string, at time.Time) (bool, error)
	// KnownDevice reports that somebody signed in on a device before, and nothing made it
	// unknown since.
	KnownDevice(ctx context.Context, personID record.ID, device string) (bool, error)
	// ResetCode is the hash of the code that a person may set a password with at a moment.
	ResetCode(ctx context.Context, shopID, personID record.ID, at time.Time) (string, error)
}

// Session is one device on which somebody signed in.
type Session struct {
	ID       record.ID `json:"id"`
	ShopID   record.ID `json:"-"`
	PersonID record.ID `json:"-"`
	BegunAt  time.Time `json:"begun_at"`
	// SeenAt is when it was used last, to some minutes.
	SeenAt  time.Time  `json:"seen_at"`
	EndedAt *time.Time `json:"-"`
	// Address is where it was begun from, Device what browser said that it was.
	Address string `json:"address"`
	Device  string `json:"device"`
	// Current is the one that asks.
	Current bool `json:"current"`
}

// How long a session lives, and how far what is known of its last use may lag behind.
const (
	SessionLife = 14 * 24 * time.Hour
	SessionIdle = 12 * time.Hour
	seenEvery   = 5 * time.Minute
)

// Open reports a session that still lets somebody in.
func (s Session) Open(now time.Time) bool {
	return s.EndedAt == nil && now.Before(s.BegunAt.Add(SessionLife)) && now.Before(s.SeenAt.Add(SessionIdle))
}

// Desk is who signs in and who is known.
type Desk struct {
	store Store
	now   func() time.Time
	known known
}

// NewDesk works on a store; now tells the time.
func NewDesk(store Store, now func() time.Time) *Desk { return &Desk{store: store, now: now} }

// NeedsSetUp reports whether nobody can sign in yet.
func (d *Desk) NeedsSetUp(ctx context.Context) (bool, error) {
	n, err := d.store.CountPeople(ctx)
	return n == 0, err
}

// Attempt is a try to come in: by password, or by a code that sets another.
type Attempt struct {
	SignIn, Secret string
	// Second is a code of the phone, or a recovery code; empty where none was asked for yet.
	Second string
	// Address is where it comes from; Device the hash of what the device carries that somebody
	// signed in on before, empty for none; From the session that is signed in there already.
	Address string
	Device  string
	From    *Session
}

// ErrSecond is returned where the password is right and a second step is asked for.
var ErrSecond = errors.New("a second step is asked for")

// Enter finds who a name and password belong to. A wrong name and a wrong password cost the
// same time and give the same answer, record.ErrNotFound; after some of them Waiting says
// until when nothing is looked at. Right ones cost nothing. Tries from a device on which that
// person signed in before are counted for the device alone: nobody locks them out by guessing.
func (d *Desk) Enter(ctx context.Context, a Attempt) (Person, error) {
	return d.guarded(ctx, a, true, func(p Person) bool { return matches(p.PasswordHash, a.Secret) })
}

// Confirm finds out that whoever is signed in by a session knows their password.
func (d *Desk) Confirm(ctx context.Context, who Person, from Session, secret string) error {
	a := Attempt{SignIn: who.SignIn, Secret: secret, From: &from}
	_, err := d.guarded(ctx, a, false, func(p Person) bool { return p.ID == who.ID && matches(p.PasswordHash, secret) })
	return err
}

// Redeem finds who a name and a code for another password belong to, like Enter. Whoever has
// the code was given it by the owner: no second step is asked for, and the right code is heard
// even while wrong ones wait. It has bits enough that hearing it gives nothing away.
func (d *Desk) Redeem(ctx context.Context, a Attempt) (Person, error) {
	return d.inTurn(ctx, a, func(p Person) (Person, error) { return d.redeem(ctx, a, p) })
}

func (d *Desk) redeem(ctx context.Context, a Attempt, p Person) (Person, error) {
	right, err := d.mayReset(ctx, p, a.Secret)
	if err != nil {
		return Person{}, err
	}
	watches := a.watches(p, false)
	if right {
		return p, d.store.DropGuard(ctx, watches[0].subject)
	}
	if err := d.mayTry(ctx, watches); err != nil {
		return Person{}, err
	}
	return Person{}, d.failed(ctx, watches)
}

// mayReset reports that a code sets another password for somebody now.
func (d *Desk) mayReset(ctx context.Context, p Person, code string) (bool, error) {
	if p.ID.IsZero() {
		return false, nil
	}
	want, err := d.store.ResetCode(ctx, p.ShopID, p.ID, d.now())
	if errors.Is(err, record.ErrNotFound) {
		return false, nil
	}
	return want == HashCode(code), err
}

// inTurn tries what is tried in its turn, so that a hundred tries at once are not all taken for the
// first, on who signs in by the name; nobody's is the zero person.
func (d *Desk) inTurn(ctx context.Context, a Attempt, try func(Person) (Person, error)) (Person, error) {
	done, err := takeTurn(ctx)
	if err != nil {
		return Person{}, err
	}
	defer done()
	p, err := d.store.PersonBySignIn(ctx, fold.Name(a.SignIn))
	if err != nil && !errors.Is(err, record.ErrNotFound) {
		return Person{}, err
	}
	return try(p)
}

// TryCode tries a code that belongs to nobody, from an address; record.ErrNotFound where it is
// not right.
func (d *Desk) TryCode(ctx context.Context, address string, right func() bool) error {
	watches := []watch{{subject("address", address), withAddress}}
	if err := d.mayTry(ctx, watches); err != nil {
		return err
	}
	if !right() {
		return d.failed(ctx, watches)
	}
	return nil
}

// guarded tries what is tried, in its turn, and counts it where it fails.
func (d *Desk) guarded(ctx context.Context, a Attempt, withSecond bool, right func(Person) bool) (Person, error) {
	return d.inTurn(ctx, a, func(p Person) (Person, error) { return d.counted(ctx, a, p, withSecond, right) })
}

func (d *Desk) counted(ctx context.Context, a Attempt, p Person, withSecond bool, right func(Person) bool) (Person, error) {
	known, err := d.knows(ctx, a, p)
	if err != nil {
		return Person{}, err
	}
	watches := a.watches(p, known)
	if err := d.mayTry(ctx, watches); err != nil {
		return Person{}, err
	}
	if !right(p) || p.ID.IsZero() {
		return Person{}, d.failed(ctx, watches)
	}
	withSecond = withSecond && p.SecondStep
	if withSecond && a.Second == "" {
		return p, ErrSecond
	}
	if withSecond {
		ok, err := d.second(ctx, p, a.Second)
		if err != nil {
			return Person{}, err
		}
		if !ok {
			return Person{}, errors.Join(d.failed(ctx, watches), ErrSecond)
		}
	}
	return p, d.store.DropGuard(ctx, watches[0].subject)
}

// watch is one thing that tries are counted for.
type watch struct {
	subject string
	patience
}

// knows reports that a try comes from a device on which that person signed in before.
func (d *Desk) knows(ctx context.Context, a Attempt, p Person) (bool, error) {
	if a.Device == "" || p.ID.IsZero() {
		return false, nil
	}
	return d.store.KnownDevice(ctx, p.ID, a.Device)
}

// watches are what a try is counted for: the person, however the name was spelt, or the name
// where it is nobody's; and the address. A person whom somebody else guesses at still comes in
// from where they are signed in and from a device that is known: tries are counted there alone.
func (a Attempt) watches(p Person, known bool) []watch {
	if a.From != nil && a.From.PersonID == p.ID {
		return []watch{{subject("session", a.From.ID.String()), withSession}}
	}
	if known {
		return []watch{{subject("device", p.ID.String()+a.Device), withSession}}
	}
	whose := subject("name", fold.Name(a.SignIn))
	if !p.ID.IsZero() {
		whose = subject("person", p.ID.String())
	}
	return []watch{{whose, withName}, {subject("address", a.Address), withAddress}}
}

func (d *Desk) mayTry(ctx context.Context, list []watch) error {
	now := d.now()
	for _, w := range list {
		g, err := d.store.Guard(ctx, w.subject)
		if err != nil {
			return err
		}
		if g.LastAt.After(now) {
			// A clock stamped it that was ahead: it counts as now, and from then on it gets older.
			if err := d.store.FailGuard(ctx, w.subject, func(g Guard) Guard { return g.notAhead(now) }); err != nil {
				return err
			}
			g = g.notAhead(now)
		}
		if until := w.until(g, now); now.Before(until) {
			return Waiting{until}
		}
	}
	return nil
}

// failed counts a failure, and says that nobody was found.
func (d *Desk) failed(ctx context.Context, list []watch) error {
	for _, w := range list {
		if err := d.store.FailGuard(ctx, w.subject, func(g Guard) Guard { return w.after(g, d.now()) }); err != nil {
			return err
		}
	}
	return record.ErrNotFound
}

// second uses up a code of the phone or a recovery code.
func (d *Desk) second(ctx context.Context, p Person, code string) (bool, error) {
	if step, ok := SecondMatches(p.SecondSecret, code, d.now()); ok {
		return d.store.UseSecondStep(ctx, p.ShopID, p.ID, step)
	}
	return d.store.UseRecoveryCode(ctx, p.ShopID, p.ID, HashCode(code), d.now())
}

// Present finds who is signed in by a session, and writes down now and then that it is used.
// record.ErrNotFound says that it has ended, or that its person is no longer let in.
func (d *Desk) Present(ctx context.Context, id record.ID) (Person, Session, error) {
	now := d.now()
	one, err := d.look(ctx, id)
	if err != nil {
		return Person{}, Session{}, err
	}
	if since := now.Sub(one.session.SeenAt); since >= 0 && since < seenEvery {
		return one.Person, one.session, nil
	}
	one.session.SeenAt = now
	d.known.keep(id, one)
	return one.Person, one.session, d.store.SeeSession(ctx, id, now)
}

// Still finds out whether a session lets somebody in, without using it.
func (d *Desk) Still(ctx context.Context, id record.ID) error {
	_, err := d.look(ctx, id)
	return err
}

// look finds who is signed in by a session that is open.
func (d *Desk) look(ctx context.Context, id record.ID) (knownPerson, error) {
	one, ok := d.known.find(id)
	if !ok {
		session, p, err := d.store.Session(ctx, id)
		if err != nil {
			return knownPerson{}, err
		}
		one = knownPerson{p, session, time.Now()}
		if one.Active && session.Open(d.now()) {
			d.known.keep(id, one)
		}
	}
	if !one.Active || !one.session.Open(d.now()) {
		return knownPerson{}, record.ErrNotFound
	}
	return one, nil
}

// Forget has everybody looked up anew: somebody was changed, or let out.
func (d *Desk) Forget() { d.known.forget() }

// Sessions lists where a person is signed in, the latest used first.
func (d *Desk) Sessions(ctx context.Context, who Person, current record.ID) ([]Session, error) {
	list, err := d.store.SessionsOf(ctx, who.ShopID, who.ID)
	out := []Session{}
	for _, s := range list {
		if s.Open(d.now()) {
			s.Current = s.ID == current
			out = append(out, s)
		}
	}
	return out, err
}

// People lists who works in the shop.
func (d *Desk) People(ctx context.Context, who Person) ([]Person, error) {
	return d.store.People(ctx, who.ShopID)
}

// knownLife is how long it is believed who somebody is: every request asks. Somebody whom
// another copy of the server has let out lives on for that long.
const knownLife = 2 * time.Second

// known are those who asked for something just now, by their session.
type known struct {
	mu   sync.Mutex
	list map[record.ID]knownPerson
}

type knownPerson struct {
	Person
	session Session
	at      time.Time
}

// mostKnown bounds how many are remembered.
const mostKnown = 4096

func (k *known) find(id record.ID) (knownPerson, bool) {
	k.mu.Lock()
	defer k.mu.Unlock()
	one, ok := k.list[id]
	return one, ok && time.Since(one.at) < knownLife
}

func (k *known) keep(id record.ID, one knownPerson) {
	k.mu.Lock()
	defer k.mu.Unlock()
	if k.list == nil || len(k.list) >= mostKnown {
		k.list = map[record.ID]knownPerson{}
	}
	k.list[id] = one
}

func (k *known) forget() {
	k.mu.Lock()
	defer k.mu.Unlock()
	k.list = nil
}
