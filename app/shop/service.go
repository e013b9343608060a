package shop

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"sync"
	"time"

	"grapnel/core/diagnosis"
	"grapnel/core/handbook"
	"grapnel/core/evidence"
	"grapnel/core/problem"
	"grapnel/core/school"
)

// ErrTaken is returned for a name that is already in use.
var ErrTaken = errors.New("already taken")

// ErrForbidden is returned for what a role may not do.
var ErrForbidden = errors.New("not allowed for this role")

// Service is what people do with the shop. It is safe for use by many at once.
type Service struct {
	store Store
	now   func() time.Time
	// rules is the hash of the rule tables verdicts are drawn with.
	rules string
	// engine judges the cases and keeps the labels it has calibrated.
	engine *diagnosis.Engine
	feed   *Feed
	pages  pageCache
	known  knownPeople
}

// NewService works on a store; now tells the time.
func NewService(store Store, now func() time.Time) *Service {
	return &Service{store: store, now: now, rules: handbook.RulesHash(), engine: diagnosis.New(), feed: newFeed(store)}
}

// Judge judges one case by itself.
func (s *Service) Judge(c evidence.Case) diagnosis.Assessment { return s.engine.Assess(c) }

// write makes a change whole or not at all, and has everyone told who listens.
func (s *Service) write(ctx context.Context, do func(Store) error) error {
	err := s.store.Write(ctx, do)
	if err == nil {
		s.feed.wake()
	}
	return err
}

// stamp is the present in the precision the database keeps.
func (s *Service) stamp() time.Time { return s.now().UTC().Truncate(time.Microsecond) }

// Limits of texts, in characters.
const (
	maxNameText  = 120
	maxPlate     = 32
	maxComplaint = 500
	maxReason    = 300
	maxLine      = 500
	leastSecret  = 10
	mostSecret   = 200
)

// checkText reports a text that is too long, or missing where it is needed.
func checkText(found *problem.List, field, text string, least, most int) {
	if n := len([]rune(strings.TrimSpace(text))); n < least || n > most {
		code := "problem.text"
		if n == 0 {
			code = "problem.missing"
		}
		*found = append(*found, problem.New(code, field, text, problem.Range(float64(least), float64(most), "characters")))
	}
}

// SetUp is what the first start asks for.
type SetUp struct {
	ShopName string
	TimeZone string
	Name     string
	SignIn   string
	Password string
}

// NeedsSetUp reports whether nobody can sign in yet.
func (s *Service) NeedsSetUp(ctx context.Context) (bool, error) {
	n, err := s.store.CountPeople(ctx)
	return n == 0, err
}

// SetUp makes the shop and its owner, once.
func (s *Service) SetUp(ctx context.Context, in SetUp) (Person, error) {
	var found problem.List
	checkText(&found, "shop_name", in.ShopName, 1, maxNameText)
	if _, err := time.LoadLocation(in.TimeZone); err != nil || in.TimeZone == "" {
		found = append(found, problem.New("problem.code", "time_zone", in.TimeZone, "Europe/Amsterdam, UTC"))
	}
	owner, secret := Person{Name: in.Name, SignIn: in.SignIn, Role: Owner}, in.Password
	owner.check(&found, secret)
	if err := found.Err(); err != nil {
		return Person{}, err
	}
	hash, err := hashSecret(secret)
	if err != nil {
		return Person{}, err
	}
	at := s.stamp()
	sh := Shop{ID: NewID(), Name: strings.TrimSpace(in.ShopName), TimeZone: in.TimeZone, School: school.HalfCCA, CreatedAt: at}
	owner.complete(sh.ID, hash)
	err = s.write(ctx, func(tx Store) error {
		if n, err := tx.CountPeople(ctx); err != nil || n > 0 {
			return errors.Join(err, taken(n))
		}
		if err := tx.AddShop(ctx, sh); err != nil {
			return err
		}
		if err := tx.AddPerson(ctx, owner, at); err != nil {
			return err
		}
		return tx.AddEvent(ctx, sh.ID, Event{Kind: "set_up", PersonID: &owner.ID, Body: sh, At: at})
	})
	return owner, err
}

func taken(n int) error {
	if n > 0 {
		return ErrTaken
	}
	return nil
}

