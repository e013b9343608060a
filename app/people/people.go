// Package people holds who works in the shop: signing in and roles.
package people

import (
	"context"
	"errors"
	"strings"
	"sync"
	"time"
	"unicode"

	"grapnel/app/record"
	"grapnel/core/problem"
)

// ErrTaken is returned for a name, or a first start, that is already taken.
var ErrTaken = errors.New("already taken")

// ErrForbidden is returned for what a role may not do.
var ErrForbidden = errors.New("not allowed for this role")

// Role is what a person does in the shop.
type Role string

// The roles. Everyone may take readings; the owner also looks after people, places,
// chargers and limits.
const (
	Owner      Role = "owner"
	Technician Role = "technician"
	Counter    Role = "counter"
)

// Roles lists them.
func Roles() []Role { return []Role{Owner, Technician, Counter} }

// Person works in the shop.
type Person struct {
	ID           record.ID `json:"id"`
	ShopID       record.ID `json:"-"`
	Name         string    `json:"name"`
	Initials     string    `json:"initials"`
	SignIn       string    `json:"sign_in"`
	Role         Role      `json:"role"`
	PasswordHash string    `json:"-"`
	Active       bool      `json:"active"`
}

// Store keeps people.
type Store interface {
	CountPeople(ctx context.Context) (int, error)
	PersonBySignIn(ctx context.Context, signIn string) (Person, error)
	PersonByID(ctx context.Context, id record.ID) (Person, error)
	People(ctx context.Context, shopID record.ID) ([]Person, error)
}

// Limits of texts, in characters.
const (
	maxName     = 120
	leastSignIn = 2
	mostSignIn  = 64
	leastSecret = 10
	mostSecret  = 200
)

// Check reports what is wrong with a person and their password.
func (p Person) Check(found *problem.List, secret string) {
	found.CheckText("name", p.Name, 1, maxName)
	if n := len([]rune(strings.TrimSpace(p.SignIn))); n < leastSignIn || n > mostSignIn || !plainName(p.SignIn) {
		allowed := problem.Range(leastSignIn, mostSignIn, "letters, figures, . - _ @")
		*found = append(*found, problem.New("problem.text", "sign_in", p.SignIn, allowed))
	}
	if n := len(secret); n < leastSecret || n > mostSecret {
		allowed := problem.Range(leastSecret, mostSecret, "characters")
		*found = append(*found, problem.New("problem.text", "password", strings.Repeat("•", min(n, 12)), allowed))
	}
	if p.Role != Owner && p.Role != Technician && p.Role != Counter {
		*found = append(*found, problem.New("problem.code", "role", string(p.Role), "owner, technician, counter"))
	}
}

// plainName reports a sign-in name of letters and figures that can be seen: two that
// look alike to a person must not be two.
func plainName(name string) bool {
	return !strings.ContainsFunc(strings.TrimSpace(name), func(c rune) bool {
		return !unicode.IsLetter(c) && !unicode.IsDigit(c) && !strings.ContainsRune(".-_@ ", c)
	})
}

// Complete fills in what the person does not type.
func (p *Person) Complete(shopID record.ID, hash string) {
	if p.ID.IsZero() {
		p.ID = record.NewID()
	}
	p.ShopID, p.PasswordHash, p.Active = shopID, hash, true
	p.Name, p.SignIn = strings.TrimSpace(p.Name), Folded(p.SignIn)
	p.Initials = initials(p.Name)
}

// Folded is a sign-in name as it is compared: without blanks around it, in lower case.
func Folded(signIn string) string { return strings.ToLower(strings.TrimSpace(signIn)) }

// initials takes the first letters of the first and last word of a name.
func initials(name string) string {
	words := strings.Fields(name)
	if len(words) == 0 {
		return ""
	}
	letters := string([]rune(words[0])[:1])
	if len(words) > 1 {
		letters += string([]rune(words[len(words)-1])[:1])
	}
	return strings.ToUpper(letters)
}

// Desk is who signs in and who is known.
type Desk struct {
	store Store
	known known
}

// NewDesk works on a store.
func NewDesk(store Store) *Desk { return &Desk{store: store} }

// NeedsSetUp reports whether nobody can sign in yet.
func (d *Desk) NeedsSetUp(ctx context.Context) (bool, error) {
	n, err := d.store.CountPeople(ctx)
	return n == 0, err
}

// SignIn finds the person for a name and password. A wrong name and a wrong
// password cost the same time and give the same answer, record.ErrNotFound.
func (d *Desk) SignIn(ctx context.Context, signIn, password string) (Person, error) {
	p, err := d.store.PersonBySignIn(ctx, Folded(signIn))
	if err != nil && !errors.Is(err, record.ErrNotFound) {
		return Person{}, err
	}
	found := err == nil
	if !SecretMatches(p.PasswordHash, password) || !found {
		return Person{}, record.ErrNotFound
	}
	return p, nil
}

// Person finds who is signed in; someone no longer active is not found.
func (d *Desk) Person(ctx context.Context, id record.ID) (Person, error) {
	if p, ok := d.known.find(id); ok {
		return p, nil
	}
	p, err := d.store.PersonByID(ctx, id)
	if err == nil && p.Active {
		d.known.keep(p)
	}
	if err == nil && !p.Active {
		return Person{}, record.ErrNotFound
	}
	return p, err
}

// People lists who works in the shop.
func (d *Desk) People(ctx context.Context, who Person) ([]Person, error) {
	return d.store.People(ctx, who.ShopID)
}

// knownLife is how long it is believed who somebody is: every request asks.
const knownLife = 2 * time.Second

// known are those who asked for something just now.
type known struct {
	mu   sync.Mutex
	list map[record.ID]knownPerson
}

type knownPerson struct {
	Person
	at time.Time
}

func (k *known) find(id record.ID) (Person, bool) {
	k.mu.Lock()
	defer k.mu.Unlock()
	one, ok := k.list[id]
	return one.Person, ok && time.Since(one.at) < knownLife
}

func (k *known) keep(p Person) {
	k.mu.Lock()
	defer k.mu.Unlock()
	if k.list == nil {
		k.list = map[record.ID]knownPerson{}
	}
	k.list[p.ID] = knownPerson{p, time.Now()}
}