func (p *Person) check(found *problem.List, secret string) {
	checkText(found, "name", p.Name, 1, maxNameText)
	checkText(found, "sign_in", p.SignIn, 2, 64)
	if n := len(secret); n < leastSecret || n > mostSecret {
		*found = append(*found, problem.New("problem.text", "password", strings.Repeat("•", min(n, 12)), problem.Range(leastSecret, mostSecret, "characters")))
	}
	if p.Role != Owner && p.Role != Technician && p.Role != Counter {
		*found = append(*found, problem.New("problem.code", "role", string(p.Role), "owner, technician, counter"))
	}
}

// complete fills in what the person does not type.
func (p *Person) complete(shopID ID, hash string) {
	if p.ID.IsZero() {
		p.ID = NewID()
	}
	p.ShopID, p.PasswordHash, p.Active = shopID, hash, true
	p.Name, p.SignIn = strings.TrimSpace(p.Name), strings.ToLower(strings.TrimSpace(p.SignIn))
	p.Initials = initials(p.Name)
}

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

// SignIn finds the person for a name and password. A wrong name and a wrong
// password cost the same time and give the same answer, ErrNotFound.
func (s *Service) SignIn(ctx context.Context, signIn, password string) (Person, error) {
	p, err := s.store.PersonBySignIn(ctx, strings.ToLower(strings.TrimSpace(signIn)))
	if err != nil && !errors.Is(err, ErrNotFound) {
		return Person{}, err
	}
	known := err == nil
	if !secretMatches(p.PasswordHash, password) || !known {
		return Person{}, ErrNotFound
	}
	return p, nil
}

// knownLife is how long it is believed who somebody is: every request asks.
const knownLife = 2 * time.Second

// knownPeople are those who asked for something just now.
type knownPeople struct {
	mu   sync.Mutex
	list map[ID]knownPerson
}

type knownPerson struct {
	Person
	at time.Time
}

func (k *knownPeople) find(id ID) (Person, bool) {
	k.mu.Lock()
	defer k.mu.Unlock()
	one, ok := k.list[id]
	return one.Person, ok && time.Since(one.at) < knownLife
}

func (k *knownPeople) keep(p Person) {
	k.mu.Lock()
	defer k.mu.Unlock()
	if k.list == nil {
		k.list = map[ID]knownPerson{}
	}
	k.list[p.ID] = knownPerson{p, time.Now()}
}

// Person finds who is signed in; someone no longer active is not found.
func (s *Service) Person(ctx context.Context, id ID) (Person, error) {
	if p, ok := s.known.find(id); ok {
		return p, nil
	}
	p, err := s.store.PersonByID(ctx, id)
	if err == nil && p.Active {
		s.known.keep(p)
	}
	if err == nil && !p.Active {
		return Person{}, ErrNotFound
	}
	return p, err
}

// Shop is the shop a person works in.
func (s *Service) Shop(ctx context.Context) (Shop, error) { return s.store.OnlyShop(ctx) }

// People lists who works in the shop.
func (s *Service) People(ctx context.Context, who Person) ([]Person, error) {
	return s.store.People(ctx, who.ShopID)
}

// AddPerson adds someone; only the owner may. The same ID twice adds once.
func (s *Service) AddPerson(ctx context.Context, who Person, p Person, password string) (Person, error) {
	if who.Role != Owner {
		return Person{}, ErrForbidden
	}
	if known, err := s.store.PersonByID(ctx, p.ID); err == nil {
		return known, nil
	}
	var found problem.List
	p.check(&found, password)
	if err := found.Err(); err != nil {
		return Person{}, err
	}
	hash, err := hashSecret(password)
	if err != nil {
		return Person{}, err
	}
	p.complete(who.ShopID, hash)
	at := s.stamp()
	err = s.write(ctx, func(tx Store) error {
		if err := tx.AddPerson(ctx, p, at); err != nil {
			return err
		}
		return tx.AddEvent(ctx, who.ShopID, Event{Kind: "person_added", PersonID: &who.ID, Body: p, At: at})
	})
	if errors.Is(err, ErrTaken) {
		return Person{}, problem.List{problem.New("problem.taken", "sign_in", p.SignIn, "a name nobody else signs in with")}
	}
	return p, err
}

// FindVehicles searches the shop's vehicles by plate or customer.
func (s *Service) FindVehicles(ctx context.Context, who Person, query string) ([]FoundVehicle, error) {
	if strings.TrimSpace(query) == "" {
		return []FoundVehicle{}, nil
	}
	return s.store.FindVehicles(ctx, who.ShopID, query)
}

// wrap says what was being done when something failed.
func wrap(err error, doing string) error {
	if err == nil {
		return nil
	}
	return fmt.Errorf("%s: %w", doing, err)
}
